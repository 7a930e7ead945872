package api_test

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"codeberg.org/go-pdf/fpdf"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// objects are a PDF document of so many objects, by a table of references (ISO 32000-2, 7.5.4).
func objects(all ...string) []byte {
	var b bytes.Buffer
	b.WriteString("%PDF-1.7\n%\xe2\xe3\xcf\xd3\n")
	at := make([]int, len(all))
	for i, o := range all {
		at[i] = b.Len()
		fmt.Fprintf(&b, "%d 0 obj\n%s\nendobj\n", i+1, o)
	}
	start := b.Len()
	fmt.Fprintf(&b, "xref\n0 %d\n0000000000 65535 f \n", len(all)+1)
	for _, a := range at {
		fmt.Fprintf(&b, "%010d 00000 n \n", a)
	}
	fmt.Fprintf(&b, "trailer\n<< /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n", len(all)+1, start)
	return b.Bytes()
}

func stream(words string) string {
	return fmt.Sprintf("<< /Length %d >>\nstream\n%s\nendstream", len(words), words)
}

// hybrid is a document whose table leaves an object to a stream of references, for programs that know these (7.5.8.4).
func hybrid() []byte {
	raw := objects("<< /Type /Catalog /Pages 2 0 R >>", "<< /Type /Pages /Kids [3 0 R] /Count 1 >>", "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >> >> >>", stream("BT /F1 20 Tf 60 700 Td (Hybrid) Tj ET"))
	from := bytes.LastIndex(raw[:len(raw)-1], []byte("xref\n0"))
	b := bytes.NewBuffer(bytes.Clone(raw))
	held := "6 0 << /Held true >>"
	inside := b.Len()
	fmt.Fprintf(b, "5 0 obj\n<< /Type /ObjStm /N 1 /First 4 /Length %d >>\nstream\n%s\nendstream\nendobj\n", len(held), held)
	refs := b.Len()
	entry := []byte{1, byte(inside >> 8), byte(inside), 0, 2, 0, 5, 0, 1, byte(refs >> 8), byte(refs), 0}
	fmt.Fprintf(b, "7 0 obj\n<< /Type /XRef /Size 8 /W [1 2 1] /Index [5 3] /Length %d >>\nstream\n%s\nendstream\nendobj\n", len(entry), entry)
	start := b.Len()
	fmt.Fprintf(b, "xref\n0 1\n0000000000 65535 f \ntrailer\n<< /Size 8 /Root 1 0 R /Prev %d /XRefStm %d >>\nstartxref\n%d\n%%%%EOF\n", from, refs, start)
	return b.Bytes()
}

// asForm has a form of its own, a font that is not there, a page that is cropped and turned, and one whose box is the wrong way round.
func asForm() []byte {
	page := "<< /Type /Page /Parent 2 0 R %s /Contents 5 0 R /Resources << /Font << /F1 << /Type /Font /Subtype /TrueType /BaseFont /NoSuchFont#2CBold >> >> >> /Annots [%s] >>"
	return objects("<< /Type /Catalog /Pages 2 0 R /AcroForm << /Fields [6 0 R] /DA (/Helv 0 Tf 0 g) >> >>", "<< /Type /Pages /Kids [3 0 R 4 0 R] /Count 2 >>",
		fmt.Sprintf(page, "/MediaBox [0 0 700 900] /CropBox [50 50 645 892] /Rotate 90", "6 0 R"), fmt.Sprintf(page, "/MediaBox [595 842 0 0]", ""),
		stream("BT /F1 20 Tf 100 700 Td (A form) Tj ET"), "<< /Type /Annot /Subtype /Widget /FT /Tx /T (berth) /V (Berth 4) /DA (/Helv 12 Tf 0 g) /Rect [100 600 300 620] /F 4 >>")
}

// thick has so many pages.
func thick(t *testing.T, pages int) []byte {
	t.Helper()
	f := fpdf.New("P", "mm", "A4", "")
	f.SetFont("Helvetica", "", 12)
	for i := range pages {
		f.AddPage()
		f.Text(20, 30, fmt.Sprintf("Page %d", i+1))
	}
	var b bytes.Buffer
	if err := f.Output(&b); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// by is a paper as another program makes it anew.
func by(t *testing.T, raw []byte, options ...string) []byte {
	t.Helper()
	from, to := filepath.Join(t.TempDir(), "from.pdf"), filepath.Join(t.TempDir(), "to.pdf")
	if err := os.WriteFile(from, raw, 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("qpdf", append(options, from, to)...).CombinedOutput(); err != nil && !strings.Contains(string(out), "succeeded with warnings") {
		t.Fatalf("%v %s", err, out)
	}
	made, err := os.ReadFile(to)
	if err != nil {
		t.Fatal(err)
	}
	return made
}

// Papers as they come are signed, each act by itself and all at once, and are found whole by other programs; what is on them
// stays to be read.
func TestAwkwardPapersAreSigned(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	priya := o.People["priya"].ID
	plain := pdfOf(t, "Letter of engagement")
	for name, c := range map[string]struct {
		raw      []byte
		password string
		each     bool
		pages    int
		words    string
	}{
		"hybrid":                {hybrid(), "", true, 1, "Hybrid"},
		"object streams":        {by(t, plain, "--object-streams=generate"), "", true, 1, "Letter of engagement"},
		"linearised":            {by(t, plain, "--linearize"), "", false, 1, "Letter of engagement"},
		"only restricted":       {by(t, plain, "--encrypt", "", "owner-secret", "256", "--modify=none", "--"), "", true, 1, "Letter of engagement"},
		"locked":                {by(t, plain, "--encrypt", "open-me", "owner-secret", "256", "--"), "open-me", false, 1, "Letter of engagement"},
		"a form, cropped, bent": {asForm(), "", true, 2, "Berth 4"},
		"600 pages":             {thick(t, 600), "", false, 600, "Page 600"},
	} {
		t.Run(name, func(t *testing.T) {
			doc := o.hanne.Upload(o.reports, "", name+".pdf", c.raw).Document.Id
			w := contract.SigningWish{Document: doc, PaperPassword: &c.password, Plan: contract.SigningPlan{Each: c.each,
				Parties: []contract.SigningParty{{Turn: 1, Person: &priya, Known: contract.KnownBySignIn, Signs: true}},
				Places:  []contract.SigningPlace{{Id: 1, Page: c.pages, Kind: contract.PlaceSignature, Must: true, Box: contract.SigningBox{X: 0.2, Y: 0.5, W: 0.3, H: 0.05}}}}}
			if c.password != "" {
				wrong := w
				wrong.PaperPassword = ptr("another")
				if a := o.hanne.Do("POST", "/api/signings", wrong); a.Code() != "paper-locked" {
					t.Errorf("%d %s", a.Status, a.Body)
				}
			}
			line := testkit.Post[contract.SigningLine](o.hanne, 201, "/api/signings", w)
			seen := make([]int, c.pages)
			for i := range seen {
				seen[i] = i + 1
			}
			o.priya.Want(204, "POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(1, "Priya Valdane")}, Pages: seen, Agrees: true})
			_, raw := o.finished(line.Id)
			accepted(t, raw, 1)
			if words := wordsOn(t, raw); !strings.Contains(words, c.words) {
				t.Errorf("%.300s", words)
			}
			if check := testkit.Get[contract.PaperCheck](o.hanne, "/api/documents/"+doc.String()+"/paper-check"); check.Verdict != contract.PaperValid || check.Pages != c.pages+1 {
				t.Errorf("%+v", check)
			}
		})
	}
	// What comes signed already is only ever appended to: the first signature stays whole.
	doc := o.hanne.Upload(o.reports, "", "twice.pdf", plain).Document.Id
	for n := range 2 {
		line := testkit.Post[contract.SigningLine](o.hanne, 201, "/api/signings", contract.SigningWish{Document: doc, Plan: contract.SigningPlan{
			Parties: []contract.SigningParty{{Turn: 1, Person: &priya, Known: contract.KnownBySignIn, Signs: true}},
			Places:  []contract.SigningPlace{{Id: 1, Page: 1, Kind: contract.PlaceSignature, Must: true, Box: contract.SigningBox{X: 0.1 + 0.4*float64(n), Y: 0.5, W: 0.3, H: 0.05}}}}})
		o.priya.Want(204, "POST", "/api/signings/"+line.Id.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(1, "Priya Valdane")}, Pages: []int{1, 2}, Agrees: true})
		_, raw := o.finished(line.Id)
		accepted(t, raw, n+1)
		if n == 0 {
			// Signed here, then brought in from elsewhere.
			doc = o.hanne.Upload(o.reports, "", "from elsewhere.pdf", raw).Document.Id
		}
	}
	if check := testkit.Get[contract.PaperCheck](o.hanne, "/api/documents/"+doc.String()+"/paper-check"); check.Verdict != contract.PaperValid {
		t.Errorf("%+v", check)
	}
}
