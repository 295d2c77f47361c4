package load

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

const dialDay = body.Date("2026-03-04") // a Wednesday

// outlook draws a runner's last months, what the coach planned and what waits.
func outlook(r *rand.Rand) Outlook {
	some := func(n int) bool { return r.IntN(n) == 0 }
	o := Outlook{Profile: body.NewProfile(), Want: map[Dial]body.Date{}, Today: dialDay.Add(r.IntN(7))}
	o.Profile.WeeklyMinutes = []int{0, 0, 12, 60, 150, 400}[r.IntN(6)]
	monday := o.Today.Monday()
	if some(5) {
		o.Profile.Races = []body.Race{{On: monday.Add(r.IntN(100) - 30), Km: 21, Minor: some(4)}}
	}
	if some(6) {
		o.Most = 20 + r.IntN(150)
	}
	for _, d := range []Dial{Strength, Barefoot} {
		if !some(3) {
			o.Want[d] = monday.Add(r.IntN(140) - 120)
		}
	}
	if some(2) {
		o.Plan.Rule = Rule{From: monday.Add(-7 * r.IntN(8)), Percent: float64(r.IntN(11)), EasyEvery: r.IntN(6)}
	}
	for i := -10; i < 14; i++ {
		if some(4) {
			w := PlannedWeek{From: monday.Add(7 * i), Minutes: r.IntN(400) - 1, Harder: some(5),
				Lead: []Dial{"", Strength, Barefoot, Running}[r.IntN(4)]}
			if w.Gone = i < 0 && some(2); w.Gone {
				w.Lead, w.Minutes = Dials[r.IntN(3)], max(0, w.Minutes)
			}
			o.Plan.Weeks = append(o.Plan.Weeks, w)
		}
	}
	for range r.IntN(3) {
		from := monday.Add(r.IntN(170) - 80)
		o.Plan.Spans = append(o.Plan.Spans, Span{Kind: []SpanKind{EasyWeek, Holiday}[r.IntN(2)], From: from, Until: from.Add(r.IntN(20)),
			Runs: some(2), Set: from.Add(r.IntN(9) - 6)})
	}
	o.Spans = o.Plan.Spans
	if some(5) {
		from := o.Today.Add(-r.IntN(60))
		o.Spans = append(o.Spans, Span{Kind: Illness, From: from, Until: min(o.Today, from.Add(r.IntN(20)))})
	}
	usual := 5 + r.IntN(70)
	for d := o.Today.Add(-7 * (6 + r.IntN(14))); d <= o.Today; d = d.Add(1 + r.IntN(4)) {
		switch {
		case some(25):
			o.Runs = append(o.Runs, Run{On: d, RPE: -1, Word: []Word{AsUsual, None}[r.IntN(2)]})
		case some(20):
			d = d.Add(14) // nothing told
		default:
			o.Runs = append(o.Runs, Run{On: d, Minutes: float64(usual + r.IntN(20)), RPE: 4})
		}
		if some(15) {
			usual += r.IntN(30)
		}
	}
	o.Runs = o.Plan.Tell(o.Runs, o.Today)
	return o
}

// dialTally counts what the histories drawn came to.
type dialTally struct {
	led                  map[Dial]int
	flats, overs, capped int
}

// TestOneDialAtATime draws 100,000 weeks of runners and states the rule of the dials again.
func TestOneDialAtATime(t *testing.T) {
	c := dialTally{led: map[Dial]int{}}
	weeks := 0
	for seed := uint64(1); weeks < 100_000; seed++ {
		o := outlook(rand.New(rand.NewPCG(seed, 77)))
		all := o.Weeks()
		require.Len(t, all, 20)
		for i, w := range all {
			weeks++
			c.led[w.Lead]++
			say := fmt.Sprintf("seed %d, week of %s: %+v", seed, w.From, w)
			require.Contains(t, []Dial{"running", "strength", "barefoot"}, w.Lead, say)
			stood := slices.ContainsFunc(o.Plan.Weeks, func(p PlannedWeek) bool {
				return p.From == w.From && p.Gone && w.From < o.Today.Monday()
			})
			if stood {
				continue // it stands as it stood
			}
			c.limit(t, o, w, say)
			if i > 0 {
				c.over(t, o, all, i, say)
				c.waits(t, o, all, i, say)
			}
		}
	}
	for _, d := range Dials {
		assert.Greater(t, c.led[d], 5000, "%s leads in the histories drawn", d)
	}
	assert.Greater(t, c.flats, 1000)
	assert.Greater(t, c.overs, 1000)
	assert.Greater(t, c.capped, 1000)
}

// limit: no planned running over its limit, a tenth more than the base where running leads, 3 % where it does not.
func (c *dialTally) limit(t *testing.T, o Outlook, w Week, say string) {
	t.Helper()
	most := int(math.Floor(float64(w.Base)*1.03 + 1e-9))
	if w.Lead == "running" {
		most = max(int(math.Floor(float64(w.Base)*1.1+1e-9)), w.Base+1)
	}
	if w.Base == 0 {
		most = 30
	}
	if o.Most > 0 {
		most = min(most, o.Most)
	}
	require.LessOrEqual(t, w.Planned, most, say)
	require.LessOrEqual(t, w.Planned, w.Wanted, say)
	if w.Planned < w.Wanted {
		c.capped++
	}
}

// over: what was run over a limit takes the next lead, and raises no later base until as much was run twice.
func (c *dialTally) over(t *testing.T, o Outlook, all []Week, i int, say string) {
	t.Helper()
	w, before := all[i], all[i-1]
	if before.Over {
		c.overs++
		require.Greater(t, before.Ran, before.Limit, say)
		require.EqualValues(t, "running", w.Lead, say)
	}
	ordinary := []Week{} // the newest first
	for j := i - 1; j >= 0 && j >= i-6; j-- {
		b := all[j]
		if b.From >= o.Today.Monday() {
			b.Ran, b.Limit, b.Known = b.Planned, b.Planned, true
		}
		began := begunWithin(o, b.From) && b.From < o.Today.Monday()
		if b.Kind == "" && b.Race == "" && b.Ran > 0 && b.Known && !began {
			ordinary = append(ordinary, b)
		}
	}
	if len(ordinary) == 0 {
		return
	}
	most := min(ordinary[0].Ran, ordinary[0].Limit)
	if len(ordinary) > 1 { // as much twice running counts
		most = max(most, min(ordinary[0].Ran, ordinary[1].Ran))
	}
	require.LessOrEqual(t, w.Base, most, say)
	require.GreaterOrEqual(t, w.Base, min(ordinary[0].Ran, ordinary[0].Limit), say)
}

// begunWithin: the log began after the Monday of a week, or later, of a runner whose intake tells of minutes a week.
func begunWithin(o Outlook, monday body.Date) bool {
	if o.Profile.WeeklyMinutes == 0 {
		return false
	}
	for _, r := range o.Runs {
		if r.On <= monday && r.Word != Away && r.Word != EasyDay {
			return false
		}
	}
	return true
}

// waits: nothing that is wanted waits longer than three weeks without a flat week, taken or proposed.
func (c *dialTally) waits(t *testing.T, o Outlook, all []Week, i int, say string) {
	t.Helper()
	w := all[i]
	for _, d := range []Dial{"strength", "barefoot"} {
		since, wanted := o.Want[d]
		waited := 0
		for j := i - 1; wanted && j >= 0 && all[j].Lead != d && since <= all[j].From.Add(6); j-- {
			waited++
		}
		if waited >= 3 && w.Lead != d {
			require.True(t, w.Flat > 0 || w.Planned <= w.Base || w.Base == 0, say)
		}
		if waited >= 3 && w.Lead == d && !w.Harder {
			c.flats++
		}
	}
}

// The weeks of one plan, by hand: growth of a tenth, every third week easier, a race, a week written too high, and a flat week for
// strength that waited.
func TestTheWeeksOfAPlan(t *testing.T) {
	monday := dialDay.Monday()
	o := Outlook{Profile: body.NewProfile(), Want: map[Dial]body.Date{Strength: monday}, Today: dialDay,
		Plan: Plan{Rule: Rule{From: monday, Percent: 10, EasyEvery: 6}, Weeks: []PlannedWeek{{From: monday.Add(14), Minutes: 300}}}}
	for k := range 8 {
		o.Runs = append(o.Runs, Run{On: monday.Add(-7*k - 3), Minutes: 100, RPE: 4})
	}
	all := o.Weeks()[8:]
	got := []string{}
	for _, w := range all[:8] {
		got = append(got, fmt.Sprint(w.By, " ", w.Wanted, " ", w.Planned, " ", w.Lead, " ", len(w.Waits)))
	}
	assert.Equal(t, []string{"rule 110 110 running 1", "rule 121 121 running 1", "hand 300 133 running 1", "flat 133 133 strength 0",
		"rule 146 146 running 1", "rule 109 109 strength 0", "rule 160 160 running 1", "rule 176 176 running 1"}, got)
	assert.Contains(t, all[2].Why.Says, "300 min were wanted, 133 are within its limit")
	assert.Equal(t, EasyWeek, all[5].Kind)

	// A race on the Sunday of the fourth week: less before it, in it and after it, and then on from before. A marathon asks for more.
	o.Plan = Plan{Rule: Rule{From: monday, Percent: 3}}
	o.Profile.Races = []body.Race{{On: monday.Add(27), Km: 21}}
	planned := func() (out []string) {
		for _, w := range o.Weeks()[8:15] {
			out = append(out, fmt.Sprint(w.Race, w.Planned))
		}
		return out
	}
	assert.Equal(t, []string{"103", "106", "before79", "race63", "after79", "109", "112"}, planned())
	o.Profile.Races[0].Km = 42.2
	assert.Equal(t, "after63", planned()[4])
	o.Profile.Races = nil

	// Nobody told of the last two weeks: they are no weeks of nothing, and the one before stands.
	o.Runs = o.Runs[2:]
	o.Plan = Plan{}
	assert.Equal(t, 100, o.Weeks()[8].Base)
	// Last week held more than its limit: running has the lead, and the base stays within the limit.
	o.Runs = append(o.Runs, Run{On: monday.Add(-2), Minutes: 200, RPE: 4})
	assert.Equal(t, []any{true, Running, 103}, []any{o.Weeks()[7].Over, o.Weeks()[8].Lead, o.Weeks()[8].Base})
	// As usual is what was last run, not what intake says; before there was a run it is intake's.
	told := Outlook{Profile: body.NewProfile(), Today: dialDay, Runs: []Run{{On: monday.Add(-9), Minutes: 80, RPE: 4},
		{On: monday.Add(-3), RPE: -1, Word: AsUsual}}}
	told.Profile.WeeklyMinutes = 150
	assert.Equal(t, []int{80, 80}, []int{told.Weeks()[7].Ran, told.Weeks()[8].Base})
	told.Runs = told.Runs[1:]
	assert.Equal(t, 150, told.Weeks()[8].Base)
	// Without a history at all it starts with half an hour.
	none := Outlook{Profile: body.NewProfile(), Today: dialDay, Plan: Plan{Rule: Rule{From: monday, Percent: 5}}}
	assert.Equal(t, 30, none.Weeks()[8].Planned)
}

// A week planned easy beforehand is skipped where weeks are compared; one written afterwards is not, and a holiday without running
// is no running.
func TestSpansInTheGauge(t *testing.T) {
	today := dialDay
	p := body.NewProfile()
	p.WeeklyMinutes = 100
	runs := []Run{}
	for d := range 42 {
		minutes := 20.
		if d >= 7 && d < 14 {
			minutes = 1
		}
		if d < 7 {
			minutes = 23
		}
		runs = append(runs, Run{On: today.Add(-d), Minutes: minutes, RPE: 4})
	}
	span := Span{Kind: EasyWeek, From: today.Add(-13), Until: today.Add(-7), Set: today.Add(-20)}
	state, _ := Volume(Plan{Spans: []Span{span}}.Tell(runs, today), p, today, house.Rules{})
	assert.Equal(t, Usual, state, "the easy week does not count")
	span.Set = today.Add(-9)
	state, _ = Volume(Plan{Spans: []Span{span}}.Tell(runs, today), p, today, house.Rules{})
	assert.Equal(t, High, state, "written afterwards it counts")

	// So is one that the rule had made an easier one; the same week written by hand is a week like any other.
	rule := Plan{Rule: Rule{From: today.Add(-13).Monday().Add(-7), Percent: 1, EasyEvery: 3}}
	days := 0
	for _, r := range rule.Tell(nil, today) {
		assert.Equal(t, EasyDay, r.Word)
		days++
	}
	assert.Equal(t, 7, days, "of the weeks gone by one was easier")
	rule.Weeks = []PlannedWeek{{From: rule.Rule.From.Add(14), Minutes: 100}}
	assert.Empty(t, rule.Tell(nil, today))
	rule.Weeks = []PlannedWeek{{From: rule.Rule.From.Add(14), Minutes: 75, Gone: true, Easy: true}}
	assert.Len(t, rule.Tell(nil, today), 7)

	p.Runs = []body.FixedRun{{Weekday: 0, Minutes: 30, Quality: "easy"}, {Weekday: 5, Minutes: 30, Quality: "easy"}}
	away := Span{Kind: Holiday, From: today.Add(-6), Until: today}
	state, _ = Volume(Plan{Spans: []Span{away}}.Tell(runs[7:], today), p, today, house.Rules{})
	assert.Equal(t, Usual, state, "on a holiday without running there was none")
	away.Runs = true
	state, _ = Volume(Plan{Spans: []Span{away}}.Tell(runs[7:], today), p, today, house.Rules{})
	assert.Equal(t, Unknown, state, "where running goes on it has to be told")
	// Four weeks of it are a stated break.
	away = Span{Kind: Holiday, From: today.Add(-28), Until: today.Add(-1)}
	back := Back(nil, Plan{Spans: []Span{away}}.Tell([]Run{{On: today.Add(-40), Minutes: 30}}, today), func(body.Date) (bool, bool) {
		return true, true
	}, p, today, house.Rules{})
	require.NotNil(t, back)
	assert.Equal(t, Walking, back.Phase)
}

func TestWritingAPlan(t *testing.T) {
	monday := dialDay.Monday()
	stood := []Week{{From: monday.Add(-7), Planned: 90, Lead: Running}, {From: monday, Planned: 95, Lead: Strength}}
	id := "0192d0c0-0000-7000-8000-000000000001"
	p, err := Plan{Rule: Rule{Percent: 5}, Weeks: []PlannedWeek{{From: monday.Add(7), Minutes: 120}, {From: monday.Add(-7), Minutes: 400}},
		Spans: []Span{{ID: id, Kind: EasyWeek, From: monday.Add(7), Until: monday.Add(13)}}}.Written(Plan{}, stood, dialDay)
	require.NoError(t, err)
	assert.Equal(t, []PlannedWeek{{monday.Add(-7), 90, false, Running, true, false}, {From: monday.Add(7), Minutes: 120}}, p.Weeks,
		"what is gone by stands as it stood")
	assert.Equal(t, monday, p.Rule.From)
	assert.True(t, p.Spans[0].Beforehand())
	later, err := p.Written(p, stood, dialDay.Add(20))
	require.NoError(t, err)
	assert.Equal(t, p.Spans[0].Set, later.Spans[0].Set, "the day it was written stays")
	for want, bad := range map[string]Plan{
		"is no Monday":          {Weeks: []PlannedWeek{{From: dialDay, Minutes: 10}}},
		"is no week":            {Weeks: []PlannedWeek{{From: monday, Minutes: 5000}}},
		"leads no week":         {Weeks: []PlannedWeek{{From: monday, Lead: "sleep"}}},
		"recorded as a warning": {Spans: []Span{{Kind: Illness, From: dialDay, Until: dialDay}}},
		"ends on or after":      {Spans: []Span{{Kind: Holiday, From: dialDay, Until: dialDay.Add(-1)}}},
		"overlap": {Spans: []Span{{ID: "a", Kind: Holiday, From: dialDay, Until: dialDay.Add(3)},
			{ID: "b", Kind: EasyWeek, From: dialDay.Add(3), Until: dialDay.Add(5)}}},
	} {
		_, err := bad.Written(Plan{}, nil, dialDay)
		assert.ErrorContains(t, err, want)
	}
}
