package adjust

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"notchback/internal/core/body"
	"notchback/internal/outcomes"
)

// told is all that is said of a row: what is proposed, and what the coach may take instead.
type told struct {
	Proposal Proposal
	Instead  string
}

// TestOutcomes draws lives, some of them made worse, and what is proposed for each of their rows.
func TestOutcomes(t *testing.T) {
	outcomes.Compare(t, 1200, func(seed uint64) any {
		r := rand.New(rand.NewPCG(seed, 11))
		l := drawLife(r)
		for range r.IntN(8) {
			l.worsen(r)
		}
		if r.IntN(3) == 0 {
			c := newTally()
			l = l.held([]body.Date{today.Add(-4 - r.IntN(6)), today.Add(-1 - r.IntN(3))}, nil, &c)
		}
		ins := l.inputs(nil, today)
		out := []told{}
		for i, p := range ProposeAll(ins) {
			v := []Verdict{Up, Hold, Back, Park, Return}[r.IntN(5)]
			taken, err := Choose(ins[i], v)
			out = append(out, told{p, fmt.Sprint(v, taken.To, err)})
		}
		return out
	})
}
