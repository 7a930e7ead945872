package torture_test

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"
	"time"

	"codeberg.org/go-pdf/fpdf"

	"tabularis/internal/doors/web/contract"
)

func b64(s string) string { return base64.StdEncoding.EncodeToString([]byte(s)) }

func (x *torture) read(raw []byte, into any) {
	x.t.Helper()
	x.must(json.Unmarshal(raw, into))
}

// visitor comes in by a link.
func (x *torture) visitor(token string) *http.Client {
	jar, err := cookiejar.New(nil)
	x.must(err)
	v := &http.Client{Jar: jar, Timeout: 5 * time.Minute}
	x.ask(v, "POST", "/api/visits/"+token, contract.OpenLink{}, nil)
	return v
}

// awkward makes 173 files that are hard to show: long and wide, deep and broken,
// larger than they say, or made to take time and memory.
func awkward(t *testing.T) map[string][]byte {
	t.Helper()
	r := rand.New(rand.NewPCG(17, 3))
	all := map[string][]byte{}
	for n := range 173 {
		switch n % 9 {
		case 0:
			all[fmt.Sprintf("%d report.pdf", n)] = report(t, 2+n/8, 210, 297, nil)
		case 1:
			all[fmt.Sprintf("%d odd pages.pdf", n)] = report(t, 4, 20+float64(n*11), 4000/float64(1+n), nil)
		case 2:
			all[fmt.Sprintf("%d photographs.pdf", n)] = report(t, 3, 420, 594, photograph(t, r, 1500, 1000))
		case 3:
			all[fmt.Sprintf("%d photograph.jpg", n)] = photograph(t, r, 500+n*20, 4000-n*20)
		case 4:
			all[fmt.Sprintf("%d drawing.png", n)] = drawing(t, 1+n*n/4, 1+9000/(1+n))
		case 5:
			all[fmt.Sprintf("%d readings.csv", n)] = []byte(strings.Repeat(strings.Repeat("a cell of some width;", 1+n/3)+"\n", 3000/(1+n/3)))
		case 6:
			all[fmt.Sprintf("%d notes.txt", n)] = []byte(strings.Repeat("Soundings of tank 4 ж π \t"+strings.Repeat("x", n*5)+"\n", 2000))
		case 7:
			all[fmt.Sprintf("%d notes.md", n)] = []byte(strings.Repeat(strings.Repeat("> ", n)+"[a](", 300))
		default:
			whole := report(t, 3, 210, 297, nil)
			for range n {
				whole[r.IntN(len(whole))] = byte(r.IntN(256))
			}
			all[fmt.Sprintf("%d broken.pdf", n)] = whole
		}
	}
	return all
}

func report(t *testing.T, pages int, width, height float64, picture []byte) []byte {
	t.Helper()
	p := fpdf.NewCustom(&fpdf.InitType{OrientationStr: "P", UnitStr: "mm", Size: fpdf.SizeType{Wd: width, Ht: height}})
	p.SetFont("Helvetica", "", 10)
	if picture != nil {
		p.RegisterImageOptionsReader("picture", fpdf.ImageOptions{ImageType: "JPG"}, bytes.NewReader(picture))
	}
	for n := range pages {
		p.AddPage()
		if picture != nil {
			p.ImageOptions("picture", 0, 0, width, height, false, fpdf.ImageOptions{ImageType: "JPG"}, 0, "")
		}
		p.Text(12, 12, fmt.Sprintf("Page %d of the report on the hull", n+1))
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func photograph(t *testing.T, r *rand.Rand, width, height int) []byte {
	t.Helper()
	p := image.NewRGBA(image.Rect(0, 0, width, height))
	for i := range p.Pix {
		p.Pix[i] = byte(r.Uint32())
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, p, &jpeg.Options{Quality: 40}); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func drawing(t *testing.T, width, height int) []byte {
	t.Helper()
	p := image.NewNRGBA(image.Rect(0, 0, width, height))
	for x := range width {
		p.Set(x, x%height, color.NRGBA{uint8(x), 20, 90, 255})
	}
	var out bytes.Buffer
	if err := png.Encode(&out, p); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}
