// Package pages draws documents page by page as pictures, for those who may look
// but get no file: PDF documents as they are, pictures as one page, text, tables
// and spreadsheets set on paper, and office documents where there is a converter. What is drawn across a page stands in its
// pixels.
package pages

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"strconv"
	"sync"

	"github.com/hashicorp/golang-lru/v2/simplelru"
	"golang.org/x/sync/singleflight"

	"tabularis/core/fault"
	"tabularis/internal/office"
	"tabularis/internal/pdf"
	"tabularis/internal/preview"
)

// Widths are how wide a page may be drawn, in pixels: for a thumbnail, for
// reading, and twice for looking closer.
var Widths = []int{240, 1100, 1700, 2600}

const (
	// kept is how many bytes of drawn pages are kept, without marks.
	kept = 128 << 20
	// keptPapers is how many bytes of documents set on paper are kept.
	keptPapers = 32 << 20
	quality    = 84
)

// Source is content to be drawn.
type Source struct {
	SHA256    []byte
	MediaType string
	Size      int64
	Open      func() (io.ReadCloser, error)
}

// Outline is what a document is before it is drawn: the sizes of its pages, in
// points. Cut says that there are more pages than can be shown.
type Outline struct {
	Pages []pdf.Size
	Cut   bool
}

// Maker draws pages. What it keeps bears no mark, and is the same for everybody.
type Maker struct {
	PDF *pdf.Reader
	// Office makes PDF documents of office documents; nil where nothing does.
	Office *office.Converter

	mu     sync.Mutex
	drawn  *kepts[*image.RGBA]
	papers *kepts[paper]
	once   singleflight.Group
}

// New makes a maker that draws with a reader of PDF documents.
func New(reader *pdf.Reader, converter *office.Converter) *Maker {
	return &Maker{PDF: reader, Office: converter,
		drawn:  newKepts(kept, func(p *image.RGBA) int { return len(p.Pix) }),
		papers: newKepts(keptPapers, func(p paper) int { return len(p.raw) })}
}

// Can reports whether content of a media type can be drawn in pages.
func (m *Maker) Can(mediaType string) bool {
	return m.Office.Converts(mediaType) || mediaType == "application/pdf" || pictures[mediaType] || isText(mediaType)
}

func isText(mediaType string) bool {
	switch preview.LookOf(mediaType) {
	case preview.Text, preview.Markdown, preview.Table:
		return true
	}
	return false
}

// unshowable is the answer for what is broken, locked or too large to be drawn.
func unshowable() error {
	return fault.New(fault.Invalid, "unshowable", "this document cannot be shown in pages")
}

func known(err error) error {
	if errors.Is(err, pdf.ErrUnreadable) || errors.Is(err, office.ErrUnreadable) {
		return unshowable()
	}
	return err
}

// Outline says which pages there are.
func (m *Maker) Outline(ctx context.Context, s Source) (o Outline, err error) {
	if pictures[s.MediaType] {
		size, err := pictureSize(s)
		return Outline{Pages: []pdf.Size{size}}, err
	}
	err = m.document(s, func(size int64, r io.Reader, cut bool) error {
		n := 0
		o.Pages, n, err = m.PDF.Sizes(ctx, size, r)
		o.Cut = cut || n > len(o.Pages)
		return err
	})
	if err == nil && len(o.Pages) == 0 {
		err = unshowable()
	}
	return o, known(err)
}

// Draw draws a page, counted from 0, in one of the Widths. The page after it is
// drawn along, as it will be asked for next.
func (m *Maker) Draw(ctx context.Context, s Source, page, width int) (image.Image, error) {
	if p, ok := m.get(s, page, width); ok {
		return p, nil
	}
	if pictures[s.MediaType] {
		if page != 0 {
			return nil, fault.Missing()
		}
		p, err := drawPicture(s, width)
		if err == nil {
			m.keep(s, 0, width, p)
		}
		return p, err
	}
	// Whoever gives up must not spoil it for the others who wait for the same page.
	_, err, _ := m.once.Do(key(s, page, width), func() (any, error) {
		return nil, m.document(s, func(size int64, r io.Reader, _ bool) error {
			return m.PDF.Draw(context.WithoutCancel(ctx), size, r, []int{page, page + 1}, width, func(page int, p *image.RGBA) { m.keep(s, page, width, p) })
		})
	})
	if err != nil {
		return nil, known(err)
	}
	if p, ok := m.get(s, page, width); ok {
		return p, nil
	}
	return nil, fault.Missing()
}

// document opens what is drawn as a PDF document.
func (m *Maker) document(s Source, fn func(size int64, r io.Reader, cut bool) error) error {
	if s.MediaType != "application/pdf" {
		p, err := m.paper(s)
		if err != nil {
			return err
		}
		return fn(int64(len(p.raw)), bytes.NewReader(p.raw), p.cut)
	}
	r, err := s.Open()
	if err != nil {
		return err
	}
	defer r.Close()
	return fn(s.Size, r, false)
}

func (m *Maker) paper(s Source) (paper, error) {
	m.mu.Lock()
	p, ok := m.papers.Get(string(s.SHA256) + s.MediaType)
	m.mu.Unlock()
	if ok {
		return p, nil
	}
	r, err := s.Open()
	if err != nil {
		return paper{}, err
	}
	defer r.Close()
	if m.Office.Converts(s.MediaType) {
		p.raw, err = m.converted(s, r)
	} else {
		p, err = setOnPaper(s, r)
	}
	if err == nil {
		m.mu.Lock()
		m.papers.put(string(s.SHA256)+s.MediaType, p)
		m.mu.Unlock()
	}
	return p, err
}

// converted converts each document once, however many ask for it at once.
func (m *Maker) converted(s Source, r io.Reader) ([]byte, error) {
	raw, err, _ := m.once.Do("convert "+string(s.SHA256)+s.MediaType, func() (any, error) {
		return m.Office.PDF(context.Background(), s.MediaType, s.Size, r)
	})
	if err != nil {
		return nil, err
	}
	return raw.([]byte), nil
}

func key(s Source, page, width int) string {
	return string(s.SHA256) + s.MediaType + " " + strconv.Itoa(page) + " " + strconv.Itoa(width)
}

func (m *Maker) get(s Source, page, width int) (*image.RGBA, bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.drawn.Get(key(s, page, width))
}

func (m *Maker) keep(s Source, page, width int, p *image.RGBA) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.drawn.put(key(s, page, width), p)
}

// Encode writes a page as JPEG (ISO/IEC 10918-1).
func Encode(w io.Writer, p image.Image) error {
	if err := jpeg.Encode(w, p, &jpeg.Options{Quality: quality}); err != nil {
		return fmt.Errorf("writing the page: %w", err)
	}
	return nil
}

// kepts keeps what was used last, up to a number of bytes.
type kepts[T any] struct {
	*simplelru.LRU[string, T]
	bytes, limit int
	weigh        func(T) int
}

func newKepts[T any](limit int, weigh func(T) int) *kepts[T] {
	k := &kepts[T]{limit: limit, weigh: weigh}
	// Its own limit of entries is never reached.
	k.LRU, _ = simplelru.NewLRU(limit, func(_ string, v T) { k.bytes -= weigh(v) })
	return k
}

func (k *kepts[T]) put(key string, v T) {
	k.Remove(key)
	k.bytes += k.weigh(v)
	k.Add(key, v)
	for k.bytes > k.limit && k.Len() > 1 {
		k.RemoveOldest()
	}
}
