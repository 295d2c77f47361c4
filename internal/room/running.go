package room

import (
	"notchback/internal/core/body"
	"notchback/internal/core/load"
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
func (o Chart) WayBack() *WayBack {
	b := o.Facts().Back
	if b == nil || !o.Facts().Running() {
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
