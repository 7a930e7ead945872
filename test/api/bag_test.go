package api_test

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"testing"

	"tabularis/internal/doors/web/contract"
)

// A bag is whole by what it says of itself (RFC 8493): every file that is named is there with
// its hash, and no other is in its payload.
func TestABagIsWhole(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	odd := o.luca.Upload(o.reports, "", "100 % =SUM(A1).csv", []byte("a,b\n")).Document
	o.luca.Upload(o.inner, "", "draft.txt", []byte("another draft"))
	o.tags(o.luca, false, "class", odd.Id)
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	raw := o.luca.Want(200, "GET", "/api/bag?item="+o.reports.String(), nil).Body
	files := map[string][]byte{}
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		content, err := io.ReadAll(r)
		if err != nil {
			t.Fatal(err)
		}
		name, ok := strings.CutPrefix(f.Name, "Reports/")
		if !ok {
			t.Fatalf("%s lies outside the bag", f.Name)
		}
		files[name] = content
	}
	if got := string(files["bagit.txt"]); got != "BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n" {
		t.Errorf("%q", got)
	}
	if happened := string(files["metadata/events.json"]); !strings.Contains(happened, `"kind": "document.added"`) || !strings.Contains(happened, `"by": "Luca Ferrante"`) || strings.Contains(happened, "MER-24/005") {
		t.Errorf("what happened is %s", happened)
	}
	if happened := string(files["metadata/events.csv"]); !strings.HasPrefix(happened, "number,at,kind,by,outside,document,version\n") || !strings.Contains(happened, "document.tagged") {
		t.Errorf("what happened is %s", happened)
	}
	named := map[string]bool{}
	octets := 0
	check := func(manifest string) {
		t.Helper()
		for _, line := range strings.Split(strings.TrimSpace(string(files[manifest])), "\n") {
			sum, path, ok := strings.Cut(line, "  ")
			path = strings.NewReplacer("%0A", "\n", "%0D", "\r", "%25", "%").Replace(path)
			content, there := files[path]
			if want := sha256.Sum256(content); !ok || !there || hex.EncodeToString(want[:]) != sum {
				t.Errorf("%s: %q does not agree", manifest, line)
			}
			named[path] = true
			if strings.HasPrefix(path, "data/") {
				octets += len(content)
			}
		}
	}
	check("manifest-sha256.txt")
	documents := len(named)
	check("tagmanifest-sha256.txt")
	for path := range files {
		if !named[path] && path != "tagmanifest-sha256.txt" {
			t.Errorf("%s is in no manifest", path)
		}
	}
	// What is closed is not in it.
	if documents != 3 {
		t.Errorf("%d documents", documents)
	}
	if oxum := fmt.Sprintf("Payload-Oxum: %d.%d\n", octets, documents); !strings.Contains(string(files["bag-info.txt"]), oxum) || !strings.Contains(string(files["bag-info.txt"]), "Source-Organization: Halyard & Rook\n") {
		t.Errorf("%s, not %s", files["bag-info.txt"], oxum)
	}
	rows, err := csv.NewReader(bytes.NewReader(files["metadata/documents.csv"])).ReadAll()
	if err != nil || len(rows) != documents+1 {
		t.Fatalf("%v, %v", rows, err)
	}
	var list []map[string]any
	if err := json.Unmarshal(files["metadata/documents.json"], &list); err != nil || len(list) != documents {
		t.Fatalf("%v, %v", list, err)
	}
	for _, d := range list {
		if files[d["path"].(string)] == nil {
			t.Errorf("%v is not there", d["path"])
		}
		if d["number"] == odd.Ref && fmt.Sprint(d["tags"]) != "[class]" {
			t.Errorf("%v", d)
		}
	}
	// Who may not download takes nothing out.
	tomasz := o.SignIn("tomasz")
	tomasz.Want(404, "GET", "/api/bag?item="+o.reports.String(), nil)
	o.luca.Want(400, "GET", "/api/bag", nil)
}
