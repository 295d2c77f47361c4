// Package catalog holds the exercises and rails as checked data, says what a runner may do of them and
// places exact doses on a rail. The data stands in rails/, one file a part of the session; a practice
// adds, copies or retires rails on top.
package catalog

import (
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Class groups exercises by how soon they may move.
type Class string

// The classes.
const (
	Releasing Class = "release"
	Range     Class = "range"
	Control   Class = "control"
	Isometric Class = "isometric"
	Endurance Class = "endurance"
	Strength  Class = "strength"
	Spring    Class = "spring"
	Drill     Class = "drill"
	Settle    Class = "settle"
)

// Classes lists the classes, the gentlest first.
var Classes = []Class{Settle, Releasing, Range, Control, Isometric, Endurance, Strength, Spring, Drill}

// Part is a part of a session; the parts are done in this order.
type Part string

// Parts in session order. Run stands outside the session, inside an easy run.
var Parts = []Part{"prepare", "open", "wake", "spring", "strength", "settle", "run"}

// Slot is when on a day something is done.
type Slot string

// The slots. Before is within 6 h before a run; Own a session of its own on a day without a run;
// Habit goes with daily chores; InRun stands inside an easy run.
const (
	Before  Slot = "before"
	InRun   Slot = "run"
	After   Slot = "after"
	Own     Slot = "own"
	Evening Slot = "evening"
	Habit   Slot = "habit"
)

// Slots in the order of the day.
var Slots = []Slot{Before, InRun, After, Own, Evening, Habit}

// The grades an exercise may climb by, beyond its doses: the next weight, tension or beat, a centimetre further from the
// wall, a higher stack, less weight on the hands.
const (
	ByDumbbell = "dumbbell"
	ByBand     = "band"
	BySpm      = "spm"
	ByWall     = "wall"
	ByStack    = "stack"
	ByHands    = "hands"
)

// Exercise is one thing to do, with all the doses it may take. What it leaves out it takes from its
// rail.
type Exercise struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Class Class  `json:"class,omitempty"`
	body.Demand
	Easier     string              `json:"easier,omitempty" doc:"why it carries less than the exercise before it"`
	CopyOf     string              `json:"copyOf,omitempty" doc:"shipped exercise it was copied from; its safety fields follow it"`
	Unstated   bool                `json:"unstated,omitempty" doc:"what it asks of the legs was guessed: the practice confirms it"`
	EachSide   bool                `json:"eachSide,omitempty" doc:"done on each side by itself; follows from the legs it trains"`
	Share      float64             `json:"share,omitempty" doc:"part of body mass lifted: 1 one leg, 0.5 two, 0 none"`
	Grade      string              `json:"grade,omitempty" enum:",dumbbell,band,spm,wall,stack,hands" doc:"climbed on by its top doses"`
	By         string              `json:"by,omitempty" doc:"test its distance, height or kilograms follow from"`
	Doses      []string            `json:"doses" doc:"doses in words, low to high"`
	Ladder     []body.Dose         `json:"ladder" doc:"the doses read"`
	StageDays  []int               `json:"stageDays,omitempty" doc:"days each dose of a published programme stands"`
	EveryDays  int                 `json:"everyDays,omitempty" doc:"a published programme's rhythm: every so many days"`
	Tempo      string              `json:"tempo,omitempty"`
	RepS       float64             `json:"repS,omitempty" doc:"seconds a repetition, pace or contact"`
	RestS      int                 `json:"restS,omitempty" doc:"seconds between sets"`
	Needs      []string            `json:"needs" doc:"ids of the kit"`
	SetUp      string              `json:"setUp"`
	Cues       []string            `json:"cues"`
	CuesUnder  map[string][]string `json:"cuesUnder,omitempty" doc:"the cues under an approach, by question=option"`
	Good       string              `json:"good" doc:"what good looks like"`
	Faults     []string            `json:"faults"`
	StopWhen   []string            `json:"stopWhen"`
	First      []Need              `json:"first" doc:"what must be there first"`
	Not        []Bar               `json:"not" doc:"when it is left out"`
	When       []Slot              `json:"when" doc:"slots it may stand in"`
	Then       []Then              `json:"then,omitempty" doc:"control of the range gained, in the same session: the first that may be done"`
	Provenance body.Provenance     `json:"provenance,omitempty" doc:"of its doses"`
	Source     string              `json:"source,omitempty"`
	Draw       []string            `json:"draw,omitempty" doc:"figure parts of its drawing"`
	Retired    bool                `json:"retired,omitempty" doc:"given to nobody anew"`
}

// Published reports whether the exercise follows a published programme with its own stages.
func (x Exercise) Published() bool { return len(x.StageDays) > 0 }

// Both reports whether both feet work at once.
func (x Exercise) Both() bool { return x.Trains == body.BothLegs }

// Under is the exercise with the cues that the chosen approaches ask for.
func (x Exercise) Under(chosen func(question string) string) Exercise {
	x.Cues = under(x.Cues, x.CuesUnder, chosen)
	return x
}

// Under is the rail with the cautions that the chosen approaches ask for.
func (r Rail) Under(chosen func(question string) string) Rail {
	r.Cautions = under(r.Cautions, r.CautionsUnder, chosen)
	return r
}

func under(lines []string, by map[string][]string, chosen func(string) string) []string {
	for _, key := range slices.Sorted(maps.Keys(by)) {
		if q, o, _ := strings.Cut(key, "="); chosen(q) == o {
			return by[key]
		}
	}
	return lines
}

// checkUnder refuses lines under an approach that does not exist, and none or too many of them.
func checkUnder(by map[string][]string) error {
	for key, lines := range by {
		if q, o, _ := strings.Cut(key, "="); house.CheckApproaches(map[string]string{q: o}) != nil {
			return fmt.Errorf("belong to %q, which is no approach; write question=option", key)
		}
		if len(lines) == 0 || len(lines) > 4 {
			return fmt.Errorf("are %d under %s; give one to four", len(lines), key)
		}
	}
	return nil
}

// Climbs reports an exercise that climbs by a distance, a height or the weight left on the feet.
func (x Exercise) Climbs() bool { return x.Grade == ByWall || x.Grade == ByStack || x.Grade == ByHands }

// Loaded reports whether the exercise takes external load.
func (x Exercise) Loaded() bool {
	return x.Grade == ByDumbbell || (len(x.Ladder) > 0 && x.Ladder[0].Kind == body.RMLoad)
}

// Heavy is the class that keeps its days: one leg heel off with external load, 12 RM and less, and free
// bounces.
func (x Exercise) Heavy() bool { return x.Level >= 4 || x.Impact == body.FreeHops }

// UnmarshalJSON also reads exercises as earlier releases wrote them, with one word for both feet.
func (x *Exercise) UnmarshalJSON(b []byte) error {
	type plain Exercise
	old := struct {
		*plain
		Both bool `json:"both"`
		Free bool `json:"free"`
	}{plain: (*plain)(x)}
	if err := json.Unmarshal(b, &old); err != nil {
		return err
	}
	if x.Trains == "" {
		x.Unstated = true
		if x.Trains = body.OneSide; old.Both {
			x.Trains = body.BothLegs
		}
		if old.Free {
			x.Impact = body.FreeHops
		}
	}
	return nil
}

// Need is something that must be there first: a measure at or beyond a figure, quiet mornings, or a
// notch reached.
type Need struct {
	Measure  string   `json:"measure,omitempty"`
	AtLeast  *float64 `json:"atLeast,omitempty"`
	AtMost   *float64 `json:"atMost,omitempty"`
	Morning  *float64 `json:"morning,omitempty" doc:"usual morning pain at most, of 10"`
	Exercise string   `json:"exercise,omitempty"`
	Dose     string   `json:"dose,omitempty" doc:"dose of that exercise reached"`
	Says     string   `json:"says"`
}

// Bar is what keeps an exercise out: a caution answered yes, a finding in a range, or a sore place.
type Bar struct {
	Caution string   `json:"caution,omitempty"`
	Measure string   `json:"measure,omitempty"`
	From    float64  `json:"from,omitempty"`
	To      *float64 `json:"to,omitempty"`
	// A sore place keeps out what asks for at least a level, under the approaches that calm it first.
	Sore  []body.Region       `json:"sore,omitempty" doc:"one of these places sore on that side"`
	Over  int                 `json:"over,omitempty" doc:"sore above this, of 10"`
	Only  map[string][]string `json:"only,omitempty" doc:"approaches under which it holds; absent: all"`
	Level int                 `json:"level,omitempty" doc:"from this level on"`
	Says  string              `json:"says"`
}

// Then is a little control work that follows a range exercise in the same session.
type Then struct {
	Exercise string `json:"exercise"`
	Dose     string `json:"dose"`
}

// Place says how a test places the first notch.
type Place struct {
	By        string   `json:"by" enum:"raises,hold,score,reference,toe" doc:"a share of what was tested, or the dose named"`
	Measure   string   `json:"measure"`
	And       []string `json:"and,omitempty" doc:"further measures it rests on"`
	Reference string   `json:"reference,omitempty" doc:"house rule the value is a share of"`
	Starts    []Start  `json:"starts"`
}

// Start is a row of a placement table: from this value on, this exercise.
type Start struct {
	From     float64 `json:"from"`
	Exercise string  `json:"exercise"`
	Dose     int     `json:"dose,omitempty" doc:"index of its dose, where the test does not give it"`
	Without  string  `json:"without,omitempty" doc:"exercise instead where what it needs is not owned"`
	Fixed    bool    `json:"fixed,omitempty" doc:"takes the dose named, whatever was tested"`
	Measure  string  `json:"measure,omitempty" doc:"the exercise's own test, where not the table's gives its dose; untested: passed over"`
}

// Remedy is what makes a rail an answer to a sore place.
type Remedy struct {
	Places []body.Region       `json:"places"`
	Rank   int                 `json:"rank" doc:"1 first choice"`
	Only   map[string][]string `json:"only,omitempty" doc:"approaches it belongs to; absent: all"`
	Phase  string              `json:"phase,omitempty" enum:",calm,after" doc:"in Calm, or once it is over; empty: both"`
}

// Turn is where an approach puts a rail among the answers to a limiter.
type Turn struct {
	Limiter string              `json:"limiter"`
	Only    map[string][]string `json:"only" doc:"approaches under which it holds"`
	Sore    []body.Region       `json:"sore,omitempty" doc:"and only with one of these places sore"`
	When    string              `json:"when,omitempty" enum:",sole.tight,cadence.later" doc:"and only so"`
	At      int                 `json:"at" doc:"place among the answers, from 1; 0: it is none of them"`
}

// Rail is an ordered progression of exercises.
type Rail struct {
	ID            string              `json:"id"`
	Name          string              `json:"name"`
	Short         string              `json:"short" doc:"name in the week"`
	Main          []body.Region       `json:"main" doc:"places its exercises mainly load"`
	CopyOf        string              `json:"copyOf,omitempty" doc:"shipped rail it was copied from"`
	Set           string              `json:"set,omitempty" doc:"set it is an item of: several may be chosen at once, by finding and place"`
	SetName       string              `json:"setName,omitempty"`
	With          []string            `json:"with,omitempty" doc:"what else brings it in: history.sprain, goal.barefoot, volume.high"`
	For           []string            `json:"for,omitempty" doc:"findings it is for; without one of them it answers no limiter"`
	Part          Part                `json:"part" enum:"prepare,open,wake,spring,strength,settle,run"`
	Class         Class               `json:"class"`
	Trains        []string            `json:"trains" doc:"range, control, coordination, strength, endurance, spring, settling"`
	Tissues       []string            `json:"tissues"`
	PerWeek       int                 `json:"perWeek"`
	GapDays       int                 `json:"gapDays,omitempty" doc:"free days between its sessions"`
	Regions       []body.Region       `json:"regions" doc:"places whose pain, mornings and stops concern this rail"`
	Eases         []body.Region       `json:"eases" doc:"sore places it is looked up for"`
	Remedies      []Remedy            `json:"remedies,omitempty" doc:"sore places it is brought in for"`
	Answers       map[string]int      `json:"answers" doc:"limiters it answers, 1 first choice"`
	Turns         []Turn              `json:"turns,omitempty" doc:"where approaches put it among the answers to a limiter"`
	NotWith       []string            `json:"notWith,omitempty" doc:"rails it does not share a day with"`
	Foot          bool                `json:"foot,omitempty" doc:"foot strength: before or away from runs by approach"`
	Habit         bool                `json:"habit,omitempty" doc:"goes with daily chores rather than into a session"`
	Whole         bool                `json:"whole,omitempty" doc:"the whole runner: no sides"`
	Protocol      string              `json:"protocol,omitempty" doc:"published programme it belongs to; chosen by the coach only"`
	Only          map[string][]string `json:"only,omitempty" doc:"approaches it belongs to; absent: all"`
	Calm          map[string][]string `json:"calm,omitempty" doc:"approaches under which its exercises are permitted in Calm"`
	When          []Slot              `json:"when"`
	Cautions      []string            `json:"cautions"`
	CautionsUnder map[string][]string `json:"cautionsUnder,omitempty" doc:"the cautions under an approach, by question=option"`
	Place         *Place              `json:"place,omitempty"`
	RestS         int                 `json:"restS"`
	RepS          float64             `json:"repS,omitempty"`
	Tempo         string              `json:"tempo,omitempty"`
	Faults        []string            `json:"faults"`
	StopWhen      []string            `json:"stopWhen"`
	First         []Need              `json:"first"`
	Not           []Bar               `json:"not"`
	Then          []Then              `json:"then,omitempty" doc:"control that follows its range exercises in the same session"`
	Source        string              `json:"source,omitempty"`
	Retired       bool                `json:"retired,omitempty"`
	Own           bool                `json:"own,omitempty" doc:"added or changed by this practice"`
	Exercises     []Exercise          `json:"exercises"`
}

//go:embed rails/*.json
var files embed.FS

// Catalogue is a checked set of rails, in session order, and what was set aside because it is broken.
type Catalogue struct {
	Rails  []Rail
	Broken []Broken
}

// Shipped is the catalogue as it ships.
var Shipped = func() Catalogue {
	c, err := load()
	if err != nil {
		panic("catalog: " + err.Error())
	}
	return c
}()

func load() (Catalogue, error) {
	var all []Rail
	names, err := files.ReadDir("rails")
	if err != nil {
		return Catalogue{}, err
	}
	for _, n := range names {
		data, err := files.ReadFile("rails/" + n.Name())
		if err != nil {
			return Catalogue{}, err
		}
		rails, err := Read(data)
		if err != nil {
			return Catalogue{}, fmt.Errorf("%s: %w", n.Name(), err)
		}
		all = append(all, rails...)
	}
	c := Catalogue{Rails: all}
	return c, c.check()
}

// Read reads rails and sets and checks each rail by itself. A set has items in place of exercises: each becomes a
// rail of its own, and takes from the set what it leaves out.
func Read(data []byte) ([]Rail, error) {
	var all []json.RawMessage
	if err := json.Unmarshal(data, &all); err != nil {
		return nil, fmt.Errorf("the catalogue is not readable: %w", err)
	}
	var rails []Rail
	for _, one := range all {
		var set struct {
			ID    string            `json:"id"`
			Name  string            `json:"name"`
			Items []json.RawMessage `json:"items"`
		}
		if err := json.Unmarshal(one, &set); err != nil {
			return nil, fmt.Errorf("the catalogue is not readable: %w", err)
		}
		whole := len(set.Items) == 0
		if whole {
			set.Items = []json.RawMessage{one}
		}
		for _, item := range set.Items {
			r := Rail{}
			if err := errors.Join(json.Unmarshal(one, &r), json.Unmarshal(item, &r)); err != nil {
				return nil, fmt.Errorf("the rail %s is not readable: %w", set.ID, err)
			}
			if !whole {
				r.Set, r.SetName = set.ID, set.Name
			}
			rails = append(rails, r)
		}
	}
	for i := range rails {
		r, err := rails[i].Complete()
		if err != nil {
			return nil, fmt.Errorf("rail %s: %w", rails[i].ID, err)
		}
		rails[i] = r
	}
	return rails, nil
}

// Broken is a rail of the practice that breaks a rule of the catalogue, and how. Its prescriptions may
// not be done until it is mended.
type Broken struct {
	Rail string `json:"rail"`
	Name string `json:"name"`
	Says string `json:"says"`
}

// With lays a practice's own rails over the shipped ones: one of the same id stands in its place, the
// others follow in their part of the session. Each is checked by itself and in the whole; a broken one
// is set aside and the rest works.
func (c Catalogue) With(own []Rail) Catalogue {
	out := Catalogue{Rails: slices.Clone(c.Rails), Broken: slices.Clone(c.Broken)}
	for _, r := range own {
		next, err := out.add(r)
		if err != nil {
			out.Broken = append(out.Broken, Broken{r.ID, r.Name, err.Error()})
			continue
		}
		out = next
	}
	slices.SortStableFunc(out.Rails, func(a, b Rail) int { return slices.Index(Parts, a.Part) - slices.Index(Parts, b.Part) })
	return out
}

// Add checks one more rail against the whole catalogue; the error names the field and says what to do.
func (c Catalogue) Add(r Rail) error {
	_, err := c.add(r)
	return err
}

func (c Catalogue) add(r Rail) (Catalogue, error) {
	r, err := r.Complete()
	if err != nil {
		return c, err
	}
	r = c.waitsAnew(r)
	r.Own = true
	out := Catalogue{Rails: slices.Clone(c.Rails), Broken: c.Broken}
	// A practice's own version of a list that is a set now stands in the place of its items; of a rail that was split
	// it keeps what it has.
	for _, x := range r.Exercises {
		for i, o := range out.Rails {
			if to, ok := moved[r.ID][x.ID]; ok && to.rail == o.ID && o.ID != r.ID && !o.Own {
				o.Exercises = slices.DeleteFunc(slices.Clone(o.Exercises), func(y Exercise) bool { return y.ID == x.ID })
				out.Rails[i] = o
			}
		}
	}
	out.Rails = slices.DeleteFunc(out.Rails, func(o Rail) bool { return len(o.Exercises) == 0 })
	if i := slices.IndexFunc(out.Rails, func(x Rail) bool { return x.ID == r.ID }); i >= 0 {
		out.Rails[i] = r
	} else {
		out.Rails = append(out.Rails, r)
	}
	return out, out.check()
}

// SetAside says why a rail was set aside; empty when it works.
func (c Catalogue) SetAside(rail string) string {
	if i := slices.IndexFunc(c.Broken, func(b Broken) bool { return b.Rail == rail }); i >= 0 {
		return c.Broken[i].Says
	}
	return ""
}

// Find returns the rail with this id.
func (c Catalogue) Find(rail string) (Rail, bool) {
	for i := range c.Rails { // asked all the time: nothing is copied on the way
		if c.Rails[i].ID == rail {
			return c.Rails[i], true
		}
	}
	return Rail{}, false
}

// NameOf returns an exercise's name; its id when the catalogue no longer has it.
func (c Catalogue) NameOf(rail, exercise string) string {
	r, _ := c.Find(rail)
	if x, ok := r.Exercise(exercise); ok {
		return x.Name
	}
	return exercise
}

// Answering lists the rails that answer a limiter, first choice first; retired ones are left out.
func (c Catalogue) Answering(limiter string) []Rail {
	var at []int
	for i := range c.Rails {
		if c.Rails[i].Answers[limiter] > 0 && !c.Rails[i].Retired {
			at = append(at, i)
		}
	}
	slices.SortStableFunc(at, func(a, b int) int { return c.Rails[a].Answers[limiter] - c.Rails[b].Answers[limiter] })
	out := make([]Rail, len(at))
	for i, k := range at {
		out[i] = c.Rails[k]
	}
	return out
}

// Bringing lists the rails that a word brings in; retired ones are left out.
func (c Catalogue) Bringing(word string) []Rail {
	out := []Rail{}
	for _, r := range c.Rails {
		if slices.Contains(r.With, word) && !r.Retired {
			out = append(out, r)
		}
	}
	return out
}

// Remedies lists the rails that answer a sore place under the chosen approaches, first choice first, with the
// question that decided between them; retired ones are left out.
func (c Catalogue) Remedies(place body.Region, calm bool, chosen func(question string) string) (rails []Rail, question string) {
	rank := map[string]int{}
	for _, r := range c.Rails {
		for _, m := range r.Remedies {
			fits := slices.Contains(m.Places, place) && !r.Retired && (m.Phase == "" || (m.Phase == "calm") == calm)
			for q, options := range m.Only {
				if fits && slices.Contains(options, chosen(q)) {
					question = q
				}
				fits = fits && slices.Contains(options, chosen(q))
			}
			if fits && rank[r.ID] == 0 {
				rank[r.ID] = m.Rank
				rails = append(rails, r)
			}
		}
	}
	slices.SortStableFunc(rails, func(a, b Rail) int { return rank[a.ID] - rank[b.ID] })
	return rails, question
}

// At is the place of an exercise on the rail, from 0; −1 where it does not stand there.
func (r Rail) At(id string) int {
	for i := range r.Exercises {
		if r.Exercises[i].ID == id {
			return i
		}
	}
	return -1
}

// Exercise returns the rail's exercise with this id.
func (r Rail) Exercise(id string) (Exercise, bool) {
	i := r.At(id)
	if i < 0 {
		return Exercise{}, false
	}
	return r.Exercises[i], true
}

// Measures lists the tests the rail's first notch is placed from.
func (r Rail) Measures() []string {
	if r.Place == nil {
		return nil
	}
	return append([]string{r.Place.Measure}, r.Place.And...)
}

// Concerns reports whether a place and side matter to the rail's given side.
func (r Rail) Concerns(region body.Region, at, side body.Side) bool {
	return region == body.WholePerson || (slices.Contains(r.Regions, region) && at.Touches(side))
}

// Calf reports whether the rail is calf or forefoot strength: straight, bent and toe-extended raises,
// forefoot and split holds, lowering.
func (r Rail) Calf() bool {
	return slices.ContainsFunc(r.Exercises, func(x Exercise) bool { return x.Has(body.CalfWork) && x.Level >= 2 })
}

// OneProgramme names what a calf rail is counted as against the calf ceiling: the two lowering rails are one
// programme. Empty for a rail that is not counted.
func (r Rail) OneProgramme() string {
	switch {
	case !r.Calf() || r.Class != Strength && r.Class != Isometric:
		return ""
	case r.Protocol != "":
		return r.Protocol
	}
	return r.ID
}

// Hard reports the class that keeps a free day: external load on one leg and alike, and free bouncing.
func (x Exercise) Hard() bool { return x.Level >= 4 || x.Impact == body.FreeHops }

// Hardest is the highest level of the rail's exercises from one on.
func (r Rail) Hardest(from int) int {
	n := 0
	for _, x := range r.Exercises[max(from, 0):] {
		n = max(n, x.Level)
	}
	return n
}

// ByBeat reports whether the rail climbs by the beat of a metronome.
func (r Rail) ByBeat() bool {
	return slices.ContainsFunc(r.Exercises, func(x Exercise) bool { return x.Grade == BySpm })
}

// Apart reports rails that do not share a day.
func (r Rail) Apart(o Rail) bool {
	return slices.Contains(r.NotWith, o.ID) || slices.Contains(o.NotWith, r.ID)
}

// Sides lists the sides the rail is prescribed for: both by themselves, or the whole runner.
func (r Rail) Sides() []body.Side {
	if r.Whole {
		return []body.Side{body.Both}
	}
	return body.Sides
}

// Seconds estimates how long a dose takes in a day, rests included; twice for an exercise done on each
// side, and once more for each time a day.
func (x Exercise) Seconds(d body.Dose, sides int) int {
	one := float64(d.Seconds)
	switch d.Kind {
	case body.Ramp:
		one = 50 + 2*float64(d.Seconds)
	case body.Repetitions, body.RMLoad:
		one = float64(d.Reps) * (x.RepS + float64(d.Seconds))
	case body.Paces, body.Contacts:
		one = float64(d.Reps) * x.RepS
	case body.Gathered:
		one = 1.5 * float64(d.Seconds) // with the pauses
	case body.Blocks:
		one = float64(d.Seconds + d.OffS)
	}
	if !x.EachSide {
		sides = 1
	}
	return (int(one*float64(d.TotalSets()*sides))+x.RestS*(d.TotalSets()-1))*d.Times() + sides*x.thenSeconds()
}
