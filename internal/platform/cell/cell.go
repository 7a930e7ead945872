// Package cell runs what parses content from outside in processes of their own,
// so that hostile content reaches nothing and freezes nobody.
//
// A cell is a child process of the own binary. It prepares itself, then gives up
// files, network, environment and the starting of programs, and only after that
// it is handed content, as an open descriptor. Running WebAssembly and many
// parsers cannot be stopped from within; a process can: whoever takes more time,
// memory or output than a job may is killed. A cell is replaced after a number of
// jobs, or when it has grown.
package cell

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"runtime"
	"sync"
	"time"

	"tabularis/internal/platform/turns"
)

// ErrKilled means that the content brought its cell down, twice or by going over
// a limit: it is not worth another try.
var ErrKilled = errors.New("the content brought down what read it")

// Limits are what a job may take.
type Limits struct {
	// Wall is how long it may last, CPU how much of a processor it may use.
	Wall, CPU time.Duration
	// Output is how many bytes it may answer with.
	Output int64
}

// Job is content to be worked on, and what is to be done with it.
type Job struct {
	// Op names the handler, Args is what it is told as JSON.
	Op   string
	Args any
	// Size is how large the content is that Open gives.
	Size int64
	Open func() (io.ReadCloser, error)
	// For is whom it is done for: nobody gets all cells.
	For string
	Limits
	// Take gets each part of the answer. When the job is tried again, it gets them
	// again from the first one on.
	Take func(header json.RawMessage, body []byte) error
}

const (
	// jobsPerCell and grownCell are after how many jobs, and from how many bytes of
	// memory on, a cell is replaced.
	jobsPerCell = 500
	grownCell   = 320 << 20
)

// waiting is how many jobs wait for a cell, and how long.
var waiting = turns.Limits{All: 400, Each: 100, Patience: 60 * time.Second}

// Pool keeps cells.
type Pool struct {
	queue *turns.Queue
	told  string

	mu     sync.Mutex
	idle   []*process
	closed bool
	// spares are the cells that are being started ahead.
	spares int
	starts sync.WaitGroup
}

// New makes a pool of at most so many cells; 0 is one more than there are
// processors, so that one asker can use all of these while another is still
// answered. Cells are started when they are needed, and told what they prepare
// themselves with.
func New(size int, told string) *Pool {
	if size < 1 {
		size = runtime.NumCPU() + 1
	}
	return &Pool{queue: turns.New(size, waiting), told: told}
}

// Warm starts a cell ahead, so that the first job need not wait for it.
func (p *Pool) Warm() {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.closed || len(p.idle)+p.spares > 0 {
		return
	}
	p.spares++
	p.starts.Go(func() {
		c, err := start(p.told)
		p.mu.Lock()
		p.spares--
		closed := p.closed
		if err == nil && !closed {
			p.idle = append(p.idle, c)
		}
		p.mu.Unlock()
		if err == nil && closed {
			c.end()
		}
	})
}

// Close ends all cells that are not at work. Those that are end with their job.
func (p *Pool) Close() {
	p.mu.Lock()
	p.closed = true
	idle := p.idle
	p.idle = nil
	p.mu.Unlock()
	for _, c := range idle {
		c.end()
	}
	p.starts.Wait()
}

// Do does a job and returns when it is done. It answers with what the handler
// refused (a fault.Error), with ErrKilled, with what Open or Take failed with,
// or that everything is busy. When the context ends, the job does.
func (p *Pool) Do(ctx context.Context, j Job) error {
	if err := p.queue.Enter(ctx, j.For); err != nil {
		return err
	}
	defer p.queue.Leave(j.For)
	in, err := content(j)
	if err != nil {
		return err
	}
	defer in.Close()
	for try := 0; ; try++ {
		c, err := p.take()
		if err != nil {
			return err
		}
		err = c.do(ctx, j, in)
		var ended *ending
		if !errors.As(err, &ended) {
			p.give(c)
			return err
		}
		c.end()
		p.Warm()
		switch {
		case ctx.Err() != nil:
			return ctx.Err()
		case ended.cause != nil:
			return ended.cause
		case try > 0 || ended.limit:
			p.queue.Strike(j.For)
			return fmt.Errorf("%w: %s", ErrKilled, ended.why)
		}
	}
}

// take returns an idle cell, or starts one.
func (p *Pool) take() (*process, error) {
	p.mu.Lock()
	if n := len(p.idle); n > 0 {
		c := p.idle[n-1]
		p.idle = p.idle[:n-1]
		p.mu.Unlock()
		return c, nil
	}
	p.mu.Unlock()
	return start(p.told)
}

// give takes a cell back, or ends it where it has served its time.
func (p *Pool) give(c *process) {
	p.mu.Lock()
	spent := p.closed || c.jobs >= jobsPerCell || c.memory() > grownCell
	if !spent {
		p.idle = append(p.idle, c)
	}
	p.mu.Unlock()
	if spent {
		c.end()
		p.Warm()
	}
}
