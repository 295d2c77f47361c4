package room

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/record"
)

// A hold is recorded once for what it saw. A move up that waits for the other leg stays news for as long as it waits:
// it is recorded again only when there is more to see, or when it became another verdict.
func TestAHoldIsRecordedOnceForWhatItSaw(t *testing.T) {
	waits := adjust.Proposal{Rail: "big_toe", Side: body.Left, Verdict: adjust.Hold, News: true, Clean: true, Seen: 344}
	held := record.Decision{Rail: "big_toe", Side: body.Left, Verdict: adjust.Hold, Seen: 344}
	for name, c := range map[string]struct {
		before func(*record.Decision)
		want   int
	}{
		"for as much":              {func(*record.Decision) {}, 0},
		"for more":                 {func(d *record.Decision) { d.Seen = 345 }, 0},
		"for less":                 {func(d *record.Decision) { d.Seen = 343 }, 1},
		"on the other side":        {func(d *record.Decision) { d.Side = body.Right }, 1},
		"on another rail":          {func(d *record.Decision) { d.Rail = "toe_spread" }, 1},
		"by a coach, who may undo": {func(d *record.Decision) { d.Coach = "Maren" }, 1},
		"as another verdict":       {func(d *record.Decision) { d.Verdict = adjust.Back }, 1},
	} {
		d := held
		c.before(&d)
		o := Chart{Record: record.Record{Plan: &record.Plan{Programme: &record.Programme{}}, Past: &record.Past{Decisions: []record.Decision{d}}},
			memo: newMemo()}
		o.memo.proposals, o.memo.proposed = []adjust.Proposal{waits}, true
		assert.Len(t, o.holds(), c.want, "recorded before %s", name)
	}
}
