package sharing

import (
	"cmp"
	"context"
	"slices"
	"time"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/people"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
)

// Membership is somebody's, or a group's, being in a group.
type Membership struct {
	Group uuid.UUID
	// Member is a person or another group.
	Member uuid.UUID
}

// whatIfGrouped says what changing groups would mean in all dossiers. It names
// people and counts documents, and says nothing else about dossiers: whoever
// administers groups need not be let into them.
func (s *Service) whatIfGrouped(ctx context.Context, w What) (Consequence, error) {
	if !act.Who(ctx).Person.Administers() {
		return Consequence{}, fault.Refused("change groups")
	}
	q, now := s.Acts.DB, s.Acts.Now()
	forests, was, err := s.Access.Everything(ctx)
	if err != nil {
		return Consequence{}, err
	}
	will, moved, err := s.regroup(ctx, q, w, was)
	if err != nil {
		return Consequence{}, err
	}
	var out Consequence
	var totals tally
	people, around := was.People(moved.member), was.Around(moved.group)
	for _, f := range forests {
		n, err := compareGrouped(ctx, q, &totals, f, was, will, people, around, now)
		if err != nil {
			return out, err
		}
		out.Documents += n
	}
	out.Effects, err = totals.named(ctx, q)
	return out, err
}

// shift is who comes into a group or leaves it.
type shift struct {
	group  access.ID
	member access.Subject
}

// regroup returns who would belong to which groups after the change.
func (s *Service) regroup(ctx context.Context, q postgres.Q, w What, was *access.Circles) (*access.Circles, shift, error) {
	id := w.RemoveGroup
	if m := cmp.Or(w.Join, w.Leave); m != nil {
		id = &m.Group
	}
	group, err := people.GroupByID(ctx, q, *id)
	if err != nil {
		return nil, shift{}, err
	}
	accounts, members, err := guard.Circle(ctx, q)
	if err != nil {
		return nil, shift{}, err
	}
	at := shift{group: access.ID(group.ID)}
	switch {
	case w.Join != nil:
		if at.member, err = s.joining(ctx, q, w.Join.Member); err != nil {
			return nil, at, err
		}
		if at.member.Kind == access.Group && was.WouldLoop(at.group, at.member.ID) {
			return nil, at, fault.GroupLoop.In("member", "this group is in that one already")
		}
		members = append(members, access.Membership{Group: at.group, Member: at.member})
	case w.Leave != nil:
		gone := slices.IndexFunc(members, func(m access.Membership) bool {
			return m.Group == at.group && m.Member.ID == access.ID(w.Leave.Member)
		})
		if gone < 0 {
			return nil, at, fault.Missing()
		}
		at.member = members[gone].Member
		members = slices.Delete(members, gone, gone+1)
	default:
		at.member = access.Subject{Kind: access.Group, ID: at.group}
		members = slices.DeleteFunc(members, func(m access.Membership) bool { return m.Touches(at.group) })
	}
	return access.NewCircles(accounts, members), at, nil
}

// joining finds the person or the group that is to be put into a group.
func (s *Service) joining(ctx context.Context, q postgres.Q, id uuid.UUID) (access.Subject, error) {
	p, err := accounts.PersonByID(ctx, q, id)
	switch {
	case err == nil && p.DeactivatedAt != nil:
		return access.Subject{}, fault.Deactivated.In("member", "%s has no account any more", p.Name)
	case err == nil:
		return access.Subject{Kind: access.Person, ID: access.ID(id)}, nil
	case !fault.Is(err, fault.NotFound):
		return access.Subject{}, err
	}
	g, err := people.GroupByID(ctx, q, id)
	return access.Subject{Kind: access.Group, ID: access.ID(g.ID)}, err
}

// compareGrouped adds up what the change would mean in one dossier, and returns
// how many documents it is about there.
func compareGrouped(ctx context.Context, q postgres.Q, totals *tally, f *access.Forest, was, will *access.Circles, people []access.ID, around []access.Subject, now time.Time) (int, error) {
	roots := f.Given(around, now)
	if len(roots) == 0 {
		return 0, nil
	}
	weights := make(map[access.ID]int, len(roots))
	if err := addWeights(ctx, q, weights, roots, access.ID{}, true); err != nil {
		return 0, err
	}
	return totals.compare(f, f, was, will, people, weights, now), nil
}
