package room_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// What a runner writes stands on Today with its age until a coach has read it; what a coach writes stands on the phone.
func TestNotesBetweenRunnerAndCoach(t *testing.T) {
	d := testkit.NewDesk(t, "notes@test.example")
	runner := programmed(t, d, testkit.Profile())
	phone := room.Actor{Practice: d.Actor.Practice}
	today := look(t, d, runner).Today
	line := func() string {
		all, err := d.Today(ctx, d.Actor)
		require.NoError(t, err)
		for _, l := range all {
			if l.Kind == "note" {
				return l.Sentence
			}
		}
		return ""
	}
	write := func(n record.Note) error { n.ID = store.NewID(); return d.AddNote(ctx, phone, runner, "phone", n) }

	require.NoError(t, write(record.Note{On: today, Skipped: []record.Skipped{{Exercise: "one_floor", Why: "time"}}}))
	assert.Empty(t, line(), "no time asks nobody")
	first := record.Note{ID: store.NewID(), On: today.Add(-1), Text: "  Is this <b>right</b>?\r\nSee https://x.example \u202egnol\x07 "}
	for range 2 { // sent again
		require.NoError(t, d.AddNote(ctx, phone, runner, "phone", first))
	}
	assert.Equal(t, "Note, unread since today: “Is this <b>right</b>? See https://x.example gnol”", line())
	d.Shift(2 * day)
	require.NoError(t, write(record.Note{On: look(t, d, runner).Today, Skipped: []record.Skipped{{Exercise: "one_floor", Why: "unsure"}}}))
	assert.True(t, strings.HasPrefix(line(), "Note, unread for 2 days: “Is this"), line())
	assert.True(t, strings.HasSuffix(line(), ", and 1 more"), line())

	v, err := room.AdjustRoom.Look(ctx, d.Desk, d.Actor, runner)
	require.NoError(t, err)
	require.Len(t, v.Notes, 3)
	assert.Equal(t, []string{"One-leg raises, floor: not sure how"}, v.Notes[0].Skipped)
	assert.Equal(t, "Is this <b>right</b>?\nSee https://x.example gnol", v.Notes[1].Text)
	for _, n := range v.Notes[:2] {
		assert.True(t, n.Unread)
		require.NoError(t, d.ReadNote(ctx, d.Actor, runner, n.ID))
		require.NoError(t, d.ReadNote(ctx, d.Actor, runner, n.ID), "read twice")
	}
	assert.Empty(t, line())
	assert.ErrorIs(t, d.ReadNote(ctx, d.Actor, d.Runner(t, testkit.Profile()), first.ID), store.ErrNotFound, "another runner's")

	answer := record.Note{ID: store.NewID(), On: today, Text: "Yes."}
	require.NoError(t, d.AddNote(ctx, d.Actor, runner, "coach", answer))
	assert.Empty(t, line(), "a coach's own note waits for nobody")
	p := look(t, d, runner).Phone(d.Now())
	require.Len(t, p.Notes, 2, "what was skipped is no note to read on the phone")
	assert.Equal(t, "Yes.", p.Notes[0].Text)
	assert.NotEmpty(t, p.Notes[0].By)
	assert.Empty(t, p.Notes[1].By)
	assert.False(t, p.Notes[1].Unread)
	d.Shift(32 * day)
	assert.Empty(t, look(t, d, runner).Phone(d.Now()).Notes, "after four weeks they leave the phone")
}

func TestANoteIsCheckedAtItsEdges(t *testing.T) {
	d := testkit.NewDesk(t, "edges@test.example")
	runner := d.Runner(t, testkit.Profile())
	today := look(t, d, runner).Today
	for name, c := range map[string]struct {
		note  record.Note
		field string // empty: it may be
	}{
		"2,000 letters":      {record.Note{On: today, Text: strings.Repeat("å", 2000)}, ""},
		"2,001":              {record.Note{On: today, Text: strings.Repeat("å", 2001)}, "text"},
		"nothing":            {record.Note{On: today, Text: " \n\u200f\x00 "}, "text"},
		"no day":             {record.Note{On: "soon", Text: "a"}, "on"},
		"30 left out":        {record.Note{On: today, Skipped: make([]record.Skipped, 30)}, "skipped[0]"},
		"31":                 {record.Note{On: today, Skipped: make([]record.Skipped, 31)}, "skipped"},
		"a reason of theirs": {record.Note{On: today, Skipped: []record.Skipped{{Exercise: "one_floor", Why: "pain"}}}, "skipped[0]"},
		"too hard":           {record.Note{On: today, Skipped: []record.Skipped{{Exercise: "one_floor", Why: "hard"}}}, ""},
	} {
		c.note.ID = store.NewID()
		err := d.AddNote(ctx, room.Actor{Practice: d.Actor.Practice}, runner, "phone", c.note)
		var f *body.FieldError
		if c.field == "" {
			assert.NoError(t, err, name)
		} else if assert.ErrorAs(t, err, &f, name) {
			assert.Equal(t, c.field, f.Field, name)
		}
	}
	tomorrow := record.Note{ID: store.NewID(), On: today.Add(1), Text: "a"}
	assert.ErrorIs(t, d.AddNote(ctx, room.Actor{Practice: d.Actor.Practice}, runner, "phone", tomorrow), room.ErrEarly)
}
