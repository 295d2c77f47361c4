package room

import (
	"fmt"
	"slices"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/formats"
)

// BareWeek places the goes of a week, from Monday.
func (o Chart) BareWeek(monday body.Date) (placed []barefoot.Placed, left string) {
	s := o.BareState()
	if s == nil || s.Now.Stage == barefoot.None {
		return []barefoot.Placed{}, ""
	}
	days := make([]barefoot.Day, 8)
	f := o.Facts()
	for i := range days {
		on := monday.Add(i - 1)
		days[i] = barefoot.Day{On: on}
		if _, fixed := f.RunOn(on); fixed != nil {
			if days[i].Run = fixed.Quality; fixed.Quality == "easy" && fixed.Minutes > o.House.Int("week.quality.minutes") {
				days[i].Run = "long"
			}
		}
		_, days[i].Away = f.AwayOn(on)
		if race := build.RaceOn(o.Profile, on, o.House); race != nil && (race.State == build.CloseToRace || race.State == build.RaceDay) {
			days[i].Run = "quality" // no bounces and no bare running near a goal race
		}
		for _, d := range o.Days {
			rail, _ := o.Catalogue.Find(d.Rail)
			if d.On != on {
				continue
			}
			days[i].Strength = days[i].Strength || rail.Part == "strength"
			for _, p := range o.Prescriptions {
				if x, ok := rail.Exercise(p.Exercise); ok && p.Rail == d.Rail && !p.Parked {
					days[i].Hard = days[i].Hard || x.Level >= 4 || x.Impact == body.FreeHops
				}
			}
		}
		for _, l := range o.goes() {
			if l.On != on || l.Stage < barefoot.Bouncing {
				continue
			}
			if days[i].Done = true; l.Stage >= barefoot.RunWalk {
				days[i].Minutes += l.Minutes
			}
		}
	}
	return barefoot.Place(s.Now, days, o.Today, o.fresh(), o.Barefoot.Aim)
}

// fresh reports that calf and sole are not sore today, as far as it was told.
func (o Chart) fresh() bool {
	return !slices.ContainsFunc(o.Mornings, func(m build.Morning) bool {
		return m.On == o.Today && m.Pain > o.House.Int("barefoot.sore") && slices.Contains(calfOrSole, m.Region)
	})
}

// bareOn is the go of a day in words; empty for none.
func (o Chart) bareOn(on body.Date) string {
	if o.BareState() == nil {
		return ""
	}
	placed, _ := o.BareWeek(on.Monday())
	for _, p := range placed {
		if p.On == on {
			return p.Words
		}
	}
	return ""
}

// queueBare adds a line where the transition asks for a decision, or for a look at the gait on bare feet.
func (o Chart) queueBare(add adds) {
	s := o.BareState()
	if s == nil {
		return
	}
	detail := s.At.Dose().Words + " → " + s.ToDose.Words
	switch s.Verdict {
	case barefoot.Back, barefoot.Rest:
		add("back", "barefoot", "Barefoot: "+s.Fired[0].Reason.Says, detail, s.Fired[0].Reason)
	case barefoot.Up:
		add("up", "barefoot", "Barefoot: quiet and done, up", detail, *s.Earned)
	case barefoot.Return:
		add("return", "barefoot", "Barefoot: quiet again", detail, *s.Earned)
	default:
		if s.Rescreen && len(s.Waits) == 1 {
			add("retest", "barefoot", "Barefoot: look at the gait on bare feet", "Sound, cadence and strike, by eye or on a clip.", s.Waits[0])
		}
	}
}

// PhoneBare is what the runner's page says of bare feet.
type PhoneBare struct {
	Dose       string         `json:"dose" doc:"in words"`
	Stage      int            `json:"stage"`
	Minutes    int            `json:"minutes" doc:"of one go, or of today's"`
	Contacts   int            `json:"contacts"`
	Part       string         `json:"part" enum:",half,all"`
	Shoe       string         `json:"shoe" doc:"next shoe; empty for bare feet"`
	On         []BareDay      `json:"on" doc:"goes of the next seven days"`
	Why        string         `json:"why" doc:"why it is less than it was, or waits; empty for nothing"`
	New        []barefoot.New `json:"new" doc:"grounds, in the wet and in the cold, that ask for half the first time"`
	RestsAbove int            `json:"restsAbove" doc:"a pain of a go above it, 0–10, rests it until the coach has seen it"`
	Done       body.Date      `json:"done" doc:"last go; empty for none"`
	Mind       []string       `json:"mind"`
}

// BareDay is a go of a day in words.
type BareDay struct {
	On    body.Date `json:"on"`
	Words string    `json:"words"`
}

// bareMind is what is minded on bare feet.
var bareMind = []string{
	"Look at the soles before and after. Broken skin rests until it is healed.",
	"Pain on a bone on top of the foot, to one finger: stop, and tell your coach.",
	"A calf or sole that is sore for two days repeats the week.",
	"The first time on a new ground, wet or cold: half.",
	"Not on tired feet, and not right after hard calf work.",
}

func (o Chart) phoneBare() *PhoneBare {
	s := o.BareState()
	if s == nil {
		return nil
	}
	p := &PhoneBare{Dose: s.Dose.Words, Stage: s.Now.Stage, Minutes: s.Dose.Minutes, Contacts: s.Dose.Contacts, Part: s.Dose.Part,
		On: []BareDay{}, New: []barefoot.New{}, Mind: bareMind,
		RestsAbove: barefoot.HurtsAbove(o.House, o.Transition().Strict)}
	if o.Barefoot.Aim == barefoot.ThinShoe {
		p.Shoe = o.Barefoot.Shoe
	}
	if s.Now.Before(s.At) && len(s.Fired) > 0 {
		p.Why = s.Fired[0].Reason.Says
	}
	for i := range 7 {
		on := o.Today.Add(i)
		if words := o.bareOn(on); words != "" {
			p.On = append(p.On, BareDay{on, words})
		}
	}
	if len(p.On) > 0 && p.On[0].On == o.Today && s.Dose.Weekly {
		placed, _ := o.BareWeek(o.Today.Monday())
		for _, x := range placed {
			if x.On == o.Today {
				p.Minutes = x.Minutes
			}
		}
	}
	for _, l := range o.BareLogs {
		p.Done = max(p.Done, l.On)
	}
	dose := s.Dose
	dose.Minutes = p.Minutes
	p.New = barefoot.NewGround(dose, o.BareLogs)
	return p
}

// onBareFeet marks the exercises of a session that are done on bare feet at the stage of strength and beyond: its first half or all of
// it, with the load dropped at first and rebuilt by the week, rounded down to what is owned.
func (o Chart) onBareFeet(items []item) {
	s := o.BareState()
	if s == nil || s.Now.Stage < barefoot.Strength {
		return
	}
	of := []*item{}
	for i := range items {
		x := items[i].exercise
		if items[i].rail.Part == "strength" && x.Position == "standing" && !x.Bare && !x.Impact.Beyond(body.NoImpact) {
			of = append(of, &items[i])
		}
	}
	if s.Now.Stage == barefoot.Strength && s.Dose.Part == "half" {
		of = of[:(len(of)+1)/2]
	}
	where := "on bare feet"
	if o.Barefoot.Aim == barefoot.ThinShoe {
		where = "in " + o.Barefoot.Shoe
	}
	for _, it := range of {
		note, load := where, 0.0
		for _, side := range it.sides {
			load = max(load, side.dose.LoadKg)
		}
		if load > 0 && s.Loads < 100 {
			lighter := 0.0
			for _, kg := range o.Profile.Equipment.DumbbellsKg {
				if kg <= load*float64(s.Loads)/100 {
					lighter = max(lighter, kg)
				}
			}
			note += fmt.Sprintf(", with at most %s of the usual %s", body.In("kg", "%g", lighter), body.In("kg", "%g", load))
		}
		it.notes = append(it.notes, note)
	}
}

// bareEvents are the goes of the next two weeks in a calendar; the later ones as they would be if nothing moves.
func (o Chart) bareEvents() []formats.Planned {
	out := []formats.Planned{}
	if o.BareState() == nil {
		return out
	}
	for i := range 14 {
		on := o.Today.Add(i)
		p := formats.Planned{On: on, Kind: "bare", Title: "Barefoot"}
		if words := o.bareOn(on); words != "" {
			p.Title, p.Lines = capital(words), append([]string{words}, bareMind...)
		} else {
			p.Gone = true
		}
		out = append(out, p)
	}
	return out
}

// bareReasons are the goes and decisions of a day, and what they were.
func (o Chart) bareReasons(on body.Date) []StripReason {
	out := []StripReason{}
	for _, l := range o.BareLogs {
		if l.On != on {
			continue
		}
		why := o.House.Because("strip.bare", "a go on bare feet, "+barefoot.StageName(l.Stage)).SeeOn(on, "minutes", "%g", l.Minutes)
		if l.Contacts > 0 {
			why = why.SeeOn(on, "contacts", "%d", l.Contacts)
		}
		if l.Pain != "" {
			why = why.SeeOn(on, "pain", "%s of 10", l.Pain)
		}
		out = append(out, StripReason{"Bare feet", why})
	}
	for _, m := range o.BareMoves {
		if m.On == on && len(m.Reasons) > 0 {
			out = append(out, StripReason{"Barefoot: " + string(m.Verdict), m.Reasons[0]})
		}
	}
	return out
}
