package room

import (
	"context"
	"strings"
	"time"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
	"notchback/internal/record"
	"notchback/internal/store"
)

// Intake is what the intake page sends.
type Intake struct {
	Name     string       `json:"name" minLength:"1" maxLength:"120"`
	Timezone string       `json:"timezone" doc:"IANA time zone, e.g. Atlantic/Faroe"`
	Profile  body.Profile `json:"profile"`
	Version  int          `json:"version" minimum:"0" doc:"version this edit started from; 0 creates the runner"`
}

// SaveIntake creates a runner, or changes one that nobody changed meanwhile (else ErrStale).
func (d *Desk) SaveIntake(ctx context.Context, a Actor, id string, in Intake) error {
	in.Name = strings.TrimSpace(in.Name)
	if in.Name == "" {
		return body.Refuse("name", "is empty; write the runner's name")
	}
	if _, err := time.LoadLocation(in.Timezone); err != nil || in.Timezone == "" {
		return body.Refuse("timezone", "%q is not a time zone; write one such as Atlantic/Faroe", in.Timezone)
	}
	p := in.Profile.Normalise()
	if err := p.Check(d.day(in.Timezone)); err != nil {
		return inProfile(err)
	}
	if err := refer.CheckCautions(p.Cautions); err != nil {
		return inProfile(err)
	}
	if err := house.CheckApproaches(p.Approaches); err != nil {
		return inProfile(err)
	}
	today := d.day(in.Timezone)
	if in.Version == 0 {
		return d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
			return tx.AddRunner(ctx, id, in.Name, in.Timezone, p.Dated(body.NewProfile(), today), a.Coach)
		})
	}
	return d.Change(ctx, a, id, 0, func(tx *store.Tx, o Chart) error {
		p = p.Dated(o.Profile, today)
		return tx.EditRunner(ctx, id, in.Version, in.Name, in.Timezone, p, a.Coach)
	})
}

func inProfile(err error) error {
	if f, ok := err.(*body.FieldError); ok {
		return &body.FieldError{Field: "profile." + f.Field, Message: f.Message}
	}
	return err
}

// FillIn stores the intake a runner filled in through the private link. It waits for the coach.
func (d *Desk) FillIn(ctx context.Context, a Actor, runner string, f record.Form) error {
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		f.Profile = f.Profile.Normalise()
		f.On = o.Today
		if err := f.Profile.Check(o.Today); err != nil {
			return inProfile(err)
		}
		if err := refer.CheckCautions(f.Profile.Cautions); err != nil {
			return inProfile(err)
		}
		// What only the coach sets stays as it is.
		f.Profile.HeavyAllowed, f.Profile.Approaches, f.Profile.GuardianConsent = o.Profile.HeavyAllowed, o.Profile.Approaches,
			o.Profile.GuardianConsent
		return tx.AddForm(ctx, runner, f)
	})
}
