// Package postgres opens the database, migrates it and runs statements. Functions
// take a connection or a transaction, whichever the act runs in.
package postgres

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"maps"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"

	"tabularis/core/fault"
)

// IDs passes a list of ids as one parameter.
func IDs(ids []uuid.UUID) []string {
	s := make([]string, len(ids))
	for i, id := range ids {
		s[i] = id.String()
	}
	return s
}

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
	// Acts has room for those who hold a connection and ask for further ones beside it: by at most half
	// of all connections, so that they never wait for each other for ever.
	Acts chan struct{}
}

// Open connects to PostgreSQL and waits for nothing.
func Open(ctx context.Context, url string, connections int32) (*DB, error) {
	return open(ctx, url, connections, nil)
}

// OpenGeneric is Open for statements that are written so that there is one way to run them:
// their plans are made once for a connection, whatever is asked.
func OpenGeneric(ctx context.Context, url string, connections int32) (*DB, error) {
	return open(ctx, url, connections, map[string]string{"plan_cache_mode": "force_generic_plan"})
}

func open(ctx context.Context, url string, connections int32, settings map[string]string) (*DB, error) {
	cfg, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("reading the database address: %w", err)
	}
	cfg.MaxConns = connections
	// Our statements take milliseconds; compiling one that looks costly takes longer
	// than running it.
	cfg.ConnConfig.RuntimeParams["jit"] = "off"
	maps.Copy(cfg.ConnConfig.RuntimeParams, settings)
	pool, err := pgxpool.NewWithConfig(ctx, cfg)
	if err != nil {
		return nil, fmt.Errorf("opening the database: %w", err)
	}
	return &DB{DB: sqlx.NewDb(stdlib.OpenDBFromPool(pool), "pgx"), Pool: pool, Acts: make(chan struct{}, max(1, connections/2))}, nil
}

// Close ends all connections.
func (db *DB) Close() {
	db.DB.Close()
	db.Pool.Close()
}

// Found turns "no rows" into the answer for what does not exist.
func Found(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return fault.Missing()
	}
	return err
}

func Exec(ctx context.Context, q Q, query string, args ...any) error {
	_, err := q.ExecContext(ctx, query, args...)
	return err
}

// Touches runs a statement about one row and reports whether it was there to be touched.
func Touches(ctx context.Context, q Q, query string, args ...any) (bool, error) {
	r, err := q.ExecContext(ctx, query, args...)
	if err != nil {
		return false, err
	}
	n, err := r.RowsAffected()
	return n == 1, err
}

// ExecOne runs a statement that must touch exactly one row.
func ExecOne(ctx context.Context, q Q, query string, args ...any) error {
	if there, err := Touches(ctx, q, query, args...); err != nil || there {
		return err
	}
	return fault.Missing()
}
