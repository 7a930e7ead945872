package notices

import (
	"context"

	"tabularis/internal/app/notices"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// ListNotices shows what concerns whoever asks.
func (h *Handlers) ListNotices(ctx context.Context, _ ListNoticesRequestObject) (ListNoticesResponseObject, error) {
	all, err := h.Notices.Mine(ctx)
	return ListNotices200JSONResponse(present.Each(all, func(n notices.Notice) contract.Notice {
		return contract.Notice{Id: n.ID, At: n.At, Kind: contract.NoticeKind(n.Kind), By: n.By, What: n.What, Path: n.Path, Seen: n.SeenAt != nil}
	})), err
}

// SawNotices marks all as seen.
func (h *Handlers) SawNotices(ctx context.Context, _ SawNoticesRequestObject) (SawNoticesResponseObject, error) {
	return SawNotices204Response{}, h.Notices.Seen(ctx)
}

// Handlers serve the operations of notices.
type Handlers struct {
	*door.Door
	Notices *notices.Service
}
