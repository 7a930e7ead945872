// Package listing says where long lists go on.
package listing

import (
	"encoding/base64"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
)

// Mark is where a list goes on that is in the order of time, the newest first.
type Mark struct {
	At time.Time
	ID uuid.UUID
}

// ParseMark reads where a list goes on; nothing is its beginning.
func ParseMark(text string) (*Mark, error) {
	if text == "" {
		return nil, nil
	}
	var m Mark
	raw, err := base64.RawURLEncoding.DecodeString(text)
	if err != nil || json.Unmarshal(raw, &m) != nil {
		return nil, fault.CursorUnknown.In("before", "the cursor does not belong to this list")
	}
	return &m, nil
}

// String writes the mark as ParseMark reads it.
func (m *Mark) String() string {
	if m == nil {
		return ""
	}
	// A mark is made of nothing that could not be written.
	raw, _ := json.Marshal(m)
	return base64.RawURLEncoding.EncodeToString(raw)
}
