// Package calendar gives out what ends for somebody as iCalendar (RFC 5545), at a secret address.
package calendar

import (
	"context"
	"fmt"
	"time"

	ics "github.com/arran4/golang-ical"

	"tabularis/core/fault"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/checkout"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/sessions"
	"tabularis/internal/app/sharing"
	"tabularis/internal/platform/secret"
)

// Ahead is how far ahead a calendar goes.
const Ahead = 366 * 24 * time.Hour

// Service keeps calendars' addresses and writes calendars.
type Service struct {
	Acts     *act.Runner
	Links    *links.Service
	Sharing  *sharing.Service
	Checkout *checkout.Service
	BaseURL  string
}

// Mine is the acting person's calendar; fault.NotFound where it has no address.
func (s *Service) Mine(ctx context.Context) (Feed, error) {
	return feedOf(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
}

// Make gives the acting person's calendar an address, which is said once. The one before leads
// nowhere from then on.
func (s *Service) Make(ctx context.Context) (address string, err error) {
	token := secret.Token()
	return s.BaseURL + "/api/calendars/" + token + ".ics", s.Acts.Do(ctx, func(tx *act.Tx) error {
		return keepFeed(ctx, tx, tx.Actor.Person.ID, secret.Hash(token), tx.Now)
	})
}

// Forget takes the address away.
func (s *Service) Forget(ctx context.Context) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return forgetFeed(ctx, tx, tx.Actor.Person.ID) })
}

// Read writes the calendar that an address leads to, with what its owner sees now. Owners who
// may not come in have none.
func (s *Service) Read(ctx context.Context, token string) (string, error) {
	now := s.Acts.Now()
	id, err := readFeed(ctx, s.Acts.DB, secret.Hash(token), now)
	if err != nil {
		return "", err
	}
	owner, err := accounts.PersonByID(ctx, s.Acts.DB, id)
	if err != nil || owner.DeactivatedAt != nil {
		return "", fault.Missing()
	}
	if lacking, err := sessions.NeedsFactor(ctx, s.Acts.DB, id); err != nil || lacking {
		return "", fault.Missing()
	}
	here, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return "", err
	}
	w := writer{ics.NewCalendar(), s.BaseURL, now, said[owner.Language]}
	if w.said == nil {
		w.said = said["en"]
	}
	w.calendar.SetMethod(ics.MethodPublish)
	w.calendar.SetProductId("-//Tabularis//EN")
	w.calendar.SetName(here.Name)
	w.calendar.SetRefreshInterval("PT1H")
	err = s.write(act.As(ctx, act.Actor{Person: &owner, Language: owner.Language}), &w)
	return w.calendar.Serialize(), err
}

func (s *Service) write(ctx context.Context, w *writer) error {
	open, err := s.Links.List(ctx, false, false, "")
	if err != nil {
		return err
	}
	for _, l := range open {
		if l.Until != nil {
			w.add("link-"+l.ID.String(), *l.Until, fmt.Sprintf(w.said["link"], l.Name, l.DossierCode), "/outward?link="+l.ID.String())
		}
	}
	grants, err := s.Sharing.EndsSoon(ctx, Ahead)
	if err != nil {
		return err
	}
	for _, g := range grants {
		if g.EndsAt != nil {
			w.add("access-"+g.ID.String(), *g.EndsAt, fmt.Sprintf(w.said["access"], g.Subject, g.ItemName, g.Code), "/dossiers/"+g.Code)
		}
	}
	held, err := s.Checkout.Mine(ctx)
	for _, h := range held {
		if h.Back != nil {
			w.add("held-"+h.Item.ID.String(), *h.Back, fmt.Sprintf(w.said["held"], h.Item.Name, h.Ref()), "/d/"+h.Ref())
		}
	}
	return err
}

// said is what an entry says, by language.
var said = map[string]map[string]string{
	"en": {"link": "Link “%s” ends (%s)", "access": "Access of %s to %s ends (%s)", "held": "%s is to be back (%s)"},
	"de": {"link": "Link „%s“ endet (%s)", "access": "Zugriff von %s auf %s endet (%s)", "held": "%s soll zurück sein (%s)"},
}

type writer struct {
	calendar *ics.Calendar
	base     string
	now      time.Time
	said     map[string]string
}

// add adds an entry for a moment, which is the same one each time the calendar is read.
func (w *writer) add(id string, at time.Time, summary, path string) {
	if at.Before(w.now.Add(-Ahead)) || at.After(w.now.Add(Ahead)) {
		return
	}
	e := w.calendar.AddEvent(id + "@tabularis")
	e.SetDtStampTime(w.now)
	e.SetStartAt(at)
	e.SetSummary(summary)
	e.SetURL(w.base + path)
	e.SetTimeTransparency(ics.TransparencyTransparent)
}
