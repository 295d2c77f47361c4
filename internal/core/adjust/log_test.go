package adjust

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
)

func logged(d body.Dose, done ...int) Log {
	return Log{On: today, Prescription: catalog.Prescription{Dose: d}, Done: done, RPE: 7}
}

// 3 × 8 asks 24: 8 + 8 + 4 is 83 %; more in one set does not make up for less in another.
func TestShareOfTheDose(t *testing.T) {
	hold := body.Dose{Kind: body.Hold, Sets: 2, Seconds: 30}
	extra := dose(2, 8)
	extra.Extra = 1
	for _, c := range []struct {
		l    Log
		want float64
	}{
		{logged(dose(3, 8), 8, 8, 8), 100},
		{logged(dose(3, 8), 8, 8, 4), 100 * 20.0 / 24},
		{logged(dose(3, 8), 12, 8, 4), 100 * 20.0 / 24},
		{logged(dose(3, 8), 8, 8, 8, 8), 100},
		{logged(dose(3, 8)), 0},
		{logged(hold, 30, 15), 75},
		{logged(extra, 8, 8), 100 * 16.0 / 24},
	} {
		assert.InDelta(t, c.want, c.l.Share(), 1e-9, "%v of %s", c.l.Done, c.l.Prescription.Dose)
		assert.Equal(t, c.want >= 100, c.l.Complete())
	}
	cramped := logged(dose(3, 8), 8, 5, 0)
	cramped.CrampAt = 6
	assert.True(t, cramped.Complete(), "a set ended by a cramp does not count as incomplete")
}

func TestLogCheckNamesTheLimit(t *testing.T) {
	assert.NoError(t, logged(dose(2, 8), 8, 8).Check(today))
	for _, c := range []struct {
		change func(*Log)
		want   string
	}{
		{func(l *Log) { l.On = today.Add(1) }, "on: must be a day of the last 60"},
		{func(l *Log) { l.On = "1890-01-01" }, "on: must be a day of the last 60"},
		{func(l *Log) { l.Done = make([]int, 40) }, "done: has 40 sets; enter at most 30"},
		{func(l *Log) { l.Done = []int{8, -3} }, "done[1]: is -3; enter 0 to 7200"},
		{func(l *Log) { l.Pain = 11 }, "pain: is 11"},
		{func(l *Log) { l.RPE = -2 }, "rpe: is -2"},
		{func(l *Log) { l.CrampAt = 9000 }, "crampAt: is 9000"},
		{func(l *Log) { l.Faults = make([]string, 9) }, "note: is too long"},
		{func(l *Log) { l.Note = strings.Repeat("a", 2001) }, "note: is too long"},
		{func(l *Log) { l.On = today.Add(-61) }, "on: must be a day of the last 60"},
		{func(l *Log) { l.Done = []int{7201} }, "done[0]: is 7201"},
		{func(l *Log) { l.Pain = -1 }, "pain: is -1"},
		{func(l *Log) { l.RPE = 11 }, "rpe: is 11"},
		{func(l *Log) { l.CrampAt = -1 }, "crampAt: is -1"},
		{func(l *Log) { l.Times = 21 }, "times: is 21"},
		{func(l *Log) { l.Times = -1 }, "times: is -1"},
	} {
		l := logged(dose(2, 8), 8, 8)
		c.change(&l)
		assert.ErrorContains(t, l.Check(today), c.want)
	}
	most := Log{On: today.Add(-60), Done: make([]int, 30), Pain: 10, RPE: 10, CrampAt: 7200, Times: 20, Faults: make([]string, 8),
		Note: strings.Repeat("a", 2000)}
	most.Done[0] = 7200
	assert.NoError(t, most.Check(today))
	assert.NoError(t, Log{On: today, RPE: -1, Done: []int{0}}.Check(today))
}

// A milder correction from the phone leaves the worse word standing until a coach has seen it; the
// coach's own correction is seen.
func TestAMilderCorrection(t *testing.T) {
	was := logged(dose(2, 8), 8, 4)
	was.Pain, was.Seq = 8, 3
	l := logged(dose(2, 8), 8, 8)
	l.Pain, l.Seq, l.Was, l.Source = 1, 4, []Log{was}, "phone"
	assert.Equal(t, 8, l.standing(3).Pain)
	assert.Equal(t, []int{8, 4}, l.standing(3).Done)
	assert.Equal(t, 1, l.standing(4).Pain, "seen")
	l.Source = "coach"
	assert.Equal(t, 1, l.standing(3).Pain)
}

// Of several corrections the newest stands, on the day of the first; what hurt keeps the worst word, at
// any pain a practice may set its limits to, and release work never hurts.
func TestCorrectionsAndWhatHurt(t *testing.T) {
	first := logged(dose(2, 8), 8, 8)
	first.ID, first.Pain, first.Seq = "a", 5, 1
	first.Prescription.Rail, first.Prescription.Exercise, first.Prescription.Side = "calf_straight", "two_floor", body.Left
	second, third := first, first
	second.ID, second.Supersedes, second.Pain, second.Seq, second.On = "b", "a", 3, 4, today.Add(1)
	third.ID, third.Supersedes, third.Pain, third.Seq = "c", "b", 1, 6
	got := Corrected([]Log{third, first, second})
	assert.Len(t, got, 1)
	assert.Equal(t, "c", got[0].ID)
	assert.Equal(t, today, got[0].On)
	assert.Len(t, got[0].Was, 2)
	hurt := Hurts(got, catalog.Shipped)
	assert.Len(t, hurt, 1)
	assert.Equal(t, 5, hurt[0].Pain)
	assert.Equal(t, body.Both, hurt[0].Side, "two legs at once")
	for _, r := range catalog.Shipped.Rails {
		for _, x := range r.Exercises {
			l := first
			l.Prescription.Rail, l.Prescription.Exercise = r.ID, x.ID
			assert.Equal(t, x.Class != catalog.Releasing, len(Hurts([]Log{l}, catalog.Shipped)) == 1, x.ID)
		}
	}
}

// Two reports of the same work are the worst of each value.
func TestTheWorseOfTwo(t *testing.T) {
	a, b := logged(dose(2, 8), 8, 8), logged(dose(2, 8), 8, 4)
	a.Pain, a.RPE, a.CrampAt, a.Faults = 1, 8, 7, []string{"rushed", "height lost"}
	b.Pain, b.RPE, b.CrampAt, b.Faults = 3, 6, 0, []string{"height lost", "knee bends"}
	for _, w := range []Log{a.worse(b), b.worse(a)} {
		assert.Equal(t, []int{3, 8, 7}, []int{w.Pain, w.RPE, w.CrampAt})
		assert.ElementsMatch(t, []string{"rushed", "height lost", "knee bends"}, w.Faults)
	}
	b.CrampAt = 5
	assert.Equal(t, 5, a.worse(b).CrampAt)
	assert.Equal(t, 5, b.worse(a).CrampAt)
	assert.Equal(t, []string{"rushed", "height lost"}, a.Faults, "the report itself stays")
}

// A session is light when it was shown with less than the dose in force, counted alike and all times of the day.
func TestALightSession(t *testing.T) {
	hold := func(sets, s, times int) body.Dose {
		return body.Dose{Kind: body.Hold, Sets: sets, Seconds: s, PerDay: times}
	}
	for _, c := range []struct {
		shown, inForce body.Dose
		want           bool
	}{
		{dose(2, 8), dose(2, 8), false}, {dose(1, 8), dose(2, 8), true}, {dose(2, 7), dose(2, 8), true}, {dose(3, 8), dose(2, 8), false},
		{hold(1, 5, 1), dose(2, 8), false}, {hold(1, 20, 2), hold(1, 20, 3), true}, {hold(1, 20, 3), hold(1, 20, 3), false},
		{hold(2, 10, 3), hold(1, 20, 3), false},
	} {
		l := logged(c.shown)
		assert.Equal(t, c.want, l.Light(c.inForce), "%s of %s", c.shown, c.inForce)
	}
}

// The last day of each exercise is one on which something of it was done.
func TestTheLastDayOfAnExercise(t *testing.T) {
	at := func(exercise string, day int, done ...int) Log {
		l := logged(dose(2, 8), done...)
		l.On, l.Prescription.Exercise = today.Add(day), exercise
		return l
	}
	got := Done([]Log{at("two_floor", -9, 8, 8), at("two_floor", -3, 1, 0), at("two_floor", -1, 0, 0), at("one_floor", -2, 0),
		at("one_step", -4, 8)})
	assert.Equal(t, map[string]body.Date{"two_floor": today.Add(-3), "one_step": today.Add(-4)}, got)
}
