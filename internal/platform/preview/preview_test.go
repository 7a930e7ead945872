package preview

import (
	"bytes"
	"strings"
	"testing"

	"github.com/xuri/excelize/v2"
)

func TestTheContentSaysItsType(t *testing.T) {
	for _, c := range []struct{ name, head, want string }{
		{"report.pdf", "%PDF-1.7\n", "application/pdf"},
		{"report.pdf", "<html><script>alert(1)</script>", "text/html"},
		{"picture.png", "<svg xmlns=\"http://www.w3.org/2000/svg\"><script/></svg>", "image/svg+xml"},
		{"readings.csv", "Frame,Original\n18,10.0\n", "text/csv"},
		{"readings.csv", "%PDF-1.4\n", "application/pdf"},
		{"notes.md", "# Frame 31\n", "text/markdown"},
		{"notes.md", "<html><body>x", "text/html"},
		{"notes.txt", "plain", "text/plain"},
		{"empty.pdf", "", "application/octet-stream"},
	} {
		if got := MediaType(c.name, []byte(c.head)); got != c.want {
			t.Errorf("%s beginning %q: %s, want %s", c.name, c.head, got, c.want)
		}
	}
	if LookOf("text/html") != Text || LookOf("application/zip") != Archive || LookOf("image/svg+xml") != Picture {
		t.Error("HTML is shown as its source, an archive as a list")
	}
}

func TestMarkdownIsMadeSafe(t *testing.T) {
	p, err := Prepare("text/markdown", 0, strings.NewReader("# Hull\n\n<script>alert(1)</script><img src=x onerror=alert(1)> [a](javascript:alert(1))\n\n[a](javascript:alert(1)) **bold**\n\n| a | b |\n|---|---|\n| 1 | 2 |\n\n![](http://tracker.example/x.png)"))
	if err != nil {
		t.Fatal(err)
	}
	for _, bad := range []string{"<script", "onerror", "javascript:", "tracker.example", "<img"} {
		if strings.Contains(p.HTML, bad) {
			t.Errorf("%s came through: %s", bad, p.HTML)
		}
	}
	if !strings.Contains(p.HTML, "<strong>bold</strong>") || !strings.Contains(p.HTML, "<table>") {
		t.Errorf("lost: %s", p.HTML)
	}
}

func TestTables(t *testing.T) {
	p, err := Prepare("text/csv", 0, strings.NewReader("Frame;Measured, mm\n31;6,9\n\"a \"\"b\"\"\";x\n"))
	if err != nil || len(p.Sheets[0].Rows) != 3 || p.Sheets[0].Rows[1][1] != "6,9" || p.Sheets[0].Rows[2][0] != `a "b"` {
		t.Errorf("%v, %v", p.Sheets, err)
	}
	long, err := Prepare("text/csv", 0, strings.NewReader(strings.Repeat("1,2\n", MaxRows+5)))
	if err != nil || len(long.Sheets[0].Rows) != MaxRows || !long.Cut {
		t.Errorf("%d rows, cut %v, %v", len(long.Sheets[0].Rows), long.Cut, err)
	}
	old, err := Prepare("text/plain", 0, bytes.NewReader([]byte("Sch\xe4den")))
	if err != nil || old.Text != "Schäden" {
		t.Errorf("%q, %v", old.Text, err)
	}
	cut, err := Prepare("text/plain", 0, strings.NewReader(strings.Repeat("é", MaxText)))
	if err != nil || !cut.Cut || strings.Contains(cut.Text, "\ufffd") || strings.Contains(cut.Text, "Ã") {
		t.Errorf("cut %v, %v", cut.Cut, err)
	}
}

func TestSpreadsheets(t *testing.T) {
	f := excelize.NewFile()
	if err := f.SetCellValue("Sheet1", "B2", 312400); err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := f.Write(&b); err != nil {
		t.Fatal(err)
	}
	if got := MediaType("x.xlsx", b.Bytes()); got != Spreadsheet {
		t.Errorf("type %s", got)
	}
	p, err := Prepare(Spreadsheet, int64(b.Len()), &b)
	if err != nil || len(p.Sheets[0].Rows) != 2 || p.Sheets[0].Rows[1][1] != "312400" {
		t.Errorf("%v, %v", p.Sheets, err)
	}
	if _, err := Prepare(Spreadsheet, 3, strings.NewReader("abc")); err == nil {
		t.Error("rubbish was read")
	}
	if _, err := Prepare("application/zip", 3, strings.NewReader("abc")); err == nil {
		t.Error("an archive was read as text")
	}
}

func FuzzPrepare(f *testing.F) {
	f.Add("text/csv", []byte("a,b\n\"c"))
	f.Add("text/markdown", []byte("# <b>x"))
	f.Fuzz(func(t *testing.T, mediaType string, data []byte) {
		if mediaType == Spreadsheet {
			return
		}
		p, err := Prepare(mediaType, int64(len(data)), bytes.NewReader(data))
		if err == nil && (strings.Contains(strings.ToLower(p.HTML), "<script") || len(p.Sheets) == 1 && len(p.Sheets[0].Rows) > MaxRows) {
			t.Fatalf("%+v", p)
		}
	})
}
