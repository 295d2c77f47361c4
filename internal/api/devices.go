package api

import (
	"cmp"
	"context"
	"errors"
	"math"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/account"
	"notchback/internal/core/body"
	"notchback/internal/store"
)

// phoneCookie stands before the id of the link whose device it is: one phone may hold the links of two runners.
const phoneCookie = "notchback-phone-"

// linkOwner finds whose phone asks. The phone says in a header which link it means; where it does not know yet, that of the only
// cookie is meant. A page of a release before the cookies says the link's own secret.
func (s *server) linkOwner(ctx huma.Context) (store.LinkOwner, error) {
	if token, says := strings.CutPrefix(ctx.Header("Authorization"), "Bearer "); says {
		return s.desk.Store.LinkOwner(ctx.Context(), token)
	}
	link, token := ctx.Header("Notchback-Link"), ""
	for _, c := range huma.ReadCookies(ctx) {
		id, is := strings.CutPrefix(c.Name, phoneCookie)
		switch {
		case !is || link != "" && link != id:
		case token != "":
			return store.LinkOwner{}, store.ErrNotFound
		default:
			token = c.Value
		}
	}
	o, err := s.desk.Store.DeviceOwner(ctx.Context(), token)
	if err == nil && o.Stale { // where its last use cannot be written, it is written another time: nobody is turned away for that
		e := s.desk.Store.In(ctx.Context(), o.Practice, func(tx *store.Tx) error { return tx.SeeDevice(ctx.Context(), o.Device) })
		if e != nil {
			s.cfg.Log.Warn("seeing a device", "id", askedIn(ctx.Context()).id, "err", e)
		}
	}
	return o, err
}

// openTries are the wrong short codes that are allowed from one address. There is no account that others could shut.
var openTries = store.Limits{Window: 15 * time.Minute, Pair: 20, Address: 60, Account: math.MaxInt32}

// ShortCode opens a private link on one more device.
type ShortCode struct {
	Code    string    `json:"code" doc:"letters and digits to type; good once"`
	Expires time.Time `json:"expires"`
}

// Opened is a link that is now open on a device; its secret is in the cookie.
type Opened struct {
	Link string `json:"link" doc:"id; said in the header Notchback-Link"`
}

type openedAnswer struct {
	SetCookie http.Cookie `header:"Set-Cookie"`
	Body      Opened
}

type openLink struct {
	RecordPath
	Body struct {
		Token string `json:"token,omitempty" maxLength:"200" doc:"what stands behind the # of the private link"`
		Code  string `json:"code,omitempty" maxLength:"40" doc:"or a short code"`
	}
	Agent string `header:"User-Agent"`
}

// devices are the phones and browsers a private link is open on.
func (s *server) devices(m huma.Middlewares) {
	huma.Register(s.huma, operation(http.MethodPut, "/api/phone/devices/{id}", "open-link", "Open a private link on this device",
		huma.Middlewares{s.withIP}), func(ctx context.Context, in *openLink) (*openedAnswer, error) {
		a, err := s.openLink(ctx, in)
		return a, s.failed(ctx, err)
	})
	register(s, http.MethodPost, "/api/phone/codes", "phone-code", "A short code for one more device", m,
		func(ctx context.Context, _ *struct{}) (ShortCode, error) {
			a, runner := owner(ctx)
			return s.shortCode(ctx, a.Practice, runner, ctx.Value(linkKey{}).(store.LinkOwner).Link)
		})
	do(s, http.MethodPost, "/api/runners/{runner}/links/{link}/codes", "link-code", "A short code for one more device of the runner",
		func(ctx context.Context, in *linkIn) (ShortCode, error) {
			return s.shortCode(ctx, actor(ctx).Practice, in.Runner, in.Link)
		})
	do(s, http.MethodDelete, "/api/runners/{runner}/devices/{device}", "end-device", "End the private link on one device",
		func(ctx context.Context, in *struct {
			RunnerPath
			Device string `path:"device" format:"uuid"`
		}) (nothing, error) {
			return ok(s.desk.Touch(ctx, actor(ctx), in.Runner, func(tx *store.Tx) error { return tx.EndDevice(ctx, in.Runner, in.Device) }))
		})
}

func (s *server) shortCode(ctx context.Context, practice, runner, link string) (c ShortCode, err error) {
	err = s.desk.Store.In(ctx, practice, func(tx *store.Tx) (e error) {
		c.Code, c.Expires, e = tx.AddLinkCode(ctx, runner, link)
		return e
	})
	return c, err
}

func (s *server) openLink(ctx context.Context, in *openLink) (*openedAnswer, error) {
	o, err := s.opening(ctx, in)
	if err != nil {
		return nil, err
	}
	token := store.NewToken()
	err = s.desk.Store.In(ctx, o.Practice, func(tx *store.Tx) error {
		if err := tx.AddDevice(ctx, o.Link, in.ID, token, cmp.Or(account.Device(in.Agent), "a browser")); err != nil {
			return err
		}
		return tx.Note(ctx, "", o.Runner, "open-link")
	})
	if err != nil {
		return nil, err
	}
	return &openedAnswer{http.Cookie{Name: phoneCookie + o.Link, Value: token, Path: "/api/phone", Expires: o.Expires, HttpOnly: true,
		SameSite: http.SameSiteStrictMode, Secure: s.cfg.Secure}, Opened{o.Link}}, nil
}

// opening finds the link that is to be opened by its secret or by a short code, whose wrong tries are counted.
func (s *server) opening(ctx context.Context, in *openLink) (o store.Opening, err error) {
	if in.Body.Token != "" {
		o, err = s.desk.Store.OpenByToken(ctx, in.Body.Token)
		if errors.Is(err, store.ErrNotFound) {
			err = huma.Error401Unauthorized("This link has ended. Ask your coach for a new one.")
		}
		return o, err
	}
	done, err := s.counted(ctx, "short codes", openTries)
	if err != nil {
		return o, err
	}
	o, err = s.desk.Store.OpenByCode(ctx, in.Body.Code, in.ID)
	if errors.Is(err, store.ErrNotFound) {
		return o, body.Refuse("code", "does not fit, was used, or is older than ten minutes; make another where you read it")
	}
	if err != nil {
		return o, err
	}
	return o, done()
}
