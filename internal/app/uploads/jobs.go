package uploads

import (
	"time"

	"tabularis/internal/platform/jobs"
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("give up uploads that stand still", time.Hour, s.Clean)
}
