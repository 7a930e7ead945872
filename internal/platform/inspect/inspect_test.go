package inspect

import (
	"bytes"
	"context"
	"crypto/sha256"
	"crypto/x509"
	"encoding/pem"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"codeberg.org/go-pdf/fpdf"

	"tabularis/internal/platform/amend"
	"tabularis/internal/platform/authority"
	"tabularis/internal/platform/signature"
)

func page(t testing.TB, w, h float64, words string) []byte {
	t.Helper()
	f := fpdf.NewCustom(&fpdf.InitType{UnitStr: "pt", Size: fpdf.SizeType{Wd: w, Ht: h}})
	f.SetCompression(false)
	f.SetMargins(0, 0, 0)
	f.AddPage()
	f.SetFont("Helvetica", "", 12)
	f.Text(2, h/2, words)
	var b bytes.Buffer
	if err := f.Output(&b); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// office is an authority with a practice's seal.
type office struct {
	*authority.Authority
	seal    *signature.Seal
	stamper *signature.Stamper
	roots   []*x509.Certificate
	t       testing.TB
}

func newOffice(t testing.TB, with authority.Algorithm) *office {
	t.Helper()
	var a *authority.Authority
	srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { a.Handler().ServeHTTP(w, r) }))
	t.Cleanup(srv.Close)
	a, err := authority.Open(t.TempDir(), srv.URL, time.Now)
	if err != nil {
		t.Fatal(err)
	}
	key, chain, err := a.Issue("Halyard & Rook", with, 1000*time.Hour)
	if err != nil {
		t.Fatal(err)
	}
	block, _ := pem.Decode(a.Roots())
	root, err := x509.ParseCertificate(block.Bytes)
	if err != nil {
		t.Fatal(err)
	}
	return &office{a, &signature.Seal{Key: key, Chain: chain}, &signature.Stamper{URL: srv.URL + "/stamp", HTTP: srv.Client()}, []*x509.Certificate{root}, t}
}

func (o *office) open(raw []byte) *amend.Document {
	o.t.Helper()
	d, err := amend.Open(bytes.Clone(raw))
	if err != nil {
		o.t.Fatal(err)
	}
	return d
}

func digestOf(raw []byte, gap [2]int) []byte {
	h := sha256.New()
	h.Write(raw[:gap[0]])
	h.Write(raw[gap[1]:])
	return h.Sum(nil)
}

// signs signs a document; field is a place that is filled in with it.
func (o *office) signs(raw []byte, field string) []byte {
	o.t.Helper()
	d := o.open(raw)
	sheets, err := d.Sheets(page(o.t, 120, 40, "signed"))
	if err != nil {
		o.t.Fatal(err)
	}
	if field != "" {
		if err := d.Field(field, "given", 1, amend.Box{X: 0.5, Y: 0.7, W: 0.2, H: 0.05}, sheets, 1); err != nil {
			o.t.Fatal(err)
		}
	}
	out, gap, err := d.Prepare(amend.Signature{Kind: amend.Detached, Name: "Halyard & Rook", Reason: "Ölpapier", At: time.Now(), Room: 16000, Page: 1, Box: amend.Box{X: 0.1, Y: 0.8, W: 0.2, H: 0.05}}, sheets, 1)
	if err != nil {
		o.t.Fatal(err)
	}
	v, err := o.seal.Sign(digestOf(out, gap))
	if err != nil {
		o.t.Fatal(err)
	}
	token, err := o.stamper.Stamp(context.Background(), v.Sum())
	if err != nil {
		o.t.Fatal(err)
	}
	cms, err := v.CMS(token)
	if err != nil {
		o.t.Fatal(err)
	}
	if err := amend.Fill(out, gap, cms); err != nil {
		o.t.Fatal(err)
	}
	return out
}

// proves adds what proves the certificates, under a time stamp.
func (o *office) proves(raw []byte) []byte {
	o.t.Helper()
	sum := sha256.Sum256(raw)
	token, err := o.stamper.Stamp(context.Background(), sum[:])
	if err != nil {
		o.t.Fatal(err)
	}
	proof, err := o.stamper.Gather(context.Background(), o.seal.Chain, token)
	if err != nil {
		o.t.Fatal(err)
	}
	d := o.open(raw)
	if err := d.Keep(amend.Proof(proof)); err != nil {
		o.t.Fatal(err)
	}
	out, gap, err := d.Prepare(amend.Signature{Kind: amend.Stamped, Room: 16000}, nil, 0)
	if err != nil {
		o.t.Fatal(err)
	}
	if token, err = o.stamper.Stamp(context.Background(), digestOf(out, gap)); err != nil {
		o.t.Fatal(err)
	}
	if err := amend.Fill(out, gap, token); err != nil {
		o.t.Fatal(err)
	}
	return out
}

// What is signed by either kind of key, twice, with what proves it, is found whole by us and by other programs; where no
// root is trusted it is said to be so.
func TestSignedPapersAreWhole(t *testing.T) {
	t.Parallel()
	for _, with := range []authority.Algorithm{authority.P256, authority.RSA3072} {
		o := newOffice(t, with)
		raw := o.proves(o.signs(o.signs(page(t, 595, 842, "Letter"), ""), "Place 2"))
		r, err := Check(raw, o.roots, time.Now())
		if err != nil || r.Verdict != Valid || len(r.Signatures) != 3 || r.Signatures[0].Known != Good || r.Signatures[0].Stamped.IsZero() || r.Signatures[0].Reason != "Ölpapier" {
			t.Errorf("%s: %+v %v", with, r, err)
		}
		if r, err := Check(raw, nil, time.Now()); err != nil || r.Verdict != Unknown {
			t.Errorf("%s: %s %v", with, r.Verdict, err)
		}
		file := filepath.Join(t.TempDir(), "signed.pdf")
		if err := os.WriteFile(file, raw, 0o600); err != nil {
			t.Fatal(err)
		}
		if out, _ := exec.Command("pdfsig", "-nocert", file).CombinedOutput(); strings.Count(string(out), "Signature is Valid.") != 2 {
			t.Errorf("%s: %s", with, out)
		}
		if out, err := exec.Command("qpdf", "--check", file).CombinedOutput(); err != nil {
			t.Errorf("%s: %v %s", with, err, out)
		}
		o.openssl(raw)
	}
}

// openssl has another program verify each signature and each time stamp against the root, over the bytes that they cover.
func (o *office) openssl(raw []byte) {
	o.t.Helper()
	state, err := amend.Look(raw)
	if err != nil {
		o.t.Fatal(err)
	}
	dir := o.t.TempDir()
	put := func(name string, content []byte) string {
		at := filepath.Join(dir, name)
		if err := os.WriteFile(at, content, 0o600); err != nil {
			o.t.Fatal(err)
		}
		return at
	}
	roots := put("roots.pem", o.Roots())
	for i, s := range state.Signatures {
		covered := slices.Concat(raw[:s.ByteRange[1]], raw[s.ByteRange[2]:s.ByteRange[2]+s.ByteRange[3]])
		value, content := put(fmt.Sprintf("value%d.der", i), s.Contents), put(fmt.Sprintf("content%d", i), covered)
		args := []string{"cms", "-verify", "-inform", "DER", "-in", value, "-content", content, "-binary", "-CAfile", roots, "-purpose", "any", "-out", os.DevNull}
		if s.SubFilter == "ETSI.RFC3161" {
			args = []string{"ts", "-verify", "-token_in", "-in", value, "-data", content, "-CAfile", roots}
		}
		if out, err := exec.Command("openssl", args...).CombinedOutput(); err != nil {
			o.t.Errorf("%s: %v %s", s.SubFilter, err, out)
		}
	}
}

// Whatever is done to a signed paper is found, and named.
func TestForgeries(t *testing.T) {
	t.Parallel()
	o := newOffice(t, authority.P256)
	stranger := newOffice(t, authority.P256)
	raw := o.proves(o.signs(page(t, 595, 842, "We pay 4,850"), ""))
	drawn := func(raw []byte, at amend.Box) []byte {
		d := o.open(raw)
		s, err := d.Sheets(page(t, 120, 40, "48,500"))
		if err == nil {
			err = s.Draw(1, 1, at)
		}
		if err != nil {
			t.Fatal(err)
		}
		out, err := d.Bytes()
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	over := drawn(raw, amend.Box{X: 0.1, Y: 0.4, W: 0.3, H: 0.1})
	for name, c := range map[string]struct {
		raw     []byte
		verdict Verdict
		what    What
		fault   Fault
	}{
		"a figure changed in place":           {bytes.Replace(raw, []byte("We pay 4,850"), []byte("We pay 9,850"), 1), Broken, "", Altered},
		"drawn over the page":                 {over, Added, PageChanged, ""},
		"drawn over, and signed again":        {o.signs(over, ""), Added, PageChanged, ""},
		"drawn over, and signed by another":   {stranger.signs(over, ""), Added, PageChanged, ""},
		"a page more":                         {added(o, raw), Added, PagesAdded, ""},
		"a field that nobody signed":          {filled(o, raw), Added, FieldAdded, ""},
		"a field, signed":                     {o.signs(raw, "Place 9"), Valid, FieldAdded, ""},
		"a field, signed by another":          {stranger.signs(raw, "Place 9"), Unknown, FieldAdded, ""},
		"bytes that show nothing":             {append(bytes.Clone(raw), "%hidden\n"...), Added, LooseBytes, ""},
		"a range that leaves out more":        {ranged(raw, 40, 0), Broken, "", Range},
		"a range that does not begin at once": {ranged(raw, 0, 7), Broken, "", Range},
		"a value of zeros":                    {emptied(raw), Broken, "", Format},
	} {
		r, err := Check(c.raw, o.roots, time.Now())
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		first := r.Signatures[0]
		var after []Change
		for _, s := range r.Signatures {
			after = append(after, s.After...)
		}
		if r.Verdict != c.verdict || c.what != "" && !slices.ContainsFunc(after, func(a Change) bool { return a.What == c.what }) || c.fault != "" && !slices.Contains(first.Faults, c.fault) {
			t.Errorf("%s: %s, %v, %v", name, r.Verdict, first.Faults, after)
		}
	}
	if r, err := Check(page(t, 595, 842, "plain"), o.roots, time.Now()); err != nil || r.Verdict != Unsigned {
		t.Errorf("%v %v", r, err)
	}
	for _, bad := range [][]byte{nil, []byte("%PDF-1.7"), raw[:len(raw)/3], bytes.Repeat([]byte("obj "), 999)} {
		if r, err := Check(bad, o.roots, time.Now()); err == nil && r.Verdict == Valid {
			t.Errorf("%d bytes are valid", len(bad))
		}
	}
}

// A certificate that was withdrawn signs no paper to its end.
func TestWithdrawn(t *testing.T) {
	t.Parallel()
	o := newOffice(t, authority.P256)
	sum := sha256.Sum256(nil)
	token, err := o.stamper.Stamp(context.Background(), sum[:])
	if err != nil {
		t.Fatal(err)
	}
	o.Withdraw(o.seal.Chain[0])
	if _, err := o.stamper.Gather(context.Background(), o.seal.Chain, token); err == nil || !strings.Contains(err.Error(), "withdrawn") {
		t.Errorf("%v", err)
	}
}

func added(o *office, raw []byte) []byte {
	d := o.open(raw)
	s, err := d.Sheets(page(o.t, 595, 842, "and more"))
	if err == nil {
		err = s.Add(1)
	}
	if err != nil {
		o.t.Fatal(err)
	}
	out, err := d.Bytes()
	if err != nil {
		o.t.Fatal(err)
	}
	return out
}

func filled(o *office, raw []byte) []byte {
	d := o.open(raw)
	s, err := d.Sheets(page(o.t, 120, 40, "given"))
	if err == nil {
		err = d.Field("Place 9", "given", 1, amend.Box{X: 0.5, Y: 0.5, W: 0.2, H: 0.05}, s, 1)
	}
	if err != nil {
		o.t.Fatal(err)
	}
	out, err := d.Bytes()
	if err != nil {
		o.t.Fatal(err)
	}
	return out
}

// ranged bends the range of the first signature: it ends earlier, or begins later.
func ranged(raw []byte, less, later int) []byte {
	i := bytes.Index(raw, []byte("/ByteRange ["))
	var a, b, c, d int
	if _, err := fmt.Sscanf(string(raw[i:]), "/ByteRange [%d %d %d %d]", &a, &b, &c, &d); err != nil {
		panic(err)
	}
	out := bytes.Clone(raw)
	copy(out[i:], fmt.Sprintf("/ByteRange [%d %010d %010d %010d]", later, b-less-later, c, d))
	return out
}

// emptied takes the value of the first signature away.
func emptied(raw []byte) []byte {
	out := bytes.Clone(raw)
	i := bytes.Index(out, []byte("/Contents <")) + len("/Contents <")
	for j := i; out[j] != '>'; j++ {
		out[j] = '0'
	}
	return out
}

// Whatever is brought, checking it ends, and says nothing good of it.
func FuzzCheck(f *testing.F) {
	f.Add([]byte("%PDF-1.7\n1 0 obj<</Type/Catalog>>endobj"))
	f.Add(page(f, 100, 100, "x"))
	f.Fuzz(func(t *testing.T, raw []byte) {
		if r, err := Check(raw, nil, time.Now()); err == nil && r.Verdict == Valid {
			t.Fatal("it is valid without a root")
		}
	})
}
