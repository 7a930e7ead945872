// Package chunk lets storage grow by what changed: of a further version of a document only
// what the version before it does not have is kept, in a place and under a key of its own.
// Versions of one document alone are compared, so that nothing of what another dossier
// holds can be told from how much something takes.
package chunk

import (
	"context"
	"crypto/sha256"
	"io"
	"time"

	"github.com/google/uuid"

	"tabularis/core/chunk"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/content"
	"tabularis/internal/platform/secret"
)

// Service keeps what is stored small.
type Service struct {
	Acts     *act.Runner
	Contents *tree.Contents
}

const (
	// least is the smallest content that is looked at, in bytes: below it a file of its own
	// costs little more than what would be saved.
	least = 128 << 10
	// mostSources is of how many other blobs content is made at most; fewSources are left
	// where it would be more. Each is a file to be opened when it is read.
	mostSources, fewSources = 48, 4
	// leastRun is how long a run is on average, at least: content in smaller pieces would
	// be slow to read.
	leastRun = 4 << 10
	// Rest is how long a place is left in peace that nothing needs any more.
	Rest = 24 * time.Hour
)

// Weigh keeps of the versions of a document what each of them changed, where that is less
// than half of it, the oldest first. Versions that were looked at before are left alone.
func (s *Service) Weigh(ctx context.Context, document uuid.UUID) error {
	all, err := contentOf(ctx, s.Acts.DB, document)
	if err != nil {
		return err
	}
	for i := 1; i < len(all); i++ {
		if b := all[i]; b.Weighed || !b.Whole() || b.Size < least {
			continue
		}
		// The one before may have just been taken apart itself.
		if err := s.weigh(ctx, all[i-1].SHA256, all[i]); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) weigh(ctx context.Context, earlier []byte, b items.Blob) error {
	w, err := s.compare(ctx, earlier, b)
	if err != nil {
		return err
	}
	if own := w.recipe.Own(); own > b.Size/2 || int64(len(w.recipe)) > b.Size/leastRun {
		return tree.NoteWeighed(ctx, s.Acts.DB, b.SHA256)
	}
	later, err := s.Contents.ReadOwn(b)
	if err != nil {
		return err
	}
	defer later.Close()
	place, err := s.store(ctx, b, later, w.kept)
	if err != nil {
		return err
	}
	return s.unlessUnused(ctx, place, func(tx *act.Tx) (taken bool, err error) {
		if err := tree.LockBlobs(ctx, tx, false); err != nil {
			return false, err
		}
		same, err := lockAsSeen(ctx, tx, b, w.sources)
		if err != nil || !same {
			// Another process was quicker, or it is gone.
			return false, err
		}
		if err := leavePlace(ctx, tx, b.Place, tx.Now); err != nil {
			return false, err
		}
		if err := tree.CountStored(ctx, tx, b, -b.Size); err != nil {
			return false, err
		}
		if err := tree.CountStored(ctx, tx, place, place.Own); err != nil {
			return false, err
		}
		place.Recipe = w.recipe.Encode()
		return true, tree.TakeApart(ctx, tx, place, w.sources)
	})
}

// unlessUnused runs an act that may take a new place into use, and drops the place where it
// does not.
func (s *Service) unlessUnused(ctx context.Context, b items.Blob, fn func(tx *act.Tx) (taken bool, err error)) error {
	taken := false
	err := s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		taken, err = fn(tx)
		return err
	})
	if err == nil && !taken {
		err = s.Contents.Content.Drop(ctx, b.Place)
	}
	return err
}

// weighed is how content can be made of others: its recipe, the places of it that are kept,
// and the blobs that are the sources from 1 on.
type weighed struct {
	recipe  chunk.Recipe
	kept    []chunk.Part
	sources []items.Blob
}

func (s *Service) compare(ctx context.Context, earlier []byte, b items.Blob) (w weighed, err error) {
	before, blobs, err := tree.RecipeOf(ctx, s.Acts.DB, earlier)
	if err != nil {
		return w, err
	}
	a := blobs[0]
	old, err := s.Contents.Read(ctx, a)
	if err != nil {
		return w, err
	}
	defer old.Close()
	later, err := s.Contents.ReadOwn(b)
	if err != nil {
		return w, err
	}
	defer later.Close()
	parts, err := chunk.Cover(ahead(old, a.Size), a.Size, ahead(later, b.Size), b.Size)
	if err != nil {
		return w, err
	}
	number := map[int]int{}
	w.recipe = chunk.Through(parts, before, func(source int) int {
		if number[source] == 0 {
			w.sources = append(w.sources, blobs[source])
			number[source] = len(w.sources)
		}
		return number[source]
	})
	w.gather()
	return w, nil
}

// gather takes in what comes from many sources, all but the largest, and numbers the rest
// anew.
func (w *weighed) gather() {
	from := make([]int64, len(w.sources)+1)
	for _, run := range w.recipe {
		from[run.Source] += run.Length
	}
	few := func(int) bool { return false }
	if len(w.sources) > mostSources {
		stays := largest(from[1:], fewSources)
		few = func(source int) bool { return !stays[source-1] }
	}
	w.recipe, w.kept = chunk.Gather(w.recipe, few)
	var left []items.Blob
	number := map[int]int{0: 0}
	for i, run := range w.recipe {
		n, known := number[run.Source]
		if !known {
			left = append(left, w.sources[run.Source-1])
			n = len(left)
			number[run.Source] = n
		}
		w.recipe[i].Source = n
	}
	w.sources = left
}

// largest tells which of the numbers are the n largest.
func largest(numbers []int64, n int) map[int]bool {
	out := map[int]bool{}
	for len(out) < min(n, len(numbers)) {
		best := -1
		for i, v := range numbers {
			if !out[i] && (best < 0 || v > numbers[best]) {
				best = i
			}
		}
		out[best] = true
	}
	return out
}

// store keeps parts of content in a place of their own, under a key of their own.
func (s *Service) store(ctx context.Context, b items.Blob, from io.ReaderAt, parts []chunk.Part) (items.Blob, error) {
	var readers []io.Reader
	own := int64(0)
	for _, p := range parts {
		readers = append(readers, io.NewSectionReader(from, p.From, p.Length))
		own += p.Length
	}
	key := content.Key{Secret: [32]byte(secret.Random(32)), Nonce: [12]byte(secret.Random(12))}
	b.Place, b.Own, b.SealedKey = uuid.Must(uuid.NewV7()), own, s.Contents.Keys.Seal(key.Secret[:], tree.KeyPurpose)
	if own == 0 {
		return b, nil
	}
	sum := sha256.New()
	if _, err := s.Contents.Content.Receive(b.Place, key, 0, own, io.MultiReader(readers...), sum, nil, nil); err != nil {
		return b, err
	}
	if err := s.Contents.Content.Settle(ctx, b.Place); err != nil {
		return b, err
	}
	return b, s.Contents.Content.Settled(b.Place)
}

// DropLeft drops the places that nobody can be reading any more.
func (s *Service) DropLeft(ctx context.Context) error {
	for {
		places, err := leftPlaces(ctx, s.Acts.DB, s.Acts.Now().Add(-Rest), 200)
		if err != nil || len(places) == 0 {
			return err
		}
		for _, place := range places {
			if err := s.Contents.Content.Drop(ctx, place); err != nil {
				return err
			}
			if err := forgetPlace(ctx, s.Acts.DB, place); err != nil {
				return err
			}
		}
	}
}
