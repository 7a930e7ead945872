package lease

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"tabularis/internal/platform/postgres"
)

const columns = `token, name, deep, holder, note, until`

// alone runs fn while nobody else changes leases, with those gone that have run out.
func (l *Leases) alone(ctx context.Context, now time.Time, fn func(q postgres.Q) error) error {
	tx, err := l.db.BeginTxx(ctx, nil)
	if err != nil {
		return fmt.Errorf("beginning: %w", err)
	}
	defer func() { _ = tx.Rollback() }()
	if err := settle(ctx, tx, now); err != nil {
		return err
	}
	if err := fn(tx); err != nil {
		return err
	}
	return tx.Commit()
}

// settle lets nobody else change leases until the transaction ends, and forgets those
// that have run out.
func settle(ctx context.Context, tx postgres.Q, now time.Time) error {
	if err := postgres.Exec(ctx, tx, `SELECT pg_advisory_xact_lock(hashtext('tabularis leases'))`); err != nil {
		return err
	}
	// What is in use does not end meanwhile.
	return postgres.Exec(ctx, tx, `DELETE FROM leases WHERE until <= $1 AND (claimed_until IS NULL OR claimed_until <= $1)`, now)
}

// inTheWay finds a lease that stands against a new one.
func inTheWay(ctx context.Context, q postgres.Q, name string, deep bool) (*Lease, error) {
	var l Lease
	err := q.GetContext(ctx, &l, `SELECT `+columns+` FROM leases WHERE name = $1 OR deep AND (name = '/' OR starts_with($1, name || '/'))
		OR $2 AND ($1 = '/' OR starts_with(name, $1 || '/')) ORDER BY name LIMIT 1`, name, deep)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &l, err
}

func on(ctx context.Context, q postgres.Q, name string) (all []Lease, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT `+columns+` FROM leases WHERE name = $1`, name)
}

func around(ctx context.Context, q postgres.Q, name string) (all []Lease, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT `+columns+` FROM leases WHERE name = $1 OR deep AND (name = '/' OR starts_with($1, name || '/')) ORDER BY name`, name)
}

func put(ctx context.Context, q postgres.Q, l Lease) error {
	return postgres.Exec(ctx, q, `INSERT INTO leases (`+columns+`) VALUES ($1, $2, $3, $4, $5, $6)`, l.Token, l.Name, l.Deep, l.Holder, l.Note, l.Until)
}

// free finds a lease that no request uses.
func free(ctx context.Context, q postgres.Q, now time.Time, token string) (l Lease, err error) {
	var used bool
	err = q.QueryRowxContext(ctx, `SELECT `+columns+`, coalesce(claimed_until > $2, false) FROM leases WHERE token = $1`, token, now).
		Scan(&l.Token, &l.Name, &l.Deep, &l.Holder, &l.Note, &l.Until, &used)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		err = ErrNone
	case err == nil && used:
		err = ErrBusy
	}
	return l, err
}

func prolong(ctx context.Context, q postgres.Q, l Lease) error {
	return postgres.ExecOne(ctx, q, `UPDATE leases SET until = $2 WHERE token = $1`, l.Token, l.Until)
}

func drop(ctx context.Context, q postgres.Q, token string) error {
	return postgres.Exec(ctx, q, `DELETE FROM leases WHERE token = $1`, token)
}

// claimable finds which of the tokens holds a name and is not in use.
func claimable(ctx context.Context, q postgres.Q, now time.Time, name string, tokens []string) (token string, err error) {
	err = q.GetContext(ctx, &token, `SELECT token FROM leases WHERE token = ANY($2) AND (claimed_until IS NULL OR claimed_until <= $3)
		AND (name = $1 OR deep AND (name = '/' OR starts_with($1, name || '/'))) ORDER BY array_position($2, token) LIMIT 1`, name, tokens, now)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNone
	}
	return token, err
}

func claim(ctx context.Context, q postgres.Q, tokens []string, until *time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE leases SET claimed_until = $2 WHERE token = ANY($1)`, tokens, until)
}
