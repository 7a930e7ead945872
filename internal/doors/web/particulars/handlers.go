package particulars

import (
	"context"

	"github.com/google/uuid"

	core "tabularis/core/particulars"
	"tabularis/internal/app/particulars"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of particulars.
type Handlers struct {
	*door.Door
	Particulars *particulars.Service
}

func definition(id uuid.UUID, n contract.NewParticular) core.Definition {
	kinds := present.Each(present.Or(n.DossierKinds, nil), func(k contract.DossierKind) string { return string(k) })
	return core.Definition{ID: id, Name: n.Name, Kind: core.Kind(n.Kind), Unit: present.Or(n.Unit, ""), Choices: present.Or(n.Choices, nil), Required: present.Or(n.Required, false), DossierKinds: kinds}
}

// ListParticulars lists what is defined.
func (h *Handlers) ListParticulars(ctx context.Context, _ ListParticularsRequestObject) (ListParticularsResponseObject, error) {
	all, err := h.Particulars.List(ctx)
	return ListParticulars200JSONResponse(present.Each(all, present.Definition)), err
}

// DefineParticular adds one.
func (h *Handlers) DefineParticular(ctx context.Context, r DefineParticularRequestObject) (DefineParticularResponseObject, error) {
	d, err := h.Particulars.Define(ctx, definition(uuid.Nil, *r.Body))
	return DefineParticular201JSONResponse(present.Definition(d)), err
}

// ChangeParticular defines one otherwise.
func (h *Handlers) ChangeParticular(ctx context.Context, r ChangeParticularRequestObject) (ChangeParticularResponseObject, error) {
	return ChangeParticular204Response{}, h.Particulars.Change(ctx, definition(r.Id, *r.Body))
}

// RemoveParticular takes one away with its values.
func (h *Handlers) RemoveParticular(ctx context.Context, r RemoveParticularRequestObject) (RemoveParticularResponseObject, error) {
	return RemoveParticular204Response{}, h.Particulars.Remove(ctx, r.Id)
}

// GetParticulars lists the particulars of a document.
func (h *Handlers) GetParticulars(ctx context.Context, r GetParticularsRequestObject) (GetParticularsResponseObject, error) {
	all, err := h.Particulars.On(ctx, r.Id)
	return GetParticulars200JSONResponse(present.Each(all, present.Particular)), err
}

// GetParticularsTogether says what stands in documents together.
func (h *Handlers) GetParticularsTogether(ctx context.Context, r GetParticularsTogetherRequestObject) (GetParticularsTogetherResponseObject, error) {
	all, err := h.Particulars.Of(ctx, r.Body.Documents)
	return GetParticularsTogether200JSONResponse(present.Each(all, func(t particulars.Together) contract.ParticularTogether {
		return contract.ParticularTogether{Particular: present.Definition(t.Definition), Filled: t.Filled, Same: present.Some(t.Same), Person: present.Some(t.Person), Sum: present.Some(t.Sum)}
	})), err
}

// SetParticulars writes values into documents.
func (h *Handlers) SetParticulars(ctx context.Context, r SetParticularsRequestObject) (SetParticularsResponseObject, error) {
	settings := present.Each(r.Body.Values, func(v contract.ParticularSetting) particulars.Setting {
		return particulars.Setting{Particular: v.Particular, Value: v.Value}
	})
	return SetParticulars204Response{}, h.Particulars.Set(ctx, r.Body.Documents, settings)
}

// TakeParticulars writes a table into the documents of a dossier.
func (h *Handlers) TakeParticulars(ctx context.Context, r TakeParticularsRequestObject) (TakeParticularsResponseObject, error) {
	t := particulars.Table{Columns: r.Body.Columns}
	for _, row := range r.Body.Rows {
		t.Rows = append(t.Rows, particulars.TableRow{Number: row.Number, Cells: row.Cells})
	}
	out, err := h.Particulars.Take(ctx, r.Code, t, present.Or(r.Body.Try, false))
	return TakeParticulars200JSONResponse{Documents: out.Documents, Values: out.Values, Wrong: present.Each(out.Wrong, func(w particulars.Wrong) contract.ParticularWrong {
		return contract.ParticularWrong{Row: w.Row, Particular: present.Some(w.Particular), Problem: w.Why.Code}
	})}, err
}
