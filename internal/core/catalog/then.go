package catalog

import (
	"notchback/internal/core/body"
)

// Follow finds what follows a range exercise in a session: range that was gained is controlled at once. It is the first
// of its followers that belongs to the approach and may be done; none where a rail of theirs stands in the session anyway.
func (c Catalogue) Follow(x Exercise, beside []string, may func(Rail, Exercise) bool) (Rail, Exercise, body.Dose, bool) {
	for _, t := range x.Then {
		rail, y, known := c.Holding(t.Exercise)
		for _, id := range beside {
			if known && id == rail.ID {
				return Rail{}, Exercise{}, body.Dose{}, false
			}
		}
		if dose, err := body.ParseDose(t.Dose); known && err == nil && may(rail, y) {
			return rail, y, dose, true
		}
	}
	return Rail{}, Exercise{}, body.Dose{}, false
}

// Holding is the rail an exercise stands on, with the exercise.
func (c Catalogue) Holding(exercise string) (Rail, Exercise, bool) {
	for _, r := range c.Rails {
		if x, ok := r.Exercise(exercise); ok {
			return r, x, true
		}
	}
	return Rail{}, Exercise{}, false
}

// thenSeconds is what a side's follower takes.
func (x Exercise) thenSeconds() int {
	if len(x.Then) == 0 {
		return 0
	}
	d, _ := body.ParseDose(x.Then[0].Dose)
	if d.Timed() {
		return d.Sets * d.Seconds
	}
	return d.Sets * d.Reps * (d.Seconds + 2)
}

// checkThen refuses a follower that does not exist, is counted otherwise, asks more than its own first dose, or more of the
// legs than a seated start.
func (c Catalogue) checkThen(x Exercise) error {
	for _, t := range x.Then {
		_, y, ok := c.Holding(t.Exercise)
		if !ok {
			return body.Refuse("then", "of %s names %q, which does not exist", x.Name, t.Exercise)
		}
		d, err := body.ParseDose(t.Dose)
		switch {
		case err != nil:
			return body.Refuse("then", "of %s, %s: %s", x.Name, y.Name, err)
		case d.Kind != y.Ladder[0].Kind || d.Work(0, 0) > y.Ladder[0].Work(0, 0):
			return body.Refuse("then", "of %s: %s of “%s” is more than its first dose, %s", x.Name, d, y.Name, y.Ladder[0])
		case y.Level > 1 || y.Impact.Beyond(body.NoImpact) || y.Edge || y.ToesBack:
			return body.Refuse("then", "of %s: “%s” asks more than a seated start", x.Name, y.Name)
		}
	}
	return nil
}
