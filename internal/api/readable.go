package api

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"unicode/utf8"
)

// deepest is how many lists and objects of a body may stand within one another; the deepest honest one has nine.
const deepest = 32

// unreadable is what makes a request impossible to keep, with the field it stands in.
type unreadable struct {
	field, what string
	syntax      bool // it is no JSON at all
}

func (u unreadable) Error() string { return u.field + ": " + u.what }

// readable refuses what no record can hold, before anything reads it: a zero byte and halves of letters in a text, bodies that
// are no JSON or too deep. A phone's reports with half a letter go through, as the sign for an unknown letter: an entry typed
// without signal must not wait for ever because of one.
func readable(w http.ResponseWriter, r *http.Request) bool {
	if err := readableAddress(r.URL); err != nil {
		refuse(w, err)
		return false
	}
	if r.Body == nil || r.ContentLength == 0 || !strings.HasPrefix(r.URL.Path, "/api/") {
		return true
	}
	raw, err := io.ReadAll(r.Body)
	var large *http.MaxBytesError
	switch {
	case errors.As(err, &large):
		problem(w, http.StatusRequestEntityTooLarge, "The body is too large: at most 256 KB.")
		return false
	case err != nil: // the other side went away
		problem(w, http.StatusBadRequest, "The request ended before its end. Try again.")
		return false
	}
	if err := readableBody(raw, strings.HasPrefix(r.URL.Path, "/api/phone")); err != nil {
		refuse(w, err)
		return false
	}
	r.Body, r.ContentLength = io.NopCloser(bytes.NewReader(raw)), int64(len(raw))
	return true
}

func refuse(w http.ResponseWriter, err error) {
	var u unreadable
	_ = errors.As(err, &u)
	status := http.StatusUnprocessableEntity
	if u.syntax {
		status = http.StatusBadRequest
	}
	problemIn(w, status, u.field, u.what)
}

func readableAddress(u *url.URL) error {
	odd := func(s string) bool { return !utf8.ValidString(s) || strings.ContainsRune(s, 0) }
	query, err := url.ParseQuery(u.RawQuery)
	if err != nil || odd(u.Path) {
		return unreadable{field: "address", what: "holds bytes that are no text; write it as it is shown"}
	}
	for name, values := range query {
		if odd(name) || odd(strings.Join(values, "")) {
			return unreadable{field: "query." + strings.ToValidUTF8(strings.ReplaceAll(name, "\x00", ""), ""), what: "holds bytes that are no text"}
		}
	}
	return nil
}

// place is where a walk through a body stands.
type place struct {
	list  bool
	index int
	key   string
	named bool // the key was read, its value comes
}

// readableBody walks through a body once.
func readableBody(raw []byte, halves bool) error {
	if len(bytes.TrimSpace(raw)) == 0 {
		return nil
	}
	if !utf8.Valid(raw) {
		return unreadable{field: "body", what: "is not UTF-8 text"}
	}
	d := json.NewDecoder(bytes.NewReader(raw))
	d.UseNumber()
	var at []place
	for {
		before := d.InputOffset()
		token, err := d.Token()
		if errors.Is(err, io.EOF) && len(at) == 0 {
			return nil
		}
		if err != nil {
			return unreadable{where(at), "is no JSON: " + err.Error(), true}
		}
		switch x := token.(type) {
		case json.Delim:
			if x == '{' || x == '[' {
				if len(at) == deepest {
					return unreadable{field: where(at), what: fmt.Sprintf("is nested too deep: at most %d lists and objects within one another", deepest)}
				}
				at = append(at, place{list: x == '['})
				continue
			}
			at = at[:len(at)-1]
		case string:
			if err := readableText(x, raw[before:d.InputOffset()], halves, at); err != nil {
				return err
			}
		case json.Number:
			if _, err := strconv.ParseFloat(x.String(), 64); err != nil {
				return unreadable{field: where(at), what: "is beyond what a number may be"}
			}
		}
		step(at, token)
	}
}

// step moves on behind a value, or from a key to its value.
func step(at []place, token json.Token) {
	if len(at) == 0 {
		return
	}
	here := &at[len(at)-1]
	switch {
	case here.list:
		here.index++
	case here.named:
		here.named = false
	default:
		if key, is := token.(string); is {
			here.key, here.named = key, true
		}
	}
}

func readableText(text string, raw []byte, halves bool, at []place) error {
	switch {
	case strings.ContainsRune(text, 0):
		return unreadable{field: where(at), what: "holds a zero byte; take it out"}
	case !halves && half(raw):
		return unreadable{field: where(at), what: "holds half a letter; type it again"}
	}
	return nil
}

// half reports an escaped surrogate without its other half.
func half(raw []byte) bool {
	unit := func(i int) (uint64, bool) {
		if i+6 > len(raw) || raw[i] != '\\' || raw[i+1] != 'u' {
			return 0, false
		}
		n, err := strconv.ParseUint(string(raw[i+2:i+6]), 16, 32)
		return n, err == nil
	}
	for i := 0; i < len(raw); i++ {
		if raw[i] != '\\' {
			continue
		}
		n, escaped := unit(i)
		switch {
		case !escaped:
			i++ // another escape
		case n >= 0xD800 && n < 0xDC00:
			if low, ok := unit(i + 6); !ok || low < 0xDC00 || low > 0xDFFF {
				return true
			}
			i += 11
		case n >= 0xDC00 && n < 0xE000:
			return true
		default:
			i += 5
		}
	}
	return false
}

func where(at []place) string {
	out := "body"
	for _, p := range at {
		if p.list {
			out += fmt.Sprintf("[%d]", p.index)
		} else if p.key != "" {
			key := p.key
			if len(key) > 60 || strings.ContainsRune(key, 0) {
				key = "…"
			}
			out += "." + key
		}
	}
	return out
}
