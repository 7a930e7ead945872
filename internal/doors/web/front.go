package web

import (
	"bytes"
	"fmt"
	"io/fs"
	"mime"
	"net/http"
	"net/url"
	"path"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/doors/web/door"
)

// frontEnd serves the built front end: its assets for ever, since their names
// carry their hash, compressed where the build has done so; the visitors' page
// under /l/; the application everywhere else. What is missing under /api and
// /assets is missing.
func (s *Server) frontEnd(engine *gin.Engine) error {
	pages := map[string][]byte{}
	for _, name := range []string{"index.html", "visitor.html"} {
		page, err := fs.ReadFile(s.Front, name)
		if err != nil {
			return fmt.Errorf("the front end is not built: %w", err)
		}
		pages[name] = page
	}
	show := func(name string) gin.HandlerFunc {
		return func(c *gin.Context) {
			c.Header("Cache-Control", "no-cache")
			c.Header("Content-Length", strconv.Itoa(len(pages[name])))
			// By gin's own writer: where no route fits it would add its page of a miss to
			// one that it does not know of.
			c.Data(http.StatusOK, "text/html; charset=utf-8", pages[name])
		}
	}
	for _, place := range []string{"/l/:token", "/l/:token/in/:folder", "/l/:token/look/:document", "/l/:token/write/:document"} {
		engine.GET(place, show("visitor.html"))
		engine.HEAD(place, show("visitor.html"))
	}
	// A published address is read out and printed; what stands behind it is the page of its link.
	toAddress := func(c *gin.Context) { c.Redirect(http.StatusFound, "/l/"+url.PathEscape(c.Param("name"))) }
	engine.GET("/to/:name", toAddress)
	engine.HEAD("/to/:name", toAddress)
	engine.GET("/assets/*name", s.asset)
	engine.NoRoute(func(c *gin.Context) {
		p := c.Request.URL.Path
		if strings.HasPrefix(p, "/api/") || strings.HasPrefix(p, "/assets/") || strings.HasPrefix(p, "/l/") ||
			c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
			s.Problem(c, fault.Missing())
			return
		}
		show("index.html")(c)
	})
	return nil
}

// unsealing is how the name of the visitors' service worker begins. It lies among the other assets
// and works for their page.
const unsealing = "assets/unsealing-"

func (s *Server) asset(c *gin.Context) {
	name := "assets/" + path.Clean("/" + c.Param("name"))[1:]
	body, err := fs.ReadFile(s.Front, name)
	if err != nil || strings.HasSuffix(name, ".gz") {
		s.Problem(c, fault.Missing())
		return
	}
	if strings.HasPrefix(name, unsealing) {
		c.Header("Service-Worker-Allowed", "/l/")
	}
	c.Header("Cache-Control", "public, max-age=31536000, immutable")
	if t := mime.TypeByExtension(path.Ext(name)); t != "" {
		c.Header("Content-Type", t)
	}
	c.Header("Vary", "Accept-Encoding")
	if small, err := fs.ReadFile(s.Front, name+".gz"); err == nil && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") {
		body = small
		c.Header("Content-Encoding", "gzip")
	}
	http.ServeContent(door.Plain(c), c.Request, name, time.Time{}, bytes.NewReader(body))
}
