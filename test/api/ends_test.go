package api_test

import (
	"io"
	"testing"
	"time"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// What is on its way to a person when their access, or their session, ends is cut
// off, as it is for visitors.
func TestTransfersEndWithAccess(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	large := make([]byte, 64<<20)
	for i := range large {
		large[i] = byte(i * 31 >> 3)
	}
	doc := o.luca.Upload(o.top, "", "soundings.bin", large).Document.Id
	for name, end := range map[string]func(c *testkit.Client){
		"access": func(*testkit.Client) {
			o.hanne.Want(204, "PUT", "/api/items/"+doc.String()+"/closed", contract.Closed{Closed: true})
		},
		"session": func(c *testkit.Client) { c.Want(204, "DELETE", "/api/session", nil) },
	} {
		for _, what := range []string{"/documents/" + doc.String() + "/content", "/archive?item=" + o.top.String()} {
			o.hanne.Want(204, "PUT", "/api/items/"+doc.String()+"/closed", contract.Closed{Closed: false})
			reader := o.SignIn("priya")
			resp, err := reader.HTTP.Get(o.URL + "/api" + what)
			if err != nil {
				t.Fatal(err)
			}
			if _, err := io.CopyN(io.Discard, resp.Body, 1<<20); err != nil {
				t.Fatal(err)
			}
			end(reader)
			n, err := io.Copy(io.Discard, resp.Body)
			resp.Body.Close()
			if err == nil || n+1<<20 >= int64(len(large)) {
				t.Errorf("%s, the %s ends: %d bytes came after, %v", what, name, n, err)
			}
		}
	}
}

// An event stream ends at once with its session, however that ends.
func TestStreamsEndWithTheirSession(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	for name, end := range map[string]func(c *testkit.Client){
		"signing out": func(c *testkit.Client) { c.Want(204, "DELETE", "/api/session", nil) },
		"from elsewhere": func(*testkit.Client) {
			o.SignIn("priya").Want(204, "DELETE", "/api/me/sessions", nil)
		},
		"ended account": func(*testkit.Client) {
			if _, err := o.App.DB.Exec(`DELETE FROM sessions WHERE person_id = $1`, o.People["priya"].ID); err != nil {
				t.Fatal(err)
			}
		},
	} {
		c := o.SignIn("priya")
		news := streamOf(t, c, "/api/live")
		end(c)
		late := time.After(10 * time.Second)
		for open := true; open; {
			select {
			case _, open = <-news:
			case <-late:
				t.Fatalf("%s: the stream goes on", name)
			}
		}
		if a := c.Do("GET", "/api/today", nil); a.Status != 401 {
			t.Errorf("%s: %d", name, a.Status)
		}
	}
}
