package adjust

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/refer"
)

// A sign that came and was cleared before the dose of the same day was set leaves that dose alone; one
// that was cleared after it takes two notches.
func TestADoseSetAfterTheClearanceOfTheDay(t *testing.T) {
	set := time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)
	for _, after := range []bool{false, true} {
		in := whole(quiet())
		in.Current.Set = set
		at := set.Add(-time.Hour)
		if after {
			at = set.Add(time.Hour)
		}
		level := 4
		in.Limits.Facts.Stops = []refer.Stop{{ID: "s", Sign: "swelling", Region: body.HeelSole, Side: in.Current.Side, On: in.Current.From,
			Seq:        1,
			Clearances: []refer.Clearance{{Kind: "clinician", Who: "x", On: in.Current.From, Opens: &refer.Opening{Level: &level}, At: at}}}}
		_, through := cleared(gather(&in))
		assert.Equal(t, after, through)
	}
}

// Whatever day the park was accepted on, a rail that stood through a sign of bone comes back by a new test
// alone; a sign of the swelling kind lets seven quiet days bring it back.
func TestAfterAGraveSignOnlyATestBringsARailBack(t *testing.T) {
	level := 4
	for _, c := range []struct {
		name                     string
		recorded, cleared, moved int // days before today; moved: the park was accepted
		rule                     string
	}{
		{"accepted at once", -12, -10, -12, "adjust.warning-sign"},
		{"accepted three days later", -14, -10, -11, "adjust.warning-sign"},
		{"accepted after the clearance", -12, -10, -9, "adjust.cleared"},
		{"all on one day", -10, -10, -10, "adjust.cleared"},
	} {
		for sign, grave := range map[string]bool{"bone": true, "swelling": false} {
			in := quiet()
			in.Current.From = today.Add(-30)
			in.Limits.Facts.Stops = []refer.Stop{{ID: "s", Sign: sign, Region: body.HeelSole, Side: body.Left, On: today.Add(c.recorded),
				Recorded: today.Add(c.recorded), Seq: 1,
				Clearances: []refer.Clearance{{Kind: "clinician", Who: "x", On: today.Add(c.cleared), Opens: &refer.Opening{Level: &level}}}}}
			then := whole(in)
			then.Today = today.Add(c.moved)
			park := gather(&then).apply(Fired{Verdict: Park, Reason: body.Reason{Rule: c.rule}})
			in.Current, in.Logs, in.Mornings = park, nil, nil
			for d := -8; d <= 0; d++ {
				in.Mornings = append(in.Mornings, morningOn(d, 1))
			}
			in.Moves = []Move{{On: park.From, Verdict: Park, Side: body.Left, Rule: c.rule}}
			p := proposed(in)
			if grave {
				assert.Equal(t, Park, p.Verdict, "%s, %s: %s", sign, c.name, p.Fired[0].Reason.Says)
			} else if c.rule == "adjust.warning-sign" {
				assert.Equal(t, Return, p.Verdict, "%s, %s", sign, c.name)
			}
		}
	}
}

// A dose set while the sign was open stood through it all the same.
func TestADoseSetUnderAnOpenSignStoodThroughIt(t *testing.T) {
	level := 4
	in := quiet()
	in.Current.From = today.Add(-4)
	in.Limits.Facts.Stops = []refer.Stop{{ID: "s", Sign: "swelling", Region: body.HeelSole, Side: body.Left, On: today.Add(-6), Seq: 1,
		Clearances: []refer.Clearance{{Kind: "clinician", Who: "x", On: today.Add(-1), Opens: &refer.Opening{Level: &level}}}}}
	_, through := cleared(facing(in))
	assert.True(t, through)
}

// Cleared in the words of an earlier release, a stop leaves the doses where they stood; in the form of now they step
// back.
func TestAStopClearedInEarlierWords(t *testing.T) {
	level := 4
	for name, opens := range map[string]*refer.Opening{"earlier": nil, "now": {Level: &level}} {
		in := quiet()
		in.Limits.Facts.Stops = []refer.Stop{{ID: "s", Sign: "swelling", Region: body.HeelSole, Side: body.Left, On: today.Add(-6), Seq: 1,
			Clearances: []refer.Clearance{{Kind: "clinician", Who: "x", On: today.Add(-1), Limits: "slowly", Opens: opens}}}}
		_, back := cleared(facing(in))
		assert.Equal(t, opens != nil, back, name)
	}
}

// A sign that was over before the rail was parked for something else has no word in its return.
func TestASignOverBeforeThePark(t *testing.T) {
	level := 4
	for ago, back := range map[int]bool{10: true, 9: false, 8: false} {
		in := quiet()
		in.Current.Parked, in.Current.Cause, in.Current.From, in.Logs = true, CauseParked, today.Add(-9), nil
		in.Moves = []Move{{On: today.Add(-9), Verdict: Park, Side: body.Left, Rule: "adjust.pain"}}
		in.Limits.Facts.Stops = []refer.Stop{{ID: "s", Sign: "bone", Region: body.HeelSole, Side: body.Left, On: today.Add(-30), Seq: 1,
			Clearances: []refer.Clearance{{Kind: "clinician", Who: "x", On: today.Add(-ago), Opens: &refer.Opening{Level: &level}}}}}
		_, fired := returns(facing(in))
		assert.Equal(t, back, fired, "cleared %d days ago, parked 9 days ago", ago)
	}
}

// A mistake brings back what it parked, and nothing that was parked for another reason.
func TestAMistakenSignBringsBackOnlyWhatItParked(t *testing.T) {
	for _, rule := range []string{"adjust.warning-sign", "adjust.pain"} {
		in := quiet()
		in.Current.Parked, in.Current.Cause, in.Current.From, in.Logs = true, CauseParked, today.Add(-3), nil
		in.Moves = []Move{{On: today.Add(-3), Verdict: Park, Side: body.Left, Rule: rule}}
		in.Limits.Facts.Stops = []refer.Stop{{ID: "s", Sign: "swelling", Region: body.HeelSole, Side: body.Left, On: today.Add(-3), Seq: 1,
			Clearances: []refer.Clearance{{Kind: "reviewed", Who: "x", On: today.Add(-1)}}}}
		_, back := returns(facing(in))
		assert.Equal(t, rule == "adjust.warning-sign", back, rule)
		in.Moves = append(in.Moves, Move{On: today.Add(-2), Verdict: Hold, Side: body.Left, Rule: "adjust.morning"})
		_, back = returns(facing(in))
		assert.Equal(t, rule == "adjust.warning-sign", back, "%s: what was held since says nothing of why it was parked", rule)
		in.Limits.Facts.Stops[0].Sign, in.Limits.Facts.Stops[0].On = "bone", today.Add(-30)
		_, back = returns(facing(in))
		assert.Equal(t, rule == "adjust.warning-sign", back, "%s: a mistake is not grave, however long it stood", rule)
		for pain, may := range map[int]bool{2: true, 3: false} {
			in.Mornings = []build.Morning{morningOn(-2, pain)}
			_, back = returns(facing(in))
			assert.Equal(t, may && rule == "adjust.warning-sign", back, "%s, since then %d", rule, pain)
		}
	}
}

// A mistake beside a sign that was real, short and closed: what was parked comes back after its seven days alone.
func TestAMistakeBesideARealSign(t *testing.T) {
	in := quiet()
	in.Current.Parked, in.Current.Cause, in.Current.From, in.Logs = true, CauseParked, today.Add(-3), nil
	in.Moves = []Move{{On: today.Add(-3), Verdict: Park, Side: body.Left, Rule: "adjust.warning-sign"}}
	level := 4
	in.Limits.Facts.Stops = []refer.Stop{
		{ID: "m", Sign: "swelling", Region: body.HeelSole, Side: body.Left, On: today.Add(-3), Seq: 1,
			Clearances: []refer.Clearance{{Kind: "reviewed", Who: "x", On: today.Add(-1)}}},
		{ID: "r", Sign: "swelling", Region: body.HeelSole, Side: body.Left, On: today.Add(-3), Seq: 2,
			Clearances: []refer.Clearance{{Kind: "clinician", Who: "GP", On: today.Add(-1), Opens: &refer.Opening{Level: &level}}}}}
	_, back := returns(facing(in))
	assert.False(t, back)
	in.Limits.Facts.Stops = in.Limits.Facts.Stops[:1]
	_, back = returns(facing(in))
	assert.True(t, back, "the mistake alone")
}
