package bench_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"fmt"
	"image"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"github.com/google/uuid"

	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/pages"
	"tabularis/internal/platform/pdf"
	"tabularis/internal/platform/reading"
	"tabularis/internal/testkit"
)

func reportOf(b *testing.B, pages int) []byte {
	b.Helper()
	p := fpdf.New("P", "mm", "A4", "")
	p.SetFont("Helvetica", "", 11)
	for n := range pages {
		p.AddPage()
		for line := range 40 {
			p.MultiCell(0, 6, fmt.Sprintf("Page %d, line %d: frame 31, original 10.0 mm, measured 8.1 mm, diminution 19 %%", n+1, line), "", "", false)
		}
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		b.Fatal(err)
	}
	return out.Bytes()
}

// nothing is remembered of what cannot be read.
type nothing struct{}

func (nothing) Killed(context.Context, []byte, string) (bool, error) { return false, nil }
func (nothing) NoteKilled(context.Context, []byte, string) error     { return nil }

// BenchmarkPagesInCells compares drawing in cells with drawing in the process itself:
// the first marked page, and pages one after the other.
func BenchmarkPagesInCells(b *testing.B) {
	raw := reportOf(b, 40)
	sum := sha256.Sum256(raw)
	compiled := filepath.Join(os.TempDir(), "tabularis-compiled")
	pool := cell.New(0, compiled)
	defer pool.Close()
	in := &reading.Reader{Cells: pool, Notes: nothing{}}
	own := &pdf.Reader{Cache: compiled}
	if err := own.Start(); err != nil {
		b.Fatal(err)
	}
	source := reading.Source{SHA256: sum[:], MediaType: "application/pdf", Size: int64(len(raw)), For: "bench", Open: func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(raw)), nil }}
	lines := [2]string{"b.quist@calder.example, 198.51.100.7", "2026-07-24 09:05, Hull claim"}
	mark := func(p *image.RGBA) {
		marked, err := pages.Marked(p, lines)
		if err == nil {
			err = pages.Encode(io.Discard, marked)
		}
		if err != nil {
			b.Fatal(err)
		}
	}
	cells := func(from, to int, each func(p *image.RGBA)) {
		for n := from; n < to; n += 2 {
			if err := in.Draw(b.Context(), source, []int{n, n + 1}, 1100, func(_ int, p *image.RGBA) { each(p) }); err != nil {
				b.Fatal(err)
			}
		}
	}
	process := func(from, to int, each func(p *image.RGBA)) {
		for n := from; n < to; n += 2 {
			err := own.Draw(raw, []int{n, n + 1}, 1100, 12<<20, func(_ int, p *image.RGBA) error {
				copied := *p
				copied.Pix = bytes.Clone(p.Pix)
				each(&copied)
				return nil
			})
			if err != nil {
				b.Fatal(err)
			}
		}
	}
	cells(0, 2, func(*image.RGBA) {})
	first := func(draw func(from, to int, each func(p *image.RGBA))) func() {
		return func() {
			n := 0
			draw(0, 2, func(p *image.RGBA) {
				if n++; n == 1 {
					mark(p)
				}
			})
		}
	}
	ours, beside := median(b, 15, first(cells), first(process))
	row("first marked page of 40, drawn in a cell", ours.Round(time.Millisecond).String(), beside.Round(time.Millisecond).String(), float64(ours)/float64(beside), "≤ 1.15")
	all := func(draw func(from, to int, each func(p *image.RGBA))) func() { return func() { draw(0, 40, mark) } }
	ours, beside = median(b, 5, all(cells), all(process))
	row("40 marked pages one after the other, in a cell", ours.Round(time.Millisecond).String(), beside.Round(time.Millisecond).String(), float64(ours)/float64(beside), "≤ 1.15")
}

// BenchmarkHealthUnderAttack asks how the server is while hostile files of several
// kinds are looked at, all at once.
func BenchmarkHealthUnderAttack(b *testing.B) {
	k := testkit.New(b)
	luca := k.SignIn("luca")
	made := testkit.Post[map[string]any](luca, 201, "/api/dossiers", map[string]string{"code": "MER-24", "name": "Corran Lass", "kind": "internal"})
	top := uuid.MustParse(made["id"].(string))
	slow := "%PDF-1.4\n" + strings.Repeat("0 0 m 612 792 l 10 700 600 5 300 300 c S\n", 5)
	hostile := map[string][]byte{"slow.md": []byte(strings.Repeat("[a](", 16<<10)), "nested.md": []byte(strings.Repeat("> ", 30<<10)), "broken.pdf": []byte(slow), "wide.csv": []byte(strings.Repeat(strings.Repeat("x;", 5000)+"\n", 40))}
	var ids []string
	for name, raw := range hostile {
		ids = append(ids, luca.Upload(top, "", name, raw).Document.Id.String())
	}
	ctx, stop := context.WithCancel(b.Context())
	var all sync.WaitGroup
	for _, id := range ids {
		for range 4 {
			all.Go(func() { luca.Do("GET", "/api/documents/"+id+"/preview", nil) })
		}
	}
	var took []time.Duration
	done := make(chan struct{})
	go func() {
		defer close(done)
		for ctx.Err() == nil {
			begun := time.Now()
			resp, err := http.Get(k.URL + "/healthz")
			if err != nil {
				return
			}
			resp.Body.Close()
			took = append(took, time.Since(begun))
			time.Sleep(5 * time.Millisecond)
		}
	}()
	all.Wait()
	stop()
	<-done
	slices.Sort(took)
	line(fmt.Sprintf("%-64s median %s, 99 %% within %s, slowest %s of %d (wanted ≤ 100 ms)", "how the server is, while hostile files are looked at", took[len(took)/2].Round(10*time.Microsecond), took[len(took)*99/100].Round(10*time.Microsecond), took[len(took)-1].Round(10*time.Microsecond), len(took)))
}
