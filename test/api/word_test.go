package api_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"net/url"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

const wordSpace = `xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"`

// agreed is a word-processing document of paragraphs as a program wrote them.
func agreed(t *testing.T, paragraphs string, more map[string]string) []byte {
	t.Helper()
	files := map[string]string{
		"[Content_Types].xml": `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`,
		"word/document.xml":   `<w:document ` + wordSpace + `><w:body>` + paragraphs + `<w:sectPr><w:pgSz w:w="11906" w:h="16838"/></w:sectPr></w:body></w:document>`,
	}
	for name, text := range more {
		files[name] = text
	}
	return archived(t, files)
}

func (w *writer) file() []byte {
	w.t.Helper()
	testkit.Post[contract.WritingKept](w.Client, 200, w.at+"/version", contract.WrittenVersion{})
	return w.Want(200, "GET", strings.TrimSuffix(w.at, "/writing")+"/content", nil).Body
}

// A word-processing document is written by several at once, and stays the file that it was, but for what was written. What
// is proposed stands in it as a change by its author, and is found again by whoever opens it.
func TestWordDocumentsAreWrittenTogether(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	before := `<w:p><w:pPr><w:jc w:val="center"/></w:pPr><w:r><w:rPr><w:color w:val="AA0000"/></w:rPr><w:t>Agreement</w:t></w:r></w:p>`
	raw := agreed(t, before+`<w:p><w:r><w:t>Paid in 30 days.</w:t></w:r></w:p>`, map[string]string{"word/header1.xml": "<a>kept</a>"})
	doc := o.luca.Upload(o.reports, "", "Agreement.docx", raw).Document.Id
	o.Give("hanne", doc, "tomasz", access.LevelPropose)
	luca, tomasz := writes(t, o.luca, doc), writes(t, o.tomasz, doc)
	if at := luca.open(); at.MediaType != "application/vnd.openxmlformats-officedocument.wordprocessingml.document" || at.Mode != "write" {
		t.Errorf("it is opened as %s to %s", at.MediaType, at.Mode)
	}
	luca.writes(12, "To be ")
	if a := tomasz.send(inserting(12, "x")); a.Code() != "more-than-allowed" {
		t.Errorf("a proposer writes: %d %s", a.Status, a.Body)
	}
	tomasz.version = tomasz.open().Version
	tomasz.writes(26, "working ", map[string]any{"type": "inserted", "attrs": map[string]any{"id": "a", "by": o.People["tomasz"].ID.String(), "at": 1764500000000}})
	file := luca.file()
	text := partOf(t, file, "word/document.xml")
	for _, want := range []string{before, `w:author="Tomasz`, `>working </w:t></w:r></w:ins>`, `To be Paid`} {
		if !strings.Contains(text, want) {
			t.Errorf("%s is not in %s", want, text)
		}
	}
	if partOf(t, file, "word/header1.xml") != "<a>kept</a>" {
		t.Error("the header is another")
	}
	// Brought in elsewhere, it is opened with what was proposed in it, by a name.
	again := writes(t, o.luca, o.luca.Upload(o.reports, "", "Came back.docx", file).Document.Id)
	if got := string(*again.open().Text); !strings.Contains(got, `"by":"name:Tomasz`) || again.words() != "AgreementTo be Paid in working 30 days." {
		t.Errorf("it is read as %s", got)
	}
	// What comes in by another way meanwhile is merged, with all that its file holds.
	luca.version = luca.open().Version
	luca.writes(1, "Frame ")
	o.hanne.Upload(o.reports, "", "Agreement.docx", agreed(t, before+`<w:p><w:r><w:t>Paid in 30 days.</w:t></w:r></w:p><w:p><w:r><w:t>Signed.</w:t></w:r></w:p>`, map[string]string{"word/header1.xml": "<a>another</a>"}))
	waitFor(t, func() bool {
		return strings.HasPrefix(luca.words(), "Frame Agreement") && strings.Contains(luca.words(), "Signed.")
	})
	if file := luca.file(); partOf(t, file, "word/header1.xml") != "<a>another</a>" || !strings.Contains(partOf(t, file, "word/document.xml"), "Frame ") {
		t.Error("it is not written into what came in")
	}
}

func TestANewWordDocument(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	made := testkit.Post[contract.Place](o.luca, 201, "/api/folders/"+o.reports.String()+"/written", contract.WrittenWish{Name: "Minutes.docx"})
	if made.Name != "Minutes.docx" {
		t.Errorf("it is called %q", made.Name)
	}
	w := writes(t, o.luca, made.Id)
	w.writes(1, "Present: all")
	if text := partOf(t, w.file(), "word/document.xml"); !strings.Contains(text, "Present: all") {
		t.Errorf("it says %s", text)
	}
	form := contract.WrittenFormKind
	asked := testkit.Post[contract.Place](o.luca, 201, "/api/folders/"+o.reports.String()+"/written", contract.WrittenWish{Name: "Asked.docx", Kind: &form})
	if asked.Name != "Asked.docx.md" {
		t.Errorf("a form is called %q", asked.Name)
	}
}

// What is signed or locked, broken, or not what it says it is, is not opened for writing.
func TestWordDocumentsThatAreNotWritten(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	bomb := agreed(t, strings.Repeat(`<w:p><w:r><w:t>`+strings.Repeat(" ", 1000)+`</w:t></w:r></w:p>`, 40_000), nil)
	for name, c := range map[string]struct {
		raw  []byte
		code string
	}{
		"signed":   {agreed(t, `<w:p/>`, map[string]string{"_xmlsignatures/sig1.xml": "<a/>"}), "text-protected"},
		"broken":   {agreed(t, `<w:p>`, nil), "unreadable"},
		"a bomb":   {bomb, "unreadable"},
		"entities": {archived(t, map[string]string{"[Content_Types].xml": "<Types/>", "word/document.xml": `<!DOCTYPE a [<!ENTITY b "c">]><w:document ` + wordSpace + `><w:body><w:p/></w:body></w:document>`}), "unreadable"},
	} {
		doc := o.luca.Upload(o.reports, "", name+".docx", c.raw).Document.Id
		if a := o.luca.Do("GET", "/api/documents/"+doc.String()+"/writing?page="+uuid.NewString(), nil); a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
}

// A picture that stands in a word document is shown to whoever reads the text; what is none of those that are shown, or
// stands in none, is not there.
func TestPicturesInWordDocuments(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	const rel = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
	shows := func(ref string) string {
		return `<w:p><w:r><w:drawing><blip xmlns:r="` + rel + `" r:embed="` + ref + `"/></w:drawing></w:r></w:p>`
	}
	doc := o.luca.Upload(o.yard, "", "Pictures.docx", agreed(t, shows("a")+shows("b"), map[string]string{
		"word/_rels/document.xml.rels": `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="a" Type="` + rel + `/image" Target="media/a.png"/><Relationship Id="b" Type="` + rel + `/image" Target="media/b.svg"/></Relationships>`,
		"word/media/a.png":             string(onePixel), "word/media/b.svg": `<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>`,
	})).Document.Id
	w := writes(t, o.luca, doc)
	var known []string
	for _, piece := range strings.Split(string(*w.open().Text), `"id":"`)[1:] {
		known = append(known, piece[:strings.Index(piece, `"`)])
	}
	if len(known) != 2 {
		t.Fatalf("%d pictures", len(known))
	}
	a := o.luca.Want(200, "GET", w.at+"/pictures/"+known[0], nil)
	if string(a.Body) != string(onePixel) || a.Header.Get("Content-Type") != "image/png" || !strings.Contains(a.Header.Get("Content-Security-Policy"), "sandbox") {
		t.Errorf("%s, %d bytes", a.Header.Get("Content-Type"), len(a.Body))
	}
	for _, none := range []string{known[1], "ffff", "a.png", "..%2fa.png"} {
		o.luca.Want(404, "GET", w.at+"/pictures/"+none, nil)
	}
	o.Visitor().Want(401, "GET", w.at+"/pictures/"+known[0], nil)
	o.tomasz.Want(404, "GET", w.at+"/pictures/"+known[0], nil)
}

// A document can be had with the open remarks about it, as its format has them: where they hold on to words as they stand
// now, and for nobody who may not have the document.
func TestAWordDocumentWithRemarks(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "Agreement.docx", agreed(t, `<w:p><w:r><w:t>Due in 30 days.</w:t></w:r></w:p><w:p><w:r><w:t>Paid in 30 days.</w:t></w:r></w:p>`, nil)).Document.Id
	about := func(words string) uuid.UUID {
		return o.says(o.hanne, doc, contract.NewRemark{Text: "About " + words, Place: &contract.RemarkPlace{Kind: "passage", Words: &words}})
	}
	days, done := about("30 days"), about("Due")
	about("nowhere")
	testkit.Post[contract.RemarkMade](o.luca, 201, "/api/items/"+doc.String()+"/remarks", contract.NewRemark{Text: "Yes & no", Thread: &days})
	o.luca.Want(204, "PUT", "/api/remarks/"+done.String()+"/resolution", nil)
	luca := writes(t, o.luca, doc)
	luca.open()
	if a := luca.send(map[string]any{"stepType": "addMark", "from": 26, "to": 33, "mark": map[string]any{"type": "remark", "attrs": map[string]any{"id": days}}}); a.Status != 200 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	at := "/api/items/" + doc.String() + "/remarks.docx"
	raw := o.luca.Want(200, "GET", at, nil).Body
	text, comments := partOf(t, raw, "word/document.xml"), partOf(t, raw, "word/comments.xml")
	if _, after, found := strings.Cut(text, `Paid in </w:t></w:r>`); !found || !strings.HasPrefix(after, `<w:commentRangeStart `) {
		t.Errorf("what holds on to the second 30 days stands elsewhere: %s", text)
	}
	if strings.Count(comments, "<w:comment ") != 3 || !strings.Contains(comments, ">Yes &amp; no<") || !strings.Contains(comments, ">About nowhere<") || strings.Contains(comments, "About Due") {
		t.Errorf("they say %s", comments)
	}
	if page := testkit.Get[contract.RemarkPage](o.luca, "/api/items/"+doc.String()+"/remarks"); !page.InWord || len(page.Threads) != 3 {
		t.Errorf("the page says %+v", page)
	}
	// The document itself stays without them.
	if file := luca.file(); strings.Contains(partOf(t, file, "word/document.xml"), "comment") {
		t.Error("they are in the document")
	}
	o.tomasz.Want(404, "GET", at, nil)
	o.Give("hanne", doc, "tomasz", access.LevelLook)
	if a := o.tomasz.Do("GET", at, nil); a.Status != 403 {
		t.Errorf("who may only look at it has it: %d", a.Status)
	}
	if page := testkit.Get[contract.RemarkPage](o.tomasz, "/api/items/"+doc.String()+"/remarks"); page.InWord {
		t.Error("it is offered to who may only look")
	}
	for _, none := range []string{o.plan.String(), o.reports.String(), uuid.NewString()} {
		o.luca.Want(404, "GET", "/api/items/"+none+"/remarks.docx", nil)
	}
	locked := o.luca.Upload(o.reports, "", "Signed.docx", agreed(t, `<w:p/>`, map[string]string{"_xmlsignatures/sig1.xml": "<a/>"})).Document.Id
	o.says(o.luca, locked, contract.NewRemark{Text: "x"})
	if a := o.luca.Do("GET", "/api/items/"+locked.String()+"/remarks.docx", nil); a.Code() != "text-protected" {
		t.Errorf("a signed one: %d %s", a.Status, a.Body)
	}
}

// speckled is a picture that cannot be packed, so many pixels each way.
func speckled(t *testing.T, side int) []byte {
	t.Helper()
	at := image.NewRGBA(image.Rect(0, 0, side, side))
	r := rand.New(rand.NewPCG(3, uint64(side)))
	for i := range at.Pix {
		at.Pix[i] = byte(r.Uint32())
	}
	var b bytes.Buffer
	if err := png.Encode(&b, at); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// A picture that somebody puts into a word document, also by a link, is in its file; it is shown to whoever reads the text,
// and to nobody else.
func TestPicturesArePutIntoWordDocuments(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.yard, "", "Pictures.docx", agreed(t, `<w:p><w:r><w:t>Frames</w:t></w:r></w:p>`, nil)).Document.Id
	at := "/api/documents/" + doc.String() + "/writing/pictures"
	putting := func(c *testkit.Client, at string, raw []byte) testkit.Answer {
		return c.Do("POST", at+"?name="+url.QueryEscape("../Frame 31.png"), bytes.NewReader(raw))
	}
	name := read[contract.NewName](t, putting(o.luca, at, onePixel)).Name
	if again := read[contract.NewName](t, putting(o.luca, at, onePixel)).Name; again != name || !strings.HasPrefix(name, "put-") || !strings.HasSuffix(name, ".png") {
		t.Errorf("it is put in as %q, and again as %q", name, again)
	}
	if a := o.luca.Want(200, "GET", at+"/"+name, nil); !bytes.Equal(a.Body, onePixel) || !strings.Contains(a.Header.Get("Content-Security-Policy"), "sandbox") {
		t.Errorf("%d bytes, %v", len(a.Body), a.Header)
	}
	large := speckled(t, 1000)
	for what, c := range map[string]struct {
		who  *testkit.Client
		raw  []byte
		code string
	}{
		"svg":        {o.luca, []byte(`<svg xmlns="http://www.w3.org/2000/svg" onload="x()"/>`), "no-picture"},
		"nothing":    {o.luca, nil, "no-picture"},
		"half a one": {o.luca, onePixel[:20], "no-picture"},
		"webp":       {o.luca, append([]byte("RIFF\x10\x00\x00\x00WEBPVP8 "), make([]byte, 20)...), "no-picture"},
		"too large":  {o.luca, speckled(t, 1300), "pictures-put-in-large"},
		"a stranger": {o.tomasz, onePixel, "not-found"},
	} {
		if a := putting(c.who, at, c.raw); a.Code() != c.code {
			t.Errorf("%s: %d %s", what, a.Status, a.Body)
		}
	}
	kind := contract.LinkKindWorking
	link, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.yard}, Kind: &kind})
	visit := "/api/visits/" + token + "/documents/" + doc.String() + "/writing"
	o.Visitor().Want(401, "POST", visit+"/pictures?name=x.png", bytes.NewReader(onePixel))
	isa := o.enter(token, contract.OpenLink{})
	isa.Want(204, "POST", "/api/visits/"+token+"/name", contract.NewName{Name: "Isa Breck"})
	jpegs := jpegOf(t, 9)
	mine := read[contract.NewName](t, putting(isa, visit+"/pictures", jpegs)).Name
	for _, who := range []testkit.Answer{isa.Do("GET", visit+"/pictures/"+mine, nil), isa.Do("GET", visit+"/pictures/"+name, nil), o.luca.Do("GET", at+"/"+mine, nil)} {
		if who.Status != 200 {
			t.Errorf("%d %s", who.Status, who.Body)
		}
	}
	beside := o.luca.Upload(o.yard, "", "Beside.md", []byte("# Beside\n")).Document.Id
	for _, other := range []string{beside.String(), o.plan.String()} {
		if a := putting(isa, "/api/visits/"+token+"/documents/"+other+"/writing/pictures", onePixel); a.Status == 201 || a.Status >= 500 {
			t.Errorf("a visitor puts a picture beside a text: %d", a.Status)
		}
	}
	another := o.luca.Upload(o.yard, "", "Another.docx", agreed(t, `<w:p/>`, nil)).Document.Id
	o.luca.Want(404, "GET", "/api/documents/"+another.String()+"/writing/pictures/"+name, nil)
	o.tomasz.Want(404, "GET", at+"/"+name, nil)

	// Eight ask at once for more room than there is.
	var at24 atomic.Int32
	var all sync.WaitGroup
	for i := range 8 {
		all.Go(func() {
			raw := append(slices.Clone(large), byte(i)) // What follows a picture's end is no part of it.
			if a := putting(o.luca, at, raw); a.Status == 201 {
				at24.Add(1)
			} else if a.Code() != "pictures-put-in-large" {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	all.Wait()
	if n := int(at24.Load()); n*len(large) > 24<<20 || (n+1)*len(large) <= 24<<20 {
		t.Errorf("%d of %d bytes found room", n, len(large))
	}
	// Whoever comes by a link finds no room beyond half of it.
	if a := putting(isa, visit+"/pictures", jpegOf(t, 11)); a.Code() != "pictures-put-in-large" {
		t.Errorf("%d %s", a.Status, a.Body)
	}

	w := writes(t, o.luca, doc)
	w.open()
	for _, src := range []string{name, mine, "put-of-another.png"} {
		if a := w.send(map[string]any{"stepType": "replace", "from": 7, "to": 7, "slice": map[string]any{"content": []any{map[string]any{"type": "picture", "attrs": map[string]any{"src": src, "alt": "Frame 31"}}}}}); a.Status != 200 {
			t.Fatalf("%d %s", a.Status, a.Body)
		}
		w.version++
	}
	file := w.file()
	text := partOf(t, file, "word/document.xml")
	if strings.Count(text, "<w:drawing>") != 2 || !strings.Contains(text, "[Frame 31]") {
		t.Errorf("it says %s", text)
	}
	rels := partOf(t, file, "word/_rels/document.xml.rels")
	if strings.Count(rels, "media/") != 2 {
		t.Errorf("it refers to %s", rels)
	}
	// Brought in elsewhere, it shows them.
	copied := writes(t, o.luca, o.luca.Upload(o.reports, "", "Copied.docx", file).Document.Id)
	if text := string(*copied.open().Text); strings.Count(text, `"kind":"picture"`) != 2 {
		t.Errorf("it is read as %s", text)
	}
	o.luca.Want(204, "POST", "/api/links/"+link.Id.String()+"/end", nil)
	if a := isa.Do("GET", visit+"/pictures/"+mine, nil); a.Status < 400 {
		t.Errorf("by a link that ended: %d", a.Status)
	}
}

func jpegOf(t *testing.T, side int) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, image.NewGray(image.Rect(0, 0, side, side)), nil); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}
