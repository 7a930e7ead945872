package door

import (
	"bytes"
	"io"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
)

// SendPage serves a page of a document as a picture, :page in ?width= pixels, drawn by
// draw. It is the asker's own, and kept nowhere on its way. err is what the rest of
// the request failed with.
func (d *Door) SendPage(c *gin.Context, err error, draw func(page, width int, to io.Writer) error) {
	page, pageErr := strconv.Atoi(c.Param("page"))
	width, widthErr := strconv.Atoi(c.Query("width"))
	if err == nil && (pageErr != nil || widthErr != nil || page < 1) {
		err = fault.Parameter.New("the page and its width are numbers from 1")
	}
	var out bytes.Buffer
	if err == nil {
		err = draw(page, width, &out)
	}
	if err != nil {
		d.Problem(c, err)
		return
	}
	c.Header("Cache-Control", "private, no-store")
	c.Data(http.StatusOK, "image/jpeg", out.Bytes())
}
