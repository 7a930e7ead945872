package links

import (
	"context"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/app/activity"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/linkgate"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Shown is a link as its senders see it.
type Shown struct {
	ListedLink
	State string
	// Living says that somebody may be let in, or may still be in.
	Living   bool
	Address  string
	Sentence terms.Sentence
	Items    []guard.LinkItem
	MayEnd   bool
	// Expected are the papers that it waits for.
	Expected []ExpectedPaper
}

// List lists the links that the acting person may see, or made themselves, or
// those of one dossier.
func (s *Service) List(ctx context.Context, over, mine bool, code string) ([]Shown, error) {
	only, by := uuid.Nil, uuid.Nil
	if code != "" {
		d, err := s.Access.ByCode(ctx, s.Acts.DB, code, s.Acts.Now())
		if err != nil {
			return nil, err
		}
		only = d.ID
	}
	if mine {
		by = act.Who(ctx).Person.ID
	}
	rows, err := s.list(ctx, only, by, over)
	if err != nil {
		return nil, err
	}
	return s.Show(ctx, rows)
}

func (s *Service) list(ctx context.Context, dossier, by uuid.UUID, over bool) (rows []ListedLink, err error) {
	now := s.Acts.Now()
	return rows, s.Access.View(ctx, now, func(v *guard.View) (n int, err error) {
		rows, err = LinksOf(ctx, s.Acts.DB, v.Readable(), dossier, by, over, now, 500)
		return len(rows), err
	})
}

// Given lists what the acting person gave out or asked for, of what they may still
// see, without what only lists show.
func (s *Service) Given(ctx context.Context) (all []ListedLink, err error) {
	for _, over := range []bool{false, true} {
		rows, err := s.list(ctx, uuid.Nil, act.Who(ctx).Person.ID, over)
		if err != nil {
			return nil, err
		}
		all = append(all, rows...)
	}
	now := s.Acts.Now()
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return nil, err
	}
	ids := make([]uuid.UUID, len(all))
	for i, l := range all {
		ids[i] = l.ID
	}
	may, err := v.Links(ctx, s.Acts.DB, ids, now)
	if err != nil {
		return nil, err
	}
	for i := range all {
		if !may.Knows(all[i].ID) {
			all[i].conceal()
		}
	}
	return all, nil
}

// conceal takes away for whom a link is, and who came: not everybody who sees it is
// to know.
func (l *ListedLink) conceal() { l.Allowed, l.SentTo, l.LastBy, l.Slug = nil, "", "", nil }

// CountOpen counts the open links that the acting person may see.
func (s *Service) CountOpen(ctx context.Context) (int, error) {
	now := s.Acts.Now()
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return 0, err
	}
	return CountLinks(ctx, s.Acts.DB, v.Readable(), now)
}

// Show completes links for their list.
func (s *Service) Show(ctx context.Context, rows []ListedLink) ([]Shown, error) {
	now := s.Acts.Now()
	ids := make([]uuid.UUID, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	items, err := guard.LinkItems(ctx, s.Acts.DB, ids)
	if err != nil {
		return nil, err
	}
	byLink := map[uuid.UUID][]guard.LinkItem{}
	for _, i := range items {
		byLink[i.LinkID] = append(byLink[i.LinkID], i)
	}
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return nil, err
	}
	papers, err := ExpectedPapers(ctx, s.Acts.DB, ids)
	if err != nil {
		return nil, err
	}
	expected := map[uuid.UUID][]ExpectedPaper{}
	for _, p := range papers {
		expected[p.LinkID] = append(expected[p.LinkID], p)
	}
	may, err := v.Links(ctx, s.Acts.DB, ids, now)
	if err != nil {
		return nil, err
	}
	out := make([]Shown, len(rows))
	for i, r := range rows {
		out[i] = s.shown(r, byLink[r.ID], may.Knows(r.ID), terms.Voice{Language: act.Who(ctx).Language, Zone: zone, Now: now})
		out[i].Expected = expected[r.ID]
	}
	return out, nil
}

func (s *Service) shown(r ListedLink, given []guard.LinkItem, known bool, v terms.Voice) Shown {
	plain := make([]items.Item, len(given))
	for i, it := range given {
		plain[i] = it.Item
	}
	if !known {
		r.conceal()
	}
	sh := Shown{ListedLink: r, Items: given, MayEnd: known, State: state(r.Link, v.Now)}
	if len(given) == 0 {
		// Nothing of it is there: it lets nobody in.
		sh.State = "ended"
	}
	sh.Living = sh.State == "open" || sh.State == "used-up" && r.LastOpenedAt != nil && r.LastOpenedAt.After(v.Now.Add(-linkgate.VisitLength))
	t, _ := r.Gate()
	sh.Sentence = terms.Link{Files: len(given), Folder: onlyFolder(plain), Terms: t}.Sentence(v)
	if sh.MayEnd && sh.State == "open" {
		if token, err := s.Keys.Open(r.TokenSealed, tokenPurpose); err == nil {
			sh.Address = s.address(r.Link, string(token))
		}
	}
	return sh
}

// address is where a link is reached: readable, if it has such an address.
func (s *Service) address(l Link, token string) string {
	if l.Slug != nil {
		token = *l.Slug
	}
	return s.BaseURL + "/l/" + token
}

func state(l Link, now time.Time) string {
	t, u := l.Gate()
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

// One shows one link.
func (s *Service) One(ctx context.Context, id uuid.UUID) (Shown, error) {
	if _, _, err := s.find(ctx, s.Acts.DB, id, access.See, s.Acts.Now()); err != nil {
		return Shown{}, err
	}
	row, err := ListedLinkByID(ctx, s.Acts.DB, id)
	if err != nil {
		return Shown{}, err
	}
	shown, err := s.Show(ctx, []ListedLink{row})
	if err != nil {
		return Shown{}, err
	}
	return shown[0], nil
}

// Record shows one link with what happened through it.
func (s *Service) Record(ctx context.Context, id uuid.UUID) (Shown, []events.Named, error) {
	l, err := s.One(ctx, id)
	if err != nil {
		return l, nil, err
	}
	events, err := activity.Events(ctx, s.Acts.DB, activity.EventFilter{Link: id, Limit: 200})
	if err != nil {
		return l, nil, err
	}
	events, err = s.Access.Events(ctx, s.Acts.DB, events, s.Acts.Now())
	return l, events, err
}

// Looks lists how long the visits of a link looked at what.
func (s *Service) Looks(ctx context.Context, id uuid.UUID) ([]VisitLook, error) {
	if _, _, err := s.find(ctx, s.Acts.DB, id, access.See, s.Acts.Now()); err != nil {
		return nil, err
	}
	return LooksOf(ctx, s.Acts.DB, id)
}

// Through lists the links that give an item which the acting person may see:
// chosen itself, or through a folder around it. Open ones come first.
func (s *Service) Through(ctx context.Context, item uuid.UUID) ([]Shown, error) {
	now := s.Acts.Now()
	sight, err := s.Access.Item(ctx, s.Acts.DB, item, access.See, now)
	if err != nil {
		return nil, err
	}
	path, err := tree.ZonePathOf(ctx, s.Acts.DB, item)
	if err != nil {
		return nil, err
	}
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return nil, err
	}
	rows, err := LinksReaching(ctx, s.Acts.DB, v.Readable(), item, path, sight.Item.Kind == items.Folder, now, 50)
	if err != nil {
		return nil, err
	}
	return s.Show(ctx, rows)
}
