package signing

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/signing"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/reading"
)

// Register registers the jobs of signing, and what is due by itself.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, s.SealPaper)
	jobs.Handle(r, false, s.SendForms)
	r.Every("do what is due of signing", 15*time.Second, s.Due)
	r.Every("seal what was left", time.Minute, s.SealLeft)
	r.Every("set time stamps anew", time.Hour, s.Renew)
}

// Sheet is what a party sees of a request.
type Sheet struct {
	ID      uuid.UUID
	Party   int
	Known   signing.Known
	Item    items.Item
	Ref     string
	Version int
	Sizes   []reading.Size
	Request signing.Request
	Message string
	Sender  accounts.Person
	Kept    Kept
	// Words are what stands at places that were filled in already, Hands what was written there by hand.
	Words    map[int]string
	Hands    map[int]signing.Hand
	Language string
	// Practice and Tagline are how the practice is called.
	Practice, Tagline string
	// Consent is to what they agree, in the practice's own words, where it has some.
	Consent string
	// Final is the version that bears all signatures, once it stands.
	Final int
}

// Sheet shows a party what they are asked for.
func (s *Service) Sheet(ctx context.Context, w Who) (out Sheet, err error) {
	q := s.Acts.DB
	k, err := s.find(ctx, q, w)
	if err != nil {
		return out, err
	}
	r, err := rowOf(ctx, q, k.signing, false)
	if err != nil {
		return out, err
	}
	at, _, err := guard.SightAnywhere(ctx, q, r.ItemID, s.Acts.Now())
	if err != nil {
		return out, err
	}
	had, err := eventsOf(ctx, q, s.Keys, r)
	if err != nil {
		return out, err
	}
	out = Sheet{ID: r.ID, Party: k.party, Known: k.how, Item: at.Item, Ref: at.Ref(), Version: r.Version, Request: signing.Replay(had), Message: r.Message, Language: r.Language, Words: map[int]string{}, Hands: map[int]signing.Hand{}, Final: r.SealedVersion}
	if out.Sizes, err = s.pageSizes(ctx, r); err != nil {
		return out, err
	}
	if out.Sender, err = accounts.PersonByID(ctx, q, r.SentBy); err != nil {
		return out, err
	}
	seats, err := seatsOf(ctx, q, r.ID)
	if err != nil {
		return out, err
	}
	if out.Kept, err = s.kept(seats[k.party]); err != nil {
		return out, err
	}
	p, zone, err := practice.PracticeZone(ctx, q)
	out.Practice, out.Tagline, out.Consent = p.Name, p.Tagline, p.SigningConsent
	out.filled(zone)
	return out, err
}

// Words are the words of the paper that a party is asked to sign, page by page: for who does not see its pages, or reads them
// better as text. A page without words has none.
func (s *Service) Words(ctx context.Context, w Who) ([]string, error) {
	k, err := s.find(ctx, s.Acts.DB, w)
	if err != nil {
		return nil, err
	}
	r, err := rowOf(ctx, s.Acts.DB, k.signing, false)
	if err != nil {
		return nil, err
	}
	source, err := s.source(ctx, r)
	if err != nil {
		return nil, err
	}
	text, readable, err := s.Contents.Reader.Text(ctx, source)
	if err != nil || !readable || !text.Paged {
		return []string{}, err
	}
	return text.Parts, nil
}

// filled notes what stands on the paper by now.
func (out *Sheet) filled(zone *time.Location) {
	for _, at := range out.Request.Plan.Places {
		if at.Kind == signing.Fixed {
			out.Words[at.ID] = at.Value
			continue
		}
		signed := out.Request.Parties[at.Party].Signed
		if signed == nil {
			continue
		}
		if at.Kind == signing.SignedOn {
			out.Words[at.ID] = at.Words(signing.Value{}, signed.At, zone, out.Language)
		}
		for _, v := range signed.Values {
			if v.Place != at.ID {
				continue
			}
			if v.Hand != nil {
				out.Hands[at.ID] = *v.Hand
			} else {
				out.Words[at.ID] = at.Words(v, signed.At, zone, out.Language)
			}
		}
	}
}

// Line is a request as it is listed.
type Line struct {
	row
	At      guard.Located
	Request signing.Request
	Sender  string
	// Mine is the party that the acting person is and whose turn it is, or -1; Manages says that they look after it.
	Mine    int
	Manages bool
	Events  []signing.Event
	// Form is of which it was made, for the practice's own people.
	Form string
}

// List are requests: those that are on their way, and those that have ended, as far as the acting person sees them.
type List struct{ Open, Ended []Line }

const mostListed = 200

// List lists the requests of documents that the acting person sees.
func (s *Service) List(ctx context.Context) (out List, err error) {
	for _, open := range []bool{true, false} {
		var ids []uuid.UUID
		err := s.Access.View(ctx, s.Acts.Now(), func(v *guard.View) (n int, err error) {
			ids, err = listed(ctx, s.Acts.DB, v.Readable(), open, mostListed)
			return len(ids), err
		})
		if err != nil {
			return out, err
		}
		lines, err := s.lines(ctx, ids)
		if err != nil {
			return out, err
		}
		if open {
			out.Open = lines
		} else {
			out.Ended = lines
		}
	}
	return out, nil
}

// OnMe are the requests that wait for the acting person, the longest first.
func (s *Service) OnMe(ctx context.Context) ([]Line, error) {
	ids, err := waitingFor(ctx, s.Acts.DB, act.Who(ctx).Person.ID, mostListed)
	if err != nil {
		return nil, err
	}
	return s.lines(ctx, ids)
}

// OfDocument are the requests of a document, newest first.
func (s *Service) OfDocument(ctx context.Context, document uuid.UUID) ([]Line, error) {
	if _, err := s.Access.Kind(ctx, s.Acts.DB, document, items.Document, access.See, s.Acts.Now()); err != nil {
		return nil, err
	}
	ids, err := ofItem(ctx, s.Acts.DB, document)
	if err != nil {
		return nil, err
	}
	return s.lines(ctx, ids)
}

func (s *Service) lines(ctx context.Context, ids []uuid.UUID) (all []Line, err error) {
	for _, id := range ids {
		l, err := s.One(ctx, id)
		if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
			continue
		}
		if err != nil {
			return nil, err
		}
		l.Events = nil
		all = append(all, l)
	}
	return all, nil
}

// One shows a request, to whoever sees its document.
func (s *Service) One(ctx context.Context, id uuid.UUID) (l Line, err error) {
	q := s.Acts.DB
	if l.row, err = rowOf(ctx, q, id, false); err != nil {
		return l, err
	}
	sight, err := s.Access.Kind(ctx, q, l.ItemID, items.Document, access.See, s.Acts.Now())
	if err != nil {
		return l, err
	}
	l.At, l.Manages, l.Mine = sight.Located, sight.Caps.Has(access.Change), -1
	if l.Events, err = eventsOf(ctx, q, s.Keys, l.row); err != nil {
		return l, err
	}
	l.Request = signing.Replay(l.Events)
	sender, err := accounts.PersonByID(ctx, q, l.SentBy)
	if err != nil {
		return l, err
	}
	l.Sender = sender.Name
	if l.FormID != nil {
		if l.Form, err = formName(ctx, q, *l.FormID); err != nil {
			return l, err
		}
	}
	me := act.Who(ctx).Person
	for i, p := range l.Request.Plan.Parties {
		if p.Person != nil && *p.Person == me.ID && l.Request.Parties[i].Turn {
			l.Mine = i
		}
	}
	if !me.Inside() {
		l.hide()
	}
	return l, nil
}

// hide takes away what guests need not know of others: their addresses, and from where they came.
func (l *Line) hide() {
	l.Events, l.Form = nil, ""
	for i := range l.Request.Plan.Parties {
		l.Request.Plan.Parties[i].Email = ""
	}
	for i, st := range l.Request.Parties {
		if st.Signed != nil {
			l.Request.Parties[i].Signed = &signing.Signing{At: st.Signed.At, Known: st.Signed.Known}
		}
	}
}
