// Package barefoot takes a runner from shoes to bare feet, or to thinner shoes, no faster than the foot follows: the gate that
// says how far each foot may go, the stages with their doses, what moves them up and back, and when each can be reached.
package barefoot

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// The stages of bare work. None is no bare work at all.
const (
	None     = -1
	Home     = 0 // on the spot and about the house
	Walking  = 1
	Strength = 2
	Bouncing = 3
	RunWalk  = 4
	Share    = 5 // a growing share of the running
)

// StageNames are their names, from Home on.
var StageNames = []string{"at home", "walks", "strength", "bounces", "run–walk", "share of the running"}

// StageName writes a stage with its number.
func StageName(stage int) string {
	if stage < Home {
		return "no bare work"
	}
	return fmt.Sprintf("stage %d, %s", stage, StageNames[min(stage, Share)])
}

// Outcome is what is known of one item of the gate.
type Outcome string

// The outcomes. Unknown never allows more than Fail does, but for the mornings.
const (
	Pass       Outcome = "pass"
	Borderline Outcome = "borderline" // inside the error of the measure: test again
	Fail       Outcome = "fail"
	Unknown    Outcome = "unknown"
)

// Outcomes lists them.
var Outcomes = []Outcome{Pass, Borderline, Fail, Unknown}

// Item is one line of the gate: the highest stage that each outcome of it allows.
type Item struct {
	ID      string          `json:"id"`
	Name    string          `json:"name"`
	Why     string          `json:"why" doc:"why it matters"`
	Caps    map[Outcome]int `json:"caps" doc:"highest stage that each outcome allows; −1 none"`
	Limiter string          `json:"limiter,omitempty" doc:"what rails answer it"`
	Test    []string        `json:"test" doc:"measures that answer it"`
	Do      string          `json:"do" doc:"what opens it, where no rail does"`
	Absent  []Outcome       `json:"absent" doc:"outcomes that it has not"`
}

func caps(pass, borderline, fail, unknown int) map[Outcome]int {
	return map[Outcome]int{Pass: pass, Borderline: borderline, Fail: fail, Unknown: unknown}
}

// The items by name.
const (
	Feeling  = "feeling"
	Stop     = "stop"
	Cautions = "cautions"
	Skin     = "skin"
	Pain     = "pain"
	Arch     = "arch"
	Ankle    = "ankle"
	BigToe   = "big_toe"
	Toes     = "toes"
	Balance  = "balance"
	Squat    = "squat"
	Raises   = "raises"
	Injury   = "injury"
)

// Items are the gate, in the order it is read. Foot work on the spot asks the first four alone, so that nobody is kept from what
// opens the rest.
var Items = []Item{
	item(Feeling, "Feeling", "A foot that does not feel does not notice a stone, a graze or a bone that begins to ache.",
		caps(Share, None, None, None), "", []string{body.SoleTouch}, "A light fingertip on toes 1, 3 and 5, eyes closed."),
	item(Stop, "No open warning sign", "What a warning sign stands for comes first.", caps(Share, Home, None, None), "", nil,
		"A clinician's word, recorded with what it opens."),
	item(Cautions, "Cautions", "Some bodies heal or harden more slowly: their limits hold here too.", caps(Share, Share, None, None), "", nil,
		"Limits recorded for the caution."),
	item(Skin, "Skin", "Broken skin heals first.", caps(Share, Share, None, Share), "", nil,
		"The runner says it is healed, not before the next day."),
	item(Pain, "Mornings and walking", "A foot that is sore in the morning or on walking is not ready to lose its cushion.",
		caps(Share, Home, Home, Strength), "", []string{body.WalkHeels, body.WalkToes},
		"Mornings and the walks on heels and toes at 2 or below."),
	item(Arch, "Arch, two fingers", "An arch that flattens loads the big-toe joint, the fascia and the shin.",
		caps(Share, Share, Strength, Walking), "arch_strength", []string{body.ArchTwoFinger}, ""),
	item(Ankle, "Ankle bend", "A short ankle lifts the heel early or turns the foot out, and the sole and the calf pay for it.",
		caps(Share, RunWalk, Walking, Walking), "ankle_bend", []string{body.AnkleKneeToWall, body.AnkleLungeAngle}, ""),
	item(BigToe, "Big-toe range", "Without it the foot rolls off its outer edge or spins off its inner one.",
		caps(Share, RunWalk, Walking, Walking), "big_toe_range",
		[]string{body.ToeLoadedExtension, body.ToePassiveHeight, body.ToePassiveExtension}, ""),
	item(Toes, "Toe control",
		"Big toe, small toes and the press of the big toe each by themselves steer the foot once the shoe no longer does.",
		caps(Share, Share, Walking, Walking), "toe_control", []string{body.ToesBigAlone, body.ToesOthersAlone, body.ToePress}, ""),
	item(Balance, "Balance, eyes open", "Every step is a moment on one leg.", caps(Share, Bouncing, Walking, Walking), "balance",
		[]string{body.BalanceOpen}, ""),
	item(Squat, "Bare squat", "Arch and knee hold under load before they hold under speed.", caps(Share, Share, Walking, Walking),
		"arch_strength",
		[]string{body.SquatArch, body.SquatKnee}, ""),
	item(Raises, "One-leg raises", "Without a heel under it the calf takes each landing: 15 to walk, 20 for bounces and running, at any age.",
		caps(Share, Strength, Home, Home), "calf_capacity", []string{body.CalfRaisesStraight}, ""),
	item(Injury, "Earlier injury and hardware", "An ankle that was sprained or operated on matches the other side first.",
		caps(Share, Share, Walking, Walking), "side_ankle",
		[]string{body.AnkleKneeToWall, body.BalanceOpen, body.ReachFront, body.ReachSide, body.ReachBack, body.ReachCross}, ""),
}

func item(id, name, why string, caps map[Outcome]int, limiter string, test []string, do string) Item {
	it := Item{ID: id, Name: name, Why: why, Caps: caps, Limiter: limiter, Test: append([]string{}, test...), Do: do, Absent: []Outcome{}}
	switch id {
	case Stop, Cautions, Skin:
		it.Absent = []Outcome{Borderline, Unknown}
	case Feeling, Pain, Toes, Squat, Injury:
		it.Absent = []Outcome{Borderline}
	}
	return it
}

// Tests lists the items that tests answer; the others are judged by what takes bare work away as a whole.
var Tests = []string{Pain, Arch, Ankle, BigToe, Toes, Balance, Squat, Raises, Injury}

// Foot is what is known of one foot and leg.
type Foot struct {
	Values map[string]float64   // newest readings, by measure
	Other  map[string]float64   // those of the other leg
	Failed map[string]bool      // a fault counts as short whatever the figure
	Taken  map[string]body.Date // day each was last taken
	Pain   int                  // usual morning of the sorest place, 0–10
	Told   bool                 // a morning of the last days, or the intake, says so
	Hurt   bool                 // sprained before, or with hardware or older surgery
	Bars   []Bar
}

// Bar is what takes bare work away by itself: a sign, a caution, the skin, feeling.
type Bar struct {
	Item    string
	Cap     int // highest stage it leaves
	Unknown bool
	Says    string
	Opens   string
}

// Input is what the gate is judged from.
type Input struct {
	Feet     map[body.Side]Foot
	Age      int
	BigToeMm float64
	Approach string // gate, slow, indoors
	House    house.Rules
}

// Row is one item of one foot.
type Row struct {
	Item    string      `json:"item"`
	Leg     body.Side   `json:"leg" enum:"left,right"`
	Outcome Outcome     `json:"outcome" enum:"pass,borderline,fail,unknown"`
	Cap     int         `json:"cap" doc:"highest stage it allows; −1 none"`
	Waived  bool        `json:"waived,omitempty" doc:"not asked under the chosen approach"`
	Age     int         `json:"age" doc:"days since it was measured; −1 unknown"`
	Opens   string      `json:"opens,omitempty"`
	Why     body.Reason `json:"why"`
}

// Gate is the verdict of the gate.
type Gate struct {
	Rows    []Row             `json:"rows"`
	Caps    map[body.Side]int `json:"caps" doc:"highest stage of each foot"`
	Cap     int               `json:"cap" doc:"of the worse foot"`
	Tested  int               `json:"tested" doc:"of the worse foot by its tests alone, and by indoors only"`
	Decides []Row             `json:"decides" doc:"what holds the worse foot back; empty where nothing does"`
}

// Judge holds each foot against each item. Each foot has its own verdict and the worse decides. Under the slow habit the arch is not
// asked; indoors alone nothing goes beyond strength.
func Judge(in Input, today body.Date) Gate {
	g := Gate{Rows: []Row{}, Caps: map[body.Side]int{}, Cap: Share, Tested: Share, Decides: []Row{}}
	if in.Approach == "indoors" {
		g.Tested = Strength
	}
	for _, leg := range body.Sides {
		g.Caps[leg] = Share
		for _, it := range Items {
			r := in.row(it, leg, today)
			if it.ID == Arch && in.Approach == "slow" {
				r.Waived, r.Cap = true, Share
			}
			if g.Rows = append(g.Rows, r); slices.Contains(Tests, it.ID) {
				g.Tested = min(g.Tested, r.Cap)
			}
			g.Caps[leg] = min(g.Caps[leg], r.Cap)
		}
		if in.Approach == "indoors" {
			g.Caps[leg] = min(g.Caps[leg], Strength)
		}
		g.Cap = min(g.Cap, g.Caps[leg])
	}
	for _, r := range g.Rows {
		if r.Cap == g.Cap && g.Cap < Share {
			g.Decides = append(g.Decides, r)
		}
	}
	return g
}

// Of is the row of an item and leg.
func (g Gate) Of(item string, leg body.Side) Row {
	i := slices.IndexFunc(g.Rows, func(r Row) bool { return r.Item == item && r.Leg == leg })
	if i < 0 {
		return Row{}
	}
	return g.Rows[i]
}

// Foot is the highest stage that the tests of one foot leave, by what was tested and by what was not.
func (g Gate) Foot(leg body.Side) (known, unknown Row) {
	known, unknown = Row{Cap: Share}, Row{Cap: Share}
	for _, r := range g.Rows {
		switch {
		case r.Leg != leg || !slices.Contains(Tests, r.Item):
		case r.Outcome == Unknown && r.Cap < unknown.Cap:
			unknown = r
		case r.Outcome != Unknown && r.Cap < known.Cap:
			known = r
		}
	}
	return known, unknown
}

func (in Input) row(it Item, leg body.Side, today body.Date) Row {
	f := in.Feet[leg]
	r := Row{Item: it.ID, Leg: leg, Outcome: Pass, Age: -1, Opens: it.Do}
	r.Why = in.House.Because("barefoot.gate", it.Name)
	if judge, ok := judges[it.ID]; ok {
		r.Outcome, r.Why = judge(in, f, r.Why)
		for _, m := range it.Test {
			if on, ok := f.Taken[m]; ok && (r.Age < 0 || today.Sub(on) < r.Age) {
				r.Age = today.Sub(on)
			}
		}
	}
	r.Cap = it.Caps[r.Outcome]
	for _, b := range f.Bars {
		if b.Item != it.ID || b.Cap >= r.Cap {
			continue
		}
		r.Outcome, r.Cap = Fail, b.Cap
		if b.Unknown {
			r.Outcome = Unknown
		}
		if r.Why = r.Why.See(it.Name, "%s", b.Says); b.Opens != "" {
			r.Opens = b.Opens
		}
	}
	r.Why.Says = fmt.Sprintf("%s: %s, so %s", it.Name, r.Outcome, upTo(r.Cap))
	return r
}

func upTo(stage int) string {
	switch stage {
	case Share:
		return "it bars nothing"
	case None:
		return "no bare work"
	}
	return "up to " + StageName(stage)
}

// judges say how each tested item stands.
var judges = map[string]func(Input, Foot, body.Reason) (Outcome, body.Reason){
	Pain: func(in Input, f Foot, _ body.Reason) (Outcome, body.Reason) {
		r := in.House.Because("barefoot.gate", "", "barefoot.pain")
		most, worst, known := in.House.Int("barefoot.pain"), f.Pain, f.Told
		if f.Told {
			r = r.See("usual morning, sorest place", "%d of 10 (to %d)", f.Pain, most)
		}
		for _, m := range []string{body.WalkHeels, body.WalkToes} {
			if v, ok := f.Values[m]; ok {
				worst = max(worst, int(v))
				r = r.SeeOn(f.Taken[m], "walking, "+m, "%g of 10", v)
			}
		}
		switch {
		case worst > most:
			return Fail, r
		case !known:
			return Unknown, r.See("mornings", "not told of late")
		}
		return Pass, r
	},
	Arch: func(_ Input, f Foot, r body.Reason) (Outcome, body.Reason) {
		v, ok := f.Values[body.ArchTwoFinger]
		if !ok {
			return Unknown, r.See("arch, two fingers", "not tested")
		}
		r = r.SeeOn(f.Taken[body.ArchTwoFinger], "arch, two fingers", "%s", []string{"hidden", "partly", "none"}[max(0, min(2, int(v)))])
		return []Outcome{Pass, Borderline, Fail}[max(0, min(2, int(v)))], r
	},
	Ankle: func(in Input, f Foot, r body.Reason) (Outcome, body.Reason) {
		return worstOf(in.band(f, r, body.AnkleKneeToWall, "cm", f.Values, body.AnkleKneeToWall+".ref", body.AnkleKneeToWall+".sem"),
			in.band(f, r, body.AnkleLungeAngle, "°", f.Values, body.AnkleLungeAngle+".ref", body.AnkleLungeAngle+".sem"))
	},
	BigToe: func(in Input, f Foot, r body.Reason) (Outcome, body.Reason) {
		angle := map[string]float64{}
		if h, ok := f.Values[body.ToePassiveHeight]; ok && in.BigToeMm > 0 && h < in.BigToeMm {
			angle[body.ToePassiveHeight] = angleOf(h, in.BigToeMm)
		}
		return worstOf(in.band(f, r, body.ToeLoadedExtension, "°", f.Values, body.ToeLoadedExtension+".ref", "toe.angle.sem"),
			in.band(f, r, body.ToePassiveHeight, "°", angle, body.ToePassiveAngle+".ref", "toe.angle.sem"),
			in.band(f, r, body.ToePassiveExtension, "°", f.Values, body.ToePassiveExtension+".ref", "toe.angle.sem"))
	},
	Toes: func(in Input, f Foot, _ body.Reason) (Outcome, body.Reason) {
		return in.scores(f, body.ToesBigAlone, body.ToesOthersAlone, body.ToePress)
	},
	Balance: func(in Input, f Foot, r body.Reason) (Outcome, body.Reason) {
		v, ok := f.Values[body.BalanceOpen]
		least := BalanceFor(in.Age)
		if !ok {
			return Unknown, r.See("balance, eyes open", "not tested")
		}
		r = in.House.Because("barefoot.gate", "", "balance.open.sem").SeeOn(f.Taken[body.BalanceOpen], "balance, eyes open",
			"%.3g s (from %g s at this age)", v, least)
		sem := in.House.Get("balance.open.sem")
		if v >= 45 { // the cap: steady, whatever the error
			sem = 0
		}
		return within(v, least, sem), r
	},
	Squat: func(_ Input, f Foot, r body.Reason) (Outcome, body.Reason) {
		arch, ok := f.Values[body.SquatArch]
		knee, knees := f.Values[body.SquatKnee]
		switch {
		case ok && arch > 0:
			return Fail, r.SeeOn(f.Taken[body.SquatArch], "arch in the squat", "collapses")
		case knees && knee > 0:
			return Fail, r.SeeOn(f.Taken[body.SquatKnee], "knee in the squat", "falls in")
		case !ok:
			return Unknown, r.See("five bare squats", "not tested")
		}
		return Pass, r.SeeOn(f.Taken[body.SquatArch], "arch in the squat", "holds")
	},
	Raises: func(in Input, f Foot, _ body.Reason) (Outcome, body.Reason) {
		walk, run := in.House.Get("barefoot.raises.walk"), in.House.Get("barefoot.raises.run")
		r := in.House.Because("barefoot.gate", "", "barefoot.raises.run", "barefoot.raises.walk")
		v, ok := f.Values[body.CalfRaisesStraight]
		if !ok {
			return Unknown, r.See("one-leg raises", "not tested")
		}
		r = r.SeeOn(f.Taken[body.CalfRaisesStraight], "one-leg raises", "%g (%g to walk, %g to bounce and run)", v, walk, run)
		switch {
		case v >= run:
			return Pass, r
		case v >= walk:
			return Borderline, r
		}
		return Fail, r
	},
	Injury: func(in Input, f Foot, r body.Reason) (Outcome, body.Reason) {
		if !f.Hurt {
			return Pass, r.See("earlier injury or hardware", "none told")
		}
		return in.matches(f, r)
	},
}
