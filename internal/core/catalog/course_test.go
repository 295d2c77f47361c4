package catalog

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
)

// The tempo of page and paper, beat by beat. Three up, two at the top, three down is the rhythm of Rathleff et al. 2015 (from
// memory), three up and three down that of Beyer et al. 2015 (from memory); the rest is common practice, no source.
func TestARepetitionFollowsItsTempo(t *testing.T) {
	for _, c := range []struct {
		tempo     string
		repS, top float64
		want      []Beat
	}{
		{"3 s up, 2 s top, 3 s down", 8, 0, []Beat{{"up", 3, 100}, {"top", 2, 100}, {"down", 3, 0}}},
		{"3 s up, 3 s down", 6, 0, []Beat{{"up", 3, 100}, {"down", 3, 0}}},
		{"1 s up, 2 s top, 2 s down", 3, 2, []Beat{{"up", 1, 100}, {"top", 2, 100}, {"down", 2, 0}}},
		{"1 s up, 2 s down", 3, 4, []Beat{{"up", 1, 100}, {"hold", 4, 100}, {"down", 2, 0}}},
		{"rise on the other leg, 3 s down", 4, 0, []Beat{{"rise on the other leg", 1, 100}, {"down", 3, 0}}},
		{"1 s hold, slow return", 4, 0, []Beat{{"hold", 1, 100}, {"slow return", 3, 0}}},
		{"", 3, 0, []Beat{{"up", 1.5, 100}, {"down", 1.5, 0}}},
		{"", 2, 5, []Beat{{"up", 1, 100}, {"hold", 5, 100}, {"down", 1, 0}}},
		{"slow and steady, even", 4, 0, []Beat{{"up", 2, 100}, {"down", 2, 0}}},
		{"as slow as you can", 4, 0, []Beat{{"up", 2, 100}, {"down", 2, 0}}},
	} {
		assert.Equal(t, c.want, repetition(c.tempo, c.repS, c.top), c.tempo)
	}
}

func TestARampStopsShortWithTwoInReserve(t *testing.T) {
	x := Exercise{Class: Isometric}
	d := body.Dose{Kind: body.Ramp, Sets: 3, Seconds: 20}
	all := x.Course(d, false)
	assert.Equal(t, []Beat{{"20 %", 10, 20}, {"40 %", 10, 40}, {"60 %", 10, 60}, {"80 %", 10, 80}, {"100 %", 10, 100},
		{"press down", 20, 100}, {"lift", 20, 100}}, all.Beats)
	assert.Equal(t, 3*90.0, all.Seconds())
	less := x.Course(d, true).Beats
	assert.Equal(t, []Beat{{"80 %", 10, 80}, {"press down", 20, 80}, {"lift", 20, 80}}, less[3:])
	x.Class = Control
	assert.Equal(t, []Beat{{"press down", 20, 100}, {"lift", 20, 100}}, x.Course(d, false).Beats, "press and lift without a ramp")
}

// Every dose of the catalogue can be counted: its sets and its count are those of the dose, no beat is without length, and a
// repetition takes the seconds the minutes of a session are reckoned with, give or take one.
func TestEveryDoseOfTheCatalogueHasItsCourse(t *testing.T) {
	parts := map[body.DoseKind]string{body.Repetitions: "repetition", body.RMLoad: "repetition", body.Paces: "pace", body.Contacts: "contact",
		body.Hold: "hold", body.Gathered: "hold", body.Release: "spot", body.Ramp: "round", body.Effort: "stretch", body.Minutes: "stretch",
		body.Blocks: "stretch"}
	seen := map[body.DoseKind]int{}
	for _, r := range Shipped.Rails {
		for _, x := range r.Exercises {
			for _, d := range x.Ladder {
				d.Extra = seen[d.Kind] % 2
				c := x.Course(d, false)
				seen[d.Kind]++
				if !assert.NotEmpty(t, c.Beats, "%s %s", x.ID, d) {
					continue
				}
				assert.Equal(t, parts[d.Kind], c.Part, "%s %s", x.ID, d)
				assert.Equal(t, d.Sets+d.Extra, c.Sets)
				length := 0.0
				for _, b := range c.Beats {
					assert.True(t, b.S > 0 && b.Say != "" && b.To >= 0 && b.To <= 100, "%s %s: %v", x.ID, d, b)
					length += b.S
				}
				switch d.Kind {
				case body.Repetitions, body.RMLoad:
					assert.Equal(t, d.Reps, c.Repeats)
					assert.InDelta(t, x.RepS+float64(d.Seconds), length, 1, "%s %s: %v", x.ID, d, c.Beats)
					assert.Zero(t, c.Beats[len(c.Beats)-1].To, "%s ends where it began", x.ID)
				case body.Paces, body.Contacts:
					assert.Equal(t, d.Reps, c.Repeats)
					assert.Equal(t, x.RepS, length)
				case body.Ramp:
					assert.GreaterOrEqual(t, length, float64(2*d.Seconds))
				default:
					assert.Equal(t, float64(d.Seconds), length)
				}
				if d.Kind == body.Blocks {
					assert.Equal(t, d.OffS, c.RestS)
				}
			}
		}
	}
	for kind := range parts {
		assert.Positive(t, seen[kind], "no %s in the catalogue", kind)
	}
}
