// Package house holds the house rules: every threshold the core uses, with its default, unit,
// allowed range, provenance and source, and the approaches among which a coach chooses per runner.
package house

import (
	"slices"

	"notchback/internal/core/body"
)

// Rule is one threshold a practice may change within its range.
type Rule struct {
	Key        string          `json:"key"`
	Name       string          `json:"name"`
	Default    float64         `json:"default"`
	Unit       string          `json:"unit"`
	Min        float64         `json:"min"`
	Max        float64         `json:"max"`
	Provenance body.Provenance `json:"provenance"`
	Source     string          `json:"source,omitempty"`
}

const (
	bennell  = "Bennell et al. 1998, Aust J Physiother 44:175; Konor et al. 2012, IJSPT 7:279"
	hoch     = "Hoch & McKeon 2011"
	lunsford = "Lunsford & Perry 1995, Phys Ther 75:694"
	heelRise = "Hébert-Losier et al. 2017, Physiotherapy 103:446; bands rounded"
	silber   = "Silbernagel et al. 2007, AJSM 35:897"
	farrar   = "Farrar et al. 2001, Pain 94:149"
	nielsen  = "Nielsen et al. 2014, JOSPT 44:739"
	cohort   = "cohort of recreational runners, BJSM 2025"
)

// All lists the house rules in the order they are shown: the battery's first.
var All = slices.Concat(measures, work)

// work are the thresholds of building, adjusting, running volume and the desk.
var work = []Rule{
	{"place.share", "First dose of a set as a share of the tested amount", 60, "%", 30, 60, body.Ours, ""},
	{"place.reps.min", "First dose of work lighter than the test, fewest repetitions", 5, "", 3, 5, body.Ours, ""},
	{"dose.wall.inside", "Rocks to the wall begin inside the tested distance by", 1, "cm", 1, 4, body.Ours, ""},
	{"dose.wall.span", "… and grow from there by at most", 3, "cm", 1, 3, body.Ours, ""},
	{"dose.rm.first", "A weight from a tested maximum begins with so many repetitions in reserve", 4, "", 4, 8, body.Ours, ""},
	{"dose.rm.reserve", "… and goes on with so many in reserve", 2, "", 2, 6, body.Ours, ""},
	{"dose.floor.reps", "Fewest repetitions of a set worth doing", 3, "", 3, 8, body.Ours, ""},
	{"dose.floor.seconds", "Fewest seconds of a set worth doing", 2, "s", 2, 10, body.Ours, ""},
	{"dose.floor.contacts", "Fewest paces or contacts of a set worth doing", 5, "", 5, 20, body.Ours, ""},
	{"build.rails.max", "Most rails active at once", 6, "", 1, 8, body.Ours, ""},
	{"build.calm.enter", "Calm begins when usual morning or daily pain is above", 3, "of 10", 1, 5, body.Ours, ""},
	{"build.calm.exit", "Calm ends when mornings stay at or below", 2, "of 10", 0, 3, body.Ours, ""},
	{"build.extra.pain", "No extra set on the weaker side above this pain", 2, "of 10", 0, 3, body.Ours, ""},
	{"build.rails.basic", "Rails a runner gets even when nothing measured asks for them", 2, "", 1, 4, body.Ours, ""},
	{"build.sitting", "The front of the hip is opened from so many hours sitting a day", 8, "h", 4, 14, body.Common, ""},
	{"build.standing", "The sole is released from so many hours standing a day", 6, "h", 3, 14, body.Common, ""},
	{"shoes.km", "A pair counts as run down from", 700, "km", 300, 1500, body.Common, ""},
	{"shoes.months", "… or from an age of", 24, "months", 6, 60, body.Common, ""},
	{"build.keep.sessions", "Sessions a week that keep what is built", 2, "", 1, 3, body.Common, ""},
	{"build.keep.weeks", "Weeks at the top of a rail until it counts as built", 8, "weeks", 4, 16, body.Ours, ""},
	{"build.calf.rails", "Calf rails at once, the lowering programme counting as one", 2, "", 1, 2, body.Ours, ""},
	{"build.calf.sets", "Hard calf sets a week and leg", 16, "", 6, 16, body.Ours, ""},
	{"build.calf.sets.override", "… where the coach brought the rail in with a word why", 24, "", 6, 24, body.Ours, ""},
	{"build.raises.least", "Build ends with even legs from this many raises", 15, "", 15, 25, body.Ours, ""},
	{"build.sides", "Build ends with the weaker leg at this share of the stronger", 90, "%", 80, 100, body.Ours, ""},
	{"build.heavy.min_kg", "Smallest dumbbell that lets the heavy slow exercise start", 10, "kg", 4, 40, body.Ours, ""},
	{"week.quality.minutes", "A run longer than this counts as a quality run", 90, "min", 45, 90, body.Ours, ""},
	{"week.gap.heavy", "Free days between sessions of loaded or one-leg calf work", 1, "days", 1, 3, body.Common, ""},
	{"week.gap.spring", "Free days between sessions of free bounces", 1, "days", 1, 3, body.Common, ""},
	{"session.short", "The short version of a session takes at most", 5, "min", 3, 10, body.Common, ""},
	{"race.taper", "Before a race: load kept, sets halved, nothing new, from", 14, "days", 14, 21, body.Ours, ""},
	{"retest.borderline.days", "A borderline strength test is taken again after", 7, "days", 7, 28, body.Ours, ""},
	{"race.new", "Before a race: nothing that was not done in the last", 28, "days", 14, 28, body.Ours, ""},
	{"week.left-out", "Sessions running left out by the calendar before Today says so", 2, "", 1, 3, body.Ours, ""},
	{"week.hard.best", "A set within two of a tested best up to this many counts as heavy", 12, "", 12, 20, body.Ours, ""},
	{"race.heavy", "Before a race: nothing heavy within", 3, "days", 3, 7, body.Ours, ""},
	{"race.after", "After a race: no move up for", 7, "days", 7, 14, body.Ours, ""},
	{"race.after.long", "After a marathon or longer: no move up for", 14, "days", 14, 28, body.Ours, ""},
	{"adjust.pain.go", "Pain during work that still lets a rail move up", 2, "of 10", 0, 2, body.Memory, silber},
	{"adjust.pain.back", "Pain during work above this goes back", 5, "of 10", 2, 5, body.Memory, silber},
	{"adjust.pain.back2", "Pain during work from here goes back two", 7, "of 10", 5, 7, body.Ours, ""},
	{"adjust.morning.back", "Morning pain over usual that goes back", 2, "of 10", 1, 2, body.Memory, farrar},
	{"adjust.morning.pause", "Morning pain over usual that is talked over before one-leg work and bouncing go on", 4, "of 10", 2, 4, body.Ours,
		""},
	{"adjust.morning.never_up", "Never up while the morning is above", 5, "of 10", 2, 5, body.Memory, silber},
	{"adjust.rpe.max", "Highest effort (RPE) that counts as two in reserve", 8, "of 10", 6, 8, body.Ours, ""},
	{"adjust.days.control", "Days since the last move: control", 3, "days", 2, 14, body.Ours, ""},
	{"adjust.days.range", "Days since the last move: range", 3, "days", 2, 14, body.Ours, ""},
	{"adjust.days.isometric", "Days since the last move: isometric", 5, "days", 3, 14, body.Ours, ""},
	{"adjust.days.release", "Days since the last move: release", 3, "days", 2, 14, body.Ours, ""},
	{"adjust.days.settle", "Days since the last move: settling", 3, "days", 2, 14, body.Ours, ""},
	{"adjust.days.endurance", "Days since the last move: endurance", 5, "days", 3, 14, body.Ours, ""},
	{"adjust.days.spring", "Days since the last move: spring", 7, "days", 5, 28, body.Ours, ""},
	{"adjust.days.drill", "Days since the last move: drills and cadence", 7, "days", 5, 28, body.Ours, ""},
	{"adjust.days.strength", "Days since the last move: strength", 7, "days", 5, 28, body.Ours, ""},
	{"adjust.complete.low", "Below this share of the dose twice goes back", 80, "%", 80, 95, body.Ours, ""},
	{"adjust.back.work", "Back 1 leaves at most this share of the work", 80, "%", 50, 80, body.Ours, ""},
	{"adjust.cramp.hold", "Next hold after a cramp, share of the time reached", 80, "%", 50, 95, body.Common, ""},
	{"adjust.again.days", "Back two again within this parks", 14, "days", 14, 42, body.Ours, ""},
	{"adjust.brake.days", "After a rail of a leg went back, or a place is well above usual: nothing of it up for", 7, "days", 7, 21, body.Ours,
		""},
	{"adjust.release.hold", "Discomfort of release work: lighten and wait from", 5, "of 10", 3, 5, body.Common, ""},
	{"adjust.release.back", "Discomfort of release work: back from", 8, "of 10", 6, 8, body.Common, ""},
	{"adjust.return.days", "A parked rail returns after so many quiet days", 7, "days", 7, 28, body.Ours, ""},
	{"adjust.return.mornings", "… with so many mornings reported", 5, "", 5, 7, body.Ours, ""},
	{"adjust.stop.retest", "After a warning sign of so many days: test and place again", 14, "days", 7, 14, body.Ours, ""},
	{"dose.step", "A step grows the work by at most", 50, "%", 10, 50, body.Ours, ""},
	{"dose.load.step", "A load step grows the load on the leg by at most", 10, "%", 2, 10, body.Ours, ""},
	{"adjust.miss.hold", "Days missed: hold from", 7, "days", 5, 14, body.Ours, ""},
	{"adjust.miss.back", "Days missed: back from", 14, "days", 10, 21, body.Ours, ""},
	{"adjust.miss.retest", "Days missed: test again from", 28, "days", 21, 60, body.Ours, ""},
	{"load.back.days", "A warning sign that barred running this long leads through the steps back", 14, "days", 7, 14, body.Ours, ""},
	{"load.back.break", "A stated break this long leads through the steps back", 28, "days", 14, 28, body.Ours, ""},
	{"load.back.break.short", "A stated break this long halves the minutes for a while", 14, "days", 7, 14, body.Ours, ""},
	{"load.back.half.least", "Half the minutes for at least", 7, "days", 7, 14, body.Ours, ""},
	{"load.back.half.most", "Half the minutes for at most", 14, "days", 14, 28, body.Ours, ""},
	{"load.back.reach", "A way back begun longer ago than this is over", 84, "days", 84, 88, body.Ours, ""},
	{"load.back.walks", "Quiet days of brisk walking before the first step", 3, "days", 3, 7, body.Ours, ""},
	{"load.back.sessions", "Quiet sessions before the next step", 2, "", 2, 4, body.Ours, ""},
	{"load.back.weeks", "Quiet weeks before quality, hills, cadence and barefoot work", 4, "weeks", 4, 8, body.Ours, ""},
	{"load.longest.ratio", "Longest run over the 30 days before, at most", 1.10, "×", 1, 1.3, body.Memory, cohort},
	{"load.longest.km", "… and by more than", 1, "km", 0, 5, body.Ours, ""},
	{"load.week.ratio", "Week over the mean of the two before, at most", 1.30, "×", 1, 1.5, body.Memory, nielsen},
	{"load.easy.days", "A week counts as planned easy, or as away, from so many of its days", 4, "days", 4, 7, body.Ours, ""},
	{"load.easy.share", "An easier week holds this share of the last ordinary one", 75, "%", 50, 90, body.Common, ""},
	{"load.race.before", "The week before a goal race's holds this share", 75, "%", 50, 100, body.Common, ""},
	{"load.race.week", "The week of a goal race holds this share, the race apart", 60, "%", 30, 100, body.Common, ""},
	{"load.race.after", "The week after a goal race holds this share; after a marathon or longer that of its own week", 75, "%", 30, 100,
		body.Common, ""},
	{"load.start", "Without any history running starts with at most", 30, "min", 10, 30, body.Ours, ""},
	{"calf.forefoot", "A forefoot or barefoot step loads the calf, over a rearfoot step", 1.15, "×", 1, 1.5, body.Memory,
		"studies of the load on the Achilles tendon by strike"},
	{"calf.fast", "A step of a quality run or race, over an easy one", 1.10, "×", 1, 1.5, body.Ours, ""},
	{"calf.uphill", "A step uphill, for each % of mean climb", 1.05, "×", 1, 1.2, body.Ours, ""},
	{"dial.lead", "Running may grow in a week it leads by at most", 10, "%", 0, 10, body.Ours, ""},
	{"dial.other", "… and in a week it does not lead by at most", 3, "%", 0, 3, body.Ours, ""},
	{"dial.wait", "What is wanted waits for its lead at most", 3, "weeks", 1, 3, body.Ours, ""},
	{"dial.heavy", "Heavy rails that move up in a week strength does not lead", 1, "", 0, 1, body.Ours, ""},
	{"barefoot.pain", "Barefoot gate: mornings and walking pain at most", 2, "of 10", 0, 2, body.Ours, ""},
	{"barefoot.raises.walk", "One-leg raises before walking bare", 15, "", 15, 30, body.Ours, ""},
	{"barefoot.raises.run", "… before bounces and running", 20, "", 20, 40, body.Ours, ""},
	{"barefoot.told", "… mornings count as told for", 7, "days", 3, 14, body.Ours, ""},
	{"barefoot.asked", "… the intake for", 21, "days", 7, 21, body.Ours, ""},
	{"barefoot.days", "A bare week counts from so many days done, at home and walking", 5, "days", 5, 7, body.Ours, ""},
	{"barefoot.sessions", "… strength sessions and bounces", 2, "", 2, 3, body.Ours, ""},
	{"barefoot.sore", "Calf or sole counts as sore above", 2, "of 10", 0, 2, body.Ours, ""},
	{"barefoot.drop", "Strength on bare feet begins with its load dropped by", 40, "%", 30, 50, body.Ours, ""},
	{"barefoot.rebuild", "… which is rebuilt a week by", 10, "points", 5, 10, body.Ours, ""},
	{"barefoot.first", "Run–walk begins with at most", 5, "min a week", 1, 5, body.Ours, ""},
	{"barefoot.first.share", "… and at most this share of the weekly running", 5, "%", 1, 5, body.Ours, ""},
	{"barefoot.grow", "The share grows a week by", 10, "%", 1, 10, body.Ours, ""},
	{"barefoot.grow.most", "… and by at most", 5, "min", 1, 5, body.Ours, ""},
	{"barefoot.grow.shoe", "A thinner shoe grows a week by at most this share of the running", 10, "points", 2, 10, body.Ours, ""},
	{"barefoot.cap", "Agreed share of the running on bare feet, unless another is agreed", 20, "%", 5, 20, body.Ours, ""},
	{"barefoot.rescreen", "The gait on bare feet, looked at within this, stands for the next stage", 21, "days", 7, 28, body.Ours, ""},
	{"barefoot.shoe.step", "A step to a thinner shoe is at most", 20, "points of the index", 5, 20, body.Ours, ""},
	{"barefoot.shoe.drop", "A change of drop counts as a move of the barefoot dial from", 4, "mm", 1, 4, body.Ours, ""},
	{"load.ratio.high", "Week over the four weeks, under the gauges that use it: high from", 1.5, "×", 1.2, 1.5, body.Memory,
		"Gabbett 2016, BJSM 50:273"},
	{"permit.sore.back", "The back of the heel, its tendon or the ball is sore above", 2, "of 10", 0, 2, body.Ours, ""},
	{"permit.sore.knee", "Above the knee is sore above", 5, "of 10", 2, 5, body.Ours, ""},
	{"permit.shin.days", "Diffuse shin pain is referred after", 21, "days", 7, 21, body.Common, ""},
	{"permit.laces.days", "Tingling a second time within this is a stop", 14, "days", 14, 60, body.Ours, ""},
	{"permit.ill.free", "After an illness: training begins after so many days free of it", 2, "days", 2, 14, body.Ours, ""},
	{"permit.ill.most", "After an illness: half for as long as it lasted, at most", 14, "days", 14, 42, body.Ours, ""},
	{"permit.ill.gentle", "After an illness: no bouncing and no one-leg work in the first", 3, "days", 3, 14, body.Ours, ""},
	{"permit.steroid.days", "A steroid takes its work away for", 42, "days", 42, 120, body.Ours, ""},
	{"permit.quinolone.days", "A quinolone takes its work away for", 90, "days", 90, 365, body.Ours, ""},
	{"permit.surgery.days", "Surgery or a fracture takes its work away for", 365, "days", 365, 730, body.Ours, ""},
	{"permit.birth.days", "After a birth for", 84, "days", 84, 365, body.Ours, ""},
	{"permit.supine", "Pregnant past week 12: on the back at most", 60, "s", 0, 60, body.Ours, ""},
	{"permit.balance.age", "Alone a hand on a rail from the age of", 65, "years", 50, 65, body.Ours, ""},
	{"permit.balance.least", "… or with open balance under", 10, "s", 10, 45, body.Ours, ""},
	{"permit.touch.days", "Feeling counts as known by the fingertip test for", 180, "days", 30, 180, body.Ours, ""},
	{"permit.touch.told", "Feeling counts as known by the runner's word for", 90, "days", 14, 90, body.Ours, ""},
	{"permit.touch.grace", "A dose in force with feeling unknown goes on for", 14, "days", 0, 14, body.Ours, ""},
	{"queue.quiet", "Gone quiet after", 6, "days", 3, 21, body.Ours, ""},
	{"link.days", "A runner's private link lasts", 90, "days", 7, 365, body.Ours, ""},
	{"phone.cache.hours", "A phone without signal asks for marks and signs before harder work after", 24, "h", 6, 24, body.Ours, ""},
	{"phone.alone.hours", "A phone without signal shows gentle work alone after", 72, "h", 24, 72, body.Ours, ""},
}

var index = func() map[string]Rule {
	m := make(map[string]Rule, len(All))
	for _, r := range All {
		m[r.Key] = r
	}
	return m
}()

// Find returns the rule with this key.
func Find(key string) (Rule, bool) { r, ok := index[key]; return r, ok }

// Rules is a practice's set of thresholds: the defaults and what it changed.
type Rules struct {
	Version    int                // counts the practice's changes; 0 are the defaults
	Changed    map[string]float64 // values that differ from the default
	Approaches map[string]string  // what the practice chose where practitioners disagree

	CoreStations []string  // the practice's own core screen; empty: the default
	PlatesMm     []float64 // thicknesses the coach stacks under a toe; empty: the runner's own
}

// Get returns the value in force. A value kept by an earlier release that is outside today's range counts
// as the nearer bound. An unknown key is a programming error and panics.
func (r Rules) Get(key string) float64 {
	d, ok := index[key]
	if !ok {
		panic("house: unknown rule " + key)
	}
	if v, ok := r.Changed[key]; ok {
		return min(max(v, d.Min), d.Max)
	}
	return d.Default
}

// Int returns the value in force, cut to a whole number.
func (r Rules) Int(key string) int { return int(r.Get(key)) }

// Because starts a reason of the named rule that rests on the given house rules; provenance and
// source are those of the first key.
func (r Rules) Because(rule, says string, keys ...string) body.Reason {
	out := body.Reason{Rule: rule, Says: says, Saw: []body.Fact{}, House: keys, Provenance: body.Ours}
	if out.House == nil {
		out.House = []string{}
	}
	if len(keys) > 0 {
		d := index[keys[0]]
		out.Provenance, out.Source = d.Provenance, d.Source
		if _, changed := r.Changed[keys[0]]; changed {
			out.Provenance, out.Source = "set by this practice", ""
		}
	}
	return out
}

// CheckChange refuses a value outside the rule's range or for a key that does not exist.
func CheckChange(key string, value float64) error {
	d, ok := index[key]
	if !ok {
		return body.Refuse("key", "there is no house rule %q", key)
	}
	if value < d.Min || value > d.Max {
		return body.Refuse("value", "%s is %g; enter %g to %g %s", d.Name, value, d.Min, d.Max, d.Unit)
	}
	return nil
}

// Option is one way of answering a question on which practitioners disagree.
type Option struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Approach is a question on which practitioners disagree; the first option is the default.
type Approach struct {
	ID       string   `json:"id"`
	Question string   `json:"question"`
	Options  []Option `json:"options"`
}

// Approaches lists the questions in force.
var Approaches = []Approach{
	{"sore_heel", "Sore plantar heel", []Option{{"load", "load early, within the pain rule"},
		{"settle", "settle first: cold, massage, then strengthen"}, {"release", "release and strengthen together"}}},
	{"tight_sole", "Tight sole", []Option{{"hand", "hand release, quick"}, {"stretch", "stretching, 10 to 12 weeks"},
		{"load", "loading only"}}},
	{"short_calf", "Short calf", []Option{{"load", "lengthen under load"}, {"stretch", "stretch"}}},
	{"pressure", "Pressure in release work", []Option{{"five", "under 5 of 10, never sharp"}, {"bearable", "as much as is bearable"}}},
	{"sole_focus", "Rolling the sole", []Option{{"outer", "outer edge first"}, {"inner", "inner arch first"}}},
	{"sore_shin", "Sore shin", []Option{{"calm", "calm first, then bands"}, {"strengthen", "strengthen within the pain rule"}}},
	{"toes", "Toes", []Option{{"long", "long toes: short foot, press without curling"}, {"grip", "grip and curl"}, {"both", "both"}}},
	{"session_end", "End of the session", []Option{{"strength", "spring before strength"}, {"bounce", "bouncing last"}}},
	{"weight", "Where the weight goes in strength work", []Option{{"forefoot", "forefoot and big toe"}, {"heels", "heels"}}},
	{"start", "Where to start", []Option{{"foot", "foot up"}, {"hip", "hip down"}}},
	{"inserts", "Inserts and supports", []Option{{"leave", "leave as prescribed"},
		{"review", "build strength and review with the prescriber"}}},
	{"pain", "Pain while training", []Option{{"monitored", "monitored: 0–2 go on, 3–5 hold, over 5 back"},
		{"none", "no pain: 0 go on, 1–2 hold, 3 and over back"}}},
	{"cramp", "Cramp", []Option{{"subtract", "stop at the cramp, subtract"}, {"practise", "expect it and practise daily"}}},
	{"effort", "Effort", []Option{{"reserve", "leave two in reserve"}, {"fatigue", "to fatigue"}}},
	{"around_runs", "Foot work and runs", []Option{{"away", "away from runs"}, {"fresh", "fresh, before runs"}}},
	{"often", "How often", []Option{{"few", "few and fresh"}, {"daily", "small and daily"}}},
	{"cadence", "Cadence", []Option{{"own", "own + 5 %, at most + 10 %"}, {"band", "into the 170–190 band, reviewed at + 10 %"},
		{"leave", "leave as it is"}}},
	{"gait_lever", "First gait lever", []Option{{"chain", "posture chain"}, {"cadence", "cadence first"}}},
	{"volume", "How rising volume is told", []Option{{"spike", "the longest run and the weekly change"},
		{"ratio", "the week against four weeks, rolling"}, {"weighted", "the week against four weeks, exponentially weighted"}}},
	{"barefoot", "Barefoot", []Option{{"gate", "gate first"}, {"slow", "slow habit, without the arch"}, {"indoors", "indoors only"}}},
	{"strike", "Foot strike", []Option{{"leave", "leave unless there is a reason"}, {"middle", "towards the middle, slowly"}}},
	{"pronation", "Pronation", []Option{{"movement", "a movement to control and train both ways"}, {"fault", "a fault to limit"}}},
}

// Choice returns the option in force for a question: the runner's own, the practice's, or the default.
// An unknown question is a programming error and panics.
func (r Rules) Choice(chosen map[string]string, id string) string {
	i := slices.IndexFunc(Approaches, func(a Approach) bool { return a.ID == id })
	if i < 0 {
		panic("house: unknown approach " + id)
	}
	a := Approaches[i]
	for _, c := range []string{chosen[id], r.Approaches[id]} {
		if slices.ContainsFunc(a.Options, func(o Option) bool { return o.ID == c }) {
			return c
		}
	}
	return a.Options[0].ID
}

// Known keeps the answers that are offered; dropped are the questions of the others, for which the default holds.
func Known(chosen map[string]string) (kept map[string]string, dropped []string) {
	kept, dropped = map[string]string{}, []string{}
	for q, c := range chosen {
		if CheckApproaches(map[string]string{q: c}) == nil {
			kept[q] = c
			continue
		}
		name := q + ": " + c
		if i := slices.IndexFunc(Approaches, func(a Approach) bool { return a.ID == q }); i >= 0 {
			name = Approaches[i].Question + ": " + Approaches[i].Options[0].Name + " holds"
		}
		dropped = append(dropped, name)
	}
	slices.Sort(dropped)
	return kept, dropped
}

// OptionName returns the words of an option; its id where there is none.
func OptionName(question, option string) string {
	for _, a := range Approaches {
		for _, o := range a.Options {
			if a.ID == question && o.ID == option {
				return o.Name
			}
		}
	}
	return option
}

// CheckApproaches refuses a question or option that does not exist.
func CheckApproaches(chosen map[string]string) error {
	for q, c := range chosen {
		i := slices.IndexFunc(Approaches, func(a Approach) bool { return a.ID == q })
		if i < 0 || !slices.ContainsFunc(Approaches[i].Options, func(o Option) bool { return o.ID == c }) {
			return body.Refuse("approaches."+q, "%q is not one of the options", c)
		}
	}
	return nil
}
