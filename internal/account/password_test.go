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

// What is guessed first is refused, however it is dressed; what is not stays allowed.
func TestTheCommonestPasswordsAreRefused(t *testing.T) {
	for _, p := range []string{"password123", "P@ssw0rd2026!", "qwertyuiop", "1q2w3e4r5t6y", "0987654321", "aaaaaaaaaaaa", "abcabcabcabc",
		"letmein12345", "Sunshine2025", "iloveyou1234", "correcthorse1", "maren.tidegate1", "Maren1985!!", "welcome-welcome", "123456789012",
		"zyxwvutsrqp", "PASSWORD!!!!"} {
		assert.ErrorContains(t, Check("new", p, "Maren Oakes", "maren@tidegate.example"), "first that are guessed", p)
	}
	for _, p := range []string{"low-water-crossing", "a long enough password", "another long password", "gull tern heron 7",
		"Zug um elf nach Ost",
		"wörteründuhü", "31415926535897932"} {
		assert.NoError(t, Check("new", p, "Maren Oakes", "maren@tidegate.example"), p)
	}
	assert.ErrorContains(t, Check("new", "üüüüüüüüü"), "has 9 letters", "letters are counted, not bytes")
}
