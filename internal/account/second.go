package account

import (
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"

	"notchback/internal/core/body"
)

// halfMinute is how long one number of the second factor holds (RFC 6238).
const halfMinute = 30

var numbers = totp.ValidateOpts{Period: halfMinute, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1}

// NewSecondFactor makes a secret for an authenticator (RFC 6238: six figures, half a minute, SHA-1), and the address that
// such a program reads it from.
func NewSecondFactor(practice, email string) (secret, address string, err error) {
	key, err := totp.Generate(totp.GenerateOpts{Issuer: "Notchback, " + strings.ReplaceAll(practice, ":", " "), AccountName: email,
		Period: halfMinute, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
	if err != nil {
		return "", "", body.Refuse("email", "cannot be written into a second factor: %s", err)
	}
	return key.Secret(), key.URL(), nil
}

// Step is the half minute that a number belongs to, the one before and the one after now allowed for a clock that is off;
// 0 for a number that fits none.
func Step(secret, number string, now time.Time) int64 {
	number = strings.ReplaceAll(strings.TrimSpace(number), " ", "")
	for _, off := range []int64{0, -1, 1} {
		at := now.Add(time.Duration(off) * halfMinute * time.Second)
		if ok, err := totp.ValidateCustom(number, secret, at, numbers); err == nil && ok {
			return at.Unix() / halfMinute
		}
	}
	return 0
}
