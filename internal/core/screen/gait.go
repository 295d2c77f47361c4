package screen

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Strike is a foot-strike class.
type Strike string

// The classes.
const (
	Rearfoot Strike = "rearfoot"
	Midfoot  Strike = "midfoot"
	Forefoot Strike = "forefoot"
	// Undecided is an angle whose error reaches into another class.
	Undecided Strike = "undecided"
)

// StrikeOf classes a foot-strike angle in degrees: rearfoot above 8.0°, forefoot below −1.6°.
// Source: Altman & Davis 2012, Gait & Posture 35:298.
func StrikeOf(angle float64, h house.Rules) Strike {
	switch {
	case angle > h.Get("gait.strike.rear"):
		return Rearfoot
	case angle < h.Get("gait.strike.fore"):
		return Forefoot
	}
	return Midfoot
}

// strike reads a foot strike in its context. It is a result, never judged alone: a heel strike at
// easy pace is a finding only with overstride, low cadence, a loud landing or symptoms, and its
// remedy is the chain.
func (x taken) strike(f Finding, m Measure, kind Kind) Finding {
	class := Strike(m.Show(f.Value))
	keys := []string{}
	between := ""
	if kind == Figure {
		class = StrikeOf(f.Value, x.h)
		f = x.withError(f, m)
		if lo, hi := StrikeOf(f.Value-f.Half, x.h), StrikeOf(f.Value+f.Half, x.h); lo != hi {
			class, between = Undecided, fmt.Sprintf("%s or %s", lo, hi)
		}
		keys = []string{"gait.strike.rear", "gait.strike.fore", m.semKey()}
	}
	f.Word, f.Better = string(class), "none"
	if between != "" {
		f.Word = between
	}
	context := ""
	for _, t := range x.trials {
		if t.Measure == m.ID && t.Counts() {
			context = t.Key()
		}
	}
	saw := f.Reason.Saw
	r := x.h.Because("gait.strike", "", keys...)
	if len(keys) == 0 {
		r.Provenance = body.Common
	}
	f, r.Says = x.strikeSays(f, class, between, context)
	r.Saw = append(saw, body.Fact{Name: "context", Value: context})
	if kind == Figure {
		r.Formula = fmt.Sprintf("%.1f°: %s (rearfoot above %g°, forefoot below %g°)", f.Value, class, x.h.Get("gait.strike.rear"),
			x.h.Get("gait.strike.fore"))
	}
	f.Reason = r
	return f
}

// strikeSays judges a class where it was seen: the kind of ground, the pace, and what comes with it.
func (x taken) strikeSays(f Finding, class Strike, between, context string) (_ Finding, says string) {
	at := pace(context)
	with := x.braking(context)
	f.Verdict = Noted
	switch {
	case class == Undecided:
		says = "undecided: within its error it may be " + between + "; mark more steps or a faster clip"
	case class == Rearfoot && at == "down":
		says = "heel braking on a descent is fine"
	case class == Forefoot && at == "down":
		says = "forefoot on a descent brakes with the calf: watch calf and Achilles, change nothing at once"
	case class == Forefoot && at != "easy":
		says = "forefoot is fine for sprinting, climbing and accelerating"
	case class == Rearfoot && at == "fast" && x.otherwiseAtEase(f.Side):
		f.Verdict, f.Severity, f.Limiter, f.Of = Short, 0.5, "hip_posture", "hip_posture"
		says = "a heel strike that appears only when speeding up points to hip extension"
	case class == Rearfoot && len(with) > 0:
		f.Verdict, f.Severity = Short, 0.5
		says = "a heel strike together with " + strings.Join(with, " and ") + " is a finding; the remedy is the chain, not the strike"
	case class == Forefoot && x.p.Goal == "distance":
		f.Verdict, f.Severity = Borderline, 0.2
		says = "forefoot at easy pace over distance loads the calf: watch it, change nothing at once"
	case class == Midfoot:
		says = "in the middle: leave it"
	default:
		says = "no reason to change it: leave it alone"
		if class == Rearfoot && at == "easy" && x.h.Choice(x.p.Approaches, "strike") == "middle" {
			f.Verdict, f.Severity = Borderline, 0.2
			says = "towards the middle, slowly and never by a jump between classes: the chain first"
		}
	}
	return f, says
}

// braking lists what makes a heel strike a finding.
func (x taken) braking(context string) []string {
	out := []string{}
	value := func(id string, side body.Side) (float64, bool) {
		rd, ok := Read(In(x.trials, context), id, side)
		return rd.Value, ok
	}
	for _, side := range body.Sides {
		if v, ok := value(body.GaitOverstride, side); ok && v > x.h.Get("gait.overstride.ref")+x.h.Get("gait.overstride.sem") &&
			!slices.Contains(out, "overstride") {
			out = append(out, "overstride")
		}
	}
	if v, ok := value(body.GaitCadence, body.Both); ok && v < x.h.Get("gait.cadence.ref") && x.h.Choice(x.p.Approaches, "cadence") != "leave" {
		out = append(out, "low cadence")
	}
	if v, ok := value(body.GaitSound, body.Both); ok && v >= x.h.Get("score.fault") {
		out = append(out, "a loud landing")
	}
	if len(x.p.Symptoms) > 0 {
		out = append(out, "symptoms")
	}
	return out
}

// otherwiseAtEase reports whether the strike at easy pace was seen, and was not a heel strike.
func (x taken) otherwiseAtEase(side body.Side) bool {
	seen := false
	for _, t := range x.all {
		if t.Side != side || !t.Counts() || t.Context == nil || t.Context.Pace != "easy" {
			continue
		}
		switch t.Measure {
		case body.GaitStrike:
			if seen = true; t.Value == 0 {
				return false
			}
		case body.GaitStrikeAngle:
			m, _ := FindMeasure(t.Measure)
			if seen = true; StrikeOf(t.Value+1.96*cmp.Or(t.SE, x.sem(m, t.Value)), x.h) == Rearfoot {
				return false // it may be a heel strike
			}
		}
	}
	return seen
}

// CadenceInterval returns the half-width of the 95 % interval of a mean cadence, max(t·s/√k, 2)
// steps a minute, because a 15 s count cannot tell better; with one count it is 1.96 × sem.
func CadenceInterval(counts []float64, sem float64) float64 {
	if len(counts) < 2 {
		return math.Max(1.96*sem, 2)
	}
	return math.Max(stats.HalfWidth(counts), 2)
}

// CadenceTarget is where the cadence is to go under the chosen approach; 0 when it is left alone.
// Never more than 10 % above the runner's own.
// In the usual band the runner's own is raised for a reason alone: overstride, a loud landing, symptoms.
func CadenceTarget(own float64, approach string, reasons []string, h house.Rules) (target float64, why body.Reason) {
	r := h.Because("gait.cadence-target", "", "gait.cadence.own").See("own cadence", "%.0f spm", own)
	switch approach {
	case "leave":
		r.Says = "left as it is"
		return 0, r
	case "band":
		low, high := h.Get("gait.cadence.ref"), h.Get("gait.cadence.high")
		r = h.Because("gait.cadence-target", "into the usual band, at most 10 % above the runner's own at once", "gait.cadence.ref",
			"gait.cadence.high").See("own cadence", "%.0f spm", own)
		if own >= low {
			r.Says = "already in the band: leave it"
			if own > high {
				r.Says = "above the band: leave it"
			}
			return 0, r
		}
		target = math.Min(low, own*1.1)
		r.Formula = fmt.Sprintf("min(%g, 1.10 × %.0f) = %.0f spm", low, own, target)
		return target, r
	}
	if own >= h.Get("gait.cadence.high") {
		r.Says = "above the usual band: leave it"
		return 0, r
	}
	if own >= h.Get("gait.cadence.ref") {
		if len(reasons) == 0 {
			r.Says = "in the usual band, and nothing asks for a change: leave it"
			return 0, r
		}
		r = r.See("reason", "%s", strings.Join(reasons, ", "))
	}
	share := h.Get("gait.cadence.own")
	target = own * (1 + share/100)
	r.Says = "the runner's own and a little more, in steps of 4–6 a minute over two weeks each"
	r.Formula = fmt.Sprintf("%.0f × (1 + %g %%) = %.0f spm", own, share, target)
	return target, r
}

// Own is the runner's own cadence and where it is to go.
type Own struct {
	Reading Reading
	Half    float64 // half-width of the 95 % interval, steps a minute
	Target  float64 // 0: left alone
	Why     body.Reason

	reasons []string
}

// Before is the cadence counted first in the twelve weeks up to the newest count, in the same context, with the target it
// leads to: what a way of steps that has begun goes on from.
func (o Own) Before(trials []Trial, p body.Profile, h house.Rules) Own {
	const weeks = 12
	var newest, first body.Date
	of := func(use func(Trial)) {
		for _, t := range trials {
			if t.Measure == body.GaitCadence && t.Counts() && t.Key() == o.Reading.Context {
				use(t)
			}
		}
	}
	of(func(t Trial) { newest = max(newest, t.On) })
	first = newest
	of(func(t Trial) {
		if newest.Sub(t.On) <= 7*weeks {
			first = min(first, t.On)
		}
	})
	var counts []float64
	of(func(t Trial) {
		if t.On == first {
			counts = append(counts, t.Value)
		}
	})
	o.Reading.Value = stats.Mean(counts)
	o.Target, o.Why = CadenceTarget(o.Reading.Value, h.Choice(p.Approaches, "cadence"), o.reasons, h)
	return o
}

// OwnCadence is the one place the runner's own cadence is read: at an easy pace in the own shoes, and from
// nothing else. It reports false when it was never counted so.
func OwnCadence(trials []Trial, p body.Profile, h house.Rules) (Own, bool) {
	rd, ok := ReadEasy(trials, body.GaitCadence, body.Both)
	if !ok {
		return Own{}, false
	}
	x := taken{trials: trials, all: trials, p: p, h: h}
	reasons := slices.DeleteFunc(x.braking(rd.Context), func(s string) bool { return s == "low cadence" })
	out := Own{Reading: rd, reasons: reasons}
	var counts []float64
	for _, t := range trials {
		if t.Measure == body.GaitCadence && t.Counts() && t.Key() == rd.Context {
			counts = append(counts, t.Value)
		}
	}
	out.Half, _ = cadenceHalf(counts, rd, h)
	out.Target, out.Why = CadenceTarget(rd.Value, h.Choice(p.Approaches, "cadence"), reasons, h)
	return out, true
}

// cadenceHalf is the half-width of the 95 % interval of a mean cadence, and how it came about.
func cadenceHalf(counts []float64, rd Reading, h house.Rules) (half float64, how string) {
	half, how = CadenceInterval(counts, h.Get("gait.cadence.sem")), fmt.Sprintf("max(t·s/√%d, 2)", rd.N)
	if rd.SE > 0 { // every one from a clip: no count to be off by two
		half, how = 1.96*rd.SE, "from the clip's frames"
		if spread := stats.HalfWidth(counts); len(counts) > 1 && spread > half {
			half, how = spread, fmt.Sprintf("t·s/√%d", rd.N)
		}
	}
	return half, how
}

// Step is one step of a cadence on its way to its target.
type Step struct {
	Spm  float64 `json:"spm" doc:"steps a minute to run at"`
	Days int     `json:"days" doc:"at least this long, before the next"`
}

// CadenceSteps leads from the runner's own cadence to the target in equal steps, in whole steps a
// minute: 4 to 6 each, two weeks each. A way of 7 is 4 and 3; one below 4 is a single step. None
// without a target above the runner's own. Common practice, no source.
func CadenceSteps(own, target float64, h house.Rules) []Step {
	out := []Step{}
	from := math.Round(own)
	way := math.Round(target) - from
	n := math.Ceil(way / h.Get("gait.cadence.step"))
	for i := 1.; i <= n; i++ {
		out = append(out, Step{from + math.Round(way*i/n), h.Int("gait.cadence.step.days")})
	}
	return out
}

// cadence judges the mean of the counts with its t interval.
func (x taken) cadence(f Finding, m Measure, rd Reading) Finding {
	var counts []float64
	for _, t := range x.trials {
		if t.Measure == m.ID && t.Counts() {
			counts = append(counts, t.Value)
		}
	}
	half, how := cadenceHalf(counts, rd, x.h)
	f.Half = half
	f.Band = f.Half / 1.96
	f.MDC = stats.MDC(f.Band)
	f.Reference = x.h.Get("gait.cadence.ref")
	formula := fmt.Sprintf("%s; 95 %% interval ± %s = ± %.1f", rd.Reason.Formula, how, f.Half)
	f = judged(f, x.h, formula, "gait.cadence.ref", "gait.cadence.sem")
	f.Reason.Saw = append(rd.Reason.Saw, f.Reason.Saw...)
	approach := x.h.Choice(x.p.Approaches, "cadence")
	if own, ok := OwnCadence(x.all, x.p, x.h); ok && len(x.trials) > 0 && own.Reading.Context == rd.Context {
		if own.Target > 0 {
			f.Reason = f.Reason.See("target", "%.0f spm: %s", own.Target, own.Why.Says)
		} else {
			f.Reason = f.Reason.See("target", "none: %s", own.Why.Says)
		}
	}
	if f.Severity = math.Min(1, math.Max(0, f.Reference-f.Value)/20); f.Verdict == Clear || approach == "leave" {
		f.Severity = 0
	}
	if approach == "leave" {
		f.Verdict, f.Reason.Says = Noted, "left as it is, as chosen for this runner"
	}
	return f
}

// Link is one step of the gait chain, in the order it is worked on.
type Link struct {
	ID       string      `json:"id"`
	Name     string      `json:"name"`
	Verdict  Verdict     `json:"verdict"`
	Findings []Finding   `json:"findings"`
	Says     string      `json:"says"`
	First    bool        `json:"first" doc:"the first link to work on"`
	Reason   body.Reason `json:"reason"`
}

var chain = []struct {
	id, name, work string
	measures       []string
}{
	{"posture", "Posture", "Tall from ankle to ear; cue one thing at a time.",
		[]string{body.GaitPosture, body.GaitTrunk, body.StanceLowBack, body.GaitLowBack}},
	{"hips", "Hips", "Hips forward over the foot; open the hip before asking for a longer stride behind.",
		[]string{body.GaitHips, body.GaitHipExtension, body.GaitShuffle}},
	{"arms", "Arms", "Elbows back, shoulders low.", []string{body.GaitArms}},
	{"cadence", "Cadence", "Quicker, shorter steps, 4–6 a minute over two weeks.", []string{body.GaitCadence}},
	{"landing", "Landing", "Land under the body, quietly, beside the line.",
		[]string{body.GaitOverstride, body.GaitShinAngle, body.GaitKneeLanding, body.GaitBounce, body.GaitOscillation, body.GaitContact,
			body.GaitFlight, body.GaitSway, body.GaitCrossover, body.GaitSound, body.GaitCollapse}},
	{"strike", "Foot strike", "A result of everything above; never a thing to force.", []string{body.GaitStrike, body.GaitStrikeAngle}},
}

// Chain sorts the gait findings down the chain: posture, hips, arms, cadence, landing, and only then
// the strike. Under the other approach cadence comes first. Links without a finding are left out.
func Chain(findings []Finding, p body.Profile, h house.Rules) []Link {
	order := slices.Clone(chain)
	cadenceFirst := h.Choice(p.Approaches, "gait_lever") == "cadence"
	if cadenceFirst {
		slices.SortStableFunc(order, func(a, b struct {
			id, name, work string
			measures       []string
		}) int {
			return boolInt(b.id == "cadence") - boolInt(a.id == "cadence")
		})
	}
	out, found := []Link{}, false
	for i, step := range order {
		l := Link{ID: step.id, Name: step.name, Verdict: Noted, Findings: []Finding{}}
		for _, f := range findings {
			if slices.Contains(step.measures, f.Measure) && !strings.HasSuffix(f.ID, ".side") {
				l.Findings = append(l.Findings, f)
				if rankOf(f.Verdict) > rankOf(l.Verdict) {
					l.Verdict = f.Verdict
				}
			}
		}
		if len(l.Findings) == 0 {
			continue
		}
		order := "posture → hips → arms → cadence → landing → strike"
		if cadenceFirst {
			order = "cadence first, then posture → hips → arms → landing → strike"
		}
		l.Reason = h.Because("gait.chain", fmt.Sprintf("step %d of the chain", i+1)).See("order", "%s", order)
		l.Reason.Provenance = body.Common
		switch {
		case l.Verdict == Short && !found && step.id != "strike":
			l.First, found = true, true
			l.Says = "Begin here. " + step.work
		case l.Verdict == Short:
			l.Says = "After what stands above. " + step.work
		case l.Verdict == Borderline:
			l.Says = "Look again before acting."
		default:
			l.Says = "Leave alone."
		}
		out = append(out, l)
	}
	return out
}

func boolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}

// rankOf orders verdicts from unjudged to short.
func rankOf(v Verdict) int {
	return slices.Index([]Verdict{Noted, Clear, Borderline, Short}, v)
}

// StrikeAtEase is what comes down first at easy pace in shoes: by the measured angle where there is one, else by eye; of two feet
// that differ the one that loads the calf more. ok is false where neither was looked at.
func StrikeAtEase(trials []Trial, h house.Rules) (out Strike, ok bool) {
	load := []Strike{Rearfoot, Midfoot, Forefoot} // by eye, too
	for _, side := range body.Sides {
		at := -1
		if rd, known := ReadEasy(trials, body.GaitStrikeAngle, side); known {
			at = slices.Index(load, StrikeOf(rd.Value, h))
		} else if rd, known := ReadEasy(trials, body.GaitStrike, side); known {
			at = int(rd.Value)
		}
		if at >= 0 && at < len(load) && at >= slices.Index(load, out) {
			out, ok = load[at], true
		}
	}
	return out, ok
}
