package screen

import (
	"fmt"
	"math"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// ShoeIndex is what the figures of a shoe come to.
type ShoeIndex struct {
	Name     string      `json:"name"`
	Index    float64     `json:"index" doc:"Minimalist Index, 0–100; −1 when a figure is missing"`
	DropMm   float64     `json:"dropMm"`
	Ratio    float64     `json:"ratio" doc:"heel over forefoot stack; 0 unknown"`
	Narrow   float64     `json:"narrow" doc:"foot width minus toe box, mm; positive: the shoe is narrower than the foot"`
	Warnings []string    `json:"warnings"`
	Reason   body.Reason `json:"reason"`
}

// score gives 5 below the first limit, one less for each limit reached.
func score(value float64, limits ...float64) float64 {
	n := 5.0
	for _, l := range limits {
		if value >= l {
			n--
		}
	}
	return n
}

// MinimalistIndex sums five scores of 0–5 over 25, in %: mass, heel stack, drop, technologies and
// flexibility. A stack of 0 mm is unknown. Source: Esculier et al. 2015, J Foot Ankle Res 8:42.
func MinimalistIndex(s body.Shoe, footWidthMm float64) ShoeIndex {
	out := ShoeIndex{Name: s.Name, Index: -1, DropMm: s.HeelMm - s.ForefootMm, Warnings: []string{}}
	r := house.Rules{}.Because("shoes.minimalist-index", "five scores of 0–5, their sum over 25")
	r.Provenance, r.Source = body.Memory, "Esculier et al. 2015, J Foot Ankle Res 8:42"
	if s.WidthMm > 0 && footWidthMm > 0 {
		if out.Narrow = footWidthMm - s.WidthMm; out.Narrow > 0 {
			out.Warnings = append(out.Warnings, fmt.Sprintf("Narrower than the foot by %.0f mm: it costs toe range.", out.Narrow))
		}
	}
	if s.HeelMm > 0 && s.ForefootMm > 0 {
		out.Ratio = math.Round(10*s.HeelMm/s.ForefootMm) / 10
		if out.Ratio >= 2 {
			out.Warnings = append(out.Warnings, fmt.Sprintf("Heel %.1f times the forefoot: the shoe rolls the runner forward for free.", out.Ratio))
		}
	}
	if s.MassG == 0 || s.HeelMm == 0 || s.ForefootMm == 0 {
		r.Says = "mass and both stacks are needed"
		out.Reason = r
		return out
	}
	mass, heel := score(s.MassG, 125, 175, 225, 275, 325), score(s.HeelMm, 8, 14, 20, 26, 32)
	drop, tech := score(out.DropMm, 1, 4, 7, 10, 13), math.Max(0, 5-float64(s.Technologies))
	if !s.FlexKnown() {
		least := mass + heel + drop + tech + s.Lengthwise + s.Twisting
		most := least
		for _, part := range []float64{s.Lengthwise, s.Twisting} {
			if part == 0 {
				most += 2.5
			}
		}
		r.Says = fmt.Sprintf("flexibility is not known: between %.0f and %.0f %%. Bend and twist the shoe by hand", 4*least, 4*most)
		out.Reason = r
		return out
	}
	flex := s.Lengthwise + s.Twisting
	out.Index = (mass + heel + drop + tech + flex) / 25 * 100
	r = r.See("mass", "%g g → %g", s.MassG, mass).See("heel stack", "%g mm → %g", s.HeelMm, heel).See("drop", "%g mm → %g", out.DropMm, drop).
		See("technologies", "%d → %g", s.Technologies, tech).See("flexibility", "%g + %g → %g", s.Lengthwise, s.Twisting, flex)
	r.Formula = fmt.Sprintf("(%g + %g + %g + %g + %g) / 25 × 100 = %.0f %%", mass, heel, drop, tech, flex, out.Index)
	out.Reason = r
	return out
}

// Shoe is the index of a pair with all that is to be minded of it.
func Shoe(s body.Shoe, footWidthMm float64, today body.Date, h house.Rules) ShoeIndex {
	out := MinimalistIndex(s, footWidthMm)
	out.Warnings = append(out.Warnings, wear(s, today, h)...)
	return out
}

// wear says what the age, the distance and the worn places of a pair ask to be minded. Common practice, no source.
func wear(s body.Shoe, today body.Date, h house.Rules) []string {
	out := []string{}
	if s.Km >= h.Get("shoes.km") {
		out = append(out, "Run down at "+body.In("km", "%.0f", s.Km)+": change to a new pair over two weeks, not on one day.")
	} else if s.Bought != "" && today.Sub(s.Bought) >= int(30.4*h.Get("shoes.months")) {
		out = append(out, fmt.Sprintf("Bought %s: foam stiffens with age even unused; look before more running goes into it.", s.Bought))
	}
	if s.Worn != "" {
		out = append(out, "Worn at: "+s.Worn+". Compare left and right, and with how the foot lands on the clip.")
	}
	return out
}
