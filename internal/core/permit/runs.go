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
	if x, away := f.AwayOn(on); away && easy.May() {
		return fmt.Sprintf("away until %s: no run", x.Until.Short()), nil
	}
	week, after := f.rationed(on)
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
		if r.Minutes == 0 {
			return "no run: " + after, nil
		}
		if after != "" {
			says += "; " + after
		}
		return says, &r
	}
	return "", nil
}

// rationed are the minutes of the fixed runs of a week, from one of its days: halved where something halves them, brought together
// to what the week was planned to hold, then down to what it may. says what they were brought to; empty where nothing did.
func (f Facts) rationed(on body.Date) (minutes []int, says string) {
	sum := 0
	half := slices.ContainsFunc(f.Cuts(), func(c Cut) bool { return c.Takes.HalfRuns })
	for _, r := range f.Profile.Runs {
		if _, away := f.AwayOn(on.Monday().Add(r.Weekday)); away {
			r.Minutes = 0
		}
		minutes = append(minutes, r.Minutes)
		sum += r.Minutes
	}
	share := func(of int) {
		for i := range minutes {
			minutes[i] = minutes[i] * of / max(1, sum)
		}
		sum = of
	}
	if n, ok := f.Weeks[on.Monday()]; ok && sum > 0 {
		share(n)
		says = fmt.Sprintf("%d min planned this week", n)
	}
	if half {
		for i := range minutes {
			minutes[i] = (minutes[i] + 1) / 2
		}
		sum = (sum + 1) / 2
	}
	if most, _ := f.MostRunning(); most > 0 && sum > most {
		share(most)
		says = fmt.Sprintf("at most %d min a week for now", most)
	}
	return minutes, says
}

// AwayOn is the holiday without running that a day lies in.
func (f Facts) AwayOn(on body.Date) (load.Span, bool) {
	for _, x := range f.Away {
		if x.Holds(on) {
			return x, true
		}
	}
	return load.Span{}, false
}
