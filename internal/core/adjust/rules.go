package adjust

import (
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
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
	{"release", false, discomfort},
	{"morning", false, morning},
	{"never-up", false, neverUp},
	{"brake", false, brake},
	{"incomplete", false, incomplete},
	{"cramp", false, cramp},
	{"effort", false, tooHard},
	{"form", false, form},
	{"missed", false, missed},
	{"volume", false, volume},
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

// warningSign: a sign, or what its clearance left closed, parks what it locks on this leg.
func warningSign(f facts) (Fired, bool) {
	for _, r := range f.may.Reasons {
		if r.Sort == permit.Safety && (strings.HasPrefix(r.Cut, "stop.") || strings.HasPrefix(r.Cut, "cleared.")) {
			return Fired{Verdict: Park, Reason: reason(r)}, true
		}
	}
	return Fired{}, false
}

// permitted: what a caution, a pattern, a sore place, a finding, a test or the kit takes away steps down to
// the nearest easier dose that may be done, else parks. What waits, and what goes on but never up, holds.
func permitted(f facts) (Fired, bool) {
	if f.exercise.ID == "" {
		return Fired{Verdict: Hold, Reason: f.h.Because("", "may not be done now: the exercise is no longer in the catalogue; build again")}, true
	}
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
func (f facts) again() (Move, bool) {
	for _, m := range f.in.Moves {
		if m.Verdict == Back && m.Steps >= 2 && f.in.Today.Sub(m.On) <= f.h.Int("adjust.again.days") && (m.Side == "" || m.Side.Touches(f.side)) {
			return m, true
		}
	}
	return Move{}, false
}

// twice goes back two; again within 14 days it parks and is looked at.
func (f facts) twice(r body.Reason) Fired {
	if m, ok := f.again(); ok {
		r.Says += "; again within 14 days: park and review"
		return Fired{Verdict: Park, Reason: r.SeeOn(m.On, "earlier", "back two")}
	}
	return Fired{Verdict: Back, Steps: 2, Reason: r}
}

// settledBack is what an accepted back answered already: the worst pain and the worst morning over usual
// it saw, and whether a session at the lowered dose has followed it.
func (f facts) settledBack() (pain int, over float64, holds bool) {
	var last *Move
	before := int64(-1)
	for i, m := range f.in.Moves {
		if m.Side != "" && !m.Side.Touches(f.side) {
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
	for _, m := range f.marks {
		if m.Seq <= last.Seen && m.Seq > before && f.takes(m.Region) {
			over = max(over, m.over())
		}
	}
	return pain, over, true
}

// releasing reports work whose discomfort is its own scale and never judged as pain.
func (f facts) releasing() bool { return f.exercise.Class == catalog.Releasing }

// pain: the worst session nobody has decided on speaks, however many quiet ones follow. Over the
// approach's limit it goes back, 7 and over goes back two; between the limits it holds unless the settled
// row of earned lets it move.
func pain(f facts) (Fired, bool) {
	if f.releasing() {
		return Fired{}, false
	}
	var worst *Log
	for _, l := range f.undecided() {
		if worst == nil || l.Pain > worst.Pain {
			worst = &l
		}
	}
	if worst != nil && worst.Pain > f.back_ {
		answered, _, holds := f.settledBack()
		switch {
		case holds && worst.Pain <= answered:
			return Fired{Verdict: Hold, Reason: f.see(f.h.Because("", "the rail went back for as much already: hold until a session at the lowered dose", "adjust.pain.back"), *worst)}, true
		case worst.Pain >= f.h.Int("adjust.pain.back2"):
			return f.twice(f.see(f.h.Because("", "pain this high during work: back two", "adjust.pain.back2"), *worst)), true
		}
		return Fired{Verdict: Back, Steps: 1, Reason: f.see(f.h.Because("", "pain during work is above its limit: back one", "adjust.pain.back"), *worst)}, true
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
func (f facts) recent() []Log {
	var out []Log
	from := body.Date("")
	for _, s := range f.lastTwo() {
		out, from = append(out, s.Log), s.On
	}
	for _, l := range f.undecided() {
		if l.On >= from {
			out = append(out, l)
		}
	}
	return out
}

// discomfort: release work below 5 of 10 is fine, 5 to 7 lightens and waits, 8 and over ends it.
func discomfort(f facts) (Fired, bool) {
	if !f.releasing() {
		return Fired{}, false
	}
	worst := Log{Pain: -1}
	for _, l := range f.undecided() {
		if l.Pain > worst.Pain {
			worst = l
		}
	}
	switch {
	case worst.Pain >= f.h.Int("adjust.release.back"):
		return Fired{Verdict: Back, Steps: 1, Reason: f.see(f.h.Because("", "too much pressure: back one", "adjust.release.back"), worst)}, true
	case worst.Pain >= f.h.Int("adjust.release.hold"):
		return Fired{Verdict: Hold, Reason: f.see(f.h.Because("", "lighten, wait there until it falls: hold", "adjust.release.hold"), worst)}, true
	}
	return Fired{}, false
}

// morning: every morning nobody has decided on is judged by the usual of its own day. At 7, or 4 over
// usual, back two; 2 over usual, back one; 1 over usual holds. It takes back what it mainly loads and what
// loads it at one-leg level, with bouncing, below level or on bent-back toes; other work that bears weight
// holds, and goes back at the second within 7 days.
func morning(f facts) (Fired, bool) {
	back, high, pause := f.h.Get("adjust.morning.back"), float64(f.h.Int("adjust.pain.back2")), f.h.Get("adjust.morning.pause")
	_, answeredOver, holds := f.settledBack()
	best, fired := Fired{}, false
	take := func(x Fired) {
		if !fired || protective[x.Verdict] > protective[best.Verdict] || x.Verdict == best.Verdict && x.Steps > best.Steps {
			best, fired = x, true
		}
	}
	var earlier body.Date
	for _, m := range f.marks {
		bad := m.over() >= back || float64(m.Pain) >= high
		was := earlier
		if bad && !f.takes(m.Region) {
			earlier = m.On
		}
		if !f.open(m) || !bad && m.over() < 1 {
			continue
		}
		r := f.seeMark(f.h.Because("", "", "adjust.morning.back"), m)
		r.Formula = fmt.Sprintf("%d − %g = %g over usual; back from %g", m.Pain, m.usual, m.over(), back)
		switch {
		case !f.takes(m.Region):
			if bad {
				r.Says = "a bad morning on the " + string(m.leg) + " leg: hold"
				if was != "" && was != m.On && m.On.Sub(was) <= 7 {
					r.Says = "the second bad morning on the " + string(m.leg) + " leg within 7 days: back one"
					take(Fired{Verdict: Back, Steps: 1, Reason: r.SeeOn(was, "the first", "bad")})
					continue
				}
				take(Fired{Verdict: Hold, Reason: r})
			}
		case holds && m.over() <= answeredOver && float64(m.Pain) <= high && bad:
			r.Says = "the rail went back for as bad a morning already: hold until a session at the lowered dose"
			take(Fired{Verdict: Hold, Reason: r})
		case float64(m.Pain) >= high || m.over() >= pause:
			r.Says = "a very bad morning: back two"
			take(f.twice(r))
		case m.over() >= back:
			r.Says = "the morning was well above usual: back one"
			take(Fired{Verdict: Back, Steps: 1, Reason: r})
		case m.over() >= 1:
			r.Says = "the morning was above usual: hold"
			take(Fired{Verdict: Hold, Reason: r})
		}
	}
	return best, fired
}

// morningsRising: reports running at one place, at most two days apart. Three at or above usual, usual + 1
// and usual + 2 (at least 3) go back two; four at or above usual + 1 with the last at least 3 go back one.
// It fires while one of the reports it uses is undecided.
func morningsRising(f facts) (Fired, bool) {
	by := map[string][]mark{}
	var keys []string
	for _, m := range f.marks {
		if !f.takes(m.Region) || f.in.Today.Sub(m.On) > f.h.Int("adjust.again.days") {
			continue
		}
		key := string(m.Region) + string(m.leg)
		if by[key] == nil {
			keys = append(keys, key)
		}
		if n := len(by[key]); n > 0 && by[key][n-1].On == m.On { // two reports of a day: the worse
			if m.Pain > by[key][n-1].Pain {
				by[key][n-1] = m
			}
			continue
		}
		by[key] = append(by[key], m)
	}
	best, fired := Fired{}, false
	for _, key := range keys {
		ms := by[key]
		for i := range ms {
			run := func(n int) ([]mark, bool) {
				if i+1 < n {
					return nil, false
				}
				part := ms[i+1-n : i+1]
				open := f.open(part[0])
				for k := 1; k < n; k++ {
					open = open || f.open(part[k])
					if part[k].On.Sub(part[k-1].On) > 2 {
						return nil, false
					}
				}
				return part, open
			}
			if p, ok := run(3); ok && p[0].over() >= 0 && p[1].over() >= 1 && float64(p[2].Pain) >= max(3, p[2].usual+2) {
				return f.twice(f.seeMarks(f.h.Because("", "three mornings running, each further above usual: back two"), p)), true
			}
			if p, ok := run(4); ok && p[0].over() >= 1 && p[1].over() >= 1 && p[2].over() >= 1 && p[3].over() >= 1 && p[3].Pain >= 3 {
				best, fired = Fired{Verdict: Back, Steps: 1, Reason: f.seeMarks(f.h.Because("", "four mornings running above usual: back one"), p)}, true
			}
		}
	}
	return best, fired
}

func (f facts) seeMarks(r body.Reason, ms []mark) body.Reason {
	for _, m := range ms {
		r = f.seeMark(r, m)
	}
	return r
}

func neverUp(f facts) (Fired, bool) {
	limit := f.h.Get("adjust.morning.never_up")
	r := f.h.Because("", "never up while the morning is this high", "adjust.morning.never_up")
	return Fired{Verdict: Hold, Reason: r.See("latest morning", "%g of 10 (limit %g)", f.latest(), limit)}, f.latest() > limit
}

// brake: while a watched place of a leg stands 2 or more above usual, or a rail of it went back for pain or
// mornings within 7 days, nothing to body mass and above that trains or bears on that leg moves up.
func brake(f facts) (Fired, bool) {
	next, _ := f.rail.Exercise(f.up(f.in.Current).Exercise)
	if max(f.exercise.Level, next.Level) < 2 {
		return Fired{}, false
	}
	usual := f.in.usual()
	days := f.h.Int("adjust.brake.days")
	for _, leg := range f.legs {
		newest := map[body.Region]build.Morning{}
		for _, m := range f.in.Mornings {
			if m.Quiet || m.On > f.in.Today || !m.Side.Touches(leg) {
				continue
			}
			if o, ok := newest[m.Region]; !ok || m.On > o.On || m.On == o.On && m.Pain > o.Pain {
				newest[m.Region] = m
			}
		}
		for _, n := range body.RegionNames {
			o, ok := newest[n.ID]
			if ok && f.in.Today.Sub(o.On) <= days && float64(o.Pain)-usual.At(n.ID, leg, o.On) >= f.h.Get("adjust.morning.back") {
				r := f.h.Because("", "a place of the "+string(leg)+" leg is well above usual: nothing of it moves up", "adjust.brake.days").SeeOn(o.On, n.Name+", "+string(leg), "%d of 10", o.Pain)
				return Fired{Verdict: Hold, Reason: r}, true
			}
		}
		for _, m := range slices.Concat(f.in.Others, f.in.Moves) {
			if m.Verdict == Back && f.in.Today.Sub(m.On) < days && m.Side.Touches(leg) && slices.Contains([]string{"adjust.pain", "adjust.morning", "adjust.mornings-rising"}, m.Rule) {
				r := f.h.Because("", "a rail of the "+string(leg)+" leg went back for pain or mornings within 7 days: nothing of it moves up", "adjust.brake.days").SeeOn(m.On, m.Rail+", "+string(m.Side), "went back")
				return Fired{Verdict: Hold, Reason: r}, true
			}
		}
	}
	return Fired{}, false
}

// incomplete: under 80 % on two training days goes back, reaching over decided ones to the last change of
// dose while one of the two is undecided; less than the whole dose holds.
func incomplete(f facts) (Fired, bool) {
	low := f.h.Get("adjust.complete.low")
	s := f.sessions()
	for i := 0; i+1 < len(s); i++ {
		a, b := s[i], s[i+1]
		if effort := a.Prescription.Dose.Kind == body.Effort; !effort && (a.fresh || b.fresh) && a.Share() < low && b.Share() < low {
			r := f.h.Because("", "under the lower limit twice: back one", "adjust.complete.low")
			r = f.see(f.see(r, b.Log), a.Log)
			r.Formula = fmt.Sprintf("%.0f %% and %.0f %%, limit %g %%", b.Share(), a.Share(), low)
			return Fired{Verdict: Back, Steps: 1, Reason: r}, true
		}
	}
	for _, x := range f.lastTwo() {
		if !x.complete && !x.Log.Complete() {
			r := f.see(f.h.Because("", "not the whole dose: hold", "adjust.complete.low"), x.Log)
			r.Formula = fmt.Sprintf("%.0f %% of the dose done", x.Share())
			return Fired{Verdict: Hold, Reason: r}, true
		}
	}
	return Fired{}, false
}

// cramp: the next target is one repetition under the cramp, or 80 % of the time reached in a hold; at the
// second repetition or before, back one. The lowest cramp nobody has decided on speaks. Under the other
// approach it only holds.
func cramp(f facts) (Fired, bool) {
	var l *Log
	for _, x := range f.undecided() {
		if x.CrampAt > 0 && x.Prescription.Exercise == f.in.Current.Exercise && (l == nil || x.CrampAt < l.CrampAt) {
			l = &x
		}
	}
	if l == nil {
		return Fired{}, false
	}
	r := f.h.Because("", "cramp means the muscle reached its limit: stop there and build from it", "adjust.cramp.hold")
	r.Provenance = body.Common
	r = f.see(r, *l).SeeOn(l.On, "cramp at", "%d", l.CrampAt)
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

func tooHard(f facts) (Fired, bool) {
	limit := f.h.Int("adjust.rpe.max")
	for _, l := range f.recent() {
		if !f.fatigue && l.RPE > limit {
			return Fired{Verdict: Hold, Reason: f.see(f.h.Because("", "too hard to leave two in reserve: hold", "adjust.rpe.max"), l)}, true
		}
	}
	return Fired{}, false
}

func form(f facts) (Fired, bool) {
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
// until it is tested and placed again. The days count from the last session done, whatever was decided.
func missed(f facts) (Fired, bool) {
	last := f.in.Begun
	if last == "" {
		last = f.in.Current.From
	}
	if len(f.logs) > 0 {
		last = max(last, f.logs[0].On)
	}
	taken := 0
	for _, m := range f.in.Moves {
		if m.On > last && m.Verdict == Back && m.Rule == "adjust.missed" && (m.Side == "" || m.Side.Touches(f.side)) {
			taken += m.Steps
		}
		if m.Verdict == Return && m.On > last {
			last = m.On
		}
	}
	n := f.in.Today.Sub(last)
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

// volume: while running volume is high or unknown, calf work from one leg on, bounces and bare work do not
// move up; high volume with pain above 2 takes it back, bare strength included.
func volume(f facts) (Fired, bool) {
	counts := func(x catalog.Exercise) bool {
		return x.Has(body.CalfWork) && x.Level >= 3 || x.Impact.Beyond(body.NoImpact) || x.Bare && x.Stage >= 1
	}
	loaded := counts(f.exercise)
	if next, ok := f.rail.Exercise(f.up(f.in.Current).Exercise); ok {
		loaded = loaded || counts(next)
	}
	if !loaded || f.volume == load.Usual {
		return Fired{}, false
	}
	x := Fired{Verdict: Hold, Reason: f.volumeWhy}
	if f.volume == load.High && counts(f.exercise) {
		for _, l := range f.undecided() {
			if l.Pain > f.go_ {
				return Fired{Verdict: Back, Steps: 1, Reason: f.see(f.volumeWhy, l)}, true
			}
		}
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

// closed lists the stops of these legs that were still open while the row in force stood, and were closed
// since. A dose set on the day of the clearance stood through it when it was set before; a parked row of that
// day always did.
func (f facts) closed() []refer.Stop {
	var out []refer.Stop
	for _, s := range f.in.Limits.Facts.Stops {
		sign, _ := refer.FindSign(s.Sign)
		c, on := s.Closed()
		if c == nil || sign.Class == refer.Small || sign.Class == refer.Pattern || s.Opens() == nil && c.Kind == "clinician" {
			continue
		}
		now := f.in.Current
		through := on > now.From || on == now.From && (now.Parked || c.At.After(now.Set))
		if through && slices.ContainsFunc(f.legs, s.Touches) {
			out = append(out, s)
		}
	}
	return out
}

// mistaken reports a rail that was parked for nothing but a sign entered by mistake, and nothing since hurt.
func (f facts) mistaken() bool {
	closed := f.closed()
	if len(closed) == 0 {
		return false
	}
	for _, m := range slices.Backward(f.in.Moves) {
		if m.Verdict == Park && (m.Side == "" || m.Side.Touches(f.side)) {
			if m.Rule != "adjust.warning-sign" {
				return false
			}
			break
		}
	}
	for _, s := range closed {
		if !s.Mistake() {
			return false
		}
		for _, m := range f.marks {
			if m.On >= s.On && m.Pain > 2 {
				return false
			}
		}
	}
	return true
}

// grave is a stop after which nothing returns by notches: 14 days and longer, bone, a pop or tear.
func (f facts) grave() (refer.Stop, bool) {
	for _, s := range f.closed() {
		_, on := s.Closed()
		if !s.Mistake() && (s.Grave() || on.Sub(s.On) >= f.h.Int("adjust.stop.retest")) {
			return s, true
		}
	}
	return refer.Stop{}, false
}

// cleared: a dose that stood through a stop does not simply go on once it is cleared, not even when the
// park was never accepted: two notches lower, or a new test and a new start.
func cleared(f facts) (Fired, bool) {
	if f.mistaken() {
		return Fired{}, false
	}
	for _, s := range f.closed() {
		if s.Mistake() {
			continue
		}
		sign, _ := refer.FindSign(s.Sign)
		_, on := s.Closed()
		r := f.h.Because("", "back from a warning sign: two notches lower", "adjust.stop.retest").SeeOn(s.On, sign.Question, "yes").SeeOn(on, "cleared", "after %s", days(on.Sub(s.On)))
		if _, ok := f.grave(); ok {
			r.Says = "back from a warning sign of 14 days and longer, of bone or of a tear: test again and place again"
			return Fired{Verdict: Park, Reason: r}, true
		}
		return Fired{Verdict: Back, Steps: 2, Reason: r}, true
	}
	return Fired{}, false
}

// stays says what a parked rail waits for.
func (f facts) stays() body.Reason {
	r := f.h.Because("adjust.parked", "stays parked until seven quiet days, five mornings reported")
	if f.in.Current.WaitsForTest() {
		r.Says = "stays parked until it is tested again, or the coach places it"
	}
	if s, ok := f.grave(); ok {
		_, on := s.Closed()
		r.Says = "stays parked until it is tested again: the warning sign was of bone, of a tear, or lasted 14 days"
		r = r.SeeOn(on, "cleared", "after %s", days(on.Sub(s.On)))
	}
	return r
}

// returns: seven quiet days, five mornings that answered every watched place, each at usual, and nothing
// in the way bring a parked rail back two notches lower. A sign entered by mistake brings the dose back as
// it stood. What was parked for missing, or by a grave stop, comes back by a new test alone.
func returns(f facts) (Fired, bool) {
	if !f.in.Current.Parked || f.in.Current.WaitsForTest() {
		return Fired{}, false
	}
	if _, ok := f.grave(); ok {
		return Fired{}, false
	}
	if f.mistaken() {
		return Fired{Verdict: Return, Reason: f.h.Because("", "the sign was entered by mistake: back as it stood")}, !f.returned(f.in.Current).Parked
	}
	if f.in.Today.Sub(f.in.Current.From) < f.h.Int("adjust.return.days") {
		return Fired{}, false
	}
	r := f.h.Because("", "seven quiet days: return two notches lower", "adjust.return.days")
	reported := 0
	for i := range f.h.Int("adjust.return.days") {
		if f.answered(f.in.Today.Add(-i)) {
			reported++
		}
	}
	for _, m := range f.marks {
		if age := f.in.Today.Sub(m.On); age < f.h.Int("adjust.return.days") {
			if m.over() > 0 {
				return Fired{}, false
			}
			r = f.seeMark(r, m)
		}
	}
	return Fired{Verdict: Return, Reason: r}, reported >= f.h.Int("adjust.return.mornings") && !f.returned(f.in.Current).Parked
}

// minDays is how long a dose stands before it may move: by class, or the stage of a published
// programme; a week after a cramp.
func (f facts) minDays() (int, string) {
	if len(f.exercise.StageDays) > 0 {
		for i, d := range f.exercise.Ladder {
			if d.Sets == f.in.Current.Dose.Sets && d.Reps == f.in.Current.Dose.Reps && f.in.Current.Cause != CauseCramp {
				return f.exercise.StageDays[i], ""
			}
		}
	}
	if f.in.Current.Cause == CauseCramp {
		return 7, ""
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
	for _, l := range f.sessions() {
		age := f.in.Today.Sub(l.On)
		if age >= 14 {
			continue
		}
		m, reported := f.morningAfter(l.Log)
		if !reported || m.over() > 0 || l.Pain > f.back_ || !l.Clean() {
			return false
		}
		if l.complete {
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
	r.Provenance, r.Source = body.Ours, ""
	two := f.lastTwo()
	for i := len(two) - 1; i >= 0; i-- {
		r = f.see(r, two[i].Log)
		if m, ok := f.morningAfter(two[i].Log); ok && m.leg != "" {
			r = r.SeeOn(two[i].On.Add(1), "first steps after it", "%d of 10 (usual %g)", m.Pain, m.usual)
		}
	}
	held := f.in.Today.Sub(f.in.Current.From)
	r = r.See("since the last move", "%s of %d", days(held), need)
	wait := func(v Verdict, says string, args ...any) Fired {
		r.Says = fmt.Sprintf(says, args...)
		return Fired{Verdict: v, Reason: r}
	}
	if len(two) < 2 {
		return wait(Hold, "%d of 2 sessions at this dose", len(two))
	}
	settled := f.settled()
	quiet := f.go_
	if f.releasing() {
		quiet = f.h.Int("adjust.release.hold") - 1
	}
	for _, l := range two {
		m, _ := f.morningAfter(l.Log)
		switch {
		case l.Share() < 100 && l.Prescription.Dose.Kind == body.Effort:
			return wait(Hold, "the whole time twice running is needed; %s was not", l.On.Short())
		case !l.complete || l.CrampAt > 0:
			return wait(Hold, "the whole dose twice running is needed; %s was not", l.On.Short())
		case !l.Clean():
			return wait(Hold, "clean form twice running is needed; %s was not", l.On.Short())
		case !f.fatigue && l.RPE > f.h.Int("adjust.rpe.max"):
			return wait(Hold, "two in reserve twice running is needed; %s was not", l.On.Short())
		case l.Pain > quiet && !settled:
			return wait(Hold, "quiet sessions twice running are needed; %s was not", l.On.Short())
		case m.leg != "" && m.over() > 0:
			return wait(Hold, "the morning after %s was above usual", l.On.Short())
		}
	}
	for _, l := range two {
		if l.noEffort && !f.fatigue {
			return wait(Pending, "waits for the effort of %s", l.On.Short())
		}
		if len(l.Was) > 0 && l.fresh && l.Source != "coach" {
			return wait(Pending, "waits until the coach has seen the correction of %s", l.On.Short())
		}
		if _, reported := f.morningAfter(l.Log); !reported {
			return wait(Pending, "waits for the first steps of %s", l.On.Add(1).Short())
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
