package load

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

// Plan is the running planned for the weeks ahead, as the coach last wrote it: by a rule, week by week by hand, or both.
type Plan struct {
	Rule  Rule          `json:"rule"`
	Weeks []PlannedWeek `json:"weeks" doc:"written by hand, and those gone by as they stood; in order"`
	Spans []Span        `json:"spans" doc:"in order"`
}

// Rule makes the weeks nobody wrote by hand: each grows over the one before it, one in so many is easier. Without growth and
// without easier weeks there is no rule.
type Rule struct {
	From      body.Date `json:"from,omitempty" doc:"Monday it begins; empty: there is none"`
	Percent   float64   `json:"percent" minimum:"0" maximum:"10" doc:"growth a week, %"`
	EasyEvery int       `json:"easyEvery" minimum:"0" maximum:"12" doc:"one week in so many is easier; 0: none"`
}

// PlannedWeek is one week, from Monday.
type PlannedWeek struct {
	From    body.Date `json:"from"`
	Minutes int       `json:"minutes" minimum:"-1" maximum:"2400" doc:"of running; -1: by the rule"`
	Harder  bool      `json:"harder,omitempty" doc:"hills or speed work are newly added"`
	Lead    Dial      `json:"lead,omitempty" enum:",running,strength,barefoot" doc:"the coach's pick of the week; led, of one gone by"`
	Gone    bool      `json:"gone,omitempty" doc:"gone by, kept as it stood"`
	Easy    bool      `json:"easy,omitempty" doc:"of one gone by: the rule had made it an easier one"`
}

// Span is a stretch of days with rules of its own. Illness is no span of a plan: it is told as a warning sign.
type Span struct {
	ID    string    `json:"id" format:"uuid"`
	Kind  SpanKind  `json:"kind" enum:"easy,holiday,ill"`
	From  body.Date `json:"from"`
	Until body.Date `json:"until" doc:"last day"`
	Runs  bool      `json:"runs,omitempty" doc:"of a holiday: running goes on"`
	Set   body.Date `json:"set,omitempty" doc:"day it was written"`
}

// SpanKind says what a span is.
type SpanKind string

// The kinds. An easy week is planned beforehand: running is less, strength may move up, bouncing not. On a holiday strength
// waits, its days count as missed; running stops unless it is said to go on.
const (
	EasyWeek SpanKind = "easy"
	Holiday  SpanKind = "holiday"
	Illness  SpanKind = "ill"
)

// SpanKinds lists them.
var SpanKinds = []SpanKind{EasyWeek, Holiday, Illness}

// Holds reports whether a day lies in the span.
func (s Span) Holds(d body.Date) bool { return d >= s.From && d <= s.Until }

// Beforehand reports an easy week that was written before it began: only such a week is left out of comparisons.
func (s Span) Beforehand() bool { return s.Kind == EasyWeek && s.Set != "" && s.Set <= s.From }

// Normalise fills absent lists.
func (p Plan) Normalise() Plan {
	if p.Weeks == nil {
		p.Weeks = []PlannedWeek{}
	}
	if p.Spans == nil {
		p.Spans = []Span{}
	}
	return p
}

// weeksAhead is how far running is planned.
const weeksAhead = 12

// Written is the plan as it is kept on a day: in order, the days of new spans noted, and the weeks gone by as they stood, which
// nobody writes anew.
func (p Plan) Written(was Plan, stood []Week, today body.Date) (Plan, error) {
	monday := today.Monday()
	out := Plan{Rule: p.Rule, Weeks: []PlannedWeek{}, Spans: []Span{}}
	if p.Rule.Percent == 0 && p.Rule.EasyEvery == 0 {
		out.Rule.From = ""
	} else if p.Rule.From == "" || p.Rule != was.Rule {
		out.Rule.From = monday
	}
	for _, w := range stood {
		if w.From < monday {
			out.Weeks = append(out.Weeks, PlannedWeek{w.From, w.Planned, w.Harder, w.Lead, true, w.Kind == EasyWeek})
		}
	}
	for _, w := range p.Weeks {
		if err := w.check(monday); err != nil {
			return out, err
		}
		if w.From >= monday && !slices.ContainsFunc(out.Weeks, func(o PlannedWeek) bool { return o.From == w.From }) {
			w.Gone, w.Easy = false, false
			out.Weeks = append(out.Weeks, w)
		}
	}
	for _, s := range p.Spans {
		if s.Set = today; slices.ContainsFunc(was.Spans, func(o Span) bool { return o.ID == s.ID && o.From == s.From }) {
			s.Set = was.Spans[slices.IndexFunc(was.Spans, func(o Span) bool { return o.ID == s.ID })].Set
		}
		if err := s.check(today); err != nil {
			return out, err
		}
		for _, o := range out.Spans {
			if s.From <= o.Until && o.From <= s.Until {
				return out, body.Refuse("spans", "%s and %s overlap: give each its own days", o.From.Short(), s.From.Short())
			}
		}
		out.Spans = append(out.Spans, s)
	}
	slices.SortFunc(out.Weeks, func(a, b PlannedWeek) int { return a.From.Sub(b.From) })
	slices.SortFunc(out.Spans, func(a, b Span) int { return a.From.Sub(b.From) })
	return out, nil
}

func (w PlannedWeek) check(monday body.Date) error {
	switch {
	case !w.From.Valid() || w.From.Weekday() != 0 || w.From > monday.Add(7*26):
		return body.Refuse("weeks", "%s is no Monday of the coming half year", w.From)
	case w.Minutes < -1 || w.Minutes > 2400:
		return body.Refuse("weeks", "%d min is no week; enter 0 to 2400, or leave it to the rule", w.Minutes)
	case w.Lead != "" && !slices.Contains(Dials, w.Lead):
		return body.Refuse("weeks", "%q leads no week; choose running, strength or barefoot", w.Lead)
	}
	return nil
}

func (s Span) check(today body.Date) error {
	switch {
	case s.Kind != EasyWeek && s.Kind != Holiday:
		return body.Refuse("spans", "is an easy week or a holiday; an illness is recorded as a warning sign")
	case !s.From.Valid() || !s.Until.Valid() || s.Until < s.From || s.Until.Sub(s.From) > 120:
		return body.Refuse("spans", "ends on or after its first day, and lasts at most 120 days")
	case s.From < today.Add(-200) || s.From > today.Add(366):
		return body.Refuse("spans", "lies within the last 200 days and the coming year")
	}
	return nil
}

// easier reports a week that the rule makes an easier one: one in so many from its beginning, unless it was written by hand.
func (p Plan) easier(monday body.Date) bool {
	n := monday.Sub(p.Rule.From)/7 + 1
	if p.Rule.From == "" || p.Rule.EasyEvery < 2 || monday < p.Rule.From || n%p.Rule.EasyEvery != 0 {
		return false
	}
	w := p.of(monday)
	return w == nil || w.Minutes < 0
}

// Tell adds to runs what the plan says of days gone by: no running on a holiday without it, and which days were planned easy, in a
// span or by the rule.
func (p Plan) Tell(runs []Run, today body.Date) []Run {
	out, spans := runs, slices.Clone(p.Spans)
	for monday := today.Monday().Add(-7 * 8); monday <= today; monday = monday.Add(7) {
		if w := p.of(monday); p.easier(monday) || w != nil && w.Gone && w.Easy {
			spans = append(spans, Span{Kind: EasyWeek, From: monday, Until: monday.Add(6), Set: monday})
		}
	}
	told := map[body.Date]bool{}
	for _, s := range spans {
		word := Away
		switch {
		case s.Beforehand():
			word = EasyDay
		case s.Kind != Holiday || s.Runs:
			continue
		}
		if len(out) == len(runs) {
			out = slices.Clone(runs)
		}
		for d := s.From; d <= s.Until && d <= today; d = d.Add(1) {
			if !told[d] || word == Away {
				out = append(out, Run{On: d, RPE: -1, Word: word})
			}
			told[d] = true
		}
	}
	if len(out) > len(runs) {
		slices.SortStableFunc(out, func(a, b Run) int { return a.On.Sub(b.On) })
	}
	return out
}

// On is the span a day lies in.
func (p Plan) On(d body.Date) (Span, bool) {
	for _, s := range p.Spans {
		if s.Holds(d) {
			return s, true
		}
	}
	return Span{}, false
}

// kindOf is what most of a week is, from Monday; empty for a week like any other.
func kindOf(spans []Span, monday body.Date, h house.Rules) (kind SpanKind, runs bool) {
	for _, s := range spans {
		if s.Kind == EasyWeek && !s.Beforehand() {
			continue
		}
		from, until := max(s.From, monday), min(s.Until, monday.Add(6))
		if until.Sub(from)+1 >= h.Int("load.easy.days") {
			return s.Kind, s.Runs
		}
	}
	return "", false
}
