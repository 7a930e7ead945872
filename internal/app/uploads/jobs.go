package uploads

import (
	"time"

	"tabularis/internal/platform/jobs"
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("take in what has arrived whole", time.Minute, s.FinishWaiting)
	r.Every("give up uploads that stand still", time.Hour, s.Clean)
}
