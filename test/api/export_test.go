package api_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// runs runs the program on the database and the content of the test's server.
func (o *office) runs(args ...string) (string, error) {
	o.T.Helper()
	c := o.App.Config
	args = append(args, "--database-url", c.DatabaseURL, "--data-dir", o.DataDir, "--key-file", c.KeyFile, "--base-url", o.URL, "--smtp-address", c.Mail.Address, "--mail-from", "a@b.example", "--smtp-plain", "yes")
	out, err := exec.CommandContext(o.T.Context(), testkit.Program(o.T.(*testing.T)), args...).CombinedOutput()
	return string(out), err
}

// A dossier is written as plain folders, as far as whoever it is for may download it; begun
// again it goes on.
func TestExporting(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.luca.Upload(o.inner, "", "readings.csv", []byte("a;b\n"))
	secret := o.hanne.Upload(o.reports, "", "secret.txt", []byte("hidden")).Document.Id
	o.hanne.Want(204, "PUT", "/api/items/"+secret.String()+"/closed", contract.Closed{Closed: true})
	dir := t.TempDir()
	export := func(as string, more ...string) (string, error) {
		return o.runs(append([]string{"export", "--to", dir, "--as", as}, more...)...)
	}
	out, err := export("luca.ferrante@halyard-rook.example", "mer-24")
	if err != nil || !strings.Contains(out, "MER-24: 4 documents written, 0 there already.") {
		t.Fatalf("%v: %s", err, out)
	}
	var files []string
	_ = filepath.WalkDir(filepath.Join(dir, "MER-24"), func(p string, d os.DirEntry, _ error) error {
		if !d.IsDir() {
			files = append(files, strings.TrimPrefix(p, dir+"/MER-24/"))
		}
		return nil
	})
	all := strings.Join(files, "\n")
	if strings.Contains(all, "secret") || !strings.Contains(all, "readings.csv") || !strings.Contains(all, "documents.csv") || !strings.Contains(all, "events.json") {
		t.Errorf("there are %s", all)
	}
	o.luca.Upload(o.reports, "", "later.txt", []byte("x"))
	if out, err := export("Luca.Ferrante@Halyard-Rook.example", "MER-24"); err != nil || !strings.Contains(out, "1 documents written, 4 there already.") {
		t.Errorf("again: %v: %s", err, out)
	}
	for as, code := range map[string]string{"tomasz.rehn@halyard-rook.example": "MER-24", "nobody@halyard-rook.example": "MER-24", "luca.ferrante@halyard-rook.example": "XYZ-1"} {
		if out, err := export(as, code); err == nil || strings.Contains(out, "written,") {
			t.Errorf("%s %s: %s", as, code, out)
		}
	}
}
