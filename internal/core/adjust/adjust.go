// Package adjust proposes, for each rail and side, to notch up, hold, notch back or park, with the
// exact new dose and every reason. To change how a rail moves, change one rule in rules.go.
package adjust

import (
	"cmp"
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
)

// Verdict is what a rule asks for.
type Verdict string

// The verdicts, most protective last. Pending waits for a morning mark or an effort; Return brings a
// parked rail back lower.
const (
	Up      Verdict = "up"
	Hold    Verdict = "hold"
	Pending Verdict = "pending"
	Return  Verdict = "return"
	Back    Verdict = "back"
	Park    Verdict = "park"
)

var protective = map[Verdict]int{Up: 0, Return: 1, Hold: 2, Pending: 3, Back: 4, Park: 5}

// Move is a decision taken earlier on this rail and side.
type Move struct {
	On      body.Date `json:"on"`
	Verdict Verdict   `json:"verdict"`
	Steps   int       `json:"steps"`
}

// Input is all a proposal for one rail and side is made from.
type Input struct {
	Current  catalog.Prescription `json:"current"`
	Rail     catalog.Rail         `json:"rail"`
	Limits   catalog.Limits       `json:"limits"`   // of this side
	Logs     []Log                `json:"logs"`     // of this rail and side
	Mornings []build.Morning      `json:"mornings"` // of every place
	Usual    []build.Usual        `json:"usual"`
	Moves    []Move               `json:"moves"` // of this rail and side
	Stops    []refer.Stop         `json:"stops"`
	Runs     []load.Run           `json:"runs"`
	Profile  body.Profile         `json:"profile"`
	Today    body.Date            `json:"today"`
	House    house.Rules          `json:"house"`
}

// Fired is one rule that spoke.
type Fired struct {
	Verdict Verdict     `json:"verdict" enum:"up,hold,pending,return,back,park"`
	Steps   int         `json:"steps"`
	Dose    *body.Dose  `json:"dose,omitempty" doc:"an exact dose the rule asks for instead of steps"`
	Reason  body.Reason `json:"reason"`
}

// Proposal is what the core would do with one rail and side, and why. Fired lists every rule that
// spoke, the deciding one first.
type Proposal struct {
	Rail    string               `json:"rail"`
	Side    body.Side            `json:"side" enum:"left,right,both"`
	Verdict Verdict              `json:"verdict" enum:"up,hold,pending,return,back,park"`
	Steps   int                  `json:"steps"`
	From    catalog.Prescription `json:"from"`
	To      catalog.Prescription `json:"to"`
	News    bool                 `json:"news" doc:"something was reported, or a protective rule spoke, since the last decision"`
	Fired   []Fired              `json:"fired"`
}

// Propose applies every rule of the table; the most protective wins.
func Propose(in Input) Proposal {
	f := gather(in)
	out := Proposal{Rail: in.Current.Rail, Side: in.Current.Side, From: in.Current, Fired: []Fired{}}
	for _, r := range rules {
		if in.Current.Parked && !r.whenParked {
			continue
		}
		if x, ok := r.see(f); ok {
			x.Reason.Rule = "adjust." + r.name
			out.Fired = append(out.Fired, x)
		}
	}
	// Moving up is what no rule forbids and the two sessions earned; otherwise say what is missing.
	if !in.Current.Parked {
		x := f.earned()
		if len(out.Fired) == 0 || x.Verdict == Up || x.Verdict == Pending {
			out.Fired = append(out.Fired, x)
		}
	}
	if len(out.Fired) == 0 {
		out.Fired = append(out.Fired, Fired{Verdict: Park, Reason: in.House.Because("adjust.parked", "stays parked until seven quiet days, five mornings reported")})
	}
	slices.SortStableFunc(out.Fired, func(a, b Fired) int {
		return cmp.Or(cmp.Compare(protective[b.Verdict], protective[a.Verdict]), cmp.Compare(b.Steps, a.Steps))
	})
	win := out.Fired[0]
	out.Verdict, out.Steps = win.Verdict, win.Steps
	out.To = f.apply(win)
	if out.Verdict == Back && out.To.Parked {
		out.Verdict = Park
	}
	if out.Verdict == Up && out.To.Dose == in.Current.Dose && out.To.Exercise == in.Current.Exercise {
		out.Verdict = Hold
		out.Fired[0].Verdict = Hold
		out.Fired[0].Reason.Says = "top of the rail for what the runner owns and may do: keep it as maintenance"
		if no := f.beyond(); no != "" {
			out.Fired[0].Reason = out.Fired[0].Reason.See("the next exercise", "%s", no)
		}
	}
	out.News = f.news() || (out.Verdict != Hold && out.Verdict != Pending && out.Verdict != Up && (!in.Current.Parked || out.Verdict == Return))
	return out
}

// Choose gives the proposal for a verdict the coach takes instead. Moving up is refused while a stop
// is open or a morning is above the never-up limit; everything else is the coach's to decide.
func Choose(in Input, v Verdict) (Proposal, error) {
	p := Propose(in)
	f := gather(in)
	x := Fired{Verdict: v, Steps: 1, Reason: in.House.Because("adjust.coach", "the coach decided otherwise")}
	if v == Park || v == Hold {
		x.Steps = 0
	}
	if v == Up || v == Return {
		if stop, r := refer.Lock(in.Stops, in.Rail.Regions, in.Current.Side); stop != nil {
			return p, body.Refuse("verdict", "no move up while a warning sign is open (%s)", r.Saw[0].Name)
		}
		if f.latestWorst > f.h.Get("adjust.morning.never_up") {
			return p, body.Refuse("verdict", "no move up while the morning is %g of 10", f.latestWorst)
		}
	}
	if (v == Up && in.Current.Parked) || (v == Return && !in.Current.Parked) {
		return p, body.Refuse("verdict", "a parked rail returns first; a rail that is not parked cannot")
	}
	p.Verdict, p.Steps, p.To = v, x.Steps, f.apply(x)
	p.Fired = append([]Fired{x}, p.Fired...)
	if _, known := protective[v]; !known || v == Pending {
		return p, body.Refuse("verdict", "is up, hold, back, park or return")
	}
	return p, nil
}

// apply turns a verdict into the next prescription.
func (f facts) apply(x Fired) catalog.Prescription {
	to := f.in.Current
	to.ID = ""
	switch {
	case x.Dose != nil:
		to.Dose, to.Cause = *x.Dose, "cramp"
		to.Dose.Extra = 0
	case x.Verdict == Up:
		to = f.up(to)
	case x.Verdict == Back:
		for range x.Steps {
			to = f.back(to)
		}
	case x.Verdict == Return:
		to.Parked = false
		for range 2 {
			if next := f.back(to); !next.Parked {
				to = next
			}
		}
		to.Cause = "return"
	case x.Verdict == Park:
		to.Parked, to.Cause = true, "parked"
	}
	if to.Dose != f.in.Current.Dose || to.Exercise != f.in.Current.Exercise || to.Parked != f.in.Current.Parked {
		to.From = f.in.Today
	} else {
		to = f.in.Current
	}
	return to
}

// up goes to the next dose on the rail. After a cramp it climbs by at most two repetitions, or five
// seconds.
func (f facts) up(p catalog.Prescription) catalog.Prescription {
	i, below := catalog.At(f.notches, p.Exercise, p.Dose)
	if i < 0 {
		return p
	}
	next := i + 1
	if below {
		next = i
	}
	if next >= len(f.notches) {
		return p
	}
	n := f.notches[next]
	if p.Cause == "cramp" {
		step := 2
		if p.Dose.Timed() {
			step = 5
		}
		if grown := p.Dose.WithAmount(p.Dose.Amount() + step); n.Exercise == p.Exercise && grown.Work(0, 0) < n.Dose.Work(0, 0) {
			p.Dose = grown
			return p
		}
	}
	extra := p.Dose.Extra
	if x, _ := f.rail.Exercise(n.Exercise); !x.EachSide {
		extra = 0
	}
	p.Exercise, p.Name, p.Dose, p.Cause = n.Exercise, n.Name, n.Dose, "up"
	p.Dose.Extra = extra
	return p
}

// back goes to the nearest earlier dose of the same or an easier exercise with at most 80 % of the
// work. Where an easier exercise counts another way, it starts at its lowest dose. Below the first
// notch the dose is halved once; a halved dose is parked.
func (f facts) back(p catalog.Prescription) catalog.Prescription {
	x, _ := f.rail.Exercise(p.Exercise)
	p.Dose.Extra = 0
	ceiling := f.h.Get("adjust.back.work") / 100 * p.Dose.Work(x.Share, f.in.Profile.MassKg)
	i, below := catalog.At(f.notches, p.Exercise, p.Dose)
	switch {
	case below:
		i--
	case i < 0: // out of reach now: from the last notch of what stands before it
		i = f.before(p.Exercise)
	}
	for ; i >= 0; i-- {
		n := f.notches[i]
		ex, _ := f.rail.Exercise(n.Exercise)
		same := n.Dose.Kind == p.Dose.Kind
		lowest := i == 0 || f.notches[i-1].Exercise != n.Exercise
		if (same && n.Dose.Work(ex.Share, f.in.Profile.MassKg) <= ceiling) || (!same && lowest) {
			p.Exercise, p.Name, p.Dose, p.Cause = n.Exercise, n.Name, n.Dose, "back"
			return p
		}
	}
	if p.Cause == "half dose" {
		p.Parked, p.Cause = true, "parked"
		return p
	}
	if p.Dose.Sets > 1 {
		p.Dose.Sets /= 2
	} else {
		p.Dose = p.Dose.WithAmount(max(1, p.Dose.Amount()/2))
	}
	p.Cause = "half dose"
	return p
}

// before is the index of the last notch of an easier exercise than this one; -1 without any.
func (f facts) before(exercise string) int {
	at := slices.IndexFunc(f.rail.Exercises, func(x catalog.Exercise) bool { return x.ID == exercise })
	last := -1
	for i, n := range f.notches {
		if k := slices.IndexFunc(f.rail.Exercises, func(x catalog.Exercise) bool { return x.ID == n.Exercise }); k < at {
			last = i
		}
	}
	return last
}

func (f facts) news() bool {
	last := body.Date("")
	for _, m := range f.in.Moves {
		last = max(last, m.On)
	}
	return len(f.logs) > 0 && f.logs[0].On > last
}

// beyond says why the next exercise of the rail is out of reach; empty at its real top.
func (f facts) beyond() string {
	at := slices.IndexFunc(f.rail.Exercises, func(x catalog.Exercise) bool { return x.ID == f.in.Current.Exercise })
	for _, x := range f.rail.Exercises[at+1:] {
		if ok, no := f.in.Limits.Allowed(f.rail, x); !ok && !x.Retired {
			return x.Name + ": " + no
		}
	}
	return ""
}

// days writes a count of days.
func days(n int) string {
	if n == 1 {
		return "1 day"
	}
	return fmt.Sprintf("%d days", n)
}
