package signing

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strconv"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/linkgate"
	"tabularis/core/signing"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/ink"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/reading"
)

// Who is whoever acts for a party: a visitor by the link that was made for it, or somebody signed in, who is
// the party or has it before them.
type Who struct {
	// Visitor comes by a link.
	Visitor *visits.Visitor
	// Signing is the request of somebody who is signed in; Party, if not negative, is whom a colleague has before them.
	Signing uuid.UUID
	Party   int
}

// known is a party who was found, and how surely.
type known struct {
	signing uuid.UUID
	party   int
	how     signing.Known
	email   string
	before  string
	network string
	agent   string
}

// find finds for whom somebody acts. Whoever is no party finds nothing.
func (s *Service) find(ctx context.Context, q postgres.Q, w Who) (k known, err error) {
	if w.Visitor != nil {
		return s.findVisitor(ctx, q, *w.Visitor)
	}
	who := act.Who(ctx)
	if who.Person == nil {
		return k, fault.SignedOut()
	}
	r, err := rowOf(ctx, q, w.Signing, false)
	if err != nil {
		return k, err
	}
	need := access.See
	if w.Party >= 0 {
		need |= access.Change
	}
	if _, err := s.Access.Kind(ctx, q, r.ItemID, items.Document, need, s.Acts.Now()); err != nil {
		return k, err
	}
	seats, err := seatsOf(ctx, q, r.ID)
	if err != nil {
		return k, err
	}
	k = known{signing: r.ID, how: signing.BySignIn, email: who.Person.Email, network: who.Network, agent: who.Agent}
	if w.Party >= 0 {
		if w.Party >= len(seats) || seats[w.Party].PersonID != nil {
			return k, fault.Missing()
		}
		k.party, k.how, k.before, k.email = w.Party, signing.InPerson, who.Person.Name, ""
		return k, nil
	}
	k.party = slices.IndexFunc(seats, func(one seat) bool { return one.PersonID != nil && *one.PersonID == who.Person.ID })
	if k.party < 0 {
		return k, fault.Missing()
	}
	return k, nil
}

func (s *Service) findVisitor(ctx context.Context, q postgres.Q, v visits.Visitor) (k known, err error) {
	l, visit, err := s.Visits.Within(ctx, v)
	if err != nil {
		return k, err
	}
	one, err := seatOfLink(ctx, q, l.ID)
	if err != nil {
		return k, err
	}
	k = known{signing: one.SigningID, party: one.Party, how: signing.ByLink, email: visit.Email, network: visit.Network, agent: visit.Agent}
	switch visit.Known {
	case linkgate.Confirmed.String():
		k.how = signing.ByCode
	case linkgate.SignedIn.String():
		k.how = signing.BySignIn
	}
	return k, nil
}

// Kept is what a party has filled in and read so far.
type Kept struct {
	Values []signing.Value
	Pages  []int
}

// mostKept is how large that may be, in bytes.
const mostKept = 4 << 20

// Keep keeps what a party has filled in so far, so that they can go on another time.
func (s *Service) Keep(ctx context.Context, w Who, k Kept) error {
	who, err := s.find(ctx, s.Acts.DB, w)
	if err != nil {
		return err
	}
	raw, err := json.Marshal(k)
	if err != nil {
		return err
	}
	if len(raw) > mostKept {
		return errLarge.New("at most %d bytes are kept", mostKept)
	}
	return keepDraft(ctx, s.Acts.DB, who.signing, who.party, s.Keys.Seal(raw, keptPurpose))
}

func (s *Service) kept(one seat) (k Kept, err error) {
	if len(one.Kept) == 0 {
		return k, nil
	}
	raw, err := s.Keys.Open(one.Kept, keptPurpose)
	if err == nil {
		err = json.Unmarshal(raw, &k)
	}
	return k, err
}

// Opened notes that a party opened the paper.
func (s *Service) Opened(ctx context.Context, w Who) error {
	return s.as(ctx, w, func(tx *act.Tx, t *travel, k known) error {
		if !t.Request.Parties[k.party].Turn || !t.Request.Status.Open() {
			return nil
		}
		return t.Open(k.party)
	})
}

// as takes a request on for a party.
func (s *Service) as(ctx context.Context, w Who, do func(tx *act.Tx, t *travel, k known) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		k, err := s.find(ctx, tx, w)
		if err != nil {
			return err
		}
		t, err := s.take(ctx, tx, k.signing)
		if err != nil {
			return err
		}
		// Who it is now that nobody else changes it.
		if k, err = s.find(ctx, tx, w); err != nil {
			return err
		}
		if err := do(tx, t, k); err != nil {
			return err
		}
		return s.settle(ctx, tx, t)
	})
}

// Sign does a party's part: what they give is checked, pictures are drawn anew, and what is written must fit.
func (s *Service) Sign(ctx context.Context, w Who, k Kept, agrees bool) error {
	if !agrees {
		return errConsent.In("agrees", "say that you agree")
	}
	values, err := s.drawn(ctx, k.Values)
	if err != nil {
		return err
	}
	who, err := s.find(ctx, s.Acts.DB, w)
	if err != nil {
		return err
	}
	r, err := rowOf(ctx, s.Acts.DB, who.signing, false)
	if err != nil {
		return err
	}
	sizes, err := s.pageSizes(ctx, r)
	if err != nil {
		return err
	}
	rules, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	return s.as(ctx, w, func(tx *act.Tx, t *travel, k2 known) error {
		if err := t.fits(values, sizes); err != nil {
			return err
		}
		if err := brought(ctx, tx, t, k2.party, values); err != nil {
			return err
		}
		return t.Sign(k2.party, t.Pages, signing.Signing{Known: k2.how, Email: k2.email, Before: k2.before, Values: values, Pages: slices.Clone(k.Pages), Network: k2.network, Agent: k2.agent, Consent: rules.SigningConsent})
	})
}

// fits refuses what is written and has no room in its place.
func (t *travel) fits(values []signing.Value, sizes []reading.Size) error {
	fits := measuring()
	for _, v := range values {
		for _, at := range t.Request.Plan.Places {
			if at.ID != v.Place || at.Kind.Hand() || at.Kind == signing.Paper || v.Text == "" || at.Page > len(sizes) {
				continue
			}
			size := sizes[at.Page-1]
			if !fits(at.Words(v, t.Now, time.UTC, t.Language), at.Box.W*size.Width, at.Box.H*size.Height) {
				return errRoom.In("values/"+strconv.Itoa(at.ID), "what is written does not fit into its place")
			}
		}
	}
	return nil
}

// pageSizes are those of the pages that are signed.
func (s *Service) pageSizes(ctx context.Context, r row) ([]reading.Size, error) {
	source, err := s.source(ctx, r)
	if err != nil {
		return nil, err
	}
	o, err := s.Pages.Outline(ctx, source)
	return o.Pages, err
}

// source is what is signed.
func (s *Service) source(ctx context.Context, r row) (reading.Source, error) {
	b, err := tree.BlobByHash(ctx, s.Acts.DB, r.SHA256)
	if err != nil {
		return reading.Source{}, err
	}
	source := s.Contents.Source(ctx, items.Version{SHA256: r.SHA256, Size: b.Size, MediaType: pdfType}, "signing "+r.ID.String())
	if len(r.Password) == 0 {
		return source, nil
	}
	password, err := s.Keys.Open(r.Password, passwordPurpose)
	if err != nil {
		return source, err
	}
	ready, err := s.Contents.Reader.Ready(ctx, source, string(password))
	return reading.FromMemory(ready.Raw, source), err
}

// drawn draws pictures of signatures anew: of what was brought nothing is kept but its ink.
func (s *Service) drawn(ctx context.Context, values []signing.Value) ([]signing.Value, error) {
	const width = 900
	values = slices.Clone(values)
	for i, v := range values {
		if v.Hand == nil || len(v.Hand.Picture) == 0 {
			continue
		}
		if len(v.Hand.Picture) > signing.MostPicture {
			return nil, errPicture.In("values/"+strconv.Itoa(v.Place), "a picture of a signature has at most %d KiB", signing.MostPicture>>10)
		}
		source := reading.FromMemory(v.Hand.Picture, reading.Source{For: act.Who(ctx).From()})
		if source.MediaType = pictureType(v.Hand.Picture); source.MediaType == "" {
			return nil, errPicture.In("values/"+strconv.Itoa(v.Place), "bring a PNG or a JPEG")
		}
		p, err := s.Contents.Reader.Picture(ctx, source, width)
		if err != nil {
			return nil, errPicture.In("values/"+strconv.Itoa(v.Place), "this picture cannot be read")
		}
		hand := *v.Hand
		if hand.Picture, err = ink.Ink(p); err != nil {
			return nil, err
		}
		values[i].Hand = &hand
	}
	return values, nil
}

// pictureType is what a picture is by its first bytes; only what is drawn by points is taken.
func pictureType(raw []byte) string {
	switch {
	case len(raw) > 8 && string(raw[:8]) == "\x89PNG\r\n\x1a\n":
		return "image/png"
	case len(raw) > 3 && string(raw[:3]) == "\xff\xd8\xff":
		return "image/jpeg"
	}
	return ""
}

// Decline ends a request by a party who will not sign.
func (s *Service) Decline(ctx context.Context, w Who, reason string) error {
	return s.as(ctx, w, func(tx *act.Tx, t *travel, k known) error { return t.Machine.Decline(k.party, reason) })
}

// Hand lets somebody else do a party's part.
func (s *Service) Hand(ctx context.Context, w Who, to signing.Party) error {
	return s.as(ctx, w, func(tx *act.Tx, t *travel, k known) error {
		// Whoever is handed it is as surely known as was asked for.
		to.Person, to.Known = nil, t.Request.Plan.Parties[k.party].Known
		return t.Machine.Hand(k.party, to)
	})
}

// change takes a request on by somebody who looks after it: who sent it, or may change and give out its document.
func (s *Service) change(ctx context.Context, id uuid.UUID, do func(tx *act.Tx, t *travel) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if tx.Actor.Person == nil {
			return fault.SignedOut()
		}
		r, err := rowOf(ctx, tx, id, false)
		if err != nil {
			return err
		}
		if _, err := s.Access.Kind(ctx, tx, r.ItemID, items.Document, access.See|access.Change, tx.Now); err != nil {
			return err
		}
		t, err := s.take(ctx, tx, id)
		if err != nil {
			return err
		}
		if err := do(tx, t); err != nil {
			return err
		}
		return s.settle(ctx, tx, t)
	})
}

// Remind reminds those whose turn it is.
func (s *Service) Remind(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(_ *act.Tx, t *travel) error {
		_, err := t.Machine.Remind()
		return err
	})
}

// CallOff ends a request.
func (s *Service) CallOff(ctx context.Context, id uuid.UUID, reason string) error {
	return s.change(ctx, id, func(tx *act.Tx, t *travel) error { return t.Machine.CallOff(reason, tx.Actor.Person.ID) })
}

// Prolong sets another end; ways in end with it.
func (s *Service) Prolong(ctx context.Context, id uuid.UUID, until time.Time) error {
	return s.change(ctx, id, func(tx *act.Tx, t *travel) error {
		if until.After(tx.Now.Add(longest)) {
			return errUntil.In("until", "a request ends between now and a year from now")
		}
		if err := t.Machine.Prolong(until.UTC().Truncate(time.Microsecond), tx.Actor.Person.ID); err != nil {
			return err
		}
		for i := range t.seats {
			// Whoever comes by a link gets one that holds as long.
			if t.seats[i].LinkID != nil && !t.seats[i].Done {
				if err := s.Links.EndIn(ctx, tx, *t.seats[i].LinkID); err != nil {
					return err
				}
				t.seats[i].LinkID = nil
			}
		}
		return nil
	})
}

// ChangeParty lets somebody else do the part of a party who has not signed.
func (s *Service) ChangeParty(ctx context.Context, id uuid.UUID, party int, to signing.Party) error {
	return s.change(ctx, id, func(tx *act.Tx, t *travel) error {
		if party < 0 || party >= len(t.Request.Plan.Parties) {
			return fault.Missing()
		}
		w := wished{Wish: Wish{Plan: signing.Plan{Parties: []signing.Party{to}}}}
		if err := s.people(ctx, &w); err != nil {
			return err
		}
		if to = w.Plan.Parties[0]; to.Person != nil {
			if err := s.opens(ctx, tx, *to.Person, t.at); err != nil {
				return err
			}
		} else if _, err := s.Access.Kind(ctx, tx, t.ItemID, items.Document, access.Share, tx.Now); err != nil {
			return err
		}
		return t.Change(party, to, tx.Actor.Person.ID)
	})
}

// opens refuses somebody who cannot open the document.
func (s *Service) opens(ctx context.Context, q postgres.Q, person uuid.UUID, at guard.Located) error {
	p, err := accounts.PersonByID(ctx, q, person)
	if err != nil {
		return err
	}
	if _, err := s.Access.Item(act.As(ctx, act.Actor{Person: &p}), q, at.ID, access.See, s.Acts.Now()); err != nil {
		return errPerson.In("party", "%s cannot open %s", p.Name, at.Ref())
	}
	return nil
}

// Correct exchanges the places, as long as nobody has signed.
func (s *Service) Correct(ctx context.Context, id uuid.UUID, places []signing.Place) error {
	r, err := rowOf(ctx, s.Acts.DB, id, false)
	if err != nil {
		return err
	}
	sizes, err := s.pageSizes(ctx, r)
	if err != nil {
		return err
	}
	return s.change(ctx, id, func(tx *act.Tx, t *travel) error {
		plan := t.Request.Plan
		plan.Places = places
		if err := sound(flaws(plan, sizes)); err != nil {
			return err
		}
		return t.Machine.Correct(places, tx.Actor.Person.ID)
	})
}

// Due ends what has run out, and reminds.
func (s *Service) Due(ctx context.Context) error {
	const atOnce = 200
	var failed []error
	for range 50 {
		all, err := due(ctx, s.Acts.DB, s.Acts.Now(), atOnce)
		if err != nil || len(all) == 0 {
			return errors.Join(append(failed, err)...)
		}
		before := len(failed)
		for _, id := range all {
			if err := s.wake(ctx, id); err != nil {
				failed = append(failed, err)
			}
		}
		if len(failed)-before == len(all) {
			break
		}
	}
	return errors.Join(failed...)
}

func (s *Service) wake(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := s.take(ctx, tx, id)
		if err != nil {
			return err
		}
		t.Tick()
		if at := t.Request.RemindAt(); t.Request.Status.Open() && at != nil && !at.After(tx.Now) {
			if _, err := t.Machine.Remind(); err != nil {
				return err
			}
		}
		return s.settle(ctx, tx, t)
	})
}
