// Package turns lets so much of something costly happen at once, and is fair: nobody
// gets all places, whoever has the fewest comes next, and nobody waits for ever.
package turns

import (
	"context"
	"sync"
	"time"
)

// penance is how long somebody whose content did harm gets only one place at a
// time.
const penance = 5 * time.Minute

// Limits are how many wait at most, of all and of one asker, and how long.
type Limits struct {
	All, Each int
	Patience  time.Duration
}

// Queue lets so many work at once.
type Queue struct {
	size   int
	limits Limits

	mu      sync.Mutex
	running map[string]int
	busy    int
	struck  map[string]time.Time
	waiting []*waiter
}

type waiter struct {
	asker string
	// first comes before all others.
	first bool
	turn  chan struct{}
}

// New makes a queue with at least two places.
func New(size int, l Limits) *Queue {
	return &Queue{size: max(2, size), limits: l, running: map[string]int{}, struck: map[string]time.Time{}}
}

// Strike says that what an asker brought did harm: for a while they get one place
// at a time.
func (q *Queue) Strike(asker string) {
	q.mu.Lock()
	defer q.mu.Unlock()
	now := time.Now()
	for who, until := range q.struck {
		if now.After(until) {
			delete(q.struck, who)
		}
	}
	q.struck[asker] = now.Add(penance)
}

// Enter waits for a place, which Leave gives back. It is refused when too many
// wait, or after a while.
func (q *Queue) Enter(ctx context.Context, asker string) error { return q.enter(ctx, asker, false) }

// EnterFirst is Enter for somebody who comes before the others.
func (q *Queue) EnterFirst(ctx context.Context, asker string) error { return q.enter(ctx, asker, true) }

func (q *Queue) enter(ctx context.Context, asker string, first bool) error {
	q.mu.Lock()
	if q.busy < q.size && q.may(asker) && (first || !q.behind(asker)) {
		q.begin(asker)
		q.mu.Unlock()
		return nil
	}
	own := 0
	for _, w := range q.waiting {
		if w.asker == asker {
			own++
		}
	}
	if !first && (len(q.waiting) >= q.limits.All || own >= q.limits.Each) {
		q.mu.Unlock()
		return busy()
	}
	w := &waiter{asker, first, make(chan struct{})}
	q.waiting = append(q.waiting, w)
	q.mu.Unlock()
	late := time.NewTimer(q.limits.Patience)
	defer late.Stop()
	var err error
	select {
	case <-w.turn:
		return nil
	case <-ctx.Done():
		err = ctx.Err()
	case <-late.C:
		err = busy()
	}
	q.mu.Lock()
	defer q.mu.Unlock()
	for i, other := range q.waiting {
		if other == w {
			q.waiting = append(q.waiting[:i], q.waiting[i+1:]...)
			return err
		}
	}
	// The turn came at the same moment.
	q.end(asker)
	return err
}

// Await does what somebody waits for, and answers that there is much to do where it
// is not done within the patience they have. do must heed its context.
func Await(ctx context.Context, patience time.Duration, do func(context.Context) error) error {
	bounded, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	err := do(bounded)
	if err != nil && ctx.Err() == nil && bounded.Err() != nil {
		return busy()
	}
	return err
}

func busy() error {
	return errBusy.New("there is much to do just now; try again in a moment").Later(5 * time.Second)
}

// may reports whether the asker may have one more place: one is always left to
// others.
func (q *Queue) may(asker string) bool {
	most := q.size - 1
	if until, ok := q.struck[asker]; ok && time.Now().Before(until) {
		most = 1
	}
	return q.running[asker] < most
}

// behind reports whether somebody who has no more places than the asker waits
// already.
func (q *Queue) behind(asker string) bool {
	for _, w := range q.waiting {
		if q.running[w.asker] <= q.running[asker] && q.may(w.asker) {
			return true
		}
	}
	return false
}

func (q *Queue) begin(asker string) {
	q.busy++
	q.running[asker]++
}

// Leave gives a place back.
func (q *Queue) Leave(asker string) {
	q.mu.Lock()
	defer q.mu.Unlock()
	q.end(asker)
}

// end gives the free place to whoever has the fewest, first come first served.
func (q *Queue) end(asker string) {
	q.busy--
	if q.running[asker]--; q.running[asker] == 0 {
		delete(q.running, asker)
	}
	for q.busy < q.size {
		next := -1
		for i, w := range q.waiting {
			if q.may(w.asker) && (next < 0 || q.sooner(w, q.waiting[next])) {
				next = i
			}
		}
		if next < 0 {
			return
		}
		w := q.waiting[next]
		q.waiting = append(q.waiting[:next], q.waiting[next+1:]...)
		q.begin(w.asker)
		close(w.turn)
	}
}

// sooner reports whether of two who wait one comes before the other, who came
// before.
func (q *Queue) sooner(w, other *waiter) bool {
	if w.first != other.first {
		return w.first
	}
	return q.running[w.asker] < q.running[other.asker]
}
