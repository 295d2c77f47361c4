package standin

import (
	"embed"
	"fmt"
	"io/fs"
	"math"

	"notchback/internal/device"
)

// The clips ship with the application; ./notchback clips renders them anew.
//
//go:embed clips
var clips embed.FS

// Shelf holds the films that ship.
type Shelf struct{}

// List lists the films.
func (Shelf) List() []device.Film {
	out := []device.Film{}
	for _, f := range Films {
		c := f.Marked().Context
		out = append(out, device.Film{Name: f.Name, Says: f.Says, View: f.View, Heading: f.Heading, CaptureFps: f.CaptureFps,
			SpeedKmh: f.SpeedKmh, Shod: c.Shod, Tired: c.Tired, Known: f.Known()})
	}
	return out
}

// Open opens the file of a film.
func (Shelf) Open(name string) (fs.File, error) { return clips.Open("clips/" + name + ".mp4") }

// usual is a runner nothing is wrong with.
func usual(name string, fps, seconds float64, change func(*Film)) Film {
	f := Film{Name: name, View: "side", Heading: "right", CaptureFps: fps, PlayFps: fps, Seconds: seconds, SpeedKmh: 10, Cadence: 170.7,
		Contact: [2]float64{0.252, 0.252}, Strike: [2]float64{14, 14},
		Ahead: [2]float64{20, 20}, Trunk: 6, Bounce: 0.075, Inner: [2]float64{30, 30}, KneeIn: [2]float64{3, 3}, Shutter: 0.1, Dropped: []int{}}
	change(&f)
	f.Cadence = spread(f.Cadence, fps)
	return f
}

// spread is a cadence close to the one given whose strides end at ever other places between two frames,
// as a living runner's do; a stride of exactly so many and a half frames would see two places only.
func spread(cadence, fps float64) float64 {
	const golden = 0.381966
	frames := math.Floor(120/cadence*fps) + golden
	return math.Round(1e4*120*fps/frames) / 1e4
}

// Films are the clips that ship, each with its truth.
var Films = []Film{
	usual("heel-30", 30, 4, func(f *Film) {
		f.Says, f.Cadence, f.Ahead = "Heel strike, an ordinary camera", 163.3, [2]float64{24, 24}
	}),
	usual("heel-60", 60, 3, func(f *Film) {
		f.Says, f.Cadence, f.Strike, f.Heading = "Heel strike, a quicker camera, facing left", 165.4, [2]float64{16, 16}, "left"
	}),
	usual("heel-120", 120, 2.4, func(f *Film) {
		f.Says, f.Cadence, f.Strike = "Heel strike at 120 frames a second", 166.3, [2]float64{17, 17}
	}),
	usual("heel-240", 240, 2, func(f *Film) {
		f.Says, f.PlayFps, f.Cadence, f.Strike, f.Ahead = "Heel strike far ahead, slow motion that plays at 30", 30, 160.9, [2]float64{19, 19},
			[2]float64{26, 26}
	}),
	usual("mid-120", 120, 2.4, func(f *Film) {
		f.Says, f.Cadence, f.Strike, f.Ahead = "Midfoot strike, landing closer to the body", 176.3, [2]float64{3.2, 3.2}, [2]float64{15, 15}
	}),
	usual("mid-240", 240, 2, func(f *Film) {
		f.Says, f.Cadence, f.Strike, f.Ahead, f.Contact = "Midfoot strike; the left foot stays down longer", 174.9, [2]float64{3, 3},
			[2]float64{16, 16}, [2]float64{0.262, 0.236}
		f.Shift = 0.006
	}),
	usual("fore-240", 240, 2, func(f *Film) {
		f.Says, f.Cadence, f.Strike, f.Ahead, f.Contact, f.SpeedKmh = "Forefoot strike at a quick pace", 183.2, [2]float64{-9, -9},
			[2]float64{12, 12}, [2]float64{0.214, 0.214}, 11
	}),
	usual("fore-120", 120, 2.4, func(f *Film) {
		f.Says, f.Cadence, f.Strike, f.Ahead, f.Contact, f.Tilt, f.Barefoot = "Forefoot strike, barefoot, camera tilted", 181.1,
			[2]float64{-9.5, -9.5}, [2]float64{13, 13}, [2]float64{0.226, 0.226}, 3.5, true
	}),
	usual("uneven-240", 240, 2, func(f *Film) {
		f.Says, f.Cadence, f.Strike, f.Ahead, f.Contact = "Left heel, right midfoot, tired", 168.7, [2]float64{16, 3}, [2]float64{24, 17},
			[2]float64{0.246, 0.264}
		f.Tired, f.Trunk = true, 10
	}),
	usual("blurred-120", 120, 2.4, func(f *Film) {
		f.Says, f.Cadence, f.Shutter, f.Strike = "The same heel strike in poor light: blurred", 166.3, 0.9, [2]float64{17, 17}
	}),
	usual("blurred-240", 240, 2, func(f *Film) {
		f.Says, f.Cadence, f.Shutter, f.Strike = "Heel strike in poor light at 240", 171.7, 0.9, [2]float64{15, 15}
	}),
	usual("dropped-60", 60, 3, func(f *Film) {
		f.Says, f.Cadence, f.Dropped = "A file with frames missing", 168.7, []int{31, 32, 77, 121}
	}),
	usual("doubled-60", 60, 3, func(f *Film) {
		f.Says, f.Cadence, f.Repeats = "Shot at 30, converted to 60: every picture twice", 166.7, true
	}),
	usual("rear-120", 120, 2.4, func(f *Film) {
		f.Says, f.View, f.Cadence, f.Inner, f.KneeIn = "From behind: left over the line, right clear", "rear", 169.4, [2]float64{-18, 34},
			[2]float64{9, 3}
	}),
}

// Find returns the film with this name.
func Find(name string) (Film, bool) {
	for _, f := range Films {
		if f.Name == name {
			return f, true
		}
	}
	return Film{}, false
}

// stillID is a fixed id for the n-th still of a film.
func stillID(n int) string { return fmt.Sprintf("00000000-0000-7000-8000-%012d", n) }
