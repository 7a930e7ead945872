package jobs

import (
	"context"
	"log/slog"
	"time"

	"tabularis/internal/platform/postgres"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivertype"

	"tabularis/internal/platform/secret"
)

// Queue takes jobs into transactions.
type Queue struct {
	client *river.Client[pgx.Tx]
	keys   *secret.Keys
}

// NewQueue makes a queue that only takes jobs.
func NewQueue(db *postgres.DB, keys *secret.Keys) (*Queue, error) {
	client, err := river.NewClient(riverpgxv5.New(db.Pool), &river.Config{Logger: slog.New(slog.DiscardHandler)})
	return &Queue{client, keys}, err
}

// InsertTx takes a job into a transaction. What it needs is sealed.
func (q *Queue) InsertTx(ctx context.Context, tx pgx.Tx, args river.JobArgs, opts *river.InsertOpts) error {
	sealed, err := seal(q.keys, args)
	if err == nil {
		_, err = q.client.InsertTx(ctx, tx, sealed, opts)
	}
	return err
}

// Run works until the context ends, then lets running jobs finish.
func (r *Registry) Run(ctx context.Context) error {
	client, err := river.NewClient(riverpgxv5.New(r.db.Pool), &river.Config{
		Queues: workers, Workers: r.workers, FetchCooldown: 5 * time.Millisecond, PeriodicJobs: r.periodic(),
		Logger: slog.New(slog.DiscardHandler), ErrorHandler: failures{r.log},
	})
	if err != nil {
		return err
	}
	if err := client.Start(context.WithoutCancel(ctx)); err != nil {
		return err
	}
	<-ctx.Done()
	stop, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	return client.Stop(stop)
}

// takeUp lets quick jobs that stopped with their process be done by another within minutes; the queue itself
// waits for an hour, since it knows nothing of how long a job takes.
func (r *Registry) takeUp(ctx context.Context) error {
	return postgres.Exec(ctx, r.db, `UPDATE river_job SET state = 'available', scheduled_at = now()
		WHERE state = 'running' AND kind = ANY($1::text[]) AND attempt < max_attempts AND attempted_at < now() - interval '3 minutes'`, r.quick)
}

// remove ends a job and removes its row at once: what was sent is nobody's to find.
func remove[A river.JobArgs](ctx context.Context, db *postgres.DB, job *river.Job[A]) error {
	tx, err := db.Pool.Begin(ctx)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback(context.WithoutCancel(ctx)) }()
	if _, err := river.JobCompleteTx[*riverpgxv5.Driver](ctx, tx, job); err != nil {
		return err
	}
	if _, err := tx.Exec(ctx, `DELETE FROM river_job WHERE id = $1`, job.ID); err != nil {
		return err
	}
	return tx.Commit(ctx)
}

// failures logs jobs that failed; the queue tries them again later.
type failures struct{ log *slog.Logger }

func (f failures) HandleError(_ context.Context, job *rivertype.JobRow, err error) *river.ErrorHandlerResult {
	f.log.Warn("job failed", "kind", job.Kind, "attempt", job.Attempt, "error", postgres.Loggable(err))
	return nil
}

func (f failures) HandlePanic(_ context.Context, job *rivertype.JobRow, value any, _ string) *river.ErrorHandlerResult {
	f.log.Error("job panicked", "kind", job.Kind, "value", value)
	return nil
}
