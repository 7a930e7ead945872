package api_test

import (
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func TestMakingDossiers(t *testing.T) {
	t.Parallel()
	k := testkit.New(t)
	c := k.SignIn("ines")
	made := testkit.Post[contract.DossierRow](c, 201, "/api/dossiers", contract.NewDossier{Code: " pel-11", Name: "Pellew", Kind: "client", Client: ptr("Pelham Dry Dock")})
	if made.Code != "PEL-11" || made.Door.State != contract.DoorStateClosed || made.Door.Count != 1 || made.LastEvent.Kind != "dossier.made" {
		t.Errorf("made %+v", made)
	}
	for _, bad := range []struct {
		n     contract.NewDossier
		code  string
		field string
	}{
		{contract.NewDossier{Code: "PEL-11", Name: "Again", Kind: "client"}, "code-taken", "code"},
		{contract.NewDossier{Code: "pel 11", Name: "X", Kind: "client"}, "code-form", "code"},
		{contract.NewDossier{Code: "PEL-12", Name: " ", Kind: "client"}, "name-empty", "name"},
		{contract.NewDossier{Code: "PEL-12", Name: "a/b", Kind: "client"}, "name-slash", "name"},
		{contract.NewDossier{Code: "PEL-12", Name: "X", Kind: "secret"}, "kind-unknown", "kind"},
	} {
		a := c.Do("POST", "/api/dossiers", bad.n)
		if a.Code() != bad.code || !strings.Contains(string(a.Body), `"field":"`+bad.field+`"`) {
			t.Errorf("%+v: %d %s", bad.n, a.Status, a.Body)
		}
	}
	d := testkit.Get[contract.Dossier](c, "/api/dossiers/pel-11")
	if len(d.Folders) != 1 || d.Folders[0].Door.Count != 1 || !slices.Contains(d.May, "manage") {
		t.Errorf("it holds %+v", d)
	}
	if a := k.SignIn("luca").Do("GET", "/api/dossiers/PEL-11", nil); a.Status != 404 {
		t.Errorf("somebody else: %d", a.Status)
	}
}

// Its managers change what a dossier is called and about; its code stays. Who changes
// what somebody else has changed meanwhile is told so.
func TestChangingADossier(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	const path = "/api/dossiers/mer-24"
	was := contract.DossierParticulars{Name: "Corran Lass", Kind: "client"}
	to := contract.DossierParticulars{Name: "MT Corran Lass", Client: " Merrow Insurance ", Subject: "General average", Kind: "client"}
	w.luca.Want(403, "PATCH", path, contract.DossierChange{Was: was, To: to})
	w.tomasz.Want(404, "PATCH", path, contract.DossierChange{Was: was, To: to})
	for code, bad := range map[string]contract.DossierParticulars{
		"name-empty":   {Name: " ", Kind: "client"},
		"name-slash":   {Name: "a/b", Kind: "client"},
		"kind-unknown": {Name: "x", Kind: "desk"},
		"name-length":  {Name: "x", Kind: "client", Client: "two\nlines"},
	} {
		if a := w.hanne.Do("PATCH", path, contract.DossierChange{Was: was, To: bad}); a.Status != 400 || a.Code() != code {
			t.Errorf("%s: %d %s", code, a.Status, a.Body)
		}
	}
	// Twenty at once from the same beginning, each with another name: one of them counts.
	var wg sync.WaitGroup
	answers := make([]testkit.Answer, 20)
	for i := range answers {
		wg.Go(func() {
			one := to
			one.Name = fmt.Sprint("Lass ", i)
			answers[i] = w.hanne.Do("PATCH", path, contract.DossierChange{Was: was, To: one})
		})
	}
	wg.Wait()
	did := ""
	for i, a := range answers {
		switch {
		case a.Status == 204 && did == "":
			did = fmt.Sprint("Lass ", i)
		case a.Status == 204 || a.Code() != "dossier-changed":
			t.Errorf("at once: %d %s", a.Status, a.Body)
		}
	}
	d := w.dossier()
	if did == "" || d.Name != did || d.Folders[0].Name != did || d.Client != "Merrow Insurance" || d.Subject != "General average" || d.Code != "MER-24" {
		t.Errorf("it says %q (%q), %q, %q", d.Name, d.Folders[0].Name, d.Client, d.Subject)
	}
	events := testkit.Get[contract.Stream](w.hanne, "/api/activity?dossier=MER-24").Events
	if events[0].Kind != "dossier.changed" || (*events[0].Data)["from"] != "Corran Lass" || (*events[0].Data)["to"] != did {
		t.Errorf("it is told as %+v", events[0])
	}
	// Work of one's own has no client; saying what stands changes nothing; desks stay.
	was = contract.DossierParticulars{Name: did, Client: "Merrow Insurance", Subject: "General average", Kind: "client"}
	w.hanne.Want(204, "PATCH", path, contract.DossierChange{Was: was, To: contract.DossierParticulars{Name: did, Client: "Merrow Insurance", Kind: "internal"}})
	w.hanne.Want(204, "PATCH", path, contract.DossierChange{Was: to, To: contract.DossierParticulars{Name: did, Kind: "internal"}})
	if d = w.dossier(); d.Client != "" || d.Kind != "internal" {
		t.Errorf("of one's own: %q, %s", d.Client, d.Kind)
	}
	desk := testkit.Post[contract.DossierRow](w.hanne, 200, "/api/desk", nil)
	w.hanne.Want(403, "PATCH", "/api/dossiers/"+desk.Code, contract.DossierChange{Was: was, To: to})
}

// In lists a dossier's door is the most open one in it, as far as one sees inside.
func TestTheDoorOfADossierInLists(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	o.invite()
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.yard}, to(o.guestID)))
	door := func(c *testkit.Client) contract.Door {
		for _, d := range testkit.Get[[]contract.DossierRow](c, "/api/dossiers") {
			if d.Code == "MER-24" {
				return d.Door
			}
		}
		return contract.Door{}
	}
	if d := door(o.hanne); d.State != contract.DoorStateAjar || d.Count != 1 {
		t.Errorf("with a guest in a folder it is %+v", d)
	}
	// Whoever sees but another folder does not learn of the guest.
	other := testkit.Post[contract.Folder](o.hanne, 201, "/api/folders/"+o.top.String()+"/folders", contract.NewName{Name: "Elsewhere"}).Id
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{other}, to(o.People["tomasz"].ID)))
	if d := door(o.tomasz); d.State == contract.DoorStateAjar {
		t.Errorf("who does not see that folder learns %+v", d)
	}
}

// Each row says what one may do with that document, as its own closing says.
func TestRowsSayWhatOneMayDo(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	shown, kept := w.paper("a.txt", "a"), w.paper("b.txt", "b")
	w.Give("hanne", kept, "priya", access.LevelEdit)
	for _, r := range testkit.Get[contract.RegisterPage](w.priya, fmt.Sprintf("/api/folders/%s/register", w.top)).Rows {
		if slices.Contains(r.May, "change") != (r.Id == kept) || !slices.Contains(r.May, "see") {
			t.Errorf("%s may %v (it is the one: %v)", r.Name, r.May, r.Id == shown)
		}
	}
}

func TestContentsAreNumberedInOrder(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	var ids []string
	for _, name := range []string{"Instruction", "Readings", "Reports"} {
		ids = append(ids, testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: name}).Id.String())
	}
	testkit.Post[contract.Folder](w.luca, 201, "/api/folders/"+ids[1]+"/folders", contract.NewName{Name: "Hull thickness"})
	deep := testkit.Post[contract.Folder](w.luca, 201, "/api/folders/"+ids[1]+"/folders", contract.NewName{Name: "Photographs"})
	w.luca.Upload(deep.Id, "", "1.txt", []byte("x"))
	var got []string
	for _, f := range w.dossier().Folders {
		got = append(got, fmt.Sprintf("%s %s %d", f.Number, f.Name, f.Documents))
	}
	want := " Corran Lass 1, 01 Instruction 0, 02 Readings 1, 02.1 Hull thickness 0, 02.2 Photographs 1, 03 Reports 0"
	if strings.Join(got, ", ") != want {
		t.Errorf("got  %s\nwant %s", strings.Join(got, ", "), want)
	}
}

func TestOneNameByTwoPeopleAtOnce(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	var wg sync.WaitGroup
	made, taken := 0, 0
	var mu sync.Mutex
	for i := range 20 {
		wg.Go(func() {
			who := []*testkit.Client{w.luca, w.hanne}[i%2]
			a := who.Do("POST", fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: []string{"Reports", "REPORTS", "reports"}[i%3]})
			mu.Lock()
			defer mu.Unlock()
			switch {
			case a.Status == 201:
				made++
			case a.Status == 409 && a.Code() == "name-taken":
				taken++
			default:
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	wg.Wait()
	if made != 1 || taken != 19 {
		t.Errorf("%d were made, %d refused", made, taken)
	}
}

func TestRenaming(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	a, b := w.paper("a.txt", "a"), w.paper("b.txt", "b")
	path := "/api/items/" + a.String() + "/name"
	w.luca.Want(204, "PUT", path, contract.NewName{Name: "c.txt"})
	if got := w.luca.Do("PUT", path, contract.NewName{Name: "B.TXT"}); got.Code() != "name-taken" {
		t.Errorf("a taken name: %d %s", got.Status, got.Body)
	}
	w.luca.Want(204, "PUT", "/api/items/"+b.String()+"/name", contract.NewName{Name: "B.txt"}) // only its case
	for name, code := range map[string]string{"": "name-empty", "x/y": "name-slash", "x\u202ey": "name-direction", "x\x07": "name-control", strings.Repeat("n", 256): "name-too-long", "..": "name-reserved"} {
		if got := w.luca.Do("PUT", path, contract.NewName{Name: name}); got.Status != 400 || got.Code() != code {
			t.Errorf("%q: %d %s", name, got.Status, got.Body)
		}
	}
	slip := testkit.Get[contract.Document](w.luca, "/api/documents/"+a.String())
	if slip.Ref != "MER-24/001" || slip.Name != "c.txt" || slip.Events[0].Kind != "document.renamed" {
		t.Errorf("its number must survive: %s %s", slip.Ref, slip.Name)
	}
	w.hanne.Want(403, "PUT", "/api/items/"+w.top.String()+"/name", contract.NewName{Name: "x"})
}

func TestFinding(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	w.paper("Condition survey report.pdf", "x")
	w.paper("100% sure_thing.txt", "y")
	for q, want := range map[string]int{"survey": 1, "REPORT cond": 1, "MER-24/1": 1, "mer-24/001": 1, "%25": 1, "_": 1, "nothing": 0, "zz%2F1": 0} {
		f := testkit.Get[contract.Found](w.luca, "/api/find?q="+strings.ReplaceAll(q, " ", "+"))
		if len(f.Documents) != want {
			t.Errorf("%q finds %d documents, want %d", q, len(f.Documents), want)
		}
	}
	if f := testkit.Get[contract.Found](w.luca, "/api/find?q=corran"); len(f.Dossiers) != 1 {
		t.Errorf("finds %d dossiers", len(f.Dossiers))
	}
	// A number alone means the open dossier first, then all others; folders are found by name.
	kirrin := testkit.Post[contract.DossierRow](w.luca, 201, "/api/dossiers", contract.NewDossier{Code: "KIR-12", Name: "Kirrin", Kind: "client"}).Id
	for n := range 9 {
		w.luca.Upload(kirrin, "", fmt.Sprintf("Reading %c.txt", 'A'+n), []byte("z"))
	}
	survey := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", kirrin), contract.NewName{Name: "Survey photographs"}).Id
	for _, c := range []struct{ asked, open, want string }{
		{"002", "MER-24", "MER-24/002 KIR-12/002"}, {"2", "kir-12", "KIR-12/002 MER-24/002"}, {"/2", "", "KIR-12/002 MER-24/002"},
		{"009", "MER-24", "KIR-12/009"}, {"KIR-12/009", "MER-24", "KIR-12/009"}, {"kir-12/08", "", "KIR-12/008"}, {"010", "KIR-12", ""}, {"MER-24/008", "", ""},
	} {
		var refs []string
		for _, d := range testkit.Get[contract.Found](w.luca, "/api/find?q="+c.asked+"&dossier="+c.open).Documents {
			refs = append(refs, d.Ref)
		}
		if got := strings.Join(refs, " "); got != c.want {
			t.Errorf("%q in %q finds %q, want %q", c.asked, c.open, got, c.want)
		}
	}
	if f := testkit.Get[contract.Found](w.luca, "/api/find?q=survey"); len(f.Folders) != 1 || f.Folders[0].Id != survey || f.Folders[0].DossierCode != "KIR-12" {
		t.Errorf("finds the folders %+v", f.Folders)
	}
	if f := testkit.Get[contract.Found](w.priya, "/api/find?q=survey&dossier=KIR-12"); len(f.Folders) != 0 {
		t.Errorf("Priya, who is not in the dossier, finds %+v", f.Folders)
	}
	if f := testkit.Get[contract.Found](w.priya, "/api/find?q=9&dossier=KIR-12"); len(f.Documents) != 0 {
		t.Errorf("Priya, who is not in the dossier, finds %+v", f.Documents)
	}
	w.luca.Want(400, "GET", "/api/find", nil)
}

func init() {
	named = append(named, func(o *office) []endpoint {
		same := contract.DossierParticulars{Name: "a/b", Kind: "client"}
		return []endpoint{{"PATCH", "/dossiers/{code}", "/dossiers/MER-24", contract.DossierChange{Was: same, To: same}, item(access.Manage)}}
	})
}
