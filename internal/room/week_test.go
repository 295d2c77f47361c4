package room_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// free finds a place a session may be moved to, on another day than it stands.
func free(t *testing.T, o room.Chart, rail string) (from int, to build.Cell) {
	t.Helper()
	for d, day := range o.Week().Days {
		if !slices.ContainsFunc(day.Entries, func(e build.Entry) bool { return e.Rail == rail }) {
			continue
		}
		cells, err := o.Moves(rail, d)
		require.NoError(t, err)
		for _, c := range cells {
			if c.Refused == "" && c.Weekday != d {
				return d, c
			}
		}
	}
	t.Fatalf("%s may move nowhere", rail)
	return 0, build.Cell{}
}

func holds(o room.Chart, rail string, day int) bool {
	return slices.ContainsFunc(o.Week().Days[day].Entries, func(e build.Entry) bool { return e.Rail == rail })
}

// A moved session stands in its new place in the week, on the dated days and on the phone; it is kept when
// building again; undo brings the earlier week back; two coaches do not overwrite each other.
func TestMovingASession(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	p := testkit.Profile()
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 40, Quality: "quality"}}
	runner := programmed(t, d, p)
	o := look(t, d, runner)
	from, to := free(t, o, "ankle_bend")
	id := store.NewID()
	x := room.WeekChange{Saw: "", Rail: "ankle_bend", From: from, To: to.Weekday, Slot: to.Slot}
	require.NoError(t, d.ChangeWeek(ctx, d.Actor, runner, id, x))
	require.NoError(t, d.ChangeWeek(ctx, d.Actor, runner, id, x), "sent again: the same write")
	assert.ErrorIs(t, d.ChangeWeek(ctx, d.Actor, runner, store.NewID(), x), store.ErrStale, "another coach saw the old week")
	o = look(t, d, runner)
	require.Len(t, o.Weeks, 1)
	assert.False(t, holds(o, "ankle_bend", from))
	assert.True(t, holds(o, "ankle_bend", to.Weekday))
	for _, day := range o.Days {
		if day.Rail == "ankle_bend" {
			assert.NotEqual(t, from, day.On.Sub(day.On.Monday()), "no dated day is left behind")
		}
	}
	_, err := o.Draft(nil)
	require.NoError(t, err)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), draftChoices(t, o)))
	again := look(t, d, runner)
	assert.True(t, holds(again, "ankle_bend", to.Weekday), "building again keeps it")
	assert.Empty(t, again.Weeks)
	// Undo, in the programme now in force.
	from, to = free(t, again, "big_toe")
	require.NoError(t, d.ChangeWeek(ctx, d.Actor, runner, store.NewID(),
		room.WeekChange{Rail: "big_toe", From: from, To: to.Weekday, Slot: to.Slot}))
	moved := look(t, d, runner)
	require.NoError(t, d.ChangeWeek(ctx, d.Actor, runner, store.NewID(), room.WeekChange{Saw: moved.WeekID(), Restore: true}))
	assert.Equal(t, again.Week().Days, look(t, d, runner).Week().Days)
}

func draftChoices(t *testing.T, o room.Chart) build.Choices {
	draft, err := o.Draft(nil)
	require.NoError(t, err)
	return draft.Choices
}

func TestAForbiddenMoveIsRefusedAndChangesNothing(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	p := testkit.Profile()
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 40, Quality: "quality"}}
	runner := programmed(t, d, p)
	o := look(t, d, runner)
	from := 0
	for day := range 7 {
		if holds(o, "calf_straight", day) {
			from = day
		}
	}
	err := d.ChangeWeek(ctx, d.Actor, runner, store.NewID(), room.WeekChange{Rail: "calf_straight", From: from, To: 0, Slot: catalog.Own})
	assert.ErrorContains(t, err, "does not stand the day before a quality run (Tuesday)")
	assert.Equal(t, o.Week().Days, look(t, d, runner).Week().Days)
}

// The days before a move stay as they were: only from today on does the moved week hold.
func TestAMoveLeavesThePastAlone(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	before := look(t, d, runner)
	d.Shift(8 * day)
	o := look(t, d, runner)
	from, to := free(t, o, "ankle_bend")
	require.NoError(t, d.ChangeWeek(ctx, d.Actor, runner, store.NewID(),
		room.WeekChange{Rail: "ankle_bend", From: from, To: to.Weekday, Slot: to.Slot}))
	past := func(o room.Chart, until body.Date) (out []record.TrainingDay) {
		for _, x := range o.Days {
			if x.On < until {
				out = append(out, x)
			}
		}
		return out
	}
	after := look(t, d, runner)
	assert.Equal(t, past(before, after.Today), past(after, after.Today))
}

// What the short version shows is what a log is measured by: done whole it is no failure, and it earns no
// move up either.
func TestTheShortVersionIsLoggedAsShown(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	for i := range 7 {
		d.Shift(time.Duration(i) * day)
		o := look(t, d, runner)
		for _, it := range o.Phone(d.Now()).Sessions[0].Items {
			for _, s := range it.Sides {
				if s.Short == nil || s.Short.Text == s.Dose.Text {
					continue
				}
				done := make([]int, s.Short.Sets)
				for k := range done {
					done[k] = s.Short.Amount
				}
				require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: store.NewID(), On: o.Today, Done: done, RPE: 5,
					Source: "phone"}, Prescription: s.Prescriptions[0], Short: true}))
				o = look(t, d, runner)
				l := o.Logs[len(o.Logs)-1]
				assert.Equal(t, s.Short.Text, l.Prescription.Dose.String())
				assert.True(t, l.Complete())
				for _, p := range o.Proposals() {
					if p.From.ID == s.Prescriptions[0] {
						assert.Equal(t, adjust.Hold, p.Verdict)
					}
				}
				return
			}
		}
	}
	t.Fatal("no short dose in a week")
}

// Before a race the phone shows half the sets, nothing heavy in the last days, and nothing on the day.
func TestARaceOnThePhoneAndTheHandout(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	p := testkit.Profile()
	today := body.DateOf(d.Now().UTC())
	p.Races = []body.Race{{On: today.Add(16), Km: 21.1, Name: "Tide race"}}
	runner := programmed(t, d, p)
	o := look(t, d, runner)
	h := o.Handout(o.Today, 20)
	for i, x := range h.Days {
		lines := ""
		for _, s := range x.Slots {
			for _, l := range s.Lines {
				lines += l.Name + " " + strings.Join(l.Doses, " ") + "\n"
			}
		}
		switch {
		case i < 2:
			assert.Empty(t, x.Race)
		case i < 13:
			assert.Contains(t, x.Race, "sets halved")
			assert.NotContains(t, lines, "3 ×")
		case i < 16:
			assert.Contains(t, x.Race, "nothing heavy")
			assert.NotContains(t, lines, "One-leg raises", "day %d", i)
		case i == 16:
			assert.Contains(t, x.Race, "Race day")
			assert.Empty(t, x.Slots)
		}
	}
	assert.NotEmpty(t, h.Exercises)
	assert.NotEmpty(t, h.Cautions)
}

// A day whose session was moved away is cancelled in the calendar, so that the phone's calendar drops it.
func TestTheCalendarFollowsAMove(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	p := testkit.Profile()
	p.MinutesByDay = []int{0, 15, 0, 0, 15, 0, 0}
	runner := d.Runner(t, p)
	d.Screen(t, runner, testkit.Usual)
	others := []string{}
	for _, r := range catalog.Shipped.Rails {
		if r.ID != "ankle_bend" {
			others = append(others, r.ID)
		}
	}
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{Without: others}))
	o := look(t, d, runner)
	require.NotEmpty(t, o.Calendar())
	for _, c := range o.Calendar() {
		assert.False(t, c.Gone)
	}
	p.MinutesByDay[2] = 15
	require.NoError(t, d.SaveIntake(ctx, d.Actor, runner, room.Intake{Name: "R", Timezone: "UTC", Version: 1, Profile: p}))
	require.NoError(t, d.ChangeWeek(ctx, d.Actor, runner, store.NewID(),
		room.WeekChange{Rail: "ankle_bend", From: 1, To: 2, Slot: catalog.Own}))
	gone := 0
	for _, c := range look(t, d, runner).Calendar() {
		if c.Gone {
			gone++
			assert.Equal(t, 1, c.On.Sub(c.On.Monday()), "Tuesdays")
		}
	}
	assert.GreaterOrEqual(t, gone, 10)
}

func TestThePracticesOwnRail(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	rail := func(id string) room.LibraryRail {
		lib, err := d.Library(ctx, d.Actor)
		require.NoError(t, err)
		i := slices.IndexFunc(lib.Rails, func(r room.LibraryRail) bool { return r.Rail.ID == id })
		require.GreaterOrEqual(t, i, 0, id)
		return lib.Rails[i]
	}
	own := rail("toe_press").Rail
	own.ID, own.Name = "own_press", "Press, our way"
	own.Exercises = slices.Clone(own.Exercises[:1])
	own.Exercises[0].ID, own.Exercises[0].Doses = "own_press_card", []string{"1 × 4, 3 s hold", "1 × 6, 3 s hold"}
	own.Place = nil
	require.NoError(t, d.KeepRail(ctx, d.Actor, "own_press", 0, own))
	assert.ErrorIs(t, d.KeepRail(ctx, d.Actor, "own_press", 0, own), store.ErrStale, "somebody else added it")
	assert.Equal(t, 1, rail("own_press").Version)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{Also: []string{"own_press"}}))
	o := look(t, d, runner)
	i := slices.IndexFunc(o.Prescriptions, func(p catalog.Prescription) bool { return p.Rail == "own_press" })
	require.GreaterOrEqual(t, i, 0)
	assert.Equal(t, "Card under the big toe, lift helped by hand, 1 × 4, 3 s hold", o.Prescriptions[i].Text())
	// Broken rails are refused, and change nothing.
	own.Exercises[0].Doses = []string{"1 × 6, 3 s hold", "1 × 4, 3 s hold"}
	assert.ErrorContains(t, d.KeepRail(ctx, d.Actor, "own_press", 1, own), "no harder than")
	// Retired: who has it keeps it, nobody gets it anew.
	own.Exercises[0].Doses, own.Retired = []string{"1 × 4, 3 s hold", "1 × 6, 3 s hold"}, true
	require.NoError(t, d.KeepRail(ctx, d.Actor, "own_press", 1, own))
	o = look(t, d, runner)
	assert.NotEqual(t, adjust.Park, o.Proposals()[i].Verdict)
	other := d.Runner(t, testkit.Profile())
	d.Screen(t, other, testkit.Usual)
	draft, err := look(t, d, other).Draft(&build.Choices{Also: []string{"own_press"}})
	require.NoError(t, err)
	for _, r := range draft.Rails {
		assert.False(t, r.Rail == "own_press" && r.Chosen)
	}
	// A shipped rail changed, and taken back.
	calf := rail("calf_straight").Rail
	calf.Name = "Calf, ours"
	require.NoError(t, d.KeepRail(ctx, d.Actor, "calf_straight", 0, calf))
	assert.Equal(t, "Calf, ours", rail("calf_straight").Rail.Name)
	require.NoError(t, d.TakeBackRail(ctx, d.Actor, "calf_straight", 1))
	assert.Equal(t, "Calf, straight knee", rail("calf_straight").Rail.Name)
	assert.ErrorContains(t, d.TakeBackRail(ctx, d.Actor, "own_press", 2), "retire it instead")
	// A published programme keeps its doses, and an exercise is retired rather than lost.
	heavy := rail("calf_straight").Rail
	heavy.Exercises = slices.Clone(heavy.Exercises)
	last := len(heavy.Exercises) - 1
	heavy.Exercises[last].Doses = []string{"3 × 20 at 20 RM", "3 × 12 at 12 RM", "4 × 10 at 10 RM", "4 × 8 at 8 RM", "4 × 6 at 6 RM"}
	assert.ErrorContains(t, d.KeepRail(ctx, d.Actor, "calf_straight", 2, heavy), "copy it under another name")
	heavy.Exercises = heavy.Exercises[:last]
	assert.ErrorContains(t, d.KeepRail(ctx, d.Actor, "calf_straight", 2, heavy), "retire it instead")
	// Another practice sees none of it.
	b := testkit.NewDesk(t, "b@test.example")
	theirs, err := b.Library(ctx, b.Actor)
	require.NoError(t, err)
	assert.Len(t, theirs.Rails, len(catalog.Shipped.Rails))
}

func TestChoicesAreKeptFromProgrammeToProgramme(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	c := build.Choices{Excluded: []string{"one_floor"}, Without: []string{"big_toe"}, Days: []int{0, 3}}
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), c))
	draft, err := look(t, d, runner).Draft(nil)
	require.NoError(t, err)
	assert.Equal(t, c.Excluded, draft.Choices.Excluded)
	assert.Equal(t, c.Without, draft.Choices.Without)
	assert.Equal(t, c.Days, draft.Choices.Days)
	_, err = look(t, d, runner).Draft(&build.Choices{Also: []string{"no_such"}})
	assert.ErrorContains(t, err, "there is no rail")
	rows := look(t, d, runner).Doses()
	assert.Equal(t, "rail", rows[0][0])
	assert.Len(t, rows, 1+len(look(t, d, runner).Prescriptions))
}
