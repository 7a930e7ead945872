package links

import (
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/register"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

func recordLine(e events.Named) []string {
	shown := present.Event(e)
	data := map[string]string{}
	if shown.Data != nil {
		data = *shown.Data
	}
	by, known := e.Actor, ""
	if e.Outside {
		by, known = data["email"], data["known"]
	}
	document, version := "", ""
	if e.ItemNumber != nil {
		document = register.Ref{Code: e.DossierCode, Number: *e.ItemNumber}.String()
	}
	if e.Version != nil {
		version = fmt.Sprint(*e.Version)
	}
	var details []string
	for _, key := range []string{"reason", "opening", "limit", "copy", "to", "terms", "files", "sha256", "person", "note", "missing"} {
		if data[key] != "" {
			details = append(details, key+" "+data[key])
		}
	}
	return []string{
		e.At.UTC().Format(time.RFC3339),
		strings.TrimPrefix(e.Kind, "link."),
		by,
		known,
		document,
		version,
		e.Network,
		e.Agent,
		strings.Join(details, "; "),
	}
}

// record gives a link's record out as CSV (RFC 4180), oldest act first.
func (h *Handlers) record(c *gin.Context) {
	id, err := uuid.Parse(c.Param("id"))
	if err != nil {
		h.Problem(c, fault.Missing())
		return
	}
	l, events, err := h.Links.Record(c.Request.Context(), id)
	if err != nil {
		h.Problem(c, err)
		return
	}
	rows := make([][]string, 0, len(events))
	for i := len(events) - 1; i >= 0; i-- {
		rows = append(rows, recordLine(events[i]))
	}
	door.SendTable(c, l.Name, []string{"at", "act", "by", "known", "document", "version", "network", "program", "details"}, rows)
}

// picture shows a link's address as a QR code.
func (h *Handlers) picture(c *gin.Context) {
	id, err := uuid.Parse(c.Param("id"))
	if err != nil {
		h.Problem(c, fault.Missing())
		return
	}
	picture, err := h.Links.Picture(c.Request.Context(), id)
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.Data(http.StatusOK, "image/png", picture)
}
