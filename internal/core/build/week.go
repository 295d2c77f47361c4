package build

import (
	"cmp"
	"fmt"
	"math/bits"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

// Slot is a part of a training day.
type Slot string

// The slots of a day.
const (
	BeforeRun Slot = "before" // within 6 h before a run
	OwnTime   Slot = "own"    // a session of its own on a day without a run
	Evening   Slot = "evening"
)

// Entry is one rail on one weekday.
type Entry struct {
	Rail    string `json:"rail"`
	Slot    Slot   `json:"slot" enum:"before,own,evening"`
	Seconds int    `json:"seconds"`
}

// Day is one weekday of the plan, 0 Monday … 6 Sunday.
type Day struct {
	Weekday int            `json:"weekday"`
	Run     *body.FixedRun `json:"run,omitempty"`
	Minutes int            `json:"minutes" doc:"strength minutes available"`
	Entries []Entry        `json:"entries"`
}

// Week is the weekly pattern; the store gives it dates.
type Week struct {
	Days     []Day         `json:"days"`
	Feasible bool          `json:"feasible" doc:"every session wanted found a place"`
	GaveWay  []body.Reason `json:"gaveWay" doc:"what did not fit, and why"`
	Why      body.Reason   `json:"why"`
}

// railWeek is what the search knows of one rail.
type railWeek struct {
	rail    catalog.Rail
	seconds int
	want    int
	heavy   bool
	notPre  bool
	masks   []mask // allowed sets of days, cheapest first
	barred  [7]string
}

type mask struct {
	days uint8
	cost int
}

const missingCost = 1000 // one session left out outweighs every soft wish

// Schedule lays the chosen rails into a week. Hard: the minutes of each day; heavy calf work with its
// free days between, never on the day of a quality run nor the day before one, the week repeating.
// Soft, in this order: sessions spread out, few separate days, heavy work on days without a run. The
// search over all sets of days is exact (branch and bound), and deterministic.
func Schedule(plans []RailPlan, p body.Profile, h house.Rules) Week {
	w := Week{Days: make([]Day, 7), Feasible: true, GaveWay: []body.Reason{}}
	runs := [7]*body.FixedRun{}
	for i := range p.Runs {
		runs[p.Runs[i].Weekday] = &p.Runs[i]
	}
	for d := range w.Days {
		w.Days[d] = Day{Weekday: d, Run: runs[d], Minutes: p.MinutesByDay[d], Entries: []Entry{}}
	}
	var rails []railWeek
	for _, plan := range plans {
		if plan.Chosen {
			rails = append(rails, prepare(plan, p, runs, h))
		}
	}
	best := search(rails, p.MinutesByDay)
	w.Why = h.Because("week.search", "every set of days was searched; this one is the best", "week.gap.heavy")
	for i, r := range rails {
		placed := bits.OnesCount8(best[i])
		w.Why = w.Why.See(r.rail.Name, "%d of %d sessions, %d min each", placed, r.want, (r.seconds+59)/60)
		if placed < r.want {
			w.Feasible = false
			g := h.Because("week.gave-way", fmt.Sprintf("%s: %d of %d sessions found a place", r.rail.Name, placed, r.want), "week.gap.heavy")
			for d, why := range r.barred {
				if why != "" {
					g = g.See(body.WeekdayName(d), "%s", why)
				}
			}
			w.GaveWay = append(w.GaveWay, g)
		}
		for d := range 7 {
			if best[i]&(1<<d) != 0 {
				w.Days[d].Entries = append(w.Days[d].Entries, Entry{r.rail.ID, slot(r, runs[d], p, h), r.seconds})
			}
		}
	}
	for d := range w.Days {
		slices.SortStableFunc(w.Days[d].Entries, func(a, b Entry) int { return cmp.Compare(rank(a.Rail), rank(b.Rail)) })
	}
	return w
}

// rank orders a session: open, then wake, then strength.
func rank(rail string) int {
	return slices.IndexFunc(catalog.Rails, func(r catalog.Rail) bool { return r.ID == rail })
}

// Wanted is how many sessions a week a rail asks for under the chosen approach.
func Wanted(rail catalog.Rail, p body.Profile, h house.Rules) int {
	if h.Choice(p.Approaches, "often") == "daily" && rail.ID != "calf_straight" {
		return min(7, rail.PerWeek+2)
	}
	return rail.PerWeek
}

func prepare(plan RailPlan, p body.Profile, runs [7]*body.FixedRun, h house.Rules) railWeek {
	rail, _ := catalog.Find(plan.Rail)
	r := railWeek{rail: rail, want: Wanted(rail, p, h)}
	for _, pr := range plan.Prescriptions {
		x, _ := rail.Exercise(pr.Exercise)
		r.seconds = max(r.seconds, x.Seconds(pr.Dose, len(plan.Prescriptions)))
		r.notPre = r.notPre || x.NotBefore
	}
	// A rail that can reach heavy work keeps its gaps from the first day, so that a move up never
	// lands on a forbidden day.
	r.heavy = slices.ContainsFunc(rail.Exercises, func(x catalog.Exercise) bool { return x.Heavy })
	for d := range 7 {
		switch {
		case p.MinutesByDay[d] == 0:
			r.barred[d] = "no minutes"
		case r.seconds > 60*p.MinutesByDay[d]:
			r.barred[d] = fmt.Sprintf("needs %d min, has %d", (r.seconds+59)/60, p.MinutesByDay[d])
		case r.heavy && quality(runs[d]):
			r.barred[d] = "quality run that day"
		case r.heavy && quality(runs[(d+1)%7]):
			r.barred[d] = "quality run the day after"
		}
	}
	gap := h.Int("week.gap.heavy")
	for m := range uint8(128) {
		if ok := r.allowed(m, gap); ok {
			r.masks = append(r.masks, mask{m, r.cost(m, runs)})
		}
	}
	slices.SortStableFunc(r.masks, func(a, b mask) int { return a.cost - b.cost })
	return r
}

func quality(r *body.FixedRun) bool { return r != nil && r.Quality == "quality" }

func (r railWeek) allowed(m uint8, gap int) bool {
	if bits.OnesCount8(m) > r.want {
		return false
	}
	for d := range 7 {
		if m&(1<<d) == 0 {
			continue
		}
		if r.barred[d] != "" {
			return false
		}
		for g := 1; r.heavy && g <= gap; g++ {
			if m&(1<<((d+g)%7)) != 0 {
				return false
			}
		}
	}
	return true
}

// cost sums the sessions left out, uneven gaps (squared, round the week) and heavy work on run days.
func (r railWeek) cost(m uint8, runs [7]*body.FixedRun) int {
	n := bits.OnesCount8(m)
	c := missingCost * (r.want - n)
	last, first := -1, -1
	for d := range 7 {
		if m&(1<<d) == 0 {
			continue
		}
		if last >= 0 {
			c += (d - last) * (d - last)
		} else {
			first = d
		}
		last = d
		if r.heavy && runs[d] != nil {
			c += 2
		}
	}
	if n > 0 {
		g := 7 - last + first
		c += g * g
	}
	return c
}

// search finds the cheapest combination of day sets; each separate training day costs 3.
func search(rails []railWeek, minutes []int) []uint8 {
	const dayCost = 3
	best := make([]uint8, len(rails))
	bestCost := 1 << 30
	now := make([]uint8, len(rails))
	tail := make([]int, len(rails)+1) // cheapest the remaining rails can be
	for i := len(rails) - 1; i >= 0; i-- {
		tail[i] = tail[i+1] + rails[i].masks[0].cost
	}
	var left [7]int
	for d, m := range minutes {
		left[d] = 60 * m
	}
	var step func(i, cost int, used uint8)
	step = func(i, cost int, used uint8) {
		if i == len(rails) {
			if total := cost + dayCost*bits.OnesCount8(used); total < bestCost {
				bestCost = total
				copy(best, now)
			}
			return
		}
		for _, m := range rails[i].masks {
			if cost+m.cost+tail[i+1]+dayCost*bits.OnesCount8(used|m.days) >= bestCost {
				if cost+m.cost+tail[i+1]+dayCost*bits.OnesCount8(used) >= bestCost {
					return // masks only grow dearer
				}
				continue
			}
			if !take(&left, m.days, rails[i].seconds) {
				continue
			}
			now[i] = m.days
			step(i+1, cost+m.cost, used|m.days)
			for d := range 7 {
				if m.days&(1<<d) != 0 {
					left[d] += rails[i].seconds
				}
			}
		}
	}
	step(0, 0, 0)
	return best
}

// take spends the seconds on each day of the set, or nothing when a day has too few left.
func take(left *[7]int, days uint8, seconds int) bool {
	for d := range 7 {
		if days&(1<<d) != 0 && left[d] < seconds {
			return false
		}
	}
	for d := range 7 {
		if days&(1<<d) != 0 {
			left[d] -= seconds
		}
	}
	return true
}

func slot(r railWeek, run *body.FixedRun, p body.Profile, h house.Rules) Slot {
	switch {
	case run == nil:
		return OwnTime
	case h.Choice(p.Approaches, "around_runs") == "fresh" && !r.notPre && !r.heavy:
		return BeforeRun
	}
	return Evening
}
