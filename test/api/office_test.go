package api_test

import (
	"archive/zip"
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// letterFile is a word document with one paragraph.
func letterFile(t *testing.T, text string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, f := range [][2]string{
		{"[Content_Types].xml", `<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`},
		{"word/document.xml", `<?xml version="1.0"?><w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body><w:p><w:r><w:t>` + text + `</w:t></w:r></w:p></w:body></w:document>`},
	} {
		w, err := z.Create(f[0])
		if err != nil {
			t.Fatal(err)
		}
		if _, err := w.Write([]byte(f[1])); err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// Word documents are looked at in pages where something converts them, marked
// where they may only be viewed; elsewhere that is said.
func TestWordDocumentsByLink(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	// The converter runs as another user where the server is root.
	for _, at := range []string{dir, filepath.Dir(dir)} {
		if err := os.Chmod(at, 0o755); err != nil {
			t.Fatal(err)
		}
	}
	made := filepath.Join(dir, "made.pdf")
	if err := os.WriteFile(made, pdfOf(t, "one", "two"), 0o644); err != nil {
		t.Fatal(err)
	}
	// A stand-in for the converter.
	program := filepath.Join(dir, "soffice")
	if err := os.WriteFile(program, []byte("#!/bin/sh\nexec cp "+made+" document.pdf\n"), 0o755); err != nil {
		t.Fatal(err)
	}
	w := newWorld(t, func(c *server.Config) { c.OfficeProgram = program })
	doc := w.luca.Upload(w.top, "", "letter.docx", letterFile(t, "pay to DE89 3704 0044 0532 0130 00")).Document.Id
	broken := w.luca.Upload(w.top, "", "broken.docx", letterFile(t, "x")[:200]).Document.Id
	for name, only := range map[string]bool{"viewed and downloaded": false, "only viewed": true} {
		_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, ViewOnly: &only})
		v := w.enter(token, contract.OpenLink{})
		got := testkit.Get[contract.LinkContents](v, "/api/visits/"+token+"/contents")
		o := testkit.Get[contract.Outline](v, "/api/visits/"+token+"/documents/"+doc.String()+"/pages")
		if got.Files[0].Look != "pages" || len(o.Pages) != 2 {
			t.Errorf("%s: looked at as %s, %d pages", name, got.Files[0].Look, len(o.Pages))
		}
		decoded(t, w.pages(v, token, doc, 2, 1100))
	}
	// What stands in it is found before it is given out.
	if d := testkit.Post[contract.LinkDraft](w.luca, 200, "/api/links/draft", contract.LinkTerms{Items: []uuid.UUID{doc}}); len(d.Sensitive) != 1 {
		t.Errorf("found: %+v", d.Sensitive)
	}
	if a := w.luca.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{broken}, ViewOnly: ptr(true)}); a.Status != 201 && a.Code() != "cannot-be-marked" {
		t.Errorf("broken: %d %s", a.Status, a.Body)
	}
	without := newWorld(t, func(c *server.Config) { c.OfficeProgram = "none" })
	doc = without.luca.Upload(without.top, "", "letter.docx", letterFile(t, "Dear Marit")).Document.Id
	if a := without.luca.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}, ViewOnly: ptr(true)}); a.Code() != "cannot-be-marked" {
		t.Errorf("without a converter: %d %s", a.Status, a.Body)
	}
	_, token := without.link(contract.LinkTerms{Items: []uuid.UUID{doc}})
	v := without.enter(token, contract.OpenLink{})
	if got := testkit.Get[contract.LinkContents](v, "/api/visits/"+token+"/contents"); got.Files[0].Look != "none" {
		t.Errorf("without a converter it is looked at as %s", got.Files[0].Look)
	}
}
