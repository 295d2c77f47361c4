package outcomes

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The last digits of a figure are no outcome; all others are.
func TestRounded(t *testing.T) {
	for from, to := range map[string]string{
		`{"a":0.30000000000000004,"b":[1,2.5]}`:  `{"a":0.300000,"b":[1,2.5]}`,
		`{"a":0.29999999999999999}`:              `{"a":0.300000}`,
		`-12.34567851 kg of 2026-11-26, 3.5e-9.`: `-12.345679 kg of 2026-11-26, 3.5e-9.`,
		`10.123456`:                              `10.123456`,
		`5.`:                                     `5.`,
		``:                                       ``,
	} {
		assert.Equal(t, to, string(rounded([]byte(from))), from)
	}
}
