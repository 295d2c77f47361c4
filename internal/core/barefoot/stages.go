package barefoot

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/stats"
)

// Stage is one stage as a coach reads it.
type Stage struct {
	Name  string `json:"name"`
	Entry string `json:"entry" doc:"what it asks before it begins"`
	Dose  string `json:"dose"`
	Quiet string `json:"quiet" doc:"quiet weeks, and what leads on"`
	Wrong string `json:"wrong" doc:"what going wrong looks like"`
}

// Stages are the stages in words; the figures are those of the ladder and the house rules.
var Stages = []Stage{
	{StageNames[Home], "feeling, no sign, cautions and skin", "5, 10, then 15 min a day, a soft ball under the foot first",
		"a quiet week each", "cramp in the sole, toes that grip, a heel sore in the morning"},
	{StageNames[Walking], "15 one-leg raises, mornings and walking at 2 or below", "10 min a day for a week, then 10 min twice a day",
		"a quiet week, then two", "a calf sore for two days, hot or red skin, a limp"},
	{StageNames[Strength], "ankle bend, big toe, toe control, balance and the bare squat",
		"half of each strength session for two weeks, then all of it; loads dropped and rebuilt week by week", "two quiet weeks, then two",
		"an arch or knee that collapses, toes that grip: less load, or back into the shoe"},
	{StageNames[Bouncing], "20 one-leg raises, and an arch that holds",
		"40, 60, 80, then 100 contacts on grass or a mat, free days between",
		"a quiet week each; then the gait on bare feet", "loud landings, heels that drop, pain on top of the foot"},
	{StageNames[RunWalk], "the bounces, and the minutes of running a week known",
		"at most 5 min a week and 5 % of the running, on firm, smooth ground, over at most two days", "three quiet weeks",
		"a shin or Achilles above usual the next morning; pain on a bone on top of the foot stops it all"},
	{StageNames[Share], "the gait on bare feet looked at again",
		"10 % more a week, at least one and at most five minutes, to the agreed share",
		"a quiet week each", "the same: soreness for two days repeats the week, a bad morning takes it back"},
}

// Aim is what a runner wants of it.
type Aim string

// The aims. Bare feet, a thinner shoe step by step, or bare strength work alone, without bare running.
const (
	BareFeet     Aim = "bare"
	ThinShoe     Aim = "thin"
	StrengthOnly Aim = "strength"
)

// Aims lists them.
var Aims = []Aim{BareFeet, ThinShoe, StrengthOnly}

// Plan is the transition as the coach last wrote it.
type Plan struct {
	On    body.Date `json:"on" doc:"day it began"`
	Aim   Aim       `json:"aim" enum:"bare,thin,strength"`
	Cap   int       `json:"cap" minimum:"1" maximum:"100" doc:"agreed share of the running, %"`
	Shoe  string    `json:"shoe,omitempty" maxLength:"80" doc:"next shoe, under the aim of thinner shoes"`
	From  string    `json:"from,omitempty" maxLength:"80" doc:"shoe it is compared with"`
	Wish  body.Date `json:"wish,omitempty" doc:"day the runner would like to run bare"`
	Start At        `json:"start" doc:"where it began, by what was done before"`
	Ended body.Date `json:"ended,omitempty" doc:"day it was ended"`
	Begun string    `json:"begun,omitempty" doc:"id of the writing that began it; decisions before it are another's"`
	Word  string    `json:"word,omitempty" maxLength:"400"`
}

// Check refuses a plan that cannot be.
func (p Plan) Check(today body.Date) error {
	switch {
	case !slices.Contains(Aims, p.Aim):
		return body.Refuse("aim", "is bare feet, a thinner shoe or strength only")
	case p.Cap < 1 || p.Cap > 100:
		return body.Refuse("cap", "is %d %%; enter 1 to 100", p.Cap)
	case p.Aim == ThinShoe && (p.Shoe == "" || p.From == "" || p.Shoe == p.From):
		return body.Refuse("shoe", "name the shoe worn now and the next one, both from the intake")
	case p.Wish != "" && (!p.Wish.Valid() || p.Wish < p.On || p.Wish.Sub(p.On) > 3*366):
		return body.Refuse("wish", "is a day of the coming three years")
	case !p.On.Valid() || p.On > today:
		return body.Refuse("on", "begins today or earlier")
	case p.Start.Stage < Home || p.Start.Stage > p.Last():
		return body.Refuse("start", "begins at stage 0 to %d", p.Last())
	}
	return nil
}

// InForce reports a plan that goes on.
func (p Plan) InForce() bool { return p.On != "" && p.Ended == "" }

// Last is the last stage that the aim asks for.
func (p Plan) Last() int {
	if p.Aim == StrengthOnly {
		return Strength
	}
	return Share
}

// At is a place in the stages: its step, and in the last two stages the minutes a week.
type At struct {
	Stage   int `json:"stage" minimum:"-1" maximum:"5" doc:"−1: resting"`
	Step    int `json:"step" minimum:"0" maximum:"9"`
	Minutes int `json:"minutes,omitempty" minimum:"0" maximum:"2400" doc:"a week, in run–walk and share"`
}

// Resting is no bare work until quiet days have passed.
var Resting = At{Stage: None}

// Before reports whether a place is earlier than another.
func (a At) Before(b At) bool {
	switch {
	case a.Stage != b.Stage:
		return a.Stage < b.Stage
	case a.Step != b.Step:
		return a.Step < b.Step
	}
	return a.Minutes < b.Minutes
}

func lower(a, b At) At {
	if b.Before(a) {
		return b
	}
	return a
}

// Dose is what a place asks for.
type Dose struct {
	Minutes  int    `json:"minutes" doc:"of one go, or a week in run–walk and share"`
	Times    int    `json:"times" doc:"goes a day"`
	Weekly   bool   `json:"weekly" doc:"the minutes are a week's"`
	Contacts int    `json:"contacts" doc:"of both feet, a session"`
	Days     int    `json:"days" doc:"at most so many days a week"`
	Part     string `json:"part" enum:",half,all" doc:"of the strength session"`
	Quiet    int    `json:"quiet" doc:"quiet weeks before the next"`
	Words    string `json:"words"`
}

// ladder are the steps of the stages up to the bounces.
var ladder = [][]Dose{
	Home: {{Minutes: 5, Times: 1, Days: 7, Quiet: 1}, {Minutes: 10, Times: 1, Days: 7, Quiet: 1},
		{Minutes: 15, Times: 1, Days: 7, Quiet: 1}},
	Walking:  {{Minutes: 10, Times: 1, Days: 7, Quiet: 1}, {Minutes: 10, Times: 2, Days: 7, Quiet: 2}},
	Strength: {{Part: "half", Times: 1, Days: 7, Quiet: 2}, {Part: "all", Times: 1, Days: 7, Quiet: 2}},
	Bouncing: {{Contacts: 40, Times: 1, Days: 3, Quiet: 1}, {Contacts: 60, Times: 1, Days: 3, Quiet: 1},
		{Contacts: 80, Times: 1, Days: 3, Quiet: 1}, {Contacts: 100, Times: 1, Days: 3, Quiet: 1}},
}

// Steps are the steps of each stage before the running, in a few words.
func Steps() [][]string {
	out := make([][]string, len(ladder))
	for i, stage := range ladder {
		for _, d := range stage {
			out[i] = append(out[i], d.short())
		}
	}
	return out
}

// short is a step in a few words.
func (d Dose) short() string {
	switch {
	case d.Part == "half":
		return "first half of the session"
	case d.Part == "all":
		return "whole session"
	case d.Contacts > 0:
		return fmt.Sprintf("%d contacts", d.Contacts)
	case d.Times > 1:
		return fmt.Sprintf("%d min twice a day", d.Minutes)
	}
	return fmt.Sprintf("%d min a day", d.Minutes)
}

// Dose is what a place asks for, in words too.
func (a At) Dose() Dose {
	if a.Stage == None {
		return Dose{Words: "rest"}
	}
	d := Dose{Minutes: a.Minutes, Times: 1, Weekly: true, Days: 2, Quiet: 1}
	if a.Stage < RunWalk {
		d = ladder[a.Stage][min(a.Step, len(ladder[a.Stage])-1)]
	} else if a.Stage == RunWalk {
		d.Quiet = 3
	}
	switch a.Stage {
	case Home:
		d.Words = fmt.Sprintf("%d min a day at home", d.Minutes)
	case Walking:
		d.Words = fmt.Sprintf("walk %d min a day", d.Minutes)
		if d.Times > 1 {
			d.Words = fmt.Sprintf("walk %d min twice a day", d.Minutes)
		}
	case Strength:
		d.Words = "the first half of each strength session"
		if d.Part == "all" {
			d.Words = "the whole strength session"
		}
	case Bouncing:
		d.Words = fmt.Sprintf("%d contacts on grass or a mat, up to three days a week", d.Contacts)
	case RunWalk:
		d.Words = fmt.Sprintf("run–walk, %d min a week in all, over at most two days", d.Minutes)
	case Share:
		d.Words = fmt.Sprintf("%d min of the easy running a week, over at most two days", d.Minutes)
	}
	return d
}

// Weekly is the median of the minutes of running of the four weeks before the week of a day: as they were run where that was told,
// else as planned. 0 where nothing is known.
func Weekly(weeks []load.Week, on body.Date) int {
	last := []float64{}
	for _, w := range weeks {
		if n := on.Monday().Sub(w.From); n < 7 || n > 28 {
			continue
		}
		minutes := w.Planned
		if w.Known {
			minutes = w.Ran
		}
		last = append(last, float64(minutes))
	}
	if len(last) == 0 {
		return 0
	}
	return int(stats.Median(last))
}

// growth is what stages 4 and 5 are reckoned by.
type growth struct {
	plan   Plan
	weekly int // minutes of running a week
	h      house.Rules
}

// first is the first week of run–walk: at most five minutes, at most 5 % of the running, at least one minute.
func (g growth) first() int {
	return max(1, min(g.h.Int("barefoot.first"), g.weekly*g.h.Int("barefoot.first.share")/100))
}

// most is the agreed share in minutes a week.
func (g growth) most() int { return max(1, g.weekly*g.plan.Cap/100) }

// grown is the next week of the share: 10 % more, at least one minute and at most five; in a thinner shoe up to ten points of the
// running more. Never more than the agreed share.
func (g growth) grown(minutes int) int {
	by := min(g.h.Int("barefoot.grow.most"), max(1, minutes*g.h.Int("barefoot.grow")/100))
	if g.plan.Aim == ThinShoe {
		by = max(1, g.weekly*g.h.Int("barefoot.grow.shoe")/100)
	}
	return min(minutes+by, g.most())
}

// Next is the next place, within the aim and the agreed share; ok is false at the end.
func (g growth) next(a At) (At, bool) {
	switch {
	case a.Stage == None:
		return At{}, true
	case a.Stage < RunWalk && a.Step+1 < len(ladder[a.Stage]):
		return At{Stage: a.Stage, Step: a.Step + 1}, true
	case a.Stage >= g.plan.Last() && a.Stage < Share:
		return a, false
	case a.Stage < Bouncing:
		return At{Stage: a.Stage + 1}, true
	case a.Stage == Bouncing && g.weekly == 0:
		return a, false
	case a.Stage == Bouncing:
		return At{Stage: RunWalk, Minutes: min(g.first(), g.most())}, true
	}
	n := At{Stage: Share, Minutes: g.grown(a.Minutes)}
	return n, n.Minutes > a.Minutes
}

// back is some steps back: to the step before, in the share to four fifths of the minutes; before the first it rests.
func (g growth) back(a At, steps int) At {
	for range steps {
		switch {
		case a.Stage == None, a.Stage == Home && a.Step == 0:
			a = Resting
		case a.Stage < RunWalk && a.Step > 0:
			a = At{Stage: a.Stage, Step: a.Step - 1}
		case a.Stage <= RunWalk:
			a = top(a.Stage - 1)
		default:
			if m := int(math.Floor(float64(a.Minutes) * g.h.Get("adjust.back.work") / 100)); m >= g.first() {
				a.Minutes = m
			} else {
				a = At{Stage: RunWalk, Minutes: min(a.Minutes, g.first())}
			}
		}
	}
	return a
}

// top is the last step of a stage before run–walk; bottom its first.
func top(stage int) At {
	if stage < Home {
		return Resting
	}
	return At{Stage: stage, Step: len(ladder[stage]) - 1}
}

// within is a place cut to a highest stage.
func (a At) within(stage int) At {
	switch {
	case a.Stage <= stage:
		return a
	case stage >= RunWalk:
		return At{Stage: stage, Minutes: a.Minutes}
	}
	return top(stage)
}

// Loads is the share of the usual load, %, that strength on bare feet begins with and rebuilds by the week.
func Loads(since, today body.Date, h house.Rules) int {
	return min(100, 100-h.Int("barefoot.drop")+h.Int("barefoot.rebuild")*max(0, today.Sub(since)/7))
}
