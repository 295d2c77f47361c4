// Package permit answers one question, for everybody who plans, shows or tests anything: what may this
// leg do today? Whatever takes work away, a warning sign, a caution, a pattern, a sore place, an illness,
// a test that is not known, is one Cut; a demand is judged against every cut of the legs it trains or
// stands on. Every reason is listed, with what opens it.
package permit

import (
	"cmp"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
)

// Kind is the answer. Never beats NotNow beats UpTo beats Allowed.
type Kind string

// The answers. Never follows from structural findings only.
const (
	Allowed Kind = "allowed"
	UpTo    Kind = "up_to"
	NotNow  Kind = "not_now"
	Never   Kind = "never"
)

// Kinds lists them, the mildest first.
var Kinds = []Kind{Allowed, UpTo, NotNow, Never}

var weight = map[Kind]int{Allowed: 0, UpTo: 1, NotNow: 2, Never: 3}

// Sort says what a no does to a dose in force.
type Sort string

// The sorts of no. Safety steps down to the nearest easier allowed dose, else parks. Calendar moves or
// leaves out that day's session. Waits leaves out the day and keeps the dose. Holds lets a dose in force
// go on, never up.
const (
	Safety   Sort = "safety"
	Calendar Sort = "calendar"
	Waits    Sort = "waits"
	Holds    Sort = "holds"
)

// Sorts lists them.
var Sorts = []Sort{Safety, Calendar, Waits, Holds}

// Reason is one thing that takes something away.
type Reason struct {
	body.Reason
	Cut   string    `json:"cut" doc:"id of what takes it away"`
	Sort  Sort      `json:"sort"`
	Leg   body.Side `json:"leg"`
	Opens string    `json:"opens" doc:"what would open it"`
}

// Answer is what may be done of a demand.
type Answer struct {
	Kind         Kind     `json:"kind"`
	NoUp         bool     `json:"noUp,omitempty" doc:"goes on at its dose, never up"`
	HalfContacts bool     `json:"halfContacts,omitempty"`
	HalfSets     bool     `json:"halfSets,omitempty"`
	Contacts     int      `json:"contacts,omitempty" doc:"at most so many a session; 0: no limit of its own"`
	Notes        []string `json:"notes,omitempty" doc:"what to mind while doing it"`
	Reasons      []Reason `json:"reasons"`
}

// May reports whether it may be done at all.
func (a Answer) May() bool { return a.Kind == Allowed || a.Kind == UpTo }

// Says is the weightiest reason in a line, with what opens it; empty when nothing is in the way.
func (a Answer) Says() string {
	if a.May() || len(a.Reasons) == 0 {
		return ""
	}
	return a.Reasons[0].Says
}

// Of is a dose within the answer: half the sets, half the contacts, at most so many contacts.
func (a Answer) Of(d body.Dose) body.Dose {
	if a.HalfSets {
		d.Extra, d.Sets = 0, (d.Sets+1)/2
	}
	if d.Kind == body.Contacts {
		if a.HalfContacts {
			d.Reps = max(1, d.Reps/2)
		}
		if a.Contacts > 0 && d.Sets*d.Reps > a.Contacts {
			d.Sets, d.Extra = 1, 0
			d.Reps = min(d.Reps, a.Contacts)
		}
	} else if a.HalfContacts && a.Kind == UpTo {
		d = d.WithAmount(max(1, d.Amount()/2))
	}
	return d
}

// Sort is what the no does to a dose in force: the most protective of its reasons.
func (a Answer) Sort() Sort {
	out := Sort("")
	for _, r := range a.Reasons {
		if out == "" || sorts[r.Sort] > sorts[out] {
			out = r.Sort
		}
	}
	return out
}

var sorts = map[Sort]int{Holds: 0, Calendar: 1, Waits: 2, Safety: 3}

// Only reports that nothing but these cuts, and what merely holds, stands against it.
func (a Answer) Only(cuts ...string) bool {
	return !slices.ContainsFunc(a.Reasons, func(r Reason) bool { return r.Sort != Holds && !slices.Contains(cuts, r.Cut) })
}

// And joins two answers: the stricter of each.
func (a Answer) And(b Answer) Answer {
	if weight[b.Kind] > weight[a.Kind] {
		a.Kind = b.Kind
	}
	a.NoUp, a.HalfContacts, a.HalfSets = a.NoUp || b.NoUp, a.HalfContacts || b.HalfContacts, a.HalfSets || b.HalfSets
	if b.Contacts > 0 && (a.Contacts == 0 || b.Contacts < a.Contacts) {
		a.Contacts = b.Contacts
	}
	for _, n := range b.Notes {
		if !slices.Contains(a.Notes, n) {
			a.Notes = append(slices.Clone(a.Notes), n)
		}
	}
	if len(b.Reasons) > 0 {
		a.Reasons = append(slices.Clone(a.Reasons), b.Reasons...)
		if len(a.Reasons) > 1 {
			slices.SortStableFunc(a.Reasons, func(x, y Reason) int { return cmp.Compare(sorts[y.Sort], sorts[x.Sort]) })
		}
	}
	return a
}

// Ask is what somebody wants to do.
type Ask struct {
	body.Demand
	Side    body.Side // it is prescribed for
	InForce bool      // a dose of it stands already
	Test    bool      // taken beside the coach, within arm's reach
}

// Mark is the newest number of a place, 0–10.
type Mark struct {
	Region body.Region `json:"region"`
	Side   body.Side   `json:"side"`
	Pain   int         `json:"pain"`
	On     body.Date   `json:"on"`
	Seq    int64       `json:"seq,omitempty"`
}

// Facts is what is known of a runner on a day.
type Facts struct {
	Today   body.Date                        `json:"today"`
	Profile body.Profile                     `json:"profile"`
	House   house.Rules                      `json:"house"`
	Stops   []refer.Stop                     `json:"stops"`
	Limits  []refer.Limit                    `json:"limits" doc:"recorded for cautions and patterns"`
	Tests   map[body.Side]map[string]float64 `json:"tests" doc:"newest readings, a side by itself; what has no side stands on both"`
	Taken   map[string]body.Date             `json:"taken" doc:"day each measure was last taken, by measure and side: sole.touch|left"`
	Faults  map[body.Side][]string           `json:"faults" doc:"what a test showed that refers, as measure:fault"`
	Flatter map[body.Side]bool               `json:"flatter,omitempty" doc:"the arch is newly flatter"`
	Marks   []Mark                           `json:"marks" doc:"newest number of each place"`
	Sore    []Mark                           `json:"sore" doc:"places above 2 in a report"`
	Stiff   map[body.Side]int                `json:"stiff,omitempty" doc:"minutes a sore heel was stiff, newest"`
	Pauses  []Mark                           `json:"pauses" doc:"reports so high that work waits until the coach spoke with the runner"`
	Back    *load.Returning                  `json:"back,omitempty" doc:"where they stand on the way back to running"`
	Before  int                              `json:"before" doc:"minutes of running a week before a caution, the latest sign or break"`
	Since   body.Date                        `json:"since,omitempty" doc:"day from which feeling has to be known"`
	Weeks   map[body.Date]int                `json:"weeks,omitempty" doc:"minutes of running planned, by the Monday of the week"`
	Away    []load.Span                      `json:"away,omitempty" doc:"holidays without running"`
	Failed  map[string]bool                  `json:"failed,omitempty" doc:"measures that a fault has count as short, by measure and side"`
	Told    body.Date                        `json:"told,omitempty" doc:"newest day a morning was told of"`
	Usual   map[body.Side]float64            `json:"usual,omitempty" doc:"usual morning of the sorest place of each leg"`
	Reached *int                             `json:"reached,omitempty" doc:"stage of the transition to bare feet; absent without one"`
}

// test reads a measure of one leg; what has no side counts for both.
func (f Facts) test(measure string, leg body.Side) (float64, bool) {
	if v, ok := f.Tests[leg][measure]; ok {
		return v, true
	}
	v, ok := f.Tests[body.Both][measure]
	return v, ok
}

// May answers the question for one demand.
func (f Facts) May(a Ask) Answer { return f.judge(f.Cuts(), a) }

// Judge is May for many demands: gather the cuts once.
func (f Facts) Judge(cuts []Cut, a Ask) Answer { return f.judge(cuts, a) }

func (f Facts) judge(cuts []Cut, a Ask) Answer {
	out := Answer{Kind: Allowed, Reasons: []Reason{}}
	legs := a.Legs(a.Side)
	for _, c := range cuts {
		if c.gate != nil {
			out = out.And(f.gated(c.gate, a, legs))
		} else if c.reaches(legs) {
			if one := c.judge(a); one.Kind != Allowed || len(one.Reasons)+len(one.Notes) > 0 {
				out = out.And(one)
			}
		}
	}
	if u := f.unknown(a, legs); len(u.Reasons) > 0 {
		out = out.And(u)
	}
	return out
}

// reaches reports whether a cut is for one of the legs, or for the whole person.
func (c Cut) reaches(legs []body.Side) bool {
	if c.Whole {
		return true
	}
	return slices.ContainsFunc(legs, func(l body.Side) bool { return c.Leg.Touches(l) })
}
