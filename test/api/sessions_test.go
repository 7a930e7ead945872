package api_test

import (
	"net/http"
	"strings"
	"testing"
	"time"

	"tabularis/internal/app/sessions"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func TestSigningIn(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	k := testkit.New(t)
	c := k.Visitor()
	wrong := contract.SignIn{Email: "ines.okafor@halyard-rook.example", Password: "guess"}
	unknown := contract.SignIn{Email: "nobody@halyard-rook.example", Password: "guess"}
	a, b := c.Want(401, "POST", "/api/session", wrong), c.Want(401, "POST", "/api/session", unknown)
	if string(a.Body) != string(b.Body) {
		t.Errorf("a wrong password answers %s, an unknown address %s", a.Body, b.Body)
	}
	right := contract.SignIn{Email: " Ines.Okafor@Halyard-Rook.example"[1:], Password: testkit.Password}
	s := *testkit.Post[contract.SignedIn](c, 200, "/api/session", right).Session
	if s.Person.Name != "Ines Okafor" || s.Person.Initials != "IO" || s.Practice.Name != "Halyard & Rook" {
		t.Errorf("signed in as %+v", s)
	}
	c.Want(204, "DELETE", "/api/session", nil)
	c.Want(204, "GET", "/api/session", nil)
}

func TestTheSessionCookieIsKeptFromScriptsAndOtherSites(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	k := testkit.New(t)
	a := k.Visitor().Want(200, "POST", "/api/session", contract.SignIn{Email: k.People["ines"].Email, Password: testkit.Password})
	cookie := a.Header.Get("Set-Cookie")
	for _, want := range []string{"HttpOnly", "SameSite=Lax", "Path=/"} {
		if !strings.Contains(cookie, want) {
			t.Errorf("the cookie %q lacks %s", cookie, want)
		}
	}
	for _, origin := range []string{"https://elsewhere.example", "null"} {
		if a := k.SignIn("ines").Do("POST", "/api/links/password", nil, "Origin", origin, "Sec-Fetch-Site", "cross-site"); a.Status != http.StatusForbidden {
			t.Errorf("a request from %s: %d", origin, a.Status)
		}
	}
}

func TestGuessingPasswordsIsSlowed(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	k := testkit.New(t)
	c := k.Visitor()
	wrong := contract.SignIn{Email: k.People["ines"].Email, Password: "guess"}
	for range 3 {
		c.Want(401, "POST", "/api/session", wrong)
	}
	right := contract.SignIn{Email: k.People["ines"].Email, Password: testkit.Password}
	a := c.Want(429, "POST", "/api/session", right)
	if a.Code() != "too-many-tries" || a.Header.Get("Retry-After") == "" {
		t.Errorf("slowed with %s", a.Body)
	}
	k.SignIn("hanne") // others are not held up
	k.Later(10 * time.Second)
	c.Want(200, "POST", "/api/session", right)
}

func TestAnExpiredSessionIsOver(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "text")
	w.luca.Want(200, "GET", "/api/documents/"+id.String(), nil)
	w.Later(sessions.Length + time.Second)
	for _, path := range []string{"/api/documents/" + id.String(), "/api/documents/" + id.String() + "/content", "/api/live"} {
		if a := w.luca.Want(401, "GET", path, nil); a.Code() != "signed-out" {
			t.Errorf("%s answers %s", path, a.Body)
		}
	}
	w.luca.Want(204, "GET", "/api/session", nil)
	w.Kit.T = t
	w.luca.Want(200, "POST", "/api/session", contract.SignIn{Email: w.People["luca"].Email, Password: testkit.Password})
	w.luca.Want(200, "GET", "/api/documents/"+id.String(), nil)
}

// Language and look stay with the account; whatever is none is refused.
func TestPreferencesStayWithTheAccount(t *testing.T) {
	t.Parallel()
	k := testkit.New(t)
	here := k.SignIn("ines")
	here.Want(204, "PUT", "/api/me/preferences", contract.Preferences{Language: contract.German, Look: contract.Dark})
	if p := testkit.Get[contract.Session](k.SignIn("ines"), "/api/session").Preferences; p.Language != contract.German || p.Look != contract.Dark {
		t.Errorf("elsewhere: %+v", p)
	}
	if p := testkit.Get[contract.Session](k.SignIn("luca"), "/api/session").Preferences; p.Language != contract.DeviceLanguage || p.Look != contract.DeviceLook {
		t.Errorf("somebody else's: %+v", p)
	}
	for _, bad := range []map[string]any{{"language": "fr", "look": "dark"}, {"language": "en", "look": "blue"}} {
		if a := here.Do("PUT", "/api/me/preferences", bad); a.Status != 400 {
			t.Errorf("%v: %d %s", bad, a.Status, a.Body)
		}
	}
}

func init() {
	named = append(named, func(*office) []endpoint {
		return []endpoint{
			{"PUT", "/me/preferences", "", contract.Preferences{}, self},
			{"POST", "/me/recovery-codes", "", contract.Confirmed{}, self},
		}
	})
}
