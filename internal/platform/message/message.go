// Package message takes mails apart (RFC 5322, RFC 2045): where what stands in them, so that single parts
// can give way and all else stays byte for byte. It parses what comes from outside, and runs in cells.
package message

import (
	"bytes"
	"encoding/base64"
	"errors"
	"io"
	"mime"
	"mime/quotedprintable"
	"net/mail"
	"slices"
	"strings"

	"golang.org/x/net/html/charset"

	"tabularis/core/mailing"
)

const (
	// mostParts, mostDepth and mostFields bound how a mail may be put together.
	mostParts, mostDepth, mostFields = 1000, 30, 2000
	// mostText is how much of each text is looked through for register numbers, in bytes.
	mostText = 1 << 20
)

var (
	// ErrNoMail means that it is no mail: it has no header.
	ErrNoMail = errors.New("this is no mail")
	// ErrTooIntricate means that it has too many parts, or too deep ones.
	ErrTooIntricate = errors.New("the mail has too many parts")
	errNoPart       = errors.New("there is no such part")
)

// pretty begins text that is signed or encrypted inline.
var pretty = [][]byte{[]byte("-----BEGIN PGP SIGNED MESSAGE-----"), []byte("-----BEGIN PGP MESSAGE-----")}

// Dissect says of what a mail is made, and where what stands.
func Dissect(raw []byte) (mailing.Message, error) {
	d := dissection{raw: raw, m: mailing.Message{Size: int64(len(raw)), Lines: lineEnd(raw)}}
	fields, headerEnd, body := header(raw, 0, len(raw))
	if len(fields) == 0 {
		return d.m, ErrNoMail
	}
	if len(fields) > mostFields {
		return d.m, ErrTooIntricate
	}
	d.m.Fields, d.m.HeaderEnd = fields, int64(headerEnd)
	d.m.Subject, d.m.From = words(d.value(fields, "Subject")), authors(d.value(fields, "From"))
	err := d.part(-1, 0, 0, len(raw), fields, body, 0)
	return d.m, err
}

func lineEnd(raw []byte) string {
	if at := bytes.IndexByte(raw, '\n'); at > 0 && raw[at-1] == '\r' || at < 0 {
		return "\r\n"
	}
	return "\n"
}

type dissection struct {
	raw []byte
	m   mailing.Message
}

// header finds the fields from a place on, where the line begins that ends them, and where the body does.
func header(raw []byte, from, to int) (fields []mailing.Field, end, body int) {
	for at := from; at < to; {
		next := lineAfter(raw, at, to)
		line := bytes.TrimRight(raw[at:next], "\r\n")
		if len(line) == 0 {
			return fields, at, next
		}
		colon := bytes.IndexByte(line, ':')
		switch {
		case (line[0] == ' ' || line[0] == '\t') && len(fields) > 0:
			fields[len(fields)-1].To = int64(next)
		case colon > 0 && bytes.IndexFunc(line[:colon], notInName) < 0:
			fields = append(fields, mailing.Field{Name: strings.TrimRight(string(line[:colon]), " \t"), From: int64(at), To: int64(next)})
		default:
			// What is no field begins the body, as programs do that mean well.
			return fields, at, at
		}
		at = next
	}
	return fields, to, to
}

func notInName(r rune) bool { return r < 33 && r != ' ' && r != '\t' || r > 126 }

// lineAfter is where the line after the one at a place begins.
func lineAfter(raw []byte, at, to int) int {
	if n := bytes.IndexByte(raw[at:to], '\n'); n >= 0 {
		return at + n + 1
	}
	return to
}

// value is a field's, unfolded, or empty.
func (d *dissection) value(fields []mailing.Field, name string) string {
	for _, f := range fields {
		if strings.EqualFold(f.Name, name) {
			_, after, _ := bytes.Cut(d.raw[f.From:f.To], []byte(":"))
			return strings.TrimSpace(strings.NewReplacer("\r\n", "", "\n", "", "\r", "").Replace(string(after)))
		}
	}
	return ""
}

var decoder = mime.WordDecoder{CharsetReader: charset.NewReaderLabel}

// words are what encoded words say (RFC 2047).
func words(s string) string {
	if decoded, err := decoder.DecodeHeader(s); err == nil {
		s = decoded
	}
	return strings.ToValidUTF8(s, "\ufffd")
}

// authors are the addresses of a From field (RFC 5322, section 3.6.2); none where it cannot be read.
func authors(field string) (all []string) {
	parser := mail.AddressParser{WordDecoder: &decoder}
	list, err := parser.ParseList(field)
	if err != nil {
		return nil
	}
	for _, a := range list {
		all = append(all, a.Address)
	}
	return all
}

// part notes a part and those in it.
func (d *dissection) part(parent, delimiter, from, to int, fields []mailing.Field, body, depth int) error {
	if len(d.m.Parts) >= mostParts || depth > mostDepth {
		return ErrTooIntricate
	}
	kind, params, err := mime.ParseMediaType(d.value(fields, "Content-Type"))
	if kind == "" || err != nil && !errors.Is(err, mime.ErrInvalidMediaParameter) {
		kind, params = "text/plain", nil
	}
	disposition, disposed, err := mime.ParseMediaType(d.value(fields, "Content-Disposition"))
	if err != nil && disposition == "" && d.value(fields, "Content-Disposition") != "" {
		disposition = "attachment" // Whatever it is, it is not to be shown (RFC 2183, section 2.8).
	}
	name := disposed["filename"]
	if name == "" {
		name = params["name"]
	}
	p := mailing.Part{Parent: parent, Kind: strings.ToLower(kind), Boundary: params["boundary"], Delimiter: int64(delimiter), From: int64(from), Body: int64(body), To: int64(to),
		Name: words(name), Disposition: disposition, Encoding: strings.ToLower(d.value(fields, "Content-Transfer-Encoding")), ContentID: d.value(fields, "Content-ID") != ""}
	if p.Multi() && p.Boundary == "" {
		p.Kind = "text/plain" // It cannot be taken apart, and stays as it is.
	}
	at := len(d.m.Parts)
	d.m.Parts = append(d.m.Parts, p)
	if p.Multi() {
		return d.parts(at, depth)
	}
	content := d.raw[body:to]
	size, err := io.Copy(io.Discard, unpacked(p.Encoding, content))
	d.m.Parts[at].Size, d.m.Parts[at].Broken = size, err != nil || !slices.Contains(encodings, p.Encoding)
	if strings.HasPrefix(p.Kind, "text/") && p.Disposition != "attachment" {
		d.read(p, content, params["charset"])
	}
	return nil
}

// encodings are those that are known (RFC 2045, section 6.1).
var encodings = []string{"", "7bit", "8bit", "binary", "base64", "quoted-printable"}

// read looks a text through for register numbers, and for signatures within.
func (d *dissection) read(p mailing.Part, content []byte, label string) {
	raw, _ := io.ReadAll(io.LimitReader(unpacked(p.Encoding, content), mostText))
	for _, mark := range pretty {
		d.m.Pretty = d.m.Pretty || bytes.Contains(raw, mark)
	}
	if label != "" {
		if r, err := charset.NewReaderLabel(label, bytes.NewReader(raw)); err == nil {
			raw, _ = io.ReadAll(io.LimitReader(r, mostText))
		}
	}
	for _, ref := range mailing.RefsIn(own(string(raw))) {
		if len(d.m.Refs) < mailing.MostRefs && !slices.Contains(d.m.Refs, ref) {
			d.m.Refs = append(d.m.Refs, ref)
		}
	}
}

// own is a text without what it quotes of others (RFC 3676, section 4.5).
func own(text string) string {
	var out strings.Builder
	for line := range strings.Lines(text) {
		if !strings.HasPrefix(strings.TrimSpace(line), ">") {
			out.WriteString(line)
		}
	}
	return out.String()
}

// parts notes the parts of a multipart, between the lines of its boundary (RFC 2046, section 5.1.1).
func (d *dissection) parts(parent, depth int) error {
	p := d.m.Parts[parent]
	dash := []byte("--" + p.Boundary)
	begun, delimiter := -1, 0
	for at := int(p.Body); at < int(p.To); {
		next := lineAfter(d.raw, at, int(p.To))
		line := bytes.TrimRight(d.raw[at:next], " \t\r\n")
		last := bytes.Equal(line, append(bytes.Clone(dash), "--"...))
		if bytes.Equal(line, dash) || last {
			end := before(d.raw, at, int(p.Body))
			if begun >= 0 {
				if err := d.between(parent, delimiter, begun, max(begun, end), depth); err != nil {
					return err
				}
			}
			if last {
				return nil
			}
			begun, delimiter = next, end
		}
		at = next
	}
	if begun >= 0 {
		// Nothing ends it: the rest is its last part.
		return d.between(parent, delimiter, begun, int(p.To), depth)
	}
	return nil
}

// before is where the line end stands that belongs to a boundary.
func before(raw []byte, at, least int) int {
	if at > least && raw[at-1] == '\n' {
		at--
		if at > least && raw[at-1] == '\r' {
			at--
		}
	}
	return at
}

func (d *dissection) between(parent, delimiter, from, to, depth int) error {
	fields, _, body := header(d.raw, from, to)
	return d.part(parent, delimiter, from, to, fields, min(body, to), depth+1)
}

// Content is what a part of a mail that was taken apart holds, decoded.
func Content(raw []byte, p mailing.Part) ([]byte, error) {
	if p.Body < 0 || p.Body > p.To || p.To > int64(len(raw)) || p.Multi() {
		return nil, errNoPart
	}
	return io.ReadAll(unpacked(p.Encoding, raw[p.Body:p.To]))
}

// unpacked decodes a content.
func unpacked(encoding string, content []byte) io.Reader {
	switch strings.TrimSpace(encoding) {
	case "base64":
		return base64.NewDecoder(base64.StdEncoding, bytes.NewReader(inAlphabet(content)))
	case "quoted-printable":
		return quotedprintable.NewReader(bytes.NewReader(content))
	}
	return bytes.NewReader(content)
}

// inAlphabet leaves out what is no letter of base64 (RFC 2045, section 6.8).
func inAlphabet(content []byte) []byte {
	out := make([]byte, 0, len(content))
	for _, c := range content {
		if c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z' || c >= '0' && c <= '9' || c == '+' || c == '/' || c == '=' {
			out = append(out, c)
		}
	}
	return out
}
