// Package today is the landing page: what is new, and what ends soon.
package today

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/storage"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/decisions"
	"tabularis/internal/app/deliveries"
	"tabularis/internal/app/dossiers"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/signing"
	"tabularis/internal/app/transfers"
)

// Today is the landing page.
type Today struct {
	Dossiers []dossiers.Summary
	News     []events.Named
	EndsSoon []links.Shown
	// AccessEnds is access that ends within three days, Requests who asks to be
	// let in.
	AccessEnds []sharing.ShownGrant
	Requests   []sharing.Request
	// OnMe are the decisions that wait for the acting person.
	OnMe []decisions.Line
	// ToSign are the papers that wait for their signature.
	ToSign []signing.Line
	Bytes  int64
	// StorageLeft is how much more the practice may keep, for its own people; nil
	// without a limit.
	StorageLeft *int64
	// Since is what is new since the acting person looked before; nil, where they look first.
	Since *Since
	// Work are documents on which they worked lately.
	Work []Work
	// Mine is what there is of the acting person's own, for colleagues.
	Mine *Mine
}

// soon is how far ahead ends are shown: to the end of the fourteenth day.
const soon = 15 * 24 * time.Hour

// accessSoon is how long before its end access is shown.
const accessSoon = 3 * 24 * time.Hour

// Service gathers what is shown first.
type Service struct {
	Acts       *act.Runner
	Access     *guard.Guard
	Activity   *activity.Service
	Dossiers   *dossiers.Service
	Sharing    *sharing.Service
	Links      *links.Service
	Deliveries *deliveries.Service
	Transfers  *transfers.Service
	Notices    *notices.Service
	Decisions  *decisions.Service
	Signing    *signing.Service
}

// Today gathers the acting person's dossiers, what others did lately, and the
// links that end within two weeks.
func (s *Service) Today(ctx context.Context) (Today, error) {
	var t Today
	var err error
	if t.Dossiers, err = s.Dossiers.Mine(ctx); err != nil {
		return t, err
	}
	t.Dossiers = slices.DeleteFunc(t.Dossiers, func(d dossiers.Summary) bool { return d.SetAsideAt != nil })
	for _, d := range t.Dossiers {
		t.Bytes += d.Bytes
	}
	me := act.Who(ctx).Person
	if me.Inside() {
		if err := s.mine(ctx, me.ID, &t); err != nil {
			return t, err
		}
	}
	latest, err := s.Activity.Shown(ctx, activity.EventFilter{Limit: mostNew})
	if err != nil {
		return t, err
	}
	for _, e := range latest {
		if !by(e, me.ID) && len(t.News) < 14 {
			t.News = append(t.News, e)
		}
	}
	if t.Since, err = s.since(ctx, me.ID, latest); err != nil {
		return t, err
	}
	if t.Work, err = s.work(ctx, me.ID); err != nil {
		return t, err
	}
	open, err := s.Links.List(ctx, false, false, "")
	if err != nil {
		return t, err
	}
	for _, l := range open {
		if t.Mine != nil && l.CreatedBy == me.ID {
			t.Mine.Links++
		}
		if l.Until != nil && l.Until.Sub(s.Acts.Now()) <= soon {
			t.EndsSoon = append(t.EndsSoon, l)
		}
	}
	if t.AccessEnds, err = s.Sharing.EndsSoon(ctx, accessSoon); err != nil {
		return t, err
	}
	if t.Requests, err = s.Sharing.Requests(ctx); err != nil {
		return t, err
	}
	if t.OnMe, err = s.Decisions.OnMe(ctx); err != nil {
		return t, err
	}
	t.ToSign, err = s.Signing.OnMe(ctx)
	return t, err
}

// Mine is what there is of somebody's own: documents they added, ways out that they
// opened and that are open, and what they brought in takes.
type Mine struct {
	Documents, Links int
	Storage          storage.Share
}

func (s *Service) mine(ctx context.Context, me uuid.UUID, t *Today) error {
	kept, err := tree.PracticeStorage(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	t.StorageLeft = kept.Left()
	t.Mine = &Mine{}
	if t.Mine.Storage, err = tree.PersonStorage(ctx, s.Acts.DB, me); err != nil {
		return err
	}
	t.Mine.Documents, err = tree.CountMade(ctx, s.Acts.DB, me)
	return err
}
