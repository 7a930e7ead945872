package signature

import (
	"bytes"
	"context"
	"crypto/x509"
	"errors"
	"fmt"
	"net/http"

	"github.com/digitorus/pkcs7"
	"golang.org/x/crypto/ocsp"
)

// Proof is what shows later that a certificate was good: those above it, and what their authorities said.
type Proof struct{ Certificates, CRLs, OCSPs [][]byte }

// Gather asks the authorities of a chain, and of the one that stamped, whether their certificates are good. One that was
// withdrawn is an error, as is an authority that does not answer.
func (s *Stamper) Gather(ctx context.Context, chain []*x509.Certificate, token []byte) (p Proof, err error) {
	all := bytes.NewBuffer(nil)
	take := func(c *x509.Certificate) {
		if !bytes.Contains(all.Bytes(), c.Raw) {
			all.Write(c.Raw)
			p.Certificates = append(p.Certificates, c.Raw)
		}
	}
	stamped, err := pkcs7.Parse(token)
	if err != nil {
		return p, fmt.Errorf("reading a time stamp: %w", err)
	}
	for _, certs := range [][]*x509.Certificate{chain, stamped.Certificates} {
		for _, c := range certs {
			take(c)
			issuer := issuerOf(c, append(append([]*x509.Certificate{}, chain...), stamped.Certificates...))
			if issuer == nil || issuer == c {
				continue
			}
			if err := s.ask(ctx, &p, c, issuer); err != nil {
				return p, err
			}
		}
	}
	return p, nil
}

func issuerOf(c *x509.Certificate, among []*x509.Certificate) *x509.Certificate {
	if bytes.Equal(c.RawIssuer, c.RawSubject) {
		return c
	}
	for _, i := range among {
		if bytes.Equal(c.RawIssuer, i.RawSubject) && c.CheckSignatureFrom(i) == nil {
			return i
		}
	}
	return nil
}

// ErrWithdrawn means that a certificate was withdrawn by its authority.
var ErrWithdrawn = errors.New("a certificate was withdrawn")

// ask asks for one certificate: by OCSP (RFC 6960) where that is offered, else by the list (RFC 5280, 5).
func (s *Stamper) ask(ctx context.Context, p *Proof, c, issuer *x509.Certificate) error {
	for _, url := range c.OCSPServer {
		question, err := ocsp.CreateRequest(c, issuer, nil)
		if err != nil {
			return err
		}
		raw, err := s.post(ctx, url, "application/ocsp-request", question)
		if err != nil {
			continue
		}
		said, err := ocsp.ParseResponseForCert(raw, c, issuer)
		switch {
		case err != nil:
			continue
		case said.Status == ocsp.Revoked:
			return fmt.Errorf("%w: %s", ErrWithdrawn, c.Subject.CommonName)
		case said.Status == ocsp.Good:
			p.OCSPs = append(p.OCSPs, raw)
			return nil
		}
	}
	for _, url := range c.CRLDistributionPoints {
		req, err := http.NewRequestWithContext(ctx, http.MethodGet, url, nil)
		if err != nil {
			return err
		}
		raw, err := answer(s.HTTP, req)
		if err != nil {
			continue
		}
		list, err := x509.ParseRevocationList(raw)
		if err != nil || list.CheckSignatureFrom(issuer) != nil {
			continue
		}
		for _, gone := range list.RevokedCertificateEntries {
			if gone.SerialNumber.Cmp(c.SerialNumber) == 0 {
				return fmt.Errorf("%w: %s", ErrWithdrawn, c.Subject.CommonName)
			}
		}
		p.CRLs = append(p.CRLs, raw)
		return nil
	}
	if len(c.OCSPServer)+len(c.CRLDistributionPoints) == 0 {
		return nil
	}
	return fmt.Errorf("nobody says whether the certificate of %s is good", c.Subject.CommonName)
}
