package api

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/core/steps"
	"notchback/internal/room"
	"notchback/internal/store"
)

// HouseRule is a rule with the value in force.
type HouseRule struct {
	house.Rule
	Value   float64 `json:"value"`
	Changed bool    `json:"changed"`
	Kept    float64 `json:"kept" doc:"what the practice set; counts as the nearer bound where it is outside the range"`
}

// Reference is what the interface needs to know once: the lists everything is chosen from.
type Reference struct {
	Steps      []steps.Step       `json:"steps" doc:"of the job, in their order"`
	Measures   []screen.Measure   `json:"measures"`
	Stations   []screen.Station   `json:"stations"`
	Signs      []refer.Sign       `json:"signs"`
	Cautions   []refer.Caution    `json:"cautions"`
	Approaches []house.Approach   `json:"approaches"`
	Chosen     map[string]string  `json:"chosen" doc:"the practice's own choices"`
	Core       []string           `json:"core" doc:"stations of the practice's core screen"`
	CoreMin    int                `json:"coreMinutes" doc:"how long that takes"`
	CoreMost   int                `json:"coreMost" doc:"minutes it should take at most, by the house rule"`
	Regions    []body.NamedRegion `json:"regions"`
	Times      []body.Moment      `json:"times" doc:"when a symptom is felt"`
	House      []HouseRule        `json:"house"`
	PlatesMm   []float64          `json:"platesMm" doc:"thicknesses the coach owns; empty: the runner's own count"`
	Version    int                `json:"version" doc:"of the house rules"`
	Simulated  bool               `json:"simulated" doc:"a simulated inclinometer is there; without it there is none"`
}

// reference tells it under the rules of a practice.
func (s *server) reference(h house.Rules) Reference {
	r := Reference{Steps: steps.All, Measures: screen.Measures, Stations: screen.Stations, Signs: refer.Signs, Cautions: refer.Cautions,
		Approaches: house.Approaches, Regions: body.RegionNames, Times: body.SymptomTimes, House: []HouseRule{},
		PlatesMm: append([]float64{}, h.PlatesMm...), Simulated: s.cfg.Inclinometer != nil,
		Version: h.Version, Chosen: h.Approaches, Core: room.CoreStations(h)}
	r.CoreMin, r.CoreMost = coreLength(r.Core), screen.Most(screen.CoreScreen, h)
	for _, rule := range house.All {
		kept, changed := h.Changed[rule.Key]
		if !changed {
			kept = rule.Default
		}
		r.House = append(r.House, HouseRule{rule, h.Get(rule.Key), changed, kept})
	}
	return r
}

type ruleIn struct {
	Key  string `path:"key" maxLength:"80"`
	Body struct {
		Value *float64 `json:"value" doc:"null: back to the default"`
		Was   *float64 `json:"was,omitempty" doc:"the figure that was seen; another one since is a conflict"`
	}
}

// check returns the value in question, or why it may not be.
func (in *ruleIn) check() (float64, error) {
	rule, found := house.Find(in.Key)
	value := rule.Default
	if in.Body.Value != nil {
		value = *in.Body.Value
	}
	if err := house.CheckChange(in.Key, value); err != nil || !found {
		return 0, err
	}
	return value, nil
}

type choiceIn struct {
	Question string `path:"question" maxLength:"40"`
	Body     struct {
		Choice string  `json:"choice" doc:"empty: back to the default"`
		Was    *string `json:"was,omitempty" doc:"the answer that was seen, empty for the default; another one since is a conflict"`
	}
}

func (s *server) house() {
	doSame(s, "/api/reference", "reference", "Measures, signs, cautions, approaches and house rules",
		func(ctx context.Context) (key string, body func() Reference, err error) {
			err = s.desk.Store.Read(ctx, actor(ctx).Practice, func(tx *store.Tx) error {
				in, err := tx.House(ctx)
				if err != nil {
					return err
				}
				rules, err := json.Marshal(in.Rules)
				key, body = string(rules), func() Reference { return s.reference(in.Rules) }
				return err
			})
			return key, body, err
		})
	do(s, http.MethodPut, "/api/house/{key}", "change-rule", "Change a house rule, or set it back",
		func(ctx context.Context, in *ruleIn) (nothing, error) {
			if _, err := in.check(); err != nil {
				return nothing{}, err
			}
			return ok(s.desk.ChangeRule(ctx, actor(ctx), in.Key, in.Body.Value, in.Body.Was))
		})
	do(s, http.MethodPost, "/api/house/{key}/effect", "rule-effect", "Whose findings a change would move; nothing is stored",
		func(ctx context.Context, in *ruleIn) ([]room.Effect, error) {
			value, err := in.check()
			if err != nil {
				return nil, err
			}
			return s.desk.Effects(ctx, actor(ctx), func(h *house.Rules) { h.Changed[in.Key] = value })
		})
	do(s, http.MethodGet, "/api/house-history", "house-history", "What was changed, by whom and when",
		func(ctx context.Context, _ *struct{}) (out []store.HouseChange, err error) {
			err = s.desk.Store.In(ctx, actor(ctx).Practice, func(tx *store.Tx) error {
				out, err = tx.HouseHistory(ctx)
				return err
			})
			return out, err
		})
	s.practiceChoices()
	s.coreMinutes()
	do(s, http.MethodGet, "/api/typical-errors", "typical-errors", "The practice's own measurement errors from repeat pairs",
		func(ctx context.Context, _ *struct{}) ([]screen.Typical, error) {
			return s.desk.Typical(ctx, actor(ctx))
		})
}

func coreLength(stations []string) int {
	return screen.Minutes(screen.Plan(screen.CoreScreen, stations, nil))
}

// coreMinutes is how long a core screen of some stations takes.
func (s *server) coreMinutes() {
	type length struct {
		Minutes int `json:"minutes"`
	}
	do(s, http.MethodGet, "/api/core-minutes", "core-minutes", "How long a core screen of these stations takes",
		func(ctx context.Context, in *struct {
			Stations []string `query:"stations" maxItems:"20"`
		}) (length, error) {
			return length{coreLength(in.Stations)}, nil
		})
}

// practiceChoices are what a practice chooses beside the figures.
func (s *server) practiceChoices() {
	do(s, http.MethodPut, "/api/approaches/{question}", "change-approach", "Choose the practice's approach, or set it back",
		func(ctx context.Context, in *choiceIn) (nothing, error) {
			if in.Body.Choice != "" {
				if err := house.CheckApproaches(map[string]string{in.Question: in.Body.Choice}); err != nil {
					return nothing{}, err
				}
			}
			return ok(s.desk.ChangeApproach(ctx, actor(ctx), in.Question, in.Body.Choice, in.Body.Was))
		})
	do(s, http.MethodPost, "/api/approaches/{question}/effect", "approach-effect", "Whose findings an approach would move; nothing is stored",
		func(ctx context.Context, in *choiceIn) ([]room.Effect, error) {
			return s.desk.Effects(ctx, actor(ctx), func(h *house.Rules) { h.Approaches[in.Question] = in.Body.Choice })
		})
	do(s, http.MethodPut, "/api/core-stations", "change-core", "Choose the stations of the core screen; none: the default",
		func(ctx context.Context, in *struct {
			Body struct {
				Stations []string `json:"stations"`
				Was      []string `json:"was,omitempty" doc:"the stations that were seen; others since are a conflict"`
			}
		}) (nothing, error) {
			for _, st := range in.Body.Stations {
				if !slices.ContainsFunc(screen.Stations, func(x screen.Station) bool { return x.ID == st }) {
					return nothing{}, body.Refuse("stations", "%q is not a station", st)
				}
			}
			return ok(s.desk.ChangeCore(ctx, actor(ctx), in.Body.Stations, in.Body.Was))
		})
	do(s, http.MethodPut, "/api/plates", "change-plates", "Set the thicknesses the coach owns; none: the runner's own count",
		func(ctx context.Context, in *struct {
			Body struct {
				PlatesMm []float64 `json:"platesMm" maxItems:"10"`
				Was      []float64 `json:"was,omitempty" doc:"the thicknesses that were seen; others since are a conflict"`
			}
		}) (nothing, error) {
			for _, mm := range in.Body.PlatesMm {
				if mm <= 0 || mm > 100 {
					return nothing{}, body.Refuse("platesMm", "has %g mm; enter thicknesses over 0 up to 100 mm", mm)
				}
			}
			return ok(s.desk.ChangePlates(ctx, actor(ctx), in.Body.PlatesMm, in.Body.Was))
		})
}
