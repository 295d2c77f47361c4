// Package catalog holds the exercises and rails as checked data, says what a runner may do of them and
// places exact doses on a rail. The data stands in rails/, one file a part of the session; a practice
// adds, copies or retires rails on top.
package catalog

import (
	"encoding/json"
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

// Alone reports work that may go on however long nobody has looked at it: up to level 1, without bouncing, bare feet out
// of the house or pressure, and outside a run.
func (x Exercise) Alone(slot Slot) bool {
	return slot != InRun && x.Level <= 1 && !x.Impact.Beyond(body.NoImpact) && !(x.Bare && x.Stage >= 1) && !x.Pressure && x.Class != Releasing
}

// Hard reports the class that keeps a free day: external load on one leg and alike, and free bouncing.
func (x Exercise) Hard() bool { return x.Level >= 4 || x.Impact == body.FreeHops }

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
