package record

import "encoding/json"

// Kept is a stored document that is passed on as it was stored: nobody reads it on the way.
type Kept[T any] []byte

// MarshalJSON passes it on.
func (k Kept[T]) MarshalJSON() ([]byte, error) { return json.RawMessage(k).MarshalJSON() }

// UnmarshalJSON keeps it.
func (k *Kept[T]) UnmarshalJSON(b []byte) error {
	*k = append((*k)[:0], b...)
	return nil
}

// Read reads it.
func (k Kept[T]) Read() (x T, err error) {
	err = json.Unmarshal(k, &x)
	return x, err
}
