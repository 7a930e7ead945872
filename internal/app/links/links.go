// Package links makes, lists, mails and ends secure links, for their senders.
package links

import (
	"context"
	"slices"
	"time"

	"tabularis/core/events"
	"tabularis/core/scan"

	"tabularis/core/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sensitive"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/secret"
)

const (
	tokenPurpose = "link"
	usualDays    = 14
	maxOpenings  = 100_000
	minPassword  = 6
	maxPassword  = 500
)

// Service makes and ends links.
type Service struct {
	Acts      *act.Runner
	Access    *guard.Guard
	Keys      *secret.Keys
	Passwords *secret.Passwords
	Sensitive *sensitive.Service
	Pages     *pages.Maker
	// Asks reports whether a document has fields that can be filled in.
	Asks func(ctx context.Context, document items.Item) (bool, error)
	// BaseURL is the address under which the practice is reached.
	BaseURL string
}

// Make makes the link. It is good at once. Transfers are not made by it.
func (s *Service) Make(ctx context.Context, w Wish) (Shown, error) {
	hash, err := s.Hash(ctx, w.Password)
	if err != nil {
		return Shown{}, err
	}
	looked, err := s.forbidden(ctx, w)
	if err != nil {
		return Shown{}, err
	}
	var l Link
	err = s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		l, err = s.make(ctx, tx, w, hash, looked)
		return err
	})
	if err != nil {
		return Shown{}, err
	}
	return s.One(ctx, l.ID)
}

// Hash hashes a link's password, before any row is held; none is none.
func (s *Service) Hash(ctx context.Context, password string) (string, error) {
	if password == "" {
		return "", nil
	}
	if err := checkPassword(password); err != nil {
		return "", err
	}
	return s.Passwords.Hash(ctx, password)
}

// MakeTransfer makes the link of a transfer, within its act.
func (s *Service) MakeTransfer(ctx context.Context, tx *act.Tx, w Wish, hash string) (Link, error) {
	w.Kind, w.transfer = linkgate.Transfer, true
	return s.make(ctx, tx, w, hash, nil)
}

// MakeIn makes a link within another act, under the same rules. The password is hashed before.
func (s *Service) MakeIn(ctx context.Context, tx *act.Tx, w Wish, hash string) (Link, error) {
	return s.make(ctx, tx, w, hash, nil)
}

// EndIn makes a link dead within another act.
func (s *Service) EndIn(ctx context.Context, tx *act.Tx, id uuid.UUID) error {
	l, err := LinkByID(ctx, tx, id)
	if err != nil {
		return err
	}
	ended, err := EndLink(ctx, tx, id, l.CreatedBy, tx.Now)
	if err != nil || !ended {
		return err
	}
	return s.tell(ctx, tx, l, nil, events.LinkEnded.With(named(l)))
}

func (s *Service) make(ctx context.Context, tx *act.Tx, w Wish, hash string, looked []items.Placed) (Link, error) {
	p, err := s.check(ctx, tx, w, tx.Now)
	if err == nil {
		err = p.refused
	}
	if err != nil {
		return Link{}, err
	}
	if looked != nil && !slices.EqualFunc(looked, p.documents, func(a, b items.Placed) bool { return slices.Equal(a.SHA256, b.SHA256) }) {
		return Link{}, fault.ChangedMeanwhile.New("what is to be given out changed meanwhile; look at it again")
	}
	token := secret.Token()
	l := Link{ID: uuid.Must(uuid.NewV7()), Name: p.name, TokenSHA256: secret.Hash(token), TokenSealed: s.Keys.Seal([]byte(token), tokenPurpose), DossierID: p.items[0].DossierID,
		CreatedBy: tx.Actor.Person.ID, CreatedAt: tx.Now, Terms: p.wish.Terms, PasswordHash: hash, Language: Language(w.Language)}
	if err := taken(AddLink(ctx, tx, l, itemIDs(p.items))); err != nil {
		return l, err
	}
	if err := ExpectPapers(ctx, tx, l.ID, p.wish.Expected); err != nil {
		return l, err
	}
	if !p.wish.Newest {
		docs := make([]uuid.UUID, len(p.documents))
		for i, d := range p.documents {
			docs[i] = d.ID
		}
		if err := PinVersions(ctx, tx, l.ID, docs); err != nil {
			return l, err
		}
	}
	return l, s.tell(ctx, tx, l, p.items, events.LinkMade.With(events.LinkTerms{LinkNamed: named(l), Terms: p.sentence(p.voice(tx.Now)).String()}))
}

// AddressOf is where the link itself is reached.
func (s *Service) AddressOf(l Link) (string, error) {
	token, err := s.Keys.Open(l.TokenSealed, tokenPurpose)
	return s.address(l, string(token)), err
}

// taken says that a readable address is in use already.
func taken(err error) error {
	if postgres.Collides(err, SlugIndex) {
		return errSlugTaken.In("slug", "this readable address is taken")
	}
	return err
}

// forbidden refuses sensitive content where the practice forbids that it is
// given out, and returns what was looked through; nil where it is not forbidden.
func (s *Service) forbidden(ctx context.Context, w Wish) ([]items.Placed, error) {
	practice, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil || practice.Sensitive != scan.Forbid || w.Kind == linkgate.Intake {
		return nil, err
	}
	p, err := s.check(ctx, s.Acts.DB, w, s.Acts.Now())
	if err != nil {
		return nil, err
	}
	report, err := s.Sensitive.Look(ctx, p.contents())
	switch {
	case err != nil:
		return nil, err
	case report.Left > 0:
		return nil, errNotLookedThrough.In("items", "%d documents have not been looked through yet; try again shortly", report.Left)
	case len(report.Found) > 0:
		return nil, fault.SensitiveContent.In("items", "%q holds sensitive content, which the practice does not let out", report.Found[0].Item.Name)
	}
	return append([]items.Placed{}, p.documents...), nil
}

// contents are the versions that a link would give.
func (p plan) contents() []sensitive.Content {
	out := make([]sensitive.Content, len(p.documents))
	for i, d := range p.documents {
		out[i] = sensitive.Content{Item: d.Item, SHA256: d.SHA256, Size: d.Size, MediaType: d.MediaType}
	}
	return out
}

// tell records an event of a link: on the document, when it is about a single
// one.
func (s *Service) tell(ctx context.Context, tx *act.Tx, l Link, items []items.Item, what events.Said) error {
	e := act.Event{What: what, Dossier: l.DossierID, Link: &l.ID}
	if len(items) == 1 {
		e.Item = &items[0].ID
	}
	return tx.Record(ctx, e)
}

func named(l Link) events.LinkNamed { return events.LinkNamed{Link: l.Name} }

// Language is that in which outsiders are written to: what is not known is English.
func Language(l string) string {
	if l == "de" {
		return "de"
	}
	return "en"
}

func itemIDs(items []items.Item) []uuid.UUID {
	ids := make([]uuid.UUID, len(items))
	for i, it := range items {
		ids[i] = it.ID
	}
	return ids
}

// find returns a link with what it gives; the acting person needs the
// capabilities on everything that was chosen for it.
func (s *Service) find(ctx context.Context, q postgres.Q, id uuid.UUID, need access.Caps, now time.Time) (Link, []items.Item, error) {
	l, err := LinkByID(ctx, q, id)
	if err != nil {
		return l, nil, err
	}
	if err := s.Access.Link(ctx, q, id, need, now); err != nil {
		return l, nil, err
	}
	chosen, err := guard.LinkItems(ctx, q, []uuid.UUID{id})
	if err != nil {
		return l, nil, err
	}
	items := make([]items.Item, len(chosen))
	for i, c := range chosen {
		items[i] = c.Item
	}
	return l, items, nil
}

// change runs an act on a link that gives what the person may share.
func (s *Service) change(ctx context.Context, id uuid.UUID, fn func(tx *act.Tx, l Link, items []items.Item) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, items, err := s.find(ctx, tx, id, access.Share, tx.Now)
		if err != nil {
			return err
		}
		return fn(tx, l, items)
	})
}

// End makes a link dead at once. Ending it again changes nothing.
func (s *Service) End(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l Link, items []items.Item) error {
		ended, err := EndLink(ctx, tx, id, tx.Actor.Person.ID, tx.Now)
		if err != nil || !ended {
			return err
		}
		return s.tell(ctx, tx, l, items, events.LinkEnded.With(named(l)))
	})
}

// GrantOpening lets one more visit in than the limit said.
func (s *Service) GrantOpening(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l Link, items []items.Item) error {
		if l.Terms.Openings == nil || l.EndedAt != nil {
			return errNoLimit.New("the link has ended or has no limit of openings")
		}
		if err := AllowOpening(ctx, tx, id); err != nil {
			return err
		}
		return s.tell(ctx, tx, l, items, events.LinkOpeningGranted.With(events.LinkLimit{LinkNamed: named(l), Limit: *l.Terms.Openings + 1}))
	})
}
