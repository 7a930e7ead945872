// Package signature makes signature values (CMS, RFC 5652, as CAdES asks for them, ETSI EN 319 122-1) by the
// practice's key, has them stamped with the time (RFC 3161), and gathers what proves the certificates.
package signature

import (
	"bytes"
	"crypto"
	"crypto/ecdsa"
	"crypto/rand"
	"crypto/rsa"
	"crypto/sha256"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/asn1"
	"errors"
	"fmt"
	"math/big"
	"slices"
)

// Seal is the key by which a practice signs, with its certificate and those above it.
type Seal struct {
	Key crypto.Signer
	// Chain begins with the certificate of the key.
	Chain []*x509.Certificate
}

// The object identifiers that are written (RFC 5652, RFC 5035, RFC 5754, RFC 3161).
var (
	oidData          = asn1.ObjectIdentifier{1, 2, 840, 113549, 1, 7, 1}
	oidSignedData    = asn1.ObjectIdentifier{1, 2, 840, 113549, 1, 7, 2}
	oidContentType   = asn1.ObjectIdentifier{1, 2, 840, 113549, 1, 9, 3}
	oidMessageDigest = asn1.ObjectIdentifier{1, 2, 840, 113549, 1, 9, 4}
	oidCertificateV2 = asn1.ObjectIdentifier{1, 2, 840, 113549, 1, 9, 16, 2, 47}
	OIDTimeStamp     = asn1.ObjectIdentifier{1, 2, 840, 113549, 1, 9, 16, 2, 14}
	oidSHA256        = asn1.ObjectIdentifier{2, 16, 840, 1, 101, 3, 4, 2, 1}
	oidECDSA256      = asn1.ObjectIdentifier{1, 2, 840, 10045, 4, 3, 2}
	oidRSA           = asn1.ObjectIdentifier{1, 2, 840, 113549, 1, 1, 1}
)

type attribute struct {
	Type   asn1.ObjectIdentifier
	Values []asn1.RawValue `asn1:"set"`
}

type issuerAndSerial struct {
	Issuer asn1.RawValue
	Serial *big.Int
}

type signerInfo struct {
	Version   int
	SID       issuerAndSerial
	Digest    pkix.AlgorithmIdentifier
	Signed    asn1.RawValue
	Algorithm pkix.AlgorithmIdentifier
	Value     []byte
	Unsigned  asn1.RawValue `asn1:"optional"`
}

type encapsulated struct{ Type asn1.ObjectIdentifier }

type signedData struct {
	Version      int
	Digests      []pkix.AlgorithmIdentifier `asn1:"set"`
	Content      encapsulated
	Certificates asn1.RawValue `asn1:"optional"`
	Signers      []signerInfo  `asn1:"set"`
}

type contentInfo struct {
	Type    asn1.ObjectIdentifier
	Content asn1.RawValue
}

// Value is a signature that has not been stamped yet.
type Value struct {
	seal   *Seal
	signed []byte
	value  []byte
}

// Sign signs a SHA-256 digest of what is signed.
func (s *Seal) Sign(digest []byte) (*Value, error) {
	signed, err := s.attributes(digest)
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(signed)
	value, err := s.Key.Sign(rand.Reader, sum[:], crypto.SHA256)
	if err != nil {
		return nil, fmt.Errorf("signing: %w", err)
	}
	return &Value{s, signed, value}, nil
}

// attributes are what is signed: the kind of content, its digest, and by which certificate.
func (s *Seal) attributes(digest []byte) ([]byte, error) {
	cert := sha256.Sum256(s.Chain[0].Raw)
	type certID struct{ Hash []byte }
	reference, err := asn1.Marshal(struct{ Certs []certID }{[]certID{{cert[:]}}})
	if err != nil {
		return nil, err
	}
	kind, err1 := asn1.Marshal(oidData)
	sum, err2 := asn1.Marshal(digest)
	if err := errors.Join(err1, err2); err != nil {
		return nil, err
	}
	return set(attribute{oidContentType, raws(kind)}, attribute{oidMessageDigest, raws(sum)}, attribute{oidCertificateV2, raws(reference)})
}

func raws(der []byte) []asn1.RawValue { return []asn1.RawValue{{FullBytes: der}} }

// set writes attributes as a SET OF in the order of DER (X.690, 11.6).
func set(all ...attribute) ([]byte, error) {
	var parts [][]byte
	for _, a := range all {
		der, err := asn1.Marshal(a)
		if err != nil {
			return nil, err
		}
		parts = append(parts, der)
	}
	slices.SortFunc(parts, bytes.Compare)
	return asn1.Marshal(asn1.RawValue{Tag: asn1.TagSet, IsCompound: true, Bytes: bytes.Join(parts, nil)})
}

// Sum is the digest of the value, which is what gets a time stamp.
func (v *Value) Sum() []byte {
	sum := sha256.Sum256(v.value)
	return sum[:]
}

// CMS is the signature value with its time stamp.
func (v *Value) CMS(token []byte) ([]byte, error) {
	algorithm, err := v.seal.algorithm()
	if err != nil {
		return nil, err
	}
	sha := pkix.AlgorithmIdentifier{Algorithm: oidSHA256}
	leaf := v.seal.Chain[0]
	info := signerInfo{Version: 1, SID: issuerAndSerial{asn1.RawValue{FullBytes: leaf.RawIssuer}, leaf.SerialNumber}, Digest: sha, Signed: implicit(0, v.signed), Algorithm: algorithm, Value: v.value}
	if token != nil {
		unsigned, err := set(attribute{OIDTimeStamp, raws(token)})
		if err != nil {
			return nil, err
		}
		info.Unsigned = implicit(1, unsigned)
	}
	var certs []byte
	for _, c := range v.seal.Chain {
		certs = append(certs, c.Raw...)
	}
	data, err := asn1.Marshal(signedData{1, []pkix.AlgorithmIdentifier{sha}, encapsulated{oidData}, asn1.RawValue{Class: asn1.ClassContextSpecific, IsCompound: true, Bytes: certs}, []signerInfo{info}})
	if err != nil {
		return nil, fmt.Errorf("writing a signature: %w", err)
	}
	return asn1.Marshal(contentInfo{oidSignedData, asn1.RawValue{Class: asn1.ClassContextSpecific, IsCompound: true, Bytes: data}})
}

// implicit gives a set the tag by which it stands in a signer's part.
func implicit(tag int, der []byte) asn1.RawValue {
	var set asn1.RawValue
	if _, err := asn1.Unmarshal(der, &set); err != nil {
		return asn1.RawValue{}
	}
	return asn1.RawValue{Class: asn1.ClassContextSpecific, Tag: tag, IsCompound: true, Bytes: set.Bytes}
}

func (s *Seal) algorithm() (pkix.AlgorithmIdentifier, error) {
	switch s.Key.Public().(type) {
	case *ecdsa.PublicKey:
		return pkix.AlgorithmIdentifier{Algorithm: oidECDSA256}, nil
	case *rsa.PublicKey:
		return pkix.AlgorithmIdentifier{Algorithm: oidRSA, Parameters: asn1.NullRawValue}, nil
	}
	return pkix.AlgorithmIdentifier{}, errors.New("only keys for ECDSA and RSA sign")
}
