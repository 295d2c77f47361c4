package permit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/permit"
	"notchback/internal/core/permit/plain"
	"notchback/internal/core/refer"
)

func good() permit.Facts { return factsOf(refer.Sign{}, "", "", "", plain.States[2]) }

// Bare work asks the gate by its stage: walks stage 1, strength stage 2; foot work on the spot asks nothing of it.
func TestBareWorkAsksTheGate(t *testing.T) {
	may := func(f permit.Facts, id string, inForce bool) permit.Answer {
		a := ask(id, body.Left)
		a.InForce = inForce
		return f.May(a)
	}
	f := good()
	assert.Equal(t, barefoot.Share, f.Gate().Cap)
	for _, id := range []string{"short_standing", "walk_all", "bare_squat", "bare_squat_loaded"} {
		assert.True(t, may(f, id, false).May(), id)
	}
	f.Tests[body.Right]["calf.raises_straight"] = 14 // 15 to walk
	assert.Equal(t, barefoot.Home, f.Gate().Cap)
	assert.True(t, may(f, "short_standing", false).May())
	a := may(f, "walk_all", true)
	assert.False(t, a.May(), "the worse foot decides for both legs")
	assert.Equal(t, permit.Safety, a.Sort(), "what was found short steps down")
	assert.Contains(t, a.Says(), "barefoot gate, right: One-leg raises: fail, so up to stage 0")
	f.Tests[body.Right]["calf.raises_straight"] = 15
	assert.True(t, may(f, "walk_all", true).May())
	assert.True(t, may(f, "bare_squat", true).May())

	f = good()
	delete(f.Tests[body.Left], "balance.open")
	assert.Equal(t, permit.Waits, may(f, "bare_squat", false).Sort(), "a test that was not taken keeps a new dose waiting")
	held := may(f, "bare_squat", true)
	assert.True(t, held.May(), "and lets one in force to body mass hold")
	assert.True(t, held.NoUp)
	assert.False(t, may(f, "bare_squat_loaded", true).May(), "beyond it steps down")
	assert.False(t, f.May(permit.BareAsk(barefoot.Bouncing)).May())
	test := ask("bare_squat", body.Left)
	test.Test = true
	assert.True(t, f.May(test).May(), "a test is never kept from being taken by the gate")
}

// What takes bare work away as a whole stands in the gate as well: feeling, signs, cautions and the skin.
func TestTheGateKnowsWhatTakesBareWorkAway(t *testing.T) {
	for name, x := range map[string]struct {
		f    permit.Facts
		item string
		l, r int
	}{
		"a blister":         {factsOf(refer.Sign{ID: "blister"}, body.Arch, body.Left, "", plain.States[2]), barefoot.Skin, -1, 5},
		"a stop":            {factsOf(refer.Sign{ID: "bone"}, body.TopOfFoot, body.Left, "", plain.States[2]), barefoot.Stop, -1, -1},
		"an emergency":      {factsOf(refer.Sign{ID: "chest"}, body.WholePerson, body.Both, "", plain.States[2]), barefoot.Stop, -1, -1},
		"under 18":          {factsOf(refer.Sign{}, "", "", "under_18", plain.States[2]), barefoot.Cautions, 1, 1},
		"low bone density":  {factsOf(refer.Sign{}, "", "", "bone", plain.States[2]), barefoot.Cautions, 1, 1},
		"diabetes, feeling": {factsOf(refer.Sign{}, "", "", "diabetes", plain.States[2]), barefoot.Cautions, 0, 0},
		"loss of feeling":   {factsOf(refer.Sign{}, "", "", "sensation", plain.States[2]), barefoot.Feeling, -1, -1},
		"feeling unknown":   {factsOf(refer.Sign{}, "", "", "", plain.State{Touch: -1}), barefoot.Feeling, -1, -1},
		"a miss":            {factsOf(refer.Sign{}, "", "", "", plain.State{Touch: 1}), barefoot.Feeling, -1, -1},
		"nothing":           {good(), "", 5, 5},
	} {
		g := x.f.Gate()
		assert.Equal(t, x.l, g.Caps[body.Left], name)
		assert.Equal(t, x.r, g.Caps[body.Right], name)
		if x.item != "" {
			assert.Equal(t, x.item, g.Decides[0].Item, name)
			assert.NotEqual(t, barefoot.Pass, g.Of(x.item, body.Left).Outcome, name)
		}
		stage, why, _ := x.f.Bare()
		assert.LessOrEqual(t, stage, max(x.l, x.r), name)
		assert.Equal(t, stage < barefoot.Share, why != "", name)
	}
}

// The stage that the transition has come to bounds bare work; indoors only ends with strength; limits for hardware that speak of bare
// work stand for the reach of an ankle that has none to be compared with.
func TestTheTransitionBoundsBareWork(t *testing.T) {
	f := good()
	for stage := barefoot.None; stage <= barefoot.Share; stage++ {
		f.Reached = &stage
		assert.True(t, f.May(ask("short_standing", body.Left)).May(), "foot work goes on")
		assert.Equal(t, stage >= barefoot.Walking, f.May(ask("walk_all", body.Left)).May(), "%d", stage)
		a := f.May(ask("bare_squat", body.Left))
		assert.Equal(t, stage >= barefoot.Strength, a.May(), "%d", stage)
		if !a.May() {
			assert.Equal(t, permit.Waits, a.Sort(), "the dose is kept")
		}
		most, _, _ := f.Bare()
		assert.Equal(t, barefoot.Share, most, "what is allowed does not ask the transition itself")
	}
	f = good()
	f.Profile.Approaches["barefoot"] = "indoors"
	assert.True(t, f.May(permit.BareAsk(barefoot.Strength)).May())
	assert.False(t, f.May(permit.BareAsk(barefoot.Bouncing)).May())

	five := 5
	f = factsOf(refer.Sign{}, "", "", "hardware", plain.States[2])
	assert.Equal(t, barefoot.Walking, f.Gate().Cap)
	f.Limits = []refer.Limit{{For: "hardware", Side: body.Both, Kind: "clinician", Who: "GP", On: today, Opens: refer.Opening{Bare: &five,
		Impact: new(body.FreeHops)}}}
	assert.Equal(t, barefoot.Share, f.Gate().Cap)

	f = good()
	f.Profile.History.Sprain = true
	assert.Equal(t, barefoot.Unknown, f.Gate().Of(barefoot.Injury, body.Left).Outcome)
	for _, m := range []string{"reach.front", "reach.side", "reach.back", "reach.cross"} {
		f.Tests[body.Left][m], f.Tests[body.Right][m] = 70, 70
	}
	assert.Equal(t, barefoot.Share, f.Gate().Cap)
}

// A sign that was cleared is told with how long it stood; one entered by mistake is not.
func TestClearedSignsOfBareWork(t *testing.T) {
	f := factsOf(refer.Sign{ID: "limp"}, body.Calf, body.Left, "", plain.States[2])
	assert.Empty(t, f.ClosedBare())
	f.Stops[0].On = today.Add(-20)
	f.Stops[0].Clearances = []refer.Clearance{{ID: "c", Kind: "clinician", Who: "GP", On: today.Add(-2)}}
	closed := f.ClosedBare()
	assert.Equal(t, []barefoot.Closed{{ID: "s", On: today.Add(-2), Days: 18}}, closed)
	f.Stops[0].Sign = "bone"
	assert.True(t, f.ClosedBare()[0].Bone)
	f.Stops[0].Clearances[0].Kind = "reviewed"
	assert.Empty(t, f.ClosedBare())
}
