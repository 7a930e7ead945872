package reading

import (
	"bytes"
	"encoding/binary"
	"encoding/hex"
	"encoding/json"
	"image"
	"image/jpeg"
	"image/png"
	"io"

	"codeberg.org/go-pdf/fpdf"
)

// Beside is a picture that lies beside a text and stands in it, by the name that the text gives it.
type Beside struct {
	Name   string
	SHA256 []byte
	Size   int64
	Open   func() (io.ReadCloser, error)
}

// MostBeside bounds the pictures that are set on pages with a text, in bytes; further ones are named.
const MostBeside = 64 << 20

// BesideKey is another one where other pictures stand in a text.
func (s Source) BesideKey() string {
	var all []byte
	for _, b := range s.Beside {
		all = append(append(append(all, b.Name...), 0), b.SHA256...)
	}
	return hex.EncodeToString(all)
}

// besides reads the pictures that stand in a text, as far as they are not too many.
func (s Source) besides() (map[string][]byte, error) {
	all := map[string][]byte{}
	left := int64(MostBeside)
	for _, b := range s.Beside {
		if left -= b.Size; left < 0 {
			break
		}
		r, err := b.Open()
		if err != nil {
			return nil, err
		}
		raw, err := io.ReadAll(io.LimitReader(r, b.Size))
		_ = r.Close()
		if err != nil {
			return nil, err
		}
		all[b.Name] = raw
	}
	return all, nil
}

// after is content with something written before it.
func (s Source) after(written any) (Source, error) {
	state, err := json.Marshal(written)
	if err != nil {
		return s, err
	}
	head := append(binary.BigEndian.AppendUint64(nil, uint64(len(state))), state...)
	open := s.Open
	s.Size += int64(len(head))
	s.Open = func() (io.ReadCloser, error) {
		if open == nil {
			return io.NopCloser(bytes.NewReader(head)), nil
		}
		rest, err := open()
		return both{io.MultiReader(bytes.NewReader(head), rest), rest}, err
	}
	return s, nil
}

// How many pixels a picture on paper has to a millimetre at most, and how high it gets, as a part of a page's lines.
const (
	densest = 8.0
	highest = 0.9
	// perMillimetre is how large a picture is that does not say so.
	perMillimetre = 96 / 25.4
)

// picture sets a picture in lines of its own; false where there is none, or it cannot be read.
func (w *typeset) picture(name string) bool {
	raw, there := w.beside[name]
	if !there {
		return false
	}
	at, known := w.drawn[name]
	if !known {
		at = w.registered(name, raw)
		w.drawn[name] = at
	}
	if at == (image.Point{}) {
		return false
	}
	left, top, right, bottom := w.f.GetMargins()
	page, length := w.f.GetPageSize()
	width := min(float64(at.X)/perMillimetre, page-left-right)
	height := width * float64(at.Y) / float64(at.X)
	if most := (length - top - bottom) * highest; height > most {
		width, height = width*most/height, most
	}
	if w.f.GetX() > left+0.5 {
		w.f.Ln(writtenLine)
	}
	if w.f.GetY()+height > length-bottom {
		w.f.AddPage()
	}
	w.f.ImageOptions(name, w.f.GetX(), w.f.GetY(), width, height, false, fpdf.ImageOptions{}, 0, "")
	w.f.SetXY(left, w.f.GetY()+height+1)
	return true
}

// registered takes a picture in, drawn anew in as many pixels as paper needs; its size as it came, or none.
func (w *typeset) registered(name string, raw []byte) (size image.Point) {
	own, err := pictureSize(raw)
	if err != nil {
		return size
	}
	page, _ := w.f.GetPageSize()
	drawn, err := drawPicture(raw, int(page*densest))
	if err != nil {
		return size
	}
	var b bytes.Buffer
	kind := "PNG"
	if bytes.HasPrefix(raw, []byte("\xff\xd8")) {
		kind = "JPG"
		err = jpeg.Encode(&b, drawn, &jpeg.Options{Quality: 85})
	} else {
		err = png.Encode(&b, drawn)
	}
	if err != nil {
		return size
	}
	w.f.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: kind}, &b)
	return image.Pt(int(own.Width), int(own.Height))
}
