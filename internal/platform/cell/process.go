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
	"strconv"
	"sync"
	"sync/atomic"
	"syscall"
	"time"

	"golang.org/x/sys/unix"

	"tabularis/core/fault"
)

// name is what a cell's process is called; by it the binary knows what it is to
// become.
const name = "tabularis-cell"

var errTooMuch = errors.New("the answer is too large")

// process is a cell as its parent sees it.
type process struct {
	cmd  *exec.Cmd
	conn *net.UnixConn
	jobs int
	// killed says why it was killed.
	killed atomic.Pointer[ending]
}

// ending is why a cell's job did not come to an end: a limit, or a cause of the
// parent's own, or neither, when the cell broke down.
type ending struct {
	limit bool
	cause error
	why   string
}

func (e *ending) Error() string { return e.why }

const (
	// startup is how long a cell may take to become ready: compiling what reads PDF
	// documents takes seconds the first time.
	startup = 60 * time.Second
	// glance is how often a working cell is looked at.
	glance = 40 * time.Millisecond
	// sockets are made large, so that a page passes in few turns.
	socketBytes = 1 << 20
)

// start starts a cell and waits until it is ready.
func start(told string) (*process, error) {
	pair, err := unix.Socketpair(unix.AF_UNIX, unix.SOCK_STREAM|unix.SOCK_CLOEXEC, 0)
	if err != nil {
		return nil, fmt.Errorf("connecting a cell: %w", err)
	}
	theirs, ours := os.NewFile(uintptr(pair[1]), "cell"), os.NewFile(uintptr(pair[0]), "cell")
	defer theirs.Close()
	defer ours.Close()
	for _, fd := range pair {
		_ = unix.SetsockoptInt(fd, unix.SOL_SOCKET, unix.SO_SNDBUF, socketBytes)
	}
	conn, err := net.FileConn(ours)
	if err != nil {
		return nil, fmt.Errorf("connecting a cell: %w", err)
	}
	cmd := exec.Command("/proc/self/exe")
	cmd.Args, cmd.Env, cmd.Dir, cmd.ExtraFiles = []string{name, told}, []string{}, "/", []*os.File{theirs}
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGKILL}
	if err := cmd.Start(); err != nil {
		conn.Close()
		return nil, fmt.Errorf("starting a cell: %w", err)
	}
	p := &process{cmd: cmd, conn: conn.(*net.UnixConn)}
	_ = p.conn.SetReadDeadline(time.Now().Add(startup))
	left := int64(maxHeader)
	kind, header, _, err := hear(p.conn, &left)
	if err != nil || kind != ready {
		p.end()
		return nil, fmt.Errorf("a cell did not become ready: %s %w", header, err)
	}
	return p, p.conn.SetReadDeadline(time.Time{})
}

// end kills the cell and waits until it is gone.
func (p *process) end() {
	_ = p.cmd.Process.Kill()
	_ = p.cmd.Wait()
	_ = p.conn.Close()
}

func (p *process) kill(e *ending) {
	p.killed.CompareAndSwap(nil, e)
	_ = p.cmd.Process.Kill()
}

// do does a job. An *ending means that the cell is gone.
func (p *process) do(ctx context.Context, j Job, in *os.File) error {
	args, err := json.Marshal(j.Args)
	if err != nil {
		return fmt.Errorf("writing down what is asked: %w", err)
	}
	p.jobs++
	over := make(chan struct{})
	var watching sync.WaitGroup
	watching.Go(func() { p.watch(ctx, j.Limits, over) })
	// Whoever watches has gone before the cell is anybody else's: the end of this job's
	// context must not end another's.
	defer watching.Wait()
	defer close(over)
	if err := ask(p.conn, request{j.Op, args}, in); err != nil {
		return p.broken(err)
	}
	left := j.Output + maxHeader
	for {
		kind, header, body, err := hear(p.conn, &left)
		if err != nil {
			return p.broken(err)
		}
		switch kind {
		case part:
			if err := j.Take(header, body); err != nil {
				return &ending{cause: err, why: "its answer was not taken"}
			}
		case done:
			return nil
		case refused:
			var r refusal
			if err := json.Unmarshal(header, &r); err != nil || r.Kind == fault.Internal {
				return p.broken(fmt.Errorf("it failed: %s", header))
			}
			return &fault.Error{Kind: r.Kind, Code: r.Code, Field: r.Field, Detail: r.Detail}
		default:
			return p.broken(fmt.Errorf("it said %q", kind))
		}
	}
}

// broken is why the cell no longer answers.
func (p *process) broken(err error) error {
	if e := p.killed.Load(); e != nil {
		return e
	}
	return &ending{limit: errors.Is(err, errTooMuch), why: err.Error()}
}

// watch kills the cell when its job takes more than it may, or is no longer
// wanted.
func (p *process) watch(ctx context.Context, l Limits, over <-chan struct{}) {
	before, _ := p.used()
	late := time.NewTimer(l.Wall)
	defer late.Stop()
	look := time.NewTicker(glance)
	defer look.Stop()
	for {
		select {
		case <-over:
			return
		case <-ctx.Done():
			p.kill(&ending{cause: ctx.Err(), why: "it was no longer wanted"})
			return
		case <-late.C:
			p.kill(&ending{why: "it took too long"})
			return
		case <-look.C:
			switch used, memory := p.used(); {
			case used-before > l.CPU:
				p.kill(&ending{limit: true, why: "it took too much of the processor"})
				return
			case memory > maxMemory:
				p.kill(&ending{limit: true, why: "it took too much memory"})
				return
			}
		}
	}
}

// tick is the unit of processor times in /proc (proc(5)), which is the same on
// all of Linux.
const tick = 10 * time.Millisecond

// used returns how much of a processor the cell has used, and its memory.
func (p *process) used() (cpu time.Duration, memory int64) {
	raw, err := os.ReadFile("/proc/" + strconv.Itoa(p.cmd.Process.Pid) + "/stat")
	// The program's name in brackets comes second, and may hold blanks.
	at := bytes.LastIndexByte(raw, ')')
	fields := bytes.Fields(raw[at+1:])
	if err != nil || len(fields) < 22 {
		return 0, 0
	}
	number := func(at int) int64 {
		n, _ := strconv.ParseInt(string(fields[at]), 10, 64)
		return n
	}
	return time.Duration(number(11)+number(12)) * tick, number(21) * int64(os.Getpagesize())
}

func (p *process) memory() int64 {
	_, memory := p.used()
	return memory
}

// content puts a job's content into memory that has no name, and can no longer
// be changed.
func content(j Job) (*os.File, error) {
	fd, err := unix.MemfdCreate("content", unix.MFD_CLOEXEC|unix.MFD_ALLOW_SEALING)
	if err != nil {
		return nil, fmt.Errorf("making room for content: %w", err)
	}
	f := os.NewFile(uintptr(fd), "content")
	if j.Open == nil {
		return f, nil
	}
	if err := fill(f, j); err != nil {
		f.Close()
		return nil, err
	}
	if _, err := unix.FcntlInt(uintptr(fd), unix.F_ADD_SEALS, unix.F_SEAL_SEAL|unix.F_SEAL_SHRINK|unix.F_SEAL_GROW|unix.F_SEAL_WRITE); err != nil {
		f.Close()
		return nil, fmt.Errorf("sealing content: %w", err)
	}
	return f, nil
}

func fill(f *os.File, j Job) error {
	r, err := j.Open()
	if err != nil {
		return err
	}
	defer r.Close()
	if _, err := io.CopyBuffer(onlyWriter{f}, io.LimitReader(r, j.Size), make([]byte, min(max(j.Size, 512), 1<<20))); err != nil {
		return fmt.Errorf("reading content: %w", err)
	}
	return nil
}

// onlyWriter keeps the copy's own buffer in use.
type onlyWriter struct{ io.Writer }
