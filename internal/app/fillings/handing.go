package fillings

import (
	"context"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/fillings"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/richtext"
	"tabularis/core/richtext/markdown"
	"tabularis/core/versions"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/particulars"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/reading"
)

var errWentOn = fault.Declare(fault.Conflict, "form-went-on", "the form has been changed meanwhile; look at it again before you hand it in")

// HandIn hands in what was answered to a version of the form. It becomes a paper that is filed, and a row of the
// register; handed in again before anybody has taken it up, it is the paper's next version.
func (s *Service) HandIn(ctx context.Context, w Who, version int, name string) (out Filling, err error) {
	f, err := s.find(ctx, s.Acts.DB, w)
	if err != nil {
		return out, err
	}
	if f.person == nil {
		if f.name, err = names.Named("name", name, 100); err != nil {
			return out, err
		}
	}
	known, form, err := s.ask(ctx, f.item)
	if err != nil || known.Fields == 0 {
		return out, orNone(err)
	}
	if known.Version != version {
		return out, errWentOn.New("it is in version %d now", known.Version)
	}
	r, err := latest(ctx, s.Acts.DB, f.item.ID, f.key)
	if fault.Is(err, fault.NotFound) {
		return out, fillings.ErrUnanswered.In("answers", "nothing is answered yet")
	}
	if err != nil {
		return out, err
	}
	h := handing{Service: s, filler: f, form: form, version: version, seen: r}
	if err := h.prepare(ctx); err != nil {
		return out, err
	}
	stored, err := s.Contents.Store(ctx, h.paper, "application/pdf", s.Acts.Now())
	if err != nil {
		return out, err
	}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error { return h.file(ctx, tx, stored) })
	if err = errors.Join(err, stored.End(ctx, err)); err != nil {
		return out, err
	}
	return s.filling(ctx, f)
}

// handing is what is being handed in.
type handing struct {
	*Service
	filler
	form    fillings.Form
	version int
	// seen is the row as its answers were read.
	seen    row
	answers fillings.Answers
	paper   []byte
}

// prepare checks the answers, and sets the paper.
func (h *handing) prepare(ctx context.Context) error {
	clock, err := h.clock(ctx)
	if err != nil {
		return err
	}
	have, err := h.answersOf(h.seen)
	if err != nil {
		return err
	}
	if h.answers, err = h.form.HandIn(have, clock); err != nil {
		return err
	}
	doc, err := h.TextOf(ctx, h.item, h.version)
	if err != nil {
		return err
	}
	if doc, err = richtext.Without(doc, ""); err != nil {
		return err
	}
	_, zone, err := practice.PracticeZone(ctx, h.Acts.DB)
	if err != nil {
		return err
	}
	head := h.name
	if h.email != "" {
		head += " · " + h.email
	}
	head += " · " + clock.Now.In(zone).Format("2006-01-02 15:04 MST")
	raw, err := headed(fillings.Filled(doc, h.answers), head)
	if err != nil {
		return err
	}
	source := reading.FromMemory(raw, reading.Source{For: h.key})
	source.MediaType = writtenType
	if source.Head, err = practice.Letterhead(ctx, h.Acts.DB, fmt.Sprintf("%s, v. %d", names.Stem(h.item.Name), h.version)); err != nil {
		return err
	}
	h.paper, err = h.Pages.Paper(ctx, source)
	return err
}

// headed is a document as a file, with a line above it.
func headed(doc *richtext.Node, line string) ([]byte, error) {
	raw, err := json.Marshal(map[string]any{"type": "doc", "content": []any{
		map[string]any{"type": "paragraph", "content": []any{map[string]any{"type": "text", "text": line}}}, map[string]any{"type": "rule"}}})
	if err != nil {
		return nil, err
	}
	top, err := richtext.Written.Read(raw)
	if err != nil {
		return nil, err
	}
	above, err := markdown.Write(top)
	if err != nil {
		return nil, err
	}
	below, err := markdown.Write(doc)
	return []byte(above + "\n" + below), err
}

// file files the paper, and notes that it was handed in.
func (h *handing) file(ctx context.Context, tx *act.Tx, stored *tree.Stored) error {
	if err := tree.LockDossier(ctx, tx, h.item.DossierID); err != nil {
		return err
	}
	// What may be done can have ended since.
	now, err := h.find(ctx, tx, h.asked())
	if err != nil {
		return err
	}
	r, err := open(ctx, tx, h.item.ID, h.key)
	if fault.Is(err, fault.NotFound) {
		return ErrTaken.New("what was handed in is being worked on")
	}
	if err != nil {
		return err
	}
	known, err := fillableOf(ctx, tx, h.item.ID, true)
	if err != nil {
		return err
	}
	if now.item.Version != h.version || !r.KeptAt.Equal(h.seen.KeptAt) {
		return errWentOn.New("something was changed meanwhile")
	}
	if err := stored.Keep(ctx, tx); err != nil {
		return err
	}
	paper, err := h.place(ctx, tx, r, known, stored.Version)
	if err != nil {
		return err
	}
	if r.Number == nil {
		n, err := nextNumber(ctx, tx, h.item.ID)
		if err != nil {
			return err
		}
		r.Number = &n
	}
	answered := h.form.Answered(h.answers)
	r.Name, r.HandedAt, r.Version, r.PaperID, r.PaperSHA256 = h.name, &tx.Now, &h.version, &paper.ID, stored.Version.SHA256
	if r.Handed, err = sealed(h.Keys, answersPurpose, answered); err != nil {
		return err
	}
	if r.Answers, err = sealed(h.Keys, answersPurpose, h.answers); err != nil {
		return err
	}
	if err := handIn(ctx, tx, r); err != nil {
		return err
	}
	named := make([]particulars.Named, len(answered))
	for i, a := range answered {
		named[i] = particulars.Named{Name: a.Label, Value: a.Value}
	}
	if err := particulars.SetNamed(ctx, tx, paper, named, h.item.CreatedBy); err != nil {
		return err
	}
	return h.tell(ctx, tx, r, int64(len(h.paper)))
}

func (h *handing) asked() Who {
	if h.link == nil {
		return Who{Document: h.item.ID}
	}
	return Who{Visitor: &h.visitor}
}

// place adds the paper, or gives it its next version.
func (h *handing) place(ctx context.Context, tx *act.Tx, r row, known fillable, v items.Version) (paper items.Item, err error) {
	folder, err := h.folder(ctx, tx, h.item, known)
	if err != nil {
		return paper, err
	}
	by := hand{h.hand(tx), h.item.CreatedBy, folder}
	if r.PaperID != nil {
		if paper, err = tree.ItemByID(ctx, tx, *r.PaperID); err == nil {
			_, err = h.Items.Revise(ctx, tx, by, paper, v, versions.Uploaded)
			return paper, err
		}
		if !fault.Is(err, fault.NotFound) {
			return paper, err
		}
	}
	name, err := names.Check("name", fmt.Sprintf("%s, %s.pdf", names.Stem(h.item.Name), h.name))
	if err != nil {
		name = names.Stem(h.item.Name) + ".pdf"
	}
	return h.Items.AddDocument(ctx, tx, by, folder, tree.Arrival{Name: name, Content: v, Origin: versions.Uploaded, Hidden: true})
}

// hand is by whom it is filed: by whoever fills in, into a folder that others chose.
func (h *handing) hand(tx *act.Tx) tree.Hand {
	if h.link != nil {
		return h.Visits.Hand(*h.link, h.visit)
	}
	return tree.Person(h.Access, h.Acts.Now, *h.person)
}

type hand struct {
	tree.Hand
	owner  uuid.UUID
	folder items.Item
}

func (h hand) Into(context.Context, postgres.Q, uuid.UUID) (items.Item, error) { return h.folder, nil }
func (h hand) MayChange(context.Context, postgres.Q, items.Item) error         { return nil }
func (h hand) Sees() guard.Seer                                                { return guard.Everything }

// Owner is whoever wrote the form: who fills it in does not decide on the paper any more.
func (h hand) Owner() uuid.UUID { return h.owner }

// tell tells whoever gave the form out, and gives a receipt.
func (h *handing) tell(ctx context.Context, tx *act.Tx, r row, size int64) error {
	by := h.item.CreatedBy
	what := events.FillingHandedIn.With(events.FillingNamed{Name: h.item.Name, Number: *r.Number, Person: h.name, SHA256: hex.EncodeToString(r.PaperSHA256)})
	e := act.Event{What: what, Dossier: h.item.DossierID, Item: &h.item.ID, Version: h.version}
	if h.link != nil {
		by, e.By, e.Link = h.link.CreatedBy, events.Visitor(h.link.ID, h.email), &h.link.ID
	}
	if err := tx.Record(ctx, e); err != nil {
		return err
	}
	if h.person == nil || *h.person != by {
		if err := notices.Add(ctx, tx, by, notices.HandedIn, h.item.Name, "/answers/"+h.item.ID.String()); err != nil {
			return err
		}
	}
	return h.receipt(ctx, tx, r, by, size)
}

// receipt mails what was handed in to whoever is known for certain.
func (h *handing) receipt(ctx context.Context, tx *act.Tx, r row, by uuid.UUID, size int64) error {
	if !h.resumes || h.email == "" {
		return nil
	}
	p, zone, err := practice.PracticeZone(ctx, tx)
	if err != nil {
		return err
	}
	sender, err := accounts.PersonByID(ctx, tx, by)
	if err != nil {
		return err
	}
	language := act.Who(ctx).Language
	if h.link != nil {
		language = h.link.Language
	}
	file := letters.ReceivedFile{Name: fmt.Sprintf("%s, %d", h.item.Name, *r.Number), Bytes: size, At: tx.Now.In(zone).Format("2006-01-02 15:04 MST"), SHA256: hex.EncodeToString(r.PaperSHA256)}
	return tx.Send(ctx, letters.Mail{To: h.email, Language: language, Practice: p.Name, ReplyTo: sender.Email,
		Letter: letters.Receipt{Name: h.item.Name, Sender: letters.Sender{Name: sender.Name, Role: sender.Role, Email: sender.Email}, Files: []letters.ReceivedFile{file}}})
}
