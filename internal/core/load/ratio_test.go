package load

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// By hand: 28 days of 20 min a day, then a week of 40 (Gabbett 2016; Williams et al. 2017, both from memory).
// Rolling and coupled: 40 against (3 × 20 + 40) / 4 = 25 is 1.6. Exponentially weighted: after k days of 40 on a seed of
// 20, 40 − 20 × 0.75^7 = 37.33 against 40 − 20 × (27/29)^7 = 27.87 is 1.34: usual at 1.5.
func TestTheWeekAgainstFourWeeks(t *testing.T) {
	every := func(days, last int, before, week float64) []Run {
		var out []Run
		for i := range days {
			m := before
			if i < last {
				m = week
			}
			out = append(out, Run{On: today.Add(-i), Minutes: m})
		}
		return out
	}
	told := func(gauge string, runs []Run) (State, body.Reason) {
		p := body.NewProfile()
		p.WeeklyMinutes, p.Approaches = 140, map[string]string{"volume": gauge}
		return Volume(runs, p, today, house.Rules{})
	}
	s, r := told("ratio", every(35, 7, 20, 40))
	assert.Equal(t, High, s)
	assert.Equal(t, "40.0 / 25.0 = 1.60, high from 1.50", r.Formula)
	assert.Contains(t, r.Source, "disputed")
	s, r = told("weighted", every(35, 7, 20, 40))
	assert.Equal(t, Usual, s)
	assert.Equal(t, "37.3 / 27.9 = 1.34, high from 1.50", r.Formula)
	s, r = told("spike", every(35, 7, 20, 40)) // 280 min against 1.30 × 140
	assert.Equal(t, High, s)
	assert.Equal(t, "load.week", r.Rule)

	// 36 against (3 × 20 + 36) / 4 = 24 is 1.5 itself, and high; 35.9 is not.
	s, _ = told("ratio", every(35, 7, 20, 36))
	assert.Equal(t, High, s)
	s, _ = told("ratio", every(35, 7, 20, 35.9))
	assert.Equal(t, Usual, s)
	// Weighted, three times the running: 60 − 40 × 0.75^7 = 54.66 against 60 − 40 × (27/29)^7 = 35.74.
	s, r = told("weighted", every(35, 7, 20, 60))
	assert.Equal(t, High, s)
	assert.Equal(t, "54.7 / 35.7 = 1.53, high from 1.50", r.Formula)

	// Without any running there is no ratio.
	for _, gauge := range []string{"ratio", "weighted"} {
		_, _, ok := ratio(gauge, every(35, 0, 0, 0), today, 0, house.Rules{})
		assert.False(t, ok, gauge)
	}

	// Under 28 days there is not enough history: the longest run and the weekly change speak.
	for _, gauge := range []string{"ratio", "weighted"} {
		_, r = told(gauge, every(27, 7, 20, 20))
		assert.Equal(t, "load.week", r.Rule, gauge)
		_, r = told(gauge, every(28, 7, 20, 20))
		assert.Equal(t, "load.ratio", r.Rule, gauge)
		// A week told in a word counts as the week before it.
		said := append(every(35, 0, 20, 0)[7:], Run{On: today, Word: AsUsual})
		_, r = told(gauge, said)
		assert.Equal(t, "load.ratio", r.Rule, gauge)
		s, _ = told(gauge, append(every(35, 0, 20, 0)[7:], Run{On: today, Word: None}))
		assert.Equal(t, Usual, s, gauge)
	}
	_, r = told("ratio", append(every(35, 0, 20, 0)[7:], Run{On: today, Word: AsUsual}))
	assert.Equal(t, "20.0 / 20.0 = 1.00, high from 1.50", r.Formula)
	_, r = told("ratio", append(every(35, 7, 20, 20), Run{On: today.Add(1), Minutes: 600}))
	assert.Equal(t, "20.0 / 20.0 = 1.00, high from 1.50", r.Formula, "what is not run yet does not count")
}
