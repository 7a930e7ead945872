package deletion

import (
	"context"
	"time"

	"tabularis/internal/platform/jobs"
)

// Register registers the work, and what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, func(ctx context.Context, job jobs.DropContent) error {
		for _, place := range job.Places {
			if err := s.Content.Drop(ctx, place); err != nil {
				return err
			}
		}
		return nil
	})
	r.Every("destroy what was kept long enough", 10*time.Minute, s.DestroyDue)
}
