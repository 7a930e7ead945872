// Package dossiers makes and shows dossiers, their contents and registers.
package dossiers

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/core/storage"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/activity"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/register"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Service makes and shows dossiers.
type Service struct {
	Acts   *act.Runner
	Access *guard.Guard
	Items  *tree.Service
	// Fill makes in a new dossier what there is in another, by its code.
	Fill func(ctx context.Context, tx *act.Tx, like string, documents bool, top items.Item) error
}

// Summary is a dossier in a list, with its last event if there is one that may
// be seen.
type Summary struct {
	DossierSummary
	Door access.Door
	Last *events.Named
}

// Mine lists the dossiers in which the acting person may see or add something,
// last event first, without their own desk.
func (s *Service) Mine(ctx context.Context) ([]Summary, error) {
	all, err := s.list(ctx, uuid.Nil)
	me := act.Who(ctx).Person
	return slices.DeleteFunc(all, func(d Summary) bool { return d.Kind == items.Desk && d.CreatedBy == me.ID }), err
}

func (s *Service) list(ctx context.Context, only uuid.UUID) ([]Summary, error) {
	now := s.Acts.Now()
	var out []Summary
	return out, s.Access.View(ctx, now, func(v *guard.View) (int, error) {
		of := v.Touched
		if only != uuid.Nil {
			of = []uuid.UUID{only}
		}
		rows, err := Summaries(ctx, s.Acts.DB, v.Readable(), of, now)
		if err != nil {
			return 0, err
		}
		out, err = s.complete(ctx, v, rows, now)
		return len(rows), err
	})
}

func (s *Service) complete(ctx context.Context, v *guard.View, rows []DossierSummary, now time.Time) ([]Summary, error) {
	last := make([]int64, len(rows))
	for i, r := range rows {
		last[i] = r.LastEventID
	}
	events, err := activity.EventsByID(ctx, s.Acts.DB, last)
	if err != nil {
		return nil, err
	}
	out := make([]Summary, len(rows))
	for i, r := range rows {
		out[i] = Summary{DossierSummary: r, Door: v.Door(r.ID, now)}
		if e, ok := events[r.LastEventID]; ok && v.Shows(e) {
			out[i].Last = &e
		}
	}
	return out, nil
}

// New is what a new dossier is made from.
type New struct {
	Code string
	items.Particulars
	// Like is the code of a dossier of which it has the folders, and WithDocuments says that
	// it has what lies in them, too.
	Like          string
	WithDocuments bool
}

// Make makes a dossier, managed by the acting person. Refused are codes of a
// wrong form, codes that are taken, and unsound names.
func (s *Service) Make(ctx context.Context, n New) (Summary, error) {
	who := act.Who(ctx).Person
	if err := s.mayMake(ctx, who); err != nil {
		return Summary{}, err
	}
	code, err := register.Code("code", n.Code)
	if err != nil {
		return Summary{}, err
	}
	about, err := n.Particulars.Sound()
	if err != nil {
		return Summary{}, err
	}
	if strings.HasPrefix(code, "DESK-") {
		return Summary{}, errCodeReserved.In("code", "codes that begin with DESK- are for desks")
	}
	id := uuid.Must(uuid.NewV7())
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := s.add(ctx, tx, items.Dossier{ID: id, Code: code, Particulars: about, CreatedBy: who.ID, CreatedAt: tx.Now}, true); err != nil || n.Like == "" {
			return err
		}
		return s.Fill(ctx, tx, n.Like, n.WithDocuments, items.Item{ID: id, DossierID: id, Kind: items.Folder, Name: about.Name})
	})
	if err != nil {
		return Summary{}, err
	}
	return s.one(ctx, id)
}

// Change changes what a dossier is called and about, for its managers. Refused is a
// change of what somebody else has changed since it was read.
func (s *Service) Change(ctx context.Context, code string, was, to items.Particulars) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		d, err := s.Access.ByCode(ctx, tx, code, tx.Now)
		if err != nil {
			return err
		}
		sight, err := s.Access.Item(ctx, tx, d.ID, access.Manage, tx.Now)
		if err != nil {
			return err
		}
		if d.Kind == items.Desk {
			return fault.Refused("change a desk")
		}
		if to, err = to.Sound(); err != nil {
			return err
		}
		if err := tree.LockDossier(ctx, tx, d.ID); err != nil {
			return err
		}
		stands, err := ParticularsOf(ctx, tx, d.ID)
		switch {
		case err != nil || stands == to:
			return err
		case stands != was:
			return errDossierChanged.New("the dossier was changed meanwhile")
		}
		if err := SetParticulars(ctx, tx, d.ID, to); err != nil {
			return err
		}
		if err := s.Items.Retitle(ctx, tx, sight.Item, to.Name); err != nil {
			return err
		}
		said := events.Recasting{From: was.Name, To: to.Name, Subject: to.Subject, Client: to.Client, Kind: to.Kind}
		return tx.Record(ctx, act.Event{What: events.DossierChanged.With(said), Dossier: d.ID})
	})
}

// SetAside takes a dossier out of everybody's daily lists, or back into them, for its managers.
// All that is in it stays as it is, and is found.
func (s *Service) SetAside(ctx context.Context, code string, aside bool) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		d, err := s.Access.ByCode(ctx, tx, code, tx.Now)
		if err != nil {
			return err
		}
		if _, err := s.Access.Item(ctx, tx, d.ID, access.Manage, tx.Now); err != nil {
			return err
		}
		if d.Kind == items.Desk {
			return fault.Refused("set a desk aside")
		}
		what, at := events.DossierTakenUp.With(events.Nothing{}), (*time.Time)(nil)
		if aside {
			what, at = events.DossierSetAside.With(events.Nothing{}), &tx.Now
		}
		if changed, err := setAside(ctx, tx, d.ID, at); err != nil || !changed {
			return err
		}
		return tx.Record(ctx, act.Event{What: what, Dossier: d.ID})
	})
}

// add adds a dossier that whoever made it manages.
func (s *Service) add(ctx context.Context, tx *act.Tx, d items.Dossier, managed bool) error {
	if err := AddDossier(ctx, tx, d); err != nil {
		if postgres.Collides(err, CodesIndex) {
			return codeTaken(d.Code)
		}
		return err
	}
	if err := tree.AddTop(ctx, tx, d); err != nil {
		return err
	}
	if managed {
		g := guard.Grant{ID: uuid.Must(uuid.NewV7()), ItemID: d.ID, SubjectID: d.CreatedBy, Level: string(access.LevelManage), CreatedBy: &d.CreatedBy, CreatedAt: tx.Now}
		if err := guard.AddGrant(ctx, tx, g); err != nil {
			return err
		}
	}
	if err := tx.Record(ctx, act.Event{What: events.DossierMade.With(events.Name{Name: d.Name}), Dossier: d.ID}); err != nil {
		return err
	}
	return guard.Bump(ctx, tx, d.ID)
}

func (s *Service) one(ctx context.Context, id uuid.UUID) (Summary, error) {
	all, err := s.list(ctx, id)
	if err != nil || len(all) == 0 {
		return Summary{}, errors.Join(fault.Missing(), err)
	}
	return all[0], nil
}

// Desk returns the acting person's private dossier, and makes it where there is
// none. Guests have no desk.
func (s *Service) Desk(ctx context.Context) (Summary, error) {
	who := act.Who(ctx).Person
	if !who.Inside() {
		return Summary{}, fault.Refused("have a desk")
	}
	id, err := s.own(ctx, *who, desk)
	if err != nil {
		return Summary{}, err
	}
	return s.one(ctx, id)
}

// Outgoing returns the dossier in which the acting person's transfers lie, and makes it where
// there is none. It is in no list. Guests transfer nothing.
func (s *Service) Outgoing(ctx context.Context) (uuid.UUID, error) {
	return s.mine(ctx, outgoing, "transfer files")
}

// Incoming returns the dossier in which lies what was sent to the acting person's address, and
// makes it where there is none. Guests have none.
func (s *Service) Incoming(ctx context.Context) (uuid.UUID, error) {
	return s.mine(ctx, incoming, "publish an address")
}

// mine returns the acting person's dossier of a kind; guests have none, and may not do what it is for.
func (s *Service) mine(ctx context.Context, k ownKind, what string) (uuid.UUID, error) {
	who := act.Who(ctx).Person
	if who == nil {
		return uuid.Nil, fault.SignedOut()
	}
	if !who.Inside() {
		return uuid.Nil, fault.Refused(what)
	}
	return s.own(ctx, *who, k)
}

// own returns somebody's dossier of a kind of which each has one, and makes it where there is none.
func (s *Service) own(ctx context.Context, who accounts.Person, k ownKind) (uuid.UUID, error) {
	d, err := ownOf(ctx, s.Acts.DB, who.ID, k)
	if !fault.Is(err, fault.NotFound) {
		return d.ID, err
	}
	id := uuid.Must(uuid.NewV7())
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		number, err := nextOwn(ctx, tx, k)
		if err != nil {
			return err
		}
		made := items.Dossier{ID: id, Code: fmt.Sprintf("%s-%d", k.code, number), Particulars: items.Particulars{Name: k.name + who.Name, Kind: k.kind}, CreatedBy: who.ID, CreatedAt: tx.Now}
		if err := s.add(ctx, tx, made, k.managed); err != nil || k.listed {
			return err
		}
		return guard.Unlist(ctx, tx, id)
	})
	if postgres.Collides(err, k.index) {
		// Somebody else signed in as the same person was quicker.
		return s.own(ctx, who, k)
	}
	return id, err
}

func codeTaken(code string) error {
	return errCodeTaken.In("code", "%s", "the code "+code+" is in use; codes are never used again")
}

// mayMake refuses guests, and colleagues where the practice keeps the making of
// dossiers to its administrators.
func (s *Service) mayMake(ctx context.Context, who *accounts.Person) error {
	practice, err := practice.ThePractice(ctx, s.Acts.DB)
	if err == nil && !practice.MayMakeDossiers(*who) {
		err = fault.Refused("make dossiers")
	}
	return err
}

// Opened is a dossier with its contents, the top first.
type Opened struct {
	items.Dossier
	Folders []FolderLine
	Caps    access.Caps
	// Branch says that only a part of the dossier may be seen.
	Branch bool
	Ends   *time.Time
	// Storage is what its versions take, for colleagues who see all of it.
	Storage *storage.Share
}

// Open shows a dossier by its code to whoever may see or add something in it.
func (s *Service) Open(ctx context.Context, code string) (Opened, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	d, v, err := s.Access.Open(ctx, q, code, now)
	if err != nil {
		return Opened{}, err
	}
	o := Opened{Dossier: d}
	may := v.May(d.ID, d.ID, now)
	o.Caps, o.Branch, o.Ends = may.Caps, !may.Caps.Has(access.See), may.Ends
	if !o.Branch && act.Who(ctx).Person.Inside() {
		kept, err := tree.DossierStorage(ctx, q, d.ID)
		if err != nil {
			return o, err
		}
		o.Storage = &kept
	}
	if o.Folders, err = contents(ctx, q, v, d.ID, now); err != nil {
		return o, err
	}
	arranged, err := arrangements(ctx, q, act.Who(ctx).Person.ID, d.ID)
	for i, f := range o.Folders {
		if a, ok := arranged[f.ID]; ok {
			o.Folders[i].Arrangement = &a
		}
	}
	return o, err
}

// Seen is what one looks at: as oneself, or as another person sees it, for managers;
// Compare shows everything, and what the other does not see is marked.
type Seen struct {
	As      *uuid.UUID
	Compare bool
}

// OpenAs is Open as another person sees it. It is recorded.
func (s *Service) OpenAs(ctx context.Context, code string, how Seen) (Opened, error) {
	other, err := s.As(ctx, code, how.As, true)
	if err != nil {
		return Opened{}, err
	}
	o, err := s.Open(other, code)
	if err != nil || !how.Compare {
		return o, err
	}
	shows := map[uuid.UUID]bool{}
	for _, f := range o.Folders {
		shows[f.ID] = true
	}
	o, err = s.Open(ctx, code)
	for i, f := range o.Folders {
		o.Folders[i].Hidden = len(shows) > 0 && !shows[f.ID]
	}
	return o, err
}

// As lets a manager of a dossier look at it as another person would see it.
// Without a person nothing changes. With told it is recorded.
func (s *Service) As(ctx context.Context, code string, person *uuid.UUID, told bool) (context.Context, error) {
	if person == nil {
		return ctx, nil
	}
	d, err := s.Access.ByCode(ctx, s.Acts.DB, code, s.Acts.Now())
	if err != nil {
		return ctx, err
	}
	if _, err := s.Access.Item(ctx, s.Acts.DB, d.ID, access.Manage, s.Acts.Now()); err != nil {
		return ctx, err
	}
	other, err := accounts.PersonByID(ctx, s.Acts.DB, *person)
	if err != nil {
		return ctx, err
	}
	if told {
		err = s.Acts.Do(ctx, func(tx *act.Tx) error {
			return tx.Record(ctx, act.Event{What: events.AccessViewedAs.With(events.PersonNamed{Person: other.Name}), Dossier: d.ID})
		})
	}
	who := act.Who(ctx)
	who.Person = &other
	return act.As(ctx, who), err
}

// AsIn is As for one of the dossier's folders; it is not recorded again.
func (s *Service) AsIn(ctx context.Context, folder uuid.UUID, person *uuid.UUID) (context.Context, error) {
	if person == nil {
		return ctx, nil
	}
	item, err := s.Access.Item(ctx, s.Acts.DB, folder, access.See, s.Acts.Now())
	if fault.Is(err, fault.Forbidden) {
		// It is there, but what it holds is not seen.
		err = fault.Missing()
	}
	if err != nil {
		return ctx, err
	}
	return s.As(ctx, item.Code, person, false)
}

// Hides tells what the acting person does not see in a dossier, by the root
// that decides a document. Managers compare what others see with it, see As.
func (s *Service) Hides(ctx context.Context, dossier uuid.UUID) (func(r Row) bool, error) {
	now := s.Acts.Now()
	v, err := s.Access.Mine(ctx, now)
	me := act.Who(ctx).Person.ID
	return func(r Row) bool { return !v.May(r.Root, dossier, now).Sees(r.CreatedBy == me) }, err
}
