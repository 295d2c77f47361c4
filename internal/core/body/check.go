package body

import (
	"errors"
	"fmt"
	"slices"
	"strings"
)

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
	for _, check := range []func(today Date) error{p.checkFigures, p.checkDays, p.checkWords, p.checkRaces, p.checkKit, p.checkCautions,
		p.checkSymptoms} {
		if err := check(today); err != nil {
			return err
		}
	}
	return nil
}

// checkFigures refuses what nobody measures.
func (p Profile) checkFigures(Date) error {
	for _, l := range []limit{
		{"heightCm", p.HeightCm, 90, 230, "cm", true},
		{"massKg", p.MassKg, 20, 250, "kg", true},
		{"legMm", p.LegMm, 400, 1300, "mm", true},
		{"footMm", p.FootMm, 140, 360, "mm", true},
		{"footWidthMm", p.FootWidthMm, 50, 150, "mm", true},
		{"bigToeMm", p.BigToeMm, 20, 110, "mm", true},
		{"weeklySessions", float64(p.WeeklySessions), 0, 21, "", true},
		{"sittingHours", p.SittingHours, 0, 24, "h", true},
		{"standingHours", p.StandingHours, 0, 24, "h", true},
		{"weeklyMinutes", float64(p.WeeklyMinutes), 0, 2000, "min", false},
		{"weeklyKm", p.WeeklyKm, 0, 350, "km", true},
		{"longestRunKm", p.LongestRunKm, 0, 250, "km", true},
		{"sessionMinutes", float64(p.SessionMinutes), 5, 180, "min", true},
		{"equipment.stepCm", p.Equipment.StepCm, 5, 60, "cm", true},
	} {
		if l.optional && l.value == 0 {
			continue
		}
		if l.value < l.low || l.value > l.high {
			return Refuse(l.field, "is %g; enter %g to %g %s", l.value, l.low, l.high, l.unit)
		}
	}
	if p.FootMm > 0 && p.BigToeMm >= p.FootMm {
		return Refuse("bigToeMm", "is %g mm, as long as the foot (%g mm); measure from the joint to the tip", p.BigToeMm, p.FootMm)
	}
	return nil
}

// checkDays refuses weeks that are none.
func (p Profile) checkDays(Date) error {
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
		if r.Time != "" && r.Time != "morning" && r.Time != "evening" {
			return Refuse("runs", "a run is in the morning or in the evening")
		}
	}
	return nil
}

// checkWords refuses answers that stand on no list.
func (p Profile) checkWords(today Date) error {
	if !slices.Contains(Goals, p.Goal) {
		return Refuse("goal", "is not one of the goals on the list")
	}
	if p.Sex != "" && p.Sex != "female" && p.Sex != "male" {
		return Refuse("sex", "is left empty, or female or male where a norm needs it")
	}
	if p.GoalDate != "" && (!p.GoalDate.Valid() || p.GoalDate < today.Add(-366)) {
		return Refuse("goalDate", "is not a day to come; write it as year-month-day, or leave it empty")
	}
	for i, x := range p.Structural {
		if !x.Side.Valid() || strings.TrimSpace(x.Word) == "" || len(p.Structural) > 20 {
			return Refuse(fmt.Sprintf("structural[%d]", i), "needs a side and a word why")
		}
	}
	return nil
}

// checkRaces refuses races that are too close to train for.
func (p Profile) checkRaces(today Date) error {
	for i, r := range p.Races {
		if !r.On.Valid() || r.On < today.Add(-366) || r.Km < 0 || r.Km > 400 || len(p.Races) > 20 {
			return Refuse(fmt.Sprintf("races[%d]", i), "needs a day of the last year or to come, and 0 to %s; at most 20 races",
				In("km", "%g", 400))
		}
	}
	goals := p.GoalRaces()
	for i := 1; i < len(goals); i++ {
		if goals[i].On >= today && goals[i].On.Sub(goals[i-1].On) < 28 {
			return Refuse(fmt.Sprintf("races[%d]", slices.Index(p.Races, goals[i])),
				"is less than four weeks after the race on %s: mark one of them as run as a quality run", goals[i-1].On)
		}
	}
	return nil
}

// checkKit refuses shoes and kit that nobody owns.
func (p Profile) checkKit(Date) error {
	if len(p.Shoes) > 12 || len(p.Symptoms) > 30 {
		return Refuse("shoes", "at most 12 pairs and 30 symptoms")
	}
	for i, s := range p.Shoes {
		if err := s.check(); err != nil {
			return Refuse(fmt.Sprintf("shoes[%d]", i), "%s", err)
		}
	}
	for _, b := range p.Equipment.Bands {
		if b != "light" && b != "medium" && b != "strong" {
			return Refuse("equipment.bands", "%q is not a tension; light, medium or strong", b)
		}
	}
	for _, cm := range p.Equipment.RollersCm {
		if cm <= 0 || cm > 40 {
			return Refuse("equipment.rollersCm", "has %s; enter diameters over 0 up to %s", In("cm", "%g", cm), In("cm", "%g", 40))
		}
	}
	for _, kg := range p.Equipment.DumbbellsKg {
		if kg <= 0 || kg > 100 {
			return Refuse("equipment.dumbbellsKg", "has %s; enter weights over 0 up to %s", In("kg", "%g", kg), In("kg", "%g", 100))
		}
	}
	for _, mm := range p.Equipment.PlatesMm {
		if mm <= 0 || mm > 100 {
			return Refuse("equipment.platesMm", "has %g mm; enter thicknesses over 0 up to 100 mm", mm)
		}
	}
	return nil
}

// checkCautions refuses what no caution asks.
func (p Profile) checkCautions(Date) error {
	for id, n := range p.CautionNotes {
		for _, d := range []Date{n.Answered, n.On, n.Until} {
			if d != "" && !d.Valid() {
				return Refuse("cautionNotes."+id, "has a day that is not on the calendar; write it as year-month-day")
			}
		}
		if n.Side != "" && !n.Side.Valid() {
			return Refuse("cautionNotes."+id, "the leg is left, right or both")
		}
	}
	return nil
}

// checkSymptoms refuses pain that is nowhere, or of no size.
func (p Profile) checkSymptoms(today Date) error {
	for _, s := range p.Symptoms {
		if !s.Region.Valid() || !s.Side.Valid() {
			return Refuse("symptoms", "each needs a place and a side from the list")
		}
		if s.Baseline < 0 || s.Baseline > 10 || s.Worst < 0 || s.Worst > 10 {
			return Refuse("symptoms", "pain is a whole number from 0 to 10")
		}
		for _, w := range s.When {
			if !slices.ContainsFunc(SymptomTimes, func(t Moment) bool { return t.ID == w }) {
				return Refuse("symptoms", "%q is not one of the moments on the list", w)
			}
		}
		if s.Since != "" && (!s.Since.Valid() || s.Since > today || s.Since < p.BirthDate) {
			return Refuse("symptoms", "“since” must be a day between birth and today")
		}
	}
	return nil
}

func (s Shoe) check() error {
	for _, l := range []limit{
		{"mass", s.MassG, 30, 900, "g", true}, {"heel stack", s.HeelMm, 0, 80, "mm", true}, {"forefoot stack", s.ForefootMm, 0, 80, "mm", true},
		{"devices", float64(s.Technologies), 0, 9, "", true}, {"lengthwise flexibility", s.Lengthwise, 0, 2.5, "", true},
		{"twisting flexibility", s.Twisting, 0, 2.5, "", true},
		{"toe-box width", s.WidthMm, 50, 150, "mm", true}, {"distance", s.Km, 0, 20000, "km", true},
	} {
		if l.optional && l.value == 0 {
			continue
		}
		if l.value < l.low || l.value > l.high {
			return fmt.Errorf("%s is %g; enter %g to %g %s", l.field, l.value, l.low, l.high, l.unit)
		}
	}
	if strings.TrimSpace(s.Name) == "" {
		return errors.New("give the shoe a name, such as “daily pair”")
	}
	return nil
}
