package screen

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

func running(m string, side body.Side, v float64, pace string) Trial {
	x := trial(m, side, v)
	x.Context = &Context{Pace: pace, Shod: "shoes"}
	return x
}

func read(p body.Profile, ts ...Trial) []Finding { return Findings(ts, p, day, house.Rules{}) }

// No strike is simply bad: the slope, the speed and what stands beside it decide. Common practice, no
// source.
func TestStrikeInItsContext(t *testing.T) {
	p := subject()
	p.Goal = "hills"
	const rear, mid, fore = 0, 1, 2
	strike := func(p body.Profile, class float64, pace string, more ...Trial) Finding {
		fs := read(p, append(more, running("gait.strike", body.Left, class, pace))...)
		f := find(fs, "gait.strike", body.Left)
		return *f
	}
	assert.Equal(t, Noted, strike(p, rear, "easy").Verdict, "a heel strike alone at easy pace is not a finding")
	assert.Equal(t, Noted, strike(p, rear, "down").Verdict, "heel braking on a descent is fine")
	assert.Equal(t, Noted, strike(p, fore, "fast").Verdict)
	assert.Equal(t, Noted, strike(p, fore, "up").Verdict)
	assert.Equal(t, Noted, strike(p, mid, "easy").Verdict)
	loud := strike(p, rear, "easy", running("gait.sound", body.Both, 2, "easy"))
	assert.Equal(t, Short, loud.Verdict)
	assert.Contains(t, loud.Reason.Says, "a loud landing is a finding; the remedy is the chain")
	assert.Equal(t, Noted, strike(p, rear, "easy", running("gait.sound", body.Both, 2, "fast")).Verdict, "loud in another context")
	over := strike(p, rear, "easy", running("gait.overstride", body.Left, 40, "easy"))
	assert.Contains(t, over.Reason.Says, "overstride")
	slow := strike(p, rear, "easy", running("gait.cadence", body.Both, 160, "easy"))
	assert.Contains(t, slow.Reason.Says, "low cadence")
	fs := read(p, running("gait.strike", body.Left, mid, "easy"), running("gait.strike", body.Left, rear, "fast"))
	require.Len(t, fs, 2)
	assert.Equal(t, "hip_posture", fs[1].Limiter, "a heel strike only when speeding up points to hip extension")
	fs = read(p, running("gait.strike", body.Left, rear, "easy"), running("gait.strike", body.Left, rear, "fast"))
	require.Len(t, fs, 2)
	assert.Equal(t, Noted, fs[1].Verdict, "it is there at easy pace too")
	p.Goal = "distance"
	assert.Equal(t, Borderline, strike(p, fore, "easy").Verdict, "either extreme over distance")
	p.Approaches["strike"] = "middle"
	assert.Contains(t, strike(p, rear, "easy").Reason.Says, "never by a jump between classes")
	p.Symptoms = []body.Symptom{{Region: body.Knee, Side: body.Left}}
	assert.Contains(t, strike(p, rear, "easy").Reason.Says, "symptoms")
	angle := find(read(p, running("gait.strike_angle", body.Left, 15, "down")), "gait.strike_angle", body.Left)
	assert.Equal(t, "rearfoot", angle.Word)
	assert.Contains(t, angle.Reason.Formula, "rearfoot above 8°, forefoot below -1.6°")
}

// Down the chain: posture, hips, arms, cadence, landing, and only then the strike.
func TestChainOrder(t *testing.T) {
	p := subject()
	fs := read(p, running("gait.strike", body.Left, 0, "easy"), running("gait.sound", body.Both, 3, "easy"),
		running("gait.cadence", body.Both, 160, "easy"), running("gait.arms", body.Left, 1, "easy"),
		running("gait.hips", body.Both, 1, "easy"), running("gait.posture", body.Both, 0, "easy"))
	names := func(ls []Link) (out []string) {
		for _, l := range ls {
			out = append(out, l.ID)
		}
		return out
	}
	ls := Chain(fs, p, house.Rules{})
	assert.Equal(t, []string{"posture", "hips", "arms", "cadence", "landing", "strike"}, names(ls))
	assert.Equal(t, "Leave alone.", ls[0].Says)
	assert.True(t, ls[1].First)
	assert.Contains(t, ls[1].Says, "Begin here.")
	for _, l := range ls[2:] {
		assert.False(t, l.First, l.ID)
	}
	p.Approaches["gait_lever"] = "cadence"
	assert.Equal(t, []string{"cadence", "posture", "hips", "arms", "landing", "strike"}, names(Chain(fs, p, house.Rules{})))
	only := Chain(read(p, running("gait.strike", body.Left, 0, "easy"), running("gait.sound", body.Both, 2, "easy")), p, house.Rules{})
	assert.False(t, only[len(only)-1].First, "never begin with the strike")
	assert.Empty(t, Chain(read(p, trial("ankle.knee_to_wall", body.Left, 5)), p, house.Rules{}))
}

func TestCadenceLeftAlone(t *testing.T) {
	p := subject()
	p.Approaches["cadence"] = "leave"
	f := find(read(p, running("gait.cadence", body.Both, 150, "easy")), "gait.cadence", body.Both)
	assert.Equal(t, Noted, f.Verdict)
	assert.Zero(t, f.Severity)
}

// A posture alone limits nobody, unless the practice treats pronation as a fault.
func TestPronationByApproach(t *testing.T) {
	p := subject()
	x := trial("foot.posture_index", body.Left, 8)
	assert.Equal(t, Noted, find(read(p, x), "foot.posture_index", body.Left).Verdict)
	p.Approaches["pronation"] = "fault"
	f := find(read(p, x), "foot.posture_index", body.Left)
	assert.Equal(t, Short, f.Verdict)
	assert.Equal(t, "pronated", f.Word)
}

func TestPatterns(t *testing.T) {
	ids := func(p body.Profile, ts ...Trial) map[string]Pattern {
		out := map[string]Pattern{}
		for _, x := range Patterns(read(p, ts...), p, day) {
			out[x.ID] = x
			assert.Contains(t, x.Says, "not a diagnosis", x.ID)
		}
		return out
	}
	with := func(r body.Region, since body.Date, when ...string) body.Profile {
		p := subject()
		p.Symptoms = []body.Symptom{{Region: r, Side: body.Left, Worst: 5, Baseline: 3, When: when, Since: since}}
		return p
	}
	morning := ids(with(body.HeelSole, "", "first_steps", "easing"), trial("walk.heels", body.Left, 4))["morning_heel"]
	assert.Contains(t, morning.Says, "may point to")
	assert.Len(t, morning.Reason.Saw, 2, "the symptom and the walk")
	assert.Contains(t, ids(subject(), trial("walk.heels", body.Right, 2)), "heel_walk")
	assert.Contains(t, ids(with(body.Achilles, "", "first_steps")), "morning_achilles")
	assert.False(t, ids(with(body.Shin, day.Add(-21), "during_run"))["shin"].Now)
	assert.True(t, ids(with(body.Shin, day.Add(-22), "during_run"))["shin"].Now, "longer than 21 days: refer")
	assert.True(t, ids(with(body.Calf, "", "night"))["rest_pain"].Now)
	young := with(body.HeelSole, "", "after")
	young.BirthDate = "2012-01-01"
	assert.True(t, ids(young)["growing"].Now)
	assert.True(t, ids(subject(), trial("toe.passive_extension", body.Left, 60, "joint_pain"))["toe_joint_pain"].Now)
	// Free unloaded but short with the ankle bent: the fascia. Short in both: the joint.
	assert.Contains(t, ids(subject(), trial("toe.loaded_extension", body.Left, 20), trial("toe.passive_extension", body.Left, 65)),
		"sole_tight")
	both := ids(subject(), trial("toe.loaded_extension", body.Left, 20), trial("toe.passive_extension", body.Left, 30))
	assert.Contains(t, both, "toe_joint")
	assert.NotContains(t, both, "sole_tight")
	assert.Contains(t, ids(subject(), trial("toe.active_height", body.Left, 10), trial("toe.passive_height", body.Left, 40)), "toe_control")
	pinch := ids(subject(), trial("ankle.end_feel", body.Left, 1, "painful"))["front_pinch"]
	assert.True(t, pinch.Now)
	assert.Contains(t, pinch.Says, "no forced stretching")
	assert.Contains(t, ids(subject(), trial("toes.shape", body.Left, 1)), "clawed")
	assert.Contains(t, ids(subject(), trial("stance.chest", body.Both, 1)), "posture_cue")
	assert.Empty(t, ids(subject(), trial("ankle.knee_to_wall", body.Left, 12)))
}

func TestCompare(t *testing.T) {
	h := house.Rules{}
	one := func(x Trial) Finding { return read(subject(), x)[0] }
	then := day.Add(-28)
	for _, c := range []struct {
		name      string
		now, then Finding
		want      Change
	}{
		{"1.3 cm is within 1.39", one(trial("ankle.knee_to_wall", body.Left, 9.3)), one(trial("ankle.knee_to_wall", body.Left, 8)), Same},
		{"1.4 cm is past it", one(trial("ankle.knee_to_wall", body.Left, 9.4)), one(trial("ankle.knee_to_wall", body.Left, 8)), Improved},
		{"and worse", one(trial("ankle.knee_to_wall", body.Left, 8)), one(trial("ankle.knee_to_wall", body.Left, 9.4)), Worse},
		{"a step of a score", one(trial("foot.short", body.Left, 2)), one(trial("foot.short", body.Left, 1)), Improved},
		{"pain by one", one(trial("walk.heels", body.Left, 3)), one(trial("walk.heels", body.Left, 4)), Same},
		{"pain by two", one(trial("walk.heels", body.Left, 2)), one(trial("walk.heels", body.Left, 4)), Improved},
		{"pain up by two", one(trial("walk.heels", body.Left, 4)), one(trial("walk.heels", body.Left, 2)), Worse},
		{"a class for the better", one(trial("arch.two_finger", body.Left, 1)), one(trial("arch.two_finger", body.Left, 2)), Improved},
		{"posture back to normal", one(trial("foot.posture_index", body.Left, 4)), one(trial("foot.posture_index", body.Left, 8)), Improved},
		{"strike is never better or worse by itself", one(running("gait.strike", body.Left, 0, "down")),
			one(running("gait.strike", body.Left, 1, "down")), Changed},
		{"mobile at the end is neither better nor worse than a stretch", one(trial("ankle.end_feel", body.Left, 0)),
			one(trial("ankle.end_feel", body.Left, 2)), Changed},
		{"the other way round too", one(trial("ankle.end_feel", body.Left, 2)), one(trial("ankle.end_feel", body.Left, 0)), Changed},
		{"a pinch after a stretch is worse", one(trial("ankle.end_feel", body.Left, 1)), one(trial("ankle.end_feel", body.Left, 0)), Worse},
		{"a hold of 30 after 41", one(trial("hold.forefoot_two", body.Both, 30)), one(trial("hold.forefoot_two", body.Both, 41)), Worse},
		{"and the other way round", one(trial("hold.forefoot_two", body.Both, 41)), one(trial("hold.forefoot_two", body.Both, 30)), Improved},
		{"within it both ways", one(trial("hold.forefoot_two", body.Both, 31)), one(trial("hold.forefoot_two", body.Both, 40)), Same},
		{"and up", one(trial("hold.forefoot_two", body.Both, 40)), one(trial("hold.forefoot_two", body.Both, 31)), Same},
	} {
		got := Compare(c.now, c.then, then, h)
		assert.Equal(t, c.want, got.Change, c.name)
		assert.NotEmpty(t, got.Reason.Says)
	}
	raises := func(n float64, stop string) Finding {
		x := trial("calf.raises_straight", body.Left, n)
		x.Stop = stop
		return one(x)
	}
	assert.Equal(t, Same, Compare(raises(28, "height"), raises(15, StopCeiling), then, h).Change, "it was at least 15: not known to be better")
	assert.Equal(t, Improved, Compare(raises(15, StopCeiling), raises(5, "height"), then, h).Change)
	assert.Equal(t, Same, Compare(raises(15, StopCeiling), raises(28, "height"), then, h).Change, "stopped on purpose is not worse")
	assert.Equal(t, Worse, Compare(raises(5, "height"), raises(15, StopCeiling), then, h).Change)
	assert.Equal(t, Same, Compare(raises(25, StopCeiling), raises(15, StopCeiling), then, h).Change,
		"both stopped on purpose: neither is known")
	contact := func(ms, se float64) Finding {
		x := running("gait.contact", body.Left, ms, "easy")
		x.SE = se
		return one(x)
	}
	assert.Equal(t, Changed, Compare(contact(310, 4), contact(240, 4), then, h).Change, "70 ms against ± 11")
	assert.Equal(t, Same, Compare(contact(310, 40), contact(240, 40), then, h).Change)
}

// A side that was stopped on purpose proves what it proves: ahead, at least this difference; behind, at most.
func TestSidesStoppedOnPurpose(t *testing.T) {
	for _, c := range []struct {
		left, right         float64
		leftStop, rightStop string
		want                Verdict
	}{
		{15, 15, StopCeiling, StopCeiling, Borderline}, // row 36: was clear
		{15, 6, StopCeiling, "height", Short},          // at least 9 apart
		{15, 14, StopCeiling, "height", Borderline},    // at least 1: may be more
		{15, 22, StopCeiling, "height", Borderline},    // at most 7: may be less
		{15, 16, StopCeiling, "height", Clear},         // at most 1
		{15, 15, "height", "height", Clear},
		{6, 15, "height", "height", Short},
	} {
		l, r := trial("calf.raises_straight", body.Left, c.left), trial("calf.raises_straight", body.Right, c.right)
		l.Stop, r.Stop = c.leftStop, c.rightStop
		fs := read(subject(), l, r)
		require.Len(t, fs, 3)
		assert.Equal(t, c.want, fs[2].Verdict, "%v", c)
		if c.left+c.right != 31 && c.left != 15 {
			assert.Equal(t, body.Left, fs[2].Side)
		}
	}
}

// A strike angle whose error reaches into another class is undecided, whatever its point value.
func TestAnUndecidedStrikeIsNotClassed(t *testing.T) {
	for _, c := range []struct {
		angle, se float64
		word      string
	}{{8.5, 4, "midfoot or rearfoot"}, {8.5, 0.1, "rearfoot"}, {3, 8, "forefoot or rearfoot"}, {-1.5, 1, "forefoot or midfoot"},
		{20, 2, "rearfoot"}} {
		x := running("gait.strike_angle", body.Left, c.angle, "easy")
		x.SE = c.se
		p := subject()
		p.Symptoms = []body.Symptom{{Region: body.Shin, Side: body.Left, Worst: 4, Baseline: 2}}
		f := read(p, x)[0]
		assert.Equal(t, c.word, f.Word, "%g ± %g", c.angle, 1.96*c.se)
		if c.se >= 1 && c.angle < 20 {
			assert.Equal(t, Noted, f.Verdict)
			assert.Contains(t, f.Reason.Says, "undecided")
		}
	}
	down := read(subject(), running("gait.strike", body.Left, 2, "down"))[0]
	assert.NotContains(t, down.Reason.Says, "is fine")
	assert.Contains(t, down.Reason.Says, "brakes with the calf")
}

// The runner's own cadence is the easy one in the own shoes: a fast run is not averaged in, and in the usual
// band a reason is needed to change it.
func TestOwnCadence(t *testing.T) {
	count := func(spm float64, pace string) Trial {
		x := running("gait.cadence", body.Both, spm, pace)
		return x
	}
	own, ok := OwnCadence([]Trial{count(160, "easy"), count(186, "fast")}, subject(), house.Rules{})
	require.True(t, ok)
	assert.InDelta(t, 160, own.Reading.Value, 1e-9)
	assert.InDelta(t, 168, own.Target, 1e-9)
	_, ok = OwnCadence([]Trial{count(186, "fast")}, subject(), house.Rules{})
	assert.False(t, ok)
	own, _ = OwnCadence([]Trial{count(178, "easy")}, subject(), house.Rules{})
	assert.Zero(t, own.Target)
	assert.Contains(t, own.Why.Says, "nothing asks for a change")
	loud := running("gait.sound", body.Both, 3, "easy")
	own, _ = OwnCadence([]Trial{count(178, "easy"), loud}, subject(), house.Rules{})
	assert.InDelta(t, 178*1.05, own.Target, 1e-9, "a loud landing asks for it")
}

// A borderline effort to the end is not due the next day; a borderline measurement is. Balance near its cap is
// clear.
func TestWhatFallsDue(t *testing.T) {
	due := func(x Trial, days int) bool {
		x.On = day.Add(-days)
		fs := read(subject(), x)
		return len(DueOn(map[string]body.Date{x.Measure: x.On}, fs, day, house.Rules{})) > 0
	}
	raises := trial("calf.raises_straight", body.Left, 24)
	raises.Stop = "height"
	for days, want := range map[int]bool{1: false, 6: false, 7: true} {
		assert.Equal(t, want, due(raises, days), "raises after %d days", days)
	}
	ankle := trial("ankle.knee_to_wall", body.Left, 10)
	assert.False(t, due(ankle, 0))
	assert.True(t, due(ankle, 1))
	p := subject()
	p.BirthDate = "1999-06-01"
	var at []Trial
	for _, s := range []float64{45, 45, 43} {
		at = append(at, trial("balance.open", body.Left, s))
	}
	assert.Equal(t, Clear, read(p, at...)[0].Verdict, "45, 45 and 43 s")
	for i := range at {
		at[i].Value = 40
	}
	assert.NotEqual(t, Clear, read(p, at...)[0].Verdict)
}

func TestHistorySinceLastAndFirst(t *testing.T) {
	visits := []Visit{}
	for i, v := range []float64{7, 8, 9} {
		visits = append(visits, Visit{On: day.Add(28 * i), Trials: []Trial{trial("ankle.knee_to_wall", body.Left, v)}})
	}
	last, first := History(visits, subject(), house.Rules{})
	require.Len(t, last, 1)
	assert.Equal(t, Same, last[0].Change, "1 cm since last time")
	assert.Equal(t, Improved, first[0].Change, "2 cm since the first")
	assert.Equal(t, day, first[0].Since)
	last, _ = History([]Visit{{On: day, Trials: []Trial{running("gait.sound", body.Both, 2, "easy")}},
		{On: day.Add(9), Trials: []Trial{running("gait.sound", body.Both, 0, "fast")}}}, subject(), house.Rules{})
	assert.Empty(t, last, "another context is another measure")
}

// A trial that brings its own error is judged by it; beside one that was counted, the measure's own.
func TestATrialsOwnError(t *testing.T) {
	x := func(value, se float64) Trial {
		return Trial{ID: fmt.Sprint(value, se), Measure: "gait.overstride", Side: body.Left, Value: value, SE: se, Parts: []float64{},
			Faults: []string{}, Context: &Context{Pace: "easy", Shod: "shoes"}}
	}
	of := func(ts ...Trial) Finding {
		for _, f := range found(ts) {
			if f.Measure == "gait.overstride" {
				return f
			}
		}
		t.Fatal("no finding")
		return Finding{}
	}
	f := of(x(27, 0.5))
	assert.InDelta(t, 0.5, f.Band, 1e-9)
	assert.Equal(t, Short, f.Verdict, "27 % is past 25 ± 0.5")
	f = of(x(27, 0))
	assert.InDelta(t, 3, f.Band, 1e-9)
	assert.Equal(t, Borderline, f.Verdict, "and within 25 ± 3, typed by hand")
	f = of(x(27, 0.6), x(27, 0.8))
	assert.InDelta(t, 0.5, f.Band, 1e-9, "√(0.6² + 0.8²) / 2")
	f = of(x(27, 0.6), x(27, 0))
	assert.InDelta(t, 3, f.Band, 1e-9)
	// Two visits with errors of their own: a change counts past both together.
	h := house.Rules{}
	assert.Equal(t, Improved, Compare(of(x(20, 0.5)), of(x(22, 0.5)), "2026-01-01", h).Change)
	assert.Equal(t, Same, Compare(of(x(20, 0.5)), of(x(22, 3)), "2026-01-01", h).Change)
}

func TestCadenceFromAClipHasNoCountingError(t *testing.T) {
	x := func(value, se float64, parts ...float64) Trial {
		return Trial{ID: fmt.Sprint(value, se), Measure: "gait.cadence", Side: body.Both, Value: value, SE: se,
			Parts: append([]float64{}, parts...), Faults: []string{}, Context: &Context{Pace: "easy", Shod: "shoes"}}
	}
	half := func(ts ...Trial) float64 { return found(ts)[0].Half }
	assert.InDelta(t, 1.96*0.3, half(x(168, 0.3)), 1e-9)
	assert.InDelta(t, 1.96*2, half(x(168, 0, 41.5)), 1e-9, "one count: twice the measure's error")
	assert.GreaterOrEqual(t, half(x(168, 0.3), x(170, 0, 42)), 2., "with a count among them, never under ± 2")
	assert.Greater(t, half(x(168, 0.3), x(172, 0.3)), 10., "two clips that disagree: their spread counts")
}

// Common practice, no source: 4 to 6 steps a minute at a time, two weeks each.
func TestPropertyCadenceSteps(t *testing.T) {
	h := house.Rules{}
	assert.Equal(t, []Step{{168, 14}, {172, 14}}, CadenceSteps(164, 172.2, h))
	assert.Equal(t, []Step{{166, 14}}, CadenceSteps(163.6, 165.9, h), "a small way is one step")
	assert.Empty(t, CadenceSteps(175, 0, h), "left alone")
	assert.Empty(t, CadenceSteps(175, 170, h), "never slower")
	rapid.Check(t, func(t *rapid.T) {
		own := rapid.Float64Range(130, 190).Draw(t, "own")
		target := own * rapid.Float64Range(1, 1.1).Draw(t, "more")
		at := math.Round(own)
		steps := CadenceSteps(own, target, h)
		for _, s := range steps {
			if s.Spm-at > 6 || s.Spm <= at || (s.Spm-at < 3 && len(steps) > 1) {
				t.Fatalf("from %g to %g", at, s.Spm)
			}
			at = s.Spm
		}
		if len(steps) > 0 && at != math.Round(target) {
			t.Fatalf("ends at %g, not %g", at, target)
		}
	})
}

// What two retests found the same has stalled; one retest, a change in between, or a visit that did not look is not enough.
func TestStalled(t *testing.T) {
	at := func(cms ...float64) map[body.Side][]string {
		var visits []Visit
		for i, cm := range cms {
			v := Visit{ID: fmt.Sprint(i), On: body.Date("2026-01-01").Add(28 * i)}
			if cm > 0 {
				v.Trials = []Trial{{Measure: "ankle.knee_to_wall", Side: body.Left, Value: cm, On: v.On}}
			}
			visits = append(visits, v)
		}
		return Stalled(visits, body.NewProfile(), house.Rules{})
	}
	for _, c := range []struct {
		cms []float64
		is  bool
	}{{[]float64{6, 6.5, 6}, true}, {[]float64{6, 6.5}, false}, {[]float64{3, 6, 6.5}, false}, {[]float64{6, 6.5, 9}, false},
		{[]float64{3, 6, 0, 6.5, 6}, true}, {nil, false}} {
		assert.Equal(t, c.is, slices.Contains(at(c.cms...)[body.Left], "ankle.knee_to_wall"), "%v", c.cms)
	}
}

// What comes down first at ease: by the angle before the eye, of two feet the one that loads the calf more; another pace says nothing.
func TestStrikeAtEase(t *testing.T) {
	easy := &Context{Pace: "easy", Shod: "shoes"}
	at := func(measure string, side body.Side, value float64, c *Context) Trial {
		return Trial{ID: measure + string(side), Measure: measure, Side: side, Value: value, On: "2026-03-01", Context: c}
	}
	for name, c := range map[string]struct {
		trials []Trial
		want   Strike
		ok     bool
	}{
		"nothing":   {nil, "", false},
		"by eye":    {[]Trial{at(body.GaitStrike, body.Left, 0, easy), at(body.GaitStrike, body.Right, 1, easy)}, Midfoot, true},
		"the angle": {[]Trial{at(body.GaitStrike, body.Left, 0, easy), at(body.GaitStrikeAngle, body.Left, -5, easy)}, Forefoot, true},
		"two feet":  {[]Trial{at(body.GaitStrikeAngle, body.Left, -5, easy), at(body.GaitStrikeAngle, body.Right, 15, easy)}, Forefoot, true},
		"when fast": {[]Trial{at(body.GaitStrike, body.Left, 2, &Context{Pace: "fast", Shod: "shoes"})}, "", false},
	} {
		got, ok := StrikeAtEase(c.trials, house.Rules{})
		assert.Equal(t, c.want, got, name)
		assert.Equal(t, c.ok, ok, name)
	}
}
