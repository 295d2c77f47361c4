package adjust

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
)

// facts is what the rules look at, gathered once.
type facts struct {
	in          Input
	h           house.Rules
	rail        catalog.Rail
	exercise    catalog.Exercise
	notches     []catalog.Notch
	logs        []Log // of the current prescription, newest first
	since       body.Date
	worst       *mark // worst morning over usual since the earlier of the last two sessions, or the last decision
	latestWorst float64
	volume      load.State
	volumeWhy   body.Reason
	race        *build.RaceRule
	fatigue     bool // to fatigue by approach, or a published programme: effort is no condition
	go_, back_  int  // pain limits under the approach in force
}

// mark is one morning at a place that concerns the rail, with its usual level.
type mark struct {
	build.Morning
	usual float64
}

func (m mark) over() float64 { return float64(m.Pain) - m.usual }

func gather(in Input) facts {
	f := facts{in: in, h: in.House}
	f.rail = in.Rail
	f.exercise, _ = f.rail.Exercise(in.Current.Exercise)
	f.notches = f.rail.Notches(in.Limits.Reach(f.rail, in.Current.Exercise, in.Current.Dose))
	f.race = build.RaceOn(in.Profile, in.Today, in.House)
	// Sessions of the dose in force: of this exercise since it began. Building again gives the same
	// dose a new id and keeps its days.
	for _, l := range in.Logs {
		same := l.Prescription.ID == in.Current.ID || (l.Prescription.Exercise == in.Current.Exercise && l.Prescription.Side == in.Current.Side && l.On >= in.Current.From && l.Prescription.From == in.Current.From)
		if same && l.On <= in.Today {
			f.logs = append(f.logs, l)
		}
	}
	slices.SortStableFunc(f.logs, func(a, b Log) int { return b.On.Sub(a.On) })
	f.since = in.Current.From
	for _, m := range in.Moves {
		f.since = max(f.since, m.On)
	}
	// The mornings from the earlier of the two sessions that count; a bad one is not outlived by the
	// next quiet one before anybody decided.
	from := f.since
	if two := f.lastTwo(); len(two) > 0 {
		from = max(from, two[len(two)-1].On)
	}
	latest := body.Date("")
	for _, m := range f.marks() {
		if m.On > from && (f.worst == nil || m.over() > f.worst.over()) {
			f.worst = &m
		}
		if m.On > latest {
			latest, f.latestWorst = m.On, 0
		}
		if m.On == latest {
			f.latestWorst = math.Max(f.latestWorst, float64(m.Pain))
		}
	}
	f.volume, f.volumeWhy = load.Volume(in.Runs, in.Profile, in.Today, in.House)
	f.fatigue = f.h.Choice(in.Profile.Approaches, "effort") == "fatigue" || f.exercise.Published() || f.exercise.Ladder != nil && f.exercise.Ladder[0].Kind == body.Effort
	f.go_, f.back_ = f.h.Int("adjust.pain.go"), f.h.Int("adjust.pain.back")
	if f.h.Choice(in.Profile.Approaches, "pain") == "none" {
		f.go_, f.back_ = 0, 2
	}
	return f
}

// marks lists the mornings that concern the rail's side, oldest first.
func (f facts) marks() []mark {
	var out []mark
	for _, m := range f.in.Mornings {
		if m.On > f.in.Today || !f.rail.Concerns(m.Region, m.Side, f.in.Current.Side) {
			continue
		}
		k := mark{m, 0}
		for _, u := range f.in.Usual {
			if u.Region == m.Region && u.Side.Touches(m.Side) {
				k.usual = math.Max(k.usual, u.Level)
			}
		}
		out = append(out, k)
	}
	slices.SortStableFunc(out, func(a, b mark) int { return a.On.Sub(b.On) })
	return out
}

// morningAfter returns the worst mark of the day after a session; reported is false when the runner
// reported nothing at all that morning.
func (f facts) morningAfter(l Log) (worst mark, reported bool) {
	next := l.On.Add(1)
	for _, m := range f.in.Mornings {
		reported = reported || m.On == next
	}
	for _, m := range f.marks() {
		if m.On == next && m.over() >= worst.over() {
			worst = m
		}
	}
	return worst, reported
}

// last returns the newest session after the last decision.
func (f facts) last() (Log, bool) {
	if len(f.logs) == 0 || (f.logs[0].On <= f.since && f.since != f.in.Current.From) {
		return Log{}, false
	}
	return f.logs[0], true
}

// lastTwo returns the two newest sessions on two different days, the lesser of each day.
func (f facts) lastTwo() []Log {
	var out []Log
	for _, l := range f.logs {
		if l.Light(f.in.Current.Dose) {
			continue // a halved or short session counts as done, not towards a move up
		}
		if n := len(out); n > 0 && out[n-1].On == l.On {
			if l.Share() < out[n-1].Share() || l.Pain > out[n-1].Pain {
				out[n-1] = l
			}
			continue
		}
		if len(out) == 2 {
			break
		}
		out = append(out, l)
	}
	return out
}

func (f facts) seen(r body.Reason, l Log) body.Reason {
	return r.SeeOn(l.On, "session", "%v of %s, effort %s, pain %d", l.Done, l.Prescription.Dose, effort(l.RPE), l.Pain)
}

func effort(rpe int) string {
	if rpe < 0 {
		return "not entered"
	}
	return fmt.Sprint(rpe)
}

func (f facts) seenMark(r body.Reason, m mark) body.Reason {
	return r.SeeOn(m.On, "first steps, "+m.Region.Name()+", "+string(m.Side), "%d of 10 (usual %g)", m.Pain, m.usual)
}
