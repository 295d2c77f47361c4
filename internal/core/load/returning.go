package load

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Phase is where a runner stands on the way back to running.
type Phase string

// The phases: brisk walking on quiet days; run–walk steps every second day; easy running that grows, without
// quality, hills, cadence or barefoot work; and, after a short stop, half the minutes for a while.
const (
	Walking Phase = "walking"
	Stepped Phase = "steps"
	Easy    Phase = "easy"
	Halved  Phase = "half"
)

// Phases lists them.
var Phases = []Phase{Walking, Stepped, Easy, Halved}

// Barred is a stretch without running: from the day of the warning sign, or the first stated, to the day it was opened again.
type Barred struct{ From, Until body.Date }

// Step is one step back to running: so many times run and walk.
type Step struct {
	Times     int     `json:"times"`
	Run, Walk float64 // minutes
}

// String writes the step as the runner reads it.
func (s Step) String() string {
	if s.Walk == 0 {
		return fmt.Sprintf("%g min unbroken, flat and easy", s.Run)
	}
	return fmt.Sprintf("%d × %g min run, %g min walk, flat and easy", s.Times, s.Run, s.Walk)
}

// Steps lead back to half an hour unbroken. Common practice, no source.
var Steps = []Step{{10, 1, 2}, {10, 1.5, 1.5}, {10, 2, 1}, {6, 4, 1}, {4, 7, 1}, {1, 30, 0}}

// Returning is the way back to running after a stop or a break.
type Returning struct {
	Phase   Phase       `json:"phase"`
	Step    int         `json:"step" doc:"of the steps, from 0"`
	Quiet   int         `json:"quiet" doc:"quiet days of walking, or quiet sessions at this step"`
	Since   body.Date   `json:"since" doc:"day running was opened again"`
	Next    body.Date   `json:"next" doc:"earliest day of the next session"`
	Until   body.Date   `json:"until,omitempty" doc:"where it ends by a date"`
	Minutes int         `json:"minutes" doc:"most of a week, while easy running grows; 0 else"`
	Reason  body.Reason `json:"reason"`
}

// Says is the day's running in words.
func (r Returning) Says() string {
	switch r.Phase {
	case Walking:
		return "30 min of brisk walking"
	case Stepped:
		return Steps[r.Step].String()
	}
	return r.Reason.Says
}

// Back finds where a runner stands on the way back to running: nil when nothing asks for it. What barred
// running for 14 days or more, or a stated break of 28, leads through walking, the steps and four quiet
// weeks; a shorter one halves the minutes for as many days as it lasted, 7 to 14. Of several the most
// protective counts. quiet tells of a day whether its mornings are known and no more than usual. Missing logs
// are unknown, never a break; what ended before the records reach is over.
func Back(barred []Barred, runs []Run, quiet func(body.Date) (is, known bool), p body.Profile, today body.Date, h house.Rules) *Returning {
	var out *Returning
	rank := []Phase{Halved, Easy, Stepped, Walking}
	take := func(b Barred, enough, some int) {
		n := b.Until.Sub(b.From)
		if b.Until > today || n < some || today.Sub(b.Until) > h.Int("load.back.reach") {
			return
		}
		if x := b.back(n >= enough, runs, quiet, p, today, h); x != nil &&
			(out == nil || slices.Index(rank, x.Phase) >= slices.Index(rank, out.Phase)) {
			out = x
		}
	}
	for _, b := range barred {
		take(b, h.Int("load.back.days"), 1)
	}
	for _, b := range breaks(runs, today) {
		take(b, h.Int("load.back.break"), h.Int("load.back.break.short"))
	}
	return out
}

// back is the way back after one stretch; whole for one long enough to walk first.
func (b Barred) back(whole bool, runs []Run, quiet func(body.Date) (is, known bool), p body.Profile, today body.Date,
	h house.Rules) *Returning {
	days := b.Until.Sub(b.From)
	out := &Returning{Since: b.Until}
	why := func(says string, keys ...string) body.Reason {
		return h.Because("load.back", says, append(keys, "load.back.days", "load.back.break")...).SeeOn(b.Until, "running opened again",
			"after %d days without", days)
	}
	if !whole {
		lasts := min(max(days, h.Int("load.back.half.least")), h.Int("load.back.half.most"))
		if out.Phase, out.Until = Halved, b.Until.Add(lasts); today >= out.Until {
			return nil
		}
		out.Next = today
		out.Reason = why(fmt.Sprintf("half the usual minutes, easy, until %s", out.Until.Short()), "load.back.half.least", "load.back.half.most")
		return out
	}
	begun, walking := out.walk(quiet, today, h.Int("load.back.walks"))
	if walking {
		out.Phase, out.Next = Walking, today
		out.Reason = why(fmt.Sprintf("brisk walking first: %d of %d quiet days", out.Quiet, h.Int("load.back.walks")), "load.back.walks")
		return out
	}
	begun = out.climb(runs, quiet, begun, today, h.Int("load.back.sessions"))
	out.Next = max(out.Next, today)
	if out.Step < len(Steps) {
		out.Phase = Stepped
		out.Reason = why(fmt.Sprintf("step %d of %d back to running, every second day; %d of %d quiet sessions", out.Step+1, len(Steps),
			out.Quiet, h.Int("load.back.sessions")), "load.back.sessions")
		return out
	}
	// Easy until four quiet weeks have passed: a day above usual begins them anew.
	since := begun
	for d := begun; d <= today; d = d.Add(1) {
		if is, known := quiet(d); known && !is {
			since = d
		}
	}
	if out.Until = since.Add(7 * h.Int("load.back.weeks")); today >= out.Until {
		return nil
	}
	out.Phase, out.Next = Easy, today
	out.Minutes = growing(min((p.WeeklyMinutes+1)/2, sum(runs, begun.Add(-6), begun)), today.Sub(begun)/7, h)
	out.Reason = why(fmt.Sprintf("easy minutes only until %s: at most %d min this week; no quality, hills, cadence or barefoot work",
		out.Until.Short(), out.Minutes), "load.back.weeks", "load.week.ratio")
	return out
}

// growing is the most of a week, so many weeks after one of the given minutes: each at the dial's ratio over the
// mean of the two before. Never less than the last step's half hour.
func growing(first, weeks int, h house.Rules) int {
	now := max(first, int(Steps[len(Steps)-1].Run))
	last := now
	for range weeks {
		last, now = now, int(h.Get("load.week.ratio")*float64(last+now)/2)
	}
	return now
}

// sum is the minutes run from a day to another.
func sum(runs []Run, from, to body.Date) int {
	out := 0.0
	for _, r := range runs {
		if r.Word == "" && r.On >= from && r.On <= to {
			out += r.Minutes
		}
	}
	return int(out)
}

// walk counts quiet days, one after the other or not, until there are enough: the day after them, or that they are not
// there yet.
func (r *Returning) walk(quiet func(body.Date) (is, known bool), today body.Date, need int) (begun body.Date, still bool) {
	day := r.Since
	for ; r.Quiet < need; day = day.Add(1) {
		if day >= today {
			return day, true
		}
		if is, known := quiet(day.Add(1)); is && known {
			r.Quiet++
		}
	}
	return day, false
}

// climb goes through the sessions since a day: so many quiet ones are a step, two that hurt running are one step back. It
// gives the day the present step began.
func (r *Returning) climb(runs []Run, quiet func(body.Date) (is, known bool), begun, today body.Date, need int) body.Date {
	missed := 0
	r.Quiet, r.Next = 0, begun
	for _, on := range ran(runs, begun, today) {
		r.Next = on.Add(2)
		if r.Step == len(Steps) {
			break
		}
		switch is, known := quiet(on.Add(1)); {
		case on.Add(1) > today, !known: // repeated, as long as nobody knows
		case is:
			missed = 0
			if r.Quiet++; r.Quiet >= need {
				r.Step, r.Quiet, begun = r.Step+1, 0, on
			}
		default:
			r.Quiet = 0
			if missed++; missed >= 2 {
				r.Step, missed = max(0, r.Step-1), 0
			}
		}
	}
	return begun
}

// Before is what running may go up to while a caution keeps it from rising: the median of the minutes of the four
// weeks before a day, a week nobody told of counting half of intake's; 30 min where that is nothing.
func Before(runs []Run, p body.Profile, from body.Date) int {
	weeks := []float64{}
	for i := range 4 {
		first, last := from.Add(-7*(i+1)), from.Add(-7*i-1)
		week, told := float64(sum(runs, first, last)), false
		for _, r := range runs {
			if r.On < first || r.On > last {
				continue
			}
			if told = true; r.Word == AsUsual {
				week = max(week, float64(p.WeeklyMinutes))
			}
		}
		if !told {
			week = float64(p.WeeklyMinutes) / 2
		}
		weeks = append(weeks, week)
	}
	if n := int(stats.Median(weeks)); n > 0 {
		return n
	}
	return 30
}

// Began is the day the latest break in running began that the records tell of; empty without one.
func Began(runs []Run, today body.Date, h house.Rules) body.Date {
	out := body.Date("")
	for _, b := range breaks(runs, today) {
		if b.Until.Sub(b.From) >= h.Int("load.back.break.short") {
			out = b.From
		}
	}
	return out
}

// breaks joins the weeks and the holidays somebody said there was no running in; a run ends a break.
func breaks(runs []Run, today body.Date) []Barred {
	out := []Barred{}
	days := map[body.Date]bool{}
	for _, r := range runs {
		switch {
		case r.On > today:
		case r.Word == None:
			for i := range 7 {
				days[r.On.Add(-i)] = true
			}
		case r.Word == Away:
			days[r.On] = true
		}
	}
	for _, r := range runs {
		if r.Word == "" && r.On <= today {
			delete(days, r.On)
		}
	}
	for d := range days {
		if days[d.Add(-1)] {
			continue
		}
		end := d
		for days[end] {
			end = end.Add(1)
		}
		out = append(out, Barred{d, end})
	}
	slices.SortFunc(out, func(a, b Barred) int { return a.From.Sub(b.From) })
	return out
}

// ran lists the days with a run, each once, in order.
func ran(runs []Run, from, to body.Date) []body.Date {
	out := []body.Date{}
	for _, r := range runs {
		if r.Word == "" && r.On >= from && r.On <= to && !slices.Contains(out, r.On) {
			out = append(out, r.On)
		}
	}
	slices.Sort(out)
	return out
}

// Days lists the dated days of the way back over the next days, from on: walking daily, the steps every
// second day.
func (r Returning) Days(from body.Date, n int) map[body.Date]string {
	out := map[body.Date]string{}
	for i := range n {
		on := from.Add(i)
		switch {
		case r.Phase == Walking, r.Phase == Stepped && on >= r.Next && on.Sub(r.Next)%2 == 0:
			out[on] = r.Says()
		}
	}
	return out
}
