package room

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strconv"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
	"notchback/internal/store"
)

func numeral(n int) string { return strconv.Itoa(n) }

// Effect is what a change of the house rules would do to one runner's findings.
type Effect struct {
	Runner  string   `json:"runner"`
	Name    string   `json:"name"`
	Changes []string `json:"changes"`
}

// Effects previews a change: every runner's findings and ranking are read with it and without it.
// Nothing is stored.
func (d *Desk) Effects(ctx context.Context, a Actor, change func(*house.Rules)) ([]Effect, error) {
	all, err := d.All(ctx, a, false)
	if err != nil {
		return nil, err
	}
	out := []Effect{}
	for _, o := range all {
		with := o
		with.House.Changed, with.House.Approaches = maps.Clone(o.House.Changed), maps.Clone(o.House.Approaches)
		change(&with.House)
		if changes := differences(o.Read(), with.Read()); len(changes) > 0 {
			out = append(out, Effect{o.ID, o.Name, changes})
		}
	}
	return out, nil
}

func differences(was, is Read) []string {
	out := []string{}
	key := func(f screen.Finding) string { return f.Name + ", " + string(f.Side) + f.Context }
	old := map[string]screen.Finding{}
	for _, f := range was.Findings {
		old[key(f)] = f
	}
	for _, f := range is.Findings {
		if o, ok := old[key(f)]; ok && o.Verdict != f.Verdict {
			name := f.Name
			if f.Side != body.Both && f.Limiter != "side_difference" {
				name += ", " + string(f.Side)
			}
			out = append(out, fmt.Sprintf("%s: %s → %s", name, o.Verdict, f.Verdict))
		}
	}
	first := func(r Read) string {
		if len(r.Limiters) > 0 && r.Limiters[0].Score > 0 {
			return r.Limiters[0].Name
		}
		return "none"
	}
	if first(was) != first(is) {
		out = append(out, fmt.Sprintf("first limiter: %s → %s", first(was), first(is)))
	}
	return out
}

// Typical computes the practice's own measurement errors from repeat pairs: one runner, two finished
// screens a few days apart, no training logged between.
func (d *Desk) Typical(ctx context.Context, a Actor) (out []screen.Typical, err error) {
	err = d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		r, err := practiceRules(ctx, tx)
		if err != nil {
			return err
		}
		pairs := map[string][]screen.Pair{}
		for _, archived := range []bool{false, true} {
			cs, err := tx.Charts(ctx, archived, d.since())
			if err != nil {
				return err
			}
			trained, err := tx.TrainedDays(ctx)
			if err != nil {
				return err
			}
			for _, c := range cs {
				repeatPairs(d.tidy(c, r), trained[c.ID], pairs)
			}
		}
		out = screen.TypicalErrors(pairs, r.house)
		return nil
	})
	return out, err
}

func repeatPairs(o Open, trained []body.Date, pairs map[string][]screen.Pair) {
	visits := o.visits()
	for i := 1; i < len(visits); i++ {
		first, second := visits[i-1], visits[i]
		if second.On.Sub(first.On) > o.House.Int("typical.days") || slices.ContainsFunc(trained, func(d body.Date) bool { return d >= first.On && d <= second.On }) {
			continue
		}
		for _, m := range screen.Measures {
			for _, side := range m.Sides() {
				for _, key := range screen.Contexts(first.Trials, m) {
					a, okA := screen.Read(screen.In(first.Trials, key), m.ID, side)
					b, okB := screen.Read(screen.In(second.Trials, key), m.ID, side)
					if okA && okB && !a.AtLeast && !b.AtLeast {
						pairs[m.ID] = append(pairs[m.ID], screen.Pair{First: a.Value, Second: b.Value})
					}
				}
			}
		}
	}
}
