package documents

import (
	"bytes"
	"context"
	"io"
	"path"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/reading"
)

// deepestInner is how far files within files are opened: a mail in an archive in a mail.
const deepestInner = 3

// Inner is a file within a version: of an archive, or attached to a mail.
type Inner struct {
	Name   string
	Source reading.Source
	// Look is how it can be looked at, Prepared its text where it has some.
	Look     preview.Look
	Prepared *preview.Prepared
}

// Where is which file within which version: its place in the list, and in the lists within,
// counted from 0.
type Where struct {
	Document uuid.UUID
	Version  int
	Way      []int
}

// inner opens a file within a version, for whoever may download that.
func (s *Service) inner(ctx context.Context, at Where) (Inner, error) {
	if len(at.Way) == 0 || len(at.Way) > deepestInner {
		return Inner{}, fault.Missing()
	}
	sighted, err := s.Access.Content(ctx, s.Acts.DB, at.Document, at.Version, access.Download, s.Acts.Now())
	if err != nil {
		return Inner{}, err
	}
	in := Inner{Source: s.Contents.Source(ctx, sighted.Version(), act.Who(ctx).Person.ID.String())}
	for _, n := range at.Way {
		if in.Name, in.Source, err = s.Contents.Reader.Inner(ctx, in.Source, n); err != nil {
			return Inner{}, err
		}
	}
	in.Look = preview.LookOf(in.Source.MediaType)
	return in, nil
}

// LookInto opens a file within a version to look at it.
func (s *Service) LookInto(ctx context.Context, at Where) (Inner, error) {
	in, err := s.inner(ctx, at)
	if err != nil || preview.CanPrepare(in.Source.MediaType, in.Source.Size) != nil || in.Source.Size == 0 {
		return in, err
	}
	p, err := s.Contents.Reader.Prepare(ctx, in.Source)
	if fault.Is(err, fault.Invalid) {
		// What cannot be read can be downloaded.
		in.Look = preview.None
		return in, nil
	}
	in.Prepared = &p
	return in, err
}

// InnerFile is a file within a version as a file of its own.
func (s *Service) InnerFile(ctx context.Context, at Where) (tree.File, error) {
	in, err := s.inner(ctx, at)
	if err != nil {
		return tree.File{}, err
	}
	raw, err := in.Source.Open()
	if err != nil {
		return tree.File{}, err
	}
	all, err := io.ReadAll(raw)
	v := items.Version{SHA256: in.Source.SHA256, Size: in.Source.Size, MediaType: in.Source.MediaType}
	return tree.File{Item: items.Item{ID: at.Document, Name: path.Base(in.Name)}, Version: v, ReadSeekCloser: opened{bytes.NewReader(all)}}, err
}

type opened struct{ *bytes.Reader }

func (opened) Close() error { return nil }

// Keep makes a document in a folder of a file within a version.
func (s *Service) Keep(ctx context.Context, at Where, folder uuid.UUID) (Place, error) {
	in, err := s.inner(ctx, at)
	if err != nil {
		return Place{}, err
	}
	raw, err := in.Source.Open()
	if err != nil {
		return Place{}, err
	}
	id, err := s.Put(ctx, folder, path.Base(in.Name), in.Source.Size, raw)
	if err != nil {
		return Place{}, err
	}
	made, err := s.Access.Item(ctx, s.Acts.DB, id, access.See, s.Acts.Now())
	return Place{Item: made.Item, Code: made.Code}, err
}
