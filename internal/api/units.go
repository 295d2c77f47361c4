package api

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/body"
	"notchback/internal/store"
)

// reader is what whoever asks reads figures in.
func reader(ctx context.Context) body.Units {
	if c, isCoach := ctx.Value(actorKey{}).(who); isCoach {
		return c.coach.Units
	}
	if o, isRunner := ctx.Value(linkKey{}).(store.LinkOwner); isRunner {
		return o.Units
	}
	return body.Units{}
}

// read is an answer on its way to somebody.
type read struct {
	body any
	in   body.Units
}

// forReader has an answer written in the units of whoever asked.
func forReader(ctx huma.Context, _ string, v any) (any, error) {
	return read{v, reader(ctx.Context())}, nil
}

// inUnits is JSON with the figures of its texts in the reader's units.
var inUnits = huma.Format{
	Marshal: func(w io.Writer, v any) error {
		in := body.Units{}
		if r, is := v.(read); is {
			v, in = r.body, r.in
		}
		var plain bytes.Buffer
		if err := huma.DefaultJSONFormat.Marshal(&plain, v); err != nil {
			return err
		}
		_, err := w.Write(in.Bytes(plain.Bytes()))
		return err
	},
	Unmarshal: json.Unmarshal,
}

type unitsIn struct {
	Body struct {
		Units body.Units `json:"units"`
	}
}

// units are chosen by a coach for the own desk, and by a runner for the own phone.
func (s *server) units() {
	do(s, http.MethodPut, "/api/me/units", "set-units", "What I read figures in",
		func(ctx context.Context, in *unitsIn) (nothing, error) {
			if err := in.Body.Units.Check(); err != nil {
				return nothing{}, err
			}
			a := actor(ctx)
			return ok(s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) error { return tx.ReadIn(ctx, a.Coach, in.Body.Units) }))
		})
	register(s, http.MethodPut, "/api/phone/units", "phone-units", "What the phone shows figures in", huma.Middlewares{s.byLink},
		func(ctx context.Context, in *unitsIn) (nothing, error) {
			if err := in.Body.Units.Check(); err != nil {
				return nothing{}, err
			}
			a, runner := owner(ctx)
			return ok(s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) error { return tx.PhoneReadsIn(ctx, runner, in.Body.Units) }))
		})
}
