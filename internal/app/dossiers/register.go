package dossiers

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/checkout"
	"tabularis/internal/app/links"
)

// Row is a document in a register. Links counts the open links that give it.
type Row struct {
	items.Item
	// Root decides who may see it.
	Root   uuid.UUID
	Links  int
	Door   access.Door
	Caps   access.Caps
	Closed bool
	Last   *events.Named
	// Held is who has it in hand.
	Held *checkout.Held
	// Hidden marks what the person as whom one looks does not see.
	Hidden bool
}

// Page is a part of a folder's register. Code belongs to every row.
type Page struct {
	Code    string
	Dossier uuid.UUID
	Rows    []Row
	Next    string
	Total   int
	Bytes   int64
	Linked  int
}

type cursor struct {
	Order, Key string
	ID         uuid.UUID
}

// Register reads a page of a folder's documents, as far as they may be seen.
// after is the cursor of the page before.
func (s *Service) Register(ctx context.Context, folder uuid.UUID, order, after string, limit int) (Page, error) {
	by, from, err := position(order, after)
	if err != nil {
		return Page{}, err
	}
	for {
		q, now := s.Acts.DB, s.Acts.Now()
		sight, part, err := s.Access.Part(ctx, q, folder, now)
		if err != nil {
			return Page{}, err
		}
		items, err := RegisterPage(ctx, q, folder, part, by, from.Key, from.ID, limit+1)
		if err != nil {
			return Page{}, err
		}
		if len(items) == 0 {
			// Nothing is here, or who may see what changed since it was decided.
			if stamps, err := guard.StampsOf(ctx, q, part.Dossier); err != nil || stamps != part.Stamps {
				if err != nil {
					return Page{}, err
				}
				continue
			}
		}
		return s.page(ctx, q, sight, part, items, by, order, limit, now)
	}
}

func (s *Service) page(ctx context.Context, q postgres.Q, sight guard.Sight, part guard.Part, items []items.Item, by RegisterOrder, order string, limit int, now time.Time) (Page, error) {
	p := Page{Code: sight.Code, Dossier: sight.DossierID, Total: sight.Item.Documents, Bytes: sight.Item.Bytes}
	if len(items) > limit {
		items = items[:limit]
		last := items[limit-1]
		next, err := json.Marshal(cursor{order, by.Key(last), last.ID})
		if err != nil {
			return Page{}, err
		}
		p.Next = base64.RawURLEncoding.EncodeToString(next)
	}
	if err := p.measure(ctx, q, sight.ID, part); err != nil {
		return Page{}, err
	}
	return p, s.fill(ctx, q, &p, sight, items, now)
}

// measure corrects the folder's counts by what may not be seen of it.
func (p *Page) measure(ctx context.Context, q postgres.Q, folder uuid.UUID, part guard.Part) (err error) {
	switch {
	case part.By != nil:
		p.Total, p.Bytes, err = Measure(ctx, q, folder, nil, part.By)
	case part.Only != nil:
		p.Total, p.Bytes, err = Measure(ctx, q, folder, part.Only, nil)
	case len(part.Except) > 0:
		n, bytes, err := Measure(ctx, q, folder, part.Except, nil)
		if err != nil {
			return err
		}
		p.Total, p.Bytes = p.Total-n, p.Bytes-bytes
	}
	return err
}

func position(order, after string) (RegisterOrder, cursor, error) {
	by, known := RegisterOrders[order]
	if !known {
		return by, cursor{}, errOrderUnknown.In("order", "there is no order %q", order)
	}
	var from cursor
	if after != "" {
		raw, err := base64.RawURLEncoding.DecodeString(after)
		if err != nil || json.Unmarshal(raw, &from) != nil || from.Order != order || from.ID == uuid.Nil || !by.Fits(from.Key) {
			return by, cursor{}, fault.CursorUnknown.In("after", "the cursor does not belong to this list")
		}
	}
	return by, from, nil
}

// last is what is known of a document's last event.
func last(it items.Item, sight guard.Sight) *events.Named {
	if it.LastAt == nil {
		return nil
	}
	return &events.Named{
		Event: events.Event{ID: it.LastEventID, At: *it.LastAt, Kind: it.LastKind, Outside: it.LastOutside, Version: it.LastVersion, DossierID: &it.DossierID, ItemID: &it.ID},
		Actor: it.LastBy, DossierCode: sight.Code, DossierName: sight.DossierName, ItemName: &it.Name, ItemKind: &it.Kind, ItemNumber: it.Number, FolderID: it.ParentID,
	}
}

// inHand says of the rows who has them in hand.
func (p *Page) inHand(ctx context.Context, q postgres.Q) error {
	ids := make([]uuid.UUID, len(p.Rows))
	for i, r := range p.Rows {
		ids[i] = r.ID
	}
	by, err := checkout.Of(ctx, q, ids)
	for i, r := range p.Rows {
		if h, ok := by[r.ID]; ok {
			p.Rows[i].Held = &h
		}
	}
	return err
}

func (s *Service) fill(ctx context.Context, q postgres.Q, p *Page, sight guard.Sight, rows []items.Item, now time.Time) error {
	given := make([]items.Placed, len(rows))
	p.Rows = make([]Row, len(rows))
	around, err := s.Access.Root(ctx, q, sight.Located, sight.Root, now)
	if err != nil {
		return err
	}
	for i, it := range rows {
		root := around
		if it.ScopeID == it.ID {
			if root, err = s.Access.Root(ctx, q, sight.Located, it.ID, now); err != nil {
				return err
			}
		}
		given[i] = items.Placed{Item: it, Root: root.ID, Zone: root.Zone}
		caps := root.Caps
		if it.CreatedBy == act.Who(ctx).Person.ID {
			caps = guard.Own(caps)
		}
		p.Rows[i] = Row{Item: it, Root: root.ID, Door: root.Door, Caps: caps, Closed: root.Zone == it.ID, Last: last(it, sight)}
	}
	if err := p.inHand(ctx, q); err != nil {
		return err
	}
	if !sight.Linked {
		return nil
	}
	counts, err := links.Reaching(ctx, q, sight.ID, given, now)
	if err != nil {
		return err
	}
	for i := range p.Rows {
		if p.Rows[i].Links = counts[p.Rows[i].ID]; p.Rows[i].Links > 0 {
			p.Linked++
		}
	}
	return nil
}
