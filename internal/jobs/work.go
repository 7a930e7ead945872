package jobs

import (
	"context"
	"log/slog"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivertype"

	"tabularis/internal/store"
)

// Queue takes jobs into transactions.
type Queue struct{ client *river.Client[pgx.Tx] }

// NewQueue makes a queue that only takes jobs.
func NewQueue(db *store.DB) (*Queue, error) {
	client, err := river.NewClient(riverpgxv5.New(db.Pool), &river.Config{Logger: slog.New(slog.DiscardHandler)})
	return &Queue{client}, err
}

// InsertTx takes a job into a transaction.
func (q *Queue) InsertTx(ctx context.Context, tx pgx.Tx, args river.JobArgs, opts *river.InsertOpts) error {
	_, err := q.client.InsertTx(ctx, tx, args, opts)
	return err
}

// Work is what the workers call.
type Work struct {
	Send  func(ctx context.Context, m SendMail) error
	Clean func(ctx context.Context) error
	Scan  func(ctx context.Context, s Scan) error
}

// Run works until the context ends, then lets running jobs finish.
func Run(ctx context.Context, db *store.DB, w Work, log *slog.Logger) error {
	workers := river.NewWorkers()
	river.AddWorker(workers, river.WorkFunc(func(ctx context.Context, job *river.Job[SendMail]) error { return w.Send(ctx, job.Args) }))
	river.AddWorker(workers, river.WorkFunc(func(ctx context.Context, _ *river.Job[Clean]) error { return w.Clean(ctx) }))
	river.AddWorker(workers, river.WorkFunc(func(ctx context.Context, job *river.Job[Scan]) error { return w.Scan(ctx, job.Args) }))
	client, err := river.NewClient(riverpgxv5.New(db.Pool), &river.Config{
		Queues: map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: 8}}, Workers: workers, FetchCooldown: 5 * time.Millisecond,
		Logger: slog.New(slog.DiscardHandler), ErrorHandler: failures{log},
		PeriodicJobs: []*river.PeriodicJob{river.NewPeriodicJob(river.PeriodicInterval(time.Hour), func() (river.JobArgs, *river.InsertOpts) { return Clean{}, nil }, nil)},
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

// failures logs jobs that failed; the queue tries them again later.
type failures struct{ log *slog.Logger }

func (f failures) HandleError(_ context.Context, job *rivertype.JobRow, err error) *river.ErrorHandlerResult {
	f.log.Warn("job failed", "kind", job.Kind, "attempt", job.Attempt, "error", err)
	return nil
}

func (f failures) HandlePanic(_ context.Context, job *rivertype.JobRow, value any, _ string) *river.ErrorHandlerResult {
	f.log.Error("job panicked", "kind", job.Kind, "value", value)
	return nil
}
