package body

import (
	"fmt"
	"strings"
)

// DoseKind is the way a dose is counted; work is comparable only within one kind.
type DoseKind string

// The dose kinds of the rails so far.
const (
	Repetitions DoseKind = "repetitions" // sets × repetitions at a load
	Hold        DoseKind = "hold"        // sets × seconds at a load
	Ramp        DoseKind = "ramp"        // rounds of press and lift, s each
	RMLoad      DoseKind = "rm"          // sets × repetitions at a repetitions-maximum load
)

// Dose is one exact amount of an exercise. It is the truth of a prescription; the notch on the rail
// is derived from it.
type Dose struct {
	Kind    DoseKind `json:"kind" enum:"repetitions,hold,ramp,rm"`
	Sets    int      `json:"sets" minimum:"1"`
	Extra   int      `json:"extra,omitempty" doc:"extra sets for the weaker side"`
	Reps    int      `json:"reps,omitempty"`
	Seconds int      `json:"seconds,omitempty" doc:"per set or per repetition held, s"`
	LoadKg  float64  `json:"loadKg,omitempty" doc:"external load, kg"`
}

// Timed reports whether a set is counted in seconds rather than repetitions.
func (d Dose) Timed() bool { return d.Kind == Hold || d.Kind == Ramp }

// Amount is the counted quantity of one set: repetitions, or seconds for holds and rounds.
func (d Dose) Amount() int {
	if d.Timed() {
		return d.Seconds
	}
	return d.Reps
}

// WithAmount returns the dose with another quantity a set.
func (d Dose) WithAmount(n int) Dose {
	if d.Timed() {
		d.Seconds = n
	} else {
		d.Reps = n
	}
	return d
}

// TotalSets counts the weaker side's extra set too.
func (d Dose) TotalSets() int { return d.Sets + d.Extra }

// Work is the dose's work without extra sets: repetitions × system load (kg) for repetitions,
// seconds × system load for holds, rounds × seconds for ramps. share is the part of body mass the
// exercise lifts (1 one leg, 0.5 two legs, 0 seated). An exercise that moves no body mass and no
// load counts plain repetitions or seconds.
func (d Dose) Work(share, massKg float64) float64 {
	system := share*massKg + d.LoadKg
	if system == 0 {
		system = 1
	}
	switch d.Kind {
	case Hold:
		return float64(d.Sets*d.Seconds) * system
	case Ramp:
		return float64(d.Sets * max(d.Seconds, 1))
	default:
		return float64(d.Sets*d.Reps) * system
	}
}

// String writes the dose as a coach reads it: "2 × 9", "3 × 30 s", "3 × 8 with 4 kg".
func (d Dose) String() string {
	var b strings.Builder
	sets := fmt.Sprint(d.Sets)
	if d.Extra > 0 {
		sets = fmt.Sprintf("(%d + %d)", d.Sets, d.Extra)
	}
	switch d.Kind {
	case Hold:
		fmt.Fprintf(&b, "%s × %d s", sets, d.Seconds)
	case Ramp:
		fmt.Fprintf(&b, "%s rounds of %d s press, %d s lift", sets, d.Seconds, d.Seconds)
	case RMLoad:
		fmt.Fprintf(&b, "%s × %d at %d RM", sets, d.Reps, d.Reps)
	default:
		fmt.Fprintf(&b, "%s × %d", sets, d.Reps)
		if d.Seconds > 0 {
			fmt.Fprintf(&b, ", %d s hold", d.Seconds)
		}
	}
	if d.LoadKg > 0 {
		fmt.Fprintf(&b, " with %g kg", d.LoadKg)
	}
	return b.String()
}
