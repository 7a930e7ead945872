package lease

import (
	"context"
	"fmt"
	"hash/fnv"
	"sync"
	"time"

	"tabularis/internal/platform/postgres"

	"github.com/jackc/pgx/v5"
)

// ReleaseChannel carries the wish that whoever holds something lets it go.
const ReleaseChannel = "tabularis_release"

// Locks lets one request at a time work on something by its name, over all server
// processes: PostgreSQL's advisory locks, all held by one connection, and a
// table of our own for requests of this process. When a process dies its
// connection ends, and with it its locks.
type Locks struct {
	db   *postgres.DB
	mu   sync.Mutex
	held map[string]*held
	conn *pgx.Conn
	// turn lets one statement at a time run on the connection.
	turn chan struct{}
}

type held struct {
	release func()
	gone    chan struct{}
}

// ask asks the holder to let go, while the table is locked. Once unlocking has
// begun there is nobody to ask: the holder's connection may serve its next
// request already, which must not be broken off.
func (h *held) ask() {
	if h.release != nil {
		h.release()
	}
}

// NewLocks makes a table of locks; the connection is made with the first.
func NewLocks(db *postgres.DB) *Locks {
	return &Locks{db: db, held: map[string]*held{}, turn: make(chan struct{}, 1)}
}

// retry is how often a lock that another process holds is asked for again.
const retry = 50 * time.Millisecond

// patience is how long a statement about a lock may take.
const patience = 10 * time.Second

// Lock waits until it is free or the context ends. release is called
// when somebody else wants it.
func (l *Locks) Lock(ctx context.Context, id string, release func()) error {
	mine := &held{release: release, gone: make(chan struct{})}
	for {
		l.mu.Lock()
		other, taken := l.held[id]
		if !taken {
			l.held[id] = mine
			l.mu.Unlock()
			break
		}
		other.ask()
		l.mu.Unlock()
		select {
		case <-other.gone:
		case <-ctx.Done():
			return ctx.Err()
		}
	}
	for {
		got, err := l.try(ctx, id)
		if got {
			return nil
		}
		if err == nil {
			select {
			case <-ctx.Done():
				err = ctx.Err()
			case <-time.After(retry):
			}
		}
		if err != nil {
			l.forget(id, mine)
			return err
		}
	}
}

// Unlock lets it go.
func (l *Locks) Unlock(id string) error {
	l.mu.Lock()
	mine := l.held[id]
	if mine == nil {
		l.mu.Unlock()
		return nil
	}
	mine.release = nil
	l.mu.Unlock()
	ctx, cancel := context.WithTimeout(context.Background(), patience)
	defer cancel()
	err := l.with(ctx, func(conn *pgx.Conn) error {
		_, err := conn.Exec(ctx, `SELECT pg_advisory_unlock($1)`, key(id))
		return err
	})
	l.forget(id, mine)
	return err
}

// Wanted asks the holder in this process, if it is here, to let something go.
func (l *Locks) Wanted(id string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if h := l.held[id]; h != nil {
		h.ask()
	}
}

// Close ends the connection, and with it all locks.
func (l *Locks) Close() {
	l.turn <- struct{}{}
	defer func() { <-l.turn }()
	l.drop()
}

func (l *Locks) forget(id string, h *held) {
	l.mu.Lock()
	if l.held[id] == h {
		delete(l.held, id)
	}
	l.mu.Unlock()
	close(h.gone)
}

func (l *Locks) try(ctx context.Context, id string) (got bool, err error) {
	// A statement that is broken off would cost the connection, and all locks.
	quick, cancel := context.WithTimeout(context.WithoutCancel(ctx), patience)
	defer cancel()
	ctx = quick
	err = l.with(ctx, func(conn *pgx.Conn) error {
		if err := conn.QueryRow(ctx, `SELECT pg_try_advisory_lock($1)`, key(id)).Scan(&got); err != nil || got {
			return err
		}
		_, err := conn.Exec(ctx, `SELECT pg_notify('`+ReleaseChannel+`', $1)`, id)
		return err
	})
	return got && err == nil, err
}

// with runs a statement on the connection that holds the locks. When that
// breaks, all locks are lost: their holders are asked to stop.
func (l *Locks) with(ctx context.Context, fn func(conn *pgx.Conn) error) error {
	select {
	case l.turn <- struct{}{}:
	case <-ctx.Done():
		return ctx.Err()
	}
	defer func() { <-l.turn }()
	fresh := l.conn == nil || l.conn.IsClosed()
	err := l.once(ctx, fn)
	if err != nil && !fresh {
		// It was the connection that had died meanwhile.
		err = l.once(ctx, fn)
	}
	return err
}

func (l *Locks) once(ctx context.Context, fn func(conn *pgx.Conn) error) error {
	if l.conn == nil || l.conn.IsClosed() {
		if err := l.connect(ctx); err != nil {
			return err
		}
	}
	err := fn(l.conn)
	if err != nil {
		l.drop()
	}
	return err
}

func (l *Locks) connect(ctx context.Context) error {
	c, err := l.db.Pool.Acquire(ctx)
	if err != nil {
		return fmt.Errorf("connecting for locks: %w", err)
	}
	l.conn = c.Hijack()
	return nil
}

func (l *Locks) drop() {
	if l.conn != nil {
		_ = l.conn.Close(context.Background())
		l.conn = nil
	}
	l.mu.Lock()
	defer l.mu.Unlock()
	for _, h := range l.held {
		h.ask()
	}
}

// key is the number under which PostgreSQL knows a lock.
func key(id string) int64 {
	h := fnv.New64a()
	_, _ = h.Write([]byte(id))
	return int64(h.Sum64())
}
