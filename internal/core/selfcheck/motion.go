package selfcheck

import (
	"math"
	"slices"

	"notchback/internal/core/body"
)

// Stretch is some seconds of a phone's acceleration, without its direction.
type Stretch struct {
	Ms []float64 `json:"ms" maxItems:"3000" doc:"time of each reading since the first, ms"`
	A  []float64 `json:"a" maxItems:"3000" doc:"size of the acceleration at each, m/s²"`
}

// The cadences that are looked for, steps a minute. They lie within less than an octave: what an arm does once a stride is
// half a step's frequency and cannot be mistaken for a step.
const (
	slowest = 126.0
	fastest = 234.0
)

// perSecond is how often a stretch is read again, evenly.
const perSecond = 32.0

// Steps is the cadence of a stretch of running, in steps a minute: the frequency whose half (one stride), whole (one step) and
// double explain most of the movement. It refuses what is too short, too sparse or no steady running.
func Steps(s Stretch) (float64, error) {
	x, err := s.even()
	if err != nil {
		return 0, err
	}
	all := 0.0
	for _, v := range x {
		all += v * v
	}
	if all/float64(len(x)) < 1 { // m²/s⁴: running shakes a phone by several m/s²
		return 0, body.Refuse("motion", "felt no running; hold the phone in the hand or wear it at the waist, and run")
	}
	best, most, own := 0.0, 0.0, 0.0
	try := func(from, to, by float64) {
		for spm := from; spm <= to; spm += by {
			if stride, step := explained(x, spm/60); stride+step > most {
				best, most, own = spm, stride+step, step
			}
		}
	}
	try(slowest, fastest, 1)
	try(best-1, best+1, 0.1)
	try(best-0.1, best+0.1, 0.01)
	// Of n readings of nothing but noise three frequencies explain about 6/n; so much more is no chance.
	// What moves at the stride alone is a walk, or an arm.
	if most/all < 0.25 || own/most < 0.15 || best <= slowest || best >= fastest {
		return 0, body.Refuse("motion", "felt no steady steps; run evenly, or count them")
	}
	return best, nil
}

// even reads a stretch at even times, without its mean and its slow drift, each end faded out.
func (s Stretch) even() ([]float64, error) {
	if len(s.Ms) != len(s.A) || len(s.Ms) < 2 || !slices.IsSorted(s.Ms) || slices.ContainsFunc(append(slices.Clone(s.Ms), s.A...), bad) {
		return nil, body.Refuse("motion", "is no row of readings in order of time")
	}
	long := (s.Ms[len(s.Ms)-1] - s.Ms[0]) / 1000
	if long < 12 || float64(len(s.Ms))/long < 15 {
		return nil, body.Refuse("motion", "holds %.0f s with %d readings; it takes 15 s with at least 15 a second", long, len(s.Ms))
	}
	n := int(long * perSecond)
	out := make([]float64, n)
	sum, j := 0.0, 0
	for i := range out {
		at := s.Ms[0] + 1000*float64(i)/perSecond
		for j < len(s.Ms)-2 && s.Ms[j+1] <= at {
			j++
		}
		if gap := s.Ms[j+1] - s.Ms[j]; gap > 500 {
			return nil, body.Refuse("motion", "stopped for %.1f s on the way; keep the page open", gap/1000)
		}
		share := 0.0
		if s.Ms[j+1] > s.Ms[j] {
			share = (at - s.Ms[j]) / (s.Ms[j+1] - s.Ms[j])
		}
		out[i] = s.A[j] + share*(s.A[j+1]-s.A[j])
		sum += out[i]
	}
	for i := range out {
		out[i] -= sum / float64(n)
	}
	return out, nil
}

func bad(v float64) bool { return math.IsNaN(v) || math.IsInf(v, 0) }

// explained is how much of the sum of squares the stride explains, and the step with twice the step. f is in steps a second.
func explained(x []float64, f float64) (stride, step float64) {
	of := func(f float64) float64 {
		sin, cos := 0.0, 0.0
		ws, wc := math.Sincos(2 * math.Pi * f / perSecond)
		s, c := 0.0, 1.0
		for _, v := range x {
			sin, cos = sin+v*s, cos+v*c
			s, c = s*wc+c*ws, c*wc-s*ws
		}
		return 2 * (sin*sin + cos*cos) / float64(len(x))
	}
	return of(f / 2), of(f) + of(2*f)
}

// Felt turns stretches into tries of the cadence; one that holds no steady running is kept as left out, with why.
func Felt(stretches []Stretch) []Try {
	out := []Try{}
	for _, s := range stretches {
		t := Try{Item: "cadence", Side: body.Both, Sensor: true}
		spm, err := Steps(s)
		if t.Value = math.Round(100*spm) / 100; err != nil {
			t.Skipped = err.Error()
		}
		out = append(out, t)
	}
	return out
}
