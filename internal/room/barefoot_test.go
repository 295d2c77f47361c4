package room_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/permit/plain"
	"notchback/internal/core/refer"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// bareRunner passes the whole gate and runs 160 min a week.
func bareRunner(t *testing.T, d *testkit.Desk, change func(*body.Profile), arch ...float64) string {
	p := testkit.Profile()
	p.NotRunning, p.WeeklyMinutes, p.LongestRunKm = false, 160, 12
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 60, Quality: "easy"}, {Weekday: 4, Minutes: 60, Quality: "easy"},
		{Weekday: 6, Minutes: 40, Quality: "easy"}}
	if change != nil {
		change(&p)
	}
	runner := d.Runner(t, p)
	tests := map[string]float64{"sole.touch": 0, "squat.arch": 0, "toes.shape": 0, "ankle.end_feel": 0, "foot.short": 2}
	for m, v := range plain.Passed {
		tests[m] = v
	}
	for _, v := range arch {
		tests["arch.two_finger"] = v
	}
	d.Screen(t, runner, tests)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	return runner
}

func begun(t *testing.T, d *testkit.Desk, runner string, p barefoot.Plan) {
	t.Helper()
	require.NoError(t, d.PlanBarefoot(ctx, d.Actor, runner, store.NewID(), look(t, d, runner).BarefootID, p))
}

var toBare = barefoot.Plan{Aim: barefoot.BareFeet, Cap: 20}

func TestBeginningATransition(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := bareRunner(t, d, func(p *body.Profile) {
		p.Shoes = []body.Shoe{{Name: "road", MassG: 285, HeelMm: 32, ForefootMm: 24, Technologies: 1, Lengthwise: 1, Twisting: 1},
			{Name: "light", MassG: 235, HeelMm: 26, ForefootMm: 22, Lengthwise: 1.5, Twisting: 1},
			{Name: "thin", MassG: 150, HeelMm: 10, ForefootMm: 10, Lengthwise: 2.5, Twisting: 2.5}}
	})
	refused := func(p barefoot.Plan, field, words string) {
		t.Helper()
		err := d.PlanBarefoot(ctx, d.Actor, runner, store.NewID(), "", p)
		var f *body.FieldError
		require.ErrorAs(t, err, &f)
		assert.Equal(t, field, f.Field)
		assert.Contains(t, f.Message, words)
	}
	refused(barefoot.Plan{Aim: barefoot.BareFeet}, "cap", "1 to 100")
	// Minimalist Index by hand from the table of Esculier et al. 2015 (from memory): road 1 + 0 + 2 + 4 + 2 = 9 of 25, 36 %; light
	// 2 + 1 + 3 + 5 + 2.5 = 13.5, 54 %; thin 4 + 4 + 5 + 5 + 5 = 23, 92 %.
	refused(barefoot.Plan{Aim: barefoot.ThinShoe, Cap: 60, From: "road", Shoe: "thin"}, "shoe", "56 points thinner; too much at once")
	refused(barefoot.Plan{Aim: barefoot.BareFeet, Cap: 20, Start: barefoot.At{Stage: barefoot.RunWalk}}, "start", "how many minutes")
	id := store.NewID()
	for range 2 {
		require.NoError(t, d.PlanBarefoot(ctx, d.Actor, runner, id, "", toBare), "sent again it is the same")
	}
	assert.ErrorIs(t, d.PlanBarefoot(ctx, d.Actor, runner, store.NewID(), "", toBare), store.ErrStale)
	o := look(t, d, runner)
	assert.Equal(t, barefoot.At{}, o.BareState().At)
	assert.Equal(t, "5 min a day at home", o.BareState().Dose.Words)
	v, err := room.BareRoom.Look(ctx, d.Desk, d.Actor, runner)
	require.NoError(t, err)
	assert.Equal(t, barefoot.Share, v.Gate.Cap)
	assert.InDelta(t, 18, v.Steps["light"].Points, 1e-9)
	assert.True(t, v.Steps["light"].Fits)
	assert.True(t, v.Steps["light"].Dial, "8 mm to 4 mm")
	assert.False(t, v.Steps["thin"].Fits)
	assert.NotEmpty(t, v.Ahead.Done)

	// Another aim begins anew; ended, there is none.
	begun(t, d, runner, barefoot.Plan{Aim: barefoot.ThinShoe, Cap: 60, From: "road", Shoe: "light"})
	assert.Equal(t, "light", look(t, d, runner).Barefoot.Shoe)
	begun(t, d, runner, barefoot.Plan{Aim: barefoot.ThinShoe, Cap: 60, From: "road", Shoe: "light", Ended: "2026-01-01"})
	assert.Nil(t, look(t, d, runner).BareState())

	// Without feeling nothing begins; with an arch that flattens nothing beyond strength.
	p := look(t, d, runner).Profile
	p.Cautions = []string{"sensation"}
	other := d.Runner(t, p)
	for _, aim := range barefoot.Aims {
		err = d.PlanBarefoot(ctx, d.Actor, other, store.NewID(), "", barefoot.Plan{Aim: aim, Cap: 20, From: "road", Shoe: "light"})
		assert.ErrorContains(t, err, "nothing on bare feet begins now", aim)
	}
	flat := bareRunner(t, d, nil, 2)
	beyond := toBare
	beyond.Start = barefoot.At{Stage: barefoot.Bouncing}
	assert.ErrorContains(t, d.PlanBarefoot(ctx, d.Actor, flat, store.NewID(), "", beyond), "the gate leaves stage 2, strength")
}

// live has a runner tell of quiet mornings, runs and goes for days.
func live(t *testing.T, d *testkit.Desk, runner string, days int) {
	t.Helper()
	for range days {
		d.Shift(d.Ahead() + 24*time.Hour)
		o := look(t, d, runner)
		require.NoError(t, d.AddMorning(ctx, d.Actor, runner, "phone", build.Morning{ID: store.NewID(), On: o.Today,
			Region: body.WholePerson, Side: body.Both, Quiet: true}))
		for _, r := range o.Profile.Runs {
			if r.Weekday == o.Today.Weekday() {
				require.NoError(t, d.AddRun(ctx, d.Actor, runner, "phone", load.Run{ID: store.NewID(), On: o.Today, Minutes: float64(r.Minutes),
					Km: float64(r.Minutes) / 6, RPE: 4}, ""))
			}
		}
		placed, _ := o.BareWeek(o.Today.Monday())
		for _, p := range placed {
			if p.On == o.Today {
				require.NoError(t, d.AddBare(ctx, d.Actor, runner, "phone", barefoot.Log{ID: store.NewID(), On: o.Today, Stage: p.Stage,
					Minutes: float64(p.Minutes * max(1, p.Times)), Contacts: p.Contacts, Whole: p.Part == "all", Pain: "0", Skin: "fine",
					Surface: "track"}))
			}
		}
	}
}

// From five minutes at home onwards, by the dial: it waits for its lead, the coach gives it, and the move is taken once.
func TestATransitionMovesWhenItLeads(t *testing.T) {
	d := testkit.NewDesk(t, "b@test.example")
	runner := bareRunner(t, d, nil)
	live(t, d, runner, 3)
	begun(t, d, runner, toBare)
	live(t, d, runner, 8)
	o := look(t, d, runner)
	s := o.BareState()
	if s.Verdict == barefoot.Hold {
		require.NotEmpty(t, s.Waits)
		assert.Contains(t, s.Waits[0].Says, "leads this week; the barefoot dial waits", "%+v", s.Waits)
	}
	lead := store.NewID()
	for range 2 {
		require.NoError(t, d.LeadBarefoot(ctx, d.Actor, runner, lead, o.Today))
	}
	o = look(t, d, runner)
	s = o.BareState()
	require.Equal(t, barefoot.Up, s.Verdict, "%+v %+v", s.Waits, s.Fired)
	assert.ErrorContains(t, d.DecideBare(ctx, d.Actor, runner, store.NewID(), barefoot.At{Stage: barefoot.Walking}, s.Saw, "sure"),
		"choose a place no further than 10 min a day at home")
	assert.ErrorIs(t, d.DecideBare(ctx, d.Actor, runner, store.NewID(), s.To, s.Saw-1, ""), store.ErrStale)
	assert.ErrorContains(t, d.DecideBare(ctx, d.Actor, runner, store.NewID(), s.At, s.Saw, ""), "say in a word why")
	move := store.NewID()
	for range 2 {
		require.NoError(t, d.DecideBare(ctx, d.Actor, runner, move, s.To, s.Saw, ""))
	}
	o = look(t, d, runner)
	assert.Equal(t, barefoot.At{Step: 1}, o.BareState().At)
	require.Len(t, o.BareMoves, 1)
	assert.NotEmpty(t, o.BareMoves[0].Reasons)
	assert.Equal(t, "Test Coach", o.BareMoves[0].By)

	readElsewhere(t, d, runner)
}

// readElsewhere: paper, calendar, week, strip and phone.
func readElsewhere(t *testing.T, d *testkit.Desk, runner string) {
	t.Helper()
	o := look(t, d, runner)
	h := o.Handout(o.Today, 7)
	assert.Equal(t, "bare at home, 10 min; a soft ball under the foot first", h.Days[1].Bare)
	titles := 0
	for _, p := range o.Calendar() {
		if p.Kind == "bare" && !p.Gone {
			assert.Equal(t, "Bare at home, 10 min; a soft ball under the foot first", p.Title)
			titles++
		}
	}
	assert.GreaterOrEqual(t, titles, 13)
	week, err := room.WeekRoom.Look(ctx, d.Desk, d.Actor, runner)
	require.NoError(t, err)
	assert.NotEmpty(t, week.Bare)
	strip, err := d.Strip(ctx, d.Actor, runner)
	require.NoError(t, err)
	var minutes float64
	for _, day := range strip.Days {
		minutes += day.Bare
	}
	assert.GreaterOrEqual(t, minutes, 35.0)
	ph := o.Phone(d.Now())
	require.NotNil(t, ph.Bare)
	assert.Equal(t, 10, ph.Bare.Minutes)
	assert.NotContains(t, ph.Bare.New, barefoot.New{Ground: "track", Half: "5 min"})
	assert.Subset(t, ph.Bare.New, []barefoot.New{{Ground: "track, wet", Half: "5 min"}, {Ground: "grass", Half: "5 min"}})
	names := []string{}
	for _, w := range ph.Watched {
		names = append(names, w.Name)
	}
	assert.Subset(t, names, []string{"calf", "arch"}, "calf and sole are asked in the morning")

	// The stage bounds bare exercises, and foot work on the spot goes on.
	assert.Equal(t, barefoot.Home, *o.Facts().Reached)
	assert.False(t, o.Facts().May(permit.BareAsk(barefoot.Walking)).May())
	assert.True(t, o.Facts().May(permit.BareAsk(barefoot.Home)).May())
}

// Reports of a go: pain is a report like one of a session, broken skin and pain on a bone are warning signs, each told once.
func TestWhatAGoTellsOf(t *testing.T) {
	d := testkit.NewDesk(t, "c@test.example")
	runner := bareRunner(t, d, nil)
	begun(t, d, runner, toBare)
	live(t, d, runner, 2)
	today := look(t, d, runner).Today
	hurt := barefoot.Log{ID: store.NewID(), On: today, Stage: barefoot.Home, Minutes: 5, Pain: "8", Region: body.Calf, Side: body.Left,
		Skin: "fine"}
	for range 2 {
		require.NoError(t, d.AddBare(ctx, d.Actor, runner, "phone", hurt))
	}
	o := look(t, d, runner)
	assert.Len(t, o.Facts().Pauses, 1, "pain of 8 is talked over first")
	assert.Equal(t, body.Calf, o.Facts().Pauses[0].Region)
	assert.Equal(t, barefoot.Rest, o.BareState().Verdict, "below the first step it rests")
	lines, err := d.Today(ctx, d.Actor)
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(lines, func(q room.QueueItem) bool {
		return q.Sentence == "Barefoot: pain of 8 while doing it: back" && q.Step == "barefoot"
	}), "%+v", lines)

	skin := barefoot.Log{ID: store.NewID(), On: today, Stage: barefoot.Home, Minutes: 5, Pain: "0", Skin: "broken", SkinSide: body.Right,
		Bone: "left"}
	for range 2 {
		require.NoError(t, d.AddBare(ctx, d.Actor, runner, "phone", skin))
	}
	signs := map[string]body.Side{}
	o = look(t, d, runner)
	for _, s := range o.Stops {
		signs[s.Sign] = s.Side
	}
	assert.Equal(t, map[string]body.Side{"bone": body.Left, "blister": body.Right}, signs)
	assert.Len(t, o.Stops, 2)
	assert.Equal(t, barefoot.None, o.BareState().Now.Stage)
	assert.Equal(t, refer.HardStop, o.Stops[0].Class(o.Profile))
	early := hurt
	early.ID, early.On = store.NewID(), today.Add(1)
	assert.ErrorIs(t, d.AddBare(ctx, d.Actor, runner, "phone", early), room.ErrEarly)
}

// Bare minutes and cadence never rise in one week, and a share is of the running that was told: 12 of 160 min a week.
func TestTheShareAndTheOneDial(t *testing.T) {
	d := testkit.NewDesk(t, "d@test.example")
	runner := bareRunner(t, d, nil)
	plan := toBare
	plan.Start = barefoot.At{Stage: barefoot.Share, Minutes: 12}
	begun(t, d, runner, plan)
	live(t, d, runner, 28)
	v, err := room.BareRoom.Look(ctx, d.Desk, d.Actor, runner)
	require.NoError(t, err)
	assert.InDelta(t, 160*4, v.Shares.Running, 60.5)
	assert.InDelta(t, 12*4, v.Shares.Minutes, 12.5)
	assert.InDelta(t, 100*v.Shares.Minutes/v.Shares.Running, v.Shares.Percent, 1e-9)
	assert.InDelta(t, 7.5, v.State.Share, 0.01) // 12 of 160
	what, err := room.BareIfRoom(room.BareIf{Lost: 2}).Look(ctx, d.Desk, d.Actor, runner)
	require.NoError(t, err)
	assert.Less(t, what.Steps[0].At.Minutes, 12, "two weeks without are a step back")
	grow := 5.0
	more, err := room.BareIfRoom(room.BareIf{Grow: &grow}).Look(ctx, d.Desk, d.Actor, runner)
	require.NoError(t, err)
	assert.Greater(t, more.Steps[4].On, v.Ahead.Steps[4].On, "running that rises leads most weeks")
}

// A run in the next shoe is a go in it, without being told twice; pain of it takes the step back.
func TestARunInTheNextShoe(t *testing.T) {
	d := testkit.NewDesk(t, "e@test.example")
	runner := bareRunner(t, d, func(p *body.Profile) {
		p.Shoes = []body.Shoe{{Name: "road", MassG: 285, HeelMm: 32, ForefootMm: 24, Technologies: 1, Lengthwise: 1, Twisting: 1},
			{Name: "light", MassG: 235, HeelMm: 26, ForefootMm: 22, Lengthwise: 1.5, Twisting: 1}}
	})
	begun(t, d, runner, barefoot.Plan{Aim: barefoot.ThinShoe, Cap: 60, From: "road", Shoe: "light",
		Start: barefoot.At{Stage: barefoot.Share, Minutes: 20}})
	live(t, d, runner, 1)
	run := func(pain string) {
		o := look(t, d, runner)
		require.NoError(t, d.AddRun(ctx, d.Actor, runner, "phone", load.Run{ID: store.NewID(), On: o.Today, Minutes: 20, Km: 3, RPE: 4,
			Details: load.Details{Shoe: "light", Pain: pain, Region: body.Calf, Side: body.Left}}, ""))
	}
	run("0")
	v, err := room.BareRoom.Look(ctx, d.Desk, d.Actor, runner)
	require.NoError(t, err)
	assert.InDelta(t, 20, v.Shares.Minutes, 10.5) // what was placed that day may have been told as well
	assert.Equal(t, barefoot.Hold, v.State.Verdict)
	live(t, d, runner, 1)
	run("6")
	s := look(t, d, runner).BareState()
	assert.Equal(t, barefoot.Back, s.Verdict)
	assert.Equal(t, 16, s.Now.Minutes, "four fifths of 20")

	// Ended and begun again the same day it is another: what was decided before is not its own.
	require.NoError(t, d.DecideBare(ctx, d.Actor, runner, store.NewID(), s.To, s.Saw, ""))
	plan := look(t, d, runner).Barefoot
	plan.Ended = "2026-01-01"
	begun(t, d, runner, plan)
	begun(t, d, runner, barefoot.Plan{Aim: barefoot.BareFeet, Cap: 20})
	assert.Equal(t, barefoot.At{}, look(t, d, runner).BareState().At)
	assert.Empty(t, look(t, d, runner).BareMoves)
}
