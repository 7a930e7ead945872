// Package access is the one place where use cases ask whether somebody may. It
// keeps what core/access decides by, as long as the stamps in the database say
// that it is still true. What may not be seen answers like what does not exist.
package access

import (
	"context"
	"slices"
	"strings"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
)

// Guard decides for the acting person.
type Guard struct {
	db   *postgres.DB
	kept *keep
}

// New makes a guard for a database.
func New(db *postgres.DB) *Guard { return &Guard{db: db, kept: newKeep()} }

// Sight is an item as the acting person may deal with it.
type Sight struct {
	Located
	Caps access.Caps
	// Ends is when what the person may do next changes by itself.
	Ends *time.Time
}

// MayDelete reports whether the person for whom it was found may delete it: of
// documents also what they added themselves.
func (s Sight) MayDelete(person uuid.UUID) bool { return s.Caps.Deletes(s.Own(person)) }

// Own reports whether it is a document that somebody added themselves.
func (s Sight) Own(person uuid.UUID) bool {
	return s.CreatedBy == person && s.Item.Kind == items.Document
}

// Managers are the people who manage a dossier now.
func (g *Guard) Managers(ctx context.Context, q postgres.Q, dossier uuid.UUID, now time.Time) ([]uuid.UUID, error) {
	f, c, err := g.Dossier(ctx, q, dossier)
	if err != nil {
		return nil, err
	}
	var managers []access.Subject
	for _, grant := range f.Managers(now) {
		managers = append(managers, grant.Subject)
	}
	return uuids(c.Everybody(managers)), nil
}

// Seers are the people who can see an item now.
func (g *Guard) Seers(ctx context.Context, q postgres.Q, s Located, now time.Time) ([]uuid.UUID, error) {
	f, c, err := g.Dossier(ctx, q, s.DossierID)
	if err != nil {
		return nil, err
	}
	var see []uuid.UUID
	for _, person := range c.Everybody(f.Subjects()) {
		caps := f.Decide(access.ID(s.Root), c.Subjects(person), now).Caps
		if s.CreatedBy == uuid.UUID(person) && s.Item.Kind == items.Document {
			caps = Own(caps)
		}
		if caps.Has(access.See) {
			see = append(see, uuid.UUID(person))
		}
	}
	return see, nil
}

// Deleted finds an item that was deleted, like Item.
func (g *Guard) Deleted(ctx context.Context, q postgres.Q, id uuid.UUID, need access.Caps, now time.Time) (Sight, error) {
	person, err := signedIn(ctx)
	if err != nil {
		return Sight{}, err
	}
	s, err := DeletedSightOf(ctx, q, id, now)
	if err != nil {
		return Sight{}, err
	}
	return g.decide(ctx, q, s, person.ID, need, now)
}

// MayDeleteDossier refuses to delete a dossier as a whole to whoever does not manage it, and
// a desk to everybody. Of other things it says nothing.
func (g *Guard) MayDeleteDossier(ctx context.Context, q postgres.Q, s Sight) error {
	if s.ParentID != nil {
		return nil
	}
	if !s.Caps.Has(access.Manage | access.Delete) {
		return fault.Refused("delete this dossier")
	}
	d, err := DossierByCode(ctx, q, s.Code)
	if err == nil && d.Kind == items.Desk {
		err = errDeskStays.New("a desk stays with whose it is")
	}
	return err
}

// Throughout refuses when the acting person lacks a capability on an item or on
// something in it that is given or closed by itself. It does not say on which.
func (g *Guard) Throughout(ctx context.Context, q postgres.Q, s Sight, need access.Caps, now time.Time) error {
	person, err := signedIn(ctx)
	if err != nil {
		return err
	}
	f, c, err := g.at(ctx, q, s.DossierID, s.Stamps)
	if err != nil {
		return err
	}
	roots := f.Below(access.ID(s.ID))
	if s.Root != s.ID {
		next, err := RootsBelow(ctx, q, s.ID, s.Root)
		if err != nil {
			return err
		}
		roots = nil
		for _, id := range next {
			roots = append(roots, f.Below(access.ID(id))...)
		}
	}
	subjects := c.Subjects(access.ID(person.ID))
	for _, r := range roots {
		if !f.Decide(r, subjects, now).Caps.Has(need) {
			return fault.Refused("do this")
		}
	}
	return nil
}

// Item finds an item for the acting person, who needs the capabilities on it.
func (g *Guard) Item(ctx context.Context, q postgres.Q, id uuid.UUID, need access.Caps, now time.Time) (Sight, error) {
	person, err := signedIn(ctx)
	if err != nil {
		return Sight{}, err
	}
	s, err := SightOf(ctx, q, id, now)
	if err != nil {
		return Sight{}, err
	}
	return g.decide(ctx, q, s, person.ID, need, now)
}

// ByCode finds a dossier in which the acting person may see or add something.
func (g *Guard) ByCode(ctx context.Context, q postgres.Q, code string, now time.Time) (items.Dossier, error) {
	d, _, err := g.Open(ctx, q, code, now)
	return d, err
}

// Open is ByCode with all that the person may see.
func (g *Guard) Open(ctx context.Context, q postgres.Q, code string, now time.Time) (items.Dossier, *View, error) {
	d, err := DossierByCode(ctx, q, strings.ToUpper(code))
	if err != nil {
		return d, nil, err
	}
	v, err := g.Mine(ctx, now)
	if err == nil && !slices.Contains(v.Touched, d.ID) {
		err = fault.Missing()
	}
	return d, v, err
}

// Kind finds an item of a kind, like Item.
func (g *Guard) Kind(ctx context.Context, q postgres.Q, id uuid.UUID, kind string, need access.Caps, now time.Time) (Sight, error) {
	s, err := g.Item(ctx, q, id, need, now)
	if err == nil && s.Item.Kind != kind {
		err = fault.Missing()
	}
	return s, err
}

// Content finds a version of a document for the acting person, who needs the
// capabilities on it, together with where its content lies. Number 0 means the
// counting version.
func (g *Guard) Content(ctx context.Context, q postgres.Q, id uuid.UUID, number int, need access.Caps, now time.Time) (ContentSight, error) {
	person, err := signedIn(ctx)
	if err != nil {
		return ContentSight{}, err
	}
	s, err := ContentSightOf(ctx, q, id, number, now)
	if err != nil {
		return s, err
	}
	_, err = g.decide(ctx, q, s.Located, person.ID, need, now)
	return s, err
}

// ContentBySession is Content for whoever is signed in by the token of a
// session. Where it finds nothing it does not say whether the session or the
// document is missing: the caller asks in turn.
func (g *Guard) ContentBySession(ctx context.Context, token []byte, id uuid.UUID, number int, need access.Caps, now time.Time) (ContentSight, error) {
	s, err := SessionSightOf(ctx, g.db, token, id, number, now)
	if err != nil {
		return ContentSight{}, err
	}
	_, err = g.decide(ctx, g.db, s.Located, s.Person, need, now)
	return s.ContentSight, err
}

func signedIn(ctx context.Context) (*accounts.Person, error) {
	if p := act.Who(ctx).Person; p != nil {
		return p, nil
	}
	return nil, fault.SignedOut()
}

// decide asks core/access, and refuses what the person may not.
func (g *Guard) decide(ctx context.Context, q postgres.Q, s Located, person uuid.UUID, need access.Caps, now time.Time) (Sight, error) {
	f, c, err := g.at(ctx, q, s.DossierID, s.Stamps)
	if err != nil {
		return Sight{}, err
	}
	d := f.Decide(access.ID(s.Root), c.Subjects(access.ID(person)), now)
	sight := Sight{Located: s, Caps: d.Caps, Ends: d.Ends}
	own := s.CreatedBy == person && s.Item.Kind == items.Document
	if own {
		sight.Caps = Own(d.Caps)
	}
	if s.KeptBy != nil && *s.KeptBy != person {
		// Whoever has it in hand keeps others from more than looking.
		sight.Caps &^= access.Download
	}
	switch {
	case !d.Sees(own || s.Item.Kind == items.Folder):
		err = fault.Missing()
	case !sight.Caps.Has(need):
		err = fault.Refused("do this")
	}
	return sight, err
}

// Own is what somebody who holds capabilities may do with a document they added
// themselves: whoever may only add keeps it in sight.
func Own(held access.Caps) access.Caps {
	if held.Has(access.Add) && !held.Has(access.See) {
		held |= access.See | access.Download
	}
	return held
}

// Link refuses when the acting person lacks the capabilities on something that was
// chosen for the link, whether or not it is still there.
func (g *Guard) Link(ctx context.Context, q postgres.Q, link uuid.UUID, need access.Caps, now time.Time) error {
	person, err := signedIn(ctx)
	if err != nil {
		return err
	}
	roots, err := ChosenRoots(ctx, q, []uuid.UUID{link})
	if err != nil {
		return err
	}
	for _, r := range roots {
		stamps, err := StampsOf(ctx, q, r.Dossier)
		if err != nil {
			return err
		}
		f, c, err := g.at(ctx, q, r.Dossier, stamps)
		if err != nil {
			return err
		}
		caps := f.Decide(access.ID(r.Root), c.Subjects(access.ID(person.ID)), now).Caps
		switch {
		case !caps.Has(access.See):
			return fault.Missing()
		case !caps.Has(need):
			return fault.Refused("do this")
		}
	}
	return nil
}

// All refuses when the acting person lacks the capabilities on one of the items.
func (g *Guard) All(ctx context.Context, q postgres.Q, items []uuid.UUID, need access.Caps, now time.Time) error {
	person, err := signedIn(ctx)
	if err != nil {
		return err
	}
	for some := range slices.Chunk(items, 1000) {
		sights, err := SightsOf(ctx, q, some, now)
		if err == nil && len(sights) < len(some) {
			err = fault.Missing()
		}
		if err != nil {
			return err
		}
		for _, s := range sights {
			if _, err := g.decide(ctx, q, s, person.ID, need, now); err != nil {
				return err
			}
		}
	}
	return nil
}

// Held is what a person may do with an item that was found, and until when: it
// bounds what they may give on.
func (g *Guard) Held(ctx context.Context, q postgres.Q, s Sight, person uuid.UUID, now time.Time) (access.Held, error) {
	f, c, err := g.at(ctx, q, s.DossierID, s.Stamps)
	if err != nil {
		return access.Held{}, err
	}
	return f.Held(access.ID(s.Root), c.Subjects(access.ID(person)), now), nil
}

// May decides on a root of a dossier, without refusing.
func (v *View) May(root, dossier uuid.UUID, now time.Time) access.Decision {
	f := v.forests[dossier]
	if f == nil {
		return access.Decision{}
	}
	return f.Decide(access.ID(root), v.subjects, now)
}

// Door counts who can open a dossier, and who from outside something in it that is
// seen.
func (v *View) Door(dossier uuid.UUID, now time.Time) access.Door {
	f := v.forests[dossier]
	if f == nil {
		return access.Door{}
	}
	return f.DoorWithin(v.circles, now, func(root access.ID) bool { return f.Decide(root, v.subjects, now).Sees(false) })
}

// DoorOf counts who can open the items of a root.
func (v *View) DoorOf(root, dossier uuid.UUID, now time.Time) access.Door {
	f := v.forests[dossier]
	if f == nil {
		return access.Door{}
	}
	return f.Door(access.ID(root), v.circles, now)
}

// Closed reports whether an item is closed.
func (v *View) Closed(item, dossier uuid.UUID) bool {
	f := v.forests[dossier]
	return f != nil && item != dossier && f.Zone(access.ID(item)) == access.ID(item)
}

// Company lists the people with whom the person shares something that they see, or
// only the guests among them.
func (v *View) Company(guests bool, now time.Time) []uuid.UUID {
	var subjects []access.Subject
	for _, d := range v.Touched {
		subjects = append(subjects, v.forests[d].Company(v.Reading, now)...)
	}
	all := v.circles.Everybody(subjects)
	if guests {
		all = slices.DeleteFunc(all, func(id access.ID) bool {
			a, _ := v.circles.Account(id)
			return !a.Outside
		})
	}
	return uuids(all)
}

// Guest reports whether whoever has the view does not belong to the practice.
func (v *View) Guest() bool {
	a, ok := v.circles.Account(access.ID(v.Person))
	return !ok || a.Outside
}

// Shows reports whether an event may be seen.
func (v *View) Shows(e events.Named) bool {
	if kind, _ := events.KindNamed(e.Kind); kind.Inside && v.Guest() {
		return false
	}
	return e.Root != nil && e.Zone != nil && v.Reading.Holds(access.ID(*e.Zone), access.ID(*e.Root))
}

// View is all that the acting person may see, as it was at its stamp.
type View struct {
	Person  uuid.UUID
	Reading access.Reading
	// Touched are the dossiers in which the person may see or add something.
	Touched []uuid.UUID
	sum     int64

	subjects []access.Subject
	circles  *access.Circles
	forests  map[uuid.UUID]*access.Forest
	// parts are what each dossier adds to it.
	parts map[uuid.UUID]part
	bits  viewBits
}

// part is what somebody may see of one dossier, as it was by that dossier's access.
type part struct {
	forest  *access.Forest
	reading access.Reading
	touched bool
}

// holds reports whether a part is still true: of a dossier whose access has not
// changed, for as long as none of the grants that count runs out.
func (p part) holds(f *access.Forest, now time.Time) bool {
	return p.forest == f && (p.reading.Ends == nil || now.Before(*p.reading.Ends))
}

// Readable is the view as the store takes it.
func (v *View) Readable() Readable {
	r := Readable{Zones: ids(v.Reading.Zones), Roots: ids(v.Reading.Roots), Dossiers: postgres.IDs(v.Touched), Sum: v.sum,
		Holds: func(zone, root uuid.UUID) bool { return v.Reading.Holds(access.ID(zone), access.ID(root)) }}
	whole := make(map[access.ID]bool, len(v.Reading.Zones))
	for _, z := range v.Reading.Zones {
		whole[z] = true
	}
	var others []access.ID
	for _, f := range v.forests {
		for _, z := range f.Zones() {
			if !whole[z] {
				others = append(others, z)
			}
		}
	}
	if len(others) < len(r.Zones) {
		// Who sees most of everything is told apart by the rest.
		r.Zones, r.Others = ids(others), true
	}
	return r
}

// Holds reports whether news of an item concern somebody with this view.
func (v *View) Holds(n act.News) bool {
	return v.Reading.Holds(access.ID(n.Zone), access.ID(n.Root))
}

// Same reports whether both views show the same, allow the same and know the
// same people.
func (v *View) Same(o *View) bool {
	sameIDs := func(a, b []access.ID) bool {
		set := make(map[access.ID]bool, len(a))
		for _, id := range a {
			set[id] = true
		}
		return len(a) == len(b) && !slices.ContainsFunc(b, func(id access.ID) bool { return !set[id] })
	}
	if !sameIDs(v.Reading.Zones, o.Reading.Zones) || !sameIDs(v.Reading.Roots, o.Reading.Roots) || len(v.Touched) != len(o.Touched) || v.circles != o.circles {
		return false
	}
	for _, d := range v.Touched {
		if v.forests[d] != o.forests[d] {
			return false
		}
	}
	return true
}

func ids(all []access.ID) []string {
	out := make([]string, len(all))
	for i, id := range all {
		out[i] = uuid.UUID(id).String()
	}
	return out
}

// View gives fn what the acting person may see. fn reads a list by it and says
// how many rows it found; where it found none because the view was no longer
// true, it is called again.
func (g *Guard) View(ctx context.Context, now time.Time, fn func(v *View) (rows int, err error)) error {
	person, err := signedIn(ctx)
	if err != nil {
		return err
	}
	for try := 0; ; try++ {
		v, err := g.view(ctx, person.ID, now, try > 0)
		if err != nil {
			return err
		}
		rows, err := fn(v)
		if err != nil || rows > 0 {
			return err
		}
		sum, err := StampSum(ctx, g.db)
		if err != nil || sum == v.sum {
			return err
		}
	}
}

// Mine is the view without a list.
func (g *Guard) Mine(ctx context.Context, now time.Time) (*View, error) {
	person, err := signedIn(ctx)
	if err != nil {
		return nil, err
	}
	return g.view(ctx, person.ID, now, true)
}

// Dossier returns a dossier's access and who belongs to which groups, as they
// are now.
func (g *Guard) Dossier(ctx context.Context, q postgres.Q, dossier uuid.UUID) (*access.Forest, *access.Circles, error) {
	s, err := StampsOf(ctx, q, dossier)
	if err != nil {
		return nil, nil, err
	}
	return g.at(ctx, q, dossier, s)
}

// at returns a dossier's access and the groups at stamps that were just read.
func (g *Guard) at(ctx context.Context, q postgres.Q, dossier uuid.UUID, s Stamps) (*access.Forest, *access.Circles, error) {
	f, err := g.forest(ctx, q, dossier, s.Dossier)
	if err != nil {
		return nil, nil, err
	}
	c, err := g.circles(ctx, q, s.People)
	return f, c, err
}

// Circles returns who belongs to which groups, as it is now.
func (g *Guard) Circles(ctx context.Context, q postgres.Q) (*access.Circles, error) {
	s, err := StampsOf(ctx, q, PeopleStamp)
	if err != nil {
		return nil, err
	}
	return g.circles(ctx, q, s.People)
}

// Door counts who can open the items of a root: colleagues, and people outside.
func (g *Guard) Door(ctx context.Context, q postgres.Q, s Located, root uuid.UUID, now time.Time) (access.Door, error) {
	f, c, err := g.at(ctx, q, s.DossierID, s.Stamps)
	if err != nil {
		return access.Door{}, err
	}
	return g.kept.door(doorKey{s.DossierID, root, s.Stamps}, now, func() access.Door { return f.Door(access.ID(root), c, now) }), nil
}

// Root is one of a dossier's roots with its zone, who can open its items, and what
// the acting person may do with them.
type Root struct {
	ID, Zone uuid.UUID
	Door     access.Door
	Caps     access.Caps
}

// Root describes one of the dossier's roots.
func (g *Guard) Root(ctx context.Context, q postgres.Q, s Located, root uuid.UUID, now time.Time) (Root, error) {
	person, err := signedIn(ctx)
	if err != nil {
		return Root{}, err
	}
	f, c, err := g.at(ctx, q, s.DossierID, s.Stamps)
	if err != nil {
		return Root{}, err
	}
	door, err := g.Door(ctx, q, s, root, now)
	caps := f.Decide(access.ID(root), c.Subjects(access.ID(person.ID)), now).Caps
	return Root{root, uuid.UUID(f.Zone(access.ID(root))), door, caps}, err
}

// Part finds a folder that the acting person may see, add to, or see something
// in, and says which of its documents they may see.
func (g *Guard) Part(ctx context.Context, q postgres.Q, folder uuid.UUID, now time.Time) (Sight, Part, error) {
	person, err := signedIn(ctx)
	if err != nil {
		return Sight{}, Part{}, err
	}
	s, err := SightOf(ctx, q, folder, now)
	if err != nil {
		return Sight{}, Part{}, err
	}
	if s.Item.Kind != items.Folder {
		return Sight{}, Part{}, fault.Missing()
	}
	f, c, err := g.at(ctx, q, s.DossierID, s.Stamps)
	if err != nil {
		return Sight{}, Part{}, err
	}
	subjects := c.Subjects(access.ID(person.ID))
	d, reading := f.Decide(access.ID(s.Root), subjects, now), f.Reading(subjects, now)
	part := Part{Stamps: s.Stamps, Dossier: s.DossierID}
	switch {
	case d.Caps.Has(access.See):
		part.Except = uuids(f.Hidden(access.ID(folder), reading))
	case d.Caps.Has(access.Add):
		part.By = &person.ID
	default:
		if part.Only = uuids(f.Single(access.ID(folder), reading)); len(part.Only) == 0 {
			return Sight{}, Part{}, fault.Missing()
		}
	}
	return Sight{Located: s, Caps: d.Caps, Ends: d.Ends}, part, nil
}

func uuids(all []access.ID) []uuid.UUID {
	out := make([]uuid.UUID, len(all))
	for i, id := range all {
		out[i] = uuid.UUID(id)
	}
	return out
}

// Under lists the documents in a folder and below on which the acting person
// has the capabilities.
func (g *Guard) Under(ctx context.Context, q postgres.Q, folder Sight, need access.Caps, now time.Time) ([]items.Placed, error) {
	person, err := signedIn(ctx)
	if err != nil {
		return nil, err
	}
	all, err := DocumentsUnder(ctx, q, folder.ID)
	if err != nil {
		return nil, err
	}
	f, c, err := g.Dossier(ctx, q, folder.DossierID)
	if err != nil {
		return nil, err
	}
	subjects, may := c.Subjects(access.ID(person.ID)), map[uuid.UUID]bool{}
	return slices.DeleteFunc(all, func(d items.Placed) bool {
		ok, known := may[d.Root]
		if !known {
			ok = f.Decide(access.ID(d.Root), subjects, now).Caps.Has(need)
			may[d.Root] = ok
		}
		return !ok
	}), nil
}

// Everything returns the access of all dossiers and who belongs to which groups,
// as they are now: for those who administer groups.
func (g *Guard) Everything(ctx context.Context) (map[uuid.UUID]*access.Forest, *access.Circles, error) {
	forests, _, c, _, err := g.everything(ctx)
	return forests, c, err
}

// Of is what somebody may see.
func (g *Guard) Of(ctx context.Context, person uuid.UUID, now time.Time) (Readable, *Bits, error) {
	v, err := g.view(ctx, person, now, true)
	if err != nil {
		return Readable{}, nil, err
	}
	bits, err := g.Bits(ctx, v)
	return v.Readable(), bits, err
}
