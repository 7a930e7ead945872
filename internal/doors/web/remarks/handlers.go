package remarks

import (
	"context"
	"net/http"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	rules "tabularis/core/remarks"
	"tabularis/internal/app/listing"
	"tabularis/internal/app/remarks"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
	"tabularis/internal/platform/office"
)

// Handlers serve the operations of remarks.
type Handlers struct {
	*door.Door
	Remarks *remarks.Service
}

// ListRemarks shows what was said.
func (h *Handlers) ListRemarks(ctx context.Context, r ListRemarksRequestObject) (ListRemarksResponseObject, error) {
	before, err := listing.ParseMark(present.Or(r.Params.Before, ""))
	if err != nil {
		return nil, err
	}
	p, err := h.Remarks.List(ctx, r.Id, remarks.Filter(present.Or(r.Params.Show, "all")), before)
	return ListRemarks200JSONResponse{
		Threads: present.Each(p.Threads, thread), Total: p.Tally.Threads, Resolved: p.Tally.Resolved, Unread: p.Tally.Unread, Named: p.Tally.Named,
		MayRemark: p.MayRemark, MayShare: p.MayShare, InWord: p.InWord, Next: present.Some(p.Next.String()),
	}, err
}

func thread(t remarks.Thread) contract.RemarkThread {
	first := t.Said[0]
	return contract.RemarkThread{
		Id: first.ID, Remarks: present.Each(t.Said, remark), Place: place(t.Place), Version: present.Some(t.Version), Carried: t.Carried,
		Resolved: first.ResolvedAt, ResolvedBy: first.ResolvedOf,
	}
}

func remark(r remarks.Said) contract.Remark {
	named := func(n remarks.Named) contract.NamedPerson { return contract.NamedPerson{Id: n.Person, Name: n.Name} }
	out := contract.Remark{
		Id: r.ID, By: r.By, Guest: r.Guest, ByLink: present.Some(r.LinkID != nil), Mine: r.Mine, At: r.At, Edited: r.EditedAt, Text: r.Said, Removed: r.RemovedAt != nil,
		Mentions: present.Each(r.Named, named), Ticks: present.Each(r.Ticks, named), Unread: r.Unread, MayChange: r.MayChange, MayRemove: r.MayRemove,
	}
	return out
}

func place(p *rules.Place) *contract.RemarkPlace {
	if p == nil {
		return nil
	}
	return &contract.RemarkPlace{
		Kind: contract.RemarkPlaceKind(p.Kind), Page: present.Some(p.Page), X: present.Some(p.X), Y: present.Some(p.Y), Width: present.Some(p.Width), Height: present.Some(p.Height),
		Words: present.Some(p.Words), Sheet: present.Some(p.Sheet), Row: present.Some(p.Row), Column: present.Some(p.Column),
	}
}

func asked(p *contract.RemarkPlace) *rules.Place {
	if p == nil {
		return nil
	}
	return &rules.Place{
		Kind: rules.Kind(p.Kind), Page: present.Or(p.Page, 0), X: present.Or(p.X, 0), Y: present.Or(p.Y, 0), Width: present.Or(p.Width, 0), Height: present.Or(p.Height, 0),
		Words: present.Or(p.Words, ""), Sheet: present.Or(p.Sheet, ""), Row: present.Or(p.Row, 0), Column: present.Or(p.Column, 0),
	}
}

// WriteRemark says something.
func (h *Handlers) WriteRemark(ctx context.Context, r WriteRemarkRequestObject) (WriteRemarkResponseObject, error) {
	b := r.Body
	id, err := h.Remarks.Write(ctx, r.Id, remarks.Wish{Text: b.Text, Thread: b.Thread, Place: asked(b.Place), Version: present.Or(b.Version, 0), Named: present.Or(b.Mentions, nil)})
	return WriteRemark201JSONResponse{Id: id}, err
}

// SawRemarks notes that all is read.
func (h *Handlers) SawRemarks(ctx context.Context, r SawRemarksRequestObject) (SawRemarksResponseObject, error) {
	return SawRemarks204Response{}, h.Remarks.Seen(ctx, r.Id)
}

// ListNameable lists whom a remark can name.
func (h *Handlers) ListNameable(ctx context.Context, r ListNameableRequestObject) (ListNameableResponseObject, error) {
	all, err := h.Remarks.Seers(ctx, r.Id)
	return ListNameable200JSONResponse(present.Each(all, present.Person)), err
}

// EditRemark says it otherwise.
func (h *Handlers) EditRemark(ctx context.Context, r EditRemarkRequestObject) (EditRemarkResponseObject, error) {
	return EditRemark204Response{}, h.Remarks.Edit(ctx, r.Id, r.Body.Text, present.Or(r.Body.Mentions, nil))
}

// RemoveRemark takes one away.
func (h *Handlers) RemoveRemark(ctx context.Context, r RemoveRemarkRequestObject) (RemoveRemarkResponseObject, error) {
	return RemoveRemark204Response{}, h.Remarks.Remove(ctx, r.Id)
}

// ResolveRemark settles a thread.
func (h *Handlers) ResolveRemark(ctx context.Context, r ResolveRemarkRequestObject) (ResolveRemarkResponseObject, error) {
	return ResolveRemark204Response{}, h.Remarks.Resolve(ctx, r.Id, true)
}

// ReopenRemark opens one again.
func (h *Handlers) ReopenRemark(ctx context.Context, r ReopenRemarkRequestObject) (ReopenRemarkResponseObject, error) {
	return ReopenRemark204Response{}, h.Remarks.Resolve(ctx, r.Id, false)
}

// TickRemark puts a tick at one.
func (h *Handlers) TickRemark(ctx context.Context, r TickRemarkRequestObject) (TickRemarkResponseObject, error) {
	return TickRemark204Response{}, h.Remarks.Tick(ctx, r.Id, true)
}

// UntickRemark takes it away.
func (h *Handlers) UntickRemark(ctx context.Context, r UntickRemarkRequestObject) (UntickRemarkResponseObject, error) {
	return UntickRemark204Response{}, h.Remarks.Tick(ctx, r.Id, false)
}

// table gives all remarks about an item out as CSV.
func (h *Handlers) table(c *gin.Context) {
	h.exported(c, func(id uuid.UUID) error {
		rows, name, err := h.Remarks.Table(c.Request.Context(), id)
		if err == nil {
			door.SendTable(c, name, remarks.Columns, rows)
		}
		return err
	})
}

// paper gives them out as PDF.
func (h *Handlers) paper(c *gin.Context) {
	h.exported(c, func(id uuid.UUID) error {
		raw, name, err := h.Remarks.Paper(c.Request.Context(), id)
		if err == nil {
			c.Header("Content-Disposition", door.Disposition("attachment", name+".pdf"))
			c.Data(http.StatusOK, "application/pdf", raw)
		}
		return err
	})
}

// word gives the document out with them.
func (h *Handlers) word(c *gin.Context) {
	h.exported(c, func(id uuid.UUID) error {
		raw, name, err := h.Remarks.Word(c.Request.Context(), id)
		if err == nil {
			c.Header("Content-Disposition", door.Disposition("attachment", name+".docx"))
			c.Data(http.StatusOK, office.Word, raw)
		}
		return err
	})
}

func (h *Handlers) exported(c *gin.Context, write func(id uuid.UUID) error) {
	id, err := door.PathID(c)
	if err == nil {
		err = write(id)
	}
	if err != nil {
		h.Problem(c, err)
	}
}
