package permit

import (
	"fmt"
	"slices"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/refer"
)

// Takes is what is taken away. The zero value takes nothing.
type Takes struct {
	Everything bool // nothing at all
	Above      *int // nothing above this level
	CalfAbove  *int // no calf work above this level
	Beyond     *body.Impact
	Contacts   int  // the first step of that impact: at most so many contacts
	Half       bool // bouncing at half the contacts
	HalfSets   bool
	BareAbove  *int       // nothing bare beyond this stage; −1: nothing bare
	Edge       bool       // nothing below level
	ToesBack   bool       // no weight on bent-back toes
	BareImpact bool       // no bare bouncing
	Pressure   bool       // no pressure
	Cold       bool       // no cold
	Tags       []body.Tag // nothing that carries one of them
	TestOnly   []body.Tag // … as long as it is not beside the coach
	Prone      bool       // nothing face down
	Supine     int        // on the back at most so many seconds at a time; 0: no limit
	Running    bool       // no running at all
	Runs       []body.RunPart
	AsBefore   bool // running at most as before, in minutes a week
	HalfRuns   bool // half the minutes of every run
	New        bool // nothing that does not stand already
	NoUp       bool // nothing moves up
	Notes      []string
}

// Cut is one thing that takes work away.
type Cut struct {
	ID     string    // stop.bone, caution.clot, pattern.shin, sore.ball, pause, ill
	Leg    body.Side // whose
	Whole  bool      // of the whole person: trunk work too
	Sort   Sort
	Takes  Takes
	Opens  string // what would open it
	Reason body.Reason
	gate   func() barefoot.Gate // of the cut that stands for the tests of the barefoot gate
}

// judge holds a demand against one cut.
func (c Cut) judge(a Ask) Answer {
	out := Answer{Kind: Allowed}
	for _, says := range c.Takes.against(a, c.Leg) {
		r := Reason{Reason: c.Reason, Cut: c.ID, Sort: c.Sort, Leg: c.Leg, Opens: c.Opens}
		r.Says = says + ": " + c.Reason.Says
		out.Kind = NotNow
		out.Reasons = append(out.Reasons, r)
	}
	t := c.Takes
	if t.NoUp && !a.Test {
		out.NoUp = true
		if out.Kind == Allowed {
			out.Reasons = append(out.Reasons, Reason{Reason: c.Reason, Cut: c.ID, Sort: Holds, Leg: c.Leg, Opens: c.Opens})
		}
	}
	if impact := a.Impact.Beyond(body.NoImpact); out.Kind == Allowed && impact {
		if t.Half {
			out.Kind, out.HalfContacts = UpTo, true
		}
		if t.Contacts > 0 {
			out.Kind, out.Contacts = UpTo, t.Contacts
		}
	}
	if t.HalfSets && out.Kind != NotNow {
		out.Kind, out.HalfSets = UpTo, true
	}
	if out.Kind != NotNow {
		out.Notes = t.Notes
	}
	return out
}

// against lists what of a demand is taken away of a leg, in words.
func (t Takes) against(a Ask, leg body.Side) []string {
	var out []string
	add := func(is bool, format string, args ...any) {
		if is {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	if t.Everything {
		return []string{"nothing for now"}
	}
	add(t.New && !a.InForce && !a.Test, "nothing new")
	if t.Above != nil && *t.Above < 0 {
		add(leg == body.Both, "both legs are locked")
		add(leg != body.Both, "the %s leg is locked", leg)
	} else {
		add(t.Above != nil && a.Level > *t.Above, "nothing above level %d", at(t.Above))
	}
	add(t.CalfAbove != nil && a.Has(body.CalfWork) && a.Level > *t.CalfAbove, "calf work to level %d", at(t.CalfAbove))
	add(t.Beyond != nil && a.Impact.Beyond(*t.Beyond), "no %s", beyond(t.Beyond))
	if a.Bare {
		add(t.BareAbove != nil && *t.BareAbove < 0, "nothing on bare feet")
		add(t.BareAbove != nil && *t.BareAbove >= 0 && a.Stage > *t.BareAbove, "bare feet to stage %d", at(t.BareAbove))
		add(t.BareImpact && a.Impact.Beyond(body.NoImpact), "no bare bouncing")
	}
	add(t.Edge && a.Edge, "nothing loaded below level")
	add(t.ToesBack && a.ToesBack, "no weight on bent-back toes")
	add(t.Pressure && a.Pressure, "no pressure")
	add(t.Cold && a.Cold, "no cold")
	for _, g := range t.Tags {
		add(a.Has(g), "%s", without(g))
	}
	for _, g := range t.TestOnly {
		add(a.Has(g) && !a.Test, "%s alone", without(g))
	}
	add(t.Prone && a.Position == "prone", "nothing face down")
	add(t.Supine > 0 && a.Position == "supine", "on the back at most %d s at a time", t.Supine)
	if a.Run != "" {
		add(t.Running, "no running")
		add(!t.Running && slices.Contains(t.Runs, a.Run), "no %s in runs", runWords[a.Run])
		add(!t.Running && t.Beyond != nil && a.Run == body.Strides && !slices.Contains(t.Runs, a.Run), "no strides or jumping drills")
	}
	return out
}

var runWords = map[body.RunPart]string{body.EasyMinutes: "easy minutes", body.Rise: "rise", body.Quality: "quality", body.Hills: "hills",
	body.CadenceWork: "cadence work", body.PostureWork: "posture drills",
	body.Strides: "strides or jumping drills", body.BarePart: "bare part", body.Steps: "steps back"}

var tagWords = map[body.Tag]string{body.Grip: "no gripping", body.ToeRange: "no toe range", body.AnkleRange: "no ankle range",
	body.Forced: "no forced range", body.DeepSquat: "no deep squats", body.OneLeg: "no one-leg work",
	body.EyesClosed: "no closed eyes", body.Block: "no block", body.ShinPressure: "no pressure on the shin", body.Lowering: "no lowering",
	body.RM: "no maximum", body.ToFailure: "nothing to failure",
	body.Outdoors: "nothing outdoors", body.Walking: "no bare walks", body.CalfWork: "no calf work", body.Joint: "nothing on the joint"}

func without(t body.Tag) string { return tagWords[t] }

func at(n *int) int {
	if n == nil {
		return 0
	}
	return *n
}

func beyond(i *body.Impact) string {
	if i != nil && *i == body.Supported {
		return "free bouncing"
	}
	return "bouncing"
}

// shut is the whole leg closed: what an opening does not name stays closed.
func shut() Takes {
	none, nothing := body.NoImpact, -1
	return Takes{Above: &nothing, Beyond: &none, BareAbove: &nothing, Edge: true, ToesBack: true, Pressure: true, Cold: true,
		Tags: []body.Tag{body.Forced, body.Lowering, body.RM, body.ToFailure}, Running: true}
}

// opened gives what is still taken away once somebody opened some of it: each field named is replaced,
// the others stay.
func (t Takes) opened(o refer.Opening) Takes {
	if t.Everything || (t.Above != nil && *t.Above < 0) {
		t = shut()
	}
	if o.Level != nil {
		t.Above, t.CalfAbove = o.Level, nil
		if *o.Level >= 4 {
			t.Above = nil
		}
	}
	if o.Impact != nil {
		t.Beyond, t.Contacts, t.Half = o.Impact, 0, false
		if *o.Impact == body.FreeHops {
			t.Beyond = nil
		}
	}
	if o.Bare != nil {
		t.BareAbove = o.Bare
		if *o.Bare >= 5 {
			t.BareAbove = nil
		}
		t.Tags = slices.DeleteFunc(slices.Clone(t.Tags), func(g body.Tag) bool { return g == body.Walking || g == body.Outdoors })
	}
	if o.Edge != nil {
		t.Edge = !*o.Edge
		t.ToesBack = t.ToesBack && !*o.Edge
	}
	if o.Pressure != nil {
		t.Pressure = !*o.Pressure
		t.Tags = slices.DeleteFunc(slices.Clone(t.Tags), func(g body.Tag) bool {
			return *o.Pressure && (g == body.ShinPressure || g == body.Joint)
		})
	}
	if o.Cold != nil {
		t.Cold = !*o.Cold
	}
	if o.Range != nil && *o.Range {
		t.Tags = slices.DeleteFunc(slices.Clone(t.Tags), func(g body.Tag) bool {
			return slices.Contains([]body.Tag{body.Forced, body.AnkleRange, body.ToeRange, body.DeepSquat}, g)
		})
		t.ToesBack = false
	}
	if o.Maximal != nil && *o.Maximal {
		t.Tags = slices.DeleteFunc(slices.Clone(t.Tags), func(g body.Tag) bool {
			return slices.Contains([]body.Tag{body.Lowering, body.RM, body.ToFailure, body.Grip}, g)
		})
	}
	switch o.Run {
	case "none":
		t.Running = true
	case "steps":
		t.Running, t.Runs = false, body.RunParts[1:]
	case "easy":
		t.Running, t.Runs = false, []body.RunPart{body.Rise, body.Hills, body.Quality, body.Strides, body.BarePart, body.CadenceWork}
	case "all":
		t.Running, t.Runs, t.AsBefore, t.HalfRuns = false, nil, false, false
	}
	return t
}

// empty reports a cut that takes nothing away any more.
func (t Takes) empty() bool {
	return !t.Everything && t.Above == nil && t.CalfAbove == nil && t.Beyond == nil && !t.Half && t.Contacts == 0 && !t.HalfSets &&
		t.BareAbove == nil && !t.Edge && !t.ToesBack && !t.BareImpact && !t.Pressure && !t.Cold &&
		len(t.Tags) == 0 && len(t.TestOnly) == 0 && !t.Prone && t.Supine == 0 && !t.Running && len(t.Runs) == 0 && !t.AsBefore && !t.HalfRuns &&
		!t.New && !t.NoUp && len(t.Notes) == 0
}
