package visits

import (
	"net/http"
	"strings"

	"tabularis/internal/doors/web/door"

	"github.com/gin-gonic/gin"
)

// relocated says that an upload lies below another address than the protocol's
// handler was told.
type relocated struct {
	http.ResponseWriter
	base string
}

func (r relocated) Unwrap() http.ResponseWriter { return r.ResponseWriter }

func (r relocated) WriteHeader(status int) {
	if at := r.Header().Get("Location"); at != "" {
		r.Header().Set("Location", r.base+at[strings.LastIndex(at, "/"):])
	}
	r.ResponseWriter.WriteHeader(status)
}

// uploads serves resumable uploads of visitors, each at an address below
// their link's.
func (h *Handlers) uploads(c *gin.Context) {
	base := "/api/visits/" + c.Param("token") + "/uploads"
	ctx := h.Visits.Bringing(c.Request.Context(), door.VisitorOf(c, c.Param("token")))
	r := c.Request.WithContext(ctx)
	u := *r.URL
	u.Path, u.RawPath = strings.TrimPrefix(c.Param("id"), "/"), ""
	r.URL = &u
	h.Protocol.ServeHTTP(relocated{c.Writer, base}, r)
}
