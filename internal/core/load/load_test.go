package load

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

const today = body.Date("2026-03-30")

func steady(perWeek float64, weeks int) []Run {
	var out []Run
	for w := range weeks {
		out = append(out, Run{On: today.Add(-7*w - 1), Minutes: perWeek, Km: perWeek / 6})
	}
	return out
}

func state(runs []Run, weekly int) State {
	p := body.NewProfile()
	p.WeeklyMinutes, p.NotRunning = weekly, weekly == 0
	s, _ := Volume(runs, p, today, house.Rules{})
	return s
}

// Minutes a week left empty are unknown, not “does not run”: loaded work waits until somebody says.
func TestMinutesLeftEmptyAreUnknown(t *testing.T) {
	p := body.NewProfile()
	told := func(change func(*body.Profile), runs ...Run) State {
		q := p
		change(&q)
		s, _ := Volume(runs, q, today, house.Rules{})
		return s
	}
	assert.Equal(t, Unknown, told(func(*body.Profile) {}))
	assert.Equal(t, Usual, told(func(q *body.Profile) { q.NotRunning = true }))
	assert.Equal(t, Unknown, told(func(q *body.Profile) { q.NotRunning, q.WeeklyMinutes = true, 90 }), "minutes say otherwise")
	assert.Equal(t, Unknown, told(func(q *body.Profile) { q.NotRunning, q.Runs = true, []body.FixedRun{{Minutes: 30}} }), "so do fixed runs")
	assert.Equal(t, Usual, told(func(*body.Profile) {}, Run{On: today, Word: None}), "a word answers for a week")
	_, why := Volume(nil, p, today, house.Rules{})
	assert.Contains(t, why.Saw[0].Value, "left empty at intake")
	assert.Equal(t, -1, Run{Minutes: 30}.Known().RPE, "a run of no effort is one whose effort was not entered")
	assert.Equal(t, 4, Run{Minutes: 30, RPE: 4}.Known().RPE)
}

func TestVolume(t *testing.T) {
	assert.Equal(t, Unknown, state(nil, 120), "no log is unknown, not zero")
	assert.Equal(t, Usual, state(nil, 0), "no running at all is known")
	assert.Equal(t, Usual, state(steady(120, 4), 120))
	// 157 > 1.30 × 120 = 156; 155 is not (weekly rule; Nielsen et al. 2014, JOSPT 44:739, from memory).
	over := steady(120, 4)
	over[0].Minutes, over[0].Km = 157, 0
	assert.Equal(t, High, state(over, 120))
	over[0].Minutes = 155
	assert.Equal(t, Usual, state(over, 120))
}

// 2025 cohort, BJSM (from memory): a run over 1.10 × the longest of the 30 days before it. 22.5 km
// against 20 km is 1.125 × and 2.5 km over; 21.5 km is 1.075 ×.
func TestLongestRun(t *testing.T) {
	runs := steady(120, 4) // 20 km each
	runs[0].Km = 22.5
	assert.Equal(t, High, state(runs, 120))
	runs[0].Km = 21.5
	assert.Equal(t, Usual, state(runs, 120))
}

func TestIntakeSeedsTheWeeksBeforeTheLog(t *testing.T) {
	assert.Equal(t, Usual, state([]Run{{On: today, Minutes: 130}}, 120))
	assert.Equal(t, High, state([]Run{{On: today, Minutes: 170}}, 120))
}

// Runs count in the week of their own age: this week to 6 days ago, the weeks before to 13 and to 20; a week that
// the log reaches back to is not seeded.
func TestWhichWeekARunCountsIn(t *testing.T) {
	for name, c := range map[string]struct {
		runs []Run
		want State
	}{
		"six days ago is this week": {[]Run{{On: today.Add(-6), Minutes: 200}, {On: today.Add(-20), Minutes: 120},
			{On: today.Add(-13), Minutes: 120}}, High},
		"seven is the week before": {[]Run{{On: today, Minutes: 120}, {On: today.Add(-7), Minutes: 100},
			{On: today.Add(-20), Minutes: 90}}, Usual},
		"thirteen too": {[]Run{{On: today, Minutes: 120}, {On: today.Add(-13), Minutes: 100},
			{On: today.Add(-21), Minutes: 90}, {On: today.Add(-20), Minutes: 90}}, Usual},
		"fourteen is the week before that": {[]Run{{On: today, Minutes: 100}, {On: today.Add(-14), Minutes: 60}}, High},
		"thirteen days of log: seeded":     {[]Run{{On: today, Minutes: 100}, {On: today.Add(-13), Minutes: 60}}, Usual},
		"twenty-one days of log: a gap": {[]Run{{On: today, Minutes: 100}, {On: today.Add(-8), Minutes: 120},
			{On: today.Add(-21), Minutes: 60}}, High},
		"twenty days of log: seeded": {[]Run{{On: today, Minutes: 100}, {On: today.Add(-8), Minutes: 120},
			{On: today.Add(-20), Minutes: 60}}, Usual},
		"tomorrow is not run yet": {[]Run{{On: today.Add(1), Minutes: 500}, {On: today, Minutes: 100}}, Usual},
	} {
		assert.Equal(t, c.want, state(c.runs, 120), name)
	}
}

func TestCheck(t *testing.T) {
	assert.ErrorContains(t, Run{On: today.Add(1), Minutes: 30}.Check(today), "on: must be a day")
	assert.ErrorContains(t, Run{On: today, Minutes: -3}.Check(today), "enter 1 to 1440 min")
	assert.NoError(t, Run{On: today, Minutes: 30}.Check(today))
}

// A word about the week covers seven days and no more; the newest one counts.
func TestAWordAboutTheWeek(t *testing.T) {
	week := func(word Word, ago int) Run { return Run{On: today.Add(-ago), Word: word} }
	assert.Equal(t, Usual, state([]Run{week(AsUsual, 0)}, 120))
	_, why := Volume([]Run{week(AsUsual, 0)}, body.Profile{WeeklyMinutes: 120}, today, house.Rules{})
	assert.Equal(t, "120 min", why.Saw[0].Value, "the last seven days: the usual week as it was told at intake")
	assert.Equal(t, Usual, state([]Run{week(AsUsual, 6)}, 120))
	assert.Equal(t, Unknown, state([]Run{week(AsUsual, 7)}, 120), "it has run out")
	assert.Equal(t, Usual, state([]Run{week(None, 3)}, 120))
	grown := append(steady(60, 4), week(AsUsual, 2))
	grown[0].Minutes, grown[0].Km = 100, 0
	assert.Equal(t, High, state(grown, 60), "as usual never hides what was run")
}

// A run report at the edges of what it may say.
func TestCheckAtItsEdges(t *testing.T) {
	for _, r := range []Run{{On: today, Minutes: 1}, {On: today, Minutes: 1440, Km: 250, RPE: 10}, {On: today, Word: AsUsual},
		{On: today, Word: None}, {On: today.Add(-366), Minutes: 30}} {
		assert.NoError(t, r.Check(today), "%+v", r)
	}
	for _, r := range []Run{{On: today, Minutes: 0}, {On: today, Minutes: 1441}, {On: today, Minutes: 30, Km: 251},
		{On: today, Minutes: 30, Km: -1}, {On: today, Minutes: 30, RPE: 11}, {On: today, Minutes: 30, RPE: -2}, {On: today, Word: "some"},
		{On: today, Word: None, Minutes: 3}, {On: today, Word: AsUsual, Km: 3}, {On: today.Add(-367), Minutes: 30}, {On: "soon", Minutes: 30},
		{On: "2026-02-31", Minutes: 30}} {
		assert.Error(t, r.Check(today), "%+v", r)
	}
}

// A fixed run day of the last seven, today left out, with neither run nor word makes the week unknown.
func TestAWeekWithAGap(t *testing.T) {
	p := body.Profile{WeeklyMinutes: 90, Runs: []body.FixedRun{{Weekday: 1, Minutes: 45}, {Weekday: 4, Minutes: 45}}}
	const monday = body.Date("2026-03-02")
	at := func(today body.Date, runs ...Run) State { s, _ := Volume(runs, p, today, house.Rules{}); return s }
	run := func(day int) Run { return Run{On: monday.Add(day), Minutes: 45} }
	assert.Equal(t, Usual, at(monday.Add(5), run(1), run(4)), "Saturday, both told")
	assert.Equal(t, Unknown, at(monday.Add(5), run(1)), "Friday's is missing")
	assert.Equal(t, Unknown, at(monday.Add(5), run(4)), "Tuesday's is missing")
	assert.Equal(t, Usual, at(monday.Add(4), run(1), run(-3)), "today's is still to come")
	assert.Equal(t, Unknown, at(monday.Add(7), run(4)), "Tuesday, six days ago")
	assert.Equal(t, Usual, at(monday.Add(8), run(4)), "a Tuesday ago, and today's to come")
	assert.Equal(t, Usual, at(monday.Add(5), Run{On: monday.Add(4), Word: AsUsual}))
	assert.Equal(t, Unknown, at(monday.Add(12), Run{On: monday.Add(4), Word: AsUsual}), "a word stands seven days")
}

// The reason names the day nobody told of.
func TestTheDayNobodyToldOf(t *testing.T) {
	p := body.Profile{WeeklyMinutes: 90, Runs: []body.FixedRun{{Weekday: 1, Minutes: 45}}}
	_, r := Volume(nil, p, "2026-03-05", house.Rules{}) // a Thursday
	assert.Contains(t, fmt.Sprint(r.Saw), "no run and no word on")
	assert.Contains(t, fmt.Sprint(r.Saw), "Tue 3 Mar")
	p.Runs = nil
	_, r = Volume(nil, p, "2026-03-05", house.Rules{})
	assert.NotContains(t, fmt.Sprint(r.Saw), "no run and no word on", "no fixed days")
}

// A run of this week against the longest of the 30 days before it; where the log does not reach back so far, also
// against the longest named at intake.
func TestTheLongestRunAtItsEdges(t *testing.T) {
	at := func(ago int, km float64) Run { return Run{On: today.Add(-ago), Minutes: 10, Km: km} }
	for name, c := range map[string]struct {
		runs   []Run
		intake float64
		high   bool
	}{
		"30 days before it":             {[]Run{at(0, 20), at(30, 10)}, 0, true},
		"31 days before it":             {[]Run{at(0, 20), at(31, 10)}, 0, false},
		"the day before":                {[]Run{at(0, 20), at(1, 10), at(40, 1)}, 0, true},
		"the same day":                  {[]Run{at(0, 20), at(0, 19), at(9, 18.5)}, 0, false},
		"six days ago":                  {[]Run{at(6, 20), at(10, 10)}, 0, true},
		"seven days ago":                {[]Run{at(7, 20), at(10, 10)}, 0, false},
		"a tenth more, under a km":      {[]Run{at(0, 5.9), at(9, 5)}, 0, false},
		"a km more, under a tenth":      {[]Run{at(0, 21), at(9, 20)}, 0, false},
		"intake, the log is young":      {[]Run{at(0, 12), at(9, 10)}, 12, false},
		"intake less than what was run": {[]Run{at(0, 20), at(9, 10)}, 5, true},
		"intake, the log is 29 days":    {[]Run{at(0, 12), at(9, 10), at(29, 1)}, 12, false},
		"intake, the log is 30 days":    {[]Run{at(0, 12), at(9, 10), at(30, 1)}, 12, true},
	} {
		p := body.Profile{LongestRunKm: c.intake}
		got, _ := Volume(c.runs, p, today, house.Rules{})
		r, high := longest(c.runs, p, today, first(c.runs), house.Rules{})
		assert.Equal(t, c.high, high, "%s: %s %s", name, r.Says, r.Formula)
		if high {
			assert.Equal(t, High, got, name)
		}
	}
}

func first(runs []Run) body.Date {
	out := today
	for _, r := range runs {
		out = min(out, r.On)
	}
	return out
}

// Exactly at a ratio is within it.
func TestAtTheRatio(t *testing.T) {
	p := body.Profile{WeeklyMinutes: 100}
	const day = body.Date("2026-03-02")
	at := func(week, km float64) State {
		s, _ := Volume([]Run{{On: day, Minutes: week, Km: km}, {On: day.Add(-8), Minutes: 100, Km: 10}, {On: day.Add(-15), Minutes: 100, Km: 20},
			{On: day.Add(-22), Minutes: 100}, {On: day.Add(-35), Minutes: 100}}, p, day, house.Rules{})
		return s
	}
	assert.Equal(t, Usual, at(130, 20))
	assert.Equal(t, High, at(131, 20))
	assert.Equal(t, Usual, at(100, 22), "1.1 × 20 km")
	assert.Equal(t, High, at(100, 22.1))
}

// The longest run of the thirty days before counts, the thirtieth day too.
func TestTheLongestOfThirtyDays(t *testing.T) {
	const day = body.Date("2026-03-02")
	at := func(ago int) State {
		s, _ := Volume([]Run{{On: day, Minutes: 60, Km: 21}, {On: day.Add(-1), Minutes: 60, Km: 10}, {On: day.Add(-ago), Minutes: 60, Km: 20},
			{On: day.Add(-8), Minutes: 200}, {On: day.Add(-15), Minutes: 200}, {On: day.Add(-40), Minutes: 60}}, body.Profile{}, day, house.Rules{})
		return s
	}
	assert.Equal(t, Usual, at(30))
	assert.Equal(t, High, at(31), "21 km over the 10 of the thirty days")
}

// A run dated after today, as a phone abroad may send it, makes no week high before its day.
func TestARunOfTomorrowWaits(t *testing.T) {
	runs := append(steady(120, 4), Run{On: today.Add(1), Minutes: 30, Km: 60})
	assert.Equal(t, Usual, state(runs, 120))
	runs[len(runs)-1].On = today
	assert.Equal(t, High, state(runs, 120))
}
