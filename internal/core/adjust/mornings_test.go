package adjust

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
)

// The morning after a session is its worst place, whichever was entered first; a place not asked about counts too.
func TestTheMorningAfterIsTheWorstPlace(t *testing.T) {
	in := quiet()
	in.Profile.Symptoms = append(in.Profile.Symptoms, body.Symptom{Region: body.Achilles, Side: body.Left, Baseline: 0})
	for _, first := range []bool{true, false} {
		other := build.Morning{On: today.Add(-1), Region: body.Achilles, Side: body.Left, Pain: 1}
		ms := in.Mornings
		if first {
			ms = append([]build.Morning{other}, ms...)
		} else {
			ms = append(append([]build.Morning{}, ms...), other)
		}
		x := in
		x.Mornings = ms
		f := facing(x)
		worst, _ := f.morningAfter(&Log{On: today.Add(-2)})
		assert.Equal(t, body.Achilles, worst.Region, "1 over a usual of 0, beside 1 over a usual of 1")
	}
}

// Mornings running, a usual of 1: three each further above it with the last at 3 go back two, four above it with the last
// at 3 back one; more than two days apart, or all decided, they are no row.
func TestMorningsRunning(t *testing.T) {
	for name, c := range map[string]struct {
		days, pains []int
		seen        int // of the newest so many are undecided; 0: all
		verdict     Verdict
		steps       int
	}{
		"1 2 3":                     {[]int{-2, -1, 0}, []int{1, 2, 3}, 0, Back, 2},
		"below usual first":         {[]int{-2, -1, 0}, []int{0, 2, 2}, 0, "", 0},
		"0 2 3":                     {[]int{-2, -1, 0}, []int{0, 2, 3}, 0, "", 0},
		"1 1 3":                     {[]int{-2, -1, 0}, []int{1, 1, 3}, 0, "", 0},
		"1 2 2":                     {[]int{-2, -1, 0}, []int{1, 2, 2}, 0, "", 0},
		"two days apart":            {[]int{-4, -2, 0}, []int{1, 2, 3}, 0, Back, 2},
		"three days apart":          {[]int{-5, -2, 0}, []int{1, 2, 3}, 0, "", 0},
		"only the last undecided":   {[]int{-2, -1, 0}, []int{1, 2, 3}, 1, Back, 2},
		"all decided":               {[]int{-2, -1, 0}, []int{1, 2, 3}, -1, "", 0},
		"2 2 2 2":                   {[]int{-3, -2, -1, 0}, []int{2, 2, 2, 2}, 0, "", 0},
		"a row of long ago is over": {[]int{-17, -16, -15}, []int{1, 2, 3}, 0, "", 0},
	} {
		in := quiet()
		in.Mornings = nil
		for i, d := range c.days {
			m := morningOn(d, c.pains[i])
			m.Seq = int64(i + 1)
			in.Mornings = append(in.Mornings, m)
		}
		for i := range in.Logs {
			in.Logs[i].Seq = int64(100 + i)
		}
		switch {
		case c.seen < 0:
			in.Moves = []Move{{On: today, Verdict: Hold, Seen: 200}}
		case c.seen > 0:
			in.Moves = []Move{{On: today, Verdict: Hold, Seen: int64(len(c.days) - c.seen)}}
		}
		x, fired := morningsRising(facing(in))
		assert.Equal(t, c.verdict != "", fired, name)
		if fired {
			assert.Equal(t, c.verdict, x.Verdict, name)
			assert.Equal(t, c.steps, x.Steps, name)
		}
	}
}

// “Everything else quiet” answers for a place only where nothing speaks against it.
func TestWhatQuietAnswers(t *testing.T) {
	last := func(pain int, calm bool, baseline int) Verdict {
		in := quiet()
		in.Profile.Symptoms = append(in.Profile.Symptoms, body.Symptom{Region: body.Achilles, Side: body.Left, Baseline: baseline})
		in.Mornings = append(in.Mornings, build.Morning{On: today.Add(-5), Region: body.Achilles, Side: body.Left, Pain: pain})
		for _, d := range []int{-3, -1} {
			in.Mornings = append(in.Mornings, build.Morning{On: today.Add(d), Region: body.WholePerson, Side: body.Both, Quiet: true})
		}
		if calm {
			in.Limits.Calm = []body.Side{body.Left}
		}
		in.Moves = []Move{{On: today.Add(-4), Verdict: Hold}}
		return proposed(in).Verdict
	}
	assert.Equal(t, Up, last(0, false, 0))
	assert.Equal(t, Up, last(2, false, 2), "at usual")
	assert.Equal(t, Pending, last(1, false, 0), "the last number was above usual")
	assert.Equal(t, Pending, last(3, false, 3), "usual above 2")
	assert.Equal(t, Pending, last(0, true, 0), "in Calm")
}

// The last number is the newest before that morning, of that place and leg, and never a quiet row.
func TestTheLastNumberBeforeAQuietMorning(t *testing.T) {
	at := func(day, pain int, where body.Region, leg body.Side) build.Morning {
		return build.Morning{On: today.Add(day), Region: where, Side: leg, Pain: pain}
	}
	for name, c := range map[string]struct {
		marks []build.Morning
		want  bool
	}{
		"quiet, then above": {[]build.Morning{at(-5, 0, body.HeelSole, body.Left), at(-4, 2, body.HeelSole, body.Left)}, false},
		"above, then quiet": {[]build.Morning{at(-5, 2, body.HeelSole, body.Left), at(-4, 0, body.HeelSole, body.Left)}, true},
		"twice on a day":    {[]build.Morning{at(-4, 0, body.HeelSole, body.Left), at(-4, 2, body.HeelSole, body.Left)}, false},
		"that morning":      {[]build.Morning{at(-1, 2, body.HeelSole, body.Left)}, true},
		"another place":     {[]build.Morning{at(-4, 2, body.Calf, body.Left)}, true},
		"the other leg":     {[]build.Morning{at(-4, 2, body.HeelSole, body.Right)}, true},
		"after it":          {[]build.Morning{at(0, 2, body.HeelSole, body.Left)}, true},
	} {
		in := quiet()
		in.Profile.Symptoms, in.Usual, in.Mornings = nil, nil, c.marks
		assert.Equal(t, c.want, facing(in).quietAnswers(body.HeelSole, body.Left, today.Add(-1)), name)
	}
}

// Only the watched places that the exercise loads have to be answered.
func TestWhichPlacesHaveToBeAnswered(t *testing.T) {
	for place, v := range map[body.Region]Verdict{body.AboveKnee: Up, body.Achilles: Pending} {
		in := quiet()
		in.Watched = []body.Symptom{{Region: body.HeelSole, Side: body.Left}, {Region: place, Side: body.Left}}
		assert.Equal(t, v, proposed(in).Verdict, place)
		in.Watched[1].Side = body.Right
		assert.Equal(t, Up, proposed(in).Verdict, "%s of the other leg", place)
	}
}

// The brake: a place well above usual, its worst number of the newest morning, at most seven days old; or a rail of
// the leg that went back for pain less than seven days ago.
func TestTheBrake(t *testing.T) {
	brakes := func(change func(*Input)) bool {
		in := quiet()
		change(&in)
		_, fired := brake(facing(in))
		return fired
	}
	at := func(day int, pains ...int) func(*Input) {
		return func(in *Input) {
			in.Mornings = nil
			for i, p := range pains {
				in.Mornings = append(in.Mornings, build.Morning{On: today.Add(day), Region: body.HeelSole, Side: body.Left, Pain: p, Seq: int64(i + 1)})
			}
		}
	}
	back := func(days int, rule string, side body.Side) func(*Input) {
		return func(in *Input) {
			in.Others = []Move{{On: today.Add(-days), Verdict: Back, Rail: "toe_calf", Side: side, Rule: rule}}
		}
	}
	for name, c := range map[string]struct {
		change func(*Input)
		want   bool
	}{
		"quiet": {func(*Input) {}, false}, "usual 1, now 3": {at(0, 3), true}, "now 2": {at(0, 2), false},
		"a week ago": {at(-7, 3), true}, "longer": {at(-8, 3), false},
		"worst first": {at(0, 4, 1), true}, "worst last": {at(0, 1, 4), true}, "both low": {at(0, 2, 1), false},
		"went back for pain": {back(6, "adjust.pain", body.Left), true}, "a week ago, it is over": {back(7, "adjust.pain", body.Left), false},
		"for mornings": {back(0, "adjust.morning", body.Left), true}, "for a rising row": {back(1, "adjust.mornings-rising", body.Left), true},
		"for effort": {back(1, "adjust.effort", body.Left), false}, "the other leg": {back(1, "adjust.pain", body.Right), false},
		"both legs": {back(1, "adjust.pain", body.Both), true},
	} {
		assert.Equal(t, c.want, brakes(c.change), name)
	}
}
