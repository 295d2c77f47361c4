package adjust

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
)

// Log is one session of one rail and side as it was done, with the prescription that was shown.
type Log struct {
	ID           string               `json:"id"`
	On           body.Date            `json:"on"`
	Seq          int64                `json:"seq,omitempty" doc:"report number"`
	RPE          int                  `json:"rpe" doc:"effort 0–10; -1 not entered yet"`
	Pain         int                  `json:"pain" doc:"0–10, whole; discomfort where tissue is released; -1 not told"`
	CrampAt      int                  `json:"crampAt" doc:"repetition, or second, at which a cramp ended a set; 0 none"`
	Times        int                  `json:"times,omitempty" doc:"how many times that day; 0 once"`
	Source       string               `json:"source" enum:"phone,coach"`
	Was          []Log                `json:"was,omitempty" doc:"what it corrects, until the coach has seen the correction"`
	Prescription catalog.Prescription `json:"prescription"`
	Done         []int                `json:"done" doc:"repetitions or seconds of each set"`
	Faults       []string             `json:"faults"`
	Note         string               `json:"note,omitempty"`
	Supersedes   string               `json:"supersedes,omitempty" doc:"log it corrects"`
}

// Shown is the exercise and dose a runner saw when a session was done.
type Shown struct {
	Exercise string    `json:"exercise" maxLength:"60"`
	Dose     body.Dose `json:"dose"`
}

// AsShown gives a prescription as it was shown. What was shown may have been lowered since the coach set it, never
// raised: ok is false when it asks more than the prescription does, counts otherwise, or is of another rail.
func AsShown(rail catalog.Rail, p catalog.Prescription, s Shown, massKg float64) (_ catalog.Prescription, ok bool) {
	x, known := rail.Exercise(s.Exercise)
	set, had := rail.Exercise(p.Exercise)
	in := Input{Rail: rail, Profile: body.Profile{MassKg: massKg}}
	switch {
	case !known || !had || s.Dose.Sets < 1 || s.Dose.Extra < 0 || s.Dose.Amount() < 1:
		return p, false
	case x.ID == set.ID && s.Dose.Kind != p.Dose.Kind, rail.At(x.ID) > rail.At(set.ID), in.harder(x, s.Dose, set, p.Dose):
		return p, false
	}
	p.Exercise, p.Name, p.Dose = x.ID, x.Name, s.Dose
	return p, true
}

// Most is what a log holds at most: units of a set, and at which of them a cramp came.
const Most = 7200

// Check refuses a log that cannot be.
func (l Log) Check(today body.Date) error {
	switch {
	case !l.On.Valid() || l.On > today || l.On < today.Add(-60):
		return body.Refuse("on", "must be a day of the last 60, not after today")
	case len(l.Done) > 30:
		return body.Refuse("done", "has %d sets; enter at most 30", len(l.Done))
	case l.Pain < -1 || l.Pain > 10:
		return body.Refuse("pain", "is %d; enter a whole number from 0 to 10, or -1 where it was not told", l.Pain)
	case l.RPE < -1 || l.RPE > 10:
		return body.Refuse("rpe", "is %d; enter 0 to 10", l.RPE)
	case l.CrampAt < 0 || l.CrampAt > Most:
		return body.Refuse("crampAt", "is %d; enter 0 to %d", l.CrampAt, Most)
	case l.Times < 0 || l.Times > 20:
		return body.Refuse("times", "is %d; enter 0 to 20 times a day", l.Times)
	case len(l.Faults) > 8 || len(l.Note) > 2000:
		return body.Refuse("note", "is too long; keep it under 2000 letters and 8 faults")
	}
	for i, n := range l.Done {
		if n < 0 || n > Most {
			return body.Refuse(fmt.Sprintf("done[%d]", i), "is %d; enter 0 to %d", n, Most)
		}
	}
	return nil
}

// Share is what was done over what was asked, in percent, no set counting for more than was asked.
func (l *Log) Share() float64 {
	ask := l.Prescription.Dose
	sum := 0
	for i, n := range l.Done {
		if i < ask.TotalSets() {
			sum += min(n, ask.Amount())
		}
	}
	return 100 * float64(sum) / float64(max(1, ask.TotalSets()*ask.Amount()))
}

// Light reports a session that was shown with less than the dose in force: halved before a race, the
// short version, or taken back while the coach had not seen it yet.
func (l *Log) Light(inForce body.Dose) bool {
	shown := l.Prescription.Dose
	return shown.Kind == inForce.Kind && shown.TotalSets()*shown.Amount()*shown.Times() < inForce.TotalSets()*inForce.Amount()*inForce.Times()
}

// Complete reports whether the whole dose was done. A set ended by a cramp does not count as
// incomplete, nor does fatigue before the time in work to fatigue.
func (l *Log) Complete() bool {
	return l.Share() >= 100 || l.CrampAt > 0 || l.Prescription.Dose.Kind == body.Effort
}

// Clean reports whether no form fault was seen.
func (l *Log) Clean() bool { return len(l.Faults) == 0 }

// Done lists the last day each exercise was done.
func Done(logs []Log) map[string]body.Date {
	out := map[string]body.Date{}
	for _, l := range logs {
		if l.Share() > 0 {
			out[l.Prescription.Exercise] = max(out[l.Prescription.Exercise], l.On)
		}
	}
	return out
}

// worse joins two reports of the same work: the worst of each value.
func (l Log) worse(o Log) Log {
	l.Pain = max(l.Pain, o.Pain)
	l.RPE = max(l.RPE, o.RPE)
	if o.CrampAt > 0 && (l.CrampAt == 0 || o.CrampAt < l.CrampAt) {
		l.CrampAt = o.CrampAt
	}
	for _, f := range o.Faults {
		if !slices.Contains(l.Faults, f) {
			l.Faults = append(slices.Clone(l.Faults), f)
		}
	}
	return l
}

// corrects reports a correction of something that was told. What only answers what was left open, pain or effort, corrects nothing.
func (l *Log) corrects() bool {
	return slices.ContainsFunc(l.Was, func(w Log) bool {
		if w.Pain < 0 {
			w.Pain = l.Pain
		}
		if w.RPE < 0 {
			w.RPE = l.RPE
		}
		return w.Pain != l.Pain || w.RPE != l.RPE || w.CrampAt != l.CrampAt || w.Times != l.Times || !slices.Equal(w.Done, l.Done) ||
			!slices.Equal(w.Faults, l.Faults)
	})
}

// standing is the log as it is judged: a correction that no coach has made or seen never makes it milder.
func (l *Log) standing(seen int64) *Log {
	if l.Seq <= seen || l.Source == "coach" || len(l.Was) == 0 {
		return l
	}
	out := *l
	if !l.corrects() {
		out.Was = nil
		return &out
	}
	for _, w := range l.Was {
		if w.Share() < out.Share() {
			out.Done = w.Done
		}
		out = out.worse(w)
	}
	return &out
}

// Corrected joins each log with what it corrects: of several corrections of one log the newest stands.
func Corrected(logs []Log) []Log {
	if !slices.ContainsFunc(logs, func(l Log) bool { return l.Supersedes != "" }) { // as nearly always
		out := slices.Clone(logs)
		slices.SortStableFunc(out, func(a, b Log) int { return a.On.Sub(b.On) })
		return out
	}
	at := map[string]int{}
	for i, l := range logs {
		at[l.ID] = i
	}
	root := func(l Log) string {
		for range len(logs) {
			i, ok := at[l.Supersedes]
			if l.Supersedes == "" {
				return l.ID
			}
			if !ok { // older than the chart reaches
				return l.Supersedes
			}
			l = logs[i]
		}
		return l.ID
	}
	groups := map[string][]Log{}
	var order []string
	for _, l := range logs {
		r := root(l)
		if groups[r] == nil {
			order = append(order, r)
		}
		groups[r] = append(groups[r], l)
	}
	out := make([]Log, 0, len(logs))
	for _, r := range order {
		g := groups[r]
		slices.SortStableFunc(g, func(a, b Log) int { return int(a.Seq - b.Seq) })
		last := g[len(g)-1]
		last.On, last.Was = g[0].On, g[:len(g)-1] // a correction keeps the day of what it corrects
		if len(last.Was) == 0 {
			last.Was = nil
		}
		out = append(out, last)
	}
	slices.SortStableFunc(out, func(a, b Log) int { return a.On.Sub(b.On) })
	return out
}

// Hurts gives the pain of sessions (0–10) as marks at the first place of what was done; a correction keeps
// the worst that was said. Discomfort of release work is not pain.
func Hurts(logs []Log, cat catalog.Catalogue) []permit.Mark {
	out := []permit.Mark{}
	for _, l := range logs {
		rail, _ := cat.Find(l.Prescription.Rail)
		x, ok := rail.Exercise(l.Prescription.Exercise)
		if !ok || x.Class == catalog.Releasing {
			continue
		}
		m := permit.Mark{Region: body.WholePerson, Side: l.Prescription.Side, Pain: l.Pain, On: l.On, Seq: l.Seq}
		for _, w := range l.Was {
			m.Pain = max(m.Pain, w.Pain)
		}
		if x.Both() {
			m.Side = body.Both
		}
		if len(x.Main) > 0 {
			m.Region = x.Main[0]
		}
		if m.Pain > 0 {
			out = append(out, m)
		}
	}
	return out
}
