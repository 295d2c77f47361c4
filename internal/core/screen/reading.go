package screen

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Reading is what the counting trials of one measure and side come to.
type Reading struct {
	Measure string      `json:"measure"`
	Side    body.Side   `json:"side"`
	Context string      `json:"context"`
	Value   float64     `json:"value"`
	Best    float64     `json:"best"`
	Done    float64     `json:"done" doc:"mean of what was actually done; a first dose is placed from it"`
	SD      float64     `json:"sd" doc:"between the trials; 0 with fewer than two"`
	SE      float64     `json:"se" doc:"of the mean, when every trial brought its own; else 0"`
	N       int         `json:"n" doc:"trials counted"`
	Phone   bool        `json:"phone,omitempty" doc:"a phone gave one of them: the error is its own, from repeats"`
	Trials  []string    `json:"trials" doc:"ids of the trials it was read from, counted or not"`
	AtLeast bool        `json:"atLeast" doc:"stopped on purpose: the true value may be higher"`
	Capped  bool        `json:"capped" doc:"every trial reached the cap"`
	Failed  bool        `json:"failed" doc:"a fault counts as short whatever the figure"`
	Faults  []string    `json:"faults" doc:"names of the faults seen"`
	Refer   bool        `json:"refer"`
	Where   body.Region `json:"where,omitempty"`
	Skipped string      `json:"skipped,omitempty"`
	Reason  body.Reason `json:"reason"`
}

// ReadEasy reads a measure as it enters plans and permissions: what is recorded with how the runner ran
// is read at an easy pace in the own shoes alone.
func ReadEasy(trials []Trial, measure string, side body.Side) (Reading, bool) {
	m, _ := FindMeasure(measure)
	if m.InContext {
		all := trials
		trials = nil
		for i := range all {
			if c := all[i].Context; all[i].Measure == measure && (c == nil || c.Pace == "easy" && c.Shod == "shoes" && !c.Tired) {
				trials = append(trials, all[i])
			}
		}
	}
	return Read(trials, measure, side)
}

// Read combines the counting trials of a measure and side: their mean; for scores and classes the
// last one, for pain the worst. A count stopped with two in reserve reads as two more.
func Read(trials []Trial, measure string, side body.Side) (Reading, bool) {
	out := Reading{Measure: measure, Side: side, Faults: []string{}, Trials: []string{}}
	taken := func(t *Trial) bool { return t.Measure == measure && t.Side == side }
	found := false
	for i := range trials { // most measures were never taken: they are asked for all the time
		found = found || taken(&trials[i])
	}
	if !found {
		return out, false
	}
	m, _ := FindMeasure(measure)
	c := counted{m: m, out: &out, why: house.Rules{}.Because("screen.mean", "mean of the trials that count")}
	c.why.Provenance, c.why.Source = body.Common, ""
	out.Capped = m.Cap > 0
	for i := range trials {
		if taken(&trials[i]) {
			c.add(trials[i])
		}
	}
	if len(c.values) == 0 {
		return out, false
	}
	c.sum()
	return out, true
}

// counted gathers the trials of a measure and side that count.
type counted struct {
	m      Measure
	out    *Reading
	why    body.Reason
	values []float64 // as they are read
	done   []float64 // as they were done
	own    []float64 // standard errors of single trials
}

func (c *counted) add(t Trial) {
	m, out := c.m, c.out
	if t.Skipped != "" {
		out.Skipped = t.Skipped
		return
	}
	out.Trials = append(out.Trials, t.ID)
	note := ""
	if !t.Counts() {
		note = " (not counted: fault)"
	}
	c.why = c.why.SeeOn(t.On, fmt.Sprintf("trial %d", len(c.why.Saw)+1), "%s%s", m.Show(t.Value), note)
	for _, f := range m.Faults {
		if t.Has(f.ID) {
			out.Refer = out.Refer || f.Refers
			if !slices.Contains(out.Faults, f.Name) {
				out.Faults = append(out.Faults, f.Name)
			}
		}
	}
	if !t.Counts() {
		return
	}
	if m.Kind == Cadence && len(t.Parts) == 1 {
		c.why = c.why.See("counted in 15 s", "%g after the first: 4 × %g + 2 = %g ± 2", t.Parts[0], t.Parts[0], t.Value)
	}
	if m.ID == body.CalfRM {
		load := t.Value / (1 + t.Parts[1]/30)
		c.why = c.why.See("system load", "%s × %g", body.In("kg", "%.1f", load), t.Parts[1]).See("one-repetition maximum",
			"Epley %s, Brzycki %s", body.In("kg", "%.1f", t.Value), body.In("kg", "%.1f", stats.Brzycki(load, t.Parts[1])))
	}
	v := t.Value
	switch t.Stop {
	case StopReserve:
		v += 2
		c.why = c.why.See("stopped with two in reserve", "reads as %g", v)
	case StopCeiling:
		out.AtLeast = true
	}
	out.Context, out.Where = t.Key(), t.Where
	out.Failed = out.Failed || slices.ContainsFunc(m.Faults, func(f Fault) bool { return f.Fails && t.Has(f.ID) })
	out.Capped = out.Capped && t.Value >= m.Cap
	out.Phone = out.Phone || t.Phone
	c.values, c.done = append(c.values, v), append(c.done, t.Value)
	if t.SE > 0 {
		c.own = append(c.own, t.SE)
		c.why = c.why.See("from a clip", "± %s (95 %%)", Decimals(1.96*t.SE, m.Unit+"."))
	}
}

// sum is what they come to: the worst pain, the last answer, the mean of everything else.
func (c *counted) sum() {
	m, out, x := c.m, c.out, c.values
	out.N, out.Best, out.Done = len(x), slices.Max(x), stats.Mean(c.done)
	switch {
	case m.Kind == Pain:
		out.Value, out.Done = slices.Max(x), slices.Max(x)
		c.why.Says = "the worst of the trials"
		c.why.Formula = fmt.Sprintf("worst of %s = %s", list(x, m.Unit), m.Show(out.Value))
	case len(m.Options) > 0 || m.ID == body.FootPostureIndex:
		out.Value = x[len(x)-1]
		c.why.Says = "the last answer counts"
		c.why.Formula = m.Show(out.Value)
	default:
		out.Value = stats.Mean(x)
		if len(x) > 1 {
			out.SD = stats.SD(x)
		}
		if len(c.own) == len(x) {
			for _, se := range c.own {
				out.SE = math.Hypot(out.SE, se/float64(len(c.own)))
			}
		}
		c.why.Formula = fmt.Sprintf("mean of %s = %s", list(x, m.Unit), m.Show(out.Value))
	}
	if m.ID == body.CalfRM {
		c.why.Says = "mean of the estimates, by Epley; Brzycki is shown beside it"
		c.why.Provenance, c.why.Source = body.Memory, "Epley 1985; Brzycki 1993"
	}
	out.Reason = c.why
}

// Show writes a value as people read it: "9.5 cm", "partly", "2 · plain".
func (m Measure) Show(v float64) string {
	if i := int(math.Round(v)); len(m.Options) > 0 && i >= 0 && i < len(m.Options) {
		return m.Options[i].Name
	}
	return strings.TrimSpace(Amount(v, m.Unit))
}

// Amount writes a value with its unit.
func Amount(v float64, unit string) string {
	if unit == "°" || unit == "" {
		return Decimals(v, unit) + unit
	}
	return body.In(unit, decimals(unit), v)
}

func list(x []float64, unit string) string {
	s := ""
	for i, v := range x {
		if i > 0 {
			s += ", "
		}
		s += body.Short(unit, v, 1)
	}
	return s
}

// Decimals writes a value with the decimals its unit deserves.
func Decimals(v float64, unit string) string {
	return body.Bare(strings.TrimSuffix(unit, "."), decimals(unit), v)
}

func decimals(unit string) string {
	if unit == "" || unit == "of 10" {
		return "%.0f"
	}
	return "%.1f"
}

// In keeps the trials of one context, as Context.Key names it.
func In(trials []Trial, key string) []Trial {
	return slices.DeleteFunc(slices.Clone(trials), func(t Trial) bool { return t.Key() != key && t.Skipped == "" })
}

// Contexts lists the contexts a measure was taken in, sorted; one empty for measures without.
func Contexts(trials []Trial, m Measure) []string {
	if !m.InContext {
		return []string{""}
	}
	out := []string{}
	for i := range trials {
		if t := &trials[i]; t.Measure == m.ID && t.Counts() && !slices.Contains(out, t.Key()) {
			out = append(out, t.Key())
		}
	}
	slices.SortStableFunc(out, func(a, b string) int { return slices.Index(Paces, pace(a)) - slices.Index(Paces, pace(b)) })
	return out
}

func pace(key string) string { p, _, _ := strings.Cut(key, ","); return p }
