package signing

import (
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
)

// Machine takes a request on. What it does is in Events; the request is what they make of it.
type Machine struct {
	Now     time.Time
	Request Request
	Events  []Event
}

// MostReason is how long a reason may be, in letters.
const MostReason = 1000

func (m *Machine) emit(e Event) {
	// The clock may go back; a request does not.
	if e.At = m.Now; e.At.Before(m.Request.Since) {
		e.At = m.Request.Since
	}
	m.Request = m.Request.Apply(e)
	m.Events = append(m.Events, e)
}

// Send begins a request.
func (m *Machine) Send(p Plan, until time.Time, by uuid.UUID) {
	m.emit(Event{Kind: EvSent, Plan: &p, Until: &until, By: &by})
	m.turns()
}

// turns lets those act whose turn has come: all of the lowest number that is not done.
func (m *Machine) turns() {
	next := 0
	for i, s := range m.Request.Parties {
		if turn := m.Request.Plan.Parties[i].Turn; s.Signed == nil && (next == 0 || turn < next) {
			next = turn
		}
	}
	for i, s := range m.Request.Parties {
		if s.Signed == nil && !s.Turn && m.Request.Plan.Parties[i].Turn == next {
			m.emit(Event{Kind: EvTurn, Party: i})
		}
	}
}

// may refuses what a party can no longer do, or not yet. At the second of expiry it is over.
func (m *Machine) may(party int) error {
	switch {
	case !m.Request.Status.Open() || !m.Now.Before(m.Request.Until):
		if m.Request.Status == Sealing && m.Request.Parties[party].Signed != nil {
			return errDone.New("this part is done already")
		}
		return errOver.New("this request has ended")
	case m.Request.Parties[party].Signed != nil:
		return errDone.New("this part is done already")
	case !m.Request.Parties[party].Turn:
		return errTurn.New("somebody else signs before")
	}
	return nil
}

// Open notes that a party opened it.
func (m *Machine) Open(party int) error {
	if err := m.may(party); err != nil {
		return err
	}
	m.emit(Event{Kind: EvOpened, Party: party})
	return nil
}

// Brings refuses a file from whoever may not act, or is asked for none at a place.
func (m *Machine) Brings(party, place int) error {
	if err := m.may(party); err != nil {
		return err
	}
	if !slices.ContainsFunc(m.Request.Plan.Of(party), func(p Place) bool { return p.ID == place && p.Kind == Paper }) {
		return errPlace.In("place", "no file is asked for at place %d", place)
	}
	return nil
}

// Values are what a party gives, checked against their places; all that must be filled in is there.
func (m *Machine) Values(party int, given []Value) (all []Value, err error) {
	by := map[int]Value{}
	for _, v := range given {
		if _, twice := by[v.Place]; twice {
			return nil, errPlace.In("values", "place %d is given twice", v.Place)
		}
		by[v.Place] = v
	}
	for _, at := range m.Request.Plan.Of(party) {
		v, there := by[at.ID]
		delete(by, at.ID)
		if !there || !at.Kind.Hand() && strings.TrimSpace(v.Text) == "" {
			if at.Must && at.Kind.Given() {
				return nil, errIncomplete.In("values", "place %d must be filled in", at.ID)
			}
			continue
		}
		if v, err = at.Check(v); err != nil {
			return nil, err
		}
		all = append(all, v)
	}
	for id := range by {
		return nil, errPlace.In("values", "place %d is not this party's", id)
	}
	return all, nil
}

// Sign does a party's part. All pages have to have been before their eyes.
func (m *Machine) Sign(party, pages int, s Signing) (err error) {
	if err := m.may(party); err != nil {
		return err
	}
	if s.Values, err = m.Values(party, s.Values); err != nil {
		return err
	}
	slices.Sort(s.Pages)
	s.Pages = slices.DeleteFunc(slices.Compact(s.Pages), func(p int) bool { return p < 1 || p > pages })
	if len(s.Pages) < pages {
		return errUnread.In("pages", "%d of %d pages have been read", len(s.Pages), pages)
	}
	s.At = m.Now
	m.emit(Event{Kind: EvSigned, Party: party, Signing: &s})
	if m.Request.Status == Going {
		m.turns()
	}
	return nil
}

// reasoned refuses what is no reason.
func reasoned(reason string) (string, error) {
	reason = strings.TrimSpace(reason)
	if reason == "" || utf8.RuneCountInString(reason) > MostReason || !utf8.ValidString(reason) {
		return "", errReason.In("reason", "give a reason, of at most %d letters", MostReason)
	}
	return reason, nil
}

// Decline ends the request by a party who will not sign.
func (m *Machine) Decline(party int, reason string) error {
	if err := m.may(party); err != nil {
		return err
	}
	reason, err := reasoned(reason)
	if err != nil {
		return err
	}
	m.emit(Event{Kind: EvDeclined, Party: party, Reason: reason})
	return nil
}

// Hand lets somebody else take a party's part, whose turn it is.
func (m *Machine) Hand(party int, to Party) error {
	if err := m.may(party); err != nil {
		return err
	}
	if !m.Request.Plan.Parties[party].MayHand {
		return errHanding.New("this part cannot be handed to somebody else")
	}
	return m.take(EvHanded, party, to, nil)
}

// Change lets somebody else take the part of a party who has not signed.
func (m *Machine) Change(party int, to Party, by uuid.UUID) error {
	if !m.Request.Status.Open() || !m.Now.Before(m.Request.Until) {
		return errOver.New("this request has ended")
	}
	if m.Request.Parties[party].Signed != nil {
		return errDone.New("this part is done already")
	}
	return m.take(EvChanged, party, to, &by)
}

// take keeps of a party what the paper asks of it, and exchanges who it is.
func (m *Machine) take(kind EventKind, party int, to Party, by *uuid.UUID) error {
	is := m.Request.Plan.Parties[party]
	is.Person, is.Name, is.Email, is.Known = to.Person, strings.TrimSpace(to.Name), strings.TrimSpace(to.Email), to.Known
	plan := m.Request.Plan
	plan.Parties = slices.Clone(plan.Parties)
	plan.Parties[party] = is
	for _, p := range Check(plan, 1<<20, true) {
		if strings.HasPrefix(p.At, "parties") {
			return errParty.In("party", "the parties would be %s", p.Flaw)
		}
	}
	m.emit(Event{Kind: kind, Party: party, Is: &is, By: by})
	return nil
}

// Correct exchanges the places as long as nobody has signed.
func (m *Machine) Correct(places []Place, by uuid.UUID) error {
	switch {
	case !m.Request.Status.Open():
		return errOver.New("this request has ended")
	case m.Request.anySigned():
		return errSamePlan.New("somebody has signed; places no longer change")
	}
	plan := m.Request.Plan
	plan.Places = places
	m.emit(Event{Kind: EvCorrected, Plan: &plan, By: &by})
	return nil
}

// Prolong sets another end.
func (m *Machine) Prolong(until time.Time, by uuid.UUID) error {
	if !m.Request.Status.Open() || !m.Now.Before(m.Request.Until) {
		return errOver.New("this request has ended")
	}
	if !until.After(m.Now) {
		return errEnd.In("until", "this end is past")
	}
	m.emit(Event{Kind: EvProlonged, Until: &until, By: &by})
	return nil
}

// Remind notes that those whose turn it is were reminded, and returns who.
func (m *Machine) Remind() (all []int, err error) {
	if !m.Request.Status.Open() || !m.Now.Before(m.Request.Until) {
		return nil, errOver.New("this request has ended")
	}
	all = m.Request.Waiting()
	for _, i := range all {
		m.emit(Event{Kind: EvReminded, Party: i})
	}
	return all, nil
}

// CallOff ends it by whoever sent it.
func (m *Machine) CallOff(reason string, by uuid.UUID) error {
	if !m.Request.Status.Open() {
		return errOver.New("this request has ended")
	}
	reason, err := reasoned(reason)
	if err != nil {
		return err
	}
	m.emit(Event{Kind: EvCalledOff, Reason: reason, By: &by})
	return nil
}

// Tick ends what has run out.
func (m *Machine) Tick() {
	if m.Request.Status.Open() && !m.Now.Before(m.Request.Until) {
		m.emit(Event{Kind: EvExpired})
	}
}

// Finish notes that the signed paper stands.
func (m *Machine) Finish() bool {
	if m.Request.Status != Sealing {
		return false
	}
	m.emit(Event{Kind: EvFinished})
	return true
}

// RemindAt is when those whose turn it is are reminded by itself: after half of the time they have, and a day before
// its end. Nil where nobody is any more.
func (r Request) RemindAt() *time.Time {
	var next *time.Time
	for _, i := range r.Waiting() {
		s := r.Parties[i]
		for _, at := range []time.Time{s.Since.Add(r.Until.Sub(s.Since) / 2), r.Until.Add(-24 * time.Hour)} {
			if at.After(s.Since) && (s.Reminded == nil || at.After(*s.Reminded)) && (next == nil || at.Before(*next)) {
				next = &at
			}
		}
	}
	return next
}

// Wake is when something happens by itself.
func (r Request) Wake() *time.Time {
	if !r.Status.Open() {
		return nil
	}
	if at := r.RemindAt(); at != nil && at.Before(r.Until) {
		return at
	}
	return &r.Until
}
