// Package mark composes what is drawn across every page that somebody may only
// look at: who looks, when, and through which link, so that a picture taken of
// the screen says where it came from.
package mark

import (
	"strings"
	"time"
	"unicode"
)

// longest is how many characters of a name are drawn.
const longest = 48

// Mark is what is known of whoever looks.
type Mark struct {
	// Viewer is an address or a name, as far as known; empty if not.
	Viewer string
	// Network is where the viewer comes from.
	Network string
	// Link is the link's name.
	Link string
	At   time.Time
	// Language is that of the page: "en" or "de".
	Language string
}

// Lines are what is drawn: who, then when and through what. Nothing in them can
// turn the direction of writing, hide, or break a line.
func (m Mark) Lines(zone *time.Location) [2]string {
	who := Clean(m.Viewer)
	if who == "" {
		who = "unknown visitor"
		if m.Language == "de" {
			who = "unbekannt"
		}
	}
	if from := Clean(m.Network); from != "" {
		who += ", " + from
	}
	when := m.At.In(zone).Format("2006-01-02 15:04")
	if link := Clean(m.Link); link != "" {
		when += ", " + link
	}
	return [2]string{who, when}
}

// Clean leaves of a text what can be drawn: control and format characters, with
// them those that turn the direction of writing, go; blanks of every kind become
// one; and what is too long is cut.
func Clean(s string) string {
	s = strings.Map(func(r rune) rune {
		switch {
		case unicode.IsSpace(r):
			return ' '
		case unicode.In(r, unicode.C, unicode.M) || r == unicode.ReplacementChar:
			return -1
		}
		return r
	}, strings.ToValidUTF8(s, ""))
	s = strings.Join(strings.Fields(s), " ")
	if runes := []rune(s); len(runes) > longest {
		return string(runes[:longest-1]) + "…"
	}
	return s
}
