package deletion

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/items"
	"tabularis/core/keeping"
	"tabularis/core/register"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/listing"
	"tabularis/internal/app/practice"
)

// Shown is something that was deleted, as the acting person may know of it.
type Shown struct {
	Row
	Goes                               time.Time
	Left                               int
	MayBringBack, MayDestroy, MayShare bool
}

// Ref is a document's register number.
func (s Shown) Ref() string {
	if s.Number == nil {
		return ""
	}
	return register.Ref{Code: s.Code, Number: *s.Number}.String()
}

// Filter says which deletions are meant: of a dossier, or only one's own.
type Filter struct {
	Code   string
	Own    bool
	Before *listing.Mark
	Limit  int
}

// Page is a part of a list, newest first.
type Page struct {
	Rows []Shown
	Next *listing.Mark
	Keep keeping.Period
}

// Page lists what was deleted and can still be brought back, as far as the acting person
// could see it.
func (s *Service) Page(ctx context.Context, f Filter) (page Page, err error) {
	now := s.Acts.Now()
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return page, err
	}
	page.Keep = p.Keeping()
	me := act.Who(ctx).Person.ID
	sought := sought{Since: page.Keep.Since(now), Before: f.Before, Limit: f.Limit + 1}
	if f.Own {
		sought.By = &me
	}
	if f.Code != "" {
		d, err := s.Access.ByCode(ctx, s.Acts.DB, f.Code, now)
		if err != nil {
			return page, err
		}
		sought.Dossier = &d.ID
	}
	return page, s.Access.View(ctx, now, func(v *guard.View) (int, error) {
		rows, err := deletions(ctx, s.Acts.DB, v.Readable(), sought)
		if err != nil {
			return 0, err
		}
		page.Rows, page.Next = nil, nil
		if len(rows) > f.Limit {
			rows = rows[:f.Limit]
			last := rows[f.Limit-1]
			page.Next = &listing.Mark{At: last.At, ID: last.ID}
		}
		for _, r := range rows {
			page.Rows = append(page.Rows, shown(v, r, me, page.Keep, now))
		}
		return len(rows), nil
	})
}

func shown(v *guard.View, r Row, me uuid.UUID, keep keeping.Period, now time.Time) Shown {
	caps := v.May(r.Root, r.DossierID, now).Caps
	own := r.CreatedBy == me && r.Kind == items.Document
	return Shown{Row: r, Goes: keep.Goes(r.At), Left: keep.Left(r.At, now),
		MayBringBack: bringsBack(caps, own, r.By == me), MayDestroy: destroys(caps), MayShare: caps.Has(access.Share)}
}
