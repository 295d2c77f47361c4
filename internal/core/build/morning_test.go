package build

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
)

func sore(level int) body.Profile {
	p := profile()
	p.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: level}}
	return p
}

func mornings(pains ...int) (out []Morning) { // oldest first, the last one today
	for i, n := range pains {
		out = append(out, Morning{On: today.Add(i + 1 - len(pains)), Region: body.HeelSole, Side: body.Left, Pain: n})
	}
	return out
}

// Calm begins above 3 and ends in one of two ways: 7 days (5 reported) at 2 or below, or at 5 or
// below with the 7-day median not rising over 14 days.
func TestCalmBeginsAndEnds(t *testing.T) {
	for _, c := range []struct {
		name  string
		level int
		ms    []Morning
		want  bool
	}{
		{"usual 3", 3, nil, false},
		{"usual 4", 4, nil, true},
		{"four quiet mornings are not five", 4, mornings(2, 2, 2, 2), true},
		{"five quiet mornings", 4, mornings(2, 2, 2, 2, 2), false},
		{"settled: 14 days at 4, not rising", 4, mornings(4, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4), false},
		{"14 days, rising", 4, mornings(3, 3, 3, 3, 3, 3, 3, 4, 4, 4, 4, 4, 4, 4), true},
		{"14 days, one above 5", 4, mornings(4, 4, 4, 6, 4, 4, 4, 4, 4, 4, 4, 4, 4, 4), true},
		{"intake quiet, mornings now at 4", 1, mornings(4, 4, 4, 4), true},
	} {
		got, why := InCalm(sore(c.level), c.ms, today, house.Rules{})
		assert.Equal(t, c.want, got, c.name)
		assert.NotEmpty(t, why.Saw, c.name)
	}
}

func TestWatchedPlaces(t *testing.T) {
	w := Watched(profile())
	require.Len(t, w, 2, "without a symptom both heels are asked about")
	p := profile()
	p.Symptoms = []body.Symptom{{Region: body.Achilles, Side: body.Both, Baseline: 1}, {Region: body.Achilles, Side: body.Left, Baseline: 3}}
	w = Watched(p)
	require.Len(t, w, 2, "one row a place and side")
	assert.Equal(t, 3, w[0].Baseline, "the higher of two")
	assert.Equal(t, 1, w[1].Baseline)
}

func TestMorningCheck(t *testing.T) {
	ok := mornings(3)[0]
	require.NoError(t, ok.Check(today))
	for want, change := range map[string]func(*Morning){
		"on: must be a day of the last 60": func(m *Morning) { m.On = today.Add(1) },
		"region: say where":                func(m *Morning) { m.Region = "elbow" },
		"pain: is 11":                      func(m *Morning) { m.Pain = 11 },
		"stiffness: is -1":                 func(m *Morning) { m.Stiffness = -1 },
	} {
		m := ok
		change(&m)
		assert.ErrorContains(t, m.Check(today), want)
	}
}

// Running stays at what it was before a caution was answered, or the latest sign or break began, whichever was later;
// where the records no longer reach, the oldest four weeks they hold count.
func TestRunningStaysAtWhatItWas(t *testing.T) {
	in := input(nil)
	for d := 1; d <= 140; d++ { // 20 min a day, 10 in the last eight weeks
		minutes := 20.0
		if d <= 56 {
			minutes = 10
		}
		in.Runs = append(in.Runs, load.Run{On: today.Add(-d), Minutes: minutes})
	}
	before := func() int { return in.Facts().Before }
	assert.Equal(t, 70, before(), "nothing to count from: the last four weeks")
	in.Profile.Cautions = []string{"bone"}
	in.Profile.CautionNotes = map[string]body.CautionNote{"bone": {Answered: today.Add(-56)}}
	assert.Equal(t, 140, before())
	in.Profile.CautionNotes["bone"] = body.CautionNote{Answered: today.Add(-80)}
	in.Stops = []refer.Stop{{Sign: "bone", Region: body.Shin, Side: body.Left, On: today.Add(-20)}}
	assert.Equal(t, 70, before(), "the sign is later")
	for _, sign := range []string{"blister", "old_swelling"} {
		in.Stops[0].Sign = sign
		assert.Equal(t, 140, before(), "%s bars no running", sign)
	}
	in.Stops[0].Sign = "bone"
	in.Stops[0].Clearances = []refer.Clearance{{Kind: "reviewed", Who: "Coach", On: today.Add(-19)}}
	assert.Equal(t, 140, before(), "entered by mistake")
	in.Reach = today.Add(-70)
	assert.Equal(t, 105, before(), "the four weeks to 42 days ago: two of 140, two of 70")
	in.Stops, in.Profile.CautionNotes["bone"] = nil, body.CautionNote{Answered: today.Add(-400)}
	assert.Equal(t, 105, before(), "not half of intake's, although it was long ago")
}
