package standin

import (
	"math"
	"math/rand/v2"
)

// Walker is a simulated runner with a phone and a known cadence, who counts their own steps or lets the phone feel them.
type Walker struct {
	Cadence float64 // steps a minute, in the long run
	Step    float64 // spread of a step's time, as a share of it
	Drift   float64 // spread of a stretch's own cadence, as a share
	Uneven  float64 // how much longer a left step is than a right one, as a share
	Slip    float64 // how often a count of 15 s is one too many or too few
	Shake   float64 // m/s², of the phone at each step
	Swing   float64 // m/s², of an arm once a stride
	Noise   float64 // m/s²
}

// footfalls are the times of a stretch's footfalls in s, the first at 0, until past its end.
func (w Walker) footfalls(r *rand.Rand, long float64) []float64 {
	cadence := w.Cadence * (1 + w.Drift*r.NormFloat64())
	out, left := []float64{0}, r.IntN(2)
	for i := 0; out[len(out)-1] <= long; i++ {
		side := w.Uneven / 2
		if i%2 == left {
			side = -side
		}
		out = append(out, out[len(out)-1]+60/cadence*(1+side+w.Step*r.NormFloat64()))
	}
	return out
}

// Count is what the walker counts in 15 s: footfalls after one that is zero. They start and stop by a clock they look at.
func (w Walker) Count(r *rand.Rand) int {
	n := 0
	end := 15 + 0.05*r.NormFloat64()
	for _, at := range w.footfalls(r, 16)[1:] {
		if at <= end {
			n++
		}
	}
	if r.Float64() < w.Slip {
		n += 2*r.IntN(2) - 1
	}
	return n
}

// Stretch is what the phone feels in 15 s, read about 60 times a second: ms since the first reading, and m/s².
func (w Walker) Stretch(r *rand.Rand) (ms, a []float64) {
	falls := w.footfalls(r, 18)
	begin := 60 / w.Cadence * r.Float64() // nobody presses on a footfall
	for at, i := begin, 0; at < begin+15.1; at += (1 + 0.2*r.Float64()) / 66 {
		for falls[i+1] <= at {
			i++
		}
		step := (at - falls[i]) / (falls[i+1] - falls[i])
		stride := (float64(i%2) + step) / 2
		shake := math.Cos(2*math.Pi*step) + 0.4*math.Cos(4*math.Pi*step+0.7) + 0.2*math.Cos(6*math.Pi*step)
		a = append(a, math.Abs(9.81+w.Shake*shake+w.Swing*math.Cos(2*math.Pi*stride)+w.Noise*r.NormFloat64()))
		ms = append(ms, math.Round(10000*(at-begin))/10)
	}
	return ms, a
}
