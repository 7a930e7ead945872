package sessions

import (
	"context"
	"errors"
	"time"

	"tabularis/internal/platform/jobs"
)

// entriesKept is how long one-time links and codes stay after their end, so that what
// went wrong can be told.
const entriesKept = 30 * 24 * time.Hour

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("forget ended sessions", time.Hour, func(ctx context.Context) error {
		now := s.Acts.Now()
		return errors.Join(forgetSessions(ctx, s.Acts.DB, now), forgetEntries(ctx, s.Acts.DB, now.Add(-entriesKept)))
	})
}
