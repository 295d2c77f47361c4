// Package screen holds the battery of tests, what a trial may be, what the trials come to, the
// findings read from them, and how a retest compares.
package screen

import (
	"slices"

	"notchback/internal/core/body"
)

// Fault is something seen during a trial. An invalidating fault keeps the trial from counting; one
// that fails counts as short whatever the figure; one that refers asks for a clinician.
type Fault struct {
	ID          string `json:"id"`
	Name        string `json:"name"`
	Invalidates bool   `json:"invalidates"`
	Fails       bool   `json:"fails"`
	Refers      bool   `json:"refers"`
}

// Kind is how a measure is entered and read.
type Kind string

// The kinds.
const (
	Figure  Kind = "figure"  // a typed figure
	Count   Kind = "count"   // repetitions, counted to a beat where Beat is set
	Hold    Kind = "hold"    // seconds by stopwatch, up to Max
	Ability Kind = "ability" // 0–3, higher is better
	Blemish Kind = "blemish" // a fault score 0–3, lower is better
	Class   Kind = "class"   // one of the options; the value is the option's place in the list
	Pain    Kind = "pain"    // 0–10
	Parts   Kind = "parts"   // computed from several figures
	Cadence Kind = "cadence" // footfalls of 15 s, or tapped along
)

// EntryKinds lists them.
var EntryKinds = []Kind{Figure, Count, Hold, Ability, Blemish, Class, Pain, Parts, Cadence}

// Option is one answer of a class, or one anchor of a score.
type Option struct {
	Name     string  `json:"name"`
	Verdict  Verdict `json:"verdict"`
	Severity float64 `json:"severity"`
}

// Part is one of the figures a value is computed from.
type Part struct {
	Name string  `json:"name"`
	Unit string  `json:"unit"`
	Min  float64 `json:"min"`
	Max  float64 `json:"max"`
	Step float64 `json:"step"`
}

// Measure is one entry of the registry of measures: what is entered at a station.
type Measure struct {
	ID         string        `json:"id"`
	Name       string        `json:"name"`
	Station    string        `json:"station"`
	Kind       Kind          `json:"kind"`
	Unit       string        `json:"unit"`
	Sided      bool          `json:"sided" doc:"taken left and right"`
	Trials     int           `json:"trials" doc:"trials asked for"`
	MaxTrials  int           `json:"maxTrials"`
	Min        float64       `json:"min"`
	Max        float64       `json:"max"`
	Step       float64       `json:"step"`
	Better     string        `json:"better" enum:"higher,lower,inside,none"`
	Cap        float64       `json:"cap" doc:"the test ends there, and reaching it is clear; 0 none"`
	Protocol   int           `json:"protocol" doc:"version of the way it is taken"`
	How        []string      `json:"how"`
	Faults     []Fault       `json:"faults"`
	Stops      []Fault       `json:"stops" doc:"reasons a count was stopped; empty for others"`
	Options    []Option      `json:"options" doc:"answers of a class, anchors of a score"`
	Parts      []Part        `json:"parts"`
	Condition  string        `json:"condition"`
	Beat       float64       `json:"beat" doc:"seconds a repetition; 0 no beat"`
	Tool       string        `json:"tool" enum:",stack,inclinometer,clip" doc:"instrument that fills it in"`
	InContext  bool          `json:"inContext" doc:"recorded with pace, speed, slope, surface, shoes and freshness"`
	Place      bool          `json:"place" doc:"asks where it was felt"`
	Core       bool          `json:"core" doc:"part of the core screen"`
	Seconds    int           `json:"seconds" doc:"what it takes, both sides and rests"`
	Strength   bool          `json:"strength" doc:"retested after the longer interval"`
	Limiter    string        `json:"limiter"`
	Regions    []body.Region `json:"regions" doc:"what it loads: an open warning sign there locks it"`
	provenance body.Provenance
	source     string
}

// Station is one stop of the screen, with its measures.
type Station struct {
	ID       string   `json:"id"`
	Name     string   `json:"name"`
	Measures []string `json:"measures"`
	Kit      string   `json:"kit"`
	Rest     string   `json:"rest" doc:"what to rest before it; empty: go on"`
}

// FindMeasure returns the measure with this id.
func FindMeasure(id string) (Measure, bool) {
	i, ok := index[id]
	if !ok {
		return Measure{}, false
	}
	return Measures[i], true
}

var index = func() map[string]int {
	m := make(map[string]int, len(Measures))
	for i, x := range Measures {
		m[x.ID] = i
	}
	return m
}()

// Stations lists the stations with their measures in running order: what tires the foot comes last.
var Stations = func() []Station {
	out := slices.Clone(stations)
	for i := range out {
		for _, m := range Measures {
			if m.Station == out[i].ID {
				out[i].Measures = append(out[i].Measures, m.ID)
			}
		}
	}
	return out
}()

// Sides lists the sides a measure is taken on: left and right, or both at once.
func (m Measure) Sides() []body.Side {
	if m.Sided {
		return body.Sides
	}
	return []body.Side{body.Both}
}
