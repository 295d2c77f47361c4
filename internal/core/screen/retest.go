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

// Change says how a value moved against measurement error.
type Change string

// The changes.
const (
	Improved Change = "better"
	Same     Change = "same"
	Worse    Change = "worse"
	Changed  Change = "changed" // past error, where no direction is the better one
)

// Changes lists them.
var Changes = []Change{Improved, Same, Worse, Changed}

// Compared is one measure and side now and then.
type Compared struct {
	Finding Finding     `json:"finding" doc:"as it stands now"`
	Since   body.Date   `json:"since"`
	Then    Finding     `json:"then"`
	By      float64     `json:"by" doc:"now minus then, in the finding's unit"`
	Change  Change      `json:"change"`
	Reason  body.Reason `json:"reason"`
}

// Compare judges now against then: better or worse only past the minimal detectable change, which is taken
// from the mean of the two values where the error is a share of them. A step of a score is a step. A class
// with a direction is better or worse, any other has changed. A value known only as “at least” proves a
// change only in its own direction.
func Compare(now, then Finding, since body.Date, h house.Rules) Compared {
	c := Compared{Finding: now, Since: since, Then: then, By: now.Value - then.Value, Change: Same}
	m, _ := FindMeasure(now.Measure)
	mdc := now.MDC
	if m.semKey() == "hold.sem" && now.ID == m.ID {
		mdc = stats.MDC(holdError((now.Value+then.Value)/2, h))
	}
	if strings.HasPrefix(now.Measure, "gait.") { // each may bring its own error
		mdc = 1.96 * math.Hypot(now.Band, then.Band)
	}
	r := h.Because("retest.mdc", "", keysOf(now)...).See("now", "%s", now.Shown()).SeeOn(since, "then", "%s", then.Shown())
	up := c.By
	switch now.Better {
	case "lower":
		up = -c.By
	case "inside":
		up = outside(then, h) - outside(now, h)
	case "none":
		up = 0
		if directed(now) && directed(then) {
			up = float64(rankOf(then.Verdict) - rankOf(now.Verdict))
		}
	}
	past := math.Abs(up) > mdc
	if m.Kind == Pain {
		past = math.Abs(up) >= mdc
	}
	difference := now.Limiter == "side_difference" && (now.AtLeast || then.AtLeast)
	switch {
	case difference: // a difference of counts stopped on purpose proves no change
	case up > 0 && past && !then.AtLeast:
		c.Change = Improved
	case up < 0 && past && !now.AtLeast:
		c.Change = Worse
	case up == 0 && now.Better == "none" && (len(m.Options) > 0 && now.Word != then.Word || len(m.Options) == 0 && math.Abs(c.By) > mdc):
		c.Change = Changed
	}
	if mdc > 0 {
		r = r.See("smallest real change (MDC)", "%s", body.In(now.Unit, "%.2g", mdc))
		r.Formula = fmt.Sprintf("%s − %s = %s against ± %s", Decimals(now.Value, now.Unit+"."), Decimals(then.Value, then.Unit+"."),
			body.Bare(now.Unit, "%+.2g", c.By), body.Bare(now.Unit, "%.2g", mdc))
	}
	r.Says = map[Change]string{Improved: "better: past measurement error", Same: "same: within measurement error",
		Worse: "worse: past measurement error", Changed: "changed: past measurement error; neither way is the better one"}[c.Change]
	if mdc == 0 {
		r.Says = map[Change]string{Improved: "better: a step of a score is a step", Same: "same", Worse: "worse: a step of a score is a step",
			Changed: "changed: neither is the better one"}[c.Change]
	}
	c.Reason = r
	return c
}

// directed reports a value that is judged: only between two of them one is the better.
func directed(f Finding) bool { return f.Verdict != Noted }

// holdError is the SEM of a hold: a share of what was held, s.
func holdError(seconds float64, h house.Rules) float64 {
	return math.Max(0.5, seconds*h.Get("hold.sem")/100)
}

func outside(f Finding, h house.Rules) float64 { _, off := PostureClass(f.Value, h); return off }

func keysOf(f Finding) []string {
	if len(f.Reason.House) == 0 {
		return nil
	}
	return f.Reason.House[len(f.Reason.House)-1:]
}

// Visit is one day's trials.
type Visit struct {
	ID     string
	On     body.Date
	Trials []Trial
}

// History compares the newest value of every measure, side and context with the one before and with
// the first. visits are oldest first.
func History(visits []Visit, p body.Profile, h house.Rules) (sinceLast, sinceFirst []Compared) {
	type seen struct {
		f  Finding
		on body.Date
	}
	all := map[string][]seen{}
	order := []string{}
	for _, v := range visits {
		for _, f := range Findings(v.Trials, p, v.On, h) {
			k := f.ID + "|" + string(f.Side) + "|" + f.Context
			if f.Limiter == "side_difference" {
				k = f.ID + "|" + f.Context
			}
			if !slices.Contains(order, k) {
				order = append(order, k)
			}
			all[k] = append(all[k], seen{f, v.On})
		}
	}
	sinceLast, sinceFirst = []Compared{}, []Compared{}
	for _, k := range order {
		s := all[k]
		if len(s) < 2 {
			continue
		}
		now, last := s[len(s)-1], s[len(s)-2]
		sinceLast = append(sinceLast, Compare(now.f, last.f, last.on, h))
		sinceFirst = append(sinceFirst, Compare(now.f, s[0].f, s[0].on, h))
	}
	return sinceLast, sinceFirst
}

// Pair is one runner's two readings of a measure and side, a few days apart without training between.
type Pair struct{ First, Second float64 }

// Typical is the coach's own typical error of a measure.
type Typical struct {
	Measure string      `json:"measure"`
	Rule    string      `json:"rule" doc:"house rule it may stand in for"`
	Pairs   int         `json:"pairs"`
	Enough  bool        `json:"enough"`
	Error   float64     `json:"error" doc:"SD of the differences / √2, in the measure's unit"`
	Low     float64     `json:"low" doc:"95 % interval"`
	High    float64     `json:"high"`
	Unit    string      `json:"unit"`
	Reason  body.Reason `json:"reason"`
}

// TypicalErrors computes the practice's own typical error of each measure with a figure of its own,
// once there are enough repeat pairs. Source: Hopkins 2000, Sports Med 30:1.
func TypicalErrors(pairs map[string][]Pair, h house.Rules) []Typical {
	out := []Typical{}
	for _, m := range Measures {
		key := m.ID + ".sem"
		if _, ok := house.Find(key); !ok || len(pairs[m.ID]) == 0 {
			continue
		}
		t := Typical{Measure: m.ID, Rule: key, Pairs: len(pairs[m.ID]), Unit: m.Unit}
		t.Enough = t.Pairs >= h.Int("typical.pairs")
		r := h.Because("retest.typical-error", "the practice's own error, from repeat pairs of one runner without training between",
			"typical.pairs", "typical.days").See("pairs", "%d of %d", t.Pairs, h.Int("typical.pairs"))
		if t.Enough {
			var d []float64
			for _, p := range pairs[m.ID] {
				d = append(d, p.Second-p.First)
			}
			t.Error, t.Low, t.High = stats.TypicalError(d)
			r.Formula = fmt.Sprintf("SD of differences %s / √2 = %s, 95 %% interval %s to %s", body.Bare(m.Unit, "%.2f", stats.SD(d)),
				body.In(m.Unit, "%.2f", t.Error), body.Bare(m.Unit, "%.2f", t.Low), body.Bare(m.Unit, "%.2f", t.High))
		}
		t.Reason = r
		out = append(out, t)
	}
	return out
}

// Flatter lists the sides whose arch grew newly flatter: a drop grown by more than its detectable change,
// or the two-finger class one worse, between the newest visit that looked and the one before. Visits come
// oldest first.
func Flatter(visits []Visit, h house.Rules) []body.Side {
	var out []body.Side
	for _, side := range body.Sides {
		for _, m := range []struct {
			id    string
			grown float64
		}{{body.ArchDrop, stats.MDC(h.Get("arch.drop.sem"))}, {body.ArchTwoFinger, 0.5}} {
			var seen []float64
			for _, v := range visits {
				if r, ok := Read(v.Trials, m.id, side); ok {
					seen = append(seen, r.Value)
				}
			}
			if n := len(seen); n > 1 && seen[n-1]-seen[n-2] > m.grown {
				out = append(out, side)
				break
			}
		}
	}
	return out
}

// Stalled lists, by side, the findings that stayed the same at the last two retests that looked: what training
// has not moved any more. Visits come oldest first.
func Stalled(visits []Visit, p body.Profile, h house.Rules) map[body.Side][]string {
	type key struct {
		id   string
		side body.Side
	}
	seen := map[key][]Finding{}
	for _, v := range visits {
		for _, f := range Findings(v.Trials, p, v.On, h) {
			k := key{f.ID, f.Side}
			seen[k] = append(seen[k], f)
		}
	}
	out := map[body.Side][]string{}
	for k, fs := range seen {
		n := len(fs)
		if n > 2 && Compare(fs[n-1], fs[n-2], "", h).Change == Same && Compare(fs[n-2], fs[n-3], "", h).Change == Same {
			out[k.side] = append(out[k.side], k.id)
		}
	}
	return out
}
