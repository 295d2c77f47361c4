package adjust

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
)

// ProposeAll proposes for every rail and side of a runner. Where both legs work at once on one dose, the
// two rows are decided alike: up only when both earn it.
func ProposeAll(ins []Input) []Proposal {
	out := make([]Proposal, 0, len(ins))
	rows := Pair(ins)
	for i := range rows {
		out = append(out, rows[i].together())
	}
	return out
}

// Pair gives every row what the other leg's row of its rail would do by itself, so that each can be
// decided, and replayed, alone.
func Pair(ins []Input) []Input {
	out := slices.Clone(ins)
	for i := range out {
		out[i].shared = out[0].gathered()
	}
	for i := range out {
		p := alone(&out[i])
		out[i].own = &p
	}
	for i := range out {
		for k := range out {
			if a, b := &out[k].Current, &out[i].Current; a.Rail == b.Rail && a.Side != b.Side {
				o := out[k].own
				out[i].Other = &Row{From: o.From, To: o.To, Verdict: o.Verdict, Steps: o.Steps, News: o.News, Clean: o.Clean, Fired: o.Fired}
				break
			}
		}
	}
	return out
}

// together decides a row beside the other leg's.
func (in *Input) together() Proposal {
	p := Proposal{}
	if in.own != nil {
		p = *in.own
	} else {
		p = alone(in)
	}
	if in.Other == nil {
		return p
	}
	p = in.waits(p)
	x, ok := in.Rail.Exercise(p.From.Exercise)
	if o := *in.Other; ok && x.Both() && o.From.Exercise == p.From.Exercise && o.From.Parked == p.From.Parked {
		p.News, p.Clean = p.News || o.News, p.Clean && o.Clean
		if protective[o.Verdict] > protective[p.Verdict] || protective[o.Verdict] == protective[p.Verdict] && in.Gentler(o.To, p.To) < 0 {
			// The more protective holds for both legs.
			p.Verdict, p.Steps, p.Fired = o.Verdict, o.Steps, o.Fired
			side := p.Side
			p.To = o.To
			p.To.Side, p.To.ID = side, ""
			if o.Verdict == Hold || o.Verdict == Pending {
				p.To = p.From
			}
		}
	}
	return p
}

// waits holds a move up, or a return, into an exercise that trains both legs while the other leg stands on
// an easier one and has not earned it too: its work would be done for it.
func (in *Input) waits(p Proposal) Proposal {
	at := in.Rail.At
	to, o := at(p.To.Exercise), *in.Other
	enters := (p.Verdict == Up || p.Verdict == Return) && to >= 0 && in.Rail.Exercises[to].Both() &&
		(p.To.Exercise != p.From.Exercise || p.From.Parked)
	if !enters || o.From.Parked || at(o.From.Exercise) >= to || at(o.From.Exercise) < 0 || o.Verdict == Up && at(o.To.Exercise) >= to {
		return p
	}
	verdict := Hold
	if p.From.Parked {
		verdict = Park
	}
	why := in.House.Because("adjust.both-legs", fmt.Sprintf("“%s” trains both legs: it waits until the %s leg has earned it too", p.To.Name,
		o.From.Side)).See(string(o.From.Side)+" leg", "%s", o.From.Text())
	p.Verdict, p.Steps, p.To = verdict, 0, p.From
	p.Fired = append([]Fired{{Verdict: verdict, Reason: why}}, p.Fired...)
	return p
}

// Joint puts the rows of one exercise that trains both legs at the lesser dose, parked if either is, from
// the later day. Rows that stand on different exercises keep their place.
func Joint(cat catalog.Catalogue, rows []catalog.Prescription, massKg float64) []catalog.Prescription {
	out := slices.Clone(rows)
	for i := range out {
		for k := range out {
			rail, ok := cat.Find(out[i].Rail)
			x, known := rail.Exercise(out[i].Exercise)
			if i == k || !ok || !known || !x.Both() || out[k].Rail != out[i].Rail || out[k].Exercise != out[i].Exercise {
				continue
			}
			in := Input{Rail: rail, Profile: body.Profile{MassKg: massKg}}
			a, b := out[i], out[k]
			a.Parked, b.Parked = false, false
			if in.Gentler(b, a) < 0 {
				out[i].Dose = out[k].Dose
			}
			out[i].Dose.Extra = 0
			out[i].Parked = out[i].Parked || out[k].Parked
			out[i].From = max(out[i].From, out[k].From)
		}
	}
	return out
}
