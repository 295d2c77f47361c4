package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/account"
	"notchback/internal/core/body"
	"notchback/internal/store"
)

// number checks the second factor of an account that has one: a number of the half minute, spent once, or a recovery code.
func (s *server) number(ctx context.Context, a store.Account, number string) error {
	if a.TOTPSecret == "" {
		return nil
	}
	if number == "" {
		return huma.Error401Unauthorized("Enter the number your authenticator shows.",
			&huma.ErrorDetail{Location: "number", Message: "is asked for: six figures of your authenticator, or a recovery code"})
	}
	var fits bool
	err := s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) (err error) {
		if step := account.Step(a.TOTPSecret, number, s.cfg.Clock()); step > 0 {
			fits, err = tx.UseStep(ctx, a.ID, step)
			return err
		}
		fits, err = tx.UseRecovery(ctx, a.ID, number)
		return err
	})
	if err == nil && !fits {
		err = huma.Error401Unauthorized("The number does not fit.", &huma.ErrorDetail{Location: "number",
			Message: "does not fit, or was used already; wait for the next one"})
	}
	return err
}

type confirmed struct {
	Secret   string `json:"secret" maxLength:"80" doc:"as it was handed out"`
	Number   string `json:"number" maxLength:"20" doc:"that the authenticator shows"`
	Password string `json:"password" maxLength:"300"`
}

// secondFactor is how a coach sets one up and ends it.
func (s *server) secondFactor() {
	type handed struct {
		Secret  string   `json:"secret" doc:"to type in by hand, base 32"`
		Address string   `json:"address" doc:"otpauth address"`
		QR      []string `json:"qr" doc:"the same to photograph: rows of a code, 1 is black"`
	}
	type codes struct {
		Recovery []string `json:"recovery" doc:"each works once in place of a number; shown once"`
	}
	do(s, http.MethodPost, "/api/me/second-factor/secret", "new-second-factor", "A secret for an authenticator; nothing is kept",
		func(ctx context.Context, _ *struct{}) (h handed, err error) {
			me := ctx.Value(actorKey{}).(who).coach
			if h.Secret, h.Address, err = account.NewSecondFactor(me.PracticeName, me.Email); err != nil {
				return h, err
			}
			h.QR, err = qrRows(h.Address)
			return h, err
		})
	register(s, http.MethodPut, "/api/me/second-factor", "set-second-factor", "Ask for a number at every sign-in from now on",
		huma.Middlewares{s.signedIn, s.withIP}, func(ctx context.Context, in *struct{ Body confirmed }) (c codes, err error) {
			done, a, err := s.again(ctx, "password", in.Body.Password)
			if err != nil {
				return c, err
			}
			step := account.Step(in.Body.Secret, in.Body.Number, s.cfg.Clock())
			if step == 0 {
				return c, body.Refuse("number", "does not fit; look at the authenticator again, and at this device's clock")
			}
			recovery, hashes := store.NewRecovery()
			err = s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
				if err := tx.SetSecondFactor(ctx, a.ID, in.Body.Secret, hashes); err != nil {
					return err
				}
				_, err := tx.UseStep(ctx, a.ID, step)
				return err
			})
			if err != nil {
				return c, err
			}
			return codes{recovery}, done()
		})
	register(s, http.MethodPost, "/api/me/second-factor/end", "end-second-factor", "Sign in by password alone again",
		huma.Middlewares{s.signedIn, s.withIP}, func(ctx context.Context, in *struct {
			Body struct {
				Password string `json:"password" maxLength:"300"`
			}
		}) (nothing, error) {
			done, a, err := s.again(ctx, "password", in.Body.Password)
			if err != nil {
				return nothing{}, err
			}
			if err := s.desk.Store.In(ctx, a.Practice, func(tx *store.Tx) error { return tx.SetSecondFactor(ctx, a.ID, "", nil) }); err != nil {
				return nothing{}, err
			}
			return ok(done())
		})
}
