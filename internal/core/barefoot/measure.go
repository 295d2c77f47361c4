package barefoot

import (
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/stats"
)

// BalanceFor is how long one leg stands with open eyes, s, for bare work at an age; raises are never lowered by age.
func BalanceFor(age int) float64 {
	switch {
	case age >= 70:
		return 12
	case age >= 60:
		return 20
	}
	return 30
}

// angleOf is the angle of a big toe of a length lifted to a height, both mm, in degrees.
func angleOf(heightMm, toeMm float64) float64 { return math.Asin(heightMm/toeMm) * 180 / math.Pi }

// within is pass beyond the error on the good side, borderline inside it, fail beyond it on the other.
func within(v, least, sem float64) Outcome {
	switch {
	case v >= least+sem:
		return Pass
	case v > least-sem:
		return Borderline
	}
	return Fail
}

// judged is one measure of an item.
type judged struct {
	outcome Outcome
	why     body.Reason
}

// band holds a measure against its reference and its error; a fault that counts as short fails it.
func (in Input) band(f Foot, r body.Reason, measure, unit string, values map[string]float64, ref, sem string) judged {
	v, ok := values[measure]
	if !ok {
		return judged{Unknown, r.See(measure, "not tested")}
	}
	least, se := in.House.Get(ref), in.House.Get(sem)
	r = in.House.Because("barefoot.gate", "", ref, sem).SeeOn(f.Taken[measure], measure, "%.3g ± %g %s (from %g %s)", v, se, unit, least, unit)
	if f.Failed[measure] {
		return judged{Fail, r.See("a fault", "counts as short")}
	}
	return judged{within(v, least, se), r}
}

// worstOf is the worst of those that are known; unknown where none is.
func worstOf(all ...judged) (Outcome, body.Reason) {
	known := slices.DeleteFunc(slices.Clone(all), func(j judged) bool { return j.outcome == Unknown })
	if len(known) == 0 {
		return Unknown, all[0].why
	}
	worst := known[0]
	for _, j := range known[1:] {
		if slices.Index(Outcomes, j.outcome) > slices.Index(Outcomes, worst.outcome) {
			worst = j
		}
	}
	return worst.outcome, worst.why
}

// scores are abilities 0–3: below 2 fails, and one that was not taken is not passed. Only the big toe alone has to be known.
func (in Input) scores(f Foot, first string, more ...string) (Outcome, body.Reason) {
	least := in.House.Get("score.ability")
	out, known := Pass, false
	r := in.House.Because("barefoot.gate", "", "score.ability")
	for _, m := range append([]string{first}, more...) {
		v, ok := f.Values[m]
		if !ok {
			continue
		}
		known = known || m == first
		if r = r.SeeOn(f.Taken[m], m, "%g of 3 (from %g)", v, least); v < least {
			out = Fail
		}
	}
	if !known && out == Pass {
		return Unknown, r.See(first, "not tested")
	}
	return out, r
}

// matches reports whether range, balance and reach of a leg are within their detectable change of the other's.
func (in Input) matches(f Foot, r body.Reason) (Outcome, body.Reason) {
	out := Pass
	for _, m := range []struct{ measure, sem string }{{body.AnkleKneeToWall, body.AnkleKneeToWall + ".sem"},
		{body.BalanceOpen, "balance.open.sem"}, {body.ReachFront, "reach.sem"}, {body.ReachSide, "reach.sem"},
		{body.ReachBack, "reach.sem"}, {body.ReachCross, "reach.sem"}} {
		mine, ok := f.Values[m.measure]
		other, ok2 := f.Other[m.measure]
		mdc := stats.MDC(in.House.Get(m.sem))
		switch {
		case !ok || !ok2:
			r = r.See(m.measure, "not tested on both sides")
			if out == Pass {
				out = Unknown
			}
		case other-mine > mdc:
			out, r = Fail, r.SeeOn(f.Taken[m.measure], m.measure, "%.3g against %.3g (within %.2g)", mine, other, mdc)
		default:
			r = r.SeeOn(f.Taken[m.measure], m.measure, "%.3g against %.3g", mine, other)
		}
	}
	return out, r
}
