package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

// Chart is everything known of one runner that the rooms work from. Histories reach back to the day
// the chart was asked from.
type Chart struct {
	ID            string
	Name          string
	Timezone      string
	Profile       body.Profile
	Version       int
	Archived      bool
	Stops         []refer.Stop
	Screens       []Screen // newest first
	Programme     *Programme
	Prescriptions []catalog.Prescription // current one of each rail and side
	Rested        []catalog.Prescription // last one of each rail that the programme in force leaves out
	Usual         []build.Usual
	Weeks         []Moved // the week as it was moved since it was built, newest first
	Days          []TrainingDay
	Logs          []adjust.Log
	Mornings      []build.Morning
	Runs          []load.Run
	Decisions     []Decision // oldest first, across programmes; of the holds that needed no coach the newest of each rail and side
	Links         []Link
	Checks        []refer.Check // newest first, the last few
	Limits        []refer.Limit // recorded for cautions and patterns, oldest first
	Created       body.Date
	FeelingFrom   body.Date // day from which the practice has to know the feeling of a sole
	Forms         []Form    // filled in by the runner and not taken over yet, newest first
}

// Form is an intake the runner filled in through the private link.
type Form struct {
	ID      string       `json:"id"`
	On      body.Date    `json:"on"`
	Profile body.Profile `json:"profile"`
}

// Screen is one visit's tests.
type Screen struct {
	ID       string         `json:"id"`
	On       body.Date      `json:"on"`
	Finished bool           `json:"finished"`
	Kind     string         `json:"kind" enum:"core,full,gait,retest,session"`
	Measures []string       `json:"measures" doc:"what it asks for, in running order"`
	Trials   []screen.Trial `json:"trials"`
}

// Programme is a built programme as it was stored.
type Programme struct {
	ID   string          `json:"id"`
	On   body.Date       `json:"on"`
	Plan build.Programme `json:"plan"`
}

// TrainingDay is one rail on one dated day.
type TrainingDay struct {
	On   body.Date    `json:"on"`
	Rail string       `json:"rail"`
	Slot catalog.Slot `json:"slot"`
}

// Moved is a week as the coach moved it.
type Moved struct {
	ID   string     `json:"id"`
	Week build.Week `json:"week"`
}

// Decision is one decision that was taken on a rail and side.
type Decision struct {
	ID       string         `json:"id"`
	On       body.Date      `json:"on"`
	Rail     string         `json:"rail"`
	Side     body.Side      `json:"side"`
	Proposed adjust.Verdict `json:"proposed"`
	Verdict  adjust.Verdict `json:"verdict"`
	Steps    int            `json:"steps"`
	Word     string         `json:"word"`
	Coach    string         `json:"coach" doc:"empty for a hold that needed none"`
	From     string         `json:"from" doc:"id of the prescription before"`
	To       string         `json:"to" doc:"id of the prescription after"`
	Seen     int64          `json:"seen" doc:"newest report it saw"`
	Rule     string         `json:"rule" doc:"that decided"`
	Why      string         `json:"why" doc:"its reason as it was stored then; empty where none was kept"`

	Also       []string  `json:"-"` // rails that the list became which it was taken on
	ToExercise string    `json:"toExercise"`
	ToDose     body.Dose `json:"toDose"`
}

// Link is a runner's private link; its token is never stored.
type Link struct {
	ID      string `json:"id"`
	Created string `json:"created"`
	Expires string `json:"expires"`
	Live    bool   `json:"live"`
}

const chartSQL = `
SELECT r.id, r.name, r.timezone, r.profile, r.version, r.archived_at IS NOT NULL AS archived, (r.created_at AT TIME ZONE r.timezone)::date::text AS created, (SELECT c.feeling_from::text FROM practices c WHERE c.id = r.practice_id) AS feeling_from,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', s.id, 'sign', s.sign, 'region', s.region, 'side', s.side, 'on', s.on_day, 'source', s.source, 'which', s.which, 'seq', s.report, 'recorded', (s.at AT TIME ZONE r.timezone)::date,
    'clearances', (SELECT coalesce(jsonb_agg(jsonb_build_object('id', c.id, 'kind', c.kind, 'who', c.who, 'on', c.on_day, 'limits', c.limits, 'opens', c.opens, 'at', c.at) ORDER BY c.at), '[]') FROM clearances c WHERE c.stop_id = s.id)) ORDER BY s.at), '[]')
  FROM stops s WHERE s.runner_id = r.id) AS stops,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', s.id, 'on', s.on_day, 'finished', s.finished_at IS NOT NULL, 'kind', s.kind, 'measures', s.measures,
    'trials', (SELECT coalesce(jsonb_agg(jsonb_build_object('id', t.id, 'measure', t.measure, 'side', t.side, 'value', t.value, 'faults', t.faults, 'stop', t.stop, 'skipped', t.skipped, 'on', t.on_day, 'parts', t.parts, 'context', t.context, 'where', t.place, 'moment', t.moment, 'se', t.se, 'clip', coalesce(t.clip_id::text, ''), 'by', k.name) ORDER BY t.at), '[]') FROM trials t LEFT JOIN coaches k ON k.id = t.coach_id WHERE t.screen_id = s.id AND t.removed_at IS NULL)) ORDER BY s.on_day DESC, s.at DESC), '[]')
  FROM screens s WHERE s.runner_id = r.id) AS screens,
 p.programme,
 (SELECT coalesce(jsonb_agg(x.j ORDER BY x.rail, x.side), '[]') FROM (SELECT DISTINCT ON (rail, side) rail, side,
    jsonb_build_object('id', id, 'rail', rail, 'side', side, 'exercise', exercise, 'dose', dose, 'from', from_day, 'cause', cause, 'parked', parked, 'set', at) AS j
    FROM prescriptions q WHERE q.programme_id = p.id ORDER BY rail, side, seq DESC) x) AS prescriptions,
 (SELECT coalesce(jsonb_agg(x.j ORDER BY x.rail, x.side), '[]') FROM (SELECT DISTINCT ON (rail, side) rail, side,
    jsonb_build_object('id', id, 'rail', rail, 'side', side, 'exercise', exercise, 'dose', dose, 'from', from_day, 'cause', cause, 'parked', parked, 'set', at) AS j
    FROM prescriptions q WHERE q.programme_id IN (SELECT g.id FROM programmes g WHERE g.runner_id = r.id) AND q.rail NOT IN (SELECT rail FROM prescriptions WHERE programme_id = p.id)
    ORDER BY rail, side, seq DESC) x) AS rested,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('region', region, 'side', side, 'level', level, 'reason', reason, 'on', (at AT TIME ZONE r.timezone)::date, 'raised', raised) ORDER BY seq), '[]')
    FROM usual_mornings u WHERE u.runner_id = r.id) AS usual,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'week', week) ORDER BY seq DESC), '[]') FROM weeks w WHERE w.programme_id = p.id) AS weeks,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('on', on_day, 'rail', rail, 'slot', slot) ORDER BY on_day, rail), '[]') FROM training_days d WHERE d.programme_id = p.id
    AND d.week_seq = coalesce((SELECT max(w.seq) FROM weeks w WHERE w.programme_id = p.id AND w.from_day <= d.on_day), 0)) AS days,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'on', on_day, 'prescription', prescription, 'done', done, 'rpe', rpe, 'pain', pain, 'crampAt', cramp_at, 'faults', faults, 'note', note, 'source', source, 'times', times, 'seq', report, 'supersedes', coalesce(supersedes::text, '')) ORDER BY on_day, report), '[]')
    FROM logs l WHERE l.runner_id = r.id AND l.on_day >= $2::date) AS logs,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'on', on_day, 'region', region, 'side', side, 'pain', pain, 'stiffness', stiffness, 'quiet', quiet, 'seq', report) ORDER BY on_day, report), '[]')
    FROM mornings m WHERE m.runner_id = r.id AND m.on_day >= $2::date) AS mornings,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'on', on_day, 'minutes', minutes, 'km', km, 'rpe', rpe, 'word', word, 'seq', report) ORDER BY on_day, report), '[]') FROM runs n WHERE n.runner_id = r.id AND n.on_day >= $2::date) AS runs,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', d.id, 'on', d.on_day, 'rail', d.rail, 'side', d.side, 'proposed', d.proposed, 'verdict', d.verdict, 'steps', d.steps, 'word', d.word, 'coach', coalesce(c.name, ''), 'from', d.from_prescription, 'to', d.to_prescription, 'toExercise', q.exercise, 'toDose', q.dose, 'seen', d.seen, 'rule', d.rule, 'why', coalesce(d.fired -> 0 -> 'reason' ->> 'says', '')) ORDER BY d.seq), '[]')
    FROM (SELECT x.*, row_number() OVER (PARTITION BY rail, side, coach_id IS NULL ORDER BY seq DESC) AS nth FROM decisions x WHERE x.runner_id = r.id) d
    LEFT JOIN coaches c ON c.id = d.coach_id JOIN prescriptions q ON q.id = d.to_prescription WHERE d.coach_id IS NOT NULL OR d.nth = 1) AS decisions,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'for', for_id, 'side', side, 'kind', kind, 'who', who, 'on', on_day, 'opens', opens, 'words', words) ORDER BY at), '[]') FROM limits l WHERE l.runner_id = r.id) AS limits,
 (SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'created', created_at, 'expires', expires_at, 'live', revoked_at IS NULL AND expires_at > now()) ORDER BY created_at DESC), '[]') FROM links k WHERE k.runner_id = r.id) AS links,
 (SELECT coalesce(jsonb_agg(x.j), '[]') FROM (SELECT jsonb_build_object('id', c.id, 'on', c.on_day, 'source', c.source, 'denied', c.denied, 'by', coalesce(k.name, ''), 'seq', c.report) AS j
    FROM sign_checks c LEFT JOIN coaches k ON k.id = c.coach_id WHERE c.runner_id = r.id ORDER BY c.on_day DESC, c.at DESC LIMIT 5) x) AS checks,
 (SELECT coalesce(jsonb_agg(x.j), '[]') FROM (SELECT jsonb_build_object('id', id, 'on', on_day, 'profile', profile) AS j
    FROM intake_forms f WHERE f.runner_id = r.id AND f.taken_at IS NULL ORDER BY f.at DESC LIMIT 3) x) AS forms
FROM runners r
LEFT JOIN LATERAL (SELECT id, jsonb_build_object('id', id, 'on', on_day, 'plan', plan) AS programme FROM programmes g WHERE g.runner_id = r.id ORDER BY seq DESC LIMIT 1) p ON true
WHERE `

// Chart loads one runner; histories from the given day on.
func (tx *Tx) Chart(ctx context.Context, runner string, since body.Date) (Chart, error) {
	rows, err := tx.Query(ctx, chartSQL+`r.id = $1`, runner, since)
	if err != nil {
		return Chart{}, fmt.Errorf("reading the runner: %w", err)
	}
	c, err := pgx.CollectExactlyOneRow(rows, pgx.RowToStructByName[Chart])
	if err != nil {
		return Chart{}, fmt.Errorf("reading the runner: %w", known(err))
	}
	return c, nil
}

// Charts loads every runner of the practice, by name; archived ones only when asked.
func (tx *Tx) Charts(ctx context.Context, archived bool, since body.Date) ([]Chart, error) {
	rows, err := tx.Query(ctx, chartSQL+`(r.archived_at IS NOT NULL) = $1 ORDER BY lower(r.name)`, archived, since)
	if err != nil {
		return nil, fmt.Errorf("reading the runners: %w", err)
	}
	cs, err := pgx.CollectRows(rows, pgx.RowToStructByName[Chart])
	if err != nil {
		return nil, fmt.Errorf("reading the runners: %w", err)
	}
	return cs, nil
}
