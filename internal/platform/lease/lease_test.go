package lease_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"golang.org/x/net/webdav"

	"tabularis/internal/platform/lease"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

func open(t *testing.T, url string) *lease.Leases {
	t.Helper()
	db, err := postgres.Open(t.Context(), url, 8)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(db.Close)
	return lease.New(db)
}

func TestWhatIsHeldIsHeldByOne(t *testing.T) {
	t.Parallel()
	url := testkit.Database(t)
	// Two processes.
	here, there := open(t, url), open(t, url)
	now, ctx := time.Now().Truncate(time.Second), t.Context()
	mine, err := here.Take(ctx, now, lease.Wish{Name: "items/17", Holder: "Luca Ferrante", For: time.Hour})
	if err != nil {
		t.Fatal(err)
	}
	var held *lease.HeldError
	if _, err := there.Take(ctx, now, lease.Wish{Name: "/items/17/", Holder: "Priya Valdane", For: time.Hour}); !errors.As(err, &held) || held.By.Holder != "Luca Ferrante" {
		t.Errorf("held: %v", err)
	}
	if _, err := there.Take(ctx, now, lease.Wish{Name: "items/18", Holder: "Priya Valdane", For: time.Hour}); err != nil {
		t.Errorf("beside it: %v", err)
	}
	if _, err := there.Prolong(ctx, now.Add(50*time.Minute), mine.Token, time.Hour); err != nil {
		t.Errorf("prolonged: %v", err)
	}
	if all, err := there.On(ctx, now.Add(90*time.Minute), "items/17"); err != nil || len(all) != 1 {
		t.Errorf("after the first hour: %v %v", all, err)
	}
	// It ends by itself, and then is another's.
	late := now.Add(2 * time.Hour)
	if _, err := there.Prolong(ctx, late, mine.Token, time.Hour); !errors.Is(err, lease.ErrNone) {
		t.Errorf("prolonged after its end: %v", err)
	}
	theirs, err := there.Take(ctx, late, lease.Wish{Name: "items/17", Holder: "Priya Valdane", For: -1})
	if err != nil {
		t.Fatal(err)
	}
	if err := here.Release(ctx, late, mine.Token); !errors.Is(err, lease.ErrNone) {
		t.Errorf("given back what is another's: %v", err)
	}
	// Without an end it stays until it is broken.
	broken, err := here.Break(ctx, late.AddDate(1, 0, 0), "items/17")
	if err != nil || len(broken) != 1 || broken[0].Holder != "Priya Valdane" {
		t.Errorf("broken: %v %v", broken, err)
	}
	if _, err := there.Prolong(ctx, late, theirs.Token, time.Hour); !errors.Is(err, lease.ErrNone) {
		t.Errorf("prolonged what was broken: %v", err)
	}
}

// Of many who want the same at once, from several processes, one gets it.
func TestManyWantTheSame(t *testing.T) {
	t.Parallel()
	url := testkit.Database(t)
	processes := []*lease.Leases{open(t, url), open(t, url)}
	now := time.Now()
	var got atomic.Int64
	var all sync.WaitGroup
	for i := range 24 {
		all.Go(func() {
			_, err := processes[i%2].Take(t.Context(), now, lease.Wish{Name: "items/17", Holder: fmt.Sprint(i), For: time.Hour})
			var held *lease.HeldError
			switch {
			case err == nil:
				got.Add(1)
			case !errors.As(err, &held):
				t.Error(err)
			}
		})
	}
	all.Wait()
	if got.Load() != 1 {
		t.Errorf("%d got it", got.Load())
	}
}

// Whatever is done in whatever order, leases answer as the locks that WebDAV's own
// package keeps in memory.
func TestLeasesAreLocksOfWebDAV(t *testing.T) {
	t.Parallel()
	ours, reference := webdav.LockSystem(lease.System{Leases: open(t, testkit.Database(t)), Holder: "Luca Ferrante"}), webdav.NewMemLS()
	random := rand.New(rand.NewPCG(17, 4))
	names := []string{"/", "/a", "/a/b", "/a/b/c", "/a/d", "/ab", "/x", "/x/y"}
	name := func() string { return names[random.IntN(len(names))] }
	now := time.Date(2026, 11, 28, 9, 0, 0, 0, time.UTC)
	type pair struct{ ours, reference string }
	tokens := []pair{{"none", "none"}}
	var claims [][2]func()
	token := func() pair { return tokens[random.IntN(len(tokens))] }
	for step := range 1500 {
		now = now.Add(time.Duration(random.IntN(20)) * time.Second)
		var a, b error
		what := ""
		switch random.IntN(6) {
		case 0, 1:
			d := webdav.LockDetails{Root: name(), Duration: []time.Duration{-1, 30 * time.Second, 2 * time.Minute}[random.IntN(3)], ZeroDepth: random.IntN(2) == 0}
			what = fmt.Sprintf("create %+v", d)
			var p pair
			p.ours, a = ours.Create(now, d)
			if p.reference, b = reference.Create(now, d); a == nil && b == nil {
				tokens = append(tokens, p)
			}
		case 2:
			p, d := token(), []time.Duration{-1, 45 * time.Second}[random.IntN(2)]
			what = fmt.Sprintf("refresh for %s", d)
			var x, y webdav.LockDetails
			x, a = ours.Refresh(now, p.ours, d)
			y, b = reference.Refresh(now, p.reference, d)
			if a == nil && b == nil && x != y {
				t.Fatalf("step %d, %s: %+v, want %+v", step, what, x, y)
			}
		case 3:
			p := token()
			what = "unlock"
			a, b = ours.Unlock(now, p.ours), reference.Unlock(now, p.reference)
		case 4:
			n0, n1, p, q := name(), []string{"", name()}[random.IntN(2)], token(), token()
			what = fmt.Sprintf("confirm %s %s", n0, n1)
			var done [2]func()
			done[0], a = ours.Confirm(now, n0, n1, webdav.Condition{Token: p.ours}, webdav.Condition{Token: q.ours})
			if done[1], b = reference.Confirm(now, n0, n1, webdav.Condition{Token: p.reference}, webdav.Condition{Token: q.reference}); a == nil && b == nil {
				claims = append(claims, done)
			}
		default:
			// Requests come to their end soon, long before a claim would by itself.
			what = "requests end"
			for _, done := range claims {
				done[0]()
				done[1]()
			}
			claims = nil
		}
		if a != b {
			t.Fatalf("step %d, %s: %v, want %v", step, what, a, b)
		}
		if len(claims) > 0 && random.IntN(3) == 0 {
			claims[0][0]()
			claims[0][1]()
			claims = claims[1:]
		}
	}
	if len(tokens) < 100 {
		t.Errorf("only %d locks were made", len(tokens))
	}
}
