// Package stats holds the arithmetic of repeated measurement.
package stats

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"
)

// Mean returns the arithmetic mean; NaN for no values.
func Mean(x []float64) float64 {
	if len(x) == 0 {
		return math.NaN()
	}
	return stat.Mean(x, nil)
}

// Median returns the middle value, or the mean of the two middle ones; NaN for no values.
func Median(x []float64) float64 {
	if len(x) == 0 {
		return math.NaN()
	}
	s := slices.Sorted(slices.Values(x))
	m := len(s) / 2
	if len(s)%2 == 1 {
		return s[m]
	}
	return (s[m-1] + s[m]) / 2
}

// MDC returns the minimal detectable change at 95 %, 1.96·√2·SEM, in the unit of sem.
// Source: Weir 2005, JSCR 19:231.
func MDC(sem float64) float64 { return 1.96 * math.Sqrt2 * sem }

// LiftAngle returns the angle in degrees of a toe of the given length (mm) whose tip is lifted to the
// given height (mm): asin(height / length). It is NaN unless 0 ≤ height < length.
func LiftAngle(heightMm, lengthMm float64) float64 {
	if heightMm < 0 || lengthMm <= 0 || heightMm >= lengthMm {
		return math.NaN()
	}
	return math.Asin(heightMm/lengthMm) * 180 / math.Pi
}
