package catalog

import "slices"

// moved says on which rail each exercise stands that an earlier release had on another: the rail of then, the
// exercise, the rail of now. Records keep what they were written with and are read through this table.
var moved = map[string]map[string]string{
	"leg_release":   {"calf_roller_two": "calf_release", "calf_roller_one": "calf_release", "calf_roller_hips": "calf_release", "calf_firm_ball": "calf_release", "shin_outer_ball": "shin_release"},
	"thigh_release": {"thigh_roller_two": "quad_release", "thigh_roller_one": "quad_release", "buttock_ball": "buttock_release"},
	"hip_trunk":     {"hip_opening": "hip_front", "trunk_brace": "trunk", "bridge_gathered": "bridge", "split_hold": "split_squat", "a_frame_pumps": "a_frame", "posture_line": "posture", "arm_drive": "arms"},
	"walks":         {"walk_forefoot": "forefoot_walk", "walk_heels": "heel_walk", "walk_rise": "rise_walk", "walk_edges": "edge_walk", "walk_all": "all_walks"},
	"settle_kit":    {"settle_cold": "cold", "settle_massage": "massage", "settle_stretch": "easy_stretch"},
	"gait_drills":   {"drill_tall": "drill_posture", "drill_hips": "drill_takeoff", "drill_elbows": "drill_arms", "drill_light": "drill_quiet", "drill_line": "drill_width"},
}

// renamed are exercises that bear another id now.
var renamed = map[string]string{"half_kneel_raised": "kneeling_foot_raised"}

// Successor is where an exercise stands now: where it stood, unless its rail or itself is gone and the table knows
// where it went. A practice's own rail of that id stays.
func (c Catalogue) Successor(rail, exercise string) (string, string) {
	if r, ok := c.Find(rail); ok {
		if _, ok := r.Exercise(exercise); ok {
			return rail, exercise
		}
		if _, ok := r.Exercise(renamed[exercise]); ok {
			return rail, renamed[exercise]
		}
		return rail, exercise
	}
	if to := moved[rail][exercise]; to != "" {
		return to, exercise
	}
	return rail, exercise
}

// Successors lists the rails that a rail of an earlier release became, in the order of the catalogue; none where it
// still stands, or was never shipped.
func (c Catalogue) Successors(rail string) []string {
	out := []string{}
	if _, ok := c.Find(rail); ok {
		return out
	}
	for _, r := range c.Rails {
		for _, to := range moved[rail] {
			if to == r.ID && !slices.Contains(out, to) {
				out = append(out, to)
			}
		}
	}
	return out
}
