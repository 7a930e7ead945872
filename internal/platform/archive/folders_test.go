package archive

import (
	"errors"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

func entry(way, name, content string, opened *int) Entry {
	return Entry{Way: way, Name: name, Size: int64(len(content)), Modified: time.Date(2026, 11, 23, 9, 40, 1, 7, time.UTC), Open: func() (io.ReadCloser, error) {
		*opened++
		return io.NopCloser(strings.NewReader(content)), nil
	}}
}

// Entries become files, once: whoever begins again goes on, and writes what has changed.
func TestLay(t *testing.T) {
	dir, opened := t.TempDir(), 0
	all := []Entry{entry("03 Reports/", "a.txt", "one", &opened), entry("03 Reports/", "A.txt", "two", &opened), entry("../../", "out.txt", "three", &opened), entry("", "b.txt", "", &opened)}
	told := 0
	l, err := Lay(dir, all, func(string, Laid) { told++ })
	if err != nil || l.Written != 4 || l.Kept != 0 || l.Bytes != 11 || told != 4 {
		t.Fatalf("%+v %v", l, err)
	}
	var files []string
	_ = filepath.WalkDir(dir, func(p string, d os.DirEntry, _ error) error {
		if !d.IsDir() {
			files = append(files, filepath.Base(p))
		}
		return nil
	})
	if len(files) != 4 || strings.Contains(strings.Join(files, " "), unfinished) {
		t.Errorf("there are %v", files)
	}
	if raw, err := os.ReadFile(filepath.Join(dir, "03 Reports", "a.txt")); string(raw) != "one" {
		t.Errorf("a.txt holds %q %v", raw, err)
	}
	opened = 0
	all[0] = entry("03 Reports/", "a.txt", "changed", &opened)
	if l, err := Lay(dir, all, func(string, Laid) {}); err != nil || l.Written != 1 || l.Kept != 3 || opened != 1 {
		t.Errorf("again: %+v %v, %d opened", l, err, opened)
	}
}

// What breaks off leaves nothing that looks whole, and what was there stays.
func TestLayBreaksOff(t *testing.T) {
	dir, opened := t.TempDir(), 0
	if _, err := Lay(dir, []Entry{entry("", "a.txt", "before", &opened)}, func(string, Laid) {}); err != nil {
		t.Fatal(err)
	}
	short := entry("", "a.txt", "x", &opened)
	short.Size = 100
	failing := entry("", "a.txt", "after", &opened)
	failing.Open = func() (io.ReadCloser, error) { return nil, errors.New("gone") }
	for _, e := range []Entry{short, failing} {
		if _, err := Lay(dir, []Entry{e}, func(string, Laid) {}); err == nil {
			t.Error("it must be said")
		}
		if raw, _ := os.ReadFile(filepath.Join(dir, "a.txt")); string(raw) != "before" {
			t.Errorf("it holds %q", raw)
		}
	}
	if left, _ := filepath.Glob(filepath.Join(dir, "*"+unfinished)); len(left) > 0 {
		t.Errorf("left over: %v", left)
	}
	// A link that leads outside is not followed.
	outside := t.TempDir()
	if err := os.Symlink(outside, filepath.Join(dir, "sub")); err != nil {
		t.Fatal(err)
	}
	if _, err := Lay(dir, []Entry{entry("sub/", "a.txt", "x", &opened)}, func(string, Laid) {}); err == nil {
		t.Error("it was written through a link")
	}
	if there, _ := os.ReadDir(outside); len(there) > 0 {
		t.Error("something lies outside")
	}
}
