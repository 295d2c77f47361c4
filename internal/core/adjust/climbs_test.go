package adjust

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
		assert.Contains(t, lines[4], "| "+all[0].Name+" | "+all[0].Text+" | ")
		assert.Contains(t, lines[len(lines)-1], " | "+all[len(all)-1].Text+" | ", rail.ID)
	}
}
