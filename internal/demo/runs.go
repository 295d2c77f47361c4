package demo

import (
	"context"
	"math"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/store"
)

// run reports the day's fixed runs, so many times as long, with what a watch tells of them.
func (m member) run(ctx context.Context, tx *store.Tx, runner string, today body.Date, ago int, more float64) error {
	p := m.profile()
	for _, r := range p.Runs {
		if r.Weekday != today.Sub(today.Monday()) {
			continue
		}
		minutes := math.Round(float64(r.Minutes) * more)
		kind, effort, pace, beat := load.EasyRun, 4, 5.7, 164.0
		switch r.Quality {
		case "quality":
			kind, effort, pace, beat = load.QualityRun, 6, 5.1, 171
		case "long":
			kind, effort = load.LongRun, 5
		}
		ran := load.Run{ID: store.NewID(), On: today, Minutes: minutes, Km: math.Round(minutes/pace*10) / 10, RPE: effort,
			Details: load.Details{Kind: kind, Surface: p.Surfaces[ago%len(p.Surfaces)], Shoe: p.Shoes[0].Name, Cadence: beat + float64(ago%4)}}
		if err := tx.AddRun(ctx, runner, ran, "phone", ""); err != nil {
			return err
		}
	}
	return nil
}
