package room_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

func typical(t *testing.T, d *testkit.Desk) screen.Typical {
	ts, err := d.Typical(ctx, d.Actor)
	require.NoError(t, err)
	for _, x := range ts {
		if x.Measure == "ankle.knee_to_wall" {
			return x
		}
	}
	return screen.Typical{}
}

// Pairs count within seven days and without training between; each side is a pair.
func TestRepeatPairsForTheTypicalError(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	for range 10 {
		d.Shift(0)
		runner := d.Runner(t, testkit.Profile())
		d.Screen(t, runner, map[string]float64{"ankle.knee_to_wall": 9})
		d.Shift(2 * day)
		d.Screen(t, runner, map[string]float64{"ankle.knee_to_wall": 9.5})
	}
	x := typical(t, d)
	assert.Equal(t, 20, x.Pairs)
	assert.True(t, x.Enough)
	assert.InDelta(t, 0, x.Error, 1e-9, "every pair differs by the same: no random error")

	d.Shift(0)
	late := d.Runner(t, testkit.Profile())
	d.Screen(t, late, map[string]float64{"ankle.knee_to_wall": 9})
	d.Shift(8 * day)
	d.Screen(t, late, map[string]float64{"ankle.knee_to_wall": 9})
	assert.Equal(t, 20, typical(t, d).Pairs, "eight days apart is too far")

	d.Shift(0)
	trained := programmed(t, d, testkit.Profile())
	p := look(t, d, trained).Prescriptions[0]
	require.NoError(t, d.AddLog(ctx, d.Actor, trained, room.Entry{Log: adjust.Log{ID: store.NewID(), On: look(t, d, trained).Today,
		Done: []int{8, 8}, RPE: 7, Source: "phone"}, Prescription: p.ID}))
	d.Shift(2 * day)
	d.Screen(t, trained, map[string]float64{"ankle.knee_to_wall": 9})
	assert.Equal(t, 20, typical(t, d).Pairs, "training between")
}

// Before and after one session, in the same words; it never enters the findings.
func TestTheQuickTestOfASession(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	d.AskSigns(t, runner)
	id := store.NewID()
	require.NoError(t, d.StartScreen(ctx, d.Actor, runner, id, room.Start{Kind: screen.Session}))
	walk := func(v float64, moment string) error {
		return d.Try(ctx, runner, id, screen.Trial{ID: store.NewID(), Measure: "walk.heels", Side: body.Left, Value: v, Where: body.HeelSole,
			Moment: moment})
	}
	assert.ErrorContains(t, walk(4, ""), "before and after")
	require.NoError(t, walk(4, "before"))
	require.NoError(t, walk(2, "after"))
	o := look(t, d, runner)
	got := o.Screening().Session
	require.Len(t, got, 1)
	assert.Equal(t, screen.Improved, got[0].Change, "two points (Farrar et al. 2001, from memory)")
	assert.Empty(t, o.Read().Findings)
	require.Len(t, o.Retests().Sessions, 1)
	assert.Empty(t, o.Retests().SinceLast)
	require.NoError(t, d.InScreen(ctx, d.Actor, runner, id, func(tx *store.Tx) error { return tx.FinishScreen(ctx, runner, id) }))
	o = look(t, d, runner)
	assert.True(t, o.Circumstances("").FirstVisit, "a quick test is no visit")
	assert.Equal(t, "Start the screen.", o.Standing().Lines[0].Detail)
}

// The desk counts what is due after its interval; a small retest does not hide the rest.
func TestASmallRetestDoesNotHideWhatIsDue(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	d.Shift(27 * day)
	_, n := look(t, d, runner).RetestDue()
	assert.Zero(t, n)
	d.Shift(28 * day)
	since, n := look(t, d, runner).RetestDue()
	assert.Equal(t, 6, n, "the raises wait for twelve weeks")
	assert.Equal(t, look(t, d, runner).Today, since)
	d.Screen(t, runner, map[string]float64{"ankle.knee_to_wall": 8})
	_, n = look(t, d, runner).RetestDue()
	assert.Equal(t, 5, n)
	d.Shift(84 * day)
	_, n = look(t, d, runner).RetestDue()
	assert.Equal(t, 7, n)
}

// A retest of one measure, or a quick test, leaves every other rail's dose where it stands.
func TestARetestMovesOnlyItsOwnRail(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	doses := func(o room.Chart) map[string]string {
		out := map[string]string{}
		draft, err := o.Draft(nil)
		require.NoError(t, err)
		for _, r := range draft.Rails {
			for _, p := range r.Prescriptions {
				out[p.Rail+" "+string(p.Side)] = p.Text()
			}
		}
		return out
	}
	before := doses(look(t, d, runner))
	d.Shift(28 * day)
	d.Screen(t, runner, map[string]float64{"ankle.knee_to_wall": 3, "balance.open": 40})
	after := doses(look(t, d, runner))
	assert.NotEqual(t, before["ankle_bend left"], after["ankle_bend left"], "the ankle was tested again, and is shorter")
	for _, rail := range []string{"big_toe left", "big_toe right", "calf_straight left", "calf_straight right"} {
		assert.Equal(t, before[rail], after[rail], rail)
	}
}

// Two coaches who start at once work on the same screen, and both may enter.
func TestTwoCoachesStartAtOnce(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	d.AskSigns(t, runner)
	errs := make(chan error, 2)
	for range 2 {
		go func() {
			errs <- d.StartScreen(ctx, d.Actor, runner, store.NewID(), room.Start{Kind: screen.CoreScreen})
		}()
	}
	require.NoError(t, <-errs)
	require.NoError(t, <-errs)
	o := look(t, d, runner)
	require.Len(t, o.Screens, 1)
	for range 4 {
		go func() {
			errs <- d.Try(ctx, runner, o.Screens[0].ID, screen.Trial{ID: store.NewID(), Measure: "ankle.knee_to_wall", Side: body.Left, Value: 9})
		}()
	}
	for range 4 {
		require.NoError(t, <-errs)
	}
	assert.Len(t, look(t, d, runner).Screens[0].Trials, 4)
}

// A screen put away empty never was: the next one is still a first visit.
func TestAnEmptyScreenIsPutAway(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	id := d.Begin(t, runner)
	require.NotNil(t, look(t, d, runner).Screening().Current)
	require.NoError(t, d.InScreen(ctx, d.Actor, runner, id, func(tx *store.Tx) error { return tx.FinishScreen(ctx, runner, id) }))
	o := look(t, d, runner)
	assert.Empty(t, o.Screens)
	assert.True(t, o.Circumstances("").FirstVisit)
	assert.Equal(t, "Start the screen.", o.Standing().Lines[0].Detail)
}

// A locked place is not tested; what is left out says why.
func TestALockedTestIsRefused(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	id := d.Begin(t, runner)
	require.NoError(t, d.RecordStop(ctx, d.Actor, runner, refer.Stop{ID: store.NewID(), Sign: "bone", Which: []string{"outer_bone"},
		Side: body.Left, Source: "screen"}))
	knee := screen.Trial{ID: store.NewID(), Measure: "ankle.knee_to_wall", Side: body.Left, Value: 9}
	assert.ErrorContains(t, d.Try(ctx, runner, id, knee), "the left leg is locked: a warning sign is open")
	knee.Skipped = "not safe today"
	require.NoError(t, d.Try(ctx, runner, id, knee))
	knee.ID, knee.Skipped, knee.Side = store.NewID(), "", body.Right
	assert.ErrorContains(t, d.Try(ctx, runner, id, knee), "the left leg is locked", "the lunge stands on both feet")
	toes := screen.Trial{ID: store.NewID(), Measure: "toes.big_alone", Side: body.Right, Value: 2}
	require.NoError(t, d.Try(ctx, runner, id, toes), "seated, on the free leg")
	o := look(t, d, runner)
	assert.Equal(t, body.OuterAnkle, o.Stops[0].Region, "what exactly it is gives the place")
	var shut []string
	for _, s := range o.Screening().Shut {
		shut = append(shut, s.Measure+" "+string(s.Side))
	}
	assert.Contains(t, shut, "ankle.knee_to_wall left")
	assert.NotContains(t, shut, "toes.big_alone right")
	assert.NotContains(t, shut, "sole.touch left", "feeling may be tested")
	assert.Contains(t, shut, "calf.rm right", "a first visit")
	note := o.Referral()
	require.Len(t, note.Stops, 1)
	assert.Equal(t, "left outer ankle", note.Stops[0].Place)
	assert.Contains(t, note.Stops[0].What, "outer ankle bone")
}

// The runner's form waits; what only the coach sets is not the runner's to change.
func TestTheRunnersOwnForm(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	p := testkit.Profile()
	p.Cautions, p.HeavyAllowed = []string{"bone"}, "limits by the clinic"
	runner := d.Runner(t, p)
	mine := testkit.Profile()
	mine.HeavyAllowed, mine.GuardianConsent, mine.Approaches = "I say so", true, map[string]string{"pain": "none"}
	mine.MassKg = 71
	f := record.Form{ID: store.NewID(), Profile: mine}
	for range 2 { // sent twice, kept once
		require.NoError(t, d.FillIn(ctx, d.Actor, runner, f))
	}
	o := look(t, d, runner)
	require.Len(t, o.Forms, 1)
	assert.Equal(t, 70.0, o.Profile.MassKg, "nothing changes before the coach takes it over")
	assert.Equal(t, 71.0, o.Forms[0].Profile.MassKg)
	assert.Equal(t, "limits by the clinic", o.Forms[0].Profile.HeavyAllowed)
	assert.False(t, o.Forms[0].Profile.GuardianConsent)
	assert.Empty(t, o.Forms[0].Profile.Approaches)
	mine.MassKg = 7
	assert.ErrorContains(t, d.FillIn(ctx, d.Actor, runner, record.Form{ID: store.NewID(), Profile: mine}), "profile.massKg")
	require.NoError(t, d.Store.Change(ctx, d.Actor.Practice, runner, func(tx *store.Tx) error { return tx.TakeForms(ctx, runner, f.ID) }))
	assert.Empty(t, look(t, d, runner).Forms)
}

// A preview stores nothing and names whose findings move.
func TestEffectsOfAChange(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	short, clear := d.Runner(t, testkit.Profile()), d.Runner(t, testkit.Profile())
	d.Screen(t, short, map[string]float64{"ankle.knee_to_wall": 9})
	d.Screen(t, clear, map[string]float64{"ankle.knee_to_wall": 14})
	es, err := d.Effects(ctx, d.Actor, func(h *house.Rules) { h.Changed["ankle.knee_to_wall.ref"] = 8 })
	require.NoError(t, err)
	require.Len(t, es, 1)
	assert.Equal(t, short, es[0].Runner)
	assert.Contains(t, es[0].Changes, "Knee to wall, left: short → clear")
	assert.Contains(t, es[0].Changes, "first limiter: Ankle bend → none")
	assert.Equal(t, 10.0, look(t, d, short).House.Get("ankle.knee_to_wall.ref"), "nothing is stored")
	es, err = d.Effects(ctx, d.Actor, func(h *house.Rules) { h.Approaches["pronation"] = "fault" })
	require.NoError(t, err)
	assert.Empty(t, es)
}

// The practice's own core screen and approach, and the record of who chose them.
func TestThePracticesChoices(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	in := func(f func(*store.Tx) error) {
		require.NoError(t, d.Store.In(ctx, d.Actor.Practice, f))
	}
	in(func(tx *store.Tx) error { return tx.ChangeCore(ctx, []string{"walks", "ankle"}, d.Actor.Coach) })
	in(func(tx *store.Tx) error { return tx.ChangeApproach(ctx, "cadence", "leave", d.Actor.Coach) })
	o := look(t, d, runner)
	assert.Equal(t, []string{"walks", "ankle"}, o.Screening().Stations)
	assert.Equal(t, "leave", o.House.Choice(nil, "cadence"))
	d.AskSigns(t, runner)
	require.NoError(t, d.StartScreen(ctx, d.Actor, runner, store.NewID(), room.Start{Kind: screen.CoreScreen}))
	assert.Equal(t, []string{"walk.heels", "walk.toes", "ankle.knee_to_wall", "ankle.end_feel"}, look(t, d, runner).Screens[0].Measures)
	in(func(tx *store.Tx) error { return tx.ChangeCore(ctx, nil, d.Actor.Coach) })
	in(func(tx *store.Tx) error { return tx.ChangeApproach(ctx, "cadence", "", d.Actor.Coach) })
	o = look(t, d, runner)
	assert.Equal(t, screen.CoreStations, o.Screening().Stations)
	assert.Equal(t, "own", o.House.Choice(nil, "cadence"))
	assert.Equal(t, 4, o.House.Version)
	in(func(tx *store.Tx) error {
		h, err := tx.HouseHistory(ctx)
		require.Len(t, h, 4)
		assert.Equal(t, "approach.cadence", h[0].Key, "newest first")
		assert.Equal(t, "Test Coach", h[0].Coach)
		assert.Equal(t, "leave", h[2].Choice)
		return err
	})
}
