package api_test

import (
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A machine's clock jumps, forward and back. Nothing fails because of it and
// nobody is kept out for the length of a jump; what has an end keeps to the clock.
func TestTheClockJumps(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("a.txt", "a")
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Until: ptr(w.Now().Add(24 * time.Hour))})
	_, locked := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Password: ptr("harbour-window-12")})
	ahead := w.luca
	works := func(when string, c *testkit.Client) {
		t.Helper()
		for _, path := range []string{"/today", "/activity", "/notices", "/dossiers", "/links?mine=true", "/documents/" + doc.String(), "/items/" + doc.String() + "/reach", "/folders/" + w.top.String() + "/register", "/me/sessions"} {
			if a := c.Do("GET", "/api"+path, nil); a.Status != 200 {
				t.Errorf("%s: %s: %d %s", when, path, a.Status, a.Body)
			}
		}
	}

	w.Later(30 * 24 * time.Hour)
	if a := show(w.Visitor(), token, ""); a.Status != 410 {
		t.Errorf("a month ahead, the link that ended is %d", a.Status)
	}
	late := w.SignIn("luca")
	works("a month ahead", late)
	made := late.Upload(w.top, "", "ahead.txt", []byte("made ahead")).Document.Id
	for range 6 {
		show(w.Visitor(), locked, "not-this-one-1")
	}

	w.Later(-31 * 24 * time.Hour)
	works("a day before the beginning", ahead)
	works("a day before the beginning, by a session from ahead", late)
	if a := show(w.Visitor(), token, ""); a.Status != 204 {
		t.Errorf("set back, the link is %d %s", a.Status, a.Body)
	}
	if a := show(w.Visitor(), locked, "harbour-window-12"); a.Status != 204 {
		t.Errorf("guesses from ahead keep out whoever knows the password: %d %s", a.Status, a.Body)
	}
	w.SignIn("luca")
	if a := ahead.Do("GET", "/api/documents/"+made.String()+"/content", nil); string(a.Body) != "made ahead" {
		t.Errorf("what was uploaded ahead: %d %s", a.Status, a.Body)
	}
	ahead.Upload(w.top, "", "before.txt", []byte("made before"))
	ahead.Upload(w.top, "", "ahead.txt", []byte("a second version, dated before the first"))
	works("after writing", ahead)
}
