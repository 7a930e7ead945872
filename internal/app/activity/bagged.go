package activity

import (
	"context"
	"encoding/json"
	"strconv"
	"time"

	"github.com/google/uuid"

	"tabularis/core/register"
	"tabularis/internal/platform/archive"
)

const (
	// mostOfOne is how many events of a document go into a bag, mostBagged how many of all.
	mostOfOne  = 500
	mostBagged = 20_000
)

// bagged is an event as a bag says it.
type bagged struct {
	Number   int64           `json:"number"`
	At       time.Time       `json:"at"`
	Kind     string          `json:"kind"`
	By       string          `json:"by,omitempty"`
	Outside  bool            `json:"outside,omitempty"`
	Document string          `json:"document"`
	Version  *int            `json:"version,omitempty"`
	Data     json.RawMessage `json:"data,omitempty"`
}

// Bagged is what happened to documents, as far as the acting person may know it: a table, and
// for programs. Of each the newest come first.
func (s *Service) Bagged(ctx context.Context, documents []uuid.UUID) ([]archive.Tag, error) {
	rows := [][]string{{"number", "at", "kind", "by", "outside", "document", "version"}}
	list := []bagged{}
	for _, d := range documents {
		all, err := s.Shown(ctx, EventFilter{Item: d, Limit: mostOfOne})
		if err != nil {
			return nil, err
		}
		for _, e := range all {
			if len(list) == mostBagged || e.ItemNumber == nil {
				break
			}
			b := bagged{e.ID, e.At.UTC(), e.Kind, e.Actor, e.Outside, register.Ref{Code: e.DossierCode, Number: *e.ItemNumber}.String(), e.Version, e.Data}
			list = append(list, b)
			version := ""
			if b.Version != nil {
				version = strconv.Itoa(*b.Version)
			}
			rows = append(rows, []string{strconv.FormatInt(b.Number, 10), b.At.Format(time.RFC3339), b.Kind, b.By, strconv.FormatBool(b.Outside), b.Document, version})
		}
	}
	raw, err := json.MarshalIndent(list, "", "  ")
	return []archive.Tag{{Path: "metadata/events.csv", Content: archive.Table(rows)}, {Path: "metadata/events.json", Content: raw}}, err
}
