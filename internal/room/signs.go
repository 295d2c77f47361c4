package room

import (
	"context"
	"fmt"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/store"
)

// RecordStop stores a warning sign answered yes. It locks what it touches from that moment.
func (d *Desk) RecordStop(ctx context.Context, a Actor, runner string, s refer.Stop) error {
	sign, _ := refer.FindSign(s.Sign)
	if s.Region == "" {
		s.Region = sign.Region
	}
	if s.Region == "" {
		s.Region = refer.RegionOf(s.Which)
	}
	if s.Region == "" && s.Source == "phone" {
		s.Region = body.WholePerson // a phone of an earlier release did not ask where: both legs are locked
	}
	if err := refer.CheckStop(s); err != nil {
		return err
	}
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		if s.On == "" || s.Source == "phone" && (s.On > o.Today || s.On < o.Today.Add(-60)) {
			s.On = o.Today // a sign is never turned away for its day: a clock was set wrong, or there was no signal for months
		}
		if !s.On.Valid() || s.On > o.Today || s.On < o.Today.Add(-60) {
			return body.Refuse("on", "must be a day of the last 60, not after today")
		}
		return tx.AddStop(ctx, runner, s)
	})
}

// AnswerSigns stores one asking of all the warning signs.
func (d *Desk) AnswerSigns(ctx context.Context, a Actor, runner string, c refer.Check) error {
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		if err := refer.CheckAnswers(c.Denied, o.Stops, o.Profile, o.Today); err != nil {
			return err
		}
		c.On = o.Today
		return tx.AddCheck(ctx, runner, c, a.Coach)
	})
}

// SignsAsked reports whether the warning signs were asked by a coach recently enough to screen today.
func (o Chart) SignsAsked() bool {
	for _, c := range o.Checks {
		if c.Source != "phone" && o.Today.Sub(c.On) < o.House.Int("screen.signs.days") {
			return true
		}
	}
	return false
}

// Clear stores who looked at a stop again, when and with what limits.
func (d *Desk) Clear(ctx context.Context, a Actor, runner, stop string, c refer.Clearance) error {
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		for _, s := range o.Stops {
			if s.ID == stop {
				if err := refer.CheckClearance(s, c, o.Today); err != nil {
					return err
				}
				return tx.AddClearance(ctx, stop, c, a.Coach)
			}
		}
		return fmt.Errorf("clearing the stop: %w", store.ErrNotFound)
	})
}
