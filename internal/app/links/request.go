package links

import (
	"context"
	"errors"
	"strings"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/intake"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
)

// Remind reminds everybody to whom a link was sent of the papers that are
// missing.
func (s *Service) Remind(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l Link, _ []items.Item) error {
		if state(l, tx.Now) != "open" {
			return fault.LinkOver.New("the link is no longer open")
		}
		n, err := s.remind(ctx, tx, l, *tx.Actor.Person)
		if err == nil && n == 0 {
			err = errNobodyToRemind.New("nothing is missing, or the link was sent to nobody")
		}
		return err
	})
}

// RemindAll reminds outsiders of missing papers whose last reminder is a while
// ago.
func (s *Service) RemindAll(ctx context.Context) error {
	waiting, err := WaitingLinks(ctx, s.Acts.DB, s.Acts.Now())
	if err != nil {
		return err
	}
	var failed []error
	for _, l := range waiting {
		failed = append(failed, s.Acts.Do(ctx, func(tx *act.Tx) error {
			l, err := LockLink(ctx, tx, l.ID)
			if err != nil || !s.due(ctx, tx, l) {
				return err
			}
			sender, err := accounts.PersonByID(ctx, tx, l.CreatedBy)
			if err == nil {
				_, err = s.remind(ctx, tx, l, sender)
			}
			return err
		}))
	}
	return errors.Join(failed...)
}

// due reports whether a link's outsiders are to be reminded now.
func (s *Service) due(ctx context.Context, tx *act.Tx, l Link) bool {
	mails, err := MailsOf(ctx, tx, l.ID)
	if err != nil || len(mails) == 0 || l.Until == nil || state(l, tx.Now) != "open" {
		return false
	}
	papers, err := ExpectedPapers(ctx, tx, []uuid.UUID{l.ID})
	last := mails[len(mails)-1].At
	if l.RemindedAt != nil && l.RemindedAt.After(last) {
		last = *l.RemindedAt
	}
	return err == nil && intake.Remind(len(missing(papers)), last, *l.Until, tx.Now)
}

// remind sends the reminders, and returns how many.
func (s *Service) remind(ctx context.Context, tx *act.Tx, l Link, sender accounts.Person) (int, error) {
	mails, err := MailsOf(ctx, tx, l.ID)
	if err != nil {
		return 0, err
	}
	papers, err := ExpectedPapers(ctx, tx, []uuid.UUID{l.ID})
	if err != nil || len(missing(papers)) == 0 || len(mails) == 0 {
		return 0, err
	}
	practice, zone, err := practice.PracticeZone(ctx, tx)
	if err != nil {
		return 0, err
	}
	letter := letters.Request{Reminds: true, Missing: missing(papers), Link: letters.Link{Sender: signed(sender), Password: l.PasswordHash != "", Name: l.Name,
		Terms: terms.Link{Terms: l.Terms}.ForVisitor(terms.Voice{Language: l.Language, Zone: zone, Now: tx.Now}, nil).String()}}
	for _, m := range mails {
		if len(m.TokenSealed) == 0 {
			// It was sent before everybody had a copy of their own.
			m.TokenSealed = l.TokenSealed
		}
		token, err := s.Keys.Open(m.TokenSealed, tokenPurpose)
		if err != nil {
			return 0, err
		}
		letter.Address = s.BaseURL + "/l/" + string(token)
		if err := tx.Send(ctx, letters.Mail{To: m.Address, Language: l.Language, Practice: practice.Name, ReplyTo: sender.Email, Letter: letter}); err != nil {
			return 0, err
		}
	}
	if err := NoteReminder(ctx, tx, l.ID, tx.Now); err != nil {
		return 0, err
	}
	return len(mails), s.tell(ctx, tx, l, nil, events.LinkReminded.With(events.LinkMissing{LinkNamed: named(l), Missing: strings.Join(missing(papers), ", ")}))
}
