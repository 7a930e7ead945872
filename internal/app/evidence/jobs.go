package evidence

import (
	"context"
	"time"

	"github.com/riverqueue/river"

	"tabularis/internal/platform/jobs"
)

// checkLog compares the log with what happened.
type checkLog struct{}

// Kind names the job.
func (checkLog) Kind() string { return "check-log" }

// InsertOpts says in which queue it waits.
func (checkLog) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: jobs.Evidence} }

// Register registers the work, and what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, func(ctx context.Context, _ checkLog) error { return s.Check(ctx) })
	r.Every("seal what happened", time.Minute, s.SealAll)
	r.Every("compare the log with what happened", 24*time.Hour, s.Check)
	r.Every("send the checkpoint to its witnesses", 10*time.Minute, s.TellWitnesses)
}
