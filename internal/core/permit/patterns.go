package permit

import (
	"slices"
	"strconv"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
)

// pattern is one row of the table of patterns that lock, on their own side, until a clinician's finding
// opens what it names.
type pattern struct {
	id, name string
	takes    Takes
	coach    bool // the coach may open it after 28 quiet days and a retest free of pain
	is       func(Facts, body.Side) (body.Reason, bool)
}

// PatternIDs lists the rows of the table of patterns.
func PatternIDs() []string {
	out := []string{}
	for _, p := range patterns {
		out = append(out, p.id)
	}
	return out
}

// growing are the places where bone grows: heel, shin bump and kneecap's tip, base of the fifth metatarsal,
// inner mid-foot, second metatarsal head.
var growing = []body.Region{body.HeelSole, body.HeelBack, body.Knee, body.Shin, body.OuterFoot, body.Arch, body.Ball}

var careful = Takes{Above: num(2), Edge: true, BareAbove: num(0)}

var patterns = []pattern{
	{"growing", "sore where bone grows, under 18", Takes{Above: num(2), Beyond: impact(body.NoImpact), Edge: true,
		Runs: []body.RunPart{body.Rise}}, true, func(f Facts, leg body.Side) (body.Reason, bool) {
		r, sore := f.sore(leg, growing...)
		return r, sore && f.Profile.Age(f.Today) < 18
	}},
	{"toe_joint", "pain in the big-toe joint", Takes{ToesBack: true, Tags: []body.Tag{body.ToeRange, body.Grip}}, true,
		func(f Facts, leg body.Side) (body.Reason, bool) {
			r, sore := f.sore(leg, body.BigToe)
			return r, f.showed(leg, "toe.passive_extension:joint_pain") || sore
		}},
	{"front_pinch", "painful pinch at the front of the ankle", Takes{Tags: []body.Tag{body.AnkleRange, body.DeepSquat}}, true,
		func(f Facts, leg body.Side) (body.Reason, bool) {
			return f.reason("permit.pattern", ""), f.showed(leg, "ankle.end_feel:painful")
		}},
	{"shin", "shin pain for more than 21 days", Takes{Above: num(2), Beyond: impact(body.NoImpact), Tags: []body.Tag{body.ShinPressure},
		Runs: []body.RunPart{body.Rise}}, true, func(f Facts, leg body.Side) (body.Reason, bool) {
		r := f.reason("permit.pattern", "")
		for _, s := range f.Profile.Symptoms {
			if s.Region == body.Shin && s.Side.Touches(leg) && max(s.Worst, s.Baseline) > 0 && s.Since != "" &&
				f.Today.Sub(s.Since) > f.House.Int("permit.shin.days") {
				return r.SeeOn(s.Since, "shin, since", "%d days", f.Today.Sub(s.Since)), true
			}
		}
		return r, false
	}},
	{"few_raises", "fewer than 3 raises on one leg, 10 and more on the other", careful, false,
		func(f Facts, leg body.Side) (body.Reason, bool) {
			mine, ok := f.Tests[leg][body.CalfRaisesStraight]
			other, ok2 := f.Tests[leg.Other()][body.CalfRaisesStraight]
			return f.reason("permit.pattern", "").See("raises, "+string(leg), "%g", mine).See("raises, "+string(leg.Other()), "%g", other), ok &&
				ok2 && mine < 3 && other >= 10
		}},
	{"no_turn", "a heel that does not turn in on rising", careful, false, func(f Facts, leg body.Side) (body.Reason, bool) {
		return f.reason("permit.pattern", ""), f.showed(leg, "calf.raises_straight:no_turn")
	}},
	{"flatter", "an arch that is newly flatter", careful, false, func(f Facts, leg body.Side) (body.Reason, bool) {
		return f.reason("permit.pattern", ""), f.Flatter[leg]
	}},
	{"inner_swelling", "swelling for over 14 days behind the inner ankle bone", careful, false,
		func(f Facts, leg body.Side) (body.Reason, bool) {
			return f.named("old_swelling", "behind_inner", leg)
		}},
	{"joint_swelling", "a joint swollen for over 14 days", Takes{Above: num(2)}, false, func(f Facts, leg body.Side) (body.Reason, bool) {
		return f.named("old_swelling", "joint", leg)
	}},
	{"both_heels", "both heels sore and stiff for over 30 minutes", Takes{Above: num(2)}, false,
		func(f Facts, leg body.Side) (body.Reason, bool) {
			r, left := f.sore(body.Left, body.HeelSole, body.HeelBack)
			_, right := f.sore(body.Right, body.HeelSole, body.HeelBack)
			return r.See("stiff, minutes", "%d and %d", f.Stiff[body.Left], f.Stiff[body.Right]), left && right &&
				max(f.Stiff[body.Left], f.Stiff[body.Right]) > 30
		}},
}

// Pattern is a pattern that locks on one side.
type Pattern struct {
	ID     string        `json:"id"`
	Name   string        `json:"name"`
	Side   body.Side     `json:"side" enum:"left,right"`
	Coach  bool          `json:"coach" doc:"the coach may open it after 28 quiet days and a retest free of pain"`
	Opened []refer.Limit `json:"opened" doc:"findings recorded for it"`
	Reason body.Reason   `json:"reason"`
	takes  Takes
}

// Patterns lists the patterns that lock today, with what was opened of them.
func (f Facts) Patterns() []Pattern {
	out := []Pattern{}
	for _, p := range patterns {
		for _, leg := range body.Sides {
			r, is := p.is(f, leg)
			if !is {
				continue
			}
			r.Rule, r.Says, r.Provenance = "permit.pattern", p.name, body.Common
			x := Pattern{ID: "pattern." + p.id, Name: p.name, Side: leg, Coach: p.coach, Opened: []refer.Limit{}, Reason: r, takes: p.takes}
			for _, l := range f.Limits {
				if l.For == x.ID && l.Side.Touches(leg) && !l.Earlier {
					x.takes = x.takes.opened(l.Opens)
					x.Opened = append(x.Opened, l)
				}
			}
			out = append(out, x)
		}
	}
	return out
}

func (f Facts) ofPatterns() []Cut {
	out := []Cut{}
	for _, p := range f.Patterns() {
		opens := "a clinician's finding"
		if p.Coach {
			opens += ", or the coach after 28 quiet days and a retest free of pain"
		}
		if p.ID == "pattern.few_raises" {
			opens += ", or a retest of 10 and more on that side"
		}
		out = append(out, Cut{ID: p.ID, Leg: p.Side, Sort: Safety, Takes: p.takes, Opens: opens, Reason: p.Reason})
	}
	return out
}

// sore reports a place of a leg that is named on the map with some pain, or was above 2 in a report.
func (f Facts) sore(leg body.Side, places ...body.Region) (body.Reason, bool) {
	r := f.reason("permit.pattern", "")
	for _, s := range f.Profile.Symptoms {
		if s.Side.Touches(leg) && slices.Contains(places, s.Region) && max(s.Worst, s.Baseline) > 0 {
			r = r.See(s.Region.Name()+", "+string(leg), "usual %d, worst %d of 10", s.Baseline, s.Worst)
		}
	}
	for _, m := range f.Sore {
		if m.Side.Touches(leg) && slices.Contains(places, m.Region) {
			r = r.SeeOn(m.On, m.Region.Name()+", "+string(leg), "%d of 10", m.Pain)
		}
	}
	return r, len(r.Saw) > 0
}

func (f Facts) showed(leg body.Side, fault string) bool { return slices.Contains(f.Faults[leg], fault) }

// named reports an open sign of the class pattern with what exactly was named.
func (f Facts) named(sign, which string, leg body.Side) (body.Reason, bool) {
	for _, s := range f.Stops {
		if s.Sign == sign && s.Touches(leg) && slices.Contains(s.Which, which) && !s.Mistake() && s.Opens() == nil {
			return f.reason("permit.pattern", "").SeeOn(s.On, "answered", "yes"), true
		}
	}
	return f.reason("permit.pattern", ""), false
}

// last is the newest number of a place of a leg; intake's usual where nothing was reported.
func (f Facts) last(leg body.Side, places ...body.Region) (worst Mark, known bool) {
	seen := map[body.Region]bool{}
	for _, m := range f.Marks {
		if m.Side.Touches(leg) && slices.Contains(places, m.Region) {
			seen[m.Region] = true
			if !known || m.Pain > worst.Pain {
				worst, known = m, true
			}
		}
	}
	for _, s := range f.Profile.Symptoms {
		if s.Side.Touches(leg) && slices.Contains(places, s.Region) && !seen[s.Region] && (!known || s.Baseline > worst.Pain) {
			worst, known = Mark{Region: s.Region, Side: leg, Pain: s.Baseline}, true
		}
	}
	return worst, known
}

// ofSoreness takes what a sore place does not bear: above 2 at the back of the heel or its tendon nothing below
// level, under the ball no bent-back toes, gripping or bare bouncing; above 5 above the knee nothing on
// one leg and no bouncing.
func (f Facts) ofSoreness() []Cut {
	out := []Cut{}
	for _, leg := range body.Sides {
		for _, row := range []struct {
			id     string
			places []body.Region
			key    string
			takes  Takes
		}{
			{"heel", []body.Region{body.HeelBack, body.Achilles}, "permit.sore.back", Takes{Edge: true}},
			{"ball", []body.Region{body.Ball}, "permit.sore.back", Takes{ToesBack: true, Tags: []body.Tag{body.Grip}, BareImpact: true}},
			{"above_knee", []body.Region{body.AboveKnee}, "permit.sore.knee", Takes{Above: num(2), Beyond: impact(body.NoImpact)}},
		} {
			m, known := f.last(leg, row.places...)
			limit := f.House.Int(row.key)
			if !known || m.Pain <= limit {
				continue
			}
			r := f.reason("permit.sore", "sore there", row.key)
			r.Saw = []body.Fact{{Name: m.Region.Name() + ", " + string(leg), Value: strconv.Itoa(m.Pain) + " of 10", Date: m.On}}
			out = append(out, Cut{ID: "sore." + row.id, Leg: leg, Sort: Safety, Takes: row.takes,
				Opens: "a report of " + strconv.Itoa(limit) + " or less there", Reason: r})
		}
	}
	return out
}

// ofPauses: after a morning or a session this high, bouncing and one-leg work of that leg, more and
// faster running wait until the coach spoke with the runner and the signs were answered.
func (f Facts) ofPauses() []Cut {
	out := []Cut{}
	for _, m := range f.Pauses {
		r := f.reason("permit.pause", "pain this high is talked over first", "adjust.pain.back2")
		r = r.SeeOn(m.On, m.Region.Name()+", "+string(m.Side), "%d of 10", m.Pain)
		out = append(out, Cut{ID: "pause", Leg: m.Side, Sort: Waits,
			Takes: Takes{Above: num(2), Beyond: impact(body.NoImpact),
				Runs: []body.RunPart{body.Rise, body.Hills, body.Quality, body.Strides, body.PostureWork, body.CadenceWork, body.BarePart}},
			Opens: "the coach notes that they spoke, and the signs are answered", Reason: r})
	}
	return out
}

// Unknown is one thing that is asked before something that could hurt is done.
type Unknown struct {
	ID   string `json:"id" enum:"toe_shape,front_pinch,feeling,collapse"`
	Says string `json:"says"`
	How  string `json:"how"`
}

// unknowns are asked first, in this order.
var unknowns = []struct {
	Unknown
	waits func(Ask) bool
	known func(Facts, body.Side) bool
	bars  func(Facts, body.Side) (string, bool) // known, and bad
}{
	{Unknown{"feeling", "whether the sole feels a light touch",
		"Light fingertip on toes 1, 3 and 5, eyes closed, both feet; or ask whether every toe feels one."},
		func(a Ask) bool { return a.Pressure || a.Bare },
		func(f Facts, leg body.Side) bool { return f.feels(leg) || f.lost(leg) },
		func(f Facts, leg body.Side) (string, bool) { return "the sole did not feel a light touch", f.lost(leg) }},
	{Unknown{"toe_shape", "the shape of the toes at rest", "Look: straight, clawed or drifted?"},
		func(a Ask) bool { return a.Has(body.Grip) },
		func(f Facts, leg body.Side) bool { _, ok := f.test(body.ToesShape, leg); return ok },
		func(f Facts, leg body.Side) (string, bool) {
			v, ok := f.test(body.ToesShape, leg)
			return "never with clawed toes: spread and reach instead", ok && v == 1
		}},
	{Unknown{"front_pinch", "what stops the ankle's bend", "At the end of the knee-to-wall test: stretch behind, or a pinch in front?"},
		func(a Ask) bool { return a.Has(body.AnkleRange) && a.Has(body.Forced) },
		func(f Facts, leg body.Side) bool { _, ok := f.test(body.AnkleEndFeel, leg); return ok },
		func(f Facts, leg body.Side) (string, bool) {
			v, ok := f.test(body.AnkleEndFeel, leg)
			return "a pinch in the front: no forced stretching", ok && v == 1
		}},
	{Unknown{"collapse", "whether arch and knee hold in a barefoot squat", "Five slow squats, barefoot."},
		func(a Ask) bool { return a.Has(body.DeepSquat) && a.Bare },
		func(f Facts, leg body.Side) bool { _, ok := f.test(body.SquatArch, leg); return ok },
		func(f Facts, leg body.Side) (string, bool) {
			v, ok := f.test(body.SquatArch, leg)
			return "the arch collapses in a squat", ok && v > 0
		}},
}

// unknown judges what could hurt by what is known: unknown is not passed. A new dose waits; one in force
// to body mass without bouncing holds, for feeling 14 days from the day it has to be known.
func (f Facts) unknown(a Ask, legs []body.Side) Answer {
	out := Answer{Kind: Allowed, Reasons: []Reason{}}
	if a.Test {
		return out
	}
	for _, u := range unknowns {
		if !u.waits(a) {
			continue
		}
		for _, leg := range legs {
			if says, bad := u.bars(f, leg); bad {
				r := Reason{Reason: f.reason("permit.known", says), Cut: "known." + u.ID, Sort: Safety, Leg: leg, Opens: "a test that shows otherwise"}
				out = out.And(Answer{Kind: NotNow, Reasons: []Reason{r}})
				continue
			}
			if u.known(f, leg) {
				continue
			}
			r := Reason{Reason: f.reason("permit.unknown", "first: "+u.Says), Cut: "unknown." + u.ID, Sort: Safety, Leg: leg, Opens: u.How}
			grace := u.ID != "feeling" || f.Since == "" || f.Today.Sub(f.Since) < f.House.Int("permit.touch.grace")
			if a.InForce && grace && a.Level <= 2 && !a.Impact.Beyond(body.NoImpact) {
				r.Sort = Holds
				out = out.And(Answer{Kind: Allowed, NoUp: true, Reasons: []Reason{r}})
				continue
			}
			if a.InForce && u.ID == "feeling" && grace {
				r.Sort = Holds
				out = out.And(Answer{Kind: Allowed, NoUp: true, Reasons: []Reason{r}})
				continue
			}
			if !a.InForce {
				r.Sort = Waits
			}
			out = out.And(Answer{Kind: NotNow, Reasons: []Reason{r}})
		}
	}
	return out
}

// Unknowns lists what is asked first for a runner: what could hurt and is not known of either leg.
func (f Facts) Unknowns() []Unknown {
	out := []Unknown{}
	for _, u := range unknowns {
		if slices.ContainsFunc(body.Sides, func(leg body.Side) bool { return !u.known(f, leg) }) {
			out = append(out, u.Unknown)
		}
	}
	return out
}
