package testkit

import (
	"net/http"
	"net/http/httptest"
	"os"
	"sync"
	"time"

	"tabularis/internal/platform/authority"
	"tabularis/internal/platform/signature"
	"tabularis/internal/server"
)

// trust is the authority of all tests, and a practice's key that it vouches for.
var trust = sync.OnceValues(func() (server.Signing, error) {
	var a *authority.Authority
	srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { a.Handler().ServeHTTP(w, r) }))
	dir, err := os.MkdirTemp("", "authority")
	if err != nil {
		return server.Signing{}, err
	}
	defer os.RemoveAll(dir)
	if a, err = authority.Open(dir, srv.URL, time.Now); err != nil {
		return server.Signing{}, err
	}
	key, chain, err := a.Issue("Halyard & Rook", authority.P256, 365*24*time.Hour)
	if err != nil {
		return server.Signing{}, err
	}
	roots, err := signature.Certificates(a.Roots())
	return server.Signing{Seal: &signature.Seal{Key: key, Chain: chain}, Stamp: srv.URL + "/stamp", Roots: roots}, err
})
