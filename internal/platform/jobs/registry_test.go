package jobs_test

import (
	"context"
	"errors"
	"log/slog"
	"sync/atomic"
	"testing"
	"time"

	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
	"tabularis/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// A duty that fails, and one that never comes to an end, keep no other from its own;
// and jobs go on meanwhile, each queue by itself.
func TestOneFailingDutyStopsNoOther(t *testing.T) {
	t.Parallel()
	db, err := postgres.Open(t.Context(), testkit.Database(t), 8)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	keys, err := secret.NewKeys(secret.Random(32))
	if err != nil {
		t.Fatal(err)
	}
	r := jobs.NewRegistry(db, keys, slog.New(slog.DiscardHandler))
	var failed, done, stuck atomic.Int64
	r.Every("fails", time.Second, func(context.Context) error { failed.Add(1); return errors.New("always") })
	r.Every("does its work", time.Second, func(context.Context) error { done.Add(1); return nil })
	ctx, stop := context.WithCancel(t.Context())
	r.Every("is stuck", time.Second, func(context.Context) error { stuck.Add(1); <-ctx.Done(); return ctx.Err() })
	ended := make(chan error)
	go func() { ended <- r.Run(ctx) }()
	for deadline := time.Now().Add(30 * time.Second); done.Load() < 2 || failed.Load() < 2 || stuck.Load() < 1; time.Sleep(20 * time.Millisecond) {
		if time.Now().After(deadline) {
			t.Fatalf("failed %d times, stuck %d times, done %d times", failed.Load(), stuck.Load(), done.Load())
		}
	}
	stop()
	<-ended
	if err := r.Do(t.Context(), "does its work"); err != nil {
		t.Error(err)
	}
	if err := r.Do(t.Context(), "nothing"); err == nil {
		t.Error("a duty that is not there was done")
	}
}
