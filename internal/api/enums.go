package api

import (
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/adjust"
	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/gait"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/core/steps"
	"notchback/internal/room"
)

// enumerated gives the core's named words the core's lists, so that the document, its types and what is refused cannot
// drift from them. A field that allows fewer, or none at all, says so itself.
var enumerated = []func(huma.Config){
	list(body.OneOrBoth), list(body.Impacts), list(body.DoseKinds), list(catalog.Slots), list(catalog.Parts), list(build.Phases),
	list(build.RaceStates), list(adjust.Verdicts), list(screen.Verdicts), list(screen.EntryKinds), list(screen.Changes), list(gait.Kinds),
	list(gait.Moments), list(refer.Classes), list(permit.Kinds), list(permit.Sorts), list(load.States), list(load.Phases),
	list(room.LineKinds), list(steps.IDs()), list(barefoot.Verdicts), list(barefoot.Outcomes),
}

// lists is filled once, when the program starts, and only read after.
var lists = map[reflect.Type][]any{}

// list keeps the words of T, and describes T by them where it is asked to.
func list[T ~string](values []T) func(huma.Config) {
	all := make([]any, len(values))
	for i, v := range values {
		all[i] = string(v)
	}
	lists[reflect.TypeFor[T]()] = all
	return alias[T, listed[T]]
}

// listed is a word of the list of T.
type listed[T ~string] string

// Schema describes it.
func (listed[T]) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: huma.TypeString, Enum: lists[reflect.TypeFor[T]()]}
}
