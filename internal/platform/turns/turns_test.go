package turns

import (
	"context"
	"errors"
	"sync"
	"testing"
	"testing/synctest"
	"time"

	"tabularis/core/fault"
)

var usual = Limits{All: 20, Each: 10, Patience: time.Minute}

// until waits for a condition of the queue.
func until(t *testing.T, q *Queue, condition func() bool) {
	t.Helper()
	for late := time.Now().Add(20 * time.Second); ; time.Sleep(time.Millisecond) {
		q.mu.Lock()
		ok := condition()
		q.mu.Unlock()
		if ok {
			return
		}
		if time.Now().After(late) {
			t.Fatalf("%d busy, %v, %d waiting", q.busy, q.running, len(q.waiting))
		}
	}
}

// However many places one asker wants, another one is let in meanwhile.
func TestNobodyGetsAllPlaces(t *testing.T) {
	q := New(3, usual)
	ctx, cancel := context.WithCancel(t.Context())
	var all sync.WaitGroup
	for range 12 {
		all.Go(func() {
			if q.Enter(ctx, "a busy one") == nil {
				<-ctx.Done()
				q.Leave("a busy one")
			}
		})
	}
	until(t, q, func() bool { return q.running["a busy one"] == 2 && len(q.waiting) == 10 })
	if err := q.Enter(t.Context(), "another"); err != nil {
		t.Error(err)
	}
	q.Leave("another")
	cancel()
	all.Wait()
	if q.busy != 0 || len(q.running) != 0 || len(q.waiting) != 0 {
		t.Errorf("%d busy, %v, %d waiting", q.busy, q.running, len(q.waiting))
	}
}

func TestTheQueueEnds(t *testing.T) {
	q := New(2, usual)
	if err := q.Enter(t.Context(), "somebody"); err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	var all sync.WaitGroup
	for range usual.Each {
		all.Go(func() { _ = q.Enter(ctx, "somebody") })
	}
	until(t, q, func() bool { return len(q.waiting) == usual.Each })
	if err := q.Enter(t.Context(), "somebody"); !fault.Is(err, fault.Unavailable) {
		t.Errorf("%v", err)
	}
	if err := q.Enter(t.Context(), "another"); err != nil {
		t.Errorf("another: %v", err)
	}
	cancel()
	all.Wait()
	short := New(2, Limits{All: 1, Each: 1, Patience: time.Millisecond})
	for range 2 {
		if err := short.Enter(t.Context(), "a"); err != nil && !fault.Is(err, fault.Unavailable) {
			t.Error(err)
		}
	}
	if err := short.Enter(t.Context(), "a"); !fault.Is(err, fault.Unavailable) {
		t.Errorf("after a while: %v", err)
	}
}

// Who comes first comes before those who have waited longer, also of one asker.
func TestWhoComesFirst(t *testing.T) {
	q := New(2, usual)
	for _, who := range []string{"a", "b"} {
		if err := q.Enter(t.Context(), who); err != nil {
			t.Fatal(err)
		}
	}
	order := make(chan string, 4)
	var all sync.WaitGroup
	wait := func(name, who string, enter func(context.Context, string) error, n int) {
		all.Go(func() {
			if err := enter(t.Context(), who); err != nil {
				t.Error(err)
			}
			order <- name
		})
		until(t, q, func() bool { return len(q.waiting) == n })
	}
	wait("the first of a", "a", q.Enter, 1)
	wait("a newcomer", "c", q.Enter, 2)
	wait("one who is known", "a", q.EnterFirst, 3)
	for _, want := range []string{"one who is known", "a newcomer"} {
		q.Leave(map[string]string{"one who is known": "a", "a newcomer": "b"}[want])
		if got := <-order; got != want {
			t.Errorf("%s came, want %s", got, want)
		}
	}
	q.Leave("a")
	<-order
	all.Wait()
}

func TestAnAskerWhoDidHarmGetsOnePlace(t *testing.T) {
	q := New(4, usual)
	q.Strike("somebody")
	if !q.may("somebody") {
		t.Error("none at all")
	}
	q.begin("somebody")
	if q.may("somebody") || !q.may("another") {
		t.Error("as many as before, or fewer for others")
	}
}

// Whoever waits longer than they have patience is told that there is much to do; what
// failed by itself, or ended because they went away, is told as it was.
func TestAwait(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		broken := errors.New("broken")
		after := func(d time.Duration, err error) func(context.Context) error {
			return func(ctx context.Context) error {
				select {
				case <-time.After(d):
					return err
				case <-ctx.Done():
					return ctx.Err()
				}
			}
		}
		away, leave := context.WithCancel(t.Context())
		time.AfterFunc(3*time.Second, leave)
		for _, c := range []struct {
			name string
			ctx  context.Context
			do   func(context.Context) error
			want error
			code string
		}{
			{"done in time", t.Context(), after(5*time.Second, nil), nil, ""},
			{"failed in time", t.Context(), after(5*time.Second, broken), broken, ""},
			{"too late", t.Context(), after(time.Minute, nil), nil, "busy"},
			{"gone meanwhile", away, after(time.Minute, nil), context.Canceled, ""},
		} {
			began := time.Now()
			err := Await(c.ctx, 40*time.Second, c.do)
			if c.code == "" && !errors.Is(err, c.want) || c.code != "" && (err == nil || fault.Of(err).Code != c.code) {
				t.Errorf("%s: %v", c.name, err)
			}
			if took := time.Since(began); took > 40*time.Second {
				t.Errorf("%s: took %s", c.name, took)
			}
		}
	})
}
