package jobs_test

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/png"
	"testing"

	"github.com/xuri/excelize/v2"

	"tabularis/internal/browser"
)

// A PDF is read by its pages: as a list, by number, by what is written on them, and on
// paper; from it one goes to the next document without going back.
func TestReadingAPDF(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Pick("select[aria-label=Order]", "by number"), ines.Click("tr[data-ref]::Condition"), ines.Click(".slip .looked"))
	ines.does(ines.See(".reader .page[data-page-number='1'][data-loaded=true]"), ines.SeeText("of 4"))
	ines.count("to a page by its number", 2, func() {
		ines.does(ines.Type(".at input", "3"), ines.Press("\r"), ines.See(".page[data-page-number='3'][data-loaded=true]"))
	})
	ines.does(ines.Click(".reader-bar button::Pages"), ines.See(".page-list [aria-current]::3"), ines.See(".page-list canvas"), ines.Click(".page-list button::2"), ines.Until(`document.querySelector('.at input').value === '2'`))
	ines.count("to a place by what is written there", 2, func() {
		ines.does(ines.Press("/"), ines.Type(".find input", "page 4"), ines.See(".textLayer .highlight.selected"), ines.See(".found::1 of 1"), ines.Until(`document.querySelector('.at input').value === '4'`))
	})
	ines.does(ines.Type(".find input", "frame"), ines.See(".found::not in it"), ines.Type(".at input", "99"), ines.Press("\r"), ines.Until(`document.querySelector('.at input').value === '4'`))
	_, err := browser.Eval[bool](ines.Browser, `(window.print = () => window.printed = [...document.querySelectorAll('.print-paper img')].filter(i => i.naturalWidth > 1000).length, true)`)
	ines.does(err, ines.Click(".reader-bar button::Print"), ines.Until(`window.printed === 4 && !document.querySelector('.print-paper')`))
	ines.count("on to the next document", 1, func() {
		ines.does(ines.Click(".reader-bar"), ines.Gone("input:focus"))
		ines.Acts--
		ines.does(ines.Press("n"), ines.See(".over h2::Thickness"), ines.See(".over .cells td::6.9"))
	})
	ines.does(ines.Press("n"), ines.See(".over h2::Notes"), ines.Press("p"), ines.See(".over h2::Thickness"), ines.Press("\x1b"), ines.See(".slip h2::Thickness"))
}

// A spreadsheet shows all its sheets, numbers as it formats them, and only the rows in
// sight, however many there are; its first row stays.
func TestReadingASpreadsheet(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	f := excelize.NewFile()
	money := `#,##0.00 "€"`
	style, err := f.NewStyle(&excelize.Style{CustomNumFmt: &money})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := f.NewSheet("Steel"); err != nil {
		t.Fatal(err)
	}
	rows := [][]any{{"Work", "Price"}}
	for n := range 9500 {
		rows = append(rows, []any{fmt.Sprintf("Position %d", n+1), 8133.333333})
	}
	for i, row := range rows {
		cell, _ := excelize.CoordinatesToCellName(1, i+1)
		if err := f.SetSheetRow("Steel", cell, &row); err != nil {
			t.Fatal(err)
		}
	}
	if err := f.SetCellStyle("Steel", "B2", "B9501", style); err != nil {
		t.Fatal(err)
	}
	if err := f.SetCellValue("Sheet1", "A1", "Summary"); err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := f.Write(&b); err != nil {
		t.Fatal(err)
	}
	c.Upload(reports, "", "Estimate.xlsx", b.Bytes())
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Estimate"), ines.Click(".slip .looked"))
	ines.does(ines.Click("[role=tab]::Steel"), ines.See(".cells td::8,133.33 €"), ines.Type(".find input", "position 9400"), ines.See(".found::1 of 1"), ines.See(".cells td.here::Position 9400"), ines.See(".cells thead th::Price"))
	in, err := browser.Eval[int](ines.Browser, `document.querySelectorAll('.cells tbody tr').length`)
	ines.does(err)
	if in > 120 {
		t.Errorf("%d rows are in the page", in)
	}
}

// Pictures are turned for looking; recordings play one after the other while one goes
// elsewhere.
func TestPicturesAndRecordings(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	var picture bytes.Buffer
	if err := png.Encode(&picture, image.NewGray(image.Rect(0, 0, 400, 200))); err != nil {
		t.Fatal(err)
	}
	c.Upload(reports, "", "Frame 31.png", picture.Bytes())
	c.Upload(reports, "", "Interview 1.wav", sound(300))
	c.Upload(reports, "", "Interview 2.wav", sound(600_000))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Frame 31"), ines.Click(".slip .looked"), ines.See(".picture img"))
	ines.does(ines.Press("r"), ines.See(".picture img[data-turned='1']"), ines.Until(`(b => b.height > b.width)(document.querySelector('.picture .space').getBoundingClientRect())`), ines.Press("\x1b"), ines.Gone(".picture"))
	ines.count("two recordings, one after the other", 3, func() {
		ines.does(ines.Click("tr[data-ref='MER-24/005'] input"), ines.Click("tr[data-ref='MER-24/006'] input"), ines.Click(".slip button::Play 2 one after another"))
	})
	ines.does(ines.See(".player::2 of 2"), ines.Click("nav a::Outward"), ines.See("h1::Outward"), ines.See(".player b::Interview 2"))
	ines.does(ines.Click(".player button[aria-label='Stop playing']"), ines.Gone(".player"))
}

// sound is a WAV (RIFF, PCM of 8 bits) of silence, so many samples at 8 kHz long.
func sound(samples int) []byte {
	var b bytes.Buffer
	put := func(v any) { _ = binary.Write(&b, binary.LittleEndian, v) }
	b.WriteString("RIFF")
	put(uint32(36 + samples))
	b.WriteString("WAVEfmt ")
	put(uint32(16))
	put([]uint16{1, 1})
	put([]uint32{8000, 8000})
	put([]uint16{1, 8})
	b.WriteString("data")
	put(uint32(samples))
	b.Write(bytes.Repeat([]byte{128}, samples))
	return b.Bytes()
}
