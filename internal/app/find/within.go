package find

import (
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/find"
)

// Within is where in a document a question's words stand.
type Within struct {
	// Pages are counted from 1.
	Pages []int
	// Words are as they are written there.
	Words []string
}

// mostWords is how many ways of writing are told.
const mostWords = 100

// Within finds on which pages of a document a question's words stand; number 0 means the
// counting version.
func (s *Service) Within(ctx context.Context, document uuid.UUID, number int, text string) (Within, error) {
	question, err := find.Read(text)
	if err != nil {
		return Within{}, err
	}
	sight, err := s.Access.Content(ctx, s.Acts.DB, document, number, access.See, s.Acts.Now())
	if err != nil {
		return Within{}, err
	}
	b, _, err := bodyOf(ctx, s.Acts.DB, sight.Version().SHA256)
	if err != nil {
		return Within{}, err
	}
	pages, err := s.pages(b)
	if err != nil || pages == nil {
		return Within{}, err
	}
	var out Within
	m := question.Marker(find.LanguageOfPages(pages))
	for i, page := range pages {
		marks := m.Marks(page)
		if len(marks) > 0 {
			out.Pages = append(out.Pages, i+1)
		}
		for _, mark := range marks {
			word := page[mark.From:mark.To]
			known := slices.ContainsFunc(out.Words, func(w string) bool { return strings.EqualFold(w, word) })
			if len(out.Words) < mostWords && !known {
				out.Words = append(out.Words, word)
			}
		}
	}
	return out, nil
}
