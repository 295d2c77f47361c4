package adjust

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/stats"
)

// minDays is how long a dose stands before it may move: by class, or the stage of a published
// programme; a week after a cramp.
func (f *facts) minDays() (int, string) {
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
func (f *facts) settled() bool {
	if f.h.Choice(f.in.Profile.Approaches, "pain") == "none" || f.in.Today.Sub(f.in.Current.From) < 14 {
		return false
	}
	var week1, week2 []float64
	complete := 0
	for _, s := range f.days {
		age := f.in.Today.Sub(s.on())
		if age >= 14 {
			break // newest first
		}
		l := s.worst()
		m, reported := f.morningAfter(l)
		if !reported || m.over() > 0 || s.noPain || l.Pain > f.back_ || !l.Clean() {
			return false
		}
		if s.complete {
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

// judged are the two sessions that earn a move up, or do not: the last two, but where today's was whole, clean and quiet
// the two before it. Its morning is still to come; who trains daily would wait for one for ever.
func (f *facts) judged() []session {
	if len(f.days) < 3 || f.days[0].on() != f.in.Today || f.short(f.days[0]) != "" || f.waits(f.days[0]) != "" {
		return f.lastTwo()
	}
	return f.days[1:3]
}

// short says what a session lacks for a move up; empty when nothing.
func (f *facts) short(s session) string {
	quiet := f.go_
	if f.releasing() {
		quiet = f.lighten() - 1
	}
	l := s.worst()
	m, _ := f.morningAfter(l)
	switch {
	case l.Share() < 100 && l.Prescription.Dose.Kind == body.Effort:
		return fmt.Sprintf("the whole time twice running is needed; %s was not", l.On.Short())
	case !s.complete || l.CrampAt > 0:
		return fmt.Sprintf("the whole dose twice running is needed; %s was not", l.On.Short())
	case !l.Clean():
		return fmt.Sprintf("clean form twice running is needed; %s was not", l.On.Short())
	case !f.fatigue && l.RPE > f.h.Int("adjust.rpe.max"):
		return fmt.Sprintf("two in reserve twice running is needed; %s was not", l.On.Short())
	case l.Pain > quiet && !f.settled():
		return fmt.Sprintf("quiet sessions twice running are needed; %s was not", l.On.Short())
	case m.leg != "" && m.over() > 0:
		return fmt.Sprintf("the morning after %s was above usual", l.On.Short())
	}
	return ""
}

// waits says what is still to be told of a session, its morning apart; empty when nothing.
func (f *facts) waits(s session) string {
	switch {
	case s.noPain && f.releasing():
		return fmt.Sprintf("waits for the discomfort of %s", s.on().Short())
	case s.noPain:
		return fmt.Sprintf("waits for the pain of %s", s.on().Short())
	case s.noEffort && !f.fatigue:
		return fmt.Sprintf("waits for the effort of %s", s.on().Short())
	case slices.ContainsFunc(s.logs, func(l *Log) bool { return len(l.Was) > 0 && f.unheard(l) && l.Source != "coach" }):
		return fmt.Sprintf("waits until the coach has seen the correction of %s", s.on().Short())
	}
	return ""
}

// earned says whether the last two sessions earn a move up, or what is still missing.
func (f *facts) earned() (Verdict, string) {
	two := f.judged()
	if len(two) < 2 {
		return Hold, fmt.Sprintf("%d of 2 sessions at this dose", len(two))
	}
	for _, s := range two {
		if says := f.short(s); says != "" {
			return Hold, says
		}
	}
	for _, s := range two {
		if says := f.waits(s); says != "" {
			return Pending, says
		}
		if _, reported := f.morningAfter(s.logs[0]); !reported {
			return Pending, fmt.Sprintf("waits for the first steps of %s", s.on().Add(1).Short())
		}
	}
	if need, _ := f.minDays(); f.held() < need {
		return Hold, fmt.Sprintf("earned, but the dose stands %s; it needs %d", days(f.held()), need)
	}
	if two[0].worst().Pain > f.go_ && f.settled() {
		return Up, "some pain, but settled: two weeks, four complete sessions, mornings at usual, not rising"
	}
	return Up, "two complete, clean sessions with quiet mornings: up"
}

// held is how many days the dose in force has stood.
func (f *facts) held() int { return f.in.Today.Sub(f.in.Current.From) }

// earns is what earned found, with the two sessions it rests on.
func (f *facts) earns(v Verdict, says string) Fired {
	need, key := f.minDays()
	keys := []string{"adjust.pain.go", "adjust.rpe.max"}
	if key != "" {
		keys = append(keys, key)
	}
	r := f.h.Because("adjust.two-clean", says, keys...)
	r.Provenance, r.Source = body.Ours, ""
	for _, s := range slices.Backward(f.judged()) {
		l := s.worst()
		r = f.see(r, l)
		if m, ok := f.morningAfter(l); ok && m.leg != "" {
			r = r.SeeOn(l.On.Add(1), "first steps after it", "%d of 10 (usual %g)", m.Pain, m.usual)
		}
	}
	r = r.See("since the last move", "%s of %d", days(f.held()), need)
	steps := 0
	if v == Up {
		steps = 1
	}
	return Fired{Verdict: v, Steps: steps, Reason: r}
}
