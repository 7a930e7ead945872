package postgres

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"io/fs"

	"github.com/pressly/goose/v3"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrOldShape says that the database has to be migrated before it is served.
var ErrOldShape = errors.New("the database has an older shape than this program; run: tabularis migrate")

// Migrate brings the database to the newest shape, ours and that of the jobs. It is
// an act of its own, before any server process of the new program starts; of several
// that are begun at once one migrates, and the others wait and find it done.
func Migrate(ctx context.Context, db *DB) error {
	lock, err := db.Pool.Acquire(ctx)
	if err != nil {
		return fmt.Errorf("taking a connection: %w", err)
	}
	// The lock goes with its connection, whatever happens.
	held := lock.Hijack()
	defer held.Close(context.WithoutCancel(ctx))
	if _, err := held.Exec(ctx, `SELECT pg_advisory_lock(hashtext('tabularis migrate'))`); err != nil {
		return fmt.Errorf("waiting for others who migrate: %w", err)
	}
	provider, err := shapes(db)
	if err != nil {
		return err
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	return migrateJobs(ctx, db)
}

// MigrateTo brings an empty database to an older shape of ours: for tests of what
// comes after it.
func MigrateTo(ctx context.Context, db *DB, shape int64) error {
	provider, err := shapes(db)
	if err != nil {
		return err
	}
	if _, err := provider.UpTo(ctx, shape); err != nil {
		return fmt.Errorf("migrating to %d: %w", shape, err)
	}
	return nil
}

// Fits refuses a database that has not been migrated (ErrOldShape).
func Fits(ctx context.Context, db *DB) error {
	provider, err := shapes(db)
	if err != nil {
		return err
	}
	pending, err := provider.HasPending(ctx)
	if err == nil && pending {
		err = ErrOldShape
	}
	return err
}

func shapes(db *DB) (*goose.Provider, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, db.DB.DB, files)
	if err != nil {
		return nil, fmt.Errorf("reading migrations: %w", err)
	}
	return provider, nil
}

func migrateJobs(ctx context.Context, db *DB) error {
	jobs, err := rivermigrate.New(riverpgxv5.New(db.Pool), nil)
	if err != nil {
		return fmt.Errorf("reading the migrations of jobs: %w", err)
	}
	if _, err := jobs.Migrate(ctx, rivermigrate.DirectionUp, nil); err != nil {
		return fmt.Errorf("migrating jobs: %w", err)
	}
	return nil
}
