package office

import (
	"context"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"time"
)

const (
	// patience is how long converting one document may take.
	patience = 60 * time.Second
	// memory is how much memory it may take, in kilobytes, and written how large
	// a file it may write, in blocks of 512 bytes.
	memory  = 4 << 20
	written = 200 << 11
	// maxMade is the largest PDF document that is taken over, in bytes.
	maxMade = 100 << 20
)

// Converter makes PDF documents of office documents, each in a process of its
// own with a profile of its own, limited in time, memory and size, and where the
// system lets it, without a network.
type Converter struct {
	program string
	apart   *syscall.SysProcAttr
	turn    chan struct{}
	once    sync.Once
}

// Find finds LibreOffice: the program named, or soffice on the path. It returns
// nil where there is none, or where none is wanted ("none").
func Find(program string) *Converter {
	if program == "none" {
		return nil
	}
	if program == "" {
		program = "soffice"
	}
	found, err := exec.LookPath(program)
	if err != nil {
		return nil
	}
	return &Converter{program: found, turn: make(chan struct{}, 2)}
}

// Converts reports whether it can make pages of a media type.
func (c *Converter) Converts(mediaType string) bool { return c != nil && IsDocument(mediaType) }

// PDF converts a document. What cannot be converted within the limits is
// ErrUnreadable.
func (c *Converter) PDF(ctx context.Context, mediaType string, size int64, content io.Reader) ([]byte, error) {
	ending := zipped[mediaType] + old[mediaType]
	if ending == "" || size > MaxBytes {
		return nil, ErrUnreadable
	}
	select {
	case c.turn <- struct{}{}:
		defer func() { <-c.turn }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	dir, err := os.MkdirTemp("", "tabularis-office-")
	if err != nil {
		return nil, fmt.Errorf("making a folder to convert in: %w", err)
	}
	defer os.RemoveAll(dir)
	if err := lay(filepath.Join(dir, "document"+ending), zipped[mediaType] != "", size, content); err != nil {
		return nil, err
	}
	if err := c.run(ctx, dir, "document"+ending); err != nil {
		return nil, err
	}
	made := filepath.Join(dir, "document.pdf")
	if at, err := os.Stat(made); err != nil || at.Size() > maxMade {
		return nil, ErrUnreadable
	}
	raw, err := os.ReadFile(made)
	if err != nil {
		return nil, fmt.Errorf("reading what was made: %w", err)
	}
	return raw, nil
}

// lay puts the document into the folder, after a look at what it unpacks to.
func lay(name string, isZip bool, size int64, content io.Reader) error {
	f, err := os.OpenFile(name, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return fmt.Errorf("laying the document out: %w", err)
	}
	defer f.Close()
	if _, err := io.Copy(f, io.LimitReader(content, MaxBytes)); err != nil {
		return fmt.Errorf("laying the document out: %w", err)
	}
	if isZip {
		if _, err := open(f, size); err != nil {
			return err
		}
	}
	return nil
}

func (c *Converter) run(ctx context.Context, dir, name string) error {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	// The shell sets the limits and then becomes the converter.
	limits := fmt.Sprintf(`ulimit -v %d; ulimit -f %d; exec "$0" "$@"`, memory, written)
	cmd := exec.CommandContext(ctx, "/bin/sh", "-c", limits, c.program, "--headless", "--norestore", "--nolockcheck", "-env:UserInstallation=file://"+filepath.Join(dir, "profile"), "--convert-to", "pdf", "--outdir", dir, filepath.Join(dir, name))
	cmd.Dir = dir
	cmd.Env = []string{"HOME=" + dir, "TMPDIR=" + dir, "PATH=" + os.Getenv("PATH"), "LANG=C.UTF-8"}
	cmd.SysProcAttr = c.isolation()
	// With its process group everything that it started ends.
	cmd.Cancel = func() error { return syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) }
	cmd.WaitDelay = time.Second
	out, err := cmd.CombinedOutput()
	if err != nil && ctx.Err() == nil && !strings.Contains(string(out), "convert") {
		return fmt.Errorf("%w: %.200s", ErrUnreadable, out)
	}
	if err != nil {
		return ErrUnreadable
	}
	return nil
}

// isolation tries once whether the system lets a process be without a network.
func (c *Converter) isolation() *syscall.SysProcAttr {
	c.once.Do(func() {
		c.apart = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGKILL, Cloneflags: syscall.CLONE_NEWNET}
		if os.Geteuid() != 0 {
			c.apart.Cloneflags |= syscall.CLONE_NEWUSER
			c.apart.UidMappings = []syscall.SysProcIDMap{{ContainerID: os.Getuid(), HostID: os.Getuid(), Size: 1}}
			c.apart.GidMappings = []syscall.SysProcIDMap{{ContainerID: os.Getgid(), HostID: os.Getgid(), Size: 1}}
		}
		try := exec.Command("/bin/true")
		try.SysProcAttr = c.apart
		if try.Run() != nil {
			c.apart = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGKILL}
		}
	})
	attr := *c.apart
	return &attr
}
