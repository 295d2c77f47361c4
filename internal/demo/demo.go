// Package demo loads the made-up club: made-up raw inputs, every finding, dose and decision from the
// real core, so that the demo always agrees with the rules. Dates are relative to the day it is
// loaded.
package demo

import (
	"context"
	"errors"
	"fmt"
	"math"
	"time"

	"notchback/internal/api"
	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/core/screen"
	"notchback/internal/job"
	"notchback/internal/store"
)

// Load loads the club unless it is there already.
func Load(ctx context.Context, desk *job.Desk) (bool, error) {
	if _, err := desk.Store.Account(ctx, Email); err == nil {
		return false, nil
	} else if !errors.Is(err, store.ErrNotFound) {
		return false, err
	}
	id, maren, err := desk.Store.CreatePractice(ctx, practice, coach, Email)
	if err != nil {
		return false, err
	}
	a := job.Actor{Practice: id, Coach: maren}
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return false, fmt.Errorf("time zone %s: %w", zone, err)
	}
	now := desk.Now().In(loc)
	errs := make(chan error, len(members))
	for _, m := range members {
		go func() {
			err := desk.Store.In(ctx, id, func(tx *store.Tx) error { return m.live(ctx, tx, desk.Store, a, now) })
			if err != nil {
				err = fmt.Errorf("%s: %w", m.name, err)
			}
			errs <- err
		}()
	}
	for range members {
		err = errors.Join(err, <-errs)
	}
	if err != nil {
		return false, err
	}
	// The sign-in comes last: it marks a club that loaded whole.
	return true, desk.Store.In(ctx, id, func(tx *store.Tx) error {
		if _, err := tx.AddCoach(ctx, second, "joss@tidegate.example"); err != nil {
			return err
		}
		_, err := tx.SetPassword(ctx, maren, api.HashPassword(Password))
		return err
	})
}

func (m member) profile() body.Profile {
	p := body.NewProfile()
	p.BirthDate, p.HeightCm, p.MassKg, p.LegMm, p.FootMm, p.BigToeMm = m.born, 174, 68, 880, 262, 60
	p.MinutesByDay = []int{20, 15, 20, 15, 20, 20, 15}
	p.Equipment = body.Equipment{DumbbellsKg: []float64{2, 4, 6, 8}, StepCm: 18, PlatesMm: []float64{2, 5, 10, 20}, Strap: true, Roll: true}
	m.set(&p)
	return p
}

// live plays the runner's months day by day.
func (m member) live(ctx context.Context, tx *store.Tx, s *store.Store, a job.Actor, now time.Time) error {
	start := m.start
	if start == 0 {
		start = 112
	}
	day := now
	desk := &job.Desk{Store: s, Now: func() time.Time { return day }}
	runner := store.NewID()
	if err := tx.AddRunner(ctx, runner, m.name, zone, m.profile(), a.Coach); err != nil {
		return err
	}
	if m.unscreen {
		return nil
	}
	sessions := 0
	var o job.Open
	for ago := start; ago >= 0; ago-- {
		day = now.AddDate(0, 0, -ago)
		today := body.DateOf(day)
		if visit := start - ago; visit == 0 || (m.retests && visit%28 == 0 && ago > 3) {
			if err := m.visit(ctx, tx, desk, a, runner, today, visit/28); err != nil {
				return err
			}
			o = job.Open{}
		}
		if ago < m.silent {
			continue
		}
		if err := m.report(ctx, tx, runner, today, ago); err != nil {
			return err
		}
		if ago == 0 {
			break // today's session is still to come
		}
		if o.Today == "" { // what is prescribed changes only with a visit or a decision
			var err error
			if o, err = desk.Load(ctx, tx, runner); err != nil {
				return err
			}
		}
		sessions++
		if m.skip == 0 || sessions%m.skip != 0 {
			if err := m.train(ctx, tx, o, today, ago); err != nil {
				return err
			}
		}
		if ago > m.decideTo && (start-ago)%3 == 2 {
			if err := decide(ctx, tx, desk, a, runner); err != nil {
				return err
			}
			o = job.Open{}
		}
	}
	if m.stop != nil {
		stop := *m.stop
		stop.ID, stop.On = store.NewID(), body.DateOf(now).Add(-1)
		return tx.AddStop(ctx, runner, stop)
	}
	return nil
}

// visit is a screen and the programme built from it.
func (m member) visit(ctx context.Context, tx *store.Tx, desk *job.Desk, a job.Actor, runner string, today body.Date, nth int) error {
	id := store.NewID()
	if err := tx.AddScreen(ctx, runner, id, today); err != nil {
		return err
	}
	add := func(measure string, side int, first, gain [2]float64, stop string) error {
		t := screen.Trial{ID: store.NewID(), Measure: measure, Side: body.Sides[side], Value: first[side] + gain[side]*float64(min(nth, 3)), Stop: stop, On: today}
		n := 1
		if measure == "ankle.knee_to_wall" {
			n = 3
		}
		for i := range n {
			x := t
			x.ID = store.NewID()
			if n == 3 {
				x.Value = math.Round((t.Value+0.5*float64(i-1))*2) / 2
				if m.first.lift && i == 2 && nth == 0 && side == 0 {
					x.Value, x.Faults = x.Value+2, []string{"heel_lifts"}
				}
			}
			if err := screen.CheckTrial(x, i, m.profile().BigToeMm); err != nil {
				return err
			}
			if err := tx.AddTrial(ctx, id, x); err != nil {
				return err
			}
		}
		return nil
	}
	for side := range 2 {
		stop := m.first.stop
		if nth > 0 && stop == screen.StopCeiling && m.name != "Pip Sandal" {
			stop = "height"
		}
		for _, e := range []error{
			add("ankle.knee_to_wall", side, m.first.ankle, m.gain.ankle, ""),
			add("toe.active_height", side, m.first.active, m.gain.active, ""),
			add("toe.passive_height", side, m.first.passive, m.gain.passive, ""),
			add("calf.raises_straight", side, m.first.raises, m.gain.raises, stop),
		} {
			if e != nil {
				return e
			}
		}
	}
	if err := tx.FinishScreen(ctx, runner, id); err != nil {
		return err
	}
	o, err := desk.Load(ctx, tx, runner)
	if err != nil {
		return err
	}
	return o.BuildIn(ctx, tx, a, store.NewID(), nil, nil)
}

// report is the morning mark and the day's run.
func (m member) report(ctx context.Context, tx *store.Tx, runner string, today body.Date, ago int) error {
	p := m.profile()
	pain := level(0)
	if m.morning != nil {
		pain = m.morning
	}
	for _, w := range build.Watched(p) {
		n := 0
		for _, s := range p.Symptoms {
			if s.Region == w.Region && s.Side.Touches(w.Side) {
				n = pain(ago)
			}
		}
		if err := tx.AddMorning(ctx, runner, build.Morning{ID: store.NewID(), On: today, Region: w.Region, Side: w.Side, Pain: n}, "phone"); err != nil {
			return err
		}
	}
	if ago == 0 {
		return nil
	}
	more := 1.0
	if m.runMore != nil {
		more = m.runMore(ago)
	}
	for _, r := range p.Runs {
		if r.Weekday != today.Sub(today.Monday()) {
			continue
		}
		minutes := math.Round(float64(r.Minutes) * more)
		if err := tx.AddRun(ctx, runner, load.Run{ID: store.NewID(), On: today, Minutes: minutes, Km: math.Round(minutes/5.7*10) / 10, RPE: 4}, "phone"); err != nil {
			return err
		}
	}
	return nil
}

// train logs the day's session as it was prescribed.
func (m member) train(ctx context.Context, tx *store.Tx, o job.Open, today body.Date, ago int) error {
	pain, rpe := level(0), level(7)
	if m.pain != nil {
		pain = m.pain
	}
	if m.rpe != nil {
		rpe = m.rpe
	}
	for _, d := range o.Days {
		if d.On != today {
			continue
		}
		for _, p := range o.Prescriptions {
			if p.Rail != d.Rail || p.Parked {
				continue
			}
			done := make([]int, p.Dose.TotalSets())
			for i := range done {
				done[i] = p.Dose.Amount()
			}
			l := adjust.Log{ID: store.NewID(), On: today, Prescription: p, Done: done, RPE: rpe(ago), Pain: pain(ago), Source: "phone"}
			if err := tx.AddLog(ctx, o.ID, l, ""); err != nil {
				return err
			}
		}
	}
	return nil
}

// decide accepts what the core proposes, as the coach did.
func decide(ctx context.Context, tx *store.Tx, desk *job.Desk, a job.Actor, runner string) error {
	o, err := desk.Load(ctx, tx, runner)
	if err != nil {
		return err
	}
	for _, p := range o.Proposals() {
		if !p.News || p.Verdict == adjust.Pending || (p.Verdict == adjust.Hold && p.Fired[0].Reason.Rule == "adjust.two-clean") {
			continue
		}
		if err := o.DecideIn(ctx, tx, a, store.NewID(), job.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.From.ID, Verdict: p.Verdict}); err != nil {
			return err
		}
	}
	return nil
}
