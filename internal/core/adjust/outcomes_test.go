package adjust

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"testing"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
	"notchback/internal/outcomes"
)

// told is all that is said of a row: what is proposed, and what the coach may take instead.
type told struct {
	Proposal Proposal
	Instead  string
}

// TestOutcomes draws lives, some of them made worse, and what is proposed for each of their rows.
func TestOutcomes(t *testing.T) {
	outcomes.Compare(t, 5200, func(seed uint64) any {
		r := rand.New(rand.NewPCG(seed, 11))
		switch {
		case seed >= 3200:
			return nudged(r)
		case seed >= 1200:
			return steps(r)
		}
		l := drawLife(r)
		for range r.IntN(8) {
			l.worsen(r)
		}
		if r.IntN(3) == 0 {
			c := newTally()
			l = l.held([]body.Date{today.Add(-4 - r.IntN(6)), today.Add(-1 - r.IntN(3))}, nil, &c)
		}
		ins := l.inputs(nil, today)
		out := []told{}
		for i, p := range ProposeAll(ins) {
			v := []Verdict{Up, Hold, Back, Park, Return}[r.IntN(5)]
			taken, err := Choose(ins[i], v)
			out = append(out, told{p, fmt.Sprint(v, taken.To, err)})
		}
		return out
	})
}

// steps draws a dose, listed or made, the kit and the tests, and says where every step from it leads.
func steps(r *rand.Rand) any {
	some := func(n int) bool { return r.IntN(n) == 0 }
	in := owner()
	in.Profile.MassKg = 45 + float64(r.IntN(60))
	in.Profile.Equipment.DumbbellsKg = [][]float64{nil, {4, 8, 12}, {10, 20}, {2, 2.5, 3}, {16}}[r.IntN(5)]
	in.Profile.Equipment.Bands = [][]string{nil, {"light"}, {"light", "medium", "strong"}}[r.IntN(3)]
	if some(4) {
		all := permit.CautionIDs()
		in.Profile.Cautions = []string{all[r.IntN(len(all))]}
	}
	if some(6) {
		in.House.Changed = map[string]float64{"dose.step": 30, "adjust.back.work": 70, "dose.load.step": 5}
	}
	values := maps.Clone(in.Limits.Values)
	values["ankle.knee_to_wall"], values["toe.passive_height"], values["calf.rm"] = 4, 20, 100
	for _, m := range slices.Sorted(maps.Keys(values)) {
		if values[m] *= 1 + r.Float64(); some(20) {
			delete(values, m)
		}
	}
	in.Limits.Values = values
	rail := catalog.Shipped.Rails[r.IntN(len(catalog.Shipped.Rails))]
	x := rail.Exercises[r.IntN(len(rail.Exercises))]
	draw := func(x catalog.Exercise) body.Dose {
		all := catalog.Limits{Equipment: in.Profile.Equipment, Spm: []int{170, 175}, MassKg: in.Profile.MassKg, Values: values}.Doses(x)
		d := x.Ladder[r.IntN(len(x.Ladder))]
		if len(all) > 0 && !some(4) {
			d = all[r.IntN(len(all))]
		}
		if some(3) { // a made one
			d = d.WithAmount(max(1, d.Amount()+r.IntN(9)-4))
		}
		if some(6) {
			d.Sets += r.IntN(3)
		}
		if some(8) {
			d.Extra = 1
		}
		if some(12) && d.Kind == body.RMLoad {
			d.Kind, d.Seconds = body.Repetitions, 0
		}
		return d
	}
	side := rail.Sides()[r.IntN(len(rail.Sides()))]
	in.Current = catalog.Prescription{ID: "p", Rail: rail.ID, Side: side, Exercise: x.ID, Name: x.Name, Dose: draw(x),
		From:  today.Add(-age(r)),
		Cause: []string{CauseUp, CauseCramp, CauseBack, CauseReturn}[r.IntN(4)], Parked: some(6)}
	drawSteps(r, &in, rail, draw)
	in = whole(in)
	f := gather(&in)
	cur := in.Current
	less, fits := f.less(x, cur.Dose)
	out := []any{f.up(cur), f.back(cur), f.easier(cur), f.returned(cur), less, fits, in.harder(x, cur.Dose, x, less), f.beyond(), f.mild(),
		f.news(), f.settled(), f.short(session{logs: f.logs[:min(1, len(f.logs))], complete: true})}
	other := cur
	other.ID, other.Side, other.Dose, other.Parked = "o", cur.Side.Other(), draw(x), some(5)
	to := other
	if some(2) {
		to.Dose = draw(x)
	}
	in.Other = &Row{From: other, To: to, Verdict: []Verdict{Up, Hold, Back, Park, Return, Pending}[r.IntN(6)], Steps: r.IntN(3), News: some(2),
		Clean: some(2), Fired: []Fired{{Verdict: Hold}}}
	return append(out, Propose(in), Joint(catalog.Shipped, []catalog.Prescription{cur, other}, in.Profile.MassKg))
}

// drawSteps draws the sessions and mornings before a step.
func drawSteps(r *rand.Rand, in *Input, rail catalog.Rail, draw func(catalog.Exercise) body.Dose) {
	some := func(n int) bool { return r.IntN(n) == 0 }
	in.Logs, in.Mornings = nil, nil
	for d := -30; d <= 0; d += 1 + r.IntN(6) {
		e := rail.Exercises[r.IntN(len(rail.Exercises))]
		p := in.Current
		if some(2) {
			p.Exercise, p.Dose, p.Side = e.ID, draw(e), []body.Side{body.Left, body.Right}[r.IntN(2)]
		}
		l := logOn(p, d)
		l.Pain, l.RPE = r.IntN(4), 5+r.IntN(5)
		if some(5) {
			l.Done[0], l.CrampAt = l.Done[0]/2, l.Done[0]/2
		}
		if some(5) {
			l.Faults = []string{"rushed"}
		}
		in.Logs = append(in.Logs, l)
		in.Mornings = append(in.Mornings, morningOn(d+1, r.IntN(3)))
	}
}
