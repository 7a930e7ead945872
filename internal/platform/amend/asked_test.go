package amend

import (
	"bytes"
	"fmt"
	"math"
	"slices"
	"testing"

	"tabularis/core/signing"
)

// written is a document of objects, as others write them.
func written(objects ...string) []byte {
	var b bytes.Buffer
	b.WriteString("%PDF-1.7\n")
	var at []int
	for i, o := range objects {
		at = append(at, b.Len())
		fmt.Fprintf(&b, "%d 0 obj\n%s\nendobj\n", i+1, o)
	}
	start := b.Len()
	fmt.Fprintf(&b, "xref\n0 %d\n0000000000 65535 f \n", len(objects)+1)
	for _, a := range at {
		fmt.Fprintf(&b, "%010d 00000 n \n", a)
	}
	fmt.Fprintf(&b, "trailer\n<< /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n", len(objects)+1, start)
	return b.Bytes()
}

func near(a, b Box) bool {
	return math.Abs(a.X-b.X)+math.Abs(a.Y-b.Y)+math.Abs(a.W-b.W)+math.Abs(a.H-b.H) < 1e-9
}

// What a document's own form asks for is found, with what it says of itself; what nobody fills in is not.
func TestAsked(t *testing.T) {
	t.Parallel()
	field := func(more string) string {
		return "<< /Type /Annot /Subtype /Widget /Rect [100 700 300 720] " + more + " >>"
	}
	raw := written(
		"<< /Type /Catalog /Pages 2 0 R /AcroForm << /Fields [4 0 R 5 0 R 6 0 R 7 0 R 8 0 R 9 0 R 10 0 R 11 0 R] >> >>",
		"<< /Type /Pages /Kids [3 0 R] /Count 1 /MediaBox [0 0 600 800] >>",
		"<< /Type /Page /Parent 2 0 R /Annots [4 0 R 5 0 R 6 0 R 7 0 R 8 0 R 9 0 R 10 0 R 12 0 R] >>",
		field("/FT /Tx /T (invoice) /TU (Invoice to) /MaxLen 40 /Ff 2"),
		field("/FT /Btn /T (agree)"),
		field("/FT /Ch /T (where) /Opt [(afloat) [(d) (in dock)]]"),
		field("/FT /Sig /T (sign)"),
		field("/FT /Btn /T (press) /Ff 65536"),
		field("/FT /Tx /T (fixed) /Ff 1"),
		field("/FT /Tx /T (hidden) /F 2"),
		"<< /FT /Tx /T (parent) /TU (Of its parent) /Kids [12 0 R] >>",
		field("/Parent 11 0 R"),
	)
	got, err := Asked(raw)
	if err != nil {
		t.Fatal(err)
	}
	var said []string
	for _, s := range got {
		p := s.Place
		said = append(said, fmt.Sprintf("%s %s %v %d %v", p.Kind, p.Label, p.Must, p.Most, p.Choices))
	}
	want := []string{"text Invoice to true 40 []", "tick agree false 0 []", "choice where false 0 [afloat in dock]", "signature sign true 0 []", "text Of its parent false 0 []"}
	if !slices.Equal(said, want) {
		t.Errorf("%q\nwant %q", said, want)
	}
	if s := got[0]; s.Page != 1 || s.Width != 600 || s.Height != 800 || !near(s.Place.Box, signing.Box{X: 1. / 6, Y: 0.1, W: 1. / 3, H: 0.025}) {
		t.Errorf("%+v", s)
	}
	// A form that turns in a circle, or is none at all, ends.
	round := written("<< /Type /Catalog /Pages 2 0 R >>", "<< /Type /Pages /Kids [3 0 R] /Count 1 /MediaBox [0 0 600 800] >>", "<< /Type /Page /Parent 2 0 R /Annots [4 0 R 5 (x) null] >>", "<< /Subtype /Widget /Parent 4 0 R /FT 7 /Rect [1] >>")
	if got, err := Asked(round); err != nil || len(got) != 0 {
		t.Errorf("%+v %v", got, err)
	}
}
