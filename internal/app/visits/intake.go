package visits

import (
	"cmp"
	"context"
	"encoding/hex"
	"errors"
	"path"
	"slices"
	"strconv"
	"strings"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/intake"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/mail"
)

// Intake is what a visitor sees of a link that takes papers in: only what they
// put in themselves.
type Intake struct {
	Link     links.Link
	Visit    Visit
	Sender   accounts.Person
	Sentence terms.Sentence
	Expected []links.ExpectedPaper
	Received []Received
	// Left is how much more is taken, where that is limited.
	Left intake.Limits
	// Recipient is the public key for which what is sent is sealed, if it is.
	Recipient string
}

// within finds a link that takes papers in, in a visit that was let in.
func (s *Service) within(ctx context.Context, q postgres.Q, v Visitor) (links.Link, Visit, error) {
	l, visit, err := s.visiting(ctx, q, v)
	if err == nil && !linkgate.TakesIn(l.Kind) {
		err = fault.Missing()
	}
	return l, visit, err
}

// Intake shows what the link takes in. What has arrived whole, and was cut off
// before it was put in its place, is put there now.
func (s *Service) Intake(ctx context.Context, v Visitor) (Intake, error) {
	l, visit, err := s.within(ctx, s.Acts.DB, v)
	if err != nil {
		return Intake{}, err
	}
	whole, err := CompleteUploads(ctx, s.Acts.DB, visit.ID)
	if err != nil {
		return Intake{}, err
	}
	for _, id := range whole {
		// What is refused, because the link is full by now, stays out.
		if _, err := s.Uploads.Finish(s.Bringing(ctx, v), id); err != nil && fault.Of(err).Kind == fault.Internal {
			return Intake{}, err
		}
	}
	return s.intake(ctx, s.Acts.DB, l, visit)
}

func (s *Service) intake(ctx context.Context, q postgres.Q, l links.Link, visit Visit) (in Intake, err error) {
	in = Intake{Link: l, Visit: visit, Left: intake.Limits{Endings: l.Limits.Endings}}
	if in.Sender, err = accounts.PersonByID(ctx, q, l.CreatedBy); err != nil {
		return in, err
	}
	if in.Received, err = ReceivedFrom(ctx, q, visit); err != nil {
		return in, err
	}
	if in.Expected, err = links.ExpectedPapers(ctx, q, []uuid.UUID{l.ID}); err != nil {
		return in, err
	}
	// That somebody else handed a paper in is not this visitor's to see.
	for i := range in.Expected {
		in.Expected[i].Here = false
		for _, r := range in.Received {
			in.Expected[i].Here = in.Expected[i].Here || r.Paper != nil && *r.Paper == in.Expected[i].Position
		}
	}
	have, err := TallyReceived(ctx, q, l.ID)
	if err != nil {
		return in, err
	}
	if l.Limits.Files != nil {
		n := max(0, *l.Limits.Files-have.Files)
		in.Left.Files = &n
	}
	if l.Limits.Bytes != nil {
		n := max(0, *l.Limits.Bytes-have.Bytes)
		in.Left.Bytes = &n
	}
	if l.Kind == linkgate.Address {
		if in.Recipient, err = s.Addresses.Recipient(ctx, q, l.ID); err != nil {
			return in, err
		}
	}
	_, zone, err := practice.PracticeZone(ctx, q)
	if err != nil {
		return in, err
	}
	in.Sentence = terms.Link{Terms: l.Terms}.ForVisitor(terms.Voice{Language: l.Language, Zone: zone, Now: s.Acts.Now()}, nil)
	return in, nil
}

// Bringing returns a context in which a visitor brings papers in.
func (s *Service) Bringing(ctx context.Context, v Visitor) context.Context {
	return uploads.By(ctx, &bringer{s: s, visitor: v})
}

// bringer is a visitor who brings papers in.
type bringer struct {
	s       *Service
	visitor Visitor
	link    links.Link
	visit   Visit
}

// Into returns the folder that the link takes papers into, while it does, or one of
// those that the visitor brought along, or walked through.
func (b *bringer) Into(ctx context.Context, q postgres.Q, wanted uuid.UUID) (folder items.Item, err error) {
	if err := b.come(ctx, q); err != nil {
		return folder, err
	}
	chosen, err := guard.LinkItems(ctx, q, []uuid.UUID{b.link.ID})
	if err != nil {
		return folder, err
	}
	if len(chosen) != 1 {
		return folder, over()
	}
	path, err := tree.PathOf(ctx, q, chosen[0].ID)
	if err == nil && len(path) == 0 {
		err = over()
	}
	if err != nil || wanted == uuid.Nil || wanted == chosen[0].ID {
		return chosen[0].Item, err
	}
	if linkgate.TakesIn(b.link.Kind) {
		brought, err := FolderBrought(ctx, q, b.visit, wanted)
		if err == nil && !brought {
			err = fault.Missing()
		}
		if err != nil {
			return folder, err
		}
		return tree.ItemByID(ctx, q, wanted)
	}
	// A folder below it, through which the visitor walked.
	var c Contents
	if err := c.findWay(ctx, q, gift{chosen: chosen}, wanted); err != nil {
		return folder, err
	}
	return tree.ItemByID(ctx, q, wanted)
}

// come finds the link and the visit, as long as papers may be brought by it.
func (b *bringer) come(ctx context.Context, q postgres.Q) (err error) {
	b.link, b.visit, err = b.s.visiting(ctx, q, b.visitor)
	if err == nil && !linkgate.TakesIn(b.link.Kind) && b.link.Kind != linkgate.Working {
		err = fault.Missing()
	}
	return err
}

// deepest is how many folders deep a visitor may bring something.
const deepest = 8

// openAtOnce is how many uploads of a visit may be under way: more than any page
// sends at once.
const openAtOnce = 100

// Takes refuses what goes beyond the link's limits, together with all that is on
// its way through it.
func (b *bringer) Takes(ctx context.Context, q postgres.Q, w uploads.Wish) error {
	if _, err := names.Path("path", w.Path, deepest); err != nil {
		return err
	}
	if _, err := links.LockLink(ctx, q, b.link.ID); err != nil {
		return err
	}
	now := b.s.Acts.Now()
	have, err := TallyReceived(ctx, q, b.link.ID)
	if err != nil {
		return err
	}
	coming, err := TallyComing(ctx, q, b.link.ID, now)
	if err != nil {
		return err
	}
	have.Files, have.Bytes = have.Files+coming.Files, have.Bytes+coming.Bytes
	open, err := uploads.OpenUploadsOf(ctx, q, b.visit.ID, now)
	if err != nil {
		return err
	}
	if open >= openAtOnce {
		return fault.Slow(time.Minute)
	}
	if w.Paper != nil {
		papers, err := links.ExpectedPapers(ctx, q, []uuid.UUID{b.link.ID})
		if err != nil {
			return err
		}
		if *w.Paper < 0 || *w.Paper >= len(papers) {
			return errPaperUnknown.In("paper", "there is no such paper in the list")
		}
	}
	if b.link.Kind == linkgate.Address {
		return b.s.Addresses.Takes(ctx, q, b.visit, w.Path, w.Size)
	}
	return b.link.Limits.Takes(have, w.Name, w.Size)
}

func (b *bringer) Sign(u *uploads.Upload) { u.VisitID = &b.visit.ID }

func (b *bringer) Owns(ctx context.Context, u uploads.Upload) bool {
	if b.visit.ID == uuid.Nil {
		// Nothing was asked yet in this request.
		if err := b.come(ctx, b.s.Acts.DB); err != nil {
			return false
		}
	}
	return u.VisitID != nil && *u.VisitID == b.visit.ID
}

// Owner is the sender, into whose folder it goes.
func (b *bringer) Owner() uuid.UUID { return b.link.CreatedBy }

// Actor is the visitor, by the link and by the address as far as it is known.
func (b *bringer) Actor() events.Actor { return events.Visitor(b.link.ID, b.visit.Email) }
func (b *bringer) Apart() bool         { return linkgate.TakesIn(b.link.Kind) }

// Sees is what the link gives.
func (b *bringer) Sees() guard.Seer {
	return func(ctx context.Context, q postgres.Q, i items.Item) (bool, error) {
		if i.Kind == items.Folder && linkgate.TakesIn(b.link.Kind) {
			return FolderBrought(ctx, q, b.visit, i.ID)
		}
		if i.Kind == items.Folder {
			g, err := b.s.given(ctx, q, b.link)
			if err == nil {
				var c Contents
				err = c.findWay(ctx, q, g, i.ID)
			}
			return err == nil, unless(err, fault.NotFound)
		}
		_, err := b.s.one(ctx, q, b.link, i.ID)
		return err == nil, unless(err, fault.NotFound)
	}
}

// unless is an error unless it is of a kind.
func unless(err error, kind fault.Kind) error {
	if fault.Is(err, kind) {
		return nil
	}
	return err
}

// MayChange refuses what the link does not give.
func (b *bringer) MayChange(ctx context.Context, q postgres.Q, there items.Item) error {
	seen, err := b.Sees()(ctx, q, there)
	if err == nil && !seen {
		err = fault.Missing()
	}
	return err
}

// Record tells of what came in, by the link through which it did.
func (b *bringer) Record(ctx context.Context, tx *act.Tx, c tree.Change) error {
	seen := visitorOf(b.link, b.visit)
	file := events.VisitFile{Visit: seen, Name: c.Item.Name, SHA256: hex.EncodeToString(c.Item.SHA256)}
	switch {
	case c.Operation == items.Destroying:
		return b.s.tell(ctx, tx, b.link, &c.Item.ID, 1, events.LinkWithdrawn.With(file))
	case c.Operation == items.Revising:
		return b.s.tell(ctx, tx, b.link, &c.Item.ID, c.Version.Number, events.LinkRevised.With(events.VisitItem{Visit: seen, Name: c.Item.Name, SHA256: hex.EncodeToString(c.Version.SHA256)}))
	case c.Item.Kind == items.Folder:
		if err := AddFolderBrought(ctx, tx, b.visit.ID, c.Item.ID); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.FolderMade.With(events.Name{Name: c.Item.Name}), By: b.Actor(), Dossier: c.Item.DossierID, Item: &c.Item.ID})
	}
	return b.s.tell(ctx, tx, b.link, &c.Item.ID, 1, events.LinkReceived.With(file))
}

// Placed notes what came in, ticks the paper off, and sees that N files mean N.
func (b *bringer) Placed(ctx context.Context, tx *act.Tx, u uploads.Upload, made items.Item) error {
	l, err := links.LockLink(ctx, tx, b.link.ID)
	if err != nil {
		return err
	}
	have, err := TallyReceived(ctx, tx, l.ID)
	if err != nil {
		return err
	}
	if err := l.Limits.Takes(have, u.Name, u.Size); err != nil {
		return err
	}
	paper, name := u.Paper, path.Join(u.Path, u.Name)
	if paper == nil {
		if paper, err = b.match(ctx, tx, strings.ReplaceAll(name, "/", ", ")); err != nil {
			return err
		}
	}
	r := Received{LinkID: l.ID, ItemID: made.ID, VisitID: b.visit.ID, Paper: paper, Name: name, SHA256: made.SHA256, Size: made.Size, At: tx.Now}
	return AddReceived(ctx, tx, r)
}

// match finds the expected paper that a file is by its name, among those that
// this visitor has not put in yet.
func (b *bringer) match(ctx context.Context, tx *act.Tx, name string) (*int, error) {
	papers, err := links.ExpectedPapers(ctx, tx, []uuid.UUID{b.link.ID})
	if err != nil {
		return nil, err
	}
	if len(papers) == 0 {
		return nil, nil
	}
	mine, err := ReceivedFrom(ctx, tx, b.visit)
	if err != nil {
		return nil, err
	}
	var expected []string
	var here []int
	for _, p := range papers {
		expected = append(expected, p.Name)
	}
	for _, r := range mine {
		if r.Paper != nil {
			here = append(here, *r.Paper)
		}
	}
	if at := intake.Match(expected, here, name); at >= 0 {
		return &at, nil
	}
	return nil, nil
}

// Signed is what a visitor says at the end of handing papers in.
type Signed struct {
	Name, Email, Note string
	// Manifest is the sealed list of what is sent to an address, where it is sealed.
	Manifest []byte
}

const maxNote = 5000

// HandIn ends handing in: the sender is told, and a receipt with the hashes goes
// to the visitor's address, if there is one.
func (s *Service) HandIn(ctx context.Context, v Visitor, signed Signed) (in Intake, err error) {
	name := strings.TrimSpace(signed.Name)
	if name != "" {
		if name, err = names.Check("name", name); err != nil {
			return in, err
		}
	}
	if len(signed.Note) > maxNote {
		return in, fault.NoteLong.In("note", "a note has at most %d characters", maxNote)
	}
	to := strings.TrimSpace(signed.Email)
	if to != "" {
		a, err := mail.Address("email", to)
		if err != nil {
			return in, err
		}
		to = a.Address
	}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, visit, err := s.within(ctx, tx, v)
		if err != nil {
			return err
		}
		// Nothing is taken back meanwhile.
		if _, err := links.LockLink(ctx, tx, l.ID); err != nil {
			return err
		}
		if in, err = s.intake(ctx, tx, l, visit); err != nil {
			return err
		}
		off := slices.DeleteFunc(slices.Clone(in.Received), func(r Received) bool { return r.HandedAt != nil })
		if len(in.Received) == 0 || l.Kind == linkgate.Address && len(off) == 0 {
			return errNothingHandedIn.New("nothing has been handed in yet")
		}
		sure := visit.Sure()
		if visit.Email != "" {
			// A receipt goes to whom the link knows.
			to = visit.Email
		}
		if to != "" && !sure {
			// To whoever was only named it goes once, so that nobody is flooded.
			first, err := FirstTime(ctx, tx, visit.ID, "receipt", l.ID, 1)
			if err != nil {
				return err
			}
			if !first {
				to = ""
			}
		}
		visit.Name, visit.Note = name, strings.TrimSpace(signed.Note)
		if err := handOver(ctx, tx, in.Received, tx.Now); err != nil {
			return err
		}
		for i := range in.Received {
			in.Received[i].HandedAt = cmp.Or(in.Received[i].HandedAt, &tx.Now)
		}
		if err := SignVisit(ctx, tx, visit.ID, visit.Name, visit.Note); err != nil {
			return err
		}
		if l.Kind == linkgate.Address {
			return s.sendOff(ctx, tx, in, visit, Sent{Received: off, Manifest: signed.Manifest})
		}
		if err := notices.Add(ctx, tx, l.CreatedBy, notices.HandedIn, l.Name, "/outward?link="+l.ID.String()); err != nil {
			return err
		}
		return errors.Join(s.receipt(ctx, tx, in, to, sure), s.handedIn(ctx, tx, l, visit, len(in.Received)))
	})
	return in, err
}

func (s *Service) handedIn(ctx context.Context, tx *act.Tx, l links.Link, v Visit, files int) error {
	return s.tell(ctx, tx, l, nil, 0, events.LinkHandedIn.With(events.HandingIn{Visit: visitorOf(l, v), Files: files, Person: v.Name, Note: v.Note}))
}

// sendOff delivers what a visitor has brought to an address, with a receipt of that alone.
func (s *Service) sendOff(ctx context.Context, tx *act.Tx, in Intake, v Visit, sent Sent) error {
	if err := s.Addresses.Deliver(ctx, tx, in.Link, v, sent); err != nil {
		return err
	}
	in.Received = sent.Received
	return errors.Join(s.receipt(ctx, tx, in, v.Email, true), s.handedIn(ctx, tx, in.Link, v, len(sent.Received)))
}

// receipt mails what was handed in, with its hashes. To an address that is not known
// for certain it bears not a word that the visitor chose: it would carry their
// advertisement in the practice's name.
func (s *Service) receipt(ctx context.Context, tx *act.Tx, in Intake, to string, sure bool) error {
	if to == "" {
		return nil
	}
	practice, zone, err := practice.PracticeZone(ctx, tx)
	if err != nil {
		return err
	}
	receipt := letters.Receipt{Name: in.Link.Name, Sender: letters.Sender{Name: in.Sender.Name, Role: in.Sender.Role, Email: in.Sender.Email}}
	for n, r := range in.Received {
		name := r.Name
		if !sure {
			name = strconv.Itoa(n + 1)
		}
		receipt.Files = append(receipt.Files, letters.ReceivedFile{Name: name, Bytes: r.Size, At: r.At.In(zone).Format("2006-01-02 15:04 MST"), SHA256: hex.EncodeToString(r.SHA256)})
	}
	return tx.Send(ctx, letters.Mail{To: to, Language: in.Link.Language, Practice: practice.Name, ReplyTo: in.Sender.Email, Letter: receipt})
}
