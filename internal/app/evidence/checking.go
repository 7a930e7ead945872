package evidence

import (
	"context"
	"encoding/json"

	"tabularis/core/evidence"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// atATime is how many sealed events are compared at a time.
const atATime = 5000

// Compare compares everything that happened, as it is stored, with the log, and the log
// with its checkpoints. Given are checkpoints that were sent to somebody; they have to
// agree, too.
func (s *Service) Compare(ctx context.Context, q postgres.Q, given ...string) (evidence.Findings, error) {
	l, err := theLog(ctx, q)
	if err != nil {
		if fault.Is(err, fault.NotFound) {
			err = nil // Nothing has been sealed yet.
		}
		return evidence.Findings{}, err
	}
	a := evidence.NewAudit(tilesIn(ctx, q), l.Size)
	keys, err := s.verifiers(ctx, q, l.Origin)
	if err != nil {
		return a.Findings, err
	}
	if err := compareEvents(ctx, q, a); err != nil {
		return a.Findings, err
	}
	if err := findLoose(ctx, q, a); err != nil {
		return a.Findings, err
	}
	if err := compareCheckpoints(ctx, q, a, keys); err != nil {
		return a.Findings, err
	}
	for _, signed := range given {
		if err := a.Signed(signed, keys); err != nil {
			return a.Findings, err
		}
	}
	return a.Findings, a.Hashes()
}

func compareEvents(ctx context.Context, q postgres.Q, a *evidence.Audit) error {
	for from := int64(0); from < a.Size; {
		all, err := sealedFrom(ctx, q, from, atATime)
		if err != nil {
			return err
		}
		if len(all) == 0 {
			break
		}
		for _, e := range all {
			if from = e.Place + 1; e.Place >= a.Size {
				break // It was sealed meanwhile.
			}
			var text []byte
			if e.There {
				if text, err = entry(e.Event, e.sealedEvent); err != nil {
					return err
				}
			}
			if err := a.Sealed(e.Place, e.sealedEvent.Event, text); err != nil {
				return err
			}
		}
	}
	return a.End()
}

func findLoose(ctx context.Context, q postgres.Q, a *evidence.Audit) error {
	ids, err := looseEvents(ctx, q)
	for _, id := range ids {
		a.Loose(id)
	}
	return err
}

func compareCheckpoints(ctx context.Context, q postgres.Q, a *evidence.Audit, keys []string) error {
	for size := int64(0); ; {
		some, err := checkpointsAfter(ctx, q, size, atATime)
		if err != nil || len(some) == 0 {
			return err
		}
		for _, c := range some {
			if size = c.Size; size > a.Size {
				// Was it signed meanwhile, or has the log lost its end?
				if l, err := theLog(ctx, q); err != nil || l.Size >= size {
					return err
				}
			}
			if err := a.Signed(c.Signed, keys); err != nil {
				return err
			}
		}
	}
}

// verifiers are the keys that have signed. They are made of the key file, not taken from
// the database.
func (s *Service) verifiers(ctx context.Context, q postgres.Q, origin string) (keys []string, err error) {
	all, err := signings(ctx, q)
	for _, k := range all {
		keys = append(keys, s.key(origin, k.Generation).Verifier())
	}
	return keys, err
}

// Check compares everything, and keeps what it found.
func (s *Service) Check(ctx context.Context) error {
	found, err := s.Compare(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	raw, err := json.Marshal(found)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return addCheck(ctx, tx, Check{tx.Now, raw}) })
}

// AskForCheck lets everything be compared soon, by one who looks after the practice.
func (s *Service) AskForCheck(ctx context.Context) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if !tx.Actor.Person.Administers() {
			return fault.Refused("have the log checked")
		}
		return tx.Enqueue(ctx, checkLog{})
	})
}
