package build

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/screen"
)

// sore reports a symptom at one of the places.
func (v view) sore(places ...body.Region) bool { return v.soreness(places...) > 0 }

// soreness is the highest number given for one of the places, 0–10.
func (v view) soreness(places ...body.Region) int {
	worst := 0
	for _, s := range v.in.Profile.Symptoms {
		if slices.Contains(places, s.Region) {
			worst = max(worst, s.Baseline, s.Worst)
		}
	}
	return worst
}

// soreOn reports a symptom at one of the places of a side.
func (v view) soreOn(side body.Side, places ...body.Region) bool {
	return slices.ContainsFunc(v.in.Profile.Symptoms, func(s body.Symptom) bool {
		return slices.Contains(places, s.Region) && s.Side.Touches(side)
	})
}

func (v view) approach(id string) string { return v.in.House.Choice(v.in.Profile.Approaches, id) }

// remedy is what a sore place asks for under the chosen approach, first choice first.
type remedy struct {
	rails    []string
	says     string
	severity int // 0–10
}

// remedies lists what the sore places ask for, the sorest first.
func (v view) remedies() []remedy {
	var out []remedy
	for _, place := range body.RegionNames {
		if !v.sore(place.ID) {
			continue
		}
		rails, question := v.cat.Remedies(place.ID, v.phase == Calm, v.approach)
		says := "sore " + place.Name
		if question != "" {
			says += ": " + house.OptionName(question, v.approach(question))
		}
		r := remedy{says: says, severity: v.soreness(place.ID)}
		for _, x := range rails {
			r.rails = append(r.rails, x.ID)
		}
		if len(r.rails) > 0 {
			out = append(out, r)
		}
	}
	slices.SortStableFunc(out, func(a, b remedy) int { return b.severity - a.severity })
	return out
}

// found reports whether something measured asks for a rail that is for findings. A rail that names none answers its
// limiter whatever was found.
func (v view) found(r catalog.Rail) bool {
	return len(r.For) == 0 || slices.ContainsFunc(v.findings, func(f screen.Finding) bool {
		return (f.Verdict == screen.Short || f.Verdict == screen.Borderline) &&
			(slices.Contains(r.For, f.ID) || slices.Contains(r.For, f.Measure))
	})
}

// asked is how plainly something found asks for a rail itself, 0–1: one of the findings it is for, or one of its own
// tests where it is among the first three answers to the limiter.
func (v view) asked(r catalog.Rail, limiter string) float64 {
	worst := 0.0
	for _, f := range v.findings {
		if f.Verdict == screen.Short && (slices.Contains(r.For, f.Measure) ||
			r.Answers[limiter] <= 3 && slices.Contains(r.Measures(), f.Measure)) {
			worst = max(worst, f.Severity)
		}
	}
	return worst
}

// candidate is a rail somebody or something asks for.
type candidate struct {
	rail   string
	why    body.Reason
	must   bool // answers one of the two highest limiters, or the coach asked
	keep   bool
	byHand bool
}

// ranked lists the limiters in the order they are answered: by rank, or hips first under that approach.
func (v view) ranked() []screen.Limiter {
	out := slices.DeleteFunc(slices.Clone(v.limiters), func(l screen.Limiter) bool {
		return l.Score <= 0 || l.ID == "side_difference" ||
			l.ID == "symptoms"
	})
	if v.approach("start") == "hip" {
		slices.SortStableFunc(out, func(a, b screen.Limiter) int { return hipFirst(a.ID) - hipFirst(b.ID) })
	}
	return out
}

func hipFirst(limiter string) int {
	if limiter == "hip_posture" {
		return 0
	}
	return 1
}

// answers lists the rails for a limiter that belong to the chosen approaches, first choice first.
func (v view) answers(limiter string) []catalog.Rail {
	rails := slices.DeleteFunc(v.cat.Answering(limiter), func(r catalog.Rail) bool {
		return !v.found(r) || r.Protocol != "" || v.otherApproach(r) != ""
	})
	// What something found asks for comes first, the plainest first: by the findings a rail is for, or by its own tests.
	slices.SortStableFunc(rails, func(a, b catalog.Rail) int { return cmp.Compare(v.asked(b, limiter), v.asked(a, limiter)) })
	rails = v.turned(limiter, rails)
	if !slices.ContainsFunc(rails, catalog.Rail.ByBeat) {
		return rails
	}
	// One cue at a time inside runs: what was begun is finished before the next; a drill done leads to the beat.
	first := func(is func(catalog.Rail) bool) {
		slices.SortStableFunc(rails, func(a, b catalog.Rail) int { return boolInt(is(b)) - boolInt(is(a)) })
	}
	for _, c := range v.in.Current {
		r, ok := v.cat.Find(c.Rail)
		switch {
		case !ok || r.Part != "run":
		case !v.finished(r, c):
			first(func(o catalog.Rail) bool { return o.ID == c.Rail })
		case !r.ByBeat():
			first(catalog.Rail.ByBeat)
		}
	}
	return rails
}

// turned puts the answers to a limiter where the chosen approaches want them: first, in another place, or out.
func (v view) turned(limiter string, rails []catalog.Rail) []catalog.Rail {
	place := func(r catalog.Rail) (at int, turned bool) {
		for _, t := range r.Turns {
			if t.Limiter == limiter && v.turns(t) {
				return t.At, true
			}
		}
		return 0, false
	}
	first, rest := make([]catalog.Rail, 0, len(rails)+4), make([]catalog.Rail, 0, len(rails))
	for _, r := range rails {
		switch at, turned := place(r); {
		case turned && at == 1:
			first = append(first, r)
		case !turned:
			rest = append(rest, r)
		}
	}
	rails = append(first, rest...)
	for _, r := range v.cat.Rails {
		if at, turned := place(r); turned && at > 1 && len(rails) >= at && !r.Retired {
			rails = slices.Insert(rails, at-1, r)
		}
	}
	return rails
}

// turns reports whether a turn holds for the runner.
func (v view) turns(t catalog.Turn) bool {
	for q, options := range t.Only {
		if !slices.Contains(options, v.approach(q)) {
			return false
		}
	}
	switch t.When {
	case "sole.tight":
		return v.tightSole()
	case "cadence.later":
		return !slices.ContainsFunc(screen.Chain(v.findings, v.in.Profile, v.in.House),
			func(l screen.Link) bool { return l.First && l.ID == "cadence" })
	}
	return len(t.Sore) == 0 || v.sore(t.Sore...)
}

// finished reports a rail whose last notch is in force.
func (v view) finished(r catalog.Rail, c catalog.Prescription) bool {
	notches := r.Notches(v.limits[c.Side])
	at, _ := catalog.At(notches, c.Exercise, c.Dose)
	return at == len(notches)-1
}

func boolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}

// tightSole reports a big toe that is free unloaded and short with the ankle bent: the sole fascia is
// tight, so it is released rather than the joint stretched.
func (v view) tightSole() bool {
	verdict := func(id string) screen.Verdict {
		for _, f := range v.findings {
			if f.ID == id && f.Verdict == screen.Short {
				return screen.Short
			}
		}
		for _, f := range v.findings {
			if f.ID == id {
				return f.Verdict
			}
		}
		return screen.Noted
	}
	return verdict("toe.loaded_extension") == screen.Short && verdict("toe.passive_extension") == screen.Clear
}

// otherApproach names the approach a rail belongs to when another was chosen; empty when it may be used.
func (v view) otherApproach(r catalog.Rail) string {
	for _, q := range slices.Sorted(maps.Keys(r.Only)) {
		if !slices.Contains(r.Only[q], v.approach(q)) {
			return q
		}
	}
	return ""
}

// candidates lists what is asked for, the most important first: the coach's wishes, the sore place, the
// first answer to each limiter by rank, second answers to the three highest, what is in force and
// built already, and basic work.
func (v view) candidates() []candidate {
	h := v.in.House
	out := []candidate{}
	// A sore heel in Calm is not given calf strength beside what its approach asks for.
	waits := func(id string) bool {
		r, ok := v.cat.Find(id)
		return ok && v.phase == Calm && v.sore(body.HeelSole, body.Arch) && r.Calf() && r.Class == catalog.Strength &&
			!slices.Contains(v.in.calmRails(v.cat), id)
	}
	add := func(c candidate) {
		if !c.byHand && waits(c.rail) {
			return
		}
		if i := slices.IndexFunc(out, func(o candidate) bool { return o.rail == c.rail }); i >= 0 {
			for _, saw := range c.why.Saw {
				if !slices.Contains(out[i].why.Saw, saw) {
					out[i].why.Saw = append(out[i].why.Saw, saw)
				}
			}
			out[i].must = out[i].must || c.must
			return
		}
		out = append(out, c)
	}
	among := func(id string) bool {
		return slices.ContainsFunc(out, func(o candidate) bool { return o.rail == id })
	}
	for _, id := range v.in.Choices.Also {
		r := h.Because("build.choose", "brought in by the coach")
		if w := v.in.Choices.Why[id]; w != "" {
			r = r.See("word", "%s", w)
		}
		add(candidate{rail: id, why: r, must: true, byHand: true})
	}
	for n, r := range v.remedies() {
		for i, id := range r.rails {
			add(candidate{rail: id, why: h.Because("build.symptom", "chosen: "+r.says).See("worst", "%d of 10", r.severity), must: n == 0 && i == 0})
		}
	}
	ranked := v.ranked()
	for round := range 2 {
		for n, l := range ranked {
			rails := v.answers(l.ID)
			if len(rails) <= round || (round > 0 && (n > 2 || l.Verdict != screen.Short)) || (n > 1 && l.Verdict != screen.Short) {
				continue
			}
			r := h.Because("build.choose", "chosen: it answers what limits this runner").See(l.Name, "%s, score %.2f", l.Verdict, l.Score)
			if round > 0 {
				r.Says = "chosen: it helps with one of the highest limiters"
			}
			// A first answer that nothing of is possible makes room for the next; a second one is new.
			k := round
			for k < len(rails)-1 && (!v.possible(rails[k]) || round > 0 && among(rails[k].ID)) {
				k++
			}
			add(candidate{rail: rails[k].ID, why: r, must: round == 0 && n < 2})
			// Nothing of a set waits for another item of it: all that something found asks for.
			for _, o := range rails {
				if v.found(o) && o.Set != "" && o.Set == rails[k].Set && o.ID != rails[k].ID && len(o.For) > 0 && round == 0 {
					add(candidate{rail: o.ID, why: r})
				}
			}
		}
	}
	brought := func(word string, why body.Reason) {
		for _, r := range v.cat.Bringing(word) {
			if v.otherApproach(r) == "" {
				add(candidate{rail: r.ID, why: why})
			}
		}
	}
	if v.phase == Bounce {
		brought("phase.spring", h.Because("build.phase", "chosen: the phase of springing, and its gate is open"))
	}
	if v.in.Profile.History.Sprain {
		brought("history.sprain", h.Because("build.sprain", "chosen: an ankle was sprained before, and balance and side strength come back last"))
	}
	if state, why := load.Volume(v.in.Runs, v.in.Profile, v.in.Today, h); state == load.High {
		why.Says = "chosen: running volume rises, and this spreads the load along the whole tendon"
		brought("volume.high", why)
	}
	// Every programme wakes the foot: the brace until it holds, then what stands on it.
	if !slices.ContainsFunc(out, func(c candidate) bool { r, ok := v.cat.Find(c.rail); return ok && r.Part == "wake" && !r.Habit }) {
		wake := v.cat.Bringing("basic.wake")
		if brace, ok := v.limits[body.Left].Values["foot.short"]; ok && brace >= 2 && v.limits[body.Left].Other["foot.short"] >= 2 &&
			v.phase != Calm {
			if on := v.cat.Bringing("basic.braced"); len(on) > 0 && v.possible(on[0]) {
				wake = on
			}
		}
		if len(wake) > 0 {
			add(candidate{rail: wake[0].ID, why: h.Because("build.basic", "basic work: every programme has some foot control")})
		}
	}
	if v.in.Profile.Goal == "barefoot" {
		brought("goal.barefoot", h.Because("build.goal", "chosen for the goal: barefoot asks for toes and balance"))
	}
	p := v.in.Profile
	if p.SittingHours >= h.Get("build.sitting") {
		brought("days.sitting", h.Because("build.days", "chosen: the day is spent sitting", "build.sitting").See("sitting", "%g h a day",
			p.SittingHours))
	}
	if p.StandingHours >= h.Get("build.standing") {
		brought("days.standing", h.Because("build.days", "chosen: the day is spent on the feet", "build.standing").See("standing", "%g h a day",
			p.StandingHours))
	}
	for _, ground := range []string{"trail", "sand", "grass"} {
		if slices.Contains(p.Surfaces, ground) {
			brought("ground.uneven", h.Because("build.ground", "chosen: uneven ground asks for balance").See("runs on", "%s", ground))
		}
	}
	for _, c := range v.in.Current {
		r, ok := v.cat.Find(c.Rail)
		if !ok || c.Parked || slices.Contains([]catalog.Class{catalog.Settle, catalog.Releasing}, r.Class) {
			continue
		}
		keep := h.Because("build.keep", "kept: built, and no longer what limits this runner", "build.keep.sessions").SeeOn(c.From, "in force",
			"%s", c.Text())
		if r.Protocol != "" {
			keep = h.Because("build.protocol", "goes on: a published programme is followed to its end").SeeOn(c.From, "in force", "%s", c.Text())
		}
		add(candidate{rail: c.Rail, why: keep, keep: r.Protocol == "", must: r.Protocol != ""})
	}
	v.basics(add, len(out))
	return out
}

// basics are what a runner does when little or nothing asks for more: untested places at their lowest
// notch, else the calf and the arch.
func (v view) basics(add func(candidate), already int) {
	h := v.in.House
	want := h.Int("build.rails.basic") - already
	tested := func(id string) bool {
		return slices.ContainsFunc(v.limiters, func(l screen.Limiter) bool { return l.ID == id && len(l.Evidence) > 0 })
	}
	for _, limiter := range []string{"calf_capacity", "arch_strength", "ankle_bend", "balance"} {
		rails := v.cat.Bringing("basic." + limiter)
		if want <= 0 {
			return
		}
		if len(rails) == 0 {
			continue
		}
		r := h.Because("build.basic", "basic work: little asks for more, and the calf and arch carry every run", "build.rails.basic")
		if !tested(limiter) {
			r.Says = "chosen at its lowest notch: not tested yet, test first"
		}
		add(candidate{rail: rails[0].ID, why: r})
		want--
	}
}

// possible reports whether anything of the rail may be done on any side now.
func (v view) possible(r catalog.Rail) bool {
	return slices.ContainsFunc(r.Sides(), func(s body.Side) bool { return r.Possible(v.limits[s]) })
}

// notches are the exact doses one side may do in the phase.
func (v view) notches(r catalog.Rail, side body.Side) []catalog.Notch {
	return r.Notches(v.limits[side])
}

// impossible says why nothing of a rail may be done.
func (v view) impossible(r catalog.Rail) string {
	for _, side := range r.Sides() {
		for _, x := range r.Exercises {
			if ok, why := v.limits[side].Allowed(r, x); !ok && !x.Retired {
				return why
			}
		}
	}
	return "nothing on it is in use"
}

// choose decides every rail of the catalogue: the chosen first, in the order they were asked for.
func (v view) choose() []RailPlan {
	h := v.in.House
	most, active := h.Int("build.rails.max"), 0
	available, spent := 0, 0
	for _, m := range v.in.Profile.MinutesByDay {
		available += 60 * m
	}
	out := []RailPlan{}
	calf := v.calfInForce()
	for _, c := range v.candidates() {
		rail, ok := v.cat.Find(c.rail)
		if !ok {
			continue
		}
		p := RailPlan{Rail: rail.ID, Name: rail.Name, Short: rail.Short, Part: rail.Part, Why: c.why, Keep: c.keep, ByHand: c.byHand,
			Prescriptions: []catalog.Prescription{}, Doses: []string{}, Placed: []body.Reason{}, Locked: []body.Reason{}}
		leave := func(rule, says string, keys ...string) {
			p.Why = h.Because(rule, says, keys...)
			p.Why.Saw = append(p.Why.Saw, c.why.Saw...)
		}
		switch {
		case slices.Contains(v.in.Choices.Without, rail.ID):
			p.ByHand = true
			leave("build.choose", "left out by the coach")
		case !v.possible(rail) && !slices.ContainsFunc(v.in.Current, func(c catalog.Prescription) bool { return c.Rail == rail.ID }):
			leave("build.impossible", "left out: "+v.impossible(rail))
		case rail.Part == "run" && !c.byHand && slices.ContainsFunc(out, func(p RailPlan) bool { return p.Chosen && p.Part == "run" }):
			leave("build.cue", "waits: one cue at a time inside runs")
		case active >= most:
			leave("build.most", "left out: as many rails are active as may be", "build.rails.max")
			p.Why = p.Why.See("active", "%d of %d", active, most)
		default:
			v.prescribe(&p, rail)
			week := p.Seconds * p.PerWeek
			counts := !rail.Habit && rail.Part != "run"
			if len(p.Prescriptions) == 0 {
				break
			}
			if counts && !c.must && spent+week > available {
				leave("build.minutes", "left out: no minutes left this week")
				p.Why = p.Why.See("needs", "%d min", (week+59)/60).See("left", "%d of %d min", max(0, available-spent)/60, available/60)
				p.Prescriptions, p.Doses, p.Placed = []catalog.Prescription{}, []string{}, []body.Reason{}
				break
			}
			if no, keys := calf.add(v, &p, rail); no != "" {
				leave("build.ceiling", no, keys...)
				p.Prescriptions, p.Doses, p.Placed = []catalog.Prescription{}, []string{}, []body.Reason{}
				break
			}
			week = p.Seconds * p.PerWeek
			p.Chosen = true
			active++
			if counts {
				spent += week
			}
		}
		out = append(out, p)
	}
	slices.SortStableFunc(out, func(a, b RailPlan) int { return chosenFirst(a) - chosenFirst(b) })
	return append(out, v.rest(out)...)
}

func chosenFirst(p RailPlan) int {
	if p.Chosen {
		return 0
	}
	return 1
}

// rest lists the rails nobody asked for, with why not.
func (v view) rest(asked []RailPlan) []RailPlan {
	out := make([]RailPlan, 0, len(v.cat.Rails))
	for _, r := range v.cat.Rails {
		if r.Retired || slices.ContainsFunc(asked, func(p RailPlan) bool { return p.Rail == r.ID }) {
			continue
		}
		why := v.in.House.Because("build.choose", "left out: nothing measured asks for it")
		byHand := false
		switch q := v.otherApproach(r); {
		case slices.Contains(v.in.Choices.Without, r.ID):
			why.Says, byHand = "left out by the coach", true
		case q != "":
			why = why.See("approach", "%s: %s", q, v.approach(q))
			why.Says = "left out: it belongs to another approach"
		case r.Protocol != "":
			why.Says = "a published programme: the coach brings it in"
		case !v.possible(r):
			why.Says = "left out: " + v.impossible(r)
		}
		out = append(out, RailPlan{Rail: r.ID, Name: r.Name, Short: r.Short, Part: r.Part, Why: why, ByHand: byHand,
			Prescriptions: []catalog.Prescription{}, Doses: []string{}, Placed: []body.Reason{}, Locked: []body.Reason{}})
	}
	return out
}

// prescribe places each side that no warning sign locks, and counts what a session takes.
func (v view) prescribe(p *RailPlan, rail catalog.Rail) {
	var spots []spot
	for _, side := range rail.Sides() {
		if rail.Class == catalog.Settle && !p.ByHand && !v.soreOn(side, rail.Eases...) && v.soreOn(side.Other(), rail.Eases...) {
			continue // for the sore foot alone
		}
		all := v.notches(rail, side)
		s, ok := v.placeOn(all, rail, side)
		s.all = all
		if w, had := v.waiting(rail, side, s.why); !ok && had {
			spots = append(spots, w)
		} else if ok {
			spots = append(spots, s)
		} else if s.why.Says != "" {
			p.Locked = append(p.Locked, s.why)
		} else if r := v.locked(rail, side); len(r.Says) > 0 {
			p.Locked = append(p.Locked, r.See("side", "%s", side))
		}
	}
	if len(spots) == 0 {
		if len(p.Locked) > 0 {
			p.Why.Says = "left out: " + p.Locked[0].Says
		}
		return
	}
	spots = v.extraSet(rail, weakerDecides(rail, spots))
	for i, s := range spots {
		if !s.waits {
			spots[i] = v.byHand(rail, v.kept(rail, s), p)
		}
	}
	for _, s := range spots {
		s.pr.Rail, s.pr.Side, s.pr.Name = rail.ID, s.side, s.exercise.Name
		p.Prescriptions = append(p.Prescriptions, s.pr)
		p.Doses = append(p.Doses, s.pr.Dose.String())
		p.Placed = append(p.Placed, s.why)
		p.Seconds = max(p.Seconds, s.exercise.Seconds(s.pr.Dose, len(spots)))
	}
	if two := p.Prescriptions; len(two) == 2 {
		p.Once = !spots[0].exercise.EachSide && two[0].Exercise == two[1].Exercise && two[0].Dose == two[1].Dose && two[0].Parked == two[1].Parked
	}
	p.PerWeek = Wanted(rail, p.Keep, spots[0].exercise, v.in)
	if p.PerWeek > 0 {
		p.Why = p.Why.See("sessions a week", "%d of %s", p.PerWeek, minutesOf(p.Seconds))
	}
}

// locked says what of safety keeps a side off a rail; empty when something else does.
func (v view) locked(rail catalog.Rail, side body.Side) body.Reason {
	for _, x := range rail.Exercises {
		for _, r := range v.limits[side].May(rail, x).Reasons {
			if strings.HasPrefix(r.Cut, "stop.") || strings.HasPrefix(r.Cut, "caution.") || strings.HasPrefix(r.Cut, "pattern.") ||
				strings.HasPrefix(r.Cut, "cleared.") {
				return r.Reason.See("what opens it", "%s", r.Opens)
			}
		}
	}
	return body.Reason{}
}

func minutesOf(s int) string { return fmt.Sprintf("%d min", (s+59)/60) }

// Wanted is how many sessions a week a rail asks for under the chosen approach.
func Wanted(rail catalog.Rail, keep bool, x catalog.Exercise, in Input) int {
	daily := in.House.Choice(in.Profile.Approaches, "often") == "daily"
	n := rail.PerWeek
	switch {
	case rail.Habit:
		return 7
	case keep:
		return min(n, in.House.Int("build.keep.sessions"))
	case rail.Class == catalog.Spring && daily && !reachesFree(rail, in):
		n = 5 // supported bounces only
	case rail.Class == catalog.Spring, rail.Calf(), rail.Protocol != "", rail.Part == "run", rail.Class == catalog.Strength:
	case daily && rail.Foot:
		n = min(5, n+1)
	case daily:
		n = min(7, n+2)
	case rail.Foot && x.Class != catalog.Control:
		n = min(4, n)
	}
	return n
}

// reachesFree reports whether free bounces are within reach on either side.
func reachesFree(rail catalog.Rail, in Input) bool {
	facts := in.Facts()
	for _, side := range body.Sides {
		l := Limits(in, side, Bounce, facts)
		if slices.ContainsFunc(rail.Exercises, func(x catalog.Exercise) bool {
			ok, _ := l.Allowed(rail, x)
			return ok && x.Impact == body.FreeHops
		}) {
			return true
		}
	}
	return false
}
