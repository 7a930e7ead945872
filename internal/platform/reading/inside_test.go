package reading

import (
	"bytes"
	"image"
	"image/gif"
	"image/jpeg"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"tabularis/internal/platform/pdf"
	"tabularis/internal/platform/preview"
)

// Whatever is taken for a picture, it is drawn within bounds or refused.
func FuzzPicture(f *testing.F) {
	small := image.NewRGBA(image.Rect(0, 0, 9, 7))
	for _, encode := range []func(*bytes.Buffer) error{
		func(b *bytes.Buffer) error { return png.Encode(b, small) },
		func(b *bytes.Buffer) error { return jpeg.Encode(b, small, nil) },
		func(b *bytes.Buffer) error { return gif.Encode(b, small, nil) },
	} {
		var b bytes.Buffer
		if err := encode(&b); err != nil {
			f.Fatal(err)
		}
		f.Add(b.Bytes(), 300)
	}
	f.Add([]byte("BM\x00\x00\x00\x00"), 1)
	f.Add([]byte("RIFF\x00\x00\x00\x00WEBPVP8 "), 2000)
	f.Fuzz(func(t *testing.T, raw []byte, width int) {
		if width < 1 || width > 4096 {
			return
		}
		// A fuzzed header must not make the fuzzing itself slow.
		if size, err := pictureSize(raw); err != nil || size.Width*size.Height > 1<<20 {
			return
		}
		p, err := drawPicture(raw, width)
		if err != nil {
			return
		}
		if d := p.Rect.Size(); d.X < 1 || d.Y < 1 || d.X > width || d.Y > maxSide || 4*d.X*d.Y > maxDrawn {
			t.Errorf("a picture for a width of %d is %v", width, d)
		}
	})
}

// Whatever is taken for a text or a table, it is set on at least one page that can
// be read again, or refused.
func FuzzPaper(f *testing.F) {
	r := &pdf.Reader{Cache: filepath.Join(os.TempDir(), "tabularis-compiled")}
	if err := r.Start(); err != nil {
		f.Fatal(err)
	}
	f.Add(true, []byte("frame;mm\n31;8.1\n\"32"))
	f.Add(true, bytes.Repeat([]byte("x,"), 300))
	f.Add(false, []byte("Frame 31\t8.1 mm\r\n\x00\U0001f6a2\xff"))
	f.Add(false, bytes.Repeat([]byte("w"), 5000))
	f.Fuzz(func(t *testing.T, isTable bool, raw []byte) {
		if len(raw) > 1<<14 {
			return
		}
		mediaType := "text/plain"
		if isTable {
			mediaType = "text/csv"
		}
		out, _, err := setOnPaper(sheetArgs{MediaType: mediaType}, raw)
		if err != nil {
			return
		}
		if _, pages, err := r.Sizes(out); err != nil || pages < 1 {
			t.Errorf("%d pages, %v", pages, err)
		}
	})
}

// Whatever is read for words, it is read or refused.
func FuzzPlainText(f *testing.F) {
	r := &pdf.Reader{Cache: filepath.Join(os.TempDir(), "tabularis-compiled")}
	if err := r.Start(); err != nil {
		f.Fatal(err)
	}
	types := []string{
		"text/plain", "text/csv", "application/pdf",
		"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
		"application/vnd.openxmlformats-officedocument.wordprocessingml.document",
		"application/vnd.oasis.opendocument.text",
	}
	for i := range types {
		f.Add(uint8(i), []byte("PK\x03\x04 Frame 31"))
	}
	f.Fuzz(func(t *testing.T, which uint8, raw []byte) {
		mediaType := types[int(which)%len(types)]
		text, readable, err := preview.PlainText(r, mediaType, raw)
		if err == nil && !readable && len(text.Parts) > 0 {
			t.Errorf("%s: %+v", mediaType, text)
		}
	})
}

// However long and thin a picture is, it is drawn in bounds, and as large as it is
// shown at most.
func TestWithin(t *testing.T) {
	for size, want := range map[pdf.Size][2]int{
		{Width: 4000, Height: 3000}:    {1100, 825},
		{Width: 600, Height: 400}:      {600, 400},
		{Width: 20, Height: 20}:        {400, 400},
		{Width: 1, Height: 1}:          {400, 400},
		{Width: 4000, Height: 20}:      {1100, 5},
		{Width: 20, Height: 4000}:      {20, 4000},
		{Width: 1, Height: 12_000_000}: {1, maxSide},
		{Width: 60_000_000, Height: 1}: {1100, 1},
		{Width: 1000, Height: 60_000}:  {136, maxSide},
	} {
		if w, h := within(size, 1100); w != want[0] || h != want[1] {
			t.Errorf("%v is drawn %d × %d, not %v", size, w, h, want)
		}
	}
}
