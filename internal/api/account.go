package api

import (
	"context"
	"errors"
	"net/http"
	"net/mail"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/account"
	"notchback/internal/core/body"
	"notchback/internal/store"
)

// Attempts allowed in a quarter of an hour.
const (
	attemptWindow  = 15 * time.Minute
	attemptsByMail = 10
	attemptsByIP   = 60
)

// limited counts an attempt and refuses when there were too many.
func (s *server) limited(ctx context.Context, email string) error {
	for key, most := range map[string]int{"mail " + strings.ToLower(email): attemptsByMail, "ip " + clientIP(ctx): attemptsByIP} {
		n, err := s.desk.Store.Attempt(ctx, key, attemptWindow)
		if err != nil {
			return err
		}
		if n > most {
			return huma.ErrorWithHeaders(huma.Error429TooManyRequests("Too many attempts. Wait a quarter of an hour and try again."),
				http.Header{"Retry-After": {"900"}})
		}
	}
	return nil
}

type signIn struct {
	Body struct {
		Email    string `json:"email" maxLength:"200"`
		Password string `json:"password" maxLength:"200"`
	}
}

type redeem struct {
	Body struct {
		Email    string `json:"email" maxLength:"200"`
		Code     string `json:"code" maxLength:"40"`
		Password string `json:"password" maxLength:"300"`
	}
}

type newPassword struct {
	Body struct {
		Old string `json:"old" maxLength:"300"`
		New string `json:"new" maxLength:"300"`
	}
}

type newColleague struct {
	Body struct {
		Name  string `json:"name" minLength:"1" maxLength:"120"`
		Email string `json:"email" maxLength:"200"`
	}
}

type oneTimeCode struct {
	Email string `json:"email"`
	Code  string `json:"code" doc:"shown once; good for a day"`
}

type coachPath struct {
	Coach string `path:"coach" format:"uuid"`
}

func (s *server) accounts() {
	s.entering()
	s.leaving()
	s.colleagues()
}

// entering is how somebody who is not signed in comes in.
func (s *server) entering() {
	open := huma.Middlewares{s.withIP}
	register(s, http.MethodPost, "/api/session", "sign-in", "Sign in", open, func(ctx context.Context, in *signIn) (nothing, error) {
		if err := s.limited(ctx, in.Body.Email); err != nil {
			return nothing{}, err
		}
		a, err := s.desk.Store.Account(ctx, in.Body.Email)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return nothing{}, err
		}
		if !account.Fits(in.Body.Password, a.PasswordHash) {
			return nothing{}, huma.Error401Unauthorized("E-mail and password do not match.")
		}
		return ok(s.enter(ctx, in.Body.Email, a.ID, a.Epoch))
	})
	register(s, http.MethodPost, "/api/redeem", "redeem-code", "Set a password with a one-time code", open,
		func(ctx context.Context, in *redeem) (nothing, error) {
			if err := s.limited(ctx, in.Body.Email); err != nil {
				return nothing{}, err
			}
			if err := account.Check("password", in.Body.Password); err != nil {
				return nothing{}, err
			}
			err := s.desk.Store.Redeem(ctx, in.Body.Email, in.Body.Code, account.Hash(in.Body.Password))
			if errors.Is(err, store.ErrNotFound) {
				return nothing{}, body.Refuse("code", "does not fit this e-mail, was used, or is older than a day; ask for a new one")
			}
			if err != nil {
				return nothing{}, err
			}
			a, err := s.desk.Store.Account(ctx, in.Body.Email)
			if err != nil {
				return nothing{}, err
			}
			return ok(s.enter(ctx, in.Body.Email, a.ID, a.Epoch))
		})
}

// leaving is what a coach does with the own account.
func (s *server) leaving() {
	do(s, http.MethodDelete, "/api/session", "sign-out", "Sign out here", func(ctx context.Context, _ *struct{}) (nothing, error) {
		return ok(s.sessions.Destroy(ctx))
	})
	do(s, http.MethodDelete, "/api/sessions", "sign-out-everywhere", "Sign out on every device",
		func(ctx context.Context, _ *struct{}) (nothing, error) {
			a := actor(ctx)
			if err := s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) error { return tx.SignOutEverywhere(ctx, a.Coach) }); err != nil {
				return nothing{}, err
			}
			return ok(s.sessions.Destroy(ctx))
		})
	do(s, http.MethodGet, "/api/me", "me", "Who is signed in", func(ctx context.Context, _ *struct{}) (store.Coach, error) {
		return ctx.Value(actorKey{}).(who).coach, nil
	})
	do(s, http.MethodPost, "/api/password", "change-password", "Change the password; other devices are signed out",
		func(ctx context.Context, in *newPassword) (nothing, error) {
			me := ctx.Value(actorKey{}).(who)
			if err := s.limitedChange(ctx, me.coach.Email); err != nil {
				return nothing{}, err
			}
			acc, err := s.desk.Store.Account(ctx, me.coach.Email)
			if err != nil {
				return nothing{}, err
			}
			if !account.Fits(in.Body.Old, acc.PasswordHash) {
				return nothing{}, body.Refuse("old", "is not your present password")
			}
			if err := account.Check("new", in.Body.New); err != nil {
				return nothing{}, err
			}
			var epoch int
			err = s.desk.Store.In(ctx, me.Practice, func(tx *store.Tx) (e error) {
				epoch, e = tx.SetPassword(ctx, me.Coach, account.Hash(in.Body.New))
				return e
			})
			if err != nil {
				return nothing{}, err
			}
			return ok(s.enter(ctx, me.coach.Email, me.Coach, epoch))
		})
}

// colleagues are the practice's coaches.
func (s *server) colleagues() {
	do(s, http.MethodGet, "/api/coaches", "coaches", "The practice's coaches",
		func(ctx context.Context, _ *struct{}) (cs []store.Coach, err error) {
			err = s.desk.Store.In(ctx, actor(ctx).Practice, func(tx *store.Tx) (e error) { cs, e = tx.Coaches(ctx); return e })
			return cs, err
		})
	do(s, http.MethodPost, "/api/coaches", "invite-coach", "Invite a colleague; returns a one-time code to hand over",
		func(ctx context.Context, in *newColleague) (c oneTimeCode, err error) {
			if _, e := mail.ParseAddress(in.Body.Email); e != nil {
				return c, body.Refuse("email", "%q is not an e-mail address", in.Body.Email)
			}
			err = s.desk.Store.In(ctx, actor(ctx).Practice, func(tx *store.Tx) error {
				id, err := tx.AddCoach(ctx, strings.TrimSpace(in.Body.Name), in.Body.Email)
				if errors.Is(err, store.ErrTaken) {
					return body.Refuse("email", "already belongs to a coach")
				}
				if err != nil {
					return err
				}
				c = oneTimeCode{Email: in.Body.Email}
				c.Code, err = tx.AddCode(ctx, id)
				return err
			})
			return c, err
		})
	do(s, http.MethodPost, "/api/coaches/{coach}/code", "colleague-code", "A one-time code for a colleague who forgot the password",
		func(ctx context.Context, in *coachPath) (c oneTimeCode, err error) {
			err = s.desk.Store.In(ctx, actor(ctx).Practice, func(tx *store.Tx) (e error) { c.Code, e = tx.AddCode(ctx, in.Coach); return e })
			return c, err
		})
}

func (s *server) limitedChange(ctx context.Context, email string) error {
	n, err := s.desk.Store.Attempt(ctx, "change "+email, attemptWindow)
	if err == nil && n > attemptsByMail {
		return huma.Error429TooManyRequests("Too many attempts. Wait a quarter of an hour and try again.")
	}
	return err
}

// enter starts a fresh session for a coach.
func (s *server) enter(ctx context.Context, email, coach string, epoch int) error {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	s.sessions.Put(ctx, "coach", coach)
	s.sessions.Put(ctx, "epoch", epoch)
	s.sessions.Put(ctx, "seen", s.cfg.Clock().Unix())
	return s.desk.Store.ForgetAttempts(ctx, "mail "+strings.ToLower(email))
}
