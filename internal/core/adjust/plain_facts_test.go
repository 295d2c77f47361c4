package adjust

import (
	"fmt"
	"slices"
	"sort"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
	"notchback/internal/core/stats"
)

// plain is the table of rules stated once more, for a row by itself, from the raw records and in figures. What it takes
// from elsewhere has tests of its own: the usual of a morning, the volume, the race, the permission, the next dose up
// and the dose a parked rail returns to.
type plain struct {
	in     Input
	x      catalog.Exercise
	side   body.Side
	legs   []body.Side
	usual  build.Usuals
	may    permit.Answer
	next   catalog.Prescription
	strict bool // pain 0 goes on, above 2 goes back

	mine, all []plainMark // mornings that concern the exercise, and all
	trained   []plainDay
}

type plainMark struct {
	on     body.Date
	region body.Region
	leg    body.Side
	pain   int
	over   float64
	seq    int64
}

type plainDay struct {
	on       body.Date
	share    float64
	whole    bool // a log of it was whole
	times    int
	pain     int
	rpe      int
	noEffort bool
	noPain   bool
	cramp    bool
	faults   bool
	new      bool
	untold   bool
	waits    bool // one of its reports is the runner's correction, which no coach has seen
	effort   bool
}

func plainly(in Input) plain {
	p := plain{in: in}
	p.x, _ = in.Rail.Exercise(in.Current.Exercise)
	p.side = in.Current.Side
	if p.x.Trains == body.BothLegs {
		p.side = body.Both
	}
	p.legs = p.x.Legs(p.side)
	p.usual = build.NewUsuals(in.Profile, in.Mornings, in.Usual)
	if in.usuals != nil {
		p.usual = *in.usuals
	}
	limits := in.Limits.Reach(in.Rail, in.Current.Exercise, in.Current.Dose)
	p.may = limits.May(in.Rail, p.x)
	p.next = gather(&in).up(in.Current)
	p.strict = in.Profile.Approaches["pain"] == "none"
	p.mine, p.all, p.trained = p.mornings(false), p.mornings(true), p.days()
	return p
}

func (p plain) go_() int {
	if p.strict {
		return 0
	}
	return 2
}

func (p plain) back() int {
	if p.strict {
		return 2
	}
	return 5
}

func (p plain) ago(on body.Date) int { return p.in.Today.Sub(on) }

// decided is the newest report number a decision on a side has seen: of a coach, or a hold of this very row.
func (p plain) decided(side body.Side, byCoach bool) int64 {
	n := int64(-1)
	for _, m := range p.in.Moves {
		coachs := !m.Alone && (m.Side == side || m.Side == "" || m.Side == body.Both || side == body.Both)
		own := m.Alone && !byCoach && (m.Side == p.in.Current.Side || m.Side == "")
		if (coachs || own) && m.Seen > n {
			n = m.Seen
		}
	}
	return n
}

func (p plain) new(l Log) bool { return l.Seq > p.decided(l.Prescription.Side, false) }

// logs of the row, each as the worst that was said of it, newest first.
func (p plain) logs() []Log {
	var out []Log
	for _, l := range p.in.Logs {
		if l.On > p.in.Today || p.side != body.Both && l.Prescription.Side != p.side && l.Prescription.Side != body.Both {
			continue
		}
		if l.Seq > p.decided(l.Prescription.Side, true) && l.Source != "coach" {
			if open, said := plainAnswers(l), len(l.Was) > 0; said && open {
				l.Was = nil // it answers what was left open, and changes nothing that was told
			}
			for _, w := range l.Was {
				l.Pain, l.RPE = max(l.Pain, w.Pain), max(l.RPE, w.RPE)
				if w.Share() < l.Share() {
					l.Done = w.Done
				}
				if w.CrampAt > 0 && (l.CrampAt == 0 || w.CrampAt < l.CrampAt) {
					l.CrampAt = w.CrampAt
				}
				l.Faults = slices.Concat(l.Faults, w.Faults)
			}
		}
		out = append(out, l)
	}
	sort.SliceStable(out, func(i, k int) bool {
		return out[i].On > out[k].On || out[i].On == out[k].On && out[i].Seq > out[k].Seq
	})
	return out
}

// plainAnswers reports that nothing told before was told otherwise: only pain and effort that were left open are answered.
func plainAnswers(l Log) bool {
	for _, w := range l.Was {
		pain, effort := w.Pain == -1 || w.Pain == l.Pain, w.RPE == -1 || w.RPE == l.RPE
		rest := fmt.Sprint(w.Done, w.Faults, w.CrampAt, w.Times) == fmt.Sprint(l.Done, l.Faults, l.CrampAt, l.Times)
		if !pain || !effort || !rest {
			return false
		}
	}
	return true
}

func (p plain) atDose() []Log {
	return slices.DeleteFunc(p.logs(), func(l Log) bool {
		same := l.Prescription.Exercise == p.in.Current.Exercise && l.Prescription.From == p.in.Current.From && l.On >= p.in.Current.From
		return l.Prescription.ID != p.in.Current.ID && !same
	})
}

func (p plain) undecided() []Log {
	return slices.DeleteFunc(p.logs(), func(l Log) bool { return !p.new(l) })
}

func quantity(d body.Dose) int { return d.TotalSets() * d.Amount() * d.Times() }

// days are the training days of the dose in force, newest first.
func (p plain) days() []plainDay {
	var out []plainDay
	for _, l := range p.atDose() {
		if shown := l.Prescription.Dose; shown.Kind == p.in.Current.Dose.Kind && quantity(shown) < quantity(p.in.Current.Dose) {
			continue
		}
		asked, done := l.Prescription.Dose, 0
		for i, n := range l.Done {
			if i < asked.TotalSets() {
				done += min(n, asked.Amount())
			}
		}
		share := 100 * float64(done) / float64(max(1, asked.TotalSets()*asked.Amount()))
		d := plainDay{on: l.On, share: share, pain: l.Pain, rpe: l.RPE, noEffort: l.RPE < 0, cramp: l.CrampAt > 0, faults: len(l.Faults) > 0,
			new: p.new(l), noPain: l.Pain < 0,
			untold: l.Seq > p.decided(l.Prescription.Side, true), effort: asked.Kind == body.Effort}
		d.waits = d.untold && l.Source != "coach" && len(l.Was) > 0
		if share >= 100 || d.cramp || d.effort {
			d.whole, d.times = true, max(1, l.Times)
		}
		if n := len(out); n > 0 && out[n-1].on == l.On {
			o := out[n-1]
			o.share, o.pain, o.rpe, o.times = max(o.share, d.share), max(o.pain, d.pain), max(o.rpe, d.rpe), o.times+d.times
			o.whole, o.noEffort, o.cramp, o.faults, o.new = o.share >= 100 || o.cramp || d.cramp || o.effort, o.noEffort || d.noEffort, o.cramp ||
				d.cramp, o.faults || d.faults, o.new || d.new
			o.untold, o.waits, o.noPain = o.untold || d.untold, o.waits || d.waits, o.noPain || d.noPain
			out[n-1] = o
			continue
		}
		out = append(out, d)
	}
	return out
}

func (p plain) complete(d plainDay) bool {
	need := p.in.Current.Dose.Times()
	if p.in.Rail.Habit {
		need = (need + 1) / 2
	}
	return d.times >= need
}

// weightBearing work outside hip and trunk is held by a bad morning anywhere on the leg below the knee joint.
func (p plain) weightBearing(r body.Region) bool {
	hip := len(p.x.Main) > 0
	for _, m := range p.x.Main {
		hip = hip && (m == body.Knee || m == body.AboveKnee)
	}
	return r != body.AboveKnee && p.x.Bears != "" && p.x.Bears != body.NoLeg && p.x.Level >= 2 &&
		(!hip || slices.Contains(p.x.Tags, body.OneLeg))
}

func (p plain) takes(r body.Region) bool {
	hard := p.x.Level >= 3 || p.x.Impact == body.Supported || p.x.Impact == body.FreeHops || p.x.Edge || p.x.ToesBack
	return r == body.WholePerson || slices.Contains(p.x.Main, r) || hard && p.x.Loads(r)
}

// mornings are the marks that concern the exercise, oldest first.
func (p plain) mornings(everywhere bool) []plainMark {
	var out []plainMark
	for _, m := range p.in.Mornings {
		for _, leg := range body.Sides {
			if m.On > p.in.Today || m.Quiet || m.Side != leg && m.Side != body.Both {
				continue
			}
			if everywhere || slices.Contains(p.legs, leg) && (p.x.Loads(m.Region) || m.Region == body.WholePerson || p.weightBearing(m.Region)) {
				out = append(out, plainMark{m.On, m.Region, leg, m.Pain, float64(m.Pain) - p.usual.At(m.Region, leg, m.On), m.Seq})
			}
		}
	}
	sort.SliceStable(out, func(i, k int) bool {
		return out[i].on < out[k].on || out[i].on == out[k].on && out[i].seq < out[k].seq
	})
	return out
}

func (p plain) open(m plainMark) bool { return m.seq > p.decided(m.leg, false) }

// after is the worst of the morning after a day, whether there was any, and whether every watched place answered.
func (p plain) after(on body.Date) (over float64, any, answered bool) {
	for _, m := range p.mine {
		if m.on == on.Add(1) && (!any || m.over > over) {
			over, any = m.over, true
		}
	}
	return over, any, p.answered(on.Add(1))
}

func (p plain) answered(on body.Date) bool {
	reported := false
	for _, m := range p.in.Mornings {
		reported = reported || m.On == on
	}
	for _, w := range p.in.Watched {
		for _, leg := range p.legs {
			if !p.x.Loads(w.Region) || w.Side != leg && w.Side != body.Both {
				continue
			}
			told := false
			for _, m := range p.in.Mornings {
				if m.On != on {
					continue
				}
				if m.Quiet {
					told = told || m.Answers(w.Region, leg) && p.quiet(w.Region, leg, on)
				} else {
					told = told || m.Answers(w.Region, leg)
				}
			}
			if !told {
				return false
			}
		}
	}
	return reported
}

// quiet: “everything else quiet” answers for a place whose usual is at most 2, whose last number was not above
// usual, on a leg that is not in Calm.
func (p plain) quiet(r body.Region, leg body.Side, on body.Date) bool {
	var last *plainMark
	for _, m := range p.in.Mornings {
		if !m.Quiet && m.Region == r && (m.Side == leg || m.Side == body.Both) && m.On < on && (last == nil || m.On >= last.on) {
			last = &plainMark{on: m.On, over: float64(m.Pain) - p.usual.At(r, leg, m.On)}
		}
	}
	return p.usual.At(r, leg, on) <= 2 && (last == nil || last.over <= 0) && !slices.Contains(p.in.Limits.Calm, leg)
}

// answeredBack is what the last move, a back, was taken for, while no session at its dose has followed.
func (p plain) answeredBack() (pain int, over float64, is bool) {
	moves := slices.DeleteFunc(slices.Clone(p.in.Moves), func(m Move) bool {
		return m.Verdict == Hold || m.Side != "" && m.Side != p.side && m.Side != body.Both && p.side != body.Both
	})
	if len(moves) == 0 || moves[len(moves)-1].Verdict != Back || len(p.atDose()) > 0 {
		return 0, 0, false
	}
	last, before := moves[len(moves)-1], int64(-1)
	for _, m := range moves[:len(moves)-1] {
		before = max(before, m.Seen)
	}
	for _, l := range p.logs() {
		if l.Seq > before && l.Seq <= last.Seen {
			pain = max(pain, l.Pain)
		}
	}
	for _, m := range p.mine {
		if m.seq > before && m.seq <= last.Seen && p.takes(m.region) {
			over = max(over, m.over)
		}
	}
	return pain, over, true
}

// backTwo parks when the rail went back two within 14 days.
func (p plain) backTwo() (Verdict, int) {
	for _, m := range p.in.Moves {
		if m.Verdict == Back && m.Steps >= 2 && p.ago(m.On) <= 14 &&
			(m.Side == "" || m.Side == body.Both || p.side == body.Both || m.Side == p.side) {
			return Park, 0
		}
	}
	return Back, 2
}

func (p plain) recent() (pains, rpes []int, faults bool) {
	days := p.trained
	days = days[:min(2, len(days))]
	from := body.Date("")
	for _, d := range days {
		pains, rpes, faults, from = append(pains, d.pain), append(rpes, d.rpe), faults || d.faults, d.on
	}
	for _, l := range p.undecided() {
		if l.On >= from {
			pains, rpes, faults = append(pains, l.Pain), append(rpes, l.RPE), faults || len(l.Faults) > 0
		}
	}
	return pains, rpes, faults
}

func (p plain) settled() bool {
	if p.strict || p.ago(p.in.Current.From) < 14 {
		return false
	}
	var weeks [2][]float64
	whole := 0
	for _, d := range p.trained {
		if p.ago(d.on) >= 14 {
			continue
		}
		over, _, answered := p.after(d.on)
		if !answered || over > 0 || d.pain > 5 || d.noPain || d.faults {
			return false
		}
		if p.complete(d) {
			whole++
		}
		weeks[p.ago(d.on)/7] = append(weeks[p.ago(d.on)/7], float64(d.pain))
	}
	return whole >= 4 && len(weeks[0]) > 0 && len(weeks[1]) > 0 && stats.Median(weeks[0]) <= stats.Median(weeks[1])
}

func (p plain) fatigue() bool {
	return p.in.Profile.Approaches["effort"] == "fatigue" || len(p.x.StageDays) > 0 || len(p.x.Ladder) > 0 && p.x.Ladder[0].Kind == body.Effort
}
