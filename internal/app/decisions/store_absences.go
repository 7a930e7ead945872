package decisions

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

// Absence is when somebody is away, and who stands in for them.
type Absence struct {
	ID         uuid.UUID  `db:"id"`
	PersonID   uuid.UUID  `db:"person_id"`
	From       time.Time  `db:"from_day"`
	To         time.Time  `db:"to_day"`
	Substitute *uuid.UUID `db:"substitute_id"`
}

func addAbsence(ctx context.Context, q postgres.Q, a Absence) error {
	return postgres.Exec(ctx, q, `INSERT INTO absences (id, person_id, from_day, to_day, substitute_id) VALUES ($1, $2, $3::date, $4::date, $5)`,
		a.ID, a.PersonID, a.From.Format(time.DateOnly), a.To.Format(time.DateOnly), a.Substitute)
}

func dropAbsence(ctx context.Context, q postgres.Q, id, person uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM absences WHERE id = $1 AND person_id = $2`, id, person)
}

// absencesFrom are all absences that have not ended before a day, the first first.
func absencesFrom(ctx context.Context, q postgres.Q, day string) (all []Absence, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM absences WHERE to_day >= $1::date ORDER BY from_day, id`, day)
}
