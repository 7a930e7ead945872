// Package templates makes documents from others whose blanks are filled from the dossier.
package templates

import (
	"bytes"
	"context"
	"maps"
	"path"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/register"
	"tabularis/core/templates"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/dossiers"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/reading"
)

// Service makes documents from templates. Any document is one that whoever makes another from
// it may download.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Contents *tree.Contents
	Uploads  *uploads.Service
}

var errNoTemplate = fault.Declare(fault.Invalid, "no-template", "nothing can be filled in in a document of this kind")

// Blank is a blank of a template, with what fills it in a folder's dossier; nothing, where that
// is for somebody to say.
type Blank struct {
	templates.Blank
	Value string
}

// making is a document that is made from another one, in a folder.
type making struct {
	source reading.Source
	from   guard.ContentSight
	folder guard.Sight
	blanks []templates.Blank
}

// Blanks are those of a document, filled for a folder as far as that is known.
func (s *Service) Blanks(ctx context.Context, document, folder uuid.UUID) ([]Blank, error) {
	m, err := s.making(ctx, document, folder)
	if err != nil {
		return nil, err
	}
	values, _, err := s.known(ctx, m)
	all := make([]Blank, len(m.blanks))
	for i, b := range m.blanks {
		all[i] = Blank{b, values[templates.Key(b.Word)]}
	}
	return all, err
}

func (s *Service) making(ctx context.Context, document, folder uuid.UUID) (m making, err error) {
	now := s.Acts.Now()
	if m.folder, err = s.Access.Kind(ctx, s.Acts.DB, folder, items.Folder, access.Add, now); err != nil {
		return m, err
	}
	if m.from, err = s.Access.Content(ctx, s.Acts.DB, document, 0, access.Download, now); err != nil {
		return m, err
	}
	m.source = s.Contents.Source(ctx, m.from.Version(), act.Who(ctx).Person.ID.String())
	can := false
	if m.blanks, can, err = s.Contents.Reader.Blanks(ctx, m.source); err == nil && !can {
		err = errNoTemplate.New("nothing can be filled in in a document of this kind")
	}
	return m, err
}

// known are the values that a dossier, whoever asks and the day give, by the keys of a template's
// blanks; and the register number that was supposed.
func (s *Service) known(ctx context.Context, m making) (templates.Values, int, error) {
	number, err := tree.NextNumber(ctx, s.Acts.DB, m.folder.DossierID)
	if err != nil {
		return nil, 0, err
	}
	values, err := s.Known(ctx, m.folder, m.blanks)
	for _, b := range m.blanks {
		if b.Of == templates.Number && err == nil {
			values[templates.Key(b.Word)] = register.Ref{Code: m.folder.Code, Number: number}.String()
		}
	}
	return values, number, err
}

// Known are the values that a folder's dossier, whoever asks and the day give, by the keys of blanks. Which number a
// document gets is known only once it is made.
func (s *Service) Known(ctx context.Context, folder guard.Sight, blanks []templates.Blank) (templates.Values, error) {
	about, err := dossiers.ParticularsOf(ctx, s.Acts.DB, folder.DossierID)
	if err != nil {
		return nil, err
	}
	here, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	who := act.Who(ctx)
	of := map[string]string{
		templates.Code: folder.Code, templates.Dossier: about.Name, templates.Client: about.Client, templates.Subject: about.Subject,
		templates.Today: templates.Day(s.Acts.Now().In(zone), who.Language), templates.Me: who.Person.Name, templates.Address: who.Person.Email, templates.Practice: here.Name,
	}
	values := templates.Values{}
	for _, b := range blanks {
		if value := of[b.Of]; value != "" {
			values[templates.Key(b.Word)] = value
		}
	}
	return values, nil
}

// Wish is a document that somebody makes from another one: where, how it is called, and what
// stands in its blanks where that is not what is known, or not known.
type Wish struct {
	Document, Folder uuid.UUID
	Name             string
	Values           templates.Values
}

// Make makes a document from another one. It is of the same kind, and a document of its own.
func (s *Service) Make(ctx context.Context, w Wish) (guard.Sight, error) {
	m, err := s.making(ctx, w.Document, w.Folder)
	if err != nil {
		return guard.Sight{}, err
	}
	known, supposed, err := s.known(ctx, m)
	if err != nil {
		return guard.Sight{}, err
	}
	values := maps.Clone(known)
	for word, value := range w.Values {
		values[templates.Key(word)] = strings.TrimSpace(value)
	}
	if err := values.Check(m.blanks); err != nil {
		return guard.Sight{}, err
	}
	made, err := s.put(ctx, m, uploads.Wish{Folder: w.Folder, Name: named(w.Name, m.from.Name), Apart: true}, values)
	if err != nil || *made.Number == supposed {
		return made, err
	}
	// Somebody else was quicker with that number: a second version bears the right one.
	numbered := false
	for _, b := range m.blanks {
		if key := templates.Key(b.Word); b.Of == templates.Number && values[key] == known[key] {
			values[key], numbered = made.Ref(), true
		}
	}
	if !numbered {
		return made, nil
	}
	return s.put(ctx, m, uploads.Wish{Document: &made.ID, Name: made.Name}, values)
}

func (s *Service) put(ctx context.Context, m making, w uploads.Wish, v templates.Values) (guard.Sight, error) {
	raw, err := s.Contents.Reader.Fill(ctx, m.source, v)
	if err != nil {
		return guard.Sight{}, err
	}
	w.Size = int64(len(raw))
	u, err := s.Uploads.Put(ctx, w, bytes.NewReader(raw))
	if err != nil {
		return guard.Sight{}, err
	}
	return s.Access.Item(ctx, s.Acts.DB, *u.ItemID, access.See, s.Acts.Now())
}

// named is a name with the ending of the template's.
func named(name, template string) string {
	if end := path.Ext(template); !strings.EqualFold(path.Ext(name), end) {
		return name + end
	}
	return name
}
