package visits

import (
	"context"
	"errors"
	"time"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"

	"tabularis/core/events"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
)

// tellSender tells the sender by mail and notice of one act, if they want to be
// told each time.
func (s *Service) tellSender(ctx context.Context, tx *act.Tx, l links.Link, what events.Said) error {
	kind, data := what.Kind(), what.Map()
	// A file that an intake takes is told of with the others when they are handed in.
	if !kind.Tidings || l.Tell != linkgate.TellEach || kind.Name == events.LinkReceived.Name && linkgate.TakesIn(l.Kind) {
		return nil
	}
	if l.Kind != linkgate.Address {
		if err := notices.Add(ctx, tx, l.CreatedBy, notices.Used, l.Name, "/outward?link="+l.ID.String()); err != nil {
			return err
		}
	} else if kind.Name != events.LinkHandedIn.Name {
		return nil // At an address it counts what is sent off; that has a notice of its own.
	}
	who := data["email"]
	if who == "" {
		who = data["copy"]
	}
	return s.report(ctx, tx, l, []letters.Happening{{Kind: kind.Name, N: 1, Who: who, File: data["name"]}})
}

// report mails what happened through a link to its sender.
func (s *Service) report(ctx context.Context, tx *act.Tx, l links.Link, happened []letters.Happening) error {
	sender, err := accounts.PersonByID(ctx, tx, l.CreatedBy)
	if err != nil || sender.DeactivatedAt != nil {
		return err
	}
	practice, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	letter := letters.Tidings{Name: l.Name, Happens: happened, Address: s.BaseURL + "/outward?link=" + l.ID.String()}
	if l.Kind == linkgate.Address {
		letter.Address = s.BaseURL + "/desk/received"
	}
	return tx.Send(ctx, letters.Mail{To: sender.Email, ToName: sender.Name, Language: l.Language, Practice: practice.Name, Letter: letter})
}

// TellDays tells the senders who want so of the day that is over: once, in the
// morning of the next.
func (s *Service) TellDays(ctx context.Context) error {
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	y, m, d := s.Acts.Now().In(zone).Date()
	midnight := time.Date(y, m, d, 0, 0, 0, 0, zone)
	all, err := DailyLinks(ctx, s.Acts.DB, midnight)
	if err != nil {
		return err
	}
	var failed []error
	for _, l := range all {
		failed = append(failed, s.Acts.Do(ctx, func(tx *act.Tx) error { return s.tellDay(ctx, tx, l, midnight) }))
	}
	return errors.Join(failed...)
}

func (s *Service) tellDay(ctx context.Context, tx *act.Tx, l links.Link, midnight time.Time) error {
	l, err := links.LockLink(ctx, tx, l.ID)
	since := l.CreatedAt
	if l.ToldAt != nil {
		since = *l.ToldAt
	}
	if err != nil || !since.Before(midnight) {
		return err
	}
	happened, err := HappenedSince(ctx, tx, l.ID, since)
	if err != nil {
		return err
	}
	var lines []letters.Happening
	for _, h := range happened {
		if kind, known := events.KindNamed(h.Kind); known && kind.TellsSender {
			lines = append(lines, letters.Happening{Kind: h.Kind, N: h.N})
		}
	}
	if err := NoteTold(ctx, tx, l.ID, tx.Now); err != nil || len(lines) == 0 {
		return err
	}
	return s.report(ctx, tx, l, lines)
}
