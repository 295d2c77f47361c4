package room

import (
	"slices"
	"time"

	"notchback/internal/core"
	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/record"
)

// Phone is what a runner's page shows; it is all the page needs for a day without signal.
type Phone struct {
	Name        string             `json:"name"`
	Today       body.Date          `json:"today"`
	Runner      string             `json:"runner" doc:"id; reports kept on a phone belong to one runner"`
	Link        string             `json:"link" doc:"id of the private link this device goes by"`
	State       string             `json:"state" doc:"of the record; changed when this is another"`
	Release     string             `json:"release" doc:"of the code that made this; a page of another release does not draw it"`
	Timezone    string             `json:"timezone"`
	At          time.Time          `json:"at" doc:"when it was made: a phone's own clock may be set wrong"`
	AskAfterH   int                `json:"askAfterH" doc:"hours without contact: harder work stands behind marks and signs"`
	AloneAfterH int                `json:"aloneAfterH" doc:"hours without contact: only what may be done alone is shown"`
	MostOfASet  int                `json:"mostOfASet" doc:"repetitions, seconds, paces or contacts of a set, and where a cramp came"`
	AsksAbove   int                `json:"asksAbove" doc:"a pain above it, 0–10, asks the warning signs"`
	Sessions    []PhoneSession     `json:"sessions" doc:"today and six days more: there may be no signal"`
	Next        body.Date          `json:"next" doc:"next training day, empty if none is planned"`
	Watched     []Watched          `json:"watched" doc:"places asked about each morning"`
	MorningIn   bool               `json:"morningIn" doc:"this morning is reported"`
	RunToday    *body.FixedRun     `json:"runToday,omitempty"`
	Locks       []Lock             `json:"locks" doc:"open warning signs"`
	Running     string             `json:"running" doc:"why there is no running now; empty when there is"`
	WayBack     *WayBack           `json:"wayBack,omitempty" doc:"where they stand on the way back to running"`
	Shoes       []string           `json:"shoes"`
	Bare        *PhoneBare         `json:"bare,omitempty" doc:"the transition to bare feet"`
	Lead        string             `json:"lead" doc:"what leads this week, in words; empty without a programme"`
	QuietFor    bool               `json:"quietFor" doc:"“everything else quiet” may be answered"`
	Signs       []refer.Sign       `json:"signs"`
	Regions     []body.NamedRegion `json:"regions" doc:"places on the map"`
	Cautions    []string           `json:"cautions"`
	Week        []PhoneDay         `json:"week" doc:"the next seven days"`
	Advice      []string           `json:"advice" doc:"what the chosen approaches ask to mind"`
	FormOpen    bool               `json:"formOpen" doc:"not screened yet: the intake form may be filled in"`
	Units       body.Units         `json:"units" doc:"what this page is read in"`
	Notes       []NoteView         `json:"notes" doc:"of the last four weeks, newest first"`
	Check       *PhoneCheck        `json:"check,omitempty" doc:"what they may check at home; absent before a coach has seen them"`
}

// PhoneSession is one day's session.
type PhoneSession struct {
	On      body.Date   `json:"on"`
	Items   []PhoneItem `json:"items"`
	Kept    []PhoneKept `json:"kept" doc:"planned and not to be done: names and reasons only"`
	Seconds int         `json:"seconds"`
	Race    string      `json:"race" doc:"what a race asks of the day; empty for none"`
}

// Watched is a place asked about each morning.
type Watched struct {
	Region body.Region `json:"region"`
	Name   string      `json:"name"`
	Side   body.Side   `json:"side"`
}

// Lock is an open warning sign as the runner reads it.
type Lock struct {
	ID       string      `json:"id"`
	Small    bool        `json:"small" doc:"the runner may say that it is over"`
	Question string      `json:"question"`
	Do       string      `json:"do"`
	Class    refer.Class `json:"class"`
	Place    string      `json:"place"`
}

// PhoneItem is one exercise of today's session.
type PhoneItem struct {
	Rail     string           `json:"rail"`
	Name     string           `json:"name" doc:"rail"`
	Slot     catalog.Slot     `json:"slot"`
	Exercise catalog.Exercise `json:"exercise"`
	Cautions []string         `json:"cautions"`
	Mind     []string         `json:"mind" doc:"what this runner minds while doing it"`
	Release  bool             `json:"release" doc:"discomfort is asked on its own scale, not as pain"`
	Ends     int              `json:"ends" doc:"a pain above it, 0–10, ends the exercise for the day"`
	Asks     int              `json:"asks" doc:"a pain above it asks the warning signs"`
	Alone    bool             `json:"alone" doc:"may go on however long there is no contact"`
	Drawing  []catalog.Shape  `json:"drawing"`
	Seconds  int              `json:"seconds"`
	Sides    []PhoneSide      `json:"sides" doc:"the weaker first"`
	Then     *PhoneThen       `json:"then,omitempty" doc:"control of the range that was gained, at once"`
	Done     bool             `json:"done" doc:"logged that day"`
}

// PhoneThen is a little control that follows a range exercise.
type PhoneThen struct {
	Words string   `json:"words"`
	SetUp string   `json:"setUp"`
	Cues  []string `json:"cues"`
}

// PhoneKept is an exercise that is planned for the day and may not be done.
type PhoneKept struct {
	Rail  string    `json:"rail" doc:"name"`
	Name  string    `json:"name"`
	Side  body.Side `json:"side"`
	Why   []string  `json:"why"`
	Opens string    `json:"opens" doc:"what would open it"`
}

// PhoneSide is one side's dose; a two-legged exercise at one dose on both sides has a single side.
type PhoneSide struct {
	Side          body.Side       `json:"side"`
	Dose          PhoneDose       `json:"dose"`
	Short         *PhoneDose      `json:"short,omitempty" doc:"in the short version; absent: left out of it"`
	Prescriptions []string        `json:"prescriptions" doc:"what a log of it is written for"`
	Legs          []body.Side     `json:"legs" doc:"which side each of them is of"`
	Exact         body.Dose       `json:"exact" doc:"the dose as it is sent back with a log"`
	ExactShort    *body.Dose      `json:"exactShort,omitempty" doc:"that of the short version"`
	Course        catalog.Course  `json:"course" doc:"how it is counted and timed while it is done"`
	ShortCourse   *catalog.Course `json:"shortCourse,omitempty" doc:"that of the short version"`
	Why           PhoneWhy        `json:"why" doc:"what moved the dose, and what would"`
}

// PhoneDose is a dose with what a page needs to count it.
type PhoneDose struct {
	Text   string `json:"text"`
	Sets   int    `json:"sets"`
	Amount int    `json:"amount" doc:"of one set"`
	Unit   string `json:"unit" enum:"seconds,repetitions,paces,contacts"`
	Timed  bool   `json:"timed"`
	PerDay int    `json:"perDay"`
}

func phoneDose(d body.Dose) PhoneDose {
	return PhoneDose{d.String(), d.TotalSets(), d.Amount(), d.Unit(), d.Timed(), d.Times()}
}

// PhoneDay is one of the next seven days.
type PhoneDay struct {
	On    body.Date `json:"on"`
	Rails []string  `json:"rails"`
	Run   string    `json:"run"`
	Watch bool      `json:"watch,omitempty" doc:"its run has blocks that a watch can count"`
}

// PhoneIntake is the intake form as the runner sees it.
type PhoneIntake struct {
	Name     string             `json:"name"`
	Today    body.Date          `json:"today"`
	Profile  body.Profile       `json:"profile"`
	Signs    []refer.Sign       `json:"signs"`
	Cautions []refer.Caution    `json:"cautions"`
	Regions  []body.NamedRegion `json:"regions"`
	Times    []body.Moment      `json:"times"`
	Sent     body.Date          `json:"sent" doc:"day it was sent and is not taken over yet; empty for none"`
	Units    body.Units         `json:"units" doc:"what it is typed in"`
}

// FormRoom is the intake form as the runner sees it.
var FormRoom = Room[PhoneIntake]{record.NeedDoor, always(Chart.phoneIntake)}

func (o Chart) phoneIntake() PhoneIntake {
	asked := slices.DeleteFunc(slices.Clone(refer.Cautions), func(c refer.Caution) bool { return c.Derived })
	v := PhoneIntake{Name: o.Name, Today: o.Today, Profile: o.Profile, Signs: refer.Asked(o.Profile, o.Today), Cautions: asked,
		Regions: body.RegionNames, Times: body.SymptomTimes}
	if len(o.Forms) > 0 {
		v.Sent, v.Profile = o.Forms[0].On, o.Forms[0].Profile.Normalise()
	}
	return v
}

// PhoneRoom is the runner's page as it is fetched now.
func PhoneRoom(now time.Time) Room[Phone] {
	return Room[Phone]{record.NeedProposals, always(func(o Chart) Phone { return o.Phone(now) })}
}

// Phone assembles the runner's page. now is the moment it is fetched.
func (o Chart) Phone(now time.Time) Phone {
	p := Phone{Name: o.Name, Runner: o.ID, State: o.state(), Release: core.EngineVersion, Today: o.Today, Timezone: o.Timezone,
		At:        now.UTC(),
		AskAfterH: o.House.Int("phone.cache.hours"), AloneAfterH: o.House.Int("phone.alone.hours"), AsksAbove: refer.AsksAbove,
		MostOfASet: adjust.Most,
		Sessions:   []PhoneSession{}, Watched: o.watchedNames(), Locks: []Lock{},
		Signs: refer.Asked(o.Profile, o.Today), Regions: body.RegionNames,
		Cautions: []string{}, Week: []PhoneDay{}, Advice: []string{},
		FormOpen: !slices.ContainsFunc(o.Visits(), func(s record.Screen) bool { return s.Finished })}
	if a := o.Facts().Run(body.EasyMinutes); !o.Facts().Running() {
		p.Running = a.Says()
	}
	p.WayBack = o.WayBack()
	p.Lead = o.leadWords()
	p.Bare = o.phoneBare()
	p.Notes = slices.DeleteFunc(o.notes(), func(n NoteView) bool { return n.Text == "" || o.Today.Sub(n.Written) > 28 })
	p.Notes = p.Notes[:min(20, len(p.Notes))]
	p.Check = o.phoneCheck()
	p.Shoes = []string{}
	for _, s := range o.Profile.Shoes {
		p.Shoes = append(p.Shoes, s.Name)
	}
	p.QuietFor = true
	p.MorningIn = slices.ContainsFunc(o.Mornings, func(m build.Morning) bool { return m.On == o.Today })
	for _, s := range o.Stops {
		if s.Open() {
			sign, _ := refer.FindSign(s.Sign)
			place := s.Region.Name()
			if s.Side != body.Both {
				place = string(s.Side) + " " + place
			}
			p.Locks = append(p.Locks, Lock{s.ID, sign.Class == refer.Small && o.Today > s.On, sign.Question, sign.Do, s.Class(o.Profile), place})
		}
	}
	for _, c := range o.Facts().InForce() {
		p.Cautions = append(p.Cautions, c.Limits)
	}
	if o.Programme != nil {
		p.Advice = o.Programme.Plan.Advice
	}
	for i := range 7 {
		p.Sessions = append(p.Sessions, o.phoneSession(o.Today.Add(i)))
	}
	for i := range 7 {
		on := o.Today.Add(i)
		day := PhoneDay{On: on, Rails: []string{}}
		for _, d := range o.Days {
			if d.On == on {
				rail, _ := o.Catalogue.Find(d.Rail)
				day.Rails = append(day.Rails, rail.Short)
				if i > 0 && p.Next == "" {
					p.Next = on
				}
			}
		}
		words, fixed := o.Facts().RunOn(on)
		if day.Run = words; i == 0 {
			p.RunToday = fixed
		}
		_, err := o.Workout(on, now)
		day.Watch = err == nil
		p.Week = append(p.Week, day)
	}
	return p
}

// phoneSession is a day's session as the page shows it.
func (o Chart) phoneSession(on body.Date) PhoneSession {
	day := o.training(on)
	out := PhoneSession{On: on, Items: []PhoneItem{}, Kept: []PhoneKept{}, Seconds: day.seconds()}
	if day.race != nil {
		out.Race = day.race.Says
	}
	for _, k := range day.kept {
		x := PhoneKept{Rail: k.rail.Name, Name: k.exercise.Name, Side: k.side, Why: []string{}}
		for _, r := range k.reasons {
			if r.Sort != permit.Holds && !slices.Contains(x.Why, r.Says) {
				x.Why = append(x.Why, r.Says)
				x.Opens = r.Opens
			}
		}
		out.Kept = append(out.Kept, x)
	}
	for _, it := range day.items {
		p := o.phoneItem(it)
		p.Done = true
		for _, s := range p.Sides {
			for _, id := range s.Prescriptions {
				p.Done = p.Done && slices.ContainsFunc(o.Logs, func(l adjust.Log) bool { return l.Prescription.ID == id && l.On == on })
			}
		}
		out.Items = append(out.Items, p)
	}
	return out
}

// phoneItem is one exercise as the page shows it.
func (o Chart) phoneItem(it item) PhoneItem {
	drawing, _ := it.exercise.Drawing()
	p := PhoneItem{Rail: it.rail.ID, Name: it.rail.Name, Slot: it.slot, Exercise: it.exercise, Cautions: it.rail.Cautions,
		Mind: append([]string{}, it.notes...), Release: it.exercise.Class == catalog.Releasing,
		Ends: adjust.Ends(it.exercise, o.Profile, o.House), Asks: adjust.Asks(it.exercise, o.Profile, o.House),
		Alone:   it.exercise.Alone(it.slot),
		Drawing: drawing, Seconds: it.seconds(), Sides: []PhoneSide{}}
	if it.then != nil {
		p.Then = &PhoneThen{it.follows(), it.then.exercise.SetUp, it.then.exercise.Cues}
	}
	reserve := o.House.Choice(o.Profile.Approaches, "effort") == "reserve"
	for _, s := range it.sides {
		side := PhoneSide{Side: s.side, Dose: phoneDose(s.dose), Prescriptions: []string{}, Legs: []body.Side{}, Exact: s.dose,
			Course: it.exercise.Course(s.dose, reserve)}
		if s.short != nil {
			short, course := phoneDose(*s.short), it.exercise.Course(*s.short, reserve)
			side.Short, side.ExactShort, side.ShortCourse = &short, s.short, &course
		}
		for _, pr := range s.prescriptions {
			side.Prescriptions, side.Legs = append(side.Prescriptions, pr.ID), append(side.Legs, pr.Side)
		}
		side.Why = o.phoneWhy(s.prescriptions[0])
		p.Sides = append(p.Sides, side)
	}
	return p
}
