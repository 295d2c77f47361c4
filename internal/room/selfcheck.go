package room

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/core/selfcheck"
	"notchback/internal/store"
)

// AddSelfCheck stores what a runner checked at home. What was barred that day is kept all the same: it was done. Stretches of
// the motion sensor are read here and not kept.
func (d *Desk) AddSelfCheck(ctx context.Context, a Actor, runner string, c selfcheck.Check, felt []selfcheck.Stretch) error {
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		if _, err := o.asOf("phone", c.On); err != nil {
			return err
		}
		c.Tries = append(slices.Clone(c.Tries), selfcheck.Felt(felt)...)
		c, err := c.Enter(o.Profile)
		if err != nil {
			return err
		}
		return tx.AddSelfCheck(ctx, runner, c)
	})
}

// SeeSelfCheck marks a self-check as seen by the coach.
func (d *Desk) SeeSelfCheck(ctx context.Context, a Actor, runner, id string) error {
	return d.Touch(ctx, a, runner, func(tx *store.Tx) error { return tx.SeeSelfCheck(ctx, runner, id) })
}

// SelfCheckView is a self-check as it is read.
type SelfCheckView struct {
	ID    string           `json:"id"`
	On    body.Date        `json:"on"`
	Seen  bool             `json:"seen" doc:"by a coach"`
	Lines []selfcheck.Line `json:"lines"`
}

// selfChecks are the runner's, newest first, each compared with those before it.
func (o Chart) selfChecks() []SelfCheckView {
	out := []SelfCheckView{}
	for i, c := range o.SelfChecks {
		out = append(out, SelfCheckView{c.ID, c.On, c.Seen, c.Lines(o.SelfChecks[i+1:], o.Profile, o.House)})
	}
	return out
}

// PhoneCheck is the self-check as a phone offers it.
type PhoneCheck struct {
	Items []selfcheck.Offer `json:"items"`
	Last  []SelfCheckView   `json:"last" doc:"the newest one; empty where there is none"`
}

// phoneCheck asks for each item whether it may be done alone today; a runner no coach has seen yet is offered none.
func (o Chart) phoneCheck() *PhoneCheck {
	c := o.Circumstances("")
	if c.FirstVisit {
		return nil
	}
	all := o.selfChecks()
	return &PhoneCheck{selfcheck.Offers(c, o.Trials(), o.House), all[:min(1, len(all))]}
}

// queueSelfChecks adds a line for what a runner checked at home and nobody has seen. Pain in it comes before what moves up.
func (o Chart) queueSelfChecks(add adds) {
	unseen := slices.DeleteFunc(o.selfChecks(), func(v SelfCheckView) bool { return v.Seen })
	if len(unseen) == 0 {
		return
	}
	kind, newest := LineKind("selfcheck"), unseen[0]
	var all []selfcheck.Line
	for _, v := range unseen {
		all = append(all, v.Lines...)
	}
	var said []string
	if w, ok := selfcheck.Worst(all); ok { // it speaks, however old
		if w.Value > refer.AsksAbove {
			kind = "selfpain"
		}
		said = append(said, fmt.Sprintf("%s, %s: pain %s", w.Name, w.Side, w.Shown))
	}
	for _, l := range newest.Lines {
		if l.Item == "cadence" && l.Skipped == "" {
			said = append(said, "cadence "+l.Shown)
		}
		if l.Change == screen.Worse {
			said = append(said, strings.ToLower(l.Name)+sideWords(l.Side)+" worse")
		}
	}
	sentence := "Self-check from home, " + newest.On.Short()
	if len(said) > 0 {
		sentence += ": " + strings.Join(said[:min(3, len(said))], "; ")
	}
	add(kind, "retest", sentence, "Reported by the runner. Look at it; it changes no measure of yours.",
		o.House.Because("today.selfcheck", "the runner checked at home, and nobody has seen it").SeeOn(newest.On, "checked", "%d unseen",
			len(unseen)))
}

func sideWords(s body.Side) string {
	if s == body.Both {
		return ""
	}
	return ", " + string(s)
}
