package access

import (
	"context"
	"fmt"
	"sync"
	"time"

	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/act"
)

// keep holds what was read of access, each with the stamp at which it was true.
// A stamp is read before what it stands for: what changed in between is read
// again at the next request, and never the other way round.
type keep struct {
	mu      sync.RWMutex
	forests map[uuid.UUID]stamped[*access.Forest]
	circles stamped[*access.Circles]
	views   map[uuid.UUID]*View
	doors   map[doorKey]access.Door
	numbers numbers
}

type stamped[T any] struct {
	stamp int64
	value T
}

type doorKey struct {
	dossier, root uuid.UUID
	Stamps
}

// keepAtMost bounds how many views and doors are held; what is dropped is read
// again.
const keepAtMost = 20_000

func newKeep() *keep {
	return &keep{forests: map[uuid.UUID]stamped[*access.Forest]{}, views: map[uuid.UUID]*View{}, doors: map[doorKey]access.Door{}, numbers: numbers{of: map[uuid.UUID]numbered{}, at: map[uuid.UUID]ScopeNumber{}}}
}

func (k *keep) forest(dossier uuid.UUID, stamp int64) (*access.Forest, bool) {
	k.mu.RLock()
	defer k.mu.RUnlock()
	f, ok := k.forests[dossier]
	return f.value, ok && f.stamp == stamp
}

func (k *keep) setForest(dossier uuid.UUID, stamp int64, f *access.Forest) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.forests[dossier].stamp <= stamp {
		k.forests[dossier] = stamped[*access.Forest]{stamp, f}
	}
}

func (k *keep) door(key doorKey, now time.Time, count func() access.Door) access.Door {
	k.mu.RLock()
	d, ok := k.doors[key]
	k.mu.RUnlock()
	if ok && (d.Ends == nil || now.Before(*d.Ends)) {
		return d
	}
	d = count()
	k.mu.Lock()
	defer k.mu.Unlock()
	if len(k.doors) >= keepAtMost {
		clear(k.doors)
	}
	k.doors[key] = d
	return d
}

// forest returns a dossier's access at a stamp that was just read.
func (g *Guard) forest(ctx context.Context, q postgres.Q, dossier uuid.UUID, stamp int64) (*access.Forest, error) {
	if f, ok := g.kept.forest(dossier, stamp); ok {
		return f, nil
	}
	// What a transaction reads is true for itself only: it may see changes of its
	// own, which may yet be undone.
	tx, inAct := q.(*act.Tx)
	if inAct {
		if f, ok := tx.Kept(inTx{dossier, stamp}).(*access.Forest); ok {
			return f, nil
		}
	}
	forests, err := plant(ctx, q, []uuid.UUID{dossier})
	if err != nil {
		return nil, err
	}
	f := forests[dossier]
	if f == nil {
		return nil, fmt.Errorf("dossier %s has no roots of access", dossier)
	}
	if inAct {
		tx.Keep(inTx{dossier, stamp}, f)
	} else if postgres.Outside(q) {
		g.kept.setForest(dossier, stamp, f)
	}
	return f, nil
}

// inTx is under what an act keeps a dossier's access.
type inTx struct {
	dossier uuid.UUID
	stamp   int64
}

// plant reads the access of dossiers. Grants that were made between reading
// roots and grants may stand on roots that were not read; then it reads anew.
func plant(ctx context.Context, q postgres.Q, dossiers []uuid.UUID) (map[uuid.UUID]*access.Forest, error) {
	var err error
	for range 3 {
		var forests map[uuid.UUID]*access.Forest
		if forests, err = plantOnce(ctx, q, dossiers); err == nil || ctx.Err() != nil {
			return forests, err
		}
	}
	return nil, err
}

func plantOnce(ctx context.Context, q postgres.Q, dossiers []uuid.UUID) (map[uuid.UUID]*access.Forest, error) {
	rootRows, grantRows, err := RootsAndGrants(ctx, q, dossiers)
	if err != nil {
		return nil, err
	}
	roots, grants := map[uuid.UUID][]access.Root{}, map[uuid.UUID][]access.Grant{}
	for _, r := range rootRows {
		roots[r.Dossier] = append(roots[r.Dossier], r.Core())
	}
	for _, g := range grantRows {
		grants[g.DossierID] = append(grants[g.DossierID], g.Core())
	}
	out := make(map[uuid.UUID]*access.Forest, len(dossiers))
	for dossier, all := range roots {
		if out[dossier], err = access.NewForest(access.ID(dossier), all, grants[dossier]); err != nil {
			return nil, fmt.Errorf("reading the access of dossier %s: %w", dossier, err)
		}
	}
	return out, nil
}

// circles returns the groups at a stamp that was just read.
func (g *Guard) circles(ctx context.Context, q postgres.Q, stamp int64) (*access.Circles, error) {
	g.kept.mu.RLock()
	kept := g.kept.circles
	g.kept.mu.RUnlock()
	if kept.value != nil && kept.stamp == stamp {
		return kept.value, nil
	}
	accounts, members, err := Circle(ctx, q)
	if err != nil {
		return nil, err
	}
	c := access.NewCircles(accounts, members)
	if postgres.Outside(q) {
		g.kept.mu.Lock()
		if g.kept.circles.stamp <= stamp {
			g.kept.circles = stamped[*access.Circles]{stamp, c}
		}
		g.kept.mu.Unlock()
	}
	return c, nil
}

// view returns what a person may see: the kept view where its moment has not
// come, or a new one. Unless it is checked, a kept view may be out of date; lists
// made by it then find nothing.
func (g *Guard) view(ctx context.Context, person uuid.UUID, now time.Time, checked bool) (*View, error) {
	g.kept.mu.RLock()
	v := g.kept.views[person]
	g.kept.mu.RUnlock()
	if v != nil && (v.Reading.Ends == nil || now.Before(*v.Reading.Ends)) {
		if !checked {
			return v, nil
		}
		sum, err := StampSum(ctx, g.db)
		if err != nil || sum == v.sum {
			return v, err
		}
	}
	forests, unlisted, circles, sum, err := g.everything(ctx)
	if err != nil {
		return nil, err
	}
	before := v
	v = &View{Person: person, sum: sum, subjects: circles.Subjects(access.ID(person)), circles: circles, forests: forests, parts: make(map[uuid.UUID]part, len(forests))}
	for dossier, f := range forests {
		if unlisted[dossier] {
			continue
		}
		// A change in one dossier leaves what was computed of the others as it is.
		var p part
		if before != nil && before.circles == circles {
			p = before.parts[dossier]
		}
		if !p.holds(f, now) {
			r := f.Reading(v.subjects, now)
			p = part{f, r, !r.Empty() || f.Adds(v.subjects, now)}
		}
		if v.parts[dossier] = p; p.touched {
			v.Touched = append(v.Touched, dossier)
		}
		v.Reading.Join(p.reading)
	}
	v.Reading.Order()
	g.kept.mu.Lock()
	defer g.kept.mu.Unlock()
	if len(g.kept.views) >= keepAtMost {
		clear(g.kept.views)
	}
	g.kept.views[person] = v
	return v, nil
}

// everything brings what is kept of all dossiers up to date: only those whose
// stamp has changed are read. Some are in no list, whoever has access to them.
func (g *Guard) everything(ctx context.Context) (forests map[uuid.UUID]*access.Forest, unlisted map[uuid.UUID]bool, circles *access.Circles, sum int64, err error) {
	stamps, err := AllStamps(ctx, g.db)
	if err != nil {
		return nil, nil, nil, 0, err
	}
	forests, unlisted = make(map[uuid.UUID]*access.Forest, len(stamps)), map[uuid.UUID]bool{}
	versions := make(map[uuid.UUID]int64, len(stamps))
	var stale []uuid.UUID
	var people int64
	for _, s := range stamps {
		sum += s.Version
		versions[s.Scope] = s.Version
		if s.Scope == PeopleStamp {
			people = s.Version
			continue
		}
		if s.Unlisted {
			unlisted[s.Scope] = true
		}
		if f, ok := g.kept.forest(s.Scope, s.Version); ok {
			forests[s.Scope] = f
		} else {
			stale = append(stale, s.Scope)
		}
	}
	if len(stale) > 0 {
		read, err := plant(ctx, g.db, stale)
		if err != nil {
			return nil, nil, nil, 0, err
		}
		for dossier, f := range read {
			forests[dossier] = f
			g.kept.setForest(dossier, versions[dossier], f)
		}
	}
	circles, err = g.circles(ctx, g.db, people)
	return forests, unlisted, circles, sum, err
}
