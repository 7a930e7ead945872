package jobs

import (
	"context"
	"fmt"
	"log/slog"
	"time"

	"github.com/riverqueue/river"

	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
)

// Registry holds the workers and duties of all capabilities.
type Registry struct {
	db      *postgres.DB
	keys    *secret.Keys
	workers *river.Workers
	duties  map[string]duty
	log     *slog.Logger
	// quick are the kinds of jobs that take a minute at most.
	quick []string
}

// duty is something that is done again and again.
type duty struct {
	every time.Duration
	do    func(ctx context.Context) error
}

// NewRegistry makes an empty registry.
func NewRegistry(db *postgres.DB, keys *secret.Keys, log *slog.Logger) *Registry {
	r := &Registry{db: db, keys: keys, workers: river.NewWorkers(), duties: map[string]duty{}, log: log}
	r.Every("take up what was cut off", time.Minute, r.takeUp)
	river.AddWorker(r.workers, river.WorkFunc(r.attend))
	river.AddWorker(r.workers, river.WorkFunc(func(context.Context, *river.Job[former]) error { return nil }))
	return r
}

// Handle registers who does the jobs of a kind. A job whose error is returned is
// tried again later. Where forget is true nothing of it stays in the database once it
// is done: what was sent is nobody's to find.
func Handle[A river.JobArgs](r *Registry, forget bool, do func(ctx context.Context, args A) error) {
	var args A
	if _, ok := any(args).(patient); !ok {
		r.quick = append(r.quick, args.Kind())
	}
	river.AddWorker(r.workers, &worker[A]{do: func(ctx context.Context, job *river.Job[sealed[A]]) error {
		args, err := job.Args.open(r.keys)
		if err == nil {
			err = do(ctx, args)
		}
		if err != nil || !forget {
			return err
		}
		return remove(ctx, r.db, job)
	}})
}

// patient are the arguments of jobs that may take longer than a minute.
type patient interface{ Patience() time.Duration }

// worker does the jobs of a kind.
type worker[A river.JobArgs] struct {
	river.WorkerDefaults[sealed[A]]
	do func(ctx context.Context, job *river.Job[sealed[A]]) error
}

// Work does a job.
func (w *worker[A]) Work(ctx context.Context, job *river.Job[sealed[A]]) error { return w.do(ctx, job) }

// Timeout is how long a job may take; 0 is the usual minute.
func (w *worker[A]) Timeout(*river.Job[sealed[A]]) time.Duration {
	var args A
	if p, ok := any(args).(patient); ok {
		return p.Patience()
	}
	return 0
}

// Every registers a duty under a name of its own, which one of the processes does in
// each period. One that fails is logged, waits for its next period, and keeps no
// other from its own.
func (r *Registry) Every(name string, period time.Duration, do func(ctx context.Context) error) {
	if _, twice := r.duties[name]; twice {
		panic("two duties are named " + name)
	}
	r.duties[name] = duty{period, do}
}

// Do does a duty now: for tests, and for whoever cannot wait.
func (r *Registry) Do(ctx context.Context, name string) error {
	d, ok := r.duties[name]
	if !ok {
		return fmt.Errorf("there is no duty %q", name)
	}
	return d.do(ctx)
}

// Names are the names of all duties.
func (r *Registry) Names() (names []string) {
	for name := range r.duties {
		names = append(names, name)
	}
	return names
}

// due is a duty whose time has come.
type due struct {
	Name string `json:"name"`
}

// Kind names the job.
func (due) Kind() string { return "duty" }

// former is the one job for all duties that there was before each had its own.
type former struct{}

// Kind names the job.
func (former) Kind() string { return "clean" }

// attend does a duty. A failure is not tried again before its time.
func (r *Registry) attend(ctx context.Context, job *river.Job[due]) error {
	d, ok := r.duties[job.Args.Name]
	if !ok {
		// A process of another version knew it.
		return nil
	}
	if err := d.do(ctx); err != nil {
		r.log.Warn("a duty failed", "duty", job.Args.Name, "error", postgres.Loggable(err))
	}
	return nil
}

// periodic are the duties as the queue takes them: once a period, by whichever
// process leads, and one at a time.
func (r *Registry) periodic() (all []*river.PeriodicJob) {
	for name, d := range r.duties {
		all = append(all, river.NewPeriodicJob(river.PeriodicInterval(d.every), func() (river.JobArgs, *river.InsertOpts) {
			return due{name}, &river.InsertOpts{Queue: Duties, MaxAttempts: 1, UniqueOpts: river.UniqueOpts{ByArgs: true, ByPeriod: d.every}}
		}, nil))
	}
	return all
}
