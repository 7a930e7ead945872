package sharing

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/particulars"
	"tabularis/internal/platform/postgres"
)

// mostCopied is how many documents are copied at once.
const mostCopied = 10_000

// Copied is what was made by copying.
type Copied struct {
	// Items are the copies of what was chosen.
	Items     []items.Item
	Documents int
	// Left counts documents that are seen but may not be downloaded: they were left out.
	Left int
}

// source is something that is copied, with what of it may be copied.
type source struct {
	guard.Sight
	folders   []items.Item
	documents []items.Placed
	// left counts documents that are seen and may not be downloaded.
	left int
}

// mayCopy finds what is copied and where to. Whoever copies may download what they copy, and
// add where it goes. Refused are dossiers, folders that would lie in themselves, and too much
// at once.
func (s *Service) mayCopy(ctx context.Context, q postgres.Q, m Move, now time.Time) (all []source, to guard.Sight, err error) {
	if len(m.Items) == 0 || len(m.Items) > maxItems {
		return nil, to, fault.ItemsCount.In("items", "choose between 1 and %d items", maxItems)
	}
	if to, err = s.Access.Kind(ctx, q, m.To, items.Folder, access.Add, now); err != nil {
		return nil, to, err
	}
	way, err := tree.PathOf(ctx, q, m.To)
	if err != nil {
		return nil, to, err
	}
	n := 0
	for _, id := range dedupe(m.Items) {
		item, err := s.Access.Item(ctx, q, id, 0, now)
		if err != nil {
			return nil, to, err
		}
		if slices.Contains(way, id) {
			return nil, to, errIntoItself.In("to", "%q cannot lie in itself", item.Name)
		}
		one, err := s.source(ctx, q, item, now)
		if err != nil {
			return nil, to, err
		}
		if n += len(one.documents) + len(one.folders); n > mostCopied {
			return nil, to, errCopiesMany.In("items", "copy at most %d documents and folders at once", mostCopied)
		}
		all = append(all, one)
	}
	return all, to, nil
}

// source finds what of an item the acting person may copy.
func (s *Service) source(ctx context.Context, q postgres.Q, item guard.Sight, now time.Time) (one source, err error) {
	one.Sight = item
	if item.Item.Kind == items.Document {
		if !item.Caps.Has(access.See | access.Download) {
			return one, fault.Refused("copy this")
		}
		one.documents = []items.Placed{{Item: item.Item, Root: item.Root, Zone: item.Zone}}
		return one, nil
	}
	if item.ParentID == nil {
		return one, errDossierNotCopied.New("a dossier is not copied into another")
	}
	if one.documents, err = s.Access.Under(ctx, q, item, access.See, now); err != nil {
		return one, err
	}
	seen := len(one.documents)
	if one.documents, err = s.Access.Under(ctx, q, item, access.See|access.Download, now); err != nil {
		return one, err
	}
	one.left = seen - len(one.documents)
	one.folders, err = s.foldersWithin(ctx, q, item, one.documents, now)
	return one, err
}

// foldersWithin are a folder and those in it that the acting person sees, or that lead to
// what is copied, each after the one it lies in.
func (s *Service) foldersWithin(ctx context.Context, q postgres.Q, top guard.Sight, documents []items.Placed, now time.Time) ([]items.Item, error) {
	all, err := tree.FoldersOf(ctx, q, top.DossierID)
	if err != nil {
		return nil, err
	}
	f, c, err := s.Access.Dossier(ctx, q, top.DossierID)
	if err != nil {
		return nil, err
	}
	subjects := c.Subjects(access.ID(act.Who(ctx).Person.ID))
	within, byID := map[uuid.UUID][]tree.ScopedFolder{}, map[uuid.UUID]tree.ScopedFolder{}
	for _, folder := range all {
		byID[folder.ID] = folder
		if folder.ParentID != nil {
			within[*folder.ParentID] = append(within[*folder.ParentID], folder)
		}
	}
	leads := map[uuid.UUID]bool{}
	for _, d := range documents {
		for id := *d.ParentID; id != top.ID && !leads[id]; id = *byID[id].ParentID {
			leads[id] = true
		}
	}
	out := []items.Item{top.Item}
	for next := slices.Clone(within[top.ID]); len(next) > 0; {
		folder := next[0]
		next = next[1:]
		if leads[folder.ID] || f.Decide(access.ID(folder.Root), subjects, now).Caps.Has(access.See) {
			out = append(out, folder.Item)
			next = append(next, within[folder.ID]...)
		}
	}
	return out, nil
}

// Copy puts copies of items into a folder, all of them or none: of documents the counting
// version, of folders what the acting person sees and may download. Content is not stored
// again. Copies have numbers of their own, are accessible as the folder is into which they
// come, and give way to names that are taken.
func (s *Service) Copy(ctx context.Context, m Move) (out Copied, err error) {
	if err := s.notOutgoing(ctx, m.To); err != nil {
		return out, err
	}
	return out, s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		out, err = s.CopyIn(ctx, tx, m)
		return err
	})
}

// CopyIn is Copy as a part of an act.
func (s *Service) CopyIn(ctx context.Context, tx *act.Tx, m Move) (out Copied, err error) {
	_, to, err := s.mayCopy(ctx, tx, m, tx.Now)
	if err != nil {
		return out, err
	}
	if _, err := s.lock(ctx, tx, []guard.Sight{to}); err != nil {
		return out, err
	}
	// Nobody changes access there now; what was allowed before must still be.
	sources, to, err := s.mayCopy(ctx, tx, m, tx.Now)
	if err != nil {
		return out, err
	}
	var size int64
	for _, one := range sources {
		size += one.size()
	}
	if err := s.TakesStorage(ctx, tx, size, to); err != nil {
		return out, err
	}
	by := tree.Person(s.Access, func() time.Time { return tx.Now }, tx.Actor.Person.ID)
	for _, one := range sources {
		made, err := s.copyOne(ctx, tx, by, one, to.Item)
		if err != nil {
			return out, err
		}
		out.Items = append(out.Items, made)
		out.Documents += len(one.documents)
		out.Left += one.left
	}
	return out, nil
}

// size is that of all its documents.
func (one source) size() (n int64) {
	for _, d := range one.documents {
		n += d.Size
	}
	return n
}

// TakesStorage refuses copies for which there is no storage left.
func (s *Service) TakesStorage(ctx context.Context, tx *act.Tx, size int64, to guard.Sight) error {
	limited, err := tree.StorageLimited(ctx, tx)
	if err != nil || !limited {
		return err
	}
	if err := tree.LockStorage(ctx, tx); err != nil {
		return err
	}
	shares, err := tree.Storage(ctx, tx, to.DossierID, &tx.Actor.Person.ID)
	if err != nil {
		return err
	}
	// The practice keeps content once.
	shares.Practice.Limit = nil
	return shares.Take(size)
}

func (s *Service) copyOne(ctx context.Context, tx *act.Tx, by tree.Hand, one source, to items.Item) (items.Item, error) {
	made := map[uuid.UUID]items.Item{*one.ParentID: to}
	if err := s.copyWithin(ctx, tx, by, one.folders, one.documents, made); err != nil {
		return items.Item{}, err
	}
	for _, d := range one.documents {
		if err := particulars.Copy(ctx, tx, d.ID, made[d.ID].ID); err != nil {
			return items.Item{}, err
		}
	}
	return made[one.ID], nil
}

// copyWithin copies folders, each after the one it lies in, and documents, and notes what was
// made of what. Where the topmost come to is noted already.
func (s *Service) copyWithin(ctx context.Context, tx *act.Tx, by tree.Hand, folders []items.Item, documents []items.Placed, made map[uuid.UUID]items.Item) error {
	for _, folder := range folders {
		parent := made[*folder.ParentID].ID
		name, err := freeName(ctx, tx, by, parent, folder.Name)
		if err != nil {
			return err
		}
		if made[folder.ID], err = s.Items.AddFolder(ctx, tx, by, parent, name); err != nil {
			return err
		}
	}
	for _, d := range documents {
		copied, err := s.Items.AddDocument(ctx, tx, by, made[*d.ParentID], tree.Arrival{Name: d.Name, Origin: versions.Copied, Content: items.Version{SHA256: d.SHA256, Size: d.Size, MediaType: d.MediaType}})
		if err != nil {
			return err
		}
		made[d.ID] = copied
	}
	return nil
}

// freeName is a name, or the next free one beside it.
func freeName(ctx context.Context, tx *act.Tx, by tree.Hand, folder uuid.UUID, name string) (string, error) {
	var err error
	name = names.Apart(name, func(n string) bool {
		var there *items.Item
		if err == nil {
			there, _, err = by.Sees().Named(ctx, tx, folder, n)
		}
		return err == nil && there != nil
	})
	return name, err
}

// whatIfCopied says who could open the copies that cannot open what they are of.
func (s *Service) whatIfCopied(ctx context.Context, m Move) (Consequence, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	sources, to, err := s.mayCopy(ctx, q, m, now)
	if err != nil {
		return Consequence{}, err
	}
	target, circles, err := s.Access.Dossier(ctx, q, to.DossierID)
	if err != nil {
		return Consequence{}, err
	}
	var out Consequence
	var totals tally
	for _, one := range sources {
		f, _, err := s.Access.Dossier(ctx, q, one.DossierID)
		if err != nil {
			return out, err
		}
		weights := map[access.ID]int{}
		for _, d := range one.documents {
			weights[access.ID(d.Root)]++
		}
		out.Documents += len(one.documents)
		for _, person := range circles.Everybody(target.Subjects()) {
			if target.Decide(access.ID(to.Root), circles.Subjects(person), now).Caps.Has(access.See) {
				totals.gain(f, circles, person, weights, now)
			}
		}
	}
	if out.Effects, err = totals.named(ctx, q); err != nil {
		return out, err
	}
	way, err := tree.ZonePathOf(ctx, q, m.To)
	if err != nil {
		return out, err
	}
	out.Links, err = links.NewestOn(ctx, q, way, now)
	return out, err
}

// gain adds what somebody cannot open of so many documents by root, and could of their copies.
func (t *tally) gain(f *access.Forest, c *access.Circles, person access.ID, weights map[access.ID]int, now time.Time) {
	subjects, n, could := c.Subjects(person), 0, 0
	for root, documents := range weights {
		if f.Decide(root, subjects, now).Caps.Has(access.See) {
			could += documents
		} else {
			n += documents
		}
	}
	if n > 0 {
		account, _ := c.Account(person)
		t.add(Effect{Effect: access.Effect{Person: person, Outside: account.Outside, Gains: n, Could: could}})
	}
}
