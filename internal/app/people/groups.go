package people

import (
	"context"
	"slices"
	"strings"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
)

func (s *Service) groups(ctx context.Context) ([]GroupLine, error) {
	all, err := Groups(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	members, err := MembersOfGroups(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	c, err := s.Access.Circles(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	lines := make([]GroupLine, len(all))
	for i, g := range all {
		lines[i].Group = g
		for _, m := range members {
			if m.GroupID == g.ID {
				lines[i].Members = append(lines[i].Members, m)
			}
		}
		for _, p := range c.People(access.Subject{Kind: access.Group, ID: access.ID(g.ID)}) {
			lines[i].People = append(lines[i].People, uuid.UUID(p))
		}
	}
	return lines, nil
}

// group runs an act on groups, one at a time; administrators do.
func (s *Service) group(ctx context.Context, fn func(tx *act.Tx) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if !tx.Actor.Person.Administers() {
			return fault.Refused("change groups")
		}
		if err := LockGroups(ctx, tx); err != nil {
			return err
		}
		if err := fn(tx); err != nil {
			return err
		}
		return guard.Bump(ctx, tx, guard.PeopleStamp)
	})
}

// MakeGroup makes a group.
func (s *Service) MakeGroup(ctx context.Context, name string) (Group, error) {
	g := Group{ID: uuid.Must(uuid.NewV7())}
	return g, s.group(ctx, func(tx *act.Tx) error {
		if g.Name = strings.TrimSpace(name); g.Name == "" || len(g.Name) > 100 {
			return fault.NameLength.In("name", "a group's name has between 1 and 100 characters")
		}
		g.NameKey, g.CreatedBy, g.CreatedAt = names.Key(g.Name), &tx.Actor.Person.ID, tx.Now
		if err := AddGroup(ctx, tx, g); err != nil {
			if postgres.Collides(err, GroupNames) {
				err = fault.NameTaken.In("name", "there is a group of this name already")
			}
			return err
		}
		return tx.Record(ctx, act.Event{What: events.GroupMade.With(events.Name{Name: g.Name})})
	})
}

// RemoveGroup removes a group with all that was given to it.
func (s *Service) RemoveGroup(ctx context.Context, id uuid.UUID) error {
	return s.group(ctx, func(tx *act.Tx) error {
		g, err := GroupByID(ctx, tx, id)
		if err != nil {
			return err
		}
		if err := s.staysManaged(ctx, tx, func(m access.Membership) bool { return m.Touches(access.ID(id)) }); err != nil {
			return err
		}
		dossiers, err := RemoveGroup(ctx, tx, id)
		if err != nil {
			return err
		}
		if err := tx.Record(ctx, act.Event{What: events.GroupRemoved.With(events.Name{Name: g.Name})}); err != nil {
			return err
		}
		for _, d := range dossiers {
			if err := guard.Bump(ctx, tx, d); err != nil {
				return err
			}
		}
		return nil
	})
}

// staysManaged refuses to end memberships through which alone a dossier is
// managed.
func (s *Service) staysManaged(ctx context.Context, tx *act.Tx, ends func(m access.Membership) bool) error {
	accounts, members, err := guard.Circle(ctx, tx)
	if err != nil {
		return err
	}
	left, err := s.unmanaged(ctx, tx, access.NewCircles(accounts, slices.DeleteFunc(members, ends)))
	if err == nil && len(left) > 0 {
		err = fault.LastManager.New("nobody else manages %s; name another manager first", strings.Join(codes(left), ", "))
	}
	return err
}

// Member is a person or a group that is put into a group.
type Member struct{ Person, Group *uuid.UUID }

// AddMember puts a person or a group into a group. A group that contained itself
// is refused.
func (s *Service) AddMember(ctx context.Context, group uuid.UUID, m Member) error {
	return s.group(ctx, func(tx *act.Tx) error {
		g, err := GroupByID(ctx, tx, group)
		if err != nil {
			return err
		}
		was, err := s.Access.Circles(ctx, tx)
		if err != nil {
			return err
		}
		row := guard.GroupMember{GroupID: group, PersonID: m.Person, SubgroupID: m.Group, CreatedBy: &tx.Actor.Person.ID, CreatedAt: tx.Now}
		var name string
		switch {
		case m.Person != nil && m.Group == nil:
			p, err := accounts.PersonByID(ctx, tx, *m.Person)
			if err != nil {
				return err
			}
			if p.DeactivatedAt != nil {
				return fault.Deactivated.In("person", "%s has no account any more", p.Name)
			}
			name = p.Name
		case m.Group != nil && m.Person == nil:
			sub, err := GroupByID(ctx, tx, *m.Group)
			if err != nil {
				return err
			}
			if was.WouldLoop(access.ID(group), access.ID(*m.Group)) {
				return fault.GroupLoop.In("group", "%s contains %s already", sub.Name, g.Name)
			}
			name = sub.Name
		default:
			return errMemberUnknown.In("person", "name a person or a group")
		}
		if err := AddToGroup(ctx, tx, row); err != nil {
			return err
		}
		if err := tx.Record(ctx, act.Event{What: events.GroupJoined.With(events.Membership{Name: g.Name, Member: name})}); err != nil {
			return err
		}
		return s.tellOfOwnGain(ctx, tx, was, g)
	})
}

// tellOfOwnGain tells those who manage a dossier when whoever changed a group has
// come in by it themselves; the dossier's events say so as well.
func (s *Service) tellOfOwnGain(ctx context.Context, tx *act.Tx, was *access.Circles, g Group) error {
	accounts, members, err := guard.Circle(ctx, tx)
	if err != nil {
		return err
	}
	me := tx.Actor.Person
	will := access.NewCircles(accounts, members)
	before, after := was.Subjects(access.ID(me.ID)), will.Subjects(access.ID(me.ID))
	if len(before) == len(after) {
		return nil
	}
	forests, _, err := s.Access.Everything(ctx)
	if err != nil {
		return err
	}
	for id, f := range forests {
		if !f.Admits(before, after, tx.Now) {
			continue
		}
		d, err := tree.DossierByID(ctx, tx, id)
		if err != nil {
			return err
		}
		var managers []access.Subject
		for _, m := range f.Managers(tx.Now) {
			managers = append(managers, m.Subject)
		}
		for _, m := range was.Everybody(managers) {
			if uuid.UUID(m) == me.ID {
				continue
			}
			if err := notices.Add(ctx, tx, uuid.UUID(m), notices.Admitted, d.Code+" "+d.Name, "/dossiers/"+d.Code); err != nil {
				return err
			}
		}
		if err := tx.Record(ctx, act.Event{What: events.AccessByGroup.With(events.ByGroup{Name: g.Name, Person: me.Name}), Dossier: id}); err != nil {
			return err
		}
	}
	return nil
}

// TakeMember takes a person or a group out of a group.
func (s *Service) TakeMember(ctx context.Context, group, member uuid.UUID) error {
	return s.group(ctx, func(tx *act.Tx) error {
		g, err := GroupByID(ctx, tx, group)
		if err != nil {
			return err
		}
		if err := s.staysManaged(ctx, tx, func(m access.Membership) bool { return m.Group == access.ID(group) && m.Member.ID == access.ID(member) }); err != nil {
			return err
		}
		if err := TakeFromGroup(ctx, tx, group, member); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.GroupLeft.With(events.Membership{Name: g.Name})})
	})
}
