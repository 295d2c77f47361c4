package barefoot

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
)

// rules are what protects; each says where it leaves the runner.
var rules = []func(*facts) (Fired, bool){barred, gated, cleared, hurt, badMorning, rising, again, volume, sore, skin, missed}

// barred: a sign, a caution, a pause or a sore place leaves less for now. The place is kept.
func barred(f *facts) (Fired, bool) {
	if f.at.Stage <= f.Allowed {
		return Fired{}, false
	}
	r := f.House.Because("barefoot.allowed", fmt.Sprintf("%s for now: %s", upTo(f.Allowed), f.Why))
	if f.Opens != "" {
		r = r.See("opens", "%s", f.Opens)
	}
	return Fired{Verdict: Hold, To: f.at.within(f.Allowed), Keeps: true, Reason: r}, true
}

// gated: a test of the gate says less than the stage asks for.
func gated(f *facts) (Fired, bool) {
	if f.at.Stage <= f.Gate.Tested {
		return Fired{}, false
	}
	r := f.House.Because("barefoot.gate", "the gate leaves "+StageName(f.Gate.Tested))
	for _, x := range f.Gate.Rows {
		if x.Cap != f.Gate.Tested || !slices.Contains(Tests, x.Item) {
			continue
		}
		r.Saw = append(r.Saw, x.Why.Saw...)
		r.Says += fmt.Sprintf("; %s, %s", itemName(x.Item), x.Leg)
	}
	return Fired{Verdict: Back, To: f.at.within(f.Gate.Tested), Reason: r}, true
}

func itemName(id string) string {
	for _, it := range Items {
		if it.ID == id {
			return it.Name
		}
	}
	return id
}

// cleared: after a warning sign one stage lower; after a long one, or one of bone or tear, from the beginning.
func cleared(f *facts) (Fired, bool) {
	best, spoke := Fired{}, false
	for _, c := range f.Closed {
		if c.On < f.Plan.On || f.at.Stage == None || slices.ContainsFunc(f.Moves, func(m Move) bool { return slices.Contains(m.Signs, c.ID) }) {
			continue
		}
		to, says := At{}, "a long warning sign, or one of bone or tear, was cleared: from the beginning"
		if c.Days < f.House.Int("adjust.stop.retest") && !c.Bone {
			says = "a warning sign was cleared: one stage lower"
			if to = (At{Stage: max(Home, f.at.Stage-1)}); to.Stage >= RunWalk {
				to.Minutes = min(f.at.Minutes, f.first())
			}
		}
		if !spoke || to.Before(best.To) {
			best, spoke = Fired{Verdict: Back, To: lower(f.at, to), Reason: f.House.Because("barefoot.cleared", says, "adjust.stop.retest").
				SeeOn(c.On, "cleared", "after %d days", c.Days)}, true
		}
	}
	return best, spoke && best.To.Before(f.at)
}

// step is a report that goes back by itself.
type step struct {
	on    body.Date
	steps int
}

// HurtsAbove is the pain (0–10) of a go above which it goes back; strict where no pain is accepted while training.
func HurtsAbove(h house.Rules, strict bool) int {
	if strict {
		return min(2, h.Int("adjust.pain.back"))
	}
	return h.Int("adjust.pain.back")
}

// hurts are the goes that hurt enough to go back, nobody has decided on; the newest last.
func (f *facts) hurts() (out []step, worst *Log) {
	back, two := HurtsAbove(f.House, f.Strict), f.House.Int("adjust.pain.back2")
	for i := range f.Logs {
		l := &f.Logs[i]
		pain, told := l.Hurt()
		if l.Seq <= f.saw || !told || pain <= back || l.On > f.Today || l.On < f.Plan.On {
			continue
		}
		x := step{l.On, 1}
		if pain >= two {
			x.steps = 2
		}
		if w, _ := worstPain(worst); worst == nil || pain > w {
			worst = l
		}
		out = append(out, x)
	}
	return out, worst
}

func worstPain(l *Log) (int, bool) {
	if l == nil {
		return 0, false
	}
	return l.Hurt()
}

// bad are the mornings that go back by themselves, nobody has decided on, however late they were told.
func (f *facts) bad() (out []step, worst *Morning) {
	back, pause, two := f.House.Get("adjust.morning.back"), f.House.Get("adjust.morning.pause"), f.House.Int("adjust.pain.back2")
	for i := range f.Mornings {
		m := &f.Mornings[i]
		if m.Seq <= f.saw || m.On > f.Today || m.On < f.Plan.On || m.Over < back && m.Pain < two {
			continue
		}
		x := step{m.On, 1}
		if m.Over >= pause || m.Pain >= two {
			x.steps = 2
		}
		if worst == nil || m.Over > worst.Over {
			worst = m
		}
		out = append(out, x)
	}
	return out, worst
}

// down goes back for reports: once for all of them, two for a very bad one, one more for one that follows a go at the lowered dose.
// Two again within two weeks rests.
func (f *facts) down(bad []step, r body.Reason) Fired {
	steps := 0
	for i, x := range bad {
		steps = max(steps, x.steps)
		if i > 0 && slices.ContainsFunc(f.Logs, func(l Log) bool { return l.On > bad[0].on && l.On <= x.on }) {
			steps = max(steps, 2)
		}
	}
	to, v := f.back(f.at, steps), Back
	if steps == 2 {
		for _, m := range f.Moves {
			if m.Two && f.Today.Sub(m.On) < f.House.Int("adjust.again.days") {
				to = Resting
				r.Says += "; a second time within two weeks, so it rests"
			}
		}
	}
	if to.Stage == None {
		v = Rest
	}
	return Fired{Verdict: v, To: to, Reason: r, two: steps == 2}
}

func hurt(f *facts) (Fired, bool) {
	bad, worst := f.hurts()
	if len(bad) == 0 {
		return Fired{}, false
	}
	pain, _ := worst.Hurt()
	says := fmt.Sprintf("pain of %d while doing it: back", pain)
	return f.down(bad, f.House.Because("barefoot.pain", says, "adjust.pain.back", "adjust.pain.back2").
		SeeOn(worst.On, "pain while doing it", "%d of 10", pain)), true
}

func badMorning(f *facts) (Fired, bool) {
	bad, worst := f.bad()
	if len(bad) == 0 {
		return Fired{}, false
	}
	return f.down(bad, f.House.Because("barefoot.morning", "a morning well above usual: back a week", "adjust.morning.back",
		"adjust.morning.pause").SeeOn(worst.On, worst.Where, "%d of 10, %+g over usual", worst.Pain, worst.Over)), true
}

// rising: three mornings running, each further above usual, go back two; four running above usual one.
func rising(f *facts) (Fired, bool) {
	ms := slices.DeleteFunc(slices.Clone(f.Mornings), func(m Morning) bool { return m.On < f.since.Add(-3) || m.On > f.Today })
	running := func(n, last int) bool {
		for i := last - n + 2; i <= last; i++ {
			if ms[i].On.Sub(ms[i-1].On) > 2 {
				return false
			}
		}
		return ms[last].Seq > f.saw && ms[last].Pain >= 3
	}
	best, spoke := Fired{}, false
	for i := 2; i < len(ms); i++ {
		switch {
		case ms[i-2].Over >= 0 && ms[i-1].Over >= 1 && ms[i].Over >= 2 && running(3, i):
			return f.down([]step{{ms[i].On, 2}}, f.House.Because("barefoot.rising", "three mornings running, each further above usual: back two").
				SeeOn(ms[i].On, ms[i].Where, "%d of 10, %+g over usual", ms[i].Pain, ms[i].Over)), true
		case i > 2 && ms[i-3].Over >= 1 && ms[i-2].Over >= 1 && ms[i-1].Over >= 1 && ms[i].Over >= 1 && running(4, i):
			best, spoke = f.down([]step{{ms[i].On, 1}}, f.House.Because("barefoot.rising", "four mornings running above usual: back a week").
				SeeOn(ms[i].On, ms[i].Where, "%d of 10, %+g over usual", ms[i].Pain, ms[i].Over)), true
		}
	}
	return best, spoke
}

// again: a bad go and a bad morning after a further go are two, each from the result of the one before.
func again(f *facts) (Fired, bool) {
	hurts, _ := f.hurts()
	bad, _ := f.bad()
	if len(hurts) == 0 || len(bad) == 0 {
		return Fired{}, false
	}
	all := slices.Concat(hurts, bad)
	slices.SortStableFunc(all, func(a, b step) int { return a.on.Sub(b.on) })
	x := f.down(all, f.House.Because("barefoot.again", "a go that hurt and a bad morning"))
	return x, x.two
}

// volume: running volume is high and it hurt a little: back one.
func volume(f *facts) (Fired, bool) {
	if f.Volume != load.High {
		return Fired{}, false
	}
	for _, l := range f.Logs {
		if pain, told := l.Hurt(); told && pain > f.House.Int("adjust.pain.go") && l.Seq > f.saw && l.On <= f.Today && f.Today.Sub(l.On) < 7 {
			return f.down([]step{{l.On, 1}}, f.House.Because("barefoot.volume", "running volume is high and it hurt: back a week",
				"adjust.pain.go").SeeOn(l.On, "pain while doing it", "%d of 10", pain)), true
		}
	}
	return Fired{}, false
}

// sore: calf or sole sore for more than 48 hours repeats the week.
func sore(f *facts) (Fired, bool) {
	m := f.soreIn(f.Today.Add(-6), f.Today)
	if m == nil {
		return Fired{}, false
	}
	return Fired{Verdict: Hold, To: f.at, Reason: f.House.Because("barefoot.sore",
		"calf or sole sore for more than 48 hours: the week is repeated", "barefoot.sore").SeeOn(m.On, "calf or sole", "%d of 10", m.Sore)}, true
}

// soreIn is the last of mornings at most two days apart, over two days and more, in which calf or sole was sore, with its end within
// some days.
func (f *facts) soreIn(from, to body.Date) (out *Morning) {
	var first, last body.Date
	for i := range f.Mornings {
		m := &f.Mornings[i]
		if m.On > to || m.On < f.since {
			continue
		}
		switch {
		case m.Sore <= f.House.Int("barefoot.sore"):
			first = ""
			continue
		case first == "" || m.On.Sub(last) > 2:
			first = m.On
		}
		if last = m.On; m.On >= from && m.On.Sub(first) >= 2 {
			out = m
		}
	}
	return out
}

// skin: red skin waits; broken skin is a warning sign of its own.
func skin(f *facts) (Fired, bool) {
	for i := len(f.Logs) - 1; i >= 0; i-- {
		l := f.Logs[i]
		if l.Skin == "" || l.On > f.Today {
			continue
		}
		if l.Skin == "fine" || f.Today.Sub(l.On) >= 7 {
			return Fired{}, false
		}
		return Fired{Verdict: Hold, To: f.at, Reason: f.House.Because("barefoot.skin", "the skin was "+l.Skin+": look again before the next go").
			SeeOn(l.On, "skin", "%s", l.Skin)}, true
	}
	return Fired{}, false
}

// missed: days without a go hold, then go back, then begin again.
func missed(f *facts) (Fired, bool) {
	last := f.since
	for _, l := range f.Logs {
		if l.On <= f.Today {
			last = max(last, l.On)
		}
	}
	days := f.Today.Sub(last)
	to, says, ok := f.after(f.at, days)
	if !ok {
		return Fired{}, false
	}
	v := Hold
	if to.Before(f.at) {
		v = Back
	}
	return Fired{Verdict: v, To: to, Reason: f.House.Because("barefoot.missed", says, "adjust.miss.hold", "adjust.miss.back",
		"adjust.miss.retest").SeeOn(last, "last go", "%d days ago", days)}, true
}

// after is where so many days without a go leave a place; ok is false where they say nothing.
func (g growth) after(a At, days int) (to At, says string, ok bool) {
	switch {
	case a.Stage == None || days < g.h.Int("adjust.miss.hold"):
		return a, "", false
	case days >= g.h.Int("adjust.miss.retest"):
		return lower(a, At{}), fmt.Sprintf("%d days without: test again, and from the beginning", days), true
	case days >= g.h.Int("adjust.miss.back"):
		to = g.back(a, days/7-1)
		if to.Stage == None {
			to = At{}
		}
		return lower(a, to), fmt.Sprintf("%d days without: back %d", days, days/7-1), true
	}
	return a, fmt.Sprintf("%d days without: hold", days), true
}

// quietWeeks counts the last weeks running, up to so many, that were quiet and done as planned since the last move; tell hears what
// is missing of the first that was not.
func (f *facts) quietWeeks(need int, tell func(body.Reason)) int {
	for k := range need {
		to := f.Today.Add(-7 * k)
		if missing, quiet := f.quiet(to.Add(-6), to); !quiet {
			if tell != nil {
				if need > 1 {
					missing.Says += fmt.Sprintf(" (%d of %d quiet weeks)", k, need)
				}
				tell(missing)
			}
			return k
		}
	}
	return need
}

// quiet reports whether seven days were quiet: five mornings answered, none two or more above usual, no pain to speak of, no lasting
// soreness; and done as planned, not more.
func (f *facts) quiet(from, to body.Date) (missing body.Reason, quiet bool) {
	h := f.House
	if from <= f.since {
		return h.Because("barefoot.quiet", fmt.Sprintf("a week at this dose first: from %s", f.since.Add(7).Short())).
			SeeOn(f.since, "since", "%d days", to.Sub(f.since)), false
	}
	n := 0
	for _, m := range f.Mornings {
		if m.On < from || m.On > to {
			continue
		}
		if m.All {
			n++
		}
		if m.Over >= h.Get("adjust.morning.back") {
			return h.Because("barefoot.quiet", "a morning well above usual: the week was not quiet", "adjust.morning.back").
				SeeOn(m.On, m.Where, "%+g", m.Over), false
		}
	}
	if n < h.Int("adjust.return.mornings") {
		return h.Because("barefoot.quiet", fmt.Sprintf("%d of %d mornings answered in seven days", n, h.Int("adjust.return.mornings")),
			"adjust.return.mornings"), false
	}
	if m := f.soreIn(from, to); m != nil {
		return h.Because("barefoot.sore", "calf or sole was sore for more than 48 hours", "barefoot.sore").SeeOn(m.On, "calf or sole",
			"%d of 10", m.Sore), false
	}
	return f.done(from, to)
}

// done reports whether the goes of seven days were what was asked for: no pain, no less and not much more.
func (f *facts) done(from, to body.Date) (missing body.Reason, done bool) {
	h, d := f.House, f.at.Dose()
	most := h.Int("adjust.pain.go")
	if f.Strict {
		most = 0
	}
	w := week{}
	for _, l := range f.Logs {
		if l.On < from || l.On > to {
			continue
		}
		pain, told := l.Hurt()
		switch {
		case told && pain > most:
			return h.Because("barefoot.pain", "it hurt: the week was not quiet", "adjust.pain.go").SeeOn(l.On, "pain", "%d of 10", pain), false
		case l.Stage > f.at.Stage && !(f.at.Stage >= RunWalk && l.Stage >= RunWalk):
			return h.Because("barefoot.beyond", "a go beyond the stage: the week does not count").SeeOn(l.On, "was", "%s",
				StageName(l.Stage)), false
		case l.fills(f.at):
			w = w.with(l, f.at, told)
		}
	}
	if f.at.Stage == None {
		return body.Reason{}, true
	}
	if f.at.Stage >= RunWalk {
		if w.all > 1.25*float64(d.Minutes)+1 {
			return h.Because("barefoot.more", fmt.Sprintf("%g min, %d were planned: the week does not count", w.all, d.Minutes)), false
		}
		return h.Because("barefoot.done", fmt.Sprintf("%g of %d min done in seven days, with the pain told", w.told, d.Minutes)),
			w.told >= float64(d.Minutes)
	}
	n, need := 0, h.Int("barefoot.sessions")
	if f.at.Stage <= Walking {
		need = h.Int("barefoot.days")
	}
	for _, x := range w.days {
		if dose := float64(d.Minutes*d.Times + d.Contacts); dose > 0 && x.all > 1.5*dose {
			return h.Because("barefoot.more", "more than half as much again: the week does not count").SeeOn(x.on, "was", "%g of %g", x.all,
				dose), false
		} else if x.n > 0 && x.told >= dose {
			n++
		}
	}
	return h.Because("barefoot.done", fmt.Sprintf("done on %d of %d days in seven, with the pain told", n, need), "barefoot.days",
		"barefoot.sessions"), n >= need
}

// week is what was done in seven days: in all, and with the pain told, which alone counts towards a move.
type week struct {
	all, told float64 // minutes of running
	days      []dayDone
}

type dayDone struct {
	on        body.Date
	all, told float64 // minutes, or contacts
	n         int     // goes with the pain told
}

func (w week) with(l Log, a At, told bool) week {
	i := slices.IndexFunc(w.days, func(x dayDone) bool { return x.on == l.On })
	if i < 0 {
		i, w.days = len(w.days), append(w.days, dayDone{on: l.On})
	}
	amount := l.Minutes
	if a.Stage == Bouncing || a.Stage == Strength {
		amount = float64(l.Contacts)
	}
	w.all, w.days[i].all = w.all+amount, w.days[i].all+amount
	if told {
		w.told, w.days[i].told, w.days[i].n = w.told+amount, w.days[i].told+amount, w.days[i].n+1
	}
	return w
}
