// Package remembered offers people the terms under which they gave something before.
package remembered

import (
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/remembered"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/secret"
)

// offered is how many terms are offered, tried how many of those that were given are
// looked at for it.
const offered, tried = 3, 8

// Service remembers terms.
type Service struct {
	Acts  *act.Runner
	Links *links.Service
}

// Remembered are terms under which the acting person gave something before, as they
// would be today for what they want to give now.
type Remembered struct {
	remembered.Offer
	Sentence terms.Sentence
}

// Recall tells under which terms the acting person may give items again, as links of a
// kind or of any, in sentences of a language. It refuses what they may not give out at all.
func (s *Service) Recall(ctx context.Context, items []uuid.UUID, kind, language string) ([]Remembered, error) {
	// Whether they may give these at all, and of which dossier they are.
	least, err := s.Links.Draft(ctx, links.Wish{Items: items, Language: language})
	if err != nil {
		return nil, err
	}
	made, err := s.Links.Given(ctx)
	if err != nil {
		return nil, err
	}
	given := make([]remembered.Given, len(made))
	for i, l := range made {
		t, _ := l.Gate()
		given[i] = remembered.Given{Terms: t, At: l.CreatedAt, Code: l.DossierCode, To: strings.Fields(l.SentTo)}
	}
	p, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	out := []Remembered{}
	offers := slices.DeleteFunc(remembered.Offers(given, least.Code, s.Acts.Now(), zone), func(o remembered.Offer) bool {
		return !slices.Contains(least.Kinds, o.Terms.Kind) || kind != "" && o.Terms.Kind != kind
	})
	for _, o := range offers[:min(tried, len(offers))] {
		if len(out) == offered {
			break
		}
		wish := links.Wish{Items: items, Language: language, UntilSet: true, Terms: o.Terms}
		if o.Terms.Password {
			wish.Password = secret.Spoken()
		}
		d, err := s.Links.Draft(ctx, wish)
		switch {
		case err != nil && fault.Of(err).Kind == fault.Internal:
			return nil, err
		case err == nil && d.Refused == nil && !d.Forbidden:
			o.To = slices.DeleteFunc(o.To, func(address string) bool { return !p.Outward().Reaches(address) })
			if len(o.To) <= links.MostAddresses {
				out = append(out, Remembered{o, d.Sentence})
			}
		}
	}
	return out, nil
}
