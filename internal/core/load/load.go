// Package load holds running volume: what was run, and whether it is high.
package load

import (
	"fmt"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Run is one run as it was reported.
type Run struct {
	ID      string    `json:"id"`
	On      body.Date `json:"on"`
	Minutes float64   `json:"minutes"`
	Km      float64   `json:"km" doc:"0 when unknown"`
	RPE     int       `json:"rpe" doc:"effort 1–10; -1 not entered"`
	Word    Word      `json:"word,omitempty" enum:",usual,none" doc:"instead of a run: as usual, or did not run, in the seven days up to it"`
	Seq     int64     `json:"seq,omitempty" doc:"report number"`
	Details
}

// Known is the run with an effort of 0 read as not entered: phones of an earlier release send it for none.
func (r Run) Known() Run {
	if r.RPE == 0 {
		r.RPE = -1
	}
	return r
}

// Word is what a runner says of a week instead of entering its runs.
type Word string

// The words. Each covers the seven days before it and stands until the seventh day after.
const (
	AsUsual Word = "usual"
	None    Word = "none"
	// What the spans of a plan say of single days; nobody enters these.
	Away    Word = "away" // on a holiday without running
	EasyDay Word = "easy" // planned easy beforehand
)

// Check refuses a run nobody can have run.
func (r Run) Check(today body.Date) error {
	switch {
	case !r.On.Valid() || r.On > today || r.On < today.Add(-366):
		return body.Refuse("on", "must be a day of the last year, not after today")
	case r.Word != "" && r.Word != AsUsual && r.Word != None:
		return body.Refuse("word", "is “as usual” or “did not run”")
	case r.Word != "" && (r.Minutes != 0 || r.Km != 0):
		return body.Refuse("word", "stands instead of a run: leave minutes and distance empty")
	case r.Word == "" && (r.Minutes < 1 || r.Minutes > 1440):
		return body.Refuse("minutes", "is %g; enter 1 to 1440 min", r.Minutes)
	case r.Km < 0 || r.Km > 250:
		return body.Refuse("km", "is %s; enter 0 to %s", body.Bare("km", "%g", r.Km), body.In("km", "%g", 250))
	case r.RPE < -1 || r.RPE > 10:
		return body.Refuse("rpe", "is %d; enter 1 to 10", r.RPE)
	case r.Word != "" && r.Details != (Details{}):
		return body.Refuse("word", "stands instead of a run: leave its details empty")
	}
	return r.Details.check(r.Minutes)
}

// State says how running volume stands.
type State string

// The states. Unknown is treated like High for moves up of loaded work.
const (
	Usual   State = "usual"
	High    State = "high"
	Unknown State = "unknown"
)

// States lists them.
var States = []State{Usual, High, Unknown}

// Volume judges the seven days up to today: High when a run is more than 1.10 × and 1 km over the
// longest of the 30 days before it, or the total is more than 1.30 × the mean of the two weeks
// before, or by the gauge chosen for the runner; Unknown when a fixed run day of the seven has neither a run nor a word
// (without fixed days: when nothing was reported), unless the runner said not to run. “As usual” and “did not run” cover
// the seven days before them and stand until the seventh day after; as usual counts as the week before, else intake.
// Intake seeds what is older than the log. Minutes and kilometres; thresholds are house rules.
func Volume(runs []Run, p body.Profile, today body.Date, h house.Rules) (State, body.Reason) {
	t := tell(runs, today)
	week, before := t.week, t.two(p, today, h)
	if missing := unreported(p, t.ran, today); t.word == "" && (t.n == 0 || missing != "") && !p.DoesNotRun() {
		r := h.Because("load.volume", "running of the last seven days is unknown, so loaded work waits: enter the runs, or say “as usual” or "+
			"“did not run”").
			See("usual week", "%s", usualWeek(p))
		if missing != "" {
			r = r.SeeOn(missing, "no run and no word on", "%s", missing.Short())
		}
		return Unknown, r
	}
	if t.word == AsUsual {
		usual := t.before[0]
		if usual == 0 || t.easy[0] >= h.Int("load.easy.days") {
			usual = before[0]
		}
		if usual == 0 {
			usual = float64(p.WeeklyMinutes)
		}
		week = max(week, usual)
	}
	if gauge := h.Choice(p.Approaches, "volume"); gauge != "spike" {
		if s, r, told := ratio(gauge, runs, today, week, h); told {
			return s, r
		}
	}
	if r, high := longest(runs, p, today, t.first, h); high {
		return High, r
	}
	mean := (before[0] + before[1]) / 2
	ratio := h.Get("load.week.ratio")
	r := h.Because("load.week", "week within its limit", "load.week.ratio").
		See("last 7 days", "%.0f min", week).See("mean of the two weeks before", "%.0f min", mean)
	r.Formula = fmt.Sprintf("%.0f min against %.2f × %.0f = %.0f min", week, ratio, mean, ratio*mean)
	if week > ratio*mean {
		r.Says = "running volume is high"
		return High, r
	}
	return Usual, r
}

// told is what the runs up to a day say: the minutes of its seven days and of each of the weeks before, how many days of those
// were planned easy, how many runs the seven days hold, the first day of the log, the days with a run, and the word that stands.
type told struct {
	week   float64
	before [8]float64
	easy   [8]int
	n      int
	first  body.Date
	ran    map[body.Date]bool
	word   Word
}

func tell(runs []Run, today body.Date) told {
	t := told{first: today, ran: map[body.Date]bool{}}
	var said body.Date
	away := 0
	for _, r := range runs {
		if r.On > today {
			continue
		}
		if r.Word != "" {
			switch age := today.Sub(r.On); {
			case r.Word == Away && age < 7:
				t.ran[r.On] = true
				if away++; away == 7 {
					t.word = None
				}
			case r.Word == EasyDay && age >= 7 && age < 7*(len(t.easy)+1):
				t.easy[(age-7)/7]++
			case r.Word != Away && r.Word != EasyDay && age < 7 && r.On >= said:
				t.word, said = r.Word, r.On
			}
			continue
		}
		t.first = min(t.first, r.On)
		t.ran[r.On] = true
		switch age := today.Sub(r.On); {
		case age < 7:
			t.week += r.Minutes
			t.n++
		case age < 7*(len(t.before)+1):
			t.before[(age-7)/7] += r.Minutes
		}
	}
	return t
}

// two are the two weeks before that count: one planned easy is skipped for the one before it, at most six weeks back, else intake
// stands for it, as for a week the log does not cover yet.
func (t told) two(p body.Profile, today body.Date, h house.Rules) [2]float64 {
	out := [2]float64{float64(p.WeeklyMinutes), float64(p.WeeklyMinutes)}
	n := 0
	for i := 0; i < len(t.before) && n < 2; i++ {
		switch easy := t.easy[i] >= h.Int("load.easy.days"); {
		case easy:
		case t.first > today.Add(-7*(i+2)):
			out[n] = max(t.before[i], float64(p.WeeklyMinutes))
			n++
		default:
			out[n] = t.before[i]
			n++
		}
	}
	return out
}

// unreported is the newest fixed run day of the last seven, today left out, without a run.
func unreported(p body.Profile, ran map[body.Date]bool, today body.Date) body.Date {
	for i := 1; i < 7; i++ {
		on := today.Add(-i)
		for _, r := range p.Runs {
			if r.Weekday == on.Sub(on.Monday()) && !ran[on] {
				return on
			}
		}
	}
	return ""
}

func usualWeek(p body.Profile) string {
	if p.WeeklyMinutes == 0 {
		return "left empty at intake: enter it there, or that they do not run"
	}
	return fmt.Sprintf("%d min", p.WeeklyMinutes)
}

func longest(runs []Run, p body.Profile, today, first body.Date, h house.Rules) (body.Reason, bool) {
	for _, r := range runs {
		if r.Km == 0 || r.On > today || today.Sub(r.On) >= 7 {
			continue
		}
		past := 0.0
		if r.On.Sub(first) < 30 {
			past = p.LongestRunKm
		}
		for _, o := range runs {
			if d := r.On.Sub(o.On); d >= 1 && d <= 30 {
				past = max(past, o.Km)
			}
		}
		ratio, over := h.Get("load.longest.ratio"), h.Get("load.longest.km")
		if past > 0 && r.Km > ratio*past && r.Km-past > over {
			out := h.Because("load.longest", "running volume is high: a run well over the longest of its 30 days", "load.longest.ratio",
				"load.longest.km").
				SeeOn(r.On, "run", "%s", body.In("km", "%.1f", r.Km)).See("longest of the 30 days before", "%s", body.In("km", "%.1f", past))
			km := func(v float64) string { return body.In("km", "%.1f", v) }
			out.Formula = fmt.Sprintf("%s > %.2f × %s = %s, and %s over", km(r.Km), ratio, body.Bare("km", "%.1f", past), km(ratio*past),
				km(r.Km-past))
			return out, true
		}
	}
	return body.Reason{}, false
}
