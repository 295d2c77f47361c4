package adjust

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
)

// Each rule at its edges: the value that still passes and the first that does not.
func TestRulesAtTheirEdges(t *testing.T) {
	settledIn := func(change func(*Input)) func(*Input) {
		return func(in *Input) {
			in.Current.From = today.Add(-20)
			in.Logs = nil
			for _, d := range []int{-13, -10, -5, -2} {
				l := logOn(in.Current, d)
				l.Pain = 4
				in.Logs = append(in.Logs, l)
			}
			for d := -14; d < -6; d++ {
				in.Mornings = append(in.Mornings, morningOn(d, 1))
			}
			change(in)
		}
	}
	release := func(pain int) func(*Input) {
		return func(in *Input) {
			in.Current.Rail, in.Current.Exercise, in.Current.Dose = "leg_release", "calf_roller_two", body.Dose{Kind: body.Release, Sets: 2, Seconds: 30}
			in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
			in.Logs[1].Pain = pain
		}
	}
	for name, c := range map[string]struct {
		change  func(*Input)
		verdict Verdict
	}{
		"pain 2 is quiet":        {func(in *Input) { in.Logs[1].Pain = 2 }, Up},
		"pain 5 holds":           {func(in *Input) { in.Logs[1].Pain = 5 }, Hold},
		"effort 8 leaves two":    {func(in *Input) { in.Logs[0].RPE, in.Logs[1].RPE = 8, 8 }, Up},
		"effort 9 in the older":  {func(in *Input) { in.Logs[0].RPE = 9 }, Hold},
		"seven days at the dose": {func(in *Input) { in.Current.From = today.Add(-7) }, Up},
		"six":                    {func(in *Input) { in.Current.From = today.Add(-6) }, Hold},
		"80 % twice holds":       {func(in *Input) { in.Logs[0].Done, in.Logs[1].Done = []int{7, 6}, []int{7, 6} }, Hold},
		"under it twice":         {func(in *Input) { in.Logs[0].Done, in.Logs[1].Done = []int{6, 6}, []int{6, 6} }, Back},
		"under it in two decided sessions": {func(in *Input) {
			in.Logs[0].Done, in.Logs[1].Done, in.Moves = []int{6, 6}, []int{6, 6}, []Move{{On: today, Verdict: Hold}}
		}, Hold},
		"a fault in the older":             {func(in *Input) { in.Logs[0].Faults = []string{"rushed"} }, Hold},
		"a cramp at 3 takes the dose down": {func(in *Input) { in.Logs[1].CrampAt = 3 }, Back},
		"a fresh report beside a decided one of the day": {func(in *Input) {
			in.Logs[0].Done, in.Logs[1].Done = []int{6, 6}, []int{6, 6}
			in.Moves = []Move{{On: today.Add(-1), Verdict: Hold}}
			late := in.Logs[1]
			late.Seq = 1 << 40
			in.Logs = append(in.Logs, late)
		}, Back},
		"six days missed": {func(in *Input) { in.Today = today.Add(4) }, Up},
		"seven":           {func(in *Input) { in.Today = today.Add(5) }, Hold},
		"thirteen":        {func(in *Input) { in.Today = today.Add(11) }, Hold},
		"fourteen":        {func(in *Input) { in.Today = today.Add(12) }, Back},
		"27":              {func(in *Input) { in.Today = today.Add(25) }, Back},
		"28":              {func(in *Input) { in.Today = today.Add(26) }, Park},
		"placed by a test after it": {func(in *Input) {
			in.Today, in.Begun = today.Add(29), today.Add(-10)
			in.Current.From, in.Current.Cause = today.Add(26), catalog.CausePlaced
		}, Hold},
		"placed by a test and missed again": {func(in *Input) {
			in.Today, in.Begun = today.Add(54), today.Add(-10)
			in.Current.From, in.Current.Cause = today.Add(26), catalog.CausePlaced
		}, Park},
		"back for missing was taken": {func(in *Input) {
			in.Today = today.Add(12)
			in.Moves = []Move{{On: today.Add(12), Verdict: Back, Steps: 1, Rule: "adjust.missed"}}
		}, Hold},
		"settled at 4":          {settledIn(func(*Input) {}), Up},
		"… after 13 days":       {settledIn(func(in *Input) { in.Current.From = today.Add(-13) }), Hold},
		"… with three sessions": {settledIn(func(in *Input) { in.Logs = in.Logs[1:] }), Hold},
		"… at 6":                {settledIn(func(in *Input) { in.Logs[0].Pain = 6 }), Back},
		"… with a fault before the two weeks": {settledIn(func(in *Input) {
			l := logOn(in.Current, -16)
			l.Faults = []string{"rushed"}
			in.Logs = append([]Log{l}, in.Logs...)
		}), Up},
		"… with a fault":                      {settledIn(func(in *Input) { in.Logs[0].Faults = []string{"rushed"} }), Hold},
		"… rising":                            {settledIn(func(in *Input) { in.Logs[2].Pain, in.Logs[3].Pain = 5, 5 }), Hold},
		"… falling":                           {settledIn(func(in *Input) { in.Logs[2].Pain, in.Logs[3].Pain = 3, 3 }), Up},
		"release at 4 is fine":                {release(4), Up},
		"at 5 it waits":                       {release(5), Hold},
		"at 7 too":                            {release(7), Hold},
		"at 8 it goes back":                   {release(8), Back},
		"an effort missing in the older":      {func(in *Input) { in.Logs[0].RPE = -1 }, Pending},
		"the morning after the older missing": {func(in *Input) { in.Mornings = append(in.Mornings[:3:3], in.Mornings[4:]...) }, Pending},
	} {
		in := quiet()
		c.change(&in)
		p := proposed(in)
		assert.Equal(t, c.verdict, p.Verdict, "%s: %v", name, p.Fired[0].Reason)
	}
}

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

// An exercise or a rail that the catalogue no longer has waits: nothing of the others is lost by it.
func TestWhatTheCatalogueNoLongerHas(t *testing.T) {
	for _, change := range []func(*Input){func(in *Input) { in.Current.Exercise = "gone" }, func(in *Input) { in.Current.Rail = "gone" }, func(in *Input) { in.Current.Exercise, in.Current.Parked = "gone", true }} {
		in := quiet()
		change(&in)
		all := ProposeAll([]Input{whole(in), whole(quiet())})
		assert.False(t, all[0].May.May())
		assert.Equal(t, all[0].From, all[0].To)
		assert.Contains(t, all[0].Fired[0].Reason.Says, "no longer in the catalogue")
		assert.Equal(t, Up, all[1].Verdict, "the other row goes on")
		_, err := choose(in, Up)
		assert.Error(t, err)
	}
}

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

// Most protective is, in this order: lower level, less bouncing, nothing below level or on bent-back toes, fewer
// seconds under load times the load, fewer sets.
func TestWhatIsHarder(t *testing.T) {
	type dosed struct {
		exercise string
		dose     body.Dose
	}
	in := quiet()
	f := facing(in)
	hold := func(s int) body.Dose { return body.Dose{Kind: body.Hold, Sets: 2, Seconds: s} }
	loaded := dose(2, 8)
	loaded.LoadKg = 4
	twice := dose(2, 8)
	twice.PerDay = 2
	paused := dose(2, 8)
	paused.Seconds = 2
	for _, c := range []struct{ harder, than dosed }{
		{dosed{"one_floor", dose(1, 3)}, dosed{"two_step", dose(3, 12)}},   // level
		{dosed{"two_step", dose(2, 8)}, dosed{"two_floor", dose(3, 12)}},   // below level
		{dosed{"one_floor", dose(2, 9)}, dosed{"one_floor", dose(2, 8)}},   // seconds
		{dosed{"one_dumbbell", loaded}, dosed{"one_dumbbell", dose(2, 8)}}, // load
		{dosed{"one_floor", twice}, dosed{"one_floor", dose(3, 10)}},       // times a day
		{dosed{"two_pause", paused}, dosed{"two_pause", dose(2, 8)}},       // held longer
		{dosed{"one_floor", dose(4, 6)}, dosed{"one_floor", dose(3, 8)}},   // sets, all else the same
	} {
		a, ok := f.rail.Exercise(c.harder.exercise)
		assert.True(t, ok)
		b, _ := f.rail.Exercise(c.than.exercise)
		assert.True(t, f.in.harder(a, c.harder.dose, b, c.than.dose), "%v than %v", c.harder, c.than)
		assert.False(t, f.in.harder(b, c.than.dose, a, c.harder.dose), "%v than %v", c.than, c.harder)
	}
	in.Current.Rail, in.Current.Exercise = "spring", "free_two"
	f = facing(in)
	free, _ := f.rail.Exercise("free_two")
	one, _ := f.rail.Exercise("hands_one")
	assert.True(t, f.in.harder(free, hold(1), one, hold(120)), "free bouncing is harder than with the hands, at one level")
}

// The last clean dose of an exercise: whole, no fault, pain 2 or less, no cramp, the next morning not above usual; and
// no more than was done of it since.
func TestTheLastCleanDose(t *testing.T) {
	for name, c := range map[string]struct {
		change func(l *Log, in *Input)
		want   string
	}{
		"as it was":           {func(*Log, *Input) {}, "3 × 10"},
		"pain 2":              {func(l *Log, _ *Input) { l.Pain = 2 }, "3 × 10"},
		"pain 3":              {func(l *Log, _ *Input) { l.Pain = 3 }, ""},
		"a fault":             {func(l *Log, _ *Input) { l.Faults = []string{"rushed"} }, ""},
		"a cramp":             {func(l *Log, _ *Input) { l.CrampAt = 9 }, ""},
		"not whole":           {func(l *Log, _ *Input) { l.Done = []int{10, 10, 9} }, ""},
		"morning at usual":    {func(_ *Log, in *Input) { in.Mornings = append(in.Mornings, morningOn(-20, 1)) }, "3 × 10"},
		"morning above usual": {func(_ *Log, in *Input) { in.Mornings = append(in.Mornings, morningOn(-20, 2)) }, ""},
		"less of it since": {func(_ *Log, in *Input) {
			was := in.Current
			was.Exercise, was.Dose, was.From = "two_step", dose(2, 8), today.Add(-40)
			l := logOn(was, -19)
			l.Pain = 5
			in.Logs = append(in.Logs, l)
		}, "2 × 8"},
		"less of it since, then more": {func(_ *Log, in *Input) {
			was := in.Current
			was.Exercise, was.From = "two_step", today.Add(-40)
			for i, d := range []body.Dose{dose(2, 8), dose(3, 8)} {
				was.Dose = d
				l := logOn(was, -19+i)
				l.Pain = 5
				in.Logs = append(in.Logs, l)
			}
		}, "2 × 8"},
	} {
		in := quiet()
		was := in.Current
		was.Exercise, was.Dose, was.From = "two_step", dose(3, 10), today.Add(-40)
		l := logOn(was, -21)
		c.change(&l, &in)
		in.Logs = append(in.Logs, l)
		f := facing(in)
		x, _ := f.rail.Exercise("two_step")
		got, ok := f.clean(x)
		assert.Equal(t, c.want != "", ok, name)
		if ok {
			assert.Equal(t, c.want, got.String(), name)
		}
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
		"one of two sessions":             {func(in *Input) { in.Logs = in.Logs[1:] }, true},
		"pain 5":                          {func(in *Input) { in.Logs[1].Pain = 5 }, true},
		"pain 6 goes back":                {func(in *Input) { in.Logs[1].Pain = 6 }, false},
		"an up waits":                     {func(*Input) {}, false},
		"an effort is waited for":         {func(in *Input) { in.Logs[1].RPE = -1 }, false},
		"a morning above usual":           {func(in *Input) { setMorning(in, 0, 2) }, true},
		"… of 6":                          {func(in *Input) { in.Usual, in.Profile.Symptoms[0].Baseline = nil, 5; setMorning(in, 0, 6) }, false},
		"the runner's correction":         {correction("phone"), false},
		"the coach's":                     {correction("coach"), true},
		"a correction under a clean hold": {func(in *Input) { correction("phone")(in); in.Moves = []Move{{On: today, Verdict: Hold, Alone: true}} }, false},
		"nothing new":                     {func(in *Input) { in.Logs, in.Moves = in.Logs[1:], []Move{{On: today, Verdict: Hold, Alone: true}} }, false},
		"discomfort of 6": {func(in *Input) {
			in.Current.Rail, in.Current.Exercise, in.Current.Dose = "leg_release", "calf_roller_two", body.Dose{Kind: body.Release, Sets: 2, Seconds: 30}
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
			in.Logs[0].Was, in.Logs[0].Source = []Log{in.Logs[0]}, "phone"
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
	in.Moves[0].Seen = 1 << 51
	assert.Equal(t, Hold, proposed(in).Verdict, "decided with the run in sight")
	in.Moves[0].Seen, in.Logs[1].Pain = 0, 2
	assert.Equal(t, Hold, proposed(in).Verdict)
	in.Logs[1].Pain, in.Logs[1].On = 3, today.Add(-7)
	assert.Equal(t, Hold, proposed(in).Verdict, "a week earlier")
}

// A back nobody has accepted yet is in force on the phone: what follows at its dose is judged from there, the steps
// count together, and from the dose that stands.
func TestWhatFollowsABackNobodyAccepted(t *testing.T) {
	after := func(first int, d body.Dose, pains ...int) Proposal {
		in := quiet()
		in.Current.From = today.Add(-12)
		bad := logOn(in.Current, -10)
		bad.Pain = first
		in.Logs = []Log{bad}
		for i, pain := range pains {
			l := logOn(in.Current, -8+2*i)
			l.Prescription.Dose, l.Pain = d, pain
			l.Done = make([]int, d.Sets)
			for k := range l.Done {
				l.Done[k] = d.Reps
			}
			in.Logs = append(in.Logs, l)
		}
		for d := -12; d < -6; d++ {
			in.Mornings = append(in.Mornings, morningOn(d, 1))
		}
		return proposed(in)
	}
	for _, c := range []struct {
		first   int
		at      body.Dose
		pains   []int
		verdict Verdict
		steps   int
		to      string
	}{
		{6, dose(1, 8), nil, Back, 1, "1 × 8"},
		{6, dose(1, 8), []int{1, 1}, Back, 1, "1 × 8"},
		{6, dose(1, 8), []int{6}, Back, 2, "1 × 6"},
		{6, dose(1, 8), []int{1, 8}, Back, 3, "1 × 4"},
		{6, dose(1, 7), []int{6}, Back, 1, "1 × 8"}, // another dose than the one it asks for
		{7, dose(1, 6), []int{7}, Park, 2, "1 × 6"}, // back two again within 14 days
	} {
		p := after(c.first, c.at, c.pains...)
		assert.Equal(t, c.verdict, p.Verdict, "%v", c)
		assert.Equal(t, c.steps, p.Steps, "%v", c)
		assert.Equal(t, c.to, p.To.Dose.String(), "%v", c)
		assert.Equal(t, "2 × 8", p.From.Dose.String())
		assert.True(t, p.News)
		force := p.InForce()
		assert.Equal(t, p.From.ID, force.ID)
		assert.Equal(t, c.verdict == Park, force.Parked)
		assert.Equal(t, c.to, force.Dose.String())
	}
	assert.Equal(t, "2 × 8", proposed(quiet()).InForce().Dose.String(), "an up waits for the coach")

	// All sessions at the lowered dose are of it: under 80 % twice goes back once more.
	in := quiet()
	in.Current.From = today.Add(-12)
	in.Logs = []Log{logOn(in.Current, -10), logOn(in.Current, -6), logOn(in.Current, -4)}
	in.Logs[0].Pain = 6
	for i := range in.Logs[1:] {
		in.Logs[i+1].Prescription.Dose, in.Logs[i+1].Done = dose(1, 8), []int{5}
	}
	p := proposed(in)
	assert.Equal(t, "1 × 6", p.To.Dose.String())
	assert.Equal(t, []string{"adjust.incomplete", "adjust.pain"}, []string{p.Fired[0].Reason.Rule, p.Fired[len(p.Fired)-1].Reason.Rule})
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

// The reason names what decided: the first of several mornings alike, and the settled way up by its own words.
func TestReasonsNameWhatDecided(t *testing.T) {
	in := quiet()
	setMorning(&in, -3, 3)
	setMorning(&in, -1, 3)
	p := proposed(in)
	assert.Equal(t, today.Add(-3), p.Fired[0].Reason.Saw[0].Date)
	assert.Equal(t, "3 − 1 = 2 over usual; back from 2", p.Fired[0].Reason.Formula)
	p = proposed(quiet())
	assert.Equal(t, "two complete, clean sessions with quiet mornings: up", p.Fired[0].Reason.Says)
	saw := []string{}
	for _, s := range p.Fired[0].Reason.Saw {
		saw = append(saw, s.Name+": "+s.Value)
	}
	assert.Equal(t, []string{"session: [8 8] of 2 × 8, effort 7, pain 1", "first steps after it: 1 of 10 (usual 1)", "session: [8 8] of 2 × 8, effort 7, pain 1", "first steps after it: 1 of 10 (usual 1)", "since the last move: 10 days of 7"}, saw)
}

// While running is unknown no bare walk, bounce or one-leg calf work moves up; what stands on the spot does.
func TestWhatWaitsForKnownRunning(t *testing.T) {
	for id, waits := range map[string]bool{"walk_all": true, "bare_squat": true, "short_standing": false, "one_floor": true, "two_floor": false, "heel_bounce": true, "trunk_brace": false} {
		in := quiet()
		for _, rail := range catalog.Shipped.Rails {
			if x, ok := rail.Exercise(id); ok {
				in.Current.Rail, in.Current.Exercise, in.Current.Dose = rail.ID, id, x.Ladder[0]
			}
		}
		in.Profile.WeeklyMinutes = 120
		f := facing(in)
		f.next = in.Current // what comes next would count too
		_, fired := volume(f)
		assert.Equal(t, waits, fired, "%s in %s", id, in.Current.Rail)
	}
}

// The coach's own verdict: hold and park move no notch, up and back one.
func TestStepsOfTheCoach(t *testing.T) {
	for v, steps := range map[Verdict]int{Hold: 0, Park: 0, Up: 1, Back: 1} {
		p, err := choose(quiet(), v)
		require.NoError(t, err)
		assert.Equal(t, steps, p.Steps, v)
		assert.Equal(t, v, p.Fired[0].Verdict)
		assert.Equal(t, "adjust.coach", p.Fired[0].Reason.Rule)
		assert.Equal(t, v == Park, p.To.Parked)
	}
}

// The coach may hold what only waits, not what safety took away; nothing moves up, or returns, that may not be done.
func TestWhatTheCoachMayHold(t *testing.T) {
	stop := func(side body.Side) Input {
		in := quiet()
		in.Limits.Facts.Stops = []refer.Stop{{Sign: "swelling", Region: body.Calf, Side: side, On: today}}
		return in
	}
	_, err := choose(stop(body.Right), Hold) // the other leg's: this one waits
	assert.NoError(t, err)
	_, err = choose(stop(body.Left), Hold)
	assert.ErrorContains(t, err, "it opens with")
	for _, v := range []Verdict{Up, Return} {
		for _, side := range body.Sides {
			in := stop(side)
			in.Current.Parked = v == Return
			_, err = choose(in, v)
			assert.Error(t, err, "%s %s", v, side)
		}
	}
	in := quiet()
	in.Current.Parked = true
	_, err = choose(in, Hold)
	assert.NoError(t, err, "a parked rail stays parked")
	_, err = choose(in, Up)
	assert.ErrorContains(t, err, "returns first")
	_, err = choose(quiet(), Return)
	assert.ErrorContains(t, err, "cannot")
	_, err = choose(quiet(), Pending)
	assert.ErrorContains(t, err, "is up, hold, back, park or return")
}

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

// On the way back to running one rail a week moves up at one-leg level: seven days later the next may.
func TestOneRailAWeekOnTheWayBack(t *testing.T) {
	for ago, holds := range map[int]bool{0: true, 6: true, 7: false, -1: false} {
		in := whole(quiet())
		in.Limits.Facts.Back = &load.Returning{Phase: load.Easy}
		in.Others = []Move{{On: today.Add(-ago), Verdict: Up, Rail: "calf_bent"}}
		_, fired := returning(gather(&in))
		assert.Equal(t, holds, fired, "%d days ago", ago)
		in.Others[0].Verdict = Back
		_, fired = returning(gather(&in))
		assert.False(t, fired, "another verdict")
		in.Others[0].Verdict, in.Current.Exercise = Up, "two_floor"
		_, fired = returning(gather(&in))
		assert.False(t, fired, "two legs")
	}
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

// The coach moves up while the newest morning is at its limit, not above it.
func TestChoosingAtTheLimitOfTheMorning(t *testing.T) {
	for pain, may := range map[int]bool{5: true, 6: false} {
		in := quiet()
		in.Usual, in.Profile.Symptoms[0].Baseline = nil, pain
		for d := -6; d <= 0; d++ {
			setMorning(&in, d, pain)
		}
		back := in
		back.Current.Parked = true
		_, err := choose(back, Return)
		assert.Equal(t, may, err == nil, "coming back at %d", pain)
		_, err = choose(in, Up)
		if may {
			assert.NoError(t, err)
		} else {
			assert.ErrorContains(t, err, "no move up while the morning is 6 of 10")
		}
	}
}

// Only the watched places that the exercise loads have to be answered.
func TestWhichPlacesHaveToBeAnswered(t *testing.T) {
	for place, v := range map[body.Region]Verdict{body.AboveKnee: Up, body.Achilles: Pending} {
		in := quiet()
		in.Watched = []body.Symptom{{Region: body.Heel, Side: body.Left}, {Region: place, Side: body.Left}}
		assert.Equal(t, v, proposed(in).Verdict, place)
		in.Watched[1].Side = body.Right
		assert.Equal(t, Up, proposed(in).Verdict, "%s of the other leg", place)
	}
}

// A habit of three times a day is complete at two of them, other work at all its times.
func TestHowManyTimesADay(t *testing.T) {
	for _, c := range []struct {
		habit bool
		times int
		want  Verdict
	}{{true, 3, Up}, {true, 2, Up}, {true, 1, Hold}, {false, 3, Up}, {false, 2, Hold}} {
		in := quiet()
		in.Current.Rail, in.Current.Exercise = "balance", "balance_open"
		in.Current.Dose = body.Dose{Kind: body.Hold, Sets: 1, Seconds: 10, PerDay: 3}
		in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
		for i := range in.Logs {
			in.Logs[i].Times = c.times
		}
		in = whole(in)
		in.Rail.Habit = c.habit
		assert.Equal(t, c.want, Propose(in).Verdict, "%v", c)
	}
}
