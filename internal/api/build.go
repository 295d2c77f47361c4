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
	Draft   build.Programme     `json:"draft"`
	InForce *store.Programme    `json:"inForce,omitempty"`
	Names   map[string]string   `json:"names" doc:"exercise names by id"`
	Lines   []CurrentLine       `json:"lines" doc:"current prescriptions"`
	Days    []store.TrainingDay `json:"days"`
	Today   body.Date           `json:"today"`
	Runs    []body.FixedRun     `json:"runs"`
}

// CurrentLine is one prescription in words.
type CurrentLine struct {
	Rail string    `json:"rail"`
	Side body.Side `json:"side" enum:"left,right"`
	Text string    `json:"text"`

	Reason body.Reason `json:"reason"`
}

func (s *server) programme() {
	do(s, http.MethodGet, "/api/runners/{runner}/programme", "programme", "The programme in force, and a draft of today", func(ctx context.Context, in *struct {
		RunnerPath
		Without []string `query:"without"`
		Also    []string `query:"also"`
	}) (BuildView, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		if err != nil {
			return BuildView{}, err
		}
		v := BuildView{Draft: o.Draft(in.Without, in.Also), InForce: o.Programme, Names: map[string]string{}, Lines: []CurrentLine{}, Days: o.Days, Today: o.Today, Runs: o.Profile.Runs}
		for _, r := range catalog.Rails {
			for _, x := range r.Exercises {
				v.Names[x.ID] = x.Name
			}
		}
		for _, p := range o.Prescriptions {
			v.Lines = append(v.Lines, CurrentLine{p.Rail, p.Side, p.Text(), o.WhyHere(p)})
		}
		return v, nil
	})
	do(s, http.MethodPut, "/api/runners/{runner}/programmes/{programme}", "build", "Build and put into force", func(ctx context.Context, in *struct {
		RunnerPath
		Programme string `path:"programme" format:"uuid"`
		Body      struct {
			Without []string `json:"without" doc:"rails to leave out"`
			Also    []string `json:"also,omitempty" doc:"rails to bring in"`
		}
	}) (nothing, error) {
		return ok(s.desk.Build(ctx, actor(ctx), in.Runner, in.Programme, in.Body.Without, in.Body.Also))
	})
}
