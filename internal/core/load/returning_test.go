package load

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// The whole way back after three weeks without running, every day quiet: three days of walking, two sessions
// a step every second day, four quiet weeks. Common practice, no source.
func TestTheWayBackToRunning(t *testing.T) {
	const opened = body.Date("2026-03-01")
	p := body.NewProfile()
	p.WeeklyMinutes = 120
	barred := []Barred{{opened.Add(-21), opened}}
	quiet := func(body.Date) (bool, bool) { return true, true }
	var runs []Run
	var saw []string
	last := ""
	today := opened
	for ; today < opened.Add(120); today = today.Add(1) {
		b := Back(barred, runs, quiet, p, today, house.Rules{})
		if b == nil {
			break
		}
		if says := b.Says(); says != last {
			saw, last = append(saw, says), says
		}
		if what, ok := b.Days(today, 1)[today]; ok && b.Phase == Stepped {
			require.Equal(t, Steps[b.Step].String(), what)
			runs = append(runs, Run{On: today, Minutes: 30})
		}
	}
	assert.Equal(t, []string{"30 min of brisk walking", "10 × 1 min run, 2 min walk, flat and easy",
		"10 × 1.5 min run, 1.5 min walk, flat and easy", "10 × 2 min run, 1 min walk, flat and easy",
		"6 × 4 min run, 1 min walk, flat and easy", "4 × 7 min run, 1 min walk, flat and easy", "30 min unbroken, flat and easy"}, saw[:7])
	require.Len(t, saw, 11, "then easy minutes until a day, four weeks of them")
	for i, most := range []string{"60", "78", "89", "108"} {
		assert.Contains(t, saw[7+i], "at most "+most+" min this week")
	}
	require.Len(t, runs, 12, "two quiet sessions a step")
	for i := 1; i < len(runs); i++ {
		assert.Equal(t, 2, runs[i].On.Sub(runs[i-1].On), "every second day")
	}
	assert.Equal(t, opened.Add(3), runs[0].On, "after three quiet days")
	assert.Equal(t, runs[11].On.Add(28), today, "four quiet weeks")
}

// A session that is not quiet is repeated; twice running it goes one step back; what nobody knows counts as
// neither.
func TestStepsThatHurt(t *testing.T) {
	const opened = body.Date("2026-03-01")
	at := func(mornings string) (int, Phase) { // a letter a session: q quiet, h hurt, u unknown
		bad, unknown := map[body.Date]bool{}, map[body.Date]bool{}
		var runs []Run
		on := opened.Add(3)
		for _, m := range mornings {
			runs = append(runs, Run{On: on, Minutes: 30})
			bad[on.Add(1)], unknown[on.Add(1)] = m == 'h', m == 'u'
			on = on.Add(2)
		}
		b := Back([]Barred{{opened.Add(-14), opened}}, runs, func(d body.Date) (bool, bool) { return !bad[d], !unknown[d] }, body.NewProfile(),
			on, house.Rules{})
		require.NotNil(t, b)
		return b.Step, b.Phase
	}
	for mornings, step := range map[string]int{"": 0, "q": 0, "qq": 1, "qh": 0, "qhq": 0, "qhqq": 1, "qquu": 1, "qqqh": 1, "qqhh": 0,
		"qqqqhhqq": 2, "hh": 0, "uuuu": 0} {
		got, phase := at(mornings)
		assert.Equal(t, step, got, mornings)
		assert.Equal(t, Stepped, phase)
	}
}

// A session counts from the morning after it, and not before.
func TestASessionCountsFromTheMorningAfter(t *testing.T) {
	const opened = body.Date("2026-03-01")
	runs := []Run{{On: opened.Add(3), Minutes: 30}, {On: opened.Add(5), Minutes: 30}}
	for after, step := range map[int]int{5: 0, 6: 1, 7: 1} {
		b := Back([]Barred{{opened.Add(-14), opened}}, runs, func(body.Date) (bool, bool) { return true, true }, body.NewProfile(),
			opened.Add(after), house.Rules{})
		require.NotNil(t, b)
		assert.Equal(t, step, b.Step, "on day %d, the second session was on day 5", after)
	}
}

// What asks for which way: 14 days barred or a stated break of 28 for the whole, less for half the minutes;
// missing logs are no break; walking waits for quiet days.
func TestWhichWayBack(t *testing.T) {
	const today = body.Date("2026-06-01")
	none := func(weeks ...int) (out []Run) {
		for _, w := range weeks {
			out = append(out, Run{On: today.Add(-7*w - 3), Word: None})
		}
		return out
	}
	phase := func(barred []Barred, runs []Run) Phase {
		b := Back(barred, runs, func(body.Date) (bool, bool) { return false, true }, body.NewProfile(), today, house.Rules{})
		if b == nil {
			return ""
		}
		return b.Phase
	}
	for _, c := range []struct {
		days, ago int
		want      Phase
	}{{14, 1, Walking}, {13, 1, Halved}, {13, 13, ""}, {13, 12, Halved}, {3, 6, Halved}, {3, 7, ""}, {60, 13, Walking}, {0, 0, ""}} {
		assert.Equal(t, c.want, phase([]Barred{{today.Add(-c.ago - c.days), today.Add(-c.ago)}}, nil), "%d days barred, %d ago", c.days, c.ago)
	}
	assert.Equal(t, Walking, phase(nil, none(0, 1, 2, 3)), "28 days stated")
	assert.Equal(t, Halved, phase(nil, none(0, 1)), "14 days stated")
	assert.Equal(t, Phase(""), phase(nil, none(0)), "a week is no break")
	assert.Equal(t, Phase(""), phase(nil, nil), "nor are missing logs")
	assert.Equal(t, Halved, phase(nil, append(none(0, 1, 2, 3), Run{On: today.Add(-17), Minutes: 20})), "a run ends a break")
	assert.Equal(t, Phase(""), phase([]Barred{{today.Add(-30), today.Add(3)}}, nil), "not open yet")
	long, short, old := Barred{today.Add(-40), today.Add(-20)}, Barred{today.Add(-3), today.Add(-1)}, Barred{today.Add(-400), today.Add(-85)}
	for _, all := range [][]Barred{{long, short}, {short, long}} {
		assert.Equal(t, Walking, phase(all, nil), "the most protective of several")
	}
	assert.Equal(t, Halved, phase([]Barred{old, short}, nil), "what ended before the records reach is over, and hides nothing")
	assert.Equal(t, Phase(""), phase([]Barred{old}, nil))
	assert.Equal(t, Walking, phase([]Barred{{today.Add(-400), today.Add(-84)}}, nil))
}

// What running may go up to: the median of four weeks, an untold one counting half of intake's.
func TestRunningBefore(t *testing.T) {
	const day = body.Date("2026-03-02")
	p := body.Profile{WeeklyMinutes: 120}
	run := func(ago int, minutes float64) Run { return Run{On: day.Add(-ago), Minutes: minutes} }
	for name, c := range map[string]struct {
		runs []Run
		want int
	}{
		"nothing told": {nil, 60},
		"four weeks":   {[]Run{run(1, 40), run(7, 20), run(8, 90), run(15, 100), run(28, 110)}, 95},
		"the day itself and a fifth week are out": {[]Run{run(0, 500), run(1, 40), run(8, 50), run(15, 70), run(22, 90), run(29, 500)}, 60},
		"a week without":         {[]Run{run(1, 10), {On: day.Add(-9), Word: None}, run(15, 30), run(22, 40)}, 20},
		"a word is no run":       {[]Run{{On: day.Add(-1), Minutes: 500, Word: None}, run(8, 50), run(15, 70), run(22, 90)}, 60},
		"a word of another week": {[]Run{run(1, 40), {On: day.Add(-8), Word: AsUsual}, run(15, 70), run(22, 90)}, 80},
		"a week as usual":        {[]Run{{On: day.Add(-1), Word: AsUsual}, run(8, 120), run(15, 120), run(22, 120)}, 120},
	} {
		assert.Equal(t, c.want, Before(c.runs, p, day), name)
	}
	assert.Equal(t, 30, Before(nil, body.Profile{}, day), "never nothing")
}

// While easy running grows each week is at most the dial's ratio over the two before, from half of what was, or the
// last week's.
func TestEasyRunningGrows(t *testing.T) {
	const cleared = body.Date("2026-01-01")
	quiet := func(body.Date) (bool, bool) { return true, true }
	at := func(weekly, ranMinutes, after int) int {
		var runs []Run
		on := cleared.Add(4) // after three days of walking
		for range 2 * len(Steps) {
			runs = append(runs, Run{On: on, Minutes: float64(ranMinutes)})
			on = on.Add(2)
		}
		last := on.Add(-2)
		b := Back([]Barred{{From: cleared.Add(-20), Until: cleared}}, runs, quiet, body.Profile{WeeklyMinutes: weekly}, last.Add(after),
			house.Rules{})
		if b == nil || b.Phase != Easy {
			return 0
		}
		return b.Minutes
	}
	assert.Equal(t, 60, at(120, 30, 2), "half of 120, less than four runs of 30")
	assert.Equal(t, 120, at(400, 30, 2), "four runs of 30, less than half of 400")
	assert.Equal(t, 78, at(120, 30, 7), "1.3 × 60")
	assert.Equal(t, 89, at(120, 30, 14), "1.3 × (60 + 78) / 2")
	assert.Equal(t, 30, at(20, 30, 2), "never under half an hour")
	assert.Zero(t, at(120, 30, 28), "over")
}

// The dated days: walking daily, a step every second day from the next one on, nothing else.
func TestTheDatedDays(t *testing.T) {
	const day = body.Date("2026-03-02")
	on := func(r Returning) (out []int) {
		dated := r.Days(day, 8)
		for i := range 8 {
			if dated[day.Add(i)] != "" {
				out = append(out, i)
			}
		}
		return out
	}
	assert.Equal(t, []int{0, 1, 2, 3, 4, 5, 6, 7}, on(Returning{Phase: Walking, Next: day.Add(3)}))
	assert.Equal(t, []int{3, 5, 7}, on(Returning{Phase: Stepped, Next: day.Add(3)}))
	assert.Equal(t, []int{0, 2, 4, 6}, on(Returning{Phase: Stepped, Next: day.Add(-2)}))
	assert.Empty(t, Returning{Phase: Easy, Next: day}.Days(day, 8))
	assert.Empty(t, Returning{Phase: Halved, Next: day}.Days(day, 8))
}

// Two runs of a day are one session of the way back; words, and runs before it or after today, are none.
func TestWhichRunsAreSteps(t *testing.T) {
	const day = body.Date("2026-03-02")
	runs := []Run{{On: day}, {On: day.Add(2)}, {On: day.Add(2)}, {On: day.Add(4), Word: None}, {On: day.Add(-1)}, {On: day.Add(9)},
		{On: day.Add(8)}}
	assert.Equal(t, []body.Date{day, day.Add(2), day.Add(8)}, ran(runs, day, day.Add(8)))
}
