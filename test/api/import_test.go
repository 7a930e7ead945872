package api_test

import (
	"context"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"gocloud.dev/blob"
	"golang.org/x/net/webdav"

	"tabularis/internal/app/act"
	"tabularis/internal/app/bringing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/elsewhere"
	"tabularis/internal/testkit"
)

// lies makes files of a place, by their ways.
func lies(t *testing.T, files map[string]string) string {
	t.Helper()
	dir := t.TempDir()
	for name, content := range files {
		at := filepath.Join(dir, filepath.FromSlash(name))
		if err := os.MkdirAll(filepath.Dir(at), 0o755); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(at, []byte(content), 0o644); err != nil {
			t.Fatal(err)
		}
		when := time.Date(2024, 5, 3, 10, 22, 0, 0, time.UTC)
		if err := os.Chtimes(at, when, when); err != nil {
			t.Fatal(err)
		}
	}
	return dir
}

func (o *office) bringer() *bringing.Service {
	return &bringing.Service{Acts: o.App.Web.Acts, Access: o.App.Access, Uploads: o.App.Web.Uploads}
}

func (o *office) acting(who string) context.Context {
	p := o.People[who]
	return act.As(o.T.Context(), act.Actor{Person: &p, Language: "en"})
}

// What lies elsewhere is brought in with its folders and times, from a folder and from WebDAV;
// what cannot be is said before and left, and whoever begins again goes on.
func TestBringingInOtherPlaces(t *testing.T) {
	t.Parallel()
	files := map[string]string{"a.txt": "one", "deep/er/b.txt": "two", "deep/c.txt": "", "odd:name?.txt": "x", "Ümläut ' %.txt": "y", "dir\u202ection.txt": "z"}
	for kind, open := range map[string]func(dir string) string{
		"folder": func(dir string) string { return dir },
		"WebDAV": func(dir string) string {
			s := httptest.NewServer(&webdav.Handler{FileSystem: webdav.Dir(dir), LockSystem: webdav.NewMemLS()})
			t.Cleanup(s.Close)
			return s.URL
		},
	} {
		t.Run(kind, func(t *testing.T) {
			t.Parallel()
			o := newOffice(t)
			dir := lies(t, files)
			place := func() elsewhere.Place {
				p, err := elsewhere.Open(t.Context(), open(dir))
				if err != nil {
					t.Fatal(err)
				}
				t.Cleanup(func() { _ = p.Close() })
				return p
			}
			var left []string
			told := func(t bringing.Told) {
				if t.Left != "" {
					left = append(left, t.Name)
				}
			}
			before := len(o.sees(o.luca, o.yard))
			if sum, err := o.bringer().Look(o.acting("luca"), place(), told); err != nil || sum.Documents != 5 || sum.Left != 1 || len(o.sees(o.luca, o.yard)) != before {
				t.Fatalf("a look is %+v, %v", sum, err)
			}
			would := strings.Join(left, ",")
			left = nil
			sum, err := o.bringer().BringIn(o.acting("luca"), place(), o.yard, told)
			if err != nil || sum.Documents != 5 || sum.Left != 1 || strings.Join(left, ",") != would {
				t.Fatalf("brought in is %+v, %v, left %v", sum, err, left)
			}
			again, err := o.bringer().BringIn(o.acting("luca"), place(), o.yard, told)
			if err != nil || again.Kept != sum.Documents || again.Documents+again.Versions != 0 {
				t.Errorf("once more: %+v, %v", again, err)
			}
			var one contract.DocumentRow
			for _, r := range testkit.Get[contract.RegisterPage](o.luca, "/api/folders/"+o.yard.String()+"/register").Rows {
				if r.Name == "a.txt" {
					one = r
				}
			}
			doc := testkit.Get[contract.Document](o.luca, "/api/documents/"+one.Id.String())
			if note := deref(doc.Versions[0].Note); note != "as of 2024-05-03T10:22:00Z" {
				t.Errorf("it says %q", note)
			}
			if err := os.WriteFile(filepath.Join(dir, "a.txt"), []byte("changed"), 0o644); err != nil {
				t.Fatal(err)
			}
			if sum, err := o.bringer().BringIn(o.acting("luca"), place(), o.yard, told); err != nil || sum.Versions != 1 {
				t.Errorf("what changed: %+v, %v", sum, err)
			}
			for who, want := range map[string]bool{"priya": false, "tomasz": false} {
				if _, err := o.bringer().BringIn(o.acting(who), place(), o.yard, told); (err == nil) != want {
					t.Errorf("%s brings in: %v", who, err)
				}
			}
		})
	}
}

// Links are not followed, endless folders end, and what vanishes half-way leaves the rest.
func TestHostilePlaces(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	dir := lies(t, map[string]string{"a.txt": "one", "sub/b.txt": "two", "gone.txt": "three"})
	outside := lies(t, map[string]string{"secret.txt": "not yours"})
	for link, to := range map[string]string{"loop": dir, "sub/up": "..", "out.txt": filepath.Join(outside, "secret.txt"), "dir": outside} {
		if err := os.Symlink(to, filepath.Join(dir, link)); err != nil {
			t.Fatal(err)
		}
	}
	if err := exec.CommandContext(t.Context(), "mkfifo", filepath.Join(dir, "pipe")).Run(); err != nil {
		t.Fatal(err)
	}
	p, err := elsewhere.Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer p.Close()
	left := map[string]string{}
	first := true
	sum, err := o.bringer().BringIn(o.acting("luca"), p, o.yard, func(t bringing.Told) {
		if t.Left != "" {
			left[t.Name] = t.Left
		}
		if first {
			first = false
			_ = os.Remove(filepath.Join(dir, "gone.txt"))
		}
	})
	if err != nil || sum.Documents != 2 || left["loop"] != "a link" || left["out.txt"] != "a link" || left["dir"] != "a link" || left["pipe"] != "no plain file" || left["gone.txt"] == "" {
		t.Errorf("%+v, %v, left %v", sum, err, left)
	}
	deep := strings.Repeat("d/", 61) + "x.txt"
	dir = lies(t, map[string]string{deep: "x", "fine.txt": "y"})
	p, err = elsewhere.Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	defer p.Close()
	if sum, err := o.bringer().BringIn(o.acting("luca"), p, o.yard, func(bringing.Told) {}); err != nil || sum.Documents != 1 || sum.Left != 1 {
		t.Errorf("too deep: %+v, %v", sum, err)
	}
	for _, bad := range []string{filepath.Join(dir, "none"), filepath.Join(dir, "fine.txt"), "s3://"} {
		if p, err := elsewhere.Open(t.Context(), bad); err == nil {
			_ = p.Close()
			t.Errorf("%s was opened", bad)
		}
	}
}

// The command says what it does, and whom it does it for.
func TestImporting(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	dir := lies(t, map[string]string{"a.txt": "one", "deep/b.txt": "two"})
	run := func(more ...string) (string, error) {
		return o.runs(append([]string{"import", dir, "--into", "mer-24", "--folder", "02"}, more...)...)
	}
	luca := "luca.ferrante@halyard-rook.example"
	if out, err := run("--as", luca, "--look"); err != nil || !strings.Contains(out, "2 files, 6 bytes, would be brought in") {
		t.Errorf("%v: %s", err, out)
	}
	if out, err := run("--as", luca); err != nil || !strings.Contains(out, "2 documents, 0 versions, 0 there already, 0 left.") {
		t.Errorf("%v: %s", err, out)
	}
	if out, err := run("--as", "priya.valdane@halyard-rook.example"); err == nil {
		t.Errorf("who may not add brings in: %s", out)
	}
	if out, err := run("--as", luca, "--folder", "99"); err == nil {
		t.Errorf("into no folder: %s", out)
	}
}

// A bucket is a place, too.
func TestBringingInABucket(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	address := testkit.Bucket(t)
	b, err := blob.OpenBucket(t.Context(), address)
	if err != nil {
		t.Fatal(err)
	}
	defer b.Close()
	for key, content := range map[string]string{"a.txt": "one", "deep/er/b.txt": "two", "deep/": ""} {
		if err := b.WriteAll(t.Context(), key, []byte(content), nil); err != nil {
			t.Fatal(err)
		}
	}
	for _, want := range []bringing.Sum{{Documents: 2, Bytes: 6}, {Kept: 2}} {
		p, err := elsewhere.Open(t.Context(), address)
		if err != nil {
			t.Fatal(err)
		}
		if sum, err := o.bringer().BringIn(o.acting("luca"), p, o.yard, func(bringing.Told) {}); err != nil || sum != want {
			t.Errorf("%+v, %v, want %+v", sum, err, want)
		}
		_ = p.Close()
	}
}
