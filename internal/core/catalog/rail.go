package catalog

import (
	"slices"

	"notchback/internal/core/body"
)

// Under is the rail with the cautions that the chosen approaches ask for.
func (r Rail) Under(chosen func(question string) string) Rail {
	r.Cautions = under(r.Cautions, r.CautionsUnder, chosen)
	return r
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
	Part          Part                `json:"part"`
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
