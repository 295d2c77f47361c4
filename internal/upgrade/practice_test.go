package upgrade

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// made is a made-up practice with what an upgrade is most likely to break: own rails, changed house
// rules and approaches, cautions with and without limits, open and cleared stops, small signs, a moved week,
// rebuilt programmes, corrections seen and unseen, decisions, holds without a coach, a stated break.
func made(t *testing.T, d *testkit.Desk) {
	t.Helper()
	ctx, a := context.Background(), d.Actor
	in := func(f func(*store.Tx) error) { t.Helper(); require.NoError(t, d.Store.In(ctx, a.Practice, f)) }
	six, one := 6.0, 1.0
	in(func(tx *store.Tx) error {
		for key, v := range map[string]*float64{"adjust.days.strength": &six, "adjust.morning.back": &one, "build.rails.max": &six} {
			if err := tx.ChangeRule(ctx, key, v, a.Coach); err != nil {
				return err
			}
		}
		return tx.ChangeApproach(ctx, "toes", "both", a.Coach)
	})

	own := func(from, id, name string, change func(*catalog.Rail)) {
		t.Helper()
		r, ok := catalog.Shipped.Find(from)
		require.True(t, ok)
		r.Exercises = slices.Clone(r.Exercises)
		if id != from {
			r.ID, r.Name, r.Short = id, name, name
			for i := range r.Exercises {
				r.Exercises[i].ID = fmt.Sprintf("%s_%d", id, i)
				r.Exercises[i].First = nil
			}
			r.Place = nil
		}
		change(&r)
		require.NoError(t, d.KeepRail(ctx, a, r.ID, 0, r))
	}
	own("calf_straight", "tide_calf", "Tide-pool raises", func(r *catalog.Rail) { r.Exercises = r.Exercises[1:8] })
	own("side_ankle", "side_ankle", "", func(r *catalog.Rail) { r.PerWeek = 2 })
	own("leg_swing", "pier_swing", "Pier swing", func(*catalog.Rail) {})

	for _, l := range lives() {
		l.live(t, d)
	}
	d.Shift(0)
}

// weeks is how long they are played.
const weeks = 8

// life is one runner's, as it is played.
type life struct {
	name    string
	profile func(*body.Profile)
	choices build.Choices
	pain    func(day int) int
	morning func(day int) int
	stop    *refer.Stop
	stopOn  int
	clear   *refer.Clearance
	clearOn int
	limit   *refer.Limit
	silent  func(day int) bool // neither runs nor trains
}

// lives are those an upgrade is most likely to break.
func lives() []life {
	two, four, yes := 2, 4, true
	also := build.Choices{Also: []string{"tide_calf", "pier_swing", "short_foot"},
		Why: map[string]string{"tide_calf": "likes the harbour wall"}}
	return []life{
		{name: "Limits set", profile: func(p *body.Profile) {
			p.Cautions, p.HeavyAllowed = []string{"bone", "tendon"}, "Dr Tarn, 3 March: up to 10 kg"
		}, choices: also},
		{name: "No limits", profile: func(p *body.Profile) { p.Cautions = []string{"sensation", "clot"} }},
		{name: "Young", profile: func(p *body.Profile) { p.BirthDate, p.GuardianConsent = "2012-02-02", true }},
		{name: "Hardware", profile: func(p *body.Profile) {
			p.Cautions = []string{"hardware"}
			p.Structural = []body.Structural{{Measure: "ankle.knee_to_wall", Side: body.Left, Word: "plate in the ankle"}}
		}},
		{name: "Open stop", profile: func(*body.Profile) {}, choices: also,
			stop: &refer.Stop{Sign: "bone", Region: body.OuterAnkle, Side: body.Left, Which: []string{"outer_bone"}, Source: "phone"}, stopOn: 50},
		{name: "Cleared by a clinician", profile: func(*body.Profile) {},
			stop: &refer.Stop{Sign: "swelling", Region: body.Calf, Side: body.Right, Source: "intake"}, stopOn: 30,
			clear: &refer.Clearance{Kind: "clinician", Who: "Dr Tarn", Limits: "no hops for a month",
				Opens: &refer.Opening{Level: &four, Edge: &yes, Run: "easy"}}, clearOn: 38},
		{name: "Blister", profile: func(*body.Profile) {}, stop: &refer.Stop{Sign: "blister", Region: body.HeelSole, Side: body.Left,
			Source: "phone"}, stopOn: 40, clear: &refer.Clearance{Kind: "healed", Who: "Blister"}, clearOn: 44},
		{name: "Long stop", profile: func(*body.Profile) {}, stop: &refer.Stop{Sign: "night", Region: body.Calf, Side: body.Left,
			Source: "phone"}, stopOn: 20,
			clear: &refer.Clearance{Kind: "clinician", Who: "Dr Tarn", Opens: &refer.Opening{Level: &four, Edge: &yes, Run: "all"}}, clearOn: 40},
		{name: "Injection", profile: func(p *body.Profile) {
			p.Cautions = []string{"steroid"}
			p.CautionNotes = map[string]body.CautionNote{"steroid": {Side: body.Left}}
		}, limit: &refer.Limit{For: "steroid", Side: body.Left, Kind: "clinician", Who: "Dr Tarn", Opens: refer.Opening{Level: &two, Edge: &yes},
			Words: "below level again"}},
		{name: "Away for a month", profile: func(*body.Profile) {}, silent: func(day int) bool { return day >= 18 && day < 50 }},
		{name: "Reviewed", profile: func(*body.Profile) {}, stop: &refer.Stop{Sign: "wound", Region: body.Arch, Side: body.Left, Source: "phone"},
			stopOn: 44,
			clear:  &refer.Clearance{Kind: "reviewed", Who: "Test Coach", Limits: "tapped by mistake"}, clearOn: 46},
		{name: "Sore heel", profile: func(p *body.Profile) {
			p.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Worst: 6, Baseline: 4, When: body.Times{"first_steps"}}}
		}, pain: func(day int) int { return day % 5 }, morning: func(day int) int { return 2 + day%3 }},
		{name: "Left and right differ", profile: func(*body.Profile) {}, pain: func(day int) int { return 6 * (day % 9 / 8) }},
		{name: "Waiting", profile: nil},
	}
}

// live plays eight weeks, day by day.
func (l life) live(t *testing.T, d *testkit.Desk) {
	d.Shift(-weeks * 7 * 24 * time.Hour)
	p := testkit.Profile()
	p.Equipment.Bands = []string{"light", "medium"}
	p.WeeklyMinutes, p.Runs = 90, []body.FixedRun{{Weekday: 1, Minutes: 40, Quality: "quality"}, {Weekday: 5, Minutes: 50, Quality: "easy"}}
	if l.profile == nil {
		d.Runner(t, p)
		return
	}
	l.profile(&p)
	zero := func(int) int { return 0 }
	if l.pain == nil {
		l.pain = zero
	}
	if l.morning == nil {
		l.morning = zero
	}
	runner := d.Runner(t, p)
	ctx, a := context.Background(), d.Actor
	values := map[string]float64{"ankle.knee_to_wall": 7, "toe.active_height": 18, "toe.passive_height": 36, "calf.raises_straight": 12,
		"foot.short": 2, "toes.big_alone": 2, "balance.open": 32}
	d.ScreenAllowed(t, runner, values)
	if l.limit != nil {
		l.limit.ID, l.limit.On = store.NewID(), body.DateOf(d.Now().UTC())
		require.NoError(t, d.SetLimit(ctx, a, runner, *l.limit))
	}
	require.NoError(t, d.Build(ctx, a, runner, store.NewID(), l.choices))
	for day := range 7 * weeks {
		l.spend(t, d, p, runner, day)
	}
}

// spend is one of the days.
func (l life) spend(t *testing.T, d *testkit.Desk, p body.Profile, runner string, day int) {
	ctx, a := context.Background(), d.Actor
	d.Shift(time.Duration(day-7*weeks) * 24 * time.Hour)
	o, err := d.Chart(ctx, a, runner)
	if day == 3 { // one session is moved where it may go
		moveOne(t, d, o)
	}
	require.NoError(t, err)
	for _, w := range build.Watched(p) {
		require.NoError(t, d.AddMorning(ctx, a, runner, "phone", build.Morning{ID: store.NewID(), On: o.Today, Region: w.Region, Side: w.Side,
			Pain: l.morning(day)}))
	}
	away := l.silent != nil && l.silent(day)
	if away && day%7 == 3 {
		require.NoError(t, d.AddRun(ctx, a, runner, "phone", load.Run{ID: store.NewID(), On: o.Today, Word: load.None}, ""))
	}
	if !away && (day%7 == 1 || day%7 == 5) {
		require.NoError(t, d.AddRun(ctx, a, runner, "phone", load.Run{ID: store.NewID(), On: o.Today, Minutes: 40, Km: 7, RPE: 4}, ""))
	}
	if day > 0 && day%2 == 0 && !away {
		l.train(t, d, o, day)
	}
	if l.stop != nil && day == l.stopOn {
		l.stop.ID = store.NewID()
		require.NoError(t, d.RecordStop(ctx, a, runner, *l.stop))
	}
	if l.clear != nil && day == l.clearOn {
		l.clear.ID, l.clear.On = store.NewID(), o.Today
		require.NoError(t, d.Clear(ctx, a, runner, l.stop.ID, *l.clear))
	}
	if day%4 == 3 {
		if o, err = d.Chart(ctx, a, runner); err != nil {
			require.NoError(t, err)
		}
		decideAll(t, d, o)
	}
	if day == 28 {
		require.NoError(t, d.Build(ctx, a, runner, store.NewID(), o.Programme.Plan.Choices))
	}
}

// moveOne moves a session where it may go.
func moveOne(t *testing.T, d *testkit.Desk, o room.Chart) {
	ctx, a, runner := context.Background(), d.Actor, o.ID
	cells, err := o.Moves(o.Week().Days[0].Entries[0].Rail, 0)
	require.NoError(t, err)
	for _, c := range cells {
		if c.Refused == "" && c.Weekday != 0 {
			require.NoError(t, d.ChangeWeek(ctx, a, runner, store.NewID(),
				room.WeekChange{Rail: o.Week().Days[0].Entries[0].Rail, From: 0, To: c.Weekday, Slot: c.Slot}))
			break
		}
	}
}

// decideAll accepts what is proposed.
func decideAll(t *testing.T, d *testkit.Desk, o room.Chart) {
	ctx, a, runner := context.Background(), d.Actor, o.ID
	for _, x := range o.Proposals() {
		if x.News && x.Verdict != adjust.Pending && !x.Records() {
			var other *body.FieldError // a decision on one rail may change what another one asks
			if err := d.Decide(ctx, a, runner, store.NewID(), room.Decision{Rail: x.Rail, Side: x.Side, Prescription: x.From.ID,
				Verdict: x.Verdict}); !errors.As(err, &other) {
				require.NoError(t, err)
			}
		}
	}
}

// train logs what is shown that day, some of it corrected.
func (l life) train(t *testing.T, d *testkit.Desk, o room.Chart, day int) {
	ctx, a, runner := context.Background(), d.Actor, o.ID
	for i, pr := range o.Shown(o.Today) {
		done := make([]int, pr.Dose.TotalSets())
		for k := range done {
			done[k] = pr.Dose.Amount()
		}
		x := adjust.Log{ID: store.NewID(), On: o.Today, Done: done, RPE: 7, Pain: l.pain(day + i), Source: "phone"}
		require.NoError(t, d.AddLog(ctx, a, runner, room.Entry{Log: x, Prescription: pr.ID}))
		if i == 0 && day%14 == 0 {
			was := x.ID
			x.ID, x.Note = store.NewID(), "corrected"
			if x.Source = "coach"; day == 42 { // one by the runner, which waits
				x.Source, x.Pain = "phone", 0
			}
			require.NoError(t, d.AddLog(ctx, a, runner, room.Entry{Log: x, Prescription: pr.ID, Supersedes: was}))
		}
	}
}
