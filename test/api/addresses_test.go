package api_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"path"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A readable address leads to its link, belongs to nobody else, ever, and
// guessing others is slowed.
func TestReadableAddresses(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("report.txt", "report")
	l := testkit.Post[contract.Link](w.luca, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}, Slug: ptr("corran-lass")})
	if path.Base(*l.Address) != "corran-lass" {
		t.Errorf("the address is %s", *l.Address)
	}
	v := w.Visitor()
	v.Want(204, "POST", "/api/visits/corran-lass", contract.OpenLink{})
	v.Want(200, "GET", "/api/visits/corran-lass/contents", nil)
	if a := w.luca.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}, Slug: ptr("corran-lass")}); a.Status != 409 || a.Code() != "slug-taken" {
		t.Errorf("taken: %d %s", a.Status, a.Body)
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	if a := w.luca.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}, Slug: ptr("corran-lass")}); a.Code() != "slug-taken" {
		t.Errorf("an ended one is given to another link: %d %s", a.Status, a.Body)
	}
	other, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}})
	w.luca.Want(200, "PUT", "/api/links/"+other.Id.String()+"/terms", contract.LinkChange{Name: "Report", Until: w.Now().Add(time.Hour), Slug: ptr("tessaly-report")})
	for _, address := range []string{token, "tessaly-report"} {
		w.Visitor().Want(200, "GET", "/api/visits/"+address, nil)
	}
	slowed := false
	for i := range 8 {
		a := w.Visitor().Do("GET", fmt.Sprintf("/api/visits/guess-%d", i), nil)
		if slowed = slowed || a.Status == 429; !slowed && a.Status != 410 {
			t.Errorf("guess %d: %d %s", i, a.Status, a.Body)
		}
	}
	if !slowed {
		t.Error("guessing is not slowed")
	}
	// A link that cannot be guessed is not slowed along, and waiting helps.
	w.Visitor().Want(200, "GET", "/api/visits/"+token, nil)
	w.Later(10 * time.Minute)
	w.Visitor().Want(200, "GET", "/api/visits/tessaly-report", nil)
}

// Whoever is sent a link has their own copy: openings are told apart, and all
// copies end together.
func TestOwnCopies(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("report.txt", "report")
	l, _ := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Openings: ptr(2)})
	to := []string{"b.quist@calder.example", "m.lund@brightwater.example"}
	w.luca.Want(202, "POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: to})
	tokens := map[string]string{}
	for _, a := range to {
		waitFor(t, func() bool { return len(w.Mail.Messages(a)) == 1 })
		for _, line := range strings.Split(w.Mail.Messages(a)[0].Text, "\n") {
			if strings.HasPrefix(line, w.URL+"/l/") {
				tokens[a] = path.Base(strings.TrimSpace(line))
			}
		}
	}
	if tokens[to[0]] == "" || tokens[to[0]] == tokens[to[1]] || tokens[to[0]] == path.Base(*l.Address) {
		t.Fatalf("the copies: %v", tokens)
	}
	for _, a := range to {
		v := w.enter(tokens[a], contract.OpenLink{})
		if got := v.Do("GET", "/api/visits/"+tokens[a]+"/documents/"+doc.String()+"/content?download", nil); string(got.Body) != "report" {
			t.Errorf("%s got %d", a, got.Status)
		}
	}
	seen := map[string]int{}
	for _, e := range testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String()).Events {
		if e.Outside && e.Data != nil {
			seen[(*e.Data)["copy"]+" "+string(e.Kind)]++
		}
	}
	if last := testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String()).Link.LastBy; last == nil || *last != to[1] {
		t.Errorf("opened last by %v", last)
	}
	for _, a := range to {
		if seen[a+" link.opened"] != 1 || seen[a+" link.fetched"] != 1 {
			t.Errorf("of %s: %v", a, seen)
		}
	}
	// Two openings mean two, by whatever copy.
	if a := w.Visitor().Do("POST", "/api/visits/"+path.Base(*l.Address), contract.OpenLink{}); a.Status != 410 {
		t.Errorf("a third opening: %d", a.Status)
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	for _, a := range to {
		if got := w.Visitor().Do("GET", "/api/visits/"+tokens[a], nil); got.Status != 410 {
			t.Errorf("the copy of %s after the end: %d", a, got.Status)
		}
	}
}

func TestTellingTheSender(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("report.txt", "report")
	use := func(token string) {
		v := w.enter(token, contract.OpenLink{})
		v.Want(200, "GET", "/api/visits/"+token+"/documents/"+doc.String()+"/content?download", nil)
	}
	mails := func(name string) (n int) {
		for _, m := range w.Mail.Messages(w.People["luca"].Email) {
			if strings.HasPrefix(m.Subject, name+": ") {
				n++
			}
		}
		return n
	}
	tokens := map[contract.Telling]string{}
	for _, tell := range []contract.Telling{contract.Each, contract.Daily, contract.Never} {
		_, tokens[tell] = w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Name: ptr("told " + string(tell)), Tell: &tell})
		use(tokens[tell])
	}
	waitFor(t, func() bool { return mails("told each") == 2 })
	daily := func() {
		t.Helper()
		if err := w.App.Web.Visits.TellDays(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	daily()
	if mails("told daily") != 0 {
		t.Error("told before the day is over")
	}
	w.Later(24 * time.Hour)
	use(tokens[contract.Daily])
	daily()
	daily()
	waitFor(t, func() bool { return mails("told daily") == 1 })
	for _, m := range w.Mail.Messages(w.People["luca"].Email) {
		if strings.HasPrefix(m.Subject, "told daily") && (!strings.Contains(m.Text, "opened 2 times") || !strings.Contains(m.Text, "2 files downloaded")) {
			t.Errorf("the day: %s", m.Text)
		}
	}
	w.Later(24 * time.Hour)
	daily()
	if mails("told daily") != 1 || mails("told never") != 0 || mails("told each") != 2 {
		t.Errorf("a day without anything: %d, never: %d, each: %d", mails("told daily"), mails("told never"), mails("told each"))
	}
}

// What the practice rules out is said in the draft, at the word it concerns, and
// refused.
func TestOutwardRules(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("report.txt", "report")
	set := func(o contract.OutwardRules) {
		t.Helper()
		w.hanne.Want(204, "PUT", "/api/practice/rules", contract.Rules{Sensitive: "off", Patterns: []contract.Pattern{}, LongestLinkDays: 90, Outward: &o})
	}
	w.Appoint("hanne", "administrator")
	both := []contract.LinkKind{contract.LinkKindHandOut, contract.LinkKindIntake}
	stated := contract.IdentityStated
	for name, c := range map[string]struct {
		rules contract.OutwardRules
		terms contract.LinkTerms
		term  string
	}{
		"rule-password": {contract.OutwardRules{Required: contract.OutwardRulesRequiredPassword, Kinds: both}, contract.LinkTerms{}, "password"},
		"rule-identity": {contract.OutwardRules{Required: contract.OutwardRulesRequiredIdentity, Kinds: both}, contract.LinkTerms{Password: ptr("tide-harbour-9")}, "identify"},
		"rule-either":   {contract.OutwardRules{Required: contract.OutwardRulesRequiredEither, Kinds: both}, contract.LinkTerms{}, "password"},
		"rule-kind":     {contract.OutwardRules{Required: contract.OutwardRulesRequiredNothing, Kinds: both[1:]}, contract.LinkTerms{}, "kind"},
		"rule-only":     {contract.OutwardRules{Required: contract.OutwardRulesRequiredNothing, Kinds: both, Only: []string{"calder.example"}}, contract.LinkTerms{}, "identify"},
		"rule-domain":   {contract.OutwardRules{Required: contract.OutwardRulesRequiredNothing, Kinds: both, Shut: []string{"rival.example"}}, contract.LinkTerms{Identify: &stated, Allowed: &[]string{"rival.example"}}, "allowed"},
	} {
		set(c.rules)
		c.terms.Items = []uuid.UUID{doc}
		d := testkit.Post[contract.LinkDraft](w.luca, 200, "/api/links/draft", c.terms)
		if d.Refused == nil || d.Refused.Code != name || d.Refused.Term != c.term || len(d.Sentence) == 0 {
			t.Errorf("%s in the draft: %+v", name, d.Refused)
		}
		if a := w.luca.Do("POST", "/api/links", c.terms); a.Status != 400 || a.Code() != name {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	set(contract.OutwardRules{Required: contract.OutwardRulesRequiredNothing, Kinds: both, Shut: []string{"rival.example"}})
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Identify: &stated})
	if a := w.luca.Do("POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: []string{"somebody@rival.example"}}); a.Code() != "rule-domain" {
		t.Errorf("mailed to a domain that is shut: %d %s", a.Status, a.Body)
	}
	if a := w.Visitor().Do("POST", "/api/visits/"+token, contract.OpenLink{Email: ptr("somebody@rival.example")}); a.Status != 403 || a.Code() != "address-not-allowed" {
		t.Errorf("a visitor from there: %d %s", a.Status, a.Body)
	}
	for name, bad := range map[string]contract.OutwardRules{"required-unknown": {Required: "blood", Kinds: both}, "kind-unknown": {Required: "nothing", Kinds: []contract.LinkKind{"post"}}, "domain-form": {Required: "nothing", Kinds: both, Shut: []string{"a@b.example"}}} {
		if a := w.hanne.Do("PUT", "/api/practice/rules", contract.Rules{Sensitive: "off", Patterns: []contract.Pattern{}, LongestLinkDays: 90, Outward: &bad}); a.Status != 400 || a.Code() != name {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
}

// Several of a link's files come as one archive, and nothing that it does not
// give.
func TestSeveralOfALink(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	one, two, other := w.paper("one.txt", "one"), w.paper("two.txt", "two"), w.paper("other.txt", "other")
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{one, two, w.paper("three.txt", "three")}, Downloads: ptr(1)})
	v := w.enter(token, contract.OpenLink{})
	archive := "/api/visits/" + token + "/archive?item=" + one.String()
	a := v.Want(200, "GET", archive+"&item="+two.String()+"&item="+one.String(), nil)
	z, err := zip.NewReader(bytes.NewReader(a.Body), int64(len(a.Body)))
	if err != nil || len(z.File) != 2 || z.File[0].Name != "one.txt" || z.File[1].Name != "two.txt" {
		t.Errorf("%d files, %v", len(z.File), err)
	}
	for _, item := range []string{other.String(), uuid.NewString()} {
		if a := v.Do("GET", archive+"&item="+item, nil); a.Status != 404 {
			t.Errorf("what it does not give: %d", a.Status)
		}
	}
	if a := v.Do("GET", archive+"&item=x", nil); a.Status != 400 {
		t.Errorf("what is no id: %d", a.Status)
	}
	if a := v.Do("GET", "/api/visits/"+token+"/archive", nil); a.Status != 200 {
		t.Errorf("all, in the same visit: %d", a.Status)
	}
	if got := testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String()).Link.Downloads; got != 1 {
		t.Errorf("%d downloads are counted", got)
	}
}

// What is on its way when a link ends is cut off: a file and an archive. The
// archive says beforehand how large it is.
func TestTransfersEndWithTheLink(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	large := make([]byte, 64<<20)
	for i := range large {
		large[i] = byte(i * 31 >> 3)
	}
	doc := w.luca.Upload(w.top, "", "soundings.bin", large).Document.Id
	for _, what := range []string{"/documents/" + doc.String() + "/content?download", "/archive"} {
		l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}})
		v := w.enter(token, contract.OpenLink{})
		resp, err := v.HTTP.Get(w.URL + "/api/visits/" + token + what)
		if err != nil {
			t.Fatal(err)
		}
		if resp.StatusCode != 200 || resp.ContentLength < int64(len(large)) {
			t.Errorf("%s: %d, %d bytes announced", what, resp.StatusCode, resp.ContentLength)
		}
		if _, err := io.CopyN(io.Discard, resp.Body, 1<<20); err != nil {
			t.Fatal(err)
		}
		w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
		n, err := io.Copy(io.Discard, resp.Body)
		resp.Body.Close()
		if err == nil || n+1<<20 >= int64(len(large)) {
			t.Errorf("%s: %d bytes came after the end, %v", what, n, err)
		}
	}
}

func TestTermsThatMakeNoSense(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("report.txt", "report")
	past, later := w.Now().Add(-time.Hour), w.Now().Add(2*time.Hour)
	sooner, stated := w.Now().Add(time.Hour), contract.IdentityStated
	for name, terms := range map[string]contract.LinkTerms{
		"ends in the past":        {Until: &past},
		"ends before it begins":   {Until: &sooner, NotBefore: &later},
		"no openings":             {Openings: ptr(0)},
		"no downloads":            {Downloads: ptr(0)},
		"password of 1":           {Password: ptr("x")},
		"password of 10,000":      {Password: ptr(strings.Repeat("x", 10_000))},
		"a domain that is none":   {Identify: &stated, Allowed: &[]string{"no domain"}},
		"a readable address of 2": {Slug: ptr("ab")},
		"other scripts":           {Slug: ptr("доклад")},
	} {
		terms.Items = []uuid.UUID{doc}
		if a := w.luca.Do("POST", "/api/links", terms); a.Status != 400 {
			t.Errorf("%s: %d %.200s", name, a.Status, a.Body)
		}
	}
	if n := len(testkit.Get[[]contract.Link](w.luca, "/api/links")); n != 0 {
		t.Errorf("%d links were made all the same", n)
	}
}
