package gait

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Figure is one number read from a clip.
type Figure struct {
	ID      string      `json:"id"`
	Name    string      `json:"name"`
	Group   string      `json:"group" enum:"times,forces,angles,behind"`
	Side    body.Side   `json:"side"`
	Value   float64     `json:"value"`
	Unit    string      `json:"unit"`
	SE      float64     `json:"se" doc:"standard error"`
	Half    float64     `json:"half" doc:"half-width of the 95 % interval, 1.96 standard errors"`
	N       int         `json:"n" doc:"steps or stills it rests on"`
	Answers bool        `json:"answers" doc:"precise enough for the question it is asked for"`
	Word    string      `json:"word" doc:"what may be said; empty for a plain figure"`
	Reason  body.Reason `json:"reason"`
}

// event is a marked frame as a moment in time: it happened between the frame before and its own, so
// it is uniform over that gap.
type event struct {
	Event
	at       float64 // s
	variance float64 // s²
}

// combination is a weighted sum of events, kept as weights so that shared events cancel and covary as
// they do in truth.
type combination map[int]float64

// span is one duration, from one event to another.
type span struct{ from, to int }

// clock holds the events of a clip in order.
type clock struct {
	clip   Clip
	h      house.Rules
	events []event
}

func newClock(c Clip, h house.Rules) clock {
	k := clock{clip: c, h: h}
	for _, e := range c.Sorted() {
		gap := float64(e.Frame - c.before(e.Frame))
		k.events = append(k.events, event{e, (float64(e.Frame) - gap/2) / c.CaptureFps, gap * gap / 12 / (c.CaptureFps * c.CaptureFps)})
	}
	return k
}

func (k clock) length(s span) float64 { return k.events[s.to].at - k.events[s.from].at }

func (k clock) single(s span) float64 { return k.events[s.to].variance + k.events[s.from].variance }

func (k clock) covariance(a, b combination) float64 {
	v := 0.0
	for i, w := range a {
		v += w * b[i] * k.events[i].variance
	}
	return v
}

// next finds the first event after i of a kind and side; −1 when there is none.
func (k clock) next(i int, kind Kind, side body.Side) int {
	for j := i + 1; j < len(k.events); j++ {
		if e := k.events[j]; e.Kind == kind && e.Side == side {
			return j
		}
	}
	return -1
}

// contacts lists the touchdown-to-toe-off spans of a side.
func (k clock) contacts(side body.Side) []span {
	out := []span{}
	for i, e := range k.events {
		if e.Kind == Touchdown && e.Side == side {
			off, again := k.next(i, ToeOff, side), k.next(i, Touchdown, side)
			if off >= 0 && (again < 0 || off < again) {
				out = append(out, span{i, off})
			}
		}
	}
	return k.within(out, 1)
}

// flights lists the spans from a side's toe-off to the other foot's touchdown. It is negative where
// both feet are down at once.
func (k clock) flights(side body.Side) []span {
	out := []span{}
	for i, e := range k.events {
		if e.Kind != ToeOff || e.Side != side {
			continue
		}
		own := k.next(i, Touchdown, side)
		if j := k.next(i, Touchdown, side.Other()); j >= 0 && (own < 0 || j < own) {
			out = append(out, span{i, j})
			continue
		}
		// The other foot may have come down before this one left: walking.
		for j := i - 1; j >= 0 && k.events[j].Side != side; j-- {
			if k.events[j].Kind == Touchdown {
				out = append(out, span{i, j})
			}
		}
	}
	return k.within(out, 0.5)
}

// within leaves out spans so long that a step between them was not marked.
func (k clock) within(spans []span, longest float64) []span {
	return slices.DeleteFunc(spans, func(s span) bool { return k.length(s) > longest })
}

// steps lists the spans from the other foot's touchdown to this side's, with nothing marked between
// that would make it two.
func (k clock) steps(side body.Side) []span {
	out, last := []span{}, -1
	for i, e := range k.events {
		if e.Kind != Touchdown {
			continue
		}
		if last >= 0 && e.Side == side && k.events[last].Side == side.Other() {
			out = append(out, span{last, i})
		}
		last = i
	}
	return k.within(out, 0.9)
}

// strides lists the spans from one touchdown of a side to its next.
func (k clock) strides(side body.Side) []span {
	out := []span{}
	for i, e := range k.events {
		if e.Kind == Touchdown && e.Side == side {
			if j := k.next(i, Touchdown, side); j >= 0 {
				out = append(out, span{i, j})
			}
		}
	}
	shortest := 1.
	for _, s := range out {
		shortest = math.Min(shortest, k.length(s))
	}
	return k.within(out, 1.5*shortest)
}

// mean is a mean duration with the weights of its events.
type mean struct {
	spans    []span
	value    float64
	variance float64
	weights  combination
	averaged bool // its error fell with the number of steps
}

// meanOf averages spans. The error falls with their number only where steps do not lock to the frame
// grid; otherwise that of a single one is kept.
func (k clock) meanOf(spans []span, free bool) mean {
	m := mean{spans: spans, weights: combination{}}
	if len(spans) == 0 {
		return m
	}
	n := float64(len(spans))
	worst := 0.0
	for _, s := range spans {
		m.value += k.length(s) / n
		m.weights[s.to] += 1 / n
		m.weights[s.from] -= 1 / n
		worst = math.Max(worst, k.single(s))
	}
	m.variance = worst
	if free && len(spans) > 1 {
		m.variance, m.averaged = k.covariance(m.weights, m.weights), true
	}
	return m
}

// free reports whether steps spread over the frame grid: at least 120 frames a second and a step-time
// spread of 0.3 frames.
func (k clock) free() bool {
	if k.clip.CaptureFps < k.h.Get("clip.average.fps") {
		return false
	}
	var lengths []float64
	for _, side := range body.Sides {
		var mine []float64
		for _, s := range k.strides(side) {
			mine = append(mine, k.length(s)*k.clip.CaptureFps)
		}
		if len(mine) >= 2 {
			lengths = append(lengths, stats.SD(mine))
		}
	}
	return len(lengths) > 0 && stats.Mean(lengths) >= k.h.Get("clip.average.spread")
}

// reason starts the reason of a figure of time.
func (k clock) reason(rule, says string, m mean, keys ...string) body.Reason {
	r := k.h.Because(rule, says, keys...).See("capture rate", "%g frames a second", k.clip.CaptureFps)
	if len(m.spans) > 0 {
		r = r.See("marked", "%d", len(m.spans))
	}
	if len(m.spans) > 1 {
		if m.averaged {
			r = r.See("error", "falls with the number of steps: they do not lock to the frames")
		} else {
			r = r.See("error", "that of a single step is kept: too few frames a second, or steps lock to the frames")
		}
	}
	if len(keys) == 0 {
		r.Provenance = body.Maths
	}
	return r
}

func (k clock) figure(id, name string, side body.Side, m mean) Figure {
	return milliseconds(Figure{ID: id, Name: name, Group: "times", Side: side, Value: m.value, SE: math.Sqrt(m.variance), N: len(m.spans),
		Answers: true,
		Reason: k.reason("clip.frame", "an event lies anywhere between two frames: ± half a frame each, so a duration has a standard error of "+
			"1/(√6 × frames a second)", m)})
}

func milliseconds(f Figure) Figure {
	f.Value, f.SE, f.Unit = 1000*f.Value, 1000*f.SE, "ms"
	f.Half = 1.96 * f.SE
	return f
}

// Times reads what the marks give: cadence, contact, flight, step and stride time, duty factor and the
// differences of the sides. Frames must have been checked.
func Times(c Clip, h house.Rules) []Figure {
	k := newClock(c, h)
	free := k.free()
	out := []Figure{}
	if f, ok := k.cadence(); ok {
		out = append(out, f)
	}
	for _, x := range []struct {
		id, name, diff string
		of             func(body.Side) []span
	}{
		{"contact", "Contact time", "Contact, left minus right", k.contacts},
		{"flight", "Flight time after", "Flight after left minus after right", k.flights},
		{"step", "Step time onto", "Step onto left minus onto right", k.steps},
		{"stride", "Stride time", "", k.strides},
	} {
		l, r := k.meanOf(x.of(body.Left), free), k.meanOf(x.of(body.Right), free)
		if len(l.spans) > 0 {
			out = append(out, k.figure(x.id, x.name, body.Left, l))
		}
		if len(r.spans) > 0 {
			out = append(out, k.figure(x.id, x.name, body.Right, r))
		}
		if x.diff != "" && len(l.spans) > 0 && len(r.spans) > 0 {
			out = append(out, k.difference(x.id, x.diff, l, r))
		}
	}
	return append(out, k.duty(free)...)
}

// cadence rests on the first and the last touchdown alone: every one between cancels.
func (k clock) cadence() (Figure, bool) {
	downs := []int{}
	for i, e := range k.events {
		if e.Kind == Touchdown {
			downs = append(downs, i)
		}
	}
	var usual []float64 // step times
	for _, side := range body.Sides {
		for _, s := range k.steps(side) {
			usual = append(usual, k.length(s))
		}
		for _, s := range k.strides(side) {
			usual = append(usual, k.length(s)/2)
		}
	}
	if len(downs) < 3 || len(usual) == 0 {
		return Figure{}, false
	}
	step, n := stats.Median(usual), 0
	for i := 1; i < len(downs); i++ { // steps that were not marked are counted all the same
		n += max(1, int(math.Round(k.length(span{downs[i-1], downs[i]})/step)))
	}
	first, last := downs[0], downs[len(downs)-1]
	// An odd number of steps holds one more of one foot's: uneven steps would pull the mean. The last
	// one is left out, so that it starts and ends with the same foot.
	if n%2 == 1 && len(downs) > 2 {
		dropped := downs[len(downs)-2]
		n -= max(1, int(math.Round(k.length(span{dropped, last})/step)))
		last = dropped
	}
	if n < 2 {
		return Figure{}, false
	}
	s := span{first, last}
	length, se := k.length(s), math.Sqrt(k.single(s))
	f := Figure{ID: "cadence", Name: "Cadence", Group: "times", Side: body.Both, Unit: "spm", N: n, Value: 60 * float64(n) / length}
	f.SE = f.Value * se / length
	f.Half = 1.96 * f.SE
	f.Answers = f.Half <= k.h.Get("clip.cadence.enough")
	r := k.h.Because("clip.cadence", "the mean step time rests on the first and the last touchdown only",
		"clip.cadence.enough").See("capture rate", "%g frames a second", k.clip.CaptureFps).See("steps", "%d in %.3f s", n, length)
	r.Formula = fmt.Sprintf("60 × %d / %.3f s = %.1f spm; ± 1.96 × %.1f × %.1f ms / %.3f s = ± %.1f", n, length, f.Value, f.Value, 1000*se,
		length, f.Half)
	if !f.Answers {
		f.Word = fmt.Sprintf("± %.1f: mark more steps", f.Half)
	}
	f.Reason = r
	return f, true
}

// difference compares the sides and says whether the clip can.
func (k clock) difference(id, name string, l, r mean) Figure {
	variance := l.variance + r.variance
	if l.averaged && r.averaged {
		d := combination{}
		for i, w := range l.weights {
			d[i] += w
		}
		for i, w := range r.weights {
			d[i] -= w
		}
		variance = k.covariance(d, d)
	}
	f := milliseconds(Figure{ID: id + ".side", Name: name, Group: "times", Side: body.Both, Value: l.value - r.value, SE: math.Sqrt(variance),
		N: min(len(l.spans), len(r.spans))})
	enough := k.h.Get("clip.side.enough")
	f.Answers = f.Half <= enough
	says := ""
	switch {
	case !f.Answers:
		f.Word = "too coarse to compare sides"
		says = fmt.Sprintf("at %g frames a second a side difference is known to ± %.0f ms: too coarse to compare sides, which takes ± %g",
			k.clip.CaptureFps, f.Half, enough)
	case math.Abs(f.Value) > f.Half:
		f.Word = "the sides differ"
		says = "the difference is larger than its error"
	default:
		f.Word = "no difference seen"
		says = "the difference is within its error"
	}
	f.Reason = k.reason("clip.side", says, l, "clip.side.enough", "clip.average.fps", "clip.average.spread")
	f.Reason.Formula = fmt.Sprintf("%.0f − %.0f = %.0f ms ± %.0f", 1000*l.value, 1000*r.value, f.Value, f.Half)
	return f
}

// balanced is the mean of both sides' means, so that an odd step of one foot does not pull it.
func (k clock) balanced(of func(body.Side) []span, free bool) mean {
	l, r := k.meanOf(of(body.Left), free), k.meanOf(of(body.Right), free)
	switch {
	case len(l.spans) == 0:
		return r
	case len(r.spans) == 0:
		return l
	}
	m := mean{spans: append(slices.Clone(l.spans), r.spans...), value: (l.value + r.value) / 2, variance: math.Max(l.variance, r.variance),
		weights: combination{}}
	for _, side := range []mean{l, r} {
		for i, w := range side.weights {
			m.weights[i] += w / 2
		}
	}
	if l.averaged || r.averaged {
		m.variance, m.averaged = k.covariance(m.weights, m.weights), true
	}
	return m
}

// pairTimes are mean contact and flight over both sides with their covariance.
type pairTimes struct {
	tc, tf      float64 // s
	vc, vf, cov float64 // s²
	n           int
	contact     mean
}

func (k clock) pair(free bool) (pairTimes, bool) {
	contact := k.balanced(k.contacts, free)
	flight := k.balanced(k.flights, free)
	if len(contact.spans) == 0 || len(flight.spans) == 0 {
		return pairTimes{}, false
	}
	p := pairTimes{tc: contact.value, tf: flight.value, vc: contact.variance, vf: flight.variance,
		n: min(len(contact.spans), len(flight.spans)), contact: contact}
	if contact.averaged && flight.averaged {
		p.cov = k.covariance(contact.weights, flight.weights)
	} else {
		p.cov = -k.events[contact.spans[0].to].variance // neighbours share one event
	}
	return p, true
}

// duty is contact over stride time, tc / (2 (tc + tf)).
func (k clock) duty(free bool) []Figure {
	p, ok := k.pair(free)
	if !ok || p.tc+p.tf <= 0 {
		return nil
	}
	t := p.tc + p.tf
	dc, df := p.tf/(2*t*t), -p.tc/(2*t*t)
	f := Figure{ID: "duty", Name: "Duty factor", Group: "times", Side: body.Both, Value: 100 * p.tc / (2 * t), Unit: "%", N: p.n,
		Answers: true}
	f.SE = 100 * math.Sqrt(math.Max(0, dc*dc*p.vc+df*df*p.vf+2*dc*df*p.cov))
	f.Half = 1.96 * f.SE
	f.Reason = k.reason("clip.duty", "the share of a stride that one foot is down; 50 % and more has no flight", p.contact)
	f.Reason.Formula = fmt.Sprintf("tc / (2 (tc + tf)) = %.0f / (2 × %.0f) = %.1f %%; contact and flight share an event, so their "+
		"errors pull apart", 1000*p.tc, 1000*t, f.Value)
	return []Figure{f}
}
