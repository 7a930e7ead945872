package items

import (
	"context"
	"errors"
	"slices"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// Delete takes an item, and what lies in it, out of sight. That the acting person may is
// for the caller to decide, who holds the dossier's row.
func (s *Service) Delete(ctx context.Context, tx *act.Tx, item guard.Sight, reason string) (Deletion, error) {
	if err := s.allow(ctx, tx, items.Deleting, item.Item); err != nil {
		return Deletion{}, err
	}
	if item.Item.Kind == items.Folder {
		if err := s.allowWithin(ctx, tx, item.Item); err != nil {
			return Deletion{}, err
		}
	}
	top := item.ParentID == nil
	folder := item.Item
	if !top {
		var err error
		if folder, err = ItemByID(ctx, tx, *item.ParentID); err != nil {
			return Deletion{}, err
		}
	}
	d := Deletion{ID: uuid.Must(uuid.NewV7()), ItemID: item.ID, FolderID: folder.ID, FolderName: folder.Name, Reason: reason, By: tx.Actor.Person.ID, At: tx.Now}
	d, err := addDeletion(ctx, tx, d)
	if err != nil {
		return d, err
	}
	if top {
		err = deleteDossier(ctx, tx, item.DossierID, &tx.Now)
	} else {
		err = leaveFolder(ctx, tx, item.Item)
	}
	if err != nil {
		return d, err
	}
	data := events.Deleting{Name: item.Name, Deletion: d.ID.String(), Note: reason}
	what := events.DocumentDeleted
	if item.Item.Kind == items.Folder {
		data.Documents = d.Documents
		what = ofTop(top, events.FolderDeleted, events.DossierDeleted)
	}
	if err := tx.Record(ctx, act.Event{What: what.With(data), Dossier: item.DossierID, Item: &item.ID, Version: item.Version}); err != nil {
		return d, err
	}
	return d, s.follow(ctx, tx, Change{Operation: items.Deleting, Item: item.Item, Deletion: d.ID})
}

// ofTop is what happened to a folder, or to a dossier as a whole.
func ofTop[D any](top bool, folder, dossier events.Of[D]) events.Of[D] {
	if top {
		return dossier
	}
	return folder
}

// allowWithin asks what stands on the documents in a folder.
func (s *Service) allowWithin(ctx context.Context, q postgres.Q, folder items.Item) error {
	for _, standing := range s.Within {
		bars, err := standing(ctx, q, folder)
		if err != nil {
			return err
		}
		if err := items.Allow(items.Deleting, items.StateOf(folder, bars)); err != nil {
			return err
		}
	}
	return nil
}

// Return is how something comes back.
type Return struct {
	// Links says that links which ended with it live again, and the others give it again.
	Links bool
	// To is another folder than the one in which it was; the caller moves it there.
	To *items.Item
}

// BringBack lets what was deleted be there again, where it was: with its access and
// history. A folder around it that is deleted, too, comes back for this alone, unless it
// goes on to another one. A name that is taken there by now gives way. That the acting
// person may is for the caller to decide, who holds the dossier's row.
func (s *Service) BringBack(ctx context.Context, tx *act.Tx, d Deletion, item items.Item, how Return) (items.Item, error) {
	back, err := DeletedWith(ctx, tx, d.ID)
	if err != nil {
		return item, err
	}
	if item.DeletedAt != nil {
		if err := s.allow(ctx, tx, items.BringingBack, item); err != nil {
			return item, err
		}
	}
	if item.ParentID == nil {
		return s.bringDossierBack(ctx, tx, d, item, back, how.Links)
	}
	if yes, err := dossierThere(ctx, tx, item.DossierID); err != nil || !yes {
		return item, errors.Join(err, errDossierGone.New("the dossier is deleted; bring that back first"))
	}
	alone := item.Kind == items.Document && item.DeletedAt != nil
	folder, remade := items.Item{ID: *item.ParentID}, []items.Item(nil)
	if how.To != nil {
		item, err = s.reviveFor(ctx, tx, item, *how.To)
	} else {
		if folder, remade, err = s.ground(ctx, tx, item); err == nil {
			item, err = s.reviveIn(ctx, tx, item, folder.ID)
		}
	}
	if err != nil {
		return item, err
	}
	// What lay in a folder that came back earlier for something else may find its name
	// taken there.
	inside := map[uuid.UUID]bool{}
	for _, b := range back {
		inside[b.ID] = true
	}
	for _, b := range back {
		if b.ID != item.ID && b.ParentID != nil && !inside[*b.ParentID] {
			if _, err := s.reviveIn(ctx, tx, b, *b.ParentID); err != nil {
				return item, err
			}
		}
	}
	if err := reviveRest(ctx, tx, d.ID); err != nil {
		return item, err
	}
	if alone && len(remade) == 0 {
		err = countDocument(ctx, tx, item, 1)
	} else {
		err = recountAround(ctx, tx, append(back, remade...), []uuid.UUID{folder.ID}, []uuid.UUID{item.ScopeID})
	}
	if err != nil {
		return item, err
	}
	what := events.DocumentBroughtBack
	if item.Kind == items.Folder {
		what = events.FolderBroughtBack
	}
	if err := tx.Record(ctx, act.Event{What: what.With(events.Moving{Name: item.Name, To: folder.Name}), Dossier: item.DossierID, Item: &item.ID}); err != nil {
		return item, err
	}
	if err := s.follow(ctx, tx, Change{Operation: items.BringingBack, Item: item, Deletion: d.ID, Links: how.Links}); err != nil {
		return item, err
	}
	return item, dropDeletion(ctx, tx, d.ID)
}

// bringDossierBack lets a whole dossier be there again.
func (s *Service) bringDossierBack(ctx context.Context, tx *act.Tx, d Deletion, top items.Item, back []items.Item, links bool) (items.Item, error) {
	if err := deleteDossier(ctx, tx, top.DossierID, nil); err != nil {
		return top, err
	}
	if err := reviveRest(ctx, tx, d.ID); err != nil {
		return top, err
	}
	if err := recountAround(ctx, tx, back, nil, nil); err != nil {
		return top, err
	}
	if err := tx.Record(ctx, act.Event{What: events.DossierBroughtBack.With(events.Moving{Name: top.Name}), Dossier: top.DossierID, Item: &top.ID}); err != nil {
		return top, err
	}
	if err := s.follow(ctx, tx, Change{Operation: items.BringingBack, Item: top, Deletion: d.ID, Links: links}); err != nil {
		return top, err
	}
	return top, dropDeletion(ctx, tx, d.ID)
}

// recountAround counts anew what lies in folders that are there again, in those of
// documents that are, and in some more.
func recountAround(ctx context.Context, q postgres.Q, back []items.Item, folders, scopes []uuid.UUID) error {
	for _, b := range back {
		scopes = append(scopes, b.ScopeID)
		if b.Kind == items.Folder {
			folders = append(folders, b.ID)
		} else if b.ParentID != nil {
			folders = append(folders, *b.ParentID)
		}
	}
	return recountFolders(ctx, q, guard.Sorted(folders), guard.Sorted(scopes))
}

// ground is the folder to which something comes back, with those that had to come back
// for it, be it that only their names were left.
func (s *Service) ground(ctx context.Context, tx *act.Tx, item items.Item) (folder items.Item, remade []items.Item, err error) {
	above, err := foldersAbove(ctx, tx, item.ID)
	if err != nil {
		return folder, nil, err
	}
	for i, f := range slices.Backward(above) {
		if i < len(above)-1 {
			if f, err = s.reviveIn(ctx, tx, f, folder.ID); err != nil {
				return folder, nil, err
			}
			remade = append(remade, f)
		}
		folder = f
	}
	return folder, remade, nil
}

// reviveIn lets an item be there again under its name, or the next free one.
func (s *Service) reviveIn(ctx context.Context, tx *act.Tx, i items.Item, folder uuid.UUID) (items.Item, error) {
	if here, err := ItemByID(ctx, tx, i.ID); err == nil || !fault.Is(err, fault.NotFound) {
		// It came back before, for something that lay in it.
		return here, err
	}
	i, err := s.apart(ctx, tx, i, folder)
	if err != nil {
		return i, err
	}
	i.ParentID = &folder
	return i, revive(ctx, tx, i)
}

// reviveFor lets an item be there again where it was, though the folder around it is not,
// under a name that is free where it is to go.
func (s *Service) reviveFor(ctx context.Context, tx *act.Tx, i, to items.Item) (items.Item, error) {
	i, err := s.apart(ctx, tx, i, to.ID)
	if err == nil && *i.ParentID != to.ID {
		_, i.Twin, err = s.Access.Sees(tx.Now).Named(ctx, tx, *i.ParentID, i.Name)
	}
	if err != nil {
		return i, err
	}
	return i, revive(ctx, tx, i)
}

// apart gives an item its name, or the next one that is free in a folder.
func (s *Service) apart(ctx context.Context, q *act.Tx, i items.Item, folder uuid.UUID) (items.Item, error) {
	see, err := s.Access.Sees(q.Now), error(nil)
	i.Name = names.Apart(i.Name, func(n string) bool {
		var there *items.Item
		if err == nil {
			there, i.Twin, err = see.Named(ctx, q, folder, n)
		}
		return err == nil && there != nil
	})
	i.NameKey = names.Key(i.Name)
	return i, err
}

// Destroy forgets what was deleted for good, and returns the places of the content that
// nothing needs any more; dropping it follows the act. That it may be is for the caller
// to decide, who holds the dossier's row.
func (s *Service) Destroy(ctx context.Context, tx *act.Tx, d Deletion, item items.Item) ([]uuid.UUID, error) {
	all, err := DeletedWith(ctx, tx, d.ID)
	if err != nil {
		return nil, err
	}
	for _, i := range all {
		if err := s.allow(ctx, tx, items.Destroying, i); err != nil {
			return nil, err
		}
	}
	sums, err := destroy(ctx, tx, d.ID)
	if err != nil {
		return nil, err
	}
	what := events.DocumentDestroyed
	if item.Kind == items.Folder {
		what = ofTop(item.ID == item.DossierID, events.FolderDestroyed, events.DossierDestroyed)
	}
	if err := tx.Record(ctx, act.Event{What: what.With(events.Deleting{Name: item.Name, Documents: d.Documents}), Dossier: item.DossierID, Item: &item.ID}); err != nil {
		return nil, err
	}
	if err := dropDeletion(ctx, tx, d.ID); err != nil {
		return nil, err
	}
	return dropBlobs(ctx, tx, sums)
}

// Discard destroys for good what lies where nobody but the application puts and takes anything, and
// enqueues that its content is dropped. What is gone already is no error.
func (s *Service) Discard(ctx context.Context, tx *act.Tx, id uuid.UUID) error {
	item, err := ItemByID(ctx, tx, id)
	if fault.Is(err, fault.NotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	if err := LockDossiers(ctx, tx, []uuid.UUID{item.DossierID}); err != nil {
		return err
	}
	d, err := s.Delete(ctx, tx, guard.Sight{Located: guard.Located{Item: item}}, "")
	if err != nil {
		return err
	}
	item.DeletedAt = &tx.Now
	places, err := s.Destroy(ctx, tx, d, item)
	if err != nil || len(places) == 0 {
		return err
	}
	return tx.Enqueue(ctx, jobs.DropContent{Places: places})
}

// TakeBack forgets, for whoever brought it, a document that nobody has worked with yet,
// and returns the places of the content that nothing needs any more. That it is theirs is
// for the caller to decide, who holds the dossier's row.
func (s *Service) TakeBack(ctx context.Context, tx *act.Tx, by Hand, item items.Item) ([]uuid.UUID, error) {
	if err := s.allow(ctx, tx, items.Deleting, item); err != nil {
		return nil, err
	}
	d := Deletion{ID: uuid.Must(uuid.NewV7()), ItemID: item.ID, FolderID: *item.ParentID, By: by.Owner(), At: tx.Now}
	if _, err := addDeletion(ctx, tx, d); err != nil {
		return nil, err
	}
	if err := leaveFolder(ctx, tx, item); err != nil {
		return nil, err
	}
	sums, err := destroy(ctx, tx, d.ID)
	if err != nil {
		return nil, err
	}
	if err := by.Record(ctx, tx, Change{Operation: items.Destroying, Item: item}); err != nil {
		return nil, err
	}
	if err := dropDeletion(ctx, tx, d.ID); err != nil {
		return nil, err
	}
	return dropBlobs(ctx, tx, sums)
}
