package permit

import (
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
)

// Words lists what is taken away, as a physiotherapist reads it.
func (t Takes) Words() []string {
	var out []string
	add := func(is bool, format string, args ...any) {
		if is {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	add(t.Everything, "everything, tests too")
	add(t.New, "anything that does not stand already")
	add(t.Above != nil && *t.Above < 0, "all that trains or stands on it")
	add(t.Above != nil && *t.Above >= 0, "above level %d", at(t.Above))
	add(t.CalfAbove != nil, "calf work above level %d", at(t.CalfAbove))
	add(t.Beyond != nil, "%s", beyond(t.Beyond))
	add(t.BareAbove != nil && *t.BareAbove < 0, "all bare work")
	add(t.BareAbove != nil && *t.BareAbove >= 0, "bare work beyond stage %d", at(t.BareAbove))
	add(t.BareImpact, "bare bouncing")
	add(t.Edge, "loaded work below level")
	add(t.ToesBack, "weight on bent-back toes")
	add(t.Pressure, "pressure")
	add(t.Cold, "cold")
	for _, g := range t.Tags {
		add(true, "%s", bare(without(g)))
	}
	for _, g := range t.TestOnly {
		add(true, "%s alone, away from the coach", bare(without(g)))
	}
	add(t.Prone, "face down")
	add(t.Supine > 0, "more than %d s on the back at a time", t.Supine)
	add(t.Running, "running")
	for _, r := range t.Runs {
		add(!t.Running, "%s in runs", runWords[r])
	}
	add(t.AsBefore && !t.Running, "running above the minutes a week of before")
	add(t.HalfRuns && !t.Running, "half of the minutes of a run")
	add(t.Half, "half of the contacts of bouncing")
	add(t.HalfSets, "half of the sets")
	add(t.Contacts > 0, "more than %d contacts a session", t.Contacts)
	add(t.NoUp, "any move up")
	return out
}

// bare turns “no gripping” and “nothing to failure” into what is meant.
func bare(s string) string {
	if s == without(body.Joint) || s == without(body.Outdoors) {
		return "all " + strings.TrimPrefix(s, "nothing ")
	}
	return strings.TrimPrefix(strings.TrimPrefix(s, "nothing "), "no ")
}

var classes = []struct {
	class     refer.Class
	name, how string
}{
	{refer.Emergency, "Emergency", "closed by a clinician's clearance alone"},
	{refer.SameDay, "Same day", "closed by a clinician's clearance alone"},
	{refer.HardStop, "Stop", "closed by a clinician's clearance, which says what it opens"},
	{refer.Pattern, "Patterns", "see the patterns below"},
	{refer.Small, "Small", "closed by the runner's own word, not before the next day"},
}

// Table is the first part of docs/permissions.md: what each warning sign, caution, pattern and limit takes away or opens.
// Each row is made by asking the cuts themselves for a runner with that one thing, on the left where it
// has a side.
func Table(h house.Rules) string {
	var b strings.Builder
	b.WriteString("# What is taken away, and what opens it\n\nMade from the core by `./notchback types`; a test fails when it is stale. " +
		"Defaults; a practice may change some figures as house rules. Everything that holds at once is taken away together: a runner may do " +
		"what no row takes. Levels: 0 unloaded, release; 1 partly loaded; 2 body mass on two legs; 3 one leg, or external load; 4 one leg with " +
		"external load. Stages of bare work: 0 on the spot and short indoor walks; 1 walking; 2 strength; 3 bouncing; 4–5 running.\n\nWhat " +
		"each exercise asks for stands on its page of the library; a test asks under the same rules. Coaching, not medical care: licensed " +
		"practice and local rules come first.\n")
	facts := Facts{Today: "2026-01-15", House: h, Profile: body.NewProfile()}
	facts.Profile.BirthDate = "1990-01-01"
	signTable(&b, facts)
	cautionTable(&b, facts)
	patternTable(&b)
	openingTable(&b)
	gateTable(&b)
	return body.Plain(b.String())
}

func signTable(b *strings.Builder, facts Facts) {
	b.WriteString("\n## Warning signs\n")
	for _, c := range classes {
		fmt.Fprintf(b, "\n### %s: %s\n\n| sign | id | what to do | that leg | other leg | whole person |\n|---|---|---|---|---|---|\n", c.name,
			c.how)
		for _, s := range refer.Signs {
			if s.Class != c.class {
				continue
			}
			f := facts
			region := s.Region
			if region == "" {
				region = body.Heel
			}
			f.Stops = []refer.Stop{{ID: "s", Sign: s.ID, Region: region, Side: body.Left, On: facts.Today, Recorded: facts.Today,
				Seq: 1}}
			cells := map[string][]string{}
			for _, cut := range f.Cuts() {
				where := map[body.Side]string{body.Left: "left", body.Right: "right", body.Both: "both"}[cut.Leg]
				cells[where] = append(cells[where], cut.Takes.Words()...)
			}
			fmt.Fprintf(b, "| %s | `%s` | %s | %s | %s | %s |\n", s.Question, s.ID, s.Do, cell(cells["left"]), cell(cells["right"]),
				cell(cells["both"]))
		}
	}
	b.WriteString("\nBeside the list: a second tingling within 14 days locks the leg like a stop; a blister on a foot that may not feel is " +
		"a stop; an illness ends two days after it is over, then half of everything for as many days as it lasted, at most 14.\n")
}

func cautionTable(b *strings.Builder, facts Facts) {
	b.WriteString("\n## Cautions\n\nAs the runner told it counts until somebody records limits. The coach may record those marked so; the " +
		"others are a clinician's.\n\n| caution | id | takes away | mind | limits by |\n|---|---|---|---|---|\n")
	for _, row := range cautions {
		c, _ := refer.FindCaution(row.id)
		who := "clinician"
		if c.Coach {
			who = "clinician or coach"
		}
		t := row.takes(facts)
		fmt.Fprintf(b, "| %s | `%s` | %s | %s | %s |\n", c.Question, row.id, cell(t.Words()), cell(t.Notes), who)
	}
}

// patternTable is what patterns lock, and the way back to running.
func patternTable(b *strings.Builder) {
	b.WriteString("\n## Patterns that lock\n\nSeen from the screen, the map and the reports; of that leg alone.\n\n| pattern | id | takes " +
		"away | opened by |\n|---|---|---|---|\n")
	for _, p := range patterns {
		who := "a clinician's finding"
		if p.coach {
			who += "; the coach after 28 quiet days and a retest free of pain"
		}
		if p.id == "few_raises" {
			who += "; a retest of 10 and more on that side"
		}
		fmt.Fprintf(b, "| %s | `pattern.%s` | %s | %s |\n", p.name, p.id, cell(p.takes.Words()), who)
	}
	b.WriteString("\n## The way back to running\n\nAfter a warning sign that barred running for 14 days, once it is cleared, or a stated " +
		"break of 28 days; a shorter one halves the minutes for a while.\n\n| phase | takes away in runs | opened by |\n|---|---|---|\n")
	for _, phase := range []load.Phase{load.Walking, load.Stepped, load.Easy, load.Halved} {
		t, opens := returning(phase)
		fmt.Fprintf(b, "| %s | %s | %s |\n", phase, cell(t.Words()), opens)
	}
}

func openingTable(b *strings.Builder) {
	b.WriteString("\n## What a limit opens\n\nA stop that locks a whole leg is taken as the example; each field opened alone leaves this " +
		"closed. A field that is not named stays closed.\n\n| opened | still taken away of that leg |\n|---|---|\n")
	yes := true
	all := Takes{Above: num(-1), Beyond: impact(body.NoImpact), BareAbove: num(-1), Edge: true, ToesBack: true, Pressure: true, Cold: true,
		Tags: []body.Tag{body.Forced, body.Lowering, body.RM, body.ToFailure}, Running: true}
	for _, o := range []struct {
		name  string
		opens refer.Opening
	}{
		{"nothing yet", refer.Opening{}}, {"level 1", refer.Opening{Level: num(1)}}, {"level 2", refer.Opening{Level: num(2)}},
		{"level 4", refer.Opening{Level: num(4)}},
		{"bouncing with hands taking weight", refer.Opening{Level: num(2), Impact: impact(body.Supported)}},
		{"bare work to stage 1", refer.Opening{Level: num(2), Bare: num(1)}}, {"below level", refer.Opening{Level: num(2), Edge: &yes}},
		{"forced range", refer.Opening{Level: num(2), Range: &yes}}, {"maximal work", refer.Opening{Level: num(2), Maximal: &yes}},
		{"pressure", refer.Opening{Level: num(2), Pressure: &yes}}, {"cold", refer.Opening{Level: num(2), Cold: &yes}},
		{"the steps back to running", refer.Opening{Level: num(2), Run: "steps"}}, {"easy minutes", refer.Opening{Level: num(2), Run: "easy"}},
		{"all running", refer.Opening{Level: num(2), Run: "all"}},
	} {
		name := o.name
		if o.opens.Level != nil && *o.opens.Level == 2 && name != "level 2" {
			name = "level 2 and " + name
		}
		fmt.Fprintf(b, "| %s | %s |\n", name, cell(all.opened(o.opens).Words()))
	}
}

// gateTable is the barefoot gate: the highest stage that each outcome of an item leaves.
func gateTable(b *strings.Builder) {
	b.WriteString("\n## The barefoot gate\n\nThe highest stage of bare work that each outcome leaves, each foot by itself; the worse " +
		"decides. Foot work on the spot, stage 0, asks feeling, signs, cautions and skin alone. Under the slow habit the arch is not asked; " +
		"indoors only, strength is the last stage. Common practice, the figures are our own defaults.\n\n| item | pass | borderline | fail " +
		"| unknown | why |\n|---|---|---|---|---|---|\n")
	for _, it := range barefoot.Items {
		fmt.Fprintf(b, "| %s |", it.Name)
		for _, o := range barefoot.Outcomes {
			switch n := it.Caps[o]; {
			case slices.Contains(it.Absent, o):
				b.WriteString(" – |")
			case n == barefoot.None:
				b.WriteString(" none |")
			default:
				fmt.Fprintf(b, " %d |", n)
			}
		}
		fmt.Fprintf(b, " %s |\n", it.Why)
	}
}

func cell(words []string) string {
	if len(words) == 0 {
		return "–"
	}
	return strings.Join(words, "; ")
}
