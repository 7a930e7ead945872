// Package terms reads the terms that people type.
package terms

import (
	"context"

	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
)

// Service reads terms by the practice's clock.
type Service struct{ Acts *act.Runner }

// Read tells what typed words mean as terms of a link, or of access for people, and
// how the last could go on in a language.
func (s *Service) Read(ctx context.Context, text, language string, access bool) (terms.Typed, error) {
	p, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return terms.Typed{}, err
	}
	v := terms.Voice{Language: language, Zone: zone, Now: s.Acts.Now()}
	if access {
		return terms.ReadAccess(text, v), nil
	}
	own, err := p.OwnTerms()
	return terms.ReadOwn(text, v, own), err
}
