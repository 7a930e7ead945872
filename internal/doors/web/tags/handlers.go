package tags

import (
	"context"

	"github.com/google/uuid"

	"tabularis/internal/app/tags"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of tags.
type Handlers struct {
	*door.Door
	Tags *tags.Service
}

// ListTags lists the practice's tags and those of whoever asks.
func (h *Handlers) ListTags(ctx context.Context, _ ListTagsRequestObject) (ListTagsResponseObject, error) {
	all, err := h.Tags.List(ctx)
	return ListTags200JSONResponse(present.Each(all, func(t tags.Counted) contract.CountedTag {
		return contract.CountedTag{Id: t.ID, Name: t.Name, Own: t.Own(), Documents: t.N}
	})), err
}

// ListTagsOn lists the tags of a document.
func (h *Handlers) ListTagsOn(ctx context.Context, r ListTagsOnRequestObject) (ListTagsOnResponseObject, error) {
	all, err := h.Tags.On(ctx, r.Id)
	return ListTagsOn200JSONResponse(present.Each(all, present.Tag)), err
}

// SetTags puts tags on documents and takes others off.
func (h *Handlers) SetTags(ctx context.Context, r SetTagsRequestObject) (SetTagsResponseObject, error) {
	w := tags.Wish{Documents: r.Body.Documents, Put: present.Or(r.Body.Put, nil), Own: present.Or(r.Body.Own, false), Take: present.Or(r.Body.Take, []uuid.UUID(nil))}
	return SetTags204Response{}, h.Tags.Set(ctx, w)
}

// RenameTag calls a tag otherwise.
func (h *Handlers) RenameTag(ctx context.Context, r RenameTagRequestObject) (RenameTagResponseObject, error) {
	return RenameTag204Response{}, h.Tags.Rename(ctx, r.Id, r.Body.Name)
}

// RemoveTag takes a tag off everything.
func (h *Handlers) RemoveTag(ctx context.Context, r RemoveTagRequestObject) (RemoveTagResponseObject, error) {
	return RemoveTag204Response{}, h.Tags.Remove(ctx, r.Id)
}
