package build

import (
	"fmt"
	"iter"
	"maps"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
)

// Standing is one exercise that the plan puts on a day for one side.
type Standing struct {
	On       body.Date
	Slot     catalog.Slot
	Rail     catalog.Rail
	Exercise catalog.Exercise
	Side     body.Side
	Dose     body.Dose
	Best     int // repetitions of this runner's own test of it; 0 unknown
}

// Calendar judges dated days: races, quality runs and the free day that external load on one leg and free
// bouncing keep. It moves or leaves out a day's session and changes neither dose nor state.
type Calendar struct {
	profile body.Profile
	house   house.Rules
	planned []Standing
	done    map[string]body.Date          // last day each exercise was done
	hard    map[body.Date]map[string]bool // legs with work of that class
	away    []load.Span
}

// NewCalendar gathers what stands and what was done. What was planned for a day gone by and not done
// asks for no rest. On a holiday nothing stands.
func NewCalendar(p body.Profile, h house.Rules, today body.Date, planned []Standing, done iter.Seq[Standing],
	spans ...load.Span) Calendar {
	c := Calendar{profile: p, house: h, planned: planned, away: spans, done: map[string]body.Date{}, hard: map[body.Date]map[string]bool{}}
	for s := range done {
		c.done[s.Exercise.ID] = max(c.done[s.Exercise.ID], s.On)
		if c.isHard(s) {
			c.tires(s)
		}
	}
	ahead := slices.DeleteFunc(slices.Clone(planned), func(s Standing) bool { return s.On < today || !c.isHard(s) })
	slices.SortStableFunc(ahead, func(a, b Standing) int { return a.On.Sub(b.On) })
	for _, s := range ahead {
		if _, no, _ := c.Judge(s); no == nil { // what is left out tires nobody
			c.tires(s)
		}
	}
	return c
}

func (c Calendar) tires(s Standing) {
	if c.hard[s.On] == nil {
		c.hard[s.On] = map[string]bool{}
	}
	for _, leg := range s.Exercise.Legs(s.Side) {
		c.hard[s.On][string(leg)] = true
	}
}

// isHard reports work of the class that keeps a free day; a set planned within two repetitions of a
// tested best of 12 or fewer counts as such.
func (c Calendar) isHard(s Standing) bool {
	if s.Rail.Protocol != "" { // a published programme keeps its own gaps
		return false
	}
	near := s.Best > 0 && s.Best <= c.house.Int("week.hard.best") && s.Exercise.Level >= 3 && s.Dose.Kind == body.Repetitions &&
		s.Dose.Reps >= s.Best-2
	return s.Exercise.Hard() || near
}

// rested gives the reason when the leg did such work the day before.
func (c Calendar) rested(s Standing) *body.Reason {
	for back := 1; back <= c.house.Int("week.gap.heavy"); back++ {
		for _, leg := range s.Exercise.Legs(s.Side) {
			if c.hard[s.On.Add(-back)][string(leg)] {
				r := c.house.Because("week.rest", "heavy work and free bounces keep a free day between", "week.gap.heavy").SeeOn(s.On.Add(-back),
					"before", "such work, %s leg", leg)
				return &r
			}
		}
	}
	return nil
}

// quality lists the runs of a day that count as quality runs, with whether all were in the morning.
func (c Calendar) quality(on body.Date) (is, morning bool) {
	morning = true
	for _, r := range c.profile.Runs {
		if r.Weekday == on.Weekday() && Quality(r, c.house) {
			is, morning = true, morning && r.Morning()
		}
	}
	for _, r := range c.profile.Races {
		if r.On == on {
			is, morning = true, false
		}
	}
	return is, morning
}

// tiring reports a run that leaves tired feet, quality or long, with whether all such were in the morning.
func (c Calendar) tiring(on body.Date) (is, morning bool) {
	is, morning = c.quality(on)
	for _, r := range c.profile.Runs {
		if r.Weekday == on.Weekday() && r.Quality == "long" {
			is, morning = true, morning && r.Morning()
		}
	}
	return is, morning
}

// Judge gives the dose of the day, and the reason when the calendar leaves it out; note says what of it is
// left out.
func (c Calendar) Judge(s Standing) (dose body.Dose, no *permit.Reason, note string) {
	left := func(r body.Reason, cut, opens string) (body.Dose, *permit.Reason, string) {
		return s.Dose, &permit.Reason{Reason: r, Cut: cut, Sort: permit.Calendar, Leg: s.Side, Opens: opens}, ""
	}
	for _, x := range c.away {
		if x.Kind == load.Holiday && x.Holds(s.On) {
			return left(c.house.Because("week.away", fmt.Sprintf("Away until %s: strength work waits; the days count as missed.", x.Until.Short())).
				SeeOn(x.From, "holiday", "until %s", x.Until.Short()), "away", "the day after the holiday")
		}
	}
	race := RaceOn(c.profile, s.On, c.house)
	dose, may := race.Dose(s.Exercise, s.Dose)
	if !may {
		return left(race.Why, "race", "after the race")
	}
	if race != nil && race.State != Recovering && c.begins(s.Exercise, s.On) {
		return left(c.house.Because("race.new", fmt.Sprintf("Race on %s: nothing that was not done in the last %d days.", race.On.Short(),
			c.house.Int("race.new")), "race.new", "race.taper"), "race", "after the race")
	}
	today, morning := c.quality(s.On)
	tomorrow, early := c.quality(s.On.Add(1))
	yesterday, wasMorning := c.quality(s.On.Add(-1))
	run := func(says string) body.Reason {
		return c.house.Because("week.quality", says, "week.quality.minutes")
	}
	switch hard := c.isHard(s); {
	case hard && tomorrow:
		return left(run("heavy work and free bounces do not stand the day before a quality run"), "quality", "another day")
	case hard && today && (!morning || s.Slot != catalog.Evening):
		return left(run("heavy work and free bounces do not stand before a quality run on its day"), "quality", "another day")
	case hard && yesterday && !wasMorning && s.Slot != catalog.Evening:
		return left(run("heavy work and free bounces wait until the evening after a quality run"), "quality", "the evening")
	case hard:
		if r := c.rested(s); r != nil {
			return left(*r, "gap", "the day after")
		}
	}
	if s.Exercise.Level >= 3 && s.Rail.Protocol == "" && today && (s.Slot == catalog.After || s.Slot == catalog.Evening && !morning) {
		return left(run("one-leg heel work does not stand within 6 hours after a quality run"), "quality", "another time of the day")
	}
	if long, early := c.tiring(s.On); tiresFeet(s.Rail) && long && (s.Slot == catalog.After || s.Slot == catalog.Evening && !early) {
		return left(run("foot strength waits for fresh feet: not after a long or quality run"), "quality", "another time of the day")
	}
	if s.Exercise.Has(body.Lowering) && s.Dose.PerDay > 1 && (today && !morning || tomorrow && early) {
		dose.PerDay--
		note = "The evening session is left out: a quality run tomorrow morning."
		if today && !morning {
			note = "The first session is left out: a quality run today."
		}
	}
	return dose, nil, note
}

// NoRoom lists the rails whose next planned days, as many as the house rule says, are all left out, with why.
func (c Calendar) NoRoom(today body.Date) map[string]body.Reason {
	out := map[string]body.Reason{}
	byRail := map[string]map[body.Date][]Standing{}
	for _, s := range c.planned {
		if s.On >= today {
			if byRail[s.Rail.ID] == nil {
				byRail[s.Rail.ID] = map[body.Date][]Standing{}
			}
			byRail[s.Rail.ID][s.On] = append(byRail[s.Rail.ID][s.On], s)
		}
	}
	n := c.house.Int("week.left-out")
	for rail, days := range byRail {
		on := slices.Sorted(maps.Keys(days))
		left := 0
		for _, d := range on[:min(n, len(on))] {
			free := false
			for _, s := range days[d] {
				_, no, _ := c.Judge(s)
				if free = free || no == nil; no != nil {
					out[rail] = no.Reason
				}
			}
			if !free {
				left++
			}
		}
		if left < n {
			delete(out, rail)
		}
	}
	return out
}

// begins reports demanding work that was not done in the last weeks.
func (c Calendar) begins(x catalog.Exercise, on body.Date) bool {
	last, ok := c.done[x.ID]
	return x.Demanding() && (!ok || on.Sub(last) > c.house.Int("race.new"))
}
