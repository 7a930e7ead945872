package testkit

import (
	"io"
	"net"
	"net/url"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
)

// Line is a connection to a server that can break.
type Line struct {
	URL  string
	to   string
	left atomic.Int64
	down atomic.Bool
	mu   sync.Mutex
	open map[net.Conn]struct{}
}

// NewLine makes a line to a kit's server.
func (k *Kit) NewLine(t testing.TB) *Line {
	t.Helper()
	return lineTo(t, strings.TrimPrefix(k.URL, "http://"))
}

// DatabaseLine is a database whose address leads over a line.
func DatabaseLine(t testing.TB) (string, *Line) {
	t.Helper()
	direct := Database(t)
	u, err := url.Parse(direct)
	if err != nil {
		t.Fatal(err)
	}
	line := lineTo(t, u.Host)
	u.Host = strings.TrimPrefix(line.URL, "http://")
	return u.String(), line
}

func lineTo(t testing.TB, to string) *Line {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	line := &Line{URL: "http://" + l.Addr().String(), to: to, open: map[net.Conn]struct{}{}}
	line.left.Store(1 << 62)
	t.Cleanup(func() {
		l.Close()
		line.cut()
	})
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			go line.carry(c)
		}
	}()
	return line
}

// BreakAfter lets n more bytes through to the server and then breaks, until
// Mend.
func (l *Line) BreakAfter(n int64) { l.left.Store(n) }

// Mend lets everything through again.
func (l *Line) Mend() {
	l.left.Store(1 << 62)
	l.down.Store(false)
}

// Broken reports whether the line is down.
func (l *Line) Broken() bool { return l.down.Load() }

// Break breaks the line at once, until Mend.
func (l *Line) Break() { l.cut() }

func (l *Line) cut() {
	l.down.Store(true)
	l.mu.Lock()
	defer l.mu.Unlock()
	for c := range l.open {
		c.Close()
	}
}

func (l *Line) keep(c net.Conn) func() {
	l.mu.Lock()
	l.open[c] = struct{}{}
	l.mu.Unlock()
	return func() {
		l.mu.Lock()
		delete(l.open, c)
		l.mu.Unlock()
		c.Close()
	}
}

func (l *Line) carry(from net.Conn) {
	defer l.keep(from)()
	if l.down.Load() {
		return
	}
	to, err := net.Dial("tcp", l.to)
	if err != nil {
		return
	}
	defer l.keep(to)()
	go func() {
		_, _ = io.Copy(from, to)
		from.Close()
	}()
	_, _ = io.Copy(to, counted{from, l})
}

// counted breaks the line when its bytes are used up.
type counted struct {
	net.Conn
	line *Line
}

func (c counted) Read(p []byte) (int, error) {
	n, err := c.Conn.Read(p[:min(len(p), 16<<10)])
	if c.line.left.Add(-int64(n)) < 0 {
		c.line.cut()
		return 0, io.ErrUnexpectedEOF
	}
	return n, err
}
