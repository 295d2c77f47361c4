package adjust

import (
	"cmp"
	"fmt"
	"iter"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
)

// facts is what the rules look at, gathered once.
type facts struct {
	in         *Input
	limits     catalog.Limits // of the side, with what the row has reached
	h          house.Rules
	rail       *catalog.Rail
	exercise   catalog.Exercise
	may        permit.Answer // of the exercise in force
	side       body.Side     // both, where both legs work at once
	legs       []body.Side
	logs       []*Log // all of the rail and side as they are judged, newest first
	doseLogs   []*Log // of them, those of the dose in force
	unseen     []*Log // of them, those nobody has decided on
	days       []session
	loaded     []bool               // places of body.RegionNames whose mornings concern the exercise
	taking     []bool               // of these, the places it goes back for
	saw, told  seen                 // newest report a decision on the side has seen; one of the coach
	next       catalog.Prescription // one notch up
	volume     load.State
	volumeWhy  body.Reason
	race       *build.RaceRule
	fatigue    bool // to fatigue by approach, or a published programme: effort is no condition
	go_, back_ int  // pain limits under the approach in force
}

func gather(in *Input) *facts {
	in.shared = in.gathered()
	f := &facts{in: in, h: in.House, rail: &in.Rail}
	f.exercise, _ = f.rail.Exercise(in.Current.Exercise)
	f.limits = in.Limits.Reach(in.Rail, in.Current.Exercise, in.Current.Dose)
	f.may = f.limits.May(*f.rail, f.exercise)
	if f.side = in.Current.Side; f.exercise.Both() {
		f.side = body.Both
	}
	f.legs = f.exercise.Legs(f.side)
	f.race = build.RaceOn(in.Profile, in.Today, in.House)
	f.saw, f.told = in.seen(true), in.seen(false)
	f.logs = make([]*Log, 0, len(in.Logs))
	for i := range slices.Backward(in.Logs) {
		if l := &in.Logs[i]; l.On <= in.Today && l.Prescription.Side.Touches(f.side) {
			f.logs = append(f.logs, l.standing(f.told.at(l.Prescription.Side)))
		}
	}
	slices.SortStableFunc(f.logs, func(a, b *Log) int { return cmp.Or(cmp.Compare(b.On, a.On), cmp.Compare(b.Seq, a.Seq)) })
	f.doseLogs, f.unseen = make([]*Log, 0, len(f.logs)), make([]*Log, 0, len(f.logs))
	for _, l := range f.logs {
		// Sessions of the dose in force: of this exercise since it began. Building again gives the same dose
		// a new id and keeps its days.
		if p := &l.Prescription; p.ID == in.Current.ID || p.Exercise == in.Current.Exercise && p.From == in.Current.From {
			f.doseLogs = append(f.doseLogs, l)
		}
		if f.fresh(l) {
			f.unseen = append(f.unseen, l)
		}
	}
	f.days = f.trained()
	f.gatherPlaces()
	f.volume, f.volumeWhy = in.shared.volume, in.shared.volumeWhy
	f.fatigue = f.h.Choice(in.Profile.Approaches, "effort") == "fatigue" || f.exercise.Published() ||
		f.exercise.Ladder != nil && f.exercise.Ladder[0].Kind == body.Effort
	f.go_, f.back_ = painLimits(in.Profile, in.House)
	f.next = f.up(in.Current)
	return f
}

// painLimits are the pain during work (0–10) up to which it moves up, and above which it goes back.
func painLimits(p body.Profile, h house.Rules) (most, back int) {
	if h.Choice(p.Approaches, "pain") == "none" {
		return 0, 2
	}
	return h.Int("adjust.pain.go"), h.Int("adjust.pain.back")
}

// Ends is the pain (0–10) above which an exercise ends for the day; of release work its discomfort, on its own scale.
func Ends(x catalog.Exercise, p body.Profile, h house.Rules) int {
	if x.Class == catalog.Releasing {
		return h.Int("adjust.release.back") - 1
	}
	_, back := painLimits(p, h)
	return back
}

// Asks is the pain (0–10) during an exercise above which the warning signs are asked.
func Asks(x catalog.Exercise, p body.Profile, h house.Rules) int {
	return max(Ends(x, p, h), refer.AsksAbove)
}

// seen are the newest reports that a decision on each side has seen; below every report without one.
type seen struct{ left, right, both int64 }

func (s seen) at(side body.Side) int64 {
	switch side {
	case body.Left:
		return s.left
	case body.Right:
		return s.right
	}
	return s.both
}

// seen reads them from the moves; those that needed no coach only when asked. Such a hold saw the reports of its own
// row: what the other leg's row held for says nothing of this one.
func (in *Input) seen(alone bool) seen {
	s := seen{-1, -1, -1}
	for _, m := range in.Moves {
		if m.Alone {
			if alone && (m.Side == "" || m.Side == in.Current.Side) {
				s = seen{max(s.left, m.Seen), max(s.right, m.Seen), max(s.both, m.Seen)}
			}
			continue
		}
		s.both = max(s.both, m.Seen) // every move touches a row of both legs
		if m.Side != body.Right {
			s.left = max(s.left, m.Seen)
		}
		if m.Side != body.Left {
			s.right = max(s.right, m.Seen)
		}
	}
	return s
}

func (f *facts) seen(side body.Side) int64 { return f.saw.at(side) }

// untold reports a session no coach has decided on.
func (f *facts) untold(s session) bool { return slices.ContainsFunc(s.logs, f.unheard) }

func (f *facts) unheard(l *Log) bool { return l.Seq > f.told.at(l.Prescription.Side) }

// fresh reports a session that nobody has decided on yet.
func (f *facts) fresh(l *Log) bool { return l.Seq > f.seen(l.Prescription.Side) }

// undecided are the sessions nobody has decided on yet, newest first; short ones and late ones too.
func (f *facts) undecided() []*Log { return f.unseen }

func (f *facts) open(m *mark) bool { return m.Seq > f.seen(m.leg) }

// gatherPlaces says of each place whether a morning there concerns the exercise, and whether a bad one takes
// it back: it is its main place, or it loads the place at one-leg level, with bouncing, below level or on
// bent-back toes.
func (f *facts) gatherPlaces() {
	x := &f.exercise
	hard := x.Level >= 3 || x.Impact.Beyond(body.NoImpact) || x.Edge || x.ToesBack
	f.loaded, f.taking = make([]bool, len(body.RegionNames)), make([]bool, len(body.RegionNames))
	for i, n := range body.RegionNames {
		whole, loads := n.ID == body.WholePerson, x.Loads(n.ID)
		f.loaded[i] = loads || whole || f.weight(n.ID)
		f.taking[i] = whole || loads && hard || slices.Contains(x.Main, n.ID)
	}
}

// loads are the mornings that concern the exercise.
func (f *facts) loads(marks []mark) iter.Seq[*mark] {
	return func(yield func(*mark) bool) {
		for i := range marks {
			if m := &marks[i]; f.loaded[m.at] && slices.Contains(f.legs, m.leg) && !yield(m) {
				return
			}
		}
	}
}

// takes reports whether a bad morning takes the exercise back.
func (f *facts) takes(m *mark) bool { return f.taking[m.at] }

// weight reports whether a bad morning at a place holds the exercise: it bears weight on that leg. Hip
// and trunk work that is not on one leg stays outside.
func (f *facts) weight(r body.Region) bool {
	x := &f.exercise
	if x.Bears == body.NoLeg || x.Bears == "" || x.Level < 2 {
		return false
	}
	hip := !slices.ContainsFunc(x.Main, func(m body.Region) bool { return m != body.Knee && m != body.AboveKnee })
	return r != body.AboveKnee && (!hip || x.Has(body.OneLeg))
}

// answered reports whether all the watched places the exercise loads were answered on a morning, and the
// runner reported at all. “Everything else quiet” answers a place unless its last number was above usual,
// its usual is above 2 or its leg is in Calm.
func (f *facts) answered(on body.Date) bool {
	reports := f.in.shared.reportsOn(on)
	for _, w := range f.in.Watched {
		if !f.exercise.Loads(w.Region) {
			continue
		}
		for _, leg := range f.legs {
			if w.Side.Touches(leg) && !slices.ContainsFunc(reports, func(m *build.Morning) bool {
				return m.Answers(w.Region, leg) && (!m.Quiet || f.quietAnswers(w.Region, leg, on))
			}) {
				return false
			}
		}
	}
	return len(reports) > 0
}

func (f *facts) quietAnswers(r body.Region, leg body.Side, on body.Date) bool {
	usual := f.in.shared.usual.Of(r, leg)
	level := usual.At(on)
	last := 0.0
	var lastOn body.Date
	for _, m := range f.in.Mornings {
		if !m.Quiet && m.Region == r && m.Side.Touches(leg) && m.On < on && m.On >= lastOn {
			last, lastOn = float64(m.Pain)-usual.At(m.On), m.On
		}
	}
	return level <= 2 && last <= 0 && !slices.Contains(f.limits.Calm, leg)
}

// morningAfter returns the worst mark of the day after a session; answered is false when a watched place
// was not reported that morning.
func (f *facts) morningAfter(l *Log) (worst *mark, answered bool) {
	next := l.On.Add(1)
	for m := range f.loads(f.in.shared.marksOn(next)) {
		if worst == nil || m.over() > worst.over() {
			worst = m
		}
	}
	if worst == nil {
		worst = &mark{Morning: &build.Morning{}}
	}
	return worst, f.answered(next)
}

// latest is the worst number of the newest morning.
func (f *facts) latest() float64 {
	worst, on := 0, body.Date("")
	for _, m := range slices.Backward(f.in.shared.marks) {
		if on != "" && m.On < on {
			break
		}
		if f.loaded[m.at] && slices.Contains(f.legs, m.leg) {
			worst, on = max(worst, m.Pain), m.On
		}
	}
	return float64(worst)
}

// session is one training day of the dose in force: its reports, newest first.
type session struct {
	logs     []*Log
	complete bool
	noEffort bool // an effort is missing
	noPain   bool // so is a pain, or the discomfort of release work
	fresh    bool // a report of it is undecided
}

func (s session) on() body.Date { return s.logs[0].On }

// share is the most that a report of the day did of the dose.
func (s session) share() float64 {
	out := 0.0
	for _, l := range s.logs {
		out = max(out, l.Share())
	}
	return out
}

// worst joins the reports of the day: the worst of each value, beside the most that was done.
func (s session) worst() *Log {
	if len(s.logs) == 1 {
		return s.logs[0]
	}
	out := *s.logs[len(s.logs)-1]
	for _, l := range s.logs[:len(s.logs)-1] {
		done := out.Done
		if l.Share() > out.Share() {
			done = l.Done
		}
		out = out.worse(*l)
		out.Done = done
	}
	return &out
}

// trained lists the training days of the dose in force, newest first. A halved, short or taken-back
// session counts as done, not towards a move up. A dose of several times a day is complete when all its
// times were done, a habit at half of them. Older days than the last two of them, than two weeks and than all
// that is undecided are asked for by nobody.
func (f *facts) trained() []session {
	since := f.in.Today.Add(-14)
	for _, l := range f.unseen {
		since = min(since, l.On)
	}
	whole, older := make([]*Log, 0, min(len(f.doseLogs), 32)), 0
	for _, l := range f.doseLogs {
		if l.Light(f.in.Current.Dose) {
			continue
		}
		if l.On < since && (len(whole) == 0 || whole[len(whole)-1].On != l.On) {
			if older++; older > 2 {
				break
			}
		}
		whole = append(whole, l)
	}
	need := f.in.Current.Dose.Times()
	if f.rail.Habit {
		need = (need + 1) / 2
	}
	out := make([]session, 0, len(whole))
	for from, to := 0, 0; from < len(whole); from = to {
		s, times := session{}, 0
		for to = from; to < len(whole) && whole[to].On == whole[from].On; to++ {
			l := whole[to]
			s.noEffort, s.noPain, s.fresh = s.noEffort || l.RPE < 0, s.noPain || l.Pain < 0, s.fresh || f.fresh(l)
			if l.Complete() {
				times += max(1, l.Times)
			}
		}
		s.logs, s.complete = whole[from:to], times >= need
		out = append(out, s)
	}
	return out
}

func (f *facts) lastTwo() []session { return f.days[:min(2, len(f.days))] }

func (f *facts) see(r body.Reason, l *Log) body.Reason {
	return r.SeeOn(l.On, "session", "%v of %s, effort %s, pain %s", l.Done, l.Prescription.Dose, asTold(l.RPE), asTold(l.Pain))
}

// asTold writes an effort or a pain.
func asTold(n int) string {
	if n < 0 {
		return "not entered"
	}
	return fmt.Sprint(n)
}

func (f *facts) seeMark(r body.Reason, m *mark) body.Reason {
	return r.SeeOn(m.On, "first steps, "+m.Region.Name()+", "+string(m.leg), "%d of 10 (usual %g)", m.Pain, m.usual)
}
