package catalog

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"notchback/internal/core/body"
)

// Course is how a dose is counted and timed while it is done, set by set. A set is its beats, so many times over.
type Course struct {
	Sets    int    `json:"sets"`
	RestS   int    `json:"restS,omitempty" doc:"seconds between sets, or between spots"`
	Repeats int    `json:"repeats" doc:"how often the beats are done in a set"`
	Beats   []Beat `json:"beats"`
	Part    string `json:"part" enum:"repetition,pace,contact,hold,spot,round,stretch" doc:"what one time through the beats is"`
	Breaks  bool   `json:"breaks,omitempty" doc:"a set may be gathered: a break lets go, the seconds held stay"`
	Limit   bool   `json:"limit,omitempty" doc:"to fatigue: the seconds are a ceiling"`
	Spm     int    `json:"spm,omitempty" doc:"beat of the metronome, steps a minute"`
}

// Beat is one movement, or one stillness, of a course.
type Beat struct {
	Say string  `json:"say" doc:"one word or two"`
	S   float64 `json:"s" doc:"seconds it takes"`
	To  int     `json:"to" doc:"where the movement or the effort stands at its end, 0–100"`
}

// rampSteps are the efforts of a ramp, %, and rampS the seconds of each: common practice, no source.
var rampSteps = []int{20, 40, 60, 80, 100}

const rampS = 10

// Course is how a dose of the exercise is counted; with two left in reserve a ramp stops at 80 %.
func (x Exercise) Course(d body.Dose, reserve bool) Course {
	c := Course{Sets: d.TotalSets(), RestS: x.RestS, Repeats: 1, Spm: d.Spm}
	one := func(part, say string, s float64, to int) Course {
		c.Part, c.Beats = part, []Beat{{say, s, to}}
		return c
	}
	switch d.Kind {
	case body.Repetitions, body.RMLoad:
		c.Part, c.Repeats, c.Beats = "repetition", d.Reps, repetition(x.Tempo, x.RepS, float64(d.Seconds))
	case body.Paces:
		c.Repeats = d.Reps
		return one("pace", "pace", x.RepS, 100)
	case body.Contacts:
		c.Repeats = d.Reps
		return one("contact", "bounce", x.RepS, 100)
	case body.Hold:
		c.Breaks = x.Class == Isometric
		return one("hold", "hold", float64(d.Seconds), 100)
	case body.Gathered:
		c.Breaks = true
		return one("hold", "hold", float64(d.Seconds), 100)
	case body.Effort:
		c.Limit = true
		return one("stretch", "go", float64(d.Seconds), 100)
	case body.Release:
		return one("spot", "rest on it", float64(d.Seconds), 100)
	case body.Blocks:
		c.RestS = d.OffS
		return one("stretch", "on", float64(d.Seconds), 100)
	case body.Ramp:
		c.Part = "round"
		if x.Class == Isometric {
			for _, to := range rampSteps {
				if !reserve || to <= 80 {
					c.Beats = append(c.Beats, Beat{strconv.Itoa(to) + " %", rampS, to})
				}
			}
		}
		most := 100
		if n := len(c.Beats); n > 0 {
			most = c.Beats[n-1].To
		}
		c.Beats = append(c.Beats, Beat{"press down", float64(d.Seconds), most}, Beat{"lift", float64(d.Seconds), most})
	default:
		return one("stretch", "go", float64(d.Seconds), 100)
	}
	return c
}

// timed is a part of a tempo with its seconds: "3 s down".
var timed = regexp.MustCompile(`^(\d+(?:\.\d+)?) s (.+)$`)

// still are the words of a tempo at which nothing moves.
var still = []string{"top", "hold", "pause"}

// repetition reads a tempo such as "1 s up, 2 s top, 2 s down" into beats. A part without seconds takes what is left of the
// repetition, at least a second; without a tempo, or where it cannot be read, it is there and back. A hold stands at the top.
func repetition(tempo string, repS, holdS float64) []Beat {
	repS = max(1, repS)
	beats, left, open := []Beat{}, repS, -1
	for i, part := range strings.Split(tempo, ", ") {
		m := timed.FindStringSubmatch(part)
		if m == nil {
			if open >= 0 || part == "" { // two without seconds, or none at all
				beats = nil
				break
			}
			open, beats = i, append(beats, Beat{Say: part})
			continue
		}
		s, _ := strconv.ParseFloat(m[1], 64)
		left -= s
		beats = append(beats, Beat{Say: m[2], S: s})
	}
	if open >= 0 && beats != nil {
		beats[open].S = max(1, left)
	}
	if len(beats) < 2 {
		half := math.Round(repS*5) / 10
		beats = []Beat{{Say: "up", S: half}, {Say: "down", S: repS - half}}
	}
	at := 0
	for i := range beats {
		switch {
		case slices.Contains(still, beats[i].Say) && at > 0:
		case i == len(beats)-1:
			at = 0
		default:
			at = 100
		}
		beats[i].To = at
	}
	if holdS > 0 {
		beats = holding(beats, holdS)
	}
	return beats
}

// holding puts a hold at the top of a repetition, in the place of one the tempo has.
func holding(beats []Beat, s float64) []Beat {
	for i, b := range beats {
		if slices.Contains(still, b.Say) {
			beats[i].S = max(b.S, s)
			return beats
		}
	}
	top := slices.IndexFunc(beats, func(b Beat) bool { return b.To == 100 })
	return slices.Insert(beats, top+1, Beat{"hold", s, 100})
}

// Seconds is how long the sets take without the rests.
func (c Course) Seconds() float64 {
	one := 0.0
	for _, b := range c.Beats {
		one += b.S
	}
	return one * float64(c.Repeats*c.Sets)
}
