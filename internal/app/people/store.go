package people

import (
	"context"
	"time"

	"github.com/google/uuid"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/postgres"
)

// AddPerson adds an account.
func AddPerson(ctx context.Context, q postgres.Q, p accounts.Person) error {
	if err := accounts.Add(ctx, q, p); err != nil {
		return err
	}
	return guard.Bump(ctx, q, guard.PeopleStamp)
}

// SetStanding changes a person's standing.
func SetStanding(ctx context.Context, q postgres.Q, person uuid.UUID, standing string) error {
	return postgres.Exec(ctx, q, `UPDATE people SET standing = $2 WHERE id = $1`, person, standing)
}

// SetDeactivated ends an account, or with nil brings it back.
func SetDeactivated(ctx context.Context, q postgres.Q, person uuid.UUID, at *time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE people SET deactivated_at = $2 WHERE id = $1`, person, at)
}
