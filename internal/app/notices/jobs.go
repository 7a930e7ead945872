package notices

import (
	"time"

	"tabularis/internal/platform/jobs"
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) { r.Every("forget notices", 24*time.Hour, s.Forget) }
