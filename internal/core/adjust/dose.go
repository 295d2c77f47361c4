package adjust

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
)

// The causes a prescription may carry.
const (
	CauseUp     = "up"
	CauseBack   = "back"
	CauseCramp  = "cramp"
	CauseReturn = "return"
	CauseParked = "parked"
	CauseMissed = catalog.CauseMissed
	CauseRetest = catalog.CauseRetest
)

// small reports a dose so small that a step may add one set or five units, whatever share that is.
func small(d body.Dose) bool {
	total := d.TotalSets() * d.Amount() * d.Times()
	switch d.Kind {
	case body.Repetitions, body.RMLoad:
		return total <= 10
	case body.Release:
		return total <= 60
	}
	return total <= 20
}

// up goes to the next dose on the rail: in the exercise first, then to the lowest dose of the next one that may be
// done; the next weight or tension is for the last exercise of the climb. No step grows the work by more than half; a
// load step grows the load on the leg by at most a tenth. After a cramp it climbs by at most two repetitions, or five
// seconds.
func (f *facts) up(p catalog.Prescription) catalog.Prescription {
	x, known := f.rail.Exercise(p.Exercise)
	if !known {
		return p
	}
	extra := p.Dose.Extra
	onward, further := f.onward(p, x)
	if next, ok := f.within(x, p.Dose); ok && (next.LoadKg == p.Dose.LoadKg && next.Band == p.Dose.Band || !further) {
		cause := CauseUp
		if p.Cause == CauseCramp {
			step := 2
			if p.Dose.Timed() {
				step = 5
			}
			if grown := p.Dose.WithAmount(p.Dose.Amount() + step); sameGrade(next, p.Dose) && grown.Work(0, 0) < next.Work(0, 0) {
				next, cause = grown, CauseCramp
			}
		}
		next.Extra = extra
		p.Dose, p.Cause = next, cause
		return p
	}
	return onward
}

// onward goes to the lowest dose of the next exercise that may be done; further is false where there is none.
func (f *facts) onward(p catalog.Prescription, x catalog.Exercise) (to catalog.Prescription, further bool) {
	extra := p.Dose.Extra
	at := f.rail.At(x.ID)
	stepped := false
	for _, e := range f.rail.Exercises[at+1:] {
		a := f.limits.May(*f.rail, e)
		if a.May() && !a.NoUp {
			if stepped && e.Level > x.Level+1 {
				return p, false
			}
			notches := f.of(e)
			if len(notches) == 0 {
				continue
			}
			if !e.EachSide {
				extra = 0
			}
			p.Exercise, p.Name, p.Dose, p.Cause = e.ID, e.Name, notches[0], CauseUp
			p.Dose.Extra = extra
			return p, true
		}
		if !a.Only("kit", "retired", "excluded", "cadence", "load") { // a failed prerequisite ends the climb
			return p, false
		}
		stepped = true
	}
	return p, false
}

// of lists all doses of an exercise for what the runner owns, easiest first; none of a retired one that
// does not stand.
func (f *facts) of(x catalog.Exercise) []body.Dose {
	if x.Retired && !f.limits.Stands(x.ID) {
		return nil
	}
	return f.limits.Doses(x)
}

func sameGrade(a, b body.Dose) bool { return a.Grade() == b.Grade() }

// within is the next dose inside an exercise; ok is false at its top.
func (f *facts) within(x catalog.Exercise, d body.Dose) (next body.Dose, ok bool) {
	d.Extra = 0
	all := f.of(x)
	d = catalog.GradedIn(d, all)
	i := slices.IndexFunc(all, d.Same)
	if i < 0 { // a made dose: the next of its weight that asks more
		for k, n := range all {
			if n.Grade().Below(d.Grade()) || sameGrade(n, d) && n.Kind == d.Kind && n.Work(0, 0) <= d.Work(0, 0) {
				i = k
			}
		}
		if d.Kind == body.Repetitions && len(all) > 0 && all[0].Kind == body.RMLoad { // after a cramp
			if n := all[0]; d.Reps+1 <= n.Reps {
				return d.WithAmount(d.Reps + 1), true
			}
			return all[0], true
		}
	}
	for k := i + 1; k < len(all); k++ {
		n := all[k]
		switch {
		case sameGrade(n, d) || d.Kind == body.RMLoad || i < 0:
			return f.grow(x, d, n), true
		case n.Band != "": // at most half the count at the next tension, made smaller where it asks for more
			half := max(1, d.TotalSets()*d.Amount()/2)
			if less := n.WithAmount(min(n.Amount(), half/n.TotalSets())); less.Amount() >= build.Floor(f.h, n) {
				return less, true
			}
		case f.carries(x, d, n):
			return n, true
		}
	}
	return d, false
}

// carries reports whether the next weight may be taken: at most a tenth more load on the leg; where no body
// mass is lifted it starts at a dose of at most half more in all.
func (f *facts) carries(x catalog.Exercise, d, n body.Dose) bool {
	mass := x.Share * f.in.Profile.MassKg
	switch {
	case n.WallCm != d.WallCm || n.StackMm != d.StackMm || n.Hands != d.Hands:
		return n.Work(x.Share, f.in.Profile.MassKg) <= (1+f.h.Get("dose.step")/100)*d.Work(x.Share, f.in.Profile.MassKg)+1e-9
	case n.Kind == body.RMLoad:
		return true
	case mass == 0:
		return d.LoadKg == 0 || n.LoadKg*float64(n.TotalSets()*n.Amount()) <= 1.5*d.LoadKg*float64(d.TotalSets()*d.Amount())
	}
	return mass+n.LoadKg <= f.h.Get("dose.load.step")/100*(mass+d.LoadKg)+mass+d.LoadKg
}

// grow is the next dose of the same weight, made smaller where it would grow the work by more than half.
// Below the first notch it goes by half again, at least by one.
func (f *facts) grow(x catalog.Exercise, d, n body.Dose) body.Dose {
	if first := x.Ladder[0]; d.Kind == first.Kind && d.Kind != body.RMLoad && d.Amount() < first.Amount() && d.Sets <= first.Sets {
		return d.WithAmount(min(first.Amount(), max(d.Amount()+1, d.Amount()*(100+f.h.Int("dose.step"))/100)))
	}
	if x.Published() || d.Kind == body.RMLoad || d.Kind == body.Blocks || d.Kind == body.Minutes {
		return n
	}
	most := 1 + f.h.Get("dose.step")/100
	w := func(d body.Dose) float64 { return float64(d.Sets * d.Amount() * d.Times()) }
	if d.Kind != n.Kind || w(n) <= most*w(d) {
		return n
	}
	more := d
	more.Sets++
	if small(d) {
		if w(n)-w(d) <= 5 || n.Amount() <= d.Amount() && n.Sets == d.Sets+1 {
			return n
		}
		if n.Sets > d.Sets && w(more) <= w(n) {
			return more
		}
		return d.WithAmount(min(n.Amount(), d.Amount()+max(1, 5/max(1, d.Sets))))
	}
	if n.Sets > d.Sets {
		if w(more) <= most*w(d) && w(more) < w(n) {
			return more
		}
		if less := n.WithAmount(int(most * w(d) / float64(n.Sets*n.Times()))); less.Amount() >= build.Floor(f.h, n) && w(less) > w(d) {
			return less
		}
	}
	grown := d.WithAmount(min(n.Amount(), max(d.Amount()+1, int(most*float64(d.Amount())))))
	if w(grown) >= w(n) {
		return n
	}
	return grown
}

// back goes back one: to the nearest dose of the exercise with at most 80 % of its work, or one made by
// dropping a set, a round or a fifth; else to an easier exercise at the last dose done cleanly there; else
// to the nearest in the same position and at a lower level, or the first that was done before it, at its lowest dose; else
// it parks.
func (f *facts) back(p catalog.Prescription) catalog.Prescription {
	x, known := f.rail.Exercise(p.Exercise)
	p.Dose.Extra = 0
	if known && f.limits.May(*f.rail, x).Sort() != permit.Safety {
		if d, ok := f.less(x, p.Dose); ok {
			p.Dose, p.Cause = d, CauseBack
			return p
		}
	}
	earlier := f.rail.Exercises[:max(f.rail.At(p.Exercise), 0)]
	for _, e := range slices.Backward(earlier) {
		d, ok := f.clean(e, func(d body.Dose) bool { return !f.in.harder(e, d, x, p.Dose) })
		if ok && f.limits.May(*f.rail, e).May() {
			p.Exercise, p.Name, p.Dose, p.Cause = e.ID, e.Name, d, CauseBack
			return p
		}
	}
	for i, e := range slices.Backward(earlier) {
		if !f.mayBegin(e) || e.Position != x.Position || e.Level >= x.Level {
			continue
		}
		// Whoever did an earlier one, and none cleanly, goes no higher than who did it cleanly.
		if k := slices.IndexFunc(earlier[:i], func(d catalog.Exercise) bool { return f.mayBegin(d) && f.did(d) }); k >= 0 {
			e = earlier[k]
		}
		p.Exercise, p.Name, p.Dose, p.Cause = e.ID, e.Name, f.of(e)[0], CauseBack
		return p
	}
	p.Parked, p.Cause = true, CauseParked
	return p
}

// mayBegin reports an exercise that may be done, and has a dose.
func (f *facts) mayBegin(e catalog.Exercise) bool {
	return len(f.of(e)) > 0 && f.limits.May(*f.rail, e).May()
}

// did reports whether the leg did an exercise, cleanly or not.
func (f *facts) did(e catalog.Exercise) bool {
	return slices.ContainsFunc(f.logs, func(l *Log) bool { return f.own(l, e) })
}

// own reports a session of an exercise that trained the leg: what the other leg did says nothing of it.
func (f *facts) own(l *Log, e catalog.Exercise) bool {
	return l.Prescription.Exercise == e.ID && (e.Both() || l.Prescription.Side.Touches(f.in.Current.Side))
}

// easier is one back for what did not hurt, as far as there are doses: where a back would park it is the nearest
// earlier exercise that may be done and asks no more, at its lowest dose; without one the dose stays.
func (f *facts) easier(p catalog.Prescription) catalog.Prescription {
	if next := f.back(p); !next.Parked {
		return next
	}
	x, _ := f.rail.Exercise(p.Exercise)
	at := f.rail.At(p.Exercise)
	for _, e := range slices.Backward(f.rail.Exercises[:max(at, 0)]) {
		if all := f.of(e); len(all) > 0 && f.limits.May(*f.rail, e).May() && !f.in.harder(e, all[0], x, p.Dose) {
			p.Exercise, p.Name, p.Dose, p.Cause = e.ID, e.Name, all[0], CauseBack
			return p
		}
	}
	return p
}

// less is the largest dose of the exercise with at most 80 % of the work; of two alike the one with the same weight
// or tension.
func (f *facts) less(x catalog.Exercise, d body.Dose) (body.Dose, bool) {
	d.Extra = 0
	d = catalog.GradedIn(d, f.of(x))
	ceiling := f.h.Get("adjust.back.work") / 100 * d.Work(x.Share, f.in.Profile.MassKg)
	best, found := body.Dose{}, false
	for _, n := range f.of(x) {
		if w := n.Work(x.Share, f.in.Profile.MassKg); n.Kind == d.Kind && !d.Grade().Below(n.Grade()) && w <= ceiling+1e-9 &&
			w >= best.Work(x.Share, f.in.Profile.MassKg) {
			best, found = n, true
		}
	}
	if found {
		return best, true
	}
	if d.Sets > 1 {
		d.Sets--
		if d.Work(x.Share, f.in.Profile.MassKg) <= ceiling+1e-9 {
			return d, true
		}
		d.Sets++
	}
	if n := d.Amount() * 4 / 5; n >= build.Floor(f.h, d) && d.Kind != body.RMLoad {
		return d.WithAmount(n), true
	}
	return d, false
}

// clean is the last dose of an exercise done whole by the leg, without a fault, at pain 2 or less and with a quiet
// morning after it; no more than what was done of it since, and among what fits. Looking further back for one that fits,
// a session done well that asks too much hides none that does not.
func (f *facts) clean(x catalog.Exercise, fits func(body.Dose) bool) (body.Dose, bool) {
	least := body.Dose{}
	for _, l := range f.logs { // newest first
		if !f.own(l, x) {
			continue
		}
		if d := l.Prescription.Dose.WithoutExtra(); least.Sets == 0 || f.in.harder(x, least, x, d) {
			least = d
		}
		if l.Share() < 100 || !l.Clean() || l.Pain < 0 || l.Pain > f.go_ || l.CrampAt > 0 {
			continue
		}
		quiet := true
		for m := range f.loads(f.in.shared.marksOn(l.On.Add(1))) {
			quiet = quiet && m.over() <= 0
		}
		if quiet && fits(least) {
			return least, true
		}
	}
	return body.Dose{}, false
}

// harder compares what two prescriptions ask: level, then bouncing, then what is loaded below level or on
// bent-back toes, then seconds under load times the load and the reach, then sets.
func (in *Input) harder(x catalog.Exercise, d body.Dose, than catalog.Exercise, t body.Dose) bool {
	return in.strain(x, d).compare(in.strain(than, t)) > 0
}

// strain is how much a dose asks, in the order protection goes by.
type strain [5]float64

func (a strain) compare(b strain) int { return slices.Compare(a[:], b[:]) }

func (in *Input) strain(x catalog.Exercise, d body.Dose) strain {
	if x.Climbs() && d.Reach() == 1 { // an earlier one, that says no distance: read beside its exercise, which takes time
		d = catalog.GradedIn(d, in.Limits.Doses(x))
	}
	edge := 0.0
	if x.Edge {
		edge++
	}
	if x.ToesBack {
		edge++
	}
	seconds := float64(d.Amount())
	if d.Kind == body.Repetitions || d.Kind == body.RMLoad {
		seconds *= x.RepS + float64(d.Seconds)
	}
	system := x.Share*in.Profile.MassKg + d.LoadKg
	if x.Share == 0 { // a light weight is more than none
		system++
	}
	return strain{float64(x.Level), float64(slices.Index(body.Impacts, x.Impact)), edge,
		seconds * float64(d.TotalSets()*d.Times()) * system * d.Reach(), float64(d.TotalSets())}
}

// Gentler orders prescriptions of the input's rail by how protective they are: negative where a asks less than b.
func (in *Input) Gentler(a, b catalog.Prescription) int {
	if a.Parked != b.Parked {
		if a.Parked {
			return -1
		}
		return 1
	}
	x, _ := in.Rail.Exercise(a.Exercise)
	y, _ := in.Rail.Exercise(b.Exercise)
	return in.strain(x, a.Dose).compare(in.strain(y, b.Dose))
}
