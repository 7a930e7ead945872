// Package evidence seals what happens into a log that only grows, compares the log with
// what is stored, and writes bundles that prove events to somebody who does not trust us.
// Its rules are in core/evidence.
package evidence

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"time"

	"tabularis/core/events"
	"tabularis/core/evidence"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
	"tabularis/internal/platform/turns"
)

// Service keeps the log and proves by it.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Activity *activity.Service
	Contents *tree.Contents
	Keys     *secret.Keys
	BaseURL  string
	// Turns is where bundles wait: each is written in memory.
	Turns *turns.Queue
}

// NewTurns lets two bundles be written at once, fairly by who asks.
func NewTurns() *turns.Queue {
	return turns.New(2, turns.Limits{All: 60, Each: 8, Patience: 60 * time.Second})
}

// atOnce is how many events are sealed in one act.
const atOnce = 5000

// SealAll seals what waits, in acts of a few thousand events, and signs a checkpoint after
// each. One process seals at a time; each event is sealed once, whoever does.
func (s *Service) SealAll(ctx context.Context) error {
	for {
		n, err := s.sealSome(ctx)
		if err != nil || n < atOnce {
			return err
		}
	}
}

func (s *Service) sealSome(ctx context.Context) (n int, err error) {
	return n, s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := makeLog(ctx, tx, s.newOrigin()); err != nil {
			return err
		}
		l, err := holdLog(ctx, tx)
		if err != nil {
			return err
		}
		all, err := takeUnsealed(ctx, tx, atOnce)
		if n = len(all); err != nil || n == 0 {
			return err
		}
		if err := lengthen(ctx, tx, l, all); err != nil {
			return err
		}
		return s.sign(ctx, tx, l.Origin, l.Size+int64(n))
	})
}

// newOrigin is the name of a new log: where the practice is served, and something that no
// other log has.
func (s *Service) newOrigin() string {
	host := "tabularis"
	if u, err := url.Parse(s.BaseURL); err == nil && u.Hostname() != "" {
		host = u.Hostname()
	}
	return fmt.Sprintf("%s/evidence/%x", host, secret.Random(4))
}

// lengthen lets the log grow by events.
func lengthen(ctx context.Context, tx *act.Tx, l log, all []events.Event) error {
	ids, secrets, hashes := make([]int64, len(all)), make([][]byte, len(all)), make([]evidence.Hash, len(all))
	for i, e := range all {
		ids[i], secrets[i] = e.ID, secret.Random(32)
		text, err := entry(e, sealedEvent{Secret: secrets[i]})
		if err != nil {
			return err
		}
		hashes[i] = evidence.HashOf(text)
	}
	changed, err := evidence.Append(tilesIn(ctx, tx), l.Size, hashes)
	if err != nil {
		return err
	}
	if err := putTiles(ctx, tx, changed); err != nil {
		return err
	}
	if err := addSealed(ctx, tx, l.Size, ids, secrets); err != nil {
		return err
	}
	return grow(ctx, tx, l.Size+int64(len(all)))
}

// entry is what the log holds of an event.
func entry(e events.Event, s sealedEvent) ([]byte, error) {
	sealed := map[string]string{}
	var err error
	if s.Secret != nil {
		sealed, err = evidence.Commitments(e, s.Secret)
	} else {
		err = json.Unmarshal(s.Kept, &sealed)
	}
	if err != nil {
		return nil, fmt.Errorf("sealing event %d: %w", e.ID, err)
	}
	return evidence.EntryOf(e, sealed).Text(), nil
}

// key is a generation of the signing key. It is made of the key file, which is not part of
// the database.
func (s *Service) key(origin string, generation int) evidence.Key {
	return evidence.NewKey(origin, s.Keys.MAC(fmt.Sprint(generation), "evidence log "+origin))
}

// sign signs the checkpoint of the log as it is now.
func (s *Service) sign(ctx context.Context, tx *act.Tx, origin string, size int64) error {
	generation, err := s.generation(ctx, tx, origin)
	if err != nil {
		return err
	}
	root, err := tilesIn(ctx, tx).Root(size)
	if err != nil {
		return err
	}
	c := Checkpoint{Size: size, At: tx.Now, Generation: generation}
	if c.Signed, err = evidence.Sign(evidence.Checkpoint{Origin: origin, Size: size, Root: root}.Text(), s.key(origin, generation)); err != nil {
		return err
	}
	return addCheckpoint(ctx, tx, c)
}

// generation is the one that signs now; the first is noted when it is needed.
func (s *Service) generation(ctx context.Context, tx *act.Tx, origin string) (int, error) {
	all, err := signings(ctx, tx)
	if err != nil {
		return 0, err
	}
	if len(all) > 0 {
		return all[0].Generation, nil
	}
	return 1, addSigning(ctx, tx, signing{1, s.key(origin, 1).Verifier(), tx.Now})
}

// Rotate lets the next generation of the key sign from now on. The newest checkpoint is
// signed by the old and the new one, so that whoever trusts the one can trust the other.
func (s *Service) Rotate(ctx context.Context) (verifier string, err error) {
	if err := s.SealAll(ctx); err != nil {
		return "", err
	}
	return verifier, s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, err := holdLog(ctx, tx)
		if err != nil {
			return err
		}
		last, err := newest(ctx, tx)
		if err != nil {
			return err
		}
		next := last.Generation + 1
		verifier = s.key(l.Origin, next).Verifier()
		if err := addSigning(ctx, tx, signing{next, verifier, tx.Now}); err != nil {
			return err
		}
		c, _, err := evidence.OpenCheckpoint(last.Signed, []string{last.Verifier})
		if err != nil {
			return err
		}
		if last.Signed, err = evidence.Sign(c.Text(), s.key(l.Origin, last.Generation), s.key(l.Origin, next)); err != nil {
			return err
		}
		last.Generation = next
		return addCheckpoint(ctx, tx, last)
	})
}

// Erase forgets what may be personal in an event: who, from where, and what it says
// beside. That it happened, when, and to what stays, and the log still agrees.
func (s *Service) Erase(ctx context.Context, id int64) error {
	if err := s.SealAll(ctx); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		// Nobody seals or compares meanwhile.
		if _, err := holdLog(ctx, tx); err != nil {
			return err
		}
		e, sealed, err := s.one(ctx, tx, id)
		if err != nil || sealed.Secret == nil {
			return err
		}
		kept, err := evidence.Commitments(e, sealed.Secret)
		if err != nil {
			return err
		}
		raw, err := json.Marshal(kept)
		if err != nil {
			return err
		}
		if err := eraseEvent(ctx, tx, id, raw); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.PracticeErased.With(events.Erasing{Event: id})})
	})
}

// one finds an event with where it stands.
func (s *Service) one(ctx context.Context, q postgres.Q, id int64) (events.Event, sealedEvent, error) {
	stored, err := activity.EventsByID(ctx, q, []int64{id})
	if err != nil {
		return events.Event{}, sealedEvent{}, err
	}
	by, err := sealedOf(ctx, q, []int64{id})
	if err != nil {
		return events.Event{}, sealedEvent{}, err
	}
	e, there := stored[id]
	at, sealed := by[id]
	if !there || !sealed {
		err = fault.Missing()
	}
	return e.Event, at, err
}
