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

// Patterns reads symptoms and findings side by side: the morning pattern, heel pain in the walks, the
// shin pattern, the big toe's joint or fascia. today dates how long a symptom lasts.
func Patterns(findings []Finding, p body.Profile, today body.Date) []Pattern {
	out := []Pattern{}
	get := func(id string, side body.Side) *Finding {
		for i, f := range findings {
			if f.ID == id && f.Side == side {
				return &findings[i]
			}
		}
		return nil
	}
	for _, side := range body.Sides {
		add := func(id, name, says, refer string, now bool, r body.Reason) {
			r.Rule, r.Says, r.Provenance = "read.pattern", name, body.Common
			out = append(out, Pattern{id, name, side, says + notADiagnosis, refer, now, r})
		}
		felt := func(times []string, regions ...body.Region) (bool, body.Reason) {
			r := house.Rules{}.Because("read.pattern", "")
			for _, s := range p.Symptoms {
				if !s.Side.Touches(side) || !slices.Contains(regions, s.Region) ||
					!slices.ContainsFunc(s.When, func(w string) bool { return slices.Contains(times, w) }) {
					continue
				}
				r = r.See(s.Region.Name(), "%s; usual %d, worst %d of 10", words(s.When), s.Baseline, s.Worst)
				if s.Since != "" {
					r = r.SeeOn(s.Since, "since", "%d days", today.Sub(s.Since))
				}
			}
			return len(r.Saw) > 0, r
		}
		if yes, r := felt([]string{"first_steps", "easing"}, body.HeelSole, body.Arch); yes {
			walk := get("walk.heels", side)
			if walk != nil && walk.Value > 0 {
				r = r.See("pain walking on the heels", "%.0f of 10", walk.Value)
			}
			add("morning_heel", "Morning pattern, sole", "Pain with the first steps that eases and comes back next morning may point to the "+
				"tissues under the heel and arch. Mornings are watched; load is added within the pain rule.",
				"See a clinician when it does not ease within six weeks, wakes at night, or the foot tingles or is numb.", false, r)
		} else if walk := get("walk.heels", side); walk != nil && walk.Value > 0 {
			r := house.Rules{}.Because("read.pattern", "").See("pain walking on the heels", "%.0f of 10", walk.Value)
			add("heel_walk", "Heel pain in the walk", "Pain walking on the heels may point to the sole under the heel; it is no proof. Repeat the "+
				"walk after the session: better, same or worse.",
				"A heel that hurts when squeezed from both sides: stop and refer.", false, r)
		}
		if yes, r := felt([]string{"first_steps", "easing"}, body.Achilles, body.Calf); yes {
			add("morning_achilles", "Morning pattern, Achilles and calf",
				"Stiff or sore first steps at the back of the ankle may point to a tendon that is loaded past what it is used to.",
				"A pop, a sudden kick or a gap in the tendon: seen the same day.", false, r)
		}
		if yes, r := felt([]string{"during_run", "after", "first_steps"}, body.Shin); yes {
			long := false
			for _, s := range p.Symptoms {
				long = long || s.Region == body.Shin && s.Since != "" && today.Sub(s.Since) > 21
			}
			add("shin", "Shin pattern", "Shin pain in and after the run may point to a shin that takes more pounding than it is ready for: calm "+
				"it, range first, fewer impacts.",
				"Pain on one spot of the bone, longer than 21 days, or tightening that builds with running and eases with rest: stop and refer.", long,
				r)
		}
		passive, loaded, unloaded := get("toe.passive_angle", side), get("toe.loaded_extension", side), get("toe.passive_extension", side)
		short := func(f *Finding) bool { return f != nil && f.Verdict == Short }
		if unloaded != nil && unloaded.Refer {
			add("toe_joint_pain", "Pain in the big-toe joint",
				"Pain inside the joint as it bends may point to the joint itself; it is not stretched.", "Refer before any range work of this toe.",
				true, unloaded.Reason)
		}
		if short(loaded) && unloaded != nil && unloaded.Verdict != Short {
			r := loaded.Reason.See("unloaded", "%s", unloaded.Shown())
			add("sole_tight", "Big toe free, but short with the ankle bent",
				"The sole's fascia may be what stops it: hand release or fascia work, not stretching of the joint. Stretching it takes 10–12 "+
					"weeks to show.", "", false, r)
		}
		if short(unloaded) && (short(loaded) || short(passive)) {
			add("toe_joint", "Big toe short with and without load", "The joint or its capsule may be what stops it: range work.",
				"If it hurts inside the joint: refer.", unloaded.Refer, unloaded.Reason)
		}
		if gap := get("toe.active_gap", side); short(gap) && passive != nil && passive.Verdict != Short {
			add("toe_control", "Range without control", "The toe can be lifted but does not lift itself: coordination and strength at the end of "+
				"the range, not stretching.", "", false, gap.Reason)
		}
		if end := get("ankle.end_feel", side); end != nil && end.Verdict == Short {
			refer := ""
			if end.Refer {
				refer = "The pinch is painful: refer before any ankle stretching."
			}
			add("front_pinch", "Pinch at the front of the ankle",
				"Something in front may stop the bend: no forced stretching; options that glide the joint instead.", refer, end.Refer, end.Reason)
		}
		if yes, r := felt([]string{"night", "rest"}, allBelow...); yes {
			add("rest_pain", "Pain at night or at rest", "Pain that does not come from loading is not for training to solve.",
				"If it does not ease with rest: stop and refer. Ask the warning signs now.", true, r)
		}
		if p.Age(today) < 18 {
			if yes, r := felt([]string{"first_steps", "easing", "push_off", "during_run", "after", "rest"}, body.HeelSole, body.HeelBack,
				body.Knee); yes {
				add("growing", "Heel or knee pain while growing", "Growing bones at the heel and below the knee may be what hurts.",
					"Under 18: refer before loading.", true, r)
			}
		}
		if shape := get("toes.shape", side); shape != nil && shape.Word == "clawed" {
			add("clawed", "Toes clawed at rest", "No gripping exercises: spread and reach instead.", "", false, shape.Reason)
		}
	}
	if f := get("stance.chest", body.Both); f != nil && f.Value > 0 {
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
