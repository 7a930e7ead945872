package jobs_test

import (
	"archive/zip"
	"bytes"
	"image"
	"image/png"
	"io"
	"os"
	"path"
	"path/filepath"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// agreement is a word-processing document as it comes back from the other side: with what they want changed, a footnote and
// a page break.
func agreement(t *testing.T) []byte {
	t.Helper()
	const space = `xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"`
	by := ` w:author="Sunniva Aker" w:date="2026-11-20T10:12:00Z"`
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, f := range [][2]string{
		{"[Content_Types].xml", `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`},
		{"word/document.xml", `<w:document ` + space + `><w:body><w:p><w:pPr><w:outlineLvl w:val="0"/></w:pPr><w:r><w:rPr><w:color w:val="AA0000"/></w:rPr><w:t>Agreement</w:t></w:r></w:p>` +
			`<w:p><w:pPr><w:jc w:val="both"/></w:pPr><w:r><w:t xml:space="preserve">Paid within </w:t></w:r><w:del w:id="1"` + by + `><w:r><w:delText>30</w:delText></w:r></w:del><w:ins w:id="2"` + by + `><w:r><w:t>45</w:t></w:r></w:ins><w:r><w:t xml:space="preserve"> days.</w:t></w:r><w:r><w:footnoteReference w:id="1"/></w:r></w:p>` +
			`<w:p><w:r><w:br w:type="page"/></w:r></w:p></w:body></w:document>`},
	} {
		w, err := z.Create(f[0])
		if err == nil {
			_, err = io.WriteString(w, f[1])
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// wordText is the text part of a document as it is now.
func wordText(t *testing.T, c *testkit.Client, doc uuid.UUID) string {
	t.Helper()
	raw := c.Want(200, "GET", "/api/documents/"+doc.String()+"/content", nil).Body
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		t.Fatal(err)
	}
	f, err := z.Open("word/document.xml")
	if err != nil {
		t.Fatal(err)
	}
	text, err := io.ReadAll(f)
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// What the other side proposed in its word processor is decided on where it stands, while a colleague proposes more; what
// comes of it is the same file, with her words as a change by her.
func TestAWordDocumentIsWritten(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	doc := c.Upload(reports, "", "Agreement.docx", agreement(t)).Document
	ines, priya := sits(t, k, 1280, 800), sits(t, k, 390, 844)
	ines.signsIn("Ines Okafor")
	k.Give("ines", doc.Id, "priya", access.LevelPropose)
	priya.signsIn("Priya Valdane")
	ines.does(ines.opens("/d/" + doc.Ref))
	ines.count("from the slip to a word document that is open for writing", 1, func() {
		ines.does(ines.Click(".slip a::Write"), ines.reads("Paid within"))
	})
	ines.does(ines.See(".kept-parts::1 footnote and 1 page break"), ines.See(".ProseMirror del::30"), ines.See(".beside li::Sunniva Aker"))
	ines.count("accept what the other side proposes", 1, func() {
		ines.does(ines.Click(".beside li button::Accept"), ines.Gone(".ProseMirror del"))
	})
	priya.does(priya.opens("/write/"+doc.Id.String()), priya.reads("Paid within 45 days"), priya.Click(".ProseMirror h2"), priya.Press(" of 2027"), priya.See(".ProseMirror ins::2027"))
	ines.does(ines.See(".ProseMirror ins::2027"), ines.Click("button::Understood"), ines.Gone(".kept-parts"))
	ines.does(ines.Click("button::Name this version"), ines.Enter(), ines.See(".toast-line::This is version 2"))
	text := wordText(t, c, doc.Id)
	for _, want := range []string{`<w:r><w:rPr><w:color w:val="AA0000"/></w:rPr><w:t xml:space="preserve">Agreement</w:t></w:r><w:ins`, `w:author="Priya Valdane"`, `<w:jc w:val="both"/>`, `Paid within 45 days.`, `<w:footnoteReference w:id="1"/>`, `<w:p><w:r><w:br w:type="page"/></w:r></w:p>`} {
		if !strings.Contains(text, want) {
			t.Errorf("%s is not in %s", want, text)
		}
	}
}

// A client writes an agreement with the surveyor through a link, on a telephone and without an account: each sees the other
// write, and what comes of it is a version by the client, which the surveyor finds in the activity. When the link ends she
// is out.
func TestAClientWritesThroughALink(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	yard := testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "The yard"}).Id
	doc := c.Upload(yard, "", "Agreement.docx", agreement(t)).Document
	kind := contract.LinkKindWorking
	link := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind})
	ines, isa := sits(t, k, 1280, 800), sits(t, k, 390, 844)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/write/"+doc.Id.String()), ines.reads("Paid within"))
	isa.does(isa.opens("/l/" + path.Base(*link.Address)))
	isa.count("from a link to a text that is open for writing", 4, func() {
		isa.does(isa.Click("button::Show"), isa.Click("li a::Write"), isa.Type("#my-name", "Isa Breck"), isa.Enter(), isa.reads("Paid within"))
	})
	ines.does(ines.See(".pens::Isa Breck"))
	isa.does(isa.See(".pens::Ines Okafor"), isa.Click(".ProseMirror h2"), isa.Press(" for 2027"), isa.See(".state::All of it is kept"))
	ines.does(ines.reads("Agreement for 2027"), ines.See(".their-caret em::Isa"))
	// She shows what she means by a picture, which the surveyor sees where she put it.
	picture := filepath.Join(t.TempDir(), "Frame 31.png")
	var drawn bytes.Buffer
	if err := png.Encode(&drawn, image.NewGray(image.Rect(0, 0, 400, 120))); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(picture, drawn.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	isa.does(isa.Choose("[data-picture]", picture), isa.See(".state::All of it is kept"))
	ines.does(ines.Until("document.querySelector('.ProseMirror img.picture')?.naturalWidth === 400"))
	ines.does(ines.Click("button::Name this version"), ines.Enter(), ines.See(".toast-line::This is version 2"))
	if text := wordText(t, c, doc.Id); !strings.Contains(text, " for 2027") || !strings.Contains(text, `descr="Frame 31"`) {
		t.Errorf("it says %s", text)
	}
	ines.does(ines.opens("/activity"), ines.See("main::was changed through the link"))
	c.Want(204, "POST", "/api/links/"+link.Id.String()+"/end", nil)
	isa.does(isa.See(".gone h1"))
}
