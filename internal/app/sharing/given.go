package sharing

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/people"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/core/suggest"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// List is a page of what was given. Since is when the reader last looked.
type List struct {
	Grants []ShownGrant
	Next   string
	Since  *time.Time
}

// pageOf is how many rows a page of given things has.
const pageOf = 100

// ToMe lists what others gave the acting person, directly, through a group or as
// everyone, the newest first. saw notes that the list was looked at.
func (s *Service) ToMe(ctx context.Context, after string, saw bool) (List, error) {
	now, me := s.Acts.Now(), act.Who(ctx).Person
	from, err := cursorOf(after)
	if err != nil {
		return List{}, err
	}
	subjects, err := s.subjects(ctx, me.ID)
	if err != nil {
		return List{}, err
	}
	l := List{Since: me.GivenSeenAt}
	if l.Grants, err = GivenTo(ctx, s.Acts.DB, me.ID, subjects, now, from, pageOf+1); err != nil {
		return l, err
	}
	l.cut()
	if saw {
		err = NoteGivenSeen(ctx, s.Acts.DB, me.ID, now)
	}
	return l, err
}

// CountNew counts what was given since the acting person last looked.
func (s *Service) CountNew(ctx context.Context) (int, error) {
	me := act.Who(ctx).Person
	subjects, err := s.subjects(ctx, me.ID)
	if err != nil {
		return 0, err
	}
	return CountNew(ctx, s.Acts.DB, me.ID, subjects, me.GivenSeenAt, s.Acts.Now())
}

func (s *Service) subjects(ctx context.Context, person uuid.UUID) ([]access.Subject, error) {
	c, err := s.Access.Circles(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	return c.Subjects(access.ID(person)), nil
}

// ByMe lists what the acting person gave, the newest first, perhaps in one dossier by
// its code.
func (s *Service) ByMe(ctx context.Context, f GivenFilter, code, after string) (List, error) {
	if code != "" {
		d, err := s.Access.ByCode(ctx, s.Acts.DB, code, s.Acts.Now())
		if err != nil {
			return List{}, err
		}
		f.Dossier = d.ID
	}
	from, err := cursorOf(after)
	if err != nil {
		return List{}, err
	}
	v, err := s.Access.Mine(ctx, s.Acts.Now())
	if err != nil {
		return List{}, err
	}
	var l List
	if l.Grants, err = GivenBy(ctx, s.Acts.DB, v.Person, v.Readable(), f, s.Acts.Now(), from, pageOf+1); err != nil {
		return l, err
	}
	l.cut()
	return l, nil
}

func (l *List) cut() {
	if len(l.Grants) <= pageOf {
		return
	}
	l.Grants = l.Grants[:pageOf]
	last := l.Grants[pageOf-1]
	raw, err := json.Marshal(Cursor{At: last.CreatedAt, ID: last.ID})
	if err == nil {
		l.Next = base64.RawURLEncoding.EncodeToString(raw)
	}
}

func cursorOf(after string) (*Cursor, error) {
	if after == "" {
		return nil, nil
	}
	var c Cursor
	raw, err := base64.RawURLEncoding.DecodeString(after)
	if err != nil || json.Unmarshal(raw, &c) != nil || c.ID == uuid.Nil {
		return nil, fault.CursorUnknown.In("after", "the cursor does not belong to this list")
	}
	return &c, nil
}

// EndsSoon lists the access that ends within a time and that the acting person
// gave, or that ends in a dossier they manage.
func (s *Service) EndsSoon(ctx context.Context, within time.Duration) ([]ShownGrant, error) {
	now := s.Acts.Now()
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return nil, err
	}
	var managed []uuid.UUID
	for _, d := range v.Touched {
		if v.May(d, d, now).Caps.Has(access.Manage) {
			managed = append(managed, d)
		}
	}
	return EndingFor(ctx, s.Acts.DB, v.Person, v.Readable(), managed, now, now.Add(within))
}

// Pin keeps an item, which the acting person may see, at hand on their desk.
func (s *Service) Pin(ctx context.Context, item uuid.UUID, pinned bool) error {
	now := s.Acts.Now()
	if _, err := s.Access.Item(ctx, s.Acts.DB, item, access.See, now); err != nil {
		return err
	}
	return Pin(ctx, s.Acts.DB, act.Who(ctx).Person.ID, item, pinned, now)
}

// Suggested is somebody, or a group, who may be meant.
type Suggested struct {
	Kind         access.SubjectKind
	ID           uuid.UUID
	Name         string
	Email        string
	Organisation string
	Outside      bool
	Members      []string
	suggest.Suggestion
	// Could is how many of the documents they can open already.
	Could, Gains int
}

const (
	offered = 8
	// lookBack is how old work may be to be a reason.
	lookBack = 180 * 24 * time.Hour
)

// Suggest offers people and groups for items, the likeliest first; typed
// narrows them. Each is told with what it would gain.
func (s *Service) Suggest(ctx context.Context, items []uuid.UUID, typed string) ([]Suggested, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	var sights []guard.Sight
	for _, id := range dedupe(items[:min(len(items), 50)]) {
		sight, err := s.Access.Item(ctx, q, id, access.Share, now)
		if err != nil {
			return nil, err
		}
		sights = append(sights, sight)
	}
	if len(sights) == 0 {
		return nil, fault.ItemsCount.In("items", "choose at least one item")
	}
	all, err := s.candidates(ctx, sights[0], names.Key(typed), now)
	if err != nil {
		return nil, err
	}
	all = all[:min(len(all), 2*offered)]
	if err := s.gains(ctx, q, all, sights, now); err != nil {
		return nil, err
	}
	// Who can open everything already is hardly meant.
	slices.SortStableFunc(all, func(a, b Suggested) int {
		switch {
		case (a.Gains > 0) == (b.Gains > 0):
			return 0
		case a.Gains > 0:
			return -1
		}
		return 1
	})
	all = all[:min(len(all), offered)]
	return all, s.nameMembers(ctx, all)
}

// nameMembers names who belongs to the groups among those suggested.
func (s *Service) nameMembers(ctx context.Context, all []Suggested) error {
	c, err := s.Access.Circles(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	var groups []access.Subject
	for _, x := range all {
		if x.Kind == access.Group {
			groups = append(groups, access.Subject{Kind: access.Group, ID: access.ID(x.ID)})
		}
	}
	members, err := s.named(ctx, s.Acts.DB, c, groups)
	if err != nil {
		return err
	}
	for i := range all {
		x := &all[i]
		at := slices.Index(groups, access.Subject{Kind: x.Kind, ID: access.ID(x.ID)})
		if at < 0 {
			continue
		}
		for _, m := range members[at] {
			x.Members = append(x.Members, m.Name)
			x.Outside = x.Outside || !m.Inside()
		}
	}
	return nil
}

func (s *Service) candidates(ctx context.Context, here guard.Sight, typed string, now time.Time) ([]Suggested, error) {
	me := act.Who(ctx).Person
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return nil, err
	}
	traces, err := Traces(ctx, s.Acts.DB, me.ID, here.DossierID, postgres.IDs(v.Touched), now.Add(-lookBack))
	if err != nil {
		return nil, err
	}
	var plain []suggest.Trace
	mine := map[string]bool{}
	for _, t := range traces {
		plain = append(plain, suggest.Trace{Person: t.PersonID.String(), Dossier: t.Code, Acts: t.Acts, Last: t.Last, Given: t.Given})
		if !t.Given {
			mine[t.Code] = true
		}
	}
	ranked := map[string]suggest.Suggestion{}
	for _, r := range suggest.Rank(here.Code, mine, plain, now) {
		ranked[r.Person] = r
	}
	all, err := s.everybody(ctx, me)
	if err != nil {
		return nil, err
	}
	fits := map[uuid.UUID]int{}
	for i := range all {
		all[i].Suggestion = ranked[all[i].ID.String()]
		fits[all[i].ID] = max(suggest.Fit(typed, names.Key(all[i].Name)), suggest.Fit(typed, names.Key(all[i].Email)), suggest.Fit(typed, names.Key(all[i].Organisation)))
	}
	all = slices.DeleteFunc(all, func(c Suggested) bool { return fits[c.ID] == 0 })
	slices.SortStableFunc(all, func(a, b Suggested) int {
		switch fa, fb := fits[a.ID], fits[b.ID]; {
		case fa != fb:
			return fb - fa
		case a.Weight > b.Weight:
			return -1
		case a.Weight < b.Weight:
			return 1
		}
		return 0
	})
	return all, nil
}

// everybody lists whom the acting person may name: people they know, and for
// colleagues groups and everyone.
func (s *Service) everybody(ctx context.Context, me *accounts.Person) ([]Suggested, error) {
	known, err := s.People.Known(ctx)
	if err != nil {
		return nil, err
	}
	var all []Suggested
	for _, p := range known {
		if p.ID != me.ID && p.DeactivatedAt == nil {
			all = append(all, Suggested{Kind: access.Person, ID: p.ID, Name: p.Name, Email: p.Email, Organisation: p.Organisation, Outside: !p.Inside()})
		}
	}
	if !me.Inside() {
		return all, nil
	}
	groups, err := people.Groups(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	for _, g := range groups {
		all = append(all, Suggested{Kind: access.Group, ID: g.ID, Name: g.Name})
	}
	practice, err := practice.ThePractice(ctx, s.Acts.DB)
	return append(all, Suggested{Kind: access.Everyone, Name: practice.Name}), err
}

// gains counts for each of the suggested what they would newly be able to open.
// All are counted together: what one gains does not hang on the others, as all
// would get the same.
func (s *Service) gains(ctx context.Context, q postgres.Q, all []Suggested, items []guard.Sight, now time.Time) error {
	c, err := s.Access.Circles(ctx, q)
	if err != nil {
		return err
	}
	subjects := make([]access.Subject, len(all))
	for i, x := range all {
		subjects[i] = access.Subject{Kind: x.Kind, ID: access.ID(x.ID)}
	}
	var totals tally
	documents := 0
	for _, item := range items {
		var p access.Plan
		for _, subject := range subjects {
			p.Add = append(p.Add, access.Grant{Item: access.ID(item.ID), Subject: subject, Level: access.LevelLook})
		}
		n, err := s.compare(ctx, q, &totals, item, p, now)
		if err != nil {
			return fmt.Errorf("counting what they would gain: %w", err)
		}
		documents += n
	}
	for i, subject := range subjects {
		for _, person := range c.People(subject) {
			if at, ok := totals.at[whom{person: person}]; ok {
				all[i].Gains = max(all[i].Gains, totals.all[at].Gains)
			}
		}
		all[i].Could = documents - all[i].Gains
	}
	return nil
}
