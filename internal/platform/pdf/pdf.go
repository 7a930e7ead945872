// Package pdf reads PDF documents (ISO 32000) with PDFium, which runs as
// WebAssembly: without files, network or more memory than it is given. What is
// running in it cannot be stopped: it runs in cells only.
package pdf

import (
	"errors"
	"fmt"
	"image"
	"time"

	"github.com/klippa-app/go-pdfium"
	"github.com/klippa-app/go-pdfium/enums"
	pdfium_errors "github.com/klippa-app/go-pdfium/errors"
	"github.com/klippa-app/go-pdfium/requests"
	"github.com/klippa-app/go-pdfium/webassembly"
	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"
	"github.com/tetratelabs/wazero/experimental"
)

const (
	// memoryPages is how much memory one document gets, in pages of 64 KiB.
	memoryPages = 8192
	// starting is how long PDFium may take to become ready.
	starting = 30 * time.Second
	// MaxBytes is the largest document that is read, MaxPages how many of its pages.
	MaxBytes = 100 << 20
	MaxPages = 2000
	// maxRatio is how many times as high as wide a page is drawn at most, and
	// the other way round.
	maxRatio = 4
)

// ErrUnreadable means that it is no PDF document, or that it is broken or locked
// by a password.
var ErrUnreadable = errors.New("the document cannot be read")

// ErrLocked means that it asks for a password, or for another one.
var ErrLocked = errors.New("the document is locked by a password")

var errPages = errors.New("it has more pages than are read")

// Reader reads one document at a time.
type Reader struct {
	// Cache is the folder for compiled code, since compiling takes seconds; empty
	// keeps it in memory.
	Cache string

	pool pdfium.Pool
}

// Start compiles PDFium and makes an instance ready. It is the only time that
// files are opened.
func (r *Reader) Start() error {
	config := wazero.NewRuntimeConfig().WithMemoryLimitPages(memoryPages).WithCoreFeatures(api.CoreFeaturesV2 | experimental.CoreFeaturesExceptionHandling)
	if r.Cache != "" {
		cache, err := wazero.NewCompilationCacheWithDir(r.Cache)
		if err != nil {
			return fmt.Errorf("opening the folder for compiled code: %w", err)
		}
		config = config.WithCompilationCache(cache)
	}
	// Without FSConfig the host's files would be mounted.
	pool, err := webassembly.Init(webassembly.Config{MinIdle: 1, MaxIdle: 1, MaxTotal: 1, FSConfig: wazero.NewFSConfig(), RuntimeConfig: config})
	if err != nil {
		return fmt.Errorf("starting PDFium: %w", err)
	}
	r.pool = pool
	return nil
}

// Text returns the text of a document, page by page, up to MaxPages.
func (r *Reader) Text(content []byte) (pages []string, err error) {
	err = r.with(content, func(in pdfium.Pdfium, doc requests.PageByIndex, n int) error {
		for i := range min(n, MaxPages) {
			doc.Index = i
			text, err := in.GetPageText(&requests.GetPageText{Page: requests.Page{ByIndex: &doc}})
			if err != nil {
				return err
			}
			pages = append(pages, text.Text)
		}
		return nil
	})
	return pages, err
}

// with opens a document. What cannot be read is ErrUnreadable.
func (r *Reader) with(content []byte, fn func(in pdfium.Pdfium, doc requests.PageByIndex, pages int) error) error {
	return r.opened(content, "", fn)
}

// opened opens a document by its password. Where that is wrong, or one is needed, it is ErrLocked.
func (r *Reader) opened(content []byte, password string, fn func(in pdfium.Pdfium, doc requests.PageByIndex, pages int) error) error {
	if len(content) > MaxBytes {
		return ErrUnreadable
	}
	in, err := r.pool.GetInstance(starting)
	if err != nil {
		return fmt.Errorf("taking an instance of PDFium: %w", err)
	}
	ask := requests.OpenDocument{File: &content}
	if password != "" {
		ask.Password = &password
	}
	opened, err := in.OpenDocument(&ask)
	if errors.Is(err, pdfium_errors.ErrPassword) {
		err = fmt.Errorf("%w: %w", ErrLocked, err)
	}
	if err != nil {
		return errors.Join(fmt.Errorf("%w: %w", ErrUnreadable, err), in.Close())
	}
	count, err := in.FPDF_GetPageCount(&requests.FPDF_GetPageCount{Document: opened.Document})
	if err == nil {
		err = fn(in, requests.PageByIndex{Document: opened.Document}, count.PageCount)
	}
	if err != nil {
		err = fmt.Errorf("%w: %w", ErrUnreadable, err)
	}
	return errors.Join(err, in.Close())
}

// Size is the size of a page in points, a seventy-second of an inch each.
type Size struct{ Width, Height float64 }

// Sizes returns the sizes of the pages, up to MaxPages, and how many there are.
func (r *Reader) Sizes(content []byte) (sizes []Size, pages int, err error) {
	err = r.with(content, func(in pdfium.Pdfium, doc requests.PageByIndex, n int) error {
		pages = n
		for i := range min(n, MaxPages) {
			s, err := in.FPDF_GetPageSizeByIndex(&requests.FPDF_GetPageSizeByIndex{Document: doc.Document, Index: i})
			if err != nil {
				return err
			}
			sizes = append(sizes, Size{s.Width, s.Height})
		}
		return nil
	})
	return sizes, pages, err
}

// Draw draws pages, counted from 0, each so wide in pixels but with no more than
// a number of them, and hands them to take one by one; what take gets is only
// good until it returns. Pages that are not there are left out.
func (r *Reader) Draw(content []byte, pages []int, width, pixels int, take func(page int, picture *image.RGBA) error) error {
	return r.with(content, func(in pdfium.Pdfium, doc requests.PageByIndex, n int) error {
		form, err := hasForm(in, doc)
		if err != nil {
			return err
		}
		for _, page := range pages {
			if page < 0 || page >= n {
				continue
			}
			doc.Index = page
			drawn, err := in.RenderPageInPixels(seen(doc, form, width, min(width*maxRatio, pixels/width)))
			if err != nil {
				return err
			}
			err = take(page, drawn.Result.Image)
			drawn.Cleanup()
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// hasForm says that a document holds a form of its own.
func hasForm(in pdfium.Pdfium, doc requests.PageByIndex) (bool, error) {
	kind, err := in.FPDF_GetFormType(&requests.FPDF_GetFormType{Document: doc.Document})
	return err == nil && kind.FormType != enums.FPDF_FORMTYPE_NONE, err
}

// seen is a page with its notes and what stands in its form.
func seen(doc requests.PageByIndex, form bool, width, height int) *requests.RenderPageInPixels {
	return &requests.RenderPageInPixels{Page: requests.Page{ByIndex: &doc}, Width: width, Height: height, RenderFlags: enums.FPDF_RENDER_FLAG_ANNOT, RenderForm: form}
}

// Flat returns a document in which form fields and notes are part of the pages, and which is not encrypted.
func (r *Reader) Flat(content []byte, password string) (raw []byte, err error) {
	err = r.opened(content, password, func(in pdfium.Pdfium, doc requests.PageByIndex, n int) error {
		if n > MaxPages {
			return errPages
		}
		form, err := hasForm(in, doc)
		if err != nil {
			return err
		}
		for i := range n {
			doc.Index = i
			if form {
				// Fields whose appearance is left to whoever shows them have one once they were drawn.
				drawn, err := in.RenderPageInPixels(seen(doc, form, 16, 64))
				if err != nil {
					return err
				}
				drawn.Cleanup()
			}
			if _, err := in.FPDFPage_Flatten(&requests.FPDFPage_Flatten{Page: requests.Page{ByIndex: &doc}, Usage: requests.FPDFPage_FlattenUsageNormalDisplay}); err != nil {
				return err
			}
		}
		saved, err := in.FPDF_SaveAsCopy(&requests.FPDF_SaveAsCopy{Document: doc.Document, Flags: requests.SaveFlagRemoveSecurity})
		if err == nil && saved.FileBytes != nil {
			raw = *saved.FileBytes
		}
		return err
	})
	return raw, err
}
