package lease

import (
	"context"
	"errors"
	"time"

	"golang.org/x/net/webdav"
)

// System lets leases serve as the locks of a WebDAV handler, for one holder: what
// somebody holds elsewhere, checked out in the page or by another device, is locked
// here.
type System struct {
	Leases *Leases
	// Holder is who holds what is locked.
	Holder string
}

var _ webdav.LockSystem = System{}

// answerTime is how long a question about locks may take: the interface knows no
// context.
const answerTime = 10 * time.Second

func bounded() (context.Context, context.CancelFunc) {
	return context.WithTimeout(context.Background(), answerTime)
}

// Confirm claims the locks of a request, see webdav.LockSystem.
func (s System) Confirm(now time.Time, name0, name1 string, conditions ...webdav.Condition) (func(), error) {
	ctx, cancel := bounded()
	defer cancel()
	var names, tokens []string
	for _, n := range []string{name0, name1} {
		if n != "" {
			names = append(names, n)
		}
	}
	for _, c := range conditions {
		tokens = append(tokens, c.Token)
	}
	done, err := s.Leases.Claim(ctx, now, names, tokens)
	if errors.Is(err, ErrNone) {
		err = webdav.ErrConfirmationFailed
	}
	return done, err
}

// Create takes a lock.
func (s System) Create(now time.Time, d webdav.LockDetails) (string, error) {
	ctx, cancel := bounded()
	defer cancel()
	l, err := s.Leases.Take(ctx, now, Wish{Name: d.Root, Deep: !d.ZeroDepth, Holder: s.Holder, Note: d.OwnerXML, For: d.Duration})
	var held *HeldError
	if errors.As(err, &held) {
		return "", webdav.ErrLocked
	}
	return l.Token, err
}

// Refresh prolongs a lock.
func (s System) Refresh(now time.Time, token string, d time.Duration) (webdav.LockDetails, error) {
	ctx, cancel := bounded()
	defer cancel()
	l, err := s.Leases.Prolong(ctx, now, token, d)
	return webdav.LockDetails{Root: l.Name, Duration: d, OwnerXML: l.Note, ZeroDepth: !l.Deep}, spoken(err)
}

// Unlock gives a lock back.
func (s System) Unlock(now time.Time, token string) error {
	ctx, cancel := bounded()
	defer cancel()
	return spoken(s.Leases.Release(ctx, now, token))
}

// spoken is an error in WebDAV's words.
func spoken(err error) error {
	switch {
	case errors.Is(err, ErrNone):
		return webdav.ErrNoSuchLock
	case errors.Is(err, ErrBusy):
		return webdav.ErrLocked
	}
	return err
}
