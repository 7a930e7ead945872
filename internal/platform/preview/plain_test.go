package preview

import (
	"encoding/base64"
	"fmt"
	"strings"
	"testing"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// Text is read as it was written, whatever it was written by.
func TestEncodingsAreTold(t *testing.T) {
	const written = "Prüfung der Außenhaut: Schäden an Spant 31, Größe über 40 mm. Höhe geändert, Fläche gemäß Plan."
	for name, e := range map[string]encoding.Encoding{
		"utf-8": unicode.UTF8, "utf-8 with a mark": unicode.UTF8BOM, "windows-1252": charmap.Windows1252, "iso-8859-1": charmap.ISO8859_1, "cp850": charmap.CodePage850, "macintosh": charmap.Macintosh,
		"utf-16 le": unicode.UTF16(unicode.LittleEndian, unicode.IgnoreBOM), "utf-16 be": unicode.UTF16(unicode.BigEndian, unicode.IgnoreBOM),
		"utf-16 le with a mark": unicode.UTF16(unicode.LittleEndian, unicode.UseBOM), "utf-16 be with a mark": unicode.UTF16(unicode.BigEndian, unicode.UseBOM),
	} {
		raw, err := e.NewEncoder().Bytes([]byte(written))
		if err != nil {
			t.Fatal(err)
		}
		if got := decode(raw, true); got != written {
			t.Errorf("%s is read as %q", name, got)
		}
	}
}

func TestRichTextIsRead(t *testing.T) {
	for raw, want := range map[string]string{
		`{\rtf1\ansi{\fonttbl{\f0 Arial;}}{\info{\author Nobody}}\f0 Frame 31\par Sch\'e4den {\b bold}\tab x}`: "Frame 31\nSchäden bold\tx",
		`{\rtf1\uc1 gr\u252?n {\*\generator Some;}\{braces\} \u-10179?}`:                                       "grün {braces} \ufffd",
		`{\rtf1 broken {\b`: "broken ", `}}}}`: "", `{\rtf1 \bin5 abcde after}`: " after", `\`: "", `{\rtf1 \'z`: "",
	} {
		if got := plainRichText([]byte(raw)); strings.TrimRight(got, " ") != strings.TrimRight(want, " ") {
			t.Errorf("%q is read as %q, want %q", raw, got, want)
		}
	}
}

// What is attached to a mail is read with it, as deep as mails may lie in each other.
func TestAttachmentsAreRead(t *testing.T) {
	in := func(inner, kind, name string) string {
		return "Subject: outer\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\nhello\r\n--b\r\nContent-Type: " + kind + "; name=\"" + name +
			"\"\r\nContent-Disposition: attachment; filename=\"" + name + "\"\r\nContent-Transfer-Encoding: base64\r\n\r\n" + base64.StdEncoding.EncodeToString([]byte(inner)) + "\r\n--b--\r\n"
	}
	read := func(raw string) string {
		p, ok, err := PlainText(nil, mailMessage, []byte(raw))
		if err != nil || !ok {
			t.Fatalf("%v, %v", ok, err)
		}
		return strings.Join(p.Parts, "|")
	}
	if got := read(in("frame,measured\n31,6.9\n", "text/csv", "readings.csv")); !strings.Contains(got, "hello") || !strings.Contains(got, "31,6.9") {
		t.Errorf("%q", got)
	}
	if got := read(in("<p>Docking <b>confirmed</b></p><script>alert(1)</script>", "text/html", "page.html")); !strings.Contains(got, "Docking confirmed") || strings.Contains(got, "<b>") {
		t.Errorf("%q", got)
	}
	deep := "bottom of it"
	for n := range 500 {
		deep = fmt.Sprintf("Subject: mail %d\r\n\r\n%s", n, deep)
		if n < 8 {
			deep = in(deep, "message/rfc822", "inner.eml")
		}
	}
	read(deep)
	for _, broken := range []string{"", "PK\x03\x04", "\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + strings.Repeat("\xff", 600)} {
		read(in(broken, "application/vnd.ms-outlook", "broken.msg"))
		if _, _, err := PlainText(nil, compoundMail, []byte(broken)); err != nil {
			t.Errorf("%.8q: %v", broken, err)
		}
	}
}

func FuzzOldTexts(f *testing.F) {
	f.Add([]byte(`{\rtf1\ansi\u252?\'e4\bin3 abc}`))
	f.Add([]byte("\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"))
	f.Fuzz(func(_ *testing.T, raw []byte) {
		plainRichText(raw)
		decode(raw, true)
		compound(raw)
	})
}
