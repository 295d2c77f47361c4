// Package gait turns the marks a coach sets on a clip into times, forces and angles, each with its
// error and with what it can and cannot answer.
//
// A clip never comes here: only the frames of touchdown and toe-off, and points on stills, in pixels of
// the picture (x to the right, y down).
package gait

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/screen"
)

// Kind is what happens at a marked frame.
type Kind string

// The kinds of event: the first frame of contact, and the first frame without contact.
const (
	Touchdown Kind = "touchdown"
	ToeOff    Kind = "toe_off"
)

// Kinds lists them.
var Kinds = []Kind{Touchdown, ToeOff}

// Words names a kind as people say it.
func (k Kind) Words() string {
	if k == ToeOff {
		return "toe-off"
	}
	return string(k)
}

// Event is one mark.
type Event struct {
	Frame    int       `json:"frame" minimum:"0"`
	Side     body.Side `json:"side" enum:"left,right"`
	Kind     Kind      `json:"kind"`
	Proposed bool      `json:"proposed,omitempty" doc:"proposed by following the tape, confirmed by the coach"`
}

// Point is a place in the picture, in its pixels, y downwards.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// Segment runs from A to B.
type Segment struct {
	A Point `json:"a"`
	B Point `json:"b"`
}

// Length is a known length in the picture.
type Length struct {
	Segment
	Mm float64 `json:"mm" minimum:"0" maximum:"10000"`
}

// Moment is when in the step a still is.
type Moment string

// The moments. Mid-stance is where the shoe lies flat and the hip is lowest; mid-flight where it is
// highest.
const (
	AtTouchdown Moment = "touchdown"
	MidStance   Moment = "mid_stance"
	AtToeOff    Moment = "toe_off"
	MidFlight   Moment = "mid_flight"
)

// Moments lists them.
var Moments = []Moment{AtTouchdown, MidStance, AtToeOff, MidFlight}

// Words names a moment as people say it.
func (m Moment) Words() string {
	return map[Moment]string{AtTouchdown: "landing", MidStance: "mid-stance", AtToeOff: "toe-off", MidFlight: "mid-flight"}[m]
}

// Still is one frame with points on it. The side is the foot that lands, stands or leaves.
type Still struct {
	ID     string           `json:"id" format:"uuid"`
	Frame  int              `json:"frame" minimum:"0"`
	Side   body.Side        `json:"side" enum:"left,right"`
	At     Moment           `json:"at"`
	Points map[string]Point `json:"points" doc:"by the names of the points of the view"`
	Keep   bool             `json:"keep" doc:"the picture itself is kept with the screen"`
}

// Clip is what the coach says about a clip and marked on it.
type Clip struct {
	Name       string         `json:"name" maxLength:"200"`
	View       string         `json:"view" enum:"side,rear"`
	Heading    string         `json:"heading" enum:"left,right" doc:"where the runner faces in the picture; side view only"`
	CaptureFps float64        `json:"captureFps" doc:"frames a second as it was shot; 0 not said yet"`
	PlayFps    float64        `json:"playFps" doc:"frames a second as the file plays"`
	Frames     int            `json:"frames" minimum:"0" maximum:"200000"`
	Missing    []int          `json:"missing" maxItems:"2000" doc:"frame numbers the file left out, or that repeat the picture before"`
	Width      int            `json:"width" minimum:"0" maximum:"16384"`
	Height     int            `json:"height" minimum:"0" maximum:"16384"`
	Marks      []Event        `json:"marks" maxItems:"400"`
	Stills     []Still        `json:"stills" maxItems:"60"`
	Scale      *Length        `json:"scale,omitempty" doc:"a known length in the picture"`
	Level      *Segment       `json:"level,omitempty" doc:"a line that is level in the room; it takes the camera's tilt out"`
	Midline    *Segment       `json:"midline,omitempty" doc:"rear view: the tape down the middle of the belt"`
	Context    screen.Context `json:"context"`
}

// Shot is how a clip was shot, and how much is marked on it.
type Shot struct {
	Name       string         `json:"name"`
	View       string         `json:"view" enum:"side,rear"`
	CaptureFps float64        `json:"captureFps" doc:"frames a second as it was shot"`
	Frames     int            `json:"frames"`
	Marks      int            `json:"marks" doc:"how many"`
	Stills     []Frame        `json:"stills"`
	Context    screen.Context `json:"context"`
}

// Frame is one still without its points.
type Frame struct {
	ID    string    `json:"id" format:"uuid"`
	Frame int       `json:"frame"`
	Side  body.Side `json:"side" enum:"left,right"`
	At    Moment    `json:"at"`
}

// Spot is a point that can be set on a still, with what it is for.
type Spot struct {
	ID   string   `json:"id"`
	Name string   `json:"name"`
	At   []Moment `json:"at" doc:"moments it is asked at"`
}

// Spots lists the points of a view in the order they are set.
func Spots(view string) []Spot {
	if view == "rear" {
		return []Spot{
			{"inner", "inner edge of the shoe", []Moment{MidStance}}, {"heel_low", "heel, bottom", []Moment{MidStance}},
			{"heel_high", "heel, top", []Moment{MidStance}},
			{"knee", "back of the knee", []Moment{MidStance}}, {"hip", "hip of this side", []Moment{MidStance}},
		}
	}
	landing, leaving := []Moment{AtTouchdown}, []Moment{AtToeOff}
	return []Spot{
		{"heel", "shoe, heel", []Moment{AtTouchdown, MidStance}}, {"toe", "shoe, toe", []Moment{AtTouchdown, MidStance}},
		{"ankle", "ankle", landing}, {"knee", "knee", append(landing, leaving...)},
		{"hip", "hip", []Moment{AtTouchdown, MidStance, AtToeOff, MidFlight}},
		{"shoulder", "shoulder", landing}, {"ear", "ear", landing},
	}
}

// Sorted returns the marks in order of their frame.
func (c Clip) Sorted() []Event {
	out := slices.Clone(c.Marks)
	slices.SortStableFunc(out, func(a, b Event) int { return a.Frame - b.Frame })
	return out
}

// Check names the first thing wrong with the clip and what to do about it. Marks need not be complete;
// they must be possible.
func (c Clip) Check() error {
	switch {
	case c.View != "side" && c.View != "rear":
		return body.Refuse("view", "say whether it is filmed from the side or from behind")
	case c.View == "side" && c.Heading != "left" && c.Heading != "right":
		return body.Refuse("heading", "say where the runner faces in the picture: left or right")
	case c.Frames < 2:
		return body.Refuse("frames", "this file has no frames to step through; choose another clip")
	case math.IsNaN(c.CaptureFps) || c.CaptureFps < 5 || c.CaptureFps > 2000:
		return body.Refuse("captureFps", "say at how many frames a second it was shot (5 to 2000); a slow-motion file plays slower than "+
			"it was shot")
	case math.IsNaN(c.PlayFps) || c.PlayFps < 0 || c.PlayFps > 2000:
		return body.Refuse("playFps", "the file's own rate is %g frames a second; that cannot be", c.PlayFps)
	}
	if c.Scale != nil && (c.Scale.Mm < 10 || c.Scale.length() < 5) {
		return body.Refuse("scale", "the known length is %g mm over %.0f pixels; mark something longer, at least 10 mm and 5 pixels", c.Scale.Mm,
			c.Scale.length())
	}
	if c.Level != nil && c.Level.length() < 50 {
		return body.Refuse("level", "the level line is only %.0f pixels long; draw it over at least 50", c.Level.length())
	}
	if c.Midline != nil && c.Midline.length() < 20 {
		return body.Refuse("midline", "the middle of the belt is marked over only %.0f pixels; draw it over at least 20", c.Midline.length())
	}
	for _, s := range c.Stills {
		if s.Frame < 0 || s.Frame >= c.Frames {
			return body.Refuse("stills", "a still is on frame %d, but the clip has frames 0 to %d", s.Frame, c.Frames-1)
		}
		for id := range s.Points {
			if !slices.ContainsFunc(Spots(c.View), func(x Spot) bool { return x.ID == id }) {
				return body.Refuse("stills", "%q is not a point of this view", id)
			}
		}
	}
	return c.checkMarks()
}

// A foot is not down for less than shortestContact, nor off the belt for less than shortestSwing; s.
const (
	shortestContact = 0.05
	shortestSwing   = 0.1
)

// checkMarks refuses marks that cannot be: outside the clip, two on one frame, or so close that touchdown
// and toe-off must be swapped. Marks that are not made yet are no fault: who marks all touchdowns
// first has a cadence already.
func (c Clip) checkMarks() error {
	last := map[body.Side]*Event{}
	for _, e := range c.Sorted() {
		if e.Side != body.Left && e.Side != body.Right || e.Kind != Touchdown && e.Kind != ToeOff {
			return body.Refuse("marks", "a mark is touchdown or toe-off, of the left or the right foot")
		}
		if e.Frame < 0 || e.Frame >= c.Frames {
			return body.Refuse("marks", "a mark is on frame %d, but the clip has frames 0 to %d", e.Frame, c.Frames-1)
		}
		if slices.Contains(c.Missing, e.Frame) {
			return body.Refuse("marks", "frame %d is missing from the file or repeats the one before; mark the next new one", e.Frame)
		}
		if was := last[e.Side]; was != nil {
			apart := float64(e.Frame-was.Frame) / c.CaptureFps
			switch {
			case was.Frame == e.Frame:
				return body.Refuse("marks", "%s foot: two marks on frame %d; remove one", e.Side, e.Frame)
			case was.Kind == ToeOff && e.Kind == Touchdown && apart < shortestSwing:
				return body.Refuse("marks", "%s foot: toe-off at frame %d and touchdown at %d, %.0f ms later; a toe-off comes after its touchdown: "+
					"are the two swapped, or is the capture rate wrong?", e.Side, was.Frame, e.Frame, 1000*apart)
			case was.Kind == Touchdown && e.Kind == ToeOff && apart < shortestContact:
				return body.Refuse("marks", "%s foot: touchdown at frame %d and toe-off at %d, %.0f ms later; no contact is that short: move one, or "+
					"check the capture rate", e.Side, was.Frame, e.Frame, 1000*apart)
			}
		}
		last[e.Side] = &e
	}
	return nil
}

// gaps says in words where a foot has two marks of a kind with the other kind missing between.
func (c Clip) gaps() []string {
	out := []string{}
	last := map[body.Side]Event{}
	for _, e := range c.Sorted() {
		if was, ok := last[e.Side]; ok && was.Kind == e.Kind && float64(e.Frame-was.Frame)/c.CaptureFps < 1.1 {
			other := ToeOff
			if e.Kind == ToeOff {
				other = Touchdown
			}
			out = append(out, fmt.Sprintf("%s foot: %s at frame %d and again at %d; the %s between is not marked.", e.Side, e.Kind.Words(),
				was.Frame, e.Frame, other.Words()))
		}
		last[e.Side] = e
	}
	return out
}

func (s Segment) length() float64 { return math.Hypot(s.B.X-s.A.X, s.B.Y-s.A.Y) }

// before is the last frame that is in the file before this one: the event lies between the two.
func (c Clip) before(frame int) int {
	at := frame - 1
	for at > 0 && slices.Contains(c.Missing, at) {
		at--
	}
	return at
}
