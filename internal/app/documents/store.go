package documents

import (
	"context"
	"strings"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// FindDocuments finds documents by name among those that may be seen.
func FindDocuments(ctx context.Context, q postgres.Q, r guard.Readable, words []string, limit int) (all []items.Item, err error) {
	patterns := make([]string, len(words))
	for i, w := range words {
		patterns[i] = "%" + strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(w) + "%"
	}
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM items i JOIN scopes s ON s.id = i.scope_id
		WHERE i.kind = 'document' AND i.deleted_at IS NULL AND i.name_key LIKE ALL($1) AND `+r.Current("s", 3)+` ORDER BY i.last_event_id DESC LIMIT $2`,
		append([]any{patterns, limit}, r.Args()...)...)
}
