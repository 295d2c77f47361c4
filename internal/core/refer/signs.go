package refer

import (
	"slices"

	"notchback/internal/core/body"
)

// Class is how urgent a warning sign is. Each sign has one; if a complaint fits several, all are
// recorded and the highest decides.
type Class string

// The classes, most urgent first.
const (
	Emergency Class = "emergency" // call for help now: everything is locked
	SameDay   Class = "same_day"  // seen by a clinician today: everything is locked
	HardStop  Class = "stop"      // the leg is locked until a clinician has cleared it
	Pattern   Class = "pattern"   // some work waits for a clinician's finding; the rest goes on
	Small     Class = "small"     // heals by itself: what touches it waits until the runner says so
)

// AsksAbove is the pain (0–10) above which the warning signs are asked.
const AsksAbove = 5

// Classes lists them.
var Classes = []Class{Emergency, SameDay, HardStop, Pattern, Small}

// Sign is one warning sign, asked as a plain yes/no.
type Sign struct {
	ID       string      `json:"id"`
	Class    Class       `json:"class"`
	Question string      `json:"question"`
	Region   body.Region `json:"region" doc:"where it is; empty: ask"`
	Do       string      `json:"do" doc:"what to do next"`
	Which    []Which     `json:"which" doc:"what exactly: at least one is named when there are any"`
	Only     string      `json:"only,omitempty" enum:",under_18,pregnancy,feeling" doc:"asked only of these runners; empty: of everybody"`
	Phone    string      `json:"phone,omitempty" doc:"the runner's words, where they differ"`
}

// Which is one of the exact things a sign may mean.
type Which struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// twist lists what the Ottawa rules ask after a fresh twist.
var twist = []Which{
	{"outer_ankle", "tender bone at the rear edge or tip of the outer ankle bone (lowest " + body.In("cm", "%g", 6) + ")"},
	{"inner_ankle", "tender bone at the rear edge or tip of the inner ankle bone (lowest " + body.In("cm", "%g", 6) + ")"},
	{"fifth_base", "tender bone at the base of the fifth metatarsal"}, {"navicular", "tender bone at the navicular"},
	{"four_steps", "cannot take four steps, then or now"},
}

// bones lists the places where pain under one finger stops the work, at any age.
var bones = []Which{
	{"top", "top of the foot"}, {"sesamoid", "under the ball of the big toe"}, {"metatarsal_head", "under another metatarsal head"},
	{"outer_bone", "outer ankle bone"}, {"fifth_base", "base of the fifth metatarsal"},
	{"navicular", "navicular, inner mid-foot"}, {"inner_bone", "inner ankle bone"}, {"heel", "heel squeezed from both sides"},
	{"shin", "shin bone over a short stretch"},
}

// boneRegions places each bone on the map.
var boneRegions = map[string]body.Region{"top": body.TopOfFoot, "sesamoid": body.Ball, "metatarsal_head": body.Ball,
	"outer_bone": body.OuterAnkle, "fifth_base": body.OuterFoot, "inner_bone": body.InnerAnkle, "heel": body.Heel, "shin": body.Shin,
	"outer_ankle": body.OuterAnkle, "inner_ankle": body.InnerAnkle, "navicular": body.Arch, "four_steps": body.OuterAnkle,
	"behind_inner": body.InnerAnkle, "joint": body.BigToe}

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
	today    = "Stop. See a clinician today, before any more loading. Keep weight off it if it hurts. No running until cleared."
	seeSoon  = "Stop training this leg and see a clinician. No running, and this leg stays locked, until it is recorded who cleared it and " +
		"what is opened."
	imaging = "Stop. See a clinician, who decides whether a picture (X-ray) is needed, before any loading. No running until cleared."
	finding = "Have a clinician look at it. Heavier work waits for what they find; the rest goes on."
	heals   = "Keep shoe and pressure off it. Say here when it is healed; bare feet, bouncing and pressure wait until then."
	getWell = "Rest. Say here when you are well; training begins two days later, at half."
)

var none = []Which{}

// Signs lists the warning signs in the order they are asked, the most urgent first.
var Signs = []Sign{
	{ID: "chest", Class: Emergency, Question: "Chest pain, collapse, or breathlessness at rest or out of proportion?",
		Region: body.WholePerson, Do: callHelp},
	{ID: "saddle", Class: Emergency, Question: "Numb between the legs, or bladder or bowel out of control?", Region: body.WholePerson,
		Do: callHelp},
	{ID: "cold_foot", Class: Emergency, Question: "A foot that is cold and white or blue?", Region: body.TopOfFoot, Do: callHelp},
	{ID: "rock_hard", Class: Emergency, Question: "Calf or shin hard as a rock, with pain that rest does not ease?", Region: body.Calf,
		Do: callHelp},

	{ID: "calf_hot", Class: SameDay, Question: "A hot, swollen calf?", Region: body.Calf, Do: today},
	{ID: "pop", Class: SameDay, Question: "A pop or a sudden pull in calf, heel or sole?", Region: body.Achilles, Do: today},
	{ID: "groin", Class: SameDay, Question: "Groin, deep hip or front-of-thigh pain on running, hopping or standing on that leg, limp or not?",
		Region: body.AboveKnee, Do: today,
		Phone: "Groin, deep hip or front-of-thigh pain on running, hopping or standing on that leg? (Not both thighs equally sore after hills, " +
			"a race or new strength work, easing as you warm up.)"},
	{ID: "midfoot", Class: SameDay, Question: "After a twist or fall: a bruise on the sole, or a swollen mid-foot that hurts on tiptoe?",
		Region: body.Arch, Do: today},
	{ID: "fever_local", Class: SameDay, Question: "Fever with heat, swelling or pain in one place?", Region: body.WholePerson, Do: today},
	{ID: "unfeeling_foot", Class: SameDay, Question: "A hot, swollen or wounded foot?", Region: body.Arch, Do: today, Only: "feeling"},
	{ID: "growing_limp", Class: SameDay, Question: "Hip, thigh or knee pain with a limp?", Region: body.AboveKnee, Do: today,
		Only: "under_18"},
	{ID: "pregnancy_signs", Class: SameDay, Question: "Bleeding, loss of fluid, painful tightening, faintness, headache, new breathlessness " +
		"or a swollen calf?", Region: body.WholePerson, Do: today, Only: "pregnancy"},

	{ID: "night", Class: HardStop, Question: "Pain at night or at rest that does not ease?", Do: seeSoon},
	{ID: "bone", Class: HardStop, Question: "Pain you can put one finger on, on a bone (foot, ankle bones, heel squeezed from both " +
		"sides, shin)?", Do: seeSoon, Which: bones},
	{ID: "swelling", Class: HardStop, Question: "Swelling, heat or redness that is new, or hot at any age?", Do: seeSoon},
	{ID: "four_steps", Class: HardStop, Question: "Cannot take four steps on it?", Do: imaging},
	{ID: "twist", Class: HardStop, Question: "A fresh twist with tender bone, or too sore for four steps?", Do: imaging, Which: twist},
	{ID: "nerve", Class: HardStop, Question: "Numbness, weakness, loss of feeling or a change of colour that is new or that no " +
		"clinician has seen?", Do: seeSoon},
	{ID: "foot_drop", Class: HardStop, Question: "Walking on the heels, one forefoot cannot be held up?", Region: body.Shin, Do: seeSoon},
	{ID: "pressure", Class: HardStop, Question: "Shin or calf tightening that builds as you run and eases with rest?", Region: body.Shin,
		Do: seeSoon},
	{ID: "bone_run", Class: HardStop, Question: "Pain at a bone that starts earlier and lasts longer run by run, or is above 2 of 10 " +
		"walking the day after?", Do: seeSoon, Which: bones},
	{ID: "limp", Class: HardStop, Question: "A limp after a run?", Do: seeSoon},
	{ID: "wound", Class: HardStop, Question: "A wound in the sole, deeper than a graze?", Region: body.Arch, Do: seeSoon},

	{ID: "old_swelling", Class: Pattern, Question: "Swelling for more than 14 days, not hot?", Do: finding,
		Which: []Which{{"behind_inner", "behind the inner ankle bone"}, {"joint", "a joint"}}},

	{ID: "blister", Class: Small, Question: "A blister, a graze or a sore nail?", Region: body.Arch, Do: heals},
	{ID: "laces", Class: Small, Question: "Tingling that was gone within 10 minutes of loosening the laces?", Region: body.TopOfFoot,
		Do: "Lace looser. A second time within 14 days is looked at by a clinician."},
	{ID: "ill", Class: Small, Question: "Fever, or ill below the neck?", Region: body.WholePerson, Do: getWell},
}

// former are signs that earlier releases asked; what was recorded under them keeps its meaning.
var former = []Sign{
	{ID: "fever", Class: HardStop, Question: "Fever, or feeling ill with it?", Region: body.WholePerson, Do: seeSoon},
	{ID: "shin_long", Class: HardStop, Question: "Shin pain for more than 21 days?", Region: body.Shin, Do: seeSoon},
}

func init() {
	for _, list := range [][]Sign{Signs, former} {
		for i := range list {
			if list[i].Which == nil {
				list[i].Which = none
			}
		}
	}
}

// FindSign returns the sign with this id, those of earlier releases included.
func FindSign(id string) (Sign, bool) {
	for _, list := range [][]Sign{Signs, former} {
		if i := slices.IndexFunc(list, func(s Sign) bool { return s.ID == id }); i >= 0 {
			return list[i], true
		}
	}
	return Sign{}, false
}

// Asked lists the signs that are asked of a runner.
func Asked(p body.Profile, today body.Date) []Sign {
	return slices.DeleteFunc(slices.Clone(Signs), func(s Sign) bool {
		switch s.Only {
		case "under_18":
			return p.Age(today) >= 18
		case "pregnancy":
			return !slices.Contains(p.Cautions, "pregnancy")
		case "feeling":
			return !slices.ContainsFunc([]string{"sensation", "diabetes", "ulcer"}, func(id string) bool { return slices.Contains(p.Cautions, id) })
		}
		return false
	})
}
