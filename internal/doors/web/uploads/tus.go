package uploads

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"strconv"
	"sync/atomic"

	"golang.org/x/exp/slog"

	"github.com/google/uuid"
	"github.com/tus/tusd/v2/pkg/handler"

	"tabularis/core/fault"
	"tabularis/internal/app/uploads"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/platform/lease"
)

// Protocol serves resumable uploads (tus 1.0.0). The metadata of an upload is
// folder (an id), name, and optionally path, apart ("true") and sha256 (in
// hexadecimal), which the content must then have.
func Protocol(s *uploads.Service) (http.Handler, error) {
	data := uploadStore{s}
	composer := handler.NewStoreComposer()
	composer.UseCore(data)
	composer.UseTerminater(data)
	composer.UseLocker(uploadLocks{s.Locks})
	protocol, err := handler.NewHandler(handler.Config{
		StoreComposer: composer, BasePath: "/api/uploads/", DisableDownload: true, MaxSize: s.MaxBytes,
		Cors: &handler.CorsConfig{Disable: true}, Logger: slog.New(slog.NewTextHandler(io.Discard, nil)),
	})
	return breakable(protocol), err
}

// interruption says that a request was asked to let its upload go.
type interruption struct{ atomic.Bool }

type interruptionKey struct{}

// breakable ends the connection of a request that was interrupted, once its
// answer is sent. The protocol's handler interrupts by a deadline on the
// connection, set a little later by a goroutine of its own: it must not meet the
// connection's next request.
func breakable(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		asked := &interruption{}
		next.ServeHTTP(closing{w, asked}, r.WithContext(context.WithValue(r.Context(), interruptionKey{}, asked)))
		if asked.Load() {
			_ = http.NewResponseController(w).Flush()
			panic(http.ErrAbortHandler)
		}
	})
}

// closing announces the end of the connection with the answer.
type closing struct {
	http.ResponseWriter
	asked *interruption
}

func (c closing) Unwrap() http.ResponseWriter { return c.ResponseWriter }

func (c closing) WriteHeader(status int) {
	if c.asked.Load() {
		c.Header().Set("Connection", "close")
	}
	c.ResponseWriter.WriteHeader(status)
}

// uploadStore lets the protocol's handler work on our uploads. Every method
// finds the upload for whoever asks: somebody else's does not exist.
type uploadStore struct{ uploads *uploads.Service }

type upload struct {
	row     *uploads.Upload
	uploads *uploads.Service
}

func (d uploadStore) NewUpload(ctx context.Context, info handler.FileInfo) (handler.Upload, error) {
	w := uploads.Wish{
		Path:   info.MetaData["path"],
		Name:   info.MetaData["name"],
		Size:   info.Size,
		Apart:  info.MetaData["apart"] == "true",
		Saved:  info.MetaData["saved"] == "true" && !uploads.Visiting(ctx),
		InTurn: info.MetaData["turn"] == "waits" && !uploads.Visiting(ctx),
		SHA256: info.MetaData["sha256"],
		Note:   info.MetaData["note"],
	}
	if err := readPlace(ctx, info.MetaData, &w); err != nil {
		return nil, tusError(err)
	}
	if info.SizeIsDeferred {
		return nil, tusError(fault.SizeUnknown.In("size", "the size must be known from the start"))
	}
	u, err := d.uploads.Begin(ctx, w)
	if err != nil {
		return nil, tusError(err)
	}
	return &upload{&u, d.uploads}, nil
}

// readPlace reads where an upload goes: a person says the folder, or the document of
// which it is to be a version, a visitor perhaps the folder, or which of the expected
// papers it is.
func readPlace(ctx context.Context, metadata handler.MetaData, w *uploads.Wish) (err error) {
	visiting := uploads.Visiting(ctx)
	if document := metadata["document"]; document != "" && !visiting {
		id, err := uuid.Parse(document)
		if err != nil {
			return fault.Parameter.In("document", "the document's id has the wrong form")
		}
		w.Document = &id
		return nil
	}
	if folder := metadata["folder"]; folder != "" || !visiting {
		if w.Folder, err = uuid.Parse(folder); err != nil {
			return fault.Parameter.In("folder", "the folder's id has the wrong form")
		}
	}
	if announced := metadata["announced"]; announced != "" && !visiting {
		id, err := uuid.Parse(announced)
		if err != nil {
			return fault.Parameter.In("announced", "the file's id has the wrong form")
		}
		w.Announced = &id
	}
	if !visiting {
		return nil
	}
	if p := metadata["paper"]; p != "" {
		n, err := strconv.Atoi(p)
		if err != nil {
			return fault.Parameter.In("paper", "the paper is a number")
		}
		w.Paper = &n
	}
	return nil
}

func (d uploadStore) GetUpload(ctx context.Context, id string) (handler.Upload, error) {
	key, err := uuid.Parse(id)
	if err != nil {
		return nil, handler.ErrNotFound
	}
	u, err := d.uploads.Find(ctx, key)
	if err != nil {
		return nil, tusError(err)
	}
	return &upload{&u, d.uploads}, nil
}

func (d uploadStore) AsTerminatableUpload(u handler.Upload) handler.TerminatableUpload {
	return u.(*upload)
}

func (u *upload) GetInfo(context.Context) (handler.FileInfo, error) {
	return handler.FileInfo{ID: u.row.ID.String(), Size: u.row.Size, Offset: u.row.Received, MetaData: handler.MetaData{"name": u.row.Name}}, nil
}

func (u *upload) WriteChunk(ctx context.Context, offset int64, src io.Reader) (int64, error) {
	if offset != u.row.Received {
		return 0, handler.ErrMismatchOffset
	}
	n, err := u.uploads.Receive(ctx, u.row, src)
	return n, tusError(err)
}

func (u *upload) FinishUpload(ctx context.Context) error {
	if u.row.InTurn {
		return nil
	}
	_, err := u.uploads.Finish(ctx, u.row.ID)
	return tusError(err)
}

func (u *upload) Terminate(ctx context.Context) error { return tusError(u.uploads.Drop(ctx, *u.row)) }

func (u *upload) GetReader(context.Context) (io.ReadCloser, error) {
	return nil, errors.New("uploads are not read back")
}

// uploadLocks gives the protocol's handler our locks.
type uploadLocks struct{ locks *lease.Locks }

func (u uploadLocks) NewLock(id string) (handler.Lock, error) { return uploadLock{u.locks, id}, nil }

type uploadLock struct {
	locks *lease.Locks
	id    string
}

func (l uploadLock) Lock(ctx context.Context, requestUnlock func()) error {
	err := l.locks.Lock(ctx, l.id, func() {
		if asked, ok := ctx.Value(interruptionKey{}).(*interruption); ok {
			asked.Store(true)
		}
		requestUnlock()
	})
	if errors.Is(err, context.DeadlineExceeded) || errors.Is(err, context.Canceled) {
		return handler.ErrLockTimeout
	}
	return tusError(err)
}

func (l uploadLock) Unlock() error { return l.locks.Unlock(l.id) }

// tusError lets the protocol's handler answer with our problem details.
func tusError(err error) error {
	if err == nil {
		return nil
	}
	f := fault.Of(err)
	if f.Kind == fault.Internal {
		f = door.Outage(err)
	}
	p := door.ProblemOf(f)
	body, marshalErr := json.Marshal(p)
	if marshalErr != nil {
		return marshalErr
	}
	return handler.Error{ErrorCode: f.Code, Message: f.Detail, HTTPResponse: handler.HTTPResponse{
		StatusCode: p.Status, Body: string(body), Header: handler.HTTPHeader{"Content-Type": "application/problem+json"},
	}}
}
