package linkgate

import (
	"regexp"
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

const (
	minSlug = 3
	// maxSlug keeps a readable address shorter than every token, which has 27.
	maxSlug = 26
)

var slugForm = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// reserved are words that would look like something of the practice's own.
var reserved = []string{"admin", "administrator", "api", "assets", "help", "index", "link", "login", "new", "null", "password", "practice", "root", "security", "sign-in", "signin", "support", "system", "test", "undefined"}

// Slug checks a readable address: small letters of the Latin alphabet, digits
// and single hyphens between them. Letters of other scripts are refused, since
// some look like Latin ones.
func Slug(field, s string) error {
	switch {
	case len(s) < minSlug || len(s) > maxSlug:
		return errSlugLength.In(field, "a readable address has between %d and %d characters", minSlug, maxSlug)
	case !slugForm.MatchString(s):
		return errSlugForm.In(field, "a readable address has small letters from a to z, digits, and single hyphens between them")
	case slices.Contains(reserved, s):
		return errSlugReserved.In(field, "this word is reserved; take another one")
	}
	return nil
}

// SlugOf is a readable address that a name suggests, or empty where it suggests none.
func SlugOf(name string) string {
	var b strings.Builder
	for _, r := range norm.NFD.String(strings.ToLower(name)) {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			b.WriteRune(r)
		case !unicode.Is(unicode.Mn, r):
			b.WriteByte(' ')
		}
	}
	slug := strings.Join(strings.Fields(b.String()), "-")
	if len(slug) > maxSlug {
		slug = strings.TrimRight(slug[:maxSlug], "-")
	}
	if Slug("name", slug) != nil {
		return ""
	}
	return slug
}

// LooksRead reports whether what stands in a link's address may be a readable
// one, which can be guessed, and not a token.
func LooksRead(s string) bool { return len(s) <= maxSlug }

// Telling is how soon the sender is told of what happens through a link.
type Telling string

const (
	TellEach  Telling = "each"
	TellDaily Telling = "daily"
	TellNever Telling = "never"
)

// ParseTelling reads a Telling; nothing is TellNever.
func ParseTelling(field, s string) (Telling, error) {
	switch t := Telling(s); t {
	case "":
		return TellNever, nil
	case TellEach, TellDaily, TellNever:
		return t, nil
	}
	return TellNever, errTellingUnknown.In(field, "you can be told each time, daily or never")
}
