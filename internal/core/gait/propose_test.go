package gait

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
)

// belt is a made-up shoe: it lies on a belt, comes off it, swings, and lands again; the tape's places
// carry noise, the camera a tilt. Touchdown and toe-off are known.
type belt struct {
	fps, contact, swing, noise, slope float64
	first                             float64
}

func (b belt) tracks(n int, r *rand.Rand) ([]Track, []Event) {
	heel, toe := Track{Side: body.Left, Spot: "heel"}, Track{Side: body.Left, Spot: "toe"}
	stride := b.contact + b.swing
	events := []Event{}
	for t := b.first; ; t += stride {
		down, off := int(math.Ceil(t*b.fps)), int(math.Ceil((t+b.contact)*b.fps))
		if off >= n {
			break
		}
		events = append(events, Event{Frame: down, Side: body.Left, Kind: Touchdown}, Event{Frame: off, Side: body.Left, Kind: ToeOff})
	}
	for f := range n {
		u := math.Mod(float64(f)/b.fps-b.first+10*stride, stride)
		x, up, heelUp := 400-600*u, 0.0, 0.0
		switch {
		case u >= b.contact:
			s := (u - b.contact) / b.swing
			x, up = 400-600*b.contact+600*b.contact*s, 800*b.swing*s*(1-s)*0.25
			heelUp = 30 * (1 - s)
		case u > 0.6*b.contact:
			heelUp = 30 * (u - 0.6*b.contact) / (0.4 * b.contact)
		}
		noise := func() float64 { return b.noise * r.NormFloat64() }
		for _, q := range []struct {
			t     *Track
			x, up float64
		}{{&heel, x - 60, up + heelUp}, {&toe, x, up}} {
			q.t.Frames = append(q.t.Frames, f)
			q.t.X = append(q.t.X, q.x+noise())
			q.t.Y = append(q.t.Y, 420-q.up+b.slope*q.x+noise())
		}
	}
	return []Track{heel, toe}, events
}

func hits(events []Event, got []Proposal, within int) (n int) {
	for _, e := range events {
		for _, p := range got {
			if p.Kind == e.Kind && p.Side == e.Side && p.Frame-e.Frame <= within && e.Frame-p.Frame <= within {
				n++
				break
			}
		}
	}
	return n
}

// Whatever the capture rate, the tilt and a little noise, nearly every event is proposed within one
// frame.
func TestProposalsOverRatesAndTilts(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 2026))
	all, met := 0, 0
	for _, fps := range []float64{30, 60, 120, 240} {
		for _, slope := range []float64{-0.06, 0, 0.05} {
			b := belt{fps: fps, contact: 0.24, swing: 0.46, noise: 0.3, slope: slope, first: 0.11}
			tracks, events := b.tracks(int(3*fps), r)
			c := clip(fps)
			c.Frames = int(3 * fps)
			got, err := Propose(tracks, c)
			require.NoError(t, err)
			all += len(events)
			met += hits(events, got, 1)
		}
	}
	t.Logf("%d of %d within one frame", met, all)
	assert.GreaterOrEqual(t, float64(met), 0.9*float64(all))
}

// Proposals come in turn: touchdown, toe-off, touchdown, whatever the tape does; so accepting all of them
// never makes an impossible clip.
func TestPropertyProposalsAreAlwaysPossible(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(5, 120).Draw(t, "frames")
		c := clip(rapid.SampledFrom([]float64{30, 60, 120, 240}).Draw(t, "fps"))
		c.Frames = n
		tracks := []Track{}
		for _, side := range body.Sides {
			for _, spot := range []string{"heel", "toe"} {
				tr := Track{Side: side, Spot: spot}
				for f := range n {
					if rapid.IntRange(0, 9).Draw(t, "lost") == 0 {
						continue
					}
					tr.Frames = append(tr.Frames, f)
					tr.X = append(tr.X, rapid.Float64Range(0, 640).Draw(t, "x"))
					tr.Y = append(tr.Y, rapid.Float64Range(300, 440).Draw(t, "y"))
				}
				tracks = append(tracks, tr)
			}
		}
		got, err := Propose(tracks, c)
		if err != nil {
			return // nothing found is an answer
		}
		last := map[body.Side]Kind{}
		for _, p := range got {
			assert.NotEqual(t, last[p.Side], p.Kind)
			assert.True(t, p.Frame > 0 && p.Frame < n)
			last[p.Side] = p.Kind
		}
	})
}

func TestProposalsSayWhenTheTapeWasLost(t *testing.T) {
	b := belt{fps: 120, contact: 0.24, swing: 0.46, first: 0.11}
	tracks, events := b.tracks(240, rand.New(rand.NewPCG(1, 1)))
	c := clip(120)
	c.Frames = 240
	sure := func() map[int]bool {
		got, err := Propose(tracks, c)
		require.NoError(t, err)
		out := map[int]bool{}
		for _, p := range got {
			out[p.Frame] = p.Sure
		}
		return out
	}
	assert.True(t, sure()[events[1].Frame])
	// The toe is out of sight where it leaves the belt.
	toe := &tracks[1]
	at := events[1].Frame
	toe.Frames = append(toe.Frames[:at-2], toe.Frames[at+3:]...)
	toe.X = append(toe.X[:at-2], toe.X[at+3:]...)
	toe.Y = append(toe.Y[:at-2], toe.Y[at+3:]...)
	for frame, ok := range sure() {
		if frame >= at-8 && frame <= at+8 {
			assert.False(t, ok, "frame %d", frame)
		}
	}
	_, err := Propose([]Track{{Side: body.Left, Spot: "heel", Frames: []int{1, 2}, X: []float64{1}, Y: []float64{1, 2}}}, c)
	assert.ErrorContains(t, err, "follow it again")
	_, err = Propose(nil, c)
	assert.ErrorContains(t, err, "mark the tape on heel and toe")
}
