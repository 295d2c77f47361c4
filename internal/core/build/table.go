package build

import (
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
)

// Table is docs/permissions.md: what core/permit says, then what phases, approaches, races and quality runs take
// away. The rows are made by asking the limits themselves, for a runner with all the kit and every test good.
func Table(h house.Rules) string {
	var b strings.Builder
	b.WriteString(permit.Table(h))
	free := able(h)
	b.WriteString("\n## Phases\n\nPhases are left by criteria, never by weeks; a criterion that was never tested is not met. What a phase " +
		"closes keeps its dose and waits.\n\n| phase | takes away | exercises |\n|---|---|---|\n")
	for _, p := range []struct {
		phase Phase
		words string
	}{
		{Calm, "of the sore leg: what would start at level 3 and above, with bouncing, or loaded below level; loads at a repetitions-maximum"},
		{Wake, "loads at a repetitions-maximum"}, {Build, "loads at a repetitions-maximum"}, {Load, "nothing by itself"},
		{Bounce, "nothing by itself"}, {Keep, "nothing by itself; one or two sessions a week"},
	} {
		l := free
		l.NoRM = NoRM(p.phase)
		if p.phase == Calm {
			l.Calm = []body.Side{body.Left}
		}
		fmt.Fprintf(&b, "| %s | %s | %s |\n", p.phase, p.words, closed(free, l))
	}
	approachTable(&b)
	raceTable(&b, h)
	return body.Plain(b.String())
}

func approachTable(b *strings.Builder) {
	b.WriteString("\n## Approaches\n\nWhere practitioners disagree; chosen for each runner. An approach takes away the rails of the other " +
		"schools, unless the coach brings one in. In Calm an approach to the sore heel may bring one in.\n\n| question | option | leaves out | " +
		"brings into Calm |\n|---|---|---|---|\n")
	for _, a := range house.Approaches {
		for _, o := range a.Options {
			var out, in []string
			for _, r := range catalog.Shipped.Rails {
				if only := r.Only[a.ID]; len(only) > 0 && !slices.Contains(only, o.ID) {
					out = append(out, r.Name)
				}
				if slices.Contains(r.Calm[a.ID], o.ID) {
					in = append(in, r.Name)
				}
			}
			if len(out)+len(in) > 0 {
				fmt.Fprintf(b, "| %s | %s | %s | %s |\n", a.Question, o.Name, dash(out), dash(in))
			}
		}
	}
}

func raceTable(b *strings.Builder, h house.Rules) {
	fmt.Fprintf(b, "\n## Races and quality runs\n\nA goal race is what the coach plans for, at most one in four weeks; every other race "+
		"counts as a quality run, as does any run over %d min. These leave out the day's session and change no dose.\n\n| when | left out "+
		"|\n|---|---|\n", h.Int("week.quality.minutes"))
	for _, r := range [][2]string{
		{fmt.Sprintf("within %d days before a goal race", h.Int("race.taper")),
			fmt.Sprintf("anything at level 2 and above, with bouncing, on bare feet, below level or on bent-back toes that was not done in the "+
				"last %d days; half the sets of the rest", h.Int("race.new"))},
		{fmt.Sprintf("within %d days before a goal race", h.Int("race.heavy")),
			"level 3 and above, bouncing, the lowering programme; tests at level 3, after it too"},
		{"the day of a goal race", "every session"},
		{"the day before a quality run, and on its day before it", "level 4 and free bouncing; calf rails that reach level 4"},
		{"after a long or quality run, until the feet are fresh", "foot strength: holds, grips, leans, swings"},
		{"after a quality run", "level 3 within 6 hours; level 4 and free bouncing until that evening after a morning run, until the next " +
			"evening after an evening one"},
		{fmt.Sprintf("%d day after level 4 or free bouncing of that leg", h.Int("week.gap.heavy")),
			"level 4 and free bouncing; a set within two of a tested best of " + fmt.Sprint(h.Int("week.hard.best")) + " or fewer counts as such"},
		{"the lowering programme", fmt.Sprintf("every other calf rail; without it at most %d calf rails and %d hard sets a week and leg",
			h.Int("build.calf.rails"), h.Int("build.calf.sets"))},
	} {
		fmt.Fprintf(b, "| %s | %s |\n", r[0], r[1])
	}
}

// able are the limits of a runner who owns everything and passed every test.
func able(h house.Rules) catalog.Limits {
	p := body.NewProfile()
	p.BirthDate, p.MassKg = "1990-01-01", 70
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 12}, StepCm: 18, PlatesMm: []float64{10}, Bands: []string{"light"}, Strap: true,
		Roll: true, SoftBall: true, FirmBall: true, RollersCm: []float64{6, 12}}
	f := permit.Facts{Today: "2026-01-15", House: h, Profile: p, Tests: map[body.Side]map[string]float64{}}
	for _, s := range []body.Side{body.Left, body.Right, body.Both} {
		f.Tests[s] = map[string]float64{body.SoleTouch: 0, body.ToesShape: 0, body.AnkleEndFeel: 0, body.SquatArch: 0}
	}
	l := catalog.LimitsOf(p, f, body.Left, h)
	l.Spm = []int{170}
	return l
}

// closed lists by rail the exercises that one set of limits closes beyond another.
func closed(free, l catalog.Limits) string {
	var out []string
	for _, r := range catalog.Shipped.Rails {
		var names []string
		for _, x := range r.Exercises {
			was, is := free.May(r, x), l.May(r, x)
			if len(is.Reasons) > len(was.Reasons) && !is.May() {
				names = append(names, x.Name)
			}
		}
		if n := len(r.Exercises); len(names) == n {
			out = append(out, r.Name+" (all)")
		} else if len(names) > 0 {
			out = append(out, r.Name+": "+strings.Join(names, ", "))
		}
	}
	return dash(out)
}

func dash(words []string) string {
	if len(words) == 0 {
		return "–"
	}
	return strings.Join(words, "; ")
}
