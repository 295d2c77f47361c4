package gait

import (
	"math"
	"slices"
	"sort"

	"notchback/internal/core/body"
)

// Track is where one piece of tape was found, frame by frame. Frames are in order; a frame where the
// tape was lost is left out.
type Track struct {
	Side   body.Side `json:"side" enum:"left,right"`
	Spot   string    `json:"spot" doc:"a point of the view; heel and toe give events"`
	Frames []int     `json:"frames" maxItems:"20000"`
	X      []float64 `json:"x" maxItems:"20000"`
	Y      []float64 `json:"y" maxItems:"20000"`
}

// Proposal is an event that following the tape suggests. Nothing counts before the coach has looked.
type Proposal struct {
	Frame int       `json:"frame"`
	Side  body.Side `json:"side" enum:"left,right"`
	Kind  Kind      `json:"kind"`
	Sure  bool      `json:"sure" doc:"the tape was seen in every frame around it"`
}

// smallest number of frames a proposed contact or swing lasts, as seconds.
const shortest = 0.08

// Propose finds touchdowns and toe-offs from the tape on heel and toe of each shoe, filmed from the
// side. On the belt a shoe's tape stays at one height and moves back with the belt; the first frame of
// either lying there is a touchdown, the first frame of both having left it a toe-off.
func Propose(tracks []Track, c Clip) ([]Proposal, error) {
	out := []Proposal{}
	for _, side := range body.Sides {
		heel, toe := find(tracks, side, "heel"), find(tracks, side, "toe")
		if heel == nil && toe == nil {
			continue
		}
		for _, t := range []*Track{heel, toe} {
			if t != nil && (len(t.X) != len(t.Frames) || len(t.Y) != len(t.Frames) || !slices.IsSorted(t.Frames)) {
				return nil, body.Refuse("tracks", "the followed tape is not whole; follow it again")
			}
		}
		out = append(out, proposeFor(side, heel, toe, c)...)
	}
	if len(out) == 0 {
		return nil, body.Refuse("tracks", "no contact was found: mark the tape on heel and toe of a shoe on one frame, and follow it again")
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Frame < out[j].Frame })
	return out, nil
}

func find(tracks []Track, side body.Side, spot string) *Track {
	for i, t := range tracks {
		if t.Side == side && t.Spot == spot && len(t.Frames) > 0 {
			return &tracks[i]
		}
	}
	return nil
}

// resting is where a track's tape lies while the shoe stands, as found from the track itself.
type resting struct {
	height, slope float64 // its y at x = 0, and its tilt across the picture
	near          float64 // so far above it still counts as down, pixels
}

// proposeFor marks each frame as down or up and reads the changes.
func proposeFor(side body.Side, heel, toe *Track, c Clip) []Proposal {
	over := make([]float64, c.Frames) // pixels of the lower tape over where it rests; NaN not seen
	for i := range over {
		over[i] = math.NaN()
	}
	near := 0.0
	last := make([]bool, c.Frames) // the toe, which leaves last, was seen
	for _, t := range []*Track{heel, toe} {
		if t == nil {
			continue
		}
		rest := restOf(t, c.Level)
		near = math.Max(near, rest.near)
		for i, f := range t.Frames {
			if f < 0 || f >= c.Frames {
				continue
			}
			last[f] = last[f] || t == toe
			if v := rest.above(t.X[i], t.Y[i]); math.IsNaN(over[f]) || v < over[f] {
				over[f] = v
			}
		}
	}
	runs := smooth(over, near, max(1, int(math.Round(shortest*c.CaptureFps))))
	out, before := []Proposal{}, 0
	for i := 1; i < len(runs); i++ {
		r := runs[i]
		kind, step := Touchdown, -1
		if !r.down {
			kind, step = ToeOff, 1
		}
		frame := r.from
		if at, ok := crossing(over, near, r.from, step, max(2, int(math.Round(0.025*c.CaptureFps)))); ok {
			frame = int(math.Ceil(at - 0.05))
		}
		frame = min(max(frame, before+1), r.to-1) // never past its neighbours
		sure := true
		for f := max(0, frame-2); f <= min(c.Frames-1, frame+2); f++ {
			sure = sure && (!math.IsNaN(over[f]) && (kind == Touchdown || last[f]) || slices.Contains(c.Missing, f))
		}
		if frame = c.there(frame); frame <= before {
			break // gaps in the file leave no room to tell them apart
		}
		out = append(out, Proposal{Frame: frame, Side: side, Kind: kind, Sure: sure})
		before = frame
	}
	return out
}

// crossing extends the tape's path in the air, next to the change at a frame, down to where it rests:
// the moment of contact between the frames. step leads into the air; most is how many frames are used.
func crossing(over []float64, near float64, from, step, most int) (at float64, ok bool) {
	f := from
	if step < 0 {
		f--
	}
	var n, sx, sy, sxx, sxy float64
	for ; f >= 0 && f < len(over) && n < float64(most+1) && math.Abs(float64(f-from)) < float64(2*most+4); f += step {
		if v := over[f]; !math.IsNaN(v) && v > near {
			x := float64(f - from)
			n, sx, sy, sxx, sxy = n+1, sx+x, sy+v, sxx+x*x, sxy+x*v
			if v > 12*near {
				break
			}
		}
	}
	det := n*sxx - sx*sx
	if n < 2 || det <= 0 {
		return 0, false
	}
	slope := (n*sxy - sx*sy) / det
	if slope*float64(step) <= 0 {
		return 0, false
	}
	at = -(sy - slope*sx) / n / slope
	if math.Abs(at) > 4 { // a path that bends: keep the frame that was seen
		return 0, false
	}
	return float64(from) + at, true
}

// above is how far over its resting height the tape is, pixels.
func (r resting) above(x, y float64) float64 { return r.height + r.slope*x - y }

// restOf finds where the tape lies while the shoe stands: the line low in the picture along which most of
// its places lie, level where a level line is drawn, else at the tilt that gathers most of them.
func restOf(t *Track, level *Segment) resting {
	const thick = 1.5 // pixels a resting tape is spread over
	at := func(slope float64) (resting, int) {
		off := make([]float64, len(t.Y))
		for i := range off {
			off[i] = t.Y[i] - slope*t.X[i]
		}
		sort.Float64s(off)
		// Downwards is larger: the lowest few may be slips.
		best, from := 0, 0
		for i, j := len(off)/2, len(off)/2; i < len(off); i++ {
			for j = max(j, i); j < len(off) && off[j]-off[i] <= 2*thick; j++ {
			}
			if j-i > best {
				best, from = j-i, i
			}
		}
		if best == 0 {
			return resting{height: off[len(off)-1], slope: slope, near: 2 * thick}, 0
		}
		in := off[from : from+best]
		middle := in[len(in)/2]
		spread := 0.0
		for _, v := range in {
			spread += (v - middle) * (v - middle) / float64(len(in))
		}
		return resting{height: middle, slope: slope, near: math.Max(1, 2.5*math.Sqrt(spread))}, best
	}
	if level != nil && level.A.X != level.B.X {
		r, _ := at((level.B.Y - level.A.Y) / (level.B.X - level.A.X))
		return r
	}
	rest, most := at(0)
	for i := 1; i <= 30; i++ { // up to about 8.5° either way, in steps too small to matter over a stance
		for _, slope := range []float64{0.005 * float64(i), -0.005 * float64(i)} {
			if r, n := at(slope); n > most+most/8 {
				rest, most = r, n
			}
		}
	}
	return rest
}

type run struct {
	from, to int // to is exclusive
	down     bool
}

// smooth turns frames into alternating runs of down and up; runs shorter than least are taken for a
// slip of the tape and joined with what is around them. Unseen frames follow the one before.
func smooth(over []float64, near float64, least int) []run {
	runs := []run{}
	for f, v := range over {
		if math.IsNaN(v) {
			continue
		}
		if down := v <= near; len(runs) == 0 || down != runs[len(runs)-1].down {
			if len(runs) > 0 {
				runs[len(runs)-1].to = f
			}
			runs = append(runs, run{from: f, to: len(over), down: down})
		}
	}
	for {
		worst := -1
		for i := 1; i < len(runs)-1; i++ {
			if l := runs[i].to - runs[i].from; l < least && (worst < 0 || l < runs[worst].to-runs[worst].from) {
				worst = i
			}
		}
		if worst < 0 {
			break
		}
		runs[worst-1].to = runs[worst+1].to
		runs = slices.Delete(runs, worst, worst+2)
	}
	return runs
}
