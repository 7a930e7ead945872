package sharing

import (
	"context"
	"errors"
	"time"

	guard "tabularis/internal/app/access"

	"tabularis/internal/platform/jobs"
)

const (
	// requestsKept is how long an answered request is kept, grantsKept a grant that has
	// run out. Their events stay.
	requestsKept = 365 * 24 * time.Hour
	grantsKept   = 90 * 24 * time.Hour
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("forget ended access", 24*time.Hour, func(ctx context.Context) error {
		now := s.Acts.Now()
		return errors.Join(forgetRequests(ctx, s.Acts.DB, now.Add(-requestsKept)), guard.ForgetGrants(ctx, s.Acts.DB, now.Add(-grantsKept)))
	})
}
