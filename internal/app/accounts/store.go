package accounts

import (
	"context"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

// Add adds an account.
func Add(ctx context.Context, q postgres.Q, p Person) error {
	return postgres.Exec(ctx, q, `INSERT INTO people (id, email, email_key, name, role, phone, organisation, standing, password_hash, created_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
		p.ID, p.Email, p.EmailKey, p.Name, p.Role, p.Phone, p.Organisation, p.Standing, p.PasswordHash, p.CreatedAt)
}

// PersonByEmail finds the active account with that address.
func PersonByEmail(ctx context.Context, q postgres.Q, key string) (p Person, err error) {
	return p, postgres.Found(q.GetContext(ctx, &p, `SELECT * FROM people WHERE email_key = $1 AND deactivated_at IS NULL`, key))
}

// PersonByID finds an account, deactivated ones included.
func PersonByID(ctx context.Context, q postgres.Q, id uuid.UUID) (p Person, err error) {
	return p, postgres.Found(q.GetContext(ctx, &p, `SELECT * FROM people WHERE id = $1`, id))
}

// PeopleByID returns accounts, in no order.
func PeopleByID(ctx context.Context, q postgres.Q, ids []uuid.UUID) (all []Person, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM people WHERE id = ANY($1::uuid[])`, postgres.IDs(ids))
}

// KnownInside lists the active accounts of the practice itself, those that a
// person of it invited, and the guests named; all accounts for somebody who
// administers. They come by name.
func KnownInside(ctx context.Context, q postgres.Q, person uuid.UUID, all bool, guests []uuid.UUID) (known []Person, err error) {
	return known, q.SelectContext(ctx, &known, `SELECT * FROM people p WHERE $2 OR p.deactivated_at IS NULL AND (p.standing <> 'guest'
		OR p.id = ANY($3::uuid[])
		OR EXISTS (SELECT 1 FROM entries e WHERE e.person_id = p.id AND e.kind = 'invitation' AND e.created_by = $1)) ORDER BY name`, person, all, postgres.IDs(guests))
}
