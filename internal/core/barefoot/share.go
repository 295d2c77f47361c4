package barefoot

import (
	"notchback/internal/core/body"
	"notchback/internal/core/load"
)

// Shared is how much of the running of the last four weeks was on bare feet, or in the next shoe.
type Shared struct {
	Minutes float64 `json:"minutes" doc:"bare, or in the next shoe"`
	Running float64 `json:"running" doc:"of running in all"`
	Percent float64 `json:"percent"`
}

// ShareOf sums the 28 days up to today. A day told as a go and as a run counts once, as the longer of both.
func ShareOf(goes []Log, runs []load.Run, bare func(load.Run) bool, today body.Date) Shared {
	out := Shared{}
	minutes := map[body.Date]float64{}
	lately := func(on body.Date) bool { age := today.Sub(on); return age >= 0 && age < 28 }
	for _, l := range goes {
		if l.Stage >= RunWalk && lately(l.On) {
			minutes[l.On] = max(minutes[l.On], l.Minutes)
		}
	}
	for _, r := range runs {
		if r.Word != "" || !lately(r.On) {
			continue
		}
		if out.Running += r.Minutes; bare(r) {
			minutes[r.On] = max(minutes[r.On], r.Minutes)
		}
	}
	for _, n := range minutes {
		out.Minutes += n
	}
	if out.Running > 0 {
		out.Percent = 100 * out.Minutes / out.Running
	}
	return out
}
