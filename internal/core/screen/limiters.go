package screen

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Limiter is one thing that may hold the runner back, with its evidence and its rank.
type Limiter struct {
	ID         string      `json:"id"`
	Name       string      `json:"name"`
	Verdict    Verdict     `json:"verdict"`
	Side       body.Side   `json:"side"`
	Severity   float64     `json:"severity"`
	Relevance  float64     `json:"relevance"`
	Confidence float64     `json:"confidence"`
	Score      float64     `json:"score"`
	Gait       string      `json:"gait" doc:"what it usually does to the gait"`
	Answer     string      `json:"answer" doc:"what is usually done about it"`
	Retest     []string    `json:"retest" doc:"what to measure again"`
	Evidence   []Finding   `json:"evidence"`
	Reason     body.Reason `json:"reason"`
}

type limiterInfo struct {
	id, name, gait, answer string
	relevance              map[string]float64 // by goal; 1 where absent
}

// limiters is in tie-breaking order. Relevance is 0.5, 1 or 1.5 by goal (our own table); big-toe
// control never weighs less than 1 because the big toe carries most of one-leg support.
var limiters = []limiterInfo{
	{"symptoms", "Symptoms", "Pain changes how the foot is loaded; it is settled before load is added.",
		"Settle it under the chosen approach; load within the pain rule.", map[string]float64{"pain_free": 1.5}},
	{"ankle_bend", "Ankle bend", "A short ankle lets the foot roll off the outside or spin off the inside before push-off.",
		"Range in the wall test's own position, arch high, straight and bent knee.",
		map[string]float64{"hills": 1.5, "barefoot": 1.5}},
	{"big_toe_range", "Big-toe range", "A stiff big toe shortens ground contact, hip extension and push-off; a shoe's rocker can hide it.",
		"Range work at the joint, never before a run.",
		map[string]float64{"speed": 1.5, "barefoot": 1.5}},
	{"big_toe_control", "Big-toe control", "Range that is not controlled is not used: support drifts away from the big toe.",
		"Lift off the stack, press without curling.",
		map[string]float64{"barefoot": 1.5, "pain_free": 1.5}},
	{"toe_control", "Toe control", "Toes that over-grip make the sole sore and the calf tight.",
		"Small daily doses of single-toe lifts, quality only.", map[string]float64{"barefoot": 1.5, "distance": 0.5}},
	{"arch_strength", "Arch strength", "An arch that gives way turns the whole leg in: big-toe bump, sore fascia or shin.",
		"Short foot and big-toe press, seated first.", map[string]float64{"barefoot": 1.5, "pain_free": 1.5}},
	{"balance", "Balance", "A foot that searches for its balance lands wide, late and loud.", "Little and often, tied to daily chores.",
		map[string]float64{"hills": 1.5, "barefoot": 1.5}},
	{"calf_capacity", "Calf capacity", "A calf that tires early lets the heel drop and contact lengthen late in a run.",
		"Raises that climb from what was tested.",
		map[string]float64{"distance": 1.5, "hills": 1.5, "speed": 1.5, "barefoot": 1.5}},
	{"side_ankle", "Side ankle", "A weak side ankle lets the heel tip and the knee follow it inwards.",
		"Band work both ways, then reach in four directions.", map[string]float64{"hills": 1.5}},
	{"shin", "Shin", "A tired shin slaps the foot down and leaves the arch on its own.", "Range first, then toe raises, feet further out.",
		map[string]float64{"pain_free": 1.5}},
	{"spring", "Spring readiness", "Without a held brace the heel drops on each bounce and the rebound is lost.",
		"Supported bounces, less and less weight on the hands.", map[string]float64{"speed": 1.5, "pain_free": 0.5}},
	{"hip_posture", "Hip and posture", "Tight hips put the foot in front when speeding up; a slump moves the weight off the forefoot.",
		"Open the hip, then cue one thing at a time in easy running.", map[string]float64{"speed": 1.5}},
	{"cadence_landing", "Cadence and landing", "Landing ahead of the body brakes every step and loads hip and knee.",
		"Down the chain; cadence in steps of 4–6 a minute.", map[string]float64{"distance": 1.5, "pain_free": 1.5}},
	{"side_difference", "Side difference", "One side does less, so the other takes more of every run.",
		"An extra set for the weaker side while it does not hurt.",
		map[string]float64{"speed": 0.5}},
}

// Limiters ranks what limits the runner: severity × relevance × confidence, symptoms first, ties in
// the order of the table. Clear limiters come last with a score of 0.
func Limiters(findings []Finding, p body.Profile, h house.Rules) []Limiter {
	out := []Limiter{}
	for _, info := range limiters {
		l := Limiter{ID: info.id, Name: info.name, Gait: info.gait, Answer: info.answer, Relevance: 1, Side: body.Both, Verdict: Noted,
			Evidence: []Finding{}, Retest: []string{}}
		if w, ok := info.relevance[p.Goal]; ok {
			l.Relevance = w
		}
		l.Reason = h.Because("read.rank", "")
		if info.id == "symptoms" {
			l = symptoms(l, p)
		}
		for _, f := range findings {
			if f.Limiter != info.id {
				continue
			}
			l.Evidence = append(l.Evidence, f)
			if !slices.Contains(l.Retest, f.Measure) && (f.Verdict == Short || f.Verdict == Borderline) {
				l.Retest = append(l.Retest, f.Measure)
			}
			l.Reason = l.Reason.See(fmt.Sprintf("%s, %s", f.Name, f.Side), "%s, %s", f.Shown(), f.Verdict)
			conf := confidence(f.Verdict)
			if score := f.Severity * l.Relevance * conf; rankOf(f.Verdict) > rankOf(l.Verdict) || (f.Verdict == l.Verdict && score > l.Score) {
				l.Severity, l.Confidence, l.Score, l.Verdict, l.Side = f.Severity, conf, score, f.Verdict, f.Side
			}
		}
		if len(l.Reason.Saw) == 0 {
			continue
		}
		if l.ID != "symptoms" {
			l.Reason.Says = fmt.Sprintf("%s: %s", l.Name, l.Verdict)
		}
		l.Reason.Formula = fmt.Sprintf("severity %.2f × relevance %.1f × confidence %.1f = %.2f", l.Severity, l.Relevance, l.Confidence, l.Score)
		out = append(out, l)
	}
	slices.SortStableFunc(out, func(a, b Limiter) int {
		if s := cmp.Compare(first(b), first(a)); s != 0 {
			return s
		}
		return cmp.Compare(b.Score, a.Score)
	})
	return out
}

// Shown writes the finding's value as people read it.
func (f Finding) Shown() string {
	if f.Word != "" && f.Unit == "" {
		return f.Word
	}
	if f.Word != "" {
		return Amount(f.Value, f.Unit) + " " + f.Word
	}
	if f.AtLeast {
		return "at least " + Amount(f.Value, f.Unit)
	}
	return Amount(f.Value, f.Unit)
}

func first(l Limiter) int { return boolInt(l.ID == "symptoms" && l.Score > 0) }

func confidence(v Verdict) float64 {
	switch v {
	case Short:
		return 1
	case Borderline:
		return 0.5
	}
	return 0
}

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
	l.Reason = r
	if len(p.Symptoms) == 0 {
		return l
	}
	l.Severity = math.Min(1, float64(max(worst, 1))/5)
	l.Confidence, l.Verdict = 1, Short
	l.Score = l.Severity * l.Relevance * l.Confidence
	return l
}
