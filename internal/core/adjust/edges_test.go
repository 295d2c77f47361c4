package adjust

import (
	"cmp"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
)

// settledAt4 is a runner with pain 4 in each of four sessions of two weeks, and quiet mornings.
func settledAt4(in Input) Input {
	in.Current.From, in.Logs = today.Add(-20), nil
	for _, d := range []int{-13, -10, -5, -2} {
		l := logOn(in.Current, d)
		l.Pain = 4
		in.Logs = append(in.Logs, l)
	}
	for d := -14; d < -6; d++ {
		in.Mornings = append(in.Mornings, morningOn(d, 1))
	}
	return in
}

// Each rule at its edges: the value that still passes and the first that does not.
func TestRulesAtTheirEdges(t *testing.T) {
	settledIn := func(change func(*Input)) func(*Input) {
		return func(in *Input) {
			*in = settledAt4(*in)
			change(in)
		}
	}
	bears := func(change func(*Input)) func(*Input) {
		return func(in *Input) {
			change(in)
			in.Profile.Approaches = map[string]string{"pressure": "bearable"}
		}
	}
	release := func(pain int) func(*Input) {
		return func(in *Input) {
			in.Current.Rail, in.Current.Exercise, in.Current.Dose = "calf_release", "calf_roller_two",
				body.Dose{Kind: body.Release, Sets: 2, Seconds: 30}
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
		"returned long before the last session": {func(in *Input) {
			in.Moves = []Move{{On: today.Add(-25), Verdict: Return}}
		}, Up},
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
		"returned after it": {func(in *Input) {
			in.Today, in.Begun = today.Add(29), today.Add(-10)
			in.Current.ID, in.Current.From, in.Current.Cause = "p2", today.Add(26), CauseReturn
			in.Moves = []Move{{On: today.Add(26), Verdict: Return}}
		}, Hold},
		"returned and missed again": {func(in *Input) {
			in.Today, in.Begun = today.Add(54), today.Add(-10)
			in.Current.ID, in.Current.From, in.Current.Cause = "p2", today.Add(26), CauseReturn
			in.Moves = []Move{{On: today.Add(26), Verdict: Return}}
		}, Park},
		"returned, and missed two weeks: what was taken before it is over": {func(in *Input) {
			in.Today, in.Begun = today.Add(41), today.Add(-10)
			in.Current.ID, in.Current.From, in.Current.Cause = "p2", today.Add(26), CauseReturn
			in.Moves = []Move{{On: today.Add(12), Verdict: Back, Steps: 1, Rule: "adjust.missed"},
				{On: today.Add(20), Verdict: Park, Steps: 3, Rule: "adjust.missed"}, {On: today.Add(26), Verdict: Return}}
		}, Back},
		"the other leg's return is not this one's": {func(in *Input) {
			in.Today = today.Add(29)
			in.Moves = []Move{{On: today.Add(26), Verdict: Return, Side: body.Right}}
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
		"… all in the first week": {settledIn(func(in *Input) {
			for i := range in.Logs {
				in.Logs[i].On = today.Add(-13 + 2*i)
			}
		}), Hold},
		"… with a fault":                      {settledIn(func(in *Input) { in.Logs[0].Faults = []string{"rushed"} }), Hold},
		"… rising":                            {settledIn(func(in *Input) { in.Logs[2].Pain, in.Logs[3].Pain = 5, 5 }), Hold},
		"… falling":                           {settledIn(func(in *Input) { in.Logs[2].Pain, in.Logs[3].Pain = 3, 3 }), Up},
		"release at 4 is fine":                {release(4), Up},
		"at 5 it waits":                       {release(5), Hold},
		"at 7 too":                            {release(7), Hold},
		"at 8 it goes back":                   {release(8), Back},
		"7 is borne":                          {bears(release(7)), Up},
		"8 is not":                            {bears(release(8)), Back},
		"an effort missing in the older":      {func(in *Input) { in.Logs[0].RPE = -1 }, Pending},
		"the morning after the older missing": {func(in *Input) { in.Mornings = append(in.Mornings[:3:3], in.Mornings[4:]...) }, Pending},
	} {
		in := quiet()
		c.change(&in)
		p := proposed(in)
		assert.Equal(t, c.verdict, p.Verdict, "%s: %v", name, p.Fired[0].Reason)
	}
}

// An exercise or a rail that the catalogue no longer has waits: nothing of the others is lost by it.
func TestWhatTheCatalogueNoLongerHas(t *testing.T) {
	for _, change := range []func(*Input){func(in *Input) { in.Current.Exercise = "gone" }, func(in *Input) { in.Current.Rail = "gone" },
		func(in *Input) { in.Current.Exercise, in.Current.Parked = "gone", true }} {
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

// A back nobody has accepted yet is in force on the phone: what follows at its dose is judged from there, the steps
// count together, and from the dose that stands.
func TestWhatFollowsABackNobodyAccepted(t *testing.T) {
	after := func(built string, first int, d body.Dose, pains ...int) Proposal {
		in := quiet()
		in.Current.From = today.Add(-12)
		bad := logOn(in.Current, -10)
		bad.Pain = first
		in.Logs = []Log{bad}
		for i, pain := range pains {
			l := logOn(in.Current, -8+2*i)
			l.Prescription.Dose, l.Pain, l.Prescription.ID = d, pain, cmp.Or(built, l.Prescription.ID)
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
		p := after("", c.first, c.at, c.pains...)
		assert.Equal(t, p.To, after("before it was built again", c.first, c.at, c.pains...).To, "%v: the same row under another id", c)
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

// Pain between the limits settles only where no session of the two weeks was above them, decided on or not.
func TestWhatSettles(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*Input)
		want   bool
	}{
		"four at 4":            {func(*Input) {}, true},
		"one at 6, decided on": {func(in *Input) { in.Logs[0].Pain = 6; in.Moves = []Move{{On: today, Verdict: Hold, Seen: 1 << 40}} }, false},
		"one at 5":             {func(in *Input) { in.Logs[0].Pain = 5 }, true},
		"under no pain":        {func(in *Input) { in.Profile.Approaches = map[string]string{"pain": "none"} }, false},
		"a morning unknown": {func(in *Input) {
			in.Mornings = slices.DeleteFunc(in.Mornings, func(m build.Morning) bool { return m.On == today.Add(-4) })
		}, false},
		"a morning above": {func(in *Input) { setMorning(in, -4, 2) }, false},
	} {
		in := settledAt4(quiet())
		c.change(&in)
		assert.Equal(t, c.want, facing(in).settled(), name)
	}
}

// An effort nobody entered waits, but not where effort is no condition; a 0 that was entered is an effort.
func TestAnEffortThatIsMissing(t *testing.T) {
	for name, c := range map[string]struct {
		rpe  int
		how  string
		want Verdict
	}{"missing": {-1, "reserve", Pending}, "entered as 0": {0, "reserve", Up}, "missing, to fatigue": {-1, "fatigue", Up}} {
		in := quiet()
		in.Profile.Approaches = map[string]string{"effort": c.how}
		for i := range in.Logs {
			in.Logs[i].RPE = c.rpe
		}
		assert.Equal(t, c.want, proposed(in).Verdict, name)
	}
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
	sore := settledAt4(quiet())
	assert.Contains(t, proposed(sore).Fired[0].Reason.Says, "some pain, but settled")
	for i := range sore.Logs {
		sore.Logs[i].Pain = 2
	}
	assert.True(t, facing(sore).settled())
	assert.Contains(t, proposed(sore).Fired[0].Reason.Says, "two complete, clean sessions", "2 is no pain to settle")
	saw := []string{}
	for _, s := range p.Fired[0].Reason.Saw {
		saw = append(saw, s.Name+": "+s.Value)
	}
	assert.Equal(t, []string{"session: [8 8] of 2 × 8, effort 7, pain 1", "first steps after it: 1 of 10 (usual 1)",
		"session: [8 8] of 2 × 8, effort 7, pain 1", "first steps after it: 1 of 10 (usual 1)", "since the last move: 10 days of 7"}, saw)
}

// While running is unknown no bare walk, bounce or one-leg calf work moves up; what stands on the spot does.
func TestWhatWaitsForKnownRunning(t *testing.T) {
	for id, waits := range map[string]bool{"walk_all": true, "bare_squat": true, "short_standing": false, "one_floor": true,
		"two_floor": false, "heel_bounce": true, "trunk_brace": false} {
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

// A back answers the pain and the mornings it saw since the decision before it: as much again, reported late, only
// holds. Holds are no such decision; the other leg's moves are none of its own.
func TestWhatABackHasAnswered(t *testing.T) {
	left, right := body.Left, body.Right
	for name, c := range map[string]struct {
		moves []Move
		pain  int
		want  Verdict
	}{
		"as much":                        {[]Move{{Verdict: Back, Seen: 100, Side: left}}, 6, Hold},
		"more":                           {[]Move{{Verdict: Back, Seen: 100, Side: left}}, 7, Back},
		"the back saw less":              {[]Move{{Verdict: Back, Seen: 99, Side: left}}, 6, Back},
		"an earlier move saw it":         {[]Move{{Verdict: Up, Seen: 100, Side: left}, {Verdict: Back, Seen: 100, Side: left}}, 6, Back},
		"an earlier move saw less":       {[]Move{{Verdict: Up, Seen: 99, Side: left}, {Verdict: Back, Seen: 100, Side: left}}, 6, Hold},
		"a hold saw it":                  {[]Move{{Verdict: Hold, Seen: 100, Side: left}, {Verdict: Back, Seen: 100, Side: left}}, 6, Hold},
		"a hold followed":                {[]Move{{Verdict: Back, Seen: 100, Side: left}, {Verdict: Hold, Seen: 100, Side: left}}, 6, Hold},
		"the last was up":                {[]Move{{Verdict: Back, Seen: 90, Side: left}, {Verdict: Up, Seen: 100, Side: left}}, 6, Back},
		"the other leg's back":           {[]Move{{Verdict: Back, Seen: 100, Side: right}}, 6, Back},
		"the other leg's move before it": {[]Move{{Verdict: Up, Seen: 100, Side: right}, {Verdict: Back, Seen: 100, Side: left}}, 6, Hold},
	} {
		was := quiet().Current
		was.ID, was.Dose, was.From = "before", dose(3, 8), today.Add(-30)
		for _, byMorning := range []bool{false, true} {
			in := quiet()
			in.Current.From, in.Moves = today, c.moves
			for i := range in.Moves {
				in.Moves[i].On = today.Add(-1)
			}
			seen, late := logOn(was, -3), logOn(was, -2)
			seen.Seq, late.Seq = 100, 101
			if in.Mornings = nil; byMorning {
				// Usually 1: as much over usual as the pain is above 3, so that 7 is more and less than very bad.
				in.Mornings = []build.Morning{{On: today.Add(-3), Region: body.HeelSole, Side: left, Pain: 3, Seq: 100},
					{On: today.Add(-1), Region: body.HeelSole, Side: left, Pain: c.pain - 3, Seq: 101}}
			} else {
				seen.Pain, late.Pain = 6, c.pain
			}
			in.Logs = []Log{seen, late}
			rule := map[bool]func(*facts) (Fired, bool){false: pain, true: morning}[byMorning]
			x, fired := rule(facing(in))
			assert.True(t, fired, "%s, morning %v", name, byMorning)
			assert.Equal(t, c.want, x.Verdict, "%s, morning %v: %s", name, byMorning, x.Reason.Says)
		}
	}
}

// A place that the map no longer has says nothing, and breaks nothing.
func TestAMorningAtAPlaceThatIsGone(t *testing.T) {
	in := quiet()
	in.Mornings = append(in.Mornings, build.Morning{On: today, Region: "gone", Side: body.Left, Pain: 9})
	assert.Equal(t, proposed(quiet()).Verdict, proposed(in).Verdict)
}

// A step further from the wall, higher on the stack or freer of the hands is weighed by its work, whatever is lifted.
func TestAFurtherStepIsWeighedByItsWork(t *testing.T) {
	f := facing(quiet())
	x := catalog.Exercise{ID: "x"}
	for name, step := range map[string]func(at, next *body.Dose){
		"wall":  func(at, next *body.Dose) { at.WallCm, next.WallCm = 4, 5 },
		"stack": func(at, next *body.Dose) { at.StackMm, next.StackMm = 20, 24 },
		"hands": func(at, next *body.Dose) { at.Hands, next.Hands = "two thirds", "one third" },
	} {
		for reps, may := range map[int]bool{4: true, 40: false} {
			at, next := dose(2, 8), dose(2, reps)
			step(&at, &next)
			assert.Equal(t, may, f.carries(x, at, next), "%s, %d", name, reps)
		}
	}
}

// What waits for a lead: the beat for the barefoot dial, heavy work for strength; parked, or with both feet down, nothing does.
func TestWhatWaitsForALead(t *testing.T) {
	row := func(rail, exercise string, parked bool) catalog.Prescription {
		return catalog.Prescription{Rail: rail, Exercise: exercise, Side: body.Left, Parked: parked}
	}
	for name, c := range map[string]struct {
		rows []catalog.Prescription
		want map[load.Dial]body.Date
	}{
		"nothing":    {nil, map[load.Dial]body.Date{}},
		"two legs":   {[]catalog.Prescription{row("calf_straight", "two_floor", false)}, map[load.Dial]body.Date{}},
		"one leg":    {[]catalog.Prescription{row("calf_straight", "one_floor", false)}, map[load.Dial]body.Date{load.Strength: today}},
		"parked":     {[]catalog.Prescription{row("calf_straight", "one_floor", true)}, map[load.Dial]body.Date{}},
		"the beat":   {[]catalog.Prescription{row("cadence", "metronome", false)}, map[load.Dial]body.Date{load.Barefoot: today}},
		"not known":  {[]catalog.Prescription{row("calf_straight", "gone", false)}, map[load.Dial]body.Date{}},
		"gone rails": {[]catalog.Prescription{row("no_such", "gone", false)}, map[load.Dial]body.Date{}},
	} {
		assert.Equal(t, c.want, Wants(catalog.Shipped, c.rows, today), name)
	}
}

// Pain that was not told earns nothing; told later, as what was left open and nothing else, it counts as if told at once.
func TestPainThatWasNotTold(t *testing.T) {
	in := quiet()
	assert.Equal(t, Up, proposed(in).Verdict)
	open := in.Logs[1]
	open.Pain, open.RPE = -1, -1
	told := in.Logs[1]
	in.Logs[1] = open
	p := proposed(in)
	assert.Equal(t, Pending, p.Verdict)
	assert.Equal(t, "waits for the pain of "+open.On.Short(), p.Fired[0].Reason.Says)
	told.Was, told.Source = []Log{open}, "phone"
	in.Logs[1] = told
	assert.Equal(t, Up, proposed(in).Verdict, "what was left open is answered")
	more := open
	more.Done = []int{9, 9, 9}
	told.Was = []Log{more}
	in.Logs[1] = told
	assert.NotEqual(t, Up, proposed(in).Verdict, "what was done is told otherwise: the coach sees it first")
	told.Was, told.Pain = []Log{open}, 6
	in.Logs[1] = told
	assert.Equal(t, Back, proposed(in).Verdict, "told late, it speaks all the same")
}
