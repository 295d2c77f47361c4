// Package refer holds the warning signs and the cautions as they are asked and recorded, and what it
// takes to close one. It never diagnoses: it says when to stop and whom to see. What a sign or a caution
// takes away is core/permit's to say.
package refer

import (
	"slices"
	"strings"
	"time"

	"notchback/internal/core/body"
)

// Clearance is one record that a stop was looked at again.
type Clearance struct {
	ID     string    `json:"id"`
	Kind   string    `json:"kind" enum:"clinician,reviewed,healed" doc:"reviewed: entered by mistake; healed: by the runner"`
	Who    string    `json:"who"`
	On     body.Date `json:"on"`
	Limits string    `json:"limits"`
	Opens  *Opening  `json:"opens,omitempty" doc:"what a clinician opens; absent: words of an earlier release"`
	At     time.Time `json:"at,omitzero" doc:"the moment it was recorded"`
}

// Stop is a warning sign answered yes for one runner.
type Stop struct {
	ID         string      `json:"id"`
	Sign       string      `json:"sign"`
	Region     body.Region `json:"region"`
	Side       body.Side   `json:"side"`
	On         body.Date   `json:"on"`
	Recorded   body.Date   `json:"recorded,omitempty" doc:"day it was entered, however far back it is dated"`
	Source     string      `json:"source" enum:"intake,screen,phone"`
	Which      []string    `json:"which" doc:"what exactly, for signs that ask it"`
	Clearances []Clearance `json:"clearances"`
	Seq        int64       `json:"seq,omitempty" doc:"report number"`
}

// Check is one asking of all the warning signs: what was answered no, and when.
type Check struct {
	ID     string    `json:"id"`
	On     body.Date `json:"on"`
	Source string    `json:"source" enum:"intake,screen,phone"`
	Denied []string  `json:"denied"`
	By     string    `json:"by" doc:"coach who asked; empty from the phone"`
	Seq    int64     `json:"seq,omitempty" doc:"report number"`
}

// CheckAnswers refuses an asking that leaves a sign of this runner unanswered: each is either denied or
// an open stop.
func CheckAnswers(denied []string, stops []Stop, p body.Profile, today body.Date) error {
	left := 0
	for _, s := range Asked(p, today) {
		if !slices.Contains(denied, s.ID) && !slices.ContainsFunc(stops, func(x Stop) bool { return x.Sign == s.ID && x.Open() }) {
			left++
		}
	}
	if left > 0 {
		return body.Refuse("denied", "%d warning signs are not answered yet; answer each with yes or no", left)
	}
	for _, d := range denied {
		if _, ok := FindSign(d); !ok {
			return body.Refuse("denied", "%q is not on the list of warning signs", d)
		}
	}
	return nil
}

// Class is the stop's own class: bone pain under the bone caution is seen the same day.
func (s Stop) Class(p body.Profile) Class {
	sign, _ := FindSign(s.Sign)
	if (s.Sign == "bone" || s.Sign == "bone_run") && slices.ContainsFunc([]string{"bone", "energy"},
		func(c string) bool { return slices.Contains(p.Cautions, c) }) {
		return SameDay
	}
	return sign.Class
}

// Stopped says to a clinician what is not done while a sign of the class is open.
func (c Class) Stopped() string {
	switch c {
	case Emergency, SameDay:
		return "All training is stopped, and all running."
	case HardStop:
		return "Training of this leg is stopped, and all running."
	case Pattern:
		return "Heavier work of this leg waits for what you find."
	}
	return "Some work waits until it is over."
}

// urgent reports a sign that a coach's own review cannot close on the day it was recorded.
func (s Stop) urgent() bool {
	sign, ok := FindSign(s.Sign)
	return !ok || sign.Class == Emergency || sign.Class == SameDay
}

// Open reports whether the stop still takes anything away. A clinician's clearance closes any stop; what
// it does not open stays closed by core/permit. The coach's review, that it was entered by mistake and
// nobody felt it, closes a stop at once, an urgent one from the day after it was recorded. A small one
// closes when the runner says it is over, not before the next day.
func (s Stop) Open() bool { return s.closing() == nil }

// closing is the clearance that closed the stop; nil while it is open.
func (s Stop) closing() *Clearance {
	sign, _ := FindSign(s.Sign)
	for i, c := range s.Clearances {
		switch {
		case c.Kind == "clinician", c.Kind == "reviewed" && (!s.urgent() || c.On > max(s.On, s.Recorded)), c.Kind == "healed" &&
			sign.Class == Small && c.On > s.On:
			return &s.Clearances[i]
		}
	}
	return nil
}

// Closed is the clearance that closed the stop, and the day it did; nil while it is open.
func (s Stop) Closed() (*Clearance, body.Date) {
	c := s.closing()
	if c == nil {
		return nil, ""
	}
	return c, c.On
}

// Opens is what the newest clinician's word opens; nil without one in the new form.
func (s Stop) Opens() *Opening {
	for _, c := range slices.Backward(s.Clearances) {
		if c.Kind == "clinician" && c.Opens != nil {
			return c.Opens
		}
	}
	return nil
}

// Mistake reports a stop that was closed as entered by mistake.
func (s Stop) Mistake() bool { c := s.closing(); return c != nil && c.Kind == "reviewed" }

// Grave reports a stop after which nothing returns by notches: bone, a pop or tear, a fracture.
func (s Stop) Grave() bool {
	return slices.Contains([]string{"bone", "bone_run", "pop", "twist", "midfoot", "four_steps"}, s.Sign)
}

// CheckClearance refuses a clearance without a name, a real day, what it opens, or the second look an
// urgent sign needs.
func CheckClearance(s Stop, c Clearance, today body.Date) error {
	sign, _ := FindSign(s.Sign)
	if strings.TrimSpace(c.Who) == "" {
		return body.Refuse("who", "is empty; write who cleared the runner")
	}
	if !c.On.Valid() || c.On < s.On || c.On > today {
		return body.Refuse("on", "must be a day from %s to today", s.On.Short())
	}
	switch c.Kind {
	case "clinician":
		if c.Opens == nil {
			return body.Refuse("opens", "is empty; say what the clinician opens: level, bouncing, bare feet, below level, running")
		}
		if c.Opens.Empty() && strings.TrimSpace(c.Limits) == "" {
			return body.Refuse("opens", "names nothing; say what the clinician opens, or write “nothing yet”")
		}
		return c.Opens.Check()
	case "reviewed":
		if s.urgent() && c.On <= max(s.On, s.Recorded) {
			return body.Refuse("on", "an urgent sign is not closed on the day it was recorded: look again another day, or record a clinician's word")
		}
	case "healed":
		if sign.Class != Small {
			return body.Refuse("kind", "only a blister, loose laces or an illness is over by the runner's own word")
		}
		if c.On <= s.On {
			return body.Refuse("on", "not before the next day, %s", s.On.Add(1).Short())
		}
	default:
		return body.Refuse("kind", "is a clinician's clearance, entered by mistake, or healed")
	}
	return nil
}

// CheckStop refuses a sign that is not on the list or has no place.
func CheckStop(s Stop) error {
	sign, ok := FindSign(s.Sign)
	if !ok {
		return body.Refuse("sign", "%q is not on the list of warning signs", s.Sign)
	}
	for _, w := range s.Which {
		if !slices.ContainsFunc(sign.Which, func(x Which) bool { return x.ID == w }) {
			return body.Refuse("which", "%q is not one of what “%s” asks", w, sign.Question)
		}
	}
	if !s.Region.Valid() {
		return body.Refuse("region", "say where: “%s” needs a place on the map", sign.Question)
	}
	if !s.Side.Valid() {
		return body.Refuse("side", "is left, right or both")
	}
	return nil
}

// Places are all the stop touches: its region and that of each thing named exactly.
func (s Stop) Places() []body.Region {
	out := []body.Region{s.Region}
	for _, w := range s.Which {
		if r, ok := boneRegions[w]; ok {
			out = append(out, r)
		}
	}
	return body.Places(out)
}

// Locks lists the legs the stop locks: the named one for a place at or below the knee; both for a place
// above it, on the trunk, on both or on no side.
func (s Stop) Locks() []body.Side {
	if s.Side == body.Both || slices.ContainsFunc(s.Places(), func(r body.Region) bool {
		return r == body.WholePerson ||
			r == body.AboveKnee
	}) {
		return body.Sides
	}
	return []body.Side{s.Side}
}

// Touches reports whether the stop locks a leg.
func (s Stop) Touches(leg body.Side) bool {
	return slices.ContainsFunc(s.Locks(), func(l body.Side) bool { return l.Touches(leg) })
}
