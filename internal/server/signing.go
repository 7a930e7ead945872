package server

import (
	"crypto"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"net/http"
	"os"
	"time"

	"tabularis/internal/app/signing"
	"tabularis/internal/platform/signature"
)

// Signing is by what papers are sealed: a key with its certificates and those of the authorities above it, an
// authority that stamps with the time (RFC 3161), and the roots that are trusted. They are read from files, or there already.
type Signing struct {
	Key, Chain, Stamp, Trusted string
	Seal                       *signature.Seal
	Roots                      []*x509.Certificate
}

// asking is how long another authority may take to answer.
const asking = 20 * time.Second

// open reads the key and the certificates. Without a key nothing is sent for signing.
func (s *Signing) open() (out signing.Sealing, err error) {
	out = signing.Sealing{Seal: s.Seal, Roots: s.Roots}
	if s.Stamp != "" {
		out.Stamper = &signature.Stamper{URL: s.Stamp, HTTP: &http.Client{Timeout: asking}}
	}
	if s.Key != "" {
		pair, err := tls.LoadX509KeyPair(s.Chain, s.Key)
		if err != nil {
			return out, fmt.Errorf("reading the key by which papers are signed: %w", err)
		}
		key, ok := pair.PrivateKey.(crypto.Signer)
		if !ok {
			return out, errors.New("the key by which papers are signed cannot sign")
		}
		out.Seal = &signature.Seal{Key: key}
		for _, der := range pair.Certificate {
			c, err := x509.ParseCertificate(der)
			if err != nil {
				return out, fmt.Errorf("reading the certificate by which papers are signed: %w", err)
			}
			out.Seal.Chain = append(out.Seal.Chain, c)
		}
	}
	if s.Trusted != "" {
		raw, err := os.ReadFile(s.Trusted)
		if err != nil {
			return out, fmt.Errorf("reading the roots that are trusted: %w", err)
		}
		if out.Roots, err = signature.Certificates(raw); err != nil {
			return out, fmt.Errorf("reading the roots that are trusted: %w", err)
		}
	}
	return out, nil
}
