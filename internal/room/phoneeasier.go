package room

import (
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
)

// easier is an item as its runner may do it instead on a day, because it is too hard: every side one back, all at one exercise, none
// that a limit or the calendar keeps out.
func (o Chart) easier(it item, on body.Date) (item, bool) {
	rail, _ := o.Catalogue.Find(it.rail.ID)
	out := item{rail: it.rail, slot: it.slot}
	for _, s := range it.sides {
		p := s.prescriptions[0]
		p.Dose = s.dose
		to, ok := adjust.Easier(o.AdjustInput(p))
		x, _ := rail.Exercise(to.Exercise)
		if !ok || len(out.sides) > 0 && x.ID != out.exercise.ID {
			return out, false
		}
		a := o.limits(p.Side).Reach(rail, x.ID, to.Dose).May(rail, x)
		dose, no, note := o.calendar().Judge(o.standing(rail, x, it.slot, on, to))
		if !a.May() || no != nil {
			return out, false
		}
		dose, out.exercise, out.notes = a.Of(dose), x.Under(o.approach), a.Notes
		if note != "" {
			out.notes = append(slices.Clone(a.Notes), note)
		}
		rows := slices.Clone(s.prescriptions)
		for i, row := range rows {
			if rows[i], ok = adjust.AsShown(rail, row, adjust.Shown{Exercise: x.ID, Dose: dose}, o.Profile.MassKg); !ok {
				return out, false
			}
		}
		if !x.EachSide && len(out.sides) > 0 { // both legs at once
			if out.sides[0].dose != dose {
				return out, false
			}
			out.sides[0].prescriptions = append(out.sides[0].prescriptions, rows...)
			continue
		}
		side := s.side
		if !x.EachSide {
			side = body.Both
		}
		out.sides = append(out.sides, itemSide{side: side, dose: dose, prescriptions: rows})
	}
	return out, len(out.sides) > 0
}
