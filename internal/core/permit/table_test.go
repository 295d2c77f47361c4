package permit

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Every row of the table takes something.
func TestEveryRowTakesSomething(t *testing.T) {
	for _, row := range cautions {
		assert.NotEmpty(t, row.takes(Facts{}).Words(), row.id)
	}
	for _, p := range patterns {
		assert.NotEmpty(t, p.takes.Words(), p.id)
	}
}
