package documents

import (
	"context"
	"encoding/hex"
	"encoding/json"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/core/register"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/archive"
)

// bagged is what a bag says of a document in it.
type bagged struct {
	Number    string    `json:"number"`
	Path      string    `json:"path"`
	Name      string    `json:"name"`
	Version   int       `json:"version"`
	At        time.Time `json:"at"`
	MediaType string    `json:"mediaType"`
	Size      int64     `json:"size"`
	SHA256    string    `json:"sha256"`
	Tags      []string  `json:"tags,omitempty"`
}

// Bag gathers documents and what lies in folders as a bag (BagIt 1.0, RFC 8493): with their
// hashes, and with what is known of each as CSV and JSON beside them.
func (s *Service) Bag(ctx context.Context, ids []uuid.UUID) (tree.Chosen, error) {
	name, all, err := s.gather(ctx, ids)
	if err != nil {
		return tree.Chosen{}, err
	}
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return tree.Chosen{}, err
	}
	payload, documents := make([]archive.Payload, len(all)), make([]uuid.UUID, len(all))
	for i, d := range all {
		documents[i], payload[i] = d.ID, archive.Payload{Entry: s.Contents.Entry(ctx, d, d.SHA256, d.Size), SHA256: d.SHA256}
	}
	bag := archive.NewBag(payload)
	about, err := s.told(ctx, all, bag.Paths)
	if err != nil {
		return tree.Chosen{}, err
	}
	info := [][2]string{{"Source-Organization", p.Name}, {"External-Description", name}, {"Bagging-Date", s.Acts.Now().Format(time.DateOnly)}}
	return tree.Chosen{Name: name, Entries: bag.Entries(name, about, info), Documents: documents}, nil
}

// Told is what a bag says beside its documents, for those that lie below "documents".
func (s *Service) Told(ctx context.Context, ids []uuid.UUID) ([]archive.Tag, error) {
	_, all, err := s.gather(ctx, ids)
	if err != nil {
		return nil, err
	}
	entries := make([]archive.Entry, len(all))
	for i, d := range all {
		entries[i] = s.Contents.Entry(ctx, d, d.SHA256, d.Size)
		entries[i].Way = "documents/" + entries[i].Way
	}
	return s.told(ctx, all, archive.Paths(entries))
}

// told is what is known of documents, and what happened to them.
func (s *Service) told(ctx context.Context, all []items.Placed, paths []string) ([]archive.Tag, error) {
	dossiers, documents := make([]uuid.UUID, len(all)), make([]uuid.UUID, len(all))
	for i, d := range all {
		dossiers[i], documents[i] = d.DossierID, d.ID
	}
	codes, err := tree.CodesOf(ctx, s.Acts.DB, dossiers)
	if err != nil {
		return nil, err
	}
	about, err := s.said(ctx, all, codes, paths)
	if err != nil {
		return nil, err
	}
	happened, err := s.EventsOf(ctx, documents)
	return append(about, happened...), err
}

// said is what a bag says of its documents, as a table and for programs.
func (s *Service) said(ctx context.Context, all []items.Placed, codes map[uuid.UUID]string, paths []string) ([]archive.Tag, error) {
	rows := [][]string{{"number", "path", "name", "version", "at", "mediaType", "size", "sha256", "tags"}}
	list := make([]bagged, len(all))
	for i, d := range all {
		tags, err := s.TagsOf(ctx, s.Acts.DB, d.ID)
		if err != nil {
			return nil, err
		}
		list[i] = bagged{register.Ref{Code: codes[d.DossierID], Number: *d.Number}.String(), paths[i], d.Name, d.Version, d.CreatedAt.UTC(), d.MediaType, d.Size, hex.EncodeToString(d.SHA256), tags}
		b := list[i]
		rows = append(rows, []string{b.Number, b.Path, b.Name, strconv.Itoa(b.Version), b.At.Format(time.RFC3339), b.MediaType, strconv.FormatInt(b.Size, 10), b.SHA256, strings.Join(tags, ", ")})
	}
	raw, err := json.MarshalIndent(list, "", "  ")
	return []archive.Tag{{Path: "metadata/documents.csv", Content: archive.Table(rows)}, {Path: "metadata/documents.json", Content: raw}}, err
}
