package archive

import (
	"archive/zip"
	"bytes"
	"io"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

func TestHostileAndCollidingNames(t *testing.T) {
	in := [][2]string{
		{"", "Report.pdf"}, {"", "report.PDF"}, {"", "Report.pdf"}, {"", "..\\..\\evil.exe"}, {"", "../../evil"}, {"", ".."},
		{"../x/", "a"}, {"/etc/", "passwd"}, {"Photos//Tank 4/", "1.png"}, {"", "a\x00b"}, {"", "CON:aux"},
	}
	var entries []Entry
	for i, n := range in {
		entries = append(entries, Entry{Way: n[0], Name: n[1], Size: int64(i), Modified: time.Unix(1_800_000_000, 0), Open: func() (io.ReadCloser, error) {
			return io.NopCloser(strings.NewReader(strings.Repeat("x", i))), nil
		}})
	}
	var b bytes.Buffer
	if err := Write(&b, entries); err != nil {
		t.Fatal(err)
	}
	if n, known := Size(entries); !known || n != int64(b.Len()) {
		t.Errorf("it was to have %d bytes (%v) and has %d", n, known, b.Len())
	}
	if _, known := Size([]Entry{{Name: "large", Size: 5 << 30}}); known {
		t.Error("the size of what needs the larger fields is known")
	}
	r, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]bool{}
	for i, f := range r.File {
		key := strings.ToLower(f.Name)
		if seen[key] || !filepath.IsLocal(f.Name) || strings.ContainsAny(f.Name, "\\:\x00") {
			t.Errorf("entry %q", f.Name)
		}
		seen[key] = true
		if f.UncompressedSize64 != uint64(i) {
			t.Errorf("%q holds %d bytes, want %d", f.Name, f.UncompressedSize64, i)
		}
	}
	if len(r.File) != len(in) || r.File[8].Name != "Photos/Tank 4/1.png" {
		t.Errorf("%d entries, the ninth is %q", len(r.File), r.File[8].Name)
	}
}
