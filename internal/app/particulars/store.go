package particulars

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/names"
	"tabularis/core/particulars"
	"tabularis/internal/platform/postgres"
)

// row is a definition as it is kept.
type row struct {
	ID       uuid.UUID  `db:"id"`
	Name     string     `db:"name"`
	Kind     string     `db:"kind"`
	Unit     string     `db:"unit"`
	Choices  names.List `db:"choices"`
	Required bool       `db:"required"`
	Dossiers names.List `db:"dossier_kinds"`
	Position int        `db:"position"`
}

func (r row) definition() particulars.Definition {
	return particulars.Definition{ID: r.ID, Name: r.Name, Kind: particulars.Kind(r.Kind), Unit: r.Unit, Choices: r.Choices, Required: r.Required, DossierKinds: r.Dossiers}
}

const columns = `p.id, p.name, p.kind, p.unit, p.choices, p.required, p.dossier_kinds, p.position`

// Definitions lists what is defined, in order.
func Definitions(ctx context.Context, q postgres.Q) ([]particulars.Definition, error) {
	return defined(ctx, q, "")
}

// held is definitions which nobody changes meanwhile.
func held(ctx context.Context, q postgres.Q) ([]particulars.Definition, error) {
	return defined(ctx, q, " FOR KEY SHARE")
}

func defined(ctx context.Context, q postgres.Q, lock string) (all []particulars.Definition, err error) {
	var rows []row
	err = q.SelectContext(ctx, &rows, `SELECT `+columns+` FROM particulars p ORDER BY p.position, p.name_key`+lock)
	for _, r := range rows {
		all = append(all, r.definition())
	}
	return all, err
}

// locked finds a definition that nobody else changes meanwhile.
func locked(ctx context.Context, q postgres.Q, id uuid.UUID) (r row, err error) {
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT `+columns+` FROM particulars p WHERE p.id = $1 FOR UPDATE`, id))
}

// used reports whether a value stands in a particular; asked when its definition is locked.
func used(ctx context.Context, q postgres.Q, id uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM item_particulars WHERE particular_id = $1)`, id)
}

const nameIndex = "particulars_name"

// add defines a particular after all others, and says how many there are then.
func add(ctx context.Context, q postgres.Q, d particulars.Definition, by uuid.UUID, at time.Time) (n int, err error) {
	if err := postgres.Exec(ctx, q, `INSERT INTO particulars (id, name, name_key, kind, unit, choices, required, dossier_kinds, position, created_by, created_at)
		SELECT $1, $2, $3, $4, $5, $6, $7, $8, coalesce(max(position), 0) + 1, $9, $10 FROM particulars`,
		d.ID, d.Name, names.Key(d.Name), d.Kind, d.Unit, names.List(d.Choices).Kept(), d.Required, names.List(d.DossierKinds).Kept(), by, at); err != nil {
		return 0, err
	}
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM particulars`)
}

func change(ctx context.Context, q postgres.Q, d particulars.Definition) error {
	return postgres.ExecOne(ctx, q, `UPDATE particulars SET name = $2, name_key = $3, kind = $4, unit = $5, choices = $6, required = $7, dossier_kinds = $8 WHERE id = $1`,
		d.ID, d.Name, names.Key(d.Name), d.Kind, d.Unit, names.List(d.Choices).Kept(), d.Required, names.List(d.DossierKinds).Kept())
}

func remove(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM particulars WHERE id = $1`, id)
}

// kindOf is the kind of the dossier in which a document lies.
func kindOf(ctx context.Context, q postgres.Q, document uuid.UUID) (kind string, err error) {
	return kind, postgres.Found(q.GetContext(ctx, &kind, `SELECT d.kind FROM items i JOIN dossiers d ON d.id = i.dossier_id WHERE i.id = $1`, document))
}

// stands is a value in a document.
type stands struct {
	Item       uuid.UUID `db:"item_id"`
	Particular uuid.UUID `db:"particular_id"`
	Value      string    `db:"value"`
	// Person is the name of whoever is named.
	Person string `db:"person"`
}

// valuesOf finds what stands in documents.
func valuesOf(ctx context.Context, q postgres.Q, documents []uuid.UUID) (all []stands, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT v.item_id, v.particular_id, v.value, coalesce(p.name, '') AS person FROM item_particulars v LEFT JOIN people p ON p.id = v.person_id
		WHERE v.item_id = ANY($1::uuid[])`, postgres.IDs(documents))
}

// put writes a value into documents. Those in which it stood already are not told of.
func put(ctx context.Context, q postgres.Q, particular uuid.UUID, documents []uuid.UUID, v particulars.Value, person *uuid.UUID, by uuid.UUID, at time.Time) (changed []uuid.UUID, err error) {
	number := v.Number
	if number == "" {
		number = "0"
	}
	return changed, q.SelectContext(ctx, &changed, `INSERT INTO item_particulars AS v (particular_id, item_id, folder_id, value, number, key, person_id, set_by, set_at)
		SELECT $1, i.id, i.parent_id, $3, $4::numeric, $5, $6, $7, $8 FROM items i WHERE i.id = ANY($2::uuid[])
		ON CONFLICT (item_id, particular_id) DO UPDATE SET value = excluded.value, number = excluded.number, key = excluded.key, person_id = excluded.person_id, set_by = excluded.set_by, set_at = excluded.set_at
		WHERE v.value <> excluded.value RETURNING item_id`, particular, postgres.IDs(documents), v.Text, number, v.Key, person, by, at)
}

// clear takes a value away, and says from which documents.
func clear(ctx context.Context, q postgres.Q, particular uuid.UUID, documents []uuid.UUID) (changed []uuid.UUID, err error) {
	return changed, q.SelectContext(ctx, &changed, `DELETE FROM item_particulars WHERE particular_id = $1 AND item_id = ANY($2::uuid[]) RETURNING item_id`, particular, postgres.IDs(documents))
}

// numbered finds documents of a dossier by their numbers.
func numbered(ctx context.Context, q postgres.Q, dossier uuid.UUID, numbers []int) (map[int]uuid.UUID, error) {
	var rows []struct {
		ID     uuid.UUID `db:"id"`
		Number int       `db:"number"`
	}
	err := q.SelectContext(ctx, &rows, `SELECT id, number FROM items WHERE dossier_id = $1 AND kind = 'document' AND number = ANY($2::int[])`, dossier, numbers)
	all := map[int]uuid.UUID{}
	for _, r := range rows {
		all[r.Number] = r.ID
	}
	return all, err
}

// Copy gives a copy what stands in its original.
func Copy(ctx context.Context, q postgres.Q, from, to uuid.UUID) error {
	return postgres.Exec(ctx, q, `INSERT INTO item_particulars (particular_id, item_id, folder_id, value, number, key, person_id, set_by, set_at)
		SELECT v.particular_id, i.id, i.parent_id, v.value, v.number, v.key, v.person_id, v.set_by, v.set_at FROM item_particulars v, items i WHERE v.item_id = $1 AND i.id = $2`, from, to)
}

// Stands is the condition that in a value x of a document what is asked for stands: in a
// particular, a text in any writing. arg adds an argument to the statement and returns how it is written.
func Stands(x string, arg func(any) string, particular uuid.UUID, value string) string {
	return x + ".particular_id = " + arg(particular) + " AND (" + x + ".value = " + arg(value) + " OR " + x + ".key = " + arg(names.Key(value)) +
		" AND EXISTS (SELECT 1 FROM particulars p WHERE p.id = " + x + ".particular_id AND p.kind = 'text'))"
}
