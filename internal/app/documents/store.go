package documents

import (
	"context"
	"fmt"
	"strings"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// FindNamed finds readable documents or folders by parts of the words of their names,
// those with the latest events first. Each word is a condition of its own, so that the
// index of words finds the names that have it. The top of a dossier is not among its folders.
func FindNamed(ctx context.Context, q postgres.Q, r guard.Readable, kind string, words []string, limit int) (all []items.Item, err error) {
	args, where := append([]any{limit}, r.Args()...), "i.kind = 'document'"
	if kind == items.Folder {
		// The condition of the index of folders' names.
		where = "i.kind = 'folder' AND i.parent_id IS NOT NULL"
	}
	for _, w := range words {
		args = append(args, "%"+strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(w)+"%")
		where += fmt.Sprintf(" AND i.name_key LIKE $%d", len(args))
	}
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM items i JOIN scopes s ON s.id = i.scope_id
		WHERE `+where+` AND `+r.Current("s", 2)+` ORDER BY i.last_event_id DESC LIMIT $1`, args...)
}

// FindNumbered finds readable documents by their number in any dossier, that of the
// open one first.
func FindNumbered(ctx context.Context, q postgres.Q, r guard.Readable, number int, open string, limit int) (all []items.Item, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM dossiers d JOIN items i ON i.dossier_id = d.id JOIN scopes s ON s.id = i.scope_id
		WHERE i.kind = 'document' AND i.number = $5 AND d.id = ANY($7::uuid[]) AND `+r.Current("s", 2)+`
		ORDER BY d.code = $6 DESC, i.last_event_id DESC LIMIT $1`, append(append([]any{limit}, r.Args()...), number, open, r.Dossiers)...)
}
