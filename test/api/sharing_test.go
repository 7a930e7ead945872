package api_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"sync"
	"testing"
	"time"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/server"

	"github.com/google/uuid"

	"tabularis/internal/app/people"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// office is a dossier with folders: reports with a draft and a plan, and yard.
type office struct {
	*world
	reports, yard, inner  uuid.UUID
	draft, plan, quote    uuid.UUID
	guest                 *testkit.Client
	guestID               uuid.UUID
	guestEmail, guestName string
}

func newOffice(t *testing.T, changes ...func(c *server.Config)) *office {
	o := &office{world: newWorld(t, changes...), guestEmail: "sunniva.aker@dunlin.example", guestName: "Sunniva Aker"}
	folder := func(in uuid.UUID, name string) uuid.UUID {
		return testkit.Post[contract.Folder](o.luca, 201, fmt.Sprintf("/api/folders/%s/folders", in), contract.NewName{Name: name}).Id
	}
	o.reports, o.yard = folder(o.top, "Reports"), folder(o.top, "Yard")
	o.inner = folder(o.reports, "Between us")
	o.draft = o.luca.Upload(o.reports, "", "draft.txt", []byte("draft")).Document.Id
	o.plan = o.luca.Upload(o.reports, "", "plan.txt", []byte("plan")).Document.Id
	o.quote = o.luca.Upload(o.inner, "", "quote.txt", []byte("quote")).Document.Id
	return o
}

// invite lets Hanne invite the guest, who comes in by the mail's link.
func (o *office) invite() {
	o.T.Helper()
	testkit.Post[contract.Person](o.hanne, 201, "/api/people", contract.Invitation{Email: o.guestEmail, Name: &o.guestName, Standing: "guest"})
	o.guest = o.Visitor()
	in := testkit.Post[contract.SignedIn](o.guest, 200, "/api/entries/"+o.entry(o.guestEmail), contract.UseEntry{})
	o.guestID = in.Session.Person.Id
}

// entry is the token of the last one-time link that was mailed to an address.
func (o *world) entry(to string) string {
	o.T.Helper()
	token := ""
	waitFor(o.T.(*testing.T), func() bool {
		for _, m := range o.Mail.Messages(to) {
			if _, after, ok := strings.Cut(m.Text, "/enter/"); ok {
				token = strings.Fields(after)[0]
			}
		}
		return token != ""
	})
	return token
}

func to(id uuid.UUID) contract.Recipient { return contract.Recipient{Id: &id} }

func wish(level contract.Level, items []uuid.UUID, to ...contract.Recipient) contract.AccessWish {
	return contract.AccessWish{Items: items, To: to, Level: level}
}

func (o *office) give(c *testkit.Client, w contract.AccessWish) {
	o.T.Helper()
	c.Want(204, "POST", "/api/access", w)
}

// sees lists the names of the documents in a folder that a client is shown.
func (o *office) sees(c *testkit.Client, folder uuid.UUID) []string {
	o.T.Helper()
	a := c.Do("GET", fmt.Sprintf("/api/folders/%s/register", folder), nil)
	if a.Status == 404 {
		return nil
	}
	names := []string{}
	page := testkit.Get[contract.RegisterPage](c, fmt.Sprintf("/api/folders/%s/register?order=name", folder))
	for _, r := range page.Rows {
		names = append(names, r.Name)
	}
	if page.Total != len(names) {
		o.T.Errorf("the register says %d and shows %v", page.Total, names)
	}
	return names
}

func (o *office) reach(c *testkit.Client, item uuid.UUID) contract.Reach {
	return testkit.Get[contract.Reach](c, fmt.Sprintf("/api/items/%s/reach", item))
}

func (o *office) way(item uuid.UUID, name string) contract.Way {
	o.T.Helper()
	for _, w := range o.reach(o.hanne, item).Ways {
		if w.Grant.Name == name && w.Here {
			return w
		}
	}
	o.T.Fatalf("%s has no way to %s", name, item)
	return contract.Way{}
}

func wantNames(t *testing.T, what string, got []string, want ...string) {
	t.Helper()
	if strings.Join(got, ", ") != strings.Join(want, ", ") {
		t.Errorf("%s: %v, want %v", what, got, want)
	}
}

func TestAGuestSeesOnlyTheBranch(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	if got := testkit.Get[[]contract.DossierRow](o.guest, "/api/dossiers"); len(got) != 0 {
		t.Errorf("a guest who was given nothing sees %+v", got)
	}
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.inner, o.plan}, to(o.guestID)))
	d := testkit.Get[contract.Dossier](o.guest, "/api/dossiers/MER-24")
	var folders []string
	for _, f := range d.Folders {
		folders = append(folders, fmt.Sprintf("%s %v %d", f.Name, f.Through, f.Documents))
	}
	wantNames(t, "the contents", folders, "Corran Lass true 2", "Reports true 2", "Between us false 1")
	if !d.Branch || len(d.May) != 0 || d.Documents != 2 {
		t.Errorf("the dossier shows %+v", d)
	}
	wantNames(t, "the folder through which the way leads", o.sees(o.guest, o.reports), "plan.txt")
	wantNames(t, "the branch", o.sees(o.guest, o.inner), "quote.txt")
	o.guest.Want(404, "GET", fmt.Sprintf("/api/folders/%s/register", o.yard), nil)
	o.guest.Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.draft), nil)
	o.guest.Want(404, "GET", fmt.Sprintf("/api/items/%s/reach", o.reports), nil)
	o.guest.Want(200, "GET", fmt.Sprintf("/api/documents/%s/content", o.quote), nil)
	if f := testkit.Get[contract.Found](o.guest, "/api/find?q=txt"); len(f.Documents) != 2 {
		t.Errorf("the finder finds %+v", f.Documents)
	}
	for _, e := range testkit.Get[contract.Stream](o.guest, "/api/activity").Events {
		if e.ItemName != nil && (*e.ItemName == "draft.txt" || *e.ItemName == "Yard") || e.ItemId == nil {
			t.Errorf("a guest is told of %s, %v", e.Kind, e.ItemName)
		}
	}
	row := testkit.Get[[]contract.DossierRow](o.guest, "/api/dossiers")
	if len(row) != 1 || row[0].Documents != 2 {
		t.Errorf("the list of dossiers says %+v", row)
	}
	// The archive of a folder holds only what may be downloaded.
	zip := o.guest.Want(200, "GET", fmt.Sprintf("/api/archive?item=%s", o.inner), nil)
	if !strings.Contains(string(zip.Body), "quote.txt") {
		t.Error("the archive lacks the document")
	}
}

func TestLookingIsNotDownloading(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	o.give(o.hanne, wish(contract.LevelLook, []uuid.UUID{o.plan}, to(o.guestID)))
	o.guest.Want(200, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
	o.guest.Want(403, "GET", fmt.Sprintf("/api/documents/%s/content", o.plan), nil)
	o.guest.Want(403, "GET", fmt.Sprintf("/api/archive?item=%s", o.plan), nil)
}

func TestDepositAddsAndSeesNothingOfOthers(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	o.give(o.hanne, wish(contract.LevelDeposit, []uuid.UUID{o.reports}, to(o.guestID)))
	o.guest.Want(400, "POST", "/api/access", wish(contract.LevelDeposit, nil, to(o.guestID)))
	wantNames(t, "before", o.sees(o.guest, o.reports))
	own := o.guest.Upload(o.reports, "", "mine.txt", []byte("mine"))
	// A name that is taken by what one does not see is like a free one.
	apart := o.guest.Upload(o.reports, "", "plan.txt", []byte("other"))
	if own.Outcome != "document" || apart.Outcome != "document" || apart.Document.Name != "plan.txt" {
		t.Errorf("it became %+v and %+v", own, apart)
	}
	wantNames(t, "after", o.sees(o.guest, o.reports), "mine.txt", apart.Document.Name)
	o.guest.Want(200, "GET", fmt.Sprintf("/api/documents/%s/content", own.Document.Id), nil)
	o.guest.Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
	o.guest.Want(403, "PUT", fmt.Sprintf("/api/items/%s/name", own.Document.Id), contract.NewName{Name: "x.txt"})
	if a := o.hanne.Do("POST", "/api/access", wish(contract.LevelDeposit, []uuid.UUID{o.plan}, to(o.guestID))); a.Code() != "deposit-folder" {
		t.Errorf("depositing into a document: %d %s", a.Status, a.Body)
	}
	wantNames(t, "a colleague", o.sees(o.luca, o.reports), "draft.txt", "mine.txt", "plan.txt", "plan.txt")
}

func TestClosedItemsKeepTheirOwnPeople(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	closed := func(item uuid.UUID, closed bool) {
		t.Helper()
		o.hanne.Want(204, "PUT", fmt.Sprintf("/api/items/%s/closed", item), contract.Closed{Closed: closed})
	}
	effects := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", contract.WhatIf{Close: &o.inner}).Effects
	if len(effects) != 2 || effects[0].Loses != 1 {
		t.Errorf("closing would mean %+v", effects)
	}
	closed(o.inner, true)
	closed(o.draft, true)
	wantNames(t, "a member", o.sees(o.luca, o.reports), "plan.txt")
	if got := o.sees(o.luca, o.inner); got != nil {
		t.Errorf("a member sees %v in the closed folder", got)
	}
	o.luca.Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.quote), nil)
	if d := testkit.Get[contract.Dossier](o.luca, "/api/dossiers/MER-24"); len(d.Folders) != 3 || d.Documents != 1 {
		t.Errorf("the contents of a member show %+v", d)
	}
	wantNames(t, "the manager", o.sees(o.hanne, o.reports), "draft.txt", "plan.txt")
	wantNames(t, "the manager, inside", o.sees(o.hanne, o.inner), "quote.txt")
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.draft}, to(o.People["luca"].ID)))
	wantNames(t, "a member with a grant of its own", o.sees(o.luca, o.reports), "draft.txt", "plan.txt")
	// A link to a folder does not give what is closed in it.
	_, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.reports}, Newest: ptr(true)})
	v := o.Visitor()
	show(v, token, "")
	got := testkit.Get[contract.LinkContents](v, "/api/visits/"+token+"/contents")
	if got.Count != 1 || len(got.Folders) != 0 || got.Files[0].Name != "plan.txt" {
		t.Errorf("the link gives %+v", got)
	}
	closed(o.inner, false)
	closed(o.draft, false)
	wantNames(t, "opened again", o.sees(o.luca, o.inner), "quote.txt")
	if a := o.luca.Do("PUT", fmt.Sprintf("/api/items/%s/closed", o.inner), contract.Closed{Closed: true}); a.Status != 403 {
		t.Errorf("an editor closes: %d", a.Status)
	}
	if a := o.hanne.Do("PUT", fmt.Sprintf("/api/items/%s/closed", o.top), contract.Closed{Closed: true}); a.Code() != "dossier-closed" {
		t.Errorf("closing a dossier: %d %s", a.Status, a.Body)
	}
	o.sound()
}

// sound checks that every scope is what a walk from the top gives.
func (o *office) sound() {
	o.T.Helper()
	if wrong, err := guard.WrongScopes(o.T.Context(), o.App.DB); err != nil || len(wrong) > 0 {
		o.T.Errorf("wrong scopes: %v %v", wrong, err)
	}
}

func TestAccessEndsBySelfAndByHand(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	week := o.Now().Add(7 * 24 * time.Hour)
	w := wish(contract.LevelView, []uuid.UUID{o.reports}, to(o.guestID))
	w.Until = &week
	o.give(o.hanne, w)
	live := streamOf(t, o.guest, "/api/live")
	o.guest.Want(200, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
	if g := testkit.Get[contract.Today](o.hanne, "/api/today").AccessEnds; len(g) != 0 {
		t.Errorf("seven days before the end: %+v", g)
	}
	o.Later(5 * 24 * time.Hour)
	o.hanne = o.SignIn("hanne")
	if g := testkit.Get[contract.Today](o.hanne, "/api/today").AccessEnds; len(g) != 1 || g[0].Name != o.guestName {
		t.Errorf("two days before the end: %+v", g)
	}
	// Ended by hand, the person is out and the open page is told.
	way := o.way(o.reports, o.guestName)
	o.hanne.Want(204, "DELETE", "/api/access/"+way.Grant.Id.String(), nil)
	next(t, live, "event: access")
	o.hanne.Want(404, "DELETE", "/api/access/"+way.Grant.Id.String(), nil)
	again := o.byCode()
	again.Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
	// And by itself.
	soon := o.Now().Add(time.Hour)
	w.Until = &soon
	o.give(o.hanne, w)
	again.Want(200, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
	o.Later(time.Hour)
	again.Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
	wantNames(t, "after the end", o.sees(again, o.reports))
	if got := testkit.Get[[]contract.DossierRow](again, "/api/dossiers"); len(got) != 0 {
		t.Errorf("after the end the dossier is listed: %+v", got)
	}
}

// codes are those that were mailed to the guest, in order.
func (o *office) codes() (all []string) {
	for _, m := range o.Mail.Messages(o.guestEmail) {
		if _, after, ok := strings.Cut(m.Text, "Your code is "); ok {
			all = append(all, after[:7])
		}
	}
	return all
}

// byCode signs the guest in anew, by a code from the mailbox.
func (o *office) byCode() *testkit.Client {
	o.T.Helper()
	before := len(o.codes())
	c := o.Visitor()
	c.Want(202, "POST", "/api/session/code", contract.Address{Email: o.guestEmail})
	// Other mail may still be on its way.
	waitFor(o.T.(*testing.T), func() bool { return len(o.codes()) > before })
	codes := o.codes()
	c.Want(200, "POST", "/api/session/by-code", contract.CodeSignIn{Email: o.guestEmail, Code: codes[len(codes)-1]})
	return c
}

func TestAnOpenPageIsToldWhenAccessEndsBySelf(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	soon := o.Now().Add(700 * time.Millisecond)
	w := wish(contract.LevelView, []uuid.UUID{o.reports}, to(o.guestID))
	w.Until = &soon
	o.give(o.hanne, w)
	next(t, streamOf(t, o.guest, "/api/live"), "event: access")
	o.guest.Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
}

func TestWhoMayGiveWhat(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	guest := to(o.guestID)
	past := o.Now().Add(-time.Hour)
	items := []uuid.UUID{o.reports}
	for name, c := range map[string]struct {
		by     *testkit.Client
		w      contract.AccessWish
		status int
		code   string
	}{
		"without sharing":         {o.priya, wish(contract.LevelView, items, guest), 403, "not-allowed"},
		"more than one has":       {o.luca, wish(contract.LevelManage, items, guest), 403, "more-than-own"},
		"a stranger":              {o.tomasz, wish(contract.LevelView, items, guest), 404, "not-found"},
		"nobody":                  {o.hanne, wish(contract.LevelView, items), 400, "recipients-count"},
		"nothing":                 {o.hanne, wish(contract.LevelView, nil, guest), 400, "items-count"},
		"no such level":           {o.hanne, wish("owner", items, guest), 400, "level-unknown"},
		"a set without sense":     {o.hanne, contract.AccessWish{Items: items, To: []contract.Recipient{guest}, Level: contract.LevelOwnSet, May: &[]string{"download"}}, 400, "set-unsound"},
		"no such capability":      {o.hanne, contract.AccessWish{Items: items, To: []contract.Recipient{guest}, Level: contract.LevelOwnSet, May: &[]string{"fly"}}, 400, "capability-unknown"},
		"an end in the past":      {o.hanne, contract.AccessWish{Items: items, To: []contract.Recipient{guest}, Level: contract.LevelView, Until: &past}, 400, "until-past"},
		"no address":              {o.hanne, wish(contract.LevelView, items, contract.Recipient{Email: ptr("dunlin")}), 400, "address-form"},
		"two lines":               {o.hanne, wish(contract.LevelView, items, contract.Recipient{Email: ptr("a@b.example\r\nBcc: c@d.example")}), 400, "address-form"},
		"an unknown person":       {o.hanne, wish(contract.LevelView, items, to(uuid.New())), 404, "not-found"},
		"a long message":          {o.hanne, contract.AccessWish{Items: items, To: []contract.Recipient{guest}, Level: contract.LevelView, Message: ptr(strings.Repeat("x", 6000))}, 400, "message-long"},
		"too many people":         {o.hanne, wish(contract.LevelView, items, make([]contract.Recipient, 51)...), 400, "recipients-count"},
		"a guest to other people": {o.guest, wish(contract.LevelView, items, to(o.People["tomasz"].ID)), 404, "not-found"},
	} {
		t.Run(name, func(t *testing.T) {
			a := c.by.Do("POST", "/api/access", c.w)
			if a.Status != c.status || a.Code() != c.code {
				t.Errorf("%d %s", a.Status, a.Body)
			}
			if c.code != "recipients-count" || len(c.w.To) > 0 {
				if d := c.by.Do("POST", "/api/access/draft", c.w); d.Status != c.status {
					t.Errorf("the draft: %d %s", d.Status, d.Body)
				}
			}
		})
	}
	if got := o.reach(o.hanne, o.reports).Outside; got != 0 {
		t.Errorf("%d outsiders came in by refusals", got)
	}
}

func TestGivingNeverTakesAway(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	tomasz := to(o.People["tomasz"].ID)
	o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.reports}, tomasz))
	o.give(o.luca, wish(contract.LevelView, []uuid.UUID{o.reports}, tomasz))
	if l := o.way(o.reports, "Tomasz Rehn").Grant.Level; l != contract.LevelEdit {
		t.Errorf("after less was given the level is %s", l)
	}
	o.give(o.hanne, wish(contract.LevelManage, []uuid.UUID{o.reports}, tomasz))
	if l := o.way(o.reports, "Tomasz Rehn").Grant.Level; l != contract.LevelManage {
		t.Errorf("after more was given the level is %s", l)
	}
	o.give(o.hanne, wish(contract.LevelFill, []uuid.UUID{o.yard}, tomasz))
	if a := o.hanne.Do("POST", "/api/access", wish(contract.LevelRemark, []uuid.UUID{o.yard}, tomasz)); a.Code() != "has-access" {
		t.Errorf("other terms: %d %s", a.Status, a.Body)
	}
	o.sound()
}

func TestChangingAndEndingGrants(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.give(o.luca, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["tomasz"].ID)))
	way := o.way(o.plan, "Tomasz Rehn")
	path := "/api/access/" + way.Grant.Id.String()
	change := contract.AccessChange{Version: way.Grant.Version, Level: contract.LevelRemark}
	o.priya.Want(403, "PUT", path, change)
	o.tomasz.Want(403, "PUT", path, change)
	o.Visitor().Want(401, "PUT", path, change)
	o.luca.Want(204, "PUT", path, change)
	if a := o.hanne.Do("PUT", path, change); a.Status != 409 || a.Code() != "changed-meanwhile" {
		t.Errorf("a second change at the same version: %d %s", a.Status, a.Body)
	}
	past := o.Now().Add(-time.Minute)
	if a := o.hanne.Do("PUT", path, contract.AccessChange{Version: 2, Level: contract.LevelView, Until: &past}); a.Code() != "until-past" {
		t.Errorf("an end in the past: %s", a.Body)
	}
	if a := o.luca.Do("PUT", path, contract.AccessChange{Version: 2, Level: contract.LevelManage}); a.Code() != "more-than-own" {
		t.Errorf("more than one's own: %s", a.Body)
	}
	// Somebody may leave what was given to them.
	o.tomasz.Want(204, "DELETE", path, nil)
	o.tomasz.Want(404, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
	// Two managers who change a grant at once: one of them is told.
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.People["tomasz"].ID)))
	o.give(o.hanne, wish(contract.LevelManage, []uuid.UUID{o.top}, to(o.People["ines"].ID)))
	ines, way2 := o.SignIn("ines"), o.way(o.plan, "Tomasz Rehn")
	var wg sync.WaitGroup
	statuses := make([]int, 2)
	for i, c := range []*testkit.Client{o.hanne, ines} {
		wg.Go(func() {
			statuses[i] = c.Do("PUT", "/api/access/"+way2.Grant.Id.String(), contract.AccessChange{Version: way2.Grant.Version, Level: []contract.Level{contract.LevelRemark, contract.LevelEdit}[i]}).Status
		})
	}
	wg.Wait()
	if statuses[0]+statuses[1] != 204+409 {
		t.Errorf("two at once: %v", statuses)
	}
}

func TestADossierKeepsAManager(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	own := o.way(o.top, "Hanne Solvik").Grant
	path := "/api/access/" + own.Id.String()
	soon := o.Now().Add(time.Hour)
	for name, a := range map[string]testkit.Answer{
		"leaving":       o.hanne.Do("DELETE", path, nil),
		"a lower level": o.hanne.Do("PUT", path, contract.AccessChange{Version: own.Version, Level: contract.LevelEdit}),
		"an end":        o.hanne.Do("PUT", path, contract.AccessChange{Version: own.Version, Level: contract.LevelManage, Until: &soon}),
	} {
		if a.Status != 409 || a.Code() != "last-manager" {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	o.give(o.hanne, wish(contract.LevelManage, []uuid.UUID{o.top}, to(o.People["ines"].ID)))
	o.hanne.Want(204, "DELETE", path, nil)
	o.hanne.Want(404, "GET", "/api/dossiers/MER-24", nil)
}

func TestReachAndWhyAgree(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	if err := o.App.Web.People.SetStanding(o.As("hanne"), o.People["hanne"].ID, accounts.Administrator); err == nil {
		t.Error("a colleague made herself an administrator")
	}
	team := o.group("Insurers", o.guestID)
	kind := contract.SubjectKindGroup
	week := o.Now().Add(7 * 24 * time.Hour)
	o.give(o.hanne, contract.AccessWish{Items: []uuid.UUID{o.reports}, To: []contract.Recipient{{Kind: &kind, Id: &team}}, Level: contract.LevelRemark, Until: &week})
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.guestID)))
	r := o.reach(o.hanne, o.plan)
	if r.Inside != 3 || r.Outside != 1 || r.Door.State != contract.DoorStateAjar || len(r.Ways) != 5 {
		t.Errorf("reach: %d inside, %d outside, %d ways, %+v", r.Inside, r.Outside, len(r.Ways), r.Door)
	}
	why := testkit.Get[contract.Why](o.hanne, fmt.Sprintf("/api/items/%s/why/%s", o.plan, o.guestID))
	if len(why.Ways) != 2 || why.Words != "view, download and remark" || why.Ends == nil || !why.Ends.Equal(week.UTC().Truncate(time.Microsecond)) {
		t.Errorf("why: %+v", why)
	}
	if got := why.Ways[1]; len(got.Through) != 1 || got.Through[0] != "Insurers" || got.Grant.ItemName != "Reports" {
		t.Errorf("the way through the group: %+v", got)
	}
	o.luca.Want(403, "GET", fmt.Sprintf("/api/items/%s/why/%s", o.plan, o.guestID), nil)
	own := testkit.Get[contract.Why](o.luca, fmt.Sprintf("/api/items/%s/why/%s", o.plan, o.People["luca"].ID))
	if len(own.Ways) != 1 {
		t.Errorf("one's own why: %+v", own)
	}
	end := o.way(o.plan, o.guestName).Grant.Id
	if c := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", contract.WhatIf{End: &end}); len(c.Effects) != 0 {
		t.Errorf("ending one of two ways that both show it means %+v", c.Effects)
	}
	for _, bad := range []contract.WhatIf{{}, {End: ptr(uuid.New())}, {Close: ptr(uuid.New())}} {
		if a := o.hanne.Do("POST", "/api/access/what-if", bad); a.Status != 400 && a.Status != 404 {
			t.Errorf("%+v: %d", bad, a.Status)
		}
	}
	o.priya.Want(403, "POST", "/api/access/what-if", contract.WhatIf{Close: &o.inner})
}

// group makes a group with people in it, by the rules' own acts.
func (o *world) group(name string, members ...uuid.UUID) uuid.UUID {
	o.T.Helper()
	if _, err := o.App.DB.Exec(`UPDATE people SET standing = 'administrator' WHERE id = $1`, o.People["ines"].ID); err != nil {
		o.T.Fatal(err)
	}
	p := o.People["ines"]
	p.Standing = accounts.Administrator
	o.People["ines"] = p
	g, err := o.App.Web.People.MakeGroup(o.As("ines"), name)
	if err != nil {
		o.T.Fatal(err)
	}
	for _, m := range members {
		if err := o.App.Web.People.AddMember(o.As("ines"), g.ID, people.Member{Person: &m}); err != nil {
			o.T.Fatal(err)
		}
	}
	return g.ID
}

// What a draft says is what happens.
func TestDraftsComeTrue(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.guestID)))
	w := wish(contract.LevelView, []uuid.UUID{o.reports}, to(o.guestID), to(o.People["tomasz"].ID), to(o.People["luca"].ID), contract.Recipient{Email: ptr("surveys@dunlin.example")})
	d := testkit.Post[contract.AccessDraft](o.hanne, 200, "/api/access/draft", w)
	got := map[string]int{}
	for _, e := range d.Consequence.Effects {
		got[e.Name] = e.Gains
	}
	if d.Consequence.Documents != 3 || len(got) != 3 || got[o.guestName] != 2 || got["Tomasz Rehn"] != 3 || got["surveys@dunlin.example"] != 3 {
		t.Errorf("the draft says %+v", d.Consequence)
	}
	if s := sentenceOf(d.Sentence); s != "Sunniva Aker, Tomasz Rehn, Luca Ferrante and surveys@dunlin.example may view and download Reports, without an end, and may not pass it on." {
		t.Errorf("the sentence: %s", s)
	}
	before := map[string]int{o.guestName: len(o.sees(o.guest, o.reports)), "Tomasz Rehn": 0}
	o.give(o.hanne, w)
	for name, c := range map[string]*testkit.Client{o.guestName: o.guest, "Tomasz Rehn": o.tomasz} {
		now := len(o.sees(c, o.reports)) + len(o.sees(c, o.inner))
		if now-before[name] != got[name] {
			t.Errorf("%s gained %d, the draft said %d", name, now-before[name], got[name])
		}
	}
}

func sentenceOf(parts []contract.Part) string {
	var b strings.Builder
	for _, p := range parts {
		b.WriteString(p.Text)
	}
	return b.String()
}

func TestGivenListsAndPins(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	w := wish(contract.LevelView, []uuid.UUID{o.plan, o.inner}, contract.Recipient{Email: &o.guestEmail})
	w.Message = ptr("Dear Sunniva, for Thursday.")
	o.give(o.luca, w)
	if n := testkit.Get[contract.Session](o.guest, "/api/session").NewGiven; n != 2 {
		t.Errorf("%d new", n)
	}
	list := testkit.Get[contract.Given](o.guest, "/api/given/to-me?saw=true")
	if len(list.Grants) != 2 || list.Grants[0].By != "Luca Ferrante" || *list.Grants[0].Message != "Dear Sunniva, for Thursday." || list.Since != nil {
		t.Errorf("given: %+v", list)
	}
	if n := testkit.Get[contract.Session](o.guest, "/api/session").NewGiven; n != 0 {
		t.Errorf("%d new after a look", n)
	}
	o.guest.Want(204, "PUT", fmt.Sprintf("/api/items/%s/pin", o.plan), contract.Pinned{Pinned: true})
	o.guest.Want(404, "PUT", fmt.Sprintf("/api/items/%s/pin", o.yard), contract.Pinned{Pinned: true})
	pinned := 0
	for _, g := range testkit.Get[contract.Given](o.guest, "/api/given/to-me").Grants {
		if *g.Pinned {
			pinned++
		}
	}
	if pinned != 1 {
		t.Errorf("%d pinned", pinned)
	}
	for query, n := range map[string]int{"": 2, "?kind=folder": 1, "?dossier=MER-24": 2, "?person=" + o.People["priya"].ID.String(): 0, "?endingBefore=2030-01-01T00:00:00Z": 0} {
		if got := len(testkit.Get[contract.Given](o.luca, "/api/given/by-me"+query).Grants); got != n {
			t.Errorf("by me%s: %d, want %d", query, got, n)
		}
	}
	o.luca.Want(400, "GET", "/api/given/by-me?after=nonsense", nil)
	o.luca.Want(404, "GET", "/api/given/by-me?dossier=AUR-03", nil)
}

func TestSuggestionsCarryTheirReason(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	likely := func(typed string) []contract.Suggested {
		return testkit.Post[[]contract.Suggested](o.hanne, 200, "/api/access/likely", contract.Typed{Items: []uuid.UUID{o.plan}, Typed: &typed})
	}
	found := map[string]contract.Suggested{}
	for _, s := range likely("") {
		found[s.Name] = s
	}
	if s := found["Luca Ferrante"]; s.Reason == nil || *s.Reason != "here" || s.Gains != 0 || s.Could != 1 {
		t.Errorf("Luca: %+v", s)
	}
	if s := found[o.guestName]; s.Gains != 1 || !s.Outside {
		t.Errorf("the guest: %+v", s)
	}
	if got := likely("tom"); len(got) != 1 || got[0].Name != "Tomasz Rehn" || got[0].Gains != 1 {
		t.Errorf("typed tom: %+v", got)
	}
	if got := likely("dunlin"); len(got) != 1 || got[0].Name != o.guestName {
		t.Errorf("typed dunlin: %+v", got)
	}
	o.priya.Want(403, "POST", "/api/access/likely", contract.Typed{Items: []uuid.UUID{o.plan}})
	o.hanne.Want(400, "POST", "/api/access/likely", contract.Typed{Items: []uuid.UUID{}})
}

func TestViewAsAnother(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.invite()
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(o.guestID)))
	as := "?as=" + o.guestID.String()
	d := testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24"+as)
	if !d.Branch || len(d.Folders) != 2 {
		t.Errorf("as the guest: %+v", d.Folders)
	}
	page := testkit.Get[contract.RegisterPage](o.hanne, fmt.Sprintf("/api/folders/%s/register%s", o.reports, as))
	if len(page.Rows) != 1 || page.Rows[0].Name != "plan.txt" {
		t.Errorf("the register as the guest: %+v", page.Rows)
	}
	o.luca.Want(403, "GET", "/api/dossiers/MER-24"+as, nil)
	o.luca.Want(403, "GET", fmt.Sprintf("/api/folders/%s/register%s", o.reports, as), nil)
	o.tomasz.Want(404, "GET", "/api/dossiers/MER-24"+as, nil)
	told := 0
	for _, e := range testkit.Get[contract.Stream](o.hanne, "/api/activity?dossier=MER-24").Events {
		if e.Kind == "access.viewed-as" && e.Actor == "Hanne Solvik" {
			told++
		}
	}
	if told != 1 {
		t.Errorf("recorded %d times", told)
	}
}

func TestAskingToBeLetIn(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	ask := func(c *testkit.Client, item uuid.UUID) testkit.Answer {
		return c.Do("POST", fmt.Sprintf("/api/items/%s/request", item), contract.Ask{Message: ptr("for the estimate")})
	}
	there, nowhere := ask(o.tomasz, o.plan), ask(o.tomasz, uuid.New())
	if there.Status != 202 || nowhere.Status != 202 || string(there.Body) != string(nowhere.Body) {
		t.Errorf("asking tells: %d %s, %d %s", there.Status, there.Body, nowhere.Status, nowhere.Body)
	}
	ask(o.tomasz, o.plan)
	requests := testkit.Get[contract.Today](o.hanne, "/api/today").Requests
	if len(requests) != 1 || requests[0].Person != "Tomasz Rehn" || *requests[0].Message != "for the estimate" {
		t.Fatalf("requests: %+v", requests)
	}
	if n := len(testkit.Get[contract.Today](o.luca, "/api/today").Requests); n != 0 {
		t.Errorf("an editor is asked %d times", n)
	}
	path := "/api/requests/" + requests[0].Id.String()
	o.luca.Want(403, "POST", path, contract.RequestAnswer{Give: true})
	o.tomasz.Want(404, "POST", path, contract.RequestAnswer{Give: true})
	o.hanne.Want(204, "POST", path, contract.RequestAnswer{Give: true})
	o.tomasz.Want(200, "GET", fmt.Sprintf("/api/documents/%s", o.plan), nil)
	o.hanne.Want(404, "POST", path, contract.RequestAnswer{Give: true})
	o.invite()
	if a := ask(o.guest, o.draft); a.Status != 404 {
		t.Errorf("a guest asks: %d", a.Status)
	}
}

// Lists that are made after a revocation was answered never show what is gone,
// on whichever process: half of the requests go to each.
func TestNoListShowsWhatWasTakenAway(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	for i := range 25 {
		o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.reports}, to(o.People["tomasz"].ID)))
		if got := o.sees(o.tomasz, o.reports); len(got) != 2 {
			t.Fatalf("round %d: given, and %v is seen", i, got)
		}
		testkit.Get[contract.Found](o.tomasz, "/api/find?q=plan")
		o.hanne.Want(204, "DELETE", "/api/access/"+o.way(o.reports, "Tomasz Rehn").Grant.Id.String(), nil)
		var wg sync.WaitGroup
		for range 4 {
			wg.Go(func() {
				if a := o.tomasz.Do("GET", fmt.Sprintf("/api/folders/%s/register", o.reports), nil); a.Status != 404 {
					t.Errorf("round %d: the register answers %d", i, a.Status)
				}
				if f := testkit.Get[contract.Found](o.tomasz, "/api/find?q=plan"); len(f.Documents) != 0 {
					t.Errorf("round %d: the finder shows %+v", i, f.Documents)
				}
				if d := testkit.Get[[]contract.DossierRow](o.tomasz, "/api/dossiers"); len(d) != 0 {
					t.Errorf("round %d: the dossiers show %+v", i, d)
				}
			})
		}
		wg.Wait()
	}
}

// Random giving, ending, closing and opening, and folders made in between: every
// scope stays what a walk from the top gives, and every register shows what the
// decisions on its documents say.
func TestARandomWalkOfAccess(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	r := rand.New(rand.NewPCG(4, 9))
	folders, documents := []uuid.UUID{o.top, o.reports, o.yard, o.inner}, []uuid.UUID{o.draft, o.plan, o.quote}
	levels := []contract.Level{contract.LevelLook, contract.LevelView, contract.LevelEdit, contract.LevelManage}
	who := []string{"tomasz", "priya", "luca"}
	for step := range 150 {
		any := append(append([]uuid.UUID{}, folders...), documents...)
		item := any[r.IntN(len(any))]
		switch r.IntN(6) {
		case 5:
			a := o.hanne.Do("POST", "/api/items/move", contract.Move{Items: []uuid.UUID{item}, To: folders[r.IntN(len(folders))]})
			if a.Status != 204 && a.Code() != "into-itself" && a.Code() != "dossier-stays" {
				t.Fatalf("step %d: %d %s", step, a.Status, a.Body)
			}
		case 0:
			made := o.hanne.Do("POST", fmt.Sprintf("/api/folders/%s/folders", folders[r.IntN(len(folders))]), contract.NewName{Name: fmt.Sprint("folder ", step)})
			if made.Status == 201 {
				folders = append(folders, read[contract.Folder](t, made).Id)
			}
		case 1:
			documents = append(documents, o.hanne.Upload(folders[r.IntN(len(folders))], "", fmt.Sprintf("paper %d.txt", step), []byte(fmt.Sprint(step))).Document.Id)
		case 2:
			if item != o.top {
				o.hanne.Want(204, "PUT", fmt.Sprintf("/api/items/%s/closed", item), contract.Closed{Closed: r.IntN(2) == 0})
			}
		case 3:
			a := o.hanne.Do("POST", "/api/access", wish(levels[r.IntN(len(levels))], []uuid.UUID{item}, to(o.People[who[r.IntN(3)]].ID)))
			if a.Status != 204 && a.Code() != "has-access" {
				t.Fatalf("step %d: %d %s", step, a.Status, a.Body)
			}
		case 4:
			for _, w := range o.reach(o.hanne, item).Ways {
				if w.Grant.Name != "Hanne Solvik" {
					o.hanne.Want(204, "DELETE", "/api/access/"+w.Grant.Id.String(), nil)
					break
				}
			}
		}
		if step%20 == 19 {
			o.sound()
		}
	}
	for _, name := range who {
		c := o.SignIn(name)
		for _, f := range folders {
			shown := map[uuid.UUID]bool{}
			if a := c.Do("GET", fmt.Sprintf("/api/folders/%s/register?limit=500", f), nil); a.Status == 200 {
				for _, row := range read[contract.RegisterPage](t, a).Rows {
					shown[row.Id] = true
				}
			}
			var in []uuid.UUID
			if err := o.App.DB.Select(&in, `SELECT id FROM items WHERE parent_id = $1 AND kind = 'document'`, f); err != nil {
				t.Fatal(err)
			}
			for _, d := range in {
				decided := c.Do("GET", fmt.Sprintf("/api/documents/%s", d), nil).Status == 200
				if decided != shown[d] {
					t.Errorf("%s: document %s is decided %v and shown %v", name, d, decided, shown[d])
				}
			}
		}
	}
}

// Whoever is given something, and whoever is asked, finds a notice that leads
// there; a refusal tells nothing of the thing.
func TestNotices(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	mine := func(c *testkit.Client) []contract.Notice { return testkit.Get[[]contract.Notice](c, "/api/notices") }
	count := func(c *testkit.Client) int { return testkit.Get[contract.Session](c, "/api/session").Notices }
	for _, c := range []*testkit.Client{o.luca, o.priya} {
		c.Want(204, "PUT", "/api/notices", nil)
	}
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan, o.draft}, to(o.People["priya"].ID), to(o.People["tomasz"].ID)))
	n := mine(o.tomasz)
	if len(n) != 1 || n[0].Kind != "given" || n[0].By != "Hanne Solvik" || n[0].What != "plan.txt + 1" || n[0].Path != "/desk" || n[0].Seen || count(o.tomasz) != 1 {
		t.Errorf("given: %+v, %d unseen", n, count(o.tomasz))
	}
	if count(o.luca) != 0 {
		t.Error("somebody else was told")
	}
	o.tomasz.Want(204, "PUT", "/api/notices", nil)
	if count(o.tomasz) != 0 || !mine(o.tomasz)[0].Seen || count(o.priya) != 1 {
		t.Error("looking at them is one's own")
	}
	for range 2 {
		o.tomasz.Want(202, "POST", fmt.Sprintf("/api/items/%s/request", o.quote), contract.Ask{})
	}
	if n := mine(o.hanne); len(n) != 1 || n[0].Kind != "asked" || n[0].By != "Tomasz Rehn" || n[0].What != "quote.txt" {
		t.Errorf("asked: %+v", n)
	}
	request := testkit.Get[contract.Today](o.hanne, "/api/today").Requests[0]
	o.hanne.Want(204, "POST", "/api/requests/"+request.Id.String(), contract.RequestAnswer{})
	if n := mine(o.tomasz); n[0].Kind != "not-let-in" || n[0].What != "" || n[0].Path != "" {
		t.Errorf("not let in: %+v", n[0])
	}
	o.tomasz.Want(202, "POST", fmt.Sprintf("/api/items/%s/request", uuid.New()), contract.Ask{})
	if len(mine(o.hanne)) != 1 {
		t.Error("asking for nothing told somebody")
	}
	o.Later(364 * 24 * time.Hour)
	for _, want := range []int{1, 0} {
		if err := o.App.Web.Notices.Forget(t.Context()); err != nil {
			t.Fatal(err)
		}
		if n := mine(o.SignIn("hanne")); len(n) != want {
			t.Errorf("%d notices are kept, want %d", len(n), want)
		}
		o.Later(48 * time.Hour)
	}
}
