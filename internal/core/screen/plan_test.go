package screen

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
)

func TestAFullScreenFitsAnHourAndACoreScreenTwentyMinutes(t *testing.T) {
	assert.LessOrEqual(t, Minutes(Plan(FullScreen, nil, nil)), 60)
	assert.LessOrEqual(t, Minutes(Plan(CoreScreen, CoreStations, nil)), Most(CoreScreen, house.Rules{}))
	assert.Zero(t, Most(FullScreen, house.Rules{}))
	assert.Less(t, Minutes(Plan(Session, nil, nil)), 5)
}

// Tests to failure spoil what follows, walks and gait are taken fresh.
func TestRunningOrder(t *testing.T) {
	all := Plan(FullScreen, nil, nil)
	assert.Len(t, all, len(Measures)-4, "a full screen asks for everything that needs no clip")
	at := func(id string) int { return slices.Index(all, id) }
	for _, c := range [][2]string{{"arch.two_finger", "walk.heels"}, {"walk.toes", "gait.cadence"}, {"gait.strike", "ankle.knee_to_wall"},
		{"ankle.knee_to_wall", "toe.active_height"}, {"toe.passive_height", "toes.big_alone"},
		{"foot.short", "balance.open"}, {"balance.open", "balance.closed"}, {"balance.open", "reach.front"}, {"reach.cross", "squat.arch"},
		{"squat.arch", "hold.forefoot_two"}, {"hold.forefoot_two", "hold.forefoot_one"}, {"hold.forefoot_one", "calf.raises_straight"},
		{"calf.raises_straight", "calf.rm"}} {
		assert.Less(t, at(c[0]), at(c[1]), c)
	}
	assert.Equal(t, []string{"walk.heels", "walk.toes", "ankle.knee_to_wall"}, Plan(Session, nil, nil))
	assert.Equal(t, []string{"ankle.knee_to_wall", "calf.raises_straight"},
		Plan(Retest, nil, []string{"calf.raises_straight", "ankle.knee_to_wall"}), "in running order")
	assert.Equal(t, []string{"walk.heels", "walk.toes"}, Plan(CoreScreen, []string{"walks"}, nil))
}

func TestWhatIsDue(t *testing.T) {
	h := house.Rules{}
	last := map[string]body.Date{"ankle.knee_to_wall": day.Add(-28), "balance.open": day.Add(-27), "calf.raises_straight": day.Add(-60),
		"squat.arch": day.Add(-5)}
	ids := func(due []Due) (out []string) {
		for _, d := range due {
			out = append(out, d.Measure)
		}
		return out
	}
	assert.Equal(t, []string{"ankle.knee_to_wall"}, ids(DueOn(last, nil, day, h)), "strength waits 12 weeks")
	border := Finding{ID: "balance.open", Measure: "balance.open", Side: body.Left, Verdict: Borderline}
	due := DueOn(last, []Finding{border}, day, h)
	require.Equal(t, []string{"ankle.knee_to_wall", "balance.open"}, ids(due), "borderline is measured again at once")
	assert.Equal(t, "retest.borderline", due[1].Reason.Rule)
	last["balance.open"] = day
	assert.NotContains(t, ids(DueOn(last, []Finding{border}, day, h)), "balance.open", "not on the day itself")
}
