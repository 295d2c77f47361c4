package adjust

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
)

// News is what nobody has decided on, and what protects whatever was decided.
func TestWhatIsNews(t *testing.T) {
	in := quiet()
	assert.True(t, proposed(in).News, "two sessions nobody decided on")
	in.Moves = []Move{{On: today, Verdict: Hold}}
	p := proposed(in)
	assert.Equal(t, Up, p.Verdict)
	assert.False(t, p.News, "decided")
	in.Limits.Facts.Stops = []refer.Stop{{Sign: "swelling", Region: body.Calf, Side: body.Left, On: today}}
	assert.True(t, proposed(in).News, "a park speaks again")
	in.Current.Parked = true
	assert.False(t, proposed(in).News, "until it is parked")
}

// A hold that needs no coach: something new was said, nothing above 5, no correction unseen, and no mark or
// effort is waited for.
func TestHoldsThatNeedNoCoach(t *testing.T) {
	correction := func(source string) func(*Input) {
		return func(in *Input) {
			was := in.Logs[1]
			was.Pain = 4
			in.Logs[1].Was, in.Logs[1].Source = []Log{was}, source
			in.Logs = in.Logs[1:]
		}
	}
	for name, c := range map[string]struct {
		change  func(*Input)
		records bool
	}{
		"one of two sessions":     {func(in *Input) { in.Logs = in.Logs[1:] }, true},
		"pain 5":                  {func(in *Input) { in.Logs[1].Pain = 5 }, true},
		"pain 6 goes back":        {func(in *Input) { in.Logs[1].Pain = 6 }, false},
		"an up waits":             {func(*Input) {}, false},
		"an effort is waited for": {func(in *Input) { in.Logs[1].RPE = -1 }, false},
		"a morning above usual":   {func(in *Input) { setMorning(in, 0, 2) }, true},
		"… of 6":                  {func(in *Input) { in.Usual, in.Profile.Symptoms[0].Baseline = nil, 5; setMorning(in, 0, 6) }, false},
		"the runner's correction": {correction("phone"), false},
		"the coach's":             {correction("coach"), true},
		"a correction under a clean hold": {func(in *Input) {
			correction("phone")(in)
			in.Moves = []Move{{On: today, Verdict: Hold,
				Alone: true}}
		}, false},
		"nothing new": {func(in *Input) { in.Logs, in.Moves = in.Logs[1:], []Move{{On: today, Verdict: Hold, Alone: true}} },
			false},
		"discomfort of 6": {func(in *Input) {
			in.Current.Rail, in.Current.Exercise, in.Current.Dose = "calf_release", "calf_roller_two",
				body.Dose{Kind: body.Release, Sets: 2, Seconds: 30}
			in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
			in.Logs[1].Pain = 6
		}, false},
	} {
		in := quiet()
		c.change(&in)
		p := proposed(in)
		assert.Equal(t, c.records, p.Records(), "%s: %s, %v", name, p.Verdict, p.Fired[0].Reason)
	}
	// Beside the other leg both have to be clean.
	two := func(pain int) Proposal {
		left := quiet()
		left.Current.Exercise, left.Current.Dose = "two_floor", dose(2, 8)
		left.Logs = []Log{logOn(left.Current, -2)}
		right := left
		right.Current.Side, right.Current.ID = body.Right, "p2"
		right.Logs = []Log{logOn(right.Current, -2)}
		right.Logs[0].Pain = pain
		right.Moves = []Move{{On: today.Add(-3), Verdict: Back, Steps: 1, Side: body.Right}}
		return ProposeAll([]Input{whole(left), whole(right)})[0]
	}
	assert.True(t, two(1).Records())
	for _, clean := range []bool{true, false} {
		in := quiet()
		in.Current.Exercise, in.Current.Dose = "two_floor", dose(2, 8)
		in.Logs = []Log{logOn(in.Current, -2)}
		if !clean {
			was := in.Logs[0]
			was.RPE++
			in.Logs[0].Was, in.Logs[0].Source = []Log{was}, "phone"
		}
		in = whole(in)
		for _, other := range []bool{true, false} {
			in.Other = &Row{From: in.Current, To: in.Current, Verdict: Hold, News: true, Clean: other}
			in.Other.From.Side = body.Right
			assert.Equal(t, clean && other, Propose(in).Records())
		}
	}
	assert.NotEqual(t, Hold, two(6).Verdict)
}

// What was held by itself is told to the coach as soon as it has earned a move up.
func TestAnUpAfterCleanHoldsIsNews(t *testing.T) {
	in := quiet()
	in.Moves = []Move{{On: today, Verdict: Hold, Alone: true}}
	p := proposed(in)
	assert.Equal(t, Up, p.Verdict)
	assert.True(t, p.News)
	in.Moves[0].Alone = false
	assert.False(t, proposed(in).News, "the coach held it")
	in.Moves = append(in.Moves, Move{On: today, Verdict: Hold, Alone: true})
	assert.False(t, proposed(in).News)
}

// A hold after an accepted back changes nothing of what the back has answered.
func TestAHoldLeavesABackAnswered(t *testing.T) {
	in := quiet()
	was := in.Current
	in.Logs[0].Pain = 6
	in.Current.ID, in.Current.From, in.Current.Dose = "p2", today.Add(-3), dose(1, 8)
	in.Moves = []Move{{On: today.Add(-3), Verdict: Back, Steps: 1, Side: body.Left, Rule: "adjust.pain"}}
	in.Logs[1] = logOn(was, -2)
	in.Logs[1].Pain = 6
	for range 2 {
		assert.Equal(t, Hold, proposed(in).Verdict, "it went back for 6 already")
		in.Moves = append(in.Moves, Move{On: today.Add(-3), Verdict: Hold, Side: body.Left, Alone: true})
	}
	in.Logs[1].Pain = 7
	assert.Equal(t, Back, proposed(in).Verdict)
}

// Running that rises speaks to the sessions of its week, even where they were held by themselves before it.
func TestVolumeReachesOverCleanHolds(t *testing.T) {
	in := quiet()
	in.Current.Exercise, in.Current.Dose = "one_dumbbell", body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8, LoadKg: 4}
	in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
	in.Logs[1].Pain = 3
	in.Profile.WeeklyMinutes = 120
	in.Moves = []Move{{On: today.Add(-1), Verdict: Hold, Alone: true}}
	in.Runs = []load.Run{{On: today, Minutes: 200, Seq: 1 << 50}, {On: today.Add(-8), Minutes: 120}, {On: today.Add(-15), Minutes: 120}}
	assert.Equal(t, Back, proposed(in).Verdict)
	in.Moves[0].Seen, in.Moves[0].Alone = 1<<51, false
	assert.Equal(t, Hold, proposed(in).Verdict, "decided with the run in sight")
	in.Moves[0].Seen, in.Moves[0].Alone, in.Logs[1].Pain = 0, true, 2
	assert.Equal(t, Hold, proposed(in).Verdict)
	in.Logs[1].Pain, in.Logs[1].On = 3, today.Add(-7)
	assert.Equal(t, Back, proposed(in).Verdict, "a week earlier, and no coach has decided on it")
	in.Moves[0].Alone, in.Moves[0].Seen = false, 1<<40
	assert.Equal(t, Hold, proposed(in).Verdict, "a week earlier, decided by the coach")
	in.Logs[1].On = today.Add(-6)
	assert.Equal(t, Back, proposed(in).Verdict, "in the run's week")
}

// A hold recorded without a coach saw the reports of its own row. What the other leg's row held for stays undecided
// here: a left leg in work of both legs still hears of the right leg's effort.
func TestTheOtherRowsHoldDecidesNothingHere(t *testing.T) {
	for side, want := range map[body.Side]Verdict{body.Left: Up, body.Right: Hold} {
		in := quiet()
		in.Current.Exercise, in.Current.Dose = "two_floor", dose(2, 8)
		in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
		other := in.Current
		other.ID, other.Side, other.Exercise, other.Dose = "p2", body.Right, "one_floor", dose(2, 8)
		hard := logOn(other, -3)
		hard.RPE = 9
		in.Logs = append(in.Logs, hard)
		in.Moves = []Move{{On: today.Add(-1), Verdict: Hold, Side: side, Seen: 1 << 40, Alone: true}}
		p := proposed(in)
		assert.Equal(t, want, p.Verdict, "held by the %s row: %s", side, p.Fired[0].Reason.Says)
	}
}
