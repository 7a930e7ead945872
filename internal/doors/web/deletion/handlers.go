package deletion

import (
	"context"

	"github.com/google/uuid"

	"tabularis/internal/app/act"
	"tabularis/internal/app/deletion"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/listing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of deletion.
type Handlers struct {
	*door.Door
	Deletion *deletion.Service
}

// ListDeletions lists what can be brought back.
func (h *Handlers) ListDeletions(ctx context.Context, r ListDeletionsRequestObject) (ListDeletionsResponseObject, error) {
	before, err := listing.ParseMark(present.Or(r.Params.Before, ""))
	if err != nil {
		return nil, err
	}
	limit, err := door.Limited(r.Params.Limit, 100, 200)
	if err != nil {
		return nil, err
	}
	page, err := h.Deletion.Page(ctx, deletion.Filter{Code: present.Or(r.Params.Dossier, ""), Own: present.Or(r.Params.Mine, false), Before: before, Limit: limit})
	me := act.Who(ctx).Person.ID
	return ListDeletions200JSONResponse{
		Rows:     present.Each(page.Rows, func(s deletion.Shown) contract.Deleted { return deleted(s, me) }),
		KeptDays: int(page.Keep), Next: present.Some(page.Next.String()),
	}, err
}

func deleted(s deletion.Shown, me uuid.UUID) contract.Deleted {
	return contract.Deleted{
		Id: s.ID, ItemId: s.ItemID, Kind: contract.DeletedKind(s.Kind), Name: s.Name, Ref: present.Some(s.Ref()), Code: s.Code, Folder: s.FolderName, FolderGone: s.FolderGone, Whole: s.ItemID == s.DossierID,
		Documents: s.Documents, Bytes: s.Bytes, Versions: s.Versions, Links: s.Links, By: s.ByName, ByMe: s.By == me, At: s.At, Reason: s.Reason, Goes: s.Goes, Left: s.Left,
		MayBringBack: s.MayBringBack, MayDestroy: s.MayDestroy, MayShare: s.MayShare,
	}
}

// DeleteItems takes items out of sight.
func (h *Handlers) DeleteItems(ctx context.Context, r DeleteItemsRequestObject) (DeleteItemsResponseObject, error) {
	made, goes, err := h.Deletion.Delete(ctx, r.Body.Items, present.Or(r.Body.Reason, ""))
	return DeleteItems200JSONResponse{Ids: present.Each(made, func(d tree.Deletion) uuid.UUID { return d.ID }), Goes: goes}, err
}

// BringBack lets what was deleted be there again.
func (h *Handlers) BringBack(ctx context.Context, r BringBackRequestObject) (BringBackResponseObject, error) {
	back, err := h.Deletion.BringBack(ctx, deletion.Return{IDs: r.Body.Ids, Links: present.Or(r.Body.Links, false), To: r.Body.To})
	return BringBack200JSONResponse(present.Each(back, func(b deletion.Back) contract.BroughtBack {
		return contract.BroughtBack{Id: b.ID, Kind: contract.BroughtBackKind(b.Kind), Name: b.Name, Renamed: b.Renamed, Ref: present.Some(b.Ref()), Code: b.Code, FolderId: present.Or(b.ParentID, b.ID)}
	})), err
}

// DestroyDeleted forgets for good.
func (h *Handlers) DestroyDeleted(ctx context.Context, r DestroyDeletedRequestObject) (DestroyDeletedResponseObject, error) {
	return DestroyDeleted204Response{}, h.Deletion.Destroy(ctx, r.Body.Ids, r.Body.Code)
}

// AskForItBack asks those who can to bring something back.
func (h *Handlers) AskForItBack(ctx context.Context, r AskForItBackRequestObject) (AskForItBackResponseObject, error) {
	return AskForItBack202Response{}, h.Deletion.Ask(ctx, r.Id)
}
