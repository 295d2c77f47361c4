// Package record is what is known of one runner, in the parts a room asks for. A part that was not asked for is
// nil: touching it stops the request instead of reading as an empty list.
package record

import (
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/core/selfcheck"
)

// Need names parts of a record; the person is always there.
type Need uint8

// The parts there are.
const (
	NeedTests Need = 1 << iota
	NeedPlan
	NeedReports
	NeedPast
	NeedDoor

	NeedAll = NeedTests | NeedPlan | NeedReports | NeedPast | NeedDoor
	// NeedFacts is what permissions are judged from.
	NeedFacts = NeedTests | NeedPlan | NeedReports
	// NeedProposals is what moves of the doses are judged from.
	NeedProposals = NeedFacts | NeedPast
)

// Has reports whether every one of some parts is asked for.
func (n Need) Has(parts Need) bool { return n&parts == parts }

// Record is one runner's.
type Record struct {
	Person
	*Tests
	*Plan
	*Reports
	*Past
	*Door
}

// Parts are those that are there.
func (r Record) Parts() (n Need) {
	for part, there := range map[Need]bool{NeedTests: r.Tests != nil, NeedPlan: r.Plan != nil, NeedReports: r.Reports != nil,
		NeedPast: r.Past != nil, NeedDoor: r.Door != nil} {
		if there {
			n |= part
		}
	}
	return n
}

// Only is a copy of some of the parts, without the person. Its lists and their rows may be changed, what lies deeper may
// not.
func (r Record) Only(parts Need) (out Record) {
	parts &= r.Parts()
	if parts.Has(NeedTests) {
		out.Tests = &Tests{slices.Clone(r.Screens)}
		for i := range out.Screens {
			out.Screens[i].Trials = slices.Clone(out.Screens[i].Trials)
		}
	}
	if parts.Has(NeedPlan) {
		p := *r.Plan
		if p.Programme != nil {
			programme := *p.Programme
			p.Programme = &programme
		}
		p.Prescriptions, p.Rested, p.Usual = slices.Clone(p.Prescriptions), slices.Clone(p.Rested), slices.Clone(p.Usual)
		p.Weeks, p.Days = slices.Clone(p.Weeks), slices.Clone(p.Days)
		out.Plan = &p
	}
	if parts.Has(NeedReports) {
		out.Reports = &Reports{slices.Clone(r.Logs), slices.Clone(r.Mornings), slices.Clone(r.Runs)}
	}
	if parts.Has(NeedPast) {
		out.Past = &Past{slices.Clone(r.Decisions)}
	}
	if parts.Has(NeedDoor) {
		out.Door = &Door{slices.Clone(r.Links), slices.Clone(r.Forms)}
	}
	return out
}

// Take puts the parts that another record has into this one; of its reports those since a day.
func (r *Record) Take(o Record, since body.Date) {
	if o.Tests != nil {
		r.Tests = o.Tests
	}
	if o.Plan != nil {
		r.Plan = o.Plan
	}
	if o.Reports != nil {
		r.Reports = &Reports{from(since, o.Logs, func(l adjust.Log) body.Date { return l.On }),
			from(since, o.Mornings, func(m build.Morning) body.Date { return m.On }),
			from(since, o.Runs, func(r load.Run) body.Date { return r.On })}
	}
	if o.Past != nil {
		r.Past = o.Past
	}
	if o.Door != nil {
		r.Door = o.Door
	}
}

// from cuts a list that is in order of days.
func from[T any](since body.Date, all []T, on func(T) body.Date) []T {
	i := slices.IndexFunc(all, func(x T) bool { return on(x) >= since })
	if i < 0 {
		return all[len(all):]
	}
	return all[i:]
}

// Person is who the runner is, and what forbids or bounds their work.
type Person struct {
	ID          string
	Name        string
	Timezone    string
	Profile     body.Profile
	Version     int   // of the intake
	Touched     int64 // how often the record was changed
	Tested      int64 // how often of them by a trial of a screen
	Archived    bool
	Created     body.Date
	FeelingFrom body.Date // day from which the practice has to know the feeling of a sole
	Stops       []refer.Stop
	Limits      []refer.Limit // recorded for cautions and patterns, oldest first
	Checks      []refer.Check // newest first, the last few
	Running     load.Plan     // the running planned, as last written
	RunningID   string        // names it; empty where none was written
	Barefoot    barefoot.Plan // the transition planned, as last written
	BarefootID  string        // names it; empty where none was written
	BareMoves   []barefoot.Move
	BareLogs    []barefoot.Log    // the newest goes, oldest first
	Notes       []Note            // between runner and coaches, newest first
	SelfChecks  []selfcheck.Check // of the runner at home, newest first
}

// Note is what a runner or a coach wrote beside a day, or what a session left out.
type Note struct {
	ID      string    `json:"-"`
	On      body.Date `json:"-"`
	Written body.Date `json:"written"`
	By      string    `json:"-"` // coach; empty: the runner
	Read    bool      `json:"-"`
	Text    string    `json:"text,omitempty"`
	Skipped []Skipped `json:"skipped,omitempty"`
}

// Skipped is an exercise that was left out, and why.
type Skipped struct {
	Exercise string `json:"exercise" maxLength:"60"`
	Why      string `json:"why" enum:"time,kit,tired,unsure,hard"`
}

// Tests are the visits' tests, newest first.
type Tests struct{ Screens []Screen }

// Plan is the programme in force with its dated days.
type Plan struct {
	Programme     *Programme
	Prescriptions []catalog.Prescription // current one of each rail and side
	Rested        []catalog.Prescription // last one of each rail that the programme in force leaves out
	Usual         []build.Usual
	Weeks         []Moved // the week as it was moved since it was built, newest first
	Days          []TrainingDay
}

// Reports are what was told since a day, oldest first.
type Reports struct {
	Logs     []adjust.Log
	Mornings []build.Morning
	Runs     []load.Run
}

// Past is what was decided, oldest first, across programmes; of the holds that needed no coach the newest of each
// rail and side.
type Past struct{ Decisions []Decision }

// Door is what the private link is about.
type Door struct {
	Links []Link
	Forms []Form // filled in by the runner and not taken over yet, newest first
}

// Form is an intake the runner filled in through the private link.
type Form struct {
	ID      string       `json:"id"`
	On      body.Date    `json:"on"`
	Profile body.Profile `json:"profile"`
}

// Screen is one visit's tests.
type Screen struct {
	ID       string         `json:"id"`
	On       body.Date      `json:"on"`
	Finished bool           `json:"finished"`
	Kind     string         `json:"kind" enum:"core,full,gait,retest,session"`
	Measures []string       `json:"measures" doc:"what it asks for, in running order"`
	Trials   []screen.Trial `json:"trials"`
}

// Programme is a built programme as it was stored.
type Programme struct {
	ID   string          `json:"id"`
	On   body.Date       `json:"on"`
	Plan build.Programme `json:"plan"`
}

// TrainingDay is one rail on one dated day.
type TrainingDay struct {
	On   body.Date    `json:"on"`
	Rail string       `json:"rail"`
	Slot catalog.Slot `json:"slot"`
}

// Moved is a week as the coach moved it.
type Moved struct {
	ID   string     `json:"id"`
	Week build.Week `json:"week"`
}

// Decision is one decision that was taken on a rail and side.
type Decision struct {
	ID       string         `json:"id"`
	On       body.Date      `json:"on"`
	Rail     string         `json:"rail"`
	Side     body.Side      `json:"side"`
	Proposed adjust.Verdict `json:"proposed"`
	Verdict  adjust.Verdict `json:"verdict"`
	Steps    int            `json:"steps"`
	Word     string         `json:"word"`
	Coach    string         `json:"coach" doc:"empty for a hold that needed none"`
	From     string         `json:"from" doc:"id of the prescription before"`
	To       string         `json:"to" doc:"id of the prescription after"`
	Seen     int64          `json:"seen" doc:"newest report it saw"`
	Rule     string         `json:"rule" doc:"that decided"`
	Why      string         `json:"why" doc:"its reason as it was stored then; empty where none was kept"`

	Also       []string  `json:"-"` // rails that the list became which it was taken on
	ToExercise string    `json:"toExercise"`
	ToDose     body.Dose `json:"toDose"`
}

// Link is a runner's private link; its token is never stored.
type Link struct {
	ID      string   `json:"id"`
	Created string   `json:"created"`
	Expires string   `json:"expires"`
	Live    bool     `json:"live"`
	Devices []Device `json:"devices" doc:"it is open on, those used last first"`
}

// Device is a phone or a browser that a private link is open on.
type Device struct {
	ID     string `json:"id"`
	Name   string `json:"name" doc:"kind of browser and of machine"`
	Opened string `json:"opened"`
	Seen   string `json:"seen" doc:"last use, to the hour"`
}
