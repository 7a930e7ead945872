package sharing

import (
	"context"
	"slices"
	"strings"
	"time"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/links"
	"tabularis/internal/app/people"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Entry is one grant of a reach list: what it gives to whom, and where it
// stands.
type Entry struct {
	ShownGrant
	// People are those who come in by it, by name.
	People []accounts.Person
	// Here says that it stands on the item itself.
	Here bool
	// AsManager says that it counts behind a closed door because it manages.
	AsManager bool
	MayChange bool
	// Active is when the person last did something in the dossier; only told of
	// the members of a whole dossier.
	Active *time.Time
}

// Reach is who can open an item, and by which way.
type Reach struct {
	Sight   guard.Sight
	Door    access.Door
	Entries []Entry
	Closed  bool
	// Links are those that give it, open ones first.
	Links []links.Shown
	// Path names the folders from the dossier's top, for closed parts of it.
	MayShare, MayManage bool
}

// Reach lists who can open an item: first the grants of those inside.
func (s *Service) Reach(ctx context.Context, id uuid.UUID) (Reach, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	sight, err := s.Access.Item(ctx, q, id, access.See, now)
	if err != nil {
		return Reach{}, err
	}
	f, c, err := s.Access.Dossier(ctx, q, sight.DossierID)
	if err != nil {
		return Reach{}, err
	}
	root := access.ID(sight.Root)
	r := Reach{Sight: sight, Door: f.Door(root, c, now), Closed: f.Zone(root) == access.ID(id) && sight.ParentID != nil, MayShare: sight.Caps.Has(access.Share), MayManage: sight.Caps.Has(access.Manage)}
	if r.Links, err = s.Links.Through(ctx, id); err != nil {
		return Reach{}, err
	}
	ways := f.Ways(root, now)
	grants := make([]uuid.UUID, len(ways))
	for i, w := range ways {
		grants[i] = uuid.UUID(w.Grant.ID)
	}
	me := act.Who(ctx).Person
	shown, err := ShownGrants(ctx, q, me.ID, grants)
	if err != nil {
		return r, err
	}
	subjects := make([]access.Subject, len(shown))
	for i, g := range shown {
		subjects[i] = g.Core().Subject
	}
	people, err := s.named(ctx, q, c, subjects)
	if err != nil {
		return r, err
	}
	for i, g := range shown {
		at := slices.IndexFunc(ways, func(w access.Way) bool { return uuid.UUID(w.Grant.ID) == g.ID })
		e := Entry{ShownGrant: g, People: people[i], Here: g.ItemID == id, AsManager: ways[at].AsManager, MayChange: MayChange(sight.Caps, g.Grant, me.ID) && (g.ItemID == id || sight.Caps.Has(access.Manage))}
		r.Entries = append(r.Entries, e)
	}
	slices.SortStableFunc(r.Entries, func(a, b Entry) int { return rank(a) - rank(b) })
	if sight.ParentID == nil {
		err = r.active(ctx, q)
	}
	return r, err
}

// active adds when members last did something.
func (r *Reach) active(ctx context.Context, q postgres.Q) error {
	var people []uuid.UUID
	for _, e := range r.Entries {
		if e.SubjectKind == access.Person {
			people = append(people, e.SubjectID)
		}
	}
	last, err := activity.LastActive(ctx, q, r.Sight.DossierID, people)
	for i, e := range r.Entries {
		if at, ok := last[e.SubjectID]; ok {
			r.Entries[i].Active = &at
		}
	}
	return err
}

// rank puts managers first, then the others inside, then people outside.
func rank(e Entry) int {
	switch {
	case e.Outside:
		return 2
	case e.Core().Caps().Has(access.Manage):
		return 0
	}
	return 1
}

// manyPeople is up to how many people an entry names.
const manyPeople = 200

// named returns for each of the subjects the people it stands for, by name.
func (s *Service) named(ctx context.Context, q postgres.Q, c *access.Circles, subjects []access.Subject) ([][]accounts.Person, error) {
	belong := make([][]access.ID, len(subjects))
	var all []uuid.UUID
	for i, subject := range subjects {
		people := c.People(subject)
		belong[i] = people[:min(len(people), manyPeople)]
		all = append(all, plain(belong[i])...)
	}
	found, err := accounts.PeopleByID(ctx, q, all)
	if err != nil {
		return nil, err
	}
	people := make(map[access.ID]accounts.Person, len(found))
	for _, p := range found {
		people[access.ID(p.ID)] = p
	}
	out := make([][]accounts.Person, len(subjects))
	for i, ids := range belong {
		for _, id := range ids {
			if p, ok := people[id]; ok {
				out[i] = append(out[i], p)
			}
		}
		slices.SortFunc(out[i], func(a, b accounts.Person) int { return strings.Compare(a.Name, b.Name) })
	}
	return out, nil
}

// plain are ids as the store knows them.
func plain(ids []access.ID) []uuid.UUID {
	out := make([]uuid.UUID, len(ids))
	for i, id := range ids {
		out[i] = uuid.UUID(id)
	}
	return out
}

// Answer says what a person may do with an item, and by which ways.
type Answer struct {
	Person accounts.Person
	Caps   access.Caps
	Ends   *time.Time
	Ways   []AnswerWay
}

// AnswerWay is one way to an item.
type AnswerWay struct {
	ShownGrant
	// Through names the groups from the person's to the grant's.
	Through   []string
	AsManager bool
}

// Why answers why somebody can open an item. Managers may ask about anybody,
// others about themselves.
func (s *Service) Why(ctx context.Context, id, person uuid.UUID) (Answer, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	me := act.Who(ctx).Person
	sight, err := s.Access.Item(ctx, q, id, access.See, now)
	if err != nil {
		return Answer{}, err
	}
	if person != me.ID && !sight.Caps.Has(access.Manage) {
		return Answer{}, fault.Refused("ask this")
	}
	a := Answer{}
	if a.Person, err = accounts.PersonByID(ctx, q, person); err != nil {
		return a, err
	}
	f, c, err := s.Access.Dossier(ctx, q, sight.DossierID)
	if err != nil {
		return a, err
	}
	d := f.Explain(access.ID(sight.Root), access.ID(person), c, now)
	a.Caps, a.Ends = d.Caps, d.Ends
	ids := make([]uuid.UUID, len(d.Ways))
	var through []uuid.UUID
	for i, w := range d.Ways {
		ids[i] = uuid.UUID(w.Grant.ID)
		through = append(through, plain(w.Through)...)
	}
	groups, err := people.GroupNamesOf(ctx, q, through)
	if err != nil {
		return a, err
	}
	shown, err := ShownGrants(ctx, q, me.ID, ids)
	if err != nil {
		return a, err
	}
	for _, w := range d.Ways {
		at := slices.IndexFunc(shown, func(g ShownGrant) bool { return access.ID(g.ID) == w.Grant.ID })
		if at < 0 {
			continue
		}
		way := AnswerWay{ShownGrant: shown[at], AsManager: w.AsManager}
		for _, id := range plain(w.Through) {
			way.Through = append(way.Through, groups[id])
		}
		a.Ways = append(a.Ways, way)
	}
	return a, nil
}
