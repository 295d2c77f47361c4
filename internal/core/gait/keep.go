package gait

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

// Suggestion is a still worth setting points on, found from the marks.
type Suggestion struct {
	Frame  int       `json:"frame"`
	Side   body.Side `json:"side" enum:"left,right"`
	At     Moment    `json:"at"`
	Points []string  `json:"points" doc:"points asked there"`
}

// Reading is everything a clip comes to.
type Reading struct {
	Figures     []Figure       `json:"figures"`
	Warnings    []string       `json:"warnings"`
	Suggestions []Suggestion   `json:"suggestions"`
	Takes       []screen.Trial `json:"takes" doc:"what goes into the screen when the clip is kept, without ids"`
}

// Read checks a clip and reads its numbers.
func Read(c Clip, b Body, h house.Rules) (Reading, error) {
	if err := c.Check(); err != nil {
		return Reading{}, err
	}
	r := Reading{Figures: Times(c, h), Warnings: c.warnings(h), Suggestions: c.Suggest()}
	if c.View == "side" {
		r.Figures = append(r.Figures, Forces(c, b, h)...)
	}
	r.Figures = append(r.Figures, Angles(c, b, h)...)
	r.Takes = Trials(c, r.Figures, h)
	return r, nil
}

func (c Clip) warnings(h house.Rules) []string {
	out := []string{}
	if n := len(c.Missing); n > 0 {
		out = append(out, fmt.Sprintf("%d of %d frames are missing or repeat the one before; times across a gap carry its error", n, c.Frames))
	}
	if c.CaptureFps < h.Get("clip.strike.fps") {
		out = append(out, fmt.Sprintf("At %g frames a second: cadence yes; contact and flight to ± %.0f ms; no comparison of sides, no strike "+
			"class from an angle. Film at %g or more.", c.CaptureFps, 1000*1.96/(math.Sqrt(6)*c.CaptureFps), h.Get("clip.strike.fps")))
	}
	if len(c.Stills) > 0 && c.Scale == nil {
		out = append(out, "No known length is marked: centimetres, and shares of leg length, need one.")
	}
	out = append(out, c.gaps()...)
	k := newClock(c, h)
	for _, side := range body.Sides {
		for _, s := range k.flights(side) {
			if k.length(s) < 0 {
				return append(out, fmt.Sprintf("Both feet are down at frame %d: walking, or a mark on the wrong frame.", k.events[s.to].Frame))
			}
		}
	}
	return out
}

// Suggest lists the stills the marks offer: the first and the last frame of each contact, its middle,
// and the middle of each flight.
func (c Clip) Suggest() []Suggestion {
	k := newClock(c, house.Rules{})
	out := []Suggestion{}
	add := func(frame int, side body.Side, at Moment) {
		ids := []string{}
		for _, p := range Spots(c.View) {
			for _, m := range p.At {
				if m == at {
					ids = append(ids, p.ID)
				}
			}
		}
		if len(ids) > 0 && frame >= 0 && frame < c.Frames {
			out = append(out, Suggestion{c.there(frame), side, at, ids})
		}
	}
	for _, side := range body.Sides {
		for _, s := range k.contacts(side) {
			from, to := k.events[s.from].Frame, k.events[s.to].Frame
			add(from, side, AtTouchdown)
			add((from+to)/2, side, MidStance)
			add(to-1, side, AtToeOff)
		}
		for _, s := range k.flights(side) {
			if s.to > s.from {
				add((k.events[s.from].Frame+k.events[s.to].Frame)/2, side, MidFlight)
			}
		}
	}
	return out
}

// there is the frame, or the next one that is in the file.
func (c Clip) there(frame int) int {
	for frame < c.Frames-1 && slices.Contains(c.Missing, frame) {
		frame++
	}
	return frame
}

// measureOf says which measure of the battery a figure of a clip is.
var measureOf = map[string]string{
	"cadence": body.GaitCadence, "contact": body.GaitContact, "flight": body.GaitFlight, "oscillation": body.GaitOscillation,
	"trunk":      body.GaitTrunk,
	"overstride": body.GaitOverstride, "shin": body.GaitShinAngle, "knee": body.GaitKneeLanding, "hip_extension": body.GaitHipExtension,
	"strike": body.GaitStrikeAngle, "crossover": body.GaitCrossover,
}

// Trials are the figures of a clip as trials of the screen, each with its own standard error. A figure
// that cannot answer its question is left out: a strike angle below the least capture rate is one.
func Trials(c Clip, figures []Figure, h house.Rules) []screen.Trial {
	out := []screen.Trial{}
	context := c.Context
	for _, f := range figures {
		id, ok := measureOf[f.ID]
		m, found := screen.FindMeasure(id)
		if !ok || !found || f.N == 0 || (f.ID == "strike" && (c.CaptureFps < h.Get("clip.strike.fps") || f.Half == 0)) ||
			(f.ID == "cadence" && !f.Answers) {
			continue
		}
		t := screen.Trial{Measure: id, Side: f.Side, Value: math.Round(f.Value*10) / 10, SE: f.SE, Parts: []float64{}, Faults: []string{},
			Context: &context}
		if f.ID == "crossover" {
			t.SE = 0
			for i, o := range m.Options {
				if o.Name == f.Word {
					t.Value = float64(i)
				}
			}
		}
		if t.Value < m.Min || t.Value > m.Max {
			continue
		}
		out = append(out, t)
	}
	return out
}

// Difference is one figure of two clips of the same runner.
type Difference struct {
	ID     string      `json:"id"`
	Name   string      `json:"name"`
	Unit   string      `json:"unit"`
	Side   body.Side   `json:"side" doc:"of the first clip"`
	To     body.Side   `json:"to" doc:"of the second clip"`
	First  float64     `json:"first"`
	Second float64     `json:"second"`
	Change float64     `json:"change" doc:"second minus first"`
	Half   float64     `json:"half" doc:"half-width of its 95 % interval"`
	Word   string      `json:"word" enum:"more,less,no difference seen"`
	Reason body.Reason `json:"reason"`
}

// Differ compares two clips figure by figure, or, across, the left of the first with the right of the
// second. A difference within both errors together is none.
func Differ(first, second []Figure, across bool) []Difference {
	out := []Difference{}
	for _, a := range first {
		to := a.Side
		if across {
			if a.Side != body.Left {
				continue
			}
			to = body.Right
		}
		for _, b := range second {
			if b.ID != a.ID || b.Side != to || a.N == 0 || b.N == 0 || a.Half == 0 || b.Half == 0 {
				continue
			}
			d := Difference{ID: a.ID, Name: a.Name, Unit: a.Unit, Side: a.Side, To: to, First: a.Value, Second: b.Value, Change: b.Value - a.Value,
				Half: math.Hypot(a.Half, b.Half), Word: "no difference seen"}
			switch {
			case d.Change > d.Half:
				d.Word = "more"
			case d.Change < -d.Half:
				d.Word = "less"
			}
			n := func(v float64) string { return body.Bare(a.Unit, "%.1f", v) }
			r := house.Rules{}.Because("clip.compare", "a difference counts when it is larger than both errors together").See("first", "%s ± %s",
				n(a.Value), n(a.Half)).See("second", "%s ± %s", n(b.Value), n(b.Half))
			r.Provenance = body.Maths
			r.Formula = fmt.Sprintf("%s − %s = %s ± √(%s² + %s²) = ± %s", n(b.Value), n(a.Value), n(d.Change), n(a.Half), n(b.Half),
				strings.TrimSpace(body.In(a.Unit, "%.1f", d.Half)))
			d.Reason = r
			out = append(out, d)
		}
	}
	return out
}
