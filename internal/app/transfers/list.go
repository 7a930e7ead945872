package transfers

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"
)

// mostListed is how many transfers a list shows at most.
const mostListed = 500

// Transfer is a transfer as its sender sees it.
type Transfer struct {
	Row
	Link     links.Link
	State    linkgate.Reason
	Address  string
	Sentence terms.Sentence
	Files    []File
	// Recipients are those who were sent their copy of the link, and whoever came by the copied one.
	Recipients []Recipient
}

// Over says that nobody is let in any more.
func (t Transfer) Over() bool { return t.State.Dead() || t.DestroyedAt != nil }

// Bytes are how large the files are, and how much of that is here.
func (t Transfer) Bytes() (all, here int64) {
	for _, f := range t.Files {
		all, here = all+f.Size, here+f.Received
	}
	return all, here
}

// mine finds a transfer of the acting person.
func (s *Service) mine(ctx context.Context, q postgres.Q, id uuid.UUID) (Row, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return Row{}, fault.SignedOut()
	}
	_, within := q.(*act.Tx)
	return transferOf(ctx, q, id, me.ID, within)
}

// One shows a transfer of the acting person.
func (s *Service) One(ctx context.Context, id uuid.UUID) (Transfer, error) {
	t, err := s.mine(ctx, s.Acts.DB, id)
	if err != nil {
		return Transfer{}, err
	}
	all, err := s.show(ctx, []Row{t})
	if err != nil {
		return Transfer{}, err
	}
	return all[0], nil
}

// List lists the acting person's transfers, the newest first: those whose copies are there, or
// those of which the record is left.
func (s *Service) List(ctx context.Context, over bool) ([]Transfer, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return nil, fault.SignedOut()
	}
	rows, err := transfersOf(ctx, s.Acts.DB, me.ID, over, mostListed)
	if err != nil {
		return nil, err
	}
	return s.show(ctx, rows)
}

// CountOut counts the acting person's transfers by which somebody is let in.
func (s *Service) CountOut(ctx context.Context) (int, error) {
	return countOut(ctx, s.Acts.DB, act.Who(ctx).Person.ID, s.Acts.Now())
}

// show completes transfers.
func (s *Service) show(ctx context.Context, rows []Row) ([]Transfer, error) {
	ids, at := make([]uuid.UUID, len(rows)), map[uuid.UUID]int{}
	out := make([]Transfer, len(rows))
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	now := s.Acts.Now()
	for i, r := range rows {
		ids[i], at[r.LinkID] = r.LinkID, i
		out[i].Row = r
		if out[i].Link, err = links.LinkByID(ctx, s.Acts.DB, r.LinkID); err != nil {
			return nil, err
		}
	}
	files, err := filesIn(ctx, s.Acts.DB, ids)
	if err != nil {
		return nil, err
	}
	for _, f := range files {
		t := &out[at[f.LinkID]]
		t.Files = append(t.Files, f)
	}
	recipients, err := recipientsOf(ctx, s.Acts.DB, ids)
	if err != nil {
		return nil, err
	}
	for _, r := range recipients {
		t := &out[at[r.LinkID]]
		t.Recipients = append(t.Recipients, r)
	}
	for i := range out {
		if err := s.complete(&out[i], terms.Voice{Language: act.Who(ctx).Language, Zone: zone, Now: now}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func (s *Service) complete(t *Transfer, v terms.Voice) (err error) {
	gate, use := t.Link.Gate()
	t.State = linkgate.Standing(gate, use, v.Now)
	t.Sentence = terms.Link{Files: len(t.Files), Terms: gate}.Sentence(v)
	if !t.Over() {
		t.Address, err = s.Links.AddressOf(t.Link)
	}
	return err
}

// until is when a transfer ends.
func until(l links.Link) time.Time {
	if l.EndedAt != nil {
		return *l.EndedAt
	}
	return *l.Until
}
