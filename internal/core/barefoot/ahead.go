package barefoot

import (
	"fmt"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
)

// Milestone is a place and the earliest day it can be reached.
type Milestone struct {
	On      body.Date `json:"on"`
	At      At        `json:"at"`
	Words   string    `json:"words"`
	Weekly  int       `json:"weekly" doc:"minutes of running a week by then"`
	Percent float64   `json:"percent" doc:"share of it, from run–walk on"`
}

// Ahead is the transition as it would go if every week from now on is quiet, and the barefoot dial leads whenever running does not.
type Ahead struct {
	Steps []Milestone  `json:"steps" doc:"in order; the first is today's place"`
	Stops *body.Reason `json:"stops,omitempty" doc:"what ends the way before the agreed share"`
	Done  body.Date    `json:"done,omitempty" doc:"day the end is reached"`
	Wish  *Wish        `json:"wish,omitempty"`
}

// Wish is what can be had by the day the runner wishes for.
type Wish struct {
	On      body.Date   `json:"on"`
	Reached bool        `json:"reached" doc:"running on bare feet, or in the next shoe, by then"`
	Why     body.Reason `json:"why"`
	Instead []string    `json:"instead" doc:"what could be instead"`
}

// longest is how many steps ahead are reckoned.
const longest = 120

// Ahead gives the earliest day of each step. lost are weeks in which nothing is done from today on.
func (r Records) Ahead(lost int) Ahead {
	f, s := r.look(), r.State()
	at, since := s.At, s.Since
	if s.Verdict == Back || s.Verdict == Rest {
		at, since = s.To, r.Today
	}
	from := r.Today
	if lost > 0 {
		from = r.Today.Add(7 * lost)
		at, since = f.lost(at, 7*lost), from
	}
	out := Ahead{Steps: []Milestone{f.milestone(r.Today, at)}}
	for range longest {
		g := growth{r.Plan, Weekly(r.Weeks, max(from, since)), r.House}
		if next, ok := g.next(at); ok && at.Stage != None && next.Stage > min(r.Gate.Cap, r.Allowed) {
			why := r.ends(next)
			out.Stops = &why
			break
		} else if !ok && at.Stage == Bouncing && at.Stage < r.Plan.Last() {
			why := r.House.Because("barefoot.weekly", "run–walk needs the minutes of running a week")
			out.Stops = &why
			break
		}
		on, ok := r.earliest(f, at, since, from, len(out.Steps) == 1 && lost == 0 && since == s.Since)
		if !ok {
			why := r.House.Because("barefoot.dial", "running leads every week that is planned")
			out.Stops = &why
			break
		}
		g.weekly = Weekly(r.Weeks, on)
		next, more := g.next(at)
		if !more {
			out.Done = out.Steps[len(out.Steps)-1].On
			break
		}
		at, since, from = next, on, on
		out.Steps = append(out.Steps, f.milestone(on, at))
	}
	out.Wish = r.wish(out)
	return out
}

// lost is where so many days without a go leave a place: counted from the last go.
func (f *facts) lost(at At, days int) At {
	last := f.since
	for _, l := range f.Logs {
		last = max(last, l.On)
	}
	to, _, _ := f.after(at, days+f.Today.Sub(max(last, f.since)))
	return to
}

func (f *facts) milestone(on body.Date, at At) Milestone {
	m := Milestone{On: on, At: at, Words: at.Dose().Words, Weekly: Weekly(f.Weeks, on)}
	if at.Stage >= RunWalk && m.Weekly > 0 {
		m.Percent = float64(at.Minutes) * 100 / float64(m.Weekly)
	}
	return m
}

// earliest is the first day from which a place may be left: after its quiet weeks, in a week that the barefoot dial leads. going says
// that the place is today's, with what was told of it.
func (r Records) earliest(f *facts, at At, since, from body.Date, going bool) (body.Date, bool) {
	need := max(1, at.Dose().Quiet)
	on := max(from, since.Add(7*need))
	if going {
		for ; on <= r.Today.Add(7*need); on = on.Add(1) {
			if f.mayBeQuiet(on, need) {
				break
			}
		}
		if m := f.latest(); on == r.Today && m != nil && m.On == on && m.Over >= 1 {
			on = on.Add(1)
		}
	}
	for range 60 {
		switch until := r.race(on); {
		case until != "":
			on = until.Add(1)
		case at.Stage == None, leads(r.Weeks, on):
			return on, true
		default:
			on = on.Monday().Add(7)
		}
	}
	return on, false
}

// leads reports whether the barefoot dial leads the week of a day; of weeks not planned the last planned says it.
func leads(weeks []load.Week, on body.Date) bool {
	if len(weeks) > 0 && weeks[len(weeks)-1].From < on.Monday() {
		return weeks[len(weeks)-1].Lead == load.Barefoot
	}
	return load.LeadOn(weeks, on).Dial == load.Barefoot
}

// mayBeQuiet reports whether the weeks up to a day ahead can still be quiet, with what was told of those days already.
func (f *facts) mayBeQuiet(on body.Date, need int) bool {
	h := f.House
	for k := range need {
		to := on.Add(-7 * k)
		from := to.Add(-6)
		if from > f.Today {
			continue
		}
		if from <= f.since || f.soreIn(from, min(to, f.Today)) != nil {
			return false
		}
		unanswered, undone := 0, 0
		for d := from; d <= min(to, f.Today); d = d.Add(1) {
			all, did, told, ok := f.day(d)
			if !ok {
				return false
			}
			if !all && (d < f.Today || told) {
				unanswered++
			}
			if !did && d < f.Today {
				undone++
			}
		}
		if 7-unanswered < h.Int("adjust.return.mornings") || f.at.Stage <= Walking && f.at.Stage != None && 7-undone < h.Int("barefoot.days") ||
			(to < f.Today || to == f.Today && f.at.Stage > Walking) && !second(f.quiet(from, to)) {
			return false
		}
	}
	return true
}

func second(_ body.Reason, ok bool) bool { return ok }

// day is what one day told: every place answered in the morning, the dose done, anything in the morning; ok is false where it was not
// quiet.
func (f *facts) day(on body.Date) (all, did, told, ok bool) {
	most := f.House.Int("adjust.pain.go")
	if f.Strict {
		most = 0
	}
	for _, m := range f.Mornings {
		if m.On == on {
			all, told = m.All, true
			if m.Over >= f.House.Get("adjust.morning.back") {
				return all, did, told, false
			}
		}
	}
	for _, l := range f.Logs {
		if l.On != on {
			continue
		}
		if pain, _ := l.Hurt(); pain > most || l.Stage > f.at.Stage && f.at.Stage < RunWalk {
			return all, did, told, false
		} else if l.Pain != "" && l.fills(f.at) {
			did = true
		}
	}
	return all, did, told, true
}

// ends says what keeps a place from being reached.
func (r Records) ends(next At) body.Reason {
	if next.Stage > r.Gate.Cap {
		out := r.House.Because("barefoot.gate", "until the gate opens "+StageName(next.Stage))
		for _, x := range r.Gate.Decides {
			out.Says += fmt.Sprintf("; %s, %s", itemName(x.Item), x.Leg)
			out.Saw = append(out.Saw, x.Why.Saw...)
		}
		if len(r.Gate.Decides) == 0 {
			out.Says = "indoors only: strength is the last stage"
		}
		return out
	}
	return r.House.Because("barefoot.allowed", "not now: "+r.Why).See("opens", "%s", r.Opens)
}

// wish says whether the day the runner wishes for can be met, and what could be instead.
func (r Records) wish(a Ahead) *Wish {
	if r.Plan.Wish == "" {
		return nil
	}
	out := &Wish{On: r.Plan.Wish, Instead: []string{}}
	by, first := a.Steps[0], body.Date("")
	for _, m := range a.Steps {
		if m.On <= r.Plan.Wish {
			by = m
		}
		if m.At.Stage >= RunWalk && first == "" {
			first = m.On
		}
	}
	if out.Reached = by.At.Stage >= RunWalk; out.Reached {
		out.Why = r.House.Because("barefoot.wish", fmt.Sprintf("by %s: %s", r.Plan.Wish.Short(), by.Words))
		out.Instead = append(out.Instead, fmt.Sprintf("No more than %d min of it bare on the day, in parts; the rest in the usual shoes.",
			max(1, by.At.Minutes/2)))
		return out
	}
	if first != "" {
		out.Why = r.House.Because("barefoot.wish", fmt.Sprintf("cannot be reached: running on bare feet begins on %s at the earliest, if every "+
			"week is quiet; by %s: %s", first.Short(), r.Plan.Wish.Short(), by.Words))
		out.Instead = append(out.Instead, "A day from "+first.Short()+" on.")
	} else {
		out.Why = r.House.Because("barefoot.wish", fmt.Sprintf("cannot be reached as things stand; by %s: %s", r.Plan.Wish.Short(), by.Words))
		if a.Stops != nil {
			out.Why.Says += "; " + a.Stops.Says
		}
	}
	if by.At.Stage >= Walking {
		out.Instead = append(out.Instead, "Walk the stretch, up to ten minutes, and run the rest in the usual shoes.")
	}
	out.Instead = append(out.Instead, "Run it in the usual shoes, and take bare feet as a goal for later.")
	return out
}
