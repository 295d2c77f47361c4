package build

import (
	"cmp"
	"fmt"
	"slices"
	"sort"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Morning is one morning mark: first-step pain at one place and side.
type Morning struct {
	ID        string      `json:"id"`
	On        body.Date   `json:"on"`
	Region    body.Region `json:"region"`
	Side      body.Side   `json:"side"`
	Pain      int         `json:"pain" doc:"first-step pain, 0–10"`
	Stiffness int         `json:"stiffness" doc:"minutes until it eases"`
	Quiet     bool        `json:"quiet,omitempty" doc:"every other place: not more than usual; has no number"`
	Seq       int64       `json:"seq,omitempty" doc:"report number"`
}

// Answers reports whether the mark says something of a place of a leg.
func (m Morning) Answers(region body.Region, leg body.Side) bool {
	return m.Side.Touches(leg) && (m.Quiet || m.Region == region)
}

// Check refuses a mark that cannot be.
func (m Morning) Check(today body.Date) error {
	switch {
	case !m.On.Valid() || m.On > today || m.On < today.Add(-60):
		return body.Refuse("on", "must be a day of the last 60, not after today")
	case !m.Region.Valid() || !m.Side.Valid():
		return body.Refuse("region", "say where on the map, and which side")
	case m.Pain < 0 || m.Pain > 10:
		return body.Refuse("pain", "is %d; enter a whole number from 0 to 10", m.Pain)
	case m.Stiffness < 0 || m.Stiffness > 720:
		return body.Refuse("stiffness", "is %d; enter 0 to 720 min", m.Stiffness)
	}
	return nil
}

// Usual is the level morning pain is measured against, per place and side.
type Usual struct {
	Region body.Region `json:"region"`
	Side   body.Side   `json:"side"`
	Level  float64     `json:"level"`
	Reason body.Reason `json:"reason"`
	On     body.Date   `json:"on,omitempty" doc:"day it was kept"`
	Raised bool        `json:"raised,omitempty" doc:"the coach raised it"`
}

// UsualMornings gives how mornings have been of late: per place and side the median of the last seven
// reports, when there are at least four, else what intake recorded. Places without a symptom or a report
// are usually 0. Phases and gates look at it; a single report is judged by Usuals.
func UsualMornings(p body.Profile, mornings []Morning, today body.Date) []Usual {
	out := []Usual{}
	// Newest first, a place and leg by itself: read once, however many places are watched.
	newest := mornings
	if order := func(a, b Morning) int { return cmp.Compare(a.On, b.On) }; !slices.IsSortedFunc(newest, order) {
		newest = slices.Clone(newest)
		slices.SortStableFunc(newest, order)
	}
	for _, w := range Watched(p) {
		u := Usual{Region: w.Region, Side: w.Side, Level: float64(w.Baseline)}
		u.Reason = house.Rules{}.Because("usual.intake", "usual morning as recorded at intake").See(w.Region.Name()+", "+string(w.Side),
			"%d of 10", w.Baseline)
		var last []float64
		r := house.Rules{}.Because("usual.median", "usual morning: median of the last seven reports")
		for _, m := range slices.Backward(newest) {
			if len(last) == 7 {
				break
			}
			if !m.Quiet && m.Region == w.Region && m.Side.Touches(w.Side) && m.On <= today && len(last) < 7 {
				last = append(last, float64(m.Pain))
				r = r.SeeOn(m.On, "morning", "%d of 10", m.Pain)
			}
		}
		if len(last) >= 4 {
			u.Level, u.Reason = stats.Median(last), r
			u.Reason.Formula = fmt.Sprintf("median of %d reports = %g", len(last), u.Level)
		}
		out = append(out, u)
	}
	return out
}

// Watched lists the places asked about each morning: the runner's symptoms, one row a side; without
// any, the soles of both heels.
func Watched(p body.Profile) []body.Symptom {
	out := []body.Symptom{}
	add := func(s body.Symptom, side body.Side) {
		s.Side = side
		for i, o := range out {
			if o.Region == s.Region && o.Side == side {
				out[i].Baseline = max(o.Baseline, s.Baseline)
				return
			}
		}
		out = append(out, s)
	}
	for _, s := range p.Symptoms {
		for _, side := range body.Sides {
			if s.Side.Touches(side) {
				add(s, side)
			}
		}
	}
	if len(out) == 0 {
		for _, side := range body.Sides {
			out = append(out, body.Symptom{Region: body.HeelSole, Side: side})
		}
	}
	return out
}

// Usuals is what a report at a place and leg is judged by on each day: intake's number, never rising by
// itself, falling to the median of the last seven numeric reports of 21 days once there are four days of
// them. A place first named in a report starts at 0. With too few reports and an intake older than 21
// days it is at most 3. Only the coach raises it.
type Usuals struct {
	p     body.Profile
	steps map[place][]step
}

type place struct {
	region body.Region
	leg    body.Side
}

type worst struct {
	on   body.Date
	pain float64
}

type step struct {
	from   body.Date // judged by this level after this day
	level  float64
	enough bool // four days of reports stood in its 21 days
}

// NewUsuals reads the levels from the reports and the rows kept earlier. Same input, same levels.
func NewUsuals(p body.Profile, mornings []Morning, kept []Usual) Usuals {
	u := Usuals{p: p, steps: map[place][]step{}}
	for _, h := range histories(mornings, kept) {
		u.steps[h.place] = h.levels(u.intake(h.place), kept)
	}
	return u
}

// history is what was reported of a place of a leg: the worst number of each day, in order of days.
type history struct {
	place
	days []worst
}

// histories gathers them, a place and leg each, of all that was reported or kept.
func histories(mornings []Morning, kept []Usual) []history {
	var reports []history
	of := func(k place) *history { // few places: read through sooner than looked up
		for i := range reports {
			if reports[i].place == k {
				return &reports[i]
			}
		}
		reports = append(reports, history{place: k})
		return &reports[len(reports)-1]
	}
	for i := range mornings {
		m := &mornings[i]
		for _, leg := range body.Sides {
			if !m.Quiet && m.Side.Touches(leg) {
				of(place{m.Region, leg}).add(worst{m.On, float64(m.Pain)})
			}
		}
	}
	for _, k := range kept {
		for _, leg := range body.Sides {
			if k.Side.Touches(leg) {
				of(place{k.Region, leg})
			}
		}
	}
	return reports
}

// add puts a report to its day.
func (h *history) add(day worst) {
	at, found := len(h.days), false
	if at > 0 && h.days[at-1].on >= day.on { // seldom: they come in order of days
		at, found = slices.BinarySearchFunc(h.days, day.on, func(w worst, d body.Date) int { return cmp.Compare(w.on, d) })
	}
	switch {
	case found:
		h.days[at].pain = max(h.days[at].pain, day.pain)
	case at == len(h.days):
		h.days = append(h.days, day)
	default:
		h.days = slices.Insert(h.days, at, day)
	}
}

// levels lists the level in force after each day: from intake's it falls with the median of the last reports, and follows
// the rows kept.
func (h history) levels(level float64, kept []Usual) []step {
	var rows []Usual
	for _, x := range kept {
		if x.Region == h.region && x.Side.Touches(h.leg) {
			rows = append(rows, x)
		}
	}
	slices.SortStableFunc(rows, func(a, b Usual) int { return cmp.Compare(a.On, b.On) })
	steps := make([]step, 0, len(h.days)+len(rows))
	row := func(until body.Date) {
		for len(rows) > 0 && rows[0].On <= until {
			if rows[0].Raised {
				level = rows[0].Level
			} else {
				level = min(level, rows[0].Level)
			}
			steps = append(steps, step{rows[0].On, level, true})
			rows = rows[1:]
		}
	}
	for i, d := range h.days {
		row(d.on)
		last := min(7, i+1) // reports of these 21 days, at most seven
		for d.on.Sub(h.days[i-last+1].on) > 21 {
			last--
		}
		if last >= 4 {
			seven := [7]float64{}
			for j := range last {
				seven[j] = h.days[i-j].pain
			}
			level = min(level, stats.Median(seven[:last]))
		}
		steps = append(steps, step{d.on, level, last >= 4})
	}
	row("9999-12-31")
	return steps
}

// intake is what intake recorded of a place; 0 for one it did not name.
func (u Usuals) intake(k place) float64 {
	level := 0.0
	for _, s := range u.p.Symptoms {
		if s.Region == k.region && s.Side.Touches(k.leg) {
			level = max(level, float64(s.Baseline))
		}
	}
	return level
}

// Level is what the reports at one place and leg are judged by.
type Level struct {
	intake float64
	asked  body.Date
	steps  []step
}

// Of gives the level of a place and leg.
func (u Usuals) Of(region body.Region, leg body.Side) Level {
	k := place{region, leg}
	return Level{u.intake(k), u.p.AskedOn, u.steps[k]}
}

// At is the level in force on a day, before that day's own report.
func (l Level) At(on body.Date) float64 {
	i := sort.Search(len(l.steps), func(i int) bool { return l.steps[i].from >= on })
	level, enough := l.intake, false
	if i > 0 {
		level, enough = l.steps[i-1].level, l.steps[i-1].enough && on.Sub(l.steps[i-1].from) <= 21
	}
	if !enough && l.asked != "" && on.Sub(l.asked) > 21 {
		level = min(level, 3)
	}
	return level
}

// At is the level in force for a place and leg on a day, before that day's own report.
func (u Usuals) At(region body.Region, leg body.Side, on body.Date) float64 {
	return u.Of(region, leg).At(on)
}

// Rows are the levels in force on a day, one row a place and leg that was named or reported.
func (u Usuals) Rows(on body.Date) []Usual {
	out := []Usual{}
	for _, r := range body.RegionNames {
		for _, leg := range body.Sides {
			k := place{r.ID, leg}
			if u.steps[k] == nil && u.intake(k) == 0 {
				continue
			}
			level := u.At(r.ID, leg, on)
			out = append(out, Usual{Region: r.ID, Side: leg, Level: level, On: on,
				Reason: house.Rules{}.Because("usual.falling",
					"usual morning: intake's number, falling with the median of the last seven reports").See(r.Name+", "+string(leg), "%g of 10", level)})
		}
	}
	return out
}

// Hard is what is trained on a side, as far as it decides which places are watched.
type Hard struct {
	body.Demand
	Side body.Side
}

// WatchedNow lists the places a morning is asked about: those Watched lists, those above 0 in a report of
// the last 28 days, and the main places of what is trained at one-leg level, with bouncing or bare.
func WatchedNow(p body.Profile, mornings []Morning, trained []Hard, today body.Date) []body.Symptom {
	out := Watched(p)
	add := func(r body.Region, leg body.Side) {
		if r != body.WholePerson && !slices.ContainsFunc(out, func(s body.Symptom) bool { return s.Region == r && s.Side == leg }) {
			out = append(out, body.Symptom{Region: r, Side: leg})
		}
	}
	for _, m := range mornings {
		if age := today.Sub(m.On); m.Pain > 0 && !m.Quiet && age >= 0 && age <= 28 {
			for _, leg := range body.Sides {
				if m.Side.Touches(leg) {
					add(m.Region, leg)
				}
			}
		}
	}
	for _, t := range trained {
		if t.Level < 3 && !t.Impact.Beyond(body.NoImpact) && (!t.Bare || t.Stage < 1) {
			continue
		}
		for _, leg := range t.Legs(t.Side) {
			for _, r := range t.Main {
				add(r, leg)
			}
		}
	}
	return out
}
