package api_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"strings"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// drawn is a picture with black squares.
func drawn(t *testing.T, squares ...image.Rectangle) []byte {
	t.Helper()
	p := image.NewRGBA(image.Rect(0, 0, 550, 400))
	for y := range 400 {
		for x := range 550 {
			p.Set(x, y, color.White)
			for _, s := range squares {
				if image.Pt(x, y).In(s) {
					p.Set(x, y, color.Black)
				}
			}
		}
	}
	var out bytes.Buffer
	if err := png.Encode(&out, p); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// printed is a PDF document of pages that each bear a line.
func printed(t *testing.T, lines ...string) []byte {
	t.Helper()
	f := fpdf.New("P", "mm", "A4", "")
	f.SetFont("Helvetica", "", 14)
	for _, l := range lines {
		f.AddPage()
		f.Cell(0, 10, l)
	}
	var out bytes.Buffer
	err := f.Output(&out)
	if err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// Pages and pictures are laid beside each other: a new page moves none of the others, and
// where two differ is told to the point.
func TestPagesAreCompared(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	up := func(name string, contents ...[]byte) (id uuid.UUID) {
		for _, c := range contents {
			id = w.luca.Upload(w.top, "", name, c).Document.Id
		}
		return id
	}
	stays, comes := image.Rect(50, 50, 90, 90), image.Rect(300, 200, 340, 240)
	picture := up("tank 4.png", drawn(t, stays), drawn(t, stays, comes))
	report := up("report.pdf", printed(t, "Bottom shell", "Side shell", "Main deck"), printed(t, "Bottom shell", "A new page", "Side shell", "Main deck, renewed"))
	path := func(id uuid.UUID, what string) string {
		return "/api/documents/" + id.String() + "/comparison" + what + "from=1"
	}
	said := func(id uuid.UUID) string {
		t.Helper()
		var out []string
		for _, p := range testkit.Get[contract.ComparedPages](w.priya, path(id, "/pages?")).Pairs {
			s := ""
			for _, n := range []*int{p.Before, p.Now} {
				if n == nil {
					s += "-"
				} else {
					s += fmt.Sprint(*n)
				}
			}
			if !p.Same {
				s += "!"
			}
			out = append(out, s)
		}
		return strings.Join(out, " ")
	}
	if got := said(picture); got != "11!" {
		t.Errorf("the pictures: %s", got)
	}
	if got := said(report); !strings.HasPrefix(got, "11 -2! 23") || !strings.Contains(got, "34!") {
		t.Errorf("the report: %s", got)
	}
	if c := compared(w.priya, report, "from=1"); c.Drawn == nil || c.Text == nil {
		t.Errorf("the report can be compared by %+v", c)
	}
	places := testkit.Get[contract.ComparedPlaces](w.priya, path(picture, "/places?before=1&now=1&"))
	if len(places.Places) != 1 {
		t.Fatalf("%+v", places)
	}
	scale := float64(places.Width) / 550
	at := places.Places[0]
	if x, y := float64(at.X), float64(at.Y); x > 300*scale || x < 280*scale || y > 200*scale+200 || float64(at.Width) > 70*scale {
		t.Errorf("at %+v of %+v", at, places)
	}

	// On paper, with what was removed and added.
	notes := up("notes.txt", []byte("Frame 31 was not reached.\n"), []byte("Frame 32 was not reached.\n"))
	a := w.priya.Want(200, "GET", path(notes, "/paper?"), nil)
	if !bytes.HasPrefix(a.Body, []byte("%PDF-")) || !strings.Contains(a.Header.Get("Content-Disposition"), "notes.txt.comparison.pdf") {
		t.Errorf("%.20q as %s", a.Body, a.Header.Get("Content-Disposition"))
	}
	back := w.luca.Upload(w.top, "", "printed.pdf", a.Body).Document.Id
	if c := compared(w.priya, back, "with="+notes.String()); c.Text == nil || !strings.Contains(fmt.Sprint(c.Text.Pieces), "31") {
		t.Errorf("what is printed: %+v", c.Text)
	}
	for name, c := range map[string]struct {
		url, code string
		status    int
	}{
		"a page that is not there":    {path(report, "/places?before=9&now=1&"), "not-found", 404},
		"a page that can be none":     {path(report, "/places?before=1&now=100000&"), "not-found", 404},
		"pictures on paper":           {path(picture, "/paper?"), "nothing-to-print", 400},
		"what can be drawn by nobody": {path(up("a.bin", []byte{0, 1}, []byte{0, 2}), "/pages?"), "unshowable", 400},
		"two broken documents":        {path(up("b.pdf", []byte("%PDF-1.7\nbroken"), []byte("%PDF-1.7\nbroken too")), "/pages?"), "unshowable", 400},
	} {
		if a := w.priya.Do("GET", c.url, nil); a.Status != c.status || a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	for _, what := range []string{"/pages?", "/places?before=1&now=1&", "/paper?"} {
		w.tomasz.Want(404, "GET", path(report, what), nil)
	}
}
