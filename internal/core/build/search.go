package build

import (
	"cmp"
	"math/bits"
	"slices"

	"notchback/internal/core/catalog"
)

// inSession reports whether a rail takes minutes of the day; habits and drills inside a run do not.
func (r planned) inSession() bool { return !r.rail.Habit && r.rail.Part != "run" }

// prepare lists the sets of days a rail may take by itself, cheapest first. rank is its place among the
// rails: what ranks higher is left out last.
func (f *frame) prepare(r *planned, rank int) {
	r.masks = r.masks[:0]
	gap := r.gap
	if r.heavy {
		gap = max(gap, f.h.Int("week.gap.heavy"))
	}
	for m := range uint8(128) {
		if m&r.pinned == r.pinned && bits.OnesCount8(m) <= r.want && r.fits(m, gap) {
			r.masks = append(r.masks, mask{m, f.cost(*r, m, rank)})
		}
	}
	slices.SortStableFunc(r.masks, func(a, b mask) int { return cmp.Or(a.cost-b.cost, int(a.days)-int(b.days)) })
}

func (r planned) fits(m uint8, gap int) bool {
	for d := range 7 {
		if m&(1<<d) == 0 {
			continue
		}
		if len(r.slots[d]) == 0 {
			return false
		}
		for g := 1; g <= gap; g++ {
			if m&(1<<((d+g)%7)) != 0 {
				return false
			}
		}
	}
	return true
}

// cost sums what a set of days costs a rail by itself: sessions left out, uneven gaps (squared, round
// the week), heavy work on run days, days the coach does not prefer.
func (f *frame) cost(r planned, m uint8, rank int) int {
	n := bits.OnesCount8(m)
	c := (missingCost + 10*max(0, 20-rank)) * (r.want - n)
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
		if r.heavy && f.runs[d] != nil {
			c += 2
		}
		if len(f.prefer) > 0 && !slices.Contains(f.prefer, d) && r.inSession() {
			c += wishCost
		}
	}
	if n > 0 {
		g := 7 - last + first
		c += g * g
	}
	return c
}

// impossible is the cost of a day that cannot hold its rails.
const impossible = 1 << 20

// searcher is one run of the search.
type searcher struct {
	f     *frame
	rails []int      // session rails in the order they are tried
	days  [7][]int32 // cost of each set of rails on each day; -1 not weighed yet
	now   []uint8
	best  []uint8
	low   int // cost of the best so far
	left  int // steps left
	tail  []int
	apart []uint16 // of each rail, those it does not share a day with
}

// search finds the cheapest days and slots for every rail, and whether that was proved.
func (f *frame) search() ([]placement, bool) {
	out := make([]placement, len(f.rails))
	s := &searcher{f: f, low: 1 << 30, left: budget, rails: f.alone(out)}
	s.prepare()
	for k, i := range s.rails { // what is kept by hand stands, should the steps not reach a whole week
		s.best[k] = f.rails[i].pinned
	}
	s.step(0, 0, [7]uint16{}, 0, 0, 0)
	for k, i := range s.rails {
		out[i].days = s.best[k]
	}
	for d := range 7 {
		var set uint16
		for k := range s.rails {
			if s.best[k]&(1<<d) != 0 {
				set |= 1 << k
			}
		}
		for k, slot := range s.assign(d, set) {
			out[s.rails[k]].slots[d] = slot
		}
	}
	return out, s.left > 0
}

// alone places what stands outside the sessions, by itself but for one cue a run, and lists the rails that stand inside.
func (f *frame) alone(out []placement) (inside []int) {
	var inRuns uint8 // days whose run has its cue
	for i := range f.rails {
		r := &f.rails[i]
		f.prepare(r, i)
		if r.inSession() {
			inside = append(inside, i)
			continue
		}
		// Outside the sessions rails stand alone, but for one cue a run.
		for _, m := range r.masks {
			if r.rail.Part == "run" && m.days&inRuns != 0 {
				continue
			}
			out[i].days = m.days
			break
		}
		if r.rail.Part == "run" {
			inRuns |= out[i].days
		}
		for d := range 7 {
			if out[i].days&(1<<d) != 0 {
				out[i].slots[d] = r.open(d)[0]
			}
		}
	}
	return inside
}

// prepare orders the rails by how few days they may stand on, and sums what the rest of them costs at the least.
func (s *searcher) prepare() {
	f := s.f
	slices.SortStableFunc(s.rails, func(a, b int) int {
		return cmp.Or(len(f.rails[a].masks)-len(f.rails[b].masks), a-b)
	})
	for d := range s.days {
		s.days[d] = make([]int32, 1<<len(s.rails))
		for i := range s.days[d] {
			s.days[d][i] = -1
		}
	}
	s.now, s.best = make([]uint8, len(s.rails)), make([]uint8, len(s.rails))
	s.apart = make([]uint16, len(s.rails))
	for k, a := range s.rails {
		for j, b := range s.rails {
			if f.rails[a].rail.Apart(f.rails[b].rail) {
				s.apart[k] |= 1 << j
			}
		}
	}
	s.tail = make([]int, len(s.rails)+1)
	for k := len(s.rails) - 1; k >= 0; k-- {
		s.tail[k] = s.tail[k+1]
		if ms := f.rails[s.rails[k]].masks; len(ms) > 0 {
			s.tail[k] += ms[0].cost
		}
	}
}

// step tries every set of days for the k-th rail. own is the cost of the sets so far without the days'
// own cost; heavy, spring and hard are the days those classes hold.
func (s *searcher) step(k, own int, sets [7]uint16, heavy, spring, hard uint8) {
	if k == len(s.rails) {
		if total := own + s.cost(sets); total < s.low {
			s.low = total
			copy(s.best, s.now)
		}
		return
	}
	r := &s.f.rails[s.rails[k]]
	for _, m := range r.masks {
		if s.left <= 0 {
			return
		}
		s.left--
		if own+m.cost+s.tail[k+1]+s.cost(sets) >= s.low {
			return // sets only grow dearer
		}
		h, sp, hd := heavy, spring, hard
		if r.heavy {
			if h |= m.days; !spaced(h, s.f.h.Int("week.gap.heavy")) {
				continue
			}
		}
		if r.spring {
			if sp |= m.days; !spaced(sp, s.f.h.Int("week.gap.spring")) {
				continue
			}
		}
		if r.hard {
			if hd |= m.days; !spaced(hd, s.f.h.Int("week.gap.heavy")) {
				continue
			}
		}
		next, clash := sets, false
		for d := range 7 {
			if m.days&(1<<d) != 0 {
				clash = clash || next[d]&s.apart[k] != 0
				next[d] |= 1 << k
			}
		}
		if clash {
			continue
		}
		if c := s.cost(next); c >= impossible || own+m.cost+s.tail[k+1]+c >= s.low {
			continue
		}
		s.now[k] = m.days
		s.step(k+1, own+m.cost, next, h, sp, hd)
	}
}

// spaced reports whether the days keep so many free days between, the week repeating.
func spaced(days uint8, gap int) bool {
	for d := range 7 {
		for g := 1; g <= gap && days&(1<<d) != 0; g++ {
			if days&(1<<((d+g)%7)) != 0 {
				return false
			}
		}
	}
	return true
}

// cost sums what the days cost with these sets of rails on them. It never falls when a rail is added.
func (s *searcher) cost(sets [7]uint16) int {
	c := 0
	for d, set := range sets {
		if set == 0 {
			continue
		}
		if s.days[d][set] < 0 {
			s.days[d][set] = int32(s.weigh(d, set, nil, &s.left))
		}
		c += int(s.days[d][set])
	}
	return c
}

// assign returns the cheapest slot of each rail of a set on a day.
func (s *searcher) assign(d int, set uint16) map[int]catalog.Slot {
	out := map[int]catalog.Slot{}
	if set != 0 {
		enough := 1 << 30
		s.weigh(d, set, out, &enough)
	}
	return out
}

// open lists the slots a rail may take on a day; one where the coach put it.
func (r planned) open(d int) []catalog.Slot {
	if r.pinned&(1<<d) != 0 {
		return []catalog.Slot{r.fixed[d]}
	}
	return r.slots[d]
}

// weigh finds the cheapest way to lay a set of rails into a day's slots: each separate session costs,
// and each rail off its preferred time. into, when given, receives the slots. Every step is taken from
// left; when that is used up the cheapest way so far stands, and a day without any cannot hold the set.
func (s *searcher) weigh(d int, set uint16, into map[int]catalog.Slot, left *int) int {
	total := 0
	var members []int
	for k := range s.rails {
		if set&(1<<k) != 0 {
			members = append(members, k)
			total += s.f.rails[s.rails[k]].seconds
		}
	}
	if total > 60*s.f.p.MinutesByDay[d] {
		return impossible
	}
	best := impossible
	chosen := make([]catalog.Slot, len(members))
	longest := 60 * s.f.p.SessionMinutes
	var used [8]int // seconds in each slot
	var try func(i, c int)
	try = func(i, c int) {
		*left--
		if c >= best || *left < 0 {
			return
		}
		if i == len(members) {
			best = c
			for j, k := range members {
				if into != nil {
					into[k] = chosen[j]
				}
			}
			return
		}
		r := s.f.rails[s.rails[members[i]]]
		for _, slot := range r.open(d) {
			j := slices.Index(catalog.Slots, slot)
			if longest > 0 && used[j]+r.seconds > longest {
				continue
			}
			more := s.f.wish(r, slot)
			if used[j] == 0 {
				more += sessionCost
			}
			used[j] += max(1, r.seconds)
			chosen[i] = slot
			try(i+1, c+more)
			used[j] -= max(1, r.seconds)
		}
	}
	try(0, 0)
	return best
}
