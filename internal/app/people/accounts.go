package people

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/core/storage"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/sessions"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
)

// Account is a person as the list of people shows them.
type Account struct {
	accounts.Person
	// Factor is the second factor that is set up: authenticator, passkey, both or
	// none.
	Factor string
	// Dossiers and Documents are what the person reaches; only for those who
	// administer.
	Dossiers  int
	Documents int
	// Ends is when the last of a guest's access ends.
	Ends    *time.Time
	Pending *PendingInvitation
}

// GroupLine is a group with its direct members.
type GroupLine struct {
	Group
	Members []guard.GroupMember
	// People are all active accounts in it, also through other groups.
	People []uuid.UUID
}

// Directory is all that the people's page shows.
type Directory struct {
	Accounts []Account
	Groups   []GroupLine
	Links    []ShownLink
	// Practice is what holds for everybody, for those inside: a guest could read
	// from it what the practice searches for.
	Practice *practice.Practice
	// Storage is the practice's, for administrators.
	Storage *storage.Share
}

// ShownLink is an invitation link with its address, for those who may see it.
type ShownLink struct {
	ListedInvitationLink
	Address string
}

// Directory lists the people whom the acting person knows. Colleagues see groups
// as well, administrators also what everybody reaches.
func (s *Service) Directory(ctx context.Context) (Directory, error) {
	me := act.Who(ctx).Person
	var d Directory
	known, err := s.Known(ctx)
	if err != nil {
		return d, err
	}
	pending, err := PendingInvitations(ctx, s.Acts.DB)
	if err != nil {
		return d, err
	}
	for _, p := range known {
		a := Account{Person: p}
		if at := slices.IndexFunc(pending, func(i PendingInvitation) bool { return i.PersonID == p.ID }); at >= 0 && me.Inside() {
			a.Pending = &pending[at]
		}
		d.Accounts = append(d.Accounts, a)
	}
	if !me.Inside() {
		return d, nil
	}
	practice, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return d, err
	}
	d.Practice = &practice
	if err := s.measure(ctx, me, &d); err != nil {
		return d, err
	}
	if d.Groups, err = s.groups(ctx); err != nil || !me.Administers() {
		return d, err
	}
	links, err := InvitationLinks(ctx, s.Acts.DB, s.Acts.Now())
	for _, l := range links {
		shown := ShownLink{ListedInvitationLink: l}
		if token, err := s.Keys.Open(l.TokenSealed, linkPurpose); err == nil {
			shown.Address = s.BaseURL + "/join/" + string(token)
		}
		d.Links = append(d.Links, shown)
	}
	if err != nil {
		return d, err
	}
	kept, err := tree.PracticeStorage(ctx, s.Acts.DB)
	d.Storage = &kept
	return d, err
}

// measure says what the accounts reach, and which second factor each has.
func (s *Service) measure(ctx context.Context, me *accounts.Person, d *Directory) error {
	withKey, err := sessions.WithPasskeys(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	keys := map[uuid.UUID]bool{}
	for _, id := range withKey {
		keys[id] = true
	}
	var active []access.ID
	for i := range d.Accounts {
		a := &d.Accounts[i]
		switch {
		case len(a.TOTPSealed) > 0 && keys[a.ID]:
			a.Factor = "both"
		case len(a.TOTPSealed) > 0:
			a.Factor = "authenticator"
		case keys[a.ID]:
			a.Factor = "passkey"
		default:
			a.Factor = "none"
		}
		if a.DeactivatedAt == nil {
			active = append(active, access.ID(a.ID))
		}
	}
	if !me.Administers() {
		return s.measureOwn(ctx, me, d)
	}
	extents, err := s.Access.Extents(ctx, active, s.Acts.Now())
	if err != nil {
		return err
	}
	for i := range d.Accounts {
		a := &d.Accounts[i]
		e := extents[access.ID(a.ID)]
		a.Dossiers, a.Documents = e.Dossiers, e.Documents
		if !a.Inside() {
			a.Ends = e.Ends
		}
	}
	return nil
}

// measureOwn says what the acting person reaches.
func (s *Service) measureOwn(ctx context.Context, me *accounts.Person, d *Directory) error {
	at := slices.IndexFunc(d.Accounts, func(a Account) bool { return a.ID == me.ID })
	if at < 0 {
		return nil
	}
	readable, _, err := s.Access.Of(ctx, me.ID, s.Acts.Now())
	if err != nil {
		return err
	}
	a := &d.Accounts[at]
	a.Dossiers = len(readable.Dossiers)
	a.Documents, err = guard.CountReadable(ctx, s.Acts.DB, readable)
	return err
}

// SetStanding changes somebody's standing. The proprietor appoints and dismisses
// administrators and hands the practice over; there is always one. Guests stay
// guests, and colleagues do not become guests.
func (s *Service) SetStanding(ctx context.Context, id uuid.UUID, standing string) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		me := tx.Actor.Person
		if me.Standing != accounts.Proprietor {
			return fault.Refused("change a standing")
		}
		p, err := accounts.PersonByID(ctx, tx, id)
		if err != nil {
			return err
		}
		switch {
		case standing != accounts.Proprietor && standing != accounts.Administrator && standing != accounts.Colleague:
			return errStandingUnknown.In("standing", "a standing is proprietor, administrator or colleague")
		case p.DeactivatedAt != nil || !p.Inside():
			return errNotInside.New("%s does not belong to the practice", p.Name)
		case p.ID == me.ID:
			return errOwnStanding.New("the proprietor hands the practice over to somebody else")
		case p.SeenAt == nil && standing == accounts.Proprietor:
			return errNotComeIn.New("%s has not come in yet", p.Name)
		}
		if standing == accounts.Proprietor {
			if err := SetStanding(ctx, tx, me.ID, accounts.Administrator); err != nil {
				return err
			}
		}
		if err := SetStanding(ctx, tx, id, standing); err != nil {
			return err
		}
		if err := tx.Record(ctx, act.Event{What: events.AccountStanding.With(events.Standing{Person: p.Name, Standing: standing})}); err != nil {
			return err
		}
		return guard.Bump(ctx, tx, guard.PeopleStamp)
	})
}

// Deactivate ends an account: all sessions, all access. What only that person
// manages goes to the successor.
func (s *Service) Deactivate(ctx context.Context, id uuid.UUID, successor *uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		me := tx.Actor.Person
		p, err := accounts.PersonByID(ctx, tx, id)
		if err != nil {
			return err
		}
		switch {
		case !me.Administers():
			return fault.Refused("end accounts")
		case p.Standing == accounts.Proprietor:
			return errProprietorStays.New("the proprietor hands the practice over first")
		case p.Standing == accounts.Administrator && me.Standing != accounts.Proprietor:
			return fault.Refused("end an administrator's account")
		case p.DeactivatedAt != nil:
			return fault.Deactivated.As(fault.Conflict).New("%s has no account any more", p.Name)
		}
		if err := s.handOver(ctx, tx, p, successor); err != nil {
			return err
		}
		return s.deactivate(ctx, tx, p)
	})
}

func (s *Service) deactivate(ctx context.Context, tx *act.Tx, p accounts.Person) error {
	if err := SetDeactivated(ctx, tx, p.ID, &tx.Now); err != nil {
		return err
	}
	if _, err := sessions.EndOtherSessions(ctx, tx, p.ID, uuid.Nil); err != nil {
		return err
	}
	if err := tx.Record(ctx, act.Event{What: events.AccountDeactivated.With(events.PersonNamed{Person: p.Name})}); err != nil {
		return err
	}
	if err := guard.Bump(ctx, tx, guard.PeopleStamp); err != nil {
		return err
	}
	return s.Left(ctx, tx, p.ID)
}

// handOver gives the management of dossiers that nobody else manages to the
// successor; without one it refuses.
func (s *Service) handOver(ctx context.Context, tx *act.Tx, p accounts.Person, successor *uuid.UUID) error {
	owned, err := s.soleManager(ctx, tx, p.ID)
	if err != nil || len(owned) == 0 {
		return err
	}
	if successor == nil {
		return errNeedsSuccessor.In("successor", "%s", p.Name+" alone manages "+strings.Join(codes(owned), ", ")+"; say who takes over")
	}
	next, err := accounts.PersonByID(ctx, tx, *successor)
	if err != nil || next.DeactivatedAt != nil || !next.Inside() || next.ID == p.ID {
		return errors.Join(err, errSuccessorUnknown.In("successor", "the successor belongs to the practice"))
	}
	for _, d := range owned {
		if err := tree.LockDossier(ctx, tx, d.ID); err != nil {
			return err
		}
		if old, err := guard.GrantFor(ctx, tx, d.ID, access.Person, next.ID); err == nil {
			if _, err := guard.EndGrant(ctx, tx, old.ID); err != nil {
				return err
			}
		}
		g := guard.Grant{ID: uuid.Must(uuid.NewV7()), ItemID: d.ID, SubjectID: next.ID, Level: string(access.LevelManage), CreatedBy: &tx.Actor.Person.ID, CreatedAt: tx.Now}
		if err := guard.AddGrant(ctx, tx, g); err != nil {
			return err
		}
		if err := tx.Record(ctx, act.Event{What: events.AccessHandedOver.With(events.HandingOver{From: p.Name, To: next.Name}), Dossier: d.ID}); err != nil {
			return err
		}
		if err := guard.Bump(ctx, tx, d.ID); err != nil {
			return err
		}
	}
	return nil
}

func codes(all []items.Dossier) []string {
	out := make([]string, len(all))
	for i, d := range all {
		out[i] = d.Code
	}
	return out
}

// soleManager lists the dossiers that would have no manager without a person,
// in the order in which their rows are taken.
func (s *Service) soleManager(ctx context.Context, tx *act.Tx, person uuid.UUID) ([]items.Dossier, error) {
	accounts, members, err := guard.Circle(ctx, tx)
	if err != nil {
		return nil, err
	}
	without := access.NewCircles(slices.DeleteFunc(accounts, func(a access.Account) bool { return a.ID == access.ID(person) }), members)
	return s.unmanaged(ctx, tx, without)
}

// unmanaged lists the dossiers that somebody manages now and nobody would with
// these circles.
func (s *Service) unmanaged(ctx context.Context, tx *act.Tx, then *access.Circles) ([]items.Dossier, error) {
	all, err := tree.AllDossiers(ctx, tx)
	if err != nil {
		return nil, err
	}
	var out []items.Dossier
	for _, d := range all {
		f, now, err := s.Access.Dossier(ctx, tx, d.ID)
		if err != nil {
			return nil, err
		}
		if f.Managed(now, tx.Now) && !f.Managed(then, tx.Now) {
			out = append(out, d)
		}
	}
	return out, nil
}

// Reactivate lets somebody whose account ended come in again.
func (s *Service) Reactivate(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if !tx.Actor.Person.Administers() {
			return fault.Refused("bring accounts back")
		}
		p, err := accounts.PersonByID(ctx, tx, id)
		if err != nil {
			return err
		}
		if err := SetDeactivated(ctx, tx, id, nil); err != nil {
			return err
		}
		if err := tx.Record(ctx, act.Event{What: events.AccountReactivated.With(events.PersonNamed{Person: p.Name})}); err != nil {
			return err
		}
		return guard.Bump(ctx, tx, guard.PeopleStamp)
	})
}
