package room

import (
	"fmt"
	"slices"

	"notchback/internal/core"
	"notchback/internal/core/adjust"
	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/store"
)

// Chart is a runner's record with the day it is read on, in the runner's zone, and the rules in force.
type Chart struct {
	record.Record
	Today     body.Date
	House     house.Rules
	Own       []catalog.Rail // what the practice added to or changed in the catalogue
	Catalogue catalog.Catalogue
	Dropped   []string // approaches chosen before that are not offered any more

	rules string // names the rules and rails in force
	memo  *memo
}

// state names the record as it stands: it changes with everything of the runner, the rules, the day or the code.
func (o Chart) state() string {
	return fmt.Sprintf("%d %s %s %s", o.Touched, o.rules, o.Today, core.EngineVersion)
}

// memo keeps what one reading of a chart computes once.
type memo struct {
	calendar  *build.Calendar
	logs      map[string][]adjust.Log // by rail
	watched   []body.Symptom
	trials    []screen.Trial
	pain      *int
	findings  []screen.Finding
	days      map[body.Date]training
	limits    map[body.Side]catalog.Limits
	bounds    func(body.Side) catalog.Limits
	input     *build.Input // of the choices in force
	facts     *permit.Facts
	weeks     []load.Week // of running
	bare      *barefoot.Records
	bareState *barefoot.State
	proposals []adjust.Proposal
	proposed  bool
}

func newMemo() *memo {
	return &memo{limits: map[body.Side]catalog.Limits{}, days: map[body.Date]training{}}
}

// rules is what holds for every runner of a practice.
type rules struct {
	house house.Rules
	own   []catalog.Rail
	cat   catalog.Catalogue
	state string
}

func rulesOf(h store.House) rules {
	r := rules{house: h.Rules, own: []catalog.Rail{}, state: h.State()}
	for _, o := range h.Rails {
		if o.Rail != nil {
			r.own = append(r.own, *o.Rail)
		}
	}
	r.cat = catalog.Shipped.With(r.own)
	return r
}

// NewChart reads a record under the rules in force: what older records lack is filled, so that no list is null, and
// what went elsewhere since it was written is found there.
func NewChart(c record.Record, r rules, today body.Date) Chart {
	c.Profile = c.Profile.Normalise()
	var dropped []string
	c.Profile.Approaches, dropped = house.Known(c.Profile.Approaches)
	if c.Profile.AskedOn == "" {
		c.Profile.AskedOn = c.Created
	}
	c = moved{cat: r.cat}.record(c)
	if c.Tests != nil {
		c.Tests = &record.Tests{Screens: worth(c.Screens)}
	}
	if c.Plan != nil {
		c.Prescriptions = adjust.Joint(r.cat, c.Prescriptions, c.Profile.MassKg)
		for i, p := range c.Prescriptions {
			c.Prescriptions[i].Name = r.cat.NameOf(p.Rail, p.Exercise)
		}
		if c.Programme != nil {
			c.Programme.Plan = c.Programme.Plan.Normalise(r.cat)
		}
		for i := range c.Weeks {
			c.Weeks[i].Week = c.Weeks[i].Week.Normalise(r.cat)
		}
	}
	if c.Reports != nil {
		c.Logs = adjust.Corrected(c.Logs)
		c.Runs = c.Running.Tell(c.Runs, today)
		names := map[[2]string]string{}
		for i := range c.Logs {
			p := &c.Logs[i].Prescription
			key := [2]string{p.Rail, p.Exercise}
			name, known := names[key]
			if !known {
				name = r.cat.NameOf(p.Rail, p.Exercise)
				names[key] = name
			}
			p.Name = name
		}
	}
	return Chart{c, today, r.house, r.own, r.cat, dropped, r.state, newMemo()}
}

// worth are the screens that were: one put away before anything was entered never was.
func worth(screens []record.Screen) []record.Screen {
	return slices.DeleteFunc(slices.Clone(screens), func(s record.Screen) bool { return s.Finished && len(s.Trials) == 0 })
}

// withScreens is the chart as if those screens alone had been taken.
func (o Chart) withScreens(screens []record.Screen) Chart {
	o.Tests = &record.Tests{Screens: screens}
	o.memo = newMemo()
	return o
}
