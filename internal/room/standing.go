package room

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"notchback/internal/core"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/steps"
	"notchback/internal/record"
	"notchback/internal/store"
)

// Standing is what Today, the roster and the steps of the job need of a runner. It is computed when something of the
// runner, the day, the rules or the engine changed, and kept as one row.
type Standing struct {
	Lines    []QueueItem `json:"lines"` // without the runner
	Age      int         `json:"age"`
	Phase    build.Phase `json:"phase"`
	Screened body.Date   `json:"screened"`
	Locked   bool        `json:"locked"`
	Strip    []MiniWeek  `json:"strip"`
}

// Bearing is what stands on every page of a runner: what may be done, and how the steps of the job stand. It is kept
// beside the standing, for the same state.
type Bearing struct {
	Permissions Permissions   `json:"permissions"`
	Steps       []steps.State `json:"steps"`
	Facts       permit.Facts  `json:"facts"` // what a trial is judged by
	Pain        int           `json:"pain"`  // of usual mornings
}

// Bearing computes it.
func (o Chart) Bearing() Bearing {
	return Bearing{o.Permissions(), o.steps(), o.Facts(), o.usualPain()}
}

// standingShape changes with what a standing holds: an earlier one is computed again.
const standingShape = "2"

// Standing computes it.
func (o Chart) Standing() Standing {
	s := Standing{Lines: o.queue(), Age: o.Profile.Age(o.Today), Locked: slices.ContainsFunc(o.Stops, refer.Stop.Open), Phase: o.phase(),
		Strip: o.mini()}
	if visits := o.Visits(); len(visits) > 0 {
		s.Screened = visits[0].On
	}
	return s
}

// stands is a runner with what stands of them; nil while it is being computed, or where that failed.
type stands struct {
	store.Standing
	of     store.State // it is wanted for
	now    *Standing
	failed bool
}

// failure is a state that could not be computed.
type failure struct {
	of store.State
	at time.Time
}

// again is how long a failure stands before the same state is tried once more.
const again = time.Minute

// fails reports whether a state could not be computed a moment ago.
func (d *Desk) fails(runner string, of store.State) bool {
	f, ok := d.failed.Load(runner)
	return ok && f.(failure).of == of && time.Since(f.(failure).at) < again
}

// patience is how long a page waits for standings that are being computed before it says so.
const patience = 900 * time.Millisecond

func (d *Desk) state(zone string, touched, tested int64, rules string) store.State {
	return store.State{Touched: touched, Tested: tested, On: d.day(zone), Rules: rules, Engine: core.EngineVersion + "/" + standingShape}
}

// standings gives every runner's standing. Those out of date are computed first; what is not ready in time is nil, and
// goes on being computed.
func (d *Desk) standings(ctx context.Context, a Actor, archived bool) ([]stands, error) {
	begun, most := time.Now(), cmp.Or(d.Patience, patience) // how long somebody waits is no question of the day
	for {
		all, err := d.readStandings(ctx, a, archived)
		if err != nil {
			return nil, err
		}
		late := slices.DeleteFunc(slices.Clone(all), func(s stands) bool { return s.now != nil || s.failed })
		if len(late) == 0 || time.Since(begun) > most {
			return all, nil
		}
		if d.computeAll(ctx, a, late, most-time.Since(begun)) == 0 { // all of them are being computed elsewhere
			wait := time.NewTimer(20 * time.Millisecond)
			select {
			case <-ctx.Done():
				wait.Stop()
				return nil, ctx.Err()
			case <-wait.C:
			}
		}
	}
}

func (d *Desk) readStandings(ctx context.Context, a Actor, archived bool) (out []stands, err error) {
	err = d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		rows, h, err := tx.Standings(ctx, archived)
		if err != nil {
			return err
		}
		out = make([]stands, len(rows))
		for i, row := range rows {
			out[i].Standing = row
			out[i].of = d.state(row.Timezone, row.Touched, row.Tested, h.State())
			if out[i].failed = d.fails(row.Runner, out[i].of); row.From == out[i].of {
				if out[i].now, err = decode[Standing](row.Doc); err != nil {
					return err
				}
			}
		}
		return nil
	})
	return out, err
}

// decode reads what was kept of a runner.
func decode[T any](doc []byte) (*T, error) {
	x := new(T)
	if err := json.Unmarshal(doc, x); err != nil {
		return nil, fmt.Errorf("reading what stands: %w", err)
	}
	return x, nil
}

// computing is the longest that one standing may take.
const computing = 20 * time.Second

// workers is how many standings one page has computed at a time.
const workers = 3

// computeAll computes standings until the time is over and returns how many it tried; the rest go on without it.
func (d *Desk) computeAll(ctx context.Context, a Actor, late []stands, within time.Duration) int {
	todo := make(chan stands, len(late))
	for _, s := range late {
		todo <- s
	}
	close(todo)
	done := make(chan bool, len(late))
	var group sync.WaitGroup
	for range min(workers, len(late)) {
		group.Go(func() {
			for s := range todo {
				ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), computing)
				ran, err := d.refresh(ctx, a.Practice, s.Runner)
				cancel()
				if err != nil && !errors.Is(err, store.ErrNotFound) {
					d.failed.Store(s.Runner, failure{s.of, time.Now()})
				}
				done <- ran || err != nil
			}
		})
	}
	over := time.NewTimer(within)
	defer over.Stop()
	n := 0
	for range late {
		select {
		case tried := <-done:
			if tried {
				n++
			}
		case <-over.C:
			return n
		}
	}
	return n
}

// refresh computes what stands of a runner and keeps it, after recording the holds that need no coach. ran is false when
// somebody else is at it. What cannot be computed is logged: one record stops neither the server nor the others' lines.
func (d *Desk) refresh(ctx context.Context, practice, runner string) (ran bool, err error) {
	defer func() {
		if r := recover(); r != nil {
			err = fmt.Errorf("it broke: %v\n%s", r, debug.Stack())
		}
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			slog.Error("computing a standing", "runner", runner, "error", err)
		}
	}()
	for range 3 { // recording holds changes the record that is computed
		var holds *Chart
		ran, err = d.Store.Compute(ctx, practice, runner, func(tx *store.Tx) error {
			r, h, was, err := tx.Stands(ctx, runner, d.since(), record.NeedAll)
			if err != nil {
				return err
			}
			from := d.state(r.Timezone, r.Touched, r.Tested, h.State())
			if was.From == from {
				return nil
			}
			o := NewChart(r, rulesOf(h), from.On)
			if len(o.holds()) > 0 {
				holds = &o
				return nil
			}
			doc, err := json.Marshal(o.Standing())
			if err != nil {
				return fmt.Errorf("writing the standing: %w", err)
			}
			page, err := json.Marshal(o.Bearing())
			if err != nil {
				return fmt.Errorf("writing the standing: %w", err)
			}
			return tx.KeepStanding(ctx, runner, from, doc, page)
		})
		if err != nil || !ran || holds == nil {
			return ran, err
		}
		if err := d.recordHolds(ctx, practice, *holds); err != nil {
			return false, err
		}
	}
	return ran, nil
}

// recordHolds records what a chart holds, if nobody changed the record since the chart was read.
func (d *Desk) recordHolds(ctx context.Context, practice string, o Chart) error {
	err := d.Store.Change(ctx, practice, o.ID, func(tx *store.Tx) error {
		touched, err := tx.Touched(ctx, o.ID)
		if err != nil {
			return err
		}
		if touched != o.Touched+1 {
			return store.ErrStale
		}
		return o.RecordHolds(ctx, tx)
	})
	if errors.Is(err, store.ErrStale) {
		return nil // the next computing sees what came in
	}
	return err
}

// changed has what stands of a runner computed anew soon; without a background it is computed when it is asked for.
func (d *Desk) changed(practice, runner string) {
	if d.Background != nil {
		d.Background.add(practice, runner)
	}
}

// Background computes standings after changes, so that nobody waits for them.
type Background struct {
	desk   *Desk
	queue  chan [2]string
	stop   chan struct{}
	done   sync.WaitGroup
	mu     sync.Mutex
	queued map[[2]string]time.Time // since when it waits
	busy   bool
	job    func(name string, took time.Duration, err error)
}

// NewBackground starts it for a desk; Stop ends it.
func NewBackground(d *Desk) *Background {
	b := &Background{desk: d, queue: make(chan [2]string, 1000), stop: make(chan struct{}), queued: map[[2]string]time.Time{},
		job: func(string, time.Duration, error) {}}
	d.Background = b
	b.done.Go(b.work)
	return b
}

// Measure has every job told to f. Call it before KeepUp.
func (b *Background) Measure(f func(name string, took time.Duration, err error)) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.job = f
}

// Waiting is how long the oldest standing to be computed has waited.
func (b *Background) Waiting() (longest time.Duration) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for _, since := range b.queued {
		longest = max(longest, time.Since(since))
	}
	return longest
}

// KeepUp looks for what is out of date now and then: after an upgrade, and when a day has turned somewhere, most stands
// again before anybody asks.
func (b *Background) KeepUp(every time.Duration) {
	b.done.Go(func() {
		tick := time.NewTicker(every)
		defer tick.Stop()
		for {
			ctx, cancel := context.WithTimeout(context.Background(), computing)
			began := time.Now()
			err := b.Overdue(ctx)
			if err != nil {
				slog.Error("looking for what is out of date", "error", err)
			}
			b.job("overdue", time.Since(began), err)
			cancel()
			select {
			case <-b.stop:
				return
			case <-tick.C:
			}
		}
	})
}

// Overdue has everything computed that is out of date, in every practice; one that cannot be read keeps no other waiting.
func (b *Background) Overdue(ctx context.Context) error {
	practices, err := b.desk.Store.Practices(ctx)
	if err != nil {
		return err
	}
	var failed []error
	for _, practice := range practices {
		all, err := b.desk.readStandings(ctx, Actor{Practice: practice}, false)
		if err != nil {
			failed = append(failed, err)
			continue
		}
		for _, s := range all {
			if s.now == nil && !s.failed {
				b.add(practice, s.Runner)
			}
		}
	}
	return errors.Join(failed...)
}

// Idle waits until nothing is left to compute.
func (b *Background) Idle() {
	for {
		b.mu.Lock()
		busy := len(b.queued) > 0 || b.busy
		b.mu.Unlock()
		if !busy {
			return
		}
		time.Sleep(time.Millisecond)
	}
}

// Stop ends it after what it is at; what is left is computed when it is asked for.
func (b *Background) Stop() {
	close(b.stop)
	b.done.Wait()
}

func (b *Background) add(practice, runner string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	key := [2]string{practice, runner}
	if _, waits := b.queued[key]; waits {
		return
	}
	select {
	case b.queue <- key:
		b.queued[key] = time.Now()
	default: // so much waits that this one may as well be computed when it is asked for
	}
}

func (b *Background) work() {
	for {
		select {
		case <-b.stop:
			return
		case key := <-b.queue:
			b.mu.Lock()
			delete(b.queued, key)
			b.busy = true
			job := b.job
			b.mu.Unlock()
			ctx, cancel := context.WithTimeout(context.Background(), computing)
			began := time.Now()
			_, err := b.desk.refresh(ctx, key[0], key[1]) // it is logged there
			job("standing", time.Since(began), err)
			cancel()
			b.mu.Lock()
			b.busy = false
			b.mu.Unlock()
		}
	}
}
