package uploads

import (
	"errors"
	"io"
	"time"
)

const (
	// start is how long an upload may take to get going, and pace how many bytes a
	// second it brings after that at least.
	start = 2 * time.Minute
	pace  = 200
)

// errSlow ends a request that brings a byte now and then. What it has brought stays,
// and the upload can be gone on with.
var errSlow = errors.New("the upload is too slow")

// paced reads as long as it comes at a pace.
type paced struct {
	src   io.Reader
	begun time.Time
	n     int64
}

func newPaced(src io.Reader) *paced { return &paced{src: src, begun: time.Now()} }

func (p *paced) Read(b []byte) (int, error) {
	n, err := p.src.Read(b)
	p.n += int64(n)
	if took := time.Since(p.begun); err == nil && took > start && p.n < int64((took-start).Seconds())*pace {
		err = errSlow
	}
	return n, err
}
