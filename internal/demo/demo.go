// Package demo loads the made-up club: made-up raw inputs, every finding, dose and decision from the
// real core, so that the demo always agrees with the rules. Dates are relative to the day it is
// loaded.
package demo

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image/jpeg"
	"math"
	"time"

	"notchback/internal/account"
	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/gait"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/standin"
	"notchback/internal/store"
)

// Load loads the club unless it is there already.
func Load(ctx context.Context, desk *room.Desk) (bool, error) {
	if _, err := desk.Store.Account(ctx, Email); err == nil {
		return false, nil
	} else if !errors.Is(err, store.ErrNotFound) {
		return false, err
	}
	id, maren, err := desk.Store.CreatePractice(ctx, practice, coach, Email)
	if err != nil {
		return false, err
	}
	a := room.Actor{Practice: id, Coach: maren}
	loc, err := time.LoadLocation(zone)
	if err != nil {
		return false, fmt.Errorf("time zone %s: %w", zone, err)
	}
	now := desk.Now().In(loc)
	errs := make(chan error, len(members))
	for _, m := range members {
		go func() {
			err := desk.Store.In(ctx, id, func(tx *store.Tx) error { return m.live(ctx, tx, desk.Store, a, now) })
			if err != nil {
				err = fmt.Errorf("%s: %w", m.name, err)
			}
			errs <- err
		}()
	}
	for range members {
		err = errors.Join(err, <-errs)
	}
	if err != nil {
		return false, err
	}
	// The sign-in comes last: it marks a club that loaded whole.
	return true, desk.Store.In(ctx, id, func(tx *store.Tx) error {
		if _, err := tx.AddCoach(ctx, second, "joss@tidegate.example"); err != nil {
			return err
		}
		_, err := tx.SetPassword(ctx, maren, account.Hash(Password))
		return err
	})
}

func (m member) profile() body.Profile {
	p := body.NewProfile()
	p.BirthDate, p.HeightCm, p.MassKg, p.LegMm, p.FootMm, p.BigToeMm = m.born, 174, 68, 880, 262, 60
	p.MinutesByDay = []int{20, 15, 20, 15, 20, 20, 15}
	p.Equipment = body.Equipment{DumbbellsKg: []float64{2, 4, 6, 8}, StepCm: 18, PlatesMm: []float64{2, 5, 10, 20}, Strap: true, Roll: true,
		Bands: []string{"light", "medium"}, RollersCm: []float64{}, SoftBall: true}
	p.FootWidthMm, p.WeeklySessions, p.SittingHours, p.StandingHours = 98, 3, 7, 3
	p.Surfaces = []string{"road", "sand"}
	p.Shoes = []body.Shoe{{Name: "daily pair", MassG: 285, HeelMm: 32, ForefootMm: 24, Technologies: 1, Lengthwise: 1, Twisting: 1,
		WidthMm: 92, Km: 430, Worn: "outer heel"}}
	m.set(&p)
	return p.Normalise()
}

// live plays the runner's months day by day.
func (m member) live(ctx context.Context, tx *store.Tx, s *store.Store, a room.Actor, now time.Time) error {
	start := m.start
	if start == 0 {
		start = 112
	}
	l := &life{member: m, tx: tx, actor: a, runner: store.NewID(), start: start, day: now}
	l.desk = &room.Desk{Store: s, Now: func() time.Time { return l.day }}
	if err := l.come(ctx, now); err != nil || m.unscreen {
		return err
	}
	if err := m.firstLook(ctx, tx, a, l.runner, body.DateOf(now.AddDate(0, 0, -start-2)), len(m.name)); err != nil {
		return err
	}
	for ago := start; ago >= 0; ago-- {
		l.day = now.AddDate(0, 0, -ago)
		if err := l.spend(ctx, ago); err != nil {
			return err
		}
	}
	yesterday := body.DateOf(now).Add(-1)
	if m.quick != nil {
		if err := m.quickTest(ctx, tx, a, l.runner, yesterday); err != nil {
			return err
		}
	}
	if m.home {
		if err := m.atHome(ctx, tx, l.runner, yesterday); err != nil {
			return err
		}
	}
	if m.stop != nil {
		stop := *m.stop
		stop.ID, stop.On = store.NewID(), yesterday
		return tx.AddStop(ctx, l.runner, stop)
	}
	return nil
}

// life is a member's, as far as it was played.
type life struct {
	member
	tx       *store.Tx
	desk     *room.Desk
	actor    room.Actor
	runner   string
	start    int // days ago of the first visit
	day      time.Time
	sessions int        // days on which there was something to train
	hurt     bool       // on bare feet, once
	known    room.Chart // what is prescribed changes only with a visit or a decision
}

// come is what is known at the door: the profile, and the form that was sent ahead.
func (l *life) come(ctx context.Context, now time.Time) error {
	profile := l.profile()
	if l.race > 0 {
		profile.Races = []body.Race{{On: body.DateOf(now).Add(l.race), Km: 21.1, Name: "Low-water causeway race"}}
	}
	if err := l.tx.AddRunner(ctx, l.runner, l.name, zone, profile, l.actor.Coach); err != nil || l.form == nil {
		return err
	}
	p := l.profile()
	l.form(&p)
	return l.tx.AddForm(ctx, l.runner, record.Form{ID: store.NewID(), On: body.DateOf(now), Profile: p})
}

// spend is one day: a visit, what is reported, what is trained, what the coach decides.
func (l *life) spend(ctx context.Context, ago int) error {
	today := body.DateOf(l.day)
	if visit := l.start - ago; visit == 0 || (l.retests && visit%28 == 0 && ago > 3) {
		if err := l.visit(ctx, l.tx, l.desk, l.actor, l.runner, today, visit/28); err != nil {
			return err
		}
		l.known = room.Chart{}
	}
	if ago < l.silent {
		return nil
	}
	if err := l.report(ctx, l.tx, l.runner, today, ago); err != nil || ago == 0 { // today's session is still to come
		return err
	}
	if err := l.goBare(ctx, today, ago); err != nil {
		return err
	}
	if l.known.Today == "" {
		if err := l.look(ctx); err != nil {
			return err
		}
	}
	if ago == l.start {
		return nil // nobody trains on the day of the first visit
	}
	l.sessions++
	if l.skip == 0 || l.sessions%l.skip != 0 {
		if err := l.train(ctx, l.tx, l.known, today, ago); err != nil {
			return err
		}
	}
	if (l.start-ago)%3 != 2 {
		return nil
	}
	if err := l.look(ctx); err != nil {
		return err
	}
	if err := l.known.RecordHolds(ctx, l.tx); err != nil {
		return err
	}
	l.known = room.Chart{}
	if ago > l.decideTo {
		return decide(ctx, l.tx, l.desk, l.actor, l.runner)
	}
	return nil
}

func (l *life) look(ctx context.Context) (err error) {
	l.known, err = l.desk.Load(ctx, l.tx, l.runner, record.NeedProposals)
	return err
}

// visit is a screen and the programme built from it.
func (m member) visit(ctx context.Context, tx *store.Tx, desk *room.Desk, a room.Actor, runner string, today body.Date, nth int) error {
	taken := m.battery(nth)
	measures := make([]string, 0, len(taken))
	for _, t := range taken {
		measures = append(measures, t.measure)
	}
	kind := screen.FullScreen
	switch {
	case nth > 0:
		kind = screen.Retest
	case m.more == nil:
		kind = screen.CoreScreen
	}
	if err := m.screen(ctx, tx, a, runner, today, kind, screen.InRunningOrder(measures), taken); err != nil {
		return err
	}
	o, err := desk.Load(ctx, tx, runner, record.NeedProposals)
	if err != nil {
		return err
	}
	if name, ok := m.films[nth]; ok {
		if err := keepFilm(ctx, tx, o, a, name); err != nil {
			return err
		}
		if o, err = desk.Load(ctx, tx, runner, record.NeedProposals); err != nil {
			return err
		}
	}
	return o.BuildIn(ctx, tx, a, store.NewID(), m.choices(o))
}

// choices are what the coach set by hand, kept from programme to programme.
func (m member) choices(o room.Chart) build.Choices {
	if o.Programme == nil {
		return m.byHand
	}
	return o.Programme.Plan.Choices
}

// keepFilm keeps a simulated clip as the coach marked it, with the pictures of the first landings.
func keepFilm(ctx context.Context, tx *store.Tx, o room.Chart, a room.Actor, name string) error {
	f, ok := standin.Find(name)
	if !ok {
		return fmt.Errorf("there is no film %q", name)
	}
	c := f.Marked()
	seen := map[body.Side]bool{}
	for i, s := range c.Stills {
		c.Stills[i].ID = store.NewID()
		if s.At != gait.AtTouchdown || seen[s.Side] {
			continue
		}
		seen[s.Side], c.Stills[i].Keep = true, true
		var picture bytes.Buffer
		if err := jpeg.Encode(&picture, f.Frame(s.Frame), nil); err != nil {
			return err
		}
		if err := tx.AddStill(ctx, o.ID, c.Stills[i].ID, picture.Bytes(), a.Coach); err != nil {
			return err
		}
	}
	return o.KeepClipIn(ctx, tx, a, o.Screens[0].ID, store.NewID(), "", c)
}

// battery is what one visit measures, in running order.
func (m member) battery(nth int) []figures {
	n := float64(min(nth, 3))
	grown := func(first, gain [2]float64) [2]float64 { return [2]float64{first[0] + gain[0]*n, first[1] + gain[1]*n} }
	stop := m.first.stop
	if nth > 0 && stop == screen.StopCeiling && m.name != "Pip Sandal" {
		stop = "height"
	}
	all := map[string]figures{
		"ankle.knee_to_wall":   {"ankle.knee_to_wall", grown(m.first.ankle, m.gain.ankle), ""},
		"toe.active_height":    {"toe.active_height", grown(m.first.active, m.gain.active), ""},
		"toe.passive_height":   {"toe.passive_height", grown(m.first.passive, m.gain.passive), ""},
		"calf.raises_straight": {"calf.raises_straight", grown(m.first.raises, m.gain.raises), stop},
	}
	for _, f := range usualFoot {
		all[f.measure] = f
	}
	for id, v := range m.more {
		all[id] = figures{id, v, ""}
	}
	out := []figures{}
	for _, x := range screen.Measures {
		if f, ok := all[x.ID]; ok {
			out = append(out, f)
		}
	}
	return out
}

// firstLook measures ankle, toe and balance two days before the first visit: a repeat pair without
// training between, from which the practice's own measurement error comes.
func (m member) firstLook(ctx context.Context, tx *store.Tx, a room.Actor, runner string, today body.Date, nth int) error {
	wobble := []float64{0.5, -0.5, 0, 0.5, 0, -0.5, 1}[nth%7]
	f := m.first
	return m.screen(ctx, tx, a, runner, today, screen.Retest, []string{"ankle.knee_to_wall", "toe.active_height", "toe.passive_height"},
		[]figures{
			{"ankle.knee_to_wall", [2]float64{f.ankle[0] + wobble, f.ankle[1] - wobble/2}, ""},
			{"toe.active_height", [2]float64{f.active[0] + 1, f.active[1]}, ""},
			{"toe.passive_height", [2]float64{f.passive[0], f.passive[1] + 1}, ""}})
}

func (m member) screen(ctx context.Context, tx *store.Tx, a room.Actor, runner string, today body.Date, kind string, measures []string,
	taken []figures) error {
	id := store.NewID()
	denied := []string{}
	for _, s := range refer.Signs {
		denied = append(denied, s.ID)
	}
	if err := tx.AddCheck(ctx, runner, refer.Check{ID: store.NewID(), On: today, Source: "screen", Denied: denied}, a.Coach); err != nil {
		return err
	}
	if err := tx.AddScreen(ctx, runner, id, today, kind, measures); err != nil {
		return err
	}
	for _, f := range taken {
		for _, t := range f.trials(m, today) {
			if err := m.enter(ctx, tx, a, runner, id, t); err != nil {
				return err
			}
		}
	}
	return tx.FinishScreen(ctx, runner, id)
}

func (m member) enter(ctx context.Context, tx *store.Tx, a room.Actor, runner, id string, t screen.Trial) error {
	t.ID = store.NewID()
	t, err := screen.Enter(t, 0, m.profile())
	if err != nil {
		return fmt.Errorf("%s: %w", t.Measure, err)
	}
	return tx.AddTrial(ctx, runner, id, t, a.Coach)
}

// trials are the single attempts behind a visit's figures.
func (f figures) trials(m member, today body.Date) []screen.Trial {
	x, _ := screen.FindMeasure(f.measure)
	out := []screen.Trial{}
	for i, side := range x.Sides() {
		t := screen.Trial{Measure: x.ID, Side: side, Value: f.at[i], Stop: f.stop, On: today}
		if x.InContext {
			t.Context = &screen.Context{Pace: "easy", Shod: "shoes", Surface: "treadmill", SpeedKmh: 10}
		}
		if x.Place && t.Value > 0 {
			t.Where = body.HeelSole
		}
		switch {
		case x.Kind == screen.Cadence:
			for k := range x.Trials {
				c := t
				c.Parts = []float64{f.at[0] + float64(k%2)}
				out = append(out, c)
			}
		case x.ID == "arch.drop":
			t.Parts = []float64{40, 40 - f.at[i]}
			out = append(out, t)
		case x.ID == "foot.posture_index":
			t.Parts = []float64{f.at[i], 0, 1, 1, 0, 1}
			out = append(out, t)
		case x.Trials == 3 && x.Kind == screen.Figure:
			for k := range 3 {
				c := t
				c.Value = math.Round((t.Value+x.Step*float64(k-1))*2) / 2
				if x.ID == "ankle.knee_to_wall" && m.first.lift && k == 2 && i == 0 && m.first.ankle[0] == f.at[0] {
					c.Value, c.Faults = c.Value+2, []string{"heel_lifts"}
				}
				out = append(out, c)
			}
		case x.Trials == 3:
			for k := range 3 {
				c := t
				c.Value = math.Min(x.Cap, t.Value+float64(k-1)*0.6)
				out = append(out, c)
			}
		default:
			out = append(out, t)
		}
	}
	return out
}

// quickTest is the walk and range test before and after one session.
func (m member) quickTest(ctx context.Context, tx *store.Tx, a room.Actor, runner string, today body.Date) error {
	id := store.NewID()
	if err := tx.AddScreen(ctx, runner, id, today, screen.Session, screen.Plan(screen.Session, nil, nil)); err != nil {
		return err
	}
	for _, q := range m.quick {
		for i, side := range body.Sides {
			t := screen.Trial{Measure: q.measure, Side: side, Value: q.at[i], Moment: q.stop, On: today}
			if x, _ := screen.FindMeasure(q.measure); x.Place && t.Value > 0 {
				t.Where = body.HeelSole
			}
			if err := m.enter(ctx, tx, a, runner, id, t); err != nil {
				return err
			}
		}
	}
	return tx.FinishScreen(ctx, runner, id)
}

// report is the morning mark and the day's run.
func (m member) report(ctx context.Context, tx *store.Tx, runner string, today body.Date, ago int) error {
	p := m.profile()
	pain := level(0)
	if m.morning != nil {
		pain = m.morning
	}
	for _, w := range build.Watched(p) {
		n := 0
		for _, s := range p.Symptoms {
			if s.Region == w.Region && s.Side.Touches(w.Side) {
				n = pain(ago)
			}
		}
		if err := tx.AddMorning(ctx, runner, build.Morning{ID: store.NewID(), On: today, Region: w.Region, Side: w.Side, Pain: n},
			"phone"); err != nil {
			return err
		}
	}
	if err := tx.AddMorning(ctx, runner, build.Morning{ID: store.NewID(), On: today, Region: body.WholePerson, Side: body.Both, Quiet: true},
		"phone"); err != nil {
		return err
	}
	if ago == 0 {
		return nil
	}
	more := 1.0
	if m.runMore != nil {
		more = m.runMore(ago)
	}
	return m.run(ctx, tx, runner, today, ago, more)
}

// train logs the day's session as it was prescribed.
func (m member) train(ctx context.Context, tx *store.Tx, o room.Chart, today body.Date, ago int) error {
	pain, rpe := level(0), level(7)
	if m.pain != nil {
		pain = m.pain
	}
	if m.rpe != nil {
		rpe = m.rpe
	}
	for _, d := range o.Days {
		if d.On != today {
			continue
		}
		for _, p := range o.Shown(today) {
			if p.Rail != d.Rail {
				continue
			}
			done := make([]int, p.Dose.TotalSets())
			for i := range done {
				done[i] = p.Dose.Amount()
			}
			l := adjust.Log{ID: store.NewID(), On: today, Prescription: p, Done: done, Times: p.Dose.Times(), RPE: rpe(ago), Pain: pain(ago),
				Source: "phone"}
			if err := tx.AddLog(ctx, o.ID, l, ""); err != nil {
				return err
			}
		}
	}
	return nil
}

// decide accepts what the core proposes, as the coach did.
func decide(ctx context.Context, tx *store.Tx, desk *room.Desk, a room.Actor, runner string) error {
	o, err := desk.Load(ctx, tx, runner, record.NeedProposals)
	if err != nil {
		return err
	}
	for _, p := range o.Proposals() {
		if !p.News || p.Verdict == adjust.Pending || p.Records() {
			continue
		}
		if err := o.DecideIn(ctx, tx, a, store.NewID(), room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.From.ID,
			Verdict: p.Verdict}); err != nil {
			return err
		}
	}
	return nil
}
