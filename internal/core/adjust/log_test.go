package adjust

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
)

// What was shown may be the dose that was set or less of it, on its exercise or an earlier one; nothing else.
func TestWhatWasShown(t *testing.T) {
	rail, ok := catalog.Shipped.Find("calf_straight")
	require.True(t, ok)
	reps := func(sets, n int) body.Dose { return body.Dose{Kind: body.Repetitions, Sets: sets, Reps: n} }
	set := catalog.Prescription{ID: "p", Rail: rail.ID, Side: body.Left, Exercise: "one_floor", Dose: reps(3, 10)}
	for name, c := range map[string]struct {
		shown Shown
		may   bool
	}{
		"as set":                {Shown{"one_floor", reps(3, 10)}, true},
		"fewer sets":            {Shown{"one_floor", reps(1, 10)}, true},
		"fewer repetitions":     {Shown{"one_floor", reps(3, 1)}, true},
		"an earlier exercise":   {Shown{"two_floor", reps(3, 10)}, true},
		"more repetitions":      {Shown{"one_floor", reps(3, 11)}, false},
		"a later exercise":      {Shown{"one_step", reps(1, 1)}, false},
		"no set":                {Shown{"one_floor", reps(0, 10)}, false},
		"no repetition":         {Shown{"one_floor", reps(3, 0)}, false},
		"fewer than no set":     {Shown{"one_floor", body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 10, Extra: -1}}, false},
		"held instead":          {Shown{"one_floor", body.Dose{Kind: body.Hold, Sets: 1, Seconds: 5}}, false},
		"another rail's":        {Shown{"balance_open", body.Dose{Kind: body.Hold, Sets: 1, Seconds: 5}}, false},
		"with weight on it too": {Shown{"one_floor", body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 10, LoadKg: 4}}, false},
	} {
		got, may := AsShown(rail, set, c.shown, 70)
		assert.Equal(t, c.may, may, name)
		if want := set; may {
			want.Exercise, want.Dose = c.shown.Exercise, c.shown.Dose
			x, _ := rail.Exercise(c.shown.Exercise)
			want.Name = x.Name
			assert.Equal(t, want, got, name)
		}
	}
	gone := set
	gone.Exercise = "not there"
	_, may := AsShown(rail, gone, Shown{"one_floor", reps(1, 1)}, 70)
	assert.False(t, may, "what was set is on no rail any more")
}

// A correction takes the place of what it corrects, on that day, with what was said before beside it; two of one log, or
// of one that is too old to be here, count once: the last that came.
func TestCorrectionsTakeThePlace(t *testing.T) {
	at := func(id, of string, seq int64, on body.Date) Log { return Log{ID: id, Supersedes: of, Seq: seq, On: on} }
	first, alone, later := at("a", "", 1, today.Add(-4)), at("b", "", 2, today.Add(-3)), at("c", "a", 3, today)
	got := Corrected([]Log{alone, first, later, at("d", "c", 5, today), at("e", "a", 4, today)})
	require.Len(t, got, 2)
	assert.Equal(t, []string{"d", "b"}, []string{got[0].ID, got[1].ID}, "in the order of their days")
	assert.Equal(t, today.Add(-4), got[0].On, "the day of what it corrects")
	was := []string{}
	for _, w := range got[0].Was {
		was = append(was, w.ID)
	}
	assert.Equal(t, []string{"a", "c", "e"}, was)
	assert.Nil(t, got[1].Was)
	old := Corrected([]Log{at("x", "gone", 7, today), at("y", "gone", 8, today)})
	require.Len(t, old, 1)
	assert.Equal(t, "y", old[0].ID)
}

// Of two reports of the same work the worse of each value counts.
func TestTheWorseOfTwoReports(t *testing.T) {
	for _, c := range []struct{ a, b, want int }{{0, 0, 0}, {0, 5, 5}, {5, 0, 5}, {8, 5, 5}, {5, 8, 5}} {
		assert.Equal(t, c.want, Log{CrampAt: c.a}.worse(Log{CrampAt: c.b}).CrampAt, "cramps at %d and %d", c.a, c.b)
	}
	x := Log{Pain: 2, RPE: 9, Faults: []string{"knee in"}}.worse(Log{Pain: 4, RPE: 7, Faults: []string{"toes grip", "knee in"}})
	assert.Equal(t, Log{Pain: 4, RPE: 9, Faults: []string{"knee in", "toes grip"}}, x)
}

// Pain of a session is a mark where the exercise works, on both sides where both legs work; a correction never makes it
// milder. What releases tissue may be felt.
func TestPainOfSessionsAsMarks(t *testing.T) {
	log := func(rail, exercise string, side body.Side, pain int) Log {
		return Log{On: today, Seq: 9, Pain: pain, Prescription: catalog.Prescription{Rail: rail, Exercise: exercise, Side: side}}
	}
	corrected := log("calf_straight", "one_floor", body.Right, 1)
	corrected.Was = []Log{{Pain: 6}}
	got := Hurts([]Log{log("calf_straight", "one_floor", body.Left, 3), log("calf_straight", "two_floor", body.Left, 4), corrected,
		log("calf_straight", "one_floor", body.Left, 0), log("calf_release", "calf_roller_two", body.Left, 7),
		log("calf_straight", "not there", body.Left, 7)}, catalog.Shipped)
	rail, _ := catalog.Shipped.Find("calf_straight")
	x, _ := rail.Exercise("one_floor")
	place := x.Main[0]
	mark := func(side body.Side, pain int) permit.Mark {
		return permit.Mark{Region: place, Side: side, Pain: pain, On: today, Seq: 9}
	}
	assert.Equal(t, []permit.Mark{mark(body.Left, 3), mark(body.Both, 4), mark(body.Right, 6)}, got)
}

// After a cramp a load at a repetitions-maximum grows by one repetition until it is the listed one again.
func TestAfterACrampALoadGrowsByOne(t *testing.T) {
	rail, x, all := catalog.Rail{}, catalog.Exercise{}, []body.Dose{}
	in := owner()
	for _, r := range catalog.Shipped.Rails {
		for _, e := range r.Exercises {
			ladder := catalog.Limits{Equipment: in.Profile.Equipment, MassKg: in.Profile.MassKg, Values: in.Limits.Values}.Doses(e)
			if len(ladder) > 0 && ladder[0].Kind == body.RMLoad && len(all) == 0 {
				rail, x, all = r, e, ladder
			}
		}
	}
	require.NotEmpty(t, all, "no exercise is loaded by a repetitions-maximum")
	in.Rail = rail
	in.Current = catalog.Prescription{ID: "p", Rail: rail.ID, Side: body.Left, Exercise: x.ID, Dose: all[0], From: today.Add(-20)}
	in.Logs, in.Mornings = nil, nil
	in = whole(in)
	f := gather(&in)
	for reps, want := range map[int]int{all[0].Reps - 2: all[0].Reps - 1, all[0].Reps - 1: all[0].Reps} {
		d := all[0]
		d.Kind, d.Reps, d.Seconds = body.Repetitions, reps, 0
		next, ok := f.within(x, d)
		require.True(t, ok)
		assert.Equal(t, want, next.Reps, "from %d", reps)
		assert.Equal(t, body.Repetitions, next.Kind)
	}
	d := all[0]
	d.Kind, d.Seconds = body.Repetitions, 0
	next, ok := f.within(x, d)
	require.True(t, ok)
	assert.Equal(t, all[0], next, "the listed one again")
}

// An exercise was done on the last day that anything of it was.
func TestWhatWasDone(t *testing.T) {
	log := func(exercise string, on int, done ...int) Log {
		return Log{On: today.Add(on), Done: done, Prescription: catalog.Prescription{Exercise: exercise,
			Dose: body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8}}}
	}
	assert.Equal(t, map[string]body.Date{"a": today.Add(-2), "b": today.Add(-5)}, Done([]Log{log("a", -2, 1), log("a", -4, 8, 8),
		log("a", -1, 0, 0), log("b", -5, 8, 8), log("c", -1)}))
}

// A log that cannot be is refused by the field that is wrong; the edges may be.
func TestALogIsCheckedAtItsEdges(t *testing.T) {
	for _, c := range []struct {
		field  string // empty: it may be
		change func(*Log)
	}{
		{"", func(*Log) {}}, {"", func(l *Log) { l.On = today }}, {"", func(l *Log) { l.On = today.Add(-60) }},
		{"on", func(l *Log) { l.On = today.Add(1) }}, {"on", func(l *Log) { l.On = today.Add(-61) }},
		{"on", func(l *Log) { l.On = today[:8] + "00" }},
		{"", func(l *Log) { l.Done = make([]int, 30) }}, {"done", func(l *Log) { l.Done = make([]int, 31) }},
		{"done[1]", func(l *Log) { l.Done = []int{0, -1} }}, {"done[1]", func(l *Log) { l.Done = []int{7200, 7201} }},
		{"", func(l *Log) { l.Pain = 10 }}, {"pain", func(l *Log) { l.Pain = 11 }}, {"pain", func(l *Log) { l.Pain = -2 }},
		{"", func(l *Log) { l.Pain = -1 }},
		{"", func(l *Log) { l.RPE = -1 }}, {"rpe", func(l *Log) { l.RPE = -2 }}, {"", func(l *Log) { l.RPE = 10 }},
		{"rpe", func(l *Log) { l.RPE = 11 }}, {"", func(l *Log) { l.CrampAt = 7200 }}, {"crampAt", func(l *Log) { l.CrampAt = 7201 }},
		{"crampAt", func(l *Log) { l.CrampAt = -1 }}, {"", func(l *Log) { l.Times = 20 }}, {"times", func(l *Log) { l.Times = 21 }},
		{"times", func(l *Log) { l.Times = -1 }}, {"", func(l *Log) { l.Faults = make([]string, 8) }},
		{"note", func(l *Log) { l.Faults = make([]string, 9) }}, {"", func(l *Log) { l.Note = strings.Repeat("a", 2000) }},
		{"note", func(l *Log) { l.Note = strings.Repeat("a", 2001) }},
	} {
		l := Log{On: today.Add(-1), Done: []int{8, 0}, RPE: 6}
		c.change(&l)
		err := l.Check(today)
		if c.field == "" {
			assert.NoError(t, err)
			continue
		}
		var f *body.FieldError
		if assert.ErrorAs(t, err, &f, "%+v", l) {
			assert.Equal(t, c.field, f.Field)
		}
	}
}
