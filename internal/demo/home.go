package demo

import (
	"context"
	"math/rand/v2"

	"notchback/internal/core/body"
	"notchback/internal/core/selfcheck"
	"notchback/internal/record"
	"notchback/internal/standin"
	"notchback/internal/store"
)

// atHome is what a member sent from home: two self-checks four weeks apart, the older one seen, and a question.
func (m member) atHome(ctx context.Context, tx *store.Tx, runner string, yesterday body.Date) error {
	r := rand.New(rand.NewPCG(3, 14))
	for i, cadence := range []float64{158, 167} {
		w := standin.Walker{Cadence: cadence, Step: 0.015, Drift: 0.004}
		later := float64(i)
		c := selfcheck.Check{ID: store.NewID(), On: yesterday.Add(28 * (i - 1)), Tries: []selfcheck.Try{
			{Item: "brim", Side: body.Both, Value: 2 - later}, {Item: "loose", Side: body.Both, Value: 1},
			{Item: "sound", Side: body.Both, Value: 2 - later},
			{Item: "line", Side: body.Left, Value: 1}, {Item: "line", Side: body.Right, Value: 0},
			{Item: "heels", Side: body.Left, Value: 0}, {Item: "heels", Side: body.Right, Value: 3 * later, Where: body.HeelSole},
			{Item: "open", Side: body.Left, Value: 38 + 4*later}, {Item: "open", Side: body.Right, Value: 41},
			{Item: "arch", Side: body.Left, Value: 1}, {Item: "arch", Side: body.Right, Value: 1},
			{Item: "toes", Side: body.Left, Skipped: "no room for it"},
		}}
		for range 4 {
			c.Tries = append(c.Tries, selfcheck.Try{Item: "cadence", Side: body.Both, Parts: []float64{float64(w.Count(r))}})
		}
		for k := range 3 {
			cm := 9 + 0.5*float64(k%2)
			c.Tries = append(c.Tries, selfcheck.Try{Item: "knee", Side: body.Left, Value: cm},
				selfcheck.Try{Item: "knee", Side: body.Right, Value: cm + 2*later})
		}
		c, err := c.Enter(m.profile())
		if err != nil {
			return err
		}
		if err := tx.AddSelfCheck(ctx, runner, c); err != nil {
			return err
		}
		if i == 0 {
			if err := tx.SeeSelfCheck(ctx, runner, c.ID); err != nil {
				return err
			}
		}
	}
	return tx.AddNote(ctx, runner, record.Note{ID: store.NewID(), On: yesterday, Written: yesterday,
		Text: "The plate is lent out this week. Is a folded towel under the toes all right instead?"}, "")
}
