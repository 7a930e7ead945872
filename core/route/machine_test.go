package route

import (
	"encoding/json"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/working"
)

// monday is Monday 23 November 2026, 11:08.
var monday = time.Date(2026, 11, 23, 11, 8, 0, 0, time.UTC)

func world() World {
	return World{
		Now: monday, Calendar: working.Usual().In(time.UTC), Facts: Facts{Particulars: map[uuid.UUID]string{}, Dossier: "client"},
		People: func(w Who) []uuid.UUID {
			switch {
			case w.Person != nil:
				return []uuid.UUID{*w.Person}
			case w.Group != nil && *w.Group == id(seniors):
				return []uuid.UUID{id(tomasz), id(priya)}
			case w.Role == Managers:
				return []uuid.UUID{id(ines)}
			}
			return nil
		},
		Here: func(p uuid.UUID) bool { return p != id(odile) }, Away: func(uuid.UUID) []working.Absence { return nil }, Substitute: func(uuid.UUID) *uuid.UUID { return nil },
	}
}

var third = Content{3, "5d0e"}

func began(d Definition, w World) *Machine {
	m := &Machine{Definition: d, World: w}
	m.Start(third, id(luca), nil, "")
	return m
}

func asked(m *Machine) (all []byte) {
	for _, a := range m.Run.Waiting() {
		all = append(all, a.Person[15])
	}
	return all
}

// stands compares where a run stands with what is wanted.
func stands(t *testing.T, m *Machine, what string, status Status, stop int, who ...byte) {
	t.Helper()
	if m.Run.Status != status || m.Run.At.Stop != stop || !slices.Equal(asked(m), who) {
		t.Fatalf("%s: %s at %d of %v (%s), want %s at %d of %v", what, m.Run.Status, m.Run.At.Stop, asked(m), m.Run.Held, status, stop, who)
	}
}

func agrees(t *testing.T, m *Machine, person byte) {
	t.Helper()
	if err := m.Decide(Said{Person: id(person), Verdict: Agrees, Content: m.Run.Content}, ""); err != nil {
		t.Fatal(err)
	}
}

func returns(t *testing.T, m *Machine, person byte) {
	t.Helper()
	if err := m.Decide(Said{Person: id(person), Verdict: Returns, Content: m.Run.Content, Note: "Frame 31 is missing."}, ""); err != nil {
		t.Fatal(err)
	}
}

func refused(t *testing.T, what, code string, err error) {
	t.Helper()
	if fault.Of(err).Code != code {
		t.Errorf("%s: %v, want %s", what, err, code)
	}
}

func TestUsualWay(t *testing.T) {
	m := began(release(), world())
	stands(t, m, "begun", Going, 0, tomasz, priya)
	if due := m.Run.Asked[0].Due; !due.Equal(monday.AddDate(0, 0, 2)) {
		t.Errorf("due %s", due)
	}
	refused(t, "somebody not asked", "not-asked", m.Decide(Said{Person: id(ines), Verdict: Agrees, Content: third}, ""))
	refused(t, "another version", "content-changed", m.Decide(Said{Person: id(tomasz), Verdict: Agrees, Content: Content{2, "aaaa"}}, ""))
	refused(t, "returned without a reason", "reason-missing-for-run", m.Decide(Said{Person: id(tomasz), Verdict: Returns, Content: third, Note: " "}, ""))
	refused(t, "a note without end", "note-length", m.Decide(Said{Person: id(tomasz), Verdict: Agrees, Content: third, Note: strings.Repeat("x", MostNote+1)}, ""))
	returns(t, m, tomasz)
	stands(t, m, "returned", Going, 0)
	refused(t, "decided after the return", "not-asked", m.Decide(Said{Person: id(priya), Verdict: Agrees, Content: third}, ""))
	fourth := Content{4, "9f2c"}
	m.NewContent(fourth, id(luca))
	stands(t, m, "brought again", Going, 0, tomasz, priya)
	agrees(t, m, tomasz)
	stands(t, m, "no amount", Going, 1, luca)
	refused(t, "nothing to decide while held", "not-filled", m.Decide(Said{Person: id(luca), Verdict: Agrees, Content: fourth}, ""))
	m.World.Facts.Particulars[id(estimate)] = "312400"
	m.Look()
	stands(t, m, "312,400", Going, 1, ines)
	m.World.Facts.Particulars[id(estimate)] = "200000"
	m.Look()
	stands(t, m, "less before anybody decided", Going, 1, tomasz, priya)
	agrees(t, m, priya)
	stands(t, m, "to be moved", Going, 2)
	m.Fail(Failed, "in hand")
	stands(t, m, "could not be moved", HeldUp, 2)
	if err := m.Repeat(id(ines)); err != nil {
		t.Fatal(err)
	}
	m.Did("moved")
	m.Did("told")
	stands(t, m, "ended", Done, 3)
	if !m.Run.Issued {
		t.Error("it is not issued")
	}
	refused(t, "decided at the end", "run-over", m.Decide(Said{Person: id(ines), Verdict: Agrees, Content: fourth}, ""))
	refused(t, "repeated at the end", "run-not-held", m.Repeat(id(ines)))
	if got := Replay(m.Events); !reflect.DeepEqual(got, m.Run) {
		t.Errorf("replayed it is %+v, was %+v", got, m.Run)
	}
}

// An amount that rises after a senior has approved brings in the principal.
func TestDataDecideWhoMust(t *testing.T) {
	w := world()
	w.Facts.Particulars[id(estimate)] = "200000"
	m := began(release(), w)
	agrees(t, m, tomasz)
	agrees(t, m, priya)
	stands(t, m, "approved by a senior", Going, 2)
	m.World.Facts.Particulars[id(estimate)] = "300000"
	m.Look()
	stands(t, m, "more than a senior may", Going, 1, ines)
	agrees(t, m, ines)
	stands(t, m, "approved by the principal", Going, 2)
	m.Look()
	stands(t, m, "looked at again", Going, 2)
}

func asking(a Action) Definition {
	if a.Do == "" {
		a.Do = Approve
	}
	return Definition{Name: "Asked", Starts: []Start{{On: ByHand}}, Stops: []Stop{{Cases: []Case{{Action: a}}}}, Content: Lapse}
}

func TestRules(t *testing.T) {
	three := []Who{one(ines), one(tomasz), one(priya)}
	m := began(asking(Action{Who: three, Rule: InTurn, Within: days(2)}), world())
	stands(t, m, "in turn", Going, 0, ines)
	refused(t, "before their turn", "not-asked", m.Decide(Said{Person: id(priya), Verdict: Agrees, Content: third}, ""))
	m.World.Now = monday.AddDate(0, 0, 1)
	agrees(t, m, ines)
	stands(t, m, "the next", Going, 0, tomasz)
	if due := m.Run.Asked[1].Due; !due.Equal(monday.AddDate(0, 0, 3)) {
		t.Errorf("two days from when their turn came, not %s", due)
	}
	if err := m.TakeBack(id(ines)); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "taken back", Going, 0, ines)
	agrees(t, m, ines)
	agrees(t, m, tomasz)
	agrees(t, m, priya)
	stands(t, m, "all in turn", Done, 0)
	m = began(asking(Action{Who: three, Rule: Some, Of: 2}), world())
	agrees(t, m, priya)
	stands(t, m, "one of two", Going, 0, ines, tomasz)
	agrees(t, m, ines)
	stands(t, m, "two", Done, 0)
	m = began(asking(Action{Who: three, Rule: All}), world())
	agrees(t, m, priya)
	returns(t, m, ines)
	if m.Run.Back == nil || m.Run.Back.To != id(luca) {
		t.Errorf("returned to %+v", m.Run.Back)
	}
	if err := m.TakeBack(id(ines)); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "the return taken back", Going, 0, ines, tomasz)
	returns(t, m, tomasz)
	if err := m.HandIn(ref(luca), "It is there, on page 6."); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "handed in again", Going, 0, ines, tomasz, priya)
}

func TestTakingBack(t *testing.T) {
	d := asking(Action{Who: []Who{one(tomasz)}, Do: Review})
	d.Stops = append(d.Stops, asking(Action{Who: []Who{one(ines), one(priya)}, Rule: All}).Stops...)
	m := began(d, world())
	agrees(t, m, tomasz)
	if err := m.TakeBack(id(tomasz)); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "back at the first", Going, 0, tomasz)
	agrees(t, m, tomasz)
	agrees(t, m, priya)
	refused(t, "the next has begun", "next-begun", m.TakeBack(id(tomasz)))
	refused(t, "nothing decided", "not-asked", m.TakeBack(id(ines)))
	agrees(t, m, ines)
	stands(t, m, "ended", Done, 1)
	if err := m.TakeBack(id(ines)); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "the last taken back", Going, 1, ines)
	agrees(t, m, ines)
	m.World.Now = m.World.Now.Add(regret + time.Second)
	refused(t, "later", "next-begun", m.TakeBack(id(ines)))
}

func TestContent(t *testing.T) {
	d := asking(Action{Who: []Who{one(tomasz), one(ines)}, Rule: All})
	m := began(d, world())
	m.NewContent(Content{4, third.SHA256}, id(luca))
	stands(t, m, "the same content again", Going, 0, tomasz, ines)
	m.NewContent(Content{5, "other"}, id(luca))
	stands(t, m, "by hand it lapses", Lapsed, 0)
	d.Content = AskAgain
	m = began(d, world())
	m.NewContent(Content{4, "other"}, id(luca))
	stands(t, m, "before anybody decided", Going, 0, tomasz, ines)
	agrees(t, m, ines)
	m.NewContent(Content{5, "another"}, id(luca))
	stands(t, m, "what was decided no longer counts", Going, 0, tomasz, ines)
}

func TestAway(t *testing.T) {
	w := world()
	w.Away = func(p uuid.UUID) []working.Absence {
		return map[uuid.UUID][]working.Absence{id(priya): {{From: "2026-11-24", To: "2026-11-25"}}, id(tomasz): {{From: "2026-11-23", To: "2026-11-30"}}}[p]
	}
	w.Substitute = func(p uuid.UUID) *uuid.UUID { return ref(ines) }
	m := began(asking(Action{Who: []Who{one(priya), one(tomasz)}, Rule: All, Within: days(2)}), w)
	stands(t, m, "somebody stands in", Going, 0, priya, ines)
	if a := m.Run.Asked; !a[0].Due.Equal(monday.AddDate(0, 0, 4)) || a[1].For == nil || *a[1].For != id(tomasz) {
		t.Errorf("%+v", a)
	}
	// Nobody decides twice for standing in.
	m = began(asking(Action{Who: []Who{one(ines), one(tomasz)}, Rule: All, Within: days(2)}), w)
	stands(t, m, "who is asked does not stand in", Going, 0, ines, tomasz)
	// Whoever brought it does not decide in somebody's place.
	w.Substitute = func(p uuid.UUID) *uuid.UUID { return ref(luca) }
	m = began(asking(Action{Who: []Who{one(tomasz)}, NotAuthor: true, Within: days(2)}), w)
	stands(t, m, "not the author", Going, 0, tomasz)
}

func TestPeopleGo(t *testing.T) {
	w := world()
	gone := map[uuid.UUID]bool{}
	w.Here = func(p uuid.UUID) bool { return !gone[p] }
	m := began(asking(Action{Who: []Who{one(tomasz), one(ines)}, Rule: All, Within: days(2)}), w)
	gone[id(tomasz)] = true
	m.Left(id(tomasz))
	stands(t, m, "one of all has left", HeldUp, 0)
	refused(t, "decided while held up", "run-held", m.Decide(Said{Person: id(ines), Verdict: Agrees, Content: third}, ""))
	refused(t, "to somebody asked", "hand-to", m.HandOn(ref(tomasz), id(ines), id(ines), ""))
	if err := m.HandOn(ref(tomasz), id(priya), id(ines), ""); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "somebody else", Going, 0, priya, ines)
	m = began(asking(Action{Who: []Who{one(tomasz)}}), w)
	stands(t, m, "nobody there", HeldUp, 0)
	if err := m.HandOn(nil, id(priya), id(ines), ""); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "one was found", Going, 0, priya)
	m = began(asking(Action{Who: []Who{one(ines), one(priya)}}), w)
	gone[id(priya)] = true
	m.Left(id(priya))
	stands(t, m, "any one is enough", Going, 0, ines, priya)
}

func TestTime(t *testing.T) {
	d := asking(Action{Who: []Who{one(tomasz)}, Within: days(2), Remind: days(1), LateTell: []Who{one(ines)}, LateAsk: []Who{one(priya)}})
	m := began(d, world())
	at := func(day, hour int) {
		m.World.Now = time.Date(2026, 11, day, hour, 30, 0, 0, time.UTC)
		m.Tick()
	}
	if w := m.Wake(); w == nil || !w.Equal(monday.AddDate(0, 0, 1)) {
		t.Errorf("wakes at %v", w)
	}
	at(24, 9)
	if len(m.Events) != 2 {
		t.Errorf("%d events before anything is due", len(m.Events))
	}
	at(24, 15)
	at(24, 16)
	at(25, 12)
	at(25, 13)
	kinds := []EventKind{}
	for _, e := range m.Events[2:] {
		kinds = append(kinds, e.Kind)
	}
	if !slices.Equal(kinds, []EventKind{EvReminded, EvLate, EvAsked}) {
		t.Errorf("%v", kinds)
	}
	stands(t, m, "one more is asked", Going, 0, tomasz, priya)
	// The clock goes back: nothing happens twice, and nothing before it was begun.
	at(20, 9)
	agrees(t, m, priya)
	stands(t, m, "decided in their place", Done, 0)
	if last := m.Events[len(m.Events)-1]; last.At.Before(m.Events[0].At) {
		t.Errorf("ended at %s", last.At)
	}
	wait := Definition{Name: "Waits", Stops: []Stop{{Cases: []Case{{Action: Action{Do: Wait, Particular: ref(survey), Days: -7}}}}}}
	m = began(wait, world())
	stands(t, m, "no date", HeldUp, 0)
	m.World.Facts.Particulars[id(survey)] = "2026-12-10"
	m.Look()
	stands(t, m, "waits", Going, 0)
	if w := m.Wake(); w == nil || w.Format(time.DateOnly) != "2026-12-03" {
		t.Errorf("waits until %v", w)
	}
	m.World.Now = time.Date(2026, 12, 3, 0, 0, 0, 0, time.UTC)
	m.Tick()
	stands(t, m, "the day has come", Done, 0)
}

func TestByHand(t *testing.T) {
	m := began(release(), world())
	refused(t, "skipped without a reason", "reason-missing-for-run", m.Skip(id(ines), ""))
	if err := m.Question(id(tomasz), "Is the doubler included?"); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "asked something", Going, 0, tomasz, priya)
	m.Gone(true)
	stands(t, m, "deleted", HeldUp, 0)
	m.Gone(false)
	stands(t, m, "back", Going, 0, tomasz, priya)
	if err := m.Skip(id(ines), "Tomasz saw it on board."); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "skipped", Going, 1, luca)
	if err := m.CallOff(id(ines), "Superseded."); err != nil {
		t.Fatal(err)
	}
	stands(t, m, "called off", CalledOff, 1)
	refused(t, "called off again", "run-over", m.CallOff(id(ines), "x"))
}

// simple is a slow reference for stops that ask people: it knows nothing of events.
type simple struct {
	d       Definition
	stop    int
	said    map[uuid.UUID]Verdict
	back    bool
	again   int
	content Content
	over    Status
	decided bool
}

func (s *simple) people() (all []uuid.UUID) {
	a := s.d.Stops[s.stop].Cases[0]
	for _, w := range a.Who {
		all = append(all, *w.Person)
	}
	return all
}

func (s *simple) waiting() (all []uuid.UUID) {
	if s.over != "" || s.back {
		return nil
	}
	for _, p := range s.people() {
		if s.said[p] == "" {
			all = append(all, p)
			if s.d.Stops[s.stop].Cases[0].Rule == InTurn {
				return all
			}
		}
	}
	return all
}

func (s *simple) to(stop int) {
	if s.stop, s.said, s.back = stop, map[uuid.UUID]Verdict{}, false; stop == len(s.d.Stops) {
		s.stop, s.over = stop-1, Done
	}
}

func (s *simple) decide(p uuid.UUID, v Verdict, again Again) bool {
	if !slices.Contains(s.waiting(), p) {
		return false
	}
	a := s.d.Stops[s.stop].Cases[0]
	s.said[p], s.decided = v, true
	if v == Returns {
		switch {
		case a.Returned.To == ToEnd:
			s.over = Ended
		case a.Returned.To == ToStop:
			s.to(a.Returned.Stop - 1)
		default:
			if again == "" {
				again = a.Returned.Again
			}
			if s.back, s.again = true, 0; again == FromHere {
				s.again = s.stop
			}
		}
		return true
	}
	n := 0
	for _, v := range s.said {
		if v == Agrees {
			n++
		}
	}
	want := map[Rule]int{Some: a.Of, All: len(s.people()), InTurn: len(s.people()), Any: 1}[a.Rule]
	if n >= want {
		s.to(s.stop + 1)
	}
	return true
}

func (s *simple) revise(c Content) {
	switch {
	case s.over != "":
		return
	case s.back:
		s.to(s.again)
	case s.d.Content == Lapse:
		s.over = Lapsed
	case s.decided:
		s.to(0)
	}
	s.content = c
	if s.over == "" {
		s.decided = s.decided && s.stop > 0
	}
}

// Whatever happens in whatever order, a run stands where the slow reference says, its events make it
// again, also after they were written down and read, and it wakes whenever something is due.
func TestModel(t *testing.T) {
	for seed := range uint64(1500) {
		r := seeded(seed)
		everyone := []byte{ines, tomasz, priya}
		d := Definition{Name: "Random", Content: pick(r, AskAgain, Lapse)}
		for n := range 1 + r.IntN(3) {
			a := Action{Do: Approve, Rule: pick(r, Any, All, InTurn, Some), Of: 1 + r.IntN(2), Within: days(1 + r.IntN(3))}
			a.Returned = Returned{To: pick(r, ToAuthor, ToEnd), Again: pick(r, FromStart, FromHere)}
			if n > 0 && r.IntN(2) == 0 {
				a.Returned = Returned{To: ToStop, Stop: 1 + r.IntN(n)}
			}
			for _, i := range r.Perm(3)[:2+r.IntN(2)] {
				a.Who = append(a.Who, one(everyone[i]))
			}
			d.Stops = append(d.Stops, Stop{Cases: []Case{{Action: a}}})
		}
		m := began(d, world())
		s := &simple{d: d, content: third}
		s.to(0)
		for n := range 25 {
			m.World.Now = m.World.Now.Add(time.Duration(r.IntN(20)) * time.Hour)
			switch r.IntN(8) {
			case 0:
				c := Content{4 + n, strings.Repeat("x", n+1)}
				m.NewContent(c, id(luca))
				s.revise(c)
			case 1:
				if err := m.HandIn(ref(luca), ""); (err == nil) != s.back {
					t.Fatalf("seed %d: handed in, %v: %v, %+v", seed, s.back, err, m.Run)
				}
				if s.back {
					s.to(s.again)
				}
			case 2:
				m.Tick()
			default:
				p, v, again := id(pick(r, everyone...)), pick(r, Agrees, Agrees, Agrees, Returns), pick(r, "", FromHere)
				err := m.Decide(Said{Person: p, Verdict: v, Content: s.content, Note: "x"}, again)
				if (err == nil) != s.decide(p, v, again) {
					t.Fatalf("seed %d, step %d: %v", seed, n, err)
				}
			}
			var waiting []uuid.UUID
			for _, a := range m.Run.Waiting() {
				waiting = append(waiting, a.Person)
			}
			want := Going
			if s.over != "" {
				want = s.over
			}
			if !slices.Equal(waiting, s.waiting()) || m.Run.Status != want || want == Going && m.Run.At.Stop != s.stop {
				t.Fatalf("seed %d, step %d: %s at %d, waits for %v; the reference %s at %d, %v", seed, n, m.Run.Status, m.Run.At.Stop, waiting, want, s.stop, s.waiting())
			}
			if w := m.Wake(); len(waiting) > 0 && w == nil && slices.ContainsFunc(m.Run.Waiting(), func(a Asked) bool { return !a.Late }) {
				t.Fatalf("seed %d: nothing wakes it", seed)
			}
		}
		raw, err := json.Marshal(m.Events)
		if err != nil {
			t.Fatal(err)
		}
		var again []Event
		if err := json.Unmarshal(raw, &again); err != nil {
			t.Fatal(err)
		}
		if got := Replay(again); !reflect.DeepEqual(got, m.Run) {
			t.Fatalf("seed %d: replayed it is\n%+v, was\n%+v", seed, got, m.Run)
		}
	}
}

// Moving a run on is cheap: what a condition costs is seen in passing.
func BenchmarkConditions(b *testing.B) {
	d, f := release(), Facts{Particulars: map[uuid.UUID]string{id(estimate): "312400"}}
	for b.Loop() {
		d.Stops[1].fits(f)
	}
}

// signs is a route that has a document approved, signed, and then somebody told that it is ready to leave.
func signs() Definition {
	return Definition{Name: "Sign", Stops: []Stop{
		{Cases: []Case{{Action: Action{Do: Approve, Who: []Who{{Person: ref(ines)}}}}}},
		{Cases: []Case{{Action: Action{Do: Sign, Who: []Who{{Person: ref(priya)}}}}}},
		{Cases: []Case{{Action: Action{Do: Work, Who: []Who{{Person: ref(luca)}}}}}},
	}}
}

// A document stands at its signing until it bears all signatures. That each party's is a version of its own asks nobody to
// decide again.
func TestSigningIsAStop(t *testing.T) {
	m := began(signs(), world())
	agrees(t, m, ines)
	stands(t, m, "to be signed", Going, 1, priya)
	refused(t, "not signed, and not said how", "reason-missing-for-run", m.Decide(Said{Person: id(priya), Verdict: Agrees, Content: third, Note: " "}, ""))
	m.World.Facts.Sealed = true
	m.NewContent(Content{4, "aa01"}, id(priya))
	m.Look()
	stands(t, m, "one party has signed", Going, 1, priya)
	m.World.Facts.Signed = true
	m.NewContent(Content{5, "aa02"}, id(priya))
	m.Look()
	stands(t, m, "all have signed", Going, 2, luca)
	agrees(t, m, luca)
	stands(t, m, "through", Done, 2)
	if replayed := Replay(m.Events); !reflect.DeepEqual(replayed, m.Run) {
		t.Errorf("replayed it is %+v, want %+v", replayed, m.Run)
	}

	elsewhere := began(signs(), world())
	agrees(t, elsewhere, ines)
	if err := elsewhere.Decide(Said{Person: id(priya), Verdict: Agrees, Content: third, Note: "On paper, filed as 031."}, ""); err != nil {
		t.Fatal(err)
	}
	stands(t, elsewhere, "signed on paper", Going, 2, luca)

	back := began(signs(), world())
	agrees(t, back, ines)
	returns(t, back, priya)
	back.NewContent(Content{4, "bb01"}, id(luca))
	stands(t, back, "brought again", Going, 0, ines)

	before := world()
	before.Facts.Signed, before.Facts.Sealed = true, true
	m = began(signs(), before)
	agrees(t, m, ines)
	stands(t, m, "signed before it came there", Going, 2, luca)

	// Other content is decided on anew, whether it stood at its signing or not.
	m = began(signs(), world())
	agrees(t, m, ines)
	m.NewContent(Content{4, "cc01"}, id(luca))
	stands(t, m, "other content", Going, 0, ines)

	o := Simulate(signs(), world(), third, id(luca))
	if o.Status != Done || len(o.Steps) != 3 {
		t.Errorf("tried on the past it is %+v", o)
	}
}
