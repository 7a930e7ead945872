package api_test

import (
	"fmt"
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
	apart["GET /visits/{token}/documents/{id}/remarks"] = "only in a visit of a link that says so: TestVisitorsTalk"
	apart["POST /visits/{token}/documents/{id}/remarks"] = "only in a visit of a link that says so: TestVisitorsTalk"
}

// Visitors say something where the link says so, and read what is answered: nothing that is
// said otherwise, and nobody's address but their own.
func TestVisitorsTalk(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	stated := contract.IdentityStated
	inside := o.says(o.hanne, o.plan, contract.NewRemark{Text: "zzinside"})
	l, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}, Remarks: ptr(true), Identify: &stated})
	if l.Remarks != true || !strings.Contains(sentenceOf(l.Sentence), "with remarks") {
		t.Errorf("%v, %s", l.Remarks, sentenceOf(l.Sentence))
	}
	first, second := o.enter(token, contract.OpenLink{Email: ptr("b.quist@calder.example")}), o.enter(token, contract.OpenLink{Email: ptr("k.aust@calder.example")})
	if c := testkit.Get[contract.LinkContents](first, "/api/visits/"+token+"/contents"); !c.MayRemark {
		t.Error("the visitor is not told that they may")
	}
	path := "/api/visits/" + token + "/documents/" + o.plan.String() + "/remarks"
	said := testkit.Post[contract.RemarkMade](first, 201, path, contract.VisitorRemark{Text: "Frame 31 <b>again</b>?"}).Id
	o.says(o.hanne, o.plan, contract.NewRemark{Text: "By Friday.", Thread: &said})
	testkit.Post[contract.RemarkMade](second, 201, path, contract.VisitorRemark{Text: "And frame 32?", Thread: &said})
	heard := testkit.Get[[]contract.HeardThread](first, path)
	if len(heard) != 1 || len(heard[0].Remarks) != 3 || !heard[0].Remarks[0].Mine || heard[0].Remarks[1].By != "Hanne Solvik" || heard[0].Remarks[2].Mine || heard[0].Remarks[2].By != "" {
		t.Fatalf("%+v", heard)
	}
	if raw := string(first.Do("GET", path, nil).Body); strings.Contains(raw, "zzinside") || strings.Contains(raw, "k.aust") {
		t.Errorf("%s", raw)
	}
	// Inside it stands with what is known of them; who made the link and who answered is told.
	p := o.remarks(o.hanne, o.plan, "")
	if len(p.Threads) != 2 || p.Threads[0].Remarks[0].By != "b.quist@calder.example" || !present(p.Threads[0].Remarks[0].ByLink) || p.Unread != 2 {
		t.Errorf("%+v", p)
	}
	n := 0
	for _, notice := range testkit.Get[[]contract.Notice](o.hanne, "/api/notices") {
		if notice.Kind == contract.NoticeKindSaidOutside {
			n++
		}
	}
	if n != 1 {
		t.Errorf("told %d times", n)
	}
	if all := o.stream(o.hanne, "about=links"); !strings.Contains(strings.Join(all, "|"), "link.remarked") {
		t.Errorf("%v", all)
	}
	o.hanne.Want(204, "PUT", "/api/remarks/"+said.String()+"/resolution", nil)
	if h := testkit.Get[[]contract.HeardThread](first, path); !h[0].Resolved {
		t.Errorf("%+v", h)
	}
	// The table and the sheet hold it, too.
	if raw := string(o.hanne.Want(200, "GET", "/api/items/"+o.plan.String()+"/remarks.csv", nil).Body); !strings.Contains(raw, "b.quist@calder.example") {
		t.Errorf("%s", raw)
	}
	// Not to threads of inside, of another link or document, nor to what the link does not give.
	other, otherToken := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan, o.draft}, Remarks: ptr(true)})
	third := o.enter(otherToken, contract.OpenLink{})
	elsewhere := "/api/visits/" + otherToken + "/documents/"
	for _, thread := range []uuid.UUID{inside, said, uuid.New()} {
		third.Want(404, "POST", elsewhere+o.plan.String()+"/remarks", contract.VisitorRemark{Text: "x", Thread: &thread})
		third.Want(404, "POST", elsewhere+o.draft.String()+"/remarks", contract.VisitorRemark{Text: "x", Thread: &thread})
	}
	if h := testkit.Get[[]contract.HeardThread](third, elsewhere+o.plan.String()+"/remarks"); len(h) != 0 {
		t.Errorf("%+v", h)
	}
	third.Want(404, "GET", elsewhere+o.quote.String()+"/remarks", nil)
	third.Want(404, "POST", elsewhere+o.quote.String()+"/remarks", contract.VisitorRemark{Text: "x"})
	o.Visitor().Want(401, "GET", path, nil)
	// Where the link does not say so there is nothing of it.
	_, silent := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}})
	mute := o.enter(silent, contract.OpenLink{})
	mute.Want(404, "GET", "/api/visits/"+silent+"/documents/"+o.plan.String()+"/remarks", nil)
	mute.Want(404, "POST", "/api/visits/"+silent+"/documents/"+o.plan.String()+"/remarks", contract.VisitorRemark{Text: "x"})
	// What is no text is refused.
	for text, code := range map[string]string{"": "remark-empty", " \n ": "remark-empty", strings.Repeat("x", 10001): "remark-long", "a\x00b": "remark-not-text"} {
		if a := third.Do("POST", elsewhere+o.plan.String()+"/remarks", contract.VisitorRemark{Text: text}); a.Code() != code {
			t.Errorf("%.10q: %d %s", text, a.Status, a.Body)
		}
	}
	// When it is over nobody says anything more; what was said stays inside.
	o.hanne.Want(204, "POST", "/api/links/"+other.Id.String()+"/end", nil)
	if a := third.Do("POST", elsewhere+o.plan.String()+"/remarks", contract.VisitorRemark{Text: "late"}); a.Status == 201 {
		t.Errorf("%d %s", a.Status, a.Body)
	}
}

func present(b *bool) bool { return b != nil && *b }

// A flood through a link ends at its bounds, however many come at once.
func TestAFloodThroughALink(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	_, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}, Remarks: ptr(true)})
	path := "/api/visits/" + token + "/documents/" + o.plan.String() + "/remarks"
	var all sync.WaitGroup
	for i := range 4 {
		v := o.enter(token, contract.OpenLink{})
		for n := range 8 {
			all.Go(func() {
				for k := range 3 {
					if a := v.Do("POST", path, contract.VisitorRemark{Text: fmt.Sprint("say ", i, n, k)}); a.Status != 201 && a.Code() != "remarks-many" {
						t.Errorf("%d %s", a.Status, a.Body)
					}
				}
			})
		}
	}
	all.Wait()
	if p := o.remarks(o.hanne, o.plan, ""); p.Total != 60 {
		t.Errorf("%d were said", p.Total)
	}
	o.Later(11 * time.Minute)
}

// Nobody lets others say something where they may not themselves.
func TestWhoLetsVisitorsTalk(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	id, c := o.account("sharer", accounts.Colleague)
	w := wish(contract.LevelOwnSet, []uuid.UUID{o.plan}, to(id))
	w.May = &[]string{"see", "download", "share"}
	o.give(o.hanne, w)
	if access.LevelView.Caps().Has(access.Remark) {
		t.Fatal("who views may remark")
	}
	for remarks, status := range map[bool]int{true: 403, false: 201} {
		if a := c.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.plan}, Remarks: ptr(remarks)}); a.Status != status {
			t.Errorf("%v: %d %s", remarks, a.Status, a.Body)
		}
	}
	// An intake hands nothing out of which something could be said.
	intake := contract.LinkKindIntake
	l := testkit.Post[contract.Link](o.hanne, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{o.reports}, Kind: &intake, Remarks: ptr(true)})
	if l.Remarks {
		t.Error("an intake lets visitors say something")
	}
}
