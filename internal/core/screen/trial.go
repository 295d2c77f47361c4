package screen

import (
	"math"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
	"notchback/internal/core/stats"
)

// Context is how the runner ran while a gait measure was taken.
type Context struct {
	Pace     string  `json:"pace" enum:"easy,fast,up,down"`
	SpeedKmh float64 `json:"speedKmh,omitempty"`
	SlopePct float64 `json:"slopePct,omitempty"`
	Surface  string  `json:"surface,omitempty" enum:",treadmill,road,track,grass,trail,sand"`
	Shod     string  `json:"shod" enum:"shoes,minimal,barefoot"`
	Tired    bool    `json:"tired"`
}

// Paces and Shods are what a context may say, in the order they are offered.
var (
	Paces = []string{"easy", "fast", "up", "down"}
	Shods = []string{"shoes", "minimal", "barefoot"}
)

// Key names what makes two contexts comparable, as people say it: "easy, shoes".
func (c Context) Key() string {
	k := c.Pace + ", " + c.Shod
	if c.Tired {
		k += ", tired"
	}
	return k
}

// Trial is one attempt as it was seen. Every trial is kept; a corrected one is superseded, not
// changed.
type Trial struct {
	ID      string      `json:"id"`
	Measure string      `json:"measure"`
	Side    body.Side   `json:"side"`
	Value   float64     `json:"value"`
	Parts   []float64   `json:"parts" doc:"figures the value was computed from; for cadence one count of 15 s, or the times of the taps in s"`
	Faults  []string    `json:"faults"`
	Stop    string      `json:"stop,omitempty" doc:"why a count ended"`
	Skipped string      `json:"skipped,omitempty" doc:"why the test was left out; then the value does not count"`
	Context *Context    `json:"context,omitempty"`
	Where   body.Region `json:"where,omitempty" doc:"where a walk hurt"`
	Moment  string      `json:"moment,omitempty" enum:",before,after" doc:"before or after the session, when that is compared"`
	SE      float64     `json:"se,omitempty" doc:"standard error of this trial's own; 0: the measure's"`
	Clip    string      `json:"clip,omitempty" doc:"clip it was read from"`
	Phone   bool        `json:"phone,omitempty" doc:"a phone gave the angle: its error is its own, from repeats"`
	On      body.Date   `json:"on"`
	By      string      `json:"by,omitempty" doc:"coach who entered it"`
}

// Key names the trial's context, empty for measures without one.
func (t Trial) Key() string {
	if t.Context == nil {
		return ""
	}
	return t.Context.Key()
}

// Has reports whether the fault was seen.
func (t Trial) Has(fault string) bool { return slices.Contains(t.Faults, fault) }

// Counts reports whether the trial enters the reading: not skipped and without an invalidating fault.
func (t Trial) Counts() bool {
	m, ok := FindMeasure(t.Measure)
	if !ok || t.Skipped != "" {
		return false
	}
	return !slices.ContainsFunc(m.Faults, func(f Fault) bool { return f.Invalidates && t.Has(f.ID) })
}

// Enter checks a trial, computes its value from its parts and returns it as it is kept. already is
// how many trials the screen holds of its measure, side and context.
func Enter(t Trial, already int, p body.Profile) (Trial, error) {
	m, ok := FindMeasure(t.Measure)
	if !ok {
		return t, body.Refuse("measure", "%q is not a measure of this screen", t.Measure)
	}
	if !slices.Contains(m.Sides(), t.Side) {
		if m.Sided {
			return t, body.Refuse("side", "%s is taken left and right: choose one", m.Name)
		}
		return t, body.Refuse("side", "%s is taken on both sides at once", m.Name)
	}
	for _, f := range t.Faults {
		if !slices.ContainsFunc(m.Faults, func(x Fault) bool { return x.ID == f }) {
			return t, body.Refuse("faults", "%q is not a fault of %s", f, m.Name)
		}
	}
	if already >= m.MaxTrials {
		return t, body.Refuse("trials", "%s, %s has %d trials, the most it takes; remove one first", m.Name, t.Side, already)
	}
	if t.Phone && m.Tool != "inclinometer" {
		return t, body.Refuse("phone", "%s is not taken by an inclinometer", m.Name)
	}
	if t.Parts == nil {
		t.Parts = []float64{}
	}
	if t.Skipped != "" {
		return t, nil
	}
	if err := t.checkContext(m); err != nil {
		return t, err
	}
	t, err := computed(t, m, p)
	if err != nil {
		return t, err
	}
	switch {
	case math.IsNaN(t.Value) || t.Value < m.Min || t.Value > m.Max:
		return t, body.Refuse("value", "%s is %s; enter %s", m.Name, body.Bare(m.Unit, "%g", t.Value), span(m.Min, m.Max, m.Unit))
	case (m.Kind == Count || m.Kind == Pain || len(m.Options) > 0) && t.Value != math.Trunc(t.Value):
		return t, body.Refuse("value", "%s is a count; enter a whole number", m.Name)
	case m.Tool == "stack" && p.BigToeMm == 0:
		return t, body.Refuse("bigToeMm", "the angle needs the big-toe length; enter it at intake first")
	case m.Tool == "stack" && t.Value >= p.BigToeMm:
		return t, body.Refuse("value", "height %g mm is not below the big-toe length %g mm; check the stack, or the length at intake", t.Value,
			p.BigToeMm)
	case m.Station == "reach" && p.LegMm == 0:
		return t, body.Refuse("legMm", "a reach is a share of leg length; enter it at intake first")
	case len(m.Stops) > 0 && !slices.ContainsFunc(m.Stops, func(x Fault) bool { return x.ID == t.Stop }):
		return t, body.Refuse("stop", "say why the count ended")
	case m.Place && t.Value > 0 && !t.Where.Valid():
		return t, body.Refuse("where", "say where it hurt: tap the place")
	}
	return t, nil
}

func (t Trial) checkContext(m Measure) error {
	if !m.InContext {
		return nil
	}
	c := t.Context
	if c == nil || !slices.Contains(Paces, c.Pace) || !slices.Contains(Shods, c.Shod) {
		return body.Refuse("context", "say how they ran: the pace or slope, and shoes or barefoot")
	}
	if c.SpeedKmh != 0 && (c.SpeedKmh < 3 || c.SpeedKmh > 40) {
		return body.Refuse("context", "speed is %s; enter %s to %s, or leave it empty", body.In("km/h", "%g", c.SpeedKmh),
			body.Bare("km/h", "%g", 3), body.Bare("km/h", "%g", 40))
	}
	if c.SlopePct < -40 || c.SlopePct > 40 {
		return body.Refuse("context", "slope is %g %%; enter −40 to 40", c.SlopePct)
	}
	return nil
}

// computed fills the value of a trial that is made of parts.
func computed(t Trial, m Measure, p body.Profile) (Trial, error) {
	if m.Kind == Cadence {
		return cadence(t)
	}
	if len(m.Parts) == 0 {
		return t, nil
	}
	if len(t.Parts) != len(m.Parts) {
		names := []string{}
		for _, x := range m.Parts {
			names = append(names, x.Name)
		}
		return t, body.Refuse("parts", "%s needs %s", m.Name, strings.Join(names, ", "))
	}
	for i, x := range m.Parts {
		v := t.Parts[i]
		if math.IsNaN(v) || v < x.Min || v > x.Max {
			return t, body.Refuse("parts", "%s is %s; enter %s", x.Name, body.Bare(x.Unit, "%g", v), span(x.Min, x.Max, x.Unit))
		}
		if x.Step == 1 && x.Unit == "" && v != math.Trunc(v) {
			return t, body.Refuse("parts", "%s is %g; enter a whole number", x.Name, v)
		}
	}
	switch m.ID {
	case body.ArchDrop:
		t.Value = t.Parts[0] - t.Parts[1]
	case body.FootPostureIndex:
		t.Value = 0
		for _, v := range t.Parts {
			t.Value += v
		}
	case body.CalfRM:
		if p.MassKg == 0 {
			return t, body.Refuse("massKg", "the load on the leg needs the body mass; enter it at intake first")
		}
		t.Value = stats.Epley(p.MassKg+t.Parts[0], t.Parts[1])
	}
	return t, nil
}

// Footfalls is the cadence of n further footfalls in 15 s after one counted as zero: 4n + 2 ± 2 steps
// a minute, because up to one more step had begun.
func Footfalls(n float64) float64 { return 4*n + 2 }

// cadence computes steps a minute from one 15 s count, or from the times of taps.
func cadence(t Trial) (Trial, error) {
	switch {
	case len(t.Parts) == 0 && t.Value > 0:
		return t, nil
	case len(t.Parts) == 1:
		if n := t.Parts[0]; n != math.Trunc(n) || n < 10 || n > 80 {
			return t, body.Refuse("parts", "%g footfalls in 15 s; enter 10 to 80, the first counted as zero", n)
		}
		t.Value = Footfalls(t.Parts[0])
		return t, nil
	case len(t.Parts) >= 8:
		span := t.Parts[len(t.Parts)-1] - t.Parts[0]
		if !slices.IsSorted(t.Parts) || span <= 0 {
			return t, body.Refuse("parts", "the taps are not in order; tap again")
		}
		t.Value = math.Round(600*float64(len(t.Parts)-1)/span) / 10
		return t, nil
	}
	return t, body.Refuse("parts", "count 15 s, or tap along for at least eight steps")
}

// Circumstances are what limits the screen of one runner on one day.
type Circumstances struct {
	FirstVisit bool
	Pain       int // highest usual pain, 0–10
	Facts      permit.Facts
	Cuts       []permit.Cut // of the facts, gathered once where many measures are asked; nil: gathered each time
}

// tendon reports a tendon at risk.
func (c Circumstances) tendon() bool {
	return slices.ContainsFunc(c.Facts.InForce(), func(x permit.InForce) bool {
		return slices.Contains([]string{"tendon", "steroid", "quinolone"}, x.ID)
	})
}

// RaiseCeiling returns where heel raises are stopped on purpose, 0 for none, with the reason: no
// raises to failure on a first visit, under 18, with a tendon caution or pain above 2. After the first
// visit they go to the reference at the rhythm, ending at the first loss of height or rhythm, at two in
// reserve or at pain above 2: a full result.
func RaiseCeiling(c Circumstances, h house.Rules) (int, body.Reason) {
	r := c.seen(h.Because("screen.ceiling", "no raises to failure: stop here, or with two in reserve", "calf.raises.ceiling"))
	switch {
	case len(r.Saw) == 0:
		return 0, r
	case c.FirstVisit:
		return h.Int("calf.raises.ceiling"), r
	}
	r.Says, r.House = "not to failure: to the reference at the rhythm, ending at the first loss of height or rhythm, at two in reserve or "+
		"at pain above 2", []string{"calf.raises_straight.ref"}
	return h.Int("calf.raises_straight.ref"), r
}

func (c Circumstances) seen(r body.Reason) body.Reason {
	for _, x := range []struct {
		name string
		is   bool
	}{{"first visit", c.FirstVisit}, {"under 18", c.Facts.Profile.BirthDate != "" && c.Facts.Profile.Age(c.Facts.Today) < 18},
		{"tendon caution", c.tendon()}, {"pain above 2", c.Pain > 2}} {
		if x.is {
			r = r.See(x.name, "yes")
		}
	}
	return r
}

// Barred says whether a measure may not be taken on a side now, and why: what core/permit takes away of
// the legs it loads; nothing at one-leg level within 72 h of a race; no maximal loading on a first visit;
// easier tests first.
func Barred(m Measure, side body.Side, trials []Trial, c Circumstances, h house.Rules) (bool, body.Reason) {
	demand := m.Demand()
	cuts := c.Cuts
	if cuts == nil {
		cuts = c.Facts.Cuts()
	}
	if a := c.Facts.Judge(cuts, permit.Ask{Demand: demand, Side: side, Test: true}); !a.May() && !c.shows(m, side, a) {
		r := a.Reasons[0].Reason
		if len(r.Saw) == 0 {
			r = r.See("what opens it", "%s", a.Reasons[0].Opens)
		}
		return true, r
	}
	if demand.Level >= 3 {
		for _, race := range c.Facts.Profile.GoalRaces() {
			if n := race.On.Sub(c.Facts.Today); n >= -h.Int("race.heavy") && n <= h.Int("race.heavy") {
				return true, h.Because("screen.race", "no test at one-leg level within 72 h of a race", "race.heavy").SeeOn(race.On, "race", "%s",
					race.Name)
			}
		}
	}
	// first asks for another test at or above a value on each of the sides.
	first := func(id string, sides []body.Side, least float64, says string, keys ...string) (bool, body.Reason) {
		r := h.Because("screen.easier-first", says, keys...)
		for _, s := range sides {
			rd, ok := Read(trials, id, s)
			if !ok || rd.Value < least {
				em, _ := FindMeasure(id)
				seen := "not taken"
				if ok {
					seen = em.Show(rd.Value)
				}
				return true, r.See(em.Name+", "+string(s), "%s; asked for %s", seen, em.Show(least))
			}
		}
		return false, r
	}
	switch m.ID {
	case body.BalanceClosed:
		return first(body.BalanceOpen, []body.Side{side}, h.Get("balance.steady"), "eyes closed only after eyes open is steady", "balance.steady")
	case body.HoldForefootOne:
		return first(body.HoldForefootTwo, []body.Side{body.Both}, h.Get("hold.forefoot_two.ref"), "one foot only after two feet hold the target",
			"hold.forefoot_two.ref")
	case body.CalfRM:
		r := c.seen(h.Because("screen.no-maximum", "no repetition maximum: never on a first visit, under 18, with a caution or pain above 2"))
		return len(r.Saw) > 0, r
	case body.HopSupported:
		if r := h.Because("screen.no-bounce", "no bouncing with morning pain above the limit",
			"hop.supported.pain"); c.Pain > h.Int("hop.supported.pain") {
			return true, r.See("usual pain", "%d of 10", c.Pain)
		}
		return first(body.FootShort, body.Sides, h.Get("score.ability"), "no bouncing without a held brace: short foot first, on both sides",
			"score.ability")
	}
	return false, body.Reason{}
}

// shows reports a test that is kept out by nothing but the pattern it shows, and was not taken within 14
// days: it may be repeated once, to first discomfort.
func (c Circumstances) shows(m Measure, side body.Side, a permit.Answer) bool {
	on := c.Facts.Taken[m.ID+"|"+string(side)]
	return showing[m.ID] != "" && c.Facts.Today.Sub(on) >= 14 &&
		!slices.ContainsFunc(a.Reasons, func(r permit.Reason) bool { return r.Cut != showing[m.ID] })
}

// span writes the figures that may be entered: "0 to 30 cm".
func span(low, high float64, unit string) string {
	return body.Bare(unit, "%g", low) + " to " + body.In(unit, "%g", high)
}
