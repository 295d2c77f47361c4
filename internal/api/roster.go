package api

import (
	"cmp"
	"context"
	"net/http"
	"time"

	"rsc.io/qr"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
)

type intakeIn struct {
	RunnerPath
	Body room.Intake
}

type formPath struct {
	RunnerPath
	Form string `path:"form" format:"uuid"`
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
		Which  []string    `json:"which,omitempty"`
		Source string      `json:"source,omitempty" enum:"intake,screen"`
	}
}

type clearanceIn struct {
	RunnerPath
	Stop      string `path:"stop" format:"uuid"`
	Clearance string `path:"clearance" format:"uuid"`
	Body      struct {
		Kind   string         `json:"kind" enum:"clinician,reviewed,healed"`
		Who    string         `json:"who" maxLength:"200"`
		On     body.Date      `json:"on"`
		Limits string         `json:"limits" maxLength:"1000"`
		Opens  *refer.Opening `json:"opens,omitempty" doc:"what the clinician opens"`
	}
}

type limitIn struct {
	RunnerPath
	Limit string `path:"limit" format:"uuid"`
	Body  struct {
		For   string        `json:"for" maxLength:"60" doc:"id of the caution or pattern"`
		Side  body.Side     `json:"side" enum:"left,right,both"`
		Kind  string        `json:"kind" enum:"clinician,coach"`
		Who   string        `json:"who" maxLength:"200"`
		On    body.Date     `json:"on"`
		Opens refer.Opening `json:"opens"`
		Words string        `json:"words" maxLength:"1000"`
	}
}

type heelIn struct {
	RunnerPath
	Side body.Side `path:"side" enum:"left,right"`
	Body struct {
		Sore []body.Region `json:"sore" minItems:"1" doc:"heel_sole, heel_back or both"`
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
	do(s, http.MethodGet, "/api/today", "today", "The desk queue", func(ctx context.Context, _ *struct{}) ([]room.QueueItem, error) {
		return s.desk.Today(ctx, actor(ctx))
	})
	do(s, http.MethodGet, "/api/runners", "runners", "The roster", func(ctx context.Context, in *struct {
		Q        string `query:"q" maxLength:"120"`
		Archived bool   `query:"archived"`
	}) ([]room.RosterRow, error) {
		return s.desk.Roster(ctx, actor(ctx), in.Q, in.Archived)
	})
	do(s, http.MethodGet, "/api/runners/{runner}", "runner", "One runner", func(ctx context.Context, in *RunnerPath) (room.RunnerView, error) {
		return s.desk.Runner(ctx, actor(ctx), in.Runner)
	})
	do(s, http.MethodPut, "/api/runners/{runner}", "save-intake", "Create a runner or change the intake",
		func(ctx context.Context, in *intakeIn) (room.RunnerView, error) {
			if err := s.desk.SaveIntake(ctx, actor(ctx), in.Runner, in.Body); err != nil {
				return room.RunnerView{}, err
			}
			return s.desk.Runner(ctx, actor(ctx), in.Runner)
		})
	do(s, http.MethodPost, "/api/runners/{runner}/archive", "archive", "Put a runner away, or bring one back",
		func(ctx context.Context, in *archiveIn) (nothing, error) {
			return ok(s.desk.Touch(ctx, actor(ctx), in.Runner, func(tx *store.Tx) error { return tx.Archive(ctx, in.Runner, in.Body.Archived) }))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/stops/{stop}", "add-stop", "Record a warning sign; it locks at once",
		func(ctx context.Context, in *stopIn) (nothing, error) {
			return ok(s.desk.RecordStop(ctx, actor(ctx), in.Runner, refer.Stop{ID: in.Stop, Sign: in.Body.Sign, Region: in.Body.Region,
				Side: in.Body.Side, On: in.Body.On, Which: in.Body.Which, Source: cmp.Or(in.Body.Source, "intake")}))
		})
	do(s, http.MethodPost, "/api/runners/{runner}/forms/{form}/taken", "take-form", "The runner's own form was looked at",
		func(ctx context.Context, in *formPath) (nothing, error) {
			return ok(s.desk.Touch(ctx, actor(ctx), in.Runner, func(tx *store.Tx) error { return tx.TakeForms(ctx, in.Runner, in.Form) }))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/stops/{stop}/clearances/{clearance}", "clear-stop", "Record who cleared a warning sign",
		func(ctx context.Context, in *clearanceIn) (nothing, error) {
			b := in.Body
			return ok(s.desk.Clear(ctx, actor(ctx), in.Runner, in.Stop,
				refer.Clearance{ID: in.Clearance, Kind: b.Kind, Who: b.Who, On: b.On, Limits: b.Limits, Opens: b.Opens}))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/limits/{limit}", "set-limit", "Record what somebody opens under a caution or a pattern",
		func(ctx context.Context, in *limitIn) (nothing, error) {
			b := in.Body
			return ok(s.desk.SetLimit(ctx, actor(ctx), in.Runner, refer.Limit{ID: in.Limit, For: b.For, Side: b.Side, Kind: b.Kind, Who: b.Who,
				On: b.On, Opens: b.Opens, Words: b.Words}))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/heels/{side}", "tell-heel",
		"Say whether a heel recorded as one place is sore at its sole, its back or both", func(ctx context.Context, in *heelIn) (nothing, error) {
			return ok(s.desk.TellHeel(ctx, actor(ctx), in.Runner, in.Side, in.Body.Sore))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/links/{link}", "make-link", "Make a private link; earlier ones end",
		func(ctx context.Context, in *linkIn) (NewLink, error) {
			return s.makeLink(ctx, in)
		})
	do(s, http.MethodDelete, "/api/runners/{runner}/links/{link}", "revoke-link", "End a private link at once",
		func(ctx context.Context, in *linkIn) (nothing, error) {
			return ok(s.desk.Touch(ctx, actor(ctx), in.Runner, func(tx *store.Tx) error { return tx.RevokeLink(ctx, in.Runner, in.Link) }))
		})
}

func (s *server) makeLink(ctx context.Context, in *linkIn) (NewLink, error) {
	token := store.NewToken()
	var l NewLink
	err := s.desk.Change(ctx, actor(ctx), in.Runner, record.NeedDoor, func(tx *store.Tx, o room.Chart) error {
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
	l.URL = cmp.Or(s.cfg.PublicURL, askedIn(ctx).base) + "/phone#" + token
	l.QR, err = qrRows(l.URL)
	return l, err
}

// qrRows is a text as a code to photograph: rows of modules, 1 is black.
func qrRows(text string) (rows []string, err error) {
	code, err := qr.Encode(text, qr.M)
	if err != nil {
		return nil, err
	}
	for y := range code.Size {
		row := make([]byte, code.Size)
		for x := range code.Size {
			row[x] = '0'
			if code.Black(x, y) {
				row[x] = '1'
			}
		}
		rows = append(rows, string(row))
	}
	return rows, nil
}
