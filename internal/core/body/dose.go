package body

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// DoseKind is the way a dose is counted; work is comparable only within one kind.
type DoseKind string

// The dose kinds.
const (
	Repetitions DoseKind = "repetitions" // sets × repetitions at a load
	Hold        DoseKind = "hold"        // sets × seconds at a load
	Effort      DoseKind = "effort"      // sets × seconds to fatigue
	Ramp        DoseKind = "ramp"        // rounds of press and lift, s each
	RMLoad      DoseKind = "rm"          // sets × repetitions at a repetitions-maximum load
	Paces       DoseKind = "paces"       // stretches × paces
	Release     DoseKind = "release"     // spots × seconds of pressure
	Gathered    DoseKind = "gathered"    // seconds gathered in as many holds as needed
	Contacts    DoseKind = "contacts"    // sets × ground contacts
	Minutes     DoseKind = "minutes"     // one stretch of time
	Blocks      DoseKind = "blocks"      // blocks × seconds on, with seconds between, inside a run
)

// DoseKinds lists the kinds in the order they are explained.
var DoseKinds = []DoseKind{Repetitions, Hold, Effort, Ramp, RMLoad, Paces, Release, Gathered, Contacts, Minutes, Blocks}

// Dose is one exact amount of an exercise. It is the truth of a prescription; the notch on the rail
// is derived from it.
type Dose struct {
	Kind    DoseKind `json:"kind"`
	Sets    int      `json:"sets" minimum:"1"`
	Extra   int      `json:"extra,omitempty" doc:"extra sets for the weaker side"`
	Reps    int      `json:"reps,omitempty" doc:"repetitions, paces or contacts a set"`
	Seconds int      `json:"seconds,omitempty" doc:"per set or per repetition held, s"`
	OffS    int      `json:"offS,omitempty" doc:"seconds between blocks"`
	PerDay  int      `json:"perDay,omitempty" doc:"times a day; 0 once"`
	LoadKg  float64  `json:"loadKg,omitempty" doc:"external load, kg"`
	Band    string   `json:"band,omitempty" doc:"tension of the band: light, medium or strong"`
	Spm     int      `json:"spm,omitempty" doc:"beat of the metronome, steps a minute"`
	OfRM    int      `json:"ofRM,omitempty" doc:"done with the weight of this repetitions-maximum, fewer times"`
	WallCm  float64  `json:"wallCm,omitempty" doc:"big toe to the wall, cm"`
	StackMm float64  `json:"stackMm,omitempty" doc:"height of the stack under the big toe, mm"`
	Hands   string   `json:"hands,omitempty" enum:",two thirds,one third,fingertips" doc:"weight the hands take, in rough thirds"`
}

// Grade is what a dose is done with or against besides its count: a weight, a tension, a beat, a distance, a height, or
// the weight left to the hands.
type Grade struct {
	LoadKg  float64
	Band    string
	Spm     int
	WallCm  float64
	StackMm float64
	Hands   string
}

// Tensions are the bands from light to strong; HandShares the weight on the hands, the most first.
var (
	Tensions   = []string{"light", "medium", "strong"}
	HandShares = []string{"two thirds", "one third", "fingertips"}
)

// Grade is the dose without its count.
func (d Dose) Grade() Grade {
	return Grade{d.LoadKg, d.Band, d.Spm, d.WallCm, d.StackMm, d.Hands}
}

// At is the dose on another grade.
func (d Dose) At(g Grade) Dose {
	d.LoadKg, d.Band, d.Spm, d.WallCm, d.StackMm, d.Hands = g.LoadKg, g.Band, g.Spm, g.WallCm, g.StackMm, g.Hands
	return d
}

// Below reports a grade that asks less in anything.
func (g Grade) Below(h Grade) bool {
	return g.LoadKg < h.LoadKg || slices.Index(Tensions, g.Band) < slices.Index(Tensions, h.Band) || g.Spm < h.Spm ||
		g.WallCm < h.WallCm || g.StackMm < h.StackMm || slices.Index(HandShares, g.Hands) < slices.Index(HandShares, h.Hands)
}

// Same reports the same dose. The kilograms of a repetitions-maximum follow from the newest test of it: the dose stays.
func (d Dose) Same(o Dose) bool {
	if d.Kind == RMLoad {
		d.LoadKg, o.LoadKg = 0, 0
	}
	return d == o
}

// Reach is how far a dose goes beside its count and its weight: centimetres from the wall, millimetres of the stack, the
// share of the weight that is left on the feet; 1 where it says nothing of these.
func (d Dose) Reach() float64 {
	n := 1.0
	if d.WallCm > 0 {
		n *= d.WallCm
	}
	if d.StackMm > 0 {
		n *= d.StackMm
	}
	if i := slices.Index(HandShares, d.Hands); i >= 0 {
		n *= float64(i+1) / 3
	}
	return n
}

// WithoutExtra is the dose without the weaker side's extra set.
func (d Dose) WithoutExtra() Dose {
	d.Extra = 0
	return d
}

// Timed reports whether a set is counted in seconds.
func (d Dose) Timed() bool {
	switch d.Kind {
	case Repetitions, RMLoad, Paces, Contacts:
		return false
	}
	return true
}

// Unit names what one set counts.
func (d Dose) Unit() string {
	switch d.Kind {
	case Repetitions, RMLoad:
		return "repetitions"
	case Paces, Contacts:
		return string(d.Kind)
	}
	return "seconds"
}

// Amount is the counted quantity of one set, in Unit.
func (d Dose) Amount() int {
	if d.Timed() {
		return d.Seconds
	}
	return d.Reps
}

// WithAmount returns the dose with another quantity a set.
func (d Dose) WithAmount(n int) Dose {
	if d.Timed() {
		d.Seconds = n
	} else {
		d.Reps = n
	}
	return d
}

// TotalSets counts the weaker side's extra set too.
func (d Dose) TotalSets() int { return d.Sets + d.Extra }

// Times is how often a day the dose is done, at least once.
func (d Dose) Times() int { return max(1, d.PerDay) }

// Work is the dose's work in a day without extra sets: repetitions × system load (kg), seconds ×
// system load, rounds × seconds for ramps, paces, contacts. share is the part of body mass the
// exercise lifts (1 one leg, 0.5 two legs, 0 seated). An exercise that moves no body mass and no load
// counts plain repetitions or seconds. A distance, a height and the weight left on the feet multiply it.
func (d Dose) Work(share, massKg float64) float64 {
	system := share*massKg + d.LoadKg
	if system == 0 || d.Kind == Ramp {
		system = 1
	}
	return float64(d.Sets*max(d.Amount(), 1)*d.Times()) * system * d.Reach()
}

// minutes writes whole minutes as such, seconds otherwise.
func minutes(s int) string {
	if s%60 == 0 {
		return fmt.Sprintf("%d min", s/60)
	}
	return fmt.Sprintf("%d s", s)
}

// String writes the dose as a coach reads it: "2 × 9", "3 × 30 s", "3 × 8 with 4 kg", its weight and distance marked (In).
// ParseDose reads it back.
func (d Dose) String() string {
	s := d.counted()
	if d.LoadKg > 0 {
		s += " with " + In("kg", "%g", d.LoadKg)
	} else if d.OfRM > 0 {
		s += fmt.Sprintf(" with the weight of %d RM", d.OfRM)
	}
	if d.Band != "" {
		s += fmt.Sprintf(" with the %s band", d.Band)
	}
	if d.WallCm > 0 {
		s += ", " + In("cm", "%g", d.WallCm) + " from the wall"
	}
	if d.StackMm > 0 {
		s += fmt.Sprintf(" on %g mm", d.StackMm)
	}
	switch d.Hands {
	case "":
	case HandShares[2]:
		s += " with fingertips only"
	default:
		s += fmt.Sprintf(" with %s on the hands", d.Hands)
	}
	if d.Spm > 0 {
		s += fmt.Sprintf(" at %d a minute", d.Spm)
	}
	switch d.PerDay {
	case 0, 1:
	case 2:
		s += ", twice a day"
	default:
		s += fmt.Sprintf(", %d times a day", d.PerDay)
	}
	return s
}

// counted writes the sets and what each of them is.
func (d Dose) counted() string {
	sets := fmt.Sprint(d.Sets)
	if d.Extra > 0 {
		sets = fmt.Sprintf("(%d + %d)", d.Sets, d.Extra)
	}
	var s string
	switch d.Kind {
	case Hold:
		s = fmt.Sprintf("%s × %d s", sets, d.Seconds)
	case Effort:
		s = fmt.Sprintf("%s × %d s to fatigue", sets, d.Seconds)
	case Ramp:
		rounds := "rounds"
		if sets == "1" {
			rounds = "round"
		}
		s = fmt.Sprintf("%s %s of %d s press, %d s lift", sets, rounds, d.Seconds, d.Seconds)
	case RMLoad:
		s = fmt.Sprintf("%s × %d at %d RM", sets, d.Reps, d.Reps)
	case Paces:
		s = fmt.Sprintf("%s × %d paces", sets, d.Reps)
	case Contacts:
		s = fmt.Sprintf("%s × %d contacts", sets, d.Reps)
	case Release:
		spots := "spots"
		if sets == "1" {
			spots = "spot"
		}
		s = fmt.Sprintf("%s %s × %d s", sets, spots, d.Seconds)
	case Gathered:
		s = fmt.Sprintf("%d s in all", d.Seconds)
		if sets != "1" {
			s = sets + " × " + s
		}
	case Minutes:
		switch s = minutes(d.Seconds); {
		case d.Seconds < 60:
			s += " on end"
		case d.Seconds%60 > 0:
			s = fmt.Sprintf("%d min %d s", d.Seconds/60, d.Seconds%60)
		}
		if sets != "1" {
			s = sets + " × " + s
		}
	case Blocks:
		s = fmt.Sprintf("%s × %s, %s between", sets, minutes(d.Seconds), minutes(d.OffS))
	default:
		s = fmt.Sprintf("%s × %d", sets, d.Reps)
		if d.Seconds > 0 {
			s += fmt.Sprintf(", %d s hold", d.Seconds)
		}
	}
	return s
}

const span = `(\d+) (s|min)`

// written are the ways a dose is written, each with what makes a Dose of the numbers in it.
var written = []struct {
	shape *regexp.Regexp
	dose  func(n []string) Dose
}{
	{regexp.MustCompile(`^(\d+) × (\d+) at (\d+) RM$`), func(n []string) Dose { return Dose{Kind: RMLoad, Sets: num(n[1]), Reps: num(n[2])} }},
	{regexp.MustCompile(`^(\d+) × (\d+) paces$`), func(n []string) Dose { return Dose{Kind: Paces, Sets: num(n[1]), Reps: num(n[2])} }},
	{regexp.MustCompile(`^(\d+) × (\d+) contacts$`), func(n []string) Dose { return Dose{Kind: Contacts, Sets: num(n[1]), Reps: num(n[2])} }},
	{regexp.MustCompile(`^(\d+) × (\d+), (\d+) s hold$`), func(n []string) Dose {
		return Dose{Kind: Repetitions, Sets: num(n[1]), Reps: num(n[2]), Seconds: num(n[3])}
	}},
	{regexp.MustCompile(`^(\d+) × (\d+)$`), func(n []string) Dose { return Dose{Kind: Repetitions, Sets: num(n[1]), Reps: num(n[2])} }},
	{regexp.MustCompile(`^(\d+) × ` + span + `, ` + span + ` between$`), func(n []string) Dose {
		return Dose{Kind: Blocks, Sets: num(n[1]), Seconds: secs(n[2], n[3]), OffS: secs(n[4], n[5])}
	}},
	{regexp.MustCompile(`^(\d+) × (\d+) s$`), func(n []string) Dose { return Dose{Kind: Hold, Sets: num(n[1]), Seconds: num(n[2])} }},
	{regexp.MustCompile(`^(\d+) × (\d+) s to fatigue$`), func(n []string) Dose {
		return Dose{Kind: Effort, Sets: num(n[1]),
			Seconds: num(n[2])}
	}},
	{regexp.MustCompile(`^(\d+) rounds? of (\d+) s press, (\d+) s lift$`),
		func(n []string) Dose { return Dose{Kind: Ramp, Sets: num(n[1]), Seconds: num(n[2])} }},
	{regexp.MustCompile(`^(\d+) spots? × (\d+) s$`), func(n []string) Dose {
		return Dose{Kind: Release, Sets: num(n[1]),
			Seconds: num(n[2])}
	}},
	{regexp.MustCompile(`^(?:(\d+) × )?(\d+) s in all$`), func(n []string) Dose {
		return Dose{Kind: Gathered, Sets: max(1, num(n[1])),
			Seconds: num(n[2])}
	}},
	{regexp.MustCompile(`^(?:(\d+) × )?(\d+) min(?: (\d+) s)?$`), func(n []string) Dose {
		return Dose{Kind: Minutes, Sets: max(1, num(n[1])), Seconds: 60*num(n[2]) + num(n[3])}
	}},
	{regexp.MustCompile(`^(?:(\d+) × )?(\d+) s on end$`), func(n []string) Dose {
		return Dose{Kind: Minutes, Sets: max(1, num(n[1])), Seconds: num(n[2])}
	}},
}

var (
	perDay  = regexp.MustCompile(`^(.*), (?:(twice)|(\d+) times) a day$`)
	atSpm   = regexp.MustCompile(`^(.*) at (\d+) a minute$`)
	withKit = regexp.MustCompile(`^(.*) with (?:([\d.]+) kg|the (light|medium|strong) band)$`)
	toWall  = regexp.MustCompile(`^(.*), ([\d.]+) cm from the wall$`)
	onStack = regexp.MustCompile(`^(.*) on ([\d.]+) mm$`)
	onHands = regexp.MustCompile(`^(.*) with (?:(two thirds|one third) on the hands|(fingertips) only)$`)
)

func num(s string) int { n, _ := strconv.Atoi(s); return n }

func secs(n, unit string) int {
	if unit == "min" {
		return 60 * num(n)
	}
	return num(n)
}

// ParseDose reads a dose as String writes it; "x" and "*" stand for "×". The error says how doses are
// written.
func ParseDose(text string) (Dose, error) {
	s := strings.Join(strings.Fields(strings.NewReplacer("×", " × ", "x", " × ", "*", " × ").Replace(Plain(text))), " ")
	rest, times, spm, kg, band := s, 0, 0, 0.0, ""
	if m := perDay.FindStringSubmatch(rest); m != nil {
		rest, times = m[1], num(m[3])
		if m[2] != "" {
			times = 2
		}
	}
	if m := atSpm.FindStringSubmatch(rest); m != nil {
		rest, spm = m[1], num(m[2])
	}
	var g Grade
	if m := onHands.FindStringSubmatch(rest); m != nil {
		rest, g.Hands = m[1], m[2]+m[3]
	}
	if m := onStack.FindStringSubmatch(rest); m != nil {
		rest = m[1]
		g.StackMm, _ = strconv.ParseFloat(m[2], 64)
	}
	if m := toWall.FindStringSubmatch(rest); m != nil {
		rest = m[1]
		g.WallCm, _ = strconv.ParseFloat(m[2], 64)
	}
	if m := withKit.FindStringSubmatch(rest); m != nil {
		rest, band = m[1], m[3]
		kg, _ = strconv.ParseFloat(m[2], 64)
	}
	for _, w := range written {
		m := w.shape.FindStringSubmatch(rest)
		if m == nil {
			continue
		}
		d := w.dose(m)
		g.Spm, g.LoadKg, g.Band = spm, kg, band
		d = d.At(g)
		d.PerDay = times
		if d.Sets < 1 || d.Amount() < 1 || d.Sets > 30 || d.Amount() > 7200 || kg > 200 || g.WallCm > 40 || g.StackMm > 200 {
			return Dose{}, fmt.Errorf("“%s”: at least one set of one, at most 30 sets and two hours", text)
		}
		if d.Kind == RMLoad && num(m[3]) != d.Reps {
			return Dose{}, fmt.Errorf("“%s”: the repetitions-maximum is the repetitions done, such as 3 × 12 at 12 RM", text)
		}
		return d, nil
	}
	return Dose{}, fmt.Errorf("“%s” is not a dose; write it like “3 × 10”, “3 × 8, 2 s hold”, “3 × 30 s”, “2 × 60 s to fatigue”, “3 × 12 at "+
		"12 RM”, “2 × 20 paces”, “3 × 20 contacts”, “2 spots × 30 s”, “60 s in all”, “5 min” or “4 × 1 min, 4 min between”", text)
}
