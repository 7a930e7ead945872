package mailing

import (
	"bytes"
	"cmp"
	"encoding/base64"
	"fmt"
	"slices"
	"strings"
)

// Piece is a span of a mail as it goes on, or where the note stands in it.
type Piece struct {
	Bytes []byte `json:",omitempty"`
	Note  Place  `json:",omitempty"`
}

// Place says how a note stands where it does.
type Place string

const (
	// Nowhere is no note.
	Nowhere Place = ""
	// AsPart is a part between others; AsBody is the whole content of a mail, whose header ends with it.
	AsPart Place = "part"
	AsBody Place = "body"
)

// Changes are what is done to a mail.
type Changes struct {
	// Replaced are the indices of the parts that give way, Note says that a note stands in the mail even
	// where none does.
	Replaced []int
	Note     bool
	// Mark is a boundary that stands nowhere in the mail.
	Mark string
	// Trace stands above its header (RFC 5321, section 4.4), Added are fields that it lacks (RFC 6409,
	// section 8).
	Trace string
	Added []string
}

// splice is a span in whose place something else stands.
type splice struct {
	from, to int64
	with     []Piece
}

// bare are fields that say what the content of a mail is, and go with it.
var bare = []string{"content-type", "content-transfer-encoding", "content-disposition", "content-id", "content-description", "content-md5"}

// Template is a mail with what is done to it, but for the note's words: a note stands in the place of the
// first of the parts that give way in each multipart, the others go. All else stays, byte for byte, but
// for the field of recipients who are hidden from the others.
func Template(m Message, raw []byte, c Changes) []Piece {
	all := []splice{{0, 0, m.text(c.Trace)}}
	noted := map[int]bool{}
	for _, f := range m.Fields {
		if strings.EqualFold(f.Name, "Bcc") {
			all = append(all, splice{from: f.From, to: f.To})
		}
	}
	if len(c.Added) > 0 {
		all = append(all, splice{m.HeaderEnd, m.HeaderEnd, m.text(c.Added...)})
	}
	for _, i := range c.Replaced {
		p := m.Parts[i]
		switch {
		case p.Parent < 0:
			all = append(all, m.instead(p)...)
		case !noted[p.Parent]:
			noted[p.Parent] = true
			all = append(all, splice{p.From, p.To, []Piece{{Note: AsPart}}})
		default:
			all = append(all, splice{from: p.Delimiter, to: p.To})
		}
	}
	if c.Note && len(c.Replaced) == 0 {
		all = append(all, m.add(raw, c.Mark)...)
	}
	slices.SortStableFunc(all, func(a, b splice) int { return cmp.Compare(a.from, b.from) })
	var out []Piece
	at := int64(0)
	for _, s := range all {
		if s.from > at {
			out = append(out, Piece{Bytes: raw[at:s.from]})
		}
		out, at = append(out, s.with...), max(at, s.to)
	}
	if at < m.Size {
		out = append(out, Piece{Bytes: raw[at:]})
	}
	return out
}

// text is lines of the mail.
func (m Message) text(lines ...string) (out []Piece) {
	for _, l := range lines {
		if l != "" {
			out = append(out, Piece{Bytes: []byte(l + m.Lines)})
		}
	}
	return out
}

// mime is the field that says that a mail has parts, where it lacks it.
func (m Message) mime() []Piece {
	if m.Says("MIME-Version") {
		return nil
	}
	return m.text("MIME-Version: 1.0")
}

// content are the fields of the header that say what the content is.
func (m Message) content() (out []Field) {
	for _, f := range m.Fields {
		if slices.Contains(bare, strings.ToLower(f.Name)) {
			out = append(out, f)
		}
	}
	return out
}

// instead replaces the whole content of a mail that is nothing but an attachment.
func (m Message) instead(p Part) (out []splice) {
	for _, f := range m.content() {
		out = append(out, splice{from: f.From, to: f.To})
	}
	return append(out, splice{m.HeaderEnd, p.To, append(m.mime(), Piece{Note: AsBody})})
}

// add puts a note behind everything: as a further part of what is mixed, or together with the content in
// something that is.
func (m Message) add(raw []byte, mark string) (out []splice) {
	whole := m.Parts[0]
	if last := m.last(); whole.Kind == "multipart/mixed" && last > 0 {
		at := m.Parts[last].To
		return []splice{{at, at, []Piece{{Bytes: []byte(m.Lines + "--" + whole.Boundary + m.Lines)}, {Note: AsPart}}}}
	}
	first := append(m.mime(), m.text(`Content-Type: multipart/mixed; boundary="`+mark+`"`)...)
	first = append(first, Piece{Bytes: []byte(m.Lines + "--" + mark + m.Lines)})
	for _, f := range m.content() {
		out = append(out, splice{from: f.From, to: f.To})
		first = append(first, Piece{Bytes: raw[f.From:f.To]})
	}
	first = append(first, Piece{Bytes: []byte(m.Lines)})
	last := []Piece{{Bytes: []byte(m.Lines + "--" + mark + m.Lines)}, {Note: AsPart}, {Bytes: []byte(m.Lines + "--" + mark + "--" + m.Lines)}}
	return append(out, splice{m.HeaderEnd, whole.Body, first}, splice{m.Size, m.Size, last})
}

// last is the last part directly within the mail, or 0.
func (m Message) last() (at int) {
	for i, p := range m.Parts {
		if i > 0 && p.Parent == 0 {
			at = i
		}
	}
	return at
}

// Write puts a mail together with its note.
func Write(pieces []Piece, n Note, mark, lines string) []byte {
	var out bytes.Buffer
	for i, p := range pieces {
		out.Write(p.Bytes)
		if p.Note != Nowhere {
			out.WriteString(n.part(fmt.Sprintf("%s-%d", mark, i), lines))
		}
		if p.Note == AsBody {
			out.WriteString(lines)
		}
	}
	return out.Bytes()
}

// Note stands in a mail in the place of what it gives out.
type Note struct {
	// Language is that of the sender, Practice whose it is.
	Language, Practice string
	Files              []NotedFile
	Address, Until     string
	Password           bool
}

// NotedFile is a file as a note names it.
type NotedFile struct{ Name, Size string }

var said = map[string]struct{ lead, frozen, password, fetch string }{
	"en": {"These files are not attached. Fetch them until %s here:", "Copies from %s, frozen as they were sent; afterwards they are gone.", "A password opens them; it comes to you another way.", "Fetch the files"},
	"de": {"Diese Dateien sind nicht angehängt. Holen Sie sie bis %s hier:", "Kopien von %s, eingefroren wie gesendet; danach sind sie fort.", "Ein Passwort öffnet sie; es kommt auf einem anderen Weg.", "Dateien holen"},
}

// Text is a note as a text, and as a page.
func (n Note) Text() (plain, page string) {
	words, known := said[n.Language]
	if !known {
		words = said["en"]
	}
	lead, frozen := fmt.Sprintf(words.lead, n.Until), fmt.Sprintf(words.frozen, n.Practice)
	var p, h strings.Builder
	p.WriteString(lead + "\r\n\r\n")
	h.WriteString(`<div style="border-top:1px solid #888;margin-top:1em;padding-top:.6em"><p>` + escape(lead) + "</p>\r\n<ul>\r\n")
	for _, f := range n.Files {
		fmt.Fprintf(&p, "  %s (%s)\r\n", f.Name, f.Size)
		fmt.Fprintf(&h, "<li>%s (%s)</li>\r\n", escape(f.Name), escape(f.Size))
	}
	p.WriteString("\r\n" + n.Address + "\r\n\r\n")
	h.WriteString("</ul>\r\n<p><a href=\"" + escape(n.Address) + `">` + escape(words.fetch) + "</a></p>\r\n<p>")
	if n.Password {
		p.WriteString(words.password + "\r\n")
		h.WriteString(escape(words.password) + " ")
	}
	p.WriteString(frozen + "\r\n")
	h.WriteString(escape(frozen) + "</p></div>\r\n")
	return p.String(), h.String()
}

var escape = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&quot;", "'", "&#39;").Replace

// part is a note as a part of a mail that says it twice, as a text and as a page.
func (n Note) part(mark, lines string) string {
	plain, page := n.Text()
	var b strings.Builder
	line := func(s string) { b.WriteString(s + lines) }
	line(`Content-Type: multipart/alternative; boundary="` + mark + `"`)
	line("")
	for _, one := range [][2]string{{"text/plain", plain}, {"text/html", page}} {
		line("--" + mark)
		line("Content-Type: " + one[0] + "; charset=utf-8")
		line("Content-Disposition: inline")
		line("Content-Transfer-Encoding: base64")
		line("")
		for rest := base64.StdEncoding.EncodeToString([]byte(one[1])); rest != ""; {
			n := min(76, len(rest))
			line(rest[:n])
			rest = rest[n:]
		}
	}
	b.WriteString("--" + mark + "--")
	return b.String()
}
