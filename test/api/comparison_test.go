package api_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/xuri/excelize/v2"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{
			{"GET", "/documents/{id}/comparison", "/documents/" + o.plan.String() + "/comparison?with=" + o.draft.String(), nil, paper(access.Download)},
			{"GET", "/documents/{id}/comparison/pages", "/documents/" + o.plan.String() + "/comparison/pages?with=" + o.draft.String(), nil, paper(access.Download)},
			{"GET", "/documents/{id}/comparison/places", "/documents/" + o.plan.String() + "/comparison/places?before=1&now=1&with=" + o.draft.String(), nil, paper(access.Download)},
			{"GET", "/documents/{id}/comparison/paper", "/documents/" + o.plan.String() + "/comparison/paper?with=" + o.draft.String(), nil, paper(access.Download)},
			{"POST", "/documents/{id}/merge", "/documents/" + o.plan.String() + "/merge", contract.Merge{From: o.plan, Base: 1}, paper(access.Change)},
			{"GET", "/documents/{id}/comparison/patch", "/documents/" + o.plan.String() + "/comparison/patch?with=" + o.draft.String(), nil, paper(access.Download)},
		}
	})
}

func compared(c *testkit.Client, document uuid.UUID, query string) contract.Comparison {
	return testkit.Get[contract.Comparison](c, "/api/documents/"+document.String()+"/comparison?"+query)
}

// differences writes down what was removed and added, and the rows that differ.
func differences(c contract.Comparison) string {
	var out []string
	if c.Text != nil {
		for _, p := range c.Text.Pieces {
			if p.Kind != "same" {
				out = append(out, map[contract.ComparedPieceKind]string{"removed": "-", "added": "+"}[p.Kind]+strings.TrimSpace(p.Text))
			}
		}
	}
	if c.Table != nil {
		for _, r := range c.Table.Rows {
			if r.Kind == nil || *r.Kind == "same" {
				continue
			}
			row := string(*r.Kind)
			for _, cell := range *r.Cells {
				if cell.Changed != nil {
					row += fmt.Sprintf(" %s>%s", *cell.Before, *cell.Now)
				}
			}
			out = append(out, row)
		}
	}
	return strings.Join(out, " ")
}

// Texts differ by words, tables by cells, and what has no text as a whole; versions and
// documents alike.
func TestVersionsAreCompared(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	up := func(name string, texts ...string) (id uuid.UUID) {
		for _, text := range texts {
			id = w.luca.Upload(w.top, "", name, []byte(text)).Document.Id
		}
		return id
	}
	notes := up("notes.md", "Plates over frames 24 to 30 are renewed.\n", "Plates over frames 24 to 32 are renewed.\nAs agreed.\n")
	readings := up("readings.csv", "Frame,Original,Measured\n30,10.0,8.1\n31,10.0,7.2\n", "Frame,Original,Measured\n30,10.0,8.1\n30.5,10.0,8.0\n31,10.0,6.9\n")
	picture := up("stamp.bin", "\x00\x01\x02", "\x00\x01\x03")
	other := w.paper("other.txt", "Plates over frames 24 to 30 are renewed.\n")
	book := w.luca.Upload(w.top, "", "estimate.xlsx", estimate(t, "100")).Document.Id
	w.luca.Upload(w.top, "", "estimate.xlsx", estimate(t, "250"))
	for name, c := range map[string]struct {
		id          uuid.UUID
		query, want string
	}{
		"two versions":                 {notes, "from=1&to=2", "-30 +32 +As agreed."},
		"the other way round":          {notes, "from=2&to=1", "-32 +30 -As agreed."},
		"one with the one that counts": {notes, "from=1", "-30 +32 +As agreed."},
		"with itself":                  {notes, "from=2", ""},
		"two documents":                {notes, "from=1&with=" + other.String(), ""},
		"a table":                      {readings, "from=1", "added changed 7.2>6.9"},
		"a spreadsheet":                {book, "from=1", "changed 100>250"},
		"what has no text":             {picture, "from=1", ""},
	} {
		got := compared(w.priya, c.id, c.query)
		if differences(got) != c.want {
			t.Errorf("%s: %q, want %q", name, differences(got), c.want)
		}
		if same := name == "with itself" || name == "two documents"; got.Same != same {
			t.Errorf("%s: same %v", name, got.Same)
		}
	}
	if c := compared(w.priya, picture, "from=1"); c.Text != nil || c.Table != nil {
		t.Errorf("%+v", c)
	}
	for name, path := range map[string]string{
		"a version that is not there":  "/api/documents/" + notes.String() + "/comparison?from=7",
		"a document that is not there": "/api/documents/" + notes.String() + "/comparison?with=" + uuid.NewString(),
	} {
		if a := w.priya.Do("GET", path, nil); a.Status != 404 {
			t.Errorf("%s: %d", name, a.Status)
		}
	}
	w.tomasz.Want(404, "GET", "/api/documents/"+notes.String()+"/comparison?from=1", nil)
	// With what one does not see nothing is compared; nor is it said that it is there.
	secret := testkit.Post[contract.DossierRow](w.tomasz, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"})
	hidden := w.tomasz.Upload(secret.Id, "", "hidden.txt", []byte("zzhidden")).Document.Id
	if a := w.priya.Do("GET", "/api/documents/"+notes.String()+"/comparison?with="+hidden.String(), nil); a.Status != 404 || strings.Contains(string(a.Body), "zzhidden") {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	w.luca.Want(204, "DELETE", "/api/documents/"+notes.String()+"/versions/1", nil)
	w.priya.Want(404, "GET", "/api/documents/"+notes.String()+"/comparison?from=1&to=2", nil)
}

// Broken and hostile content ends with an answer, not with an outage.
func TestHostileComparisons(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	up := func(name string, texts ...string) (id uuid.UUID) {
		for _, text := range texts {
			id = w.luca.Upload(w.top, "", name, []byte(text)).Document.Id
		}
		return id
	}
	for name, id := range map[string]uuid.UUID{
		"two broken PDFs":        up("a.pdf", "%PDF-1.7\nbroken", "%PDF-1.7\nbroken too"),
		"two broken workbooks":   up("b.xlsx", "PK\x03\x04 not a zip", "PK\x03\x04 nor this"),
		"one line of everything": up("c.txt", strings.Repeat("ab ", 200_000), strings.Repeat("ba ", 200_000)),
		"nothing in common":      up("d.txt", strings.Repeat("a\n", 100_000), strings.Repeat("b\n", 100_000)),
		"no text at all":         up("e.txt", "\xff\xfe\x00", "\x00\x00"),
	} {
		a := w.priya.Do("GET", "/api/documents/"+id.String()+"/comparison?from=1", nil)
		if a.Status >= 500 {
			t.Errorf("%s: %d %.200s", name, a.Status, a.Body)
		}
	}
}

// A patch program takes the differences of two texts.
func TestPatches(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	before, after := "# Frame 31\n\nNot reached.\n", "# Frame 31\n\nGauged: 6.9 mm."
	id := w.luca.Upload(w.top, "", "notes of Friday.md", []byte(before)).Document.Id
	w.luca.Upload(w.top, "", "notes of Friday.md", []byte(after))
	path := "/api/documents/" + id.String() + "/comparison/patch?from=1&to=2"
	a := w.priya.Want(200, "GET", path, nil)
	if got := a.Header.Get("Content-Disposition"); !strings.Contains(got, "attachment") || !strings.Contains(got, "notes of Friday.md.diff") {
		t.Errorf("it is fetched as %s", got)
	}
	dir := t.TempDir()
	if err := os.WriteFile(filepath.Join(dir, "notes of Friday.md"), []byte(before), 0o600); err != nil {
		t.Fatal(err)
	}
	apply := exec.Command("git", "apply", "-")
	apply.Dir, apply.Stdin = dir, strings.NewReader(string(a.Body))
	apply.Env = append(os.Environ(), "GIT_CEILING_DIRECTORIES="+filepath.Dir(dir))
	if out, err := apply.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s\n%s", err, out, a.Body)
	}
	if got, err := os.ReadFile(filepath.Join(dir, "notes of Friday.md")); err != nil || string(got) != after {
		t.Errorf("%q", got)
	}
	picture := w.luca.Upload(w.top, "", "stamp.bin", []byte{0, 1}).Document.Id
	if a := w.priya.Do("GET", "/api/documents/"+picture.String()+"/comparison/patch", nil); a.Code() != "no-patch" {
		t.Errorf("%+v", a)
	}
}

// estimate is a spreadsheet of two sheets, in the second of which an amount stands.
func estimate(t *testing.T, amount string) []byte {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	if _, err := f.NewSheet("Hull"); err != nil {
		t.Fatal(err)
	}
	for at, value := range map[string]string{"A1": "Item", "B1": "Amount", "A2": "Steel", "B2": amount} {
		if err := f.SetCellValue("Hull", at, value); err != nil {
			t.Fatal(err)
		}
	}
	raw, err := f.WriteToBuffer()
	if err != nil {
		t.Fatal(err)
	}
	return raw.Bytes()
}
