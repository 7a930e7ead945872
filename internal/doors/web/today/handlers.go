package today

import (
	"context"

	"tabularis/internal/app/documents"
	"tabularis/internal/app/today"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// GetToday shows the landing page.
func (h *Handlers) GetToday(ctx context.Context, _ GetTodayRequestObject) (GetTodayResponseObject, error) {
	t, err := h.Today.Today(ctx)
	return GetToday200JSONResponse{
		Mine:  mine(t.Mine),
		Since: since(t.Since),
		Work: present.Each(t.Work, func(w today.Work) contract.Work {
			return contract.Work{Place: present.Place(documents.Place{Item: w.Item, Code: w.Code}), Last: present.Event(w.Last)}
		}),
		Dossiers:    present.Each(t.Dossiers, present.DossierRow),
		News:        present.Each(t.News, present.Event),
		EndsSoon:    present.Each(t.EndsSoon, present.Link),
		AccessEnds:  present.Each(t.AccessEnds, present.Grant(ctx)),
		Requests:    present.Each(t.Requests, present.Request),
		OnMe:        present.Each(t.OnMe, present.Run),
		ToSign:      present.Each(t.ToSign, present.Signing),
		Bytes:       t.Bytes,
		StorageLeft: t.StorageLeft,
	}, err
}

// LookAtToday notes up to which event somebody has seen what is new.
func (h *Handlers) LookAtToday(ctx context.Context, r LookAtTodayRequestObject) (LookAtTodayResponseObject, error) {
	return LookAtToday204Response{}, h.Today.Looked(ctx, r.Body.Event)
}

func since(s *today.Since) *contract.NewSince {
	if s == nil {
		return nil
	}
	return &contract.NewSince{At: s.At, Dossiers: s.Dossiers, More: s.More}
}

func mine(m *today.Mine) *contract.Mine {
	if m == nil {
		return nil
	}
	return &contract.Mine{Documents: m.Documents, Links: m.Links, Storage: *present.Storage(&m.Storage)}
}

// Handlers serve the operations of today.
type Handlers struct {
	*door.Door
	Today *today.Service
}
