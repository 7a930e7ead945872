package tags

import (
	"context"
	"time"

	"github.com/google/uuid"

	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// Tag is a word that documents bear.
type Tag struct {
	ID   uuid.UUID `db:"id"`
	Name string    `db:"name"`
	// Person is whose it is alone; nil is the practice's.
	Person *uuid.UUID `db:"person_id"`
}

// Own reports whether it is somebody's alone.
func (t Tag) Own() bool { return t.Person != nil }

// Counted is a tag with how many documents bear it that one may see.
type Counted struct {
	Tag
	N int `db:"n"`
}

const mine = `(t.person_id IS NULL OR t.person_id = $1)`

// list counts what bears each of the practice's tags, and of somebody's own. With used only
// those are listed that something bears.
func list(ctx context.Context, q postgres.Q, person uuid.UUID, r guard.Readable, used bool) (all []Counted, err error) {
	having := ""
	if used {
		having = ` AND c.n > 0`
	}
	return all, q.SelectContext(ctx, &all, `SELECT t.id, t.name, t.person_id, coalesce(c.n, 0)::int AS n FROM tags t
		LEFT JOIN LATERAL (SELECT count(*) AS n FROM item_tags x JOIN items i ON i.id = x.item_id JOIN scopes s ON s.id = i.scope_id WHERE x.tag_id = t.id AND `+r.Within("s", 3)+`) c ON true
		WHERE (`+guard.SumOfStamps+`) = $2 AND `+mine+having+` ORDER BY t.name_key, t.person_id NULLS FIRST`, append([]any{person}, r.Args()...)...)
}

func byID(ctx context.Context, q postgres.Q, person, id uuid.UUID) (t Tag, err error) {
	return t, postgres.Found(q.GetContext(ctx, &t, `SELECT t.id, t.name, t.person_id FROM tags t WHERE t.id = $2 AND `+mine, person, id))
}

// named finds or makes tags by their names: the practice's, or somebody's own.
func named(ctx context.Context, q postgres.Q, keys []string, owner *uuid.UUID) (all []Tag, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT id, name, person_id FROM tags WHERE name_key = ANY($1::text[]) AND person_id IS NOT DISTINCT FROM $2`, keys, owner)
}

// add makes a tag, unless somebody has made one of the name meanwhile.
func add(ctx context.Context, q postgres.Q, t Tag, key string, by uuid.UUID, at time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO tags (id, name, name_key, person_id, created_by, created_at) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT DO NOTHING`, t.ID, t.Name, key, t.Person, by, at)
}

func countOwn(ctx context.Context, q postgres.Q, person uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM tags WHERE person_id = $1`, person)
}

// on lists the tags of a document that somebody sees.
func on(ctx context.Context, q postgres.Q, person, document uuid.UUID) (all []Tag, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT t.id, t.name, t.person_id FROM item_tags x JOIN tags t ON t.id = x.tag_id WHERE x.item_id = $2 AND `+mine+` ORDER BY t.person_id NULLS FIRST, t.name_key`, person, document)
}

// OnEach lists the tags of documents that somebody sees, by document.
func OnEach(ctx context.Context, q postgres.Q, person uuid.UUID, documents []uuid.UUID) (map[uuid.UUID][]Tag, error) {
	var rows []struct {
		Tag
		Item uuid.UUID `db:"item_id"`
	}
	err := q.SelectContext(ctx, &rows, `SELECT x.item_id, t.id, t.name, t.person_id FROM item_tags x JOIN tags t ON t.id = x.tag_id WHERE x.item_id = ANY($2::uuid[]) AND `+mine+` ORDER BY t.person_id NULLS FIRST, t.name_key`, person, postgres.IDs(documents))
	all := map[uuid.UUID][]Tag{}
	for _, r := range rows {
		all[r.Item] = append(all[r.Item], r.Tag)
	}
	return all, err
}

// put puts tags on documents, and says on which they were not yet.
func put(ctx context.Context, q postgres.Q, tags, documents []uuid.UUID, by uuid.UUID, at time.Time) (rows []placed, err error) {
	return rows, q.SelectContext(ctx, &rows, `INSERT INTO item_tags (tag_id, item_id, put_by, put_at) SELECT t, i, $3, $4 FROM unnest($1::uuid[]) t, unnest($2::uuid[]) i ON CONFLICT DO NOTHING RETURNING tag_id, item_id`,
		postgres.IDs(tags), postgres.IDs(documents), by, at)
}

// take takes tags off documents, and says of which they were on.
func take(ctx context.Context, q postgres.Q, tags, documents []uuid.UUID) (rows []placed, err error) {
	return rows, q.SelectContext(ctx, &rows, `DELETE FROM item_tags WHERE tag_id = ANY($1::uuid[]) AND item_id = ANY($2::uuid[]) RETURNING tag_id, item_id`, postgres.IDs(tags), postgres.IDs(documents))
}

// placed is a tag on a document.
type placed struct {
	Tag  uuid.UUID `db:"tag_id"`
	Item uuid.UUID `db:"item_id"`
}

// mostOn is how many of the practice's tags, or of somebody's own, one of the documents bears at most.
func mostOn(ctx context.Context, q postgres.Q, documents []uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT coalesce(max(n), 0)::int FROM (SELECT count(*) AS n FROM item_tags x JOIN tags t ON t.id = x.tag_id WHERE x.item_id = ANY($1::uuid[]) GROUP BY x.item_id, t.person_id) c`, postgres.IDs(documents))
}

// bearing are the documents that bear a tag.
func bearing(ctx context.Context, q postgres.Q, tag uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT item_id FROM item_tags WHERE tag_id = $1`, tag)
}

// practiceIndex and ownIndex are violated by a second tag of a name.
const practiceIndex, ownIndex = "tags_practice", "tags_own"

func rename(ctx context.Context, q postgres.Q, tag uuid.UUID, name, key string) error {
	return postgres.ExecOne(ctx, q, `UPDATE tags SET name = $2, name_key = $3 WHERE id = $1`, tag, name, key)
}

// merge lets everything bear another tag that bore one, which is no more.
func merge(ctx context.Context, q postgres.Q, tag, into uuid.UUID) error {
	if err := postgres.Exec(ctx, q, `INSERT INTO item_tags (tag_id, item_id, put_by, put_at) SELECT $2, item_id, put_by, put_at FROM item_tags WHERE tag_id = $1 ON CONFLICT DO NOTHING`, tag, into); err != nil {
		return err
	}
	return remove(ctx, q, tag)
}

func remove(ctx context.Context, q postgres.Q, tag uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM tags WHERE id = $1`, tag)
}

// Words are the names of the practice's tags on a document, by which everybody finds it.
func Words(ctx context.Context, q postgres.Q, document uuid.UUID) (names []string, err error) {
	return names, q.SelectContext(ctx, &names, `SELECT t.name FROM item_tags x JOIN tags t ON t.id = x.tag_id WHERE x.item_id = $1 AND t.person_id IS NULL ORDER BY t.name_key`, document)
}

// PracticesOn are the practice's tags on a document.
func PracticesOn(ctx context.Context, q postgres.Q, document uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT t.id FROM item_tags x JOIN tags t ON t.id = x.tag_id WHERE x.item_id = $1 AND t.person_id IS NULL ORDER BY t.id`, document)
}

// Mine reports whether a tag is the practice's or somebody's own.
func Mine(ctx context.Context, q postgres.Q, person, tag uuid.UUID) error {
	_, err := byID(ctx, q, person, tag)
	return err
}

// NameOf is what a tag of the practice is called.
func NameOf(ctx context.Context, q postgres.Q, tag uuid.UUID) (name string, err error) {
	return name, postgres.Found(q.GetContext(ctx, &name, `SELECT name FROM tags WHERE id = $1 AND person_id IS NULL`, tag))
}

// Practices are the ids of the practice's tags.
func Practices(ctx context.Context, q postgres.Q) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM tags WHERE person_id IS NULL`)
}
