package api

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"rsc.io/qr"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/job"
	"notchback/internal/store"
)

// RosterRow is a runner in the list.
type RosterRow struct {
	ID       string      `json:"id"`
	Name     string      `json:"name"`
	Age      int         `json:"age"`
	Phase    build.Phase `json:"phase" enum:"calm,build,load,"`
	Screened body.Date   `json:"screened"`
	Archived bool        `json:"archived"`
	Locked   bool        `json:"locked"`
}

// RunnerView is a runner as the intake page shows one.
type RunnerView struct {
	ID       string          `json:"id"`
	Name     string          `json:"name"`
	Timezone string          `json:"timezone"`
	Version  int             `json:"version"`
	Archived bool            `json:"archived"`
	Today    body.Date       `json:"today"`
	Age      int             `json:"age"`
	Profile  body.Profile    `json:"profile"`
	Stops    []StopView      `json:"stops"`
	Cautions []refer.Caution `json:"cautions" doc:"in force today"`
	Links    []store.Link    `json:"links"`
	Steps    []StepState     `json:"steps"`
}

// StopView is a warning sign with whether it still locks.
type StopView struct {
	refer.Stop
	Open bool       `json:"open"`
	What refer.Sign `json:"what"`
}

// StepState is how one step of the job stands.
type StepState struct {
	ID    string `json:"id" enum:"intake,screen,read,build,week,adjust"`
	State string `json:"state" enum:"open,done,due"`
	Word  string `json:"word"`
}

type intakeIn struct {
	RunnerPath
	Body job.Intake
}

type archiveIn struct {
	RunnerPath
	Body struct {
		Archived bool `json:"archived"`
	}
}

type stopIn struct {
	RunnerPath
	Stop string `path:"stop" format:"uuid"`
	Body struct {
		Sign   string      `json:"sign"`
		Region body.Region `json:"region,omitempty"`
		Side   body.Side   `json:"side" enum:"left,right,both"`
		On     body.Date   `json:"on,omitempty"`
	}
}

type clearanceIn struct {
	RunnerPath
	Stop      string `path:"stop" format:"uuid"`
	Clearance string `path:"clearance" format:"uuid"`
	Body      struct {
		Kind   string    `json:"kind" enum:"clinician,reviewed"`
		Who    string    `json:"who" maxLength:"200"`
		On     body.Date `json:"on"`
		Limits string    `json:"limits" maxLength:"1000"`
	}
}

type linkIn struct {
	RunnerPath
	Link string `path:"link" format:"uuid"`
}

// NewLink is a private link, shown once.
type NewLink struct {
	URL     string    `json:"url"`
	Expires time.Time `json:"expires"`
	QR      []string  `json:"qr" doc:"rows of the QR code, 1 dark and 0 light"`
}

func (s *server) roster() {
	do(s, http.MethodGet, "/api/today", "today", "The desk queue", func(ctx context.Context, _ *struct{}) ([]job.QueueItem, error) {
		rs, err := s.desk.All(ctx, actor(ctx), false)
		return job.Queue(rs), err
	})
	do(s, http.MethodGet, "/api/runners", "runners", "The roster", func(ctx context.Context, in *struct {
		Q        string `query:"q" maxLength:"120"`
		Archived bool   `query:"archived"`
	}) ([]RosterRow, error) {
		rs, err := s.desk.All(ctx, actor(ctx), in.Archived)
		rows := []RosterRow{}
		for _, o := range rs {
			if !strings.Contains(strings.ToLower(o.Name), strings.ToLower(strings.TrimSpace(in.Q))) {
				continue
			}
			row := RosterRow{ID: o.ID, Name: o.Name, Age: o.Profile.Age(o.Today), Archived: o.Archived}
			if o.Programme != nil {
				row.Phase = o.Programme.Plan.Phase
			}
			if len(o.Screens) > 0 {
				row.Screened = o.Screens[0].On
			}
			for _, st := range o.Stops {
				row.Locked = row.Locked || st.Open()
			}
			rows = append(rows, row)
		}
		return rows, err
	})
	do(s, http.MethodGet, "/api/runners/{runner}", "runner", "One runner", func(ctx context.Context, in *RunnerPath) (RunnerView, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		return view(o), err
	})
	do(s, http.MethodPut, "/api/runners/{runner}", "save-intake", "Create a runner or change the intake", func(ctx context.Context, in *intakeIn) (RunnerView, error) {
		if err := s.desk.SaveIntake(ctx, actor(ctx), in.Runner, in.Body); err != nil {
			return RunnerView{}, err
		}
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		return view(o), err
	})
	do(s, http.MethodPost, "/api/runners/{runner}/archive", "archive", "Put a runner away, or bring one back", func(ctx context.Context, in *archiveIn) (nothing, error) {
		return ok(s.desk.Store.In(ctx, actor(ctx).Practice, func(tx *store.Tx) error { return tx.Archive(ctx, in.Runner, in.Body.Archived) }))
	})
	do(s, http.MethodPut, "/api/runners/{runner}/stops/{stop}", "add-stop", "Record a warning sign; it locks at once", func(ctx context.Context, in *stopIn) (nothing, error) {
		return ok(s.desk.RecordStop(ctx, actor(ctx), in.Runner, refer.Stop{ID: in.Stop, Sign: in.Body.Sign, Region: in.Body.Region, Side: in.Body.Side, On: in.Body.On, Source: "intake"}))
	})
	do(s, http.MethodPut, "/api/runners/{runner}/stops/{stop}/clearances/{clearance}", "clear-stop", "Record who cleared a warning sign", func(ctx context.Context, in *clearanceIn) (nothing, error) {
		b := in.Body
		return ok(s.desk.Clear(ctx, actor(ctx), in.Runner, in.Stop, refer.Clearance{ID: in.Clearance, Kind: b.Kind, Who: b.Who, On: b.On, Limits: b.Limits}))
	})
	do(s, http.MethodPut, "/api/runners/{runner}/links/{link}", "make-link", "Make a private link; earlier ones end", func(ctx context.Context, in *linkIn) (NewLink, error) {
		return s.makeLink(ctx, in)
	})
	do(s, http.MethodDelete, "/api/runners/{runner}/links/{link}", "revoke-link", "End a private link at once", func(ctx context.Context, in *linkIn) (nothing, error) {
		return ok(s.desk.Store.In(ctx, actor(ctx).Practice, func(tx *store.Tx) error { return tx.RevokeLink(ctx, in.Runner, in.Link) }))
	})
}

func (s *server) makeLink(ctx context.Context, in *linkIn) (NewLink, error) {
	token := store.NewToken()
	var l NewLink
	err := s.desk.With(ctx, actor(ctx), in.Runner, func(tx *store.Tx, o job.Open) error {
		l.Expires = s.desk.Now().UTC().AddDate(0, 0, o.House.Int("link.days"))
		for _, old := range o.Links {
			if old.Live {
				if err := tx.RevokeLink(ctx, in.Runner, old.ID); err != nil {
					return err
				}
			}
		}
		return tx.AddLink(ctx, in.Runner, in.Link, store.Hash(token), l.Expires)
	})
	if err != nil {
		return l, err
	}
	// The token stands behind the #, so that it never reaches a log or another site.
	l.URL = s.cfg.PublicURL + "/phone#" + token
	code, err := qr.Encode(l.URL, qr.M)
	if err != nil {
		return l, err
	}
	for y := range code.Size {
		row := make([]byte, code.Size)
		for x := range code.Size {
			row[x] = '0'
			if code.Black(x, y) {
				row[x] = '1'
			}
		}
		l.QR = append(l.QR, string(row))
	}
	return l, nil
}

func view(o job.Open) RunnerView {
	v := RunnerView{ID: o.ID, Name: o.Name, Timezone: o.Timezone, Version: o.Version, Archived: o.Archived, Today: o.Today, Age: o.Profile.Age(o.Today),
		Profile: o.Profile, Stops: []StopView{}, Cautions: refer.InForce(o.Profile, o.Today), Links: o.Links}
	locked := false
	for _, st := range o.Stops {
		sign, _ := refer.FindSign(st.Sign)
		v.Stops = append(v.Stops, StopView{st, st.Open(), sign})
		locked = locked || st.Open()
	}
	done := map[string]bool{"intake": !locked, "screen": len(o.Screens) > 0 && o.Screens[0].Finished, "read": o.Programme != nil, "build": o.Programme != nil, "week": o.Programme != nil}
	words := map[string]string{}
	if locked {
		words["intake"] = "warning sign"
	}
	if len(o.Screens) > 0 && !o.Screens[0].Finished {
		words["screen"] = "begun"
	}
	if len(o.Screens) > 0 && o.Screens[0].Finished && o.Today.Sub(o.Screens[0].On) >= o.House.Int("retest.days") {
		words["screen"] = "retest due"
	}
	if o.Programme == nil && done["screen"] {
		words["build"] = "next"
	}
	for _, p := range o.Proposals() {
		if p.News && (p.Verdict == adjust.Up || p.Verdict == adjust.Back || p.Verdict == adjust.Park) {
			words["adjust"] = "to decide"
		}
	}
	for _, id := range []string{"intake", "screen", "read", "build", "week", "adjust"} {
		st := StepState{ID: id, State: "open", Word: words[id]}
		if done[id] {
			st.State = "done"
		}
		if st.Word != "" {
			st.State = "due"
		}
		v.Steps = append(v.Steps, st)
	}
	return v
}

// ScreenView is a runner's screens with what bounds the newest one.
type ScreenView struct {
	Screens       []store.Screen   `json:"screens" doc:"newest first"`
	Findings      []screen.Finding `json:"findings" doc:"of the newest screen"`
	Readings      []screen.Reading `json:"readings" doc:"of the newest screen"`
	RaiseCeiling  int              `json:"raiseCeiling" doc:"heel raises stop here on purpose; 0 none"`
	CeilingReason body.Reason      `json:"ceilingReason"`
	Today         body.Date        `json:"today"`
	BigToeMm      float64          `json:"bigToeMm"`
	PlatesMm      []float64        `json:"platesMm"`
}

type ScreenPath struct {
	RunnerPath
	Screen string `path:"screen" format:"uuid"`
}

type trialIn struct {
	ScreenPath
	Trial string `path:"trial" format:"uuid"`
	Body  struct {
		Measure string    `json:"measure"`
		Side    body.Side `json:"side" enum:"left,right"`
		Value   float64   `json:"value"`
		Faults  []string  `json:"faults,omitempty"`
		Stop    string    `json:"stop,omitempty"`
		Skipped string    `json:"skipped,omitempty" maxLength:"200"`
	}
}

type trialPath struct {
	ScreenPath
	Trial string `path:"trial" format:"uuid"`
}

func (s *server) screens() {
	show := func(ctx context.Context, runner string) (ScreenView, error) {
		o, err := s.desk.Open(ctx, actor(ctx), runner)
		if err != nil {
			return ScreenView{}, err
		}
		v := ScreenView{Screens: o.Screens, Findings: []screen.Finding{}, Readings: []screen.Reading{}, Today: o.Today, BigToeMm: o.Profile.BigToeMm, PlatesMm: o.Profile.Equipment.PlatesMm}
		newest := ""
		if len(o.Screens) > 0 {
			newest = o.Screens[0].ID
			if f := screen.Findings(o.Screens[0].Trials, o.Profile.BigToeMm, o.House); f != nil {
				v.Findings = f
			}
			for _, m := range screen.Measures {
				for _, side := range body.Sides {
					if r, ok := screen.Read(o.Screens[0].Trials, m.ID, side); ok {
						v.Readings = append(v.Readings, r)
					}
				}
			}
		}
		v.RaiseCeiling, v.CeilingReason = screen.RaiseCeiling(o.Circumstances(newest), o.House)
		return v, nil
	}
	then := func(ctx context.Context, runner string, err error) (ScreenView, error) {
		if err != nil {
			return ScreenView{}, err
		}
		return show(ctx, runner)
	}
	do(s, http.MethodGet, "/api/runners/{runner}/screens", "screens", "A runner's screens", func(ctx context.Context, in *RunnerPath) (ScreenView, error) { return show(ctx, in.Runner) })
	do(s, http.MethodPut, "/api/runners/{runner}/screens/{screen}", "start-screen", "Start a screen today", func(ctx context.Context, in *ScreenPath) (ScreenView, error) {
		return then(ctx, in.Runner, s.desk.StartScreen(ctx, actor(ctx), in.Runner, in.Screen))
	})
	do(s, http.MethodPost, "/api/runners/{runner}/screens/{screen}/finish", "finish-screen", "Finish a screen", func(ctx context.Context, in *ScreenPath) (ScreenView, error) {
		return then(ctx, in.Runner, s.desk.InScreen(ctx, actor(ctx), in.Runner, in.Screen, func(tx *store.Tx) error { return tx.FinishScreen(ctx, in.Runner, in.Screen) }))
	})
	do(s, http.MethodPut, "/api/runners/{runner}/screens/{screen}/trials/{trial}", "add-trial", "Store one trial", func(ctx context.Context, in *trialIn) (ScreenView, error) {
		b := in.Body
		t := screen.Trial{ID: in.Trial, Measure: b.Measure, Side: b.Side, Value: b.Value, Faults: b.Faults, Stop: b.Stop, Skipped: b.Skipped}
		return then(ctx, in.Runner, s.desk.AddTrial(ctx, actor(ctx), in.Runner, in.Screen, t))
	})
	do(s, http.MethodDelete, "/api/runners/{runner}/screens/{screen}/trials/{trial}", "remove-trial", "Take a trial out; it is kept", func(ctx context.Context, in *trialPath) (ScreenView, error) {
		return then(ctx, in.Runner, s.desk.InScreen(ctx, actor(ctx), in.Runner, in.Screen, func(tx *store.Tx) error { return tx.RemoveTrial(ctx, in.Screen, in.Trial) }))
	})
	do(s, http.MethodGet, "/api/runners/{runner}/read", "read", "Ranked findings", func(ctx context.Context, in *RunnerPath) (job.Read, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		if err != nil {
			return job.Read{}, err
		}
		r := o.Read()
		for _, c := range refer.InForce(o.Profile, o.Today) {
			r.Cautions = append(r.Cautions, c.Limits)
		}
		return r, nil
	})
}

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
			v.Lines = append(v.Lines, CurrentLine{p.Rail, p.Side, p.Text()})
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

// AdjustView is the Adjust room.
type AdjustView struct {
	Today    body.Date       `json:"today"`
	Rails    []job.RailView  `json:"rails"`
	Volume   job.VolumeView  `json:"volume"`
	Mornings []build.Morning `json:"mornings" doc:"newest first, up to three weeks"`
	Usual    []build.Usual   `json:"usual"`
	Watched  []job.Watched   `json:"watched"`
}

type logBody struct {
	Prescription string    `json:"prescription" format:"uuid"`
	On           body.Date `json:"on"`
	Done         []int     `json:"done"`
	RPE          int       `json:"rpe" doc:"-1 when not entered yet"`
	Pain         int       `json:"pain"`
	CrampAt      int       `json:"crampAt,omitempty"`
	Faults       []string  `json:"faults,omitempty"`
	Note         string    `json:"note,omitempty" maxLength:"2000"`
	Supersedes   string    `json:"supersedes,omitempty" doc:"log this one corrects"`
}

func (b logBody) log(id, source string) adjust.Log {
	return adjust.Log{ID: id, On: b.On, Done: b.Done, RPE: b.RPE, Pain: b.Pain, CrampAt: b.CrampAt, Faults: b.Faults, Note: b.Note, Source: source}
}

type morningBody struct {
	On        body.Date   `json:"on"`
	Region    body.Region `json:"region"`
	Side      body.Side   `json:"side" enum:"left,right,both"`
	Pain      int         `json:"pain"`
	Stiffness int         `json:"stiffness,omitempty"`
}

func (b morningBody) morning(id string) build.Morning {
	return build.Morning{ID: id, On: b.On, Region: b.Region, Side: b.Side, Pain: b.Pain, Stiffness: b.Stiffness}
}

type runBody struct {
	On      body.Date `json:"on"`
	Minutes float64   `json:"minutes"`
	Km      float64   `json:"km,omitempty"`
	RPE     int       `json:"rpe,omitempty"`
}

func (b runBody) run(id string) load.Run {
	return load.Run{ID: id, On: b.On, Minutes: b.Minutes, Km: b.Km, RPE: b.RPE}
}

type RecordPath struct {
	ID string `path:"id" format:"uuid"`
}

func (s *server) adjusting() {
	do(s, http.MethodGet, "/api/runners/{runner}/adjust", "adjust", "Rails with their proposals", func(ctx context.Context, in *RunnerPath) (AdjustView, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		if err != nil {
			return AdjustView{}, err
		}
		v := AdjustView{Today: o.Today, Rails: o.Rails(), Volume: o.Volume(), Mornings: []build.Morning{}, Usual: o.Usual, Watched: o.Phone(s.desk.Now()).Watched}
		for i := len(o.Mornings) - 1; i >= 0; i-- {
			if o.Today.Sub(o.Mornings[i].On) <= 21 {
				v.Mornings = append(v.Mornings, o.Mornings[i])
			}
		}
		return v, nil
	})
	do(s, http.MethodPut, "/api/runners/{runner}/decisions/{id}", "decide", "Accept a proposal, or decide otherwise with a word why", func(ctx context.Context, in *struct {
		RunnerPath
		RecordPath
		Body job.Decision
	}) (nothing, error) {
		return ok(s.desk.Decide(ctx, actor(ctx), in.Runner, in.ID, in.Body))
	})
	do(s, http.MethodPut, "/api/runners/{runner}/logs/{id}", "coach-log", "Enter or correct a session for the runner", func(ctx context.Context, in *struct {
		RunnerPath
		RecordPath
		Body logBody
	}) (nothing, error) {
		return ok(s.desk.AddLog(ctx, actor(ctx), in.Runner, in.Body.Prescription, in.Body.Supersedes, in.Body.log(in.ID, "coach")))
	})
	do(s, http.MethodPut, "/api/runners/{runner}/mornings/{id}", "coach-morning", "Enter a morning for the runner", func(ctx context.Context, in *struct {
		RunnerPath
		RecordPath
		Body morningBody
	}) (nothing, error) {
		return ok(s.desk.AddMorning(ctx, actor(ctx), in.Runner, "coach", in.Body.morning(in.ID)))
	})
	do(s, http.MethodPut, "/api/runners/{runner}/runs/{id}", "coach-run", "Enter a run for the runner", func(ctx context.Context, in *struct {
		RunnerPath
		RecordPath
		Body runBody
	}) (nothing, error) {
		return ok(s.desk.AddRun(ctx, actor(ctx), in.Runner, "coach", in.Body.run(in.ID)))
	})
}

type linkKey struct{}

// byLink lets a runner's private link through.
func (s *server) byLink(ctx huma.Context, next func(huma.Context)) {
	token := strings.TrimPrefix(ctx.Header("Authorization"), "Bearer ")
	o, err := s.desk.Store.LinkOwner(ctx.Context(), token)
	if err != nil {
		status, words := http.StatusUnauthorized, "This link has ended. Ask your coach for a new one."
		if s.desk.Store.Ready(ctx.Context()) != nil {
			status, words = http.StatusServiceUnavailable, "The server does not answer. Keep going; this page sends later."
		}
		_ = huma.WriteErr(s.huma, ctx, status, words)
		return
	}
	next(huma.WithValue(ctx, linkKey{}, o))
}

func (s *server) phone() {
	m := huma.Middlewares{s.byLink}
	owner := func(ctx context.Context) (job.Actor, string) {
		o := ctx.Value(linkKey{}).(store.LinkOwner)
		return job.Actor{Practice: o.Practice}, o.Runner
	}
	register(s, http.MethodGet, "/api/phone", "phone", "The runner's page", m, func(ctx context.Context, _ *struct{}) (job.Phone, error) {
		a, runner := owner(ctx)
		o, err := s.desk.Open(ctx, a, runner)
		if err != nil {
			return job.Phone{}, err
		}
		return o.Phone(s.desk.Now()), nil
	})
	register(s, http.MethodPut, "/api/phone/logs/{id}", "phone-log", "A session as it was done", m, func(ctx context.Context, in *struct {
		RecordPath
		Body logBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddLog(ctx, a, runner, in.Body.Prescription, in.Body.Supersedes, in.Body.log(in.ID, "phone")))
	})
	register(s, http.MethodPut, "/api/phone/mornings/{id}", "phone-morning", "First steps this morning", m, func(ctx context.Context, in *struct {
		RecordPath
		Body morningBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddMorning(ctx, a, runner, "phone", in.Body.morning(in.ID)))
	})
	register(s, http.MethodPut, "/api/phone/runs/{id}", "phone-run", "A run", m, func(ctx context.Context, in *struct {
		RecordPath
		Body runBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddRun(ctx, a, runner, "phone", in.Body.run(in.ID)))
	})
	register(s, http.MethodPut, "/api/phone/signs/{id}", "phone-sign", "A warning sign; it locks at once", m, func(ctx context.Context, in *struct {
		RecordPath
		Body struct {
			Sign   string      `json:"sign"`
			Region body.Region `json:"region,omitempty"`
			Side   body.Side   `json:"side" enum:"left,right,both"`
			On     body.Date   `json:"on"`
		}
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.RecordStop(ctx, a, runner, refer.Stop{ID: in.ID, Sign: in.Body.Sign, Region: in.Body.Region, Side: in.Body.Side, On: in.Body.On, Source: "phone"}))
	})
}

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
