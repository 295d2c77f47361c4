// Package build chooses rails from what limits the runner, places their first notches from the
// runner's own tests and lays them into a week around the fixed runs.
package build

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/core/stats"
)

// Morning is one morning mark: first-step pain at one place and side.
type Morning struct {
	ID        string      `json:"id"`
	On        body.Date   `json:"on"`
	Region    body.Region `json:"region"`
	Side      body.Side   `json:"side" enum:"left,right,both"`
	Pain      int         `json:"pain" doc:"first-step pain, 0–10"`
	Stiffness int         `json:"stiffness" doc:"minutes until it eases"`
}

// Check refuses a mark that cannot be.
func (m Morning) Check(today body.Date) error {
	switch {
	case !m.On.Valid() || m.On > today || m.On < today.Add(-60):
		return body.Refuse("on", "must be a day of the last 60, not after today")
	case !m.Region.Valid() || !m.Side.Valid():
		return body.Refuse("region", "say where on the map, and which side")
	case m.Pain < 0 || m.Pain > 10:
		return body.Refuse("pain", "is %d; enter a whole number from 0 to 10", m.Pain)
	case m.Stiffness < 0 || m.Stiffness > 720:
		return body.Refuse("stiffness", "is %d; enter 0 to 720 min", m.Stiffness)
	}
	return nil
}

// Input is everything a programme is built from.
type Input struct {
	Profile  body.Profile
	Trials   []screen.Trial
	Stops    []refer.Stop
	Mornings []Morning
	Without  []string // rails the coach left out
	Also     []string // rails the coach brought in
	// Current are the prescriptions of the programme in force. They are kept until a newer test;
	// a parked one stays parked, and after a long break the new start is never above it.
	Current []catalog.Prescription
	Built   body.Date // day the programme in force was built; a rail is placed anew only from a later test of its own
	Today   body.Date
	House   house.Rules
}

// Phase is the part of the programme the runner's state permits.
type Phase string

// The phases in use.
const (
	Calm  Phase = "calm"  // range, control and isometrics only
	Build Phase = "build" // strength is built
	Load  Phase = "load"  // references met: heavier work
)

// RailPlan is one rail of a programme, chosen or left out, with each side's first notch.
type RailPlan struct {
	Rail          string                 `json:"rail"`
	Name          string                 `json:"name"`
	Chosen        bool                   `json:"chosen"`
	Why           body.Reason            `json:"why"`
	Prescriptions []catalog.Prescription `json:"prescriptions"`
	Doses         []string               `json:"doses" doc:"the prescriptions' doses in words"`
	Placed        []body.Reason          `json:"placed" doc:"why each side starts where it does"`
}

// Programme is the result of building.
type Programme struct {
	On     body.Date   `json:"on"`
	Phase  Phase       `json:"phase" enum:"calm,build,load"`
	Why    body.Reason `json:"why"`
	Rails  []RailPlan  `json:"rails"`
	Week   Week        `json:"week"`
	Usual  []Usual     `json:"usual"`
	Refuse string      `json:"refuse,omitempty" doc:"why no programme may be built"`
}

// Usual is the level morning pain is measured against, per place and side.
type Usual struct {
	Region body.Region `json:"region"`
	Side   body.Side   `json:"side" enum:"left,right,both"`
	Level  float64     `json:"level"`
	Reason body.Reason `json:"reason"`
}

// Make builds the programme. Same input, same programme.
func Make(in Input) Programme {
	p := Programme{On: in.Today, Rails: []RailPlan{}, Usual: UsualMornings(in.Profile, in.Mornings, in.Today)}
	switch {
	case in.Profile.Age(in.Today) < 18 && !in.Profile.GuardianConsent:
		p.Refuse = "Under 18: record a guardian's consent at intake first."
	case in.Profile.MassKg == 0:
		p.Refuse = "The load on the leg needs the body mass: enter it at intake first."
	}
	if p.Refuse != "" {
		p.Week.Days = []Day{}
		p.Week.GaveWay = []body.Reason{}
		return p
	}
	findings := screen.Findings(in.Trials, in.Profile, in.Today, in.House)
	limiters := screen.Limiters(findings, in.Profile, in.House)
	calm, why := InCalm(in.Profile, in.Mornings, in.Today, in.House)
	p.Phase, p.Why = Build, why
	if calm {
		p.Phase = Calm
	} else if met, r := referencesMet(findings, in.House); met {
		p.Phase, p.Why = Load, r
	}
	barred, barredWhy := refer.HeavyBarred(in.Profile, in.Today)
	limits := catalog.LimitsOf(in.Profile, barred, in.House)
	active := 0
	for _, rail := range order(limiters) {
		plan := RailPlan{Rail: rail.ID, Name: rail.Name, Prescriptions: []catalog.Prescription{}, Doses: []string{}, Placed: []body.Reason{}}
		plan.Chosen, plan.Why = choose(rail, limiters, in, calm)
		if most := in.House.Int("build.rails.max"); plan.Chosen && active >= most {
			plan.Chosen = false
			plan.Why = in.House.Because("build.most", "left out: as many rails are active as may be", "build.rails.max").See("active", "%d of %d", active, most)
		}
		if plan.Chosen {
			sides := make([]spot, 0, 2)
			for _, side := range body.Sides {
				if stop, r := refer.Lock(in.Stops, rail.Regions, side); stop != nil {
					plan.Placed = append(plan.Placed, r.See("side", "%s", side))
					continue
				}
				s := place(rail, side, in, limits)
				if barred && rail.ID == "calf_straight" {
					s.why.Saw = append(s.why.Saw, barredWhy.Saw...)
				}
				sides = append(sides, s)
			}
			sides = weakerDecides(sides)
			sides = extraSet(sides, findings, in)
			for _, s := range sides {
				pr, why := kept(rail.Notches(limits), s, in)
				plan.Prescriptions = append(plan.Prescriptions, pr)
				plan.Doses = append(plan.Doses, pr.Dose.String())
				plan.Placed = append(plan.Placed, why)
			}
			plan.Chosen = len(plan.Prescriptions) > 0
			if !plan.Chosen {
				plan.Why.Says = "left out: " + plan.Placed[0].Says
			}
		}
		if plan.Chosen {
			active++
		}
		p.Rails = append(p.Rails, plan)
	}
	p.Week = Schedule(p.Rails, in.Profile, in.House)
	return p
}

// placedFrom are the measures a rail's first notch is placed from.
var placedFrom = map[string][]string{
	"ankle_bend":    {"ankle.knee_to_wall"},
	"big_toe":       {"toe.passive_height", "toe.active_height"},
	"calf_straight": {"calf.raises_straight"},
}

// retested reports whether the rail's own tests were taken again on a side since the programme in
// force was built. A retest of something else moves no dose.
func (in Input) retested(rail string, side body.Side) bool {
	return in.Built != "" && slices.ContainsFunc(in.Trials, func(t screen.Trial) bool {
		return t.Counts() && t.Side == side && t.On > in.Built && slices.Contains(placedFrom[rail], t.Measure)
	})
}

// kept gives the new prescription of a side: the placed one, or the one in force while no newer test
// says otherwise. A parked rail stays parked, at no more than it was parked at.
func kept(notches []catalog.Notch, s spot, in Input) (catalog.Prescription, body.Reason) {
	placed := catalog.Prescription{Side: s.side, Exercise: s.exercise.ID, Dose: s.dose, From: in.Today, Cause: "first notch"}
	for _, c := range in.Current {
		rail, _ := catalog.Find(c.Rail)
		if _, mine := rail.Exercise(s.exercise.ID); !mine || c.Side != s.side {
			continue
		}
		placed.Rail = c.Rail
		at, _ := catalog.At(notches, c.Exercise, c.Dose)
		switch {
		case at < 0: // no longer allowed or owned
		case !in.retested(c.Rail, s.side):
			keep := c
			keep.ID = ""
			return keep, in.House.Because("build.kept", "kept where it stands: no newer test").See("in force", "%s", c.Text())
		case c.Parked:
			if at <= s.at {
				placed.Exercise, placed.Dose = c.Exercise, c.Dose
			}
			placed.Parked, placed.Cause = true, "parked"
			return placed, s.why.See("parked", "stays parked until it may return, never above where it was")
		}
	}
	placed.Rail = railWith(s.exercise.ID).ID
	return placed, s.why
}

// order lists the catalogue's rails by the rank of the limiters they answer.
func order(limiters []screen.Limiter) []catalog.Rail {
	var out []catalog.Rail
	add := func(id string) {
		if r, ok := catalog.Find(id); ok && !slices.ContainsFunc(out, func(x catalog.Rail) bool { return x.ID == id }) {
			out = append(out, r)
		}
	}
	for _, l := range limiters {
		if l.ID != "side_difference" {
			for _, id := range l.Rails {
				add(id)
			}
		}
	}
	for _, r := range catalog.Rails {
		add(r.ID)
	}
	return out
}

// choose says whether a rail is active: it answers a short limiter, or one of the two highest, or
// its test was not taken; the coach may leave it out.
func choose(rail catalog.Rail, limiters []screen.Limiter, in Input, calm bool) (bool, body.Reason) {
	r := in.House.Because("build.choose", "left out: nothing measured asks for it")
	if slices.Contains(in.Without, rail.ID) {
		r.Says = "left out by the coach"
		return false, r
	}
	if calm && rail.ID == "calf_straight" {
		r = in.House.Because("build.calm", "waits: during Calm only range, control and isometric work is done", "build.calm.enter", "build.calm.exit")
		return false, r
	}
	chosen, tested, rank := false, false, 0
	for _, l := range limiters {
		if l.ID == "symptoms" || !slices.Contains(l.Rails, rail.ID) {
			if l.Score > 0 && l.ID != "symptoms" && len(l.Rails) > 0 { // of those a rail can answer
				rank++
			}
			continue
		}
		if l.ID == "side_difference" && !slices.ContainsFunc(l.Evidence, func(f screen.Finding) bool {
			return f.Verdict == screen.Short && slices.Contains(screen.RailsOf(f.Of), rail.ID)
		}) {
			continue
		}
		if l.ID != "side_difference" {
			tested = true
		}
		if l.Score > 0 {
			rank++
		}
		if l.Verdict == screen.Short || (l.Score > 0 && rank <= 2) {
			chosen = true
			r = r.See(l.Name, "%s, score %.2f", l.Verdict, l.Score)
		}
	}
	if slices.Contains(in.Also, rail.ID) && !chosen {
		r.Says = "brought in by the coach"
		return true, r
	}
	if !tested {
		r.Says = "chosen at its lowest notch: not tested yet, test first"
		return true, r
	}
	if chosen {
		r.Says = "chosen: it answers what limits this runner"
	}
	return chosen, r
}

// UsualMornings gives the level each morning is compared with: per place and side the median of the
// last seven reports, when there are at least four, else what intake recorded. Places without a
// symptom or a report are usually 0.
func UsualMornings(p body.Profile, mornings []Morning, today body.Date) []Usual {
	out := []Usual{}
	for _, w := range Watched(p) {
		u := Usual{Region: w.Region, Side: w.Side, Level: float64(w.Baseline)}
		u.Reason = house.Rules{}.Because("usual.intake", "usual morning as recorded at intake").See(w.Region.Name()+", "+string(w.Side), "%d of 10", w.Baseline)
		var last []float64
		sorted := slices.Clone(mornings)
		slices.SortStableFunc(sorted, func(a, b Morning) int { return int(b.On.Sub(a.On)) })
		r := house.Rules{}.Because("usual.median", "usual morning: median of the last seven reports")
		for _, m := range sorted {
			if m.Region == w.Region && m.Side.Touches(w.Side) && m.On <= today && len(last) < 7 {
				last = append(last, float64(m.Pain))
				r = r.SeeOn(m.On, "morning", "%d of 10", m.Pain)
			}
		}
		if len(last) >= 4 {
			u.Level, u.Reason = stats.Median(last), r
			u.Reason.Formula = fmt.Sprintf("median of %d reports = %g", len(last), u.Level)
		}
		out = append(out, u)
	}
	return out
}

// Watched lists the places asked about each morning: the runner's symptoms, one row a side; without
// any, both heels.
func Watched(p body.Profile) []body.Symptom {
	out := []body.Symptom{}
	add := func(s body.Symptom, side body.Side) {
		s.Side = side
		for i, o := range out {
			if o.Region == s.Region && o.Side == side {
				out[i].Baseline = max(o.Baseline, s.Baseline)
				return
			}
		}
		out = append(out, s)
	}
	for _, s := range p.Symptoms {
		for _, side := range body.Sides {
			if s.Side.Touches(side) {
				add(s, side)
			}
		}
	}
	if len(out) == 0 {
		for _, side := range body.Sides {
			out = append(out, body.Symptom{Region: body.Heel, Side: side})
		}
	}
	return out
}

// InCalm reports whether the runner is in Calm: usual morning or daily pain above 3, until the
// mornings of 7 days (at least 5 reported) stay at 2 or below, or stay at 5 or below with the 7-day
// median not rising over 14 days.
func InCalm(p body.Profile, mornings []Morning, today body.Date, h house.Rules) (bool, body.Reason) {
	enter, exit := h.Get("build.calm.enter"), h.Get("build.calm.exit")
	r := h.Because("build.calm", "not in Calm: usual pain is low enough to build strength", "build.calm.enter", "build.calm.exit")
	calm := false
	for _, u := range UsualMornings(p, mornings, today) {
		base := 0.0
		for _, w := range Watched(p) {
			if w.Region == u.Region && w.Side == u.Side {
				base = float64(w.Baseline)
			}
		}
		r = r.See(u.Region.Name()+", "+string(u.Side), "usual %g of 10, intake %g", u.Level, base)
		if max(u.Level, base) <= enter {
			continue
		}
		var week, before []float64
		for _, m := range mornings {
			if m.Region != u.Region || !m.Side.Touches(u.Side) {
				continue
			}
			switch age := today.Sub(m.On); {
			case age < 0:
			case age < 7:
				week = append(week, float64(m.Pain))
			case age < 14:
				before = append(before, float64(m.Pain))
			}
		}
		quiet := len(week) >= 5 && slices.Max(week) <= exit
		settled := len(week) >= 5 && len(before) >= 5 && slices.Max(week) <= 5 && slices.Max(before) <= 5 && stats.Median(week) <= stats.Median(before)
		if !quiet && !settled {
			calm = true
		}
	}
	if calm {
		r.Says = "Calm: usual pain is above its limit, so range, control and isometric work only"
	}
	return calm, r
}

// referencesMet reports the exit of Build: both legs at the raise reference, or both at 15 and the
// weaker at 90 % of the stronger, and ankle and toe not short.
func referencesMet(fs []screen.Finding, h house.Rules) (bool, body.Reason) {
	r := h.Because("build.phase", "references met: the programme may load", "calf.raises_straight.ref")
	raises := map[body.Side]float64{}
	for _, f := range fs {
		if f.ID == "calf.raises_straight" && !f.AtLeast {
			raises[f.Side] = f.Value
			r = r.See(f.Name+", "+string(f.Side), "%.0f", f.Value)
		}
		if f.Verdict == screen.Short && slices.Contains([]string{"ankle.knee_to_wall", "ankle.lunge_angle", "toe.passive_angle", "toe.active_gap"}, f.ID) {
			return false, r
		}
	}
	if len(raises) < 2 {
		return false, r
	}
	lo, hi := min(raises[body.Left], raises[body.Right]), max(raises[body.Left], raises[body.Right])
	return lo >= h.Get("calf.raises_straight.ref") || (lo >= 15 && lo >= 0.9*hi), r
}
