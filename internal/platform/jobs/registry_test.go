package jobs_test

import (
	"context"
	"errors"
	"log/slog"
	"slices"
	"sync/atomic"
	"testing"
	"time"

	"github.com/riverqueue/river"

	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
	"tabularis/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// quickJob and slowJob are jobs of the two kinds that there are: of a minute, and of longer.
type quickJob struct{ N int }

func (quickJob) Kind() string { return "quick" }

type slowJob struct{ N int }

func (slowJob) Kind() string            { return "slow" }
func (slowJob) Patience() time.Duration { return time.Hour }

// A quick job whose process is gone is done by another soon; one that may take longer, or has been tried
// often enough, is not.
func TestWhatWasCutOffIsTakenUp(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	db, err := postgres.Open(ctx, testkit.Database(t), 8)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	keys, err := secret.NewKeys(secret.Random(32))
	if err != nil {
		t.Fatal(err)
	}
	r := jobs.NewRegistry(db, keys, slog.New(slog.DiscardHandler))
	jobs.Handle(r, false, func(context.Context, quickJob) error { return nil })
	jobs.Handle(r, false, func(context.Context, slowJob) error { return nil })
	queue, err := jobs.NewQueue(db, keys)
	if err != nil {
		t.Fatal(err)
	}
	tx, err := db.Pool.Begin(ctx)
	if err != nil {
		t.Fatal(err)
	}
	for _, job := range []river.JobArgs{quickJob{1}, quickJob{2}, quickJob{3}, slowJob{4}} {
		if err := queue.InsertTx(ctx, tx, job, nil); err != nil {
			t.Fatal(err)
		}
	}
	if err := tx.Commit(ctx); err != nil {
		t.Fatal(err)
	}
	// All are under way since a while, the second since just now, and the third for the last time.
	if _, err := db.ExecContext(ctx, `UPDATE river_job SET state = 'running', attempted_at = now() - CASE WHEN n = 2 THEN interval '10 seconds' ELSE interval '10 minutes' END, attempt = CASE WHEN n = 3 THEN max_attempts ELSE 1 END
		FROM (SELECT id, row_number() OVER (ORDER BY id) AS n FROM river_job) x WHERE x.id = river_job.id`); err != nil {
		t.Fatal(err)
	}
	if err := r.Do(ctx, "take up what was cut off"); err != nil {
		t.Fatal(err)
	}
	var states []string
	if err := db.SelectContext(ctx, &states, `SELECT state FROM river_job ORDER BY id`); err != nil || !slices.Equal(states, []string{"available", "running", "running", "running"}) {
		t.Errorf("%v, %v", states, err)
	}
}

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
