package room

import (
	"cmp"
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
)

// training is what stands on a day: its entries in session order with the exercises and doses of that
// day, and what may not be done.
type training struct {
	on    body.Date
	items []item
	kept  []keptOut
	race  *build.RaceRule
}

// keptOut is planned for a day and may not be done: its name and the reasons, no dose.
type keptOut struct {
	rail     catalog.Rail
	slot     catalog.Slot
	exercise catalog.Exercise
	side     body.Side
	reasons  []permit.Reason
}

// item is one exercise of a session. Prescriptions of an exercise done on both legs at one dose stand
// together.
type item struct {
	rail     catalog.Rail
	slot     catalog.Slot
	exercise catalog.Exercise
	sides    []itemSide
	notes    []string // what to mind
	then     *follower
}

// follower is the control of a range that was gained, in the same session.
type follower struct {
	rail     catalog.Rail
	exercise catalog.Exercise
	dose     body.Dose
}

// follows writes what follows an item as a runner reads it; empty for nothing.
func (it item) follows() string {
	if it.then == nil {
		return ""
	}
	says := it.then.exercise.Name + ", " + it.then.dose.String()
	switch {
	case !it.then.exercise.EachSide:
		return says
	case len(it.sides) == 1 && it.sides[0].side != body.Both:
		return says + ", " + string(it.sides[0].side)
	}
	return says + " each side"
}

type itemSide struct {
	side          body.Side
	dose          body.Dose
	short         *body.Dose // in the short version; nil when left out of it
	prescriptions []catalog.Prescription
}

// training assembles a day: what is planned for it, open to no warning sign and kept out by no race, in
// session order, the weaker side first.
func (o Chart) training(on body.Date) training {
	if s, ok := o.memo.days[on]; ok {
		return s
	}
	s := training{on: on, race: build.RaceOn(o.Profile, on, o.House)}
	for _, d := range o.Days {
		if d.On != on {
			continue
		}
		if rail, ok := o.Catalogue.Find(d.Rail); ok {
			items, kept := o.items(rail, d.Slot, on)
			s.items, s.kept = append(s.items, items...), append(s.kept, kept...)
		}
	}
	bounceLast := o.House.Choice(o.Profile.Approaches, "session_end") == "bounce"
	slices.SortStableFunc(s.items, func(a, b item) int {
		return cmp.Or(cmp.Compare(slices.Index(catalog.Slots, a.slot), slices.Index(catalog.Slots, b.slot)),
			cmp.Compare(build.Order(a.rail.Part, bounceLast), build.Order(b.rail.Part, bounceLast)),
			cmp.Compare(slices.IndexFunc(o.Catalogue.Rails, func(r catalog.Rail) bool { return r.ID == a.rail.ID }),
				slices.IndexFunc(o.Catalogue.Rails, func(r catalog.Rail) bool { return r.ID == b.rail.ID })))
	})
	o.onBareFeet(s.items)
	o.follow(s.items)
	o.shorten(s.items)
	if o.memo.days == nil {
		o.memo.days = map[body.Date]training{}
	}
	o.memo.days[on] = s
	return s
}

// keepOut says why a row stands still: what takes its exercise away, or what parked it.
func keepOut(rail catalog.Rail, slot catalog.Slot, x catalog.Exercise, row catalog.Prescription, p adjust.Proposal,
	a permit.Answer) keptOut {
	side := row.Side
	if !x.EachSide { // both legs at once, or none
		side = body.Both
	}
	k := keptOut{rail: rail, slot: slot, exercise: x, side: side, reasons: a.Reasons}
	if p.InForce().Parked && a.May() {
		k.reasons = []permit.Reason{}
		for _, f := range p.Fired[:min(1, len(p.Fired))] {
			k.reasons = append(k.reasons, permit.Reason{Reason: f.Reason, Cut: "parked", Sort: permit.Waits, Leg: side,
				Opens: "your coach brings it back"})
		}
	}
	return k
}

// items groups what may be done of a rail by exercise: the sides of one exercise stand together, and two
// legs at one dose are a single line. A protective verdict holds from the moment its report arrived, and
// what may not be done is listed apart, with its reasons.
func (o Chart) items(rail catalog.Rail, slot catalog.Slot, on body.Date) ([]item, []keptOut) {
	out, kept := []item{}, []keptOut{}
	for _, row := range o.Prescriptions {
		if row.Rail != rail.ID {
			continue
		}
		p := o.proposal(row)
		pr := p.InForce()
		x, known := rail.Exercise(pr.Exercise)
		if !known {
			continue
		}
		a := o.limits(pr.Side).Reach(rail, pr.Exercise, pr.Dose).May(rail, x)
		if pr.Parked || !a.May() {
			k := keepOut(rail, slot, x, row, p, a)
			side := k.side
			if !slices.ContainsFunc(kept, func(o keptOut) bool { return o.exercise.ID == x.ID && o.side == side }) {
				kept = append(kept, k)
			}
			continue
		}
		dose, no, note := o.calendar().Judge(o.standing(rail, x, slot, on, pr))
		if no != nil {
			kept = append(kept, keptOut{rail: rail, slot: slot, exercise: x, side: row.Side, reasons: []permit.Reason{*no}})
			continue
		}
		dose = a.Of(dose)
		i := slices.IndexFunc(out, func(it item) bool { return it.exercise.ID == pr.Exercise })
		if i < 0 {
			out = append(out, item{rail: rail.Under(o.approach), slot: slot, exercise: x.Under(o.approach)})
			i = len(out) - 1
		}
		it := &out[i]
		if !x.EachSide && len(it.sides) == 1 && it.sides[0].dose == dose {
			it.sides[0].prescriptions = append(it.sides[0].prescriptions, pr)
			continue
		}
		side := pr.Side
		if !x.EachSide { // both legs at once, or none
			side = body.Both
		}
		it.notes = a.Notes
		if note != "" {
			it.notes = append(slices.Clone(a.Notes), note)
		}
		it.sides = append(it.sides, itemSide{side: side, dose: dose, prescriptions: []catalog.Prescription{pr}})
	}
	for i := range out {
		slices.SortStableFunc(out[i].sides, func(a, b itemSide) int {
			return cmp.Or(cmp.Compare(b.dose.Extra, a.dose.Extra), cmp.Compare(a.dose.Work(1, o.Profile.MassKg), b.dose.Work(1, o.Profile.MassKg)))
		})
	}
	return out, kept
}

// follow gives range exercises their control, where the session holds none of it and every leg may do it.
func (o Chart) follow(items []item) {
	for i := range items {
		it := &items[i]
		beside := []string{}
		for _, x := range items {
			if x.slot == it.slot {
				beside = append(beside, x.rail.ID)
			}
		}
		rail, x, dose, ok := o.Catalogue.Follow(it.exercise, beside, func(r catalog.Rail, x catalog.Exercise) bool {
			for q, options := range r.Only {
				if !slices.Contains(options, o.approach(q)) {
					return false
				}
			}
			return !slices.ContainsFunc(it.sides, func(s itemSide) bool {
				return slices.ContainsFunc(body.Sides, func(leg body.Side) bool { return s.side.Touches(leg) && !o.limits(leg).May(r, x).May() })
			})
		})
		if ok {
			it.then = &follower{rail, x.Under(o.approach), dose}
		}
	}
}

// standing is one prescription on a day, as the calendar judges it.
func (o Chart) standing(rail catalog.Rail, x catalog.Exercise, slot catalog.Slot, on body.Date, p catalog.Prescription) build.Standing {
	s := build.Standing{On: on, Slot: slot, Rail: rail, Exercise: x, Side: p.Side, Dose: p.Dose}
	if rail.Place != nil && rail.Place.By == "raises" {
		s.Best = int(o.limits(p.Side).Values[rail.Place.Measure])
	}
	return s
}

// done are the sessions there were, as the calendar looks at them.
func (o Chart) done(yield func(build.Standing) bool) {
	for i := range o.Logs {
		l := &o.Logs[i]
		rail, _ := o.Catalogue.Find(l.Prescription.Rail)
		if x, ok := rail.Exercise(l.Prescription.Exercise); ok && l.Share() > 0 &&
			!yield(o.standing(rail, x, catalog.Own, l.On, l.Prescription)) {
			return
		}
	}
}

// calendar judges the dated days of the programme.
func (o Chart) calendar() build.Calendar {
	if o.memo.calendar == nil {
		planned := []build.Standing{}
		inForce := []catalog.Prescription{}
		for _, row := range o.Prescriptions {
			inForce = append(inForce, o.proposal(row).InForce())
		}
		for _, d := range o.Days {
			rail, ok := o.Catalogue.Find(d.Rail)
			if !ok || d.On < o.Today {
				continue
			}
			for _, p := range inForce {
				if p.Rail == d.Rail && !p.Parked {
					if x, ok := rail.Exercise(p.Exercise); ok {
						planned = append(planned, o.standing(rail, x, d.Slot, d.On, p))
					}
				}
			}
		}
		c := build.NewCalendar(o.Profile, o.House, o.Today, planned, o.done, o.Running.Spans...)
		o.memo.calendar = &c
	}
	return *o.memo.calendar
}

// shorten marks what the short version of the day keeps. Habits and drills inside a run stay out of it:
// they take no time of their own.
func (o Chart) shorten(items []item) {
	var pieces []build.Piece
	var of []int
	for i, it := range items {
		if it.slot == catalog.Habit || it.slot == catalog.InRun {
			continue
		}
		most := it.sides[0].dose
		pieces = append(pieces, build.Piece{Rail: it.rail.ID, Exercise: it.exercise, Dose: most, Sides: len(it.sides)})
		of = append(of, i)
	}
	for n, d := range build.Short(pieces, o.Profile, o.House) {
		it := &items[of[n]]
		for k := range it.sides {
			short := d
			if less := it.sides[k].dose; less.Work(0, 0) < short.Work(0, 0) {
				short = less
				short.Extra = 0
			}
			it.sides[k].short = &short
		}
	}
}

// seconds is what the items take of the day.
func (s training) seconds() int {
	n := 0
	for _, it := range s.items {
		if it.slot != catalog.Habit && it.slot != catalog.InRun {
			n += it.seconds()
		}
	}
	return n
}

func (it item) seconds() int {
	n := 0
	for _, s := range it.sides {
		n = max(n, it.exercise.Seconds(s.dose, len(it.sides)))
	}
	return n
}

// Shown lists the prescriptions of a day with the doses the runner sees.
func (o Chart) Shown(on body.Date) []catalog.Prescription {
	out := []catalog.Prescription{}
	for _, it := range o.training(on).items {
		for _, s := range it.sides {
			for _, p := range s.prescriptions {
				p.Dose = s.dose
				out = append(out, p)
			}
		}
	}
	return out
}

// shown is a prescription with the dose the runner saw on a day.
func (o Chart) shown(p catalog.Prescription, on body.Date, short bool) catalog.Prescription {
	for _, it := range o.training(on).items {
		for _, s := range it.sides {
			if !slices.ContainsFunc(s.prescriptions, func(x catalog.Prescription) bool { return x.ID == p.ID }) {
				continue
			}
			if p.Dose = s.dose; short && s.short != nil {
				p.Dose = *s.short
			}
			return p
		}
	}
	return p
}

// approach is the option in force for a question on which practitioners disagree.
func (o Chart) approach(question string) string {
	return o.House.Choice(o.Profile.Approaches, question)
}
