// Package pages draws documents page by page as pictures, for those who may look
// but get no file: PDF documents as they are, pictures as one page, text, tables
// and spreadsheets set on paper, and office documents where there is a
// converter. What is drawn across a page stands in its pixels.
package pages

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"runtime"
	"slices"
	"strconv"
	"sync"

	"github.com/hashicorp/golang-lru/v2/simplelru"
	"golang.org/x/sync/singleflight"

	"tabularis/core/fault"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/turns"
)

// Widths are how wide a page may be drawn, in pixels: for a thumbnail, for
// reading, and twice for looking closer.
var Widths = []int{240, 1100, 1700, 2600}

const (
	// kept is how many bytes of drawn pages are kept, without marks.
	kept = 64 << 20
	// keptPapers is how many bytes of documents set on paper are kept.
	keptPapers = 32 << 20
	// keptOutlines is how much is kept of which pages there are, in bytes.
	keptOutlines = 8 << 20
	quality      = 84
)

// CheckWidth refuses other Widths.
func CheckWidth(width int) error {
	if !slices.Contains(Widths, width) {
		return errWidth.In("width", "pages are %v pixels wide", Widths)
	}
	return nil
}

// Source is content to be drawn.
type Source = reading.Source

// Outline is what a document is before it is drawn: the sizes of its pages as they
// are shown, in points. Cut says that there are more pages than can be shown.
type Outline struct {
	Pages []reading.Size
	Cut   bool
}

// Maker draws pages. What it keeps bears no mark, and is the same for everybody.
type Maker struct {
	Reader *reading.Reader
	// Office makes PDF documents of office documents; nil where nothing does.
	Office *office.Converter

	mu       sync.Mutex
	drawn    *kepts[*image.RGBA]
	papers   *kepts[paper]
	outlines *kepts[Outline]
	// turns are how many pages are marked and written at once: each takes as much
	// memory as its picture.
	turns chan struct{}
	once  singleflight.Group
}

// paper is content set on pages, as a PDF document.
type paper struct {
	raw []byte
	// cut says that only the beginning is on it.
	cut bool
}

// New makes a maker that draws by a reader.
func New(reader *reading.Reader, converter *office.Converter) *Maker {
	return &Maker{Reader: reader, Office: converter, turns: make(chan struct{}, runtime.NumCPU()+1),
		drawn:    newKepts(kept, func(p *image.RGBA) int { return len(p.Pix) }),
		papers:   newKepts(keptPapers, func(p paper) int { return len(p.raw) }),
		outlines: newKepts(keptOutlines, func(o Outline) int { return 64 + 16*len(o.Pages) })}
}

// Can reports whether content of a media type can be drawn in pages.
func (m *Maker) Can(mediaType string) bool {
	return m.Office.Converts(mediaType) || mediaType == "application/pdf" || reading.IsPicture(mediaType) || isText(mediaType)
}

// Look is how content of a media type can be looked at: by its own bytes, where these
// may leave, else in pages, where it can be drawn.
func (m *Maker) Look(mediaType string, leaves bool) preview.Look {
	own := preview.LookOf(mediaType)
	switch {
	case leaves && own != preview.None:
		return own
	case m.Can(mediaType):
		return preview.Pages
	}
	return preview.None
}

func isText(mediaType string) bool {
	switch preview.LookOf(mediaType) {
	case preview.Text, preview.Markdown, preview.Table:
		return true
	}
	return false
}

// known turns what cannot be read into what cannot be shown.
func known(err error) error {
	if f := fault.Of(err); f.Kind == fault.Invalid && f.Code == "unreadable" {
		return reading.Unshowable()
	}
	return err
}

// Outline says which pages there are. Like Draw it answers that there is much to do
// where that takes longer than reading.Patience.
func (m *Maker) Outline(ctx context.Context, s Source) (o Outline, err error) {
	name := "outline " + string(s.SHA256) + s.MediaType
	m.mu.Lock()
	o, there := m.outlines.Get(name)
	m.mu.Unlock()
	if there && len(s.SHA256) > 0 {
		// Whoever asks may change what they get.
		o.Pages = slices.Clone(o.Pages)
		return o, nil
	}
	defer func() {
		if err == nil && len(s.SHA256) > 0 {
			m.mu.Lock()
			m.outlines.put(name, Outline{Pages: slices.Clone(o.Pages), Cut: o.Cut})
			m.mu.Unlock()
		}
	}()
	err = turns.Await(ctx, reading.Patience, func(ctx context.Context) error {
		o, err = m.outline(ctx, s)
		return err
	})
	return o, err
}

func (m *Maker) outline(ctx context.Context, s Source) (o Outline, err error) {
	if !m.Can(s.MediaType) {
		return o, reading.Unshowable()
	}
	if reading.IsPicture(s.MediaType) {
		size, err := m.Reader.PictureSize(ctx, s)
		return Outline{Pages: []reading.Size{paperSize(size)}}, known(err)
	}
	doc, cut, err := m.document(ctx, s)
	if err != nil {
		return o, known(err)
	}
	n := 0
	o.Pages, n, err = m.Reader.Sizes(ctx, doc)
	o.Cut = cut || n > len(o.Pages)
	for i, s := range o.Pages {
		o.Pages[i] = paperSize(s)
	}
	if err == nil && len(o.Pages) == 0 {
		err = reading.Unshowable()
	}
	return o, known(err)
}

// Draw draws a page, counted from 0, in one of the Widths. The page after it is
// drawn along, as it will be asked for next; nobody waits for that.
func (m *Maker) Draw(ctx context.Context, s Source, page, width int) (image.Image, error) {
	if !m.Can(s.MediaType) {
		return nil, reading.Unshowable()
	}
	if p, ok := m.get(s, page, width); ok {
		return p, nil
	}
	if reading.IsPicture(s.MediaType) && page != 0 {
		return nil, fault.Missing()
	}
	_, err := m.shared(ctx, key(s, page, width), func(ctx context.Context) (any, error) {
		if p, ok := m.get(s, page, width); ok {
			return p, nil
		}
		if reading.IsPicture(s.MediaType) {
			p, err := m.Reader.Picture(ctx, s, width)
			if err == nil {
				m.keep(s, 0, width, p)
			}
			return nil, err
		}
		doc, _, err := m.document(ctx, s)
		if err != nil {
			return nil, err
		}
		return nil, m.drawPair(ctx, s, doc, page, width)
	})
	if err != nil {
		return nil, known(err)
	}
	if p, ok := m.get(s, page, width); ok {
		return p, nil
	}
	return nil, fault.Missing()
}

// shared does something once for all who ask for it at the same time, each of whom
// waits as long as they have patience. Whoever gives up does not spoil it for the
// others: it is done to its end.
func (m *Maker) shared(ctx context.Context, name string, do func(context.Context) (any, error)) (got any, err error) {
	err = turns.Await(ctx, reading.Patience, func(bounded context.Context) error {
		select {
		case r := <-m.once.DoChan(name, func() (any, error) { return do(context.WithoutCancel(ctx)) }):
			got = r.Val
			return r.Err
		case <-bounded.Done():
			return bounded.Err()
		}
	})
	return got, err
}

// drawPair draws a page and the one after it, and returns when the first is
// there. Whoever asks for the second meanwhile waits for it.
func (m *Maker) drawPair(ctx context.Context, s, doc Source, page, width int) error {
	first, all := make(chan error, 2), make(chan error, 1)
	go m.once.Do(key(s, page+1, width), func() (any, error) { return nil, <-all })
	go func() {
		err := m.Reader.Draw(ctx, doc, []int{page, page + 1}, width, func(n int, p *image.RGBA) {
			m.keep(s, n, width, p)
			if n == page {
				first <- nil
			}
		})
		first <- err
		all <- err
	}()
	return <-first
}

// document is what is drawn, as a PDF document.
func (m *Maker) document(ctx context.Context, s Source) (doc Source, cut bool, err error) {
	if s.MediaType == "application/pdf" {
		return s, false, nil
	}
	p, err := m.paper(ctx, s)
	doc = s
	doc.Size, doc.Open = int64(len(p.raw)), func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(p.raw)), nil }
	return doc, p.cut, err
}

// paper sets each document on paper once, however many ask for it at once.
func (m *Maker) paper(ctx context.Context, s Source) (paper, error) {
	name := "paper " + string(s.SHA256) + s.MediaType
	if len(s.Beside) > 0 {
		name += s.BesideKey()
	}
	if s.Head != nil {
		name += fmt.Sprintf(" %q", *s.Head)
	}
	made, err := m.shared(ctx, name, func(ctx context.Context) (any, error) {
		m.mu.Lock()
		p, ok := m.papers.Get(name)
		m.mu.Unlock()
		if ok {
			return p, nil
		}
		var err error
		if m.Office.Converts(s.MediaType) {
			p.raw, err = m.Reader.Convert(ctx, s, m.Office)
		} else {
			p.raw, p.cut, err = m.Reader.Paper(ctx, s)
		}
		if err == nil {
			m.mu.Lock()
			m.papers.put(name, p)
			m.mu.Unlock()
		}
		return p, err
	})
	p, _ := made.(paper)
	return p, err
}

// Paper sets a document on pages, as a PDF document of its own. One of which only the beginning would be on
// them is unshowable, as are pictures.
func (m *Maker) Paper(ctx context.Context, s Source) ([]byte, error) {
	if !m.Can(s.MediaType) || reading.IsPicture(s.MediaType) || s.MediaType == "application/pdf" {
		return nil, reading.Unshowable()
	}
	p, err := m.paper(ctx, s)
	if err == nil && p.cut {
		err = reading.Unshowable()
	}
	return p.raw, known(err)
}

// Write writes a page as JPEG (ISO/IEC 10918-1), with lines drawn across it where
// there are some.
func (m *Maker) Write(ctx context.Context, w io.Writer, page image.Image, lines *[2]string) error {
	select {
	case m.turns <- struct{}{}:
		defer func() { <-m.turns }()
	case <-ctx.Done():
		return ctx.Err()
	}
	if lines != nil {
		marked, err := Marked(page, *lines)
		if err != nil {
			return err
		}
		page = marked
	}
	return Encode(w, page)
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
	p = framed(p)
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
