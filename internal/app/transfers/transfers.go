// Package transfers sends frozen copies of files to recipients for a while: each reaches them by a
// link of their own, also while they are still on their way, and what became of it is kept when
// the copies are destroyed.
package transfers

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	rules "tabularis/core/transfers"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/dossiers"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/postgres"
)

// Service makes transfers and ends them.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Items    *tree.Service
	Dossiers *dossiers.Service
	Sharing  *sharing.Service
	Links    *links.Service
	Uploads  *uploads.Service
	Visits   *visits.Service
	BaseURL  string
}

// Wish is what somebody wants to transfer: copies of what the practice has, files that are yet to
// arrive, or both; to whom, and under which terms.
type Wish struct {
	links.Wish
	Files     []rules.File
	TellAfter int
	To        []string
	Message   string
	// Waits says that it is not out before somebody is told of it.
	Waits bool
}

// Draft says what a wish would mean, before anything is made. Of what is yet to arrive nothing is
// known but its size.
func (s *Service) Draft(ctx context.Context, w Wish) (links.Draft, error) {
	if _, err := s.announce(w.Sealed, w.Files, nil); err != nil {
		return links.Draft{}, err
	}
	if err := checkSealed(&w); err != nil {
		return links.Draft{}, err
	}
	if _, err := rules.TellDays(w.TellAfter); err != nil {
		return links.Draft{}, err
	}
	d, err := s.of(ctx, w)
	for _, f := range w.Files {
		d.Bytes += f.Size
	}
	d.Files += len(w.Files)
	if err != nil {
		return d, err
	}
	return d, s.bound(ctx, w, &d)
}

// of drafts the link: of the items it copies, or, where there are none, of what is yet to come.
func (s *Service) of(ctx context.Context, w Wish) (links.Draft, error) {
	own := w.Wish
	own.Announced = len(w.Files)
	if len(own.Items) > 0 {
		return s.Links.DraftTransfer(ctx, own)
	}
	top, err := s.Dossiers.Outgoing(ctx)
	if err != nil {
		return links.Draft{}, err
	}
	own.Items = []uuid.UUID{top}
	d, err := s.Links.DraftTransfer(ctx, own)
	if own.Name == "" {
		d.Name = name(w.Files)
	}
	d.Files, d.Bytes, d.Title = 0, 0, ""
	return d, err
}

// bound offers to seal what comes from the sender's browser, and says where the practice wants that, or
// wants less.
func (s *Service) bound(ctx context.Context, w Wish, d *links.Draft) error {
	if w.Sealed == linkgate.Unsealed && len(w.Items) == 0 {
		d.Offers = append(d.Offers, "sealed")
	}
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err == nil {
		d.Refused = cmp.Or(d.Refused, rules.Fits(d.Bytes, p.TransferBytes), p.Outward().RefuseOpen(linkgate.Terms{Kind: linkgate.Transfer, Sealed: w.Sealed}, w.To))
	}
	return err
}

// name is what a transfer of files is called unless somebody says otherwise.
func name(files []rules.File) string {
	if len(files) == 0 {
		return "files"
	}
	first, _ := names.Split(files[0].Name)
	if len(files) > 1 {
		return fmt.Sprintf("%s +%d", first, len(files)-1)
	}
	return first
}

// Make makes a transfer. Its link is good at once, also while files are still arriving.
func (s *Service) Make(ctx context.Context, w Wish) (Transfer, error) {
	return s.MakeWith(ctx, w, nil)
}

// MakeWith is Make with something more that is done in the same act.
func (s *Service) MakeWith(ctx context.Context, w Wish, more func(tx *act.Tx, id uuid.UUID) error) (Transfer, error) {
	days, err := rules.TellDays(w.TellAfter)
	if err != nil {
		return Transfer{}, err
	}
	if err := checkSealed(&w); err != nil {
		return Transfer{}, err
	}
	hash, err := s.Links.Hash(ctx, w.Password)
	if err != nil {
		return Transfer{}, err
	}
	if err := s.mayGive(ctx, &w); err != nil {
		return Transfer{}, err
	}
	top, err := s.Dossiers.Outgoing(ctx)
	if err != nil {
		return Transfer{}, err
	}
	var l links.Link
	err = s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		if l, err = s.make(ctx, tx, w, top, hash, days); err != nil || more == nil {
			return err
		}
		return more(tx, l.ID)
	})
	if err != nil {
		return Transfer{}, err
	}
	return s.One(ctx, l.ID)
}

// mayGive refuses what may not be given out, and bounds the end by when the sender's own right
// ends.
func (s *Service) mayGive(ctx context.Context, w *Wish) error {
	if len(w.Items) == 0 {
		return nil
	}
	d, err := s.Links.DraftTransfer(ctx, w.Wish)
	switch {
	case err != nil:
		return err
	case d.Refused != nil:
		return d.Refused
	case d.Forbidden:
		return fault.SensitiveContent.In("items", "it holds sensitive content, which the practice does not let out")
	}
	if w.Name == "" {
		w.Name = d.Name
	}
	if w.Until == nil {
		w.Until, w.UntilSet = &d.Usual, true
	}
	w.Until = access.Earlier(w.Until, d.Own)
	return nil
}

func (s *Service) make(ctx context.Context, tx *act.Tx, w Wish, top uuid.UUID, hash string, days int) (links.Link, error) {
	by := s.hand(tx)
	folder, err := s.Items.AddFolder(ctx, tx, by, top, uuid.Must(uuid.NewV7()).String())
	if err != nil {
		return links.Link{}, err
	}
	var copied []file
	if len(w.Items) > 0 {
		if copied, err = s.copy(ctx, tx, w.Items, folder); err != nil {
			return links.Link{}, err
		}
	}
	announced, err := s.announce(w.Sealed, w.Files, namesOf(copied))
	if err != nil {
		return links.Link{}, err
	}
	all := append(copied, filesOf(announced)...)
	if err := s.fits(ctx, tx, all); err != nil {
		return links.Link{}, err
	}
	own := w.Wish
	own.Items, own.Announced = []uuid.UUID{folder.ID}, len(announced)
	if own.Name == "" {
		own.Name = name(announced)
	}
	l, err := s.Links.MakeTransfer(ctx, tx, own, hash)
	if err != nil {
		return l, err
	}
	t := Row{LinkID: l.ID, FolderID: folder.ID, SenderID: l.CreatedBy, CreatedAt: tx.Now, TellDays: days, Waits: w.Waits}
	if err := addTransfer(ctx, tx, t); err != nil {
		return l, err
	}
	if err := addFiles(ctx, tx, l.ID, all); err != nil {
		return l, err
	}
	if err := s.note(ctx, tx, w.Items, l.Name); err != nil {
		return l, err
	}
	if len(w.To) == 0 {
		return l, nil
	}
	return l, s.send(ctx, tx, l.ID, w.To, w.Message)
}

// fits refuses a transfer of nothing, and one that is larger than the practice allows.
func (s *Service) fits(ctx context.Context, tx *act.Tx, files []file) error {
	if err := rules.Some(len(files)); err != nil {
		return err
	}
	p, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	var bytes int64
	for _, f := range files {
		bytes += f.Size
	}
	return rules.Fits(bytes, p.TransferBytes)
}

func (s *Service) hand(tx *act.Tx) tree.Hand {
	return tree.Person(s.Access, func() time.Time { return tx.Now }, tx.Actor.Person.ID)
}

// copy puts frozen copies of items into a transfer's folder, and returns them as its files.
func (s *Service) copy(ctx context.Context, tx *act.Tx, chosen []uuid.UUID, folder items.Item) ([]file, error) {
	if _, err := s.Sharing.CopyIn(ctx, tx, sharing.Move{Items: chosen, To: folder.ID}); err != nil {
		return nil, err
	}
	below, err := tree.GivenUnder(ctx, tx, folder.ID)
	if err != nil {
		return nil, err
	}
	out := make([]file, len(below))
	for i, d := range below {
		out[i] = file{Name: strings.ReplaceAll(d.Way, "/", " – ") + d.Name, Size: d.Size, ItemID: &d.ID}
	}
	return out, nil
}

// note says, where the originals lie, that copies of them were sent.
func (s *Service) note(ctx context.Context, tx *act.Tx, chosen []uuid.UUID, transfer string) error {
	for _, id := range chosen {
		i, err := tree.ItemByID(ctx, tx, id)
		if err != nil {
			return err
		}
		if err := tx.Record(ctx, act.Event{What: events.TransferMade.With(events.Transferring{Name: i.Name, Transfer: transfer}), Dossier: i.DossierID, Item: &i.ID, Version: i.Version}); err != nil {
			return err
		}
	}
	return nil
}

// change runs an act on a transfer of the acting person's that is not over.
func (s *Service) change(ctx context.Context, id uuid.UUID, fn func(tx *act.Tx, t Row, l links.Link) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := s.mine(ctx, tx, id)
		if err != nil {
			return err
		}
		l, err := links.LockLink(ctx, tx, id)
		if err != nil {
			return err
		}
		if t.DestroyedAt != nil || l.EndedAt != nil || l.Until != nil && !tx.Now.Before(*l.Until) {
			return fault.LinkOver.New("the transfer is over")
		}
		return fn(tx, t, l)
	})
}

// AddFiles lets further files join a transfer; they are yet to arrive.
func (s *Service) AddFiles(ctx context.Context, id uuid.UUID, files []rules.File) (Transfer, error) {
	err := s.change(ctx, id, func(tx *act.Tx, t Row, l links.Link) error {
		there, err := filesIn(ctx, tx, []uuid.UUID{id})
		if err != nil {
			return err
		}
		if err := rules.Some(len(files)); err != nil {
			return err
		}
		taken := make([]file, len(there))
		for i, f := range there {
			taken[i] = f.file
		}
		announced, err := s.announce(l.Sealed, files, namesOf(taken))
		if err == nil {
			err = s.fits(ctx, tx, append(taken, filesOf(announced)...))
		}
		if err != nil {
			return err
		}
		return addFiles(ctx, tx, id, filesOf(announced))
	})
	if err != nil {
		return Transfer{}, err
	}
	return s.One(ctx, id)
}

// Expects refuses what is no announced file of a transfer in a folder, or is here already.
func (s *Service) Expects(ctx context.Context, q postgres.Q, file, folder uuid.UUID, size int64) error {
	yes, err := expected(ctx, q, file, folder, size)
	if err == nil && !yes {
		err = fault.Missing()
	}
	return err
}

// Became notes which document an announced file has become, as what arrives in a transfer's
// folder does.
func (s *Service) Became(ctx context.Context, tx *act.Tx, file, document uuid.UUID) error {
	return setItem(ctx, tx, file, document)
}

// LeaveOut takes a file out of a transfer, be it that it is still arriving. What was fetched of it
// stays with whoever fetched it.
func (s *Service) LeaveOut(ctx context.Context, id, fileID uuid.UUID) error {
	if _, err := s.mine(ctx, s.Acts.DB, id); err != nil {
		return err
	}
	if err := s.giveUp(ctx, id, &fileID); err != nil {
		return err
	}
	return s.change(ctx, id, func(tx *act.Tx, t Row, _ links.Link) error {
		all, err := filesIn(ctx, tx, []uuid.UUID{id})
		if err != nil {
			return err
		}
		at := slices.IndexFunc(all, func(f File) bool { return f.ID == fileID })
		if at < 0 {
			return fault.Missing()
		}
		if err := rules.Some(len(all) - 1); err != nil {
			return err
		}
		if all[at].ItemID != nil {
			if err := s.Items.Discard(ctx, tx, *all[at].ItemID); err != nil {
				return err
			}
		}
		return dropFile(ctx, tx, fileID)
	})
}
