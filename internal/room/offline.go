package room

import (
	"context"
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/record"
	"notchback/internal/store"
)

// Offline is what a phone goes by until there is signal again: what each thing that its runner may tell takes away, and
// what is done instead. The phone only compares.
type Offline struct {
	Runner string                   `json:"runner"`
	State  string                   `json:"state" doc:"of the page it belongs to"`
	Kinds  map[string]OfflineKind   `json:"kinds" doc:"exercises done instead, by id"`
	Days   map[body.Date]OfflineDay `json:"days" doc:"today and tomorrow"`
}

// OfflineDay is a day's session, each side by its first prescription.
type OfflineDay map[string]OfflineSide

// OfflineSide is what takes a side's dose away, and what is done instead, what asks most first.
type OfflineSide struct {
	Unless  []Unless  `json:"unless"`
	Rows    []string  `json:"rows" doc:"the prescriptions that are judged together with it"`
	Against []Unless  `json:"against" doc:"once one of the rows was done and one of these was told too, it waits for contact"`
	Once    bool      `json:"once" doc:"something speaks against it already: once one of the rows was done it waits for contact"`
	Instead []Instead `json:"instead"`
}

// Instead is what is done where a dose was taken away, and what takes this away too.
type Instead struct {
	Does   []OfflineDose `json:"does"`
	Unless []Unless      `json:"unless"`
}

// OfflineDose is one side of an exercise done instead.
type OfflineDose struct {
	Kind    string     `json:"kind" doc:"exercise"`
	Mind    []string   `json:"mind"`
	Then    *PhoneThen `json:"then,omitempty"`
	Seconds int        `json:"seconds"`
	PhoneSide
}

// OfflineKind is an exercise as the page shows it, without a dose.
type OfflineKind = PhoneItem

// Unless is what takes a dose away on a phone without signal: a number, told since the page was made, that is so high.
// It is of the first steps at a place of a leg, or of the work of a prescription.
type Unless struct {
	Region       body.Region `json:"region,omitempty" doc:"of first steps"`
	Side         body.Side   `json:"side,omitempty" enum:"left,right" doc:"of first steps; a report of both legs speaks of each"`
	Prescription string      `json:"prescription,omitempty" doc:"of pain during its session, in place of a place"`
	AtLeast      int         `json:"atLeast" doc:"0–10"`
	Why          string      `json:"why"`
}

// Offline computes it for a page in this state, one runner at a time: it asks the core some hundred questions.
func (d *Desk) Offline(ctx context.Context, a Actor, runner string) (v Offline, err error) {
	d.asking.Lock()
	defer d.asking.Unlock()
	if ctx.Err() != nil { // nobody waits for it any more
		return v, ctx.Err()
	}
	var o Chart
	if err = d.Read(ctx, a, runner, record.NeedProposals, func(_ *store.Tx, x Chart) error { o = x; return nil }); err != nil {
		return v, err
	}
	v = Offline{Runner: o.ID, State: o.state(), Kinds: map[string]OfflineKind{}, Days: map[body.Date]OfflineDay{}}
	for _, on := range []body.Date{o.Today, o.Today.Add(1)} {
		v.Days[on] = o.offline(on, v.Kinds)
	}
	return v, nil
}

// telling is one thing that a runner may tell a phone: the first steps at a place of a leg, or the pain of a session.
type telling struct {
	region body.Region
	leg    body.Side
	work   itemSide
}

func (t telling) unless(atLeast int, why string) Unless {
	if t.region == "" {
		return Unless{Prescription: t.work.prescriptions[0].ID, AtLeast: atLeast, Why: why}
	}
	return Unless{Region: t.region, Side: t.leg, AtLeast: atLeast, Why: why}
}

// last numbers what was told after every report there is.
const last = int64(1) << 50

// told is the record of some rails as it would stand on a day, had this been told on each day from today on.
func (o Chart) told(t telling, pain int, on body.Date, rails []string) Chart {
	r, plan := *o.Reports, *o.Plan
	plan.Prescriptions = slices.DeleteFunc(slices.Clone(plan.Prescriptions), func(p catalog.Prescription) bool {
		return !slices.Contains(rails, p.Rail)
	})
	seq := last
	for day := o.Today; day <= on; day = day.Add(1) {
		seq++
		if t.region != "" {
			r.Mornings = append(slices.Clip(r.Mornings), build.Morning{ID: "told", On: day, Region: t.region, Side: t.leg, Pain: pain, Seq: seq})
			continue
		}
		for _, p := range t.work.prescriptions {
			p.Dose = t.work.dose
			r.Logs = append(slices.Clip(r.Logs), adjust.Log{ID: "told", On: day, Seq: seq, Pain: pain, Source: "phone", Prescription: p,
				Done: slices.Repeat([]int{p.Dose.Amount()}, p.Dose.TotalSets()), Times: p.Dose.Times(), Faults: []string{}})
		}
	}
	m := newMemo()
	if m.trials = o.memo.trials; t.region != "" {
		m.logs = o.memo.logs
	}
	o.Reports, o.Plan, o.Today, o.memo = &r, &plan, on, m
	return o
}

// stand is how the rows of one side of an exercise come to stand in a session; without items nothing of it is done.
type stand struct {
	items   []item
	why     string
	against bool // a report that no coach has seen takes it back
}

// key tells stands apart.
func (s stand) key() string {
	out := ""
	for _, it := range s.items {
		for _, x := range it.sides {
			out += it.exercise.ID + " " + string(x.side) + " " + x.dose.String() + "|"
		}
	}
	return out
}

// row is the first row of a stand, as it is shown.
func (s stand) row() catalog.Prescription {
	if len(s.items) == 0 {
		return catalog.Prescription{Parked: true}
	}
	x := s.items[0].sides[0]
	p := x.prescriptions[0]
	p.Dose = x.dose
	return p
}

// stands looks the rows of one side of an exercise up in a session.
func (o Chart) stands(rail catalog.Rail, side itemSide, on body.Date) (out stand) {
	day := o.training(on)
	left := len(side.prescriptions)
	for _, it := range day.items {
		mine := it
		mine.sides = nil
		for _, x := range it.sides {
			x.prescriptions = slices.DeleteFunc(slices.Clone(x.prescriptions), func(p catalog.Prescription) bool {
				return !slices.ContainsFunc(side.prescriptions, func(q catalog.Prescription) bool { return p.ID == q.ID })
			})
			if left -= len(x.prescriptions); len(x.prescriptions) > 0 {
				mine.sides = append(mine.sides, x)
			}
		}
		if len(mine.sides) > 0 {
			out.items = append(out.items, mine)
		}
	}
	if left > 0 { // of two legs that work at once one may not
		out.items = nil
	}
	for _, k := range day.kept {
		if k.rail.ID == rail.ID && len(k.reasons) > 0 && len(out.items) == 0 && (k.side == body.Both || k.side.Touches(side.side)) {
			out.why = k.reasons[0].Says
		}
	}
	for _, row := range side.prescriptions {
		p := o.proposal(row)
		out.against = out.against || p.Verdict == adjust.Back || p.Verdict == adjust.Park
		if out.why == "" && len(p.Fired) > 0 {
			out.why = p.Fired[0].Reason.Says
		}
	}
	return out
}

// turn is a number from which what was told changes how a side stands.
type turn struct {
	telling
	atLeast int
	chart   Chart
	stand
}

// asked is a session whose sides are asked about.
type asked struct {
	Chart
	on    body.Date
	sides []itemSide
	of    []catalog.Rail // of each side
	rails []string
	now   []stand
}

func (o Chart) asked(on body.Date) asked {
	a := asked{Chart: o, on: on}
	for _, it := range o.training(on).items {
		for _, s := range it.sides {
			a.sides, a.of, a.rails = append(a.sides, s), append(a.of, it.rail), append(a.rails, it.rail.ID)
			a.now = append(a.now, o.stands(it.rail, s, on))
		}
	}
	return a
}

// tellings are what a runner may tell of the session, and of the morning before it.
func (a asked) tellings() []telling {
	out := []telling{}
	for _, n := range body.RegionNames {
		if n.ID != body.WholePerson {
			out = append(out, telling{region: n.ID, leg: body.Left}, telling{region: n.ID, leg: body.Right})
		}
	}
	for _, s := range a.sides {
		out = append(out, telling{work: s})
	}
	return out
}

// turns finds, for each side, from which number a telling takes something away. A higher number is never answered by
// more, so the numbers between two that are answered alike are not asked.
func (a asked) turns(t telling) [][]turn {
	out := make([][]turn, len(a.sides))
	type answer struct {
		Chart
		stands []stand
	}
	known := map[int]answer{-1: {a.Chart, a.now}} // nothing told
	at := func(n int) answer {
		x, ok := known[n]
		if !ok {
			x.Chart = a.told(t, n, a.on, a.rails)
			for i, s := range a.sides {
				x.stands = append(x.stands, x.Chart.stands(a.of[i], s, a.on))
			}
			known[n] = x
		}
		return x
	}
	same := func(x, y stand) bool { return x.key() == y.key() && x.against == y.against }
	var between func(from, to int)
	between = func(from, to int) {
		switch x, y := at(from), at(to); {
		case from >= 0 && slices.EqualFunc(x.stands, y.stands, same):
		case to-from == 1:
			for i := range a.sides {
				if !same(x.stands[i], y.stands[i]) {
					out[i] = append(out[i], turn{t, to, y.Chart, y.stands[i]})
				}
			}
		default:
			between(from, (from+to)/2)
			between((from+to)/2, to)
		}
	}
	if !slices.EqualFunc(at(10).stands, a.now, same) {
		between(-1, 0)
		between(0, 10)
	}
	return out
}

// offline says of every side of a day's session what takes it away without signal, and what is done instead: the core is
// asked about each thing that the runner may tell before there is signal again.
func (o Chart) offline(on body.Date, kinds map[string]OfflineKind) OfflineDay {
	a := o.asked(on)
	turns := make([][]turn, len(a.sides))
	for _, t := range a.tellings() {
		for i, x := range a.turns(t) {
			turns[i] = append(turns[i], x...)
		}
	}
	out := OfflineDay{}
	for i, s := range a.sides {
		out[s.prescriptions[0].ID] = o.versions(a.of[i], a.now[i], turns[i], kinds)
	}
	return out
}

// versions lists the ways a side may come to stand, each with what takes it away.
func (o Chart) versions(rail catalog.Rail, now stand, turns []turn, kinds map[string]OfflineKind) OfflineSide {
	in := adjust.Input{Rail: rail, Profile: o.Profile}
	var less []stand
	for _, t := range turns {
		if k := t.key(); k != "" && in.Gentler(t.row(), now.row()) < 0 && !slices.ContainsFunc(less, func(s stand) bool { return s.key() == k }) {
			less = append(less, t.stand)
		}
	}
	slices.SortStableFunc(less, func(a, b stand) int { return in.Gentler(b.row(), a.row()) })
	out := OfflineSide{Rows: []string{}, Unless: takers(turns, takes(&in, now)), Instead: []Instead{}, Once: now.against,
		Against: takers(turns, func(t turn) bool { return t.against && t.region != "" })}
	both := func(s stand) bool {
		return slices.ContainsFunc(s.items, func(it item) bool { return it.exercise.Both() })
	}
	together := both(now) || slices.ContainsFunc(less, both)
	for _, p := range o.Prescriptions {
		if p.Rail == rail.ID && (together || p.ID == now.row().ID) {
			out.Rows = append(out.Rows, p.ID)
		}
	}
	for _, v := range less {
		x := Instead{Does: []OfflineDose{}, Unless: takers(turns, takes(&in, v))}
		for _, it := range v.items {
			p := o.phoneItem(it)
			for _, s := range p.Sides {
				x.Does = append(x.Does, OfflineDose{p.Exercise.ID, p.Mind, p.Then, p.Seconds, s})
			}
			p.Sides, p.Mind, p.Then, p.Seconds = []PhoneSide{}, []string{}, nil, 0
			kinds[p.Exercise.ID] = p
		}
		out.Instead = append(out.Instead, x)
	}
	return out
}

// takes reports what takes a stand away: what leaves less than it, and what does not let it be done.
func takes(in *adjust.Input, v stand) func(turn) bool {
	return func(t turn) bool { return in.Gentler(t.row(), v.row()) < 0 || t.chart.forbids(v) }
}

// takers lists, for each telling, the lowest number that does something.
func takers(turns []turn, does func(turn) bool) []Unless {
	out := []Unless{}
	for _, t := range turns {
		if !does(t) {
			continue
		}
		u := t.unless(t.atLeast, t.why)
		same := func(w Unless) bool {
			return w.Region == u.Region && w.Side == u.Side && w.Prescription == u.Prescription
		}
		if i := slices.IndexFunc(out, same); i < 0 {
			out = append(out, u)
		} else if u.AtLeast < out[i].AtLeast {
			out[i] = u
		}
	}
	return out
}

// forbids reports that a stand may not be done.
func (o Chart) forbids(s stand) bool {
	return slices.ContainsFunc(s.items, func(it item) bool {
		return slices.ContainsFunc(it.sides, func(x itemSide) bool {
			return slices.ContainsFunc(x.prescriptions, func(p catalog.Prescription) bool {
				return !o.limits(p.Side).Reach(it.rail, it.exercise.ID, p.Dose).May(it.rail, it.exercise).May()
			})
		})
	})
}
