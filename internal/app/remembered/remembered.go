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
	// Name is what the practice calls them, where it gave them one.
	Name     string
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
	out, err := s.named(ctx, p, terms.Voice{Language: language, Zone: zone, Now: s.Acts.Now()}, items, kind, least.Kinds)
	if err != nil {
		return nil, err
	}
	own := len(out)
	offers := slices.DeleteFunc(remembered.Offers(given, least.Code, s.Acts.Now(), zone), func(o remembered.Offer) bool {
		return !slices.Contains(least.Kinds, o.Terms.Kind) || kind != "" && o.Terms.Kind != kind
	})
	for _, o := range offers[:min(tried, len(offers))] {
		if len(out)-own == offered {
			break
		}
		d, may, err := s.try(ctx, links.Wish{Items: items, Language: language, UntilSet: true, Terms: o.Terms})
		switch {
		case err != nil:
			return nil, err
		case may:
			o.To = slices.DeleteFunc(o.To, func(address string) bool { return !p.Outward().Reaches(address) })
			if len(o.To) <= links.MostAddresses {
				out = append(out, Remembered{Offer: o, Sentence: d.Sentence})
			}
		}
	}
	return out, nil
}

// named are the terms that have a name in the practice, as far as they are terms of a
// link of the kind that is wanted.
func (s *Service) named(ctx context.Context, p practice.Practice, v terms.Voice, items []uuid.UUID, kind string, kinds []string) ([]Remembered, error) {
	all, err := p.OwnTerms()
	if err != nil {
		return nil, err
	}
	out := []Remembered{}
	for _, o := range all {
		read := terms.Read(o.Words, v)
		t := read.Terms()
		if !read.Understood() || !slices.Contains(kinds, t.Kind) || kind != "" && t.Kind != kind {
			continue
		}
		d, may, err := s.try(ctx, links.Wish{Items: items, Language: v.Language, UntilSet: t.Until != nil, Terms: t})
		if err != nil {
			return nil, err
		}
		if may {
			out = append(out, Remembered{Offer: remembered.Offer{Given: remembered.Given{Terms: t}}, Name: o.Name, Sentence: d.Sentence})
		}
	}
	return out, nil
}

// try reports whether a link might be made like this.
func (s *Service) try(ctx context.Context, w links.Wish) (links.Draft, bool, error) {
	if w.Terms.Password {
		w.Password = secret.Spoken()
	}
	d, err := s.Links.Draft(ctx, w)
	if err != nil && fault.Of(err).Kind == fault.Internal {
		return d, false, err
	}
	return d, err == nil && d.Refused == nil && !d.Forbidden, nil
}
