package store

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/house"
)

// approachKey and coreKey mark the changes that are a choice, not a figure.
const (
	approachKey = "approach."
	coreKey     = "core.stations"
	platesKey   = "plates.mm"
)

// House is what holds for every runner of a practice: its house rules and its own rails, those taken back included.
type House struct {
	Rules house.Rules
	Rails []OwnRail
}

// State names the rules and rails in force; it changes with every change of them.
func (h House) State() string {
	n := 0
	for _, r := range h.Rails {
		n += r.Version
	}
	return fmt.Sprintf("%d.%d", h.Rules.Version, n)
}

// houseState is State as the database counts it, where neither rules nor rails are read.
const houseState = `(SELECT count(*) FROM house_changes) || '.' || (SELECT coalesce(sum(v),
	0) FROM (SELECT max(version) AS v FROM own_rails GROUP BY rail_id) x)`

// House loads it in one batch.
func (tx *Tx) House(ctx context.Context) (House, error) {
	var b batch
	h := queueHouse(&b)
	err := tx.run(ctx, &b)
	return *h, err
}

func queueHouse(b *batch) *House {
	h := &House{Rules: house.Rules{Changed: map[string]float64{}, Approaches: map[string]string{}}}
	var changes []houseRow
	all(b, "the house rules", &changes, func(row pgx.CollectableRow, x *houseRow) error {
		if err := row.Scan(&x.key, &x.value, &x.choice); err != nil {
			return err
		}
		x.apply(&h.Rules)
		return nil
	}, `SELECT key, value, choice FROM house_changes ORDER BY seq`)
	queueOwnRails(b, &h.Rails)
	return h
}

// houseRow is one change as it is stored: the later holds.
type houseRow struct {
	key    string
	value  *float64
	choice *string
}

func (x houseRow) apply(h *house.Rules) {
	h.Version++
	choice := ""
	if x.choice != nil {
		choice = *x.choice
	}
	question, approach := strings.CutPrefix(x.key, approachKey)
	switch {
	case approach && choice == "":
		delete(h.Approaches, question)
	case approach:
		h.Approaches[question] = choice
	case x.key == coreKey:
		h.CoreStations = strings.Fields(choice)
	case x.key == platesKey:
		h.PlatesMm = nil
		for _, mm := range strings.Fields(choice) {
			if v, err := strconv.ParseFloat(mm, 64); err == nil {
				h.PlatesMm = append(h.PlatesMm, v)
			}
		}
	case x.value == nil:
		delete(h.Changed, x.key)
	default:
		if _, exists := house.Find(x.key); exists {
			h.Changed[x.key] = *x.value
		}
	}
}

// HoldHouse keeps anybody else from changing the practice's rules until this ends.
func (tx *Tx) HoldHouse(ctx context.Context) error {
	if _, err := tx.Exec(ctx, `SELECT pg_advisory_xact_lock(hashtextextended('house ' || $1, 0))`, tx.Practice); err != nil {
		return fmt.Errorf("holding the house rules: %w", err)
	}
	return nil
}

// ChangeApproach sets the practice's own answer to a question; empty goes back to the default.
func (tx *Tx) ChangeApproach(ctx context.Context, question, choice, coach string) error {
	return tx.choose(ctx, approachKey+question, choice, coach)
}

// ChangeCore sets the stations of the practice's core screen; none goes back to the default.
func (tx *Tx) ChangeCore(ctx context.Context, stations []string, coach string) error {
	return tx.choose(ctx, coreKey, strings.Join(stations, " "), coach)
}

// ChangePlates sets the thicknesses the coach owns, mm; none goes back to the runner's own.
func (tx *Tx) ChangePlates(ctx context.Context, plates []float64, coach string) error {
	words := make([]string, len(plates))
	for i, mm := range plates {
		words[i] = strconv.FormatFloat(mm, 'g', -1, 64)
	}
	return tx.choose(ctx, platesKey, strings.Join(words, " "), coach)
}

func (tx *Tx) choose(ctx context.Context, key, choice, coach string) error {
	_, err := tx.Exec(ctx, `INSERT INTO house_changes (practice_id, key, choice, coach_id) VALUES ($1, $2, NULLIF($3, ''), $4)`, tx.Practice,
		key, choice, coach)
	if err != nil {
		return fmt.Errorf("changing %s: %w", key, err)
	}
	return nil
}

// HouseChange is one change of a house rule or a choice, as it was made.
type HouseChange struct {
	Key    string   `json:"key"`
	Value  *float64 `json:"value,omitempty" doc:"absent: back to the default, or a choice"`
	Choice string   `json:"choice,omitempty"`
	Coach  string   `json:"coach"`
	At     string   `json:"at"`
}

// HouseHistory lists the changes, newest first.
func (tx *Tx) HouseHistory(ctx context.Context) ([]HouseChange, error) {
	rows, err := tx.Query(ctx, `SELECT h.key, h.value, coalesce(h.choice, '') AS choice, coalesce(c.name, '') AS coach,
		to_char(h.at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS at
		FROM house_changes h LEFT JOIN coaches c ON c.id = h.coach_id ORDER BY h.seq DESC LIMIT 500`)
	if err != nil {
		return nil, fmt.Errorf("reading the changes: %w", err)
	}
	out, err := pgx.CollectRows(rows, pgx.RowToStructByName[HouseChange])
	if err != nil {
		return nil, fmt.Errorf("reading the changes: %w", err)
	}
	if out == nil {
		out = []HouseChange{}
	}
	return out, nil
}

// ChangeRule changes a house rule; a nil value goes back to the default.
func (tx *Tx) ChangeRule(ctx context.Context, key string, value *float64, coach string) error {
	_, err := tx.Exec(ctx, `INSERT INTO house_changes (practice_id, key, value, coach_id) VALUES ($1, $2, $3, $4)`, tx.Practice, key, value,
		coach)
	if err != nil {
		return fmt.Errorf("changing the house rule: %w", err)
	}
	return nil
}
