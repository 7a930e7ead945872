// Package store reads and writes the database: SQL written by hand, no rules.
// Functions take a connection or a transaction, whichever the act runs in.
package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"embed"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"

	"tabularis/core/fault"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Q is a connection, a pool or a transaction.
type Q interface {
	sqlx.ExtContext
	GetContext(ctx context.Context, dest any, query string, args ...any) error
	SelectContext(ctx context.Context, dest any, query string, args ...any) error
}

// Outside reports whether statements run by themselves: what they read is true
// for everybody. A transaction sees its own changes, which may yet be undone.
func Outside(q Q) bool {
	_, pool := q.(*DB)
	return pool
}

// DB is the pool in its two shapes: sqlx for our statements, pgx for what needs
// the driver itself (jobs, listening).
type DB struct {
	*sqlx.DB
	Pool *pgxpool.Pool
}

// Open connects to PostgreSQL and waits for nothing.
func Open(ctx context.Context, url string, connections int32) (*DB, error) {
	cfg, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("reading the database address: %w", err)
	}
	cfg.MaxConns = connections
	// Our statements take milliseconds; compiling one that looks costly takes longer
	// than running it.
	cfg.ConnConfig.RuntimeParams["jit"] = "off"
	pool, err := pgxpool.NewWithConfig(ctx, cfg)
	if err != nil {
		return nil, fmt.Errorf("opening the database: %w", err)
	}
	return &DB{DB: sqlx.NewDb(stdlib.OpenDBFromPool(pool), "pgx"), Pool: pool}, nil
}

// Close ends all connections.
func (db *DB) Close() {
	db.DB.Close()
	db.Pool.Close()
}

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

// found turns "no rows" into the answer for what does not exist.
func found(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return fault.Missing()
	}
	return err
}

// Collides reports whether err says that the unique index or constraint is
// violated.
func Collides(err error, index string) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.Code == "23505" && pg.ConstraintName == index
}

// Away reports whether err says that the database cannot be reached or went
// away, whatever was being done.
func Away(err error) bool {
	var connect *pgconn.ConnectError
	var network *net.OpError
	var pg *pgconn.PgError
	switch {
	case errors.As(err, &connect), errors.As(err, &network), errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, driver.ErrBadConn), errors.Is(err, io.EOF), errors.Is(err, sql.ErrConnDone):
		return true
	case errors.As(err, &pg):
		// Class 57P: the server is shutting down or starting up.
		return strings.HasPrefix(pg.Code, "57P")
	}
	return err != nil && strings.Contains(err.Error(), "conn closed")
}

// notEncoded is how the driver begins to say that a value does not fit a parameter.
const notEncoded = "failed to encode args"

// Unfit reports whether err says that a value cannot be what a statement takes it for
// (class 22 of SQLSTATE, and what the driver refuses before).
func Unfit(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && strings.HasPrefix(pg.Code, "22") || err != nil && strings.Contains(err.Error(), notEncoded)
}

// Plainly is an error as it may be logged: what the database says of a statement
// repeats users' values, so that only its code and what it is about are kept.
func Plainly(err error) string {
	var pg *pgconn.PgError
	if !errors.As(err, &pg) {
		before, _, cut := strings.Cut(err.Error(), notEncoded)
		if cut {
			before += notEncoded
		}
		return before
	}
	said := pg.Error()
	return strings.ReplaceAll(err.Error(), said, "database error "+pg.Code+" "+pg.TableName+" "+pg.ConstraintName)
}

// Transient reports whether the transaction may succeed when tried again.
func Transient(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (pg.Code == "40P01" || pg.Code == "40001")
}

func exec(ctx context.Context, q Q, query string, args ...any) error {
	_, err := q.ExecContext(ctx, query, args...)
	return err
}

// execOne runs a statement that must touch exactly one row.
func execOne(ctx context.Context, q Q, query string, args ...any) error {
	r, err := q.ExecContext(ctx, query, args...)
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil || n == 1 {
		return err
	}
	return fault.Missing()
}
