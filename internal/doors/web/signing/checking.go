package signing

import (
	"context"
	"io"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/signing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
	"tabularis/internal/platform/inspect"
	"tabularis/internal/platform/turns"
)

const (
	// atOnce is how many papers of anybody's are held in memory at once, sending how long one may take to arrive.
	atOnce  = 3
	sending = 2 * time.Minute
)

func (h *Handlers) checks() chan struct{} {
	h.once.Do(func() { h.checking = make(chan struct{}, atOnce) })
	return h.checking
}

// check checks a signed PDF document that anybody brings. Nothing of it is kept.
func (h *Handlers) check(c *gin.Context) {
	select {
	case h.checks() <- struct{}{}:
		defer func() { <-h.checks() }()
	default:
		h.Problem(c, turns.Busy())
		return
	}
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
