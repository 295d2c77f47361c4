package adjust

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
)

// Coming back into work of both legs waits for the other leg like a move up does.
func TestAReturnIntoWorkOfBothLegs(t *testing.T) {
	parked := func(other string) Proposal {
		in := quiet()
		in.Current.Exercise, in.Current.Dose, in.Current.Parked, in.Current.Cause = "two_floor", dose(3, 10), true, CauseParked
		in = whole(in)
		row := in.Current
		row.Side, row.Exercise, row.Parked, row.Dose = body.Right, other, false, dose(2, 15)
		in.Other = &Row{From: row, To: row, Verdict: Hold}
		return Propose(in)
	}
	p := parked("seated_band")
	assert.Equal(t, Park, p.Verdict)
	assert.True(t, p.To.Parked)
	assert.Equal(t, "adjust.both-legs", p.Fired[0].Reason.Rule)
	p = parked("two_floor")
	assert.Equal(t, Return, p.Verdict, "%v", p.Fired)
	assert.Equal(t, "Two-leg raises, floor, 2 × 8", p.To.Text())
}

// Of two legs that both go back the lower dose holds for both.
func TestTheLowerOfTwoBacks(t *testing.T) {
	in := quiet()
	in.Current.Exercise, in.Current.Dose = "two_floor", dose(3, 10)
	in.Logs = []Log{logOn(in.Current, -2)}
	in.Logs[0].Pain = 6 // to 3 × 8
	in = whole(in)
	for reps, want := range map[int]string{6: "3 × 6", 9: "3 × 8"} {
		from := in.Current
		from.Side = body.Right
		to := from
		to.Dose = dose(3, reps)
		in.Other = &Row{From: from, To: to, Verdict: Back, Steps: 1, Fired: []Fired{{Verdict: Back, Steps: 1}}}
		p := Propose(in)
		assert.Equal(t, Back, p.Verdict)
		assert.Equal(t, want, p.To.Dose.String())
		assert.Equal(t, body.Left, p.To.Side)
	}
}

// A move up into work of both legs waits until the other leg has earned it too; then both move.
func TestIntoWorkOfBothLegsOnlyTogether(t *testing.T) {
	both := func(other body.Dose) []Proposal {
		a := quiet()
		a.Current.Rail, a.Current.Exercise, a.Current.Dose = "calf_straight", "seated_band", dose(2, 15)
		a.Current.Dose.Band = "medium"
		a.Profile.Equipment.Bands = []string{"medium"}
		a.Profile.Symptoms = append(a.Profile.Symptoms, body.Symptom{Region: body.HeelSole, Side: body.Right, Baseline: 1})
		a.Mornings = nil
		for d := -6; d <= 0; d++ {
			for _, side := range body.Sides {
				a.Mornings = append(a.Mornings, build.Morning{On: today.Add(d), Region: body.HeelSole, Side: side, Pain: 1})
			}
		}
		b := a
		b.Current.Side, b.Current.ID, b.Current.Dose = body.Right, "p2", other
		logs := []Log{}
		for _, cur := range []catalog.Prescription{a.Current, b.Current} {
			logs = append(logs, logOn(cur, -4), logOn(cur, -2))
		}
		a.Logs, b.Logs = logs, logs
		return ProposeAll([]Input{whole(a), whole(b)})
	}
	top, low := dose(2, 15), dose(1, 10)
	top.Band, low.Band = "medium", "medium"
	got := both(low)
	assert.Equal(t, Hold, got[0].Verdict)
	assert.Equal(t, "adjust.both-legs", got[0].Fired[0].Reason.Rule)
	assert.Contains(t, got[0].Fired[0].Reason.Says, "the right leg has earned it too")
	assert.Equal(t, Up, got[1].Verdict, "%v", got[1].Fired)
	for _, p := range both(top) {
		assert.Equal(t, Up, p.Verdict, "%v", p.Fired)
		assert.Equal(t, "two_floor", p.To.Exercise)
	}
}

// A row that waits because the other leg's does keeps its place and its number.
func TestARowThatWaitsWithTheOtherStaysAsItIs(t *testing.T) {
	in := quiet()
	in.Current.Exercise, in.Current.Dose = "two_floor", dose(2, 8)
	in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
	in = whole(in)
	other := in.Current
	other.ID, other.Side = "p2", body.Right
	for _, v := range []Verdict{Hold, Pending} {
		in.Other = &Row{From: other, To: other, Verdict: v, Fired: []Fired{{Verdict: v}}}
		p := Propose(in)
		assert.Equal(t, v, p.Verdict, "%v", p.Fired)
		assert.Equal(t, in.Current, p.To)
	}
}

// An effort of 0 was entered; −1 was not.
func TestTheWordsOfAnEffort(t *testing.T) {
	assert.Equal(t, "0", asTold(0))
	assert.Equal(t, "not entered", asTold(-1))
}

// What is new of either leg is new of work for both.
func TestNewsOfEitherLeg(t *testing.T) {
	for _, own := range []bool{false, true} {
		for _, others := range []bool{false, true} {
			in := quiet()
			in.Current.Exercise, in.Current.Dose = "two_floor", dose(3, 10)
			in = whole(in)
			row := in.Current
			row.Side = body.Right
			in.own = &Proposal{From: in.Current, To: in.Current, Side: body.Left, Verdict: Hold, News: own, Clean: true,
				Fired: []Fired{{Verdict: Hold}}}
			in.Other = &Row{From: row, To: row, Verdict: Hold, News: others, Clean: true, Fired: []Fired{{Verdict: Hold}}}
			assert.Equal(t, own || others, in.together().News, "%v, %v", own, others)
		}
	}
}
