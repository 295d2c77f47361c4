package room

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/formats"
)

// generalCautions stand on every hand-out.
var generalCautions = []string{
	"Stop for sharp or rising pain, and tell your coach. See a professional for pain at night or at rest, pain on a bone, swelling, " +
		"numbness, or if you cannot take four steps.",
	"Chest pain, collapse or unusual breathlessness: call for help.",
	"Wall, rail or table within reach for balance. Check bands for tears. Cold only with a cloth between, never on skin that does not feel.",
	"This is coaching, not medical care; local rules come first.",
}

var slotWords = map[catalog.Slot]string{catalog.Before: "before the run", catalog.InRun: "inside the run", catalog.After: "after the run",
	catalog.Own: "session", catalog.Evening: "evening", catalog.Habit: "with daily chores"}

// Handout assembles so many days from a day on.
func (o Chart) Handout(from body.Date, days int) formats.Handout {
	h := formats.Handout{Runner: o.Name, From: from, Until: from.Add(days - 1), Days: []formats.HandoutDay{},
		Exercises: []formats.HandoutSheet{}, Advice: []string{},
		Cautions: slices.Clone(generalCautions), Locks: []string{}, Retests: []build.Retest{}}
	for _, c := range o.Facts().InForce() {
		h.Cautions = append(h.Cautions, c.Limits)
	}
	for _, s := range o.Stops {
		if s.Open() {
			sign, _ := refer.FindSign(s.Sign)
			h.Locks = append(h.Locks, sign.Question+" "+sign.Do)
		}
	}
	if o.Programme != nil {
		h.Advice = o.Programme.Plan.Advice
		for _, r := range o.Programme.Plan.Retests {
			if r.On >= from {
				h.Retests = append(h.Retests, r)
			}
		}
	}
	for i := range days {
		h.Days = append(h.Days, o.handoutDay(from.Add(i), &h))
	}
	slices.SortStableFunc(h.Exercises, func(a, b formats.HandoutSheet) int {
		at := func(s formats.HandoutSheet) int {
			return slices.IndexFunc(o.Catalogue.Rails, func(r catalog.Rail) bool { return r.Name == s.Rail })
		}
		return cmp.Compare(at(a), at(b))
	})
	return h
}

func (o Chart) handoutDay(on body.Date, h *formats.Handout) formats.HandoutDay {
	s := o.training(on)
	d := formats.HandoutDay{On: on, Slots: []formats.HandoutSlot{}, Kept: []string{}}
	for _, k := range s.kept {
		line := k.exercise.Name
		if k.side != body.Both {
			line += ", " + string(k.side)
		}
		if len(k.reasons) > 0 {
			line += ": " + k.reasons[0].Says
		}
		d.Kept = append(d.Kept, line)
	}
	if s.race != nil {
		d.Race = s.race.Says
	}
	d.Run, _ = o.Facts().RunOn(on)
	d.Bare = o.bareOn(on)
	for _, it := range s.items {
		i := slices.IndexFunc(d.Slots, func(x formats.HandoutSlot) bool { return x.Slot == it.slot })
		if i < 0 {
			d.Slots = append(d.Slots, formats.HandoutSlot{Slot: it.slot, Words: slotWords[it.slot], Lines: []formats.HandoutLine{}})
			i = len(d.Slots) - 1
		}
		line := formats.HandoutLine{Exercise: it.exercise.ID, Name: it.exercise.Name, Doses: []string{}}
		for _, side := range it.sides {
			text := side.dose.String()
			if side.side != body.Both {
				text = string(side.side) + " " + text
			}
			line.Doses = append(line.Doses, text)
			line.Short = line.Short || side.short != nil
		}
		if len(it.sides) == 2 && it.sides[0].dose == it.sides[1].dose {
			line.Doses = []string{it.sides[0].dose.String() + " each side"}
		}
		sheets := []item{it}
		if it.then != nil {
			line.Then = it.follows()
			sheets = append(sheets, item{rail: it.then.rail, exercise: it.then.exercise})
		}
		d.Slots[i].Lines = append(d.Slots[i].Lines, line)
		if it.slot != catalog.Habit && it.slot != catalog.InRun {
			d.Slots[i].Minutes += it.seconds() // seconds until the day is whole
		}
		for _, it := range sheets {
			explain(h, it)
		}
	}
	for i := range d.Slots {
		d.Slots[i].Minutes = (d.Slots[i].Minutes + 59) / 60
	}
	return d
}

// explain adds an exercise's sheet, once.
func explain(h *formats.Handout, it item) {
	if slices.ContainsFunc(h.Exercises, func(x formats.HandoutSheet) bool { return x.Exercise.ID == it.exercise.ID }) {
		return
	}
	drawing, _ := it.exercise.Drawing()
	sheet := formats.HandoutSheet{Exercise: it.exercise, Rail: it.rail.Name, Kit: []string{}, Drawing: drawing, Cautions: it.rail.Cautions}
	for _, n := range it.exercise.Needs {
		sheet.Kit = append(sheet.Kit, catalog.GearName(n))
	}
	h.Exercises = append(h.Exercises, sheet)
}

// Doses lists every prescription in force as a table, the first row its heading.
func (o Chart) Doses() [][]string {
	out := [][]string{{"rail", "side", "exercise", "dose", "sets", "amount", "unit", "load kg", "band", "tempo", "rest s", "sessions a week",
		"since", "parked", "not now", "wall cm", "stack mm", "hands"}}
	for _, rail := range o.Catalogue.Rails {
		for _, row := range o.Prescriptions {
			if row.Rail != rail.ID {
				continue
			}
			p := o.proposal(row).InForce()
			x, _ := rail.Exercise(p.Exercise)
			week := 0
			if o.Programme != nil {
				for _, d := range o.Week().Days {
					for _, e := range d.Entries {
						if e.Rail == rail.ID {
							week++
						}
					}
				}
			}
			parked := "no"
			if p.Parked {
				parked = "yes"
			}
			// What may not be done is named with its reason, without a dose.
			if a := o.limits(p.Side).Reach(rail, p.Exercise, p.Dose).May(rail, x); p.Parked || !a.May() {
				out = append(out, []string{rail.Name, string(p.Side), x.Name, "", "", "", "", "", "", "", "", fmt.Sprint(week), string(p.From), parked,
					cmp.Or(a.Says(), "parked"), "", "", ""})
				continue
			}
			out = append(out, []string{rail.Name, string(p.Side), x.Name, body.Plain(p.Dose.String()), fmt.Sprint(p.Dose.TotalSets()),
				fmt.Sprint(p.Dose.Amount()), p.Dose.Unit(),
				fmt.Sprintf("%g", p.Dose.LoadKg), p.Dose.Band, x.Tempo, fmt.Sprint(x.RestS), fmt.Sprint(week), string(p.From), parked, "",
				figure(p.Dose.WallCm), figure(p.Dose.StackMm), p.Dose.Hands})
		}
	}
	return out
}

// figure writes a number; nothing for none.
func figure(x float64) string {
	if x == 0 {
		return ""
	}
	return fmt.Sprintf("%g", x)
}

// runEvent is the run of a day where running was planned, for the four weeks ahead; gone where the fixed run does not stand.
func (o Chart) runEvent(on body.Date, words string) *formats.Planned {
	if o.RunningID == "" || on.Sub(o.Today) >= 28 ||
		!slices.ContainsFunc(o.Profile.Runs, func(r body.FixedRun) bool { return r.Weekday == on.Weekday() }) {
		return nil
	}
	p := formats.Planned{On: on, Kind: "run", Title: "Run"}
	if _, fixed := o.Facts().RunOn(on); fixed == nil {
		p.Gone = true
		return &p
	}
	p.Title, _, _ = strings.Cut(capital(words), ";")
	p.Lines = []string{words}
	return &p
}

// Calendar lists what a calendar shows from today on. A day that held a session in an earlier week and
// holds none now is listed as gone, so that calendars drop it.
func (o Chart) Calendar() []formats.Planned {
	out := o.bareEvents()
	if o.Programme == nil {
		return out
	}
	until := o.Programme.On.Add(7 * weeksAhead)
	for on := o.Today; on < until; on = on.Add(1) {
		p := formats.Planned{On: on, Kind: "session"}
		scratch := formats.Handout{}
		minutes := 0
		day := o.handoutDay(on, &scratch)
		if run := o.runEvent(on, day.Run); run != nil {
			out = append(out, *run)
		}
		for _, s := range day.Slots {
			p.Lines = append(p.Lines, fmt.Sprintf("%s:", capital(s.Words)))
			minutes += s.Minutes
			for _, l := range s.Lines {
				p.Lines = append(p.Lines, "- "+l.Name+": "+strings.Join(l.Doses, ", "))
				if l.Then != "" {
					p.Lines = append(p.Lines, "  then "+l.Then)
				}
			}
		}
		switch {
		case len(p.Lines) == 0 && !o.everHeld(on):
			continue
		case len(p.Lines) == 0:
			p.Gone, p.Title = true, "Foot strength"
		case minutes == 0:
			p.Title = "Foot strength: habits only"
		default:
			p.Title = fmt.Sprintf("Foot strength, %d min", minutes)
		}
		out = append(out, p)
	}
	for _, r := range o.Programme.Plan.Retests {
		if r.On >= o.Today {
			out = append(out, formats.Planned{On: r.On, Title: r.What, Kind: "retest"})
		}
	}
	return out
}

// everHeld reports whether an earlier week of this programme had something on the day.
func (o Chart) everHeld(on body.Date) bool {
	day := on.Sub(on.Monday())
	if len(o.Programme.Plan.Week.Days) == 7 && len(o.Programme.Plan.Week.Days[day].Entries) > 0 {
		return true
	}
	for _, w := range o.Weeks {
		if len(w.Week.Days) == 7 && len(w.Week.Days[day].Entries) > 0 {
			return true
		}
	}
	return false
}

func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }
