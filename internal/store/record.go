package store

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
)

// batch gathers queries that travel together, each with what takes its rows.
type batch struct{ pgx.Batch }

// all queues a query whose rows are added to a list, read by scan in the order of its columns.
func all[T any](b *batch, what string, into *[]T, scan func(pgx.CollectableRow, *T) error, sql string, args ...any) {
	b.Queue(sql, args...).Query(func(rows pgx.Rows) error {
		out, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (x T, err error) { return x, scan(row, &x) })
		if err != nil {
			return fmt.Errorf("reading %s: %w", what, err)
		}
		*into = out
		return nil
	})
}

// run sends the batch.
func (tx *Tx) run(ctx context.Context, b *batch) error {
	if b.Len() == 0 {
		return nil
	}
	return tx.SendBatch(ctx, &b.Batch).Close()
}

// Record loads the parts of a runner that are needed and what holds for the practice; reports reach back to the day
// since.
func (tx *Tx) Record(ctx context.Context, runner string, since body.Date, need record.Need) (record.Record, House, error) {
	var b batch
	h := queueHouse(&b)
	r := queueWho(&b, runner, need)
	if err := tx.run(ctx, &b); err != nil {
		return record.Record{}, House{}, err
	}
	if err := tx.load(ctx, since, need, r); err != nil {
		return record.Record{}, House{}, err
	}
	return r.Record, *h, nil
}

// Records loads parts of every runner of the practice, by name; archived ones only when asked.
func (tx *Tx) Records(ctx context.Context, archived bool, since body.Date, need record.Need) ([]record.Record, House, error) {
	ids, err := tx.runners(ctx, archived)
	if err != nil {
		return nil, House{}, err
	}
	var b batch
	h := queueHouse(&b)
	read := make([]*reading, len(ids))
	for i, id := range ids {
		read[i] = queueWho(&b, id, need)
	}
	if err := tx.run(ctx, &b); err != nil {
		return nil, House{}, err
	}
	if err := tx.load(ctx, since, need, read...); err != nil {
		return nil, House{}, err
	}
	out := make([]record.Record, len(read))
	for i, r := range read {
		out[i] = r.Record
	}
	return out, *h, nil
}

// reading is a record while it is read: who it is first, then the parts that are not remembered.
type reading struct {
	record.Record
	found []record.Person
	doses *rows
	shown *shown
}

// queueWho queues who a runner is, with what the private link is about where it is needed.
func queueWho(b *batch, runner string, need record.Need) *reading {
	r := &reading{}
	queuePerson(b, runner, r)
	if need.Has(record.NeedDoor) {
		r.Door = queueDoor(b, runner)
	}
	return r
}

// load reads the needed parts of runners whose person was read.
func (tx *Tx) load(ctx context.Context, since body.Date, need record.Need, read ...*reading) error {
	var b batch
	late := map[*reading]record.Need{}
	for _, r := range read {
		if len(r.found) == 0 {
			return fmt.Errorf("reading the runner: %w", ErrNotFound)
		}
		if missing := tx.memory.recall(&r.Record, since, need&^record.NeedDoor); missing != 0 {
			late[r] = missing
			r.queueParts(&b, since, missing)
		}
	}
	if err := tx.run(ctx, &b); err != nil {
		return err
	}
	var doses batch
	for r := range late {
		r.shown.queue(&doses)
	}
	if err := tx.run(ctx, &doses); err != nil {
		return err
	}
	for r, parts := range late {
		r.join(parts)
		tx.memory.keep(r.Record, since)
	}
	return nil
}

// queueParts queues parts of a record.
func (r *reading) queueParts(b *batch, since body.Date, parts record.Need) {
	if parts&(record.NeedPlan|record.NeedPast) != 0 {
		r.doses = queueRows(b, r.ID)
	}
	if parts.Has(record.NeedTests) {
		r.Tests = queueTests(b, r.ID)
	}
	if parts.Has(record.NeedPlan) {
		r.Plan = queuePlan(b, r.ID)
	}
	if parts.Has(record.NeedReports) {
		r.Reports, r.shown = queueReports(b, r.ID, since)
	}
	if parts.Has(record.NeedPast) {
		r.Past = queuePast(b, r.ID)
	}
}

// join puts together what came by different queries.
func (r *reading) join(parts record.Need) {
	if parts.Has(record.NeedPlan) && r.Programme != nil {
		r.Prescriptions, r.Rested = r.doses.inForce(r.Programme.ID)
	}
	if parts.Has(record.NeedPast) {
		r.doses.led(r.Decisions)
	}
	r.shown.join()
}

func queuePerson(b *batch, runner string, r *reading) {
	p := &r.Person
	all(b, "the runner", &r.found, func(row pgx.CollectableRow, x *record.Person) error {
		var profile []byte
		var doc int
		if err := row.Scan(&x.ID, &x.Name, &x.Timezone, &profile, &doc, &x.Version, &x.Touched, &x.Tested, &x.Archived, (*string)(&x.Created),
			(*string)(&x.FeelingFrom)); err != nil {
			return err
		}
		*p = *x // what is read beside it comes after
		return document("the profile", doc, profile, &p.Profile)
	}, `SELECT r.id::text, r.name, r.timezone, r.profile::text, r.doc, r.version, r.touched, r.tested, r.archived_at IS NOT NULL,
		(r.created_at AT TIME ZONE r.timezone)::date::text, p.feeling_from::text
		FROM runners r JOIN practices p ON p.id = r.practice_id WHERE r.id = $1`, runner)
	all(b, "the warning signs", &p.Stops, func(row pgx.CollectableRow, x *refer.Stop) error {
		x.Clearances = []refer.Clearance{}
		return row.Scan(&x.ID, &x.Sign, &x.Region, &x.Side, (*string)(&x.On), &x.Source, &x.Which, &x.Seq, (*string)(&x.Recorded))
	}, `SELECT s.id::text, s.sign, s.region, s.side, s.on_day::text, s.source, s.which, s.report, (s.at AT TIME ZONE r.timezone)::date::text
		FROM stops s JOIN runners r ON r.id = s.runner_id WHERE s.runner_id = $1 ORDER BY s.at`, runner)
	var cleared []struct{}
	all(b, "the clearances", &cleared, func(row pgx.CollectableRow, _ *struct{}) error {
		var stop string
		var c refer.Clearance
		if err := row.Scan(&stop, &c.ID, &c.Kind, &c.Who, (*string)(&c.On), &c.Limits, &c.Opens, &c.At); err != nil {
			return err
		}
		for i := range p.Stops {
			if p.Stops[i].ID == stop {
				p.Stops[i].Clearances = append(p.Stops[i].Clearances, c)
			}
		}
		return nil
	}, `SELECT c.stop_id::text, c.id::text, c.kind, c.who, c.on_day::text, c.limits, c.opens, c.at
		FROM clearances c JOIN stops s ON s.id = c.stop_id WHERE s.runner_id = $1 ORDER BY c.at`, runner)
	all(b, "the limits", &p.Limits, func(row pgx.CollectableRow, x *refer.Limit) error {
		return row.Scan(&x.ID, &x.For, &x.Side, &x.Kind, &x.Who, (*string)(&x.On), &x.Opens, &x.Words)
	}, `SELECT id::text, for_id, side, kind, who, on_day::text, opens, words FROM limits WHERE runner_id = $1 ORDER BY at`, runner)
	var plans []struct{}
	all(b, "the running planned", &plans, func(row pgx.CollectableRow, _ *struct{}) error {
		return row.Scan(&p.RunningID, &p.Running)
	}, `SELECT id::text, doc FROM running_plans WHERE runner_id = $1 ORDER BY at DESC, id DESC LIMIT 1`, runner)
	queueBarefoot(b, runner, p)
	queueNotes(b, runner, p)
	queueSelfChecks(b, runner, p)
	all(b, "the askings", &p.Checks, func(row pgx.CollectableRow, x *refer.Check) error {
		return row.Scan(&x.ID, (*string)(&x.On), &x.Source, &x.Denied, &x.By, &x.Seq)
	}, `SELECT c.id::text, c.on_day::text, c.source, c.denied, coalesce(k.name, ''), c.report
		FROM sign_checks c LEFT JOIN coaches k ON k.id = c.coach_id WHERE c.runner_id = $1 ORDER BY c.on_day DESC, c.at DESC LIMIT 5`, runner)
}

func queueTests(b *batch, runner string) *record.Tests {
	t := &record.Tests{}
	all(b, "the screens", &t.Screens, func(row pgx.CollectableRow, x *record.Screen) error {
		x.Trials = []screen.Trial{}
		return row.Scan(&x.ID, (*string)(&x.On), &x.Finished, &x.Kind, &x.Measures)
	}, `SELECT id::text, on_day::text, finished_at IS NOT NULL, kind, measures FROM screens WHERE runner_id = $1 ORDER BY on_day DESC,
		at DESC`, runner)
	var trials []struct{}
	of := map[string]*record.Screen{}
	all(b, "the trials", &trials, func(row pgx.CollectableRow, _ *struct{}) error {
		if len(of) == 0 {
			for i := range t.Screens {
				of[t.Screens[i].ID] = &t.Screens[i]
			}
		}
		var id string
		var x screen.Trial
		err := row.Scan(trialInto(&id, &x)...)
		if s := of[id]; s != nil {
			s.Trials = append(s.Trials, x)
		}
		return err
	}, trialsSQL, runner)
	return t
}

const trialSQL = `SELECT t.screen_id::text, t.id::text, t.measure, t.side, t.value, t.faults, t.stop, t.skipped, t.on_day::text, t.parts,
	t.context, t.place, t.moment, t.se, coalesce(t.clip_id::text, ''), coalesce(k.name, ''), t.by_phone
	FROM trials t JOIN screens s ON s.id = t.screen_id LEFT JOIN coaches k ON k.id = t.coach_id`

const trialsSQL = trialSQL + ` WHERE s.runner_id = $1 AND t.removed_at IS NULL ORDER BY t.at`

// trialInto is where the columns of trialSQL go.
func trialInto(screenID *string, x *screen.Trial) []any {
	return []any{screenID, &x.ID, &x.Measure, &x.Side, &x.Value, &x.Faults, &x.Stop, &x.Skipped, (*string)(&x.On), &x.Parts,
		&x.Context, &x.Where, &x.Moment, &x.SE, &x.Clip, &x.By, &x.Phone}
}

const programmeInForce = `(SELECT g.id FROM programmes g WHERE g.runner_id = $1 ORDER BY g.seq DESC LIMIT 1)`

// row is a prescription with the programme it belongs to.
type row struct {
	catalog.Prescription
	programme string
}

// rows are all prescriptions of a runner, the newest first.
type rows struct{ all []row }

func queueRows(b *batch, runner string) *rows {
	r := &rows{}
	all(b, "the doses", &r.all, func(c pgx.CollectableRow, x *row) error {
		return c.Scan(&x.programme, &x.ID, &x.Rail, &x.Side, &x.Exercise, &x.Dose, (*string)(&x.From), &x.Cause, &x.Parked, &x.Set)
	}, `SELECT programme_id::text, id::text, rail, side, exercise, dose, from_day::text, cause, parked, at FROM prescriptions
		WHERE runner_id = $1 ORDER BY seq DESC`, runner)
	return r
}

// inForce are the newest of each rail and side of a programme; rested those of the rails it has none of.
func (r *rows) inForce(programme string) (now, rested []catalog.Prescription) {
	type place struct {
		rail string
		side body.Side
	}
	has := map[string]bool{}
	for _, x := range r.all {
		if x.programme == programme {
			has[x.Rail] = true
		}
	}
	seen := map[place]bool{}
	for _, x := range r.all {
		at, mine := place{x.Rail, x.Side}, x.programme == programme
		if seen[at] || has[x.Rail] != mine {
			continue
		}
		seen[at] = true
		if mine {
			now = append(now, x.Prescription)
		} else {
			rested = append(rested, x.Prescription)
		}
	}
	order := func(a, b catalog.Prescription) int {
		return cmp.Or(cmp.Compare(a.Rail, b.Rail), cmp.Compare(a.Side, b.Side))
	}
	slices.SortFunc(now, order)
	slices.SortFunc(rested, order)
	return now, rested
}

// led says of decisions what they led to.
func (r *rows) led(decisions []record.Decision) {
	to := make(map[string]*row, len(r.all))
	for i := range r.all {
		to[r.all[i].ID] = &r.all[i]
	}
	for i := range decisions {
		if x := to[decisions[i].To]; x != nil {
			decisions[i].ToExercise, decisions[i].ToDose = x.Exercise, x.Dose
		}
	}
}

func queuePlan(b *batch, runner string) *record.Plan {
	p := &record.Plan{}
	var programmes []struct{}
	all(b, "the programme", &programmes, func(row pgx.CollectableRow, _ *struct{}) error {
		var plan []byte
		var doc int
		p.Programme = &record.Programme{}
		if err := row.Scan(&p.Programme.ID, (*string)(&p.Programme.On), &plan, &doc); err != nil {
			return err
		}
		return document("the programme", doc, plan, &p.Programme.Plan)
	}, `SELECT id::text, on_day::text, plan::text, doc FROM programmes WHERE runner_id = $1 ORDER BY seq DESC LIMIT 1`, runner)
	all(b, "the usual mornings", &p.Usual, func(row pgx.CollectableRow, x *build.Usual) error {
		return row.Scan(&x.Region, &x.Side, &x.Level, &x.Reason, (*string)(&x.On), &x.Raised)
	}, `SELECT u.region, u.side, u.level, u.reason, (u.at AT TIME ZONE r.timezone)::date::text, u.raised
		FROM usual_mornings u JOIN runners r ON r.id = u.runner_id WHERE u.runner_id = $1 ORDER BY u.seq`, runner)
	type from struct {
		seq int64
		on  body.Date
	}
	var weeks []from
	all(b, "the weeks", &p.Weeks, func(row pgx.CollectableRow, x *record.Moved) error {
		var week []byte
		var doc int
		var f from
		if err := row.Scan(&x.ID, &week, &doc, &f.seq, (*string)(&f.on)); err != nil {
			return err
		}
		weeks = append(weeks, f)
		return document("the week", doc, week, &x.Week)
	}, `SELECT id::text, week::text, doc, seq, from_day::text FROM weeks WHERE programme_id = `+programmeInForce+` ORDER BY seq DESC`, runner)
	b.Queue(`SELECT on_day::text, rail, slot, week_seq FROM training_days WHERE programme_id = `+programmeInForce+` ORDER BY
		training_days.on_day, rail`, runner).Query(func(rows pgx.Rows) error {
		var d record.TrainingDay
		var seq int64
		_, err := pgx.ForEachRow(rows, []any{(*string)(&d.On), &d.Rail, &d.Slot, &seq}, func() error {
			// The week that holds is the newest that begins by that day; 0 is the one that was built.
			i := slices.IndexFunc(weeks, func(w from) bool { return w.on <= d.On })
			if i < 0 && seq == 0 || i >= 0 && weeks[i].seq == seq {
				p.Days = append(p.Days, d)
			}
			return nil
		})
		if err != nil {
			return fmt.Errorf("reading the training days: %w", err)
		}
		return nil
	})
	return p
}

// shown are the doses that sessions were done against. The same dose is shown day after day: it is read once, from the
// first session that it was shown for.
type shown struct {
	runner string
	logs   *[]adjust.Log
	of     []shownKey           // of each log
	first  map[shownKey]string  // the log it is read from
	doses  map[string]shownDose // by that log
}

type shownKey struct {
	prescription string
	hash         int64
}

type shownDose struct {
	id string
	catalog.Prescription
}

// queueLogs queues the sessions without their doses.
func queueLogs(b *batch, runner string, since body.Date, into *[]adjust.Log) *shown {
	s := &shown{runner: runner, logs: into, first: map[shownKey]string{}}
	all(b, "the logs", into, func(row pgx.CollectableRow, x *adjust.Log) error {
		var key shownKey
		err := row.Scan(&x.ID, (*string)(&x.On), &key.prescription, &key.hash, &x.Done, &x.RPE, &x.Pain, &x.CrampAt, &x.Faults, &x.Note,
			&x.Source, &x.Times, &x.Seq, &x.Supersedes)
		s.of = append(s.of, key)
		if _, known := s.first[key]; !known {
			s.first[key] = x.ID
		}
		return err
	}, `SELECT id::text, on_day::text, prescription_id::text, shown, done, rpe, pain, cramp_at, faults, note, source, times, report,
		coalesce(supersedes::text, '') FROM logs WHERE runner_id = $1 AND on_day >= $2::date ORDER BY logs.on_day, report`, runner, since)
	return s
}

// queue queues the doses, once the sessions were read.
func (s *shown) queue(b *batch) {
	if s == nil || len(s.first) == 0 {
		return
	}
	var doses []shownDose
	s.doses = map[string]shownDose{}
	all(b, "the doses that were shown", &doses, func(row pgx.CollectableRow, x *shownDose) error {
		var raw []byte
		var doc int
		if err := row.Scan(&x.id, &raw, &doc); err != nil {
			return err
		}
		err := document("the session", doc, raw, &x.Prescription)
		s.doses[x.id] = *x
		return err
	}, `SELECT id::text, prescription::text, doc FROM logs WHERE runner_id = $1 AND id = ANY($2::uuid[])`, s.runner,
		slices.Collect(maps.Values(s.first)))
}

// join gives each session its dose.
func (s *shown) join() {
	if s == nil {
		return
	}
	for i := range *s.logs {
		(*s.logs)[i].Prescription = s.doses[s.first[s.of[i]]].Prescription
	}
}

func queueReports(b *batch, runner string, since body.Date) (*record.Reports, *shown) {
	r := &record.Reports{}
	shown := queueLogs(b, runner, since, &r.Logs)
	all(b, "the mornings", &r.Mornings, func(row pgx.CollectableRow, x *build.Morning) error {
		return row.Scan(&x.ID, (*string)(&x.On), &x.Region, &x.Side, &x.Pain, &x.Stiffness, &x.Quiet, &x.Seq)
	}, `SELECT id::text, on_day::text, region, side, pain, stiffness, quiet, report FROM mornings WHERE runner_id = $1 AND on_day >= $2::date
		ORDER BY mornings.on_day, report`, runner, since)
	all(b, "the runs", &r.Runs, func(row pgx.CollectableRow, x *load.Run) error {
		err := row.Scan(&x.ID, (*string)(&x.On), &x.Minutes, &x.Km, &x.RPE, &x.Word, &x.Seq, &x.Details)
		*x = x.Known()
		return err
	}, `SELECT id::text, on_day::text, minutes, km, rpe, word, report, details FROM runs WHERE runner_id = $1 AND on_day >= $2::date
		AND`+inForce+` ORDER BY runs.on_day, report`, runner, since)
	return r, shown
}

func queuePast(b *batch, runner string) *record.Past {
	p := &record.Past{}
	all(b, "the decisions", &p.Decisions, func(row pgx.CollectableRow, x *record.Decision) error {
		return row.Scan(&x.ID, (*string)(&x.On), &x.Rail, &x.Side, &x.Proposed, &x.Verdict, &x.Steps, &x.Word, &x.Coach, &x.From, &x.To, &x.Seen,
			&x.Rule, &x.Why)
	}, `WITH d AS (
			SELECT x.* FROM decisions x WHERE x.runner_id = $1 AND x.coach_id IS NOT NULL
			UNION ALL (SELECT DISTINCT ON (rail, side) x.* FROM decisions x WHERE x.runner_id = $1 AND x.coach_id IS NULL
				ORDER BY rail, side, seq DESC))
		SELECT d.id::text, d.on_day::text, d.rail, d.side, d.proposed, d.verdict, d.steps, d.word, coalesce(c.name, ''),
			d.from_prescription::text, d.to_prescription::text, d.seen, d.rule, d.why
		FROM d LEFT JOIN coaches c ON c.id = d.coach_id ORDER BY d.seq`, runner)
	return p
}

func queueDoor(b *batch, runner string) *record.Door {
	d := &record.Door{}
	all(b, "the private links", &d.Links, func(row pgx.CollectableRow, x *record.Link) error {
		return row.Scan(&x.ID, &x.Created, &x.Expires, &x.Live, &x.Devices)
	}, `SELECT id::text, to_json(created_at) #>> '{}', to_json(expires_at) #>> '{}', revoked_at IS NULL AND expires_at > now(),
			(SELECT coalesce(json_agg(json_build_object('id', d.id, 'name', d.device, 'opened', d.opened_at, 'seen', d.seen_at)
				ORDER BY d.seen_at DESC, d.id), '[]') FROM link_devices d WHERE d.link_id = links.id AND d.ended_at IS NULL)
		FROM links WHERE runner_id = $1 ORDER BY created_at DESC`, runner)
	all(b, "the forms", &d.Forms, func(row pgx.CollectableRow, x *record.Form) error {
		return row.Scan(&x.ID, (*string)(&x.On), &x.Profile)
	}, `SELECT id::text, on_day::text, profile FROM intake_forms WHERE runner_id = $1 AND taken_at IS NULL ORDER BY at DESC LIMIT 3`, runner)
	return d
}
