package sensitive

import (
	"context"

	"tabularis/internal/platform/jobs"
)

// Register registers who looks content through that has come in.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, func(ctx context.Context, j jobs.Scan) error { return s.Scan(ctx, j.Item, j.SHA256, j.MediaType) })
}
