package permit

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
)

// Run asks for a part of a run.
func (f Facts) Run(part body.RunPart) Answer {
	return f.May(Ask{Demand: body.Demand{Level: 2, Trains: body.BothLegs, Bears: body.BothLegs, Position: "standing", Run: part},
		Side: body.Both, InForce: true})
}

// Running reports whether nothing but the way back stands against easy minutes.
func (f Facts) Running() bool {
	a := f.Run(body.EasyMinutes)
	return a.May() || !slices.ContainsFunc(a.Reasons, func(r Reason) bool { return r.Cut != "back" && r.Sort != Holds })
}

// MostRunning is the most minutes of running a week holds for now, and why; 0 where nothing says.
func (f Facts) MostRunning() (minutes int, why body.Reason) {
	take := func(n int, r body.Reason) {
		if minutes == 0 || n < minutes {
			minutes, why = n, r
		}
	}
	for _, c := range f.Cuts() {
		if c.Takes.AsBefore {
			r := c.Reason
			r.Says = fmt.Sprintf("at most %d min of running a week, as before: %s", f.Before, c.Reason.Says)
			take(f.Before, r.See("a week before", "%d min", f.Before))
		}
	}
	if f.Back != nil && f.Back.Minutes > 0 {
		take(f.Back.Minutes, f.Back.Reason)
	}
	return minutes, why
}

// RunOn is the run of a day in words, and the fixed run where it stands: none while a warning sign is open, the
// step of the way back, else the fixed run as far as it may be done, with its minutes for now.
func (f Facts) RunOn(on body.Date) (words string, fixed *body.FixedRun) {
	easy, running := f.Run(body.EasyMinutes), f.Running()
	if b := f.Back; running && b != nil && (b.Phase == load.Walking || b.Phase == load.Stepped) {
		return b.Days(on, 1)[on], nil
	}
	week, most := f.rationed()
	for i, r := range f.Profile.Runs {
		switch {
		case r.Weekday != on.Weekday():
			continue
		case !easy.May():
			return "no running until cleared: " + easy.Says(), nil
		}
		part := body.EasyMinutes
		if r.Quality == "quality" {
			part = body.Quality
		}
		r.Minutes = week[i]
		says := fmt.Sprintf("%s run, %d min", r.Quality, r.Minutes)
		if a := f.Run(part); !a.May() {
			r.Quality = "easy"
			says = fmt.Sprintf("easy run, %d min; %s", r.Minutes, a.Says())
		}
		if most > 0 {
			says += fmt.Sprintf("; at most %d min a week for now", most)
		}
		return says, &r
	}
	return "", nil
}

// rationed are the minutes of the fixed runs for now: halved where something halves them, then brought down
// together to what a week may hold. most is 0 where they fit.
func (f Facts) rationed() (minutes []int, most int) {
	sum := 0
	half := slices.ContainsFunc(f.Cuts(), func(c Cut) bool { return c.Takes.HalfRuns })
	for _, r := range f.Profile.Runs {
		if half {
			r.Minutes = (r.Minutes + 1) / 2
		}
		minutes = append(minutes, r.Minutes)
		sum += r.Minutes
	}
	if most, _ = f.MostRunning(); most == 0 || sum <= most {
		return minutes, 0
	}
	for i, n := range minutes {
		minutes[i] = n * most / sum
	}
	return minutes, most
}
