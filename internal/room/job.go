// Package job joins the store and the core, one file per room: it loads a runner's chart, asks the
// core, and stores what was decided. No threshold and no arithmetic lives here.
package room

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
	"notchback/internal/store"
)

// history is how far back a chart reaches, in days.
const history = 90

// Desk does the coach's work on one store. Now is the only clock.
type Desk struct {
	Store *store.Store
	Now   func() time.Time
}

// Actor is who acts, in which practice.
type Actor struct{ Practice, Coach string }

// Open is a chart with the day it is read on, in the runner's zone, and the house rules in force.
type Open struct {
	store.Chart
	Today     body.Date
	House     house.Rules
	Own       []catalog.Rail // what the practice added to or changed in the catalogue
	Catalogue catalog.Catalogue
	Dropped   []string // approaches chosen before that are not offered any more

	memo *memo
}

// rules is what holds for every runner of a practice.
type rules struct {
	house house.Rules
	own   []catalog.Rail
	cat   catalog.Catalogue
}

func practiceRules(ctx context.Context, tx *store.Tx) (rules, error) {
	h, err := tx.Rules(ctx)
	if err != nil {
		return rules{}, err
	}
	kept, err := tx.OwnRails(ctx)
	if err != nil {
		return rules{}, err
	}
	r := rules{house: h, own: []catalog.Rail{}}
	for _, o := range kept {
		if o.Rail != nil {
			r.own = append(r.own, *o.Rail)
		}
	}
	r.cat = catalog.Shipped.With(r.own)
	return r, nil
}

func (d *Desk) day(zone string) body.Date {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		loc = time.UTC
	}
	return body.DateOf(d.Now().In(loc))
}

// tidy fills what older profiles may lack, so that no list is null.
func (d *Desk) tidy(c store.Chart, r rules) Open {
	c.Profile = c.Profile.Normalise()
	var dropped []string
	c.Profile.Approaches, dropped = house.Known(c.Profile.Approaches)
	// A screen put away before anything was entered never was.
	c.Screens = slices.DeleteFunc(c.Screens, func(s store.Screen) bool { return s.Finished && len(s.Trials) == 0 })
	if c.Profile.AskedOn == "" {
		c.Profile.AskedOn = c.Created
	}
	c = moved{cat: r.cat}.chart(c)
	c.Prescriptions = adjust.Joint(r.cat, c.Prescriptions, c.Profile.MassKg)
	c.Logs = adjust.Corrected(c.Logs)
	for i, p := range c.Prescriptions {
		c.Prescriptions[i].Name = r.cat.NameOf(p.Rail, p.Exercise)
	}
	if c.Programme != nil {
		c.Programme.Plan = c.Programme.Plan.Normalise(r.cat)
	}
	for i := range c.Weeks {
		c.Weeks[i].Week = c.Weeks[i].Week.Normalise(r.cat)
	}
	for i, l := range c.Logs {
		c.Logs[i].Prescription.Name = r.cat.NameOf(l.Prescription.Rail, l.Prescription.Exercise)
	}
	return Open{c, d.day(c.Timezone), r.house, r.own, r.cat, dropped, &memo{limits: map[body.Side]catalog.Limits{}}}
}

func (d *Desk) since() body.Date { return body.DateOf(d.Now().UTC()).Add(-history) }

// Load reads a runner inside a transaction.
func (d *Desk) Load(ctx context.Context, tx *store.Tx, runner string) (Open, error) {
	c, err := tx.Chart(ctx, runner, d.since())
	if err != nil {
		return Open{}, err
	}
	r, err := practiceRules(ctx, tx)
	if err != nil {
		return Open{}, err
	}
	return d.tidy(c, r), nil
}

// With loads a runner and runs f in the same transaction.
func (d *Desk) With(ctx context.Context, a Actor, runner string, f func(*store.Tx, Open) error) error {
	return d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		o, err := d.Load(ctx, tx, runner)
		if err != nil {
			return err
		}
		return f(tx, o)
	})
}

// Open loads a runner.
func (d *Desk) Open(ctx context.Context, a Actor, runner string) (o Open, err error) {
	err = d.With(ctx, a, runner, func(_ *store.Tx, x Open) error { o = x; return nil })
	return o, err
}

// All loads every runner of the practice.
func (d *Desk) All(ctx context.Context, a Actor, archived bool) (out []Open, err error) {
	err = d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		cs, err := tx.Charts(ctx, archived, d.since())
		if err != nil {
			return err
		}
		r, err := practiceRules(ctx, tx)
		if err != nil {
			return err
		}
		for _, c := range cs {
			out = append(out, d.tidy(c, r))
		}
		return nil
	})
	return out, err
}

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
	return d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		if in.Version == 0 {
			return tx.AddRunner(ctx, id, in.Name, in.Timezone, p.Dated(body.NewProfile(), today), a.Coach)
		}
		c, err := tx.Chart(ctx, id, d.since())
		if err != nil {
			return err
		}
		p = p.Dated(c.Profile, today)
		return tx.EditRunner(ctx, id, in.Version, in.Name, in.Timezone, p, a.Coach)
	})
}

func inProfile(err error) error {
	if f, ok := err.(*body.FieldError); ok {
		return &body.FieldError{Field: "profile." + f.Field, Message: f.Message}
	}
	return err
}

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
	return d.With(ctx, a, runner, func(tx *store.Tx, o Open) error {
		if s.On == "" {
			s.On = o.Today
		}
		if !s.On.Valid() || s.On > o.Today || s.On < o.Today.Add(-60) {
			return body.Refuse("on", "must be a day of the last 60, not after today")
		}
		return tx.AddStop(ctx, runner, s)
	})
}

// AnswerSigns stores one asking of all the warning signs.
func (d *Desk) AnswerSigns(ctx context.Context, a Actor, runner string, c refer.Check) error {
	return d.With(ctx, a, runner, func(tx *store.Tx, o Open) error {
		if err := refer.CheckAnswers(c.Denied, o.Stops, o.Profile, o.Today); err != nil {
			return err
		}
		c.On = o.Today
		return tx.AddCheck(ctx, runner, c, a.Coach)
	})
}

// SignsAsked reports whether the warning signs were asked by a coach recently enough to screen today.
func (o Open) SignsAsked() bool {
	for _, c := range o.Checks {
		if c.Source != "phone" && o.Today.Sub(c.On) < o.House.Int("screen.signs.days") {
			return true
		}
	}
	return false
}

// FillIn stores the intake a runner filled in through the private link. It waits for the coach.
func (d *Desk) FillIn(ctx context.Context, a Actor, runner string, f store.Form) error {
	return d.With(ctx, a, runner, func(tx *store.Tx, o Open) error {
		f.Profile = f.Profile.Normalise()
		f.On = o.Today
		if err := f.Profile.Check(o.Today); err != nil {
			return inProfile(err)
		}
		if err := refer.CheckCautions(f.Profile.Cautions); err != nil {
			return inProfile(err)
		}
		// What only the coach sets stays as it is.
		f.Profile.HeavyAllowed, f.Profile.Approaches, f.Profile.GuardianConsent = o.Profile.HeavyAllowed, o.Profile.Approaches, o.Profile.GuardianConsent
		return tx.AddForm(ctx, runner, f)
	})
}

// Clear stores who looked at a stop again, when and with what limits.
func (d *Desk) Clear(ctx context.Context, a Actor, runner, stop string, c refer.Clearance) error {
	return d.With(ctx, a, runner, func(tx *store.Tx, o Open) error {
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
