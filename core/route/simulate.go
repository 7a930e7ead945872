package route

import (
	"time"

	"github.com/google/uuid"
)

// Step is a stop to which a run would have come: when, and who would have been asked, until when.
type Step struct {
	Place
	At    time.Time
	Asked []Asked
}

// Outcome is what would have become of a document.
type Outcome struct {
	// Starts says that the conditions of the route hold for it.
	Starts bool
	Steps  []Step
	Status Status
	Held   Reason
	End    time.Time
}

// Simulate says what would have become of a document that came at a moment, if everybody agreed at the end
// of the time that they are given. Nothing happens.
func Simulate(d Definition, w World, c Content, author uuid.UUID) (o Outcome) {
	if o.Starts = d.If.Holds(w.Facts); !o.Starts {
		return o
	}
	m := &Machine{Definition: d, World: w}
	m.Start(c, author, nil, "")
	for m.Run.Status == Going && m.onward(c) {
	}
	for _, e := range m.Events {
		if e.Kind == EvCame {
			s := Step{Place: *e.Place, At: e.At}
			for _, a := range e.Asks {
				one := a.Asked
				if a.Due != nil {
					one.Due = *a.Due
				}
				s.Asked = append(s.Asked, one)
			}
			o.Steps = append(o.Steps, s)
		}
	}
	o.Status, o.Held, o.End = m.Run.Status, m.Run.Held, m.World.Now
	return o
}

// onward takes a simulated run on by a step, and reports whether it could.
func (m *Machine) onward(c Content) bool {
	if m.Definition.action(m.Run.At).Automatic() {
		m.Did("")
		return true
	}
	if m.Run.Until != nil {
		m.World.Now = *m.Run.Until
		m.Tick()
		return true
	}
	waiting := m.Run.Waiting()
	if len(waiting) == 0 {
		return false
	}
	if due := waiting[0].Due; due.After(m.World.Now) {
		m.World.Now = due
	}
	a := m.Definition.action(m.Run.At)
	if a.Do == Hold || a.Do == Fill {
		return false
	}
	said := Said{Person: waiting[0].Person, Verdict: Agrees, Content: c}
	if a.Do == Sign {
		said.Note = string(Sign)
	}
	return m.Decide(said, "") == nil
}
