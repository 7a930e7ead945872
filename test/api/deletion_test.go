package api_test

import (
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
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		d := o.deletes(o.hanne, o.hanne.Upload(o.top, "", "deleted.txt", []byte("deleted")).Document.Id)
		return []endpoint{
			{"GET", "/deletions", "", nil, self},
			{"GET", "/deletions", "/deletions?dossier=MER-24", nil, item(access.Caps(0))},
			{"POST", "/deletions", "", contract.Delete{Items: []uuid.UUID{o.top}}, item(access.Delete)},
			{"POST", "/deletions/{id}/request", "/deletions/" + d.String() + "/request", nil, paper(access.See)},
			{"POST", "/deletions/destruction", "", contract.Destroy{Ids: []uuid.UUID{d}, Code: "x"}, paper(access.Delete | access.Manage)},
		}
	})
	apart["POST /deletions/return"] = "whoever may leaves nothing for the next one; see TestWhoDeletesAndWhoAsksForItBack"
}

func (o *office) deletes(c *testkit.Client, ids ...uuid.UUID) uuid.UUID {
	o.T.Helper()
	return testkit.Post[contract.Deletions](c, 200, "/api/deletions", contract.Delete{Items: ids}).Ids[0]
}

func (o *office) deleted(c *testkit.Client) []contract.Deleted {
	o.T.Helper()
	return testkit.Get[contract.DeletionPage](c, "/api/deletions?dossier=MER-24").Rows
}

func (o *office) bringsBack(c *testkit.Client, links bool, ids ...uuid.UUID) []contract.BroughtBack {
	o.T.Helper()
	return testkit.Post[[]contract.BroughtBack](c, 200, "/api/deletions/return", contract.BringBack{Ids: ids, Links: &links})
}

// A folder goes with what lies in it, and comes back as it was: numbers, versions, access,
// counts. What it means is said before.
func TestAFolderIsDeletedAndBroughtBack(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	clientID, client := o.account("client", accounts.Guest)
	folder := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.reports), contract.NewName{Name: "Gauging"}).Id
	one := o.hanne.Upload(folder, "deep/er", "one.txt", []byte("one")).Document
	two := o.hanne.Upload(folder, "", "two.txt", []byte("two")).Document
	o.hanne.Upload(folder, "", "two.txt", []byte("two, again"))
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{two.Id}, to(clientID)))
	before := testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24")

	x := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", contract.WhatIf{Delete: &[]uuid.UUID{folder}})
	if x.Documents != 2 || !strings.Contains(effects(x), "client +0 -1") {
		t.Errorf("%d: %s", x.Documents, effects(x))
	}
	d := o.deletes(o.hanne, folder)
	client.Want(404, "GET", "/api/documents/"+two.Id.String(), nil)
	o.hanne.Want(404, "GET", "/api/folders/"+folder.String()+"/register", nil)
	o.sound()
	if now := testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24"); now.Documents != before.Documents-2 || now.Storage.Used != before.Storage.Used {
		t.Errorf("%d documents of %d, storage %d of %d", now.Documents, before.Documents, now.Storage.Used, before.Storage.Used)
	}
	rows := o.deleted(o.hanne)
	if len(rows) != 1 || rows[0].Id != d || rows[0].Documents != 2 || rows[0].Left != 60 || !rows[0].MayBringBack || rows[0].FolderGone || rows[0].Folder != "Reports" {
		t.Errorf("%+v", rows)
	}
	if rows := o.deleted(client); len(rows) != 0 {
		t.Errorf("the client is told of the folder: %+v", rows)
	}
	client.Want(404, "POST", "/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{d}})
	back := o.bringsBack(o.hanne, false, d)
	if back[0].Id != folder || back[0].Renamed || back[0].FolderId != o.reports {
		t.Errorf("%+v", back)
	}
	o.sound()
	after := testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24")
	if after.Documents != before.Documents || after.Bytes != before.Bytes || len(after.Folders) != len(before.Folders) {
		t.Errorf("%d documents, %d folders; before %d and %d", after.Documents, len(after.Folders), before.Documents, len(before.Folders))
	}
	shown := testkit.Get[contract.Document](client, "/api/documents/"+two.Id.String())
	if shown.Ref != two.Ref || len(shown.Versions) != 2 {
		t.Errorf("%+v", shown)
	}
	if got := testkit.Get[contract.Document](o.hanne, "/api/documents/"+one.Id.String()); got.FolderName != "er" {
		t.Errorf("it lies in %s", got.FolderName)
	}
	o.hanne.Want(404, "POST", "/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{d}})
	if rows := o.deleted(o.hanne); len(rows) != 0 {
		t.Errorf("it is still listed: %+v", rows)
	}
}

// Something comes back though its folder is gone, even for good, and though its name is
// taken; the rest of the folder stays away until it is wanted.
func TestBringingBackThoughFolderOrNameIsGone(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	folder := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.reports), contract.NewName{Name: "Gauging"}).Id
	one := o.hanne.Upload(folder, "", "one.txt", []byte("one")).Document
	two := o.hanne.Upload(folder, "", "two.txt", []byte("two")).Document
	first := o.deletes(o.hanne, one.Id)
	rest := o.deletes(o.hanne, folder)
	for _, r := range o.deleted(o.hanne) {
		if r.FolderGone != (r.Id == first) {
			t.Errorf("%+v", r)
		}
	}
	o.bringsBack(o.hanne, false, first)
	o.sound()
	if got := testkit.Get[contract.RegisterPage](o.hanne, "/api/folders/"+folder.String()+"/register"); got.Total != 1 || got.Rows[0].Name != "one.txt" {
		t.Errorf("%+v", got.Rows)
	}
	// Meanwhile the other's name is taken, in the folder that came back.
	o.hanne.Upload(folder, "", "two.txt", []byte("another two"))
	back := o.bringsBack(o.hanne, false, rest)
	o.sound()
	if got := testkit.Get[contract.Document](o.hanne, "/api/documents/"+two.Id.String()); got.Name != "two (2).txt" || len(back) != 1 {
		t.Errorf("it is called %s; %+v", got.Name, back)
	}
	// Deleted, and a new one of its name.
	third := o.deletes(o.hanne, two.Id)
	o.hanne.Upload(folder, "", "two (2).txt", []byte("third"))
	if back := o.bringsBack(o.hanne, false, third); !back[0].Renamed || back[0].Name != "two (2) (2).txt" {
		t.Errorf("%+v", back)
	}
	// The folder is destroyed, its document was deleted before that.
	again := o.deletes(o.hanne, one.Id)
	gone := o.deletes(o.hanne, folder)
	o.hanne.Want(204, "POST", "/api/deletions/destruction", contract.Destroy{Ids: []uuid.UUID{gone}, Code: "mer-24"})
	o.sound()
	if back := o.bringsBack(o.hanne, false, again); back[0].Name != "one.txt" || back[0].FolderId != folder {
		t.Errorf("%+v", back)
	}
	o.sound()
	if a := o.hanne.Do("GET", "/api/documents/"+one.Id.String()+"/content", nil); string(a.Body) != "one" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
}

// Links to what is deleted die at once, and live again only if whoever brings it back
// says so, and might give it out.
func TestLinksDieWithWhatIsDeleted(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	alone := o.hanne.Upload(o.reports, "", "alone.txt", []byte("alone")).Document.Id
	_, token := o.link(contract.LinkTerms{Items: []uuid.UUID{alone}, Name: ptr("alone")})
	_, bothToken := o.link(contract.LinkTerms{Items: []uuid.UUID{alone, o.plan}, Name: ptr("both")})
	opens := func(token string) (names []string) {
		v := o.Visitor()
		if a := v.Do("POST", "/api/visits/"+token, contract.OpenLink{}); a.Status != 204 {
			return nil
		}
		a := v.Do("GET", "/api/visits/"+token+"/contents", nil)
		for _, name := range []string{"alone.txt", "plan.txt"} {
			if strings.Contains(string(a.Body), name) {
				names = append(names, name)
			}
		}
		return names
	}
	if x := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", contract.WhatIf{Delete: &[]uuid.UUID{alone}}); x.Links == nil || *x.Links != 2 {
		t.Errorf("%+v", x)
	}
	d := o.deletes(o.hanne, alone)
	if got := opens(token); got != nil {
		t.Errorf("it still gives %v", got)
	}
	if got := opens(bothToken); !slices.Equal(got, []string{"plan.txt"}) {
		t.Errorf("with the other it gives %v", got)
	}
	if rows := o.deleted(o.hanne); rows[0].Links != 1 {
		t.Errorf("%d links ended", rows[0].Links)
	}
	o.bringsBack(o.hanne, false, d)
	if got := opens(token); got != nil {
		t.Errorf("unasked it gives %v again", got)
	}
	if got := opens(bothToken); !slices.Equal(got, []string{"plan.txt"}) {
		t.Errorf("unasked, with the other, it gives %v", got)
	}
	_, token = o.link(contract.LinkTerms{Items: []uuid.UUID{alone}, Name: ptr("once more")})
	d = o.deletes(o.hanne, alone)
	o.bringsBack(o.hanne, true, d)
	if got := opens(token); !slices.Equal(got, []string{"alone.txt"}) {
		t.Errorf("wanted, it gives %v", got)
	}
}

// Who may only edit deletes what they added themselves, and takes that back; who may not
// asks for it.
func TestWhoDeletesAndWhoAsksForItBack(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.reports}, to(o.People["tomasz"].ID)))
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.reports}, to(o.People["priya"].ID)))
	own := o.tomasz.Upload(o.reports, "", "own.txt", []byte("mine")).Document.Id
	others := o.hanne.Upload(o.reports, "", "others.txt", []byte("hers")).Document.Id
	delete := func(c *testkit.Client, want int, ids ...uuid.UUID) {
		c.Want(want, "POST", "/api/deletions", contract.Delete{Items: ids})
	}
	delete(o.tomasz, 403, others)
	delete(o.tomasz, 403, own, others)
	delete(o.tomasz, 403, o.reports)
	delete(o.priya, 403, own)
	delete(o.hanne, 400)
	delete(o.hanne, 404, uuid.New())
	delete(o.Visitor(), 401, own)
	o.hanne.Want(400, "POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{own}, Reason: ptr("two\nlines")})
	o.tomasz.Want(200, "GET", "/api/documents/"+own.String(), nil)

	// A closed paper that is not theirs keeps whoever manages a folder from deleting it.
	manages, manager := o.account("manager", accounts.Colleague)
	o.give(o.hanne, wish(contract.LevelManage, []uuid.UUID{o.reports}, to(manages)))
	closed := o.hanne.Upload(o.reports, "kept", "closed.txt", []byte("closed"))
	o.hanne.Want(204, "PUT", "/api/items/"+closed.Document.Id.String()+"/closed", contract.Closed{Closed: true})
	delete(manager, 403, closed.Document.FolderId)
	if x := manager.Do("POST", "/api/access/what-if", contract.WhatIf{Delete: &[]uuid.UUID{closed.Document.FolderId}}); x.Status != 403 {
		t.Errorf("what it would mean: %d %s", x.Status, x.Body)
	}

	mine, hers := o.deletes(o.tomasz, own), o.deletes(o.hanne, others)
	for _, r := range o.deleted(o.tomasz) {
		if r.MayBringBack != (r.Id == mine) || r.MayDestroy {
			t.Errorf("Tomasz: %+v", r)
		}
	}
	if rows := testkit.Get[contract.DeletionPage](o.tomasz, "/api/deletions?mine=true").Rows; len(rows) != 1 || rows[0].Id != mine {
		t.Errorf("his own: %+v", rows)
	}
	bring := func(c *testkit.Client, want int, links bool, ids ...uuid.UUID) {
		c.Want(want, "POST", "/api/deletions/return", contract.BringBack{Ids: ids, Links: &links})
	}
	bring(o.tomasz, 403, false, hers)
	bring(o.tomasz, 403, false, mine, hers)
	bring(o.tomasz, 403, true, mine)
	bring(o.priya, 403, false, mine)
	o.tomasz.Want(403, "POST", "/api/deletions/destruction", contract.Destroy{Ids: []uuid.UUID{mine}, Code: "MER-24"})
	if a := o.hanne.Do("POST", "/api/deletions/destruction", contract.Destroy{Ids: []uuid.UUID{mine}, Code: "MER"}); a.Code() != "code-differs" {
		t.Errorf("%+v", a)
	}
	_, stranger := o.account("stranger", accounts.Colleague)
	for _, d := range []uuid.UUID{mine, uuid.New()} {
		stranger.Want(404, "POST", "/api/deletions/"+d.String()+"/request", nil)
	}
	notices := func(c *testkit.Client) (n int) {
		for _, notice := range testkit.Get[[]contract.Notice](c, "/api/notices") {
			if notice.Kind == contract.NoticeKindWantedBack {
				n++
			}
		}
		return n
	}
	for range 3 {
		o.priya.Want(202, "POST", "/api/deletions/"+mine.String()+"/request", nil)
	}
	if notices(o.tomasz) != 1 || notices(o.hanne) != 1 || notices(o.priya) != 0 {
		t.Errorf("told: Tomasz %d times, Hanne %d, Priya %d", notices(o.tomasz), notices(o.hanne), notices(o.priya))
	}
	bring(o.tomasz, 200, false, mine)
	o.sound()
}

// Of two who bring back at once one does; what is deleted twice at once is deleted once.
func TestDeletingAndBringingBackAtOnce(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	for n := range 6 {
		doc := o.hanne.Upload(o.reports, "", fmt.Sprintf("paper %d.txt", n), []byte("x")).Document.Id
		at := func(path string, body any) (done int) {
			var all sync.WaitGroup
			status := make([]int, 8)
			for i := range status {
				all.Go(func() { status[i] = o.hanne.Do("POST", path, body).Status })
			}
			all.Wait()
			for _, s := range status {
				switch s {
				case 200:
					done++
				case 404:
				default:
					t.Errorf("%s: %d", path, s)
				}
			}
			return done
		}
		if done := at("/api/deletions", contract.Delete{Items: []uuid.UUID{doc}}); done != 1 {
			t.Errorf("deleted %d times", done)
		}
		d := o.deleted(o.hanne)[0].Id
		if done := at("/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{d}}); done != 1 {
			t.Errorf("brought back %d times", done)
		}
	}
	o.sound()
}

// What is destroyed leaves the store once nothing else needs it, frees its storage, and
// leaves its name on record. The keeping period is exact.
func TestDestroying(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	kept := strings.Repeat("kept by another ", 5000)
	alone := strings.Repeat("only here ", 5000)
	a := o.hanne.Upload(o.reports, "", "a.txt", []byte(kept)).Document.Id
	o.hanne.Upload(o.reports, "", "b.txt", []byte(kept))
	o.hanne.Upload(o.reports, "", "c.txt", []byte("first"))
	c := o.hanne.Upload(o.reports, "", "c.txt", []byte(alone)).Document.Id
	places := func() (n int) {
		if err := o.App.Content.Places(func(uuid.UUID, time.Time) error { n++; return nil }); err != nil {
			t.Fatal(err)
		}
		return n
	}
	used := func() int64 { return testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24").Storage.Used }
	was, stored := places(), used()
	d := o.deletes(o.hanne, a, c)
	both := testkit.Get[contract.DeletionPage](o.hanne, "/api/deletions?mine=true")
	if len(both.Rows) != 2 || both.KeptDays != 60 || used() != stored {
		t.Fatalf("%+v", both)
	}
	o.hanne.Want(204, "POST", "/api/deletions/destruction", contract.Destroy{Ids: []uuid.UUID{both.Rows[0].Id, both.Rows[1].Id}, Code: "MER-24"})
	waitFor(t, func() bool { return places() == was-2 })
	if freed := stored - used(); freed != int64(len(kept)+len(alone)+len("first")) {
		t.Errorf("%d bytes are freed", freed)
	}
	if report, err := o.App.Care.Verify(t.Context()); err != nil || !report.Sound() || len(report.Orphans) != 0 {
		t.Errorf("%+v, %v", report, err)
	}
	o.hanne.Want(404, "POST", "/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{d}})
	if events := string(o.hanne.Do("GET", "/api/activity?dossier=MER-24", nil).Body); !strings.Contains(events, "document.destroyed") || !strings.Contains(events, "c.txt") {
		t.Error("nobody knows what was destroyed")
	}

	// Until its last moment it can be brought back, and after it neither brought back nor found.
	e := o.hanne.Upload(o.reports, "", "e.txt", []byte("e")).Document.Id
	d = o.deletes(o.hanne, e)
	o.Later(60*24*time.Hour - time.Minute)
	o.hanne = o.SignIn("hanne")
	if rows := o.deleted(o.hanne); len(rows) != 1 || rows[0].Left != 1 {
		t.Errorf("%+v", rows)
	}
	if err := o.App.Jobs.Do(t.Context(), "destroy what was kept long enough"); err != nil {
		t.Fatal(err)
	}
	o.bringsBack(o.hanne, false, d)
	d = o.deletes(o.hanne, e)
	o.Later(60*24*time.Hour + time.Second)
	o.hanne = o.SignIn("hanne")
	if rows := o.deleted(o.hanne); len(rows) != 0 {
		t.Errorf("%+v", rows)
	}
	o.hanne.Want(404, "POST", "/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{d}})
	if err := o.App.Jobs.Do(t.Context(), "destroy what was kept long enough"); err != nil {
		t.Fatal(err)
	}
	var left int
	if err := o.App.DB.Get(&left, `SELECT (SELECT count(*) FROM deletions) + (SELECT count(*) FROM versions WHERE item_id = $1)`, e); err != nil || left != 0 {
		t.Errorf("%d rows are left, %v", left, err)
	}
	o.sound()
}

// Deleting while somebody uploads into it, and while somebody downloads it.
func TestDeletingMeanwhile(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	large := make([]byte, 32<<20)
	doc := o.hanne.Upload(o.reports, "", "large.bin", large).Document.Id
	resp, err := o.hanne.HTTP.Get(o.URL + "/api/documents/" + doc.String() + "/content")
	if err != nil {
		t.Fatal(err)
	}
	defer resp.Body.Close()
	folder := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.reports), contract.NewName{Name: "into"}).Id
	var all sync.WaitGroup
	for n := range 6 {
		all.Go(func() {
			// What comes too late is refused, and what was in time goes along.
			if a := uploaded(o.hanne, folder, fmt.Sprintf("%d.txt", n), "x"); a.Status != 200 && a.Status != 404 && a.Code() != "incomplete" {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	d := o.deletes(o.hanne, doc, folder)
	all.Wait()
	o.sound()
	o.hanne.Want(http.StatusNotFound, "GET", "/api/folders/"+folder.String()+"/register", nil)
	o.bringsBack(o.hanne, false, d)
	o.sound()
}

// What was deleted comes back in another folder, of this dossier or of another, under what
// moving there demands; its own folder stays away.
func TestBringingBackElsewhere(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	clientID, client := o.account("client", accounts.Guest)
	made := func(in uuid.UUID, name string) uuid.UUID {
		return testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", in), contract.NewName{Name: name}).Id
	}
	folder, other := made(o.reports, "Gauging"), made(o.top, "Shared")
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{other}, to(clientID)))
	inner := made(folder, "Inner")
	one := o.hanne.Upload(folder, "", "one.txt", []byte("one")).Document
	two := o.hanne.Upload(inner, "", "two.txt", []byte("two")).Document
	o.hanne.Upload(other, "", "one.txt", []byte("another one"))
	first, whole := o.deletes(o.hanne, one.Id), o.deletes(o.hanne, folder)

	// What it would mean is said before.
	what := func(items ...uuid.UUID) contract.WhatIf {
		return contract.WhatIf{BringBack: &contract.Move{Items: items, To: other}}
	}
	x := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", what(one.Id, folder))
	if x.Documents != 2 || !strings.Contains(effects(x), "client +2") {
		t.Errorf("%d: %s", x.Documents, effects(x))
	}
	o.hanne.Want(404, "POST", "/api/access/what-if", what(two.Id, o.plan))
	client.Want(403, "POST", "/api/access/what-if", what(one.Id)) // She adds nothing there.

	back := func(c *testkit.Client, status int, to uuid.UUID, ids ...uuid.UUID) testkit.Answer {
		t.Helper()
		return c.Want(status, "POST", "/api/deletions/return", contract.BringBack{Ids: ids, To: &to})
	}
	back(o.priya, 403, o.top, first)      // She only looks.
	back(client, 403, other, first)       // She adds nothing there.
	back(o.hanne, 404, uuid.New(), first) // Nowhere.
	back(o.hanne, 404, one.Id, first)     // A document is no folder.
	back(o.hanne, 404, folder, whole)     // Nothing comes back into itself.
	back(o.hanne, 404, inner, first)      // Nor into what is deleted.
	o.sound()
	if rows := o.deleted(o.hanne); len(rows) != 2 {
		t.Fatalf("a refusal changed something: %+v", rows)
	}

	back(o.hanne, 200, other, first)
	o.sound()
	got := testkit.Get[contract.Document](client, "/api/documents/"+one.Id.String())
	if got.Name != "one (2).txt" || got.FolderId != other || got.Ref != one.Ref {
		t.Errorf("%+v", got)
	}
	o.hanne.Want(404, "GET", "/api/folders/"+folder.String()+"/register", nil)
	back(o.hanne, 200, other, whole)
	o.sound()
	if got := testkit.Get[contract.Document](client, "/api/documents/"+two.Id.String()); got.FolderName != "Inner" || got.Ref != two.Ref {
		t.Errorf("%+v", got)
	}
	if page := testkit.Get[contract.RegisterPage](client, "/api/folders/"+inner.String()+"/register"); page.Total != 1 {
		t.Errorf("%+v", page)
	}

	// In another dossier it gets a number of that one.
	d := testkit.Post[contract.Dossier](o.hanne, 201, "/api/dossiers", contract.NewDossier{Code: "OTH-1", Name: "Another", Kind: "internal"})
	gone := o.deletes(o.hanne, one.Id)
	back(o.luca, 404, d.Id, gone)
	back(o.hanne, 200, d.Id, gone)
	o.sound()
	if got := testkit.Get[contract.Document](o.hanne, "/api/documents/"+one.Id.String()); got.Ref != "OTH-1/001" || got.Name != "one (2).txt" {
		t.Errorf("%+v", got)
	}
	// Sixteen at once bring one thing back once.
	gone = o.deletes(o.hanne, one.Id)
	var there atomic.Int32
	var all sync.WaitGroup
	for i := range 16 {
		all.Go(func() {
			goal := []uuid.UUID{other, o.top, d.Id, o.reports}[i%4]
			if o.hanne.Do("POST", "/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{gone}, To: &goal}).Status == 200 {
				there.Add(1)
			}
		})
	}
	all.Wait()
	o.sound()
	if there.Load() != 1 {
		t.Errorf("it came back %d times", there.Load())
	}
}

// More than a page of what was deleted is listed to its end.
func TestManyDeletions(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	for i := range 3 {
		o.deletes(o.hanne, o.hanne.Upload(o.reports, "", fmt.Sprintf("%d.txt", i), []byte("x")).Document.Id)
	}
	first := testkit.Get[contract.DeletionPage](o.hanne, "/api/deletions?dossier=MER-24&limit=2")
	if len(first.Rows) != 2 || first.Next == nil {
		t.Fatalf("%d rows", len(first.Rows))
	}
	for _, limit := range []string{"0", "201", "-1", "many"} {
		o.hanne.Want(400, "GET", "/api/deletions?limit="+limit, nil)
	}
	if rest := testkit.Get[contract.DeletionPage](o.hanne, "/api/deletions?dossier=MER-24&limit=2&before="+*first.Next); len(rest.Rows) != 1 || rest.Rows[0].Name != "0.txt" || rest.Next != nil {
		t.Errorf("%+v", rest)
	}
}
