// Package care keeps the store whole: it removes what nothing refers to, and
// verifies that everything that is referred to is there, byte for byte.
package care

import (
	"bytes"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"time"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	tree "tabularis/internal/app/items"

	"github.com/google/uuid"

	"tabularis/internal/app/act"
	"tabularis/internal/platform/content"
	"tabularis/internal/platform/secret"
)

// Service cares for the store.
type Service struct {
	Acts    *act.Runner
	Content *content.Store
	Keys    *secret.Keys
	Log     *slog.Logger
	// Rest is how long a place that nothing refers to is left in peace: an upload
	// may be about to be noted.
	Rest time.Duration
}

// Clean removes places that neither a document nor an upload refers to, and
// returns how many.
func (s *Service) Clean(ctx context.Context) (removed int, err error) {
	var idle []uuid.UUID
	before := time.Now().Add(-s.Rest)
	err = s.Content.Places(func(place uuid.UUID, written time.Time) error {
		if written.Before(before) {
			idle = append(idle, place)
		}
		return ctx.Err()
	})
	if err != nil {
		return 0, err
	}
	for len(idle) > 0 {
		some := idle[:min(len(idle), 1000)]
		idle = idle[len(some):]
		orphans, err := tree.UnreferencedPlaces(ctx, s.Acts.DB, some)
		if err != nil {
			return removed, err
		}
		for _, place := range orphans {
			if err := s.Content.Drop(ctx, place); err != nil {
				return removed, err
			}
			removed++
		}
	}
	return removed, nil
}

// Report is what verifying found. The lists hold hashes and places.
type Report struct {
	Blobs, Bytes int64
	// Missing is content that is not there, Damaged content that is not what its
	// hash says, Wrong a document or folder whose
	// row does not show what is in it,
	// Orphans are places that nothing refers to.
	Missing, Damaged, Wrong, Orphans []string
}

// Sound reports whether nothing is missing, damaged or wrong. Orphans are
// rubbish, not damage.
func (r Report) Sound() bool { return len(r.Missing)+len(r.Damaged)+len(r.Wrong) == 0 }

// Verify reads every blob and compares it with its hash, and looks through all
// references.
func (s *Service) Verify(ctx context.Context) (Report, error) {
	var r Report
	err := tree.EachBlob(ctx, s.Acts.DB, func(b items.Blob) error {
		r.Blobs++
		r.Bytes += b.Size
		switch err := s.verify(ctx, b); {
		case errors.Is(err, fs.ErrNotExist):
			r.Missing = append(r.Missing, fmt.Sprintf("%x", b.SHA256))
		case err != nil:
			r.Damaged = append(r.Damaged, fmt.Sprintf("%x: %v", b.SHA256, err))
		}
		return ctx.Err()
	})
	if err != nil {
		return r, err
	}
	if r.Wrong, err = tree.WrongItems(ctx, s.Acts.DB); err != nil {
		return r, err
	}
	scopes, err := guard.WrongScopes(ctx, s.Acts.DB)
	if err != nil {
		return r, err
	}
	r.Wrong = append(r.Wrong, scopes...)
	var places []uuid.UUID
	if err := s.Content.Places(func(place uuid.UUID, _ time.Time) error { places = append(places, place); return nil }); err != nil {
		return r, err
	}
	orphans, err := tree.UnreferencedPlaces(ctx, s.Acts.DB, places)
	for _, o := range orphans {
		r.Orphans = append(r.Orphans, o.String())
	}
	return r, err
}

func (s *Service) verify(ctx context.Context, b items.Blob) error {
	contents := tree.Contents{DB: s.Acts.DB, Content: s.Content, Keys: s.Keys}
	f, err := contents.Read(ctx, b)
	if err != nil {
		return err
	}
	defer f.Close()
	sum := sha256.New()
	n, err := io.Copy(sum, f)
	switch {
	case err != nil:
		return err
	case n != b.Size:
		return fmt.Errorf("%d bytes instead of %d", n, b.Size)
	case !bytes.Equal(sum.Sum(nil), b.SHA256):
		return errors.New("the hash differs")
	}
	return nil
}

// Write writes the report for people.
func (r Report) Write(w io.Writer) {
	fmt.Fprintf(w, "%d blobs with %d bytes were read.\n", r.Blobs, r.Bytes)
	for name, list := range map[string][]string{"missing": r.Missing, "damaged": r.Damaged, "with a wrong row": r.Wrong, "orphans (rubbish that will be removed)": r.Orphans} {
		if len(list) > 0 {
			fmt.Fprintf(w, "%d %s:\n", len(list), name)
			for _, l := range list {
				fmt.Fprintln(w, "  "+l)
			}
		}
	}
	if r.Sound() {
		fmt.Fprintln(w, "Everything that is referred to is there, byte for byte.")
	}
}
