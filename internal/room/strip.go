package room

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/store"
)

// stripDays is how far the strip reaches back: two years.
const stripDays = 730

// StripView is a runner's history day by day, in lanes over one axis of time. Days on which nothing was are left out.
type StripView struct {
	From   body.Date    `json:"from"`
	Until  body.Date    `json:"until"`
	Places []StripPlace `json:"places" doc:"that mornings name, most often first"`
	Days   []StripDay   `json:"days"`
	Spans  []load.Span  `json:"spans" doc:"easy weeks, holidays and illnesses"`
}

// StripPlace is a place and side that mornings name.
type StripPlace struct {
	Region body.Region `json:"region"`
	Side   body.Side   `json:"side"`
	Name   string      `json:"name"`
}

// StripDay is one day across all lanes.
type StripDay struct {
	On       body.Date          `json:"on"`
	Run      map[string]float64 `json:"run,omitempty" doc:"minutes by kind; other where none was said"`
	Calf     int                `json:"calf,omitempty" doc:"calf-load steps"`
	Planned  int                `json:"planned,omitempty" doc:"rails that stood on the day"`
	Done     int                `json:"done,omitempty" doc:"rails done"`
	Bare     float64            `json:"bare,omitempty" doc:"minutes on bare feet, or in the next shoe"`
	Mornings []StripMorning     `json:"mornings,omitempty"`
	Moves    []string           `json:"moves,omitempty" enum:"up,hold,return,back,park"`
	Screens  []string           `json:"screens,omitempty"`
	Stops    []string           `json:"stops,omitempty"`
	Races    []string           `json:"races,omitempty"`
	Says     string             `json:"says" doc:"the day in a sentence"`
}

// StripMorning is the first steps at one of the places.
type StripMorning struct {
	Place int `json:"place" doc:"index of the places"`
	Pain  int `json:"pain"`
}

// StripReason is one thing of a day and what it was computed from.
type StripReason struct {
	Title  string      `json:"title"`
	Reason body.Reason `json:"reason"`
}

// Strip shows two years of a runner.
func (d *Desk) Strip(ctx context.Context, a Actor, runner string) (v StripView, err error) {
	err = d.Read(ctx, a, runner, record.NeedTests, func(tx *store.Tx, o Chart) error {
		from := o.Today.Add(-stripDays)
		p, err := tx.Strip(ctx, runner, from, o.Today)
		if err != nil {
			return err
		}
		v = o.strip(p, from)
		return nil
	})
	return v, err
}

// StripDay shows what the points of one day were computed from.
func (d *Desk) StripDay(ctx context.Context, a Actor, runner string, on body.Date) (out []StripReason, err error) {
	if !on.Valid() {
		return nil, body.Refuse("day", "is no day; write it like 2026-03-04")
	}
	err = d.Read(ctx, a, runner, record.NeedTests, func(tx *store.Tx, o Chart) error {
		p, err := tx.Strip(ctx, runner, on, on)
		if err != nil {
			return err
		}
		out = o.reasonsOf(p, on)
		return nil
	})
	return out, err
}

// footing is what is known of a runner's steps beside their runs.
func (o Chart) footing() load.Footing {
	f := load.Footing{}
	if own, ok := screen.OwnCadence(o.Trials(), o.Profile, o.House); ok {
		f.Cadence = own.Reading.Value
	}
	if s, ok := screen.StrikeAtEase(o.Trials(), o.House); ok {
		f.Strike = string(s)
	}
	return f
}

// strip lays what was out by day.
func (o Chart) strip(p store.Strip, from body.Date) StripView {
	v := StripView{From: from, Until: o.Today, Places: placesOf(p.Mornings), Days: []StripDay{}, Spans: []load.Span{}}
	for _, s := range o.spans() {
		if s.Until >= from && s.From <= o.Today {
			v.Spans = append(v.Spans, s)
		}
	}
	days := stripped{}
	o.stripRuns(p.Runs, days)
	for _, l := range o.BareLogs {
		if l.On >= from && l.On <= o.Today && l.Minutes > 0 {
			days.at(l.On).Bare = max(days.at(l.On).Bare, l.Minutes)
		}
	}
	for _, m := range o.BareMoves {
		if m.On >= from && m.On <= o.Today && (m.Verdict == barefoot.Up || m.Verdict == barefoot.Back) {
			days.at(m.On).Moves = append(days.at(m.On).Moves, string(m.Verdict))
		}
	}
	for _, x := range p.Planned {
		days.at(x.On).Planned = x.N
	}
	for _, x := range p.Done {
		days.at(x.On).Done = x.N
	}
	for _, m := range p.Mornings {
		i := slices.IndexFunc(v.Places, func(q StripPlace) bool { return q.Region == m.Region && q.Side == m.Side })
		days.at(m.On).Mornings = append(days.at(m.On).Mornings, StripMorning{i, m.Pain})
	}
	for _, m := range p.Moves {
		days.at(m.On).Moves = append(days.at(m.On).Moves, m.Verdict)
	}
	for _, s := range p.Screens {
		days.at(s.On).Screens = append(days.at(s.On).Screens, s.Kind)
	}
	for _, s := range o.Stops {
		if s.On >= from && s.On <= o.Today {
			days.at(s.On).Stops = append(days.at(s.On).Stops, signWords(s.Sign))
		}
	}
	for _, r := range o.Profile.Races {
		if r.On >= from && r.On <= o.Today {
			days.at(r.On).Races = append(days.at(r.On).Races, raceWords(r))
		}
	}
	for _, d := range days {
		d.Says = d.sentence(v.Places)
		v.Days = append(v.Days, *d)
	}
	slices.SortFunc(v.Days, func(a, b StripDay) int { return a.On.Sub(b.On) })
	return v
}

// stripped are days as they are laid out.
type stripped map[body.Date]*StripDay

func (s stripped) at(on body.Date) *StripDay {
	if s[on] == nil {
		s[on] = &StripDay{On: on}
	}
	return s[on]
}

// stripRuns lays the runs out: minutes by kind, steps, and what was bare.
func (o Chart) stripRuns(runs []load.Run, days stripped) {
	foot := o.footing()
	for _, r := range runs {
		if r.Word != "" {
			continue
		}
		day := days.at(r.On)
		if day.Run == nil {
			day.Run = map[string]float64{}
		}
		kind := string(r.Kind)
		if kind == "" {
			kind = "other"
		}
		day.Run[kind] += math.Round(r.Minutes*10) / 10
		day.Calf += foot.Steps(r, o.House).Calf
		if r.Kind == load.BareRun {
			day.Bare += r.Minutes
		}
	}
}

func placesOf(mornings []store.StripMorning) []StripPlace {
	often := map[StripPlace]int{}
	for _, m := range mornings {
		name := m.Region.Name()
		if m.Side != body.Both {
			name = string(m.Side) + " " + name
		}
		often[StripPlace{m.Region, m.Side, name}]++
	}
	out := make([]StripPlace, 0, len(often))
	for p := range often {
		out = append(out, p)
	}
	slices.SortFunc(out, func(a, b StripPlace) int {
		if n := often[b] - often[a]; n != 0 {
			return n
		}
		return strings.Compare(a.Name, b.Name)
	})
	return out
}

func signWords(id string) string {
	sign, _ := refer.FindSign(id)
	if sign.Question == "" {
		return id
	}
	return strings.TrimSuffix(sign.Question, "?")
}

func raceWords(r body.Race) string {
	if r.Name != "" {
		return r.Name
	}
	return "race"
}

// sentence is the day as it is read out.
func (d StripDay) sentence(places []StripPlace) string {
	parts := []string{}
	kinds := make([]string, 0, len(d.Run))
	for kind := range d.Run {
		kinds = append(kinds, kind)
	}
	slices.Sort(kinds)
	for _, kind := range kinds {
		words, own := map[string]string{"other": "run", "back": "back-to-running step", "bare": "bare run"}[kind]
		if !own {
			words = kind + " run"
		}
		parts = append(parts, fmt.Sprintf("%s %.0f min", words, d.Run[kind]))
	}
	if d.Calf > 0 {
		parts = append(parts, fmt.Sprintf("%d calf-load steps", d.Calf))
	}
	switch {
	case d.Planned > 0:
		parts = append(parts, fmt.Sprintf("%d of %d rails done", d.Done, max(d.Planned, d.Done)))
	case d.Done > 0:
		parts = append(parts, fmt.Sprintf("%d rails done", d.Done))
	}
	for _, m := range d.Mornings {
		parts = append(parts, fmt.Sprintf("first steps %s %d", places[m.Place].Name, m.Pain))
	}
	count := map[string]int{}
	for _, m := range d.Moves {
		count[m]++
	}
	for _, verdict := range []string{"up", "hold", "return", "back", "park"} {
		if n := count[verdict]; n > 0 {
			parts = append(parts, fmt.Sprintf("%d × %s", n, verdict))
		}
	}
	if d.Bare > 0 {
		parts = append(parts, fmt.Sprintf("%.0f min on bare feet", d.Bare))
	}
	for _, s := range d.Screens {
		parts = append(parts, s+" screen")
	}
	for _, s := range d.Stops {
		parts = append(parts, "warning sign: "+s)
	}
	parts = append(parts, d.Races...)
	return d.On.Short() + ": " + strings.Join(parts, "; ")
}

// reasonsOf says of each thing of a day what it was computed from.
func (o Chart) reasonsOf(p store.Strip, on body.Date) []StripReason {
	out := []StripReason{}
	foot := o.footing()
	for _, r := range p.Runs {
		if r.Word != "" {
			continue
		}
		why := foot.Steps(r, o.House).Because(r, o.House)
		if r.Km > 0 {
			why = why.SeeOn(on, "distance", "%s", body.In("km", "%.1f", r.Km))
		}
		if r.File != "" {
			why = why.SeeOn(on, "from the file", "%s", r.File)
		}
		out = append(out, StripReason{fmt.Sprintf("Run, %.0f min", r.Minutes), why})
	}
	for _, m := range p.Moves {
		rail, _ := o.Catalogue.Find(m.Rail)
		name := rail.Name
		if name == "" {
			name = m.Rail
		}
		why := o.House.Because(m.Rule, m.Why)
		if m.Why == "" {
			why.Says = "the reason was not kept"
		}
		why = why.SeeOn(on, "decided by", "%s", m.Coach)
		if m.Word != "" {
			why = why.SeeOn(on, "in the coach's word", "%s", m.Word)
		}
		out = append(out, StripReason{fmt.Sprintf("%s, %s: %s", name, m.Side, m.Verdict), why})
	}
	out = append(out, o.bareReasons(on)...)
	for _, m := range p.Mornings {
		why := o.House.Because("strip.morning", fmt.Sprintf("first steps %d of 10", m.Pain)).
			SeeOn(on, m.Region.Name()+", "+string(m.Side), "%d of 10", m.Pain)
		out = append(out, StripReason{fmt.Sprintf("First steps: %s, %s", m.Region.Name(), m.Side), why})
	}
	for _, n := range p.Planned {
		done := 0
		for _, x := range p.Done {
			done += x.N
		}
		why := o.House.Because("strip.sessions", fmt.Sprintf("%d of %d rails done", done, n.N)).SeeOn(on, "planned", "%d rails", n.N).
			SeeOn(on, "told as done", "%d rails", done)
		out = append(out, StripReason{"Strength work", why})
	}
	for _, s := range o.Stops {
		if s.On == on {
			why := o.House.Because("stop."+s.Sign, signWords(s.Sign)).SeeOn(on, s.Region.Name()+", "+string(s.Side), "told by the %s", s.Source)
			out = append(out, StripReason{"Warning sign", why})
		}
	}
	return out
}
