package load

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// A week after Foster 1998 (the arithmetic, by hand): 30 min at 5, nothing, 45 at 4, 60 at 3, nothing, 90 at 6, 40 at 2.
// Loads 150 0 180 180 0 540 80: sum 1130, mean 161.43, sample SD 183.89, monotony 0.8779, strain 992.0 (Python's statistics module).
func TestSessionLoadMonotonyAndStrain(t *testing.T) {
	runs := []Run{}
	for i, r := range []struct{ minutes, rpe int }{{30, 5}, {}, {45, 4}, {60, 3}, {}, {90, 6}, {40, 2}} {
		if r.minutes > 0 {
			runs = append(runs, Run{On: today.Add(i - 6), Minutes: float64(r.minutes), RPE: r.rpe})
		}
	}
	runs = append(runs, Run{On: today.Add(-7), Minutes: 500, RPE: 9}, Run{On: today.Add(1), Minutes: 500, RPE: 9}, Run{On: today,
		Word: AsUsual})
	days := Session(runs, today, 7)
	loads := []float64{}
	for _, d := range days {
		loads = append(loads, d.Load)
	}
	assert.Equal(t, []float64{150, 0, 180, 180, 0, 540, 80}, loads)
	m, told := Monotony(days)
	require.True(t, told)
	assert.InDelta(t, 0.8779, m, 0.0001)
	got := map[string]string{}
	for _, g := range Gauges(runs, body.NewProfile(), today, house.Rules{}) {
		got[g.ID] = g.Figure
	}
	assert.Equal(t, "1130", got["session"])
	assert.Equal(t, "0.88", got["monotony"])
	assert.Equal(t, "992", got["strain"])
	runs[0].RPE = -1
	assert.Equal(t, Day{30, 1}, Session(runs, today, 7)[0], "without an effort: minutes, and said so")
	_, told = Monotony(make([]Day, 7))
	assert.False(t, told, "a deviation of 0 is undefined")
	assert.False(t, math.IsNaN(m))
}

// Which gauge decides, under each approach, with and without four weeks of runs; it never says another state than Volume.
func TestWhichGaugeDecides(t *testing.T) {
	h := house.Rules{}
	for approach, decide := range map[string][]string{"": {"week", "longest"}, "spike": {"week", "longest"}, "ratio": {"ratio"},
		"weighted": {"weighted"}} {
		for _, weeks := range []int{2, 6} {
			for _, grown := range []float64{120, 300} {
				p := body.NewProfile()
				p.WeeklyMinutes = 120
				if approach != "" {
					p.Approaches = map[string]string{"volume": approach}
				}
				runs := steady(120, weeks)
				runs = append(runs, Run{On: today.Add(-7*weeks + 1), Minutes: 1})
				runs[0].Minutes = grown
				want := decide
				if weeks == 2 {
					want = []string{"week", "longest"} // not enough history for a ratio
				}
				high, deciding := false, []string{}
				for _, g := range Gauges(runs, p, today, h) {
					if g.Decides {
						deciding = append(deciding, g.ID)
						high = high || g.State == High
					}
					if g.ID == "ratio" && weeks == 2 {
						assert.Contains(t, g.Reason.Says, "not enough history")
						assert.Empty(t, g.Figure)
					}
				}
				assert.Equal(t, want, deciding)
				state, _ := Volume(runs, p, today, h)
				assert.Equal(t, state == High, high, "%s, %d weeks, %g min", approach, weeks, grown)
			}
		}
	}
}

// The weeks are held against each other also where the practice goes by a ratio.
func TestTheWeekIsItsOwnGauge(t *testing.T) {
	runs := steady(120, 6)
	runs[0].Minutes = 160 // over 1.3 × 120, and 1.23 of four weeks
	for _, approach := range []string{"spike", "ratio", "weighted"} {
		g := Gauges(runs, body.NewProfile(), today, house.Rules{Approaches: map[string]string{"volume": approach}})
		assert.Equal(t, High, g[0].State, approach)
		assert.Contains(t, g[0].Reason.Formula, "1.30 ×", approach)
	}
}

func TestDetails(t *testing.T) {
	run := Run{On: today, Minutes: 30, Details: Details{Start: "2026-03-30T06:00:00Z", Elapsed: 34, ClimbM: 120, Cadence: 172,
		Surface: "trail",
		Kind:    HillRun, Shoe: "Grey", Pain: "0"}}
	assert.NoError(t, run.Check(today))
	for field, change := range map[string]func(*Details){
		"start": func(d *Details) { d.Start = "yesterday" }, "elapsed": func(d *Details) { d.Elapsed = 29 },
		"climbM": func(d *Details) { d.ClimbM = -1 }, "cadence": func(d *Details) { d.Cadence = 60 },
		"surface": func(d *Details) { d.Surface = "moon" }, "kind": func(d *Details) { d.Kind = "fun" },
		"pain": func(d *Details) { d.Pain, d.Region = "", "heel" }, "contactMs": func(d *Details) { d.BalanceL = 101 }} {
		r := run
		change(&r.Details)
		assert.ErrorContains(t, r.Check(today), field+":")
	}
	assert.Error(t, Run{On: today, Word: None, Details: Details{Shoe: "Grey"}}.Check(today))
}
