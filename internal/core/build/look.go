package build

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

// view is what building looks at, gathered once.
type view struct {
	in       Input
	cat      catalog.Catalogue
	findings []screen.Finding
	limiters []screen.Limiter
	limits   map[body.Side]catalog.Limits
	cadence  *CadencePlan
	phase    Phase
	phaseWhy body.Reason
	next     body.Reason
}

func look(in Input) view {
	v := view{in: in, cat: in.Catalogue(), findings: screen.Findings(in.Trials, in.Profile, in.Today, in.House),
		limits: map[body.Side]catalog.Limits{}}
	v.limiters = screen.Limiters(v.findings, in.Profile, in.House)
	v.cadence = cadencePlan(in)
	of := in.limits(v.cat, v.cadence, in.Facts())
	for _, side := range []body.Side{body.Left, body.Right, body.Both} {
		v.limits[side] = of(side)
	}
	v.settlePhase()
	for side, l := range v.limits {
		l.NoRM = NoRM(v.phase)
		v.limits[side] = l
	}
	return v
}

// NoRM reports whether loads at a repetitions-maximum wait in a phase: heavy means 12 RM and less, and
// begins with Load.
func NoRM(phase Phase) bool { return slices.Contains([]Phase{Calm, Wake, Build}, phase) }

// Limits gathers what bounds each side of a runner in a phase: kit, cautions, tests, mornings and what
// was reached. The whole runner (both) is bounded by either side.
// facts are the input's own, gathered once.
func Limits(in Input, phase Phase, facts permit.Facts) func(body.Side) catalog.Limits {
	of := in.limits(in.Catalogue(), cadencePlan(in), facts)
	return func(side body.Side) catalog.Limits {
		l := of(side)
		l.NoRM = NoRM(phase)
		return l
	}
}

// limits gathers what bounds every side alike, then one side at a time.
func (in Input) limits(cat catalog.Catalogue, cadence *CadencePlan, facts permit.Facts) func(body.Side) catalog.Limits {
	calm, calmToo := in.calmLegs(), in.calmRails(cat)
	usual := UsualMornings(in.Profile, in.Mornings, in.Today)
	return func(side body.Side) catalog.Limits {
		l := in.limitsOf(cat, cadence, side, facts, usual)
		l.Calm, l.CalmToo = calm, calmToo
		return l
	}
}

func (in Input) limitsOf(cat catalog.Catalogue, cadence *CadencePlan, side body.Side, facts permit.Facts, usual []Usual) catalog.Limits {
	l := catalog.LimitsOf(in.Profile, facts, side, in.House)
	for _, b := range cat.Broken {
		l.SetAside = append(l.SetAside, b.Rail)
	}
	l.Excluded = append(l.Excluded, in.Choices.Excluded...)
	for _, s := range in.Profile.Structural {
		if s.Side.Touches(side) {
			l.Structural = append(l.Structural, s.Measure)
		}
	}
	mine := side
	if side == body.Both {
		mine = body.Left
	}
	for _, m := range screen.Measures {
		own, other := mine, mine.Other()
		if !m.Sided {
			own, other = body.Both, body.Both
		}
		if x, ok := facts.Tests[own][m.ID]; ok {
			l.Values[m.ID] = x
		}
		if x, ok := facts.Tests[other][m.ID]; ok {
			l.Other[m.ID] = x
		}
	}
	for _, u := range usual {
		if u.Side.Touches(side) {
			l.Mornings[u.Region] = max(l.Mornings[u.Region], u.Level)
		}
	}
	if race := RaceOn(in.Profile, in.Today, in.House); race != nil && race.State != Recovering {
		l.RaceNear = fmt.Sprintf("race on %s: nothing new begins", race.On.Short())
		for id, on := range in.Done {
			if in.Today.Sub(on) <= in.House.Int("race.new") {
				l.Done = append(l.Done, id)
			}
		}
		slices.Sort(l.Done)
	}
	for _, c := range in.Current {
		if r, ok := cat.Find(c.Rail); ok && c.Side.Touches(side) {
			l.Reaches(r, c.Exercise, c.Dose)
		}
	}
	if cadence != nil {
		for _, s := range cadence.Steps {
			l.Spm = append(l.Spm, s.Spm)
		}
	}
	return l
}

// Facts gathers what core/permit judges by.
func (in Input) Facts() permit.Facts {
	f := permit.Facts{Today: in.Today, Profile: in.Profile, House: in.House, Stops: in.Stops, Limits: in.Limits, Since: in.FeelingSince,
		Stiff: map[body.Side]int{}, Marks: []permit.Mark{}, Sore: []permit.Mark{}, Pauses: []permit.Mark{}}
	f = Tested(f, in.Trials, in.Flatter)
	usual := NewUsuals(in.Profile, in.Mornings, nil)
	in.marks(&f, usual)
	f.Usual = map[body.Side]float64{}
	for _, u := range UsualMornings(in.Profile, in.Mornings, in.Today) {
		if u.Region != body.AboveKnee {
			f.Usual[u.Side] = max(f.Usual[u.Side], u.Level)
		}
	}
	f.Back = in.back(usual)
	f.Before = load.Before(in.Runs, in.Profile, in.before())
	return f
}

// Tested gives facts what the newest trials show: readings, the days they were taken, faults that refer, and arches
// newly flatter. All else of the facts stays.
func Tested(f permit.Facts, trials []screen.Trial, flatter []body.Side) permit.Facts {
	f.Tests = map[body.Side]map[string]float64{body.Left: {}, body.Right: {}, body.Both: {}}
	f.Taken, f.Faults, f.Flatter = map[string]body.Date{}, map[body.Side][]string{}, map[body.Side]bool{}
	f.Failed = map[string]bool{}
	for _, m := range screen.Measures {
		for _, side := range m.Sides() {
			rd, ok := screen.ReadEasy(trials, m.ID, side)
			if !ok {
				continue
			}
			f.Tests[side][m.ID] = rd.Value
			if rd.Failed {
				f.Failed[m.ID+"|"+string(side)] = true
			}
			if m.Kind == screen.Count {
				f.Tests[side][m.ID] = rd.Done
			}
		}
	}
	for _, t := range trials {
		m, _ := screen.FindMeasure(t.Measure)
		if t.Counts() {
			f.Taken[t.Measure+"|"+string(t.Side)] = max(f.Taken[t.Measure+"|"+string(t.Side)], t.On)
		}
		for _, x := range m.Faults {
			if x.Refers && t.Has(x.ID) {
				f.Faults[t.Side] = append(f.Faults[t.Side], t.Measure+":"+x.ID)
			}
		}
	}
	for _, side := range flatter {
		f.Flatter[side] = true
	}
	return f
}

// before is the day from which running stays at what it was: a caution was answered, or the latest sign that
// barred running, or break, began; whichever was later. Today where there was none; no earlier than the records
// tell of the four weeks before it.
func (in Input) before() body.Date {
	out := load.Began(in.Runs, in.Today, in.House)
	for _, id := range in.Profile.Cautions {
		out = max(out, in.Profile.CautionNotes[id].Answered)
	}
	for _, s := range in.Stops {
		if class := s.Class(in.Profile); !s.Mistake() && class != refer.Small && class != refer.Pattern {
			out = max(out, s.On)
		}
	}
	if out != "" && in.Reach != "" {
		out = max(out, in.Reach.Add(28))
	}
	if out == "" || out > in.Today {
		return in.Today
	}
	return out
}

// back finds where the runner stands on the way back to running. A day is quiet when no morning on it was
// above usual; with no place to answer for, it is.
func (in Input) back(usual Usuals) *load.Returning {
	barred := []load.Barred{}
	for _, s := range in.Stops {
		cleared, on := s.Closed()
		class := s.Class(in.Profile)
		if o := s.Opens(); cleared != nil && !s.Mistake() && class != refer.Small && class != refer.Pattern && o != nil && o.Run != "" &&
			o.Run != "none" {
			barred = append(barred, load.Barred{From: s.On, Until: on})
		}
	}
	hurts := in.hurts()
	quiet := func(day body.Date) (is, known bool) {
		is, known = true, len(in.Mornings) == 0 && len(in.Profile.Symptoms) == 0
		for _, m := range in.Mornings {
			if m.On != day {
				continue
			}
			known = true
			for _, leg := range body.Sides {
				is = is && (m.Quiet || !m.Side.Touches(leg) || float64(m.Pain) <= usual.At(m.Region, leg, day))
			}
		}
		for _, s := range hurts { // sessions and runs that hurt are reports of the day before
			is = is && (s.On != day.Add(-1) || s.Pain <= in.House.Int("adjust.pain.go"))
		}
		return is, known
	}
	return load.Back(barred, in.Runs, quiet, in.Profile, in.Today, in.House)
}

// marks reads the mornings and sessions: the newest number of each place, places that were above 2, and
// reports so high that the coach speaks with the runner first.
func (in Input) marks(f *permit.Facts, usual Usuals) {
	back2, over := in.House.Int("adjust.pain.back2"), in.House.Get("adjust.morning.pause")
	for _, m := range in.Mornings {
		if m.On <= in.Today {
			f.Told = max(f.Told, m.On)
		}
		if m.On > in.Today || m.Quiet {
			continue
		}
		mark := permit.Mark{Region: m.Region, Side: m.Side, Pain: m.Pain, On: m.On, Seq: m.Seq}
		i := slices.IndexFunc(f.Marks, func(x permit.Mark) bool { return x.Region == m.Region && x.Side == m.Side })
		switch {
		case i < 0:
			f.Marks = append(f.Marks, mark)
		case m.On > f.Marks[i].On || m.On == f.Marks[i].On && m.Pain > f.Marks[i].Pain:
			f.Marks[i] = mark
		}
		if slices.Contains(body.Heel.Places(), m.Region) && in.Today.Sub(m.On) <= 14 {
			for _, leg := range body.Sides {
				if m.Side.Touches(leg) {
					f.Stiff[leg] = max(f.Stiff[leg], m.Stiffness)
				}
			}
		}
		if m.Pain > 2 {
			f.Sore = append(f.Sore, mark)
		}
		if m.Seq <= in.Spoke || m.Pain == 0 || in.Today.Sub(m.On) > 28 {
			continue
		}
		level := 10.0
		for _, leg := range body.Sides {
			if m.Side.Touches(leg) {
				level = min(level, usual.At(m.Region, leg, m.On))
			}
		}
		if m.Pain >= back2 || float64(m.Pain) >= level+over {
			f.Pauses = append(f.Pauses, mark)
		}
	}
	for _, s := range in.hurts() {
		if s.On <= in.Today && in.Today.Sub(s.On) <= 28 && s.Seq > in.Spoke && s.Pain >= back2 {
			f.Pauses = append(f.Pauses, s)
		}
	}
	for _, r := range in.Runs {
		if pain, at, side := r.Hurt(); pain > 2 && r.On <= in.Today && at != body.WholePerson {
			f.Sore = append(f.Sore, permit.Mark{Region: at, Side: side, Pain: pain, On: r.On, Seq: r.Seq})
		}
	}
	for _, m := range in.Bare {
		if m.Pain > 2 && m.On <= in.Today && m.Region != body.WholePerson {
			f.Sore = append(f.Sore, m)
		}
	}
}

// hurts are the sessions and the runs that hurt.
func (in Input) hurts() []permit.Mark {
	out := slices.Clone(in.Sessions)
	for _, r := range in.Runs {
		if pain, at, side := r.Hurt(); pain > 0 && r.On <= in.Today {
			out = append(out, permit.Mark{Region: at, Side: side, Pain: pain, On: r.On, Seq: r.Seq})
		}
	}
	for _, m := range in.Bare {
		if m.Pain > 0 && m.On <= in.Today {
			out = append(out, m)
		}
	}
	return out
}

// calmLegs are the legs whose usual pain keeps them in Calm.
func (in Input) calmLegs() []body.Side {
	var out []body.Side
	for _, leg := range body.Sides {
		if calm, _ := LegInCalm(in.Profile, in.Mornings, in.Today, in.House, leg); calm {
			out = append(out, leg)
		}
	}
	return out
}

// calmRails are the rails that the approach to a sore place brings into Calm.
func (in Input) calmRails(cat catalog.Catalogue) []string {
	var out []string
	sore := slices.ContainsFunc(in.Profile.Symptoms, func(s body.Symptom) bool {
		return (s.Region == body.HeelSole || s.Region == body.Arch) && max(s.Baseline, s.Worst) > 0
	})
	for _, r := range cat.Rails {
		for q, options := range r.Calm {
			if sore && slices.Contains(options, in.House.Choice(in.Profile.Approaches, q)) {
				out = append(out, r.ID)
			}
		}
	}
	return out
}
