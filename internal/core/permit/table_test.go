package permit

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/house"
)

// The table a physiotherapist reads is the one the code makes, and every row of it takes something.
func TestThePermissionsPageIsCurrent(t *testing.T) {
	have, err := os.ReadFile("../../../docs/permissions.md")
	require.NoError(t, err)
	assert.Equal(t, Table(house.Rules{}), string(have), "run ./notchback types")
	for _, row := range cautions {
		assert.NotEmpty(t, row.takes(Facts{}).Words(), row.id)
	}
	for _, p := range patterns {
		assert.NotEmpty(t, p.takes.Words(), p.id)
	}
}
