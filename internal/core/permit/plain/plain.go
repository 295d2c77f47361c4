// Package plain states the tables of warning signs and cautions once more, plainly and apart from the code that
// applies them: what each takes away, as a physiotherapist would read it off a sheet (common practice, no source).
// Only tests use it.
package plain

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
)

// row is a line of the sheet of cautions. Zero values take nothing away.
type row struct {
	level    int // highest level left; 9 all
	calf     int // highest level of calf work left; 9 all
	impact   int // 0 none left, 1 supported, 2 all
	bare     int // highest stage of bare work left; −1 none, 9 all
	no       []string
	noRun    bool
	noFaster bool // no rise, hills, quality (and strides where impact says so)
}

// Sheet is the table of cautions.
var Sheet = map[string]row{
	"sensation":    {2, 9, 0, -1, []string{"pressure", "cold"}, false, true},
	"diabetes":     {3, 9, 2, 0, []string{"outdoors"}, false, false},
	"under_18":     {3, 9, 1, 1, []string{"lowering", "rm", "to_failure"}, false, false},
	"steroid":      {9, 2, 0, 1, []string{"edge", "lowering", "rm", "to_failure"}, false, true},
	"quinolone":    {9, 2, 0, 1, []string{"edge", "lowering", "rm", "to_failure"}, false, true},
	"tendon":       {9, 2, 0, 1, []string{"edge", "lowering", "rm", "to_failure"}, false, true},
	"bone":         {3, 9, 1, 1, nil, false, true},
	"energy":       {3, 9, 1, 1, nil, false, true},
	"pregnancy":    {3, 9, 1, 1, []string{"rm", "prone", "supine"}, false, true},
	"surgery":      {1, 9, 0, -1, nil, true, false},
	"hardware":     {9, 9, 0, 1, []string{"forced"}, false, false},
	"inflammatory": {3, 9, 2, 9, []string{"joint"}, false, false},
	"clot":         {9, 9, 2, 9, []string{"pressure"}, false, false},
	"circulation":  {9, 9, 2, 9, []string{"cold"}, false, false},
	"fall":         {9, 9, 2, 9, []string{"eyes_closed", "block"}, false, false},
	"balance":      {9, 9, 2, 9, []string{"eyes_closed", "block"}, false, false},
	"bmi":          {9, 9, 2, 9, nil, false, false}, // half the contacts, nothing out
	"":             {9, 9, 2, 9, nil, false, false},
}

func hits(x body.Demand, word string) bool {
	switch word {
	case "pressure":
		return x.Pressure
	case "cold":
		return x.Cold
	case "edge":
		return x.Edge
	case "prone", "supine":
		return string(x.Position) == word
	}
	return slices.Contains(x.Tags, body.Tag(word))
}

func impactOf(x body.Demand) int {
	return max(0, slices.Index([]body.Impact{"none", "supported", "free"}, x.Impact))
}

// takenBy reads a row of the sheet for one thing.
func (r row) takenBy(x body.Demand) bool {
	faster := slices.Contains([]body.RunPart{body.Rise, body.Hills, body.Quality}, x.Run) || x.Run == body.Strides
	return x.Level > r.level || x.Level > r.calf && slices.Contains(x.Tags, body.CalfWork) || impactOf(x) > r.impact ||
		x.Bare && x.Stage > r.bare ||
		slices.ContainsFunc(r.no, func(w string) bool { return hits(x, w) }) ||
		x.Run != "" && (r.noRun || r.noFaster && faster || x.Run == body.Strides && r.impact < 2)
}

// legs, stated again: what it trains, and what it stands on.
func legs(x body.Demand, side body.Side) (left, right bool) {
	both := side == body.Both || x.Trains == body.BothLegs || x.Bears == body.BothLegs
	one := x.Trains == body.OneSide || x.Trains != body.NoLeg && x.Trains != body.BothLegs || x.Bears == body.TrainedLeg
	return both || one && side == body.Left || x.Bears == body.OtherLeg && side == body.Right, both || one && side == body.Right ||
		x.Bears == body.OtherLeg && side == body.Left
}

// State is how the tests stand that have to be known.
type State struct {
	Name                        string
	Touch, Shape, Pinch, Squats float64 // −1 unknown, 0 good, 1 bad
}

// States are all unknown, all bad and all good.
var States = []State{{"unknown", -1, -1, -1, -1}, {"bad", 1, 1, 1, 1}, {"good", 0, 0, 0, 0}}

// Forbidden says from the sheet alone whether something may not be done.
func Forbidden(x body.Demand, side body.Side, inForce bool, sign refer.Sign, place body.Region, at body.Side, caution string,
	st State) bool {
	left, right := legs(x, side)
	touched := left || right
	caution = map[bool]string{true: "sensation", false: caution}[caution == "ulcer" || caution == "diabetes" && st.Touch != 0]
	r := Sheet[caution]
	if touched && r.takenBy(x) {
		return true
	}
	unfeeling := caution == "sensation" || caution == "diabetes"
	class := sign.Class
	if caution == "bone" || caution == "energy" {
		if sign.ID == "bone" || sign.ID == "bone_run" {
			class = refer.SameDay
		}
	}
	lockBoth := at == body.Both || place == body.WholePerson || place == body.AboveKnee
	onLocked := (lockBoth || at == body.Left) && left || (lockBoth || at == body.Right) && right
	switch {
	case sign.ID == "ill", class == refer.Emergency, class == refer.SameDay:
		return true
	case sign.ID == "blister":
		if unfeeling {
			return true
		}
		if onLocked && (x.Bare || impactOf(x) > 0 || x.Pressure || x.Cold || x.Run == body.Strides) {
			return true
		}
	case class == refer.HardStop:
		if !inForce || onLocked || touched && (x.Level > 1 || impactOf(x) > 0 || x.Bare && (x.Stage > 0 || hits(x, "walking")) || x.Run != "") {
			return true
		}
	}
	// What could hurt and is not known.
	if !touched {
		return false
	}
	if beyondGate(x, inForce, caution, st) {
		return true
	}
	for _, ask := range []struct {
		waits bool
		v     float64
		feel  bool
	}{{x.Pressure || x.Bare, st.Touch, true}, {hits(x, "grip"), st.Shape, false},
		{hits(x, "ankle_range") && hits(x, "forced"), st.Pinch, false}, {hits(x, "deep_squat") && x.Bare, st.Squats, false}} {
		switch {
		case !ask.waits || ask.v == 0:
		case ask.v > 0:
			return true
		case !inForce, !ask.feel && (x.Level > 2 || impactOf(x) > 0):
			return true
		}
	}
	return false
}

// Passed are readings of a foot that the barefoot gate lets through, squats and feeling apart.
var Passed = map[string]float64{"walk.heels": 0, "arch.two_finger": 0, "ankle.knee_to_wall": 12, "toe.loaded_extension": 40,
	"toes.big_alone": 3, "balance.open": 45, "calf.raises_straight": 25}

// beyondGate says what the barefoot gate takes of bare work beyond walks, where nothing but the squats, or the reach of an ankle with
// hardware, is in question: tested and bad, or begun untested, or in force untested beyond body mass.
func beyondGate(x body.Demand, inForce bool, caution string, st State) bool {
	if !x.Bare || x.Stage < 2 {
		return false
	}
	untested := st.Squats < 0 || caution == "hardware"
	return st.Squats > 0 || untested && (!inForce || x.Level > 2 || impactOf(x) > 0 || x.Run != "")
}
