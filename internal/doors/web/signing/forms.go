package signing

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	core "tabularis/core/signing"
	"tabularis/core/templates"
	"tabularis/internal/app/act"
	"tabularis/internal/app/signing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// form is a form as it is listed, for somebody.
func form(ctx context.Context) func(f signing.Form) (contract.SigningForm, error) {
	me := act.Who(ctx).Person.ID
	return func(f signing.Form) (out contract.SigningForm, err error) {
		out = contract.SigningForm{Id: f.ID, ItemId: f.ItemID, Ref: f.At.Ref(), Document: f.At.Name, Name: f.Name, Description: f.Description, Shared: f.Shared, Edition: f.Edition, InWriting: f.Draft != nil && f.Writes,
			Mine: f.MadeBy == me, Writes: f.Writes, Maker: f.Maker, Used: f.Used, LastUsed: present.Some(f.Last), ChangedAt: f.ChangedAt}
		out.Parties, err = present.Through[[]contract.SigningParty](present.List(f.Form.Plan.Parties))
		return out, err
	}
}

// ListForms lists forms.
func (h *Handlers) ListForms(ctx context.Context, _ ListFormsRequestObject) (ListFormsResponseObject, error) {
	all, err := h.Signing.Forms(ctx)
	if err != nil {
		return nil, err
	}
	out := ListForms200JSONResponse{}
	for _, f := range all {
		one, err := form(ctx)(f)
		if err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, nil
}

// MakeForm makes a form.
func (h *Handlers) MakeForm(ctx context.Context, r MakeFormRequestObject) (MakeFormResponseObject, error) {
	f, err := present.Through[core.Form](r.Body.Definition)
	if err != nil {
		return nil, err
	}
	id, err := h.Signing.MakeForm(ctx, r.Body.Document, present.Or(r.Body.Name, ""), f)
	if err != nil {
		return nil, err
	}
	page, err := h.formPage(ctx, id)
	return MakeForm201JSONResponse(page.Form), err
}

func (h *Handlers) formPage(ctx context.Context, id uuid.UUID) (out contract.FormPage, err error) {
	f, err := h.Signing.OneForm(ctx, id)
	if err != nil {
		return out, err
	}
	out = contract.FormPage{Pages: present.Each(f.Sizes, size), Blanks: []string{}, Problems: present.Each(f.Problems, problem), Version: f.Version, Newer: f.Newer}
	for _, b := range f.Blanks {
		out.Blanks = append(out.Blanks, b.Word)
	}
	var failed [3]error
	out.Form, failed[0] = form(ctx)(f.Form)
	out.Definition, failed[1] = present.Through[contract.FormDefinition](f.Form.Form)
	out.Marked, failed[2] = present.Through[[]contract.SigningPlace](present.List(f.Marked))
	return out, errors.Join(failed[:]...)
}

func problem(p core.Problem) contract.SigningProblem {
	return contract.SigningProblem{At: p.At, Flaw: string(p.Flaw), Other: p.Other}
}

// GetForm shows a form.
func (h *Handlers) GetForm(ctx context.Context, r GetFormRequestObject) (GetFormResponseObject, error) {
	page, err := h.formPage(ctx, r.Id)
	return GetForm200JSONResponse(page), err
}

// WriteForm keeps what is written.
func (h *Handlers) WriteForm(ctx context.Context, r WriteFormRequestObject) (WriteFormResponseObject, error) {
	f, err := present.Through[core.Form](r.Body.Definition)
	if err != nil {
		return nil, err
	}
	if err := h.Signing.WriteForm(ctx, r.Id, signing.Written{Name: r.Body.Name, Description: r.Body.Description, Shared: r.Body.Shared, Form: f, Seen: r.Body.Seen}); err != nil {
		return nil, err
	}
	page, err := h.formPage(ctx, r.Id)
	return WriteForm200JSONResponse(page), err
}

// RemoveForm removes a form.
func (h *Handlers) RemoveForm(ctx context.Context, r RemoveFormRequestObject) (RemoveFormResponseObject, error) {
	return RemoveForm204Response{}, h.Signing.RemoveForm(ctx, r.Id)
}

// ReleaseForm lets what is written count.
func (h *Handlers) ReleaseForm(ctx context.Context, r ReleaseFormRequestObject) (ReleaseFormResponseObject, error) {
	if err := h.Signing.ReleaseForm(ctx, r.Id); err != nil {
		return nil, err
	}
	page, err := h.formPage(ctx, r.Id)
	return ReleaseForm201JSONResponse(page.Form), err
}

func use(form uuid.UUID, b contract.FormUse) (u signing.Use, err error) {
	u = signing.Use{Form: form, Folder: b.Folder, Password: present.Or(b.Password, ""),
		UseTerms: signing.UseTerms{Days: present.Or(b.Days, 0), Message: present.Or(b.Message, ""), Known: core.Known(present.Or(b.Known, "")), Language: string(present.Or(b.Language, ""))}}
	u.Rows, err = present.Through[[]core.Row](b.Rows)
	return u, err
}

// DraftFormUse says what sending a form would mean.
func (h *Handlers) DraftFormUse(ctx context.Context, r DraftFormUseRequestObject) (DraftFormUseResponseObject, error) {
	u, err := use(r.Id, *r.Body)
	if err != nil {
		return nil, err
	}
	d, err := h.Signing.DraftUse(ctx, u)
	if err != nil {
		return nil, err
	}
	out := DraftFormUse200JSONResponse{Edition: d.Edition, Asked: present.List(d.Form.Asked()), Until: d.Until, Problems: present.Each(d.Problems, problem), Blanks: []contract.Blank{}}
	for _, b := range d.Blanks {
		out.Blanks = append(out.Blanks, contract.Blank{Word: b.Word, Value: d.Known[templates.Key(b.Word)], Of: present.Some(contract.BlankOf(b.Of))})
	}
	out.Definition, err = present.Through[contract.FormDefinition](d.Form)
	return out, err
}

// UseForm sends a form.
func (h *Handlers) UseForm(ctx context.Context, r UseFormRequestObject) (UseFormResponseObject, error) {
	u, err := use(r.Id, *r.Body)
	if err != nil {
		return nil, err
	}
	sent, err := h.Signing.UseForm(ctx, u)
	return UseForm201JSONResponse{Signing: sent.Signing, Batch: sent.Batch}, err
}

func (h *Handlers) look(ctx context.Context, id uuid.UUID, b contract.FormLookWish) (l signing.Look, err error) {
	row, err := present.Through[core.Row](b.Row)
	if err != nil {
		return l, err
	}
	return h.Signing.LookAt(ctx, id, b.Folder, row)
}

// LookAtForm shows how a form's paper will look for somebody.
func (h *Handlers) LookAtForm(ctx context.Context, r LookAtFormRequestObject) (LookAtFormResponseObject, error) {
	l, err := h.look(ctx, r.Id, *r.Body)
	if err != nil {
		return nil, err
	}
	places, err := present.Through[[]contract.SigningPlace](present.List(l.Plan.Ordered()))
	return LookAtForm200JSONResponse{Pages: present.Each(l.Sizes, size), Places: places}, err
}

// lookedAt draws a page of it.
func (h *Handlers) lookedAt(c *gin.Context) {
	var b contract.FormLookWish
	id, err := door.PathID(c)
	page, bad := strconv.Atoi(c.Param("page"))
	if err == nil && (bad != nil || page < 1) {
		err = fault.Missing()
	}
	if err == nil {
		door.LimitBody(c)
		if bad := json.NewDecoder(c.Request.Body).Decode(&b); bad != nil {
			h.BadBody(c, bad)
			return
		}
	}
	var l signing.Look
	if err == nil {
		l, err = h.look(c.Request.Context(), id, b)
	}
	var raw []byte
	if err == nil {
		raw, err = l.Page(c.Request.Context(), page)
	}
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.Data(http.StatusOK, "image/jpeg", raw)
}

// mostTable is how large a table may be that is brought, in bytes.
const mostTable = 4 << 20

// table reads rows of a form from a table that somebody brings; nothing of it is kept.
func (h *Handlers) table(c *gin.Context) {
	rows, unknown, err := h.tabled(c)
	var shown []contract.FormRow
	if err == nil {
		shown, err = present.Through[[]contract.FormRow](rows)
	}
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.JSON(http.StatusOK, contract.FormTable{Rows: shown, Unknown: present.List(unknown)})
}

func (h *Handlers) tabled(c *gin.Context) (rows []core.Row, unknown []string, err error) {
	id, err := door.PathID(c)
	if err != nil {
		return nil, nil, err
	}
	folder, err := uuid.Parse(c.Query("folder"))
	if err != nil {
		return nil, nil, fault.Parameter.New("the folder has the wrong form")
	}
	raw, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, mostTable))
	if err != nil {
		return nil, nil, fault.TooLargeFile.New("a table has at most %d bytes", mostTable)
	}
	return h.Signing.Table(c.Request.Context(), id, folder, raw)
}

func sent(m signing.Many) contract.SentToMany {
	out := contract.SentToMany{Id: m.ID, Form: m.Form, SentAt: m.SentAt, Waiting: m.Waiting, Sent: m.Sent, Refused: m.Refused, Lines: []contract.SentLine{}}
	for i, l := range m.Lines {
		out.Lines = append(out.Lines, contract.SentLine{Row: i, Names: present.List(l.Names), Signing: l.Signing, Refused: present.Some(l.Refused)})
	}
	return out
}

// ListSentToMany lists what somebody sent to many.
func (h *Handlers) ListSentToMany(ctx context.Context, _ ListSentToManyRequestObject) (ListSentToManyResponseObject, error) {
	all, err := h.Signing.SentToMany(ctx)
	return ListSentToMany200JSONResponse(present.Each(all, sent)), err
}

// GetSentToMany shows what came of each.
func (h *Handlers) GetSentToMany(ctx context.Context, r GetSentToManyRequestObject) (GetSentToManyResponseObject, error) {
	m, err := h.Signing.OneMany(ctx, r.Id)
	return GetSentToMany200JSONResponse(sent(m)), err
}

// SendToManyAgain tries again what was refused.
func (h *Handlers) SendToManyAgain(ctx context.Context, r SendToManyAgainRequestObject) (SendToManyAgainResponseObject, error) {
	return SendToManyAgain204Response{}, h.Signing.AgainMany(ctx, r.Id)
}

// FindSigningPlaces finds places that a document marks itself.
func (h *Handlers) FindSigningPlaces(ctx context.Context, r FindSigningPlacesRequestObject) (FindSigningPlacesResponseObject, error) {
	all, err := h.Signing.PlacesIn(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out, err := present.Through[[]contract.SigningPlace](present.List(all))
	return FindSigningPlaces200JSONResponse(out), err
}
