package store

import (
	"context"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/body"
	"notchback/internal/record"
)

// Explain prints how the database answers the queries of a record.
func (tx *Tx) Explain(ctx context.Context, runner string, since body.Date, need record.Need, w io.Writer) error {
	var b batch
	queueHouse(&b)
	r := queueWho(&b, runner, need)
	r.ID = runner
	r.queueParts(&b, since, need)
	queueClips(&b, runner)
	for _, q := range b.QueuedQueries {
		args := make([]string, len(q.Arguments))
		for i, a := range q.Arguments {
			args[i] = quote(fmt.Sprint(a))
		}
		run := "EXPLAIN (ANALYZE, COSTS OFF, TIMING ON) EXECUTE asked"
		if len(args) > 0 {
			run += "(" + strings.Join(args, ", ") + ")"
		}
		if _, err := tx.Exec(ctx, "DEALLOCATE ALL"); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, "PREPARE asked AS "+q.SQL, pgx.QueryExecModeSimpleProtocol); err != nil {
			return err
		}
		rows, err := tx.Query(ctx, run, pgx.QueryExecModeSimpleProtocol)
		if err != nil {
			return err
		}
		lines, err := pgx.CollectRows(rows, pgx.RowTo[string])
		if err != nil {
			return err
		}
		const times = 50
		begun := time.Now()
		for range times {
			rows, err := tx.Query(ctx, q.SQL, q.Arguments...)
			if err != nil {
				return err
			}
			for rows.Next() {
			}
			rows.Close()
		}
		fmt.Fprintf(w, "\n%s\n%s\nprepared: %s\n", q.SQL, strings.Join(lines, "\n"), time.Since(begun)/times)
	}
	return nil
}
