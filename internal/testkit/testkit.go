// Package testkit gives tests a real PostgreSQL in shared memory, a database of their own cloned from
// a migrated template, and a desk whose clock they move.
package testkit

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync/atomic"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"notchback/internal/cluster"
	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/room"
	"notchback/internal/store"
)

var (
	server *cluster.Cluster
	count  atomic.Int64
)

// Main runs a package's tests with a cluster of its own; call it from TestMain.
func Main(m *testing.M) {
	os.Exit(func() int {
		parent := "/dev/shm"
		if _, err := os.Stat(parent); err != nil {
			parent = os.TempDir()
		}
		dir, err := os.MkdirTemp(parent, "notchback-test-")
		if err != nil {
			panic(err)
		}
		defer os.RemoveAll(dir)
		if err := os.Chmod(dir, 0o755); err != nil {
			panic(err)
		}
		server, err = cluster.Start(context.Background(), cluster.Options{Dir: filepath.Join(dir, "pg"), Memory: true})
		if err != nil {
			panic(err)
		}
		defer func() {
			_ = server.Stop()
			_ = server.Remove()
		}()
		if err := store.Prepare(context.Background(), server.AdminURL("postgres"), "template_nb", server.AppPassword(),
			store.Keep{}); err != nil {
			panic(err)
		}
		return m.Run()
	}())
}

// Store opens a fresh database in the application's own role.
func Store(t testing.TB) *store.Store {
	t.Helper()
	name := fmt.Sprintf("t%d", count.Add(1))
	admin := Admin(t, "postgres")
	_, err := admin.Exec(context.Background(), "CREATE DATABASE "+name+" TEMPLATE template_nb STRATEGY file_copy")
	require.NoError(t, err)
	s, err := store.Open(context.Background(), server.AppURL(name))
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

// Again opens the newest database once more, as another server does.
func Again(t testing.TB, options ...store.Option) *store.Store {
	t.Helper()
	s, err := store.Open(context.Background(), AppURL(), options...)
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

// Admin connects as the administrator, past every policy; for looking behind the scenes.
func Admin(t testing.TB, database string) *pgx.Conn {
	t.Helper()
	c, err := pgx.Connect(context.Background(), server.AdminURL(database))
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Close(context.Background()) })
	return c
}

// AppURL is the application role's address of the newest database.
func AppURL() string { return server.AppURL(fmt.Sprintf("t%d", count.Load())) }

// LastDatabase is the name of the newest database.
func LastDatabase() string { return fmt.Sprintf("t%d", count.Load()) }

// Desk is a desk on a fresh database, with one practice and its coach, whose clock Shift moves.
type Desk struct {
	*room.Desk
	Actor room.Actor
	shift atomic.Int64
}

// NewDesk makes one. The clock starts at the real time.
func NewDesk(t testing.TB, email string) *Desk {
	t.Helper()
	d := &Desk{}
	d.Desk = &room.Desk{Store: Store(t), Patience: time.Minute, Now: func() time.Time { return time.Now().Add(time.Duration(d.shift.Load())) }}
	p, c, err := d.Store.CreatePractice(context.Background(), "Test Practice", "Test Coach", email)
	require.NoError(t, err)
	d.Actor = room.Actor{Practice: p, Coach: c}
	return d
}

// Shift sets how far the desk's clock runs ahead.
func (d *Desk) Shift(by time.Duration) { d.shift.Store(int64(by)) }

// Ahead is how far it runs ahead.
func (d *Desk) Ahead() time.Duration { return time.Duration(d.shift.Load()) }

// Profile is a healthy adult who owns a step, plates and two dumbbells, and does not run.
func Profile() body.Profile {
	p := body.NewProfile()
	p.BirthDate, p.MassKg, p.LegMm, p.FootMm, p.BigToeMm = "1985-05-05", 70, 850, 260, 60
	p.NotRunning = true
	p.MinutesByDay = []int{20, 20, 20, 20, 20, 20, 20}
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 6}, StepCm: 18, PlatesMm: []float64{5, 10, 20}, Strap: true, Roll: true}
	p.Touch = body.Touch{Left: true, Right: true, On: body.DateOf(time.Now().UTC())}
	return p.Normalise()
}

// Runner adds a runner with this profile and returns the id.
func (d *Desk) Runner(t testing.TB, p body.Profile) string {
	t.Helper()
	id := store.NewID()
	require.NoError(t, d.SaveIntake(context.Background(), d.Actor, id, room.Intake{Name: "Runner " + id[30:], Timezone: "UTC", Profile: p}))
	return id
}

// Usual are the slice's four measures of a runner with something to work on.
var Usual = map[string]float64{"ankle.knee_to_wall": 7, "toe.active_height": 18, "toe.passive_height": 36, "calf.raises_straight": 12,
	"toes.shape": 0, "ankle.end_feel": 0, "squat.arch": 0}

// AskSigns answers every warning sign with no.
func (d *Desk) AskSigns(t testing.TB, runner string) {
	t.Helper()
	denied := []string{}
	for _, s := range refer.Signs {
		denied = append(denied, s.ID)
	}
	require.NoError(t, d.AnswerSigns(context.Background(), d.Actor, runner, refer.Check{ID: store.NewID(), Source: "screen", Denied: denied}))
}

// Try enters a trial.
func (d *Desk) Try(ctx context.Context, runner, screenID string, t screen.Trial) error {
	_, err := d.AddTrial(ctx, d.Actor, runner, screenID, t)
	return err
}

// Begin asks the warning signs and starts a full screen.
func (d *Desk) Begin(t testing.TB, runner string) string {
	t.Helper()
	d.AskSigns(t, runner)
	id := store.NewID()
	require.NoError(t, d.StartScreen(context.Background(), d.Actor, runner, id, room.Start{Kind: screen.FullScreen}))
	return id
}

// Screen takes and finishes a screen with the same values on both sides, and returns its id.
func (d *Desk) Screen(t testing.TB, runner string, values map[string]float64) string {
	t.Helper()
	return d.screen(t, runner, values, func(err error) { t.Helper(); require.NoError(t, err) })
}

// ScreenAllowed is Screen with what may be taken of the values; what is refused is left out.
func (d *Desk) ScreenAllowed(t testing.TB, runner string, values map[string]float64) string {
	t.Helper()
	return d.screen(t, runner, values, func(err error) {
		t.Helper()
		var refused *body.FieldError
		if !errors.As(err, &refused) {
			require.NoError(t, err)
		}
	})
}

func (d *Desk) screen(t testing.TB, runner string, values map[string]float64, took func(error)) string {
	t.Helper()
	ctx, id := context.Background(), d.Begin(t, runner)
	for measure, v := range values {
		m, _ := screen.FindMeasure(measure)
		for _, side := range m.Sides() {
			x := screen.Trial{ID: store.NewID(), Measure: measure, Side: side, Value: v}
			if len(m.Stops) > 0 {
				x.Stop = "height"
			}
			if m.InContext {
				x.Context = &screen.Context{Pace: "easy", Shod: "shoes"}
			}
			took(d.Try(ctx, runner, id, x))
		}
	}
	require.NoError(t, d.InScreen(ctx, d.Actor, runner, id, func(tx *store.Tx) error { return tx.FinishScreen(ctx, runner, id) }))
	return id
}

// AdminURL is the administrator's address of a database.
func AdminURL(database string) string { return server.AdminURL(database) }

// Now is the machine's clock.
func Now() time.Time { return time.Now() }

// ResetAppPassword gives what sets the application's password back to the one that the tests connect with.
func ResetAppPassword(t testing.TB) func() {
	t.Helper()
	return func() {
		admin, err := pgx.Connect(context.Background(), server.AdminURL("postgres"))
		require.NoError(t, err)
		defer admin.Close(context.Background())
		_, err = admin.Exec(context.Background(), "ALTER ROLE notchback_app PASSWORD '"+server.AppPassword()+"'")
		require.NoError(t, err)
	}
}
