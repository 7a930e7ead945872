package api_test

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/links"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/mail/standin"
	"tabularis/internal/testkit"
)

// openings reads how often a link was opened, as its sender sees it.
func (w *world) openings(l contract.Link) int {
	return testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String()).Link.Openings
}

// kinds lists the kinds of a link's events, newest first.
func (w *world) kinds(l contract.Link) string {
	var all []string
	for _, e := range testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String()).Events {
		all = append(all, strings.TrimPrefix(string(e.Kind), "link."))
	}
	return strings.Join(all, " ")
}

func show(c *testkit.Client, token, password string) testkit.Answer {
	return c.Do("POST", "/api/visits/"+token, contract.OpenLink{Password: &password})
}

func TestALinkFromTheFirstFetchToItsEnd(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("Condition survey report.txt", "report one")
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Openings: ptr(2)})
	if l.Name != "Condition survey report" || l.State != "open" || l.Until == nil {
		t.Errorf("made %+v", l)
	}
	v := w.Visitor()
	front := testkit.Get[contract.LinkFront](v, "/api/visits/"+token)
	if front.Open || front.NeedsPassword || front.Practice != "Halyard & Rook" || *front.Sender != "Luca Ferrante" {
		t.Errorf("in front stands %+v", front)
	}
	base := "/api/visits/" + token
	for _, path := range []string{"/contents", "/archive", "/documents/" + id.String() + "/content", "/documents/" + id.String() + "/preview", "/live"} {
		if a := v.Want(401, "GET", base+path, nil); a.Code() != "needs-opening" {
			t.Errorf("%s before opening: %s", path, a.Body)
		}
	}
	if a := show(v, token, ""); a.Status != 204 || !strings.Contains(a.Header.Get("Set-Cookie"), "HttpOnly") {
		t.Fatalf("Show: %d %s", a.Status, a.Body)
	}
	show(v, token, "") // once per visit
	if n := w.openings(l); n != 1 {
		t.Errorf("%d openings were counted", n)
	}
	c := testkit.Get[contract.LinkContents](v, base+"/contents")
	if len(c.Files) != 1 || c.Files[0].Ref != "MER-24/001" || c.Count != 1 || c.Bytes != 10 || c.Sender.Name != "Luca Ferrante" {
		t.Errorf("it gives %+v", c)
	}
	doc := base + "/documents/" + id.String()
	if a := v.Want(200, "GET", doc+"/content?download", nil); string(a.Body) != "report one" {
		t.Errorf("content %q", a.Body)
	}
	v.Want(206, "GET", doc+"/content?download", nil, "Range", "bytes=3-5")
	testkit.Get[contract.Preview](v, doc+"/preview")
	// This version is what was given, whatever comes later.
	w.luca.Upload(w.top, "", "Condition survey report.txt", []byte("report two"))
	if a := v.Want(200, "GET", doc+"/content", nil); string(a.Body) != "report one" {
		t.Errorf("this version became %q", a.Body)
	}
	if got := w.kinds(l); got != "viewed fetched opened made" {
		t.Errorf("recorded: %s", got)
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	for _, path := range []string{"", "/contents", "/archive", "/documents/" + id.String() + "/content"} {
		if a := v.Want(410, "GET", base+path, nil); a.Code() != "link-over" {
			t.Errorf("%s after the end: %s", path, a.Body)
		}
	}
}

// Mail scanners and previews fetch every link they see, with GET and HEAD, in
// large numbers and with any program's name. None of it opens anything.
func TestFetchingAloneConsumesNothing(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "text")
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Openings: ptr(1)})
	scanner := w.Visitor()
	for _, method := range []string{"GET", "HEAD"} {
		for _, path := range []string{"/l/" + token, "/api/visits/" + token, "/api/visits/" + token + "/contents", "/api/visits/" + token + "/archive", "/api/visits/" + token + "/documents/" + id.String() + "/content", "/api/visits/" + token + "/documents/" + id.String() + "/content?download"} {
			for range 3 {
				scanner.Do(method, path, nil, "User-Agent", "LinkScanner/1.0")
			}
		}
	}
	page := scanner.Want(200, "GET", "/l/"+token, nil)
	if strings.Contains(string(page.Body), "a.txt") || page.Header.Get("Set-Cookie") != "" {
		t.Error("the page in front tells too much")
	}
	if n, k := w.openings(l), w.kinds(l); n != 0 || k != "made" {
		t.Fatalf("scanning counted %d openings and recorded %s", n, k)
	}
	if a := show(w.Visitor(), token, ""); a.Status != 204 {
		t.Errorf("the one opening is gone: %d %s", a.Status, a.Body)
	}
}

func TestDeadLinksAreAllAlike(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "text")
	terms := contract.LinkTerms{Items: []uuid.UUID{id}}
	ended, endedToken := w.link(terms)
	w.luca.Want(204, "POST", "/api/links/"+ended.Id.String()+"/end", nil)
	w.luca.Want(204, "POST", "/api/links/"+ended.Id.String()+"/end", nil) // ending again changes nothing
	_, usedToken := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Openings: ptr(1), Password: ptr("quay-lantern")})
	if a := show(w.Visitor(), usedToken, "quay-lantern"); a.Status != 204 {
		t.Fatal(a.Status)
	}
	until := time.Now().Add(time.Hour)
	_, expiredToken := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Until: &until})
	w.Later(2 * time.Hour)
	var first string
	for name, token := range map[string]string{"ended": endedToken, "used up": usedToken, "expired": expiredToken, "never made": "AAAAAAAAAAAAAAAAAAAAAAAAAAA", "not a token": "x"} {
		v := w.Visitor()
		a, b := v.Want(410, "GET", "/api/visits/"+token, nil), show(v, token, "quay-lantern")
		if b.Status != 410 {
			t.Errorf("%s: opening gives %d", name, b.Status)
		}
		if first == "" {
			first = string(a.Body)
		}
		if string(a.Body) != first || string(b.Body) != first {
			t.Errorf("%s answers %s and %s, others %s", name, a.Body, b.Body, first)
		}
		v.Want(200, "GET", "/l/"+token, nil) // the page itself is the same for all
	}
	if got := w.kinds(ended); got != "refused ended made" {
		t.Errorf("the ended link's record: %s", got)
	}
}

func TestPasswords(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "text")
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Password: ptr("quay-lantern-47"), Openings: ptr(1)})
	v := w.Visitor()
	if f := testkit.Get[contract.LinkFront](v, "/api/visits/"+token); !f.NeedsPassword {
		t.Error("the front does not ask for the password")
	}
	if a := show(v, token, ""); a.Code() != "needs-password" {
		t.Errorf("without: %d %s", a.Status, a.Body)
	}
	for i := range 3 {
		if a := show(v, token, fmt.Sprint("guess", i)); a.Status != 403 || a.Code() != "wrong-password" {
			t.Errorf("wrong: %d %s", a.Status, a.Body)
		}
	}
	if a := show(v, token, "quay-lantern-47"); a.Status != 429 || a.Header.Get("Retry-After") == "" {
		t.Errorf("after three wrong ones: %d %s", a.Status, a.Body)
	}
	w.Later(5 * time.Second)
	if a := show(v, token, "quay-lantern-47"); a.Status != 204 {
		t.Errorf("right, after waiting: %d %s", a.Status, a.Body)
	}
	if n := w.openings(l); n != 1 {
		t.Errorf("%d openings", n)
	}
	if got := w.kinds(l); got != "opened refused refused refused refused made" {
		t.Errorf("recorded: %s", got)
	}
	raw := w.luca.Want(200, "GET", "/api/links/"+l.Id.String(), nil)
	if strings.Contains(string(raw.Body), "quay-lantern-47") {
		t.Error("the password is shown again")
	}
}

// A limit of N means N, however many come at once.
func TestOpeningsUnder500AtOnce(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "text")
	for _, limit := range []int{1, 7} {
		l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Openings: &limit})
		var in, out atomic.Int64
		var wg sync.WaitGroup
		for range 500 {
			wg.Go(func() {
				switch a := show(w.Visitor(), token, ""); a.Status {
				case 204:
					in.Add(1)
				case 410:
					out.Add(1)
				default:
					t.Errorf("%d %s", a.Status, a.Body)
				}
			})
		}
		wg.Wait()
		if int(in.Load()) != limit || in.Load()+out.Load() != 500 || w.openings(l) != limit {
			t.Errorf("limit %d: %d came in, %d did not, %d counted", limit, in.Load(), out.Load(), w.openings(l))
		}
		w.luca.Want(200, "POST", "/api/links/"+l.Id.String()+"/openings", nil)
		if a := show(w.Visitor(), token, ""); a.Status != 204 {
			t.Errorf("one more was granted, but: %d", a.Status)
		}
	}
}

func TestFoldersByLink(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	one := w.luca.Upload(w.top, "Readings/Photographs", "1.txt", []byte("one")).Document
	w.luca.Upload(w.top, "Readings", "r.txt", []byte("readings"))
	other := w.luca.Upload(w.top, "Reports", "secret.txt", []byte("secret")).Document
	folders := map[string]uuid.UUID{}
	for _, f := range w.dossier().Folders {
		folders[f.Name] = f.Id
	}
	given := []uuid.UUID{folders["Readings"]}
	_, frozen := w.link(contract.LinkTerms{Items: given})
	_, living := w.link(contract.LinkTerms{Items: given, Newest: ptr(true)})
	late := w.luca.Upload(w.top, "Readings/Photographs", "2.txt", []byte("two")).Document
	w.luca.Upload(w.top, "Readings/Photographs", "1.txt", []byte("one, again"))
	for token, want := range map[string]struct {
		count int
		one   string
		late  int
	}{frozen: {2, "one", 404}, living: {3, "one, again", 200}} {
		v := w.Visitor()
		show(v, token, "")
		base := "/api/visits/" + token
		c := testkit.Get[contract.LinkContents](v, base+"/contents")
		if c.Count != want.count || len(c.Folders) != 1 || len(c.Files) != 1 || c.Files[0].Name != "r.txt" {
			t.Errorf("the top holds %+v", c)
		}
		below := testkit.Get[contract.LinkContents](v, base+"/contents?folder="+c.Folders[0].Id.String())
		if len(below.Files) != want.count-1 || len(below.Way) != 2 || below.Way[0].Name != "Readings" {
			t.Errorf("below: %+v", below)
		}
		if a := v.Want(200, "GET", base+"/documents/"+one.Id.String()+"/content", nil); string(a.Body) != want.one {
			t.Errorf("the first holds %q, want %q", a.Body, want.one)
		}
		v.Want(want.late, "GET", base+"/documents/"+late.Id.String()+"/content", nil)
		v.Want(404, "GET", base+"/documents/"+other.Id.String()+"/content", nil)
		for _, f := range []uuid.UUID{folders["Reports"], w.top, uuid.New()} {
			v.Want(404, "GET", base+"/contents?folder="+f.String(), nil)
		}
		raw := v.Want(200, "GET", base+"/archive", nil)
		z, err := zip.NewReader(bytes.NewReader(raw.Body), int64(len(raw.Body)))
		if err != nil || len(z.File) != want.count {
			t.Errorf("the archive holds %d entries, %v", len(z.File), err)
		}
	}
}

func TestDraftSaysWhatWouldHappen(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	a, b := w.paper("a.txt", "aaaa"), w.paper("b.txt", "bb")
	w.link(contract.LinkTerms{Items: []uuid.UUID{a}})
	until := time.Date(time.Now().Year(), time.Now().Month(), time.Now().Day()+5, 18, 0, 0, 0, time.UTC)
	d := testkit.Post[contract.LinkDraft](w.luca, 200, "/api/links/draft", contract.LinkTerms{Items: []uuid.UUID{a, b}, Password: ptr("quay-lantern"), Openings: ptr(3), Until: &until})
	var text strings.Builder
	for _, p := range d.Sentence {
		text.WriteString(p.Text)
	}
	form := "Mon 2 Jan, 15:04"
	if until.Year() != time.Now().UTC().Year() {
		form = "Mon 2 Jan 2006, 15:04"
	}
	want := "Whoever has this link and the password may view and download 2 files in this version until " + until.Format(form) + ", at most 3 times."
	if text.String() != want || d.Files != 2 || d.Bytes != 6 || d.LinkedBefore != 1 || d.Title != "MER-24/001, 002" || !slices.Equal(d.Offers, []contract.LinkDraftOffers{"identify", "allowed", "downloads", "remarks", "notBefore"}) {
		t.Errorf("drafted %q, %+v", text.String(), d)
	}
	if n := len(testkit.Get[[]contract.Link](w.luca, "/api/links")); n != 1 {
		t.Errorf("drafting made a link: %d", n)
	}
}

func TestTermsThatAreRefused(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "a")
	other := testkit.Post[contract.DossierRow](w.luca, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"})
	past, far := time.Now().Add(-time.Minute), time.Now().AddDate(0, 0, 92)
	for _, c := range []struct {
		terms contract.LinkTerms
		code  string
	}{
		{contract.LinkTerms{}, "items-count"},
		{contract.LinkTerms{Items: []uuid.UUID{id, other.Id}}, "items-dossiers"},
		{contract.LinkTerms{Items: []uuid.UUID{id}, Until: &past}, "until-past"},
		{contract.LinkTerms{Items: []uuid.UUID{id}, Until: &far}, "until-too-late"},
		{contract.LinkTerms{Items: []uuid.UUID{id}, Openings: ptr(0)}, "openings-range"},
		{contract.LinkTerms{Items: []uuid.UUID{id}, Openings: ptr(-3)}, "openings-range"},
		{contract.LinkTerms{Items: []uuid.UUID{id}, Password: ptr("short")}, "password-short"},
		{contract.LinkTerms{Items: []uuid.UUID{id}, Name: ptr("a/b")}, "name-slash"},
		{contract.LinkTerms{Items: make([]uuid.UUID, 1001)}, "items-count"},
	} {
		for _, path := range []string{"/api/links", "/api/links/draft"} {
			if a := w.luca.Do("POST", path, c.terms); a.Status != 400 || a.Code() != c.code {
				t.Errorf("%s: %d %s", c.code, a.Status, a.Body)
			}
		}
	}
	if n := len(testkit.Get[[]contract.Link](w.luca, "/api/links?state=all")); n != 0 {
		t.Errorf("%d links came of it", n)
	}
}

func TestMailingALink(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "text")
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Password: ptr("quay-lantern-47"), Name: ptr("Draft for yard")})
	path := "/api/links/" + l.Id.String() + "/mail"
	for _, bad := range []contract.LinkMail{{To: []string{"not an address"}}, {To: []string{"a@b.example\r\nBcc: c@d.example"}}, {To: []string{"a@localhost"}}} {
		if a := w.luca.Do("POST", path, bad); a.Status != 400 || a.Code() != "address-form" {
			t.Errorf("%q: %d %s", bad.To, a.Status, a.Body)
		}
	}
	w.luca.Want(400, "POST", path, contract.LinkMail{To: []string{}})
	w.luca.Want(202, "POST", path, contract.LinkMail{To: []string{"marit.juhl@pelham-dock.example", "Odile Charron <odile.charron@brackwater.example>"}, Message: ptr("Dear Marit, look at frame 31.")})
	outside := func() (all []standin.Message) {
		return append(w.Mail.Messages("marit.juhl@pelham-dock.example"), w.Mail.Messages("odile.charron@brackwater.example")...)
	}
	waitFor(t, func() bool { return len(outside()) == 2 })
	for _, m := range outside() {
		if !strings.Contains(m.Text, w.URL+"/l/") || strings.Contains(m.Text, token) || !strings.Contains(m.Text, "frame 31") || strings.Contains(m.Text, "quay-lantern") || !strings.Contains(m.Subject, "Draft for yard") {
			t.Errorf("the mail to %s says %q: %s", m.To, m.Subject, m.Text)
		}
	}
	if got := w.kinds(l); got != "sent sent made" {
		t.Errorf("recorded: %s", got)
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	if a := w.luca.Do("POST", path, contract.LinkMail{To: []string{"a@b.example"}}); a.Code() != "link-over" {
		t.Errorf("mailing an ended link: %d %s", a.Status, a.Body)
	}
}

// waitFor waits for a condition that comes true by work in the background.
func waitFor(t *testing.T, condition func() bool) {
	t.Helper()
	for deadline := time.Now().Add(time.Minute); !condition(); time.Sleep(10 * time.Millisecond) {
		if time.Now().After(deadline) {
			t.Fatal("waited in vain")
		}
	}
}

// streamOf reads server-sent events until the test ends.
func streamOf(t *testing.T, c *testkit.Client, path string) <-chan string {
	t.Helper()
	ctx, cancel := context.WithCancel(t.Context())
	t.Cleanup(cancel)
	req, err := http.NewRequestWithContext(ctx, "GET", c.Kit.URL+path, nil)
	if err != nil {
		t.Fatal(err)
	}
	resp, err := (&http.Client{Jar: c.HTTP.Jar}).Do(req)
	if err != nil || resp.StatusCode != 200 {
		t.Fatalf("%s: %v", path, err)
	}
	out := make(chan string, 100)
	go func() {
		defer resp.Body.Close()
		defer close(out)
		for s := bufio.NewScanner(resp.Body); s.Scan(); {
			if line := s.Text(); strings.HasPrefix(line, "event: ") || strings.HasPrefix(line, "data: ") {
				out <- line
			}
		}
	}()
	return out
}

func next(t *testing.T, c <-chan string, want string) {
	t.Helper()
	deadline := time.After(10 * time.Second)
	for {
		select {
		case line, ok := <-c:
			if !ok {
				t.Fatalf("the stream ended before %q", want)
			}
			if strings.Contains(line, want) {
				return
			}
		case <-deadline:
			t.Fatalf("no %q came", want)
		}
	}
}

func TestSenderSeesOpeningsLiveAndVisitorsPageDies(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "text")
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}})
	sender, stranger := streamOf(t, w.hanne, "/api/live"), streamOf(t, w.tomasz, "/api/live")
	v := w.Visitor()
	show(v, token, "")
	next(t, sender, "link.opened")
	page := streamOf(t, v, "/api/visits/"+token+"/live")
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	next(t, page, "over")
	next(t, sender, "link.ended")
	testkit.Post[contract.DossierRow](w.tomasz, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"})
	for _, want := range []string{"event: access", "data: {}", "event: news", "dossier.made"} {
		if line := <-stranger; !strings.Contains(line, want) {
			t.Errorf("a stranger was told %s, want %s", line, want)
		}
	}
}

func TestActivityIsFiltered(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id := w.paper("a.txt", "text")
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}})
	show(w.Visitor(), token, "")
	count := func(query, kind string) int {
		s := testkit.Get[contract.Stream](w.hanne, "/api/activity?"+query)
		n := 0
		for _, e := range s.Events {
			if string(e.Kind) == kind {
				n++
			}
		}
		if n != len(s.Events) && kind != "" {
			t.Errorf("%s holds other events than %s", query, kind)
		}
		return len(s.Events)
	}
	for query, want := range map[string]int{"": 6, "about=outside": 1, "about=documents": 1, "about=links": 2, "dossier=mer-24": 6, "limit=2": 2, "person=" + w.People["luca"].ID.String(): 2, "since=" + time.Now().Add(time.Hour).UTC().Format(time.RFC3339): 0, "before=1": 0} {
		if got := count(query, ""); got != want {
			t.Errorf("%q: %d events, want %d", query, got, want)
		}
	}
	if count("about=outside", "link.opened") != 1 {
		t.Error("outside holds the opening")
	}
	w.hanne.Want(404, "GET", "/api/activity?dossier=AUR-99", nil)
	w.hanne.Want(400, "GET", "/api/activity?person=x", nil)
	today := testkit.Get[contract.Today](w.hanne, "/api/today")
	if len(today.Dossiers) != 1 || len(today.EndsSoon) != 1 || len(today.News) == 0 || today.News[0].Kind != "link.opened" {
		t.Errorf("today: %+v", today)
	}
}

// A link's terms are changed under the same rules as they are made; open pages
// of visitors follow, and the record says what changed.
func TestChangingALinksTerms(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{w.paper("a.txt", "text")}, Password: ptr("harbour 24"), Openings: ptr(3)})
	path, front := "/api/links/"+l.Id.String()+"/terms", "/api/visits/"+token
	v := w.Visitor()
	v.Want(204, "POST", front, contract.OpenLink{Password: ptr("harbour 24")})
	w.Visitor().Want(204, "POST", front, contract.OpenLink{Password: ptr("harbour 24")})
	week, far := w.Now().Add(7*24*time.Hour).UTC().Truncate(time.Second), w.Now().Add(400*24*time.Hour)
	confirmed := contract.IdentityConfirmed
	for name, c := range map[string]struct {
		change contract.LinkChange
		status int
		code   string
	}{
		"fewer openings than were used": {contract.LinkChange{Name: "A", Until: week, Openings: ptr(1)}, 400, "openings-used"},
		"longer than the practice lets": {contract.LinkChange{Name: "A", Until: far}, 400, "until-too-late"},
		"over already":                  {contract.LinkChange{Name: "A", Until: w.Now().Add(-time.Hour)}, 400, "until-past"},
		"a short password":              {contract.LinkChange{Name: "A", Until: week, Password: ptr("abc")}, 400, "password-short"},
		"a list without an identity":    {contract.LinkChange{Name: "A", Until: week, Allowed: &[]string{"dunlin.example"}}, 400, "allowed-unknown"},
		"no name":                       {contract.LinkChange{Name: "a\x00", Until: week}, 400, "name-control"},
	} {
		t.Run(name, func(t *testing.T) {
			if a := w.luca.Do("PUT", path, c.change); a.Status != c.status || a.Code() != c.code {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	w.priya.Want(403, "PUT", path, contract.LinkChange{Name: "A", Until: week})
	w.tomasz.Want(404, "PUT", path, contract.LinkChange{Name: "A", Until: week})
	changed := read[contract.Link](t, w.luca.Want(200, "PUT", path, contract.LinkChange{Name: "For the insurer", Until: week, Openings: ptr(5), Identify: &confirmed, Allowed: &[]string{"dunlin.example"}}))
	if changed.Name != "For the insurer" || !changed.Until.Equal(week) || *changed.OpeningsLimit != 5 || !changed.HasPassword || !strings.Contains(sentenceOf(changed.Sentence), "and the password") {
		t.Errorf("%+v", changed)
	}
	// Whoever is in stays in; the next one meets the new terms.
	v.Want(200, "GET", front+"/contents", nil)
	if a := w.Visitor().Do("POST", front, contract.OpenLink{Password: ptr("harbour 24")}); a.Code() != "needs-identity" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	read[contract.Link](t, w.luca.Want(200, "PUT", path, contract.LinkChange{Name: "For the insurer", Until: week, Password: ptr("")}))
	w.Visitor().Want(204, "POST", front, contract.OpenLink{})
	record := w.luca.Want(200, "GET", "/api/links/"+l.Id.String()+"/record.csv", nil)
	lines, err := csv.NewReader(bytes.NewReader(record.Body)).ReadAll()
	if err != nil || len(lines) != 1+7 || lines[1][1] != "made" || lines[4][1] != "refused" && lines[4][1] != "changed" {
		t.Errorf("%v %q", err, lines)
	}
	// Single terms are set anew, and the others stay.
	fortnight := week.Add(7 * 24 * time.Hour)
	adjusted := read[contract.Link](t, w.luca.Want(200, "PATCH", path, contract.LinkAdjustment{Until: &fortnight}))
	if !adjusted.Until.Equal(fortnight) || adjusted.HasPassword || adjusted.Name != "For the insurer" {
		t.Errorf("%+v", adjusted)
	}
	adjusted = read[contract.Link](t, w.luca.Want(200, "PATCH", path, contract.LinkAdjustment{Password: ptr("tide-harbour-9")}))
	if !adjusted.Until.Equal(fortnight) || !adjusted.HasPassword {
		t.Errorf("%+v", adjusted)
	}
	for code, bad := range map[string]contract.LinkAdjustment{"until-too-late": {Until: &far}, "until-past": {Until: ptr(w.Now().Add(-time.Hour))}, "password-short": {Password: ptr("abc")}} {
		if a := w.luca.Do("PATCH", path, bad); a.Status != 400 || a.Code() != code {
			t.Errorf("%s: %d %s", code, a.Status, a.Body)
		}
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	if a := w.luca.Do("PATCH", path, contract.LinkAdjustment{Until: &week}); a.Status != 409 || a.Code() != "link-over" {
		t.Errorf("an ended link is prolonged: %d %s", a.Status, a.Body)
	}
	if a := w.luca.Do("PUT", path, contract.LinkChange{Name: "A", Until: week}); a.Status != 409 || a.Code() != "link-over" {
		t.Errorf("an ended link: %d %s", a.Status, a.Body)
	}
}

// Names that a spreadsheet would take for formulas are none in the record.
func TestARecordIsNoFormula(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	stated := contract.IdentityStated
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{w.paper("a.txt", "text")}, Identify: &stated})
	w.Visitor().Want(204, "POST", "/api/visits/"+token, contract.OpenLink{Email: ptr("=cmd@dunlin.example")})
	record := string(w.luca.Want(200, "GET", "/api/links/"+l.Id.String()+"/record.csv", nil).Body)
	if !strings.Contains(record, ",'=cmd@dunlin.example,stated,") {
		t.Error(record)
	}
}

// Whoever ended a link can take that back for a while, where it could be made now; for
// others, and later, the end stays.
func TestTakingBackAnEnd(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	w.Give("hanne", w.top, "luca", access.LevelManage)
	doc := w.paper("report.txt", "as found")
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Password: ptr("correct harbour bell")})
	path := "/api/links/" + l.Id.String()
	open := func() int { return w.Visitor().Do("GET", "/api/visits/"+token, nil).Status }
	w.luca.Want(204, "POST", path+"/reopening", nil) // it never ended: nothing happens
	w.luca.Want(204, "POST", path+"/end", nil)
	if got := open(); got != 410 {
		t.Fatalf("ended, it answers %d", got)
	}
	w.tomasz.Want(404, "POST", path+"/reopening", nil)
	w.priya.Want(403, "POST", path+"/reopening", nil)
	if a := w.hanne.Do("POST", path+"/reopening", nil); a.Status != 409 || a.Code() != "end-stays" {
		t.Errorf("by somebody else: %d %s", a.Status, a.Body)
	}
	w.luca.Want(204, "POST", path+"/reopening", nil)
	if got := open(); got == 410 {
		t.Error("open again, it is gone")
	}
	shown := testkit.Get[contract.LinkRecord](w.luca, path).Link
	if !shown.Living || !shown.HasPassword {
		t.Errorf("it came back as %+v", shown)
	}
	if e := testkit.Get[contract.Stream](w.luca, "/api/activity?about=links").Events[0]; e.Kind != "link.reopened" {
		t.Errorf("it is told as %s", e.Kind)
	}
	// What the practice has forbidden meanwhile does not come back.
	w.luca.Want(204, "POST", path+"/end", nil)
	w.Appoint("hanne", accounts.Administrator)
	r := rules(nil)
	r.Outward = &contract.OutwardRules{Required: contract.OutwardRulesRequiredIdentity, Kinds: []contract.LinkKind{contract.LinkKindHandOut}, Shut: []string{}, Only: []string{}}
	w.SignIn("hanne").Want(204, "PUT", "/api/practice/rules", r)
	if a := w.luca.Do("POST", path+"/reopening", nil); a.Code() != "rule-identity" {
		t.Errorf("against the rules: %d %s", a.Status, a.Body)
	}
	w.SignIn("hanne").Want(204, "PUT", "/api/practice/rules", rules(nil))
	// Nor what is too late, or what its sender may no longer share.
	w.Later(links.TakenBack + time.Second)
	if a := w.SignIn("luca").Do("POST", path+"/reopening", nil); a.Code() != "end-stays" {
		t.Errorf("later: %d %s", a.Status, a.Body)
	}
	if got := open(); got != 410 {
		t.Errorf("in the end it answers %d", got)
	}
}

func init() {
	named = append(named, func(o *office) []endpoint {
		link := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.plan}})
		return []endpoint{{"POST", "/links/{id}/reopening", "/links/" + link.Id.String() + "/reopening", nil, paper(access.Share)}}
	})
}
