package uploads

import (
	"context"
	"encoding"
	"errors"
	"hash"
	"io"
	"sync"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/content"
)

// ArrivingChannel is on which it is told that more of an upload has arrived, or that it is given up.
const ArrivingChannel = "arriving"

const (
	// reserve is held back of what is not complete, for the time in which nothing comes: a byte
	// of it every drip keeps proxies from taking the connection for dead.
	reserve = 64 << 10
	drip    = 15 * time.Second
	// markEach is how often it is noted at most how much of an upload is there.
	markEach = 100 * time.Millisecond
	// asked is how often it is asked for what notifications may have missed.
	asked = 5 * time.Second
	// standstill is how long whoever reads waits for an upload from which nothing comes.
	standstill = 15 * time.Minute
)

// ErrBroken means that what was being read will not arrive.
var ErrBroken = errors.New("the sender has stopped")

// Arrivals tells those who wait for an upload in this process that more of it has arrived.
type Arrivals struct {
	mu     sync.Mutex
	topics map[uuid.UUID]chan struct{}
}

// Tell wakes those who wait for the upload that a notification names.
func (a *Arrivals) Tell(payload string) {
	id, err := uuid.Parse(payload)
	if err != nil {
		return
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	if c := a.topics[id]; c != nil {
		delete(a.topics, id)
		close(c)
	}
}

// next is closed with the next news of an upload.
func (a *Arrivals) next(id uuid.UUID) <-chan struct{} {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.topics == nil {
		a.topics = map[uuid.UUID]chan struct{}{}
	}
	c := a.topics[id]
	if c == nil {
		c = make(chan struct{})
		a.topics[id] = c
	}
	return c
}

// mark is how much of an upload is written, with its hash up to there.
type mark struct {
	taken     int64
	state     []byte
	mediaType string
}

// marks notes while an upload comes how much of it is there, so that it can be read
// already. It is done beside the writing, and never in its way: of marks that come too
// soon the newest counts.
type marks struct {
	s *Service
	// of is what is received, for whoever writes it alone; u is how it was noted last.
	of   *Upload
	u    Upload
	from int64
	sum  hash.Hash
	next chan mark
	over chan struct{}
	done chan struct{}
	err  error
}

func (s *Service) mark(ctx context.Context, u *Upload, sum hash.Hash) *marks {
	m := &marks{s: s, of: u, u: *u, from: u.Received, sum: sum, next: make(chan mark, 1), over: make(chan struct{}), done: make(chan struct{})}
	go m.run(context.WithoutCancel(ctx))
	return m
}

// at is called with how much was taken so far.
func (m *marks) at(taken int64) {
	state, err := m.sum.(encoding.BinaryMarshaler).MarshalBinary()
	if err != nil {
		return
	}
	select {
	case <-m.next:
	default:
	}
	m.next <- mark{taken, state, m.of.MediaType}
}

func (m *marks) run(ctx context.Context) {
	defer close(m.done)
	for m.err == nil {
		select {
		case next := <-m.next:
			m.err = m.note(ctx, next)
		case <-m.over:
			return
		}
		select {
		case <-time.After(markEach):
		case <-m.over:
			return
		}
	}
}

func (m *marks) note(ctx context.Context, next mark) error {
	if err := m.s.Content.Sync(m.u.ID); err != nil {
		return err
	}
	before := m.u.Received
	m.u.Received = m.from + next.taken
	m.u.HashState = m.s.Keys.Seal(next.state, hashPurpose)
	m.u.MediaType = next.mediaType
	m.u.TouchedAt = m.s.Acts.Now()
	return ReceiveUpload(ctx, m.s.Acts.DB, m.u, before)
}

// end returns what is noted already. What is marked and not noted is noted with the rest.
func (m *marks) end() (received int64, err error) {
	close(m.over)
	<-m.done
	return m.u.Received, m.err
}

// Arriving is content that can be read while it arrives: what is there at once, and the rest
// as it comes. Reading fails where it will not come.
type Arriving struct {
	Upload
	s       *Service
	ctx     context.Context
	content *content.Reader
	at      int64
	idle    time.Time
}

// Arriving opens an upload for reading. That it may be read is for the caller to decide.
func (s *Service) Arriving(ctx context.Context, id uuid.UUID) (*Arriving, error) {
	u, err := UploadByID(ctx, s.Acts.DB, id, false)
	return &Arriving{Upload: u, s: s, ctx: ctx, idle: time.Now()}, err
}

// there is up to where it may be read now.
func (a *Arriving) there() int64 {
	if a.Received == a.Size {
		return a.Size
	}
	return max(0, a.Received-reserve)
}

func (a *Arriving) Read(p []byte) (int, error) {
	for {
		if a.at == a.Size {
			return 0, io.EOF
		}
		if n := a.there() - a.at; n > 0 {
			return a.read(p[:min(int64(len(p)), n)])
		}
		dripped, err := a.wait()
		if err != nil {
			return 0, err
		}
		if dripped && a.at < a.Received {
			return a.read(p[:1])
		}
	}
}

func (a *Arriving) read(p []byte) (int, error) {
	if a.content == nil {
		key, err := a.s.Keys.Open(a.SealedKey, tree.KeyPurpose)
		if err != nil {
			return 0, err
		}
		if a.content, err = a.s.Content.ReadArriving(a.ID, [32]byte(key), a.Size); err != nil {
			return 0, err
		}
	}
	n, err := a.content.ReadAt(p, a.at)
	a.at, a.idle = a.at+int64(n), time.Now()
	if n > 0 {
		err = nil
	}
	return n, err
}

// wait waits until more has arrived, and reports whether it is time to send something so
// that the connection lives on.
func (a *Arriving) wait() (dripped bool, err error) {
	news := a.s.Arrivals.next(a.ID)
	before := a.Received
	u, err := UploadByID(a.ctx, a.s.Acts.DB, a.ID, false)
	switch {
	case fault.Is(err, fault.NotFound):
		return false, ErrBroken
	case err != nil:
		return false, err
	}
	a.Upload = u
	if u.Received > before {
		return false, nil
	}
	if a.s.Acts.Now().Sub(u.TouchedAt) > standstill {
		return false, ErrBroken
	}
	select {
	case <-news:
	case <-a.ctx.Done():
		return false, a.ctx.Err()
	case <-time.After(asked):
	}
	return time.Since(a.idle) >= drip, nil
}

// Seek sets where the next Read begins.
func (a *Arriving) Seek(offset int64, whence int) (int64, error) {
	switch whence {
	case io.SeekCurrent:
		offset += a.at
	case io.SeekEnd:
		offset += a.Size
	}
	if offset < 0 || offset > a.Size {
		return a.at, errors.New("there is nothing at this place")
	}
	a.at = offset
	return offset, nil
}

// Close ends reading.
func (a *Arriving) Close() error {
	if a.content == nil {
		return nil
	}
	return a.content.Close()
}
