package api_test

import (
	"encoding/base64"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"tabularis/internal/app/accounts"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// atOnce does something many times at once and counts the answers by status.
func atOnce(n int, do func(i int) int) map[int]int {
	var all sync.WaitGroup
	var mu sync.Mutex
	got := map[int]int{}
	for i := range n {
		all.Go(func() {
			status := do(i)
			mu.Lock()
			got[status]++
			mu.Unlock()
		})
	}
	all.Wait()
	return got
}

// However many guesses come at once, three are looked at and the others wait: for
// passwords of links and accounts, codes and second factors alike.
func TestGuessesAtOnceAreTakenOneByOne(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("a.txt", "a")
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Password: ptr("harbour-window-12")})
	confirmed := contract.IdentityConfirmed
	_, coded := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Identify: &confirmed})
	w.Visitor().Want(202, "POST", "/api/visits/"+coded+"/code", contract.Address{Email: "b.quist@calder.example"})
	w.Appoint("priya", accounts.Guest)
	w.Visitor().Want(202, "POST", "/api/session/code", contract.Address{Email: w.People["priya"].Email})
	tomasz := w.SignIn("tomasz")
	authenticator(w.Kit, tomasz)
	half := w.Visitor()
	half.Want(200, "POST", "/api/session", contract.SignIn{Email: w.People["tomasz"].Email, Password: testkit.Password})
	for name, guess := range map[string]func(i int) testkit.Answer{
		"a link's password": func(i int) testkit.Answer { return show(w.Visitor(), token, fmt.Sprintf("guess-%d-guess", i)) },
		"a link's code": func(i int) testkit.Answer {
			return w.Visitor().Do("POST", "/api/visits/"+coded, contract.OpenLink{Email: ptr("b.quist@calder.example"), Code: ptr(fmt.Sprintf("%06d", i))})
		},
		"an account's password": func(i int) testkit.Answer {
			return w.Visitor().Do("POST", "/api/session", contract.SignIn{Email: w.People["ines"].Email, Password: fmt.Sprintf("guess-%d-guess", i)})
		},
		"a guest's code": func(i int) testkit.Answer {
			return w.Visitor().Do("POST", "/api/session/by-code", contract.CodeSignIn{Email: w.People["priya"].Email, Code: fmt.Sprintf("%06d", i)})
		},
		"a second factor": func(i int) testkit.Answer {
			return half.Do("POST", "/api/session/second", contract.SecondFactor{Factor: "recovery", Code: ptr(fmt.Sprintf("aaaaa-%05d", i))})
		},
		"one's own password": func(i int) testkit.Answer {
			return w.luca.Do("PUT", "/api/me/password", contract.NewPassword{Old: ptr(fmt.Sprintf("guess-%d-guess", i)), Password: "another-long-one"})
		},
	} {
		got := atOnce(120, func(i int) int { return guess(i).Status })
		// Where the tries themselves take longer than the wait, one or two more are let in.
		if got[429] > 117 || got[429] < 115 {
			t.Errorf("%s: %v", name, got)
		}
	}
}

// Whoever guesses addresses of links keeps nobody else of their network out, and
// nobody within their visit.
func TestGuessingAddressesKeepsNobodyOut(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("a.txt", "a")
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Slug: ptr("survey-of-the-hull")})
	v := w.enter(token, contract.OpenLink{})
	got := atOnce(60, func(i int) int {
		return w.Visitor().Do("GET", fmt.Sprintf("/api/visits/survey-%d-of-nothing", i), nil).Status
	})
	// As above.
	if got[410] < 3 || got[410] > 5 || got[429]+got[410] != 60 {
		t.Errorf("guesses: %v", got)
	}
	v.Want(200, "GET", "/api/visits/"+token+"/contents", nil)
	w.enter(token, contract.OpenLink{})
}

// Visits of two links are kept apart, also where their readable addresses begin
// alike; a link's own address and its readable one are one visit.
func TestVisitsOfLinksAreKeptApart(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	a, b := w.paper("a.txt", "a"), w.paper("b.txt", "b")
	l, _ := w.link(contract.LinkTerms{Items: []uuid.UUID{a}, Slug: ptr("survey-of-the-hull"), Openings: ptr(1)})
	w.link(contract.LinkTerms{Items: []uuid.UUID{b}, Slug: ptr("survey-of-the-tanks")})
	v := w.Visitor()
	for _, slug := range []string{"survey-of-the-hull", "survey-of-the-tanks"} {
		v.Want(204, "POST", "/api/visits/"+slug, contract.OpenLink{})
	}
	for slug, name := range map[string]string{"survey-of-the-hull": "a.txt", "survey-of-the-tanks": "b.txt"} {
		if got := testkit.Get[contract.LinkContents](v, "/api/visits/"+slug+"/contents"); got.Files[0].Name != name {
			t.Errorf("%s shows %s", slug, got.Files[0].Name)
		}
	}
	var cookies []*http.Cookie
	for _, c := range v.HTTP.Jar.Cookies(mustURL(w.URL)) {
		cookies = append(cookies, c)
	}
	if len(cookies) != 2 || !strings.Contains(cookies[0].Name+cookies[1].Name, l.Id.String()) {
		t.Errorf("%v", cookies)
	}
}

// An intake of one file takes one, however many are announced at once; what is
// announced keeps no storage that it does not use, and is soon forgotten.
func TestAnnouncementsKeepNobodyOut(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t, func(c *server.Config) { c.MaxUpload = 100 << 30 })
	announce := func(v *testkit.Client, token string, size int64) testkit.Answer {
		return v.Do("POST", "/api/visits/"+token+"/uploads", nil, "Tus-Resumable", "1.0.0", "Upload-Length", fmt.Sprint(size), "Upload-Metadata", "name "+base64.StdEncoding.EncodeToString([]byte("a.pdf")))
	}
	_, one := w.intakeInto(w.top, func(t *contract.LinkTerms) { t.IntakeFiles = ptr(1) })
	v := w.enter(one, contract.OpenLink{})
	if got := atOnce(50, func(int) int { return announce(v, one, 20<<30).Status }); got[201] != 1 {
		t.Errorf("announced for one file: %v", got)
	}
	_, small := w.intakeInto(w.top, func(t *contract.LinkTerms) { t.IntakeBytes = ptr(int64(1000)) })
	v = w.enter(small, contract.OpenLink{})
	if got := atOnce(50, func(int) int { return announce(v, small, 300).Status }); got[201] != 3 {
		t.Errorf("announced for 1000 bytes: %v", got)
	}
	// With little storage left a visitor announces much: everybody else still uploads.
	if _, err := w.App.DB.Exec(`UPDATE practice SET storage_bytes = 1000000`); err != nil {
		t.Fatal(err)
	}
	_, free := w.intakeInto(w.top, nil)
	v = w.enter(free, contract.OpenLink{})
	if got := atOnce(300, func(int) int { return announce(v, free, 900_000).Status }); got[201] > 100 || got[201] == 0 {
		t.Errorf("announced at once by one visitor: %v", got)
	}
	w.luca.Upload(w.top, "", "plan.txt", make([]byte, 500_000))
	if a := announce(w.enter(free, contract.OpenLink{}), free, 2_000_000); a.Status != 507 {
		t.Errorf("more than there is storage for: %d %s", a.Status, a.Body)
	}
	// People's own announcements are counted together too.
	var begun atomic.Int64
	atOnce(20, func(int) int {
		a := w.luca.Begin(w.top, "", "b.txt", 100_000)
		if a.Status == 201 {
			begun.Add(1)
		}
		return a.Status
	})
	if begun.Load() > 5 {
		t.Errorf("%d times 100,000 bytes were announced for 500,000", begun.Load())
	}
}

// A receipt to an address that is not known for certain goes there once in a visit,
// and says nothing that the visitor chose.
func TestReceiptsAreNoAdvertisement(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	_, token := w.intakeInto(w.top, nil)
	v := w.enter(token, contract.OpenLink{})
	if a := put(v, token, "buy cheap anchors at evil.example.pdf", []byte("x")); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	victim := "b.quist@calder.example"
	for range 5 {
		v.Want(200, "POST", "/api/visits/"+token+"/intake", contract.HandIn{Email: &victim, Name: ptr("buy cheap anchors"), Note: ptr("buy cheap anchors")})
	}
	waitFor(t, func() bool { return len(w.Mail.Messages(victim)) > 0 })
	all := w.Mail.Messages(victim)
	if len(all) != 1 || strings.Contains(all[0].Text+all[0].Subject, "anchors") || !strings.Contains(all[0].Text, "SHA-256") {
		t.Errorf("%d receipts, %+v", len(all), all)
	}
}

// A domain that looks like another one does not pass for it: not for joining, not at
// a link's list, not by a code.
func TestLookAlikeDomainsStayOut(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	w.Appoint("hanne", accounts.Administrator)
	w.hanne = w.SignIn("hanne")
	w.hanne.Want(201, "POST", "/api/invitation-links", contract.NewInvitationLink{Standing: "colleague", Uses: 5, Until: w.Now().Add(100 * 3600e9), Domain: ptr("sparkasse.example")})
	address := testkit.Get[contract.Directory](w.hanne, "/api/people").Links[0].Address
	join := address[strings.LastIndex(address, "/")+1:]
	stated := contract.IdentityStated
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{w.paper("a.txt", "a")}, Identify: &stated, Allowed: &[]string{"sparkasse.example"}})
	for _, email := range []string{"a@sparkaße.example", "a@spar\u212Aasse.example.evil.example", "a@sparkasse.example.", "a@sparkasse.example\u200b", "a@sparkasse\u2024example", "a@spаrkasse.example", "\"a@sparkasse.example\"@evil.example", "a@sparkasse.example@evil.example"} {
		w.Later(10 * time.Minute)
		if a := w.Visitor().Do("POST", "/api/joining/"+join, contract.Join{Name: "A", Email: email}); a.Status == 202 {
			t.Errorf("%q joined", email)
		}
		if a := w.Visitor().Do("POST", "/api/visits/"+token, contract.OpenLink{Email: &email}); a.Status == 204 {
			t.Errorf("%q came in", email)
		}
	}
	w.Later(10 * time.Minute)
	w.Visitor().Want(202, "POST", "/api/joining/"+join, contract.Join{Name: "A", Email: "a@SPARKASSE.example"})
	w.enter(token, contract.OpenLink{Email: ptr("b@Sparkasse.Example")})
}

// However many strangers try to sign in as somebody, from the very same network:
// a device on which they were signed in before does not wait for that.
func TestKnownDevicesComeFirst(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	ines := w.SignIn("ines")
	ines.Want(204, "DELETE", "/api/session", nil)
	got := atOnce(60, func(i int) int {
		return w.Visitor().Do("POST", "/api/session", contract.SignIn{Email: w.People["ines"].Email, Password: fmt.Sprintf("guess-%d-guess", i)}).Status
	})
	if got[429] == 0 {
		t.Errorf("strangers: %v", got)
	}
	right := contract.SignIn{Email: w.People["ines"].Email, Password: testkit.Password}
	if a := w.Visitor().Do("POST", "/api/session", right); a.Status != 429 {
		t.Errorf("a stranger with the right password: %d", a.Status)
	}
	ines.Want(200, "POST", "/api/session", right)
	// The sign is for one person, and lets nobody in.
	if a := ines.Do("POST", "/api/session", contract.SignIn{Email: w.People["ines"].Email, Password: "not this one"}); a.Status != 401 {
		t.Errorf("the wrong password on a known device: %d", a.Status)
	}
}
