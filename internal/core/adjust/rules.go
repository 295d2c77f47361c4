package adjust

import (
	"fmt"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/stats"
)

// rule is one row of the table: it looks at the facts and may speak.
type rule struct {
	name       string
	whenParked bool
	see        func(facts) (Fired, bool)
}

var rules = []rule{
	{"warning-sign", true, warningSign},
	{"mornings-rising", false, morningsRising},
	{"pain", false, pain},
	{"morning", false, morning},
	{"never-up", false, neverUp},
	{"incomplete", false, incomplete},
	{"cramp", false, cramp},
	{"effort", false, tooHard},
	{"form", false, form},
	{"missed", false, missed},
	{"volume", false, volume},
	{"race", false, race},
	{"prerequisite", false, prerequisite},
	{"return", true, returns},
}

func warningSign(f facts) (Fired, bool) {
	stop, r := refer.Lock(f.in.Stops, f.rail.Regions, f.in.Current.Side)
	return Fired{Verdict: Park, Reason: r}, stop != nil
}

// morningsRising: three rising reports ending at 3 or more, or four rising reports, go back two; the
// same again within 14 days parks. Reports up to two days apart count as following each other.
func morningsRising(f facts) (Fired, bool) {
	r := f.h.Because("", "")
	byPlace := map[string][]mark{}
	var places []string
	for _, m := range f.marks() {
		key := string(m.Region) + string(m.Side)
		if _, ok := byPlace[key]; !ok {
			places = append(places, key)
		}
		if m.On > f.since.Add(-1) {
			byPlace[key] = append(byPlace[key], m)
		}
	}
	for _, key := range places {
		ms := byPlace[key]
		n := 1
		for i := len(ms) - 1; i > 0 && ms[i].Pain > ms[i-1].Pain && ms[i].On.Sub(ms[i-1].On) <= 2; i-- {
			n++
		}
		if n < 3 || f.in.Today.Sub(ms[len(ms)-1].On) > 2 || (n == 3 && ms[len(ms)-1].Pain < 3) {
			continue
		}
		first, last := ms[len(ms)-n], ms[len(ms)-1]
		r.Says = fmt.Sprintf("first steps up %d reports running, %s %s %d → %d: back two", n, last.Side, last.Region.Name(), first.Pain, last.Pain)
		for _, m := range ms[len(ms)-n:] {
			r = f.seenMark(r, m)
		}
		for _, m := range f.in.Moves {
			if m.Verdict == Back && m.Steps >= 2 && f.in.Today.Sub(m.On) <= 14 {
				r.Says = "mornings are rising again within 14 days: park and review"
				return Fired{Verdict: Park, Reason: r.SeeOn(m.On, "earlier", "back two")}, true
			}
		}
		return Fired{Verdict: Back, Steps: 2, Reason: r}, true
	}
	return Fired{}, false
}

// pain: over the approach's limit goes back, 7 and over goes back two, between the limits holds
// unless the settled row of earned lets it move.
func pain(f facts) (Fired, bool) {
	l, ok := f.last()
	// The worse of the last two sessions speaks until it has been decided on.
	for _, o := range f.lastTwo() {
		if ok && o.Pain > l.Pain && (o.On > f.since || f.since == f.in.Current.From) {
			l = o
		}
	}
	if !ok || l.Pain <= f.go_ {
		return Fired{}, false
	}
	switch {
	case l.Pain >= f.h.Int("adjust.pain.back2"):
		r := f.seen(f.h.Because("", "pain this high during work: back two", "adjust.pain.back2"), l)
		for _, m := range f.in.Moves {
			if m.Verdict == Back && m.Steps >= 2 && f.in.Today.Sub(m.On) <= 14 {
				r.Says = "pain this high again within 14 days: park and review"
				return Fired{Verdict: Park, Reason: r}, true
			}
		}
		return Fired{Verdict: Back, Steps: 2, Reason: r}, true
	case l.Pain > f.back_:
		return Fired{Verdict: Back, Steps: 1, Reason: f.seen(f.h.Because("", "pain during work is above its limit: back one", "adjust.pain.back"), l)}, true
	case f.settled():
		return Fired{}, false
	}
	return Fired{Verdict: Hold, Reason: f.seen(f.h.Because("", "some pain during work: hold", "adjust.pain.go", "adjust.pain.back"), l)}, true
}

// morning: one over usual holds, two over usual goes back.
func morning(f facts) (Fired, bool) {
	if f.worst == nil || f.worst.over() <= 0 {
		return Fired{}, false
	}
	x := Fired{Verdict: Hold, Reason: f.h.Because("", "the morning was above usual: hold", "adjust.morning.back")}
	if f.worst.over() >= f.h.Get("adjust.morning.back") {
		x = Fired{Verdict: Back, Steps: 1, Reason: f.h.Because("", "the morning was well above usual: back one", "adjust.morning.back")}
	}
	x.Reason = f.seenMark(x.Reason, *f.worst)
	x.Reason.Formula = fmt.Sprintf("%d − %g = %g over usual; back from %g", f.worst.Pain, f.worst.usual, f.worst.over(), f.h.Get("adjust.morning.back"))
	return x, true
}

func neverUp(f facts) (Fired, bool) {
	limit := f.h.Get("adjust.morning.never_up")
	r := f.h.Because("", "never up while the morning is this high", "adjust.morning.never_up")
	return Fired{Verdict: Hold, Reason: r.See("latest morning", "%g of 10 (limit %g)", f.latestWorst, limit)}, f.latestWorst > limit
}

// incomplete: under 80 % twice goes back; less than the whole dose holds.
func incomplete(f facts) (Fired, bool) {
	l, ok := f.last()
	if !ok || l.Complete() {
		return Fired{}, false
	}
	low := f.h.Get("adjust.complete.low")
	two := f.lastTwo()
	if len(two) == 2 && !two[0].Complete() && !two[1].Complete() && two[0].Share() < low && two[1].Share() < low {
		r := f.h.Because("", "under the lower limit twice: back one", "adjust.complete.low")
		r = f.seen(f.seen(r, two[1]), two[0])
		r.Formula = fmt.Sprintf("%.0f %% and %.0f %%, limit %g %%", two[1].Share(), two[0].Share(), low)
		return Fired{Verdict: Back, Steps: 1, Reason: r}, true
	}
	r := f.seen(f.h.Because("", "not the whole dose: hold", "adjust.complete.low"), l)
	r.Formula = fmt.Sprintf("%.0f %% of the dose done", l.Share())
	return Fired{Verdict: Hold, Reason: r}, true
}

// cramp: the next target is one repetition under the cramp, or 80 % of the time reached in a hold;
// at the second repetition or before, back one. Under the other approach it only holds.
func cramp(f facts) (Fired, bool) {
	l, ok := f.last()
	if !ok || l.CrampAt == 0 {
		return Fired{}, false
	}
	r := f.h.Because("", "cramp means the muscle reached its limit: stop there and build from it", "adjust.cramp.hold")
	r.Provenance = body.Common
	r = f.seen(r, l).SeeOn(l.On, "cramp at", "%d", l.CrampAt)
	if f.h.Choice(f.in.Profile.Approaches, "cramp") == "practise" {
		r.Says = "cramp is expected at first under this approach: hold and keep practising"
		return Fired{Verdict: Hold, Reason: r}, true
	}
	d := f.in.Current.Dose
	if d.Timed() {
		share := f.h.Get("adjust.cramp.hold")
		s := int(share / 100 * float64(l.CrampAt))
		r.Formula = fmt.Sprintf("%g %% × %d s = %d s", share, l.CrampAt, s)
		if s < 3 {
			return Fired{Verdict: Back, Steps: 1, Reason: r}, true
		}
		d = d.WithAmount(min(d.Amount(), s))
	} else {
		r.Formula = fmt.Sprintf("%d − 1 = %d", l.CrampAt, l.CrampAt-1)
		if l.CrampAt <= 2 {
			r.Says = "cramp at the second repetition or before: back one"
			return Fired{Verdict: Back, Steps: 1, Reason: r}, true
		}
		d = d.WithAmount(min(d.Amount(), l.CrampAt-1))
	}
	return Fired{Verdict: Back, Dose: &d, Reason: r}, true
}

func tooHard(f facts) (Fired, bool) {
	l, ok := f.last()
	limit := f.h.Int("adjust.rpe.max")
	return Fired{Verdict: Hold, Reason: f.seen(f.h.Because("", "too hard to leave two in reserve: hold", "adjust.rpe.max"), l)},
		ok && !f.fatigue && l.RPE > limit
}

func form(f facts) (Fired, bool) {
	l, ok := f.last()
	r := f.seen(f.h.Because("", "form was not clean: hold"), l)
	for _, x := range l.Faults {
		r = r.SeeOn(l.On, "fault", "%s", x)
	}
	return Fired{Verdict: Hold, Reason: r}, ok && !l.Clean()
}

// missed: a week without a session holds, two weeks go back ⌊days/7⌋ − 1, four weeks park the rail
// until it is tested and placed again.
func missed(f facts) (Fired, bool) {
	last := f.since
	if len(f.logs) > 0 {
		last = max(last, f.logs[0].On)
	}
	n := f.in.Today.Sub(last)
	r := f.h.Because("", "", "adjust.miss.hold", "adjust.miss.back", "adjust.miss.retest").SeeOn(last, "last session or move", "%s ago", days(n))
	switch {
	case n >= f.h.Int("adjust.miss.retest"):
		r.Says = "four weeks missed: test again and place again, never above this"
		return Fired{Verdict: Park, Reason: r}, true
	case n >= f.h.Int("adjust.miss.back"):
		steps := max(1, n/7-1)
		r.Says = fmt.Sprintf("missed %s: back %d", days(n), steps)
		r.Formula = fmt.Sprintf("⌊%d / 7⌋ − 1 = %d", n, steps)
		return Fired{Verdict: Back, Steps: steps, Reason: r}, true
	case n >= f.h.Int("adjust.miss.hold"):
		r.Says = fmt.Sprintf("missed %s: hold", days(n))
		return Fired{Verdict: Hold, Reason: r}, true
	}
	return Fired{}, false
}

// volume: while running volume is high or unknown, loaded calf work, bounces and barefoot strength do not move up; high volume with
// pain above 2 takes it back.
func volume(f facts) (Fired, bool) {
	// Loaded calf work, bounces and barefoot strength; the split forefoot hold may start or stay.
	loaded := f.rail.Class == catalog.Spring || f.rail.Barefoot || (f.rail.HeavyRail && f.exercise.Loaded())
	if next, ok := f.rail.Exercise(f.up(f.in.Current).Exercise); ok {
		loaded = loaded || (f.rail.HeavyRail && next.Loaded())
	}
	if !loaded || f.volume == load.Usual {
		return Fired{}, false
	}
	x := Fired{Verdict: Hold, Reason: f.volumeWhy}
	if l, ok := f.last(); ok && f.volume == load.High && l.Pain > f.go_ && (f.exercise.Loaded() || f.rail.Class == catalog.Spring) {
		x = Fired{Verdict: Back, Steps: 1, Reason: f.seen(f.volumeWhy, l)}
	}
	return x, true
}

// race: within two weeks before one nothing moves up, and after one for its days.
func race(f facts) (Fired, bool) {
	if f.race == nil {
		return Fired{}, false
	}
	return Fired{Verdict: Hold, Reason: f.race.Why}, true
}

// prerequisite: what had to be there first is no longer there, or the kit or a caution changed: back to
// what may be done.
func prerequisite(f facts) (Fired, bool) {
	if f.exercise.ID == "" {
		return Fired{Verdict: Hold, Reason: f.h.Because("", "the exercise is no longer in the catalogue: build again")}, true
	}
	ok, no := f.in.Limits.Reach(f.rail, f.in.Current.Exercise, f.in.Current.Dose).Allowed(f.rail, f.exercise)
	if ok {
		return Fired{}, false
	}
	return Fired{Verdict: Back, Steps: 1, Reason: f.h.Because("", "may not be done now: back to what may").See(f.exercise.Name, "%s", no)}, true
}

// returns: seven quiet days, five mornings reported, every one at usual and no stop open bring a
// parked rail back two notches lower.
func returns(f facts) (Fired, bool) {
	if !f.in.Current.Parked || f.in.Today.Sub(f.in.Current.From) < 7 {
		return Fired{}, false
	}
	if stop, _ := refer.Lock(f.in.Stops, f.rail.Regions, f.in.Current.Side); stop != nil {
		return Fired{}, false
	}
	r := f.h.Because("", "seven quiet days: return two notches lower")
	reported := map[body.Date]bool{}
	for _, m := range f.in.Mornings {
		if age := f.in.Today.Sub(m.On); age >= 0 && age < 7 {
			reported[m.On] = true
		}
	}
	for _, m := range f.marks() {
		if age := f.in.Today.Sub(m.On); age < 7 {
			if m.over() > 0 {
				return Fired{}, false
			}
			r = f.seenMark(r, m)
		}
	}
	return Fired{Verdict: Return, Reason: r}, len(reported) >= 5
}

// minDays is how long a dose stands before it may move: by class, or the stage of a published
// programme.
func (f facts) minDays() (int, string) {
	if len(f.exercise.StageDays) > 0 {
		for i, d := range f.exercise.Ladder {
			if d.Sets == f.in.Current.Dose.Sets && d.Reps == f.in.Current.Dose.Reps {
				return f.exercise.StageDays[i], ""
			}
		}
	}
	key := "adjust.days." + string(f.exercise.Class)
	return f.h.Int(key), key
}

// settled is the second way up under the monitored approach: pain 3–5 for at least 14 days with four
// complete sessions, mornings at usual, and the second week's median pain no higher than the first's.
func (f facts) settled() bool {
	if f.h.Choice(f.in.Profile.Approaches, "pain") == "none" || f.in.Today.Sub(f.in.Current.From) < 14 {
		return false
	}
	var week1, week2 []float64
	complete := 0
	for _, l := range f.logs {
		age := f.in.Today.Sub(l.On)
		if age >= 14 {
			continue
		}
		m, reported := f.morningAfter(l)
		if !reported || m.over() > 0 || l.Pain > f.back_ || !l.Clean() {
			return false
		}
		if l.Complete() {
			complete++
		}
		if age >= 7 {
			week1 = append(week1, float64(l.Pain))
		} else {
			week2 = append(week2, float64(l.Pain))
		}
	}
	return complete >= 4 && len(week1) > 0 && len(week2) > 0 && stats.Median(week2) <= stats.Median(week1)
}

// earned says whether the last two sessions earn a move up, or what is still missing.
func (f facts) earned() Fired {
	need, key := f.minDays()
	keys := []string{"adjust.pain.go", "adjust.rpe.max"}
	if key != "" {
		keys = append(keys, key)
	}
	r := f.h.Because("adjust.two-clean", "two complete, clean sessions with quiet mornings: up", keys...)
	two := f.lastTwo()
	for i := len(two) - 1; i >= 0; i-- {
		r = f.seen(r, two[i])
		if m, ok := f.morningAfter(two[i]); ok {
			r = r.SeeOn(two[i].On.Add(1), "first steps after it", "%d of 10 (usual %g)", m.Pain, m.usual)
		}
	}
	held := f.in.Today.Sub(f.in.Current.From)
	r = r.See("since the last move", "%s of %d", days(held), need)
	wait := func(v Verdict, says string, args ...any) Fired {
		r.Says = fmt.Sprintf(says, args...)
		return Fired{Verdict: v, Reason: r}
	}
	for _, l := range two {
		if l.RPE < 0 && !f.fatigue {
			return wait(Pending, "waits for the effort of %s", l.On.Short())
		}
		if _, reported := f.morningAfter(l); !reported {
			return wait(Pending, "waits for the first steps of %s", l.On.Add(1).Short())
		}
	}
	if len(two) < 2 {
		return wait(Hold, "%d of 2 sessions at this dose", len(two))
	}
	settled := f.settled()
	for _, l := range two {
		m, _ := f.morningAfter(l)
		switch {
		case !l.Complete() || l.CrampAt > 0:
			return wait(Hold, "the whole dose twice running is needed; %s was not", l.On.Short())
		case !l.Clean():
			return wait(Hold, "clean form twice running is needed; %s was not", l.On.Short())
		case !f.fatigue && l.RPE > f.h.Int("adjust.rpe.max"):
			return wait(Hold, "two in reserve twice running is needed; %s was not", l.On.Short())
		case l.Pain > f.go_ && !settled:
			return wait(Hold, "quiet sessions twice running are needed; %s was not", l.On.Short())
		case m.over() > 0:
			return wait(Hold, "the morning after %s was above usual", l.On.Short())
		}
	}
	if held < need {
		return wait(Hold, "earned, but the dose stands %s; it needs %d", days(held), need)
	}
	if settled && two[0].Pain > f.go_ {
		r.Says = "some pain, but settled: two weeks, four complete sessions, mornings at usual, not rising"
	}
	return Fired{Verdict: Up, Steps: 1, Reason: r}
}
