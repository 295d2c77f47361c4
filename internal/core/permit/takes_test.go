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
