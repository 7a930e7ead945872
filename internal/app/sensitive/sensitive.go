// Package sensitive looks contents through for what should not leave the
// practice unnoticed, and keeps what it found.
package sensitive

import (
	"bytes"
	"context"
	"encoding/hex"
	"errors"
	"maps"
	"slices"
	"time"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/register"
	"tabularis/core/scan"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
)

// Service looks contents through.
type Service struct {
	Acts     *act.Runner
	Contents *tree.Contents
	// MakersOfNewest tells who made open links that always give what is newest in
	// one of the items.
	MakersOfNewest func(ctx context.Context, q postgres.Q, items []uuid.UUID, now time.Time) ([]uuid.UUID, error)
}

// Content is what is looked through: a version of a document.
type Content struct {
	Item      items.Item
	SHA256    []byte
	Size      int64
	MediaType string
}

// Found is what was found in one of the contents.
type Found struct {
	Content
	ScanFinding
}

// Report is what was found in contents.
type Report struct {
	Found []Found
	// Unread counts contents whose text cannot be read, such as pictures, and Left
	// those that were not looked through yet.
	Unread, Left int
	// clean are the hashes of what was looked through, and nothing found in it.
	clean map[string]bool
}

const (
	// atOnce and bytesAtOnce bound what is looked through while somebody waits.
	atOnce      = 40
	bytesAtOnce = 64 << 20
	// most is how many contents are asked about at once.
	most = 5000
)

// Look says what is in contents. What was not looked through yet is, as far as
// somebody can wait for it.
func (s *Service) Look(ctx context.Context, contents []Content) (Report, error) {
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil || p.Sensitive == scan.Off {
		return Report{}, err
	}
	left := max(0, len(contents)-most)
	r, err := s.look(ctx, s.Acts.DB, p, contents[:len(contents)-left], true)
	r.Left += left
	return r, err
}

// Passes returns which contents may leave the practice now, where it forbids
// sensitive ones: those that were looked through, and nothing found. Within an
// act nothing is looked through anew.
func (s *Service) Passes(ctx context.Context, q postgres.Q, contents []Content) (func(Content) bool, error) {
	p, err := practice.ThePractice(ctx, q)
	if err != nil || p.Sensitive != scan.Forbid {
		return func(Content) bool { return true }, err
	}
	clean := map[string]bool{}
	for some := range slices.Chunk(contents, most) {
		r, err := s.look(ctx, q, p, some, postgres.Outside(q))
		if err != nil {
			return nil, err
		}
		maps.Copy(clean, r.clean)
	}
	return func(c Content) bool { return clean[hex.EncodeToString(c.SHA256)] }, nil
}

// look says what is in contents; with wait, what was not looked through yet is
// now.
func (s *Service) look(ctx context.Context, q postgres.Q, p practice.Practice, contents []Content, wait bool) (Report, error) {
	r := Report{clean: map[string]bool{}}
	hashes := make([]string, len(contents))
	for i, c := range contents {
		hashes[i] = hex.EncodeToString(c.SHA256)
	}
	known, err := ScansOf(ctx, q, hashes, p.PatternsNumber)
	if err != nil {
		return r, err
	}
	looked, bytes := 0, int64(0)
	for i, c := range contents {
		done, ok := known[hashes[i]]
		if !ok && wait && looked < atOnce && bytes+c.Size < bytesAtOnce {
			looked, bytes = looked+1, bytes+c.Size
			if done, err = s.scan(ctx, p, c.SHA256, c.Size, c.MediaType); err != nil {
				return r, err
			}
			known[hashes[i]], ok = done, true
		}
		r.clean[hashes[i]] = ok
		switch {
		case !ok:
			r.Left++
		case !done.Readable:
			r.Unread++
		}
	}
	all, err := ScanFindings(ctx, q, hashes)
	found := map[string][]ScanFinding{}
	for _, f := range all {
		hash := hex.EncodeToString(f.SHA256)
		found[hash] = append(found[hash], f)
		r.clean[hash] = false
	}
	for i, c := range contents {
		for _, f := range found[hashes[i]] {
			r.Found = append(r.Found, Found{c, f})
		}
	}
	return r, err
}

// Follow lets content that has come in be looked through.
func Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	if c.Operation != items.Adding && c.Operation != items.Revising || c.Item.Kind != items.Document {
		return nil
	}
	return tx.Enqueue(ctx, jobs.Scan{Item: c.Item.ID, SHA256: c.Version.SHA256, MediaType: c.Version.MediaType})
}

// Scan looks through content that has just come in as a version of a document.
func (s *Service) Scan(ctx context.Context, item uuid.UUID, sha256 []byte, mediaType string) error {
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil || p.Sensitive == scan.Off {
		return err
	}
	b, err := tree.BlobByHash(ctx, s.Acts.DB, sha256)
	if fault.Is(err, fault.NotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	known, err := ScansOf(ctx, s.Acts.DB, []string{hex.EncodeToString(sha256)}, p.PatternsNumber)
	if err != nil {
		return err
	}
	if len(known) == 0 {
		if _, err := s.scan(ctx, p, sha256, b.Size, mediaType); err != nil {
			return err
		}
	}
	return s.tell(ctx, p, item, sha256)
}

// tell tells whoever made a link that always gives the newest of a document, or
// of a folder it lies in, that something sensitive has come into it.
func (s *Service) tell(ctx context.Context, p practice.Practice, item uuid.UUID, sha256 []byte) error {
	kind := notices.Sensitive
	if p.Sensitive == scan.Forbid {
		kind = notices.KeptBack
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		found, err := ScanFindings(ctx, tx, []string{hex.EncodeToString(sha256)})
		if err != nil || len(found) == 0 {
			return err
		}
		i, err := guard.SightOf(ctx, tx, item, tx.Now)
		if fault.Is(err, fault.NotFound) || err == nil && !bytes.Equal(i.SHA256, sha256) {
			return nil
		}
		if err != nil {
			return err
		}
		way, err := tree.ZonePathOf(ctx, tx, item)
		if err != nil {
			return err
		}
		makers, err := s.MakersOfNewest(ctx, tx, way, tx.Now)
		for _, m := range makers {
			err = errors.Join(err, notices.Add(ctx, tx, m, kind, i.Name, "/d/"+register.Ref{Code: i.Code, Number: *i.Number}.String()))
		}
		return err
	})
}

func (s *Service) scan(ctx context.Context, p practice.Practice, sha256 []byte, size int64, mediaType string) (Scan, error) {
	done := Scan{SHA256: sha256, Patterns: p.PatternsNumber, ScannedAt: s.Acts.Now()}
	own, err := scan.Patterns(p.Patterns)
	if err != nil {
		return done, err
	}
	v := items.Version{SHA256: sha256, Size: size, MediaType: mediaType}
	text, err := s.Contents.Reader.Find(ctx, s.Contents.Source(ctx, v, "looking through"), own, p.PatternsNumber)
	if err != nil {
		return done, err
	}
	done.Readable = text.Readable
	found := make([]ScanFinding, len(text.Found))
	for i, f := range text.Found {
		found[i] = ScanFinding{SHA256: sha256, Kind: f.Kind, Name: f.Name, N: f.N, Page: f.Page, Line: f.Line, Shown: f.Shown}
	}
	return done, s.Acts.Do(ctx, func(tx *act.Tx) error { return PutScan(ctx, tx, done, found) })
}
