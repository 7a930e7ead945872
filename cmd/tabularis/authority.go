package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"time"

	"tabularis/internal/platform/authority"
	"tabularis/internal/platform/signature"
	"tabularis/internal/server"
)

// demoSigning starts the stand-in for the authorities, and has it issue the practice's key where there is none yet.
func demoSigning(ctx context.Context, o demoOptions) (server.Signing, error) {
	listener, err := net.Listen("tcp", o.authority)
	if err != nil {
		return server.Signing{}, fmt.Errorf("%s is taken; choose another address: make demo AUTHORITY=127.0.0.1:8027", o.authority)
	}
	dir := filepath.Join(o.dir, "authority")
	a, err := authority.Open(dir, address(o.authority), time.Now)
	if err != nil {
		return server.Signing{}, err
	}
	srv := &http.Server{Handler: a.Handler(), ReadHeaderTimeout: 10 * time.Second}
	go func() { _ = srv.Serve(listener) }()
	context.AfterFunc(ctx, func() { _ = srv.Close() })
	s := server.Signing{Key: filepath.Join(dir, "practice.key.pem"), Chain: filepath.Join(dir, "practice.pem"), Trusted: filepath.Join(dir, "roots.pem"), Stamp: address(o.authority) + "/stamp"}
	if _, err := os.Stat(s.Key); !errors.Is(err, fs.ErrNotExist) {
		return s, err
	}
	return s, issue(a, s)
}

func issue(a *authority.Authority, s server.Signing) error {
	key, chain, err := a.Issue("Halyard & Rook", authority.P256, 3*365*24*time.Hour)
	if err != nil {
		return err
	}
	kept, err := signature.KeyPEM(key)
	if err != nil {
		return err
	}
	return errors.Join(os.WriteFile(s.Trusted, a.Roots(), 0o644), os.WriteFile(s.Chain, signature.PEM(chain...), 0o644), os.WriteFile(s.Key, kept, 0o600))
}
