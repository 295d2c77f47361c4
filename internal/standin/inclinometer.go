// Package standin holds simulated instruments with a known truth, which ship with the product and
// stand behind the interfaces real ones would use.
package standin

import (
	"context"
	"math"
	"time"

	"notchback/internal/core/body"
)

// Inclinometer is a simulated shin inclinometer: the shin bends from upright to its end of range
// within two seconds and is held there, with the small tremor of a held position.
type Inclinometer struct {
	Left, Right float64       // degrees at the end of range
	Tremor      float64       // degrees either way
	Every       time.Duration // between readings
}

// Demo is the instrument that ships with the demo.
func Demo() Inclinometer {
	return Inclinometer{Left: 33.5, Right: 37, Tremor: 0.3, Every: 100 * time.Millisecond}
}

// At is the reading this long after the start, in degrees from the vertical.
func (i Inclinometer) At(side body.Side, since time.Duration) float64 {
	end := i.Right
	if side == body.Left {
		end = i.Left
	}
	s := since.Seconds()
	bend := math.Min(1, s/2)
	bend = bend * bend * (3 - 2*bend) // slow, quick, slow
	return math.Round(10*(end*bend+i.Tremor*math.Sin(7*s)*math.Cos(3.1*s))) / 10
}

// Stream gives a reading at each tick until the context ends or give refuses.
func (i Inclinometer) Stream(ctx context.Context, side body.Side, give func(degrees float64) error) error {
	tick := time.NewTicker(i.Every)
	defer tick.Stop()
	for n := 0; ; n++ {
		if err := give(i.At(side, time.Duration(n)*i.Every)); err != nil {
			return err
		}
		select {
		case <-ctx.Done():
			return nil
		case <-tick.C:
		}
	}
}
