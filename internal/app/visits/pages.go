package visits

import (
	"context"
	"io"
	"slices"
	"time"

	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/core/looks"
	"tabularis/core/mark"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/pages"
)

// Outline says which pages a document has that the link gives, and notes that it
// is looked at.
func (s *Service) Outline(ctx context.Context, v Visitor, document uuid.UUID) (pages.Outline, error) {
	_, visit, f, err := s.document(ctx, v, document)
	if err != nil {
		return pages.Outline{}, err
	}
	o, err := s.Pages.Outline(ctx, s.Contents.Source(ctx, f.Give, v.Link))
	if err != nil {
		return o, err
	}
	return o, s.note(ctx, v, visit, linkgate.Read, events.LinkViewed, f, &f.ID)
}

// Page draws a page, counted from 1, as JPEG. On a link that lets nothing be
// downloaded, who looks, when and through what stands across it.
func (s *Service) Page(ctx context.Context, v Visitor, document uuid.UUID, page, width int, to io.Writer) error {
	if err := pages.CheckWidth(width); err != nil {
		return err
	}
	l, visit, f, err := s.document(ctx, v, document)
	if err != nil {
		return err
	}
	drawn, err := s.Pages.Draw(ctx, s.Contents.Source(ctx, f.Give, v.Link), page-1, width)
	if err != nil {
		return err
	}
	if l.MayDownload {
		return s.Pages.Write(ctx, to, drawn, nil)
	}
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	m := mark.Mark{Viewer: visit.Email, Network: visit.Network, Link: l.Name, At: s.Acts.Now(), Language: l.Language}
	lines := m.Lines(zone)
	return s.Pages.Write(ctx, to, drawn, &lines)
}

// Looked is how long which pages of a document were before a visitor's eyes.
type Looked struct {
	Pages   []int
	Seconds int
}

// Look notes how long a visitor looked at what, as their page says. More time
// than went by since it last said so is not believed.
func (s *Service) Look(ctx context.Context, v Visitor, document uuid.UUID, l Looked) error {
	if l.Seconds < 0 || len(l.Pages) > looks.Most || slices.ContainsFunc(l.Pages, func(p int) bool { return p < 1 }) {
		return errLooked.New("pages are counted from 1, at most %d, and time does not run backwards", looks.Most)
	}
	_, visit, f, err := s.document(ctx, v, document)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		before, err := links.LookOf(ctx, tx, visit.ID, document, f.Give.Number)
		if fault.Is(err, fault.NotFound) {
			before, err = links.VisitLook{VisitID: visit.ID, ItemID: document, Version: f.Give.Number, SaidAt: visit.OpenedAt}, nil
		}
		if err != nil {
			return err
		}
		before.Seconds += min(l.Seconds, int(tx.Now.Sub(before.SaidAt)/time.Second))
		before.Pages, before.SaidAt = looks.Parse(before.Pages).With(l.Pages).String(), tx.Now
		return links.PutLook(ctx, tx, before)
	})
}
