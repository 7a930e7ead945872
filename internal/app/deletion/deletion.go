// Package deletion deletes folders and documents, lists what can be brought back, brings
// it back, and destroys it when its time is over or somebody says so.
package deletion

import (
	"context"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/keeping"
	"tabularis/core/names"
	"tabularis/core/register"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/sharing"
	"tabularis/internal/platform/content"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// Service deletes and brings back.
type Service struct {
	Acts    *act.Runner
	Access  *guard.Guard
	Items   *tree.Service
	Sharing *sharing.Service
	Content *content.Store
}

// maxItems is how many things are deleted, brought back or destroyed at once.
const (
	maxItems  = 1000
	maxReason = 500
)

// Delete takes items, and what lies in them, out of sight: all of them or none. Refused
// is what the acting person may not delete, and what something stands on. Until goes it
// can be brought back.
func (s *Service) Delete(ctx context.Context, ids []uuid.UUID, reason string) (made []tree.Deletion, goes time.Time, err error) {
	reason, err = names.Line("reason", reason, maxReason)
	if err != nil {
		return nil, goes, err
	}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		made = nil
		p, err := practice.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		goes = p.Keeping().Goes(tx.Now)
		sights, err := s.mayDelete(ctx, tx, ids)
		if err != nil {
			return err
		}
		if err := s.lock(ctx, tx, sights); err != nil {
			return err
		}
		// Nobody changes access now; what was allowed before must still be.
		if sights, err = s.mayDelete(ctx, tx, ids); err != nil {
			return err
		}
		for _, item := range sights {
			if _, err := tree.ItemByID(ctx, tx, item.ID); fault.Is(err, fault.NotFound) {
				continue // It went with a folder around it.
			}
			d, err := s.Items.Delete(ctx, tx, item, reason)
			if err != nil {
				return err
			}
			made = append(made, d)
		}
		return nil
	})
	return made, goes, err
}

func (s *Service) mayDelete(ctx context.Context, q postgres.Q, ids []uuid.UUID) (sights []guard.Sight, err error) {
	if len(ids) == 0 || len(ids) > maxItems {
		return nil, fault.ItemsCount.In("items", "choose between 1 and %d items", maxItems)
	}
	now := s.Acts.Now()
	for _, id := range ids {
		item, err := s.Access.Item(ctx, q, id, 0, now)
		if err != nil {
			return nil, err
		}
		if !item.MayDelete(act.Who(ctx).Person.ID) {
			return nil, fault.Refused("delete this")
		}
		if err := s.Access.MayDeleteDossier(ctx, q, item); err != nil {
			return nil, err
		}
		if item.Item.Kind == items.Folder {
			if err := s.Access.Throughout(ctx, q, item, access.Delete, now); err != nil {
				return nil, err
			}
		}
		sights = append(sights, item)
	}
	return sights, nil
}

// lock holds the rows of the dossiers in which items lie, always in one order.
func (s *Service) lock(ctx context.Context, tx *act.Tx, sights []guard.Sight) error {
	var dossiers []uuid.UUID
	for _, item := range sights {
		dossiers = append(dossiers, item.DossierID)
	}
	return tree.LockDossiers(ctx, tx, guard.Sorted(dossiers))
}

// found is a deletion that the acting person may know of, with what they may do.
type found struct {
	tree.Deletion
	guard.Sight
}

// bringsBack says that whoever deleted something may take that back where they may add,
// and whoever could delete it.
func bringsBack(caps access.Caps, own, deleted bool) bool {
	return caps.Deletes(own) || deleted && caps.Has(access.Add)
}

// destroys says that for good something goes by whoever may delete and manages it.
func destroys(caps access.Caps) bool { return caps.Has(access.Delete | access.Manage) }

// find finds deletions that are not over, and holds the rows of their dossiers and of
// those of some more things.
func (s *Service) find(ctx context.Context, tx *act.Tx, ids []uuid.UUID, sights ...guard.Sight) ([]found, error) {
	if len(ids) == 0 || len(ids) > maxItems {
		return nil, fault.ItemsCount.In("ids", "choose between 1 and %d", maxItems)
	}
	p, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return nil, err
	}
	var all []found
	for _, id := range ids {
		f, err := s.one(ctx, tx, id, p.Keeping())
		if err != nil {
			return nil, err
		}
		all, sights = append(all, f), append(sights, f.Sight)
	}
	return all, s.lock(ctx, tx, sights)
}

func (s *Service) one(ctx context.Context, tx *act.Tx, id uuid.UUID, period keeping.Period) (f found, err error) {
	if f.Deletion, err = tree.DeletionByID(ctx, tx, id); err != nil {
		return f, err
	}
	if period.Over(f.At, tx.Now) {
		return f, fault.Missing()
	}
	f.Sight, err = s.sight(ctx, tx, f.ItemID, tx.Now)
	return f, err
}

// sight finds what was deleted, be it that it came back for something in it.
func (s *Service) sight(ctx context.Context, q postgres.Q, item uuid.UUID, now time.Time) (guard.Sight, error) {
	sight, err := s.Access.Deleted(ctx, q, item, access.See, now)
	if fault.Is(err, fault.NotFound) {
		return s.Access.Item(ctx, q, item, access.See, now)
	}
	return sight, err
}

// Back is what is there again.
type Back struct {
	items.Item
	Code string
	// Renamed says that its name was taken.
	Renamed bool
}

// Ref is a document's register number.
func (b Back) Ref() string {
	if b.Number == nil {
		return ""
	}
	return register.Ref{Code: b.Code, Number: *b.Number}.String()
}

// Return is a wish to bring something back.
type Return struct {
	IDs []uuid.UUID
	// Links says that links which ended with it live again, and the others give it again;
	// for that one has to be allowed to give it out.
	Links bool
	// To is another folder than those in which it was.
	To *uuid.UUID
}

// BringBack lets what was deleted be there again, all of it or none, where it was or in
// another folder. There it is refused like moving it.
func (s *Service) BringBack(ctx context.Context, r Return) (back []Back, err error) {
	return back, s.Acts.Do(ctx, func(tx *act.Tx) error {
		back = nil
		to, err := s.target(ctx, tx, r)
		if err != nil {
			return err
		}
		all, err := s.find(ctx, tx, r.IDs, to...)
		if err != nil {
			return err
		}
		how := tree.Return{Links: r.Links}
		if len(to) > 0 {
			how.To = &to[0].Item
		}
		for _, f := range all {
			b, err := s.bringBack(ctx, tx, f, how)
			if err != nil {
				return err
			}
			back = append(back, b)
		}
		return nil
	})
}

// target is the other folder to which something is brought back, if any.
func (s *Service) target(ctx context.Context, tx *act.Tx, r Return) ([]guard.Sight, error) {
	if r.To == nil {
		return nil, nil
	}
	to, err := s.Access.Kind(ctx, tx, *r.To, items.Folder, access.Add, tx.Now)
	return []guard.Sight{to}, err
}

func (s *Service) bringBack(ctx context.Context, tx *act.Tx, f found, how tree.Return) (Back, error) {
	me, was := tx.Actor.Person.ID, f.Sight.Name
	if !bringsBack(f.Caps, f.Own(me), f.By == me) || how.Links && !f.Caps.Has(access.Share) {
		return Back{}, fault.Refused("bring this back")
	}
	item, err := s.Items.BringBack(ctx, tx, f.Deletion, f.Sight.Item, how)
	if err != nil || how.To == nil {
		return Back{item, f.Code, item.Name != was}, err
	}
	if err := s.Sharing.MoveIn(ctx, tx, sharing.Move{Items: []uuid.UUID{item.ID}, To: how.To.ID}); err != nil {
		return Back{}, err
	}
	sight, err := s.Access.Item(ctx, tx, item.ID, access.See, tx.Now)
	return Back{sight.Item, sight.Code, sight.Name != was}, err
}

// Ask asks those who can to bring something back: whoever deleted it, and who manages the
// dossier. Asking twice tells nobody twice a day.
func (s *Service) Ask(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		all, err := s.find(ctx, tx, []uuid.UUID{id})
		if err != nil {
			return err
		}
		f := all[0]
		told := map[uuid.UUID]bool{tx.Actor.Person.ID: true}
		tell := func(person uuid.UUID) error {
			if told[person] {
				return nil
			}
			told[person] = true
			return notices.Once(ctx, tx, person, notices.WantedBack, f.Sight.Name, "/dossiers/"+f.Code+"/deleted")
		}
		if err := tell(f.By); err != nil {
			return err
		}
		managers, err := s.Access.Managers(ctx, tx, f.DossierID, tx.Now)
		if err != nil {
			return err
		}
		for _, m := range managers {
			if err := tell(m); err != nil {
				return err
			}
		}
		return nil
	})
}

// Destroy forgets for good what was deleted in a dossier. Whoever does it types the
// dossier's code.
func (s *Service) Destroy(ctx context.Context, ids []uuid.UUID, code string) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		all, err := s.find(ctx, tx, ids)
		if err != nil {
			return err
		}
		for _, f := range all {
			switch {
			case !destroys(f.Caps):
				return fault.Refused("destroy this")
			case !strings.EqualFold(strings.TrimSpace(code), f.Code):
				return errCodeDiffers.In("code", "that is not the code of the dossier")
			}
		}
		for _, f := range all {
			if err := s.destroy(ctx, tx, f.Deletion, f.Sight.Item); err != nil {
				return err
			}
		}
		return nil
	})
}

func (s *Service) destroy(ctx context.Context, tx *act.Tx, d tree.Deletion, item items.Item) error {
	places, err := s.Items.Destroy(ctx, tx, d, item)
	if err != nil || len(places) == 0 {
		return err
	}
	return tx.Enqueue(ctx, jobs.DropContent{Places: places})
}

// DestroyDue destroys what can no longer be brought back. What something stands on waits
// until that is gone.
func (s *Service) DestroyDue(ctx context.Context) error {
	for _, some := range []func(context.Context) (int, error){s.destroySome, s.purgeSome} {
		for {
			done, err := some(ctx)
			if err != nil {
				return err
			}
			if done == 0 {
				break
			}
		}
	}
	return nil
}

// purgeSome forgets removed versions that can no longer be brought back.
func (s *Service) purgeSome(ctx context.Context) (done int, err error) {
	return done, s.Acts.Do(ctx, func(tx *act.Tx) error {
		p, err := practice.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		var places []uuid.UUID
		if done, places, err = s.Items.PurgeVersions(ctx, tx, p.Keeping().Since(tx.Now), atOnce); err != nil || len(places) == 0 {
			return err
		}
		return tx.Enqueue(ctx, jobs.DropContent{Places: places})
	})
}

// atOnce is how many are destroyed in one act.
const atOnce = 20

func (s *Service) destroySome(ctx context.Context) (done int, err error) {
	return done, s.Acts.Do(ctx, func(tx *act.Tx) error {
		done = 0
		p, err := practice.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		due, err := dueDeletions(ctx, tx, p.Keeping().Since(tx.Now), atOnce)
		if err != nil {
			return err
		}
		for _, d := range due {
			if err := tree.LockDossier(ctx, tx, d.DossierID); err != nil {
				return err
			}
			if err := s.destroy(ctx, tx, d.Deletion, d.item()); err != nil {
				return err
			}
			done++
		}
		return nil
	})
}
