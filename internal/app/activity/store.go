package activity

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/events"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

const namedEvent = `SELECT e.*, CASE WHEN e.actor_kind = 'route' THEN e.agent ELSE coalesce(p.name, '') END AS actor, coalesce(d.code, '') AS dossier_code, coalesce(d.name, '') AS dossier_name,
	i.name AS item_name, i.kind AS item_kind, i.number AS item_number, CASE WHEN i.deleted_at IS NULL THEN i.parent_id END AS folder_id, l.name AS link_name, s.root_id, s.zone_id
	FROM events e LEFT JOIN all_items i ON i.id = e.item_id LEFT JOIN all_dossiers d ON d.id = coalesce(i.dossier_id, e.dossier_id)
	LEFT JOIN people p ON p.id = e.person_id LEFT JOIN links l ON l.id = e.link_id LEFT JOIN event_scopes w ON w.event_id = e.id LEFT JOIN scopes s ON s.id = w.scope_id `

// Events returns events newest first, without asking what may be seen.
func Events(ctx context.Context, q postgres.Q, f EventFilter) (all []events.Named, err error) {
	c := conditions{}
	f.narrow(&c)
	limit := c.arg(f.Limit)
	return all, q.SelectContext(ctx, &all, namedEvent+"WHERE "+c.and()+" ORDER BY e.id DESC LIMIT "+limit, c.args...)
}

// EventsByID returns the events with these ids.
func EventsByID(ctx context.Context, q postgres.Q, ids []int64) (map[int64]events.Named, error) {
	slices.Sort(ids)
	var all []events.Named
	err := q.SelectContext(ctx, &all, namedEvent+`WHERE e.id = ANY($1)`, slices.Compact(ids))
	byID := make(map[int64]events.Named, len(all))
	for _, e := range all {
		byID[e.ID] = e
	}
	return byID, err
}

// CountEvents counts the events of an item, without those of links that may not be
// seen, nor, for guests, what is the practice's own.
func CountEvents(ctx context.Context, q postgres.Q, item uuid.UUID, r guard.Readable, guest bool) (n int, err error) {
	hidden := []string{}
	for _, k := range events.All() {
		if k.Inside && guest {
			hidden = append(hidden, k.Name)
		}
	}
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM events e LEFT JOIN links l ON l.id = e.link_id WHERE e.item_id = $1
		AND (l.id IS NULL OR `+r.LinkWithin("l", 2)+`) AND e.kind <> ALL($4::text[])`, item, r.Zones, r.Roots, hidden)
}

// LastActive returns when each of the people last did something in a dossier;
// those who never did are left out.
func LastActive(ctx context.Context, q postgres.Q, dossier uuid.UUID, people []uuid.UUID) (map[uuid.UUID]time.Time, error) {
	var rows []struct {
		Person uuid.UUID `db:"id"`
		At     time.Time `db:"at"`
	}
	err := q.SelectContext(ctx, &rows, `SELECT p.id, e.at FROM unnest($2::uuid[]) AS p(id) CROSS JOIN LATERAL (SELECT at FROM events
		WHERE dossier_id = $1 AND person_id = p.id ORDER BY at DESC LIMIT 1) e`, dossier, postgres.IDs(people))
	last := make(map[uuid.UUID]time.Time, len(rows))
	for _, r := range rows {
		last[r.Person] = r.At
	}
	return last, err
}
