package api_test

import (
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		held := o.hanne.Upload(o.top, "", "held.txt", []byte("held")).Document.Id
		o.hanne.Want(204, "POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{held}})
		of := func(way string) string { return "/documents/" + held.String() + "/checkout" + way }
		return []endpoint{
			{"GET", "/checkouts", "", nil, self},
			{"POST", "/checkouts", "", contract.CheckOut{Items: []uuid.UUID{held}}, paper(access.Change)},
			{"DELETE", "/documents/{id}/checkout", of(""), nil, paper(access.See)},
			{"POST", "/documents/{id}/checkout/wait", of("/wait"), nil, paper(access.See)},
			{"POST", "/documents/{id}/checkout/request", of("/request"), nil, paper(access.See)},
			{"POST", "/documents/{id}/checkout/break", of("/break"), contract.BreakCheckout{}, paper(access.Manage)},
		}
	})
}

func takes(c *testkit.Client, want int, ids ...uuid.UUID) testkit.Answer {
	return c.Want(want, "POST", "/api/checkouts", contract.CheckOut{Items: ids})
}

func held(c *testkit.Client, document uuid.UUID) *contract.Held {
	return testkit.Get[contract.Document](c, "/api/documents/"+document.String()).Held
}

// Whoever has a document in hand works on it; others see who it is, look, and change
// nothing, whatever way they try. Afterwards they are told.
func TestADocumentInHand(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "in", "reply.txt", []byte("one")).Document
	o.luca.Upload(o.reports, "in", "reply.txt", []byte("two"))
	path := "/api/documents/" + doc.Id.String()
	back := o.Now().Add(5 * time.Hour).Truncate(time.Second)
	o.luca.Want(204, "POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{doc.Id}, Note: ptr("figures of frame 31"), Back: &back})
	if h := held(o.priya, doc.Id); h == nil || h.By != "Luca Ferrante" || h.ByMe || h.Note != "figures of frame 31" || !h.Back.Equal(back) || h.Version != 2 {
		t.Errorf("%+v", h)
	}
	row := testkit.Get[contract.RegisterPage](o.hanne, "/api/folders/"+doc.FolderId.String()+"/register").Rows[0]
	if row.Held == nil || row.Held.By != "Luca Ferrante" {
		t.Errorf("in the register %+v", row.Held)
	}
	for name, a := range map[string]testkit.Answer{
		"taking it":             o.hanne.Do("POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{doc.Id}}),
		"another name":          o.hanne.Do("PUT", "/api/items/"+doc.Id.String()+"/name", contract.NewName{Name: "other.txt"}),
		"another place":         o.move(o.hanne, o.yard, doc.Id),
		"an older version":      o.hanne.Do("POST", path+"/versions/1/return", nil),
		"removing a version":    o.hanne.Do("DELETE", path+"/versions/1", nil),
		"keeping it apart":      o.hanne.Do("POST", path+"/versions/2/separation", nil),
		"deleting it":           o.hanne.Do("POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{doc.Id}}),
		"a file meant for it":   o.hanne.Begin(o.reports, "", "x.txt", 1, "document", doc.Id.String()),
		"a file under its name": uploaded(o.hanne, doc.FolderId, "reply.txt", "three"),
	} {
		if a.Status != 409 || !strings.Contains(string(a.Body), "held") || !strings.Contains(string(a.Body), "Luca Ferrante") {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	if a := o.hanne.Do("POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{doc.FolderId}}); a.Code() != "held-within" || strings.Contains(string(a.Body), "Luca") {
		t.Errorf("the folder around it: %d %s", a.Status, a.Body)
	}
	o.priya.Want(200, "GET", path+"/content", nil)
	if a := o.luca.Do("POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{doc.Id}}); a.Code() != "held-by-you" {
		t.Errorf("by the holder: %d %s", a.Status, a.Body)
	}
	// Two versions with notes, before it is given back.
	for i, text := range []string{"three", "four"} {
		if out := o.luca.Upload(doc.FolderId, "", "mine.txt", []byte(text), "document", doc.Id.String(), "note", "draft "+text); out.Version != 3+i {
			t.Errorf("%+v", out)
		}
	}
	o.priya.Want(202, "POST", path+"/checkout/wait", nil)
	o.priya.Want(202, "POST", path+"/checkout/wait", nil)
	o.hanne.Want(202, "POST", path+"/checkout/request", nil)
	o.luca.Want(409, "POST", path+"/checkout/request", nil)
	if h := held(o.priya, doc.Id); h.Waits == nil || !*h.Waits {
		t.Errorf("%+v", h)
	}
	if mine := testkit.Get[[]contract.InHand](o.luca, "/api/checkouts"); len(mine) != 1 || mine[0].Id != doc.Id || !mine[0].Held.ByMe {
		t.Errorf("%+v", mine)
	}
	o.hanne.Want(409, "DELETE", path+"/checkout", nil)
	o.luca.Want(204, "DELETE", path+"/checkout", nil)
	o.luca.Want(409, "DELETE", path+"/checkout", nil)
	if h := held(o.priya, doc.Id); h != nil {
		t.Errorf("it is still held: %+v", h)
	}
	told := func(c *testkit.Client, kind contract.NoticeKind) (n int) {
		for _, notice := range testkit.Get[[]contract.Notice](c, "/api/notices") {
			if notice.Kind == kind {
				n++
			}
		}
		return n
	}
	if told(o.priya, contract.NoticeKindFree) != 1 || told(o.hanne, contract.NoticeKindFree) != 0 || told(o.luca, contract.NoticeKindWanted) != 1 {
		t.Error("who is told what")
	}
	takes(o.hanne, 204, doc.Id)
	if events := string(o.hanne.Do("GET", "/api/activity?dossier=MER-24", nil).Body); strings.Count(events, `"document.checked-out"`) != 2 || strings.Count(events, `"document.checked-in"`) != 1 {
		t.Error("what happened")
	}
}

func uploaded(c *testkit.Client, folder uuid.UUID, name, text string) testkit.Answer {
	begun := c.Begin(folder, "", name, len(text))
	if begun.Status != http.StatusCreated {
		return begun
	}
	where := begun.Header.Get("Location")
	c.Do("PATCH", where, strings.NewReader(text), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	return c.Do("GET", "/api/uploads/"+where[strings.LastIndex(where, "/")+1:]+"/outcome", nil)
}

// Who says so keeps others from downloading meanwhile: alone, in an archive, as text; they
// look at it in pages.
func TestKeepingOthersFromDownloading(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	path := "/api/documents/" + o.plan.String()
	yes := true
	o.luca.Want(204, "POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{o.plan}, Keeps: &yes})
	for _, way := range []string{path + "/content", path + "/content?version=1", path + "/preview"} {
		o.priya.Want(403, "GET", way, nil)
		o.hanne.Want(403, "GET", way, nil)
		o.luca.Want(200, "GET", way, nil)
	}
	for _, way := range []string{"/api/archive?item=" + o.reports.String(), "/api/archive?item=" + o.plan.String() + "&item=" + o.draft.String()} {
		if a := o.priya.Do("GET", way, nil); a.Status == 200 && strings.Contains(string(a.Body), "plan.txt") {
			t.Errorf("%s gives it", way)
		}
	}
	if d := testkit.Get[contract.Document](o.priya, path); strings.Contains(fmt.Sprint(d.May), "download") || d.Look != "pages" {
		t.Errorf("%v, %s", d.May, d.Look)
	}
	// Those to whom a link gave it look on; the rest of the link is theirs to take.
	_, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan, o.draft}, Name: ptr("both")})
	v := o.Visitor()
	v.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	at := "/api/visits/" + token
	for _, way := range []string{"/documents/" + o.plan.String() + "/content", "/documents/" + o.plan.String() + "/content?download", "/documents/" + o.plan.String() + "/preview", "/archive?item=" + o.plan.String()} {
		if a := v.Do("GET", at+way, nil); a.Status != 409 || a.Code() != "in-hand" || strings.Contains(string(a.Body), "luca") {
			t.Errorf("%s: %d %s", way, a.Status, a.Body)
		}
	}
	if a := v.Do("GET", at+"/archive", nil); a.Status != 200 || strings.Contains(string(a.Body), "plan.txt") || !strings.Contains(string(a.Body), "draft") {
		t.Errorf("the archive: %d", a.Status)
	}
	v.Want(200, "GET", at+"/documents/"+o.plan.String()+"/pages", nil)
	for _, f := range testkit.Get[contract.LinkContents](v, at+"/contents").Files {
		if held := f.InHand != nil && *f.InHand; held != (f.Id == o.plan) || held && f.Look != "pages" {
			t.Errorf("%+v", f)
		}
	}
	o.luca.Want(204, "DELETE", path+"/checkout", nil)
	o.priya.Want(200, "GET", path+"/content", nil)
	v.Want(200, "GET", at+"/documents/"+o.plan.String()+"/content", nil)
}

// One alone has it, however many try at once.
func TestOneHolderAmongMany(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	var people []*testkit.Client
	for n := range 5 {
		id, c := o.account(fmt.Sprintf("surveyor-%d", n), accounts.Colleague)
		o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.reports}, to(id)))
		people = append(people, c)
	}
	for range 4 {
		var all sync.WaitGroup
		status := make([]int, 200)
		for i := range status {
			all.Go(func() {
				status[i] = people[i%5].Do("POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{o.plan, o.draft}}).Status
			})
		}
		all.Wait()
		h, other := held(o.hanne, o.plan), held(o.hanne, o.draft)
		if h == nil || other == nil || h.By != other.By {
			t.Fatalf("%+v and %+v", h, other)
		}
		for i, s := range status {
			if mine := fmt.Sprintf("surveyor-%d", i%5) == h.By; s != map[bool]int{true: 204, false: 409}[mine] {
				t.Errorf("surveyor-%d: %d, held by %s", i%5, s, h.By)
			}
		}
		for _, id := range []uuid.UUID{o.plan, o.draft} {
			o.hanne.Want(204, "POST", "/api/documents/"+id.String()+"/checkout/break", contract.BreakCheckout{Reason: "next round"})
		}
	}
}

// Who manages a document takes it back with a reason, which its holder is told; who does
// not, does not. A holder is reminded once.
func TestTakingBackAndReminding(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	path := "/api/documents/" + o.plan.String() + "/checkout"
	takes(o.tomasz, 404, o.plan)
	takes(o.priya, 403, o.plan)
	takes(o.luca, 404, o.reports)
	takes(o.luca, 400)
	past, far := o.Now().Add(-time.Minute), o.Now().Add(400*24*time.Hour)
	for _, back := range []time.Time{past, far} {
		if a := o.luca.Do("POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{o.plan}, Back: &back}); a.Code() != "back-range" {
			t.Errorf("%+v", a)
		}
	}
	takes(o.luca, 204, o.plan)
	o.priya.Want(403, "POST", path+"/break", contract.BreakCheckout{Reason: "why not"})
	if a := o.hanne.Do("POST", path+"/break", contract.BreakCheckout{Reason: "  "}); a.Code() != "reason-empty" {
		t.Errorf("%+v", a)
	}
	o.hanne.Want(204, "POST", path+"/break", contract.BreakCheckout{Reason: "it goes out today"})
	o.hanne.Want(409, "POST", path+"/break", contract.BreakCheckout{Reason: "again"})
	said := string(o.luca.Do("GET", "/api/notices", nil).Body)
	if !strings.Contains(said, "taken-back") || !strings.Contains(said, "it goes out today") {
		t.Errorf("Luca is told %s", said)
	}
	back := o.Now().Add(time.Hour)
	o.luca.Want(204, "POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{o.plan}, Back: &back})
	takes(o.luca, 204, o.draft)
	reminded := func() int {
		if err := o.App.Jobs.Do(t.Context(), "remind of what is in hand"); err != nil {
			t.Fatal(err)
		}
		o.luca = o.SignIn("luca")
		return strings.Count(string(o.luca.Do("GET", "/api/notices", nil).Body), "held-long")
	}
	if n := reminded(); n != 0 {
		t.Errorf("at once: %d", n)
	}
	o.Later(2 * time.Hour)
	if n := reminded(); n != 1 {
		t.Errorf("when it should have come back: %d", n)
	}
	o.Later(7 * 24 * time.Hour)
	if reminded(); reminded() != 2 {
		t.Error("what was forgotten is reminded of once")
	}
}

// Whose check-out was broken keeps what they have: once the document has moved on, or is in
// another hand, their work comes in as a document apart, by whatever way, and only once.
func TestWorkOfABrokenCheckoutIsKeptApart(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.hanne.Upload(o.reports, "", "findings.txt", []byte("findings")).Document.Id
	o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.reports}, to(o.People["luca"].ID)))
	breaks := func() {
		t.Helper()
		takes(o.luca, 204, doc)
		o.hanne.Want(204, "POST", "/api/documents/"+doc.String()+"/checkout/break", contract.BreakCheckout{Reason: "it goes out today"})
	}
	// Nothing happened in between: it is a version like any other.
	breaks()
	if got := o.luca.Upload(o.reports, "", "findings.txt", []byte("findings, by Luca")); got.Outcome != contract.UploadOutcomeOutcomeVersion {
		t.Errorf("nobody else changed it: %+v", got)
	}
	breaks()
	o.hanne.Upload(o.reports, "", "findings.txt", []byte("findings, by Hanne"))
	got := o.luca.Upload(o.reports, "", "findings.txt", []byte("findings, as Luca had them"))
	if got.Outcome != contract.UploadOutcomeOutcomeApart || got.Document.Id == doc {
		t.Errorf("it moved on: %+v", got)
	}
	if got := o.luca.Upload(o.reports, "", "findings.txt", []byte("findings, later")); got.Outcome != contract.UploadOutcomeOutcomeVersion {
		t.Errorf("his work has come: %+v", got)
	}
	// It is in another hand, and he says himself of which document it is a version.
	breaks()
	takes(o.hanne, 204, doc)
	got = o.luca.Upload(o.reports, "", "of another name.txt", []byte("findings, while Hanne has them"), "document", doc.String())
	if got.Outcome != contract.UploadOutcomeOutcomeApart || got.Document.Name != "of another name.txt" {
		t.Errorf("while somebody else has it: %+v", got)
	}
	if a := o.luca.Begin(o.reports, "", "findings.txt", 1, "document", doc.String()); a.Code() != "held" {
		t.Errorf("once more: %d %s", a.Status, a.Body)
	}
	if n := len(history(o.hanne, doc)); n != 4 {
		t.Errorf("the document has %d versions", n)
	}
}
