package access

import (
	"context"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

// ScopeNumbers reads the scopes of dossiers.
func ScopeNumbers(ctx context.Context, q postgres.Q, dossiers []uuid.UUID) (all []ScopeNumber, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT id, parent_id, no, dossier_id, root_id, zone_id, n_documents FROM scopes WHERE dossier_id = ANY($1::uuid[])`, postgres.IDs(dossiers))
}
