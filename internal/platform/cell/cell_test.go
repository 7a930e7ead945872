package cell

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"golang.org/x/sys/unix"

	"tabularis/core/fault"
)

func TestMain(m *testing.M) {
	Enter(hostile, func(string) error { return nil })
	os.Exit(m.Run())
}

// hostile are handlers that do what content might bring a parser to do.
var hostile = map[string]Handler{
	"echo": func(_ context.Context, w Work) error {
		var times int
		if err := w.Args(&times); err != nil {
			return err
		}
		for n := range times {
			if err := w.Send(n, w.Content); err != nil {
				return err
			}
		}
		return nil
	},
	"refuse": func(context.Context, Work) error {
		return fault.Unreadable.In("x", "it cannot be read")
	},
	"fail":  func(context.Context, Work) error { return errors.New("something went wrong") },
	"panic": func(context.Context, Work) error { panic("index out of range") },
	"crash": func(context.Context, Work) error { return syscall.Kill(os.Getpid(), syscall.SIGSEGV) },
	"leave": func(context.Context, Work) error { os.Exit(0); return nil },
	"spin": func(context.Context, Work) error {
		for {
		}
	},
	"sleep": func(context.Context, Work) error { time.Sleep(time.Hour); return nil },
	"grow": func(context.Context, Work) error {
		var all [][]byte
		for {
			all = append(all, bytes.Repeat([]byte{1}, 8<<20))
		}
	},
	"flood": func(_ context.Context, w Work) error {
		for w.Send(nil, make([]byte, 1<<20)) == nil {
		}
		return nil
	},
	"garbage": func(_ context.Context, w Work) error {
		_, err := w.conn.Write(bytes.Repeat([]byte{0xff}, 100))
		time.Sleep(time.Second)
		return err
	},
	"scribble": func(_ context.Context, w Work) error { w.Content[0] = 'x'; return nil },
	"reach":    reach,
}

// reach tries to get at what a cell must not have, and tells what it got.
func reach(_ context.Context, w Work) error {
	var place string
	if err := w.Args(&place); err != nil {
		return err
	}
	got := []string{}
	try := func(what string, err error) {
		if err == nil {
			got = append(got, what)
		}
	}
	_, err := os.ReadFile(place)
	try("read a file", err)
	_, err = os.ReadFile("/etc/passwd")
	try("read what all may read", err)
	_, err = os.ReadDir("/")
	try("list folders", err)
	try("write a file", os.WriteFile(filepath.Join(filepath.Dir(place), "written"), []byte("x"), 0o666))
	_, err = os.ReadFile(fmt.Sprintf("/proc/%d/environ", os.Getppid()))
	try("read the parent's environment", err)
	_, err = net.DialTimeout("tcp", "127.0.0.1:1", time.Second)
	if err == nil || errors.Is(err, syscall.ECONNREFUSED) {
		got = append(got, "reach a port")
	}
	_, err = net.Listen("tcp", "127.0.0.1:0")
	try("open a port", err)
	_, err = unix.Socket(unix.AF_INET, unix.SOCK_DGRAM, 0)
	try("make a socket", err)
	try("start a program", exec.Command("/bin/true").Run())
	try("signal its parent", syscall.Kill(os.Getppid(), 0))
	try("trace its parent", syscall.PtraceAttach(os.Getppid()))
	if len(os.Environ()) > 0 {
		got = append(got, "an environment")
	}
	if os.Geteuid() == 0 {
		got = append(got, "root")
	}
	try("raise its limits", unix.Setrlimit(unix.RLIMIT_DATA, &unix.Rlimit{Cur: 8 << 30, Max: 8 << 30}))
	return w.Send(got, nil)
}

var usual = Limits{Wall: 20 * time.Second, CPU: 10 * time.Second, Output: 1 << 20}

func job(op string, args any, content string) Job {
	return Job{Op: op, Args: args, Size: int64(len(content)), For: "somebody", Limits: usual,
		Open: func() (io.ReadCloser, error) { return io.NopCloser(strings.NewReader(content)), nil },
		Take: func(json.RawMessage, []byte) error { return nil }}
}

func pool(t testing.TB, size int) *Pool {
	t.Helper()
	p := New(size, "")
	t.Cleanup(p.Close)
	return p
}

func echoes(t testing.TB, p *Pool) {
	t.Helper()
	var got []string
	j := job("echo", 2, "Frame 31")
	j.Take = func(header json.RawMessage, body []byte) error {
		got = append(got, string(header)+" "+string(body))
		return nil
	}
	if err := p.Do(t.Context(), j); err != nil || strings.Join(got, ", ") != "0 Frame 31, 1 Frame 31" {
		t.Fatalf("%q %v", got, err)
	}
}

func TestAnswersComeInParts(t *testing.T) {
	p := pool(t, 2)
	echoes(t, p)
	var f *fault.Error
	if err := p.Do(t.Context(), job("refuse", nil, "")); !errors.As(err, &f) || f.Code != "unreadable" || f.Field != "x" {
		t.Errorf("a refusal came back as %v", err)
	}
	echoes(t, p)
	if c := p.idle[0]; len(p.idle) != 1 || c.jobs != 3 {
		t.Errorf("%d cells, the first did %d jobs", len(p.idle), c.jobs)
	}
}

// What content brings a parser to do ends with its cell, and the next content is
// read as ever.
func TestACellDiesForItsContent(t *testing.T) {
	p := pool(t, 2)
	for op, l := range map[string]Limits{
		"fail": usual, "panic": usual, "crash": usual, "leave": usual, "grow": usual, "flood": usual, "garbage": usual, "scribble": usual, "unknown": usual,
		"spin":  {Wall: 20 * time.Second, CPU: 300 * time.Millisecond, Output: 1},
		"sleep": {Wall: 300 * time.Millisecond, CPU: time.Second, Output: 1},
	} {
		j := job(op, nil, "Frame 31")
		j.Limits = l
		if err := p.Do(t.Context(), j); !errors.Is(err, ErrKilled) {
			t.Errorf("%s: %v", op, err)
		}
		echoes(t, p)
	}
}

func TestACellReachesNothing(t *testing.T) {
	p := pool(t, 2)
	place := filepath.Join(t.TempDir(), "master.key")
	if err := os.WriteFile(place, []byte("secret"), 0o644); err != nil {
		t.Fatal(err)
	}
	var got []string
	j := job("reach", place, "")
	j.Take = func(header json.RawMessage, _ []byte) error { return json.Unmarshal(header, &got) }
	if err := p.Do(t.Context(), j); err != nil || got == nil || len(got) > 0 {
		t.Errorf("a cell could: %q %v", got, err)
	}
}

// The context of a job that is done may end when it likes: it is not the next one's.
func TestTheEndOfOneJobIsNotTheNextOnes(t *testing.T) {
	p := pool(t, 2)
	for range 300 {
		ctx, cancel := context.WithCancel(t.Context())
		if err := p.Do(ctx, job("echo", 1, "x")); err != nil {
			t.Fatal(err)
		}
		cancel()
	}
	if c := p.idle[0]; c.jobs != 300 {
		t.Errorf("the cell did %d jobs", c.jobs)
	}
}

func TestAJobThatIsNotWantedEnds(t *testing.T) {
	p := pool(t, 2)
	ctx, cancel := context.WithTimeout(t.Context(), 200*time.Millisecond)
	defer cancel()
	j := job("spin", nil, "")
	if err := p.Do(ctx, j); !errors.Is(err, context.DeadlineExceeded) {
		t.Errorf("%v", err)
	}
	failed := errors.New("the content cannot be opened")
	j.Open = func() (io.ReadCloser, error) { return nil, failed }
	if err := p.Do(t.Context(), j); !errors.Is(err, failed) {
		t.Errorf("%v", err)
	}
	j = job("echo", 1, "x")
	j.Take = func(json.RawMessage, []byte) error { return failed }
	if err := p.Do(t.Context(), j); !errors.Is(err, failed) {
		t.Errorf("%v", err)
	}
	echoes(t, p)
}
