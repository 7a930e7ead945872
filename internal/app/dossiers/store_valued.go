package dossiers

import (
	"context"
	"fmt"
	"regexp"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// valued is a document with the value by which it is in its place.
type valued struct {
	items.Item
	At  string `db:"value_number"`
	Key string `db:"value_key"`
}

// place is where a document stands in the order of a particular's values: behind a number and
// a key, or, where nothing stands in it, behind a register number.
type place struct {
	empty       bool
	number, key string
}

var placeForm = regexp.MustCompile(`^(?s:=(-?[0-9]{1,16}(?:\.[0-9]{1,6})?) (.{0,600})|([0-9]{1,9}))$`)

func (p place) String() string {
	if p.empty {
		return p.number
	}
	return "=" + p.number + " " + p.key
}

// placed reads what String wrote.
func placed(s string) (place, bool) {
	m := placeForm.FindStringSubmatch(s)
	if m == nil || strings.ContainsRune(s, 0) {
		return place{}, false
	}
	if m[3] != "" {
		return place{empty: true, number: m[3]}, true
	}
	return place{number: m[1], key: m[2]}, true
}

// valuesPage is RegisterPage by the values of a particular, of documents that have one.
func valuesPage(ctx context.Context, q postgres.Q, folder uuid.UUID, part guard.Part, o Order, after place, id uuid.UUID, limit int) (all []valued, err error) {
	w := within(folder, part, limit)
	w.add(` AND v.folder_id = $1 AND v.particular_id = $%d`, o.Particular)
	direction, compare := "ASC", ">"
	if o.Down {
		direction, compare = "DESC", "<"
	}
	if id != uuid.Nil {
		w.args = append(w.args, after.number, after.key, id)
		n := len(w.args)
		w.where += fmt.Sprintf(" AND (v.number, v.key, v.item_id) %s ($%d::numeric, $%d::text, $%d::uuid)", compare, n-2, n-1, n)
	}
	return all, q.SelectContext(ctx, &all, fmt.Sprintf(`SELECT items.*, v.number::text AS value_number, v.key AS value_key FROM item_particulars v JOIN %s ON items.id = v.item_id WHERE %s
		ORDER BY v.number %[3]s, v.key %[3]s, v.item_id %[3]s LIMIT $2`, w.from, w.where, direction), w.args...)
}
