package items

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/storage"
	"tabularis/internal/platform/postgres"
)

// announced is what open uploads will need: all that people announced, and what has
// arrived of visitors'. What visitors announce keeps nobody out.
const announced = `coalesce(sum(CASE WHEN u.visit_id IS NULL THEN u.size ELSE u.received END), 0)::bigint`

// PracticeStorage is how much content the practice keeps, and may keep.
func PracticeStorage(ctx context.Context, q postgres.Q) (s storage.Share, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT (SELECT sum(bytes) FROM storage_used)::bigint AS used,
		(SELECT `+announced+` FROM uploads u WHERE u.outcome = '') AS announced, storage_bytes AS most FROM practice`))
}

// DossierStorage is how much the versions of a dossier take.
func DossierStorage(ctx context.Context, q postgres.Q, dossier uuid.UUID) (s storage.Share, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT coalesce((SELECT bytes FROM storage_of WHERE owner = $1), 0) AS used,
		(SELECT `+announced+` FROM uploads u JOIN items f ON f.id = u.folder_id WHERE u.outcome = '' AND f.dossier_id = $1) AS announced,
		dossier_bytes AS most FROM practice`, dossier))
}

// PersonStorage is how much the versions take that a person brought in.
func PersonStorage(ctx context.Context, q postgres.Q, person uuid.UUID) (s storage.Share, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT coalesce((SELECT bytes FROM storage_of WHERE owner = $1), 0) AS used,
		(SELECT `+announced+` FROM uploads u WHERE u.outcome = '' AND u.person_id = $1) AS announced, person_bytes AS most FROM practice`, person))
}

// Storage is whose storage something takes that comes into a dossier; without a
// person it is a visitor who brings it.
func Storage(ctx context.Context, q postgres.Q, dossier uuid.UUID, person *uuid.UUID) (s storage.Shares, err error) {
	if s.Practice, err = PracticeStorage(ctx, q); err != nil {
		return s, err
	}
	if s.Dossier, err = DossierStorage(ctx, q, dossier); err != nil || person == nil {
		return s, err
	}
	s.Person, err = PersonStorage(ctx, q, *person)
	return s, err
}

// StorageLimited reports whether anybody's storage has a limit.
func StorageLimited(ctx context.Context, q postgres.Q) (limited bool, err error) {
	return limited, q.GetContext(ctx, &limited, `SELECT EXISTS (SELECT 1 FROM practice WHERE coalesce(storage_bytes, dossier_bytes, person_bytes) IS NOT NULL)`)
}

// LockStorage lets one after the other announce what it needs storage for.
func LockStorage(ctx context.Context, q postgres.Q) error {
	return postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock(hashtext('tabularis storage'))`)
}
