// Package authority is a stand-in for what a practice buys: an authority that issues its certificate, says whether that
// is still good (CRL, RFC 5280; OCSP, RFC 6960), and stamps with the time (RFC 3161). It ships for demonstration and
// tests; its roots can be exported.
package authority

import (
	"crypto"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/rsa"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/asn1"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math/big"
	"net/http"
	"os"
	"path/filepath"
	"sync"
	"time"

	"tabularis/internal/platform/signature"

	"github.com/digitorus/timestamp"
	"golang.org/x/crypto/ocsp"
)

// Authority issues certificates and stamps.
type Authority struct {
	URL string
	Now func() time.Time

	root, stamping *x509.Certificate
	key, stampKey  crypto.Signer
	mu             sync.Mutex
	withdrawn      []x509.RevocationListEntry
}

const years = 365 * 24 * time.Hour

// stampPolicy is a policy of no meaning, from the range for examples (RFC 5612, 2.999).
var stampPolicy = asn1.ObjectIdentifier{2, 999, 1}

// Open opens the authority whose keys are in a folder, or founds it there. It answers under an address.
func Open(dir, url string, now func() time.Time) (*Authority, error) {
	a := &Authority{URL: url, Now: now}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	var err error
	if a.root, a.key, err = kept(filepath.Join(dir, "root.pem"), func(key crypto.Signer) (*x509.Certificate, error) {
		t := &x509.Certificate{SerialNumber: serial(), Subject: pkix.Name{CommonName: "Tessaly Example Root", Organization: []string{"Tessaly Example Authority"}}, NotBefore: now().Add(-time.Hour), NotAfter: now().Add(20 * years),
			IsCA: true, BasicConstraintsValid: true, KeyUsage: x509.KeyUsageCertSign | x509.KeyUsageCRLSign | x509.KeyUsageDigitalSignature}
		return made(t, t, key, key)
	}); err != nil {
		return nil, err
	}
	a.stamping, a.stampKey, err = kept(filepath.Join(dir, "stamping.pem"), func(key crypto.Signer) (*x509.Certificate, error) {
		usage, err := asn1.Marshal([]asn1.ObjectIdentifier{{1, 3, 6, 1, 5, 5, 7, 3, 8}})
		if err != nil {
			return nil, err
		}
		t := a.template(pkix.Name{CommonName: "Tessaly Time Office", Organization: []string{"Tessaly Example Authority"}}, 10*years)
		t.KeyUsage = x509.KeyUsageDigitalSignature
		// Critical, as RFC 3161, 2.3 asks for.
		t.ExtraExtensions = []pkix.Extension{{Id: asn1.ObjectIdentifier{2, 5, 29, 37}, Critical: true, Value: usage}}
		return made(t, a.root, key.Public(), a.key)
	})
	return a, err
}

// kept reads a certificate and its key, or makes them.
func kept(path string, issue func(key crypto.Signer) (*x509.Certificate, error)) (*x509.Certificate, crypto.Signer, error) {
	raw, err := os.ReadFile(path)
	if err == nil {
		pair, err := tls.X509KeyPair(raw, raw)
		if err != nil {
			return nil, nil, err
		}
		return pair.Leaf, pair.PrivateKey.(crypto.Signer), nil
	}
	if !errors.Is(err, fs.ErrNotExist) {
		return nil, nil, err
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, nil, err
	}
	cert, err := issue(key)
	if err != nil {
		return nil, nil, err
	}
	kept, err := signature.KeyPEM(key)
	if err != nil {
		return nil, nil, err
	}
	return cert, key, os.WriteFile(path, append(signature.PEM(cert), kept...), 0o600)
}

func serial() *big.Int {
	n, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	if err != nil {
		panic(err)
	}
	return n
}

func made(t, parent *x509.Certificate, public any, by crypto.Signer) (*x509.Certificate, error) {
	if s, ok := public.(crypto.Signer); ok {
		public = s.Public()
	}
	der, err := x509.CreateCertificate(rand.Reader, t, parent, public, by)
	if err != nil {
		return nil, fmt.Errorf("issuing a certificate: %w", err)
	}
	return x509.ParseCertificate(der)
}

func (a *Authority) template(subject pkix.Name, good time.Duration) *x509.Certificate {
	return &x509.Certificate{SerialNumber: serial(), Subject: subject, NotBefore: a.Now().Add(-time.Hour), NotAfter: a.Now().Add(good), BasicConstraintsValid: true,
		OCSPServer: []string{a.URL + "/ocsp"}, CRLDistributionPoints: []string{a.URL + "/root.crl"}, IssuingCertificateURL: []string{a.URL + "/root.crt"}}
}

// Algorithm is what a key is made for.
type Algorithm string

// The kinds of keys that are made.
const (
	P256    Algorithm = "P-256"
	RSA3072 Algorithm = "RSA-3072"
)

// Issue makes a key for a practice and its certificate. The chain ends with the root.
func (a *Authority) Issue(name string, with Algorithm, good time.Duration) (key crypto.Signer, chain []*x509.Certificate, err error) {
	if with == RSA3072 {
		key, err = rsa.GenerateKey(rand.Reader, 3072)
	} else {
		key, err = ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	}
	if err != nil {
		return nil, nil, err
	}
	t := a.template(pkix.Name{CommonName: "Seal of " + name, Organization: []string{name}}, good)
	t.KeyUsage = x509.KeyUsageDigitalSignature | x509.KeyUsageContentCommitment
	cert, err := made(t, a.root, key.Public(), a.key)
	return key, []*x509.Certificate{cert, a.root}, err
}

// Withdraw withdraws a certificate.
func (a *Authority) Withdraw(c *x509.Certificate) {
	a.mu.Lock()
	defer a.mu.Unlock()
	a.withdrawn = append(a.withdrawn, x509.RevocationListEntry{SerialNumber: c.SerialNumber, RevocationTime: a.Now()})
}

// Roots are the certificates to be trusted, as PEM.
func (a *Authority) Roots() []byte {
	return signature.PEM(a.root)
}

// Handler answers over HTTP.
func (a *Authority) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /root.pem", func(w http.ResponseWriter, _ *http.Request) { send(w, "application/x-pem-file", a.Roots(), nil) })
	mux.HandleFunc("GET /root.crt", func(w http.ResponseWriter, _ *http.Request) { send(w, "application/pkix-cert", a.root.Raw, nil) })
	mux.HandleFunc("GET /root.crl", func(w http.ResponseWriter, _ *http.Request) {
		a.mu.Lock()
		defer a.mu.Unlock()
		raw, err := x509.CreateRevocationList(rand.Reader, &x509.RevocationList{Number: big.NewInt(a.Now().Unix()), ThisUpdate: a.Now(), NextUpdate: a.Now().Add(7 * 24 * time.Hour), RevokedCertificateEntries: a.withdrawn}, a.root, a.key)
		send(w, "application/pkix-crl", raw, err)
	})
	mux.HandleFunc("POST /ocsp", func(w http.ResponseWriter, r *http.Request) { a.answer(w, r, "application/ocsp-response", a.status) })
	mux.HandleFunc("POST /stamp", func(w http.ResponseWriter, r *http.Request) { a.answer(w, r, "application/timestamp-reply", a.stamp) })
	return mux
}

func send(w http.ResponseWriter, kind string, raw []byte, err error) {
	if err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	w.Header().Set("Content-Type", kind)
	_, _ = w.Write(raw)
}

func (a *Authority) answer(w http.ResponseWriter, r *http.Request, kind string, to func(raw []byte) ([]byte, error)) {
	raw, err := io.ReadAll(http.MaxBytesReader(w, r.Body, 64<<10))
	if err == nil {
		raw, err = to(raw)
	}
	if err != nil {
		http.Error(w, err.Error(), http.StatusBadRequest)
		return
	}
	send(w, kind, raw, nil)
}

func (a *Authority) status(raw []byte) ([]byte, error) {
	asked, err := ocsp.ParseRequest(raw)
	if err != nil {
		return nil, err
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	said := ocsp.Response{Status: ocsp.Good, SerialNumber: asked.SerialNumber, ThisUpdate: a.Now(), NextUpdate: a.Now().Add(24 * time.Hour)}
	for _, gone := range a.withdrawn {
		if gone.SerialNumber.Cmp(asked.SerialNumber) == 0 {
			said.Status, said.RevokedAt = ocsp.Revoked, gone.RevocationTime
		}
	}
	return ocsp.CreateResponse(a.root, a.root, said, a.key)
}

func (a *Authority) stamp(raw []byte) ([]byte, error) {
	asked, err := timestamp.ParseRequest(raw)
	if err != nil {
		return nil, err
	}
	t := timestamp.Timestamp{HashAlgorithm: asked.HashAlgorithm, HashedMessage: asked.HashedMessage, Nonce: asked.Nonce, Time: a.Now().UTC(), Policy: stampPolicy, AddTSACertificate: asked.Certificates, Certificates: []*x509.Certificate{a.root}}
	return t.CreateResponseWithOpts(a.stamping, a.stampKey, crypto.SHA256)
}
