package terms

import (
	"context"

	"tabularis/core/terms"
	reading "tabularis/internal/app/terms"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of terms.
type Handlers struct {
	*door.Door
	Terms *reading.Service
}

// ReadTerms tells what typed words mean.
func (h *Handlers) ReadTerms(ctx context.Context, r ReadTermsRequestObject) (ReadTermsResponseObject, error) {
	t, err := h.Terms.Read(ctx, r.Body.Text, string(present.Or(r.Body.Language, contract.TypedTextLanguageEn)), present.Or(r.Body.Of, contract.TypedTextOfLink) == contract.TypedTextOfAccess)
	return ReadTerms200JSONResponse(typed(t)), err
}

func typed(t terms.Typed) contract.TypedTerms {
	out := contract.TypedTerms{
		Until:       t.Until,
		NotBefore:   t.NotBefore,
		Openings:    t.Openings,
		Downloads:   t.Downloads,
		IntakeFiles: t.Files,
		IntakeBytes: t.Bytes,
		ViewOnly:    t.ViewOnly,
		Remarks:     t.Remarks,
		Newest:      t.Newest,
		HasPassword: t.Password,
		Name:        present.Some(t.Name),
		Kind:        present.Some(contract.LinkKind(t.Kind)),
		Completions: present.List(t.Completions),
		Level:       present.Some(t.Level),
		Onward:      t.Onward,
		NoEnd:       present.Some(t.NoEnd),
		Understood:  t.Understood(),
		Pieces: present.Each(t.Pieces, func(p terms.Piece) contract.TypedPiece {
			return contract.TypedPiece{Text: p.Text, Term: present.Some(string(p.Term)), Why: present.Some(contract.TypedPieceWhy(p.Why))}
		}),
	}
	if t.Identify != nil {
		out.Identify = present.Some(contract.Identity(t.Identify.String()))
	}
	if t.Allowed != nil {
		out.Allowed = &t.Allowed
	}
	if t.Endings != nil {
		out.IntakeEndings = &t.Endings
	}
	return out
}
