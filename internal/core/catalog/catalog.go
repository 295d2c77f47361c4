// Package catalog holds the exercises and rails as checked data, and places exact doses on a rail.
package catalog

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Class groups exercises by how soon they may move and how close they may stand.
type Class string

// The classes of the rails so far.
const (
	Range     Class = "range"
	Control   Class = "control"
	Isometric Class = "isometric"
	Strength  Class = "strength"
)

// Exercise is one thing to do, with all the doses it may take.
type Exercise struct {
	ID        string      `json:"id"`
	Name      string      `json:"name"`
	Class     Class       `json:"class"`
	EachSide  bool        `json:"eachSide" doc:"done on each side by itself"`
	Share     float64     `json:"share" doc:"part of body mass lifted: 1 one leg, 0.5 two, 0 none"`
	Heavy     bool        `json:"heavy" doc:"keeps its gap and its distance from quality runs"`
	Loaded    bool        `json:"loaded" doc:"takes external load"`
	NotBefore bool        `json:"notBefore" doc:"not within 6 h before a run"`
	Ladder    []body.Dose `json:"ladder" doc:"doses, low to high; with external load the ladder repeats for each weight owned"`
	StageDays []int       `json:"stageDays,omitempty" doc:"days each dose of a published protocol stands"`
	Tempo     string      `json:"tempo,omitempty"`
	RepS      float64     `json:"repS" doc:"seconds a repetition"`
	RestS     int         `json:"restS"`
	Needs     []string    `json:"needs" doc:"equipment: step, dumbbell, heavy_dumbbell, stack, strap, roll"`
	SetUp     string      `json:"setUp"`
	Cues      []string    `json:"cues"`
	Good      string      `json:"good"`
	Faults    []string    `json:"faults"`
	StopWhen  []string    `json:"stopWhen"`
	Source    string      `json:"source,omitempty"`
	Published bool        `json:"published"`
}

// Rail is an ordered progression of exercises.
type Rail struct {
	ID        string        `json:"id"`
	Name      string        `json:"name"`
	Trains    string        `json:"trains"`
	PerWeek   int           `json:"perWeek"`
	Regions   []body.Region `json:"regions" doc:"places whose pain, mornings and stops concern this rail"`
	Exercises []Exercise    `json:"exercises"`
}

//go:embed rails.json
var railsJSON []byte

// Rails is the checked catalogue.
var Rails = mustLoad(railsJSON)

func mustLoad(data []byte) []Rail {
	rails, err := Load(data)
	if err != nil {
		panic("catalog: " + err.Error())
	}
	return rails
}

// Load reads and checks a catalogue.
func Load(data []byte) ([]Rail, error) {
	var rails []Rail
	if err := json.Unmarshal(data, &rails); err != nil {
		return nil, fmt.Errorf("catalogue is not readable: %w", err)
	}
	seen := map[string]bool{}
	for _, r := range rails {
		if len(r.Exercises) == 0 || len(r.Regions) == 0 || r.PerWeek < 1 || r.PerWeek > 7 {
			return nil, fmt.Errorf("rail %s needs exercises, regions and 1 to 7 sessions a week", r.ID)
		}
		for _, g := range r.Regions {
			if !g.Valid() {
				return nil, fmt.Errorf("rail %s: unknown region %s", r.ID, g)
			}
		}
		for _, x := range r.Exercises {
			if seen[x.ID] {
				return nil, fmt.Errorf("exercise %s stands twice", x.ID)
			}
			seen[x.ID] = true
			if err := x.check(); err != nil {
				return nil, fmt.Errorf("exercise %s: %w", x.ID, err)
			}
		}
	}
	return rails, nil
}

var equipment = []string{"step", "dumbbell", "heavy_dumbbell", "stack", "strap", "roll"}

func (x Exercise) check() error {
	switch {
	case len(x.Ladder) == 0:
		return fmt.Errorf("has no dose")
	case len(x.StopWhen) == 0:
		return fmt.Errorf("has no stop sign")
	case x.SetUp == "" || x.Good == "" || len(x.Faults) == 0:
		return fmt.Errorf("needs set-up, what good looks like and faults")
	case len(x.Cues) == 0 || len(x.Cues) > 4:
		return fmt.Errorf("needs one to four cues")
	case len(x.StageDays) > 0 && len(x.StageDays) != len(x.Ladder):
		return fmt.Errorf("needs a stage length for every dose")
	case x.Published && x.Source == "":
		return fmt.Errorf("a published dose needs its source")
	}
	for _, n := range x.Needs {
		if !slices.Contains(equipment, n) {
			return fmt.Errorf("unknown equipment %q", n)
		}
	}
	for i, d := range x.Ladder {
		if d.Sets < 1 || d.Amount() < 1 {
			return fmt.Errorf("dose %d is empty", i+1)
		}
		// Ramps and repetition-maximum stages climb in intensity, the others in work.
		if i > 0 && d.Kind != body.RMLoad && d.Work(1, 1) <= x.Ladder[i-1].Work(1, 1) {
			return fmt.Errorf("dose %d is no harder than the one before it", i+1)
		}
	}
	return nil
}

// Find returns the rail with this id.
func Find(rail string) (Rail, bool) {
	i := slices.IndexFunc(Rails, func(r Rail) bool { return r.ID == rail })
	if i < 0 {
		return Rail{}, false
	}
	return Rails[i], true
}

// Exercise returns the rail's exercise with this id.
func (r Rail) Exercise(id string) (Exercise, bool) {
	i := slices.IndexFunc(r.Exercises, func(x Exercise) bool { return x.ID == id })
	if i < 0 {
		return Exercise{}, false
	}
	return r.Exercises[i], true
}

// Concerns reports whether a place and side matter to the rail's given side.
func (r Rail) Concerns(region body.Region, at, side body.Side) bool {
	return region == body.WholePerson || (slices.Contains(r.Regions, region) && at.Touches(side))
}

// Seconds estimates how long a dose takes, rests included; twice for an exercise done on each side.
func (x Exercise) Seconds(d body.Dose, sides int) int {
	one := float64(d.Seconds)
	switch d.Kind {
	case body.Ramp:
		one = 50 + 2*float64(d.Seconds)
	case body.Repetitions, body.RMLoad:
		one = float64(d.Reps) * (x.RepS + float64(d.Seconds))
	}
	if !x.EachSide {
		sides = 1
	}
	return int(one*float64(d.TotalSets()*sides)) + x.RestS*(d.TotalSets()-1)
}

// Notch is one exact exercise and dose on a rail.
type Notch struct {
	Exercise string    `json:"exercise"`
	Name     string    `json:"name"`
	Dose     body.Dose `json:"dose"`
	Heavy    bool      `json:"heavy"`
}

// Text writes the notch as a coach reads it.
func (n Notch) Text() string { return n.Name + ", " + n.Dose.String() }

// Limits is what bounds a runner's notches: equipment, body mass and whether heavy loading is barred.
type Limits struct {
	Equipment   body.Equipment
	MassKg      float64
	HeavyBarred bool
	HeavyMinKg  float64
}

// LimitsOf gathers the limits of a runner.
func LimitsOf(p body.Profile, heavyBarred bool, h house.Rules) Limits {
	return Limits{p.Equipment, p.MassKg, heavyBarred, h.Get("build.heavy.min_kg")}
}

// Allowed reports whether the runner may do the exercise, and why not.
func (l Limits) Allowed(x Exercise) (bool, string) {
	if l.HeavyBarred && x.Loaded {
		return false, "heavy loading is barred by a caution"
	}
	for _, n := range x.Needs {
		switch {
		case n == "step" && l.Equipment.StepCm == 0:
			return false, "needs a step"
		case n == "dumbbell" && len(l.Equipment.DumbbellsKg) == 0:
			return false, "needs a dumbbell"
		case n == "heavy_dumbbell" && (len(l.Equipment.DumbbellsKg) == 0 || slices.Max(l.Equipment.DumbbellsKg) < l.HeavyMinKg):
			return false, fmt.Sprintf("needs a dumbbell of at least %g kg", l.HeavyMinKg)
		case n == "stack" && len(l.Equipment.PlatesMm) == 0:
			return false, "needs plates or books to stack"
		case n == "strap" && !l.Equipment.Strap:
			return false, "needs a strap"
		case n == "roll" && !l.Equipment.Roll:
			return false, "needs a rolled towel"
		}
	}
	return true, ""
}

// Notches lists the exact doses of a rail that the runner may do, easiest first.
func (r Rail) Notches(l Limits) []Notch {
	var out []Notch
	for _, x := range r.Exercises {
		if ok, _ := l.Allowed(x); !ok {
			continue
		}
		loads := []float64{0}
		if x.Loaded && slices.Contains(x.Needs, "dumbbell") {
			loads = l.Equipment.DumbbellsKg
		}
		for _, kg := range loads {
			for _, d := range x.Ladder {
				d.LoadKg = kg
				out = append(out, Notch{x.ID, x.Name, d, x.Heavy})
			}
		}
	}
	return out
}

// At returns the index of the notch a dose stands on: the same dose, else the last notch of the same
// exercise and load that asks no more work. A dose below the exercise's first notch, or off a
// repetitions-maximum ladder, gives the first notch with below true; an exercise that is not on the
// list gives -1.
func At(notches []Notch, exercise string, d body.Dose) (i int, below bool) {
	d.Extra = 0
	i = slices.IndexFunc(notches, func(n Notch) bool { return n.Exercise == exercise && n.Dose == d })
	if i >= 0 {
		return i, false
	}
	firstOf := -1
	for k, n := range notches {
		if n.Exercise != exercise {
			continue
		}
		if firstOf < 0 {
			firstOf = k
		}
		if d.Kind == body.RMLoad {
			continue
		}
		if n.Dose.LoadKg < d.LoadKg || (n.Dose.LoadKg == d.LoadKg && n.Dose.Work(0, 0) <= d.Work(0, 0)) {
			i = k
		}
	}
	if i < 0 {
		return firstOf, true
	}
	return i, false
}
