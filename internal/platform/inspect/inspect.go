// Package inspect checks signed PDF documents: what is signed, by whom and when, over which bytes, and what became of the
// document afterwards. It reads foreign content: it runs in cells.
package inspect

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"crypto/x509"
	"encoding/asn1"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"time"

	"github.com/digitorus/pkcs7"
	"github.com/digitorus/timestamp"
	"golang.org/x/crypto/ocsp"

	"tabularis/internal/platform/amend"
	"tabularis/internal/platform/signature"
)

// Report is what was found.
type Report struct {
	Verdict    Verdict
	Bytes      int
	Pages      int
	Signatures []Signature
}

// Verdict is what can be said of the document as a whole.
type Verdict string

// The verdicts there are, from the best on.
const (
	// Valid: signed, from a root that is trusted, and nothing was added that shows.
	Valid Verdict = "valid"
	// Unknown: as Valid, but by somebody for whom no trusted root stands.
	Unknown Verdict = "unknown-signer"
	// Added: what is signed holds, and something was added afterwards that nobody signed.
	Added Verdict = "added"
	// Broken: a signature does not hold.
	Broken Verdict = "broken"
	// Unsigned: nobody has signed.
	Unsigned Verdict = "unsigned"
)

// Fault is why a signature does not hold, or not for all.
type Fault string

// The faults there are.
const (
	// Range: what is said to be signed is not the document from its beginning but for the value itself.
	Range Fault = "range"
	// Format: the value is no signature that can be read.
	Format Fault = "format"
	// Altered: what is signed was changed.
	Altered Fault = "altered"
	// Weak: it was signed by a method that no longer proves anything.
	Weak Fault = "weak"
	// Elsewhere: the document as it was signed does not hold this signature.
	Elsewhere Fault = "elsewhere"
	// Stamp: its time stamp is for something else.
	Stamp Fault = "stamp"
	// Expired: the certificate was not good when it was signed.
	Expired Fault = "expired"
	// Withdrawn: the certificate was withdrawn before.
	Withdrawn Fault = "withdrawn"
)

// Standing is what is known of whether a certificate was withdrawn.
type Standing string

// What is known.
const (
	Good   Standing = "good"
	Silent Standing = "silent"
	Taken  Standing = "withdrawn"
)

// Change is something that was added after a signature.
type Change struct {
	What What
	Page int
	Name string
	// Signed says that a later signature covers it.
	Signed bool
}

// What was added.
type What string

// What can be added: the first three change nothing of what was signed.
const (
	MoreProof     What = "proof"
	MoreSignature What = "signature"
	MoreStamp     What = "stamp"
	FieldAdded    What = "field"
	NoteAdded     What = "note"
	PageChanged   What = "page-changed"
	PagesAdded    What = "pages-added"
	PagesRemoved  What = "pages-removed"
	SomethingGone What = "removed"
	DoesOther     What = "behaviour"
	LooseBytes    What = "bytes"
)

// Harmless says that it shows nothing else than what was signed.
func (w What) Harmless() bool { return w == MoreProof || w == MoreSignature || w == MoreStamp }

// Signature is one signature or document time stamp.
type Signature struct {
	Field, Method string
	// Stamps says that it is a time stamp of the document, and nobody's signature.
	Stamps bool
	// By is whom the certificate names, For their organisation, Root who vouches for them in the end.
	By, For, Root string
	Serial        string
	Until         time.Time
	Reason, Place string
	Page          int
	// Said is when the signer says, Stamped when the authority StampedBy says.
	Said, Stamped time.Time
	StampedBy     string
	// Covered is how many bytes are signed up to the end of what was signed, SHA256 their hash.
	Covered int
	SHA256  string
	Faults  []Fault
	Trusted bool
	Known   Standing
	After   []Change
}

// Holds says that the signature is good for what it signs.
func (s Signature) Holds() bool { return len(s.Faults) == 0 }

// Check checks a document against roots that are trusted; now is the moment where nothing was stamped.
func Check(raw []byte, roots []*x509.Certificate, now time.Time) (Report, error) {
	state, err := amend.Look(raw)
	if err != nil {
		return Report{}, err
	}
	c := &checker{raw: raw, now: now, last: state, pool: x509.NewCertPool(), states: map[int]*amend.State{}}
	for _, r := range roots {
		c.pool.AddCert(r)
	}
	for _, der := range state.Store.Certificates {
		if cert, err := x509.ParseCertificate(der); err == nil {
			c.known = append(c.known, cert)
		}
	}
	out := Report{Bytes: len(raw), Pages: len(state.Pages)}
	for _, s := range state.Signatures {
		out.Signatures = append(out.Signatures, c.one(s))
	}
	out.Verdict = c.verdict(out.Signatures)
	return out, nil
}

type checker struct {
	raw   []byte
	now   time.Time
	last  amend.State
	pool  *x509.CertPool
	known []*x509.Certificate
	// states are what the document was at ends of what is signed.
	states map[int]*amend.State
}

func (c *checker) verdict(all []Signature) Verdict {
	if len(all) == 0 {
		return Unsigned
	}
	v, signed := Valid, false
	for i, s := range all {
		if !s.Holds() {
			return Broken
		}
		if !s.Stamps {
			signed = true
			if !s.Trusted {
				v = Unknown
			}
		}
		for j, a := range s.After {
			if a.What.Harmless() {
				continue
			}
			// What somebody fills in stands for them who signed it then; nobody signs for what others signed.
			if all[i].After[j].Signed = covered(all[i+1:]); !all[i].After[j].Signed || a.What != FieldAdded {
				v = Added
			}
		}
		if v == Added {
			return v
		}
	}
	if !signed {
		return Unsigned
	}
	return v
}

// covered says that a later signature of somebody's stands for what was added before it. What was added after
// the last one is told by that one.
func covered(later []Signature) bool {
	return slices.ContainsFunc(later, func(s Signature) bool { return !s.Stamps && s.Holds() })
}

func (c *checker) one(s amend.Signed) Signature {
	out := Signature{Field: s.Field, Method: s.SubFilter, Stamps: s.SubFilter == string(amend.Stamped), Reason: s.Reason, Place: s.Location, Page: s.Page, Known: Silent, Said: said(s.At), By: s.Name}
	fault := func(f Fault) { out.Faults = append(out.Faults, f) }
	signed, end, ok := c.signed(s)
	if !ok {
		fault(Range)
		return out
	}
	sum := sha256.Sum256(signed)
	out.Covered, out.SHA256 = len(signed), hex.EncodeToString(sum[:])
	if !c.held(end, s) {
		fault(Elsewhere)
	}
	if out.Stamps {
		c.stamp(&out, s.Contents, signed, fault)
	} else {
		c.cms(&out, s.Contents, signed, fault)
	}
	out.After = c.after(end)
	return out
}

// said is a moment as PDF writes it (ISO 32000-2, 7.9.4).
func said(s string) time.Time {
	for _, form := range []string{"D:20060102150405Z07'00'", "D:20060102150405-07'00'", "D:20060102150405-07'00", "D:20060102150405Z", "D:20060102150405"} {
		if t, err := time.Parse(form, s); err == nil {
			return t
		}
	}
	return time.Time{}
}

var value = regexp.MustCompile(`^<[0-9A-Fa-f\s]*>$`)

// signed is what a signature covers: all from the first byte on but its own value, and nothing else is left out.
func (c *checker) signed(s amend.Signed) (signed []byte, end int, ok bool) {
	r := s.ByteRange
	if len(r) != 4 || r[0] != 0 || r[1] <= 0 || r[2] <= r[1] || r[3] < 0 || r[2] > len(c.raw) || r[3] > len(c.raw)-r[2] {
		return nil, 0, false
	}
	gap := c.raw[r[1]:r[2]]
	if !value.Match(gap) {
		return nil, 0, false
	}
	held := make([]byte, hex.DecodedLen(len(gap)-2))
	n, err := hex.Decode(held, bytes.Join(bytes.Fields(gap[1:len(gap)-1]), nil))
	if err != nil || !bytes.Equal(bytes.TrimRight(held[:n], "\x00"), bytes.TrimRight(s.Contents, "\x00")) {
		return nil, 0, false
	}
	return slices.Concat(c.raw[:r[1]], c.raw[r[2]:r[2]+r[3]]), r[2] + r[3], true
}

// at is what the document was up to a byte; nil where that is none.
func (c *checker) at(end int) *amend.State {
	if s, ok := c.states[end]; ok {
		return s
	}
	var out *amend.State
	if s, err := amend.Look(c.raw[:end]); err == nil {
		out = &s
	}
	c.states[end] = out
	return out
}

// held says that the document as it was signed has the signature.
func (c *checker) held(end int, s amend.Signed) bool {
	was := c.at(end)
	if was == nil {
		return false
	}
	for _, o := range was.Signatures {
		if bytes.Equal(o.Contents, s.Contents) && len(o.ByteRange) == 4 && o.ByteRange[2] == s.ByteRange[2] {
			return true
		}
	}
	return false
}

var (
	strong = []asn1.ObjectIdentifier{{2, 16, 840, 1, 101, 3, 4, 2, 1}, {2, 16, 840, 1, 101, 3, 4, 2, 2}, {2, 16, 840, 1, 101, 3, 4, 2, 3}}
)

func isStrong(oid asn1.ObjectIdentifier) bool { return slices.ContainsFunc(strong, oid.Equal) }

// cms checks a signature value.
func (c *checker) cms(out *Signature, der, signed []byte, fault func(Fault)) {
	p, err := pkcs7.Parse(bytes.TrimRight(der, "\x00"))
	if err != nil {
		// Zeros may belong to it.
		p, err = pkcs7.Parse(trimmed(der))
	}
	if err != nil || len(p.Signers) != 1 || p.GetOnlySigner() == nil {
		fault(Format)
		return
	}
	signer := p.Signers[0]
	if !isStrong(signer.DigestAlgorithm.Algorithm) {
		fault(Weak)
	}
	p.Content = signed
	if err := p.Verify(); err != nil {
		fault(Altered)
	}
	cert := p.GetOnlySigner()
	moment := c.now
	for _, a := range signer.UnauthenticatedAttributes {
		if a.Type.Equal(signature.OIDTimeStamp) {
			ts, by, err := token(a.Value.Bytes, signer.EncryptedDigest)
			if err != nil {
				fault(Stamp)
				continue
			}
			out.Stamped, out.StampedBy = ts.Time, by.Subject.CommonName
			if c.trusts(by, ts.Certificates, ts.Time, x509.ExtKeyUsageTimeStamping) != "" {
				moment = ts.Time
			}
		}
	}
	c.certificate(out, cert, p.Certificates, moment, x509.ExtKeyUsageAny, fault)
}

// trimmed is the DER at the beginning of a value that was filled up.
func trimmed(der []byte) []byte {
	var v asn1.RawValue
	if _, err := asn1.Unmarshal(der, &v); err != nil {
		return nil
	}
	return v.FullBytes
}

// token checks that a time stamp is for something, and who gave it.
func token(der, of []byte) (*timestamp.Timestamp, *x509.Certificate, error) {
	ts, err := timestamp.Parse(trimmed(der))
	if err != nil {
		return nil, nil, err
	}
	if !ts.HashAlgorithm.Available() {
		return nil, nil, errors.New("its digest is unknown")
	}
	h := ts.HashAlgorithm.New()
	h.Write(of)
	if !bytes.Equal(h.Sum(nil), ts.HashedMessage) {
		return nil, nil, errors.New("it is for something else")
	}
	p, err := pkcs7.Parse(ts.RawToken)
	if err != nil || p.GetOnlySigner() == nil {
		return nil, nil, errors.Join(err, errors.New("nobody gave it"))
	}
	return ts, p.GetOnlySigner(), nil
}

func (c *checker) stamp(out *Signature, der, signed []byte, fault func(Fault)) {
	ts, by, err := token(der, signed)
	if err != nil {
		fault(Altered)
		return
	}
	out.Stamped, out.StampedBy = ts.Time, by.Subject.CommonName
	c.certificate(out, by, ts.Certificates, ts.Time, x509.ExtKeyUsageTimeStamping, fault)
}

func (c *checker) trusts(cert *x509.Certificate, beside []*x509.Certificate, at time.Time, usage x509.ExtKeyUsage) string {
	between := x509.NewCertPool()
	for _, k := range append(beside, c.known...) {
		between.AddCert(k)
	}
	chains, err := cert.Verify(x509.VerifyOptions{Roots: c.pool, Intermediates: between, CurrentTime: at, KeyUsages: []x509.ExtKeyUsage{usage}})
	if err != nil {
		return ""
	}
	root := chains[0][len(chains[0])-1]
	return cmp.Or(root.Subject.CommonName, root.Subject.String())
}

func (c *checker) certificate(out *Signature, cert *x509.Certificate, beside []*x509.Certificate, at time.Time, usage x509.ExtKeyUsage, fault func(Fault)) {
	out.By, out.Serial, out.Until = cmp.Or(cert.Subject.CommonName, cert.Subject.String()), fmt.Sprintf("%x", cert.SerialNumber), cert.NotAfter
	if len(cert.Subject.Organization) > 0 {
		out.For = cert.Subject.Organization[0]
	}
	if at.Before(cert.NotBefore) || at.After(cert.NotAfter) {
		fault(Expired)
	}
	out.Root = c.trusts(cert, beside, at, usage)
	out.Trusted = out.Root != ""
	if out.Known = c.standing(cert, append(beside, c.known...), at); out.Known == Taken {
		fault(Withdrawn)
	}
}

// standing is what the document's own proof says of a certificate.
func (c *checker) standing(cert *x509.Certificate, among []*x509.Certificate, at time.Time) Standing {
	known := Silent
	for _, issuer := range among {
		if !bytes.Equal(issuer.RawSubject, cert.RawIssuer) {
			continue
		}
		for _, raw := range c.last.Store.OCSPs {
			r, err := ocsp.ParseResponseForCert(raw, cert, issuer)
			if err != nil {
				continue
			}
			if r.Status == ocsp.Revoked && !r.RevokedAt.After(at) {
				return Taken
			}
			if r.Status == ocsp.Good {
				known = Good
			}
		}
		for _, raw := range c.last.Store.CRLs {
			l, err := x509.ParseRevocationList(raw)
			if err != nil || l.CheckSignatureFrom(issuer) != nil {
				continue
			}
			known = Good
			for _, gone := range l.RevokedCertificateEntries {
				if gone.SerialNumber.Cmp(cert.SerialNumber) == 0 && !gone.RevocationTime.After(at) {
					return Taken
				}
			}
		}
	}
	return known
}

// after is what the document shows now and did not when it was signed.
func (c *checker) after(end int) (all []Change) {
	if len(bytes.TrimSpace(c.raw[end:])) == 0 {
		return nil
	}
	was := c.at(end)
	if was == nil {
		return []Change{{What: LooseBytes}}
	}
	all = compare(*was, c.last)
	if len(all) == 0 {
		all = append(all, Change{What: LooseBytes})
	}
	return all
}

func compare(was, is amend.State) (all []Change) {
	if n := len(is.Pages) - len(was.Pages); n > 0 {
		all = append(all, Change{What: PagesAdded, Page: len(was.Pages) + 1})
	} else if n < 0 {
		all = append(all, Change{What: PagesRemoved, Page: len(is.Pages) + 1})
	}
	for i := range min(len(was.Pages), len(is.Pages)) {
		if was.Pages[i] != is.Pages[i] {
			all = append(all, Change{What: PageChanged, Page: i + 1})
		}
		all = append(all, annotations(was.Annotations[i], is.Annotations[i], i+1)...)
	}
	rest := maps.Clone(was.Rest)
	maps.Copy(rest, is.Rest)
	for _, key := range slices.Sorted(maps.Keys(rest)) {
		if was.Rest[key] != is.Rest[key] {
			all = append(all, Change{What: DoesOther, Name: key})
		}
	}
	for _, s := range is.Signatures {
		if s.Page == 0 && !has(was.Signatures, s) {
			all = append(all, signatureOf(s.SubFilter, s.Field, 0))
		}
	}
	if n := func(p amend.Proof) int { return len(p.Certificates) + len(p.CRLs) + len(p.OCSPs) }; n(is.Store) > n(was.Store) {
		all = append(all, Change{What: MoreProof})
	}
	return all
}

func has(all []amend.Signed, s amend.Signed) bool {
	return slices.ContainsFunc(all, func(o amend.Signed) bool { return bytes.Equal(o.Contents, s.Contents) })
}

func signatureOf(method, field string, page int) Change {
	if method == string(amend.Stamped) {
		return Change{What: MoreStamp, Page: page, Name: field}
	}
	return Change{What: MoreSignature, Page: page, Name: field}
}

func annotations(was, is map[string]amend.Annotation, page int) (all []Change) {
	before := map[int]amend.Annotation{}
	for _, a := range was {
		before[a.Object] = a
	}
	kept := map[int]bool{}
	for key, a := range is {
		if _, same := was[key]; same {
			kept[a.Object] = true
			continue
		}
		old, there := before[a.Object]
		kept[a.Object] = kept[a.Object] || there
		switch {
		case a.Field == "Sig" && a.Signed && (!there || !old.Signed):
			all = append(all, signatureOf(a.Method, a.Name, page))
		case a.Field != "":
			all = append(all, Change{What: FieldAdded, Page: page, Name: a.Name})
		default:
			all = append(all, Change{What: NoteAdded, Page: page, Name: a.Subtype})
		}
	}
	for key, a := range was {
		if _, same := is[key]; !same && !kept[a.Object] {
			all = append(all, Change{What: SomethingGone, Page: page, Name: cmp.Or(a.Name, a.Subtype)})
		}
	}
	return all
}
