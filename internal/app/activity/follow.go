package activity

import (
	"context"
	"time"

	"tabularis/core/events"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Told is one thing an open page is told.
type Told struct {
	// News is what happened; nil says that what the person may see has changed.
	News *act.News
}

// reader is what a signed-in person's open page is told, as it happens.
type reader struct {
	*Service
	mine *guard.View
	// left reports why the person is no longer signed in, if so.
	left func() error
	out  chan Told
}

// Follow tells the acting person of what happens where they may see it, and when that
// changes. The channel is closed when the context or, by left, their session ends, and
// when news were lost: then the page reads anew.
func (s *Service) Follow(ctx context.Context, left func() error) (<-chan Told, error) {
	// Listening begins before looking, so that nothing falls between.
	news, end := s.Hub.Subscribe()
	mine, err := s.Access.Mine(ctx, s.Acts.Now())
	if err != nil {
		end()
		return nil, err
	}
	f := &reader{Service: s, mine: mine, left: left, out: make(chan Told)}
	go func() {
		defer close(f.out)
		defer end()
		f.run(ctx, news)
	}()
	return f.out, nil
}

func (f *reader) run(ctx context.Context, news <-chan act.News) {
	ends := f.untilEnd()
	for {
		select {
		case <-ctx.Done():
			return
		case <-ends:
			// What somebody may see may end by itself.
			if f.look(ctx) != nil || !f.say(ctx, Told{}) {
				return
			}
			ends = f.untilEnd()
		case n, ok := <-news:
			if !ok || !f.pass(ctx, n) {
				return
			}
			if n.Access {
				ends = f.untilEnd()
			}
		}
	}
}

// pass tells of one piece of news, if it is theirs, and reports whether to go on.
func (f *reader) pass(ctx context.Context, n act.News) bool {
	switch {
	case n.Session:
		// With its session the page's stream ends.
		return *n.Person != f.mine.Person || f.left() == nil
	case n.Person != nil:
		return *n.Person != f.mine.Person || f.say(ctx, Told{&n})
	case n.Access:
		before := f.mine
		return f.look(ctx) == nil && (before.Same(f.mine) || f.say(ctx, Told{}))
	}
	if kind, _ := events.KindNamed(n.Kind); kind.Inside && f.mine.Guest() {
		return true
	}
	return !f.mine.Holds(n) || f.say(ctx, Told{&n})
}

func (f *reader) look(ctx context.Context) (err error) {
	f.mine, err = f.Access.Mine(ctx, f.Acts.Now())
	return err
}

func (f *reader) say(ctx context.Context, t Told) bool {
	select {
	case f.out <- t:
		return true
	case <-ctx.Done():
		return false
	}
}

// untilEnd fires when the view changes by itself, if it ever does.
func (f *reader) untilEnd() <-chan time.Time {
	if f.mine.Reading.Ends == nil {
		return nil
	}
	// A moment later the end has passed for every clock involved.
	return time.After(f.mine.Reading.Ends.Sub(f.Acts.Now()) + 10*time.Millisecond)
}
