package store

import (
	"context"
	"encoding/json"
	"fmt"

	"notchback/internal/core"
	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
)

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
		`INSERT INTO decisions (id, practice_id, runner_id, programme_id, rail, side, proposed, verdict, steps, word, from_prescription,
			to_prescription, inputs, fired, engine, house_version, coach_id, on_day, seen, rule, why)
		 VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, NULLIF($17, '')::uuid, $18, $19, $20, $21)
			ON CONFLICT (id) DO NOTHING`,
		d.ID, tx.Practice, runner, d.Programme, d.Taken.Rail, d.Taken.Side, d.Proposed, d.Taken.Verdict, d.Taken.Steps, d.Word, d.Taken.From.ID,
		to.ID, d.Inputs, string(fired), core.EngineVersion, d.HouseVersion, d.Coach, d.On, d.Taken.Seen, d.Taken.Fired[0].Reason.Rule,
		d.Taken.Fired[0].Reason.Says)
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
	err := tx.QueryRow(ctx, `SELECT inputs, verdict, fired, engine FROM decisions WHERE id = $1`, id).Scan(&r.Inputs, &r.Verdict, &r.Fired,
		&r.Engine)
	if err != nil {
		return r, fmt.Errorf("reading the decision: %w", known(err))
	}
	return r, nil
}
