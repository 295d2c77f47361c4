package catalog

import (
	"slices"

	"notchback/internal/core/body"
)

// went is where an exercise of an earlier release stands now: its rail, its id where it bears another, and what its
// dose is worth there where it is counted otherwise; never more work than before.
type went struct {
	rail, exercise string
	dose           func(body.Dose) body.Dose
}

// moved lists, by the rail of then, every exercise that does not stand there any more. Records keep what they were
// written with and are read through this table.
var moved = map[string]map[string]went{
	"leg_release": {"calf_roller_two": {rail: "calf_release"}, "calf_roller_one": {rail: "calf_release"},
		"calf_roller_hips": {rail: "calf_release"}, "calf_firm_ball": {rail: "calf_release"}, "shin_outer_ball": {rail: "shin_release"}},
	"thigh_release": {"thigh_roller_two": {rail: "quad_release"}, "thigh_roller_one": {rail: "quad_release"},
		"buttock_ball": {rail: "buttock_release"}},
	"hip_trunk": {"hip_opening": {rail: "hip_front"}, "trunk_brace": {rail: "trunk"}, "bridge_gathered": {rail: "bridge"},
		"split_hold":    {rail: "split_squat"},
		"a_frame_pumps": {rail: "a_frame"}, "posture_line": {rail: "posture"}, "arm_drive": {rail: "arms"}},
	"walks": {"walk_forefoot": {rail: "forefoot_walk"}, "walk_heels": {rail: "heel_walk"}, "walk_rise": {rail: "rise_walk"},
		"walk_edges": {rail: "edge_walk"}, "walk_all": {rail: "all_walks"}},
	"settle_kit": {"settle_cold": {rail: "cold"}, "settle_massage": {rail: "massage"}, "settle_stretch": {rail: "easy_stretch"}},
	"gait_drills": {"drill_tall": {rail: "drill_posture"}, "drill_hips": {rail: "drill_takeoff"}, "drill_elbows": {rail: "drill_arms"},
		"drill_light": {rail: "drill_quiet"}, "drill_line": {rail: "drill_width"}},
	"foot_circles": {"wake_ball": {rail: "wake_ball"}},
	"sole_release": {"sole_figure_eight": {rail: "outer_foot_release"}},
	"balance":      {"balance_reach": {rail: "reach"}, "hinge_drive_slow": {rail: "hinge_drive"}, "hinge_drive_snap": {rail: "hinge_drive"}},
	"forefoot_hold": {"hold_split": {rail: "split_hold"}, "hold_split_loaded": {rail: "split_hold"}, "toe_lean": {rail: "toe_lean"},
		"toe_lean_hinge": {rail: "toe_lean"}},
	"calf_bent":  {"soleus_wall": {rail: "wall_sit"}},
	"shin":       {"shin_heel_walk": {"heel_walk", "walk_heels", inThree}},
	"spring":     {"hop_side": {rail: "hops"}, "hop_forward": {rail: "hops"}},
	"side_ankle": {"side_out": {"side_ankle", "side_in", bothWays}},
	"ankle_bend": {"heel_sit": {rail: "foot_stretch"}, "half_kneel_raised": {rail: "ankle_bend", exercise: "kneeling_foot_raised"},
		"straight_stretch": {"ankle_bend", "calf_stretch", bothKnees}, "bent_stretch": {"ankle_bend", "calf_stretch", bothKnees},
		"wall_toes_straight": {"ankle_bend", "wall_toes", bothKnees}, "wall_toes_bent": {"ankle_bend", "wall_toes", bothKnees}},
}

// bothKnees shares the time of one stretch between the straight and the bent knee.
func bothKnees(d body.Dose) body.Dose {
	return body.Dose{Kind: body.Hold, Sets: 2, Seconds: max(1, d.Seconds*d.TotalSets()/2)}
}

// bothWays shares the repetitions of one direction between two.
func bothWays(d body.Dose) body.Dose {
	if d.Extra = 0; d.Sets > 1 {
		d.Sets /= 2
		return d
	}
	return d.WithAmount(max(1, d.Amount()/2))
}

// inThree shares paces between the three ways of the heel walk.
func inThree(d body.Dose) body.Dose {
	return body.Dose{Kind: body.Paces, Sets: 3, Reps: min(20, max(1, d.Reps*d.TotalSets()/3))}
}

// renamed is the id an exercise bears now.
func renamed(id string) string {
	for _, rail := range moved {
		if to, ok := rail[id]; ok && to.exercise != "" {
			return to.exercise
		}
	}
	return id
}

// waitsAnew lets a practice's own rail wait for an exercise of an earlier release under the id it bears now.
func (c Catalogue) waitsAnew(r Rail) Rail {
	stands := func(id string) bool {
		return slices.ContainsFunc(append(slices.Clone(c.Rails), r), func(o Rail) bool { _, ok := o.Exercise(id); return ok })
	}
	r.Exercises = slices.Clone(r.Exercises)
	for i, x := range r.Exercises {
		r.Exercises[i].First = slices.Clone(x.First)
		for k, n := range x.First {
			if n.Exercise != "" && !stands(n.Exercise) {
				r.Exercises[i].First[k].Exercise = renamed(n.Exercise)
			}
		}
	}
	return r
}

// Successor is where an exercise stands now: where it stood, unless it is gone from there and the table knows where
// it went. A practice's own version of the rail keeps what it has.
func (c Catalogue) Successor(rail, exercise string) (string, string) {
	now := c.Now(Prescription{Rail: rail, Exercise: exercise})
	return now.Rail, now.Exercise
}

// Now is a prescription of an earlier release as it stands now.
func (c Catalogue) Now(p Prescription) Prescription {
	r, ok := c.Find(p.Rail)
	if _, stands := r.Exercise(p.Exercise); ok && stands {
		return p
	}
	to, known := moved[p.Rail][p.Exercise]
	if !known {
		return p
	}
	if p.Rail = to.rail; to.exercise != "" {
		p.Exercise = to.exercise
	}
	if to.dose != nil && p.Dose.Sets > 0 {
		p.Dose = to.dose(p.Dose)
	}
	return p
}

// Successors lists the rails that a rail of an earlier release became, in the order of the catalogue; none where it
// still stands, or was never shipped.
func (c Catalogue) Successors(rail string) []string {
	if _, stands := c.Find(rail); stands {
		return []string{}
	}
	return c.became(rail)
}

// Beside lists the rails that share what was one rail when the exercise stood on it: the rail itself where it still
// stands, and all that its exercises went to, in the order of the catalogue. None where the exercise
// stands there yet, or never left it.
func (c Catalogue) Beside(rail, exercise string) []string {
	r, stands := c.Find(rail)
	_, still := r.Exercise(exercise)
	if _, left := moved[rail][exercise]; still || stands && !left {
		return []string{}
	}
	out := c.became(rail)
	if stands && !slices.Contains(out, rail) {
		out = append([]string{rail}, out...)
	}
	return out
}

// became is where the exercises that left a rail stand now.
func (c Catalogue) became(rail string) []string {
	out := []string{}
	for _, r := range c.Rails {
		for _, to := range moved[rail] {
			if to.rail == r.ID && !slices.Contains(out, r.ID) {
				out = append(out, r.ID)
			}
		}
	}
	return out
}
