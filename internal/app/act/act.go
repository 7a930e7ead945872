// Package act runs the use cases' changes: one act is one transaction that
// holds the change, the events that tell of it, and the jobs that follow.
package act

import (
	"context"
	"errors"
	"fmt"
	"net/netip"
	"time"

	"tabularis/core/events"
	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/riverqueue/river"
)

// Clock tells the time. Demo and tests pass their own.
type Clock func() time.Time

// Actor is who acts, and from where. Person is nil for somebody unknown.
type Actor struct {
	Person  *accounts.Person
	Network string
	Agent   string
	// NeedsFactor says that the person has to set up a second factor first.
	NeedsFactor bool
	// Language is that of the page which asks: "en" or "de".
	Language string
	// Route is the name of the route that acts, with the rights of the person.
	Route string
}

// From is the network by which tries are counted: of an IPv6 address the part that a
// single customer holds (RFC 6177).
func (a Actor) From() string {
	ip, err := netip.ParseAddr(a.Network)
	if err != nil || !ip.Is6() || ip.Is4In6() {
		return a.Network
	}
	return netip.PrefixFrom(ip, 64).Masked().String()
}

type actorKey struct{}

// As returns a context in which the actor acts.
func As(ctx context.Context, a Actor) context.Context { return context.WithValue(ctx, actorKey{}, a) }

// Who returns the actor of a context.
func Who(ctx context.Context) Actor {
	a, _ := ctx.Value(actorKey{}).(Actor)
	return a
}

// Jobs takes jobs into a transaction.
type Jobs interface {
	InsertTx(ctx context.Context, tx pgx.Tx, args river.JobArgs, opts *river.InsertOpts) error
}

// Runner runs acts.
type Runner struct {
	DB    *postgres.DB
	Clock Clock
	Jobs  Jobs
	// Heed is told of every event within its act; it is set when the server is put together.
	Heed func(ctx context.Context, tx *Tx, e events.Event) error
}

// Now is the present moment in UTC, to the microsecond that the database keeps.
func (r *Runner) Now() time.Time { return r.Clock().UTC().Truncate(time.Microsecond) }

// Tx is the transaction of one act.
type Tx struct {
	*sqlx.Tx
	Now    time.Time
	Actor  Actor
	driver *pgx.Conn
	jobs   Jobs
	heed   func(ctx context.Context, tx *Tx, e events.Event) error
	kept   map[any]any
}

// Keep holds something that was read in the act for the rest of it.
func (tx *Tx) Keep(key, value any) {
	if tx.kept == nil {
		tx.kept = map[any]any{}
	}
	tx.kept[key] = value
}

// Kept returns what Keep holds, or nil.
func (tx *Tx) Kept(key any) any { return tx.kept[key] }

// attempts is how often an act is run when the database asks to try again.
const attempts = 4

// Do runs an act. Whatever fn returns an error for has not happened. fn may run
// more than once and must have no effect outside the transaction.
func (r *Runner) Do(ctx context.Context, fn func(tx *Tx) error) error {
	if tx, joined := ctx.Value(txKey{}).(*Tx); joined {
		return fn(tx)
	}
	for try := 1; ; try++ {
		err := r.once(ctx, fn)
		if err == nil || try == attempts || !postgres.Transient(err) {
			return err
		}
	}
}

type txKey struct{}

// Within returns a context in which acts are a part of this one: what they do happens with it or not at
// all, and by whoever acts here.
func Within(ctx context.Context, tx *Tx) context.Context {
	return context.WithValue(As(ctx, tx.Actor), txKey{}, tx)
}

func (r *Runner) once(ctx context.Context, fn func(tx *Tx) error) error {
	select {
	case r.DB.Acts <- struct{}{}:
		defer func() { <-r.DB.Acts }()
	case <-ctx.Done():
		return fmt.Errorf("waiting for a turn: %w", ctx.Err())
	}
	conn, err := r.DB.Connx(ctx)
	if err != nil {
		return fmt.Errorf("taking a connection: %w", err)
	}
	defer conn.Close()
	tx := &Tx{Now: r.Now(), Actor: Who(ctx), jobs: r.Jobs, heed: r.Heed}
	err = conn.Raw(func(driver any) error {
		tx.driver = driver.(*stdlib.Conn).Conn()
		return nil
	})
	if err != nil {
		return fmt.Errorf("reaching the driver: %w", err)
	}
	if tx.Tx, err = conn.BeginTxx(ctx, nil); err != nil {
		return fmt.Errorf("beginning: %w", err)
	}
	defer tx.Rollback()
	if err := fn(tx); err != nil {
		return err
	}
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("committing: %w", err)
	}
	return nil
}

// Event is what an act tells of itself; who, when and from where are added.
type Event struct {
	What events.Said
	// By is who or what did it, where that is not the acting person.
	By events.Actor
	// Dossier is nil for what concerns the practice.
	Dossier uuid.UUID
	Item    *uuid.UUID
	Version int
	Link    *uuid.UUID
}

// Record appends the event. It comes last in an act: it takes the dossier's row.
func (tx *Tx) Record(ctx context.Context, e Event) error {
	kind := e.What.Kind()
	if kind.Name == "" {
		return errors.New("recording an event that says nothing")
	}
	row := events.Event{At: tx.Now, Kind: kind.Name, Outside: kind.Outside, ItemID: e.Item, LinkID: e.Link, Network: tx.Actor.Network, Agent: tx.Actor.Agent, Data: e.What.Data(), ActorKind: e.By.Kind}
	switch me := tx.Actor.Person; {
	case e.By.Kind != "":
		row.PersonID = e.By.PersonID
	case me != nil && tx.Actor.Route != "":
		// Whose rights counted stands with the route; it was not them who did it.
		row.ActorKind, row.By, row.Agent = events.ByRoute, tx.Actor.Route, tx.Actor.Route
	case me != nil:
		row.ActorKind, row.PersonID, row.By = events.ByPerson, &me.ID, me.Name
	default:
		row.ActorKind = events.BySystem
	}
	if e.Dossier != uuid.Nil {
		row.DossierID = &e.Dossier
	}
	if e.Version > 0 {
		row.Version = &e.Version
	}
	var err error
	if row.ID, err = AddEvent(ctx, tx, row); err != nil {
		return fmt.Errorf("recording %s: %w", kind.Name, err)
	}
	if tx.heed == nil || e.Item == nil {
		return nil
	}
	return tx.heed(ctx, tx, row)
}

// Enqueue lets a job follow the act. It runs once the act is committed.
func (tx *Tx) Enqueue(ctx context.Context, args river.JobArgs) error {
	if err := tx.jobs.InsertTx(ctx, driverTx{tx.driver}, args, nil); err != nil {
		return fmt.Errorf("enqueuing %s: %w", args.Kind(), err)
	}
	return nil
}

// Send lets a letter follow the act.
func (tx *Tx) Send(ctx context.Context, m letters.Mail) error {
	job, err := m.Job()
	if err != nil {
		return err
	}
	return tx.Enqueue(ctx, job)
}
