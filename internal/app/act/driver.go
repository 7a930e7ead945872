package act

import (
	"context"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
)

// driverTx shows the connection on which database/sql runs a transaction as a
// pgx transaction, for the job queue. Begin opens a savepoint; the transaction
// itself is ended by whoever began it.
type driverTx struct{ conn *pgx.Conn }

func (t driverTx) Begin(ctx context.Context) (pgx.Tx, error) {
	if _, err := t.conn.Exec(ctx, "SAVEPOINT job"); err != nil {
		return nil, err
	}
	return savepoint{t}, nil
}

func (t driverTx) Commit(context.Context) error   { return pgx.ErrTxClosed }
func (t driverTx) Rollback(context.Context) error { return pgx.ErrTxClosed }
func (t driverTx) CopyFrom(ctx context.Context, table pgx.Identifier, columns []string, src pgx.CopyFromSource) (int64, error) {
	return t.conn.CopyFrom(ctx, table, columns, src)
}
func (t driverTx) SendBatch(ctx context.Context, b *pgx.Batch) pgx.BatchResults {
	return t.conn.SendBatch(ctx, b)
}
func (t driverTx) LargeObjects() pgx.LargeObjects { return pgx.LargeObjects{} }
func (t driverTx) Prepare(ctx context.Context, name, sql string) (*pgconn.StatementDescription, error) {
	return t.conn.Prepare(ctx, name, sql)
}
func (t driverTx) Exec(ctx context.Context, sql string, args ...any) (pgconn.CommandTag, error) {
	return t.conn.Exec(ctx, sql, args...)
}
func (t driverTx) Query(ctx context.Context, sql string, args ...any) (pgx.Rows, error) {
	return t.conn.Query(ctx, sql, args...)
}
func (t driverTx) QueryRow(ctx context.Context, sql string, args ...any) pgx.Row {
	return t.conn.QueryRow(ctx, sql, args...)
}
func (t driverTx) Conn() *pgx.Conn { return t.conn }

type savepoint struct{ driverTx }

func (s savepoint) Commit(ctx context.Context) error {
	_, err := s.conn.Exec(ctx, "RELEASE SAVEPOINT job")
	return err
}

func (s savepoint) Rollback(ctx context.Context) error {
	_, err := s.conn.Exec(ctx, "ROLLBACK TO SAVEPOINT job")
	return err
}
