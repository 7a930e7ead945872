package door

import (
	"context"
	"encoding/hex"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"tabularis/internal/platform/secret"
)

// agent says in a few words which program asks, as far as it tells.
func agent(header string) string {
	program, system := "", ""
	for _, p := range []struct{ in, name string }{{"Edg/", "Edge"}, {"OPR/", "Opera"}, {"Firefox/", "Firefox"}, {"Chrome/", "Chrome"}, {"Safari/", "Safari"}, {"curl/", "curl"}} {
		if strings.Contains(header, p.in) {
			program = p.name
			break
		}
	}
	for _, p := range []struct{ in, name string }{{"Android", "Android"}, {"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Windows", "Windows"}, {"Mac OS X", "macOS"}, {"Linux", "Linux"}} {
		if strings.Contains(header, p.in) {
			system = p.name
			break
		}
	}
	switch {
	case program == "":
		return system
	case system == "":
		return program
	}
	return program + ", " + system
}

// Metrics counts what the server does, for whoever watches it.
type Metrics struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec
}

// NewMetrics makes counters of one server.
func NewMetrics(connections func() (used, most int32)) *Metrics {
	m := &Metrics{registry: prometheus.NewRegistry(), requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{
		Name: "tabularis_request_seconds", Help: "How long requests took, by route and status.", Buckets: []float64{.005, .02, .1, .5, 2, 10, 60, 600},
	}, []string{"method", "route", "status"})}
	used := prometheus.NewGaugeFunc(
		prometheus.GaugeOpts{Name: "tabularis_database_connections_used", Help: "Connections to the database in use."},
		func() float64 { u, _ := connections(); return float64(u) },
	)
	most := prometheus.NewGaugeFunc(
		prometheus.GaugeOpts{Name: "tabularis_database_connections_most", Help: "Connections to the database at most."},
		func() float64 { _, m := connections(); return float64(m) },
	)
	m.registry.MustRegister(m.requests, used, most, prometheus.NewGoCollector(), prometheus.NewProcessCollector(prometheus.ProcessCollectorOpts{}))
	return m
}

// Handler shows the counters in Prometheus' text format.
func (m *Metrics) Handler() http.Handler {
	return promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{})
}

type requestIDKey struct{}

// Observe gives each request an id, writes one line about it, and counts it.
// Lines hold the route, never the address: that can hold secrets and names.
func (s *Door) Observe(c *gin.Context) {
	begun, id := time.Now(), hex.EncodeToString(secret.Random(8))
	c.Header("X-Request-Id", id)
	c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), requestIDKey{}, id))
	c.Next()
	route := c.FullPath()
	if route == "" {
		route = "other"
	}
	took := time.Since(begun)
	s.Metrics.requests.WithLabelValues(c.Request.Method, route, strconv.Itoa(c.Writer.Status())).Observe(took.Seconds())
	s.Log.Info("request", "id", id, "method", c.Request.Method, "route", route, "status", c.Writer.Status(), "took", took.Round(time.Microsecond).String())
}
