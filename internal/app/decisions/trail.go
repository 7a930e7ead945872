package decisions

import (
	"context"
	"slices"
	"time"

	"tabularis/core/looks"
	"tabularis/core/route"
	"tabularis/core/working"
)

// StopState is what has become of a stop of a run.
type StopState string

// A stop was passed, passed by, or skipped; the run stands at it, is held up there or was returned from
// there; or it lies ahead.
const (
	StopPassed  StopState = "passed"
	StopBy      StopState = "by"
	StopSkipped StopState = "skipped"
	StopNow     StopState = "now"
	StopHeld    StopState = "held"
	StopBack    StopState = "back"
	StopAhead   StopState = "ahead"
)

// Stop is a stop of a run: what is done there, who decided, and in how many working days.
type Stop struct {
	Number, Case int
	Do           route.Doing
	State        StopState
	Who          []string
	Days         float64
	Till         *time.Time
}

// Stops are the stops of a run on the way that counts.
func (l Line) Stops() (all []Stop) {
	latest := map[int]route.Passed{}
	m := route.Machine{Definition: l.Definition, Run: l.Run}
	for _, p := range append(m.Latest(), m.PassedBy()...) {
		latest[p.Stop] = p
	}
	for i, s := range l.Definition.Stops {
		one := Stop{Number: i + 1, Do: s.Cases[0].Do, State: StopAhead}
		if len(s.Cases) > 1 {
			one.Case = 1
		}
		p, passed := latest[i]
		switch {
		case l.Run.Status.Open() && i == l.Run.At.Stop:
			one.State = l.standsAt()
			one.at(s, l.Run.At.Case)
		case passed:
			one.State = map[route.How]StopState{route.PassedBy: StopBy, route.Skipped: StopSkipped}[p.How]
			if one.State == "" {
				one.State = StopPassed
			}
			one.at(s, p.Case)
			one.Till = &p.Till
			if l.Days != nil {
				one.Days = l.Days(p.Since, p.Till)
			}
			for _, said := range p.Said {
				one.Who = append(one.Who, l.Names[said.Person])
			}
		}
		all = append(all, one)
	}
	return all
}

func (s *Stop) at(stop route.Stop, n int) {
	s.Do = stop.Cases[n].Do
	if len(stop.Cases) > 1 {
		s.Case = n + 1
	}
}

func (l Line) standsAt() StopState {
	switch {
	case l.Run.Back != nil:
		return StopBack
	case l.Run.Status == route.HeldUp:
		return StopHeld
	}
	return StopNow
}

// HeldBy is the code of the refusal that holds a run up, if one does.
func (l Line) HeldBy() string {
	if l.Run.Held == "" {
		return ""
	}
	return why(l.events)
}

// Entry is one thing that has happened to a run, with names.
type Entry struct {
	Kind         route.EventKind
	At           time.Time
	By, From     string
	To           []string
	Stop, Case   int
	Do           route.Doing
	Verdict      route.Verdict
	Note, Reason string
	Version, Of  int
	SHA256, Seen string
	Status       route.Status
	How          route.How
	Due          *time.Time
}

// Trail is what has happened to a run, in order, with the stop at which it did.
func (s Shown) Trail() (all []Entry) {
	r := route.Run{}
	for _, e := range s.Events {
		was := r
		r = r.Apply(e)
		one := Entry{Kind: e.Kind, At: e.At, Note: e.Note, Reason: string(e.Reason), Status: e.Status, How: e.How, Due: e.Due}
		at := was
		if e.Kind == route.EvCame {
			at = r
		}
		if at.Visit > 0 {
			one.Stop = at.At.Stop + 1
			stop := s.Definition.Stops[at.At.Stop]
			one.Do = stop.Cases[at.At.Case].Do
			if len(stop.Cases) > 1 {
				one.Case = at.At.Case + 1
			}
		}
		if e.How == route.PassedBy {
			one.Stop, one.Case, one.Do = e.Place.Stop+1, 0, s.Definition.Stops[e.Place.Stop].Cases[0].Do
		}
		s.name(&one, e)
		all = append(all, one)
	}
	return all
}

func (s Shown) name(one *Entry, e route.Event) {
	if e.By != nil {
		one.By = s.Names[*e.By]
	}
	if e.Kind == route.EvContent && e.Author != nil {
		one.By = s.Names[*e.Author]
	}
	if e.From != nil {
		one.From = s.Names[*e.From]
	}
	if e.To != nil {
		one.To = append(one.To, s.Names[*e.To])
	}
	for _, a := range e.Asks {
		if a.Due != nil {
			one.To, one.Due = append(one.To, s.Names[a.Person]), a.Due
		}
	}
	if one.Due != nil && one.Due.IsZero() {
		one.Due = nil
	}
	if e.Content != nil {
		one.Version, one.SHA256 = e.Content.Version, e.Content.SHA256
	}
	if said := e.Said; said != nil {
		one.Verdict, one.Note, one.Version, one.SHA256, one.Seen, one.Of = said.Verdict, said.Note, said.Content.Version, said.Content.SHA256, looks.Pages(said.Pages).String(), said.Of
	}
}

// Instructions are what is said to whoever is asked where the run stands.
func (l Line) Instructions() string {
	if !l.Run.Status.Open() || l.Run.Visit == 0 {
		return ""
	}
	return l.Definition.Stops[l.Run.At.Stop].Cases[l.Run.At.Case].Instructions
}

// counter counts working days.
func (s *Service) counter(ctx context.Context) (func(from, till time.Time) float64, error) {
	c, err := s.Calendar(ctx, s.Acts.DB)
	return func(from, till time.Time) float64 { return c.Between(from, till, working.InDays) }, err
}

// why is the code of the refusal that holds a run up.
func why(events []route.Event) string {
	i := len(events) - 1
	for ; i >= 0 && events[i].Kind != route.EvHeld; i-- {
	}
	if i < 0 {
		return ""
	}
	return events[i].Note
}

// Times are how long stops take: how often, within how many working days half and 9 of 10 were passed.
type Times struct {
	N          int
	Half, Most float64
}

// quantiles are those of working days.
func quantiles(days []float64) Times {
	slices.Sort(days)
	if len(days) == 0 {
		return Times{}
	}
	at := func(share float64) float64 { return days[min(len(days)-1, int(share*float64(len(days))))] }
	return Times{len(days), at(0.5), at(0.9)}
}
