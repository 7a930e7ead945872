package chunk

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/riverqueue/river"

	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/jobs"
)

// weighVersions looks at what further versions of a document changed.
type weighVersions struct {
	Document uuid.UUID `json:"document"`
}

// Kind names the job.
func (weighVersions) Kind() string { return "weigh-versions" }

// InsertOpts says in which queue it waits.
func (weighVersions) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: jobs.Storing} }

// Follow has a document looked at that got a further version.
func Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	if c.Operation != items.Revising || c.Version.Size < least {
		return nil
	}
	return tx.Enqueue(ctx, weighVersions{c.Item.ID})
}

// Register registers the work, and what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, func(ctx context.Context, job weighVersions) error { return s.Weigh(ctx, job.Document) })
	r.Every("let go of what is left of content", 10*time.Minute, s.Shrink)
	r.Every("drop places that are left", time.Hour, s.DropLeft)
}
