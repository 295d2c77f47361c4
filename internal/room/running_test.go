package room

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/record"
)

// What the runner reads of a day's run: the fixed run, none while a sign is open, walking and then the steps after
// three weeks without, half the minutes after a short stop.
func TestTheRunOfADay(t *testing.T) {
	const today = body.Date("2026-03-03") // a Tuesday
	level := 4
	open := func(stops ...refer.Stop) Chart {
		p := body.NewProfile()
		p.BirthDate, p.MassKg, p.WeeklyMinutes = "1985-05-05", 70, 120
		p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 45, Quality: "quality"}}
		return Chart{Record: record.Record{Person: record.Person{Profile: p, Stops: stops},
			Tests: &record.Tests{}, Plan: &record.Plan{}, Reports: &record.Reports{}, Past: &record.Past{}, Door: &record.Door{}}, Today: today,
			Catalogue: catalog.Shipped, memo: newMemo()}
	}
	stop := func(since, cleared int) refer.Stop {
		s := refer.Stop{ID: "s", Sign: "swelling", Region: body.Calf, Side: body.Left, On: today.Add(-since)}
		if cleared >= 0 {
			s.Clearances = []refer.Clearance{{ID: "c", Kind: "clinician", Who: "a physiotherapist", On: today.Add(-cleared),
				Opens: &refer.Opening{Level: &level, Run: "all"}}}
		}
		return s
	}
	words := func(o Chart) string { w, _ := o.Facts().RunOn(today); return w }
	assert.Equal(t, "quality run, 45 min", words(open()))
	_, fixed := open().Facts().RunOn(today)
	require.NotNil(t, fixed)
	w, fixed := open().Facts().RunOn(today.Add(1))
	assert.Empty(t, w)
	assert.Nil(t, fixed)

	locked := open(stop(3, -1))
	assert.Contains(t, words(locked), "no running until cleared")
	assert.Nil(t, locked.WayBack())

	back := open(stop(20, 0))
	assert.Equal(t, "30 min of brisk walking", words(back))
	require.NotNil(t, back.WayBack())
	assert.Len(t, back.WayBack().Days, 14, "walking is daily")
	assert.NotContains(t, back.Phone(today.Time()).Running, "until cleared")

	// A caution that only holds moves up does not hide the way back.
	back.Profile.Cautions, back.memo = []string{"bmi"}, newMemo()
	assert.NotNil(t, back.WayBack())

	steps := open(stop(30, 5))
	require.NotNil(t, steps.WayBack())
	assert.Equal(t, "10 × 1 min run, 2 min walk, flat and easy", words(steps))
	assert.Len(t, steps.WayBack().Days, 7, "every second day")
	assert.Nil(t, steps.Phone(today.Time()).RunToday, "the fixed run does not stand")

	half := open(stop(6, 1))
	assert.Equal(t, "easy run, 23 min; no quality in runs: half the usual minutes, easy, until Mon 9 Mar", words(half))
}
