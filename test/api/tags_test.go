package api_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		own := true
		return []endpoint{
			{"GET", "/tags", "", nil, self},
			{"GET", "/documents/{id}/tags", "/documents/" + o.plan.String() + "/tags", nil, paper(access.See)},
			{"POST", "/tagging", "", contract.Tagging{Documents: []uuid.UUID{o.plan}, Put: &[]string{"seen"}, Own: &own}, paper(access.See)},
		}
	})
	apart["PUT /tags/{id}"] = "one's own, and the practice's for administrators: TestTagsAreArranged"
	apart["DELETE /tags/{id}"] = "one's own, and the practice's for administrators: TestTagsAreArranged"
}

func (o *office) tags(c *testkit.Client, own bool, put string, documents ...uuid.UUID) {
	o.T.Helper()
	names := strings.Split(put, ",")
	c.Want(204, "POST", "/api/tagging", contract.Tagging{Documents: documents, Put: &names, Own: &own})
}

func (o *office) tagsOn(c *testkit.Client, document uuid.UUID) string {
	o.T.Helper()
	var all []string
	for _, t := range testkit.Get[[]contract.Tag](c, "/api/documents/"+document.String()+"/tags") {
		if t.Own {
			t.Name = "(" + t.Name + ")"
		}
		all = append(all, t.Name)
	}
	return strings.Join(all, " ")
}

func (o *office) tag(c *testkit.Client, name string) contract.CountedTag {
	o.T.Helper()
	for _, t := range testkit.Get[[]contract.CountedTag](c, "/api/tags") {
		if t.Name == name {
			return t
		}
	}
	o.T.Fatalf("there is no tag %q", name)
	return contract.CountedTag{}
}

// The practice's tags are everybody's, one's own nobody else's; documents are found by them.
func TestTagging(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	priya := o.SignIn("priya")
	o.tags(o.luca, false, "urgent,to be renewed", o.plan, o.draft)
	o.tags(o.luca, true, "mine", o.plan)
	o.tags(priya, true, "mine", o.draft)
	if got := o.tagsOn(o.luca, o.plan); got != "to be renewed urgent (mine)" {
		t.Errorf("on the plan: %s", got)
	}
	if got := o.tagsOn(priya, o.plan); got != "to be renewed urgent" {
		t.Errorf("another sees %s", got)
	}
	if n := o.tag(priya, "mine").Documents; n != 1 {
		t.Errorf("%d documents bear it", n)
	}
	o.written()
	o.answers(o.hanne, "draft.txt, plan.txt", "renewed")
	o.answers(o.hanne, "", "mine")
	tagged := func(c *testkit.Client, tag uuid.UUID, q string) string {
		return strings.Join(o.finds(c, q, "&tag="+tag.String()), ", ")
	}
	urgent, mine := o.tag(o.luca, "urgent").Id, o.tag(o.luca, "mine").Id
	if got := tagged(o.hanne, urgent, ""); got != "draft.txt, plan.txt" {
		t.Errorf("urgent are %s", got)
	}
	if got := tagged(o.hanne, urgent, "draft"); got != "draft.txt" {
		t.Errorf("urgent drafts are %s", got)
	}
	if got := tagged(o.luca, mine, ""); got != "plan.txt" {
		t.Errorf("mine are %s", got)
	}
	for _, c := range []*testkit.Client{o.hanne, priya} {
		if got := tagged(c, mine, ""); got != "" {
			t.Errorf("others find %s by a tag that is not theirs", got)
		}
	}
	// Who does not see a document does not count it.
	o.hanne.Want(204, "PUT", "/api/items/"+o.draft.String()+"/closed", contract.Closed{Closed: true})
	if n := o.tag(priya, "urgent").Documents; n != 1 {
		t.Errorf("%d are counted, one of which is closed", n)
	}
	if got := tagged(priya, urgent, ""); got != "plan.txt" {
		t.Errorf("found are %s", got)
	}
	o.luca.Want(204, "POST", "/api/tagging", contract.Tagging{Documents: []uuid.UUID{o.plan}, Take: &[]uuid.UUID{urgent, mine}})
	if got := o.tagsOn(o.luca, o.plan); got != "to be renewed" {
		t.Errorf("what is left: %s", got)
	}
	events := strings.Join(o.stream(o.hanne, "kind=document.tagged"), "|")
	if n := strings.Count(events, "document.tagged"); n != 3 {
		t.Errorf("%d events: %s", n, events)
	}
}

// All or nothing, and nothing by who may not.
func TestWhatIsNotTagged(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	clientID, client := o.account("client", accounts.Guest)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.yard}, to(clientID)))
	paper := client.Upload(o.yard, "", "from outside.txt", []byte("x")).Document.Id
	o.tags(o.luca, false, "urgent", o.plan)
	priya := o.SignIn("priya")
	long := strings.Repeat("x", 1000)
	many := make([]string, 21)
	for i := range many {
		many[i] = fmt.Sprint("t", i)
	}
	for what, w := range map[string]struct {
		who    *testkit.Client
		put    []string
		on     []uuid.UUID
		status int
	}{
		"only seen": {priya, []string{"x"}, []uuid.UUID{o.plan}, 403}, "not there": {o.luca, []string{"x"}, []uuid.UUID{o.plan, uuid.New()}, 404}, "a folder": {o.luca, []string{"x"}, []uuid.UUID{o.reports}, 404},
		"long": {o.luca, []string{long}, []uuid.UUID{o.plan}, 400}, "empty": {o.luca, []string{" "}, []uuid.UUID{o.plan}, 400}, "control": {o.luca, []string{"a\x01b"}, []uuid.UUID{o.plan}, 400}, "many": {o.luca, many, []uuid.UUID{o.plan}, 400},
		"nothing": {o.luca, []string{"x"}, nil, 400}, "a comma": {o.luca, []string{"a,b"}, []uuid.UUID{o.plan}, 400},
		"new by a guest": {client, []string{"theirs"}, []uuid.UUID{paper}, 400}, "known by a guest": {client, []string{"URGENT"}, []uuid.UUID{paper}, 204},
	} {
		if a := w.who.Do("POST", "/api/tagging", contract.Tagging{Documents: w.on, Put: &w.put}); a.Status != w.status {
			t.Errorf("%s: %d %s, want %d", what, a.Status, a.Body, w.status)
		}
	}
	if got := o.tagsOn(o.luca, o.plan); got != "urgent" {
		t.Errorf("what was refused left %s", got)
	}
	// A guest learns of tags on what they see alone.
	o.tags(o.luca, false, "takeover", o.plan)
	for _, g := range testkit.Get[[]contract.CountedTag](client, "/api/tags") {
		if g.Name != "urgent" || g.Documents != 1 {
			t.Errorf("a guest learns of %+v", g)
		}
	}
	// Forty are enough.
	for i := range 3 {
		o.tags(o.luca, true, strings.Join(many[:13], fmt.Sprint(i, ","))+fmt.Sprint(i), o.plan)
	}
	if a := o.luca.Do("POST", "/api/tagging", contract.Tagging{Documents: []uuid.UUID{o.plan}, Put: &[]string{"one", "more"}, Own: &[]bool{true}[0]}); a.Status != 400 {
		t.Errorf("the forty-first: %d", a.Status)
	}
}

// Tags are called otherwise, become one, and are taken off everything: one's own by oneself,
// the practice's by administrators.
func TestTagsAreArranged(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	o.tags(o.luca, false, "urgent", o.plan)
	o.tags(o.luca, false, "Dringend", o.plan, o.draft)
	o.tags(o.luca, true, "mine", o.plan)
	urgent, mine := o.tag(o.luca, "urgent").Id.String(), o.tag(o.luca, "mine").Id.String()
	o.luca.Want(403, "PUT", "/api/tags/"+urgent, contract.NewName{Name: "x"})
	o.luca.Want(403, "DELETE", "/api/tags/"+urgent, nil)
	o.hanne.Want(404, "PUT", "/api/tags/"+mine, contract.NewName{Name: "x"})
	o.hanne.Want(404, "DELETE", "/api/tags/"+mine, nil)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	o.hanne.Want(204, "PUT", "/api/tags/"+urgent, contract.NewName{Name: "Urgent"})
	o.hanne.Want(204, "PUT", "/api/tags/"+urgent, contract.NewName{Name: "DRINGEND"})
	if got := o.tagsOn(o.luca, o.plan) + ", " + o.tagsOn(o.luca, o.draft); got != "Dringend (mine), Dringend" {
		t.Errorf("merged: %s", got)
	}
	o.hanne.Want(404, "PUT", "/api/tags/"+urgent, contract.NewName{Name: "x"})
	o.written()
	o.answers(o.hanne, "draft.txt, plan.txt", "dringend")
	o.answers(o.hanne, "", "urgent")
	o.luca.Want(204, "PUT", "/api/tags/"+mine, contract.NewName{Name: "dringend"})
	o.luca.Want(204, "DELETE", "/api/tags/"+mine, nil)
	o.hanne.Want(204, "DELETE", "/api/tags/"+o.tag(o.hanne, "Dringend").Id.String(), nil)
	o.written()
	o.answers(o.hanne, "", "dringend")
	// The same new tag by many at once is one.
	var group sync.WaitGroup
	for range 8 {
		group.Go(func() { o.tags(o.luca, false, "at once", o.plan) })
	}
	group.Wait()
	if got := o.tagsOn(o.luca, o.plan); got != "at once" {
		t.Errorf("%s", got)
	}
}
