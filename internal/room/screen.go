package room

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
	"notchback/internal/core/screen"
	"notchback/internal/core/stats"
	"notchback/internal/record"
	"notchback/internal/store"
)

// Trials gives, for every measure, side and context, the trials of the newest screen that holds a
// counting one. What was taken only to compare before and after a session stays out.
func (o Chart) Trials() []screen.Trial {
	if o.memo.trials == nil {
		o.memo.trials = newest(o.Visits())
	}
	return slices.Clone(o.memo.trials)
}

// findings are those of the newest trials, read once for a chart.
func (o Chart) findings() []screen.Finding {
	if o.memo.findings == nil {
		o.memo.findings = screen.Findings(o.Trials(), o.Profile, o.Today, o.House)
	}
	return slices.Clone(o.memo.findings)
}

// newest does it for visits, newest first.
func newest(visits []record.Screen) []screen.Trial {
	type attempt struct {
		measure, key string
		side         body.Side
	}
	last := map[attempt]string{} // screen
	byMeasure := map[string][]screen.Trial{}
	for _, s := range visits {
		for _, t := range s.Trials {
			if k := (attempt{t.Measure, t.Key(), t.Side}); t.Counts() && last[k] == "" {
				last[k] = s.ID
			}
		}
	}
	for _, s := range visits {
		for _, t := range s.Trials {
			if last[attempt{t.Measure, t.Key(), t.Side}] == s.ID {
				byMeasure[t.Measure] = append(byMeasure[t.Measure], t)
			}
		}
	}
	out := []screen.Trial{}
	for _, m := range screen.Measures {
		out = append(out, byMeasure[m.ID]...)
	}
	return out
}

// Visits are the runner's screens, newest first, without the quick tests of single sessions.
func (o Chart) Visits() []record.Screen {
	return slices.DeleteFunc(slices.Clone(o.Screens), func(s record.Screen) bool { return s.Kind == screen.Session })
}

// Circumstances are what limits a screen today. exceptScreen is the screen being taken.
func (o Chart) Circumstances(exceptScreen string) screen.Circumstances {
	c := screen.Circumstances{FirstVisit: true, Facts: o.Facts(), Cuts: o.Facts().Cuts(), Pain: o.usualPain()}
	for _, s := range o.Visits() {
		if s.Finished && s.ID != exceptScreen && s.Kind != screen.GaitScreen { // a clip is no visit to the foot
			c.FirstVisit = false
		}
	}
	return c
}

// usualPain is how much mornings usually hurt, at the worst place.
func (o Chart) usualPain() int {
	if o.memo.pain == nil {
		pain := 0
		for _, u := range build.UsualMornings(o.Profile, o.Mornings, o.Today) {
			pain = max(pain, int(u.Level+0.5))
		}
		o.memo.pain = &pain
	}
	return *o.memo.pain
}

// visits are the same, oldest first, as the core compares them.
func (o Chart) visits() []screen.Visit {
	out := []screen.Visit{}
	for _, s := range slices.Backward(o.Visits()) {
		out = append(out, screen.Visit{ID: s.ID, On: s.On, Trials: s.Trials})
	}
	return out
}

// Due lists what a retest owes today.
func (o Chart) Due() []screen.Due {
	last := map[string]body.Date{}
	for _, v := range o.visits() {
		for _, t := range v.Trials {
			if t.Counts() {
				last[t.Measure] = max(last[t.Measure], v.On)
			}
		}
	}
	return screen.DueOn(last, o.findings(), o.Today, o.House)
}

// RetestDue is since when measures are due after their interval, and how many; borderline ones, which
// are measured again sooner, do not count.
func (o Chart) RetestDue() (since body.Date, n int) {
	for _, d := range o.Due() {
		if d.Again {
			continue
		}
		if n++; since == "" || d.On < since {
			since = d.On
		}
	}
	return since, n
}

// CoreStations are the stations of the practice's core screen.
func CoreStations(h house.Rules) []string {
	if len(h.CoreStations) > 0 {
		return h.CoreStations
	}
	return screen.CoreStations
}

// Start is what a screen begins with.
type Start struct {
	Kind     string   `json:"kind" enum:"core,full,gait,retest,session"`
	Stations []string `json:"stations,omitempty" doc:"for a core screen: the coach's choice; empty: the practice's"`
}

// StartScreen begins a screen today. When two coaches start at once, both work on the first.
func (d *Desk) StartScreen(ctx context.Context, a Actor, runner, id string, in Start) error {
	return d.Change(ctx, a, runner, record.NeedFacts, func(tx *store.Tx, o Chart) error {
		for _, s := range o.Screens {
			if s.ID == id || (!s.Finished && s.On == o.Today) {
				return nil
			}
		}
		if a := o.Facts().May(permit.Ask{Demand: body.Demand{Trains: body.NoLeg, Bears: body.NoLeg}, Side: body.Both, Test: true}); !a.May() {
			return body.Refuse("screen", "%s; it opens with %s", a.Says(), a.Reasons[0].Opens)
		}
		if !o.SignsAsked() {
			return body.Refuse("signs", "ask the warning signs first: they are asked before every screen")
		}
		if !slices.Contains(screen.Kinds, in.Kind) {
			return body.Refuse("kind", "is core, full, retest or session")
		}
		stations := in.Stations
		if len(stations) == 0 {
			stations = CoreStations(o.House)
		}
		due := []string{}
		for _, x := range o.Due() {
			due = append(due, x.Measure)
		}
		measures := screen.Plan(in.Kind, stations, due)
		if len(measures) == 0 {
			return body.Refuse("kind", "nothing is due: choose a core or full screen")
		}
		return tx.AddScreen(ctx, runner, id, o.Today, in.Kind, measures)
	})
}

// AddTrial checks and stores a trial of a screen that is open, and answers with what it changed.
func (d *Desk) AddTrial(ctx context.Context, a Actor, runner, screenID string, t screen.Trial) (Taking, error) {
	return d.tried(ctx, a, runner, func(tx *store.Tx, o Chart) (Chart, error) {
		s, err := o.screen(screenID)
		if err != nil {
			return o, err
		}
		n := 0
		for _, x := range s.Trials {
			if x.ID == t.ID {
				return o, nil // repeated: the same write
			}
			if x.Measure == t.Measure && x.Side == t.Side && x.Key() == t.Key() && x.Moment == t.Moment {
				n++
			}
		}
		if s.Finished {
			return o, body.Refuse("screen", "is finished; start a new one and enter it there")
		}
		t.On = o.Today
		if t, err = screen.Enter(t, n, o.Profile); err != nil {
			return o, err
		}
		m, _ := screen.FindMeasure(t.Measure)
		if no, why := screen.Barred(m, t.Side, s.Trials, o.Circumstances(screenID), o.House); no && t.Skipped == "" {
			return o, body.Refuse("measure", "%s, %s: %s", m.Name, t.Side, why.Says)
		}
		if (s.Kind == screen.Session) != (t.Moment == "before" || t.Moment == "after") {
			return o, body.Refuse("moment", "before and after belong to a session's quick test, and it needs one of them")
		}
		if err := tx.AddTrial(ctx, runner, screenID, t, a.Coach); err != nil {
			return o, err
		}
		t.By, t.Faults, t.Parts = a.Name, append([]string{}, t.Faults...), append([]float64{}, t.Parts...)
		return o.withTrials(screenID, append(slices.Clone(s.Trials), t)), nil
	})
}

// RemoveTrial takes a trial out of the reading, or puts it back.
func (d *Desk) RemoveTrial(ctx context.Context, a Actor, runner, screenID, id string, out bool) (Taking, error) {
	return d.tried(ctx, a, runner, func(tx *store.Tx, o Chart) (Chart, error) {
		if _, err := o.screen(screenID); err != nil {
			return o, err
		}
		if err := tx.RemoveTrial(ctx, screenID, id, out); err != nil {
			return o, err
		}
		screens, err := tx.Screens(ctx, runner)
		return o.retested(screens), err
	})
}

// tried is a change of the trials of a screen. What trials do not change of the runner is read where it was computed
// before; the whole record is loaded only where it was not.
func (d *Desk) tried(ctx context.Context, a Actor, runner string, f func(*store.Tx, Chart) (Chart, error)) (v Taking, err error) {
	err = d.Store.ChangeTrial(ctx, a.Practice, runner, func(tx *store.Tx) error {
		was, screens, err := tx.Page(ctx, runner)
		if err != nil {
			return err
		}
		o, known, err := d.bare(was, screens)
		if err != nil {
			return err
		}
		if !known {
			if o, err = d.Load(ctx, tx, runner, record.NeedFacts); err != nil {
				return err
			}
		}
		if o, err = f(tx, o); err != nil {
			return err
		}
		v = o.taking()
		return nil
	})
	if err == nil {
		d.changed(a.Practice, runner)
	}
	return v, err
}

// bare is a chart of nothing but visits and the facts computed of all else, if those still hold: nothing but trials
// changed since.
func (d *Desk) bare(was store.Standing, screens []record.Screen) (o Chart, known bool, err error) {
	now := d.state(was.Timezone, was.Touched, was.Tested, was.Rules)
	from := was.From
	if from.Touched-from.Tested != now.Touched-now.Tested {
		return o, false, nil
	}
	if from.Touched, from.Tested = now.Touched, now.Tested; from != now {
		return o, false, nil
	}
	b, err := decode[Bearing](was.Page)
	if err != nil {
		return o, false, err
	}
	o = Chart{Today: now.On, House: b.Facts.House, memo: newMemo()}
	o.ID, o.Profile = was.Runner, b.Facts.Profile
	o.memo.pain, o.memo.facts = &b.Pain, &b.Facts
	return o.retested(screens), true, nil
}

// withTrials is the chart with other trials of a screen.
func (o Chart) withTrials(screenID string, trials []screen.Trial) Chart {
	screens := slices.Clone(o.Screens)
	for i := range screens {
		if screens[i].ID == screenID {
			screens[i].Trials = trials
		}
	}
	return o.retested(screens)
}

// retested is the chart with other screens: its facts are those it had, but for what tests show.
func (o Chart) retested(screens []record.Screen) Chart {
	facts, pain := o.Facts(), o.usualPain()
	o = o.withScreens(worth(screens))
	facts = build.Tested(facts, o.Trials(), o.flatter())
	o.memo.facts, o.memo.pain = &facts, &pain
	return o
}

func (o Chart) screen(id string) (record.Screen, error) {
	for _, s := range o.Screens {
		if s.ID == id {
			return s, nil
		}
	}
	return record.Screen{}, fmt.Errorf("finding the screen: %w", store.ErrNotFound)
}

// InScreen runs f when the screen is one of the runner's.
func (d *Desk) InScreen(ctx context.Context, a Actor, runner, screenID string, f func(*store.Tx) error) error {
	return d.Change(ctx, a, runner, record.NeedTests, func(tx *store.Tx, o Chart) error {
		if _, err := o.screen(screenID); err != nil {
			return err
		}
		return f(tx)
	})
}

// Shut is a measure and side that may not be taken now.
type Shut struct {
	Measure string      `json:"measure"`
	Side    body.Side   `json:"side"`
	Reason  body.Reason `json:"reason"`
}

// Past is an earlier screen in a line.
type Past struct {
	ID       string    `json:"id"`
	On       body.Date `json:"on"`
	Kind     string    `json:"kind" enum:"core,full,gait,retest,session"`
	Finished bool      `json:"finished"`
	Measures int       `json:"measures" doc:"taken"`
}

// Kind is a kind of screen with what it asks and how long it takes.
type Kind struct {
	ID       string   `json:"id" enum:"core,full,gait,retest,session"`
	Measures []string `json:"measures"`
	Minutes  int      `json:"minutes"`
	Most     int      `json:"most" doc:"minutes it should not exceed; 0 none"`
}

// Taking is what changes with every trial of the screen being taken.
type Taking struct {
	Current    *record.Screen    `json:"current,omitempty" doc:"the screen being taken"`
	Findings   []screen.Finding  `json:"findings" doc:"of the current screen"`
	Readings   []screen.Reading  `json:"readings"`
	Since      []screen.Compared `json:"since" doc:"the current values against the last ones; shown once entered"`
	Session    []screen.Compared `json:"session" doc:"after against before a session"`
	Contexts   []screen.Context  `json:"contexts" doc:"how they ran in earlier screens, to take it the same way"`
	Shut       []Shut            `json:"shut"`
	Ceiling    int               `json:"ceiling" doc:"heel raises stop here on purpose; 0 none"`
	CeilingWhy body.Reason       `json:"ceilingWhy"`
}

// Screening is the room where a screen is taken.
type Screening struct {
	Taking
	Today      body.Date      `json:"today"`
	SignsAsked bool           `json:"signsAsked"`
	Heels      []body.Side    `json:"heels" doc:"legs with a heel recorded as one place: the sole or the back?"`
	Cautions   []string       `json:"cautions" doc:"what limits this runner"`
	Kinds      []Kind         `json:"kinds"`
	Stations   []string       `json:"stations" doc:"of the practice's core screen"`
	Due        []screen.Due   `json:"due"`
	Past       []Past         `json:"past"`
	BigToeMm   float64        `json:"bigToeMm"`
	ToeAngles  []float64      `json:"toeAngles" doc:"degrees, of a stack of so many whole mm from 0 on"`
	LegMm      float64        `json:"legMm"`
	Stacks     []screen.Stack `json:"stacks" doc:"heights the plates can build, lowest first"`
}

// ScreenRoom is where a screen is taken.
var ScreenRoom = Room[Screening]{record.NeedFacts, always(Chart.Screening)}

// Screening assembles the room.
func (o Chart) Screening() Screening {
	v := Screening{Taking: o.taking(), Today: o.Today, SignsAsked: o.SignsAsked(), Heels: o.Profile.Heels(), Cautions: []string{},
		Stations: CoreStations(o.House), Due: o.Due(), Past: []Past{}, Kinds: []Kind{}, BigToeMm: o.Profile.BigToeMm, LegMm: o.Profile.LegMm,
		Stacks: screen.Stacks(plates(o)), ToeAngles: []float64{}}
	for mm := 0.0; mm < v.BigToeMm; mm++ {
		v.ToeAngles = append(v.ToeAngles, math.Round(stats.LiftAngle(mm, v.BigToeMm)))
	}
	due := []string{}
	for _, x := range v.Due {
		due = append(due, x.Measure)
	}
	for _, c := range o.Facts().InForce() {
		v.Cautions = append(v.Cautions, strings.TrimSuffix(c.Question, "?")+": "+c.Limits)
	}
	for _, k := range screen.Kinds {
		ms := screen.Plan(k, v.Stations, due)
		v.Kinds = append(v.Kinds, Kind{k, ms, screen.Minutes(ms), screen.Most(k, o.House)})
	}
	for _, s := range o.Screens {
		taken := []string{}
		for _, t := range s.Trials {
			if t.Counts() && !slices.Contains(taken, t.Measure) {
				taken = append(taken, t.Measure)
			}
		}
		v.Past = append(v.Past, Past{s.ID, s.On, s.Kind, s.Finished, len(taken)})
	}
	return v
}

// taking is what the trials so far make of the screen being taken. It asks for no more than the person, the tests and
// the circumstances.
func (o Chart) taking() Taking {
	v := Taking{Findings: []screen.Finding{}, Readings: []screen.Reading{}, Since: []screen.Compared{}, Session: []screen.Compared{},
		Contexts: []screen.Context{}, Shut: []Shut{}}
	for i, s := range o.Screens {
		for _, t := range s.Trials {
			if t.Context != nil && t.Skipped == "" && !slices.ContainsFunc(v.Contexts,
				func(c screen.Context) bool { return c.Key() == t.Context.Key() }) {
				v.Contexts = append(v.Contexts, *t.Context)
			}
		}
		if !s.Finished && v.Current == nil {
			v.Current = &o.Screens[i]
		}
	}
	now := ""
	if c := v.Current; c != nil {
		now = c.ID
		before := o.withScreens(slices.DeleteFunc(slices.Clone(o.Screens), func(s record.Screen) bool { return s.ID == c.ID }))
		trials := c.Trials
		if c.Kind == screen.Session {
			v.Session = o.session(*c)
			trials = moment(trials, "before")
			if after := moment(c.Trials, "after"); len(after) > 0 {
				trials = after
			}
		}
		v.Findings = screen.Findings(trials, o.Profile, o.Today, o.House)
		v.Since = since(v.Findings, before)
		circumstances := o.Circumstances(c.ID)
		for _, m := range screen.Measures {
			for _, side := range m.Sides() {
				if no, why := screen.Barred(m, side, c.Trials, circumstances, o.House); no {
					v.Shut = append(v.Shut, Shut{m.ID, side, why})
				}
				for _, key := range screen.Contexts(trials, m) {
					if r, ok := screen.Read(screen.In(trials, key), m.ID, side); ok {
						v.Readings = append(v.Readings, r)
					}
				}
			}
		}
	}
	v.Ceiling, v.CeilingWhy = screen.RaiseCeiling(o.Circumstances(now), o.House)
	return v
}

// plates are the coach's own, else the runner's.
func plates(o Chart) []float64 {
	if len(o.House.PlatesMm) > 0 {
		return o.House.PlatesMm
	}
	return o.Profile.Equipment.PlatesMm
}

func moment(trials []screen.Trial, m string) []screen.Trial {
	return slices.DeleteFunc(slices.Clone(trials), func(t screen.Trial) bool { return t.Moment != m })
}

// session compares after with before within one session.
func (o Chart) session(s record.Screen) []screen.Compared {
	out := []screen.Compared{}
	then := screen.Findings(moment(s.Trials, "before"), o.Profile, s.On, o.House)
	for _, f := range screen.Findings(moment(s.Trials, "after"), o.Profile, s.On, o.House) {
		for _, b := range then {
			if b.ID == f.ID && b.Side == f.Side && f.Limiter != "side_difference" {
				out = append(out, screen.Compare(f, b, s.On, o.House))
			}
		}
	}
	return out
}

// since compares findings with the newest earlier ones of the same measure, side and context.
func since(now []screen.Finding, before Chart) []screen.Compared {
	out := []screen.Compared{}
	visits := before.visits()
	for _, v := range slices.Backward(visits) {
		for _, then := range screen.Findings(v.Trials, before.Profile, v.On, before.House) {
			same := func(f screen.Finding) bool {
				return f.ID == then.ID && f.Side == then.Side && f.Context == then.Context
			}
			i := slices.IndexFunc(now, same)
			if i >= 0 && then.Limiter != "side_difference" && !slices.ContainsFunc(out, func(c screen.Compared) bool { return same(c.Finding) }) {
				out = append(out, screen.Compare(now[i], then, v.On, before.House))
			}
		}
	}
	return out
}
