package archive

import (
	"bytes"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"fmt"
	"io"
	"strings"

	"tabularis/core/names"
)

// Payload is a document in a bag, with the SHA-256 of its content.
type Payload struct {
	Entry
	SHA256 []byte
}

// Tag is a file that a bag holds beside its documents.
type Tag struct {
	// Path is slash-separated, within the bag.
	Path    string
	Content []byte
}

// Bag is a set of documents that says of itself whether it is whole (BagIt 1.0, RFC 8493):
// stored under paths of their own, with the SHA-256 of each.
type Bag struct {
	payload []Payload
	// Paths are where in the bag each document is: data/…
	Paths []string
}

// NewBag makes a bag of documents. Names that collide are told apart, as in any archive.
func NewBag(payload []Payload) *Bag {
	entries := make([]Entry, len(payload))
	for i, p := range payload {
		entries[i] = p.Entry
		entries[i].Way = "data/" + p.Way
	}
	return &Bag{payload, Paths(entries)}
}

// Entries are the files of the bag in a folder of a name: what is said of it, and then its
// documents, in their order. info are further fields of bag-info.txt (section 2.2.2).
func (b *Bag) Entries(name string, said []Tag, info [][2]string) []Entry {
	var manifest, about bytes.Buffer
	var octets int64
	for i, p := range b.payload {
		octets += p.Size
		fmt.Fprintf(&manifest, "%x  %s\n", p.SHA256, escaped(b.Paths[i]))
	}
	for _, field := range append(info, [2]string{"Payload-Oxum", fmt.Sprintf("%d.%d", octets, len(b.payload))}) {
		fmt.Fprintf(&about, "%s: %s\n", field[0], strings.Join(strings.Fields(field[1]), " "))
	}
	tags := append([]Tag{{"bagit.txt", []byte("BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n")}, {"bag-info.txt", about.Bytes()}, {"manifest-sha256.txt", manifest.Bytes()}}, said...)
	var sums bytes.Buffer
	for _, t := range tags {
		sum := sha256.Sum256(t.Content)
		fmt.Fprintf(&sums, "%s  %s\n", hex.EncodeToString(sum[:]), escaped(t.Path))
	}
	tags = append(tags, Tag{"tagmanifest-sha256.txt", sums.Bytes()})
	top := harmless(name) + "/"
	var out []Entry
	for _, t := range tags {
		way, file := "", t.Path
		if at := strings.LastIndexByte(t.Path, '/'); at >= 0 {
			way, file = t.Path[:at+1], t.Path[at+1:]
		}
		out = append(out, Entry{Way: top + way, Name: file, Size: int64(len(t.Content)), Open: func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(t.Content)), nil }})
	}
	for i, p := range b.payload {
		e := p.Entry
		at := strings.LastIndexByte(b.Paths[i], '/')
		e.Way, e.Name = top+b.Paths[i][:at+1], b.Paths[i][at+1:]
		out = append(out, e)
	}
	return out
}

// Table writes rows as CSV (RFC 4180), which no spreadsheet takes for formulas.
func Table(rows [][]string) []byte {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	for _, row := range rows {
		_ = w.Write(names.Cells(row))
	}
	w.Flush()
	return out.Bytes()
}

// escaped writes a path as manifests do (section 2.1.3).
func escaped(path string) string {
	return strings.NewReplacer("%", "%25", "\r", "%0D", "\n", "%0A").Replace(path)
}
