package adjust

import (
	"cmp"
	"math"
	"slices"
	"sort"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
)

// mark is one morning at a place of one leg, with the usual of its own day.
type mark struct {
	*build.Morning
	leg   body.Side
	usual float64
	at    int  // of body.RegionNames
	bad   bool // 2 and more over usual, or at 7 and over
}

type place struct {
	region body.Region
	leg    body.Side
}

func (m *mark) over() float64 { return float64(m.Pain) - m.usual }

// shared is what every row of a runner looks at, gathered once.
type shared struct {
	usual     build.Usuals
	marks     []mark             // mornings of every place, a leg each, oldest first
	loud      []mark             // of them, those above usual, or so high that it does not matter
	loudest   []int64            // the newest report number up to each of these
	running   [][]*mark          // by place and leg, those of the last days
	reported  []*build.Morning   // oldest first
	above     map[body.Side]mark // a place that stands so far above usual that nothing of the leg moves up
	volume    load.State
	volumeWhy body.Reason
	newest    int64 // report of any rail: mornings, runs, signs
}

func (in *Input) gathered() *shared {
	if in.shared != nil {
		return in.shared
	}
	s := &shared{}
	if in.usuals != nil {
		s.usual = *in.usuals
	} else {
		s.usual = build.NewUsuals(in.Profile, in.Mornings, in.Usual)
	}
	s.gatherMarks(in)
	s.gatherLoud()
	s.gatherReports(in)
	s.running = in.running(s.marksSince(in.Today.Add(-in.House.Int("adjust.again.days"))))
	s.above = in.standsAbove(s.marksSince(in.Today.Add(-in.House.Int("adjust.brake.days"))))
	for _, r := range in.Runs {
		s.newest = max(s.newest, r.Seq)
	}
	for i := range in.Limits.Facts.Stops {
		s.newest = max(s.newest, in.Limits.Facts.Stops[i].Seq)
	}
	s.volume, s.volumeWhy = load.Volume(in.Runs, in.Profile, in.Today, in.House)
	if s.volume == load.Unknown && !in.Limits.Facts.Run(body.EasyMinutes).May() {
		s.volume = load.Usual // nobody runs while running is locked
	}
	if b := in.Limits.Facts.Back; b != nil && (b.Phase == load.Walking || b.Phase == load.Stepped) {
		s.volume = load.Usual // the steps' own minutes are no rise
	}
	return s
}

// gatherMarks sets every morning beside the usual of its own day, a leg each.
func (s *shared) gatherMarks(in *Input) {
	back, high := in.House.Get("adjust.morning.back"), in.House.Int("adjust.pain.back2")
	levels := make([][2]*build.Level, len(body.RegionNames))
	s.marks = make([]mark, 0, len(in.Mornings)+len(in.Mornings)/4)
	for i := range in.Mornings {
		m := &in.Mornings[i]
		if m.On > in.Today || m.Quiet {
			continue
		}
		at := slices.IndexFunc(body.RegionNames, func(n body.NamedRegion) bool { return n.ID == m.Region })
		for k, leg := range body.Sides {
			if m.Side.Touches(leg) && at >= 0 {
				if levels[at][k] == nil {
					of := s.usual.Of(m.Region, leg)
					levels[at][k] = &of
				}
				x := mark{Morning: m, leg: leg, usual: levels[at][k].At(m.On), at: at}
				x.bad = x.over() >= back || m.Pain >= high
				s.marks = append(s.marks, x)
			}
		}
	}
	slices.SortStableFunc(s.marks, func(a, b mark) int { return cmp.Or(cmp.Compare(a.On, b.On), cmp.Compare(a.Seq, b.Seq)) })
}

// gatherLoud keeps those above usual, or high.
func (s *shared) gatherLoud() {
	newest := int64(-1)
	for i := range s.marks {
		if m := &s.marks[i]; m.bad || m.over() >= 1 {
			newest = max(newest, m.Seq)
			s.loud, s.loudest = append(s.loud, *m), append(s.loudest, newest)
		}
	}
}

// gatherReports keeps all that was said in the mornings, also that the rest was quiet.
func (s *shared) gatherReports(in *Input) {
	s.reported = make([]*build.Morning, len(in.Mornings))
	for i := range in.Mornings {
		s.reported[i] = &in.Mornings[i]
		s.newest = max(s.newest, in.Mornings[i].Seq)
	}
	if order := func(a, b *build.Morning) int { return cmp.Compare(a.On, b.On) }; !slices.IsSortedFunc(s.reported, order) {
		slices.SortStableFunc(s.reported, order)
	}
}

// marksOn are the mornings of a day.
func (s *shared) marksOn(day body.Date) []mark {
	from := s.marksSince(day)
	to := 0
	for to < len(from) && from[to].On == day {
		to++
	}
	return from[:to]
}

// marksSince are the mornings from a day on.
func (s *shared) marksSince(day body.Date) []mark { return since(s.marks, day) }

// since are the marks of a list, oldest first, from a day on.
func since(marks []mark, day body.Date) []mark {
	from := sort.Search(len(marks), func(i int) bool { return marks[i].On >= day })
	return marks[from:]
}

// reportsOn is all that was said on a morning, also that the rest was quiet.
func (s *shared) reportsOn(day body.Date) []*build.Morning {
	from := sort.Search(len(s.reported), func(i int) bool { return s.reported[i].On >= day })
	to := from
	for to < len(s.reported) && s.reported[to].On == day {
		to++
	}
	return s.reported[from:to]
}

// loud are the mornings above usual from a week before the first that nobody has decided on.
func (f *facts) loud() []mark {
	s, seen := f.in.shared, int64(math.MaxInt64)
	for _, leg := range f.legs {
		seen = min(seen, f.seen(leg))
	}
	first := sort.Search(len(s.loudest), func(i int) bool { return s.loudest[i] > seen })
	if first == len(s.loud) {
		return nil
	}
	return since(s.loud, s.loud[first].On.Add(-7))
}

// running gathers the last days' reports of each place of a leg, one a day, where any of them was above
// usual or high.
func (in *Input) running(marks []mark) [][]*mark {
	by := map[place][]*mark{}
	loud := map[place]bool{}
	var order []place
	for i := range marks {
		m := &marks[i]
		key := place{m.Region, m.leg}
		loud[key] = loud[key] || m.over() >= 1
		switch n := len(by[key]); {
		case n == 0:
			order = append(order, key)
			by[key] = append(by[key], m)
		case by[key][n-1].On != m.On:
			by[key] = append(by[key], m)
		case m.Pain > by[key][n-1].Pain: // two reports of a day: the worse
			by[key][n-1] = m
		}
	}
	var out [][]*mark
	for _, key := range order {
		if loud[key] {
			out = append(out, by[key])
		}
	}
	return out
}

// standsAbove finds, for each leg, a place whose last number stands 2 or more above usual.
func (in *Input) standsAbove(marks []mark) map[body.Side]mark {
	newest := map[place]mark{}
	for _, m := range marks {
		k := place{m.Region, m.leg}
		if o, ok := newest[k]; !ok || m.On > o.On || m.Pain > o.Pain { // oldest first
			newest[k] = m
		}
	}
	out := map[body.Side]mark{}
	days, back := in.House.Int("adjust.brake.days"), in.House.Get("adjust.morning.back")
	for _, leg := range body.Sides {
		for _, n := range body.RegionNames {
			if m, ok := newest[place{n.ID, leg}]; ok && in.Today.Sub(m.On) <= days && m.over() >= back {
				out[leg] = m
				break
			}
		}
	}
	return out
}
