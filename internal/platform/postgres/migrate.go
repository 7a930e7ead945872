package postgres

import (
	"context"
	"embed"
	"fmt"
	"io/fs"

	"github.com/pressly/goose/v3"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Migrate brings the database to the newest shape, ours and that of the jobs.
func Migrate(ctx context.Context, db *DB) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, db.DB.DB, files)
	if err != nil {
		return fmt.Errorf("reading migrations: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	jobs, err := rivermigrate.New(riverpgxv5.New(db.Pool), nil)
	if err != nil {
		return fmt.Errorf("reading the migrations of jobs: %w", err)
	}
	if _, err := jobs.Migrate(ctx, rivermigrate.DirectionUp, nil); err != nil {
		return fmt.Errorf("migrating jobs: %w", err)
	}
	return nil
}
