package account

import (
	_ "embed"
	"strings"
	"unicode"
)

// The words that people most often make passwords of, gathered from memory of published lists of leaked passwords.
//
//go:embed common.txt
var commonText string

var common = func() map[string]bool {
	out := map[string]bool{}
	for _, w := range strings.Fields(commonText) {
		out[w] = true
	}
	return out
}()

var unleet = strings.NewReplacer("0", "o", "1", "i", "3", "e", "4", "a", "5", "s", "7", "t", "@", "a", "$", "s", "!", "i")

// rows are what fingers run along.
var rows = []string{"abcdefghijklmnopqrstuvwxyz", "0123456789012345678901234567890", "qwertyuiop", "asdfghjkl", "zxcvbnm", "qwertzuiop",
	"azertyuiop", "1qaz2wsx3edc4rfv5tgb6yhn7ujm", "1q2w3e4r5t6y7u8i9o0p"}

// guessed reports a password that is among the first to be tried: made of the commonest words or of one of the coach's own,
// with figures and signs around them, or of a run along the keys, or of one thing again and again.
func guessed(password string, own ...string) bool {
	p := strings.ToLower(password)
	if repeats(p) || along(p) {
		return true
	}
	dressed := strings.TrimFunc(p, func(r rune) bool { return !unicode.IsLetter(r) })
	for _, form := range []string{p, unleet.Replace(p), unleet.Replace(dressed)} {
		letters := strings.Map(func(r rune) rune {
			if unicode.IsLetter(r) {
				return r
			}
			return -1
		}, form)
		if letters == "" && form == p { // figures alone
			return len(p) < 14
		}
		if made(letters, own) && len(p)-len(letters) < 8 {
			return true
		}
	}
	return false
}

// made reports letters that are one or two of the commonest words, or of the coach's own.
func made(letters string, own []string) bool {
	known := func(w string) bool {
		if w == "" || common[w] {
			return true
		}
		for _, o := range own {
			if len(o) > 2 && strings.EqualFold(w, o) {
				return true
			}
		}
		return false
	}
	for i := range len(letters) {
		if known(letters[:i]) && known(letters[i:]) {
			return true
		}
	}
	return false
}

// repeats reports a text that is a short piece again and again.
func repeats(p string) bool {
	for n := 1; n <= 4 && n < len(p); n++ {
		if strings.HasPrefix(strings.Repeat(p[:n], len(p)/n+1), p) {
			return true
		}
	}
	return false
}

// along reports a run along the keys or the alphabet, either way, whole or in two pieces.
func along(p string) bool {
	run := func(s string) bool {
		back := []byte(s)
		for i, j := 0, len(back)-1; i < j; i, j = i+1, j-1 {
			back[i], back[j] = back[j], back[i]
		}
		for _, r := range rows {
			if strings.Contains(r, s) || strings.Contains(r, string(back)) {
				return true
			}
		}
		return false
	}
	for i := range len(p) {
		if run(p[i:]) && (i == 0 || run(p[:i])) {
			return true
		}
	}
	return false
}
