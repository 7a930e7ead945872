package dossiers

import (
	"cmp"
	"fmt"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/doors/web/door"
)

// mostRows is how many rows of a register go into one table.
const mostRows = 100_000

// table gives a folder's register out as CSV, with what stands in its particulars.
func (h *Handlers) table(c *gin.Context) {
	id, err := uuid.Parse(c.Param("id"))
	if err != nil {
		h.Problem(c, fault.Missing())
		return
	}
	var rows []dossiers.Row
	var page dossiers.Page
	for first := true; first || page.Next != "" && len(rows) < mostRows; first = false {
		if page, err = h.Dossiers.Register(c.Request.Context(), id, dossiers.Seen{}, dossiers.Reading{Order: dossiers.Order{Name: "number"}}, page.Next, longestPage); err != nil {
			h.Problem(c, err)
			return
		}
		rows = append(rows, page.Rows...)
	}
	head, columns := columnsOf(rows)
	table := make([][]string, len(rows))
	for i, r := range rows {
		changed := ""
		if r.Last != nil {
			changed = r.Last.At.UTC().Format(time.RFC3339)
		}
		table[i] = []string{fmt.Sprint(*r.Number), documents.Place{Item: r.Item, Code: page.Code}.Ref(), r.Name, fmt.Sprint(r.Version), fmt.Sprint(r.Size), r.MediaType, changed}
		for _, p := range columns {
			table[i] = append(table[i], valueIn(r, p))
		}
	}
	door.SendTable(c, page.Code, append([]string{"number", "document", "name", "version", "bytes", "type", "changed"}, head...), table)
}

// columnsOf are the particulars in which something stands in one of the rows.
func columnsOf(rows []dossiers.Row) (head []string, columns []uuid.UUID) {
	seen := map[uuid.UUID]bool{}
	for _, r := range rows {
		for _, f := range r.Particulars {
			if !seen[f.ID] {
				seen[f.ID] = true
				head, columns = append(head, f.Name), append(columns, f.ID)
			}
		}
	}
	return head, columns
}

// valueIn is what stands in a particular, people by their names.
func valueIn(r dossiers.Row, particular uuid.UUID) string {
	for _, f := range r.Particulars {
		if f.ID == particular {
			return cmp.Or(f.Person, f.Value)
		}
	}
	return ""
}
