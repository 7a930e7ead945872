package access

import "slices"

// SubjectKind says whom a grant is for.
type SubjectKind uint8

const (
	Person SubjectKind = iota
	Group
	// Everyone is everybody in the practice; guests do not belong to it.
	Everyone
)

// Subject is whom a grant is for. The id of Everyone is zero.
type Subject struct {
	Kind SubjectKind
	ID   ID
}

// Account is what access needs to know of a person.
type Account struct {
	ID ID
	// Outside marks guests: people who do not belong to the practice.
	Outside bool
}

// Membership puts a person or a group into a group.
type Membership struct {
	Group  ID
	Member Subject
}

// Touches reports whether the membership ends with a group: it is the group's, or
// puts the group into another one.
func (m Membership) Touches(group ID) bool {
	return m.Group == group || m.Member == Subject{Group, group}
}

// Circles knows who belongs to which groups.
type Circles struct {
	accounts map[ID]Account
	// above lists, for a person or a group, the groups it is directly in.
	above map[Subject][]ID
	// below lists a group's direct members.
	below map[Subject][]Subject
}

// NewCircles takes the active accounts and all memberships.
func NewCircles(accounts []Account, memberships []Membership) *Circles {
	c := &Circles{accounts: make(map[ID]Account, len(accounts)), above: map[Subject][]ID{}, below: map[Subject][]Subject{}}
	for _, a := range accounts {
		c.accounts[a.ID] = a
	}
	for _, m := range memberships {
		c.above[m.Member] = append(c.above[m.Member], m.Group)
		group := Subject{Group, m.Group}
		c.below[group] = append(c.below[group], m.Member)
	}
	return c
}

// Account returns an active account.
func (c *Circles) Account(person ID) (Account, bool) {
	a, ok := c.accounts[person]
	return a, ok
}

// Subjects lists what grants may be written for that count for a person: the
// person, each group they are in, also through others, and everyone. Somebody
// without an active account has none.
func (c *Circles) Subjects(person ID) []Subject {
	a, ok := c.accounts[person]
	if !ok {
		return nil
	}
	out := c.upward(Subject{Person, person})
	if !a.Outside {
		out = append(out, Subject{Kind: Everyone})
	}
	return out
}

// People lists the active accounts a subject stands for, in no order.
func (c *Circles) People(s Subject) []ID { return c.Everybody([]Subject{s}) }

// Everybody lists the active accounts that any of the subjects stands for, in no
// order.
func (c *Circles) Everybody(subjects []Subject) []ID {
	var out []ID
	seen := make(map[Subject]bool, len(subjects))
	todo := slices.Clone(subjects)
	for len(todo) > 0 {
		s := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		if seen[s] {
			continue
		}
		seen[s] = true
		switch s.Kind {
		case Person:
			if _, ok := c.accounts[s.ID]; ok {
				out = append(out, s.ID)
			}
		case Group:
			todo = append(todo, c.below[s]...)
		case Everyone:
			for id, a := range c.accounts {
				if !a.Outside {
					todo = append(todo, Subject{Person, id})
				}
			}
		}
	}
	return out
}

// Around lists a group and all groups that contain it.
func (c *Circles) Around(group ID) []Subject { return c.upward(Subject{Group, group}) }

// upward lists a subject and the groups that it is in, also through others.
func (c *Circles) upward(s Subject) []Subject {
	out := []Subject{s}
	seen := map[ID]bool{s.ID: true}
	for at := 0; at < len(out); at++ {
		for _, g := range c.above[out[at]] {
			if !seen[g] {
				seen[g] = true
				out = append(out, Subject{Group, g})
			}
		}
	}
	return out
}

// Through returns a shortest chain of groups that leads from a person to the
// subject, the subject's group last; nil where none is needed or there is none.
func (c *Circles) Through(person ID, to Subject) []ID {
	if to.Kind != Group {
		return nil
	}
	chains := [][]ID{nil}
	seen := map[ID]bool{}
	for len(chains) > 0 {
		chain := chains[0]
		chains = chains[1:]
		at := Subject{Person, person}
		if len(chain) > 0 {
			at = Subject{Group, chain[len(chain)-1]}
		}
		if at == to {
			return chain
		}
		for _, g := range c.above[at] {
			if !seen[g] {
				seen[g] = true
				chains = append(chains, append(slices.Clone(chain), g))
			}
		}
	}
	return nil
}

// WouldLoop reports whether a group that became the member of another one would
// contain itself.
func (c *Circles) WouldLoop(group, member ID) bool {
	seen, todo := map[ID]bool{}, []ID{group}
	for len(todo) > 0 {
		g := todo[0]
		todo = todo[1:]
		if g == member {
			return true
		}
		if !seen[g] {
			seen[g] = true
			todo = append(todo, c.above[Subject{Group, g}]...)
		}
	}
	return false
}
