package api

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/account"
	"notchback/internal/core/body"
	"notchback/internal/store"
)

// tries are the failed tries to sign in that are allowed.
var tries = store.Limits{Window: 15 * time.Minute, Pair: 10, Address: 60, Account: 100}

// trying counts a try to sign in.
func (s *server) trying(ctx context.Context, email string) (done func() error, err error) {
	return s.counted(ctx, email, tries)
}

// counted counts a try and refuses when there were too many; done takes it back once it has succeeded.
func (s *server) counted(ctx context.Context, what string, most store.Limits) (done func() error, err error) {
	ok, err := s.desk.Store.Try(ctx, what, clientIP(ctx), most)
	if err == nil && !ok {
		err = huma.ErrorWithHeaders(huma.Error429TooManyRequests("Too many attempts. Wait a quarter of an hour and try again."),
			http.Header{"Retry-After": {"900"}})
	}
	return func() error { return s.desk.Store.LetIn(ctx, what, clientIP(ctx)) }, err
}

type signIn struct {
	Body struct {
		Email    string `json:"email" maxLength:"200"`
		Password string `json:"password" maxLength:"300"`
		Number   string `json:"number,omitempty" maxLength:"40" doc:"of the second factor, or a recovery code"`
	}
	Agent string `header:"User-Agent"`
}

type redeem struct {
	Body struct {
		Email    string `json:"email" maxLength:"200"`
		Code     string `json:"code" maxLength:"40"`
		Password string `json:"password" maxLength:"300"`
		Number   string `json:"number,omitempty" maxLength:"40" doc:"of the second factor, or a recovery code"`
	}
	Agent string `header:"User-Agent"`
}

type newPassword struct {
	Body struct {
		Old string `json:"old" maxLength:"300"`
		New string `json:"new" maxLength:"300"`
	}
	Agent string `header:"User-Agent"`
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

// CoachPath is the path of everything about one colleague.
type CoachPath struct {
	Coach string `path:"coach" format:"uuid"`
}

func (s *server) accounts() {
	s.entering()
	s.leaving()
	s.ownSessions()
	s.secondFactor()
	s.colleagues()
	s.access()
}

// entering is how somebody who is not signed in comes in.
func (s *server) entering() {
	open := huma.Middlewares{s.withIP}
	register(s, http.MethodPost, "/api/session", "sign-in", "Sign in", open, func(ctx context.Context, in *signIn) (nothing, error) {
		done, err := s.trying(ctx, in.Body.Email)
		if err != nil {
			return nothing{}, err
		}
		a, err := s.desk.Store.Account(ctx, in.Body.Email)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return nothing{}, err
		}
		if !account.Fits(in.Body.Password, a.PasswordHash) {
			return nothing{}, huma.Error401Unauthorized("E-mail and password do not match.")
		}
		if err := s.number(ctx, a, in.Body.Number); err != nil {
			return nothing{}, err
		}
		if err := done(); err != nil {
			return nothing{}, err
		}
		return ok(s.enter(ctx, a, in.Agent))
	})
	register(s, http.MethodPost, "/api/redeem", "redeem-code", "Set a password with a one-time code", open,
		func(ctx context.Context, in *redeem) (nothing, error) {
			done, err := s.trying(ctx, in.Body.Email)
			if err != nil {
				return nothing{}, err
			}
			if err := account.Check("password", in.Body.Password, in.Body.Email); err != nil {
				return nothing{}, err
			}
			a, err := s.redeemed(ctx, in)
			if err != nil {
				return nothing{}, err
			}
			if err := done(); err != nil {
				return nothing{}, err
			}
			return ok(s.enter(ctx, a, in.Agent))
		})
}

// redeemed sets a password by a one-time code. A second factor is asked for once the code is known to fit: who has none
// learns nothing of the account.
func (s *server) redeemed(ctx context.Context, in *redeem) (a store.Account, err error) {
	unfit := body.Refuse("code", "does not fit this e-mail, was used, or is older than a day; ask for a new one")
	fits, err := s.desk.Store.CodeFits(ctx, in.Body.Email, in.Body.Code)
	if err != nil {
		return a, err
	}
	if !fits {
		return a, unfit
	}
	if a, err = s.desk.Store.Account(ctx, in.Body.Email); err != nil {
		return a, err
	}
	if err := s.number(ctx, a, in.Body.Number); err != nil {
		return a, err
	}
	err = s.desk.Store.Redeem(ctx, in.Body.Email, in.Body.Code, account.Hash(in.Body.Password))
	if errors.Is(err, store.ErrNotFound) { // somebody was quicker
		return a, unfit
	}
	if err != nil {
		return a, err
	}
	return s.desk.Store.Account(ctx, in.Body.Email)
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
	register(s, http.MethodPost, "/api/password", "change-password", "Change the password; other devices are signed out",
		huma.Middlewares{s.signedIn, s.withIP}, func(ctx context.Context, in *newPassword) (nothing, error) {
			me := ctx.Value(actorKey{}).(who)
			done, acc, err := s.again(ctx, "old", in.Body.Old)
			if err != nil {
				return nothing{}, err
			}
			if err := account.Check("new", in.Body.New, me.coach.Name, me.coach.Email); err != nil {
				return nothing{}, err
			}
			err = s.desk.Store.In(ctx, me.Practice, func(tx *store.Tx) (e error) {
				acc.Epoch, e = tx.SetPassword(ctx, me.Coach, account.Hash(in.Body.New))
				return e
			})
			if err != nil {
				return nothing{}, err
			}
			if err := done(); err != nil {
				return nothing{}, err
			}
			return ok(s.enter(ctx, acc, in.Agent))
		})
}

// again has who is signed in say the password once more; field names it.
func (s *server) again(ctx context.Context, field, password string) (done func() error, acc store.Account, err error) {
	email := ctx.Value(actorKey{}).(who).coach.Email
	if done, err = s.trying(ctx, email); err != nil {
		return nil, acc, err
	}
	if acc, err = s.desk.Store.Account(ctx, email); err != nil {
		return nil, acc, err
	}
	if !account.Fits(password, acc.PasswordHash) {
		return nil, acc, body.Refuse(field, "is not your present password")
	}
	return done, acc, nil
}

// ownSessions are the browsers a coach is signed in with.
func (s *server) ownSessions() {
	do(s, http.MethodGet, "/api/sessions", "sessions", "Where I am signed in", func(ctx context.Context, _ *struct{}) (out []store.Session,
		err error) {
		a := actor(ctx)
		err = s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) (e error) {
			out, e = tx.SessionsOf(ctx, a.Coach, s.sessions.Token(ctx), s.cfg.Clock().Add(-idleMost))
			return e
		})
		return out, err
	})
	do(s, http.MethodDelete, "/api/sessions/{id}", "end-session", "Sign out on one device", func(ctx context.Context,
		in *RecordPath) (nothing, error) {
		a := actor(ctx)
		return ok(s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) error { return tx.EndSession(ctx, a.Coach, in.ID) }))
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
			c.Email = in.Body.Email
			c.Code, err = s.desk.Invite(ctx, actor(ctx), in.Body.Name, in.Body.Email)
			return c, err
		})
	do(s, http.MethodPost, "/api/coaches/{coach}/code", "colleague-code", "A one-time code for a colleague who forgot the password",
		func(ctx context.Context, in *CoachPath) (c oneTimeCode, err error) {
			c.Code, err = s.desk.ResetColleague(ctx, actor(ctx), in.Coach)
			return c, err
		})
	do(s, http.MethodGet, "/api/audit", "audit", "Who did what, the newest first", func(ctx context.Context, in *struct {
		Runner string `query:"runner" format:"uuid" doc:"of one runner; empty: of all"`
		Before int64  `query:"before" minimum:"0" doc:"a line; only what was before it"`
	}) ([]store.Deed, error) {
		deeds, err := s.desk.Deeds(ctx, actor(ctx), in.Runner, in.Before)
		for i, d := range deeds {
			deeds[i].Did = s.words(d.Did)
		}
		return deeds, err
	})
}

// access is what an owner changes about a colleague.
func (s *server) access() {
	do(s, http.MethodPut, "/api/coaches/{coach}/role", "set-role", "Make a colleague an owner, or no longer one",
		func(ctx context.Context, in *struct {
			CoachPath
			Body struct {
				Role store.Role `json:"role" enum:"owner,coach"`
			}
		}) (nothing, error) {
			return ok(s.desk.SetRole(ctx, actor(ctx), in.Coach, in.Body.Role))
		})
	do(s, http.MethodDelete, "/api/coaches/{coach}/access", "end-access", "End a colleague's access at once",
		func(ctx context.Context, in *CoachPath) (nothing, error) {
			return ok(s.desk.EndAccess(ctx, actor(ctx), in.Coach))
		})
	do(s, http.MethodPut, "/api/coaches/{coach}/access", "let-in-again", "Give a colleague access again",
		func(ctx context.Context, in *CoachPath) (nothing, error) {
			return ok(s.desk.LetInAgain(ctx, actor(ctx), in.Coach))
		})
	do(s, http.MethodDelete, "/api/coaches/{coach}/second-factor", "end-colleagues-factor", "Take a colleague's second factor away",
		func(ctx context.Context, in *CoachPath) (nothing, error) {
			return ok(s.desk.EndSecondFactor(ctx, actor(ctx), in.Coach))
		})
}

// enter starts a fresh session for a coach.
func (s *server) enter(ctx context.Context, a store.Account, agent string) error {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return err
	}
	now := s.cfg.Clock()
	s.sessions.Put(ctx, "coach", a.ID)
	s.sessions.Put(ctx, "epoch", a.Epoch)
	s.sessions.Put(ctx, "seen", now.Unix())
	return s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		if err := tx.SeeSession(ctx, a.ID, s.sessions.Token(ctx), account.Device(agent), now); err != nil {
			return err
		}
		return tx.Note(ctx, a.ID, "", "sign-in")
	})
}
