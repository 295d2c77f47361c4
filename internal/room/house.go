package room

import (
	"context"
	"fmt"
	"maps"
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
