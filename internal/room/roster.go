package room

import (
	"context"
	"strings"

	"notchback/internal/core/body"
)

// RosterRow is a runner in the list.
type RosterRow struct {
	ID       string    `json:"id"`
	Name     string    `json:"name"`
	Age      int       `json:"age"`
	Phase    string    `json:"phase" doc:"its name; empty without a programme"`
	Screened body.Date `json:"screened"`
	Archived bool      `json:"archived"`
	Locked   bool      `json:"locked"`
	Pending  bool      `json:"pending" doc:"being computed: the rest of the row is not known yet"`
	Broken   bool      `json:"broken" doc:"could not be computed: the rest of the row is not known"`

	Strip []MiniWeek `json:"strip" doc:"the last twelve weeks, the oldest first"`
}

// Roster lists the runners whose names hold a word.
func (d *Desk) Roster(ctx context.Context, a Actor, word string, archived bool) ([]RosterRow, error) {
	all, err := d.standings(ctx, a, archived)
	if err != nil {
		return nil, err
	}
	rows := []RosterRow{}
	word = strings.ToLower(strings.TrimSpace(word))
	for _, s := range all {
		if !strings.Contains(strings.ToLower(s.Name), word) {
			continue
		}
		row := RosterRow{ID: s.Runner, Name: s.Name, Archived: archived, Pending: s.now == nil && !s.failed,
			Broken: s.now == nil && s.failed}
		if row.Strip = []MiniWeek{}; s.now != nil {
			n := s.now
			row.Strip = append(row.Strip, n.Strip...)
			row.Age, row.Phase, row.Screened, row.Locked = n.Age, n.Phase.Name(), n.Screened, n.Locked
		}
		rows = append(rows, row)
	}
	return rows, nil
}
