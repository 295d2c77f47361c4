package build

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/screen"
	"notchback/internal/core/stats"
)

// spot is where one side starts on a rail.
type spot struct {
	side     body.Side
	exercise catalog.Exercise
	dose     body.Dose
	at       int // notch index
	why      body.Reason
}

// place finds the first notch of one side from its own test; an untested side starts lowest.
func place(rail catalog.Rail, side body.Side, in Input, l catalog.Limits) spot {
	notches := rail.Notches(l)
	var exercise string
	var dose body.Dose
	var why body.Reason
	switch rail.ID {
	case "calf_straight":
		exercise, dose, why = placeCalf(rail, side, in, l, notches)
	case "ankle_bend":
		exercise, dose, why = placeAnkle(side, in, notches)
	case "big_toe":
		exercise, dose, why = placeToe(side, in, notches)
	}
	if exercise == "" {
		exercise, dose = notches[0].Exercise, notches[0].Dose
	}
	x, _ := rail.Exercise(exercise)
	at, _ := catalog.At(notches, exercise, dose)
	return spot{side, x, dose, at, why.See("first notch, "+string(side), "%s, %s", x.Name, dose)}
}

// calfStart is the table that turns one-leg raises into a first exercise: the last row whose count
// is reached.
var calfStart = []struct {
	from     float64
	exercise string
}{{0, "two_floor"}, {5, "up2_down1"}, {10, "one_floor"}, {15, "one_step"}, {25, "one_dumbbell"}}

func placeCalf(rail catalog.Rail, side body.Side, in Input, l catalog.Limits, notches []catalog.Notch) (string, body.Dose, body.Reason) {
	h := in.House
	rd, ok := screen.Read(in.Trials, "calf.raises_straight", side)
	why := h.Because("place.calf", "start from one-leg raises", "place.share", "place.reps.min", "place.reps.max")
	if !ok {
		why.Says = "not tested: lowest notch, test first"
		return "", body.Dose{}, why
	}
	n := rd.Done
	why = why.See("one-leg raises done, "+string(side), "%.0f", n)
	if n < calfStart[1].from {
		why.Says = "fewer than 5 raises: the fixed two-leg start"
		x, _ := rail.Exercise("two_floor")
		return x.ID, x.Ladder[len(x.Ladder)-1], why
	}
	i := len(calfStart) - 1
	for n < calfStart[i].from {
		i--
	}
	var x catalog.Exercise
	for ; i >= 0; i-- {
		x, _ = rail.Exercise(calfStart[i].exercise)
		ok, no := l.Allowed(x)
		if ok {
			break
		}
		why = why.See(x.Name, "%s: the easier variant", no)
	}
	share := h.Get("place.share")
	lo, hi := h.Int("place.reps.min"), h.Int("place.reps.max")
	top := x.Ladder[len(x.Ladder)-1].Reps
	reps := min(max(int(math.Floor(share/100*n)), lo), hi, top)
	dose := body.Dose{Kind: body.Repetitions, Sets: 2, Reps: reps}
	if x.Loaded {
		dose.LoadKg = notches[firstOf(notches, x.ID)].Dose.LoadKg
	}
	why.Says = fmt.Sprintf("%.0f raises start on “%s” at %g %% of what was done", n, x.Name, share)
	why.Formula = fmt.Sprintf("⌊%g %% × %.0f⌋ = %.0f, kept within %d–%d → 2 × %d", share, n, math.Floor(share/100*n), lo, min(hi, top), reps)
	return x.ID, dose, why
}

func firstOf(notches []catalog.Notch, exercise string) int {
	return slices.IndexFunc(notches, func(n catalog.Notch) bool { return n.Exercise == exercise })
}

// placeAnkle starts by the share of the reference reached: under half at the first notch, under
// four fifths with two sets of rocks, above that with the bent-knee stretch.
func placeAnkle(side body.Side, in Input, notches []catalog.Notch) (string, body.Dose, body.Reason) {
	h := in.House
	why := h.Because("place.ankle", "start from knee-to-wall", "ankle.knee_to_wall.ref")
	rd, ok := screen.Read(in.Trials, "ankle.knee_to_wall", side)
	if !ok {
		why.Says = "not tested: lowest notch, test first"
		return "", body.Dose{}, why
	}
	ref := h.Get("ankle.knee_to_wall.ref")
	share := rd.Value / ref
	why = why.See("knee to wall, "+string(side), "%.1f cm", rd.Value)
	why.Formula = fmt.Sprintf("%.1f / %g = %.0f %% of the reference; under 50 %% lowest, under 80 %% rocks 2 × 8, above that the bent-knee stretch", rd.Value, ref, 100*share)
	switch calm, _ := InCalm(in.Profile, in.Mornings, in.Today, h); {
	case calm || share < 0.5:
		return "ankle_rocks", notches[firstOf(notches, "ankle_rocks")].Dose, why
	case share < 0.8:
		return "ankle_rocks", notches[firstOf(notches, "ankle_rocks")+2].Dose, why
	}
	return "bent_stretch", notches[firstOf(notches, "bent_stretch")].Dose, why
}

// placeToe works range first while the passive angle is short, else control off the stack.
func placeToe(side body.Side, in Input, notches []catalog.Notch) (string, body.Dose, body.Reason) {
	h := in.House
	why := h.Because("place.toe", "range before control: the passive angle is short", "toe.passive_angle.ref", "toe.active_gap.ref")
	passive, ok := screen.Read(in.Trials, "toe.passive_height", side)
	if !ok || in.Profile.BigToeMm == 0 {
		why.Says = "not tested: lowest notch, test first"
		return "", body.Dose{}, why
	}
	toe, ref, gapRef := in.Profile.BigToeMm, h.Get("toe.passive_angle.ref"), h.Get("toe.active_gap.ref")
	angle := stats.LiftAngle(passive.Value, toe)
	why = why.See("passive angle, "+string(side), "%.1f°", angle)
	why.Formula = fmt.Sprintf("asin(%g / %g) = %.1f° against %g°", passive.Value, toe, angle, ref)
	wall := firstOf(notches, "toes_wall")
	switch {
	case angle < ref/2:
		return "toes_wall", notches[wall].Dose, why
	case angle < ref:
		return "toes_wall", notches[wall+1].Dose, why
	}
	if active, ok := screen.Read(in.Trials, "toe.active_height", side); ok {
		gap := angle - stats.LiftAngle(active.Value, toe)
		why = why.See("active gap, "+string(side), "%.1f° (at most %g°)", gap, gapRef)
	}
	why.Says = "range is there: control off the stack"
	if i := firstOf(notches, "stack_lift"); i >= 0 {
		return "stack_lift", notches[i].Dose, why
	}
	why.Says = "range is there, but no plates to stack: tucked-toe rocks instead"
	return "tucked_rocks", notches[firstOf(notches, "tucked_rocks")].Dose, why
}

// weakerDecides gives both sides the weaker side's notch when that is an exercise done on two legs.
func weakerDecides(s []spot) []spot {
	if len(s) != 2 || s[0].at == s[1].at {
		return s
	}
	weak, strong := 0, 1
	if s[1].at < s[0].at {
		weak, strong = 1, 0
	}
	if !s[weak].exercise.EachSide {
		s[strong].exercise, s[strong].dose, s[strong].at = s[weak].exercise, s[weak].dose, s[weak].at
		s[strong].why = s[strong].why.See("done on two legs", "the %s side, the weaker, decides: %s, %s", s[weak].side, s[weak].exercise.Name, s[weak].dose)
	}
	return s
}

// extraSet gives the weaker side one more set when the side difference is short, the exercise is
// done on each side and it does not hurt.
func extraSet(s []spot, fs []screen.Finding, in Input) []spot {
	for i := range s {
		for _, f := range fs {
			if f.Limiter != "side_difference" || f.Verdict != screen.Short || f.Side != s[i].side || !s[i].exercise.EachSide {
				continue
			}
			rail := railWith(s[i].exercise.ID)
			if !slices.Contains(screen.RailsOf(f.Of), rail.ID) {
				continue
			}
			if pain := painAt(rail, s[i].side, in); pain > in.House.Int("build.extra.pain") {
				s[i].why = s[i].why.See("weaker side's extra set", "not while it hurts %d of 10", pain)
				continue
			}
			if s[i].dose.Sets < maxSets(s[i].exercise) || s[i].exercise.Class != catalog.Strength {
				s[i].dose.Extra = 1
				s[i].why = s[i].why.See("weaker side", "one extra set (%s against at most %g)", f.Shown(), f.Reference)
			}
		}
	}
	return s
}

func railWith(exercise string) catalog.Rail {
	for _, r := range catalog.Rails {
		if _, mine := r.Exercise(exercise); mine {
			return r
		}
	}
	return catalog.Rail{}
}

func maxSets(x catalog.Exercise) int {
	n := 0
	for _, d := range x.Ladder {
		n = max(n, d.Sets)
	}
	return n
}

// painAt is the highest baseline pain among the rail's places on a side, 0–10.
func painAt(rail catalog.Rail, side body.Side, in Input) int {
	worst := 0
	for _, s := range in.Profile.Symptoms {
		if rail.Concerns(s.Region, s.Side, side) {
			worst = max(worst, s.Baseline)
		}
	}
	return worst
}
