package standin

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
)

// The stand-in ends at its known truth, within its tremor, and says the same each time.
func TestTheTruthIsKnown(t *testing.T) {
	i := Demo()
	assert.InDelta(t, 0, i.At(body.Left, 0), i.Tremor)
	for ms := 2000; ms < 6000; ms += 100 {
		since := time.Duration(ms) * time.Millisecond
		assert.InDelta(t, i.Left, i.At(body.Left, since), i.Tremor+0.05)
		assert.InDelta(t, i.Right, i.At(body.Right, since), i.Tremor+0.05)
		assert.Equal(t, i.At(body.Left, since), i.At(body.Left, since))
	}
}

func TestTheStreamEndsWhenNobodyListens(t *testing.T) {
	i := Demo()
	i.Every = time.Microsecond
	ctx, stop := context.WithCancel(context.Background())
	n := 0
	assert.NoError(t, i.Stream(ctx, body.Left, func(float64) error {
		if n++; n == 3 {
			stop()
		}
		return nil
	}))
	assert.GreaterOrEqual(t, n, 3)
	assert.ErrorIs(t, i.Stream(context.Background(), body.Left, func(float64) error { return context.Canceled }), context.Canceled)
}
