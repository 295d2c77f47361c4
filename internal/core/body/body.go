// Package body holds the nouns every room of the core shares: sides, regions, dates, doses and
// reasons.
package body

import (
	"fmt"
	"slices"
	"time"
)

// Side is the side of the body a value belongs to.
type Side string

// The sides. Both marks a value that belongs to the two sides alike.
const (
	Left  Side = "left"
	Right Side = "right"
	Both  Side = "both"
)

// Sides lists the two sides in reading order.
var Sides = []Side{Left, Right}

// OneOrBoth lists all a value may belong to.
var OneOrBoth = []Side{Left, Right, Both}

// Other returns the opposite side; Both stays Both.
func (s Side) Other() Side {
	switch s {
	case Left:
		return Right
	case Right:
		return Left
	}
	return s
}

// Touches reports whether two sides overlap; Both overlaps either.
func (s Side) Touches(t Side) bool { return s == t || s == Both || t == Both }

// Valid reports whether s is one of the three sides.
func (s Side) Valid() bool { return s == Left || s == Right || s == Both }

// Region is a place on the foot-and-leg map.
type Region string

// The regions of the foot-and-leg map. Whole stands for a sign that has no one place.
const (
	BigToe      Region = "big_toe"
	Ball        Region = "ball"
	Arch        Region = "arch"
	HeelSole    Region = "heel_sole"
	HeelBack    Region = "heel_back"
	TopOfFoot   Region = "top_of_foot"
	OuterFoot   Region = "outer_foot"
	InnerAnkle  Region = "inner_ankle"
	OuterAnkle  Region = "outer_ankle"
	FrontAnkle  Region = "front_ankle"
	Achilles    Region = "achilles"
	Calf        Region = "calf"
	Shin        Region = "shin"
	Knee        Region = "knee"
	AboveKnee   Region = "above_knee"
	WholePerson Region = "whole_person"
)

// Heel is the whole heel: what records held before its sole and its back were told apart, and where a heel bone is
// squeezed from both sides. It means both.
const Heel Region = "heel"

// NamedRegion is a region with the words shown for it.
type NamedRegion struct {
	ID   Region `json:"id"`
	Name string `json:"name"`
}

// RegionNames gives the words shown for each region, in map order from toe to knee.
var RegionNames = []NamedRegion{
	{BigToe, "big toe"}, {Ball, "ball of the foot"}, {Arch, "arch"}, {HeelSole, "heel (sole)"}, {HeelBack, "heel (back)"},
	{TopOfFoot, "top of the foot"}, {OuterFoot, "outer edge of the foot"}, {InnerAnkle, "inner ankle"},
	{OuterAnkle, "outer ankle"}, {FrontAnkle, "front of the ankle"}, {Achilles, "Achilles tendon"},
	{Calf, "calf"}, {Shin, "shin"}, {Knee, "knee"}, {AboveKnee, "above the knee"}, {WholePerson, "whole person"},
}

// Name returns the words shown for the region.
func (r Region) Name() string {
	for _, n := range RegionNames {
		if n.ID == r {
			return n.Name
		}
	}
	return string(r)
}

// Places are the places of the map that a region means: both of the heel's for the whole heel, else itself.
func (r Region) Places() []Region {
	if r == Heel {
		return []Region{HeelSole, HeelBack}
	}
	return []Region{r}
}

// Places writes out the whole heel among regions, each place once, in order.
func Places(rs []Region) []Region {
	out := make([]Region, 0, len(rs))
	for _, r := range rs {
		for _, p := range r.Places() {
			if !slices.Contains(out, p) {
				out = append(out, p)
			}
		}
	}
	return out
}

// Valid reports whether r is on the map, or the whole heel.
func (r Region) Valid() bool {
	return r == Heel || slices.ContainsFunc(RegionNames, func(n NamedRegion) bool { return n.ID == r })
}

// Date is a calendar day in the runner's own time zone, written YYYY-MM-DD. Dates compare as text.
type Date string

// DateOf returns the calendar day of t in t's own location.
func DateOf(t time.Time) Date { return Date(t.Format(time.DateOnly)) }

// Time returns midnight UTC of the day; the zero time for a malformed date.
func (d Date) Time() time.Time {
	t, _ := time.Parse(time.DateOnly, string(d))
	return t
}

// Valid reports whether d is a real calendar day.
func (d Date) Valid() bool { _, err := time.Parse(time.DateOnly, string(d)); return err == nil }

// Add returns the day n days later (earlier for negative n).
func (d Date) Add(n int) Date {
	const unix = 719_528 // number of 1970-01-01
	y, m, day := time.Unix(int64(d.number()+n-unix)*86_400, 0).UTC().Date()
	if y < 0 || y > 9999 {
		return DateOf(d.Time().AddDate(0, 0, n))
	}
	figure := func(n int) byte { return byte('0' + n%10) }
	return Date([]byte{figure(y / 1000), figure(y / 100), figure(y / 10), figure(y), '-', figure(int(m) / 10), figure(int(m)), '-',
		figure(day / 10), figure(day)})
}

// Sub returns the number of days from e to d.
func (d Date) Sub(e Date) int { return d.number() - e.number() }

// number counts the days since the year 0 of the Gregorian calendar; that of the zero time for a malformed
// date. It is asked thousands of times for one runner, so it reads the figures itself.
func (d Date) number() int {
	if len(d) != 10 || d[4] != '-' || d[7] != '-' {
		return 366
	}
	figure := func(i int) int {
		if d[i] < '0' || d[i] > '9' {
			return 1 << 20
		}
		return int(d[i] - '0')
	}
	y, m, day := 1000*figure(0)+100*figure(1)+10*figure(2)+figure(3), 10*figure(5)+figure(6), 10*figure(8)+figure(9)
	if max(y, m, day) >= 1<<20 {
		return 366
	}
	if m < 3 {
		y, m = y-1, m+12
	}
	return 365*y + y/4 - y/100 + y/400 + (153*m-457)/5 + day + 60 - 1
}

// Monday returns the Monday of d's week.
func (d Date) Monday() Date { return d.Add(-d.Weekday()) }

// Weekday is 0 on Monday to 6 on Sunday.
func (d Date) Weekday() int { return (int(d.Time().Weekday()) + 6) % 7 }

// Short returns the day as people write it, with its weekday: "Mon 2 Nov".
func (d Date) Short() string { return d.Time().Format("Mon 2 Jan") }

// AgeOn returns completed years from birth date b to day d.
func AgeOn(b, d Date) int {
	bt, dt := b.Time(), d.Time()
	n := dt.Year() - bt.Year()
	if dt.Month() < bt.Month() || (dt.Month() == bt.Month() && dt.Day() < bt.Day()) {
		n--
	}
	return n
}

// Provenance says where a number comes from.
type Provenance string

// Published figures are named with their source; Memory marks a published figure quoted from
// memory; Common is common practice without a source; Ours is a default of this product; Maths needs
// no source.
const (
	Published Provenance = "published"
	Memory    Provenance = "published, quoted from memory"
	Common    Provenance = "common practice, no source"
	Ours      Provenance = "our own default"
	Maths     Provenance = "follows from mathematics"
)

// Fact is one value a rule looked at.
type Fact struct {
	Name  string `json:"name"`
	Value string `json:"value"`
	Date  Date   `json:"date,omitempty"`
}

// Reason explains one conclusion: the rule that spoke, what it saw, the arithmetic with the numbers
// in, what it concluded, and where the rule comes from. Every figure and verdict carries one.
type Reason struct {
	Rule       string     `json:"rule"`
	Says       string     `json:"says"`
	Saw        []Fact     `json:"saw"`
	Formula    string     `json:"formula,omitempty"`
	House      []string   `json:"house"` // keys of the house rules used
	Provenance Provenance `json:"provenance"`
	Source     string     `json:"source,omitempty"`
}

// See returns the reason with one more fact.
func (r Reason) See(name, format string, args ...any) Reason {
	r.Saw = append(slices.Clone(r.Saw), Fact{Name: name, Value: fmt.Sprintf(format, args...)})
	return r
}

// SeeOn returns the reason with one more dated fact.
func (r Reason) SeeOn(d Date, name, format string, args ...any) Reason {
	r = r.See(name, format, args...)
	r.Saw[len(r.Saw)-1].Date = d
	return r
}

// FieldError names one input that was refused, and the limit it broke.
type FieldError struct {
	Field   string // path of the field, e.g. "trials[0].value"
	Message string // what is wrong and what to do
}

func (e *FieldError) Error() string { return e.Field + ": " + Plain(e.Message) }

// Refuse returns a FieldError.
func Refuse(field, format string, args ...any) error {
	return &FieldError{Field: field, Message: fmt.Sprintf(format, args...)}
}
