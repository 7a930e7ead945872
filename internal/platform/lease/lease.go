// Package lease says what is held, by whom and until when, over all server
// processes.
//
// A Lock is held by a request for as long as it works and its process lives, and let
// go when somebody else wants it. A Lease is held by somebody until a moment: it is
// prolonged, given back or broken, and outlives requests and processes. Leases can
// serve as the locks of WebDAV (RFC 4918, section 6), see System.
package lease

import (
	"context"
	"errors"
	"fmt"
	"path"
	"time"

	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
)

// ErrNone says that there is no such lease, or no longer.
var ErrNone = errors.New("there is no such lease")

// ErrBusy says that a lease is claimed by a request just now.
var ErrBusy = errors.New("the lease is in use")

// HeldError says that something is held already.
type HeldError struct{ By Lease }

func (e *HeldError) Error() string { return fmt.Sprintf("%s is held by %s", e.By.Name, e.By.Holder) }

// Lease is what somebody holds.
type Lease struct {
	// Token is known to whoever holds it, and lets them prolong it and give it back.
	Token string `db:"token"`
	// Name is what is held, a way like /items/…; Deep leases hold what lies below, too.
	Name string `db:"name"`
	Deep bool   `db:"deep"`
	// Holder is who holds it, and Note what they say of it.
	Holder string `db:"holder"`
	Note   string `db:"note"`
	// Until is when it ends by itself; nil means when it is given back or broken.
	Until *time.Time `db:"until"`
}

// Wish is what somebody wants to hold. A negative time has no end.
type Wish struct {
	Name   string
	Deep   bool
	Holder string
	Note   string
	For    time.Duration
}

// Leases are those of a database.
type Leases struct{ db *postgres.DB }

// New returns the leases of a database.
func New(db *postgres.DB) *Leases { return &Leases{db} }

// sound is a name in its one form: with a slash before it and none behind.
func sound(name string) string { return path.Clean("/" + name) }

func end(now time.Time, d time.Duration) *time.Time {
	if d < 0 {
		return nil
	}
	t := now.Add(d)
	return &t
}

// Take takes a lease. Refused (*HeldError) is what somebody holds already: itself,
// something around it with what lies below, or, where it is to be deep, something in
// it. Who holds it already prolongs it instead.
func (l *Leases) Take(ctx context.Context, now time.Time, w Wish) (Lease, error) {
	var made Lease
	return made, l.alone(ctx, now, func(q postgres.Q) (err error) {
		made, err = take(ctx, q, now, w)
		return err
	})
}

func take(ctx context.Context, q postgres.Q, now time.Time, w Wish) (Lease, error) {
	made := Lease{Token: secret.Token(), Name: sound(w.Name), Deep: w.Deep, Holder: w.Holder, Note: w.Note, Until: end(now, w.For)}
	by, err := inTheWay(ctx, q, made.Name, w.Deep)
	if err != nil {
		return made, err
	}
	if by != nil {
		return made, &HeldError{*by}
	}
	return made, put(ctx, q, made)
}

// TakeIn is Take within somebody else's transaction, with which the lease comes and goes.
func TakeIn(ctx context.Context, tx postgres.Q, now time.Time, w Wish) (Lease, error) {
	if err := settle(ctx, tx, now); err != nil {
		return Lease{}, err
	}
	return take(ctx, tx, now, w)
}

// DropIn ends a lease within somebody else's transaction, whether or not a request uses
// it.
func DropIn(ctx context.Context, tx postgres.Q, now time.Time, token string) error {
	if err := settle(ctx, tx, now); err != nil {
		return err
	}
	return drop(ctx, tx, token)
}

// Prolong lets a lease last for another while from now on.
func (l *Leases) Prolong(ctx context.Context, now time.Time, token string, d time.Duration) (Lease, error) {
	var got Lease
	return got, l.alone(ctx, now, func(q postgres.Q) (err error) {
		if got, err = free(ctx, q, now, token); err != nil {
			return err
		}
		got.Until = end(now, d)
		return prolong(ctx, q, got)
	})
}

// Release gives a lease back.
func (l *Leases) Release(ctx context.Context, now time.Time, token string) error {
	return l.alone(ctx, now, func(q postgres.Q) error {
		if _, err := free(ctx, q, now, token); err != nil {
			return err
		}
		return drop(ctx, q, token)
	})
}

// Break ends whatever is held on a name, whoever holds it, and returns it, so that
// they can be told.
func (l *Leases) Break(ctx context.Context, now time.Time, name string) ([]Lease, error) {
	var broken []Lease
	return broken, l.alone(ctx, now, func(q postgres.Q) (err error) {
		if broken, err = on(ctx, q, sound(name)); err != nil {
			return err
		}
		for _, b := range broken {
			if err := drop(ctx, q, b.Token); err != nil {
				return err
			}
		}
		return nil
	})
}

// On returns what is held on a name, or on something around it with what lies below.
func (l *Leases) On(ctx context.Context, now time.Time, name string) ([]Lease, error) {
	var all []Lease
	return all, l.alone(ctx, now, func(q postgres.Q) (err error) {
		all, err = around(ctx, q, sound(name))
		return err
	})
}

// claimed is how long a claim lasts whose request never ends it.
const claimed = 2 * time.Minute

// Claim takes leases into use for the length of a request: until done is called, or
// for a while where it never is, nobody else claims, prolongs or ends them. Each name
// has to be held by one of the tokens; otherwise it is ErrNone.
func (l *Leases) Claim(ctx context.Context, now time.Time, names, tokens []string) (done func(), err error) {
	var taken []string
	err = l.alone(ctx, now, func(q postgres.Q) error {
		taken = nil
		for _, name := range names {
			token, err := claimable(ctx, q, now, sound(name), tokens)
			if err != nil {
				return err
			}
			taken = append(taken, token)
		}
		return claim(ctx, q, taken, end(now, claimed))
	})
	if err != nil {
		return nil, err
	}
	return func() { _ = claim(context.WithoutCancel(ctx), l.db, taken, nil) }, nil
}
