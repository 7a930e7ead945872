package mailing

import (
	"bytes"
	"encoding/json"
	"errors"

	rules "tabularis/core/mailing"
)

// span is a piece of a mail as it is kept: how many bytes, or a note.
type span struct {
	Bytes int         `json:",omitempty"`
	Note  rules.Place `json:",omitempty"`
}

// pack puts the pieces of a mail behind a line that says of which they are.
func pack(pieces []rules.Piece) ([]byte, error) {
	spans := make([]span, len(pieces))
	for i, p := range pieces {
		spans[i] = span{len(p.Bytes), p.Note}
	}
	out, err := json.Marshal(spans)
	if err != nil {
		return nil, err
	}
	out = append(out, '\n')
	for _, p := range pieces {
		out = append(out, p.Bytes...)
	}
	return out, nil
}

// unpack reads what pack has written.
func unpack(packed []byte) ([]rules.Piece, error) {
	line, rest, _ := bytes.Cut(packed, []byte("\n"))
	var spans []span
	if err := json.Unmarshal(line, &spans); err != nil {
		return nil, err
	}
	out := make([]rules.Piece, len(spans))
	for i, s := range spans {
		if s.Bytes < 0 || s.Bytes > len(rest) {
			return nil, errors.New("it is shorter than it says")
		}
		out[i], rest = rules.Piece{Bytes: rest[:s.Bytes], Note: s.Note}, rest[s.Bytes:]
	}
	return out, nil
}
