package items

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/versions"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// LooksLike finds the document in the same folder of whose name that of something that just
// came in is a copy's, where the acting person may give it a further version.
func (s *Service) LooksLike(ctx context.Context, q postgres.Q, made items.Item, now time.Time) (*items.Item, error) {
	name, ok := versions.Original(made.Name)
	if !ok {
		return nil, nil
	}
	there, _, err := s.Access.Sees(now).Named(ctx, q, *made.ParentID, name)
	if err != nil || there == nil || there.Kind != items.Document {
		return nil, err
	}
	_, err = s.Access.Item(ctx, q, there.ID, access.See|access.Change, now)
	if err != nil && fault.Of(err).Kind != fault.Internal {
		return nil, nil
	}
	return there, err
}

// Adopt makes what a document holds the newest version of another one, and deletes that
// document: it was the same paper under another name. The acting person may change the
// one and delete the other.
func (s *Service) Adopt(ctx context.Context, tx *act.Tx, document, from uuid.UUID) (items.Version, error) {
	to, err := HoldDocument(ctx, tx, s.Access, document, access.Change)
	if err != nil {
		return items.Version{}, err
	}
	other, err := s.Access.Kind(ctx, tx, from, items.Document, access.See|access.Download, tx.Now)
	if err != nil {
		return items.Version{}, err
	}
	switch {
	case other.ID == to.ID || other.DossierID != to.DossierID:
		return items.Version{}, errNotAdoptable.In("from", "choose another document of the same dossier")
	case !other.MayDelete(tx.Actor.Person.ID):
		return items.Version{}, fault.Refused("delete the other document")
	}
	by, err := s.signedIn(tx)
	if err != nil {
		return items.Version{}, err
	}
	content := items.Version{SHA256: other.SHA256, Size: other.Size, MediaType: other.MediaType, Note: other.Item.Name}
	v, err := s.Revise(ctx, tx, by, to.Item, content, versions.Uploaded)
	if err != nil {
		return v, err
	}
	_, err = s.Delete(ctx, tx, other, fmt.Sprintf("%s, v. %d", to.Ref(), v.Number))
	return v, err
}
