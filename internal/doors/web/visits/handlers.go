package visits

import (
	"context"
	"net/http"

	"github.com/gin-gonic/gin"

	"tabularis/core/items"
	"tabularis/core/linkgate"
	"tabularis/internal/app/live"
	"tabularis/internal/app/remarks"
	"tabularis/internal/app/visits"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// ArriveAtLink shows a link's front.
func (h *Handlers) ArriveAtLink(ctx context.Context, r ArriveAtLinkRequestObject) (ArriveAtLinkResponseObject, error) {
	f, err := h.Visits.Arrive(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token))
	if err != nil {
		return nil, err
	}
	return ArriveAtLink200JSONResponse{
		Kind:          contract.LinkKind(f.Link.Kind),
		Open:          f.Open,
		NeedsPassword: f.NeedsPassword,
		ViewOnly:      present.Some(f.Link.Kind == linkgate.Transfer && !f.Link.MayDownload),
		Identify:      contract.Identity(f.Link.Identify.String()),
		KnownAs:       present.Some(f.KnownAs),
		Practice:      f.Practice,
		Tagline:       f.Tagline,
		Sender:        &f.Sender,
		Language:      &f.Link.Language,
	}, nil
}

// OpenLink lets a visitor in.
func (h *Handlers) OpenLink(ctx context.Context, r OpenLinkRequestObject) (OpenLinkResponseObject, error) {
	token, l, err := h.Visits.Open(
		ctx,
		door.VisitorOf(ctx.(*gin.Context), r.Token),
		visits.Claim{Password: present.Or(r.Body.Password, ""), Email: present.Or(r.Body.Email, ""), Code: present.Or(r.Body.Code, "")},
	)
	if err != nil {
		return nil, err
	}
	if token != "" {
		life := linkgate.VisitLength
		if l.Until != nil {
			life = min(life, l.Until.Sub(h.Acts.Now()))
		}
		h.SetCookie(ctx, door.VisitCookie+l.ID.String(), token, life)
	}
	return OpenLink204Response{}, nil
}

// SendLinkCode sends a visitor a code.
func (h *Handlers) SendLinkCode(ctx context.Context, r SendLinkCodeRequestObject) (SendLinkCodeResponseObject, error) {
	return SendLinkCode202Response{}, h.Visits.SendCode(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), r.Body.Email)
}

// GetLinkContents shows what a link gives.
func (h *Handlers) GetLinkContents(ctx context.Context, r GetLinkContentsRequestObject) (GetLinkContentsResponseObject, error) {
	got, err := h.Visits.Given(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), present.Or(r.Params.Folder, [16]byte{}))
	if err != nil {
		return nil, err
	}
	folders := func(i items.Item) contract.LinkFolder { return contract.LinkFolder{Id: i.ID, Name: i.Name} }
	out := GetLinkContents200JSONResponse{
		Name:      got.Link.Name,
		Sender:    present.Person(got.Sender),
		Message:   got.Link.Message,
		Sentence:  present.Sentence(got.Sentence),
		Newest:    got.Link.Newest,
		ViewOnly:  !got.Link.MayDownload,
		MayRemark: got.Link.Remarks && got.Link.Kind == linkgate.HandOut,
		MayAdd:    got.Link.Kind == linkgate.Working,
		Language:  got.Link.Language,
		Way:       present.Each(got.Way, folders),
		Folders:   present.Each(got.Folders, folders),
		Bytes:     got.Bytes,
		Count:     got.Count,
		KeptBack:  present.Some(got.KeptBack),
		ToSign:    present.Some(got.ToSign),
		Files:     []contract.LinkFile{},
	}
	for _, f := range got.Files {
		out.Files = append(out.Files, present.LinkFile(got, f))
	}
	return out, nil
}

// PreviewLinkDocument prepares text of a document that a link gives.
func (h *Handlers) PreviewLinkDocument(ctx context.Context, r PreviewLinkDocumentRequestObject) (PreviewLinkDocumentResponseObject, error) {
	p, err := h.Visits.Preview(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), r.Id)
	return PreviewLinkDocument200JSONResponse(present.Preview(p)), err
}

// GetIntake shows what a link takes in.
func (h *Handlers) GetIntake(ctx context.Context, r GetIntakeRequestObject) (GetIntakeResponseObject, error) {
	in, err := h.Visits.Intake(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token))
	return GetIntake200JSONResponse(visitIntake(in)), err
}

// HandIn ends handing papers in.
func (h *Handlers) HandIn(ctx context.Context, r HandInRequestObject) (HandInResponseObject, error) {
	in, err := h.Visits.HandIn(
		ctx,
		door.VisitorOf(ctx.(*gin.Context), r.Token),
		visits.Signed{Name: present.Or(r.Body.Name, ""), Email: present.Or(r.Body.Email, ""), Note: present.Or(r.Body.Note, ""), Manifest: present.Or(r.Body.Manifest, nil)},
	)
	return HandIn200JSONResponse(visitIntake(in)), err
}

// WithdrawPaper takes back what a visitor brought.
func (h *Handlers) WithdrawPaper(ctx context.Context, r WithdrawPaperRequestObject) (WithdrawPaperResponseObject, error) {
	in, err := h.Visits.Withdraw(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), r.Id)
	return WithdrawPaper200JSONResponse(visitIntake(in)), err
}

// OutlineLinkDocument says which pages a document has.
func (h *Handlers) OutlineLinkDocument(ctx context.Context, r OutlineLinkDocumentRequestObject) (OutlineLinkDocumentResponseObject, error) {
	o, err := h.Visits.Outline(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), r.Id)
	if err != nil {
		return nil, err
	}
	return OutlineLinkDocument200JSONResponse(present.Outline(o)), nil
}

// NoteLook notes how long a visitor looked at what.
func (h *Handlers) NoteLook(ctx context.Context, r NoteLookRequestObject) (NoteLookResponseObject, error) {
	return NoteLook204Response{}, h.Visits.Look(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), r.Id, visits.Looked{Pages: r.Body.Pages, Seconds: r.Body.Seconds})
}

// ListLinkRemarks lists what was said through the link about a document.
func (h *Handlers) ListLinkRemarks(ctx context.Context, r ListLinkRemarksRequestObject) (ListLinkRemarksResponseObject, error) {
	all, err := h.Visits.Remarks(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), r.Id)
	return ListLinkRemarks200JSONResponse(present.Each(all, func(t remarks.HeardThread) contract.HeardThread {
		return contract.HeardThread{Id: t.ID, Resolved: t.Resolved, Remarks: present.Each(t.Said, func(h remarks.Heard) contract.HeardRemark {
			return contract.HeardRemark{Id: h.ID, By: h.By, Mine: h.Mine, At: h.At, Text: h.Text, Removed: h.Removed}
		})}
	})), err
}

// SayThroughLink says something about a document.
func (h *Handlers) SayThroughLink(ctx context.Context, r SayThroughLinkRequestObject) (SayThroughLinkResponseObject, error) {
	id, err := h.Visits.Say(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), r.Id, r.Body.Text, r.Body.Thread)
	return SayThroughLink201JSONResponse{Id: id}, err
}

// Handlers serve the operations of visits.
type Handlers struct {
	*door.Door
	// Protocol serves resumable uploads.
	Protocol http.Handler
	Hub      *live.Hub
	Visits   *visits.Service
}
