package build

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Morning is one morning mark: first-step pain at one place and side.
type Morning struct {
	ID        string      `json:"id"`
	On        body.Date   `json:"on"`
	Region    body.Region `json:"region"`
	Side      body.Side   `json:"side" enum:"left,right,both"`
	Pain      int         `json:"pain" doc:"first-step pain, 0–10"`
	Stiffness int         `json:"stiffness" doc:"minutes until it eases"`
}

// Check refuses a mark that cannot be.
func (m Morning) Check(today body.Date) error {
	switch {
	case !m.On.Valid() || m.On > today || m.On < today.Add(-60):
		return body.Refuse("on", "must be a day of the last 60, not after today")
	case !m.Region.Valid() || !m.Side.Valid():
		return body.Refuse("region", "say where on the map, and which side")
	case m.Pain < 0 || m.Pain > 10:
		return body.Refuse("pain", "is %d; enter a whole number from 0 to 10", m.Pain)
	case m.Stiffness < 0 || m.Stiffness > 720:
		return body.Refuse("stiffness", "is %d; enter 0 to 720 min", m.Stiffness)
	}
	return nil
}

// Usual is the level morning pain is measured against, per place and side.
type Usual struct {
	Region body.Region `json:"region"`
	Side   body.Side   `json:"side" enum:"left,right,both"`
	Level  float64     `json:"level"`
	Reason body.Reason `json:"reason"`
}

// UsualMornings gives the level each morning is compared with: per place and side the median of the
// last seven reports, when there are at least four, else what intake recorded. Places without a
// symptom or a report are usually 0.
func UsualMornings(p body.Profile, mornings []Morning, today body.Date) []Usual {
	out := []Usual{}
	for _, w := range Watched(p) {
		u := Usual{Region: w.Region, Side: w.Side, Level: float64(w.Baseline)}
		u.Reason = house.Rules{}.Because("usual.intake", "usual morning as recorded at intake").See(w.Region.Name()+", "+string(w.Side), "%d of 10", w.Baseline)
		var last []float64
		sorted := slices.Clone(mornings)
		slices.SortStableFunc(sorted, func(a, b Morning) int { return int(b.On.Sub(a.On)) })
		r := house.Rules{}.Because("usual.median", "usual morning: median of the last seven reports")
		for _, m := range sorted {
			if m.Region == w.Region && m.Side.Touches(w.Side) && m.On <= today && len(last) < 7 {
				last = append(last, float64(m.Pain))
				r = r.SeeOn(m.On, "morning", "%d of 10", m.Pain)
			}
		}
		if len(last) >= 4 {
			u.Level, u.Reason = stats.Median(last), r
			u.Reason.Formula = fmt.Sprintf("median of %d reports = %g", len(last), u.Level)
		}
		out = append(out, u)
	}
	return out
}

// Watched lists the places asked about each morning: the runner's symptoms, one row a side; without
// any, both heels.
func Watched(p body.Profile) []body.Symptom {
	out := []body.Symptom{}
	add := func(s body.Symptom, side body.Side) {
		s.Side = side
		for i, o := range out {
			if o.Region == s.Region && o.Side == side {
				out[i].Baseline = max(o.Baseline, s.Baseline)
				return
			}
		}
		out = append(out, s)
	}
	for _, s := range p.Symptoms {
		for _, side := range body.Sides {
			if s.Side.Touches(side) {
				add(s, side)
			}
		}
	}
	if len(out) == 0 {
		for _, side := range body.Sides {
			out = append(out, body.Symptom{Region: body.Heel, Side: side})
		}
	}
	return out
}
