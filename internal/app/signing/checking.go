package signing

import (
	"context"
	"encoding/hex"
	"encoding/pem"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/ink"
	"tabularis/internal/platform/inspect"
	"tabularis/internal/platform/reading"
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
func (s *Service) RootsPEM() (out []byte) {
	for _, c := range s.Roots {
		out = append(out, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: c.Raw})...)
	}
	return out
}

// Evidence are the evidence pages of a request by themselves, for whoever looks after it: a paper that had been signed before
// has none in it.
func (s *Service) Evidence(ctx context.Context, id uuid.UUID) (raw []byte, name string, err error) {
	l, err := s.One(ctx, id)
	if err != nil {
		return nil, "", err
	}
	if !l.Manages || l.Events == nil {
		return nil, "", fault.Refused("see the evidence of a request")
	}
	p := &paperwork{Service: s, row: l.row, request: l.Request, acts: actsOf(l.Events), at: l.At}
	if p.zone, err = zoneOf(ctx, s.Acts.DB); err != nil {
		return nil, "", err
	}
	title, head, err := p.heading(ctx)
	if err != nil {
		return nil, "", err
	}
	if l.SealedSHA256 != nil {
		head = append(head, "SHA-256 "+hex.EncodeToString(l.SealedSHA256))
	}
	entries := make([]ink.Entry, len(p.acts))
	for i, e := range p.acts {
		entries[i] = p.entry(e)
	}
	sheets := ink.New()
	sheets.Evidence(title, head, max(1, len(entries)), entries)
	raw, err = sheets.Bytes()
	return raw, stem(l.At.Name) + ", evidence.pdf", err
}
