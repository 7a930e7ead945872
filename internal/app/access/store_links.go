package access

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/core/linkgate"
	"tabularis/internal/platform/postgres"
)

// Living is the condition under which somebody outside may be let in or still
// be in by a link: a used-up link lives on while a visit may be going on.
func Living(l, now string) string {
	return fmt.Sprintf("(%[1]s.ended_at IS NULL AND (%[1]s.until IS NULL OR %[1]s.until > %[2]s) AND (%[1]s.openings_limit IS NULL OR %[1]s.openings < %[1]s.openings_limit OR %[1]s.last_opened_at > %[2]s::timestamptz - interval '%[3]d seconds'))",
		l, now, int(linkgate.VisitLength/time.Second))
}

// Giving is living for links that give something out: what only takes papers in
// opens nothing.
func Giving(l, now string) string {
	return fmt.Sprintf("(%s AND %s.kind NOT IN ('intake', 'address'))", Living(l, now), l)
}

// LinkItem is an item that was chosen in a link.
type LinkItem struct {
	LinkID uuid.UUID `db:"link_id"`
	items.Item
	// Root is the root by which the item is decided.
	Root uuid.UUID `db:"root_id"`
	Zone uuid.UUID `db:"zone_id"`
}

// Leads is the condition under which a link l still leads to something. One whose
// items are all deleted lets nobody in.
func Leads(l string) string {
	return fmt.Sprintf("EXISTS (SELECT 1 FROM link_items c JOIN items i ON i.id = c.item_id WHERE c.link_id = %s.id)", l)
}

// ChosenRoot is a root by which something chosen in a link is decided.
type ChosenRoot struct {
	LinkID  uuid.UUID `db:"link_id"`
	Root    uuid.UUID `db:"root_id"`
	Dossier uuid.UUID `db:"dossier_id"`
}

// ChosenRoots returns by which roots it is decided who may know of the links. What is
// deleted counts like before, or else a link would be open to everybody once nothing
// of it is there.
func ChosenRoots(ctx context.Context, q postgres.Q, links []uuid.UUID) (all []ChosenRoot, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT DISTINCT c.link_id, s.root_id, i.dossier_id FROM link_items c JOIN all_items i ON i.id = c.item_id
		JOIN scopes s ON s.id = i.scope_id WHERE c.link_id = ANY($1::uuid[])`, postgres.IDs(links))
}

// LinkItems returns what was chosen in the links and is there, in order.
func LinkItems(ctx context.Context, q postgres.Q, links []uuid.UUID) (all []LinkItem, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT c.link_id, i.*, s.root_id, s.zone_id FROM link_items c JOIN items i ON i.id = c.item_id
		JOIN scopes s ON s.id = i.scope_id
		WHERE c.link_id = ANY($1::uuid[]) ORDER BY c.link_id, c.position`, postgres.IDs(links))
}
