package load

import (
	"fmt"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

const (
	acute, chronic = 7, 28 // days
	gabbett        = "Gabbett 2016, BJSM 50:273"
	williams       = "Williams et al. 2017, BJSM 51:209"
)

// ratio judges the week by its share of the last four: rolling and coupled, or exponentially weighted with
// λ = 2 / (N + 1), seeded with the mean of the first 28 days. Minutes a day; week is that of the last seven days with
// what was told of it in a word. It tells nothing before the log covers 28 days, and where they hold no running.
func ratio(gauge string, runs []Run, today body.Date, week float64, h house.Rules) (State, body.Reason, bool) {
	short, long, told := twoMeans(gauge, runs, today, week)
	if !told {
		return "", body.Reason{}, false
	}
	limit := h.Get("load.ratio.high")
	why := h.Because("load.ratio", "week within its limit", "load.ratio.high")
	why.Provenance, why.Source = body.Memory, gabbett+"; disputed: such ratios say little of the single runner"
	if gauge == "weighted" {
		why.Source = williams + "; disputed: such ratios say little of the single runner"
	}
	why = why.See("7 days", "%.1f min a day", short).See("28 days", "%.1f min a day", long)
	why.Formula = fmt.Sprintf("%.1f / %.1f = %.2f, high from %.2f", short, long, short/long, limit)
	if short/long >= limit-1e-9 {
		why.Says = "running volume is high"
		return High, why, true
	}
	return Usual, why, true
}

// twoMeans are the minutes a day of the last seven and of the last 28 days by a gauge.
func twoMeans(gauge string, runs []Run, today body.Date, week float64) (short, long float64, told bool) {
	first, days := today, map[body.Date]float64{}
	ran := 0.0
	for _, r := range runs {
		if r.On > today || r.Word != "" {
			continue
		}
		first = min(first, r.On)
		days[r.On] += r.Minutes
		if today.Sub(r.On) < acute {
			ran += r.Minutes
		}
	}
	days[today] += week - ran // told as usual, not entered run by run
	n := today.Sub(first) + 1
	if n < chronic {
		return 0, 0, false
	}
	if gauge == "weighted" {
		seed := 0.0
		for i := range chronic {
			seed += days[first.Add(i)] / chronic
		}
		short, long = seed, seed
		for i := chronic; i < n; i++ {
			m := days[first.Add(i)]
			short += 2.0 / (acute + 1) * (m - short)
			long += 2.0 / (chronic + 1) * (m - long)
		}
	} else {
		for i := range chronic {
			m := days[today.Add(-i)]
			if long += m / chronic; i < acute {
				short += m / acute
			}
		}
	}
	return short, long, long > 0
}
