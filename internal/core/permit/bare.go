package permit

import (
	"fmt"
	"math"
	"slices"
	"sync"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/refer"
)

// Gate is how far each foot may go on bare feet: the tests, and all that takes bare work away by itself.
func (f Facts) Gate() barefoot.Gate { return f.gate(f.Cuts()) }

func (f Facts) gate(cuts []Cut) barefoot.Gate {
	in := f.gateInput()
	for _, leg := range body.Sides {
		foot := in.Feet[leg]
		foot.Bars = f.bars(cuts, leg)
		in.Feet[leg] = foot
	}
	return barefoot.Judge(in, f.Today)
}

// gateInput is what the tests of the gate are judged from.
func (f Facts) gateInput() barefoot.Input {
	in := barefoot.Input{Feet: map[body.Side]barefoot.Foot{}, Age: f.Profile.Age(f.Today), BigToeMm: f.Profile.BigToeMm,
		Approach: f.House.Choice(f.Profile.Approaches, "barefoot"), House: f.House}
	hurt := f.Profile.History.Sprain || slices.Contains(f.Profile.Cautions, "hardware") && !f.saidOfHardware()
	for _, leg := range body.Sides {
		foot := barefoot.Foot{Values: map[string]float64{}, Other: map[string]float64{}, Failed: map[string]bool{},
			Taken: map[string]body.Date{}, Hurt: hurt}
		for _, it := range barefoot.Items {
			for _, m := range it.Test {
				if v, ok := f.test(m, leg); ok {
					foot.Values[m] = v
				}
				if v, ok := f.test(m, leg.Other()); ok {
					foot.Other[m] = v
				}
				for _, side := range []body.Side{leg, body.Both} {
					foot.Taken[m] = max(foot.Taken[m], f.Taken[m+"|"+string(side)])
					foot.Failed[m] = foot.Failed[m] || f.Failed[m+"|"+string(side)]
				}
				if foot.Taken[m] == "" {
					delete(foot.Taken, m)
				}
			}
		}
		foot.Pain, foot.Told = f.sorest(leg)
		in.Feet[leg] = foot
	}
	return in
}

// saidOfHardware reports limits for hardware that speak of bare work: where both sides were operated on nothing else can.
func (f Facts) saidOfHardware() bool {
	answered := f.Profile.CautionNotes["hardware"].Answered
	return slices.ContainsFunc(f.Limits, func(l refer.Limit) bool { return l.Covers("hardware", answered) && l.Opens.Bare != nil })
}

// sorest is the usual morning of the sorest place of a leg, 0–10, and whether mornings, or the intake, were told of late. A single
// morning is judged by what goes back for it.
func (f Facts) sorest(leg body.Side) (pain int, told bool) {
	fresh := func(on body.Date, days int) bool { return on != "" && f.Today.Sub(on) <= days }
	told = fresh(f.Told, f.House.Int("barefoot.told")) || fresh(f.Profile.AskedOn, f.House.Int("barefoot.asked"))
	if usual, ok := f.Usual[leg]; ok {
		return int(math.Ceil(usual)), told
	}
	for _, s := range f.Profile.Symptoms {
		if s.Side.Touches(leg) && s.Region != body.AboveKnee {
			pain = max(pain, s.Baseline)
		}
	}
	return pain, told
}

// bars is what takes bare work of a leg away by itself: signs, cautions, patterns, soreness, the skin, and feeling lost or unknown.
func (f Facts) bars(cuts []Cut, leg body.Side) []barefoot.Bar {
	out := []barefoot.Bar{}
	for _, c := range cuts {
		if !c.reaches([]body.Side{leg}) || c.gate != nil || c.ID == gateCut || c.ID == "transition" {
			continue
		}
		stage := c.Takes.bareStage()
		if stage >= barefoot.Share {
			continue
		}
		out = append(out, barefoot.Bar{Item: barItem(c.ID), Cap: stage, Says: c.Reason.Says, Opens: c.Opens})
	}
	switch {
	case f.lost(leg):
		out = append(out, barefoot.Bar{Item: barefoot.Feeling, Cap: barefoot.None, Says: "the sole did not feel a light touch"})
	case !f.feels(leg):
		out = append(out, barefoot.Bar{Item: barefoot.Feeling, Cap: barefoot.None, Unknown: true, Says: "not known"})
	}
	return out
}

// barItem is the item of the gate that a cut belongs to.
func barItem(cut string) string {
	switch {
	case cut == "blister":
		return barefoot.Skin
	case cut == "caution.sensation":
		return barefoot.Feeling
	case len(cut) > 5 && cut[:5] == "stop.", len(cut) > 8 && cut[:8] == "cleared.", cut == "ill":
		return barefoot.Stop
	}
	return barefoot.Cautions
}

// bareStage is the highest stage of bare work that is left, as far as it is taken away by stage, level, bouncing or running.
func (t Takes) bareStage() int {
	out := barefoot.Share
	if t.BareAbove != nil {
		out = min(out, *t.BareAbove)
	}
	if t.Everything || t.Above != nil && *t.Above < 2 {
		out = barefoot.None
	}
	if t.Above != nil && *t.Above == 2 || t.Beyond != nil && *t.Beyond != body.FreeHops || t.BareImpact {
		out = min(out, barefoot.Strength)
	}
	if t.Running || slices.Contains(t.Runs, body.BarePart) || slices.Contains(t.Runs, body.EasyMinutes) {
		out = min(out, barefoot.Bouncing)
	}
	return out
}

// BareAsk is what a stage of bare work asks of the legs.
func BareAsk(stage int) Ask {
	d := body.Demand{Level: 2, Trains: body.BothLegs, Bears: body.BothLegs, Position: "standing", Bare: true, Stage: stage, Main: BareLoads}
	switch {
	case stage == barefoot.Bouncing:
		d.Level, d.Impact = 3, body.FreeHops
	case stage >= barefoot.RunWalk:
		d.Run, d.Tags = body.BarePart, []body.Tag{body.Outdoors}
	case stage == barefoot.Walking:
		d.Tags = []body.Tag{body.Walking}
	}
	return Ask{Demand: d.WithPlaces(), Side: body.Both, InForce: true}
}

// BareLoads are the places that bare work mainly loads.
var BareLoads = []body.Region{body.Calf, body.Achilles, body.Arch, body.Ball, body.TopOfFoot}

// Bare is the highest stage of bare work that everything but the tests of the gate leaves today, and what holds it back.
func (f Facts) Bare() (stage int, why, opens string) {
	f.Reached = nil
	cuts := f.Cuts()
	for stage = barefoot.Share; stage >= barefoot.Home; stage-- {
		ask := BareAsk(stage)
		ask.InForce = false // what is not known is not passed
		a := f.judge(cuts, ask)
		rest := slices.DeleteFunc(slices.Clone(a.Reasons), func(r Reason) bool {
			return r.Cut == gateCut || r.Sort == Holds
		})
		if len(rest) == 0 {
			return stage, why, opens
		}
		why, opens = rest[0].Says, rest[0].Opens
	}
	return barefoot.None, why, opens
}

// ofGate are the cuts of the gate: its tests, reckoned once and only where bare work asks; indoors only; and the stage that the
// transition has come to. Foot work on the spot asks none of them.
func (f Facts) ofGate() []Cut {
	out := []Cut{{ID: gateCut, Leg: body.Both, gate: sync.OnceValue(func() barefoot.Gate { return barefoot.Judge(f.gateInput(), f.Today) })}}
	if f.House.Choice(f.Profile.Approaches, "barefoot") == "indoors" {
		out = append(out, Cut{ID: gateCut, Leg: body.Both, Sort: Safety, Takes: Takes{BareAbove: num(barefoot.Strength)},
			Opens: "another approach to bare feet", Reason: f.reason("barefoot.gate", "indoors only")})
	}
	if f.Reached != nil {
		out = append(out, Cut{ID: "transition", Leg: body.Both, Sort: Waits, Takes: Takes{BareAbove: num(max(barefoot.Home, *f.Reached))},
			Opens: "the next stages of the transition", Reason: f.reason("barefoot.stage", "the transition is not further yet")})
	}
	return out
}

const gateCut = "gate"

// gated judges bare work by the tests of the gate. What was tested and found short steps down; a test that was not taken keeps a new
// dose waiting, lets one in force to body mass without bouncing hold, and has others step down. A test itself is never kept from
// being taken by it.
func (f Facts) gated(g func() barefoot.Gate, a Ask, legs []body.Side) Answer {
	out := Answer{Kind: Allowed, Reasons: []Reason{}}
	if !a.Bare || a.Stage == 0 || a.Test {
		return out
	}
	gate := g()
	for _, leg := range legs {
		known, unknown := gate.Foot(leg)
		if known.Cap < a.Stage {
			out = out.And(Answer{Kind: NotNow, Reasons: []Reason{f.gateReason(known, leg, Safety)}})
		}
		if unknown.Cap >= a.Stage {
			continue
		}
		switch {
		case !a.InForce:
			out = out.And(Answer{Kind: NotNow, Reasons: []Reason{f.gateReason(unknown, leg, Waits)}})
		case a.Level <= 2 && !a.Impact.Beyond(body.NoImpact) && a.Run == "":
			out = out.And(Answer{Kind: Allowed, NoUp: true, Reasons: []Reason{f.gateReason(unknown, leg, Holds)}})
		default:
			out = out.And(Answer{Kind: NotNow, Reasons: []Reason{f.gateReason(unknown, leg, Safety)}})
		}
	}
	return out
}

func (f Facts) gateReason(row barefoot.Row, leg body.Side, sort Sort) Reason {
	r := Reason{Reason: row.Why, Cut: gateCut, Sort: sort, Leg: leg, Opens: row.Opens}
	if r.Opens == "" {
		r.Opens = "a test that shows otherwise"
	}
	r.Says = fmt.Sprintf("barefoot gate, %s: %s", leg, row.Why.Says)
	return r
}

// ClosedBare are the signs that barred bare work and were cleared.
func (f Facts) ClosedBare() []barefoot.Closed {
	out := []barefoot.Closed{}
	for _, s := range f.Stops {
		c, on := s.Closed()
		if class := s.Class(f.Profile); c == nil || s.Mistake() || class == refer.Small {
			continue
		}
		out = append(out, barefoot.Closed{ID: s.ID, On: on, Days: on.Sub(s.On), Bone: s.Grave()})
	}
	return out
}
