package signing

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/inspect"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/signature"
)

// MostChecked is how large a document may be that anybody has checked, in bytes.
const MostChecked = 100 << 20

// Check checks a signed PDF document against the roots that the practice trusts. Nothing of it is kept.
func (s *Service) Check(ctx context.Context, raw []byte) (inspect.Report, error) {
	if len(raw) == 0 {
		return inspect.Report{}, fault.Unreadable.New("the document cannot be read")
	}
	return s.Contents.Reader.Inspect(ctx, reading.FromMemory(raw, reading.Source{For: act.Who(ctx).From()}), s.Roots, s.Acts.Now())
}

// CheckDocument checks the content that counts of a document.
func (s *Service) CheckDocument(ctx context.Context, id uuid.UUID) (inspect.Report, error) {
	sight, err := s.Access.Kind(ctx, s.Acts.DB, id, items.Document, access.See, s.Acts.Now())
	if err != nil {
		return inspect.Report{}, err
	}
	if sight.MediaType != pdfType {
		return inspect.Report{}, fault.Unreadable.New("this is no PDF document")
	}
	return s.Contents.Reader.Inspect(ctx, s.Contents.Source(ctx, versionOf(sight.Item), act.Who(ctx).From()), s.Roots, s.Acts.Now())
}

// RootsPEM are the certificates that the practice trusts.
func (s *Service) RootsPEM() []byte { return signature.PEM(s.Roots...) }
