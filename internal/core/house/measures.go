package house

import "notchback/internal/core/body"

const (
	springer   = "Springer et al. 2007, J Geriatr Phys Ther 30:8; arms crossed there, hands on hips here"
	plisky     = "Plisky et al. 2006, JOSPT 36:911, three-direction protocol"
	redmond    = "Redmond, Crosbie & Ouvrier 2006, Clin Biomech 21:89; Redmond, Crane & Menz 2008"
	altman     = "Altman & Davis 2012, Gait & Posture 35:298"
	heider     = "Heiderscheit et al. 2011, MSSE 43:296"
	hopkins    = "Hopkins 2000, Sports Med 30:1"
	notAtHand  = "source not at hand"
	konorAngle = "Konor et al. 2012, IJSPT 7:279"
)

// measures are the references, errors and side differences of the battery: key is the measure's id
// with .ref, .sem or .side.
var measures = []Rule{
	{"score.ability", "Ability score 0–3: below this is short", 2, "of 3", 1, 3, body.Ours, ""},
	{"score.fault", "Fault score 0–3: from here it is short", 2, "of 3", 1, 3, body.Ours, ""},
	{"hold.sem", "Timed holds: measurement error (SEM), share of the time", 10, "%", 2, 30, body.Ours, ""},

	{"arch.drop.ref", "Navicular drop, at most", 10, "mm", 5, 15, body.Memory, notAtHand},
	{"arch.drop.sem", "Navicular drop measurement error (SEM)", 1.5, "mm", 0.5, 4, body.Ours, ""},
	{"arch.drop.side", "Navicular drop side difference worth noting", 4, "mm", 1, 8, body.Ours, ""},
	{"foot.posture_index.low", "Foot posture index: normal from", 0, "", -2, 2, body.Memory, redmond},
	{"foot.posture_index.ref", "Foot posture index: normal up to", 5, "", 3, 7, body.Memory, redmond},
	{"foot.posture_index.high", "Foot posture index: highly pronated from", 10, "", 8, 12, body.Memory, redmond},
	{"foot.posture_index.supinated", "Foot posture index: highly supinated from, and below", -5, "", -8, -3, body.Memory, redmond},

	{"ankle.knee_to_wall.ref", "Knee-to-wall reference", 10, "cm", 4, 16, body.Common, ""},
	{"ankle.knee_to_wall.sem", "Knee-to-wall measurement error (SEM)", 0.5, "cm", 0.1, 2, body.Memory, bennell},
	{"ankle.knee_to_wall.side", "Knee-to-wall side difference worth noting", 1.5, "cm", 0.5, 4, body.Memory, hoch},
	{"ankle.lunge_angle.ref", "Lunge shin angle reference", 35, "°", 20, 50, body.Common, ""},
	{"ankle.lunge_angle.sem", "Lunge shin angle measurement error (SEM)", 1.3, "°", 0.5, 4, body.Memory, konorAngle},
	{"ankle.lunge_angle.side", "Lunge shin angle side difference worth noting", 5, "°", 2, 12, body.Ours, ""},
	{"ankle.seated_bend.ref", "Seated ankle bend reference", 30, "°", 15, 45, body.Common, ""},
	{"ankle.seated_bend.sem", "Seated ankle bend measurement error (SEM)", 3, "°", 0.5, 8, body.Ours, ""},

	{"toe.loaded_extension.ref", "Big toe lifted with the ankle bent, reference", 30, "°", 15, 60, body.Common, ""},
	{"toe.passive_extension.ref", "Big toe unloaded, reference (65° classic, 40–45° used in walking)", 45, "°", 30, 70, body.Memory,
		notAtHand},
	{"toe.passive_angle.ref", "Big toe on the stack, passive reference", 30, "°", 15, 60, body.Common, ""},
	{"toe.active_gap.ref", "Active gap: passive minus active angle, at most", 10, "°", 3, 30, body.Common, ""},
	{"toe.angle.sem", "Big-toe angle measurement error (SEM)", 3, "°", 0.5, 8, body.Ours, ""},
	{"toe.angle.side", "Big-toe angle side difference worth noting", 10, "°", 4, 25, body.Ours, ""},

	{"foot.short_hold.ref", "Short-foot hold reference", 10, "s", 3, 30, body.Ours, ""},

	{"balance.open.norm.18", "One-leg stance, eyes open, 18–39 years", 43.3, "s", 20, 45, body.Memory, springer},
	{"balance.open.norm.40", "One-leg stance, eyes open, 40–49 years", 40.3, "s", 20, 45, body.Memory, springer},
	{"balance.open.norm.50", "One-leg stance, eyes open, 50–59 years", 37, "s", 15, 45, body.Memory, springer},
	{"balance.open.norm.60", "One-leg stance, eyes open, 60–69 years", 26.9, "s", 10, 45, body.Memory, springer},
	{"balance.open.norm.70", "One-leg stance, eyes open, 70–79 years", 15, "s", 5, 40, body.Memory, springer},
	{"balance.open.norm.80", "One-leg stance, eyes open, 80–99 years", 6.2, "s", 2, 30, body.Memory, springer},
	{"balance.open.sem", "One-leg stance, eyes open, measurement error (SEM)", 4, "s", 0.5, 10, body.Ours, ""},
	{"balance.open.side", "One-leg stance, eyes open, side difference worth noting", 10, "s", 4, 25, body.Ours, ""},
	{"balance.closed.norm.18", "One-leg stance, eyes closed, 18–39 years", 9.4, "s", 3, 30, body.Memory, springer},
	{"balance.closed.norm.40", "One-leg stance, eyes closed, 40–49 years", 7.3, "s", 3, 30, body.Memory, springer},
	{"balance.closed.norm.50", "One-leg stance, eyes closed, 50–59 years", 4.8, "s", 2, 30, body.Memory, springer},
	{"balance.closed.norm.60", "One-leg stance, eyes closed, 60–69 years", 2.8, "s", 1, 30, body.Memory, springer},
	{"balance.closed.norm.70", "One-leg stance, eyes closed, 70–79 years", 2, "s", 1, 30, body.Memory, springer},
	{"balance.closed.norm.80", "One-leg stance, eyes closed, 80–99 years", 1.3, "s", 0.5, 30, body.Memory, springer},
	{"balance.closed.sem", "One-leg stance, eyes closed, measurement error (SEM)", 2, "s", 0.5, 8, body.Ours, ""},
	{"balance.closed.side", "One-leg stance, eyes closed, side difference worth noting", 6, "s", 3, 20, body.Ours, ""},
	{"balance.steady", "Eyes closed only after eyes open is steady for", 30, "s", 20, 45, body.Common, ""},

	{"reach.front.ref", "Reach to the front, share of leg length", 65, "%", 40, 100, body.Ours, ""},
	{"reach.side.ref", "Reach to the side, share of leg length", 75, "%", 40, 110, body.Ours, ""},
	{"reach.back.ref", "Reach to the back, share of leg length", 80, "%", 40, 120, body.Ours, ""},
	{"reach.cross.ref", "Reach across behind, share of leg length", 70, "%", 40, 120, body.Ours, ""},
	{"reach.composite.ref", "Reach, all four directions, share of leg length", 72, "%", 50, 110, body.Ours, ""},
	{"reach.sem", "Reach measurement error (SEM)", 2.5, "cm", 0.5, 6, body.Ours, ""},
	{"reach.front.side", "Reach to the front, side difference worth noting", 4, "cm", 2, 10, body.Memory, plisky},
	{"reach.side.side", "Reach to the side, side difference worth noting", 6, "cm", 2, 15, body.Ours, ""},
	{"reach.back.side", "Reach to the back, side difference worth noting", 6, "cm", 2, 15, body.Ours, ""},
	{"reach.cross.side", "Reach across behind, side difference worth noting", 6, "cm", 2, 15, body.Ours, ""},

	{"hold.forefoot_two.ref", "Forefoot hold on two feet, target", 30, "s", 10, 60, body.Common, ""},
	{"hold.forefoot_one.ref", "Forefoot hold on one foot, target", 30, "s", 10, 60, body.Common, ""},
	{"hold.forefoot_one.side", "Forefoot hold, side difference worth noting", 8, "s", 3, 30, body.Ours, ""},
	{"hold.soleus_wall.ref", "Wall-sit with heels raised, target", 30, "s", 10, 60, body.Common, ""},
	{"hold.split_forefoot.ref", "Split forefoot hold, target", 30, "s", 15, 60, body.Common, ""},
	{"hold.split_forefoot.side", "Split forefoot hold, side difference worth noting", 8, "s", 3, 30, body.Ours, ""},
	{"toe.lean.ref", "Forward lean on long toes, target", 60, "s", 20, 90, body.Common, ""},
	{"hop.supported.ref", "Supported bounce, target", 90, "s", 30, 120, body.Common, ""},
	{"hop.supported.pain", "Supported bounce only with morning pain at or below", 2, "of 10", 0, 2, body.Ours, ""},
	{"calf.raises_straight.ref", "One-leg heel raises reference", 25, "", 5, 40, body.Published, lunsford},
	{"calf.raises_straight.ref.50", "… from 50 years", 21, "", 5, 40, body.Memory, heelRise},
	{"calf.raises_straight.ref.60", "… from 60 years", 18, "", 5, 40, body.Memory, heelRise},
	{"calf.raises_straight.ref.70", "… from 70 years", 14, "", 5, 40, body.Memory, heelRise},
	{"calf.raises_straight.sem", "Heel-raise measurement error (SEM)", 2, "", 0.5, 5, body.Ours, ""},
	{"calf.raises_straight.side", "Heel-raise side difference worth noting", 5, "", 2, 15, body.Ours, ""},
	{"calf.raises_bent.ref", "One-leg heel raises with the knee bent, reference", 25, "", 5, 40, body.Common, ""},
	{"calf.raises_bent.sem", "Bent-knee heel-raise measurement error (SEM)", 2, "", 0.5, 5, body.Ours, ""},
	{"calf.raises_bent.side", "Bent-knee heel-raise side difference worth noting", 5, "", 2, 15, body.Ours, ""},
	{"calf.raises.ceiling", "Heel raises: stop here on a first visit or under a caution", 15, "", 5, 25, body.Ours, ""},
	{"shin.raises.ref", "Toe raises leaning on a wall, reference", 20, "", 5, 40, body.Ours, ""},
	{"shin.raises.sem", "Toe-raise measurement error (SEM)", 2, "", 0.5, 5, body.Ours, ""},
	{"calf.rm.ref", "One-leg calf one-repetition maximum of system load, times body mass", 1.4, "×", 1, 2.5, body.Ours, ""},
	{"calf.rm.sem", "One-repetition maximum measurement error (SEM): one increment", 2, "kg", 0.5, 10, body.Ours, ""},
	{"calf.rm.side", "One-repetition maximum side difference worth noting", 8, "kg", 4, 20, body.Ours, ""},

	{"walk.pain.note", "Pain in the heel and toe walks: short above", 2, "of 10", 0, 2, body.Ours, ""},
	{"walk.pain.change", "Pain in the walks: a real change from", 2, "of 10", 1, 3, body.Memory, farrar},

	{"gait.cadence.ref", "Cadence: the usual band begins at", 170, "spm", 150, 180, body.Common, ""},
	{"gait.cadence.high", "Cadence: the usual band ends at", 190, "spm", 180, 220, body.Common, ""},
	{"gait.cadence.sem", "Cadence measurement error when only one count was taken (SEM)", 2, "spm", 0.5, 6, body.Ours, ""},
	{"gait.cadence.own", "Cadence target: the runner's own and this much more", 5, "%", 2, 10, body.Memory, heider},
	{"gait.strike.rear", "Foot-strike angle: rearfoot above", 8, "°", 5, 12, body.Memory, altman},
	{"gait.strike.fore", "Foot-strike angle: forefoot below", -1.6, "°", -5, 0, body.Memory, altman},
	{"gait.strike_angle.sem", "Foot-strike angle measurement error (SEM)", 2, "°", 0.5, 6, body.Ours, ""},
	{"gait.overstride.ref", "Ankle ahead of the hip at landing, share of leg length, at most", 25, "%", 10, 40, body.Ours, ""},
	{"gait.overstride.sem", "Overstride measurement error (SEM)", 3, "%", 0.5, 8, body.Ours, ""},
	{"gait.shin_angle.ref", "Shin leaning back at landing, at most", 8, "°", 0, 20, body.Ours, ""},
	{"gait.shin_angle.sem", "Shin angle measurement error (SEM)", 2, "°", 0.5, 6, body.Ours, ""},
	{"gait.knee_landing.ref", "Knee bend at landing, at least", 12, "°", 5, 30, body.Ours, ""},
	{"gait.knee_landing.sem", "Knee bend measurement error (SEM)", 3, "°", 0.5, 8, body.Ours, ""},
	{"gait.hip_extension.ref", "Hip extension at toe-off, at least", 10, "°", 0, 25, body.Ours, ""},
	{"gait.hip_extension.sem", "Hip extension measurement error (SEM)", 3, "°", 0.5, 8, body.Ours, ""},
	{"gait.contact.sem", "Contact time measurement error (SEM), when it does not come from a clip", 12, "ms", 1, 30, body.Ours, ""},
	{"gait.contact.side", "Contact time side difference worth noting", 15, "ms", 5, 40, body.Ours, ""},
	{"gait.flight.sem", "Flight time measurement error (SEM), when it does not come from a clip", 12, "ms", 1, 30, body.Ours, ""},
	{"gait.oscillation.ref", "Vertical oscillation, at most", 10, "cm", 6, 14, body.Ours, ""},
	{"gait.oscillation.sem", "Vertical oscillation measurement error (SEM), when it does not come from a clip", 0.8, "cm", 0.1, 3, body.Ours,
		""},
	{"gait.trunk.sem", "Trunk lean measurement error (SEM), when it does not come from a clip", 2, "°", 0.5, 6, body.Ours, ""},
	{"gait.cadence.step", "Cadence: largest step up at once", 6, "spm", 4, 10, body.Common, ""},
	{"gait.cadence.step.days", "Cadence: a step lasts at least", 14, "days", 7, 28, body.Common, ""},

	{"clip.click", "A clicked point is off by at most (95 %)", 2, "pixels", 0.5, 6, body.Ours, ""},
	{"clip.rate.foot", "At landing the foot turns by", 400, "° a second", 150, 800, body.Ours, ""},
	{"clip.rate.leg", "At landing and toe-off shin and thigh turn by", 250, "° a second", 100, 500, body.Ours, ""},
	{"clip.rate.knee", "At landing the knee bends by", 450, "° a second", 200, 800, body.Ours, ""},
	{"clip.rate.forward", "At landing the foot moves under the hip by", 350, "% of leg length a second", 200, 700, body.Ours, ""},
	{"clip.strike.fps", "A strike class from an angle only from this capture rate", 120, "frames a second", 100, 480, body.Ours, ""},
	{"clip.average.fps", "Errors of times fall with the number of steps from this capture rate", 120, "frames a second", 100, 480, body.Ours,
		""},
	{"clip.average.spread", "… and when step times spread over at least", 0.3, "frames", 0.2, 2, body.Ours, ""},
	{"clip.side.enough", "Sides are compared when the difference is known to", 10, "ms", 4, 20, body.Ours, ""},
	{"clip.cadence.enough", "Cadence from a clip is good enough when known to", 2, "spm", 1, 5, body.Ours, ""},
	{"clip.force.enough", "Forces are shown as good enough when known to", 0.2, "body weights", 0.05, 0.5, body.Ours, ""},
	{"clip.oscillation.enough", "Oscillation from a clip is good enough when known to", 1, "cm", 0.3, 3, body.Ours, ""},
	{"clip.leg.se", "Leg length is known to (standard error)", 10, "mm", 2, 40, body.Ours, ""},
	{"clip.speed.se", "Belt speed is known to (standard error)", 2, "%", 0.5, 10, body.Ours, ""},

	{"screen.core.minutes", "The core screen takes at most", 20, "min", 10, 40, body.Ours, ""},
	{"screen.signs.days", "Warning signs are asked again before a screen after", 1, "days", 1, 3, body.Ours, ""},
	{"typical.pairs", "Your own typical error is shown from this many repeat pairs", 20, "pairs", 10, 60, body.Memory, hopkins},
	{"typical.days", "A repeat pair is at most this far apart", 7, "days", 1, 14, body.Ours, ""},
	{"retest.days", "Retest after", 28, "days", 14, 84, body.Ours, ""},
	{"retest.strength.days", "Retest strength after", 84, "days", 28, 120, body.Ours, ""},
}
