// Package dossiers makes and shows dossiers, their contents and registers.
package dossiers

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/core/register"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/store"
)

// Service makes and shows dossiers.
type Service struct{ Acts *act.Runner }

// Summary is a dossier in a list, with its last event if there is one.
type Summary struct {
	store.DossierSummary
	Last *store.NamedEvent
}

// Mine lists the acting person's dossiers, last event first.
func (s *Service) Mine(ctx context.Context) ([]Summary, error) { return s.list(ctx, nil) }

func (s *Service) list(ctx context.Context, codes []string) ([]Summary, error) {
	rows, err := store.DossiersOf(ctx, s.Acts.DB, act.Who(ctx).Person.ID, s.Acts.Now(), codes)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(rows))
	for i, r := range rows {
		ids[i] = r.LastEventID
	}
	events, err := store.EventsByID(ctx, s.Acts.DB, ids)
	if err != nil {
		return nil, err
	}
	out := make([]Summary, len(rows))
	for i, r := range rows {
		out[i] = Summary{DossierSummary: r}
		if e, ok := events[r.LastEventID]; ok {
			out[i].Last = &e
		}
	}
	return out, nil
}

// New is what a new dossier is made from.
type New struct {
	Code, Name, Kind, Client, Subject string
}

// Make makes a dossier, managed by the acting person. Refused are codes of a
// wrong form, codes that are taken, and unsound names.
func (s *Service) Make(ctx context.Context, n New) (Summary, error) {
	who := act.Who(ctx).Person
	code, err := register.Code("code", n.Code)
	if err != nil {
		return Summary{}, err
	}
	name, err := names.Check("name", n.Name)
	if err != nil {
		return Summary{}, err
	}
	if n.Kind != "client" && n.Kind != "internal" {
		return Summary{}, fault.Field("kind", "kind-unknown", "a dossier is of the kind client or internal")
	}
	id := uuid.Must(uuid.NewV7())
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		d := store.Dossier{ID: id, Code: code, Name: name, Subject: strings.TrimSpace(n.Subject), Client: strings.TrimSpace(n.Client), Kind: n.Kind, CreatedBy: who.ID, CreatedAt: tx.Now}
		if err := store.AddDossier(ctx, tx, d); err != nil {
			if store.Collides(err, store.CodesIndex) {
				return codeTaken(code)
			}
			return err
		}
		top := store.Item{ID: id, DossierID: id, Kind: store.Folder, Name: name, NameKey: names.Key(name), CreatedBy: who.ID, CreatedAt: tx.Now}
		if err := store.AddItem(ctx, tx, top); err != nil {
			return err
		}
		g := store.Grant{ID: uuid.Must(uuid.NewV7()), ItemID: id, PersonID: who.ID, Level: string(access.LevelManage), CreatedBy: &who.ID, CreatedAt: tx.Now}
		if err := store.AddGrant(ctx, tx, g); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{Kind: "dossier.made", Dossier: id, Data: map[string]string{"name": name}})
	})
	if err != nil {
		return Summary{}, err
	}
	made, err := s.list(ctx, []string{code})
	if err != nil || len(made) == 0 {
		return Summary{}, fmt.Errorf("reading the new dossier: %w", err)
	}
	return made[0], nil
}

func codeTaken(code string) error {
	return &fault.Error{Kind: fault.Conflict, Code: "code-taken", Field: "code", Detail: "the code " + code + " is in use; codes are never used again"}
}

// AddMember lets a person into a dossier at a level.
func (s *Service) AddMember(ctx context.Context, dossier, person uuid.UUID, level access.Level) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if _, err := guard.Kind(ctx, tx, dossier, store.Folder, access.Manage, tx.Now); err != nil {
			return err
		}
		member, err := store.PersonByID(ctx, tx, person)
		if err != nil {
			return err
		}
		g := store.Grant{ID: uuid.Must(uuid.NewV7()), ItemID: dossier, PersonID: person, Level: string(level), CreatedBy: &tx.Actor.Person.ID, CreatedAt: tx.Now}
		if err := store.AddGrant(ctx, tx, g); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{Kind: "member.added", Dossier: dossier, Data: map[string]string{"person": member.Name, "level": string(level)}})
	})
}

// FolderLine is a folder in the contents of a dossier. Below and Size
// count what is in it and below, Links the open links to this very folder.
type FolderLine struct {
	store.Item
	Number string
	Depth  int
	Below  int
	Size   int64
	Links  int
}

// Opened is a dossier with its contents, the top first.
type Opened struct {
	store.Dossier
	Members []store.MemberRow
	Folders []FolderLine
	Caps    access.Caps
}

// Open shows a dossier by its code.
func (s *Service) Open(ctx context.Context, code string) (Opened, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	d, err := store.DossierByCode(ctx, q, strings.ToUpper(code))
	if err != nil {
		return Opened{}, err
	}
	sight, err := guard.Item(ctx, q, d.ID, access.See, now)
	if err != nil {
		return Opened{}, err
	}
	o := Opened{Dossier: d, Caps: sight.Caps}
	if o.Members, err = store.MembersOf(ctx, q, d.ID, now); err != nil {
		return Opened{}, err
	}
	o.Folders, err = contents(ctx, q, d.ID, now)
	return o, err
}

func contents(ctx context.Context, q store.Q, dossier uuid.UUID, now time.Time) ([]FolderLine, error) {
	folders, err := store.FoldersOf(ctx, q, dossier)
	if err != nil {
		return nil, err
	}
	ids := make([]uuid.UUID, len(folders))
	children := map[uuid.UUID][]store.Item{}
	for i, f := range folders {
		ids[i] = f.ID
		if f.ParentID != nil {
			children[*f.ParentID] = append(children[*f.ParentID], f)
		}
	}
	linked, err := store.LivingOn(ctx, q, ids, now)
	if err != nil {
		return nil, err
	}
	links := map[uuid.UUID]int{}
	for _, l := range linked {
		links[l.ItemID]++
	}
	var lines []FolderLine
	var walk func(f store.Item, number string, depth int) (int, int64)
	walk = func(f store.Item, number string, depth int) (int, int64) {
		at := len(lines)
		lines = append(lines, FolderLine{Item: f, Number: number, Depth: depth, Links: links[f.ID]})
		n, bytes := f.Documents, f.Bytes
		for i, c := range children[f.ID] {
			cn, cb := walk(c, chapter(number, i+1), depth+1)
			n, bytes = n+cn, bytes+cb
		}
		lines[at].Below, lines[at].Size = n, bytes
		return n, bytes
	}
	for _, f := range folders {
		if f.ParentID == nil {
			walk(f, "", 0)
		}
	}
	return lines, nil
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
	var made store.Item
	err := s.Acts.Do(ctx, func(tx *act.Tx) error {
		sight, err := guard.Kind(ctx, tx, parent, store.Folder, access.Add, tx.Now)
		if err != nil {
			return err
		}
		made, err = AddFolder(ctx, tx, sight.Item, name)
		return err
	})
	if err != nil {
		return FolderLine{}, err
	}
	lines, err := contents(ctx, s.Acts.DB, made.DossierID, s.Acts.Now())
	for _, l := range lines {
		if l.ID == made.ID {
			return l, err
		}
	}
	return FolderLine{Item: made}, err
}

// AddFolder makes a folder within an act that has checked the person's right.
func AddFolder(ctx context.Context, tx *act.Tx, parent store.Item, name string) (store.Item, error) {
	name, err := names.Check("name", name)
	if err != nil {
		return store.Item{}, err
	}
	if err := store.LockDossier(ctx, tx, parent.DossierID); err != nil {
		return store.Item{}, err
	}
	position, err := store.NextPosition(ctx, tx, parent.ID)
	if err != nil {
		return store.Item{}, err
	}
	f := store.Item{ID: uuid.Must(uuid.NewV7()), DossierID: parent.DossierID, ParentID: &parent.ID, Kind: store.Folder, Name: name, NameKey: names.Key(name),
		Position: position, CreatedBy: tx.Actor.Person.ID, CreatedAt: tx.Now}
	if err := store.AddItem(ctx, tx, f); err != nil {
		return store.Item{}, NameTaken(err, name)
	}
	return f, tx.Record(ctx, act.Event{Kind: "folder.made", Dossier: f.DossierID, Item: &f.ID, Data: map[string]string{"name": name}})
}

// NameTaken turns the collision of two names in a folder into its refusal.
func NameTaken(err error, name string) error {
	if store.Collides(err, store.NamesIndex) {
		return &fault.Error{Kind: fault.Conflict, Code: "name-taken", Field: "name", Detail: fmt.Sprintf("%q is in this folder already", name)}
	}
	return err
}

// Rename gives a folder or document another name. A dossier's top is renamed
// with its dossier, not here.
func (s *Service) Rename(ctx context.Context, id uuid.UUID, name string) error {
	name, err := names.Check("name", name)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		sight, err := guard.Item(ctx, tx, id, access.Change, tx.Now)
		if err != nil {
			return err
		}
		if sight.Item.ParentID == nil {
			return fault.Refused("rename a dossier")
		}
		if sight.Item.Name == name {
			return nil
		}
		if err := store.LockDossier(ctx, tx, sight.Item.DossierID); err != nil {
			return err
		}
		if err := store.RenameItem(ctx, tx, id, name, names.Key(name)); err != nil {
			return NameTaken(err, name)
		}
		return tx.Record(ctx, act.Event{Kind: sight.Item.Kind + ".renamed", Dossier: sight.Item.DossierID, Item: &id, Data: map[string]string{"from": sight.Item.Name, "to": name}})
	})
}

// Row is a document in a register. Links counts the open links that give it.
type Row struct {
	store.Item
	Links int
	Last  *store.NamedEvent
}

// Page is a part of a folder's register. Code and Inside belong to every row.
type Page struct {
	Code   string
	Inside int
	Rows   []Row
	Next   string
	Total  int
	Bytes  int64
	Linked int
}

type cursor struct {
	Order, Key string
	ID         uuid.UUID
}

// Register reads a page of a folder's documents. after is the cursor of the
// page before.
func (s *Service) Register(ctx context.Context, folder uuid.UUID, order, after string, limit int) (Page, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	sight, err := guard.Kind(ctx, q, folder, store.Folder, access.See, now)
	if err != nil {
		return Page{}, err
	}
	by, from, err := position(order, after)
	if err != nil {
		return Page{}, err
	}
	items, err := store.RegisterPage(ctx, q, folder, by, from.Key, from.ID, limit+1)
	if err != nil {
		return Page{}, err
	}
	var p Page
	if len(items) > limit {
		items = items[:limit]
		last := items[limit-1]
		next, err := json.Marshal(cursor{order, by.Key(last), last.ID})
		if err != nil {
			return Page{}, err
		}
		p.Next = base64.RawURLEncoding.EncodeToString(next)
	}
	frame, err := store.FrameOf(ctx, q, sight.Item.DossierID, now)
	if err != nil {
		return Page{}, err
	}
	p.Code, p.Inside, p.Total, p.Bytes = frame.Code, frame.Members, sight.Item.Documents, sight.Item.Bytes
	return p, p.fill(ctx, q, sight.Path, items, frame.Linked, now)
}

func position(order, after string) (store.RegisterOrder, cursor, error) {
	by, known := store.RegisterOrders[order]
	if !known {
		return by, cursor{}, fault.Field("order", "order-unknown", "there is no order %q", order)
	}
	var from cursor
	if after != "" {
		raw, err := base64.RawURLEncoding.DecodeString(after)
		if err != nil || json.Unmarshal(raw, &from) != nil || from.Order != order || from.ID == uuid.Nil {
			return by, cursor{}, fault.Field("after", "cursor-unknown", "the cursor does not belong to this list")
		}
	}
	return by, from, nil
}

func (p *Page) fill(ctx context.Context, q store.Q, path []uuid.UUID, items []store.Item, linked bool, now time.Time) error {
	ids, last := make([]uuid.UUID, len(items)), make([]int64, len(items))
	for i, it := range items {
		ids[i], last[i] = it.ID, it.LastEventID
	}
	var links map[uuid.UUID]int
	if linked {
		var err error
		if links, err = store.LivingLinkCounts(ctx, q, path, ids, now); err != nil {
			return err
		}
	}
	events, err := store.EventsByID(ctx, q, last)
	if err != nil {
		return err
	}
	for _, it := range items {
		r := Row{Item: it, Links: links[it.ID]}
		if e, ok := events[it.LastEventID]; ok {
			r.Last = &e
		}
		if r.Links > 0 {
			p.Linked++
		}
		p.Rows = append(p.Rows, r)
	}
	return nil
}
