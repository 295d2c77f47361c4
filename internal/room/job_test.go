package room_test

import (
	"context"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

var ctx = context.Background()

const day = 24 * time.Hour

func programmed(t *testing.T, d *testkit.Desk, p body.Profile) string {
	runner := d.Runner(t, p)
	d.Screen(t, runner, testkit.Usual)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	return runner
}

func look(t *testing.T, d *testkit.Desk, runner string) room.Chart {
	o, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	return o
}

func kinds(t *testing.T, d *testkit.Desk) string {
	lines, err := d.Today(ctx, d.Actor)
	require.NoError(t, err)
	var out []string
	for _, q := range lines {
		out = append(out, string(q.Kind))
	}
	return strings.Join(out, " ")
}

func TestTheQueueFollowsTheRunner(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	assert.Equal(t, "", kinds(t, d))
	runner := d.Runner(t, testkit.Profile())
	assert.Equal(t, "start", kinds(t, d), "not screened")
	d.Screen(t, runner, testkit.Usual)
	assert.Equal(t, "start", kinds(t, d), "screened, not built")
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	assert.Equal(t, "", kinds(t, d), "built today: nothing to do")
	d.Shift(6 * day)
	assert.Equal(t, "quiet", kinds(t, d), "six days without a word")
	d.Shift(29 * day)
	assert.Contains(t, kinds(t, d), "retest")
	assert.True(t, strings.HasPrefix(kinds(t, d), "park"), "four weeks missed park the rails, the most protective first")
	require.NoError(t, d.RecordStop(ctx, d.Actor, runner, refer.Stop{ID: store.NewID(), Sign: "chest", Side: body.Both, Source: "intake"}))
	assert.True(t, strings.HasPrefix(kinds(t, d), "stop"), "a warning sign before everything")
}

// The two sides of a rail that ask for the same stand in one line; accepting decides both.
func TestOneLineForTwoSides(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	o := look(t, d, runner)
	for _, p := range o.Prescriptions {
		if p.Rail == "calf_straight" {
			require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: store.NewID(), On: o.Today, Done: []int{7, 7}, RPE: 7,
				Pain: 6, Source: "phone"}, Prescription: p.ID}))
		}
	}
	q, err := d.Today(ctx, d.Actor)
	require.NoError(t, err)
	require.Len(t, q, 1)
	assert.Equal(t, room.LineKind("back"), q[0].Kind)
	assert.Equal(t, "Calf, straight knee, both sides: pain during work is above its limit: back one", q[0].Sentence)
	// 2 × 7 is 14 raises, so at most 11.2 are left: no notch asks as little, a set is dropped.
	assert.Equal(t, "One-leg raises, floor, 2 × 4 → One-leg raises, floor, 1 × 4", q[0].Detail)
	require.Len(t, q[0].Accepts, 2)
	for _, p := range q[0].Accepts {
		require.NoError(t, d.Decide(ctx, d.Actor, runner, store.NewID(),
			room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.Prescription, Verdict: p.Verdict, Seen: &p.Seen}))
	}
	assert.Equal(t, "", kinds(t, d))
}

func TestADecisionOtherThanProposedNeedsAWord(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	p := look(t, d, runner).Prescriptions[0]
	x := room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.ID, Verdict: adjust.Up}
	assert.ErrorContains(t, d.Decide(ctx, d.Actor, runner, store.NewID(), x), "say in a word why")
	x.Word = "looks easy"
	require.NoError(t, d.RecordStop(ctx, d.Actor, runner, refer.Stop{ID: store.NewID(), Sign: "nerve", Side: body.Both, Source: "phone"}))
	assert.ErrorContains(t, d.Decide(ctx, d.Actor, runner, store.NewID(), x), "warning sign is open")
	x.Rail = "no_such_rail"
	assert.ErrorIs(t, d.Decide(ctx, d.Actor, runner, store.NewID(), x), store.ErrNotFound)
}

// A quiet week lowers the usual morning with the next move; nothing but the coach raises it.
func TestAMoveMayLowerTheUsualMorning(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	p := testkit.Profile()
	p.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: 2, Worst: 4}}
	runner := programmed(t, d, p)
	report := func(pain int, from, days int) {
		for i := range days {
			d.Shift(time.Duration(from+i) * day)
			require.NoError(t, d.AddMorning(ctx, d.Actor, runner, "phone",
				build.Morning{ID: store.NewID(), On: look(t, d, runner).Today, Region: body.HeelSole, Side: body.Left, Pain: pain}))
		}
	}
	level := func() float64 {
		o := look(t, d, runner)
		return build.NewUsuals(o.Profile, o.Mornings, o.Usual).At(body.HeelSole, body.Left, o.Today.Add(1))
	}
	hold := func() {
		o := look(t, d, runner)
		x := o.Prescriptions[0]
		v := o.Proposals()[0].Verdict
		require.NoError(t, d.Decide(ctx, d.Actor, runner, store.NewID(),
			room.Decision{Rail: x.Rail, Side: x.Side, Prescription: x.ID, Verdict: v}))
	}
	assert.Equal(t, 2.0, level())
	report(0, 0, 5)
	hold()
	assert.Equal(t, 0.0, level())
	report(2, 5, 7)
	hold()
	assert.Equal(t, 0.0, level(), "worse mornings do not become usual")
}

func TestTheNewestTrialOfEachMeasureCounts(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	d.Screen(t, runner, testkit.Usual)
	assert.True(t, look(t, d, runner).Circumstances(look(t, d, runner).Screens[0].ID).FirstVisit, "the screen being taken is the first")
	d.Shift(28 * day)
	d.Screen(t, runner, map[string]float64{"ankle.knee_to_wall": 9})
	o := look(t, d, runner)
	assert.False(t, o.Circumstances("").FirstVisit)
	rd, ok := screen.Read(o.Trials(), "ankle.knee_to_wall", body.Left)
	require.True(t, ok)
	assert.Equal(t, 9.0, rd.Value)
	rd, ok = screen.Read(o.Trials(), "calf.raises_straight", body.Left)
	require.True(t, ok)
	assert.Equal(t, 12.0, rd.Value, "not taken again: the earlier one stands")
	assert.NotContains(t, o.Read().Missing, "Knee to wall, left")
	assert.Contains(t, o.Read().Missing, "Arch, two fingers, left", "asked for and not taken")
}

func TestASkippedTestIsNotAFinding(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	id := d.Begin(t, runner)
	require.NoError(t, d.Try(ctx, runner, id, screen.Trial{ID: store.NewID(), Measure: "ankle.knee_to_wall", Side: body.Left,
		Skipped: "pain"}))
	r := look(t, d, runner).Read()
	assert.Empty(t, r.Findings)
	assert.Contains(t, r.Missing, "Knee to wall, left")
	assert.Equal(t, "pain", look(t, d, runner).Screens[0].Trials[0].Skipped)
}

func TestAnEmergencyBarsTheScreen(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	stop := store.NewID()
	require.NoError(t, d.RecordStop(ctx, d.Actor, runner, refer.Stop{ID: stop, Sign: "chest", Side: body.Both, Source: "intake"}))
	assert.ErrorContains(t, d.StartScreen(ctx, d.Actor, runner, store.NewID(), room.Start{Kind: screen.FullScreen}), "warning sign is open")
	today := look(t, d, runner).Today
	assert.ErrorContains(t, d.Clear(ctx, d.Actor, runner, stop, refer.Clearance{ID: store.NewID(), Kind: "reviewed", Who: "Coach", On: today}),
		"look again another day")
	d.Shift(day)
	require.NoError(t, d.Clear(ctx, d.Actor, runner, stop, refer.Clearance{ID: store.NewID(), Kind: "reviewed", Who: "Coach",
		On: today.Add(1)}))
	d.AskSigns(t, runner)
	assert.NoError(t, d.StartScreen(ctx, d.Actor, runner, store.NewID(), room.Start{Kind: screen.FullScreen}))
}

// Several decisions are one write: each is judged as the ones before it left the runner, one that is out of date ends it
// and those before it stand, and to repeat it is the same write.
func TestSeveralDecisionsAreOneWrite(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	o := look(t, d, runner)
	ids, all := []string{store.NewID(), store.NewID()}, []room.Decision{}
	for _, p := range o.Prescriptions {
		if len(all) == 2 || len(all) == 1 && all[0].Rail == p.Rail {
			continue
		}
		require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Prescription: p.ID, Log: adjust.Log{ID: store.NewID(), On: o.Today,
			Done: []int{p.Dose.Amount()}, RPE: 5, Pain: 6, Source: "phone", Faults: []string{}}}))
		all = append(all, room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.ID, Verdict: adjust.Back})
	}
	decided := func() (out []string) {
		for _, x := range look(t, d, runner).Decisions {
			if x.Coach != "" {
				out = append(out, x.Rail)
			}
		}
		return out
	}
	late := slices.Clone(all)
	late[0].Prescription = store.NewID()
	_, err := d.DecideAll(ctx, d.Actor, runner, ids, late)
	require.ErrorIs(t, err, store.ErrStale, "nothing was taken")
	assert.Empty(t, decided())
	late = slices.Clone(all)
	late[1].Prescription = store.NewID()
	got, err := d.DecideAll(ctx, d.Actor, runner, ids, late)
	require.NoError(t, err)
	assert.NotEmpty(t, got.Left)
	assert.Equal(t, []string{all[0].Rail}, decided(), "the first stands")
	late = slices.Clone(all)
	late[1].Verdict = adjust.Hold // as it was proposed before
	got, err = d.DecideAll(ctx, d.Actor, runner, ids, late)
	require.NoError(t, err)
	assert.Contains(t, got.Left, "is now back: pain during work is above its limit", "in words a coach can use")
	for range 2 {
		got, err = d.DecideAll(ctx, d.Actor, runner, ids, all)
		require.NoError(t, err)
		assert.Empty(t, got.Left)
		assert.Equal(t, []string{all[0].Rail, all[1].Rail}, decided())
	}
}

// A place that hurt is asked about by name until it has been quiet for four weeks.
func TestAPlaceThatHurtIsAskedAboutByName(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	asked := func() (out []string) {
		for _, w := range look(t, d, runner).Phone(d.Now()).Watched {
			out = append(out, string(w.Side)+" "+string(w.Region))
		}
		return out
	}
	before := asked()
	o := look(t, d, runner)
	require.NoError(t, d.AddMorning(ctx, d.Actor, runner, "phone", build.Morning{ID: store.NewID(), On: o.Today, Region: body.TopOfFoot,
		Side: body.Right, Pain: 4}))
	assert.Equal(t, append(slices.Clone(before), "right top_of_foot"), asked())
	d.Shift(29 * day)
	assert.Equal(t, before, asked())
}

// The phone carries today and tomorrow, the sides apart where the exercise is one-legged, one line
// where it is done on two legs, and says until when it may be kept.
func TestThePhonesBundle(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	values := map[string]float64{"ankle.knee_to_wall": 7, "toe.active_height": 18, "toe.passive_height": 36, "calf.raises_straight": 3}
	d.Screen(t, runner, values)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	seen := map[string]int{}
	for i := range 7 {
		d.Shift(time.Duration(i) * day)
		o := look(t, d, runner)
		ph := o.Phone(d.Now())
		require.Len(t, ph.Sessions, 7)
		assert.Equal(t, o.Today, ph.Sessions[0].On)
		assert.Equal(t, o.Today.Add(6), ph.Sessions[6].On)
		for _, it := range ph.Sessions[0].Items {
			seen[it.Rail]++
			want := 2
			if !it.Exercise.EachSide {
				want = 1
				assert.Equal(t, body.Both, it.Sides[0].Side)
				assert.Len(t, it.Sides[0].Prescriptions, 2)
			}
			assert.Len(t, it.Sides, want, it.Exercise.Name)
		}
	}
	assert.Equal(t, map[string]int{"ankle_bend": 5, "big_toe": 3, "calf_bent": 3, "calf_release": 4, "calf_straight": 3, "toe_press": 4}, seen,
		"a week's sessions")
}

func TestRunsMakeTheVolumeKnown(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	p := testkit.Profile()
	p.WeeklyMinutes = 90
	runner := d.Runner(t, p)
	assert.Equal(t, load.Unknown, look(t, d, runner).Volume().State)
	today := look(t, d, runner).Today
	assert.ErrorContains(t, d.AddRun(ctx, d.Actor, runner, "coach", load.Run{ID: store.NewID(), On: today, Minutes: 0}, ""),
		"enter 1 to 1440 min")
	require.NoError(t, d.AddRun(ctx, d.Actor, runner, "coach", load.Run{ID: store.NewID(), On: today, Minutes: 40}, ""))
	assert.Equal(t, load.Usual, look(t, d, runner).Volume().State)
}

func TestACorrectedLogReplacesTheOldInTheReading(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	o := look(t, d, runner)
	p := o.Prescriptions[0]
	first := store.NewID()
	require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: first, On: o.Today, Done: []int{8}, RPE: -1,
		Source: "phone"}, Prescription: p.ID}))
	require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: store.NewID(), On: o.Today, Done: []int{8}, RPE: 6,
		Source: "coach"}, Prescription: p.ID, Supersedes: first}))
	logs := look(t, d, runner).Logs
	require.Len(t, logs, 1)
	assert.Equal(t, 6, logs[0].RPE)
	assert.ErrorContains(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: store.NewID(), On: o.Today.Add(1)},
		Prescription: p.ID}), "not after today")
}

// Two coaches accept the same proposal at once: one decision stands, the other is told.
func TestTwoCoachesDecidingAtOnce(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	p := look(t, d, runner).Prescriptions[0]
	results := make(chan error, 8)
	for range 8 {
		go func() {
			results <- d.Decide(ctx, d.Actor, runner, store.NewID(), room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.ID,
				Verdict: adjust.Back, Word: "tired"})
		}()
	}
	taken := 0
	for range 8 {
		if err := <-results; err == nil {
			taken++
		} else {
			assert.ErrorIs(t, err, store.ErrStale)
		}
	}
	assert.Equal(t, 1, taken)
	assert.Len(t, look(t, d, runner).Decisions, 1)
}

// Every dose in force says why it stands there: where it was placed, then which move brought it.
func TestWhyADoseStandsWhereItDoes(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	o := look(t, d, runner)
	i := slices.IndexFunc(o.Prescriptions, func(p catalog.Prescription) bool { return p.Rail == "calf_straight" })
	p := o.Prescriptions[i]
	assert.Equal(t, "place.raises", o.WhyHere(p).Rule)
	require.NoError(t, d.Decide(ctx, d.Actor, runner, store.NewID(),
		room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.ID, Verdict: adjust.Back, Word: "tired"}))
	o = look(t, d, runner)
	why := o.WhyHere(o.Prescriptions[i])
	assert.Equal(t, "moved back", why.Says)
	assert.Contains(t, why.Saw[1].Value, "tired")
}

// Rails that ask for the same by the same rule stand in one line of the desk, however many they are.
func TestManyRailsOneLine(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	rails := map[string]bool{}
	for _, p := range look(t, d, runner).Prescriptions {
		rails[p.Rail] = true
	}
	require.Greater(t, len(rails), 3)
	require.NoError(t, d.RecordStop(ctx, d.Actor, runner, refer.Stop{ID: store.NewID(), Sign: "nerve", Side: body.Both, Source: "phone"}))
	q, err := d.Today(ctx, d.Actor)
	require.NoError(t, err)
	require.Len(t, q, 2, "the sign, and what it parks")
	assert.Equal(t, room.LineKind("park"), q[1].Kind)
	assert.Contains(t, q[1].Sentence, "more: both legs are locked: a warning sign is open")
	assert.Len(t, q[1].Accepts, len(look(t, d, runner).Prescriptions))
}

// A hold that needs no coach is recorded by itself as the decision that saw its reports; it moves nothing.
// What waits for a mark, hurts more, or corrects an earlier word stays with the coach.
func TestCleanHoldsAreRecordedByThemselves(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	before := look(t, d, runner)
	p := before.Prescriptions[0]
	first := store.NewID()
	enter := func(id, supersedes string, pain int) room.Chart {
		require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: id, On: before.Today, Done: []int{3, 3}, RPE: 6,
			Pain: pain, Source: "phone"}, Prescription: p.ID, Supersedes: supersedes}))
		return look(t, d, runner)
	}
	o := enter(first, "", 4)
	require.Len(t, o.Decisions, 1)
	held := o.Decisions[0]
	assert.Equal(t, adjust.Hold, held.Verdict)
	assert.Empty(t, held.Coach)
	assert.NotEmpty(t, held.Why)
	assert.Equal(t, o.Logs[0].Seq, held.Seen)
	assert.Equal(t, before.Prescriptions, o.Prescriptions, "no dose, no date")
	assert.False(t, o.Proposals()[0].News)
	assert.Equal(t, "", kinds(t, d))
	assert.Len(t, enter(first, "", 4).Decisions, 1, "the same report again")

	o = enter(store.NewID(), first, 1)
	assert.Len(t, o.Decisions, 1, "a milder correction waits for the coach")
	assert.Equal(t, "hold", kinds(t, d))

	o = enter(store.NewID(), "", 6)
	assert.Equal(t, adjust.Back, o.Proposals()[0].Verdict)
	assert.Len(t, o.Decisions, 1)

	other := programmed(t, d, testkit.Profile())
	require.NoError(t, d.AddMorning(ctx, d.Actor, other, "phone",
		build.Morning{ID: store.NewID(), On: before.Today, Region: body.HeelSole, Side: body.Left, Pain: 1}))
	sides := map[body.Side]bool{}
	for _, x := range look(t, d, other).Decisions {
		sides[x.Side] = true
		assert.Equal(t, "adjust.morning", x.Rule, "above usual")
	}
	assert.True(t, sides[body.Left])
}

// A retest as good as the first takes back nothing that was climbed since; a worse one does. The first test is known
// from its own screen: the newest alone enters the programme.
func TestARetestAsGoodTakesNothingBack(t *testing.T) {
	for raises, kept := range map[float64]bool{12: true, 13: true, 11: false} {
		d := testkit.NewDesk(t, "a@test.example")
		runner := programmed(t, d, testkit.Profile())
		calf := func() catalog.Prescription {
			for _, p := range look(t, d, runner).Prescriptions {
				if p.Rail == "calf_straight" && p.Side == body.Left {
					return p
				}
			}
			return catalog.Prescription{}
		}
		first := calf()
		for n := 1; calf().Exercise == first.Exercise; n++ { // climbed by hand to the next exercise
			require.Less(t, n, 20)
			d.Shift(time.Duration(n) * day)
			for _, p := range look(t, d, runner).Prescriptions {
				if p.Rail == "calf_straight" {
					x := room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.ID, Verdict: adjust.Up, Word: "looked easy"}
					require.NoError(t, d.Decide(ctx, d.Actor, runner, store.NewID(), x))
				}
			}
		}
		climbed := calf()
		values := maps.Clone(testkit.Usual)
		values["calf.raises_straight"] = raises
		d.Shift(29 * day)
		d.Screen(t, runner, values)
		require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
		again := calf()
		assert.Equal(t, kept, again.Exercise == climbed.Exercise && again.Dose == climbed.Dose, "%g raises: %s, then %s", raises, climbed.Text(),
			again.Text())
	}
}
