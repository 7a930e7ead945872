package signature

import (
	"crypto/x509"
	"encoding/pem"
	"errors"
)

// Certificates reads certificates in PEM.
func Certificates(raw []byte) (all []*x509.Certificate, err error) {
	for block, rest := pem.Decode(raw); block != nil; block, rest = pem.Decode(rest) {
		if block.Type != "CERTIFICATE" {
			continue
		}
		c, err := x509.ParseCertificate(block.Bytes)
		if err != nil {
			return nil, err
		}
		all = append(all, c)
	}
	if len(all) == 0 {
		return nil, errors.New("there is no certificate in it")
	}
	return all, nil
}

// PEM writes certificates as PEM (RFC 7468).
func PEM(all ...*x509.Certificate) (out []byte) {
	for _, c := range all {
		out = append(out, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: c.Raw})...)
	}
	return out
}

// KeyPEM writes a private key as PEM (RFC 5958).
func KeyPEM(key any) ([]byte, error) {
	der, err := x509.MarshalPKCS8PrivateKey(key)
	return pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: der}), err
}
