package barefoot

import (
	"fmt"
	"math"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Pair is a shoe of the intake with its index.
type Pair struct {
	Name   string  `json:"name"`
	Index  float64 `json:"index" doc:"Minimalist Index, 0–100; −1 unknown"`
	DropMm float64 `json:"dropMm"`
	Ratio  float64 `json:"ratio" doc:"heel over forefoot stack; 0 unknown"`
}

// ShoeStep is one step to a thinner shoe.
type ShoeStep struct {
	From   Pair        `json:"from"`
	To     Pair        `json:"to"`
	Points float64     `json:"points" doc:"of the index"`
	Drop   float64     `json:"drop" doc:"change of drop, mm; negative: lower"`
	Dial   bool        `json:"dial" doc:"the drop alone counts as a move of the barefoot dial"`
	Fits   bool        `json:"fits" doc:"within one step"`
	Why    body.Reason `json:"why"`
}

// StepTo is the step from one shoe to another.
func StepTo(from, to Pair, h house.Rules) ShoeStep {
	most, drop := h.Get("barefoot.shoe.step"), h.Get("barefoot.shoe.drop")
	s := ShoeStep{From: from, To: to, Points: to.Index - from.Index, Drop: to.DropMm - from.DropMm}
	s.Dial = math.Abs(s.Drop) >= drop
	s.Fits = from.Index >= 0 && to.Index >= 0 && s.Points <= most
	s.Why = h.Because("barefoot.shoe", fmt.Sprintf("%s to %s: %.0f points thinner", from.Name, to.Name, s.Points), "barefoot.shoe.step",
		"barefoot.shoe.drop").See("drop", "%g → %g mm", from.DropMm, to.DropMm)
	s.Why.Formula = fmt.Sprintf("%.0f − %.0f = %.0f points, at most %.0f a step", to.Index, from.Index, s.Points, most)
	switch {
	case from.Index < 0 || to.Index < 0:
		s.Why.Says = "weigh and measure both shoes first: mass, stacks, flexibility"
	case !s.Fits:
		s.Why.Says += fmt.Sprintf("; too much at once: a shoe of %.0f to %.0f points is needed between", math.Max(from.Index, to.Index-most),
			from.Index+most)
	}
	if s.Dial {
		s.Why.Says += fmt.Sprintf("; the drop changes by %g mm, which counts as a move of the barefoot dial", math.Abs(s.Drop))
	}
	return s
}
