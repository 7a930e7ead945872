package dossiers

import (
	"context"
	"fmt"
	"time"

	"tabularis/core/items"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// FolderLine is a folder in the contents of a dossier. Below and Size count
// what may be seen in it and below, Links the open links to this very folder.
type FolderLine struct {
	items.Item
	Number string
	Depth  int
	Below  int
	Size   int64
	Links  int
	Door   access.Door
	Caps   access.Caps
	// Ends is when what one may do in it next changes by itself.
	Ends   *time.Time
	Closed bool
	// Through marks a folder that is only shown because something below it may
	// be seen.
	Through bool
	// Arrangement is how the acting person reads its register, if that is not as usual.
	Arrangement *Arrangement
	// Hidden marks what the person as whom one looks does not see.
	Hidden bool
}

// outline is a dossier's folders as one person may see them.
type outline struct {
	view     *guard.View
	dossier  uuid.UUID
	children map[uuid.UUID][]tree.ScopedFolder
	links    map[uuid.UUID]int
	// own measures the single documents that may be seen, by folder; without
	// those that are decided like their folder.
	own   map[uuid.UUID]Measured
	all   map[uuid.UUID]Measured
	now   time.Time
	lines []FolderLine
}

func contents(ctx context.Context, q postgres.Q, v *guard.View, dossier uuid.UUID, now time.Time) ([]FolderLine, error) {
	folders, err := tree.FoldersOf(ctx, q, dossier)
	if err != nil {
		return nil, err
	}
	t := outline{view: v, dossier: dossier, children: map[uuid.UUID][]tree.ScopedFolder{}, links: map[uuid.UUID]int{}, now: now}
	var ids, withOwn []uuid.UUID
	var top *tree.ScopedFolder
	for _, f := range folders {
		ids = append(ids, f.ID)
		if f.Own > 0 {
			withOwn = append(withOwn, f.ID)
		}
		if f.ParentID == nil {
			top = &f
			continue
		}
		t.children[*f.ParentID] = append(t.children[*f.ParentID], f)
	}
	linked, err := links.LivingOn(ctx, q, ids, now)
	if err != nil {
		return nil, err
	}
	for _, l := range linked {
		t.links[l.ItemID]++
	}
	if t.all, t.own, err = MeasureOwn(ctx, q, withOwn, v.Readable()); err != nil {
		return nil, err
	}
	if top != nil {
		t.walk(*top, "", 0, false)
	}
	return t.lines, nil
}

// walk adds a folder and what is below it, if any of it may be seen, and returns
// how much that is.
//
// Whoever may only add sees the folder that they may add to, and those they made
// below it; deposited says that one further up is such a folder.
func (t *outline) walk(f tree.ScopedFolder, number string, depth int, deposited bool) (n int, bytes int64, shown bool) {
	d := t.view.May(f.Root, t.dossier, t.now)
	deposits := d.Caps.Has(access.Add) && !d.Caps.Has(access.See)
	at := len(t.lines)
	line := FolderLine{Item: f.Item, Number: number, Depth: depth, Caps: d.Caps, Ends: d.Ends, Through: !d.Sees(true), Closed: t.view.Closed(f.ID, t.dossier)}
	if !line.Through {
		line.Links, line.Door = t.links[f.ID], t.view.DoorOf(f.Root, t.dossier, t.now)
	}
	t.lines = append(t.lines, line)
	own := t.own[f.ID]
	n, bytes = own.N, own.Bytes
	if d.Caps.Has(access.See) {
		n, bytes = n+f.Documents-t.all[f.ID].N, bytes+f.Bytes-t.all[f.ID].Bytes
	}
	shown = !line.Through || own.N > 0 || depth == 0
	if deposits && deposited && f.CreatedBy != t.view.Person {
		shown = false
	}
	for i, c := range t.children[f.ID] {
		cn, cb, cs := t.walk(c, chapter(number, i+1), depth+1, deposits)
		n, bytes, shown = n+cn, bytes+cb, shown || cs
	}
	if !shown {
		t.lines = t.lines[:at]
		return 0, 0, false
	}
	t.lines[at].Below, t.lines[at].Size = n, bytes
	return n, bytes, true
}

// chapter numbers contents: 03, then 03.1, then 03.1.2.
func chapter(parent string, n int) string {
	if parent == "" {
		return fmt.Sprintf("%02d", n)
	}
	return fmt.Sprintf("%s.%d", parent, n)
}

// MakeFolder makes a folder in a folder.
func (s *Service) MakeFolder(ctx context.Context, parent uuid.UUID, name string) (FolderLine, error) {
	var made items.Item
	err := s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		made, err = s.Items.AddFolder(ctx, tx, tree.Person(s.Access, s.Acts.Now, act.Who(ctx).Person.ID), parent, name)
		return err
	})
	if err != nil {
		return FolderLine{}, err
	}
	v, err := s.Access.Mine(ctx, s.Acts.Now())
	if err != nil {
		return FolderLine{}, err
	}
	lines, err := contents(ctx, s.Acts.DB, v, made.DossierID, s.Acts.Now())
	for _, l := range lines {
		if l.ID == made.ID {
			return l, err
		}
	}
	return FolderLine{Item: made}, err
}

// Place puts a folder before another one that lies beside it, or behind them all.
func (s *Service) Place(ctx context.Context, folder uuid.UUID, before *uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return s.Items.Place(ctx, tx, folder, before) })
}

// Rename gives a folder or document another name.
func (s *Service) Rename(ctx context.Context, id uuid.UUID, name string) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return s.Items.Rename(ctx, tx, id, name) })
}
