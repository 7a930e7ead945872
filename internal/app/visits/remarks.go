package visits

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/remarks"
)

// remarker is the visitor as one who says something; a link that lets nobody do so has
// nothing of the kind.
func remarker(l links.Link, visit Visit) (remarks.Visitor, error) {
	if !l.Remarks || l.Kind != linkgate.HandOut {
		return remarks.Visitor{}, fault.Missing()
	}
	return remarks.Visitor{Link: l.ID, Visit: visit.ID, Maker: l.CreatedBy, Email: visit.Email}, nil
}

// Remarks lists what was said through the link about a document that it gives.
func (s *Service) Remarks(ctx context.Context, v Visitor, document uuid.UUID) ([]remarks.HeardThread, error) {
	l, visit, _, err := s.document(ctx, v, document)
	if err != nil {
		return nil, err
	}
	who, err := remarker(l, visit)
	if err != nil {
		return nil, err
	}
	return remarks.Through(ctx, s.Acts.DB, who, document)
}

// Say says something about a document that the link gives, or answers.
func (s *Service) Say(ctx context.Context, v Visitor, document uuid.UUID, text string, thread *uuid.UUID) (id uuid.UUID, err error) {
	_, _, f, err := s.document(ctx, v, document)
	if err != nil {
		return id, err
	}
	return id, s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, visit, verdict, err := s.gate(ctx, tx, v, linkgate.Read, attempt{}, true)
		if err != nil {
			return err
		}
		if !verdict.Allowed {
			return refusal(verdict.Reason)
		}
		who, err := remarker(l, visit)
		if err != nil {
			return err
		}
		r, err := s.Talk.SayThrough(ctx, tx, who, f.ID, f.Give.Number, text, thread)
		if err != nil {
			return err
		}
		id = r.ID
		return s.tell(ctx, tx, l, &f.ID, f.Give.Number, events.LinkRemarked.With(visitFile(l, visit, f)))
	})
}
