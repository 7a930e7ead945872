// Package pdf reads PDF documents (ISO 32000) with PDFium, which runs as
// WebAssembly: without files, network or more memory than it is given, so that
// a hostile document reaches nothing and is given up after a while.
package pdf

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"io"
	"sync"
	"time"

	"github.com/klippa-app/go-pdfium"
	"github.com/klippa-app/go-pdfium/requests"
	"github.com/klippa-app/go-pdfium/webassembly"
	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"
	"github.com/tetratelabs/wazero/experimental"
)

const (
	// memoryPages is how much memory one document gets, in pages of 64 KiB.
	memoryPages = 8192
	// patience is how long one document may take.
	patience = 30 * time.Second
	// MaxBytes is the largest document that is read, MaxPages how many of its pages.
	MaxBytes = 100 << 20
	MaxPages = 2000
	// maxRatio is how many times as high as wide a page is drawn at most.
	maxRatio = 4
)

// ErrUnreadable means that it is no PDF document, that it is broken or locked by
// a password, or that it took too long.
var ErrUnreadable = errors.New("the document cannot be read")

// Reader reads documents, some at once. Compiled code is kept in a folder, since
// compiling takes seconds.
type Reader struct {
	// Cache is the folder for compiled code; empty keeps it in memory.
	Cache string
	// AtOnce is how many documents are read at the same time.
	AtOnce int

	once sync.Once
	pool pdfium.Pool
	err  error
}

// start compiles PDFium when the first document comes.
func (r *Reader) start() (pdfium.Pool, error) {
	r.once.Do(func() {
		config := wazero.NewRuntimeConfig().WithMemoryLimitPages(memoryPages).WithCoreFeatures(api.CoreFeaturesV2 | experimental.CoreFeaturesExceptionHandling)
		if r.Cache != "" {
			cache, err := wazero.NewCompilationCacheWithDir(r.Cache)
			if err != nil {
				r.err = fmt.Errorf("opening the folder for compiled code: %w", err)
				return
			}
			config = config.WithCompilationCache(cache)
		}
		atOnce := max(1, r.AtOnce)
		// Without this the host's files would be mounted.
		r.pool, r.err = webassembly.Init(webassembly.Config{MaxTotal: atOnce, MaxIdle: atOnce, FSConfig: wazero.NewFSConfig(), RuntimeConfig: config})
	})
	return r.pool, r.err
}

// Text returns the text of a document, page by page, up to MaxPages. What cannot
// be read is ErrUnreadable.
func (r *Reader) Text(ctx context.Context, size int64, content io.Reader) (pages []string, err error) {
	err = r.with(ctx, size, content, func(in pdfium.Pdfium, doc requests.PageByIndex, n int) error {
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

// with opens a document in an instance of its own, which is thrown away when the
// time is over.
func (r *Reader) with(ctx context.Context, size int64, content io.Reader, fn func(in pdfium.Pdfium, doc requests.PageByIndex, pages int) error) error {
	if size > MaxBytes {
		return ErrUnreadable
	}
	raw, err := io.ReadAll(io.LimitReader(content, MaxBytes))
	if err != nil {
		return err
	}
	pool, err := r.start()
	if err != nil {
		return fmt.Errorf("starting PDFium: %w", err)
	}
	in, err := pool.GetInstance(patience)
	if err != nil {
		return fmt.Errorf("taking an instance of PDFium: %w", err)
	}
	done := make(chan error, 1)
	go func() {
		// A document that breaks the sandbox's rules ends as a panic in it.
		defer func() {
			if p := recover(); p != nil {
				done <- fmt.Errorf("%w: %v", ErrUnreadable, p)
			}
		}()
		opened, err := in.OpenDocument(&requests.OpenDocument{File: &raw})
		if err != nil {
			done <- fmt.Errorf("%w: %v", ErrUnreadable, err)
			return
		}
		count, err := in.FPDF_GetPageCount(&requests.FPDF_GetPageCount{Document: opened.Document})
		if err == nil {
			err = fn(in, requests.PageByIndex{Document: opened.Document}, count.PageCount)
		}
		if err != nil {
			err = fmt.Errorf("%w: %v", ErrUnreadable, err)
		}
		done <- err
	}()
	late := time.NewTimer(patience)
	defer late.Stop()
	select {
	case err = <-done:
		return errors.Join(err, in.Close())
	case <-ctx.Done():
		err = ctx.Err()
	case <-late.C:
		err = ErrUnreadable
	}
	return errors.Join(err, in.Kill())
}

// Size is the size of a page in points, a seventy-second of an inch each.
type Size struct{ Width, Height float64 }

// Sizes returns the sizes of the pages, up to MaxPages, and how many there are.
func (r *Reader) Sizes(ctx context.Context, size int64, content io.Reader) (sizes []Size, pages int, err error) {
	err = r.with(ctx, size, content, func(in pdfium.Pdfium, doc requests.PageByIndex, n int) error {
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

// Draw draws pages, counted from 0, each so wide in pixels, and hands them to
// take one by one. Pages that are not there are left out.
func (r *Reader) Draw(ctx context.Context, size int64, content io.Reader, pages []int, width int, take func(page int, picture *image.RGBA)) error {
	return r.with(ctx, size, content, func(in pdfium.Pdfium, doc requests.PageByIndex, n int) error {
		for _, page := range pages {
			if page < 0 || page >= n {
				continue
			}
			doc.Index = page
			drawn, err := in.RenderPageInPixels(&requests.RenderPageInPixels{Page: requests.Page{ByIndex: &doc}, Width: width, Height: width * maxRatio})
			if err != nil {
				return err
			}
			// The pixels belong to the sandbox.
			picture := *drawn.Result.Image
			picture.Pix = bytes.Clone(picture.Pix)
			drawn.Cleanup()
			take(page, &picture)
		}
		return nil
	})
}
