package load

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Footing is what is known of a runner's steps beside the run itself.
type Footing struct {
	Cadence float64 // own, steps of both feet a minute, for runs that tell none; 0 unknown
	Strike  string  // rearfoot, midfoot or forefoot at easy pace; empty unknown
}

// Factor is one thing that makes a step load the calf more.
type Factor struct {
	What string  `json:"what"`
	By   float64 `json:"by"`
}

// StepCount is how often the feet came down in a run, and as how many easy, flat rearfoot steps that counts for the calf.
type StepCount struct {
	Steps   int      `json:"steps" doc:"of both feet; 0 unknown"`
	Calf    int      `json:"calf" doc:"calf-load steps"`
	Factors []Factor `json:"factors"`
	Guessed bool     `json:"guessed,omitempty" doc:"by the runner's own cadence, the run tells none"`
}

// Steps counts a run's steps, cadence × minutes, and weighs them for the calf: by what comes down first, by what is worn, by pace
// and by climb. Factors are house rules. Nothing is counted where no cadence is known.
func (f Footing) Steps(r Run, h house.Rules) StepCount {
	out := StepCount{Factors: []Factor{}}
	spm := r.Cadence
	if spm == 0 {
		spm, out.Guessed = f.Cadence, true
	}
	if spm == 0 || r.Word != "" {
		return StepCount{Factors: []Factor{}}
	}
	steps := spm * r.Minutes
	by := func(what, key string, share float64) {
		if x := 1 + (h.Get(key)-1)*share; x != 1 {
			out.Factors = append(out.Factors, Factor{what, math.Round(x*1000) / 1000})
		}
	}
	switch {
	case r.Kind == BareRun:
		by("on bare feet", "calf.forefoot", 1)
	case f.Strike == "forefoot":
		by("forefoot strike", "calf.forefoot", 1)
	case f.Strike == "midfoot":
		by("midfoot strike", "calf.forefoot", 0.5)
	}
	if r.Kind == QualityRun || r.Kind == RaceRun {
		by("fast", "calf.fast", 1)
	}
	if r.Km > 0 && r.ClimbM > 0 { // mean grade over the whole run, %
		by(fmt.Sprintf("%.1f %% mean climb", r.ClimbM/r.Km/10), "calf.uphill", min(10, r.ClimbM/r.Km/10))
	} else if r.Kind == HillRun {
		by("hills, climb not told", "calf.uphill", 2)
	}
	calf := steps
	for _, x := range out.Factors {
		calf *= x.By
	}
	out.Steps, out.Calf = int(math.Round(steps)), int(math.Round(calf))
	return out
}

// StepShare is a part of the steps: in one shoe, on one ground, uphill or not.
type StepShare struct {
	What string `json:"what" enum:"strike,shoe,surface,slope"`
	Name string `json:"name"`
	Calf int    `json:"calf" doc:"calf-load steps"`
}

// Shares splits the calf-load steps of runs by strike, shoe, ground and slope; what was not told stands as such.
func (f Footing) Shares(runs []Run, h house.Rules) []StepShare {
	out := []StepShare{}
	add := func(what, name string, calf int) {
		if name == "" {
			name = "not told"
		}
		for i := range out {
			if out[i].What == what && out[i].Name == name {
				out[i].Calf += calf
				return
			}
		}
		out = append(out, StepShare{what, name, calf})
	}
	for _, r := range runs {
		c := f.Steps(r, h)
		if c.Steps == 0 {
			continue
		}
		strike, slope := f.Strike, ""
		if r.Kind == BareRun {
			strike = "on bare feet"
		}
		switch {
		case r.Km > 0 && r.ClimbM/r.Km >= 20, r.Kind == HillRun: // 2 % and more
			slope = "hilly"
		case r.Km > 0:
			slope = "flat or rolling"
		}
		add("strike", strike, c.Calf)
		add("shoe", r.Shoe, c.Calf)
		add("surface", r.Surface, c.Calf)
		add("slope", slope, c.Calf)
	}
	order := map[string]int{"strike": 0, "shoe": 1, "surface": 2, "slope": 3}
	slices.SortStableFunc(out, func(a, b StepShare) int {
		return cmp.Or(cmp.Compare(order[a.What], order[b.What]), cmp.Compare(b.Calf, a.Calf))
	})
	return out
}

// Because says how a run's steps were counted.
func (c StepCount) Because(r Run, h house.Rules) body.Reason {
	says := fmt.Sprintf("%d steps, for the calf as many as %d easy flat ones", c.Steps, c.Calf)
	if c.Steps == 0 {
		says = "steps not counted: no cadence is known"
	}
	if c.Guessed && c.Steps > 0 {
		says += "; by the runner's own cadence, the run tells none"
	}
	out := h.Because("load.steps", says, "calf.forefoot", "calf.fast", "calf.uphill").SeeOn(r.On, "run", "%.0f min", r.Minutes)
	out.Formula = fmt.Sprintf("%d", c.Steps)
	for _, x := range c.Factors {
		out = out.SeeOn(r.On, x.What, "× %g", x.By)
		out.Formula += fmt.Sprintf(" × %g", x.By)
	}
	out.Formula += fmt.Sprintf(" = %d", c.Calf)
	return out
}
