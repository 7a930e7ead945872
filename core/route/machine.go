package route

import (
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"

	"tabularis/core/working"
)

// World is what a run is decided in: the moment, the practice's calendar, what is known of the document,
// and who is there.
type World struct {
	Now      time.Time
	Calendar working.Calendar
	Facts    Facts
	// People are those whom a person, a group or the role of managers means now.
	People func(w Who) []uuid.UUID
	// Here reports whether somebody can be asked: they are still there, and can open the document.
	Here func(person uuid.UUID) bool
	// Away is when somebody is away, and Substitute who stands in for them.
	Away       func(person uuid.UUID) []working.Absence
	Substitute func(person uuid.UUID) *uuid.UUID
}

// Machine takes a run on along its definition. What it does is in Events; the run is what they make of it.
type Machine struct {
	Definition Definition
	World      World
	Run        Run
	Events     []Event
}

// MostNote is how long a note may be, in letters.
const MostNote = 2000

// regret is for how long the decision that ended a run is taken back.
const regret = 10 * time.Minute

func (m *Machine) emit(e Event) {
	// The clock may go back; a run does not.
	if e.At = m.World.Now; e.At.Before(m.Run.Since) {
		e.At = m.Run.Since
	}
	m.Run = m.Run.Apply(e)
	m.Events = append(m.Events, e)
}

// Start begins a run; by is whoever asks for it, nobody an event.
func (m *Machine) Start(c Content, author uuid.UUID, by *uuid.UUID, note string) {
	m.emit(Event{Kind: EvStarted, Content: &c, Author: &author, By: by, Note: note})
	m.enter(0)
}

// enter comes to a stop, or to the next one that applies.
func (m *Machine) enter(stop int) {
	for ; stop < len(m.Definition.Stops); stop++ {
		s := m.Definition.Stops[stop]
		if !s.Only.Holds(m.World.Facts) {
			m.emit(Event{Kind: EvLeft, Place: &Place{Stop: stop}, How: PassedBy})
			continue
		}
		at := Place{stop, s.fits(m.World.Facts)}
		if at.Case < 0 {
			at.Case = 0
			m.emit(Event{Kind: EvCame, Place: &at})
			m.emit(Event{Kind: EvHeld, Reason: NoCase})
			return
		}
		if !m.arrive(at) {
			return
		}
	}
	m.emit(Event{Kind: EvEnd, Status: Done})
}

// fits is the case that holds, or -1.
func (s Stop) fits(f Facts) int {
	return slices.IndexFunc(s.Cases, func(c Case) bool { return c.When.Holds(f) })
}

// arrive comes to a case of a stop, and reports whether the run goes on at once.
func (m *Machine) arrive(at Place) bool {
	a := m.Definition.action(at)
	switch {
	case m.provided(a):
		m.emit(Event{Kind: EvLeft, Place: &at, How: PassedBy})
		return true
	case a.AsksPeople():
		asks, reason := m.asking(a)
		m.emit(Event{Kind: EvCame, Place: &at, Asks: asks})
		if reason != "" {
			m.emit(Event{Kind: EvHeld, Reason: reason})
		}
		return false
	case a.Automatic():
		m.emit(Event{Kind: EvCame, Place: &at})
		return false
	case a.Do == Wait:
		return m.wait(at, a)
	}
	m.emit(Event{Kind: EvCame, Place: &at})
	m.emit(Event{Kind: EvLeft, How: Through})
	if a.Do == End {
		m.emit(Event{Kind: EvEnd, Status: Done})
		return false
	}
	return true
}

// provided reports whether what is asked for is there already: the data, or all signatures.
func (m *Machine) provided(a Action) bool {
	switch a.Do {
	case Fill:
		_, set := m.World.Facts.Particulars[*a.Particular]
		return set
	case Sign:
		return m.World.Facts.Signed
	}
	return false
}

// wait reports whether the time that is waited for has gone by already.
func (m *Machine) wait(at Place, a Action) bool {
	m.emit(Event{Kind: EvCame, Place: &at})
	until, ok := m.until(a)
	if !ok {
		m.emit(Event{Kind: EvHeld, Reason: NoDate})
		return false
	}
	if !until.After(m.World.Now) {
		m.emit(Event{Kind: EvLeft, How: Through})
		return true
	}
	m.emit(Event{Kind: EvWaits, Until: &until})
	return false
}

func (m *Machine) until(a Action) (time.Time, bool) {
	if a.For != nil {
		return m.World.Calendar.Add(m.World.Now, *a.For), true
	}
	return m.World.Calendar.Begins(m.World.Facts.Particulars[*a.Particular], a.Days)
}

// asking resolves who is asked, and from when on; or says why nobody is.
func (m *Machine) asking(a Action) (all []Asking, reason Reason) {
	found := false
	for _, person := range m.Resolve(a.Who) {
		found = true
		if a.NotAuthor && person == m.Run.Author || !m.World.Here(person) {
			continue
		}
		one := Asking{Asked: m.seat(a, person, all)}
		if a.Rule != InTurn || len(all) == 0 {
			due := m.due(a, one.Person, m.World.Now)
			one.Due = &due
		}
		all = append(all, one)
	}
	switch {
	case len(all) >= needed(a, len(all)):
		return all, ""
	case found && len(all) == 0:
		return nil, ClosedOff
	}
	return all, Nobody
}

// needed is how many of n seats have to agree.
func needed(a Action, n int) int {
	switch a.Rule {
	case Some:
		return max(a.Of, 1)
	case All, InTurn:
		return max(n, 1)
	}
	return 1
}

// Resolve lists whom it means, each once, in order.
func (m *Machine) Resolve(who []Who) (all []uuid.UUID) {
	for _, w := range who {
		var these []uuid.UUID
		switch w.Role {
		case Author:
			these = []uuid.UUID{m.Run.Author}
		case Starter:
			these = []uuid.UUID{m.Run.Starter}
		case Approver:
			these = m.Run.approvers(m.Definition)
		default:
			these = m.World.People(w)
		}
		for _, person := range these {
			if person != uuid.Nil && !has(all, person) {
				all = append(all, person)
			}
		}
	}
	return all
}

// approvers are those who agreed at the last stop at which something was approved.
func (r Run) approvers(d Definition) (all []uuid.UUID) {
	for i := len(r.Passed) - 1; i >= 0; i-- {
		p := r.Passed[i]
		if p.How != Through || d.action(p.Place).Do != Approve {
			continue
		}
		for _, s := range p.Said {
			all = append(all, s.Person)
		}
		return all
	}
	return nil
}

// seat puts somebody, or who stands in for them while they are away for all the time that is given,
// among those who are asked.
func (m *Machine) seat(a Action, person uuid.UUID, beside []Asking) Asked {
	own := Asked{Person: person, Seat: person}
	if !m.awayThroughout(a, person) {
		return own
	}
	in := m.World.Substitute(person)
	if in == nil || !m.World.Here(*in) || a.NotAuthor && *in == m.Run.Author || slices.ContainsFunc(beside, func(b Asking) bool { return b.Person == *in }) || has(m.Resolve(a.Who), *in) {
		return own
	}
	return Asked{Person: *in, For: &person, Seat: person}
}

func (m *Machine) awayThroughout(a Action, person uuid.UUID) bool {
	back, away := working.Back(m.World.Away(person), m.World.Calendar.Date(m.World.Now))
	if !away || a.Within == nil {
		return away
	}
	return back > m.World.Calendar.Date(m.World.Calendar.Add(m.World.Now, *a.Within))
}

// due is when somebody's time is over; without a time it never is.
func (m *Machine) due(a Action, person uuid.UUID, from time.Time) time.Time {
	if a.Within == nil {
		return time.Time{}
	}
	return m.World.Calendar.Without(m.World.Away(person)...).Add(from, *a.Within)
}

// open refuses what can only be done to a run that goes on.
func (m *Machine) open() error {
	switch {
	case !m.Run.Status.Open():
		return ErrOver.New("the run has come to its end")
	case m.Run.Status == HeldUp:
		return ErrHeld.New("the run is held up")
	}
	return nil
}

func noted(note string) (string, error) {
	note = strings.TrimSpace(note)
	if utf8.RuneCountInString(note) > MostNote || strings.ContainsRune(note, 0) {
		return "", ErrNote.In("note", "write at most %d letters", MostNote)
	}
	return note, nil
}

// Decide takes somebody's decision. Returning needs a reason; again says who is asked after it, nothing
// what the route says.
func (m *Machine) Decide(s Said, again Again) (err error) {
	if err := m.open(); err != nil {
		return err
	}
	if s.Note, err = noted(s.Note); err != nil {
		return err
	}
	i := m.Run.asked(s.Person)
	if i < 0 || !m.Run.Asked[i].waits() || m.Run.Back != nil {
		return ErrNotAsked.New("you are not asked, or not any more")
	}
	a := m.Definition.action(m.Run.At)
	switch {
	case s.Content.SHA256 != m.Run.Content.SHA256 || s.Content.Version != m.Run.Content.Version:
		return ErrContent.New("version %d counts now", m.Run.Content.Version)
	case a.Do == Hold, a.Do == Fill && s.Verdict == Agrees && !m.provided(a):
		return ErrFill.New("what is asked for is not set yet")
	case s.Verdict == Returns && s.Note == "":
		return ErrReason.In("note", "say what is missing")
	case a.Do == Sign && s.Note == "" && !m.provided(a):
		return ErrReason.In("note", "say how it was signed")
	}
	s.At, s.For = m.World.Now, m.Run.Asked[i].For
	m.emit(Event{Kind: EvSaid, By: &s.Person, Said: &s})
	if s.Verdict == Returns {
		m.returned(a, s.Person, again)
		return nil
	}
	m.agreed(a)
	return nil
}

// agreed goes on where enough have agreed, or to the next in turn.
func (m *Machine) agreed(a Action) {
	seats := map[uuid.UUID]bool{}
	for _, one := range m.Run.Asked {
		seats[one.Seat] = seats[one.Seat] || one.Said != nil && one.Said.Verdict == Agrees
	}
	n := 0
	for _, yes := range seats {
		if yes {
			n++
		}
	}
	if n >= needed(a, len(seats)) {
		m.leave(Through, "")
		return
	}
	if a.Rule != InTurn || len(m.Run.Waiting()) > 0 {
		return
	}
	for _, one := range m.Run.Asked {
		if one.Turn || seats[one.Seat] {
			continue
		}
		due := m.due(a, one.Person, m.World.Now)
		m.emit(Event{Kind: EvTurn, To: &one.Person, Due: &due})
		return
	}
}

// leave leaves the stop and goes on.
func (m *Machine) leave(how How, note string) {
	m.emit(Event{Kind: EvLeft, How: how, Note: note})
	m.enter(m.Run.At.Stop + 1)
}

func (m *Machine) returned(a Action, by uuid.UUID, again Again) {
	if again == "" {
		again = a.Returned.Again
	}
	to := m.Run.Author
	switch a.Returned.To {
	case ToEnd:
		m.emit(Event{Kind: EvLeft, How: SentBack})
		m.emit(Event{Kind: EvEnd, Status: Ended})
		return
	case ToStop:
		m.emit(Event{Kind: EvLeft, How: SentBack})
		m.enter(a.Returned.Stop - 1)
		return
	case ToStarter:
		to = m.Run.Starter
	}
	if !m.World.Here(to) {
		to = m.Run.Starter
	}
	m.emit(Event{Kind: EvBack, To: &to, By: &by, Again: again})
	if !m.World.Here(to) {
		m.emit(Event{Kind: EvHeld, Reason: Nobody})
	}
}

// HandIn goes on after a return, with the content as it is now.
func (m *Machine) HandIn(by *uuid.UUID, note string) error {
	note, err := noted(note)
	if err != nil {
		return err
	}
	if !m.Run.Status.Open() || m.Run.Back == nil {
		return ErrNotAsked.New("nothing was returned")
	}
	m.resume(by, note)
	return nil
}

func (m *Machine) resume(by *uuid.UUID, note string) {
	back := *m.Run.Back
	m.emit(Event{Kind: EvResumed, By: by, Note: note})
	m.emit(Event{Kind: EvLeft, How: SentBack})
	if back.Again == FromHere {
		m.enter(back.From.Stop)
		return
	}
	m.enter(m.first())
}

// first is the first stop that asks somebody.
func (m *Machine) first() int {
	return max(0, slices.IndexFunc(m.Definition.Stops, func(s Stop) bool {
		return slices.ContainsFunc(s.Cases, func(c Case) bool { return c.AsksPeople() })
	}))
}

// TakeBack takes somebody's decision back while what comes next has not begun.
func (m *Machine) TakeBack(by uuid.UUID) error {
	e := Event{Kind: EvTook, By: &by}
	asked := m.Run.Asked
	if i := m.Run.asked(by); i < 0 || m.Run.Asked[i].Said == nil {
		last := m.Run.lastPassed()
		if last < 0 || m.Run.Passed[last].How != Through {
			return ErrNotAsked.New("there is no decision of yours to take back")
		}
		p := m.Run.Passed[last]
		if !slices.ContainsFunc(p.Said, func(s Said) bool { return s.Person == by }) {
			return ErrNotAsked.New("there is no decision of yours to take back")
		}
		if slices.ContainsFunc(asked, func(a Asked) bool { return a.Said != nil }) || m.Run.Back != nil ||
			!m.Run.Status.Open() && (m.Run.Status != Done || m.World.Now.Sub(p.Till) > regret) {
			return ErrBegun.New("what comes next has begun")
		}
		asked, e.Place = p.Asked, &p.Place
	} else if !m.Run.Status.Open() {
		return ErrOver.New("the run has come to its end")
	}
	place := m.Run.At
	if e.Place != nil {
		place = *e.Place
	}
	turn := m.Definition.action(place).Rule == InTurn
	past := false
	for _, a := range asked {
		one := Asking{Asked: Asked{Person: a.Person, For: a.For, Seat: a.Seat}}
		if a.Turn && !(turn && past) {
			due := a.Due
			one.Due = &due
		}
		past = past || a.Person == by
		e.Asks = append(e.Asks, one)
	}
	m.emit(e)
	return nil
}

// Question notes what somebody asks without deciding.
func (m *Machine) Question(by uuid.UUID, note string) error {
	note, err := noted(note)
	if err != nil {
		return err
	}
	if note == "" {
		return ErrReason.In("note", "write what you ask")
	}
	if !m.Run.Status.Open() {
		return ErrOver.New("the run has come to its end")
	}
	m.emit(Event{Kind: EvQuestion, By: &by, Note: note})
	return nil
}

// HandOn lets somebody else decide in somebody's place. From nobody, it asks one more where nobody was
// there to be asked.
func (m *Machine) HandOn(from *uuid.UUID, to, by uuid.UUID, note string) error {
	note, err := noted(note)
	if err != nil {
		return err
	}
	if !m.Run.Status.Open() {
		return ErrOver.New("the run has come to its end")
	}
	a := m.Definition.action(m.Run.At)
	if m.Run.asked(to) >= 0 || !m.World.Here(to) || a.NotAuthor && to == m.Run.Author {
		return ErrHandTo.In("to", "they are asked already, brought the content, or cannot open it")
	}
	due := m.due(a, to, m.World.Now)
	switch {
	case from == nil && m.Run.Held != "" && len(m.Run.Waiting()) == 0 && a.AsksPeople():
		m.emit(Event{Kind: EvAsked, By: &by, Asks: []Asking{{Asked{Person: to, Seat: to}, &due}}, Note: note})
	case from != nil && m.Run.asked(*from) >= 0 && m.Run.Asked[m.Run.asked(*from)].Said == nil:
		e := Event{Kind: EvHanded, By: &by, From: from, To: &to, Note: note}
		if m.Run.Asked[m.Run.asked(*from)].Turn {
			e.Due = &due
		}
		m.emit(e)
	default:
		return ErrNotAsked.New("they are not asked, or not any more")
	}
	if m.Run.Held == Nobody || m.Run.Held == ClosedOff {
		m.emit(Event{Kind: EvResumed, By: &by})
	}
	return nil
}

// NewContent says that the document has other content now.
func (m *Machine) NewContent(c Content, author uuid.UUID) {
	if !m.Run.Status.Open() || c == m.Run.Content {
		return
	}
	same := c.SHA256 == m.Run.Content.SHA256
	m.emit(Event{Kind: EvContent, Content: &c, Author: &author})
	switch {
	case same, m.World.Facts.Sealed:
		// Signatures change nothing of what was decided on.
	case m.Run.Back != nil:
		// It is what the return asked for.
		m.resume(&author, "")
	case m.Definition.Content == Lapse:
		m.emit(Event{Kind: EvLeft, How: Anew})
		m.emit(Event{Kind: EvEnd, Status: Lapsed})
	case m.decided():
		m.again(m.first())
	}
}

// decided reports whether anybody has decided anything.
func (m *Machine) decided() bool {
	some := func(all []Asked) bool { return slices.ContainsFunc(all, func(a Asked) bool { return a.Said != nil }) }
	return some(m.Run.Asked) || slices.ContainsFunc(m.Run.Passed, func(p Passed) bool { return p.How == Through && len(p.Said) > 0 })
}

// again goes to an earlier stop, whose decisions no longer count.
func (m *Machine) again(stop int) {
	m.emit(Event{Kind: EvLeft, How: Anew})
	m.enter(stop)
}

// Look goes on where the data of the document have changed what applies: who has to decide is always
// whom the data ask for.
func (m *Machine) Look() {
	if !m.Run.Status.Open() || m.Run.Back != nil {
		return
	}
	if m.Run.Held == NoCase || m.Run.Held == NoDate {
		m.emit(Event{Kind: EvResumed})
		m.enter(m.Run.At.Stop)
		return
	}
	for _, p := range m.Latest() {
		if m.Definition.Stops[p.Stop].fits(m.World.Facts) != p.Case && m.Definition.action(p.Place).Decides() {
			m.again(p.Stop)
			return
		}
	}
	a := m.Definition.action(m.Run.At)
	if m.provided(a) {
		m.leave(Through, "")
		return
	}
	if now := m.Definition.Stops[m.Run.At.Stop].fits(m.World.Facts); a.AsksPeople() && now >= 0 && now != m.Run.At.Case {
		m.again(m.Run.At.Stop)
	}
}

// Latest are the stops passed on the way that counts, each as it was passed last.
func (m *Machine) Latest() (all []Passed) {
	for _, p := range m.Run.Passed {
		if p.How == Anew || p.How == SentBack {
			all = nil
			continue
		}
		if p.How == Through {
			all = append(all, p)
		}
	}
	return all
}

// PassedBy are the stops that were passed by or skipped on the way that counts.
func (m *Machine) PassedBy() (all []Passed) {
	for _, p := range m.Run.Passed {
		switch p.How {
		case Anew, SentBack:
			all = nil
		case PassedBy, Skipped:
			all = append(all, p)
		}
	}
	return all
}

// Did says that what is done by itself was done.
func (m *Machine) Did(note string) {
	if m.Run.Status.Open() && m.Definition.action(m.Run.At).Automatic() {
		m.emit(Event{Kind: EvDid, Note: note, Issued: m.Definition.action(m.Run.At).Issues})
		m.leave(Through, note)
	}
}

// Fail says why what is done by itself could not be done.
func (m *Machine) Fail(reason Reason, note string) {
	m.emit(Event{Kind: EvHeld, Reason: reason, Note: note})
}

// Repeat tries again what held the run up.
func (m *Machine) Repeat(by uuid.UUID) error {
	if m.Run.Status != HeldUp {
		return ErrNotHeld.New("nothing has to be repeated")
	}
	m.emit(Event{Kind: EvResumed, By: &by})
	if m.Run.Back == nil && !m.Definition.action(m.Run.At).Automatic() && len(m.Run.Waiting()) == 0 {
		m.enter(m.Run.At.Stop)
	}
	return nil
}

// Skip passes a stop over by hand, with a reason.
func (m *Machine) Skip(by uuid.UUID, note string) error {
	note, err := m.reasoned(note)
	if err != nil {
		return err
	}
	m.emit(Event{Kind: EvLeft, By: &by, How: Skipped, Note: note})
	m.enter(m.Run.At.Stop + 1)
	return nil
}

// CallOff ends the run by hand, with a reason.
func (m *Machine) CallOff(by uuid.UUID, note string) error {
	note, err := m.reasoned(note)
	if err != nil {
		return err
	}
	m.emit(Event{Kind: EvEnd, By: &by, Status: CalledOff, Note: note})
	return nil
}

func (m *Machine) reasoned(note string) (string, error) {
	note, err := noted(note)
	switch {
	case err != nil:
		return "", err
	case !m.Run.Status.Open():
		return "", ErrOver.New("the run has come to its end")
	case note == "":
		return "", ErrReason.In("note", "say why")
	}
	return note, nil
}

// Gone says that the document is deleted, or that it is back.
func (m *Machine) Gone(gone bool) {
	switch {
	case !m.Run.Status.Open():
	case gone && m.Run.Held != Absent:
		m.emit(Event{Kind: EvHeld, Reason: Absent})
	case !gone && m.Run.Held == Absent:
		m.emit(Event{Kind: EvResumed})
	}
}

// Left says that somebody can no longer decide: who stands in for them does, or the run is held up where
// it cannot go on without them.
func (m *Machine) Left(person uuid.UUID) {
	i := m.Run.asked(person)
	if !m.Run.Status.Open() || i < 0 || m.Run.Asked[i].Said != nil {
		return
	}
	a := m.Definition.action(m.Run.At)
	if in := m.World.Substitute(person); in != nil && m.HandOn(&person, *in, *in, "") == nil {
		return
	}
	others := 0
	for _, one := range m.Run.Asked {
		if one.Person != person && m.World.Here(one.Person) {
			others++
		}
	}
	if others < needed(a, len(m.Run.Asked)) && m.Run.Held == "" {
		m.emit(Event{Kind: EvHeld, Reason: Nobody})
	}
}

// Tick does what is due: it reminds, says what is late, asks those who are asked then, and ends waiting.
func (m *Machine) Tick() {
	if m.Run.Status != Going {
		return
	}
	if m.Run.Until != nil && !m.Run.Until.After(m.World.Now) {
		m.leave(Through, "")
		return
	}
	a := m.Definition.action(m.Run.At)
	for _, one := range m.Run.Waiting() {
		if at := m.remindAt(a, one); !one.Reminded && !at.IsZero() && !at.After(m.World.Now) && one.Due.After(m.World.Now) {
			m.emit(Event{Kind: EvReminded, To: &one.Person})
		}
		if one.Late || one.Due.IsZero() || one.Due.After(m.World.Now) {
			continue
		}
		m.emit(Event{Kind: EvLate, To: &one.Person})
		m.escalate(a, one)
	}
}

// escalate asks those who are asked where somebody is late; they decide in their place.
func (m *Machine) escalate(a Action, late Asked) {
	var asks []Asking
	for _, person := range m.Resolve(a.LateAsk) {
		if m.Run.asked(person) >= 0 || !m.World.Here(person) || a.NotAuthor && person == m.Run.Author {
			continue
		}
		due := m.due(a, person, m.World.Now)
		asks = append(asks, Asking{Asked{Person: person, For: &late.Person, Seat: late.Seat}, &due})
	}
	if len(asks) > 0 {
		m.emit(Event{Kind: EvAsked, Asks: asks})
	}
}

func (m *Machine) remindAt(a Action, one Asked) time.Time {
	if a.Remind == nil || a.Within == nil || a.Remind.Unit != a.Within.Unit || a.Remind.N > a.Within.N {
		return time.Time{}
	}
	if a.Remind.N == a.Within.N {
		return one.Since
	}
	span := working.Span{N: a.Within.N - a.Remind.N, Unit: a.Within.Unit}
	return m.World.Calendar.Without(m.World.Away(one.Person)...).Add(one.Since, span)
}

// Wake is when something is due next, if it ever is.
func (m *Machine) Wake() (next *time.Time) {
	if m.Run.Status != Going {
		return nil
	}
	sooner := func(t time.Time) {
		if !t.IsZero() && (next == nil || t.Before(*next)) {
			next = &t
		}
	}
	if m.Run.Until != nil {
		sooner(*m.Run.Until)
	}
	a := m.Definition.action(m.Run.At)
	for _, one := range m.Run.Waiting() {
		if !one.Late {
			sooner(one.Due)
		}
		if !one.Reminded {
			sooner(m.remindAt(a, one))
		}
	}
	return next
}
