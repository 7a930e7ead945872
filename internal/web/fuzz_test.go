package web

import (
	"mime"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
)

// Whatever a document is called, the header that names it is one header and says
// that name again.
func FuzzDisposition(f *testing.F) {
	for _, s := range []string{"report.pdf", "a\"b.pdf", "Prüfbericht.pdf", "a\r\nSet-Cookie: x=y", "", "\xff", "a;b=c"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, name string) {
		v := dispositionOf("attachment", name)
		if strings.ContainsAny(v, "\r\n") {
			t.Fatalf("%q breaks the header: %q", name, v)
		}
		if kind, params, err := mime.ParseMediaType(v); err != nil || kind != "attachment" || params["filename"] != "" && params["filename"] != name && strings.ToValidUTF8(name, "") == name {
			t.Errorf("%q is told as %q: %v %v", name, v, params, err)
		}
	})
}

// What asks for content is refused or understood, and never panics.
func FuzzContentRequest(f *testing.F) {
	f.Add("92d41108-f3c5-490c-95f0-1f360d49b4a6", "3")
	f.Add("not an id", "-1")
	f.Add("92d41108-f3c5-490c-95f0-1f360d49b4a6", "99999999999999999999")
	f.Fuzz(func(t *testing.T, id, version string) {
		c, _ := gin.CreateTestContext(httptest.NewRecorder())
		c.Request = httptest.NewRequest(http.MethodGet, "/", nil)
		q := c.Request.URL.Query()
		q.Set("version", version)
		c.Request.URL.RawQuery = q.Encode()
		c.Params = gin.Params{{Key: "id", Value: id}}
		_, number, err := contentOf(c)
		if err == nil && number < 0 || err != nil && !fault.Is(err, fault.Invalid) {
			t.Errorf("%q %q: %d %v", id, version, number, err)
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
