package screen

import (
	"cmp"
	"math"
	"slices"

	"notchback/internal/core/stats"
)

// Steady reports whether the last second of an instrument's readings lies within 1.5° and away from
// upright, and their mean: the angle to keep. perSecond is how many readings make a second.
func Steady(readings []float64, perSecond int) (degrees float64, steady bool) {
	if len(readings) < perSecond || perSecond < 1 {
		return 0, false
	}
	last := readings[len(readings)-perSecond:]
	sum := 0.0
	for _, r := range last {
		sum += r
	}
	mean := math.Round(10*sum/float64(perSecond)) / 10
	return mean, slices.Max(last)-slices.Min(last) <= 1.5 && mean >= 5
}

// PhoneError is the standard error of an angle that a phone gave, in degrees: from its own repeats, t·s/(1.96·√n), and never less
// than sem, that of the instrument the test was published with; without a repeat twice sem.
func PhoneError(rd Reading, sem float64) float64 {
	if rd.N < 2 {
		return 2 * sem
	}
	return math.Max(sem, stats.HalfWidthOf(rd.SD, rd.N)/1.96)
}

// Stack is a height that can be built, with its plates.
type Stack struct {
	Mm     float64   `json:"mm"`
	Plates []float64 `json:"plates"`
}

// mostPlates bounds the stacks that are worked out; more plates than this are left aside.
const mostPlates = 10

// Stacks lists every height the plates (mm) can build, lowest first, each with the fewest plates.
func Stacks(plates []float64) []Stack {
	plates = slices.Sorted(slices.Values(plates))
	if len(plates) > mostPlates {
		plates = plates[len(plates)-mostPlates:]
	}
	best := map[float64]Stack{}
	for set := 1; set < 1<<len(plates); set++ {
		s := Stack{Plates: []float64{}}
		for i, mm := range plates {
			if set&(1<<i) != 0 {
				s.Mm += mm
				s.Plates = append(s.Plates, mm)
			}
		}
		s.Mm = math.Round(10*s.Mm) / 10
		if old, ok := best[s.Mm]; !ok || len(s.Plates) < len(old.Plates) {
			best[s.Mm] = s
		}
	}
	out := make([]Stack, 0, len(best))
	for _, s := range best {
		out = append(out, s)
	}
	slices.SortFunc(out, func(a, b Stack) int { return cmp.Compare(a.Mm, b.Mm) })
	return out
}
