// Package versions lets people name, note, bring back and remove versions of documents.
package versions

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
)

// Service changes what becomes of versions.
type Service struct {
	Acts  *act.Runner
	Items *tree.Service
}

// Describe gives a version a name or a note; nil leaves what is there.
func (s *Service) Describe(ctx context.Context, document uuid.UUID, number int, title, note *string) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return s.Items.Describe(ctx, tx, document, number, title, note) })
}

// BringBack lets an older version count again, as a new one.
func (s *Service) BringBack(ctx context.Context, document uuid.UUID, number int) (v items.Version, err error) {
	return v, s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		v, err = s.Items.BringBackVersion(ctx, tx, document, number)
		return err
	})
}

// Adopt makes a document a version of another one.
func (s *Service) Adopt(ctx context.Context, document, from uuid.UUID) (v items.Version, err error) {
	return v, s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		v, err = s.Items.Adopt(ctx, tx, document, from)
		return err
	})
}

// Remove takes a version out of the list. During the keeping period it can be put back.
func (s *Service) Remove(ctx context.Context, document uuid.UUID, number int) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return s.Items.RemoveVersion(ctx, tx, document, number) })
}

// Restore puts a removed version back.
func (s *Service) Restore(ctx context.Context, document uuid.UUID, number int) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		p, err := practice.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		return s.Items.RestoreVersion(ctx, tx, document, number, p.Keeping().Since(tx.Now))
	})
}
