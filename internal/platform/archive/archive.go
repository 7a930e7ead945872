// Package archive writes several documents as one ZIP archive (ISO/IEC 21320-1:
// stored, not compressed), streamed while it is read.
package archive

import (
	"archive/zip"
	"fmt"
	"io"
	"math"
	"path"
	"strings"
	"time"

	"tabularis/core/names"
)

// Entry is a document in an archive. Way is the slash-separated folder way,
// empty or ending in a slash.
type Entry struct {
	Way, Name string
	Modified  time.Time
	Size      int64
	Open      func() (io.ReadCloser, error)
}

// Write streams the entries to w. Names that collide, also by case or normal
// form, are told apart; no entry can leave the folder it is unpacked in.
func Write(w io.Writer, entries []Entry) error {
	z := zip.NewWriter(w)
	for i, path := range Paths(entries) {
		if err := add(z, entries[i], path); err != nil {
			return fmt.Errorf("adding %d entries to an archive: %w", len(entries), err)
		}
	}
	return z.Close()
}

// Size is how many bytes Write writes of entries that have the sizes they say.
// It is not known for what takes the format's larger fields (over 4 GiB).
func Size(entries []Entry) (n int64, known bool) {
	var c counter
	empty := make([]Entry, len(entries))
	for i, e := range entries {
		empty[i], n = e, n+e.Size
		empty[i].Open = func() (io.ReadCloser, error) { return io.NopCloser(strings.NewReader("")), nil }
	}
	if err := Write(&c, empty); err != nil {
		return 0, false
	}
	n += int64(c)
	return n, n < math.MaxUint32 && len(entries) < math.MaxUint16
}

type counter int64

func (c *counter) Write(p []byte) (int, error) {
	*c += counter(len(p))
	return len(p), nil
}

// Paths are where entries are in their archive, each another.
func Paths(entries []Entry) []string {
	out, taken := make([]string, len(entries)), map[string]bool{}
	for i, e := range entries {
		way := safeWay(e.Way)
		name := names.Apart(harmless(e.Name), func(n string) bool { return taken[names.Key(way+n)] })
		taken[names.Key(way+name)] = true
		out[i] = way + name
	}
	return out
}

func add(z *zip.Writer, e Entry, path string) error {
	to, err := z.CreateHeader(&zip.FileHeader{Name: path, Method: zip.Store, Modified: e.Modified})
	if err != nil {
		return err
	}
	from, err := e.Open()
	if err != nil {
		return err
	}
	defer from.Close()
	_, err = io.Copy(to, from)
	return err
}

// safeWay makes each part harmless and joins what is left.
func safeWay(way string) string {
	var parts []string
	for p := range strings.SplitSeq(strings.Trim(way, "/"), "/") {
		if p != "" {
			parts = append(parts, harmless(p))
		}
	}
	if len(parts) == 0 {
		return ""
	}
	return path.Join(parts...) + "/"
}

// harmless gives a name under which any system can unpack.
func harmless(name string) string {
	clean := strings.Map(func(r rune) rune {
		if r < 32 || r == 127 || strings.ContainsRune(`/\:*?"<>|`, r) {
			return '_'
		}
		return r
	}, name)
	if strings.Trim(clean, ". ") == "" {
		return "_" + clean
	}
	return clean
}
