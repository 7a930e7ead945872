package door

import (
	"encoding/csv"

	"github.com/gin-gonic/gin"

	"tabularis/core/names"
)

// SendTable sends rows as CSV (RFC 4180), which no spreadsheet takes for formulas.
func SendTable(c *gin.Context, name string, head []string, rows [][]string) {
	c.Header("Content-Type", "text/csv; charset=utf-8")
	c.Header("Content-Disposition", Disposition("attachment", name+".csv"))
	w := csv.NewWriter(c.Writer)
	w.UseCRLF = true
	_ = w.Write(head)
	for _, row := range rows {
		_ = w.Write(names.Cells(row))
	}
	w.Flush()
}
