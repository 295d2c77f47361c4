package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/load"
)

// AddRun stores a run. supersedes names the run it corrects, if any.
func (tx *Tx) AddRun(ctx context.Context, runner string, r load.Run, source, supersedes string) error {
	var old *string
	if supersedes != "" {
		old = &supersedes
		if err := tx.QueryRow(ctx, `SELECT id::text FROM runs WHERE id = $1 AND runner_id = $2`, supersedes, runner).Scan(old); err != nil {
			return fmt.Errorf("finding the run to correct: %w", known(err))
		}
	}
	return tx.addReport(ctx, "storing the run", "runs", runner, r.ID,
		numbered+`INSERT INTO runs (id, practice_id, runner_id, on_day, minutes, km, rpe, source, word, details, supersedes, report)
			SELECT $1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, n.reports FROM n ON CONFLICT (id) DO NOTHING`,
		r.ID, tx.Practice, runner, r.On, r.Minutes, r.Km, r.RPE, source, r.Word, r.Details, old)
}

// inForce says of a row of runs that it counts: it was not corrected, and did not go with its import.
const inForce = ` runs.gone_at IS NULL AND NOT EXISTS (SELECT FROM runs c WHERE c.supersedes = runs.id AND c.gone_at IS NULL)`

// RunsSince reads a runner's runs from a day on, the newest first, each with its source.
func (tx *Tx) RunsSince(ctx context.Context, runner, since string) ([]KeptRun, error) {
	rows, err := tx.Query(ctx, `SELECT id::text, on_day::text, minutes, km, rpe, word, report, details, source FROM runs
		WHERE runner_id = $1 AND on_day >= $2::date AND`+inForce+`
		ORDER BY on_day DESC, details ->> 'start' DESC NULLS LAST, report DESC`, runner,
		since)
	if err != nil {
		return nil, fmt.Errorf("reading the runs: %w", err)
	}
	out, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (x KeptRun, err error) {
		err = row.Scan(&x.ID, (*string)(&x.On), &x.Minutes, &x.Km, &x.RPE, &x.Word, &x.Seq, &x.Details, &x.Source)
		x.Run = x.Known()
		return x, err
	})
	if err != nil {
		return nil, fmt.Errorf("reading the runs: %w", err)
	}
	return out, nil
}

// KeptRun is a run with who told of it.
type KeptRun struct {
	load.Run
	Source string `json:"source" enum:"phone,coach,file"`
}

// Import is one import of run files.
type Import struct {
	ID    string    `json:"id"`
	State string    `json:"state" enum:"preview,confirmed,undone"`
	At    time.Time `json:"at"`
	Runs  int       `json:"runs" doc:"that came by it"`
}

// waits is how long a preview waits for its confirmation.
const waits = `interval '24 hours'`

// BeginImport makes an import, or finds it again. Previews of the practice that nobody confirmed within a day go.
func (tx *Tx) BeginImport(ctx context.Context, runner, id, coach string) error {
	if _, err := tx.Exec(ctx, `DELETE FROM run_imports WHERE state = 'preview' AND at < now() - `+waits); err != nil {
		return fmt.Errorf("putting old previews away: %w", err)
	}
	_, err := tx.insertOnce(ctx, "beginning the import", `SELECT FROM run_imports WHERE id = $1 AND runner_id = $2
		AND coach_id IS NOT DISTINCT FROM NULLIF($3, '')::uuid`, []any{id, runner, coach},
		`INSERT INTO run_imports (id, practice_id, runner_id, coach_id) VALUES ($1, $2, $3, NULLIF($4, '')::uuid)
		ON CONFLICT (id) DO NOTHING`, id, tx.Practice, runner, coach)
	return err
}

// ImportOf reads an import of a runner by the coach who began it; by the runner where coach is empty.
func (tx *Tx) ImportOf(ctx context.Context, runner, id, coach string) (i Import, err error) {
	err = tx.QueryRow(ctx, `SELECT id::text, state, at FROM run_imports WHERE id = $1 AND runner_id = $2
		AND coach_id IS NOT DISTINCT FROM NULLIF($3, '')::uuid`, id, runner, coach).Scan(&i.ID, &i.State, &i.At)
	if err != nil {
		return i, fmt.Errorf("reading the import: %w", known(err))
	}
	return i, nil
}

// KeepFound keeps what one file of a preview told, as JSON; sent again it is the same.
func (tx *Tx) KeepFound(ctx context.Context, id string, n int, found any) error {
	_, err := tx.Exec(ctx, `INSERT INTO run_import_files (practice_id, import_id, n, found) VALUES ($1, $2, $3, $4)
		ON CONFLICT (import_id, n) DO UPDATE SET found = excluded.found`, tx.Practice, id, n, found)
	if err != nil {
		return fmt.Errorf("keeping what the file tells: %w", known(err))
	}
	return nil
}

// Found is what one file of an import told, as JSON.
type Found struct {
	N    int
	Told json.RawMessage
}

// FoundIn reads what the files of an import told, in the order they were sent.
func (tx *Tx) FoundIn(ctx context.Context, id string) ([]Found, error) {
	rows, err := tx.Query(ctx, `SELECT n, found FROM run_import_files WHERE import_id = $1 ORDER BY n`, id)
	if err != nil {
		return nil, fmt.Errorf("reading the import: %w", err)
	}
	out, err := pgx.CollectRows(rows, pgx.RowToStructByPos[Found])
	if err != nil {
		return nil, fmt.Errorf("reading the import: %w", err)
	}
	return out, nil
}

// ConfirmImport stores the runs of a preview at once; what was found is forgotten.
func (tx *Tx) ConfirmImport(ctx context.Context, runner, id string, runs []load.Run) error {
	rows, err := json.Marshal(runs)
	if err != nil {
		return fmt.Errorf("storing the runs: %w", err)
	}
	details := make([]load.Details, len(runs))
	for i, r := range runs {
		details[i] = r.Details
	}
	for _, do := range []struct {
		sql  string
		args []any
	}{{`WITH n AS (UPDATE runners SET reports = reports + $4 WHERE id = $3 RETURNING reports - $4 AS before)
		INSERT INTO runs (id, practice_id, runner_id, on_day, minutes, km, rpe, source, word, import_id, details, report)
		SELECT (r.value ->> 'id')::uuid, $2, $3, (r.value ->> 'on')::date, (r.value ->> 'minutes')::float8, (r.value ->> 'km')::float8,
			(r.value ->> 'rpe')::int, 'file', '', $1, d.value, n.before + r.ordinality
		FROM n, jsonb_array_elements($5::jsonb) WITH ORDINALITY r
		JOIN jsonb_array_elements($6::jsonb) WITH ORDINALITY d ON d.ordinality = r.ordinality`,
		[]any{id, tx.Practice, runner, len(runs), rows, details}},
		{`UPDATE run_imports SET state = 'confirmed', confirmed_at = now() WHERE id = $1`, []any{id}},
		{`DELETE FROM run_import_files WHERE import_id = $1`, []any{id}}} {
		if _, err := tx.Exec(ctx, do.sql, do.args...); err != nil {
			return fmt.Errorf("storing the runs: %w", known(err))
		}
	}
	return nil
}

// KeepColumns remembers how a table of runs is read, by its heading.
func (tx *Tx) KeepColumns(ctx context.Context, heading string, columns map[string]string) error {
	_, err := tx.Exec(ctx, `INSERT INTO run_columns (practice_id, heading, columns) VALUES ($1, $2, $3)
		ON CONFLICT (practice_id, heading) DO UPDATE SET columns = excluded.columns, at = clock_timestamp()`, tx.Practice, heading, columns)
	if err != nil {
		return fmt.Errorf("remembering the columns: %w", err)
	}
	return nil
}

// Columns reads how tables of runs are read in this practice, by heading.
func (tx *Tx) Columns(ctx context.Context) (map[string]map[string]string, error) {
	rows, err := tx.Query(ctx, `SELECT heading, columns FROM run_columns ORDER BY at DESC LIMIT 500`)
	if err != nil {
		return nil, fmt.Errorf("reading the columns: %w", err)
	}
	out := map[string]map[string]string{}
	var heading string
	var columns map[string]string
	_, err = pgx.ForEachRow(rows, []any{&heading, &columns}, func() error {
		out[heading], columns = columns, nil
		return nil
	})
	if err != nil {
		return nil, fmt.Errorf("reading the columns: %w", err)
	}
	return out, nil
}

// CancelImport forgets a preview.
func (tx *Tx) CancelImport(ctx context.Context, id string) error {
	if _, err := tx.Exec(ctx, `DELETE FROM run_imports WHERE id = $1 AND state = 'preview'`, id); err != nil {
		return fmt.Errorf("cancelling the import: %w", err)
	}
	return nil
}

// UndoImport takes every run of a confirmed import out of force. It is a report like any other: what was decided on them is
// looked at again.
func (tx *Tx) UndoImport(ctx context.Context, runner, id string) error {
	for _, do := range []struct {
		sql  string
		args []any
	}{{`UPDATE runs SET gone_at = now() WHERE import_id = $1 AND gone_at IS NULL`, []any{id}},
		{`UPDATE run_imports SET state = 'undone', undone_at = now() WHERE id = $1`, []any{id}},
		{`UPDATE runners SET reports = reports + 1 WHERE id = $1`, []any{runner}}} {
		if _, err := tx.Exec(ctx, do.sql, do.args...); err != nil {
			return fmt.Errorf("undoing the import: %w", err)
		}
	}
	return nil
}

// Imports lists the imports of a runner that were confirmed, the newest first, at most 50.
func (tx *Tx) Imports(ctx context.Context, runner string) ([]Import, error) {
	rows, err := tx.Query(ctx, `SELECT i.id::text, i.state, coalesce(i.confirmed_at, i.at), (SELECT count(*) FROM runs WHERE import_id = i.id)
		FROM run_imports i WHERE i.runner_id = $1 AND i.state <> 'preview' ORDER BY i.at DESC LIMIT 50`, runner)
	if err != nil {
		return nil, fmt.Errorf("reading the imports: %w", err)
	}
	out, err := pgx.CollectRows(rows, pgx.RowToStructByPos[Import])
	if err != nil {
		return nil, fmt.Errorf("reading the imports: %w", err)
	}
	return out, nil
}
