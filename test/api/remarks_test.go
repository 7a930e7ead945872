package api_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"net/url"
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
		doc := o.hanne.Upload(o.top, "", "talked about.txt", []byte("talk")).Document.Id
		at := "/items/" + doc.String() + "/remarks"
		said := o.says(o.hanne, doc, contract.NewRemark{Text: "first"})
		one := "/remarks/" + said.String()
		return []endpoint{
			{"GET", "/items/{id}/remarks", at, nil, paper(access.See)},
			{"PUT", "/items/{id}/remarks/seen", at + "/seen", nil, paper(access.See)},
			{"GET", "/items/{id}/remarks/people", at + "/people", nil, paper(access.See | access.Remark)},
			{"POST", "/items/{id}/remarks", at, contract.NewRemark{Text: "x", Place: &contract.RemarkPlace{Kind: "star"}}, paper(access.See | access.Remark)},
			{"PUT", "/remarks/{id}/tick", one + "/tick", nil, paper(access.See | access.Remark)},
			{"DELETE", "/remarks/{id}/tick", one + "/tick", nil, paper(access.See | access.Remark)},
			{"PUT", "/remarks/{id}/resolution", one + "/resolution", nil, paper(access.See | access.Remark)},
			{"DELETE", "/remarks/{id}/resolution", one + "/resolution", nil, paper(access.See | access.Remark)},
		}
	})
	apart["PUT /remarks/{id}"] = "only who said it; see TestTalking"
	apart["DELETE /remarks/{id}"] = "only who said it, and managers; see TestTalking"
}

func (o *office) says(c *testkit.Client, item uuid.UUID, r contract.NewRemark) uuid.UUID {
	o.T.Helper()
	return testkit.Post[contract.RemarkMade](c, 201, "/api/items/"+item.String()+"/remarks", r).Id
}

func (o *office) remarks(c *testkit.Client, item uuid.UUID, query string) contract.RemarkPage {
	o.T.Helper()
	return testkit.Get[contract.RemarkPage](c, "/api/items/"+item.String()+"/remarks"+query)
}

func (o *office) noticesOf(c *testkit.Client, kind string) (n int) {
	o.T.Helper()
	for _, one := range testkit.Get[[]contract.Notice](c, "/api/notices") {
		if string(one.Kind) == kind {
			n++
		}
	}
	return n
}

// People talk in threads: who is named is told, once on the page and once by mail; what is
// unread is marked; own words can be changed and taken away, threads settled and opened.
func TestTalking(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	luca, hanne := o.People["luca"].ID, o.People["hanne"].ID
	first := o.says(o.hanne, o.plan, contract.NewRemark{Text: "Which frames, @Luca Ferrante?", Mentions: &[]uuid.UUID{luca, luca}, Place: &contract.RemarkPlace{Kind: "passage", Words: ptr("plan")}})
	if o.noticesOf(o.luca, "mentioned") != 1 || o.noticesOf(o.priya, "mentioned") != 0 {
		t.Error("Luca alone is told")
	}
	p := o.remarks(o.luca, o.plan, "")
	if p.Total != 1 || p.Unread != 1 || p.Named != 1 || !p.MayRemark || p.Threads[0].Version == nil || *p.Threads[0].Version != 1 || !p.Threads[0].Carried || len(p.Threads[0].Remarks[0].Mentions) != 1 || !p.Threads[0].Remarks[0].Unread {
		t.Errorf("%+v", p)
	}
	answer := o.says(o.luca, o.plan, contract.NewRemark{Text: "29 to 33", Thread: &first})
	o.says(o.luca, o.plan, contract.NewRemark{Text: "of them four", Thread: &first})
	if o.noticesOf(o.hanne, "answered") != 1 {
		t.Error("Hanne is told of answers once until she has looked")
	}
	o.luca.Want(204, "PUT", "/api/items/"+o.plan.String()+"/remarks/seen", nil)
	if p := o.remarks(o.luca, o.plan, ""); p.Unread != 0 || p.Named != 0 || len(p.Threads[0].Remarks) != 3 || p.Threads[0].Remarks[1].Text != "29 to 33" {
		t.Errorf("%+v", p)
	}
	// Priya may look, and sees what is said; nobody changes another's words.
	if p := o.remarks(o.priya, o.plan, ""); p.MayRemark || p.Threads[0].Remarks[1].MayChange || p.Threads[0].Remarks[1].MayRemove {
		t.Errorf("%+v", p)
	}
	at := "/api/remarks/" + answer.String()
	o.hanne.Want(403, "PUT", at, contract.RemarkEdit{Text: "30"})
	o.priya.Want(403, "DELETE", at, nil)
	o.tomasz.Want(404, "PUT", at, contract.RemarkEdit{Text: "30"})
	o.tomasz.Want(404, "DELETE", at, nil)
	o.luca.Want(204, "PUT", at, contract.RemarkEdit{Text: "28 to 33, @Hanne Solvik", Mentions: &[]uuid.UUID{hanne}})
	o.luca.Want(204, "PUT", at, contract.RemarkEdit{Text: "28 to 33, @Hanne Solvik!", Mentions: &[]uuid.UUID{hanne}})
	if o.noticesOf(o.hanne, "mentioned") != 1 {
		t.Error("Hanne is told once that she is named")
	}
	// A tick is an answer without words, each person's own.
	for range 2 {
		o.hanne.Want(204, "PUT", at+"/tick", nil)
	}
	if r := o.remarks(o.hanne, o.plan, "").Threads[0].Remarks[1]; len(r.Ticks) != 1 || r.Ticks[0].Id != hanne || r.Edited == nil {
		t.Errorf("%+v", r)
	}
	o.hanne.Want(204, "DELETE", at+"/tick", nil)
	// Settled and opened again.
	o.luca.Want(204, "PUT", "/api/remarks/"+first.String()+"/resolution", nil)
	if p := o.remarks(o.hanne, o.plan, "?show=open"); len(p.Threads) != 0 || p.Resolved != 1 {
		t.Errorf("%+v", p)
	}
	o.hanne.Want(204, "DELETE", "/api/remarks/"+first.String()+"/resolution", nil)
	if a := o.hanne.Do("PUT", at+"/resolution", nil); a.Status != 404 {
		t.Errorf("an answer is settled: %d", a.Status)
	}
	// Filters of one's own.
	other := o.says(o.hanne, o.plan, contract.NewRemark{Text: "another"})
	for query, want := range map[string]int{"": 2, "?show=open": 2, "?show=mine": 1, "?show=unread": 1} {
		if p := o.remarks(o.luca, o.plan, query); len(p.Threads) != want {
			t.Errorf("%s: %+v", query, p)
		}
	}
	// Taken away: with answers it stays empty, without it is gone.
	o.hanne.Want(204, "DELETE", "/api/remarks/"+first.String(), nil)
	o.hanne.Want(404, "DELETE", "/api/remarks/"+first.String(), nil)
	o.hanne.Want(204, "DELETE", "/api/remarks/"+other.String(), nil)
	if p := o.remarks(o.luca, o.plan, ""); len(p.Threads) != 1 || !p.Threads[0].Remarks[0].Removed || p.Threads[0].Remarks[0].Text != "" || strings.Contains(fmt.Sprint(p), "Which frames") {
		t.Errorf("%+v", p)
	}
	// By mail Hanne, who has not looked, is told once; Luca has seen it on the page.
	o.Later(5 * time.Minute)
	for range 2 {
		o.duty("mail who was named in remarks")
	}
	mailed := func(who string) (all []string) {
		for _, m := range o.Mail.Messages(o.People[who].Email) {
			if strings.Contains(m.Subject, "names you") {
				all = append(all, m.Text)
			}
		}
		return all
	}
	waitFor(t, func() bool { return len(mailed("hanne")) > 0 })
	if all := mailed("hanne"); len(all) != 1 || !strings.Contains(all[0], "28 to 33") || !strings.Contains(all[0], "/d/MER-24/") || len(mailed("luca")) != 0 {
		t.Errorf("%+v, %+v", all, mailed("luca"))
	}
	// What happened stands in the activity, without what was said.
	a := string(o.hanne.Do("GET", "/api/activity", nil).Body)
	if !strings.Contains(a, `"remark.written"`) || !strings.Contains(a, `"remark.resolved"`) || strings.Contains(a, "28 to 33") {
		t.Error("the activity")
	}
}

// Places come along to a further version where what is written there is found again.
func TestRemarksComeAlong(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.hanne.Upload(o.reports, "", "report.txt", []byte("The plating was cleaned.\n31 of 44 readings lie within 20 %.\nThe cause is the coating.")).Document.Id
	stays := o.says(o.hanne, doc, contract.NewRemark{Text: "32 now", Place: &contract.RemarkPlace{Kind: "passage", Words: ptr("44 readings lie")}})
	o.says(o.hanne, doc, contract.NewRemark{Text: "sure?", Place: &contract.RemarkPlace{Kind: "passage", Words: ptr("the cause is")}})
	o.hanne.Upload(o.reports, "", "report.txt", []byte("The plating was cleaned\nand gauged. 32 of 44\nreadings lie within 20 %."))
	waitFor(t, func() bool {
		for _, th := range o.remarks(o.hanne, doc, "").Threads {
			if th.Carried != (th.Id == stays) || *th.Version != 1 {
				return false
			}
		}
		return true
	})
	// One that comes back is found again.
	o.hanne.Upload(o.reports, "", "report.txt", []byte("44 readings lie. The cause is wear."))
	waitFor(t, func() bool {
		return !slices.ContainsFunc(o.remarks(o.hanne, doc, "").Threads, func(th contract.RemarkThread) bool { return !th.Carried })
	})
	// Of an older version one can still speak, and of none that is not there.
	o.says(o.hanne, doc, contract.NewRemark{Text: "of the first", Version: ptr(1)})
	if a := o.hanne.Do("POST", "/api/items/"+doc.String()+"/remarks", contract.NewRemark{Text: "x", Version: ptr(9)}); a.Code() != "remark-version" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	o.hanne.Want(204, "DELETE", "/api/documents/"+doc.String()+"/versions/1", nil)
	if a := o.hanne.Do("POST", "/api/items/"+doc.String()+"/remarks", contract.NewRemark{Text: "x", Version: ptr(1)}); a.Code() != "remark-version" {
		t.Errorf("of a removed version: %d %s", a.Status, a.Body)
	}
	if p := o.remarks(o.hanne, doc, ""); p.Total != 3 {
		t.Errorf("%+v", p)
	}
}

// Nobody learns by remarks of what they do not see, nor is named who cannot see it.
func TestRemarksKeepToWhoSees(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	clientID, client := o.account("client", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelRemark, []uuid.UUID{o.plan}, to(clientID)))
	inside := o.says(o.hanne, o.draft, contract.NewRemark{Text: "between us"})
	at := "/api/items/" + o.draft.String() + "/remarks"
	for _, way := range []string{at, at + ".csv", at + ".pdf", at + "/people"} {
		client.Want(404, "GET", way, nil)
		o.tomasz.Want(404, "GET", way, nil)
	}
	client.Want(404, "POST", at, contract.NewRemark{Text: "hello"})
	client.Want(404, "PUT", "/api/remarks/"+inside.String()+"/tick", nil)
	client.Want(404, "PUT", "/api/remarks/"+inside.String()+"/resolution", nil)
	// An answer on one thing to what was said of another.
	client.Want(404, "POST", "/api/items/"+o.plan.String()+"/remarks", contract.NewRemark{Text: "hello", Thread: &inside})
	o.hanne.Want(404, "POST", "/api/items/"+o.plan.String()+"/remarks", contract.NewRemark{Text: "hello", Thread: &inside})
	// Whom one can name: who sees it, as far as one may know them.
	nameable := func(c *testkit.Client, item uuid.UUID) string {
		var names []string
		for _, p := range testkit.Get[[]contract.Person](c, "/api/items/"+item.String()+"/remarks/people") {
			names = append(names, p.Name)
		}
		return strings.Join(names, ", ")
	}
	if all := nameable(o.hanne, o.plan); !strings.Contains(all, "client") || strings.Contains(all, o.People["tomasz"].Name) || !strings.Contains(all, o.People["priya"].Name) {
		t.Error(all)
	}
	if all := nameable(o.hanne, o.draft); strings.Contains(all, "client") {
		t.Error(all)
	}
	for _, blind := range []uuid.UUID{o.People["tomasz"].ID, clientID, uuid.New()} {
		if a := o.hanne.Do("POST", at, contract.NewRemark{Text: "hello", Mentions: &[]uuid.UUID{blind}}); a.Code() != "mention-unseen" {
			t.Errorf("%d %s", a.Status, a.Body)
		}
	}
	// A group stands for those of it who see the thing.
	g := testkit.Post[contract.GroupMade](o.hanne, 201, "/api/groups", contract.NewName{Name: "Surveyors"})
	for _, who := range []string{"luca", "tomasz"} {
		o.hanne.Want(204, "POST", "/api/groups/"+g.Id.String()+"/members", contract.NewMember{Person: ptr(o.People[who].ID)})
	}
	o.says(o.hanne, o.draft, contract.NewRemark{Text: "@Surveyors", Mentions: &[]uuid.UUID{g.Id}})
	if o.noticesOf(o.luca, "mentioned") != 1 || o.noticesOf(o.tomasz, "mentioned") != 0 {
		t.Error("the group")
	}
	// The client speaks where they may; told of an answer no more once they are out.
	first := o.says(client, o.plan, contract.NewRemark{Text: "Is this the old indent?", Place: &contract.RemarkPlace{Kind: "page", Page: ptr(1)}})
	if p := o.remarks(o.hanne, o.plan, ""); !p.Threads[0].Remarks[0].Guest {
		t.Errorf("%+v", p)
	}
	o.says(o.hanne, o.plan, contract.NewRemark{Text: "yes, @client", Thread: &first, Mentions: &[]uuid.UUID{clientID}})
	o.hanne.Want(204, "DELETE", "/api/access/"+o.grants(o.plan)[0].ID.String(), nil)
	client.Want(404, "GET", "/api/items/"+o.plan.String()+"/remarks", nil)
	client.Want(404, "DELETE", "/api/remarks/"+first.String(), nil)
	o.Later(5 * time.Minute)
	o.duty("mail who was named in remarks")
	// With the document, what was said of it goes and comes back; destroyed, it is gone.
	d := o.deletes(o.hanne, o.draft)
	o.hanne.Want(404, "GET", at, nil)
	o.hanne.Want(404, "PUT", "/api/remarks/"+inside.String()+"/tick", nil)
	o.bringsBack(o.hanne, false, d)
	if p := o.remarks(o.hanne, o.draft, ""); p.Total != 2 {
		t.Errorf("%+v", p)
	}
	d = o.deletes(o.hanne, o.draft)
	o.hanne.Want(204, "POST", "/api/deletions/destruction", contract.Destroy{Ids: []uuid.UUID{d}, Code: "MER-24"})
	var left int
	if err := o.App.DB.Get(&left, `SELECT count(*) FROM remarks WHERE item_id = $1`, o.draft); err != nil || left != 0 {
		t.Errorf("%d are left, %v", left, err)
	}
}

// What is refused, and floods.
func TestRemarksThatAreRefused(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	at := "/api/items/" + o.plan.String() + "/remarks"
	many := make([]uuid.UUID, 51)
	for i := range many {
		many[i] = uuid.New()
	}
	for code, r := range map[string]contract.NewRemark{
		"remark-empty":    {Text: " \n"},
		"remark-not-text": {Text: "a\x01b"},
		"remark-long":     {Text: strings.Repeat("x", 10001)},
		"mentions-count":  {Text: "x", Mentions: &many},
		"remark-place":    {Text: "x", Place: &contract.RemarkPlace{Kind: "point", Page: ptr(1), X: ptr(1.5)}},
	} {
		if a := o.hanne.Do("POST", at, r); a.Code() != code {
			t.Errorf("%s: %d %s", code, a.Status, a.Body)
		}
	}
	if a := o.hanne.Do("POST", "/api/items/"+o.reports.String()+"/remarks", contract.NewRemark{Text: "x", Place: &contract.RemarkPlace{Kind: "page", Page: ptr(1)}}); a.Code() != "remark-place" {
		t.Errorf("a place of a folder: %d %s", a.Status, a.Body)
	}
	o.says(o.hanne, o.reports, contract.NewRemark{Text: "of a folder"})
	o.says(o.hanne, o.top, contract.NewRemark{Text: "of a dossier"})
	if a := o.hanne.Do("GET", at+"?before="+url.QueryEscape("x y"), nil); a.Code() != "cursor-unknown" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	// However many come at once, so many are taken, and the others are told to wait.
	var all sync.WaitGroup
	var taken, refused atomic.Int32
	for range 10 {
		all.Go(func() {
			for range 8 {
				switch a := o.luca.Do("POST", at, contract.NewRemark{Text: "=1+1"}); {
				case a.Status == 201:
					taken.Add(1)
				case a.Status == 429 && a.Code() == "remarks-many":
					refused.Add(1)
				default:
					t.Errorf("%d %s", a.Status, a.Body)
				}
			}
		})
	}
	all.Wait()
	if taken.Load() != 60 || refused.Load() != 20 {
		t.Errorf("%d taken, %d refused", taken.Load(), refused.Load())
	}
	// In a table nothing is a formula; on paper it can be read.
	rows, err := csv.NewReader(bytes.NewReader(o.hanne.Want(200, "GET", at+".csv", nil).Body)).ReadAll()
	if err != nil || len(rows) != 61 || rows[1][5] != "'=1+1" {
		t.Errorf("%d rows, %v", len(rows), err)
	}
	if raw := o.hanne.Want(200, "GET", at+".pdf", nil).Body; !bytes.HasPrefix(raw, []byte("%PDF-")) {
		t.Errorf("%.20q", raw)
	}
	o.Later(11 * time.Minute)
	o.says(o.luca, o.plan, contract.NewRemark{Text: "later"})
}

// A hundred thousand remarks on one document stay readable, page by page.
func TestManyRemarks(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	many := testkit.Soaking(20_000, 100_000)
	if _, err := o.App.DB.Exec(`INSERT INTO remarks (id, item_id, thread_id, person_id, said, at, version) SELECT x.id, $1, x.id, $2, 'remark ' || n, now() - n * interval '1 second', 1
		FROM (SELECT n, gen_random_uuid() AS id FROM generate_series(1, $3::int) n) x`, o.plan, o.People["luca"].ID, many); err != nil {
		t.Fatal(err)
	}
	p := o.remarks(o.hanne, o.plan, "")
	if p.Total != many || p.Unread != many || len(p.Threads) != 100 || p.Threads[0].Remarks[0].Text != "remark 1" || p.Next == nil {
		t.Fatalf("%d, %d, %d", p.Total, p.Unread, len(p.Threads))
	}
	if q := o.remarks(o.hanne, o.plan, "?before="+*p.Next); q.Threads[0].Remarks[0].Text != "remark 101" {
		t.Errorf("%s", q.Threads[0].Remarks[0].Text)
	}
}
