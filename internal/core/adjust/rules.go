package adjust

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
)

// rule is one row of the table: it looks at the facts and may speak.
type rule struct {
	name       string
	whenParked bool
	see        func(*facts) (Fired, bool)
}

var rules = []rule{
	{"warning-sign", true, warningSign},
	{"mornings-rising", false, morningsRising},
	{"pain", false, pain},
	{"release", false, discomfort},
	{"morning", false, morning},
	{"never-up", false, neverUp},
	{"brake", false, brake},
	{"incomplete", false, incomplete},
	{"cramp", false, cramp},
	{"effort", false, tooHard},
	{"form", false, form},
	{"missed", false, missed},
	{"beat", false, beat},
	{"volume", false, volume},
	{"returning", false, returning},
	{"dial", false, dial},
	{"race", false, race},
	{"cleared", false, cleared},
	{"permit", false, permitted},
	{"return", true, returns},
}

// RuleNames lists the rules of the table, and the row that moves up.
func RuleNames() []string {
	out := []string{}
	for _, r := range rules {
		out = append(out, r.name)
	}
	return append(out, "two-clean")
}

// reason tells what takes a demand away, and what opens it.
func reason(r permit.Reason) body.Reason {
	return r.Reason.See("what opens it", "%s", r.Opens)
}

// permitted: what a caution, a pattern, a sore place, a finding, a test or the kit takes away steps down to
// the nearest easier dose that may be done, else parks. What waits, and what goes on but never up, holds.
func permitted(f *facts) (Fired, bool) {
	switch {
	case f.may.May() && f.may.NoUp, f.may.May() && f.may.HalfSets:
		return Fired{Verdict: Hold, Reason: reason(f.may.Reasons[0])}, true
	case f.may.May():
		return Fired{}, false
	case f.may.Sort() == permit.Safety:
		return Fired{Verdict: Back, Steps: 1, Reason: reason(f.may.Reasons[0])}, true
	}
	return Fired{Verdict: Hold, Reason: reason(f.may.Reasons[0])}, true
}

// again reports that the rail went back two within 14 days before a day.
func (f *facts) again() (Move, bool) {
	for _, m := range f.in.Moves {
		if m.Verdict == Back && m.Steps >= 2 && f.in.Today.Sub(m.On) <= f.h.Int("adjust.again.days") && (m.Side == "" || m.Side.Touches(f.side)) {
			return m, true
		}
	}
	return Move{}, false
}

// twice goes back two; again within 14 days it parks and is looked at.
func (f *facts) twice(r body.Reason) Fired {
	if m, ok := f.again(); ok {
		r.Says += "; again within 14 days: park and review"
		return Fired{Verdict: Park, Reason: r.SeeOn(m.On, "earlier", "back two")}
	}
	return Fired{Verdict: Back, Steps: 2, Reason: r}
}

// settledBack is what an accepted back answered already: the worst pain and the worst morning over usual
// it saw, and whether a session at the lowered dose has followed it. Holds since then changed nothing.
func (f *facts) settledBack() (pain int, over float64, holds bool) {
	var last *Move
	before := int64(-1)
	for i, m := range f.in.Moves {
		if m.Verdict == Hold || m.Side != "" && !m.Side.Touches(f.side) {
			continue
		}
		if last != nil {
			before = max(before, last.Seen)
		}
		last = &f.in.Moves[i]
	}
	if last == nil || last.Verdict != Back || len(f.doseLogs) > 0 {
		return 0, 0, false
	}
	for _, l := range f.logs {
		if l.Seq <= last.Seen && l.Seq > before {
			pain = max(pain, l.Pain)
		}
	}
	for m := range f.loads(f.in.shared.marks) {
		if m.Seq <= last.Seen && m.Seq > before && f.takes(m) {
			over = max(over, m.over())
		}
	}
	return pain, over, true
}

// releasing reports work whose discomfort is its own scale and never judged as pain.
func (f *facts) releasing() bool { return f.exercise.Class == catalog.Releasing }

// pain: the worst session nobody has decided on speaks, however many quiet ones follow. Over the
// approach's limit it goes back, 7 and over goes back two; between the limits it holds unless the settled
// row of earned lets it move.
func pain(f *facts) (Fired, bool) {
	if f.releasing() {
		return Fired{}, false
	}
	var worst *Log
	for _, l := range f.undecided() {
		if worst == nil || l.Pain > worst.Pain {
			worst = l
		}
	}
	if worst != nil && worst.Pain > f.back_ {
		answered, _, holds := f.settledBack()
		switch {
		case holds && worst.Pain <= answered:
			return Fired{Verdict: Hold, Reason: f.see(f.h.Because("",
				"the rail went back for as much already: hold until a session at the lowered dose", "adjust.pain.back"), worst)}, true
		case worst.Pain >= f.h.Int("adjust.pain.back2"):
			return f.twice(f.see(f.h.Because("", "pain this high during work: back two", "adjust.pain.back2"), worst)), true
		}
		return Fired{Verdict: Back, Steps: 1, Reason: f.see(f.h.Because("", "pain during work is above its limit: back one", "adjust.pain.back"),
			worst)}, true
	}
	// A pain between the limits holds until two quiet sessions have followed it.
	for _, s := range f.recent() {
		if s.Pain > f.go_ && s.Pain <= f.back_ && !f.settled() {
			return Fired{Verdict: Hold, Reason: f.see(f.h.Because("", "some pain during work: hold", "adjust.pain.go", "adjust.pain.back"), s)}, true
		}
	}
	return Fired{}, false
}

// recent are the last two training days, and every undecided report since the older of them.
func (f *facts) recent() []*Log {
	var out []*Log
	from := body.Date("")
	for _, s := range f.lastTwo() {
		out, from = append(out, s.worst()), s.on()
	}
	for _, l := range f.undecided() {
		if l.On >= from {
			out = append(out, l)
		}
	}
	return out
}

// lighten is the discomfort from which release work waits: not at all where it may be as much as is bearable.
func (f *facts) lighten() int {
	if f.h.Choice(f.in.Profile.Approaches, "pressure") == "bearable" {
		return f.h.Int("adjust.release.back")
	}
	return f.h.Int("adjust.release.hold")
}

// discomfort: release work below 5 of 10 is fine, 5 to 7 lightens and waits, but under the approach that bears it; 8 and
// over ends it.
func discomfort(f *facts) (Fired, bool) {
	if !f.releasing() {
		return Fired{}, false
	}
	worst := &Log{Pain: -1}
	for _, l := range f.undecided() {
		if l.Pain > worst.Pain {
			worst = l
		}
	}
	switch {
	case worst.Pain >= f.h.Int("adjust.release.back"):
		return Fired{Verdict: Back, Steps: 1, Reason: f.see(f.h.Because("", "too much pressure: back one", "adjust.release.back"), worst)}, true
	case worst.Pain >= f.lighten():
		return Fired{Verdict: Hold, Reason: f.see(f.h.Because("", "lighten, wait there until it falls: hold", "adjust.release.hold"), worst)},
			true
	}
	return Fired{}, false
}

// incomplete: under 80 % on two training days goes back, reaching over decided ones to the last change of
// dose while one of the two is undecided; less than the whole dose holds.
func incomplete(f *facts) (Fired, bool) {
	low := f.h.Get("adjust.complete.low")
	for i := 1; i < len(f.days); i++ {
		a, b := f.days[i-1], f.days[i]
		if a.logs[0].Prescription.Dose.Kind != body.Effort && (a.fresh || b.fresh) && a.share() < low && b.share() < low {
			r := f.h.Because("", "under the lower limit twice: back one", "adjust.complete.low")
			r = f.see(f.see(r, b.worst()), a.worst())
			r.Formula = fmt.Sprintf("%.0f %% and %.0f %%, limit %g %%", b.share(), a.share(), low)
			return Fired{Verdict: Back, Steps: 1, Reason: r}, true
		}
	}
	for _, s := range f.lastTwo() {
		if l := s.worst(); !s.complete && !l.Complete() {
			r := f.see(f.h.Because("", "not the whole dose: hold", "adjust.complete.low"), l)
			r.Formula = fmt.Sprintf("%.0f %% of the dose done", l.Share())
			return Fired{Verdict: Hold, Reason: r}, true
		}
	}
	return Fired{}, false
}

// cramp: the next target is one repetition under the cramp, or 80 % of the time reached in a hold; at the
// second repetition or before, back one. The lowest cramp nobody has decided on speaks. Under the other
// approach it only holds.
func cramp(f *facts) (Fired, bool) {
	var l *Log
	for _, x := range f.undecided() {
		if x.CrampAt > 0 && x.Prescription.Exercise == f.in.Current.Exercise && (l == nil || x.CrampAt < l.CrampAt) {
			l = x
		}
	}
	if l == nil {
		return Fired{}, false
	}
	r := f.h.Because("", "cramp means the muscle reached its limit: stop there and build from it", "adjust.cramp.hold")
	r.Provenance = body.Common
	r = f.see(r, l).SeeOn(l.On, "cramp at", "%d", l.CrampAt)
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
		return Fired{Verdict: Back, Dose: &d, Reason: r}, true
	}
	r.Formula = fmt.Sprintf("%d − 1 = %d", l.CrampAt, l.CrampAt-1)
	if l.CrampAt <= 2 {
		r.Says = "cramp at the second repetition or before: back one"
		return Fired{Verdict: Back, Steps: 1, Reason: r}, true
	}
	if d.Kind == body.RMLoad { // fewer repetitions with the same weight, not a heavier one
		d = body.Dose{Kind: body.Repetitions, Sets: d.Sets, Reps: d.Reps, LoadKg: d.LoadKg, OfRM: d.Reps}
	}
	d = d.WithAmount(min(d.Amount(), l.CrampAt-1))
	return Fired{Verdict: Back, Dose: &d, Reason: r}, true
}

func tooHard(f *facts) (Fired, bool) {
	limit := f.h.Int("adjust.rpe.max")
	for _, l := range f.recent() {
		if !f.fatigue && l.RPE > limit {
			return Fired{Verdict: Hold, Reason: f.see(f.h.Because("", "too hard to leave two in reserve: hold", "adjust.rpe.max"), l)}, true
		}
	}
	return Fired{}, false
}

func form(f *facts) (Fired, bool) {
	for _, l := range f.recent() {
		if l.Clean() {
			continue
		}
		r := f.see(f.h.Because("", "form was not clean: hold"), l)
		for _, x := range l.Faults {
			r = r.SeeOn(l.On, "fault", "%s", x)
		}
		return Fired{Verdict: Hold, Reason: r}, true
	}
	return Fired{}, false
}

// missed: a week without a session holds, two weeks go back ⌊days/7⌋ − 1 in all, four weeks park the rail
// until it is tested and placed again. The days count from the last session done, whatever was decided, or
// from the day a test placed the dose since, or it was returned; so does what was taken back for them.
func missed(f *facts) (Fired, bool) {
	last := f.in.Begun
	if last == "" || f.in.Current.Cause == catalog.CausePlaced {
		last = f.in.Current.From
	}
	if len(f.logs) > 0 {
		last = max(last, f.logs[0].On)
	}
	mine := func(m Move) bool { return m.Side == "" || m.Side.Touches(f.side) }
	for _, m := range f.in.Moves {
		if m.Verdict == Return && mine(m) {
			last = max(last, m.On)
		}
	}
	taken := 0
	for _, m := range f.in.Moves {
		if m.On > last && m.Verdict == Back && m.Rule == "adjust.missed" && mine(m) {
			taken += m.Steps
		}
	}
	n := f.in.Today.Sub(last)
	if n < min(f.h.Int("adjust.miss.hold"), f.h.Int("adjust.miss.back"), f.h.Int("adjust.miss.retest")) {
		return Fired{}, false
	}
	r := f.h.Because("", "", "adjust.miss.hold", "adjust.miss.back", "adjust.miss.retest").SeeOn(last, "last session", "%s ago", days(n))
	switch steps := max(1, n/7-1) - taken; {
	case n >= f.h.Int("adjust.miss.retest"):
		r.Says = "four weeks missed: test again and place again, never above this"
		r.Rule = "adjust.missed"
		return Fired{Verdict: Park, Reason: r}, true
	case n >= f.h.Int("adjust.miss.back") && steps > 0:
		r.Says = fmt.Sprintf("missed %s: back %d", days(n), steps)
		r.Formula = fmt.Sprintf("⌊%d / 7⌋ − 1 = %d, of which %d taken", n, max(1, n/7-1), taken)
		return Fired{Verdict: Back, Steps: steps, Reason: r}, true
	case n >= f.h.Int("adjust.miss.hold"):
		r.Says = fmt.Sprintf("missed %s: hold", days(n))
		return Fired{Verdict: Hold, Reason: r}, true
	}
	return Fired{}, false
}

// beat: the next step of the cadence waits until the step before it was counted to hold without the metronome, as well as
// a 15 s count can tell.
func beat(f *facts) (Fired, bool) {
	at := f.in.Current.Dose.Spm
	if at == 0 || f.next.Dose.Spm <= at {
		return Fired{}, false
	}
	const blur = 2 // steps a minute either way
	facts := f.limits.Facts
	counted, on := facts.Tests[body.Both][body.GaitCadence], facts.Taken["gait.cadence|both"]
	r := f.h.Because("", fmt.Sprintf("first count the cadence without the beat: does the step of %d hold?", at)).SeeOn(f.in.Current.From,
		"this dose", "%s", f.in.Current.Dose)
	r.Provenance = body.Common
	if on < f.in.Current.From {
		return Fired{Verdict: Hold, Reason: r}, true
	}
	if counted < float64(at-blur) {
		r.Says = fmt.Sprintf("the step of %d does not hold without the beat yet", at)
		return Fired{Verdict: Hold, Reason: r.SeeOn(on, "counted", "%.0f a minute", counted)}, true
	}
	return Fired{}, false
}

// returning: on the way back to running at most one rail a week moves up at one-leg level.
func returning(f *facts) (Fired, bool) {
	back := f.limits.Facts.Back
	if back == nil || f.exercise.Level < 3 {
		return Fired{}, false
	}
	for _, m := range f.in.Others {
		if n := f.in.Today.Sub(m.On); m.Verdict == Up && n >= 0 && n < 7 {
			return Fired{Verdict: Hold, Reason: f.h.Because("adjust.returning", "on the way back to running one rail a week moves up").SeeOn(m.On,
				"moved up", "%s", m.Rail)}, true
		}
	}
	return Fired{}, false
}

// Heavy reports work that counts as heavy where one dial leads at a time: one-leg heel work, outside load, bouncing.
func Heavy(x catalog.Exercise) bool { return x.Level >= 3 || x.Impact.Beyond(body.NoImpact) }

// Wants are the dials that rails in force wait for, since the programme began: the barefoot dial for the beat, strength for heavy
// work. A parked rail wants nothing.
func Wants(cat catalog.Catalogue, rows []catalog.Prescription, since body.Date) map[load.Dial]body.Date {
	out := map[load.Dial]body.Date{}
	for _, p := range rows {
		rail, _ := cat.Find(p.Rail)
		x, known := rail.Exercise(p.Exercise)
		switch {
		case !known || p.Parked:
		case rail.ByBeat():
			out[load.Barefoot] = since
		case Heavy(x):
			out[load.Strength] = since
		}
	}
	return out
}

// dial: one thing leads a week. Where strength does not, so many heavy rails a week move up; cadence waits until its own dial leads;
// in a week planned easy bouncing waits.
func dial(f *facts) (Fired, bool) {
	lead := f.in.Lead
	if lead.Dial == "" {
		return Fired{}, false
	}
	next, ok := f.rail.Exercise(f.next.Exercise)
	if !ok {
		next = f.exercise
	}
	says := func(words string, moves ...Move) (Fired, bool) {
		r := f.h.Because("adjust.dial", words, "dial.heavy", "dial.wait").SeeOn(lead.From, "leads this week", "%s: %s", lead.Dial.Name(),
			lead.Why.Says)
		for _, m := range moves {
			r = r.SeeOn(m.On, "moved up", "%s", m.Rail)
		}
		return Fired{Verdict: Hold, Reason: r}, true
	}
	switch {
	case lead.Easy && next.Impact.Beyond(body.NoImpact):
		return says("a week planned easy: bouncing waits")
	case f.rail.ByBeat() && lead.Dial != load.Barefoot:
		return says(fmt.Sprintf("cadence waits: %s leads this week", lead.Dial.Name()))
	case f.rail.ByBeat() && lead.Bare != "":
		return says("cadence waits: bare minutes or shoes moved on " + lead.Bare.Short())
	case lead.Dial == load.Strength || !Heavy(next):
		return Fired{}, false
	}
	moved := []Move{}
	for _, m := range f.in.Others {
		if m.Verdict == Up && m.Heavy && m.On >= lead.From && m.On <= f.in.Today {
			moved = append(moved, m)
		}
	}
	if len(moved) < f.h.Int("dial.heavy") {
		return Fired{}, false
	}
	return says(fmt.Sprintf("%s leads this week: one heavy rail moves up, and one did", lead.Dial.Name()), moved...)
}

// volume: while running volume is high or unknown, calf work from one leg on, bounces and bare work do not
// move up; high volume with pain above 2 takes it back, bare strength included.
func volume(f *facts) (Fired, bool) {
	counts := func(x catalog.Exercise) bool {
		return x.Has(body.CalfWork) && x.Level >= 3 || x.Impact.Beyond(body.NoImpact) || x.Bare && x.Stage >= 1
	}
	loaded := counts(f.exercise)
	if next, ok := f.rail.Exercise(f.next.Exercise); ok {
		loaded = loaded || counts(next)
	}
	if !loaded || f.volume == load.Usual {
		return Fired{}, false
	}
	x := Fired{Verdict: Hold, Reason: f.volumeWhy}
	if f.volume == load.High && counts(f.exercise) {
		// A session that hurt speaks until a coach has decided on it: a hold that was recorded by itself, before the running
		// was high, takes no word away. A run that nobody has decided on speaks to the sessions of its week, decided or not.
		ran := slices.ContainsFunc(f.in.Runs, func(r load.Run) bool { return r.Seq > f.seen(f.side) && f.within7(r.On) })
		for _, l := range f.logs {
			if l.Pain > f.go_ && (f.unheard(l) || ran && f.within7(l.On) && slices.Contains(f.doseLogs, l)) {
				return Fired{Verdict: Back, Steps: 1, Reason: f.see(f.volumeWhy, l)}, true
			}
		}
	}
	return x, true
}

func (f *facts) within7(on body.Date) bool { n := f.in.Today.Sub(on); return n >= 0 && n < 7 }

// race: within two weeks before one nothing moves up, and after one for its days.
func race(f *facts) (Fired, bool) {
	if f.race == nil {
		return Fired{}, false
	}
	return Fired{Verdict: Hold, Reason: f.race.Why}, true
}
