package api

import (
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/gait"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

// enums gives the core's named words the core's lists, so that the document, its types and what is refused cannot drift from
// them. A field that allows fewer, or none at all, says so itself.
func enums(cfg huma.Config) {
	list(cfg, body.OneOrBoth)
	list(cfg, body.Impacts)
	list(cfg, body.DoseKinds)
	list(cfg, catalog.Slots)
	list(cfg, catalog.Parts)
	list(cfg, build.Phases)
	list(cfg, build.RaceStates)
	list(cfg, adjust.Verdicts)
	list(cfg, screen.Verdicts)
	list(cfg, screen.EntryKinds)
	list(cfg, screen.Changes)
	list(cfg, gait.Kinds)
	list(cfg, gait.Moments)
	list(cfg, refer.Classes)
	list(cfg, permit.Kinds)
	list(cfg, permit.Sorts)
	list(cfg, load.States)
	list(cfg, load.Phases)
}

var lists = map[reflect.Type][]any{}

func list[T ~string](cfg huma.Config, values []T) {
	all := make([]any, len(values))
	for i, v := range values {
		all[i] = string(v)
	}
	lists[reflect.TypeFor[T]()] = all
	alias[T, listed[T]](cfg)
}

// listed is a word of the list of T.
type listed[T ~string] string

// Schema describes it.
func (listed[T]) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: huma.TypeString, Enum: lists[reflect.TypeFor[T]()]}
}
