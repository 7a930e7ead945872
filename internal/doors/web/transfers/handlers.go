package transfers

import (
	"bytes"
	"context"

	"github.com/gin-gonic/gin"

	"tabularis/core/linkgate"
	rules "tabularis/core/transfers"
	"tabularis/internal/app/links"
	"tabularis/internal/app/transfers"
	"tabularis/internal/app/visits"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of transfers.
type Handlers struct {
	*door.Door
	Transfers *transfers.Service
	Visits    *visits.Service
}

// ListTransfers lists one's own.
func (h *Handlers) ListTransfers(ctx context.Context, r ListTransfersRequestObject) (ListTransfersResponseObject, error) {
	all, err := h.Transfers.List(ctx, present.Or(r.Params.Over, false))
	return ListTransfers200JSONResponse(present.Each(all, present.Transfer)), err
}

func wish(b *contract.TransferWish) (transfers.Wish, error) {
	terms, err := present.Terms(b)
	w := transfers.Wish{TellAfter: present.Or(b.TellAfterDays, 0), To: present.Or(b.To, nil), Message: present.Or(b.Message, "")}
	w.Wish = links.Wish{Items: present.Or(b.Items, nil), Name: present.Or(b.Name, ""), UntilSet: b.Until != nil, Terms: terms, Password: present.Or(b.Password, ""), Language: string(present.Or(b.Language, "en"))}
	w.Files = announced(present.Or(b.Files, nil))
	if err == nil {
		w.Sealed, err = linkgate.ParseSeal("sealed", string(present.Or(b.Sealed, "")))
	}
	return w, err
}

func announced(files []contract.AnnouncedFile) []rules.File {
	return present.Each(files, func(f contract.AnnouncedFile) rules.File { return rules.File{Name: f.Name, Size: f.Size} })
}

// MakeTransfer makes a transfer.
func (h *Handlers) MakeTransfer(ctx context.Context, r MakeTransferRequestObject) (MakeTransferResponseObject, error) {
	w, err := wish(r.Body)
	if err != nil {
		return nil, err
	}
	t, err := h.Transfers.Make(ctx, w)
	return MakeTransfer201JSONResponse(present.Transfer(t)), err
}

// DraftTransfer says what a transfer would mean.
func (h *Handlers) DraftTransfer(ctx context.Context, r DraftTransferRequestObject) (DraftTransferResponseObject, error) {
	w, err := wish(r.Body)
	if err != nil {
		return nil, err
	}
	d, err := h.Transfers.Draft(ctx, w)
	return DraftTransfer200JSONResponse(present.LinkDraft(d)), err
}

// GetTransfer shows one's own.
func (h *Handlers) GetTransfer(ctx context.Context, r GetTransferRequestObject) (GetTransferResponseObject, error) {
	t, err := h.Transfers.One(ctx, r.Id)
	return GetTransfer200JSONResponse(present.Transfer(t)), err
}

// EndTransfer takes it back.
func (h *Handlers) EndTransfer(ctx context.Context, r EndTransferRequestObject) (EndTransferResponseObject, error) {
	return EndTransfer204Response{}, h.Transfers.End(ctx, r.Id)
}

// ReopenTransfer undoes that.
func (h *Handlers) ReopenTransfer(ctx context.Context, r ReopenTransferRequestObject) (ReopenTransferResponseObject, error) {
	return ReopenTransfer204Response{}, h.Transfers.Reopen(ctx, r.Id)
}

// AddTransferFiles lets files join.
func (h *Handlers) AddTransferFiles(ctx context.Context, r AddTransferFilesRequestObject) (AddTransferFilesResponseObject, error) {
	t, err := h.Transfers.AddFiles(ctx, r.Id, announced(*r.Body))
	return AddTransferFiles200JSONResponse(present.Transfer(t)), err
}

// LeaveOutTransferFile takes a file out.
func (h *Handlers) LeaveOutTransferFile(ctx context.Context, r LeaveOutTransferFileRequestObject) (LeaveOutTransferFileResponseObject, error) {
	return LeaveOutTransferFile204Response{}, h.Transfers.LeaveOut(ctx, r.Id, r.File)
}

// SendTransfer sends it to recipients.
func (h *Handlers) SendTransfer(ctx context.Context, r SendTransferRequestObject) (SendTransferResponseObject, error) {
	return SendTransfer202Response{}, h.Transfers.Send(ctx, r.Id, r.Body.To, present.Or(r.Body.Message, ""))
}

// RemindOfTransfer reminds a recipient.
func (h *Handlers) RemindOfTransfer(ctx context.Context, r RemindOfTransferRequestObject) (RemindOfTransferResponseObject, error) {
	return RemindOfTransfer202Response{}, h.Transfers.Remind(ctx, r.Id, r.Body.To)
}

// SetTransferManifest keeps the sealed list of what is in it.
func (h *Handlers) SetTransferManifest(ctx context.Context, r SetTransferManifestRequestObject) (SetTransferManifestResponseObject, error) {
	return SetTransferManifest204Response{}, h.Transfers.SetManifest(ctx, r.Id, r.Body.Content)
}

// GetVisitedManifest gives that list to a visitor.
func (h *Handlers) GetVisitedManifest(ctx context.Context, r GetVisitedManifestRequestObject) (GetVisitedManifestResponseObject, error) {
	content, err := h.Transfers.Manifest(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token))
	return GetVisitedManifest200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: int64(len(content))}, err
}

// GetVisitedTransfer shows a transfer to a visitor.
func (h *Handlers) GetVisitedTransfer(ctx context.Context, r GetVisitedTransferRequestObject) (GetVisitedTransferResponseObject, error) {
	t, err := h.Transfers.Given(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token))
	if err != nil {
		return nil, err
	}
	out := GetVisitedTransfer200JSONResponse{
		Name: t.Link.Name, Sender: present.Person(t.Sender), Message: t.Link.Message, Sentence: present.Sentence(t.Sentence), ViewOnly: !t.Link.MayDownload, Sealed: present.Some(contract.TransferSeal(t.Link.Sealed)), Language: t.Link.Language,
		Until: t.Link.Until, For: present.Some(t.For), KeptBack: present.Some(t.KeptBack), Files: []contract.VisitedFile{},
	}
	for _, f := range t.Files {
		shown := contract.VisitedFile{Id: f.ID, Name: f.Name, Size: f.Size, Received: f.Received, Fetchable: f.Fetchable}
		if f.Given != nil {
			document := present.LinkFile(t.Contents, *f.Given)
			shown.Document = &document
		}
		out.Bytes, out.Received = out.Bytes+f.Size, out.Received+f.Received
		out.Files = append(out.Files, shown)
	}
	return out, nil
}
