package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core"
	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

const ownRunner = ` WHERE id = $1 AND runner_id = $2`

func orEmpty(s []string) []string {
	if s == nil {
		return []string{}
	}
	return s
}

// AddRunner stores a new runner; repeating it is the same write.
func (tx *Tx) AddRunner(ctx context.Context, id, name, zone string, p body.Profile, coach string) error {
	fresh, err := tx.insertOnce(ctx, "adding the runner", `SELECT FROM runners WHERE id = $1`, []any{id},
		`INSERT INTO runners (id, practice_id, name, timezone, profile) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO NOTHING`, id, tx.Practice, name, zone, p)
	if err != nil || !fresh {
		return err
	}
	return tx.revision(ctx, id, 1, name, p, coach)
}

func (tx *Tx) revision(ctx context.Context, id string, version int, name string, p body.Profile, coach string) error {
	_, err := tx.Exec(ctx, `INSERT INTO runner_revisions (practice_id, runner_id, version, name, profile, coach_id) VALUES ($1, $2, $3, $4, $5, $6)`, tx.Practice, id, version, name, p, coach)
	if err != nil {
		return fmt.Errorf("keeping the intake's history: %w", err)
	}
	return nil
}

// EditRunner replaces the intake if it still has the given version, else ErrStale.
func (tx *Tx) EditRunner(ctx context.Context, id string, version int, name, zone string, p body.Profile, coach string) error {
	tag, err := tx.Exec(ctx, `UPDATE runners SET name = $3, timezone = $4, profile = $5, version = version + 1 WHERE id = $1 AND version = $2`, id, version, name, zone, p)
	if err != nil {
		return fmt.Errorf("changing the intake: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("changing the intake: %w", ErrStale)
	}
	return tx.revision(ctx, id, version+1, name, p, coach)
}

// Archive puts a runner away, or brings it back.
func (tx *Tx) Archive(ctx context.Context, id string, away bool) error {
	tag, err := tx.Exec(ctx, `UPDATE runners SET archived_at = CASE WHEN $2 THEN coalesce(archived_at, now()) END WHERE id = $1`, id, away)
	if err != nil {
		return fmt.Errorf("archiving: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("archiving: %w", ErrNotFound)
	}
	return nil
}

// report gives the next number of a runner's reports and holds the runner until the transaction ends, so
// that two reports at once are numbered one after the other.
func (tx *Tx) report(ctx context.Context, runner string) (n int64, err error) {
	err = tx.QueryRow(ctx, `UPDATE runners SET reports = reports + 1 WHERE id = $1 RETURNING reports`, runner).Scan(&n)
	if err != nil {
		return 0, fmt.Errorf("numbering the report: %w", known(err))
	}
	return n, nil
}

// addReport numbers a report of a runner and stores it once: sql takes the number as its last argument.
func (tx *Tx) addReport(ctx context.Context, doing, table, runner, id, sql string, args ...any) error {
	n, err := tx.report(ctx, runner)
	if err != nil {
		return fmt.Errorf("%s: %w", doing, err)
	}
	_, err = tx.insertOnce(ctx, doing, `SELECT FROM `+table+ownRunner, []any{id, runner}, sql, append(args, n)...)
	return err
}

// AddStop stores a warning sign answered yes.
func (tx *Tx) AddStop(ctx context.Context, runner string, s refer.Stop) error {
	return tx.addReport(ctx, "recording the warning sign", "stops", runner, s.ID,
		`INSERT INTO stops (id, practice_id, runner_id, sign, region, side, on_day, source, which, report) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) ON CONFLICT (id) DO NOTHING`,
		s.ID, tx.Practice, runner, s.Sign, s.Region, s.Side, s.On, s.Source, orEmpty(s.Which))
}

// AddLimit stores what somebody recorded for a caution or a pattern.
func (tx *Tx) AddLimit(ctx context.Context, runner string, l refer.Limit, coach string) error {
	_, err := tx.insertOnce(ctx, "recording the limits", `SELECT FROM limits`+ownRunner, []any{l.ID, runner},
		`INSERT INTO limits (id, practice_id, runner_id, for_id, side, kind, who, on_day, opens, words, coach_id) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) ON CONFLICT (id) DO NOTHING`,
		l.ID, tx.Practice, runner, l.For, l.Side, l.Kind, l.Who, l.On, l.Opens, l.Words, coach)
	return err
}

// AddClearance stores a second look at a stop.
func (tx *Tx) AddClearance(ctx context.Context, stop string, c refer.Clearance, coach string) error {
	_, err := tx.insertOnce(ctx, "recording the clearance", `SELECT FROM clearances WHERE id = $1 AND stop_id = $2`, []any{c.ID, stop},
		`INSERT INTO clearances (id, practice_id, stop_id, kind, who, on_day, limits, opens, coach_id) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, NULLIF($9, '')::uuid) ON CONFLICT (id) DO NOTHING`,
		c.ID, tx.Practice, stop, c.Kind, c.Who, c.On, c.Limits, c.Opens, coach)
	return err
}

// AddCheck stores one asking of the warning signs. coach is empty when the runner answered alone.
func (tx *Tx) AddCheck(ctx context.Context, runner string, c refer.Check, coach string) error {
	return tx.addReport(ctx, "keeping the answers", "sign_checks", runner, c.ID,
		`INSERT INTO sign_checks (id, practice_id, runner_id, on_day, source, denied, coach_id, report) VALUES ($1, $2, $3, $4, $5, $6, NULLIF($7, '')::uuid, $8) ON CONFLICT (id) DO NOTHING`,
		c.ID, tx.Practice, runner, c.On, c.Source, orEmpty(c.Denied), coach)
}

// AddForm stores what the runner filled in.
func (tx *Tx) AddForm(ctx context.Context, runner string, f Form) error {
	_, err := tx.insertOnce(ctx, "keeping the form", `SELECT FROM intake_forms`+ownRunner, []any{f.ID, runner},
		`INSERT INTO intake_forms (id, practice_id, runner_id, on_day, profile) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO NOTHING`, f.ID, tx.Practice, runner, f.On, f.Profile)
	return err
}

// TakeForms marks the runner's forms up to this one as seen; they are kept.
func (tx *Tx) TakeForms(ctx context.Context, runner, id string) error {
	_, err := tx.Exec(ctx, `UPDATE intake_forms SET taken_at = coalesce(taken_at, now()) WHERE runner_id = $2 AND at <= (SELECT at FROM intake_forms WHERE id = $1 AND runner_id = $2)`, id, runner)
	if err != nil {
		return fmt.Errorf("taking the form over: %w", err)
	}
	return nil
}

// AddScreen starts a screen of a kind that asks for the given measures.
func (tx *Tx) AddScreen(ctx context.Context, runner, id string, on body.Date, kind string, measures []string) error {
	_, err := tx.insertOnce(ctx, "starting the screen", `SELECT FROM screens`+ownRunner, []any{id, runner},
		`INSERT INTO screens (id, practice_id, runner_id, on_day, kind, measures) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT (id) DO NOTHING`, id, tx.Practice, runner, on, kind, orEmpty(measures))
	return err
}

// FinishScreen closes a screen; closing it again changes nothing.
func (tx *Tx) FinishScreen(ctx context.Context, runner, id string) error {
	tag, err := tx.Exec(ctx, `UPDATE screens SET finished_at = coalesce(finished_at, now())`+ownRunner, id, runner)
	if err != nil {
		return fmt.Errorf("finishing the screen: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("finishing the screen: %w", ErrNotFound)
	}
	return nil
}

// AddTrial stores one trial of a screen.
func (tx *Tx) AddTrial(ctx context.Context, screenID string, t screen.Trial, coach string) error {
	parts := t.Parts
	if parts == nil {
		parts = []float64{}
	}
	m, _ := screen.FindMeasure(t.Measure)
	var runner string
	if err := tx.QueryRow(ctx, `SELECT runner_id::text FROM screens WHERE id = $1`, screenID).Scan(&runner); err != nil {
		return fmt.Errorf("storing the trial: %w", known(err))
	}
	n, err := tx.report(ctx, runner)
	if err != nil {
		return fmt.Errorf("storing the trial: %w", err)
	}
	_, err = tx.insertOnce(ctx, "storing the trial", `SELECT FROM trials WHERE id = $1 AND screen_id = $2`, []any{t.ID, screenID},
		`INSERT INTO trials (id, practice_id, screen_id, measure, protocol, side, value, faults, stop, skipped, on_day, parts, context, place, moment, se, clip_id, coach_id, report) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, NULLIF($17, '')::uuid, $18, $19) ON CONFLICT (id) DO NOTHING`,
		t.ID, tx.Practice, screenID, t.Measure, m.Protocol, t.Side, t.Value, orEmpty(t.Faults), t.Stop, t.Skipped, t.On, parts, t.Context, t.Where, t.Moment, t.SE, t.Clip, coach, n)
	return err
}

// RemoveTrial takes a trial out of the reading, or puts it back; the row is kept.
func (tx *Tx) RemoveTrial(ctx context.Context, screenID, id string, out bool) error {
	tag, err := tx.Exec(ctx, `UPDATE trials SET removed_at = CASE WHEN $3 THEN coalesce(removed_at, now()) END WHERE id = $1 AND screen_id = $2`, id, screenID, out)
	if err != nil {
		return fmt.Errorf("removing the trial: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("removing the trial: %w", ErrNotFound)
	}
	return nil
}

// AddProgramme stores a programme with what it was built from, its first prescriptions, its dated
// days and the usual mornings it is judged by.
func (tx *Tx) AddProgramme(ctx context.Context, runner, id string, p build.Programme, inputs any, houseVersion int, days []TrainingDay, prescriptions []catalog.Prescription, coach string) error {
	fresh, err := tx.insertOnce(ctx, "storing the programme", `SELECT FROM programmes`+ownRunner, []any{id, runner},
		`INSERT INTO programmes (id, practice_id, runner_id, on_day, plan, inputs, engine, house_version, coach_id) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9) ON CONFLICT (id) DO NOTHING`,
		id, tx.Practice, runner, p.On, p, inputs, core.EngineVersion, houseVersion, coach)
	if err != nil || !fresh {
		return err
	}
	if err := tx.addDays(ctx, runner, id, 0, days); err != nil {
		return err
	}
	for _, x := range prescriptions {
		if err := tx.AddPrescription(ctx, runner, id, x); err != nil {
			return err
		}
	}
	for _, u := range p.Usual {
		if err := tx.AddUsual(ctx, runner, id, u); err != nil {
			return err
		}
	}
	return nil
}

func (tx *Tx) addDays(ctx context.Context, runner, programme string, seq int64, days []TrainingDay) error {
	on, rails, slots := make([]string, 0, len(days)), make([]string, 0, len(days)), make([]string, 0, len(days))
	for _, d := range days {
		on, rails, slots = append(on, string(d.On)), append(rails, d.Rail), append(slots, string(d.Slot))
	}
	_, err := tx.Exec(ctx, `INSERT INTO training_days (practice_id, runner_id, programme_id, week_seq, on_day, rail, slot)
		SELECT $1, $2, $3, $4, d.on_day, d.rail, d.slot FROM unnest($5::text[]::date[], $6::text[], $7::text[]) AS d (on_day, rail, slot)`, tx.Practice, runner, programme, seq, on, rails, slots)
	if err != nil {
		return fmt.Errorf("storing the training days: %w", err)
	}
	return nil
}

// AddWeek stores the week as the coach moved it; its days stand in place of the earlier ones from the
// given day on. Repeating it is the same write.
func (tx *Tx) AddWeek(ctx context.Context, runner, programme, id string, from body.Date, w build.Week, days []TrainingDay, coach string) error {
	fresh, err := tx.insertOnce(ctx, "storing the week", `SELECT FROM weeks`+ownRunner, []any{id, runner},
		`INSERT INTO weeks (id, practice_id, runner_id, programme_id, from_day, week, coach_id) VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT (id) DO NOTHING`,
		id, tx.Practice, runner, programme, from, w, coach)
	if err != nil || !fresh {
		return err
	}
	var seq int64
	if err := tx.QueryRow(ctx, `SELECT seq FROM weeks WHERE id = $1`, id).Scan(&seq); err != nil {
		return fmt.Errorf("storing the week: %w", err)
	}
	return tx.addDays(ctx, runner, programme, seq, days)
}

// AddPrescription stores the next prescription of a rail and side; the newest is the current one.
func (tx *Tx) AddPrescription(ctx context.Context, runner, programme string, p catalog.Prescription) error {
	_, err := tx.Exec(ctx, `INSERT INTO prescriptions (id, practice_id, runner_id, programme_id, rail, side, exercise, dose, from_day, cause, parked) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
		p.ID, tx.Practice, runner, programme, p.Rail, p.Side, p.Exercise, p.Dose, p.From, p.Cause, p.Parked)
	if err != nil {
		return fmt.Errorf("storing the prescription: %w", err)
	}
	return nil
}

// Prescription finds one prescription of a runner, current or past.
func (tx *Tx) Prescription(ctx context.Context, runner, id string) (catalog.Prescription, error) {
	var p catalog.Prescription
	err := tx.QueryRow(ctx, `SELECT id, rail, side, exercise, dose, from_day::text, cause, parked, at FROM prescriptions`+ownRunner, id, runner).
		Scan(&p.ID, &p.Rail, &p.Side, &p.Exercise, &p.Dose, (*string)(&p.From), &p.Cause, &p.Parked, &p.Set)
	if err != nil {
		return p, fmt.Errorf("finding the prescription: %w", known(err))
	}
	return p, nil
}

// AddUsual sets the level mornings are measured against from now on.
func (tx *Tx) AddUsual(ctx context.Context, runner, programme string, u build.Usual) error {
	_, err := tx.Exec(ctx, `INSERT INTO usual_mornings (practice_id, runner_id, programme_id, region, side, level, reason, raised) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		tx.Practice, runner, programme, u.Region, u.Side, u.Level, u.Reason, u.Raised)
	if err != nil {
		return fmt.Errorf("storing the usual morning: %w", err)
	}
	return nil
}

// AddLog stores a session as it was done. supersedes names the log it corrects, if any.
func (tx *Tx) AddLog(ctx context.Context, runner string, l adjust.Log, supersedes string) error {
	var old *string
	if supersedes != "" {
		old = &supersedes
	}
	done := l.Done
	if done == nil {
		done = []int{}
	}
	return tx.addReport(ctx, "storing the session", "logs", runner, l.ID,
		`INSERT INTO logs (id, practice_id, runner_id, on_day, prescription_id, prescription, done, rpe, pain, cramp_at, faults, note, source, supersedes, times, report) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16) ON CONFLICT (id) DO NOTHING`,
		l.ID, tx.Practice, runner, l.On, l.Prescription.ID, l.Prescription, done, l.RPE, l.Pain, l.CrampAt, orEmpty(l.Faults), l.Note, l.Source, old, l.Times)
}

// AddMorning stores a morning mark. A second one of the same place and day is judged beside the first.
func (tx *Tx) AddMorning(ctx context.Context, runner string, m build.Morning, source string) error {
	return tx.addReport(ctx, "storing the morning", "mornings", runner, m.ID,
		`INSERT INTO mornings (id, practice_id, runner_id, on_day, region, side, pain, stiffness, source, quiet, report) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) ON CONFLICT (id) DO NOTHING`,
		m.ID, tx.Practice, runner, m.On, m.Region, m.Side, m.Pain, m.Stiffness, source, m.Quiet)
}

// AddRun stores a run.
func (tx *Tx) AddRun(ctx context.Context, runner string, r load.Run, source string) error {
	return tx.addReport(ctx, "storing the run", "runs", runner, r.ID,
		`INSERT INTO runs (id, practice_id, runner_id, on_day, minutes, km, rpe, source, word, report) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) ON CONFLICT (id) DO NOTHING`,
		r.ID, tx.Practice, runner, r.On, r.Minutes, r.Km, r.RPE, source, r.Word)
}

// DecisionRecord is a decision with everything needed to replay it. A hold that the core records by itself
// has no coach and no inputs.
type DecisionRecord struct {
	ID           string
	Programme    string
	On           body.Date
	Proposed     adjust.Verdict
	Taken        adjust.Proposal
	Word         string
	Inputs       *adjust.Input
	HouseVersion int
	Coach        string
}

// AddDecision stores a decision and, when the dose moves, the new prescription. fresh is false when
// this decision was stored before.
func (tx *Tx) AddDecision(ctx context.Context, runner string, d DecisionRecord) (fresh bool, err error) {
	to := d.Taken.To
	moved := to.ID != d.Taken.From.ID
	fired, err := json.Marshal(d.Taken.Fired)
	if err != nil {
		return false, fmt.Errorf("storing the decision: %w", err)
	}
	fresh, err = tx.insertOnce(ctx, "storing the decision", `SELECT FROM decisions`+ownRunner, []any{d.ID, runner},
		`INSERT INTO decisions (id, practice_id, runner_id, programme_id, rail, side, proposed, verdict, steps, word, from_prescription, to_prescription, inputs, fired, engine, house_version, coach_id, on_day, seen, rule)
		 VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, NULLIF($17, '')::uuid, $18, $19, $20) ON CONFLICT (id) DO NOTHING`,
		d.ID, tx.Practice, runner, d.Programme, d.Taken.Rail, d.Taken.Side, d.Proposed, d.Taken.Verdict, d.Taken.Steps, d.Word, d.Taken.From.ID, to.ID, d.Inputs, string(fired), core.EngineVersion, d.HouseVersion, d.Coach, d.On, d.Taken.Seen, d.Taken.Fired[0].Reason.Rule)
	if err != nil || !fresh || !moved {
		return fresh, err
	}
	return true, tx.AddPrescription(ctx, runner, d.Programme, to)
}

// Replay is a stored decision's inputs and outcome.
type Replay struct {
	Inputs  adjust.Input
	Verdict adjust.Verdict
	Fired   []adjust.Fired
	Engine  string
}

// Replay returns what a decision saw and concluded, so that it can be computed again.
func (tx *Tx) Replay(ctx context.Context, id string) (Replay, error) {
	var r Replay
	err := tx.QueryRow(ctx, `SELECT inputs, verdict, fired, engine FROM decisions WHERE id = $1`, id).Scan(&r.Inputs, &r.Verdict, &r.Fired, &r.Engine)
	if err != nil {
		return r, fmt.Errorf("reading the decision: %w", known(err))
	}
	return r, nil
}

// AddLink stores the hash of a new private link.
func (tx *Tx) AddLink(ctx context.Context, runner, id string, hash []byte, expires time.Time) error {
	_, err := tx.Exec(ctx, `INSERT INTO links (id, practice_id, runner_id, token_hash, expires_at) VALUES ($1, $2, $3, $4, $5)`, id, tx.Practice, runner, hash, expires)
	if err != nil {
		return fmt.Errorf("storing the link: %w", known(err))
	}
	return nil
}

// RevokeLink ends a private link at once.
func (tx *Tx) RevokeLink(ctx context.Context, runner, id string) error {
	tag, err := tx.Exec(ctx, `UPDATE links SET revoked_at = coalesce(revoked_at, now())`+ownRunner, id, runner)
	if err != nil {
		return fmt.Errorf("revoking the link: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("revoking the link: %w", ErrNotFound)
	}
	return nil
}

// Hold locks the runner until the transaction ends, so that two coaches deciding at once are taken
// one after the other.
func (tx *Tx) Hold(ctx context.Context, runner string) error {
	_, err := tx.Exec(ctx, `SELECT FROM runners WHERE id = $1 FOR UPDATE`, runner)
	if err != nil {
		return fmt.Errorf("holding the runner: %w", err)
	}
	return nil
}

// TrainedDays lists, for every runner, the days on which a session was logged.
func (tx *Tx) TrainedDays(ctx context.Context) (map[string][]body.Date, error) {
	rows, err := tx.Query(ctx, `SELECT runner_id::text, on_day::text FROM logs GROUP BY 1, 2`)
	if err != nil {
		return nil, fmt.Errorf("reading the training days: %w", err)
	}
	out := map[string][]body.Date{}
	var runner, on string
	if _, err := pgx.ForEachRow(rows, []any{&runner, &on}, func() error {
		out[runner] = append(out[runner], body.Date(on))
		return nil
	}); err != nil {
		return nil, fmt.Errorf("reading the training days: %w", err)
	}
	return out, nil
}
