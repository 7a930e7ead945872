package find

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/platform/postgres"
)

type questionRow struct {
	ID       uuid.UUID `db:"id"`
	Person   uuid.UUID `db:"person_id"`
	Name     string    `db:"name"`
	Key      string    `db:"name_key"`
	Question []byte    `db:"question"`
	// Seen is up to which number of texts it was answered.
	Seen int64 `db:"seen_seq"`
}

func (r questionRow) kept() (Kept, error) {
	k := Kept{ID: r.ID, Name: r.Name}
	return k, json.Unmarshal(r.Question, &k.Question)
}

func questionsOf(ctx context.Context, q postgres.Q, person uuid.UUID) (all []questionRow, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM questions WHERE person_id = $1 ORDER BY name_key`, person)
}

// keepQuestion keeps a question, and says under which id and how many there are now.
func keepQuestion(ctx context.Context, q postgres.Q, r questionRow) (id uuid.UUID, n int, err error) {
	if err := postgres.Exec(ctx, q, `SELECT 1 FROM people WHERE id = $1 FOR UPDATE`, r.Person); err != nil {
		return id, 0, err
	}
	if err := q.GetContext(ctx, &id, `INSERT INTO questions (id, person_id, name, name_key, question, seen_seq) VALUES ($1, $2, $3, $4, $5, $6)
		ON CONFLICT (person_id, name_key) DO UPDATE SET name = $3, question = $5, seen_seq = $6 RETURNING id`, r.ID, r.Person, r.Name, r.Key, r.Question, r.Seen); err != nil {
		return id, 0, err
	}
	return id, n, q.GetContext(ctx, &n, `SELECT count(*) FROM questions WHERE person_id = $1`, r.Person)
}

func forgetQuestion(ctx context.Context, q postgres.Q, person, id uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM questions WHERE person_id = $1 AND id = $2`, person, id)
}

// waitingQuestions are those after which texts came.
func waitingQuestions(ctx context.Context, q postgres.Q) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM questions WHERE seen_seq < (SELECT last_value FROM text_numbers) ORDER BY id`)
}

// takeQuestion takes a question that nobody else looks at meanwhile.
func takeQuestion(ctx context.Context, q postgres.Q, id uuid.UUID) (r questionRow, ok bool, err error) {
	err = postgres.Found(q.GetContext(ctx, &r, `SELECT * FROM questions WHERE id = $1 FOR UPDATE SKIP LOCKED`, id))
	if fault.Is(err, fault.NotFound) {
		return r, false, nil
	}
	return r, err == nil, err
}

func setSeen(ctx context.Context, q postgres.Q, id uuid.UUID, seen int64) error {
	return postgres.ExecOne(ctx, q, `UPDATE questions SET seen_seq = $2 WHERE id = $1`, id, seen)
}

// textsLock is held, shared, by whoever adds words, from taking their number on.
const textsLock = `hashtext('texts added')`

// settled is up to which number all texts are there: nobody is about to add an earlier one.
func settled(ctx context.Context, q postgres.Q) (seq int64, err error) {
	if err := postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock(`+textsLock+`)`); err != nil {
		return 0, err
	}
	return seq, q.GetContext(ctx, &seq, `SELECT last_value FROM text_numbers`)
}
