package room

import (
	"context"
	"fmt"
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/record"
	"notchback/internal/store"
)

// RunDay is one dated day of the way back to running.
type RunDay struct {
	On   body.Date `json:"on"`
	What string    `json:"what"`
}

// WayBack is where a runner stands on the way back to running, with its dated days.
type WayBack struct {
	load.Returning
	Days []RunDay `json:"days" doc:"the next two weeks"`
}

// WayBack is nil when running goes on as ever.
func (o Chart) WayBack() *WayBack {
	b := o.Facts().Back
	if b == nil || !o.Facts().Running() {
		return nil
	}
	out := &WayBack{Returning: *b, Days: []RunDay{}}
	days := b.Days(o.Today, 14)
	for i := range 14 {
		if what, ok := days[o.Today.Add(i)]; ok {
			out.Days = append(out.Days, RunDay{o.Today.Add(i), what})
		}
	}
	return out
}

// RunningWeeks are the weeks of running from eight ago to twelve ahead, and who leads each.
func (o Chart) RunningWeeks() []load.Week { return o.runningWeeks(o.before()) }

func (o Chart) runningWeeks(f permit.Facts) []load.Week {
	if o.memo.weeks == nil {
		o.memo.weeks = o.outlook(f).Weeks()
	}
	return o.memo.weeks
}

// outlook is what the weeks of running are made from.
func (o Chart) outlook(f permit.Facts) load.Outlook {
	most, _ := f.MostRunning()
	out := load.Outlook{Plan: o.Running, Runs: o.Runs, Spans: o.spans(), Profile: o.Profile, Want: map[load.Dial]body.Date{}, Most: most,
		Today: o.Today, House: o.House}
	if o.Programme != nil {
		out.Want = adjust.Wants(o.Catalogue, o.Prescriptions, o.Programme.On)
	}
	if o.Barefoot.InForce() {
		r := barefoot.Records{Plan: o.Barefoot, Moves: o.BareMoves, Weeks: out.Weeks(), Gate: f.Gate(), Today: o.Today, House: o.House}
		r.Allowed, _, _ = f.Bare()
		if since := r.Wants(); since != "" && (out.Want[load.Barefoot] == "" || since < out.Want[load.Barefoot]) {
			out.Want[load.Barefoot] = since
		}
	}
	return out
}

// spans are those of the plan, and the illnesses that were told as warning signs.
func (o Chart) spans() []load.Span {
	out := slices.Clone(o.Running.Spans)
	for _, s := range o.Stops {
		if s.Sign != "ill" {
			continue
		}
		ill := load.Span{ID: s.ID, Kind: load.Illness, From: s.On, Until: o.Today}
		for _, c := range s.Clearances {
			if c.Kind == "healed" {
				ill.Until = min(ill.Until, c.On)
			}
		}
		out = append(out, ill)
	}
	return out
}

// lead is who leads this week. Without a programme and without a transition nobody does.
func (o Chart) lead() load.Lead {
	if o.Programme == nil && !o.Barefoot.InForce() {
		return load.Lead{}
	}
	lead := load.LeadOn(o.RunningWeeks(), o.Today)
	lead.Bare = o.bareMoved(lead.From)
	return lead
}

// leading is lead, nil where nobody does.
func (o Chart) leading() *load.Lead {
	if lead := o.lead(); lead.Dial != "" {
		return &lead
	}
	return nil
}

// heavy reports a decision that came to stand on heavy work.
func (o Chart) heavy(d record.Decision) bool {
	rail, _ := o.Catalogue.Find(d.Rail)
	x, ok := rail.Exercise(d.ToExercise)
	return ok && adjust.Heavy(x)
}

// PlanRunning writes the running planned anew. saw is the id of the plan the coach saw, empty for none; ErrStale when somebody wrote
// another meanwhile. Sent again it is the same.
func (d *Desk) PlanRunning(ctx context.Context, a Actor, runner, id, saw string, p load.Plan) error {
	return d.Change(ctx, a, runner, record.NeedFacts, func(tx *store.Tx, o Chart) error {
		if o.RunningID == id {
			return nil
		}
		if o.RunningID != saw {
			return fmt.Errorf("planning the running: %w", store.ErrStale)
		}
		written, err := p.Written(o.Running, o.RunningWeeks(), o.Today)
		if err != nil {
			return err
		}
		return tx.AddRunning(ctx, runner, id, written, a.Coach)
	})
}

// MiniWeek is one week of the small strip that stands beside a name.
type MiniWeek struct {
	From    body.Date `json:"from" doc:"Monday"`
	Minutes int       `json:"minutes" doc:"run"`
	Morning int       `json:"morning" doc:"worst first steps of the week, 0-10; -1 not told"`
	Down    int       `json:"down" doc:"rails that went back or were parked"`
	Up      int       `json:"up" doc:"rails that moved up"`
}

// mini are the last twelve weeks.
func (o Chart) mini() []MiniWeek {
	const weeks = 12
	first := o.Today.Monday().Add(-7 * (weeks - 1))
	out := make([]MiniWeek, weeks)
	for i := range out {
		out[i] = MiniWeek{From: first.Add(7 * i), Morning: -1}
	}
	at := func(on body.Date) *MiniWeek {
		if n := on.Sub(first); n >= 0 && n < 7*weeks {
			return &out[n/7]
		}
		return &MiniWeek{}
	}
	for _, r := range o.Runs {
		at(r.On).Minutes += int(r.Minutes)
	}
	for _, m := range o.Mornings {
		if w := at(m.On); !m.Quiet {
			w.Morning = max(w.Morning, m.Pain)
		} else {
			w.Morning = max(w.Morning, 0)
		}
	}
	for _, d := range o.Decisions {
		switch d.Verdict {
		case adjust.Up, adjust.Return:
			at(d.On).Up++
		case adjust.Back, adjust.Park:
			at(d.On).Down++
		}
	}
	return out
}

// leadWords is what the runner reads of the week.
func (o Chart) leadWords() string {
	lead := o.lead()
	if lead.Dial == "" {
		return ""
	}
	out := map[load.Dial]string{load.Running: "Running leads this week: it may grow, strength moves a little.",
		load.Strength: "Strength leads this week: running stays as it is.",
		load.Barefoot: "Barefoot, shoe and cadence work leads this week: running stays as it is."}[lead.Dial]
	if lead.Easy {
		out = "A week planned easy: less running, no new bouncing."
	}
	if minutes, ok := o.Facts().Weeks[lead.From]; ok {
		out += fmt.Sprintf(" %d min of running planned.", minutes)
	}
	return out
}
