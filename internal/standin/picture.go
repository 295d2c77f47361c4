package standin

import (
	"image"
	"image/color"
	"image/draw"
	"math"

	"golang.org/x/image/vector"

	"notchback/internal/core/body"
	"notchback/internal/core/gait"
)

// The stand-in's colours; the tape is bright and of one colour a piece.
var (
	wall    = color.RGBA{92, 110, 104, 255}
	floor   = color.RGBA{58, 70, 66, 255}
	belt    = color.RGBA{34, 40, 38, 255}
	beltBit = color.RGBA{70, 78, 74, 255}
	chalk   = color.RGBA{226, 230, 220, 255}
	ink     = color.RGBA{20, 26, 24, 255}
	skin    = color.RGBA{150, 112, 90, 255}
	far     = color.RGBA{104, 78, 64, 255}
	shirt   = color.RGBA{44, 84, 96, 255}
	shorts  = color.RGBA{30, 40, 52, 255}
	nearFit = color.RGBA{60, 58, 74, 255}
	farFit  = color.RGBA{46, 46, 58, 255}

	tapes = map[string]color.RGBA{"heel": {255, 235, 60, 255}, "toe": {90, 255, 120, 255}, "ankle": {255, 120, 240, 255},
		"knee": {110, 235, 255, 255}, "hip": {255, 250, 250, 255}, "shoulder": {255, 170, 60, 255}, "ear": {190, 255, 200, 255},
		"far heel": {255, 90, 70, 255}, "far toe": {120, 150, 255, 255}}
)

// bits of the frame counter in the top left corner, so that a test can read which frame is shown.
const (
	counterBits = 12
	counterSize = 12
)

// Frame renders one frame; a slow shutter smears it over its exposure.
func (f Film) Frame(n int) *image.RGBA {
	if f.Repeats {
		n -= n % 2
	}
	parts := 1
	if f.Shutter > 0.3 {
		parts = 8
	}
	out := image.NewRGBA(image.Rect(0, 0, width, height))
	if parts == 1 {
		f.draw(out, float64(n)/f.CaptureFps)
	} else {
		sum := make([]uint32, len(out.Pix))
		part := image.NewRGBA(out.Bounds())
		for i := range parts {
			f.draw(part, (float64(n)+f.Shutter*((float64(i)+0.5)/float64(parts)-0.5))/f.CaptureFps)
			for j, v := range part.Pix {
				sum[j] += uint32(v)
			}
		}
		for j, v := range sum {
			out.Pix[j] = uint8(v / uint32(parts))
		}
	}
	for i := range counterBits {
		c := ink
		if n>>i&1 == 1 {
			c = chalk
		}
		draw.Draw(out, image.Rect(i*counterSize, 0, (i+1)*counterSize, counterSize), image.NewUniform(c), image.Point{}, draw.Src)
	}
	return out
}

// CounterAt tells where bit i of the frame counter is read, and how many there are.
func CounterAt(i int) (x, y, bits int) {
	return i*counterSize + counterSize/2, counterSize / 2, counterBits
}

// brush draws shapes given in metres.
type brush struct {
	f   Film
	img *image.RGBA
}

// fill fills a polygon of picture points, antialiased.
func (b brush) fill(c color.RGBA, points ...gait.Point) {
	low, high := points[0], points[0]
	for _, p := range points {
		low.X, low.Y = math.Min(low.X, p.X), math.Min(low.Y, p.Y)
		high.X, high.Y = math.Max(high.X, p.X), math.Max(high.Y, p.Y)
	}
	box := image.Rect(int(low.X)-1, int(low.Y)-1, int(high.X)+2, int(high.Y)+2).Intersect(b.img.Bounds())
	if box.Empty() {
		return
	}
	r := vector.NewRasterizer(box.Dx(), box.Dy())
	for i, p := range points {
		x, y := float32(p.X)-float32(box.Min.X), float32(p.Y)-float32(box.Min.Y)
		if i == 0 {
			r.MoveTo(x, y)
		} else {
			r.LineTo(x, y)
		}
	}
	r.ClosePath()
	r.Draw(b.img, box, image.NewUniform(c), image.Point{})
}

func (b brush) poly(c color.RGBA, points ...vec) {
	out := make([]gait.Point, len(points))
	for i, v := range points {
		out[i] = b.f.pixel(v)
	}
	b.fill(c, out...)
}

func (b brush) disc(c color.RGBA, at gait.Point, pixels float64) {
	out := make([]gait.Point, 20)
	for i := range out {
		s, k := math.Sincos(2 * math.Pi * float64(i) / float64(len(out)))
		out[i] = gait.Point{X: at.X + pixels*k, Y: at.Y + pixels*s}
	}
	b.fill(c, out...)
}

// limb is a rounded bar from a to z, m thick at each end.
func (b brush) limb(c color.RGBA, a, z vec, thickA, thickZ float64) {
	d := z.minus(a)
	l := math.Max(math.Hypot(d.x, d.y), 1e-6)
	n := vec{-d.y / l, d.x / l}
	b.poly(c, a.plus(n.times(thickA/2)), z.plus(n.times(thickZ/2)), z.minus(n.times(thickZ/2)), a.minus(n.times(thickA/2)))
	b.disc(c, b.f.pixel(a), thickA/2*perMetre)
	b.disc(c, b.f.pixel(z), thickZ/2*perMetre)
}

func (b brush) tape(id string, at gait.Point) { b.disc(tapes[id], at, 4.2) }

func (f Film) draw(img *image.RGBA, t float64) {
	draw.Draw(img, img.Bounds(), image.NewUniform(wall), image.Point{}, draw.Src)
	b := brush{f, img}
	b.poly(floor, vec{-3, 0}, vec{3, 0}, vec{3, -1}, vec{-3, -1})
	if f.View == "rear" {
		b.rear(t)
		return
	}
	b.side(t)
}

// board is the measuring board at the foot of the belt: a metre with its tenths.
func (b brush) board(low float64) {
	b.poly(chalk, vec{-0.56, low + 0.03}, vec{0.56, low + 0.03}, vec{0.56, low - 0.03}, vec{-0.56, low - 0.03})
	for i := range 11 {
		x, long := -0.5+float64(i)/10, 0.015
		if i%5 == 0 {
			long = 0.03
		}
		b.poly(ink, vec{x - 0.004, low + 0.03}, vec{x + 0.004, low + 0.03}, vec{x + 0.004, low + 0.03 - 2*long},
			vec{x - 0.004, low + 0.03 - 2*long})
	}
}

func (b brush) side(t float64) {
	f := b.f
	b.poly(belt, vec{-1.25, 0}, vec{1.25, 0}, vec{1.25, -0.05}, vec{-1.25, -0.05})
	for i := range 9 { // marks that run back with the belt
		x := math.Mod(float64(i)*0.3-f.SpeedKmh/3.6*t, 2.4)
		if x < 0 {
			x += 2.4
		}
		b.poly(beltBit, vec{x - 1.22, -0.005}, vec{x - 1.14, -0.005}, vec{x - 1.14, -0.045}, vec{x - 1.22, -0.045})
	}
	b.board(-0.09)
	p := f.pose(t)
	near, away := body.Right, body.Left
	if f.Heading == "left" {
		near, away = away, near
	}
	b.arm(p, f, away, t, far)
	b.leg(p, away, far, farFit, "far ")
	b.limb(shirt, p.hip.plus(vec{0, 0.06}), p.shoulder, 0.2, 0.22)
	b.limb(skin, p.shoulder.plus(vec{0, 0.05}), p.ear.plus(vec{0, -0.05}), 0.08, 0.08)
	b.disc(skin, f.pixel(p.ear.plus(vec{0.015, 0.01})), 0.105*perMetre)
	b.limb(ink, p.ear.plus(vec{-0.05, 0.09}), p.ear.plus(vec{0.07, 0.085}), 0.05, 0.04)
	b.limb(ink, p.ear.plus(vec{0.08, 0.07}), p.ear.plus(vec{0.17, 0.065}), 0.018, 0.014) // brim
	b.leg(p, near, skin, nearFit, "")
	b.tape("hip", f.pixel(p.hip))
	b.tape("shoulder", f.pixel(p.shoulder))
	b.tape("ear", f.pixel(p.ear))
	b.arm(p, f, near, t, skin)
}

// arm swings against the leg of its side; it hangs behind the shoulder's tape.
func (b brush) arm(p pose, f Film, side body.Side, t float64, c color.RGBA) {
	swing := 28 * math.Sin(2*math.Pi*(t-f.touchdown(side)+0.05)/f.stride())
	elbow := p.shoulder.plus(vec{-0.03, -0.06}).plus(vec{0, -0.24}.turned(-swing - 12))
	hand := elbow.plus(vec{0.24, 0.02}.turned(-swing/2 + 8))
	b.limb(c, p.shoulder.plus(vec{-0.03, -0.07}), elbow, 0.07, 0.06)
	b.limb(c, elbow, hand, 0.055, 0.05)
}

func (b brush) leg(p pose, side body.Side, flesh, fit color.RGBA, which string) {
	s := p.shoe[side]
	b.limb(flesh, p.knee[side], s.ankle, 0.105, 0.07)
	b.limb(flesh, p.hip, p.knee[side], 0.15, 0.11)
	b.limb(shorts, p.hip, p.hip.plus(p.knee[side].minus(p.hip).times(0.55)), 0.19, 0.17)
	local := func(x, y float64) vec { return s.heel.plus(vec{x, y}.turned(s.pitch)) }
	b.poly(fit, local(0, 0), local(shoe-0.03, 0), local(shoe, 0.02), local(shoe-0.02, 0.055), local(0.15, 0.085), local(0.1, 0.11),
		local(0.02, 0.11), local(-0.005, 0.04))
	b.poly(chalk, local(0, 0), local(shoe-0.03, 0), local(shoe, 0.02), local(shoe-0.01, 0.012), local(0.01, 0.012))
	b.tape(which+"heel", b.f.pixel(s.heel.plus(tape(s, 0))))
	b.tape(which+"toe", b.f.pixel(s.toe.plus(tape(s, 1))))
	if which == "" {
		b.tape("ankle", b.f.pixel(s.ankle))
		b.tape("knee", b.f.pixel(p.knee[side]))
	}
}

func (b brush) rear(t float64) {
	f := b.f
	b.poly(belt, vec{-0.28, 0.14}, vec{0.28, 0.14}, vec{0.36, -0.13}, vec{-0.36, -0.13})
	b.poly(chalk, vec{-0.008, 0.13}, vec{0.008, 0.13}, vec{0.01, -0.12}, vec{-0.01, -0.12}) // tape down the middle
	b.board(-0.19)
	p := f.pose(t)
	sides := []body.Side{body.Left, body.Right}
	if p.shoe[body.Left].ankle.x < p.shoe[body.Right].ankle.x { // the foot behind is nearer to the camera
		sides = []body.Side{body.Right, body.Left}
	}
	for _, side := range sides {
		v := f.behind(side, p, t)
		b.limb(skin, v["knee"], v["heel_high"], 0.11, 0.07)
		b.limb(skin, v["hip"], v["knee"], 0.16, 0.12)
		b.limb(shorts, v["hip"], v["hip"].plus(v["knee"].minus(v["hip"]).times(0.5)), 0.19, 0.18)
		low := v["heel_low"]
		b.poly(nearFit, low.plus(vec{-0.045, -0.01}), low.plus(vec{0.045, -0.01}), low.plus(vec{0.04, 0.09}), low.plus(vec{-0.04, 0.09}))
		for _, id := range []string{"heel_low", "heel_high", "knee"} {
			b.tape(map[string]string{"heel_low": "heel", "heel_high": "toe", "knee": "knee"}[id], f.pixel(v[id]))
		}
	}
	chest := vec{0, p.shoulder.y}
	b.limb(shirt, vec{0, p.hip.y + 0.08}, chest, 0.26, 0.34)
	for _, side := range sides {
		b.tape("hip", f.pixel(f.behind(side, p, t)["hip"]))
	}
	b.disc(skin, f.pixel(vec{0, p.ear.y}), 0.1*perMetre)
	b.disc(ink, f.pixel(vec{0, p.ear.y + 0.03}), 0.095*perMetre)
	for _, side := range sides {
		out := 1.0
		if side == body.Left {
			out = -1
		}
		swing := math.Sin(2 * math.Pi * (t - f.touchdown(side)) / f.stride())
		elbow := chest.plus(vec{out * (0.27 + 0.01*swing), -0.24})
		b.limb(skin, chest.plus(vec{out * 0.19, -0.03}), elbow, 0.08, 0.065)
		b.limb(skin, elbow, elbow.plus(vec{-out * 0.08, 0.06 + 0.1*swing}), 0.06, 0.05)
	}
}
