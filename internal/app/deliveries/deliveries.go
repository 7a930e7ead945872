package deliveries

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/postgres"
)

// mostListed is how many deliveries a list shows at most.
const mostListed = 200

// List lists what the acting person was sent, the newest first: what waits for them, or what they have
// decided.
func (s *Service) List(ctx context.Context, decided bool) ([]Delivery, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return nil, fault.SignedOut()
	}
	all, err := deliveriesOf(ctx, s.Acts.DB, me.ID, decided, mostListed)
	if err != nil {
		return nil, err
	}
	return all, s.fill(ctx, s.Acts.DB, all)
}

// fill adds their files to deliveries.
func (s *Service) fill(ctx context.Context, q postgres.Q, all []Delivery) error {
	ids, at := make([]uuid.UUID, len(all)), map[uuid.UUID]int{}
	for i, d := range all {
		ids[i], at[d.ID] = d.ID, i
	}
	files, err := filesOf(ctx, q, ids)
	for _, f := range files {
		d := &all[at[f.DeliveryID]]
		d.Files = append(d.Files, f)
	}
	return err
}

// CountWaiting counts what waits for the acting person.
func (s *Service) CountWaiting(ctx context.Context) (int, error) {
	return countWaiting(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
}

// held finds a delivery of the acting person's that waits for them, and holds it.
func (s *Service) held(ctx context.Context, tx *act.Tx, id uuid.UUID) (Delivery, error) {
	if tx.Actor.Person == nil {
		return Delivery{}, fault.SignedOut()
	}
	d, err := deliveryOf(ctx, tx, id, tx.Actor.Person.ID)
	if err != nil {
		return d, err
	}
	if d.DecidedAt != nil {
		return d, errDecided.New("the delivery has been accepted or refused already")
	}
	all := []Delivery{d}
	err = s.fill(ctx, tx, all)
	return all[0], err
}

// Accept puts what came into a folder to which the acting person may add; names that are taken there
// give way. Named are the names of sealed files, as their list says.
func (s *Service) Accept(ctx context.Context, id, folder uuid.UUID, named map[uuid.UUID]string) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		d, err := s.held(ctx, tx, id)
		if err != nil {
			return err
		}
		to, err := s.goal(ctx, tx, folder)
		if err != nil {
			return err
		}
		if err := d.call(named); err != nil {
			return err
		}
		from, err := incomingOf(ctx, tx, d.LinkID)
		if err != nil {
			return err
		}
		around := guard.Sorted([]uuid.UUID{from, to.DossierID})
		if err := tree.LockDossiers(ctx, tx, around); err != nil {
			return err
		}
		// Nobody changes access now; what was allowed before must still be.
		if to, err = s.goal(ctx, tx, folder); err != nil {
			return err
		}
		if err := s.take(ctx, tx, d, to, around); err != nil {
			return err
		}
		if err := decide(ctx, tx, d.ID, true, tx.Now); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.DeliveryAccepted.With(delivering(d)), Dossier: to.DossierID, Item: &to.ID})
	})
}

// call gives sealed files the names that their list says.
func (d *Delivery) call(named map[uuid.UUID]string) error {
	for i, f := range d.Files {
		name, known := named[*f.ItemID]
		if !known || d.Manifest == nil {
			continue
		}
		sound, err := names.Check("names", name)
		if err != nil {
			return err
		}
		d.Files[i].Name = sound
	}
	return nil
}

// goal is a folder to which the acting person may add: none of a transfer, nor of what came.
func (s *Service) goal(ctx context.Context, tx *act.Tx, folder uuid.UUID) (guard.Sight, error) {
	to, err := s.Access.Kind(ctx, tx, folder, items.Folder, access.Add, tx.Now)
	if err != nil {
		return to, err
	}
	there, err := tree.DossierByID(ctx, tx, to.DossierID)
	if err == nil && (there.Kind == items.Outgoing || there.Kind == items.Incoming) {
		err = fault.Missing()
	}
	return to, err
}

// take moves what came to where it is wanted; the dossiers around are held.
func (s *Service) take(ctx context.Context, tx *act.Tx, d Delivery, to guard.Sight, around []uuid.UUID) error {
	for _, f := range d.Files {
		item, err := guard.SightOf(ctx, tx, *f.ItemID, tx.Now)
		if err == nil {
			err = s.Items.Take(ctx, tx, guard.Sight{Located: item}, to, f.Name)
		}
		if err != nil {
			return err
		}
	}
	for _, dossier := range around {
		if err := guard.Bump(ctx, tx, dossier); err != nil {
			return err
		}
	}
	return nil
}

// Refuse destroys what came; that it came stays on record.
func (s *Service) Refuse(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		d, err := s.held(ctx, tx, id)
		if err != nil {
			return err
		}
		return s.drop(ctx, tx, d)
	})
}

func (s *Service) drop(ctx context.Context, tx *act.Tx, d Delivery) error {
	from, err := incomingOf(ctx, tx, d.LinkID)
	if err != nil {
		return err
	}
	for _, f := range d.Files {
		if err := s.Items.Discard(ctx, tx, *f.ItemID); err != nil {
			return err
		}
	}
	if err := decide(ctx, tx, d.ID, false, tx.Now); err != nil {
		return err
	}
	return tx.Record(ctx, act.Event{What: events.DeliveryRefused.With(delivering(d)), Dossier: from})
}

func delivering(d Delivery) events.Delivering {
	return events.Delivering{Email: d.Email, Person: d.Name, Files: len(d.Files)}
}

// Sealed opens a sealed file that waits for the acting person, as it came: what is open lies where
// nobody reads it before it is accepted.
func (s *Service) Sealed(ctx context.Context, id, file uuid.UUID) (tree.File, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return tree.File{}, fault.SignedOut()
	}
	waits, err := sealedWaits(ctx, s.Acts.DB, id, me.ID, file)
	if err == nil && !waits {
		err = fault.Missing()
	}
	if err != nil {
		return tree.File{}, err
	}
	sight, err := guard.ContentSightOf(ctx, s.Acts.DB, file, 1, s.Acts.Now())
	if err != nil {
		return tree.File{}, err
	}
	return s.Contents.FileOf(ctx, sight.Item, sight.Version())
}
