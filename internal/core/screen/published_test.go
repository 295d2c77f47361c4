package screen

import (
	"fmt"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Esculier et al. 2015, J Foot Ankle Res 8:42 (from memory): mass 285 g → 1, heel stack 32 mm → 0,
// drop 8 mm → 2, one device → 4, flexibility 1 + 1 = 2: 9 of 25 is 36 %.
func ExampleMinimalistIndex() {
	x := MinimalistIndex(body.Shoe{MassG: 285, HeelMm: 32, ForefootMm: 24, Technologies: 1, Lengthwise: 1, Twisting: 1}, 0)
	fmt.Printf("%.0f %%, drop %.0f mm\n", x.Index, x.DropMm)
	// Output: 36 %, drop 8 mm
}

// Three reaches of 60, 100 and 95 cm on a leg of 90 cm: 255 / 270 = 94.4 % (Plisky et al. 2006, the
// three-direction composite; arithmetic).
func ExampleComposite() {
	fmt.Printf("%.1f %%\n", Composite([]float64{60, 100, 95}, 90))
	// Output: 94.4 %
}

// Altman & Davis 2012, Gait & Posture 35:298 (from memory).
func TestStrikeClasses(t *testing.T) {
	for _, c := range []struct {
		angle float64
		want  Strike
	}{{25, Rearfoot}, {8.1, Rearfoot}, {8, Midfoot}, {0, Midfoot}, {-1.6, Midfoot}, {-1.7, Forefoot}, {-12, Forefoot}} {
		assert.Equal(t, c.want, StrikeOf(c.angle, house.Rules{}), c.angle)
	}
}

// Redmond, Crosbie & Ouvrier 2006, Clin Biomech 21:89 (from memory): 0–5 normal, 6–9 pronated, 10
// and above highly pronated, −1 to −4 supinated, −5 and below highly supinated.
func TestFootPostureClasses(t *testing.T) {
	for i := -12; i <= 12; i++ {
		want := "normal"
		switch {
		case i >= 10:
			want = "highly pronated"
		case i >= 6:
			want = "pronated"
		case i <= -5:
			want = "highly supinated"
		case i < 0:
			want = "supinated"
		}
		got, _ := PostureClass(float64(i), house.Rules{})
		assert.Equal(t, want, got, i)
	}
}

// A shoe whose flexibility nobody tried is not a stiff one: the index is between two figures, five points of 25 apart.
func TestAFlexibilityLeftEmptyIsUnknown(t *testing.T) {
	s := body.Shoe{MassG: 325, HeelMm: 45, ForefootMm: 32, Technologies: 6}
	x := MinimalistIndex(s, 0)
	assert.Equal(t, -1.0, x.Index)
	assert.Contains(t, x.Reason.Says, "between 0 and 20 %")
	s.Twisting = 0.5
	x = MinimalistIndex(s, 0)
	assert.Equal(t, -1.0, x.Index, "one of the two is not both")
	assert.Contains(t, x.Reason.Says, "between 2 and 12 %")
	s.Flexed = true
	assert.Equal(t, 2.0, MinimalistIndex(s, 0).Index)
}

// Esculier et al. 2015 (from memory): the limits of each score.
func TestMinimalistIndexScores(t *testing.T) {
	lightest := body.Shoe{MassG: 120, HeelMm: 6, ForefootMm: 6, Lengthwise: 2.5, Twisting: 2.5}
	assert.Equal(t, 100.0, MinimalistIndex(lightest, 0).Index)
	heaviest := body.Shoe{MassG: 325, HeelMm: 45, ForefootMm: 32, Technologies: 6, Flexed: true}
	assert.Equal(t, 0.0, MinimalistIndex(heaviest, 0).Index)
	step := func(change func(*body.Shoe)) float64 {
		s := lightest
		change(&s)
		return (100 - MinimalistIndex(s, 0).Index) / 4 // points lost
	}
	for _, c := range []struct {
		mass float64
		lost float64
	}{{124, 0}, {125, 1}, {174, 1}, {175, 2}, {225, 3}, {275, 4}, {324, 4}, {325, 5}} {
		assert.InDelta(t, c.lost, step(func(s *body.Shoe) { s.MassG = c.mass }), 1e-9, "mass %g", c.mass)
	}
	for _, c := range []struct{ stack, lost float64 }{{7.9, 0}, {8, 1}, {14, 2}, {20, 3}, {26, 4}, {32, 5}} {
		assert.InDelta(t, c.lost, step(func(s *body.Shoe) { s.HeelMm, s.ForefootMm = c.stack, c.stack }), 1e-9, "stack %g", c.stack)
	}
	for _, c := range []struct{ drop, lost float64 }{{0.9, 0}, {1, 1}, {4, 2}, {7, 3}, {10, 4}, {13, 5}} {
		got := MinimalistIndex(body.Shoe{MassG: 120, HeelMm: 40, ForefootMm: 40 - c.drop, Lengthwise: 2.5, Twisting: 2.5}, 0).Index
		assert.InDelta(t, c.lost, (80-got)/4, 1e-9, "drop %g; the stack alone costs 5", c.drop)
	}
	assert.InDelta(t, 3, step(func(s *body.Shoe) { s.Technologies = 3 }), 1e-9)
	assert.Equal(t, -1.0, MinimalistIndex(body.Shoe{MassG: 200}, 0).Index, "a stack is missing")
	narrow := MinimalistIndex(body.Shoe{MassG: 200, HeelMm: 30, ForefootMm: 12, WidthMm: 90}, 98)
	assert.Equal(t, 8.0, narrow.Narrow)
	assert.Len(t, narrow.Warnings, 2, "narrow, and the heel more than twice the forefoot")
}

// Springer et al. 2007, J Geriatr Phys Ther 30:8 (from memory): means of three trials by age, eyes
// open / closed. Arms were crossed there, hands are on the hips here.
func TestBalanceNormsByAge(t *testing.T) {
	for _, c := range []struct {
		age          int
		open, closed float64
	}{{18, 43.3, 9.4}, {39, 43.3, 9.4}, {40, 40.3, 7.3}, {49, 40.3, 7.3}, {50, 37, 4.8}, {60, 26.9, 2.8}, {69, 26.9, 2.8}, {70, 15, 2},
		{80, 6.2, 1.3}, {95, 6.2, 1.3}} {
		p := subject()
		p.BirthDate = body.Date(fmt.Sprintf("%d-01-01", 2026-c.age))
		fs := Findings([]Trial{trial("balance.open", body.Left, 20), trial("balance.closed", body.Left, 5)}, p, day, house.Rules{})
		assert.Equal(t, c.open, find(fs, "balance.open", body.Left).Reference, c.age)
		assert.Equal(t, c.closed, find(fs, "balance.closed", body.Left).Reference, c.age)
	}
	f := find(found([]Trial{trial("balance.open", body.Left, 45)}), "balance.open", body.Left)
	assert.Equal(t, Clear, f.Verdict, "reaching the cap is clear, though 45 lies within 40.3 ± 4")
}

// Mean of 162, 166, 162 is 163.3; s = 2.309; t(0.975, 2) = 4.303 (table of Student's t): 4.303 × 2.309
// / √3 = 5.74. A 15 s count of 40 further footfalls is 162 ± 2, not 160.
func TestCadenceIntervalAndFootfalls(t *testing.T) {
	assert.InDelta(t, 5.74, CadenceInterval([]float64{162, 166, 162}, 2), 0.01)
	assert.Equal(t, 2.0, CadenceInterval([]float64{170, 170, 170}, 2), "never better than a 15 s count can tell")
	assert.InDelta(t, 3.92, CadenceInterval([]float64{170}, 2), 1e-9, "one count: 1.96 × the default error")
	assert.Equal(t, 162.0, Footfalls(40))
	how := &Context{Pace: "easy", Shod: "shoes"}
	tapped, err := Enter(Trial{Measure: "gait.cadence", Side: body.Both, Parts: []float64{0, 0.35, 0.7, 1.05, 1.4, 1.75, 2.1, 2.45},
		Context: how}, 0, subject())
	require.NoError(t, err)
	assert.InDelta(t, 60/0.35, tapped.Value, 0.05, "taps 0.35 s apart")
	_, err = Enter(Trial{Measure: "gait.cadence", Side: body.Both, Parts: []float64{0, 2, 1, 3, 4, 5, 6, 7}, Context: how}, 0, subject())
	assert.ErrorContains(t, err, "not in order")
	_, err = Enter(Trial{Measure: "gait.cadence", Side: body.Both, Parts: []float64{200}, Context: how}, 0, subject())
	assert.ErrorContains(t, err, "enter 10 to 80")
	_, err = Enter(Trial{Measure: "gait.cadence", Side: body.Both, Parts: []float64{40}}, 0, subject())
	assert.ErrorContains(t, err, "say how they ran")
}

// Heiderscheit et al. 2011, MSSE 43:296 (from memory): 5 % above the preferred rate. The band of
// 170–190 is common practice, no source.
func TestCadenceTarget(t *testing.T) {
	h := house.Rules{}
	for _, c := range []struct {
		own      float64
		approach string
		want     float64
	}{{160, "own", 168}, {192, "own", 0}, {160, "band", 170}, {150, "band", 165}, {175, "band", 0}, {150, "leave", 0}, {178, "own", 0},
		{188, "own", 0}} {
		got, _ := CadenceTarget(c.own, c.approach, nil, h)
		assert.InDelta(t, c.want, got, 1e-9, "%g %s", c.own, c.approach)
	}
}

// The load on one leg is body mass and what is added: 70 + 20 = 90 kg for 10 repetitions is 4/3 × 90 =
// 120 kg by Epley 1985 and by Brzycki 1993 alike.
func TestRepetitionMaximum(t *testing.T) {
	x, err := Enter(Trial{Measure: "calf.rm", Side: body.Left, Parts: []float64{20, 10}, On: day}, 0, subject())
	require.NoError(t, err)
	assert.InDelta(t, 120, x.Value, 1e-9)
	rd, ok := Read([]Trial{x}, "calf.rm", body.Left)
	require.True(t, ok)
	assert.Contains(t, body.Plain(rd.Reason.Saw[2].Value), "Epley 120.0 kg, Brzycki 120.0 kg")
	f := find(found([]Trial{x}), "calf.rm", body.Left)
	assert.InDelta(t, 1.4*70, f.Reference, 1e-9)
	assert.Equal(t, Clear, f.Verdict)
	light := subject()
	light.MassKg = 0
	_, err = Enter(Trial{Measure: "calf.rm", Side: body.Left, Parts: []float64{20, 10}}, 0, light)
	assert.ErrorContains(t, err, "needs the body mass")
	_, err = Enter(Trial{Measure: "calf.rm", Side: body.Left, Parts: []float64{20, 15}}, 0, subject())
	assert.ErrorContains(t, err, "repetitions is 15; enter 2 to 12")
}

// Plisky et al. 2006 (from memory): more than 4 cm between the sides to the front is notable. Leg
// 90 cm: 58 cm is 64.4 %.
func TestReach(t *testing.T) {
	var ts []Trial
	for i, side := range body.Sides {
		ts = append(ts, trial("reach.front", side, 58+8*float64(i)), trial("reach.side", side, 70), trial("reach.back", side, 72),
			trial("reach.cross", side, 63))
	}
	fs := found(ts)
	assert.InDelta(t, 64.44, find(fs, "reach.front", body.Left).Value, 0.01)
	d := find(fs, "reach.front.side", "")
	assert.Equal(t, "cm", d.Unit)
	assert.InDelta(t, 8, d.Value, 1e-9)
	assert.Equal(t, body.Left, d.Side)
	assert.Equal(t, Short, d.Verdict)
	assert.InDelta(t, 100*263/360.0, find(fs, "reach.composite", body.Left).Value, 0.01)
	_, err := Enter(trial("reach.front", body.Left, 60), 0, body.Profile{})
	assert.ErrorContains(t, err, "share of leg length")
}

// Hopkins 2000, Sports Med 30:1 (from memory): typical error = SD of the differences / √2. Twenty
// pairs whose differences are ten times +1 and ten times −1: SD = √(20/19), TE = 0.7255.
func TestTypicalErrorNeedsEnoughPairs(t *testing.T) {
	pairs := map[string][]Pair{}
	for i := range 20 {
		pairs["ankle.knee_to_wall"] = append(pairs["ankle.knee_to_wall"], Pair{9, 9 + float64(1-2*(i%2))})
	}
	out := TypicalErrors(pairs, house.Rules{})
	require.Len(t, out, 1)
	assert.True(t, out[0].Enough)
	assert.InDelta(t, math.Sqrt(20.0/19)/math.Sqrt2, out[0].Error, 1e-9)
	assert.Less(t, out[0].Low, out[0].Error)
	assert.Greater(t, out[0].High, out[0].Error)
	pairs["ankle.knee_to_wall"] = pairs["ankle.knee_to_wall"][:19]
	out = TypicalErrors(pairs, house.Rules{})
	assert.False(t, out[0].Enough)
	assert.Zero(t, out[0].Error, "not shown before there are twenty")
}

// The table in docs is the one the core makes.
func TestTheTableOfMeasuresIsCurrent(t *testing.T) {
	have, err := os.ReadFile("../../../docs/measures.md")
	require.NoError(t, err)
	assert.Equal(t, Table(house.Rules{}), string(have), "run ./notchback types and commit")
}

// The raise reference falls with age (Hébert-Losier et al. 2017, Physiotherapy 103:446, from memory, bands rounded): 25
// under 50 (Lunsford & Perry 1995), then 21, 18 and 14.
func TestRaisesOfTheirAge(t *testing.T) {
	for _, c := range []struct {
		born body.Date
		want float64
	}{{"1990-01-01", 25}, {day.Add(-18262 + 1), 25}, {day.Add(-18263), 21}, {"1965-06-01", 18}, {"1966-12-01", 21}, {"1950-01-01", 14}} {
		p := subject()
		p.BirthDate = c.born
		fs := Findings([]Trial{{ID: "a", Measure: "calf.raises_straight", Side: body.Left, Value: 20, Stop: "height", On: day, Parts: []float64{},
			Faults: []string{}}}, p, day, house.Rules{})
		f := find(fs, "calf.raises_straight", body.Left)
		if assert.NotNil(t, f) {
			assert.Equal(t, c.want, f.Reference, "born %s, %d years", c.born, p.Age(day))
		}
	}
}

// A pair run down, grown old or worn in one place says so: 700 km and 24 months are common practice, no source.
func TestWhatAWornPairSays(t *testing.T) {
	for _, c := range []struct {
		shoe body.Shoe
		want []string
	}{
		{body.Shoe{Km: 699}, nil},
		{body.Shoe{Km: 700}, []string{"Run down at 700 km"}},
		{body.Shoe{Bought: day.Add(-730), Km: 100}, []string{"Bought "}},
		{body.Shoe{Bought: day.Add(-728)}, nil},
		{body.Shoe{Bought: day.Add(-900), Km: 900, Worn: "outer heel, left"}, []string{"Run down at 900 km", "Worn at: outer heel, left."}},
	} {
		got := Shoe(c.shoe, 0, day, house.Rules{}).Warnings
		if assert.Len(t, got, len(c.want), "%+v: %v", c.shoe, got) {
			for i, w := range c.want {
				assert.Contains(t, body.Plain(got[i]), w)
			}
		}
	}
}
