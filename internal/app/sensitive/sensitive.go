// Package sensitive looks contents through for what should not leave the
// practice unnoticed, and keeps what it found.
package sensitive

import (
	"bytes"
	"context"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/register"
	"tabularis/core/scan"
	"tabularis/internal/app/act"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/notices"
	"tabularis/internal/store"
)

// What a practice does about sensitive content that is given out.
const (
	Off    = "off"
	Warn   = "warn"
	Forbid = "forbid"
)

// Service looks contents through.
type Service struct {
	Acts      *act.Runner
	Documents *documents.Service
}

// Content is what is looked through: a version of a document.
type Content struct {
	Item      store.Item
	SHA256    []byte
	Size      int64
	MediaType string
}

// Found is what was found in one of the contents.
type Found struct {
	Content
	store.ScanFinding
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
	most        = 5000
	maxPatterns = 200
)

// Patterns reads the practice's own patterns.
func Patterns(raw json.RawMessage) ([]scan.Pattern, error) {
	var all []scan.Pattern
	if len(raw) == 0 {
		return nil, nil
	}
	if err := json.Unmarshal(raw, &all); err != nil {
		return nil, fmt.Errorf("reading the practice's patterns: %w", err)
	}
	return all, nil
}

// CheckRules refuses unknown ways of dealing with sensitive content, and patterns
// that cannot be used.
func CheckRules(how string, patterns []scan.Pattern) error {
	if how != Off && how != Warn && how != Forbid {
		return fault.Field("sensitive", "sensitive-unknown", "sensitive content is off, warn or forbid")
	}
	if len(patterns) > maxPatterns {
		return fault.Field("patterns", "patterns-count", "at most %d words and patterns", maxPatterns)
	}
	for _, p := range patterns {
		if err := p.Check("patterns"); err != nil {
			return err
		}
	}
	return nil
}

// Look says what is in contents. What was not looked through yet is, as far as
// somebody can wait for it.
func (s *Service) Look(ctx context.Context, contents []Content) (Report, error) {
	p, err := store.ThePractice(ctx, s.Acts.DB)
	if err != nil || p.Sensitive == Off {
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
func (s *Service) Passes(ctx context.Context, q store.Q, contents []Content) (func(Content) bool, error) {
	p, err := store.ThePractice(ctx, q)
	if err != nil || p.Sensitive != Forbid {
		return func(Content) bool { return true }, err
	}
	clean := map[string]bool{}
	for some := range slices.Chunk(contents, most) {
		r, err := s.look(ctx, q, p, some, store.Outside(q))
		if err != nil {
			return nil, err
		}
		maps.Copy(clean, r.clean)
	}
	return func(c Content) bool { return clean[hex.EncodeToString(c.SHA256)] }, nil
}

// look says what is in contents; with wait, what was not looked through yet is
// now.
func (s *Service) look(ctx context.Context, q store.Q, p store.Practice, contents []Content, wait bool) (Report, error) {
	r := Report{clean: map[string]bool{}}
	hashes := make([]string, len(contents))
	for i, c := range contents {
		hashes[i] = hex.EncodeToString(c.SHA256)
	}
	known, err := store.ScansOf(ctx, q, hashes, p.PatternsNumber)
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
	all, err := store.ScanFindings(ctx, q, hashes)
	found := map[string][]store.ScanFinding{}
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

// Scan looks through content that has just come in as a version of a document.
func (s *Service) Scan(ctx context.Context, item uuid.UUID, sha256 []byte, mediaType string) error {
	p, err := store.ThePractice(ctx, s.Acts.DB)
	if err != nil || p.Sensitive == Off {
		return err
	}
	b, err := store.BlobByHash(ctx, s.Acts.DB, sha256)
	if fault.Is(err, fault.NotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	known, err := store.ScansOf(ctx, s.Acts.DB, []string{hex.EncodeToString(sha256)}, p.PatternsNumber)
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
func (s *Service) tell(ctx context.Context, p store.Practice, item uuid.UUID, sha256 []byte) error {
	kind := notices.Sensitive
	if p.Sensitive == Forbid {
		kind = notices.KeptBack
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		found, err := store.ScanFindings(ctx, tx, []string{hex.EncodeToString(sha256)})
		if err != nil || len(found) == 0 {
			return err
		}
		i, err := store.SightOf(ctx, tx, item, tx.Now)
		if fault.Is(err, fault.NotFound) || err == nil && !bytes.Equal(i.SHA256, sha256) {
			return nil
		}
		if err != nil {
			return err
		}
		way, err := store.ZonePathOf(ctx, tx, item)
		if err != nil {
			return err
		}
		makers, err := store.MakersOfNewest(ctx, tx, way, tx.Now)
		for _, m := range makers {
			err = errors.Join(err, notices.Add(ctx, tx, m, kind, i.Name, "/d/"+register.Ref{Code: i.Code, Number: *i.Number}.String()))
		}
		return err
	})
}

func (s *Service) scan(ctx context.Context, p store.Practice, sha256 []byte, size int64, mediaType string) (store.Scan, error) {
	done := store.Scan{SHA256: sha256, Patterns: p.PatternsNumber, ScannedAt: s.Acts.Now()}
	own, err := Patterns(p.Patterns)
	if err != nil {
		return done, err
	}
	v := store.Version{SHA256: sha256, Size: size, MediaType: mediaType}
	text, err := s.Documents.Reader.Find(ctx, s.Documents.Source(ctx, v, "looking through"), own, p.PatternsNumber)
	if err != nil {
		return done, err
	}
	done.Readable = text.Readable
	found := make([]store.ScanFinding, len(text.Found))
	for i, f := range text.Found {
		found[i] = store.ScanFinding{SHA256: sha256, Kind: f.Kind, Name: f.Name, N: f.N, Page: f.Page, Line: f.Line, Shown: f.Shown}
	}
	return done, s.Acts.Do(ctx, func(tx *act.Tx) error { return store.PutScan(ctx, tx, done, found) })
}
