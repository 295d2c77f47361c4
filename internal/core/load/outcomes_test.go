package load

import (
	"math/rand/v2"
	"testing"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/outcomes"
)

// TestOutcomes draws runs, words, breaks and locks of half a year, and where the runner stands after them.
func TestOutcomes(t *testing.T) {
	const today = body.Date("2026-03-02")
	outcomes.Compare(t, 3000, func(seed uint64) any {
		r := rand.New(rand.NewPCG(seed, 3))
		some := func(n int) bool { return r.IntN(n) == 0 }
		p := body.NewProfile()
		p.WeeklyMinutes, p.LongestRunKm = []int{0, 60, 150}[r.IntN(3)], float64(r.IntN(15))
		p.NotRunning = some(2)
		p.Approaches = map[string]string{"volume": []string{"spike", "ratio", "weighted"}[r.IntN(3)]}
		for d := range 7 {
			if some(4) {
				p.Runs = append(p.Runs, body.FixedRun{Weekday: d, Minutes: 30 + r.IntN(40), Quality: "easy"})
			}
		}
		var barred []Barred
		for range r.IntN(3) {
			until := today.Add(3 - r.IntN(95))
			barred = append(barred, Barred{until.Add(-r.IntN(40)), until})
		}
		var runs []Run
		every, until := 1+r.IntN(4), -r.IntN(2)*r.IntN(30)
		minutes, km := 20+r.IntN(40), r.IntN(10)
		for d := -5 - r.IntN(110); d <= until; d++ {
			switch {
			case some(40):
				runs = append(runs, Run{On: today.Add(d), Word: []Word{AsUsual, None}[r.IntN(2)]})
			case d%every == 0 && !some(8):
				runs = append(runs, Run{On: today.Add(d), Minutes: float64(minutes + r.IntN(15)), Km: float64(km + r.IntN(3))})
			}
		}
		for w := range r.IntN(2) * r.IntN(6) {
			runs = append(runs, Run{On: today.Add(until - 7*w), Word: None})
		}
		if some(3) {
			runs = append(runs, Run{On: today.Add(-r.IntN(9)), Minutes: float64(60 + r.IntN(90)), Km: float64(10 + r.IntN(20))})
		}
		bad, unknown := r.IntN(20), r.IntN(20)
		quiet := func(d body.Date) (bool, bool) {
			n := d.Sub(today) % 23
			return n != -bad, n != -unknown
		}
		h := house.Rules{}
		state, why := Volume(runs, p, today, h)
		return []any{state, why, Back(barred, runs, quiet, p, today, h), Before(runs, p, today), Began(runs, today, h)}
	})
}
