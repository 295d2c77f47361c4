package room_test

import (
	"encoding/json"
	"errors"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// deeds are the writes there are, each with what it draws.
var deeds = map[string]func(*testing.T, *rand.Rand, *testkit.Desk, room.Chart) error{
	"log": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		if len(o.Prescriptions) == 0 {
			return nil
		}
		p := o.Prescriptions[r.IntN(len(o.Prescriptions))]
		return d.AddLog(ctx, d.Actor, o.ID, room.Entry{Log: adjust.Log{ID: store.NewID(), On: o.Today.Add(-r.IntN(3)),
			Done: []int{p.Dose.Amount(), p.Dose.Amount()}, RPE: 6 + r.IntN(4), Pain: r.IntN(3) * r.IntN(4), Source: "phone"}, Prescription: p.ID,
			Short: r.IntN(4) == 0})
	},
	"correction": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		if len(o.Logs) == 0 {
			return nil
		}
		l := o.Logs[r.IntN(len(o.Logs))]
		l.ID, l.Pain, l.Supersedes = store.NewID(), r.IntN(9), l.ID
		return d.AddLog(ctx, d.Actor, o.ID, room.Entry{Log: l, Prescription: l.Prescription.ID, Supersedes: l.Supersedes})
	},
	"morning": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		return d.AddMorning(ctx, d.Actor, o.ID, "phone", build.Morning{ID: store.NewID(), On: o.Today.Add(-r.IntN(2)), Region: body.HeelSole,
			Side: body.Sides[r.IntN(2)], Pain: r.IntN(9)})
	},
	"run": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		return d.AddRun(ctx, d.Actor, o.ID, "phone", load.Run{ID: store.NewID(), On: o.Today, Minutes: float64(20 + r.IntN(90))}, "")
	},
	"sign": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		s := refer.Signs[r.IntN(len(refer.Signs))]
		return d.RecordStop(ctx, d.Actor, o.ID, refer.Stop{ID: store.NewID(), Sign: s.ID, Region: body.Calf, Side: body.Sides[r.IntN(2)],
			Source: "phone"})
	},
	"clearance": func(_ *testing.T, _ *rand.Rand, d *testkit.Desk, o room.Chart) error {
		for _, s := range o.Stops {
			if s.Open() {
				return d.Clear(ctx, d.Actor, o.ID, s.ID, refer.Clearance{ID: store.NewID(), Kind: "reviewed", Who: "Coach", On: o.Today})
			}
		}
		return nil
	},
	"asking": func(t *testing.T, _ *rand.Rand, d *testkit.Desk, o room.Chart) error {
		denied := []string{}
		for _, s := range refer.Signs {
			denied = append(denied, s.ID)
		}
		return d.AnswerSigns(ctx, d.Actor, o.ID, refer.Check{ID: store.NewID(), Source: "screen", Denied: denied})
	},
	"limit": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		level := r.IntN(4)
		return d.SetLimit(ctx, d.Actor, o.ID, refer.Limit{ID: store.NewID(), For: "surgery", Side: body.Both, Kind: "clinician", Who: "Dr Vane",
			On: o.Today, Opens: refer.Opening{Level: &level}, Words: "so far"})
	},
	"screen": func(t *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		if len(o.Stops) == 0 && r.IntN(3) == 0 {
			d.ScreenAllowed(t, o.ID, testkit.Usual)
		}
		return nil
	},
	"build": func(_ *testing.T, _ *rand.Rand, d *testkit.Desk, o room.Chart) error {
		return d.Build(ctx, d.Actor, o.ID, store.NewID(), build.Choices{})
	},
	"decision": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		for _, p := range o.Proposals() {
			if p.News && r.IntN(2) == 0 {
				return d.Decide(ctx, d.Actor, o.ID, store.NewID(), room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.From.ID,
					Verdict: p.Verdict})
			}
		}
		return nil
	},
	"week": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		if o.Programme == nil || len(o.Prescriptions) == 0 {
			return nil
		}
		return d.ChangeWeek(ctx, d.Actor, o.ID, store.NewID(), room.WeekChange{Saw: o.WeekID(), Rail: o.Prescriptions[0].Rail, From: r.IntN(7),
			To: r.IntN(7), Slot: catalog.Evening})
	},
	"plan": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		from := o.Today.Monday().Add(7 * r.IntN(3))
		return d.PlanRunning(ctx, d.Actor, o.ID, store.NewID(), o.RunningID, load.Plan{Rule: load.Rule{Percent: float64(r.IntN(11))},
			Weeks: []load.PlannedWeek{{From: from, Minutes: 60 + r.IntN(200)}},
			Spans: []load.Span{{ID: store.NewID(), Kind: []load.SpanKind{load.EasyWeek, load.Holiday}[r.IntN(2)], From: from, Until: from.Add(6)}}})
	},
	"usual": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		return d.RaiseUsual(ctx, d.Actor, o.ID, build.Usual{Region: body.HeelSole, Side: body.Left, Level: float64(r.IntN(4))},
			"stands like that")
	},
	"intake": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		p := o.Profile
		p.WeeklyMinutes = 60 + r.IntN(200)
		p.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: r.IntN(5), Worst: 5 + r.IntN(3)}}
		return d.SaveIntake(ctx, d.Actor, o.ID, room.Intake{Name: o.Name + "n",
			Timezone: []string{"UTC", "Pacific/Kiritimati", "America/Anchorage"}[r.IntN(3)], Profile: p, Version: o.Version})
	},
	"form": func(_ *testing.T, _ *rand.Rand, d *testkit.Desk, o room.Chart) error {
		return d.FillIn(ctx, d.Actor, o.ID, record.Form{ID: store.NewID(), Profile: testkit.Profile()})
	},
	"form taken": func(_ *testing.T, _ *rand.Rand, d *testkit.Desk, o room.Chart) error {
		if len(o.Forms) == 0 {
			return nil
		}
		return d.Touch(ctx, d.Actor, o.ID, func(tx *store.Tx) error { return tx.TakeForms(ctx, o.ID, o.Forms[0].ID) })
	},
	"trial out": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		if len(o.Screens) == 0 || len(o.Screens[0].Trials) == 0 {
			return nil
		}
		x := o.Screens[0].Trials[r.IntN(len(o.Screens[0].Trials))]
		_, err := d.RemoveTrial(ctx, d.Actor, o.ID, o.Screens[0].ID, x.ID, true)
		return err
	},
	"plates": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, _ room.Chart) error {
		mm := []float64{float64(5 + r.IntN(20))}
		return d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error { return tx.ChangePlates(ctx, mm, d.Actor.Coach) })
	},
	"rule": func(t *testing.T, r *rand.Rand, d *testkit.Desk, _ room.Chart) error {
		quiet := float64(3 + r.IntN(6))
		return d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error { return tx.ChangeRule(ctx, "queue.quiet", &quiet, d.Actor.Coach) })
	},
	"approach": func(t *testing.T, r *rand.Rand, d *testkit.Desk, _ room.Chart) error {
		return d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error {
			return tx.ChangeApproach(ctx, "volume", []string{"spike", "rolling", "weighted"}[r.IntN(3)], d.Actor.Coach)
		})
	},
	"rail": func(t *testing.T, r *rand.Rand, d *testkit.Desk, _ room.Chart) error {
		lib, err := d.Library(ctx, d.Actor)
		require.NoError(t, err)
		for _, x := range lib.Rails {
			if x.Rail.ID == "calf_straight" {
				x.Rail.Name = "Calf, straight knee" + []string{"", " (ours)"}[r.IntN(2)]
				return d.KeepRail(ctx, d.Actor, x.Rail.ID, x.Version, x.Rail)
			}
		}
		return nil
	},
	"day": func(_ *testing.T, r *rand.Rand, d *testkit.Desk, o room.Chart) error {
		d.Shift(d.Ahead() + time.Duration(1+r.IntN(60))*time.Hour)
		return nil
	},
	"archive": func(_ *testing.T, _ *rand.Rand, d *testkit.Desk, o room.Chart) error {
		return d.Touch(ctx, d.Actor, o.ID, func(tx *store.Tx) error { return tx.Archive(ctx, o.ID, !o.Archived) })
	},
}

// What stands is never out of date: whatever was written, whichever day it became and whichever rule changed, the very
// next Today and roster show what a fresh computation shows.
func TestPropertyWhatStandsIsFresh(t *testing.T) {
	names := []string{}
	for n := range deeds {
		names = append(names, n)
	}
	slices.Sort(names)
	done := map[string]int{}
	for seed := range uint64(6) {
		r := rand.New(rand.NewPCG(seed, 13))
		d := testkit.NewDesk(t, "a@test.example")
		fresh := &room.Desk{Store: testkit.Again(t, store.Forgetful()), Now: d.Now} // nothing it compares with was remembered
		runners := []string{programmed(t, d, testkit.Profile()), d.Runner(t, testkit.Profile())}
		for range 30 {
			name := names[r.IntN(len(names))]
			o := look(t, d, runners[r.IntN(len(runners))])
			err := deeds[name](t, r, d, o)
			var refused *body.FieldError
			if err != nil && !errors.As(err, &refused) && !errors.Is(err, store.ErrNotFound) {
				require.NoError(t, err, name)
			}
			if err == nil {
				done[name]++
			}
			sameAsFresh(t, d, fresh, seed, name)
			decided := len(look(t, d, o.ID).Decisions)
			require.NoError(t, d.Touch(ctx, d.Actor, o.ID, func(*store.Tx) error { return nil }))
			_, err = d.Today(ctx, d.Actor)
			require.NoError(t, err)
			assert.Len(t, look(t, d, o.ID).Decisions, decided, "computing again decides nothing: seed %d, after %s", seed, name)
		}
	}
	for _, n := range names {
		assert.Positive(t, done[n], "%s was never done", n)
	}
}

// sameAsFresh compares Today and the roster with what all charts say now.
func sameAsFresh(t *testing.T, d *testkit.Desk, fresh *room.Desk, seed uint64, after string) {
	t.Helper()
	lines, err := d.Today(ctx, d.Actor)
	require.NoError(t, err)
	for _, archived := range []bool{false, true} {
		rows, err := d.Roster(ctx, d.Actor, "", archived)
		require.NoError(t, err)
		charts, err := fresh.All(ctx, d.Actor, archived)
		require.NoError(t, err)
		require.Len(t, rows, len(charts))
		for i, o := range charts {
			stands := o.Standing()
			assert.Equal(t, room.RosterRow{ID: o.ID, Name: o.Name, Age: stands.Age, Phase: stands.Phase.Name(), Screened: stands.Screened,
				Archived: archived, Locked: stands.Locked, Strip: stands.Strip}, rows[i], "seed %d, after %s", seed, after)
			view, err := d.Desk.Runner(ctx, d.Actor, o.ID)
			require.NoError(t, err)
			now := o.Bearing()
			require.JSONEq(t, asJSON(t, now.Permissions)+"\n", asJSON(t, view.Permissions)+"\n", "seed %d, after %s", seed, after)
			require.Equal(t, now.Steps, view.Steps, "seed %d, after %s", seed, after)
			got, want := []room.QueueItem{}, []room.QueueItem{}
			for _, l := range lines {
				if l.Runner == o.ID {
					got = append(got, l)
				}
			}
			for _, l := range stands.Lines {
				l.Runner, l.Name = o.ID, o.Name
				want = append(want, l)
			}
			if archived {
				want = []room.QueueItem{}
			}
			key := func(a, b room.QueueItem) int { return len(asJSON(t, a)) - len(asJSON(t, b)) }
			slices.SortStableFunc(got, key)
			slices.SortStableFunc(want, key)
			require.JSONEq(t, asJSON(t, want), asJSON(t, got), "seed %d, after %s", seed, after)
		}
	}
}

func asJSON(t *testing.T, x any) string {
	t.Helper()
	b, err := json.Marshal(x)
	require.NoError(t, err)
	return string(b)
}

// Two servers that are asked at once compute each runner once between them, and both show all of it.
func TestTwoServersComputeOnce(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	for range 6 {
		programmed(t, d, testkit.Profile())
	}
	_, err := d.Today(ctx, d.Actor)
	require.NoError(t, err)
	d.Shift(day)
	admin := testkit.Admin(t, testkit.LastDatabase())
	_, err = admin.Exec(ctx, `CREATE TABLE kept (runner uuid);
		CREATE FUNCTION keep() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER AS
			'BEGIN INSERT INTO kept VALUES (NEW.runner_id); RETURN NEW; END';
		CREATE TRIGGER keep AFTER INSERT OR UPDATE ON standings FOR EACH ROW EXECUTE FUNCTION keep()`)
	require.NoError(t, err)
	var both sync.WaitGroup
	shown := [2][]room.QueueItem{}
	for i := range shown {
		both.Go(func() {
			other := &room.Desk{Store: d.Store, Now: d.Now, Patience: time.Minute}
			lines, err := other.Today(ctx, d.Actor)
			assert.NoError(t, err)
			shown[i] = lines
		})
	}
	both.Wait()
	assert.Equal(t, shown[0], shown[1])
	for _, l := range shown[0] {
		assert.NotEqual(t, room.LineKind("computing"), l.Kind)
	}
	var n, of int
	require.NoError(t, admin.QueryRow(ctx, `SELECT count(*), count(DISTINCT runner) FROM kept`).Scan(&n, &of))
	assert.Equal(t, [2]int{6, 6}, [2]int{n, of}, "each once")
}

// While a runner is being computed elsewhere Today says so instead of showing what stood before, and a log goes in.
func TestWhatIsBeingComputedSaysSo(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	assert.Equal(t, "", kinds(t, d))
	d.Shift(6 * day)
	d.Patience = 50 * time.Millisecond
	ran, err := d.Store.Compute(ctx, d.Actor.Practice, runner, func(*store.Tx) error {
		assert.Equal(t, "computing", kinds(t, d))
		rows, err := d.Roster(ctx, d.Actor, "", false)
		require.NoError(t, err)
		assert.True(t, rows[0].Pending)
		o := look(t, d, runner)
		return d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: store.NewID(), On: o.Today, Done: []int{4}, RPE: 6, Source: "phone"},
			Prescription: o.Prescriptions[0].ID})
	})
	require.NoError(t, err)
	assert.True(t, ran)
	d.Patience = time.Minute
	assert.NotContains(t, kinds(t, d), "computing")
}

// A record that breaks the computing stops neither the server nor the others' lines: Today and the roster say that this one
// is not known, and what is right again stands again.
func TestARecordThatCannotBeComputedSaysSo(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	other, runner := programmed(t, d, testkit.Profile()), programmed(t, d, testkit.Profile())
	require.NoError(t, d.RecordStop(ctx, d.Actor, other, refer.Stop{ID: store.NewID(), Sign: "swelling", Region: body.Calf, Side: body.Left,
		Source: "phone"}))
	admin := testkit.Admin(t, testkit.LastDatabase())
	change := func(sql string) {
		require.NoError(t, d.Touch(ctx, d.Actor, runner, func(*store.Tx) error { return nil }))
		_, err := admin.Exec(ctx, sql, runner)
		require.NoError(t, err)
	}
	const shape = ` FROM screens s WHERE s.id = t.screen_id AND s.runner_id = $1 AND measure = 'toes.shape'`
	for _, c := range []struct{ broken, mended string }{
		// no such option: it panics
		{`UPDATE trials t SET value = 99` + shape, `UPDATE trials t SET value = 0` + shape},
		// of a later release: it cannot be read
		{`UPDATE programmes SET doc = 99 WHERE runner_id = $1`, `UPDATE programmes SET doc = 1 WHERE runner_id = $1`},
	} {
		change(c.broken)
		for range 2 {
			assert.Equal(t, "broken stop park", kinds(t, d))
			rows, err := d.Roster(ctx, d.Actor, "", false)
			require.NoError(t, err)
			for _, r := range rows {
				assert.Equal(t, r.ID == runner, r.Broken, "the other's row is known")
				assert.False(t, r.Pending)
			}
		}
		change(c.mended)
		assert.Equal(t, "stop park", kinds(t, d))
	}
}

// When a day has turned, what stands in every practice is computed before anybody asks; what holds is left alone.
func TestWhatIsOverdueIsComputedUnasked(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	programmed(t, d, testkit.Profile())
	practice, coach, err := d.Store.CreatePractice(ctx, "Other", "Other Coach", "b@test.example")
	require.NoError(t, err)
	other := &testkit.Desk{Desk: d.Desk, Actor: room.Actor{Practice: practice, Coach: coach}}
	other.Runner(t, testkit.Profile())
	b := room.NewBackground(d.Desk)
	defer b.Stop()
	admin := testkit.Admin(t, testkit.LastDatabase())
	kept := func() (n int) {
		require.NoError(t, b.Overdue(ctx))
		b.Idle()
		require.NoError(t, admin.QueryRow(ctx, `SELECT count(*) FROM standings WHERE on_day = $1::date`,
			body.DateOf(d.Now().UTC())).Scan(&n))
		return n
	}
	assert.Equal(t, 2, kept(), "of both practices")
	d.Shift(day)
	assert.Equal(t, 2, kept(), "of the next day")
	_, err = admin.Exec(ctx, `UPDATE standings SET at = '2000-01-01'`)
	require.NoError(t, err)
	kept()
	var again int
	require.NoError(t, admin.QueryRow(ctx, `SELECT count(*) FROM standings WHERE at > '2000-01-01'`).Scan(&again))
	assert.Zero(t, again, "what holds is not computed again")
}
