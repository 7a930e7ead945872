// Package mailing holds the rules for mails that somebody sends from their mail program through the
// practice: which attachments become a transfer, where the note about them goes, and what is left as it
// is, byte for byte.
package mailing

import (
	"regexp"
	"slices"
	"strings"

	"tabularis/core/names"
	"tabularis/core/register"
)

// Field is a field of a mail's header and where it stands, its folded lines and line end included.
type Field struct {
	Name     string
	From, To int64
}

// Part is a part of a mail (RFC 2045, RFC 2046) and where it stands.
type Part struct {
	// Parent is the index of the multipart in which it lies, or -1 for the mail itself. Parts stand
	// after those in which they lie.
	Parent int
	// Kind is its media type in small letters.
	Kind, Boundary string
	// Delimiter is where the line before it begins, with the line end that belongs to it; From where
	// its own header begins, Body its body, To its end.
	Delimiter, From, Body, To int64
	// Name is that of the file that it is, if it says one; Disposition is what it asks for.
	Name, Disposition, Encoding string
	// ContentID says that other parts can show it.
	ContentID bool
	// Size is of how many bytes its content is, decoded; Broken says that it cannot be decoded whole, and
	// stays as it is.
	Size   int64
	Broken bool
}

// Multi reports whether it holds parts.
func (p Part) Multi() bool { return strings.HasPrefix(p.Kind, "multipart/") }

// Message is what a mail is made of. The first of its parts is the whole.
type Message struct {
	Size   int64
	Fields []Field
	// HeaderEnd is where the line begins that ends the header.
	HeaderEnd int64
	Parts     []Part
	// Subject is that of its header, decoded; From are the addresses of those who say that they wrote it.
	Subject string
	From    []string
	// Lines are how its lines end.
	Lines string
	// Pretty says that text in it is signed or encrypted inline (RFC 4880, section 6.2).
	Pretty bool
	// Refs are the register numbers that are written in its texts.
	Refs []register.Ref
}

// Says reports whether a mail has a field of a name.
func (m Message) Says(name string) bool {
	return slices.ContainsFunc(m.Fields, func(f Field) bool { return strings.EqualFold(f.Name, name) })
}

// Settings are what somebody wants of their mail program's mails.
type Settings struct {
	// Over is how large an attachment is at least that becomes a transfer, in bytes; 0 is each.
	Over int64
	// Numbers lets documents whose register numbers are written in the mail go along.
	Numbers bool
	// Holds keeps each mail that gives something out until it is confirmed on a page.
	Holds bool
}

const (
	// MostRecipients is to how many a mail goes at most, MostAnHour to how many those of one person within
	// an hour.
	MostRecipients, MostAnHour = 100, 500
	// MostRefs is how many documents a mail takes along.
	MostRefs = 20
	// MostBytes is how large a mail is at most.
	MostBytes = 64 << 20
)

// Untouched says why a mail goes on exactly as it came.
type Untouched string

const (
	// Signed and Encrypted mails would break by any change (RFC 1847, RFC 8551, RFC 3156).
	Signed    Untouched = "signed"
	Encrypted Untouched = "encrypted"
)

// Sealed says whether a mail is signed or encrypted, and must not be changed.
func (m Message) Sealed() Untouched {
	for _, p := range m.Parts {
		switch p.Kind {
		case "multipart/signed", "application/pkcs7-signature", "application/x-pkcs7-signature", "application/pgp-signature":
			return Signed
		case "multipart/encrypted", "application/pkcs7-mime", "application/x-pkcs7-mime", "application/pgp-encrypted":
			return Encrypted
		}
	}
	if m.Pretty {
		return Signed
	}
	return ""
}

// Attachments are the indices of the parts that become files of a transfer, in order. What other
// parts show, texts, and invitations to a calendar stay.
func (m Message) Attachments(s Settings) (all []int) {
	if m.Sealed() != "" {
		return nil
	}
	return m.replaceable(s)
}

// Keeps reports whether a mail keeps attachments that would give way, were it not signed or encrypted.
func (m Message) Keeps(s Settings) bool { return m.Sealed() != "" && len(m.replaceable(s)) > 0 }

func (m Message) replaceable(s Settings) (all []int) {
	for i, p := range m.Parts {
		if m.attached(i) && p.Size >= s.Over && p.Size > 0 {
			all = append(all, i)
		}
	}
	return all
}

// attached reports whether a part is a file that is attached.
func (m Message) attached(i int) bool {
	p := m.Parts[i]
	if p.Multi() || p.Broken || p.Kind == "text/calendar" || p.Kind == "application/ics" {
		return false
	}
	if p.Disposition == "attachment" {
		// Some programs call pictures attached that their text shows.
		return !p.ContentID || !m.related(i)
	}
	if p.Parent >= 0 && m.Parts[p.Parent].Kind == "multipart/alternative" {
		return false // It says the same another way.
	}
	// Only as much as is needed is taken for an attachment: what is in line, and shown by others, is not.
	return p.Disposition == "" && !p.ContentID && !m.related(i) && (p.Name != "" || !strings.HasPrefix(p.Kind, "text/") && !strings.HasPrefix(p.Kind, "message/"))
}

// related reports whether a part lies in what shows it (RFC 2387).
func (m Message) related(i int) bool {
	for at := m.Parts[i].Parent; at >= 0; at = m.Parts[at].Parent {
		if m.Parts[at].Kind == "multipart/related" {
			return true
		}
	}
	return false
}

// FileName is what a part is called as a file: what would mislead, or is no name, gives way.
func (p Part) FileName() string {
	name := strings.Map(func(r rune) rune {
		switch {
		case r == '/' || r == '\\' || r < 0x20 || r == 0x7f || turns(r):
			return '_'
		}
		return r
	}, strings.Join(strings.Fields(p.Name), " "))
	for len(name) > 200 {
		stem, ending := names.Split(name)
		cut := []rune(stem)
		if len(cut) < 10 {
			name = name[:0]
			break
		}
		name = string(cut[:len(cut)-8]) + ending
	}
	if sound, err := names.Check("name", name); err == nil {
		return sound
	}
	if p.Kind == "message/rfc822" {
		return "mail.eml"
	}
	return "attachment"
}

// turns reports whether a rune changes the direction of what is read, or cannot be seen.
func turns(r rune) bool {
	return r >= 0x200b && r <= 0x200f || r >= 0x2028 && r <= 0x202e || r >= 0x2060 && r <= 0x2069 || r == 0xfeff || r >= 0x80 && r <= 0x9f
}

var written = regexp.MustCompile(`\b[A-Z][A-Z0-9]{1,5}(?:-[0-9]{1,4})?/[0-9]{3,9}\b`)

// RefsIn finds the register numbers that are written in a text, each once, in order.
func RefsIn(text string) (all []register.Ref) {
	for _, found := range written.FindAllString(text, 200) {
		ref, err := register.Parse(found)
		if err != nil || slices.Contains(all, ref) {
			continue
		}
		if all = append(all, ref); len(all) == MostRefs {
			break
		}
	}
	return all
}
