package selfcheck_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/core/selfcheck"
	"notchback/internal/standin"
)

// walker draws one of many: how fast and evenly they run, how well they count, and how a phone is carried.
func walker(r *rand.Rand) standin.Walker {
	between := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	return standin.Walker{Cadence: between(142, 205), Step: between(0.01, 0.03), Drift: between(0.002, 0.012), Uneven: between(0, 0.04),
		Slip: between(0, 0.1), Shake: between(2, 12), Swing: between(0, 4), Noise: between(0.2, 2)}
}

// read is the cadence a check comes to, with half its interval.
func read(t *testing.T, tries []selfcheck.Try) (value, half float64) {
	t.Helper()
	c, err := selfcheck.Check{ID: "now", On: "2026-05-04", Tries: tries}.Enter(body.Profile{})
	require.NoError(t, err)
	lines := c.Lines(nil, body.Profile{}, house.Rules{})
	require.Len(t, lines, 1)
	return lines[0].Value, lines[0].Half
}

// TestCadenceHoldsTheTruth: of 2,000 simulated walkers of known cadence the stated interval holds the truth in at least 95 %
// with four counts, half of them within 3.5 a minute; with the motion sensor in 93–98 %.
func TestCadenceHoldsTheTruth(t *testing.T) {
	const walkers = 2000
	for name, way := range map[string]struct {
		low, high, median float64
		take              func(standin.Walker, *rand.Rand) []selfcheck.Try
	}{
		"counted": {0.95, 1, 3.5, func(w standin.Walker, r *rand.Rand) (out []selfcheck.Try) {
			for range 4 {
				out = append(out, selfcheck.Try{Item: "cadence", Side: body.Both, Parts: []float64{float64(w.Count(r))}})
			}
			return out
		}},
		"felt": {0.93, 0.98, 3.5, func(w standin.Walker, r *rand.Rand) []selfcheck.Try {
			var all []selfcheck.Stretch
			for range 4 {
				ms, a := w.Stretch(r)
				all = append(all, selfcheck.Stretch{Ms: ms, A: a})
			}
			return selfcheck.Felt(all)
		}},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			r := rand.New(rand.NewPCG(7, 2026))
			held, halves := 0, []float64{}
			for range walkers {
				w := walker(r)
				value, half := read(t, way.take(w, r))
				if math.Abs(value-w.Cadence) <= half {
					held++
				}
				halves = append(halves, half)
			}
			slices.Sort(halves)
			share, median := float64(held)/walkers, halves[walkers/2]
			t.Logf("held the truth in %.1f %%; half the interval, median %.2f spm", 100*share, median)
			assert.GreaterOrEqual(t, share, way.low)
			assert.LessOrEqual(t, share, way.high)
			assert.LessOrEqual(t, median, way.median)
		})
	}
}

// TestTheSensorSaysNoRunning: what is no steady running is no cadence, and is kept as left out with why.
func TestTheSensorSaysNoRunning(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	row := func(n int, every float64, f func(s float64) float64) (s selfcheck.Stretch) {
		for i := range n {
			s.Ms, s.A = append(s.Ms, every*float64(i)), append(s.A, f(every*float64(i)/1000))
		}
		return s
	}
	steps := func(s float64) float64 { return 9.81 + 5*math.Cos(2*math.Pi*3*s) }
	for name, s := range map[string]selfcheck.Stretch{
		"lying on a table": row(900, 17, func(float64) float64 { return 9.81 + 0.02*r.NormFloat64() }),
		"shaken at random": row(900, 17, func(float64) float64 { return 9.81 + 4*r.NormFloat64() }),
		"walking":          row(900, 17, func(s float64) float64 { return 9.81 + 3*math.Cos(2*math.Pi*1.8*s) }),
		"too short":        row(400, 17, steps),
		"too few readings": row(150, 100, steps),
		"with a hole":      {Ms: append(row(450, 17, steps).Ms, 17_000), A: append(row(450, 17, steps).A, 9)},
		"back in time":     {Ms: []float64{0, 20_000, 5}, A: []float64{1, 2, 3}},
		"not a number":     {Ms: []float64{0, 20_000}, A: []float64{1, math.NaN()}},
	} {
		_, err := selfcheck.Steps(s)
		assert.Error(t, err, name)
		felt := selfcheck.Felt([]selfcheck.Stretch{s})
		require.Len(t, felt, 1, name)
		assert.NotEmpty(t, felt[0].Skipped, name)
	}
	spm, err := selfcheck.Steps(row(900, 17, steps))
	require.NoError(t, err)
	assert.InDelta(t, 180, spm, 0.05)
	spm, err = selfcheck.Steps(row(900, 17, func(s float64) float64 {
		return 9.81 + 2*math.Cos(2*math.Pi*2.8*s) + 4*math.Cos(2*math.Pi*1.4*s)
	}))
	require.NoError(t, err)
	assert.InDelta(t, 168, spm, 0.05, "an arm that swings once a stride does not halve the cadence")
}

// TestWhatMayBeCheckedAlone asks, for runners of every kind of trouble, which items are kept back.
func TestWhatMayBeCheckedAlone(t *testing.T) {
	const today = body.Date("2026-05-04")
	tests := map[string]float64{body.SoleTouch: 0, body.ToesShape: 0, body.AnkleEndFeel: 0, body.BalanceOpen: 45, body.SquatArch: 0}
	trials := []screen.Trial{}
	for _, side := range body.Sides {
		trials = append(trials, screen.Trial{Measure: body.BalanceOpen, Side: side, Value: 40})
	}
	for name, c := range map[string]struct {
		change func(*permit.Facts)
		shut   string
	}{
		"nothing":     {func(*permit.Facts) {}, ""},
		"65 or over":  {func(f *permit.Facts) { f.Profile.BirthDate = "1950-01-01" }, "closed"},
		"a fall":      {func(f *permit.Facts) { f.Profile.Cautions = []string{"fall"} }, "closed"},
		"no feeling":  {func(f *permit.Facts) { f.Profile.Cautions = []string{"sensation"} }, "heels toes"},
		"emergency":   {stop("chest", body.WholePerson), "brim loose sound line cadence knee heels toes open closed arch"},
		"race in two": {func(f *permit.Facts) { f.Profile.Races = []body.Race{{On: today.Add(2), Name: "Causeway"}} }, "toes"},
		"pinch unknown": {func(f *permit.Facts) {
			tests := map[string]float64{body.SoleTouch: 0, body.ToesShape: 0, body.BalanceOpen: 45}
			f.Tests = map[body.Side]map[string]float64{body.Left: tests, body.Right: tests}
		}, "knee"},
	} {
		p := body.NewProfile()
		p.BirthDate = "1990-01-01"
		f := permit.Facts{Today: today, Profile: p, Taken: map[string]body.Date{},
			Tests: map[body.Side]map[string]float64{body.Left: tests, body.Right: tests}}
		for _, m := range screen.Measures {
			for _, side := range m.Sides() {
				f.Taken[m.ID+"|"+string(side)] = today.Add(-20)
			}
		}
		c.change(&f)
		var shut []string
		for _, o := range selfcheck.Offers(screen.Circumstances{Facts: f}, trials, house.Rules{}) {
			for _, s := range o.Sides {
				assert.Equal(t, s.May, s.Why == "", "%s: %s", name, o.ID)
				if !s.May && !slices.Contains(shut, o.ID) {
					shut = append(shut, o.ID)
				}
			}
		}
		assert.Equal(t, c.shut, strings.Join(shut, " "), name)
	}
	untested := screen.Circumstances{Facts: permit.Facts{Today: today, Profile: body.NewProfile()}}
	for _, o := range selfcheck.Offers(untested, nil, house.Rules{}) {
		if o.ID == "closed" {
			assert.False(t, o.Sides[0].May, "eyes closed asks for eyes open beside the coach first")
		}
	}
}

func stop(sign string, where body.Region) func(*permit.Facts) {
	return func(f *permit.Facts) {
		f.Stops = []refer.Stop{{ID: "s", Sign: sign, Region: where, Side: body.Both, On: f.Today}}
	}
}

// TestComparedWithItself: a check is held against the newest earlier one that has the item done the same way, and by no more
// than its error.
func TestComparedWithItself(t *testing.T) {
	check := func(id string, on body.Date, tries ...selfcheck.Try) selfcheck.Check {
		c, err := selfcheck.Check{ID: id, On: on, Tries: tries}.Enter(body.Profile{})
		require.NoError(t, err)
		return c
	}
	open := func(s float64, hand bool) selfcheck.Try {
		return selfcheck.Try{Item: "open", Side: body.Left, Value: s, Hand: hand}
	}
	heels := selfcheck.Try{Item: "heels", Side: body.Right, Value: 4, Where: body.HeelSole}
	first := check("a", "2026-03-01", open(12, false), selfcheck.Try{Item: "heels", Side: body.Right})
	held := check("b", "2026-04-01", open(45, true))
	now := check("c", "2026-05-01", open(30, false), heels, selfcheck.Try{Item: "arch", Side: body.Left, Skipped: "no room"})
	for _, earlier := range [][]selfcheck.Check{{held, first}, {first, held}, {now, held, first, check("d", "2026-06-01", open(1, false))}} {
		lines := now.Lines(earlier, body.Profile{}, house.Rules{})
		require.Len(t, lines, 3)
		assert.Equal(t, "heels", lines[0].Item)
		assert.Equal(t, screen.Worse, lines[0].Change)
		assert.Equal(t, body.HeelSole, lines[0].Where)
		assert.Equal(t, body.Date("2026-03-01"), lines[1].Since, "held on to something is another test")
		assert.Equal(t, screen.Improved, lines[1].Change)
		assert.Equal(t, "no room", lines[2].Skipped)
		worst, ok := selfcheck.Worst(lines)
		assert.True(t, ok)
		assert.EqualValues(t, 4, worst.Value)
	}
	for name, bad := range map[string][]selfcheck.Try{
		"nothing told": {}, "no such item": {{Item: "jump", Side: body.Both}},
		"pain without its place": {{Item: "toes", Side: body.Left, Value: 3}},
		"a side it has not":      {{Item: "sound", Side: body.Left}}, "twice": {open(3, false), open(4, false)},
		"too few footfalls": {{Item: "cadence", Side: body.Both, Parts: []float64{4}}}, "out of range": {open(99, false)},
	} {
		_, err := selfcheck.Check{On: "2026-05-01", Tries: bad}.Enter(body.Profile{})
		assert.Error(t, err, name)
	}
}
