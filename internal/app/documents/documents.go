// Package documents shows documents, gives out their content, and keeps
// versions apart.
package documents

import (
	"context"
	"fmt"
	"io"
	"slices"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/core/keeping"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/checkout"
	"tabularis/internal/app/decisions"
	"tabularis/internal/app/dossiers"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	history "tabularis/internal/app/versions"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/reading"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/core/register"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/archive"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/secret"
)

// Service shows documents.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Items    *tree.Service
	Links    *links.Service
	Dossiers *dossiers.Service
	Contents *tree.Contents
	Pages    *pages.Maker
	// Beside are the pictures that stand in a text, for whoever asks.
	Beside func(ctx context.Context, of items.Item, text reading.Source) ([]reading.Beside, error)
	// Put brings content in as a document of a folder, as an upload does.
	Put func(ctx context.Context, folder uuid.UUID, name string, size int64, r io.Reader) (uuid.UUID, error)
	// EventsOf is what happened to documents, as far as the acting person may know it, as files of a bag.
	EventsOf func(ctx context.Context, documents []uuid.UUID) ([]archive.Tag, error)
	// TagsOf are the practice's tags on a document.
	TagsOf func(ctx context.Context, q postgres.Q, document uuid.UUID) ([]string, error)
}

// Slip is all that is shown beside a chosen document.
type Slip struct {
	items.Item
	Code       string
	FolderName string
	Caps       access.Caps
	Door       access.Door
	Closed     bool
	MayDelete  bool
	// Look is how the acting person can look at it.
	Look     preview.Look
	Ends     *time.Time
	Versions []tree.NamedVersion
	// Held is who has it in hand, Waits that the acting person is told when it is free.
	Held  *checkout.Held
	Waits bool
	// State is what has become of it by decisions; nil is a draft.
	State *decisions.Standing
	// Rule says which versions are kept, Next when it removes one, Folds into which version
	// each automatic save folds.
	Rule  versions.Rule
	Next  *time.Time
	Folds map[int]int
	// Kept is for how long removed versions can be put back, Now when that was asked.
	Kept       keeping.Period
	Now        time.Time
	Links      []links.Shown
	Events     []events.Named
	EventCount int
}

// Separable reports whether a version can be kept apart.
func (s Slip) Separable(number int) bool {
	return s.Caps.Has(access.Add|access.Change) && versions.MaySeparate(tree.Plain(s.Versions), number)
}

// Removable reports whether the acting person may take a version out of the list.
func (s Slip) Removable(v tree.NamedVersion, me uuid.UUID) bool {
	return s.Caps.Has(access.Change) && s.Caps.Deletes(v.PersonID != nil && *v.PersonID == me) && versions.MayRemove(tree.Plain(s.Versions), v.Number) == nil
}

// Restorable reports whether they may put it back.
func (s Slip) Restorable(v tree.NamedVersion, me uuid.UUID) bool {
	return s.Caps.Has(access.Change) && (s.Caps.Deletes(v.PersonID != nil && *v.PersonID == me) || v.RemovedBy != nil && *v.RemovedBy == me)
}

// Open shows a document.
func (s *Service) Open(ctx context.Context, id uuid.UUID) (Slip, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	sight, err := s.Access.Kind(ctx, q, id, items.Document, access.See, now)
	if err != nil {
		return Slip{}, err
	}
	slip := Slip{Item: sight.Item, Code: sight.Code, Caps: sight.Caps, Closed: sight.Zone == id, Ends: sight.Ends, MayDelete: sight.MayDelete(act.Who(ctx).Person.ID),
		Look: s.Pages.Look(sight.Item.MediaType, sight.Caps.Has(access.Download))}
	if slip.Door, err = s.Access.Door(ctx, q, sight.Located, sight.Root, now); err != nil {
		return Slip{}, err
	}
	folder, err := tree.ItemByID(ctx, q, *sight.Item.ParentID)
	if err != nil {
		return Slip{}, err
	}
	slip.FolderName = folder.Name
	if slip.Versions, err = s.history(ctx, q, id, now); err != nil {
		return Slip{}, err
	}
	if err := s.inHand(ctx, q, &slip); err != nil {
		return Slip{}, err
	}
	decided, err := decisions.Standings(ctx, q, []items.Item{sight.Item})
	if err != nil {
		return Slip{}, err
	}
	if st, ok := decided[id]; ok {
		slip.State = &st
	}
	p, err := practice.ThePractice(ctx, q)
	if err != nil {
		return Slip{}, err
	}
	slip.Kept, slip.Now = p.Keeping(), now
	if slip.Rule, slip.Next, err = history.Next(ctx, q, slip.Item, now); err != nil {
		return Slip{}, err
	}
	slip.Folds = versions.Fold(tree.Plain(slip.Versions), versions.Sitting(p.SittingMinutes))
	// What was removed is shown to whom it could come back for, as long as it can.
	slip.Versions = slices.DeleteFunc(slip.Versions, func(v tree.NamedVersion) bool {
		return v.RemovedAt != nil && v.MovedTo == nil && v.MovedToNo == nil && (!slip.Caps.Has(access.Change) || slip.Kept.Over(*v.RemovedAt, now))
	})
	path, err := tree.ZonePathOf(ctx, q, id)
	if err != nil {
		return Slip{}, err
	}
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return Slip{}, err
	}
	reaching, err := links.LinksReaching(ctx, q, v.Readable(), id, path, false, now, 50)
	if err != nil {
		return Slip{}, err
	}
	if slip.Links, err = s.Links.Show(ctx, reaching); err != nil {
		return Slip{}, err
	}
	events, err := activity.Events(ctx, q, activity.EventFilter{Item: id, Limit: 30})
	if err != nil {
		return Slip{}, err
	}
	if slip.Events, err = s.Access.Events(ctx, q, events, now); err != nil {
		return Slip{}, err
	}
	slip.EventCount, err = activity.CountEvents(ctx, q, id, v.Readable(), v.Guest())
	return slip, err
}

// inHand says who has the document in hand.
func (s *Service) inHand(ctx context.Context, q postgres.Q, slip *Slip) error {
	by, err := checkout.Of(ctx, q, []uuid.UUID{slip.ID})
	h, ok := by[slip.ID]
	if err != nil || !ok {
		return err
	}
	slip.Held = &h
	slip.Waits, err = checkout.Waits(ctx, q, slip.ID, act.Who(ctx).Person.ID)
	return err
}

// history lists a document's versions. Where one was kept apart is said to whom
// that document is there, and by which link a visitor made one to whom the link is.
func (s *Service) history(ctx context.Context, q postgres.Q, id uuid.UUID, now time.Time) ([]tree.NamedVersion, error) {
	all, err := tree.VersionsOf(ctx, q, id)
	if err != nil {
		return nil, err
	}
	if err := s.ofVisitors(ctx, q, all, now); err != nil {
		return nil, err
	}
	for i, v := range all {
		if v.MovedTo == nil {
			continue
		}
		_, hidden := s.Access.Item(ctx, q, *v.MovedTo, access.See, now)
		if hidden != nil && !fault.Is(hidden, fault.NotFound) {
			return nil, hidden
		}
		if hidden != nil {
			all[i].MovedTo, all[i].MovedToNo = nil, nil
		}
	}
	return all, err
}

// ofVisitors leaves of visitors' versions what the acting person may know: the link
// for who sees all that it gives, the visitor's address for who may share that.
func (s *Service) ofVisitors(ctx context.Context, q postgres.Q, all []tree.NamedVersion, now time.Time) error {
	var through []uuid.UUID
	for _, v := range all {
		if v.LinkID != nil {
			through = append(through, *v.LinkID)
		}
	}
	if len(through) == 0 {
		return nil
	}
	view, err := s.Access.Mine(ctx, now)
	if err != nil {
		return err
	}
	known, err := view.Links(ctx, q, through, now)
	for i, v := range all {
		if v.LinkID == nil {
			continue
		}
		if !known.Knows(*v.LinkID) {
			all[i].Said = ""
		}
		if !known.Sees(*v.LinkID) {
			all[i].Actor.LinkID, all[i].LinkName = nil, ""
		}
	}
	return err
}

// Place is where a document stands.
type Place struct {
	items.Item
	Code string
}

// Ref is the document's register number.
func (p Place) Ref() string { return register.Ref{Code: p.Code, Number: *p.Number}.String() }

// PlaceOf finds where a document stands that the acting person may see.
func (s *Service) PlaceOf(ctx context.Context, id uuid.UUID) (Place, error) {
	sight, err := s.Access.Kind(ctx, s.Acts.DB, id, items.Document, access.See, s.Acts.Now())
	if err != nil {
		return Place{}, err
	}
	return Place{sight.Item, sight.Code}, nil
}

func (s *Service) place(ctx context.Context, i items.Item) (Place, error) {
	all, err := s.places(ctx, []items.Item{i})
	if err != nil {
		return Place{}, err
	}
	return all[0], nil
}

// places names where documents stand, with one look at their dossiers.
func (s *Service) places(ctx context.Context, all []items.Item) ([]Place, error) {
	ids := make([]uuid.UUID, len(all))
	for i, it := range all {
		ids[i] = it.DossierID
	}
	codes, err := tree.CodesOf(ctx, s.Acts.DB, ids)
	out := make([]Place, len(all))
	for i, it := range all {
		out[i] = Place{it, codes[it.DossierID]}
	}
	return out, err
}

// ByNumber finds a document by its register number.
func (s *Service) ByNumber(ctx context.Context, code string, number int) (Place, error) {
	ref, err := register.Parse(fmt.Sprintf("%s/%d", code, number))
	if err != nil {
		return Place{}, fault.Missing()
	}
	item, err := tree.DocumentByNumber(ctx, s.Acts.DB, ref.Code, ref.Number)
	if err != nil {
		return Place{}, err
	}
	return s.PlaceOf(ctx, item.ID)
}

// File opens a version's content; number 0 means the counting one.
func (s *Service) File(ctx context.Context, id uuid.UUID, number int) (tree.File, error) {
	sighted, err := s.Access.Content(ctx, s.Acts.DB, id, number, access.Download, s.Acts.Now())
	if err != nil {
		return tree.File{}, err
	}
	return s.opened(ctx, sighted)
}

// Paper sets a version on pages with the practice's letterhead, as a PDF document.
func (s *Service) Paper(ctx context.Context, id uuid.UUID, number int) (raw []byte, name string, err error) {
	sighted, err := s.Access.Content(ctx, s.Acts.DB, id, number, access.Download, s.Acts.Now())
	if err != nil {
		return nil, "", err
	}
	source := s.Contents.Source(ctx, sighted.Version(), act.Who(ctx).Person.ID.String())
	if source.Head, err = practice.Letterhead(ctx, s.Acts.DB, fmt.Sprintf("%s  %s, v. %d", sighted.Ref(), sighted.Item.Name, sighted.Version().Number)); err != nil {
		return nil, "", err
	}
	if source.Beside, err = s.Beside(ctx, sighted.Item, source); err != nil {
		return nil, "", err
	}
	raw, err = s.Pages.Paper(ctx, source)
	return raw, names.Stem(sighted.Item.Name), err
}

// FileBySession is File for whoever is signed in by the token of a session; see
// access.Guard.ContentBySession.
func (s *Service) FileBySession(ctx context.Context, token string, id uuid.UUID, number int) (tree.File, error) {
	sighted, err := s.Access.ContentBySession(ctx, secret.Hash(token), id, number, access.Download, s.Acts.Now())
	if err != nil {
		return tree.File{}, err
	}
	return s.opened(ctx, sighted)
}

func (s *Service) opened(ctx context.Context, sighted guard.ContentSight) (tree.File, error) {
	r, err := s.Contents.Read(ctx, sighted.Blob())
	return tree.File{Item: sighted.Item, Version: sighted.Version(), ReadSeekCloser: r}, err
}

// Preview prepares the text of a version for looking at it. Whoever may not download
// looks at it in pages: its text would leave with it.
func (s *Service) Preview(ctx context.Context, id uuid.UUID, number int) (preview.Prepared, error) {
	sighted, err := s.Access.Content(ctx, s.Acts.DB, id, number, access.Download, s.Acts.Now())
	if err != nil {
		return preview.Prepared{}, err
	}
	return s.Contents.Reader.Prepare(ctx, s.Contents.Source(ctx, sighted.Version(), act.Who(ctx).Person.ID.String()))
}

// maxChosen is how many items can be chosen at once.
const maxChosen = 1000

// Choose gathers documents and what lies in folders for one archive.
func (s *Service) Choose(ctx context.Context, ids []uuid.UUID) (tree.Chosen, error) {
	name, all, err := s.gather(ctx, ids)
	if err != nil {
		return tree.Chosen{}, err
	}
	c := tree.Chosen{Name: name}
	for _, d := range all {
		c.Add(s.Contents.Entry(ctx, d, d.SHA256, d.Size), d.ID)
	}
	return c, nil
}

// gather finds documents and what lies in folders, each with its way, and what they are called together.
func (s *Service) gather(ctx context.Context, ids []uuid.UUID) (name string, all []items.Placed, err error) {
	if len(ids) == 0 || len(ids) > maxChosen {
		return "", nil, fault.ItemsCount.In("items", "choose between 1 and %d items", maxChosen)
	}
	for _, id := range slices.Compact(ids) {
		sight, err := s.Access.Item(ctx, s.Acts.DB, id, access.Download, s.Acts.Now())
		if err != nil {
			return "", nil, err
		}
		if name == "" {
			name = sight.Item.Name
		}
		if sight.Item.Kind == items.Document {
			all = append(all, items.Placed{Item: sight.Item})
			continue
		}
		below, err := s.Access.Under(ctx, s.Acts.DB, sight, access.Download, s.Acts.Now())
		if err != nil {
			return "", nil, err
		}
		for _, d := range below {
			if len(ids) > 1 {
				d.Way = sight.Item.Name + "/" + d.Way
			}
			all = append(all, d)
		}
	}
	if all, err = s.leaveKept(ctx, all); err != nil {
		return "", nil, err
	}
	if len(ids) > 1 {
		name = fmt.Sprintf("%d documents", len(all))
	} else if stem, ext := names.Split(name); ext != "" && len(all) == 1 {
		name = stem
	}
	return name, all, nil
}

// leaveKept leaves out what somebody else has in hand and keeps from being downloaded.
func (s *Service) leaveKept(ctx context.Context, all []items.Placed) ([]items.Placed, error) {
	ids := make([]uuid.UUID, len(all))
	for i, d := range all {
		ids[i] = d.ID
	}
	kept, err := checkout.KeptFrom(ctx, s.Acts.DB, ids, act.Who(ctx).Person.ID)
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(all, func(d items.Placed) bool { return slices.Contains(kept, d.ID) }), nil
}

// Permitted refuses when the acting person may no longer download all of the
// documents.
func (s *Service) Permitted(ctx context.Context, documents []uuid.UUID) error {
	return s.Access.All(ctx, s.Acts.DB, documents, access.Download, s.Acts.Now())
}

// Separate makes the counting version a document of its own, beside the one it came
// to.
func (s *Service) Separate(ctx context.Context, id uuid.UUID, number int) (Place, error) {
	var made items.Item
	err := s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		made, err = s.Items.Separate(ctx, tx, id, number)
		return err
	})
	if err != nil {
		return Place{}, err
	}
	return s.place(ctx, made)
}
