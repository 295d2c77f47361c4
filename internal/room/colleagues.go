package room

import (
	"context"
	"errors"
	"net/mail"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/store"
)

// ErrOwners is the answer to a coach who asks for what only an owner may do.
var ErrOwners = errors.New("only an owner of the practice may do this")

// Address reads an e-mail address as it is stored: bare, in small letters.
func Address(text string) (string, error) {
	a, err := mail.ParseAddress(text)
	if err != nil || a.Name != "" || strings.TrimSpace(text) != a.Address {
		return "", body.Refuse("email", "%q is not an e-mail address; write it like name@example.org", text)
	}
	return strings.ToLower(a.Address), nil
}

// Invite adds a colleague and returns a one-time code to hand over.
func (d *Desk) Invite(ctx context.Context, a Actor, name, email string) (code string, err error) {
	email, err = Address(email)
	if err != nil {
		return "", err
	}
	if strings.TrimSpace(name) == "" {
		return "", body.Refuse("name", "is empty; enter the colleague's name")
	}
	err = d.owning(ctx, a, func(tx *store.Tx) error {
		id, err := tx.AddCoach(ctx, strings.TrimSpace(name), email)
		if errors.Is(err, store.ErrTaken) {
			return body.Refuse("email", "already belongs to a coach")
		}
		if err != nil {
			return err
		}
		code, err = tx.AddCode(ctx, id)
		return err
	})
	return code, err
}

// ResetColleague makes a one-time code for a colleague who forgot the password. An owner's comes from the command line only,
// so that no owner takes over another's account.
func (d *Desk) ResetColleague(ctx context.Context, a Actor, coach string) (code string, err error) {
	err = d.colleague(ctx, a, coach, func(tx *store.Tx, c store.Coach, _ int) error {
		switch {
		case c.Role == store.Owner:
			return body.Refuse("coach", "is an owner; an owner's code is made on the server: ./notchback code %s", c.Email)
		case c.Ended:
			return body.Refuse("coach", "has no access any more; let them in again first")
		}
		code, err = tx.AddCode(ctx, coach)
		return err
	})
	return code, err
}

// EndAccess ends a colleague's access at once, with every session; what they decided keeps their name. The last owner stays.
func (d *Desk) EndAccess(ctx context.Context, a Actor, coach string) error {
	return d.colleague(ctx, a, coach, func(tx *store.Tx, c store.Coach, owners int) error {
		if c.Role == store.Owner && !c.Ended && owners < 2 {
			return body.Refuse("coach", "is the last owner; make a colleague owner first")
		}
		return tx.SetAccess(ctx, coach, false)
	})
}

// LetInAgain gives access back to a colleague, who needs a one-time code to set a password.
func (d *Desk) LetInAgain(ctx context.Context, a Actor, coach string) error {
	return d.colleague(ctx, a, coach, func(tx *store.Tx, _ store.Coach, _ int) error { return tx.SetAccess(ctx, coach, true) })
}

// SetRole makes a colleague an owner, or no longer one. The last owner stays.
func (d *Desk) SetRole(ctx context.Context, a Actor, coach string, role store.Role) error {
	return d.colleague(ctx, a, coach, func(tx *store.Tx, c store.Coach, owners int) error {
		switch {
		case c.Ended:
			return body.Refuse("coach", "has no access any more; let them in again first")
		case c.Role == store.Owner && role != store.Owner && owners < 2:
			return body.Refuse("coach", "is the last owner; make a colleague owner first")
		}
		return tx.SetRole(ctx, coach, role)
	})
}

// EndSecondFactor takes a colleague's second factor away who lost phone and recovery codes.
func (d *Desk) EndSecondFactor(ctx context.Context, a Actor, coach string) error {
	return d.colleague(ctx, a, coach, func(tx *store.Tx, c store.Coach, _ int) error {
		if c.Role == store.Owner {
			return body.Refuse("coach", "is an owner; an owner's second factor is ended on the server: ./notchback code -factor %s", c.Email)
		}
		return tx.SetSecondFactor(ctx, coach, "", nil)
	})
}

// Deeds is who did what, for an owner.
func (d *Desk) Deeds(ctx context.Context, a Actor, runner string, before int64) (out []store.Deed, err error) {
	err = d.owning(ctx, a, func(tx *store.Tx) error { out, err = tx.Deeds(ctx, runner, before); return err })
	return out, err
}

// owning runs f for an owner.
func (d *Desk) owning(ctx context.Context, a Actor, f func(*store.Tx) error) error {
	if !a.Owner {
		return ErrOwners
	}
	return d.Store.In(ctx, a.Practice, f)
}

// colleague runs f on a coach of the practice, with how many owners have access, while nobody else changes who may what.
func (d *Desk) colleague(ctx context.Context, a Actor, coach string, f func(*store.Tx, store.Coach, int) error) error {
	return d.owning(ctx, a, func(tx *store.Tx) error {
		if err := tx.HoldCoaches(ctx); err != nil {
			return err
		}
		all, err := tx.Coaches(ctx)
		if err != nil {
			return err
		}
		owns := func(c store.Coach) bool { return c.Role == store.Owner && !c.Ended }
		if !slices.ContainsFunc(all, func(c store.Coach) bool { return c.ID == a.Coach && owns(c) }) {
			return ErrOwners // they were one when they asked
		}
		i := slices.IndexFunc(all, func(c store.Coach) bool { return c.ID == coach })
		if i < 0 {
			return store.ErrNotFound
		}
		owners := 0
		for _, c := range all {
			if owns(c) {
				owners++
			}
		}
		return f(tx, all[i], owners)
	})
}
