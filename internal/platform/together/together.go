// Package together lets many who ask for the same at once share one asking, without
// anybody being told what was true before they asked.
package together

import "sync"

// Group shares askings by what is asked for. Its zero value is ready.
type Group[T any] struct {
	mu      sync.Mutex
	running map[string]*asking[T]
}

type asking[T any] struct {
	done   chan struct{}
	answer T
	err    error
	// next is for those who came after this one had begun; nil while nobody has.
	next *asking[T]
}

func begin[T any]() *asking[T] { return &asking[T]{done: make(chan struct{})} }

// Do returns what ask answers. Where somebody asks for the same already, it waits
// for the asking after that one, which begins later than Do was called: an answer is
// never older than the question. ask must not panic, nor end because one of those who
// wait gives up.
func (g *Group[T]) Do(what string, ask func() (T, error)) (T, error) {
	g.mu.Lock()
	now := g.running[what]
	if now == nil {
		now = begin[T]()
		if g.running == nil {
			g.running = map[string]*asking[T]{}
		}
		g.running[what] = now
		g.mu.Unlock()
		g.run(what, now, ask)
		return now.answer, now.err
	}
	if now.next == nil {
		now.next = begin[T]()
	}
	mine := now.next
	g.mu.Unlock()
	<-mine.done
	return mine.answer, mine.err
}

// run asks, and lets those ask who came meanwhile.
func (g *Group[T]) run(what string, a *asking[T], ask func() (T, error)) {
	a.answer, a.err = ask()
	close(a.done)
	g.mu.Lock()
	defer g.mu.Unlock()
	if a.next == nil {
		delete(g.running, what)
		return
	}
	g.running[what] = a.next
	go g.run(what, a.next, ask)
}
