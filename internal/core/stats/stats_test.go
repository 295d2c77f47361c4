package stats

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/stat"
)

// Weir 2005, JSCR 19:231: MDC = 1.96 × √2 × SEM. With the knee-to-wall SEM of 0.5 cm this gives
// 1.39 cm, inside the published 1.1–1.5 cm (Bennell 1998, Konor 2012; from memory).
func ExampleMDC() {
	fmt.Printf("%.2f cm\n", MDC(0.5))
	// Output: 1.39 cm
}

// A 60 mm big toe lifted 30 mm stands at asin(0.5) = 30°.
func ExampleLiftAngle() {
	fmt.Printf("%.1f°\n", LiftAngle(30, 60))
	// Output: 30.0°
}

func TestLiftAngleNeedsAHeightBelowTheLength(t *testing.T) {
	assert.True(t, math.IsNaN(LiftAngle(60, 60)))
	assert.True(t, math.IsNaN(LiftAngle(-1, 60)))
	assert.Equal(t, 0.0, LiftAngle(0, 60))
	assert.InDelta(t, 45, LiftAngle(60/math.Sqrt2, 60), 1e-9) // sin 45° = 1/√2
}

func TestMedianAgainstReferenceLibrary(t *testing.T) {
	assert.Equal(t, 3.0, Median([]float64{9, 1, 3}))
	assert.Equal(t, 2.5, Median([]float64{4, 1, 2, 3}))
	sorted := []float64{1, 2, 2, 5, 8}
	assert.Equal(t, stat.Quantile(0.5, stat.Empirical, sorted, nil), Median([]float64{8, 2, 5, 1, 2}))
	assert.True(t, math.IsNaN(Median(nil)))
}

// Student's t, 0.975 quantile, from any printed table: 12.706 (1), 4.303 (2), 3.182 (3), 2.262 (9).
// Half-width of {1, 3}: mean 2, s = √2, 12.706 × √2 / √2 = 12.706.
func TestHalfWidthAgainstTheTable(t *testing.T) {
	assert.InDelta(t, 12.706, HalfWidth([]float64{1, 3}), 0.001)
	assert.InDelta(t, 4.303*1/math.Sqrt(3), HalfWidth([]float64{1, 2, 3}), 0.001)
	assert.InDelta(t, 3.182*stat.StdDev([]float64{2, 4, 4, 6}, nil)/2, HalfWidth([]float64{2, 4, 4, 6}), 0.001)
	assert.True(t, math.IsNaN(HalfWidth([]float64{7})))
}

// Epley 1985 and Brzycki 1993 agree at ten repetitions: 4/3 of the load.
func TestOneRepetitionMaximum(t *testing.T) {
	assert.InDelta(t, 80, Epley(60, 10), 1e-9)
	assert.InDelta(t, 80, Brzycki(60, 10), 1e-9)
	assert.InDelta(t, 60, Brzycki(60, 1), 1e-9, "one repetition is the maximum itself")
	assert.Greater(t, Epley(60, 5), Epley(60, 4))
}

// Hopkins 2000, Sports Med 30:1 (from memory): typical error = SD(differences)/√2. Chi-square, 19
// degrees of freedom, from a printed table: 8.907 and 32.852.
func TestTypicalError(t *testing.T) {
	d := make([]float64, 20)
	for i := range d {
		d[i] = float64(1 - 2*(i%2))
	}
	te, low, high := TypicalError(d)
	assert.InDelta(t, stat.StdDev(d, nil)/math.Sqrt2, te, 1e-12)
	assert.InDelta(t, te*math.Sqrt(19/32.852), low, 1e-4)
	assert.InDelta(t, te*math.Sqrt(19/8.907), high, 1e-4)
	te, _, _ = TypicalError([]float64{1})
	assert.True(t, math.IsNaN(te))
}
