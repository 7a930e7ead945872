package preview

import (
	"encoding/base64"
	"strings"
	"testing"
	"unicode/utf8"
)

const mailed = "From: =?utf-8?q?Odile_Charron?= <odile.charron@brackwater-ferries.example>\r\nTo: ines.okafor@halyard-rook.example\r\nBcc: nobody@example.example\r\n" +
	"Subject: =?utf-8?b?RG9ja2luZyDigJMgY29uZmlybWVk?=\r\nDate: Mon, 23 Nov 2026 09:00:00 +0000\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=outer\r\n\r\n" +
	"--outer\r\nContent-Type: multipart/alternative; boundary=inner\r\n\r\n" +
	"--inner\r\nContent-Type: text/plain; charset=iso-8859-1\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\nSch=E4den an Spant 31.\r\n" +
	"--inner\r\nContent-Type: text/html; charset=utf-8\r\n\r\n<p>Schäden <script>alert(1)</script></p>\r\n--inner--\r\n" +
	"--outer\r\nContent-Type: application/pdf; name=\"docking.pdf\"\r\nContent-Disposition: attachment; filename=\"docking.pdf\"\r\nContent-Transfer-Encoding: base64\r\n\r\nJVBERi0=\r\n--outer--\r\n"

func TestMailIsReadAsItWasWritten(t *testing.T) {
	if got := MediaType("docking.eml", []byte(mailed)); got != mailMessage || LookOf(got) != Text {
		t.Errorf("it is %s", got)
	}
	want := "From: Odile Charron <odile.charron@brackwater-ferries.example>\nTo: ines.okafor@halyard-rook.example\nDate: Mon, 23 Nov 2026 09:00:00 +0000\nSubject: Docking – confirmed\nAttached: docking.pdf\n\nSchäden an Spant 31.\n"
	p, err := Prepare(mailMessage, int64(len(mailed)), strings.NewReader(mailed))
	if err != nil || p.Text != want {
		t.Errorf("%q, %v", p.Text, err)
	}
	// What is packed is found by those who look for it.
	packed := "Subject: x\r\nContent-Type: text/plain\r\nContent-Transfer-Encoding: base64\r\n\r\n" + base64.StdEncoding.EncodeToString([]byte("IBAN DE89370400440532013000"))
	if plain, ok, err := PlainText(nil, mailMessage, []byte(packed)); err != nil || !ok || !strings.Contains(plain.Parts[0], "DE89370400440532013000") {
		t.Errorf("%v %v %v", plain, ok, err)
	}
	if got, _ := message([]byte("Content-Type: text/html\r\n\r\n<p>One<br>two &amp; three</p><img src=x>")); got != "\nOne\ntwo & three\n" {
		t.Errorf("%q", got)
	}
	if got, _ := message([]byte("no mail at all")); got != "no mail at all" {
		t.Errorf("%q", got)
	}
}

func FuzzMessage(f *testing.F) {
	f.Add([]byte(mailed))
	f.Add([]byte("Content-Type: multipart/mixed; boundary=a\r\n\r\n--a\r\nContent-Type: multipart/mixed; boundary=a\r\n\r\n--a\r\n"))
	f.Fuzz(func(t *testing.T, raw []byte) {
		if text, _ := message(raw); !utf8.ValidString(text) {
			t.Errorf("%q becomes %q", raw, text)
		}
	})
}
