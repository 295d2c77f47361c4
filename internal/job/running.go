package job

import (
	"cmp"
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
)

// RunDay is one dated day of the way back to running.
type RunDay struct {
	On   body.Date `json:"on"`
	What string    `json:"what"`
}

// WayBack is where a runner stands on the way back to running, with its dated days.
type WayBack struct {
	load.Returning
	Days []RunDay `json:"days" doc:"the next two weeks"`
}

// WayBack is nil when running goes on as ever.
func (o Open) WayBack() *WayBack {
	b := o.Facts().Back
	if b == nil || !o.running() {
		return nil
	}
	out := &WayBack{Returning: *b, Days: []RunDay{}}
	days := b.Days(o.Today, 14)
	for i := range 14 {
		if what, ok := days[o.Today.Add(i)]; ok {
			out.Days = append(out.Days, RunDay{o.Today.Add(i), what})
		}
	}
	return out
}

// running reports whether nothing but the way back stands against easy minutes.
func (o Open) running() bool {
	a := o.mayRun(body.EasyMinutes)
	return a.May() || !slices.ContainsFunc(a.Reasons, func(r permit.Reason) bool { return r.Cut != "back" && r.Sort != permit.Holds })
}

// runOn is the run of a day in words, and the fixed run where it stands as it is: none while a warning sign is
// open, the step of the way back, else the fixed run as far as it may be done.
func (o Open) runOn(on body.Date) (words string, fixed *body.FixedRun) {
	back := o.Facts().Back
	if !o.running() {
		back = nil
	}
	if back != nil && (back.Phase == load.Walking || back.Phase == load.Stepped) {
		return back.Days(on, 1)[on], nil
	}
	for _, r := range o.Profile.Runs {
		if r.Weekday != on.Weekday() {
			continue
		}
		if a := o.mayRun(body.EasyMinutes); !a.May() {
			return "no running until cleared: " + a.Says(), nil
		}
		if back != nil && back.Phase == load.Halved {
			r.Minutes = (r.Minutes + 1) / 2
		}
		says := fmt.Sprintf("%s run, %d min", r.Quality, r.Minutes)
		if a := o.mayRun(runPart(r)); !a.May() {
			r.Quality = "easy"
			says = fmt.Sprintf("easy run, %d min; %s", r.Minutes, a.Says())
		}
		return says, cmp.Or(fixed, &r)
	}
	return "", nil
}
