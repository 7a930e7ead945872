package api_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// there are the numbers of the versions that are in the list.
func there(all []contract.Version) (numbers []int) {
	for _, v := range all {
		if v.Removed == nil {
			numbers = append(numbers, v.Number)
		}
	}
	slices.Sort(numbers)
	return numbers
}

// A rule removes what it lets go and nothing else, says so beforehand, and what it removed
// can be put back, and then stays.
func TestVersionsAreThinnedOut(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	var doc, other uuid.UUID
	for n := 1; n <= 6; n++ {
		doc = w.luca.Upload(w.top, "", "report.txt", fmt.Append(nil, "report ", n)).Document.Id
		other = w.luca.Upload(w.top, "", "log.txt", fmt.Append(nil, "log ", n)).Document.Id
		if n == 4 {
			// A link that is open still gives this version.
			w.link(contract.LinkTerms{Items: []uuid.UUID{other}, Until: ptr(w.Now().Add(80 * 24 * time.Hour))})
		}
		w.Later(25 * 24 * time.Hour)
		w.luca = w.SignIn("luca")
	}
	w.Appoint("ines", accounts.Administrator)
	ines := w.SignIn("ines")
	w.hanne, w.priya, w.tomasz = w.SignIn("hanne"), w.SignIn("priya"), w.SignIn("tomasz")
	path := "/api/documents/" + doc.String() + "/versions/"
	w.luca.Want(204, "PATCH", path+"1", contract.VersionWords{Title: ptr("as surveyed")})
	w.luca.Want(204, "PATCH", path+"2", contract.VersionWords{Note: ptr("the yard has this one")})
	rule := contract.KeepRule{Months: 2, Then: contract.KeepNone, Last: 2}
	practice, dossier := contract.SetKeeping{Rule: &rule}, contract.SetKeeping{Rule: &rule, Dossier: ptr("MER-24")}

	if k := testkit.Get[contract.Keeping](w.luca, "/api/keeping?dossier=MER-24"); k.Rule.Months != 0 || k.Own {
		t.Errorf("before there is a rule: %+v", k)
	}
	for name, c := range map[string]struct {
		by     *testkit.Client
		wish   contract.SetKeeping
		status int
		code   string
	}{
		"the practice, by who does not administer it":  {w.luca, practice, 403, "not-allowed"},
		"a dossier, by who only views it":              {w.priya, dossier, 403, "not-allowed"},
		"a dossier, by who only changes what is in it": {w.luca, dossier, 403, "not-allowed"},
		"a dossier that is not seen":                   {w.tomasz, dossier, 404, "not-found"},
		"no rule for the practice":                     {ines, contract.SetKeeping{}, 400, "keep-missing"},
		"months that are none":                         {ines, contract.SetKeeping{Rule: &contract.KeepRule{Months: -1, Then: contract.KeepNone}}, 400, "keep-months"},
		"too many of the last":                         {ines, contract.SetKeeping{Rule: &contract.KeepRule{Last: 5000, Then: contract.KeepNone}}, 400, "keep-last"},
	} {
		for _, at := range []string{"/api/keeping", "/api/keeping/draft"} {
			method := map[bool]string{true: "PUT", false: "POST"}[at == "/api/keeping"]
			if a := c.by.Do(method, at, c.wish); name != "no rule for the practice" && (a.Status != c.status || a.Code() != c.code) {
				t.Errorf("%s, %s: %d %s", name, at, a.Status, a.Body)
			}
		}
	}

	would := testkit.Post[contract.Superfluous](ines, 200, "/api/keeping/draft", practice)
	if would.Documents != 2 || would.Versions != 2+3 || would.Bytes != int64(2*len("report 3")+3*len("log 1")) || would.More {
		t.Errorf("the rule would remove %+v", would)
	}
	ines.Want(204, "PUT", "/api/keeping", practice)
	// A dossier that keeps everything is left alone.
	w.hanne.Want(204, "PUT", "/api/keeping", contract.SetKeeping{Dossier: ptr("MER-24"), Rule: &contract.KeepRule{Then: contract.KeepNone}})
	thin := func() {
		t.Helper()
		if err := w.App.Jobs.Do(t.Context(), "remove versions that the rules let go"); err != nil {
			t.Fatal(err)
		}
	}
	thin()
	if left := there(history(w.luca, other)); len(left) != 6 {
		t.Errorf("of a dossier that keeps all %v are left", left)
	}
	w.hanne.Want(204, "PUT", "/api/keeping", contract.SetKeeping{Dossier: ptr("MER-24")})
	if k := testkit.Get[contract.Keeping](w.hanne, "/api/keeping?dossier=MER-24"); k.Rule != rule || k.Own || !k.MayChange {
		t.Errorf("the practice's rule holds again: %+v", k)
	}

	// What is in somebody's hand waits until it is put back.
	w.luca.Want(204, "POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{other}})
	thin()
	if left := there(history(w.luca, other)); len(left) != 6 {
		t.Errorf("of what is in hand %v are left", left)
	}
	w.luca.Want(204, "DELETE", "/api/documents/"+other.String()+"/checkout", nil)
	thin()
	thin()
	if a, b := there(history(w.luca, doc)), there(history(w.luca, other)); !slices.Equal(a, []int{1, 2, 5, 6}) || !slices.Equal(b, []int{4, 5, 6}) {
		t.Errorf("%v and %v are left", a, b)
	}
	slip := testkit.Get[contract.Document](w.luca, "/api/documents/"+doc.String())
	if slip.Keeping.Rule != rule || slip.Keeping.Next != nil || slip.Keeping.Days != 60 {
		t.Errorf("the slip says %+v", slip.Keeping)
	}
	gone := slip.Versions[slices.IndexFunc(slip.Versions, func(v contract.Version) bool { return v.Number == 3 })].Removed
	if gone == nil || gone.By != nil || gone.Left != 60 || !gone.MayRestore {
		t.Errorf("the removed version: %+v", gone)
	}
	w.luca.Want(204, "POST", path+"3/restoration", nil)
	thin()
	if left := there(history(w.luca, doc)); !slices.Contains(left, 3) {
		t.Errorf("what was put back by hand went again: %v", left)
	}
	if a := string(w.luca.Want(200, "GET", "/api/activity?dossier=MER-24", nil).Body); !strings.Contains(a, `"version.thinned"`) || !strings.Contains(a, `"dossier.keeping"`) {
		t.Errorf("the activity: %s", a)
	}
}

// Automatic saves of one sitting fold into the last of them; a pause, another person and a
// name end it.
func TestAutomaticSavesFold(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	var doc uuid.UUID
	saves := func(by string, n int, pause time.Duration) {
		t.Helper()
		doc = w.SignIn(by).Upload(w.top, "", "estimate.txt", fmt.Append(nil, "estimate ", n), "saved", "true").Document.Id
		w.Later(pause)
	}
	w.luca.Upload(w.top, "", "estimate.txt", []byte("estimate"))
	for n := range 3 {
		saves("luca", n, 10*time.Minute)
	}
	w.Later(time.Hour)
	saves("luca", 10, time.Minute)
	saves("hanne", 11, time.Minute)
	saves("hanne", 12, time.Minute)
	folds := map[int]int{}
	for _, v := range history(w.SignIn("luca"), doc) {
		if v.FoldsInto != nil {
			folds[v.Number] = *v.FoldsInto
		}
	}
	if fmt.Sprint(folds) != fmt.Sprint(map[int]int{2: 4, 3: 4, 6: 7}) {
		t.Errorf("they fold %v", folds)
	}
}
