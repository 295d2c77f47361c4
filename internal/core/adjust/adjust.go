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
	"notchback/internal/core/permit"
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

// Verdicts lists them.
var Verdicts = []Verdict{Up, Hold, Pending, Return, Back, Park}

var protective = map[Verdict]int{Up: 0, Return: 1, Pending: 2, Hold: 3, Back: 4, Park: 5}

// Move is a decision taken earlier on this rail. Seen is the newest report it saw.
type Move struct {
	On      body.Date `json:"on"`
	Verdict Verdict   `json:"verdict"`
	Steps   int       `json:"steps"`
	Side    body.Side `json:"side,omitempty"`
	Rail    string    `json:"rail,omitempty"`
	Seen    int64     `json:"seen,omitempty"`
	Rule    string    `json:"rule,omitempty" doc:"that decided"`
	Alone   bool      `json:"alone,omitempty" doc:"a hold that needed no coach"`
	Heavy   bool      `json:"heavy,omitempty" doc:"to one-leg heel work, outside load or bouncing"`
}

// Input is all a proposal for one rail and side is made from.
type Input struct {
	Current  catalog.Prescription `json:"current"`
	Rail     catalog.Rail         `json:"rail"`
	Limits   catalog.Limits       `json:"limits"`   // of this side; what core/permit judges by stands in it
	Logs     []Log                `json:"logs"`     // of this rail, both sides
	Mornings []build.Morning      `json:"mornings"` // of every place
	Usual    []build.Usual        `json:"usual"`    // levels kept earlier
	Watched  []body.Symptom       `json:"watched"`  // places a morning has to answer
	Moves    []Move               `json:"moves"`    // of this rail, both sides, oldest first
	Others   []Move               `json:"others"`   // of the other rails, the last weeks
	Runs     []load.Run           `json:"runs"`
	Profile  body.Profile         `json:"profile"`
	Today    body.Date            `json:"today"`
	House    house.Rules          `json:"house"`
	Begun    body.Date            `json:"begun,omitempty"` // day this side began the rail
	Lead     load.Lead            `json:"lead,omitzero"`   // of the week; none says nothing

	Other *Row `json:"other,omitempty" doc:"the other leg's row of this rail"`

	usuals *build.Usuals // those of another history, to compare two under one
	shared *shared       // the same for every row of a runner
	own    *Proposal     // decided by its own reports alone
}

// Row is what the other leg's row of a rail would do by itself.
type Row struct {
	From    catalog.Prescription `json:"from"`
	To      catalog.Prescription `json:"to"`
	Verdict Verdict              `json:"verdict"`
	Steps   int                  `json:"steps"`
	News    bool                 `json:"news"`
	Clean   bool                 `json:"clean,omitempty"`
	Fired   []Fired              `json:"fired"`
}

// Fired is one rule that spoke.
type Fired struct {
	Verdict Verdict     `json:"verdict"`
	Steps   int         `json:"steps"`
	Dose    *body.Dose  `json:"dose,omitempty" doc:"an exact dose the rule asks for instead of steps"`
	Reason  body.Reason `json:"reason"`
}

// Proposal is what the core would do with one rail and side, and why. Fired lists every rule that
// spoke, the deciding one first.
type Proposal struct {
	Rail    string               `json:"rail"`
	Side    body.Side            `json:"side"`
	Verdict Verdict              `json:"verdict"`
	Steps   int                  `json:"steps"`
	From    catalog.Prescription `json:"from"`
	To      catalog.Prescription `json:"to"`
	News    bool                 `json:"news" doc:"something was reported, or a protective rule spoke, since the last decision"`
	Clean   bool                 `json:"clean" doc:"no undecided report is above the pain that goes back, or a correction not seen"`
	Fired   []Fired              `json:"fired"`
	May     permit.Answer        `json:"may" doc:"whether the exercise in force may be done today"`
	Seen    int64                `json:"seen" doc:"newest report it was made from"`
	Retest  bool                 `json:"retest" doc:"parked until it is tested again, or the coach places it"`
}

// InForce is what the runner does until the coach has decided: protection does not wait.
func (p Proposal) InForce() catalog.Prescription {
	if p.Verdict == Back || p.Verdict == Park {
		to := p.To
		to.ID = p.From.ID
		return to
	}
	return p.From
}

// Records reports a hold that needs no coach: it is recorded as the decision that saw its reports.
func (p Proposal) Records() bool { return p.Verdict == Hold && p.News && p.Clean }

// Asks reports whether the proposal wants an answer of the coach: all but what waits for a mark, and a hold that
// needs no coach.
func (p Proposal) Asks() bool { return p.Verdict != Pending && (p.Verdict != Hold || !p.Clean) }

// Propose applies every rule of the table; the most protective wins. A back that nobody has accepted yet
// counts as accepted from the first session at its dose: what follows is judged from the lowered dose.
func Propose(in Input) Proposal { return in.together() }

// alone decides a row by its own reports.
func alone(in *Input) Proposal {
	if _, ok := in.Rail.Exercise(in.Current.Exercise); !ok {
		return in.gone()
	}
	in.shared = in.gathered()
	out, f := propose(in)
	steps, fired := 0, []Fired(nil)
	for range 3 {
		if out.Verdict != Back && out.Verdict != Park {
			break // a back nobody accepted still speaks
		}
		next, was := f.lowered()
		if next == nil {
			break
		}
		again, then := propose(next)
		if again.Verdict != Back && again.Verdict != Park || in.Gentler(out.To, again.To) < 0 {
			break
		}
		steps, fired = steps+was.Steps, append(slices.Clone(was.Fired), fired...)
		seen := out.Seen
		out, f = again, then
		out.From, out.Seen, out.News = in.Current, seen, true
		out.Steps += steps
		out.Fired = append(out.Fired, fired...)
	}
	return out
}

// gone is the proposal for an exercise that the catalogue no longer has: it waits, and nothing else is hurt by it.
func (in *Input) gone() Proposal {
	why := in.House.Because("adjust.gone", "no longer in the catalogue: it waits until the rail is mended in the Library, or built again")
	why = why.See("in force", "%s", in.Current.Text())
	verdict := Hold
	if in.Current.Parked {
		verdict = Park
	}
	return Proposal{Rail: in.Current.Rail, Side: in.Current.Side, Verdict: verdict, From: in.Current, To: in.Current,
		Fired: []Fired{{Verdict: verdict, Reason: why}},
		May: permit.Answer{Kind: permit.NotNow, Reasons: []permit.Reason{{Reason: why, Cut: "rail", Sort: permit.Waits, Leg: in.Current.Side,
			Opens: "the rail is mended, or the programme built again"}}}}
}

// lowered finds the first session at the dose of a back that nobody had accepted when it was done. It gives the
// input as it would stand had the back been accepted just before, and the back; nil when there was none.
func (f *facts) lowered() (*Input, Proposal) {
	in := f.in
	for _, first := range slices.Backward(f.unseen) { // oldest first
		mine := first.Prescription.ID == in.Current.ID || first.Prescription.From == in.Current.From
		dose := first.Prescription.Dose.WithoutExtra()
		other := first.Prescription.Exercise != in.Current.Exercise || dose != in.Current.Dose.WithoutExtra()
		if first == f.logs[len(f.logs)-1] || !mine || !other {
			continue
		}
		then := in.before(first)
		was, _ := propose(&then)
		if was.Verdict != Back || was.To.Exercise != first.Prescription.Exercise || was.To.Dose.WithoutExtra() != dose {
			continue
		}
		out := *in
		out.Current = was.To
		out.Current.From = first.On
		out.Moves = append(slices.Clone(in.Moves), Move{On: first.On, Verdict: Back, Steps: was.Steps, Side: f.side, Seen: first.Seq - 1,
			Rule: was.Fired[0].Reason.Rule})
		out.Logs = slices.Clone(in.Logs)
		for k := range out.Logs {
			if l := &out.Logs[k]; l.Seq >= first.Seq && l.Prescription.Exercise == was.To.Exercise && l.Prescription.Dose.WithoutExtra() == dose {
				l.Prescription.From = first.On
			}
		}
		return &out, was
	}
	return nil, Proposal{}
}

// before is the input as it stood when a session was reported.
func (in Input) before(l *Log) Input {
	in.Today, in.shared = l.On, nil
	in.Logs = slices.DeleteFunc(slices.Clone(in.Logs), func(x Log) bool { return x.Seq >= l.Seq })
	in.Mornings = slices.DeleteFunc(slices.Clone(in.Mornings), func(m build.Morning) bool { return m.Seq >= l.Seq })
	in.Runs = slices.DeleteFunc(slices.Clone(in.Runs), func(r load.Run) bool { return r.Seq >= l.Seq })
	return in
}

// spoken is a rule that fired, and what it would make of the row.
type spoken struct {
	Fired
	to catalog.Prescription
}

func propose(in *Input) (Proposal, *facts) {
	f := gather(in)
	out := Proposal{Rail: in.Current.Rail, Side: in.Current.Side, From: in.Current, May: f.may, Seen: f.newest(), Clean: f.mild()}
	spoke := make([]spoken, 0, 6)
	say := func(x Fired) { spoke = append(spoke, spoken{x, f.apply(x)}) }
	for _, r := range rules {
		if in.Current.Parked && !r.whenParked {
			continue
		}
		if x, ok := r.see(f); ok {
			x.Reason.Rule = "adjust." + r.name
			say(x)
		}
	}
	// Moving up is what no rule forbids and the two sessions earned; otherwise say what is missing.
	if !in.Current.Parked {
		if v, says := f.earned(); len(spoke) == 0 || v != Hold {
			say(f.earns(v, says))
		}
	}
	if len(spoke) == 0 {
		say(Fired{Verdict: Park, Reason: f.stays()})
		_, grave := f.grave()
		out.Retest = grave || in.Current.WaitsForTest()
	}
	slices.SortStableFunc(spoke, func(a, b spoken) int {
		return cmp.Or(cmp.Compare(protective[b.Verdict], protective[a.Verdict]), in.Gentler(a.to, b.to), cmp.Compare(b.Steps, a.Steps))
	})
	out.Fired = make([]Fired, len(spoke))
	for i := range spoke {
		out.Fired[i] = spoke[i].Fired
	}
	win := spoke[0]
	out.Verdict, out.Steps = win.Verdict, win.Steps
	out.To = win.to
	if out.To.Parked {
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
	out.News = f.news() || out.Verdict == Up && slices.ContainsFunc(f.lastTwo(), f.untold) ||
		(out.Verdict != Hold && out.Verdict != Pending && out.Verdict != Up && (!in.Current.Parked || out.Verdict == Return))
	return out, f
}

// Instead lists the verdicts that a coach may take instead of what is proposed for a row.
func Instead(p catalog.Prescription) []Verdict {
	if p.Parked {
		return []Verdict{Return, Park}
	}
	return []Verdict{Up, Hold, Back, Park}
}

// Choose gives the proposal for a verdict the coach takes instead: among what may be done. It opens no
// warning sign, caution, pattern, finding, gate or pause.
func Choose(in Input, v Verdict) (Proposal, error) {
	p := Propose(in)
	if _, ok := in.Rail.Exercise(in.Current.Exercise); !ok {
		return p, body.Refuse("verdict", "%s", p.Fired[0].Reason.Says)
	}
	f := gather(&in)
	x := Fired{Verdict: v, Steps: 1, Reason: in.House.Because("adjust.coach", "the coach decided otherwise")}
	if v == Park || v == Hold {
		x.Steps = 0
	}
	if _, known := protective[v]; !known || v == Pending {
		return p, body.Refuse("verdict", "is up, hold, back, park or return")
	}
	if (v == Up && in.Current.Parked) || (v == Return && !in.Current.Parked) {
		return p, body.Refuse("verdict", "a parked rail returns first; a rail that is not parked cannot")
	}
	p.Verdict, p.Steps, p.To = v, x.Steps, f.apply(x)
	if v == Up || v == Return || v == Hold && !in.Current.Parked {
		e, _ := f.rail.Exercise(p.To.Exercise)
		a := f.limits.May(*f.rail, e)
		if !a.May() && a.Sort() == permit.Safety || v != Hold && !a.May() {
			return p, body.Refuse("verdict", "%s: %s; it opens with %s", e.Name, a.Says(), a.Reasons[0].Opens)
		}
		if v != Hold && a.NoUp {
			return p, body.Refuse("verdict", "no move up: %s; it opens with %s", a.Reasons[0].Reason.Says, a.Reasons[0].Opens)
		}
	}
	if limit := f.h.Get("adjust.morning.never_up"); (v == Up || v == Return) && f.latest() > limit {
		return p, body.Refuse("verdict", "no move up while the morning is %g of 10", f.latest())
	}
	p.Fired = append([]Fired{x}, p.Fired...)
	return p, nil
}

// days writes a count of days.
func days(n int) string {
	if n == 1 {
		return "1 day"
	}
	return fmt.Sprintf("%d days", n)
}
