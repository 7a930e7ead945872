package content

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"sync"

	"github.com/google/uuid"
	"gocloud.dev/blob"
	_ "gocloud.dev/blob/s3blob" // buckets by the S3 protocol
	"gocloud.dev/gcerrors"
)

// OpenBucket uses a bucket (s3://name?endpoint=…&region=…&use_path_style=true)
// for complete content. The folder holds what is still arriving; several server
// processes share it.
func OpenBucket(ctx context.Context, dir, url string) (*Store, error) {
	s, err := Open(dir)
	if err != nil {
		return nil, err
	}
	if s.bucket, err = blob.OpenBucket(ctx, url); err != nil {
		return nil, fmt.Errorf("opening the bucket: %w", err)
	}
	return s, nil
}

// key spreads places over prefixes as file does over folders.
func bucketKey(place uuid.UUID) string {
	name := place.String()
	return name[len(name)-2:] + "/" + name
}

// Settle brings complete content to where it stays. It is durable there when
// Settle returns; settling again changes nothing. In a local folder it is there
// already.
func (s *Store) Settle(ctx context.Context, place uuid.UUID) (err error) {
	if s.bucket == nil {
		return nil
	}
	f, err := os.Open(s.file(place))
	if errors.Is(err, fs.ErrNotExist) {
		return nil // empty, or settled before
	}
	if err != nil {
		return fmt.Errorf("settling content: %w", err)
	}
	defer f.Close()
	// Without closing, a canceled writer leaves nothing in the bucket.
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	w, err := s.bucket.NewWriter(ctx, bucketKey(place), nil)
	if err != nil {
		return fmt.Errorf("settling content: %w", err)
	}
	if _, err := io.Copy(w, f); err != nil {
		cancel()
		return errors.Join(fmt.Errorf("settling content: %w", err), w.Close())
	}
	if err := w.Close(); err != nil {
		return fmt.Errorf("settling content: %w", err)
	}
	return nil
}

// Settled forgets the local copy of content that is in the bucket, once the
// database knows it.
func (s *Store) Settled(place uuid.UUID) error {
	if s.bucket == nil {
		return nil
	}
	return s.dropFile(place)
}

func (s *Store) dropObject(ctx context.Context, place uuid.UUID) error {
	if err := s.bucket.Delete(ctx, bucketKey(place)); err != nil && gcerrors.Code(err) != gcerrors.NotFound {
		return fmt.Errorf("removing content: %w", err)
	}
	return nil
}

// stream reads an object from any place in it. Reading on where the last piece
// ended goes on in the same answer of the bucket; only jumps ask anew.
type stream struct {
	bucket *blob.Bucket
	key    string
	mu     sync.Mutex
	open   *blob.Reader
	at     int64
}

func (r *stream) ReadAt(p []byte, offset int64) (int, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.open == nil || r.at != offset {
		if err := r.close(); err != nil {
			return 0, err
		}
		// The reader outlives the call that opens it; Close ends it.
		open, err := r.bucket.NewRangeReader(context.Background(), r.key, offset, -1, nil)
		if gcerrors.Code(err) == gcerrors.NotFound {
			return 0, fmt.Errorf("opening content: %w", fs.ErrNotExist)
		}
		if err != nil {
			return 0, fmt.Errorf("opening content: %w", err)
		}
		r.open, r.at = open, offset
	}
	n, err := io.ReadFull(r.open, p)
	r.at += int64(n)
	if errors.Is(err, io.ErrUnexpectedEOF) {
		err = io.EOF
	}
	return n, err
}

func (r *stream) close() error {
	if r.open == nil {
		return nil
	}
	err := r.open.Close()
	r.open = nil
	return err
}

// Close ends reading.
func (r *stream) Close() error {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.close()
}
