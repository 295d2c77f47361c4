// Package build chooses rails from what limits the runner, places their first notches from the
// runner's own tests and lays them into a week around the fixed runs.
package build

import (
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

// Choices are what the coach set by hand. Building again keeps them.
type Choices struct {
	Without  []string          `json:"without" doc:"rails left out"`
	Also     []string          `json:"also" doc:"rails brought in"`
	Excluded []string          `json:"excluded" doc:"exercises left out"`
	Notches  []PinnedNotch     `json:"notches" doc:"notches set by hand"`
	Sessions []PinnedPlace     `json:"sessions" doc:"sessions kept where the coach put them"`
	Days     []int             `json:"days" doc:"weekdays the coach prefers for sessions; empty: any"`
	Why      map[string]string `json:"why,omitempty" doc:"a word why, by rail"`
}

// PinnedNotch is an exercise and dose the coach set for one rail and side.
type PinnedNotch struct {
	Rail     string    `json:"rail"`
	Side     body.Side `json:"side"`
	Exercise string    `json:"exercise"`
	Dose     body.Dose `json:"dose"`
	ID       string    `json:"id,omitempty" doc:"which of the notches offered it is; said in a draft, never stored"`
}

// PinnedPlace is a session the coach keeps on a weekday and slot.
type PinnedPlace struct {
	Rail    string       `json:"rail"`
	Weekday int          `json:"weekday" minimum:"0" maximum:"6"`
	Slot    catalog.Slot `json:"slot"`
}

// Named says of each notch set by hand which of those offered it is.
func (c Choices) Named() Choices {
	c.Notches = slices.Clone(c.Notches)
	for i, n := range c.Notches {
		c.Notches[i].ID = catalog.NotchID(n.Exercise, n.Dose)
	}
	return c
}

// Normalise fills absent lists and leaves out what is only said.
func (c Choices) Normalise() Choices {
	for _, l := range []*[]string{&c.Without, &c.Also, &c.Excluded} {
		if *l == nil {
			*l = []string{}
		}
	}
	c.Notches = append([]PinnedNotch{}, c.Notches...)
	for i := range c.Notches {
		c.Notches[i].ID = ""
	}
	if c.Sessions == nil {
		c.Sessions = []PinnedPlace{}
	}
	if c.Days == nil {
		c.Days = []int{}
	}
	return c
}

// Check refuses a choice that names what is not in the catalogue.
func (c Choices) Check(cat catalog.Catalogue) error {
	for _, id := range slices.Concat(c.Without, c.Also) {
		if _, ok := cat.Find(id); !ok {
			return body.Refuse("also", "there is no rail %q", id)
		}
	}
	for _, n := range c.Notches {
		r, ok := cat.Find(n.Rail)
		if _, known := r.Exercise(n.Exercise); !ok || !known {
			return body.Refuse("notches", "there is no exercise %q on that rail", n.Exercise)
		}
	}
	for _, s := range c.Sessions {
		if s.Weekday < 0 || s.Weekday > 6 || !slices.Contains(catalog.Slots, s.Slot) {
			return body.Refuse("sessions", "a session needs a weekday and a time of the day")
		}
	}
	for _, d := range c.Days {
		if d < 0 || d > 6 {
			return body.Refuse("days", "a weekday is 0 Monday to 6 Sunday")
		}
	}
	return nil
}

// Input is everything a programme is built from.
type Input struct {
	Profile  body.Profile
	Trials   []screen.Trial // the newest of each measure
	Was      []screen.Trial // those as they stood on the day the programme in force was built
	Stops    []refer.Stop
	Limits   []refer.Limit // recorded for cautions and patterns
	Mornings []Morning
	Sessions []permit.Mark          // sessions of the last weeks that hurt, by side
	Bare     []permit.Mark          // goes on bare feet that hurt
	Spoke    int64                  // report number up to which the coach spoke with the runner
	Flatter  []body.Side            // arches newly flatter
	Reach    body.Date              // the records go back to this day; empty: to the beginning
	Stalled  map[body.Side][]string // findings that stayed the same at two retests
	// FeelingSince is the day from which the feeling of the sole has to be known.
	FeelingSince body.Date
	Choices      Choices
	Before       Choices // the choices of the programme in force
	// Current are the prescriptions of the programme in force. They are kept until a newer test;
	// a parked one stays parked, and after a long break the new start is never above it.
	Current []catalog.Prescription
	// Rested are the last rows of rails the programme in force leaves out: brought back they keep their state.
	Rested []catalog.Prescription
	Runs   []load.Run
	Done   map[string]body.Date // last day each exercise was done
	Built  body.Date            // day the programme in force was built; a rail is placed anew only from a later test of its own
	Own    []catalog.Rail       // what the practice added to or changed in the catalogue
	Today  body.Date
	House  house.Rules
}

// Catalogue is the shipped catalogue with the practice's own rails.
func (in Input) Catalogue() catalog.Catalogue { return catalog.Shipped.With(in.Own) }

// LockedSide is a side that something keeps out, and why.
type LockedSide struct {
	Side body.Side `json:"side,omitempty" enum:",left,right,both" doc:"empty in plans of earlier releases"`
	body.Reason
}

// RailPlan is one rail of a programme, chosen or left out, with each side's first notch.
type RailPlan struct {
	Rail          string                 `json:"rail"`
	Name          string                 `json:"name"`
	Short         string                 `json:"short"`
	Part          catalog.Part           `json:"part"`
	Chosen        bool                   `json:"chosen"`
	Keep          bool                   `json:"keep" doc:"built already: only kept, one or two sessions a week"`
	ByHand        bool                   `json:"byHand" doc:"brought in, left out or set by the coach"`
	Why           body.Reason            `json:"why"`
	PerWeek       int                    `json:"perWeek"`
	Seconds       int                    `json:"seconds" doc:"of one session"`
	Prescriptions []catalog.Prescription `json:"prescriptions"`
	Doses         []string               `json:"doses" doc:"the prescriptions' doses in words"`
	Placed        []body.Reason          `json:"placed" doc:"why each side starts where it does, as many as prescriptions"`
	Once          bool                   `json:"once,omitempty" doc:"trains both sides, or none, at once: one dose, shown once"`
	Locked        []LockedSide           `json:"locked" doc:"sides a warning sign keeps out"`
	Refused       []string               `json:"refused,omitempty" doc:"notches set by hand that may not stand, and why"`
}

// Programme is the result of building.
type Programme struct {
	On      body.Date    `json:"on"`
	Phase   Phase        `json:"phase"`
	Why     body.Reason  `json:"why"`
	Next    body.Reason  `json:"next" doc:"what the next phase waits for"`
	Rails   []RailPlan   `json:"rails"`
	Week    Week         `json:"week"`
	Usual   []Usual      `json:"usual"`
	Cadence *CadencePlan `json:"cadence,omitempty"`
	Retests []Retest     `json:"retests"`
	Race    *RaceRule    `json:"race,omitempty"`
	Advice  []string     `json:"advice" doc:"what the chosen approaches ask the runner to mind"`
	Choices Choices      `json:"choices"`
	Refuse  string       `json:"refuse,omitempty" doc:"why no programme may be built"`
}

// Make builds the programme. Same input, same programme.
func Make(in Input) Programme {
	in.Choices = in.Choices.Normalise()
	p := Programme{On: in.Today, Phase: Build, Rails: []RailPlan{}, Usual: NewUsuals(in.Profile, in.Mornings, nil).Rows(in.Today.Add(1)),
		Retests: []Retest{}, Advice: []string{}, Choices: in.Choices}
	switch {
	case in.Profile.Age(in.Today) < 18 && !in.Profile.GuardianConsent:
		p.Refuse = "Under 18: record a guardian's consent at intake first."
	case in.Profile.MassKg == 0:
		p.Refuse = "The load on the leg needs the body mass: enter it at intake first."
	}
	if p.Refuse != "" {
		p.Week.Days = []Day{}
		p.Week.GaveWay = []body.Reason{}
		return p
	}
	w := look(in)
	p.Phase, p.Why, p.Next = w.phase, w.phaseWhy, w.next
	p.Cadence, p.Race = w.cadence, RaceOn(in.Profile, in.Today, in.House)
	p.Rails = w.choose()
	p.Retests = retests(p, in, w.cat)
	p.Advice = advice(p, in, w.cat)
	p.Week = Schedule(w.cat, p.Rails, in.Profile, in.Choices, in.House)
	return p
}

// Normalise fills what a programme stored by an earlier engine may lack.
func (p Programme) Normalise(cat catalog.Catalogue) Programme {
	p.Choices = p.Choices.Normalise()
	if p.Retests == nil {
		p.Retests = []Retest{}
	}
	if p.Advice == nil {
		p.Advice = []string{}
	}
	if p.Next.Saw == nil {
		p.Next.Saw, p.Next.House = []body.Fact{}, []string{}
	}
	for i, r := range p.Rails {
		if r.Locked == nil {
			p.Rails[i].Locked = []LockedSide{}
		}
		if c, ok := cat.Find(r.Rail); ok {
			p.Rails[i].Short, p.Rails[i].Part = c.Short, c.Part
		}
		if p.Rails[i].PerWeek == 0 {
			p.Rails[i].PerWeek = p.Week.count(r.Rail)
		}
	}
	p.Week = p.Week.Normalise(cat)
	return p
}

// Normalise names each entry as the catalogue does now.
func (w Week) Normalise(cat catalog.Catalogue) Week {
	for d := range w.Days {
		for i, e := range w.Days[d].Entries {
			if c, ok := cat.Find(e.Rail); ok {
				w.Days[d].Entries[i].Short, w.Days[d].Entries[i].Part = c.Short, c.Part
			}
		}
	}
	return w
}

// Difference is one line of two drafts laid side by side.
type Difference struct {
	Name string `json:"name"`
	A    string `json:"a"`
	B    string `json:"b"`
	Same bool   `json:"same"`
}

// Compare lays two programmes side by side: phase, each rail's doses and sessions, minutes a week and
// what gave way.
func Compare(a, b Programme) []Difference {
	out := []Difference{}
	add := func(name, x, y string) { out = append(out, Difference{name, x, y, x == y}) }
	add("Phase", string(a.Phase), string(b.Phase))
	names := map[string]string{}
	var ids []string
	for _, r := range slices.Concat(a.Rails, b.Rails) {
		if _, seen := names[r.Rail]; !seen && r.Chosen {
			names[r.Rail] = r.Name
			ids = append(ids, r.Rail)
		}
	}
	for _, id := range ids {
		add(names[id], a.line(id), b.line(id))
	}
	add("Minutes a week", fmt.Sprint(a.Week.minutes()), fmt.Sprint(b.Week.minutes()))
	add("Separate sessions", fmt.Sprint(a.Week.sessions()), fmt.Sprint(b.Week.sessions()))
	add("Gave way", a.Week.gaveWay(), b.Week.gaveWay())
	return out
}

func (p Programme) line(rail string) string {
	i := slices.IndexFunc(p.Rails, func(r RailPlan) bool { return r.Rail == rail && r.Chosen })
	if i < 0 {
		return "not in it"
	}
	r := p.Rails[i]
	var sides []string
	for k, x := range r.Prescriptions {
		t := fmt.Sprintf("%s: %s, %s", x.Side, x.Name, r.Doses[k])
		if k > 0 && x.Name == r.Prescriptions[0].Name && r.Doses[k] == r.Doses[0] {
			sides = []string{fmt.Sprintf("%s, %s", x.Name, r.Doses[k])}
			continue
		}
		sides = append(sides, t)
	}
	return fmt.Sprintf("%s (%d a week)", strings.Join(sides, "; "), p.Week.count(rail))
}
