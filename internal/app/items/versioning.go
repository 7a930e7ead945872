package items

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// HoldDocument finds a document for the acting person, who needs the capabilities on it,
// and holds its dossier's row: nobody changes it, or its access, until the act ends.
func HoldDocument(ctx context.Context, tx *act.Tx, a *guard.Guard, document uuid.UUID, need access.Caps) (guard.Sight, error) {
	sight, err := a.Kind(ctx, tx, document, items.Document, need, tx.Now)
	if err != nil {
		return sight, err
	}
	if err := LockDossier(ctx, tx, sight.DossierID); err != nil {
		return sight, err
	}
	// What was allowed before must still be.
	return a.Kind(ctx, tx, document, items.Document, need, tx.Now)
}

// history finds a document that the acting person may change, with its versions, and
// holds its dossier's row.
func (s *Service) history(ctx context.Context, tx *act.Tx, document uuid.UUID, op items.Operation) (guard.Sight, []NamedVersion, error) {
	sight, err := HoldDocument(ctx, tx, s.Access, document, access.Change)
	if err != nil {
		return sight, nil, err
	}
	if op != "" {
		if err := s.allow(ctx, tx, op, sight.Item); err != nil {
			return sight, nil, err
		}
	}
	all, err := VersionsOf(ctx, tx, document)
	return sight, all, err
}

func numbered(all []NamedVersion, n int) (items.Version, bool) {
	for _, v := range all {
		if v.Number == n {
			return v.Version, true
		}
	}
	return items.Version{}, false
}

// Describe gives a version a name or a note, or takes them away; nil leaves them. Refused
// is a name that another version of the document has.
func (s *Service) Describe(ctx context.Context, tx *act.Tx, document uuid.UUID, number int, title, note *string) error {
	sight, all, err := s.history(ctx, tx, document, "")
	if err != nil {
		return err
	}
	v, ok := numbered(all, number)
	if !ok || v.MovedTo != nil {
		return fault.Missing()
	}
	data := events.Versioning{Name: sight.Item.Name}
	if title != nil {
		if v.Title, err = versions.Title("title", *title); err != nil {
			return err
		}
		data.Title = v.Title
	}
	if note != nil {
		if v.Note, err = versions.Note("note", *note); err != nil {
			return err
		}
		data.Note = v.Note
	}
	if err := describeVersion(ctx, tx, v); err != nil {
		return err
	}
	what := events.VersionNoted
	if title != nil {
		what = events.VersionNamed
	}
	return tx.Record(ctx, act.Event{What: what.With(data), Dossier: sight.DossierID, Item: &document, Version: number})
}

// BringBackVersion lets an older version count again: as a new one, nothing is
// overwritten.
func (s *Service) BringBackVersion(ctx context.Context, tx *act.Tx, document uuid.UUID, number int) (items.Version, error) {
	sight, all, err := s.history(ctx, tx, document, items.Revising)
	if err != nil {
		return items.Version{}, err
	}
	if err := versions.MayBringBack(Plain(all), number); err != nil {
		return items.Version{}, err
	}
	by, err := s.signedIn(tx)
	if err != nil {
		return items.Version{}, err
	}
	v, _ := numbered(all, number)
	again := items.Version{SHA256: v.SHA256, Size: v.Size, MediaType: v.MediaType, BackFrom: &number}
	return s.Revise(ctx, tx, by, sight.Item, again, versions.BroughtBack)
}

// RemoveVersion takes a version out of the list: one of their own by whoever may delete
// what they added, others by whoever may delete. If it counts, the one before it does.
func (s *Service) RemoveVersion(ctx context.Context, tx *act.Tx, document uuid.UUID, number int) error {
	sight, all, err := s.history(ctx, tx, document, items.Pruning)
	if err != nil {
		return err
	}
	if err := versions.MayRemove(Plain(all), number); err != nil {
		return err
	}
	v, _ := numbered(all, number)
	if !sight.Caps.Deletes(v.PersonID != nil && *v.PersonID == tx.Actor.Person.ID) {
		return fault.Refused("remove this version")
	}
	if err := removeVersion(ctx, tx, document, number, tx.Actor.Person.ID, tx.Now); err != nil {
		return err
	}
	data := events.Versioning{Name: sight.Item.Name, Note: v.Note}
	if err := tx.Record(ctx, act.Event{What: events.VersionRemoved.With(data), Dossier: sight.DossierID, Item: &document, Version: number}); err != nil {
		return err
	}
	return s.recounted(ctx, tx, sight.Item, all, number)
}

// RestoreVersion puts a version back into the list that was removed since a moment, for
// whoever removed it or could have.
func (s *Service) RestoreVersion(ctx context.Context, tx *act.Tx, document uuid.UUID, number int, since time.Time) error {
	sight, all, err := s.history(ctx, tx, document, items.Pruning)
	if err != nil {
		return err
	}
	if err := versions.MayRestore(Plain(all), number); err != nil {
		return err
	}
	v, _ := numbered(all, number)
	if !v.RemovedAt.After(since) {
		return fault.Missing()
	}
	me := tx.Actor.Person.ID
	if !sight.Caps.Deletes(v.PersonID != nil && *v.PersonID == me) && (v.RemovedBy == nil || *v.RemovedBy != me) {
		return fault.Refused("bring this version back")
	}
	if err := restoreVersion(ctx, tx, document, number); err != nil {
		return err
	}
	if err := tx.Record(ctx, act.Event{What: events.VersionRestored.With(events.Versioning{Name: sight.Item.Name}), Dossier: sight.DossierID, Item: &document, Version: number}); err != nil {
		return err
	}
	return s.recounted(ctx, tx, sight.Item, all, number)
}

// recounted lets that version count which does now that one has gone or come. What looks
// at content that counts is told.
func (s *Service) recounted(ctx context.Context, tx *act.Tx, of items.Item, before []NamedVersion, changed int) error {
	all := Plain(before)
	for i := range all {
		if all[i].Number == changed {
			all[i].Removed = !all[i].Removed
		}
	}
	v, ok := numbered(before, versions.Counting(all))
	if !ok || v.Number == of.Version {
		return nil
	}
	if err := letCount(ctx, tx, v); err != nil {
		return err
	}
	of.Version, of.SHA256, of.Size, of.MediaType = v.Number, v.SHA256, v.Size, v.MediaType
	return s.follow(ctx, tx, Change{Operation: items.Revising, Item: of, Version: v})
}

// PurgeVersions forgets versions for good that were removed before a moment, some at a
// time, and returns how many, and the places of the content that nothing needs any more.
func (s *Service) PurgeVersions(ctx context.Context, tx *act.Tx, before time.Time, most int) (n int, places []uuid.UUID, err error) {
	due, err := removedBefore(ctx, tx, before, most)
	if err != nil {
		return 0, nil, err
	}
	var sums [][]byte
	for _, v := range due {
		barred, err := s.barred(ctx, tx, v.ItemID)
		if err != nil {
			return n, nil, err
		}
		if barred {
			continue
		}
		if err := purgeVersion(ctx, tx, v); err != nil {
			return n, nil, err
		}
		sums, n = append(sums, v.SHA256), n+1
	}
	places, err = dropBlobs(ctx, tx, sums)
	return n, places, err
}

// barred reports whether something stands on a document that keeps its versions. Of what
// is deleted they go with it.
func (s *Service) barred(ctx context.Context, q postgres.Q, document uuid.UUID) (bool, error) {
	i, err := ItemByID(ctx, q, document)
	if fault.Is(err, fault.NotFound) {
		return true, nil
	}
	if err != nil {
		return false, err
	}
	err = s.allow(ctx, q, items.Pruning, i)
	if err != nil && fault.Of(err).Kind == fault.Internal {
		return false, err
	}
	return err != nil, nil
}
