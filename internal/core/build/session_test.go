package build

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

func piece(rail, exercise string) Piece {
	r, _ := catalog.Shipped.Find(rail)
	x, _ := r.Exercise(exercise)
	sides := 1
	if x.EachSide {
		sides = 2
	}
	return Piece{rail, x, x.Ladder[len(x.Ladder)-1], sides}
}

func secondsOf(pieces []Piece, kept map[int]body.Dose) int {
	n := 0
	for i, d := range kept {
		n += Piece{Exercise: pieces[i].Exercise, Dose: d, Sides: pieces[i].Sides}.Seconds()
	}
	return n
}

// One release, one range, one control; with the sore heel released first, two releases. Both sides of a
// rail stay together.
func TestTheShortVersion(t *testing.T) {
	day := []Piece{piece("sole_release", "sole_hands"), piece("calf_release", "calf_firm_ball"), piece("ankle_bend", "calf_stretch"),
		piece("ankle_bend", "wall_toes"),
		piece("toe_control", "toes_seated"), piece("calf_straight", "one_floor")}
	p := profile()
	kept := Short(day, p, house.Rules{})
	assert.Len(t, kept, 2, "a second of each of two stretches is nothing: they are left out together")
	assert.Contains(t, kept, 0)
	assert.Contains(t, kept, 4)
	day[2].Exercise, day[2].Dose, day[2].Sides = day[3].Exercise, day[3].Exercise.Ladder[0], 1
	day[3].Dose, day[3].Sides = day[2].Dose, 1
	kept = Short(day, p, house.Rules{})
	assert.Len(t, kept, 4)
	for _, i := range []int{0, 2, 3, 4} {
		assert.Contains(t, kept, i)
	}
	assert.LessOrEqual(t, secondsOf(day, kept), 300)
	p.Approaches = map[string]string{"sore_heel": "release"}
	kept = Short(day, p, house.Rules{})
	assert.Len(t, kept, 2)
	assert.Contains(t, kept, 1, "sole and calf release alone")
	strength := []Piece{piece("calf_straight", "heavy_slow")}
	assert.LessOrEqual(t, secondsOf(strength, Short(strength, p, house.Rules{})), 300, "nothing gentle that day: the first piece, cut")
	assert.Empty(t, Short(nil, p, house.Rules{}))
}

// A ramp that five minutes leave a second of is left out for what is worth doing.
func TestTheShortVersionLeavesOutWhatIsTooLittle(t *testing.T) {
	day := []Piece{piece("outer_foot_release", "sole_figure_eight"), piece("big_toe", "toes_wall"), piece("big_toe", "stack_lift")}
	kept := Short(day, profile(), house.Rules{})
	assert.Len(t, kept, 1)
	assert.Contains(t, kept, 0)
	assert.LessOrEqual(t, secondsOf(day, kept), 300)
}

func TestPropertyTheShortVersionIsShortAndNeverMore(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var day []Piece
		for range rapid.IntRange(1, 8).Draw(t, "pieces") {
			r := rapid.SampledFrom(catalog.Shipped.Rails).Filter(func(r catalog.Rail) bool { return r.Part != "run" && !r.Habit }).Draw(t, "rail")
			x := rapid.SampledFrom(r.Exercises).Draw(t, "exercise")
			sides := 1
			if x.EachSide {
				sides = 2
			}
			day = append(day, Piece{r.ID, x, rapid.SampledFrom(x.Ladder).Draw(t, "dose"), sides})
		}
		kept := Short(day, profile(), house.Rules{})
		if len(kept) == 0 {
			t.Fatal("small doses count: there is always something")
		}
		if n := secondsOf(day, kept); n > 300 && len(kept) > 1 {
			t.Fatalf("%d s", n)
		}
		for i, d := range kept {
			if d.Work(0, 0) > day[i].Dose.Work(0, 0) || d.Sets < 1 || d.Amount() < 1 {
				t.Fatalf("%s became %s", day[i].Dose, d)
			}
		}
	})
}
