package routes

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/route"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/particulars"
	"tabularis/internal/app/people"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/tags"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/postgres"
)

// problems are what of a definition does not hold.
func (s *Service) problems(ctx context.Context, q postgres.Q, r Route, d route.Definition) ([]route.Problem, error) {
	k, err := s.known(ctx, q, r)
	if err == nil {
		err = s.withFolders(ctx, q, &k, d.Folders())
	}
	if err != nil {
		return nil, err
	}
	return route.Check(d, k), nil
}

// known is against what a route is checked: what there is, as far as the acting person knows of it, and
// what they may do.
func (s *Service) known(ctx context.Context, q postgres.Q, r Route) (k route.Known, err error) {
	k = route.Known{Own: r.ID, Routes: map[uuid.UUID]route.Definition{}, People: map[uuid.UUID]bool{}, Groups: map[uuid.UUID]int{}, Folders: map[uuid.UUID]route.Folder{}}
	if k.Particulars, err = particulars.Definitions(ctx, q); err != nil {
		return k, err
	}
	if k.Tags, err = tags.Practices(ctx, q); err != nil {
		return k, err
	}
	known, err := s.Known(ctx)
	if err != nil {
		return k, err
	}
	for _, p := range known {
		k.People[p.ID] = p.DeactivatedAt == nil
	}
	if err := s.knownGroups(ctx, q, &k); err != nil {
		return k, err
	}
	if err := s.knownRoutes(ctx, q, &k); err != nil {
		return k, err
	}
	if k.Sees, err = s.sees(ctx, q, r); err != nil {
		return k, err
	}
	k.Address = func(email string) bool { _, err := mail.Address("to", email); return err == nil }
	k.Terms, err = s.termsKnown(ctx, q)
	return k, err
}

func (s *Service) knownGroups(ctx context.Context, q postgres.Q, k *route.Known) error {
	circles, err := s.Access.Circles(ctx, q)
	if err != nil {
		return err
	}
	groups, err := people.Groups(ctx, q)
	for _, g := range groups {
		k.Groups[g.ID] = len(circles.People(access.Subject{Kind: access.Group, ID: access.ID(g.ID)}))
	}
	return err
}

// knownRoutes are those of folders that the acting person sees, and that are on.
func (s *Service) knownRoutes(ctx context.Context, q postgres.Q, k *route.Known) error {
	list, err := all(ctx, q)
	if err != nil {
		return err
	}
	for _, other := range list {
		if !other.On || other.FolderID == nil {
			continue
		}
		if err := s.knownFolder(ctx, q, k, *other.FolderID); err != nil {
			return err
		}
		if _, seen := k.Folders[*other.FolderID]; !seen {
			continue
		}
		if k.Routes[other.ID], err = s.counting(ctx, q, other); err != nil {
			return err
		}
	}
	return nil
}

// withFolders adds the folders of which a definition speaks.
func (s *Service) withFolders(ctx context.Context, q postgres.Q, k *route.Known, ids []uuid.UUID) error {
	for _, id := range ids {
		if err := s.knownFolder(ctx, q, k, id); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) knownFolder(ctx context.Context, q postgres.Q, k *route.Known, id uuid.UUID) error {
	if _, known := k.Folders[id]; known {
		return nil
	}
	sight, err := s.Access.Kind(ctx, q, id, items.Folder, access.See, s.Acts.Now())
	if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
		return nil
	}
	if err != nil {
		return err
	}
	f := route.Folder{Manages: sight.Caps.Has(access.Manage), Adds: sight.Caps.Has(access.Add), Gives: sight.Caps.Has(access.Share)}
	f.Above, err = pathOf(ctx, q, id)
	k.Folders[id] = f
	return err
}

// pathOf are the folders around an item, and itself.
func pathOf(ctx context.Context, q postgres.Q, id uuid.UUID) ([]uuid.UUID, error) {
	return tree.PathOf(ctx, q, id)
}

// sees tells who can open what lies in the folder of a route; of a model everybody can.
func (s *Service) sees(ctx context.Context, q postgres.Q, r Route) (func(person uuid.UUID) bool, error) {
	if r.FolderID == nil {
		return func(uuid.UUID) bool { return true }, nil
	}
	at, err := guard.SightOf(ctx, q, *r.FolderID, s.Acts.Now())
	if err != nil {
		return nil, err
	}
	return s.seen(ctx, q, at, s.Acts.Now())
}

func (s *Service) seen(ctx context.Context, q postgres.Q, at guard.Located, now time.Time) (func(person uuid.UUID) bool, error) {
	forest, circles, err := s.Access.Dossier(ctx, q, at.DossierID)
	return func(person uuid.UUID) bool {
		return forest.Decide(access.ID(at.Root), circles.Subjects(access.ID(person)), now).Caps.Has(access.See)
	}, err
}

// termsKnown tells which words are terms of a link, whenever they are read: what is told by another way,
// like a password, is none for what acts by itself.
func (s *Service) termsKnown(ctx context.Context, q postgres.Q) (func(words string) bool, error) {
	p, zone, err := practice.PracticeZone(ctx, q)
	if err != nil {
		return nil, err
	}
	own, err := p.OwnTerms()
	return func(words string) bool {
		v := terms.Voice{Language: act.Who(ctx).Language, Zone: zone, Now: s.Acts.Now()}
		read := terms.ReadOwn(words, v, own)
		if !read.Understood() || read.Password {
			return false
		}
		// A day that is named would have gone by when the next document comes.
		v.Now = v.Now.AddDate(1, 0, 0)
		return terms.ReadOwn(words, v, own).Understood()
	}, err
}

// Gain is whom something a route does would let see more than see the folder of the route.
type Gain struct {
	// At is the stop, by its number.
	At int
	// Folder is where it is moved or copied to, To the address to which it is given out.
	Folder *guard.Sight
	To     []string
	// People newly see it there, Outside of them are guests.
	People  []string
	Outside int
}

// gains are whom a route would let in by what it does.
func (s *Service) gains(ctx context.Context, from uuid.UUID, d route.Definition) (out []Gain, err error) {
	here, err := guard.SightOf(ctx, s.Acts.DB, from, s.Acts.Now())
	if err != nil {
		return nil, err
	}
	for i, stop := range d.Stops {
		for _, c := range stop.Cases {
			g := Gain{At: i + 1, To: c.To}
			if (c.Do == route.Move || c.Do == route.Copy) && c.Folder != nil {
				if err := s.gain(ctx, here, *c.Folder, &g); err != nil {
					return nil, err
				}
			}
			if len(g.People) > 0 || c.Do == route.GiveOut && len(g.To) > 0 {
				out = append(out, g)
			}
		}
	}
	return out, nil
}

func (s *Service) gain(ctx context.Context, here guard.Located, to uuid.UUID, g *Gain) error {
	now := s.Acts.Now()
	there, err := s.Access.Kind(ctx, s.Acts.DB, to, items.Folder, access.See, now)
	if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
		return nil
	}
	if err != nil {
		return err
	}
	g.Folder = &there
	before, err := s.seen(ctx, s.Acts.DB, here, now)
	if err != nil {
		return err
	}
	after, err := s.Access.Seers(ctx, s.Acts.DB, there.Located, now)
	if err != nil {
		return err
	}
	var newly []uuid.UUID
	circles, err := s.Access.Circles(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	for _, person := range after {
		if !before(person) {
			newly = append(newly, person)
			if a, ok := circles.Account(access.ID(person)); ok && a.Outside {
				g.Outside++
			}
		}
	}
	names, err := s.Decisions.Names(ctx, s.Acts.DB, newly)
	for _, person := range newly {
		g.People = append(g.People, names[person])
	}
	return err
}
