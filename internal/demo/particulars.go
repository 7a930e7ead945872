package demo

import (
	"context"
	"time"

	"github.com/google/uuid"

	core "tabularis/core/particulars"
	"tabularis/internal/app/particulars"
)

// define lets an administrator say what is kept about documents.
func (l *loader) define(ctx context.Context) error {
	for i, d := range kept {
		d, err := l.Particulars.Define(ctx, d)
		if err != nil {
			return err
		}
		kept[i].ID = d.ID
	}
	return nil
}

// note writes what is known of a document into its particulars.
func (l *loader) note(ctx context.Context, document uuid.UUID, surveyed int, values map[string]string) error {
	var all []particulars.Setting
	for _, d := range kept {
		value := values[d.Name]
		switch {
		case d.Kind == core.Person && value != "":
			value = l.people[value].ID.String()
		case d.Kind == core.Date && surveyed > 0:
			value = l.now.AddDate(0, 0, -surveyed).Format(time.DateOnly)
		}
		if value != "" {
			all = append(all, particulars.Setting{Particular: d.ID, Value: &value})
		}
	}
	return l.Particulars.Set(ctx, []uuid.UUID{document}, all)
}
