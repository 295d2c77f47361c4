package adjust

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
)

// facts is what the rules look at, gathered once.
type facts struct {
	in         Input
	h          house.Rules
	rail       catalog.Rail
	exercise   catalog.Exercise
	may        permit.Answer // of the exercise in force
	side       body.Side     // both, where both legs work at once
	legs       []body.Side
	logs       []Log // all of the rail and side as they are judged, newest first
	doseLogs   []Log // of them, those of the dose in force
	unseen     []Log // of them, those nobody has decided on
	days       []session
	marks      []mark // mornings at places the exercise loads, oldest first
	volume     load.State
	volumeWhy  body.Reason
	race       *build.RaceRule
	fatigue    bool // to fatigue by approach, or a published programme: effort is no condition
	go_, back_ int  // pain limits under the approach in force
}

// mark is one morning at a place that the exercise loads, on one leg, with the usual of its own day.
type mark struct {
	build.Morning
	leg   body.Side
	usual float64
}

func (m mark) over() float64 { return float64(m.Pain) - m.usual }

func gather(in Input) facts {
	in.shared = in.gathered()
	f := facts{in: in, h: in.House, rail: in.Rail}
	f.exercise, _ = f.rail.Exercise(in.Current.Exercise)
	f.in.Limits = in.Limits.Reach(f.rail, in.Current.Exercise, in.Current.Dose)
	f.may = f.in.Limits.May(f.rail, f.exercise)
	if f.side = in.Current.Side; f.exercise.Both() {
		f.side = body.Both
	}
	f.legs = f.exercise.Legs(f.side)
	f.race = build.RaceOn(in.Profile, in.Today, in.House)
	f.logs = make([]Log, 0, len(in.Logs))
	for _, l := range in.Logs {
		if l.On <= in.Today && l.Prescription.Side.Touches(f.side) {
			f.logs = append(f.logs, l.standing(f.seen(l.Prescription.Side)))
		}
	}
	slices.SortStableFunc(f.logs, func(a, b Log) int { return cmp.Or(cmp.Compare(b.On, a.On), cmp.Compare(b.Seq, a.Seq)) })
	// Sessions of the dose in force: of this exercise since it began. Building again gives the same dose
	// a new id and keeps its days.
	f.doseLogs = make([]Log, 0, len(f.logs))
	for _, l := range f.logs {
		if l.Prescription.ID == in.Current.ID || l.Prescription.Exercise == in.Current.Exercise && l.On >= in.Current.From && l.Prescription.From == in.Current.From {
			f.doseLogs = append(f.doseLogs, l)
		}
	}
	f.unseen = make([]Log, 0, len(f.logs))
	for _, l := range f.logs {
		if l.Seq > f.seen(l.Prescription.Side) {
			f.unseen = append(f.unseen, l)
		}
	}
	f.days = f.trained()
	f.gatherMarks()
	f.volume, f.volumeWhy = in.shared.volume, in.shared.volumeWhy
	if !f.in.Limits.Facts.May(permit.Ask{Demand: body.Demand{Level: 2, Trains: body.BothLegs, Bears: body.BothLegs, Run: body.EasyMinutes}, Side: body.Both}).May() && f.volume == load.Unknown {
		f.volume = load.Usual // nobody runs while running is locked
	}
	if b := f.in.Limits.Facts.Back; b != nil && (b.Phase == load.Walking || b.Phase == load.Stepped) {
		f.volume = load.Usual // the steps' own minutes are no rise
	}
	f.fatigue = f.h.Choice(in.Profile.Approaches, "effort") == "fatigue" || f.exercise.Published() || f.exercise.Ladder != nil && f.exercise.Ladder[0].Kind == body.Effort
	f.go_, f.back_ = f.h.Int("adjust.pain.go"), f.h.Int("adjust.pain.back")
	if f.h.Choice(in.Profile.Approaches, "pain") == "none" {
		f.go_, f.back_ = 0, 2
	}
	return f
}

// seen is the newest report that a decision on this side has seen; below every report without one.
func (f facts) seen(side body.Side) int64 {
	seen := int64(-1)
	for _, m := range f.in.Moves {
		if m.Side == "" || m.Side.Touches(side) {
			seen = max(seen, m.Seen)
		}
	}
	return seen
}

// undecided are the sessions nobody has decided on yet, newest first; short ones and late ones too.
func (f facts) undecided() []Log { return f.unseen }

func (f facts) open(m mark) bool { return m.Seq > f.seen(m.leg) }

func (f *facts) gatherMarks() {
	concerns := map[body.Region]bool{}
	all := f.in.shared.marks
	for i := range all {
		r := all[i].Region
		is, known := concerns[r]
		if !known {
			is = f.exercise.Loads(r) || r == body.WholePerson || f.weight(r)
			concerns[r] = is
		}
		if is && slices.Contains(f.legs, all[i].leg) {
			if f.marks == nil {
				f.marks = make([]mark, 0, len(all)-i)
			}
			f.marks = append(f.marks, all[i])
		}
	}
}

// takes reports whether a bad morning at a place takes the exercise back: it is its main place, or it
// loads the place at one-leg level, with bouncing, below level or on bent-back toes.
func (f facts) takes(r body.Region) bool {
	x := f.exercise
	if r == body.WholePerson || slices.Contains(x.Main, r) {
		return true
	}
	return x.Loads(r) && (x.Level >= 3 || x.Impact.Beyond(body.NoImpact) || x.Edge || x.ToesBack)
}

// weight reports whether a bad morning at a place holds the exercise: it bears weight on that leg. Hip
// and trunk work that is not on one leg stays outside.
func (f facts) weight(r body.Region) bool {
	x := f.exercise
	if x.Bears == body.NoLeg || x.Bears == "" || x.Level < 2 {
		return false
	}
	hip := len(x.Main) > 0 && !slices.ContainsFunc(x.Main, func(m body.Region) bool { return m != body.Knee && m != body.AboveKnee })
	return r != body.AboveKnee && (!hip || x.Has(body.OneLeg))
}

// answered reports whether all the watched places the exercise loads were answered on a morning, and the
// runner reported at all. “Everything else quiet” answers a place unless its last number was above usual,
// its usual is above 2 or its leg is in Calm.
func (f facts) answered(on body.Date) bool {
	any := false
	usual := f.in.usual()
	for _, m := range f.in.Mornings {
		any = any || m.On == on
	}
	for _, w := range f.in.Watched {
		if !f.exercise.Loads(w.Region) {
			continue
		}
		for _, leg := range f.legs {
			if !w.Side.Touches(leg) {
				continue
			}
			ok := false
			for _, m := range f.in.Mornings {
				if m.On != on || !m.Answers(w.Region, leg) {
					continue
				}
				ok = ok || !m.Quiet || f.quietAnswers(usual, w.Region, leg, on)
			}
			if !ok {
				return false
			}
		}
	}
	return any
}

func (f facts) quietAnswers(usual build.Usuals, r body.Region, leg body.Side, on body.Date) bool {
	level := usual.At(r, leg, on)
	last := 0.0
	var lastOn body.Date
	for _, m := range f.in.Mornings {
		if !m.Quiet && m.Region == r && m.Side.Touches(leg) && m.On < on && m.On >= lastOn {
			last, lastOn = float64(m.Pain)-usual.At(r, leg, m.On), m.On
		}
	}
	return level <= 2 && last <= 0 && !slices.Contains(f.in.Limits.Calm, leg)
}

// morningAfter returns the worst mark of the day after a session; answered is false when a watched place
// was not reported that morning.
func (f facts) morningAfter(l Log) (worst mark, answered bool) {
	next := l.On.Add(1)
	worst.Pain = -1
	for _, m := range f.marks {
		if m.On == next && (worst.Pain < 0 || m.over() > worst.over()) {
			worst = m
		}
	}
	worst.Pain = max(worst.Pain, 0)
	return worst, f.answered(next)
}

// latest is the worst number of the newest morning.
func (f facts) latest() float64 {
	worst, on := 0.0, body.Date("")
	for _, m := range f.marks {
		if m.On > on {
			worst, on = 0, m.On
		}
		worst = math.Max(worst, float64(m.Pain))
	}
	return worst
}

// session is one training day of the dose in force: the worst of each value of its reports.
type session struct {
	Log
	complete bool
	noEffort bool // an effort is missing
	fresh    bool // a report of it is undecided
}

func (f facts) sessions() []session { return f.days }

// trained lists the training days of the dose in force, newest first. A halved, short or taken-back
// session counts as done, not towards a move up. A dose of several times a day is complete when all its
// times were done, a habit at half of them.
func (f facts) trained() []session {
	out := make([]session, 0, len(f.doseLogs))
	times := map[body.Date]int{}
	need := f.in.Current.Dose.Times()
	if f.rail.Habit {
		need = (need + 1) / 2
	}
	for _, l := range f.doseLogs {
		if l.Light(f.in.Current.Dose) {
			continue
		}
		if l.Complete() {
			times[l.On] += max(1, l.Times)
		}
		s := session{Log: l, noEffort: l.RPE < 0, fresh: l.Seq > f.seen(l.Prescription.Side)}
		if n := len(out); n > 0 && out[n-1].On == l.On {
			o := out[n-1]
			s.noEffort, s.fresh = s.noEffort || o.noEffort, s.fresh || o.fresh
			if o.Share() > s.Share() {
				s.Done = o.Done
			}
			s.Log = s.worse(o.Log)
			out[n-1] = s
			continue
		}
		out = append(out, s)
	}
	for i := range out {
		out[i].complete = times[out[i].On] >= need
	}
	return out
}

func (f facts) lastTwo() []session {
	s := f.sessions()
	return s[:min(2, len(s))]
}

func (f facts) see(r body.Reason, l Log) body.Reason {
	return r.SeeOn(l.On, "session", "%v of %s, effort %s, pain %d", l.Done, l.Prescription.Dose, effort(l.RPE), l.Pain)
}

func effort(rpe int) string {
	if rpe < 0 {
		return "not entered"
	}
	return fmt.Sprint(rpe)
}

func (f facts) seeMark(r body.Reason, m mark) body.Reason {
	return r.SeeOn(m.On, "first steps, "+m.Region.Name()+", "+string(m.leg), "%d of 10 (usual %g)", m.Pain, m.usual)
}
