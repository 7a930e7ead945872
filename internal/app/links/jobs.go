package links

import (
	"time"

	"tabularis/internal/platform/jobs"
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("remind of missing papers", time.Hour, s.RemindAll)
}
