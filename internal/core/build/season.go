package build

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

// CadenceStep is one step of the cadence and the days it stands.
type CadenceStep struct {
	Spm   int       `json:"spm"`
	From  body.Date `json:"from" doc:"earliest day"`
	Count body.Date `json:"count" doc:"day the cadence is counted again at the same speed"`
}

// CadencePlan leads from the runner's own cadence to the target in steps of 4 to 6 a minute, two weeks
// each. Its dates are the earliest: a step waits while calf or Achilles is sore.
type CadencePlan struct {
	Own    float64       `json:"own"`
	Target float64       `json:"target"`
	At     string        `json:"at" doc:"pace it was counted at"`
	Steps  []CadenceStep `json:"steps"`
	Hold   string        `json:"hold"`
	Why    body.Reason   `json:"why"`
}

// cadencePlan is nil without a counted cadence, or when the approach leaves it alone. The steps are
// dated from the day the rail began, so that building again moves no date.
func cadencePlan(in Input) *CadencePlan {
	own, ok := screen.OwnCadence(in.Trials, in.Profile, in.House)
	if !ok {
		return nil
	}
	from := in.Today
	for _, c := range in.Current {
		if c.Dose.Spm > 0 { // begun: its steps are counted from where it began, whatever was counted since
			from = min(from, c.From)
			own = own.Before(in.Trials, in.Profile, in.House)
		}
	}
	p := &CadencePlan{Own: own.Reading.Value, Target: own.Target, At: own.Reading.Context, Steps: []CadenceStep{}, Why: own.Why,
		Hold: "Held while calf or Achilles is sore, and while mornings are above usual. After each step the cadence is counted without the beat."}
	for _, s := range screen.CadenceSteps(own.Reading.Value, own.Target, in.House) {
		next := from.Add(s.Days)
		p.Steps = append(p.Steps, CadenceStep{int(s.Spm), from, next})
		from = next
	}
	if len(p.Steps) == 0 {
		return nil
	}
	return p
}

// Retest is a day something is measured again.
type Retest struct {
	On   body.Date `json:"on"`
	What string    `json:"what"`
}

// retests lists when to measure again: after the interval, strength after its own, the cadence at the
// end of each step.
func retests(p Programme, in Input, cat catalog.Catalogue) []Retest {
	out := []Retest{}
	if in.Profile.History.Prescribed != "" && in.Profile.History.Prescribed != "none" &&
		in.House.Choice(in.Profile.Approaches, "inserts") == "review" {
		out = append(out, Retest{in.Today.Add(2 * in.House.Int("retest.strength.days")),
			"Inserts and supports: looked at again with the prescriber"})
	}
	out = append(out, []Retest{{in.Today.Add(in.House.Int("retest.days")), "Retest: ankle, big toe, toe control, arch, balance"},
		{in.Today.Add(in.House.Int("retest.strength.days")), "Retest: strength"}}...)
	if p.Cadence != nil && slices.ContainsFunc(p.Rails, func(r RailPlan) bool {
		rail, _ := cat.Find(r.Rail)
		return r.Chosen &&
			rail.ByBeat()
	}) {
		for _, s := range p.Cadence.Steps {
			if s.Count > in.Today {
				out = append(out, Retest{s.Count, fmt.Sprintf("Count the cadence without the beat, at the same speed (step of %d a minute)", s.Spm)})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Retest) int { return a.On.Sub(b.On) })
	return out
}

// RaceState is where a day stands to the runner's races.
type RaceState string

// The states. Near: load kept, sets halved, nothing new. Close: nothing heavy. RaceDay: nothing.
// Recovering: no move up.
const (
	FarFromRace RaceState = ""
	NearRace    RaceState = "near"
	CloseToRace RaceState = "close"
	RaceDay     RaceState = "race"
	Recovering  RaceState = "after"
)

// RaceStates lists those of a day that has one.
var RaceStates = []RaceState{NearRace, CloseToRace, RaceDay, Recovering}

// RaceRule is what a race asks of a day.
type RaceRule struct {
	State RaceState   `json:"state"`
	On    body.Date   `json:"on"`
	Says  string      `json:"says"`
	Why   body.Reason `json:"why"`
}

// RaceOn judges a day against the goal races: within 14 days before one load is kept, sets are halved and
// nothing new begins; within 3 days nothing heavy; after one no move up for 7 days, after a marathon or
// longer 14. The most protective race speaks; nil when none does.
func RaceOn(p body.Profile, on body.Date, h house.Rules) *RaceRule {
	var out *RaceRule
	weight := map[RaceState]int{Recovering: 1, NearRace: 2, CloseToRace: 3, RaceDay: 4}
	for _, r := range p.GoalRaces() {
		x := RaceRule{On: r.On}
		after := h.Int("race.after")
		key := "race.after"
		if r.Km >= 42 {
			after, key = h.Int("race.after.long"), "race.after.long"
		}
		switch n := r.On.Sub(on); {
		case n == 0:
			x.State, x.Says, key = RaceDay, "Race day: no session.", "race.heavy"
		case n > 0 && n <= h.Int("race.heavy"):
			x.State, x.Says, key = CloseToRace, fmt.Sprintf("Race on %s: nothing heavy, sets halved, nothing new.", r.On.Short()), "race.heavy"
		case n > 0 && n <= h.Int("race.taper"):
			x.State, x.Says, key = NearRace, fmt.Sprintf("Race on %s: load kept, sets halved, nothing new.", r.On.Short()), "race.taper"
		case n < 0 && -n <= after:
			x.State, x.Says = Recovering, fmt.Sprintf("Raced on %s: no move up until %s.", r.On.Short(), r.On.Add(after+1).Short())
		default:
			continue
		}
		x.Why = h.Because("race."+string(x.State), x.Says, key).SeeOn(r.On, "race", "%s, %s", r.Name, body.In("km", "%g", r.Km))
		if out == nil || weight[x.State] > weight[out.State] {
			out = &x
		}
	}
	return out
}

// Dose is a prescription's dose on a day: before a race with half the sets. It reports false when a
// race keeps the exercise out that day.
func (r *RaceRule) Dose(x catalog.Exercise, d body.Dose) (body.Dose, bool) {
	if r == nil {
		return d, true
	}
	switch r.State {
	case RaceDay:
		return d, false
	case CloseToRace:
		if x.Level >= 3 || x.Impact.Beyond(body.NoImpact) || x.Has(body.Lowering) {
			return d, false
		}
	case Recovering:
		return d, true
	}
	if x.Level >= 2 || slices.Contains([]catalog.Class{catalog.Strength, catalog.Endurance, catalog.Isometric, catalog.Spring}, x.Class) {
		d.Extra = 0
		d.Sets = (d.Sets + 1) / 2
	}
	return d, true
}

// advice says what the chosen approaches ask the runner to mind, for the rails in the programme.
func advice(p Programme, in Input, cat catalog.Catalogue) []string {
	out := []string{}
	has := func(is func(catalog.Rail) bool) bool {
		return slices.ContainsFunc(p.Rails, func(r RailPlan) bool {
			if !r.Chosen {
				return false
			}
			rail, _ := cat.Find(r.Rail)
			return is(rail)
		})
	}
	say := func(when bool, question, option, text string) {
		if when && in.House.Choice(in.Profile.Approaches, question) == option {
			out = append(out, text)
		}
	}
	stretches := func(r catalog.Rail) bool {
		return slices.ContainsFunc(r.Turns, func(t catalog.Turn) bool { return t.At == 1 && slices.Contains(t.Only["tight_sole"], "stretch") })
	}
	say(has(stretches), "tight_sole", "stretch", "Stretching the sole shows results in 10 to 12 weeks.")
	strength := has(func(r catalog.Rail) bool {
		return r.Class == catalog.Strength && r.Protocol == "" && (r.Calf() ||
			slices.ContainsFunc(r.Exercises, func(x catalog.Exercise) bool { return x.Stage >= 2 }))
	})
	say(strength, "weight", "forefoot", "Strength work: the weight stays behind the big toe.")
	say(strength, "effort", "reserve", "Stop each set with two repetitions in reserve.")
	if slices.ContainsFunc(in.Profile.Symptoms, func(s body.Symptom) bool { return s.Region == body.Shin && max(s.Baseline, s.Worst) > 2 }) {
		say(true, "sore_shin", "calm", "Until the shin is quiet: softer and flatter ground, shorter runs, nothing downhill.")
	}
	if in.Profile.History.Prescribed != "" && in.Profile.History.Prescribed != "none" {
		say(true, "inserts", "leave", "Inserts and supports stay as they were prescribed.")
		say(true, "inserts", "review", "Inserts stay as prescribed while strength is built; the prescriber reviews them.")
	}
	return out
}
