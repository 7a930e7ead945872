package office

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"golang.org/x/sys/unix"

	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/turns"
)

const (
	// patience is how long converting one document may take.
	patience = 60 * time.Second
	// maxMade is the largest PDF document that is taken over, in bytes.
	maxMade = 100 << 20
	// atOnce is how many are converted at the same time.
	atOnce = 2
)

// Converter makes PDF documents of office documents, each in a process of its
// own that reaches nothing but its own folder (see package cell), with a profile
// of its own.
type Converter struct {
	program string
	turns   *turns.Queue
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
	return &Converter{program: found, turns: turns.New(atOnce, turns.Limits{All: 50, Each: 10, Patience: 2 * time.Minute})}
}

// Converts reports whether it can make pages of a media type.
func (c *Converter) Converts(mediaType string) bool { return c != nil && IsDocument(mediaType) }

// PDF converts a document on somebody's behalf. What cannot be converted within
// the limits is ErrUnreadable.
func (c *Converter) PDF(ctx context.Context, mediaType string, size int64, content io.Reader, asker string) ([]byte, error) {
	ending := zipped[mediaType] + old[mediaType]
	if ending == "" || size > MaxBytes {
		return nil, ErrUnreadable
	}
	if err := c.turns.Enter(ctx, asker); err != nil {
		return nil, err
	}
	defer c.turns.Leave(asker)
	dir, err := cell.Folder("tabularis-office-")
	if err != nil {
		return nil, fmt.Errorf("making a folder to convert in: %w", err)
	}
	defer os.RemoveAll(dir)
	if err := lay(filepath.Join(dir, "document"+ending), content); err != nil {
		return nil, err
	}
	defer sweep()
	if err := c.run(ctx, dir, "document"+ending); err != nil {
		return nil, err
	}
	return take(filepath.Join(dir, "document.pdf"))
}

// take reads what was made, if it is a file of its own: whatever ran in the folder
// could have put a way to another file there.
func take(made string) ([]byte, error) {
	f, err := os.OpenFile(made, os.O_RDONLY|unix.O_NOFOLLOW|unix.O_NONBLOCK, 0)
	if err != nil {
		return nil, ErrUnreadable
	}
	defer f.Close()
	at, err := f.Stat()
	if err != nil || !at.Mode().IsRegular() || at.Sys().(*syscall.Stat_t).Nlink != 1 || at.Size() > maxMade {
		return nil, ErrUnreadable
	}
	raw, err := io.ReadAll(io.LimitReader(f, maxMade))
	if err != nil {
		return nil, fmt.Errorf("reading what was made: %w", err)
	}
	return raw, nil
}

// sweep removes the sockets by which LibreOffice would find itself running, which
// it may make but not remove. One that still runs does without.
func sweep() {
	left, _ := filepath.Glob("/tmp/OSL_PIPE_*_SingleOfficeIPC_*")
	for _, at := range left {
		if info, err := os.Lstat(at); err == nil && info.Mode().Type() == os.ModeSocket {
			_ = os.Remove(at)
		}
	}
}

// lay puts the document into the folder. That it unpacks to no more than it may
// was seen before: Sound.
func lay(name string, content io.Reader) error {
	f, err := os.OpenFile(name, os.O_CREATE|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("laying the document out: %w", err)
	}
	_, err = io.Copy(f, io.LimitReader(content, MaxBytes))
	if err := errors.Join(err, cell.Own(f), f.Close()); err != nil {
		return fmt.Errorf("laying the document out: %w", err)
	}
	return nil
}

func (c *Converter) run(ctx context.Context, dir, name string) error {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	cmd := cell.Command(ctx, dir, c.program, "--headless", "--norestore", "--nolockcheck", "-env:UserInstallation=file://"+filepath.Join(dir, "profile"), "--convert-to", "pdf", "--outdir", dir, filepath.Join(dir, name))
	out, err := cmd.CombinedOutput()
	if err != nil && ctx.Err() == nil && !strings.Contains(string(out), "convert") {
		return fmt.Errorf("%w: %.200s", ErrUnreadable, out)
	}
	if err != nil {
		return ErrUnreadable
	}
	return nil
}
