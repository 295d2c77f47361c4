package standin

import (
	"math"

	"notchback/internal/core/body"
	"notchback/internal/core/gait"
	"notchback/internal/core/screen"
	"notchback/internal/device"
)

// Film is one simulated clip: a made-up runner on a belt whose gait is known, and the camera.
type Film struct {
	Name       string     `json:"name"`
	Says       string     `json:"says"`
	View       string     `json:"view" enum:"side,rear"`
	Heading    string     `json:"heading" enum:"left,right" doc:"where the runner faces; the side towards the camera follows"`
	CaptureFps float64    `json:"captureFps"`
	PlayFps    float64    `json:"playFps" doc:"as the file plays; slower than it was shot for slow motion"`
	Seconds    float64    `json:"seconds" doc:"of running"`
	Dropped    []int      `json:"dropped" doc:"frames left out of the file"`
	Repeats    bool       `json:"repeats" doc:"every second frame repeats the one before, as in a file converted from a lower rate"`
	SpeedKmh   float64    `json:"speedKmh"`
	Cadence    float64    `json:"cadence" doc:"steps a minute"`
	Contact    [2]float64 `json:"contact" doc:"contact time left and right, s"`
	Shift      float64    `json:"shift" doc:"the step onto the right takes this much longer than half a stride, s"`
	Strike     [2]float64 `json:"strike" doc:"foot-strike angle left and right, °"`
	Ahead      [2]float64 `json:"ahead" doc:"ankle ahead of the hip at touchdown, % of leg length"`
	Trunk      float64    `json:"trunk" doc:"trunk lean, °"`
	Bounce     float64    `json:"bounce" doc:"vertical oscillation, m"`
	Inner      [2]float64 `json:"inner" doc:"inner edge of the shoe to the middle of the belt, mm; minus is over it"`
	KneeIn     [2]float64 `json:"kneeIn" doc:"knee falling in at mid-stance, °"`
	Tilt       float64    `json:"tilt" doc:"camera turned, °"`
	Shutter    float64    `json:"shutter" doc:"share of a frame the shutter is open: 0 sharp, 1 smeared"`
	Barefoot   bool       `json:"barefoot"`
	Tired      bool       `json:"tired"`
}

// The runner's build, m; leg length and segments as shares of a height of 1.75 m, from memory (Winter,
// Biomechanics and Motor Control of Human Movement).
const (
	thigh      = 0.429
	shank      = 0.430
	trunkLong  = 0.50
	shoe       = 0.28 // sole, heel to toe
	ankleAhead = 0.07 // of the heel
	ankleHigh  = 0.09
	// LegMm is what a leg length test would give.
	LegMm = 880
	// HeightCm is the runner's height.
	HeightCm = 175
	footRate = 350. // °/s at which the shoe turns at touchdown
	heelOff  = 0.55 // share of contact after which the heel rises
	pushOff  = 52.  // ° the heel has risen to at toe-off
	width    = 640
	height   = 480
	perMetre = 225. // pixels
	hipLow   = 0.868
	start    = 0.11 // s of the first touchdown
)

func rad(d float64) float64 { return d * math.Pi / 180 }

func at(side body.Side) int {
	if side == body.Right {
		return 1
	}
	return 0
}

// stride is the time of a stride, s.
func (f Film) stride() float64 { return 120 / f.Cadence }

// touchdown is the side's first touchdown, s.
func (f Film) touchdown(side body.Side) float64 {
	if side == body.Right {
		return start + f.stride()/2 + f.Shift
	}
	return start
}

// Flight is the flight after the side's toe-off, s.
func (f Film) Flight(side body.Side) float64 {
	if side == body.Right {
		return f.stride()/2 - f.Shift - f.Contact[1]
	}
	return f.stride()/2 + f.Shift - f.Contact[0]
}

// in says where in its stride a side is at time t: seconds since touchdown.
func (f Film) in(side body.Side, t float64) float64 {
	u := math.Mod(t-f.touchdown(side), f.stride())
	if u < 0 {
		u += f.stride()
	}
	return u
}

// Frames is the number of frames shot.
func (f Film) Frames() int { return int(math.Round(f.Seconds * f.CaptureFps)) }

// vec is a place in the runner's plane, m: x ahead of the hip, y above the belt.
type vec struct{ x, y float64 }

func (a vec) plus(b vec) vec      { return vec{a.x + b.x, a.y + b.y} }
func (a vec) minus(b vec) vec     { return vec{a.x - b.x, a.y - b.y} }
func (a vec) times(k float64) vec { return vec{a.x * k, a.y * k} }
func (a vec) turned(deg float64) vec {
	s, c := math.Sincos(rad(deg))
	return vec{a.x*c - a.y*s, a.x*s + a.y*c}
}

// foot is where one shoe is: pitch in degrees, toe up positive.
type foot struct {
	heel, toe, ankle vec
	pitch            float64
}

// standing places a shoe that touches the belt, given where its heel would be lying flat.
func standing(heelFlat, pitch float64) foot {
	pivot := vec{heelFlat, 0}
	if pitch < 0 {
		pivot.x += shoe
	}
	local := func(x, y float64) vec { return vec{heelFlat + x, y}.minus(pivot).turned(pitch).plus(pivot) }
	return foot{local(0, 0), local(shoe, 0), local(ankleAhead, ankleHigh), pitch}
}

// flatAt is where the heel lies flat at touchdown, so that the ankle is ahead of the hip as asked.
func (f Film) flatAt(side body.Side) float64 {
	want := f.Ahead[at(side)] / 100 * LegMm / 1000
	return want - standing(0, f.Strike[at(side)]).ankle.x
}

func (f Film) stance(side body.Side, u float64) foot {
	i := at(side)
	first := f.Strike[i]
	flat := 2 * math.Abs(first) / footRate // decelerating to flat
	pitch := 0.0
	if u < flat {
		pitch = first * (1 - u/flat) * (1 - u/flat)
	}
	if off := heelOff * f.Contact[i]; u > off && u >= flat {
		pitch = -pushOff * math.Pow((u-off)/(f.Contact[i]-off), 1.5)
	}
	return standing(f.flatAt(side)-f.SpeedKmh/3.6*u, pitch)
}

// hermite runs from a to b over s = 0…1 with the given slopes.
func hermite(a, b, ma, mb, s float64) float64 {
	s2, s3 := s*s, s*s*s
	return a*(2*s3-3*s2+1) + ma*(s3-2*s2+s) + b*(3*s2-2*s3) + mb*(s3-s2)
}

func (f Film) foot(side body.Side, t float64) foot {
	u, tc := f.in(side, t), f.Contact[at(side)]
	if u < tc {
		return f.stance(side, u)
	}
	swing := f.stride() - tc
	s := (u - tc) / swing
	from, to := f.stance(side, tc), f.stance(side, 0)
	v := f.SpeedKmh / 3.6 * swing
	pitch := hermite(from.pitch, to.pitch, -140, 40, s)
	x := hermite(from.ankle.x, to.ankle.x, -v, -0.8*v, s)
	// The lowest point of the shoe rises from the belt and comes down to it at about 0.9 m/s.
	clear := 0.9 * swing * s * (1 - s)
	flat := standing(0, pitch) // touches at height 0
	move := vec{x - flat.ankle.x, clear}
	return foot{flat.heel.plus(move), flat.toe.plus(move), flat.ankle.plus(move), pitch}
}

// hip is how high the hip is at time t, m: lowest in the middle of each contact, highest between.
func (f Film) hip(t float64) float64 {
	l, r := f.touchdown(body.Left)+f.Contact[0]/2, f.touchdown(body.Right)+f.Contact[1]/2
	u := math.Mod(t-l, f.stride())
	if u < 0 {
		u += f.stride()
	}
	p := u / (r - l)
	if u > r-l {
		p = (u - (r - l)) / (f.stride() - (r - l))
	}
	return hipLow + f.Bounce*(1-math.Cos(2*math.Pi*p))/2
}

// Pose is a runner at one moment, m.
type pose struct {
	hip, shoulder, ear vec
	foot, knee         map[body.Side]vec
	shoe               map[body.Side]foot
}

func (f Film) pose(t float64) pose {
	p := pose{hip: vec{0, f.hip(t)}, foot: map[body.Side]vec{}, knee: map[body.Side]vec{}, shoe: map[body.Side]foot{}}
	up := vec{math.Sin(rad(f.Trunk)), math.Cos(rad(f.Trunk))}
	p.shoulder = p.hip.plus(up.times(trunkLong))
	p.ear = p.shoulder.plus(vec{up.x*0.22 + 0.02, 0.22})
	for _, side := range body.Sides {
		s := f.foot(side, t)
		p.shoe[side], p.foot[side] = s, s.ankle
		p.knee[side] = bend(p.hip, s.ankle)
	}
	return p
}

// bend places the knee ahead of the line from hip to ankle.
func bend(hip, ankle vec) vec {
	d := ankle.minus(hip)
	l := math.Min(math.Hypot(d.x, d.y), thigh+shank-1e-6)
	along := (thigh*thigh - shank*shank + l*l) / (2 * l)
	out := math.Sqrt(math.Max(0, thigh*thigh-along*along))
	n := vec{d.x / l, d.y / l}
	return hip.plus(n.times(along)).plus(vec{-n.y, n.x}.times(out))
}

// Known lists what is true of the film's runner, at the very moments of touchdown and toe-off, and can
// be read in its view.
func (f Film) Known() []device.Truth {
	lean := func(low, high vec) float64 { return 180 / math.Pi * math.Atan2(high.x-low.x, high.y-low.y) }
	out := []device.Truth{truth("cadence", body.Both, f.Cadence),
		truth("duty", body.Both, 100*(f.Contact[0]+f.Contact[1])/2/f.stride())}
	if f.View == "side" {
		out = append(out, truth("trunk", body.Both, f.Trunk), truth("oscillation", body.Both, 100*f.Bounce))
	}
	for i, side := range body.Sides {
		out = append(out, truth("contact", side, 1000*f.Contact[i]), truth("flight", side, 1000*f.Flight(side)))
		if f.View == "rear" {
			out = append(out, truth("crossover", side, f.Inner[i]), truth("knee_in", side, f.KneeIn[i]))
			continue
		}
		down, off := f.pose(f.touchdown(side)), f.pose(f.touchdown(side)+f.Contact[i])
		shin := lean(down.foot[side], down.knee[side])
		out = append(out, truth("strike", side, f.Strike[i]), truth("overstride", side, f.Ahead[i]),
			truth("shin", side, -shin),
			truth("knee", side, shin-lean(down.knee[side], down.hip)), truth("hip_extension", side, lean(off.knee[side], off.hip)))
	}
	return out
}

func truth(id string, side body.Side, value float64) device.Truth {
	return device.Truth{ID: id, Side: side, Value: value}
}

// pixel places a point of the runner's plane in the picture.
func (f Film) pixel(v vec) gait.Point {
	x, y := v.x*perMetre, -v.y*perMetre
	if f.View == "side" && f.Heading == "left" {
		x = -x
	}
	s, c := math.Sincos(rad(f.Tilt))
	y += 190 // the belt lies this far below the middle
	return gait.Point{X: width/2 + x*c - y*s, Y: height/2 + x*s + y*c}
}

// behind places a joint of the rear view: how far to the runner's right, m, and how high.
func (f Film) behind(side body.Side, p pose, t float64) map[string]vec {
	i, out := at(side), 1.0 // outwards
	if side == body.Left {
		out = -1
	}
	const half = 0.045 // shoe
	foot := f.Inner[i]/1000 + half
	hip := 0.085
	// The knee falls in and comes back out over the contact.
	in := 0.0
	if u := f.in(side, t); u < f.Contact[i] {
		in = f.KneeIn[i] * math.Sin(math.Pi*u/f.Contact[i])
	}
	s := p.shoe[side]
	low := math.Max(0, s.heel.y)
	knee := p.knee[side].y
	// A bend of the leg by this angle at the knee moves it in by about a quarter of the leg's tangent.
	reach := knee - low
	line := foot + (hip-foot)*reach/(p.hip.y-low)
	upper := p.hip.y - knee
	move := math.Tan(rad(in)) * reach * upper / (reach + upper)
	return map[string]vec{
		"inner": {out * (foot - half), low + 0.02}, "outer": {out * (foot + half), low + 0.02}, "heel_low": {out * foot, low + 0.01},
		"heel_high": {out * foot, low + 0.085},
		"knee":      {out * (line - move), knee}, "hip": {out * hip, p.hip.y},
	}
}

// Points are the true places of the view's points in the picture at a frame.
func (f Film) Points(side body.Side, frame int) map[string]gait.Point {
	t := float64(frame) / f.CaptureFps
	p := f.pose(t)
	out := map[string]gait.Point{}
	if f.View == "rear" {
		for id, v := range f.behind(side, p, t) {
			if id != "outer" {
				out[id] = f.pixel(v)
			}
		}
		return out
	}
	s := p.shoe[side]
	for id, v := range map[string]vec{"heel": s.heel.plus(tape(s, 0)), "toe": s.toe.plus(tape(s, 1)), "ankle": s.ankle, "knee": p.knee[side],
		"hip": p.hip, "shoulder": p.shoulder, "ear": p.ear} {
		out[id] = f.pixel(v)
	}
	return out
}

// tape is where the tape on the shoe is, low at the very back (0) or the very tip (1).
func tape(s foot, end int) vec {
	local := vec{0.008, 0.018}
	if end == 1 {
		local = vec{-0.012, 0.018}
	}
	return local.turned(s.pitch)
}

// Marked is the clip as a coach with a perfect eye marks it: the first frame of each contact and the
// first without, the points where they are on those frames, a metre of the board, the belt as level.
func (f Film) Marked() gait.Clip {
	c := gait.Clip{Name: f.Name + ".mp4", View: f.View, Heading: f.Heading, CaptureFps: f.CaptureFps, PlayFps: f.PlayFps, Frames: f.Frames(),
		Missing: f.Dropped, Width: width, Height: height, Marks: []gait.Event{}, Stills: []gait.Still{},
		Context: screen.Context{Pace: "easy", Shod: "shoes", SpeedKmh: f.SpeedKmh, Surface: "treadmill", Tired: f.Tired}}
	if f.Barefoot {
		c.Context.Shod = "barefoot"
	}
	if f.Repeats {
		for n := 1; n < c.Frames; n += 2 {
			c.Missing = append(c.Missing, n)
		}
	}
	missing := map[int]bool{}
	for _, n := range c.Missing {
		missing[n] = true
	}
	first := func(t float64) int {
		n := int(math.Ceil(t*f.CaptureFps - 1e-9))
		for missing[n] {
			n++
		}
		return n
	}
	for _, side := range body.Sides {
		for t := f.touchdown(side); t < f.Seconds; t += f.stride() {
			down, off := first(t), first(t+f.Contact[at(side)])
			if down >= c.Frames {
				break
			}
			c.Marks = append(c.Marks, gait.Event{Frame: down, Side: side, Kind: gait.Touchdown})
			if off >= c.Frames {
				break
			}
			c.Marks = append(c.Marks, gait.Event{Frame: off, Side: side, Kind: gait.ToeOff})
		}
	}
	a, b := f.Metre()
	c.Scale = &gait.Length{Segment: gait.Segment{A: a, B: b}, Mm: 1000}
	c.Level = &gait.Segment{A: f.pixel(vec{-1.2, 0}), B: f.pixel(vec{1.2, 0})}
	if f.View == "rear" {
		c.Midline = &gait.Segment{A: f.pixel(vec{0, -0.12}), B: f.pixel(vec{0, 0.13})}
	}
	for i, s := range c.Suggest() {
		points := map[string]gait.Point{}
		all := f.Points(s.Side, s.Frame)
		for _, id := range s.Points {
			points[id] = all[id]
		}
		c.Stills = append(c.Stills, gait.Still{ID: stillID(i), Frame: s.Frame, Side: s.Side, At: s.At, Points: points})
	}
	return c
}

// Metre are the ends of the metre on the board in the picture.
func (f Film) Metre() (a, b gait.Point) { return f.pixel(vec{-0.5, -0.09}), f.pixel(vec{0.5, -0.09}) }
