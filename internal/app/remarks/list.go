package remarks

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/items"
	"tabularis/core/remarks"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/listing"
	"tabularis/internal/platform/office"
)

// Filter narrows what is listed: everything, the open threads, those that one takes part
// in, or those with something one has not read.
type Filter string

// The filters there are.
const (
	All    Filter = "all"
	Open   Filter = "open"
	Mine   Filter = "mine"
	Unread Filter = "unread"
)

// atOnce is how many threads a page has.
const atOnce = 100

// Said is a remark as it is shown.
type Said struct {
	Remark
	Named, Ticks                       []Named
	Mine, Unread, MayChange, MayRemove bool
}

// Thread is what was said about one thing, from the first remark on.
type Thread struct {
	Said    []Said
	Place   *remarks.Place
	Version int
	// Carried says that the place was found in the newest version; else it is of the
	// version of which it was written.
	Carried bool
}

// Page are threads, newest first.
type Page struct {
	Threads   []Thread
	Tally     Tally
	MayRemark bool
	MayShare  bool
	// InWord says that it is a word-processing document, which can be had with them.
	InWord bool
	Next   *listing.Mark
}

// List shows what was said about an item.
func (s *Service) List(ctx context.Context, item uuid.UUID, f Filter, before *listing.Mark) (p Page, err error) {
	q, me := s.Acts.DB, act.Who(ctx).Person
	sight, err := s.Access.Item(ctx, q, item, access.See, s.Acts.Now())
	if err != nil {
		return p, err
	}
	since, err := looked(ctx, q, item, me.ID)
	if err != nil {
		return p, err
	}
	if p.Tally, err = tally(ctx, q, item, me.ID, since); err != nil {
		return p, err
	}
	p.MayRemark, p.MayShare = sight.Caps.Has(access.Remark), sight.Caps.Has(access.Share)
	p.InWord = sight.MediaType == office.Word && sight.Caps.Has(access.Download)
	firsts, err := threads(ctx, q, sought{Item: item, Person: me.ID, Open: f == Open, Mine: f == Mine, Unread: f == Unread, Since: since, Before: before, Limit: atOnce + 1})
	if err != nil {
		return p, err
	}
	if len(firsts) > atOnce {
		firsts = firsts[:atOnce]
		last := firsts[atOnce-1]
		p.Next = &listing.Mark{At: last.At, ID: last.ID}
	}
	rest, err := answers(ctx, q, idsOf(firsts))
	if err != nil {
		return p, err
	}
	show, err := s.shower(ctx, sight, append(append([]Remark{}, firsts...), rest...), since)
	if err != nil {
		return p, err
	}
	by := byThread(rest)
	for _, first := range firsts {
		t := Thread{Said: []Said{show(first)}}
		for _, r := range by[first.ID] {
			t.Said = append(t.Said, show(r))
		}
		if err := t.placed(first, sight.Item); err != nil {
			return p, err
		}
		p.Threads = append(p.Threads, t)
	}
	return p, nil
}

func byThread(all []Remark) map[uuid.UUID][]Remark {
	by := map[uuid.UUID][]Remark{}
	for _, r := range all {
		by[r.ThreadID] = append(by[r.ThreadID], r)
	}
	return by
}

// placed says where a thread stands now.
func (t *Thread) placed(first Remark, item items.Item) error {
	if first.Version == nil {
		return nil
	}
	t.Version = *first.Version
	if first.Place == nil {
		return nil
	}
	t.Place = &remarks.Place{}
	t.Carried = first.Found && first.SoughtIn != nil && *first.SoughtIn == item.Version
	return json.Unmarshal(first.Place, t.Place)
}

func idsOf(all []Remark) []uuid.UUID {
	ids := make([]uuid.UUID, len(all))
	for i, r := range all {
		ids[i] = r.ID
	}
	return ids
}

// shower shows each of some remarks with whom it names and who ticked it.
func (s *Service) shower(ctx context.Context, sight guard.Sight, all []Remark, since time.Time) (func(r Remark) Said, error) {
	me := act.Who(ctx).Person
	named, err := namedIn(ctx, s.Acts.DB, idsOf(all))
	if err != nil {
		return nil, err
	}
	ticks, err := ticked(ctx, s.Acts.DB, idsOf(all))
	if err != nil {
		return nil, err
	}
	of := func(all []Named) map[uuid.UUID][]Named {
		by := map[uuid.UUID][]Named{}
		for _, n := range all {
			by[n.Remark] = append(by[n.Remark], n)
		}
		return by
	}
	names, tickers := of(named), of(ticks)
	return func(r Remark) Said {
		mine := r.PersonID == me.ID
		return Said{Remark: r, Named: names[r.ID], Ticks: tickers[r.ID], Mine: mine, Unread: !mine && r.At.After(since) && r.RemovedAt == nil,
			MayChange: mine && r.RemovedAt == nil && sight.Caps.Has(access.Remark), MayRemove: r.RemovedAt == nil && removes(r, sight, me.ID)}
	}, nil
}
