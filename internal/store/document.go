package store

import (
	"encoding/json"
	"errors"
	"fmt"
)

// shape is the shape documents are written in. Every shape there ever was is read: a document that changes its
// meaning raises it, and the reader of the kind brings the earlier ones along.
const shape = 1

// ErrNewer is met when a newer release wrote what is asked for.
var ErrNewer = errors.New("written by a newer release; update this one")

// document decodes a stored document of a shape.
func document(what string, of int, raw []byte, into any) error {
	if of > shape {
		return fmt.Errorf("%s: %w", what, ErrNewer)
	}
	if err := json.Unmarshal(raw, into); err != nil {
		return fmt.Errorf("reading %s: %w", what, err)
	}
	return nil
}
