package room

import (
	"fmt"
	"slices"

	"github.com/google/uuid"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/record"
)

// WhatIf is a week that may come. What it leaves open goes as planned: every session whole and quiet, mornings as usual, the runs
// that stand.
type WhatIf struct {
	Minutes *int        `json:"minutes,omitempty" minimum:"0" maximum:"2400" doc:"of running in the seven days; absent: as planned"`
	Region  body.Region `json:"region,omitempty" doc:"of a morning tomorrow that is not as usual"`
	Side    body.Side   `json:"side,omitempty" enum:",left,right,both"`
	Pain    int         `json:"pain,omitempty" minimum:"0" maximum:"10" doc:"first steps there"`
	Missed  bool        `json:"missed,omitempty" doc:"no session is done"`
}

func (x WhatIf) check() error {
	switch {
	case x.Minutes == nil && x.Region == "" && !x.Missed:
		return body.Refuse("minutes", "change something: the running, a morning, or a missed week")
	case x.Region != "" && (!x.Region.Valid() || !x.Side.Valid()):
		return body.Refuse("region", "needs a place on the map and a side")
	}
	return nil
}

// WhatIfView is what would stand in a week, as planned and otherwise. Nothing of it is stored.
type WhatIfView struct {
	On     body.Date   `json:"on" doc:"day it is looked at: in a week"`
	Volume WhatIfPair  `json:"volume"`
	Lead   WhatIfPair  `json:"lead" doc:"who leads the week after"`
	Rows   []WhatIfRow `json:"rows" doc:"those that differ first"`
}

// WhatIfPair is one answer as planned and one otherwise.
type WhatIfPair struct {
	As   string      `json:"as"`
	Then string      `json:"then"`
	Why  body.Reason `json:"why" doc:"of the other"`
}

// WhatIfRow is a rail and side, as planned and otherwise.
type WhatIfRow struct {
	Rail    string         `json:"rail" doc:"name"`
	Side    body.Side      `json:"side"`
	As      adjust.Verdict `json:"as"`
	AsText  string         `json:"asText"`
	Then    adjust.Verdict `json:"then"`
	Text    string         `json:"text"`
	Differs bool           `json:"differs"`
	Why     body.Reason    `json:"why"`
}

// WhatIfRoom looks a week ahead.
func WhatIfRoom(x WhatIf) Room[WhatIfView] {
	return Room[WhatIfView]{record.NeedProposals, func(o Chart) (WhatIfView, error) {
		if err := x.check(); err != nil {
			return WhatIfView{}, err
		}
		return o.whatIf(x), nil
	}}
}

func (o Chart) whatIf(x WhatIf) WhatIfView {
	as, then := o.inAWeek(WhatIf{}), o.inAWeek(x)
	v := WhatIfView{On: then.Today, Rows: []WhatIfRow{}}
	a, b := as.Volume(), then.Volume()
	v.Volume = WhatIfPair{string(a.State), string(b.State), b.Reason}
	l, m := as.lead(), then.lead()
	v.Lead = WhatIfPair{l.Dial.Name(), m.Dial.Name(), m.Why}
	if m.Dial == "" {
		v.Lead.Why = o.House.Because("load.dial", "without a programme nothing leads")
	}
	for _, p := range then.Proposals() {
		q := as.proposal(p.From)
		row := WhatIfRow{Rail: o.railName(p.Rail), Side: p.Side, As: q.Verdict, AsText: q.To.Text(), Then: p.Verdict, Text: p.To.Text(),
			Differs: q.Verdict != p.Verdict || q.To.Text() != p.To.Text()}
		if len(p.Fired) > 0 {
			row.Why = p.Fired[0].Reason
		}
		v.Rows = append(v.Rows, row)
	}
	slices.SortStableFunc(v.Rows, func(a, b WhatIfRow) int {
		switch {
		case a.Differs == b.Differs:
			return 0
		case a.Differs:
			return -1
		}
		return 1
	})
	return v
}

// inAWeek is the chart as it would stand in a week.
func (o Chart) inAWeek(x WhatIf) Chart {
	reports := *o.Reports
	reports.Logs, reports.Mornings, reports.Runs = slices.Clone(o.Logs), slices.Clone(o.Mornings), slices.Clone(o.Runs)
	c := o
	c.Reports, c.memo = &reports, newMemo()
	seq := int64(1) << 40 // after everything that was told
	next := func() int64 { seq++; return seq }
	name := func(what string, i int) string {
		return uuid.NewSHA1(uuid.Nil, fmt.Appendf(nil, "%s %d", what, i)).String()
	}
	planned := 0
	for i := 1; i <= 7; i++ {
		if _, fixed := o.Facts().RunOn(o.Today.Add(i)); fixed != nil {
			planned += fixed.Minutes
		}
	}
	usual := build.NewUsuals(o.Profile, o.Mornings, o.Usual)
	for i := 1; i <= 7; i++ {
		day := o.Today.Add(i)
		for _, w := range o.Watched() {
			for _, leg := range body.Sides {
				if w.Side.Touches(leg) {
					c.Mornings = append(c.Mornings, build.Morning{ID: name("morning", len(c.Mornings)), On: day, Region: w.Region, Side: leg,
						Pain: int(usual.Of(w.Region, leg).At(day)), Seq: next()})
				}
			}
		}
		if x.Region != "" && i == 1 {
			c.Mornings = append(c.Mornings, build.Morning{ID: name("told", 0), On: day, Region: x.Region, Side: x.Side, Pain: x.Pain, Seq: next()})
		}
		if !x.Missed {
			c.Logs = append(c.Logs, o.doneWhole(day, next)...)
		}
		minutes := 0.
		_, fixed := o.Facts().RunOn(day)
		switch {
		case fixed != nil && x.Minutes != nil:
			minutes = float64(*x.Minutes) * float64(fixed.Minutes) / float64(max(1, planned))
		case fixed != nil:
			minutes = float64(fixed.Minutes)
		case planned == 0 && x.Minutes != nil && i%2 == 0: // no run stands: three of them
			minutes = float64(*x.Minutes) / 3
		}
		if minutes >= 1 {
			c.Runs = append(c.Runs, load.Run{ID: name("run", i), On: day, Minutes: minutes, RPE: 4, Seq: next()})
		}
	}
	if planned == 0 && (x.Minutes == nil || *x.Minutes == 0) {
		c.Runs = append(c.Runs, load.Run{ID: name("word", 0), On: o.Today.Add(7), RPE: -1, Word: load.None, Seq: next()})
	}
	c.Today = o.Today.Add(7)
	return c
}

// doneWhole is the session of a day as if all of it was done, quietly and with some in reserve.
func (o Chart) doneWhole(day body.Date, next func() int64) []adjust.Log {
	out := []adjust.Log{}
	for _, it := range o.training(day).items {
		for _, s := range it.sides {
			for _, p := range s.prescriptions {
				p.Dose = s.dose
				done := make([]int, p.Dose.TotalSets())
				for i := range done {
					done[i] = p.Dose.Amount()
				}
				out = append(out, adjust.Log{ID: fmt.Sprint(day, p.ID), On: day, Prescription: p, Done: done, Times: p.Dose.Times(), RPE: 7,
					Faults: []string{}, Source: "coach", Seq: next()})
			}
		}
	}
	return out
}
