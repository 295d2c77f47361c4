package screen

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Verdict says how a value stands against its reference, allowing for the test's own error.
type Verdict string

// The verdicts. Borderline means within one SEM of the reference: retest before acting.
const (
	Clear      Verdict = "clear"
	Borderline Verdict = "borderline"
	Short      Verdict = "short"
)

// Finding is one value against its reference.
type Finding struct {
	ID        string      `json:"id"`
	Name      string      `json:"name"`
	Limiter   string      `json:"limiter"`
	Side      body.Side   `json:"side" enum:"left,right,both"`
	Value     float64     `json:"value"`
	Unit      string      `json:"unit"`
	Reference float64     `json:"reference"`
	Better    string      `json:"better" enum:"higher,lower"`
	Band      float64     `json:"band" doc:"one SEM (√2 SEM for a difference): the half-width of borderline"`
	MDC       float64     `json:"mdc" doc:"smallest change that is not measurement error"`
	AtLeast   bool        `json:"atLeast"`
	Verdict   Verdict     `json:"verdict" enum:"clear,borderline,short"`
	Severity  float64     `json:"severity" doc:"min(1, shortfall / (0.5 × reference)), 0–1"`
	Reason    body.Reason `json:"reason"`
}

// Judge compares a value with a reference. band is the half-width of borderline, in the value's unit.
func Judge(value, reference, band float64, better string) (v Verdict, severity float64) {
	ahead := value - reference
	if better == "lower" {
		ahead = -ahead
	}
	severity = math.Max(0, math.Min(1, -ahead/(0.5*reference)))
	switch {
	case ahead > band:
		return Clear, severity
	case ahead >= -band:
		return Borderline, severity
	}
	return Short, severity
}

func judged(f Finding, h house.Rules, formula string, keys ...string) Finding {
	f.Verdict, f.Severity = Judge(f.Value, f.Reference, f.Band, f.Better)
	says := map[Verdict]string{
		Clear:      "clear: past the reference by more than the test's own error",
		Borderline: "borderline: within the test's own error of the reference; retest before acting",
		Short:      "short: behind the reference by more than the test's own error",
	}[f.Verdict]
	if f.AtLeast && f.Verdict != Clear {
		f.Verdict, f.Severity = Borderline, 0
		says = "at least this many: the count was stopped on purpose, so it is not known to be short; test to the end when it is allowed"
	}
	r := h.Because("screen.verdict", says, keys...)
	r = r.See(f.Name, "%s %s", Figure(f.Value, f.Unit), f.Unit).
		See("reference", "%g %s", f.Reference, f.Unit).See("band (1 SEM)", "± %.2g %s", f.Band, f.Unit)
	r.Formula = formula
	f.Reason = r
	return f
}

// Findings reads every value the trials allow, in a fixed order: each side, then the side
// difference. toeMm is the big-toe length.
func Findings(trials []Trial, toeMm float64, h house.Rules) []Finding {
	var out []Finding
	direct := func(measure, limiter string) {
		m, _ := FindMeasure(measure)
		ref, sem := h.Get(measure+".ref"), h.Get(measure+".sem")
		var pair []Finding
		for _, side := range body.Sides {
			rd, ok := Read(trials, measure, side)
			if !ok {
				continue
			}
			pair = append(pair, judged(Finding{ID: measure, Name: m.Name, Limiter: limiter, Side: side, Value: rd.Value, Unit: m.Unit,
				Reference: ref, Better: m.Better, Band: sem, MDC: stats.MDC(sem), AtLeast: rd.AtLeast}, h,
				fmt.Sprintf("%s against %g ± %g %s", rd.Reason.Formula, ref, sem, m.Unit), measure+".ref", measure+".sem"))
		}
		out = append(out, withDifference(pair, h, measure+".side", sem)...)
	}
	direct("ankle.knee_to_wall", "ankle_bend")
	out = append(out, toeFindings(trials, toeMm, h)...)
	direct("calf.raises_straight", "calf_capacity")
	return out
}

func toeFindings(trials []Trial, toeMm float64, h house.Rules) []Finding {
	sem := h.Get("toe.angle.sem")
	var passive, gap []Finding
	for _, side := range body.Sides {
		p, ok := Read(trials, "toe.passive_height", side)
		if !ok {
			continue
		}
		pAngle := stats.LiftAngle(p.Value, toeMm)
		passive = append(passive, judged(Finding{ID: "toe.passive_angle", Name: "Big toe, passive angle", Limiter: "big_toe_range", Side: side,
			Value: pAngle, Unit: "°", Reference: h.Get("toe.passive_angle.ref"), Better: "higher", Band: sem, MDC: stats.MDC(sem)}, h,
			fmt.Sprintf("asin(%g mm / %g mm) = %.1f°", p.Value, toeMm, pAngle), "toe.passive_angle.ref", "toe.angle.sem"))
		a, ok := Read(trials, "toe.active_height", side)
		if !ok {
			continue
		}
		aAngle := stats.LiftAngle(a.Value, toeMm)
		gap = append(gap, judged(Finding{ID: "toe.active_gap", Name: "Big toe, active gap", Limiter: "big_toe_control", Side: side,
			Value: pAngle - aAngle, Unit: "°", Reference: h.Get("toe.active_gap.ref"), Better: "lower", Band: math.Sqrt2 * sem, MDC: stats.MDC(math.Sqrt2 * sem)}, h,
			fmt.Sprintf("passive asin(%g/%g) = %.1f° − active asin(%g/%g) = %.1f° is %.1f°", p.Value, toeMm, pAngle, a.Value, toeMm, aAngle, pAngle-aAngle),
			"toe.active_gap.ref", "toe.angle.sem"))
	}
	return append(withDifference(passive, h, "toe.angle.side", sem), gap...)
}

// withDifference appends the difference between the sides when both were taken.
func withDifference(pair []Finding, h house.Rules, key string, sem float64) []Finding {
	if len(pair) != 2 {
		return pair
	}
	l, r := pair[0], pair[1]
	band := math.Sqrt2 * sem
	f := Finding{ID: l.ID + ".side", Name: l.Name + ", side difference", Limiter: "side_difference", Side: body.Left,
		Value: math.Abs(l.Value - r.Value), Unit: l.Unit, Reference: h.Get(key), Better: "lower", Band: band, MDC: stats.MDC(band),
		AtLeast: l.AtLeast || r.AtLeast}
	weaker := "left"
	if r.Value < l.Value {
		f.Side, weaker = body.Right, "right"
	}
	if l.Value == r.Value {
		f.Side, weaker = body.Both, "neither"
	}
	f = judged(f, h, fmt.Sprintf("|%s − %s| = %s %s; behind: %s", Figure(l.Value, l.Unit), Figure(r.Value, r.Unit), Figure(f.Value, f.Unit), f.Unit, weaker), key)
	return append(pair, f)
}

// Limiter is one thing that may hold the runner back, with its evidence and its rank.
type Limiter struct {
	ID         string      `json:"id"`
	Name       string      `json:"name"`
	Verdict    Verdict     `json:"verdict" enum:"clear,borderline,short"`
	Side       body.Side   `json:"side" enum:"left,right,both"`
	Severity   float64     `json:"severity"`
	Relevance  float64     `json:"relevance"`
	Confidence float64     `json:"confidence"`
	Score      float64     `json:"score"`
	Gait       string      `json:"gait" doc:"what it usually does to the gait"`
	Rails      []string    `json:"rails" doc:"rails that answer it"`
	Evidence   []Finding   `json:"evidence"`
	Reason     body.Reason `json:"reason"`
}

type limiterInfo struct {
	id, name, gait string
	rails          []string
	relevance      map[string]float64 // by goal; 1 where absent
}

// limiters is in tie-breaking order. Relevance is 0.5, 1 or 1.5 by goal (our own table); big-toe
// control never weighs less than 1 because the big toe carries most of one-leg support.
var limiters = []limiterInfo{
	{"symptoms", "Symptoms", "Pain changes how the foot is loaded; it is settled before load is added.", []string{}, map[string]float64{"pain_free": 1.5}},
	{"ankle_bend", "Ankle bend", "A short ankle lets the foot roll off the outside or spin off the inside before push-off.", []string{"ankle_bend"},
		map[string]float64{"hills": 1.5, "barefoot": 1.5}},
	{"big_toe_range", "Big-toe range", "A stiff big toe shortens ground contact, hip extension and push-off; a shoe's rocker can hide it.", []string{"big_toe"},
		map[string]float64{"speed": 1.5, "barefoot": 1.5}},
	{"big_toe_control", "Big-toe control", "Range that is not controlled is not used: support drifts away from the big toe.", []string{"big_toe"},
		map[string]float64{"barefoot": 1.5, "pain_free": 1.5}},
	{"calf_capacity", "Calf capacity", "A calf that tires early lets the heel drop and contact lengthen late in a run.", []string{"calf_straight"},
		map[string]float64{"distance": 1.5, "hills": 1.5, "speed": 1.5, "barefoot": 1.5}},
	{"side_difference", "Side difference", "One side does less, so the other takes more of every run.", []string{"ankle_bend", "big_toe", "calf_straight"},
		map[string]float64{"speed": 0.5}},
}

// Limiters ranks what limits the runner: severity × relevance × confidence, symptoms first, ties in
// the order of the table. Clear limiters come last with a score of 0.
func Limiters(findings []Finding, p body.Profile, h house.Rules) []Limiter {
	var out []Limiter
	for _, info := range limiters {
		l := Limiter{ID: info.id, Name: info.name, Gait: info.gait, Rails: info.rails, Relevance: 1, Side: body.Both, Verdict: Clear, Evidence: []Finding{}}
		if w, ok := info.relevance[p.Goal]; ok {
			l.Relevance = w
		}
		if info.id == "symptoms" {
			if l = symptoms(l, p); l.Score == 0 {
				continue
			}
			out = append(out, l)
			continue
		}
		for _, f := range findings {
			if f.Limiter != info.id {
				continue
			}
			l.Evidence = append(l.Evidence, f)
			conf := confidence(f.Verdict)
			if score := f.Severity * l.Relevance * conf; worse(f.Verdict, l.Verdict) || (f.Verdict == l.Verdict && score > l.Score) {
				l.Severity, l.Confidence, l.Score, l.Verdict, l.Side = f.Severity, conf, score, f.Verdict, f.Side
			}
		}
		if len(l.Evidence) == 0 {
			continue
		}
		l.Reason = h.Because("read.rank", fmt.Sprintf("%s: %s", l.Name, l.Verdict))
		for _, f := range l.Evidence {
			l.Reason = l.Reason.See(fmt.Sprintf("%s, %s", f.Name, f.Side), "%s %s, %s", Figure(f.Value, f.Unit), f.Unit, f.Verdict)
		}
		l.Reason.Formula = fmt.Sprintf("severity %.2f × relevance %.1f × confidence %.1f = %.2f", l.Severity, l.Relevance, l.Confidence, l.Score)
		out = append(out, l)
	}
	slices.SortStableFunc(out, func(a, b Limiter) int {
		if s := cmp.Compare(first(b.ID), first(a.ID)); s != 0 {
			return s
		}
		return cmp.Compare(b.Score, a.Score)
	})
	return out
}

func first(id string) int {
	if id == "symptoms" {
		return 1
	}
	return 0
}

func confidence(v Verdict) float64 {
	switch v {
	case Short:
		return 1
	case Borderline:
		return 0.5
	}
	return 0
}

func worse(a, b Verdict) bool { return confidence(a) > confidence(b) }

// symptoms scores the worst baseline: half the pain scale counts as full severity.
func symptoms(l Limiter, p body.Profile) Limiter {
	r := house.Rules{}.Because("read.symptoms", "symptoms come first whatever their score")
	worst := 0
	for _, s := range p.Symptoms {
		r = r.See(fmt.Sprintf("%s, %s", s.Region.Name(), s.Side), "usual %d of 10, worst %d", s.Baseline, s.Worst)
		if s.Baseline >= worst {
			worst, l.Side = s.Baseline, s.Side
		}
	}
	if len(p.Symptoms) == 0 {
		return l
	}
	l.Severity = math.Min(1, float64(max(worst, 1))/5)
	l.Confidence, l.Verdict = 1, Short
	l.Score = l.Severity * l.Relevance * l.Confidence
	r.Formula = fmt.Sprintf("severity min(1, %d/5) = %.2f × relevance %.1f × confidence 1 = %.2f", max(worst, 1), l.Severity, l.Relevance, l.Score)
	l.Reason = r
	return l
}

// Missing lists the measures and sides without a counting trial, as "Knee to wall, left".
func Missing(trials []Trial) []string {
	out := []string{}
	for _, m := range Measures {
		for _, s := range body.Sides {
			if _, ok := Read(trials, m.ID, s); !ok {
				out = append(out, fmt.Sprintf("%s, %s", m.Name, s))
			}
		}
	}
	return out
}
