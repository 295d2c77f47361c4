package build

import (
	"cmp"
	"fmt"
	"math/bits"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

// Entry is one rail on one weekday.
type Entry struct {
	Rail    string       `json:"rail"`
	Short   string       `json:"short" doc:"the rail's short name"`
	Part    catalog.Part `json:"part"`
	Slot    catalog.Slot `json:"slot"`
	Seconds int          `json:"seconds"`
	Pinned  bool         `json:"pinned" doc:"the coach keeps it here"`
}

// Day is one weekday of the plan, 0 Monday … 6 Sunday.
type Day struct {
	Weekday int            `json:"weekday"`
	Run     *body.FixedRun `json:"run,omitempty"`
	Minutes int            `json:"minutes" doc:"strength minutes available"`
	Seconds int            `json:"seconds" doc:"used by sessions; habits and drills inside a run take none"`
	Entries []Entry        `json:"entries" doc:"in session order"`
}

// Week is the weekly pattern; the store gives it dates.
type Week struct {
	Days     []Day         `json:"days"`
	Feasible bool          `json:"feasible" doc:"every session wanted found a place"`
	Proved   bool          `json:"proved" doc:"no better week exists; else it is the best found"`
	GaveWay  []body.Reason `json:"gaveWay" doc:"what did not fit, and why"`
	Why      body.Reason   `json:"why"`
}

// planned is what the week knows of one rail.
type planned struct {
	rail    catalog.Rail
	order   int // place in the catalogue
	seconds int
	want    int
	heavy   bool // calf work that can reach external load: free days between any of its rails
	spring  bool
	hard    bool              // stands, or at its next exercise, at level 4 or with free bouncing: one class
	level   int               // highest of what stands
	gap     int               // free days between its own sessions
	when    []catalog.Slot    // slots its exercises allow
	slots   [7][]catalog.Slot // of them, those no hard rule keeps out
	barred  [7]string         // why a day has no slot at all
	fixed   [7]catalog.Slot
	pinned  uint8
	masks   []mask
}

type mask struct {
	days uint8
	cost int
}

// frame is what the rules of the week look at.
type frame struct {
	p      body.Profile
	h      house.Rules
	runs   [7]*body.FixedRun
	rails  []planned
	prefer []int // weekdays the coach prefers
}

const (
	missingCost = 1000    // one session left out outweighs every soft wish
	sessionCost = 4       // each separate session
	wishCost    = 3       // a session off its preferred time, or off the preferred days
	budget      = 300_000 // steps of the search
)

func newFrame(cat catalog.Catalogue, plans []RailPlan, p body.Profile, c Choices, h house.Rules) *frame {
	f := &frame{p: p, h: h, prefer: c.Days}
	for _, r := range p.Runs {
		f.runs[r.Weekday] = joined(f.runs[r.Weekday], r, h)
	}
	for _, plan := range plans {
		if plan.Chosen {
			f.rails = append(f.rails, f.plan(cat, plan))
		}
	}
	return f
}

// plan gathers one rail's slots. A rail that can reach heavy work keeps its gaps from the first day, so
// that a move up never lands on a forbidden day; so does a spring rail that can reach free bounces.
func (f *frame) plan(cat catalog.Catalogue, plan RailPlan) planned {
	rail, _ := cat.Find(plan.Rail)
	r := planned{rail: rail, order: slices.IndexFunc(cat.Rails, func(x catalog.Rail) bool { return x.ID == rail.ID }), seconds: plan.Seconds,
		want: plan.PerWeek, heavy: rail.Calf() && rail.Protocol == "", gap: rail.GapDays}
	r.when = catalog.Slots
	if rail.Habit {
		r.when = []catalog.Slot{catalog.Habit}
	}
	// A parked rail keeps its days: it may return between two builds.
	for _, pr := range plan.Prescriptions {
		at := rail.At(pr.Exercise)
		for i, x := range rail.Exercises[max(at, 0):min(max(at, 0)+2, len(rail.Exercises))] {
			r.hard = r.hard || x.Hard() && rail.Protocol == ""
			if i == 0 {
				r.level = max(r.level, x.Level)
			}
		}
		// What comes later on the rail counts too: a move up never lands in a forbidden slot.
		for _, x := range rail.Exercises[max(at, 0):] {
			r.when = slices.DeleteFunc(slices.Clone(r.when), func(s catalog.Slot) bool { return !slices.Contains(x.When, s) })
		}
	}
	if len(r.when) == 0 {
		r.want = 0
	}
	if r.spring = rail.Class == catalog.Spring && plan.PerWeek <= 3; r.spring {
		r.gap = max(r.gap, f.h.Int("week.gap.spring"))
	} else if rail.Class == catalog.Spring {
		r.gap = 0
	}
	for d := range 7 {
		for _, s := range r.when {
			no := f.refusal(r, d, s)
			if no == "" {
				r.slots[d] = append(r.slots[d], s)
			} else if r.barred[d] == "" || s == catalog.Evening {
				r.barred[d] = no
			}
		}
		if len(r.slots[d]) > 0 {
			r.barred[d] = ""
		}
	}
	return r
}

// refusal says why a rail may not stand in a slot of a weekday, whatever else the week holds; empty
// when it may.
func (f *frame) refusal(r planned, day int, s catalog.Slot) string {
	run := f.runs[day]
	atRun := s == catalog.Before || s == catalog.After || s == catalog.InRun
	name, yesterday := body.WeekdayName(day), (day+6)%7
	what := "heavy calf work does"
	if !r.heavy {
		what = "free bounces do"
	}
	switch {
	case atRun && run == nil:
		return name + " has no run"
	case s == catalog.Own && run != nil:
		return name + " is a run day: before, after or in the evening"
	case r.want == 0:
		return r.rail.Name + " asks for no session"
	case !slices.Contains(r.when, s):
		return fmt.Sprintf("%s does not stand %s", r.rail.Name, slotWords[s])
	case s == catalog.Habit:
		return ""
	case s == catalog.InRun:
		if f.quality(day) {
			return "drills belong into an easy run, not a quality run"
		}
		if r.seconds > 60*run.Minutes {
			return fmt.Sprintf("takes %s, the run on %s lasts %d min", minutesOf(r.seconds), name, run.Minutes)
		}
		return ""
	case f.p.MinutesByDay[day] == 0:
		return "no minutes on " + name
	case r.seconds > 60*f.p.MinutesByDay[day]:
		return fmt.Sprintf("needs %s, %s has %d min", minutesOf(r.seconds), name, f.p.MinutesByDay[day])
	case f.p.SessionMinutes > 0 && r.seconds > 60*f.p.SessionMinutes:
		return fmt.Sprintf("needs %s, a session has at most %d min", minutesOf(r.seconds), f.p.SessionMinutes)
	case (r.heavy || r.hard) && f.quality(day) && (!run.Morning() || s != catalog.Evening):
		return what + " not stand on the day of a quality run (" + name + ")"
	case (r.heavy || r.hard) && f.quality((day+1)%7):
		return what + " not stand the day before a quality run (" + body.WeekdayName((day+1)%7) + ")"
	case r.hard && f.quality(yesterday) && !f.runs[yesterday].Morning() && s != catalog.Evening:
		return "heavy work and free bounces wait until the evening after a quality run (" + body.WeekdayName(yesterday) + ")"
	case r.level >= 3 && r.rail.Protocol == "" && f.quality(day) && (s == catalog.After || s == catalog.Evening && !run.Morning()):
		return "one-leg heel work does not stand within 6 hours after a quality run (" + name + ")"
	case r.rail.Class == catalog.Spring && run != nil && run.Quality != "easy" && s != catalog.Before:
		return "bounces need fresh feet: not after a " + run.Quality + " run"
	case tiresFeet(r.rail) && (f.quality(day) || run != nil && run.Quality == "long") &&
		(s == catalog.After || s == catalog.Evening && !run.Morning()):
		return "foot strength waits for fresh feet: not after a long or quality run (" + name + ")"
	case r.rail.Foot && (s == catalog.Before || s == catalog.After) && f.h.Choice(f.p.Approaches, "around_runs") == "away":
		return "foot strength stays away from runs under the chosen approach"
	}
	return ""
}

// tiresFeet reports foot strength, as against the practice of a movement: it is not done on tired feet.
func tiresFeet(r catalog.Rail) bool {
	return r.Foot && slices.Contains([]catalog.Class{catalog.Strength, catalog.Endurance, catalog.Isometric}, r.Class)
}

var slotWords = map[catalog.Slot]string{catalog.Before: "before a run", catalog.InRun: "inside a run", catalog.After: "after a run",
	catalog.Own: "on its own on a day without a run", catalog.Evening: "in the evening", catalog.Habit: "among the daily chores"}

// Quality reports a run that asks for fresh calves before it and rest after: quality, or longer than the
// house rule says.
func Quality(r body.FixedRun, h house.Rules) bool {
	return r.Quality == "quality" || r.Minutes > h.Int("week.quality.minutes")
}

func (f *frame) quality(day int) bool { return f.runs[day] != nil && Quality(*f.runs[day], f.h) }

// joined makes one run of two on a weekday: a quality run stays one, a morning counts only when both are in
// it, and the minutes are the longer run's.
func joined(a *body.FixedRun, b body.FixedRun, h house.Rules) *body.FixedRun {
	if a == nil {
		return &b
	}
	out := *a
	if rank := []string{"easy", "long", "quality"}; slices.Index(rank, b.Quality) > slices.Index(rank, out.Quality) {
		out.Quality = b.Quality
	}
	if Quality(*a, h) || Quality(b, h) {
		out.Quality = "quality"
	}
	if !b.Morning() {
		out.Time = b.Time
	}
	out.Minutes = max(out.Minutes, b.Minutes)
	return &out
}

// wish is what a slot costs a rail: foot work before runs under that approach, release and settling in
// the evening, the rest away from the run's own hour.
func (f *frame) wish(r planned, s catalog.Slot) int {
	switch {
	case s == catalog.Own:
		return 0
	case r.rail.Foot && f.h.Choice(f.p.Approaches, "around_runs") == "fresh":
		return wishCost * boolInt(string(s) != string(catalog.Before))
	case s == catalog.Evening:
		return 0
	case s == catalog.Before:
		return wishCost
	}
	return wishCost - 1
}

// Schedule lays the chosen rails into a week. Hard: when each exercise may stand, the minutes of each
// day and session, heavy calf work and free bounces with their free days between (the week repeating),
// heavy calf work never on the day of a quality run nor the day before one, sessions the coach keeps.
// Soft, in this order: sessions left out, few separate sessions, spread, preferred times and days. The
// search over days and slots is branch and bound with a fixed budget, and deterministic: a week whose
// optimum was not proved says so.
func Schedule(cat catalog.Catalogue, plans []RailPlan, p body.Profile, c Choices, h house.Rules) Week {
	f := newFrame(cat, plans, p, c, h)
	gave := f.pin(c.Sessions)
	placed, proved := f.search()
	w := f.week(placed)
	w.Proved = proved
	w.GaveWay = append(w.GaveWay, gave...)
	w.Feasible = len(w.GaveWay) == 0
	w.Why = h.Because("week.search", "every week was weighed; no better one exists", "week.gap.heavy", "week.gap.spring")
	if !proved {
		w.Why.Says = "best found: the search ended before every week was weighed"
	}
	for i, r := range f.rails {
		n := bits.OnesCount8(placed[i].days)
		w.Why = w.Why.See(r.rail.Name, "%d of %d sessions, %s each", n, r.want, minutesOf(r.seconds))
		if n >= r.want {
			continue
		}
		w.Feasible = false
		g := h.Because("week.gave-way", fmt.Sprintf("%s: %d of %d sessions found a place", r.rail.Name, n, r.want), "week.gap.heavy")
		for d, why := range r.barred {
			if why != "" {
				g = g.See(body.WeekdayName(d), "%s", why)
			}
		}
		if n := len(g.Saw); n < 7 {
			g = g.See("the other days", "the gaps between sessions, or minutes taken by what ranks higher")
		}
		w.GaveWay = append(w.GaveWay, g)
	}
	return w
}

// pin fixes the coach's sessions one by one; one that breaks a hard rule gives way and says why.
func (f *frame) pin(sessions []PinnedPlace) []body.Reason {
	gave := []body.Reason{}
	for _, s := range sessions {
		i := slices.IndexFunc(f.rails, func(r planned) bool { return r.rail.ID == s.Rail })
		if i < 0 {
			continue // its rail is not in the programme
		}
		r := &f.rails[i]
		no := f.against(*r, f.pinned(), s.Weekday, s.Slot)
		if no == "" && bits.OnesCount8(r.pinned) >= r.want {
			no = "it has no further session a week"
		}
		if no != "" {
			gave = append(gave, f.h.Because("week.pin", fmt.Sprintf("%s on %s cannot stay where it was put: %s", r.rail.Name,
				body.WeekdayName(s.Weekday), no)))
			continue
		}
		r.pinned |= 1 << s.Weekday
		r.fixed[s.Weekday] = s.Slot
	}
	return gave
}

// pinned lays the sessions the coach keeps out by day.
func (f *frame) pinned() [7][]Entry {
	var days [7][]Entry
	for _, r := range f.rails {
		for d := range 7 {
			if r.pinned&(1<<d) != 0 {
				days[d] = append(days[d], Entry{Rail: r.rail.ID, Slot: r.fixed[d], Seconds: r.seconds})
			}
		}
	}
	return days
}

// against says why one more session of a rail may not stand in a slot beside what the week holds; empty
// when it may.
func (f *frame) against(r planned, days [7][]Entry, day int, s catalog.Slot) string {
	if no := f.refusal(r, day, s); no != "" {
		return no
	}
	if slices.ContainsFunc(days[day], func(e Entry) bool { return e.Rail == r.rail.ID }) {
		return "it stands on " + body.WeekdayName(day) + " already"
	}
	if s == catalog.InRun && slices.ContainsFunc(days[day], func(e Entry) bool { return e.Slot == catalog.InRun }) {
		return "one cue at a time: " + body.WeekdayName(day) + "'s run has drills already"
	}
	if s == catalog.Habit || s == catalog.InRun {
		return ""
	}
	total, session := r.seconds, r.seconds
	for _, e := range days[day] {
		if i := slices.IndexFunc(f.rails, func(o planned) bool { return o.rail.ID == e.Rail }); i >= 0 && r.rail.Apart(f.rails[i].rail) {
			return fmt.Sprintf("%s and %s bend the same toes back: not on one day (%s)", r.rail.Name, f.rails[i].rail.Name, body.WeekdayName(day))
		}
		if e.Slot == catalog.Habit || e.Slot == catalog.InRun {
			continue
		}
		total += e.Seconds
		if e.Slot == s {
			session += e.Seconds
		}
	}
	if total > 60*f.p.MinutesByDay[day] {
		return fmt.Sprintf("%s would need %s and has %d min", body.WeekdayName(day), minutesOf(total), f.p.MinutesByDay[day])
	}
	if f.p.SessionMinutes > 0 && session > 60*f.p.SessionMinutes {
		return fmt.Sprintf("the session would need %s and has at most %d min", minutesOf(session), f.p.SessionMinutes)
	}
	for d := range 7 {
		for _, e := range days[d] {
			i := slices.IndexFunc(f.rails, func(o planned) bool { return o.rail.ID == e.Rail })
			if i < 0 || d == day {
				continue
			}
			o := f.rails[i]
			gap, what := 0, ""
			switch {
			case r.heavy && o.heavy:
				gap, what = f.h.Int("week.gap.heavy"), "heavy calf work"
			case r.spring && o.spring:
				gap, what = f.h.Int("week.gap.spring"), "bounces"
			case r.hard && o.hard:
				gap, what = f.h.Int("week.gap.heavy"), "heavy work or free bounces"
			}
			if o.rail.ID == r.rail.ID && r.gap > gap {
				gap, what = r.gap, r.rail.Name
			}
			if apart(day, d) <= gap {
				return fmt.Sprintf("%s needs %d free day between: it stands on %s", what, gap, body.WeekdayName(d))
			}
		}
	}
	return ""
}

// apart counts the days between two weekdays, the week repeating.
func apart(a, b int) int {
	n := (a - b + 7) % 7
	return min(n, 7-n)
}

// placement is where a rail's sessions came to stand.
type placement struct {
	days  uint8
	slots [7]catalog.Slot
}

// week lays placements out by day, in session order.
func (f *frame) week(placed []placement) Week {
	w := Week{Days: make([]Day, 7), GaveWay: []body.Reason{}}
	inOrder := make([]int, len(f.rails))
	for i := range inOrder {
		inOrder[i] = i
	}
	slices.SortStableFunc(inOrder, func(a, b int) int { return f.rails[a].order - f.rails[b].order })
	for d := range w.Days {
		w.Days[d] = Day{Weekday: d, Run: f.runs[d], Minutes: f.p.MinutesByDay[d], Entries: []Entry{}}
		for _, i := range inOrder {
			r := f.rails[i]
			if placed[i].days&(1<<d) == 0 {
				continue
			}
			s := placed[i].slots[d]
			w.Days[d].Entries = append(w.Days[d].Entries, Entry{r.rail.ID, r.rail.Short, r.rail.Part, s, r.seconds, r.pinned&(1<<d) != 0})
		}
		w.Days[d].tidy(f.h.Choice(f.p.Approaches, "session_end") == "bounce")
	}
	return w
}

// tidy sorts a day's entries into session order and sums what its sessions take.
func (d *Day) tidy(bounceLast bool) {
	slices.SortStableFunc(d.Entries, func(a, b Entry) int {
		return cmp.Or(cmp.Compare(slices.Index(catalog.Slots, a.Slot), slices.Index(catalog.Slots, b.Slot)),
			cmp.Compare(Order(a.Part, bounceLast), Order(b.Part, bounceLast)))
	})
	d.sum()
}

func (d *Day) sum() {
	d.Seconds = 0
	for _, e := range d.Entries {
		if e.Slot != catalog.Habit && e.Slot != catalog.InRun {
			d.Seconds += e.Seconds
		}
	}
}

// Order ranks a part in the session: prepare, open, wake, spring, strength, settle; under the other
// approach bouncing comes last.
func Order(p catalog.Part, bounceLast bool) int {
	if bounceLast && p == "spring" {
		return len(catalog.Parts)
	}
	return slices.Index(catalog.Parts, p)
}

func (w Week) count(rail string) int {
	n := 0
	for _, d := range w.Days {
		for _, e := range d.Entries {
			if e.Rail == rail {
				n++
			}
		}
	}
	return n
}

func (w Week) minutes() int {
	s := 0
	for _, d := range w.Days {
		s += d.Seconds
	}
	return (s + 59) / 60
}

func (w Week) sessions() int {
	n := 0
	for _, d := range w.Days {
		seen := map[catalog.Slot]bool{catalog.Habit: true, catalog.InRun: true}
		for _, e := range d.Entries {
			if !seen[e.Slot] {
				seen[e.Slot] = true
				n++
			}
		}
	}
	return n
}

func (w Week) gaveWay() string {
	var out []string
	for _, g := range w.GaveWay {
		out = append(out, g.Says)
	}
	if len(out) == 0 {
		return "nothing"
	}
	return strings.Join(out, "; ")
}
