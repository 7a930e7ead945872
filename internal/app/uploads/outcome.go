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
	// Like is the document of which it is likely a version, under another name.
	Like *documents.Place
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
	o := Outcome{Upload: u, Document: documents.Place{Item: slip.Item, Code: slip.Code}, Separable: u.Outcome == string(versions.NewVersion) && slip.Separable(u.Version)}
	if u.Outcome != string(versions.NewDocument) || !slip.MayDelete {
		return o, nil
	}
	like, err := s.Items.LooksLike(ctx, s.Acts.DB, slip.Item, s.Acts.Now())
	if err == nil && like != nil {
		o.Like = &documents.Place{Item: *like, Code: slip.Code}
	}
	return o, err
}
