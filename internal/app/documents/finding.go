package documents

import (
	"context"
	"slices"
	"strings"

	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/register"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/dossiers"
)

const (
	// mostWords is how many words are looked for at once.
	mostWords = 10
	// Of what is found so many are shown.
	mostDocuments, mostDossiers, mostFolders = 12, 6, 6
)

// Found is what somebody sees of what they look for.
type Found struct {
	Dossiers  []dossiers.Summary
	Folders   []Place
	Documents []Place
}

// Find looks for dossiers, folders and documents by register number or by words in
// their names. A number alone means the dossier that is open before all others.
// Nothing, and too much at once, finds nothing.
func (s *Service) Find(ctx context.Context, asked, open string) (Found, error) {
	words := strings.Fields(asked)
	if len(words) == 0 || len(words) > mostWords {
		return Found{}, nil
	}
	keys := make([]string, len(words))
	for i, w := range words {
		keys[i] = names.Key(w)
	}
	ref, numbered := register.Typed(asked)
	bare := 0
	if numbered && ref.Code == "" {
		bare = ref.Number
	}
	found, err := s.named(ctx, bare, open, keys)
	if err != nil {
		return Found{}, err
	}
	var out Found
	if out.Documents, err = s.places(ctx, found.documents); err != nil {
		return Found{}, err
	}
	if numbered && bare == 0 {
		// Also by the number that it had in another dossier.
		if p, err := s.ByNumber(ctx, ref.Code, ref.Number); err == nil {
			out.Documents = append([]Place{p}, slices.DeleteFunc(out.Documents, func(other Place) bool { return other.ID == p.ID })...)
		}
	}
	if out.Folders, err = s.places(ctx, found.folders); err != nil {
		return Found{}, err
	}
	mine, err := s.Dossiers.Mine(ctx)
	for _, d := range mine {
		text := names.Key(d.Code + " " + d.Name + " " + d.Client + " " + d.Subject)
		if len(out.Dossiers) < mostDossiers && containsAll(text, keys) {
			out.Dossiers = append(out.Dossiers, d)
		}
	}
	return out, err
}

// named finds by words of names, and documents by a number alone, where there is one.
func (s *Service) named(ctx context.Context, number int, open string, keys []string) (found struct{ documents, folders []items.Item }, err error) {
	return found, s.Access.View(ctx, s.Acts.Now(), func(v *guard.View) (n int, err error) {
		r := v.Readable()
		found.documents, found.folders = nil, nil
		if number > 0 {
			if found.documents, err = FindNumbered(ctx, s.Acts.DB, r, number, strings.ToUpper(open), mostDocuments); err != nil {
				return 0, err
			}
		}
		named, err := FindNamed(ctx, s.Acts.DB, r, items.Document, keys, mostDocuments)
		if err != nil {
			return 0, err
		}
		for _, d := range named {
			if !slices.ContainsFunc(found.documents, func(other items.Item) bool { return other.ID == d.ID }) {
				found.documents = append(found.documents, d)
			}
		}
		found.folders, err = FindNamed(ctx, s.Acts.DB, r, items.Folder, keys, mostFolders)
		return len(found.documents) + len(found.folders), err
	})
}

func containsAll(text string, words []string) bool {
	for _, w := range words {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}
