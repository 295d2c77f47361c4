// Package room is where the job is done, one file per room: each says which parts of a runner's record it needs, what
// it shows of them, and what may be done there. It joins the store and the core; no threshold and no arithmetic
// lives here.
package room

import (
	"context"
	"sync"
	"time"

	"notchback/internal/core/body"
	"notchback/internal/record"
	"notchback/internal/store"
)

// history is how far back a chart reaches, in days.
const history = 90

// Desk does the coach's work on one store. Now is the only clock. Background, where there is one, keeps what stands of
// the runners up to date.
type Desk struct {
	Store      *store.Store
	Now        func() time.Time
	Background *Background
	Patience   time.Duration // how long a page waits for what is being computed before it says so; 0: patience

	failed sync.Map   // runner → failure
	asking sync.Mutex // held while what a phone without signal goes by is worked out
}

// Actor is who acts, in which practice.
type Actor struct {
	Practice, Coach, Name string
	Owner                 bool
}

// Room is one page of a runner: the parts of the record it needs, and what it shows of them.
type Room[V any] struct {
	Needs record.Need
	Show  func(Chart) (V, error)
}

// Look shows a room as it stands.
func (r Room[V]) Look(ctx context.Context, d *Desk, a Actor, runner string) (v V, err error) {
	err = d.Read(ctx, a, runner, r.Needs, func(_ *store.Tx, o Chart) error {
		v, err = r.Show(o)
		return err
	})
	return v, err
}

// always shows what never fails.
func always[V any](show func(Chart) V) func(Chart) (V, error) {
	return func(o Chart) (V, error) { return show(o), nil }
}

// Read runs f on the parts of a runner it needs, on one snapshot; nothing can be written.
func (d *Desk) Read(ctx context.Context, a Actor, runner string, need record.Need, f func(*store.Tx, Chart) error) error {
	return d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		o, err := d.Load(ctx, tx, runner, need)
		if err != nil {
			return err
		}
		return f(tx, o)
	})
}

// Change runs f on the parts of a runner it needs while nobody else changes that runner.
func (d *Desk) Change(ctx context.Context, a Actor, runner string, need record.Need, f func(*store.Tx, Chart) error) error {
	return d.Touch(ctx, a, runner, func(tx *store.Tx) error {
		o, err := d.Load(ctx, tx, runner, need)
		if err != nil {
			return err
		}
		return f(tx, o)
	})
}

// Touch is a change that needs nothing of the record.
func (d *Desk) Touch(ctx context.Context, a Actor, runner string, f func(*store.Tx) error) error {
	err := d.Store.Change(ctx, a.Practice, runner, f)
	if err == nil {
		d.changed(a.Practice, runner)
	}
	return err
}

// Load reads parts of a runner inside a transaction.
func (d *Desk) Load(ctx context.Context, tx *store.Tx, runner string, need record.Need) (Chart, error) {
	r, h, err := tx.Record(ctx, runner, d.since(), need)
	if err != nil {
		return Chart{}, err
	}
	return NewChart(r, rulesOf(h), d.day(r.Timezone)), nil
}

// Chart reads the whole record of a runner.
func (d *Desk) Chart(ctx context.Context, a Actor, runner string) (o Chart, err error) {
	err = d.Read(ctx, a, runner, record.NeedAll, func(_ *store.Tx, x Chart) error { o = x; return nil })
	return o, err
}

// day is today where the runner is.
func (d *Desk) day(zone string) body.Date { return body.DateOf(d.Now().In(location(zone))) }

var locations sync.Map // by name: each is read from the zones' file once

// location is a time zone; an unknown one is UTC.
func location(zone string) *time.Location {
	if known, ok := locations.Load(zone); ok {
		return known.(*time.Location)
	}
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return time.UTC
	}
	locations.Store(zone, loc)
	return loc
}

func (d *Desk) since() body.Date { return body.DateOf(d.Now().UTC()).Add(-history) }

// All reads the whole record of every runner of the practice, by name.
func (d *Desk) All(ctx context.Context, a Actor, archived bool) (out []Chart, err error) {
	err = d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		out, err = d.everyone(ctx, tx, archived, record.NeedAll)
		return err
	})
	return out, err
}

// State names a runner's record as it stands: it changes with everything of the runner, the rules, the day or the code.
func (d *Desk) State(ctx context.Context, a Actor, runner string) (string, error) {
	o, err := d.person(ctx, a, runner)
	return o.state(), err
}

// person reads who the runner is.
func (d *Desk) person(ctx context.Context, a Actor, runner string) (o Chart, err error) {
	err = d.Read(ctx, a, runner, 0, func(_ *store.Tx, x Chart) error { o = x; return nil })
	return o, err
}
