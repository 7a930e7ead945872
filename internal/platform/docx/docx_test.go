package docx

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"math/rand/v2"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"os"

	"tabularis/core/richtext"
)

// letter is a document as offices have them: styles of its own, a list, a table with merged cells, a note, a picture's
// frame, a table of contents, a field, what was proposed by somebody, and a remark.
const letter = `<w:p><w:pPr><w:pStyle w:val="Kopf"/></w:pPr><w:bookmarkStart w:id="0" w:name="_top"/><w:r><w:t>Fee letter</w:t></w:r><w:bookmarkEnd w:id="0"/></w:p>` +
	`<w:sdt><w:sdtPr><w:docPartObj><w:docPartGallery w:val="Table of Contents"/></w:docPartObj></w:sdtPr><w:sdtContent><w:p><w:r><w:t>1 Services</w:t></w:r></w:p></w:sdtContent></w:sdt>` +
	`<w:p><w:pPr><w:pStyle w:val="BodyText"/><w:jc w:val="both"/></w:pPr><w:r><w:rPr><w:rFonts w:ascii="Garamond"/><w:color w:val="AA0000"/></w:rPr><w:t xml:space="preserve">The fee is </w:t></w:r><w:r><w:rPr><w:b/><w:rFonts w:ascii="Garamond"/></w:rPr><w:t>£12,400</w:t></w:r><w:r><w:t xml:space="preserve"> a month</w:t></w:r><w:r><w:rPr><w:vertAlign w:val="superscript"/></w:rPr><w:footnoteReference w:id="2"/></w:r><w:r><w:t>.</w:t></w:r></w:p>` +
	`<w:p><w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="3"/></w:numPr></w:pPr><w:r><w:t>Survey</w:t></w:r></w:p>` +
	`<w:p><w:pPr><w:numPr><w:ilvl w:val="1"/><w:numId w:val="3"/></w:numPr></w:pPr><w:r><w:t>hull</w:t></w:r></w:p>` +
	`<w:p><w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="3"/></w:numPr></w:pPr><w:r><w:t>Drawings</w:t></w:r></w:p>` +
	`<w:tbl><w:tblPr><w:tblW w:w="0" w:type="auto"/></w:tblPr><w:tblGrid><w:gridCol w:w="4000"/><w:gridCol w:w="2000"/><w:gridCol w:w="2000"/></w:tblGrid>` +
	`<w:tr><w:trPr><w:tblHeader/></w:trPr><w:tc><w:tcPr><w:tcW w:w="4000" w:type="dxa"/></w:tcPr><w:p><w:r><w:t>Item</w:t></w:r></w:p></w:tc><w:tc><w:tcPr><w:gridSpan w:val="2"/></w:tcPr><w:p><w:r><w:t>Amounts</w:t></w:r></w:p></w:tc></w:tr>` +
	`<w:tr><w:tc><w:tcPr><w:vMerge w:val="restart"/><w:shd w:fill="EEEEEE"/></w:tcPr><w:p><w:r><w:t>Survey</w:t></w:r></w:p></w:tc><w:tc><w:p><w:r><w:t>1</w:t></w:r></w:p></w:tc><w:tc><w:p><w:r><w:t>2</w:t></w:r></w:p></w:tc></w:tr>` +
	`<w:tr><w:tc><w:tcPr><w:vMerge/></w:tcPr><w:p/></w:tc><w:tc><w:p><w:r><w:t>3</w:t></w:r></w:p></w:tc><w:tc><w:p><w:r><w:t>4</w:t></w:r></w:p></w:tc></w:tr></w:tbl>` +
	`<w:p><w:r><w:t xml:space="preserve">See </w:t></w:r><w:hyperlink r:id="rId9"><w:r><w:t>the yard</w:t></w:r></w:hyperlink><w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText>PAGEREF _top</w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r><w:r><w:t>4</w:t></w:r><w:r><w:fldChar w:fldCharType="end"/></w:r><w:r><w:tab/><w:t>end</w:t></w:r></w:p>` +
	`<w:p><w:commentRangeStart w:id="7"/><w:r><w:t xml:space="preserve">Paid within </w:t></w:r><w:del w:id="11" w:author="M. Sato" w:date="2026-11-02T09:00:00Z"><w:r><w:delText>30</w:delText></w:r></w:del><w:ins w:id="12" w:author="M. Sato" w:date="2026-11-02T09:00:00Z"><w:r><w:t>14</w:t></w:r></w:ins><w:r><w:t xml:space="preserve"> days.</w:t></w:r><w:commentRangeEnd w:id="7"/><w:r><w:commentReference w:id="7"/></w:r></w:p>` +
	`<w:p><w:r><w:drawing><wp:inline xmlns:wp="urn:wp"><wp:docPr id="1" name="Picture 1" descr="Frame 31"/><a:blip xmlns:a="urn:a" r:embed="rId8"/></wp:inline></w:drawing></w:r></w:p>`

func packed(t testing.TB, body string, more map[string]string) []byte {
	t.Helper()
	parts := map[string]string{
		"[Content_Types].xml": `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/><Override PartName="/word/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.styles+xml"/><Override PartName="/word/numbering.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.numbering+xml"/></Types>`,
		"_rels/.rels":         `<Relationships xmlns="` + packaged + `"><Relationship Id="a" Type="` + relationships + `/officeDocument" Target="word/document.xml"/></Relationships>`,
		"word/_rels/document.xml.rels": `<Relationships xmlns="` + packaged + `"><Relationship Id="rId1" Type="` + relationships + `/styles" Target="styles.xml"/><Relationship Id="rId2" Type="` + relationships + `/numbering" Target="numbering.xml"/>` +
			`<Relationship Id="rId3" Type="` + relationships + `/footnotes" Target="footnotes.xml"/><Relationship Id="rId4" Type="` + relationships + `/comments" Target="comments.xml"/><Relationship Id="rId9" Type="` + relationships + `/hyperlink" Target="https://yard.example/" TargetMode="External"/></Relationships>`,
		"word/styles.xml":    `<w:styles xmlns:w="` + words + `"><w:style w:type="paragraph" w:default="1" w:styleId="Std"><w:name w:val="Normal"/></w:style><w:style w:type="paragraph" w:styleId="Kopf"><w:name w:val="heading 1"/><w:basedOn w:val="Std"/></w:style><w:style w:type="paragraph" w:styleId="BodyText"><w:name w:val="Body Text"/></w:style></w:styles>`,
		"word/numbering.xml": `<w:numbering xmlns:w="` + words + `"><w:abstractNum w:abstractNumId="5"><w:lvl w:ilvl="0"><w:start w:val="4"/><w:numFmt w:val="decimal"/><w:lvlText w:val="%1."/></w:lvl><w:lvl w:ilvl="1"><w:start w:val="1"/><w:numFmt w:val="bullet"/><w:lvlText w:val="–"/></w:lvl></w:abstractNum><w:num w:numId="3"><w:abstractNumId w:val="5"/></w:num></w:numbering>`,
		"word/footnotes.xml": `<w:footnotes xmlns:w="` + words + `"><w:footnote w:id="2"><w:p><w:r><w:t>Without tax.</w:t></w:r></w:p></w:footnote></w:footnotes>`,
		"word/comments.xml":  `<w:comments xmlns:w="` + words + `"><w:comment w:id="7" w:author="M. Sato"><w:p><w:r><w:t>Is this usual?</w:t></w:r></w:p></w:comment></w:comments>`,
		"word/document.xml":  `<?xml version="1.0"?><w:document xmlns:w="` + words + `" xmlns:r="` + relationships + `"><w:body>` + body + `<w:sectPr><w:pgSz w:w="11906" w:h="16838"/></w:sectPr></w:body></w:document>`,
	}
	for name, text := range more {
		parts[name] = text
	}
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for name, text := range parts {
		if text == "" {
			continue
		}
		if err := put(z, name, []byte(text)); err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func part(t testing.TB, raw []byte, name string) string {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		t.Fatal(err)
	}
	r, err := z.Open(name)
	if err != nil {
		t.Fatal(name, err)
	}
	text, err := io.ReadAll(r)
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

func read(t testing.TB, raw []byte) *richtext.Node {
	t.Helper()
	doc, err := Read(raw)
	if err != nil {
		t.Fatal(err)
	}
	return doc
}

func asJSON(t testing.TB, doc *richtext.Node) string {
	t.Helper()
	raw, err := json.Marshal(doc)
	if err != nil {
		t.Fatal(err)
	}
	return string(raw)
}

// changed is a text with words in its JSON replaced.
func changed(t testing.TB, doc *richtext.Node, old, by string) *richtext.Node {
	t.Helper()
	text := asJSON(t, doc)
	if !strings.Contains(text, old) {
		t.Fatalf("%s is not in %s", old, text)
	}
	after, err := richtext.Written.Read([]byte(strings.Replace(text, old, by, 1)))
	if err != nil {
		t.Fatal(err)
	}
	return after
}

func written(t testing.TB, original []byte, doc *richtext.Node) []byte {
	t.Helper()
	raw, err := Write(original, doc, map[string]string{"p1": "Ines Marín"}, nil)
	if err != nil {
		t.Fatal(err)
	}
	return raw
}

func TestADocumentIsReadAsAText(t *testing.T) {
	text := asJSON(t, read(t, packed(t, letter, nil)))
	for _, want := range []string{
		`{"type":"heading","attrs":{"level":1},"content":[{"type":"text","text":"Fee letter"}]}`,
		`"kind":"contents","label":"1 Services"`,
		`{"type":"text","marks":[{"type":"strong"}],"text":"£12,400"}`,
		`"kind":"note","label":"Without tax."`,
		`{"type":"ordered_list","attrs":{"count":"1","start":4},"content":[{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"Survey"}]},{"type":"bullet_list"`,
		`"type":"table_header"`, `"colspan":2`, `"rowspan":2`,
		`"href":"https://yard.example/"`, `"kind":"field","label":"4"`, `"text":"\tend"`,
		`"by":"name:M. Sato"`, `"kind":"remark","label":"M. Sato: Is this usual?"`, `"kind":"picture","label":"Frame 31"`,
	} {
		if !strings.Contains(text, want) {
			t.Errorf("%s is not in %s", want, text)
		}
	}
}

func TestWhatNobodyChangedStaysByteByByte(t *testing.T) {
	raw := packed(t, letter, nil)
	doc := read(t, raw)
	if got, want := part(t, written(t, raw, doc), "word/document.xml"), part(t, raw, "word/document.xml"); got != want {
		t.Errorf("unchanged, it is written as\n%s\nwhere it was\n%s", got, want)
	}
	after := part(t, written(t, raw, changed(t, doc, `" a month"`, `" a quarter"`)), "word/document.xml")
	for _, kept := range []string{
		`<w:jc w:val="both"/>`, `<w:r><w:rPr><w:rFonts w:ascii="Garamond"/><w:color w:val="AA0000"/></w:rPr><w:t xml:space="preserve">The fee is </w:t></w:r>`,
		`<w:t xml:space="preserve"> a quarter</w:t></w:r><w:r><w:rPr><w:vertAlign w:val="superscript"/></w:rPr><w:footnoteReference w:id="2"/></w:r>`,
	} {
		if !strings.Contains(after, kept) {
			t.Errorf("%s is not in %s", kept, after)
		}
	}
	if from := strings.Index(letter, "<w:numPr>"); !strings.Contains(after, letter[from:]) {
		t.Errorf("what comes after is not as it was: %s", after)
	}
}

func TestWhatIsWrittenIsReadAgain(t *testing.T) {
	raw := packed(t, letter, nil)
	doc := read(t, raw)
	for _, c := range []struct{ what, old, by, in string }{
		{"a word in a new look", `{"type":"text","text":"Survey"}`, `{"type":"text","text":"Sur"},{"type":"text","text":"vey","marks":[{"type":"strong"},{"type":"em"}]}`, `<w:rPr><w:b/><w:i/></w:rPr><w:t xml:space="preserve">vey</w:t>`},
		{"a word no longer strong", `{"type":"text","text":"The fee is "},{"type":"text","marks":[{"type":"strong"}],"text":"£12,400"},{"type":"text","text":" a month"}`, `{"type":"text","text":"The fee is £12,400 a month"}`, `<w:rPr><w:rFonts w:ascii="Garamond"/></w:rPr><w:t xml:space="preserve">£12,400</w:t>`},
		{"a new link", `{"type":"text","text":" a month"}`, `{"type":"text","text":" a month","marks":[{"type":"link","attrs":{"href":"https://fees.example/?a=1\u0026b=2"}}]}`, `<w:hyperlink r:id="Lead1">`},
		{"a heading", `{"type":"heading","attrs":{"level":1},"content":[{"type":"text","text":"Fee letter"}]}`, `{"type":"heading","attrs":{"level":2},"content":[{"type":"text","text":"Fee letter"}]}`, `<w:pStyle w:val="heading21"/>`},
		{"a paragraph more", `{"type":"paragraph","content":[{"type":"text","text":"See "}`, `{"type":"paragraph","content":[{"type":"text","text":"New & <odd>\ttext"}]},{"type":"paragraph","content":[{"type":"text","text":"See "}`, `<w:jc w:val="both"/></w:pPr><w:r><w:rPr><w:rFonts w:ascii="Garamond"/><w:color w:val="AA0000"/></w:rPr><w:t xml:space="preserve">New &amp; &lt;odd&gt;</w:t><w:tab/>`},
		{"an item more", `{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"Drawings"}]}]}`, `{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"Models"}]}]},{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"Drawings"}]}]}`, `<w:numPr><w:ilvl w:val="0"/><w:numId w:val="3"/></w:numPr></w:pPr><w:r><w:t xml:space="preserve">Models</w:t>`},
		{"a new list", `{"type":"paragraph","content":[{"type":"text","text":"See "}`, `{"type":"bullet_list","content":[{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"one"}]},{"type":"ordered_list","attrs":{"start":3},"content":[{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"three"}]}]}]}]},{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"two"}]}]}]},{"type":"paragraph","content":[{"type":"text","text":"See "}`, `<w:numId w:val="4"/>`},
		{"a cell", `{"type":"text","text":"3"}`, `{"type":"text","text":"33"}`, `<w:tc><w:tcPr><w:vMerge/></w:tcPr><w:p/></w:tc>`},
		{"a proposal", `{"type":"text","text":" a month"}`, `{"type":"text","text":" a "},{"type":"text","text":"quarter","marks":[{"type":"inserted","attrs":{"id":"x1","by":"p1","at":1764500000000}}]},{"type":"text","text":"month","marks":[{"type":"deleted","attrs":{"id":"x2","by":"p1","at":1764500000000}}]}`, `<w:delText xml:space="preserve">month</w:delText>`},
	} {
		t.Run(c.what, func(t *testing.T) {
			want := changed(t, doc, c.old, c.by)
			after := written(t, raw, want)
			if text := part(t, after, "word/document.xml"); !strings.Contains(text, c.in) {
				t.Errorf("%s is not in %s", c.in, text)
			}
			if got := known(asJSON(t, read(t, after))); got != known(asJSON(t, want)) {
				t.Errorf("it comes back as\n%s\nwanted\n%s", got, known(asJSON(t, want)))
			}
		})
	}
}

var whose = regexp.MustCompile(`"by":"[^"]*","id":"[^"]*"`)

// known is a text without what a file says in its own way: whose a proposal is, and its number.
func known(text string) string { return whose.ReplaceAllString(text, "?") }

// Whatever happens to the lines of a document, it is read again as it was written, and no mark of a range is lost.
func TestAnyChangeComesBack(t *testing.T) {
	raw := packed(t, letter, nil)
	blocks := read(t, raw).Content.Nodes
	for seed := range 400 {
		r := rand.New(rand.NewPCG(9, uint64(seed)))
		var all []any
		for _, n := range blocks {
			switch r.IntN(6) {
			case 0:
			case 1:
				all = append(all, object{"type": "paragraph", "content": []object{{"type": "text", "text": strings.Repeat("new ", 1+r.IntN(4))}}}, n)
			case 2:
				all = append(all, n, object{"type": "heading", "attrs": object{"level": 1 + r.IntN(6)}, "content": []object{{"type": "text", "text": "Head"}}})
			default:
				all = append(all, n)
			}
		}
		if r.IntN(2) == 0 && len(all) > 2 {
			i, j := r.IntN(len(all)), r.IntN(len(all))
			all[i], all[j] = all[j], all[i]
		}
		if len(all) == 0 {
			continue
		}
		text, err := json.Marshal(object{"type": "doc", "content": all})
		if err != nil {
			t.Fatal(err)
		}
		want, err := richtext.Written.Read(text)
		if err != nil {
			t.Fatal(err)
		}
		after := written(t, raw, want)
		if got := known(asJSON(t, read(t, after))); got != known(asJSON(t, want)) {
			t.Fatalf("seed %d comes back as\n%s\nwanted\n%s\n%s", seed, got, known(asJSON(t, want)), part(t, after, "word/document.xml"))
		}
		for _, mark := range []string{"w:bookmarkStart", "w:bookmarkEnd", "w:commentRangeStart", "w:commentRangeEnd"} {
			if n := strings.Count(part(t, after, "word/document.xml"), "<"+mark); n != 1 {
				t.Fatalf("seed %d: %s is there %d times", seed, mark, n)
			}
		}
	}
}

func TestANewDocument(t *testing.T) {
	doc, err := richtext.Written.Read([]byte(`{"type":"doc","content":[{"type":"heading","attrs":{"level":1},"content":[{"type":"text","text":"Minutes"}]},{"type":"paragraph","content":[{"type":"text","text":"Present: "},{"type":"text","text":"all","marks":[{"type":"em"}]}]},
		{"type":"bullet_list","content":[{"type":"list_item","content":[{"type":"paragraph","content":[{"type":"text","text":"one"}]}]}]},
		{"type":"table","content":[{"type":"table_row","content":[{"type":"table_header","content":[{"type":"paragraph","content":[{"type":"text","text":"A"}]}]},{"type":"table_header","content":[{"type":"paragraph"}]}]},{"type":"table_row","content":[{"type":"table_cell","attrs":{"colspan":2},"content":[{"type":"paragraph"}]}]}]},{"type":"paragraph"}]}`))
	if err != nil {
		t.Fatal(err)
	}
	raw := written(t, nil, doc)
	if got := asJSON(t, read(t, raw)); got != asJSON(t, doc) {
		t.Errorf("it is read as\n%s\nwanted\n%s", got, asJSON(t, doc))
	}
	again := changed(t, doc, `{"type":"text","text":"one"}`, `{"type":"text","text":"two"}`)
	if got := asJSON(t, read(t, written(t, raw, again))); got != asJSON(t, again) {
		t.Errorf("changed, it is read as\n%s", got)
	}
	opened(t, raw, "Minutes", "Present: all", "one")
}

func TestOfficesOpenWhatIsWritten(t *testing.T) {
	raw := packed(t, letter, nil)
	after := written(t, raw, changed(t, read(t, raw), `{"type":"text","text":" a month"}`, `{"type":"text","text":" a "},{"type":"text","text":"quarter","marks":[{"type":"inserted","attrs":{"id":"x1","by":"p1"}}]}`))
	opened(t, after, "Fee letter", "The fee is £12,400 a quarter", "Drawings", "Amounts")
}

// opened lets an office program read a document, where there is one.
func opened(t *testing.T, raw []byte, words ...string) {
	t.Helper()
	text := converted(t, raw, "txt:Text (encoded):UTF8", "a.txt")
	for _, w := range words {
		if !strings.Contains(text, w) {
			t.Errorf("%q is not in %s", w, text)
		}
	}
}

// converted is a document as an office program writes it in another format.
func converted(t *testing.T, raw []byte, format, name string) string {
	t.Helper()
	program, err := exec.LookPath("soffice")
	if err != nil {
		t.Skip("no office program is installed")
	}
	dir := t.TempDir()
	if err := os.WriteFile(filepath.Join(dir, "a.docx"), raw, 0o600); err != nil {
		t.Fatal(err)
	}
	c := exec.Command(program, "-env:UserInstallation=file://"+dir+"/home", "--headless", "--convert-to", format, "--outdir", dir, filepath.Join(dir, "a.docx"))
	if out, err := c.CombinedOutput(); err != nil {
		t.Fatal(err, string(out))
	}
	text, err := os.ReadFile(filepath.Join(dir, name))
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

func TestWhatIsNoSuchDocumentIsRefused(t *testing.T) {
	deep := strings.Repeat("<w:sdt>", 300) + strings.Repeat("</w:sdt>", 300)
	for what, raw := range map[string][]byte{
		"nothing":         nil,
		"no archive":      []byte("PK\x03\x04 something"),
		"no text":         packed(t, letter, map[string]string{"word/document.xml": "<a/>"}),
		"broken":          packed(t, letter+"<w:p>", nil),
		"elsewhere":       packed(t, letter, map[string]string{"_rels/.rels": `<Relationships xmlns="` + packaged + `"><Relationship Id="a" Type="x/officeDocument" Target="../../etc/passwd"/></Relationships>`}),
		"deep":            packed(t, deep, nil),
		"entities":        packed(t, letter, map[string]string{"word/document.xml": `<!DOCTYPE a [<!ENTITY b "c">]><w:document xmlns:w="` + words + `"><w:body><w:p><w:r><w:t>&b;</w:t></w:r></w:p></w:body></w:document>`}),
		"in another name": packed(t, letter, map[string]string{"word/document.xml": `<document xmlns="` + words + `"><body/></document>`}),
	} {
		if _, err := Read(raw); !errors.Is(err, ErrUnreadable) {
			t.Errorf("%s: %v", what, err)
		}
	}
	for what, raw := range map[string][]byte{
		"signed": packed(t, letter, map[string]string{"_xmlsignatures/sig1.xml": "<a/>"}),
		"locked": packed(t, letter, map[string]string{"word/settings.xml": `<w:settings xmlns:w="` + words + `"><w:documentProtection w:edit="readOnly" w:enforcement="1"/></w:settings>`,
			"word/_rels/document.xml.rels": `<Relationships xmlns="` + packaged + `"><Relationship Id="rId1" Type="` + relationships + `/settings" Target="settings.xml"/></Relationships>`}),
	} {
		if _, err := Read(raw); !errors.Is(err, ErrProtected) {
			t.Errorf("%s: %v", what, err)
		}
	}
}

func TestNothingIsReferredToTwice(t *testing.T) {
	raw := packed(t, letter, nil)
	doc := read(t, raw)
	text := asJSON(t, doc)
	at := strings.Index(text, `{"type":"kept","attrs":{"id":"`)
	note := text[at : at+strings.Index(text[at:], "}")+2]
	after := part(t, written(t, raw, changed(t, doc, `{"type":"text","text":"\tend"}`, `{"type":"text","text":"\tend"},`+note)), "word/document.xml")
	if n := strings.Count(after, "footnoteReference"); n != 1 {
		t.Errorf("the note is referred to %d times", n)
	}
	foreign := changed(t, doc, `{"type":"text","text":"\tend"}`, `{"type":"kept","attrs":{"id":"ffff","kind":"field","label":"of <another>"}}`)
	if after := part(t, written(t, raw, foreign), "word/document.xml"); !strings.Contains(after, "of &lt;another&gt;") {
		t.Errorf("what came from elsewhere is not named: %s", after)
	}
}

// FuzzDocument reads anything, and writes back what it could read.
func FuzzDocument(f *testing.F) {
	f.Add(letter, 3)
	f.Add(`<w:p><w:r><w:t>a</w:t></w:r></w:p><w:tbl><w:tr><w:tc><w:p/></w:tc></w:tr></w:tbl>`, 0)
	f.Add(`<w:p><w:pPr><w:rPr><w:ins w:id="1"/></w:rPr></w:pPr></w:p><w:p/>`, 1)
	f.Fuzz(func(t *testing.T, body string, drop int) {
		raw := packed(t, body, nil)
		doc, err := Read(raw)
		if err != nil {
			return
		}
		nodes := slices.Clone(doc.Content.Nodes)
		if len(nodes) > 1 && drop >= 0 {
			nodes = slices.Delete(nodes, drop%len(nodes), drop%len(nodes)+1)
		}
		text, err := json.Marshal(object{"type": "doc", "content": nodes})
		if err != nil {
			t.Fatal(err)
		}
		less, err := richtext.Written.Read(text)
		if err != nil {
			return
		}
		after, err := Write(raw, less, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := Read(after); err != nil {
			t.Fatal(err, part(t, after, "word/document.xml"))
		}
	})
}

func TestPicturesOfADocument(t *testing.T) {
	rels := `<Relationships xmlns="` + packaged + `"><Relationship Id="rId8" Type="` + relationships + `/image" Target="media/image1.png"/><Relationship Id="rId9" Type="` + relationships + `/image" Target="https://elsewhere.example/x.png" TargetMode="External"/></Relationships>`
	elsewhere := `<w:p><w:r><w:drawing><a:blip xmlns:a="urn:a" r:embed="rId9"/></w:drawing></w:r></w:p>`
	raw := packed(t, letter+elsewhere, map[string]string{"word/_rels/document.xml.rels": rels, "word/media/image1.png": "\x89PNG\r\n\x1a\n and so on"})
	var known []string
	read(t, raw).Walk(func(n *richtext.Node, _ int) bool {
		if n.Attrs["kind"] == "picture" {
			known = append(known, n.Attrs["id"].(string))
		}
		return true
	})
	if len(known) != 2 {
		t.Fatalf("%d pictures", len(known))
	}
	if name, got, err := Picture(raw, known[0]); name != "image1.png" || !strings.HasPrefix(string(got), "\x89PNG") || err != nil {
		t.Errorf("%s %q %v", name, got, err)
	}
	// What lies elsewhere is not fetched, and what is none is not there.
	for _, none := range []string{known[1], "", "ffff", "word/styles.xml"} {
		if name, got, err := Picture(raw, none); name != "" || got != nil || err != nil {
			t.Errorf("%s: %s %q %v", none, name, got, err)
		}
	}
}
