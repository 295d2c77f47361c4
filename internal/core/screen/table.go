package screen

import (
	"fmt"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// derived are the findings that are computed from measures and have no field of their own.
var derived = []struct{ id, name, unit, from, ref, sem string }{
	{body.ToePassiveAngle, "Big toe, passive angle", "°", "asin(passive height / big-toe length)", "toe.passive_angle.ref", "toe.angle.sem"},
	{body.ToeActiveGap, "Big toe, active gap", "°", "passive minus active angle", "toe.active_gap.ref", "toe.angle.sem"},
	{"reach.composite", "Reach, all four directions", "%", "sum of four reaches / (4 × leg length)", "reach.composite.ref", "reach.sem"},
	{"shoe.minimalist_index", "Minimalist Index of a shoe", "%", "five scores of 0–5 over 25, from intake", "", ""},
}

// referenceKeys are the house rules a measure's value is compared with.
func (m Measure) referenceKeys() []string {
	switch {
	case m.Kind == Ability:
		return []string{"score.ability"}
	case m.Kind == Blemish:
		return []string{"score.fault"}
	case m.Kind == Pain:
		return []string{"walk.pain.note"}
	case m.ID == body.GaitStrikeAngle:
		return []string{"gait.strike.rear", "gait.strike.fore"}
	case m.ID == body.FootPostureIndex:
		return []string{"foot.posture_index.low", "foot.posture_index.ref"}
	case m.ID == body.ToeActiveHeight:
		return []string{"toe.active_gap.ref"}
	case m.ID == body.ToePassiveHeight:
		return []string{"toe.passive_angle.ref"}
	case m.Station == "balance":
		out := []string{}
		for _, from := range []string{"18", "40", "50", "60", "70", "80"} {
			out = append(out, m.ID+".norm."+from)
		}
		return out
	case m.ID == body.CalfRaisesStraight:
		return []string{m.ID + ".ref", m.ID + ".ref.50", m.ID + ".ref.60", m.ID + ".ref.70"}
	case m.Kind == Class:
		return nil
	}
	return []string{m.ID + ".ref"}
}

// Reference writes what a measure is compared with, where that figure comes from and its source.
func (m Measure) Reference(h house.Rules) (text string, provenance body.Provenance, source string) {
	if m.Tool == "clip" && m.Better == "none" {
		return "none: noted, compared with itself and side to side", body.Ours, ""
	}
	keys := m.referenceKeys()
	if len(keys) == 0 {
		words := []string{}
		for _, o := range m.Options {
			words = append(words, o.Name+": "+string(o.Verdict))
		}
		return strings.Join(words, "; "), m.provenance, m.source
	}
	figures := []string{}
	for _, k := range keys {
		r, _ := house.Find(k)
		provenance, source = r.Provenance, r.Source
		figure := strings.TrimSpace(fmt.Sprintf("%g %s", h.Get(k), r.Unit))
		if m.Station == "balance" {
			figure = strings.TrimPrefix(k, m.ID+".norm.") + "+ years: " + figure
		}
		if from, aged := strings.CutPrefix(k, m.ID+".ref."); aged {
			figure = from + "+ years: " + figure
		}
		figures = append(figures, figure)
	}
	how := map[string]string{"higher": "at least ", "lower": "at most ", "inside": "within ", "none": "class limits "}[m.Better]
	if m.Kind == Blemish {
		how = "below "
	}
	if m.ID == body.ToeActiveHeight {
		how = "gap at most "
	}
	return how + strings.Join(figures, ", "), provenance, source
}

// errorText writes the measure's own error.
func (m Measure) errorText(h house.Rules) string {
	key := m.semKey()
	if key == "" {
		if m.Kind == Pain {
			return fmt.Sprintf("a change counts from %g", h.Get("walk.pain.change"))
		}
		return "a step is a step"
	}
	r, _ := house.Find(key)
	text := fmt.Sprintf("SEM %g %s", h.Get(key), r.Unit)
	if m.Kind == Cadence {
		text = "max(t·s/√k, 2) spm at 95 %; one count: " + text
	}
	return strings.TrimSpace(text)
}

// Table lists every measure with unit, trials, reference, error, provenance and source, as Markdown.
func Table(h house.Rules) string {
	var b strings.Builder
	b.WriteString("# The battery\n\nMade from the core by `./notchback types`; a test fails when it is stale. Defaults; a practice may " +
		"change them as house rules.\n")
	for _, s := range Stations {
		fmt.Fprintf(&b, "\n## %s\n\n%s\n\n| measure | id | unit | sides | trials | reference | error | provenance | source "+
			"|\n|---|---|---|---|---|---|---|---|---|\n", s.Name, s.Kit)
		for _, id := range s.Measures {
			m, _ := FindMeasure(id)
			ref, provenance, source := m.Reference(h)
			sides := "both at once"
			if m.Sided {
				sides = "left, right"
			}
			fmt.Fprintf(&b, "| %s | `%s` | %s | %s | %d | %s | %s | %s | %s |\n", m.Name, m.ID, m.Unit, sides, m.Trials, ref, m.errorText(h),
				provenance, source)
		}
	}
	b.WriteString("\n## Computed from the above\n\n| value | id | unit | from | reference | error | provenance | source " +
		"|\n|---|---|---|---|---|---|---|---|\n")
	for _, d := range derived {
		ref, sem := house.Rule{Provenance: body.Memory, Source: "Esculier et al. 2015, J Foot Ankle Res 8:42"}, "none"
		text := "described, not judged"
		if d.ref != "" {
			ref, _ = house.Find(d.ref)
			text = strings.TrimSpace(fmt.Sprintf("%g %s", h.Get(d.ref), ref.Unit))
			e, _ := house.Find(d.sem)
			sem = fmt.Sprintf("SEM %g %s", h.Get(d.sem), e.Unit)
		}
		fmt.Fprintf(&b, "| %s | `%s` | %s | %s | %s | %s | %s | %s |\n", d.name, d.id, d.unit, d.from, text, sem, ref.Provenance, ref.Source)
	}
	return body.Plain(b.String())
}
