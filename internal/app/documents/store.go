package documents

import (
	"context"
	"fmt"
	"strings"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// FindDocuments finds documents by name among those that may be seen. Each word is a
// condition of its own, so that the index of words finds the names that have it.
func FindDocuments(ctx context.Context, q postgres.Q, r guard.Readable, words []string, limit int) (all []items.Item, err error) {
	args, named := append([]any{limit}, r.Args()...), ""
	for _, w := range words {
		args = append(args, "%"+strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(w)+"%")
		named += fmt.Sprintf(" AND i.name_key LIKE $%d", len(args))
	}
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM items i JOIN scopes s ON s.id = i.scope_id
		WHERE i.kind = 'document'`+named+` AND `+r.Current("s", 2)+` ORDER BY i.last_event_id DESC LIMIT $1`, args...)
}
