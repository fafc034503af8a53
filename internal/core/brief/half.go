package brief

import (
	"bytes"
	"encoding/json"
	"time"
)

// A Half is what was said of a question and is no answer yet: what was typed and is not
// right, or changes a price that nobody agreed to; or that it is not known yet.
type Half struct {
	Value   json.RawMessage `json:"value,omitempty"`
	Unknown bool            `json:"unknown,omitempty"`
	At      time.Time       `json:"at"`
}

// MostHalf bounds what is kept of one question, in bytes.
const MostHalf = 100_000

// Same says whether two answers say the same, however they are written: nothing is the
// same as null.
func Same(a, b json.RawMessage) bool {
	x, y := plain(a), plain(b)
	return bytes.Equal(x, y)
}

func plain(raw json.RawMessage) []byte {
	if len(raw) == 0 {
		return []byte("null")
	}
	var v any
	decoder := json.NewDecoder(bytes.NewReader(raw))
	decoder.UseNumber()
	if decoder.Decode(&v) != nil {
		return raw
	}
	text, err := json.Marshal(v) // keys in order
	if err != nil {
		return raw
	}
	return text
}

// Other says whether a field was changed by somebody else: what stands there now is
// neither what whoever changes it saw, nor what they put there.
func Other(now, seen, next json.RawMessage) bool { return !Same(now, seen) && !Same(now, next) }
