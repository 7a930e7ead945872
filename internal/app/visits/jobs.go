package visits

import (
	"context"
	"errors"
	"time"

	"tabularis/internal/platform/jobs"
)

// visitsKept is how long a visit is kept by which nothing came in: its events say who
// it was as long as they are kept.
const visitsKept = 2 * 365 * 24 * time.Hour

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("tell senders of the day", time.Hour, s.TellDays)
	r.Every("forget old visits", 24*time.Hour, s.forget)
}

// forget removes visits that nothing refers to any more, and codes that have run out.
func (s *Service) forget(ctx context.Context) error {
	now := s.Acts.Now()
	return errors.Join(forgetCodes(ctx, s.Acts.DB, now.Add(-codesKept)), forgetVisits(ctx, s.Acts.DB, now.Add(-visitsKept)))
}

// codesKept is how long a code stays that was sent and not used: long past its end.
const codesKept = 24 * time.Hour
