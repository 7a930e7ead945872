package content

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"time"

	"github.com/google/uuid"
)

// Writable reports whether content can be stored: by storing a little.
func (s *Store) Writable(ctx context.Context) error {
	if s.bucket != nil {
		if ok, err := s.bucket.IsAccessible(ctx); err != nil || !ok {
			return fmt.Errorf("the bucket cannot be reached: %w", errors.Join(err, fs.ErrPermission))
		}
	}
	f, err := os.CreateTemp(s.dir, "writable-*")
	if err != nil {
		return fmt.Errorf("the content folder cannot be written to: %w", err)
	}
	_, err = f.WriteString("ok")
	return errors.Join(err, f.Close(), os.Remove(f.Name()))
}

// Places calls fn with every place that holds something, and when it was last
// written. Files that are no places are left alone.
func (s *Store) Places(fn func(place uuid.UUID, written time.Time) error) error {
	err := filepath.WalkDir(s.dir, func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		place, parseErr := uuid.Parse(d.Name())
		if parseErr != nil || path != s.file(place) {
			return nil
		}
		info, err := d.Info()
		if err != nil {
			return err
		}
		return fn(place, info.ModTime())
	})
	if err == nil && s.bucket != nil {
		err = s.objects(fn)
	}
	if err != nil {
		return fmt.Errorf("looking through the content: %w", err)
	}
	return nil
}

func (s *Store) objects(fn func(place uuid.UUID, written time.Time) error) error {
	ctx := context.Background()
	for list := s.bucket.List(nil); ; {
		o, err := list.Next(ctx)
		if err == io.EOF {
			return nil
		}
		if err != nil {
			return err
		}
		place, parseErr := uuid.Parse(path.Base(o.Key))
		if parseErr != nil || o.Key != bucketKey(place) {
			continue
		}
		if err := fn(place, o.ModTime); err != nil {
			return err
		}
	}
}
