package items

import (
	"context"
	"errors"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// AddFolder makes a folder in a folder. Refused are unsound names and those that
// something else there has (fault.Conflict).
func (s *Service) AddFolder(ctx context.Context, tx *act.Tx, by Hand, parent uuid.UUID, name string) (items.Item, error) {
	in, err := by.Into(ctx, tx, parent)
	if err != nil {
		return items.Item{}, err
	}
	if err := s.allow(ctx, tx, items.Adding, in); err != nil {
		return items.Item{}, err
	}
	if name, err = names.Check("name", name); err != nil {
		return items.Item{}, err
	}
	if err := LockDossier(ctx, tx, in.DossierID); err != nil {
		return items.Item{}, err
	}
	twin, err := by.Sees().Free(ctx, tx, in.ID, uuid.Nil, name)
	if err != nil {
		return items.Item{}, err
	}
	position, err := nextPosition(ctx, tx, in.ID)
	if err != nil {
		return items.Item{}, err
	}
	f := items.Item{ID: uuid.Must(uuid.NewV7()), DossierID: in.DossierID, ParentID: &in.ID, Kind: items.Folder, Name: name, NameKey: names.Key(name), Twin: twin,
		Position: position, CreatedBy: by.Owner(), CreatedAt: tx.Now}
	if err := addItem(ctx, tx, f); err != nil {
		return items.Item{}, err
	}
	return f, s.done(ctx, tx, by, Change{Operation: items.Adding, Item: f})
}

// AddTop makes the top of a new dossier, to which nothing stands in the way.
func AddTop(ctx context.Context, tx *act.Tx, d items.Dossier) error {
	return addItem(ctx, tx, items.Item{ID: d.ID, DossierID: d.ID, Kind: items.Folder, Name: d.Name, NameKey: names.Key(d.Name), CreatedBy: d.CreatedBy, CreatedAt: tx.Now})
}

// Arrival is content that comes into a folder.
type Arrival struct {
	Name string
	// Content is the version's hash, size and type; Origin is how it came about.
	Content items.Version
	Origin  versions.Origin
	// Apart says that there is a document of the name already, and this one is kept
	// apart. Hidden says that names are looked at which whoever brings it does not
	// see: only the practice sees them.
	Apart, Hidden bool
}

// AddDocument adds a document with its first version under the name, or under the
// next free name beside it. The dossier's row is held.
func (s *Service) AddDocument(ctx context.Context, tx *act.Tx, by Hand, folder items.Item, a Arrival) (items.Item, error) {
	if err := s.allow(ctx, tx, items.Adding, folder); err != nil {
		return items.Item{}, err
	}
	see := by.Sees()
	if a.Hidden {
		see = guard.Everything
	}
	v := a.Content
	v.Actor, v.Origin = by.Actor(), string(a.Origin)
	made, v, err := newDocument(ctx, tx, by.Owner(), folder, a.Name, v, see)
	if err != nil {
		return items.Item{}, err
	}
	return made, s.done(ctx, tx, by, Change{Operation: items.Adding, Item: made, Version: v, Apart: a.Apart})
}

func newDocument(ctx context.Context, tx *act.Tx, owner uuid.UUID, folder items.Item, name string, v items.Version, see guard.Seer) (items.Item, items.Version, error) {
	twin, err := 0, error(nil)
	name = names.Apart(name, func(n string) bool {
		var there *items.Item
		if err == nil {
			there, twin, err = see.Named(ctx, tx, folder.ID, n)
		}
		return err == nil && there != nil
	})
	if err != nil {
		return items.Item{}, v, err
	}
	number, err := takeNumber(ctx, tx, folder.DossierID)
	if err != nil {
		return items.Item{}, v, err
	}
	i := items.Item{ID: uuid.Must(uuid.NewV7()), DossierID: folder.DossierID, ParentID: &folder.ID, Kind: items.Document, Name: name, NameKey: names.Key(name), Twin: twin, Number: &number,
		Version: 1, SHA256: v.SHA256, Size: v.Size, MediaType: v.MediaType, CreatedBy: owner, CreatedAt: tx.Now}
	if err := addItem(ctx, tx, i); err != nil {
		return items.Item{}, v, err
	}
	v.ItemID, v.Number, v.CreatedAt = i.ID, 1, tx.Now
	return i, v, addVersion(ctx, tx, v)
}

// MayRevise refuses a document that cannot get a further version now.
func (s *Service) MayRevise(ctx context.Context, q postgres.Q, i items.Item) error {
	return s.allow(ctx, q, items.Revising, i)
}

// Revise gives a document a further version, which counts from now on. The dossier's
// row is held.
func (s *Service) Revise(ctx context.Context, tx *act.Tx, by Hand, to items.Item, content items.Version, origin versions.Origin) (items.Version, error) {
	v := content
	if err := by.MayChange(ctx, tx, to); err != nil {
		return v, err
	}
	if err := s.allow(ctx, tx, items.Revising, to); err != nil {
		return v, err
	}
	last, err := lastVersion(ctx, tx, to.ID)
	if err != nil {
		return v, err
	}
	v.ItemID, v.Number, v.CreatedAt, v.Actor, v.Origin = to.ID, last+1, tx.Now, by.Actor(), string(origin)
	if err := errors.Join(addVersion(ctx, tx, v), letCount(ctx, tx, v)); err != nil {
		return v, err
	}
	to.Version, to.SHA256, to.Size, to.MediaType = v.Number, v.SHA256, v.Size, v.MediaType
	return v, s.done(ctx, tx, by, Change{Operation: items.Revising, Item: to, Version: v})
}

// Separate makes the counting version a document of its own, beside the one it
// came to; that one's version before counts again. Nothing is lost: the version
// keeps its number in the old document's history, and its maker.
func (s *Service) Separate(ctx context.Context, tx *act.Tx, id uuid.UUID, number int) (items.Item, error) {
	by, err := s.signedIn(tx)
	if err != nil {
		return items.Item{}, err
	}
	sight, err := s.Access.Kind(ctx, tx, id, items.Document, access.Add|access.Change, tx.Now)
	if err != nil {
		return items.Item{}, err
	}
	if err := s.allow(ctx, tx, items.Separating, sight.Item); err != nil {
		return items.Item{}, err
	}
	if err := LockDossier(ctx, tx, sight.Item.DossierID); err != nil {
		return items.Item{}, err
	}
	all, err := VersionsOf(ctx, tx, id)
	if err != nil {
		return items.Item{}, err
	}
	if !versions.MaySeparate(Plain(all), number) {
		return items.Item{}, errNotSeparable.New("version %d does not count, or is the only one", number)
	}
	return s.separate(ctx, tx, by, sight.Item, all, number)
}

func (s *Service) separate(ctx context.Context, tx *act.Tx, by Hand, from items.Item, all []NamedVersion, number int) (items.Item, error) {
	var moved, before items.Version
	for _, v := range all {
		if v.Number == number {
			moved = v.Version
		} else if v.RemovedAt == nil && v.Number > before.Number {
			before = v.Version
		}
	}
	folder := items.Item{ID: *from.ParentID, DossierID: from.DossierID}
	made, v, err := newDocument(ctx, tx, by.Owner(), folder, from.Name, moved, by.Sees())
	if err != nil {
		return made, err
	}
	if err := errors.Join(moveVersion(ctx, tx, from.ID, number, made.ID, tx.Now), letCount(ctx, tx, before)); err != nil {
		return made, err
	}
	apart := events.Apart{Name: made.Name, Number: *made.Number}
	if err := tx.Record(ctx, act.Event{What: events.VersionSeparated.With(apart), Dossier: from.DossierID, Item: &from.ID, Version: number}); err != nil {
		return made, err
	}
	return made, s.done(ctx, tx, by, Change{Operation: items.Separating, Item: made, Version: v, Apart: true})
}

// Plain are versions as the rules know them.
func Plain(rows []NamedVersion) []versions.Version {
	out := make([]versions.Version, len(rows))
	for i, v := range rows {
		out[i] = versions.Version{Number: v.Number, Removed: v.RemovedAt != nil, Apart: v.MovedTo != nil, Named: v.Title != "", Noted: v.Note != "", At: v.CreatedAt,
			Saved: v.Origin == string(versions.Saved), By: v.By + v.LinkName + v.Said}
	}
	return out
}
