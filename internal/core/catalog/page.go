package catalog

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/screen"
)

// Page is docs/catalogue.md: every rail and exercise as the data has it, for a practitioner to check line by line.
func Page(c Catalogue) string {
	var b strings.Builder
	b.WriteString("# Catalogue\n\nMade from the data by `./notchback types`; a test fails when it is stale. A *climb* is an ordered list: " +
		"each exercise waits for the one before it. A *set* has items beside each other: several may be chosen at once, by finding and place, " +
		"and none waits for another.\n\nLevels: 0 unloaded or release · 1 seated, bands, arm weight · 2 body mass with the whole foot down, or " +
		"heels off on two legs · 3 heel off on one leg, or loaded · 4 one leg with external load, or free bouncing on one leg.\n")
	part, set := Part(""), ""
	for _, r := range c.Rails {
		if r.Part != part {
			part = r.Part
			fmt.Fprintf(&b, "\n## %s\n", strings.ToUpper(string(part[:1]))+string(part[1:]))
		}
		heading := "###"
		if r.Set != "" {
			if heading = "####"; r.Set != set {
				fmt.Fprintf(&b, "\n### Set: %s\n", r.SetName)
			}
		}
		set = r.Set
		fmt.Fprintf(&b, "\n%s %s\n\n%s\n", heading, r.Name, r.summary())
		b.WriteString("\n| exercise | level | trains · bears | asks | doses | opens when | kit | provenance " +
			"|\n|---|---|---|---|---|---|---|---|\n")
		for _, x := range r.Exercises {
			name := x.Name
			if x.Retired {
				name += " (retired: finished where it is in force, given to nobody anew)"
			}
			fmt.Fprintf(&b, "| %s | %d | %s · %s | %s | %s | %s | %s | %s |\n", name, x.Level, legs(x.Trains), bears(x.Bears), dash(x.asks()),
				strings.Join(x.doses(), "; "), dash(x.opens()), dash(x.kit()), x.source())
		}
	}
	return body.Plain(b.String())
}

func (r Rail) summary() string {
	var out []string
	say := func(when bool, format string, args ...any) {
		if when {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	say(true, "%s. %s.", strings.ToUpper(string(r.Class[:1]))+string(r.Class[1:]), times(r))
	say(true, "Mainly loads: %s.", places(r.Main))
	say(len(r.Eases) > 0, "Looked up for a sore: %s.", places(r.Eases))
	say(len(r.Answers) > 0, "Answers: %s.", strings.Join(r.answers(), ", "))
	if len(r.For) > 0 {
		names := []string{}
		for _, id := range r.For {
			m, _ := screen.FindMeasure(id)
			names = append(names, m.Name)
		}
		say(true, "Only where found: %s.", strings.Join(names, ", "))
	}
	say(r.Place != nil, "First dose from: %s.", strings.Join(r.tests(), ", "))
	for _, q := range slices.Sorted(maps.Keys(r.Only)) {
		say(true, "Approach %s: %s.", q, strings.Join(r.Only[q], ", "))
	}
	if len(r.Then) > 0 {
		followers := []string{}
		for _, t := range r.Then {
			_, x, _ := Shipped.Holding(t.Exercise)
			followers = append(followers, x.Name+", "+t.Dose)
		}
		say(true, "Its range exercises are followed at once by: %s.", strings.Join(followers, "; or "))
	}
	say(r.Protocol != "", "A published programme: the coach brings it in.")
	say(len(r.Cautions) > 0, "%s", strings.Join(r.Cautions, " "))
	return strings.Join(out, " ")
}

func times(r Rail) string {
	words := map[Slot]string{Before: "before a run", InRun: "inside an easy run", After: "after a run", Own: "a session of its own",
		Evening: "evening", Habit: "with daily chores"}
	var at []string
	for _, s := range r.When {
		at = append(at, words[s])
	}
	out := fmt.Sprintf("%d a week, %s", r.PerWeek, strings.Join(at, ", "))
	if r.Habit {
		out = "A daily habit"
	}
	if r.GapDays > 0 {
		out += fmt.Sprintf(", %d free day between", r.GapDays)
	}
	return out
}

func (r Rail) answers() []string {
	var ids []string
	for id := range r.Answers {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	for i, id := range ids {
		ids[i] = fmt.Sprintf("%s (%d)", strings.ReplaceAll(id, "_", " "), r.Answers[id])
	}
	return ids
}

func (r Rail) tests() []string {
	var out []string
	for _, id := range r.Measures() {
		m, _ := screen.FindMeasure(id)
		out = append(out, m.Name)
	}
	return out
}

func places(rs []body.Region) string {
	var out []string
	for _, g := range rs {
		out = append(out, g.Name())
	}
	return strings.Join(out, ", ")
}

func legs(t body.Legs) string {
	return map[body.Legs]string{body.OneSide: "one side", body.BothLegs: "both at once", body.NoLeg: "no leg"}[t]
}

func bears(t body.Legs) string {
	return map[body.Legs]string{body.NoLeg: "nothing", body.TrainedLeg: "that leg", body.OtherLeg: "the other leg", body.BothLegs: "both"}[t]
}

// asks is what core/permit may take an exercise away by.
func (x Exercise) asks() []string {
	var out []string
	say := func(when bool, s string) {
		if when {
			out = append(out, s)
		}
	}
	say(x.Impact.Beyond(body.NoImpact), string(x.Impact)+" bouncing")
	say(x.Bare, fmt.Sprintf("bare, stage %d", x.Stage))
	say(x.Edge, "below level")
	say(x.ToesBack, "on bent-back toes")
	say(x.Pressure, "pressure")
	say(x.Cold, "cold")
	say(x.Run != "", string(x.Run)+" in a run")
	for _, g := range x.Tags {
		out = append(out, strings.ReplaceAll(string(g), "_", " "))
	}
	return out
}

func (x Exercise) doses() []string {
	out := slices.Clone(x.Doses)
	for i := range out {
		if i < len(x.StageDays) {
			out[i] += fmt.Sprintf(" for %d days", x.StageDays[i])
		}
	}
	if x.Grade != "" {
		out = append(out, "then the next "+map[string]string{ByDumbbell: "weight", ByBand: "tension", BySpm: "beat",
			ByWall: "centimetre from the wall", ByStack: "height of the stack", ByHands: "third off the hands"}[x.Grade])
	}
	return out
}

func (x Exercise) opens() []string {
	var out []string
	for _, n := range x.First {
		out = append(out, n.Says)
	}
	for _, n := range x.Not {
		out = append(out, "not: "+n.Says)
	}
	return out
}

func (x Exercise) kit() []string {
	var out []string
	for _, id := range x.Needs {
		out = append(out, GearName(id))
	}
	return out
}

func (x Exercise) source() string {
	if x.Source != "" {
		return x.Source + ", " + string(x.Provenance)
	}
	return string(x.Provenance)
}

func dash(s []string) string {
	if len(s) == 0 {
		return "–"
	}
	return strings.Join(s, ", ")
}
