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
