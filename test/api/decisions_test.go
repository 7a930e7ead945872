package api_test

import (
	"bytes"
	"fmt"
	"slices"
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
		wish := contract.AskWish{Documents: []uuid.UUID{o.plan}, Do: "approve", Who: o.who("luca")}
		return []endpoint{
			{"GET", "/decisions", "", nil, self},
			{"POST", "/decisions", "", wish, paper(access.See | access.Change)},
			{"POST", "/decisions/draft", "", wish, paper(access.See | access.Change)},
			{"GET", "/documents/{id}/decisions", "/documents/" + o.plan.String() + "/decisions", nil, paper(access.See)},
			{"GET", "/me/absences", "", nil, self},
			{"POST", "/me/absences", "", contract.AbsenceWish{}, self},
		}
	})
	for _, way := range []string{"GET /decisions/{id}", "POST /decisions/{id}/decision", "DELETE /decisions/{id}/decision", "POST /decisions/{id}/question", "POST /decisions/{id}/hand-in", "POST /decisions/{id}/hand-on",
		"POST /decisions/{id}/skipping", "POST /decisions/{id}/end", "POST /decisions/{id}/repetition"} {
		apart[way] = "for colleagues who see the document, and guests who are asked: TestWhoKnowsOfADecision"
	}
	apart["DELETE /me/absences/{id}"] = "one's own alone: TestAway"
	apart["GET /decide/{token}"], apart["POST /decide/{token}"] = "by a way in a mail: TestDecidedByMail", "by a way in a mail: TestDecidedByMail"
}

// who names people who are asked.
func (o *office) who(names ...string) (all []contract.Who) {
	for _, name := range names {
		id := o.People[name].ID
		all = append(all, contract.Who{Person: &id})
	}
	return all
}

// asks asks for a decision on one document, and returns its run.
func (o *office) asks(c *testkit.Client, w contract.AskWish) uuid.UUID {
	o.T.Helper()
	return testkit.Post[[]uuid.UUID](c, 201, "/api/decisions", w)[0]
}

func (o *office) run(c *testkit.Client, id uuid.UUID) contract.RunPage {
	o.T.Helper()
	return testkit.Get[contract.RunPage](c, "/api/decisions/"+id.String())
}

// verdict is one on what a run shows to be decided.
func verdict(p contract.RunPage, is contract.VerdictVerdict, note string) contract.Verdict {
	return contract.Verdict{Verdict: is, Version: p.Line.Version, Sha256: p.Line.Sha256, Note: &note}
}

// decides decides as the run stands now.
func (o *office) decides(c *testkit.Client, id uuid.UUID, is contract.VerdictVerdict, note string) testkit.Answer {
	o.T.Helper()
	return c.Do("POST", "/api/decisions/"+id.String()+"/decision", verdict(o.run(o.hanne, id), is, note))
}

// stateOf is what has become of a document, with whom it waits.
func (o *office) stateOf(document uuid.UUID) string {
	o.T.Helper()
	s := testkit.Get[contract.Document](o.hanne, "/api/documents/"+document.String()).State
	if s == nil {
		return "draft"
	}
	return strings.TrimSpace(string(s.State) + " " + strings.Join(s.With, ", "))
}

func (o *office) inReview(document uuid.UUID, want string) {
	o.T.Helper()
	waitFor(o.T.(*testing.T), func() bool { return o.stateOf(document) == want })
}

func (o *office) paper(name string) uuid.UUID {
	o.T.Helper()
	return o.luca.Upload(o.reports, "", name, []byte("Frame 31 could not be reached: "+name)).Document.Id
}

// Approval is asked for by hand, given by those who are asked and in their order, and counts for exactly
// the content that they saw.
func TestApprovalByHand(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	priya := o.SignIn("priya")
	doc := o.paper("Findings.txt")
	uploaded(o.luca, o.reports, "Findings.txt", "A first version of it.")
	w := contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("hanne", "priya"), Rule: ptr(contract.AskInTurn), Within: &contract.Span{N: 2, Unit: "days"}, Message: ptr("Please look at page 2.")}
	d := testkit.Post[contract.AskDraft](o.luca, 200, "/api/decisions/draft", w)
	if len(d.Documents) != 1 || d.Documents[0].Version != 2 || len(d.Documents[0].Sha256) != 64 || len(d.Asked) != 2 || d.Asked[0].Name != "Hanne Solvik" || d.Asked[1].Due == nil || !d.Asked[1].Due.After(*d.Asked[0].Due) || len(d.Ends) != 4 {
		t.Errorf("%+v", d)
	}
	run := o.asks(o.luca, w)
	if got := o.stateOf(doc); got != "review Hanne Solvik" {
		t.Errorf("asked: %s", got)
	}
	for name, c := range map[string]struct {
		by   *testkit.Client
		code string
	}{"before one's turn": {priya, "not-asked"}, "nobody asked": {o.luca, "not-asked"}} {
		if a := o.decides(c.by, run, "agrees", ""); a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	if mine := testkit.Get[contract.Decisions](o.hanne, "/api/decisions"); len(mine.OnMe) != 1 || mine.OnMe[0].Ref == "" || len(mine.OnMe[0].Stops) != 1 {
		t.Errorf("on Hanne: %+v", mine)
	}
	if s := testkit.Get[contract.Session](o.hanne, "/api/session"); s.Decisions != 1 {
		t.Errorf("%d decisions wait for her", s.Decisions)
	}
	if today := testkit.Get[contract.Today](o.hanne, "/api/today"); len(today.OnMe) != 1 {
		t.Errorf("today: %+v", today.OnMe)
	}
	if p := o.run(o.hanne, run); deref(p.Instructions) != "Please look at page 2." || !slices.Contains(p.May, contract.MayDecide) || slices.Contains(p.May, contract.MayTakeBack) {
		t.Errorf("%+v", p)
	}
	seen := verdict(o.run(o.hanne, run), "agrees", "All agrees.")
	seen.Seen, seen.Pages = &[]int{3, 1, 2, 9, -4}, ptr(5)
	o.hanne.Want(204, "POST", "/api/decisions/"+run.String()+"/decision", seen)
	if a := o.hanne.Do("POST", "/api/decisions/"+run.String()+"/decision", seen); a.Code() != "not-asked" {
		t.Errorf("decided twice: %d %s", a.Status, a.Body)
	}
	if got := o.stateOf(doc); got != "review Priya Valdane" {
		t.Errorf("the next: %s", got)
	}
	o.hanne.Want(204, "DELETE", "/api/decisions/"+run.String()+"/decision", nil)
	if got := o.stateOf(doc); got != "review Hanne Solvik" {
		t.Errorf("taken back: %s", got)
	}
	o.hanne.Want(204, "POST", "/api/decisions/"+run.String()+"/decision", seen)
	if a := o.decides(priya, run, "returns", " "); a.Code() != "reason-missing-for-run" {
		t.Errorf("without a reason: %d %s", a.Status, a.Body)
	}
	o.decides(priya, run, "agrees", "")
	if got := o.stateOf(doc); got != "approved" {
		t.Errorf("approved: %s", got)
	}
	p := o.run(o.luca, run)
	i := slices.IndexFunc(p.Trail, func(e contract.TrailEntry) bool { return e.Kind == "said" })
	if e := p.Trail[i]; deref(e.Seen) != "1-3" || *e.Pages != 5 || deref(e.By) != "Hanne Solvik" || deref(e.Sha256) != d.Documents[0].Sha256 || deref(e.Note) != "All agrees." || p.Line.Status != contract.RunIsDone {
		t.Errorf("%+v", e)
	}
	if n := o.noticesOf(o.luca, "decision-done"); n != 1 {
		t.Errorf("%d notices that it is approved", n)
	}
	// It is not superseded by the way, whatever way; saying so supersedes it, and it is a draft again.
	path := "/api/documents/" + doc.String()
	for name, a := range map[string]testkit.Answer{
		"by an older one": o.luca.Do("POST", path+"/versions/1/return", nil), "removing it": o.hanne.Do("DELETE", path+"/versions/2", nil), "keeping it apart": o.luca.Do("POST", path+"/versions/2/separation", nil),
		"under its name": uploaded(o.luca, o.reports, "Findings.txt", "changed"), "as its version": o.luca.Begin(o.reports, "", "x.txt", 1, "document", doc.String()),
	} {
		if a.Code() != "approved-stays" {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	// What was sent is kept meanwhile, and becomes its version by the same address.
	begun := o.luca.Begin(o.reports, "", "Findings.txt", 7).Header.Get("Location")
	o.luca.Want(409, "PATCH", begun, bytes.NewReader([]byte("changed")), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	outcome := "/api/uploads/" + begun[strings.LastIndex(begun, "/")+1:] + "/outcome"
	for range 2 {
		if a := o.luca.Do("GET", outcome, nil); a.Code() != "approved-stays" {
			t.Errorf("without saying so: %d %s", a.Status, a.Body)
		}
	}
	o.luca.Want(200, "GET", outcome, nil, "Supersede", "approved")
	if got := o.stateOf(doc); got != "draft" {
		t.Errorf("superseded by an upload: %s", got)
	}
	again := o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("hanne")})
	o.decides(o.hanne, again, "agrees", "")
	o.luca.Want(201, "POST", path+"/versions/1/return", nil, "Supersede", "approved")
	if got := o.stateOf(doc); got != "draft" {
		t.Errorf("superseded: %s", got)
	}
}

// Whatever comes at once: one decision counts, and none on content that is no longer there.
func TestDecidedAtOnce(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	priya := o.SignIn("priya")
	doc := o.paper("Findings.txt")
	run := o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("hanne", "priya"), Rule: ptr(contract.AskAny)})
	before := verdict(o.run(o.hanne, run), "agrees", "")
	var wg sync.WaitGroup
	var mu sync.Mutex
	codes := map[string]int{}
	for n := range 10 {
		wg.Go(func() {
			a := []*testkit.Client{o.hanne, priya}[n%2].Do("POST", "/api/decisions/"+run.String()+"/decision", before)
			mu.Lock()
			defer mu.Unlock()
			codes[fmt.Sprint(a.Status)+a.Code()]++
		})
	}
	wg.Wait()
	if codes["204"] != 1 || codes["409run-over"] != 9 {
		t.Errorf("%v", codes)
	}
	other := o.paper("Other.txt")
	run = o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{other}, Do: "approve", Who: o.who("hanne"), Rule: ptr(contract.AskAny)})
	seen := verdict(o.run(o.hanne, run), "agrees", "")
	uploaded(o.luca, o.reports, "Other.txt", "newer by a second")
	if a := o.hanne.Do("POST", "/api/decisions/"+run.String()+"/decision", seen); a.Code() != "run-over" && a.Code() != "content-changed" {
		t.Errorf("on what was superseded: %d %s", a.Status, a.Body)
	}
	o.inReview(other, "draft")
	waitFor(t, func() bool { return o.run(o.hanne, run).Line.Status == contract.RunIsLapsed })
	if n := o.noticesOf(o.luca, "decision-over"); n != 1 {
		t.Errorf("%d notices that it lapsed", n)
	}
}

// What is returned goes back with its reason, and comes again with what was brought.
func TestReturned(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.paper("Findings.txt")
	run := o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("hanne")})
	o.decides(o.hanne, run, "returns", "Frame 31 is missing.")
	if got := o.stateOf(doc); got != "review Luca Ferrante" {
		t.Errorf("returned: %s", got)
	}
	if mine := testkit.Get[contract.Decisions](o.luca, "/api/decisions"); len(mine.OnMe) != 1 || mine.OnMe[0].Back == nil {
		t.Errorf("on Luca: %+v", mine)
	}
	if a := o.decides(o.hanne, run, "agrees", ""); a.Code() != "not-asked" {
		t.Errorf("decided while it is back: %d %s", a.Status, a.Body)
	}
	o.hanne.Want(204, "DELETE", "/api/decisions/"+run.String()+"/decision", nil)
	o.decides(o.hanne, run, "returns", "Frame 31 is missing, and the cost with it.")
	uploaded(o.luca, o.reports, "Findings.txt", "with frame 31")
	o.inReview(doc, "review Hanne Solvik")
	p := o.run(o.hanne, run)
	if p.Line.Version != 2 || p.SeenVersion == nil || *p.SeenVersion != 1 {
		t.Errorf("asked about version %d, saw %v before", p.Line.Version, p.SeenVersion)
	}
	o.hanne.Want(204, "POST", "/api/decisions/"+run.String()+"/question", contract.RunNote{Note: ptr("Is the doubler included?")})
	if n := o.noticesOf(o.luca, "decision-question"); n != 1 {
		t.Errorf("%d questions", n)
	}
	o.decides(o.hanne, run, "returns", "Say it in 4.2.")
	o.luca.Want(204, "POST", "/api/decisions/"+run.String()+"/hand-in", contract.RunNote{Note: ptr("It is there.")})
	o.decides(o.hanne, run, "agrees", "")
	if got := o.stateOf(doc); got != "approved" {
		t.Errorf("%s", got)
	}
}

// A run goes on without those who leave, by whoever looks after it; what was deleted waits.
func TestSomebodyLeaves(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	doc := o.paper("Findings.txt")
	run := o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("priya")})
	path := "/api/decisions/" + run.String()
	o.hanne.Want(204, "POST", "/api/people/"+o.People["priya"].ID.String()+"/end", contract.EndAccount{})
	if p := o.run(o.hanne, run); p.Line.Status != contract.RunIsHeld || *p.Line.Held != contract.HeldNobody {
		t.Errorf("%+v", p.Line)
	}
	if n := o.noticesOf(o.luca, "run-held"); n != 1 {
		t.Errorf("%d notices that it is held up", n)
	}
	priya := o.People["priya"].ID
	for name, c := range map[string]struct {
		w    contract.HandOn
		code string
	}{
		"to whoever brought it":  {contract.HandOn{From: &priya, To: o.People["luca"].ID}, "hand-to"},
		"to somebody unknown":    {contract.HandOn{From: &priya, To: uuid.New()}, "hand-to"},
		"from somebody else":     {contract.HandOn{From: ptr(o.People["tomasz"].ID), To: o.People["hanne"].ID}, "not-asked"},
		"to who sees it nowhere": {contract.HandOn{From: &priya, To: o.People["tomasz"].ID}, "hand-to"},
	} {
		if a := o.hanne.Do("POST", path+"/hand-on", c.w); a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	o.luca.Want(204, "POST", path+"/hand-on", contract.HandOn{From: &priya, To: o.People["hanne"].ID, Note: ptr("Priya has left.")})
	deletion := o.deletes(o.hanne, doc)
	waitFor(t, func() bool {
		p := o.run(o.hanne, run)
		return p.Line.Status == contract.RunIsHeld && *p.Line.Held == contract.HeldGone
	})
	o.bringsBack(o.hanne, false, deletion)
	waitFor(t, func() bool { return o.run(o.hanne, run).Line.Status == contract.RunIsGoing })
	o.hanne.Want(204, "POST", path+"/skipping", contract.RunNote{Note: ptr("Seen on board.")})
	if got := o.stateOf(doc); got != "draft" {
		t.Errorf("skipped is not approved: %s", got)
	}
}

// Who is away has somebody stand in, is asked about nothing meanwhile, and is said to be away.
func TestAway(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	priya := o.SignIn("priya")
	day := func(n int) string { return o.Now().AddDate(0, 0, n).Format(time.DateOnly) }
	for name, c := range map[string]struct {
		w    contract.AbsenceWish
		code string
	}{
		"backwards": {contract.AbsenceWish{From: day(3), To: day(2)}, "absence-days"}, "over": {contract.AbsenceWish{From: day(-5), To: day(-3)}, "absence-days"}, "far": {contract.AbsenceWish{From: day(1), To: day(900)}, "absence-days"},
		"no day": {contract.AbsenceWish{From: "tomorrow", To: day(2)}, "absence-days"}, "no such day": {contract.AbsenceWish{From: "2026-02-30", To: day(2)}, "absence-days"},
		"oneself": {contract.AbsenceWish{From: day(0), To: day(2), Substitute: ptr(o.People["priya"].ID)}, "absence-substitute"}, "nobody": {contract.AbsenceWish{From: day(0), To: day(2), Substitute: ptr(uuid.New())}, "absence-substitute"},
	} {
		if a := priya.Do("POST", "/api/me/absences", c.w); a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	priya.Want(204, "POST", "/api/me/absences", contract.AbsenceWish{From: day(-1), To: day(20), Substitute: ptr(o.People["hanne"].ID)})
	mine := testkit.Get[[]contract.Absence](priya, "/api/me/absences")
	if len(mine) != 1 || mine[0].Substitute.Name != "Hanne Solvik" {
		t.Fatalf("%+v", mine)
	}
	if n := len(testkit.Get[[]contract.Absence](o.luca, "/api/me/absences")); n != 0 {
		t.Errorf("Luca has %d", n)
	}
	o.luca.Want(404, "DELETE", "/api/me/absences/"+mine[0].Id.String(), nil)
	doc := o.paper("Findings.txt")
	run := o.asks(o.luca, contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("priya"), Within: &contract.Span{N: 2, Unit: "days"}})
	if w := o.run(o.luca, run).Line.WaitsFor; len(w) != 1 || w[0].Name != "Hanne Solvik" || deref(w[0].For) != "Priya Valdane" {
		t.Errorf("%+v", w)
	}
	if a := o.decides(priya, run, "agrees", ""); a.Code() != "not-asked" {
		t.Errorf("while away: %d %s", a.Status, a.Body)
	}
	o.decides(o.hanne, run, "agrees", "")
	if got := o.stateOf(doc); got != "approved" {
		t.Errorf("%s", got)
	}
	priya.Want(204, "DELETE", "/api/me/absences/"+mine[0].Id.String(), nil)
}

// Whoever is asked and cannot open the document is given access, or it is not asked; guests know of the
// runs alone in which they are asked; nobody else learns anything.
func TestWhoKnowsOfADecision(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	tomasz := o.SignIn("tomasz")
	guestID, guest := o.account("odile", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.reports}, to(guestID)))
	doc := o.paper("Findings.txt")
	w := contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("tomasz")}
	if d := testkit.Post[contract.AskDraft](o.hanne, 200, "/api/decisions/draft", w); len(d.Lacks) != 1 || d.Lacks[0].Name != "Tomasz Rehn" || !d.Gives {
		t.Errorf("%+v", d)
	}
	if a := o.hanne.Do("POST", "/api/decisions", w); a.Code() != "access-needed" {
		t.Errorf("who cannot open it: %d %s", a.Status, a.Body)
	}
	w.Gives = ptr(true)
	run := o.asks(o.hanne, w)
	path := "/api/decisions/" + run.String()
	testkit.Get[contract.RunPage](tomasz, path)
	guest.Want(404, "GET", path, nil)
	for _, way := range []string{"/question", "/hand-in", "/skipping", "/end"} {
		guest.Want(404, "POST", path+way, contract.RunNote{Note: ptr("x")})
	}
	guest.Want(404, "POST", path+"/repetition", nil)
	for _, way := range []string{"/skipping", "/end"} {
		tomasz.Want(403, "POST", path+way, contract.RunNote{Note: ptr("x")})
	}
	tomasz.Want(403, "POST", path+"/repetition", nil)
	guest.Want(404, "POST", path+"/decision", verdict(o.run(o.hanne, run), "agrees", ""))
	guest.Want(404, "DELETE", path+"/decision", nil)
	guest.Want(404, "POST", path+"/hand-on", contract.HandOn{To: o.People["luca"].ID})
	if all := testkit.Get[[]contract.RunLine](guest, "/api/documents/"+doc.String()+"/decisions"); len(all) != 0 {
		t.Errorf("a guest sees %+v", all)
	}
	slip := guest.Want(200, "GET", "/api/documents/"+doc.String(), nil)
	for _, a := range []testkit.Answer{slip, guest.Want(200, "GET", "/api/activity", nil), guest.Want(200, "GET", "/api/today", nil), guest.Want(200, "GET", "/api/folders/"+o.reports.String()+"/register", nil)} {
		if strings.Contains(string(a.Body), run.String()) || strings.Contains(string(a.Body), "decision.") {
			t.Errorf("a guest reads %s", a.Body)
		}
	}
	if n := testkit.Get[contract.Document](guest, "/api/documents/"+doc.String()); n.EventCount != len(n.Events) {
		t.Errorf("a guest counts %d events and reads %d", n.EventCount, len(n.Events))
	}
	o.decides(tomasz, run, "agrees", "")
	asked := o.asks(o.hanne, contract.AskWish{Documents: []uuid.UUID{o.plan}, Do: "review", Who: []contract.Who{{Person: &guestID}}, Gives: ptr(true)})
	if mine := testkit.Get[contract.Decisions](guest, "/api/decisions"); len(mine.OnMe) != 1 {
		t.Errorf("on the guest: %+v", mine)
	}
	guest.Want(204, "POST", "/api/decisions/"+asked.String()+"/decision", verdict(o.run(o.hanne, asked), "agrees", "Seen."))
	// Access that ends in the middle ends knowing of it, too.
	inner := o.hanne.Upload(o.top, "", "inner.txt", []byte("inner")).Document.Id
	third := o.asks(o.hanne, contract.AskWish{Documents: []uuid.UUID{inner}, Do: "review", Who: []contract.Who{{Person: &guestID}}, Gives: ptr(true)})
	before := verdict(o.run(o.hanne, third), "agrees", "")
	for _, g := range o.grants(inner) {
		if g.SubjectID == guestID {
			o.hanne.Want(204, "DELETE", "/api/access/"+g.ID.String(), nil)
		}
	}
	guest.Want(404, "POST", "/api/decisions/"+third.String()+"/decision", before)
}

// What is asked for badly is refused at its word, and nothing is begun.
func TestAskedBadly(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc, other := o.paper("Findings.txt"), o.paper("Other.txt")
	good := func() contract.AskWish {
		return contract.AskWish{Documents: []uuid.UUID{doc}, Do: "approve", Who: o.who("hanne")}
	}
	stranger := uuid.New()
	for name, c := range map[string]struct {
		change func(w *contract.AskWish)
		code   string
		field  string
	}{
		"nothing":            {func(w *contract.AskWish) { w.Documents = nil }, "ask-documents", "documents"},
		"nobody":             {func(w *contract.AskWish) { w.Who = []contract.Who{} }, "ask-word", "who"},
		"somebody unknown":   {func(w *contract.AskWish) { w.Who = []contract.Who{{Person: &stranger}} }, "ask-word", "who"},
		"a group unknown":    {func(w *contract.AskWish) { w.Who = []contract.Who{{Group: &stranger}} }, "ask-word", "who"},
		"only the author":    {func(w *contract.AskWish) { w.Who = o.who("luca") }, "ask-nobody", "who"},
		"two of one":         {func(w *contract.AskWish) { w.Rule, w.Of = ptr(contract.AskSome), ptr(2) }, "ask-word", "of"},
		"within too long":    {func(w *contract.AskWish) { w.Within = &contract.Span{N: 400, Unit: "days"} }, "ask-word", "within"},
		"a folder":           {func(w *contract.AskWish) { w.Documents = []uuid.UUID{o.reports} }, "not-found", ""},
		"a folder not there": {func(w *contract.AskWish) { w.MoveTo = &stranger }, "not-found", ""},
		"one of them unseen": {func(w *contract.AskWish) { w.Documents = []uuid.UUID{doc, stranger} }, "not-found", ""},
		"reminded too early": {func(w *contract.AskWish) {
			w.Within, w.Remind = &contract.Span{N: 1, Unit: "days"}, &contract.Span{N: 2, Unit: "days"}
		}, "ask-word", "remind"},
		"told of no late time": {func(w *contract.AskWish) { w.LateTell = ptr(o.who("hanne")) }, "ask-word", "within"},
	} {
		w := good()
		c.change(&w)
		if a := o.luca.Do("POST", "/api/decisions", w); a.Code() != c.code || c.field != "" && !strings.Contains(string(a.Body), `"field":"`+c.field+`"`) {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	if got := o.stateOf(doc); got != "draft" {
		t.Errorf("%s", got)
	}
	o.asks(o.luca, good())
	w := good()
	w.Documents = []uuid.UUID{other, doc}
	if a := o.luca.Do("POST", "/api/decisions", w); a.Code() != "run-under-way" {
		t.Errorf("asked twice: %d %s", a.Status, a.Body)
	}
	if got := o.stateOf(other); got != "draft" {
		t.Errorf("all or none: %s", got)
	}
}
