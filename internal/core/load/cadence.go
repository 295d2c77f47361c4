package load

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
)

// CadenceRow is the cadence a watch counted in one shoe at one pace.
type CadenceRow struct {
	Shoe    string  `json:"shoe" doc:"empty: not told"`
	Pace    string  `json:"pace" doc:"minutes a kilometre, from and to"`
	Runs    int     `json:"runs"`
	Mean    float64 `json:"mean" doc:"steps of both feet a minute, weighed by minutes"`
	Lowest  float64 `json:"lowest"`
	Highest float64 `json:"highest"`
}

// paceBand is how wide a band of pace is, minutes a kilometre: cadence is compared at one pace alone.
const paceBand = 0.5

// CadenceBy is what watches counted in the last days, by shoe and pace, the most run rows first. A watch counts a whole run, stops
// and hills in it: it follows a step up, it does not replace the count at one speed.
func CadenceBy(runs []Run, today body.Date, days int) []CadenceRow {
	type key struct {
		shoe string
		band int
	}
	minutes := map[key]float64{}
	rows := map[key]*CadenceRow{}
	for _, r := range runs {
		if r.Word != "" || r.Cadence == 0 || r.Km < 1 || r.On > today || today.Sub(r.On) >= days {
			continue
		}
		k := key{r.Shoe, int(math.Floor(r.Minutes / r.Km / paceBand))}
		w := rows[k]
		if w == nil {
			from := float64(k.band) * paceBand
			w = &CadenceRow{Shoe: r.Shoe, Pace: clock(from) + "–" + clock(from+paceBand), Lowest: r.Cadence}
			rows[k] = w
		}
		w.Mean = (w.Mean*minutes[k] + r.Cadence*r.Minutes) / (minutes[k] + r.Minutes)
		minutes[k] += r.Minutes
		w.Runs++
		w.Lowest, w.Highest = min(w.Lowest, r.Cadence), max(w.Highest, r.Cadence)
	}
	out := []CadenceRow{}
	for _, w := range rows {
		w.Mean = math.Round(w.Mean*10) / 10
		out = append(out, *w)
	}
	slices.SortFunc(out, func(a, b CadenceRow) int {
		return cmp.Or(b.Runs-a.Runs, cmp.Compare(a.Pace, b.Pace), cmp.Compare(a.Shoe, b.Shoe))
	})
	return out
}

func clock(minutes float64) string {
	return fmt.Sprintf("%d:%02d", int(minutes), int(math.Round((minutes-math.Floor(minutes))*60)))
}
