package mailing

import (
	"bytes"
	"context"
	"fmt"

	"github.com/google/uuid"

	rules "tabularis/core/mailing"
	"tabularis/core/terms"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/letters"
)

// as acts on behalf of whoever sent a mail.
func (s *Service) as(ctx context.Context, person uuid.UUID) (context.Context, error) {
	p, err := accounts.PersonByID(ctx, s.Acts.DB, person)
	return act.As(ctx, act.Actor{Person: &p, Language: p.Language}), err
}

// forward hands a mail over to the mail server for one recipient. Where that is refused for good its
// sender is told; else it is tried again.
func (s *Service) forward(ctx context.Context, f jobs.Forward) error {
	m, err := mailingByID(ctx, s.Acts.DB, f.Mailing)
	if err != nil || m.State != going {
		return err
	}
	to, err := recipientsOf(ctx, s.Acts.DB, m.ID)
	if err != nil {
		return err
	}
	for _, r := range to {
		if r.Address == f.To && (r.SentAt != nil || r.Failed != nil) {
			return nil // It went, and that was noted before the job was.
		}
	}
	ctx, err = s.as(ctx, m.PersonID)
	if err != nil {
		return err
	}
	raw, err := s.compose(ctx, m, f.To)
	if err != nil {
		return err
	}
	refused, err := s.Mail.Forward(ctx, m.Sender, f.To, bytes.NewReader(raw))
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if refused == "" {
			return delivered(ctx, tx, m.ID, f.To, &tx.Now, nil)
		}
		if err := delivered(ctx, tx, m.ID, f.To, nil, &refused); err != nil {
			return err
		}
		return s.sayFailed(ctx, tx, m, f.To, refused)
	})
}

// compose writes a mail with the note for one recipient.
func (s *Service) compose(ctx context.Context, m Mailing, to string) ([]byte, error) {
	plain, err := s.Keys.Open(m.Template, templatePurpose)
	if err != nil {
		return nil, fmt.Errorf("opening a mail that waits: %w", err)
	}
	pieces, err := unpack(plain)
	if err != nil {
		return nil, fmt.Errorf("reading a mail that waits: %w", err)
	}
	var n rules.Note
	if m.TransferID != nil {
		if n, err = s.noteFor(ctx, *m.TransferID, to); err != nil {
			return nil, err
		}
	}
	return rules.Write(pieces, n, m.Mark, m.Lines), nil
}

// noteFor says what a transfer gives, under a recipient's own copy of its link.
func (s *Service) noteFor(ctx context.Context, transfer uuid.UUID, to string) (n rules.Note, err error) {
	t, err := s.Transfers.One(ctx, transfer)
	if err != nil {
		return n, err
	}
	p, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return n, err
	}
	n = rules.Note{Language: t.Link.Language, Practice: p.Name, Password: t.Link.PasswordHash != ""}
	n.Until = terms.Voice{Language: n.Language, Zone: zone, Now: s.Acts.Now()}.Moment(*t.Link.Until)
	for _, f := range t.Files {
		n.Files = append(n.Files, rules.NotedFile{Name: f.Name, Size: terms.Size(n.Language, f.Size)})
	}
	n.Address, err = s.Transfers.AddressFor(ctx, transfer, to)
	return n, err
}

// sayFailed tells the sender that a mail cannot be delivered to somebody.
func (s *Service) sayFailed(ctx context.Context, tx *act.Tx, m Mailing, to, why string) error {
	if err := notices.Add(ctx, tx, m.PersonID, notices.MailFailed, m.Subject+" · "+to, "/outward/transfers"); err != nil {
		return err
	}
	p, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	me := tx.Actor.Person
	return tx.Send(ctx, letters.Mail{To: me.Email, ToName: me.Name, Language: me.Language, Practice: p.Name, Letter: letters.MailFailed{Subject: m.Subject, To: to, Why: why}})
}
