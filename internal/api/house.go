package api

import (
	"context"
	"net/http"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/store"
)

// HouseRule is a rule with the value in force.
type HouseRule struct {
	house.Rule
	Value   float64 `json:"value"`
	Changed bool    `json:"changed"`
}

// Reference is what the interface needs to know once: the lists everything is chosen from.
type Reference struct {
	Measures   []screen.Measure `json:"measures"`
	Stations   []screen.Station `json:"stations"`
	Signs      []refer.Sign     `json:"signs"`
	Cautions   []refer.Caution  `json:"cautions"`
	Approaches []house.Approach `json:"approaches"`
	Regions    []NamedRegion    `json:"regions"`
	House      []HouseRule      `json:"house"`
	Version    int              `json:"version" doc:"of the house rules"`
}

// NamedRegion is a region with its words.
type NamedRegion struct {
	ID   body.Region `json:"id"`
	Name string      `json:"name"`
}

func (s *server) house() {
	do(s, http.MethodGet, "/api/reference", "reference", "Measures, signs, cautions, approaches and house rules", func(ctx context.Context, _ *struct{}) (Reference, error) {
		r := Reference{Measures: screen.Measures, Stations: screen.Stations, Signs: refer.Signs, Cautions: refer.Cautions, Approaches: house.Approaches, Regions: []NamedRegion{}, House: []HouseRule{}}
		for _, n := range body.RegionNames {
			r.Regions = append(r.Regions, NamedRegion{n.ID, n.Name})
		}
		err := s.desk.Store.In(ctx, actor(ctx).Practice, func(tx *store.Tx) error {
			h, err := tx.Rules(ctx)
			r.Version = h.Version
			for _, rule := range house.All {
				_, changed := h.Changed[rule.Key]
				r.House = append(r.House, HouseRule{rule, h.Get(rule.Key), changed})
			}
			return err
		})
		return r, err
	})
	do(s, http.MethodPut, "/api/house/{key}", "change-rule", "Change a house rule, or set it back", func(ctx context.Context, in *struct {
		Key  string `path:"key" maxLength:"80"`
		Body struct {
			Value *float64 `json:"value" doc:"null: back to the default"`
		}
	}) (nothing, error) {
		rule, found := house.Find(in.Key)
		value := rule.Default
		if in.Body.Value != nil {
			value = *in.Body.Value
		}
		if err := house.CheckChange(in.Key, value); err != nil || !found {
			return nothing{}, err
		}
		return ok(s.desk.Store.In(ctx, actor(ctx).Practice, func(tx *store.Tx) error {
			return tx.ChangeRule(ctx, in.Key, in.Body.Value, actor(ctx).Coach)
		}))
	})
}
