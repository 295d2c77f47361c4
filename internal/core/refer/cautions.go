package refer

import (
	"slices"
	"strings"

	"notchback/internal/core/body"
)

// Caution is a circumstance that takes some work away until limits are recorded for it.
type Caution struct {
	ID       string `json:"id"`
	Question string `json:"question"`
	Limits   string `json:"limits" doc:"what is taken away until its limits are recorded"`
	Date     string `json:"date,omitempty" doc:"what day it asks for; empty: none"`
	Until    string `json:"until,omitempty" doc:"what second day it asks for; empty: none"`
	Leg      bool   `json:"leg,omitempty" doc:"asks which leg"`
	Healed   string `json:"healed,omitempty" doc:"a further yes/no that lightens it; empty: none"`
	Coach    bool   `json:"coach,omitempty" doc:"the coach may record its limits; else a clinician's word"`
	Derived  bool   `json:"derived,omitempty" doc:"follows from figures and tests; not asked"`
}

// Cautions lists the cautions, those asked at intake first. What each takes away is core/permit's.
var Cautions = []Caution{
	{ID: "sensation", Question: "Any loss of feeling in the feet?",
		Limits: "Nothing bare, no bouncing, no cold, no pressure; in shoes and to body mass only, a rail in reach. Skin looked at before and " +
			"after. Running does not rise."},
	{ID: "diabetes", Question: "Diabetes?", Limits: "With feeling tested within 6 months and never an ulcer: up to one-leg work, nothing " +
		"bare outdoors, skin looked at. Else as with loss of feeling."},
	{ID: "ulcer", Question: "Ever an ulcer of the foot?", Limits: "As with loss of feeling."},
	{ID: "steroid", Question: "A steroid injection in foot, ankle or leg, or steroid tablets?",
		Limits: "For 6 weeks: calf work on two legs, nothing below level, no bouncing, no one-leg calf test; running at most as before, no new " +
			"hills or speed.", Date: "day of the injection, or the last tablet", Leg: true},
	{ID: "quinolone", Question: "A quinolone antibiotic in the last months?",
		Limits: "For 90 days, longer while a tendon is sore: calf work on two legs, nothing below level, no bouncing, no one-leg calf test; " +
			"running at most as before, no new hills or speed.", Date: "day of the last dose"},
	{ID: "bone", Question: "Low bone density, or a stress fracture before?",
		Limits: "One-leg work without load, no free bounces, barefoot walking at most; running at most as before, no new hills or speed. Bone " +
			"pain is seen the same day.", Healed: "One fracture, healed for over 12 months, bone and energy normal"},
	{ID: "energy", Question: "Missed periods, or eating much less than you use?",
		Limits: "One-leg work without load, no free bounces, barefoot walking at most; running at most as before, no new hills or speed."},
	{ID: "pregnancy", Question: "Pregnant, or gave birth within 12 weeks?",
		Limits: "One-leg work without load, no free bounces, no maximum; nothing face down, after week 12 not long on the back; a rail in " +
			"reach. Running does not rise. After the birth no bouncing and no planned running.", Date: "due date", Until: "day of birth"},
	{ID: "surgery", Question: "Surgery or a fracture of foot, ankle, leg or knee within 12 months?",
		Limits: "Partly loaded work only, no bouncing, nothing bare, no planned running.", Date: "day of it", Leg: true},
	{ID: "hardware", Question: "Metal in the ankle, or ankle surgery longer ago?",
		Limits: "No forced ankle range, barefoot walking at most; no bouncing until reach matches the other side.", Leg: true},
	{ID: "inflammatory", Question: "Inflammatory joint disease?", Limits: "No pressure on joints, one-leg work without load."},
	{ID: "clot", Question: "Clot history, or blood thinners?", Limits: "No pressure anywhere."},
	{ID: "circulation", Question: "Poor circulation, white fingers or toes?",
		Limits: "No cold, nothing bare in the cold. Calf pain that stops walking is referred."},
	{ID: "fall", Question: "A fall within 12 months?", Limits: "Alone: a hand on a rail for one-leg work; no closed eyes, no block."},
	{ID: "tendon", Question: "Tendon at risk, as an earlier release asked",
		Limits: "Calf work on two legs, nothing below level, no bouncing, no one-leg calf test; running at most as before, no new " +
			"hills or speed.", Derived: true},
	{ID: "under_18", Question: "Under 18", Limits: "Growing bones: one-leg work without load, no lowering, no maximum, nothing to failure, " +
		"barefoot walking at most, no free bounces. A guardian's consent is recorded.", Derived: true, Coach: true},
	{ID: "balance", Question: "65 or over, or open balance under 10 s",
		Limits: "Alone: a hand on a rail for one-leg work; no closed eyes, no block.", Derived: true, Coach: true},
	{ID: "bmi", Question: "Body mass index over 30", Limits: "Bouncing at half the contacts. Begin low, and mind the mornings.", Derived: true,
		Coach: true},
}

// FindCaution returns the caution with this id.
func FindCaution(id string) (Caution, bool) {
	i := slices.IndexFunc(Cautions, func(c Caution) bool { return c.ID == id })
	if i < 0 {
		return Caution{}, false
	}
	return Cautions[i], true
}

// CheckCautions refuses an id that is not on the list.
func CheckCautions(ids []string) error {
	for _, id := range ids {
		if _, ok := FindCaution(id); !ok {
			return body.Refuse("cautions", "%q is not on the list", id)
		}
	}
	return nil
}

// Opening is what a clearance, a clinician's finding or limits under a caution open. A field left out
// opens nothing.
type Opening struct {
	Level    *int         `json:"level,omitempty" minimum:"0" maximum:"4" doc:"highest level"`
	Impact   *body.Impact `json:"impact,omitempty" enum:"none,supported,free" doc:"hardest bouncing"`
	Bare     *int         `json:"bare,omitempty" minimum:"-1" maximum:"5" doc:"highest stage of bare work; −1 none"`
	Edge     *bool        `json:"edge,omitempty" doc:"work below level"`
	Pressure *bool        `json:"pressure,omitempty"`
	Cold     *bool        `json:"cold,omitempty"`
	Range    *bool        `json:"range,omitempty" doc:"forced range"`
	Maximal  *bool        `json:"maximal,omitempty" doc:"lowering, maximum, to failure, one-leg calf test"`
	Run      string       `json:"run,omitempty" enum:",none,steps,easy,all" doc:"running: none, the steps back to it, easy minutes, all"`
}

// Empty reports an opening that names nothing.
func (o Opening) Empty() bool { return o == Opening{} }

// Limit is what somebody recorded for one caution or pattern: who, when and what it opens. It replaces
// only the fields it names and speaks for that caution alone.
type Limit struct {
	ID      string    `json:"id"`
	For     string    `json:"for" doc:"id of the caution or pattern"`
	Side    body.Side `json:"side"`
	Kind    string    `json:"kind" enum:"clinician,coach" doc:"whose word"`
	Who     string    `json:"who"`
	On      body.Date `json:"on"`
	Opens   Opening   `json:"opens"`
	Words   string    `json:"words"`
	Earlier bool      `json:"earlier,omitempty" doc:"words of an earlier release: shown, and asked again"`
}

// Covers reports whether the limit speaks for a caution answered yes on a day: a caution answered later
// is never covered by older limits.
func (l Limit) Covers(caution string, answered body.Date) bool {
	return l.For == caution && !l.Earlier && l.On >= answered
}

// CheckLimit refuses limits without a name, a real day or a word, and those that only a clinician may
// set.
func CheckLimit(l Limit, today body.Date) error {
	c, caution := FindCaution(l.For)
	switch {
	case !caution && !strings.HasPrefix(l.For, "pattern."):
		return body.Refuse("for", "%q is not a caution or a pattern", l.For)
	case strings.TrimSpace(l.Who) == "":
		return body.Refuse("who", "is empty; write who set the limits")
	case !l.On.Valid() || l.On > today:
		return body.Refuse("on", "must be a day up to today")
	case l.Kind != "clinician" && l.Kind != "coach":
		return body.Refuse("kind", "is a clinician's word or the coach's")
	case l.Kind == "coach" && caution && !c.Coach:
		return body.Refuse("kind", "the limits of “%s” are a clinician's to set; as the runner told it counts", c.Question)
	case !l.Side.Valid():
		return body.Refuse("side", "is left, right or both")
	case l.Opens.Empty() && strings.TrimSpace(l.Words) == "":
		return body.Refuse("opens", "names nothing; say what is opened, or write “nothing yet”")
	}
	return l.Opens.Check()
}

// Check refuses a level, stage or word that does not exist.
func (o Opening) Check() error {
	switch {
	case o.Level != nil && (*o.Level < 0 || *o.Level > 4):
		return body.Refuse("level", "is 0 to 4")
	case o.Impact != nil && !slices.Contains(body.Impacts, *o.Impact):
		return body.Refuse("impact", "is none, supported or free")
	case o.Bare != nil && (*o.Bare < -1 || *o.Bare > 5):
		return body.Refuse("bare", "is a stage from 0 to 5, or −1 for none")
	case !slices.Contains([]string{"", "none", "steps", "easy", "all"}, o.Run):
		return body.Refuse("run", "is none, steps, easy or all")
	}
	return nil
}
