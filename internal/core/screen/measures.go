// Package screen holds the battery of tests, what a trial may be, and the findings read from it.
package screen

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Fault is something seen during a trial. An invalidating fault keeps the trial from counting.
type Fault struct {
	ID          string `json:"id"`
	Name        string `json:"name"`
	Invalidates bool   `json:"invalidates"`
}

// Measure is one entry of the registry of measures: what is entered at a station.
type Measure struct {
	ID        string   `json:"id"`
	Name      string   `json:"name"`
	Unit      string   `json:"unit"`
	Sided     bool     `json:"sided"`
	Trials    int      `json:"trials" doc:"trials asked for"`
	MaxTrials int      `json:"maxTrials"`
	Min       float64  `json:"min"`
	Max       float64  `json:"max"`
	Step      float64  `json:"step"`
	Better    string   `json:"better" enum:"higher,lower"`
	Cap       float64  `json:"cap" doc:"reaching it is clear; 0 none"`
	Protocol  int      `json:"protocol" doc:"version of the way it is taken"`
	How       []string `json:"how"`
	Faults    []Fault  `json:"faults"`
	Stops     []Fault  `json:"stops" doc:"reasons a count was stopped; empty for others"`
	Condition string   `json:"condition"`
}

// Station is one stop of the screen, with its measures.
type Station struct {
	ID       string   `json:"id"`
	Name     string   `json:"name"`
	Measures []string `json:"measures"`
	Kit      string   `json:"kit"`
}

// Stations lists the stations in running order: what tires the foot comes last.
var Stations = []Station{
	{"ankle", "Knee to wall", []string{"ankle.knee_to_wall"}, "Tape on the floor, a wall. Barefoot."},
	{"big_toe", "Big toe", []string{"toe.active_height", "toe.passive_height"}, "A stack of plates of known thickness. Barefoot, standing."},
	{"raises", "Heel raises", []string{"calf.raises_straight"}, "A wall or rail within reach for balance. Barefoot."},
}

// Stop reasons of counted tests that change how the count is read.
const (
	StopCeiling = "ceiling" // stopped on purpose at the safety ceiling: at least this many
	StopReserve = "reserve" // stopped with about two left
)

var footFaults = []Fault{{"ball_lifts", "ball of the foot lifts", true}, {"drifts", "toe drifts across", false}, {"rolls", "foot rolls in or out", false}}

// Measures is the registry.
var Measures = []Measure{
	{ID: "ankle.knee_to_wall", Name: "Knee to wall", Unit: "cm", Sided: true, Trials: 3, MaxTrials: 6, Min: 0, Max: 30, Step: 0.5, Better: "higher", Protocol: 1,
		How:       []string{"Big toe on the tape, foot straight.", "Knee touches the wall over the second toe, heel down.", "Furthest distance from toe to wall, three times."},
		Faults:    []Fault{{"heel_lifts", "heel lifts", true}, {"foot_turns", "foot turns", false}, {"knee_in", "knee falls in", false}},
		Stops:     []Fault{},
		Condition: "barefoot, before anything tiring"},
	{ID: "toe.active_height", Name: "Big toe lifted by itself", Unit: "mm", Sided: true, Trials: 1, MaxTrials: 3, Min: 0, Max: 100, Step: 1, Better: "higher", Protocol: 1,
		How:    []string{"Ball of the big toe and both other points of the tripod stay down.", "Lift the big toe alone; slide plates under until they just touch.", "If the toe lifts more than 2 mm clear, the stack is too low: add one."},
		Faults: footFaults, Stops: []Fault{}, Condition: "barefoot, standing, unforced"},
	{ID: "toe.passive_height", Name: "Big toe lifted with a finger", Unit: "mm", Sided: true, Trials: 1, MaxTrials: 3, Min: 0, Max: 100, Step: 1, Better: "higher", Protocol: 1,
		How:    []string{"Same stance.", "Lift the toe with a finger to its soft end; plates under the tip."},
		Faults: footFaults, Stops: []Fault{}, Condition: "barefoot, standing, unforced"},
	{ID: "calf.raises_straight", Name: "One-leg heel raises, straight knee", Unit: "", Sided: true, Trials: 1, MaxTrials: 2, Min: 0, Max: 80, Step: 1, Better: "higher", Protocol: 1,
		How:    []string{"One leg, knee straight, fingertips on the wall.", "One raise every 2 s to the full height of the first.", "Count until height, knee or rhythm is lost, or pain is above 5."},
		Faults: []Fault{{"outside", "weight falls to the outside", false}},
		Stops: []Fault{{"height", "height lost", false}, {"knee", "knee bends", false}, {"rhythm", "rhythm lost", false}, {"pain", "pain above 5", false},
			{StopReserve, "two in reserve", false}, {StopCeiling, "stopped at the ceiling", false}},
		Condition: "barefoot, last in the screen, 1 per 2 s"},
}

// FindMeasure returns the measure with this id.
func FindMeasure(id string) (Measure, bool) {
	i := slices.IndexFunc(Measures, func(m Measure) bool { return m.ID == id })
	if i < 0 {
		return Measure{}, false
	}
	return Measures[i], true
}

// Trial is one attempt as it was seen. Every trial is kept; a corrected one is superseded, not
// changed.
type Trial struct {
	ID      string    `json:"id"`
	Measure string    `json:"measure"`
	Side    body.Side `json:"side" enum:"left,right"`
	Value   float64   `json:"value"`
	Faults  []string  `json:"faults"`
	Stop    string    `json:"stop,omitempty" doc:"why a count ended"`
	Skipped string    `json:"skipped,omitempty" doc:"why the test was left out; then the value does not count"`
	On      body.Date `json:"on"`
}

// Counts reports whether the trial enters the reading: not skipped and without an invalidating fault.
func (t Trial) Counts() bool {
	m, ok := FindMeasure(t.Measure)
	if !ok || t.Skipped != "" {
		return false
	}
	for _, f := range m.Faults {
		if f.Invalidates && slices.Contains(t.Faults, f.ID) {
			return false
		}
	}
	return true
}

// CheckTrial refuses a trial that cannot be, given how many the screen already holds of its measure
// and side, and the runner's big-toe length (mm).
func CheckTrial(t Trial, already int, toeMm float64) error {
	m, ok := FindMeasure(t.Measure)
	if !ok {
		return body.Refuse("measure", "%q is not a measure of this screen", t.Measure)
	}
	if t.Side != body.Left && t.Side != body.Right {
		return body.Refuse("side", "%s is taken left and right: choose one", m.Name)
	}
	for _, f := range t.Faults {
		if !slices.ContainsFunc(m.Faults, func(x Fault) bool { return x.ID == f }) {
			return body.Refuse("faults", "%q is not a fault of %s", f, m.Name)
		}
	}
	if already >= m.MaxTrials {
		return body.Refuse("trials", "%s, %s has %d trials, the most it takes; remove one first", m.Name, t.Side, already)
	}
	if t.Skipped != "" {
		return nil
	}
	if math.IsNaN(t.Value) || t.Value < m.Min || t.Value > m.Max {
		return body.Refuse("value", "%s is %g; enter %g to %g %s", m.Name, t.Value, m.Min, m.Max, m.Unit)
	}
	if m.Unit == "" && t.Value != math.Trunc(t.Value) {
		return body.Refuse("value", "%s is a count; enter a whole number", m.Name)
	}
	if m.Unit == "mm" && t.Value >= toeMm {
		return body.Refuse("value", "height %g mm is not below the big-toe length %g mm; check the stack, or the length at intake", t.Value, toeMm)
	}
	if len(m.Stops) > 0 && !slices.ContainsFunc(m.Stops, func(x Fault) bool { return x.ID == t.Stop }) {
		return body.Refuse("stop", "say why the count ended")
	}
	return nil
}

// Circumstances are what limits the screen of one runner on one day.
type Circumstances struct {
	FirstVisit    bool
	Under18       bool
	TendonCaution bool
	Pain          int // highest usual pain, 0–10
}

// RaiseCeiling returns where heel raises are stopped on purpose, 0 for none, with the reason: no
// raises to failure on a first visit, under 18, with a tendon caution or pain above 2.
func RaiseCeiling(c Circumstances, h house.Rules) (int, body.Reason) {
	r := h.Because("screen.ceiling", "no raises to failure: stop here, or with two in reserve", "calf.raises.ceiling")
	for _, x := range []struct {
		name string
		is   bool
	}{{"first visit", c.FirstVisit}, {"under 18", c.Under18}, {"tendon caution", c.TendonCaution}, {"pain above 2", c.Pain > 2}} {
		if x.is {
			r = r.See(x.name, "yes")
		}
	}
	if len(r.Saw) == 0 {
		return 0, r
	}
	return h.Int("calf.raises.ceiling"), r
}

// Reading is what the counting trials of one measure and side come to.
type Reading struct {
	Measure string      `json:"measure"`
	Side    body.Side   `json:"side"`
	Value   float64     `json:"value"`
	Done    float64     `json:"done" doc:"mean of what was actually done; a first dose is placed from it"`
	N       int         `json:"n" doc:"trials counted"`
	AtLeast bool        `json:"atLeast" doc:"stopped on purpose: the true value may be higher"`
	Skipped string      `json:"skipped,omitempty"`
	Reason  body.Reason `json:"reason"`
}

// Read combines the counting trials of a measure and side: their mean. A heel-raise count stopped
// with two in reserve reads as two more.
func Read(trials []Trial, measure string, side body.Side) (Reading, bool) {
	out := Reading{Measure: measure, Side: side}
	m, _ := FindMeasure(measure)
	r := house.Rules{}.Because("screen.mean", "mean of the trials that count")
	r.Provenance, r.Source = body.Common, ""
	var x, done []float64
	for _, t := range trials {
		if t.Measure != measure || t.Side != side {
			continue
		}
		if t.Skipped != "" {
			out.Skipped = t.Skipped
			continue
		}
		note := ""
		if !t.Counts() {
			note = " (not counted: fault)"
		}
		r = r.SeeOn(t.On, fmt.Sprintf("trial %d", len(r.Saw)+1), "%g %s%s", t.Value, m.Unit, note)
		if !t.Counts() {
			continue
		}
		v := t.Value
		switch t.Stop {
		case StopReserve:
			v += 2
			r = r.See("stopped with two in reserve", "reads as %g", v)
		case StopCeiling:
			out.AtLeast = true
		}
		x, done = append(x, v), append(done, t.Value)
	}
	if len(x) == 0 {
		return out, false
	}
	out.Value, out.Done, out.N = stats.Mean(x), stats.Mean(done), len(x)
	r.Formula = fmt.Sprintf("mean of %s = %s %s", list(x), Figure(out.Value, m.Unit), m.Unit)
	out.Reason = r
	return out, true
}

func list(x []float64) string {
	s := ""
	for i, v := range x {
		if i > 0 {
			s += ", "
		}
		s += fmt.Sprintf("%g", v)
	}
	return s
}

// Figure writes a value with the decimals its unit deserves.
func Figure(v float64, unit string) string {
	if unit == "" {
		return fmt.Sprintf("%.0f", v)
	}
	return fmt.Sprintf("%.1f", v)
}
