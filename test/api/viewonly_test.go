package api_test

import (
	"bytes"
	"fmt"
	"image"
	_ "image/jpeg"
	"strings"
	"sync"
	"testing"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func pdfOf(t testing.TB, lines ...string) []byte {
	t.Helper()
	p := fpdf.New("P", "mm", "A4", "")
	p.SetFont("Helvetica", "", 12)
	for _, line := range lines {
		p.AddPage()
		p.MultiCell(0, 6, line, "", "", false)
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func (w *world) pages(v *testkit.Client, token string, document uuid.UUID, page, width int) testkit.Answer {
	return v.Do("GET", fmt.Sprintf("/api/visits/%s/documents/%s/pages/%d?width=%d", token, document, page, width), nil)
}

func decoded(t *testing.T, a testkit.Answer) image.Image {
	t.Helper()
	if a.Status != 200 || a.Header.Get("Content-Type") != "image/jpeg" || a.Header.Get("Cache-Control") != "private, no-store" {
		t.Fatalf("%d %v %.200s", a.Status, a.Header, a.Body)
	}
	p, _, err := image.Decode(bytes.NewReader(a.Body))
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// differing is the share of pixels that differ plainly.
func differing(a, b image.Image) float64 {
	n, all := 0, a.Bounds().Dx()*a.Bounds().Dy()
	for y := range a.Bounds().Dy() {
		for x := range a.Bounds().Dx() {
			r1, _, _, _ := a.At(x, y).RGBA()
			r2, _, _, _ := b.At(x, y).RGBA()
			if max(r1, r2)-min(r1, r2) > 0x1200 {
				n++
			}
		}
	}
	return float64(n) / float64(all)
}

// What may only be viewed: marked pages come, by nothing else does a byte leave,
// and two viewers never get the same picture.
func TestOnlyViewed(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	whole := pdfOf(t, "Soundings of the hull", "Frame 31, 8.1 mm", "Signed")
	doc := w.luca.Upload(w.top, "", "report.pdf", whole).Document.Id
	rows := w.paper("soundings.csv", "frame,mm\n31,8.1\n")
	note := w.paper("note.txt", "Frame 31 is to be watched.")
	how := contract.IdentityStated
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc, rows, note}, ViewOnly: ptr(true), Identify: &how})
	if !l.ViewOnly || !strings.Contains(sentenceOf(l.Sentence), "may only view 3 files") {
		t.Errorf("the link: %v %q", l.ViewOnly, sentenceOf(l.Sentence))
	}
	visit := "/api/visits/" + token
	enter := func(email string) *testkit.Client {
		v := w.Visitor()
		v.Want(204, "POST", visit, contract.OpenLink{Email: &email})
		return v
	}
	quist, lund := enter("b.quist@calder.example"), enter("m.lund@brightwater.example")
	got := testkit.Get[contract.LinkContents](quist, visit+"/contents")
	if !got.ViewOnly || len(got.Files) != 3 {
		t.Errorf("the contents: %+v", got)
	}
	for _, f := range got.Files {
		if f.Look != "pages" {
			t.Errorf("%s is looked at as %s", f.Name, f.Look)
		}
		for _, path := range []string{"/content", "/content?download", "/preview"} {
			if a := quist.Do("GET", visit+"/documents/"+f.Id.String()+path, nil); a.Status != 403 || a.Code() != "view-only" {
				t.Errorf("%s of %s: %d %.80s", path, f.Name, a.Status, a.Body)
			}
		}
		o := testkit.Get[contract.Outline](quist, visit+"/documents/"+f.Id.String()+"/pages")
		if len(o.Pages) == 0 || o.Cut {
			t.Errorf("%s has %+v", f.Name, o)
		}
		decoded(t, w.pages(quist, token, f.Id, 1, 1100))
	}
	if a := quist.Do("GET", visit+"/archive", nil); a.Status != 403 || a.Code() != "view-only" {
		t.Errorf("the archive: %d %.80s", a.Status, a.Body)
	}
	// The same page at the same moment, by many at once; a mark names the minute, which has
	// just begun.
	w.Later(time.Minute - time.Duration(w.Now().Second())*time.Second)
	var mu sync.Mutex
	var wg sync.WaitGroup
	mine, theirs := map[string]image.Image{}, map[string]image.Image{}
	for range 6 {
		for c, to := range map[*testkit.Client]map[string]image.Image{quist: mine, lund: theirs} {
			wg.Go(func() {
				a := w.pages(c, token, doc, 2, 1100)
				mu.Lock()
				defer mu.Unlock()
				to[string(a.Body)] = decoded(t, a)
			})
		}
	}
	wg.Wait()
	if len(mine) != 1 || len(theirs) != 1 {
		t.Fatalf("one viewer got %d different pictures, the other %d", len(mine), len(theirs))
	}
	full := testkit.Post[contract.Link](w.luca, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}})
	free := w.Visitor()
	freeToken := (*full.Address)[len(w.URL)+len("/l/"):]
	free.Want(204, "POST", "/api/visits/"+freeToken, contract.OpenLink{})
	clean := decoded(t, w.pages(free, freeToken, doc, 2, 1100))
	for _, a := range mine {
		for _, b := range theirs {
			if m, n := differing(clean, a), differing(a, b); m < 0.02 || n < 0.02 {
				t.Errorf("the mark covers %.3f, and differs in %.3f", m, n)
			}
		}
	}
	// What the sender reads of it.
	w.Later(30 * time.Second)
	quist.Want(204, "POST", visit+"/documents/"+doc.String()+"/looks", contract.Looked{Pages: []int{2, 1}, Seconds: 20})
	w.Later(10 * time.Second)
	quist.Want(204, "POST", visit+"/documents/"+doc.String()+"/looks", contract.Looked{Pages: []int{3}, Seconds: 100_000})
	record := testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String())
	if len(record.Looks) != 1 || record.Looks[0].Pages != "1-3" || record.Looks[0].Seconds != 30 || record.Looks[0].ItemId != doc {
		t.Errorf("looked: %+v", record.Looks)
	}
	for name, bad := range map[string]contract.Looked{"page 0": {Pages: []int{0}}, "back in time": {Pages: []int{1}, Seconds: -1}, "too many pages": {Pages: make([]int, 2001)}} {
		if a := quist.Do("POST", visit+"/documents/"+doc.String()+"/looks", bad); a.Status != 400 {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	// Ended while it is open.
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	if a := w.pages(quist, token, doc, 1, 1100); a.Status != 410 {
		t.Errorf("a page after the end: %d", a.Status)
	}
}

func TestOnlyViewedRefusals(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	whole := pdfOf(t, "Soundings")
	doc := w.luca.Upload(w.top, "", "report.pdf", whole).Document.Id
	broken := w.luca.Upload(w.top, "", "broken.pdf", whole[:len(whole)/2]).Document.Id
	film := w.luca.Upload(w.top, "", "film.bin", bytes.Repeat([]byte{0, 1, 2, 255}, 100)).Document.Id
	other := w.paper("other.txt", "not given")
	for name, terms := range map[string]contract.LinkTerms{
		"cannot-be-marked":    {Items: []uuid.UUID{doc, film}, ViewOnly: ptr(true)},
		"downloads-view-only": {Items: []uuid.UUID{doc}, ViewOnly: ptr(true), Downloads: ptr(2)},
	} {
		if a := w.luca.Do("POST", "/api/links", terms); a.Status != 400 || a.Code() != name {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
		// The sentence stays, and says at which word it fails.
		if d := testkit.Post[contract.LinkDraft](w.luca, 200, "/api/links/draft", terms); d.Refused == nil || d.Refused.Code != name || len(d.Sentence) == 0 {
			t.Errorf("%s in the draft: %+v", name, d.Refused)
		}
	}
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc, broken}, ViewOnly: ptr(true)})
	v := w.Visitor()
	if a := w.pages(v, token, doc, 1, 1100); a.Status != 401 {
		t.Errorf("before it was opened: %d", a.Status)
	}
	v.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	for name, c := range map[string]struct {
		document    uuid.UUID
		page, width int
		status      int
	}{"a width of one's own": {doc, 1, 1234, 400}, "page 0": {doc, 0, 1100, 400}, "after the last": {doc, 2, 1100, 404}, "far after": {doc, 1 << 30, 1100, 404}, "broken": {broken, 1, 1100, 400}, "another document": {other, 1, 1100, 404}} {
		if a := w.pages(v, token, c.document, c.page, c.width); a.Status != c.status {
			t.Errorf("%s: %d %.200s", name, a.Status, a.Body)
		}
	}
	if a := v.Do("GET", "/api/visits/"+token+"/documents/"+broken.String()+"/pages", nil); a.Code() != "unshowable" {
		t.Errorf("what is broken: %d %s", a.Status, a.Body)
	}
	// Let it be downloaded after all: the page that is open may do so.
	w.luca.Want(200, "PUT", "/api/links/"+l.Id.String()+"/terms", contract.LinkChange{Name: "Report", Until: w.Now().Add(time.Hour), ViewOnly: ptr(false)})
	if a := v.Do("GET", "/api/visits/"+token+"/documents/"+doc.String()+"/content?download", nil); a.Status != 200 || !bytes.Equal(a.Body, whole) {
		t.Errorf("downloaded after the change: %d", a.Status)
	}
}

// Whoever may look inside but not download sees pages that bear who looks, of every
// kind that can be drawn, and by nothing else does a byte or a word leave; whoever may
// download sees them clean.
func TestOnlyViewedInside(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	whole := pdfOf(t, "Soundings of the hull", "Frame 31, 8.1 mm")
	papers := map[string]uuid.UUID{
		"pages":          w.luca.Upload(w.top, "", "report.pdf", whole).Document.Id,
		"pages of rows":  w.paper("soundings.csv", "frame,mm\n31,8.1\n"),
		"pages of words": w.paper("note.txt", "Frame 31 is to be watched."),
	}
	sound := w.paper("hammer.wav", "RIFF\x24\x00\x00\x00WAVEfmt \x10\x00\x00\x00\x01\x00\x01\x00\x40\x1f\x00\x00\x40\x1f\x00\x00\x01\x00\x08\x00data\x00\x00\x00\x00")
	w.Give("hanne", w.top, "tomasz", access.LevelLook)
	for what, id := range papers {
		at := "/api/documents/" + id.String()
		d, own := testkit.Get[contract.Document](w.tomasz, at), testkit.Get[contract.Document](w.luca, at)
		if d.Look != "pages" || own.Look == "pages" || own.Look == "none" {
			t.Errorf("%s: looked at as %s, and by others as %s", what, d.Look, own.Look)
		}
		for _, path := range []string{"/content", "/content?download", "/preview"} {
			if a := w.tomasz.Do("GET", at+path, nil); a.Status != 403 {
				t.Errorf("%s of %s: %d %.80s", path, what, a.Status, a.Body)
			}
		}
		if o := testkit.Get[contract.Outline](w.tomasz, at+"/pages"); len(o.Pages) == 0 {
			t.Errorf("%s has %+v", what, o)
		}
		marked, clean := decoded(t, w.tomasz.Do("GET", at+"/pages/1?width=1100", nil)), decoded(t, w.luca.Do("GET", at+"/pages/1?width=1100", nil))
		if share := differing(marked, clean); share < 0.02 {
			t.Errorf("%s: the mark covers %.3f", what, share)
		}
	}
	at := "/api/documents/" + papers["pages"].String()
	w.Give("hanne", w.top, "priya", access.LevelLook)
	if d := testkit.Get[contract.Document](w.tomasz, "/api/documents/"+sound.String()); d.Look != "none" {
		t.Errorf("a sound is looked at as %s", d.Look)
	}
	for path, status := range map[string]int{"/pages/0?width=1100": 400, "/pages/1?width=999": 400, "/pages/1": 400, "/pages/x?width=1100": 400, "/pages/9?width=1100": 404, "/pages/1?width=1100&version=9": 404, "/pages/1?width=1100&version=0": 400, "/pages?version=7": 404} {
		if a := w.tomasz.Do("GET", at+path, nil); a.Status != status {
			t.Errorf("%s: %d %.80s, not %d", path, a.Status, a.Body, status)
		}
	}
	if a := w.tomasz.Do("GET", "/api/documents/"+sound.String()+"/pages", nil); a.Code() != "unshowable" {
		t.Errorf("the pages of a sound: %d %s", a.Status, a.Body)
	}
	w.Visitor().Want(401, "GET", at+"/pages/1?width=1100", nil)
	grant := ""
	for _, g := range testkit.Get[contract.Reach](w.hanne, "/api/items/"+w.top.String()+"/reach").Ways {
		if g.Grant.Name == "Tomasz Rehn" {
			grant = g.Grant.Id.String()
		}
	}
	w.hanne.Want(204, "DELETE", "/api/access/"+grant, nil)
	w.tomasz.Want(404, "GET", at+"/pages/1?width=1100", nil)
	w.tomasz.Want(404, "GET", at+"/pages", nil)
}
