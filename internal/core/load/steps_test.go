package load

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/house"
)

// Steps are cadence × minutes; what makes a step harder for the calf multiplies. By hand: 170 × 40 = 6800; a forefoot strike 7820;
// on bare feet 7820 whatever the strike in shoes; a quality run with 10 % more; 3 % mean climb 1 + 0.05 × 3.
func TestStepsForTheCalf(t *testing.T) {
	h := house.Rules{}
	run := Run{On: today, Minutes: 40, Km: 7, Details: Details{Cadence: 170}}
	with := func(change func(*Run)) Run { r := run; change(&r); return r }
	for name, c := range map[string]struct {
		foot        Footing
		run         Run
		steps, calf int
		guessed     bool
	}{
		"rearfoot":        {Footing{Strike: "rearfoot"}, run, 6800, 6800, false},
		"not looked at":   {Footing{}, run, 6800, 6800, false},
		"forefoot":        {Footing{Strike: "forefoot"}, run, 6800, 7820, false},
		"midfoot":         {Footing{Strike: "midfoot"}, run, 6800, 7310, false},
		"bare":            {Footing{Strike: "rearfoot"}, with(func(r *Run) { r.Kind = BareRun }), 6800, 7820, false},
		"quality":         {Footing{}, with(func(r *Run) { r.Kind = QualityRun }), 6800, 7480, false},
		"forefoot race":   {Footing{Strike: "forefoot"}, with(func(r *Run) { r.Kind = RaceRun }), 6800, 8602, false},
		"3 % climb":       {Footing{}, with(func(r *Run) { r.ClimbM = 210 }), 6800, 7820, false},
		"up a cliff":      {Footing{}, with(func(r *Run) { r.ClimbM = 5000 }), 6800, 10200, false},
		"hills, no climb": {Footing{}, with(func(r *Run) { r.Kind = HillRun }), 6800, 7480, false},
		"own cadence":     {Footing{Cadence: 160}, with(func(r *Run) { r.Cadence = 0 }), 6400, 6400, true},
		"no cadence":      {Footing{}, with(func(r *Run) { r.Cadence = 0 }), 0, 0, false},
		"a word":          {Footing{Cadence: 160}, Run{On: today, Word: AsUsual}, 0, 0, false},
	} {
		got := c.foot.Steps(c.run, h)
		assert.Equal(t, [2]int{c.steps, c.calf}, [2]int{got.Steps, got.Calf}, name)
		assert.Equal(t, c.guessed, got.Guessed, name)
	}
	got := Footing{Strike: "forefoot"}.Steps(with(func(r *Run) { r.Kind = RaceRun }), h)
	assert.Equal(t, "6800 × 1.15 × 1.1 = 8602", got.Because(run, h).Formula)
	assert.Contains(t, StepCount{}.Because(run, h).Says, "no cadence is known")

	shares := Footing{Strike: "rearfoot"}.Shares([]Run{run, with(func(r *Run) { r.Shoe, r.Surface = "flat pair", "sand" }),
		with(func(r *Run) { r.Kind = BareRun; r.ClimbM = 210 })}, h)
	sum := map[string]int{}
	for _, s := range shares {
		sum[s.What] += s.Calf
	}
	for what, n := range sum {
		assert.Equal(t, 6800+6800+8993, n, what)
	}
	assert.Equal(t, StepShare{"strike", "rearfoot", 13600}, shares[0])
	assert.Contains(t, shares, StepShare{"shoe", "flat pair", 6800})
	assert.Contains(t, shares, StepShare{"slope", "hilly", 8993})
}

// A watch's cadence is compared in one shoe at one pace: weighed by minutes, runs without a cadence, a kilometre or in the window
// left out.
func TestCadenceByShoeAndPace(t *testing.T) {
	run := func(ago int, minutes, km, cadence float64, shoe string) Run {
		return Run{On: today.Add(-ago), Minutes: minutes, Km: km, Details: Details{Cadence: cadence, Shoe: shoe}}
	}
	rows := CadenceBy([]Run{run(1, 30, 5, 166, "daily"), run(3, 60, 10, 169, "daily"), run(5, 25, 5, 176, "daily"),
		run(6, 30, 5, 180, "racer"), run(2, 30, 5, 0, "daily"), run(2, 5, 0.4, 150, "daily"), run(28, 30, 5, 150, "daily"),
		{On: today, Word: AsUsual}, run(-1, 30, 5, 150, "daily")}, today, 28)
	assert.Equal(t, []CadenceRow{{"daily", "6:00–6:30", 2, 168, 166, 169}, {"daily", "5:00–5:30", 1, 176, 176, 176},
		{"racer", "6:00–6:30", 1, 180, 180, 180}}, rows)
}

// Who leads a day is who leads its week.
func TestLeadOnADay(t *testing.T) {
	weeks := []Week{{From: "2026-03-02", Lead: Running}, {From: "2026-03-09", Lead: Strength, Kind: EasyWeek}}
	assert.Equal(t, Running, LeadOn(weeks, "2026-03-08").Dial)
	assert.True(t, LeadOn(weeks, "2026-03-09").Easy)
	assert.Empty(t, LeadOn(weeks, "2026-03-16").Dial)
}
