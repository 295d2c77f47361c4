// Package refer holds the warning signs, the cautions, the locks a sign puts on training and what
// it takes to open them again. It never diagnoses: it says when to stop and whom to see.
package refer

import (
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Class is how urgent a warning sign is.
type Class string

// The classes, most urgent first.
const (
	Emergency Class = "emergency" // call for help now
	SameDay   Class = "same_day"  // seen by a clinician today
	HardStop  Class = "stop"      // no training of the region until cleared
)

// Sign is one warning sign, asked as a plain yes/no.
type Sign struct {
	ID       string      `json:"id"`
	Class    Class       `json:"class" enum:"emergency,same_day,stop"`
	Question string      `json:"question"`
	Region   body.Region `json:"region" doc:"where it is; empty: ask"`
	Do       string      `json:"do" doc:"what to do next"`
	Which    []Which     `json:"which" doc:"what exactly: at least one is named when there are any"`
}

// Which is one of the exact things a sign may mean.
type Which struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// twist lists what the Ottawa rules ask after a fresh twist.
var twist = []Which{
	{"outer_ankle", "tender bone at the rear edge or tip of the outer ankle bone (lowest 6 cm)"}, {"inner_ankle", "tender bone at the rear edge or tip of the inner ankle bone (lowest 6 cm)"},
	{"fifth_base", "tender bone at the base of the fifth metatarsal"}, {"navicular", "tender bone at the navicular"}, {"four_steps", "cannot take four steps, then or now"},
}

// bones lists the places where pain under one finger stops the work.
var bones = []Which{
	{"top", "top of the foot"}, {"sesamoid", "under the ball of the big toe"}, {"outer_bone", "outer ankle bone"}, {"fifth_base", "base of the fifth metatarsal"},
	{"inner_bone", "inner ankle bone"}, {"heel", "heel squeezed from both sides"}, {"shin", "shin bone over a short stretch"},
}

// boneRegions places each bone on the map.
var boneRegions = map[string]body.Region{"top": body.TopOfFoot, "sesamoid": body.Ball, "outer_bone": body.OuterAnkle, "fifth_base": body.OuterFoot, "inner_bone": body.InnerAnkle, "heel": body.Heel, "shin": body.Shin,
	"outer_ankle": body.OuterAnkle, "inner_ankle": body.InnerAnkle, "navicular": body.Arch, "four_steps": body.OuterAnkle}

// RegionOf places what exactly a sign means on the map; empty for none.
func RegionOf(which []string) body.Region {
	for _, w := range which {
		if r, ok := boneRegions[w]; ok {
			return r
		}
	}
	return ""
}

// Imaging applies the Ottawa rules to what is found after a fresh twist: whether a picture of the
// ankle and of the foot is to be decided on by a clinician. Source: Stiell et al. 1992, 1993.
func Imaging(found []string) (ankle, foot bool) {
	any := func(ids ...string) bool {
		return slices.ContainsFunc(found, func(f string) bool { return slices.Contains(ids, f) })
	}
	return any("outer_ankle", "inner_ankle", "four_steps"), any("fifth_base", "navicular", "four_steps")
}

const (
	callHelp = "Stop now and call the emergency number. Do not drive yourself. No training until a clinician has cleared it."
	today    = "Stop. See a clinician today, before any more loading. Keep weight off it if it hurts."
	seeSoon  = "Stop training this area and see a clinician. Training stays locked until the coach records who cleared it and with what limits."
	imaging  = "Stop. See a clinician, who decides whether a picture (X-ray) is needed, before any loading."
)

var none = []Which{}

// Signs lists the warning signs in the order they are asked.
var Signs = []Sign{
	{"chest", Emergency, "Chest pain, collapse or unusual breathlessness?", body.WholePerson, callHelp, none},
	{"calf_hot", SameDay, "A hot, swollen calf?", body.Calf, today, none},
	{"pop", SameDay, "A pop or a sudden kick in the calf or heel?", body.Achilles, today, none},
	{"groin", SameDay, "Groin pain on loading, with a limp?", body.WholePerson, today, none},
	{"night", HardStop, "Pain at night or at rest that does not ease?", "", seeSoon, none},
	{"bone", HardStop, "Pain you can put one finger on, on a bone (top of the foot, ball, ankle bones, heel squeezed from both sides, shin)?", "", seeSoon, bones},
	{"swelling", HardStop, "Swelling, heat or redness?", "", seeSoon, none},
	{"four_steps", HardStop, "Cannot take four steps on it?", "", imaging, none},
	{"twist", HardStop, "A fresh twist with tender bone, or too sore for four steps?", "", imaging, twist},
	{"nerve", HardStop, "Numbness, tingling, weakness or a change of colour?", body.WholePerson, seeSoon, none},
	{"pressure", HardStop, "Shin or calf tightening that builds as you run and eases with rest?", body.Shin, seeSoon, none},
	{"fever", HardStop, "Fever, or feeling ill with it?", body.WholePerson, seeSoon, none},
	{"wound", HardStop, "A wound, or loss of feeling, in the sole?", body.Arch, seeSoon, none},
	{"shin_long", HardStop, "Shin pain for more than 21 days?", body.Shin, seeSoon, none},
}

// FindSign returns the sign with this id.
func FindSign(id string) (Sign, bool) {
	i := slices.IndexFunc(Signs, func(s Sign) bool { return s.ID == id })
	if i < 0 {
		return Sign{}, false
	}
	return Signs[i], true
}

// Caution is a circumstance that limits what may be planned without stopping it.
type Caution struct {
	ID       string `json:"id"`
	Question string `json:"question"`
	Limits   string `json:"limits"`
	Heavy    bool   `json:"noHeavy" doc:"no heavy or maximal loading until the coach sets limits"`
	Tendon   bool   `json:"tendon" doc:"no raises to failure"`
}

const untilLimits = "No heavy loading, free bouncing or barefoot until the coach sets limits."

// Cautions lists the cautions asked at intake. Under 18 and body mass index follow from figures.
var Cautions = []Caution{
	{"sensation", "Diabetes, or any loss of feeling in the feet?", "No barefoot work at all without a recorded clearance; no cold. " + untilLimits, true, false},
	{"tendon", "A steroid injection or a quinolone antibiotic in the last months?", "Tendon at risk: no raises to failure, no heavy loading.", true, true},
	{"bone", "Low bone density, or a stress fracture before?", untilLimits, true, false},
	{"energy", "Missed periods, or eating much less than you use?", untilLimits, true, false},
	{"pregnancy", "Pregnant?", untilLimits, true, false},
	{"hardware", "Ankle surgery, or metal in the ankle?", "Ankle range only within what the surgeon allows. " + untilLimits, true, false},
	{"inflammatory", "Inflammatory joint disease?", untilLimits, true, false},
	{"clot", "Clot history, or blood thinners?", "No deep pressure on the calf or foot. " + untilLimits, true, false},
}

// UnderAge and HeavyBuild are the cautions that follow from age and body mass index.
var (
	underAge = Caution{"under_18", "Under 18", "Growing bones: no maximal loading, no raises to failure; heel or shin-bump pain is referred. A guardian's consent is recorded. " + untilLimits, true, true}
	highBMI  = Caution{"bmi", "Body mass index over 30", "More common among runners with heel pain: begin low, and mind the mornings. " + untilLimits, true, false}
)

// InForce returns the runner's cautions on a day: those answered yes and those that follow from age
// and body mass index.
func InForce(p body.Profile, today body.Date) []Caution {
	out := []Caution{}
	if p.Age(today) < 18 {
		out = append(out, underAge)
	}
	for _, c := range Cautions {
		if slices.Contains(p.Cautions, c.ID) {
			out = append(out, c)
		}
	}
	if p.BMI() > 30 {
		out = append(out, highBMI)
	}
	return out
}

// CheckCautions refuses an id that is not on the list.
func CheckCautions(ids []string) error {
	for _, id := range ids {
		if !slices.ContainsFunc(Cautions, func(c Caution) bool { return c.ID == id }) {
			return body.Refuse("cautions", "%q is not on the list", id)
		}
	}
	return nil
}

// HeavyBarred says whether heavy loading is barred, and by which cautions. Limits the coach has
// written down lift the bar.
func HeavyBarred(p body.Profile, today body.Date) (bool, body.Reason) {
	r := house.Rules{}.Because("refer.no-heavy", "no heavy loading until the coach sets limits")
	for _, c := range InForce(p, today) {
		if c.Heavy {
			r = r.See(c.Question, "yes")
		}
	}
	return len(r.Saw) > 0 && p.HeavyAllowed == "", r
}

// Clearance is one record that a stop was looked at again.
type Clearance struct {
	ID     string    `json:"id"`
	Kind   string    `json:"kind" enum:"clinician,reviewed" doc:"clinician: cleared by a clinician; reviewed: entered by mistake, looked at again by the coach"`
	Who    string    `json:"who"`
	On     body.Date `json:"on"`
	Limits string    `json:"limits"`
}

// Stop is a warning sign answered yes for one runner.
type Stop struct {
	ID         string      `json:"id"`
	Sign       string      `json:"sign"`
	Region     body.Region `json:"region"`
	Side       body.Side   `json:"side"`
	On         body.Date   `json:"on"`
	Source     string      `json:"source" enum:"intake,screen,phone"`
	Which      []string    `json:"which" doc:"what exactly, for signs that ask it"`
	Clearances []Clearance `json:"clearances"`
}

// Check is one asking of all the warning signs: what was answered no, and when.
type Check struct {
	ID     string    `json:"id"`
	On     body.Date `json:"on"`
	Source string    `json:"source" enum:"intake,screen,phone"`
	Denied []string  `json:"denied"`
	By     string    `json:"by" doc:"coach who asked; empty from the phone"`
}

// CheckAnswers refuses an asking that leaves a sign unanswered: each is either denied or an open stop.
func CheckAnswers(denied []string, stops []Stop) error {
	left := 0
	for _, s := range Signs {
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

// Open reports whether the stop still locks training. A clinician's clearance opens any stop; the
// coach's own review opens a hard stop, and an emergency or same-day sign only when it was recorded
// on another day than the sign.
func (s Stop) Open() bool {
	sign, ok := FindSign(s.Sign)
	for _, c := range s.Clearances {
		if c.Kind == "clinician" || (c.Kind == "reviewed" && ok && (sign.Class == HardStop || c.On > s.On)) {
			return false
		}
	}
	return true
}

// CheckClearance refuses a clearance without a name, a real day, its limits, or the second look an
// urgent sign needs.
func CheckClearance(s Stop, c Clearance, today body.Date) error {
	if strings.TrimSpace(c.Who) == "" {
		return body.Refuse("who", "is empty; write who cleared the runner")
	}
	if !c.On.Valid() || c.On < s.On || c.On > today {
		return body.Refuse("on", "must be a day from %s to today", s.On.Short())
	}
	if c.Kind != "clinician" && c.Kind != "reviewed" {
		return body.Refuse("kind", "is either a clinician's clearance or the coach's review")
	}
	if c.Kind == "clinician" && strings.TrimSpace(c.Limits) == "" {
		return body.Refuse("limits", "is empty; write the limits, or “none”")
	}
	sign, _ := FindSign(s.Sign)
	if c.Kind == "reviewed" && sign.Class != HardStop && c.On == s.On {
		return body.Refuse("on", "an urgent sign is not closed on the day it was recorded: look again another day, or record a clinician's word")
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

// places are all the stop touches: its region and that of each thing named exactly.
func (s Stop) places() []body.Region {
	out := []body.Region{s.Region}
	for _, w := range s.Which {
		if r, ok := boneRegions[w]; ok {
			out = append(out, r)
		}
	}
	return out
}

// Lock returns the first open stop that touches any of the regions on the side, with the reason. A
// sign of the whole person touches everything.
func Lock(stops []Stop, regions []body.Region, side body.Side) (*Stop, body.Reason) {
	for i, s := range stops {
		if !s.Open() {
			continue
		}
		whole := s.Region == body.WholePerson
		here := slices.ContainsFunc(s.places(), func(p body.Region) bool { return slices.Contains(regions, p) })
		if whole || (here && s.Side.Touches(side)) {
			sign, _ := FindSign(s.Sign)
			r := house.Rules{}.Because("refer.lock", "a warning sign is open: parked until it is cleared")
			r.Provenance = body.Common
			return &stops[i], r.SeeOn(s.On, sign.Question, "yes, %s, %s", s.Region.Name(), s.Side)
		}
	}
	return nil, body.Reason{}
}
