package items

import (
	"context"
	"io"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/platform/archive"
	"tabularis/internal/platform/content"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/secret"
)

// KeyPurpose is the purpose under which blobs' keys are sealed.
const KeyPurpose = "blob"

// Contents opens what documents hold. Its callers have checked the right.
type Contents struct {
	DB      *postgres.DB
	Content *content.Store
	Keys    *secret.Keys
	Reader  *reading.Reader
}

// File is content ready to be read. Whoever opened it closes it.
type File struct {
	Item    items.Item
	Version items.Version
	io.ReadSeekCloser
}

// Modified is the moment that a version carries as its file's date.
func (f File) Modified() time.Time { return f.Version.CreatedAt }

// FileOf opens a version of a document for a caller who has checked the right.
// A link gives the version it named also after that was kept apart.
func (s *Contents) FileOf(ctx context.Context, item items.Item, v items.Version) (File, error) {
	r, err := s.blob(ctx, v.SHA256)
	return File{item, v, r}, err
}

func (s *Contents) blob(ctx context.Context, sha256 []byte) (*content.Reader, error) {
	b, err := BlobByHash(ctx, s.DB, sha256)
	if err != nil {
		return nil, err
	}
	return s.Read(ctx, b)
}

// Read opens stored content.
func (s *Contents) Read(ctx context.Context, b items.Blob) (*content.Reader, error) {
	if !b.Whole() {
		return s.readRuns(ctx, b)
	}
	return s.ReadOwn(b)
}

// ReadOwn opens what lies in the place of a blob.
func (s *Contents) ReadOwn(b items.Blob) (*content.Reader, error) {
	key, err := s.Keys.Open(b.SealedKey, KeyPurpose)
	if err != nil {
		return nil, err
	}
	return s.Content.Read(b.Place, [32]byte(key), b.Own)
}

// readRuns opens content of which a part stands in other blobs.
func (s *Contents) readRuns(ctx context.Context, b items.Blob) (*content.Reader, error) {
	recipe, blobs, err := RecipeOf(ctx, s.DB, b.SHA256)
	if err != nil {
		return nil, err
	}
	sources := make([]content.Source, len(blobs))
	for i, b := range blobs {
		key, err := s.Keys.Open(b.SealedKey, KeyPurpose)
		if err != nil {
			return nil, err
		}
		sources[i] = content.Source{Place: b.Place, Key: [32]byte(key), Size: b.Own}
	}
	runs := make([]content.Run, len(recipe))
	for i, r := range recipe {
		runs[i] = content.Run(r)
	}
	return s.Content.ReadRuns(sources, runs), nil
}

// Source is the content of a version, for reading it on somebody's behalf. It
// stays open for whoever else waits for the same when the one who asked first
// gives up. The caller has checked the right.
func (s *Contents) Source(ctx context.Context, v items.Version, asker string) reading.Source {
	ctx = context.WithoutCancel(ctx)
	return reading.Source{SHA256: v.SHA256, MediaType: v.MediaType, Size: v.Size, For: asker, Open: func() (io.ReadCloser, error) {
		return s.blob(ctx, v.SHA256)
	}}
}

// Chosen is a set of documents to be fetched together.
type Chosen struct {
	Name    string
	Entries []archive.Entry
	// Documents are those that the entries are of.
	Documents []uuid.UUID
}

// Add adds an entry of a document.
func (c *Chosen) Add(e archive.Entry, document uuid.UUID) {
	c.Entries, c.Documents = append(c.Entries, e), append(c.Documents, document)
}

// Entry makes an archive's entry that opens the content only when its turn comes.
func (s *Contents) Entry(ctx context.Context, d items.Placed, sha256 []byte, size int64) archive.Entry {
	return archive.Entry{Way: d.Way, Name: d.Name, Modified: d.CreatedAt, Size: size, Open: func() (io.ReadCloser, error) { return s.blob(ctx, sha256) }}
}
