package message

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"net/mail"
	"slices"
	"strings"
	"testing"

	"tabularis/core/mailing"
	"tabularis/core/register"
)

func crlf(s string) []byte { return []byte(strings.ReplaceAll(s, "\n", "\r\n")) }

const mixed = `From: Ines <ines@halyard-rook.example>
To: Odile <odile@brackwater.example>
Bcc: hidden@brackwater.example
Subject: =?utf-8?q?Sp=C3=A4ter?=
Message-ID: <1@halyard-rook.example>
MIME-Version: 1.0
Content-Type: multipart/mixed; boundary="=_outer"

For readers of old.
--=_outer
Content-Type: multipart/alternative; boundary=inner

--inner
Content-Type: text/plain; charset=iso-8859-1
Content-Transfer-Encoding: 8bit

Gr` + "\xfc\xdf" + `e, see MER-24/017.
> and MER-24/009 of before
--inner
Content-Type: multipart/related; boundary=rel

--rel
Content-Type: text/html

<img src="cid:hull">
--rel
Content-Type: image/png; name=hull.png
Content-ID: <hull>
Content-Disposition: inline
Content-Transfer-Encoding: base64

aGVsbG8=
--rel--
--inner--
--=_outer
Content-Type: application/pdf; name="survey.pdf"
Content-Disposition: attachment; filename*=utf-8''Pr%C3%BCfung.pdf
Content-Transfer-Encoding: base64

JVBERi0x
LjQ=
--=_outer
Content-Type: text/calendar; method=REQUEST; name=invite.ics

BEGIN:VCALENDAR
--=_outer
Content-Type: text/csv; name=readings.csv
Content-Transfer-Encoding: quoted-printable

Frame;Me=C3=A4sured
31;6.9=
 mm
--=_outer--
Afterwards.
`

var note = mailing.Note{Language: "de", Practice: "Halyard & Rook", Files: []mailing.NotedFile{{Name: "<b>.pdf", Size: "2 MB"}}, Address: "https://papers.example/l/token", Until: "12. Dezember 2026"}

func dissect(t *testing.T, raw []byte) mailing.Message {
	t.Helper()
	m, err := Dissect(raw)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func TestAMailIsTakenApart(t *testing.T) {
	raw := crlf(mixed)
	m := dissect(t, raw)
	var kinds []string
	for _, p := range m.Parts {
		kinds = append(kinds, p.Kind)
	}
	if want := []string{"multipart/mixed", "multipart/alternative", "text/plain", "multipart/related", "text/html", "image/png", "application/pdf", "text/calendar", "text/csv"}; !slices.Equal(kinds, want) {
		t.Fatalf("%v", kinds)
	}
	if m.Subject != "Später" || !slices.Equal(m.From, []string{"ines@halyard-rook.example"}) || !slices.Equal(m.Refs, []register.Ref{{Code: "MER-24", Number: 17}}) {
		t.Errorf("%q %q %v", m.Subject, m.From, m.Refs)
	}
	attached := m.Attachments(mailing.Settings{})
	if !slices.Equal(attached, []int{6, 8}) || m.Parts[6].FileName() != "Prüfung.pdf" || m.Parts[6].Size != 8 {
		t.Errorf("%v %+v", attached, m.Parts[6])
	}
	if got := m.Attachments(mailing.Settings{Over: 9}); !slices.Equal(got, []int{8}) {
		t.Errorf("of more than eight bytes: %v", got)
	}
	for part, want := range map[int]string{5: "hello", 6: "%PDF-1.4", 8: "Frame;Meäsured\r\n31;6.9 mm"} {
		if got, err := Content(raw, m.Parts[part]); err != nil || string(got) != want {
			t.Errorf("part %d: %q %v", part, got, err)
		}
	}
	// With nothing done to it, it stays; but for those who are hidden.
	without := bytes.Replace(raw, []byte("Bcc: hidden@brackwater.example\r\n"), nil, 1)
	if got := mailing.Write(mailing.Template(m, raw, mailing.Changes{}), note, "mark", m.Lines); !bytes.Equal(got, without) {
		t.Errorf("untouched it becomes %q", got)
	}
}

// leaves are the decoded leaves of a mail as the standard library reads it, by their kinds.
func leaves(t *testing.T, raw []byte) (all []string) {
	t.Helper()
	m, err := mail.ReadMessage(bytes.NewReader(raw))
	if err != nil {
		t.Fatal(err)
	}
	var walk func(contentType, encoding string, body io.Reader)
	walk = func(contentType, encoding string, body io.Reader) {
		kind, params, err := mime.ParseMediaType(contentType)
		if err != nil {
			kind = "text/plain"
		}
		if strings.HasPrefix(kind, "multipart/") {
			parts := multipart.NewReader(body, params["boundary"])
			for {
				p, err := parts.NextRawPart()
				if err == io.EOF {
					return
				}
				if err != nil {
					t.Fatalf("%v in %q", err, raw)
				}
				walk(p.Header.Get("Content-Type"), p.Header.Get("Content-Transfer-Encoding"), p)
			}
		}
		content, err := io.ReadAll(unpacked(strings.ToLower(encoding), must(io.ReadAll(body))))
		if err != nil {
			t.Fatal(err)
		}
		all = append(all, kind+" "+string(content))
	}
	walk(m.Header.Get("Content-Type"), m.Header.Get("Content-Transfer-Encoding"), m.Body)
	return all
}

func must(b []byte, _ error) []byte { return b }

// What gives way is gone, the note stands once in each multipart, and all else is as it was.
func TestAttachmentsGiveWay(t *testing.T) {
	raw := crlf(mixed)
	m := dissect(t, raw)
	got := mailing.Write(mailing.Template(m, raw, mailing.Changes{Replaced: []int{6, 8}, Mark: "mark", Trace: "Received: by papers.example", Added: []string{"Date: Mon, 30 Nov 2026 04:00:00 +0000"}}), note, "mark", m.Lines)
	before, after := leaves(t, raw), leaves(t, got)
	if len(after) != 6 || !slices.Equal(after[:3], before[:3]) || after[5] != before[4] {
		t.Fatalf("%q", after)
	}
	if !strings.Contains(after[3], note.Address) || !strings.Contains(after[3], "Prüf") && !strings.Contains(after[3], "<b>.pdf") || !strings.Contains(after[4], "&lt;b&gt;.pdf") {
		t.Errorf("the note: %q", after[3:5])
	}
	if !bytes.HasPrefix(got, []byte("Received: by papers.example\r\nFrom: ")) || !bytes.Contains(got, []byte("Date: Mon, 30 Nov 2026 04:00:00 +0000\r\n\r\nFor readers of old.")) {
		t.Errorf("%.300s", got)
	}
	if bytes.Contains(got, []byte("JVBERi")) || bytes.Contains(got, []byte("hidden@")) || !bytes.HasSuffix(got, []byte("--=_outer--\r\nAfterwards.\r\n")) {
		t.Errorf("%s", got)
	}
}

func TestNotesFindTheirPlace(t *testing.T) {
	alone := crlf("From: a@b.example\nContent-Type: application/pdf\nContent-Disposition: attachment;\n filename=a.pdf\nContent-Transfer-Encoding: base64\nSubject: x\n\nJVBERi0x\n")
	m := dissect(t, alone)
	got := mailing.Write(mailing.Template(m, alone, mailing.Changes{Replaced: m.Attachments(mailing.Settings{}), Mark: "mark"}), note, "mark", m.Lines)
	if all := leaves(t, got); len(all) != 2 || !strings.Contains(all[0], note.Address) || bytes.Contains(got, []byte("JVBERi")) || !bytes.Contains(got, []byte("Subject: x\r\n")) {
		t.Errorf("instead of all: %s", got)
	}
	for name, text := range map[string]string{
		"a text":             "From: a@b.example\nMIME-Version: 1.0\nContent-Type: text/plain; charset=utf-8\nSubject: x\n\nSee MER-24/017.\n",
		"without a kind":     "From: a@b.example\nSubject: x\n\nSee MER-24/017.",
		"with unix lines":    "From: a@b.example\nContent-Type: text/html\n\n<p>MER-24/017",
		"said in two ways":   "From: a@b.example\nMIME-Version: 1.0\nContent-Type: multipart/alternative; boundary=x\n\n--x\n\nMER-24/017\n--x\nContent-Type: text/html\n\nMER-24/017\n--x--\n",
		"mixed already":      "From: a@b.example\nMIME-Version: 1.0\nContent-Type: multipart/mixed; boundary=x\n\n--x\n\nMER-24/017\n--x--\n",
		"mixed without end":  "From: a@b.example\nMIME-Version: 1.0\nContent-Type: multipart/mixed; boundary=x\n\n--x\n\nMER-24/017\n",
		"without any header": "Subject: x\n\n",
	} {
		raw := crlf(text)
		if name == "with unix lines" {
			raw = []byte(text)
		}
		m := dissect(t, raw)
		got := mailing.Write(mailing.Template(m, raw, mailing.Changes{Note: true, Mark: "mark"}), note, "mark", m.Lines)
		if name == "mixed without end" {
			got = append(got, "\r\n--x--\r\n"...) // As lenient readers take it.
		}
		before, after := leaves(t, append(slices.Clone(raw), map[bool]string{true: "\r\n--x--\r\n"}[name == "mixed without end"]...)), leaves(t, got)
		if len(after) != len(before)+2 || !strings.Contains(after[len(after)-2], note.Address) {
			t.Errorf("%s: %q", name, got)
			continue
		}
		for i := range before {
			if strings.TrimRight(after[i], "\r\n") != strings.TrimRight(before[i], "\r\n") {
				t.Errorf("%s: %q became %q", name, before[i], after[i])
			}
		}
	}
}

// What is signed, encrypted, or not understood goes on as it came.
func TestWhatMustNotBeTouched(t *testing.T) {
	const attached = "--x\nContent-Type: application/pdf; name=a.pdf\n\n%PDF\n--x--\n"
	for name, c := range map[string]struct{ head, body string }{
		"signed by S/MIME":      {"Content-Type: multipart/signed; boundary=x; micalg=sha-256; protocol=\"application/pkcs7-signature\"", attached},
		"signed in a container": {"Content-Type: multipart/mixed; boundary=x", "--x\nContent-Type: multipart/signed; boundary=y\n\n--y\n\ntext\n--y--\n" + attached},
		"encrypted by S/MIME":   {"Content-Type: application/pkcs7-mime; name=smime.p7m; smime-type=enveloped-data", "AAAA"},
		"encrypted by PGP":      {"Content-Type: multipart/encrypted; boundary=x; protocol=\"application/pgp-encrypted\"", attached},
		"signed inline":         {"Content-Type: multipart/mixed; boundary=x", "--x\n\n-----BEGIN PGP SIGNED MESSAGE-----\n" + attached},
		"broken base64":         {"Content-Type: multipart/mixed; boundary=x", "--x\nContent-Type: application/pdf; name=a.pdf\nContent-Transfer-Encoding: base64\n\nAAA\n--x--\n"},
		"an old encoding":       {"Content-Type: multipart/mixed; boundary=x", "--x\nContent-Type: application/pdf; name=a.pdf\nContent-Transfer-Encoding: x-uuencode\n\nbegin 644 a\n--x--\n"},
		"without a boundary":    {"Content-Type: multipart/mixed", attached},
		"an invitation":         {"Content-Type: multipart/mixed; boundary=x", "--x\nContent-Type: text/calendar; name=a.ics\nContent-Disposition: attachment\n\nBEGIN:VCALENDAR\n--x--\n"},
	} {
		m := dissect(t, crlf("From: a@b.example\nMIME-Version: 1.0\n"+c.head+"\n\n"+c.body))
		if got := m.Attachments(mailing.Settings{}); len(got) != 0 {
			t.Errorf("%s: %v of %+v", name, got, m.Parts)
		}
	}
}

func TestNamesOfAttachments(t *testing.T) {
	for name, want := range map[string]string{
		"a.pdf": "a.pdf", "../../etc/passwd": ".._.._etc_passwd", "C:\\temp\\a.pdf": "C:_temp_a.pdf", "invoice\u202efdp.exe": "invoice_fdp.exe", "a.pdf          .exe": "a.pdf .exe",
		"": "attachment", "..": "attachment", strings.Repeat("ä", 300) + ".pdf": "", "a\x00b.pdf": "a_b.pdf",
	} {
		got := mailing.Part{Kind: "application/pdf", Name: name}.FileName()
		if want != "" && got != want || len(got) > 255 || want == "" && !strings.HasSuffix(got, ".pdf") {
			t.Errorf("%q becomes %q", name, got)
		}
	}
}

func TestIntricateMailsAreRefused(t *testing.T) {
	deep := "From: a@b.example\n"
	for i := range 40 {
		deep += fmt.Sprintf("Content-Type: multipart/mixed; boundary=b%d\n\n--b%d\n", i, i)
	}
	wide := "From: a@b.example\nContent-Type: multipart/mixed; boundary=x\n\n" + strings.Repeat("--x\n\na\n", 2000)
	for _, raw := range []string{deep, wide} {
		if _, err := Dissect(crlf(raw)); err != ErrTooIntricate {
			t.Errorf("%v", err)
		}
	}
	for _, raw := range []string{"", "\r\n", "no header at all", "\x00\x01\x02"} {
		if _, err := Dissect([]byte(raw)); err != ErrNoMail {
			t.Errorf("%q: %v", raw, err)
		}
	}
}

// Whatever comes, nothing but what gives way is lost, and what is left can be taken apart again.
func FuzzDissect(f *testing.F) {
	f.Add(crlf(mixed), true)
	f.Add([]byte(mixed), false)
	f.Add([]byte("a:b\n\n--x"), true)
	f.Fuzz(func(t *testing.T, raw []byte, noted bool) {
		m, err := Dissect(raw)
		if err != nil {
			return
		}
		for i, p := range m.Parts {
			if p.From > p.Body || p.Body > p.To || p.To > m.Size || p.Delimiter > p.From || i > 0 && p.Parent >= i {
				t.Fatalf("%d: %+v", i, p)
			}
			if !p.Multi() {
				_, _ = Content(raw, p)
			}
		}
		replaced := m.Attachments(mailing.Settings{})
		out := mailing.Template(m, raw, mailing.Changes{Replaced: replaced, Note: noted, Mark: "mark"})
		kept := 0
		for _, piece := range out {
			kept += len(piece.Bytes)
		}
		gone := 0
		for _, i := range replaced {
			gone += int(m.Parts[i].To - m.Parts[i].Delimiter)
		}
		for _, field := range m.Fields {
			gone += int(field.To - field.From)
		}
		if kept < len(raw)-gone-4 {
			t.Fatalf("%d of %d bytes are left, %d may be gone", kept, len(raw), gone)
		}
		if again := mailing.Write(out, note, "mark", m.Lines); len(again) > 0 {
			_, _ = Dissect(again)
		}
	})
}

func TestLargeContent(t *testing.T) {
	content := bytes.Repeat([]byte("hull "), 1<<20)
	raw := append(crlf("From: a@b.example\nContent-Type: application/pdf; name=a.pdf\nContent-Transfer-Encoding: base64\n\n"), base64.StdEncoding.EncodeToString(content)...)
	if got, err := Content(raw, dissect(t, raw).Parts[0]); err != nil || !bytes.Equal(got, content) {
		t.Errorf("%d bytes, %v", len(got), err)
	}
}
