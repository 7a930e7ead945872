package transfers

import (
	"context"
	"io"
	"slices"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/core/scan"
	"tabularis/core/terms"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/visits"
)

// Shown is a transfer as whoever was let in sees it.
type Shown struct {
	Link     links.Link
	Sender   accounts.Person
	Sentence terms.Sentence
	Files    []ShownFile
	// Contents are the documents among them.
	Contents visits.Contents
	// KeptBack counts files that must not leave the practice.
	KeptBack int
	// For is to whom the copy of the link went by which they came.
	For string
}

// ShownFile is a file of a transfer: one that is here, or one that is arriving.
type ShownFile struct {
	File
	Given *visits.Given
	// Fetchable says that it can be begun, also while it arrives.
	Fetchable bool
}

// least is how much of a file has to be here before it is begun.
const least = 64 << 10

// Given shows a transfer to a visitor who was let in.
func (s *Service) Given(ctx context.Context, v visits.Visitor) (Shown, error) {
	l, visit, t, err := s.visited(ctx, v)
	if err != nil {
		return Shown{}, err
	}
	c, err := s.Visits.Given(ctx, v, uuid.Nil)
	if err != nil {
		return Shown{}, err
	}
	out := Shown{Link: l, Contents: c, Sender: c.Sender, KeptBack: c.KeptBack, For: visit.SentTo}
	files, err := filesIn(ctx, s.Acts.DB, []uuid.UUID{t.LinkID})
	if err != nil {
		return out, err
	}
	p, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return out, err
	}
	for _, f := range files {
		shown := ShownFile{File: f, Fetchable: begins(l, p, f)}
		if f.Here() {
			at := slices.IndexFunc(c.Files, func(g visits.Given) bool { return g.ID == *f.ItemID })
			if at < 0 {
				continue // It must not leave the practice.
			}
			shown.Given, shown.Fetchable = &c.Files[at], l.MayDownload
		}
		out.Files = append(out.Files, shown)
	}
	out.Sentence = terms.Link{Files: len(out.Files), Terms: l.Terms}.ForVisitor(terms.Voice{Language: l.Language, Zone: zone, Now: s.Acts.Now()}, nil)
	return out, note(ctx, s.Acts.DB, t.LinkID, visit.SentTo, opened, s.Acts.Now())
}

// begins reports whether something that is arriving may be fetched already: not where downloads are
// counted, and not before it was looked through, where the practice forbids what is sensitive.
func begins(l links.Link, p practice.Practice, f File) bool {
	return l.MayDownload && l.Terms.Downloads == nil && p.Sensitive != scan.Forbid && (f.Received >= least || f.Whole())
}

// visited finds the transfer that a visitor was let in to.
func (s *Service) visited(ctx context.Context, v visits.Visitor) (links.Link, visits.Visit, Row, error) {
	l, visit, err := s.Visits.Within(ctx, v)
	if err != nil {
		return l, visit, Row{}, err
	}
	if l.Kind != linkgate.Transfer {
		return l, visit, Row{}, fault.Missing()
	}
	t, err := transferByLink(ctx, s.Acts.DB, l.ID)
	return l, visit, t, err
}

// Opened is a file of a transfer ready to be read, also while it arrives.
type Opened struct {
	File
	MediaType string
	For       string
	io.ReadSeekCloser
}

// Open opens a file of a transfer for a visitor, and records that they fetch it.
func (s *Service) Open(ctx context.Context, v visits.Visitor, id uuid.UUID) (Opened, error) {
	l, visit, t, err := s.visited(ctx, v)
	if err != nil {
		return Opened{}, err
	}
	files, err := filesIn(ctx, s.Acts.DB, []uuid.UUID{t.LinkID})
	if err != nil {
		return Opened{}, err
	}
	at := slices.IndexFunc(files, func(f File) bool { return f.ID == id })
	if at < 0 {
		return Opened{}, fault.Missing()
	}
	if err := note(ctx, s.Acts.DB, t.LinkID, visit.SentTo, opened, s.Acts.Now()); err != nil {
		return Opened{}, err
	}
	out := Opened{File: files[at], For: visit.SentTo}
	if out.Here() {
		f, err := s.Visits.File(ctx, v, *out.ItemID, true)
		out.MediaType, out.ReadSeekCloser = f.Version.MediaType, f
		return out, err
	}
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return out, err
	}
	if !begins(l, p, out.File) {
		return out, errNotYet.New("of this file nothing can be fetched yet")
	}
	if err := s.Visits.Begins(ctx, v, out.ID, out.Name); err != nil {
		return out, err
	}
	a, err := s.Uploads.Arriving(ctx, *out.Upload)
	if err == nil {
		out.MediaType, out.ReadSeekCloser = a.MediaType, a
	}
	return out, err
}

// Whole are the files of a transfer, where all are here and may leave: nothing is put together of a
// part of them.
func (s *Service) Whole(ctx context.Context, v visits.Visitor) (all []Opened, err error) {
	t, err := s.Given(ctx, v)
	if err != nil {
		return nil, err
	}
	for _, f := range t.Files {
		if !f.Here() {
			return nil, fault.StillArriving.New("everything can be fetched together once all of it is here")
		}
		all = append(all, Opened{File: f.File, For: t.For})
	}
	return all, nil
}

// Fetched notes that a part of a file went to whoever fetches it. Once a recipient has everything,
// the sender is told.
func (s *Service) Fetched(ctx context.Context, f Opened, from, to int64) error {
	if to <= from && f.Size > 0 {
		return nil
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := transferByLink(ctx, tx, f.LinkID)
		if err != nil || t.DestroyedAt != nil {
			return err
		}
		if f.Size == 0 {
			to = 1 // There is no empty range that is contained in nothing.
		}
		done, err := noteFetched(ctx, tx, f.ID, f.For, from, to, max(f.Size, 1), tx.Now)
		if err != nil || !done {
			return err
		}
		return s.fetchedAll(ctx, tx, t, f.For)
	})
}

// fetchedAll tells the sender when a recipient has everything.
func (s *Service) fetchedAll(ctx context.Context, tx *act.Tx, t Row, address string) error {
	files, err := filesIn(ctx, tx, []uuid.UUID{t.LinkID})
	if err != nil {
		return err
	}
	all, err := recipientsOf(ctx, tx, []uuid.UUID{t.LinkID})
	if err != nil {
		return err
	}
	at := slices.IndexFunc(all, func(r Recipient) bool { return r.Address == address })
	if at < 0 || !all[at].rule().Done(len(files)) {
		return nil
	}
	l, err := links.LinkByID(ctx, tx, t.LinkID)
	if err != nil {
		return err
	}
	what := l.Name
	if address != "" {
		what += " · " + address
	}
	return notices.Add(ctx, tx, t.SenderID, notices.Fetched, what, path(t.LinkID))
}
