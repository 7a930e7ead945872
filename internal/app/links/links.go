// Package links makes, lists, mails and ends secure links, for their senders.
package links

import (
	"context"
	"fmt"
	"net/mail"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/core/register"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/jobs"
	"tabularis/internal/secret"
	"tabularis/internal/store"
)

const (
	tokenPurpose = "link"
	usualDays    = 14
	maxOpenings  = 100_000
	minPassword  = 6
)

// Service makes and ends links.
type Service struct {
	Acts      *act.Runner
	Keys      *secret.Keys
	Passwords *secret.Passwords
	// BaseURL is the address under which the practice is reached.
	BaseURL string
}

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
	if p.practice, err = store.ThePractice(ctx, q); err != nil {
		return p, err
	}
	if p.zone, err = time.LoadLocation(p.practice.Timezone); err != nil {
		return p, fmt.Errorf("reading the practice's time zone: %w", err)
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

// Make makes the link. It is good at once.
func (s *Service) Make(ctx context.Context, w Wish) (Shown, error) {
	id := uuid.Must(uuid.NewV7())
	hash := ""
	if w.Password != "" {
		var err error
		if hash, err = s.Passwords.Hash(ctx, w.Password); err != nil {
			return Shown{}, err
		}
	}
	err := s.Acts.Do(ctx, func(tx *act.Tx) error {
		p, err := s.check(ctx, tx, w, tx.Now)
		if err != nil {
			return err
		}
		token := secret.Token()
		l := store.Link{ID: id, Kind: "hand-out", Name: p.name, TokenSHA256: secret.Hash(token), TokenSealed: s.Keys.Seal([]byte(token), tokenPurpose), DossierID: p.items[0].DossierID,
			CreatedBy: tx.Actor.Person.ID, CreatedAt: tx.Now, Until: p.until, OpeningsLimit: w.Openings, PasswordHash: hash, MayDownload: true, Newest: w.Newest, Language: language(w.Language)}
		if err := store.AddLink(ctx, tx, l, itemIDs(p.items)); err != nil {
			return err
		}
		if !w.Newest {
			docs := make([]uuid.UUID, len(p.documents))
			for i, d := range p.documents {
				docs[i] = d.ID
			}
			if err := store.PinVersions(ctx, tx, id, docs); err != nil {
				return err
			}
		}
		return s.tell(ctx, tx, l, p.items, "link.made", map[string]string{"terms": p.sentence(p.voice(tx.Now)).String()})
	})
	if err != nil {
		return Shown{}, err
	}
	return s.One(ctx, id)
}

// tell records an event of a link: on the document, when it is about a single
// one.
func (s *Service) tell(ctx context.Context, tx *act.Tx, l store.Link, items []store.Item, kind string, data map[string]string) error {
	e := act.Event{Kind: kind, Dossier: l.DossierID, Link: &l.ID, Data: data}
	data["link"] = l.Name
	if len(items) == 1 {
		e.Item = &items[0].ID
	}
	return tx.Record(ctx, e)
}

func language(l string) string {
	if l == "de" {
		return "de"
	}
	return "en"
}

func itemIDs(items []store.Item) []uuid.UUID {
	ids := make([]uuid.UUID, len(items))
	for i, it := range items {
		ids[i] = it.ID
	}
	return ids
}

// Shown is a link as its senders see it.
type Shown struct {
	store.ListedLink
	State string
	// Living says that somebody may be let in, or may still be in.
	Living   bool
	Address  string
	Sentence terms.Sentence
	Items    []store.LinkItem
	MayEnd   bool
}

// List lists the links of the acting person's dossiers, or of one of them.
func (s *Service) List(ctx context.Context, over bool, code string) ([]Shown, error) {
	now := s.Acts.Now()
	ids, err := guard.Dossiers(ctx, s.Acts.DB, now)
	if err != nil {
		return nil, err
	}
	if code != "" {
		d, err := store.DossierByCode(ctx, s.Acts.DB, strings.ToUpper(code))
		if err != nil {
			return nil, err
		}
		if _, err := guard.Item(ctx, s.Acts.DB, d.ID, access.See, now); err != nil {
			return nil, err
		}
		ids = []uuid.UUID{d.ID}
	}
	rows, err := store.LinksOf(ctx, s.Acts.DB, ids, over, now, 500)
	if err != nil {
		return nil, err
	}
	return s.Show(ctx, rows)
}

// Show completes links for their list.
func (s *Service) Show(ctx context.Context, rows []store.ListedLink) ([]Shown, error) {
	now := s.Acts.Now()
	ids := make([]uuid.UUID, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	items, err := store.LinkItems(ctx, s.Acts.DB, ids)
	if err != nil {
		return nil, err
	}
	byLink := map[uuid.UUID][]store.LinkItem{}
	for _, i := range items {
		byLink[i.LinkID] = append(byLink[i.LinkID], i)
	}
	practice, err := store.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	zone, err := time.LoadLocation(practice.Timezone)
	if err != nil {
		return nil, err
	}
	caps := map[uuid.UUID]access.Caps{}
	out := make([]Shown, len(rows))
	for i, r := range rows {
		may, known := caps[r.DossierID]
		if !known {
			sight, err := guard.Item(ctx, s.Acts.DB, r.DossierID, access.See, now)
			if err != nil {
				return nil, err
			}
			may = sight.Caps
			caps[r.DossierID] = may
		}
		out[i] = s.shown(r, byLink[r.ID], may, terms.Voice{Language: act.Who(ctx).Language, Zone: zone, Now: now})
	}
	return out, nil
}

func (s *Service) shown(r store.ListedLink, items []store.LinkItem, caps access.Caps, v terms.Voice) Shown {
	plain := make([]store.Item, len(items))
	for i, it := range items {
		plain[i] = it.Item
	}
	sh := Shown{ListedLink: r, Items: items, MayEnd: caps.Has(access.Share), State: state(r.Link, v.Now)}
	sh.Living = sh.State == "open" || sh.State == "used-up" && r.LastOpenedAt != nil && r.LastOpenedAt.After(v.Now.Add(-linkgate.VisitLength))
	sh.Sentence = terms.Link{Files: len(items), Folder: onlyFolder(plain), Password: r.PasswordHash != "", Download: r.MayDownload, Newest: r.Newest, Until: r.Until, Openings: r.OpeningsLimit}.Sentence(v)
	if sh.MayEnd && sh.State == "open" {
		if token, err := s.Keys.Open(r.TokenSealed, tokenPurpose); err == nil {
			sh.Address = s.BaseURL + "/l/" + string(token)
		}
	}
	return sh
}

func state(l store.Link, now time.Time) string {
	t, u := l.Terms()
	switch linkgate.Standing(t, u, now) {
	case linkgate.Ended:
		return "ended"
	case linkgate.Expired:
		return "expired"
	case linkgate.UsedUp:
		return "used-up"
	}
	return "open"
}

// find returns a link whose dossier the acting person needs the capabilities in.
func (s *Service) find(ctx context.Context, q store.Q, id uuid.UUID, need access.Caps, now time.Time) (store.Link, error) {
	l, err := store.LinkByID(ctx, q, id)
	if err != nil {
		return l, err
	}
	_, err = guard.Item(ctx, q, l.DossierID, need, now)
	return l, err
}

// One shows one link.
func (s *Service) One(ctx context.Context, id uuid.UUID) (Shown, error) {
	if _, err := s.find(ctx, s.Acts.DB, id, access.See, s.Acts.Now()); err != nil {
		return Shown{}, err
	}
	row, err := store.ListedLinkByID(ctx, s.Acts.DB, id)
	if err != nil {
		return Shown{}, err
	}
	shown, err := s.Show(ctx, []store.ListedLink{row})
	if err != nil {
		return Shown{}, err
	}
	return shown[0], nil
}

// Record shows one link with what happened through it.
func (s *Service) Record(ctx context.Context, id uuid.UUID) (Shown, []store.NamedEvent, error) {
	l, err := s.One(ctx, id)
	if err != nil {
		return l, nil, err
	}
	events, err := store.Events(ctx, s.Acts.DB, store.EventFilter{Link: id, Limit: 200})
	return l, events, err
}

// change runs an act on a link whose dossier the person may share from.
func (s *Service) change(ctx context.Context, id uuid.UUID, fn func(tx *act.Tx, l store.Link, items []store.Item) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, err := s.find(ctx, tx, id, access.Share, tx.Now)
		if err != nil {
			return err
		}
		chosen, err := store.LinkItems(ctx, tx, []uuid.UUID{id})
		if err != nil {
			return err
		}
		items := make([]store.Item, len(chosen))
		for i, c := range chosen {
			items[i] = c.Item
		}
		return fn(tx, l, items)
	})
}

// End makes a link dead at once. Ending it again changes nothing.
func (s *Service) End(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l store.Link, items []store.Item) error {
		ended, err := store.EndLink(ctx, tx, id, tx.Actor.Person.ID, tx.Now)
		if err != nil || !ended {
			return err
		}
		return s.tell(ctx, tx, l, items, "link.ended", map[string]string{})
	})
}

// GrantOpening lets one more visit in than the limit said.
func (s *Service) GrantOpening(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l store.Link, items []store.Item) error {
		if l.OpeningsLimit == nil || l.EndedAt != nil {
			return fault.New(fault.Conflict, "no-limit", "the link has ended or has no limit of openings")
		}
		if err := store.AllowOpening(ctx, tx, id); err != nil {
			return err
		}
		return s.tell(ctx, tx, l, items, "link.opening-granted", map[string]string{"limit": fmt.Sprint(*l.OpeningsLimit + 1)})
	})
}

// Mail sends the link with a message, one mail to each address. The password is
// never in it.
func (s *Service) Mail(ctx context.Context, id uuid.UUID, to []string, message string) error {
	addresses, err := parse(to)
	if err != nil {
		return err
	}
	shown, err := s.One(ctx, id)
	if err != nil {
		return err
	}
	return s.change(ctx, id, func(tx *act.Tx, l store.Link, items []store.Item) error {
		if shown.Address == "" {
			return fault.New(fault.Conflict, "link-over", "the link is no longer open")
		}
		if _, err := tx.ExecContext(ctx, `UPDATE links SET message = $2 WHERE id = $1`, id, strings.TrimSpace(message)); err != nil {
			return err
		}
		practice, err := store.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		zone, err := time.LoadLocation(practice.Timezone)
		if err != nil {
			return err
		}
		letter := letter{language: l.Language, practice: practice.Name, sender: *tx.Actor.Person, message: strings.TrimSpace(message), address: shown.Address, password: l.PasswordHash != "", name: l.Name,
			terms: terms.Link{Files: len(items), Folder: onlyFolder(items), Download: l.MayDownload, Until: l.Until}.ForVisitor(terms.Voice{Language: l.Language, Zone: zone, Now: tx.Now}, nil).String()}
		for _, a := range addresses {
			if err := store.AddLinkMail(ctx, tx, id, a.Address, tx.Now); err != nil {
				return err
			}
			subject, text := letter.write()
			job := jobs.SendMail{To: a.Address, ToName: a.Name, From: practice.Name, ReplyTo: tx.Actor.Person.Email, Subject: subject, Text: text}
			if err := tx.Enqueue(ctx, job); err != nil {
				return err
			}
			if err := s.tell(ctx, tx, l, items, "link.sent", map[string]string{"to": a.Address}); err != nil {
				return err
			}
		}
		return nil
	})
}

func parse(to []string) ([]*mail.Address, error) {
	if len(to) == 0 || len(to) > 20 {
		return nil, fault.Field("to", "addresses-count", "give between 1 and 20 addresses")
	}
	var out []*mail.Address
	for _, raw := range to {
		a, err := mail.ParseAddress(raw)
		if err != nil || strings.ContainsAny(raw, "\r\n") || !strings.Contains(a.Address[strings.LastIndex(a.Address, "@"):], ".") {
			return nil, fault.Field("to", "address-form", "%q is not a mail address", raw)
		}
		out = append(out, a)
	}
	return out, nil
}
