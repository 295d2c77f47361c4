package house

import (
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
)

func TestEveryRuleIsWhole(t *testing.T) {
	seen := map[string]bool{}
	for _, r := range All {
		assert.False(t, seen[r.Key], "%s stands twice", r.Key)
		seen[r.Key] = true
		assert.NotEmpty(t, r.Name, r.Key)
		assert.LessOrEqual(t, r.Min, r.Default, r.Key)
		assert.GreaterOrEqual(t, r.Max, r.Default, r.Key)
		assert.NoError(t, CheckChange(r.Key, r.Default))
		switch r.Provenance {
		case body.Published, body.Memory:
			assert.NotEmpty(t, r.Source, "%s is published and needs its source", r.Key)
		case body.Common, body.Ours:
			assert.Empty(t, r.Source, "%s claims a source it does not have", r.Key)
		default:
			t.Errorf("%s has no provenance", r.Key)
		}
	}
}

// Silbernagel et al. 2007, AJSM 35:897 (from memory): up to 2 is safe, up to 5 acceptable. Farrar et
// al. 2001, Pain 94:149 (from memory): 2 points are an important change. Lunsford & Perry 1995: 25
// raises.
func TestDefaultsAgainstTheirSources(t *testing.T) {
	h := Rules{}
	assert.Equal(t, 2.0, h.Get("adjust.pain.go"))
	assert.Equal(t, 5.0, h.Get("adjust.pain.back"))
	assert.Equal(t, 2.0, h.Get("adjust.morning.back"))
	assert.Equal(t, 25.0, h.Get("calf.raises_straight.ref"))
	assert.Equal(t, 1.5, h.Get("ankle.knee_to_wall.side"))
}

// No practice may loosen a protective limit past its default: of every rule that protects, the bound on
// its looser side is the default. What merely trades caution for pace is named here and has a range on both
// sides.
func TestProtectiveLimitsCannotBeLoosened(t *testing.T) {
	higher := strings.Fields(`adjust.pain.go adjust.pain.back adjust.pain.back2 adjust.morning.back adjust.morning.pause
		adjust.morning.never_up adjust.rpe.max adjust.back.work adjust.release.hold adjust.release.back adjust.stop.retest
		permit.sore.back permit.sore.knee permit.shin.days permit.supine permit.balance.age permit.touch.days
		permit.touch.told permit.touch.grace phone.cache.hours
		phone.alone.hours place.share dose.step dose.load.step build.calf.rails build.calf.sets
		build.calf.sets.override
		dose.wall.span load.back.days load.back.break load.back.break.short week.quality.minutes race.new`)
	lower := strings.Fields(`adjust.complete.low adjust.again.days adjust.brake.days adjust.return.days adjust.return.mornings
		permit.laces.days permit.ill.free permit.ill.most permit.ill.gentle permit.steroid.days permit.quinolone.days
		permit.surgery.days permit.birth.days permit.balance.least dose.wall.inside dose.rm.first dose.rm.reserve dose.floor.reps
		dose.floor.seconds dose.floor.contacts
		load.back.half.least load.back.reach load.back.half.most load.back.walks load.back.sessions load.back.weeks
		race.taper race.heavy race.after
		race.after.long week.hard.best retest.borderline.days`)
	pace := strings.Fields("adjust.cramp.hold adjust.miss.hold adjust.miss.back adjust.miss.retest")
	for _, r := range All {
		switch {
		case slices.Contains(higher, r.Key):
			assert.Equal(t, r.Default, r.Max, r.Key)
			assert.Error(t, CheckChange(r.Key, r.Default+1), r.Key)
		case slices.Contains(lower, r.Key):
			assert.Equal(t, r.Default, r.Min, r.Key)
			assert.Error(t, CheckChange(r.Key, r.Default-1), r.Key)
		case strings.HasPrefix(r.Key, "permit."), strings.HasPrefix(r.Key, "race."), strings.HasPrefix(r.Key, "load.back."),
			strings.HasPrefix(r.Key, "dose."), strings.HasPrefix(r.Key, "adjust.") && !strings.HasPrefix(r.Key, "adjust.days.") &&
				!slices.Contains(pace, r.Key):
			t.Errorf("%s protects: say which side of it is looser", r.Key)
		}
	}
}

// A value of an earlier release outside today's range counts as the nearer bound, for every rule.
func TestAKeptValueOutsideItsRange(t *testing.T) {
	for _, r := range All {
		assert.Equal(t, r.Max, Rules{Changed: map[string]float64{r.Key: r.Max + 3}}.Get(r.Key), r.Key)
		assert.Equal(t, r.Min, Rules{Changed: map[string]float64{r.Key: r.Min - 3}}.Get(r.Key), r.Key)
		assert.Equal(t, r.Min, Rules{Changed: map[string]float64{r.Key: r.Min}}.Get(r.Key), r.Key)
	}
}

func TestChanges(t *testing.T) {
	h := Rules{Version: 3, Changed: map[string]float64{"place.share": 50}}
	assert.Equal(t, 50.0, h.Get("place.share"))
	assert.Equal(t, 5, h.Int("place.reps.min"))
	assert.EqualValues(t, "set by this practice", h.Because("r", "s", "place.share").Provenance)
	assert.Equal(t, body.Ours, h.Because("r", "s", "place.reps.min").Provenance)
	assert.NotNil(t, h.Because("r", "s").House)
	assert.Panics(t, func() { h.Get("no.such.rule") })
	assert.ErrorContains(t, CheckChange("no.such.rule", 1), "there is no house rule")
	assert.ErrorContains(t, CheckChange("place.share", 99), "enter 30 to 60 %")
}

func TestApproaches(t *testing.T) {
	for _, a := range Approaches {
		assert.GreaterOrEqual(t, len(a.Options), 2, a.ID)
		assert.Equal(t, a.Options[0].ID, Rules{}.Choice(nil, a.ID), "the first is the default")
		last := a.Options[len(a.Options)-1].ID
		assert.Equal(t, last, Rules{}.Choice(map[string]string{a.ID: last}, a.ID))
		assert.Equal(t, a.Options[0].ID, Rules{}.Choice(map[string]string{a.ID: "unheard of"}, a.ID))
	}
	mine := Rules{Approaches: map[string]string{"pain": "none"}}
	assert.Equal(t, "none", mine.Choice(nil, "pain"), "the practice's own choice stands before the default")
	assert.Equal(t, "monitored", mine.Choice(map[string]string{"pain": "monitored"}, "pain"), "the runner's own before the practice's")
	assert.Panics(t, func() { Rules{}.Choice(nil, "no such question") })
	assert.Error(t, CheckApproaches(map[string]string{"no such question": "x"}))
	assert.NoError(t, CheckApproaches(map[string]string{"pain": "none"}))
}

// A rule on the page that nothing reads would be a promise without effect.
func TestEveryRuleIsRead(t *testing.T) {
	var code strings.Builder
	require.NoError(t, filepath.WalkDir("../..", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") ||
			strings.HasSuffix(path, "house.go") && strings.Contains(path, "core/house") || strings.HasSuffix(path, "house/measures.go") {
			return err
		}
		src, err := os.ReadFile(path)
		code.Write(src)
		return err
	}))
	for _, r := range All {
		cut := strings.LastIndex(r.Key, ".")
		whole := strings.Contains(code.String(), `"`+r.Key+`"`)
		built := strings.Contains(code.String(), `"`+r.Key[cut:]+`"`) || strings.Contains(code.String(), `"`+r.Key[:cut+1]+`"`)
		assert.True(t, whole || built, "%s is read nowhere", r.Key)
	}
}

// An answer that is offered no more, and a question that is asked no more, fall back to the default and are named.
func TestAnswersThatAreOfferedNoMore(t *testing.T) {
	kept, dropped := Known(map[string]string{"toes": "grip", "cramp": "walk it off", "moon": "full"})
	assert.Equal(t, map[string]string{"toes": "grip"}, kept)
	assert.Equal(t, []string{"Cramp: stop at the cramp, subtract holds", "moon: full"}, dropped)
	assert.Equal(t, "subtract", Rules{}.Choice(map[string]string{"cramp": "walk it off"}, "cramp"))
	kept, dropped = Known(nil)
	assert.Empty(t, kept)
	assert.Empty(t, dropped)
}
