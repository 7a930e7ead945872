package api_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A manager deletes a dossier: it is gone from everywhere for everybody, its links are dead,
// its code stays taken; and it comes back with all that was in it.
func TestADossierIsDeletedAndBroughtBack(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	dossier := testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24")
	earlier := o.hanne.Upload(o.reports, "", "deleted before.txt", []byte("deleted before")).Document.Id
	before := o.deletes(o.hanne, earlier)
	_, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.plan}})
	dossier = testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24")
	luca := o.SignIn("luca")
	for name, c := range map[string]struct {
		by     *testkit.Client
		status int
	}{"who may only change what is in it": {luca, 403}, "who does not see it": {o.SignIn("tomasz"), 404}, "nobody": {o.Visitor(), 401}} {
		if a := c.by.Do("POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{dossier.Id}}); a.Status != c.status {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	desk := testkit.Post[contract.DossierRow](luca, 200, "/api/desk", nil)
	if a := luca.Do("POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{desk.Id}}); a.Code() != "desk-stays" {
		t.Errorf("a desk: %d %s", a.Status, a.Body)
	}
	d := o.deletes(o.hanne, dossier.Id)
	for _, c := range []*testkit.Client{o.hanne, luca} {
		for _, path := range []string{"/api/dossiers/MER-24", "/api/documents/" + o.plan.String(), "/api/folders/" + o.reports.String() + "/register", "/api/documents/" + o.plan.String() + "/content", "/api/keeping?dossier=MER-24"} {
			if a := c.Do("GET", path, nil); a.Status != 404 {
				t.Errorf("%s: %d %.200s", path, a.Status, a.Body)
			}
		}
		for _, path := range []string{"/api/dossiers", "/api/find?words=Corran", "/api/links"} {
			if a := c.Do("GET", path, nil); strings.Contains(string(a.Body), dossier.Name) {
				t.Errorf("%s names it: %.300s", path, a.Body)
			}
		}
	}
	if a := o.Visitor().Do("POST", "/api/visits/"+token, contract.OpenLink{}); a.Code() != "link-over" {
		t.Errorf("its link: %d %s", a.Status, a.Body)
	}
	if a := o.hanne.Do("POST", "/api/dossiers", contract.NewDossier{Code: "MER-24", Name: "Another", Kind: "internal"}); a.Status != 409 {
		t.Errorf("its code: %d %s", a.Status, a.Body)
	}
	// What was deleted in it before waits for it.
	if a := o.hanne.Do("POST", "/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{before}}); a.Code() != "dossier-gone" {
		t.Errorf("something in it: %d %s", a.Status, a.Body)
	}
	rows := testkit.Get[contract.DeletionPage](o.hanne, "/api/deletions?mine=true").Rows
	if len(rows) != 2 || !rows[0].Whole || rows[0].Code != "MER-24" || rows[0].Documents != dossier.Documents {
		t.Errorf("what is deleted: %+v", rows)
	}
	if a := string(o.hanne.Do("GET", "/api/activity", nil).Body); !strings.Contains(a, `"dossier.deleted"`) {
		t.Error("nobody knows who deleted it")
	}
	luca.Want(403, "POST", "/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{d}})
	luca.Want(202, "POST", "/api/deletions/"+d.String()+"/request", nil)

	o.bringsBack(o.hanne, true, d)
	back := testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24")
	if back.Documents != dossier.Documents || back.Storage.Used != dossier.Storage.Used || len(back.Folders) != len(dossier.Folders) {
		t.Errorf("%+v came back of %+v", back, dossier)
	}
	if a := o.Visitor().Do("POST", "/api/visits/"+token, contract.OpenLink{}); a.Status != 204 {
		t.Errorf("its link again: %d %s", a.Status, a.Body)
	}
	o.bringsBack(o.hanne, false, before)
	o.sound()

	// Destroyed for good: its content is gone, its code still taken.
	d = o.deletes(o.hanne, dossier.Id)
	o.hanne.Want(204, "POST", "/api/deletions/destruction", contract.Destroy{Ids: []uuid.UUID{d}, Code: "MER-24"})
	var left int
	if err := o.App.DB.Get(&left, `SELECT count(*) FROM versions v JOIN all_items i ON i.id = v.item_id WHERE i.dossier_id = $1`, dossier.Id); err != nil || left != 0 {
		t.Errorf("%d versions are left, %v", left, err)
	}
	o.hanne.Want(404, "POST", "/api/deletions/return", contract.BringBack{Ids: []uuid.UUID{d}})
	if a := o.hanne.Do("POST", "/api/dossiers", contract.NewDossier{Code: "MER-24", Name: "Another", Kind: "internal"}); a.Status != 409 {
		t.Errorf("its code: %d %s", a.Status, a.Body)
	}
	// By and by everything goes on without it.
	o.Later(time.Hour)
	for _, name := range o.App.Jobs.Names() {
		if err := o.App.Jobs.Do(t.Context(), name); err != nil {
			t.Error(fmt.Errorf("%s: %w", name, err))
		}
	}
}
