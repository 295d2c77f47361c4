package job

import (
	"slices"
	"time"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/store"
)

// Phone is what a runner's page shows; it is all the page needs for a day without signal.
type Phone struct {
	Name       string             `json:"name"`
	Today      body.Date          `json:"today"`
	Timezone   string             `json:"timezone"`
	ValidUntil time.Time          `json:"validUntil" doc:"after this, strength work kept on the phone is not shown until it has been refreshed"`
	Sessions   []PhoneSession     `json:"sessions" doc:"today and tomorrow, so that a morning without signal has its session"`
	Next       body.Date          `json:"next" doc:"next training day, empty if none is planned"`
	Watched    []Watched          `json:"watched" doc:"places asked about each morning"`
	MorningIn  bool               `json:"morningIn" doc:"this morning is reported"`
	RunToday   *body.FixedRun     `json:"runToday,omitempty"`
	Locks      []Lock             `json:"locks" doc:"open warning signs"`
	Signs      []refer.Sign       `json:"signs"`
	Regions    []body.NamedRegion `json:"regions" doc:"places on the map"`
	Cautions   []string           `json:"cautions"`
	Week       []PhoneDay         `json:"week" doc:"the next seven days"`
	FormOpen   bool               `json:"formOpen" doc:"not screened yet: the intake form may be filled in"`
}

// PhoneSession is one day's session.
type PhoneSession struct {
	On    body.Date   `json:"on"`
	Items []PhoneItem `json:"items"`
}

// Watched is a place asked about each morning.
type Watched struct {
	Region body.Region `json:"region"`
	Name   string      `json:"name"`
	Side   body.Side   `json:"side" enum:"left,right,both"`
}

// Lock is an open warning sign as the runner reads it.
type Lock struct {
	Question string      `json:"question"`
	Do       string      `json:"do"`
	Class    refer.Class `json:"class" enum:"emergency,same_day,stop"`
	Place    string      `json:"place"`
}

// PhoneItem is one exercise of today's session.
type PhoneItem struct {
	Rail     string           `json:"rail"`
	Name     string           `json:"name" doc:"rail"`
	Slot     build.Slot       `json:"slot" enum:"before,own,evening"`
	Exercise catalog.Exercise `json:"exercise"`
	Sides    []PhoneSide      `json:"sides"`
	Done     bool             `json:"done" doc:"logged that day"`
}

// PhoneSide is one side's dose; a two-legged exercise at one dose on both sides has a single side.
type PhoneSide struct {
	Side          body.Side `json:"side" enum:"left,right,both"`
	Dose          body.Dose `json:"dose"`
	Text          string    `json:"text"`
	Prescriptions []string  `json:"prescriptions" doc:"what a log of it is written for"`
}

// PhoneDay is one of the next seven days.
type PhoneDay struct {
	On    body.Date `json:"on"`
	Rails []string  `json:"rails"`
	Run   string    `json:"run"`
}

// Phone assembles the runner's page. now is the moment it is fetched.
func (o Open) Phone(now time.Time) Phone {
	p := Phone{Name: o.Name, Today: o.Today, Timezone: o.Timezone, ValidUntil: now.Add(time.Duration(o.House.Get("phone.cache.hours") * float64(time.Hour))).UTC(),
		Sessions: []PhoneSession{}, Watched: []Watched{}, Locks: []Lock{}, Signs: refer.Signs, Regions: body.RegionNames, Cautions: []string{}, Week: []PhoneDay{}, FormOpen: !slices.ContainsFunc(o.Visits(), func(s store.Screen) bool { return s.Finished })}
	for _, w := range build.Watched(o.Profile) {
		p.Watched = append(p.Watched, Watched{w.Region, w.Region.Name(), w.Side})
	}
	p.MorningIn = slices.ContainsFunc(o.Mornings, func(m build.Morning) bool { return m.On == o.Today })
	for _, s := range o.Stops {
		if s.Open() {
			sign, _ := refer.FindSign(s.Sign)
			place := s.Region.Name()
			if s.Side != body.Both {
				place = string(s.Side) + " " + place
			}
			p.Locks = append(p.Locks, Lock{sign.Question, sign.Do, sign.Class, place})
		}
	}
	for _, c := range refer.InForce(o.Profile, o.Today) {
		p.Cautions = append(p.Cautions, c.Limits)
	}
	for i := range 2 {
		session := PhoneSession{On: o.Today.Add(i), Items: []PhoneItem{}}
		for _, rail := range catalog.Rails {
			for _, d := range o.Days {
				if d.Rail == rail.ID && d.On == session.On {
					session.Items = append(session.Items, o.phoneItems(rail, d)...)
				}
			}
		}
		p.Sessions = append(p.Sessions, session)
	}
	for i := range 7 {
		on := o.Today.Add(i)
		day := PhoneDay{On: on, Rails: []string{}}
		for _, d := range o.Days {
			if d.On == on {
				rail, _ := catalog.Find(d.Rail)
				day.Rails = append(day.Rails, rail.Name)
				if i > 0 && p.Next == "" {
					p.Next = on
				}
			}
		}
		for _, r := range o.Profile.Runs {
			if r.Weekday == on.Sub(on.Monday()) {
				day.Run = r.Quality
				if i == 0 {
					p.RunToday = &r
				}
			}
		}
		p.Week = append(p.Week, day)
	}
	return p
}

// phoneItems groups a rail's open prescriptions by exercise: the sides of one exercise stand
// together, and two legs at one dose are a single line.
func (o Open) phoneItems(rail catalog.Rail, day store.TrainingDay) []PhoneItem {
	out := []PhoneItem{}
	for _, pr := range o.Prescriptions {
		stop, _ := refer.Lock(o.Stops, rail.Regions, pr.Side)
		if pr.Rail != rail.ID || pr.Parked || stop != nil {
			continue
		}
		x, _ := rail.Exercise(pr.Exercise)
		i := slices.IndexFunc(out, func(it PhoneItem) bool { return it.Exercise.ID == pr.Exercise })
		if i < 0 {
			out = append(out, PhoneItem{Rail: rail.ID, Name: rail.Name, Slot: day.Slot, Exercise: x, Sides: []PhoneSide{}, Done: true})
			i = len(out) - 1
		}
		it := &out[i]
		it.Done = it.Done && slices.ContainsFunc(o.Logs, func(l adjust.Log) bool { return l.Prescription.ID == pr.ID && l.On == day.On })
		if !x.EachSide && len(it.Sides) == 1 && it.Sides[0].Dose == pr.Dose {
			it.Sides[0].Side = body.Both
			it.Sides[0].Prescriptions = append(it.Sides[0].Prescriptions, pr.ID)
			continue
		}
		it.Sides = append(it.Sides, PhoneSide{pr.Side, pr.Dose, pr.Dose.String(), []string{pr.ID}})
	}
	return out
}
