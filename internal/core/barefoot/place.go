package barefoot

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
)

// Day is what a day holds already.
type Day struct {
	On       body.Date
	Run      string // easy, quality or long; empty for none
	Strength bool   // a strength session stands on it
	Hard     bool   // one leg with external load, or free bounces
	Away     bool
	Done     bool    // a go of stage 3 or above was done on it
	Minutes  float64 // of running done on it so
}

// Placed is a go on a day.
type Placed struct {
	On       body.Date `json:"on"`
	Stage    int       `json:"stage"`
	Minutes  int       `json:"minutes"`
	Times    int       `json:"times"`
	Contacts int       `json:"contacts"`
	Part     string    `json:"part" enum:",half,all"`
	In       string    `json:"in" enum:"own,session,run" doc:"by itself, in the strength session, or in the run"`
	Words    string    `json:"words"`
}

// Place puts a week's goes on its days, the day before it first. At home and walking every day; strength with its sessions; bounces
// up to three days with a free day between; running on at most two easy run days with a free day between. Bounces and running never
// stand on the day after hard calf work or free bounces, nor on a day with quality; bounces not on the day before it either. fresh
// says that calf and sole are not sore today. left says why nothing found room.
func Place(a At, days []Day, today body.Date, fresh bool, aim Aim) (placed []Placed, left string) {
	placed = []Placed{}
	d := a.Dose()
	where := "bare"
	if aim == ThinShoe {
		where = "in the next shoe"
	}
	add := func(on body.Date, minutes int, in, words string) {
		placed = append(placed, Placed{on, a.Stage, minutes, d.Times, d.Contacts, d.Part, in, words})
	}
	last, n, done := doneOf(days, today)
	runs := slices.ContainsFunc(days, func(x Day) bool { return x.Run != "" })
	d.Days -= n
	if d.Weekly {
		d.Minutes = max(0, d.Minutes-int(math.Ceil(done)))
	}
	for i := 1; i < len(days); i++ {
		x, before := days[i], days[i-1]
		if x.On < today || x.Away || x.On == today && !fresh && a.Stage >= Bouncing {
			continue
		}
		free := last == "" || x.On.Sub(last) >= 2
		switch {
		case a.Stage == Home:
			add(x.On, d.Minutes, "own", fmt.Sprintf("%s at home, %d min; a soft ball under the foot first", where, d.Minutes))
		case a.Stage == Walking:
			times := ""
			if d.Times > 1 {
				times = "twice "
			}
			add(x.On, d.Minutes, "own", fmt.Sprintf("walk %s, %s%d min; a soft ball under the foot first", where, times, d.Minutes))
		case a.Stage == Strength && x.Strength:
			add(x.On, 0, "session", where+" in "+d.Words)
		case a.Stage == Bouncing && free && len(placed) < d.Days && !before.Hard && !hasty(x) && (i+1 >= len(days) || !hasty(days[i+1])):
			add(x.On, 0, "own", fmt.Sprintf("%d contacts %s, on grass or a mat", d.Contacts, where))
			last = x.On
		case a.Stage >= RunWalk && free && len(placed) < d.Days && !before.Hard && !hasty(x) && (x.Run == "easy" || !runs) && d.Minutes > 0:
			in := "run"
			if x.Run == "" {
				in = "own"
			}
			add(x.On, d.Minutes, in, "")
			last = x.On
		}
	}
	if a.Stage >= RunWalk && a.Stage != None {
		split(placed, d.Minutes, where)
		if len(placed) > 0 && placed[len(placed)-1].Minutes == 0 {
			placed = placed[:len(placed)-1]
		}
	}
	if len(placed) == 0 && a.Stage >= Strength && d.Days > 0 && (!d.Weekly || d.Minutes > 0) {
		left = "no day of this week has room: not with quality, nor on the day after hard calf work or free bounces"
	}
	return placed, left
}

// doneOf is the last day on which bounces or running were done, and of this week how many days and minutes: what was done of the dose
// is not placed again.
func doneOf(days []Day, today body.Date) (last body.Date, n int, minutes float64) {
	for i, x := range days {
		if !x.Done || x.On > today {
			continue
		}
		if last = x.On; i > 0 {
			n, minutes = n+1, minutes+x.Minutes
		}
	}
	return last, n, minutes
}

// hasty is a day that holds quality: not one for bare feet.
func hasty(d Day) bool { return d.Run == "quality" || d.Run == "long" }

// split shares the week's minutes among its days, the larger half first.
func split(placed []Placed, minutes int, where string) {
	for i := range placed {
		m := (minutes + len(placed) - 1 - i) / len(placed)
		placed[i].Minutes = m
		placed[i].Words = fmt.Sprintf("%d min %s, on firm, smooth ground, early in an easy run", m, where)
		if placed[i].Stage == RunWalk {
			placed[i].Words = fmt.Sprintf("%d min %s, a minute running and a minute walking, on firm, smooth ground", m, where)
		}
	}
}
