package adjust

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
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
			new:    p.new(l),
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
			o.untold, o.waits = o.untold || d.untold, o.waits || d.waits
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
		if !answered || over > 0 || d.pain > 5 || d.faults {
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

// rules gives, for every rule that speaks, what it asks.
func (p plain) rules() map[string]string {
	out := map[string]string{}
	releases := p.x.Class == catalog.Releasing
	say := func(rule string, v Verdict, steps int) { out["adjust."+rule] = fmt.Sprintf("%s %d", v, steps) }

	for _, r := range p.may.Reasons {
		if r.Sort == permit.Safety && (strings.HasPrefix(r.Cut, "stop.") || strings.HasPrefix(r.Cut, "cleared.")) {
			say("warning-sign", Park, 0)
		}
	}
	if p.in.Current.Parked {
		if p.returns() {
			say("return", Return, 0)
		}
		return out
	}

	// Reports running at one place.
	three, four := false, false
	for _, r := range body.RegionNames {
		for _, leg := range body.Sides {
			var row []plainMark
			for _, m := range p.mine {
				if m.region != r.ID || m.leg != leg || !p.takes(m.region) || p.ago(m.on) > 14 {
					continue
				}
				if n := len(row); n > 0 && row[n-1].on == m.on {
					if m.pain > row[n-1].pain {
						row[n-1] = m
					}
					continue
				}
				row = append(row, m)
			}
			running := func(ms []plainMark) bool {
				new := false
				for i, m := range ms {
					new = new || p.open(m)
					if i > 0 && m.on.Sub(ms[i-1].on) > 2 {
						return false
					}
				}
				return new
			}
			for i := range row {
				if i >= 2 && running(row[i-2:i+1]) && row[i-2].over >= 0 && row[i-1].over >= 1 && row[i].pain >= 3 && row[i].over >= 2 {
					three = true
				}
				if i >= 3 && running(row[i-3:i+1]) && row[i-3].over >= 1 && row[i-2].over >= 1 && row[i-1].over >= 1 && row[i].over >= 1 &&
					row[i].pain >= 3 {
					four = true
				}
			}
		}
	}
	if three {
		v, n := p.backTwo()
		say("mornings-rising", v, n)
	} else if four {
		say("mornings-rising", Back, 1)
	}

	// Pain, or discomfort where tissue is released.
	worst := -1
	for _, l := range p.undecided() {
		worst = max(worst, l.Pain)
	}
	pains, rpes, faults := p.recent()
	answeredPain, answeredOver, answered := p.answeredBack()
	switch {
	case releases && worst >= 8:
		say("release", Back, 1)
	case releases && worst >= 5 && p.in.Profile.Approaches["pressure"] != "bearable":
		say("release", Hold, 0)
	case releases:
	case worst > p.back() && answered && worst <= answeredPain:
		say("pain", Hold, 0)
	case worst > p.back() && worst >= 7:
		v, n := p.backTwo()
		say("pain", v, n)
	case worst > p.back():
		say("pain", Back, 1)
	default:
		for _, n := range pains {
			if n > p.go_() && n <= p.back() && !p.settled() {
				say("pain", Hold, 0)
			}
		}
	}

	// Single mornings.
	best := 0 // 1 hold, 2 back one, 3 back two
	var lastBad body.Date
	for _, m := range p.mine {
		bad := m.over >= 2 || m.pain >= 7
		second := lastBad != "" && lastBad != m.on && m.on.Sub(lastBad) <= 7
		if bad && !p.takes(m.region) {
			lastBad = m.on
		}
		if !p.open(m) {
			continue
		}
		switch {
		case !p.takes(m.region) && bad && second:
			best = max(best, 2)
		case !p.takes(m.region) && bad:
			best = max(best, 1)
		case !p.takes(m.region):
		case bad && answered && m.over <= answeredOver && m.pain <= 7:
			best = max(best, 1)
		case m.pain >= 7 || m.over >= 4:
			best = max(best, 3)
		case m.over >= 2:
			best = max(best, 2)
		case m.over >= 1:
			best = max(best, 1)
		}
	}
	switch best {
	case 1:
		say("morning", Hold, 0)
	case 2:
		say("morning", Back, 1)
	case 3:
		v, n := p.backTwo()
		say("morning", v, n)
	}
	newest, high := body.Date(""), 0
	for _, m := range p.mine {
		if m.on > newest {
			newest, high = m.on, 0
		}
		high = max(high, m.pain)
	}
	if high > 5 {
		say("never-up", Hold, 0)
	}

	// The brake.
	then, _ := p.in.Rail.Exercise(p.next.Exercise)
	for _, leg := range p.legs {
		if max(p.x.Level, then.Level) < 2 {
			break
		}
		for _, r := range body.RegionNames {
			var last *plainMark
			for _, m := range p.all {
				if m.region == r.ID && m.leg == leg && (last == nil || m.on > last.on || m.on == last.on && m.pain > last.pain) {
					last = &m
				}
			}
			if last != nil && p.ago(last.on) <= 7 && last.over >= 2 {
				say("brake", Hold, 0)
			}
		}
		for _, m := range slices.Concat(p.in.Others, p.in.Moves) {
			if m.Verdict == Back && p.ago(m.On) < 7 && (m.Side == leg || m.Side == body.Both) &&
				(m.Rule == "adjust.pain" || m.Rule == "adjust.morning" || m.Rule == "adjust.mornings-rising") {
				say("brake", Hold, 0)
			}
		}
	}

	// What was done.
	days := p.trained
	for i := range days {
		if i > 0 && !days[i-1].effort && (days[i].new || days[i-1].new) && days[i].share < 80 && days[i-1].share < 80 {
			say("incomplete", Back, 1)
		}
	}
	two := days[:min(2, len(days))]
	for _, d := range two {
		if !p.complete(d) && !d.whole && out["adjust.incomplete"] == "" {
			say("incomplete", Hold, 0)
		}
	}
	lowest := 0
	for _, l := range p.undecided() {
		if l.CrampAt > 0 && l.Prescription.Exercise == p.in.Current.Exercise && (lowest == 0 || l.CrampAt < lowest) {
			lowest = l.CrampAt
		}
	}
	timed := p.in.Current.Dose.Timed()
	switch {
	case lowest == 0:
	case p.in.Profile.Approaches["cramp"] == "practise":
		say("cramp", Hold, 0)
	case timed && lowest*80/100 >= 3, !timed && lowest > 2:
		say("cramp", Back, 0) // to an exact dose
	default:
		say("cramp", Back, 1)
	}
	for _, n := range rpes {
		if n > 8 && !p.fatigue() {
			say("effort", Hold, 0)
		}
	}
	if faults {
		say("form", Hold, 0)
	}
	p.missed(say)

	// Running.
	hard := func(x catalog.Exercise) bool {
		return slices.Contains(x.Tags, body.CalfWork) && x.Level >= 3 || x.Impact == body.Supported || x.Impact == body.FreeHops ||
			x.Bare && x.Stage >= 1
	}
	// The next beat waits for a count of the one before, taken since this dose began, at most two a minute below it.
	if beat := p.in.Current.Dose.Spm; beat > 0 && p.next.Dose.Spm > beat {
		f := p.in.Limits.Facts
		if f.Taken["gait.cadence|both"] < p.in.Current.From || f.Tests[body.Both]["gait.cadence"] < float64(beat)-2 {
			say("beat", Hold, 0)
		}
	}
	volume, _ := load.Volume(p.in.Runs, p.in.Profile, p.in.Today, p.in.House)
	easy := permit.Ask{Demand: body.Demand{Level: 2, Trains: body.BothLegs, Bears: body.BothLegs, Run: body.EasyMinutes}, Side: body.Both}
	if volume == load.Unknown && !p.in.Limits.Facts.May(easy).May() {
		volume = load.Usual
	}
	back := p.in.Limits.Facts.Back
	if back != nil && (back.Phase == load.Walking || back.Phase == load.Stepped) {
		volume = load.Usual
	}
	if volume != load.Usual && (hard(p.x) || hard(then)) {
		say("volume", Hold, 0)
		if volume == load.High && hard(p.x) {
			ran := slices.ContainsFunc(p.in.Runs, func(r load.Run) bool {
				return p.ago(r.On) >= 0 && p.ago(r.On) < 7 && r.Seq > p.decided(p.side, false)
			})
			for _, l := range p.logs() { // a hold that nobody took answers no pain
				if l.Pain > p.go_() && l.Seq > p.decided(l.Prescription.Side, true) {
					say("volume", Back, 1)
				}
			}
			for _, l := range p.atDose() {
				if l.Pain > p.go_() && ran && p.ago(l.On) < 7 {
					say("volume", Back, 1)
				}
			}
		}
	}
	if back != nil && p.x.Level >= 3 {
		for _, m := range p.in.Others {
			if m.Verdict == Up && p.ago(m.On) >= 0 && p.ago(m.On) < 7 {
				say("returning", Hold, 0)
			}
		}
	}
	if build.RaceOn(p.in.Profile, p.in.Today, p.in.House) != nil {
		say("race", Hold, 0)
	}
	if grave, short := p.cleared(); grave && !p.mistaken() {
		say("cleared", Park, 0)
	} else if short && !p.mistaken() {
		say("cleared", Back, 2)
	}
	switch {
	case p.may.May() && (p.may.NoUp || p.may.HalfSets):
		say("permit", Hold, 0)
	case p.may.May():
	case p.may.Sort() == permit.Safety:
		say("permit", Back, 1)
	default:
		say("permit", Hold, 0)
	}
	return out
}

func (p plain) missed(say func(string, Verdict, int)) {
	last := p.in.Begun
	if last == "" || p.in.Current.Cause == catalog.CausePlaced {
		last = p.in.Current.From
	}
	for _, l := range p.logs() {
		last = max(last, l.On)
	}
	taken := 0
	for _, m := range p.in.Moves {
		if m.On > last && m.Verdict == Back && m.Rule == "adjust.missed" &&
			(m.Side == "" || m.Side == body.Both || p.side == body.Both || m.Side == p.side) {
			taken += m.Steps
		}
		if m.Verdict == Return && m.On > last {
			last = m.On
		}
	}
	n := p.ago(last)
	steps := max(1, n/7-1) - taken
	switch {
	case n >= 28:
		say("missed", Park, 0)
	case n >= 14 && steps > 0:
		say("missed", Back, steps)
	case n >= 7:
		say("missed", Hold, 0)
	}
}

// through are the signs that were open while the row in force stood and were closed since.
func (p plain) through() []refer.Stop {
	var out []refer.Stop
	for _, s := range p.in.Limits.Facts.Stops {
		sign, _ := refer.FindSign(s.Sign)
		c, on := s.Closed()
		if c == nil || sign.Class == refer.Small || sign.Class == refer.Pattern || c.Kind == "clinician" && s.Opens() == nil {
			continue
		}
		stood := on > p.in.Current.From || on == p.in.Current.From && (p.in.Current.Parked || c.At.After(p.in.Current.Set))
		if stood && slices.ContainsFunc(p.legs, s.Touches) {
			out = append(out, s)
		}
	}
	return out
}

func (p plain) cleared() (grave, short bool) {
	for _, s := range p.through() {
		if _, on := s.Closed(); !s.Mistake() {
			short = true
			grave = grave || s.Grave() || on.Sub(s.On) >= 14
		}
	}
	return grave, short
}

func (p plain) mistaken() bool {
	stops := p.through()
	for i := len(p.in.Moves) - 1; i >= 0; i-- {
		if m := p.in.Moves[i]; m.Verdict == Park && (m.Side == "" || m.Side == body.Both || p.side == body.Both || m.Side == p.side) {
			if m.Rule != "adjust.warning-sign" {
				return false
			}
			break
		}
	}
	for _, s := range stops {
		for _, m := range p.mine {
			if m.on >= s.On && m.pain > 2 {
				return false
			}
		}
		if !s.Mistake() {
			return false
		}
	}
	return len(stops) > 0
}

// returns: seven quiet days with five whole mornings, and something of the rail that may be done again.
func (p plain) returns() bool {
	grave, _ := p.cleared()
	lower := gather(&p.in).returned(p.in.Current)
	if p.in.Current.WaitsForTest() || grave || lower.Parked {
		return false
	}
	if p.mistaken() {
		return true
	}
	whole := 0
	for i := range 7 {
		if p.answered(p.in.Today.Add(-i)) {
			whole++
		}
	}
	for _, m := range p.mine {
		if p.ago(m.on) < 7 && m.over > 0 {
			return false
		}
	}
	return p.ago(p.in.Current.From) >= 7 && whole >= 5
}

// earns is what two sessions have earned when no rule speaks against it.
func (p plain) earns() Verdict {
	days := p.trained
	if len(days) < 2 {
		return Hold
	}
	settled, waits := p.settled(), false
	quiet := p.go_()
	if p.x.Class == catalog.Releasing {
		quiet = 4
		if p.in.Profile.Approaches["pressure"] == "bearable" {
			quiet = 7
		}
	}
	// Today's session, whole, clean and quiet, cannot have its morning yet: the two before it speak.
	if d := days[0]; len(days) > 2 && d.on == p.in.Today && (!d.noEffort || p.fatigue()) && !d.waits && p.complete(d) && !d.cramp &&
		!d.faults && (d.pain <= quiet || settled) && (d.rpe <= 8 || p.fatigue()) && !(d.effort && d.share < 100) {
		days = days[1:]
	}
	for _, d := range days[:2] {
		over, any, answered := p.after(d.on)
		if d.effort && d.share < 100 || !p.complete(d) || d.cramp || d.faults || !p.fatigue() && d.rpe > 8 || d.pain > quiet && !settled ||
			any && over > 0 {
			return Hold
		}
		waits = waits || d.noEffort && !p.fatigue() || d.waits || !answered
	}
	if waits {
		return Pending
	}
	stands := p.in.House.Int("adjust.days." + string(p.x.Class))
	if p.in.Current.Cause == CauseCramp {
		stands = 7
	} else if len(p.x.StageDays) > 0 {
		for i, d := range p.x.Ladder {
			if d.Sets == p.in.Current.Dose.Sets && d.Reps == p.in.Current.Dose.Reps {
				stands = p.x.StageDays[i]
				break
			}
		}
	}
	if p.ago(p.in.Current.From) < stands {
		return Hold
	}
	return Up
}

// news: something was said that nobody has decided on, or a verdict protects or wants the coach; clean: nothing of it
// hurts more than what goes back, and none is a correction of the runner's own.
func (p plain) news(got Proposal) (news, clean bool) {
	clean = true
	for _, l := range p.undecided() {
		news = true
		if l.Pain > p.back() || len(l.Was) > 0 && l.Source != "coach" {
			clean = false
		}
	}
	for _, m := range p.mine {
		bad := m.over >= 2 || m.pain >= 7
		if p.open(m) && (bad || m.over >= 1 && p.takes(m.region)) {
			news, clean = true, clean && m.pain <= p.back()
		}
	}
	switch got.Verdict {
	case Return:
		news = true
	case Back, Park:
		news = news || !p.in.Current.Parked
	case Up:
		for _, d := range p.trained[:2] {
			news = news || d.untold
		}
	}
	return news, clean
}

// together: where both legs work at once, in one state, both rows go by the more protective of the two.
func together(t *testing.T, ins []Input) {
	for i, p := range ProposeAll(ins) {
		k := slices.IndexFunc(ins, func(o Input) bool {
			return o.Current.Rail == p.Rail && o.Current.Side != p.Side && o.Current.Exercise == p.From.Exercise && o.Current.Parked == p.From.Parked
		})
		x, _ := ins[i].Rail.Exercise(p.From.Exercise)
		mine, _ := propose(&ins[i])
		if k < 0 || x.Trains != body.BothLegs {
			if enters := mine.Verdict == Up || mine.Verdict == Return; !enters {
				assert.Equal(t, [2]any{mine.Verdict, mine.To}, [2]any{p.Verdict, p.To})
			}
			continue
		}
		other, _ := propose(&ins[k])
		want := mine
		if protective[other.Verdict] > protective[mine.Verdict] || other.Verdict == mine.Verdict && ins[i].gentler(other.To, mine.To) < 0 {
			want = other
			want.To.Side = p.Side
			if want.To.ID = ""; other.Verdict == Hold || other.Verdict == Pending {
				want.To = p.From
			}
		}
		if p.Fired[0].Reason.Rule == "adjust.both-legs" {
			continue
		}
		assert.Equal(t, want.Verdict, p.Verdict)
		assert.Equal(t, want.Steps, p.Steps)
		assert.Equal(t, want.To, p.To)
		assert.Equal(t, [2]bool{mine.News || other.News, mine.Clean && other.Clean}, [2]bool{p.News, p.Clean})
	}
}

// The rules and the table stated plainly agree on every row of drawn lives: on what each rule asks, and on the
// verdict.
func TestTheTableStatedPlainly(t *testing.T) {
	t.Parallel()
	bad := 0
	for n := range *plainLives {
		l := drawLife(rand.New(rand.NewPCG(*seed+uint64(n), 11)))
		r := rand.New(rand.NewPCG(*seed+uint64(n), 12))
		for range r.IntN(4) {
			l.logs = slices.Clone(l.logs)
			l.worsen(r)
		}
		l.mornings = slices.Clone(l.mornings)
		for range r.IntN(6) { // a second report of a morning
			m := l.mornings[len(l.mornings)-1-r.IntN(40)]
			m.Pain, m.Seq = r.IntN(8), m.Seq+1
			l.mornings = append(l.mornings, m)
		}
		for i := range l.moves { // some holds needed no coach
			l.moves[i].Alone = l.moves[i].Verdict == Hold && r.IntN(2) == 0
		}
		for i := range l.rows {
			if c := r.IntN(8); c < 2 && !l.rows[i].Parked {
				l.rows[i].Cause = []string{CauseCramp, catalog.CausePlaced}[c]
			}
		}
		usual := build.NewUsuals(l.profile, l.mornings, nil)
		ins := l.inputs(&usual, today)
		together(t, ins)
		for _, in := range ins {
			got, _ := propose(&in)
			p := plainly(in)
			want := p.rules()
			if earned := p.earns(); !in.Current.Parked && (earned != Hold || len(want) == 0) {
				steps := 0
				if earned == Up {
					steps = 1
				}
				want["adjust.two-clean"] = fmt.Sprintf("%s %d", earned, steps)
			}
			said := map[string]string{}
			for _, f := range got.Fired {
				v := f.Verdict
				if strings.HasPrefix(f.Reason.Says, "top of the rail") {
					v = Up
				}
				if f.Reason.Rule != "adjust.parked" {
					said[f.Reason.Rule] = fmt.Sprintf("%s %d", v, f.Steps)
				}
			}
			if bad++; assert.Equal(t, want, said, "seed %d, %s %s, %s", n, in.Current.Rail, in.Current.Side, in.Current.Text()) {
				bad--
			}
			verdict := Up
			for _, v := range []Verdict{Return, Pending, Hold, Back, Park} {
				for _, asks := range want {
					if strings.HasPrefix(asks, string(v)+" ") {
						verdict = v
					}
				}
			}
			switch {
			case in.Current.Parked && len(want) == 0, verdict == Back && got.To.Parked:
				verdict = Park
			case verdict == Up && got.To == got.From:
				verdict = Hold
			}
			assert.Equal(t, verdict, got.Verdict)
			news, clean := p.news(got)
			assert.Equal(t, [2]bool{news, clean}, [2]bool{got.News, got.Clean}, "news and clean, seed %d, %s %s", n, in.Current.Rail,
				in.Current.Side)
			if bad > 3 || t.Failed() {
				return
			}
		}
	}
}
