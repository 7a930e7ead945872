package evidence

import (
	"bytes"
	_ "embed"
	"fmt"
	"html/template"
	"time"

	"tabularis/core/evidence"
	"tabularis/internal/platform/paper"
)

//go:embed page.html
var pageText string

var page = template.Must(template.New("page").Parse(pageText))

//go:embed read-me.txt
var readMe string

// line is an event as it stands on a page.
type line struct{ At, Says, Place, Network string }

// sheets are a bundle as a page and on paper, for people.
func sheets(b evidence.Bundle, zone *time.Location) (html, pdf []byte, err error) {
	lines := make([]line, len(b.Events))
	for i, e := range b.Events {
		lines[i] = line{At: when(e, zone), Says: e.Says, Place: fmt.Sprint(e.Index), Network: e.Opened["network"].Value}
	}
	var out bytes.Buffer
	if err := page.Execute(&out, map[string]any{"B": b, "Lines": lines}); err != nil {
		return nil, nil, fmt.Errorf("writing the page: %w", err)
	}
	sheet := paper.Sheet{Title: "Evidence: " + b.Subject, Lines: []string{b.Practice + ", written " + b.Written + " by " + b.By,
		"What stands here is proven by evidence.json: tabularis verify evidence FILE checks it without the practice."}}
	for _, l := range lines {
		sheet.Runs = append(sheet.Runs, paper.Run{Text: l.Place + "  " + l.At + "  "}, paper.Run{Text: l.Says + "\n"})
	}
	for _, v := range b.Versions {
		sheet.Runs = append(sheet.Runs, paper.Run{Text: fmt.Sprintf("\n%s, version %d, %d bytes\nSHA-256 %s\n", v.Name, v.Number, v.Size, v.SHA256)})
	}
	sheet.Runs = append(sheet.Runs, paper.Run{Text: "\nCheckpoint\n" + b.Checkpoint})
	pdf, err = sheet.PDF()
	return out.Bytes(), pdf, err
}

// when is the moment of an event as the practice's clock showed it.
func when(e evidence.Proven, zone *time.Location) string {
	read, err := evidence.ReadEntry(e.Entry)
	if err != nil {
		return ""
	}
	at, err := read.Time()
	if err != nil {
		return ""
	}
	return at.In(zone).Format("2006-01-02 15:04:05 MST")
}
