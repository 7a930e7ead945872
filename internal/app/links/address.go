package links

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/linkgate"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/secret"
)

// MakeAddress makes, within its act, the link behind an address that the acting person publishes: it
// takes papers in from whoever shows that their mail address is theirs, and has no end of its own.
func (s *Service) MakeAddress(ctx context.Context, tx *act.Tx, slug, lang string, into uuid.UUID) (Link, error) {
	if err := linkgate.Slug("name", slug); err != nil {
		return Link{}, err
	}
	token, me := secret.Token(), tx.Actor.Person
	l := Link{ID: uuid.Must(uuid.NewV7()), Name: me.Name, TokenSHA256: secret.Hash(token), TokenSealed: s.Keys.Seal([]byte(token), tokenPurpose), DossierID: into,
		CreatedBy: me.ID, CreatedAt: tx.Now, Language: Language(lang),
		Terms: linkgate.Terms{Kind: linkgate.Address, Identify: linkgate.Confirmed, MayDownload: true, Newest: true, Slug: &slug, Tell: linkgate.TellEach}}
	if err := taken(AddLink(ctx, tx, l, []uuid.UUID{into})); err != nil {
		return l, err
	}
	_, zone, err := practice.PracticeZone(ctx, tx)
	if err != nil {
		return l, err
	}
	sentence := terms.Link{Terms: l.Terms}.Sentence(terms.Voice{Language: l.Language, Zone: zone, Now: tx.Now}).String()
	return l, s.tell(ctx, tx, l, nil, events.LinkMade.With(events.LinkTerms{LinkNamed: named(l), Terms: sentence}))
}

// EndAddress lets an address take nothing any more, within its act.
func (s *Service) EndAddress(ctx context.Context, tx *act.Tx, l Link) error {
	ended, err := EndLink(ctx, tx, l.ID, tx.Actor.Person.ID, tx.Now)
	if err != nil || !ended {
		return err
	}
	return s.tell(ctx, tx, l, nil, events.LinkEnded.With(named(l)))
}

// ReopenAddress lets an address of before take something again, within its act.
func (s *Service) ReopenAddress(ctx context.Context, tx *act.Tx, l Link) error {
	if l.EndedAt == nil {
		return nil
	}
	if err := ReopenLink(ctx, tx, l.ID); err != nil {
		return err
	}
	return s.tell(ctx, tx, l, nil, events.LinkReopened.With(named(l)))
}
