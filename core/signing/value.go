package signing

import (
	"encoding/hex"
	"math"
	"math/big"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"
)

// Value is what a party gives at a place.
type Value struct {
	Place int `json:"place"`
	// Text is what was written, chosen, the day (2026-11-30), or "yes" at a tick.
	Text string `json:"text,omitempty"`
	// Hand is what was written by hand.
	Hand *Hand `json:"hand,omitempty"`
	// SHA256 is that of a file that was brought, in hexadecimal; its name is the text.
	SHA256 string `json:"sha256,omitempty"`
}

// Hand is a signature or initials: drawn, typed, or a picture.
type Hand struct {
	// Strokes are drawn in a frame of 1 by Height.
	Strokes [][]Point `json:"strokes,omitempty"`
	Height  float64   `json:"height,omitempty"`
	Typed   string    `json:"typed,omitempty"`
	// Picture is a PNG that was drawn anew from what was brought.
	Picture []byte `json:"picture,omitempty"`
}

// Point is where a stroke passes, in parts of the frame's width, and how hard it presses, from 0 to 1.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	P float64 `json:"p"`
}

// Limits of what is given.
const (
	mostStrokes = 400
	mostPoints  = 20_000
	mostTyped   = 80
	// MostPicture is how large a picture of a signature may be, in bytes, when it is brought.
	MostPicture = 512 << 10
)

// Check refuses what is no signature.
func (h *Hand) Check() error {
	if h == nil {
		return errNothingGiven.In("values", "sign here: draw it, type it or take a picture")
	}
	ways := 0
	for _, given := range []bool{len(h.Strokes) > 0, h.Typed != "", len(h.Picture) > 0} {
		if given {
			ways++
		}
	}
	if ways != 1 {
		return errNothingGiven.In("values", "sign here: draw it, type it or take a picture")
	}
	if h.Typed != "" {
		if strings.TrimSpace(h.Typed) == "" || utf8.RuneCountInString(h.Typed) > mostTyped || !utf8.ValidString(h.Typed) || strings.ContainsFunc(h.Typed, unicode.IsControl) {
			return errHand.In("values", "a typed signature has at most %d letters", mostTyped)
		}
	}
	return h.drawn()
}

func (h *Hand) drawn() error {
	if len(h.Strokes) == 0 {
		return nil
	}
	points := 0
	for _, s := range h.Strokes {
		for _, p := range s {
			// Compared so that what is no number is refused.
			if !(p.X >= 0 && p.X <= 1 && p.Y >= 0 && p.Y <= h.Height && p.P >= 0 && p.P <= 1) {
				return errHand.In("values", "a stroke leaves its frame")
			}
		}
		points += len(s)
	}
	if points < 2 || points > mostPoints || len(h.Strokes) > mostStrokes || !(h.Height > 0 && h.Height <= 4) {
		return errHand.In("values", "a drawn signature has between 2 and %d points", mostPoints)
	}
	return nil
}

// Check refuses what does not belong into a place, and returns it as it is kept.
func (p Place) Check(v Value) (Value, error) {
	v.Text = strings.TrimSpace(v.Text)
	if p.Kind != Paper {
		v.SHA256 = ""
	}
	if p.Kind.Hand() {
		v.Text = ""
		return v, v.Hand.Check()
	}
	v.Hand = nil
	if !p.Kind.Given() {
		return v, errPlace.In("values", "nothing is given at place %d", p.ID)
	}
	if !utf8.ValidString(v.Text) || strings.ContainsFunc(v.Text, func(r rune) bool { return unicode.IsControl(r) && r != '\n' }) {
		return v, errValue.In("values", "what is written holds characters that cannot be read")
	}
	bad := false
	switch p.Kind {
	case Date:
		_, err := time.Parse(time.DateOnly, v.Text)
		bad = err != nil
	case Number:
		v.Text = strings.ReplaceAll(v.Text, ",", ".")
		_, ok := new(big.Rat).SetString(v.Text)
		bad = !ok || len(v.Text) > 40 || strings.ContainsAny(v.Text, "eE/xXpP_")
	case Choice:
		bad = !slices.Contains(p.Choices, v.Text)
	case Tick:
		bad = v.Text != "yes"
	case Paper:
		bad = !isSHA256(v.SHA256) || utf8.RuneCountInString(v.Text) > MostLabel || strings.ContainsRune(v.Text, '\n')
	default:
		if utf8.RuneCountInString(v.Text) > limit(p.Most) {
			return v, errLongText.In("values", "at most %d letters can be written at place %d", limit(p.Most), p.ID)
		}
	}
	if bad {
		return v, errValue.In("values", "%q cannot be given at place %d", short(v.Text), p.ID)
	}
	return v, nil
}

func isSHA256(hexadecimal string) bool {
	sum, err := hex.DecodeString(hexadecimal)
	return err == nil && len(sum) == 32
}

// Shortened is a name as far as it has room: what is taken out in its middle is dots.
func Shortened(name string, fits func(words string) bool) string {
	letters := []rune(name)
	for n := len(letters); n > 1; n-- {
		words := name
		if n < len(letters) {
			words = string(letters[:(n+1)/2]) + "…" + string(letters[len(letters)-n/2:])
		}
		if fits(words) {
			return words
		}
	}
	return "…"
}

func limit(most int) int {
	if most == 0 {
		return MostLetters
	}
	return most
}

func short(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// Fits is the size, in points, at which a text of a width fits into a place, and whether it does: it is made
// smaller down to what can still be read.
func Fits(width func(size float64) float64, w, h float64) (size float64, fits bool) {
	const largest, readable = 12, 5
	for size = math.Min(largest, h*0.72); size >= readable; size -= 0.5 {
		if width(size) <= w {
			return size, true
		}
	}
	return readable, false
}

// day is a moment's day where a practice is, as it is written in a language.
func day(at time.Time, zone *time.Location, language string) string {
	if language == "de" {
		return at.In(zone).Format("02.01.2006")
	}
	return at.In(zone).Format("2 Jan 2006")
}

// Words is what stands in a place in the end; what is written by hand has none.
func (p Place) Words(v Value, signed time.Time, zone *time.Location, language string) string {
	switch p.Kind {
	case SignedOn:
		return day(signed, zone, language)
	case Date:
		if t, err := time.Parse(time.DateOnly, v.Text); err == nil {
			return day(t, time.UTC, language)
		}
	case Tick:
		if v.Text == "yes" {
			return "✓"
		}
	case Fixed:
		return p.Value
	}
	return v.Text
}
