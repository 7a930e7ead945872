package archive

import (
	"archive/zip"
	"bytes"
	"io"
	"path"
	"strings"
	"testing"
	"unicode/utf8"
)

// Whatever names documents have, an archive stays inside its folder and can be
// read again, with as many entries as went in.
func FuzzWrite(f *testing.F) {
	f.Add("a/b", "c.txt", "c.txt")
	f.Add("../..", "/etc/passwd", "CON")
	f.Add("x\\y", "..", ".")
	f.Add("", "", "\x00")
	f.Fuzz(func(t *testing.T, way, first, second string) {
		open := func() (io.ReadCloser, error) { return io.NopCloser(strings.NewReader("text")), nil }
		var b bytes.Buffer
		if err := Write(&b, []Entry{{Way: way, Name: first, Open: open}, {Way: way, Name: second, Open: open}}); err != nil {
			t.Fatal(err)
		}
		z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
		if err != nil {
			t.Fatal(err)
		}
		names := map[string]bool{}
		for _, e := range z.File {
			if names[e.Name] || path.IsAbs(e.Name) || strings.Contains(e.Name, "\\") || e.Name != path.Clean(e.Name) || strings.HasPrefix(e.Name, "..") || !utf8.ValidString(e.Name) {
				t.Errorf("the archive holds %q", e.Name)
			}
			names[e.Name] = true
		}
		if len(names) != 2 {
			t.Errorf("%d of 2 entries", len(names))
		}
	})
}
