// Package people looks after accounts, groups and invitations.
package people

import (
	"context"
	"slices"
	"strings"

	"tabularis/internal/app/accounts"

	"github.com/google/uuid"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/secret"
)

// Service looks after accounts, groups and invitations.
type Service struct {
	// Left is told, within its act, that somebody is no longer there; it is set when the server is put
	// together.
	Left   func(ctx context.Context, tx *act.Tx, person uuid.UUID) error
	Acts   *act.Runner
	Access *guard.Guard
	Keys   *secret.Keys
	// BaseURL is the address under which the practice is reached.
	BaseURL string
}

// Known lists, by name, the people of whom the acting person knows: everybody
// knows those with whom they share a dossier, colleagues know one another and
// whom they invited, and administrators know everybody.
func (s *Service) Known(ctx context.Context) ([]accounts.Person, error) {
	now := s.Acts.Now()
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return nil, err
	}
	if me := act.Who(ctx).Person; me.Inside() {
		var guests []uuid.UUID
		if !me.Administers() {
			guests = v.Company(true, now)
		}
		return accounts.KnownInside(ctx, s.Acts.DB, me.ID, me.Administers(), guests)
	}
	all, err := accounts.PeopleByID(ctx, s.Acts.DB, append(v.Company(false, now), v.Person))
	if err != nil {
		return nil, err
	}
	slices.SortFunc(all, func(a, b accounts.Person) int { return strings.Compare(a.Name, b.Name) })
	return all, nil
}
