package standin

import (
	"fmt"
	"math"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/gait"
	"notchback/internal/core/house"
)

// Row is one figure of a film: what is true, and what marking the true frames and points gives.
type Row struct {
	Film  string
	ID    string
	Name  string
	Side  body.Side
	Unit  string
	Truth float64
	Value float64
	Half  float64
	Word  string
}

// Holds reports whether the stated interval contains the truth.
func (r Row) Holds() bool { return math.Abs(r.Value-r.Truth) <= r.Half }

// Table marks every film with a perfect eye and sets the results beside the truth.
func Table(h house.Rules) []Row {
	out := []Row{}
	for _, f := range Films {
		r, err := gait.Read(f.Marked(), gait.Body{LegMm: LegMm, HeightCm: HeightCm, MassKg: 70}, h)
		if err != nil {
			panic("standin: " + f.Name + ": " + err.Error())
		}
		for _, x := range r.Figures {
			for _, known := range f.Known() {
				if known.ID == x.ID && known.Side == x.Side && x.Half > 0 {
					out = append(out, Row{f.Name, x.ID, x.Name, x.Side, x.Unit, known.Value, x.Value, x.Half, x.Word})
				}
			}
		}
	}
	return out
}

// TableText writes docs/clips.md.
func TableText(h house.Rules) string {
	var b strings.Builder
	b.WriteString("# The simulated clips\n\nMade from the core by `./notchback types`; a test fails when it is stale. Each clip's runner is " +
		"made up and its gait is known. A coach with a perfect eye marks the true frames and points; the table sets what comes out beside the " +
		"truth. The browser test marks the same frames through the interface.\n\n")
	b.WriteString("± is the stated 95 % interval. Below 120 frames a second no strike class is given from an angle.\n")
	name := ""
	for _, r := range Table(h) {
		if r.Film != name {
			name = r.Film
			f, _ := Find(name)
			fmt.Fprintf(&b, "\n## %s\n\n%s. %s view, shot at %g frames a second, plays at %g, %.1f s, %d frames.\n\n| figure | side | truth | "+
				"result | interval holds it |\n|---|---|---|---|---|\n", name, f.Says, f.View, f.CaptureFps, f.PlayFps, f.Seconds, f.Frames())
		}
		word, holds := "", "yes"
		if r.Word != "" {
			word = ", " + r.Word
		}
		if !r.Holds() {
			holds = "no"
		}
		fmt.Fprintf(&b, "| %s | %s | %.1f %s | %.1f ± %.1f %s%s | %s |\n", r.Name, r.Side, r.Truth, r.Unit, r.Value, r.Half, r.Unit, word, holds)
	}
	return body.Plain(b.String())
}

// Near counts the true marks that a proposal meets within one frame, and the true marks.
func Near(marks []gait.Event, got []gait.Proposal) (hits, all int) {
	for _, e := range marks {
		all++
		for _, p := range got {
			if p.Side == e.Side && p.Kind == e.Kind && p.Frame-e.Frame <= 1 && e.Frame-p.Frame <= 1 {
				hits++
				break
			}
		}
	}
	return hits, all
}
