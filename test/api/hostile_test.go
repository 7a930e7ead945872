package api_test

import (
	"archive/zip"
	"bytes"
	"compress/zlib"
	"context"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"io"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/reading"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// slowPDF is a document of two pages that takes minutes to draw.
func slowPDF() []byte {
	var packed, out bytes.Buffer
	z := zlib.NewWriter(&packed)
	fmt.Fprint(z, strings.Repeat("0 0 m 612 792 l 10 700 600 5 300 300 c S\n", 200_000))
	z.Close()
	var at []int
	object := func(format string, args ...any) {
		at = append(at, out.Len())
		fmt.Fprintf(&out, "%d 0 obj\n"+format+"\nendobj\n", append([]any{len(at)}, args...)...)
	}
	out.WriteString("%PDF-1.4\n")
	object("<</Type/Catalog/Pages 2 0 R>>")
	object("<</Type/Pages/Kids[3 0 R 4 0 R]/Count 2>>")
	for range 2 {
		object("<</Type/Page/Parent 2 0 R/MediaBox[0 0 612 792]/Contents 5 0 R>>")
	}
	object("<</Filter/FlateDecode/Length %d>>\nstream\n%s\nendstream", packed.Len(), packed.Bytes())
	table := out.Len()
	fmt.Fprintf(&out, "xref\n0 %d\n0000000000 65535 f \n", len(at)+1)
	for _, n := range at {
		fmt.Fprintf(&out, "%010d 00000 n \n", n)
	}
	fmt.Fprintf(&out, "trailer<</Size %d/Root 1 0 R>>\nstartxref\n%d\n%%%%EOF\n", len(at)+1, table)
	return out.Bytes()
}

// book is a spreadsheet with these rows and shared strings.
func book(t testing.TB, rows string, shared func(w io.Writer)) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	const head = `<?xml version="1.0" encoding="UTF-8"?>`
	for name, write := range map[string]func(w io.Writer){
		"[Content_Types].xml": func(w io.Writer) {
			io.WriteString(w, head+`<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/><Override PartName="/xl/sharedStrings.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sharedStrings+xml"/></Types>`)
		},
		"_rels/.rels": func(w io.Writer) {
			io.WriteString(w, head+`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="a" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>`)
		},
		"xl/workbook.xml": func(w io.Writer) {
			io.WriteString(w, head+`<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="A" sheetId="1" r:id="a"/></sheets></workbook>`)
		},
		"xl/_rels/workbook.xml.rels": func(w io.Writer) {
			io.WriteString(w, head+`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="a" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="b" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/sharedStrings" Target="sharedStrings.xml"/></Relationships>`)
		},
		"xl/worksheets/sheet1.xml": func(w io.Writer) {
			io.WriteString(w, head+`<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>`+rows+`</sheetData></worksheet>`)
		},
		"xl/sharedStrings.xml": func(w io.Writer) {
			io.WriteString(w, head+`<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">`)
			shared(w)
			io.WriteString(w, `</sst>`)
		},
	} {
		w, err := z.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		write(w)
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// bigPicture is a PNG of some hundred bytes a row that says it is 8,000 by 8,000.
func bigPicture(width, height uint32) []byte {
	var out bytes.Buffer
	chunk := func(kind string, data []byte) {
		binary.Write(&out, binary.BigEndian, uint32(len(data)))
		sum := crc32.NewIEEE()
		w := io.MultiWriter(&out, sum)
		io.WriteString(w, kind)
		w.Write(data)
		binary.Write(&out, binary.BigEndian, sum.Sum32())
	}
	out.WriteString("\x89PNG\r\n\x1a\n")
	chunk("IHDR", append(binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, width), height), 16, 6, 0, 0, 0))
	var packed bytes.Buffer
	z := zlib.NewWriter(&packed)
	row := make([]byte, 1+8*width)
	for range height {
		z.Write(row)
	}
	z.Close()
	chunk("IDAT", packed.Bytes())
	chunk("IEND", nil)
	return out.Bytes()
}

func hostileFiles(t testing.TB) map[string][]byte {
	wide := &strings.Builder{}
	for n := 1; n <= 2000; n++ {
		fmt.Fprintf(wide, `<row r="%d"><c r="XFD%d"><v>1</v></c></row>`, n, n)
	}
	return map[string][]byte{
		"slow.pdf":     slowPDF(),
		"strings.xlsx": book(t, `<row r="1"><c r="A1" t="s"><v>0</v></c></row>`, func(w io.Writer) { io.WriteString(w, strings.Repeat("<si><t/></si>", 3_500_000)) }),
		"wide.xlsx":    book(t, wide.String(), func(io.Writer) {}),
		"slow.md":      []byte(strings.Repeat("[a](", 16<<10)),
		"nested.md":    []byte(strings.Repeat("> ", 30<<10)),
		"picture.png":  bigPicture(8000, 8000),
		"thin.png":     bigPicture(1, 12_000_000),
		"bomb.docx":    book(t, "", func(w io.Writer) { io.WriteString(w, strings.Repeat(" ", 600<<20)) }),
	}
}

// Hostile content of each kind, looked at by visitors and colleagues all at once,
// keeps nobody else waiting: the server goes on answering, other documents are
// shown meanwhile, and what brought down what read it is not tried again.
func TestHostileContentFreezesNobody(t *testing.T) {
	t.Parallel()
	// Cells of its own: what is read meanwhile by other tests does not wait for these files.
	w := newWorld(t, func(c *server.Config) { c.Hurry, c.Cells = 20, testkit.Cells(t) })
	if w.Processes() > 1 {
		t.Skip("the cells of two servers would only share the processors")
	}
	var items []uuid.UUID
	kinds := map[uuid.UUID]string{}
	for name, raw := range hostileFiles(t) {
		id := w.luca.Upload(w.top, "", name, raw).Document.Id
		items, kinds[id] = append(items, id), name
	}
	good := w.luca.Upload(w.top, "", "report.pdf", pdfOf(t, "Frame 31")).Document.Id
	_, token := w.link(contract.LinkTerms{Items: items})
	_, other := w.link(contract.LinkTerms{Items: []uuid.UUID{good}, ViewOnly: ptr(true)})
	v, calm := w.enter(token, contract.OpenLink{}), w.enter(other, contract.OpenLink{})

	ctx, stop := context.WithCancel(t.Context())
	var watching, all sync.WaitGroup
	answered := 0
	watching.Go(func() {
		quick := http.Client{Timeout: 5 * time.Second}
		for ; ctx.Err() == nil; time.Sleep(20 * time.Millisecond) {
			a, err := quick.Get(w.URL + "/healthz")
			if err != nil {
				t.Errorf("the server did not answer: %v", err)
				return
			}
			a.Body.Close()
			answered++
		}
	})
	for _, id := range items {
		all.Go(func() {
			a := v.Do("GET", "/api/visits/"+token+"/documents/"+id.String()+"/pages", nil)
			b := w.pages(v, token, id, 1, 1100)
			c := w.luca.Do("GET", "/api/documents/"+id.String()+"/preview", nil)
			for what, a := range map[string]testkit.Answer{"outline": a, "page": b, "preview": c} {
				if a.Status != 200 && a.Status != 400 && a.Status != 503 {
					t.Errorf("%s, %s: %d %.100s", kinds[id], what, a.Status, a.Body)
				}
			}
		})
	}
	for range 5 {
		decoded(t, w.pages(calm, other, good, 1, 1100))
	}
	all.Wait()
	stop()
	watching.Wait()
	if answered == 0 {
		t.Error("nobody asked how the server is")
	}
	// The slow document is known by now, also to other servers and after a restart.
	slow := items[0]
	for id, name := range kinds {
		if name == "slow.pdf" {
			slow = id
		}
	}
	a := w.pages(v, token, slow, 1, 1100)
	for a.Status == 503 && t.Context().Err() == nil {
		a = w.pages(v, token, slow, 1, 1100)
	}
	d := testkit.Get[contract.Document](w.luca, "/api/documents/"+slow.String())
	sum, err := tree.ItemByID(t.Context(), w.App.DB, d.Id)
	if err != nil {
		t.Fatal(err)
	}
	noted, err := reading.Noted{DB: w.App.DB}.Killed(t.Context(), sum.SHA256, "pdf.draw application/pdf")
	if a.Code() != "unshowable" || !noted || err != nil {
		t.Errorf("%d %s, noted %v, %v", a.Status, a.Body, noted, err)
	}
}
