package catalog

import (
	"bufio"
	"encoding/json"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
)

// Every exercise and dose of every earlier release has its place in this one: it stands on a rail, and its dose is
// one of the rail's or lies between two of them. testdata/earlier.jsonl was made from the history of the data.
func TestEveryEarlierExerciseHasItsPlace(t *testing.T) {
	f, err := os.Open("testdata/earlier.jsonl")
	require.NoError(t, err)
	defer func() { _ = f.Close() }()
	n := 0
	for lines := bufio.NewScanner(f); lines.Scan(); n++ {
		var was struct {
			Rail, Exercise string
			Doses          []string
		}
		require.NoError(t, json.Unmarshal(lines.Bytes(), &was))
		rail, exercise := Shipped.Successor(was.Rail, was.Exercise)
		r, ok := Shipped.Find(rail)
		require.True(t, ok, "%s of %s", was.Exercise, was.Rail)
		x, ok := r.Exercise(exercise)
		require.True(t, ok, "%s of %s went to %s", was.Exercise, was.Rail, rail)
		for _, d := range was.Doses {
			dose, err := body.ParseDose(d)
			require.NoError(t, err)
			now := Shipped.Now(Prescription{Rail: was.Rail, Exercise: was.Exercise, Dose: dose})
			assert.Equal(t, [2]string{rail, exercise}, [2]string{now.Rail, now.Exercise})
			assert.Equal(t, x.Ladder[0].Kind, now.Dose.Kind, "%s, %s", x.ID, d)
			assert.LessOrEqual(t, now.Dose.Work(0, 0), dose.Work(0, 0), "%s, %s: %s", x.ID, d, now.Dose)
		}
		if _, stands := Shipped.Find(was.Rail); !stands {
			assert.Contains(t, Shipped.Successors(was.Rail), rail)
		}
	}
	assert.Equal(t, 200, n)
}

// A practice that changed a rail of an earlier release keeps it, with its rows, in the place of what it became.
func TestAnOwnRailOfAnEarlierIdStays(t *testing.T) {
	assert.Equal(t, []string{"calf_release", "shin_release"}, Shipped.Successors("leg_release"))
	assert.Equal(t, []string{"ankle_bend", "foot_stretch"}, Shipped.Beside("ankle_bend", "heel_sit"))
	for _, stays := range []string{"ankle_rocks", "", "no_such"} {
		assert.Empty(t, Shipped.Beside("ankle_bend", stays), "%q never left", stays)
	}
	calf, _ := Shipped.Find("calf_release")
	shin, _ := Shipped.Find("shin_release")
	own := calf
	own.ID, own.Set, own.SetName = "leg_release", "", ""
	own.Exercises = slices.Concat(calf.Exercises, shin.Exercises[1:])
	c := Shipped.With([]Rail{own})
	require.Empty(t, c.Broken)
	rail, exercise := c.Successor("leg_release", "calf_roller_two")
	assert.Equal(t, [2]string{"leg_release", "calf_roller_two"}, [2]string{rail, exercise})
	assert.Empty(t, c.Successors("leg_release"))
	_, both := c.Find("calf_release")
	assert.False(t, both, "its exercises stand once")
}

// What a practice's own rail waited for bears another id now: it waits for that.
func TestAnOwnRailWaitsForWhatWasRenamed(t *testing.T) {
	own := railOf(t, one)
	own.Exercises = slices.Clone(own.Exercises)
	own.Exercises[0].First = []Need{{Exercise: "side_out", Says: "the band goes outward"}, {Exercise: "two_floor", Says: "two-leg raises"}}
	c := Shipped.With([]Rail{own})
	require.Empty(t, c.Broken)
	got, _ := c.Find(own.ID)
	assert.Equal(t, "side_in", got.Exercises[0].First[0].Exercise)
	assert.Equal(t, "two_floor", got.Exercises[0].First[1].Exercise)
	own.Exercises[0].First = []Need{{Exercise: "no_such", Says: "x"}}
	assert.NotEmpty(t, Shipped.With([]Rail{own}).Broken)
}

// A practice's version of a shipped rail, or a copy of it, as an earlier release stored it: chosen like its source, and its
// kilograms follow from the same test.
func TestAnOwnRailIsChosenLikeItsSource(t *testing.T) {
	source, _ := Shipped.Find("calf_straight")
	for _, copied := range []bool{false, true} {
		own := source
		own.With, own.For, own.NotWith, own.Remedies, own.Turns, own.Then = nil, nil, nil, nil, nil, nil
		own.Exercises = slices.Clone(source.Exercises)
		for i := range own.Exercises {
			own.Exercises[i].By = ""
			if copied {
				own.Exercises[i].CopyOf, own.Exercises[i].ID = own.Exercises[i].ID, "our_"+own.Exercises[i].ID
			}
		}
		if copied {
			own.ID, own.CopyOf = "our_calf", source.ID
		}
		if own.Place != nil && copied {
			own.Place = nil
		}
		c := Shipped.With([]Rail{own})
		require.Empty(t, c.Broken)
		got, ok := c.Find(own.ID)
		require.True(t, ok)
		assert.Equal(t, source.With, got.With)
		assert.Equal(t, source.Remedies, got.Remedies)
		assert.Equal(t, source.Turns, got.Turns)
		for i, x := range got.Exercises {
			assert.Equal(t, source.Exercises[i].By, x.By, x.ID)
		}
		own.With = []string{}
		got, _ = Shipped.With([]Rail{own}).Find(own.ID)
		assert.Empty(t, got.With, "what it says itself stands")
	}
}
