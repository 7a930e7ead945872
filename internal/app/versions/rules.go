package versions

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/versions"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"
)

// Keeping is which versions are kept somewhere.
type Keeping struct {
	versions.Rule
	// Own says that a dossier has a rule of its own, MayChange that the acting person may
	// set it, Days for how long what is removed can be brought back.
	Own, MayChange bool
	Days           int
}

// Keeping says which versions are kept in a dossier, or in the practice where code is
// empty.
func (s *Service) Keeping(ctx context.Context, code string) (k Keeping, err error) {
	of, may, err := s.ruled(ctx, s.Acts.DB, code)
	if err != nil {
		return k, err
	}
	k.MayChange = may
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return k, err
	}
	k.Days = p.KeepingDays
	k.Rule, k.Own, err = RuleOf(ctx, s.Acts.DB, of)
	return k, err
}

// ruled is the dossier of a code, none for an empty one, and whether the acting person sets
// the rule there: its managers do, and of the practice who administers it. Guests learn of
// a dossier's rule alone.
func (s *Service) ruled(ctx context.Context, q postgres.Q, code string) (of *uuid.UUID, may bool, err error) {
	me := act.Who(ctx).Person
	if code == "" {
		if !me.Inside() {
			return nil, false, fault.Missing()
		}
		return nil, me.Administers(), nil
	}
	d, err := s.Items.Access.ByCode(ctx, q, code, s.Acts.Now())
	if err != nil {
		return nil, false, err
	}
	sight, err := s.Items.Access.Item(ctx, q, d.ID, access.See, s.Acts.Now())
	return &d.ID, err == nil && sight.Caps.Has(access.Manage), err
}

// SetKeeping sets which versions are kept in a dossier, or in the practice where code is
// empty. Without a rule a dossier keeps what the practice says.
func (s *Service) SetKeeping(ctx context.Context, code string, rule *versions.Rule) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		of, err := s.sets(ctx, tx, code, rule)
		if err != nil {
			return err
		}
		if err := setRule(ctx, tx, of, rule); err != nil {
			return err
		}
		if of == nil {
			return tx.Record(ctx, act.Event{What: events.PracticeRules.With(events.Nothing{})})
		}
		return tx.Record(ctx, act.Event{What: events.DossierKeeping.With(events.Nothing{}), Dossier: *of})
	})
}

// sets refuses whoever does not set the rule, and a rule that is none.
func (s *Service) sets(ctx context.Context, q postgres.Q, code string, rule *versions.Rule) (*uuid.UUID, error) {
	of, may, err := s.ruled(ctx, q, code)
	switch {
	case err != nil:
		return nil, err
	case !may:
		return nil, fault.Refused("say which versions are kept")
	case rule != nil:
		return of, rule.Check("rule")
	case of == nil:
		return nil, errRuleMissing.In("rule", "the practice needs a rule")
	}
	return of, nil
}

// Superfluous is what a rule would remove at once.
type Superfluous struct {
	Documents, Versions int
	Bytes               int64
	// More says that not every document was looked at: there are very many.
	More bool
}

// mostLooked is how many documents are looked at to tell what a rule would remove.
const mostLooked = 20_000

// Draft tells what a rule would remove, and removes nothing.
func (s *Service) Draft(ctx context.Context, code string, rule versions.Rule) (out Superfluous, err error) {
	of, err := s.sets(ctx, s.Acts.DB, code, &rule)
	if err != nil {
		return out, err
	}
	p := pile{of: of, rule: rule, most: mostLooked}
	err = s.each(ctx, &p, func(_ uuid.UUID, all []tree.AgedVersion, gone []int) error {
		out.Documents++
		out.Versions += len(gone)
		for _, v := range all {
			if slices.Contains(gone, v.Number) {
				out.Bytes += v.Size
			}
		}
		return nil
	})
	out.More = p.looked >= mostLooked
	return out, err
}

// Thin removes what the rules let go. What something stands on waits until that is gone.
func (s *Service) Thin(ctx context.Context) error {
	rules, err := allRules(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	for _, r := range rules {
		err := s.each(ctx, &pile{of: r.DossierID, rule: r.Rule}, func(document uuid.UUID, _ []tree.AgedVersion, _ []int) error {
			return s.thin(ctx, document)
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// thin removes of one document what its rule lets go now that nobody else changes it.
func (s *Service) thin(ctx context.Context, document uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		item, err := tree.ItemByID(ctx, tx, document)
		if fault.Is(err, fault.NotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		if err := tree.LockDossier(ctx, tx, item.DossierID); err != nil {
			return err
		}
		rule, _, err := RuleOf(ctx, tx, &item.DossierID)
		if err != nil {
			return err
		}
		_, zone, err := practice.PracticeZone(ctx, tx)
		if err != nil {
			return err
		}
		return s.Items.Thin(ctx, tx, document, func(all []versions.Version) []int { return rule.Superfluous(all, tx.Now, zone) })
	})
}

// pile are the documents on which a rule is tried: those of a dossier, or of all that have
// none of their own.
type pile struct {
	of           *uuid.UUID
	rule         versions.Rule
	most, looked int
}

// each calls fn with every document of which the rule lets something go.
func (s *Service) each(ctx context.Context, p *pile, fn func(document uuid.UUID, all []tree.AgedVersion, gone []int) error) error {
	if p.rule.KeepsAll() {
		return nil
	}
	_, zone, err := practice.PracticeZone(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	now := s.Acts.Now()
	// A day more, since months begin earlier in some zones.
	before := now.AddDate(0, -p.rule.Months, 1)
	after := uuid.Nil
	for p.most == 0 || p.looked < p.most {
		documents, err := agedDocuments(ctx, s.Acts.DB, p.of, before, after, 500)
		if err != nil || len(documents) == 0 {
			return err
		}
		after, p.looked = documents[len(documents)-1], p.looked+len(documents)
		aged, err := tree.AgedVersions(ctx, s.Acts.DB, documents, now)
		if err != nil {
			return err
		}
		for _, d := range documents {
			if gone := p.rule.Superfluous(tree.PlainAged(aged[d]), now, zone); len(gone) > 0 {
				if err := fn(d, aged[d], gone); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// Next is when the rule of a dossier removes the next version of a document as it is now,
// nil where it never does.
func Next(ctx context.Context, q postgres.Q, item items.Item, now time.Time) (versions.Rule, *time.Time, error) {
	rule, _, err := RuleOf(ctx, q, &item.DossierID)
	if err != nil || rule.KeepsAll() {
		return rule, nil, err
	}
	_, zone, err := practice.PracticeZone(ctx, q)
	if err != nil {
		return rule, nil, err
	}
	aged, err := tree.AgedVersions(ctx, q, []uuid.UUID{item.ID}, now)
	if err != nil {
		return rule, nil, err
	}
	if next, ok := rule.Next(tree.PlainAged(aged[item.ID]), now, zone); ok {
		return rule, &next, nil
	}
	return rule, nil, nil
}

// errRuleMissing is what is refused here.
var errRuleMissing = fault.Declare(fault.Invalid, "keep-missing", "the practice needs a rule")
