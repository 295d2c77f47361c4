package screen

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
)

var easy = &Context{Pace: "easy", Shod: "shoes"}

// entered is a trial as a station would send it, with a value that fits the measure.
func entered(m Measure, side body.Side, v float64) Trial {
	t := Trial{Measure: m.ID, Side: side, Value: v, Faults: []string{}, On: day}
	if m.InContext {
		t.Context = easy
	}
	if len(m.Stops) > 0 {
		t.Stop = m.Stops[0].ID
	}
	if m.Place {
		t.Where = body.HeelSole
	}
	switch m.ID {
	case "arch.drop":
		t.Parts = []float64{50, 50 - v}
	case "foot.posture_index":
		left := v
		for range 6 {
			p := math.Max(-2, math.Min(2, left))
			t.Parts, left = append(t.Parts, p), left-p
		}
	case "calf.rm":
		t.Parts = []float64{v, 8}
	case "hop.supported":
		t.Parts = []float64{40}
	}
	return t
}

// range_ is a span of values that may be entered.
func (m Measure) span() (low, high float64) {
	switch m.ID {
	case "calf.rm":
		return 0, 60
	case "arch.drop":
		return 0, 40
	case "toe.active_height", "toe.passive_height":
		return 0, 55
	}
	return m.Min, m.Max
}

func (m Measure) fit(v float64) float64 {
	low, high := m.span()
	v = math.Max(low, math.Min(high, v))
	if len(m.Options) > 0 || m.Kind == Count || m.Kind == Pain || m.ID == "foot.posture_index" {
		return math.Round(v)
	}
	return math.Round(v*10) / 10
}

// Every measure has a station, an entry, a reference with provenance, an error and a finding.
func TestEveryMeasureIsWhole(t *testing.T) {
	h := house.Rules{}
	seen := map[string]bool{}
	for _, m := range Measures {
		assert.False(t, seen[m.ID], m.ID)
		seen[m.ID] = true
		assert.True(t, slices.ContainsFunc(Stations, func(s Station) bool { return s.ID == m.Station && slices.Contains(s.Measures, m.ID) }),
			"%s stands at no station", m.ID)
		assert.NotEmpty(t, m.How, m.ID)
		assert.NotEmpty(t, m.Condition, m.ID)
		assert.Positive(t, m.Seconds, m.ID)
		assert.Positive(t, m.Protocol, m.ID)
		text, provenance, source := m.Reference(h)
		assert.NotEmpty(t, text, m.ID)
		assert.NotEmpty(t, provenance, "%s: a reference without provenance", m.ID)
		assert.Equal(t, provenance == body.Published || provenance == body.Memory, source != "", "%s: source and provenance disagree", m.ID)
		if key := m.semKey(); key != "" {
			_, ok := house.Find(key)
			assert.True(t, ok, "%s has no error %s", m.ID, key)
		}
		assert.True(t, slices.ContainsFunc(limiters, func(l limiterInfo) bool { return l.id == m.Limiter }), "%s answers to no limiter", m.ID)
		if m.Kind == Ability || m.Kind == Blemish {
			assert.Len(t, m.Options, 4, "%s: every score has its anchors", m.ID)
			for i, o := range m.Options {
				assert.True(t, strings.HasPrefix(o.Name, fmt.Sprintf("%d · ", i)), "%s %s", m.ID, o.Name)
			}
		}
		low, high := m.span()
		side := m.Sides()[0]
		x, err := Enter(entered(m, side, m.fit((low+high)/2)), 0, subject())
		require.NoError(t, err, m.ID)
		trials := []Trial{x}
		if m.ID == "toe.active_height" {
			p, _ := FindMeasure("toe.passive_height")
			trials = append(trials, entered(p, side, 40))
		}
		fs := found(trials)
		i := slices.IndexFunc(fs, func(f Finding) bool { return f.Measure == m.ID && f.Side == side })
		if assert.GreaterOrEqual(t, i, 0, "%s gives no finding", m.ID) {
			f := fs[i]
			assert.NotEmpty(t, f.Verdict, m.ID)
			assert.NotEmpty(t, f.Reason.Rule, m.ID)
			assert.NotEmpty(t, f.Reason.Says, m.ID)
			assert.NotEmpty(t, f.Reason.Provenance, m.ID)
			assert.False(t, math.IsNaN(f.Value+f.Severity+f.Band+f.MDC+f.Half), m.ID)
		}
	}
	assert.Len(t, Measures, 64)
}

func TestEnterNamesWhatIsMissing(t *testing.T) {
	for _, c := range []struct {
		t    Trial
		want string
	}{
		{Trial{Measure: "gait.cadence", Side: body.Left, Value: 170, Context: easy}, "both sides at once"},
		{Trial{Measure: "gait.sound", Side: body.Both, Value: 1}, "say how they ran"},
		{Trial{Measure: "gait.sound", Side: body.Both, Value: 1, Context: &Context{Pace: "crawl", Shod: "shoes"}}, "say how they ran"},
		{Trial{Measure: "gait.sound", Side: body.Both, Value: 1, Context: &Context{Pace: "easy", Shod: "shoes", SpeedKmh: 99}}, "enter 3 to 40"},
		{Trial{Measure: "gait.sound", Side: body.Both, Value: 1, Context: &Context{Pace: "up", Shod: "shoes", SlopePct: 90}}, "enter −40 to 40"},
		{Trial{Measure: "gait.sound", Side: body.Both, Value: 4, Context: easy}, "enter 0 to 3"},
		{Trial{Measure: "arch.two_finger", Side: body.Left, Value: 0.5}, "whole number"},
		{Trial{Measure: "walk.heels", Side: body.Left, Value: 3}, "say where it hurt"},
		{Trial{Measure: "arch.drop", Side: body.Left, Parts: []float64{40}}, "needs sitting height, standing height"},
		{Trial{Measure: "arch.drop", Side: body.Left, Parts: []float64{400, 30}}, "sitting height is 400; enter 5 to 100 mm"},
		{Trial{Measure: "foot.posture_index", Side: body.Left, Parts: []float64{0, 0, 0, 0, 0, 3}}, "forefoot turned out is 3; enter -2 to 2"},
		{Trial{Measure: "foot.posture_index", Side: body.Left, Parts: []float64{0, 0, 0, 0, 0, 0.5}}, "whole number"},
		{Trial{Measure: "balance.open", Side: body.Left, Value: 46}, "enter 0 to 45 s"},
	} {
		_, err := Enter(c.t, 0, subject())
		assert.ErrorContains(t, err, c.want, "%+v", c.t)
	}
	x, err := Enter(Trial{Measure: "foot.posture_index", Side: body.Left, Parts: []float64{2, 1, 1, 2, 1, 0}}, 0, subject())
	require.NoError(t, err)
	assert.Equal(t, 7.0, x.Value)
	bare := subject()
	bare.BigToeMm = 0
	_, err = Enter(trial("toe.active_height", body.Left, 20), 0, bare)
	assert.ErrorContains(t, err, "needs the big-toe length")
	skipped, err := Enter(Trial{Measure: "calf.rm", Side: body.Left, Skipped: "no kit"}, 0, bare)
	require.NoError(t, err, "what is left out needs no figures")
	assert.False(t, skipped.Counts())
}

// What may not be taken now, and what comes first.
func TestBarred(t *testing.T) {
	h := house.Rules{}
	m := func(id string) Measure { x, _ := FindMeasure(id); return x }
	for _, c := range []struct {
		name   string
		id     string
		trials []Trial
		c      Circumstances
		want   bool
	}{
		{"eyes closed without eyes open", "balance.closed", nil, about(), true},
		{"eyes open 29 s", "balance.closed", []Trial{trial("balance.open", body.Left, 29)}, about(), true},
		{"eyes open 30 s", "balance.closed", []Trial{trial("balance.open", body.Left, 30)}, about(), false},
		{"steady on the other leg only", "balance.closed", []Trial{trial("balance.open", body.Right, 45)}, about(), true},
		{"one foot before two", "hold.forefoot_one", nil, about(), true},
		{"two feet hold 30 s", "hold.forefoot_one", []Trial{trial("hold.forefoot_two", body.Both, 30)}, about(), false},
		{"maximum on a first visit", "calf.rm", nil, firstVisit(about()), true},
		{"maximum under 18", "calf.rm", nil, young(), true},
		{"maximum with a tendon at risk", "calf.rm", nil, about("tendon"), true},
		{"maximum under a caution", "calf.rm", nil, about("bone"), true},
		{"maximum with pain 3", "calf.rm", nil, pain(3), true},
		{"maximum with pain 2", "calf.rm", nil, pain(2), false},
		{"bounce with pain 3", "hop.supported", nil, pain(3), true},
		{"bounce without a held brace", "hop.supported", nil, about(), true},
		{"bounce with the brace held on one side", "hop.supported",
			[]Trial{trial("foot.short", body.Left, 2), trial("foot.short", body.Right, 1)}, about(), true},
		{"bounce with the brace held", "hop.supported", []Trial{trial("foot.short", body.Left, 2), trial("foot.short", body.Right, 2)}, about(),
			false},
		{"one-leg raises with a stop at the heel", "calf.raises_straight", nil,
			stopped(refer.Stop{Sign: "bone", Region: body.HeelSole, Side: body.Left, On: day}), true},
		{"heel walk with a stop at the knee", "walk.heels", nil, stopped(refer.Stop{Sign: "swelling", Region: body.Knee, Side: body.Left,
			On: day}), true},
		{"knee to wall", "ankle.knee_to_wall", nil, firstVisit(pain(9)), false},
		{"a stop at the ankle", "ankle.knee_to_wall", nil, stopped(refer.Stop{Sign: "swelling", Region: body.OuterAnkle, Side: body.Left,
			On: day}), true},
		{"a stop at the other ankle: the lunge stands on both", "ankle.knee_to_wall", nil,
			stopped(refer.Stop{Sign: "swelling", Region: body.OuterAnkle, Side: body.Right, On: day}), true},
		{"a stop at the other ankle, seated", "toes.big_alone", nil,
			stopped(refer.Stop{Sign: "swelling", Region: body.OuterAnkle, Side: body.Right, On: day}), false},
		{"feeling under a stop", "sole.touch", nil, stopped(refer.Stop{Sign: "bone", Region: body.HeelSole, Side: body.Left, On: day}), false},
		{"feeling under a same-day sign", "sole.touch", nil, stopped(refer.Stop{Sign: "calf_hot", Region: body.Calf, Side: body.Left, On: day}),
			true},
		{"raises with a steroid injection", "calf.raises_straight", nil, about("steroid"), true},
		{"raises two days before a race", "calf.raises_straight", nil, racing(2), true},
		{"raises four days before a race", "calf.raises_straight", nil, racing(4), false},
		{"balance two days before a race", "balance.open", nil, racing(2), false},
	} {
		no, why := Barred(m(c.id), body.Left, c.trials, c.c, h)
		assert.Equal(t, c.want, no, c.name)
		if no {
			assert.NotEmpty(t, why.Saw, c.name)
		}
	}
}

func racing(in int) Circumstances {
	c := about()
	c.Facts.Profile.Races = []body.Race{{On: day.Add(in), Name: "race"}}
	return c
}

// Whatever the sign, its place and side, no test that trains or stands on a locked leg may be taken.
func TestPropertyAStopLocksEveryTestOfTheLeg(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		region := rapid.SampledFrom(body.RegionNames).Draw(t, "region").ID
		side := rapid.SampledFrom([]body.Side{body.Left, body.Right, body.Both}).Draw(t, "side")
		sign := rapid.SampledFrom(refer.Signs).Draw(t, "sign")
		c := stopped(refer.Stop{Sign: sign.ID, Region: region, Side: side, On: day})
		ready := []Trial{trial("hold.forefoot_two", body.Both, 60)}
		for _, s := range body.Sides {
			ready = append(ready, trial("balance.open", s, 45), trial("foot.short", s, 3))
		}
		locks := sign.Class == refer.Emergency || sign.Class == refer.SameDay || sign.Class == refer.HardStop || sign.ID == "ill"
		for _, m := range Measures {
			for _, s := range m.Sides() {
				no, _ := Barred(m, s, ready, c, house.Rules{})
				leg := side == body.Both || s == body.Both || region == body.WholePerson || region == body.AboveKnee || side == s ||
					m.Demand().Bears == body.BothLegs
				urgent := sign.Class == refer.Emergency || sign.Class == refer.SameDay || sign.ID == "ill"
				if asks := m.Demand().Trains != body.NoLeg || m.Demand().Bears != body.NoLeg; locks && !no && (urgent || leg && asks) {
					t.Fatalf("%s, %s is open under “%s” at %s %s", m.ID, s, sign.Question, side, region)
				}
				if sign.Class == refer.HardStop && no && !leg && m.Demand().Level <= 1 && m.Demand().Run == "" && !m.Demand().Bare {
					t.Fatalf("%s, %s is shut by “%s” at %s %s, though it stays off that leg", m.ID, s, sign.Question, side, region)
				}
			}
		}
	})
}

func verdictOf(t *rapid.T, m Measure, v float64) (Finding, bool) {
	x, err := Enter(entered(m, m.Sides()[0], v), 0, subject())
	if err != nil {
		t.Fatalf("%s %g: %v", m.ID, v, err)
	}
	fs := found([]Trial{x})
	i := slices.IndexFunc(fs, func(f Finding) bool { return f.Measure == m.ID })
	if i < 0 {
		return Finding{}, false
	}
	return fs[i], true
}

// For every measure with a direction: a value moved towards better never gives a worse verdict or a
// greater severity.
func TestPropertyEveryMeasureBetterIsNeverWorse(t *testing.T) {
	for _, m := range Measures {
		if m.Better != "higher" && m.Better != "lower" || m.ID == "toe.active_height" {
			continue
		}
		t.Run(m.ID, func(t *testing.T) {
			rapid.Check(t, func(t *rapid.T) {
				low, high := m.span()
				a, b := m.fit(rapid.Float64Range(low, high).Draw(t, "a")), m.fit(rapid.Float64Range(low, high).Draw(t, "b"))
				if (m.Better == "higher") != (b >= a) {
					a, b = b, a
				}
				fa, okA := verdictOf(t, m, a)
				fb, okB := verdictOf(t, m, b)
				if okA && okB && (rankOf(fb.Verdict) > rankOf(fa.Verdict) || fb.Severity > fa.Severity+1e-9) {
					t.Fatalf("%g → %g gave %s %.2f → %s %.2f", a, b, fa.Verdict, fa.Severity, fb.Verdict, fb.Severity)
				}
			})
		})
	}
}

// Swapping left and right in every trial swaps every finding.
func TestPropertyTheWholeBatterySwaps(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var ts, swapped []Trial
		for _, m := range Measures {
			low, high := m.span()
			for _, s := range m.Sides() {
				x, err := Enter(entered(m, s, m.fit(rapid.Float64Range(low, high).Draw(t, m.ID+string(s)))), 0, subject())
				if err != nil {
					t.Fatal(err)
				}
				ts = append(ts, x)
				x.Side = s.Other()
				swapped = append(swapped, x)
			}
		}
		a, b := found(ts), found(swapped)
		if len(a) != len(b) {
			t.Fatalf("%d findings became %d", len(a), len(b))
		}
		for _, f := range a {
			g := find(b, f.ID, f.Side.Other())
			if g == nil || g.Verdict != f.Verdict || math.Abs(g.Value-f.Value) > 1e-9 || math.Abs(g.Severity-f.Severity) > 1e-9 {
				t.Fatalf("%s %s: %+v became %+v", f.ID, f.Side, f, g)
			}
		}
	})
}

// For every measured figure, a trial equal to the mean changes nothing.
func TestPropertyATrialEqualToTheMeanChangesNoReading(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := rapid.SampledFrom(slices.DeleteFunc(slices.Clone(Measures),
			func(m Measure) bool { return m.Kind != Figure && m.Kind != Hold })).Draw(t, "measure")
		low, high := m.span()
		side := m.Sides()[0]
		var ts []Trial
		for i := range rapid.IntRange(1, 5).Draw(t, "n") {
			ts = append(ts, entered(m, side, m.fit(rapid.Float64Range(low, high).Draw(t, fmt.Sprint(i)))))
		}
		before, _ := Read(ts, m.ID, side)
		after, _ := Read(append(ts, entered(m, side, before.Value)), m.ID, side)
		if math.Abs(before.Value-after.Value) > 1e-9 {
			t.Fatalf("%v → %v", before.Value, after.Value)
		}
	})
}

// A fault that counts as short does so whatever the figure; one that refers says so.
func TestFaultsThatFailOrRefer(t *testing.T) {
	f := find(found([]Trial{trial("toe.loaded_extension", body.Left, 60, "rolls")}), "toe.loaded_extension", body.Left)
	assert.Equal(t, Short, f.Verdict)
	f = find(found([]Trial{trial("toe.passive_extension", body.Left, 70, "joint_pain")}), "toe.passive_extension", body.Left)
	assert.True(t, f.Refer)
	assert.Equal(t, Clear, f.Verdict)
	_, ok := Read([]Trial{trial("balance.open", body.Left, 45, "support")}, "balance.open", body.Left)
	assert.False(t, ok, "a supported trial is kept and not counted")
}

// Scores below 2 are short, fault scores from 2; a step is a step.
func TestScores(t *testing.T) {
	for v, want := range []Verdict{Short, Short, Clear, Clear} {
		assert.Equal(t, want, find(found([]Trial{trial("foot.short", body.Left, float64(v))}), "foot.short", body.Left).Verdict, v)
	}
	for v, want := range []Verdict{Clear, Clear, Short, Short} {
		x := trial("gait.sound", body.Both, float64(v))
		x.Context = easy
		assert.Equal(t, want, find(found([]Trial{x}), "gait.sound", body.Both).Verdict, v)
	}
	for v, want := range map[float64]Verdict{0: Clear, 1: Borderline, 2: Borderline, 3: Short, 9: Short} {
		assert.Equal(t, want, find(found([]Trial{trial("walk.heels", body.Left, v)}), "walk.heels", body.Left).Verdict, v)
	}
}

func TestSteady(t *testing.T) {
	held := []float64{0, 5, 12, 20, 28, 33, 33.4, 33.6, 33.3, 33.5, 33.7, 33.5, 33.4, 33.6, 33.5, 33.3}
	d, ok := Steady(held, 10)
	assert.True(t, ok)
	assert.InDelta(t, 33.5, d, 0.1)
	_, ok = Steady(held[:12], 10)
	assert.False(t, ok, "still moving within the last second")
	_, ok = Steady(make([]float64, 20), 10)
	assert.False(t, ok, "upright is not a test")
	_, ok = Steady(held[:3], 10)
	assert.False(t, ok)
}

// Four plates of 2, 5, 10 and 20 mm build fifteen heights; 12 mm is 10 and 2.
func TestStacks(t *testing.T) {
	s := Stacks([]float64{20, 2, 10, 5})
	require.Len(t, s, 15)
	assert.Equal(t, 2.0, s[0].Mm)
	assert.Equal(t, 37.0, s[14].Mm)
	i := slices.IndexFunc(s, func(x Stack) bool { return x.Mm == 12 })
	assert.Equal(t, []float64{2, 10}, s[i].Plates)
	same := Stacks([]float64{5, 5, 10})
	i = slices.IndexFunc(same, func(x Stack) bool { return x.Mm == 10 })
	assert.Equal(t, []float64{10}, same[i].Plates, "the fewest plates")
	assert.Empty(t, Stacks(nil))
	many := make([]float64, 40)
	for i := range many {
		many[i] = float64(i + 1)
	}
	assert.Equal(t, 355.0, Stacks(many)[len(Stacks(many))-1].Mm, "the ten thickest: 31 + … + 40")
}
