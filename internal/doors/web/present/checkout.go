package present

import (
	"github.com/google/uuid"

	"tabularis/internal/app/checkout"
	"tabularis/internal/doors/web/contract"
)

// Held says who has a document in hand; nil where nobody has.
func Held(h *checkout.Held, me uuid.UUID) *contract.Held {
	if h == nil {
		return nil
	}
	return &contract.Held{By: h.Holder, ByMe: h.PersonID == me, Since: h.Since, Note: h.Note, Back: h.Back, Keeps: h.Keeps, Version: h.Version}
}
