package store

import (
	"context"
	"fmt"

	"notchback/internal/core"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/record"
)

// AddProgramme stores a programme with what it was built from, its first prescriptions, its dated
// days and the usual mornings it is judged by.
func (tx *Tx) AddProgramme(ctx context.Context, runner, id string, p build.Programme, inputs any, houseVersion int,
	days []record.TrainingDay, prescriptions []catalog.Prescription, coach string) error {
	fresh, err := tx.insertOnce(ctx, "storing the programme", `SELECT FROM programmes`+ownRunner, []any{id, runner},
		`INSERT INTO programmes (id, practice_id, runner_id, on_day, plan, inputs, engine, house_version, coach_id) VALUES ($1, $2, $3, $4, $5,
			$6, $7, $8, $9) ON CONFLICT (id) DO NOTHING`,
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

func (tx *Tx) addDays(ctx context.Context, runner, programme string, seq int64, days []record.TrainingDay) error {
	on, rails, slots := make([]string, 0, len(days)), make([]string, 0, len(days)), make([]string, 0, len(days))
	for _, d := range days {
		on, rails, slots = append(on, string(d.On)), append(rails, d.Rail), append(slots, string(d.Slot))
	}
	_, err := tx.Exec(ctx, `INSERT INTO training_days (practice_id, runner_id, programme_id, week_seq, on_day, rail, slot)
		SELECT $1, $2, $3, $4, d.on_day, d.rail, d.slot FROM unnest($5::text[]::date[], $6::text[], $7::text[]) AS d (on_day, rail, slot)`,
		tx.Practice, runner, programme, seq, on, rails, slots)
	if err != nil {
		return fmt.Errorf("storing the training days: %w", err)
	}
	return nil
}

// AddWeek stores the week as the coach moved it; its days stand in place of the earlier ones from the
// given day on. Repeating it is the same write.
func (tx *Tx) AddWeek(ctx context.Context, runner, programme, id string, from body.Date, w build.Week, days []record.TrainingDay,
	coach string) error {
	fresh, err := tx.insertOnce(ctx, "storing the week", `SELECT FROM weeks`+ownRunner, []any{id, runner},
		`INSERT INTO weeks (id, practice_id, runner_id, programme_id, from_day, week, coach_id) VALUES ($1, $2, $3, $4, $5, $6, $7)
			ON CONFLICT (id) DO NOTHING`,
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
	_, err := tx.Exec(ctx, `INSERT INTO prescriptions (id, practice_id, runner_id, programme_id, rail, side, exercise, dose, from_day, cause,
		parked) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
		p.ID, tx.Practice, runner, programme, p.Rail, p.Side, p.Exercise, p.Dose, p.From, p.Cause, p.Parked)
	if err != nil {
		return fmt.Errorf("storing the prescription: %w", err)
	}
	return nil
}

// Prescription finds one prescription of a runner, current or past.
func (tx *Tx) Prescription(ctx context.Context, runner, id string) (catalog.Prescription, error) {
	var p catalog.Prescription
	err := tx.QueryRow(ctx, `SELECT id, rail, side, exercise, dose, from_day::text, cause, parked, at FROM prescriptions`+ownRunner, id,
		runner).
		Scan(&p.ID, &p.Rail, &p.Side, &p.Exercise, &p.Dose, (*string)(&p.From), &p.Cause, &p.Parked, &p.Set)
	if err != nil {
		return p, fmt.Errorf("finding the prescription: %w", known(err))
	}
	return p, nil
}

// AddUsual sets the level mornings are measured against from now on.
func (tx *Tx) AddUsual(ctx context.Context, runner, programme string, u build.Usual) error {
	_, err := tx.Exec(ctx, `INSERT INTO usual_mornings (practice_id, runner_id, programme_id, region, side, level, reason, raised)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		tx.Practice, runner, programme, u.Region, u.Side, u.Level, u.Reason, u.Raised)
	if err != nil {
		return fmt.Errorf("storing the usual morning: %w", err)
	}
	return nil
}
