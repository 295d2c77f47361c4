// Package crowd makes up a practice of any size with a long history, through the real core: what pages cost there is
// measured on it. Nobody in it exists.
package crowd

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core"
	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/gait"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/standin"
	"notchback/internal/store"
)

// What each runner has, spread over the weeks.
const (
	screens  = 6
	builds   = 5
	clips    = 20
	sessions = 4 // days a week
	runs     = 3 // a week
	rails    = 8
)

var zones = []string{"Atlantic/Faroe", "Pacific/Kiritimati", "America/Anchorage"}

// Make fills a practice with runners who have trained so many weeks up to now. The many rows of reports go in by COPY,
// as administrator; all else through the rooms.
func Make(ctx context.Context, s *store.Store, admin *pgx.Conn, a room.Actor, now time.Time, runners, weeks int) ([]string, error) {
	ids := make([]string, runners)
	for i := range ids {
		g := &life{s: s, a: a, now: now, weeks: weeks, r: rand.New(rand.NewPCG(uint64(i), 1)), nth: i}
		if err := g.live(ctx, admin); err != nil {
			return nil, fmt.Errorf("runner %d: %w", i, err)
		}
		ids[i] = g.id
	}
	_, err := admin.Exec(ctx, "ANALYZE")
	return ids, err
}

// life is one runner's, with the rows that go in at once.
type life struct {
	s     *store.Store
	a     room.Actor
	now   time.Time
	weeks int
	r     *rand.Rand
	nth   int
	id    string
	seq   int64

	logs, mornings, runs, decisions, prescriptions [][]any
}

func (g *life) profile() body.Profile {
	p := body.NewProfile()
	p.BirthDate, p.HeightCm, p.MassKg, p.LegMm, p.FootMm, p.BigToeMm = "1988-03-03", 172, 66, 870, 258, 60
	p.MinutesByDay = []int{20, 25, 20, 25, 20, 30, 20}
	p.Equipment = body.Equipment{DumbbellsKg: []float64{2, 4, 6, 8, 12}, StepCm: 18, PlatesMm: []float64{2, 5, 10, 20},
		Bands: []string{"light", "medium"}, RollersCm: []float64{}, SoftBall: true}
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 45, Quality: "quality"}, {Weekday: 3, Minutes: 40, Quality: "easy"},
		{Weekday: 6, Minutes: 80, Quality: "long"}}
	p.WeeklyMinutes, p.WeeklySessions = 165, 3
	p.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: 1, Worst: 3},
		{Region: body.Achilles, Side: body.Right, Baseline: 1, Worst: 3}}
	p.Shoes = []body.Shoe{{Name: "daily pair", MassG: 280, HeelMm: 30, ForefootMm: 24, Technologies: 1, Lengthwise: 1, Twisting: 1,
		WidthMm: 92}}
	return p.Normalise()
}

func (g *life) live(ctx context.Context, admin *pgx.Conn) error {
	g.id = store.NewID()
	zone := zones[g.nth%len(zones)]
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return err
	}
	begun := g.now.AddDate(0, 0, -7*g.weeks)
	err = g.s.In(ctx, g.a.Practice, func(tx *store.Tx) error {
		if err := tx.AddRunner(ctx, g.id, fmt.Sprintf("Runner %03d", g.nth+1), zone, g.profile(), g.a.Coach); err != nil {
			return err
		}
		for n := range screens {
			visit := func(n int) time.Time { return begun.AddDate(0, 0, 7*(g.weeks-4)*n/(screens-1)) } // the last four weeks ago
			day, next := visit(n), visit(n+1)
			if err := g.visit(ctx, tx, day, n, body.DateOf(day.In(loc)), body.DateOf(next.In(loc))); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	return g.copy(ctx, admin)
}

// visit is a screen with clips, the programme built from it, and what was trained until the next.
func (g *life) visit(ctx context.Context, tx *store.Tx, at time.Time, n int, on, until body.Date) error {
	desk := &room.Desk{Store: g.s, Now: func() time.Time { return at }}
	denied := []string{}
	for _, s := range refer.Signs {
		denied = append(denied, s.ID)
	}
	if err := tx.AddCheck(ctx, g.id, refer.Check{ID: store.NewID(), On: on, Source: "screen", Denied: denied}, g.a.Coach); err != nil {
		return err
	}
	screenID := store.NewID()
	measures := screen.Plan(screen.FullScreen, nil, nil)
	if err := tx.AddScreen(ctx, g.id, screenID, on, screen.FullScreen, measures); err != nil {
		return err
	}
	for _, id := range measures {
		m, _ := screen.FindMeasure(id)
		for _, side := range m.Sides() {
			if t, ok := g.trial(m, side, n); ok {
				t.On = on
				if err := tx.AddTrial(ctx, g.id, screenID, t, g.a.Coach); err != nil {
					return err
				}
			}
		}
	}
	if err := tx.FinishScreen(ctx, g.id, screenID); err != nil {
		return err
	}
	for k := n * clips / screens; k < (n+1)*clips/screens; k++ {
		c := standin.Films[k%len(standin.Films)].Marked()
		read, err := gait.Read(c, gait.Body{MassKg: 66, LegMm: 870, HeightCm: 172}, house.Rules{})
		if err != nil {
			return err
		}
		if _, err := tx.AddClip(ctx, g.id, screenID, store.NewID(), "", on, c, read.Figures, 0, g.a.Coach); err != nil {
			return err
		}
	}
	o, err := desk.Load(ctx, tx, g.id, record.NeedProposals)
	if err != nil {
		return err
	}
	if n != builds-1 { // all but one are built from, the last among them
		if err := o.BuildIn(ctx, tx, g.a, store.NewID(), build.Choices{}); err != nil {
			return err
		}
		if o, err = desk.Load(ctx, tx, g.id, record.NeedProposals); err != nil {
			return err
		}
	}
	g.train(o, on, until)
	return nil
}

// trial is one attempt at a measure: a little better with every visit.
func (g *life) trial(m screen.Measure, side body.Side, n int) (screen.Trial, bool) {
	value, known := usual[m.ID]
	if m.Kind == screen.Class || m.Kind == screen.Pain {
		known = true
	}
	if !known {
		return screen.Trial{}, false
	}
	t := screen.Trial{ID: store.NewID(), Measure: m.ID, Side: side, Value: value[0] + value[1]*float64(n)}
	if len(m.Stops) > 0 {
		t.Stop = "height"
	}
	if m.InContext {
		t.Context = &screen.Context{Pace: "easy", Shod: "shoes", Surface: "treadmill", SpeedKmh: 10}
	}
	if m.Kind == screen.Cadence {
		t.Parts = []float64{42}
	}
	out, err := screen.Enter(t, 0, g.profile())
	return out, err == nil
}

// usual are first values and what each visit adds.
var usual = map[string][2]float64{
	"ankle.knee_to_wall": {7, 0.5}, "toe.active_height": {18, 2}, "toe.passive_height": {34, 1}, "calf.raises_straight": {14, 2},
	"calf.raises_bent":  {14, 2},
	"balance.eyes_open": {24, 3}, "foot.short": {1, 0.3}, "toe.control": {1, 0.3}, "gait.cadence": {166, 1},
}

// train writes what was reported and decided from a day until another.
func (g *life) train(o room.Chart, from, until body.Date) {
	rows := o.Prescriptions
	kept := map[string]bool{}
	inForce := []catalog.Prescription{}
	for _, p := range rows {
		if len(kept) < rails || kept[p.Rail] {
			kept[p.Rail] = true
			inForce = append(inForce, p)
		}
	}
	last := body.DateOf(g.now)
	for on := from; on < until && on <= last; on = on.Add(1) {
		day := on.Sub(on.Monday())
		g.morning(on)
		if day == 1 || day == 3 || day == 6 {
			g.runs = append(g.runs, []any{store.NewID(), g.a.Practice, g.id, string(on), 40.0 + float64(g.r.IntN(30)), 8.0, 4, "phone", "",
				g.next()})
		}
		if day%2 == 0 && on < last { // sessions days a week
			for _, p := range inForce {
				g.log(p, on)
			}
		}
		if day == 5 && on.Sub(from)%28 >= 21 {
			for i := range inForce {
				g.decide(o, &inForce[i], on)
			}
		}
	}
}

func (g *life) next() int64 { g.seq++; return 1000 + g.seq }

func (g *life) morning(on body.Date) {
	for _, place := range []struct {
		region body.Region
		side   body.Side
	}{{body.HeelSole, body.Left}, {body.Achilles, body.Right}, {body.HeelSole, body.Right}, {body.Achilles, body.Left}} {
		g.mornings = append(g.mornings, []any{store.NewID(), g.a.Practice, g.id, string(on), string(place.region), string(place.side),
			g.r.IntN(2), 0, "phone", false, g.next()})
	}
}

func (g *life) log(p catalog.Prescription, on body.Date) {
	done := make([]int32, p.Dose.TotalSets())
	for i := range done {
		done[i] = int32(p.Dose.Amount())
	}
	g.logs = append(g.logs, []any{store.NewID(), g.a.Practice, g.id, string(on), p.ID, p, done, 6 + g.r.IntN(2), g.r.IntN(2), 0, []string{},
		"", "phone", p.Dose.Times(), g.next()})
}

// decide accepts a move to the next dose of the exercise, or a hold at its last.
func (g *life) decide(o room.Chart, p *catalog.Prescription, on body.Date) {
	rail, _ := o.Catalogue.Find(p.Rail)
	x, _ := rail.Exercise(p.Exercise)
	from, verdict := *p, adjust.Hold
	for i, d := range x.Ladder {
		if d.Kind == p.Dose.Kind && d.Amount() == p.Dose.Amount() && d.Sets == p.Dose.Sets && i+1 < len(x.Ladder) {
			verdict = adjust.Up
			p.Dose = p.Dose.WithAmount(x.Ladder[i+1].Amount())
			p.ID, p.From, p.Cause = store.NewID(), on, "up"
			g.prescriptions = append(g.prescriptions, []any{p.ID, g.a.Practice, g.id, o.Programme.ID, p.Rail, string(p.Side), p.Exercise, p.Dose,
				string(on), p.Cause, false})
			break
		}
	}
	fired := []adjust.Fired{{Verdict: verdict, Reason: o.House.Because("adjust.two-clean", "two clean sessions in a row")}}
	g.decisions = append(g.decisions, []any{store.NewID(), g.a.Practice, g.id, o.Programme.ID, p.Rail, string(p.Side), string(verdict),
		string(verdict), 1, "", from.ID, p.ID, fired, core.EngineVersion, 0, g.a.Coach, string(on), g.seq + 1000, "adjust.two-clean",
		"two clean sessions in a row"})
}

// copy puts the rows in.
func (g *life) copy(ctx context.Context, admin *pgx.Conn) error {
	for _, t := range []struct {
		table   string
		columns []string
		rows    [][]any
	}{
		{"prescriptions", []string{"id", "practice_id", "runner_id", "programme_id", "rail", "side", "exercise", "dose", "from_day", "cause",
			"parked"}, g.prescriptions},
		{"logs", []string{"id", "practice_id", "runner_id", "on_day", "prescription_id", "prescription", "done", "rpe", "pain", "cramp_at",
			"faults", "note", "source", "times", "report"}, g.logs},
		{"mornings", []string{"id", "practice_id", "runner_id", "on_day", "region", "side", "pain", "stiffness", "source", "quiet", "report"},
			g.mornings},
		{"runs", []string{"id", "practice_id", "runner_id", "on_day", "minutes", "km", "rpe", "source", "word", "report"}, g.runs},
		{"decisions", []string{"id", "practice_id", "runner_id", "programme_id", "rail", "side", "proposed", "verdict", "steps", "word",
			"from_prescription", "to_prescription", "fired", "engine", "house_version", "coach_id", "on_day", "seen", "rule", "why"}, g.decisions},
	} {
		for _, row := range t.rows {
			for i, c := range t.columns {
				if s, is := row[i].(string); is && (c == "on_day" || c == "from_day") {
					row[i], _ = time.Parse(time.DateOnly, s)
				}
			}
		}
		if _, err := admin.CopyFrom(ctx, pgx.Identifier{t.table}, t.columns, pgx.CopyFromRows(t.rows)); err != nil {
			return fmt.Errorf("copying the %s: %w", t.table, err)
		}
	}
	_, err := admin.Exec(ctx, `UPDATE runners SET reports = $2 WHERE id = $1`, g.id, g.seq+2000)
	return err
}
