package route

import "github.com/google/uuid"

// Names are the people and groups that a definition names.
func (d Definition) Names() (all []uuid.UUID) {
	add := func(who []Who) {
		for _, w := range who {
			if w.Person != nil {
				all = append(all, *w.Person)
			}
			if w.Group != nil {
				all = append(all, *w.Group)
			}
		}
	}
	add(d.CallOff)
	for _, s := range d.Stops {
		for _, c := range s.Cases {
			add(c.Who)
			add(c.LateTell)
			add(c.LateAsk)
			for _, t := range gather(c.When, s.Only) {
				if id, err := uuid.Parse(t.Value); t.Of == OfAuthor && err == nil {
					all = append(all, id)
				}
			}
		}
	}
	return all
}

// People are those of whom a run speaks.
func (r Run) People() (all []uuid.UUID) {
	all = append(all, r.Author, r.Starter)
	if r.Back != nil {
		all = append(all, r.Back.To, r.Back.By)
	}
	add := func(asked []Asked) {
		for _, a := range asked {
			all = append(all, a.Person, a.Seat)
			if a.For != nil {
				all = append(all, *a.For)
			}
		}
	}
	add(r.Asked)
	for _, p := range r.Passed {
		add(p.Asked)
	}
	return all
}

// Concerns reports whether somebody has or had to do with a run.
func (r Run) Concerns(person uuid.UUID) bool { return has(r.People(), person) }

// Folders are those of which a definition speaks.
func (d Definition) Folders() (all []uuid.UUID) {
	add := func(id *uuid.UUID) {
		if id != nil && !has(all, *id) {
			all = append(all, *id)
		}
	}
	for _, s := range d.Starts {
		add(s.Folder)
	}
	for _, s := range d.Stops {
		for _, c := range s.Cases {
			add(c.Folder)
		}
	}
	return all
}
