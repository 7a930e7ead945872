package deletion

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/platform/jobs"
)

// dropContent drops stored content that nothing needs any more.
type dropContent struct {
	Places []uuid.UUID `json:"places"`
}

// Kind names the job.
func (dropContent) Kind() string { return "drop-content" }

// Register registers the work, and what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, func(ctx context.Context, job dropContent) error {
		for _, place := range job.Places {
			if err := s.Content.Drop(ctx, place); err != nil {
				return err
			}
		}
		return nil
	})
	r.Every("destroy what was kept long enough", 10*time.Minute, s.DestroyDue)
}
