package api_test

import (
	"fmt"
	"regexp"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/sessions"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// code is the last code that was mailed to an address.
func (w *world) code(to string) string {
	w.T.Helper()
	digits := ""
	waitFor(w.T.(*testing.T), func() bool {
		for _, m := range w.Mail.Messages(to) {
			if d := regexp.MustCompile(`\d{3} \d{3}`).FindString(m.Subject); d != "" {
				digits = d
			}
		}
		return digits != ""
	})
	return digits
}

func (w *world) identified(how contract.Identity, allowed ...string) string {
	w.T.Helper()
	terms := contract.LinkTerms{Items: []uuid.UUID{w.paper(fmt.Sprintf("paper %s.txt", uuid.New()), "text")}, Identify: &how}
	if len(allowed) > 0 {
		terms.Allowed = &allowed
	}
	_, token := w.link(terms)
	return "/api/visits/" + token
}

// A confirmed address: the code goes to whom it is meant for, is good once and
// for ten minutes, and nobody learns who is on the list.
func TestAConfirmedAddress(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	link := w.identified(contract.IdentityConfirmed, "dunlin.example", "odile@brackwater.example")
	v := w.Visitor()
	if f := testkit.Get[contract.LinkFront](v, link); f.Identify != contract.IdentityConfirmed || f.Open || f.KnownAs != nil {
		t.Errorf("the front: %+v", f)
	}
	sunniva := "sunniva@dunlin.example"
	there, elsewhere := v.Do("POST", link+"/code", contract.Address{Email: sunniva}), v.Do("POST", link+"/code", contract.Address{Email: "marit@pelham.example"})
	if there.Status != 202 || elsewhere.Status != 202 || string(there.Body) != string(elsewhere.Body) {
		t.Errorf("the answers tell who is on the list: %d %s, %d %s", there.Status, there.Body, elsewhere.Status, elsewhere.Body)
	}
	code := w.code(sunniva)
	if n := len(w.Mail.Messages("marit@pelham.example")); n != 0 {
		t.Errorf("%d mails went elsewhere", n)
	}
	open := func(v *testkit.Client, email, code string) testkit.Answer {
		return v.Do("POST", link, contract.OpenLink{Email: &email, Code: &code})
	}
	if a := v.Do("POST", link, contract.OpenLink{}); a.Status != 401 || a.Code() != "needs-identity" {
		t.Errorf("unknown: %d %s", a.Status, a.Body)
	}
	if a := open(v, sunniva, ""); a.Code() != "needs-identity" {
		t.Errorf("without a code: %d %s", a.Status, a.Body)
	}
	if a := open(v, "odile@brackwater.example", code); a.Status != 403 || a.Code() != "wrong-code" {
		t.Errorf("somebody else's code: %d %s", a.Status, a.Body)
	}
	refused := 0
	for _, e := range testkit.Get[contract.Stream](w.luca, "/api/activity?about=outside").Events {
		if e.Kind == "link.refused" && e.Data != nil && (*e.Data)["reason"] == "wrong-code" {
			refused++
		}
	}
	if refused != 1 {
		t.Errorf("the sender sees %d wrong codes", refused)
	}
	v.Want(401, "GET", link+"/contents", nil)
	if a := open(v, strings.ToUpper(sunniva), code); a.Status != 204 {
		t.Fatalf("the code: %d %s", a.Status, a.Body)
	}
	v.Want(200, "GET", link+"/contents", nil)
	if a := open(w.Visitor(), sunniva, code); a.Code() != "wrong-code" {
		t.Errorf("the code a second time: %d %s", a.Status, a.Body)
	}
	w.Later(time.Minute)
	v.Want(202, "POST", link+"/code", contract.Address{Email: sunniva})
	stale := w.code(sunniva)
	w.Later(sessions.CodeLength + time.Second)
	if a := open(w.Visitor(), sunniva, stale); a.Code() != "wrong-code" {
		t.Errorf("a code that has run out: %d %s", a.Status, a.Body)
	}
	// The sender sees who it was, and how surely that is known.
	events := testkit.Get[contract.Stream](w.luca, "/api/activity?about=outside").Events
	if len(events) == 0 || events[len(events)-1].Data == nil {
		t.Fatalf("%+v", events)
	}
	opened := false
	for _, e := range events {
		if e.Kind == "link.opened" {
			opened = true
			if d := *e.Data; strings.ToLower(d["email"]) != sunniva || d["known"] != "confirmed" {
				t.Errorf("recorded: %+v", d)
			}
		}
	}
	if !opened {
		t.Error("the opening is not recorded")
	}
}

// Guessing a code ends after five tries, from however many places, and asking
// for codes has to wait.
func TestCodesCannotBeGuessed(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	link := w.identified(contract.IdentityConfirmed)
	v, email := w.Visitor(), "sunniva@dunlin.example"
	v.Want(202, "POST", link+"/code", contract.Address{Email: email})
	code := w.code(email)
	wrong := "000 000"
	if code == wrong {
		wrong = "111 111"
	}
	slowed := false
	for range sessions.CodeTries {
		a := v.Do("POST", link, contract.OpenLink{Email: &email, Code: &wrong})
		for a.Status == 429 {
			slowed = true
			w.Later(10 * time.Second)
			a = v.Do("POST", link, contract.OpenLink{Email: &email, Code: &wrong})
		}
		if a.Code() != "wrong-code" {
			t.Fatalf("%d %s", a.Status, a.Body)
		}
	}
	w.Later(time.Minute)
	if a := v.Do("POST", link, contract.OpenLink{Email: &email, Code: &code}); a.Code() != "wrong-code" {
		t.Errorf("the right code after five wrong ones: %d %s", a.Status, a.Body)
	}
	if !slowed {
		t.Error("guessing is not slowed")
	}
	many, sent := false, 1
	for range 10 {
		if v.Do("POST", link+"/code", contract.Address{Email: email}).Status == 429 {
			many = true
		} else {
			sent++
		}
	}
	if !many {
		t.Error("codes can be asked for without end")
	}
	waitFor(t, func() bool { return len(w.Mail.Messages(email)) == sent })
	// After a while the rightful recipient comes in.
	w.Later(10 * time.Minute)
	v.Want(202, "POST", link+"/code", contract.Address{Email: email})
	waitFor(t, func() bool { return len(w.Mail.Messages(email)) > sent })
	code = w.code(email)
	if a := v.Do("POST", link, contract.OpenLink{Email: &email, Code: &code}); a.Status != 204 {
		t.Errorf("the rightful one: %d %s", a.Status, a.Body)
	}
}

// One code lets one visitor in, however many use it at once.
func TestACodeIsGoodOnce(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	link, email := w.identified(contract.IdentityConfirmed), "sunniva@dunlin.example"
	w.Visitor().Want(202, "POST", link+"/code", contract.Address{Email: email})
	code := w.code(email)
	var mu sync.Mutex
	in := 0
	var wg sync.WaitGroup
	for range 4 {
		wg.Go(func() {
			if w.Visitor().Do("POST", link, contract.OpenLink{Email: &email, Code: &code}).Status == 204 {
				mu.Lock()
				in++
				mu.Unlock()
			}
		})
	}
	wg.Wait()
	if in != 1 {
		t.Errorf("%d came in by one code", in)
	}
}

func TestStatedAndSignedInVisitors(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	stated := w.identified(contract.IdentityStated, "dunlin.example")
	v := w.Visitor()
	email, other, none := "sunniva@dunlin.example", "marit@pelham.example", "dunlin"
	if a := v.Do("POST", stated, contract.OpenLink{Email: &none}); a.Status != 400 || a.Code() != "address-form" {
		t.Errorf("no address: %d %s", a.Status, a.Body)
	}
	if a := v.Do("POST", stated, contract.OpenLink{Email: &other}); a.Status != 403 || a.Code() != "address-not-allowed" {
		t.Errorf("another address: %d %s", a.Status, a.Body)
	}
	v.Want(204, "POST", stated, contract.OpenLink{Email: &email})
	in := w.identified(contract.IdentitySignedIn)
	if a := v.Do("POST", in, contract.OpenLink{Email: &email}); a.Code() != "needs-identity" {
		t.Errorf("not signed in: %d %s", a.Status, a.Body)
	}
	if f := testkit.Get[contract.LinkFront](w.tomasz, in); f.KnownAs == nil || *f.KnownAs != w.People["tomasz"].Email {
		t.Errorf("the front for somebody who is signed in: %+v", f)
	}
	w.tomasz.Want(204, "POST", in, contract.OpenLink{})
	// Whoever is signed in is known more surely than by a code, but must be meant.
	w.tomasz.Want(403, "POST", w.identified(contract.IdentityConfirmed, "dunlin.example"), contract.OpenLink{})
	w.tomasz.Want(204, "POST", w.identified(contract.IdentityConfirmed, "halyard-rook.example"), contract.OpenLink{})
}

func TestTermsAboutVisitors(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	item := []uuid.UUID{w.paper("a.txt", "text")}
	confirmed, unknown := contract.IdentityConfirmed, contract.Identity("shown")
	later, far := w.Now().Add(30*time.Hour), w.Now().Add(50*24*time.Hour)
	for name, c := range map[string]struct {
		terms contract.LinkTerms
		code  string
	}{
		"an identity that is none":        {contract.LinkTerms{Items: item, Identify: &unknown}, "identity-unknown"},
		"a list without an identity":      {contract.LinkTerms{Items: item, Allowed: &[]string{"dunlin.example"}}, "allowed-unknown"},
		"a domain that is none":           {contract.LinkTerms{Items: item, Identify: &confirmed, Allowed: &[]string{"dunlin"}}, "allowed-form"},
		"no downloads":                    {contract.LinkTerms{Items: item, Downloads: ptr(0)}, "downloads-range"},
		"an end before the beginning":     {contract.LinkTerms{Items: item, NotBefore: &far, Until: &later}, "from-after-until"},
		"a beginning after the usual end": {contract.LinkTerms{Items: item, NotBefore: &far}, "from-after-until"},
	} {
		t.Run(name, func(t *testing.T) {
			for _, path := range []string{"/api/links", "/api/links/draft"} {
				if a := w.luca.Do("POST", path, c.terms); a.Status != 400 || a.Code() != c.code {
					t.Errorf("%s: %d %s", path, a.Status, a.Body)
				}
			}
		})
	}
	l, token := w.link(contract.LinkTerms{Items: item, NotBefore: &later, Downloads: ptr(1), Identify: &confirmed, Allowed: &[]string{"@Dunlin.example", "odile@brackwater.example"}})
	if got := sentenceOf(l.Sentence); !strings.Contains(got, " from ") || !strings.HasSuffix(got, ", downloading at most once, after confirming their e-mail, if they are at dunlin.example or odile@brackwater.example.") {
		t.Error(got)
	}
	v := w.Visitor()
	v.Want(410, "GET", "/api/visits/"+token, nil)
	v.Want(410, "POST", "/api/visits/"+token+"/code", contract.Address{Email: "a@dunlin.example"})
	w.Later(31 * time.Hour)
	v.Want(200, "GET", "/api/visits/"+token, nil)
}

// A limit of downloads counts one that is resumed once, and another document as
// another.
func TestDownloadsOfALink(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	a, b := w.paper("a.txt", "some text"), w.paper("b.txt", "more text")
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{a, b}, Downloads: ptr(1)})
	v, path := w.Visitor(), "/api/visits/"+token
	v.Want(204, "POST", path, contract.OpenLink{})
	v.Want(200, "GET", path+"/documents/"+a.String()+"/content?download", nil)
	if got := v.Do("GET", path+"/documents/"+a.String()+"/content?download", nil, "Range", "bytes=5-"); got.Status != 206 {
		t.Errorf("going on: %d %s", got.Status, got.Body)
	}
	if got := v.Do("GET", path+"/documents/"+b.String()+"/content?download", nil); got.Status != 403 {
		t.Errorf("a second download: %d %s", got.Status, got.Body)
	}
	// It can still be looked at, in pages.
	v.Want(403, "GET", path+"/documents/"+b.String()+"/content", nil)
	decoded(t, w.pages(v, token, b, 1, 1100))
}

// Whatever is asked for and however, an original that leaves is counted and recorded
// before its first byte does; the same one in the same visit only once.
func TestEveryOriginalThatLeavesIsCounted(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	a, b := w.paper("a.txt", "some text"), w.paper("b.txt", "more text")
	ways := map[string][2]string{
		"whole": {"", ""}, "from the beginning": {"Range", "bytes=0-"}, "with a blank": {"Range", "bytes= 0-"}, "a suffix": {"Range", "bytes=-99999999"}, "a short suffix": {"Range", "bytes=-1"},
		"the middle": {"Range", "bytes=1-"}, "several": {"Range", "bytes=0-1,3-5"}, "beyond": {"Range", "bytes=100-"}, "another unit": {"Range", "lines=0-"}, "many": {"Range", "bytes=" + strings.Repeat("0-0,", 500) + "1-1"},
		"other content": {"If-Range", `"x"`}, "what one has": {"If-None-Match", "*"},
	}
	for name, header := range ways {
		for _, keep := range []string{"", "?download", "?x=1", "?download=1&download"} {
			l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{a, b}, Downloads: ptr(1)})
			v, path := w.enter(token, contract.OpenLink{}), "/api/visits/"+token
			headers := []string{header[0], header[1]}
			if header[0] == "" {
				headers = nil
			}
			if header[0] == "If-Range" {
				headers = append(headers, "Range", "bytes=1-")
			}
			first := v.Do("GET", path+"/documents/"+a.String()+"/content"+keep, nil, headers...)
			if first.Status >= 400 && first.Status != 416 {
				t.Fatalf("%s %s: %d %s", name, keep, first.Status, first.Body)
			}
			used := testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String())
			if used.Link.Downloads != 1 || !strings.Contains(w.kinds(l), "fetched") {
				t.Errorf("%s %s: %d downloads, %s", name, keep, used.Link.Downloads, w.kinds(l))
			}
			// The same again goes on; another one does not.
			if again := v.Do("GET", path+"/documents/"+a.String()+"/content"+keep, nil, headers...); again.Status != first.Status {
				t.Errorf("%s %s again: %d", name, keep, again.Status)
			}
			for _, other := range []string{"/documents/" + b.String() + "/content", "/documents/" + b.String() + "/content?download", "/documents/" + b.String() + "/preview", "/archive", "/archive?item=" + b.String()} {
				if a := v.Do("GET", path+other, nil, headers...); a.Status != 403 {
					t.Errorf("%s %s, then %s: %d", name, keep, other, a.Status)
				}
			}
		}
	}
	// At once, by several visitors, in all ways: N downloads are N.
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{a, b}, Downloads: ptr(3)})
	var all sync.WaitGroup
	var got atomic.Int64
	for range 12 {
		v := w.enter(token, contract.OpenLink{})
		for _, header := range ways {
			all.Go(func() {
				headers := []string{header[0], header[1]}
				if header[0] == "" {
					headers = nil
				}
				if a := v.Do("GET", "/api/visits/"+token+"/documents/"+a.String()+"/content", nil, headers...); a.Status == 200 || a.Status == 206 {
					got.Add(1)
				}
			})
		}
	}
	all.Wait()
	if used := testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String()).Link.Downloads; used != 3 || got.Load() > int64(3*len(ways)) {
		t.Errorf("%d downloads were counted, %d answers came", used, got.Load())
	}
}
