// Package address compares mail addresses (RFC 5321, section 2.3.11) so that none
// passes for another: domains in the ASCII form of IDNA (RFC 5890, UTS 46), in
// which look-alikes differ, and mailboxes as they are, but for the case of ASCII.
package address

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/net/idna"
	"golang.org/x/text/unicode/norm"

	"tabularis/core/fault"
)

const (
	maxMailbox = 64
	maxDomain  = 253
)

// profile maps a domain like whoever looks it up does, and refuses what is none.
// Sharp s stays what it is, since it makes another domain.
var profile = idna.New(idna.MapForLookup(), idna.Transitional(false), idna.StrictDomainName(true), idna.BidiRule(), idna.CheckHyphens(true), idna.CheckJoiners(true), idna.ValidateLabels(true), idna.VerifyDNSLength(true))

// Domain returns a domain's ASCII form in small letters; ok is false for what is
// none, has a single part, or hides characters that are not seen.
func Domain(raw string) (domain string, ok bool) {
	if !plain(raw) || strings.HasSuffix(raw, ".") {
		return "", false
	}
	domain, err := profile.ToASCII(raw)
	at := strings.LastIndexByte(domain, '.')
	if err != nil || at < 1 || len(domain) > maxDomain || !strings.ContainsFunc(domain[at+1:], unicode.IsLetter) {
		return "", false
	}
	return strings.ToLower(domain), true
}

// Split divides a bare address into its mailbox and the ASCII form of its domain.
func Split(raw string) (mailbox, domain string, ok bool) {
	at := strings.LastIndexByte(raw, '@')
	if at < 1 {
		return "", "", false
	}
	if strings.ContainsFunc(raw[:at], becomesASCII) {
		return "", "", false
	}
	mailbox = norm.NFC.String(raw[:at])
	domain, ok = Domain(raw[at+1:])
	if !ok || len(mailbox) > maxMailbox || !plain(mailbox) || strings.ContainsAny(mailbox, ` @,;:<>()[]"\`) {
		return "", "", false
	}
	return mailbox, domain, true
}

// plain reports whether text holds only what is seen: no control, format,
// private or blank characters, and nothing that is not text.
func plain(s string) bool {
	return utf8.ValidString(s) && !strings.ContainsFunc(s, func(r rune) bool {
		return unicode.In(r, unicode.C) || unicode.IsSpace(r) || !unicode.IsPrint(r)
	})
}

// becomesASCII reports a character that normal form would make an ASCII one of, as
// of the Kelvin sign: it would pass for that.
func becomesASCII(r rune) bool {
	return r >= utf8.RuneSelf && norm.NFC.String(string(r))[0] < utf8.RuneSelf
}

// Check returns an address as mail is sent to it, or refuses it for the field.
func Check(field, raw string) (string, error) {
	mailbox, domain, ok := Split(raw)
	if !ok {
		return "", fault.AddressForm.In(field, "%q is not a mail address", raw)
	}
	return mailbox + "@" + domain, nil
}

// Key is the same for two addresses of one mailbox, and for no others. What is no
// address has a key that no address has.
func Key(raw string) string {
	mailbox, domain, ok := Split(strings.TrimSpace(raw))
	if !ok {
		return ""
	}
	return small(mailbox) + "@" + domain
}

// small writes ASCII letters small, and leaves all others as they are: folding them
// would make one mailbox of two.
func small(s string) string {
	return strings.Map(func(r rune) rune {
		if r >= 'A' && r <= 'Z' {
			return r + 'a' - 'A'
		}
		return r
	}, s)
}
