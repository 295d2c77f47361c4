package adjust

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
)

// The coach's own verdict: hold and park move no notch, up and back one.
func TestStepsOfTheCoach(t *testing.T) {
	for v, steps := range map[Verdict]int{Hold: 0, Park: 0, Up: 1, Back: 1} {
		p, err := choose(quiet(), v)
		require.NoError(t, err)
		assert.Equal(t, steps, p.Steps, v)
		assert.Equal(t, v, p.Fired[0].Verdict)
		assert.Equal(t, "adjust.coach", p.Fired[0].Reason.Rule)
		assert.Equal(t, v == Park, p.To.Parked)
	}
}

// The coach may hold what only waits, not what safety took away; nothing moves up, or returns, that may not be done.
func TestWhatTheCoachMayHold(t *testing.T) {
	stop := func(side body.Side) Input {
		in := quiet()
		in.Limits.Facts.Stops = []refer.Stop{{Sign: "swelling", Region: body.Calf, Side: side, On: today}}
		return in
	}
	_, err := choose(stop(body.Right), Hold) // the other leg's: this one waits
	assert.NoError(t, err)
	_, err = choose(stop(body.Left), Hold)
	assert.ErrorContains(t, err, "it opens with")
	for _, v := range []Verdict{Up, Return} {
		for _, side := range body.Sides {
			in := stop(side)
			in.Current.Parked = v == Return
			_, err = choose(in, v)
			assert.Error(t, err, "%s %s", v, side)
		}
	}
	in := quiet()
	in.Current.Parked = true
	_, err = choose(in, Hold)
	assert.NoError(t, err, "a parked rail stays parked")
	_, err = choose(in, Up)
	assert.ErrorContains(t, err, "returns first")
	_, err = choose(quiet(), Return)
	assert.ErrorContains(t, err, "cannot")
	_, err = choose(quiet(), Pending)
	assert.ErrorContains(t, err, "is up, hold, back, park or return")
}

// The coach moves up while the newest morning is at its limit, not above it.
func TestChoosingAtTheLimitOfTheMorning(t *testing.T) {
	for pain, may := range map[int]bool{5: true, 6: false} {
		in := quiet()
		in.Usual, in.Profile.Symptoms[0].Baseline = nil, pain
		for d := -6; d <= 0; d++ {
			setMorning(&in, d, pain)
		}
		back := in
		back.Current.Parked = true
		_, err := choose(back, Return)
		assert.Equal(t, may, err == nil, "coming back at %d", pain)
		_, err = choose(in, Up)
		if may {
			assert.NoError(t, err)
		} else {
			assert.ErrorContains(t, err, "no move up while the morning is 6 of 10")
		}
	}
}

func TestTheCoachMayChooseButNotPastAStop(t *testing.T) {
	in := quiet()
	p, err := choose(in, Back)
	require.NoError(t, err)
	assert.Equal(t, Back, p.Verdict)
	assert.Contains(t, p.To.Text(), "1 × 8")
	in.Limits.Facts.Stops = []refer.Stop{{Sign: "swelling", Region: body.Calf, Side: body.Left, On: today}}
	_, err = choose(in, Up)
	assert.ErrorContains(t, err, "a warning sign is open; it opens with")
	_, err = choose(in, "sideways")
	assert.Error(t, err)
}

// What the coach may choose instead: not up on a morning above five, not up or back to a parked rail, and always less.
func TestChoosingOnABadMorning(t *testing.T) {
	in := quiet()
	setMorning(&in, 0, 6)
	for v, may := range map[Verdict]bool{Up: false, Hold: true, Back: true, Park: true, Return: false, Pending: false, "sideways": false} {
		_, err := choose(in, v)
		assert.Equal(t, may, err == nil, "%s: %v", v, err)
	}
	in = quiet()
	p, err := choose(in, Up)
	assert.NoError(t, err)
	assert.Equal(t, 1, p.Steps)
	p, _ = choose(in, Hold)
	assert.Zero(t, p.Steps)
	in.Current.Parked = true
	for v, may := range map[Verdict]bool{Up: false, Return: true} {
		_, err := choose(in, v)
		assert.Equal(t, may, err == nil, "parked, %s: %v", v, err)
	}
	// Where nothing of the leg may move up, the coach's word moves nothing up either.
	in = quiet()
	in.Limits.Facts.Stops = []refer.Stop{{ID: "s", Sign: "swelling", Region: body.HeelSole, Side: body.Left, On: today.Add(-40),
		Clearances: []refer.Clearance{{Kind: "clinician", Who: "GP", On: today.Add(-30), Limits: "slowly"}}}}
	_, err = choose(in, Up)
	assert.ErrorContains(t, err, "no move up")
	_, err = choose(in, Hold)
	assert.NoError(t, err)
}

// The coach is asked about all but what waits for a mark, and a hold that needs nobody.
func TestWhatAsksTheCoach(t *testing.T) {
	for _, v := range []Verdict{Up, Hold, Back, Park, Return, Pending} {
		for _, clean := range []bool{true, false} {
			asks := v != Pending
			if v == Hold && clean {
				asks = false
			}
			assert.Equal(t, asks, Proposal{Verdict: v, Clean: clean}.Asks(), "%s, clean %v", v, clean)
		}
	}
}
