package build

import (
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

// Cell is one place a session may be moved to, or why not.
type Cell struct {
	Weekday int          `json:"weekday"`
	Slot    catalog.Slot `json:"slot"`
	Refused string       `json:"refused" doc:"why it may not stand here; empty when it may"`
}

// Moves weighs every place of the week for one session of a rail that stands on weekday from.
func Moves(cat catalog.Catalogue, plans []RailPlan, w Week, p body.Profile, rail string, from int, h house.Rules) []Cell {
	f := newFrame(cat, plans, p, Choices{}, h)
	i := slices.IndexFunc(f.rails, func(r planned) bool { return r.rail.ID == rail })
	out := []Cell{}
	if i < 0 {
		return out
	}
	var days [7][]Entry
	for d := range w.Days {
		for _, e := range w.Days[d].Entries {
			if d != from || e.Rail != rail {
				days[d] = append(days[d], e)
			}
		}
	}
	for d := range 7 {
		for _, s := range catalog.Slots {
			out = append(out, Cell{d, s, f.against(f.rails[i], days, d, s)})
		}
	}
	return out
}

// Recheck weighs a week that was laid out earlier against the runs, minutes and doses of now: what no longer
// fits where it stands, one line a day for what has the same reason.
func Recheck(cat catalog.Catalogue, plans []RailPlan, w Week, p body.Profile, h house.Rules) []body.Reason {
	f := newFrame(cat, plans, p, Choices{}, h)
	out := []body.Reason{}
	for d := range w.Days {
		names, order := map[string][]string{}, []string{}
		for _, e := range w.Days[d].Entries {
			i := slices.IndexFunc(f.rails, func(r planned) bool { return r.rail.ID == e.Rail })
			if i < 0 || f.rails[i].want == 0 {
				continue
			}
			var days [7][]Entry
			for k := range w.Days {
				days[k] = slices.DeleteFunc(slices.Clone(w.Days[k].Entries), func(o Entry) bool { return k == d && o.Rail == e.Rail })
			}
			if no := f.against(f.rails[i], days, d, e.Slot); no != "" {
				if names[no] == nil {
					order = append(order, no)
				}
				names[no] = append(names[no], e.Short)
			}
		}
		for _, no := range order {
			fits, what := "fits", "move it, or build again"
			if len(names[no]) > 1 {
				fits, what = "fit", "move one of them, or build again"
			}
			out = append(out, h.Because("week.no-longer", fmt.Sprintf("%s on %s no longer %s: %s", strings.Join(names[no], ", "),
				body.WeekdayName(d), fits, no)).See("what to do", "%s", what))
		}
	}
	return out
}

// Move takes a rail's session from one weekday to another place, when every hard rule allows it. The
// moved session is kept there from then on; the others stay where they are.
func Move(cat catalog.Catalogue, plans []RailPlan, w Week, p body.Profile, rail string, from, to int, slot catalog.Slot,
	h house.Rules) (Week, error) {
	if from < 0 || from > 6 || to < 0 || to > 6 || len(w.Days) != 7 {
		return w, body.Refuse("weekday", "is 0 Monday to 6 Sunday")
	}
	k := slices.IndexFunc(w.Days[from].Entries, func(e Entry) bool { return e.Rail == rail })
	if k < 0 {
		return w, body.Refuse("rail", "has no session on %s", body.WeekdayName(from))
	}
	cells := Moves(cat, plans, w, p, rail, from, h)
	at := slices.IndexFunc(cells, func(c Cell) bool { return c.Weekday == to && c.Slot == slot })
	switch {
	case at < 0: // a rail that is no longer planned, or no time of a day
		return w, body.Refuse("slot", "is no place of this week; choose one that is shown")
	case cells[at].Refused != "":
		return w, body.Refuse("slot", "%s", cells[at].Refused)
	}
	bounceLast := h.Choice(p.Approaches, "session_end") == "bounce"
	out := w
	out.Days = slices.Clone(w.Days)
	for d := range out.Days {
		out.Days[d].Entries = slices.Clone(w.Days[d].Entries)
	}
	e := out.Days[from].Entries[k]
	out.Days[from].Entries = slices.Delete(out.Days[from].Entries, k, k+1)
	e.Slot, e.Pinned = slot, true
	out.Days[to].Entries = append(out.Days[to].Entries, e)
	out.Days[from].tidy(bounceLast)
	out.Days[to].tidy(bounceLast)
	out.Why = h.Because("week.by-hand", fmt.Sprintf("%s was moved from %s to %s by the coach; the rest stands as it was", e.Short,
		body.WeekdayName(from), body.WeekdayName(to)))
	out.Proved = false
	return out, nil
}

// At returns the week with the minutes the rails take at the given doses.
func (w Week) At(plans []RailPlan) Week {
	out := w
	out.Days = slices.Clone(w.Days)
	for d := range out.Days {
		out.Days[d].Entries = slices.Clone(w.Days[d].Entries)
		for i, e := range out.Days[d].Entries {
			for _, p := range plans {
				if p.Rail == e.Rail && p.Chosen && p.Seconds > 0 {
					out.Days[d].Entries[i].Seconds = p.Seconds
				}
			}
		}
		out.Days[d].sum()
	}
	return out
}

// Pins lists the sessions of a week the coach keeps.
func (w Week) Pins() []PinnedPlace {
	out := []PinnedPlace{}
	for _, d := range w.Days {
		for _, e := range d.Entries {
			if e.Pinned {
				out = append(out, PinnedPlace{e.Rail, d.Weekday, e.Slot})
			}
		}
	}
	return out
}
