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
	"notchback/internal/record"
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
	out := []Effect{}
	err := d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		all, err := d.everyone(ctx, tx, false, record.NeedTests)
		for _, o := range all {
			with := o
			with.memo = newMemo()
			with.House.Changed, with.House.Approaches = maps.Clone(o.House.Changed), maps.Clone(o.House.Approaches)
			change(&with.House)
			if changes := differences(o.ranking(), with.ranking()); len(changes) > 0 {
				out = append(out, Effect{o.ID, o.Name, changes})
			}
		}
		return err
	})
	return out, err
}

// ChangeRule sets a figure of the house rules; nil sets it back to the default. was is the figure that the coach saw: where
// somebody made it another meanwhile, ErrStale. What is so already is not written again.
func (d *Desk) ChangeRule(ctx context.Context, a Actor, key string, value, was *float64) error {
	return d.changeHouse(ctx, a, func(h house.Rules) (seen, already bool) {
		now, changed := h.Changed[key]
		return was == nil || h.Get(key) == *was, changed == (value != nil) && (value == nil || now == *value)
	}, func(tx *store.Tx) error { return tx.ChangeRule(ctx, key, value, a.Coach) })
}

// ChangeApproach sets the practice's answer to a question; empty sets it back. was is the answer that was seen, as ChangeRule.
func (d *Desk) ChangeApproach(ctx context.Context, a Actor, question, choice string, was *string) error {
	return d.changeHouse(ctx, a, func(h house.Rules) (seen, already bool) {
		return was == nil || h.Approaches[question] == *was, h.Approaches[question] == choice
	}, func(tx *store.Tx) error { return tx.ChangeApproach(ctx, question, choice, a.Coach) })
}

// ChangeCore sets the stations of the practice's core screen; none sets them back. was as ChangeRule.
func (d *Desk) ChangeCore(ctx context.Context, a Actor, stations, was []string) error {
	return d.changeHouse(ctx, a, func(h house.Rules) (seen, already bool) {
		return was == nil || slices.Equal(CoreStations(h), was), slices.Equal(h.CoreStations, stations)
	}, func(tx *store.Tx) error { return tx.ChangeCore(ctx, stations, a.Coach) })
}

// ChangePlates sets the thicknesses the practice owns, mm; none sets them back. was as ChangeRule.
func (d *Desk) ChangePlates(ctx context.Context, a Actor, plates, was []float64) error {
	return d.changeHouse(ctx, a, func(h house.Rules) (seen, already bool) {
		return was == nil || slices.Equal(h.PlatesMm, was), slices.Equal(h.PlatesMm, plates)
	}, func(tx *store.Tx) error { return tx.ChangePlates(ctx, plates, a.Coach) })
}

// changeHouse writes a change while nobody else changes the rules.
func (d *Desk) changeHouse(ctx context.Context, a Actor, is func(house.Rules) (seen, already bool), write func(*store.Tx) error) error {
	return d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		if err := tx.HoldHouse(ctx); err != nil {
			return err
		}
		h, err := tx.House(ctx)
		if err != nil {
			return err
		}
		switch seen, already := is(h.Rules); {
		case already:
			return nil
		case !seen:
			return fmt.Errorf("changing the house rules: %w", store.ErrStale)
		}
		return write(tx)
	})
}

// everyone loads parts of every runner of a practice, by name; archived ones only when asked.
func (d *Desk) everyone(ctx context.Context, tx *store.Tx, archived bool, need record.Need) ([]Chart, error) {
	records, h, err := tx.Records(ctx, archived, d.since(), need)
	if err != nil {
		return nil, err
	}
	out, rules := make([]Chart, 0, len(records)), rulesOf(h)
	for _, r := range records {
		out = append(out, NewChart(r, rules, d.day(r.Timezone)))
	}
	return out, nil
}

// ranking is what a room of findings begins with.
type ranking struct {
	findings []screen.Finding
	limiters []screen.Limiter
}

func (o Chart) ranking() ranking {
	f := o.findings()
	return ranking{f, screen.Limiters(f, o.Profile, o.House)}
}

func differences(was, is ranking) []string {
	out := []string{}
	key := func(f screen.Finding) string { return f.Name + ", " + string(f.Side) + f.Context }
	old := map[string]screen.Finding{}
	for _, f := range was.findings {
		old[key(f)] = f
	}
	for _, f := range is.findings {
		if o, ok := old[key(f)]; ok && o.Verdict != f.Verdict {
			name := f.Name
			if f.Side != body.Both && f.Limiter != "side_difference" {
				name += ", " + string(f.Side)
			}
			out = append(out, fmt.Sprintf("%s: %s → %s", name, o.Verdict, f.Verdict))
		}
	}
	first := func(r ranking) string {
		if len(r.limiters) > 0 && r.limiters[0].Score > 0 {
			return r.limiters[0].Name
		}
		return "none"
	}
	if first(was) != first(is) {
		out = append(out, fmt.Sprintf("first limiter: %s → %s", first(was), first(is)))
	}
	return out
}

// Typical computes the practice's own measurement errors from repeat pairs: one runner, two visits a few days apart, no
// training logged between.
func (d *Desk) Typical(ctx context.Context, a Actor) (out []screen.Typical, err error) {
	err = d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		h, err := tx.House(ctx)
		if err != nil {
			return err
		}
		repeated, err := tx.RepeatedVisits(ctx, h.Rules.Int("typical.days"))
		if err != nil {
			return err
		}
		pairs := map[string][]screen.Pair{}
		for _, v := range repeated {
			repeatPairs(v[0], v[1], pairs)
		}
		out = screen.TypicalErrors(pairs, h.Rules)
		return nil
	})
	return out, err
}

// repeatPairs adds what two visits both measured.
func repeatPairs(first, second []screen.Trial, pairs map[string][]screen.Pair) {
	for _, m := range screen.Measures {
		for _, side := range m.Sides() {
			for _, key := range screen.Contexts(first, m) {
				a, okA := screen.Read(screen.In(first, key), m.ID, side)
				b, okB := screen.Read(screen.In(second, key), m.ID, side)
				if okA && okB && !a.AtLeast && !b.AtLeast {
					pairs[m.ID] = append(pairs[m.ID], screen.Pair{First: a.Value, Second: b.Value})
				}
			}
		}
	}
}
