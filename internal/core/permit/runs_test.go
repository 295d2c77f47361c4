package permit_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/permit/plain"
	"notchback/internal/core/refer"
)

// On the way back, walking or by steps, the day's own step stands instead of the fixed run.
func TestTheStepStandsInsteadOfTheRun(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
	f.Profile.Runs = []body.FixedRun{{Weekday: today.Weekday(), Minutes: 50, Quality: "quality"}}
	for phase, stands := range map[load.Phase]bool{load.Walking: false, load.Stepped: false, load.Easy: true, load.Halved: true} {
		f.Back = &load.Returning{Phase: phase, Next: today, Minutes: 20}
		_, fixed := f.RunOn(today)
		assert.Equal(t, stands, fixed != nil, "%s", phase)
	}
}

// A way back without minutes of its own caps nothing; of two caps alike the first is named.
func TestWhichCapOfRunningIsNamed(t *testing.T) {
	g := factsOf(refer.Sign{}, "", "", "steroid", plain.States[2])
	g.Before = 60
	g.Back = &load.Returning{Phase: load.Easy, Minutes: 60}
	_, why := g.MostRunning()
	assert.Contains(t, why.Says, "as before")
	g.Back = &load.Returning{Phase: load.Halved}
	n, _ := g.MostRunning()
	assert.Equal(t, 60, n)
}

// The minutes of a fixed run for now: halved after an illness or a short stop, brought down together with the others
// to what a week may hold, each rounded down.
func TestTheMinutesOfARun(t *testing.T) {
	runner := func(caution string) permit.Facts {
		f := factsOf(refer.Sign{}, "", "", caution, plain.States[2])
		f.Profile.Runs = []body.FixedRun{{Weekday: today.Weekday(), Minutes: 50, Quality: "quality"},
			{Weekday: today.Add(2).Weekday(), Minutes: 31, Quality: "easy"}}
		f.Before = 60
		return f
	}
	minutes := func(f permit.Facts, in int) int {
		_, fixed := f.RunOn(today.Add(in))
		require.NotNil(t, fixed)
		return fixed.Minutes
	}
	f := runner("")
	assert.Equal(t, 50, minutes(f, 0))
	words, none := f.RunOn(today.Add(1))
	assert.Empty(t, words)
	assert.Nil(t, none)
	n, _ := f.MostRunning()
	assert.Zero(t, n, "nothing caps it")

	f = runner("steroid")
	assert.Equal(t, 50*60/81, minutes(f, 0))
	assert.Equal(t, 31*60/81, minutes(f, 2))
	words, fixed := f.RunOn(today)
	assert.Equal(t, "easy", fixed.Quality)
	assert.Contains(t, words, "easy run, 37 min")
	assert.Contains(t, words, "at most 60 min a week")
	n, why := f.MostRunning()
	assert.Equal(t, 60, n)
	assert.Contains(t, why.Says, "as before")
	f.Before = 81
	words, _ = f.RunOn(today.Add(2))
	assert.Equal(t, "easy run, 31 min", words, "it fits")
	f.Before, f.Limits = 60, []refer.Limit{{For: "steroid", Side: body.Both, Kind: "clinician", Who: "GP", On: today,
		Opens: refer.Opening{Run: "all"}}}
	assert.Equal(t, 50, minutes(f, 0), "opened by a clinician")

	f = runner("")
	f.Back = &load.Returning{Phase: load.Halved}
	assert.Equal(t, 25, minutes(f, 0))
	assert.Equal(t, 16, minutes(f, 2), "half of 31, rounded up")
	f.Back = &load.Returning{Phase: load.Easy, Minutes: 27}
	assert.Equal(t, 50*27/81, minutes(f, 0))

	for before, most := range map[int]int{60: 60, 90: 70} { // of two the lower
		g := runner("steroid")
		g.Before, g.Back = before, &load.Returning{Phase: load.Easy, Minutes: 70}
		n, _ = g.MostRunning()
		assert.Equal(t, most, n)
	}

	f.Back = &load.Returning{Phase: load.Stepped, Next: today}
	words, fixed = f.RunOn(today)
	assert.Contains(t, words, "10 × 1 min run")
	assert.Nil(t, fixed)
	assert.True(t, f.Running())
	f.Stops = []refer.Stop{{ID: "s", Sign: "swelling", Region: body.Calf, Side: body.Left, On: today}}
	words, fixed = f.RunOn(today)
	assert.Contains(t, words, "no running until cleared")
	assert.Nil(t, fixed)
	assert.False(t, f.Running())
}

// A quinolone's caution ends by its date, but not while a tendon is sore.
func TestAQuinoloneLastsWhileATendonIsSore(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "quinolone", plain.States[2])
	f.Profile.CautionNotes = map[string]body.CautionNote{"quinolone": {Answered: today.Add(-100), On: today.Add(-100), Side: body.Both}}
	for _, c := range []struct {
		place body.Region
		pain  int
		holds bool
	}{{"", 0, false}, {body.Achilles, 2, false}, {body.Achilles, 3, true}, {body.HeelSole, 8, false}} {
		f.Marks = []permit.Mark{{Region: c.place, Side: body.Left, Pain: c.pain, On: today}}
		assert.Equal(t, c.holds, len(f.InForce()) == 1, "%s %d", c.place, c.pain)
	}
}

// What to mind goes with what may be done, and with nothing else.
func TestWhatToMind(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "sensation", plain.States[2])
	a := f.May(ask("two_floor", body.Left))
	assert.True(t, a.May(), "%v", a.Reasons)
	assert.Contains(t, a.Notes, "look at the skin before and after")
	a = f.May(ask("one_floor", body.Left))
	assert.False(t, a.May())
	assert.Empty(t, a.Notes)
}

// With feeling unknown a dose in force on bare feet holds for 14 days from the day the rule arrived, and is not done
// after them; nothing new begins.
func TestAFortnightWithFeelingUnknown(t *testing.T) {
	for _, level := range []int{2, 3} {
		for _, c := range []struct {
			since      body.Date
			may, holds bool
		}{{"", true, true}, {today.Add(-13), true, true}, {today.Add(-14), false, false}} {
			f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
			for s := range f.Tests {
				delete(f.Tests[s], "sole.touch")
			}
			f.Profile.Touch, f.Taken, f.Since = body.Touch{}, nil, c.since
			x := permit.Ask{Demand: body.Demand{Level: level, Trains: body.OneSide, Bears: body.TrainedLeg, Bare: true, Position: "standing"},
				Side: body.Left, InForce: true}
			a := f.May(x)
			assert.Equal(t, [2]bool{c.may, c.holds}, [2]bool{a.May(), a.NoUp}, "level %d since %s: %v", level, c.since, a.Reasons)
			x.InForce = false
			assert.False(t, f.May(x).May())
			assert.Equal(t, permit.Waits, f.May(x).Sort())
		}
	}
}

// Feeling is known by the fingertip for six months, or as told for 90 days without diabetes and loss of feeling; of
// each foot by itself.
func TestHowFeelingIsKnown(t *testing.T) {
	both := body.Touch{Left: true, Right: true}
	for name, c := range map[string]struct {
		tested  float64 // −1 not
		days    int     // since the test
		told    body.Touch
		toldFor int
		caution string
		left    bool
		right   bool
	}{
		"nothing":                 {-1, 0, body.Touch{}, 0, "", false, false},
		"tested today":            {0, 0, body.Touch{}, 0, "", true, true},
		"half a year ago":         {0, 180, body.Touch{}, 0, "", true, true},
		"longer":                  {0, 181, body.Touch{}, 0, "", false, false},
		"missed":                  {1, 0, body.Touch{}, 0, "", false, false},
		"missed, told otherwise":  {1, 0, both, 0, "", false, false},
		"told":                    {-1, 0, both, 0, "", true, true},
		"told of the left":        {-1, 0, body.Touch{Left: true}, 0, "", true, false},
		"told of the right":       {-1, 0, body.Touch{Right: true}, 0, "", false, true},
		"told 90 days ago":        {-1, 0, both, 90, "", true, true},
		"told 91 days ago":        {-1, 0, both, 91, "", false, false},
		"told, with diabetes":     {-1, 0, both, 0, "diabetes", false, false},
		"tested, with diabetes":   {0, 0, body.Touch{}, 0, "diabetes", true, true},
		"longer ago, but told it": {0, 181, both, 0, "", true, true},
	} {
		f := factsOf(refer.Sign{}, "", "", c.caution, plain.States[2])
		f.Taken = map[string]body.Date{}
		for _, s := range body.Sides {
			if delete(f.Tests[s], "sole.touch"); c.tested >= 0 {
				f.Tests[s]["sole.touch"] = c.tested
				f.Taken["sole.touch|"+string(s)] = today.Add(-c.days)
			}
		}
		if f.Profile.Touch = c.told; c.told != (body.Touch{}) {
			f.Profile.Touch.On = today.Add(-c.toldFor)
		}
		for leg, want := range map[body.Side]bool{body.Left: c.left, body.Right: c.right} {
			x := permit.Ask{Demand: body.Demand{Level: 0, Trains: body.OneSide, Bears: body.NoLeg, Pressure: true, Position: "seated"}, Side: leg}
			a := f.May(x)
			assert.Equal(t, want, a.May(), "%s, %s: %s", name, leg, a.Says())
		}
	}
}

// Another test unknown holds a dose in force to level 2 without bouncing; others step down.
func TestAnUnknownTestInForce(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
	for s := range f.Tests {
		delete(f.Tests[s], "ankle.end_feel")
	}
	for _, c := range []struct {
		level  int
		impact body.Impact
		may    bool
	}{{2, body.NoImpact, true}, {3, body.NoImpact, false}, {2, body.Supported, false}} {
		a := f.May(permit.Ask{Demand: body.Demand{Level: c.level, Impact: c.impact, Trains: body.OneSide, Bears: body.TrainedLeg,
			Position: "standing", Tags: []body.Tag{body.AnkleRange, body.Forced}}, Side: body.Left, InForce: true})
		assert.Equal(t, c.may, a.May(), "level %d, %s: %v", c.level, c.impact, a.Reasons)
		if !c.may {
			assert.Equal(t, permit.Safety, a.Sort())
		}
	}
}

// Diabetes stands under one row: the milder one only without loss of feeling and without an ulcer, ever.
func TestWhichRowOfDiabetes(t *testing.T) {
	for _, c := range []struct {
		cautions []string
		missed   float64
		want     []string
	}{
		{[]string{"diabetes"}, 0, []string{"diabetes"}},
		{[]string{"diabetes"}, 1, []string{"sensation"}},
		{[]string{"diabetes", "sensation"}, 0, []string{"sensation"}},
		{[]string{"diabetes", "ulcer"}, 0, []string{"sensation"}},
		{[]string{"sensation"}, 0, []string{"sensation"}},
		{[]string{"ulcer"}, 0, []string{"sensation"}},
	} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		f.Profile.Cautions = c.cautions
		f.Taken = map[string]body.Date{"sole.touch|left": today, "sole.touch|right": today}
		for _, s := range body.Sides {
			f.Tests[s]["sole.touch"] = c.missed
		}
		got := []string{}
		for _, x := range f.InForce() {
			got = append(got, x.Caution.ID)
		}
		assert.Equal(t, c.want, got, "%v, missed %g", c.cautions, c.missed)
	}
}

// Half the contacts is for bouncing alone: 2 × 20 become 2 × 10, whatever else is done stays whole.
func TestHalfTheContacts(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "bmi", plain.States[2])
	contacts := body.Dose{Kind: body.Contacts, Sets: 2, Reps: 20}
	a := f.May(ask("free_two", body.Left))
	assert.Equal(t, permit.UpTo, a.Kind)
	assert.Equal(t, "2 × 10 contacts", a.Of(contacts).String())
	a = f.May(ask("two_floor", body.Left))
	assert.Equal(t, permit.Allowed, a.Kind)
	assert.Equal(t, contacts, a.Of(contacts))
}

// An injection, tablets, an operation and a birth lapse on their own day, and say so until then.
func TestCautionsLapseByThemselves(t *testing.T) {
	for id, days := range map[string]int{"steroid": 42, "quinolone": 90, "surgery": 365, "pregnancy": 84} {
		for left, in := range map[int]bool{1: true, 0: false} {
			f := factsOf(refer.Sign{}, "", "", id, plain.States[2])
			on := today.Add(left - days)
			f.Profile.CautionNotes = body.CautionNotes{id: {Answered: on, On: on, Until: on, Side: body.Both}}
			a := f.May(ask("free_one", body.Left))
			assert.Equal(t, !in, a.May(), "%s, %d days left: %s", id, left, a.Says())
			if in {
				assert.Contains(t, a.Reasons[0].Opens, "or by itself on "+today.Add(left).Short(), id)
			}
		}
		f := factsOf(refer.Sign{}, "", "", id, plain.States[2])
		f.Profile.CautionNotes = body.CautionNotes{}
		a := f.May(ask("free_one", body.Left))
		assert.False(t, a.May(), "%s, nobody knows when", id)
		assert.NotContains(t, a.Reasons[0].Opens, "by itself", id)
	}
}

// An injection and an operation limit their leg; tablets both, whatever side was noted.
func TestWhichLegACautionLimits(t *testing.T) {
	for id, both := range map[string]bool{"steroid": false, "surgery": false, "hardware": false, "quinolone": true, "bone": true,
		"pregnancy": true} {
		f := factsOf(refer.Sign{}, "", "", id, plain.States[2])
		f.Profile.CautionNotes = body.CautionNotes{id: {Answered: today, Side: body.Left}}
		assert.False(t, f.May(ask("free_one", body.Left)).May(), "%s, left", id)
		assert.Equal(t, !both, f.May(ask("free_one", body.Right)).May(), "%s, right", id)
	}
}

// The newest number of a place counts, and intake's only where none was reported.
func TestIntakesNumberUntilAReport(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
	below := permit.Ask{Demand: body.Demand{Level: 2, Trains: body.OneSide, Bears: body.TrainedLeg, Edge: true, Position: "standing"},
		Side: body.Left}
	assert.True(t, f.May(below).May())
	f.Profile.Symptoms = []body.Symptom{{Region: body.HeelBack, Side: body.Left, Baseline: 5}}
	assert.False(t, f.May(below).May(), "5 at intake")
	f.Profile.Symptoms[0].Side = body.Right
	assert.True(t, f.May(below).May(), "of the other leg")
	f.Profile.Symptoms[0] = body.Symptom{Region: body.Arch, Side: body.Left, Baseline: 5}
	assert.True(t, f.May(below).May(), "of another place")
	f.Profile.Symptoms[0] = body.Symptom{Region: body.HeelBack, Side: body.Left, Baseline: 5}
	f.Marks = []permit.Mark{{Region: body.HeelBack, Side: body.Left, Pain: 1, On: today}}
	assert.True(t, f.May(below).May(), "1 this morning")
	f.Marks = append(f.Marks, permit.Mark{Region: body.Achilles, Side: body.Left, Pain: 4, On: today})
	assert.False(t, f.May(below).May(), "4 at the tendon")
}

// Of two places named at intake the sorer counts, in whatever order they were named.
func TestTheSorerOfTwoPlacesOfIntake(t *testing.T) {
	below := permit.Ask{Demand: body.Demand{Level: 2, Trains: body.OneSide, Bears: body.TrainedLeg, Edge: true, Position: "standing"},
		Side: body.Left}
	back, tendon := body.Symptom{Region: body.HeelBack, Side: body.Left, Baseline: 5},
		body.Symptom{Region: body.Achilles, Side: body.Left, Baseline: 1}
	for _, named := range [][]body.Symptom{{back, tendon}, {tendon, back}} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		f.Profile.Symptoms = named
		assert.False(t, f.May(below).May(), "%v", named)
	}
}

// An arch that collapses in a barefoot squat forbids deep squats on bare feet; in shoes they may be done.
func TestACollapseForbidsBareSquats(t *testing.T) {
	squat := func(bare bool) permit.Ask {
		return permit.Ask{Demand: body.Demand{Level: 2, Trains: body.BothLegs, Bears: body.BothLegs, Bare: bare, Position: "standing",
			Tags: []body.Tag{body.DeepSquat}}, Side: body.Both}
	}
	f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
	assert.True(t, f.May(squat(true)).May() && f.May(squat(false)).May())
	for _, s := range body.Sides {
		f.Tests[s]["squat.arch"] = 1
	}
	assert.False(t, f.May(squat(true)).May())
	assert.True(t, f.May(squat(false)).May(), "%v", f.May(squat(false)).Reasons)
}

// Where running is barred, that is the whole of what is said of strides; where it is not, strides are named.
func TestWhatIsSaidOfStrides(t *testing.T) {
	said := func(caution string) string {
		out := []string{}
		for _, r := range factsOf(refer.Sign{}, "", "", caution, plain.States[2]).May(ask("run strides", body.Both)).Reasons {
			out = append(out, r.Says)
		}
		return strings.Join(out, "; ")
	}
	assert.Contains(t, said("under_18"), "no strides or jumping drills")
	assert.Contains(t, said("surgery"), "no running")
	assert.NotContains(t, said("surgery"), "strides")
}

// A bone that healed is a caution no more, unless the energy was low: then it stays one beside it.
func TestAHealedBone(t *testing.T) {
	inForce := func(cautions ...string) (out []string) {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		f.Profile.Cautions = cautions
		f.Profile.CautionNotes = body.CautionNotes{"bone": {Answered: today, Healed: true}, "energy": {Answered: today}}
		for _, c := range f.InForce() {
			out = append(out, c.ID)
		}
		return out
	}
	assert.NotContains(t, inForce("bone"), "bone")
	assert.Contains(t, inForce("bone", "energy"), "bone")
}

// Standing on one leg for just the least that is asked is steady enough; a second less is not.
func TestJustSteadyEnough(t *testing.T) {
	for less, unsteady := range map[float64]bool{0: false, 1: true} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		for _, s := range body.Sides {
			f.Tests[s]["balance.open"] = f.House.Get("permit.balance.least") - less
		}
		is := slices.ContainsFunc(f.InForce(), func(c permit.InForce) bool { return c.ID == "balance" })
		assert.Equal(t, unsteady, is, "%g s less", less)
	}
}

// After older hardware or ankle surgery bouncing waits until the reach of both legs is within its detectable change
// of each other, in all four directions.
func TestReachBeforeBouncing(t *testing.T) {
	within := 1.96 * math.Sqrt2 * house.Rules{}.Get("reach.sem")
	for name, c := range map[string]struct {
		less map[string]float64 // the left leg's, against 80 of the right; −1 unknown
		may  bool
	}{
		"alike":            {nil, true},
		"just within":      {map[string]float64{"reach.back": 80 - within + 0.01}, true},
		"just outside":     {map[string]float64{"reach.back": 80 - within - 0.01}, false},
		"further":          {map[string]float64{"reach.side": 80 + within + 0.01}, false},
		"further, within":  {map[string]float64{"reach.side": 80 + within - 0.01}, true},
		"one not measured": {map[string]float64{"reach.cross": -1}, false},
		"front":            {map[string]float64{"reach.front": 60}, false},
	} {
		f := factsOf(refer.Sign{}, "", "", "hardware", plain.States[2])
		for _, m := range []string{"reach.front", "reach.side", "reach.back", "reach.cross"} {
			f.Tests[body.Right][m] = 80
			if v, given := c.less[m]; !given {
				f.Tests[body.Left][m] = 80
			} else if v >= 0 {
				f.Tests[body.Left][m] = v
			}
		}
		a := f.May(ask("hands_one", body.Left))
		assert.Equal(t, c.may, a.May(), "%s: %s", name, a.Says())
		assert.True(t, f.May(ask("one_floor", body.Left)).May())
	}
}

// Fewer than 3 raises on one leg are a pattern where the other does 10, and only where both were counted.
func TestFewRaises(t *testing.T) {
	for _, c := range []struct {
		left, right float64 // −1 not counted
		want        bool
	}{{2, 10, true}, {2, 9, false}, {3, 20, false}, {0, 10, true}, {2, -1, false}, {-1, 20, false}, {2, 2, false}} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		for leg, n := range map[body.Side]float64{body.Left: c.left, body.Right: c.right} {
			if delete(f.Tests[leg], "calf.raises_straight"); n >= 0 {
				f.Tests[leg]["calf.raises_straight"] = n
			}
		}
		assert.Equal(t, c.want, len(f.Patterns()) > 0, "%+v", c)
	}
}

// Both heels sore, and one of them stiff for over half an hour.
func TestBothHeels(t *testing.T) {
	heel := func(s body.Side) permit.Mark { return permit.Mark{Region: body.HeelBack, Side: s, Pain: 3, On: today} }
	for name, c := range map[string]struct {
		sore  []permit.Mark
		stiff map[body.Side]int
		want  bool
	}{
		"both, the left stiff":    {[]permit.Mark{heel(body.Left), heel(body.Right)}, map[body.Side]int{body.Left: 31}, true},
		"both, the right stiff":   {[]permit.Mark{heel(body.Left), heel(body.Right)}, map[body.Side]int{body.Right: 31}, true},
		"both, half an hour":      {[]permit.Mark{heel(body.Left), heel(body.Right)}, map[body.Side]int{body.Left: 30, body.Right: 30}, false},
		"the left alone":          {[]permit.Mark{heel(body.Left)}, map[body.Side]int{body.Left: 60}, false},
		"the right alone":         {[]permit.Mark{heel(body.Right)}, map[body.Side]int{body.Right: 60}, false},
		"reported as one of both": {[]permit.Mark{heel(body.Both)}, map[body.Side]int{body.Left: 40}, true},
	} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		f.Sore, f.Stiff = c.sore, c.stiff
		ps := f.Patterns()
		assert.Equal(t, c.want, len(ps) > 0, name)
		if c.want {
			assert.Contains(t, fmt.Sprint(ps[0].Reason.Saw), fmt.Sprintf("%d and %d", c.stiff[body.Left], c.stiff[body.Right]), name)
		}
	}
}

// Pregnant: lying on the back up to a minute at a time from week 13, 28 weeks before the date.
func TestOnTheBackInPregnancy(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "pregnancy", plain.States[2])
	lying := permit.Ask{Demand: body.Demand{Level: 0, Position: "supine", Trains: body.OneSide, Bears: body.NoLeg}, Side: body.Left}
	for weeks, may := range map[int]bool{40: true, 29: true, 27: false, 1: false} {
		f.Profile.CautionNotes = map[string]body.CautionNote{"pregnancy": {Answered: today, On: today.Add(7 * weeks)}}
		assert.Equal(t, may, f.May(lying).May(), "%d weeks to go", weeks)
	}
	f.Profile.CautionNotes = map[string]body.CautionNote{"pregnancy": {Answered: today}}
	assert.False(t, f.May(lying).May(), "the date is not known")
	bounce := permit.Ask{Demand: body.Demand{Level: 1, Impact: body.Supported, Trains: body.BothLegs, Bears: body.BothLegs}, Side: body.Left}
	assert.True(t, f.May(bounce).May() && f.Running())
	f.Profile.CautionNotes = map[string]body.CautionNote{"pregnancy": {Answered: today, On: today.Add(-20), Until: today.Add(-20)}}
	assert.True(t, f.May(lying).May(), "born: on the back as before")
	assert.False(t, f.May(bounce).May() || f.Running(), "and neither bouncing nor running yet")
	for _, trains := range []body.Legs{body.NoLeg, body.OneSide} { // face down not at all, trunk work neither
		assert.False(t, f.May(permit.Ask{Demand: body.Demand{Position: "prone", Trains: trains, Bears: body.NoLeg}, Side: body.Left}).May())
	}
}

// After an illness trunk work is halved too.
func TestTrunkWorkAfterAnIllness(t *testing.T) {
	f := factsOf(refer.Sign{ID: "ill"}, body.WholePerson, body.Both, "", plain.States[2])
	f.Stops[0].On = today.Add(-10)
	f.Stops[0].Clearances = []refer.Clearance{{Kind: "healed", Who: "Runner", On: today.Add(-4)}}
	a := f.May(ask("trunk_brace", body.Both))
	assert.True(t, a.May() && a.HalfSets)
}
