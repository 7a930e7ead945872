// Package fillings is where documents with fields are filled in: by colleagues and guests who may, and by visitors
// through a link. Everybody answers on their own, what they write is kept as they go, and what they hand in becomes a
// paper of its own and a row of the form's register.
package fillings

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/fillings"
	"tabularis/core/items"
	"tabularis/core/richtext"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
)

// Service lets documents be filled in.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Contents *tree.Contents
	Items    *tree.Service
	Visits   *visits.Service
	Pages    *pages.Maker
	Keys     *secret.Keys
	// TextOf is what is written in a version of a document.
	TextOf  func(ctx context.Context, item items.Item, number int) (*richtext.Node, error)
	BaseURL string
}

// writtenType is that of documents that can have fields; larger ones than mostSize have none.
const (
	writtenType = "text/markdown"
	mostSize    = 8 << 20
)

// keptFor is how long somebody can come back to what they have begun.
const keptFor = 180 * 24 * time.Hour

// Register adds the duties of filling in.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("forget what was begun and not handed in", 24*time.Hour, func(ctx context.Context) error {
		return s.Acts.Do(ctx, func(tx *act.Tx) error { return forgetBegun(ctx, tx, tx.Now.Add(-keptFor)) })
	})
}

func (s *Service) note(ctx context.Context, document uuid.UUID, version int, doc *richtext.Node) error {
	form, err := fillings.Of(doc)
	if err != nil {
		return err
	}
	sheet, err := sealed(s.Keys, sheetPurpose, form)
	if err != nil {
		return err
	}
	return noteFillable(ctx, s.Acts.DB, document, version, len(form.Fields()), sheet)
}

// Asks reports whether a document has fields.
func (s *Service) Asks(ctx context.Context, item items.Item) (bool, error) {
	f, _, err := s.ask(ctx, item)
	return f.Fields > 0, err
}

// ask is what a document asks in the version that counts, which is looked up once for each.
func (s *Service) ask(ctx context.Context, item items.Item) (f fillable, form fillings.Form, err error) {
	if item.MediaType != writtenType || item.Size > mostSize {
		return f, form, nil
	}
	f, err = fillableOf(ctx, s.Acts.DB, item.ID, false)
	if fault.Is(err, fault.NotFound) || err == nil && f.Version < item.Version {
		doc, failed := s.TextOf(ctx, item, item.Version)
		if failed != nil {
			return f, form, failed
		}
		if err = s.note(ctx, item.ID, item.Version, doc); err == nil {
			f, err = fillableOf(ctx, s.Acts.DB, item.ID, false)
		}
	}
	if err == nil {
		form, err = f.form(s.Keys)
	}
	return f, form, err
}

// Fillable is how a document stands as a form.
type Fillable struct {
	Fields int
	// Fills and Reads are what the acting person may do: fill it in, and read what was handed in.
	Fills, Reads bool
	// Handed counts what was handed in, Fresh what nobody has taken up of it; only for who reads it.
	Handed, Fresh int
	Folder        *items.Item
	// Onlookers are how many may fill it in, may not change it, and see nevertheless what is filed in the folder.
	Onlookers int
}

// Of says how a document stands as a form; without a field it is none.
func (s *Service) Of(ctx context.Context, document uuid.UUID) (out Fillable, err error) {
	at, err := s.Access.Kind(ctx, s.Acts.DB, document, items.Document, access.See, s.Acts.Now())
	if err != nil {
		return out, err
	}
	f, _, err := s.ask(ctx, at.Item)
	if err != nil {
		return out, err
	}
	out.Fields, out.Fills, out.Reads = f.Fields, f.Fields > 0 && at.Caps.Has(access.Fill), at.Caps.Has(access.Change)
	if !out.Reads {
		return out, nil
	}
	if out.Handed, out.Fresh, err = counts(ctx, s.Acts.DB, document); err != nil {
		return out, err
	}
	if folder, err := s.folder(ctx, s.Acts.DB, at.Item, f); err == nil {
		if seen, err := s.Access.Kind(ctx, s.Acts.DB, folder.ID, items.Folder, access.See, s.Acts.Now()); err == nil {
			out.Folder = &seen.Item
			out.Onlookers, err = s.onlookers(ctx, at, seen)
			return out, err
		}
	}
	return out, nil
}

// onlookers counts who may only fill a form in, and would see in a folder what others hand in.
func (s *Service) onlookers(ctx context.Context, form, folder guard.Sight) (n int, err error) {
	now := s.Acts.Now()
	people, err := s.Access.Seers(ctx, s.Acts.DB, folder.Located, now)
	if err != nil {
		return 0, err
	}
	for _, person := range people {
		held, err := s.Access.Held(ctx, s.Acts.DB, form, person, now)
		if err != nil {
			return 0, err
		}
		if caps := held.Caps(); caps.Has(access.Fill) && !caps.Has(access.Change) {
			n++
		}
	}
	return n, nil
}

// folder is where what is handed in is filed.
func (s *Service) folder(ctx context.Context, q postgres.Q, item items.Item, f fillable) (items.Item, error) {
	if f.FolderID != nil {
		if at, err := tree.ItemByID(ctx, q, *f.FolderID); err == nil && at.DossierID == item.DossierID {
			return at, nil
		}
	}
	return tree.ItemByID(ctx, q, *item.ParentID)
}

var errOtherDossier = fault.Declare(fault.Invalid, "folder-elsewhere", "what is handed in stays in the form's dossier")

// FileIn says where what is handed in is filed; beside the form where that is nowhere.
func (s *Service) FileIn(ctx context.Context, document uuid.UUID, folder *uuid.UUID) error {
	at, err := s.Access.Kind(ctx, s.Acts.DB, document, items.Document, access.Change, s.Acts.Now())
	if err != nil {
		return err
	}
	if f, _, err := s.ask(ctx, at.Item); err != nil || f.Fields == 0 {
		return orNone(err)
	}
	if folder != nil {
		to, err := s.Access.Kind(ctx, s.Acts.DB, *folder, items.Folder, access.Add, s.Acts.Now())
		if err != nil {
			return err
		}
		if to.DossierID != at.DossierID {
			return errOtherDossier.In("folder", "it lies in another dossier")
		}
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return putFolder(ctx, tx, document, folder) })
}

func orNone(err error) error {
	if err == nil {
		err = fillings.ErrNone.New("the document has no fields")
	}
	return err
}

func (s *Service) clock(ctx context.Context) (fillings.Clock, error) {
	p, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return fillings.Clock{}, err
	}
	c, err := p.WorkingCalendar()
	return fillings.Clock{Now: s.Acts.Now(), Calendar: c.In(zone)}, err
}
