package signing

import (
	"context"
	"io"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/signing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
	"tabularis/internal/platform/inspect"
	"tabularis/internal/platform/turns"
)

// sending is how long a paper of anybody's may take to arrive.
const sending = 2 * time.Minute

// Checks lets few papers of anybody's be held in memory at once.
func Checks() *turns.Queue {
	return turns.New(3, turns.Limits{All: 20, Each: 4, Patience: 20 * time.Second})
}

// check checks a signed PDF document that anybody brings. Nothing of it is kept.
func (h *Handlers) check(c *gin.Context) {
	asker := act.Who(c.Request.Context()).From()
	if err := h.Checks.Enter(c.Request.Context(), asker); err != nil {
		h.Problem(c, err)
		return
	}
	defer h.Checks.Leave(asker)
	// Whoever sends slowly keeps nobody else waiting for long.
	if err := http.NewResponseController(c.Writer).SetReadDeadline(time.Now().Add(sending)); err != nil {
		h.Problem(c, err)
		return
	}
	raw, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, signing.MostChecked))
	if err != nil {
		h.Problem(c, fault.TooLargeFile.New("at most %d bytes are checked", signing.MostChecked))
		return
	}
	report, err := h.Signing.Check(c.Request.Context(), raw)
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.JSON(http.StatusOK, checked(report))
}

// roots are the certificates that are trusted, as PEM.
func (h *Handlers) roots(c *gin.Context) {
	c.Header("Content-Disposition", door.Disposition("attachment", "roots.pem"))
	c.Data(http.StatusOK, "application/x-pem-file", h.Signing.RootsPEM())
}

// evidence gives the evidence pages of a request out by themselves.
func (h *Handlers) evidence(c *gin.Context) {
	id, err := door.PathID(c)
	var raw []byte
	name := ""
	if err == nil {
		raw, name, err = h.Signing.Evidence(c.Request.Context(), id)
	}
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.Header("Content-Disposition", door.Disposition("attachment", name))
	c.Data(http.StatusOK, "application/pdf", raw)
}

// CheckDocument checks the content that counts of a document.
func (h *Handlers) CheckDocument(ctx context.Context, r CheckDocumentRequestObject) (CheckDocumentResponseObject, error) {
	report, err := h.Signing.CheckDocument(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return CheckDocument200JSONResponse(checked(report)), nil
}

func checked(r inspect.Report) contract.PaperCheck {
	return contract.PaperCheck{Verdict: contract.PaperCheckVerdict(r.Verdict), Bytes: int64(r.Bytes), Pages: r.Pages, Signatures: present.Each(r.Signatures, signatureOf)}
}

func signatureOf(s inspect.Signature) contract.PaperSignature {
	return contract.PaperSignature{Field: s.Field, Stamps: s.Stamps, By: s.By, For: present.Some(s.For), Root: present.Some(s.Root), Serial: present.Some(s.Serial), ValidUntil: present.Some(s.Until), Reason: present.Some(s.Reason),
		SaidAt: present.Some(s.Said), StampedAt: present.Some(s.Stamped), StampedBy: present.Some(s.StampedBy), Covered: int64(s.Covered), Sha256: s.SHA256, Trusted: s.Trusted, Known: contract.PaperSignatureKnown(s.Known),
		Faults: present.Each(s.Faults, func(f inspect.Fault) contract.PaperSignatureFaults { return contract.PaperSignatureFaults(f) }),
		After: present.Each(s.After, func(c inspect.Change) contract.PaperChange {
			return contract.PaperChange{What: contract.PaperChangeWhat(c.What), Page: c.Page, Name: c.Name, Signed: c.Signed}
		})}
}
