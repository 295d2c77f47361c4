package room

import (
	"fmt"
	"time"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/formats"
	"notchback/internal/store"
)

// warmUp is how long a run goes before its first block, seconds; common practice, no source.
const warmUp = 600

// Workout is the run of a day with its blocks, as a watch counts it. ErrNotFound where the day has no blocks inside a run, or they
// may not be done.
func (o Chart) Workout(on body.Date, made time.Time) (formats.Workout, error) {
	w := formats.Workout{Name: "Run, " + on.Short(), WarmS: warmUp, Made: made}
	if _, fixed := o.Facts().RunOn(on); fixed == nil || o.Programme == nil || on < o.Today || on > o.Today.Add(27) {
		return w, fmt.Errorf("finding a run with blocks on %s: %w", on, store.ErrNotFound)
	}
	for _, it := range o.training(on).items {
		if it.slot != catalog.InRun || len(it.sides) == 0 {
			continue
		}
		d := it.sides[0].dose
		if d.Seconds > 0 {
			w.Blocks = append(w.Blocks, formats.WorkoutBlock{Name: it.exercise.Name, Times: d.TotalSets(), OnS: d.Seconds, OffS: max(30, d.OffS),
				Spm: d.Spm})
		}
	}
	if len(w.Blocks) == 0 {
		return w, fmt.Errorf("finding blocks inside the run of %s: %w", on, store.ErrNotFound)
	}
	return w, nil
}

// workoutDays are the days of the next week that have such a run.
func (o Chart) workoutDays() []body.Date {
	out := []body.Date{}
	for i := range 7 {
		if _, err := o.Workout(o.Today.Add(i), time.Time{}); err == nil {
			out = append(out, o.Today.Add(i))
		}
	}
	return out
}
