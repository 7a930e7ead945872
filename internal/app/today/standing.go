package today

import (
	"context"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/sessions"
)

// Standing is who is signed in, what they may do, and what waits for them.
type Standing struct {
	Person   accounts.Person
	Practice practice.Practice
	// MayMakeDossiers, and NeedsFactor: a second factor has to be set up first, and
	// nothing else is possible.
	MayMakeDossiers, NeedsFactor bool
	// OpenLinks (with transfers), NewGiven, Received (what waits to be accepted) and Notices are
	// what the band counts.
	OpenLinks, NewGiven, Received, Notices int
	// Decisions are those that wait for the person.
	Decisions int
}

// Standing tells of the acting person.
func (s *Service) Standing(ctx context.Context) (Standing, error) {
	me := act.Who(ctx).Person
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return Standing{}, err
	}
	if !me.Inside() {
		// That all of it is to go is for the practice's own people to know.
		p.RemovalAt = nil
	}
	out := Standing{Person: *me, Practice: p, MayMakeDossiers: p.MayMakeDossiers(*me)}
	if out.NeedsFactor, err = sessions.NeedsFactor(ctx, s.Acts.DB, me.ID); err != nil || out.NeedsFactor {
		return out, err
	}
	if out.OpenLinks, err = s.Links.CountOpen(ctx); err != nil {
		return out, err
	}
	sent, err := s.Transfers.CountOut(ctx)
	if err != nil {
		return out, err
	}
	out.OpenLinks += sent
	if out.NewGiven, err = s.Sharing.CountNew(ctx); err != nil {
		return out, err
	}
	if out.Received, err = s.Deliveries.CountWaiting(ctx); err != nil {
		return out, err
	}
	if out.Decisions, err = s.Decisions.CountOnMe(ctx); err != nil {
		return out, err
	}
	out.Notices, err = s.Notices.CountUnseen(ctx)
	return out, err
}
