package refer

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
)

const day = body.Date("2026-03-02")

func TestAStopLocksWhatItTouches(t *testing.T) {
	calf := []body.Region{body.Calf, body.Achilles}
	stops := []Stop{{Sign: "swelling", Region: body.Calf, Side: body.Left, On: day}}
	s, r := Lock(stops, calf, body.Left)
	require.NotNil(t, s)
	assert.Contains(t, r.Says, "until it is cleared")
	s, _ = Lock(stops, calf, body.Right)
	assert.Nil(t, s, "the other side is free")
	s, _ = Lock(stops, []body.Region{body.BigToe}, body.Left)
	assert.Nil(t, s, "another place is free")
	two := []Stop{{Sign: "bone", Region: body.OuterAnkle, Side: body.Left, Which: []string{"outer_bone", "shin"}, On: day}}
	s, _ = Lock(two, []body.Region{body.Shin}, body.Left)
	assert.NotNil(t, s, "every bone that was named is locked, not the first alone")
	s, _ = Lock(two, []body.Region{body.Heel}, body.Left)
	assert.Nil(t, s)
	s, _ = Lock([]Stop{{Sign: "chest", Region: body.WholePerson, Side: body.Both, On: day}}, []body.Region{body.BigToe}, body.Right)
	assert.NotNil(t, s, "a sign of the whole person locks everything")
}

func TestUrgentSignsNeedASecondLookOnAnotherDay(t *testing.T) {
	urgent := Stop{Sign: "calf_hot", Region: body.Calf, Side: body.Left, On: day}
	review := Clearance{Kind: "reviewed", Who: "Coach", On: day}
	assert.ErrorContains(t, CheckClearance(urgent, review, day), "look again another day")
	urgent.Clearances = []Clearance{review}
	assert.True(t, urgent.Open())
	review.On = day.Add(1)
	require.NoError(t, CheckClearance(urgent, review, day.Add(1)))
	urgent.Clearances = append(urgent.Clearances, review)
	assert.False(t, urgent.Open())

	hard := Stop{Sign: "swelling", Region: body.Calf, Side: body.Left, On: day, Clearances: []Clearance{{Kind: "reviewed", Who: "Coach", On: day}}}
	assert.False(t, hard.Open(), "entered by mistake closes a hard stop")
}

func TestClearanceNeedsWhoWhenAndLimits(t *testing.T) {
	s := Stop{Sign: "swelling", Region: body.Calf, Side: body.Left, On: day}
	for _, c := range []struct {
		c    Clearance
		want string
	}{
		{Clearance{Kind: "clinician", On: day, Limits: "none"}, "who: is empty"},
		{Clearance{Kind: "clinician", Who: "GP", On: day}, "limits: is empty"},
		{Clearance{Kind: "clinician", Who: "GP", On: day.Add(-1), Limits: "none"}, "must be a day from"},
		{Clearance{Kind: "nod", Who: "GP", On: day, Limits: "none"}, "kind:"},
	} {
		assert.ErrorContains(t, CheckClearance(s, c.c, day), c.want)
	}
}

func TestCautionsFollowFromAgeAndMass(t *testing.T) {
	p := body.NewProfile()
	p.BirthDate, p.MassKg, p.HeightCm = "2010-06-01", 50, 165
	barred, why := HeavyBarred(p, day)
	assert.True(t, barred)
	assert.Equal(t, "Under 18", why.Saw[0].Name)
	p.BirthDate, p.MassKg = "1980-06-01", 90 // 90 / 1.65² = 33.1
	assert.Equal(t, "bmi", InForce(p, day)[0].ID)
	p.HeavyAllowed = "GP, 3 March: up to 10 kg"
	barred, _ = HeavyBarred(p, day)
	assert.False(t, barred, "limits written down lift the bar")
}

func TestEverySignSaysWhatToDo(t *testing.T) {
	for _, s := range Signs {
		assert.NotEmpty(t, s.Do, s.ID)
		assert.Contains(t, []Class{Emergency, SameDay, HardStop}, s.Class)
		assert.True(t, s.Region == "" || s.Region.Valid(), s.ID)
	}
	assert.ErrorContains(t, CheckStop(Stop{Sign: "night", Side: body.Left}), "say where")
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
	all := []string{}
	for _, s := range Signs {
		all = append(all, s.ID)
	}
	assert.NoError(t, CheckAnswers(all, nil))
	assert.ErrorContains(t, CheckAnswers(all[1:], nil), "1 warning signs are not answered")
	assert.NoError(t, CheckAnswers(all[1:], []Stop{{Sign: all[0], Region: body.WholePerson, Side: body.Both, On: day}}), "a yes is an answer")
	assert.ErrorContains(t, CheckAnswers(append(all, "elbow"), nil), "not on the list")
}
