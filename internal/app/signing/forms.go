package signing

import (
	"cmp"
	"context"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/signing"
	"tabularis/core/templates"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/reading"
)

// Form is a form as it is listed, for whoever sees the document on which it stands.
type Form struct {
	formRow
	At    guard.Sight
	Maker string
	// Writes says that the acting person writes it.
	Writes bool
	Used   int
	Last   time.Time
	// Form is what is being written, for those who write it, or else what counts.
	Form signing.Form
}

const mostForms = 200

// Forms lists forms: the acting person's own, and those that others share, on documents that they see.
func (s *Service) Forms(ctx context.Context) ([]Form, error) {
	me := act.Who(ctx).Person
	if me == nil || !me.Inside() {
		return nil, fault.Refused("see forms")
	}
	var rows []formRow
	err := s.Access.View(ctx, s.Acts.Now(), func(v *guard.View) (n int, err error) {
		rows, err = formsSeen(ctx, s.Acts.DB, v.Readable(), me.ID, mostForms)
		return len(rows), err
	})
	if err != nil {
		return nil, err
	}
	out := []Form{}
	for _, r := range rows {
		f, err := s.sightForm(ctx, s.Acts.DB, r)
		if fault.Is(err, fault.NotFound) {
			continue // It went out of sight meanwhile.
		}
		if err != nil {
			return nil, err
		}
		out = append(out, f)
	}
	return out, s.completeForms(ctx, out)
}

func (s *Service) completeForms(ctx context.Context, all []Form) error {
	var ids []uuid.UUID
	for _, f := range all {
		ids = append(ids, f.ID)
	}
	times, err := formsUsed(ctx, s.Acts.DB, ids)
	for i := range all {
		u := times[all[i].ID]
		all[i].Used, all[i].Last = u.Times, u.Last
	}
	return err
}

// sightForm is a form as the acting person sees it: their own, or one that is shared and counts. Others find nothing.
func (s *Service) sightForm(ctx context.Context, q postgres.Q, r formRow) (f Form, err error) {
	me := act.Who(ctx).Person
	if me == nil || !me.Inside() {
		return f, fault.Missing()
	}
	f.formRow = r
	if f.At, err = s.Access.Kind(ctx, q, r.ItemID, items.Document, access.See, s.Acts.Now()); err != nil {
		return f, fault.Missing()
	}
	mine := r.MadeBy == me.ID
	if !mine && (!r.Shared || r.Edition == 0) {
		return f, fault.Missing()
	}
	f.Writes = f.At.Caps.Has(access.Change) && (mine || r.Shared)
	maker, err := accounts.PersonByID(ctx, q, r.MadeBy)
	if err != nil {
		return f, err
	}
	f.Maker = maker.Name
	if f.Form, err = s.written(ctx, q, r, f.Writes); err != nil {
		return f, err
	}
	_, err = s.called(ctx, &f.Form)
	return f, err
}

// called names the parties who are the same each time, as they are called now; gone is one who is no colleague any more, or -1.
func (s *Service) called(ctx context.Context, f *signing.Form) (gone int, err error) {
	known, err := s.Known(ctx)
	gone = -1
	f.Plan.Parties = slices.Clone(f.Plan.Parties)
	for i := range f.Plan.Parties {
		p := &f.Plan.Parties[i]
		if p.Person == nil {
			continue
		}
		who, there := colleague(known, *p.Person)
		if !there {
			gone = i
			continue
		}
		p.Name = who.Name
	}
	return gone, err
}

// written is what is being written of a form, or what counts.
func (s *Service) written(ctx context.Context, q postgres.Q, r formRow, draft bool) (f signing.Form, err error) {
	if r.Draft != nil && (draft || r.Edition == 0) {
		return f, json.Unmarshal(*r.Draft, &f)
	}
	e, err := editionOf(ctx, q, r.ID, r.Edition)
	if err != nil {
		return f, err
	}
	return e.form()
}

// MakeForm makes a form on a document, with what is known of it already.
func (s *Service) MakeForm(ctx context.Context, document uuid.UUID, name string, f signing.Form) (id uuid.UUID, err error) {
	return id, s.Acts.Do(ctx, func(tx *act.Tx) error {
		me := tx.Actor.Person
		if me == nil || !me.Inside() {
			return fault.Missing()
		}
		at, err := s.Access.Kind(ctx, tx, document, items.Document, access.See|access.Change, tx.Now)
		if err != nil {
			return err
		}
		if !s.Pages.Can(at.MediaType) {
			return errPaper.In("document", "only what can be set on pages is signed")
		}
		if name, err = names.Line("name", cmp.Or(strings.TrimSpace(name), names.Stem(at.Name)), signing.MostName); err != nil {
			return err
		}
		id = uuid.Must(uuid.NewV7())
		r := formRow{ID: id, ItemID: document, MadeBy: me.ID, Name: name, CreatedAt: tx.Now}
		if r.Draft, err = draft(f); err != nil {
			return err
		}
		return addForm(ctx, tx, r)
	})
}

// draft is a form in writing. What is too much to be kept is refused; other flaws may stand until it is to count.
func draft(f signing.Form) (*json.RawMessage, error) {
	if len(f.Plan.Parties) > signing.MostParties || len(f.Plan.Places) > signing.MostPlaces {
		return nil, errPlan.In("plan", "a form has at most %d parties and %d places", signing.MostParties, signing.MostPlaces)
	}
	// What is none is an empty list for whoever reads it.
	f.Plan.Parties = append([]signing.Party{}, f.Plan.Parties...)
	f.Plan.Places = append([]signing.Place{}, f.Plan.Places...)
	raw, err := json.Marshal(f)
	if err != nil {
		return nil, err
	}
	if strings.Contains(string(raw), `\u0000`) {
		return nil, errPlan.In("plan", "a form holds no control characters")
	}
	return (*json.RawMessage)(&raw), nil
}

// Written is what is written of a form. Seen is the state on which it was written: whoever wrote meanwhile is not written over.
type Written struct {
	Name, Description string
	Shared            bool
	Form              signing.Form
	Seen              time.Time
}

// WriteForm keeps what is being written of a form, also where it does not hold yet.
func (s *Service) WriteForm(ctx context.Context, id uuid.UUID, w Written) error {
	return s.writing(ctx, id, func(tx *act.Tx, r *formRow) (err error) {
		if !r.ChangedAt.Equal(w.Seen) {
			return errFormChanged.New("somebody else has written meanwhile")
		}
		if r.Name, err = names.Named("name", w.Name, signing.MostName); err != nil {
			return err
		}
		if r.Description, err = names.Line("description", w.Description, signing.MostDescription); err != nil {
			return err
		}
		if w.Shared != r.Shared && r.MadeBy != tx.Actor.Person.ID {
			return fault.Refused("share this form")
		}
		r.Shared = w.Shared
		r.Draft, err = draft(w.Form)
		return err
	})
}

// writing changes a form by somebody who writes it.
func (s *Service) writing(ctx context.Context, id uuid.UUID, do func(tx *act.Tx, r *formRow) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, err := formByID(ctx, tx, id, true)
		if err != nil {
			return err
		}
		f, err := s.sightForm(ctx, tx, r)
		if err != nil {
			return err
		}
		if !f.Writes {
			return fault.Refused("write this form")
		}
		if err := do(tx, &r); err != nil {
			return err
		}
		r.ChangedAt = tx.Now
		return keepForm(ctx, tx, r)
	})
}

// ShownForm is a form with its paper.
type ShownForm struct {
	Form
	Sizes []reading.Size
	// Marked are places that the paper itself marks; they are there each time, and move with its words.
	Marked   []signing.Place
	Blanks   []templates.Blank
	Problems []signing.Problem
	// Version is the version of the document that is shown; Newer says that the edition which counts stands on another one.
	Version int
	Newer   bool
}

// OneForm shows a form.
func (s *Service) OneForm(ctx context.Context, id uuid.UUID) (out ShownForm, err error) {
	r, err := formByID(ctx, s.Acts.DB, id, false)
	if err != nil {
		return out, err
	}
	one := make([]Form, 1)
	if one[0], err = s.sightForm(ctx, s.Acts.DB, r); err != nil {
		return out, err
	}
	if err := s.completeForms(ctx, one); err != nil {
		return out, err
	}
	out.Form = one[0]
	out.Version = out.At.Version
	if r.Edition > 0 {
		e, err := editionOf(ctx, s.Acts.DB, id, r.Edition)
		if err != nil {
			return out, err
		}
		out.Newer = !slices.Equal(e.SHA256, out.At.SHA256)
	}
	return out, s.readForm(ctx, &out)
}

// readForm reads the paper on which a form stands, and says what of the form does not hold.
func (s *Service) readForm(ctx context.Context, out *ShownForm) (err error) {
	source, err := s.onLetterhead(ctx, s.Acts.DB, out.At.Item, versionOf(out.At.Item))
	if err != nil {
		return err
	}
	p := paper{Service: s, form: out.Form.Form, source: source}
	if err := p.read(ctx); err != nil {
		return err
	}
	made, err := p.filled(ctx, signing.Row{})
	if err != nil {
		return err
	}
	out.Sizes, out.Marked, out.Blanks = made.sizes, made.marked, p.form.Blanks(p.blanks)
	out.Problems = p.form.With(made.marked).Check(len(made.sizes))
	return nil
}

// ReleaseForm lets what is written count from now on, on the document as it is now.
func (s *Service) ReleaseForm(ctx context.Context, id uuid.UUID) error {
	shown, err := s.OneForm(ctx, id)
	if err != nil {
		return err
	}
	if !shown.Writes {
		return fault.Refused("write this form")
	}
	if err := sound(shown.Problems); err != nil {
		return err
	}
	return s.writing(ctx, id, func(tx *act.Tx, r *formRow) error {
		if !r.ChangedAt.Equal(shown.ChangedAt) {
			return errFormChanged.New("somebody else has written meanwhile")
		}
		at, err := s.Access.Kind(ctx, tx, r.ItemID, items.Document, access.See|access.Change, tx.Now)
		if err != nil {
			return err
		}
		if !slices.Equal(at.SHA256, shown.At.SHA256) {
			return errMoved.New("%s has changed meanwhile; look at it again", at.Ref())
		}
		if r.Draft == nil {
			// The document alone is another one.
			if r.Draft, err = draft(shown.Form.Form); err != nil {
				return err
			}
		}
		r.Edition++
		e := formEdition{FormID: id, Number: r.Edition, Definition: *r.Draft, Version: at.Version, SHA256: at.SHA256, MadeBy: tx.Actor.Person.ID, MadeAt: tx.Now}
		r.Draft = nil
		if err := addEdition(ctx, tx, e); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.SigningForm.With(events.Signing{Name: at.Name, Form: r.Name, Edition: r.Edition}), Dossier: at.DossierID, Item: &r.ItemID, Version: at.Version})
	})
}

// RemoveForm removes a form. Requests that were made of it stay.
func (s *Service) RemoveForm(ctx context.Context, id uuid.UUID) error {
	return s.writing(ctx, id, func(tx *act.Tx, r *formRow) error {
		if r.MadeBy != tx.Actor.Person.ID {
			if _, err := s.Access.Item(ctx, tx, r.ItemID, access.See|access.Manage, tx.Now); err != nil {
				return err
			}
		}
		r.RemovedAt = &tx.Now
		return nil
	})
}

// PlacesIn finds places to sign in a document: those that are marked in its text, and what its own form asks for.
func (s *Service) PlacesIn(ctx context.Context, document uuid.UUID) ([]signing.Place, error) {
	sight, err := s.Access.Kind(ctx, s.Acts.DB, document, items.Document, access.See|access.Change, s.Acts.Now())
	if err != nil {
		return nil, err
	}
	source, err := s.onLetterhead(ctx, s.Acts.DB, sight.Item, versionOf(sight.Item))
	if err != nil {
		return nil, err
	}
	p := paper{Service: s, source: source}
	if !s.Pages.Can(sight.MediaType) {
		return nil, errPaper.In("document", "only what can be set on pages is signed")
	}
	return p.places(ctx)
}
