package body

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func ExampleDose_String() {
	fmt.Println(Plain(Dose{Kind: Repetitions, Sets: 3, Reps: 8, LoadKg: 4}.String()))
	fmt.Println(Dose{Kind: Hold, Sets: 2, Extra: 1, Seconds: 30})
	fmt.Println(Dose{Kind: RMLoad, Sets: 4, Reps: 6})
	// Output:
	// 3 × 8 with 4 kg
	// (2 + 1) × 30 s
	// 4 × 6 at 6 RM
}

// 3 × 8 on one leg with 4 kg at 70 kg: 24 × 74 = 1776; on two legs without load: 24 × 35 = 840; a
// stretch that lifts nothing counts plain seconds.
func ExampleDose_Work() {
	fmt.Println(Dose{Kind: Repetitions, Sets: 3, Reps: 8, LoadKg: 4}.Work(1, 70))
	fmt.Println(Dose{Kind: Repetitions, Sets: 3, Reps: 8}.Work(0.5, 70))
	fmt.Println(Dose{Kind: Hold, Sets: 2, Seconds: 30}.Work(0, 70))
	// Output:
	// 1776
	// 840
	// 60
}

func TestExtraSetsAreTrainedButAreNotTheNotch(t *testing.T) {
	d := Dose{Kind: Repetitions, Sets: 2, Reps: 8}
	e := d
	e.Extra = 1
	assert.Equal(t, d.Work(1, 70), e.Work(1, 70))
	assert.Equal(t, 3, e.TotalSets())
	assert.Equal(t, 8, e.Amount())
	assert.Equal(t, 20, Dose{Kind: Ramp, Sets: 3, Seconds: 20}.Amount())
	assert.Equal(t, 12, d.WithAmount(12).Reps)
	assert.Equal(t, 45, Dose{Kind: Hold, Sets: 1, Seconds: 30}.WithAmount(45).Seconds)
}

func TestDates(t *testing.T) {
	d := Date("2026-03-01") // a Sunday
	assert.Equal(t, Date("2026-02-23"), d.Monday())
	assert.Equal(t, Date("2026-02-28"), d.Add(-1))
	assert.Equal(t, Date("2028-02-29"), Date("2028-02-28").Add(1), "a leap day")
	assert.Equal(t, 1, Date("2026-03-30").Sub("2026-03-29"), "the night the clocks change is one day")
	assert.Equal(t, "Sun 1 Mar", d.Short())
	assert.False(t, Date("2026-02-30").Valid())
	assert.False(t, Date("").Valid())
	assert.Equal(t, 17, AgeOn("2008-03-02", d), "the day before the birthday")
	assert.Equal(t, 18, AgeOn("2008-03-01", d))
	assert.Equal(t, "Monday", WeekdayName(0))
	assert.Equal(t, "Sunday", WeekdayName(6))
}

func TestPropertyDaysAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := Date("2026-01-01").Add(rapid.IntRange(-20000, 20000).Draw(t, "d"))
		n := rapid.IntRange(-1000, 1000).Draw(t, "n")
		if d.Add(n).Sub(d) != n || d.Sub(d.Monday()) < 0 || d.Sub(d.Monday()) > 6 || (d.Add(n) > d) != (n > 0) {
			t.Fatalf("%s + %d", d, n)
		}
	})
}

func TestSidesAndRegions(t *testing.T) {
	assert.True(t, Left.Touches(Both))
	assert.True(t, Both.Touches(Right))
	assert.False(t, Left.Touches(Right))
	assert.Equal(t, Right, Left.Other())
	assert.Equal(t, Both, Both.Other())
	assert.False(t, Side("up").Valid())
	assert.True(t, Heel.Valid())
	assert.False(t, Region("elbow").Valid())
	assert.Equal(t, "top of the foot", TopOfFoot.Name())
	assert.Equal(t, "elbow", Region("elbow").Name(), "an unknown place shows as it is")
}

func TestReasonsDoNotShareTheirFacts(t *testing.T) {
	a := Reason{Says: "x"}.See("one", "%d", 1)
	b, c := a.See("two", "b"), a.SeeOn("2026-03-01", "two", "c")
	assert.Equal(t, "b", b.Saw[1].Value)
	assert.Equal(t, "c", c.Saw[1].Value)
	assert.Equal(t, Date("2026-03-01"), c.Saw[1].Date)
	assert.Len(t, a.Saw, 1)
}

func valid() Profile {
	p := NewProfile()
	p.BirthDate, p.MassKg, p.LegMm, p.FootMm, p.BigToeMm = "1985-05-05", 70, 850, 260, 60
	return p
}

func TestProfileCheckNamesFieldAndLimit(t *testing.T) {
	const today = Date("2026-03-02")
	require.NoError(t, valid().Check(today))
	for _, c := range []struct {
		change func(*Profile)
		want   string
	}{
		{func(p *Profile) { p.BirthDate = "1890-01-01" }, "birthDate: gives an age of 136"},
		{func(p *Profile) { p.BirthDate = "2027-01-01" }, "birthDate: gives an age of -1"},
		{func(p *Profile) { p.BirthDate = "soon" }, "not a calendar day"},
		{func(p *Profile) { p.HeightCm = 900 }, "heightCm: is 900; enter 90 to 230 cm"},
		{func(p *Profile) { p.MassKg = 7 }, "massKg: is 7; enter 20 to 250 kg"},
		{func(p *Profile) { p.LegMm = 85 }, "legMm: is 85; enter 400 to 1300 mm"},
		{func(p *Profile) { p.FootMm, p.BigToeMm = 150, 150 }, "bigToeMm"},
		{func(p *Profile) { p.WeeklyMinutes = -3 }, "weeklyMinutes: is -3"},
		{func(p *Profile) { p.Goal = "win" }, "goal:"},
		{func(p *Profile) { p.MinutesByDay = []int{1, 2} }, "seven figures"},
		{func(p *Profile) { p.MinutesByDay = []int{0, 0, 500, 0, 0, 0, 0} }, "500 min on Wednesday"},
		{func(p *Profile) { p.Runs = []FixedRun{{Weekday: 7, Minutes: 30, Quality: "easy"}} }, "runs:"},
		{func(p *Profile) { p.Runs = []FixedRun{{Weekday: 1, Minutes: 30, Quality: "heroic"}} }, "easy, quality or long"},
		{func(p *Profile) { p.Equipment.DumbbellsKg = []float64{-4} }, "dumbbellsKg: has -4 kg"},
		{func(p *Profile) { p.Equipment.PlatesMm = []float64{900} }, "platesMm: has 900 mm"},
		{func(p *Profile) { p.Equipment.StepCm = 300 }, "equipment.stepCm: is 300"},
		{func(p *Profile) { p.Shoes = []Shoe{{Name: "pair", MassG: 5000}} }, "shoes[0]: mass is 5000; enter 30 to 900 g"},
		{func(p *Profile) { p.Shoes = []Shoe{{MassG: 250}} }, "give the shoe a name"},
		{func(p *Profile) { p.Shoes = []Shoe{{Name: "pair", Lengthwise: 3}} }, "enter 0 to 2.5"},
		{func(p *Profile) { p.Equipment.Bands = []string{"mighty"} }, "not a tension"},
		{func(p *Profile) { p.Equipment.RollersCm = []float64{90} }, "rollersCm: has 90 cm"},
		{func(p *Profile) { p.SittingHours = 30 }, "sittingHours: is 30; enter 0 to 24 h"},
		{func(p *Profile) { p.GoalDate = "then" }, "goalDate"},
		{func(p *Profile) { p.Sex = "?" }, "sex"},
		{func(p *Profile) { p.Symptoms = []Symptom{{Region: Heel, Side: Left, When: Times{"tuesdays"}}} }, "moments on the list"},
		{func(p *Profile) { p.Symptoms = []Symptom{{Region: "elbow", Side: Left}} }, "a place and a side"},
		{func(p *Profile) { p.Symptoms = []Symptom{{Region: Heel, Side: Left, Baseline: 11}} }, "whole number from 0 to 10"},
		{func(p *Profile) { p.Symptoms = []Symptom{{Region: Heel, Side: Left, Since: "2030-01-01"}} }, "between birth and today"},
	} {
		p := valid()
		c.change(&p)
		assert.ErrorContains(t, p.Check(today), c.want)
	}
}

func TestNormaliseFillsAndSorts(t *testing.T) {
	p := Profile{Equipment: Equipment{DumbbellsKg: []float64{8, 2}}, Runs: []FixedRun{{Weekday: 5}, {Weekday: 1}}}.Normalise()
	assert.Equal(t, []float64{2, 8}, p.Equipment.DumbbellsKg)
	assert.Equal(t, 1, p.Runs[0].Weekday)
	assert.NotNil(t, p.Symptoms)
	assert.NotNil(t, p.Cautions)
	assert.NotNil(t, p.Approaches)
	assert.Len(t, p.MinutesByDay, 7)
	assert.InDelta(t, 22.86, Profile{MassKg: 70, HeightCm: 175}.BMI(), 0.01) // 70 / 1.75²
	assert.Zero(t, Profile{MassKg: 70}.BMI(), "without a height there is none")
}

// Records of the first version held one moment as a word.
func TestTimesReadAnEarlierRecord(t *testing.T) {
	var s Symptom
	assert.NoError(t, json.Unmarshal([]byte(`{"region":"heel","when":"first_steps"}`), &s))
	assert.Equal(t, Times{"first_steps"}, s.When)
	assert.NoError(t, json.Unmarshal([]byte(`{"when":["night","rest"]}`), &s))
	assert.Equal(t, Times{"night", "rest"}, s.When)
	assert.NoError(t, json.Unmarshal([]byte(`{"when":""}`), &s))
	assert.Empty(t, s.When)
	assert.Error(t, json.Unmarshal([]byte(`{"when":7}`), &s))
}

// Days between dates agree with the standard library's calendar.
func TestPropertyDaysBetweenDates(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		day := func(name string) Date {
			return DateOf(time.Date(1900, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, rapid.IntRange(0, 73000).Draw(t, name)))
		}
		a, b := day("a"), day("b")
		if want := int(a.Time().Sub(b.Time()).Hours() / 24); a.Sub(b) != want {
			t.Fatalf("%s − %s = %d, want %d", a, b, a.Sub(b), want)
		}
	})
	if got := Date("soon").Sub("0001-01-01"); got != 0 {
		t.Fatalf("a malformed date counts as the zero time, got %d", got)
	}
}

// A heel recorded before its sole and its back were told apart is both, until it is told; the other leg is asked by itself.
func TestAHeelRecordedAsOneIsBothUntilItIsTold(t *testing.T) {
	p := Profile{Symptoms: []Symptom{{Region: Heel, Side: Both, Baseline: 3, Worst: 5, When: Times{}},
		{Region: Calf, Side: Left, Worst: 1, When: Times{}}}}.Normalise()
	assert.Equal(t, []Symptom{
		{Region: HeelSole, Side: Both, Baseline: 3, Worst: 5, When: Times{}, Which: true},
		{Region: HeelBack, Side: Both, Baseline: 3, Worst: 5, When: Times{}, Which: true}, {Region: Calf, Side: Left, Worst: 1, When: Times{}},
	}, p.Symptoms)
	assert.Equal(t, p, p.Normalise(), "read again it stays")
	assert.Equal(t, Sides, p.Heels())

	told := p.TellHeel(Left, HeelSole)
	assert.Equal(t, []Side{Right}, told.Heels())
	assert.Equal(t, told, told.TellHeel(Left, HeelBack), "told once")
	told = told.TellHeel(Right, HeelSole, HeelBack)
	assert.Empty(t, told.Heels())
	assert.ElementsMatch(t, []Symptom{{Region: HeelSole, Side: Left, Baseline: 3, Worst: 5, When: Times{}},
		{Region: HeelSole, Side: Right, Baseline: 3, Worst: 5, When: Times{}},
		{Region: HeelBack, Side: Right, Baseline: 3, Worst: 5, When: Times{}}, {Region: Calf, Side: Left, Worst: 1, When: Times{}}},
		told.Symptoms)

	again := Profile{Symptoms: []Symptom{{Region: Heel, Side: Left, Worst: 6, When: Times{}},
		{Region: HeelBack, Side: Left, Worst: 2, When: Times{}}}}.Normalise()
	assert.Equal(t, []Symptom{{Region: HeelSole, Side: Left, Worst: 6, When: Times{}, Which: true},
		{Region: HeelBack, Side: Left, Worst: 2, When: Times{}}}, again.Symptoms, "what was named since stays as it was named")
	assert.True(t, Heel.Valid(), "readable for ever")
	assert.Equal(t, "heel", Heel.Name())
}
