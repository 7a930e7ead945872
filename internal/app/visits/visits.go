// Package visits lets outsiders in through secure links and shows them what
// their link gives, nothing else.
package visits

import (
	"context"
	"encoding/hex"
	"slices"
	"time"

	"tabularis/core/items"
	tree "tabularis/internal/app/items"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/links"
	"tabularis/internal/platform/limits"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/remarks"
	"tabularis/internal/app/sensitive"
	"tabularis/internal/app/sessions"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/secret"
	"tabularis/internal/platform/together"
)

// Service lets visitors in.
type Service struct {
	Acts      *act.Runner
	Contents  *tree.Contents
	Passwords *secret.Passwords
	Keys      *secret.Keys
	Pages     *pages.Maker
	Sensitive *sensitive.Service
	Uploads   *uploads.Service
	Talk      *remarks.Service
	Addresses Addresses
	// Signs reports whether somebody comes by a link to sign what it gives.
	Signs func(ctx context.Context, q postgres.Q, link uuid.UUID) (bool, error)
	// BaseURL is the address under which the practice is reached.
	BaseURL string
	// fronts are asked for together: a mail goes to many at once.
	fronts together.Group[standing]
}

// Addresses are what colleagues publish, so that anybody may send them files.
type Addresses interface {
	// Stands reports whether something is taken at an address.
	Stands(ctx context.Context, q postgres.Q, link uuid.UUID) (bool, error)
	// Recipient is the public key for which a sender seals, or empty.
	Recipient(ctx context.Context, q postgres.Q, link uuid.UUID) (string, error)
	// Takes refuses a file that is more than is taken from a visitor.
	Takes(ctx context.Context, q postgres.Q, v Visit, path string, size int64) error
	// Deliver notes what a visitor sends off, within its act.
	Deliver(ctx context.Context, tx *act.Tx, l links.Link, v Visit, sent Sent) error
}

// Sent is what a visitor sends to an address at once.
type Sent struct {
	Received []Received
	Manifest []byte
}

// standing is a link and what stands above it.
type standing struct {
	link links.Link
	head Letterhead
}

// frontTime is how long the database may take to say what stands in front.
const frontTime = 10 * time.Second

// Visitor is what a request brings along: the link's token or readable address, and
// the tokens of visits that were let in before, by the ids of their links.
type Visitor struct {
	Link   string
	Visits map[string]string
}

// visit is the token of the visit to a link, or empty.
func (v Visitor) visit(link uuid.UUID) string { return v.Visits[link.String()] }

// over is the one answer for links that are ended, expired, used up, not yet
// open or were never made.
func over() error {
	return fault.LinkOver.As(fault.Gone).New("this link is no longer available")
}

// refusal turns a verdict's reason into what the visitor is told.
func refusal(r linkgate.Reason) error {
	switch {
	case r.Dead():
		return over()
	case r == linkgate.WrongPassword:
		return fault.WrongPassword.New("the password is wrong")
	}
	c := refusals[r]
	return c.New("%s", c.Meaning())
}

// attempt is what is known of whoever wants to come in.
type attempt struct {
	password linkgate.Password
	// fetched is what is fetched, so that the same is counted once in a visit.
	fetched *fetched
	known
}

type fetched struct {
	kind    string
	item    uuid.UUID
	version int
}

// gate finds the link and asks whether the act is allowed.
func (s *Service) gate(ctx context.Context, q postgres.Q, v Visitor, what linkgate.Act, a attempt, lock bool) (links.Link, Visit, linkgate.Verdict, error) {
	l, err := s.find(ctx, q, v.Link, lock)
	if err != nil {
		return l, Visit{}, linkgate.Verdict{}, err
	}
	var visit Visit
	if token := v.visit(l.ID); token != "" {
		visit, err = VisitByToken(ctx, q, l.ID, secret.Hash(token), s.Acts.Now().Add(-linkgate.VisitLength))
		if err != nil && !fault.Is(err, fault.NotFound) {
			return l, visit, linkgate.Verdict{}, err
		}
	}
	verdict, err := s.decide(ctx, q, l, visit, what, a)
	return l, visit, verdict, err
}

// find finds a link by what stands in its address. Readable addresses can be
// guessed: whoever tried several that are none has to wait before the next.
func (s *Service) find(ctx context.Context, q postgres.Q, address string, lock bool) (links.Link, error) {
	if !linkgate.LooksRead(address) {
		l, err := links.LinkByToken(ctx, q, secret.Hash(address), lock)
		if fault.Is(err, fault.NotFound) {
			err = over()
		}
		return l, err
	}
	l, err := links.LinkBySlug(ctx, q, address, lock)
	if fault.Is(err, fault.NotFound) {
		// Only who misses is asked to wait: others of their network are let in.
		if err := sessions.Try(ctx, s.Acts.DB, "link-address "+act.Who(ctx).From(), s.Acts.Now()); err != nil {
			return l, err
		}
		err = over()
	}
	if err == nil && l.Kind == linkgate.Address {
		stands, failed := s.Addresses.Stands(ctx, q, l.ID)
		if err = failed; err == nil && !stands {
			err = over()
		}
	}
	return l, err
}

// decide asks whether the act is allowed on a link that was found, in a visit
// that was let in unless it is zero.
func (s *Service) decide(ctx context.Context, q postgres.Q, l links.Link, visit Visit, what linkgate.Act, a attempt) (linkgate.Verdict, error) {
	visiting, again := visit.ID != uuid.Nil, false
	if a.fetched != nil && visiting {
		var err error
		if again, err = HasNoted(ctx, q, visit.ID, a.fetched.kind, a.fetched.item, a.fetched.version); err != nil {
			return linkgate.Verdict{}, err
		}
	}
	t, u := l.Gate()
	return linkgate.Decide(t, u, linkgate.Attempt{Act: what, Again: again, Password: a.password, Email: a.email, Known: a.how, Visiting: visiting, At: s.Acts.Now()}), nil
}

// visiting is gate within a visit that was let in.
func (s *Service) visiting(ctx context.Context, q postgres.Q, v Visitor) (links.Link, Visit, error) {
	l, visit, verdict, err := s.gate(ctx, q, v, linkgate.Read, attempt{}, false)
	if err == nil && !verdict.Allowed {
		err = refusal(verdict.Reason)
	}
	return l, visit, err
}

// in is visiting for reading what a link gives.
func (s *Service) in(ctx context.Context, q postgres.Q, v Visitor) (links.Link, Visit, error) {
	l, visit, err := s.visiting(ctx, q, v)
	if err == nil && !linkgate.GivesOut(l.Kind) {
		// What takes papers in gives none out.
		err = fault.Missing()
	}
	return l, visit, err
}

// Front is what stands in front of a link.
type Front struct {
	Link          links.Link
	Open          bool
	NeedsPassword bool
	// KnownAs is the address of whoever is signed in.
	KnownAs string
	Letterhead
}

// Arrive shows the front and consumes nothing.
func (s *Service) Arrive(ctx context.Context, v Visitor) (Front, error) {
	f, err := s.front(ctx, v)
	if err != nil {
		return Front{}, err
	}
	f.NeedsPassword = f.Link.PasswordHash != "" && !f.Open
	if p := act.Who(ctx).Person; p != nil {
		f.KnownAs = p.Email
	}
	return f, nil
}

// front finds what stands in front: for somebody who comes anew by a token in
// one statement, otherwise through the gate.
func (s *Service) front(ctx context.Context, v Visitor) (Front, error) {
	if !linkgate.LooksRead(v.Link) {
		hash := secret.Hash(v.Link)
		found, err := s.fronts.Do(string(hash), func() (f standing, err error) {
			// It is asked for others too, and perhaps after this request.
			ctx, cancel := context.WithTimeout(context.Background(), frontTime)
			defer cancel()
			f.link, f.head, err = FrontByToken(ctx, s.Acts.DB, hash)
			return f, err
		})
		l, head := found.link, found.head
		if err == nil && v.visit(l.ID) == "" {
			verdict, err := s.decide(ctx, s.Acts.DB, l, Visit{}, linkgate.Arrive, attempt{})
			if err == nil && !verdict.Allowed {
				err = refusal(verdict.Reason)
			}
			return Front{Link: l, Letterhead: head}, err
		}
		if err != nil && !fault.Is(err, fault.NotFound) {
			return Front{}, err
		}
	}
	l, visit, verdict, err := s.gate(ctx, s.Acts.DB, v, linkgate.Arrive, attempt{}, false)
	if err != nil {
		return Front{}, err
	}
	if !verdict.Allowed {
		return Front{}, refusal(verdict.Reason)
	}
	head, err := LetterheadOf(ctx, s.Acts.DB, l.CreatedBy)
	return Front{Link: l, Open: visit.ID != uuid.Nil, Letterhead: head}, err
}

// Open lets a visitor in by a person's act, and returns the new visit's token;
// empty where this visit was in already. Refusals are recorded for the sender.
func (s *Service) Open(ctx context.Context, v Visitor, c Claim) (string, links.Link, error) {
	given, l, err := s.tryPassword(ctx, v, c.Password)
	if err != nil {
		return "", l, err
	}
	a := attempt{password: given}
	if given != linkgate.PasswordWrong {
		if a.known, err = s.who(ctx, l, c); err != nil {
			if f := fault.Of(err); f.Code == "wrong-code" {
				// The sender sees that somebody guesses.
				if told := s.Acts.Do(ctx, func(tx *act.Tx) error {
					return s.tell(ctx, tx, l, nil, 0, events.LinkRefused.With(events.Refusal{LinkNamed: named(l), Reason: f.Code}))
				}); told != nil {
					return "", l, told
				}
			}
			return "", l, err
		}
		if err := s.reaches(ctx, a.email); err != nil {
			return "", l, err
		}
	}
	token, reason := "", linkgate.None
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		link, _, verdict, err := s.gate(ctx, tx, v, linkgate.Open, a, true)
		if err != nil {
			return err
		}
		if reason = verdict.Reason; !verdict.Allowed {
			return s.tell(ctx, tx, link, nil, 0, events.LinkRefused.With(events.Refusal{LinkNamed: named(link), Reason: string(verdict.Reason)}))
		}
		if !verdict.Opens {
			token = ""
			return nil
		}
		if err := a.use(ctx, tx, link.ID); err != nil {
			return err
		}
		token = secret.Token()
		if err := CountOpening(ctx, tx, link.ID, tx.Now); err != nil {
			return err
		}
		copied, err := CopyFor(ctx, tx, link.ID, secret.Hash(v.Link))
		if err != nil {
			return err
		}
		visit := Visit{SentTo: copied, ID: uuid.Must(uuid.NewV7()), LinkID: link.ID, TokenSHA256: secret.Hash(token), OpenedAt: tx.Now, Network: tx.Actor.Network, Agent: tx.Actor.Agent, Email: a.email, Known: a.how.String()}
		if err := AddVisit(ctx, tx, visit); err != nil {
			return err
		}
		opened := events.Opening{Visit: visitorOf(link, visit), Opening: link.Openings + 1}
		if link.Terms.Openings != nil {
			opened.Limit = *link.Terms.Openings
		}
		return s.tell(ctx, tx, link, nil, 0, events.LinkOpened.With(opened))
	})
	if err == nil && reason != linkgate.None {
		err = refusal(reason)
	}
	return token, l, err
}

// tryPassword looks at the password before any row is held, since that takes
// long, and slows guessing per link and network.
func (s *Service) tryPassword(ctx context.Context, v Visitor, password string) (linkgate.Password, links.Link, error) {
	l, visit, verdict, err := s.gate(ctx, s.Acts.DB, v, linkgate.Arrive, attempt{}, false)
	if err != nil || !verdict.Allowed || l.PasswordHash == "" || visit.ID != uuid.Nil || password == "" {
		return linkgate.PasswordAbsent, l, err
	}
	now, tries := s.Acts.Now(), "link "+l.ID.String()+" "+act.Who(ctx).From()
	if err := sessions.Try(ctx, s.Acts.DB, tries, now); err != nil {
		return linkgate.PasswordWrong, l, err
	}
	right, err := s.Passwords.Check(secret.From(ctx, act.Who(ctx).From(), false), password, l.PasswordHash)
	if err != nil {
		return linkgate.PasswordAbsent, l, err
	}
	if !right {
		return linkgate.PasswordWrong, l, nil
	}
	return linkgate.PasswordRight, l, limits.ForgetTries(ctx, s.Acts.DB, tries)
}

// tell records what a visitor did. Without an item it stands on the document
// when the link gives a single one.
func (s *Service) tell(ctx context.Context, tx *act.Tx, l links.Link, item *uuid.UUID, version int, what events.Said) error {
	if item == nil {
		chosen, err := guard.LinkItems(ctx, tx, []uuid.UUID{l.ID})
		if err != nil {
			return err
		}
		if len(chosen) == 1 {
			item = &chosen[0].ID
		}
	}
	if err := s.tellSender(ctx, tx, l, what); err != nil {
		return err
	}
	return tx.Record(ctx, act.Event{What: what, By: events.Visitor(l.ID, what.Map()["email"]), Dossier: l.DossierID, Item: item, Version: version, Link: &l.ID})
}

// document finds a document that the link gives, in a visit that was let in.
func (s *Service) document(ctx context.Context, v Visitor, id uuid.UUID) (links.Link, Visit, Given, error) {
	l, visit, err := s.in(ctx, s.Acts.DB, v)
	if err != nil {
		return l, visit, Given{}, err
	}
	f, err := s.one(ctx, s.Acts.DB, l, id)
	return l, visit, f, err
}

// File opens a document that the link gives. fetch says that it is kept, not looked
// at in the page. Whatever part of the original leaves, it is recorded before, once
// in a visit; and where downloads are limited it is one, whatever it is called.
func (s *Service) File(ctx context.Context, v Visitor, document uuid.UUID, fetch bool) (tree.File, error) {
	f, err := s.leaves(ctx, v, document, fetch)
	if err != nil {
		return tree.File{}, err
	}
	return s.Contents.FileOf(ctx, f.Item, f.Give)
}

// leaves decides whether a document may leave, and records it; see File.
func (s *Service) leaves(ctx context.Context, v Visitor, document uuid.UUID, fetch bool) (Given, error) {
	// Which version it is follows from the link, which reading finds.
	l, visit, f, err := s.document(ctx, v, document)
	if err != nil {
		return Given{}, err
	}
	if !l.MayDownload {
		// Not a byte of the original leaves; it is looked at in marked pages.
		return Given{}, refusal(linkgate.ViewOnly)
	}
	if f.InHand {
		return Given{}, inHand()
	}
	what, kind := linkgate.Read, events.LinkViewed
	if fetch || l.Terms.Downloads != nil {
		what, kind = linkgate.Fetch, events.LinkFetched
		verdict, err := s.decide(ctx, s.Acts.DB, l, visit, what, attempt{fetched: &fetched{kind.Name, f.ID, f.Give.Number}})
		if err != nil {
			return Given{}, err
		}
		if !verdict.Allowed {
			return Given{}, refusal(verdict.Reason)
		}
	}
	if err := s.note(ctx, v, visit, what, kind, f, &f.ID); err != nil {
		return Given{}, err
	}
	return f, nil
}

// Within finds the link and the visit of whoever was let in and reads what it gives.
func (s *Service) Within(ctx context.Context, v Visitor) (links.Link, Visit, error) {
	return s.in(ctx, s.Acts.DB, v)
}

// Begins records that a visitor begins to fetch something that is no document yet, like what
// leaves: where nothing may be downloaded, or downloads are counted, it waits until it is one.
func (s *Service) Begins(ctx context.Context, v Visitor, id uuid.UUID, name string) error {
	l, visit, err := s.in(ctx, s.Acts.DB, v)
	if err != nil {
		return err
	}
	if !l.MayDownload {
		return refusal(linkgate.ViewOnly)
	}
	if l.Terms.Downloads != nil {
		return fault.StillArriving.New("this file can be fetched once all of it is here")
	}
	arriving := Given{Placed: items.Placed{Item: items.Item{ID: id, Name: name}}, Give: items.Version{Number: 1}}
	return s.note(ctx, v, visit, linkgate.Fetch, events.LinkFetched, arriving, nil)
}

func inHand() error {
	return errInHand.New("somebody is working on it; it can be looked at, not downloaded, until they are done")
}

// note records an act on a document, once per visit and version, and counts it
// if it is a download.
func (s *Service) note(ctx context.Context, v Visitor, visit Visit, what linkgate.Act, kind events.Of[events.VisitFile], f Given, item *uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		first, err := FirstTime(ctx, tx, visit.ID, kind.Name, f.ID, f.Give.Number)
		if err != nil || !first {
			return err
		}
		l, _, verdict, err := s.gate(ctx, tx, v, what, attempt{}, true)
		if err != nil {
			return err
		}
		if !verdict.Allowed {
			return refusal(verdict.Reason)
		}
		if verdict.Downloads {
			if err := CountDownload(ctx, tx, l.ID); err != nil {
				return err
			}
		}
		return s.tell(ctx, tx, l, item, f.Give.Number, kind.With(visitFile(l, visit, f)))
	})
}

func named(l links.Link) events.LinkNamed { return events.LinkNamed{Link: l.Name} }

// visitFile is what is said of a visitor and a document in an event.
func visitFile(l links.Link, v Visit, f Given) events.VisitFile {
	return events.VisitFile{Visit: visitorOf(l, v), Name: f.Name, SHA256: hex.EncodeToString(f.Give.SHA256), VisitID: v.ID.String()}
}

// visitorOf is what is said of a visitor in an event.
func visitorOf(l links.Link, v Visit) events.Visit {
	out := events.Visit{LinkNamed: named(l), Copy: v.SentTo}
	if v.Email != "" {
		out.Email, out.Known = v.Email, v.Known
	}
	return out
}

// Preview prepares the text of a document that the link gives.
func (s *Service) Preview(ctx context.Context, v Visitor, document uuid.UUID) (preview.Prepared, error) {
	f, err := s.leaves(ctx, v, document, false)
	if err != nil {
		return preview.Prepared{}, err
	}
	return s.Contents.Reader.Prepare(ctx, s.Contents.Source(ctx, f.Give, v.Link))
}

// All gathers everything that the link gives for one archive, or what was chosen
// of it. However often in a visit, that is one download.
func (s *Service) All(ctx context.Context, v Visitor, chosen []uuid.UUID) (tree.Chosen, error) {
	l, visit, err := s.in(ctx, s.Acts.DB, v)
	if err != nil {
		return tree.Chosen{}, err
	}
	g, err := s.given(ctx, s.Acts.DB, l)
	if err != nil {
		return tree.Chosen{}, err
	}
	if len(chosen) > 0 {
		g.files = slices.DeleteFunc(g.files, func(f Given) bool { return !slices.Contains(chosen, f.ID) })
		if len(g.files) < len(chosen) {
			return tree.Chosen{}, fault.Missing()
		}
	}
	given := len(g.files)
	g.files = slices.DeleteFunc(g.files, func(f Given) bool { return f.InHand })
	if left := len(g.files); left < given && (left == 0 || len(chosen) > 0) {
		return tree.Chosen{}, inHand()
	}
	c := tree.Chosen{Name: l.Name}
	for _, f := range g.files {
		c.Entries = append(c.Entries, s.Contents.Entry(ctx, f.Placed, f.Give.SHA256, f.Give.Size))
	}
	return c, s.Acts.Do(ctx, func(tx *act.Tx) error {
		locked, _, verdict, err := s.gate(ctx, tx, v, linkgate.Fetch, attempt{fetched: &fetched{events.LinkFetchedAll.Name, l.ID, 1}}, true)
		if err != nil {
			return err
		}
		if !verdict.Allowed {
			return refusal(verdict.Reason)
		}
		first, err := FirstTime(ctx, tx, visit.ID, events.LinkFetchedAll.Name, locked.ID, 1)
		if err != nil || !first {
			return err
		}
		if err := CountDownload(ctx, tx, locked.ID); err != nil {
			return err
		}
		return s.tell(ctx, tx, locked, nil, 0, events.LinkFetchedAll.With(events.VisitFiles{Visit: visitorOf(locked, visit), Files: len(g.files)}))
	})
}

// Watch returns the link's id and end for a page that stays open.
func (s *Service) Watch(ctx context.Context, v Visitor) (uuid.UUID, *time.Time, error) {
	l, _, err := s.visiting(ctx, s.Acts.DB, v)
	return l.ID, l.Until, err
}
