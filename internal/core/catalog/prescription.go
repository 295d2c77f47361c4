package catalog

import "notchback/internal/core/body"

// Prescription is what one side of a runner does on a rail from a day on: an exercise, its exact
// dose and why. A parked one is not trained.
type Prescription struct {
	ID       string    `json:"id"`
	Rail     string    `json:"rail"`
	Side     body.Side `json:"side" enum:"left,right"`
	Exercise string    `json:"exercise"`
	Dose     body.Dose `json:"dose"`
	From     body.Date `json:"from"`
	Cause    string    `json:"cause"`
	Parked   bool      `json:"parked"`
}

// Name returns the exercise's name.
func (p Prescription) Name() string {
	r, _ := Find(p.Rail)
	x, _ := r.Exercise(p.Exercise)
	return x.Name
}

// Text writes the prescription as a coach reads it.
func (p Prescription) Text() string {
	if p.Parked {
		return "parked"
	}
	return p.Name() + ", " + p.Dose.String()
}
