package postgres

import (
	"database/sql"
	"database/sql/driver"
	"errors"
	"io"
	"net"
	"strings"

	"github.com/jackc/pgx/v5/pgconn"
)

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

// Loggable is an error as it may be logged: what the database says of a statement
// repeats users' values, so that only its code and what it is about are kept.
func Loggable(err error) string {
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
