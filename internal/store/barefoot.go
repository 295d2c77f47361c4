package store

import (
	"context"
	"slices"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core"
	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/record"
)

// mostGoes is how many goes on bare feet are looked at, the newest.
const mostGoes = 200

// queueBarefoot queues the plan as last written, what was decided of it since it was begun, and the newest goes.
func queueBarefoot(b *batch, runner string, p *record.Person) {
	var plans []struct{}
	all(b, "the barefoot plan", &plans, func(row pgx.CollectableRow, _ *struct{}) error {
		return row.Scan(&p.BarefootID, &p.Barefoot)
	}, `SELECT id::text, doc FROM barefoot_plans WHERE runner_id = $1 ORDER BY at DESC, id DESC LIMIT 1`, runner)
	all(b, "the barefoot moves", &p.BareMoves, func(row pgx.CollectableRow, x *barefoot.Move) error {
		var id, on, by string
		err := row.Scan(&id, &on, &by, x)
		x.ID, x.On, x.By = id, body.Date(on), by
		return err
	}, `SELECT m.id::text, m.on_day::text, k.name, m.doc FROM barefoot_moves m JOIN coaches k ON k.id = m.coach_id
		WHERE m.runner_id = $1 AND m.at >= (SELECT p.at FROM barefoot_plans p WHERE p.id = (SELECT (q.doc ->> 'begun')::uuid
			FROM barefoot_plans q WHERE q.runner_id = $1 ORDER BY q.at DESC, q.id DESC LIMIT 1)) ORDER BY m.at, m.id`, runner)
	b.Queue(`SELECT id::text, on_day::text, report, doc FROM barefoot_logs WHERE runner_id = $1 ORDER BY on_day DESC, report DESC LIMIT $2`,
		runner, mostGoes).Query(func(rows pgx.Rows) error {
		out, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (x barefoot.Log, err error) {
			var id, on string
			var seq int64
			err = row.Scan(&id, &on, &seq, &x)
			x.ID, x.On, x.Seq = id, body.Date(on), seq
			return x, err
		})
		slices.Reverse(out)
		p.BareLogs = out
		return err
	})
}

// AddBarefoot stores the transition planned; what was planned before is kept. Sent again it is the same.
func (tx *Tx) AddBarefoot(ctx context.Context, runner, id string, p barefoot.Plan, coach string) error {
	_, err := tx.insertOnce(ctx, "storing the barefoot plan", `SELECT FROM barefoot_plans WHERE id = $1 AND runner_id = $2`,
		[]any{id, runner}, `INSERT INTO barefoot_plans (id, practice_id, runner_id, coach_id, doc) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (id) DO NOTHING`, id, tx.Practice, runner, coach, p)
	return err
}

// AddBareMove stores a decision with all that it was judged from. Sent again it is the same.
func (tx *Tx) AddBareMove(ctx context.Context, runner string, m barefoot.Move, from barefoot.Records, coach string) error {
	_, err := tx.insertOnce(ctx, "storing the barefoot decision", `SELECT FROM barefoot_moves WHERE id = $1 AND runner_id = $2`,
		[]any{m.ID, runner}, `INSERT INTO barefoot_moves (id, practice_id, runner_id, coach_id, on_day, engine, doc, inputs)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8) ON CONFLICT (id) DO NOTHING`, m.ID, tx.Practice, runner, coach, m.On, core.EngineVersion, m, from)
	return err
}

// AddBareLog stores a go on bare feet.
func (tx *Tx) AddBareLog(ctx context.Context, runner string, l barefoot.Log, source string) error {
	return tx.addReport(ctx, "storing the go", "barefoot_logs", runner, l.ID,
		numbered+`INSERT INTO barefoot_logs (id, practice_id, runner_id, on_day, source, doc, report)
			SELECT $1, $2, $3, $4, $5, $6, n.reports FROM n ON CONFLICT (id) DO NOTHING`,
		l.ID, tx.Practice, runner, l.On, source, l)
}
