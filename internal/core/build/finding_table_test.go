package build

// asked says what a practitioner expects Build to choose for one thing found, or one sore place, everything else being
// clear: at least one of must, none of not; the rest may be. It was written before Build was run on it.
type asked struct {
	found    string            // a measure that is short
	sore     string            // or a sore place
	approach map[string]string // where it matters
	calm     bool              // the place is sore enough for Calm
	must     []string
	not      []string
	why      string
}

type chose = map[string]string

// publishedRails are followed only where the coach brings them in.
var publishedRails = []string{"eccentric_straight", "eccentric_bent"}

// byHand are rails that no single finding, place, history, goal or volume brings in, and why.
var byHand = map[string]string{
	"eccentric_straight": "a published programme is the coach's choice", "eccentric_bent": "a published programme is the coach's choice",
	"all_walks":    "the strength form of the walks, for those who do each of them",
	"strides":      "waits for 80 free bounces, and for the coach's eye",
	"hops":         "waits for 80 free bounces on the spot",
	"foot_stretch": "for a stiff front of the foot, which no test measures",
	"a_frame":      "beside the ankle bend, where somebody likes it",
	"drill_shift":  "the second cue for hips that sit back: one cue at a time", "drill_breath": "late in long runs, by the coach's eye",
}

var findingTable = []asked{
	// Range.
	{found: "ankle.knee_to_wall", must: []string{"ankle_bend"}, not: []string{"foot_stretch", "arms", "drill_width", "cold"}, why: "a short ankle is opened; bending the front of the foot is the opposite movement"},
	{found: "ankle.knee_to_wall", approach: chose{"short_calf": "load"}, must: []string{"ankle_bend", "calf_straight"}, not: []string{"foot_stretch", "cold"}, why: "lengthened under load off a step, and opened"},
	{found: "ankle.knee_to_wall", approach: chose{"short_calf": "stretch"}, must: []string{"ankle_bend"}, not: []string{"foot_stretch"}, why: "stretched"},
	{found: "squat.heel", must: []string{"ankle_bend"}, not: []string{"hip_side", "arms"}, why: "heels that lift in a squat ask for ankle bend"},
	{found: "toe.passive_height", must: []string{"big_toe"}, not: []string{"arms", "hip_side", "cold"}, why: "a stiff big toe is moved"},
	{found: "toe.active_height", must: []string{"big_toe", "toe_press"}, not: []string{"fascia_rocks", "cold"}, why: "range that is not controlled: control, not more range"},
	{found: "toe.active_height", approach: chose{"toes": "grip"}, must: []string{"big_toe", "toe_grip"}, not: []string{"toe_press", "cold"}, why: "the school that grips"},
	{found: "toe.loaded_extension", approach: chose{"tight_sole": "hand"}, must: []string{"sole_release"}, not: []string{"fascia_rocks"}, why: "free unloaded, short loaded: the sole is tight, and released by hand"},
	{found: "toe.loaded_extension", approach: chose{"tight_sole": "stretch"}, must: []string{"fascia_rocks"}, not: []string{"cold"}, why: "the school that stretches the fascia"},
	{found: "toe.loaded_extension", approach: chose{"tight_sole": "load"}, must: []string{"toe_calf", "calf_straight", "big_toe"}, not: []string{"sole_release", "fascia_rocks"}, why: "the school that loads it"},
	{found: "toe.alignment", must: []string{"toe_press", "big_toe", "toe_spread", "toe_control"}, not: []string{"toe_calf"}, why: "a drifting toe is guided and pressed straight"},
	// Control.
	{found: "toes.big_alone", must: []string{"toe_control"}, not: []string{"fascia_rocks", "cold"}, why: "the movement itself is practised"},
	{found: "toes.others_alone", must: []string{"toe_control"}, not: []string{"fascia_rocks", "cold"}, why: "the movement itself is practised"},
	{found: "toes.spread", must: []string{"toe_spread", "toe_control"}, not: []string{"toe_grip"}, why: "spreading is practised by spreading"},
	{found: "toe.press", must: []string{"toe_press"}, not: []string{"toe_grip"}, why: "long toes press"},
	{found: "toe.press", approach: chose{"toes": "grip"}, must: []string{"toe_grip"}, not: []string{"toe_press"}, why: "the school that grips"},
	{found: "toe.press", approach: chose{"toes": "both"}, must: []string{"toe_press", "toe_grip"}, not: []string{"cold"}, why: "both schools together"},
	{found: "foot.short", must: []string{"short_foot"}, not: []string{"spring", "cold"}, why: "a brace that does not hold is trained, and nothing bounces on it"},
	{found: "foot.short_hold", must: []string{"short_foot"}, not: []string{"cold"}, why: "a brace that tires is held longer"},
	{found: "squat.arch", must: []string{"short_foot", "toe_press"}, not: []string{"barefoot_strength"}, why: "an arch that gives way is braced before it is loaded"},
	{found: "balance.open", must: []string{"balance"}, not: []string{"cold", "spring"}, why: "balance is practised by balancing"},
	{found: "balance.closed", must: []string{"balance"}, not: []string{"cold"}, why: "balance is practised by balancing"},
	{found: "reach.front", must: []string{"reach", "balance"}, not: []string{"foot_stretch", "cold"}, why: "a short reach is practised by reaching, not by hand-resisted ankles"},
	{found: "reach.side", must: []string{"reach", "balance"}, not: []string{"foot_stretch", "cold"}, why: "the same"},
	{found: "reach.cross", must: []string{"reach", "balance"}, not: []string{"foot_stretch", "cold"}, why: "the same"},
	{found: "squat.knee", must: []string{"hip_side", "bridge"}, not: []string{"hip_front", "arms"}, why: "a knee that falls in asks for the side of the hip, not for a hip-flexor stretch"},
	// Strength and spring.
	{found: "calf.raises_straight", must: []string{"calf_straight"}, not: append([]string{"cold"}, publishedRails...), why: "raises are trained by raises; a published programme is the coach's choice"},
	{found: "calf.raises_bent", must: []string{"calf_bent", "calf_straight"}, not: publishedRails, why: "the soleus by bent-knee raises"},
	{found: "shin.raises", must: []string{"shin", "heel_walk"}, not: []string{"calf_release"}, why: "the front of the shin by pulling up"},
	{found: "hold.forefoot_two", must: []string{"forefoot_hold", "calf_straight"}, not: []string{"cold"}, why: "holding is trained by holding"},
	{found: "hold.forefoot_one", must: []string{"forefoot_hold", "calf_straight"}, not: []string{"cold"}, why: "holding is trained by holding"},
	{found: "hop.supported", must: []string{"spring"}, not: []string{"cold"}, why: "spring by bouncing, the hands helping"},
	// Running.
	{found: "gait.cadence", must: []string{"cadence"}, not: []string{"arms", "drill_width"}, why: "quicker, shorter steps"},
	{found: "gait.cadence", approach: chose{"cadence": "band"}, must: []string{"cadence"}, not: []string{"arms"}, why: "into the band"},
	{found: "gait.cadence", approach: chose{"cadence": "leave"}, must: []string{"short_foot", "calf_straight", "drill_quiet", "ankle_bend", "balance"}, not: []string{"cadence"}, why: "the school that leaves it alone"},
	{found: "gait.overstride", must: []string{"cadence", "drill_quiet", "drill_takeoff"}, not: []string{"arms", "drill_pick_up"}, why: "landing nearer to the body"},
	{found: "gait.sound", must: []string{"cadence", "drill_quiet"}, not: []string{"arms", "drill_width"}, why: "quieter"},
	{found: "gait.bounce", must: []string{"cadence", "drill_quiet"}, not: []string{"arms", "drill_width"}, why: "less up, more forward"},
	{found: "gait.crossover", must: []string{"hip_side", "drill_width"}, not: []string{"hip_front", "arms"}, why: "feet on their own side: the side of the hip and the line, no hip-flexor stretch"},
	{found: "gait.sway", must: []string{"hip_side", "drill_width", "bridge"}, not: []string{"hip_front", "arms"}, why: "the side of the hip carries the trunk"},
	{found: "gait.collapse", must: []string{"hip_side", "side_ankle", "bridge", "short_foot"}, not: []string{"hip_front", "arms"}, why: "the leg that folds is held from the hip and the foot"},
	{found: "gait.arms", must: []string{"arms", "drill_arms"}, not: []string{"hip_front", "drill_posture", "hip_side"}, why: "arms by arms, at once: not after posture"},
	{found: "gait.hips", must: []string{"hip_front", "drill_takeoff", "drill_shift", "posture"}, not: []string{"arms", "drill_width"}, why: "hips that sit back come forward"},
	{found: "gait.hip_extension", must: []string{"hip_front", "bridge", "drill_takeoff"}, not: []string{"arms", "drill_width"}, why: "the trail leg gets long"},
	{found: "gait.posture", must: []string{"posture", "drill_posture", "trunk"}, not: []string{"arms", "drill_width"}, why: "tall"},
	{found: "gait.low_back", must: []string{"trunk", "drill_posture"}, not: []string{"arms", "drill_width"}, why: "the brace keeps the back quiet"},
	{found: "gait.shuffle", must: []string{"drill_pick_up"}, not: []string{"arms", "drill_width"}, why: "the feet are picked up from the hips"},
	// Sore places, quiet enough to train.
	{sore: "heel_sole", approach: chose{"sore_heel": "load"}, must: []string{"toe_calf"}, not: append([]string{"sole_release", "spring"}, publishedRails...), why: "loaded early, toes bent; nothing rolled over the sore heel"},
	{sore: "heel_sole", approach: chose{"sore_heel": "load"}, calm: true, must: []string{"toe_calf"}, not: []string{"spring", "sole_release"}, why: "this school loads it in Calm too"},
	{sore: "heel_sole", approach: chose{"sore_heel": "settle"}, calm: true, must: []string{"cold", "massage"}, not: []string{"toe_calf", "spring", "toe_grip"}, why: "settled first: no raises, no towel"},
	{sore: "heel_sole", approach: chose{"sore_heel": "settle"}, must: []string{"toe_calf", "short_foot"}, not: []string{"spring"}, why: "settled: now it is strengthened"},
	{sore: "heel_sole", approach: chose{"sore_heel": "release"}, must: []string{"calf_release", "short_foot"}, not: []string{"spring"}, why: "released and strengthened together"},
	{sore: "heel_back", must: []string{"calf_holds", "calf_straight"}, not: []string{"easy_stretch", "toe_calf", "cold", "spring"}, why: "where the tendon joins the heel: held and raised on the floor, neither stretched nor worked below the edge"},
	{sore: "heel_back", calm: true, must: []string{"calf_holds"}, not: []string{"easy_stretch", "ankle_bend", "toe_calf", "spring"}, why: "mid-range holds first; nothing that stretches it over the bone"},
	{sore: "arch", approach: chose{"sore_heel": "load"}, must: []string{"toe_calf", "short_foot"}, not: []string{"fascia_rocks"}, why: "as the heel"},
	{sore: "arch", approach: chose{"sore_heel": "release"}, must: []string{"calf_release", "short_foot", "sole_release"}, not: []string{"spring"}, why: "as the heel"},
	{sore: "achilles", must: []string{"calf_holds", "calf_straight"}, not: append([]string{"spring"}, publishedRails...), why: "holds and slow loading"},
	{sore: "achilles", calm: true, must: []string{"calf_holds", "calf_straight"}, not: []string{"spring", "ankle_bend"}, why: "two-legged mid-range holds, nothing below level, no stretch"},
	{sore: "calf", must: []string{"calf_holds", "calf_straight", "calf_release"}, not: []string{"spring"}, why: "released, held and loaded slowly"},
	{sore: "shin", approach: chose{"sore_shin": "calm"}, must: []string{"shin_release", "calf_release"}, not: []string{"spring"}, why: "calmed first: the muscle beside the bone"},
	{sore: "shin", approach: chose{"sore_shin": "strengthen"}, must: []string{"shin", "short_foot"}, not: []string{"spring"}, why: "strengthened within the pain rule"},
	{sore: "outer_ankle", must: []string{"side_ankle", "balance", "reach"}, not: []string{"spring"}, why: "comfortable side work and balance"},
	{sore: "inner_ankle", must: []string{"side_ankle", "ball_raise"}, not: []string{"spring"}, why: "side work, the inner side too"},
	{sore: "ball", must: []string{"short_foot", "toe_control"}, not: []string{"fascia_rocks", "toe_calf", "spring"}, why: "control before range, nothing on bent-back toes"},
	{sore: "big_toe", must: []string{"short_foot", "toe_control"}, not: []string{"big_toe", "fascia_rocks", "toe_grip"}, why: "a joint that hurts is seen first; control meanwhile"},
	{sore: "knee", must: []string{"hip_side", "bridge", "quad_release"}, not: []string{"spring"}, why: "the hip carries for the knee"},
	{sore: "above_knee", must: []string{"quad_release", "hip_side", "bridge"}, not: []string{"spring"}, why: "released, and the hip strengthened"},
	{sore: "front_ankle", must: []string{"ankle_glide"}, not: []string{"foot_stretch", "spring"}, why: "the joint glides with a belt while it is free of pain"},
	{sore: "top_of_foot", must: []string{"short_foot", "foot_circles"}, not: []string{"foot_stretch", "spring"}, why: "moved gently; nothing pressed over the sore top"},
	{sore: "outer_foot", must: []string{"edge_walk", "side_ankle", "outer_foot_release"}, not: []string{"spring"}, why: "the outer side is moved and held"},
}
