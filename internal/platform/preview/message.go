package preview

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"html"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net/mail"
	"regexp"
	"strings"

	"github.com/microcosm-cc/bluemonday"
	"golang.org/x/net/html/charset"
)

// mailMessage is the media type of a mail (RFC 5322, with parts by RFC 2045).
const mailMessage = "message/rfc822"

// maxParts and maxNested bound how a mail may be put together.
const maxParts, maxNested = 200, 8

// shownFields are the fields of a mail that are read, in the order in which they are shown.
var shownFields = []string{"From", "To", "Cc", "Date", "Subject"}

// attachedFile is what is attached to a mail.
type attachedFile struct {
	name    string
	content []byte
}

// message reads a mail as text: its fields, what was written, and what is attached by its
// name; and what is attached. What is no mail is read as it is.
func message(raw []byte) (string, []attachedFile) {
	m, err := mail.ReadMessage(bytes.NewReader(raw))
	if err != nil {
		return decode(raw, true), nil
	}
	var out strings.Builder
	words := mime.WordDecoder{CharsetReader: charset.NewReaderLabel}
	for _, field := range shownFields {
		value := m.Header.Get(field)
		if decoded, err := words.DecodeHeader(value); err == nil {
			value = decoded
		}
		if value != "" {
			fmt.Fprintf(&out, "%s: %s\n", field, value)
		}
	}
	p := mailReader{left: maxParts}
	p.part(part{m.Header.Get("Content-Type"), m.Header.Get("Content-Transfer-Encoding"), ""}, m.Body, 0)
	if len(p.attached) > 0 {
		fmt.Fprintf(&out, "Attached: %s\n", strings.Join(p.attached, ", "))
	}
	out.WriteString("\n" + p.text.String())
	return strings.ToValidUTF8(out.String(), "\ufffd"), p.files
}

type part struct{ contentType, encoding, disposition string }

type mailReader struct {
	text     strings.Builder
	attached []string
	files    []attachedFile
	left     int
}

// part reads a part of a mail and the parts in it; of several ways to say the same, the
// plain one.
func (p *mailReader) part(of part, body io.Reader, nested int) {
	if p.left--; p.left < 0 || nested > maxNested {
		return
	}
	kind, params, err := mime.ParseMediaType(of.contentType)
	if err != nil {
		kind, params = "text/plain", nil
	}
	if strings.HasPrefix(kind, "multipart/") {
		p.parts(kind, params["boundary"], body, nested)
		return
	}
	_, disposed, _ := mime.ParseMediaType(of.disposition)
	name := disposed["filename"]
	if name == "" {
		name = params["name"]
	}
	if name != "" || !strings.HasPrefix(kind, "text/") {
		if name == "" {
			name = kind
		}
		p.attached = append(p.attached, strings.Join(strings.Fields(name), " "))
		content, _ := io.ReadAll(io.LimitReader(unpacked(of.encoding, body), maxPlain))
		p.files = append(p.files, attachedFile{name, content})
		return
	}
	raw, _ := io.ReadAll(io.LimitReader(unpacked(of.encoding, body), maxPlain))
	if label := params["charset"]; label != "" {
		if r, err := charset.NewReaderLabel(label, bytes.NewReader(raw)); err == nil {
			raw, _ = io.ReadAll(io.LimitReader(r, maxPlain))
		}
	}
	text := decode(raw, true)
	if kind == "text/html" {
		text = plainOf(text)
	}
	p.text.WriteString(strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n")) + "\n")
}

func (p *mailReader) parts(kind, boundary string, body io.Reader, nested int) {
	all := multipart.NewReader(body, boundary)
	for first := true; ; first = false {
		one, err := all.NextRawPart()
		if err != nil {
			return
		}
		of := part{one.Header.Get("Content-Type"), one.Header.Get("Content-Transfer-Encoding"), one.Header.Get("Content-Disposition")}
		if kind == "multipart/alternative" && !first && p.text.Len() > 0 {
			continue
		}
		p.part(of, one, nested+1)
	}
}

func unpacked(encoding string, r io.Reader) io.Reader {
	switch strings.ToLower(strings.TrimSpace(encoding)) {
	case "base64":
		return base64.NewDecoder(base64.StdEncoding, r)
	case "quoted-printable":
		return quotedprintable.NewReader(r)
	}
	return r
}

var (
	breaks   = regexp.MustCompile(`(?i)<(br|/p|/div|/tr|/li|/h[1-6])\b[^>]*>`)
	wordless = bluemonday.StrictPolicy()
)

// plainOf is the text of a part that is written as a page.
func plainOf(page string) string {
	return html.UnescapeString(wordless.Sanitize(breaks.ReplaceAllString(page, "\n")))
}
