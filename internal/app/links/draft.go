package links

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/core/register"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/store"
)

// Wish is the terms under which somebody wants to give something out. A zero
// Until with UntilSet means without an end; without UntilSet the usual one.
type Wish struct {
	Items    []uuid.UUID
	Name     string
	UntilSet bool
	Until    *time.Time
	Openings *int
	Password string
	Newest   bool
	Language string
}

// Draft is what a link would be and do.
type Draft struct {
	Sentence     terms.Sentence
	Offers       []string
	Name, Title  string
	Files        int
	Bytes        int64
	LinkedBefore int
	Latest       time.Time
	Usual        time.Time
}

// plan is a checked wish.
type plan struct {
	wish      Wish
	practice  store.Practice
	zone      *time.Location
	code      string
	items     []store.Item
	documents []store.PlacedItem
	until     *time.Time
	name      string
}

// Draft says what the wish would mean, before anything is made.
func (s *Service) Draft(ctx context.Context, w Wish) (Draft, error) {
	now := s.Acts.Now()
	p, err := s.check(ctx, s.Acts.DB, w, now)
	if err != nil {
		return Draft{}, err
	}
	d := Draft{Name: p.name, Title: p.title(), Files: len(p.documents), Latest: p.latest(now), Usual: p.usual(now)}
	d.Sentence = p.sentence(p.voice(now))
	if w.Password == "" {
		d.Offers = append(d.Offers, "password")
	}
	if w.Openings == nil {
		d.Offers = append(d.Offers, "openings")
	}
	ids := make([]uuid.UUID, len(p.documents))
	folders := map[uuid.UUID][]uuid.UUID{}
	for i, doc := range p.documents {
		ids[i] = doc.ID
		d.Bytes += doc.Size
		folders[*doc.ParentID] = append(folders[*doc.ParentID], doc.ID)
	}
	for folder, docs := range folders {
		path, err := store.PathOf(ctx, s.Acts.DB, folder)
		if err != nil {
			return Draft{}, err
		}
		counts, err := store.LivingLinkCounts(ctx, s.Acts.DB, path, docs, now)
		if err != nil {
			return Draft{}, err
		}
		d.LinkedBefore += len(counts)
	}
	return d, nil
}

func (p plan) voice(now time.Time) terms.Voice {
	return terms.Voice{Language: p.wish.Language, Zone: p.zone, Now: now}
}

func (p plan) sentence(v terms.Voice) terms.Sentence {
	return terms.Link{Files: len(p.documents), Folder: onlyFolder(p.items), Password: p.wish.Password != "", Download: true, Newest: p.wish.Newest, Until: p.until, Openings: p.wish.Openings}.Sentence(v)
}

func onlyFolder(items []store.Item) string {
	if len(items) == 1 && items[0].Kind == store.Folder {
		return items[0].Name
	}
	return ""
}

// title names what is given out by its register numbers: MER-24/031 and 033.
func (p plan) title() string {
	var parts []string
	for _, i := range p.items {
		switch {
		case i.Kind == store.Folder:
			parts = append(parts, i.Name)
		case len(parts) == 0:
			parts = append(parts, register.Ref{Code: p.code, Number: *i.Number}.String())
		default:
			parts = append(parts, fmt.Sprintf("%03d", *i.Number))
		}
		if len(parts) == 4 && len(p.items) > 4 {
			return fmt.Sprintf("%s, +%d", strings.Join(parts, ", "), len(p.items)-4)
		}
	}
	return strings.Join(parts, ", ")
}

// usual is two weeks from now at six in the evening, or the practice's limit.
func (p plan) usual(now time.Time) time.Time {
	y, m, d := now.In(p.zone).Date()
	t := time.Date(y, m, d+usualDays, 18, 0, 0, 0, p.zone).UTC()
	if latest := p.latest(now); t.After(latest) {
		return latest
	}
	return t
}

// latest is the end of the last day that the practice allows.
func (p plan) latest(now time.Time) time.Time {
	y, m, d := now.In(p.zone).Date()
	return time.Date(y, m, d+p.practice.LongestLinkDays, 23, 59, 59, 0, p.zone).UTC()
}

// check refuses what cannot be given out: nothing or too much chosen, items of
// several dossiers, items one may not share, ends in the past or after the
// practice's longest duration, limits out of range, short passwords.
func (s *Service) check(ctx context.Context, q store.Q, w Wish, now time.Time) (plan, error) {
	p := plan{wish: w}
	if len(w.Items) == 0 || len(w.Items) > 1000 {
		return p, fault.Field("items", "items-count", "choose between 1 and 1000 items")
	}
	if w.Openings != nil && (*w.Openings < 1 || *w.Openings > maxOpenings) {
		return p, fault.Field("openings", "openings-range", "a limit is between 1 and %d openings", maxOpenings)
	}
	if w.Password != "" && len(w.Password) < minPassword {
		return p, fault.Field("password", "password-short", "the password has at least %d characters", minPassword)
	}
	var err error
	if p.practice, p.zone, err = store.PracticeZone(ctx, q); err != nil {
		return p, err
	}
	if err := p.choose(ctx, q, now); err != nil {
		return p, err
	}
	p.until = w.Until
	if !w.UntilSet {
		usual := p.usual(now)
		p.until = &usual
	}
	if p.until == nil || p.until.After(p.latest(now)) {
		return p, fault.Field("until", "until-too-late", "a link ends at the latest after %d days", p.practice.LongestLinkDays)
	}
	if !p.until.After(now) {
		return p, fault.Field("until", "until-past", "the end lies in the past")
	}
	p.name = p.suggestedName()
	if w.Name != "" {
		p.name, err = names.Check("name", w.Name)
	}
	return p, err
}

func (p *plan) choose(ctx context.Context, q store.Q, now time.Time) error {
	seen := map[uuid.UUID]bool{}
	for _, id := range p.wish.Items {
		if seen[id] {
			continue
		}
		seen[id] = true
		sight, err := guard.Item(ctx, q, id, access.Share, now)
		if err != nil {
			return err
		}
		if len(p.items) > 0 && p.items[0].DossierID != sight.Item.DossierID {
			return fault.Field("items", "items-dossiers", "one link gives out items of one dossier")
		}
		p.items = append(p.items, sight.Item)
		if sight.Item.Kind == store.Document {
			p.documents = append(p.documents, store.PlacedItem{Item: sight.Item})
			continue
		}
		below, err := store.DocumentsUnder(ctx, q, id)
		if err != nil {
			return err
		}
		p.documents = append(p.documents, below...)
	}
	d, err := store.DossierByID(ctx, q, p.items[0].DossierID)
	p.code = d.Code
	return err
}

func (p plan) suggestedName() string {
	stem, _ := names.Split(p.items[0].Name)
	if len(p.items) > 1 {
		return fmt.Sprintf("%s +%d", stem, len(p.items)-1)
	}
	return stem
}
