package dossiers

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
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
	"tabularis/internal/app/particulars"
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
	// Particulars are those in which something stands.
	Particulars []particulars.Field
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

// Order is an order in which a register is read.
type Order struct {
	// Name is one of RegisterOrders, or ByParticular.
	Name string
	// Particular is by whose values, and Down the other way round. What has none comes last.
	Particular uuid.UUID
	Down       bool
}

// ByParticular is the name of the order by the values of a particular.
const ByParticular = "particular"

// String names the order and what it is by.
func (o Order) String() string {
	if o.Name != ByParticular {
		return o.Name
	}
	return fmt.Sprint(o.Name, " ", o.Particular, " ", o.Down)
}

// Register reads a page of a folder's documents, as far as they may be seen.
// after is the cursor of the page before.
func (s *Service) Register(ctx context.Context, folder uuid.UUID, order Order, after string, limit int) (Page, error) {
	from, err := position(order, after)
	if err != nil {
		return Page{}, err
	}
	for {
		q, now := s.Acts.DB, s.Acts.Now()
		sight, part, err := s.Access.Part(ctx, q, folder, now)
		if err != nil {
			return Page{}, err
		}
		rows, err := order.read(ctx, q, folder, part, from, limit+1)
		if err != nil {
			return Page{}, err
		}
		if len(rows) == 0 {
			// Nothing is here, or who may see what changed since it was decided.
			if stamps, err := guard.StampsOf(ctx, q, part.Dossier); err != nil || stamps != part.Stamps {
				if err != nil {
					return Page{}, err
				}
				continue
			}
		}
		return s.page(ctx, q, sight, part, rows, order, limit, now)
	}
}

// placedItem is a document with the key of its place in an order.
type placedItem struct {
	items.Item
	key string
}

// read reads documents in the order, after a cursor.
func (o Order) read(ctx context.Context, q postgres.Q, folder uuid.UUID, part guard.Part, from cursor, limit int) (rows []placedItem, err error) {
	by, key := RegisterOrders[o.Name], from.Key
	if o.Name == ByParticular {
		by = RegisterOrders["number"]
		by.without = o.Particular
		after, _ := placed(from.Key)
		if from.ID == uuid.Nil || !after.empty {
			with, err := valuesPage(ctx, q, folder, part, o, after, from.ID, limit)
			if err != nil {
				return nil, err
			}
			for _, v := range with {
				rows = append(rows, placedItem{v.Item, place{number: v.At, key: v.Key}.String()})
			}
			if len(rows) == limit {
				return rows, nil
			}
			// What has no value follows, from its front.
			key, from.ID = "", uuid.Nil
		}
	}
	rest, err := RegisterPage(ctx, q, folder, part, by, key, from.ID, limit-len(rows))
	for _, i := range rest {
		rows = append(rows, placedItem{i, by.Key(i)})
	}
	return rows, err
}

func (s *Service) page(ctx context.Context, q postgres.Q, sight guard.Sight, part guard.Part, rows []placedItem, order Order, limit int, now time.Time) (Page, error) {
	p := Page{Code: sight.Code, Dossier: sight.DossierID, Total: sight.Item.Documents, Bytes: sight.Item.Bytes}
	if len(rows) > limit {
		rows = rows[:limit]
		last := rows[limit-1]
		next, err := json.Marshal(cursor{order.String(), last.key, last.ID})
		if err != nil {
			return Page{}, err
		}
		p.Next = base64.RawURLEncoding.EncodeToString(next)
	}
	if err := p.measure(ctx, q, sight.ID, part); err != nil {
		return Page{}, err
	}
	all := make([]items.Item, len(rows))
	for i, r := range rows {
		all[i] = r.Item
	}
	return p, s.fill(ctx, q, &p, sight, all, now)
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

func position(order Order, after string) (from cursor, err error) {
	by, known := RegisterOrders[order.Name]
	if !known && (order.Name != ByParticular || order.Particular == uuid.Nil) {
		return cursor{}, errOrderUnknown.In("order", "there is no order %q", order.Name)
	}
	if after != "" {
		fits := by.Fits
		if order.Name == ByParticular {
			fits = func(key string) bool { _, ok := placed(key); return ok }
		}
		raw, err := base64.RawURLEncoding.DecodeString(after)
		if err != nil || json.Unmarshal(raw, &from) != nil || from.Order != order.String() || from.ID == uuid.Nil || !fits(from.Key) {
			return cursor{}, fault.CursorUnknown.In("after", "the cursor does not belong to this list")
		}
	}
	return from, nil
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

// beside says of the rows who has them in hand, and what stands in their particulars.
func (p *Page) beside(ctx context.Context, q postgres.Q) error {
	ids := make([]uuid.UUID, len(p.Rows))
	for i, r := range p.Rows {
		ids[i] = r.ID
	}
	values, err := particulars.Shown(ctx, q, ids)
	if err != nil {
		return err
	}
	for i, r := range p.Rows {
		p.Rows[i].Particulars = values[r.ID]
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
	if err := p.beside(ctx, q); err != nil {
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
