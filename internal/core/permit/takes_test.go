package permit

import (
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
)

// What takes anything away, or has something to mind, is not empty.
func TestTakesNothing(t *testing.T) {
	assert.True(t, Takes{}.empty())
	one, free := 1, body.Supported
	for i := range reflect.TypeFor[Takes]().NumField() {
		x := Takes{}
		switch f := reflect.ValueOf(&x).Elem().Field(i); f.Interface().(type) {
		case bool:
			f.SetBool(true)
		case int:
			f.SetInt(1)
		case *int:
			f.Set(reflect.ValueOf(&one))
		case *body.Impact:
			f.Set(reflect.ValueOf(&free))
		default:
			f.Set(reflect.MakeSlice(f.Type(), 1, 1))
		}
		assert.False(t, x.empty(), reflect.TypeFor[Takes]().Field(i).Name)
	}
}

// A clinician who opens everything leaves nothing taken: a whole leg, or what a caution took.
func TestEverythingOpenedTakesNothing(t *testing.T) {
	four, five, free, yes := 4, 5, body.FreeHops, true
	all := refer.Opening{Level: &four, Impact: &free, Bare: &five, Edge: &yes, Pressure: &yes, Cold: &yes, Range: &yes, Maximal: &yes,
		Run: "all"}
	for _, x := range []Takes{{Above: num(-1)}, {Everything: true}, careful, {Beyond: impact(body.NoImpact)}, {BareAbove: num(0)}} {
		assert.True(t, x.opened(all).empty(), "%+v", x.opened(all))
	}
}

// Who opens pressure opens what is tagged as pressure, on the shin and on a joint, and nothing else of the tags.
func TestOpeningPressure(t *testing.T) {
	yes, no := true, false
	takes := Takes{Pressure: true, Tags: []body.Tag{body.ShinPressure, body.RM, body.Joint}}
	assert.Equal(t, Takes{Tags: []body.Tag{body.RM}}, takes.opened(refer.Opening{Pressure: &yes}))
	assert.Equal(t, takes, takes.opened(refer.Opening{Pressure: &no}))
}

// A cut that says no says no, whatever else it only makes smaller.
func TestANoStaysANo(t *testing.T) {
	for i := range 8 {
		x := Takes{Above: num(1), Half: i&1 > 0, HalfSets: i&2 > 0}
		if i&4 > 0 {
			x.Contacts = 10
		}
		for _, impact := range body.Impacts {
			a := Cut{Takes: x}.judge(Ask{Demand: body.Demand{Level: 2, Impact: impact}, Side: body.Left})
			assert.Equal(t, NotNow, a.Kind, "%+v, %s", x, impact)
			assert.False(t, a.HalfContacts || a.HalfSets || a.Contacts > 0, "%+v, %s", x, impact)
			a = Cut{Takes: x}.judge(Ask{Demand: body.Demand{Level: 1, Impact: impact}, Side: body.Left})
			bounces := impact != body.NoImpact
			assert.Equal(t, x.Half && bounces, a.HalfContacts, "%+v, %s", x, impact)
			assert.Equal(t, x.HalfSets, a.HalfSets, "%+v, %s", x, impact)
			assert.Equal(t, bounces && x.Contacts > 0, a.Contacts > 0, "%+v, %s", x, impact)
			assert.Equal(t, a.HalfContacts || a.HalfSets || a.Contacts > 0, a.Kind == UpTo, "%+v, %s", x, impact)
		}
	}
}

// Under 18 ends on the birthday.
func TestTheEighteenthBirthday(t *testing.T) {
	for on, young := range map[body.Date]bool{"2026-03-01": true, "2026-03-02": false, "2026-03-03": false} {
		f := Facts{Today: on, Profile: body.Profile{BirthDate: "2008-03-02"}}
		got := false
		for _, c := range f.Cuts() {
			got = got || c.ID == "caution.under_18"
		}
		assert.Equal(t, young, got, on)
	}
}

// Bare feet opened to a stage are opened out of doors and for walks; what else carries a name stays.
func TestBareFeetOpened(t *testing.T) {
	two := 2
	got := Takes{BareAbove: num(0), Tags: []body.Tag{body.Outdoors, body.Grip, body.Walking}}.opened(refer.Opening{Bare: &two})
	assert.Equal(t, []body.Tag{body.Grip}, got.Tags)
	assert.Equal(t, 2, *got.BareAbove)
}

// A clinician's “nothing on bare feet” is the hurt leg's: the other one keeps its work at home.
func TestNothingBareIsTheHurtLegs(t *testing.T) {
	four, none, free := 4, -1, body.FreeHops
	word := refer.Clearance{Kind: "clinician", Who: "Physiotherapist", On: "2026-03-05",
		Opens: &refer.Opening{Level: &four, Bare: &none, Impact: &free, Run: "all"}}
	f := Facts{Today: "2026-03-10", Stops: []refer.Stop{{ID: "s", Sign: "pop", Region: body.Calf, Side: body.Left, On: "2026-03-01",
		Recorded: "2026-03-01", Clearances: []refer.Clearance{word}}},
		Profile: body.Profile{BirthDate: "1985-03-02", Touch: body.Touch{Left: true, Right: true, On: "2026-03-01"}}}
	bare := func(side body.Side, stage int) bool {
		return f.May(Ask{Demand: body.Demand{Trains: body.OneSide, Bears: body.TrainedLeg, Bare: true, Stage: stage}, Side: side}).May()
	}
	assert.False(t, bare(body.Left, 0))
	assert.True(t, bare(body.Right, 0))
	assert.False(t, bare(body.Right, 1))
}

// A touch that was told on no known day says nothing of the feeling.
func TestATouchOfNoDay(t *testing.T) {
	for on, felt := range map[body.Date]bool{"": false, "2025-01-01": false, "2026-03-01": true} {
		f := Facts{Today: "2026-03-10", Profile: body.Profile{BirthDate: "1985-03-02", Touch: body.Touch{Left: true, Right: true, On: on}}}
		assert.Equal(t, felt, f.feels(body.Both), on)
	}
}
