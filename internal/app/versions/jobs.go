package versions

import (
	"time"

	"tabularis/internal/platform/jobs"
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("remove versions that the rules let go", 3*time.Hour, s.Thin)
}
