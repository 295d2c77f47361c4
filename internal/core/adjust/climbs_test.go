package adjust

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

// The page a physiotherapist reads is the one the rules make, and every climb on it goes from its first dose to its
// last.
func TestTheClimbsPageIsCurrent(t *testing.T) {
	have, err := os.ReadFile("../../../docs/climbs.md")
	require.NoError(t, err)
	page := Climbs(house.Rules{})
	assert.Equal(t, page, string(have), "run ./notchback types")
	parts := strings.Split(page, "\n## ")[1:]
	require.Len(t, parts, len(catalog.Shipped.Rails))
	for i, rail := range catalog.Shipped.Rails {
		all := rail.Every(climber(rail, house.Rules{}).Limits)
		lines := strings.Split(strings.TrimSpace(parts[i]), "\n")
		assert.Contains(t, lines[4], "| "+all[0].Name+" | 0 | "+body.Plain(all[0].Text)+" | ")
		assert.Contains(t, lines[len(lines)-1], " | "+body.Plain(all[len(all)-1].Text)+" | ", rail.ID)
	}
}

// No climb takes an ideal runner more than half a year to its top, but the stages of a published programme at its end,
// which last what they last; and nobody repeats a climb for each weight or tension.
func TestClimbsTakeHalfAYearAtMost(t *testing.T) {
	for _, rail := range catalog.Shipped.Rails {
		days, top := climbed(rail, house.Rules{})
		most := 26 * 7
		for _, stage := range rail.Exercises[len(rail.Exercises)-1].StageDays {
			most += stage
		}
		assert.LessOrEqual(t, top, most, "%s to its top", rail.ID)
		for _, x := range rail.Exercises {
			day, reached := days[x.ID]
			assert.True(t, reached || x.Retired, "%s of %s is never reached", x.ID, rail.ID)
			assert.True(t, day <= 26*7, "%s of %s on day %d", x.ID, rail.ID, day)
		}
		for _, n := range rail.Every(climber(rail, house.Rules{}).Limits) {
			x, _ := rail.Exercise(n.Exercise)
			if again := n.Dose.LoadKg > 4 || n.Dose.Band != "" && n.Dose.Band != body.Tensions[0]; again {
				n.Dose.LoadKg, n.Dose.Band = 0, ""
				assert.Contains(t, x.Ladder[max(0, len(x.Ladder)-2):], n.Dose, n.Exercise)
			}
		}
	}
}
