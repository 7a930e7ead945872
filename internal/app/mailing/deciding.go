package mailing

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/transfers"
	"tabularis/internal/platform/jobs"
)

// Held is a mail that waits to be confirmed, with what it gives out.
type Held struct {
	Mailing
	Transfer transfers.Transfer
}

// List lists the mails that wait for the acting person, the newest first.
func (s *Service) List(ctx context.Context) ([]Held, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return nil, fault.SignedOut()
	}
	all, err := heldOf(ctx, s.Acts.DB, me.ID)
	if err != nil {
		return nil, err
	}
	out := make([]Held, len(all))
	for i, m := range all {
		if out[i], err = s.show(ctx, m); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// One shows a mail of the acting person's.
func (s *Service) One(ctx context.Context, id uuid.UUID) (Held, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return Held{}, fault.SignedOut()
	}
	m, err := mailingOf(ctx, s.Acts.DB, id, me.ID, false)
	if err != nil {
		return Held{}, err
	}
	return s.show(ctx, m)
}

func (s *Service) show(ctx context.Context, m Mailing) (h Held, err error) {
	h.Mailing = m
	if h.To, err = recipientsOf(ctx, s.Acts.DB, m.ID); err != nil || m.TransferID == nil {
		return h, err
	}
	h.Transfer, err = s.Transfers.One(ctx, *m.TransferID)
	return h, err
}

// Confirm sends a mail that waits, under terms that hold for what it gives out.
func (s *Service) Confirm(ctx context.Context, id uuid.UUID, c links.Change) error {
	h, err := s.One(ctx, id)
	if err != nil {
		return err
	}
	if h.State != held || h.TransferID == nil {
		return errDecided.New("the mail has been sent or given up already")
	}
	if err := s.mayReach(ctx, addresses(h.To)); err != nil {
		return err
	}
	if c.Name == "" {
		c.Name = h.Transfer.Link.Name
	}
	if c.Until == nil {
		c.Until = h.Transfer.Link.Until
	}
	if c.Password == nil {
		// The one that stood there for it is nobody's.
		c.Password = new(string)
	}
	if _, err := s.Links.Change(ctx, *h.TransferID, c); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		m, err := mailingOf(ctx, tx, id, tx.Actor.Person.ID, true)
		if err != nil {
			return err
		}
		if m.State != held {
			return errDecided.New("the mail has been sent or given up already")
		}
		return s.goOn(ctx, tx, m, held)
	})
}

// Discard gives up a mail that waits: it goes to nobody.
func (s *Service) Discard(ctx context.Context, id uuid.UUID) error {
	h, err := s.One(ctx, id)
	if err != nil {
		return err
	}
	if h.State != held {
		return errDecided.New("the mail has been sent or given up already")
	}
	return s.giveUp(ctx, id)
}

const (
	looking = 10 * time.Minute
	// half is how long a mail may be half taken, heldFor how long one waits to be confirmed.
	half, heldFor = 15 * time.Minute, 14 * 24 * time.Hour
)

// Register registers who sends mails on, and what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, true, s.forward)
	r.Every("look after mails", looking, s.Look)
}

// Look gives up what was half taken when a process ended, and what nobody confirmed.
func (s *Service) Look(ctx context.Context) error {
	var failed []error
	for state, since := range map[string]time.Duration{taking: half, held: heldFor} {
		all, err := stale(ctx, s.Acts.DB, state, s.Acts.Now().Add(-since))
		failed = append(failed, err)
		for _, m := range all {
			as, err := s.as(ctx, m.PersonID)
			if err == nil {
				err = s.giveUp(as, m.ID)
			}
			if !fault.Is(err, fault.NotFound) {
				failed = append(failed, err)
			}
		}
	}
	return errors.Join(failed...)
}
