package access

import (
	"context"
	"sync"

	"github.com/google/uuid"

	"tabularis/core/access"
)

// Bits is what somebody may see as one bit for each scope, by its number: for lists in which
// each row would have to be looked up otherwise.
type Bits struct {
	// Set holds the bit of scope n in byte n/8, the least first, as PostgreSQL's get_bit reads it.
	Set []byte
	// All says that there is nothing that may not be seen.
	All bool
	// Numbers are those of what may be seen, where they are few, and Documents is about how
	// many documents lie in it.
	Numbers   []int32
	Documents int

	// ids are the scopes that may be seen, up to mostListed.
	ids []uuid.UUID
	// more says that there are more.
	more  bool
	parts map[uuid.UUID][]ScopeNumber
	at    *numbers
}

const (
	// fewScopes is up to how many scopes are named one by one.
	fewScopes = 400
	// mostListed is up to how many are listed at all.
	mostListed = 10_000
)

// Has reports whether a scope may be seen.
func (b *Bits) Has(scope uuid.UUID) bool {
	no := b.at.number(scope)
	return int(no/8) < len(b.Set) && b.Set[no/8]>>(no%8)&1 == 1
}

// Scopes are the scopes that may be seen; ok is false where there are too many to list.
func (b *Bits) Scopes() (ids []uuid.UUID, ok bool) { return b.ids, !b.more }

// Below are the scopes of a folder and of what lies in it that may be seen.
func (b *Bits) Below(folder uuid.UUID) (ids []uuid.UUID) {
	within := map[uuid.UUID][]ScopeNumber{}
	for _, s := range b.parts[b.at.dossier(folder)] {
		if s.ID == folder {
			within[uuid.Nil] = []ScopeNumber{s}
		}
		if s.Parent != nil {
			within[*s.Parent] = append(within[*s.Parent], s)
		}
	}
	for next := within[uuid.Nil]; len(next) > 0; {
		s := next[len(next)-1]
		next = append(next[:len(next)-1], within[s.ID]...)
		if int(s.No/8) < len(b.Set) && b.Set[s.No/8]>>(s.No%8)&1 == 1 {
			ids = append(ids, s.ID)
		}
	}
	return ids
}

// numbered are the scopes of a dossier as they were by its access, and how many folders had
// been made in it.
type numbered struct {
	forest  *access.Forest
	folders int64
	scopes  []ScopeNumber
}

// numbers keeps them for everybody, and of each scope its number and dossier.
type numbers struct {
	mu sync.RWMutex
	of map[uuid.UUID]numbered
	at map[uuid.UUID]ScopeNumber
}

// number is a scope's; none that was not read has one.
func (n *numbers) number(scope uuid.UUID) int32 {
	n.mu.RLock()
	defer n.mu.RUnlock()
	return n.at[scope].No
}

func (n *numbers) dossier(scope uuid.UUID) uuid.UUID {
	n.mu.RLock()
	defer n.mu.RUnlock()
	return n.at[scope].Dossier
}

// viewBits are the bits of a view, made when they are asked for.
type viewBits struct {
	mu      sync.Mutex
	folders int64
	bits    *Bits
}

// Bits returns a view as bits. They are as true as the view: a statement that reads by them
// compares its sum.
func (g *Guard) Bits(ctx context.Context, v *View) (*Bits, error) {
	folders, err := FoldersMade(ctx, g.db)
	if err != nil {
		return nil, err
	}
	v.bits.mu.Lock()
	defer v.bits.mu.Unlock()
	if v.bits.bits != nil && v.bits.folders == folders {
		return v.bits.bits, nil
	}
	r := v.Readable()
	b := &Bits{All: r.Others && len(r.Zones) == 0, at: &g.kept.numbers}
	if b.parts, err = g.scopesOf(ctx, v); err != nil {
		return nil, err
	}
	for _, d := range v.Touched {
		for _, s := range b.parts[d] {
			if r.Holds(s.Zone, s.Root) {
				b.add(s)
			}
		}
	}
	if len(b.Numbers) > fewScopes {
		b.Numbers = nil
	}
	if b.more {
		b.ids = nil
	}
	v.bits.bits, v.bits.folders = b, folders
	return b, nil
}

// add adds a scope that may be seen.
func (b *Bits) add(s ScopeNumber) {
	for int(s.No/8) >= len(b.Set) {
		b.Set = append(b.Set, make([]byte, 1024)...)
	}
	b.Set[s.No/8] |= 1 << (s.No % 8)
	b.Documents += s.Documents
	if len(b.Numbers) <= fewScopes {
		b.Numbers = append(b.Numbers, s.No)
	}
	if b.more = b.more || len(b.ids) == mostListed; !b.more {
		b.ids = append(b.ids, s.ID)
	}
}

// scopesOf returns the scopes of the dossiers in which there is something to see; those of
// dossiers that have changed are read.
func (g *Guard) scopesOf(ctx context.Context, v *View) (map[uuid.UUID][]ScopeNumber, error) {
	made, err := FoldersMadeIn(ctx, g.db)
	if err != nil {
		return nil, err
	}
	n := &g.kept.numbers
	n.mu.Lock()
	defer n.mu.Unlock()
	var stale []uuid.UUID
	for _, d := range v.Touched {
		if kept, ok := n.of[d]; !ok || kept.forest != v.forests[d] || kept.folders != made[d] {
			stale = append(stale, d)
		}
	}
	if len(stale) > 0 {
		read, err := ScopeNumbers(ctx, g.db, stale)
		if err != nil {
			return nil, err
		}
		for _, d := range stale {
			n.of[d] = numbered{v.forests[d], made[d], nil}
		}
		for _, s := range read {
			n.at[s.ID] = s
			kept := n.of[s.Dossier]
			kept.scopes = append(kept.scopes, s)
			n.of[s.Dossier] = kept
		}
	}
	parts := make(map[uuid.UUID][]ScopeNumber, len(v.Touched))
	for _, d := range v.Touched {
		parts[d] = n.of[d].scopes
	}
	return parts, nil
}

// ScopeNumber is a scope, by its number.
type ScopeNumber struct {
	ID        uuid.UUID  `db:"id"`
	Parent    *uuid.UUID `db:"parent_id"`
	No        int32      `db:"no"`
	Dossier   uuid.UUID  `db:"dossier_id"`
	Root      uuid.UUID  `db:"root_id"`
	Zone      uuid.UUID  `db:"zone_id"`
	Documents int        `db:"n_documents"`
}
