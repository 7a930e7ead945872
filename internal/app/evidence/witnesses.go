package evidence

import (
	"context"
	"fmt"
	"slices"
	"time"

	"tabularis/core/address"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
)

const (
	// mostWitnesses is to how many addresses checkpoints are sent.
	mostWitnesses = 10
	// tellingHour is from when on the day's checkpoint is sent, in the practice's zone.
	tellingHour = 6
)

// SetWitnesses names whom the practice sends its newest checkpoint every day. Refused
// are what is no address, and more than ten.
func (s *Service) SetWitnesses(ctx context.Context, emails []string) error {
	if len(emails) > mostWitnesses {
		return errWitnesses.In("emails", "name at most %d", mostWitnesses)
	}
	var all []string
	for _, e := range emails {
		e, err := address.Check("emails", e)
		if err != nil {
			return err
		}
		all = append(all, e)
	}
	slices.Sort(all)
	all = slices.Compact(all)
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if !tx.Actor.Person.Administers() {
			return fault.Refused("name the log's witnesses")
		}
		if err := setWitnesses(ctx, tx, all, tx.Actor.Person.ID, tx.Now); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.PracticeWitnesses.With(events.Count{N: len(all)})})
	})
}

// TellWitnesses sends the newest checkpoint, once a day from six o'clock on.
func (s *Service) TellWitnesses(ctx context.Context) error {
	p, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	here := s.Acts.Now().In(zone)
	if here.Hour() < tellingHour {
		return nil
	}
	if err := s.SealAll(ctx); err != nil {
		return err
	}
	day := time.Date(here.Year(), here.Month(), here.Day(), 0, 0, 0, 0, time.UTC)
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, err := holdLog(ctx, tx)
		if err != nil || l.ToldOn != nil && !l.ToldOn.Before(day) {
			return err
		}
		to, err := witnesses(ctx, tx)
		if err != nil || len(to) == 0 {
			return err
		}
		c, err := newest(ctx, tx)
		if fault.Is(err, fault.NotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		for _, w := range to {
			letter := letters.Checkpoint{Events: fmt.Sprint(c.Size), Signed: c.Signed, Key: s.key(l.Origin, c.Generation).Verifier()}
			if err := tx.Send(ctx, letters.Mail{To: w.Email, Language: "en", Practice: p.Name, Letter: letter}); err != nil {
				return err
			}
		}
		return noteTold(ctx, tx, day)
	})
}
