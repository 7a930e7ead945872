package documents

import (
	"context"
	"io"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/mark"
	"tabularis/core/register"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/pages"
)

func (s *Service) source(ctx context.Context, of guard.ContentSight) pages.Source {
	return s.Contents.Source(ctx, of.Version(), act.Who(ctx).Person.ID.String())
}

// Outline says which pages a version has; number 0 means the counting one.
func (s *Service) Outline(ctx context.Context, id uuid.UUID, number int) (pages.Outline, error) {
	sighted, err := s.Access.Content(ctx, s.Acts.DB, id, number, access.See, s.Acts.Now())
	if err != nil {
		return pages.Outline{}, err
	}
	return s.Pages.Outline(ctx, s.source(ctx, sighted))
}

// Page draws a page of a version, counted from 1, as JPEG. For those who may look but
// not download, who looks, when and at what stands across it.
func (s *Service) Page(ctx context.Context, id uuid.UUID, number, page, width int, to io.Writer) error {
	if err := pages.CheckWidth(width); err != nil {
		return err
	}
	sighted, err := s.Access.Content(ctx, s.Acts.DB, id, number, access.See, s.Acts.Now())
	if err != nil {
		return err
	}
	drawn, err := s.Pages.Draw(ctx, s.source(ctx, sighted), page-1, width)
	if err != nil {
		return err
	}
	// Asked after drawing, which can take its time: what may be seen now.
	_, err = s.Access.Content(ctx, s.Acts.DB, id, number, access.Download, s.Acts.Now())
	switch {
	case err == nil:
		return s.Pages.Write(ctx, to, drawn, nil)
	case !fault.Is(err, fault.Forbidden):
		return err
	}
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	who := act.Who(ctx)
	lines := mark.Mark{Viewer: who.Person.Email, Network: who.Network, Link: register.Ref{Code: sighted.Code, Number: *sighted.Number}.String(),
		At: s.Acts.Now(), Language: who.Language}.Lines(zone)
	return s.Pages.Write(ctx, to, drawn, &lines)
}
