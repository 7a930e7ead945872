package transfers

import (
	"context"
	"errors"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/address"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	rules "tabularis/core/transfers"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
)

// Send sends the transfer to recipients, each their own copy of the link. To whom it went before it
// is sent again.
func (s *Service) Send(ctx context.Context, id uuid.UUID, to []string, message string) error {
	return s.change(ctx, id, func(tx *act.Tx, _ Row, l links.Link) error {
		if l.Sealed != linkgate.Unsealed {
			if err := rules.Seals("", message, 0); err != nil {
				return err
			}
		}
		return s.send(ctx, tx, id, to, message)
	})
}

func (s *Service) send(ctx context.Context, tx *act.Tx, id uuid.UUID, to []string, message string) error {
	files, err := filesIn(ctx, tx, []uuid.UUID{id})
	if err != nil {
		return err
	}
	to = once(to)
	if err := s.Links.SendTransfer(ctx, tx, id, to, message, len(files), false); err != nil {
		return err
	}
	mails, err := links.MailsOf(ctx, tx, id)
	if err != nil {
		return err
	}
	for _, m := range mails {
		// When they were told first, also where they are reminded later.
		if err := note(ctx, tx, id, m.Address, told, tx.Now); err != nil {
			return err
		}
	}
	return nil
}

// Tell gives recipients each a copy of the link of their own, within an act, that reaches them by a mail of
// the sender's.
func (s *Service) Tell(ctx context.Context, tx *act.Tx, id uuid.UUID, to []string) error {
	if err := s.Links.TellTransfer(ctx, tx, id, to); err != nil {
		return err
	}
	for _, one := range to {
		if err := note(ctx, tx, id, one, told, tx.Now); err != nil {
			return err
		}
	}
	return goesOut(ctx, tx, id)
}

// AddressFor is where somebody who was told reaches their copy of the link.
func (s *Service) AddressFor(ctx context.Context, id uuid.UUID, to string) (string, error) {
	mails, err := links.MailsOf(ctx, s.Acts.DB, id)
	if err != nil {
		return "", err
	}
	at := slices.IndexFunc(mails, func(m links.LinkMail) bool { return m.Address == to })
	if at < 0 {
		return "", fault.Missing()
	}
	return s.Links.CopyAddress(mails[at])
}

// once names each address one time.
func once(to []string) []string {
	seen := map[string]bool{}
	return slices.DeleteFunc(slices.Clone(to), func(a string) bool {
		key := address.Key(a)
		there := seen[key]
		seen[key] = true
		return there
	})
}

// Remind reminds a recipient who has not fetched everything.
func (s *Service) Remind(ctx context.Context, id uuid.UUID, to string) error {
	return s.change(ctx, id, func(tx *act.Tx, t Row, l links.Link) error {
		files, err := filesIn(ctx, tx, []uuid.UUID{id})
		if err != nil {
			return err
		}
		all, err := recipientsOf(ctx, tx, []uuid.UUID{id})
		if err != nil {
			return err
		}
		at := slices.IndexFunc(all, func(r Recipient) bool { return r.Told != nil && r.Address == to })
		switch {
		case at < 0:
			return errNotRecipient.In("to", "the transfer did not go to %s", to)
		case all[at].rule().Done(len(files)):
			return errFetchedAlready.In("to", "%s has fetched everything", to)
		}
		return s.remind(ctx, tx, t, l, all[at], len(files), reminded)
	})
}

// remind sends a recipient their copy of the link once more, with what was said.
func (s *Service) remind(ctx context.Context, tx *act.Tx, t Row, l links.Link, r Recipient, files int, why noted) error {
	if err := s.Links.SendTransfer(ctx, tx, t.LinkID, []string{r.Address}, l.Message, files, true); err != nil {
		return err
	}
	return note(ctx, tx, t.LinkID, r.Address, why, tx.Now)
}

func (r Recipient) rule() rules.Recipient {
	told := time.Time{}
	if r.Told != nil {
		told = *r.Told
	}
	return rules.Recipient{Told: told, Files: r.Files, Begun: r.Begun, Missed: r.Missed, Warned: r.Warned}
}

// Look tells senders of who has not fetched, and recipients of what ends; each once. What is over
// is destroyed.
func (s *Service) Look(ctx context.Context) error {
	all, err := kept(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	var failed []error
	for _, t := range all {
		failed = append(failed, s.lookAt(ctx, t))
	}
	return errors.Join(failed...)
}

func (s *Service) lookAt(ctx context.Context, t Row) error {
	sender, err := accounts.PersonByID(ctx, s.Acts.DB, t.SenderID)
	if err != nil {
		return err
	}
	as := act.As(ctx, act.Actor{Person: &sender, Language: sender.Language})
	l, err := links.LinkByID(ctx, s.Acts.DB, t.LinkID)
	if err != nil {
		return err
	}
	if now := s.Acts.Now(); l.EndedAt != nil && now.Sub(*l.EndedAt) > links.TakenBack || l.EndedAt == nil && !now.Before(*l.Until) {
		return s.destroy(as, t.LinkID)
	}
	if l.EndedAt != nil || sender.DeactivatedAt != nil {
		return nil
	}
	err = s.change(as, t.LinkID, func(tx *act.Tx, t Row, l links.Link) error { return s.tell(as, tx, t, l) })
	if fault.Is(err, fault.Conflict) || fault.Is(err, fault.Gone) {
		return nil // It ended meanwhile.
	}
	return err
}

// tell tells the sender and the recipients what they are to be told now.
func (s *Service) tell(ctx context.Context, tx *act.Tx, t Row, l links.Link) error {
	files, err := filesIn(ctx, tx, []uuid.UUID{t.LinkID})
	if err != nil {
		return err
	}
	all, err := recipientsOf(ctx, tx, []uuid.UUID{t.LinkID})
	if err != nil {
		return err
	}
	for _, r := range all {
		if r.Told == nil {
			continue
		}
		if r.rule().Misses(t.TellDays, tx.Now) {
			if err := s.miss(ctx, tx, t, l, r); err != nil {
				return err
			}
		}
		if r.rule().Warns(len(files), *l.Until, tx.Now) {
			if err := s.remind(ctx, tx, t, l, r, len(files), warned); err != nil {
				return err
			}
		}
	}
	return nil
}

// miss tells the sender, by notice and mail, that somebody has not fetched.
func (s *Service) miss(ctx context.Context, tx *act.Tx, t Row, l links.Link, r Recipient) error {
	if err := note(ctx, tx, t.LinkID, r.Address, missed, tx.Now); err != nil {
		return err
	}
	if err := notices.Add(ctx, tx, t.SenderID, notices.Missed, l.Name+" · "+r.Address, path(t.LinkID)); err != nil {
		return err
	}
	p, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	me := tx.Actor.Person
	letter := letters.Missed{Name: l.Name, To: r.Address, Days: t.TellDays, Address: s.BaseURL + path(t.LinkID)}
	return tx.Send(ctx, letters.Mail{To: me.Email, ToName: me.Name, Language: l.Language, Practice: p.Name, Letter: letter})
}

// path is where a transfer's sender finds it.
func path(id uuid.UUID) string { return "/outward/transfers/" + id.String() }
