package room

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/record"
)

// A chart of an earlier release, with a list that is a set now and a climb that was split: every row, log, decision,
// day, week, plan and choice stands where its exercise stands now, and what was parked keeps its whole list parked.
func TestAnEarlierChartIsReadThroughTheTable(t *testing.T) {
	on := body.Date("2026-03-02")
	spots := body.Dose{Kind: body.Release, Sets: 2, Seconds: 60}
	row := func(rail, exercise string, side body.Side, d body.Dose, parked bool) catalog.Prescription {
		return catalog.Prescription{ID: rail + string(side), Rail: rail, Side: side, Exercise: exercise, Dose: d, From: on.Add(-10),
			Parked: parked, Cause: "parked"}
	}
	left := row("leg_release", "calf_roller_one", body.Left, spots, false)
	right := row("leg_release", "shin_outer_ball", body.Right, spots, true)
	stretch := row("ankle_bend", "straight_stretch", body.Left, body.Dose{Kind: body.Hold, Sets: 1, Seconds: 60}, false)
	plan := build.Programme{
		Rails: []build.RailPlan{{Rail: "leg_release", Name: "Calf and shin release", Chosen: true,
			Prescriptions: []catalog.Prescription{left, right}, Placed: []body.Reason{{Says: "l"}, {Says: "r"}}},
			{Rail: "hip_trunk", Name: "Hip and trunk"}},
		Week: build.Week{Days: []build.Day{{Entries: []build.Entry{{Rail: "leg_release"}, {Rail: "balance"}}}}},
		Choices: build.Choices{Without: []string{"hip_trunk"}, Also: []string{"leg_release"}, Why: map[string]string{"leg_release": "likes it"},
			Sessions: []build.PinnedPlace{{Rail: "leg_release", Weekday: 2}},
			Notches: []build.PinnedNotch{{Rail: "side_ankle", Side: body.Left, Exercise: "side_out",
				Dose: body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 10, Band: "light"}}}},
	}
	was := record.Record{Plan: &record.Plan{
		Prescriptions: []catalog.Prescription{left, right, stretch},
		Rested:        []catalog.Prescription{row("walks", "walk_heels", body.Left, body.Dose{Kind: body.Paces, Sets: 3, Reps: 10}, false)},
		Programme:     &record.Programme{Plan: plan},
		Weeks:         []record.Moved{{Week: plan.Week}},
		Days: []record.TrainingDay{{On: on, Rail: "leg_release", Slot: catalog.Evening},
			{On: on, Rail: "gait_drills", Slot: catalog.InRun}}},
		Reports: &record.Reports{Logs: []adjust.Log{{On: on.Add(-1), Prescription: left, Done: []int{60, 60}},
			{On: on.Add(-1), Prescription: stretch, Done: []int{60}}}},
		Past: &record.Past{Decisions: []record.Decision{{On: on.Add(-3), Rail: "leg_release", Side: body.Left, Verdict: adjust.Back, Steps: 2,
			ToExercise: "calf_roller_one"}, {On: on.Add(-2), Rail: "leg_release", Side: body.Left, Verdict: adjust.Hold,
			ToExercise: "calf_roller_one"}}},
	}
	is := moved{cat: catalog.Shipped}.record(was)

	at := map[string]string{}
	for _, p := range is.Prescriptions {
		at[p.Rail+" "+string(p.Side)] = p.Exercise + " " + p.Dose.String()
		assert.Equal(t, p.Rail == "shin_release", p.Parked, p.Rail)
	}
	assert.Equal(t, map[string]string{"calf_release left": "calf_roller_one 2 spots × 60 s",
		"shin_release right": "shin_outer_ball 2 spots × 60 s", "ankle_bend left": "calf_stretch 2 × 30 s"}, at,
		"a minute with one knee is half a minute with each")
	rested := map[string]bool{}
	for _, p := range is.Rested {
		rested[p.Rail+" "+string(p.Side)] = p.Parked
	}
	assert.Equal(t, map[string]bool{"heel_walk left": false, "calf_release right": true}, rested,
		"the right leg's list was parked: brought in, its calf release is too")
	assert.Equal(t, [2]string{"calf_release", "ankle_bend"}, [2]string{is.Logs[0].Prescription.Rail, is.Logs[1].Prescription.Rail})
	assert.Equal(t, float64(100), is.Logs[1].Share(), "what was done counts against what was shown")
	assert.True(t, holds(is.Decisions[0], "calf_release") && holds(is.Decisions[0], "shin_release"), "a back holds for the whole list")
	assert.True(t, holds(is.Decisions[1], "calf_release"))
	assert.False(t, holds(is.Decisions[1], "shin_release"), "a hold for its own item")
	days := []string{}
	for _, d := range is.Days {
		days = append(days, d.Rail)
	}
	assert.Equal(t, []string{"calf_release", "shin_release", "drill_posture"}, days)
	entries := []string{}
	for _, e := range is.Weeks[0].Week.Days[0].Entries {
		entries = append(entries, e.Rail)
	}
	assert.Equal(t, []string{"calf_release", "shin_release", "balance"}, entries)
	chosen := []string{}
	for _, r := range is.Programme.Plan.Rails {
		if r.Chosen {
			chosen = append(chosen, r.Rail+" "+r.Placed[0].Says)
		}
	}
	assert.Equal(t, []string{"calf_release l", "shin_release r"}, chosen)
	c := is.Programme.Plan.Choices
	assert.Equal(t, catalog.Shipped.Successors("hip_trunk"), c.Without, "left out whole")
	assert.Equal(t, []string{"calf_release", "shin_release"}, c.Also)
	assert.Equal(t, map[string]string{"calf_release": "likes it", "shin_release": "likes it"}, c.Why)
	assert.Len(t, c.Sessions, 2)
	assert.Equal(t, "side_in 1 × 10 with the light band", c.Notches[0].Exercise+" "+c.Notches[0].Dose.String())
	assert.Equal(t, "leg_release", was.Days[0].Rail, "what was read stays as it is")

	splitClimb(t, row, spots, left)
}

// splitClimb: what was one list for both legs, and what was written since.
func splitClimb(t *testing.T, row func(rail, exercise string, side body.Side, d body.Dose, parked bool) catalog.Prescription,
	spots body.Dose, left catalog.Prescription) {
	on := body.Date("2026-03-02")
	// One leg's exercise went to a rail of its own, the other's stayed.
	bend := []catalog.Prescription{row("ankle_bend", "heel_sit", body.Left, body.Dose{Kind: body.Hold, Sets: 1, Seconds: 45}, true),
		row("ankle_bend", "ankle_rocks", body.Right, body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8, Seconds: 2}, false)}
	is := moved{cat: catalog.Shipped}.record(record.Record{Plan: &record.Plan{
		Prescriptions: bend,
		Programme: &record.Programme{Plan: build.Programme{Rails: []build.RailPlan{{Rail: "ankle_bend", Name: "Ankle bend", Chosen: true,
			Prescriptions: bend, Placed: []body.Reason{{Says: "l"}, {Says: "r"}}}, {Rail: "spring", Name: "Spring"}}}},
		Days: []record.TrainingDay{{On: on, Rail: "ankle_bend", Slot: catalog.Evening}}},
		Past: &record.Past{Decisions: []record.Decision{{Rail: "ankle_bend", Side: body.Left, Verdict: adjust.Back, Steps: 1,
			ToExercise: "heel_sit"}, {Rail: "ankle_bend", Side: body.Right, Verdict: adjust.Up, ToExercise: "straight_stretch",
			ToDose: body.Dose{Kind: body.Hold, Sets: 1, Seconds: 60}}}},
	})
	days := []string{}
	for _, d := range is.Days {
		days = append(days, d.Rail)
	}
	assert.ElementsMatch(t, []string{"ankle_bend", "foot_stretch"}, days)
	for i, want := range []struct{ rail, exercise string }{{"ankle_bend", "ankle_rocks"}, {"foot_stretch", "heel_sit"}} {
		r := is.Programme.Plan.Rails[i]
		require.Len(t, r.Prescriptions, 1, r.Rail)
		assert.Equal(t, want, struct{ rail, exercise string }{r.Rail, r.Prescriptions[0].Exercise})
		assert.True(t, r.Chosen)
	}
	assert.Equal(t, "spring", is.Programme.Plan.Rails[2].Rail, "what nobody moved stays")
	assert.True(t, holds(is.Decisions[0], "foot_stretch") && holds(is.Decisions[0], "ankle_bend"), "a back holds for what shared the climb")
	assert.Equal(t, "calf_stretch 2 × 30 s", is.Decisions[1].ToExercise+" "+is.Decisions[1].ToDose.String())
	require.Len(t, is.Rested, 1)
	assert.Equal(t, [3]any{"ankle_bend", body.Left, true}, [3]any{is.Rested[0].Rail, is.Rested[0].Side, is.Rested[0].Parked},
		"the parked leg is parked on what it left behind too")

	// What was written since stands; a park of the list alone parks all it became.
	newer := row("calf_release", "calf_roller_hips", body.Left, spots, false)
	newer.Set = time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)
	is = moved{cat: catalog.Shipped}.record(record.Record{Plan: &record.Plan{Prescriptions: []catalog.Prescription{newer, left}}})
	require.Len(t, is.Prescriptions, 1)
	assert.Equal(t, "calf_roller_hips", is.Prescriptions[0].Exercise)
	left.Parked = true
	is = moved{cat: catalog.Shipped}.record(record.Record{Plan: &record.Plan{Prescriptions: []catalog.Prescription{left}}})
	require.Len(t, is.Rested, 1)
	assert.Equal(t, [2]any{"shin_release", true}, [2]any{is.Rested[0].Rail, is.Rested[0].Parked})
}

// Mornings and usual levels of the whole heel count for its sole and its back; a new place inherits its usual.
func TestMorningsOfTheWholeHeelCountForBothPlaces(t *testing.T) {
	on := body.Date("2026-03-02")
	is := moved{cat: catalog.Shipped}.record(record.Record{Reports: &record.Reports{
		Mornings: []build.Morning{{ID: "m", On: on, Region: body.Heel, Side: body.Left, Pain: 4, Stiffness: 20, Seq: 7},
			{On: on, Region: body.Calf, Side: body.Left, Pain: 1}}},
		Plan: &record.Plan{Usual: []build.Usual{{Region: body.Heel, Side: body.Left, Level: 2, On: on, Raised: true}}},
	})
	assert.Equal(t, []build.Morning{
		{ID: "m", On: on, Region: body.HeelSole, Side: body.Left, Pain: 4, Stiffness: 20, Seq: 7},
		{ID: "m", On: on, Region: body.HeelBack, Side: body.Left, Pain: 4, Stiffness: 20, Seq: 7},
		{On: on, Region: body.Calf, Side: body.Left, Pain: 1},
	}, is.Mornings)
	assert.Equal(t, []build.Usual{{Region: body.HeelSole, Side: body.Left, Level: 2, On: on, Raised: true},
		{Region: body.HeelBack, Side: body.Left, Level: 2, On: on, Raised: true}}, is.Usual)
}
