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
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		of := func(n int, way string) string { return fmt.Sprintf("/documents/%s/versions/%d%s", o.plan, n, way) }
		return []endpoint{
			{"PATCH", "/documents/{id}/versions/{number}", of(1, ""), contract.VersionWords{Note: ptr("as drawn")}, paper(access.Change)},
			{"DELETE", "/documents/{id}/versions/{number}", of(1, ""), nil, paper(access.Change)},
			{"POST", "/documents/{id}/adoption", "/documents/" + o.plan.String() + "/adoption", contract.Adopt{From: o.plan}, paper(access.Change)},
			{"GET", "/keeping", "/keeping?dossier=MER-24", nil, item(access.See)},
			{"PUT", "/keeping", "", contract.SetKeeping{Dossier: ptr("MER-24")}, item(access.Manage)},
			{"POST", "/keeping/draft", "", contract.SetKeeping{Dossier: ptr("MER-24")}, item(access.Manage)},
			{"POST", "/documents/{id}/versions/{number}/return", of(1, "/return"), nil, paper(access.Change)},
		}
	})
	apart["POST /documents/{id}/versions/{number}/restoration"] = "whoever may leaves nothing for the next one; see TestVersionsAreRemovedAndRestored"
}

func history(c *testkit.Client, document uuid.UUID) []contract.Version {
	return testkit.Get[contract.Document](c, "/api/documents/"+document.String()).Versions
}

// written says the history down: numbers, which counts, how they came about, what is said
// of them.
func written(all []contract.Version) string {
	var out []string
	for _, v := range all {
		s := fmt.Sprint(v.Number)
		if v.Counts {
			s += "*"
		}
		if v.BackFrom != nil {
			s += fmt.Sprintf("<%d", *v.BackFrom)
		}
		if v.Title != nil {
			s += " " + *v.Title
		}
		if v.Note != nil {
			s += fmt.Sprintf(" %q", *v.Note)
		}
		if v.Removed != nil {
			s += " removed by " + *v.Removed.By
		}
		out = append(out, s)
	}
	return strings.Join(out, "; ")
}

func (w *world) versioned(texts ...string) (id uuid.UUID, path string) {
	for _, text := range texts {
		id = w.luca.Upload(w.top, "", "report.txt", []byte(text)).Document.Id
	}
	return id, "/api/documents/" + id.String() + "/versions/"
}

// Bringing an older version back adds one and overwrites nothing; the content is the old.
func TestAnOlderVersionIsBroughtBack(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	id, path := w.versioned("one", "two", "three")
	w.priya.Want(403, "POST", path+"1/return", nil)
	w.tomasz.Want(404, "POST", path+"1/return", nil)
	if a := w.luca.Do("POST", path+"3/return", nil); a.Status != 409 || a.Code() != "version-counts" {
		t.Errorf("%+v", a)
	}
	w.luca.Want(404, "POST", path+"9/return", nil)
	if v := testkit.Post[contract.NewVersion](w.luca, 201, path+"1/return", nil); v.Number != 4 {
		t.Errorf("%+v", v)
	}
	all := history(w.luca, id)
	if got := written(all); got != "4*<1; 3; 2; 1" || all[0].Origin != "brought-back" || all[0].Sha256 != all[3].Sha256 {
		t.Errorf("%s, %s", got, all[0].Origin)
	}
	if a := w.luca.Do("GET", "/api/documents/"+id.String()+"/content", nil); string(a.Body) != "one" {
		t.Errorf("%s", a.Body)
	}
	if events := string(w.luca.Do("GET", "/api/activity?dossier=MER-24", nil).Body); !strings.Contains(events, "version.brought-back") {
		t.Error("nobody knows")
	}
	// At once, each adds one of its own.
	var all6 sync.WaitGroup
	for range 6 {
		all6.Go(func() { w.luca.Do("POST", path+"2/return", nil) })
	}
	all6.Wait()
	if got := history(w.luca, id); got[0].Number < 5 || !got[0].Counts {
		t.Errorf("%s", written(got))
	}
}

// A version gets a name, which no other has, and a note; one with a name stays.
func TestVersionsAreNamedAndNoted(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	id, path := w.versioned("one", "two")
	say := func(want int, n int, title, note *string) testkit.Answer {
		t.Helper()
		return w.luca.Want(want, "PATCH", path+fmt.Sprint(n), contract.VersionWords{Title: title, Note: note})
	}
	say(204, 1, ptr(" As sent to Dunlin Mutual "), nil)
	say(204, 1, nil, ptr("before the second gauging"))
	if a := say(409, 2, ptr("as SENT to dunlin mutual"), nil); a.Code() != "title-taken" {
		t.Errorf("%+v", a)
	}
	say(400, 2, ptr("two\nlines"), nil)
	say(400, 2, ptr(strings.Repeat("x", 121)), nil)
	say(404, 7, ptr("x"), nil)
	w.priya.Want(403, "PATCH", path+"1", contract.VersionWords{Title: ptr("x")})
	if got := written(history(w.priya, id)); got != `2*; 1 As sent to Dunlin Mutual "before the second gauging"` {
		t.Errorf("%s", got)
	}
	if a := w.hanne.Do("DELETE", path+"1", nil); a.Code() != "version-named" {
		t.Errorf("%+v", a)
	}
	say(204, 1, ptr(""), nil)
	w.luca.Want(204, "DELETE", path+"1", nil)
}

// A removed version is out of the list and of reach, and can be put back as long as it is
// kept; then its content goes, and its number is nobody's again.
func TestVersionsAreRemovedAndRestored(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	id, path := w.versioned("one", "two", strings.Repeat("three ", 9000))
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}})
	if a := w.luca.Do("DELETE", path+"9", nil); a.Status != 404 {
		t.Errorf("%+v", a)
	}
	w.priya.Want(403, "DELETE", path+"3", nil)
	w.luca.Want(204, "DELETE", path+"3", nil)
	w.luca.Want(404, "DELETE", path+"3", nil)
	w.luca.Want(404, "POST", path+"3/return", nil)
	w.luca.Want(404, "GET", "/api/documents/"+id.String()+"/content?version=3", nil)
	if got := written(history(w.luca, id)); got != "3 removed by Luca Ferrante; 2*; 1" {
		t.Errorf("%s", got)
	}
	if got := written(history(w.priya, id)); got != "2*; 1" {
		t.Errorf("Priya is shown %s", got)
	}
	v := w.Visitor()
	v.Do("POST", "/api/visits/"+token, contract.OpenLink{})
	if a := v.Do("GET", "/api/visits/"+token+"/documents/"+id.String()+"/content?download", nil); a.Status == 200 {
		t.Errorf("the link still gives %.20s", a.Body)
	}
	w.priya.Want(403, "POST", path+"3/restoration", nil)
	w.luca.Want(404, "POST", path+"2/restoration", nil)
	w.luca.Want(204, "POST", path+"3/restoration", nil)
	if got := written(history(w.luca, id)); got != "3*; 2; 1" {
		t.Errorf("%s", got)
	}
	// Others' versions are removed by whoever may delete; the last one stays.
	w.hanne.Upload(w.top, "", "report.txt", []byte("four"))
	if a := w.luca.Do("DELETE", path+"4", nil); a.Status != 403 {
		t.Errorf("Hanne's, by Luca: %d", a.Status)
	}
	for _, n := range []string{"4", "3", "2"} {
		w.hanne.Want(204, "DELETE", path+n, nil)
	}
	if a := w.hanne.Do("DELETE", path+"1", nil); a.Code() != "version-only" {
		t.Errorf("%+v", a)
	}
	used := testkit.Get[contract.Dossier](w.hanne, "/api/dossiers/MER-24").Storage.Used
	w.Later(60*24*time.Hour + time.Second)
	w.hanne, w.luca = w.SignIn("hanne"), w.SignIn("luca")
	w.hanne.Want(404, "POST", path+"3/restoration", nil)
	if got := written(history(w.hanne, id)); got != "1*" {
		t.Errorf("when its time is over %s", got)
	}
	if err := w.App.Jobs.Do(t.Context(), "destroy what was kept long enough"); err != nil {
		t.Fatal(err)
	}
	if freed := used - testkit.Get[contract.Dossier](w.hanne, "/api/dossiers/MER-24").Storage.Used; freed != int64(len("two")+len("four")+6*9000) {
		t.Errorf("%d bytes are freed", freed)
	}
	w.luca.Upload(w.top, "", "report.txt", []byte("five"))
	if got := written(history(w.hanne, id)); got != "5*; 1" {
		t.Errorf("the next one is %s", got)
	}
	waitFor(t, func() bool {
		report, err := w.App.Care.Verify(t.Context())
		return err == nil && report.Sound() && len(report.Orphans) == 0
	})
}

// A file of whatever name becomes a version of a document, with a note; what stands in
// the folder under its name stays as it is.
func TestAFileBecomesAVersionOfADocument(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	id, _ := w.versioned("one")
	other := w.paper("draft of Friday.txt", "another paper")
	add := func(c *testkit.Client, document, text string) contract.UploadOutcome {
		t.Helper()
		return c.Upload(w.top, "", "draft of Friday.txt", []byte(text), "document", document, "note", "prices as of Friday")
	}
	out := add(w.luca, id.String(), "two")
	if out.Outcome != "version" || out.Document.Id != id || out.Version != 2 {
		t.Errorf("%+v", out)
	}
	if got := written(history(w.luca, id)); got != `2* "prices as of Friday"; 1` {
		t.Errorf("%s", got)
	}
	if got := written(history(w.luca, other)); got != "1*" {
		t.Errorf("the other has %s", got)
	}
	if out := add(w.luca, id.String(), "two"); out.Outcome != "unchanged" {
		t.Errorf("the same again: %+v", out)
	}
	for name, c := range map[string]struct {
		who      *testkit.Client
		document string
		note     string
		status   int
	}{
		"who may only view":     {w.priya, id.String(), "", http.StatusForbidden},
		"who does not see it":   {w.tomasz, id.String(), "", http.StatusNotFound},
		"a folder":              {w.luca, w.top.String(), "", http.StatusNotFound},
		"nothing of the kind":   {w.luca, uuid.NewString(), "", http.StatusNotFound},
		"no id":                 {w.luca, "MER-24/001", "", http.StatusBadRequest},
		"a note of two lines":   {w.luca, id.String(), "a\nb", http.StatusBadRequest},
		"a note that is a book": {w.luca, id.String(), strings.Repeat("n", 501), http.StatusBadRequest},
	} {
		if got := c.who.Begin(w.top, "", "x.txt", 1, "document", c.document, "note", c.note); got.Status != c.status {
			t.Errorf("%s: %d %s", name, got.Status, got.Body)
		}
	}
}

// A copy under another name is told as what it likely is, and becomes a version of it by
// one act; its own document is deleted then, and can be brought back.
func TestACopyBecomesAVersion(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	report := w.paper("Report.txt", "one")
	out := w.luca.Upload(w.top, "", "Report (2) final.txt", []byte("two"))
	if out.Outcome != "document" || out.Like == nil || out.Like.Id != report {
		t.Fatalf("%+v", out)
	}
	if other := w.luca.Upload(w.top, "", "Frame 31.txt", []byte("three")); other.Like != nil {
		t.Errorf("%+v", other.Like)
	}
	// To whom the original is hidden, nothing is told of it.
	closed := w.hanne.Upload(w.top, "", "Fee note.txt", []byte("fee")).Document.Id
	w.hanne.Want(204, "PUT", "/api/items/"+closed.String()+"/closed", contract.Closed{Closed: true})
	if copied := w.luca.Upload(w.top, "", "Fee note (2).txt", []byte("fee")); copied.Like != nil {
		t.Errorf("Luca is told of %+v", copied.Like)
	}
	path := "/api/documents/" + report.String() + "/adoption"
	w.priya.Want(403, "POST", path, contract.Adopt{From: out.Document.Id})
	w.tomasz.Want(404, "POST", path, contract.Adopt{From: out.Document.Id})
	w.luca.Want(404, "POST", path, contract.Adopt{From: closed})
	w.luca.Want(404, "POST", path, contract.Adopt{From: w.top})
	if a := w.luca.Do("POST", path, contract.Adopt{From: report}); a.Code() != "not-adoptable" {
		t.Errorf("itself: %+v", a)
	}
	hers := w.hanne.Upload(w.top, "", "Report (3).txt", []byte("hers")).Document.Id
	w.luca.Want(403, "POST", path, contract.Adopt{From: hers})
	if v := testkit.Post[contract.NewVersion](w.luca, 201, path, contract.Adopt{From: out.Document.Id}); v.Number != 2 {
		t.Errorf("%+v", v)
	}
	if got := written(history(w.luca, report)); got != `2* "Report (2) final.txt"; 1` {
		t.Errorf("%s", got)
	}
	w.luca.Want(404, "GET", "/api/documents/"+out.Document.Id.String(), nil)
	rows := testkit.Get[contract.DeletionPage](w.luca, "/api/deletions?mine=true").Rows
	if len(rows) != 1 || rows[0].Reason != "MER-24/001, v. 2" {
		t.Errorf("%+v", rows)
	}
	w.luca.Want(404, "POST", path, contract.Adopt{From: out.Document.Id})
}
