package activity

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/activity"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// ListActivity reads the stream.
func (h *Handlers) ListActivity(ctx context.Context, r ListActivityRequestObject) (ListActivityResponseObject, error) {
	p := r.Params
	limit, err := door.Limited(p.Limit, 100, 200)
	if err != nil {
		return nil, err
	}
	f := activity.Filter{Dossier: present.Or(p.Dossier, ""), About: string(present.Or(p.About, "everything")), Kind: string(present.Or(p.Kind, "")), Heed: string(present.Or(p.Heed, "")), Folder: present.Or(p.Folder, uuid.Nil), Person: present.Or(p.Person, uuid.Nil), Since: present.Or(p.Since, time.Time{}), Before: present.Or(p.Before, 0), Limit: limit}
	st, err := h.Activity.Stream(ctx, f)
	return ListActivity200JSONResponse{Events: present.Each(st.Events, present.Event), People: present.Each(st.People, present.Person), More: st.More}, err
}

// Handlers serve the operations of activity.
type Handlers struct {
	*door.Door
	Activity *activity.Service
}
