package body

import (
	"slices"
	"time"
)

// Symptom is a complaint at one place and side, with its usual level.
type Symptom struct {
	Region   Region `json:"region"`
	Side     Side   `json:"side" enum:"left,right,both"`
	Worst    int    `json:"worst" doc:"worst pain of the last week, 0–10"`
	Baseline int    `json:"baseline" doc:"usual first-step or daily pain, 0–10"`
	When     string `json:"when" doc:"when it is felt: first_steps, push_off, during_run, after, rest"`
	Since    Date   `json:"since,omitempty"`
}

// FixedRun is a run that stays on its weekday.
type FixedRun struct {
	Weekday int    `json:"weekday" minimum:"0" maximum:"6" doc:"0 Monday … 6 Sunday"`
	Minutes int    `json:"minutes" minimum:"1" maximum:"600"`
	Quality string `json:"quality" enum:"easy,quality,long" doc:"easy, quality (intervals, hills, race) or long"`
}

// Equipment lists what the runner owns, with real sizes.
type Equipment struct {
	DumbbellsKg []float64 `json:"dumbbellsKg"`
	StepCm      float64   `json:"stepCm" doc:"height of a stair or block, cm; 0 none"`
	PlatesMm    []float64 `json:"platesMm" doc:"thicknesses of books or plates to stack, mm"`
	Strap       bool      `json:"strap"`
	Roll        bool      `json:"roll" doc:"firm rolled towel"`
}

// Profile is what intake records of a runner.
type Profile struct {
	BirthDate       Date              `json:"birthDate"`
	HeightCm        float64           `json:"heightCm,omitempty"`
	MassKg          float64           `json:"massKg"`
	LegMm           float64           `json:"legMm" doc:"hip bone to inner ankle, mm"`
	FootMm          float64           `json:"footMm"`
	BigToeMm        float64           `json:"bigToeMm" doc:"first MTP joint to tip, mm"`
	WeeklyMinutes   int               `json:"weeklyMinutes"`
	WeeklyKm        float64           `json:"weeklyKm,omitempty"`
	LongestRunKm    float64           `json:"longestRunKm,omitempty" doc:"longest run of the last 30 days, km"`
	Goal            string            `json:"goal" enum:"pain_free,distance,hills,speed,barefoot"`
	Runs            []FixedRun        `json:"runs"`
	MinutesByDay    []int             `json:"minutesByDay" doc:"strength minutes available, Monday to Sunday"`
	Equipment       Equipment         `json:"equipment"`
	Symptoms        []Symptom         `json:"symptoms"`
	Cautions        []string          `json:"cautions" doc:"ids of the cautions answered yes"`
	GuardianConsent bool              `json:"guardianConsent"`
	HeavyAllowed    string            `json:"heavyAllowed,omitempty" doc:"who set the limits for heavy loading and which, in words; empty: not allowed under a caution"`
	Approaches      map[string]string `json:"approaches"`
}

// Goals names the goals a runner may state.
var Goals = []string{"pain_free", "distance", "hills", "speed", "barefoot"}

// NewProfile returns a profile with empty lists, so that JSON never carries null.
func NewProfile() Profile {
	return Profile{Goal: "distance", Runs: []FixedRun{}, MinutesByDay: make([]int, 7),
		Equipment: Equipment{DumbbellsKg: []float64{}, PlatesMm: []float64{}},
		Symptoms:  []Symptom{}, Cautions: []string{}, Approaches: map[string]string{}}
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
	if p.Symptoms == nil {
		p.Symptoms = n.Symptoms
	}
	if p.Cautions == nil {
		p.Cautions = n.Cautions
	}
	if p.Approaches == nil {
		p.Approaches = n.Approaches
	}
	slices.Sort(p.Equipment.DumbbellsKg)
	slices.SortFunc(p.Runs, func(a, b FixedRun) int { return a.Weekday - b.Weekday })
	return p
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

type limit struct {
	field    string
	value    float64
	low      float64
	high     float64
	unit     string
	optional bool
}

// Check refuses values no runner can have, naming the field and its limit. today bounds the dates.
func (p Profile) Check(today Date) error {
	if !p.BirthDate.Valid() {
		return Refuse("birthDate", "is not a calendar day; write it as year-month-day")
	}
	if age := p.Age(today); age < 6 || age > 105 {
		return Refuse("birthDate", "gives an age of %d; the runner must be 6 to 105 years old", age)
	}
	for _, l := range []limit{
		{"heightCm", p.HeightCm, 90, 230, "cm", true},
		{"massKg", p.MassKg, 20, 250, "kg", false},
		{"legMm", p.LegMm, 400, 1300, "mm", false},
		{"footMm", p.FootMm, 140, 360, "mm", false},
		{"bigToeMm", p.BigToeMm, 20, 110, "mm", false},
		{"weeklyMinutes", float64(p.WeeklyMinutes), 0, 2000, "min", false},
		{"weeklyKm", p.WeeklyKm, 0, 350, "km", true},
		{"longestRunKm", p.LongestRunKm, 0, 250, "km", true},
		{"equipment.stepCm", p.Equipment.StepCm, 5, 60, "cm", true},
	} {
		if l.optional && l.value == 0 {
			continue
		}
		if l.value < l.low || l.value > l.high {
			return Refuse(l.field, "is %g; enter %g to %g %s", l.value, l.low, l.high, l.unit)
		}
	}
	if p.BigToeMm >= p.FootMm {
		return Refuse("bigToeMm", "is %g mm, as long as the foot (%g mm); measure from the joint to the tip", p.BigToeMm, p.FootMm)
	}
	if !slices.Contains(Goals, p.Goal) {
		return Refuse("goal", "is not one of the goals on the list")
	}
	if len(p.MinutesByDay) != 7 {
		return Refuse("minutesByDay", "needs seven figures, Monday to Sunday")
	}
	for i, m := range p.MinutesByDay {
		if m < 0 || m > 180 {
			return Refuse("minutesByDay", "has %d min on %s; enter 0 to 180", m, WeekdayName(i))
		}
	}
	for _, r := range p.Runs {
		if r.Weekday < 0 || r.Weekday > 6 || r.Minutes < 1 || r.Minutes > 600 {
			return Refuse("runs", "a run needs a weekday and 1 to 600 minutes")
		}
		if r.Quality != "easy" && r.Quality != "quality" && r.Quality != "long" {
			return Refuse("runs", "a run is easy, quality or long")
		}
	}
	for _, kg := range p.Equipment.DumbbellsKg {
		if kg <= 0 || kg > 100 {
			return Refuse("equipment.dumbbellsKg", "has %g kg; enter weights over 0 up to 100 kg", kg)
		}
	}
	for _, mm := range p.Equipment.PlatesMm {
		if mm <= 0 || mm > 100 {
			return Refuse("equipment.platesMm", "has %g mm; enter thicknesses over 0 up to 100 mm", mm)
		}
	}
	for _, s := range p.Symptoms {
		if !s.Region.Valid() || !s.Side.Valid() {
			return Refuse("symptoms", "each needs a place and a side from the list")
		}
		if s.Baseline < 0 || s.Baseline > 10 || s.Worst < 0 || s.Worst > 10 {
			return Refuse("symptoms", "pain is a whole number from 0 to 10")
		}
		if s.Since != "" && (!s.Since.Valid() || s.Since > today || s.Since < p.BirthDate) {
			return Refuse("symptoms", "“since” must be a day between birth and today")
		}
	}
	return nil
}

// WeekdayName returns the weekday's name, 0 Monday … 6 Sunday.
func WeekdayName(i int) string { return time.Weekday((i + 1) % 7).String() }
