package fillings

import (
	"context"
	"encoding/hex"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	core "tabularis/core/fillings"
	"tabularis/core/items"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/fillings"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of filling in.
type Handlers struct {
	*door.Door
	Fillings *fillings.Service
}

// GetFillable says how a document stands as a form.
func (h *Handlers) GetFillable(ctx context.Context, r GetFillableRequestObject) (GetFillableResponseObject, error) {
	f, err := h.Fillings.Of(ctx, r.Id)
	out := GetFillable200JSONResponse{Fields: f.Fields, Fills: f.Fills, Reads: f.Reads}
	if f.Reads {
		out.Handed, out.Fresh = &f.Handed, &f.Fresh
	}
	out.Folder, out.Onlookers = place(f.Folder), present.Some(f.Onlookers)
	return out, err
}

func place(i *items.Item) *contract.FillingPlace {
	if i == nil {
		return nil
	}
	return &contract.FillingPlace{Id: i.ID, Name: i.Name}
}

// SetFillableFolder says where what is handed in is filed.
func (h *Handlers) SetFillableFolder(ctx context.Context, r SetFillableFolderRequestObject) (SetFillableFolderResponseObject, error) {
	return SetFillableFolder204Response{}, h.Fillings.FileIn(ctx, r.Id, r.Body.Folder)
}

func visitor(ctx context.Context, token string) fillings.Who {
	v := door.VisitorOf(ctx.(*gin.Context), token)
	return fillings.Who{Visitor: &v}
}

// GetFilling gives a form to be filled in.
func (h *Handlers) GetFilling(ctx context.Context, r GetFillingRequestObject) (GetFillingResponseObject, error) {
	f, err := h.Fillings.Get(ctx, fillings.Who{Document: r.Id})
	return GetFilling200JSONResponse(filling(f)), err
}

// GetFillingByLink gives a form to a visitor.
func (h *Handlers) GetFillingByLink(ctx context.Context, r GetFillingByLinkRequestObject) (GetFillingByLinkResponseObject, error) {
	f, err := h.Fillings.Get(ctx, visitor(ctx, r.Token))
	return GetFillingByLink200JSONResponse(filling(f)), err
}

// KeepFilling keeps answers.
func (h *Handlers) KeepFilling(ctx context.Context, r KeepFillingRequestObject) (KeepFillingResponseObject, error) {
	f, err := h.Fillings.Keep(ctx, fillings.Who{Document: r.Id}, r.Body.Answers, present.Or(r.Body.Again, false))
	return KeepFilling200JSONResponse(standing(f)), err
}

// KeepFillingByLink keeps a visitor's answers.
func (h *Handlers) KeepFillingByLink(ctx context.Context, r KeepFillingByLinkRequestObject) (KeepFillingByLinkResponseObject, error) {
	f, err := h.Fillings.Keep(ctx, visitor(ctx, r.Token), r.Body.Answers, present.Or(r.Body.Again, false))
	return KeepFillingByLink200JSONResponse(standing(f)), err
}

// HandInFilling hands a form in.
func (h *Handlers) HandInFilling(ctx context.Context, r HandInFillingRequestObject) (HandInFillingResponseObject, error) {
	f, err := h.Fillings.HandIn(ctx, fillings.Who{Document: r.Id}, r.Body.Version, "")
	return HandInFilling200JSONResponse(standing(f)), err
}

// HandInByLink hands a visitor's form in.
func (h *Handlers) HandInByLink(ctx context.Context, r HandInByLinkRequestObject) (HandInByLinkResponseObject, error) {
	f, err := h.Fillings.HandIn(ctx, visitor(ctx, r.Token), r.Body.Version, present.Or(r.Body.Name, ""))
	return HandInByLink200JSONResponse(standing(f)), err
}

// ListFillings gives what was handed in.
func (h *Handlers) ListFillings(ctx context.Context, r ListFillingsRequestObject) (ListFillingsResponseObject, error) {
	all, err := h.Fillings.Handed(ctx, r.Id, present.Or(r.Params.Below, 0))
	if err != nil {
		return nil, err
	}
	return ListFillings200JSONResponse{Place: present.Place(documents.Place{Item: all.At.Item, Code: all.At.Code}), Version: all.Version, More: all.More,
		Columns: present.Each(all.Columns, func(c fillings.Column) contract.FillingColumn {
			return contract.FillingColumn{Id: c.ID, Label: c.Label, Kind: contract.FillingKind(c.Kind), Gone: c.Gone}
		}),
		Rows: present.Each(all.Rows, row),
		Begun: present.Each(all.Begun, func(b fillings.Begun) contract.FillingBegun {
			return contract.FillingBegun{Name: b.Name, Email: b.Email, At: b.At}
		}),
	}, nil
}

func row(r fillings.Row) contract.FillingRow {
	out := contract.FillingRow{Id: r.ID, Number: r.Number, Name: r.Name, Email: r.Email, Known: present.Some(contract.FillingRowKnown(r.Known)), Link: present.Some(r.Link), Version: r.Version,
		HandedAt: r.HandedAt, TakenAt: r.TakenAt, TakenBy: present.Some(r.TakenBy), Answers: r.Answers}
	if r.Paper != nil {
		p := present.Place(documents.Place{Item: r.Paper.Item, Code: r.Paper.Code})
		out.Paper = &p
	}
	return out
}

// TakeFillingUp says that somebody has begun to work on what was handed in.
func (h *Handlers) TakeFillingUp(ctx context.Context, r TakeFillingUpRequestObject) (TakeFillingUpResponseObject, error) {
	return TakeFillingUp204Response{}, h.Fillings.TakeUp(ctx, r.Id, r.Filling)
}

// table gives the register as a file of separated values.
func (h *Handlers) table(c *gin.Context) {
	id, err := door.PathID(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	rows, at, err := h.Fillings.Table(c.Request.Context(), id)
	if err != nil {
		h.Problem(c, err)
		return
	}
	door.SendTable(c, strings.TrimSuffix(at.Item.Name, ".md"), rows[0], rows[1:])
}

func filling(f fillings.Filling) (out contract.Filling) {
	out = contract.Filling{Name: f.Item.Name, Title: f.Form.Title, Standing: standing(f), Resumes: f.Resumes, By: f.Name, Email: f.Email, Sections: present.Each(f.Form.Sections, func(s core.Section) contract.FillingSection {
		return contract.FillingSection{Title: s.Title, Says: present.List(s.Says), Fields: present.Each(s.Fields, func(one core.Field) contract.FillingField { return field(one, f) })}
	})}
	if f.Letter == nil {
		out.Document = &f.Item.ID
		return out
	}
	out.Letter = &contract.FillingLetter{Sender: present.Person(f.Letter.Sender), Message: f.Letter.Message, Sentence: present.Sentence(f.Letter.Sentence)}
	return out
}

func field(one core.Field, f fillings.Filling) contract.FillingField {
	out := contract.FillingField{Id: one.ID, Kind: contract.FillingKind(one.Kind), Label: one.Label, Before: present.Some(one.Before), After: present.Some(one.After), Hint: present.Some(one.Hint), Must: one.Must, Answer: f.Answers.Answer(one)}
	switch one.Kind {
	case core.Choice:
		out.Choices = &one.Choices
	case core.Number:
		out.Least, out.Most = present.Some(one.Least), present.Some(one.Most)
	case core.Day:
		first, last := one.Days(f.Clock)
		out.First, out.Last = present.Some(first), present.Some(last)
		if n, err := strconv.Atoi(strings.TrimPrefix(one.Least, "+")); err == nil && first != "" && n > 0 {
			out.Ahead = &n
		}
	}
	return out
}

func standing(f fillings.Filling) contract.FillingStanding {
	return contract.FillingStanding{Answered: f.Standing.Answered, Of: f.Standing.Of, Version: f.Version, KeptAt: f.KeptAt, Number: f.Number, HandedAt: f.HandedAt, Sha256: present.Some(hex.EncodeToString(f.SHA256)), Changed: f.Changed, TakenAt: f.TakenAt,
		Open: present.Each(f.Standing.Open, func(p core.Problem) contract.FillingOpen {
			return contract.FillingOpen{Field: p.Field, Reason: contract.FillingOpenReason(p.Reason), Bound: present.Some(p.Bound)}
		})}
}
