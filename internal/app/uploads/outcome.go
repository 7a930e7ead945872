package uploads

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/versions"
	"tabularis/internal/app/documents"
)

// Outcome is what became of an upload.
type Outcome struct {
	Upload   Upload
	Document documents.Place
	// Separable says that it became a version which can be made a document of its own.
	Separable bool
}

// Outcome tells what became of an upload of the acting person; one that is complete
// but not yet finished is finished now.
func (s *Service) Outcome(ctx context.Context, id uuid.UUID) (Outcome, error) {
	u, err := s.Find(ctx, id)
	if err == nil && u.Outcome == "" {
		u, err = s.Finish(ctx, id)
	}
	if err != nil {
		return Outcome{}, err
	}
	slip, err := s.Documents.Open(ctx, *u.ItemID)
	if err != nil {
		return Outcome{}, err
	}
	return Outcome{u, documents.Place{Item: slip.Item, Code: slip.Code}, u.Outcome == string(versions.NewVersion) && slip.Separable(u.Version)}, nil
}
