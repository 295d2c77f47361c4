package gait

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/screen"
)

func stepped(fps float64) Clip {
	c := clip(fps)
	for i := range 6 {
		side := body.Sides[i%2]
		c.Marks = append(c.Marks, down(side, 40*i+10), off(side, 40*i+36))
	}
	return c
}

func TestStillsAreSuggestedFromTheMarks(t *testing.T) {
	c := stepped(120)
	at := map[Moment][]int{}
	for _, s := range c.Suggest() {
		if s.Side == body.Left {
			at[s.At] = append(at[s.At], s.Frame)
		}
		assert.NotEmpty(t, s.Points)
	}
	assert.Equal(t, []int{10, 90, 170}, at[AtTouchdown])
	assert.Equal(t, []int{23, 103, 183}, at[MidStance])
	assert.Equal(t, []int{35, 115, 195}, at[AtToeOff], "the last frame of contact")
	assert.Equal(t, []int{43, 123, 203}, at[MidFlight])
	c.Missing = []int{23}
	for _, s := range c.Suggest() {
		assert.NotEqual(t, 23, s.Frame, "a frame the file left out cannot be looked at")
	}
	c.View = "rear"
	for _, s := range c.Suggest() {
		assert.Equal(t, MidStance, s.At)
	}
	for _, view := range []string{"side", "rear"} {
		for _, s := range Spots(view) {
			assert.NotEmpty(t, s.Name)
			for _, m := range s.At {
				assert.NotEmpty(t, m.Words())
			}
		}
	}
	assert.Equal(t, "toe-off", ToeOff.Words())
	assert.Equal(t, "touchdown", Touchdown.Words())
}

// The hip's rise in cm from a known length; the intervals widen with the scale's own error.
func TestOscillationNeedsAScale(t *testing.T) {
	c := stepped(240)
	hip := func(frame int, at Moment, y float64) Still {
		return Still{Frame: frame, Side: body.Left, At: at, Points: map[string]Point{"hip": {300, y}}}
	}
	c.Stills = []Still{hip(23, MidStance, 250), hip(43, MidFlight, 234), hip(103, MidStance, 251), hip(123, MidFlight, 233)}
	for _, f := range Angles(c, Body{}, rules) {
		assert.NotEqual(t, "oscillation", f.ID, "no scale, no centimetres")
	}
	c.Scale = &Length{Segment{Point{100, 460}, Point{325, 460}}, 1000}
	f := figure(t, Angles(c, Body{}, rules), "oscillation", body.Both)
	assert.InDelta(t, 17/0.225/10, f.Value, 1e-9)
	assert.True(t, f.Answers)
	long := f.Half
	c.Scale = &Length{Segment{Point{100, 460}, Point{122.5, 460}}, 100}
	f = figure(t, Angles(c, Body{}, rules), "oscillation", body.Both)
	assert.InDelta(t, 17/0.225/10, f.Value, 1e-9)
	assert.Greater(t, f.Half, long, "a short known length is a worse one")
	assert.False(t, f.Answers)
	c.Stills = c.Stills[:1]
	for _, f := range Angles(c, Body{}, rules) {
		assert.NotEqual(t, "oscillation", f.ID)
	}
}

func rear(inner map[body.Side]float64) Clip {
	c := stepped(120)
	c.View, c.Heading = "rear", ""
	c.Scale = &Length{Segment{Point{100, 460}, Point{325, 460}}, 1000}
	c.Midline = &Segment{Point{320, 400}, Point{320, 460}}
	for side, x := range inner {
		c.Stills = append(c.Stills, Still{Frame: 23, Side: side, At: MidStance, Points: map[string]Point{
			"inner": {x, 440}, "heel_low": {x, 440}, "heel_high": {x + 3, 420}, "knee": {x, 340}, "hip": {x, 240}}})
	}
	return c
}

// From behind: pixels from the tape become millimetres, minus over it, on either side; heels lean in to
// the middle, so the same lean is in on the left and out on the right.
func TestFromBehind(t *testing.T) {
	c := rear(map[body.Side]float64{body.Left: 311, body.Right: 320.2})
	fs := Angles(c, Body{}, rules)
	l := figure(t, fs, "crossover", body.Left)
	assert.InDelta(t, 40, l.Value, 1e-6)
	assert.Equal(t, "clear of the line", l.Word)
	assert.Equal(t, "touches the line", figure(t, fs, "crossover", body.Right).Word)
	assert.Equal(t, "over the line", figure(t, Angles(rear(map[body.Side]float64{body.Left: 329}), Body{}, rules), "crossover",
		body.Left).Word)
	assert.InDelta(t, 8.53, figure(t, fs, "heel_in", body.Left).Value, 0.01) // atan(3/20)
	assert.InDelta(t, -8.53, figure(t, fs, "heel_in", body.Right).Value, 0.01)
	assert.InDelta(t, 0, figure(t, fs, "knee_in", body.Left).Value, 1e-9)
	for _, x := range Trials(c, fs, rules) {
		if x.Measure == "gait.crossover" && x.Side == body.Left {
			assert.Zero(t, x.Value, "the class “clear of the line”")
			assert.Zero(t, x.SE, "a class has no standard error")
		}
	}
	c.Midline = nil
	for _, f := range Angles(c, Body{}, rules) {
		assert.NotEqual(t, "crossover", f.ID)
	}
}

// What enters the screen is what can answer: every trial is one the screen accepts, with its own error;
// no strike angle from a slow clip, no cadence that is too coarse.
func TestTakesAreTrialsOfTheScreen(t *testing.T) {
	for _, fps := range []float64{30, 240} {
		c := stepped(fps)
		c.Stills = []Still{posed(AtTouchdown, body.Left, 10, 15, 5, 20, 6), posed(MidStance, body.Left, 23, 0, 0, 40, 6)}
		r, err := Read(c, Body{LegMm: 900, HeightCm: 175, MassKg: 70}, rules)
		require.NoError(t, err)
		strike := false
		require.NotEmpty(t, r.Takes)
		for _, x := range r.Takes {
			p := body.NewProfile()
			p.LegMm = 900
			_, err := screen.Enter(x, 0, p)
			assert.NoError(t, err, x.Measure)
			assert.Equal(t, c.Context.Key(), x.Key())
			strike = strike || x.Measure == "gait.strike_angle"
			assert.Positive(t, x.SE, x.Measure)
		}
		assert.Equal(t, fps >= 120, strike)
	}
	c := clip(30, down(body.Left, 0), off(body.Left, 8), down(body.Right, 10), off(body.Right, 18), down(body.Left, 20))
	fs := Times(c, rules)
	assert.False(t, figure(t, fs, "cadence", body.Both).Answers, "two steps at 30 frames a second")
	for _, x := range Trials(c, fs, rules) {
		assert.NotEqual(t, "gait.cadence", x.Measure)
	}
}

// A strike angle is classed only where its whole interval lies in one class.
func TestStrikeWords(t *testing.T) {
	for _, x := range []struct {
		angle, half, fps float64
		word             string
		answers          bool
	}{
		{15, 4, 240, "rearfoot", true}, {3, 4, 240, "midfoot", true}, {-8, 4, 240, "forefoot", true}, {7, 3, 240, "rearfoot or midfoot", false},
		{-1, 3, 240, "midfoot or forefoot", false}, {3, 12, 240, "cannot tell", false}, {15, 4, 60, "by eye only", false},
		{8, 0, 240, "midfoot", true}, {8.1, 0, 240, "rearfoot", true},
	} {
		ok, word, says := classed(x.angle, x.half, x.fps, rules)
		assert.Equal(t, x.word, word)
		assert.Equal(t, x.answers, ok)
		assert.NotEmpty(t, says)
	}
	c := stepped(240)
	c.Stills = []Still{posed(AtTouchdown, body.Left, 10, 15, 5, 20, 6)}
	f := figure(t, Angles(c, Body{}, rules), "strike", body.Left)
	assert.Equal(t, "mark the shoe flat too", f.Word)
	assert.False(t, f.Answers)
}

func TestTwoClipsDifferOnlyPastBothErrors(t *testing.T) {
	fig := func(id string, side body.Side, v, half float64) Figure {
		return Figure{ID: id, Name: id, Side: side, Value: v, Half: half, N: 1, Unit: "ms"}
	}
	first := []Figure{fig("contact", body.Left, 250, 3), fig("contact", body.Right, 240, 3), fig("cadence", body.Both, 170, 1)}
	second := []Figure{fig("contact", body.Left, 255, 4), fig("contact", body.Right, 247, 4), fig("cadence", body.Both, 168, 1),
		fig("flight", body.Left, 80, 3)}
	words := func(ds []Difference) []string {
		out := []string{}
		for _, d := range ds {
			out = append(out, string(d.Side)+"→"+string(d.To)+" "+d.Word)
		}
		return out
	}
	// Left 5 against √(3² + 4²) = 5: not past it. Right 7: past it. Cadence −2 against √2.
	assert.Equal(t, []string{"left→left no difference seen", "right→right more", "both→both less"}, words(Differ(first, second, false)))
	assert.Equal(t, []string{"left→right less"}, words(Differ(first, first, true)))
}

func BenchmarkRead(b *testing.B) {
	c := stepped(240)
	for i := range 20 {
		c.Stills = append(c.Stills, posed(AtTouchdown, body.Left, 10+i, 15, 5, 20, 6))
	}
	for b.Loop() {
		if _, err := Read(c, Body{LegMm: 900, HeightCm: 175, MassKg: 70}, rules); err != nil {
			b.Fatal(err)
		}
	}
}

// Where the file leaves out the frame before a landing, the landing may be two frames old: the angle's
// error is that of half the rate, and so is what may be said of the strike.
func TestAGapBeforeAStillWidensItsAngle(t *testing.T) {
	c := stepped(120)
	c.Stills = []Still{posed(AtTouchdown, body.Left, 10, 15, 5, 20, 6), posed(MidStance, body.Left, 23, 0, 0, 40, 6)}
	whole := Angles(c, Body{}, rules)
	c.Missing = []int{9}
	gap := Angles(c, Body{}, rules)
	for _, id := range []string{"shin", "strike"} {
		a, b := figure(t, whole, id, body.Left), figure(t, gap, id, body.Left)
		assert.InDelta(t, a.Value, b.Value, 1e-9)
		assert.Greater(t, b.SE, 1.3*a.SE, id)
	}
	assert.Equal(t, "rearfoot", figure(t, whole, "strike", body.Left).Word)
	assert.Equal(t, "by eye only", figure(t, gap, "strike", body.Left).Word)
	assert.InDelta(t, figure(t, whole, "trunk", body.Both).SE, figure(t, gap, "trunk", body.Both).SE, 1e-9, "the trunk hardly turns")
}
