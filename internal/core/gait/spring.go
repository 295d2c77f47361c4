package gait

import (
	"cmp"
	"fmt"
	"math"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// g is standard gravity, m/s².
const g = 9.80665

// Spring is the spring–mass model of running.
// Source: Morin, Dalleau, Kyröläinen, Jeannin & Belli 2005, J Appl Biomech 21:167.
type Spring struct {
	Fmax        float64 // highest vertical force, N
	Drop        float64 // Δy, fall of the centre of mass during contact, m
	Oscillation float64 // Δy plus the rise in flight, m
	Vertical    float64 // stiffness Fmax/Δy, N/m
	Shortening  float64 // ΔL of the leg, m; 0 without leg length and speed
	Leg         float64 // stiffness Fmax/ΔL, N/m; 0 without leg length and speed
}

// BodyWeights is the highest force as a multiple of body weight: (π/2)(tf/tc + 1).
func BodyWeights(tc, tf float64) float64 { return math.Pi / 2 * (tf/tc + 1) }

// SpringOf computes the model from mass (kg), leg length (m), speed on the level (m/s), contact and
// flight time (s). Leg length and speed may be 0: then only the vertical part is computed. It reports
// false where the model does not hold: no flight, or half the contact's path longer than the leg.
//
//	Fmax = m g (π/2)(tf/tc + 1)      Δy = Fmax tc²/(m π²) − g tc²/8
//	oscillation = Δy + g tf²/8       ΔL = L − √(L² − (v tc/2)²) + Δy
func SpringOf(mass, leg, speed, tc, tf float64) (Spring, bool) {
	if mass <= 0 || tc <= 0 || tf <= 0 || leg < 0 || speed < 0 {
		return Spring{}, false
	}
	s := Spring{Fmax: mass * g * BodyWeights(tc, tf)}
	s.Drop = s.Fmax*tc*tc/(mass*math.Pi*math.Pi) - g*tc*tc/8
	s.Oscillation = s.Drop + g*tf*tf/8
	s.Vertical = s.Fmax / s.Drop
	if leg > 0 && speed > 0 {
		half := speed * tc / 2
		if half >= leg {
			return Spring{}, false
		}
		s.Shortening = leg - math.Sqrt(leg*leg-half*half) + s.Drop
		s.Leg = s.Fmax / s.Shortening
	}
	return s, true
}

// Body is what forces and shares need of the runner.
type Body struct {
	MassKg   float64 // 0 unknown
	LegMm    float64 // hip bone to inner ankle, as at intake; 0 unknown
	HeightCm float64 // 0 unknown
}

// hipToFloor is the model's leg, in m with its standard error: 0.53 of body height, else the leg length
// of the intake, which comes close to it.
func (b Body) hipToFloor(h house.Rules) (length, se float64, how string) {
	se = h.Get("clip.leg.se") / 1000
	switch {
	case b.HeightCm > 0:
		return 0.53 * b.HeightCm / 100, 2 * se, "0.53 × height, not measured"
	case b.LegMm > 0:
		return b.LegMm / 1000, 2 * se, "hip bone to inner ankle, not hip to floor"
	}
	return 0, 0, ""
}

// leg is the leg length shares are taken of, in m with its standard error.
func (b Body) leg(h house.Rules) (length, se float64) {
	se = h.Get("clip.leg.se") / 1000
	switch {
	case b.LegMm > 0:
		return b.LegMm / 1000, se
	case b.HeightCm > 0:
		return 0.53 * b.HeightCm / 100, 2 * se
	}
	return 0, 0
}

// propagated is the standard error of a figure of contact time, flight time, leg length and speed: first order, with
// numerical slopes; cov is how contact and flight vary together, s².
func propagated(here, se [4]float64, cov float64, of func([4]float64) (float64, bool)) float64 {
	var slope [4]float64
	for i := range here {
		if se[i] == 0 {
			continue
		}
		step := math.Max(se[i]/100, 1e-7)
		up, down := here, here
		up[i] += step
		down[i] -= step
		a, okA := of(up)
		z, okZ := of(down)
		if okA && okZ {
			slope[i] = (a - z) / (2 * step)
		}
	}
	v := 2 * slope[0] * slope[1] * cov
	for i := range slope {
		v += slope[i] * slope[i] * se[i] * se[i]
	}
	return math.Sqrt(math.Max(0, v))
}

// why is what the model was given.
func (p pairTimes) why(h house.Rules, says string, keys ...string) body.Reason {
	return h.Because("clip.spring", says, keys...).See("contact", "%.0f ms", 1000*p.tc).See("flight", "%.0f ms", 1000*p.tf)
}

// refused is a highest force that the model does not give.
func (p pairTimes) refused(h house.Rules, word string) []Figure {
	return []Figure{{ID: "force", Name: "Highest force", Group: "forces", Side: body.Both, Unit: "BW", N: p.n, Word: word,
		Reason: p.why(h, word)}}
}

// Forces reads the spring–mass model from the marked times.
func Forces(c Clip, b Body, h house.Rules) []Figure {
	k := newClock(c, h)
	p, ok := k.pair(k.free())
	if !ok {
		return nil
	}
	leg, legSE, how := b.hipToFloor(h)
	speed, mass := c.Context.SpeedKmh/3.6, cmp.Or(max(0, b.MassKg), 1) // body weights need no mass; stiffness is left out below
	if c.Context.SlopePct != 0 {
		speed = 0 // the model is for level ground
	}
	at := func(x [4]float64) (Spring, bool) { return SpringOf(mass, x[2], x[3], x[0], x[1]) }
	here := [4]float64{p.tc, p.tf, leg, speed}
	model, ok := at(here)
	switch {
	case p.tf <= 0:
		return p.refused(h, "no flight phase: the model is for running")
	case !ok:
		return p.refused(h, "the path during contact is longer than the leg allows: check speed, leg length and capture rate")
	}
	se := [4]float64{math.Sqrt(p.vc), math.Sqrt(p.vf), legSE, speed * h.Get("clip.speed.se") / 100}
	propagate := func(of func(Spring) float64) float64 {
		return propagated(here, se, p.cov, func(x [4]float64) (float64, bool) { m, ok := at(x); return of(m), ok })
	}
	why := p.why(h, "computed by the spring–mass model from the times, not measured", "clip.force.enough", "clip.leg.se", "clip.speed.se")
	why.Provenance, why.Source = body.Memory, "Morin et al. 2005, J Appl Biomech 21:167"
	if b.MassKg > 0 {
		why = why.See("body mass", "%s", body.In("kg", "%g", b.MassKg))
	}
	if leg > 0 && speed > 0 {
		why = why.See("leg length", "%.0f mm, %s", 1000*leg, how).See("speed", "%s", body.In("km/h", "%g", c.Context.SpeedKmh))
	}
	out := []Figure{}
	add := func(id, name, unit, formula string, enough float64, of func(Spring) float64) {
		f := Figure{ID: id, Name: name, Group: "forces", Side: body.Both, Unit: unit, N: p.n, Value: of(model), SE: propagate(of)}
		f.Half = 1.96 * f.SE
		f.Answers = enough == 0 || f.Half <= enough
		if !f.Answers {
			f.Word = fmt.Sprintf("too coarse: ± %.2g where ± %g is needed", f.Half, enough)
		}
		r := why
		r.Formula = formula
		f.Reason = r
		out = append(out, f)
	}
	add("force", "Highest force", "BW", fmt.Sprintf("(π/2)(tf/tc + 1) = %.2f body weights; running usually 2–3 (Nilsson & Thorstensson 1989)",
		BodyWeights(p.tc, p.tf)), h.Get("clip.force.enough"), func(s Spring) float64 { return s.Fmax / (mass * g) })
	add("oscillation.model", "Oscillation, from times", "cm", "Δy + g tf²/8 with Δy = Fmax tc²/(m π²) − g tc²/8", 0,
		func(s Spring) float64 { return 100 * s.Oscillation })
	if b.MassKg > 0 {
		add("stiffness.vertical", "Vertical stiffness", "kN/m", "Fmax / Δy", 0, func(s Spring) float64 { return s.Vertical / 1000 })
		if model.Leg > 0 {
			add("stiffness.leg", "Leg stiffness", "kN/m", "Fmax / ΔL with ΔL = L − √(L² − (v tc/2)²) + Δy", 0,
				func(s Spring) float64 { return s.Leg / 1000 })
		}
	}
	return out
}
