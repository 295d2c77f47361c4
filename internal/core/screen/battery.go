package screen

import "notchback/internal/core/body"

var stations = []Station{
	{ID: "feet", Name: "Feet at rest", Kit: "Standing barefoot, weight on both feet. A ruler or card for the arch."},
	{ID: "walks", Name: "Walks", Kit: "Twenty paces of clear floor, barefoot."},
	{ID: "gait", Name: "Gait", Kit: "Treadmill or a straight stretch; the runner's own shoes first. Tape down the middle of the belt."},
	{ID: "ankle", Name: "Ankle", Kit: "Tape on the floor, a wall, an inclinometer if there is one. Barefoot."},
	{ID: "big_toe", Name: "Big toe", Kit: "A stack of plates of known thickness. Barefoot, standing."},
	{ID: "toe_control", Name: "Toe control", Kit: "Seated first, then standing. Barefoot, floor they can see their toes on."},
	{ID: "balance", Name: "Balance", Kit: "A wall or rail within reach. Barefoot, hands on hips."},
	{ID: "reach", Name: "Reach", Kit: "Tape in four directions from one point; a support within reach."},
	{ID: "squat", Name: "Squat", Kit: "Barefoot: a raised shoe heel hides a short ankle."},
	{ID: "holds", Name: "Holds", Kit: "A wall, a plate for the front foot. Barefoot.", Rest: "Rest two minutes first."},
	{ID: "raises", Name: "Heel raises", Kit: "A wall or rail within reach for balance. Barefoot.",
		Rest: "Rest three minutes first; change legs between counts."},
	{ID: "strength", Name: "Strength", Kit: "Dumbbell or loaded pack, a step, a table to lean on. Last of all.",
		Rest: "Rest five minutes first."},
}

// Stop reasons of counted tests that change how the count is read.
const (
	StopCeiling = "ceiling" // stopped on purpose at the safety ceiling: at least this many
	StopReserve = "reserve" // stopped with about two left
)

var (
	foot  = []body.Region{body.BigToe, body.Ball, body.Arch, body.HeelSole, body.HeelBack, body.TopOfFoot, body.OuterFoot}
	ankle = []body.Region{body.InnerAnkle, body.OuterAnkle, body.FrontAnkle, body.Achilles}
	lunge = []body.Region{body.InnerAnkle, body.OuterAnkle, body.FrontAnkle, body.Achilles, body.Calf, body.Shin, body.Knee}
	// What is done with the body's weight on the foot loads everything below the knee.
	allBelow = []body.Region{body.BigToe, body.Ball, body.Arch, body.HeelSole, body.HeelBack, body.TopOfFoot, body.OuterFoot,
		body.InnerAnkle, body.OuterAnkle, body.FrontAnkle, body.Achilles, body.Calf, body.Shin, body.Knee}
	standing = []body.Region{body.BigToe, body.Ball, body.Arch, body.HeelSole, body.HeelBack, body.OuterFoot, body.InnerAnkle,
		body.OuterAnkle}
	toeFaults = []Fault{{ID: "ball_lifts", Name: "ball of the foot lifts", Invalidates: true}, {ID: "drifts", Name: "toe drifts across"},
		{ID: "rolls", Name: "foot rolls in or out"}}
	balFaults = []Fault{{ID: "toe_lifts", Name: "big toe lifts"}, {ID: "grips", Name: "toes over-grip"}, {ID: "sways", Name: "trunk sways"},
		{ID: "support", Name: "took support", Invalidates: true}, {ID: "chest", Name: "chest slightly forward steadies it"}}
	holdFaults = []Fault{{ID: "outside", Name: "weight falls to the outside"}, {ID: "grips", Name: "toes over-grip"},
		{ID: "pain", Name: "pain above 5"}}
	raiseStops = []Fault{{ID: "height", Name: "height lost"}, {ID: "knee", Name: "knee bends"}, {ID: "rhythm", Name: "rhythm lost"},
		{ID: "pain", Name: "pain above 5"},
		{ID: StopReserve, Name: "two in reserve"}, {ID: StopCeiling, Name: "stopped at the ceiling"}}
)

func anchors(zero, one, two, three string) []Option {
	return []Option{{Name: "0 · " + zero}, {Name: "1 · " + one}, {Name: "2 · " + two}, {Name: "3 · " + three}}
}

func ability(id, name string, limiter string, core bool, how ...string) Measure {
	return Measure{ID: id, Name: name, Station: "toe_control", Kind: Ability, Sided: true, Trials: 1, MaxTrials: 2, Max: 3, Step: 1,
		Better: "higher", Protocol: 1, How: how,
		Options:   anchors("cannot", "only with a hand", "leaks into other toes, or the foot rolls", "clean five times"),
		Condition: "barefoot, seated then standing", Core: core, Seconds: 40, Limiter: limiter, Regions: foot, provenance: body.Ours}
}

func blemish(id, name, limiter string, sided, core bool, a []Option, how ...string) Measure {
	return Measure{ID: id, Name: name, Station: "gait", Kind: Blemish, Sided: sided, Trials: 1, MaxTrials: 4, Max: 3, Step: 1, Better: "lower",
		Protocol: 1, How: how, Options: a,
		Condition: "running, by eye", InContext: true, Core: core, Seconds: 20, Limiter: limiter, Regions: allBelow, provenance: body.Ours}
}

func gaitClass(id, name, limiter string, sided, core bool, options []Option, how ...string) Measure {
	return Measure{ID: id, Name: name, Station: "gait", Kind: Class, Sided: sided, Trials: 1, MaxTrials: 6, Max: float64(len(options) - 1),
		Step: 1, Better: "none", Protocol: 1, How: how, Options: options,
		Condition: "running, by eye", InContext: true, Core: core, Seconds: 20, Limiter: limiter, Regions: allBelow, provenance: body.Common}
}

func gaitFigure(id, name, unit, better string, low, high float64, how ...string) Measure {
	return Measure{ID: id, Name: name, Station: "gait", Kind: Figure, Unit: unit, Sided: true, Trials: 1, MaxTrials: 6, Min: low, Max: high,
		Step: 0.5, Better: better, Protocol: 1, How: how,
		Condition: "from a still at landing or toe-off, camera level and square to the belt", InContext: true, Seconds: 30,
		Limiter: "cadence_landing", Regions: allBelow, provenance: body.Ours}
}

// fromClip is a figure that only a clip gives.
func fromClip(id, name, unit, better string, sided bool, low, high float64, how ...string) Measure {
	m := gaitFigure(id, name, unit, better, low, high, how...)
	m.Sided, m.Tool, m.Condition = sided, "clip", "from a clip"
	return m
}

func hold(id, name, station string, sided bool, longest float64, faults []Fault, regions []body.Region, seconds int,
	how ...string) Measure {
	return Measure{ID: id, Name: name, Station: station, Kind: Hold, Unit: "s", Sided: sided, Trials: 1, MaxTrials: 3, Max: longest, Step: 1,
		Better: "higher", Protocol: 1, How: how, Faults: faults,
		Condition: "barefoot", Seconds: seconds, Limiter: "calf_capacity", Regions: regions, Strength: true, provenance: body.Common}
}

func reach(id, name, how string) Measure {
	return Measure{ID: id, Name: name, Station: "reach", Kind: Figure, Unit: "cm", Sided: true, Trials: 3, MaxTrials: 6, Min: 5, Max: 180,
		Step: 0.5, Better: "higher", Protocol: 1,
		How: []string{how, "Touch lightly and come back under control, hands on hips; three times."},
		Faults: []Fault{{ID: "heel", Name: "heel of the standing foot lifts", Invalidates: true},
			{ID: "weight", Name: "weight on the reaching foot", Invalidates: true},
			{ID: "lost", Name: "balance lost on the way back", Invalidates: true}},
		Condition: "barefoot, side is the standing leg", Seconds: 60, Limiter: "side_ankle", Regions: allBelow, provenance: body.Ours}
}

var noYes = []Option{{Name: "no", Verdict: Clear}, {Name: "yes", Verdict: Short, Severity: 0.7}}

// Measures is the registry.
var Measures = complete([]Measure{
	// Feet at rest.
	{ID: "arch.two_finger", Name: "Arch, two fingers", Station: "feet", Kind: Class, Sided: true, Max: 2, Better: "lower",
		How:     []string{"Slide the tips of two fingers under the inner arch.", "How much of the tips disappears?"},
		Options: []Option{{Name: "hidden", Verdict: Clear}, {Name: "partly", Verdict: Clear}, {Name: "none", Verdict: Short, Severity: 1}},
		Core:    true, Seconds: 30, Limiter: "arch_strength", Regions: []body.Region{body.Arch}, provenance: body.Common},
	{ID: "arch.drop", Name: "Navicular drop", Station: "feet", Kind: Parts, Unit: "mm", Sided: true, MaxTrials: 3, Min: -10, Max: 40,
		Better:  "lower",
		How:     []string{"Mark the bump of the navicular. Height above the floor sitting, then standing."},
		Parts:   []Part{{"sitting height", "mm", 5, 100, 1}, {"standing height", "mm", 5, 100, 1}},
		Seconds: 70, Limiter: "arch_strength", Regions: []body.Region{body.Arch}},
	{ID: "foot.posture_index", Name: "Foot posture index", Station: "feet", Kind: Parts, Sided: true, Min: -12, Max: 12, Better: "inside",
		How: []string{"Six items, −2 to +2 each: minus is supinated, plus pronated, 0 neutral."},
		Parts: []Part{{"talar head", "", -2, 2, 1}, {"curves at the outer ankle", "", -2, 2, 1}, {"heel from behind", "", -2, 2, 1},
			{"bulge at the talonavicular joint", "", -2, 2, 1},
			{"arch height and shape", "", -2, 2, 1}, {"forefoot turned out", "", -2, 2, 1}},
		Seconds: 100, Limiter: "arch_strength"},
	{ID: "stance.low_back", Name: "Low back in standing", Station: "feet", Kind: Class, Max: 1, Better: "lower",
		How:     []string{"From the side: an over-arched back puts the weight on the heels, away from the forefoot."},
		Options: []Option{{Name: "neutral", Verdict: Clear}, {Name: "over-arched", Verdict: Short, Severity: 0.5}}, Seconds: 15,
		Limiter: "hip_posture", provenance: body.Common},
	{ID: "stance.chest", Name: "Chest tipped forward on one leg", Station: "feet", Kind: Class, Max: 1, Better: "none",
		How: []string{"On one leg, belly still, tip the chest until the weight reaches mid-foot. Steadier? Then posture is a cue for " +
			"this runner."},
		Options: []Option{{Name: "no change", Verdict: Noted}, {Name: "steadier: cue posture", Verdict: Noted}}, Seconds: 30,
		Limiter: "hip_posture", Regions: standing, provenance: body.Common},
	{ID: "toes.shape", Name: "Toes at rest", Station: "feet", Kind: Class, Sided: true, Max: 2, Better: "none",
		How: []string{"Straight, clawed (then no gripping exercises), or the big toe drifted across?"},
		Options: []Option{{Name: "straight", Verdict: Clear}, {Name: "clawed", Verdict: Short, Severity: 0.7},
			{Name: "big toe drifted", Verdict: Short, Severity: 0.5}},
		Faults: []Fault{{ID: "tendons", Name: "tendons stand out on top"}}, Core: true, Seconds: 20, Limiter: "toe_control",
		provenance: body.Common},
	{ID: "sole.touch", Name: "Light touch of the sole", Station: "feet", Kind: Class, Sided: true, MaxTrials: 2, Max: 1, Better: "lower",
		How: []string{"Eyes closed, touch the tips of toes 1, 3 and 5 lightly with a fingertip, in any order. They say which.",
			"One miss is tried once more; a second miss is loss of feeling."},
		Options: []Option{{Name: "every touch felt", Verdict: Clear}, {Name: "a touch missed twice", Verdict: Short, Severity: 1}},
		Core:    true, Seconds: 20, Limiter: "symptoms", Condition: "barefoot, seated, eyes closed", provenance: body.Common},
	// Walks.
	{ID: "walk.heels", Name: "Walk on the heels", Station: "walks", Kind: Pain, Unit: "of 10", Sided: true, MaxTrials: 2, Max: 10,
		Better: "lower", Place: true,
		How: []string{"Twenty paces on the heels. Pain 0–10, and where."}, Core: true, Seconds: 40, Limiter: "symptoms", Regions: allBelow},
	{ID: "walk.toes", Name: "Walk on the forefeet", Station: "walks", Kind: Pain, Unit: "of 10", Sided: true, MaxTrials: 2, Max: 10,
		Better: "lower", Place: true,
		How: []string{"Twenty paces on the forefeet. Pain 0–10, and where."}, Core: true, Seconds: 40, Limiter: "symptoms", Regions: allBelow},
	// Gait, by eye and by count, in the order of the chain.
	gaitClass("gait.posture", "Posture running", "hip_posture", false, true,
		[]Option{{Name: "tall", Verdict: Clear}, {Name: "bent at the hip", Verdict: Short, Severity: 0.6},
			{Name: "slumped", Verdict: Short, Severity: 0.6}}, "From the side: ear, shoulder, hip, knee and ankle on one line?"),
	gaitClass("gait.hips", "Hips", "hip_posture", false, true,
		[]Option{{Name: "forward", Verdict: Clear}, {Name: "sat back", Verdict: Short, Severity: 0.6}},
		"Hips carried over the landing foot, or sat back behind it?"),
	gaitClass("gait.low_back", "Low back running", "hip_posture", false, false,
		[]Option{{Name: "neutral", Verdict: Clear}, {Name: "over-arched", Verdict: Short, Severity: 0.5}}, "From the side, at toe-off."),
	with(gaitFigure("gait.hip_extension", "Hip extension at toe-off", "°", "higher", -20, 40,
		"Thigh behind the vertical at the last frame of contact."), "hip_posture"),
	gaitClass("gait.arms", "Arms", "hip_posture", true, false,
		[]Option{{Name: "swing free", Verdict: Clear}, {Name: "stiff", Verdict: Short, Severity: 0.4},
			{Name: "wrist only", Verdict: Short, Severity: 0.4}, {Name: "shoulders high", Verdict: Short, Severity: 0.4}},
		"From behind and from the side, each arm."),
	{ID: "gait.cadence", Name: "Cadence", Station: "gait", Kind: Cadence, Unit: "spm", Trials: 3, MaxTrials: 8, Min: 80, Max: 300,
		Better: "higher", InContext: true,
		How:  []string{"Start on a footfall, counted as zero; count every footfall after it for 15 s. Three or four times, or tap along."},
		Core: true, Seconds: 90, Limiter: "cadence_landing", Regions: allBelow, Condition: "running at a steady pace"},
	gaitFigure("gait.overstride", "Ankle ahead of the hip at landing", "%", "lower", -30, 80,
		"Distance of the ankle ahead of the hip, as a share of leg length, at the first frame of contact."),
	gaitFigure("gait.shin_angle", "Shin angle at landing", "°", "lower", -30, 40,
		"Shin leaning back from the vertical at the first frame of contact; minus when it leans forward."),
	gaitFigure("gait.knee_landing", "Knee bend at landing", "°", "higher", 0, 60, "Bend of the knee at the first frame of contact."),
	blemish("gait.bounce", "Bounce", "cadence_landing", false, true,
		anchors("brim stays level with the horizon", "brim just moves", "brim plainly rises and falls", "a marked hop every step"),
		"Watch a hat's brim against the horizon."),
	blemish("gait.sway", "Sway", "cadence_landing", false, false,
		anchors("head stays in line", "just visible", "plain side to side", "head or hair swings wide"),
		"From behind: hair or head, left and right."),
	gaitClass("gait.crossover", "Crossover", "cadence_landing", true, false,
		[]Option{{Name: "clear of the line", Verdict: Clear}, {Name: "touches the line", Verdict: Borderline, Severity: 0.3},
			{Name: "over the line", Verdict: Short, Severity: 0.7}}, "From behind, against the tape down the middle of the belt."),
	blemish("gait.sound", "Sound of landing", "cadence_landing", false, true,
		anchors("hardly heard", "just heard", "a plain slap or thud", "loud across the room"),
		"Eyes shut for ten seconds: listen."),
	blemish("gait.collapse", "Collapse at mid-stance", "side_ankle", true, false,
		anchors("heel and knee stay in line", "just visible", "heel or knee plainly falls in", "marked, every step"),
		"From behind: heel, arch and knee of each leg."),
	blemish("gait.shuffle", "Shuffle", "hip_posture", false, false,
		anchors("feet lift free", "a scuff now and then", "feet drag plainly", "dragging every step"),
		"Worth a second look when tired, late in a run."),
	gaitClass("gait.strike", "Foot strike, by eye", "cadence_landing", true, true,
		[]Option{{Name: "rearfoot", Verdict: Noted}, {Name: "midfoot", Verdict: Noted}, {Name: "forefoot", Verdict: Noted}},
		"What touches first at this pace and slope. It is a result, not a thing to force."),
	with(gaitFigure("gait.strike_angle", "Foot-strike angle", "°", "none", -40, 50,
		"Shoe angle at touchdown minus at flat stance. Only from a clip of 120 frames a second or more."), "cadence_landing"),
	fromClip("gait.contact", "Contact time", "ms", "none", true, 50, 800, "From the first frame of contact to the first without, in a clip."),
	fromClip("gait.flight", "Flight time after", "ms", "none", true, -300, 400,
		"From this foot's toe-off to the other's touchdown, in a clip; minus where both are down."),
	fromClip("gait.oscillation", "Vertical oscillation", "cm", "lower", false, 0, 25,
		"Rise of the hip from mid-stance to mid-flight, in a clip with a known length in it."),
	with(fromClip("gait.trunk", "Trunk lean", "°", "none", false, -20, 45, "Shoulder ahead of the hip at landing, in a clip from the side."),
		"hip_posture"),
	// Ankle.
	{ID: "ankle.knee_to_wall", Name: "Knee to wall", Station: "ankle", Kind: Figure, Unit: "cm", Sided: true, Trials: 3, MaxTrials: 6, Max: 30,
		Step: 0.5, Better: "higher",
		How: []string{"Big toe on the tape, foot straight.", "Knee touches the wall over the second toe, heel down.",
			"Furthest distance from toe to wall, three times."},
		Faults: []Fault{{ID: "heel_lifts", Name: "heel lifts", Invalidates: true}, {ID: "foot_turns", Name: "foot turns"},
			{ID: "knee_in", Name: "knee falls in"}},
		Core: true, Seconds: 120, Limiter: "ankle_bend", Regions: lunge, Condition: "barefoot, before anything tiring"},
	{ID: "ankle.lunge_angle", Name: "Lunge, shin angle", Station: "ankle", Kind: Figure, Unit: "°", Sided: true, Trials: 3, MaxTrials: 6,
		Max: 70, Step: 0.5, Better: "higher", Tool: "inclinometer",
		How: []string{"Same test, inclinometer on the front of the shin below the knee, zeroed on the vertical."},
		Faults: []Fault{{ID: "heel_lifts", Name: "heel lifts", Invalidates: true}, {ID: "foot_turns", Name: "foot turns"},
			{ID: "knee_in", Name: "knee falls in"}},
		Seconds: 90, Limiter: "ankle_bend", Regions: lunge, Condition: "barefoot, before anything tiring"},
	{ID: "ankle.seated_bend", Name: "Seated ankle bend", Station: "ankle", Kind: Figure, Unit: "°", Sided: true, MaxTrials: 3, Max: 60,
		Step: 0.5, Better: "higher", Tool: "inclinometer",
		How:    []string{"Seated, shin vertical; slide forward until the knee is over the toes, heel down. Degrees of the shin."},
		Faults: []Fault{{ID: "heel_lifts", Name: "heel lifts before the toes", Fails: true}}, Seconds: 60, Limiter: "ankle_bend", Regions: lunge},
	{ID: "ankle.end_feel", Name: "What stops the bend", Station: "ankle", Kind: Class, Sided: true, Max: 2, Better: "none",
		How: []string{"At the end of the knee-to-wall test: where do they feel it? A pinch in front: no forced stretching; painful: refer."},
		Options: []Option{{Name: "stretch behind", Verdict: Clear}, {Name: "pinch in front", Verdict: Short, Severity: 0.8},
			{Name: "neither, very mobile", Verdict: Noted}},
		Faults: []Fault{{ID: "painful", Name: "painful: refer", Refers: true}}, Core: true, Seconds: 10, Limiter: "ankle_bend", Regions: ankle,
		provenance: body.Common},
	// Big toe.
	{ID: "toe.active_height", Name: "Big toe lifted by itself", Station: "big_toe", Kind: Figure, Unit: "mm", Sided: true, MaxTrials: 3,
		Max: 100, Better: "higher", Tool: "stack",
		How: []string{"Ball of the big toe and both other points of the tripod stay down.",
			"Lift the big toe alone; slide plates under until they just touch.",
			"If the toe lifts more than 2 mm clear, the stack is too low: add one."},
		Faults: toeFaults, Core: true, Seconds: 60, Limiter: "big_toe_control", Regions: []body.Region{body.BigToe, body.Ball},
		Condition: "barefoot, standing, unforced"},
	{ID: "toe.passive_height", Name: "Big toe lifted with a finger", Station: "big_toe", Kind: Figure, Unit: "mm", Sided: true, MaxTrials: 3,
		Max: 100, Better: "higher", Tool: "stack",
		How:    []string{"Same stance.", "Lift the toe with a finger to its soft end; plates under the tip."},
		Faults: toeFaults, Core: true, Seconds: 60, Limiter: "big_toe_range", Regions: []body.Region{body.BigToe, body.Ball},
		Condition: "barefoot, standing, unforced"},
	{ID: "toe.loaded_extension", Name: "Big toe lifted, ankle bent", Station: "big_toe", Kind: Figure, Unit: "°", Sided: true, MaxTrials: 3,
		Max: 100, Better: "higher",
		How:    []string{"Ankle bent about 30°, lift the big toe by hand. A foot that rolls out or in counts as short."},
		Faults: []Fault{{ID: "rolls", Name: "foot rolls out or in", Fails: true}}, Seconds: 60, Limiter: "big_toe_range",
		Regions: []body.Region{body.BigToe, body.Ball, body.Arch}},
	{ID: "toe.passive_extension", Name: "Big toe bent up, unloaded", Station: "big_toe", Kind: Figure, Unit: "°", Sided: true, MaxTrials: 3,
		Max: 110, Better: "higher",
		How:    []string{"Foot off the ground, bend the big toe up at its joint by hand. Pain inside the joint: refer."},
		Faults: []Fault{{ID: "joint_pain", Name: "pain in the joint: refer", Refers: true}}, Seconds: 60, Limiter: "big_toe_range",
		Regions: []body.Region{body.BigToe, body.Ball}},
	{ID: "toe.alignment", Name: "Path of the big toe", Station: "big_toe", Kind: Class, Sided: true, Max: 1, Better: "lower",
		How:     []string{"Does it lift straight, or drift across the others?"},
		Options: []Option{{Name: "lifts straight", Verdict: Clear}, {Name: "drifts across", Verdict: Short, Severity: 0.5}}, Seconds: 5,
		Limiter: "big_toe_control", Regions: []body.Region{body.BigToe}, provenance: body.Common},
	// Toe control.
	ability("toes.big_alone", "Big toe alone", "toe_control", true,
		"Lift the big toe alone, the others stay down. Coordination, not strength."),
	ability("toes.others_alone", "Other toes alone", "toe_control", false, "Lift the four small toes, the big toe stays down."),
	ability("toes.spread", "Spread and lower", "toe_control", false, "Spread, then lower from the little toe inwards."),
	ability("toe.press", "Big-toe press", "big_toe_control", true,
		"Big toe presses straight down, the tip does not curl: a curling tip means the shin muscles do the work."),
	with(ability("foot.short", "Short foot", "arch_strength", true,
		"Arch rises, toes long and not curled, the tendon at the front of the ankle shows."), "arch_strength"),
	with(hold("foot.short_hold", "Short foot held", "toe_control", true, 60,
		[]Fault{{ID: "curl", Name: "toes curl"}, {ID: "drops", Name: "arch drops"}}, foot, 60,
		"Arch up, toes long; time until it drops or the toes curl."), "arch_strength"),
	// Balance.
	{ID: "balance.open", Name: "One leg, eyes open", Station: "balance", Kind: Hold, Unit: "s", Sided: true, Trials: 3, MaxTrials: 5, Max: 45,
		Cap: 45, Step: 0.1, Better: "higher",
		How: []string{"Hands on hips, barefoot. Stop at 45 s. Three times, both sides."}, Faults: balFaults, Core: true, Seconds: 240,
		Limiter: "balance", Regions: allBelow, Condition: "barefoot, hands on hips"},
	{ID: "balance.closed", Name: "One leg, eyes closed", Station: "balance", Kind: Hold, Unit: "s", Sided: true, Trials: 3, MaxTrials: 5,
		Max: 45, Cap: 45, Step: 0.1, Better: "higher",
		How: []string{"Only after eyes open is steady for 30 s. A hand near the rail. Stop at 45 s."}, Faults: balFaults, Seconds: 100,
		Limiter: "balance", Regions: allBelow, Condition: "barefoot, hands on hips"},
	// Reach.
	reach("reach.front", "Reach to the front", "On one leg, reach straight ahead along the tape."),
	reach("reach.side", "Reach to the side", "Reach straight out to the side."),
	reach("reach.back", "Reach to the back", "Reach straight behind."),
	reach("reach.cross", "Reach across behind", "Reach behind and across the standing leg."),
	// Squat.
	{ID: "squat.arch", Name: "Squat: arch collapses", Station: "squat", Kind: Class, Sided: true, Max: 1, Better: "lower",
		How: []string{"Five slow squats, barefoot. Watch the arches."}, Options: noYes, Core: true, Seconds: 40, Limiter: "arch_strength",
		Regions: allBelow, provenance: body.Common},
	{ID: "squat.knee", Name: "Squat: knee falls in", Station: "squat", Kind: Class, Sided: true, Max: 1, Better: "lower",
		How: []string{"The same squats: does a knee fall in?"}, Options: noYes, Seconds: 15, Limiter: "hip_posture", Regions: allBelow,
		provenance: body.Common},
	{ID: "squat.heel", Name: "Squat: heel lifts", Station: "squat", Kind: Class, Sided: true, Max: 1, Better: "lower",
		How: []string{"The same squats: does a heel lift? A short ankle shows here when the shoe no longer hides it."}, Options: noYes,
		Seconds: 15, Limiter: "ankle_bend", Regions: allBelow, provenance: body.Common},
	// Capacity: holds, then counts to failure, then strength.
	hold("hold.forefoot_two", "Forefoot hold, two feet", "holds", false, 90, holdFaults, allBelow, 100,
		"Heels up, pressure behind the big toe. Not stopped at the target: up to 90 s."),
	hold("hold.forefoot_one", "Forefoot hold, one foot", "holds", true, 90, holdFaults, allBelow, 180,
		"One foot, only after two feet hold 30 s. Fingertips on the wall."),
	hold("hold.soleus_wall", "Wall-sit, heels raised", "holds", false, 90,
		[]Fault{{ID: "back", Name: "back leaves the wall"}, {ID: "heels", Name: "heels drop", Invalidates: true}}, allBelow, 80,
		"Back flat on the wall, hips at knee height, heels just raised."),
	hold("hold.split_forefoot", "Split forefoot hold", "holds", true, 90, holdFaults, allBelow, 180,
		"Split stance, front forefoot on a plate, heel free."),
	with(hold("toe.lean", "Forward lean on long toes", "holds", false, 90,
		[]Fault{{ID: "curl", Name: "toes curl"}, {ID: "heels", Name: "heels lift"}}, allBelow, 80,
		"Lean forward from the ankles, long toes holding."), "arch_strength"),
	{ID: "calf.raises_straight", Name: "One-leg heel raises, straight knee", Station: "raises", Kind: Count, Sided: true, MaxTrials: 2,
		Max: 80, Better: "higher", Beat: 2,
		How: []string{"One leg, knee straight, fingertips on the wall.", "One raise every 2 s to the full height of the first.",
			"Count until height, knee or rhythm is lost, or pain is above 5."},
		Faults: []Fault{{ID: "outside", Name: "weight falls to the outside"},
			{ID: "no_turn", Name: "heel does not turn in on rising: refer", Refers: true}}, Stops: raiseStops, Core: true, Seconds: 150,
		Strength: true, Limiter: "calf_capacity", Regions: allBelow, Condition: "barefoot, last in the screen, 1 per 2 s"},
	{ID: "calf.raises_bent", Name: "One-leg heel raises, bent knee", Station: "raises", Kind: Count, Sided: true, MaxTrials: 2, Max: 80,
		Better: "higher", Beat: 2,
		How:    []string{"The same with the knee bent a little and kept there."},
		Faults: []Fault{{ID: "outside", Name: "weight falls to the outside"}}, Stops: raiseStops, Seconds: 150, Strength: true,
		Limiter: "calf_capacity", Regions: allBelow, Condition: "barefoot, last in the screen, 1 per 2 s"},
	{ID: "shin.raises", Name: "Toe raises, back on the wall", Station: "strength", Kind: Count, MaxTrials: 2, Max: 80, Better: "higher",
		Beat: 2,
		How:  []string{"Back and seat on the wall, feet a foot-length out; lift the forefeet."},
		Stops: []Fault{{ID: "height", Name: "height lost"}, {ID: "rhythm", Name: "rhythm lost"}, {ID: "pain", Name: "pain above 5"},
			{ID: StopReserve, Name: "two in reserve"}, {ID: StopCeiling, Name: "stopped at the ceiling"}},
		Seconds: 90, Strength: true, Limiter: "shin", Regions: []body.Region{body.Shin, body.FrontAnkle}},
	{ID: "hop.supported", Name: "Supported bounce", Station: "strength", Kind: Hold, Unit: "s", MaxTrials: 2, Max: 120, Cap: 120, Step: 1,
		Better: "higher", Strength: true,
		How:   []string{"Hands on a table, brace held, two feet bouncing; time until a heel drops or the brace goes."},
		Parts: []Part{{"weight on the hands", "%", 0, 100, 5}}, Seconds: 90, Limiter: "spring", Regions: allBelow, provenance: body.Common},
	{ID: "calf.rm", Name: "Calf one-repetition maximum", Station: "strength", Kind: Parts, Unit: "kg", Sided: true, MaxTrials: 3, Max: 600,
		Better: "higher", Strength: true,
		How: []string{"One leg off a step, added weight in kg, full repetitions to failure (2–12).",
			"The estimate is of the whole load on the leg: body mass and what is added."},
		Parts: []Part{{"added weight", "kg", 0, 200, 0.5}, {"repetitions", "", 2, 12, 1}}, Seconds: 240, Limiter: "calf_capacity",
		Regions: allBelow},
})

func with(m Measure, limiter string) Measure {
	m.Limiter = limiter
	return m
}

// complete fills what most measures share.
func complete(ms []Measure) []Measure {
	for i := range ms {
		m := &ms[i]
		m.Protocol = max(m.Protocol, 1)
		m.Trials = max(m.Trials, 1)
		m.MaxTrials = max(m.MaxTrials, m.Trials)
		if m.Step == 0 {
			m.Step = 1
		}
		if m.Condition == "" {
			m.Condition = "barefoot"
		}
		if m.Faults == nil {
			m.Faults = []Fault{}
		}
		if m.Stops == nil {
			m.Stops = []Fault{}
		}
		if m.Options == nil {
			m.Options = []Option{}
		}
		for j := range m.Options {
			if m.Options[j].Verdict == "" {
				m.Options[j].Verdict = Noted
			}
		}
		if m.Parts == nil {
			m.Parts = []Part{}
		}
		if m.Regions == nil {
			m.Regions = []body.Region{}
		}
	}
	return ms
}
