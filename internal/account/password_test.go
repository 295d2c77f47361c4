package account

import (
	"encoding/base64"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"golang.org/x/crypto/argon2"
)

// A hash made at another cost, by an earlier or a later release, still fits: what it cost is read from it.
func TestAHashSaysWhatItCost(t *testing.T) {
	salt := []byte("twelve bytes")
	key := argon2.IDKey([]byte("a long enough password"), salt, 2, 16<<10, 1, 24)
	hash := fmt.Sprintf("$argon2id$v=19$m=16384,t=2,p=1$%s$%s", base64.RawStdEncoding.EncodeToString(salt),
		base64.RawStdEncoding.EncodeToString(key))
	assert.True(t, Fits("a long enough password", hash))
	assert.False(t, Fits("another password", hash))
}

func TestAHashFitsItsPasswordAlone(t *testing.T) {
	hash := Hash("a long enough password")
	assert.True(t, Fits("a long enough password", hash))
	assert.False(t, Fits("a long enough passwore", hash))
	assert.NotEqual(t, hash, Hash("a long enough password"), "each has its own salt")
	for _, broken := range []string{"", "plain", strings.Replace(hash, "argon2id", "argon2i", 1), strings.Replace(hash, "v=19", "v=18", 1),
		strings.Replace(hash, "m=65536", "m=99999999", 1), strings.Replace(hash, "t=3", "t=x", 1), hash[:len(hash)-40], hash + "!"} {
		assert.False(t, Fits("a long enough password", broken), broken)
	}
}

func TestCheck(t *testing.T) {
	assert.NoError(t, Check("password", "ten letter"))
	assert.EqualError(t, Check("password", "nine lett"), "password: has 9 letters; use 10 to 200")
	assert.Error(t, Check("password", strings.Repeat("x", 201)))
}
