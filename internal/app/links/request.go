package links

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/intake"
	"tabularis/core/linkgate"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/jobs"
)

// request writes the letter that asks for papers, after its message.
func (l letter) request(begin string) (subject, text string) {
	var b strings.Builder
	b.WriteString(begin)
	de := l.language == "de"
	say := func(english, german string, args ...any) {
		if de {
			english = german
		}
		fmt.Fprintf(&b, english, args...)
	}
	subject = fmt.Sprintf("%s: papers for %s", l.name, l.practice)
	if de {
		subject = fmt.Sprintf("%s: Papiere für %s", l.name, l.practice)
	}
	if l.reminds {
		say("%s of %s is still waiting for papers from you:\n\n", "%s, %s, wartet noch auf Papiere von Ihnen:\n\n", l.sender.Name, l.practice)
	} else {
		say("%s of %s asks you for papers:\n\n", "%s, %s, bittet Sie um Papiere:\n\n", l.sender.Name, l.practice)
	}
	b.WriteString(l.address + "\n\n")
	for _, m := range l.missing {
		b.WriteString("  - " + m + "\n")
	}
	if len(l.missing) > 0 {
		b.WriteString("\n")
	}
	b.WriteString(l.terms + "\n")
	if l.password {
		say("You need a password for it. It comes to you by another way.\n", "Sie brauchen dazu ein Passwort. Es kommt auf einem anderen Weg.\n")
	}
	say("\nYou need no account. Only %s sees what you hand in; you get a receipt.\n", "\nSie brauchen kein Konto. Nur %s sieht, was Sie abgeben; Sie bekommen eine Quittung.\n", l.practice)
	fmt.Fprintf(&b, "\n-- \n%s\n%s, %s\n%s\n", l.sender.Name, l.sender.Role, l.practice, l.sender.Email)
	return subject, b.String()
}

// Remind reminds everybody to whom a link was sent of the papers that are
// missing.
func (s *Service) Remind(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l Link, _ []items.Item) error {
		if state(l, tx.Now) != "open" {
			return fault.New(fault.Conflict, "link-over", "the link is no longer open")
		}
		n, err := s.remind(ctx, tx, l, *tx.Actor.Person)
		if err == nil && n == 0 {
			err = fault.New(fault.Conflict, "nobody-to-remind", "nothing is missing, or the link was sent to nobody")
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
	letter := letter{language: l.Language, practice: practice.Name, sender: sender, password: l.PasswordHash != "", name: l.Name, intake: true, reminds: true, missing: missing(papers),
		terms: terms.Link{Intake: l.Kind == linkgate.Intake, Limits: l.Limits(), Until: l.Until}.ForVisitor(terms.Voice{Language: l.Language, Zone: zone, Now: tx.Now}, nil).String()}
	for _, m := range mails {
		if len(m.TokenSealed) == 0 {
			// It was sent before everybody had a copy of their own.
			m.TokenSealed = l.TokenSealed
		}
		token, err := s.Keys.Open(m.TokenSealed, tokenPurpose)
		if err != nil {
			return 0, err
		}
		letter.address = s.BaseURL + "/l/" + string(token)
		subject, text := letter.write()
		if err := tx.Enqueue(ctx, jobs.SendMail{To: m.Address, From: practice.Name, ReplyTo: sender.Email, Subject: subject, Text: text}); err != nil {
			return 0, err
		}
	}
	if err := Reminded(ctx, tx, l.ID, tx.Now); err != nil {
		return 0, err
	}
	return len(mails), s.tell(ctx, tx, l, nil, events.LinkReminded.With(events.LinkMissing{LinkNamed: named(l), Missing: strings.Join(missing(papers), ", ")}))
}
