package load

import (
	"fmt"
	"math"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Dial is one of the three things that load a runner. Each week one of them leads and may use its whole limit; the others
// barely move, or not at all.
type Dial string

// The dials. Barefoot holds bare minutes, a change of shoes and cadence or strike work; only one of these rises in a week.
const (
	Running  Dial = "running"
	Strength Dial = "strength"
	Barefoot Dial = "barefoot"
)

// Dials lists them.
var Dials = []Dial{Running, Strength, Barefoot}

// Name is the dial in words.
func (d Dial) Name() string {
	if d == Barefoot {
		return "barefoot, shoe and cadence work"
	}
	return map[Dial]string{Running: "running", Strength: "strength"}[d]
}

// Outlook is all that the weeks ahead are made from.
type Outlook struct {
	Plan    Plan
	Runs    []Run  // with what the spans say of them
	Spans   []Span // those of the plan, and illnesses
	Profile body.Profile
	Want    map[Dial]body.Date // dials that something waits for, by the day it began to
	Most    int                // minutes a week that a caution or the way back allows; 0 nothing says
	Today   body.Date
	House   house.Rules
	Ahead   int // weeks ahead; 0: twelve
}

// Week is one week of running: what was planned and run, who leads, and what waits.
type Week struct {
	From    body.Date   `json:"from" doc:"Monday"`
	Kind    SpanKind    `json:"kind,omitempty" enum:",easy,holiday,ill"`
	Race    string      `json:"race,omitempty" enum:",race,before,after" doc:"a goal race in it, in the week after it or before it"`
	By      string      `json:"by" enum:"hand,rule,flat,none" doc:"who wrote its minutes; none: nobody, it stays as it was"`
	Wanted  int         `json:"wanted" doc:"minutes as written, before the limit"`
	Planned int         `json:"planned" doc:"minutes in force"`
	Base    int         `json:"base" doc:"minutes it is measured against"`
	Limit   int         `json:"limit" doc:"most minutes it may hold"`
	Harder  bool        `json:"harder,omitempty"`
	Ran     int         `json:"ran" doc:"minutes run, of a week that began"`
	Known   bool        `json:"known" doc:"whether its running was told"`
	Over    bool        `json:"over,omitempty" doc:"more was run than its limit"`
	Lead    Dial        `json:"lead" enum:"running,strength,barefoot"`
	Waits   []Waiting   `json:"waits"`
	Flat    int         `json:"flat,omitempty" doc:"a flat week of so many minutes is proposed, so that what waits may lead; 0: none"`
	Why     body.Reason `json:"why"`
}

// Waiting is a dial that is wanted and does not lead.
type Waiting struct {
	Dial  Dial      `json:"dial" enum:"running,strength,barefoot"`
	Since body.Date `json:"since" doc:"Monday of the first week it waits in"`
	Weeks int       `json:"weeks" doc:"this one among them"`
}

// back is how many weeks gone by are looked at again.
const back = 8

// Weeks are the weeks from eight ago to twelve ahead, each judged from those before it. Whatever the plan says, no week holds more
// than its limit: + 10 % of the last ordinary week where running leads, + 3 % where it does not (house rules), less where a
// caution says so. What was run over a limit takes the next lead, and raises a later limit only once it was run twice. A dial that
// waited three weeks leads the fourth, on a flat week of running, which is proposed where the coach wrote more by hand. Minutes.
func (o Outlook) Weeks() []Week {
	this := o.Today.Monday()
	out := []Week{}
	waits := map[Dial]body.Date{}
	for i := -back; i < max(weeksAhead, o.Ahead); i++ {
		w := o.week(this.Add(7*i), out, waits)
		for _, d := range []Dial{Strength, Barefoot, Running} {
			from, wanted := o.Want[d], o.Want[d] != ""
			if d == Running {
				from, wanted = w.From, w.Wanted > w.Planned
			}
			switch {
			case !wanted || w.Lead == d || from > w.From.Add(6):
				delete(waits, d)
			case waits[d] == "":
				waits[d] = w.From
			}
			if since, ok := waits[d]; ok {
				w.Waits = append(w.Waits, Waiting{d, since, w.From.Sub(since)/7 + 1})
			}
		}
		out = append(out, w)
	}
	return out
}

// week is one week after those before it.
func (o Outlook) week(from body.Date, before []Week, waits map[Dial]body.Date) Week {
	this := o.Today.Monday()
	w := Week{From: from, Waits: []Waiting{}, By: "none"}
	w.Kind, _ = kindOf(o.Spans, from, o.House)
	w.Ran, w.Known = o.ran(from)
	w.Base = o.base(w, before)
	hand := o.Plan.of(from)
	if hand != nil && hand.Gone && from < this { // it stands as it stood
		w.By, w.Wanted, w.Planned, w.Lead, w.Harder = "hand", hand.Minutes, hand.Minutes, hand.Lead, hand.Harder
		if hand.Easy {
			w.Kind = EasyWeek
		}
		w.Limit = max(o.limit(w.Base, w.Lead), hand.Minutes)
		w.Over = w.Known && w.Ran-o.raced(from) > w.Limit
		w.Why = o.because(w, "led this week")
		return w
	}
	o.wish(&w, hand)
	over := len(before) > 0 && before[len(before)-1].Over
	longest := longestWait(waits, from, o.House.Int("dial.wait"))
	rises := w.Wanted > o.grown(w.Base, Strength) || w.Harder
	why := ""
	switch {
	case over:
		w.Lead, why = Running, "more was run last week than its limit: running has this week's lead"
	case longest != "" && (w.By != "hand" || !rises):
		w.Lead, w.Harder = longest, false
		if why = fmt.Sprintf("%s waited %d weeks: a flat week of running", longest.Name(), o.House.Int("dial.wait")); w.Wanted > w.Base {
			w.By, w.Wanted = "flat", w.Base
		}
	case rises:
		w.Lead, why = Running, "running is planned to rise: it leads"
	case hand != nil && hand.Lead != "":
		w.Lead, why = hand.Lead, "the coach's pick"
	case o.Want[Strength] == "" && o.Want[Barefoot] != "":
		w.Lead, why = Barefoot, "strength waits for nothing"
	default:
		w.Lead, why = Strength, "running does not rise: strength leads"
	}
	if longest != "" && w.Lead != longest {
		w.Flat = w.Base
	}
	w.Limit = o.limit(w.Base, w.Lead)
	w.Planned = min(w.Wanted, w.Limit)
	w.Over = w.Known && w.Ran-o.raced(from) > w.Limit
	w.Why = o.because(w, why)
	return w
}

func longestWait(waits map[Dial]body.Date, from body.Date, most int) (out Dial) {
	for _, d := range []Dial{Strength, Barefoot} { // running waits for nobody: it leads by itself
		if since, ok := waits[d]; ok && from.Sub(since)/7 >= most && (out == "" || since < waits[out]) {
			out = d
		}
	}
	return out
}

func (o Outlook) because(w Week, says string) body.Reason {
	r := o.House.Because("load.dial", says, "dial.lead", "dial.other", "dial.wait").See("last ordinary week", "%d min", w.Base)
	if w.Wanted > w.Planned {
		r.Says += fmt.Sprintf("; %d min were wanted, %d are within its limit", w.Wanted, w.Planned)
	}
	share := "dial.other"
	if w.Lead == Running {
		share = "dial.lead"
	}
	r.Formula = fmt.Sprintf("%d min + %g %% = at most %d min", w.Base, o.House.Get(share), w.Limit)
	return r
}

// wish is what a week is meant to hold: as written by hand, by the rule, or as it was.
func (o Outlook) wish(w *Week, hand *PlannedWeek) {
	rule := o.Plan.Rule
	w.Wanted = w.Base
	if hand != nil {
		w.Harder = hand.Harder
	}
	race, share := o.raceShare(w.From)
	w.Race = race
	_, runs := kindOf(o.Spans, w.From, o.House)
	switch {
	case hand != nil && hand.Minutes >= 0:
		w.By, w.Wanted = "hand", hand.Minutes
	case w.Kind == Illness:
		w.By, w.Wanted, w.Harder = "rule", 0, false
	case w.Kind == Holiday && !runs: // what the days at home hold
		w.By, w.Wanted, w.Harder = "rule", w.Base*(7-o.away(w.From))/7, false
	case w.Kind == EasyWeek:
		w.By, w.Wanted = "rule", share100(w.Base, o.House.Get("load.easy.share"))
	case race != "" && rule.From != "" && w.From >= rule.From:
		w.By, w.Wanted = "rule", share100(w.Base, share)
	case rule.From != "" && w.From >= rule.From:
		w.By = "rule"
		if o.Plan.easier(w.From) {
			w.Kind, w.Wanted = EasyWeek, share100(w.Base, o.House.Get("load.easy.share"))
		} else {
			w.Wanted = max(w.Base, int(float64(w.Base)*(1+rule.Percent/100)+1e-9))
		}
	}
	if w.Base == 0 && w.By != "hand" && w.Kind == "" && w.From >= o.Today.Monday() && rule.From != "" {
		w.Wanted = o.House.Int("load.start")
	}
}

func share100(minutes int, percent float64) int { return int(float64(minutes)*percent/100 + 1e-9) }

// raceShare says whether a week holds a goal race, or stands before or after one, and the share of the minutes that is left.
func (o Outlook) raceShare(monday body.Date) (state string, share float64) {
	share = math.Inf(1)
	take := func(s, key string) {
		if x := o.House.Get(key); x < share {
			state, share = s, x
		}
	}
	for _, r := range o.Profile.GoalRaces() {
		switch n := r.On.Sub(monday); {
		case n >= 0 && n < 7:
			take("race", "load.race.week")
		case n >= 7 && n < 14:
			take("before", "load.race.before")
		case n >= -7 && n < 0 && r.Km >= 42:
			take("after", "load.race.week")
		case n >= -7 && n < 0:
			take("after", "load.race.after")
		}
	}
	return state, share
}

// limit is the most minutes of a week over its base, by who leads, and less where something says so.
func (o Outlook) limit(base int, lead Dial) int {
	out := o.grown(base, lead)
	if o.Most > 0 {
		out = min(out, o.Most)
	}
	return out
}

// grown is a base with what the dials add to it.
func (o Outlook) grown(base int, lead Dial) int {
	key := "dial.other"
	if lead == Running {
		key = "dial.lead"
	}
	out := int(math.Floor(float64(base)*(1+o.House.Get(key)/100) + 1e-9))
	switch {
	case base == 0:
		out = o.House.Int("load.start")
	case lead == Running && o.House.Get(key) > 0:
		out = max(out, base+1) // so that nobody is stuck at a few minutes
	}
	return out
}

// base is the last ordinary week before one: not planned easy, no holiday, no illness, no race, told and run in, and not the one
// in whose middle the log began; at most six weeks back, else intake. Of a week over its limit the limit counts, until as much was
// run two such weeks running; of one not over yet what is planned.
func (o Outlook) base(w Week, before []Week) int {
	this := o.Today.Monday()
	var over *Week // the newest, over its limit
	for i := len(before) - 1; i >= max(0, len(before)-6); i-- {
		b := &before[i]
		told := b.Planned > 0
		if b.From < this {
			told = b.Known && b.Ran > 0 && o.first() <= b.From
		}
		switch {
		case b.Kind != "" || b.Race != "" || !told:
			continue
		case over != nil:
			return max(over.Limit, min(over.Ran, b.Ran))
		case b.From >= this:
			return b.Planned
		case b.Ran <= b.Limit:
			return b.Ran
		}
		over = b
	}
	if over != nil {
		return over.Limit
	}
	for k := len(before) + 1; k <= 6; k++ {
		if n, known := o.ran(w.From.Add(-7 * k)); known && n > 0 && o.first() <= w.From.Add(-7*k) {
			return n
		}
	}
	return o.Profile.WeeklyMinutes
}

// first is the first Monday from which every run is told: that of the first run, where it began a week, else the next; of a runner who
// told of no minutes a week at intake the week of the first run.
func (o Outlook) first() body.Date {
	out := body.Date("9999-12-31")
	for _, r := range o.Runs {
		if r.Word == "" || r.Word == AsUsual || r.Word == None {
			out = min(out, r.On)
		}
	}
	if out == "9999-12-31" || o.Profile.WeeklyMinutes == 0 || out == out.Monday() {
		return out.Monday()
	}
	return out.Monday().Add(7)
}

// ran is the minutes of a week from Monday, and whether anything was told of it. “As usual” stands for the last week with runs, at
// most six back, else intake.
func (o Outlook) ran(monday body.Date) (minutes int, known bool) {
	minutes = sum(o.Runs, monday, min(o.Today, monday.Add(6)))
	for _, r := range o.Runs {
		if n := r.On.Sub(monday); n < 0 || n > 6 || r.On > o.Today || r.Word == EasyDay {
			continue
		}
		if known = true; r.Word == AsUsual {
			minutes = max(minutes, o.usual(monday))
		}
	}
	return minutes, known
}

// usual is the last week with runs before one, else intake's.
func (o Outlook) usual(monday body.Date) int {
	for k := 1; k <= 6; k++ {
		if from := monday.Add(-7 * k); sum(o.Runs, from, from.Add(6)) > 0 {
			return sum(o.Runs, from, from.Add(6))
		}
	}
	return o.Profile.WeeklyMinutes
}

// away is how many days of a week are a holiday without running.
func (o Outlook) away(monday body.Date) (n int) {
	for d := range 7 {
		for _, s := range o.Spans {
			if s.Kind == Holiday && !s.Runs && s.Holds(monday.Add(d)) {
				n++
			}
		}
	}
	return n
}

// raced is the minutes of the goal races of a week.
func (o Outlook) raced(monday body.Date) int {
	sum := 0.0
	for _, race := range o.Profile.GoalRaces() {
		for _, r := range o.Runs {
			if r.On == race.On && r.Word == "" && race.On.Monday() == monday {
				sum += r.Minutes
			}
		}
	}
	return int(sum)
}

// of finds what was written of a week.
func (p Plan) of(monday body.Date) *PlannedWeek {
	for i := range p.Weeks {
		if p.Weeks[i].From == monday {
			return &p.Weeks[i]
		}
	}
	return nil
}

// Lead is who leads a week, for what is judged on one of its days; the zero value says nothing.
type Lead struct {
	Dial Dial        `json:"dial,omitempty"`
	From body.Date   `json:"from,omitempty" doc:"Monday of the week"`
	Easy bool        `json:"easy,omitempty" doc:"a week planned easy"`
	Bare body.Date   `json:"bare,omitempty" doc:"day of it on which bare minutes or shoes moved already"`
	Why  body.Reason `json:"why"`
}

// LeadOn is who leads on a day.
func LeadOn(weeks []Week, on body.Date) Lead {
	for _, w := range weeks {
		if w.From == on.Monday() {
			return Lead{Dial: w.Lead, From: w.From, Easy: w.Kind == EasyWeek, Why: w.Why}
		}
	}
	return Lead{}
}
