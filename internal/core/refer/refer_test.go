package refer

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
)

const day = body.Date("2026-03-02")

func level(n int) *Opening { return &Opening{Level: &n} }

// A place at or below the knee locks that leg; one above it, on the trunk, on both or on no side locks both.
func TestWhichLegsAStopLocks(t *testing.T) {
	for _, c := range []struct {
		s    Stop
		want []body.Side
	}{
		{Stop{Sign: "bone", Region: body.OuterAnkle, Side: body.Left}, []body.Side{body.Left}},
		{Stop{Sign: "swelling", Region: body.Knee, Side: body.Right}, []body.Side{body.Right}},
		{Stop{Sign: "groin", Region: body.AboveKnee, Side: body.Right}, body.Sides},
		{Stop{Sign: "nerve", Region: body.WholePerson, Side: body.Left}, body.Sides},
		{Stop{Sign: "swelling", Region: body.Calf, Side: body.Both}, body.Sides},
	} {
		assert.Equal(t, c.want, c.s.Locks(), "%s at %s", c.s.Sign, c.s.Region)
	}
	assert.ElementsMatch(t, []body.Region{body.OuterAnkle, body.OuterAnkle, body.Shin}, Stop{Region: body.OuterAnkle, Which: []string{"outer_bone", "shin"}}.Places(), "every bone that was named")
}

func TestUrgentSignsNeedASecondLookOnAnotherDay(t *testing.T) {
	urgent := Stop{Sign: "calf_hot", Region: body.Calf, Side: body.Left, On: day, Recorded: day}
	review := Clearance{Kind: "reviewed", Who: "Coach", On: day}
	assert.ErrorContains(t, CheckClearance(urgent, review, day), "look again another day")
	urgent.Clearances = []Clearance{review}
	assert.True(t, urgent.Open())
	review.On = day.Add(1)
	require.NoError(t, CheckClearance(urgent, review, day.Add(1)))
	urgent.Clearances = append(urgent.Clearances, review)
	assert.False(t, urgent.Open())
	assert.True(t, urgent.Mistake())

	// Dated back to yesterday, it is still the day it was entered on that counts.
	back := Stop{Sign: "chest", Region: body.WholePerson, Side: body.Both, On: day.Add(-1), Recorded: day}
	assert.ErrorContains(t, CheckClearance(back, Clearance{Kind: "reviewed", Who: "Coach", On: day}, day), "look again another day")
	back.Clearances = []Clearance{{Kind: "reviewed", Who: "Coach", On: day}}
	assert.True(t, back.Open())

	hard := Stop{Sign: "swelling", Region: body.Calf, Side: body.Left, On: day, Clearances: []Clearance{{Kind: "reviewed", Who: "Coach", On: day}}}
	assert.False(t, hard.Open(), "entered by mistake closes a hard stop")
}

func TestClearanceNeedsWhoWhenAndWhatItOpens(t *testing.T) {
	s := Stop{Sign: "swelling", Region: body.Calf, Side: body.Left, On: day}
	for _, c := range []struct {
		c    Clearance
		want string
	}{
		{Clearance{Kind: "clinician", On: day, Opens: level(2)}, "who: is empty"},
		{Clearance{Kind: "clinician", Who: "GP", On: day, Limits: "none"}, "opens: is empty"},
		{Clearance{Kind: "clinician", Who: "GP", On: day, Opens: level(7)}, "level: is 0 to 4"},
		{Clearance{Kind: "clinician", Who: "GP", On: day.Add(-1), Opens: level(2)}, "must be a day from"},
		{Clearance{Kind: "nod", Who: "GP", On: day}, "kind:"},
		{Clearance{Kind: "healed", Who: "Runner", On: day}, "kind: only a blister"},
	} {
		assert.ErrorContains(t, CheckClearance(s, c.c, day), c.want)
	}
	blister := Stop{Sign: "blister", Region: body.Arch, Side: body.Left, On: day}
	assert.ErrorContains(t, CheckClearance(blister, Clearance{Kind: "healed", Who: "Runner", On: day}, day), "not before the next day")
	assert.NoError(t, CheckClearance(blister, Clearance{Kind: "healed", Who: "Runner", On: day.Add(1)}, day.Add(1)))
}

func TestLimitsAreAClinicians(t *testing.T) {
	l := Limit{For: "bone", Side: body.Both, Kind: "coach", Who: "Coach", On: day, Opens: *level(3), Words: "as told"}
	assert.ErrorContains(t, CheckLimit(l, day), "a clinician's to set")
	l.For = "under_18"
	assert.NoError(t, CheckLimit(l, day))
	l.For = "elbow"
	assert.ErrorContains(t, CheckLimit(l, day), "not a caution or a pattern")
	l.For, l.Opens, l.Words = "bmi", Opening{}, " "
	assert.ErrorContains(t, CheckLimit(l, day), "names nothing")
	assert.False(t, Limit{For: "bone", On: day}.Covers("bone", day.Add(1)), "a caution answered later is not covered by older limits")
	assert.True(t, Limit{For: "bone", On: day}.Covers("bone", day))
	assert.False(t, Limit{For: "bone", On: day}.Covers("clot", ""), "each speaks for its own caution")
}

func TestEverySignSaysWhatToDo(t *testing.T) {
	last := -1
	order := []Class{Emergency, SameDay, HardStop, Pattern, Small}
	for _, s := range Signs {
		assert.NotEmpty(t, s.Do, s.ID)
		at := -1
		for i, c := range order {
			if c == s.Class {
				at = i
			}
		}
		assert.GreaterOrEqual(t, at, last, "%s: the most urgent are asked first", s.ID)
		last = at
		assert.True(t, s.Region == "" || s.Region.Valid(), s.ID)
		if s.Class == HardStop || s.Class == SameDay {
			assert.Contains(t, s.Do, "unning", "%s: no running until cleared", s.ID)
		}
	}
	assert.ErrorContains(t, CheckStop(Stop{Sign: "night", Side: body.Left}), "say where")
	for _, id := range []string{"fever", "shin_long"} {
		_, ok := FindSign(id)
		assert.True(t, ok, "%s: records of an earlier release keep their meaning", id)
	}
}

// A bone that hurts under the bone caution is seen the same day.
func TestBonePainUnderTheBoneCaution(t *testing.T) {
	p := body.NewProfile()
	s := Stop{Sign: "bone", Region: body.Shin, Side: body.Left}
	assert.Equal(t, HardStop, s.Class(p))
	p.Cautions = []string{"bone"}
	assert.Equal(t, SameDay, s.Class(p))
}

// Ottawa rules, Stiell et al. 1992 and 1993 (from memory): a picture of the ankle for bone tenderness
// at the rear edge or tip of either ankle bone, of the foot for the base of the fifth metatarsal or the
// navicular; either when four steps cannot be taken.
func TestOttawaRules(t *testing.T) {
	for _, c := range []struct {
		found       []string
		ankle, foot bool
	}{{nil, false, false}, {[]string{"outer_ankle"}, true, false}, {[]string{"inner_ankle"}, true, false}, {[]string{"fifth_base"}, false, true}, {[]string{"navicular"}, false, true},
		{[]string{"four_steps"}, true, true}, {[]string{"outer_ankle", "navicular"}, true, true}} {
		ankle, foot := Imaging(c.found)
		assert.Equal(t, c.ankle, ankle, c.found)
		assert.Equal(t, c.foot, foot, c.found)
	}
	for _, s := range Signs {
		for _, w := range s.Which {
			assert.NotEmpty(t, RegionOf([]string{w.ID}), "%s has no place on the map", w.ID)
		}
	}
	assert.Empty(t, RegionOf(nil))
	assert.ErrorContains(t, CheckStop(Stop{Sign: "twist", Region: body.OuterAnkle, Side: body.Left, Which: []string{"elbow"}}), "not one of what")
}

func TestEverySignIsAnswered(t *testing.T) {
	p := body.NewProfile()
	p.BirthDate = "1985-05-05"
	all := []string{}
	for _, s := range Asked(p, day) {
		all = append(all, s.ID)
	}
	assert.NotContains(t, all, "growing_limp", "asked under 18 only")
	assert.NotContains(t, all, "pregnancy_signs")
	assert.NoError(t, CheckAnswers(all, nil, p, day))
	assert.ErrorContains(t, CheckAnswers(all[1:], nil, p, day), "1 warning signs are not answered")
	assert.NoError(t, CheckAnswers(all[1:], []Stop{{Sign: all[0], Region: body.WholePerson, Side: body.Both, On: day}}, p, day), "a yes is an answer")
	assert.ErrorContains(t, CheckAnswers(append(all, "elbow"), nil, p, day), "not on the list")
	p.BirthDate, p.Cautions = "2012-05-05", []string{"pregnancy", "diabetes"}
	assert.ErrorContains(t, CheckAnswers(all, nil, p, day), "3 warning signs")
}
