package writing

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/richtext"
	"tabularis/core/versions"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// Register adds the duties of writing.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("keep what was written", time.Minute, s.KeepAll)
	r.Every("forget old steps", 24*time.Hour, s.forgetOld)
}

// A text becomes a version when nobody has been there for a while, or when whoever is there has rested for longer.
const leftFor, restedFor = 30 * time.Second, 10 * time.Minute

// stepsKept is how long steps are there for pages that come back.
const stepsKept = 30 * 24 * time.Hour

// KeepAll makes versions of all that was written and is in none.
func (s *Service) KeepAll(ctx context.Context) error {
	now := s.Acts.Now()
	ids, err := unkept(ctx, s.Acts.DB, now.Add(-leftFor), now.Add(-restedFor), now)
	if err != nil {
		return err
	}
	var failed error
	for _, id := range ids {
		// What is barred now, since it is being decided on or signed, waits.
		if err := s.Keep(ctx, id); err != nil {
			failed = errors.Join(failed, noteTried(ctx, s.Acts.DB, id, now))
			if fault.Of(err).Kind == fault.Internal {
				failed = errors.Join(failed, err)
			}
		}
	}
	return failed
}

func (s *Service) forgetOld(ctx context.Context) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return forgetBatches(ctx, tx, tx.Now.Add(-stepsKept)) })
}

// scribe is the hand of whoever wrote last: when they did, they might.
type scribe struct{ tree.Hand }

func (scribe) MayChange(context.Context, postgres.Q, items.Item) error { return nil }

// Keep makes a version of what was written, if it is in none. One in which nothing differs from the last one but what
// a file cannot hold stands beside that one. What came in by another way meanwhile is merged with it, or stays a
// version of its own, which is said.
func (s *Service) Keep(ctx context.Context, document uuid.UUID) error {
	r, err := rowOf(ctx, s.Acts.DB, document, false)
	if err != nil || r.clean() {
		return err
	}
	by, err := s.authorOf(ctx, s.Acts.DB, r)
	if err != nil {
		return err
	}
	apart, into, err := s.merge(ctx, r)
	if err != nil {
		return err
	}
	if r, err = rowOf(ctx, s.Acts.DB, document, false); err != nil {
		return err
	}
	r.into = into
	w, err := s.written(ctx, r)
	if err != nil {
		return err
	}
	stored, err := s.Contents.Store(ctx, w.file, r.MediaType, s.Acts.Now())
	if err != nil {
		return err
	}
	var kept *Kept
	ctx = act.As(ctx, act.Actor{Person: by.person})
	if r.Supersedes {
		ctx = tree.Superseding(ctx)
	}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		kept = nil
		at, err := tree.PlacedByID(ctx, tx, document)
		if err != nil {
			return err
		}
		if err := tree.LockDossier(ctx, tx, at.DossierID); err != nil {
			return err
		}
		item, err := tree.ItemByID(ctx, tx, document)
		if err != nil {
			return err
		}
		now, err := rowOf(ctx, tx, document, true)
		if err != nil || now.KeptVersion >= w.version {
			return err // Another process was quicker.
		}
		if bytes.Equal(item.SHA256, stored.Version.SHA256) {
			return noteKept(ctx, tx, s.Keys, document, w.version, item.Version, w.state)
		}
		if err := stored.Keep(ctx, tx); err != nil {
			return err
		}
		v, err := s.Items.Revise(ctx, tx, by.hand(s.Access, tx), item, stored.Version, versions.Written)
		if err != nil {
			return err
		}
		kept = &Kept{v.Number, tx.Now, by.id, apart}
		if err := noteKept(ctx, tx, s.Keys, document, w.version, v.Number, w.state); err != nil {
			return err
		}
		return tellOthers(ctx, tx, note{Document: document, From: s.process, Kept: kept})
	})
	err = errors.Join(err, stored.End(ctx, err))
	if err == nil && kept != nil {
		s.tellKept(document, *kept)
	}
	return err
}

// KeepNow makes a version at once, and gives it a name where there is one.
func (s *Service) KeepNow(ctx context.Context, document uuid.UUID, title string) (k Kept, err error) {
	at, err := s.allowed(ctx, document)
	if err != nil {
		return k, err
	}
	if at.Barred != nil {
		return k, at.Barred
	}
	if at.Mode != richtext.Write {
		return k, fault.Refused("make a version of this")
	}
	if err := s.Keep(ctx, document); err != nil && !fault.Is(err, fault.NotFound) {
		return k, err
	}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		item, err := tree.ItemByID(ctx, tx, document)
		if err != nil {
			return err
		}
		k = Kept{Number: item.Version, At: tx.Now, By: tx.Actor.Person.ID}
		if title == "" {
			return nil
		}
		return s.Items.Describe(ctx, tx, document, item.Version, &title, nil)
	})
	return k, err
}

// tellKept tells those who are there by this process of a version.
func (s *Service) tellKept(document uuid.UUID, k Kept) {
	r := s.roomOf(document)
	if r != nil {
		r.mu.Lock()
		defer r.mu.Unlock()
		r.tellKept(k)
	}
}

// whole is what was written, up to a version, as its state and as a file.
type whole struct {
	version     int
	state, file []byte
}

// written is the text or table as the database has it, ready to become a version.
func (s *Service) written(ctx context.Context, r row) (w whole, err error) {
	now, version, since, err := s.bodyNow(ctx, r)
	if err != nil {
		return w, err
	}
	w.version = version
	if w.state, err = json.Marshal(now); err != nil {
		return w, err
	}
	w.file, err = crafts[r.MediaType].file(ctx, s, r, now, since)
	return w, err
}
