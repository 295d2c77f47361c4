package build

import (
	"fmt"
	"math/bits"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

// Tuesday is a quality run: heavy calf stands neither on Monday nor on Tuesday, and never on two
// days running, the week repeating.
func TestWeekKeepsItsGaps(t *testing.T) {
	w := Make(input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))).Week
	assert.True(t, w.Feasible, "%v", w.GaveWay)
	assert.True(t, w.Proved)
	days := daysOf(w, "calf_straight")
	assert.Equal(t, 3, bits.OnesCount8(days))
	assert.Zero(t, days&0b11, "not on Monday or Tuesday")
	for _, d := range w.Days {
		for _, e := range d.Entries {
			if d.Run != nil {
				assert.Contains(t, []catalog.Slot{catalog.Evening, catalog.Habit, catalog.InRun, catalog.After, catalog.Before}, e.Slot)
			}
		}
	}
}

func daysOf(w Week, rail string) (days uint8) {
	for d, day := range w.Days {
		for _, e := range day.Entries {
			if e.Rail == rail {
				days |= 1 << d
			}
		}
	}
	return days
}

// anyRunner draws a runner of any shape: runs on 2 to 7 days, 0 to 60 minutes a day, any approach, kit
// and session length.
func anyRunner(t *rapid.T) body.Profile {
	p := profile()
	p.Runs = nil
	days := rapid.IntRange(2, 7).Draw(t, "run days")
	for _, d := range rapid.Permutation([]int{0, 1, 2, 3, 4, 5, 6}).Draw(t, "which")[:days] {
		p.Runs = append(p.Runs, body.FixedRun{Weekday: d, Minutes: rapid.SampledFrom([]int{40, 40, 90, 91}).Draw(t, "run minutes"),
			Quality: rapid.SampledFrom([]string{"easy", "easy", "quality", "long"}).Draw(t, "run"),
			Time:    rapid.SampledFrom([]string{"", "morning", "evening"}).Draw(t, "run time")})
		if rapid.IntRange(0, 4).Draw(t, "twice") == 0 {
			p.Runs = append(p.Runs, body.FixedRun{Weekday: d, Minutes: 30,
				Quality: rapid.SampledFrom([]string{"easy", "quality"}).Draw(t, "second run"),
				Time:    rapid.SampledFrom([]string{"morning", "evening"}).Draw(t, "second time")})
		}
	}
	for d := range 7 {
		p.MinutesByDay[d] = rapid.SampledFrom([]int{0, 5, 10, 15, 20, 30, 45, 60}).Draw(t, "minutes")
	}
	p.SessionMinutes = rapid.SampledFrom([]int{0, 0, 5, 10, 20}).Draw(t, "session")
	p.Approaches = map[string]string{}
	for _, a := range house.Approaches {
		p.Approaches[a.ID] = rapid.SampledFrom(a.Options).Draw(t, a.ID).ID
	}
	if rapid.Bool().Draw(t, "bare") {
		p.Equipment = body.Equipment{}
	} else {
		p.Equipment.Bands, p.Equipment.SoftBall, p.Equipment.RollersCm = []string{"light", "strong"}, true, []float64{12}
	}
	return p
}

// anyPlans draws up to eight rails at any of the notches the runner may do.
func anyPlans(t *rapid.T, p body.Profile) []RailPlan {
	in := Input{Profile: p, Today: today}
	v := look(in)
	var out []RailPlan
	for _, i := range rapid.Permutation(indexes(len(catalog.Shipped.Rails))).Draw(t, "rails")[:rapid.IntRange(1, 8).Draw(t, "how many")] {
		rail := catalog.Shipped.Rails[i]
		plan := RailPlan{Rail: rail.ID, Name: rail.Name, Short: rail.Short, Part: rail.Part, Chosen: true}
		for _, side := range rail.Sides() {
			notches := v.notches(rail, side)
			if len(notches) == 0 {
				continue
			}
			n := rapid.SampledFrom(notches).Draw(t, "notch")
			x, _ := rail.Exercise(n.Exercise)
			plan.Prescriptions = append(plan.Prescriptions, catalog.Prescription{Rail: rail.ID, Side: side, Exercise: x.ID, Dose: n.Dose})
			plan.Seconds = max(plan.Seconds, x.Seconds(n.Dose, 2))
		}
		if len(plan.Prescriptions) > 0 {
			x, _ := rail.Exercise(plan.Prescriptions[0].Exercise)
			plan.PerWeek = Wanted(rail, rapid.Bool().Draw(t, "keep"), x, in)
			out = append(out, plan)
		}
	}
	return out
}

func indexes(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// runDays are the days with a run: of what kind, whether it is not surely over in the morning, whether the feet are tired.
func runDays(p body.Profile) (kind map[int]string, late, tired map[int]bool) {
	kind = map[int]string{}
	late = map[int]bool{}
	tired = map[int]bool{}
	for _, r := range p.Runs {
		tired[r.Weekday] = tired[r.Weekday] || r.Quality != "easy" || r.Minutes > 90
		if kind[r.Weekday] != "quality" {
			kind[r.Weekday] = r.Quality
		}
		if r.Minutes > 90 {
			kind[r.Weekday] = "quality"
		}
		late[r.Weekday] = late[r.Weekday] || r.Time != "morning"
	}
	return kind, late, tired
}

// brokenRule looks at a week with the brief's hard rules alone, written again apart from the search.
func brokenRule(w Week, plans []RailPlan, p body.Profile) string {
	kind, late, tired := runDays(p)
	var heavy, spring, hard [7]bool
	own := map[string][7]bool{}
	for d, day := range w.Days {
		if on := func(id string) bool {
			return slices.ContainsFunc(day.Entries, func(e Entry) bool { return e.Rail == id })
		}; on("big_toe") && (on("fascia_rocks") || on("toe_calf")) || on("fascia_rocks") && on("toe_calf") {
			return "toes bent back twice on a day"
		}
		total := 0
		session := map[catalog.Slot]int{}
		seen := map[string]bool{}
		inRun := 0
		for _, e := range day.Entries {
			rail, _ := catalog.Shipped.Find(e.Rail)
			if seen[e.Rail] {
				return e.Rail + " twice on a day"
			}
			seen[e.Rail] = true
			days := own[e.Rail]
			days[d] = true
			own[e.Rail] = days
			run, runs := kind[d]
			if broken := brokenPlace(e, rail, plans, p, run, runs); broken != "" {
				return broken
			}
			if e.Slot == catalog.InRun {
				if inRun++; inRun > 1 || e.Seconds > 60*day.Run.Minutes {
					return "drills twice in a run, or longer than it"
				}
			}
			level, class := asksFor(rail, plans)
			heavy[d] = heavy[d] || rail.Calf() && rail.Protocol == ""
			hard[d] = hard[d] || class
			if broken := brokenHeavy(rail, e.Slot, level, class, d, kind, late, tired); broken != "" {
				return broken
			}
			if rail.Class == catalog.Spring {
				spring[d] = true
			}
			if e.Slot != catalog.Habit && e.Slot != catalog.InRun {
				total += e.Seconds
				session[e.Slot] += e.Seconds
			}
		}
		if total > 60*p.MinutesByDay[d] {
			return fmt.Sprintf("%d s on a day of %d min", total, p.MinutesByDay[d])
		}
		for _, s := range session {
			if p.SessionMinutes > 0 && s > 60*p.SessionMinutes {
				return "a session too long"
			}
		}
	}
	return brokenGap(heavy, hard, own, plans)
}

// asksFor is the highest level a rail asks for, and whether it is heavy work or free bounces.
func asksFor(rail catalog.Rail, plans []RailPlan) (level int, class bool) {
	for _, plan := range plans {
		for _, pr := range plan.Prescriptions {
			if plan.Rail == rail.ID {
				x, _ := rail.Exercise(pr.Exercise)
				level, class = max(level, x.Level), class || (x.Level == 4 || x.Impact == body.FreeHops) && rail.Protocol == ""
			}
		}
	}
	return level, class
}

// brokenPlace looks at where an entry stands on its day.
func brokenPlace(e Entry, rail catalog.Rail, plans []RailPlan, p body.Profile, run string, runs bool) string {
	if (e.Slot == catalog.Before || e.Slot == catalog.After || e.Slot == catalog.InRun) && !runs {
		return "a run slot without a run"
	}
	for _, plan := range plans {
		for _, pr := range plan.Prescriptions {
			x, mine := rail.Exercise(pr.Exercise)
			if plan.Rail == e.Rail && mine && !rail.Habit && !slices.Contains(x.When, e.Slot) {
				return fmt.Sprintf("%s stands %s", x.ID, e.Slot)
			}
		}
	}
	if e.Slot == catalog.InRun && run == "quality" {
		return "drills in a quality run"
	}
	if rail.Foot && p.Approaches["around_runs"] == "away" && (e.Slot == catalog.Before || e.Slot == catalog.After) {
		return "foot strength at a run"
	}
	return ""
}

// brokenHeavy looks at heavy work, bounces and tired feet around the runs.
func brokenHeavy(rail catalog.Rail, slot catalog.Slot, level int, class bool, d int, kind map[int]string, late, tired map[int]bool) string {
	before, evening := kind[(d+1)%7] == "quality", slot == catalog.Evening
	if rail.Calf() && rail.Protocol == "" || class {
		if kind[d] == "quality" && (late[d] || !evening) || before {
			return "heavy calf or free bounces at a quality run"
		}
	}
	if class && kind[(d+6)%7] == "quality" && late[(d+6)%7] && !evening {
		return "heavy work before the evening after a quality run"
	}
	if level >= 3 && rail.Protocol == "" && kind[d] == "quality" && (slot == catalog.After || evening && late[d]) {
		return "level 3 within 6 h after a quality run"
	}
	if rail.Foot && (rail.Class == "strength" || rail.Class == "endurance" || rail.Class == "isometric") && tired[d] &&
		(slot == catalog.After || evening && late[d]) {
		return "foot strength on tired feet"
	}
	return ""
}

// brokenGap looks at days that follow each other.
func brokenGap(heavy, hard [7]bool, own map[string][7]bool, plans []RailPlan) string {
	for d := range 7 {
		if heavy[d] && heavy[(d+1)%7] {
			return "heavy calf on two days running"
		}
		if hard[d] && hard[(d+1)%7] {
			return "heavy work and free bounces on two days running"
		}
		for rail, days := range own {
			r, _ := catalog.Shipped.Find(rail)
			free := r.Class != catalog.Spring || !slices.ContainsFunc(plans, func(p RailPlan) bool { return p.Rail == rail && p.PerWeek > 3 })
			if r.GapDays > 0 && free && days[d] && days[(d+1)%7] {
				return rail + " without its free day"
			}
		}
	}
	return ""
}

func TestPropertyNoHardRuleOfTheWeekIsBroken(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := anyRunner(t)
		plans := anyPlans(t, p)
		w := Schedule(catalog.Shipped, plans, p, Choices{}, house.Rules{})
		if broken := brokenRule(w, plans, p); broken != "" {
			t.Fatal(broken)
		}
		placed, wanted := 0, 0
		for _, plan := range plans {
			placed += w.count(plan.Rail)
			wanted += plan.PerWeek
		}
		if w.Feasible != (placed == wanted) || (!w.Feasible && len(w.GaveWay) == 0) {
			t.Fatalf("%d of %d placed, feasible %v, gave way %d", placed, wanted, w.Feasible, len(w.GaveWay))
		}
	})
}

// Where every combination can be listed, the search finds its best: up to three rails, every set of days
// and every slot.
func TestPropertySearchIsExact(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := anyRunner(t)
		plans := anyPlans(t, p)
		plans = plans[:min(3, len(plans))]
		f := newFrame(catalog.Shipped, plans, p, Choices{}, house.Rules{})
		var session []int
		for i := range f.rails {
			f.prepare(&f.rails[i], i)
			if f.rails[i].inSession() {
				session = append(session, i)
			}
		}
		best := 1 << 30
		chosen := make([]uint8, len(session))
		known := map[[4]bool]map[int]int{}
		dayCost := func(d int) int {
			var on [4]bool
			for j := range session {
				on[j] = chosen[j]&(1<<d) != 0
			}
			if known[on] == nil {
				known[on] = map[int]int{}
			}
			if _, ok := known[on][d]; !ok {
				known[on][d] = cheapestDay(f, session, chosen, d)
			}
			return known[on][d]
		}
		var list func(k, c int)
		list = func(k, c int) {
			if k == len(session) {
				var heavy, spring, hard uint8
				for j, i := range session {
					if f.rails[i].heavy {
						heavy |= chosen[j]
					}
					if f.rails[i].spring {
						spring |= chosen[j]
					}
					if f.rails[i].hard {
						hard |= chosen[j]
					}
				}
				for j, a := range session { // rails that bend the same toes back
					for l, b := range session[:j] {
						bends := func(i int) bool {
							return slices.Contains([]string{"big_toe", "fascia_rocks", "toe_calf"}, f.rails[i].rail.ID)
						}
						if bends(a) && bends(b) && chosen[j]&chosen[l] != 0 {
							return
						}
					}
				}
				if !spaced(heavy, 1) || !spaced(spring, 1) || !spaced(hard, 1) {
					return
				}
				for d := range 7 {
					c += dayCost(d)
				}
				best = min(best, c)
				return
			}
			for _, m := range f.rails[session[k]].masks {
				chosen[k] = m.days
				list(k+1, c+m.cost)
			}
		}
		list(0, 0)
		got, proved := f.search()
		if !proved {
			t.Fatal("three rails are always proved")
		}
		total := 0
		for j, i := range session {
			chosen[j] = got[i].days
			total += f.cost(f.rails[i], got[i].days, i)
		}
		for d := range 7 {
			used := map[catalog.Slot]bool{}
			for _, i := range session {
				if got[i].days&(1<<d) != 0 {
					s := got[i].slots[d]
					if !used[s] {
						total += sessionCost
					}
					used[s] = true
					total += f.wish(f.rails[i], s)
				}
			}
		}
		if total != best {
			t.Fatalf("search found %d, enumeration %d", total, best)
		}
	})
}

// cheapestDay lists every way to lay a day's rails into slots.
func cheapestDay(f *frame, session []int, chosen []uint8, d int) int {
	var members []int
	total := 0
	for j, i := range session {
		if chosen[j]&(1<<d) != 0 {
			members = append(members, i)
			total += f.rails[i].seconds
		}
	}
	if total > 60*f.p.MinutesByDay[d] {
		return impossible
	}
	best := impossible
	ways := 1
	for _, i := range members {
		ways *= len(f.rails[i].slots[d])
	}
	for n := range ways {
		c, k := 0, n
		seconds := map[catalog.Slot]int{}
		for _, i := range members {
			options := f.rails[i].slots[d]
			s := options[k%len(options)]
			k /= len(options)
			if seconds[s] == 0 {
				c += sessionCost
			}
			seconds[s] += f.rails[i].seconds
			c += f.wish(f.rails[i], s)
		}
		fits := true
		for _, s := range seconds {
			fits = fits && (f.p.SessionMinutes == 0 || s <= 60*f.p.SessionMinutes)
		}
		if fits {
			best = min(best, c)
		}
	}
	if len(members) == 0 {
		return 0
	}
	return best
}

func TestPropertyTheSameInputGivesTheSameWeek(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := anyRunner(t)
		plans := anyPlans(t, p)
		a, b := Schedule(catalog.Shipped, plans, p, Choices{}, house.Rules{}), Schedule(catalog.Shipped, plans, p, Choices{}, house.Rules{})
		if !assert.ObjectsAreEqual(a.Days, b.Days) {
			t.Fatal("two weeks from one input")
		}
	})
}

func TestPreferredDaysAreTaken(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{30, 30}))
	in.Profile.Runs = nil
	in.Choices = Choices{Days: []int{0, 2, 4}, Without: []string{"ankle_bend"}}
	w := Make(in).Week
	assert.Equal(t, uint8(0b0010101), daysOf(w, "calf_straight"))
}

func TestSessionOrder(t *testing.T) {
	d := Day{Entries: []Entry{{Rail: "s", Part: "strength", Slot: catalog.Own}, {Rail: "p", Part: "spring", Slot: catalog.Own},
		{Rail: "o", Part: "open", Slot: catalog.Own}, {Rail: "b", Part: "strength", Slot: catalog.Before}}}
	order := func() (out []string) {
		for _, e := range d.Entries {
			out = append(out, e.Rail)
		}
		return out
	}
	d.tidy(false)
	assert.Equal(t, []string{"b", "o", "p", "s"}, order())
	d.tidy(true)
	assert.Equal(t, []string{"b", "o", "s", "p"}, order())
}
