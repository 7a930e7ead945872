package practice

import (
	"time"

	"tabularis/internal/platform/jobs"
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("remove the practice", time.Hour, s.RemoveWhenDue)
}
