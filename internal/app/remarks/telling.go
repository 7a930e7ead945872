package remarks

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/letters"
)

const (
	// patience is how long somebody has to see on the page that they are named, before a
	// mail tells them.
	patience = 2 * time.Minute
	// mostMailed is how many mentions are mailed in one act, mostLines how many a mail
	// quotes.
	mostMailed = 500
	mostLines  = 20
	// quoted is how many characters of a remark a mail quotes.
	quoted = 280
)

// Register registers the work, and what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, func(ctx context.Context, job carryRemarks) error { return s.carry(ctx, job.Document) })
	r.Every("mail who was named in remarks", time.Minute, s.MailMentions)
}

// MailMentions tells by mail who was named and has not looked since: everything in one
// mail, once. Who sees the thing no more is not told.
func (s *Service) MailMentions(ctx context.Context) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		all, err := dueMentions(ctx, tx, tx.Now.Add(-patience), tx.Now, mostMailed)
		if err != nil {
			return err
		}
		p, err := practice.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		for len(all) > 0 {
			end := 1
			for end < len(all) && all[end].To == all[0].To {
				end++
			}
			if err := s.mail(ctx, tx, p.Name, all[0].To, all[:end]); err != nil {
				return err
			}
			all = all[end:]
		}
		return nil
	})
}

func (s *Service) mail(ctx context.Context, tx *act.Tx, practice string, to uuid.UUID, all []due) error {
	person, err := accounts.PersonByID(ctx, tx, to)
	if err != nil || person.DeactivatedAt != nil {
		return err
	}
	letter := letters.Mentions{}
	for _, m := range all {
		if m.Read || m.PersonID == to {
			continue
		}
		sight, err := s.seenBy(ctx, tx, m.ItemID, to)
		if fault.Is(err, fault.NotFound) {
			continue
		}
		if err != nil {
			return err
		}
		if letter.Number++; letter.Number <= mostLines {
			letter.Lines = append(letter.Lines, letters.Mention{By: m.By, What: sight.Name, Said: shorten(m.Said), Address: s.BaseURL + pathOf(sight, m.Remark)})
		}
	}
	if letter.Number == 0 {
		return nil
	}
	return tx.Send(ctx, letters.Mail{To: person.Email, ToName: person.Name, Language: person.Language, Practice: practice, Letter: letter})
}

// seenBy finds an item that somebody else sees.
func (s *Service) seenBy(ctx context.Context, tx *act.Tx, item, person uuid.UUID) (guard.Sight, error) {
	located, err := guard.SightOf(ctx, tx, item, tx.Now)
	if err != nil {
		return guard.Sight{}, err
	}
	see, err := s.Access.Seers(ctx, tx, located, tx.Now)
	if err == nil && !slices.Contains(see, person) {
		err = fault.Missing()
	}
	return guard.Sight{Located: located}, err
}

func shorten(text string) string {
	if runes := []rune(text); len(runes) > quoted {
		return string(runes[:quoted]) + " …"
	}
	return text
}
