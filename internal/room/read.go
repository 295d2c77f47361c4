package room

import (
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
)

// Read is the room where findings are ranked.
type Read struct {
	On       body.Date           `json:"on" doc:"day of the newest screen; empty without one"`
	Findings []screen.Finding    `json:"findings"`
	Limiters []screen.Limiter    `json:"limiters"`
	Answers  map[string][]string `json:"answers" doc:"names of the rails that answer each limiter"`
	Chain    []screen.Link       `json:"chain" doc:"gait findings in the order they are worked on"`
	Patterns []screen.Pattern    `json:"patterns"`
	Shoes    []screen.ShoeIndex  `json:"shoes"`
	Retest   []screen.Finding    `json:"retest" doc:"borderline: retest before acting"`
	Missing  []string            `json:"missing" doc:"asked for and not taken"`
	Cautions []string            `json:"cautions"`
	Heels    []body.Side         `json:"heels" doc:"legs with a heel recorded as one place: the sole or the back?"`
	Unknown  []permit.Unknown    `json:"unknown" doc:"asked first, because it could hurt; answered without a new screen"`
}

// ReadRoom is where findings are ranked.
var ReadRoom = Room[Read]{record.NeedFacts, always(Chart.Read)}

// RetestRoom is where a retest is judged.
var RetestRoom = Room[Retests]{record.NeedTests, always(Chart.Retests)}

// ReferralRoom writes the note for a clinician.
var ReferralRoom = Room[Referral]{record.NeedFacts, always(Chart.Referral)}

// Read computes the findings of the newest trials.
func (o Chart) Read() Read {
	trials := o.Trials()
	r := Read{Findings: o.findings(), Retest: []screen.Finding{}, Cautions: []string{}, Shoes: []screen.ShoeIndex{},
		Unknown: o.Facts().Unknowns(), Heels: o.Profile.Heels()}
	r.Limiters = screen.Limiters(r.Findings, o.Profile, o.House)
	r.Answers = map[string][]string{}
	for _, l := range r.Limiters {
		r.Answers[l.ID] = []string{}
		for _, rail := range o.Catalogue.Answering(l.ID) {
			r.Answers[l.ID] = append(r.Answers[l.ID], rail.Name)
		}
	}
	r.Chain = screen.Chain(r.Findings, o.Profile, o.House)
	r.Patterns = screen.Patterns(r.Findings, o.Profile, o.Today)
	for _, s := range o.Profile.Shoes {
		r.Shoes = append(r.Shoes, screen.Shoe(s, o.Profile.FootWidthMm, o.Today, o.House))
	}
	for _, f := range r.Findings {
		if f.Verdict == screen.Borderline && f.Limiter != "symptoms" {
			r.Retest = append(r.Retest, f)
		}
	}
	asked := screen.Plan(screen.CoreScreen, CoreStations(o.House), nil)
	for i, s := range o.Visits() {
		if i == 0 {
			r.On = s.On
		}
		asked = append(asked, s.Measures...)
	}
	r.Missing = screen.Missing(trials, asked)
	for _, c := range o.Facts().InForce() {
		r.Cautions = append(r.Cautions, c.Limits)
	}
	return r
}

// Retests is the room where a retest is judged.
type Retests struct {
	Visits     []Past            `json:"visits" doc:"newest first"`
	SinceLast  []screen.Compared `json:"sinceLast"`
	SinceFirst []screen.Compared `json:"sinceFirst"`
	Sessions   []SessionTest     `json:"sessions" doc:"before and after a session, newest first"`
	Due        []screen.Due      `json:"due"`
	SelfChecks []SelfCheckView   `json:"selfChecks" doc:"of the runner at home, newest first; compared with themselves alone"`
	Next       body.Date         `json:"next" doc:"day the next measure falls due; empty without one"`
}

// SessionTest is one session's quick test.
type SessionTest struct {
	On       body.Date         `json:"on"`
	Compared []screen.Compared `json:"compared"`
}

// Retests compares the newest values with the last and the first.
func (o Chart) Retests() Retests {
	r := Retests{Visits: []Past{}, Sessions: []SessionTest{}, Due: o.Due(), SelfChecks: o.selfChecks()}
	r.SinceLast, r.SinceFirst = screen.History(o.visits(), o.Profile, o.House)
	for _, s := range o.Screens {
		if s.Kind == screen.Session {
			r.Sessions = append(r.Sessions, SessionTest{s.On, o.session(s)})
			continue
		}
		taken := []string{}
		for _, t := range s.Trials {
			if t.Counts() && !slices.Contains(taken, t.Measure) {
				taken = append(taken, t.Measure)
			}
			if on := s.On.Add(o.House.Int("retest.days")); t.Counts() && (r.Next == "" || on < r.Next) && on > o.Today {
				r.Next = on
			}
		}
		r.Visits = append(r.Visits, Past{s.ID, s.On, s.Kind, s.Finished, len(taken)})
	}
	return r
}

// Referral is a one-page note for a clinician, in plain words.
type Referral struct {
	Runner   string           `json:"runner"`
	Age      int              `json:"age"`
	Today    body.Date        `json:"today"`
	Stops    []ReferralStop   `json:"stops" doc:"open first"`
	Symptoms []string         `json:"symptoms"`
	History  []string         `json:"history"`
	Cautions []string         `json:"cautions"`
	Running  string           `json:"running"`
	Findings []string         `json:"findings" doc:"short ones, in words"`
	Patterns []screen.Pattern `json:"patterns" doc:"those that ask for a clinician"`
	Asked    body.Date        `json:"asked" doc:"day the warning signs were last asked; empty never"`
}

// ReferralStop is a warning sign as the clinician reads it.
type ReferralStop struct {
	On      body.Date `json:"on"`
	What    string    `json:"what"`
	Place   string    `json:"place"`
	Open    bool      `json:"open"`
	Imaging string    `json:"imaging" doc:"what the rules for a fresh twist ask to be decided; empty for others"`
	Cleared string    `json:"cleared"`
	Stopped string    `json:"stopped" doc:"what is not done while it is open"`
}

// Referral writes the note.
func (o Chart) Referral() Referral {
	read := o.Read()
	r := Referral{Runner: o.Name, Age: o.Profile.Age(o.Today), Today: o.Today, Stops: []ReferralStop{}, Symptoms: []string{},
		History: []string{}, Cautions: []string{}, Findings: []string{}, Patterns: []screen.Pattern{}}
	for _, s := range o.Stops {
		r.Stops = append(r.Stops, referralStop(s, o.Profile))
	}
	slices.SortStableFunc(r.Stops, func(a, b ReferralStop) int {
		if a.Open != b.Open {
			if a.Open {
				return -1
			}
			return 1
		}
		return strings.Compare(string(b.On), string(a.On))
	})
	for _, s := range o.Profile.Symptoms {
		r.Symptoms = append(r.Symptoms, symptomLine(s))
	}
	h := o.Profile.History
	for _, x := range []struct{ name, words string }{{"Before", h.Injuries}, {"Prescribed", h.Prescribed}} {
		if strings.TrimSpace(x.words) != "" {
			r.History = append(r.History, x.name+": "+x.words)
		}
	}
	if h.Sprain {
		r.History = append(r.History, "An ankle sprained before")
	}
	for _, c := range o.Facts().InForce() {
		r.Cautions = append(r.Cautions, strings.TrimSuffix(c.Question, "?"))
	}
	switch {
	case o.Profile.WeeklyMinutes > 0:
		r.Running = numeral(o.Profile.WeeklyMinutes) + " min a week before this"
	case o.Profile.DoesNotRun():
		r.Running = "does not run at present"
	default:
		r.Running = "minutes a week not known"
	}
	for _, f := range read.Findings {
		if f.Verdict == screen.Short {
			r.Findings = append(r.Findings, findingLine(f))
		}
	}
	for _, p := range read.Patterns {
		if p.Now {
			r.Patterns = append(r.Patterns, p)
		}
	}
	if len(o.Checks) > 0 {
		r.Asked = o.Checks[0].On
	}
	return r
}

func symptomLine(s body.Symptom) string {
	line := sided(s.Side, s.Region) + ": worst " + numeral(s.Worst) + " of 10, usual " + numeral(s.Baseline)
	when := []string{}
	for _, t := range body.SymptomTimes {
		if slices.Contains(s.When, t.ID) {
			when = append(when, t.Name)
		}
	}
	if len(when) > 0 {
		line += "; " + strings.Join(when, ", ")
	}
	if s.Since != "" {
		line += "; since " + s.Since.Short()
	}
	return line
}

func findingLine(f screen.Finding) string {
	line := f.Name
	if f.Side != body.Both {
		line += ", " + string(f.Side)
	}
	if f.Context != "" {
		line += " (" + f.Context + ")"
	}
	line += ": " + f.Shown()
	if f.Word == "" {
		line += map[string]string{"lower": ", usual at most ", "higher": ", usual at least "}[f.Better] + screen.Amount(f.Reference, f.Unit) +
			", error ± " + screen.Amount(f.Half, f.Unit)
	}
	return line
}

func referralStop(s refer.Stop, p body.Profile) ReferralStop {
	sign, _ := refer.FindSign(s.Sign)
	out := ReferralStop{On: s.On, What: strings.TrimSuffix(sign.Question, "?"), Open: s.Open(), Stopped: s.Class(p).Stopped()}
	if s.Region != body.WholePerson {
		out.Place = sided(s.Side, s.Region)
	}
	which := []string{}
	for _, w := range sign.Which {
		if slices.Contains(s.Which, w.ID) {
			which = append(which, w.Name)
		}
	}
	if len(which) > 0 {
		out.What += ": " + strings.Join(which, "; ")
	}
	if s.Sign == "twist" {
		switch ankle, foot := refer.Imaging(s.Which); {
		case ankle && foot:
			out.Imaging = "ankle and foot"
		case ankle:
			out.Imaging = "ankle"
		case foot:
			out.Imaging = "foot"
		}
	}
	for _, c := range s.Clearances {
		out.Cleared = c.Who + ", " + c.On.Short() + ", limits: " + c.Limits
	}
	return out
}

func sided(side body.Side, region body.Region) string {
	if side == body.Both {
		return "both sides, " + region.Name()
	}
	return string(side) + " " + region.Name()
}
