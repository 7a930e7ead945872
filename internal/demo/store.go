package demo

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

// putSeen notes when a person of the scenario was here last, and last looked at what
// they were given.
func putSeen(ctx context.Context, q postgres.Q, person uuid.UUID, here, given time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE people SET seen_at = $2, given_seen_at = $3 WHERE id = $1`, person, here, given)
}

// putNamedTerms gives names to terms of links.
func putNamedTerms(ctx context.Context, q postgres.Q, named string) error {
	return postgres.ExecOne(ctx, q, `UPDATE practice SET named_terms = $1`, named)
}
