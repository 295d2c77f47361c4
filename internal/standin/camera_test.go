package standin

import (
	"encoding/json"
	"fmt"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/gait"
	"notchback/internal/core/house"
)

// The runner's own motion agrees with what is said of it: the shoe's lowest point lies on the belt in
// contact and nowhere else, joints keep their lengths, the strike angle and the ankle's lead are as set.
func TestTheRunnerMovesAsSaid(t *testing.T) {
	for _, f := range Films {
		t.Run(f.Name, func(t *testing.T) {
			high, low := 0.0, 9.0
			for ms := 0; ms < int(1000*f.Seconds); ms++ {
				at := float64(ms) / 1000
				p := f.pose(at)
				high, low = math.Max(high, p.hip.y), math.Min(low, p.hip.y)
				for i, side := range body.Sides {
					s := p.shoe[side]
					lowest := math.Min(s.heel.y, s.toe.y)
					if u := f.in(side, at); u < f.Contact[i] {
						assert.InDelta(t, 0, lowest, 1e-9, "%s foot at %d ms", side, ms)
					} else {
						assert.Greater(t, lowest, -1e-9)
					}
					assert.InDelta(t, shoe, math.Hypot(s.toe.x-s.heel.x, s.toe.y-s.heel.y), 1e-9)
					assert.InDelta(t, thigh, math.Hypot(p.knee[side].x-p.hip.x, p.knee[side].y-p.hip.y), 1e-6)
					assert.InDelta(t, shank, math.Hypot(p.knee[side].x-p.foot[side].x, p.knee[side].y-p.foot[side].y), 2e-3,
						"%s leg at %d ms cannot reach", side, ms)
				}
			}
			assert.InDelta(t, f.Bounce, high-low, 1e-4)
			for i, side := range body.Sides {
				p := f.pose(f.touchdown(side))
				assert.InDelta(t, f.Strike[i], p.shoe[side].pitch, 1e-6)
				assert.InDelta(t, f.Ahead[i], 100*p.foot[side].x/(LegMm/1000.), 1e-6)
				assert.Greater(t, f.Flight(side), 0.03, "it is a run")
			}
		})
	}
}

// Nothing jumps: at touchdown and toe-off the shoe is where it was.
func TestTheRunnerMovesWithoutJumps(t *testing.T) {
	for _, f := range Films {
		for i, side := range body.Sides {
			for _, at := range []float64{f.touchdown(side), f.touchdown(side) + f.Contact[i]} {
				a, b := f.foot(side, at-1e-6), f.foot(side, at+1e-6)
				assert.InDelta(t, a.ankle.x, b.ankle.x, 1e-4, f.Name)
				assert.InDelta(t, a.ankle.y, b.ankle.y, 1e-4, f.Name)
				assert.InDelta(t, a.pitch, b.pitch, 0.01, f.Name)
			}
		}
	}
}

// A coach with a perfect eye, who marks the true frames and points, gets intervals that hold the truth.
func TestTheTruthLiesInEveryInterval(t *testing.T) {
	for _, row := range Table(house.Rules{}) {
		assert.True(t, row.Holds(), "%s: %s %s is %.2f, read as %.2f ± %.2f", row.Film, row.Name, row.Side, row.Truth, row.Value, row.Half)
	}
}

// The camera can start at any moment: the strike angle, whose frame error is cautious on purpose, keeps
// its promise over every phase.
func TestStrikeAngleCoversOverThePhases(t *testing.T) {
	for _, name := range []string{"heel-120", "heel-240", "mid-240", "fore-240", "fore-120"} {
		f, _ := Find(name)
		hit, n := 0, 0
		for phase := range 40 {
			g := f
			g.Seconds = 1.2
			g.CaptureFps = f.CaptureFps * (1 + float64(phase)/400) // shifts every event against the frames
			fs := gait.Angles(g.Marked(), gait.Body{LegMm: LegMm}, house.Rules{})
			for _, x := range fs {
				if x.ID != "strike" || x.Half == 0 {
					continue
				}
				n++
				if math.Abs(x.Value-g.Strike[at(x.Side)]) <= x.Half {
					hit++
				}
			}
		}
		require.Greater(t, n, 40)
		assert.GreaterOrEqual(t, float64(hit)/float64(n), 0.95, name)
	}
}

func TestSlowFilmsRefuseAStrikeClass(t *testing.T) {
	for _, name := range []string{"heel-30", "heel-60"} {
		f, _ := Find(name)
		r, err := gait.Read(f.Marked(), gait.Body{LegMm: LegMm, HeightCm: HeightCm, MassKg: 70}, house.Rules{})
		require.NoError(t, err)
		for _, x := range r.Figures {
			if x.ID == "strike" {
				assert.Equal(t, "by eye only", x.Word)
				assert.False(t, x.Answers)
			}
		}
		for _, x := range r.Takes {
			assert.NotEqual(t, "gait.strike_angle", x.Measure, "no strike angle enters the screen")
		}
	}
}

// The files show the films as they are described: the description was written when they were filmed.
func TestTheFilesAreOfTheseFilms(t *testing.T) {
	want, err := json.MarshalIndent(Films, "", " ")
	require.NoError(t, err)
	got, err := clips.ReadFile("clips/films.json")
	require.NoError(t, err)
	assert.Equal(t, string(want)+"\n", string(got), "film them anew: go run ./internal/standin/render")
}

func TestTheTableOfClipsIsCurrent(t *testing.T) {
	got, err := os.ReadFile("../../docs/clips.md")
	require.NoError(t, err)
	assert.Equal(t, TableText(house.Rules{}), string(got), "run ./notchback types and commit")
}

func TestEveryFilmShips(t *testing.T) {
	for _, f := range Films {
		file, err := Shelf{}.Open(f.Name)
		require.NoError(t, err, f.Name)
		info, err := file.Stat()
		require.NoError(t, err)
		assert.Greater(t, info.Size(), int64(50_000), f.Name)
		require.NoError(t, file.Close())
	}
	_, ok := Find("nobody")
	assert.False(t, ok)
}

// The counter in the corner tells the frame, and tape is where the truth says.
func TestThePictureShowsTheTruth(t *testing.T) {
	for _, name := range []string{"heel-120", "rear-120", "blurred-120"} {
		f, _ := Find(name)
		for _, n := range []int{0, 37, 200} {
			img := f.Frame(n)
			seen := 0
			for i := range counterBits {
				x, y, _ := CounterAt(i)
				if r, _, _, _ := img.At(x, y).RGBA(); r > 0x8000 {
					seen |= 1 << i
				}
			}
			assert.Equal(t, n, seen, name)
		}
	}
	f, _ := Find("heel-240")
	p := f.Points(body.Right, 100)["knee"]
	assert.Equal(t, fmt.Sprint(tapes["knee"]), fmt.Sprint(f.Frame(100).RGBAAt(int(p.X), int(p.Y))))
}

// Following perfect tape finds the frames, whatever the rate and the tilt.
func TestProposalsFromPerfectTape(t *testing.T) {
	for _, f := range Films {
		if f.View != "side" {
			continue
		}
		c := f.Marked()
		tracks := []gait.Track{}
		for _, side := range body.Sides {
			for _, spot := range []string{"heel", "toe"} {
				tr := gait.Track{Side: side, Spot: spot}
				for n := range f.Frames() {
					p := f.Points(side, n)[spot]
					tr.Frames, tr.X, tr.Y = append(tr.Frames, n), append(tr.X, p.X), append(tr.Y, p.Y)
				}
				tracks = append(tracks, tr)
			}
		}
		got, err := gait.Propose(tracks, c)
		require.NoError(t, err)
		hits, all := Near(c.Marks, got)
		t.Logf("%-12s %d of %d within one frame", f.Name, hits, all)
		assert.GreaterOrEqual(t, float64(hits), 0.8*float64(all), f.Name)
	}
}
