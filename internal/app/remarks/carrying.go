package remarks

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/remarks"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/preview"

	"github.com/riverqueue/river"
)

// carryRemarks looks for the places of a document's remarks in the version that counts.
type carryRemarks struct {
	Document uuid.UUID `json:"document"`
}

// Kind names the job.
func (carryRemarks) Kind() string { return "carry-remarks" }

// InsertOpts says in which queue it waits.
func (carryRemarks) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: jobs.Storing} }

// Follow lets remarks come along to a further version.
func Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	if c.Operation != items.Revising || c.Item.Kind != items.Document {
		return nil
	}
	some, err := placed(ctx, tx, c.Item.ID, c.Version.Number)
	if err != nil || len(some) == 0 {
		return err
	}
	return tx.Enqueue(ctx, carryRemarks{c.Item.ID})
}

// carry finds the places again, as far as they are there; the others stay of their version.
func (s *Service) carry(ctx context.Context, document uuid.UUID) error {
	item, err := tree.ItemByID(ctx, s.Acts.DB, document)
	if err != nil {
		if fault.Is(err, fault.NotFound) {
			err = nil
		}
		return err
	}
	all, err := placed(ctx, s.Acts.DB, document, item.Version)
	if err != nil || len(all) == 0 {
		return err
	}
	pages, err := s.pages(ctx, item)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		for _, r := range all {
			var p remarks.Place
			if err := json.Unmarshal(r.Place, &p); err != nil {
				return err
			}
			to, found := remarks.Carry(p, pages)
			raw, err := json.Marshal(to)
			if err != nil {
				return err
			}
			if !found {
				raw = r.Place
			}
			if err := putPlace(ctx, tx, r.ID, raw, item.Version, found); err != nil {
				return err
			}
		}
		return tellPages(ctx, tx, all[0])
	})
}

// pages are the texts of a document's pages; of a text without pages it is one.
func (s *Service) pages(ctx context.Context, i items.Item) ([]string, error) {
	if !preview.HasText(i.MediaType, i.Size) {
		return nil, nil
	}
	v := items.Version{ItemID: i.ID, Number: i.Version, SHA256: i.SHA256, Size: i.Size, MediaType: i.MediaType}
	text, readable, err := s.Contents.Reader.Text(ctx, s.Contents.Source(ctx, v, i.ID.String()))
	if err != nil || !readable {
		return nil, err
	}
	return text.Parts, nil
}
