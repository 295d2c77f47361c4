package screen

import (
	"math"
	"slices"
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
