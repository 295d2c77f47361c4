package build

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

// What the coach sets by hand is checked, explained, and kept when building again, while moves since
// then stand.
func TestNotchesSetByHand(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	set := func(d body.Dose) RailPlan {
		in.Choices = Choices{Notches: []PinnedNotch{{Rail: "calf_straight", Side: body.Left, Exercise: "one_floor", Dose: d}},
			Why: map[string]string{"calf_straight": "sore last week"}}
		return plan(t, Make(in), "calf_straight")
	}
	reps := func(sets, reps int) body.Dose { return body.Dose{Kind: body.Repetitions, Sets: sets, Reps: reps} }
	r := set(reps(2, 8))
	assert.True(t, r.ByHand)
	assert.Equal(t, "One-leg raises, floor, 2 × 8", r.Prescriptions[0].Text())
	assert.Equal(t, "one_step", r.Prescriptions[1].Exercise, "the other side keeps its own")
	assert.Equal(t, "set by the coach", r.Placed[0].Says)
	assert.Contains(t, fmt.Sprint(r.Placed[0].Saw), "the tests would start at One-leg raises off a step, 2 × 8")
	assert.Contains(t, fmt.Sprint(r.Placed[0].Saw), "sore last week")
	for d, no := range map[body.Dose]string{
		reps(4, 12):                             "more than its highest dose",
		reps(3, 30):                             "more than its highest dose",
		reps(0, 8):                              "at least one set",
		{Kind: body.Hold, Sets: 1, Seconds: 30}: "counted another way",
		{Kind: body.Repetitions, Sets: 2, Reps: 8, LoadKg: 4}:  "not owned",
		{Kind: body.Repetitions, Sets: 2, Reps: 8, Seconds: 5}: "its rhythm is",
		{Kind: body.Repetitions, Sets: 2, Reps: 8, PerDay: 3}:  "its rhythm is",
		{Kind: body.Repetitions, Sets: 2, Reps: 8, OffS: 30}:   "its rhythm is",
	} {
		r := set(d)
		assert.Equal(t, "one_step", r.Prescriptions[0].Exercise, "%v", d)
		assert.Contains(t, fmt.Sprint(r.Placed[0].Saw), "refused, ", "%v", d)
		assert.Contains(t, fmt.Sprint(r.Placed[0].Saw), no, "%v", d)
		require.Len(t, r.Refused, 1, "%v", d)
		assert.Contains(t, r.Refused[0], no)
	}
	beat := in
	beat.Trials = append(slices.Clone(in.Trials), screen.Trial{Measure: "gait.cadence", Side: body.Both, Value: 160, On: today,
		Context: &screen.Context{Pace: "easy", Shod: "shoes"}})
	for spm, refused := range map[int]bool{0: true, 999: true} {
		beat.Choices = Choices{Also: []string{"cadence"}, Notches: []PinnedNotch{{Rail: "cadence", Side: body.Both, Exercise: "metronome",
			Dose: body.Dose{Kind: body.Blocks, Sets: 4, Seconds: 60, OffS: 240, Spm: spm}}}}
		cadence := plan(t, Make(beat), "cadence")
		require.NotEmpty(t, cadence.Placed, "%v", cadence.Why)
		assert.Equal(t, refused, strings.Contains(fmt.Sprint(cadence.Placed[0].Saw), "refused, not owned"), "%d a minute", spm)
	}
	// Built; since then the rail moved up to 3 × 8.
	r = set(reps(2, 8))
	in.Current = slices.Clone(r.Prescriptions)
	in.Current[0].Dose = reps(3, 8)
	in.Before, in.Built = in.Choices, today
	again := plan(t, Make(in), "calf_straight")
	assert.Equal(t, "One-leg raises, floor, 3 × 8", again.Prescriptions[0].Text(), "the move since stands")
	assert.True(t, again.ByHand)
	in.Built = today.Add(-9) // and a newer test does not place a pinned side anew
	in.Current[1].Exercise, in.Current[1].Dose = "two_floor", reps(2, 8)
	again = plan(t, Make(in), "calf_straight")
	assert.Equal(t, "One-leg raises, floor, 3 × 8", again.Prescriptions[0].Text())
	assert.Equal(t, "One-leg raises off a step, 2 × 8", again.Prescriptions[1].Text(), "the other side is placed by it")
	in.Choices.Notches = nil // taken back: the newer test places that side too
	again = plan(t, Make(in), "calf_straight")
	assert.Equal(t, "One-leg raises off a step, 2 × 8", again.Prescriptions[0].Text())
}

func TestATwoLegNotchSetByHandHoldsForBoth(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	in.Choices.Notches = []PinnedNotch{{Rail: "calf_straight", Side: body.Left, Exercise: "two_step",
		Dose: body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 8}}}
	r := plan(t, Make(in), "calf_straight")
	assert.Equal(t, r.Prescriptions[0].Text(), r.Prescriptions[1].Text())
	assert.True(t, r.Once, "one dose of both legs")
}

// Under an open stop nothing new begins, on either leg; what was in force keeps its place: parked on the
// locked leg, waiting on the other. Building again once it is cleared does not open what was parked.
func TestNothingBeginsUnderAStop(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	in.Stops = []refer.Stop{{Sign: "swelling", Region: body.Calf, Side: body.Left, On: today}}
	for _, r := range Make(in).Rails {
		assert.Empty(t, r.Prescriptions, r.Rail)
	}
	for i, s := range body.Sides {
		in.Current = append(in.Current, catalog.Prescription{Rail: "calf_straight", Side: s, Exercise: "one_floor",
			Dose: body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 8 + 2*i}, From: today.Add(-20)})
	}
	in.Built = today.Add(-30)
	r := plan(t, Make(in), "calf_straight")
	require.Len(t, r.Prescriptions, 2)
	assert.True(t, r.Prescriptions[0].Parked, "left, locked")
	assert.False(t, r.Prescriptions[1].Parked, "right waits with its dose")
	assert.Equal(t, "3 × 8", r.Prescriptions[0].Dose.String())
	assert.Equal(t, "3 × 10", r.Prescriptions[1].Dose.String())

	for i := range r.Prescriptions {
		r.Prescriptions[i].Rail = "calf_straight"
	}
	in.Current, in.Built = r.Prescriptions, today
	four := 4
	free, all := body.FreeHops, true
	in.Stops[0].Clearances = []refer.Clearance{{Kind: "clinician", Who: "GP", On: today,
		Opens: &refer.Opening{Level: &four, Impact: &free, Edge: &all, Maximal: &all, Run: "all"}}}
	r = plan(t, Make(in), "calf_straight")
	assert.True(t, r.Prescriptions[0].Parked, "building again never unparks")
	assert.Equal(t, "3 × 8", r.Prescriptions[0].Dose.String())

	in.Stops[0].Clearances, in.Current[0].Cause, in.Current[0].From = nil, catalog.CauseMissed, today.Add(-12)
	r = plan(t, Make(in), "calf_straight")
	assert.Equal(t, [2]string{catalog.CauseMissed, string(today.Add(-12))},
		[2]string{r.Prescriptions[0].Cause, string(r.Prescriptions[0].From)}, "parked already: why and since when stay")
}

// Without a newer test the doses in force stay; with one they follow it, but a parked rail stays
// parked, never above where it was.
func TestBuildingAgain(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	low := catalog.Prescription{ID: "p", Rail: "calf_straight", Side: body.Left, Exercise: "two_floor",
		Dose: body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8}, From: today.Add(-9)}
	in.Current = []catalog.Prescription{low}
	r := plan(t, Make(in), "calf_straight")
	assert.Equal(t, "Two-leg raises, floor, 2 × 8", r.Prescriptions[0].Text())
	assert.Equal(t, today.Add(-9), r.Prescriptions[0].From, "the days at this dose go on counting")
	assert.Equal(t, "one_step", r.Prescriptions[1].Exercise, "a side without a dose is placed")
	in.Built = today
	assert.Equal(t, "two_floor", plan(t, Make(in), "calf_straight").Prescriptions[0].Exercise, "tested, but not since it was built")
	in.Built = today.Add(-9)
	for i := range in.Trials {
		if in.Trials[i].Measure == "calf.raises_straight" {
			in.Trials[i].On = today.Add(-20)
		}
	}
	assert.Equal(t, "two_floor", plan(t, Make(in), "calf_straight").Prescriptions[0].Exercise,
		"another rail's retest moves no dose of this one")
	for i := range in.Trials {
		in.Trials[i].On = today
	}
	assert.Equal(t, "one_step", plan(t, Make(in), "calf_straight").Prescriptions[0].Exercise)
	in.Current[0].Parked = true
	p := plan(t, Make(in), "calf_straight").Prescriptions[0]
	assert.True(t, p.Parked)
	assert.Equal(t, "two_floor", p.Exercise)

	// Left out and brought back it keeps its state, parked or not; parked it keeps its days too.
	in.Built, in.Choices.Also = today, []string{"calf_straight"}
	for _, parked := range []bool{false, true} {
		low.Parked = parked
		other := low
		other.Side = body.Right
		in.Current, in.Rested = nil, []catalog.Prescription{low, other}
		made := Make(in)
		for _, p := range plan(t, made, "calf_straight").Prescriptions {
			assert.Equal(t, parked, p.Parked)
			assert.Equal(t, [2]string{"two_floor", "2 × 8"}, [2]string{p.Exercise, p.Dose.String()})
			assert.Equal(t, today.Add(-9), p.From)
		}
		assert.Positive(t, bitsOf(made.Week, "calf_straight"), "parked %v", parked)
	}
}

// A rail that waits for a test is placed by it, never above where it was: on a lower notch, below the first one, and
// for work of both legs after a sign of either.
func TestParkedUntilTestedAgain(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	in.Built, in.Choices.Also = today.Add(-40), []string{"spring", "heel_walk"}
	for _, s := range body.Sides {
		in.Trials = append(in.Trials, screen.Trial{Measure: "hop.supported", Side: s, Value: 40, On: today},
			screen.Trial{Measure: "foot.short", Side: s, Value: 3, On: today})
	}
	placed := func(rail, exercise, cause string, d body.Dose) []string {
		in.Current = nil
		for _, s := range body.Sides {
			in.Current = append(in.Current, catalog.Prescription{Rail: rail, Side: s, Exercise: exercise, Dose: d, From: today.Add(-20),
				Parked: true, Cause: cause})
		}
		out := []string{}
		for _, p := range plan(t, Make(in), rail).Prescriptions {
			out = append(out, p.Text())
			assert.Equal(t, !p.Parked, p.Cause == catalog.CausePlaced, p.Text())
		}
		return out
	}
	raises := func(sets, n int) body.Dose { return body.Dose{Kind: body.Repetitions, Sets: sets, Reps: n} }
	contacts := func(n int) body.Dose { return body.Dose{Kind: body.Contacts, Sets: 2, Reps: n} }
	for _, c := range []struct {
		rail, exercise, cause string
		dose                  body.Dose
		want                  string
	}{
		{"calf_straight", "one_step", catalog.CauseMissed, raises(3, 12), "One-leg raises off a step, 2 × 8"},
		{"calf_straight", "two_floor", catalog.CauseRetest, raises(2, 8), "Two-leg raises, floor, 2 × 8"},
		{"calf_straight", "two_floor", "parked", raises(2, 8), "parked"},
		{"heel_walk", "walk_heels", catalog.CauseMissed, body.Dose{Kind: body.Paces, Sets: 3, Reps: 20},
			"On the heels: straight, out, in, 3 × 10 paces"},
		{"heel_walk", "walk_heels", "parked", body.Dose{Kind: body.Paces, Sets: 3, Reps: 20}, "parked"},
		{"spring", "heel_bounce", catalog.CauseMissed, contacts(10), "Heel bounces, forefoot stays, 2 × 5 contacts"},
	} {
		assert.Equal(t, []string{c.want, c.want}, placed(c.rail, c.exercise, c.cause, c.dose), "%s %s", c.exercise, c.cause)
	}
	whole := in.Trials
	in.Trials = slices.Clone(whole)
	for i := range in.Trials {
		if in.Trials[i].Measure == "calf.raises_straight" {
			in.Trials[i].Skipped = "no time"
		}
	}
	assert.Contains(t, placed("calf_straight", "two_floor", catalog.CauseMissed, raises(2, 8)), "parked", "a test that was skipped is none")
	in.Trials = whole
	in.Stops = []refer.Stop{{Sign: "bone", Region: body.Calf, Side: body.Left, On: today.Add(-20),
		Clearances: []refer.Clearance{{Kind: "clinician", Who: "GP", On: today.Add(-10), Opens: func() *refer.Opening {
			four, free := 4, body.FreeHops
			return &refer.Opening{Level: &four, Impact: &free, Run: "all"}
		}()}}}}
	assert.NotContains(t, placed("spring", "heel_bounce", "parked", contacts(10)), "parked", "the left leg's sign parked both rows")
	in.Stops[0].On, in.Stops[0].Clearances[0].On = today.Add(-40), today.Add(-20)
	assert.NotContains(t, placed("spring", "heel_bounce", "parked", contacts(10)), "parked", "over on the day it was parked")
	in.Stops[0].On, in.Stops[0].Clearances[0].On = today.Add(-40), today.Add(-21)
	assert.Contains(t, placed("calf_straight", "two_floor", "parked", raises(2, 8)), "parked", "a sign that was over before it was parked")
}

// A retest that finds what the one before found takes nothing back that was earned since, as long as what is done is no
// more than what was tested; a worse one places anew.
func TestTheSameRetestTakesNothingBack(t *testing.T) {
	built := today.Add(-28)
	tested := func(rail, measure string, was, is float64, exercise string, d body.Dose) string {
		in := input(nil)
		for _, s := range body.Sides {
			in.Was = append(in.Was, screen.Trial{Measure: measure, Side: s, Value: was, On: built, Stop: "height"})
			in.Trials = append(in.Trials, screen.Trial{Measure: measure, Side: s, Value: is, On: today, Stop: "height"})
			in.Current = append(in.Current, catalog.Prescription{Rail: rail, Side: s, Exercise: exercise, Dose: d, From: today.Add(-3)})
		}
		in.Built, in.Choices.Also = built, []string{rail}
		return plan(t, Make(in), rail).Prescriptions[0].Text()
	}
	walking := body.Dose{Kind: body.Paces, Sets: 2, Reps: 10}
	assert.Equal(t, "Walking braced, 2 × 10 paces", tested("short_foot", "foot.short", 2, 2, "short_walking", walking))
	assert.Equal(t, "Arch lift over a small object, seated, 1 × 8, 5 s hold",
		tested("short_foot", "foot.short", 2, 1, "short_walking", walking), "worse")
	reps := func(sets, n int) body.Dose { return body.Dose{Kind: body.Repetitions, Sets: sets, Reps: n} }
	assert.Equal(t, "One-leg raises off a step, 3 × 8", tested("calf_straight", "calf.raises_straight", 12, 12, "one_step", reps(3, 8)))
	assert.Equal(t, "One-leg raises, floor, 2 × 4", tested("calf_straight", "calf.raises_straight", 12, 11, "one_step", reps(3, 8)), "worse")
	assert.Equal(t, "One-leg raises, floor, 2 × 4", tested("calf_straight", "calf.raises_straight", 11, 11, "one_floor", reps(3, 12)),
		"12 of 11 tested")
}

// No worse means higher where more is better, and lower where less is; a measure not taken again says nothing.
func TestNoWorseGoesByTheMeasuresDirection(t *testing.T) {
	built := today.Add(-28)
	for _, c := range []struct {
		measure string
		was, is float64
		want    bool
	}{{"arch.drop", 8, 8, true}, {"arch.drop", 8, 6, true}, {"arch.drop", 8, 9, false}, {"calf.raises_straight", 12, 12, true},
		{"calf.raises_straight", 12, 15, true}, {"calf.raises_straight", 12, 11, false}} {
		was, is := []screen.Trial{{Measure: c.measure, Side: body.Left, Value: c.was, On: built}},
			[]screen.Trial{{Measure: c.measure, Side: body.Left, Value: c.is, On: today}}
		rail := catalog.Rail{Place: &catalog.Place{Measure: c.measure}}
		found := func(was, is []screen.Trial) bool {
			return view{in: Input{Built: built, Was: was, Trials: is}}.noWorse(rail, body.Left)
		}
		assert.Equal(t, c.want, found(was, is), "%s: %g, then %g", c.measure, c.was, c.is)
		assert.False(t, found(was, was), "%s not taken again", c.measure)
		assert.False(t, found(nil, is), "%s taken for the first time", c.measure)
	}
}

// A rail left out for four weeks and brought back waits for a test, as if it had been missed; after one it begins anew,
// never above where it was. Left out for less it keeps its place.
func TestARailBroughtBackAfterFourWeeks(t *testing.T) {
	row := func(ago int, tested bool) catalog.Prescription {
		in := input(nil)
		for _, s := range body.Sides {
			in.Rested = append(in.Rested, catalog.Prescription{Rail: "posture", Side: s, Exercise: "posture_line",
				Dose: body.Dose{Kind: body.Hold, Sets: 3, Seconds: 45}, From: today.Add(-90)})
			if tested {
				in.Trials = append(in.Trials, screen.Trial{Measure: "ankle.knee_to_wall", Side: s, Value: 9, On: today})
			}
		}
		in.Built, in.Choices.Also, in.Done = today.Add(-60), []string{"posture"}, map[string]body.Date{"posture_line": today.Add(-ago)}
		return plan(t, Make(in), "posture").Prescriptions[0]
	}
	for _, c := range []struct {
		ago    int
		tested bool
		want   string
	}{{27, false, "Standing line, hips forward, 3 × 45 s"}, {27, true, "Standing line, hips forward, 3 × 45 s"}, {28, false, "parked"},
		{28, true, "Standing line, hips forward, 2 × 30 s"}} {
		assert.Equal(t, c.want, row(c.ago, c.tested).Text(), "%d days, tested %v", c.ago, c.tested)
	}
	assert.Equal(t, catalog.CauseMissed, row(28, false).Cause)
}

// What is in force goes on where its test, no newer than the programme, is too little to begin with; a newer one that is too
// little parks it until it is tested again.
func TestATestTooLittleToGoOnBy(t *testing.T) {
	for newer, parked := range map[int]bool{0: false, 1: true} {
		in := input(nil)
		in.Built = today.Add(-newer)
		in.Trials = append(in.Trials, screen.Trial{Measure: "hold.forefoot_two", Side: body.Both, Value: 3, On: today})
		for _, s := range body.Sides {
			in.Current = append(in.Current, catalog.Prescription{Rail: "forefoot_hold", Side: s, Exercise: "hold_two",
				Dose: body.Dose{Kind: body.Hold, Sets: 2, Seconds: 10}, From: today.Add(-9)})
		}
		in.Choices.Also = []string{"forefoot_hold"}
		r := plan(t, Make(in), "forefoot_hold")
		require.NotEmpty(t, r.Prescriptions, "%v", r.Why)
		assert.Equal(t, parked, r.Prescriptions[0].Parked, "tested %d days after it was built", newer)
		assert.Equal(t, "2 × 10 s", r.Prescriptions[0].Dose.String())
		for i := range in.Current { // parked before, it stays so for what it was
			in.Current[i].Parked, in.Current[i].Cause = true, catalog.CauseMissed
		}
		r = plan(t, Make(in), "forefoot_hold")
		assert.True(t, r.Prescriptions[0].Parked)
		assert.Equal(t, catalog.CauseMissed, r.Prescriptions[0].Cause)
		assert.Equal(t, today.Add(-9), r.Prescriptions[0].From)
	}
}

// What was missed for too long waits for a test of its own leg: one of the other leg brings nothing back.
func TestTheOtherLegsTestBringsNothingBack(t *testing.T) {
	for _, at := range body.Sides {
		in := input(nil)
		in.Built = today.Add(-60)
		for _, s := range body.Sides {
			in.Current = append(in.Current, catalog.Prescription{Rail: "calf_straight", Side: s, Exercise: "one_floor",
				Dose: body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 8}, From: today.Add(-40), Parked: true, Cause: catalog.CauseMissed})
		}
		in.Trials = append(in.Trials, screen.Trial{Measure: "calf.raises_straight", Side: at, Value: 13, Stop: "height", On: today})
		for _, p := range plan(t, Make(in), "calf_straight").Prescriptions {
			assert.Equal(t, p.Side != at, p.Parked, "%s, tested on the %s", p.Side, at)
		}
	}
}
