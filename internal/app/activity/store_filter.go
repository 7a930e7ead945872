package activity

import (
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/following"
	"tabularis/internal/platform/postgres"
)

// EventFilter narrows the stream. Zero values do not.
type EventFilter struct {
	Dossier uuid.UUID
	// Folder is a folder with all that is in it now, Item a thing alone.
	Folder, Item uuid.UUID
	Link         uuid.UUID
	Person       uuid.UUID
	// But leaves out what this person did.
	But     uuid.UUID
	Outside bool
	// Group is what the kinds that are let through are about, such as link; Kinds are
	// several of them, and Kind is one.
	Group string
	Kinds []string
	Kind  string
	Since time.Time
	Until time.Time
	// Heeding says by what somebody follows or has muted which events are left out.
	Heeding following.Heeding
	Before  int64
	Limit   int
	// from is the first event there may be since Since.
	from int64
}

// conditions collects parts of a statement with their parameters.
type conditions struct {
	where []string
	args  []any
}

func (c *conditions) arg(v any) string {
	c.args = append(c.args, v)
	return fmt.Sprintf("$%d", len(c.args))
}

func (c *conditions) add(cond string, v any) {
	c.where = append(c.where, strings.ReplaceAll(cond, "?", c.arg(v)))
}

// and joins what was collected to one condition.
func (c *conditions) and() string {
	if len(c.where) == 0 {
		return "true"
	}
	return strings.Join(c.where, " AND ")
}

// narrow adds what the filter asks for of an event e, but not what may be seen.
func (f EventFilter) narrow(c *conditions) {
	f.narrowBeside(c, "e", "e.id")
	f.narrowAlone(c)
}

// narrowBeside adds what is asked for of what also stands beside an event's scope.
func (f EventFilter) narrowBeside(c *conditions, e, id string) {
	if f.Person != uuid.Nil {
		c.add(e+".person_id = ?", f.Person)
	}
	if f.But != uuid.Nil {
		c.add(e+".person_id IS DISTINCT FROM ?", f.But)
	}
	if f.Outside {
		c.where = append(c.where, e+".outside")
	}
	if f.Kind != "" {
		c.add(e+".kind = ?", f.Kind)
	}
	if f.Group != "" {
		c.add("split_part("+e+".kind, '.', 1) = ?", f.Group)
	}
	if len(f.Kinds) > 0 {
		c.add(e+".kind = ANY(?)", f.Kinds)
	}
	if f.Before > 0 {
		c.add(id+" < ?", f.Before)
	}
	if f.from > 0 {
		c.add(id+" >= ?", f.from)
	}
}

// narrowAlone adds what is asked for of what only the event itself says.
func (f EventFilter) narrowAlone(c *conditions) {
	if f.Dossier != uuid.Nil {
		c.add("e.dossier_id = ?", f.Dossier)
	}
	if f.Item != uuid.Nil {
		c.add("e.item_id = ?", f.Item)
	}
	if f.Link != uuid.Nil {
		c.add("e.link_id = ?", f.Link)
	}
	if !f.Since.IsZero() {
		c.add("e.at >= ?", f.Since)
	}
	if !f.Until.IsZero() {
		c.add("e.at < ?", f.Until)
	}
	if h := f.Heeding; h.Only {
		c.where = append(c.where, "(e.item_id = ANY("+c.arg(postgres.IDs(h.Followed.Documents))+") OR e.dossier_id = ANY("+c.arg(postgres.IDs(h.Followed.Dossiers))+"))")
	}
	if muted := f.Heeding.Muted; len(muted.Documents) > 0 {
		c.add("(e.item_id = ANY(?)) IS NOT TRUE", postgres.IDs(muted.Documents))
	}
	if h := f.Heeding; len(h.Muted.Dossiers) > 0 && !h.Only {
		c.where = append(c.where, "(e.dossier_id = ANY("+c.arg(postgres.IDs(h.Muted.Dossiers))+") AND (e.item_id = ANY("+c.arg(postgres.IDs(h.Followed.Documents))+")) IS NOT TRUE) IS NOT TRUE")
	}
}

// alone reports whether what is asked for stands only in the event itself.
func (f EventFilter) alone() bool {
	c := conditions{}
	f.narrowAlone(&c)
	return len(c.where) > 0
}

// anything reports whether the filter narrows nothing but where to go on.
func (f EventFilter) anything() bool {
	f.Before = 0
	c := conditions{}
	f.narrow(&c)
	return len(c.where) == 0 && f.Folder == uuid.Nil
}

// first is the condition on an event e by which an index leads to the newest events that
// the filter may want: to few, if it can. It returns what the filter wants besides.
func (f EventFilter) first(c *conditions) (rest EventFilter) {
	switch {
	case f.Item != uuid.Nil:
		c.add("e.item_id = ?", f.Item)
		f.Item = uuid.Nil
	case f.Link != uuid.Nil:
		c.add("e.link_id = ?", f.Link)
		f.Link = uuid.Nil
	case f.Kind != "":
		c.add("e.kind = ?", f.Kind)
		f.Kind = ""
	case f.Dossier != uuid.Nil:
		c.add("e.dossier_id = ?", f.Dossier)
		f.Dossier = uuid.Nil
	case f.Person != uuid.Nil:
		c.add("e.person_id = ?", f.Person)
		f.Person = uuid.Nil
	case f.Outside:
		c.where = append(c.where, "e.outside")
		f.Outside = false
	case f.Group != "":
		c.add("split_part(e.kind, '.', 1) = ?", f.Group)
		f.Group = ""
	}
	return f
}
