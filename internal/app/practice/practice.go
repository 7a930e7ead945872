// Package practice changes what holds for the whole practice, and removes it.
package practice

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/postgres"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/keeping"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/core/scan"
	"tabularis/core/storage"
	"tabularis/core/terms"
	"tabularis/core/versions"
	"tabularis/internal/app/act"
)

// Service changes what holds for the whole practice.
type Service struct {
	Acts *act.Runner
	// Confirm refuses whoever does not know the person's password.
	Confirm func(ctx context.Context, person *accounts.Person, password string) error
	// HasFactor tells whether a person has a second factor.
	HasFactor func(ctx context.Context, q postgres.Q, person uuid.UUID) (bool, error)
}

// Show is what everybody may know of the practice.
func (s *Service) Show(ctx context.Context) (Practice, error) { return ThePractice(ctx, s.Acts.DB) }

// Reflection is how long a removal can be taken back before it happens.
const Reflection = 7 * 24 * time.Hour

// longestLink bounds what the practice may set as a link's longest duration, in
// days.
const longestLink = 3650

// longestConsent is how long the sentence may be to which signers agree, in bytes.
const longestConsent = 600

// SetRules changes the practice's rules; nothing else of p counts.
func (s *Service) SetRules(ctx context.Context, p Practice) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if !tx.Actor.Person.Administers() {
			return fault.Refused("change the practice's rules")
		}
		if err := s.ownFactorFirst(ctx, tx, p); err != nil {
			return err
		}
		for field, limit := range map[string]*int64{"storageBytes": p.StorageBytes, "dossierBytes": p.DossierBytes, "personBytes": p.PersonBytes, "transferBytes": p.TransferBytes, "deliveriesBytes": p.DeliveriesBytes} {
			if err := storage.Check(field, limit); err != nil {
				return err
			}
		}
		if err := keeping.Check("keepingDays", p.Keeping()); err != nil {
			return err
		}
		if err := versions.Sitting(p.SittingMinutes).Check("sittingMinutes"); err != nil {
			return err
		}
		patterns, err := scan.Patterns(p.Patterns)
		if err != nil {
			return err
		}
		if err := scan.CheckRules(p.Sensitive, patterns); err != nil {
			return err
		}
		if p.LongestLinkDays < 1 || p.LongestLinkDays > longestLink {
			return errDaysRange.In("longestLinkDays", "a link lasts between 1 and %d days", longestLink)
		}
		if days := p.TransferDays; days != nil && (*days < 1 || *days > longestLink) {
			return errDaysRange.In("transferDays", "a transfer lasts between 1 and %d days", longestLink)
		}
		if p.SigningConsent, err = names.Line("signingConsent", p.SigningConsent, longestConsent); err != nil {
			return err
		}
		if err := s.checkTerms(ctx, tx, &p); err != nil {
			return err
		}
		if err := checkCalendar(&p); err != nil {
			return err
		}
		outward, err := linkgate.CheckRules(p.Outward())
		if err != nil {
			return err
		}
		p.OutwardShut, p.OutwardOnly, p.OutwardSealedFor = outward.Shut, outward.Only, outward.SealedFor
		if err := SetRules(ctx, tx, p); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.PracticeRules.With(events.Nothing{})})
	})
}

// checkCalendar brings the calendar into normal form.
func checkCalendar(p *Practice) error {
	c, err := p.WorkingCalendar()
	if err != nil {
		return err
	}
	if c, err = c.Checked(); err != nil {
		return err
	}
	raw, err := json.Marshal(c)
	calendar := json.RawMessage(raw)
	p.Calendar = &calendar
	return err
}

// checkTerms brings the terms that have a name into normal form.
func (s *Service) checkTerms(ctx context.Context, tx *act.Tx, p *Practice) error {
	_, zone, err := PracticeZone(ctx, tx)
	if err != nil {
		return err
	}
	own, err := p.OwnTerms()
	if err != nil {
		return err
	}
	if own, err = terms.CheckOwn("named", own, terms.Voice{Language: "en", Zone: zone, Now: tx.Now}); err != nil {
		return err
	}
	p.NamedTerms, err = json.Marshal(own)
	return err
}

// ownFactorFirst lets only those ask for a second factor of everybody who have one.
func (s *Service) ownFactorFirst(ctx context.Context, tx *act.Tx, p Practice) error {
	if !p.SecondFactorRequired {
		return nil
	}
	has, err := s.HasFactor(ctx, tx, tx.Actor.Person.ID)
	if err == nil && !has {
		err = errOwnFactorFirst.New("set up a second factor of your own first")
	}
	return err
}

// Remove lets the practice be removed with all that is in it once the time for
// reflection is over. Only the proprietor may, who confirms it with its name
// and their password.
func (s *Service) Remove(ctx context.Context, name, password string) error {
	me := act.Who(ctx).Person
	if me.Standing != accounts.Proprietor {
		return fault.Refused("remove the practice")
	}
	p, err := ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	if names.Key(name) != names.Key(p.Name) {
		return errNameDiffers.In("name", "that is not the name of the practice")
	}
	if err := s.Confirm(ctx, me, password); err != nil {
		return err
	}
	at := s.Acts.Now().Add(Reflection)
	return s.set(ctx, &at, events.PracticeRemoval)
}

// Keep takes a removal back.
func (s *Service) Keep(ctx context.Context) error {
	if act.Who(ctx).Person.Standing != accounts.Proprietor {
		return fault.Refused("take the removal back")
	}
	return s.set(ctx, nil, events.PracticeKept)
}

func (s *Service) set(ctx context.Context, at *time.Time, what events.Of[events.Nothing]) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := SetRemoval(ctx, tx, at); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: what.With(events.Nothing{})})
	})
}

// RemoveWhenDue removes the practice if its moment has come: every account, dossier, link
// and event. Content is then cleaned away as nothing refers to it.
func (s *Service) RemoveWhenDue(ctx context.Context) error {
	p, err := ThePractice(ctx, s.Acts.DB)
	if err != nil || p.RemovalAt == nil || p.RemovalAt.After(s.Acts.Now()) {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return RemoveAll(ctx, tx) })
}
