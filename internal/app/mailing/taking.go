package mailing

import (
	"bytes"
	"context"
	"crypto/sha256"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"
	"unicode"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	rules "tabularis/core/mailing"
	"tabularis/core/names"
	announced "tabularis/core/transfers"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/transfers"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/secret"
)

const (
	// again is for how long the same mail is taken for one that is handed over again.
	again = 24 * time.Hour
	// hour is over which time recipients are counted.
	hour = time.Hour
	// templatePurpose is what the mails that wait are sealed for.
	templatePurpose = "mail template"
)

// draft is a mail that is being taken.
type draft struct {
	Mailing
	raw       []byte
	message   rules.Message
	settings  rules.Settings
	replaced  []int
	documents []uuid.UUID
}

func (d draft) givesOut() bool { return len(d.replaced)+len(d.documents) > 0 }

// Take takes a mail from the acting person's mail program. When it returns, the mail is kept, and goes on
// or waits to be confirmed; one that is handed over again is not taken twice.
func (s *Service) Take(ctx context.Context, p Password, from string, to []string, raw []byte) (Mailing, error) {
	d, err := s.begin(ctx, p, from, to, raw)
	if err != nil || d.State != taking {
		return d.Mailing, err
	}
	if err = s.fill(ctx, &d); err == nil {
		err = s.settle(ctx, &d)
	}
	if err != nil {
		// Nothing half-sent is left.
		if gone := s.giveUp(context.WithoutCancel(ctx), d.ID); gone != nil {
			return d.Mailing, fmt.Errorf("%w, and giving the mail up: %w", err, gone)
		}
	}
	return d.Mailing, err
}

// begin reads a mail, decides what becomes of it, and notes it. One that was taken before is returned as
// it stands.
func (s *Service) begin(ctx context.Context, p Password, from string, to []string, raw []byte) (d draft, err error) {
	sum := sha256.Sum256(raw)
	d.Mailing = Mailing{ID: uuid.Must(uuid.NewV7()), PersonID: p.PersonID, At: s.Acts.Now(), State: taking, Sender: from, SHA256: sum[:], Mark: "=_" + secret.Token()}
	d.raw, d.settings = raw, p.Settings()
	if len(to) > rules.MostRecipients {
		return d, errRecipients.In("to", "a mail goes to at most %d recipients", rules.MostRecipients)
	}
	for _, one := range to {
		d.To = append(d.To, Recipient{Address: one})
	}
	if d.message, err = s.Reader.Dissect(ctx, s.source(d)); err != nil {
		if fault.Is(err, fault.Invalid) {
			err = errUnreadable.New("this is no mail that can be read")
		}
		return d, err
	}
	if !slices.ContainsFunc(d.message.From, func(a string) bool { return Mine(ctx, a) == nil }) {
		return d, errNotYours.New("mails are sent in one's own name")
	}
	d.Subject, d.Lines = title(d.message.Subject), d.message.Lines
	d.replaced = d.message.Attachments(d.settings)
	if d.settings.Numbers && d.message.Sealed() == "" {
		if d.documents, err = s.documents(ctx, d.message); err != nil {
			return d, err
		}
	}
	if d.givesOut() {
		if err := s.mayReach(ctx, to); err != nil {
			return d, err
		}
	}
	return d, s.Acts.Do(ctx, func(tx *act.Tx) error { return s.note(ctx, tx, &d) })
}

func (s *Service) source(d draft) reading.Source {
	return reading.Source{SHA256: d.SHA256, MediaType: "message/rfc822", Size: int64(len(d.raw)), For: d.PersonID.String(),
		Open: func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(d.raw)), nil }}
}

// title is a mail's subject on a line.
func title(subject string) string {
	subject = strings.Join(strings.FieldsFunc(subject, func(r rune) bool { return unicode.IsControl(r) || unicode.IsSpace(r) }), " ")
	if r := []rune(subject); len(r) > 120 {
		subject = string(r[:120])
	}
	return subject
}

// usual are the terms of a mail's transfer unless its sender says others: where the practice wants to know who
// comes, a code is sent. Where it wants a password, one that nobody knows stands for what its sender will say.
func usual(r linkgate.Rules, holds bool) (t linkgate.Terms, password string) {
	t = linkgate.Terms{MayDownload: true}
	if r.Required == linkgate.RequireIdentity || r.Required == linkgate.RequireEither || len(r.Only) > 0 {
		t.Identify = linkgate.Confirmed
	}
	if r.Required == linkgate.RequirePassword && holds {
		password = secret.Token()
	}
	return t, password
}

// called is what the transfer of a mail is called: by its subject, as far as that is a name.
func called(subject string) string {
	name, err := names.Check("name", strings.NewReplacer("/", "-", "\\", "-").Replace(subject))
	if err != nil {
		return ""
	}
	return name
}

// documents are those whose numbers are written, and that the acting person may give out. Others stay
// numbers: nothing is said of them.
func (s *Service) documents(ctx context.Context, m rules.Message) (all []uuid.UUID, err error) {
	for _, ref := range m.Refs {
		i, err := tree.DocumentByNumber(ctx, s.Acts.DB, ref.Code, ref.Number)
		if err == nil {
			_, err = s.Access.Item(ctx, s.Acts.DB, i.ID, access.Share|access.Download, s.Acts.Now())
		}
		switch {
		case fault.Is(err, fault.NotFound), fault.Is(err, fault.Forbidden):
			continue
		case err != nil:
			return nil, err
		}
		all = append(all, i.ID)
	}
	return all, nil
}

// mayReach refuses recipients to whom the practice lets nothing out, or only what is sealed.
func (s *Service) mayReach(ctx context.Context, to []string) error {
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	for _, one := range to {
		if !p.Outward().Reaches(one) {
			return fault.RuleDomain.In("to", "the practice lets nothing out to %s", one)
		}
	}
	if err := p.Outward().RefuseOpen(linkgate.Terms{Kind: linkgate.Transfer}, to); err != nil {
		return errMustSeal.In("to", "%s", fault.Of(err).Detail+"; send it as a transfer")
	}
	return nil
}

// note notes a mail that is being taken, once.
func (s *Service) note(ctx context.Context, tx *act.Tx, d *draft) error {
	if err := lockSender(ctx, tx, d.PersonID); err != nil {
		return err
	}
	before, err := sameMail(ctx, tx, d.PersonID, d.SHA256, tx.Now.Add(-again))
	switch {
	case err == nil && before.State == taking:
		return errSendAgain.New("the same mail is just being taken; try again shortly")
	case err == nil:
		d.Mailing = before
		return nil
	case !fault.Is(err, fault.NotFound):
		return err
	}
	n, err := countRecipients(ctx, tx, d.PersonID, tx.Now.Add(-hour))
	if err != nil {
		return err
	}
	if n+len(d.To) > rules.MostAnHour {
		return fault.Slow(hour)
	}
	return addMailing(ctx, tx, d.Mailing)
}

// fill makes the transfer of a mail and puts its attachments into it.
func (s *Service) fill(ctx context.Context, d *draft) error {
	if !d.givesOut() {
		return nil
	}
	files := make([]announced.File, len(d.replaced))
	for n, i := range d.replaced {
		p := d.message.Parts[i]
		files[n] = announced.File{Name: p.FileName(), Size: p.Size}
	}
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	terms, password := usual(p.Outward(), d.settings.Holds)
	w := transfers.Wish{Wish: links.Wish{Items: d.documents, Name: called(d.Subject), Terms: terms, Password: password, Language: act.Who(ctx).Language}, Files: files, Waits: true}
	t, err := s.Transfers.MakeWith(ctx, w, func(tx *act.Tx, transfer uuid.UUID) error {
		d.TransferID = &transfer
		return setTransfer(ctx, tx, d.ID, transfer)
	})
	if err != nil {
		return err
	}
	arriving := t.Files[len(t.Files)-len(files):]
	for n, i := range d.replaced {
		content, err := s.Reader.MailPart(ctx, s.source(*d), d.message.Parts[i])
		if err != nil {
			return err
		}
		f := arriving[n]
		if _, err := s.Uploads.Put(ctx, uploads.Wish{Folder: t.FolderID, Name: f.Name, Size: int64(len(content)), Apart: true, Announced: &f.ID}, bytes.NewReader(content)); err != nil {
			return err
		}
	}
	return nil
}

// settle keeps what goes on, and lets it go, or wait.
func (s *Service) settle(ctx context.Context, d *draft) error {
	pieces := rules.Template(d.message, d.raw, s.changes(*d))
	plain, err := pack(pieces)
	if err != nil {
		return err
	}
	sealed := s.Keys.Seal(plain, templatePurpose)
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := setTemplate(ctx, tx, d.ID, sealed); err != nil {
			return err
		}
		if err := s.sayUntouched(ctx, tx, *d); err != nil {
			return err
		}
		if d.givesOut() && d.settings.Holds {
			d.State = held
			return s.hold(ctx, tx, d.Mailing)
		}
		d.State = going
		return s.goOn(ctx, tx, d.Mailing, taking)
	})
}

// changes are what is done to a mail: beside its attachments, what a mail that is handed over has to have
// (RFC 6409, section 8).
func (s *Service) changes(d draft) rules.Changes {
	c := rules.Changes{Replaced: d.replaced, Note: d.givesOut(), Mark: d.Mark,
		Trace: fmt.Sprintf("Received: by %s (Tabularis) with ESMTPSA id %s; %s", s.Host, d.ID, d.At.Format(time.RFC1123Z))}
	if !d.message.Says("Date") {
		c.Added = append(c.Added, "Date: "+d.At.Format(time.RFC1123Z))
	}
	if !d.message.Says("Message-ID") {
		c.Added = append(c.Added, fmt.Sprintf("Message-ID: <%s@%s>", d.ID, s.Host))
	}
	return c
}

// sayUntouched tells a sender that a signed or encrypted mail went on with its attachments.
func (s *Service) sayUntouched(ctx context.Context, tx *act.Tx, d draft) error {
	if !d.message.Keeps(d.settings) {
		return nil
	}
	return notices.Add(ctx, tx, d.PersonID, notices.MailUntouched, d.Subject, "/outward/transfers")
}

// hold lets a mail wait, and tells its sender where.
func (s *Service) hold(ctx context.Context, tx *act.Tx, m Mailing) error {
	if err := setState(ctx, tx, m.ID, taking, held); err != nil {
		return err
	}
	if err := notices.Add(ctx, tx, m.PersonID, notices.MailHeld, m.Subject, path(m.ID)); err != nil {
		return err
	}
	p, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	me := tx.Actor.Person
	return tx.Send(ctx, letters.Mail{To: me.Email, ToName: me.Name, Language: me.Language, Practice: p.Name, Letter: letters.MailHeld{Subject: m.Subject, Address: s.BaseURL + path(m.ID)}})
}

// path is where a mail is confirmed.
func path(id uuid.UUID) string { return "/outward/mail/" + id.String() }

// goOn lets a mail go to everybody, each with their own copy of the link.
func (s *Service) goOn(ctx context.Context, tx *act.Tx, m Mailing, from string) error {
	if err := setState(ctx, tx, m.ID, from, going); err != nil {
		return err
	}
	to, err := recipientsOf(ctx, tx, m.ID)
	if err != nil {
		return err
	}
	if m.TransferID != nil {
		if err := s.Transfers.Tell(ctx, tx, *m.TransferID, addresses(to)); err != nil {
			return err
		}
	}
	for _, r := range to {
		if err := tx.Enqueue(ctx, jobs.Forward{Mailing: m.ID, To: r.Address}); err != nil {
			return err
		}
	}
	return nil
}

// giveUp forgets a mail that is not sent, with its transfer.
func (s *Service) giveUp(ctx context.Context, id uuid.UUID) error {
	m, err := mailingByID(ctx, s.Acts.DB, id)
	if err != nil {
		return err
	}
	if m.TransferID != nil {
		if err := s.Transfers.Discard(ctx, *m.TransferID); err != nil {
			return err
		}
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return setState(ctx, tx, id, m.State, dropped) })
}
