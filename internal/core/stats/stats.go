// Package stats holds the arithmetic of repeated measurement.
package stats

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"
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
	s := append(make([]float64, 0, 16), x...) // short ones stay off the heap
	slices.Sort(s)
	m := len(s) / 2
	if len(s)%2 == 1 {
		return s[m]
	}
	return (s[m-1] + s[m]) / 2
}

// MDC returns the minimal detectable change at 95 %, 1.96·√2·SEM, in the unit of sem.
// Source: Weir 2005, JSCR 19:231.
func MDC(sem float64) float64 { return 1.96 * math.Sqrt2 * sem }

// EpleyLoad returns the load of a repetitions-maximum, oneRM / (1 + reps/30), in the unit of oneRM.
// Source: Epley 1985.
func EpleyLoad(oneRM, reps float64) float64 { return oneRM / (1 + reps/30) }

// LiftAngle returns the angle in degrees of a toe of the given length (mm) whose tip is lifted to the
// given height (mm): asin(height / length). It is NaN unless 0 ≤ height < length.
func LiftAngle(heightMm, lengthMm float64) float64 {
	if heightMm < 0 || lengthMm <= 0 || heightMm >= lengthMm {
		return math.NaN()
	}
	return math.Asin(heightMm/lengthMm) * 180 / math.Pi
}

// SD returns the sample standard deviation (n − 1); NaN for fewer than two values.
func SD(x []float64) float64 {
	if len(x) < 2 {
		return math.NaN()
	}
	return stat.StdDev(x, nil)
}

// HalfWidth returns half the 95 % interval of a mean, t·s/√n with n − 1 degrees of freedom, in the
// unit of x; NaN for fewer than two values.
func HalfWidth(x []float64) float64 {
	return HalfWidthOf(SD(x), len(x))
}

// HalfWidthOf is HalfWidth of n values whose sample standard deviation is known, in its unit; NaN for fewer than two values.
func HalfWidthOf(sd float64, n int) float64 {
	if n < 2 {
		return math.NaN()
	}
	return distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(n - 1)}.Quantile(0.975) * sd / math.Sqrt(float64(n))
}

// TypicalError returns the error of one measurement from the differences of repeat pairs, SD(d)/√2,
// with its 95 % interval from the chi-square distribution; NaN for fewer than two pairs.
// Source: Hopkins 2000, Sports Med 30:1.
func TypicalError(differences []float64) (te, low, high float64) {
	n := float64(len(differences))
	if n < 2 {
		return math.NaN(), math.NaN(), math.NaN()
	}
	te = SD(differences) / math.Sqrt2
	chi := distuv.ChiSquared{K: n - 1}
	return te, te * math.Sqrt((n-1)/chi.Quantile(0.975)), te * math.Sqrt((n-1)/chi.Quantile(0.025))
}

// Epley returns the one-repetition maximum estimated from a load (kg) lifted reps times:
// load·(1 + reps/30). Source: Epley 1985.
func Epley(load, reps float64) float64 { return load * (1 + reps/30) }

// Brzycki returns the one-repetition maximum estimated from a load (kg) lifted reps times:
// load·36/(37 − reps), for reps below 37. Source: Brzycki 1993.
func Brzycki(load, reps float64) float64 { return load * 36 / (37 - reps) }
