package find

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"tabularis/core/find"
	"tabularis/core/names"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
)

const (
	mostKept    = 50
	longestName = 60
)

// Kept is a question that somebody keeps under a name.
type Kept struct {
	ID       uuid.UUID
	Name     string
	Question Asked
}

// Questions lists those that the acting person keeps, by name.
func (s *Service) Questions(ctx context.Context) ([]Kept, error) {
	rows, err := questionsOf(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
	all := make([]Kept, len(rows))
	for i, r := range rows {
		if all[i], err = r.kept(); err != nil {
			return nil, err
		}
	}
	return all, err
}

// Keep keeps a question under a name, in place of one that had it. What answers it from now
// on, whoever keeps it is told of.
func (s *Service) Keep(ctx context.Context, name string, q Asked) (Kept, error) {
	k := Kept{Name: name, Question: q}
	if _, err := read(q); err != nil {
		return k, err
	}
	var err error
	if k.Name, err = names.Named("name", name, longestName); err != nil {
		return k, err
	}
	raw, err := json.Marshal(q)
	if err != nil {
		return k, err
	}
	return k, s.Acts.Do(ctx, func(tx *act.Tx) error {
		seen, err := settled(ctx, tx)
		if err != nil {
			return err
		}
		var n int
		k.ID, n, err = keepQuestion(ctx, tx, questionRow{ID: uuid.Must(uuid.NewV7()), Person: tx.Actor.Person.ID, Name: k.Name, Key: names.Key(k.Name), Question: raw, Seen: seen})
		if err == nil && n > mostKept {
			err = errQuestionsMany.New("keep at most %d questions", mostKept)
		}
		return err
	})
}

// Forget forgets one of the acting person's questions.
func (s *Service) Forget(ctx context.Context, id uuid.UUID) error {
	return forgetQuestion(ctx, s.Acts.DB, act.Who(ctx).Person.ID, id)
}

// TellOfAnswers tells by notice who keeps a question of what answers it since, as far as they
// may see it and did not bring it themselves.
func (s *Service) TellOfAnswers(ctx context.Context) error {
	waiting, err := waitingQuestions(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	for _, id := range waiting {
		if err := s.tellOf(ctx, id); err != nil {
			return fmt.Errorf("looking for answers to question %s: %w", id, err)
		}
	}
	return nil
}

func (s *Service) tellOf(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		row, ok, err := takeQuestion(ctx, tx, id)
		if err != nil || !ok {
			return err
		}
		now, err := settled(ctx, tx)
		if err != nil {
			return err
		}
		found, err := s.answersSince(ctx, row)
		if err != nil {
			return err
		}
		if found {
			if err := notices.Once(ctx, tx, row.Person, notices.Found, row.Name, "/find?question="+row.ID.String()); err != nil {
				return err
			}
		}
		return setSeen(ctx, tx, id, now)
	})
}

// answersSince reports whether there is something that answers a question since it was looked
// at, for whoever keeps it.
func (s *Service) answersSince(ctx context.Context, row questionRow) (bool, error) {
	person, err := accounts.PersonByID(ctx, s.Acts.DB, row.Person)
	if err != nil || person.DeactivatedAt != nil {
		return false, err
	}
	kept, err := row.kept()
	if err != nil {
		return false, err
	}
	question, err := find.Read(kept.Question.Text)
	if err != nil {
		return false, nil // It was kept by rules that have changed.
	}
	n := 0
	as := act.As(ctx, act.Actor{Person: &person})
	return n > 0, s.search(as, kept.Question, question, 0, func(one search) (int, error) {
		one.since, one.filter.NotBy, one.filter.Earlier = row.Seen, row.Person, false
		all, err := one.count(ctx, s.DB, 1)
		n = len(all)
		return n, err
	})
}
