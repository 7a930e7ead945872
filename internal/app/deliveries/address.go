// Package deliveries lets colleagues publish an address at which anybody outside may send them files,
// and accept what came. Until then it lies where nobody has access.
package deliveries

import (
	"context"
	"regexp"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/dossiers"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
)

// Service publishes addresses, and accepts what is sent to them.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Items    *tree.Service
	Contents *tree.Contents
	Dossiers *dossiers.Service
	Links    *links.Service
	BaseURL  string
}

// Address is where somebody is sent files.
type Address struct {
	Row
	URL string
}

func (s *Service) at(r Row) Address { return Address{r, s.BaseURL + "/to/" + r.Slug} }

// Mine is the acting person's address; errors.Is fault.NotFound where none is published.
func (s *Service) Mine(ctx context.Context) (Address, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return Address{}, fault.SignedOut()
	}
	r, err := living(ctx, s.Acts.DB, me.ID)
	return s.at(r), err
}

// Possible reports whether the acting person may publish an address.
func (s *Service) Possible(ctx context.Context) (bool, error) {
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	return publishing(p) && act.Who(ctx).Person.Inside(), err
}

// Publish publishes an address of the acting person's, in place of the one before. A name that was
// theirs before is theirs again; it never becomes somebody else's.
func (s *Service) Publish(ctx context.Context, name, language string) (Address, error) {
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return Address{}, err
	}
	if !publishing(p) {
		return Address{}, errForbidden.New("the practice lets nobody publish an address")
	}
	if err := linkgate.Slug("name", name); err != nil {
		return Address{}, err
	}
	into, err := s.Dossiers.Incoming(ctx)
	if err != nil {
		return Address{}, err
	}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error { return s.publish(ctx, tx, name, language, into) })
	if err != nil {
		return Address{}, err
	}
	return s.Mine(ctx)
}

func (s *Service) publish(ctx context.Context, tx *act.Tx, name, language string, into uuid.UUID) error {
	all, err := addressesOf(ctx, tx, tx.Actor.Person.ID)
	if err != nil {
		return err
	}
	var was, known *Row
	for _, r := range all {
		l, err := links.LinkByID(ctx, tx, r.LinkID)
		if err != nil {
			return err
		}
		switch {
		case r.Slug == name:
			known = &r
			err = s.Links.ReopenAddress(ctx, tx, l)
		case l.EndedAt == nil:
			was = &r
			err = s.Links.EndAddress(ctx, tx, l)
		}
		if err != nil {
			return err
		}
	}
	if known == nil {
		l, err := s.Links.MakeAddress(ctx, tx, name, language, into)
		if err != nil {
			return err
		}
		known = &Row{LinkID: l.ID, PersonID: l.CreatedBy}
		if err := addAddress(ctx, tx, *known); err != nil {
			return err
		}
	}
	if was == nil {
		return nil
	}
	// What is sealed goes on being sealed for the same key.
	return setRecipient(ctx, tx, known.LinkID, was.Recipient)
}

// End takes the acting person's address back. What was sent stays.
func (s *Service) End(ctx context.Context) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, err := living(ctx, tx, tx.Actor.Person.ID)
		if fault.Is(err, fault.NotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		l, err := links.LockLink(ctx, tx, r.LinkID)
		if err != nil {
			return err
		}
		return s.Links.EndAddress(ctx, tx, l)
	})
}

// publicKey is an X25519 recipient of age, in Bech32 (C2SP age).
var publicKey = regexp.MustCompile(`^age1[02-9ac-hj-np-z]{58}$`)

// SetKey publishes the public key for which senders seal what they send, or, if it is empty, takes it
// back: then what is sent is open to the practice.
func (s *Service) SetKey(ctx context.Context, recipient string) error {
	if recipient != "" && !publicKey.MatchString(recipient) {
		return errKeyForm.In("recipient", "this is no public key of age")
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		p, err := practice.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		if recipient != "" {
			if err := p.Outward().RefuseSealedIn(); err != nil {
				return err
			}
		}
		r, err := living(ctx, tx, tx.Actor.Person.ID)
		if fault.Is(err, fault.NotFound) {
			return errNoAddress.New("no address is published")
		}
		if err != nil {
			return err
		}
		return setRecipient(ctx, tx, r.LinkID, recipient)
	})
}
