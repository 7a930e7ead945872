package documents

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
)

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
