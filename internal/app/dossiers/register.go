package dossiers

import (
	"context"
	"slices"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/checkout"
	"tabularis/internal/app/decisions"
	"tabularis/internal/app/links"
	"tabularis/internal/app/particulars"
	"tabularis/internal/app/tags"
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
	// State is what has become of it by decisions; nil is a draft.
	State *decisions.Standing
	// Particulars are those in which something stands.
	Particulars []particulars.Field
	// Tags are the practice's, and those of whoever reads.
	Tags []tags.Tag
	// Brought is who brought it, and Group what it stands together with others by.
	Brought, Group string
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
	// Groups are those of the whole register; they come with the first page.
	Groups []Together
}

// Register reads a page of a folder's documents, as far as they may be seen; by how as another
// person sees it. after is the cursor of the page before.
func (s *Service) Register(ctx context.Context, folder uuid.UUID, how Seen, r Reading, after string, limit int) (Page, error) {
	if r.Only.Tag != uuid.Nil {
		if err := tags.Mine(ctx, s.Acts.DB, act.Who(ctx).Person.ID, r.Only.Tag); err != nil {
			return Page{}, err
		}
	}
	other, err := s.AsIn(ctx, folder, how.As)
	if err != nil {
		return Page{}, err
	}
	me := act.Who(ctx).Person.ID
	if how.As == nil || !how.Compare {
		return s.register(other, folder, me, r, after, limit)
	}
	p, err := s.register(ctx, folder, me, r, after, limit)
	if err != nil {
		return p, err
	}
	hides, err := s.Hides(other, p.Dossier)
	if err != nil {
		return p, err
	}
	for i, r := range p.Rows {
		p.Rows[i].Hidden = hides(r)
	}
	return p, nil
}

// register reads a page as the acting person sees it, with the tags that are reader's.
func (s *Service) register(ctx context.Context, folder, reader uuid.UUID, r Reading, after string, limit int) (Page, error) {
	from, err := r.from(after)
	if err != nil {
		return Page{}, err
	}
	for {
		q, now := s.Acts.DB, s.Acts.Now()
		sight, part, err := s.Access.Part(ctx, q, folder, now)
		if err != nil {
			return Page{}, err
		}
		of, err := read(ctx, q, sight, part, r, now)
		if err != nil {
			return Page{}, err
		}
		rows, err := of.documents(ctx, q, from, limit+1)
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
		p := Page{Code: sight.Code, Dossier: sight.DossierID, Total: sight.Item.Documents, Bytes: sight.Item.Bytes}
		if err := p.measure(ctx, q, of, after == ""); err != nil {
			return Page{}, err
		}
		if len(rows) > limit {
			rows = rows[:limit]
			if p.Next, err = r.to(rows[limit-1]); err != nil {
				return Page{}, err
			}
		}
		return p, s.fill(ctx, q, &p, sight, reader, rows, now)
	}
}

// reading is a Reading of one folder, as one person may see it.
type reading struct {
	Reading
	folder uuid.UUID
	part   guard.Part
	types  []string
	linked reached
}

// reached is what open links reach in a folder: single documents, and perhaps all that is
// decided like the folder, which is what lies in its zone.
type reached struct {
	documents []uuid.UUID
	folder    bool
	zone      uuid.UUID
}

func read(ctx context.Context, q postgres.Q, sight guard.Sight, part guard.Part, r Reading, now time.Time) (of reading, err error) {
	of = reading{Reading: r, folder: sight.ID, part: part}
	if r.Only.Kind != "" || r.Group.Name == ByKind || r.Order.Name == ByKind {
		if of.types, err = typesIn(ctx, q, sight.ID); err != nil {
			return of, err
		}
	}
	if r.Only.Linked && sight.Linked {
		of.linked.documents, of.linked.zone, of.linked.folder, err = links.ReachedIn(ctx, q, sight.ID, now)
	}
	return of, err
}

// shown are the documents that are meant.
func (of reading) shown() shown {
	w := within(of.folder, of.part)
	w.narrow(of.Only, of.types, of.linked)
	return w
}

// documents reads up to so many documents behind a cursor.
func (of reading) documents(ctx context.Context, q postgres.Q, from cursor, limit int) (rows []placedItem, err error) {
	w := of.shown()
	if !of.byValues() {
		w.beside(of.Reading, of.types)
		return w.page(ctx, q, of.keys(), of.Group, from, limit)
	}
	by := valueKeys("v", of.Order.Down)
	if from.ID == uuid.Nil || len(from.Keys) == len(by) {
		with := of.shown()
		with.from = "item_particulars v JOIN " + with.from + " ON items.id = v.item_id"
		with.where += " AND v.folder_id = $1 AND v.particular_id = " + with.arg(of.Order.Particular)
		if rows, err = with.page(ctx, q, by, of.Group, from, limit); err != nil || len(rows) == limit {
			return rows, err
		}
		from = cursor{}
	}
	// What has no value follows.
	w.where += " AND NOT EXISTS (SELECT 1 FROM item_particulars v WHERE v.item_id = items.id AND v.particular_id = " + w.arg(of.Order.Particular) + ")"
	rest, err := w.page(ctx, q, byNumber, of.Group, from, limit-len(rows))
	return append(rows, rest...), err
}

// measure corrects the folder's counts by what may not be seen of it or is not meant, and,
// where that is wanted, counts its groups.
func (p *Page) measure(ctx context.Context, q postgres.Q, of reading, first bool) (err error) {
	if first && of.Group.Name != "" {
		w := of.shown()
		w.beside(of.Reading, of.types)
		if p.Groups, err = w.groups(ctx, q, of.Group); err != nil {
			return err
		}
	}
	part := of.part
	switch {
	case of.Only != Only{}:
		w := of.shown()
		all, err := w.groups(ctx, q, Group{})
		if p.Total, p.Bytes = 0, 0; len(all) > 0 {
			p.Total, p.Bytes = all[0].N, all[0].Bytes
		}
		return err
	case part.By != nil:
		p.Total, p.Bytes, err = Measure(ctx, q, of.folder, nil, part.By)
	case part.Only != nil:
		p.Total, p.Bytes, err = Measure(ctx, q, of.folder, part.Only, nil)
	case len(part.Except) > 0:
		n, bytes, err := Measure(ctx, q, of.folder, part.Except, nil)
		if err != nil {
			return err
		}
		p.Total, p.Bytes = p.Total-n, p.Bytes-bytes
	}
	return err
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

// beside says of the rows who has them in hand, which tags they bear, and what stands in their particulars.
func (p *Page) beside(ctx context.Context, q postgres.Q, reader uuid.UUID) error {
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
	tagged, err := tags.OnEach(ctx, q, reader, ids)
	if err != nil {
		return err
	}
	named, err := p.makers(ctx, q)
	if err != nil {
		return err
	}
	for i, r := range p.Rows {
		p.Rows[i].Tags, p.Rows[i].Brought = tagged[r.ID], named[r.CreatedBy]
	}
	by, err := checkout.Of(ctx, q, ids)
	if err != nil {
		return err
	}
	documents := make([]items.Item, len(p.Rows))
	for i, r := range p.Rows {
		documents[i] = r.Item
	}
	decided, err := decisions.Standings(ctx, q, documents)
	for i, r := range p.Rows {
		if h, ok := by[r.ID]; ok {
			p.Rows[i].Held = &h
		}
		if st, ok := decided[r.ID]; ok {
			p.Rows[i].State = &st
		}
	}
	return err
}

// makers are the names of those who brought the rows.
func (p *Page) makers(ctx context.Context, q postgres.Q) (map[uuid.UUID]string, error) {
	var ids []uuid.UUID
	for _, r := range p.Rows {
		if !slices.Contains(ids, r.CreatedBy) {
			ids = append(ids, r.CreatedBy)
		}
	}
	people, err := accounts.PeopleByID(ctx, q, ids)
	names := make(map[uuid.UUID]string, len(people))
	for _, p := range people {
		names[p.ID] = p.Name
	}
	return names, err
}

func (s *Service) fill(ctx context.Context, q postgres.Q, p *Page, sight guard.Sight, reader uuid.UUID, rows []placedItem, now time.Time) error {
	given := make([]items.Placed, len(rows))
	p.Rows = make([]Row, len(rows))
	around, err := s.Access.Root(ctx, q, sight.Located, sight.Root, now)
	if err != nil {
		return err
	}
	for i, r := range rows {
		it, root := r.Item, around
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
		p.Rows[i] = Row{Item: it, Root: root.ID, Door: root.Door, Caps: caps, Closed: root.Zone == it.ID, Last: last(it, sight), Group: r.InGroup}
	}
	if err := p.beside(ctx, q, reader); err != nil {
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
