package sharing

import (
	"context"
	"slices"
	"time"

	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Effect is what a change means for one person. Person is empty for somebody
// who is to be invited.
type Effect struct {
	access.Effect
	Name    string
	Invited bool
}

// Consequence is what a change would mean, before it is made.
type Consequence struct {
	// Documents is how many the change is about.
	Documents int
	Effects   []Effect
	// Links counts the open links through which whoever has them would reach it.
	Links int
}

// Draft is what giving would be and do.
type Draft struct {
	Sentence terms.Sentence
	Invited  []string
	// Own is when the giver's own right to give this ends, if it does.
	Own *time.Time
	Consequence
}

// Draft says what the wish would mean.
func (s *Service) Draft(ctx context.Context, w Wish) (Draft, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	p, err := s.check(ctx, q, w, now)
	if err != nil {
		return Draft{}, err
	}
	practice, zone, err := practice.PracticeZone(ctx, q)
	if err != nil {
		return Draft{}, err
	}
	d := Draft{Sentence: p.sentence(terms.Voice{Language: act.Who(ctx).Language, Zone: zone, Now: now}, practice.Name), Own: p.own}
	var totals tally
	for _, r := range p.to {
		if r.invite || r.unknown {
			d.Invited = append(d.Invited, r.email)
		}
	}
	for _, item := range p.items {
		n, err := s.give(ctx, q, &totals, item, p, now)
		if err != nil {
			return Draft{}, err
		}
		d.Documents += n
		for _, email := range d.Invited {
			totals.add(Effect{Effect: access.Effect{Gains: n, Outside: true}, Name: email, Invited: true})
		}
	}
	d.Effects, err = totals.named(ctx, q)
	return d, err
}

func (p plan) sentence(v terms.Voice, practice string) terms.Sentence {
	a := terms.Access{Level: string(p.wish.Terms.Level), May: p.wish.Terms.OwnSet.Names(), Until: p.wish.Terms.Until, Onward: p.wish.Terms.Onward}
	for _, r := range p.to {
		name := r.name
		if r.subject.Kind == access.Everyone {
			name = terms.Everyone(v.Language, practice)
		}
		a.Who = append(a.Who, name)
	}
	folders := 0
	var names []string
	for _, i := range p.items {
		names = append(names, i.Name)
		if i.Item.Kind == items.Folder {
			folders++
		}
	}
	a.What = terms.Things(v.Language, names, folders)
	return a.Sentence(v)
}

// give adds up what giving on one item would mean.
func (s *Service) give(ctx context.Context, q postgres.Q, totals *tally, item guard.Sight, p plan, now time.Time) (int, error) {
	change := access.Plan{}
	for _, r := range p.to {
		if !r.invite && !r.unknown {
			g := p.wish.Terms.grant()
			g.Item, g.Subject = access.ID(item.ID), r.subject
			change.Add = append(change.Add, g)
		}
	}
	return s.compare(ctx, q, totals, item, change, now)
}

// tally adds up effects by person; those who are to be invited are known by
// their addresses.
type tally struct {
	all []Effect
	at  map[whom]int
}

type whom struct {
	person access.ID
	name   string
}

func (t *tally) add(e Effect) {
	if t.at == nil {
		t.at = map[whom]int{}
	}
	at, known := t.at[whom{e.Person, e.Name}]
	if !known {
		t.at[whom{e.Person, e.Name}] = len(t.all)
		t.all = append(t.all, e)
		return
	}
	x := &t.all[at]
	x.Gains, x.Loses, x.Caps, x.Could = x.Gains+e.Gains, x.Loses+e.Loses, x.Caps+e.Caps, x.Could+e.Could
}

// compare adds up whom a change of a dossier's access, or of groups, concerns, and
// returns how many documents it is about.
func (t *tally) compare(before, after *access.Forest, was, will *access.Circles, people []access.ID, weights map[access.ID]int, now time.Time) (documents int) {
	for _, n := range weights {
		documents += n
	}
	for _, e := range access.Compare(before, after, was, will, people, weights, now) {
		t.add(Effect{Effect: e})
	}
	return documents
}

// lose adds what somebody can open of so many documents by root, and no longer will.
func (t *tally) lose(f *access.Forest, c *access.Circles, person access.ID, weights map[access.ID]int, now time.Time) {
	subjects, n := c.Subjects(person), 0
	for root, documents := range weights {
		if f.Decide(root, subjects, now).Caps.Has(access.See) {
			n += documents
		}
	}
	if n > 0 {
		account, _ := c.Account(person)
		t.add(Effect{Effect: access.Effect{Person: person, Outside: account.Outside, Loses: n, Could: n}})
	}
}

// named gives the effects their people's names: those outside first, then by
// how much they gain or lose.
func (t *tally) named(ctx context.Context, q postgres.Q) ([]Effect, error) {
	var ids []uuid.UUID
	for _, e := range t.all {
		ids = append(ids, uuid.UUID(e.Person))
	}
	people, err := accounts.PeopleByID(ctx, q, ids)
	if err != nil {
		return nil, err
	}
	for _, p := range people {
		if at, ok := t.at[whom{person: access.ID(p.ID)}]; ok {
			t.all[at].Name = p.Name
		}
	}
	slices.SortStableFunc(t.all, func(a, b Effect) int {
		if a.Outside != b.Outside {
			if a.Outside {
				return -1
			}
			return 1
		}
		return (b.Gains + b.Loses) - (a.Gains + a.Loses)
	})
	return t.all, nil
}

// compare says what a plan on an item would mean, and on how many documents. An
// item that is no root yet becomes one in the plan.
func (s *Service) compare(ctx context.Context, q postgres.Q, totals *tally, item guard.Sight, p access.Plan, now time.Time) (int, error) {
	before, c, err := s.Access.Dossier(ctx, q, item.DossierID)
	if err != nil {
		return 0, err
	}
	weights := map[access.ID]int{}
	if item.Root != item.ID {
		n, err := s.newRoot(ctx, q, item, &p)
		if err != nil {
			return 0, err
		}
		weights[access.ID(item.ID)] = n
	}
	after, err := before.With(p)
	if err != nil {
		return 0, err
	}
	seen := visible(before, after.Below(access.ID(item.ID)), access.ID(item.ID), c.Subjects(access.ID(act.Who(ctx).Person.ID)), now)
	if err := addWeights(ctx, q, weights, seen, access.ID(item.ID), item.Root == item.ID); err != nil {
		return 0, err
	}
	return totals.compare(before, after, c, c, concerned(before, after, c, p), weights, now), nil
}

// visible leaves those of the roots on an item and below it that somebody sees: what
// a change means is counted in documents that whoever asks knows of. The item
// itself was found for them.
func visible(f *access.Forest, roots []access.ID, item access.ID, subjects []access.Subject, now time.Time) []access.ID {
	return slices.DeleteFunc(roots, func(id access.ID) bool {
		return id != item && !f.Decide(id, subjects, now).Caps.Has(access.See)
	})
}

// concerned lists whom a plan can concern: those for whom something is given or
// ended, and everybody in the dossier where an item is closed or opened.
func concerned(before, after *access.Forest, c *access.Circles, p access.Plan) []access.ID {
	if p.Close != nil || p.Open != nil {
		return c.Everybody(append(before.Subjects(), after.Subjects()...))
	}
	var subjects []access.Subject
	for _, g := range p.Add {
		subjects = append(subjects, g.Subject)
	}
	for _, id := range p.Remove {
		if s, ok := before.SubjectOf(id); ok {
			subjects = append(subjects, s)
		}
	}
	return c.Everybody(subjects)
}

// newRoot adds to the plan that the item becomes a root, and counts what it will
// decide.
func (s *Service) newRoot(ctx context.Context, q postgres.Q, item guard.Sight, p *access.Plan) (int, error) {
	root := access.Root{ID: access.ID(item.ID), Parent: access.ID(item.Root)}
	if item.Item.Kind == items.Document {
		root.Folder = access.ID(*item.ParentID)
		p.NewRoot = &root
		return 1, nil
	}
	below, err := guard.RootsBelow(ctx, q, item.ID, item.Root)
	if err != nil {
		return 0, err
	}
	for _, id := range below {
		p.Below = append(p.Below, access.ID(id))
	}
	p.NewRoot = &root
	return guard.WeightUnder(ctx, q, item.Item, item.Root)
}

// addWeights counts the documents that each of the roots decides.
func addWeights(ctx context.Context, q postgres.Q, weights map[access.ID]int, roots []access.ID, item access.ID, counted bool) error {
	var ids []uuid.UUID
	for _, r := range roots {
		if r != item || counted {
			ids = append(ids, uuid.UUID(r))
		}
	}
	counts, err := guard.Weights(ctx, q, ids)
	for root, n := range counts {
		weights[access.ID(root)] = n
	}
	return err
}

// What is a change of access that is not made yet: one of its parts is set.
type What struct {
	// End is a grant to be ended; Close and Open an item.
	End         *uuid.UUID
	Close, Open *uuid.UUID
	// Move are items to be moved, or brought back from what was deleted.
	Move *Move
	// Copy are items to be copied.
	Copy *Move
	// Delete are items to be deleted.
	Delete []uuid.UUID
	// Join and Leave change who is in a group, RemoveGroup removes one.
	Join, Leave *Membership
	RemoveGroup *uuid.UUID
}

// WhatIf says what ending, closing, opening or moving would mean.
func (s *Service) WhatIf(ctx context.Context, w What) (Consequence, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	var item uuid.UUID
	var p access.Plan
	need := access.Manage
	switch {
	case w.Move != nil:
		return s.whatIfMoved(ctx, *w.Move)
	case w.Copy != nil:
		return s.whatIfCopied(ctx, *w.Copy)
	case w.Delete != nil:
		return s.whatIfDeleted(ctx, w.Delete)
	case w.Join != nil || w.Leave != nil || w.RemoveGroup != nil:
		return s.whatIfGrouped(ctx, w)
	case w.End != nil:
		g, err := guard.GrantByID(ctx, q, *w.End)
		if err != nil {
			return Consequence{}, err
		}
		item, need = g.ItemID, 0
		p.Remove = []access.ID{access.ID(g.ID)}
	case w.Close != nil:
		item = *w.Close
		id := access.ID(item)
		p.Close = &id
	case w.Open != nil:
		item = *w.Open
		id := access.ID(item)
		p.Open = &id
	default:
		return Consequence{}, errWhatIfEmpty.In("", "say what is to be done")
	}
	sight, err := s.Access.Item(ctx, q, item, need, now)
	if err != nil {
		return Consequence{}, err
	}
	var out Consequence
	var totals tally
	if out.Documents, err = s.compare(ctx, q, &totals, sight, p, now); err != nil {
		return out, err
	}
	out.Effects, err = totals.named(ctx, q)
	return out, err
}
