// Package bringing brings in what lies in other places: files with their folders and the times
// they had there.
package bringing

import (
	"bytes"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/elsewhere"
)

// Service brings in.
type Service struct {
	Acts    *act.Runner
	Access  *guard.Guard
	Uploads *uploads.Service
}

// Told says what became of a file: it is a document, a version, there already, or left, with why.
type Told struct {
	elsewhere.File
	Outcome versions.Outcome
	Left    string
}

// Sum is how much was brought in, and what was left.
type Sum struct {
	Documents, Versions, Kept, Left int
	Bytes                           int64
}

// Look says what would be brought in and what would be left, and brings in nothing.
func (s *Service) Look(ctx context.Context, from elsewhere.Place, told func(Told)) (sum Sum, err error) {
	return sum, from.Walk(ctx, func(f elsewhere.File) error {
		why := s.refused(f)
		if why == "" {
			sum.Documents, sum.Bytes = sum.Documents+1, sum.Bytes+f.Size
			return nil
		}
		sum.Left++
		told(Told{File: f, Left: why})
		return nil
	})
}

// refused says why a file cannot be brought in; empty where it can.
func (s *Service) refused(f elsewhere.File) string {
	if f.Left != "" {
		return f.Left
	}
	if _, err := names.Check("name", f.Name); err != nil {
		return err.Error()
	}
	if _, err := names.Path("path", strings.TrimSuffix(f.Way, "/"), uploads.MaxDepth); err != nil {
		return err.Error()
	}
	if f.Size > s.Uploads.MaxBytes {
		return fmt.Sprintf("larger than %d bytes", s.Uploads.MaxBytes)
	}
	return ""
}

// BringIn brings a place into a folder, for the acting person. A file whose content is there
// already under its name is left alone, so that whoever begins again goes on; a file that cannot
// be brought in keeps no other.
func (s *Service) BringIn(ctx context.Context, from elsewhere.Place, folder uuid.UUID, told func(Told)) (sum Sum, err error) {
	if _, err := s.Access.Kind(ctx, s.Acts.DB, folder, items.Folder, access.Add, s.Acts.Now()); err != nil {
		return sum, err
	}
	return sum, from.Walk(ctx, func(f elsewhere.File) error {
		t := Told{File: f, Left: s.refused(f)}
		if t.Left == "" {
			if t.Outcome, err = s.one(ctx, f, folder); err != nil {
				if ctx.Err() != nil || !refusal(err) {
					return err
				}
				t.Left = err.Error()
			}
		}
		switch {
		case t.Left != "":
			sum.Left++
		case t.Outcome == versions.Unchanged:
			sum.Kept++
		case t.Outcome == versions.NewVersion:
			sum.Versions, sum.Bytes = sum.Versions+1, sum.Bytes+f.Size
		default:
			sum.Documents, sum.Bytes = sum.Documents+1, sum.Bytes+f.Size
		}
		told(t)
		return nil
	})
}

// errSource is what is wrong with a file where it lies.
type errSource struct{ error }

// refusal reports whether an error concerns one file alone.
func refusal(err error) bool {
	var source errSource
	if errors.As(err, &source) {
		return true
	}
	switch fault.Of(err).Kind {
	case fault.Invalid, fault.Conflict, fault.Forbidden, fault.NotFound:
		return true
	}
	return false
}

func (s *Service) one(ctx context.Context, f elsewhere.File, folder uuid.UUID) (versions.Outcome, error) {
	there, err := s.there(ctx, folder, f)
	if err != nil {
		return "", err
	}
	if there != nil && there.Size == f.Size {
		sum, err := hashed(ctx, f)
		if err != nil {
			return "", errSource{err}
		}
		if bytes.Equal(sum, there.SHA256) {
			return versions.Unchanged, nil
		}
	}
	from, err := f.Open(ctx)
	if err != nil {
		return "", errSource{err}
	}
	defer from.Close()
	w := uploads.Wish{Folder: folder, Path: strings.TrimSuffix(f.Way, "/"), Name: f.Name, Size: f.Size, Note: "as of " + f.Modified.UTC().Format(time.RFC3339)}
	u, err := s.Uploads.Put(ctx, w, &source{Reader: io.LimitReader(from, f.Size+1)})
	return versions.Outcome(u.Outcome), err
}

// there is the document that has a file's name where it would come, as the acting person sees it.
func (s *Service) there(ctx context.Context, folder uuid.UUID, f elsewhere.File) (*items.Item, error) {
	see := s.Access.Sees(s.Acts.Now())
	parts, err := names.Path("path", strings.TrimSuffix(f.Way, "/"), uploads.MaxDepth)
	if err != nil {
		return nil, err
	}
	for _, part := range parts {
		at, _, err := see.Named(ctx, s.Acts.DB, folder, part)
		if err != nil || at == nil || at.Kind != items.Folder {
			return nil, err
		}
		folder = at.ID
	}
	at, _, err := see.Named(ctx, s.Acts.DB, folder, f.Name)
	if err != nil || at == nil || at.Kind != items.Document {
		return nil, err
	}
	return at, nil
}

// source tells what goes wrong where a file lies from what goes wrong here.
type source struct{ io.Reader }

func (s *source) Read(p []byte) (int, error) {
	n, err := s.Reader.Read(p)
	if err != nil && err != io.EOF {
		err = errSource{err}
	}
	return n, err
}

func hashed(ctx context.Context, f elsewhere.File) ([]byte, error) {
	from, err := f.Open(ctx)
	if err != nil {
		return nil, err
	}
	defer from.Close()
	sum := sha256.New()
	_, err = io.Copy(sum, from)
	return sum.Sum(nil), err
}
