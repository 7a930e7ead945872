package dossiers

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/find"
	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/particulars"
	"tabularis/internal/platform/postgres"
)

// orders are those in which a register can be read, each with its usual direction. By version
// and kind there is no index: whoever wants that waits for the folder to be put in order.
var orders = map[string]key{
	"event":   {"items.last_event_id", "bigint", true, func(i items.Item) string { return strconv.FormatInt(i.LastEventID, 10) }},
	"number":  {"items.number", "int", false, func(i items.Item) string { return strconv.Itoa(*i.Number) }},
	"name":    {"items.name_key", "text", false, func(i items.Item) string { return i.NameKey }},
	"size":    {"items.size", "bigint", true, func(i items.Item) string { return strconv.FormatInt(i.Size, 10) }},
	"version": {"items.version", "int", true, func(i items.Item) string { return strconv.Itoa(i.Version) }},
	ByKind:    {column: "kinds.at", cast: "int"},
}

var byNumber = []key{orders["number"]}

// valueKeys are those of a particular's values.
func valueKeys(table string, down bool) []key {
	return []key{{column: table + ".number", cast: "numeric", down: down}, {column: table + ".key", cast: "text", down: down}}
}

// perhaps are the keys of values that not every document has: what has none comes last.
func perhaps(table string, down bool) []key {
	return []key{
		{column: "(" + table + ".key IS NULL)::int", cast: "int"},
		{column: "coalesce(" + table + ".number, 0)", cast: "numeric", down: down},
		{column: "coalesce(" + table + ".key, '')", cast: "text", down: down},
	}
}

// keys are those by which the reading's documents are in order, without their ids.
func (r Reading) keys() (all []key) {
	switch r.Group.Name {
	case ByKind:
		all = append(all, orders[ByKind])
	case ByPerson:
		all = append(all, key{column: "coalesce(person.name, '')", cast: "text"}, key{column: "items.created_by", cast: "uuid"})
	case ByParticular:
		all = append(all, perhaps("grouped", false)...)
	}
	if r.Order.Name == ByParticular {
		return append(all, perhaps("ordered", r.Order.Down)...)
	}
	by := orders[r.Order.Name]
	by.down = by.down != r.Order.Down
	return append(all, by)
}

// group is what documents that stand together have in common; a value of a particular by its key.
func (g Group) column() string {
	switch g.Name {
	case ByKind:
		return "kinds.name"
	case ByPerson:
		return "items.created_by::text"
	case ByParticular:
		return "coalesce(grouped.number || ' ' || grouped.key, '')"
	}
	return "''"
}

// shown are the documents directly in a folder that may be seen: where they are looked for,
// under which conditions, with $1 the folder.
type shown struct {
	from, where string
	args        []any
}

// arg adds an argument and returns how it is written.
func (w *shown) arg(v any) string {
	w.args = append(w.args, v)
	return fmt.Sprintf("$%d", len(w.args))
}

func within(folder uuid.UUID, part guard.Part) shown {
	w := shown{from: "items", args: []any{folder, part.Dossier, part.Stamps.Dossier, part.People},
		where: `items.parent_id = $1 AND items.kind = 'document' AND EXISTS (SELECT 1 FROM access_stamps WHERE scope = $2 AND version = $3) AND EXISTS (SELECT 1 FROM access_stamps WHERE scope = '` + guard.PeopleStamp.String() + `' AND version = $4)`}
	if part.Only != nil {
		// Fenced: otherwise the whole folder is read in its order to find a few.
		w.from = "(SELECT * FROM items WHERE id = ANY(" + w.arg(postgres.IDs(part.Only)) + "::uuid[]) OFFSET 0) AS items"
	}
	if len(part.Except) > 0 {
		w.where += " AND items.id <> ALL(" + w.arg(postgres.IDs(part.Except)) + "::uuid[])"
	}
	if part.By != nil {
		w.where += " AND items.created_by = " + w.arg(*part.By)
	}
	return w
}

// narrow leaves out what is not meant. linked says what an open link reaches in the folder.
func (w *shown) narrow(o Only, types []string, linked reached) {
	if o.Kind != "" {
		of := slices.DeleteFunc(slices.Clone(types), func(t string) bool { return find.KindOf(t) != o.Kind })
		w.where += " AND items.media_type = ANY(" + w.arg(of) + "::text[])"
	}
	if o.Person != uuid.Nil {
		w.where += " AND items.created_by = " + w.arg(o.Person)
	}
	if o.Tag != uuid.Nil {
		w.where += " AND EXISTS (SELECT 1 FROM item_tags x WHERE x.item_id = items.id AND x.tag_id = " + w.arg(o.Tag) + ")"
	}
	if o.Linked {
		w.where += " AND (items.id = ANY(" + w.arg(postgres.IDs(linked.documents)) + "::uuid[])"
		if linked.folder {
			w.where += " OR EXISTS (SELECT 1 FROM scopes s WHERE s.id = items.scope_id AND s.zone_id = " + w.arg(linked.zone) + ")"
		}
		w.where += ")"
	}
	if o.Particular != uuid.Nil {
		if o.Value == "" {
			w.where += " AND NOT EXISTS (SELECT 1 FROM item_particulars x WHERE x.item_id = items.id AND x.particular_id = " + w.arg(o.Particular) + ")"
		} else {
			w.where += " AND EXISTS (SELECT 1 FROM item_particulars x WHERE x.item_id = items.id AND " + particulars.Stands("x", w.arg, o.Particular, o.Value) + ")"
		}
	}
}

// beside joins what the reading's order and groups are by.
func (w *shown) beside(r Reading, types []string) {
	if r.Group.Name == ByPerson {
		w.from += " JOIN people person ON person.id = items.created_by"
	}
	if r.Group.Name == ByParticular {
		w.from += " LEFT JOIN item_particulars grouped ON grouped.item_id = items.id AND grouped.particular_id = " + w.arg(r.Group.Particular)
	}
	if r.Order.Name == ByParticular {
		w.from += " LEFT JOIN item_particulars ordered ON ordered.item_id = items.id AND ordered.particular_id = " + w.arg(r.Order.Particular)
	}
	if r.Group.Name == ByKind || r.Order.Name == ByKind {
		called, at := make([]string, len(types)), make([]int, len(types))
		for i, t := range types {
			called[i] = find.KindOf(t)
			at[i] = slices.Index(find.Kinds, called[i])
		}
		w.from += " JOIN unnest(" + w.arg(types) + "::text[], " + w.arg(called) + "::text[], " + w.arg(at) + "::int[]) AS kinds(type, name, at) ON kinds.type = items.media_type"
	}
}

// after begins behind a document.
func (w *shown) after(by []key, from cursor) {
	if from.ID == uuid.Nil {
		return
	}
	columns, values := make([]string, len(by)+1), make([]string, len(by)+1)
	for i, k := range by {
		columns[i], values[i] = k.column, w.arg(from.Keys[i])+"::text::"+k.cast
	}
	columns[len(by)], values[len(by)] = "items.id", w.arg(from.ID)+"::uuid"
	down := by[len(by)-1].down
	compare := func(down bool) string {
		if down {
			return "<"
		}
		return ">"
	}
	if !slices.ContainsFunc(by, func(k key) bool { return k.down != down }) {
		// One comparison, for which an index serves.
		w.where += fmt.Sprintf(" AND (%s) %s (%s)", strings.Join(columns, ", "), compare(down), strings.Join(values, ", "))
		return
	}
	var any []string
	for i := range columns {
		all := make([]string, i+1)
		for j := range i {
			all[j] = columns[j] + " = " + values[j]
		}
		downward := down
		if i < len(by) {
			downward = by[i].down
		}
		all[i] = fmt.Sprintf("%s %s %s", columns[i], compare(downward), values[i])
		any = append(any, "("+strings.Join(all, " AND ")+")")
	}
	w.where += " AND (" + strings.Join(any, " OR ") + ")"
}

// placedItem is a document with the keys of its place in a reading, and what its group is.
type placedItem struct {
	items.Item
	InGroup string `db:"in_group"`
	Written string `db:"keys"`
	keys    []string
}

// page reads up to so many documents.
func (w *shown) page(ctx context.Context, q postgres.Q, by []key, g Group, from cursor, limit int) (all []placedItem, err error) {
	w.after(by, from)
	written, order := make([]string, len(by)), make([]string, len(by)+1)
	for i, k := range by {
		written[i], order[i] = "("+k.column+")::text", k.column+direction(k.down)
	}
	order[len(by)] = "items.id" + direction(by[len(by)-1].down)
	columns := "items.*"
	own := len(by) == 1 && by[0].of != nil
	if !own {
		columns += ", " + g.column() + " AS in_group, jsonb_build_array(" + strings.Join(written, ", ") + ")::text AS keys"
	}
	err = q.SelectContext(ctx, &all, `SELECT `+columns+` FROM `+w.from+` WHERE `+w.where+` ORDER BY `+strings.Join(order, ", ")+` LIMIT `+w.arg(limit), w.args...)
	for i := range all {
		switch {
		case err != nil:
		case own:
			all[i].keys = []string{by[0].of(all[i].Item)}
		default:
			err = json.Unmarshal([]byte(all[i].Written), &all[i].keys)
		}
	}
	return all, err
}

func direction(down bool) string {
	if down {
		return " DESC"
	}
	return ""
}

// Together is a group of a register, with how many documents it has and how large they are.
type Together struct {
	Key   string `db:"key"`
	N     int    `db:"n"`
	Bytes int64  `db:"bytes"`
}

// mostGroups is how many groups are counted; what follows has heads without a number.
const mostGroups = 500

// groups counts the groups of a reading, in their order.
func (w *shown) groups(ctx context.Context, q postgres.Q, g Group) (all []Together, err error) {
	by := "items.kind"
	switch g.Name {
	case ByKind:
		by = "kinds.at"
	case ByPerson:
		by = "person.name"
	case ByParticular:
		by = "grouped.number, grouped.key"
	}
	return all, q.SelectContext(ctx, &all, `SELECT `+g.column()+` AS key, count(*)::int AS n, coalesce(sum(items.size), 0)::bigint AS bytes FROM `+w.from+` WHERE `+w.where+`
		GROUP BY 1, `+by+` ORDER BY `+by+`, 1 LIMIT `+w.arg(mostGroups), w.args...)
}

// typesIn are the media types of a folder's documents.
func typesIn(ctx context.Context, q postgres.Q, folder uuid.UUID) (all []string, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT DISTINCT media_type FROM items WHERE parent_id = $1 AND kind = 'document'`, folder)
}
