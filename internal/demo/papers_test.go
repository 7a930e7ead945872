package demo

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"

	"tabularis/internal/platform/pdf"
	"tabularis/internal/platform/preview"
)

var day = time.Date(2026, 11, 28, 9, 0, 0, 0, time.UTC)

// The papers are real: of the length that is said, with text where there is some, and
// from one version to the next most of it stays.
func TestReports(t *testing.T) {
	t.Parallel()
	reader := &pdf.Reader{Cache: filepath.Join(os.TempDir(), "tabularis-compiled")}
	if err := reader.Start(); err != nil {
		t.Fatal(err)
	}
	texts := func(content []byte) []string {
		pages, err := reader.Text(content)
		if err != nil {
			t.Fatal(err)
		}
		return pages
	}
	for kind, bounds := range map[string][2]int{"short": {6, 12}, "report": {10, 24}, "long": {25, 40}, "record": {110, 130}} {
		pages := texts(newPapers(3).report("Condition survey report", "Ferry Corran Lass", day, kind, 0))
		if len(pages) < bounds[0] || len(pages) > bounds[1] {
			t.Errorf("%s has %d pages", kind, len(pages))
		}
		if !strings.Contains(pages[1], "Conclusion") || strings.Contains(strings.Join(pages, ""), "{") {
			t.Errorf("%s: its contents say %q", kind, pages[1])
		}
	}
	first := strings.Split(strings.Join(texts(newPapers(3).report("R", "Ferry", day, "report", 0)), "\n"), "\n")
	third := strings.Join(texts(newPapers(3).report("R", "Ferry", day, "report", 3)), "\n")
	kept := 0
	for _, line := range first {
		if strings.Contains(third, line) {
			kept++
		}
	}
	if share := float64(kept) / float64(len(first)); share < 0.6 || share == 1 {
		t.Errorf("%.2f of the first version's lines are in the fourth", share)
	}
	if text := strings.TrimSpace(strings.Join(texts(newPapers(3).scanned("Certificate", scannedLines, day)), "")); text != "" {
		t.Errorf("what was scanned has the text %q", text)
	}
}

func TestEstimates(t *testing.T) {
	t.Parallel()
	content := newPapers(5).estimate("Ferry", 2, day)
	p, err := preview.Prepare("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", int64(len(content)), bytes.NewReader(content))
	if err != nil || len(p.Sheets) != 4 {
		t.Fatalf("%d sheets, %v", len(p.Sheets), err)
	}
	if rows := p.Sheets[0].Rows; !strings.HasSuffix(rows[4][1], " €") || !strings.HasSuffix(rows[1][2], "%") || rows[5][1] != "28 Dec 2026" {
		t.Errorf("the summary says %q", rows)
	}
	f, err := excelize.OpenReader(bytes.NewReader(content))
	if err != nil {
		t.Fatal(err)
	}
	for _, cell := range []string{"B2", "B5", "C3"} {
		shown, _ := f.GetCellValue("Summary", cell)
		if computed, err := f.CalcCellValue("Summary", cell); err != nil || computed != shown {
			t.Errorf("%s says %q, computed it is %q, %v", cell, shown, computed, err)
		}
	}
}
