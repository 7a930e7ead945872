// Package signing lets papers be signed: it sends them to their parties, lets these in, takes what they
// do, and makes of it a paper that stands by itself.
package signing

import (
	"context"
	"crypto/x509"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/core/signing"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/templates"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/ink"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/secret"
	"tabularis/internal/platform/signature"
)

// Service lets papers be signed.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Contents *tree.Contents
	Items    *tree.Service
	Links    *links.Service
	Visits   *visits.Service
	Sharing  *sharing.Service
	Uploads  *uploads.Service
	// Templates knows what dossiers and days fill in.
	Templates *templates.Service
	Pages     *pages.Maker
	// Beside are the pictures that stand in a text, for whoever asks.
	Beside func(ctx context.Context, of items.Item, text reading.Source) ([]reading.Beside, error)
	Keys   *secret.Keys
	// Known are the people whom somebody may name.
	Known   func(ctx context.Context) ([]accounts.Person, error)
	BaseURL string
	Sealing
}

// Sealing is by what papers are sealed; without a seal nothing is sent.
type Sealing struct {
	Seal    *signature.Seal
	Stamper *signature.Stamper
	// Roots are the certificates that are trusted.
	Roots []*x509.Certificate
}

// Wish is a paper that somebody wants to have signed.
type Wish struct {
	Document uuid.UUID
	Plan     signing.Plan
	// Until is when it ends; Days, so many days from now, where none is given.
	Until   *time.Time
	Days    int
	Message string
	// Password is told the parties outside separately, PaperPassword opens the paper itself.
	Password, PaperPassword string
	FileIn                  *uuid.UUID
	Language                string
	// form is of which it is made, and which edition of it.
	form    *uuid.UUID
	edition int
}

const (
	usualDays   = 14
	longest     = 366 * 24 * time.Hour
	mostMessage = 4000
)

// wished is a wish that was looked at.
type wished struct {
	Wish
	sight    guard.Sight
	until    time.Time
	sizes    []reading.Size
	problems []signing.Problem
}

// Draft is what a wish would mean.
type Draft struct {
	Pages    int
	Sizes    []reading.Size
	Until    time.Time
	Problems []signing.Problem
	// Refused is why it cannot be sent like this, though its plan is sound.
	Refused error
}

// Draft says what a wish would mean. It changes nothing.
func (s *Service) Draft(ctx context.Context, w Wish) (Draft, error) {
	looked, err := s.look(ctx, s.Acts.DB, w)
	if err != nil {
		return Draft{}, err
	}
	d := Draft{Pages: len(looked.sizes), Sizes: looked.sizes, Until: looked.until, Problems: looked.problems}
	if len(looked.problems) == 0 {
		d.Refused = s.refused(ctx, s.Acts.DB, looked)
	}
	return d, nil
}

// look checks a wish: the acting person may change the document, and give it out where somebody outside
// is among the parties.
func (s *Service) look(ctx context.Context, q postgres.Q, w Wish) (out wished, err error) {
	now := s.Acts.Now()
	need := access.See | access.Change
	if slices.ContainsFunc(w.Plan.Parties, func(p signing.Party) bool { return p.Person == nil }) {
		need |= access.Share
	}
	out.Wish = w
	if out.sight, err = s.Access.Kind(ctx, q, w.Document, items.Document, need, now); err != nil {
		return out, err
	}
	if !s.Pages.Can(out.sight.MediaType) {
		return out, errPaper.In("document", "only what can be set on pages is signed")
	}
	_, zone, err := practice.PracticeZone(ctx, q)
	if err != nil {
		return out, err
	}
	if out.until = signing.Ends(now, days(w.Days), zone).UTC(); w.Until != nil {
		out.until = *w.Until
	}
	if !out.until.After(now) || out.until.After(now.Add(longest)) || w.Days < 0 {
		return out, errUntil.In("until", "a request ends between now and a year from now")
	}
	if len([]rune(w.Message)) > mostMessage {
		return out, fault.MessageLong.In("message", "a message has at most %d letters", mostMessage)
	}
	if out.sizes, err = s.sizes(ctx, out.sight, w.PaperPassword); err != nil {
		return out, err
	}
	if err := s.people(ctx, &out); err != nil {
		return out, err
	}
	out.problems = flaws(out.Plan, out.sizes)
	return out, nil
}

func days(n int) int {
	if n == 0 {
		return usualDays
	}
	return n
}

// sizes are those of the pages as they are shown. What is locked is asked for its password.
func (s *Service) sizes(ctx context.Context, sight guard.Sight, password string) ([]reading.Size, error) {
	source := s.Contents.Source(ctx, versionOf(sight.Item), act.Who(ctx).From())
	if password != "" && sight.MediaType == pdfType {
		ready, err := s.Contents.Reader.Ready(ctx, source, password)
		if err != nil {
			return nil, err
		}
		source = reading.FromMemory(ready.Raw, source)
	}
	pages, err := s.outline(ctx, source)
	if fault.Of(err).Code == fault.Unshowable.Name() && sight.MediaType == pdfType {
		// Perhaps it is only locked.
		_, locked := s.Contents.Reader.Ready(ctx, source, password)
		if fault.Of(locked).Code == fault.PaperLocked.Name() {
			return nil, locked
		}
	}
	return pages, err
}

// outline are the sizes of all pages of a paper; one of which only the beginning can be shown is not signed.
func (s *Service) outline(ctx context.Context, source reading.Source) ([]reading.Size, error) {
	o, err := s.Pages.Outline(ctx, source)
	if err == nil && o.Cut {
		err = errPaper.In("document", "the paper has more pages than can be signed")
	}
	return o.Pages, err
}

const pdfType = "application/pdf"

// onLetterhead is a paper as it is read, and set on the practice's pages where it is not on pages already.
func (s *Service) onLetterhead(ctx context.Context, q postgres.Q, i items.Item, v items.Version) (source reading.Source, err error) {
	source = s.Contents.Source(ctx, v, act.Who(ctx).From())
	if source.Head, err = practice.Letterhead(ctx, q, names.Stem(i.Name)); err != nil {
		return source, err
	}
	source.Beside, err = s.Beside(ctx, i, source)
	return source, err
}

func versionOf(i items.Item) items.Version {
	return items.Version{ItemID: i.ID, Number: i.Version, SHA256: i.SHA256, Size: i.Size, MediaType: i.MediaType}
}

// people names the parties that are colleagues, as they are called now.
func (s *Service) people(ctx context.Context, w *wished) error {
	known, err := s.Known(ctx)
	if err != nil {
		return err
	}
	w.Plan.Parties = slices.Clone(w.Plan.Parties)
	for i := range w.Plan.Parties {
		p := &w.Plan.Parties[i]
		p.Name, p.Email, p.Role = strings.TrimSpace(p.Name), strings.TrimSpace(p.Email), strings.TrimSpace(p.Role)
		if p.Person == nil {
			continue
		}
		who, there := colleague(known, *p.Person)
		if !there {
			return fault.Missing()
		}
		p.Name, p.Email, p.Known = who.Name, who.Email, signing.BySignIn
	}
	return nil
}

// colleague finds somebody among those whom one may name, as long as they are there.
func colleague(known []accounts.Person, id uuid.UUID) (accounts.Person, bool) {
	at := slices.IndexFunc(known, func(k accounts.Person) bool { return k.ID == id && k.DeactivatedAt == nil })
	if at < 0 {
		return accounts.Person{}, false
	}
	return known[at], true
}

// flaws are those of a plan for a paper with pages of such sizes.
func flaws(p signing.Plan, sizes []reading.Size) []signing.Problem {
	return append(signing.Check(p, len(sizes), true), rooms(p, sizes)...)
}

// sound refuses by the first of what was found wrong.
func sound(all []signing.Problem) error {
	if len(all) == 0 {
		return nil
	}
	return errPlan.In(all[0].At, "that cannot be signed: %s", all[0].Flaw)
}

// rooms finds what is filled in beforehand and does not fit.
func rooms(p signing.Plan, sizes []reading.Size) (all []signing.Problem) {
	fits := measuring()
	for _, at := range p.Places {
		if at.Kind != signing.Fixed || at.Page < 1 || at.Page > len(sizes) {
			continue
		}
		size := sizes[at.Page-1]
		if !fits(at.Value, at.Box.W*size.Width, at.Box.H*size.Height) {
			all = append(all, signing.Problem{At: "places/" + strconv.Itoa(at.ID), Flaw: signing.LongWords})
		}
	}
	return all
}

// measuring says whether words fit into a place; letters are made ready only where there are some.
func measuring() func(words string, w, h float64) bool {
	sheets := sync.OnceValue(ink.New)
	return func(words string, w, h float64) bool { return sheets().Fits(words, w, h) }
}

// refused is why a sound wish cannot be sent.
func (s *Service) refused(ctx context.Context, q postgres.Q, w wished) error {
	if s.Seal == nil || s.Stamper == nil {
		return errNoSeal.New("the practice has no key yet by which papers are signed")
	}
	if _, err := aliveOf(ctx, q, w.sight.ID); err == nil {
		return errUnderWay.In("document", "%s is with its parties already", w.sight.Ref())
	} else if !fault.Is(err, fault.NotFound) {
		return err
	}
	for i, p := range w.Plan.Parties {
		if p.Person == nil {
			continue
		}
		person, err := accounts.PersonByID(ctx, q, *p.Person)
		if err != nil {
			return err
		}
		if _, err := s.Access.Item(act.As(ctx, act.Actor{Person: &person}), q, w.sight.ID, access.See, s.Acts.Now()); err != nil {
			return errPerson.In("parties/"+strconv.Itoa(i), "%s cannot open %s", p.Name, w.sight.Ref())
		}
	}
	rules, err := practice.ThePractice(ctx, q)
	if err != nil {
		return err
	}
	outside := slices.Clone(w.Plan.Copies)
	for _, p := range w.Plan.Parties {
		if p.Person == nil {
			outside = append(outside, p.Email)
		}
	}
	for _, email := range outside {
		if err := reaches(rules, email); err != nil {
			return err
		}
	}
	if w.FileIn != nil {
		if _, err := s.Access.Kind(ctx, q, *w.FileIn, items.Folder, access.Add, s.Acts.Now()); err != nil {
			return err
		}
	}
	return nil
}

// Send sends a paper to its parties.
func (s *Service) Send(ctx context.Context, w Wish) (uuid.UUID, error) {
	w, err := s.onPages(ctx, w)
	if err != nil {
		return uuid.Nil, err
	}
	looked, err := s.look(ctx, s.Acts.DB, w)
	if err != nil {
		return uuid.Nil, err
	}
	if err := sound(looked.problems); err != nil {
		return uuid.Nil, err
	}
	hash, err := s.Links.Hash(ctx, w.Password)
	if err != nil {
		return uuid.Nil, err
	}
	var id uuid.UUID
	return id, s.Acts.Do(ctx, func(tx *act.Tx) error {
		id = uuid.Must(uuid.NewV7())
		return s.send(ctx, tx, id, looked, hash)
	})
}

func (s *Service) send(ctx context.Context, tx *act.Tx, id uuid.UUID, w wished, hash string) error {
	held, err := tree.HoldDocument(ctx, tx, s.Access, w.Document, access.See|access.Change)
	if err != nil {
		return err
	}
	if string(held.SHA256) != string(w.sight.SHA256) {
		return errMoved.New("%s has changed meanwhile; look at it again", w.sight.Ref())
	}
	if err := s.refused(ctx, tx, w); err != nil {
		return err
	}
	if err := s.Items.MayRevise(tree.Superseding(ctx), tx, held.Item); err != nil {
		return err
	}
	r := row{ID: id, ItemID: w.sight.ID, SentBy: tx.Actor.Person.ID, Message: strings.TrimSpace(w.Message), Language: links.Language(w.Language), Version: w.sight.Version, SHA256: w.sight.SHA256, Pages: len(w.sizes), FileIn: w.FileIn, SentAt: tx.Now, FormID: w.form, FormEdition: w.edition}
	if w.PaperPassword != "" {
		r.Password = s.Keys.Seal([]byte(w.PaperPassword), passwordPurpose)
	}
	t := &travel{row: r, at: w.sight.Located, Machine: &signing.Machine{Now: tx.Now}, seats: make([]seat, len(w.Plan.Parties)), hash: hash}
	t.Send(w.Plan, w.until, r.SentBy)
	return taken(s.settle(ctx, tx, t))
}

// taken says that somebody else was quicker.
func taken(err error) error {
	if postgres.Collides(err, alive) {
		return errUnderWay.In("document", "the document is with its parties already")
	}
	return err
}

// onPages makes of an office document or a text the PDF document that is signed, beside it.
func (s *Service) onPages(ctx context.Context, w Wish) (Wish, error) {
	now := s.Acts.Now()
	sight, err := s.Access.Kind(ctx, s.Acts.DB, w.Document, items.Document, access.See|access.Change, now)
	if err != nil || sight.MediaType == pdfType {
		return w, err
	}
	// What else is wrong is said before anything is made.
	looked, err := s.look(ctx, s.Acts.DB, w)
	if err != nil {
		return w, err
	}
	if err := sound(looked.problems); err != nil {
		return w, err
	}
	if err := s.refused(ctx, s.Acts.DB, looked); err != nil {
		return w, err
	}
	source, err := s.onLetterhead(ctx, s.Acts.DB, sight.Item, versionOf(sight.Item))
	if err != nil {
		return w, err
	}
	raw, err := s.Pages.Paper(ctx, source)
	if err != nil {
		return w, err
	}
	w.Document, err = s.Uploads.PutDocument(ctx, *sight.ParentID, names.Stem(sight.Name)+".pdf", int64(len(raw)), strings.NewReader(string(raw)))
	return w, err
}

// wayIn makes the link by which a party outside comes in, with the sender's rights.
func (s *Service) wayIn(ctx context.Context, tx *act.Tx, t *travel, p signing.Party) (links.Link, error) {
	w := links.Wish{Items: []uuid.UUID{t.ItemID}, Name: short(t.at.Item.Name + " · " + p.Name), UntilSet: true, Language: t.Language}
	until := t.Request.Until
	w.Terms = linkgate.Terms{Kind: linkgate.HandOut, Until: &until, MayDownload: true, Tell: linkgate.TellNever}
	switch p.Known {
	case signing.ByCode:
		w.Identify, w.Allowed = linkgate.Confirmed, names.List{p.Email}
	case signing.BySignIn:
		w.Identify, w.Allowed = linkgate.SignedIn, names.List{p.Email}
	}
	if t.hash != "" {
		w.Terms.Password = true
	}
	rules, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return links.Link{}, err
	}
	// Whoever is mailed a way in is reached by what the practice lets out, like by any link.
	if err := reaches(rules, p.Email); err != nil {
		return links.Link{}, err
	}
	return s.Links.MakeIn(ctx, tx, w, t.hash)
}

// reaches refuses what is no address, and one to which the practice lets nothing out.
func reaches(p practice.Practice, email string) error {
	a, err := mail.Address("plan", email)
	if err != nil {
		return err
	}
	if !strings.EqualFold(a.Address, email) {
		return fault.AddressForm.In("plan", "%q is not a mail address alone", email)
	}
	if !p.Outward().Reaches(email) {
		return fault.RuleDomain.In("plan", "the practice lets nothing out to %s", email)
	}
	return nil
}
