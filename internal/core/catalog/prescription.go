package catalog

import (
	"time"

	"notchback/internal/core/body"
)

// Prescription is what one side of a runner does on a rail from a day on: an exercise, its exact
// dose and why. A parked one is not trained.
type Prescription struct {
	ID       string    `json:"id"`
	Rail     string    `json:"rail"`
	Side     body.Side `json:"side"`
	Exercise string    `json:"exercise"`
	Name     string    `json:"name" doc:"the exercise's name"`
	Dose     body.Dose `json:"dose"`
	From     body.Date `json:"from"`
	Cause    string    `json:"cause"`
	Parked   bool      `json:"parked"`
	// Set orders the dose and a clearance of the same day; zero where unknown.
	Set time.Time `json:"set,omitzero" doc:"the moment it was set"`
}

// The causes of a parked prescription that only a new test or the coach's placing brings back: missed for
// four weeks, or it stood through a grave warning sign.
const (
	CauseMissed = "missed"
	CauseRetest = "retest"
	CausePlaced = "first notch" // by a test, or by the coach
)

// WaitsForTest reports a parked prescription that only a new test or the coach's placing brings back.
func (p Prescription) WaitsForTest() bool {
	return p.Parked && (p.Cause == CauseMissed || p.Cause == CauseRetest)
}

// Text writes the prescription as a coach reads it.
func (p Prescription) Text() string {
	if p.Parked {
		return "parked"
	}
	return p.Name + ", " + p.Dose.String()
}

// Week is one week of a published programme.
type Week struct {
	Number   int       `json:"number"`
	Dose     body.Dose `json:"dose"`
	Sessions float64   `json:"sessions" doc:"a week, by its own rhythm"`
}

// Weeks lays a published exercise out week by week, from its stages and rhythm; none for an exercise
// that follows no published programme.
func (r Rail) Weeks(x Exercise) []Week {
	out := []Week{}
	sessions := float64(r.PerWeek)
	if x.EveryDays > 0 {
		sessions = 7 / float64(x.EveryDays)
	}
	for i, days := range x.StageDays {
		for range days / 7 {
			out = append(out, Week{len(out) + 1, x.Ladder[i], sessions})
		}
	}
	return out
}
