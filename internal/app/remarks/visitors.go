package remarks

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/remarks"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// Visitor is whoever came through a link, and who made it. Email is theirs as far as it is
// known.
type Visitor struct {
	Link, Visit, Maker uuid.UUID
	Email              string
}

const (
	// Through a link, and in a visit, at most so much is said in a time, and so much ever.
	mostThrough, mostInVisit, mostEver = 60, 20, 2000
	// threadsThrough is how many threads a visitor is shown.
	threadsThrough = 100
)

// Heard is a remark as a visitor reads it: people of the practice by name, other visitors
// without.
type Heard struct {
	ID      uuid.UUID
	By      string
	Mine    bool
	At      time.Time
	Text    string
	Removed bool
}

// HeardThread is what was said through a link about one thing.
type HeardThread struct {
	ID       uuid.UUID
	Resolved bool
	Said     []Heard
}

// Through lists what was said through a link about a document, with what was answered:
// nothing that was said otherwise.
func Through(ctx context.Context, q postgres.Q, v Visitor, item uuid.UUID) ([]HeardThread, error) {
	firsts, err := through(ctx, q, v.Link, item, threadsThrough)
	if err != nil {
		return nil, err
	}
	rest, err := answers(ctx, q, idsOf(firsts))
	if err != nil {
		return nil, err
	}
	var all []HeardThread
	by := byThread(rest)
	for _, f := range firsts {
		t := HeardThread{ID: f.ID, Resolved: f.ResolvedAt != nil, Said: []Heard{v.hears(f)}}
		for _, r := range by[f.ID] {
			t.Said = append(t.Said, v.hears(r))
		}
		all = append(all, t)
	}
	return all, nil
}

func (v Visitor) hears(r Remark) Heard {
	h := Heard{ID: r.ID, By: r.By, At: r.At, Text: r.Said, Removed: r.RemovedAt != nil}
	if r.LinkID != nil {
		h.By = ""
		h.Mine = r.VisitID != nil && *r.VisitID == v.Visit || v.Email != "" && r.Visitor == v.Email
	}
	return h
}

// SayThrough says something about a document through a link, or answers a thread that began
// through it. Who made the link, and who took part, is told.
func (s *Service) SayThrough(ctx context.Context, tx *act.Tx, v Visitor, item uuid.UUID, version int, text string, thread *uuid.UUID) (r Remark, err error) {
	if text, err = remarks.Text(text); err != nil {
		return r, err
	}
	n, err := countThrough(ctx, tx, v.Link, v.Visit, tx.Now.Add(-saidIn))
	if err != nil {
		return r, err
	}
	if n.All >= mostThrough || n.Visit >= mostInVisit || n.Ever >= mostEver {
		return r, errFlood.New("so many remarks in a short time; wait a little")
	}
	r = Remark{ID: uuid.Must(uuid.NewV7()), ItemID: item, Said: text, At: tx.Now, LinkID: &v.Link, VisitID: &v.Visit, Visitor: v.Email}
	r.ThreadID = r.ID
	people := []uuid.UUID{v.Maker}
	if thread == nil {
		r.Version = &version
	} else {
		first, err := firstOf(ctx, tx, *thread, item)
		if err != nil {
			return r, err
		}
		if first.LinkID == nil || *first.LinkID != v.Link {
			return r, fault.Missing()
		}
		r.ThreadID = first.ID
		took, err := authors(ctx, tx, first.ID)
		if err != nil {
			return r, err
		}
		people = guard.Sorted(append(people, took...))
	}
	if err := add(ctx, tx, r); err != nil {
		return r, err
	}
	if err := tx.Enqueue(ctx, jobs.Index{Item: item}); err != nil {
		return r, err
	}
	return r, s.tellInside(ctx, tx, r, people)
}

// tellInside tells those who still see the document of what a visitor said.
func (s *Service) tellInside(ctx context.Context, tx *act.Tx, r Remark, people []uuid.UUID) error {
	located, err := guard.SightOf(ctx, tx, r.ItemID, tx.Now)
	if err != nil {
		return err
	}
	see, err := s.Access.Seers(ctx, tx, located, tx.Now)
	if err != nil {
		return err
	}
	sight := guard.Sight{Located: located}
	for _, id := range people {
		if !slices.Contains(see, id) {
			continue
		}
		n := notices.Notice{PersonID: id, Kind: string(notices.SaidOutside), By: r.Visitor, What: sight.Name, Path: pathOf(sight, r)}
		if err := notices.Anew(ctx, tx, n); err != nil {
			return err
		}
	}
	return nil
}
