package barefoot

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// sound is a foot that passes everything.
func sound() Foot {
	v := map[string]float64{body.WalkHeels: 0, body.WalkToes: 0, body.ArchTwoFinger: 0, body.AnkleKneeToWall: 12, body.ToeLoadedExtension: 40,
		body.ToesBigAlone: 3, body.ToesOthersAlone: 2, body.ToePress: 3, body.BalanceOpen: 45, body.SquatArch: 0, body.SquatKnee: 0,
		body.CalfRaisesStraight: 25, body.ReachFront: 70, body.ReachSide: 70, body.ReachBack: 70, body.ReachCross: 70}
	other, taken := map[string]float64{}, map[string]body.Date{}
	for m, x := range v {
		other[m], taken[m] = x, monday.Add(-10)
	}
	return Foot{Values: v, Other: other, Failed: map[string]bool{}, Taken: taken, Told: true}
}

func gateOf(approach string, change func(*Foot)) Gate {
	l, r := sound(), sound()
	change(&l)
	return Judge(Input{Feet: map[body.Side]Foot{body.Left: l, body.Right: r}, Age: 40, BigToeMm: 60, Approach: approach}, monday)
}

// Each item and each outcome of it, as a worked example: what was measured on the left, and the highest stage it leaves. Common
// practice, no source; the thresholds are house rules.
func TestEachItemOfTheGate(t *testing.T) {
	set := func(m string, v float64) func(*Foot) { return func(f *Foot) { f.Values[m] = v } }
	without := func(ms ...string) func(*Foot) {
		return func(f *Foot) {
			for _, m := range ms {
				delete(f.Values, m)
			}
		}
	}
	bar := func(item string, stage int, unknown bool) func(*Foot) {
		return func(f *Foot) { f.Bars = append(f.Bars, Bar{Item: item, Cap: stage, Unknown: unknown, Says: "so"}) }
	}
	for _, x := range []struct {
		item    string
		outcome Outcome
		cap     int
		change  func(*Foot)
	}{
		{Feeling, Pass, 5, func(*Foot) {}}, {Feeling, Fail, -1, bar(Feeling, None, false)}, {Feeling, Unknown, -1, bar(Feeling, None, true)},
		{Stop, Pass, 5, func(*Foot) {}}, {Stop, Fail, 0, bar(Stop, Home, false)}, {Stop, Fail, -1, bar(Stop, None, false)},
		{Cautions, Pass, 5, func(*Foot) {}}, {Cautions, Fail, 1, bar(Cautions, Walking, false)}, {Cautions, Fail, -1, bar(Cautions, None, false)},
		{Skin, Pass, 5, func(*Foot) {}}, {Skin, Fail, -1, bar(Skin, None, false)},
		{Pain, Pass, 5, func(f *Foot) { f.Pain = 2 }}, {Pain, Fail, 0, func(f *Foot) { f.Pain = 3 }}, {Pain, Fail, 0, set(body.WalkToes, 4)},
		{Pain, Unknown, 2, func(f *Foot) { f.Told = false }},
		{Arch, Pass, 5, set(body.ArchTwoFinger, 0)}, {Arch, Borderline, 5, set(body.ArchTwoFinger, 1)},
		{Arch, Fail, 2, set(body.ArchTwoFinger, 2)},
		{Arch, Unknown, 1, without(body.ArchTwoFinger)},
		{Ankle, Pass, 5, set(body.AnkleKneeToWall, 10.5)}, {Ankle, Borderline, 4, set(body.AnkleKneeToWall, 10.4)},
		{Ankle, Borderline, 4, set(body.AnkleKneeToWall, 9.6)}, {Ankle, Fail, 1, set(body.AnkleKneeToWall, 9.5)},
		{Ankle, Unknown, 1, without(body.AnkleKneeToWall)},
		{BigToe, Pass, 5, set(body.ToeLoadedExtension, 33)}, {BigToe, Borderline, 4, set(body.ToeLoadedExtension, 30)},
		{BigToe, Fail, 1, set(body.ToeLoadedExtension, 27)}, {BigToe, Unknown, 1, without(body.ToeLoadedExtension)},
		{BigToe, Fail, 1, func(f *Foot) { f.Failed[body.ToeLoadedExtension] = true }},
		// 20 mm under a toe of 60 mm: asin(1/3) = 19.5°, short; 36 mm: asin(0.6) = 36.9°.
		{BigToe, Fail, 1, set(body.ToePassiveHeight, 20)}, {BigToe, Pass, 5, set(body.ToePassiveHeight, 36)},
		{Toes, Pass, 5, set(body.ToesBigAlone, 2)}, {Toes, Fail, 1, set(body.ToePress, 1)}, {Toes, Unknown, 1, without(body.ToesBigAlone)},
		{Balance, Pass, 5, set(body.BalanceOpen, 34)}, {Balance, Borderline, 3, set(body.BalanceOpen, 30)},
		{Balance, Fail, 1, set(body.BalanceOpen, 26)}, {Balance, Unknown, 1, without(body.BalanceOpen)},
		{Squat, Pass, 5, func(*Foot) {}}, {Squat, Fail, 1, set(body.SquatArch, 1)}, {Squat, Fail, 1, set(body.SquatKnee, 1)},
		{Squat, Unknown, 1, without(body.SquatArch)},
		{Raises, Pass, 5, set(body.CalfRaisesStraight, 20)}, {Raises, Borderline, 2, set(body.CalfRaisesStraight, 19)},
		{Raises, Borderline, 2, set(body.CalfRaisesStraight, 15)}, {Raises, Fail, 0, set(body.CalfRaisesStraight, 14)},
		{Raises, Unknown, 0, without(body.CalfRaisesStraight)},
		{Injury, Pass, 5, set(body.ReachFront, 50)}, // nothing was hurt before
		{Injury, Pass, 5, func(f *Foot) { f.Hurt = true }},
		{Injury, Fail, 1, func(f *Foot) { f.Hurt, f.Values[body.ReachFront] = true, 60 }}, // 10 cm, detectable from 1.96 √2 2.5 = 6.9
		{Injury, Unknown, 1, func(f *Foot) { f.Hurt = true; delete(f.Values, body.ReachFront) }},
	} {
		g := gateOf("gate", x.change)
		row := g.Of(x.item, body.Left)
		assert.Equal(t, x.outcome, row.Outcome, "%s %+v", x.item, row)
		assert.Equal(t, x.cap, row.Cap, "%s, %s", x.item, x.outcome)
		assert.Equal(t, x.cap, g.Caps[body.Left], "%s, %s: %+v", x.item, x.outcome, g.Decides)
		assert.Equal(t, Share, g.Caps[body.Right])
		assert.Equal(t, x.cap, g.Cap, "the worse foot decides")
		if x.cap < Share {
			assert.Equal(t, x.item, g.Decides[0].Item)
			assert.Equal(t, body.Left, g.Decides[0].Leg)
			assert.NotEmpty(t, row.Why.Saw)
		}
	}
}

// Each approach both ways: the slow habit does not ask the arch, and asks everything else; indoors ends at strength.
func TestTheApproachesOfTheGate(t *testing.T) {
	flat := func(f *Foot) { f.Values[body.ArchTwoFinger] = 2 }
	assert.Equal(t, Strength, gateOf("gate", flat).Cap)
	assert.Equal(t, Share, gateOf("slow", flat).Cap)
	assert.True(t, gateOf("slow", flat).Of(Arch, body.Left).Waived)
	assert.Equal(t, Strength, gateOf("indoors", func(*Foot) {}).Cap)
	for _, approach := range []string{"gate", "slow", "indoors"} {
		assert.Equal(t, Home, gateOf(approach, func(f *Foot) { f.Pain = 3 }).Cap, "mornings are asked under every approach")
		assert.Equal(t, None, gateOf(approach, func(f *Foot) { f.Bars = []Bar{{Item: Feeling, Cap: None}} }).Cap)
	}
}

// Whoever fails every test still gets foot work at home, and walks once raises and mornings are there.
func TestNobodyIsKeptFromWhatWouldOpenTheGate(t *testing.T) {
	fail := func(f *Foot) {
		f.Pain, f.Hurt = 5, true
		for m := range f.Values {
			f.Values[m] = 0
		}
		f.Values[body.ArchTwoFinger], f.Values[body.SquatArch], f.Values[body.WalkHeels] = 2, 1, 5
	}
	assert.Equal(t, Home, gateOf("gate", fail).Cap)
	assert.Equal(t, Home, gateOf("gate", func(f *Foot) { f.Values = map[string]float64{} }).Cap, "nothing was tested")
	assert.Equal(t, Walking, gateOf("gate", func(f *Foot) {
		fail(f)
		f.Pain, f.Values[body.WalkHeels], f.Values[body.CalfRaisesStraight] = 1, 0, 15
	}).Cap)
}

// Balance is asked less of with age, raises never.
func TestTheGateByAge(t *testing.T) {
	assert.InDelta(t, 30, BalanceFor(59), 0)
	assert.InDelta(t, 20, BalanceFor(60), 0)
	assert.InDelta(t, 12, BalanceFor(70), 0)
	old := sound()
	old.Values[body.BalanceOpen], old.Values[body.CalfRaisesStraight] = 17, 19
	g := Judge(Input{Feet: map[body.Side]Foot{body.Left: old, body.Right: sound()}, Age: 72, Approach: "gate", House: house.Rules{}}, monday)
	assert.Equal(t, Pass, g.Of(Balance, body.Left).Outcome)
	assert.Equal(t, Strength, g.Cap)
}

func TestTheTableIsWholeAndNeverAllowsMoreForWorse(t *testing.T) {
	for _, it := range Items {
		assert.Len(t, it.Caps, len(Outcomes), it.ID)
		assert.GreaterOrEqual(t, it.Caps[Pass], it.Caps[Borderline], it.ID)
		assert.GreaterOrEqual(t, it.Caps[Borderline], it.Caps[Fail], it.ID)
		assert.NotEmpty(t, it.Why)
		assert.True(t, it.Limiter != "" || it.Do != "", "%s: a failed item gives work", it.ID)
	}
}
