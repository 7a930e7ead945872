package find

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/klauspost/compress/zstd"

	"tabularis/core/fault"
	"tabularis/core/find"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/preview"
)

// Follow has a document's words kept that was added or revised, or is called otherwise.
func Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	switch c.Operation {
	case items.Adding, items.Revising, items.Renaming, items.Separating, items.BringingBack, items.Pruning:
		if c.Item.Kind == items.Document {
			return tx.Enqueue(ctx, jobs.Index{Item: c.Item.ID})
		}
	}
	return nil
}

// Register registers the work, and what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, func(ctx context.Context, job jobs.Index) error {
		begun := time.Now()
		err := s.Index(ctx, job.Item)
		rest(ctx, time.Since(begun))
		return err
	})
	r.Every("keep the words of what has none", 10*time.Minute, s.IndexLeft)
	r.Every("read what is written in scanned pages", time.Minute, s.Recognise)
	r.Every("tell of new answers", time.Minute, s.TellOfAnswers)
}

const (
	// atOnce is how many documents are looked up at once of which no words are kept.
	atOnce = 500
	// longest is how long one round of that takes at most.
	longest = 8 * time.Minute
)

// IndexLeft keeps the words of documents of which none are kept, newest first.
func (s *Service) IndexLeft(ctx context.Context) error {
	begun, before := s.Acts.Now(), uuid.Max
	for s.Acts.Now().Sub(begun) < longest {
		left, err := unindexed(ctx, s.Acts.DB, before, atOnce)
		if err != nil || len(left) == 0 {
			return err
		}
		before = left[len(left)-1]
		for _, id := range left {
			if err := s.Index(ctx, id); err != nil {
				return fmt.Errorf("keeping the words of %s: %w", id, err)
			}
		}
	}
	return nil
}

// rest waits as long as work took, so that whoever brings many documents in at once is held up
// little by the words of those before.
func rest(ctx context.Context, worked time.Duration) {
	select {
	case <-ctx.Done():
	case <-time.After(worked):
	}
}

// Index keeps the words of a document's counting version, its name and what stands beside it.
func (s *Service) Index(ctx context.Context, id uuid.UUID) error {
	for {
		d, err := documentOf(ctx, s.Acts.DB, id)
		if fault.Is(err, fault.NotFound) {
			return nil // It is gone already.
		}
		if err != nil {
			return err
		}
		done, err := s.index(ctx, d)
		if err != nil || done {
			return err
		}
	}
}

// index reports whether it is done: what was changed while the words were read is read again.
func (s *Service) index(ctx context.Context, d document) (done bool, err error) {
	text, err := s.besides(ctx, s.Acts.DB, d)
	if err != nil {
		return false, err
	}
	sum := besideSum(text)
	if known, err := placeOf(ctx, s.Acts.DB, d.ID, d.Version.Number); err != nil || bytes.Equal(known.Beside, sum) {
		return err == nil, err
	}
	b, err := s.body(ctx, d.Version)
	if err != nil {
		return false, err
	}
	if text.Pages, err = s.pages(b); err != nil {
		return false, err
	}
	v := find.Index(text)
	if err := s.window(ctx); err != nil {
		return false, err
	}
	return done, s.Acts.Do(ctx, func(tx *act.Tx) error {
		// Whoever keeps words of the document waits for each other, and the last one sees
		// what is true.
		now, err := lockDocument(ctx, tx, d)
		if fault.Is(err, fault.NotFound) {
			done = true
			return nil
		}
		if err != nil {
			return err
		}
		beside, err := s.besides(ctx, tx, now)
		if err != nil {
			return err
		}
		if done = now.Version.Number == d.Version.Number && bytes.Equal(besideSum(beside), sum); !done {
			return nil
		}
		if err := putWords(ctx, tx, d, v, sum); err != nil {
			return err
		}
		return addNameWords(ctx, tx, find.NameWords(d.Name))
	})
}

// besides is a document's name and what stands beside it.
func (s *Service) besides(ctx context.Context, q postgres.Q, d document) (find.Text, error) {
	text := find.Text{Name: d.Name}
	for _, beside := range s.Beside {
		more, err := beside(ctx, q, d.ID)
		if err != nil {
			return text, err
		}
		text.Beside = append(text.Beside, more...)
	}
	return text, nil
}

// window makes the window into which the next words go, and the one after it in time.
func (s *Service) window(ctx context.Context) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	newest, err := newestWindow(ctx, s.Acts.DB)
	if err != nil || newest+1 <= s.windows {
		return err
	}
	if err := makeWindows(ctx, s.Acts.DB, newest, newest+1); err != nil {
		return err
	}
	s.windows = newest + 1
	return nil
}

func besideSum(t find.Text) []byte {
	sum := sha256.Sum256([]byte(strings.Join(append([]string{t.Name}, t.Beside...), "\x00")))
	return sum[:]
}

// What is known of the text of content.
const (
	// legible: it has text. empty: it could have, and has none, as a scanned page. unreadable:
	// it is broken or locked. other: of a kind that has no text.
	legible, empty, unreadable, other = "read", "empty", "unreadable", "other"
)

// body is what is written in content.
type body struct {
	SHA256 []byte    `db:"sha256"`
	State  string    `db:"state"`
	Pages  int       `db:"pages"`
	Paged  bool      `db:"paged"`
	Sealed []byte    `db:"sealed"`
	At     time.Time `db:"at"`
	// Recognised is when what is written in its pages was looked for.
	Recognised *time.Time `db:"recognised_at"`
}

// body reads what is written in a version, once for each content.
func (s *Service) body(ctx context.Context, v items.Version) (body, error) {
	b, known, err := bodyOf(ctx, s.Acts.DB, v.SHA256)
	if err != nil || known {
		return b, err
	}
	b = body{SHA256: v.SHA256, State: other, At: s.Acts.Now()}
	if preview.HasText(v.MediaType, v.Size) {
		text, readable, err := s.Contents.Reader.Text(ctx, s.Contents.Source(ctx, v, "words"))
		if err != nil {
			return b, err
		}
		b.State, b.Pages, b.Paged = unreadable, len(text.Parts), text.Paged
		if readable {
			b.State = empty
			if s.seal(&b, text.Parts) {
				b.State = legible
			}
		}
	}
	return b, addBody(ctx, s.Acts.DB, b)
}

// pageEnd keeps pages apart (form feed, ISO/IEC 6429).
const pageEnd = "\f"

// seal packs and seals pages into a body, and reports whether anything is written on them.
func (s *Service) seal(b *body, pages []string) bool {
	text, written := make([]string, len(pages)), false
	for i, p := range pages {
		text[i] = strings.ReplaceAll(strings.ToValidUTF8(p, "\ufffd"), pageEnd, "\n")
		written = written || strings.TrimSpace(p) != ""
	}
	if written {
		b.Sealed = s.Keys.Seal(packer.EncodeAll([]byte(strings.Join(text, pageEnd)), nil), bodyPurpose(b.SHA256))
	}
	return written
}

// mostUnpacked is more than the text of any document that is read.
const mostUnpacked = 256 << 20

var (
	packer, _   = zstd.NewWriter(nil, zstd.WithEncoderLevel(zstd.SpeedDefault), zstd.WithEncoderConcurrency(1))
	unpacker, _ = zstd.NewReader(nil, zstd.WithDecoderConcurrency(1), zstd.WithDecoderMaxMemory(mostUnpacked))
)

func bodyPurpose(sha256 []byte) string { return "body " + hex.EncodeToString(sha256) }

// pages opens what is written in content.
func (s *Service) pages(b body) ([]string, error) {
	if b.Sealed == nil {
		return nil, nil
	}
	packed, err := s.Keys.Open(b.Sealed, bodyPurpose(b.SHA256))
	if err != nil {
		return nil, err
	}
	text, err := unpacker.DecodeAll(packed, nil)
	return strings.Split(string(text), pageEnd), err
}

// Words returns what stands beside a document to find it by, such as what was said of it.
type Words func(ctx context.Context, q postgres.Q, document uuid.UUID) ([]string, error)
