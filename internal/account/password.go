// Package account keeps what a coach signs in with: passwords as argon2id hashes, each with its own salt and cost.
package account

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"

	"notchback/internal/core/body"
)

// cost of a hash: memory in KiB, passes over it, lanes.
type cost struct {
	memory, passes uint32
	lanes          uint8
}

// today is what new hashes cost: argon2id with 64 MiB, 3 passes and 2 lanes.
var today = cost{64 << 10, 3, 2}

// turn lets at most two be computed at a time, so that sign-in cannot fill the memory.
var turn = make(chan struct{}, 2)

// Hash returns the password's argon2id hash in the usual encoded form.
func Hash(password string) string {
	salt := make([]byte, 16)
	_, _ = rand.Read(salt)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, today.memory, today.passes, today.lanes,
		base64.RawStdEncoding.EncodeToString(salt), base64.RawStdEncoding.EncodeToString(derive(password, salt, today, 32)))
}

func derive(password string, salt []byte, c cost, length uint32) []byte {
	turn <- struct{}{}
	defer func() { <-turn }()
	return argon2.IDKey([]byte(password), salt, c.passes, c.memory, c.lanes, length)
}

// Fits compares a password with a hash in constant time, at the cost the hash says. An empty or broken hash (no password
// set yet) never fits, and takes as long.
func Fits(password, hash string) bool {
	salt, key, c, ok := read(hash)
	if !ok {
		derive(password, make([]byte, 16), today, 32)
		return false
	}
	return subtle.ConstantTimeCompare(derive(password, salt, c, uint32(len(key))), key) == 1
}

// read takes an encoded hash apart; costs no server of ours ever chose are refused.
func read(hash string) (salt, key []byte, c cost, ok bool) {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" || parts[2] != fmt.Sprintf("v=%d", argon2.Version) {
		return nil, nil, c, false
	}
	if _, err := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &c.memory, &c.passes, &c.lanes); err != nil {
		return nil, nil, c, false
	}
	salt, saltErr := base64.RawStdEncoding.DecodeString(parts[4])
	key, keyErr := base64.RawStdEncoding.DecodeString(parts[5])
	sane := c.memory >= 8<<10 && c.memory <= 1<<20 && c.passes >= 1 && c.passes <= 20 && c.lanes >= 1
	return salt, key, c, saltErr == nil && keyErr == nil && len(salt) >= 8 && len(key) >= 16 && len(key) <= 64 && sane
}

// Check refuses a new password that is too short or too long, or among the first to be guessed; field names it, own are the
// coach's name and address. Letters are counted as people count them.
func Check(field, password string, own ...string) error {
	n := utf8.RuneCountInString(password)
	switch {
	case n < 10 || n > 200:
		return body.Refuse(field, "has %d letters; use 10 to 200", n)
	case guessed(password, strings.FieldsFunc(strings.Join(own, " "), func(r rune) bool { return !unicode.IsLetter(r) })...):
		return body.Refuse(field, "is among the first that are guessed; use three or four words that do not belong together")
	}
	return nil
}
