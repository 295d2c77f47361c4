package body

import (
	"fmt"
	"slices"
)

// Impact is how the foot meets the ground in bouncing. Running itself is not impact.
type Impact string

// The impacts, the gentlest first. Supported: the hands take weight.
const (
	NoImpact  Impact = "none"
	Supported Impact = "supported"
	FreeHops  Impact = "free"
)

// Impacts lists them, the gentlest first.
var Impacts = []Impact{NoImpact, Supported, FreeHops}

// Beyond reports whether i is harder than j.
func (i Impact) Beyond(j Impact) bool {
	return slices.Index(Impacts, i) > slices.Index(Impacts, j) && i != ""
}

// Legs says which legs something trains or stands on, seen from the side it is prescribed for.
type Legs string

// The legs. Trains is OneSide, BothLegs or NoLeg; Bears is NoLeg, TrainedLeg, OtherLeg or BothLegs.
const (
	NoLeg      Legs = "none"
	OneSide    Legs = "side"
	BothLegs   Legs = "both"
	TrainedLeg Legs = "trained"
	OtherLeg   Legs = "other"
)

// Position is how the body is held.
type Position string

// Positions lists them.
var Positions = []Position{"standing", "seated", "kneeling", "half-kneeling", "all-fours", "prone", "supine", "side-lying"}

// Tag marks a property that a rule may take away.
type Tag string

// The tags. Forced: by hand, strap or body weight at the end of the range. DeepSquat: hips below the
// knees. Walking: bare walking indoors, up to 3 min a day in all.
const (
	Grip         Tag = "grip"
	ToeRange     Tag = "toe_range"
	AnkleRange   Tag = "ankle_range"
	Forced       Tag = "forced"
	DeepSquat    Tag = "deep_squat"
	OneLeg       Tag = "one_leg"
	EyesClosed   Tag = "eyes_closed"
	Block        Tag = "block"
	ShinPressure Tag = "shin_pressure"
	Lowering     Tag = "lowering"
	RM           Tag = "rm"
	ToFailure    Tag = "to_failure"
	Outdoors     Tag = "outdoors"
	Walking      Tag = "walking"
	CalfWork     Tag = "calf"
	Joint        Tag = "joint"
)

// Tags lists them.
var Tags = []Tag{Grip, ToeRange, AnkleRange, Forced, DeepSquat, OneLeg, EyesClosed, Block, ShinPressure, Lowering, RM, ToFailure, Outdoors,
	Walking, CalfWork, Joint}

// RunPart is what is done inside a run.
type RunPart string

// The run parts. Rise is more than last week's total, or a new longest; Steps are the run–walk steps
// back to running.
const (
	EasyMinutes RunPart = "easy"
	Rise        RunPart = "rise"
	Quality     RunPart = "quality"
	Hills       RunPart = "hills"
	CadenceWork RunPart = "cadence"
	PostureWork RunPart = "posture"
	Strides     RunPart = "strides"
	BarePart    RunPart = "bare"
	Steps       RunPart = "steps"
)

// RunParts lists them, the gentlest first.
var RunParts = []RunPart{Steps, EasyMinutes, PostureWork, CadenceWork, BarePart, Rise, Hills, Quality, Strides}

// Demand is what an exercise, a test or a part of a run asks of the legs; permissions are judged by it
// alone.
//
// Level is what calf and forefoot carry: 0 unloaded, release; 1 seated control, bands, arm weight, partly
// loaded; 2 body mass with the whole foot down, heel and edge walks, heels off on two legs, seated with
// kilograms; 3 heel off on one leg, forefoot and rise walks, lowering without load, two legs or the whole
// foot with external load, split hold on a plate; 4 one leg heel off with external load, 12 RM and less.
//
// Stage grades bare work: 0 on the spot and short indoor walks; 1 longer or outdoor walking; 2 squat,
// lunge, hinge and loaded work; 3 impact; 4 and 5 running.
type Demand struct {
	Level    int      `json:"level" minimum:"0" maximum:"4" doc:"what calf and forefoot carry: 0 unloaded … 4 one leg with external load"`
	Impact   Impact   `json:"impact,omitempty" enum:"none,supported,free," doc:"bouncing; empty: none"`
	Trains   Legs     `json:"trainsLegs,omitempty" enum:"side,both,none," doc:"legs it trains"`
	Bears    Legs     `json:"bears,omitempty" enum:"none,trained,other,both," doc:"legs that stand"`
	Bare     bool     `json:"bare,omitempty" doc:"standing or moving on bare feet"`
	Stage    int      `json:"stage,omitempty" minimum:"0" maximum:"5" doc:"stage of bare work"`
	Edge     bool     `json:"edge,omitempty" doc:"loaded below level, or a loaded ankle stretch"`
	ToesBack bool     `json:"toesBack,omitempty" doc:"weight on bent-back toes"`
	Position Position `json:"position,omitempty" doc:"how the body is held"`
	Pressure bool     `json:"pressure,omitempty" doc:"pressure on soft tissue"`
	Cold     bool     `json:"cold,omitempty"`
	Tags     []Tag    `json:"tags,omitempty" doc:"what else it asks, of body.Tags"`
	Main     []Region `json:"main,omitempty" doc:"places it mainly loads"`
	Also     []Region `json:"also,omitempty" doc:"places it loads besides"`
	Run      RunPart  `json:"run,omitempty" enum:"steps,easy,posture,cadence,bare,rise,hills,quality,strides," doc:"empty outside runs"`
}

// Has reports whether the demand carries a tag.
func (d Demand) Has(t Tag) bool { return slices.Contains(d.Tags, t) }

// Loads reports whether a place is loaded, mainly or besides.
func (d Demand) Loads(r Region) bool { return slices.Contains(d.Main, r) || slices.Contains(d.Also, r) }

// Demanding reports work at level 2 and above, with bouncing, on bare feet, below level or on bent-back toes: none
// of it begins in the two weeks before a goal race.
func (d Demand) Demanding() bool {
	return d.Level >= 2 || d.Impact.Beyond(NoImpact) || d.Bare || d.Edge || d.ToesBack
}

// Legs lists the legs a demand prescribed for a side trains or bears on, left before right; none for
// trunk work.
func (d Demand) Legs(side Side) []Side {
	var left, right bool
	add := func(s Side) {
		left = left || s == Left || s == Both
		right = right || s == Right || s == Both
	}
	switch d.Trains {
	case BothLegs:
		add(Both)
	case OneSide, "":
		add(side)
	}
	switch d.Bears {
	case BothLegs:
		add(Both)
	case TrainedLeg:
		if d.Trains == BothLegs {
			add(Both)
		} else {
			add(side)
		}
	case OtherLeg:
		add(side.Other())
	}
	var out []Side
	if left {
		out = append(out, Left)
	}
	if right {
		out = append(out, Right)
	}
	return out
}

// bearing are the places whatever bears weight loads; pressing those a press or grip loads.
var (
	bearing  = []Region{HeelSole, HeelBack, Arch, Ball, Achilles, Calf}
	pressing = []Region{Ball, Arch, HeelSole}
)

// WithPlaces fills the places a demand loads besides its main ones: whatever bears the body's weight
// loads both places of the heel, arch, ball, Achilles and calf; a grip loads ball, arch and the sole of the heel.
func (d Demand) WithPlaces() Demand {
	var more []Region
	if d.Bears != NoLeg && d.Bears != "" && d.Level >= 2 {
		more = append(more, bearing...)
	}
	if d.Has(Grip) {
		more = append(more, pressing...)
	}
	d.Also = slices.Clone(d.Also)
	for _, r := range more {
		if !d.Loads(r) {
			d.Also = append(d.Also, r)
		}
	}
	return d
}

// Check refuses a demand that contradicts itself; the error names what to change.
func (d Demand) Check() error {
	switch {
	case d.Level < 0 || d.Level > 4:
		return Refuse("level", "is %d; enter 0 unloaded to 4 one leg with external load", d.Level)
	case d.Impact != "" && !slices.Contains(Impacts, d.Impact):
		return Refuse("impact", "%q is none, supported or free", d.Impact)
	case d.Trains != "" && !slices.Contains([]Legs{OneSide, BothLegs, NoLeg}, d.Trains):
		return Refuse("trainsLegs", "%q is side, both or none", d.Trains)
	case d.Bears != "" && !slices.Contains([]Legs{NoLeg, TrainedLeg, OtherLeg, BothLegs}, d.Bears):
		return Refuse("bears", "%q is none, trained, other or both", d.Bears)
	case d.Position != "" && !slices.Contains(Positions, d.Position):
		return Refuse("position", "%q is not one of %v", d.Position, Positions)
	case d.Stage < 0 || d.Stage > 5 || (d.Stage > 0 && !d.Bare):
		return Refuse("stage", "is 0 to 5, and only for bare work")
	case d.Impact == FreeHops && d.Level < 3:
		return Refuse("level", "free bounces carry at least level 3")
	case d.Impact == Supported && d.Level < 2:
		return Refuse("level", "supported bounces carry at least level 2")
	case d.Edge && d.Level < 1:
		return Refuse("level", "what is loaded below level carries at least level 1")
	}
	for _, t := range d.Tags {
		if !slices.Contains(Tags, t) {
			return Refuse("tags", "%q is not on the list %v", t, Tags)
		}
	}
	for _, r := range slices.Concat(d.Main, d.Also) {
		if !r.Valid() {
			return Refuse("main", "unknown place %s", r)
		}
	}
	return nil
}

// LevelName writes a level as people read it.
func LevelName(level int) string {
	return fmt.Sprintf("level %d, %s", level, []string{"unloaded", "partly loaded", "body mass", "one leg or external load",
		"one leg with external load"}[max(0, min(4, level))])
}
