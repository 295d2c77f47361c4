package barefoot

import (
	"fmt"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
)

// Verdict is what the records ask for.
type Verdict string

// The verdicts. Up and Return wait for the coach; Hold and Back hold from the moment their report arrives.
const (
	Up     Verdict = "up"
	Hold   Verdict = "hold"
	Back   Verdict = "back"
	Rest   Verdict = "rest"
	Return Verdict = "return"
	End    Verdict = "reached" // the end of the plan: kept
)

// Verdicts lists them.
var Verdicts = []Verdict{Up, Hold, Back, Rest, Return, End}

// Move is one decision of the coach; the last one says where the runner stands.
type Move struct {
	ID      string        `json:"id"`
	On      body.Date     `json:"on"`
	Verdict Verdict       `json:"verdict"`
	From    At            `json:"from"`
	To      At            `json:"to"`
	Saw     int64         `json:"saw" doc:"newest report it saw"`
	Two     bool          `json:"two,omitempty" doc:"went back two"`
	Signs   []string      `json:"signs,omitempty" doc:"cleared warning signs it was decided with"`
	Word    string        `json:"word,omitempty"`
	Reasons []body.Reason `json:"reasons"`
	By      string        `json:"by,omitempty"`
}

// Closed is a warning sign that barred bare work and was cleared.
type Closed struct {
	ID   string
	On   body.Date // cleared
	Days int       // it stood
	Bone bool      // bone, pop or tear, fracture or surgery
}

// Records is all that the transition is judged from.
type Records struct {
	Plan       Plan
	Moves      []Move    // oldest first
	Logs       []Log     // oldest first
	Mornings   []Morning // oldest first, a day each
	Weeks      []load.Week
	Gate       Gate
	Allowed    int    // highest stage that signs, cautions and soreness leave
	Why        string // what holds it back
	Opens      string
	Closed     []Closed
	Volume     load.State
	Lead       load.Lead
	No         []body.Reason // what else lets nothing move up: the brake
	Races      []load.Span   // days around goal races on which nothing moves up
	Rescreened body.Date     // newest day the gait was looked at on bare feet
	Strict     bool          // no pain is accepted while training
	Today      body.Date
	House      house.Rules
}

// Fired is one rule that spoke.
type Fired struct {
	Verdict Verdict     `json:"verdict"`
	To      At          `json:"to"`
	Keeps   bool        `json:"keeps,omitempty" doc:"only for now: the place is kept"`
	Reason  body.Reason `json:"reason"`
	two     bool
}

// State is where a runner stands, what the records ask for, and why.
type State struct {
	At       At            `json:"at" doc:"as last decided"`
	Since    body.Date     `json:"since"`
	Now      At            `json:"now" doc:"what holds today, after all that protects"`
	Dose     Dose          `json:"dose" doc:"of now"`
	Loads    int           `json:"loads" doc:"share of the usual load of strength on bare feet, %"`
	Verdict  Verdict       `json:"verdict" enum:"up,hold,back,rest,return,reached"`
	To       At            `json:"to" doc:"what the verdict asks for"`
	ToDose   Dose          `json:"toDose"`
	Fired    []Fired       `json:"fired"`
	Waits    []body.Reason `json:"waits" doc:"what a move up waits for"`
	Earned   *body.Reason  `json:"earned,omitempty" doc:"what a move up rests on"`
	Quiet    int           `json:"quiet" doc:"quiet weeks running, done as planned"`
	Needs    int           `json:"needs" doc:"quiet weeks it needs"`
	Rescreen bool          `json:"rescreen" doc:"sound, cadence and strike on bare feet are looked at again first"`
	Weekly   int           `json:"weekly" doc:"minutes of running a week, median of four"`
	Share    float64       `json:"share" doc:"of the running, %"`
	Saw      int64         `json:"saw" doc:"newest report it rests on"`
}

// facts are the records with what is asked of them often.
type facts struct {
	Records
	growth
	at    At
	since body.Date
	saw   int64
}

func (r Records) look() *facts {
	f := &facts{Records: r, growth: growth{r.Plan, Weekly(r.Weeks, r.Today), r.House}, at: r.Plan.Start, since: r.Plan.On, saw: -1}
	for _, m := range r.Moves {
		f.at, f.since, f.saw = m.To, m.On, max(f.saw, m.Saw)
	}
	return f
}

// State judges the records of a day. The most protective rule wins and all that spoke are told.
func (r Records) State() State {
	f := r.look()
	s := State{At: f.at, Since: f.since, Now: f.at, To: f.at, Verdict: Hold, Fired: []Fired{}, Waits: []body.Reason{}, Weekly: f.weekly,
		Loads: 100, Needs: f.at.Dose().Quiet}
	for _, rule := range rules {
		if x, ok := rule(f); ok {
			s.Fired = append(s.Fired, x)
			if s.Now = lower(s.Now, x.To); !x.Keeps {
				s.To = lower(s.To, x.To)
			}
		}
	}
	s.Saw = f.newest()
	if most := f.most(); f.weekly > 0 && s.Now.Stage == Share && s.Now.Minutes > most {
		s.Now.Minutes = most
	}
	s.Quiet = f.quietWeeks(max(s.Needs, 3), nil)
	switch {
	case s.To.Stage == None && s.At.Stage != None:
		s.Verdict = Rest
	case s.To.Before(s.At):
		s.Verdict = Back
	default:
		if f.up(&s); len(s.Fired) > 0 && s.Verdict != End {
			s.Verdict, s.To, s.Earned = Hold, s.At, nil
		}
	}
	s.Dose, s.ToDose = s.Now.Dose(), s.To.Dose()
	if s.Now.Stage >= Strength && s.Now.Stage != None {
		s.Loads = Loads(f.strengthSince(), f.Today, f.House)
	}
	if s.Now.Stage >= RunWalk && f.weekly > 0 {
		s.Share = float64(s.Now.Minutes) * 100 / float64(f.weekly)
	}
	return s
}

// up finds what a move up waits for; with nothing left it is proposed.
func (f *facts) up(s *State) {
	next, more := f.next(f.at)
	if !more {
		if f.at.Stage == Bouncing && f.weekly == 0 {
			s.Waits = append(s.Waits, f.House.Because("barefoot.weekly", "run–walk needs the minutes of running a week: enter the runs"))
			return
		}
		s.Verdict = End
		return
	}
	waits := func(rule, says string, keys ...string) {
		s.Waits = append(s.Waits, f.House.Because(rule, says, keys...))
	}
	if f.at.Stage == None {
		s.Needs = 1
		s.Verdict = Return
	} else {
		s.Verdict = Up
	}
	if next.Stage > f.Gate.Cap {
		for _, r := range f.Gate.Decides {
			r.Why.Says = fmt.Sprintf("the gate, %s: %s", r.Leg, r.Why.Says)
			s.Waits = append(s.Waits, r.Why)
		}
		if len(f.Gate.Decides) == 0 {
			waits("barefoot.indoors", "indoors only: strength is the last stage")
		}
	}
	if next.Stage > f.Allowed {
		waits("barefoot.allowed", "not now: "+f.Why)
	}
	if s.Rescreen = f.rescreen(next); s.Rescreen {
		s.Waits = append(s.Waits, f.lookAgain())
	}
	f.quietWeeks(s.Needs, func(r body.Reason) { s.Waits = append(s.Waits, r) })
	if f.at.Stage != None {
		switch {
		case f.Volume == load.High:
			waits("barefoot.volume", "running volume is high")
		case f.Volume == load.Unknown:
			waits("barefoot.volume", "running of the last seven days is not known")
		}
		if f.Lead.Dial != load.Barefoot {
			waits("barefoot.dial", fmt.Sprintf("%s leads this week; the barefoot dial waits", leadName(f.Lead)), "dial.wait")
		}
	}
	s.Waits = append(s.Waits, f.No...)
	if until := f.race(f.Today); until != "" {
		waits("barefoot.race", "a goal race is near or just past: nothing moves up until "+until.Short(), "race.taper", "race.after")
	}
	if m := f.latest(); m != nil && (m.Over >= 1 || m.Pain > f.House.Int("adjust.morning.never_up")) {
		s.Waits = append(s.Waits, f.House.Because("barefoot.morning", "the newest morning is above usual").SeeOn(m.On, m.Where,
			"%d of 10, %+g", m.Pain, m.Over))
	}
	if len(s.Waits) > 0 {
		s.Verdict = Hold
		return
	}
	s.To = next
	s.Earned = f.earned(*s)
}

// earned is what a move up rests on.
func (f *facts) earned(s State) *body.Reason {
	why := f.House.Because("barefoot.quiet", "the quiet weeks are there, done as planned", "adjust.return.mornings", "barefoot.days",
		"barefoot.sessions").SeeOn(f.since, "here since", "%d days", f.Today.Sub(f.since)).See("quiet weeks", "%d of %d",
		min(s.Quiet, s.Needs), s.Needs).See("gate, the worse foot", "%s", StageName(f.Gate.Cap))
	if f.at.Stage != None {
		why = why.SeeOn(f.Lead.From, "leads this week", "%s", leadName(f.Lead))
	}
	return &why
}

// lookAgain says that the gait on bare feet comes first, and when it was looked at.
func (f *facts) lookAgain() body.Reason {
	r := f.House.Because("barefoot.rescreen", "sound, cadence and strike on bare feet are looked at again first, by eye or on a clip",
		"barefoot.rescreen")
	if f.Rescreened == "" {
		r = r.See("looked at on bare feet", "not yet")
	} else {
		r = r.SeeOn(f.Rescreened, "looked at on bare feet", "%d days ago", f.Today.Sub(f.Rescreened))
	}
	return r
}

// race is the last day of the days around a goal race that a day lies in; empty for none.
func (r Records) race(on body.Date) body.Date {
	for _, x := range r.Races {
		if x.Holds(on) {
			return x.Until
		}
	}
	return ""
}

func leadName(l load.Lead) string {
	if l.Dial == "" {
		return "nobody"
	}
	return l.Dial.Name()
}

// rescreen reports whether the gait has to be looked at on bare feet before the next place: on leaving the bounces, and before the
// share begins to grow; since that stage began, or within some weeks.
func (f *facts) rescreen(next At) bool {
	if next.Stage <= f.at.Stage || next.Stage < RunWalk || f.Plan.Aim == StrengthOnly {
		return false
	}
	return f.Rescreened == "" || f.Rescreened < f.entered(f.at.Stage) && f.Today.Sub(f.Rescreened) > f.House.Int("barefoot.rescreen")
}

// entered is the day the present stay in a stage began.
func (f *facts) entered(stage int) body.Date {
	on, here := f.Plan.On, f.Plan.Start.Stage
	for _, m := range f.Moves {
		if m.To.Stage != here {
			on, here = m.On, m.To.Stage
		}
	}
	if here != stage {
		return f.since
	}
	return on
}

// strengthSince is the day strength on bare feet began, or began again.
func (f *facts) strengthSince() body.Date {
	on, was := f.Plan.On, f.Plan.Start.Stage >= Strength
	for _, m := range f.Moves {
		if is := m.To.Stage >= Strength; is != was {
			on, was = m.On, is
		}
	}
	return on
}

// newest is the number of the newest report it rests on.
func (f *facts) newest() int64 {
	n := f.saw
	for _, l := range f.Logs {
		n = max(n, l.Seq)
	}
	for _, m := range f.Mornings {
		n = max(n, m.Seq)
	}
	return n
}

// latest is the newest morning of the last seven days.
func (f *facts) latest() *Morning {
	for i := len(f.Mornings) - 1; i >= 0; i-- {
		if m := &f.Mornings[i]; m.On <= f.Today {
			if f.Today.Sub(m.On) >= 7 {
				return nil
			}
			return m
		}
	}
	return nil
}

// Wants is the day since which the transition waits for a week of its own: once its quiet weeks can be over. Empty where it waits for
// something else, or for nothing.
func (r Records) Wants() body.Date {
	f := r.look()
	next, more := f.next(f.at)
	if !more || f.at.Stage == None || next.Stage > min(r.Gate.Cap, r.Allowed) {
		return ""
	}
	return f.since.Add(7 * f.at.Dose().Quiet)
}

// Furthest is the furthest place a coach may decide on.
func (s State) Furthest(r Records) At {
	at := s.At
	if s.Verdict == Up || s.Verdict == Return {
		at = s.To
	}
	return lower(at, at.within(min(r.Gate.Cap, r.Allowed)))
}

// Decide is the decision for a place; nil for one that is further than may be.
func (s State) Decide(r Records, to At, word string) *Move {
	if most := s.Furthest(r); most.Before(to) || to.Stage < None || to.Stage > Share ||
		to.Stage >= Home && to.Stage < RunWalk && (to.Step < 0 || to.Step >= len(ladder[to.Stage]) || to.Minutes != 0) {
		return nil
	}
	m := &Move{On: r.Today, Verdict: Hold, From: s.At, To: to, Saw: s.Saw, Word: word, Reasons: []body.Reason{}}
	switch {
	case to.Stage == None:
		m.Verdict = Rest
	case to.Before(s.At):
		m.Verdict = Back
	case s.At.Before(to):
		m.Verdict = Up
	}
	for _, f := range s.Fired {
		m.Reasons, m.Two = append(m.Reasons, f.Reason), m.Two || f.two && to.Before(s.At)
	}
	if m.Verdict == Up && s.Earned != nil {
		m.Reasons = append(m.Reasons, *s.Earned)
	}
	for _, c := range r.Closed {
		m.Signs = append(m.Signs, c.ID)
	}
	return m
}

// Asks reports whether a coach has to decide.
func (s State) Asks() bool { return s.Verdict != Hold && s.Verdict != End }
