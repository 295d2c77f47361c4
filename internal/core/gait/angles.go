package gait

import (
	"fmt"
	"math"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

// room are a still's points in the room: x ahead of the runner (to the runner's right from behind), y
// up, in pixels, with the camera's tilt taken out.
type room map[string]Point

func (c Clip) room(s Still) room {
	tilt := c.tilt()
	cos, sin := math.Cos(tilt), math.Sin(tilt)
	out := room{}
	for id, p := range s.Points {
		out[id] = c.turned(p, cos, sin)
	}
	return out
}

func (c Clip) turned(p Point, cos, sin float64) Point {
	q := Point{p.X*cos - p.Y*sin, -(p.X*sin + p.Y*cos)}
	if c.View == "side" && c.Heading == "left" {
		q.X = -q.X
	}
	return q
}

// tilt is how far the picture is turned, radians, from the line that is level in the room; it takes
// the same turn out again.
func (c Clip) tilt() float64 {
	if c.Level == nil {
		return 0
	}
	a, b := c.Level.A, c.Level.B
	if b.X < a.X {
		a, b = b, a
	}
	return -math.Atan2(b.Y-a.Y, b.X-a.X)
}

// has reports whether all the points are set.
func (r room) has(ids ...string) bool {
	for _, id := range ids {
		if _, ok := r[id]; !ok {
			return false
		}
	}
	return true
}

func (r room) apart(a, b string) float64 { return math.Hypot(r[b].X-r[a].X, r[b].Y-r[a].Y) }

const degree = 180 / math.Pi

// lean is how far the line from low to high leans ahead of the vertical, degrees.
func (r room) lean(low, high string) float64 {
	return degree * math.Atan2(r[high].X-r[low].X, r[high].Y-r[low].Y)
}

// seen is one still's value of a figure with the standard error its clicks leave.
type seen struct {
	value, click float64
}

// measured is a figure read from stills.
type measured struct {
	id, name, unit string
	at             Moment
	rate           string // house rule: how fast it changes at its moment, a second; "" hardly
	says           string
	both           bool // of the body, not of a leg
	of             func(room) (value, click float64, ok bool)
}

// clicks is the standard error of one coordinate of a clicked point, pixels.
func clicks(h house.Rules) float64 { return h.Get("clip.click") / 1.96 }

// Angles reads what the points on the stills give, side by side. Frames must have been checked.
func Angles(c Clip, b Body, h house.Rules) []Figure {
	if c.View == "rear" {
		return behind(c, h)
	}
	sd := clicks(h)
	// Between two clicked points, an angle is off by the click error across the line over its length.
	line := func(r room, a, z string) float64 { return degree * math.Sqrt2 * sd / math.Max(r.apart(a, z), 1) }
	legPx, legSE := c.legPixels(b, h)
	list := []measured{
		{"overstride", "Ankle ahead of the hip at landing", "%", AtTouchdown, "clip.rate.forward",
			"ankle ahead of the hip as a share of leg length", false, func(r room) (float64, float64, bool) {
				if !r.has("ankle", "hip") || legPx == 0 {
					return 0, 0, false
				}
				v := 100 * (r["ankle"].X - r["hip"].X) / legPx
				return v, math.Hypot(100*math.Sqrt2*sd/legPx, v*legSE), true
			}},
		{"shin", "Shin angle at landing", "°", AtTouchdown, "clip.rate.leg", "shin leaning back from the vertical; minus when it leans forward",
			false, func(r room) (float64, float64, bool) {
				return -r.lean("ankle", "knee"), line(r, "ankle", "knee"), r.has("ankle", "knee")
			}},
		{"knee", "Knee bend at landing", "°", AtTouchdown, "clip.rate.knee", "bend of the knee: 0 is straight", false,
			func(r room) (float64, float64, bool) {
				return r.lean("ankle", "knee") - r.lean("knee", "hip"), math.Hypot(line(r, "ankle", "knee"), line(r, "knee", "hip")),
					r.has("ankle", "knee", "hip")
			}},
		{"hip_extension", "Hip extension at toe-off", "°", AtToeOff, "clip.rate.leg", "thigh behind the vertical", false,
			func(r room) (float64, float64, bool) {
				return r.lean("knee", "hip"), line(r, "knee", "hip"), r.has("knee", "hip")
			}},
		{"trunk", "Trunk lean", "°", AtTouchdown, "", "shoulder ahead of the hip", true, func(r room) (float64, float64, bool) {
			return r.lean("hip", "shoulder"), line(r, "hip", "shoulder"), r.has("hip", "shoulder")
		}},
		{"head", "Head ahead of the shoulder", "°", AtTouchdown, "", "ear ahead of the shoulder, from the vertical", true,
			func(r room) (float64, float64, bool) {
				return r.lean("shoulder", "ear"), line(r, "shoulder", "ear"), r.has("shoulder", "ear")
			}},
	}
	out := strikes(c, h)
	for _, m := range list {
		sides := body.Sides
		if m.both {
			sides = []body.Side{body.Both}
		}
		for _, side := range sides {
			if f, ok := c.measure(m, side, h); ok {
				out = append(out, f)
			}
		}
	}
	if f, ok := c.oscillation(h); ok {
		out = append(out, f)
	}
	return out
}

// sighting is a still's points, and how many frames lie between it and the one on the other side of its
// event: 1, or more where the file left frames out.
type sighting struct {
	room
	gap float64
}

// stills lists the stills of a side and moment.
func (c Clip) stills(side body.Side, at Moment) []sighting {
	out := []sighting{}
	for _, s := range c.Stills {
		if s.At != at || s.Side != side && side != body.Both {
			continue
		}
		gap := s.Frame - c.before(s.Frame)
		if at != AtTouchdown { // the event, or the turning point, may come after it
			gap = max(gap, c.there(s.Frame+1)-s.Frame)
		}
		out = append(out, sighting{c.room(s), float64(max(1, gap))})
	}
	return out
}

// widest is the largest gap of the stills.
func widest(all []sighting) float64 {
	g := 1.
	for _, s := range all {
		g = math.Max(g, s.gap)
	}
	return g
}

// frameError is the standard error of something that changes at a rate while the frame waits: the event
// was up to a frame before the still (after it, at toe-off). Its mean shift, half a frame, does not
// shrink with the number of stills.
func frameError(rate, fps float64, n int) float64 {
	return rate / fps * math.Sqrt(1./4+1/(12*float64(n)))
}

// measure averages the stills of one figure and side.
func (c Clip) measure(m measured, side body.Side, h house.Rules) (Figure, bool) {
	var all []seen
	gap := widest(c.stills(side, m.at))
	for _, r := range c.stills(side, m.at) {
		if v, click, ok := m.of(r.room); ok {
			all = append(all, seen{v, click})
		}
	}
	if len(all) == 0 {
		return Figure{}, false
	}
	f := Figure{ID: m.id, Name: m.name, Group: "angles", Side: side, Unit: m.unit, N: len(all), Answers: true}
	v, click, list := mean1(all)
	f.Value = v
	frame := 0.0
	keys := []string{"clip.click"}
	if m.rate != "" {
		frame = frameError(h.Get(m.rate), c.CaptureFps/gap, len(all))
		keys = append(keys, m.rate)
	}
	level := c.levelError(h)
	if m.unit != "°" {
		level = 0
	}
	f.SE = math.Sqrt(click*click + frame*frame + level*level)
	f.Half = 1.96 * f.SE
	r := h.Because("clip.angle", m.says, keys...).See("stills", "%s", list).See("click error", "± %.2g %s", 1.96*click, m.unit)
	if frame > 0 {
		r = r.See("frame error", "± %.2g %s at %g frames a second", 1.96*frame, m.unit, c.CaptureFps)
	}
	if level > 0 {
		r = r.See("level line", "± %.2g°", 1.96*level)
	} else if c.Level == nil && m.unit == "°" {
		r = r.See("level line", "none drawn: a tilted camera is not corrected")
	}
	r.Formula = fmt.Sprintf("mean of %s; ± 1.96 × √(click² + frame²) = ± %.2g", list, f.Half)
	f.Reason = r
	return f, true
}

// mean1 averages values; their click errors are independent.
func mean1(all []seen) (v, click float64, list string) {
	n := float64(len(all))
	words := []string{}
	for _, x := range all {
		v += x.value / n
		click += x.click * x.click / (n * n)
		words = append(words, fmt.Sprintf("%.1f", x.value))
	}
	return v, math.Sqrt(click), strings.Join(words, ", ")
}

// levelError is what drawing the level line leaves, degrees.
func (c Clip) levelError(h house.Rules) float64 {
	if c.Level == nil {
		return 0
	}
	return degree * math.Sqrt2 * clicks(h) / c.Level.length()
}

// scale is pixels a mm with its relative standard error; 0 without a known length.
func (c Clip) scale(h house.Rules) (pxPerMm, relative float64) {
	if c.Scale == nil {
		return 0, 0
	}
	l := c.Scale.length()
	return l / c.Scale.Mm, math.Sqrt2 * clicks(h) / l
}

// legPixels is the leg length in the picture with its relative standard error; 0 when the leg or the
// scale is not known.
func (c Clip) legPixels(b Body, h house.Rules) (px, relative float64) {
	leg, se := b.leg(h)
	scale, rel := c.scale(h)
	if leg == 0 || scale == 0 {
		return 0, 0
	}
	return 1000 * leg * scale, math.Hypot(rel, se/leg)
}

func sole(r room) float64 {
	return degree * math.Atan2(r["toe"].Y-r["heel"].Y, r["toe"].X-r["heel"].X)
}

// strikes reads the foot-strike angle, the shoe at touchdown minus the shoe flat, and its class where
// the clip allows one.
// Source of the classes: Altman & Davis 2012, Gait & Posture 35:298.
func strikes(c Clip, h house.Rules) []Figure {
	out := []Figure{}
	sd := clicks(h)
	for _, side := range body.Sides {
		read := func(at Moment) []seen {
			var all []seen
			for _, r := range c.stills(side, at) {
				if r.has("heel", "toe") {
					all = append(all, seen{sole(r.room), degree * math.Sqrt2 * sd / math.Max(r.apart("heel", "toe"), 1)})
				}
			}
			return all
		}
		down, flat := read(AtTouchdown), read(MidStance)
		if len(down) == 0 {
			continue
		}
		f := Figure{ID: "strike", Name: "Foot-strike angle", Group: "angles", Side: side, Unit: "°", N: len(down)}
		r := h.Because("clip.strike", "", "gait.strike.rear", "gait.strike.fore", "clip.strike.fps", "clip.rate.foot", "clip.click")
		if len(flat) == 0 {
			f.Word = "mark the shoe flat too"
			r.Says = "the angle is that of the shoe at touchdown minus that of the same shoe flat: set heel and toe on a mid-stance still"
			f.Reason = r
			out = append(out, f)
			continue
		}
		dv, dc, dl := mean1(down)
		fv, fc, fl := mean1(flat)
		fps := c.CaptureFps / widest(c.stills(side, AtTouchdown))
		frame := frameError(h.Get("clip.rate.foot"), fps, len(down))
		f.Value, f.SE = dv-fv, math.Sqrt(dc*dc+fc*fc+frame*frame)
		f.Half = 1.96 * f.SE
		f.Answers, f.Word, r.Says = classed(f.Value, f.Half, fps, h)
		r = r.See("at touchdown", "%s°", dl).See("flat", "%s°", fl).See("click error", "± %.1f°", 1.96*math.Hypot(dc, fc)).See("frame error",
			"± %.1f° at %g frames a second", 1.96*frame, c.CaptureFps)
		r.Formula = fmt.Sprintf("%.1f° − %.1f° = %.1f° ± %.1f", dv, fv, f.Value, f.Half)
		f.Reason = r
		out = append(out, f)
	}
	return out
}

// classed says what a foot-strike angle allows to be said.
func classed(angle, half, fps float64, h house.Rules) (answers bool, word, says string) {
	if least := h.Get("clip.strike.fps"); fps < least {
		return false, "by eye only", fmt.Sprintf("the foot turns at several hundred degrees a second at landing: below %g frames a second no "+
			"class is given from an angle; look, and record it as seen by eye", least)
	}
	low, high := screen.StrikeOf(angle-half, h), screen.StrikeOf(angle+half, h)
	if low == high {
		return true, string(low), "the whole interval lies in one class"
	}
	if low == screen.Forefoot && high == screen.Rearfoot {
		return false, "cannot tell", "the interval reaches from forefoot to rearfoot: more stills, a closer picture or more frames a second"
	}
	return false, string(high) + " or " + string(low),
		"the interval crosses the limit between two classes: more stills, a closer picture or more frames a second"
}

// oscillation is how far the hip rises from mid-stance to mid-flight, cm.
func (c Clip) oscillation(h house.Rules) (Figure, bool) {
	scale, rel := c.scale(h)
	if scale == 0 {
		return Figure{}, false
	}
	height := func(at Moment) (sum float64, n int) {
		for _, r := range c.stills(body.Both, at) {
			if r.has("hip") {
				sum += r.room["hip"].Y
				n++
			}
		}
		return sum, n
	}
	low, nl := height(MidStance)
	high, nh := height(MidFlight)
	if nl == 0 || nh == 0 {
		return Figure{}, false
	}
	px := high/float64(nh) - low/float64(nl)
	f := Figure{ID: "oscillation", Name: "Vertical oscillation", Group: "angles", Side: body.Both, Unit: "cm", N: min(nl, nh),
		Value: px / scale / 10}
	click := clicks(h) * math.Sqrt(1/float64(nl)+1/float64(nh)) / scale / 10
	// A still may be a frame off the highest or lowest point; there it moves least, by the square.
	gap := math.Max(widest(c.stills(body.Both, MidStance)), widest(c.stills(body.Both, MidFlight)))
	off := gap / c.CaptureFps
	frame := 0.5 * g * off * off * 100
	f.SE = math.Sqrt(click*click + f.Value*rel*f.Value*rel + frame*frame)
	f.Half = 1.96 * f.SE
	enough := h.Get("clip.oscillation.enough")
	if f.Answers = f.Half <= enough; !f.Answers {
		f.Word = "± " + body.Bare("cm", "%.1f", f.Half) + ": mark more stills"
	}
	r := h.Because("clip.oscillation", "rise of the hip from mid-stance to mid-flight", "clip.oscillation.enough", "clip.click").See("stills",
		"%d low, %d high", nl, nh).See("scale", "%.2f pixels a mm", scale)
	r.Formula = fmt.Sprintf("%.1f px / %.3f px a mm = %s ± %s", px, scale, body.In("cm", "%.1f", f.Value), body.Bare("cm", "%.1f", f.Half))
	f.Reason = r
	return f, true
}

// behind reads the view from behind: where the foot lands against the middle of the belt, and how far
// heel and knee fall in at mid-stance.
func behind(c Clip, h house.Rules) []Figure {
	out := []Figure{}
	sd := clicks(h)
	scale, rel := c.scale(h)
	for _, side := range body.Sides {
		in := 1.0 // towards the middle is to the right of the left foot
		if side == body.Right {
			in = -1
		}
		line := func(r room, a, z string) float64 { return degree * math.Sqrt2 * sd / math.Max(r.apart(a, z), 1) }
		list := []measured{
			{"heel_in", "Heel tilted in at mid-stance", "°", MidStance, "", "top of the heel leaning in over its bottom; eversion of the heel",
				false, func(r room) (float64, float64, bool) {
					return in * r.lean("heel_low", "heel_high"), line(r, "heel_low", "heel_high"), r.has("heel_low", "heel_high")
				}},
			{"knee_in", "Knee falling in at mid-stance", "°", MidStance, "",
				"knee inside the line from hip to heel; there is no reference, compare the sides", false, func(r room) (float64, float64, bool) {
					return in * (r.lean("heel_low", "knee") - r.lean("knee", "hip")), math.Hypot(line(r, "heel_low", "knee"), line(r, "knee", "hip")),
						r.has("heel_low", "knee", "hip")
				}},
		}
		for _, m := range list {
			if f, ok := c.measure(m, side, h); ok {
				f.Group = "behind"
				out = append(out, f)
			}
		}
		if f, ok := c.crossover(side, in, sd, scale, rel, h); ok {
			out = append(out, f)
		}
	}
	return out
}

// crossover is the distance of the inner edge of the shoe from the middle of the belt, mm; minus when
// it is over it.
func (c Clip) crossover(side body.Side, in, sd, scale, rel float64, h house.Rules) (Figure, bool) {
	if c.Midline == nil || scale == 0 {
		return Figure{}, false
	}
	tilt := c.tilt()
	cos, sin := math.Cos(tilt), math.Sin(tilt)
	a, b := c.turned(c.Midline.A, cos, sin), c.turned(c.Midline.B, cos, sin)
	if a.Y == b.Y {
		return Figure{}, false
	}
	var all []seen
	for _, r := range c.stills(side, MidStance) {
		if !r.has("inner") {
			continue
		}
		p := r.room["inner"]
		at := a.X + (p.Y-a.Y)/(b.Y-a.Y)*(b.X-a.X) // the line at the height of the foot
		all = append(all, seen{in * (at - p.X) / scale, math.Sqrt2 * sd / scale})
	}
	if len(all) == 0 {
		return Figure{}, false
	}
	v, click, list := mean1(all)
	f := Figure{ID: "crossover", Name: "Inner edge to the middle of the belt", Group: "behind", Side: side, Unit: "mm", N: len(all), Value: v}
	f.SE = math.Hypot(click, v*rel)
	f.Half = 1.96 * f.SE
	f.Answers = true
	switch {
	case v > f.Half:
		f.Word = "clear of the line"
	case v < -f.Half:
		f.Word = "over the line"
	default:
		f.Word = "touches the line"
	}
	r := h.Because("clip.crossover", "inner edge of the shoe against the tape; within its error it touches", "clip.click").See("stills",
		"%s mm", list)
	r.Provenance = body.Common
	r.Formula = fmt.Sprintf("mean %.0f mm ± %.0f: %s", v, f.Half, f.Word)
	f.Reason = r
	return f, true
}
