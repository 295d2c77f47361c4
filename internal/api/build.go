package api

import (
	"context"
	"net/http"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/store"
)

// BuildView is the programme in force and the one that would be built now.
type BuildView struct {
	Draft   build.Programme  `json:"draft"`
	InForce *store.Programme `json:"inForce,omitempty"`
	Notches []RailNotches    `json:"notches" doc:"of every rail, for setting one by hand"`
	Today   body.Date        `json:"today"`
}

// RailNotches are the notches one rail offers the runner; those out of reach say why.
type RailNotches struct {
	Rail    string          `json:"rail"`
	Notches []catalog.Notch `json:"notches"`
}

type draftIn struct {
	RunnerPath
	Body struct {
		Choices *build.Choices `json:"choices,omitempty" doc:"absent: those in force"`
	}
}

func (s *server) programme() {
	do(s, http.MethodPost, "/api/runners/{runner}/draft", "draft", "A draft of today, and the programme in force; nothing is stored", func(ctx context.Context, in *draftIn) (BuildView, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		if err != nil {
			return BuildView{}, err
		}
		v := BuildView{InForce: o.Programme, Notches: []RailNotches{}, Today: o.Today}
		if v.Draft, err = o.Draft(in.Body.Choices); err != nil {
			return BuildView{}, err
		}
		for _, r := range o.Catalogue.Rails {
			v.Notches = append(v.Notches, RailNotches{r.ID, o.Offered(r, v.Draft.Phase)})
		}
		return v, nil
	})
	do(s, http.MethodPost, "/api/runners/{runner}/drafts/compared", "compare-drafts", "Two drafts side by side", func(ctx context.Context, in *struct {
		RunnerPath
		Body struct {
			A build.Choices `json:"a"`
			B build.Choices `json:"b"`
		}
	}) ([]build.Difference, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		if err != nil {
			return nil, err
		}
		a, err := o.Draft(&in.Body.A)
		if err != nil {
			return nil, err
		}
		b, err := o.Draft(&in.Body.B)
		return build.Compare(a, b), err
	})
	do(s, http.MethodPut, "/api/runners/{runner}/programmes/{programme}", "build", "Build and put into force", func(ctx context.Context, in *struct {
		RunnerPath
		Programme string `path:"programme" format:"uuid"`
		Body      struct {
			Choices build.Choices `json:"choices"`
		}
	}) (nothing, error) {
		return ok(s.desk.Build(ctx, actor(ctx), in.Runner, in.Programme, in.Body.Choices))
	})
}
