package scan

import (
	"encoding/json"
	"fmt"
)

// What a practice does about sensitive content that is given out.
const (
	Off    = "off"
	Warn   = "warn"
	Forbid = "forbid"
)

// maxPatterns is how many words and patterns of its own a practice may have.
const maxPatterns = 200

// Patterns reads the practice's own patterns.
func Patterns(raw json.RawMessage) ([]Pattern, error) {
	var all []Pattern
	if len(raw) == 0 {
		return nil, nil
	}
	if err := json.Unmarshal(raw, &all); err != nil {
		return nil, fmt.Errorf("reading the practice's patterns: %w", err)
	}
	return all, nil
}

// CheckRules refuses unknown ways of dealing with sensitive content, and patterns
// that cannot be used.
func CheckRules(how string, patterns []Pattern) error {
	if how != Off && how != Warn && how != Forbid {
		return errSensitiveUnknown.In("sensitive", "sensitive content is off, warn or forbid")
	}
	if len(patterns) > maxPatterns {
		return errPatternsCount.In("patterns", "at most %d words and patterns", maxPatterns)
	}
	for _, p := range patterns {
		if err := p.Check("patterns"); err != nil {
			return err
		}
	}
	return nil
}
