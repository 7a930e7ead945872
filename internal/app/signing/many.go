package signing

import (
	"context"
	"encoding/json"
	"strconv"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/signing"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/jobs"
)

// linesPurpose is what lines of what is sent to many are sealed for.
const linesPurpose, termsPurpose = "signing lines", "signing terms"

func rowAt(row, person int) string { return strconv.Itoa(row) + "/people/" + strconv.Itoa(person) }

// addMany notes what is to be sent to many; it is sent one by one, and goes on by itself.
func (s *Service) addMany(ctx context.Context, u using, rows []signing.Row) (id uuid.UUID, err error) {
	terms, err := json.Marshal(u.terms)
	if err != nil {
		return id, err
	}
	bodies := make([][]byte, len(rows))
	for i, r := range rows {
		raw, err := json.Marshal(r)
		if err != nil {
			return id, err
		}
		bodies[i] = s.Keys.Seal(raw, linesPurpose)
	}
	return id, s.Acts.Do(ctx, func(tx *act.Tx) error {
		id = uuid.Must(uuid.NewV7())
		b := batchRow{ID: id, FormID: u.row.ID, Edition: u.edition.Number, FolderID: u.to.ID, SentBy: tx.Actor.Person.ID, Terms: s.Keys.Seal(terms, termsPurpose), SentAt: tx.Now}
		if err := addBatch(ctx, tx, b, bodies); err != nil {
			return err
		}
		return tx.Enqueue(ctx, jobs.SendForms{Batch: id})
	})
}

// SendForms sends what is left of what was sent to many, with the rights of whoever sent it.
func (s *Service) SendForms(ctx context.Context, job jobs.SendForms) error {
	b, err := batchByID(ctx, s.Acts.DB, job.Batch)
	if fault.Is(err, fault.NotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	sender, err := accounts.PersonByID(ctx, s.Acts.DB, b.SentBy)
	if err != nil {
		return err
	}
	ctx = act.As(ctx, act.Actor{Person: &sender, Language: sender.Language})
	lines, err := linesOf(ctx, s.Acts.DB, b.ID)
	if err != nil {
		return err
	}
	u, failed := s.useAgain(ctx, b, sender)
	if failed != nil && !refusedForGood(failed) {
		return failed
	}
	for _, l := range lines {
		if l.DoneAt != nil {
			continue
		}
		if err := s.sendLine(ctx, u, b, l, failed); err != nil {
			return err
		}
	}
	return nil
}

// useAgain is the form as it was sent.
func (s *Service) useAgain(ctx context.Context, b batchRow, sender accounts.Person) (u using, err error) {
	if sender.DeactivatedAt != nil {
		return u, fault.Missing()
	}
	raw, err := s.Keys.Open(b.Terms, termsPurpose)
	if err != nil {
		return u, err
	}
	var terms UseTerms
	if err := json.Unmarshal(raw, &terms); err != nil {
		return u, err
	}
	return s.use(ctx, b.FormID, b.FolderID, b.Edition, terms)
}

// sendLine sends one line, or notes why it cannot be sent.
func (s *Service) sendLine(ctx context.Context, u using, b batchRow, l lineRow, failed error) error {
	r, err := s.lineOf(l)
	if err != nil {
		return err
	}
	if failed == nil {
		_, failed = u.send(ctx, r, within{
			// Another process may be quicker.
			before: func(ctx context.Context, tx *act.Tx) (bool, error) { return holdLine(ctx, tx, b.ID, l.Row) },
			after: func(ctx context.Context, tx *act.Tx, id uuid.UUID) error {
				return endLine(ctx, tx, b.ID, l.Row, &id, "", tx.Now)
			},
		})
	}
	switch {
	case failed == nil:
		return nil
	case !refusedForGood(failed):
		return failed
	}
	return endLine(ctx, s.Acts.DB, b.ID, l.Row, nil, fault.Of(failed).Code, s.Acts.Now())
}

func (s *Service) lineOf(l lineRow) (r signing.Row, err error) {
	raw, err := s.Keys.Open(l.Body, linesPurpose)
	if err != nil {
		return r, err
	}
	return r, json.Unmarshal(raw, &r)
}

// Many is a form that was sent to many, as whoever sent it sees it.
type Many struct {
	batchRow
	lineCounts
	Form string
	// Lines are what came of each; lists do without.
	Lines []ManyLine
}

// ManyLine is one of them: to whom, and what came of it.
type ManyLine struct {
	Names   []string
	Signing *uuid.UUID
	Refused string
}

// OneMany shows what the acting person sent to many.
func (s *Service) OneMany(ctx context.Context, id uuid.UUID) (m Many, err error) {
	me := act.Who(ctx).Person
	if m.batchRow, err = batchByID(ctx, s.Acts.DB, id); err != nil {
		return m, err
	}
	if me == nil || m.SentBy != me.ID {
		return m, fault.Missing()
	}
	if err := s.count(ctx, &m); err != nil {
		return m, err
	}
	lines, err := linesOf(ctx, s.Acts.DB, id)
	for _, l := range lines {
		r, err := s.lineOf(l)
		if err != nil {
			return m, err
		}
		one := ManyLine{Signing: l.SigningID, Refused: l.Refused}
		for _, who := range r.People {
			one.Names = append(one.Names, who.Name)
		}
		m.Lines = append(m.Lines, one)
	}
	return m, err
}

// SentToMany is what the acting person sent to many, the latest first.
func (s *Service) SentToMany(ctx context.Context) (out []Many, err error) {
	const most = 20
	me := act.Who(ctx).Person
	if me == nil {
		return nil, fault.SignedOut()
	}
	rows, err := batchesOf(ctx, s.Acts.DB, me.ID, most)
	for _, b := range rows {
		m := Many{batchRow: b}
		if err := s.count(ctx, &m); err != nil {
			return nil, err
		}
		out = append(out, m)
	}
	return out, err
}

// count says what came of the lines, and of which form they are.
func (s *Service) count(ctx context.Context, m *Many) (err error) {
	if m.Form, err = formName(ctx, s.Acts.DB, m.FormID); err != nil {
		return err
	}
	m.lineCounts, err = countLines(ctx, s.Acts.DB, m.ID)
	return err
}

// AgainMany tries again what was refused.
func (s *Service) AgainMany(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		b, err := batchByID(ctx, tx, id)
		if err != nil {
			return err
		}
		if tx.Actor.Person == nil || b.SentBy != tx.Actor.Person.ID {
			return fault.Missing()
		}
		if err := reopenLines(ctx, tx, id); err != nil {
			return err
		}
		return tx.Enqueue(ctx, jobs.SendForms{Batch: id})
	})
}
