package door

import (
	"mime"
	"strings"
	"testing"
)

// Whatever a document is called, the header that names it is one header and says
// that name again.
func FuzzDisposition(f *testing.F) {
	for _, s := range []string{"report.pdf", "a\"b.pdf", "Prüfbericht.pdf", "a\r\nSet-Cookie: x=y", "", "\xff", "a;b=c"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, name string) {
		v := Disposition("attachment", name)
		if strings.ContainsAny(v, "\r\n") {
			t.Fatalf("%q breaks the header: %q", name, v)
		}
		if kind, params, err := mime.ParseMediaType(v); err != nil || kind != "attachment" || params["filename"] != "" && params["filename"] != name && strings.ToValidUTF8(name, "") == name {
			t.Errorf("%q is told as %q: %v %v", name, v, params, err)
		}
	})
}

func FuzzAgent(f *testing.F) {
	f.Add("Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0")
	f.Fuzz(func(t *testing.T, header string) {
		if got := agent(header); len(got) > 40 || strings.ContainsAny(got, "<>\r\n") {
			t.Errorf("%q is told as %q", header, got)
		}
	})
}
