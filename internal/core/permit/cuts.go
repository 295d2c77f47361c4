package permit

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/stats"
)

func num(n int) *int { return &n }

func impact(i body.Impact) *body.Impact { return &i }

// faster is what asks more of bone and tendon than easy minutes do.
var faster = []body.RunPart{body.Rise, body.Hills, body.Quality, body.Strides}

// steady is what raises running.
var steady = []body.RunPart{body.Rise, body.Hills, body.Quality}

// Cuts lists everything that takes work away from this runner today.
func (f Facts) Cuts() []Cut {
	out := []Cut{}
	for _, s := range f.Stops {
		out = append(out, f.ofStop(s)...)
	}
	out = append(out, f.ofCautions()...)
	out = append(out, f.ofPatterns()...)
	out = append(out, f.ofSoreness()...)
	out = append(out, f.ofPauses()...)
	out = append(out, f.ofReturning()...)
	out = append(out, f.ofGate()...)
	return slices.DeleteFunc(out, func(c Cut) bool { return c.Takes.empty() && c.gate == nil })
}

const (
	toClear = "a clinician's word, recorded with what it opens"
	inWords = "its words entered in the form of what they open"
)

func (f Facts) reason(rule, says string, keys ...string) body.Reason {
	r := f.House.Because(rule, says, keys...)
	if len(keys) == 0 {
		r.Provenance = body.Ours
	}
	return r
}

// ofStop is what one warning sign takes. An open stop at or below the knee locks that whole leg; on both
// sides all bouncing, bare work beyond standing, and everything inside a run; of the other leg only what
// stands already at level 0 and 1 goes on, never up. Emergency and same-day signs lock everything.
func (f Facts) ofStop(s refer.Stop) []Cut {
	sign, _ := refer.FindSign(s.Sign)
	where := s.Region.Name()
	if s.Side != body.Both {
		where = string(s.Side) + " " + where
	}
	why := f.reason("permit.stop", "a warning sign is open").SeeOn(s.On, sign.Question, "yes, %s", where)
	why.Provenance = body.Common
	id := "stop." + s.Sign
	switch class := s.Class(f.Profile); {
	case class == refer.Small:
		return f.ofSmall(s, why)
	case !s.Open():
		return f.afterStop(s, why)
	case class == refer.Emergency, class == refer.SameDay:
		why.Says = "an urgent warning sign is open"
		return []Cut{{ID: id, Leg: body.Both, Whole: true, Sort: Safety, Takes: Takes{Everything: true, Running: true}, Opens: toClear,
			Reason: why}}
	case class == refer.Pattern:
		return nil // among the patterns
	}
	out := []Cut{{ID: id, Leg: body.Both, Whole: true, Sort: Waits, Takes: Takes{New: true}, Opens: toClear, Reason: why}}
	for _, leg := range locked(s) {
		out = append(out, Cut{ID: id, Leg: leg, Sort: Safety, Takes: Takes{Above: num(-1), Running: true}, Opens: toClear, Reason: why})
	}
	both := Takes{Beyond: impact(body.NoImpact), BareAbove: num(0), Tags: []body.Tag{body.Walking}, Running: true}
	out = append(out, Cut{ID: id, Leg: body.Both, Sort: Waits, Takes: both, Opens: toClear, Reason: why})
	if len(s.Locks()) == 1 {
		out = append(out, Cut{ID: id, Leg: s.Side.Other(), Sort: Waits, Takes: Takes{Above: num(1), New: true, NoUp: true}, Opens: toClear,
			Reason: why})
	}
	return out
}

// ofReturning is what the way back to running leaves out: everything in a run while they walk, all but the
// run–walk steps while those last, then all that is more than easy minutes.
func (f Facts) ofReturning() []Cut {
	if f.Back == nil {
		return nil
	}
	c := Cut{ID: "back", Leg: body.Both, Sort: Waits, Reason: f.Back.Reason}
	c.Takes, c.Opens = returning(f.Back.Phase)
	return []Cut{c}
}

func returning(phase load.Phase) (Takes, string) {
	more := []body.RunPart{body.CadenceWork, body.BarePart, body.Rise, body.Hills, body.Quality, body.Strides}
	switch phase {
	case load.Walking:
		return Takes{Running: true}, "quiet days of brisk walking"
	case load.Stepped:
		return Takes{Runs: append([]body.RunPart{body.EasyMinutes, body.PostureWork}, more...)}, "the steps back to running, each done quietly"
	case load.Halved:
		return Takes{Runs: []body.RunPart{body.Rise, body.Hills, body.Quality, body.Strides}, HalfRuns: true}, "the day it ends"
	}
	return Takes{Runs: more}, "four quiet weeks"
}

// locked lists the legs a stop locks; both as one.
func locked(s refer.Stop) []body.Side {
	if legs := s.Locks(); len(legs) == 1 {
		return legs
	}
	return []body.Side{body.Both}
}

// afterStop is what a closed stop still takes: what the clinician did not open; nothing after a mistake;
// no move up while only words of an earlier release were recorded.
func (f Facts) afterStop(s refer.Stop, why body.Reason) []Cut {
	if s.Mistake() {
		return nil
	}
	_, on := s.Closed()
	opens := s.Opens()
	if opens == nil {
		why.Says = "cleared before limits were recorded in this form: nothing of this leg moves up"
		out := []Cut{}
		for _, leg := range s.Locks() {
			out = append(out, Cut{ID: "cleared." + s.Sign, Leg: leg, Sort: Holds, Takes: Takes{NoUp: true}, Opens: inWords,
				Reason: why.SeeOn(on, "cleared", "%s", words(s))})
		}
		return out
	}
	why.Says = "cleared for what the clinician opened, not for more"
	why = why.SeeOn(on, "cleared", "%s", words(s))
	out := []Cut{}
	for _, leg := range s.Locks() {
		out = append(out, Cut{ID: "cleared." + s.Sign, Leg: leg, Sort: Safety, Takes: Takes{Above: num(-1)}.opened(*opens),
			Opens: "a further word of the clinician", Reason: why})
	}
	// Bouncing, bare feet and running are both legs'.
	shared := Takes{Beyond: impact(body.NoImpact), BareAbove: num(0), Tags: []body.Tag{body.Walking},
		Running: true}.opened(refer.Opening{Impact: opens.Impact, Bare: opens.Bare, Run: opens.Run})
	if opens.Bare != nil && *opens.Bare < 0 {
		shared.BareAbove = num(0)
	}
	return append(out, Cut{ID: "cleared." + s.Sign, Leg: body.Both, Sort: Waits, Takes: shared, Opens: "a further word of the clinician",
		Reason: why})
}

func words(s refer.Stop) string {
	for _, c := range slices.Backward(s.Clearances) {
		if c.Kind == "clinician" {
			if c.Limits != "" {
				return c.Who + ": " + c.Limits
			}
			return c.Who
		}
	}
	return "closed"
}

// ofSmall is what heals by itself takes: a blister the skin's work on that foot, laces nothing the first
// time and a stop the second within 14 days, an illness all training until two days free of it, then half
// for as long as it lasted, at most 14 days.
func (f Facts) ofSmall(s refer.Stop, why body.Reason) []Cut {
	closing, on := s.Closed()
	mistake := closing != nil && closing.Kind == "reviewed"
	switch {
	case s.Sign == "laces" && !mistake:
		return f.ofLaces(s, why, closing)
	case s.Sign == "ill" && !mistake:
		return f.ofIllness(s, why, closing, on)
	case s.Sign == "laces" || s.Sign == "ill":
		return nil
	}
	if closing != nil {
		return nil
	}
	why.Says = "the skin heals first"
	if f.feelless() {
		why.Says = "a wound on a foot that may not feel"
		return []Cut{{ID: "stop.blister", Leg: body.Both, Whole: true, Sort: Safety, Takes: Takes{Everything: true, Running: true},
			Opens: toClear, Reason: why}}
	}
	out := []Cut{}
	for _, leg := range s.Locks() {
		out = append(out, Cut{ID: "blister", Leg: leg, Sort: Waits,
			Takes: Takes{BareAbove: num(-1), Beyond: impact(body.NoImpact), Pressure: true, Cold: true},
			Opens: "the runner says it is healed, not before the next day", Reason: why})
	}
	return out
}

// ofLaces: tingling a second time within days is a stop.
func (f Facts) ofLaces(s refer.Stop, why body.Reason, closing *refer.Clearance) []Cut {
	again := slices.ContainsFunc(f.Stops, func(o refer.Stop) bool {
		return o.Sign == "laces" && o.ID != s.ID && o.On <= s.On && s.On.Sub(o.On) <= f.House.Int("permit.laces.days") &&
			o.Side.Touches(s.Side) && !o.Mistake()
	})
	if !again || closing != nil && closing.Kind == "clinician" {
		return nil
	}
	why.Says = "tingling a second time within 14 days"
	out := []Cut{}
	for _, leg := range locked(s) {
		out = append(out, Cut{ID: "stop.laces", Leg: leg, Sort: Safety, Takes: Takes{Above: num(-1), Running: true}, Opens: toClear,
			Reason: why})
	}
	return append(out, Cut{ID: "stop.laces", Leg: body.Both, Sort: Waits,
		Takes: Takes{Beyond: impact(body.NoImpact), BareAbove: num(0), Tags: []body.Tag{body.Walking}, Running: true}, Opens: toClear,
		Reason: why})
}

// ofIllness: nothing until some days free of it, then half for as many days as it lasted.
func (f Facts) ofIllness(s refer.Stop, why body.Reason, closing *refer.Clearance, on body.Date) []Cut {
	why.Says = "ill: no training until two days free of it"
	free := f.House.Int("permit.ill.free")
	if closing == nil || f.Today < on.Add(free) {
		return []Cut{{ID: "ill", Leg: body.Both, Whole: true, Sort: Waits, Takes: Takes{Everything: true, Running: true},
			Opens: "the runner says it is over; two days later", Reason: why}}
	}
	back := on.Add(free)
	lasted := min(max(1, on.Sub(s.On)), f.House.Int("permit.ill.most"))
	if f.Today >= back.Add(lasted) {
		return nil
	}
	why.Says = "after an illness: half, for as many days as it lasted"
	t := Takes{HalfSets: true, NoUp: true, Runs: faster, HalfRuns: true}
	if f.Today < back.Add(f.House.Int("permit.ill.gentle")) {
		t.Above, t.Beyond = num(2), impact(body.NoImpact)
	}
	return []Cut{{ID: "ill", Leg: body.Both, Whole: true, Sort: Waits, Takes: t, Opens: "on " + back.Add(lasted).Short() + " by itself",
		Reason: why.SeeOn(on, "well again", "after %d days", on.Sub(s.On))}}
}

// feelless reports diabetes or any loss of feeling.
func (f Facts) feelless() bool {
	return slices.ContainsFunc([]string{"sensation", "diabetes", "ulcer"},
		func(id string) bool { return slices.Contains(f.Profile.Cautions, id) })
}

// caution is one row of the table of cautions: whether it is in force for this runner, and what it takes
// until its limits are recorded.
type caution struct {
	id    string
	is    func(Facts) bool
	takes func(Facts) Takes
}

// CautionIDs lists the rows of the table of cautions.
func CautionIDs() []string {
	out := []string{}
	for _, c := range cautions {
		out = append(out, c.id)
	}
	return out
}

func answered(id string) func(Facts) bool {
	return func(f Facts) bool { return slices.Contains(f.Profile.Cautions, id) }
}

var rail = []string{"a rail or wall in reach"}

func unfeeling(Facts) Takes {
	return Takes{Above: num(2), Beyond: impact(body.NoImpact), BareAbove: num(-1), Pressure: true, Cold: true, Runs: steady, NoUp: true,
		Notes: []string{"in shoes, a rail or wall in reach", "look at the skin before and after"}}
}

func tendon(Facts) Takes {
	return Takes{CalfAbove: num(2), Beyond: impact(body.NoImpact), Edge: true, BareAbove: num(1),
		Tags: []body.Tag{body.Lowering, body.RM, body.ToFailure}, Runs: faster, AsBefore: true}
}

func brittle(Facts) Takes {
	return Takes{Above: num(3), Beyond: impact(body.Supported), BareAbove: num(1), Runs: faster, AsBefore: true}
}

func unsteady(Facts) Takes {
	return Takes{TestOnly: []body.Tag{body.EyesClosed, body.Block}, Notes: []string{"alone: a hand on a rail for one-leg work"}}
}

// cautions is the whole table; each row is its own and lifts by its own limits alone.
var cautions = []caution{
	{"sensation", func(f Facts) bool {
		has := func(id string) bool { return slices.Contains(f.Profile.Cautions, id) }
		return has("sensation") || has("ulcer") || has("diabetes") && !f.feels(body.Both)
	}, unfeeling},
	{"diabetes", func(f Facts) bool {
		return slices.Contains(f.Profile.Cautions, "diabetes") && !slices.Contains(f.Profile.Cautions, "sensation") &&
			!slices.Contains(f.Profile.Cautions, "ulcer") && f.feels(body.Both)
	}, func(Facts) Takes {
		return Takes{Above: num(3), BareAbove: num(0), Tags: []body.Tag{body.Outdoors},
			Notes: []string{"look at the skin before and after", "nothing bare outdoors"}}
	}},
	{"under_18", func(f Facts) bool { return f.Profile.Age(f.Today) < 18 }, func(Facts) Takes {
		return Takes{Above: num(3), Beyond: impact(body.Supported), BareAbove: num(1), Tags: []body.Tag{body.Lowering, body.RM, body.ToFailure}}
	}},
	{"steroid", answered("steroid"), tendon},
	{"quinolone", answered("quinolone"), tendon},
	{"tendon", answered("tendon"), tendon},
	{"bone", func(f Facts) bool {
		return slices.Contains(f.Profile.Cautions, "bone") && (!f.Profile.CautionNotes["bone"].Healed ||
			slices.Contains(f.Profile.Cautions, "energy"))
	}, brittle},
	{"energy", answered("energy"), brittle},
	{"pregnancy", answered("pregnancy"), func(f Facts) Takes {
		n := f.Profile.CautionNotes["pregnancy"]
		t := Takes{Above: num(3), Beyond: impact(body.Supported), BareAbove: num(1), Tags: []body.Tag{body.RM}, Runs: faster, Prone: true,
			Notes: rail}
		if n.Until != "" { // born
			t.Beyond, t.Running = impact(body.NoImpact), true
		} else if n.On == "" || f.Today > n.On.Add(-28*7) { // past week 12 of 40
			t.Supine = f.House.Int("permit.supine")
		}
		return t
	}},
	{"surgery", answered("surgery"), func(Facts) Takes {
		return Takes{Above: num(1), Beyond: impact(body.NoImpact), BareAbove: num(-1), Running: true}
	}},
	{"hardware", answered("hardware"), func(f Facts) Takes {
		t := Takes{Tags: []body.Tag{}, BareAbove: num(1)}
		t.Tags = append(t.Tags, body.Forced)
		if !f.reachMatches() {
			t.Beyond = impact(body.NoImpact)
		}
		return t
	}},
	{"inflammatory", answered("inflammatory"), func(Facts) Takes { return Takes{Above: num(3), Tags: []body.Tag{body.Joint}} }},
	{"clot", answered("clot"), func(Facts) Takes { return Takes{Pressure: true} }},
	{"balance", func(f Facts) bool {
		return f.Profile.Age(f.Today) >= f.House.Int("permit.balance.age") || slices.ContainsFunc(body.Sides, func(s body.Side) bool {
			v, ok := f.test(body.BalanceOpen, s)
			return ok && v < f.House.Get("permit.balance.least")
		})
	}, unsteady},
	{"fall", answered("fall"), unsteady},
	{"circulation", answered("circulation"), func(Facts) Takes { return Takes{Cold: true, Notes: []string{"nothing bare in the cold"}} }},
	{"bmi", func(f Facts) bool { return f.Profile.BMI() > 30 }, func(Facts) Takes { return Takes{Half: true} }},
}

// InForce is a caution that holds for a runner today, with what it still takes.
type InForce struct {
	refer.Caution
	Side   body.Side     `json:"side"`
	Ends   body.Date     `json:"ends,omitempty" doc:"day it lapses by itself"`
	Opened []refer.Limit `json:"opened" doc:"limits recorded for it, newest first"`
	takes  Takes
}

// InForce lists the cautions that hold today. One with a date lapses by it; a last dose nobody knows is
// today's.
func (f Facts) InForce() []InForce {
	out := []InForce{}
	for _, row := range cautions {
		if !row.is(f) {
			continue
		}
		c, _ := refer.FindCaution(row.id)
		note := f.Profile.CautionNotes[row.id]
		x := InForce{Caution: c, Side: body.Both, Opened: []refer.Limit{}}
		if c.Leg && note.Side.Valid() {
			x.Side = note.Side
		}
		switch row.id {
		case "steroid":
			x.Ends = ends(note.On, f.House.Int("permit.steroid.days"))
		case "quinolone":
			x.Ends = ends(note.On, f.House.Int("permit.quinolone.days"))
			if slices.ContainsFunc(f.Marks, func(m Mark) bool { return m.Region == body.Achilles && m.Pain > 2 }) {
				x.Ends = ""
			}
		case "surgery":
			x.Ends = ends(note.On, f.House.Int("permit.surgery.days"))
		case "pregnancy":
			x.Ends = ends(note.Until, f.House.Int("permit.birth.days"))
		}
		if x.Ends != "" && f.Today >= x.Ends {
			continue
		}
		takes := row.takes(f)
		limits := slices.Clone(f.Limits)
		slices.SortStableFunc(limits, func(a, b refer.Limit) int { return a.On.Sub(b.On) })
		for _, l := range limits {
			if l.Covers(row.id, note.Answered) || row.id == "sensation" && l.Covers("diabetes", note.Answered) &&
				!slices.Contains(f.Profile.Cautions, "sensation") {
				takes = takes.opened(l.Opens)
				if !l.Opens.Empty() {
					takes.NoUp = false
				}
				x.Opened = slices.Insert(x.Opened, 0, l)
			}
		}
		x.takes = takes
		out = append(out, x)
	}
	return out
}

func ends(on body.Date, days int) body.Date {
	if on == "" {
		return ""
	}
	return on.Add(days)
}

func (f Facts) ofCautions() []Cut {
	out := []Cut{}
	for _, c := range f.InForce() {
		opens := "limits for it, by a clinician"
		if c.Coach {
			opens = "limits for it, recorded by the coach"
		}
		if c.Ends != "" {
			opens += ", or by itself on " + c.Ends.Short()
		}
		why := f.reason("permit.caution", quoted(c.Question)).See(c.Question, "yes")
		for _, l := range c.Opened {
			why = why.SeeOn(l.On, "limits set by "+l.Who, "%s", l.Words)
		}
		takes := c.takes
		if takes.Prone { // trunk work too
			out = append(out, Cut{ID: "caution." + c.ID, Leg: c.Side, Whole: true, Sort: Safety, Takes: Takes{Prone: true}, Opens: opens,
				Reason: why})
			takes.Prone = false
		}
		out = append(out, Cut{ID: "caution." + c.ID, Leg: c.Side, Sort: Safety, Takes: takes, Opens: opens, Reason: why})
	}
	return out
}

func quoted(question string) string { return fmt.Sprintf("caution “%s”", question) }

// feels reports whether the feeling of both feet is known to be normal: tested with a fingertip within
// six months; without diabetes and with loss of feeling denied also as the runner told it within 90 days.
func (f Facts) feels(leg body.Side) bool {
	for _, s := range body.Sides {
		if !s.Touches(leg) {
			continue
		}
		v, ok := f.Tests[s][body.SoleTouch]
		on := f.Taken["sole.touch|"+string(s)]
		tested := ok && v == 0 && (on == "" || f.Today.Sub(on) <= f.House.Int("permit.touch.days"))
		told := f.Profile.Touch
		said := !f.feelless() && told.On != "" && f.Today.Sub(told.On) <= f.House.Int("permit.touch.told") &&
			(s == body.Left && told.Left || s == body.Right && told.Right)
		if !tested && !said {
			return false
		}
	}
	return true
}

// lost reports a foot that missed the fingertip.
func (f Facts) lost(leg body.Side) bool {
	v, ok := f.Tests[leg][body.SoleTouch]
	return ok && v > 0
}

// reachMatches reports whether reach is within its detectable change of the other side in all four
// directions.
func (f Facts) reachMatches() bool {
	for _, m := range []string{body.ReachFront, body.ReachSide, body.ReachBack, body.ReachCross} {
		l, ok1 := f.Tests[body.Left][m]
		r, ok2 := f.Tests[body.Right][m]
		if !ok1 || !ok2 || abs(l-r) > stats.MDC(f.House.Get("reach.sem")) {
			return false
		}
	}
	return true
}

func abs(x float64) float64 {
	if x < 0 {
		return -x
	}
	return x
}
