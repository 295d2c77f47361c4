package build

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
)

// calfWork is what is chosen already of straight, bent and toe-extended raises, forefoot and split holds.
type calfWork struct {
	programmes []string // rails; both lowering rails are one
	alone      string   // a published programme, which is the whole ceiling
	sets       int      // at level 3 and above, a week and leg
}

// calfInForce finds the published programme that is followed to its end.
func (v view) calfInForce() calfWork {
	var w calfWork
	for _, c := range v.in.Current {
		rail, _ := v.cat.Find(c.Rail)
		x, ok := rail.Exercise(c.Exercise)
		if ok && !c.Parked && rail.OneProgramme() != "" && published(rail, x) && !slices.Contains(v.in.Choices.Without, rail.ID) {
			w.alone = rail.OneProgramme()
		}
	}
	return w
}

func published(rail catalog.Rail, x catalog.Exercise) bool {
	return rail.Protocol != "" || x.Published() && x.Has(body.RM)
}

// add weighs one more rail against the calf ceiling: at most so many rails, so many hard sets a week and leg;
// a published programme alone is the whole ceiling. It trims the rail's sessions to what is left, and says
// why when it has to stay out.
func (w *calfWork) add(v view, p *RailPlan, rail catalog.Rail) (no string, keys []string) {
	name := rail.OneProgramme()
	if name == "" || len(p.Prescriptions) == 0 {
		return "", nil
	}
	alone, sets := false, 0
	for _, pr := range p.Prescriptions {
		if x, ok := rail.Exercise(pr.Exercise); ok && !pr.Parked {
			alone = alone || published(rail, x)
			if x.Level >= 3 {
				sets = max(sets, pr.Dose.TotalSets()*pr.Dose.Times())
			}
		}
	}
	h := v.in.House
	most, key := h.Int("build.calf.sets"), "build.calf.sets"
	if p.ByHand && v.in.Choices.Why[rail.ID] != "" && !v.aboveUsual() {
		most, key = h.Int("build.calf.sets.override"), "build.calf.sets.override"
	}
	known := slices.Contains(w.programmes, name)
	switch {
	case w.alone != "" && w.alone != name:
		return "left out: a published calf programme is the whole calf work", nil
	case alone && len(w.programmes) > 0 && !known:
		return "left out: a published calf programme stands alone, and calf work is chosen already", nil
	case !known && len(w.programmes) >= h.Int("build.calf.rails"):
		return "left out: enough calf rails at once", []string{"build.calf.rails"}
	}
	if wanted := p.PerWeek; !alone && sets > 0 {
		for p.PerWeek > 0 && w.sets+sets*p.PerWeek > most {
			p.PerWeek--
		}
		if p.PerWeek == 0 {
			p.PerWeek = wanted
			return fmt.Sprintf("left out: %d hard calf sets a week stand already, at most %d", w.sets, most), []string{key}
		}
		if p.PerWeek < wanted {
			p.Why = p.Why.See("hard calf sets", "%d of at most %d a week: %d sessions instead of %d", w.sets+sets*p.PerWeek, most, p.PerWeek, wanted)
		}
	}
	if !known {
		w.programmes = append(w.programmes, name)
	}
	if alone {
		w.alone = name
	}
	w.sets += sets * p.PerWeek
	return "", nil
}

// aboveUsual reports a watched place whose newest number, at most a week old, stands above its usual.
func (v view) aboveUsual() bool {
	u := NewUsuals(v.in.Profile, v.in.Mornings, nil)
	for _, m := range v.in.Facts().Marks {
		for _, leg := range body.Sides {
			if m.Side.Touches(leg) && v.in.Today.Sub(m.On) <= 7 && float64(m.Pain) > u.At(m.Region, leg, m.On) {
				return true
			}
		}
	}
	return false
}
