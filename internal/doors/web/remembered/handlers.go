package remembered

import (
	"context"

	"tabularis/internal/app/remembered"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of remembered.
type Handlers struct {
	*door.Door
	Remembered *remembered.Service
}

// RecallTerms tells under which terms one gave something before.
func (h *Handlers) RecallTerms(ctx context.Context, r RecallTermsRequestObject) (RecallTermsResponseObject, error) {
	all, err := h.Remembered.Recall(ctx, r.Body.Items, string(present.Or(r.Body.Kind, "")), string(present.Or(r.Body.Language, contract.RecallLanguageEn)))
	return RecallTerms200JSONResponse(present.Each(all, shown)), err
}

func shown(r remembered.Remembered) contract.Remembered {
	t := r.Terms
	out := contract.Remembered{
		Kind:        contract.LinkKind(t.Kind),
		Newest:      t.Newest,
		HasPassword: t.Password,
		Sentence:    present.Sentence(r.Sentence),
		To:          present.List(r.To),
		Name:        present.Some(r.Name),
		Until:       t.Until,
		NotBefore:   t.NotBefore,
		Openings:    t.Openings,
		Downloads:   t.Downloads,
		IntakeFiles: t.Limits.Files,
		IntakeBytes: t.Limits.Bytes,
	}
	if r.Times > 0 {
		out.At, out.Times = &r.At, &r.Times
	}
	viewOnly, remarks, identify, tell := t.ViewOnly(), t.Remarks, contract.Identity(t.Identify.String()), contract.Telling(t.Tell)
	allowed, endings := present.List(t.Allowed), present.List(t.Limits.Endings)
	out.ViewOnly, out.Remarks, out.Identify, out.Tell, out.Allowed, out.IntakeEndings = &viewOnly, &remarks, &identify, &tell, &allowed, &endings
	return out
}
