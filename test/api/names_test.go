package api_test

import (
	"fmt"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A name that is hidden answers like a free one, by whatever way a name is given,
// and nothing is written into what is hidden.
func TestHiddenNamesAreLikeFreeOnes(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	close := func(id uuid.UUID) {
		o.hanne.Want(204, "PUT", "/api/items/"+id.String()+"/closed", contract.Closed{Closed: true})
	}
	folder := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.top), contract.NewName{Name: "Fees"}).Id
	paper := o.hanne.Upload(o.top, "", "fees.txt", []byte("fees")).Document.Id
	close(o.hanne.Upload(o.top, "", "bills.txt", []byte("bills")).Document.Id)
	inside := o.hanne.Upload(folder, "", "sums.txt", []byte("sums")).Document.Id
	close(folder)
	close(paper)

	// By uploading: a document, a path through the hidden folder, through the hidden
	// document, and one that does not exist, all answer alike.
	for path, name := range map[string]string{"": "fees.txt", "Fees": "sums.txt", "fees": "other.txt", "bills.txt": "x.txt", "free": "y.txt"} {
		got := o.luca.Upload(o.top, path, name, []byte("mine: "+path))
		if got.Outcome != "document" || got.Document.Name != name {
			t.Errorf("%s/%s: %s %s", path, name, got.Outcome, got.Document.Name)
		}
	}
	if a := o.luca.Do("GET", "/api/documents/"+inside.String(), nil); a.Status != 404 {
		t.Errorf("the hidden document: %d", a.Status)
	}
	wantNames(t, "what is hidden", o.sees(o.hanne, folder), "sums.txt")
	// What one sees oneself is found again: the same path leads to the same folder.
	first, second := o.luca.Upload(o.top, "Fees", "more.txt", []byte("more")), o.luca.Upload(o.top, "FEES", "sums.txt", []byte("again"))
	if first.Document.FolderId == folder || first.Document.FolderId != second.Document.FolderId || second.Version != 2 {
		t.Errorf("%+v and %+v", first, second)
	}
	// By making, renaming, moving and keeping apart.
	o.luca.Want(409, "POST", fmt.Sprintf("/api/folders/%s/folders", o.top), contract.NewName{Name: "fees"})
	close(testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.yard), contract.NewName{Name: "Accounts"}).Id)
	o.luca.Want(201, "POST", fmt.Sprintf("/api/folders/%s/folders", o.yard), contract.NewName{Name: "ACCOUNTS"})
	close(o.hanne.Upload(o.yard, "", "draft.txt", []byte("hers")).Document.Id)
	close(o.hanne.Upload(o.yard, "", "taken.txt", []byte("hers")).Document.Id)
	if a := o.move(o.luca, o.yard, o.draft); a.Status != 204 {
		t.Errorf("moving: %d %s", a.Status, a.Body)
	}
	o.luca.Want(204, "PUT", "/api/items/"+o.draft.String()+"/name", contract.NewName{Name: "taken.txt"})
	o.luca.Want(409, "PUT", "/api/items/"+o.plan.String()+"/name", contract.NewName{Name: "Between us"})
	wantNames(t, "luca's yard", o.sees(o.luca, o.yard), "taken.txt")
	wantNames(t, "hanne's yard", o.sees(o.hanne, o.yard), "draft.txt", "taken.txt", "taken.txt")
	o.sound()
}

// Every folder of a path is decided like the first: what may only be looked at is
// not written into, and whoever only deposits learns no name.
func TestPathsAreDecidedFolderByFolder(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.inner}, to(o.People["luca"].ID)))
	if a := o.luca.Begin(o.reports, "Between us", "x.txt", 0); a.Status != 403 {
		t.Errorf("into what may only be looked at: %d %s", a.Status, a.Body)
	}
	o.invite()
	o.give(o.hanne, wish(contract.LevelDeposit, []uuid.UUID{o.yard}, to(o.guestID)))
	theirs := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.yard), contract.NewName{Name: "Photos"}).Id
	o.hanne.Upload(theirs, "", "1.txt", []byte("hers"))
	for n := range 3 {
		got := o.guest.Upload(o.yard, "Photos", fmt.Sprintf("%d.txt", n), []byte(fmt.Sprint("guest's ", n)))
		if got.Outcome != "document" || got.Document.Name != fmt.Sprintf("%d.txt", n) || got.Document.FolderId == theirs {
			t.Errorf("%d: %+v", n, got)
		}
	}
	if got := testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24"); len(got.Folders) != 6 {
		t.Errorf("%d folders, want the top, four that were there, and the guest's one", len(got.Folders))
	}
	o.sound()
}
