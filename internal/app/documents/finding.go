package documents

import (
	"context"
	"fmt"
	"strings"

	"tabularis/core/items"
	"tabularis/core/names"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/dossiers"
)

const (
	// mostWords is how many words are looked for at once.
	mostWords = 10
	// Of what is found so many are shown.
	mostDocuments, mostDossiers = 12, 6
)

// Found is what somebody sees of what they look for.
type Found struct {
	Dossiers  []dossiers.Summary
	Documents []Place
}

// Find looks for dossiers and documents by register number or by words in their
// names. Nothing, and too much at once, finds nothing.
func (s *Service) Find(ctx context.Context, asked string) (Found, error) {
	words := strings.Fields(asked)
	if len(words) == 0 || len(words) > mostWords {
		return Found{}, nil
	}
	var out Found
	if p, ok := s.numbered(ctx, asked); ok {
		out.Documents = append(out.Documents, p)
	}
	keys := make([]string, len(words))
	for i, w := range words {
		keys[i] = names.Key(w)
	}
	named, err := s.named(ctx, keys)
	if err != nil {
		return Found{}, err
	}
	out.Documents = append(out.Documents, named...)
	mine, err := s.Dossiers.Mine(ctx)
	for _, d := range mine {
		text := names.Key(d.Code + " " + d.Name + " " + d.Client + " " + d.Subject)
		if len(out.Dossiers) < mostDossiers && containsAll(text, keys) {
			out.Dossiers = append(out.Dossiers, d)
		}
	}
	return out, err
}

// numbered finds a document by a register number as it is typed.
func (s *Service) numbered(ctx context.Context, asked string) (Place, bool) {
	code, number, ok := strings.Cut(asked, "/")
	var n int
	if _, err := fmt.Sscan(strings.TrimSpace(number), &n); !ok || err != nil {
		return Place{}, false
	}
	p, err := s.ByNumber(ctx, code, n)
	return p, err == nil
}

func (s *Service) named(ctx context.Context, keys []string) ([]Place, error) {
	var found []items.Item
	err := s.Access.View(ctx, s.Acts.Now(), func(v *guard.View) (n int, err error) {
		found, err = FindDocuments(ctx, s.Acts.DB, v.Readable(), keys, mostDocuments)
		return len(found), err
	})
	if err != nil {
		return nil, err
	}
	return s.places(ctx, found)
}

func containsAll(text string, words []string) bool {
	for _, w := range words {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}
