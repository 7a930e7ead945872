package api_test

import (
	"archive/zip"
	"bytes"
	"io"
	"maps"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	apart["GET /documents/{id}/blanks"] = "two things at once: TestMakingIsRefused"
	apart["POST /documents/{id}/made"] = "two things at once: TestMakingIsRefused"
}

// makes makes a document from another one, and returns it with what it holds.
func (o *office) makes(c *testkit.Client, template uuid.UUID, w contract.TemplateWish) (contract.Place, []byte) {
	o.T.Helper()
	p := testkit.Post[contract.Place](c, 201, "/api/documents/"+template.String()+"/made", w)
	return p, c.Want(200, "GET", "/api/documents/"+p.Id.String()+"/content", nil).Body
}

func archived(t *testing.T, files map[string]string) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, name := range slices.Sorted(maps.Keys(files)) {
		w, err := z.Create(name)
		if err == nil {
			_, err = io.WriteString(w, files[name])
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func partOf(t *testing.T, archive []byte, name string) string {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(archive), int64(len(archive)))
	if err != nil {
		t.Fatal(err)
	}
	f, err := z.Open(name)
	if err != nil {
		t.Fatal(err)
	}
	raw, _ := io.ReadAll(f)
	return string(raw)
}

// A document is made from another one: what the dossier knows is filled in, the rest by whoever
// makes it; what is filled in stays text, whatever it says.
func TestMakingFromTemplates(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	letter := o.luca.Upload(o.reports, "", "Letter.txt", []byte("[[Code]] [[number]]\r\nDear [[Salutation]] of [[client]], [[dossier]]: [[today]]. [[me]]; [[sign:B]]")).Document.Id
	at := "/api/documents/" + letter.String() + "/blanks?folder=" + o.yard.String()
	values := map[string]string{}
	for _, b := range testkit.Get[[]contract.Blank](o.luca, at) {
		values[b.Word] = b.Value
	}
	if values["Code"] != "MER-24" || values["Salutation"] != "" || values["me"] != "Luca Ferrante" || values["dossier"] != "Corran Lass" || len(values) != 7 {
		t.Errorf("the blanks are %v", values)
	}
	o.hanne.Want(204, "PATCH", "/api/dossiers/MER-24", contract.DossierChange{Was: contract.DossierParticulars{Name: "Corran Lass", Kind: "client"}, To: contract.DossierParticulars{Name: "Corran Lass", Client: "Brackwater & Sons", Kind: "client"}})
	p, content := o.makes(o.luca, letter, contract.TemplateWish{Folder: o.yard, Name: "To the master", Values: &map[string]string{"salutation": "Mrs [[me]]"}})
	if want := "MER-24 " + p.Ref + "\r\nDear Mrs [[me]] of Brackwater & Sons, Corran Lass: "; !strings.HasPrefix(string(content), want) || !strings.HasSuffix(string(content), "Luca Ferrante; [[sign:B]]") {
		t.Errorf("%s holds %q", p.Ref, content)
	}
	if p.Name != "To the master.txt" || p.FolderId != o.yard {
		t.Errorf("it is %+v", p)
	}
	// Once more under the name: beside it, not a version.
	again, _ := o.makes(o.luca, letter, contract.TemplateWish{Folder: o.yard, Name: "To the master.txt", Values: &map[string]string{"Salutation": "x", "client": "somebody else"}})
	if again.Name == p.Name || again.Id == p.Id {
		t.Errorf("the second is %+v", again)
	}

	page := o.luca.Upload(o.reports, "", "Page.html", []byte("<p>[[x]]</p>")).Document.Id
	if _, content := o.makes(o.luca, page, contract.TemplateWish{Folder: o.yard, Name: "Page", Values: &map[string]string{"x": "<script>&"}}); string(content) != "<p>&lt;script&gt;&amp;</p>" {
		t.Errorf("the page holds %q", content)
	}
	table := o.luca.Upload(o.reports, "", "Table.csv", []byte("a;b\n\"[[x]]\";2\n")).Document.Id
	if _, content := o.makes(o.luca, table, contract.TemplateWish{Folder: o.yard, Name: "Table", Values: &map[string]string{"x": "1\";3\n=4"}}); string(content) != "a;b\n\"1' 3 =4\";2\n" {
		t.Errorf("the table holds %q", content)
	}

	// A word document whose blank lies in three runs, and one in a header.
	const w = `xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"`
	docx := archived(t, map[string]string{
		"[Content_Types].xml": `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`,
		"word/document.xml":   `<w:document ` + w + `><w:body><w:p><w:r><w:t>Dear [</w:t></w:r><w:proofErr/><w:r><w:rPr><w:b/></w:rPr><w:t>[cli</w:t></w:r><w:r><w:t xml:space="preserve">ent]], R&amp;D</w:t></w:r></w:p></w:body></w:document>`,
		"word/header1.xml":    `<w:hdr ` + w + `><w:p><w:r><w:t>[[code]]</w:t></w:r></w:p></w:hdr>`,
		"word/media/a.bin":    "[[client]]",
	})
	template := o.luca.Upload(o.reports, "", "Letter.docx", docx).Document.Id
	_, made := o.makes(o.luca, template, contract.TemplateWish{Folder: o.yard, Name: "Letter"})
	if got := partOf(t, made, "word/document.xml"); !strings.Contains(got, `<w:t>Dear Brackwater &amp; Sons</w:t></w:r><w:proofErr/><w:r><w:rPr><w:b/></w:rPr><w:t></w:t></w:r><w:r><w:t xml:space="preserve">, R&amp;D</w:t>`) {
		t.Errorf("the letter holds %s", got)
	}
	if got := partOf(t, made, "word/header1.xml"); !strings.Contains(got, "<w:t>MER-24</w:t>") {
		t.Errorf("its head holds %s", got)
	}
	if got := partOf(t, made, "word/media/a.bin"); got != "[[client]]" {
		t.Errorf("what is no text became %q", got)
	}
}

// Many at once get different numbers, and each bears its own.
func TestMadeNumbers(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	letter := o.luca.Upload(o.reports, "", "Letter.txt", []byte("[[number]]")).Document.Id
	var wait sync.WaitGroup
	for range 6 {
		wait.Go(func() {
			p := testkit.Post[contract.Place](o.luca, 201, "/api/documents/"+letter.String()+"/made", contract.TemplateWish{Folder: o.yard, Name: "Letter"})
			if content := string(o.luca.Want(200, "GET", "/api/documents/"+p.Id.String()+"/content", nil).Body); content != p.Ref {
				t.Errorf("%s bears %q", p.Ref, content)
			}
		})
	}
	wait.Wait()
}

func TestMakingIsRefused(t *testing.T) {
	t.Parallel()
	o := administered(t)
	letter := o.luca.Upload(o.reports, "", "Letter.txt", []byte("[[x]]")).Document.Id
	w := contract.TemplateWish{Folder: o.yard, Name: "Letter", Values: &map[string]string{"x": "y"}}
	blanks, made := "/api/documents/"+letter.String()+"/blanks?folder="+o.yard.String(), "/api/documents/"+letter.String()+"/made"
	o.tomasz.Want(404, "GET", blanks, nil)
	o.tomasz.Want(404, "POST", made, w)
	o.priya.Want(403, "GET", blanks, nil)
	o.priya.Want(403, "POST", made, w)
	// Who may add in one place, but only look at the other.
	id, client := o.account("client", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.yard}, to(id)))
	client.Want(404, "POST", made, w)
	o.give(o.hanne, wish(contract.LevelLook, []uuid.UUID{letter}, to(id)))
	client.Want(403, "GET", blanks, nil)
	client.Want(403, "POST", made, w)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{letter}, to(id)))
	if p, content := o.makes(client, letter, w); string(content) != "y" || p.FolderId != o.yard {
		t.Errorf("made is %+v %q", p, content)
	}
	o.luca.Want(404, "POST", made, contract.TemplateWish{Folder: letter, Name: "x"})
	o.luca.Want(404, "POST", made, contract.TemplateWish{Folder: uuid.New(), Name: "x"})
	for code, w := range map[string]contract.TemplateWish{
		"blank-unfilled": {Folder: o.yard, Name: "x"},
		"blank-value":    {Folder: o.yard, Name: "x", Values: &map[string]string{"x": "a\x00b"}},
		"name-slash":     {Folder: o.yard, Name: "a/b", Values: &map[string]string{"x": "y"}},
	} {
		if a := o.luca.Do("POST", made, w); a.Status != 400 || a.Code() != code {
			t.Errorf("%s: %d %s", code, a.Status, a.Code())
		}
	}
	const word = `<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>`
	for name, content := range map[string][]byte{
		"broken.docx":   []byte("PK\x03\x04 and no more"),
		"unclosed.docx": archived(t, map[string]string{"[Content_Types].xml": "<Types/>", "word/document.xml": word + "<w:p><w:r>"}),
		"deep.docx":     archived(t, map[string]string{"[Content_Types].xml": "<Types/>", "word/document.xml": word + strings.Repeat("<w:p>", 5000) + strings.Repeat("</w:p>", 5000) + "</w:body></w:document>"}),
		"bomb.docx":     archived(t, map[string]string{"[Content_Types].xml": "<Types/>", "word/document.xml": word + strings.Repeat("<w:p/>", 20_000_000)}),
		"doubled.docx":  archived(t, map[string]string{"[Content_Types].xml": "<Types/>", "word/document.xml": "<!DOCTYPE a [<!ENTITY x \"[[code]]\">]>" + word + "<w:p><w:t>&x;</w:t></w:p></w:body></w:document>"}),
		"picture.png":   []byte("\x89PNG\r\n\x1a\n[[x]]"),
		"latin.txt":     []byte("Gr\xfc\xdfe [[x]]"),
	} {
		d := o.luca.Upload(o.reports, "", name, content).Document.Id
		for _, way := range []func() testkit.Answer{
			func() testkit.Answer {
				return o.luca.Do("GET", "/api/documents/"+d.String()+"/blanks?folder="+o.yard.String(), nil)
			},
			func() testkit.Answer { return o.luca.Do("POST", "/api/documents/"+d.String()+"/made", w) },
		} {
			if a := way(); a.Status != 400 || a.Code() != "no-template" {
				t.Errorf("%s: %d %s", name, a.Status, a.Code())
			}
		}
	}
}
