package screen

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Pattern is a group of signs that often stand together. It may point to something; it is never a
// diagnosis.
type Pattern struct {
	ID     string      `json:"id"`
	Name   string      `json:"name"`
	Side   body.Side   `json:"side"`
	Says   string      `json:"says"`
	Refer  string      `json:"refer" doc:"when to see a clinician"`
	Now    bool        `json:"now" doc:"refer now"`
	Reason body.Reason `json:"reason"`
}

const notADiagnosis = " This is a pattern, not a diagnosis."

// seen is what the patterns of one leg are read from.
type seen struct {
	findings []Finding
	profile  body.Profile
	today    body.Date // dates how long a symptom lasts
	side     body.Side
}

// finding is the one of a measure on this leg; nil where it was not taken.
func (s seen) finding(id string) *Finding {
	for i, f := range s.findings {
		if f.ID == id && f.Side == s.side {
			return &s.findings[i]
		}
	}
	return nil
}

// has gives a finding that was taken and passes a test.
func (s seen) has(id string, test func(Finding) bool) (f Finding, ok bool) {
	if x := s.finding(id); x != nil && test(*x) {
		return *x, true
	}
	return Finding{}, false
}

func isShort(f Finding) bool  { return f.Verdict == Short }
func notShort(f Finding) bool { return f.Verdict != Short }
func isSome(f Finding) bool   { return f.Value > 0 }
func refers(f Finding) bool   { return f.Refer }

// felt says whether a symptom of some places is felt at some times, and what was told of it.
func (s seen) felt(times []string, regions ...body.Region) (bool, body.Reason) {
	r := house.Rules{}.Because("read.pattern", "")
	for _, x := range s.profile.Symptoms {
		if !x.Side.Touches(s.side) || !slices.Contains(regions, x.Region) ||
			!slices.ContainsFunc(x.When, func(w string) bool { return slices.Contains(times, w) }) {
			continue
		}
		r = r.See(x.Region.Name(), "%s; usual %d, worst %d of 10", words(x.When), x.Baseline, x.Worst)
		if x.Since != "" {
			r = r.SeeOn(x.Since, "since", "%d days", s.today.Sub(x.Since))
		}
	}
	return len(r.Saw) > 0, r
}

// shinDays is how long a shin may hurt before it is seen.
const shinDays = 21

// The times of the day that a pattern is felt at.
var (
	morning  = []string{"first_steps", "easing"}
	pounding = []string{"during_run", "after", "first_steps"}
	resting  = []string{"night", "rest"}
	growing  = []string{"first_steps", "easing", "push_off", "during_run", "after", "rest"}
)

// sign is a pattern that is looked for on each leg. look gives what it saw; now sends to a clinician at once.
type sign struct {
	id, name, says string
	refer          string
	referNow       bool // the advice is given only where it is now
	look           func(seen) (found bool, r body.Reason, now bool)
}

var signs = []sign{
	{id: "morning_heel", name: "Morning pattern, sole",
		says: "Pain with the first steps that eases and comes back next morning may point to the tissues under the heel and arch. Mornings are " +
			"watched; load is added within the pain rule.",
		refer: "See a clinician when it does not ease within six weeks, wakes at night, or the foot tingles or is numb.",
		look: func(s seen) (bool, body.Reason, bool) {
			yes, r := s.felt(morning, body.HeelSole, body.Arch)
			if walk, hurts := s.has(body.WalkHeels, isSome); hurts {
				r = r.See("pain walking on the heels", "%.0f of 10", walk.Value)
			}
			return yes, r, false
		}},
	{id: "heel_walk", name: "Heel pain in the walk",
		says: "Pain walking on the heels may point to the sole under the heel; it is no proof. Repeat the walk after the session: better, same " +
			"or worse.",
		refer: "A heel that hurts when squeezed from both sides: stop and refer.",
		look: func(s seen) (bool, body.Reason, bool) {
			walk, hurts := s.has(body.WalkHeels, isSome)
			told, _ := s.felt(morning, body.HeelSole, body.Arch)
			return hurts && !told, house.Rules{}.Because("read.pattern", "").See("pain walking on the heels", "%.0f of 10", walk.Value), false
		}},
	{id: "morning_achilles", name: "Morning pattern, Achilles and calf",
		says:  "Stiff or sore first steps at the back of the ankle may point to a tendon that is loaded past what it is used to.",
		refer: "A pop, a sudden kick or a gap in the tendon: seen the same day.",
		look: func(s seen) (bool, body.Reason, bool) {
			yes, r := s.felt(morning, body.Achilles, body.Calf)
			return yes, r, false
		}},
	{id: "shin", name: "Shin pattern",
		says: "Shin pain in and after the run may point to a shin that takes more pounding than it is ready for: calm it, range first, fewer " +
			"impacts.",
		refer: "Pain on one spot of the bone, longer than 21 days, or tightening that builds with running and eases with rest: stop and refer.",
		look: func(s seen) (bool, body.Reason, bool) {
			yes, r := s.felt(pounding, body.Shin)
			return yes, r, slices.ContainsFunc(s.profile.Symptoms, func(x body.Symptom) bool {
				return x.Region == body.Shin && x.Since != "" && s.today.Sub(x.Since) > shinDays
			})
		}},
	{id: "toe_joint_pain", name: "Pain in the big-toe joint",
		says:  "Pain inside the joint as it bends may point to the joint itself; it is not stretched.",
		refer: "Refer before any range work of this toe.",
		look: func(s seen) (bool, body.Reason, bool) {
			unloaded, hurts := s.has(body.ToePassiveExtension, refers)
			return hurts, unloaded.Reason, true
		}},
	{id: "sole_tight", name: "Big toe free, but short with the ankle bent",
		says: "The sole's fascia may be what stops it: hand release or fascia work, not stretching of the joint. Stretching it takes 10–12 " +
			"weeks to show.",
		look: func(s seen) (bool, body.Reason, bool) {
			loaded, short := s.has(body.ToeLoadedExtension, isShort)
			unloaded, free := s.has(body.ToePassiveExtension, notShort)
			return short && free, loaded.Reason.See("unloaded", "%s", unloaded.Shown()), false
		}},
	{id: "toe_joint", name: "Big toe short with and without load", says: "The joint or its capsule may be what stops it: range work.",
		refer: "If it hurts inside the joint: refer.",
		look: func(s seen) (bool, body.Reason, bool) {
			unloaded, short := s.has(body.ToePassiveExtension, isShort)
			_, loaded := s.has(body.ToeLoadedExtension, isShort)
			_, angle := s.has(body.ToePassiveAngle, isShort)
			return short && (loaded || angle), unloaded.Reason, unloaded.Refer
		}},
	{id: "toe_control", name: "Range without control",
		says: "The toe can be lifted but does not lift itself: coordination and strength at the end of the range, not stretching.",
		look: func(s seen) (bool, body.Reason, bool) {
			gap, short := s.has(body.ToeActiveGap, isShort)
			_, free := s.has(body.ToePassiveAngle, notShort)
			return short && free, gap.Reason, false
		}},
	{id: "front_pinch", name: "Pinch at the front of the ankle",
		says:  "Something in front may stop the bend: no forced stretching; options that glide the joint instead.",
		refer: "The pinch is painful: refer before any ankle stretching.", referNow: true,
		look: func(s seen) (bool, body.Reason, bool) {
			end, short := s.has(body.AnkleEndFeel, isShort)
			return short, end.Reason, end.Refer
		}},
	{id: "rest_pain", name: "Pain at night or at rest", says: "Pain that does not come from loading is not for training to solve.",
		refer: "If it does not ease with rest: stop and refer. Ask the warning signs now.",
		look: func(s seen) (bool, body.Reason, bool) {
			yes, r := s.felt(resting, allBelow...)
			return yes, r, true
		}},
	{id: "growing", name: "Heel or knee pain while growing", says: "Growing bones at the heel and below the knee may be what hurts.",
		refer: "Under 18: refer before loading.",
		look: func(s seen) (bool, body.Reason, bool) {
			yes, r := s.felt(growing, body.HeelSole, body.HeelBack, body.Knee)
			return yes && s.profile.Age(s.today) < 18, r, true
		}},
	{id: "clawed", name: "Toes clawed at rest", says: "No gripping exercises: spread and reach instead.",
		look: func(s seen) (bool, body.Reason, bool) {
			shape, yes := s.has(body.ToesShape, func(f Finding) bool { return f.Word == "clawed" })
			return yes, shape.Reason, false
		}},
}

// Patterns reads symptoms and findings side by side: the morning pattern, heel pain in the walks, the
// shin pattern, the big toe's joint or fascia. today dates how long a symptom lasts.
func Patterns(findings []Finding, p body.Profile, today body.Date) []Pattern {
	out := []Pattern{}
	for _, side := range body.Sides {
		for _, x := range signs {
			found, r, now := x.look(seen{findings, p, today, side})
			if !found {
				continue
			}
			r.Rule, r.Says, r.Provenance = "read.pattern", x.name, body.Common
			refer := x.refer
			if x.referNow && !now {
				refer = ""
			}
			out = append(out, Pattern{x.id, x.name, side, x.says + notADiagnosis, refer, now, r})
		}
	}
	if f, steadied := (seen{findings: findings, side: body.Both}).has(body.StanceChest, isSome); steadied {
		out = append(out, Pattern{"posture_cue", "Posture is a cue for this runner", body.Both,
			"Tipping the chest until the weight reaches mid-foot steadied one-leg stance." + notADiagnosis, "", false, f.Reason})
	}
	return out
}

func words(times body.Times) string {
	s := ""
	for _, t := range body.SymptomTimes {
		if slices.Contains(times, t.ID) {
			if s != "" {
				s += ", "
			}
			s += t.Name
		}
	}
	return s
}
