package signing

import (
	"cmp"
	"context"
	"strconv"
	"strings"
	"time"

	"github.com/gabriel-vasile/mimetype"
	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/signing"
	"tabularis/core/templates"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/reading"
)

// Use is a form that somebody sends: to whom, each with a paper of their own in a folder.
type Use struct {
	Form, Folder uuid.UUID
	Rows         []signing.Row
	UseTerms
	Password string
}

// UseTerms are what all requests of one sending have in common; what is empty is as the form says.
type UseTerms struct {
	Days     int           `json:"days"`
	Message  string        `json:"message"`
	Known    signing.Known `json:"known"`
	Language string        `json:"language"`
	// Hash is that of the password which is told separately.
	Hash string `json:"hash"`
}

// using is a form that is about to be sent.
type using struct {
	paper
	row     formRow
	edition formEdition
	from    guard.ContentSight
	to      guard.Sight
	blanks  []templates.Blank
	// known is what the folder's dossier and the day fill.
	known templates.Values
	terms UseTerms
}

// use finds a form that counts, with its paper, and the folder into which its requests come.
func (s *Service) use(ctx context.Context, form, folder uuid.UUID, edition int, terms UseTerms) (u using, err error) {
	q, now := s.Acts.DB, s.Acts.Now()
	if u.row, err = formByID(ctx, q, form, false); err != nil {
		return u, err
	}
	if _, err := s.sightForm(ctx, q, u.row); err != nil {
		return u, err
	}
	if u.row.Edition == 0 {
		return u, errFormWritten.New("this form is still being written")
	}
	if u.edition, err = editionOf(ctx, q, form, cmp.Or(edition, u.row.Edition)); err != nil {
		return u, err
	}
	if u.form, err = u.edition.form(); err != nil {
		return u, err
	}
	gone, err := s.called(ctx, &u.form)
	if err != nil {
		return u, err
	}
	if gone >= 0 {
		return u, errPerson.In("parties/"+strconv.Itoa(gone), "party %s is no colleague any more", signing.Letter(gone))
	}
	// Its paper is copied: whoever sends it may download it.
	u.from, err = s.Access.Content(ctx, q, u.row.ItemID, u.edition.Version, access.See|access.Download, now)
	if fault.Is(err, fault.NotFound) {
		err = errFormGone.New("the paper of this edition is gone")
	}
	if err != nil {
		return u, err
	}
	if u.to, err = s.Access.Kind(ctx, q, folder, items.Folder, u.needs(), now); err != nil {
		return u, err
	}
	u.Service, u.terms = s, terms
	if u.source, err = s.onLetterhead(ctx, q, u.from.Item, u.from.Version()); err != nil {
		return u, err
	}
	if err := u.read(ctx); err != nil {
		return u, err
	}
	u.blanks = u.form.Blanks(u.paper.blanks)
	if u.known, err = s.Templates.Known(ctx, u.to, u.blanks); err != nil {
		return u, err
	}
	return u, u.agree()
}

// needs are what whoever sends the form needs in the folder.
func (u *using) needs() access.Caps {
	need := access.See | access.Add | access.Change
	for _, p := range u.form.Plan.Parties {
		if p.Person == nil {
			need |= access.Share
		}
	}
	return need
}

// agree takes over what is said each time.
func (u *using) agree() error {
	u.terms.Days = cmp.Or(u.terms.Days, u.form.Days, usualDays)
	u.terms.Message = cmp.Or(strings.TrimSpace(u.terms.Message), u.form.Message)
	if u.terms.Days < 0 || u.terms.Days > 366 {
		return errUntil.In("days", "a request ends between now and a year from now")
	}
	if len([]rune(u.terms.Message)) > mostMessage {
		return fault.MessageLong.In("message", "a message has at most %d letters", mostMessage)
	}
	if u.terms.Known == "" {
		return nil
	}
	for i := range u.form.Plan.Parties {
		if p := &u.form.Plan.Parties[i]; p.Person == nil {
			p.Known = u.terms.Known
		}
	}
	return nil
}

// at is a row with what is known beside it.
func (u *using) at(r signing.Row) signing.Row {
	all := templates.Values{}
	for key, v := range u.known {
		all[key] = v
	}
	for word, v := range r.Values {
		if v = strings.TrimSpace(v); v != "" {
			all[templates.Key(word)] = v
		}
	}
	r.Values = all
	return r
}

// rows finds what is missing or wrong in all rows.
func (u *using) rows(ctx context.Context, rows []signing.Row) ([]signing.Problem, error) {
	all := make([]signing.Row, len(rows))
	for i, r := range rows {
		all[i] = u.at(r)
	}
	bad := u.form.Rows(all, u.blanks)
	if len(bad) > 0 {
		return bad, nil
	}
	rules, err := practice.ThePractice(ctx, u.Acts.DB)
	if err != nil {
		return nil, err
	}
	for i, r := range all {
		for k, who := range r.People {
			if who.Person == nil && reaches(rules, strings.TrimSpace(who.Email)) != nil {
				bad = append(bad, signing.Problem{At: rowAt(i, k), Flaw: signing.NotReached})
			}
		}
	}
	return bad, nil
}

// UseDraft is what sending a form would mean.
type UseDraft struct {
	Form    signing.Form
	Edition int
	Blanks  []templates.Blank
	Known   templates.Values
	Until   time.Time
	// Problems are those of its rows.
	Problems []signing.Problem
}

// DraftUse says what sending a form would mean. It changes nothing.
func (s *Service) DraftUse(ctx context.Context, w Use) (d UseDraft, err error) {
	u, err := s.use(ctx, w.Form, w.Folder, 0, w.UseTerms)
	if err != nil {
		return d, err
	}
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return d, err
	}
	d = UseDraft{Form: u.form, Edition: u.edition.Number, Blanks: u.blanks, Known: u.known, Until: signing.Ends(s.Acts.Now(), u.terms.Days, zone).UTC()}
	d.Problems, err = u.rows(ctx, w.Rows)
	return d, err
}

// Look is a paper as it will look for somebody.
type Look struct {
	Plan  signing.Plan
	Sizes []reading.Size
	using using
	made  made
}

// LookAt shows how a form's paper will look for a row.
func (s *Service) LookAt(ctx context.Context, form, folder uuid.UUID, r signing.Row) (l Look, err error) {
	if l.using, err = s.use(ctx, form, folder, 0, UseTerms{}); err != nil {
		return l, err
	}
	if l.made, err = l.using.filled(ctx, l.using.at(r)); err != nil {
		return l, err
	}
	l.Plan, l.Sizes = l.made.planned(), l.made.sizes
	return l, nil
}

// Page draws a page of it, counted from 1.
func (l Look) Page(ctx context.Context, n int) ([]byte, error) {
	if n > len(l.Sizes) {
		return nil, fault.Missing()
	}
	return l.using.page(ctx, l.made, n)
}

// Sent is what came of sending a form: a request, or many of them.
type Sent struct{ Signing, Batch *uuid.UUID }

// UseForm sends a form: at once to one, or one after the other to many.
func (s *Service) UseForm(ctx context.Context, w Use) (out Sent, err error) {
	if w.Hash, err = s.Links.Hash(ctx, w.Password); err != nil {
		return out, err
	}
	u, err := s.use(ctx, w.Form, w.Folder, 0, w.UseTerms)
	if err != nil {
		return out, err
	}
	if u.form.Told && w.Hash == "" {
		return out, errFormTold.In("password", "this form is opened with a password that is told separately")
	}
	if s.Seal == nil || s.Stamper == nil {
		return out, errNoSeal.New("the practice has no key yet by which papers are signed")
	}
	bad, err := u.rows(ctx, w.Rows)
	if err != nil {
		return out, err
	}
	if len(bad) > 0 {
		return out, errRows.In(bad[0].At, "that cannot be sent: %s", bad[0].Flaw)
	}
	if len(w.Rows) > 1 {
		id, err := s.addMany(ctx, u, w.Rows)
		return Sent{Batch: &id}, err
	}
	id, err := u.send(ctx, w.Rows[0], within{})
	return Sent{Signing: &id}, err
}

// within is done within the act by which a form is sent: before it, where it may say that nothing is to be done; and after it.
type within struct {
	before func(ctx context.Context, tx *act.Tx) (bool, error)
	after  func(ctx context.Context, tx *act.Tx, made uuid.UUID) error
}

// send makes a paper for a row and sends it, in one act.
func (u *using) send(ctx context.Context, r signing.Row, also within) (id uuid.UUID, err error) {
	m, err := u.filled(ctx, u.at(r))
	if err != nil {
		return id, err
	}
	w, err := u.wished(ctx, m)
	if err != nil {
		return id, err
	}
	content := items.Version{SHA256: u.from.SHA256, Size: u.from.Size, MediaType: pdfType}
	var stored *tree.Stored
	if m.raw != nil {
		if stored, err = u.Contents.Store(ctx, m.raw, pdfType, u.Acts.Now()); err != nil {
			return id, err
		}
		content = stored.Version
	}
	err = u.Acts.Do(ctx, func(tx *act.Tx) error {
		id = uuid.Must(uuid.NewV7())
		if also.before != nil {
			if goes, err := also.before(ctx, tx); err != nil || !goes {
				return err
			}
		}
		if stored != nil {
			if err := stored.Keep(ctx, tx); err != nil {
				return err
			}
		}
		if err := u.sendIn(ctx, tx, id, w, content); err != nil || also.after == nil {
			return err
		}
		return also.after(ctx, tx, id)
	})
	if stored != nil {
		err = cmp.Or(err, stored.End(ctx, err))
	}
	return id, err
}

// wished is the request for a paper that was made.
func (u *using) wished(ctx context.Context, m made) (w wished, err error) {
	_, zone, err := practice.PracticeZone(ctx, u.Acts.DB)
	if err != nil {
		return w, err
	}
	w = wished{Wish: Wish{Plan: m.planned(), Message: m.values.Fill(u.terms.Message, func(s string) string { return s }), Language: u.terms.Language, FileIn: u.form.FileIn, form: &u.row.ID, edition: u.edition.Number}, sizes: m.sizes}
	w.until = signing.Ends(u.Acts.Now(), u.terms.Days, zone).UTC()
	if err := u.people(ctx, &w); err != nil {
		return w, err
	}
	return w, sound(flaws(w.Plan, m.sizes))
}

// sendIn puts the paper into its folder, and sends it.
func (u *using) sendIn(ctx context.Context, tx *act.Tx, id uuid.UUID, w wished, content items.Version) error {
	if err := tree.LockDossier(ctx, tx, u.to.DossierID); err != nil {
		return err
	}
	to, err := u.Access.Kind(ctx, tx, u.to.ID, items.Folder, u.needs(), tx.Now)
	if err != nil {
		return err
	}
	if err := u.Sharing.TakesStorage(ctx, tx, content.Size, to); err != nil {
		return err
	}
	by := tree.Person(u.Access, func() time.Time { return tx.Now }, tx.Actor.Person.ID)
	name, err := names.Check("name", u.called(w.Plan))
	if err != nil {
		return err
	}
	added, err := u.Items.AddDocument(ctx, tx, by, to.Item, tree.Arrival{Name: name, Content: content, Origin: versions.Copied})
	if err != nil {
		return err
	}
	if w.sight, err = u.Access.Kind(ctx, tx, added.ID, items.Document, access.See|access.Change, tx.Now); err != nil {
		return err
	}
	w.Document = added.ID
	return u.Service.send(ctx, tx, id, w, u.terms.Hash)
}

// called is how the paper is called: as the form, and for whom.
func (u *using) called(p signing.Plan) string {
	name := u.row.Name
	if asked := u.form.Asked(); len(asked) > 0 {
		name += ", " + p.Parties[asked[0]].Name
	}
	// What people are called need not be what documents can be.
	name = strings.Map(func(r rune) rune {
		if r == '/' || r == '\\' {
			return '-'
		}
		return r
	}, short(name))
	return name + ".pdf"
}

// planned is the plan with the places that the paper marks itself.
func (m made) planned() signing.Plan { return signing.Form{Plan: m.plan}.With(m.marked).Plan }

// tableType is what a table is by its first bytes: a spreadsheet, or text.
func tableType(raw []byte) string {
	if t := mimetype.Detect(raw).String(); strings.Contains(t, "spreadsheet") {
		return t
	}
	return "text/csv"
}

// Table reads rows of a form from a table that somebody brings.
func (s *Service) Table(ctx context.Context, form, folder uuid.UUID, raw []byte) (rows []signing.Row, unknown []string, err error) {
	u, err := s.use(ctx, form, folder, 0, UseTerms{})
	if err != nil {
		return nil, nil, err
	}
	source := inMemory(raw, reading.Source{MediaType: tableType(raw), For: act.Who(ctx).From()})
	read, err := s.Contents.Reader.Prepare(ctx, source)
	if err != nil {
		return nil, nil, errRows.In("table", "this table cannot be read")
	}
	if len(read.Sheets) == 0 || read.Cut || read.Sheets[0].Cut {
		return nil, nil, errRows.In("table", "a table has at most %d lines", signing.MostRows)
	}
	rows, unknown = u.form.FromTable(read.Sheets[0].Rows, u.blanks)
	switch {
	case len(rows) == 0:
		return nil, nil, errRows.In("table", "the first line names the columns; below it nothing was found")
	case len(rows) > signing.MostRows:
		return nil, nil, errRows.In("table", "a table has at most %d lines", signing.MostRows)
	}
	return rows, unknown, nil
}
