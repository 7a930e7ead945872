package dossiers

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/items"
	"tabularis/internal/app/act"
)

// Arrangement is how somebody reads a folder's register: the columns in their order, the
// documents' order and groups, and whether they are small pictures.
type Arrangement struct {
	Columns  []string
	Order    Order
	Group    Group
	Pictures bool
}

// columns are those of a register itself; others are particulars, by their ids.
var columns = []string{"state", "size", "kind", "person", "tags", "version", "event"}

const mostColumns = 12

func (a Arrangement) check() error {
	if err := (Reading{Order: a.Order, Group: a.Group}).check(); err != nil {
		return errArrangement.In("order", "there is no such order, or no such groups")
	}
	if len(a.Columns) > mostColumns {
		return errArrangement.In("columns", "there are at most %d columns", mostColumns)
	}
	for i, c := range a.Columns {
		id, err := uuid.Parse(c)
		if slices.Contains(a.Columns[:i], c) || !slices.Contains(columns, c) && (err != nil || id.String() != c) {
			return errArrangement.In("columns", "there is no column %.40q, or it stands there twice", c)
		}
	}
	return nil
}

// Arrange keeps how the acting person reads a folder's register. It is nobody else's, and no event.
func (s *Service) Arrange(ctx context.Context, folder uuid.UUID, a Arrangement) error {
	if err := a.check(); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		_, err := s.Access.Kind(ctx, tx, folder, items.Folder, access.See, tx.Now)
		if err != nil {
			return err
		}
		return keepArrangement(ctx, tx, act.Who(ctx).Person.ID, folder, a)
	})
}
