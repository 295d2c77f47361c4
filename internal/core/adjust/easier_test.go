package adjust

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
)

// What is easier, by hand: fewer sets of the same, below the lowest dose the exercise before it, and nothing of release work or of
// what stands still.
func TestWhatIsEasier(t *testing.T) {
	in := whole(quiet())
	in.Current.Dose = dose(3, 10)
	to, ok := Easier(in)
	require.True(t, ok)
	assert.Equal(t, "one_floor", to.Exercise)
	assert.Equal(t, dose(3, 8), to.Dose, "24 of 30 repetitions are 80 %")
	assert.Equal(t, in.Current.ID, to.ID, "its log is written for the row in force")

	in.Current.Parked = true
	_, ok = Easier(in)
	assert.False(t, ok, "parked")

	at := slices.IndexFunc(catalog.Shipped.Rails, func(r catalog.Rail) bool { return r.Class == catalog.Releasing })
	rail := catalog.Shipped.Rails[at]
	x := rail.Exercises[0]
	in.Rail, in.Current = rail, catalog.Prescription{ID: "p2", Rail: rail.ID, Side: body.Left, Exercise: x.ID, Dose: x.Ladder[len(x.Ladder)-1]}
	_, ok = Easier(in)
	assert.False(t, ok, "release work has its own scale")
}

// Of every dose of every exercise, with any of them taken away: what is easier may be done, is no later on its rail, is another
// dose, and in the same exercise at most 80 % of the work or a fifth, a set or a round less.
func TestPropertyTheEasierOneAsksLess(t *testing.T) {
	r := rand.New(rand.NewPCG(18, 9))
	found := 0
	for _, rail := range catalog.Shipped.Rails {
		for at, x := range rail.Exercises {
			for _, d := range x.Ladder {
				in := quiet()
				in.Logs = nil
				in.Current = catalog.Prescription{ID: "p", Rail: rail.ID, Side: body.Sides[r.IntN(2)], Exercise: x.ID, Dose: d}
				if r.IntN(3) == 0 {
					in.Limits.Facts.Stops = []refer.Stop{{ID: "s", Sign: "ill", Region: body.WholePerson, Side: body.Both, On: today}}
				}
				in = whole(in)
				for _, e := range rail.Exercises {
					if r.IntN(4) == 0 {
						in.Limits.Excluded = append(in.Limits.Excluded, e.ID)
					}
				}
				barred := func(e catalog.Exercise) bool { return slices.Contains(in.Limits.Excluded, e.ID) }
				to, ok := Easier(in)
				if !ok {
					continue
				}
				found++
				name := fmt.Sprintf("%s %s → %s %s", x.ID, d, to.Exercise, to.Dose)
				then := slices.IndexFunc(rail.Exercises, func(e catalog.Exercise) bool { return e.ID == to.Exercise })
				e := rail.Exercises[then]
				assert.False(t, barred(e) || barred(x) || len(in.Limits.Facts.Stops) > 0, name)
				assert.LessOrEqual(t, then, at, name)
				assert.LessOrEqual(t, e.Level, x.Level, name)
				if then == at {
					assert.Less(t, to.Dose.TotalSets()*to.Dose.Amount(), d.TotalSets()*d.Amount()+1, name)
					assert.NotEqual(t, d, to.Dose, name)
				}
			}
		}
	}
	require.Greater(t, found, 100)
}
