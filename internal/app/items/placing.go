package items

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// Rename gives a folder or document another name, for the acting person. A dossier's
// top is renamed with its dossier, not here.
func (s *Service) Rename(ctx context.Context, tx *act.Tx, id uuid.UUID, name string) error {
	name, err := names.Check("name", name)
	if err != nil {
		return err
	}
	sight, err := s.Access.Item(ctx, tx, id, access.Change, tx.Now)
	if err != nil {
		return err
	}
	if err := s.allow(ctx, tx, items.Renaming, sight.Item); err != nil {
		return err
	}
	if sight.Item.Name == name {
		return nil
	}
	if err := LockDossier(ctx, tx, sight.Item.DossierID); err != nil {
		return err
	}
	twin, err := s.Access.Sees(tx.Now).Free(ctx, tx, *sight.Item.ParentID, id, name)
	if err != nil {
		return err
	}
	if err := renameItem(ctx, tx, id, name, names.Key(name), twin); err != nil {
		return err
	}
	renamed := events.DocumentRenamed
	if sight.Item.Kind == items.Folder {
		renamed = events.FolderRenamed
	}
	if err := tx.Record(ctx, act.Event{What: renamed.With(events.Renaming{From: sight.Item.Name, To: name}), Dossier: sight.Item.DossierID, Item: &id}); err != nil {
		return err
	}
	sight.Item.Name, sight.Item.NameKey, sight.Item.Twin = name, names.Key(name), twin
	return s.follow(ctx, tx, Change{Operation: items.Renaming, Item: sight.Item})
}

// Retitle gives a dossier's top the dossier's new name. That the acting person may
// change the dossier is for the caller to decide, who holds its row.
func (s *Service) Retitle(ctx context.Context, tx *act.Tx, top items.Item, name string) error {
	if err := s.allow(ctx, tx, items.Retitling, top); err != nil || top.Name == name {
		return err
	}
	if err := renameItem(ctx, tx, top.ID, name, names.Key(name), top.Twin); err != nil {
		return err
	}
	top.Name, top.NameKey = name, names.Key(name)
	return s.follow(ctx, tx, Change{Operation: items.Retitling, Item: top})
}

// MayMove refuses an item that nobody can take out of its folder now, and a folder
// that nothing can be put into.
func (s *Service) MayMove(ctx context.Context, q postgres.Q, item, to items.Item) error {
	if err := s.allow(ctx, q, items.Moving, item); err != nil {
		return err
	}
	return s.allow(ctx, q, items.Adding, to)
}

// Move puts an item into another folder. That the acting person may, and what it
// means for everybody's access, is for the caller to decide, who holds the rows of
// both dossiers.
func (s *Service) Move(ctx context.Context, tx *act.Tx, item, to guard.Sight) error {
	if err := s.MayMove(ctx, tx, item.Item, to.Item); err != nil || *item.ParentID == to.ID {
		return err
	}
	twin, err := s.Access.Sees(tx.Now).Free(ctx, tx, to.ID, item.ID, item.Name)
	if err != nil {
		return err
	}
	if err := moveItem(ctx, tx, item.Item, to.ID, twin); err != nil {
		return err
	}
	data, moved := events.Moving{Name: item.Name, To: to.Name}, events.DocumentMoved
	if item.Item.Kind == items.Folder {
		moved = events.FolderMoved
	}
	if item.DossierID != to.DossierID {
		// Those whom it leaves learn that it is gone, but not where to.
		if err := s.recordGone(ctx, tx, item); err != nil {
			return err
		}
		if item.Number != nil {
			data.Was = item.Ref()
		}
	}
	if err := tx.Record(ctx, act.Event{What: moved.With(data), Dossier: to.DossierID, Item: &item.ID}); err != nil {
		return err
	}
	now := item.Item
	now.DossierID, now.ParentID = to.DossierID, &to.ID
	return s.follow(ctx, tx, Change{Operation: items.Moving, Item: now, From: item.DossierID})
}

// Take moves a document into a folder like Move, under the next name that is free where the one
// wanted is taken.
func (s *Service) Take(ctx context.Context, tx *act.Tx, item, to guard.Sight, name string) error {
	item.Name = name
	free, err := s.apart(ctx, tx, item.Item, to.ID)
	if err != nil {
		return err
	}
	// Beside those of its new name that lie where it does now, and are not seen there.
	if _, free.Twin, err = s.Access.Sees(tx.Now).Named(ctx, tx, *item.ParentID, free.Name); err != nil {
		return err
	}
	if err := renameItem(ctx, tx, item.ID, free.Name, free.NameKey, free.Twin); err != nil {
		return err
	}
	item.Item = free
	return s.Move(ctx, tx, item, to)
}

// Place puts a folder before another one of its parent's, or, without one, behind them all.
// What the acting person does not see among them stays where it is beside the others.
func (s *Service) Place(ctx context.Context, tx *act.Tx, id uuid.UUID, before *uuid.UUID) error {
	sight, err := s.Access.Item(ctx, tx, id, access.See, tx.Now)
	if err != nil {
		return err
	}
	if sight.Item.Kind != items.Folder || sight.ParentID == nil {
		return fault.Missing()
	}
	if _, err := s.Access.Item(ctx, tx, *sight.ParentID, access.Change, tx.Now); err != nil {
		return err
	}
	if before != nil {
		next, err := s.Access.Item(ctx, tx, *before, access.See, tx.Now)
		if err != nil {
			return err
		}
		if next.Item.Kind != items.Folder || next.ParentID == nil || *next.ParentID != *sight.ParentID || next.ID == id {
			return errPlace.In("before", "a folder is put before another one that lies beside it")
		}
	}
	if err := LockDossier(ctx, tx, sight.DossierID); err != nil {
		return err
	}
	beside, err := foldersIn(ctx, tx, *sight.ParentID)
	if err != nil {
		return err
	}
	was := slices.Index(beside, id)
	rest := slices.Delete(slices.Clone(beside), was, was+1)
	at := len(rest)
	if before != nil {
		if at = slices.Index(rest, *before); at < 0 {
			return fault.Missing()
		}
	}
	if at == was {
		return nil
	}
	if err := orderFolders(ctx, tx, slices.Insert(rest, at, id)); err != nil {
		return err
	}
	return tx.Record(ctx, act.Event{What: events.FolderPlaced.With(events.Name{Name: sight.Name}), Dossier: sight.DossierID, Item: &id})
}

// recordGone tells those who saw an item that it has left the dossier: it is an
// event of the folder in which it lay. What was closed leaves without a word.
func (s *Service) recordGone(ctx context.Context, tx *act.Tx, item guard.Sight) error {
	around, err := guard.ScopeOf(ctx, tx, *item.ParentID)
	if err != nil || around.Zone != item.Zone {
		return err
	}
	gone := events.DocumentMovedAway
	if item.Item.Kind == items.Folder {
		gone = events.FolderMovedAway
	}
	return tx.Record(ctx, act.Event{What: gone.With(events.Name{Name: item.Name}), Dossier: item.DossierID, Item: item.ParentID})
}
