package build

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

// view is what building looks at, gathered once.
type view struct {
	in       Input
	cat      catalog.Catalogue
	findings []screen.Finding
	limiters []screen.Limiter
	limits   map[body.Side]catalog.Limits
	barred   body.Reason // why heavy loading is barred, if it is
	cadence  *CadencePlan
	phase    Phase
	phaseWhy body.Reason
	next     body.Reason
}

func look(in Input) view {
	v := view{in: in, cat: in.Catalogue(), findings: screen.Findings(in.Trials, in.Profile, in.Today, in.House), limits: map[body.Side]catalog.Limits{}}
	v.limiters = screen.Limiters(v.findings, in.Profile, in.House)
	v.cadence = cadencePlan(in)
	barred, why := refer.HeavyBarred(in.Profile, in.Today)
	if barred {
		v.barred = why
	}
	for _, side := range []body.Side{body.Left, body.Right, body.Both} {
		v.limits[side] = limitsOf(in, v.cat, v.cadence, side, barred)
	}
	v.settlePhase()
	for side, l := range v.limits {
		l.NoRM = NoRM(v.phase)
		v.limits[side] = l
	}
	return v
}

// NoRM reports whether loads at a repetitions-maximum wait in a phase: heavy means 12 RM and less, and
// begins with Load.
func NoRM(phase Phase) bool { return slices.Contains([]Phase{Calm, Wake, Build}, phase) }

// Limits gathers what bounds one side of a runner in a phase: kit, cautions, tests, mornings and what
// was reached. The whole runner (both) is bounded by either side.
func Limits(in Input, side body.Side, phase Phase) catalog.Limits {
	barred, _ := refer.HeavyBarred(in.Profile, in.Today)
	l := limitsOf(in, in.Catalogue(), cadencePlan(in), side, barred)
	l.NoRM = NoRM(phase)
	return l
}

func limitsOf(in Input, cat catalog.Catalogue, cadence *CadencePlan, side body.Side, barred bool) catalog.Limits {
	l := catalog.LimitsOf(in.Profile, barred, in.House)
	l.Excluded = append(l.Excluded, in.Choices.Excluded...)
	for _, s := range in.Profile.Structural {
		if s.Side.Touches(side) {
			l.Structural = append(l.Structural, s.Measure)
		}
	}
	mine := side
	if side == body.Both {
		mine = body.Left
	}
	read := func(m screen.Measure, s body.Side) (float64, bool) {
		if !m.Sided {
			s = body.Both
		}
		rd, ok := screen.Read(in.Trials, m.ID, s)
		if m.Kind == screen.Count {
			return rd.Done, ok
		}
		return rd.Value, ok
	}
	for _, m := range screen.Measures {
		if x, ok := read(m, mine); ok {
			l.Values[m.ID] = x
		}
		if x, ok := read(m, mine.Other()); ok {
			l.Other[m.ID] = x
		}
	}
	for _, u := range UsualMornings(in.Profile, in.Mornings, in.Today) {
		if u.Side.Touches(side) {
			l.Mornings[u.Region] = max(l.Mornings[u.Region], u.Level)
		}
	}
	for _, c := range in.Current {
		if r, ok := cat.Find(c.Rail); ok && c.Side.Touches(side) {
			l = l.Reach(r, c.Exercise, c.Dose)
		}
	}
	if cadence != nil {
		for _, s := range cadence.Steps {
			l.Spm = append(l.Spm, s.Spm)
		}
	}
	return l
}
