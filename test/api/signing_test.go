package api_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{
			{"GET", "/signings", "", nil, self},
			{"GET", "/documents/{id}/signings", "/documents/" + o.plan.String() + "/signings", nil, paper(access.See)},
		}
	})
	for _, key := range []string{"GET /signings/{id}", "POST /signings/{id}/reminders", "POST /signings/{id}/end", "PUT /signings/{id}/until", "PUT /signings/{id}/parties/{party}", "PUT /signings/{id}/places",
		"GET /signings/{id}/sheet", "GET /signings/{id}/sheet/words", "PUT /signings/{id}/sheet", "POST /signings/{id}/sheet", "POST /signings/{id}/sheet/declining", "POST /signings", "POST /signings/draft", "GET /documents/{id}/paper-check"} {
		apart[key] = "by who sees or changes the paper, or is a party: TestSigningIsForItsParties"
	}
	for _, key := range []string{"GET /to-sign/{token}", "GET /to-sign/{token}/words", "PUT /to-sign/{token}", "POST /to-sign/{token}", "POST /to-sign/{token}/declining", "POST /to-sign/{token}/handing"} {
		apart[key] = "by a party's way in alone: TestSigningInTurn, TestSigningIsForItsParties"
	}
}

// aPlan is for a paper of one page: somebody outside signs first, then Priya.
func (o *office) aPlan(known contract.SigningKnown) contract.SigningPlan {
	priya := o.People["priya"].ID
	box := func(x, y float64) contract.SigningBox { return contract.SigningBox{X: x, Y: y, W: 0.3, H: 0.05} }
	return contract.SigningPlan{
		Parties: []contract.SigningParty{
			{Role: "the client", Turn: 1, Name: "Callum Wray", Email: "callum@wray.example", Known: known, Signs: true, MayHand: true},
			{Role: "the principal", Turn: 2, Person: &priya, Known: contract.KnownBySignIn, Signs: true},
		},
		Places: []contract.SigningPlace{
			{Id: 1, Party: 0, Page: 1, Box: box(0.1, 0.7), Kind: contract.PlaceSignature, Must: true},
			{Id: 2, Party: 0, Page: 1, Box: box(0.1, 0.8), Kind: contract.PlaceSignedOn},
			{Id: 3, Party: 0, Page: 1, Box: box(0.1, 0.5), Kind: contract.PlaceText, Must: true, Most: ptr(20)},
			{Id: 4, Party: 1, Page: 1, Box: box(0.5, 0.7), Kind: contract.PlaceSignature, Must: true},
			{Id: 5, Party: 0, Page: 1, Box: box(0.1, 0.3), Kind: contract.PlaceFixed, Value: ptr("Trawler Aurelie, 4,850")},
		},
	}
}

func (o *office) letter() uuid.UUID {
	return o.hanne.Upload(o.reports, "", "engagement.pdf", pdfOf(o.T, "Letter of engagement")).Document.Id
}

// sent sends a paper and returns the request with the token by which the party outside comes in.
func (o *office) sent(w contract.SigningWish) (contract.SigningLine, string) {
	o.T.Helper()
	line := testkit.Post[contract.SigningLine](o.hanne, 201, "/api/signings", w)
	return line, o.wayOf("callum@wray.example")
}

// wayOf is the token in the last mail that asks somebody to sign.
func (o *office) wayOf(email string) (token string) {
	o.T.Helper()
	waitFor(o.T.(*testing.T), func() bool {
		for _, m := range o.Mail.Messages(email) {
			if _, after, ok := strings.Cut(m.Text, "/l/"); ok {
				token = strings.Fields(after)[0]
			}
		}
		return token != ""
	})
	return token
}

func typed(place int, name string) contract.SigningValue {
	return contract.SigningValue{Place: place, Hand: &contract.SigningHand{Typed: &name}}
}

func filledIn(place int, text string) contract.SigningValue {
	return contract.SigningValue{Place: place, Text: &text}
}

func clientActs() contract.SigningAct {
	return contract.SigningAct{Values: []contract.SigningValue{typed(1, "Callum Wray"), filledIn(3, "Aurelie")}, Pages: []int{1}, Agrees: true}
}

// finished waits until the signed paper stands, and returns it.
func (o *office) finished(id uuid.UUID) (contract.SigningLine, []byte) {
	o.T.Helper()
	var line contract.SigningLine
	waitFor(o.T.(*testing.T), func() bool {
		line = testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+id.String()).Line
		return line.Status == contract.RequestFinished
	})
	a := o.hanne.Do("GET", "/api/documents/"+line.ItemId.String()+"/content", nil)
	if a.Status != 200 {
		o.T.Fatalf("%d %s", a.Status, a.Body)
	}
	return line, a.Body
}

// accepted has independent programs look at a signed paper.
func accepted(t *testing.T, raw []byte, signatures int) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "signed.pdf")
	if err := os.WriteFile(file, raw, 0o600); err != nil {
		t.Fatal(err)
	}
	out, _ := exec.Command("pdfsig", "-nocert", file).CombinedOutput()
	if n := strings.Count(string(out), "Signature is Valid."); n != signatures {
		t.Errorf("%d signatures are valid, not %d:\n%s", n, signatures, out)
	}
	if strings.Contains(string(out), "Invalid") || strings.Contains(string(out), "Mismatch") {
		t.Errorf("%s", out)
	}
	if out, err := exec.Command("qpdf", "--check", file).CombinedOutput(); err != nil {
		t.Errorf("%v %s", err, out)
	}
}

// A paper goes to its parties in turn; what they give stands on it, sealed and stamped, as a further version that
// other programs find whole.
func TestSigningInTurn(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	doc := o.letter()
	line, token := o.sent(contract.SigningWish{Document: doc, Plan: o.aPlan(contract.KnownByLink)})
	if !line.Parties[0].Waits || line.Parties[1].Waits || line.Status != contract.RequestGoing {
		t.Fatalf("%+v", line)
	}
	// While it is with its parties nobody else changes it.
	if a := o.hanne.Do("POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{doc}}); a.Code() != "with-the-parties" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	if s := testkit.Get[contract.Document](o.hanne, "/api/documents/"+doc.String()).State; s == nil || s.State != contract.StateParties || len(s.With) != 1 || s.With[0] != "Callum Wray" {
		t.Errorf("%+v", s)
	}
	callum := o.Visitor()
	if a := callum.Do("GET", "/api/to-sign/"+token, nil); a.Code() != "needs-opening" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	callum.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	sheet := testkit.Get[contract.SigningSheet](callum, "/api/to-sign/"+token)
	if sheet.Party != 0 || len(sheet.Places) != 3 || len(sheet.Filled) != 1 || *sheet.Filled[0].Text != "Trawler Aurelie, 4,850" || len(sheet.Pages) != 1 || sheet.Sender != "Hanne Solvik" {
		t.Fatalf("%+v", sheet)
	}
	if words := testkit.Get[[]string](callum, "/api/to-sign/"+token+"/words"); len(words) != 1 || !strings.Contains(words[0], "Letter of engagement") {
		t.Errorf("%q", words)
	}
	kept := contract.SigningKept{Values: []contract.SigningValue{filledIn(3, "Aur")}, Pages: []int{1}}
	callum.Want(204, "PUT", "/api/to-sign/"+token, kept)
	if again := testkit.Get[contract.SigningSheet](callum, "/api/to-sign/"+token).Kept; len(again.Values) != 1 || *again.Values[0].Text != "Aur" {
		t.Errorf("%+v", again)
	}
	// Priya is not asked yet.
	if a := o.priya.Do("POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(4, "Priya Valdane")}, Pages: []int{1}, Agrees: true}); a.Code() != "not-your-turn" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	callum.Want(204, "POST", "/api/to-sign/"+token, clientActs())
	if a := callum.Do("POST", "/api/to-sign/"+token, clientActs()); a.Code() != "signed-already" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	theirs := testkit.Get[contract.SigningSheet](o.priya, "/api/signings/"+line.Id.String()+"/sheet")
	if theirs.Party != 1 || len(theirs.Filled) != 4 || theirs.Parties[0].SignedAt == nil || theirs.Parties[0].Email != nil {
		t.Errorf("%+v", theirs)
	}
	o.priya.Want(204, "POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(4, "Priya Valdane")}, Pages: []int{1}, Agrees: true})
	done, raw := o.finished(line.Id)
	if done.Final == nil || *done.Final != 2 {
		t.Errorf("%+v", done)
	}
	accepted(t, raw, 1)
	check := testkit.Get[contract.PaperCheck](o.hanne, "/api/documents/"+doc.String()+"/paper-check")
	if check.Verdict != contract.PaperValid || check.Pages != 2 || len(check.Signatures) != 2 || !check.Signatures[0].Trusted || check.Signatures[0].StampedAt == nil || check.Signatures[0].Known != contract.WithdrawalGood {
		t.Errorf("%+v", check)
	}
	if s := testkit.Get[contract.Document](o.hanne, "/api/documents/"+doc.String()).State; s == nil || s.State != contract.StateSigned {
		t.Errorf("%+v", s)
	}
	// Everybody has it: whoever came by a link gets another one.
	copied := ""
	waitFor(t, func() bool {
		for _, m := range o.Mail.Messages("callum@wray.example") {
			if _, after, ok := strings.Cut(m.Text, "All have signed"); ok {
				_, after, _ = strings.Cut(after, "/l/")
				copied = strings.Fields(after)[0]
			}
		}
		return copied != ""
	})
	callum.Want(410, "GET", "/api/to-sign/"+token, nil)
	callum.Want(204, "POST", "/api/visits/"+copied, contract.OpenLink{})
}

// Who is no party and does not see the paper finds nothing; who sees it does not change how it is signed; nobody
// signs for another, or for a party who has an account.
func TestSigningIsForItsParties(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	line, token := o.sent(contract.SigningWish{Document: o.letter(), Plan: o.aPlan(contract.KnownByLink)})
	at := "/api/signings/" + line.Id.String()
	mine := contract.SigningAct{Values: []contract.SigningValue{typed(4, "P")}, Pages: []int{1}, Agrees: true}
	for _, c := range []struct {
		who    *testkit.Client
		status int
		method string
		path   string
		body   any
	}{
		{o.tomasz, 404, "GET", at, nil}, {o.tomasz, 404, "GET", at + "/sheet", nil}, {o.tomasz, 404, "GET", at + "/sheet/words", nil}, {o.priya, 403, "GET", at + "/sheet/words?party=0", nil}, {o.luca, 404, "GET", at + "/sheet/words", nil}, {o.Visitor(), 401, "GET", "/api/to-sign/" + token + "/words", nil}, {o.tomasz, 404, "POST", at + "/sheet", mine}, {o.tomasz, 404, "POST", at + "/reminders", nil},
		{o.tomasz, 404, "POST", at + "/end", contract.SigningReason{Reason: "x"}}, {o.tomasz, 404, "PUT", at + "/places", []contract.SigningPlace{}}, {o.tomasz, 404, "PUT", at + "/parties/0", line.Parties[0]},
		{o.tomasz, 404, "GET", at + "/evidence.pdf", nil}, {o.tomasz, 404, "GET", "/api/documents/" + line.ItemId.String() + "/paper-check", nil}, {o.tomasz, 404, "POST", "/api/signings", contract.SigningWish{Document: line.ItemId, Plan: o.aPlan(contract.KnownByLink)}},
		{o.tomasz, 404, "POST", "/api/signings/draft", contract.SigningWish{Document: line.ItemId, Plan: o.aPlan(contract.KnownByLink)}},
		{o.priya, 403, "POST", at + "/reminders", nil}, {o.priya, 403, "POST", at + "/end", contract.SigningReason{Reason: "x"}}, {o.priya, 403, "POST", "/api/signings", contract.SigningWish{Document: line.ItemId, Plan: o.aPlan(contract.KnownByLink)}},
		{o.priya, 403, "GET", at + "/sheet?party=0", nil}, {o.priya, 403, "GET", at + "/evidence.pdf", nil}, {o.luca, 404, "GET", at + "/sheet", nil}, {o.luca, 404, "POST", at + "/sheet", mine},
		{o.hanne, 404, "GET", at + "/sheet?party=1", nil}, {o.hanne, 404, "GET", at + "/sheet?party=7", nil}, {o.Visitor(), 401, "GET", at, nil}, {o.Visitor(), 401, "GET", "/api/to-sign/" + token, nil}, {o.Visitor(), 410, "GET", "/api/to-sign/nothing", nil},
	} {
		if a := c.who.Do(c.method, c.path, c.body); a.Status != c.status {
			t.Errorf("%s %s: %d %s, not %d", c.method, c.path, a.Status, a.Body, c.status)
		}
	}
	// A link that gives the paper otherwise is nobody's way to sign.
	l := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{line.ItemId}})
	_, other, _ := strings.Cut(*l.Address, "/l/")
	v := o.Visitor()
	v.Want(204, "POST", "/api/visits/"+other, contract.OpenLink{})
	v.Want(404, "GET", "/api/to-sign/"+other, nil)
	// Whoever is changed is in, and whoever was is out.
	o.hanne.Want(204, "PUT", at+"/parties/0", contract.SigningParty{Turn: 1, Name: "Ola Brandt", Email: "ola@pelham.example", Known: contract.KnownByLink, Signs: true})
	v.Want(410, "GET", "/api/to-sign/"+token, nil)
	ola := o.wayOf("ola@pelham.example")
	v.Want(204, "POST", "/api/visits/"+ola, contract.OpenLink{})
	// Called off it is over for everybody, and told.
	o.hanne.Want(204, "POST", at+"/end", contract.SigningReason{Reason: "wrong edition"})
	v.Want(410, "POST", "/api/to-sign/"+ola, clientActs())
	if a := o.hanne.Do("POST", at+"/end", contract.SigningReason{Reason: "again"}); a.Code() != "signing-over" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
}

// What cannot be signed is refused with its place, and loses nothing.
func TestSigningRefusals(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.letter()
	send := func(change func(w *contract.SigningWish)) testkit.Answer {
		w := contract.SigningWish{Document: doc, Plan: o.aPlan(contract.KnownByLink)}
		change(&w)
		return o.hanne.Do("POST", "/api/signings", w)
	}
	past := o.Now().Add(-time.Hour)
	tomasz := o.People["tomasz"].ID
	for code, change := range map[string]func(w *contract.SigningWish){
		"signing-plan":   func(w *contract.SigningWish) { w.Plan.Places[0].Box.X = 0.9 },
		"signing-until":  func(w *contract.SigningWish) { w.Until = &past },
		"signing-person": func(w *contract.SigningWish) { w.Plan.Parties[1].Person = &tomasz },
		"not-found":      func(w *contract.SigningWish) { w.Document = uuid.New() },
		"password-short": func(w *contract.SigningWish) { w.Password = ptr("abc") },
		"signing-paper": func(w *contract.SigningWish) {
			w.Document = o.hanne.Upload(o.reports, "", "things.zip", []byte("PK\x05\x06"+strings.Repeat("\x00", 18))).Document.Id
		},
	} {
		if a := send(change); a.Code() != code {
			t.Errorf("%s: %d %s", code, a.Status, a.Body)
		}
	}
	draft := testkit.Post[contract.SigningDraft](o.hanne, 200, "/api/signings/draft", contract.SigningWish{Document: doc, Plan: contract.SigningPlan{Parties: []contract.SigningParty{}, Places: []contract.SigningPlace{}}})
	if len(draft.Pages) != 1 || len(draft.Problems) != 1 || draft.Problems[0].Flaw != "no-parties" {
		t.Errorf("%+v", draft)
	}
	line, token := o.sent(contract.SigningWish{Document: doc, Plan: o.aPlan(contract.KnownByLink)})
	if a := send(func(*contract.SigningWish) {}); a.Code() != "signing-under-way" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	callum := o.Visitor()
	callum.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	for code, change := range map[string]func(a *contract.SigningAct){
		"consent-missing": func(a *contract.SigningAct) { a.Agrees = false },
		"pages-unread":    func(a *contract.SigningAct) { a.Pages = []int{7} },
		"places-left":     func(a *contract.SigningAct) { a.Values = a.Values[:1] },
		"value-long":      func(a *contract.SigningAct) { a.Values[1] = filledIn(3, strings.Repeat("i", 21)) },
		"no-room":         func(a *contract.SigningAct) { a.Values[1] = filledIn(3, "W\nW\nW\nW\nW\nW\nW\nW") },
		"place-unknown":   func(a *contract.SigningAct) { a.Values = append(a.Values, typed(4, "Priya")) },
		"signature-unusable": func(a *contract.SigningAct) {
			a.Values[0].Hand = &contract.SigningHand{Strokes: &[][]contract.SigningPoint{{{X: 2, Y: 0, P: 1}, {X: 0, Y: 0, P: 1}}}, Height: ptr(0.3)}
		},
		"picture-unusable": func(a *contract.SigningAct) {
			a.Values[0].Hand = &contract.SigningHand{Picture: ptr([]byte("<svg><script/></svg>"))}
		},
	} {
		act := clientActs()
		change(&act)
		if a := callum.Do("POST", "/api/to-sign/"+token, act); a.Code() != code {
			t.Errorf("%s: %d %s", code, a.Status, a.Body)
		}
	}
	big := clientActs()
	big.Values[0].Hand = &contract.SigningHand{Picture: ptr(bytes.Repeat([]byte{1}, 2<<20))}
	if a := callum.Do("POST", "/api/to-sign/"+token, big); a.Status != 413 {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	// Ten at once: one of them signs.
	var all sync.WaitGroup
	var did atomic.Int32
	for range 10 {
		all.Go(func() {
			if callum.Do("POST", "/api/to-sign/"+token, clientActs()).Status == 204 {
				did.Add(1)
			}
		})
	}
	all.Wait()
	if did.Load() != 1 {
		t.Errorf("%d have signed", did.Load())
	}
	if a := o.hanne.Do("PUT", "/api/signings/"+line.Id.String()+"/places", o.aPlan(contract.KnownByLink).Places); a.Code() != "signed-by-somebody" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	o.Later(15 * 24 * time.Hour)
	o.duty("do what is due of signing")
	if st := testkit.Get[contract.SigningPage](o.SignIn("hanne"), "/api/signings/"+line.Id.String()).Line.Status; st != contract.RequestExpired {
		t.Errorf("%s", st)
	}
}

// What the practice lets nobody have goes to no party and no copy either, and what is no address alone to nobody.
func TestSigningObeysTheRules(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", "administrator")
	o.hanne.Want(204, "PUT", "/api/practice/rules", contract.Rules{Sensitive: "off", Patterns: []contract.Pattern{}, LongestLinkDays: 90,
		Outward: &contract.OutwardRules{Required: contract.OutwardRulesRequiredNothing, Kinds: []contract.LinkKind{contract.LinkKindHandOut}, Shut: []string{"rival.example"}}})
	doc := o.letter()
	for email, code := range map[string]string{"callum@rival.example": "rule-domain", "Callum <callum@rival.example>": "address-form", "callum@rival.example, ola@x.example": "address-form"} {
		for _, copied := range []bool{false, true} {
			plan := o.aPlan(contract.KnownByLink)
			if copied {
				plan.Copies = &[]string{email}
			} else {
				plan.Parties[0].Email = email
			}
			if a := o.hanne.Do("POST", "/api/signings", contract.SigningWish{Document: doc, Plan: plan}); a.Code() != code {
				t.Errorf("%s, copied: %v: %d %s", email, copied, a.Status, a.Body)
			}
		}
	}
	line, token := o.sent(contract.SigningWish{Document: doc, Plan: o.aPlan(contract.KnownByLink)})
	to := contract.SigningParty{Turn: 1, Name: "Callum", Email: "callum@rival.example", Known: contract.KnownByLink, Signs: true}
	if a := o.hanne.Do("PUT", "/api/signings/"+line.Id.String()+"/parties/0", to); a.Code() != "rule-domain" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	callum := o.Visitor()
	callum.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	if a := callum.Do("POST", "/api/to-sign/"+token+"/handing", map[string]string{"name": "Somebody", "email": "somebody@rival.example"}); a.Code() != "rule-domain" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
}

// Each act is sealed by itself, one after the other, on a document that was approved; somebody signs in person, and the
// others' signatures go on to hold.
func TestEachActIsSealed(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	plan := o.aPlan(contract.KnownByCode)
	plan.Each = true
	line, _ := o.sent(contract.SigningWish{Document: o.letter(), Plan: plan})
	at := "/api/signings/" + line.Id.String()
	o.hanne.Want(204, "POST", at+"/sheet?party=0", clientActs())
	waitFor(t, func() bool {
		l := testkit.Get[contract.SigningPage](o.hanne, at).Line
		return l.Final != nil && *l.Final == 2
	})
	o.priya.Want(204, "POST", at+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(4, "Priya Valdane")}, Pages: []int{1}, Agrees: true})
	done, raw := o.finished(line.Id)
	if *done.Final != 3 || *done.Parties[0].Known != contract.KnownInPerson || *done.Parties[0].Before != "Hanne Solvik" {
		t.Errorf("%+v", done)
	}
	accepted(t, raw, 2)
	check := testkit.Get[contract.PaperCheck](o.hanne, "/api/documents/"+line.ItemId.String()+"/paper-check")
	if check.Verdict != contract.PaperValid || len(check.Signatures) != 3 {
		t.Errorf("%+v", check)
	}
	// Whatever is done to it afterwards is found, by anybody.
	checked := func(raw []byte) contract.PaperCheckVerdict {
		resp, err := http.Post(o.URL+"/api/paper-checks", "application/pdf", bytes.NewReader(raw))
		if err != nil {
			t.Fatal(err)
		}
		defer resp.Body.Close()
		var c contract.PaperCheck
		if err := json.NewDecoder(resp.Body).Decode(&c); err != nil {
			t.Fatal(err)
		}
		return c.Verdict
	}
	if v := checked(raw); v != contract.PaperValid {
		t.Errorf("%s", v)
	}
	if v := checked(append(bytes.Clone(raw), "% more\n"...)); v != contract.PaperAdded {
		t.Errorf("%s", v)
	}
	bent := bytes.Clone(raw)
	bent[bytes.Index(bent, []byte("/MediaBox"))+11] ^= 1
	if v := checked(bent); v != contract.PaperBroken {
		t.Errorf("%s", v)
	}
	if v := checked(pdfOf(t, "not signed")); v != contract.PaperUnsigned {
		t.Errorf("%s", v)
	}
	if resp, err := http.Post(o.URL+"/api/paper-checks", "application/pdf", strings.NewReader("%PDF-1.7 nothing")); err != nil || resp.StatusCode != 400 {
		t.Errorf("%v %v", resp, err)
	}
}

// Where the authority that stamps does not answer, nothing unstamped is kept: the paper waits, says so, and comes about
// once it answers again.
func TestAnAuthorityIsAway(t *testing.T) {
	t.Parallel()
	var away atomic.Bool
	var to string
	between := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if away.Load() {
			http.Error(w, "closed", http.StatusServiceUnavailable)
			return
		}
		resp, err := http.Post(to, r.Header.Get("Content-Type"), r.Body)
		if err != nil {
			http.Error(w, err.Error(), http.StatusBadGateway)
			return
		}
		defer resp.Body.Close()
		w.Header().Set("Content-Type", resp.Header.Get("Content-Type"))
		_, _ = io.Copy(w, resp.Body)
	}))
	defer between.Close()
	o := newOffice(t, func(c *server.Config) { to, c.Signing.Stamp = c.Signing.Stamp, between.URL })
	away.Store(true)
	plan := o.aPlan(contract.KnownByLink)
	plan.Parties, plan.Places = plan.Parties[:1], plan.Places[:3]
	line, token := o.sent(contract.SigningWish{Document: o.letter(), Plan: plan})
	callum := o.Visitor()
	callum.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	callum.Want(204, "POST", "/api/to-sign/"+token, clientActs())
	at := "/api/signings/" + line.Id.String()
	waitFor(t, func() bool {
		l := testkit.Get[contract.SigningPage](o.hanne, at).Line
		return l.Trouble != nil && l.Status == contract.RequestSealing && l.Final == nil
	})
	if s := testkit.Get[contract.Document](o.hanne, "/api/documents/"+line.ItemId.String()); s.State.State != contract.StateParties || len(s.Versions) != 1 {
		t.Errorf("%+v", s.State)
	}
	away.Store(false)
	o.Later(2 * time.Minute)
	waitFor(t, func() bool { return o.App.Jobs.Do(t.Context(), "seal what was left") == nil })
	o.finished(line.Id)
}

// Before the certificate of its time stamp ends a paper gets another one over it, as a further version; what was signed stays whole.
// One that was superseded since gets none.
func TestTimeStampsAreRenewed(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	priya := o.People["priya"].ID
	sign := func(name string) uuid.UUID {
		doc := o.hanne.Upload(o.reports, "", name, pdfOf(t, name)).Document.Id
		line := testkit.Post[contract.SigningLine](o.hanne, 201, "/api/signings", contract.SigningWish{Document: doc, Plan: contract.SigningPlan{Parties: []contract.SigningParty{{Turn: 1, Person: &priya, Known: contract.KnownBySignIn, Signs: true}},
			Places: []contract.SigningPlace{{Id: 1, Page: 1, Kind: contract.PlaceSignature, Must: true, Box: contract.SigningBox{X: 0.1, Y: 0.7, W: 0.3, H: 0.05}}}}})
		o.priya.Want(204, "POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(1, "Priya Valdane")}, Pages: []int{1}, Agrees: true})
		o.finished(line.Id)
		return doc
	}
	doc := sign("kept.pdf")
	other := sign("superseded.pdf")
	hanne := o.hanne
	hanne.Want(201, "POST", "/api/documents/"+other.String()+"/versions/1/return", nil, "Supersede", "approved")
	before := testkit.Get[contract.PaperCheck](hanne, "/api/documents/"+doc.String()+"/paper-check")
	at := testkit.Get[contract.Document](hanne, "/api/documents/"+doc.String()).Versions[0].Number
	o.duty("set time stamps anew")
	if n := testkit.Get[contract.Document](hanne, "/api/documents/"+doc.String()).Versions[0].Number; n != at {
		t.Errorf("it was stamped anew at once, as version %d", n)
	}
	o.Later(10 * 365 * 24 * time.Hour)
	o.duty("set time stamps anew")
	hanne = o.SignIn("hanne")
	check := testkit.Get[contract.PaperCheck](hanne, "/api/documents/"+doc.String()+"/paper-check")
	if len(check.Signatures) != len(before.Signatures)+1 || !check.Signatures[len(check.Signatures)-1].Stamps || check.Verdict != contract.PaperValid {
		t.Errorf("%+v", check)
	}
	latest := testkit.Get[contract.Document](hanne, "/api/documents/"+doc.String())
	if latest.Versions[0].Number != at+1 || latest.State == nil || latest.State.State != contract.StateSigned {
		t.Errorf("%+v", latest.State)
	}
	accepted(t, hanne.Do("GET", "/api/documents/"+doc.String()+"/content", nil).Body, 1)
	if c := testkit.Get[contract.PaperCheck](hanne, "/api/documents/"+other.String()+"/paper-check"); c.Verdict != contract.PaperUnsigned {
		t.Errorf("%+v", c)
	}
}

// A party brings a paper that is asked for: it is theirs until they sign, its hash stands in the evidence, and it is filed
// beside what all have signed. Nobody else brings anything, and nothing stays of what came to nothing.
func TestPapersAreBroughtToASigning(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	plan := o.aPlan(contract.KnownByLink)
	plan.Places = append(plan.Places, contract.SigningPlace{Id: 6, Party: 0, Page: 1, Kind: contract.PlacePaper, Must: true, Label: ptr("Insurance"), Box: contract.SigningBox{X: 0.5, Y: 0.3, W: 0.12, H: 0.02}})
	line, token := o.sent(contract.SigningWish{Document: o.letter(), Plan: plan})
	callum := o.Visitor()
	at := "/api/to-sign/" + token + "/papers"
	brings := func(c *testkit.Client, way, name string, raw []byte) testkit.Answer {
		return c.Do("POST", way+"&name="+url.QueryEscape(name), bytes.NewReader(raw))
	}
	if a := brings(callum, at+"?place=6", "x.pdf", []byte("x")); a.Code() != "needs-opening" {
		t.Errorf("before the gate: %d %s", a.Status, a.Body)
	}
	callum.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	insurance := []byte("%PDF-1.4 insured, as long as a name may be")
	name := "C:\\papers\\Certificate of insurance of the trawler Aurelie, with all its annexes, 2027.pdf"
	for what, c := range map[string]struct {
		way, name, code string
		raw             []byte
	}{
		"another's place":  {at + "?place=4", "x.pdf", "place-unknown", insurance},
		"a place of words": {at + "?place=3", "x.pdf", "place-unknown", insurance},
		"no place":         {at + "?place=99", "x.pdf", "place-unknown", insurance},
		"no number":        {at + "?place=x", "x.pdf", "parameter", insurance},
		"nothing":          {at + "?place=6", "x.pdf", "paper-empty", nil},
		"no name":          {at + "?place=6", "..", "name-reserved", insurance},
		"a turned name":    {at + "?place=6", "fdp\u202e.exe", "name-direction", insurance},
		"too large":        {at + "?place=6", "x.bin", "paper-large", make([]byte, 20<<20+1)},
	} {
		if a := brings(callum, c.way, c.name, c.raw); a.Code() != c.code {
			t.Errorf("%s: %d %s", what, a.Status, a.Body)
		}
	}
	if a := brings(o.priya, "/api/signings/"+line.Id.String()+"/sheet/papers?place=6", "x.pdf", insurance); a.Code() != "not-your-turn" {
		t.Errorf("whose turn it is not: %d %s", a.Status, a.Body)
	}
	if a := brings(o.tomasz, "/api/signings/"+line.Id.String()+"/sheet/papers?place=6", "x.pdf", insurance); a.Status != 404 {
		t.Errorf("a stranger: %d", a.Status)
	}
	first := read[contract.SigningPaper](t, brings(callum, at+"?place=6", "first.pdf", []byte("first")))
	got := read[contract.SigningPaper](t, brings(callum, at+"?place=6", name, insurance))
	sum := sha256.Sum256(insurance)
	if got.Sha256 != hex.EncodeToString(sum[:]) || !strings.HasPrefix(got.Name, "Certificate") || got.Size != len(insurance) {
		t.Errorf("%+v", got)
	}
	// Its sender has it already; nobody else does.
	page := testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+line.Id.String())
	if len(page.Papers) != 1 || page.Papers[0].Name != got.Name {
		t.Errorf("%+v", page.Papers)
	}
	if a := o.hanne.Want(200, "GET", "/api/signings/"+line.Id.String()+"/papers/6", nil); !bytes.Equal(a.Body, insurance) || !strings.HasPrefix(a.Header.Get("Content-Disposition"), "attachment") || a.Header.Get("Content-Type") != "application/octet-stream" {
		t.Errorf("%v", a.Header)
	}
	o.priya.Want(403, "GET", "/api/signings/"+line.Id.String()+"/papers/6", nil)
	o.tomasz.Want(404, "GET", "/api/signings/"+line.Id.String()+"/papers/6", nil)
	if others := testkit.Get[contract.SigningPage](o.priya, "/api/signings/"+line.Id.String()).Papers; len(others) != 0 {
		t.Errorf("a party sees what another brought: %+v", others)
	}
	act := clientActs()
	if a := callum.Do("POST", "/api/to-sign/"+token, act); a.Code() != "places-left" {
		t.Errorf("without it: %d %s", a.Status, a.Body)
	}
	with := func(p contract.SigningPaper) contract.SigningAct {
		act := clientActs()
		act.Values = append(act.Values, contract.SigningValue{Place: 6, Text: &p.Name, Sha256: &p.Sha256})
		return act
	}
	if a := callum.Do("POST", "/api/to-sign/"+token, with(first)); a.Code() != "paper-not-brought" {
		t.Errorf("with the one that was replaced: %d %s", a.Status, a.Body)
	}
	callum.Want(204, "POST", "/api/to-sign/"+token, with(got))
	if a := brings(callum, at+"?place=6", "x.pdf", insurance); a.Status < 400 {
		t.Errorf("after signing: %d %s", a.Status, a.Body)
	}
	o.priya.Want(204, "POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(4, "Priya Valdane")}, Pages: []int{1}, Agrees: true})
	_, raw := o.finished(line.Id)
	accepted(t, raw, 1)
	if words := wordsOn(t, raw); !strings.Contains(words, got.Sha256) || !strings.Contains(words, "Cert") {
		t.Errorf("the evidence says %s", words)
	}
	rows := testkit.Get[contract.RegisterPage](o.hanne, "/api/folders/"+o.reports.String()+"/register").Rows
	filed := slices.IndexFunc(rows, func(r contract.DocumentRow) bool {
		return strings.HasPrefix(r.Name, "engagement, A, Certificate of insurance")
	})
	if filed < 0 {
		t.Fatalf("it is not filed: %+v", rows)
	}
	if a := o.hanne.Want(200, "GET", "/api/documents/"+rows[filed].Id.String()+"/content?download", nil); !bytes.Equal(a.Body, insurance) {
		t.Error("what is filed is another")
	}
	if left := testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+line.Id.String()).Papers; len(left) != 0 {
		t.Errorf("it is there twice: %+v", left)
	}

	// What is brought to a request that is called off, or to a party that is another then, is not kept.
	plan.Parties[0].Email = "second@wray.example"
	second := testkit.Post[contract.SigningLine](o.hanne, 201, "/api/signings", contract.SigningWish{Document: o.hanne.Upload(o.reports, "", "second.pdf", pdfOf(t, "Second")).Document.Id, Plan: plan})
	token = o.wayOf("second@wray.example")
	callum = o.Visitor()
	callum.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	at = "/api/to-sign/" + token + "/papers"
	// Four bring twenty megabytes at once to one place: one of them is there.
	var all sync.WaitGroup
	for i := range 4 {
		all.Go(func() {
			if a := brings(callum, at+"?place=6", fmt.Sprintf("%d.bin", i), bytes.Repeat([]byte{byte(i)}, 1<<20)); a.Status != 201 {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	all.Wait()
	if papers := testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+second.Id.String()).Papers; len(papers) != 1 {
		t.Errorf("%+v", papers)
	}
	o.hanne.Want(204, "POST", "/api/signings/"+second.Id.String()+"/end", contract.SigningReason{Reason: "Another time."})
	if papers := testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+second.Id.String()).Papers; len(papers) != 0 {
		t.Errorf("it is kept: %+v", papers)
	}
}
