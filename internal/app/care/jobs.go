package care

import (
	"context"
	"time"

	"tabularis/internal/platform/jobs"
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("remove content that nothing refers to", time.Hour, func(ctx context.Context) error {
		removed, err := s.Clean(ctx)
		if removed > 0 {
			s.Log.Info("removed content that nothing refers to", "places", removed)
		}
		return err
	})
}
