package screen

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// The kinds of screen.
const (
	CoreScreen = "core"    // the short one: the core measures of the coach's stations
	FullScreen = "full"    // everything
	Retest     = "retest"  // only what is due, taken the same way as last time
	GaitScreen = "gait"    // the gait alone, by eye and from clips
	Session    = "session" // walks and one range test before and after a session
)

// Kinds lists them.
var Kinds = []string{CoreScreen, FullScreen, GaitScreen, Retest, Session}

// CoreStations are the stations of the core screen until the practice chooses its own.
var CoreStations = []string{"feet", "walks", "gait", "ankle", "big_toe", "toe_control", "balance", "squat", "raises"}

// InRunningOrder returns the measures' ids in running order, unknown ones left out.
func InRunningOrder(ids []string) []string {
	out := []string{}
	for _, s := range Stations {
		for _, m := range s.Measures {
			if slices.Contains(ids, m) {
				out = append(out, m)
			}
		}
	}
	return out
}

// Plan lists the measures a screen asks for. stations are the coach's choice for a core screen; due
// are the measures a retest owes.
func Plan(kind string, stations, due []string) []string {
	var out []string
	for _, m := range Measures {
		switch kind {
		case CoreScreen:
			if m.Core && slices.Contains(stations, m.Station) {
				out = append(out, m.ID)
			}
		case Retest:
			if slices.Contains(due, m.ID) {
				out = append(out, m.ID)
			}
		case GaitScreen:
			if m.Station == "gait" && m.Tool != "clip" {
				out = append(out, m.ID)
			}
		case Session:
			if m.Station == "walks" || m.ID == body.AnkleKneeToWall {
				out = append(out, m.ID)
			}
		default:
			if m.Tool != "clip" {
				out = append(out, m.ID)
			}
		}
	}
	return InRunningOrder(out)
}

// Minutes is how long the measures take, rests included, in whole minutes.
func Minutes(measures []string) int {
	s := 0
	for _, id := range measures {
		m, _ := FindMeasure(id)
		s += m.Seconds
	}
	return (s + 59) / 60
}

// Most is how many minutes a kind of screen should not exceed; 0 for no limit.
func Most(kind string, h house.Rules) int {
	if kind == CoreScreen {
		return h.Int("screen.core.minutes")
	}
	return 0
}

// Due is one measure that is to be taken again.
type Due struct {
	Measure string      `json:"measure"`
	Name    string      `json:"name"`
	Last    body.Date   `json:"last"`
	On      body.Date   `json:"on" doc:"day it falls due"`
	Again   bool        `json:"again,omitempty" doc:"a borderline value, measured again sooner than its interval"`
	Reason  body.Reason `json:"reason"`
}

// DueOn lists what a retest owes on a day: borderline values at once, efforts to the end after some
// days, the others after the interval, strength after its own. last is the newest day each measure was taken on.
func DueOn(last map[string]body.Date, findings []Finding, today body.Date, h house.Rules) []Due {
	out := []Due{}
	for _, m := range Measures {
		on, taken := last[m.ID]
		if !taken {
			continue
		}
		key := "retest.days"
		if m.Strength {
			key = "retest.strength.days"
		}
		d := Due{Measure: m.ID, Name: m.Name, Last: on, On: on.Add(h.Int(key)),
			Reason: h.Because("retest.due", "due after the interval", key).SeeOn(on, "last taken", "%d days ago", today.Sub(on))}
		for _, f := range findings {
			again := on.Add(1)
			if m.Strength { // an effort to the end is not repeated the next day
				again = on.Add(h.Int("retest.borderline.days"))
			}
			if f.Measure == m.ID && f.Verdict == Borderline && again <= today && f.Limiter != "side_difference" {
				d.On = today
				d.Again = true
				d.Reason = h.Because("retest.borderline", "borderline: measured again before acting").SeeOn(on, f.Name+", "+string(f.Side), "%s",
					f.Shown())
			}
		}
		if d.On <= today {
			out = append(out, d)
		}
	}
	return out
}
