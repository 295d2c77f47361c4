package build

import (
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/screen"
)

// candidate is a rail somebody or something asks for.
type candidate struct {
	rail   string
	why    body.Reason
	must   bool // answers one of the two highest limiters, or the coach asked
	keep   bool
	byHand bool
}

// candidates lists what is asked for, the most important first: the coach's wishes, the sore place, the
// first answer to each limiter by rank, second answers to the three highest, what is in force and
// built already, and basic work.
func (v view) candidates() []candidate {
	c := &chosen{v: v}
	c.askedFor()
	c.answering()
	c.brought()
	c.waking()
	c.dayAndGround()
	c.standing()
	v.basics(c.add, len(c.list))
	return c.list
}

// chosen gathers rails, each once, with all that speaks for it.
type chosen struct {
	v    view
	list []candidate
}

func (c *chosen) add(x candidate) {
	if !x.byHand && c.waits(x.rail) {
		return
	}
	i := slices.IndexFunc(c.list, func(o candidate) bool { return o.rail == x.rail })
	if i < 0 {
		c.list = append(c.list, x)
		return
	}
	for _, saw := range x.why.Saw {
		if !slices.Contains(c.list[i].why.Saw, saw) {
			c.list[i].why.Saw = append(c.list[i].why.Saw, saw)
		}
	}
	c.list[i].must = c.list[i].must || x.must
}

// waits keeps calf strength from a sore heel in Calm beside what its approach asks for.
func (c *chosen) waits(id string) bool {
	r, ok := c.v.cat.Find(id)
	return ok && c.v.phase == Calm && c.v.sore(body.HeelSole, body.Arch) && r.Calf() && r.Class == catalog.Strength &&
		!slices.Contains(c.v.in.calmRails(c.v.cat), id)
}

func (c *chosen) has(id string) bool {
	return slices.ContainsFunc(c.list, func(o candidate) bool { return o.rail == id })
}

// bring adds what a word brings in, where its approach is chosen.
func (c *chosen) bring(word string, why body.Reason) {
	for _, r := range c.v.cat.Bringing(word) {
		if c.v.otherApproach(r) == "" {
			c.add(candidate{rail: r.ID, why: why})
		}
	}
}

// askedFor adds what the coach brought in, and what answers the sore places.
func (c *chosen) askedFor() {
	v := c.v
	for _, id := range v.in.Choices.Also {
		r := v.in.House.Because("build.choose", "brought in by the coach")
		if w := v.in.Choices.Why[id]; w != "" {
			r = r.See("word", "%s", w)
		}
		c.add(candidate{rail: id, why: r, must: true, byHand: true})
	}
	for n, r := range v.remedies() {
		for i, id := range r.rails {
			c.add(candidate{rail: id, why: v.in.House.Because("build.symptom", "chosen: "+r.says).See("worst", "%d of 10", r.severity),
				must: n == 0 && i == 0})
		}
	}
}

// answering adds what answers the limiters, the highest first.
func (c *chosen) answering() {
	v := c.v
	ranked := v.ranked()
	for round := range 2 {
		for n, l := range ranked {
			rails := v.answers(l.ID)
			if len(rails) <= round || (round > 0 && (n > 2 || l.Verdict != screen.Short)) || (n > 1 && l.Verdict != screen.Short) {
				continue
			}
			r := v.in.House.Because("build.choose", "chosen: it answers what limits this runner").See(l.Name, "%s, score %.2f", l.Verdict, l.Score)
			if round > 0 {
				r.Says = "chosen: it helps with one of the highest limiters"
			}
			// A first answer that nothing of is possible makes room for the next; a second one is new.
			k := round
			for k < len(rails)-1 && (!v.possible(rails[k]) || round > 0 && c.has(rails[k].ID)) {
				k++
			}
			c.add(candidate{rail: rails[k].ID, why: r, must: round == 0 && n < 2})
			// Nothing of a set waits for another item of it: all that something found asks for.
			for _, o := range rails {
				if v.found(o) && o.Set != "" && o.Set == rails[k].Set && o.ID != rails[k].ID && len(o.For) > 0 && round == 0 {
					c.add(candidate{rail: o.ID, why: r})
				}
			}
		}
	}
}

// brought adds what the phase, an old sprain and rising volume bring in.
func (c *chosen) brought() {
	v := c.v
	if v.phase == Bounce {
		c.bring("phase.spring", v.in.House.Because("build.phase", "chosen: the phase of springing, and its gate is open"))
	}
	if v.in.Profile.History.Sprain {
		c.bring("history.sprain", v.in.House.Because("build.sprain",
			"chosen: an ankle was sprained before, and balance and side strength come back last"))
	}
	if state, why := load.Volume(v.in.Runs, v.in.Profile, v.in.Today, v.in.House); state == load.High {
		why.Says = "chosen: running volume rises, and this spreads the load along the whole tendon"
		c.bring("volume.high", why)
	}
}

// waking: every programme wakes the foot: the brace until it holds, then what stands on it.
func (c *chosen) waking() {
	v := c.v
	if !slices.ContainsFunc(c.list, func(x candidate) bool { r, ok := v.cat.Find(x.rail); return ok && r.Part == "wake" && !r.Habit }) {
		wake := v.cat.Bringing("basic.wake")
		if brace, ok := v.limits[body.Left].Values[body.FootShort]; ok && brace >= 2 && v.limits[body.Left].Other[body.FootShort] >= 2 &&
			v.phase != Calm {
			if on := v.cat.Bringing("basic.braced"); len(on) > 0 && v.possible(on[0]) {
				wake = on
			}
		}
		if len(wake) > 0 {
			c.add(candidate{rail: wake[0].ID, why: v.in.House.Because("build.basic", "basic work: every programme has some foot control")})
		}
	}
}

// dayAndGround adds what the goal, the day's sitting and standing, and the ground ask for.
func (c *chosen) dayAndGround() {
	v := c.v
	if v.in.Profile.Goal == "barefoot" {
		c.bring("goal.barefoot", v.in.House.Because("build.goal", "chosen for the goal: barefoot asks for toes and balance"))
	}
	p := v.in.Profile
	if p.SittingHours >= v.in.House.Get("build.sitting") {
		c.bring("days.sitting", v.in.House.Because("build.days", "chosen: the day is spent sitting", "build.sitting").See("sitting", "%g h a day",
			p.SittingHours))
	}
	if p.StandingHours >= v.in.House.Get("build.standing") {
		c.bring("days.standing", v.in.House.Because("build.days", "chosen: the day is spent on the feet", "build.standing").See("standing",
			"%g h a day",
			p.StandingHours))
	}
	for _, ground := range []string{"trail", "sand", "grass"} {
		if slices.Contains(p.Surfaces, ground) {
			c.bring("ground.uneven", v.in.House.Because("build.ground", "chosen: uneven ground asks for balance").See("runs on", "%s", ground))
		}
	}
}

// standing keeps what was built.
func (c *chosen) standing() {
	v := c.v
	for _, row := range v.in.Current {
		r, ok := v.cat.Find(row.Rail)
		if !ok || row.Parked || slices.Contains([]catalog.Class{catalog.Settle, catalog.Releasing}, r.Class) {
			continue
		}
		keep := v.in.House.Because("build.keep", "kept: built, and no longer what limits this runner", "build.keep.sessions")
		if r.Protocol != "" {
			keep = v.in.House.Because("build.protocol", "goes on: a published programme is followed to its end")
		}
		keep = keep.SeeOn(row.From, "in force", "%s", row.Text())
		c.add(candidate{rail: row.Rail, why: keep, keep: r.Protocol == "", must: r.Protocol != ""})
	}
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

// empty takes out what was placed.
func (p *RailPlan) empty() {
	p.Prescriptions, p.Doses, p.Placed = []catalog.Prescription{}, []string{}, []body.Reason{}
}

// weekRoom is what a week still takes.
type weekRoom struct {
	most, active     int // rails
	available, spent int // s
	calf             calfWork
}

func (v view) emptyWeek() weekRoom {
	w := weekRoom{most: v.in.House.Int("build.rails.max"), calf: v.calfInForce()}
	for _, m := range v.in.Profile.MinutesByDay {
		w.available += 60 * m
	}
	return w
}

// fit chooses a rail if the week takes it; what must be in it takes minutes that are not there.
func (v view) fit(p *RailPlan, rail catalog.Rail, must bool, w *weekRoom, leave func(rule, says string, keys ...string)) {
	v.prescribe(p, rail)
	counts := !rail.Habit && rail.Part != "run"
	if len(p.Prescriptions) == 0 {
		return
	}
	if week := p.Seconds * p.PerWeek; counts && !must && w.spent+week > w.available {
		leave("build.minutes", "left out: no minutes left this week")
		p.Why = p.Why.See("needs", "%d min", (week+59)/60).See("left", "%d of %d min", max(0, w.available-w.spent)/60, w.available/60)
		p.empty()
		return
	}
	if no, keys := w.calf.add(v, p, rail); no != "" {
		leave("build.ceiling", no, keys...)
		p.empty()
		return
	}
	p.Chosen = true
	w.active++
	if counts {
		w.spent += p.Seconds * p.PerWeek
	}
}

// choose decides every rail of the catalogue: the chosen first, in the order they were asked for.
func (v view) choose() []RailPlan {
	h := v.in.House
	room := v.emptyWeek()
	out := []RailPlan{}
	for _, c := range v.candidates() {
		rail, ok := v.cat.Find(c.rail)
		if !ok {
			continue
		}
		p := RailPlan{Rail: rail.ID, Name: rail.Name, Short: rail.Short, Part: rail.Part, Why: c.why, Keep: c.keep, ByHand: c.byHand,
			Locked: []LockedSide{}}
		p.empty()
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
		case room.active >= room.most:
			leave("build.most", "left out: as many rails are active as may be", "build.rails.max")
			p.Why = p.Why.See("active", "%d of %d", room.active, room.most)
		default:
			v.fit(&p, rail, c.must, &room, leave)
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
			Prescriptions: []catalog.Prescription{}, Doses: []string{}, Placed: []body.Reason{}, Locked: []LockedSide{}})
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
			p.Locked = append(p.Locked, LockedSide{side, s.why})
		} else if r := v.locked(rail, side); len(r.Says) > 0 {
			p.Locked = append(p.Locked, LockedSide{side, r})
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
		l := Limits(in, Bounce, facts)(side)
		if slices.ContainsFunc(rail.Exercises, func(x catalog.Exercise) bool {
			ok, _ := l.Allowed(rail, x)
			return ok && x.Impact == body.FreeHops
		}) {
			return true
		}
	}
	return false
}
