package screen

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Verdict says how a value stands against its reference, allowing for the test's own error.
type Verdict string

// The verdicts. Borderline means within one SEM of the reference: retest before acting. Noted is
// recorded and not judged.
const (
	Clear      Verdict = "clear"
	Borderline Verdict = "borderline"
	Short      Verdict = "short"
	Noted      Verdict = "noted"
)

// Verdicts lists them.
var Verdicts = []Verdict{Clear, Borderline, Short, Noted}

// Finding is one value against its reference.
type Finding struct {
	ID        string      `json:"id"`
	Name      string      `json:"name"`
	Measure   string      `json:"measure" doc:"measure it rests on"`
	Limiter   string      `json:"limiter"`
	Of        string      `json:"of" doc:"limiter of the measure itself, also for a side difference"`
	Side      body.Side   `json:"side"`
	Context   string      `json:"context" doc:"how they ran; empty elsewhere"`
	Value     float64     `json:"value"`
	Own       float64     `json:"own,omitempty" doc:"of a passive angle: what the toe does by itself, in the same unit; 0 not measured"`
	Unit      string      `json:"unit"`
	Word      string      `json:"word" doc:"the answer of a class or score; empty for figures"`
	Notes     []string    `json:"notes" doc:"faults seen"`
	Refer     bool        `json:"refer" doc:"something seen asks for a clinician"`
	Reference float64     `json:"reference"`
	Better    string      `json:"better" enum:"higher,lower,inside,none"`
	Band      float64     `json:"band" doc:"one SEM (√2 SEM for a difference): the half-width of borderline"`
	Half      float64     `json:"half" doc:"half-width of the 95 % interval"`
	MDC       float64     `json:"mdc" doc:"smallest change that is not measurement error"`
	AtLeast   bool        `json:"atLeast"`
	Verdict   Verdict     `json:"verdict"`
	Severity  float64     `json:"severity" doc:"min(1, shortfall / (0.5 × reference)), 0–1"`
	Reason    body.Reason `json:"reason"`
}

// Judge compares a value with a reference. band is the half-width of borderline, in the value's unit.
func Judge(value, reference, band float64, better string) (v Verdict, severity float64) {
	ahead := value - reference
	if better == "lower" {
		ahead = -ahead
	}
	if ahead < 0 { // a reference of 0 has no share: anything behind it is the whole
		severity = math.Min(1, -ahead/(0.5*math.Abs(reference)))
	}
	switch {
	case ahead > band:
		return Clear, severity
	case ahead >= -band:
		return Borderline, severity
	}
	return Short, severity
}

var says = map[Verdict]string{
	Clear:      "clear: past the reference by more than the test's own error",
	Borderline: "borderline: within the test's own error of the reference; retest before acting",
	Short:      "short: behind the reference by more than the test's own error",
	Noted:      "noted, not judged",
}

func judged(f Finding, h house.Rules, formula string, keys ...string) Finding {
	f.Verdict, f.Severity = Judge(f.Value, f.Reference, f.Band, f.Better)
	words := says[f.Verdict]
	if f.AtLeast && f.Verdict != Clear {
		f.Verdict, f.Severity = Borderline, 0
		words = "at least this many: the count was stopped on purpose, so it is not known to be short; test to the end when it is allowed"
	}
	r := h.Because("screen.verdict", words, keys...)
	r = r.See(f.Name, "%s ± %s (95 %%)", Amount(f.Value, f.Unit), Decimals(f.Half, f.Unit+".")).
		See("reference", "%s", body.In(f.Unit, "%g", f.Reference)).See("band (1 SEM)", "± %s", body.In(f.Unit, "%.2g", f.Band)).
		See("smallest real change (MDC)", "%s", body.In(f.Unit, "%.2g", f.MDC))
	r.Formula = formula
	f.Reason = r
	return f
}

func (f Finding) failed(says string) Finding {
	f.Verdict, f.Severity = Short, math.Max(f.Severity, 0.5)
	f.Reason.Says = says
	return f
}

// taken is everything a finding is read from.
type taken struct {
	trials []Trial // of one context, where there are contexts
	all    []Trial
	p      body.Profile
	age    int
	h      house.Rules
}

// Findings reads every value the trials allow, in a fixed order: by measure, each context, each side,
// then the side difference. today gives the runner's age.
func Findings(trials []Trial, p body.Profile, today body.Date, h house.Rules) []Finding {
	x := taken{trials, trials, p, p.Age(today), h}
	out := []Finding{}
	for _, m := range Measures {
		for _, key := range Contexts(trials, m) {
			in := x
			if m.InContext {
				in.trials = In(trials, key)
			}
			var pair []Finding
			for _, side := range m.Sides() {
				if f, ok := in.finding(m, side); ok {
					f.Context = key
					pair = append(pair, f)
				}
			}
			out = append(out, in.withDifference(m, pair)...)
		}
	}
	return append(out, x.composite()...)
}

func (x taken) start(m Measure, rd Reading) Finding {
	return Finding{ID: m.ID, Name: m.Name, Measure: m.ID, Limiter: m.Limiter, Of: m.Limiter, Side: rd.Side, Value: rd.Value, Unit: m.Unit,
		Better: m.Better, Band: rd.SE,
		AtLeast: rd.AtLeast, Notes: rd.Faults, Refer: rd.Refer, Reason: rd.Reason}
}

func (x taken) finding(m Measure, side body.Side) (Finding, bool) {
	rd, ok := Read(x.trials, m.ID, side)
	if !ok {
		return Finding{}, false
	}
	f := x.start(m, rd)
	if rd.Phone {
		f.Band = PhoneError(rd, x.sem(m, rd.Value))
	}
	switch {
	case m.ID == body.ToeActiveHeight:
		return x.activeGap(m, rd)
	case m.ID == body.ToePassiveHeight:
		return x.passiveAngle(f, m, rd)
	case m.ID == body.GaitStrike:
		return x.strike(f, m, Class), true
	case m.ID == body.GaitStrikeAngle:
		return x.strike(f, m, Figure), true
	case m.ID == body.FootPostureIndex:
		return x.posture(f), true
	case m.Kind == Class:
		o := m.Options[int(rd.Value)]
		f.Word, f.Verdict, f.Severity = o.Name, o.Verdict, o.Severity
		r := house.Rules{}.Because("screen.class", o.Name+": "+map[Verdict]string{Clear: "clear", Borderline: "borderline: look again",
			Short: "a finding", Noted: "noted, not judged"}[o.Verdict])
		r.Saw, r.Provenance, r.Source = rd.Reason.Saw, m.provenance, m.source
		f.Reason = r
		return f, true
	case m.Kind == Ability || m.Kind == Blemish:
		return x.scored(f, m, rd), true
	case m.Kind == Pain:
		return x.painful(f), true
	case m.Kind == Cadence:
		return x.cadence(f, m, rd), true
	}
	formula, keys := rd.Reason.Formula, []string{m.ID + ".ref", m.semKey()}
	switch {
	case m.Better == "none":
		f = x.withError(f, m)
		f.Verdict = Noted
		f.Reason = x.h.Because("screen.noted", "noted, not judged: compare the sides, and with itself later", m.semKey()).See(f.Name,
			"%s ± %s (95 %%)", Amount(f.Value, f.Unit), Decimals(f.Half, f.Unit+"."))
		f.Reason.Formula = formula
		return f, true
	case m.Station == "reach":
		if x.p.LegMm == 0 {
			return f, false
		}
		f.Value, f.Unit = 100*rd.Value/(x.p.LegMm/10), "%"
		formula = fmt.Sprintf("%s; of leg length %s: %.1f %%", formula, body.In("cm", "%g", x.p.LegMm/10), f.Value)
	case m.ID == body.CalfRM:
		formula += fmt.Sprintf("; reference %g × body mass %s", x.h.Get(m.ID+".ref"), body.In("kg", "%g", x.p.MassKg))
	case m.Station == "balance":
		keys[0] = x.normKey(m)
	case m.ID == body.CalfRaisesStraight:
		keys[0] = x.raisesKey()
	}
	return capped(x.against(f, m, formula, keys...), m, rd), true
}

// capped is a finding judged by what stopped the test: a cap that was reached is clear, a fault short.
func capped(f Finding, m Measure, rd Reading) Finding {
	switch {
	case f.Verdict == Clear:
	case rd.Capped:
		f.Verdict, f.Severity, f.Reason.Says = Clear, 0, "clear: every trial reached the cap"
	case m.Cap > 0 && rd.Best >= m.Cap && f.Value >= m.Cap-f.Band:
		f.Verdict, f.Severity, f.Reason.Says = Clear, 0, "clear: the cap was reached, and the mean is within the test's own error of it"
	}
	if rd.Failed {
		f = f.failed("short: " + strings.Join(rd.Faults, ", ") + " counts as short whatever the figure")
	}
	return f
}

// withError gives a figure its error: its trials' own where they brought one, else the measure's.
func (x taken) withError(f Finding, m Measure) Finding {
	if f.Band == 0 {
		f.Band = x.sem(m, f.Value)
	}
	f.Half, f.MDC = 1.96*f.Band, stats.MDC(f.Band)
	return f
}

// against judges a figure by the reference and error of its house rules.
func (x taken) against(f Finding, m Measure, formula string, keys ...string) Finding {
	f.Reference = x.h.Get(keys[0])
	if m.ID == body.CalfRM {
		f.Reference *= x.p.MassKg
	}
	f = x.withError(f, m)
	return judged(f, x.h, fmt.Sprintf("%s against %s ± %s", formula, Amount(f.Reference, f.Unit), body.Bare(f.Unit, "%.2g", f.Band)), keys...)
}

// normKey is the house rule with the balance norm of the runner's age.
func (x taken) normKey(m Measure) string {
	band := "18"
	for _, b := range []struct {
		from int
		key  string
	}{{40, "40"}, {50, "50"}, {60, "60"}, {70, "70"}, {80, "80"}} {
		if x.age >= b.from {
			band = b.key
		}
	}
	return map[string]string{body.BalanceOpen: "balance.open.norm.", body.BalanceClosed: "balance.closed.norm."}[m.ID] + band
}

// raisesKey is the house rule with the raises of the runner's age. The gates of walking and running bare and of bouncing
// are not lowered by it.
func (x taken) raisesKey() string {
	key := "calf.raises_straight.ref"
	for _, b := range []struct {
		from int
		key  string
	}{{50, "calf.raises_straight.ref.50"}, {60, "calf.raises_straight.ref.60"}, {70, "calf.raises_straight.ref.70"}} {
		if x.age >= b.from {
			key = b.key
		}
	}
	return key
}

// semKey is the house rule that holds the measure's error; empty when a step is a step.
func (m Measure) semKey() string {
	switch {
	case len(m.Options) > 0 || m.Kind == Pain || m.ID == body.FootPostureIndex:
		return ""
	case m.Station == "balance":
		return m.ID + ".sem"
	case m.Kind == Hold:
		return "hold.sem"
	case m.Station == "big_toe":
		return "toe.angle.sem"
	case m.Station == "reach":
		return "reach.sem"
	}
	return m.ID + ".sem"
}

// sem is the standard error of measurement of a value, in the unit the finding is shown in.
func (x taken) sem(m Measure, value float64) float64 {
	key := m.semKey()
	switch {
	case key == "":
		return 0
	case key == "hold.sem":
		return holdError(value, x.h)
	case key == "reach.sem" && x.p.LegMm > 0:
		return 100 * x.h.Get(key) / (x.p.LegMm / 10)
	}
	return x.h.Get(key)
}

// withDifference appends the difference between the sides when both were taken and a house rule says
// from where it is worth noting.
func (x taken) withDifference(m Measure, pair []Finding) []Finding {
	key := m.ID + ".side"
	if m.Tool == "stack" {
		key = "toe.angle.side"
	}
	_, known := house.Find(key)
	if len(pair) != 2 || !known || pair[0].ID == body.ToeActiveGap {
		return pair
	}
	l, r := pair[0], pair[1]
	lv, rv, unit, band := l.Value, r.Value, l.Unit, math.Sqrt2*math.Max(l.Band, r.Band)
	if m.Station == "reach" { // sides are compared in the unit they were measured in
		leg := x.p.LegMm / 1000
		lv, rv, unit, band = lv*leg, rv*leg, "cm", math.Sqrt2*x.h.Get("reach.sem")
	}
	f := Finding{ID: l.ID + ".side", Name: l.Name + ", side difference", Measure: m.ID, Limiter: "side_difference", Of: m.Limiter,
		Side: body.Left, Context: l.Context,
		Value: math.Abs(lv - rv), Unit: unit, Reference: x.h.Get(key), Better: "lower", Band: band, Half: 1.96 * band, MDC: stats.MDC(band),
		AtLeast: l.AtLeast || r.AtLeast, Notes: []string{}}
	weaker, leftBehind := "left", lv < rv
	if m.Better == "lower" {
		leftBehind = lv > rv
	}
	if !leftBehind {
		f.Side, weaker = body.Right, "right"
	}
	if lv == rv {
		f.Side, weaker = body.Both, "neither"
	}
	atLeast := f.AtLeast
	f.AtLeast = false
	f = judged(f, x.h, fmt.Sprintf("|%s − %s| = %s; behind: %s", Decimals(lv, unit), Decimals(rv, unit), Amount(f.Value, unit), weaker), key)
	if f.AtLeast = atLeast; !atLeast {
		return append(pair, f)
	}
	ahead, behind := l, r
	if leftBehind {
		ahead, behind = r, l
	}
	// A side stopped on purpose could do more: ahead, the difference is at least this; behind, at most.
	switch {
	case ahead.AtLeast && !behind.AtLeast && f.Verdict == Short:
		f.Reason.Says = "short: the better side was stopped on purpose, so the difference is at least this"
	case behind.AtLeast && !ahead.AtLeast && f.Verdict == Clear:
		f.Reason.Says = "clear: the side behind was stopped on purpose, so the difference is at most this"
	default:
		f.Verdict, f.Severity, f.Reason.Says = Borderline, 0, "not known: a side was stopped on purpose; test both to the end when it is allowed"
	}
	return append(pair, f)
}

// scored judges a 0–3 score: a step is a step, so there is no borderline.
func (x taken) scored(f Finding, m Measure, rd Reading) Finding {
	key, better := "score.ability", f.Value >= x.h.Get("score.ability")
	if m.Kind == Blemish {
		key, better = "score.fault", f.Value < x.h.Get("score.fault")
	}
	f.Reference, f.Word = x.h.Get(key), m.Show(f.Value)
	f.Verdict = Clear
	if !better {
		f.Verdict = Short
		over := f.Reference - f.Value
		if m.Kind == Blemish {
			over = f.Value - f.Reference + 1
		}
		f.Severity = math.Min(1, over/(0.5*f.Reference))
	}
	r := x.h.Because("screen.score", map[Verdict]string{Clear: "clear; a step of a score is a step",
		Short: "short; a step of a score is a step"}[f.Verdict], key)
	r.Saw = rd.Reason.Saw
	r.Formula = fmt.Sprintf("%g against %g", f.Value, f.Reference)
	f.Reason = r
	return f
}

// painful judges pain in a walk: none is clear, up to the limit borderline, above it short.
func (x taken) painful(f Finding) Finding {
	most := x.h.Get("walk.pain.note")
	f.Reference, f.MDC, f.Severity = most, x.h.Get("walk.pain.change"), math.Min(1, f.Value/5)
	switch {
	case f.Value == 0:
		f.Verdict = Clear
	case f.Value <= most:
		f.Verdict = Borderline
	default:
		f.Verdict = Short
	}
	saw := f.Reason.Saw
	f.Reason = x.h.Because("screen.walk", map[Verdict]string{Clear: "no pain", Borderline: "little pain: repeat after the session",
		Short: "pain: symptoms come first"}[f.Verdict], "walk.pain.note", "walk.pain.change")
	f.Reason.Saw = saw
	return f
}

// posture names the class of the foot posture index. A posture alone limits nobody: under the
// approach “a movement to control” it is noted, under “a fault to limit” it is a finding.
func (x taken) posture(f Finding) Finding {
	class, off := PostureClass(f.Value, x.h)
	f.Word, f.Reference, f.Better = class, x.h.Get("foot.posture_index.ref"), "inside"
	f.Verdict = Clear
	if off > 0 {
		f.Verdict = Noted
		if x.h.Choice(x.p.Approaches, "pronation") == "fault" {
			f.Verdict, f.Severity = Short, math.Min(1, off/(0.5*f.Reference))
		}
	}
	saw := f.Reason.Saw
	f.Reason = x.h.Because("screen.posture-class", class, "foot.posture_index.ref", "foot.posture_index.low", "foot.posture_index.high",
		"foot.posture_index.supinated")
	f.Reason.Saw, f.Reason.Formula = saw, fmt.Sprintf("sum of six items = %+g: %s", f.Value, class)
	return f
}

// PostureClass names the class of a foot posture index (−12…+12) and gives how far it lies outside
// normal. Source: Redmond, Crosbie & Ouvrier 2006, Clin Biomech 21:89; Redmond, Crane & Menz 2008.
func PostureClass(index float64, h house.Rules) (class string, outside float64) {
	low, high := h.Get("foot.posture_index.low"), h.Get("foot.posture_index.ref")
	switch {
	case index >= h.Get("foot.posture_index.high"):
		return "highly pronated", index - high
	case index > high:
		return "pronated", index - high
	case index <= h.Get("foot.posture_index.supinated"):
		return "highly supinated", low - index
	case index < low:
		return "supinated", low - index
	}
	return "normal", 0
}

// composite is the sum of the four reaches over four leg lengths.
func (x taken) composite() []Finding {
	out := []Finding{}
	if x.p.LegMm == 0 {
		return out
	}
	for _, side := range body.Sides {
		reaches := make([]float64, 0, 4)
		for _, id := range []string{body.ReachFront, body.ReachSide, body.ReachBack, body.ReachCross} {
			if rd, ok := Read(x.trials, id, side); ok {
				reaches = append(reaches, rd.Value)
			}
		}
		if len(reaches) < 4 {
			continue
		}
		m, _ := FindMeasure(body.ReachFront)
		f := x.start(m, Reading{Side: side, Faults: []string{}})
		f.ID, f.Name, f.Unit, f.Value = "reach.composite", "Reach, all four directions", "%", Composite(reaches, x.p.LegMm/10)
		f.Reference, f.Band = x.h.Get("reach.composite.ref"), x.sem(m, 0)/2 // four independent reaches: SEM/√4
		f.Half, f.MDC = 1.96*f.Band, stats.MDC(f.Band)
		out = append(out, judged(f, x.h, fmt.Sprintf("(%s) / (4 × %s) × 100 = %.1f %%", strings.ReplaceAll(list(reaches, "cm"), ", ", " + "),
			body.Bare("cm", "%g", x.p.LegMm/10), f.Value), "reach.composite.ref", "reach.sem"))
	}
	return out
}

// Composite returns the sum of the reaches over as many leg lengths, in %. Reaches and leg in one
// unit. Source: Plisky et al. 2006, JOSPT 36:911 (three directions); Gribble & Hertel 2003.
func Composite(reaches []float64, leg float64) float64 {
	sum := 0.0
	for _, r := range reaches {
		sum += r
	}
	return 100 * sum / (float64(len(reaches)) * leg)
}

// Missing lists the asked measures and sides without a counting trial, as "Knee to wall, left".
func Missing(trials []Trial, measures []string) []string {
	out := []string{}
	for _, m := range Measures {
		for _, s := range m.Sides() {
			if _, ok := Read(trials, m.ID, s); !ok && slices.Contains(measures, m.ID) {
				name := m.Name
				if m.Sided {
					name += ", " + string(s)
				}
				out = append(out, name)
			}
		}
	}
	return out
}
