package catalog

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/stats"
)

// Doses lists all doses of an exercise with what the runner owns and what the tests allow, easiest first. The grade it
// begins with is climbed by the whole ladder, each further weight, tension, distance or height by the two highest doses
// alone, the share of the hands between by one: nobody repeats the whole ladder for each.
func (l Limits) Doses(x Exercise) []body.Dose {
	grades := l.grades(x)
	begin, _ := l.begin(x, grades)
	out := make([]body.Dose, 0, len(grades)*len(x.Ladder))
	for i, grade := range grades {
		ladder := x.Ladder
		if i > 0 && grade.Spm == 0 && grade != begin {
			ladder = ladder[max(0, len(ladder)-2):]
			if x.Grade == ByHands && i < len(grades)-1 { // on the way to the fingertips once
				ladder = ladder[:1]
			}
		}
		for _, d := range ladder {
			if d = d.At(grade); d.Kind == body.RMLoad {
				d.LoadKg = l.kilograms(x, d.Reps)
			}
			if l.carries(x, d) {
				out = append(out, d)
			}
		}
	}
	return out
}

// grades lists what an exercise climbs by, of what the runner owns and was tested for; a single empty one when it climbs
// by nothing or nothing is known.
func (l Limits) grades(x Exercise) []body.Grade {
	var out []body.Grade
	switch x.Grade {
	case ByDumbbell:
		for _, kg := range l.weights() {
			out = append(out, body.Grade{LoadKg: kg})
		}
	case ByBand:
		for _, t := range body.Tensions {
			if slices.Contains(l.Equipment.Bands, t) {
				out = append(out, body.Grade{Band: t})
			}
		}
	case BySpm:
		for _, s := range l.Spm {
			out = append(out, body.Grade{Spm: s})
		}
	case ByHands:
		for _, h := range body.HandShares {
			out = append(out, body.Grade{Hands: h})
		}
	case ByWall:
		for _, cm := range l.distances(x) {
			out = append(out, body.Grade{WallCm: cm})
		}
	case ByStack:
		for _, mm := range l.heights(x) {
			out = append(out, body.Grade{StackMm: mm})
		}
	}
	if len(out) == 0 {
		out = []body.Grade{{}}
	}
	return out
}

// weights are the dumbbells owned, the lightest first; two of one weight are one step.
func (l Limits) weights() []float64 {
	return slices.Compact(slices.Sorted(slices.Values(l.Equipment.DumbbellsKg)))
}

// tested is the newest reading an exercise's grade follows from, of the weaker leg where both work.
func (l Limits) tested(x Exercise) (float64, bool) {
	if x.By == "" {
		return 0, false
	}
	values, n := l.read(x.By, x.Both())
	if n == 0 {
		return 0, false
	}
	return slices.Min(values[:n]), true
}

// distances begin a little inside the tested distance and grow by the centimetre, a few beyond it at most and not past
// the reference. None while it is untested, or so short that there is no inside.
func (l Limits) distances(x Exercise) []float64 {
	h := l.Facts.House
	tested, ok := l.tested(x)
	first := math.Floor(tested - h.Get("dose.wall.inside"))
	if !ok || first < 1 {
		return nil
	}
	last := math.Min(first+h.Get("dose.wall.span"), math.Max(first, math.Floor(h.Get(x.By+".ref"))))
	var out []float64
	for cm := first; cm <= last; cm++ {
		out = append(out, cm)
	}
	return out
}

// heights are what the owned plates stack up to, no higher than the toe was lifted for the runner, a few millimetres
// apart; the lowest alone while it is untested.
func (l Limits) heights(x Exercise) []float64 {
	const apart, plates = 4.0, 10 // a step that shows; enough plates for every height
	sums := []float64{0}
	for _, mm := range l.Equipment.PlatesMm[:min(plates, len(l.Equipment.PlatesMm))] {
		for _, s := range slices.Clone(sums) {
			sums = append(sums, s+mm)
		}
	}
	slices.Sort(sums)
	tested, ok := l.tested(x)
	var out []float64
	for _, mm := range sums[1:] {
		far := len(out) == 0 || mm-out[len(out)-1] >= apart
		if far && (!ok || mm <= tested) {
			out = append(out, mm)
		}
		if !ok {
			break
		}
	}
	return out
}

// Begin is the grade an exercise begins with: of the kilograms and the height the most that its test lets it begin
// with, else the lowest. It reports false where the lowest is more than that.
func (l Limits) Begin(x Exercise) (begin body.Grade, light bool) { return l.begin(x, l.grades(x)) }

func (l Limits) begin(x Exercise, all []body.Grade) (begin body.Grade, light bool) {
	h := l.Facts.House
	tested, ok := l.tested(x)
	if !ok || len(x.Ladder) == 0 || x.Grade != ByStack && x.Grade != ByDumbbell {
		return all[0], true
	}
	share, reps := h.Get("place.share")/100, float64(x.Ladder[0].Reps)
	most := body.Grade{StackMm: share * tested}
	if x.Grade == ByDumbbell { // some in reserve, and no more repetitions than the share of what that weight would allow
		most = body.Grade{LoadKg: l.added(x, tested, math.Max(reps+h.Get("dose.rm.first"), reps/share))}
	}
	begin = all[0]
	for _, g := range all {
		if g.LoadKg <= most.LoadKg && g.StackMm <= most.StackMm {
			begin, light = g, true
		}
	}
	return begin, light
}

// added is the weight to hold for a repetitions-maximum of a tested one-repetition maximum (kg of the whole load on the
// leg): that load less the share of body mass. Negative where body mass alone is more.
func (l Limits) added(x Exercise, oneRM, reps float64) float64 {
	return stats.EpleyLoad(oneRM, reps) - x.Share*l.MassKg
}

// carries reports whether the tested maximum carries a dose with two repetitions in reserve; untested, it says nothing.
func (l Limits) carries(x Exercise, d body.Dose) bool {
	tested, ok := l.tested(x)
	return !ok || x.Grade != ByDumbbell || d.LoadKg <= l.added(x, tested, float64(d.Reps)+l.Facts.House.Get("dose.rm.reserve"))
}

// Covers reports whether the newest test covers a dose that was climbed to: no further, no higher and no heavier than
// what was reached. Untested, it says nothing against it.
func (l Limits) Covers(x Exercise, d body.Dose) bool {
	tested, ok := l.tested(x)
	return !ok || d.WallCm <= tested && d.StackMm <= tested && l.carries(x, d)
}

// kilograms are what a stage at a repetitions-maximum asks for, rounded down to what is owned; 0 where nothing is known
// or nothing owned is light enough.
func (l Limits) kilograms(x Exercise, reps int) float64 {
	tested, ok := l.tested(x)
	if !ok {
		return 0
	}
	most, kg := l.added(x, tested, float64(reps)), 0.0
	for _, w := range l.weights() {
		if w <= most {
			kg = w
		}
	}
	return kg
}

// tooHeavy says why the test carries nothing of an exercise: the lightest weight, or the lowest height, is beyond it. Empty
// where it carries some.
func (l Limits) tooHeavy(x Exercise) string {
	tested, ok := l.tested(x)
	if !ok || len(x.Ladder) == 0 || x.Grade != ByDumbbell && x.Grade != ByStack && x.Ladder[0].Kind != body.RMLoad {
		return ""
	}
	if x.Grade == ByStack {
		if len(l.Equipment.PlatesMm) > 0 && len(l.heights(x)) == 0 {
			return fmt.Sprintf("the thinnest plate owned is higher than the %g mm the toe was lifted", tested)
		}
		return ""
	}
	if x.Ladder[0].Kind == body.RMLoad {
		if l.added(x, tested, float64(x.Ladder[0].Reps)) < 0 {
			return fmt.Sprintf("the tested maximum of %s does not carry body mass for %d repetitions", body.In("kg", "%.0f", tested),
				x.Ladder[0].Reps)
		}
		return ""
	}
	for _, g := range l.grades(x) {
		if g.LoadKg == 0 || l.carries(x, x.Ladder[0].At(g)) {
			return ""
		}
	}
	return fmt.Sprintf("the tested maximum of %s carries none of the weights owned for %d repetitions with two in reserve",
		body.In("kg", "%.0f", tested), x.Ladder[0].Reps)
}

// GradedIn reads a dose of an exercise beside all its doses, lowest first.
func GradedIn(d body.Dose, all []body.Dose) body.Dose {
	if len(all) == 0 {
		return d
	}
	return Graded(d, all[0])
}

// Graded reads a dose that says no distance, height or hands, as earlier ones did not, as the first of its exercise.
func Graded(d, first body.Dose) body.Dose {
	if d.WallCm == 0 {
		d.WallCm = first.WallCm
	}
	if d.StackMm == 0 {
		d.StackMm = first.StackMm
	}
	if d.Hands == "" {
		d.Hands = first.Hands
	}
	return d
}
