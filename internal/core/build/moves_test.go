package build

import (
	"math/bits"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

// Whatever is moved, the week obeys its rules; what is refused says why; a refused move changes nothing.
func TestPropertyMovesObeyTheRules(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := anyRunner(t)
		plans := anyPlans(t, p)
		w := Schedule(catalog.Shipped, plans, p, Choices{}, house.Rules{})
		for range 3 {
			from := rapid.IntRange(0, 6).Draw(t, "from")
			if len(w.Days[from].Entries) == 0 {
				continue
			}
			e := rapid.SampledFrom(w.Days[from].Entries).Draw(t, "entry")
			cell := rapid.SampledFrom(Moves(catalog.Shipped, plans, w, p, e.Rail, from, house.Rules{})).Draw(t, "cell")
			next, err := Move(catalog.Shipped, plans, w, p, e.Rail, from, cell.Weekday, cell.Slot, house.Rules{})
			if (err == nil) != (cell.Refused == "") {
				t.Fatalf("shown %q, answered %v", cell.Refused, err)
			}
			if err != nil {
				continue
			}
			if broken := brokenRule(next, plans, p); broken != "" {
				t.Fatalf("moving %s to %d %s: %s", e.Rail, cell.Weekday, cell.Slot, broken)
			}
			// Building again keeps what was put there by hand.
			again := Schedule(catalog.Shipped, plans, p, Choices{Sessions: next.Pins()}, house.Rules{})
			if broken := brokenRule(again, plans, p); broken != "" {
				t.Fatalf("with pins: %s", broken)
			}
			for _, pin := range next.Pins() {
				if !slices.ContainsFunc(again.Days[pin.Weekday].Entries, func(x Entry) bool {
					return x.Rail == pin.Rail && x.Slot == pin.Slot &&
						x.Pinned
				}) {
					t.Fatalf("%v was not kept: %v", pin, again.GaveWay)
				}
			}
			w = next
		}
	})
}

func TestARefusedMoveSaysWhy(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	p := Make(in)
	from := bits.TrailingZeros8(daysOf(p.Week, "calf_straight"))
	refused := func(day int, slot catalog.Slot) string {
		_, err := Move(catalog.Shipped, p.Rails, p.Week, in.Profile, "calf_straight", from, day, slot, in.House)
		require.Error(t, err)
		return err.Error()
	}
	assert.Contains(t, refused(0, catalog.Own), "does not stand the day before a quality run (Tuesday)")
	assert.Contains(t, refused(1, catalog.Evening), "on the day of a quality run (Tuesday)")
	assert.Contains(t, refused(0, catalog.Before), "Monday has no run")
	assert.Contains(t, refused(3, catalog.Before), "does not stand before a run")
	_, err := Move(catalog.Shipped, p.Rails, p.Week, in.Profile, "calf_straight", 0, 2, catalog.Own, in.House)
	assert.ErrorContains(t, err, "has no session on Monday")
}

func TestAPinThatNoLongerFitsGivesWayAndSaysWhy(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	in.Choices.Sessions = []PinnedPlace{{"calf_straight", 1, catalog.Evening}, {"calf_straight", 4, catalog.Own}}
	w := Make(in).Week
	assert.False(t, w.Feasible)
	require.NotEmpty(t, w.GaveWay)
	assert.Contains(t, w.GaveWay[0].Says, "cannot stay where it was put: heavy calf work does not stand on the day of a quality run (Tuesday)")
	assert.NotZero(t, daysOf(w, "calf_straight")&(1<<4), "the other pin holds")
}
