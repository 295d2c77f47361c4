package body

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"time"
)

// Symptom is a complaint at one place and side, with its usual level.
type Symptom struct {
	Region   Region `json:"region"`
	Side     Side   `json:"side"`
	Worst    int    `json:"worst" doc:"worst pain of the last week, 0–10"`
	Baseline int    `json:"baseline" doc:"usual first-step or daily pain, 0–10"`
	When     Times  `json:"when" doc:"when it is felt: first_steps, easing, push_off, during_run, after, night, rest"`
	Since    Date   `json:"since,omitempty"`
	// Which marks the two places of a heel recorded as one: the next screen asks which of them it is.
	Which bool `json:"which,omitempty" doc:"recorded as the whole heel: ask whether it is its sole or its back"`
}

// Heels are the legs of which a sore heel was recorded before its sole and its back were told apart.
func (p Profile) Heels() []Side {
	out := []Side{}
	for _, leg := range Sides {
		if slices.ContainsFunc(p.Symptoms, func(s Symptom) bool { return s.Which && s.Side.Touches(leg) }) {
			out = append(out, leg)
		}
	}
	return out
}

// TellHeel keeps, of a heel of one leg recorded as one, the places that are sore. Told once, it changes nothing again.
func (p Profile) TellHeel(leg Side, sore ...Region) Profile {
	was := p.Symptoms
	p.Symptoms = []Symptom{}
	for _, s := range was {
		if !s.Which || !s.Side.Touches(leg) {
			p.Symptoms = append(p.Symptoms, s)
			continue
		}
		if s.Side == Both { // the other leg is asked by itself
			o := s
			o.Side = leg.Other()
			p.Symptoms = append(p.Symptoms, o)
		}
		if s.Side, s.Which = leg, false; slices.Contains(sore, s.Region) {
			p.Symptoms = append(p.Symptoms, s)
		}
	}
	return p
}

// heelApart reads a heel recorded as one as both its places.
func heelApart(all []Symptom) []Symptom {
	out := make([]Symptom, 0, len(all))
	for _, s := range all {
		whole := s.Region == Heel
		for _, place := range s.Region.Places() {
			s.Region, s.Which = place, s.Which || whole
			if whole && slices.ContainsFunc(all, func(o Symptom) bool { return o.Region == place && o.Side == s.Side }) {
				continue // told since
			}
			out = append(out, s)
		}
	}
	return out
}

// Times are the moments a symptom is felt. Earlier records held a single one.
type Times []string

// UnmarshalJSON reads a list, or the single word of an earlier record.
func (t *Times) UnmarshalJSON(b []byte) error {
	var one string
	if json.Unmarshal(b, &one) == nil {
		*t = Times{}
		if one != "" {
			*t = Times{one}
		}
		return nil
	}
	var many []string
	err := json.Unmarshal(b, &many)
	*t = many
	return err
}

// Moment is a time at which a symptom may be felt.
type Moment struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// SymptomTimes names the moments, in the order they are asked.
var SymptomTimes = []Moment{
	{"first_steps", "first steps in the morning"}, {"easing", "eases through the day, back next morning"}, {"push_off", "at push-off"},
	{"during_run", "during the run"},
	{"after", "after the run"}, {"night", "at night"}, {"rest", "at rest"},
}

// Shoe is one pair as it was weighed and measured.
type Shoe struct {
	Name         string  `json:"name"`
	MassG        float64 `json:"massG" doc:"one shoe, g"`
	HeelMm       float64 `json:"heelMm" doc:"heel stack, mm"`
	ForefootMm   float64 `json:"forefootMm" doc:"forefoot stack, mm"`
	Technologies int     `json:"technologies" doc:"number of motion-control and stability devices"`
	Lengthwise   float64 `json:"lengthwise" doc:"flexibility lengthwise, 0 stiff to 2.5"`
	Twisting     float64 `json:"twisting" doc:"flexibility in twisting, 0 stiff to 2.5"`
	Flexed       bool    `json:"flexed,omitempty" doc:"flexibility was tried by hand; without it a zero is unknown"`
	WidthMm      float64 `json:"widthMm,omitempty" doc:"toe box inside at its widest, mm"`
	Km           float64 `json:"km,omitempty"`
	Bought       Date    `json:"bought,omitempty"`
	Worn         string  `json:"worn,omitempty" doc:"where the sole is worn"`
}

// History is what happened to the feet and ankles before.
type History struct {
	Injuries   string `json:"injuries" doc:"foot and ankle injuries, surgery, fractures, in words"`
	Sprain     bool   `json:"sprain" doc:"an ankle sprained before"`
	Prescribed string `json:"prescribed" doc:"inserts or supports a clinician prescribed"`
}

// FixedRun is a run that stays on its weekday.
type FixedRun struct {
	Weekday int    `json:"weekday" minimum:"0" maximum:"6" doc:"0 Monday … 6 Sunday"`
	Minutes int    `json:"minutes" minimum:"1" maximum:"600"`
	Quality string `json:"quality" enum:"easy,quality,long" doc:"quality: intervals, hills, race, other sport with jumps or sprints"`
	Time    string `json:"time,omitempty" enum:"morning,evening," doc:"empty counts as evening"`
}

// Morning reports a run in the morning; a run of unknown time counts as one in the evening.
func (r FixedRun) Morning() bool { return r.Time == "morning" }

// Structural is a finding the coach recorded as given: a fused toe, an arch flat since birth, hardware.
// Its criterion is waived, and exercises that depend on it stay out.
type Structural struct {
	Measure string `json:"measure"`
	Side    Side   `json:"side"`
	Word    string `json:"word" doc:"why"`
}

// Race is a race the runner has entered.
type Race struct {
	On   Date    `json:"on"`
	Km   float64 `json:"km,omitempty" doc:"0 when unknown"`
	Name string  `json:"name,omitempty"`
	// Minor is a race that is run as a quality run. At most one goal race stands in four weeks.
	Minor bool `json:"minor,omitempty" doc:"run as a quality run, not a goal race"`
}

// Equipment lists what the runner owns, with real sizes.
type Equipment struct {
	DumbbellsKg []float64 `json:"dumbbellsKg"`
	StepCm      float64   `json:"stepCm" doc:"height of a stair or block, cm; 0 none"`
	PlatesMm    []float64 `json:"platesMm" doc:"thicknesses of books or plates to stack, mm"`
	Strap       bool      `json:"strap"`
	Roll        bool      `json:"roll" doc:"firm rolled towel"`
	Bands       []string  `json:"bands" doc:"tensions owned: light, medium, strong"`
	RollersCm   []float64 `json:"rollersCm" doc:"roller diameters, cm"`
	SoftBall    bool      `json:"softBall"`
	FirmBall    bool      `json:"firmBall"`
}

// Profile is what intake records of a runner.
type Profile struct {
	BirthDate       Date              `json:"birthDate"`
	Sex             string            `json:"sex,omitempty" enum:",female,male" doc:"only if the runner wishes"`
	HeightCm        float64           `json:"heightCm,omitempty"`
	MassKg          float64           `json:"massKg"`
	LegMm           float64           `json:"legMm" doc:"hip bone to inner ankle, mm"`
	FootMm          float64           `json:"footMm"`
	FootWidthMm     float64           `json:"footWidthMm,omitempty" doc:"widest part of the forefoot, standing, mm"`
	BigToeMm        float64           `json:"bigToeMm" doc:"first MTP joint to tip, mm"`
	WeeklyMinutes   int               `json:"weeklyMinutes" doc:"0 is unknown, unless the runner said not to run"`
	NotRunning      bool              `json:"notRunning,omitempty" doc:"said not to run at present"`
	WeeklyKm        float64           `json:"weeklyKm,omitempty"`
	LongestRunKm    float64           `json:"longestRunKm,omitempty" doc:"longest run of the last 30 days, km"`
	WeeklySessions  int               `json:"weeklySessions,omitempty"`
	Surfaces        []string          `json:"surfaces" doc:"usual surfaces"`
	GoalDate        Date              `json:"goalDate,omitempty"`
	Structural      []Structural      `json:"structural"`
	Races           []Race            `json:"races"`
	SessionMinutes  int               `json:"sessionMinutes,omitempty" doc:"longest single session, min; 0 no limit of its own"`
	GoalWords       string            `json:"goalWords,omitempty" doc:"the goal in the runner's words"`
	SittingHours    float64           `json:"sittingHours,omitempty" doc:"hours a day"`
	StandingHours   float64           `json:"standingHours,omitempty" doc:"hours a day"`
	History         History           `json:"history"`
	Shoes           []Shoe            `json:"shoes"`
	Goal            string            `json:"goal" enum:"pain_free,distance,hills,speed,barefoot"`
	Runs            []FixedRun        `json:"runs"`
	MinutesByDay    []int             `json:"minutesByDay" doc:"strength minutes available, Monday to Sunday"`
	Equipment       Equipment         `json:"equipment"`
	Symptoms        []Symptom         `json:"symptoms"`
	Cautions        []string          `json:"cautions" doc:"ids of the cautions answered yes"`
	CautionNotes    CautionNotes      `json:"cautionNotes" required:"false" doc:"what a caution asks besides yes, by its id"`
	Touch           Touch             `json:"touch" required:"false" doc:"whether every toe feels a light touch, as the runner told it"`
	AskedOn         Date              `json:"askedOn,omitempty" doc:"day the symptoms were last asked"`
	GuardianConsent bool              `json:"guardianConsent"`
	HeavyAllowed    string            `json:"heavyAllowed,omitempty" doc:"limits in words of an earlier release: shown, and asked again"`
	Approaches      map[string]string `json:"approaches"`
}

// CautionNote is what a caution asks besides yes.
type CautionNote struct {
	Answered Date `json:"answered,omitempty" doc:"day it was first answered yes; empty: before this was kept"`
	On       Date `json:"on,omitempty" doc:"the day it asks for; empty: not known"`
	Until    Date `json:"until,omitempty" doc:"the second day it asks for"`
	Side     Side `json:"side,omitempty" enum:"left,right,both,"`
	Healed   bool `json:"healed,omitempty"`
}

// CautionNotes are a runner's, by caution.
type CautionNotes map[string]CautionNote

// Touch is what the runner told of the feeling in each foot.
type Touch struct {
	Left  bool `json:"left"`
	Right bool `json:"right"`
	On    Date `json:"on,omitempty" doc:"day it was told; empty: not asked"`
}

// Goals names the goals a runner may state.
var Goals = []string{"pain_free", "distance", "hills", "speed", "barefoot"}

// NewProfile returns a profile with empty lists, so that JSON never carries null.
func NewProfile() Profile {
	return Profile{Goal: "distance", Runs: []FixedRun{}, MinutesByDay: make([]int, 7),
		Equipment: Equipment{DumbbellsKg: []float64{}, PlatesMm: []float64{}, Bands: []string{}, RollersCm: []float64{}},
		Symptoms:  []Symptom{}, Cautions: []string{}, Surfaces: []string{}, Shoes: []Shoe{}, Races: []Race{}, Structural: []Structural{},
		Approaches: map[string]string{}, CautionNotes: CautionNotes{}}
}

// Normalise fills absent lists and sorts what has an order.
func (p Profile) Normalise() Profile {
	n := NewProfile()
	if p.Runs == nil {
		p.Runs = n.Runs
	}
	if len(p.MinutesByDay) == 0 {
		p.MinutesByDay = n.MinutesByDay
	}
	if p.Equipment.DumbbellsKg == nil {
		p.Equipment.DumbbellsKg = n.Equipment.DumbbellsKg
	}
	if p.Equipment.PlatesMm == nil {
		p.Equipment.PlatesMm = n.Equipment.PlatesMm
	}
	if p.Equipment.Bands == nil {
		p.Equipment.Bands = n.Equipment.Bands
	}
	if p.Equipment.RollersCm == nil {
		p.Equipment.RollersCm = n.Equipment.RollersCm
	}
	if p.Symptoms == nil {
		p.Symptoms = n.Symptoms
	}
	p.Symptoms = heelApart(p.Symptoms)
	p.Symptoms = slices.Clone(p.Symptoms)
	for i := range p.Symptoms {
		if p.Symptoms[i].When == nil {
			p.Symptoms[i].When = Times{}
		}
	}
	if p.Surfaces == nil {
		p.Surfaces = n.Surfaces
	}
	if p.Structural == nil {
		p.Structural = n.Structural
	}
	if p.Races == nil {
		p.Races = n.Races
	}
	if p.Shoes == nil {
		p.Shoes = n.Shoes
	}
	for i := range p.Shoes {
		p.Shoes[i].Flexed = p.Shoes[i].FlexKnown()
	}
	if p.Cautions == nil {
		p.Cautions = n.Cautions
	}
	if p.Approaches == nil {
		p.Approaches = n.Approaches
	}
	if p.CautionNotes == nil {
		p.CautionNotes = n.CautionNotes
	}
	slices.Sort(p.Equipment.DumbbellsKg)
	slices.SortFunc(p.Runs, func(a, b FixedRun) int { return a.Weekday - b.Weekday })
	return p
}

// Dated notes what this profile says anew against the one before it: the day the symptoms were asked, and
// the day each caution was first answered yes.
func (p Profile) Dated(before Profile, today Date) Profile {
	p.AskedOn = before.AskedOn
	if p.AskedOn == "" || fmt.Sprint(p.Symptoms) != fmt.Sprint(before.Normalise().Symptoms) {
		p.AskedOn = today
	}
	notes := CautionNotes{}
	for id, n := range p.CautionNotes {
		if slices.Contains(p.Cautions, id) {
			notes[id] = n
		}
	}
	for _, id := range p.Cautions {
		n := notes[id]
		n.Answered = before.CautionNotes[id].Answered
		if !slices.Contains(before.Cautions, id) {
			n.Answered = today
		}
		notes[id] = n
	}
	p.CautionNotes = notes
	return p
}

// DoesNotRun reports that the runner said so; minutes or fixed runs entered say otherwise.
func (p Profile) DoesNotRun() bool { return p.NotRunning && p.WeeklyMinutes == 0 && len(p.Runs) == 0 }

// LeftEmpty lists what a 0 may have been meant for or left empty: it is read as unknown and asked until it is answered.
func (p Profile) LeftEmpty() []string {
	out := []string{}
	if p.WeeklyMinutes == 0 && !p.NotRunning {
		out = append(out, "Minutes of running a week: enter them, or say that they do not run at present.")
	}
	for _, s := range p.Shoes {
		if !s.FlexKnown() {
			out = append(out, s.Name+": how far it bends and twists, 0 stiff to 2.5.")
		}
	}
	return out
}

// FlexKnown reports whether both flexibilities of the shoe are known: a zero only when they were tried.
func (s Shoe) FlexKnown() bool { return s.Flexed || s.Lengthwise > 0 && s.Twisting > 0 }

// GoalRaces lists the races the coach plans for, earliest first. A goal's date is no race, and a race
// run as a quality run is one.
func (p Profile) GoalRaces() []Race {
	out := slices.DeleteFunc(slices.Clone(p.Races), func(r Race) bool { return r.Minor })
	slices.SortStableFunc(out, func(a, b Race) int { return cmp.Compare(a.On, b.On) })
	return out
}

// Age returns completed years on day d.
func (p Profile) Age(d Date) int { return AgeOn(p.BirthDate, d) }

// BMI returns body mass over height squared, kg/m²; 0 when height is unknown.
func (p Profile) BMI() float64 {
	if p.HeightCm == 0 {
		return 0
	}
	h := p.HeightCm / 100
	return p.MassKg / (h * h)
}

// WeekdayName returns the weekday's name, 0 Monday … 6 Sunday.
func WeekdayName(i int) string { return time.Weekday((i + 1) % 7).String() }
