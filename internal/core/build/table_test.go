package build

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/house"
)

// The page a physiotherapist reads is the one the code makes.
func TestThePermissionsPageIsCurrent(t *testing.T) {
	have, err := os.ReadFile("../../../docs/permissions.md")
	require.NoError(t, err)
	page := Table(house.Rules{})
	assert.Equal(t, page, string(have), "run ./notchback types")
	row := func(phase string) string {
		_, after, ok := strings.Cut(page, "\n| "+phase+" | ")
		require.True(t, ok, phase)
		line, _, _ := strings.Cut(after, "\n")
		return line
	}
	assert.Contains(t, row("calm"), "One-leg raises off a step")
	assert.Contains(t, row("build"), "Heavy slow raises")
	assert.NotContains(t, row("build"), "One-leg raises off a step")
	assert.True(t, strings.HasSuffix(row("load"), "– |"), "Load closes nothing")
}
