package access

import (
	"context"
	"time"

	"tabularis/core/items"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/internal/app/act"
)

// Seer reports whether somebody sees an item. Everything says that they do.
type Seer func(ctx context.Context, q postgres.Q, i items.Item) (bool, error)

// Everything is the seer of whoever sees everything.
func Everything(context.Context, postgres.Q, items.Item) (bool, error) { return true, nil }

// Sees is the seer of the acting person. Whoever may only add sees the folders they
// made themselves.
func (g *Guard) Sees(now time.Time) Seer {
	return func(ctx context.Context, q postgres.Q, i items.Item) (bool, error) {
		_, err := g.Item(ctx, q, i.ID, access.See, now)
		switch {
		case fault.Is(err, fault.NotFound):
			return false, nil
		case fault.Is(err, fault.Forbidden):
			return i.CreatedBy == act.Who(ctx).Person.ID, nil
		}
		return err == nil, err
	}
}

// Named finds what stands under a name in a folder and is seen. twin is the number
// under which a new thing of that name would be told apart from what is not seen:
// a hidden name is as good as a free one.
func (see Seer) Named(ctx context.Context, q postgres.Q, folder uuid.UUID, name string) (there *items.Item, twin int, err error) {
	all, err := ItemsByName(ctx, q, folder, names.Key(name))
	if err != nil {
		return nil, 0, err
	}
	for _, i := range all {
		seen, err := see(ctx, q, i)
		if err != nil {
			return nil, 0, err
		}
		if seen && there == nil {
			there = &i
		}
		twin = i.Twin + 1
	}
	return there, twin, nil
}

// Free is Named for something that is to get the name: refused where another
// thing that is seen has it.
func (see Seer) Free(ctx context.Context, q postgres.Q, folder, item uuid.UUID, name string) (twin int, err error) {
	there, twin, err := see.Named(ctx, q, folder, name)
	switch {
	case err != nil || there == nil:
		return twin, err
	case there.ID == item:
		return there.Twin, nil
	}
	return 0, fault.NameTaken.In("name", "%q is in this folder already", name)
}
