package comparison

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/diff"
	"tabularis/core/fault"
	"tabularis/internal/app/uploads"
)

// Merge brings what a copy changed of an earlier version of a document together with what
// the version that counts changed of it, as a further version. The copy stays. Refused is
// what is no text, and what both changed in the same places (fault.Conflict).
func (s *Service) Merge(ctx context.Context, document, from uuid.UUID, base int) (version int, err error) {
	now := s.acts.Now()
	if _, err := s.access.Item(ctx, s.acts.DB, document, access.Change, now); err != nil {
		return 0, err
	}
	older, err := s.sides(ctx, Pair{Document: document, From: base})
	if err != nil {
		return 0, err
	}
	copied, err := s.sides(ctx, Pair{Document: from, With: document})
	if err != nil {
		return 0, err
	}
	if !older.Lines() || !copied.Lines() {
		return 0, errNoMerge.New("only texts can be merged")
	}
	var texts [3]string
	for i, side := range []Side{older.A, copied.A, older.B} {
		if texts[i], err = s.raw(ctx, side); err != nil {
			return 0, err
		}
	}
	merged, conflicts := "", 0
	if err := s.inTurn(ctx, func() { merged, conflicts = diff.Merge(texts[0], texts[1], texts[2]) }); err != nil {
		return 0, err
	}
	if conflicts > 0 {
		return 0, errConflicts.New("both changed the same lines in %d places", conflicts)
	}
	wish := uploads.Wish{Document: &document, Name: older.B.Item.Name, Size: int64(len(merged)), Note: copied.A.Item.Name}
	u, err := s.uploads.Put(ctx, wish, strings.NewReader(merged))
	return u.Version, err
}

// raw is the text of one of the sides as it stands.
func (s *Service) raw(ctx context.Context, side Side) (string, error) {
	plain, readable, err := s.contents.Reader.Text(ctx, s.source(ctx, side.Version()))
	if err != nil {
		return "", err
	}
	text := strings.Join(plain.Parts, "")
	switch {
	case !readable:
		return "", errNoMerge.New("only texts can be merged")
	case len(text) > maxText:
		return "", errTooLarge.New("they are too large to be merged; both can be downloaded")
	}
	return text, nil
}

// What is refused here.
var (
	errNoMerge   = fault.Declare(fault.Invalid, "no-merge", "only texts can be merged")
	errConflicts = fault.Declare(fault.Conflict, "merge-conflicts", "both changed the same lines in … places")
)
