package selfcheck

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
	"notchback/internal/core/stats"
)

// Check is one self-check as it was told.
type Check struct {
	ID    string    `json:"-"`
	On    body.Date `json:"on"`
	Tries []Try     `json:"tries"`
	Seen  bool      `json:"-"` // by a coach
}

// Try is one attempt at an item.
type Try struct {
	Item    string      `json:"item" maxLength:"20"`
	Side    body.Side   `json:"side" enum:"left,right,both"`
	Value   float64     `json:"value"`
	Parts   []float64   `json:"parts,omitempty" maxItems:"1" doc:"of a cadence that was counted: footfalls in 15 s after the first"`
	Where   body.Region `json:"where,omitempty" doc:"where a walk hurt"`
	Hand    bool        `json:"hand,omitempty" doc:"held on to something"`
	Sensor  bool        `json:"sensor,omitempty" doc:"by the phone's motion sensor; 15 s of it"`
	Skipped string      `json:"skipped,omitempty" maxLength:"200" doc:"why it was left out"`
}

// MostTries bounds what one check may hold.
const MostTries = 60

// trial is a try as the screen reads it: at an easy pace in the own shoes.
func (t Try) trial(it Item, on body.Date) screen.Trial {
	x := screen.Trial{Measure: it.Measure, Side: t.Side, Value: t.Value, Parts: t.Parts, Where: t.Where, Skipped: t.Skipped, On: on}
	if it.Running {
		x.Context = &screen.Context{Pace: "easy", Shod: "shoes"}
	}
	return x
}

// Enter checks a self-check and computes the values of counts; what it refuses is a typing error, never what hurt.
func (c Check) Enter(p body.Profile) (Check, error) {
	if len(c.Tries) == 0 || len(c.Tries) > MostTries {
		return c, body.Refuse("tries", "holds %d answers; from 1 to %d", len(c.Tries), MostTries)
	}
	c.Tries = slices.Clone(c.Tries)
	n := map[string]int{}
	for i, t := range c.Tries {
		it, ok := Find(t.Item)
		at := fmt.Sprintf("tries[%d]", i)
		if !ok {
			return c, body.Refuse(at, "%q is no item of the self-check", t.Item)
		}
		if n[t.Item+string(t.Side)]++; n[t.Item+string(t.Side)] > it.Tries {
			return c, body.Refuse(at, "%s is taken %d times at most", it.Name, it.Tries)
		}
		x, err := screen.Enter(t.trial(it, c.On), 0, p)
		if err != nil {
			return c, err
		}
		c.Tries[i].Value = x.Value
	}
	return c, nil
}

// Line is what an item came to on a side.
type Line struct {
	Item    string        `json:"item"`
	Name    string        `json:"name"`
	Side    body.Side     `json:"side"`
	Shown   string        `json:"shown" doc:"the figure with its error, or the word"`
	Value   float64       `json:"value"`
	Half    float64       `json:"half" doc:"half of its 95 % interval; 0 for a word or a score"`
	Pain    bool          `json:"pain" doc:"the value is a pain, 0–10"`
	Sore    bool          `json:"sore" doc:"a pain above what is only noted"`
	Where   body.Region   `json:"where,omitempty" doc:"where a walk hurt; said in shown too"`
	Hand    bool          `json:"hand,omitempty" doc:"held on to something"`
	Skipped string        `json:"skipped,omitempty" doc:"why it was left out; then there is no figure"`
	Since   body.Date     `json:"since,omitempty" doc:"day of the check it is compared with"`
	Then    string        `json:"then,omitempty" doc:"as it was shown then"`
	Change  screen.Change `json:"change,omitempty" doc:"absent where nothing like it was checked before"`
	Reason  body.Reason   `json:"reason"`
}

// Lines reads a check, each item and side against the newest earlier check that has it. earlier may be in any order.
func (c Check) Lines(earlier []Check, p body.Profile, h house.Rules) []Line {
	earlier = slices.DeleteFunc(slices.Clone(earlier), func(e Check) bool { return e.ID == c.ID || e.On > c.On })
	slices.SortStableFunc(earlier, func(a, b Check) int { return strings.Compare(string(b.On), string(a.On)) })
	out := []Line{}
	for _, it := range Items {
		for _, side := range it.sides {
			l := Line{Item: it.ID, Name: it.Name, Side: side, Pain: it.Kind == screen.Pain}
			f, ok := c.finding(it, side, p, h)
			if !ok {
				if l.Skipped = c.skipped(it, side); l.Skipped != "" {
					l.Reason = h.Because(it.about, "left out: "+l.Skipped)
					out = append(out, l)
				}
				continue
			}
			l.Value, l.Half, l.Where, l.Hand = f.Value, f.Half, c.where(it, side), c.hand(it, side)
			l.Shown, l.Reason, l.Sore = shown(f), f.Reason, l.Pain && f.Verdict == screen.Short
			if l.Where != "" {
				l.Shown += " at the " + l.Where.Name()
			}
			for _, e := range earlier {
				was, ok := e.finding(it, side, p, h)
				if !ok || e.hand(it, side) != l.Hand {
					continue
				}
				x := screen.Compare(f, was, e.On, h)
				l.Since, l.Then, l.Change = e.On, shown(was), x.Change
				x.Reason.Says += "; told by the runner, compared with itself alone"
				l.Reason = x.Reason
				break
			}
			if l.Since == "" {
				l.Reason.Says = "told by the runner; nothing like it was checked before"
			}
			l.Reason.Rule = it.about
			out = append(out, l)
		}
	}
	return out
}

// shown is a figure with its error, or its word.
func shown(f screen.Finding) string {
	if f.Word != "" || f.Half == 0 {
		return f.Shown()
	}
	format := "%.1f"
	if f.Unit == "spm" {
		format = "%.0f"
	}
	return body.Bare(f.Unit, format, f.Value) + " ± " + body.In(f.Unit, "%.1f", f.Half)
}

// of are the tries of an item on a side that count.
func (c Check) of(it Item, side body.Side) []Try {
	return slices.DeleteFunc(slices.Clone(c.Tries), func(t Try) bool { return t.Item != it.ID || t.Side != side || t.Skipped != "" })
}

func (c Check) skipped(it Item, side body.Side) string {
	for _, t := range c.Tries {
		if t.Item == it.ID && t.Side == side && t.Skipped != "" {
			return t.Skipped
		}
	}
	return ""
}

func (c Check) hand(it Item, side body.Side) bool {
	return slices.ContainsFunc(c.of(it, side), func(t Try) bool { return t.Hand })
}

func (c Check) where(it Item, side body.Side) body.Region {
	for _, t := range c.of(it, side) {
		if t.Value > 0 {
			return t.Where
		}
	}
	return ""
}

// finding is what the tries of an item on a side come to, as the screen reads them.
func (c Check) finding(it Item, side body.Side, p body.Profile, h house.Rules) (screen.Finding, bool) {
	var trials []screen.Trial
	var sensed []float64
	for _, t := range c.of(it, side) {
		trials = append(trials, t.trial(it, c.On))
		if t.Sensor {
			sensed = append(sensed, t.Value)
		}
	}
	for _, f := range screen.Findings(trials, p, c.On, h) {
		if f.ID != it.Measure || f.Side != side {
			continue
		}
		if len(sensed) > 0 && len(sensed) == len(trials) {
			half := Sensed(sensed)
			if math.IsNaN(half) {
				return f, false // one stretch has no error of its own
			}
			f.Half, f.Band, f.MDC = half, half/1.96, stats.MDC(half/1.96)
			f.Reason = h.Because("selfcheck.sensor", "mean of the stretches the motion sensor felt").See("stretches of 15 s", "%d", len(sensed))
			f.Reason.Formula = fmt.Sprintf("mean %.1f spm; 95 %% interval ± t·s/√%d = ± %.1f", f.Value, len(sensed), half)
			f.Reason.Provenance = body.Common
		}
		return f, true
	}
	return screen.Finding{}, false
}

// Sensed is half the 95 % interval of a cadence that was felt in several stretches, in steps a minute: t·s/√k. The stretches
// bring their own spread; unlike a count there is nothing to round. NaN for fewer than two.
func Sensed(stretches []float64) float64 { return stats.HalfWidth(stretches) }

// Worst is the highest pain of the walks that is more than noted, and where; nothing where there is none.
func Worst(lines []Line) (worst Line, ok bool) {
	for _, l := range lines {
		if l.Sore && (!ok || l.Value > worst.Value) {
			worst, ok = l, true
		}
	}
	return worst, ok
}
