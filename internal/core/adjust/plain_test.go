package adjust

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
)

// rules gives, for every rule that speaks, what it asks.
func (p plain) rules() map[string]string {
	out := map[string]string{}
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

	p.sayRising(say)

	p.sayPain(say)

	p.sayMornings(say)

	p.sayBrake(say)

	p.sayDone(out, say)
	p.missed(say)

	p.sayRunning(say)
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

// sayRunning: volume, the next beat, the way back.
func (p plain) sayRunning(say func(rule string, v Verdict, steps int)) {
	then, _ := p.in.Rail.Exercise(p.next.Exercise)
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
	p.sayDial(then, say)
	if back != nil && p.x.Level >= 3 {
		for _, m := range p.in.Others {
			if m.Verdict == Up && p.ago(m.On) >= 0 && p.ago(m.On) < 7 {
				say("returning", Hold, 0)
			}
		}
	}
}

// sayDial: one thing leads a week. Where another than strength does, one rail of one-leg heel work, load or bouncing moves up in it;
// the beat only where its own dial leads; no bouncing in an easy week.
func (p plain) sayDial(then catalog.Exercise, say func(rule string, v Verdict, steps int)) {
	lead := p.in.Lead
	if then.ID == "" {
		then = p.x
	}
	bounces := then.Impact == body.Supported || then.Impact == body.FreeHops
	if lead.Dial == "" {
		return
	}
	if lead.Easy && bounces || lead.Dial != "barefoot" && slices.ContainsFunc(p.in.Rail.Exercises, func(x catalog.Exercise) bool {
		return x.Grade == catalog.BySpm
	}) {
		say("dial", Hold, 0)
		return
	}
	monday := p.in.Today.Add(-p.in.Today.Weekday())
	for _, m := range p.in.Others {
		if lead.Dial != "strength" && (then.Level >= 3 || bounces) && m.Heavy && m.Verdict == Up && m.On >= monday && m.On <= p.in.Today {
			say("dial", Hold, 0)
		}
	}
}

// sayDone: what was done, and how.
func (p plain) sayDone(out map[string]string, say func(rule string, v Verdict, steps int)) {
	_, rpes, faults := p.recent()
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
}

// sayBrake: the places, and the rails moved back this week.
func (p plain) sayBrake(say func(rule string, v Verdict, steps int)) {
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
}

// sayMornings: single mornings.
func (p plain) sayMornings(say func(rule string, v Verdict, steps int)) {
	_, answeredOver, answered := p.answeredBack()
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
}

// sayPain: pain, or discomfort where tissue is released.
func (p plain) sayPain(say func(rule string, v Verdict, steps int)) {
	worst := -1
	for _, l := range p.undecided() {
		worst = max(worst, l.Pain)
	}
	releases := p.x.Class == catalog.Releasing
	pains, _, _ := p.recent()
	answeredPain, _, answered := p.answeredBack()
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
}

// sayRising: reports running at one place.
func (p plain) sayRising(say func(rule string, v Verdict, steps int)) {
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
		if protective[other.Verdict] > protective[mine.Verdict] || other.Verdict == mine.Verdict && ins[i].Gentler(other.To, mine.To) < 0 {
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
		for i := range l.moves { // some holds needed no coach, some moves were returns
			l.moves[i].Alone = l.moves[i].Verdict == Hold && r.IntN(2) == 0
			if m := &l.moves[i]; r.IntN(6) == 0 {
				m.Verdict, m.Steps, m.Rule, m.Alone = Return, 0, "adjust.return", false
			}
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
			agrees(t, in, n)
			if t.Failed() {
				return
			}
		}
	}
}

// agrees compares what a row of a life is proposed with the table stated plainly.
func agrees(t *testing.T, in Input, n int) {
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
	assert.Equal(t, want, said, "seed %d, %s %s, %s", n, in.Current.Rail, in.Current.Side, in.Current.Text())
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
}
