// Package decisions lets documents be decided on: approval is asked by hand or by a route, people decide
// on exactly the content they saw, and what a route does by itself happens once.
package decisions

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/route"
	"tabularis/core/working"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/particulars"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/tags"
	"tabularis/internal/platform/jobs"
)

// Service lets documents be decided on.
type Service struct {
	Acts        *act.Runner
	Access      *guard.Guard
	Sharing     *sharing.Service
	Particulars *particulars.Service
	Tags        *tags.Service
	Links       *links.Service
	// Known are the people whom somebody may name.
	Known   func(ctx context.Context) ([]accounts.Person, error)
	BaseURL string
	// Placed refuses to act for a route, within an act of whoever placed it, that is no longer theirs to
	// let act. StartOther starts a route on a document. StartBy starts the routes that an event starts.
	Placed     func(ctx context.Context, tx *act.Tx, route uuid.UUID) error
	StartOther func(ctx context.Context, tx *act.Tx, route uuid.UUID, at guard.Located, depth int) error
	StartBy    func(ctx context.Context, job jobs.Heed) error
}

// deepest is how many routes may start each other.
const deepest = 8

// Wish is what somebody asks for about documents.
type Wish struct {
	Documents []uuid.UUID
	Do        route.Doing
	Who       []route.Who
	Rule      route.Rule
	Of        int
	Within    *working.Span
	Remind    *working.Span
	LateTell  []route.Who
	Message   string
	// MoveTo is the folder into which a document is moved once it is approved.
	MoveTo *uuid.UUID
	// Gives lets those see the documents who cannot open them.
	Gives bool
}

// mostDocuments is for how many documents one act asks.
const mostDocuments = 100

// definition is the route that a wish is.
func (w Wish) definition() route.Definition {
	a := route.Action{Do: w.Do, Who: w.Who, Rule: w.Rule, Of: w.Of, NotAuthor: true, Within: w.Within, Remind: w.Remind, LateTell: w.LateTell, Instructions: w.Message,
		Returned: route.Returned{To: route.ToStarter}}
	d := route.Definition{Name: "by hand", Content: route.Lapse, Starts: []route.Start{{On: route.ByHand}}, Stops: []route.Stop{{Cases: []route.Case{{Action: a}}}}}
	if w.MoveTo != nil {
		d.Stops = append(d.Stops, route.Stop{Cases: []route.Case{{Action: route.Action{Do: route.Move, Folder: w.MoveTo}}}})
	}
	return d
}

// asking is a wish that was looked at: the documents, and what it would mean.
type asking struct {
	wish   Wish
	sights []guard.Sight
	// lacks are those who are asked and cannot open all documents, with how many they cannot.
	lacks map[uuid.UUID]int
}

// check refuses what cannot be asked: documents that the acting person may not change, on which a
// decision is under way, and words that do not hold.
func (s *Service) check(ctx context.Context, tx *act.Tx, w Wish, lock bool) (a asking, err error) {
	a = asking{wish: w, lacks: map[uuid.UUID]int{}}
	if len(w.Documents) == 0 || len(w.Documents) > mostDocuments {
		return a, errDocuments.In("documents", "choose between 1 and %d documents", mostDocuments)
	}
	if tx.Actor.Person == nil {
		return a, fault.SignedOut()
	}
	for _, id := range guard.Sorted(w.Documents) {
		if lock {
			if _, err := tree.HoldDocument(ctx, tx, s.Access, id, access.See|access.Change); err != nil {
				return a, err
			}
		}
		sight, err := s.Access.Kind(ctx, tx, id, items.Document, access.See|access.Change, tx.Now)
		if err != nil {
			return a, err
		}
		a.sights = append(a.sights, sight)
	}
	return a, s.sound(ctx, tx, w)
}

// sound refuses words of a wish that do not hold.
func (s *Service) sound(ctx context.Context, tx *act.Tx, w Wish) error {
	known, err := s.Known(ctx)
	if err != nil {
		return err
	}
	k := route.Known{People: map[uuid.UUID]bool{}, Groups: map[uuid.UUID]int{}, Folders: map[uuid.UUID]route.Folder{}, Sees: func(uuid.UUID) bool { return true }}
	for _, p := range known {
		k.People[p.ID] = p.DeactivatedAt == nil
	}
	circles, err := s.Access.Circles(ctx, tx)
	if err != nil {
		return err
	}
	if tx.Actor.Person.Inside() {
		for _, who := range slices.Concat(w.Who, w.LateTell) {
			if who.Group != nil {
				k.Groups[*who.Group] = len(members(circles, *who.Group))
			}
		}
	}
	if w.MoveTo != nil {
		if _, err := s.Access.Kind(ctx, tx, *w.MoveTo, items.Folder, access.Add, tx.Now); err != nil {
			return err
		}
		k.Folders[*w.MoveTo] = route.Folder{Adds: true}
	}
	if w.Do != route.Approve && w.Do != route.Review && w.Do != route.Work {
		return errWord.In("do", "ask to approve, to review or to do something")
	}
	for _, p := range route.Check(w.definition(), k) {
		return errWord.In(fieldOf(p.At), "that does not hold: %s", p.Code)
	}
	return nil
}

// Draft is what a wish would mean.
type Draft struct {
	Documents []Subject
	// Asked are whom it asks, as far as they can be, with until when; of several documents, of the first.
	Asked []Asked
	// Ends is when all would have decided at the latest, by each rule.
	Ends map[route.Rule]time.Time
	// Authors brought one of the documents, and are not asked about it.
	Authors []accounts.Person
	// Lacks are those who cannot open some of the documents; Gives says that the acting person can give
	// them access.
	Lacks []Lacking
	Gives bool
}

// Subject is a document with the content that would be decided on.
type Subject struct {
	guard.Sight
	UnderWay bool
}

// Asked is somebody who is asked.
type Asked struct {
	route.Asked
	Name string
	// For is the name of whom they stand in for; Away is when they are away.
	For  string
	Away *working.Absence
}

// Lacking is somebody who cannot open some documents.
type Lacking struct {
	Person accounts.Person
	N      int
}

// Draft says what a wish would mean. It changes nothing.
func (s *Service) Draft(ctx context.Context, w Wish) (out Draft, err error) {
	return out, s.Acts.Do(ctx, func(tx *act.Tx) error {
		a, err := s.check(ctx, tx, w, false)
		if err != nil {
			return err
		}
		out = Draft{Ends: map[route.Rule]time.Time{}}
		authors := map[uuid.UUID]bool{}
		for i, sight := range a.sights {
			world, err := s.World(ctx, tx, sight.Located)
			if err != nil {
				return err
			}
			if err := s.foresee(ctx, tx, &a, &out, sight, world, i == 0, authors); err != nil {
				return err
			}
		}
		return s.complete(ctx, tx, a, &out, authors)
	})
}

// foresee adds what a wish would mean for one document.
func (s *Service) foresee(ctx context.Context, tx *act.Tx, a *asking, out *Draft, sight guard.Sight, world route.World, first bool, authors map[uuid.UUID]bool) error {
	open, err := openRuns(ctx, tx, sight.ID)
	if err != nil {
		return err
	}
	out.Documents = append(out.Documents, Subject{sight, len(open) > 0})
	here := world.Here
	m := route.Machine{Definition: a.wish.definition(), World: world}
	for _, person := range m.Resolve(a.wish.Who) {
		if person == world.Facts.Author {
			authors[person] = true
		} else if !here(person) {
			a.lacks[person]++
		}
	}
	if !first {
		return nil
	}
	// Whoever is asked is given what they need.
	world.Here = func(person uuid.UUID) bool { return true }
	asked, _ := route.Foresee(a.wish.definition(), world, content(sight.Located), world.Facts.Author, tx.Actor.Person.ID)
	for _, one := range asked {
		shown := Asked{Asked: one}
		for _, away := range world.Away(one.Person) {
			if shown.Away == nil && world.Calendar.Date(one.Due) >= away.From {
				shown.Away = &away
			}
		}
		out.Asked = append(out.Asked, shown)
	}
	for _, rule := range []route.Rule{route.Any, route.All, route.InTurn, route.Some} {
		w := a.wish
		w.Rule, w.Of = rule, max(1, w.Of)
		if _, end := route.Foresee(w.definition(), world, content(sight.Located), world.Facts.Author, tx.Actor.Person.ID); !end.IsZero() {
			out.Ends[rule] = end
		}
	}
	return nil
}

// complete names the people of a draft.
func (s *Service) complete(ctx context.Context, tx *act.Tx, a asking, out *Draft, authors map[uuid.UUID]bool) error {
	var ids []uuid.UUID
	for _, one := range out.Asked {
		ids = append(ids, one.Person)
		if one.Asked.For != nil {
			ids = append(ids, *one.Asked.For)
		}
	}
	for person := range authors {
		ids = append(ids, person)
	}
	for person := range a.lacks {
		ids = append(ids, person)
	}
	people, err := accounts.PeopleByID(ctx, tx, ids)
	if err != nil {
		return err
	}
	byID := map[uuid.UUID]accounts.Person{}
	for _, p := range people {
		byID[p.ID] = p
		if authors[p.ID] {
			out.Authors = append(out.Authors, p)
		}
		if n := a.lacks[p.ID]; n > 0 {
			out.Lacks = append(out.Lacks, Lacking{p, n})
		}
	}
	for i, one := range out.Asked {
		out.Asked[i].Name = byID[one.Person].Name
		if one.Asked.For != nil {
			out.Asked[i].For = byID[*one.Asked.For].Name
		}
	}
	out.Gives = !slices.ContainsFunc(a.sights, func(s guard.Sight) bool { return !s.Caps.Has(access.Share) })
	return nil
}

// Ask asks for a decision on documents, each by a run of its own, and gives whoever cannot open them
// access if that is wished. It happens for all of them or for none.
func (s *Service) Ask(ctx context.Context, w Wish) (runs []uuid.UUID, err error) {
	return runs, s.Acts.Do(ctx, func(tx *act.Tx) error {
		runs = nil
		a, err := s.check(ctx, tx, w, true)
		if err != nil {
			return err
		}
		raw, err := json.Marshal(w.definition())
		if err != nil {
			return err
		}
		me := tx.Actor.Person.ID
		e := Edition{ID: uuid.Must(uuid.NewV7()), Number: 1, Raw: raw, MadeBy: me, MadeAt: tx.Now}
		if err := AddEdition(ctx, tx, e); err != nil {
			return err
		}
		for _, sight := range a.sights {
			id, err := s.askOne(ctx, tx, a, sight, e)
			if err != nil {
				return err
			}
			runs = append(runs, id)
		}
		return nil
	})
}

func (s *Service) askOne(ctx context.Context, tx *act.Tx, a asking, sight guard.Sight, e Edition) (uuid.UUID, error) {
	open, err := openRuns(ctx, tx, sight.ID)
	if err != nil {
		return uuid.Nil, err
	}
	if len(open) > 0 {
		return uuid.Nil, errUnderWay.In("documents", "a decision on %s is asked for already", sight.Ref())
	}
	if sight.Located, err = s.letIn(ctx, tx, a, sight); err != nil {
		return uuid.Nil, err
	}
	me := tx.Actor.Person.ID
	t, err := s.begin(ctx, tx, sight.Located, e, Beginning{By: &me, ActsFor: me})
	if err != nil {
		return uuid.Nil, err
	}
	if len(t.Run.Waiting()) == 0 {
		return uuid.Nil, errNobody.In("who", "nobody is left to be asked about %s", sight.Ref())
	}
	return t.ID, nil
}

// letIn gives those access who are asked about a document and cannot open it.
func (s *Service) letIn(ctx context.Context, tx *act.Tx, a asking, sight guard.Sight) (guard.Located, error) {
	world, err := s.World(ctx, tx, sight.Located)
	if err != nil {
		return sight.Located, err
	}
	m := route.Machine{Definition: a.wish.definition(), World: world}
	var to []sharing.Recipient
	for _, person := range m.Resolve(a.wish.Who) {
		if !world.Here(person) && person != world.Facts.Author {
			to = append(to, sharing.Recipient{Kind: access.Person, ID: person})
		}
	}
	if len(to) == 0 {
		return sight.Located, nil
	}
	if !a.wish.Gives || !sight.Caps.Has(access.Share) {
		return sight.Located, errWithout.In("who", "%d of those who are asked cannot open %s", len(to), sight.Ref())
	}
	wish := sharing.Wish{Items: []uuid.UUID{sight.ID}, To: to, Terms: sharing.Terms{Level: access.LevelRemark}, Message: a.wish.Message}
	if err := s.Sharing.GiveIn(ctx, tx, wish); err != nil {
		return sight.Located, err
	}
	return guard.SightOf(ctx, tx, sight.ID, tx.Now)
}

// fields are those of a wish, by the words of a definition.
var fields = []struct{ word, field string }{
	{"/who", "who"}, {"/rule", "rule"}, {"/of", "of"}, {"/within", "within"}, {"/remind", "remind"}, {"/lateTell", "lateTell"}, {"/instructions", "message"}, {"/folder", "moveTo"},
}

// fieldOf is the field of a wish at which a word of its definition stands.
func fieldOf(at string) string {
	for _, f := range fields {
		if strings.Contains(at, f.word) {
			return f.field
		}
	}
	return "do"
}
